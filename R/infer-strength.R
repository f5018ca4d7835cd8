# How strong an association is: estimate, standard error, interval and test of
# zero of every measure, from its entry in the registry (R/infer-measures.R) and
# the covariance of the table.

# One measure of one layer: `explains` says which side explains the other
# ("both": symmetric), `corrected` is the estimate corrected for chance where it
# has one, `interval` how it was made, `shown` whether it is among those shown
# first.
new_strength <- function(measure, explains, figures, shown) {
  c(list(measure = measure, explains = explains),
    figures[c("estimate", "corrected", "se", "low", "high", "p", "interval")],
    list(shown = shown), figures["note"])
}

new_figures <- function(estimate, se, low = NA_real_, high = NA_real_,
                        p = NA_real_, interval = NULL, note = NULL,
                        corrected = NA_real_) {
  list(estimate = estimate, corrected = corrected, se = se, low = low,
       high = high, p = p, interval = interval, note = note)
}

absent_figures <- function(note, estimate = NA_real_, se = NA_real_) {
  new_figures(estimate, se, note = note)
}

# The measures of a layer, one row each: those asked for by name, "all" that
# fit, or ("shown") those shown first.
layer_strength <- function(layer, alpha, explains = "across", asked = "all",
                           scores = "equal") {
  UseMethod("layer_strength")
}

#' @export
layer_strength.fairlattice_layer <- function(layer, alpha, explains = "across",
                                             asked = "all", scores = "equal") {
  layer <- unclass(layer)
  shown <- measures_shown(layer, explains)
  keys <- if ("all" %in% asked) measures_fitting(layer) else
    if (identical(asked, "shown"))
      names(measures)[names(measures) %in% shown] else
      names(measures)[measure_name(names(measures)) %in% asked]
  why <- no_test_reason(layer)
  rows <- if (!is.null(why))
    lapply(keys, function(key) absent_figures(why)) else
    all_figures(layer, keys, alpha, given_of(layer, scores))
  lapply(seq_along(keys), function(k) {
    new_strength(measure_name(keys[k]), measures[[keys[k]]]$explains, rows[[k]],
                 keys[k] %in% shown)
  })
}

# Cramer's V of a layer, which stands for its strength in cautions and
# summaries.
cramers_v_of <- function(strength) {
  Find(function(row) row$measure == "cramers_v", strength)
}

# What a measure may need beside P: the base that its bias is worked out on, and
# scores of the occupied answers.
given_of <- function(layer, scores = "equal") {
  e <- layer$estimate
  sides <- list(down = e$rows, across = e$columns)
  base <- test_base(e)
  c(list(n = if (is.na(base)) e$n else base),
    if (is.list(scores))
      Map(function(at, side) scores[[side]][at], sides, names(sides)) else
      sides)
}

# The figures of all measures asked for, which come through the door together.
all_figures <- function(layer, keys, alpha, given) {
  e <- layer$estimate
  known <- with_phi(given, e$P)
  parts <- lapply(measures[keys], raw_figures, layer = layer, given = known)
  able <- which(vapply(parts, function(part) is.null(part$why), NA))
  scales <- unique(unlist(lapply(measures[keys[able]], function(m) m$scale)))
  scaled <- scales_at(e$P, scales, known)
  anew <- function(P) {
    own <- with_phi(given, P)
    worked <- lapply(measures[keys[able]], function(m) m$figures(P, own))
    measured_parts(worked, scales_at(P, scales, own))
  }
  at <- measured_parts(parts[able], scaled)
  found <- estimated(e, known_figure(e, at, anew))
  # a measure that does not move to first order has no standard error
  still <- vapply(parts[able], function(part) is.null(part$gradient), NA)
  found$variance[which(still)] <- 0
  of_tops <- found$variance[length(able) + seq_along(able)]
  of_zero <- zero_ratios(e, measures[keys[able]], parts[able], of_tops, given)
  # signed measures of a 2x2, and phi, which V and tau are made of there
  taken <- if (all(dim(e$P) == 2L))
    union(names(Filter(is_signed, measures[keys[able]])),
          if (length(scales)) "phi")
  again <- if (length(taken) || length(scales))
    on_interval_scales(e, measures[taken], scales, given)
  left_out_of <- function(key) lapply(again, `[`, match(key, taken))
  bounds <- lapply(seq_along(scales), function(j) {
    known <- again$variance[length(taken) + j]
    noncentral_bounds(scaled[[j]], if (usable(known)) 4 * scaled[[j]]$value * known else
      found$variance[2L * length(able) + j], scales[j], e, alpha, left_out_of("phi"))
  })
  names(bounds) <- scales
  of_chi_square <- keys == "phi" |
    !vapply(measures[keys], function(m) is.null(m$population), NA)
  # an exact test is made only for what could contradict it
  exact <- if (any(of_chi_square)) exact_headline(layer) else NA_real_
  unordered <- !all(layer$ordered | dim(e$P) == 2L)
  lapply(seq_along(keys), function(k) {
    part <- parts[[k]]
    m <- measures[[keys[k]]]
    if (!is.null(part$why)) return(absent_figures(part$why, part$estimate))
    at <- match(k, able)
    se <- sqrt(found$variance[at])
    worked <- if (!is.null(m$population))
      noncentral_figures(m, e, part$estimate, se, bounds[[m$scale]], given) else
      delta_figures(m, e, part$estimate, se, of_zero[at], found$df[at], alpha,
                    left_out_of(keys[k]))
    if (!is.na(exact) && of_chi_square[k])
      worked <- not_against(worked, exact, alpha)
    if (!is.null(m$population)) return(worked)
    if (m$only %in% "2x2" && m$range[1L] < 0)
      worked$note <- worked$note %||% sign_of(e$P, part$estimate)
    if (m$level == "ordinal" && unordered)
      worked$note <- worked$note %||% said("not_known_ordered")
    worked
  })
}

# The scales that intervals are made on, worked out without each cluster in turn:
# the arctanh of signed measures (of a 2x2: in larger tables their derivatives do
# as well), and the roots of what is chi-square at independence. NULL where the
# door does not leave clusters out.
on_interval_scales <- function(e, signed, scales, given) {
  size <- dim(e$P)
  left_out(e, function(tables) {
    at <- lapply(signed, function(m) {
      vapply(seq_len(nrow(tables)), function(k) {
        m$estimate(matrix(tables[k, ], size[1L], dimnames = dimnames(e$P)), given)
      }, 0)
    })
    chi <- lapply(noncentral_values[scales], function(value) value(tables, size))
    do.call(cbind, unname(c(at, chi)))
  }, function(theta) {
    first <- seq_along(signed)
    last <- length(signed) + seq_along(scales)
    theta[, first] <- atanh(kept_between(theta[, first], -1, 1))
    theta[, last] <- sqrt(not_negative(theta[, last]))
    theta
  })
}

is_signed <- function(m) m$range[1L] < 0

# A variance that could be worked out without each cluster.
usable <- function(variance) isTRUE(variance > 1e-18) && is.finite(variance)

# The exact p of a table whose headline is exact since it is sparse; NA of others.
exact_headline <- function(layer) {
  if (marks_are_exact(layer)) exact_tests(layer)[[1L]]$p else NA_real_
}

# An interval of large samples that says otherwise than the exact test is left
# out.
not_against <- function(figures, p, alpha) {
  if (is.na(figures$low) ||
        (figures$low > 0 || figures$high < 0) == (p <= alpha)) return(figures)
  absent_figures(said("against_exact_test"), figures$estimate, figures$se)
}

# Several measures, and a scale, need phi^2 and its gradient.
with_phi <- function(given, P) {
  c(given, list(phi_squared = noncentral_scales$phi_squared(P)))
}

scales_at <- function(P, scales, given) {
  lapply(scales, function(scale) {
    given[[scale]] %||% noncentral_scales[[scale]](P)
  })
}

# Estimates, tops of ratios and scales of some measures as one figure.
measured_parts <- function(parts, scaled) {
  estimates <- lapply(parts, function(one) part(one$estimate, one$gradient))
  tops <- lapply(parts, function(one) one$top %||% part(0, NULL))
  stacked(c(unname(estimates), unname(tops), scaled))
}

# Parts of one value each as one part; one without a gradient does not move.
stacked <- function(parts) {
  cells <- max(lengths(lapply(parts, `[[`, "gradient")), 0L)
  gradients <- lapply(parts, function(part) part$gradient %||% numeric(cells))
  part(vapply(parts, function(part) part$value, 0),
       matrix(unlist(gradients, use.names = FALSE), cells, length(parts)))
}

# The top of a measure's ratio, by which zero is tested.
top_of <- function(m, P, given) {
  top <- m$figures(P, given)$top
  part(top$value, as.matrix(as.vector(top$gradient)))
}

# Every signed measure over its standard error at zero: the top of its ratio,
# with its variance in a random sample where the two questions are unrelated and
# the margins as they are, times the design effect that it has at the estimate.
# Taken at the estimate that variance is too small in small samples. `designed`
# is the variance of the tops.
zero_ratios <- function(e, entries, parts, designed, given) {
  has <- which(!vapply(parts, function(part) is.null(part$top), NA))
  out <- rep(NA_real_, length(parts))
  if (!length(has)) return(out)
  unrelated <- e$fit
  dimnames(unrelated) <- dimnames(e$P)
  tops_at <- function(P) {
    stacked(lapply(entries[has], top_of, P = P, given = given))
  }
  tops <- known_figure(e, stacked(lapply(parts[has], `[[`, "top")), tops_at)
  variance <- estimated(as_random(e, unrelated), tops_at)$variance *
    design_effect_of(e, tops, designed[has])
  top <- vapply(parts[has], function(part) part$top$value, 0)
  out[has] <- ifelse(variance > 1e-18, top / sqrt(variance), NA_real_)
  out
}

# In a 2x2 the sign depends on the order of the answers, so it is said which go
# together: of the two pairs that do, the first by name.
sign_of <- function(P, estimate) {
  if (estimate == 0) return(NULL)
  across <- if (estimate > 0) 1:2 else 2:1
  first <- rownames(P)
  second <- colnames(P)[across]
  k <- order(first, second, method = "radix")[1L]
  said("goes_with", first = first[k], second = second[k])
}

# Estimate and gradients of one measure, or why there are none.
raw_figures <- function(m, layer, given) {
  P <- layer$estimate$P
  why <- unfit_reason(m, layer)
  if (!is.null(why)) return(list(why = why, estimate = NA_real_))
  out <- m$figures(P, given)
  if (!is.finite(out$estimate))
    return(list(why = said("not_defined"), estimate = NA_real_))
  out$estimate <- min(max(out$estimate, m$range[1L]), m$range[2L])
  why <- m$undefined(P)
  if (!is.null(why)) return(list(why = why, estimate = out$estimate))
  out
}

unfit_reason <- function(m, layer) {
  if (m$only %in% "2x2" && any(dim(layer$estimate$P) != 2L))
    return(said("needs_2x2"))
  if (m$only %in% "square" && !isTRUE(layer$paired))
    return(said("needs_paired"))
  NULL
}

# Measures that can be negative have their interval on the arctanh scale (of
# Yule's Q it is Woolf's interval of the odds ratio): with n = 20, and 0.3 in
# the population, gamma's is right in 95 to 98 of 100 samples there and in 88 to
# 92 without. `z` is the ratio of the test of zero; `by_clusters` the variance on
# that scale and its degrees of freedom, where clusters were left out.
delta_figures <- function(m, e, estimate, se, z, df, alpha, by_clusters = NULL) {
  # A standard error of rounding size is a zero: the measure is at its bound, or
  # does not move to first order.
  if (df < 1) return(absent_figures(said("no_df"), estimate, NA_real_))
  if (is.na(se) || se < 1e-9)
    return(absent_figures(zero_se_reason(m, estimate), estimate, 0))
  signed <- is_signed(m)
  # at its bound, though not in every replicate
  if (signed && abs(estimate) >= 1 - 1e-12)
    return(absent_figures(said("at_bound"), estimate, se))
  if (!signed && sparse_rule(e)$sparse)
    return(absent_figures(said("too_sparse_for_interval"), estimate, se))
  ends <- if (signed)
    signed_interval(estimate, se, z, alpha, df, by_clusters) else
    estimate + c(-1, 1) * critical_t(alpha, df) * se
  new_figures(estimate, se, max(m$range[1L], ends[1L]),
              min(m$range[2L], ends[2L]), p = two_sided(z, df),
              interval = said(if (signed) "delta_arctanh" else "delta",
                              df = finite_or_na(df)))
}

# The interval of a signed measure, with the variance without each cluster where
# there is one. Its ends leave out 0 where the test of `z` on `df` rejects, so z is
# set against the wider t of fewer degrees of freedom as it is against its own.
signed_interval <- function(estimate, se, z, alpha, df, by_clusters) {
  if (!usable(by_clusters$variance))
    return(arctanh_interval(estimate, se, z, alpha, df))
  own <- min(df, by_clusters$df)
  arctanh_interval(estimate, sqrt(by_clusters$variance) * (1 - estimate^2),
                   z * critical_t(alpha, own) / critical_t(alpha, df), alpha, own)
}

zero_se_reason <- function(m, estimate) {
  at_bound <- abs(estimate) >= max(abs(m$range)) * (1 - 1e-9)
  said(if (at_bound) "se_zero_at_bound" else if (estimate == 0)
         "se_zero_no_gain" else "se_zero")
}

# The interval of a scale whose n-fold is chi-square at independence, how it was
# made, and the scale corrected for chance. V cannot be negative and its estimate
# is biased upwards where it is small, so estimate +- t se misses badly there. In
# a 2x2 phi^2, which tau is too, has the interval of |phi|; `phi` is what is known
# of it without each cluster.
noncentral_bounds <- function(scaled, variance, scale, e, alpha, phi) {
  effect <- e$effect
  if (!is.null(effect$why)) return(list(why = effect$why))
  if (free_of(e$P) == 1 && scale != "information") {
    found <- bounds_of_phi(scaled$value, e, alpha, phi)
    if (!is.null(found)) return(found)
  }
  ends <- stretched_interval(scaled$value, variance, e$n, effect, alpha)
  list(low = ends[1L], high = ends[2L], corrected = ends[3L],
       interval = if (counts_were_drawn(e)) said("noncentral_chi_square") else
         said("noncentral_f", df = finite_or_na(design_df(e))))
}

# NULL where phi has no standard error.
bounds_of_phi <- function(value, e, alpha, by_clusters) {
  phi <- estimated(e, function(P) {
    at <- measures$phi$figures(P, list())
    part(at$estimate, as.matrix(as.vector(at$gradient)))
  })
  se <- sqrt(phi$variance)
  if (se < 1e-9) return(NULL)
  effect <- e$effect
  z <- sign(phi$value) * sqrt(max(0, e$n * value) / effect$sum)
  ends <- folded(signed_interval(phi$value, se, z, alpha, phi$df, by_clusters))^2
  corrected <- max(0, value - effect$sum / e$n)
  list(low = ends[1L], high = ends[2L],
       corrected = kept_between(corrected, ends[1L], ends[2L]),
       interval = said("delta_folded", df = finite_or_na(phi$df)))
}

# The estimate corrected for chance goes with an estimate that is not. One that is
# by itself lies in its interval, which takes it in.
noncentral_figures <- function(m, e, estimate, se, bounds, given) {
  if (!is.null(bounds$why)) return(absent_figures(bounds$why, estimate, se))
  at <- function(f) min(m$range[2L], m$population(f, e$P, given))
  unbiased <- isTRUE(m$unbiased)
  ends <- c(at(bounds$low), at(bounds$high))
  if (unbiased) ends <- range(ends, estimate)
  new_figures(estimate, se, ends[1L], ends[2L], interval = bounds$interval,
              corrected = if (unbiased) NA_real_ else at(bounds$corrected))
}

# The effect size w = V sqrt(m - 1) and its place among Cohen's (1988) cut-offs,
# for those who ask for such words.
cohens_size <- function(estimate, m) {
  w <- abs(estimate) * sqrt(m - 1)
  said("cohens_size", w = w,
       size = c("none", "small", "medium", "large")[findInterval(w, c(0.1, 0.3, 0.5)) + 1L])
}
