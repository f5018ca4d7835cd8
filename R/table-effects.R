# Generalised design effects (Rao & Scott 1984): the eigenvalues of inv(V0) V, V
# being the covariance of contrasts under the design and V0 that of a random
# sample. They enter tests only through their sum and sum of squares, which are
# traces, so no eigenvalue is needed.

# Sum and sum of squares from V0 and V; NULL where V0 is singular or V is
# nothing.
effects_between <- function(plain, designed) {
  M <- solve_or_null(plain, designed)
  if (!is.null(M)) traces_of(M)
}

traces_of <- function(M) {
  list(sum = sum(diagonal_of(M)), squares = sum(M * t(M)))
}

has_variance <- function(sum) is.finite(sum) && sum > sqrt(.Machine$double.eps)

# Those of the residuals from independence of a table. Option `rao_scott_v0`
# says where V0 is taken. In a table with more than `most_df` degrees of freedom
# only their sum is worked out: at the independence fit it is a sum over cells.
design_effects <- function(e, spread = residual_spread(e)) {
  d <- prod(dim(e$P) - 1)
  if (counts_were_drawn(e)) return(new_effects(d, d, d))
  if (!has_df(e)) return(no_effects(said("no_df")))
  if (d > setting("most_df")) {
    variance <- residual_variance(e)
    sum <- e$n * sum(variance / e$fit)
    if (!has_variance(sum)) return(no_effects(said("no_variance"), variance))
    return(new_effects(sum, d, NA_real_, variance,
                       said("first_order_only", most = setting("most_df"))))
  }
  at_estimate <- setting("rao_scott_v0") == "estimate"
  plain <- if (at_estimate) residual_spread(as_random(e))
  found <- if (at_estimate) effects_between(plain$covariance, spread$covariance)
  note <- NULL
  if (is.null(found)) {
    found <-
      effects_between(independence_covariance(e$P, e$n), spread$covariance)
    note <- said(if (at_estimate) "effects_at_fit_needed" else "effects_at_fit")
  }
  if (is.null(found))
    return(no_effects(said("margins_too_unequal"), spread$variance))
  if (!has_variance(found$sum))
    return(no_effects(said("no_variance"), spread$variance))
  new_effects(found$sum, d, found$squares, spread$variance, note, design_df(e),
              plain$variance)
}

# Design effects: their sum, mean and sum of squares (NA where only the first
# order is worked out), `df` the second order's first degrees of freedom,
# `df_corrected` the same corrected for few clusters, `df_error` its second,
# `variance` of every residual and the same of a random sample (`plain`, where
# it is known), what is said of them (`note`), and `why` there are none.
new_effects <- function(sum, d, squares, variance = NULL, note = NULL,
                        design_df = Inf, plain = NULL) {
  second <- !is.na(squares)
  d1 <- if (second) sum^2 / squares else d
  list(sum = sum, mean = sum / d, squares = squares, df = d1,
       df_corrected = if (second)
         corrected_df(sum, squares, d1, d, design_df) else d,
       df_error = d1 * design_df, second = second, variance = variance,
       plain = plain, note = note, why = NULL)
}

no_effects <- function(why, variance = NULL) {
  list(variance = variance, note = NULL, why = why)
}

# From few clusters the sum of squares of the design effects is estimated too
# large, so that d1 = sum^2 / squares comes out too small and the test rejects
# too seldom. For W, a Wishart matrix on df degrees of freedom over df, E
# tr(W^2) = (1 + 1/df) tr(D^2) + tr(D)^2 / df; solved for tr(D^2) without bias
# that is the sum of squares below (the same idea corrects the sphericity
# estimate of repeated measures). Kept between d1 and d.
corrected_df <- function(sum, squares, d1, d, df) {
  if (is.infinite(df) || df <= 1) return(d1)
  unbiased <- unbiased_squares(sum, squares, df)
  if (unbiased <= 0) d else min(max(sum^2 / unbiased, d1), d)
}

unbiased_squares <- function(sum, squares, df) {
  df^2 / ((df - 1) * (df + 2)) * (squares - sum^2 / df)
}

# Of every cell its residual's own design effect: NA, so that the residual is
# undefined, where there is no variance, and 1 where the counts were drawn.
residual_design_effects <- function(e, spread = residual_spread(e)) {
  none <- matrix(NA_real_, nrow(e$P), ncol(e$P))
  if (counts_were_drawn(e)) return(replace(none, TRUE, 1))
  if (!has_df(e)) return(none)
  designed <- e$effect$variance %||% residual_variance(e)
  plain <- e$effect$plain %||% residual_variance(as_random(e))
  least <- 1e-12 * max(plain, 0)
  effect <- designed / plain
  effect[plain <= least | designed <= least] <- NA_real_
  effect
}
