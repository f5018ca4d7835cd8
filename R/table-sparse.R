# Large tables under a design of clusters.
#
# From so many cells on, variances are summed over the cells that a cluster has
# anybody in: most clusters have nobody in most cells. `sparse` holds weights
# `w` by cluster (`row`) and `cell`, the stratum every cluster is `of`, the
# strata, and N.
sparse_from <- 400L

# Sums over strata of f (sum z^2 - (sum z)^2 / a) for scores z of clusters,
# which is the variance of what they are the scores of. `squares` holds the sum
# of f z^2 over all clusters for each figure; `totals` gives the sums of z in
# stratum h.
less_strata <- function(sparse, squares, totals) {
  for (h in unique(sparse$of)) if (sparse$strata$a[h] > 1L) {
    squares <-
      squares - sparse$strata$factor[h] / sparse$strata$a[h] * totals(h)^2
  }
  not_negative(squares)
}

# Weights of clusters by group of cells: one row a cluster.
sparse_sums <- function(sparse, group) {
  m <- length(sparse$of)
  groups <- max(group)
  at <- as.integer(sparse$row + (group[sparse$cell] - 1L) * m)
  matrix(sum_by_cell_kernel(at, sparse$w, m * groups), m)
}

# Scores of any figures, from centred gradients (one column a figure): one row a
# cluster, about its stratum's mean, times root f; clusters with nobody in the
# table have the score 0 and count in the mean.
sparse_scores <- function(sparse, G) {
  Z <- rowsum(sparse$w * G[sparse$cell, , drop = FALSE], sparse$row) / sparse$N
  strata <- sparse$strata
  sums <- matrix(0, length(strata$a), ncol(Z))
  found <- rowsum(Z, sparse$of)
  sums[as.integer(rownames(found)), ] <- found
  mean <- sums / strata$a
  mean[strata$a == 1L, ] <- 0
  absent <- strata$a - tabulate(sparse$of, length(strata$a))
  rbind((Z - mean[sparse$of, , drop = FALSE]) * sqrt(strata$factor[sparse$of]),
        mean * sqrt(strata$factor * absent))
}

# Variance of each d_ij: its score in a cluster is (W_ij - c_j R_i - r_i C_j - T
# k_ij) / N with W, R, C, T the cluster's weights in the cell, row, column and
# table, and k = p - 2 r c.
sparse_residual_variance <- function(sparse, P) {
  s <- sparse
  i <- as.vector(row(P))
  j <- as.vector(col(P))
  r <- row_sums(P)[i]
  c <- column_sums(P)[j]
  k <- as.vector(P) - 2 * r * c
  R <- sparse_sums(s, i)
  C <- sparse_sums(s, j)
  whole <- row_sums(R)
  f <- s$strata$factor[s$of]
  over <- function(x) {
    sum_by_cell_kernel(as.integer(s$cell), f[s$row] * s$w * x, length(P))
  }
  at <- s$row
  fR <- f * R
  fC <- f * C
  squares <- over(s$w) -
             2 *
               over(c[s$cell] * R[cbind(at, i[s$cell])] +
                      r[s$cell] * C[cbind(at, j[s$cell])] +
                      k[s$cell] * whole[at]) + c^2 * column_sums(fR * R)[i] +
             r^2 * column_sums(fC * C)[j] + k^2 * sum(f * whole^2) +
             2 * c * r * as.vector(crossprod(fR, C)) +
             2 * c * k * column_sums(fR * whole)[i] +
             2 * r * k * column_sums(fC * whole)[j]
  totals <- function(h) {
    here <- s$of == h
    inside <- here[s$row]
    sum_by_cell_kernel(as.integer(s$cell[inside]), s$w[inside], length(P)) -
      c * column_sums(R[here, , drop = FALSE])[i] -
      r * column_sums(C[here, , drop = FALSE])[j] - sum(whole[here]) * k
  }
  less_strata(s, squares, totals) / s$N^2
}

# Variance of each share q = p_ij / b: its score in a cluster is (W_ij - q B) /
# (N b) with B the cluster's weight in the base.
sparse_share_variance <- function(sparse, group, q, b) {
  s <- sparse
  B <- sparse_sums(s, group)
  f <- s$strata$factor[s$of]
  over <- function(x) {
    sum_by_cell_kernel(as.integer(s$cell), f[s$row] * s$w * x, length(q))
  }
  squares <- over(s$w) - 2 * q * over(B[cbind(s$row, group[s$cell])]) +
    q^2 * column_sums(f * B^2)[group]
  totals <- function(h) {
    here <- s$of == h
    inside <- here[s$row]
    sum_by_cell_kernel(as.integer(s$cell[inside]), s$w[inside], length(q)) -
      q * column_sums(B[here, , drop = FALSE])[group]
  }
  less_strata(s, squares, totals) / (s$N * b)^2
}
