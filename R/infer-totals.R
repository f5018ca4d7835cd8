# Estimated totals: how many people of the population are in a cell. A total is
# a weighted sum, not a share, so its variance is that of the sums of the
# clusters (Saerndal, Swensson & Wretman 1992, 2.8 and 3.7), and its interval is
# on the scale of the logarithm, where it cannot fall below 0.

# Vectors down the columns of the layer's table: total, se, cv, deff, low, high;
# NA where nobody is or the weights say nothing of the population.
layer_totals <- function(layer, alpha) UseMethod("layer_totals")

#' @export
layer_totals.default <- function(layer, alpha) {
  size <- length(layer$n)
  e <- unclass(layer)$estimate
  if (is.null(e)) return(no_estimated_totals(as.vector(layer$weighted)))
  variance <- replace(rep(NA_real_, size), places_in(layer), totals_variance(e))
  total <- as.vector(layer$weighted)
  c(list(total = total),
    total_figures(total, variance, rep(design_df(e), size), layer$base, alpha))
}

# What is known of totals whose weights say nothing of the population.
no_estimated_totals <- function(total) {
  none <- rep(NA_real_, length(total))
  list(total = total, se = none, cv = none, deff = none, low = none,
       high = none)
}

#' @export
layer_totals.fairlattice_ticks_layer <- function(layer, alpha) {
  cells_from_parts(layer, function(part) layer_totals(part, alpha))
}

#' @export
layer_totals.fairlattice_stored_layer <- function(layer, alpha) {
  layer$stored$totals %||% no_estimated_totals(as.vector(layer$weighted))
}

# Standard error, coefficient of variation, design effect and interval of a
# total. The design effect is against a random sample of as many respondents, of
# people whose number is known: N^2 p (1 - p) / n.
total_figures <- function(total, variance, df, base, alpha) {
  share <- total / base$weighted
  plain <- base$weighted^2 * share * (1 - share) / base$n
  known <- !is.na(variance) & variance > 1e-12 * total^2 & total > 0 & df >= 1
  se <- ifelse(known, sqrt(variance), NA_real_)
  half_width <- critical_t(alpha, df) * se / total
  list(se = se, cv = se / total,
       deff = ifelse(known & plain > 1e-12 * total^2, variance / plain, NA_real_),
       low = total * exp(-half_width), high = total * exp(half_width))
}

# The columns of every row against each other: difference and ratio of totals,
# with their intervals and the test that the totals are equal. None where the
# columns are items that people share.
layer_total_pairs <- function(layer, alpha, correction) {
  UseMethod("layer_total_pairs")
}

#' @export
layer_total_pairs.default <- function(layer, alpha, correction) {
  e <- unclass(layer)$estimate
  if (is.null(e) || length(e$columns) < 2L) return(NULL)
  rows <- total_pairs(e, answers_down(layer)[e$rows],
                      answers_across(layer)[e$columns], alpha)
  corrected_rows(rows, correction)
}

#' @export
layer_total_pairs.fairlattice_ticks_layer <- function(layer, alpha,
                                                      correction) {
  if (layer$ticks[["across"]]) return(NULL)
  rows <- Map(function(part, item) {
    e <- part$estimate
    if (is.null(e) || length(e$columns) < 2L) return(NULL)
    found <- total_pairs(e, c(item, "")[e$rows],
                         answers_across(part)[e$columns], alpha)
    Filter(function(row) row$down %in% item, found)
  }, layer$parts, answers_down(layer))
  corrected_rows(unlist(unname(rows), recursive = FALSE), correction)
}

#' @export
layer_total_pairs.fairlattice_stored_layer <- function(layer, alpha,
                                                       correction) {
  NULL
}

# A row for every row of the table and, last, everybody (whose name is NA), by
# every pair of columns.
total_pairs <- function(e, down, across, alpha) {
  size <- dim(e$P)
  lines <- lapply(c(as.list(seq_len(size[1L])), list(seq_len(size[1L]))),
                  function(rows) {
                    vapply(seq_len(size[2L]), function(column) {
                      cells <- numeric(length(e$P))
                      cells[places_at(rows, column, size[1L])] <- 1
                      cells
                    }, numeric(length(e$P)))
                  })
  pairs <- utils::combn(size[2L], 2L)
  figures <- Map(function(columns, row) {
    totals <- as.vector(crossprod(columns, as.vector(e$sums)))
    first <- columns[, pairs[1L, ], drop = FALSE]
    second <- columns[, pairs[2L, ], drop = FALSE]
    a <- totals[pairs[1L, ]]
    b <- totals[pairs[2L, ]]
    per <- function(M, by) M / rep(by, each = nrow(M))
    in_table <- a > 0 & b > 0
    df <- rep(design_df(e), length(a))
    of_difference <- sqrt(totals_variance(e, first - second))
    of_log <- sqrt(totals_variance(e, per(first, ifelse(a > 0, a, 1)) -
                                     per(second, ifelse(b > 0, b, 1))))
    known <- in_table & df >= 1 & of_difference > 1e-9 * (a + b)
    t <- ifelse(known, critical_t(alpha, df), NA_real_)
    z <- ifelse(known, (a - b) / of_difference, NA_real_)
    lapply(seq_along(a), function(k) {
      ratio <- if (b[k] > 0) a[k] / b[k] else NA_real_
      of_ratio <- if (known[k])
        log_interval(ratio, of_log[k], z[k], alpha, df[k]) else
          c(NA_real_, NA_real_)
      list(down = row, first = across[pairs[1L, k]],
           second = across[pairs[2L, k]], first_total = a[k],
           second_total = b[k], difference = a[k] - b[k],
           se = if (known[k]) of_difference[k] else NA_real_,
           low = a[k] - b[k] - t[k] * of_difference[k],
           high = a[k] - b[k] + t[k] * of_difference[k],
           ratio = ratio, ratio_low = of_ratio[1L], ratio_high = of_ratio[2L],
           p = if (known[k]) two_sided(z[k], df[k]) else NA_real_)
    })
  }, lines, c(down, NA_character_))
  unlist(unname(figures), recursive = FALSE)
}

# Estimated totals are of people only where the weights count them.
counts_people <- function(x) {
  records <- facts_of(x)$base
  is_weighted(x) && records$weighted > 1.05 * records$used
}
