# Weights, strata and clusters: the variance by linearisation. With u_k the
# score of a respondent, w_k (e_k - p) / N, summed over clusters,
#   V = sum over strata of (1 - f) a/(a-1) sum (u - u_mean)(u - u_mean)'.

# `cells` are the sums per design unit over the cells of P.
linearised_spread <- function(P, cells, design) {
  if (design$clustered) clusters_spread(P, cells, design) else
    respondents_spread(P, cells, design)
}

# Clusters with nobody in the table have u = 0 and count in a and in the mean.
clusters_spread <- function(P, cells, design) {
  p <- as.vector(P)
  N <- sum(cells$w)
  strata <- strata_of(design, by = "cluster")
  known <- clusters_met(cells, strata)
  present <- known$present
  at <- strata$of[present]
  met <- tabulate(at, length(strata$a))
  cells$row <- known$met$row
  total <- score_totals(at[cells$row], cells, p, N, length(strata$a))
  mean <- total / strata$a
  # a single cluster is centred at the mean of all clusters, which is 0
  mean[strata$a == 1L, ] <- 0
  scores_of <- function(first, last) {
    all <- first == 1L && last == length(present)
    part <- if (all) cells else
      lapply(cells, `[`, cells$row >= first & cells$row <= last)
    U <- score_totals(part$row - first + 1L, part, p, N, last - first + 1L)
    h <- at[first:last]
    (U - mean[h, , drop = FALSE]) * sqrt(strata$factor[h])
  }
  absent <- strata$a - met
  scores <- in_blocks(length(present), length(p), scores_of)
  if (any(absent > 0))
    scores <- c(scores, list(mean * sqrt(strata$factor * absent)))
  sparse <- if (length(p) >= sparse_from)
    list(row = cells$row, cell = cells$cell, w = cells$w, of = at,
         strata = strata, N = N)
  new_spread("linearised", known$df, known$single, scores = scores,
             sparse = sparse, met = known$met,
             drawn = list(cells = cells[c("row", "cell", "w")], of = at,
                          strata = strata))
}

# What is known of the clusters that have people in the table (`present`): the degrees
# of freedom, the names of strata with a single one, and which cells each has people in.
clusters_met <- function(cells, strata) {
  there <- tabulate(cells$unit, length(strata$of)) > 0L
  at <- strata$of[there]
  uncertain <- at[!strata$certain[at]]
  met <- tabulate(at, length(strata$a)) > 0L
  list(present = which(there), df = length(uncertain) - length(unique(uncertain)),
       single = strata$names[strata$a == 1L & met & !strata$certain],
       met = list(row = cumsum(there)[cells$unit], cell = cells$cell))
}

# The same when every respondent is their own cluster: sums of w and w^2 per
# stratum and cell are enough.
respondents_spread <- function(P, cells, design) {
  p <- as.vector(P)
  N <- sum(cells$w)
  strata <- strata_of(design, by = "respondent")
  squares <- as.vector(sums_by_group(cbind(cells$w2 * strata$factor[cells$unit]),
                                     cells$cell, length(p)))
  total <- score_totals(cells$unit, cells, p, N, nrow(design$units))
  root <- sqrt(ifelse(strata$a > 1, strata$factor / strata$a, 0))
  known <- respondents_met(cells, strata, length(p))
  new_spread("linearised", known$df, known$single, diagonal = squares / N^2,
             minus = total * root,
             drawn = list(cells = cells[c("unit", "cell", "w", "w2")],
                          of = seq_len(nrow(design$units)), strata = strata),
             met = known$met)
}

# What is known of respondents who are clusters of their own: the size of every cell.
respondents_met <- function(cells, strata, size) {
  met <- unique(cells$unit)
  met <- met[!strata$certain[met]]
  list(df = sum(cells$n[!strata$certain[cells$unit]]) - length(met),
       single = strata$names[intersect(met, which(strata$a == 1))],
       met = list(size = as.vector(sums_by_group(cbind(cells$n), cells$cell, size))))
}

# Without cluster k of stratum h the others of h stand for a/(a-1) of theirs, and
#   V = sum over strata of (1 - f) (a-1)/a sum (theta_k - theta_mean)^2.
#' @export
tables_without.fairlattice_linearised <- function(e) {
  drawn <- e$spread$drawn
  a <- drawn$strata$a
  if (is.null(drawn$cells$row) || any(a <= 1L) || !met_in_few(e)) return(NULL)
  tables <- without_each(drawn, length(e$P))
  h <- tables$stratum
  list(shares = tables$sums / row_sums(tables$sums), stratum = h,
       factor = drawn$strata$factor[h] * ((a[h] - 1) / a[h])^2, times = tables$times, K = sum(a))
}

# The sums of every cell without each cluster in turn, a row a cluster. Clusters
# with nobody in the table are `times` one row a stratum.
without_each <- function(drawn, cells) {
  of <- drawn$of
  a <- drawn$strata$a
  own <- matrix(0, length(of), cells)
  own[cbind(drawn$cells$row, drawn$cells$cell)] <- drawn$cells$w
  in_stratum <- sums_by_group(own, of, length(a))
  absent <- a - tabulate(of, length(a))
  empty <- which(absent > 0)
  h <- c(of, empty)
  own <- rbind(own, matrix(0, length(empty), cells))
  mates <- in_stratum[h, , drop = FALSE]
  sums <- rep(column_sums(in_stratum), each = length(h)) - mates +
    (mates - own) * (a[h] / (a[h] - 1))
  # a cell that only this cluster was in is empty, whatever rounding leaves there
  sums[sums < 1e-12 * sum(in_stratum)] <- 0
  list(sums = sums, stratum = h, times = c(rep(1, length(of)), absent[empty]))
}

# With t_k the sum of a cluster (or a respondent), 0 where it has nobody here,
#   V = sum over strata of (1 - f) a/(a-1) (sum t^2 - (sum t)^2 / a).
# A single cluster is set against the mean of all.
#' @export
totals_variance.fairlattice_linearised <- function(e, weights = NULL) {
  strata <- e$spread$drawn$strata
  found <- sums_by_stratum(e$spread$drawn, weights)
  a <- strata$a[found$stratum]
  single <- a <= 1
  values <- if (is.null(weights)) length(e$P) else ncol(weights)
  add_up <- function(x) {
    as.vector(rowsum(c(x, numeric(values)), c(found$value, seq_len(values))))
  }
  mean <- add_up(found$sum) / sum(strata$a)
  off <- ifelse(single, 2 * found$sum * mean[found$value], found$sum^2 / a)
  alone <- sum(strata$factor[strata$a <= 1])
  not_negative(add_up((found$square - off) * strata$factor[found$stratum]) +
                 alone * mean^2)
}

# The sums of t and of its squares in every stratum that has any, one a value.
sums_by_stratum <- function(drawn, weights) {
  cells <- drawn$cells
  respondents <- !is.null(cells$w2)
  unit <- if (respondents) cells$unit else cells$row
  if (is.null(weights)) {
    value <- cells$cell
    t <- cells$w
    t2 <- if (respondents) cells$w2 else t^2
  } else {
    by_value <- weights[cells$cell, , drop = FALSE]
    sums <- rowsum(cells$w * by_value, unit)
    t2 <- if (respondents) rowsum(cells$w2 * by_value^2, unit) else sums^2
    unit <- rep(as.integer(rownames(sums)), ncol(weights))
    value <- rep(seq_len(ncol(weights)), each = nrow(sums))
    t <- as.vector(sums)
  }
  stratum <- drawn$of[unit]
  strata <- length(drawn$strata$a)
  key <- (value - 1) * strata + stratum
  sums <- rowsum(cbind(t, as.vector(t2)), key, reorder = FALSE)
  first <- which(!duplicated(key))
  list(value = value[first], stratum = stratum[first], sum = sums[, 1L],
       square = sums[, 2L])
}

# Per stratum a, the clusters (or respondents) sampled, and its factor (1 - f)
# a/(a-1), f being a over the population's number; per unit the stratum it is
# `of`. What a single one adds is the design's `single_cluster`. A stratum that
# was sampled whole is `certain`: it adds neither variance nor degrees of freedom.
strata_of <- function(design, by) {
  units <- design$units
  names <- unique(units$stratum)
  of <- match(units$stratum, names)
  a <- if (by == "cluster") tabulate(of) else units$sampled
  population <- if (is.null(units$population)) Inf else
    units$population[match(seq_along(names), of)]
  step <- a / (a - 1)
  step[a <= 1] <- if (design$single_cluster == "zero") 0 else 1
  list(names = names, of = of, a = a, certain = a >= population,
       factor = (1 - a / population) * step)
}

# Sums over groups of u = w (e - p) / N, from sums of weights per group and
# cell.
score_totals <- function(group, cells, p, N, groups) {
  score_totals_kernel(group, cells$cell, cells$w, p, N, groups)
}

# A matrix of scores is kept whole while it is small, and otherwise made anew in
# blocks of rows whenever it is used.
in_blocks <- function(rows, columns, make) {
  size <- max(1L, floor(setting("block_cells") / columns))
  if (rows <= size) return(list(make(1L, rows)))
  lapply(seq(1L, rows, by = size), function(first) {
    force(first)
    function() make(first, min(rows, first + size - 1L))
  })
}
