# Variances by the derivatives of figures, of a random sample and of a
# linearised design.
#
# Of a random sample and of a linearised design V is never written out: a table
# of 200 by 200 would need 13 gigabytes. It is kept as what it is made of,
#   V = diagonal + S'S - M'M   (on gradients centred at their mean under p)
# with `scores` S one row a cluster and `minus` M one row a stratum.

#' @export
estimated.fairlattice_spread <- function(e, figure) {
  at <- figure(e$P)
  none <- is.null(at$gradient)
  with_df(e, at, variance = if (none) numeric(length(at$value)) else
    variance_along(e, at$gradient))
}

#' @export
estimated_together.fairlattice_spread <- function(e, figure) {
  at <- figure(e$P)
  with_df(e, at, covariance = covariance_along(e, at$gradient),
          joint_df = design_df(e))
}

#' @export
estimated_shares.fairlattice_spread <- function(e, percent) {
  list(value = shares_of_sums(e, percent), variance = share_variance(e, percent),
       df = share_df(e, percent))
}

# G'VG for gradients G, one column a figure, and its diagonal.
covariance_along <- function(e, G) {
  s <- e$spread
  G <- centred(e$P, G)
  if (!is.null(s$sparse)) return(crossprod(sparse_scores(s$sparse, G)))
  out <- matrix(0, ncol(G), ncol(G))
  if (!is.null(s$diagonal)) out <- out + crossprod(G * sqrt(s$diagonal))
  if (!is.null(s$minus)) out <- out - crossprod(s$minus %*% G)
  for (block in s$scores) out <- out + crossprod(block_of(block) %*% G)
  out
}

variance_along <- function(e, G) {
  s <- e$spread
  G <- centred(e$P, G)
  if (!is.null(s$sparse)) return(column_sums(sparse_scores(s$sparse, G)^2))
  squares_of(s, function(S) column_sums((S %*% G)^2),
             if (is.null(s$diagonal)) numeric(ncol(G)) else
               column_sums(G^2 * s$diagonal))
}

# A gradient of one figure may have the shape of P.
centred <- function(P, G) {
  G <-
    as.matrix(if (is.matrix(G) && length(G) == length(P)) as.vector(G) else G)
  G - rep(column_sums(as.vector(P) * G), each = nrow(G))
}

# Sums of squares over all scores and those of the diagonal, less those of
# `minus`; `squares` gives them of one block.
squares_of <- function(spread, squares, diagonal = 0) {
  plus <- diagonal
  for (block in spread$scores) plus <- plus + squares(block_of(block))
  without_rounding(plus,
                   if (is.null(spread$minus)) 0 else squares(spread$minus))
}

# What is left of a variance when it is taken off whole is rounding.
without_rounding <- function(plus, minus) {
  left <- plus - minus
  left[left < 1e-12 * plus] <- 0
  left
}

# A block of scores is kept, or made whenever it is used.
block_of <- function(block) if (is.function(block)) block() else block

# Variance of q = p_ij / b, b the proportion of its base: the score of q is
# (score of p_ij - q score of b) / b.
share_variance <- function(e, percent) {
  s <- e$spread
  P <- e$P
  b <- base_per_cell(P, percent)
  q <- as.vector(P) / b
  if (!is.null(s$sparse))
    return(sparse_share_variance(s$sparse, base_groups(dim(P), percent), q, b))
  diagonal <- 0
  if (!is.null(s$diagonal)) {
    rest <- base_per_cell(matrix(s$diagonal, nrow(P)), percent) - s$diagonal
    diagonal <- (s$diagonal * (1 - q)^2 + rest * q^2) / b^2
  }
  squares_of(s, function(S) share_squares_kernel(S, P, percent), diagonal)
}

# For the diagonal part D the centred gradient of d_ij at cell (a, b) is (1[a=i]
# - p_i.)(1[b=j] - p_.j) - d_ij, which takes four values: in the cell, in the
# rest of its row, in the rest of its column, and elsewhere.
#' @export
residual_variance.fairlattice_spread <- function(e) {
  s <- e$spread
  P <- e$P
  if (!is.null(s$sparse))
    return(matrix(sparse_residual_variance(s$sparse, P), nrow(P)))
  diagonal <- 0
  if (!is.null(s$diagonal)) {
    D <- matrix(s$diagonal, nrow(P))
    d <- P - expected_proportions(P)
    a <- row_sums(P)
    b <- rep(column_sums(P), each = nrow(P))
    in_row <- row_sums(D) - D
    in_column <- rep(column_sums(D), each = nrow(D)) - D
    elsewhere <- sum(D) - row_sums(D) - in_column
    diagonal <- D * ((1 - a) * (1 - b) - d)^2 + in_row * ((1 - a) * b + d)^2 +
      in_column * (a * (1 - b) + d)^2 + not_negative(elsewhere) * (a * b - d)^2
  }
  matrix(squares_of(s, function(S) column_sums(residual_scores(S, P)^2),
                    as.vector(diagonal)), nrow(P), ncol(P))
}

#' @export
residual_spread.fairlattice_spread <- function(e) {
  s <- e$spread
  P <- e$P
  V <- 0
  for (block in s$scores) V <-
    V + crossprod(residual_scores(block_of(block), P))
  if (!is.null(s$minus)) V <- V - crossprod(residual_scores(s$minus, P))
  if (!is.null(s$diagonal))
    V <- V + crossprod(sqrt(s$diagonal) * centred(P, gradients_of_residuals(P)))
  spread_in(V, P)
}

#' @export
tables_without.fairlattice_spread <- function(e) NULL

#' @export
left_out.fairlattice_spread <- function(e, values, scale) {
  without <- tables_without(e)
  if (!is.null(without)) left_out_figures(scale(values(without$shares)), without)
}

#' @export
design_effect_of.fairlattice_spread <- function(e, figure, designed = NULL) {
  effect_over(designed %||% estimated(e, figure)$variance,
              estimated(as_random(e), figure)$variance)
}
