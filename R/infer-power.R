# Power of the test of independence: noncentral chi-square, or the F on d and d
# df that Rao-Scott refers to (Cohen 1988, ch. 7).

power_of <- function(noncentrality, d, alpha, df = Inf) {
  critical <- stats::qf(alpha, d, d * df, lower.tail = FALSE)
  1 - noncentral_f_below(critical, d, d * df, noncentrality)
}

needed_noncentrality <- function(d, alpha, power, df = Inf) {
  if (power <= alpha) return(0) # chance alone is enough
  noncentrality_at(stats::qf(alpha, d, d * df, lower.tail = FALSE), d, d * df,
                   function(ncp) 1 - power, 1 - power)
}

# The smallest effect w = V sqrt(m - 1) that a test shows with the wanted power.
# `base` is the effective base of the test: n over the mean design effect of the
# table.
smallest_effect <- function(base, d, alpha, power, df = Inf) {
  sqrt(needed_noncentrality(d, alpha, power, df) / base)
}

# The same of a table as it is, as V, with its design effect, its degrees of
# freedom and what is said of them: the one place where detectable() and the
# caution "not_significant" get it from.
smallest_shown <- function(layer, alpha, power, design_effect = NULL,
                           df = NULL) {
  e <- layer$estimate
  effect <- design_effect %||% (e$n / test_base(e))
  note <- NULL
  if (is.na(effect)) {
    effect <- layer$base$n / layer$base$effective
    note <- said("effect_of_weights")
  }
  df <- df %||% max(design_df(e), 1)
  w <- smallest_effect(e$n / effect, free_of(e$P), alpha, power, df)
  list(effect = effect, df = df, w = w, v = w / sqrt(least_side(e$P)),
       note = note)
}
