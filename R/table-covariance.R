# The estimated cell proportions of a layer and their covariance V: the one place where the sample design enters.
# Everything after this (tests, measures, residuals, intervals) takes the proportions, V and the degrees of freedom,
# whatever the design was.
#
# V is never written out: a table of 200 by 200 would need 13 gigabytes. It is kept as what it is made of,
#   V = diagonal + S'S - M'M   (acting on gradients that are centred at their mean under p, since V sees only those)
# with `scores` S one row a cluster or replicate, and `minus` M one row a stratum. covariance_of() gives G'VG for any
# gradients G; residual_variance() and share_variance() give the variance of one figure per cell.

# The estimate of a layer, or of every part of one of ticks.
add_estimates <- function(layer, tally) UseMethod("add_estimates")

#' @export
add_estimates.fairlattice_layer <- function(layer, tally) {
  e <- estimate_of(unclass(layer), tally$design, layer_cells(layer, tally))
  if (!is.null(e) && e$by_design && min(dim(e$P)) > 1L) e$effect <- design_effects(e)
  layer["estimate"] <- list(e)
  layer
}

#' @export
add_estimates.fairlattice_ticks_layer <- function(layer, tally) {
  layer$parts <- lapply(layer$parts, add_estimates, tally = tally)
  layer$patterns <- add_estimates(layer$patterns, tally)
  layer
}

# NULL while nobody is in the layer.
estimate_of <- function(layer, design, cells = layer$cells) {
  rows <- which(layer$margins$down$weighted > 0)
  columns <- which(layer$margins$across$weighted > 0)
  if (!length(rows)) return(NULL)
  P <- layer$weighted[rows, columns, drop = FALSE] / layer$base$weighted
  by_design <- design$weighted || design$stratified || design$clustered || !is.null(design$replicates)
  spread <- if (!is.null(design$replicates)) {
    at <- as.vector(outer(rows, (columns - 1L) * nrow(layer$n), `+`))
    replicate_spread(P, layer$replicates[at, , drop = FALSE], cells, design)
  } else if (by_design) {
    cells$cell <- match(seq_len(nrow(layer$n)), rows)[cells$row] +
      (match(seq_len(ncol(layer$n)), columns)[cells$column] - 1L) * length(rows)
    if (design$clustered) linearised_clusters(P, cells, design) else linearised_respondents(P, cells, design)
  } else {
    new_spread(Inf, diagonal = as.vector(P) / layer$base$n)
  }
  new_estimate(P, layer$base$n, rows, columns, by_design, spread)
}

# Linearised: u_k = w_k (e_k - p) / N, summed over clusters; V = sum over strata of (1 - f) a/(a-1) sum (u - u_mean)(u
# - u_mean)'. Clusters with nobody in the table have u = 0 and count in a and in the mean.
linearised_clusters <- function(P, cells, design) {
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
  mean[strata$a == 1L, ] <- 0 # a single cluster is centred at the mean of all clusters, which is 0
  scores_of <- function(first, last) {
    inside <- if (first == 1L && last == length(present)) TRUE else cells$row >= first & cells$row <= last
    part <- if (isTRUE(inside)) cells else lapply(cells, `[`, inside)
    U <- score_totals(part$row - first + 1L, part, p, N, last - first + 1L)
    h <- at[first:last]
    (U - mean[h, , drop = FALSE]) * sqrt(strata$factor[h])
  }
  absent <- strata$a - met
  scores <- in_blocks(length(present), length(p), scores_of)
  if (any(absent > 0)) scores <- c(scores, list(mean * sqrt(strata$factor * absent)))
  new_spread(length(present) - length(unique(at)), strata$names[strata$a == 1L & met > 0L], scores = scores,
             sparse = if (length(p) >= sparse_from) {
               list(row = cells$row, cell = cells$cell, w = cells$w, of = at, strata = strata, N = N)
             })
}

# From so many cells on, variances are summed over the cells that a cluster has anybody in: most clusters have nobody
# in most cells.
sparse_from <- 400L

# Sums over strata of f (sum z^2 - (sum z)^2 / a) for scores z of clusters, which is the variance of what they are the
# scores of.
# `squares` holds the sum of f z^2 over all clusters for each figure; `totals` gives the sums of z in stratum h.
less_strata <- function(sparse, squares, totals) {
  for (h in unique(sparse$of)) if (sparse$strata$a[h] > 1L) {
    squares <- squares - sparse$strata$factor[h] / sparse$strata$a[h] * totals(h)^2
  }
  not_negative(squares)
}

# Weights of clusters by group of cells: one row a cluster.
sparse_sums <- function(sparse, group) {
  m <- length(sparse$of)
  groups <- max(group)
  matrix(sum_by_cell_kernel(as.integer(sparse$row + (group[sparse$cell] - 1L) * m), sparse$w, m * groups), m)
}

# Scores of any figures, from centred gradients (one column a figure): one row a cluster, about its stratum's mean,
# times root f; clusters with nobody in the table have the score 0 and count in the mean.
sparse_scores <- function(sparse, G) {
  Z <- rowsum(sparse$w * G[sparse$cell, , drop = FALSE], sparse$row) / sparse$N
  strata <- sparse$strata
  sums <- matrix(0, length(strata$a), ncol(Z))
  found <- rowsum(Z, sparse$of)
  sums[as.integer(rownames(found)), ] <- found
  mean <- sums / strata$a
  mean[strata$a == 1L, ] <- 0
  absent <- strata$a - tabulate(sparse$of, length(strata$a))
  rbind((Z - mean[sparse$of, , drop = FALSE]) * sqrt(strata$factor[sparse$of]), mean * sqrt(strata$factor * absent))
}

# Variance of each d_ij: its score in a cluster is (W_ij - c_j R_i - r_i C_j - T k_ij) / N with W, R, C, T the
# cluster's weights in the cell, row, column and table, and k = p - 2 r c.
sparse_residual_variance <- function(e) {
  s <- e$sparse
  P <- e$P
  i <- as.vector(row(P))
  j <- as.vector(col(P))
  r <- row_sums(P)[i]
  c <- column_sums(P)[j]
  k <- as.vector(P) - 2 * r * c
  R <- sparse_sums(s, i)
  C <- sparse_sums(s, j)
  whole <- row_sums(R)
  f <- s$strata$factor[s$of]
  over <- function(x) sum_by_cell_kernel(as.integer(s$cell), f[s$row] * s$w * x, length(P))
  at <- s$row
  fR <- f * R
  fC <- f * C
  squares <- over(s$w) - 2 * over(c[s$cell] * R[cbind(at, i[s$cell])] + r[s$cell] * C[cbind(at, j[s$cell])] +
                                  k[s$cell] * whole[at]) +
    c^2 * column_sums(fR * R)[i] + r^2 * column_sums(fC * C)[j] + k^2 * sum(f * whole^2) +
    2 * c * r * as.vector(crossprod(fR, C)) + 2 * c * k * column_sums(fR * whole)[i] +
    2 * r * k * column_sums(fC * whole)[j]
  totals <- function(h) {
    here <- s$of == h
    inside <- here[s$row]
    sum_by_cell_kernel(as.integer(s$cell[inside]), s$w[inside], length(P)) -
      c * column_sums(R[here, , drop = FALSE])[i] - r * column_sums(C[here, , drop = FALSE])[j] - sum(whole[here]) * k
  }
  less_strata(s, squares, totals) / s$N^2
}

# Variance of each share q = p_ij / b: its score in a cluster is (W_ij - q B) / (N b) with B the cluster's weight in
# the base.
sparse_share_variance <- function(e, group, q, b) {
  s <- e$sparse
  B <- sparse_sums(s, group)
  f <- s$strata$factor[s$of]
  over <- function(x) sum_by_cell_kernel(as.integer(s$cell), f[s$row] * s$w * x, length(q))
  squares <- over(s$w) - 2 * q * over(B[cbind(s$row, group[s$cell])]) + q^2 * column_sums(f * B^2)[group]
  totals <- function(h) {
    here <- s$of == h
    inside <- here[s$row]
    sum_by_cell_kernel(as.integer(s$cell[inside]), s$w[inside], length(q)) -
      q * column_sums(B[here, , drop = FALSE])[group]
  }
  less_strata(s, squares, totals) / (s$N * b)^2
}

# Sums over groups of u = w (e - p) / N, from sums of weights per group and cell.
score_totals <- function(group, cells, p, N, groups) score_totals_kernel(group, cells$cell, cells$w, p, N, groups)

# A matrix of scores is kept whole while it is small, and otherwise made anew in blocks of rows whenever it is used.
in_blocks <- function(rows, columns, make) {
  size <- max(1L, floor(setting("block_cells") / columns))
  if (rows <= size) return(list(make(1L, rows)))
  lapply(seq(1L, rows, by = size), function(first) {
    force(first)
    function() make(first, min(rows, first + size - 1L))
  })
}

block_of <- function(block) if (is.function(block)) block() else block

# The same when every respondent is their own cluster: sums of w and w^2 per stratum and cell are enough.
linearised_respondents <- function(P, cells, design) {
  p <- as.vector(P)
  N <- sum(cells$w)
  strata <- strata_of(design, by = "respondent")
  squares <- as.vector(rowsum(c(cells$w2 * strata$factor[cells$unit], numeric(length(p))), c(cells$cell, seq_along(p))))
  total <- score_totals(cells$unit, cells, p, N, nrow(design$units))
  met <- unique(cells$unit)
  new_spread(sum(cells$n) - length(met), strata$names[intersect(met, which(strata$a == 1))], diagonal = squares / N^2,
             minus = total * sqrt(ifelse(strata$a > 1, strata$factor / strata$a, 0)))
}

# Per stratum a, the clusters (or respondents) sampled, and its factor (1 - f) a/(a-1), f being a over the population's
# number; per unit the stratum it is `of`. What a single one adds is the design's `single_cluster`.
strata_of <- function(design, by) {
  units <- design$units
  names <- unique(units$stratum)
  of <- match(units$stratum, names)
  a <- if (by == "cluster") tabulate(of) else units$sampled
  population <- if (is.null(units$population)) Inf else units$population[match(seq_along(names), of)]
  step <- a / (a - 1)
  step[a <= 1] <- if (design$single_cluster == "zero") 0 else 1
  list(names = names, of = of, a = a, factor = (1 - a / population) * step)
}

# G'VG for gradients G, one column a figure.
covariance_of <- function(e, G) {
  G <- centred(e, G)
  if (!is.null(e$sparse)) return(crossprod(sparse_scores(e$sparse, G)))
  out <- matrix(0, ncol(G), ncol(G))
  if (!is.null(e$diagonal)) out <- out + crossprod(G * sqrt(e$diagonal))
  if (!is.null(e$minus)) out <- out - crossprod(e$minus %*% G)
  for (block in e$scores) out <- out + crossprod(block_of(block) %*% G)
  out
}

# Its diagonal: the variance of each figure, never negative.
variance_of <- function(e, G) {
  G <- centred(e, G)
  if (!is.null(e$sparse)) return(column_sums(sparse_scores(e$sparse, G)^2))
  out <- numeric(ncol(G))
  if (!is.null(e$diagonal)) out <- out + column_sums(G^2 * e$diagonal)
  not_negative(out + squares_of(e, function(S) column_sums((S %*% G)^2)))
}

centred <- function(e, G) {
  G <- as.matrix(if (is.matrix(G) && length(G) == length(e$P)) as.vector(G) else G)
  G - rep(column_sums(as.vector(e$P) * G), each = nrow(G))
}

# Sums of squares over all scores, less those of `minus`; `squares` gives them of one block.
squares_of <- function(e, squares) {
  out <- 0
  for (block in e$scores) out <- out + squares(block_of(block))
  if (!is.null(e$minus)) out <- out - squares(e$minus)
  out
}

# Scores of d_ij = p_ij - p_i. p_.j, by its gradient e_ij - p_.j r_i - p_i. c_j at p, from scores of p (one row a unit).
residual_scores <- function(S, P) residual_scores_kernel(S, P)

# Variance of each d_ij. For the diagonal part D its centred gradient at cell (a, b) is (1[a=i] - p_i.)(1[b=j] - p_.j)
# - d_ij, which takes four values: in the cell, in the rest of its row, in the rest of its column, and elsewhere.
residual_variance <- function(e) {
  squares <- if (!is.null(e$sparse)) sparse_residual_variance(e) else
    squares_of(e, function(S) column_sums(residual_scores(S, e$P)^2))
  out <- matrix(squares, nrow(e$P), ncol(e$P))
  if (!is.null(e$diagonal)) {
    D <- matrix(e$diagonal, nrow(e$P))
    d <- e$P - expected_proportions(e$P)
    a <- row_sums(e$P)
    b <- rep(column_sums(e$P), each = nrow(e$P))
    in_row <- row_sums(D) - D
    in_column <- rep(column_sums(D), each = nrow(D)) - D
    elsewhere <- sum(D) - row_sums(D) - in_column
    out <- out + D * ((1 - a) * (1 - b) - d)^2 + in_row * ((1 - a) * b + d)^2 + in_column * (a * (1 - b) + d)^2 +
      not_negative(elsewhere) * (a * b - d)^2
  }
  not_negative(out)
}

# The estimate as if the n respondents had been drawn at random with these proportions.
multinomial <- function(P, n) list(P = P, n = n, diagonal = as.vector(P) / n)

# Of all d_ij the variances, and the covariance matrix of those of the first r-1 rows and c-1 columns, from one pass
# over the scores.
residual_spread <- function(e) {
  V <- 0
  for (block in e$scores) V <- V + crossprod(residual_scores(block_of(block), e$P))
  if (!is.null(e$minus)) V <- V - crossprod(residual_scores(e$minus, e$P))
  if (!is.null(e$diagonal)) V <- V + crossprod(sqrt(e$diagonal) * centred(e, gradients_of_residuals(e$P)))
  spread_in(V, e$P)
}

# The same as if the n respondents had been drawn at random with these proportions: their covariance is (diag(p) -
# pp') / n.
multinomial_spread <- function(P, n) {
  p <- as.vector(P)
  half <- residual_scores(covariance_of_draws(p), P)
  spread_in(residual_scores(t(half), P) / n, P)
}

spread_in <- function(V, P) {
  inner <- cells_but_last(P)
  list(covariance = V[inner, inner, drop = FALSE], variance = matrix(not_negative(diagonal_of(V)), nrow(P)))
}

# Gradients of the d_ij over the cells.
gradients_of_residuals <- function(P) residual_scores(diag(1, length(P)), P)

# Places of the first r-1 rows and c-1 columns.
cells_but_last <- function(P) places_at(seq_len(nrow(P) - 1L), seq_len(ncol(P) - 1L), nrow(P))

# At the independence fit the multinomial covariance of the d_ij is (diag(r) - rr') x (diag(c) - cc') / n.
independence_covariance <- function(P, n) {
  side <- function(p) covariance_of_draws(p)[-length(p), -length(p), drop = FALSE]
  kronecker(side(column_sums(P)), side(row_sums(P))) / n
}

# The generalised design effects enter tests only through their sum and sum of squares, which are traces: of M = inv(H
# V0 H') H V H' and of M M. No eigenvalue is needed. Option `rao_scott_v0` says where V0 is taken. In a table with more
# than
# `most_df` degrees of freedom only their sum is worked out: at the independence fit it is a sum over cells.
design_effects <- function(e) {
  if (e$df < 1) return(no_effects(said("no_df")))
  d <- prod(dim(e$P) - 1)
  if (d > setting("most_df")) {
    variance <- residual_variance(e)
    sum <- e$n * sum(variance / e$fit)
    if (!has_variance(sum)) return(no_effects(said("no_variance"), variance))
    return(new_effects(sum, d, NA_real_, variance, said("first_order_only", most = setting("most_df"))))
  }
  spread <- residual_spread(e)
  at_estimate <- setting("rao_scott_v0") == "estimate"
  plain <- if (at_estimate) multinomial_spread(e$P, e$n)
  M <- if (at_estimate) solve_or_null(plain$covariance, spread$covariance)
  note <- NULL
  if (is.null(M)) {
    M <- solve_or_null(independence_covariance(e$P, e$n), spread$covariance)
    note <- said(if (at_estimate) "effects_at_fit_needed" else "effects_at_fit")
  }
  if (is.null(M)) return(no_effects(said("margins_too_unequal"), spread$variance))
  sum <- sum(diagonal_of(M))
  if (!has_variance(sum)) return(no_effects(said("no_variance"), spread$variance))
  new_effects(sum, d, sum(M * t(M)), spread$variance, note, e$df, plain$variance)
}

has_variance <- function(sum) is.finite(sum) && sum > sqrt(.Machine$double.eps)

# Design effects: their sum, mean and sum of squares (NA where only the first order is worked out), `df` the second
# order's first degrees of freedom, `df_corrected` the same corrected for few clusters, `variance` of every residual
# and the same of a random sample (`multinomial`, where it is known), what is said of them (`note`), and `why` there
# are none.
new_effects <- function(sum, d, squares, variance = NULL, note = NULL, df = Inf, multinomial = NULL) {
  d1 <- if (is.na(squares)) d else sum^2 / squares
  list(sum = sum, mean = sum / d, squares = squares, df = d1,
       df_corrected = if (is.na(squares)) d else corrected_df(sum, squares, d1, d, df), second = !is.na(squares),
       variance = variance, multinomial = multinomial, note = note, why = NULL)
}

# From few clusters the sum of squares of the design effects is estimated too large, so that d1 = sum^2 / squares comes
# out too small and the test rejects too seldom. For W, a Wishart matrix on df degrees of freedom over df,
# E tr(W^2) = (1 + 1/df) tr(D^2) + tr(D)^2 / df; solved for tr(D^2) without bias that is the sum of squares below (the
# same idea corrects the sphericity estimate of repeated measures). Kept between d1 and d.
corrected_df <- function(sum, squares, d1, d, df) {
  if (is.infinite(df) || df <= 1) return(d1)
  unbiased <- unbiased_squares(sum, squares, df)
  if (unbiased <= 0) d else min(max(sum^2 / unbiased, d1), d)
}

unbiased_squares <- function(sum, squares, df) df^2 / ((df - 1) * (df + 2)) * (squares - sum^2 / df)

no_effects <- function(why, variance = NULL) list(variance = variance, note = NULL, why = why)

# inv(A) B for a covariance A; NULL when A is singular.
solve_or_null <- function(A, B) solved_kernel(A, as.matrix(B))
