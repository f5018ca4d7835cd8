# The generalised statistics of R x C x K (Landis, Heyman & Koch 1978):
# G'inv(H)G with G the sum over strata of what was seen less what would be
# expected, and H its hypergeometric covariance; under a design over its
# generalised design effects, second order.

generalised_names <- c("general_association", "mean_scores", "correlation")

generalised_tests <- function(strata, scores, explains) {
  none <- function(code) lapply(generalised_names, new_test, note = said(code))
  if (!length(strata$tables)) return(none("no_full_stratum"))
  if (!has_df(strata$joint)) return(none("no_df"))
  tables <- scaled_tables(strata)
  contrasts <- lapply(tables, association_contrasts, strata$rows,
                      strata$columns, scores, explains)
  lapply(generalised_names, function(name) {
    generalised_test(name, strata, tables, lapply(contrasts, `[[`, name))
  })
}

# The contrasts of cells (down its columns) that each statistic looks at, in one
# stratum.
association_contrasts <- function(t, rows, columns, scores, explains) {
  u <- scores_of_side(row_sums(t), rows, scores, "down")
  v <- scores_of_side(column_sums(t), columns, scores, "across")
  but_last <- function(size) rbind(diag(size - 1L), 0)
  list(general_association = kronecker(but_last(ncol(t)), but_last(nrow(t))),
       mean_scores = if (explains == "across")
         kronecker(but_last(ncol(t)), as.matrix(u)) else
         kronecker(as.matrix(v), but_last(nrow(t))),
       correlation = kronecker(as.matrix(v), as.matrix(u)))
}

# 1, 2, 3, ...; numbers that were given; midranks within the stratum, or ridits,
# which are (midrank - 1/2) / n.
scores_of_side <- function(sums, at, scores, side) {
  if (is.list(scores)) return(scores[[side]][at])
  switch(scores, equal = as.numeric(at), ridits = midranks(sums / sum(sums)),
         midranks = sum(sums) * midranks(sums / sum(sums)) + 1 / 2)
}

generalised_test <- function(name, strata, tables, B) {
  e <- strata$joint
  seen <- function(t, b) {
    crossprod(b,
              as.vector(t - tcrossprod(row_sums(t), column_sums(t)) / sum(t)))
  }
  G <- Reduce(`+`, Map(seen, tables, B))
  H <- Reduce(`+`, Map(hypergeometric_covariance, tables, B))
  U <- range_of(H)
  if (is.null(U)) return(new_test(name, note = said("strata_no_variance")))
  g <- crossprod(U, G)
  Q <- sum(g * solve(crossprod(U, H %*% U), g))
  d <- ncol(U)
  if (counts_were_drawn(e))
    return(new_test(name, Q, d, p = upper_chi_square(Q, d)))
  figure <- joint_figure(strata, function(tables) {
    part(as.vector(crossprod(U, Reduce(`+`, Map(seen, tables, B)))),
         Map(function(t, b) residual_gradient(t) %*% b %*% U, tables, B))
  })
  designed <- estimated_together(e, figure)
  effects <- effects_between(estimated_together(as_random(e), figure)$covariance,
                             designed$covariance)
  if (is.null(effects))
    return(new_test(name, note = said("effects_undefined_sparse")))
  if (effects$sum <= 1e-12)
    return(new_test(name, note = said("trend_no_variance")))
  f <- second_order(Q, effects, designed$joint_df)
  new_test(name, f$statistic, f$df, f$df_error, f$p,
           note = said("second_order"))
}

# Covariance of contrasts b of the n_ij with the margins fixed: N/(N-1) (diag(r)
# - rr'/N) x (diag(c) - cc'/N) / N.
hypergeometric_covariance <- function(t, b) {
  N <- sum(t)
  if (N <= 1) return(matrix(0, ncol(b), ncol(b)))
  side <- function(s) diag(s, length(s)) - tcrossprod(s) / N
  crossprod(b, kronecker(side(column_sums(t)), side(row_sums(t))) %*% b) /
    (N - 1)
}

# A basis of the directions in which a covariance matrix varies, so that a
# singular one is inverted where it can be; NULL when it does not vary at all.
range_of <- function(H) {
  scale <- sqrt(pmax(diag(H), 0))
  some <- which(scale > 1e-6 * max(scale, 1e-150))
  if (!length(some)) return(NULL)
  found <- eigen(H[some, some, drop = FALSE] / tcrossprod(scale[some]),
                 symmetric = TRUE)
  kept <- found$values > 1e-9 * found$values[1L]
  U <- matrix(0, nrow(H), sum(kept))
  U[some, ] <- found$vectors[, kept, drop = FALSE] / scale[some]
  U
}

# Gradient of n_ij - n_i. n_.j / N over the cells of one stratum (cells x cells,
# one column a residual).
residual_gradient <- function(t) {
  i <- as.vector(row(t))
  j <- as.vector(col(t))
  N <- sum(t)
  a <- row_sums(t)[i] / N
  b <- column_sums(t)[j] / N
  outer(i, i, `==`) * outer(j, j, `==`) -
    outer(i, i, `==`) * rep(b, each = length(t)) -
    outer(j, j, `==`) * rep(a, each = length(t)) + rep(a * b, each = length(t))
}
