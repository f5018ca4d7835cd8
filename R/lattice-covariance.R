# The estimated cell proportions of a layer and their covariance: the one place where the sample design enters.
# Everything after this (tests, measures, residuals, intervals) takes the proportions, V and the degrees of freedom,
# whatever the design was.

# The estimate of a layer, or of every part of one of ticks.
add_estimates <- function(layer, tally) {
  if (is.null(layer$parts)) return(add_estimate(layer, tally))
  layer$parts <- lapply(layer$parts, add_estimate, tally = tally)
  layer
}

# Adds `estimate`: proportions P over the occupied rows and columns, V over its cells (column by column), the
# design's degrees of freedom, the lonely strata, and the generalised design effects of the departures from
# independence; NULL when the layer is empty.
add_estimate <- function(layer, tally) {
  rows <- which(rowSums(layer$weighted) > 0)
  columns <- which(colSums(layer$weighted) > 0)
  if (!length(rows)) return(layer)
  P <- layer$weighted[rows, columns, drop = FALSE] / layer$base$weighted
  design <- tally$design
  by_design <- design$weighted || design$stratified || design$clustered
  spread <- if (by_design) {
    cells <- layer$cells
    cells$cell <- match(cells$row, rows) + (match(cells$column, columns) - 1L) * length(rows)
    if (design$clustered) linearised_clusters(P, cells, design$units) else linearised_respondents(P, cells, design$units)
  } else {
    list(V = multinomial_covariance(P, layer$base$n), df = Inf, lonely = 0L)
  }
  estimate <- c(list(P = P, n = layer$base$n, rows = rows, columns = columns, by_design = by_design), spread)
  if (by_design && min(dim(P)) > 1L) estimate$effect <- design_effects(estimate)
  layer$estimate <- estimate
  layer
}

# What the cell proportions would be if the two questions were unrelated: the products of the margins.
expected_proportions <- function(P) tcrossprod(rowSums(P), colSums(P))

# V = (diag(p) - pp') / n
multinomial_covariance <- function(P, n) {
  p <- as.vector(P)
  (diag(p, length(p)) - tcrossprod(p)) / n
}

# Linearised: u_k = w_k (e_k - p) / N, summed over clusters; V = sum over strata of a/(a-1) sum (u - u_mean)(u - u_mean)'.
# Clusters with nobody in the table have u = 0 and count in a and in the mean.
linearised_clusters <- function(P, cells, units) {
  p <- as.vector(P)
  present <- sort(unique(cells$unit))
  W <- matrix(0, length(present), length(p))
  W[cbind(match(cells$unit, present), cells$cell)] <- cells$w
  U <- (W - tcrossprod(rowSums(W), p)) / sum(W)
  stratum <- match(units$stratum, unique(units$stratum))
  a <- tabulate(stratum)
  at <- stratum[present]
  met <- tabulate(at, length(a))
  mean <- matrix(0, length(a), length(p))
  mean[sort(unique(at)), ] <- rowsum(U, at) / a[sort(unique(at))]
  mean[a == 1L, ] <- 0 # a lonely cluster is centred at the mean of all clusters, which is 0
  factor <- ifelse(a > 1L, a / (a - 1), 1)
  V <- crossprod((U - mean[at, , drop = FALSE]) * sqrt(factor[at])) + crossprod(mean * sqrt(factor * (a - met)))
  list(V = V, df = length(present) - length(unique(at)), lonely = sum(a == 1L & met > 0L))
}

# The same when every respondent is their own cluster: sums of w and w^2 per stratum and cell are enough.
linearised_respondents <- function(P, cells, units) {
  p <- as.vector(P)
  N <- sum(cells$w)
  a <- units$sampled
  factor <- ifelse(a > 1, a / (a - 1), 1)
  squares <- as.vector(rowsum(c(cells$w2 * factor[cells$unit], numeric(length(p))), c(cells$cell, seq_along(p))))
  W <- matrix(0, nrow(units), length(p))
  W[cbind(cells$unit, cells$cell)] <- cells$w
  S <- (W - tcrossprod(rowSums(W), p)) / N
  cross <- tcrossprod(squares, p)
  V <- (diag(squares, length(p)) - cross - t(cross) + sum(squares) * tcrossprod(p)) / N^2 -
    crossprod(S * sqrt(ifelse(a > 1, factor / a, 0)))
  met <- unique(cells$unit)
  list(V = V, df = sum(cells$n) - length(met), lonely = sum(a[met] == 1))
}

# Covariance of all d_ij = p_ij - p_i. p_.j at p: J V J', J row ij being e_ij - p_.j r_i - p_i. c_j.
# J is applied by sums over rows and columns, so this costs no more than reading V a few times.
departure_covariance <- function(P, V) {
  apply_jacobian <- function(M) {
    r <- nrow(P)
    k <- ncol(P)
    i <- rep(seq_len(r), k)
    j <- rep(seq_len(k), each = r)
    M - colSums(P)[j] * rowsum(M, i)[i, , drop = FALSE] - rowSums(P)[i] * rowsum(M, j)[j, , drop = FALSE]
  }
  out <- apply_jacobian(t(apply_jacobian(V)))
  dimnames(out) <- NULL
  out
}

# The generalised design effects enter tests only through their sum and sum of squares, which are traces: of
# M = inv(H V0 H') H V H' and of M M. No eigenvalue is needed.
design_effects <- function(e) {
  r <- nrow(e$P)
  k <- ncol(e$P)
  free <- which(rep(seq_len(r) < r, k) & rep(seq_len(k) < k, each = r))
  if (e$df < 1) return(list(why = "no degrees of freedom: there are no more clusters than strata in this table"))
  HVH <- departure_covariance(e$P, e$V)[free, free, drop = FALSE]
  at <- function(P) departure_covariance(P, multinomial_covariance(P, e$n))[free, free, drop = FALSE]
  note <- NA_character_
  M <- solve_or_null(at(e$P), HVH)
  if (is.null(M)) {
    M <- solve_or_null(at(expected_proportions(e$P)), HVH)
    note <- "design effects taken at the independence fit, since they are undefined at the estimate"
  }
  sum <- sum(diag(M))
  squares <- sum(M * t(M))
  if (!is.finite(sum) || sum <= sqrt(.Machine$double.eps)) {
    return(list(why = "the departures from independence have no variance to first order here: the association is at its bound, or the clusters all agree"))
  }
  list(sum = sum, mean = sum / length(free), df = sum^2 / squares, note = note, why = NA_character_)
}

# inv(A) B for a covariance A; NULL when A is singular.
solve_or_null <- function(A, B) {
  scale <- sqrt(diag(A))
  if (any(!is.finite(scale)) || any(scale <= 0)) return(NULL)
  root <- tryCatch(chol(A / tcrossprod(scale)), error = function(e) NULL)
  if (is.null(root) || min(diag(root)) < 1e-6) return(NULL)
  backsolve(root, forwardsolve(t(root), B / scale)) / scale
}

# Variance of a smooth figure with gradient g: g'Vg, never negative.
delta_variance <- function(gradient, V) {
  g <- as.vector(gradient)
  max(0, sum(g * (V %*% g)))
}
