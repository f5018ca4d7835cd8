# Tests of independence over imputed data sets, on what each says under the design.

# D1 (Li, Raghunathan & Rubin 1991): Wald's statistic of the departures d from
# independence, by the mean U of their covariances, with r the increase of variance
# by imputing,
#   r = (1 + 1/M) tr(B U^-1) / k,   D1 = d' U^-1 d / (k (1 + r)) ~ F(k, nu).
# Under a design of few degrees of freedom it is lessened as Wald's F is.
# D3 (Meng & Rubin 1992): from the likelihood ratio of every data set, over its mean
# design effect, at its own shares (mean: full) and at the mean of all shares (mean:
# fixed),
#   r = (M + 1) / (k (M - 1)) (full - fixed),   D3 = fixed / (k (1 + r)) ~ F(k, nu).
imputed_tests <- function(e) {
  if (!inherits(e$spread, "fairlattice_imputed")) return(NULL)
  spreads <- lapply(e$spread$parts, residual_spread)
  list(imputed_wald(e, spreads), imputed_likelihood_ratio(e, spreads))
}

imputed_wald <- function(e, spreads) {
  parts <- e$spread$parts
  M <- length(parts)
  k <- free_of(e$P)
  inner <- cells_but_last(e$P)
  row <- function(...) new_test("imputed_wald", ..., base = e$n)
  d <- by_part(parts, k, function(part) departures_of(part)[inner])
  U <- Reduce(`+`, lapply(spreads, `[[`, "covariance")) / M
  solved <- solve_or_null(U, cbind(row_sums(d) / M, between_imputations(d)))
  if (is.null(solved)) return(row(note = said("no_variance")))
  r <- (1 + 1 / M) * sum(diagonal_of(solved[, -1L, drop = FALSE])) / k
  statistic <- sum(row_sums(d) / M * solved[, 1L]) / (k * (1 + r))
  df <- e$spread$complete_df
  nu <- df_of_imputations(k, M, r)
  if (is.finite(df)) {
    if (df <= k) return(row(note = said("more_contrasts_than_df")))
    statistic <- statistic * (df - k + 1) / df
    nu <- min(nu, df - k + 1)
  }
  row(statistic, k, nu, upper_f(statistic, k, nu))
}

imputed_likelihood_ratio <- function(e, spreads) {
  parts <- e$spread$parts
  M <- length(parts)
  k <- free_of(e$P)
  row <- function(...) new_test("imputed_likelihood_ratio", ..., base = e$n)
  effects <- vapply(Map(design_effects, parts, spreads), function(found) {
    if (is.null(found$why)) found$mean else NA_real_
  }, 0)
  if (anyNA(effects)) return(row(note = said("no_variance")))
  full <- mean(vapply(parts, function(part) {
    likelihood_statistic(part$P, e$n, part$fit)
  }, 0) / effects)
  mean_of_all <- Reduce(`+`, lapply(parts, `[[`, "P")) / M
  fit <- expected_proportions(mean_of_all)
  fixed <- mean(vapply(parts, function(part) {
    some <- part$P > 0
    2 * e$n * sum((part$P * log(mean_of_all / fit))[some])
  }, 0) / effects)
  r <- max(0, (M + 1) / (k * (M - 1)) * (full - fixed))
  statistic <- max(0, fixed / (k * (1 + r)))
  nu <- min(df_of_imputations(k, M, r), k * e$spread$complete_df)
  row(statistic, k, nu, upper_f(statistic, k, nu))
}

# Their degrees of freedom (Li, Raghunathan & Rubin 1991, 1.17 and 1.18).
df_of_imputations <- function(k, M, r) {
  t <- k * (M - 1)
  if (r <= 0) return(Inf)
  if (t > 4) 4 + (t - 4) * (1 + (1 - 2 / t) / r)^2 else
    t * (1 + 1 / k) * (1 + 1 / r)^2 / 2
}
