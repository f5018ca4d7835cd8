# Percentile intervals: the table is drawn again many times, and the measures
# are worked out on each.

# The rows of layer_strength() with the intervals and standard errors of the
# bootstrap.
bootstrap_rows <- function(layer, rows, tally, alpha, scores, draws, seed,
                           call) {
  at <- which(vapply(rows, function(row) !is.na(row$estimate), NA))
  if (!length(at) || is.null(layer$estimate)) return(rows)
  keys <- measure_keys(rows[at])
  tables <- with_seed(seed, drawn_tables(layer, tally, draws, call))
  figures <-
    apply(tables, 2L, figures_on, keys = keys, layer = layer, scores = scores)
  figures <- matrix(figures, length(at))
  rows[at] <- lapply(seq_along(at), function(k) {
    drawn <- figures[k, ]
    ends <- stats::quantile(drawn, c(alpha / 2, 1 - alpha / 2), na.rm = TRUE,
                            names = FALSE, type = 6L)
    row <- rows[[at[k]]]
    row[c("low", "high", "se")] <-
      list(ends[1L], ends[2L], stats::sd(drawn, na.rm = TRUE))
    row["note"] <- list(NULL)
    row$interval <-
      said("bootstrap", draws = ncol(tables), undefined = sum(is.na(drawn)))
    row
  })
  rows
}

# Weights of the occupied cells, one column a draw.
drawn_tables <- function(layer, tally, draws, call) {
  design <- tally$design
  e <- layer$estimate
  stop_bootstrap <- function(...) stop_input(c(...), "bootstrap", call = call)
  if (imputations_of(design) > 1L)
    stop_bootstrap(tells("bootstrap_of_imputations"))
  if (!is.null(design$replicates)) {
    if (design$replicates$kind != "bootstrap") {
      stop_bootstrap(tells("replicates_table_no_bootstrap_samples"),
                     i = tells("use_make_replicates_survey_bootstrap_survey"))
    }
    return(layer$replicates[places_in(layer), , drop = FALSE])
  }
  if (counts_were_drawn(e)) {
    if (e$n > .Machine$integer.max)
      stop_bootstrap(tells("respondents_too_many_draw_again", format_count(e$n)))
    return(stats::rmultinom(draws, e$n, as.vector(e$P)))
  }
  if (!design$clustered) {
    stop_bootstrap(tells("table_weighted_respondents_without_clusters"),
                   i = tells("make_bootstrap_replicates_first_make_replicates"))
  }
  if (!is.null(design$calibration)) {
    stop_bootstrap(tells("bootstrap_of_calibrated_weights"),
                   i = tells("make_bootstrap_replicates_first_make_replicates"))
  }
  factors <- cluster_bootstrap(design, draws)
  cells <- layer_cells(layer, tally)
  cell <- match(cells$row, e$rows) +
          (match(cells$column, e$columns) - 1L) * length(e$rows)
  present <- sort(unique(cells$unit))
  W <- matrix(0, length(present), length(e$P))
  W[cbind(match(cells$unit, present), cell)] <- cells$w
  crossprod(W, factors[present, , drop = FALSE])
}

figures_on <- function(weights, keys, layer, scores) {
  P <- matrix(weights, nrow(layer$estimate$P),
              dimnames = dimnames(layer$estimate$P)) / sum(weights)
  rows <- which(row_sums(P) > 0)
  columns <- which(column_sums(P) > 0)
  if (length(rows) < 2L || length(columns) < 2L)
    return(rep(NA_real_, length(keys)))
  given <- given_of(layer, scores)
  given <-
    list(n = given$n, down = given$down[rows], across = given$across[columns])
  P <- P[rows, columns, drop = FALSE]
  vapply(keys, function(key) {
    m <- measures[[key]]
    if (m$only %in% "2x2" && any(dim(P) != 2L)) NA_real_ else
      as.numeric(m$estimate(P, given))
  }, 0)
}
