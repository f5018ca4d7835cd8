# The estimated cell proportions of a layer and their covariance: the one place where the sample design enters.
# Everything after this (tests, measures, residuals, intervals) takes the proportions, V and the degrees of freedom,
# whatever the design was.

# Adds `estimate`: proportions P over the occupied rows and columns, V over its cells (column by column), the
# design's degrees of freedom, and the lonely strata; NULL when the layer is empty.
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
  layer$estimate <- c(list(P = P, n = layer$base$n, rows = rows, columns = columns, by_design = by_design), spread)
  layer
}

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

# Variance of a smooth figure with gradient g: g'Vg, never negative.
delta_variance <- function(gradient, V) {
  g <- as.vector(gradient)
  max(0, sum(g * (V %*% g)))
}
