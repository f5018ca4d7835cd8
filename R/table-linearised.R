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
  there <- tabulate(cells$unit, length(strata$of)) > 0L
  present <- which(there)
  at <- strata$of[present]
  met <- tabulate(at, length(strata$a))
  cells$row <- cumsum(there)[cells$unit]
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
  uncertain <- at[!strata$certain[at]]
  new_spread("linearised", length(uncertain) - length(unique(uncertain)),
             strata$names[strata$a == 1L & met > 0L & !strata$certain],
             scores = scores, sparse = sparse,
             met = list(row = cells$row, cell = cells$cell))
}

# The same when every respondent is their own cluster: sums of w and w^2 per
# stratum and cell are enough.
respondents_spread <- function(P, cells, design) {
  p <- as.vector(P)
  N <- sum(cells$w)
  strata <- strata_of(design, by = "respondent")
  squares <- as.vector(rowsum(c(cells$w2 * strata$factor[cells$unit],
                                numeric(length(p))),
                              c(cells$cell, seq_along(p))))
  total <- score_totals(cells$unit, cells, p, N, nrow(design$units))
  met <- unique(cells$unit)
  root <- sqrt(ifelse(strata$a > 1, strata$factor / strata$a, 0))
  met <- met[!strata$certain[met]]
  new_spread("linearised",
             sum(cells$n[!strata$certain[cells$unit]]) - length(met),
             strata$names[intersect(met, which(strata$a == 1))],
             diagonal = squares / N^2, minus = total * root,
             met = list(size = as.vector(rowsum(
               c(cells$n, numeric(length(p))), c(cells$cell, seq_along(p))))))
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
