# How strong an association is: estimate, standard error, interval and test of zero of every measure, from its entry in
# the registry (R/infer-measures.R) and the covariance of the table.

# One measure of one layer: `explains` says which side explains the other ("both": symmetric), `interval` how it was
# made, `shown` whether it is among those shown first.
new_strength <- function(measure, explains, figures, shown) {
  c(list(measure = measure, explains = explains), figures[c("estimate", "se", "low", "high", "p", "interval")],
    list(shown = shown), figures["note"])
}

new_figures <- function(estimate, se, low = NA_real_, high = NA_real_, p = NA_real_, interval = NULL, note = NULL) {
  list(estimate = estimate, se = se, low = low, high = high, p = p, interval = interval, note = note)
}

absent_figures <- function(note, estimate = NA_real_, se = NA_real_) new_figures(estimate, se, note = note)

# The measures of a layer, one row each: those asked for by name, "all" that fit, or ("shown") those shown first.
layer_strength <- function(layer, alpha, explains = "across", asked = "all", scores = "equal")
  UseMethod("layer_strength")

#' @export
layer_strength.fairlattice_layer <- function(layer, alpha, explains = "across", asked = "all", scores = "equal") {
  shown <- measures_shown(layer, explains)
  keys <- if ("all" %in% asked) measures_fitting(layer) else if (identical(asked, "shown"))
    intersect(measures_fitting(layer), shown) else names(measures)[measure_name(names(measures)) %in% asked]
  why <- no_test_reason(layer)
  rows <- if (!is.null(why)) lapply(keys, function(key) absent_figures(why)) else
    all_figures(layer, keys, alpha, given_of(layer, scores))
  Map(function(key, figures) new_strength(measure_name(key), measures[[key]]$explains, figures, key %in% shown),
      keys, rows, USE.NAMES = FALSE)
}

# Cramer's V of a layer, which stands for its strength in cautions and summaries.
cramers_v_of <- function(strength) Find(function(row) row$measure == "cramers_v", strength)

# What a measure may need beside P: the base that its bias is worked out on, and scores of the occupied answers.
given_of <- function(layer, scores = "equal") {
  e <- layer$estimate
  sides <- list(down = e$rows, across = e$columns)
  base <- test_base(e)
  c(list(n = if (is.na(base)) e$n else base),
    if (is.list(scores)) Map(function(at, side) scores[[side]][at], sides, names(sides)) else sides)
}

# The figures of all measures asked for, their variances in one go.
all_figures <- function(layer, keys, alpha, given) {
  e <- layer$estimate
  given <- c(given, list(phi_squared = phi_squared(e$P), phi_squared_gradient = phi_squared_gradient(e$P)))
  parts <- lapply(measures[keys], raw_figures, layer = layer, given = given)
  G <- do.call(cbind, unlist(lapply(parts, function(part) part[c("gradient", "null_gradient")]), recursive = FALSE))
  se <- if (is.null(G)) numeric() else sqrt(variance_of(e, G))
  # place of every part's standard errors among those worked out
  has <- vapply(parts, function(part) c(!is.null(part$gradient), !is.null(part$null_gradient)), c(NA, NA))
  place <- matrix(cumsum(has), 2L)
  errors <- matrix(ifelse(has, se[pmax(place, 1L)], 0), 2L)
  kin <- vapply(measures[keys], function(m) !is.null(m$population), NA)
  scales <- unique(unlist(lapply(measures[keys][kin & vapply(parts, function(part) is.null(part$why), NA)],
                                 function(m) m$scale)))
  bounds <- lapply(stats::setNames(scales, scales), noncentral_bounds, e = e, alpha = alpha)
  t <- t_reach(alpha, e$df)
  unordered <- !all(layer$ordered | dim(e$P) == 2L)
  lapply(seq_along(parts), function(k) {
    part <- parts[[k]]
    m <- measures[[keys[k]]]
    if (!is.null(part$why)) return(absent_figures(part$why, part$estimate))
    if (kin[k]) return(noncentral_figures(m, e, part$estimate, errors[1L, k], bounds[[m$scale]], given))
    figures <- delta_figures(m, e, part$estimate, errors[, k], t)
    if (m$only %in% "2x2" && m$range[1L] < 0) figures$note <- figures$note %||% sign_of(e$P)
    if (m$level == "ordinal" && unordered) figures$note <- figures$note %||% said("not_known_ordered")
    figures
  })
}

# In a 2x2 the sign depends on the order of the answers, so it is said which go together.
sign_of <- function(P) {
  first <- sort(c(rownames(P)[1L], colnames(P)[1L]), method = "radix")
  said("plus_means", first = first[1L], second = first[2L])
}

# Estimate and gradients of one measure, or why there are none.
raw_figures <- function(m, layer, given) {
  P <- layer$estimate$P
  why <- unfit_reason(m, layer)
  if (!is.null(why)) return(list(why = why, estimate = NA_real_))
  out <- m$figures(P, given)
  if (!is.finite(out$estimate)) return(list(why = said("not_defined"), estimate = NA_real_))
  out$estimate <- min(max(out$estimate, m$range[1L]), m$range[2L])
  why <- m$undefined(P)
  if (!is.null(why)) return(list(why = why, estimate = out$estimate))
  out[c("gradient", "null_gradient")] <- lapply(out[c("gradient", "null_gradient")],
                                                function(g) if (!is.null(g)) as.vector(g))
  Filter(Negate(is.null), out)
}

unfit_reason <- function(m, layer) {
  if (m$only %in% "2x2" && any(dim(layer$estimate$P) != 2L)) return(said("needs_2x2"))
  if (m$only %in% "square" && !isTRUE(layer$paired)) return(said("needs_paired"))
  NULL
}

delta_figures <- function(m, e, estimate, errors, t) {
  # A standard error of rounding size is a zero: the measure is at its bound, or does not move to first order.
  if (is.na(errors[1L]) || errors[1L] < 1e-9) {
    at_bound <- abs(estimate) >= max(abs(m$range)) * (1 - 1e-9)
    return(absent_figures(said(if (at_bound) "se_zero_at_bound" else if (estimate == 0) "se_zero_no_gain" else
      "se_zero"), estimate, 0))
  }
  if (e$df < 1) return(absent_figures(said("no_df"), estimate, errors[1L]))
  # Measures that can be negative have their interval on the scale of the inverse hyperbolic tangent (Fisher 1921; of
  # Yule's Q it is Woolf's interval of the odds ratio): with n = 20, and 0.3 in the population, gamma's is right in 95
  # to 98 of 100 samples there and in 88 to 92 without.
  signed <- m$range[1L] < 0
  ends <- if (signed) tanh(atanh(estimate) + c(-1, 1) * t * errors[1L] / (1 - estimate^2)) else
    estimate + c(-1, 1) * t * errors[1L]
  new_figures(estimate, errors[1L], max(m$range[1L], ends[1L]), min(m$range[2L], ends[2L]),
              p = if (errors[2L] > 1e-9) two_sided(estimate / errors[2L], e$df) else NA_real_,
              interval = said(if (signed) "delta_arctanh" else "delta", df = finite_or_na(e$df)))
}

# The interval of phi^2 (or of another scale whose n-fold is chi-square at independence): all noncentralities that the
# statistic would not reject. V cannot be negative and its estimate is biased upwards where it is small, so estimate +-
# t se misses badly there: in simulated clustered surveys of 600 with no association it covers 0 in 31 of 100, this
# form in 98 (and at V = 0.3 92 and 95).
noncentral_bounds <- function(scale, e, alpha) {
  d <- free_of(e$P)
  effect <- if (e$by_design) e$effect else list(sum = d, df = d)
  if (!is.null(effect$why)) return(list(why = effect$why))
  value <- noncentral_scales[[scale]](e$P)
  f <- max(0, e$n * value) / effect$sum
  bound <- function(tail) noncentrality_at(f, effect$df, effect$df * e$df, tail) * effect$sum / effect$df / e$n
  high <- bound(alpha / 2)
  if (high == 0) return(list(why = said("smaller_than_chance", level = 1 - alpha / 2)))
  list(low = bound(1 - alpha / 2), high = high, value = value, by_chance = effect$sum / e$n,
       interval = if (e$by_design) said("noncentral_f", df = finite_or_na(e$df)) else said("noncentral_chi_square"))
}

noncentral_figures <- function(m, e, estimate, se, bounds, given) {
  if (!is.null(bounds$why)) return(absent_figures(bounds$why, estimate, se))
  at <- function(f) min(m$range[2L], m$population(f, e$P, given))
  above <- m$population(bounds$value, e$P, given) > at(bounds$high)
  note <- if (above) said("chance_makes", value = at(bounds$by_chance))
  new_figures(estimate, se, at(bounds$low), at(bounds$high), interval = bounds$interval, note = note)
}

# The effect size w = V sqrt(m - 1) and its place among Cohen's (1988) cut-offs, for those who ask for such words.
cohens_size <- function(estimate, m) {
  w <- abs(estimate) * sqrt(m - 1)
  said("cohens_size", w = w, size = c("none", "small", "medium", "large")[findInterval(w, c(0.1, 0.3, 0.5)) + 1L])
}
