# Figures: functions of the cell proportions P that give their value and their
# derivative by the cells (R/table-variance.R says what becomes of them).

# `base` says of every value in which cells the people are that it is of (one row
# a cell, one column a value), where these are not all; `of` which columns of
# `base` each value rests on, where that is not its own.
part <- function(value, gradient, base = NULL, of = NULL) {
  out <- list(value = value, gradient = gradient)
  if (!is.null(base)) out$base <- base
  if (!is.null(of)) out$of <- of
  out
}

# What the cell proportions would be if the two questions were unrelated: the
# products of the margins.
expected_proportions <- function(P) tcrossprod(row_sums(P), column_sums(P))

# Ratios of sums over cells, such as shares and means: `over` and `under` have
# one row a cell and one column a ratio. To 15 digits, since the next is
# rounding.
ratios_of <- function(over, under) {
  over <- as.matrix(over)
  under <- as.matrix(under)
  function(P) {
    p <- as.vector(P)
    base <- column_sums(p * under)
    value <- column_sums(p * over) / base
    width <- nrow(over)
    part(signif(value, 15L),
         (over - under * rep(value, each = width)) / rep(base, each = width),
         base = under)
  }
}

# Sums over cells, one a column of `weights`.
sums_of <- function(weights) {
  function(P) part(as.vector(crossprod(weights, as.vector(P))), weights)
}

# Contrasts of the values of a figure, one a column of `weights`.
contrasts_of <- function(figure, weights) {
  weights <- as.matrix(weights)
  function(P) {
    at <- figure(P)
    used <- weights != 0
    part(as.vector(crossprod(weights, at$value)), at$gradient %*% weights,
         base = at$base, of = if (is.null(at$of)) used else
           at$of %*% used > 0)
  }
}

# The proportions themselves.
cells_of <- function(P) part(as.vector(P), diag(1, length(P)))

# The departures from independence of the first r-1 rows and c-1 columns, from
# which the others follow.
residuals_in <- function(P) {
  inner <- cells_but_last(P)
  part((P - expected_proportions(P))[inner],
       gradients_of_residuals(P)[, inner, drop = FALSE])
}

# A figure whose value and gradient at the estimate are known.
known_figure <- function(e, at, anew) {
  function(P) if (identical(P, e$P)) at else anew(P)
}

# Gradients of the d_ij over the cells.
gradients_of_residuals <- function(P) residual_scores(diag(1, length(P)), P)

# Scores of d_ij = p_ij - p_i. p_.j, by its gradient e_ij - p_.j r_i - p_i. c_j
# at p, from scores of p (one row a unit).
residual_scores <- function(S, P) residual_scores_kernel(S, P)

# Places of the first r-1 rows and c-1 columns.
cells_but_last <- function(P) {
  places_at(seq_len(nrow(P) - 1L), seq_len(ncol(P) - 1L), nrow(P))
}

# A covariance matrix of all d_ij, as residual_spread() gives it.
spread_in <- function(V, P) {
  inner <- cells_but_last(P)
  list(covariance = V[inner, inner, drop = FALSE],
       variance = matrix(not_negative(diagonal_of(V)), nrow(P)))
}

# The total that each cell is a share of.
base_per_cell <- function(M, percent) {
  switch(percent, column = rep(column_sums(M), each = nrow(M)),
         row = rep(row_sums(M), ncol(M)), total = rep(sum(M), length(M)))
}

# The shares themselves, from the sums, which are exact.
shares_of_sums <- function(e, percent) {
  as.vector(e$sums) / base_per_cell(e$sums, percent)
}

# Which base that is, cell by cell.
base_groups <- function(size, percent) {
  switch(percent, column = rep(seq_len(size[2L]), each = size[1L]),
         row = rep(seq_len(size[1L]), size[2L]), total = rep(1L, prod(size)))
}

# inv(A) B for a covariance A; NULL when A is singular.
solve_or_null <- function(A, B) solved_kernel(A, as.matrix(B))
