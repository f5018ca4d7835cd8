# Simple random sampling: the counts themselves were drawn, and V = (diag(p) -
# pp') / n.

random_spread <- function(P, n) {
  new_spread("random", Inf, diagonal = as.vector(P) / n)
}

# The estimate as if its n respondents had been drawn at random with these
# proportions: what a design effect is a ratio to.
as_random <- function(e, P = e$P) {
  list(P = P, sums = P, n = e$n, spread = random_spread(P, e$n))
}

#' @export
design_effect_of.fairlattice_random <- function(e, figure, designed = NULL) {
  rep(1, length(figure(e$P)$value))
}

# Without weights nothing is known of how many people there are.
#' @export
totals_variance.fairlattice_random <- function(e, weights = NULL) {
  rep(NA_real_, if (is.null(weights)) length(e$P) else ncol(weights))
}

# From a root of diag(p) - pp', which costs less than the diagonal part for
# itself.
#' @export
residual_spread.fairlattice_random <- function(e) {
  half <- residual_scores(covariance_of_draws(as.vector(e$P)), e$P)
  spread_in(residual_scores(t(half), e$P) / e$n, e$P)
}

# At the independence fit the covariance of the d_ij is
# (diag(r) - rr') x (diag(c) - cc') / n.
independence_covariance <- function(P, n) {
  side <- function(p) {
    covariance_of_draws(p)[-length(p), -length(p), drop = FALSE]
  }
  kronecker(side(column_sums(P)), side(row_sums(P))) / n
}
