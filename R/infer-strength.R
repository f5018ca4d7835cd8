#' How strong is it?
#'
#' Measures of association with standard errors, intervals and, for those that can be negative, the test that they are
#' zero. Every measure gives its estimate and its gradient g in the cell proportions; its standard error is sqrt(g'Vg)
#' with V the covariance under the table's design (linearised or from replicates), so every interval follows the
#' design. Intervals are estimate +- t se, with the design's degrees of freedom (normal without a design), cut to the
#' measure's range; those of measures that can be negative are made on the scale of the inverse hyperbolic tangent
#' (Fisher 1921), which holds its 95 percent in small samples too. Cramer's V and its kin, tau and the uncertainty
#' coefficient, which cannot be negative, invert the noncentral form of their statistic instead (X2, (n)(r-1) tau of
#' Light & Margolin 1971, G2): chi-square without a design, second-order Rao-Scott F with one. Lambda has neither:
#' estimate +- t se, too short when n is small. The test of zero divides the estimate by its standard error at zero
#' (the gradient of the ratio's top alone). [measures_known()] lists the measures with formula, range and source.
#'
#' @param x (lattice) From [lattice()] or [read_lattice()].
#' @param measures (character, default what suits the table) Names from [measures_known()], or `"all"` that fit the
#'   answers: of two unordered questions V and lambda, of two ordered ones gamma, tau-b and V, of a 2x2 phi, of the
#'   same question asked twice kappa first.
#' @param alpha (number in 0-1, default that of the lattice) Intervals have confidence 1 - `alpha`.
#' @param scores ("equal", or a list of numbers `down` and `across`, one an answer; default "equal": 1, 2, 3, ...)
#'   Scores of Pearson's r.
#' @param interval ("by_measure" or "bootstrap", default "by_measure") `"bootstrap"` gives percentile intervals:
#'   clusters are drawn with replacement within strata (respondents, without weights or clusters). A panel with
#'   bootstrap replicates uses those.
#' @param draws (integer, default 2000) Bootstrap samples.
#' @param seed (integer, default option `fairlattice.seed`) Of the bootstrap.
#' @param explain (TRUE or FALSE, default FALSE) Adds `meaning`: in a sentence, what the figure says of this table.
#'   Words for its size are conventions, so they come only with the option `size_words`, and name their source (Cohen
#'   1988).
#' @param ... Nothing: what is put here is an error, with the nearest argument's name.
#' @return Data frame, one row a measure, direction and layer: `each`, `measure`, `explains` ("across": across explains
#'   down; "down"; or "both", symmetric), `estimate`, `se`, `low`, `high`, `p` (test of zero), `interval` (how it was
#'   made), `shown` (whether it is among those shown first), `note` (why a figure is missing, or how to read it).
#' @section Errors: `fairlattice_error_measure`, `fairlattice_error_scores`, `fairlattice_error_bootstrap`.
#' @references Goodman LA, Kruskal WH (1972) J Amer Statist Assoc 67:415-421 (delta method for measures of
#'   association). Light RJ, Margolin BH (1971) J Amer Statist Assoc 66:534-544. Fisher RA (1921) Metron 1:3-32.
#' @export
#' @examples
#' strength(lattice(demo_records(), down = heating, across = island), explain = TRUE)
#' strength(lattice(demo_records(), down = ferry, across = years), measures = c("gamma", "somers_d"))
strength <- function(x, measures = NULL, alpha = NULL, scores = "equal", interval = c("by_measure", "bootstrap"),
                     draws = 2000, seed = NULL,
                     explain = FALSE, ...) {
  nothing_else(...)
  call <- environment()
  check_class(x, "fairlattice_lattice", "x", "lattice()", call)
  check_measures(measures, call)
  interval <- first_of(interval)
  check_choice(interval, c("by_measure", "bootstrap"), "interval", call)
  check_flag(explain, "explain", call)
  if (is.null(x$tally)) {
    out <- stored(x, "strength", list(alpha = alpha, scores = if (!identical(scores, "equal")) scores,
                                      interval = if (interval != "by_measure") interval))
    gone <- setdiff(measures, c("all", out$measure))
    if (length(gone)) stored(x, "strength", list(measures = gone[1L]))
  } else {
    alpha <- alpha %||% x$choices$alpha
    check_fraction(alpha, "alpha", call)
    check_scores(scores, x, call)
    if (identical(scores, "midranks")) {
      stop_input(c("`scores` of Pearson's r must be \"equal\" or given.",
                   i = "r between midranks is Spearman's rho: ask for measures = \"spearman_rho\"."),
                 "scores", call = call)
    }
    out <- over_layers(x$layers, layer_strength, alpha = alpha, explains = x$choices$explains, asked = measures,
                       scores = scores)
    if (interval == "bootstrap") {
      check_whole(draws, "draws", 100, call)
      out <- bootstrap_intervals(x, out, alpha, scores, draws, seed %||% setting("seed"), call)
    }
  }
  if (is.null(measures)) out <- out[out$shown, ] else if (!"all" %in% measures) out <- out[out$measure %in% measures, ]
  rownames(out) <- NULL
  if (explain) out$meaning <- meanings(out, x)
  as_findings(out, "strength")
}

check_measures <- function(asked, call) {
  if (is.null(asked)) return()
  known <- c("all", unique(measure_name(names(measures))))
  if (!is.character(asked))
    stop_input(sprintf("`measures` must be names of measures, not %s.", quote_value(asked)), "measure", call = call)
  bad <- setdiff(asked, known)
  if (length(bad)) {
    stop_input(c(sprintf("There is no measure %s.", quote_value(bad[1L])), did_you_mean(bad[1L], known, "Measures")),
               "measure", call = call)
  }
}

check_scores <- function(scores, x, call) {
  if (identical(scores, "equal") || identical(scores, "midranks")) return()
  good <- is.list(scores) && all(c("down", "across") %in% names(scores))
  for (side in c("down", "across")) {
    answers <- dimnames(x$layers[[1L]]$n)[[match(side, c("down", "across"))]]
    if (!good || !is.numeric(scores[[side]]) || length(scores[[side]]) != length(answers) ||
        any(!is.finite(scores[[side]]))) {
      stop_input(c(paste0("`scores` must be \"equal\", \"midranks\", or a list of `down` and `across` with a ",
                          "number for every answer."),
                   i = sprintf("`%s` has %d: %s.", side, length(answers), list_some(answers))), "scores", call = call)
    }
  }
}

# What a measure may need beside P: the base that its bias is worked out on, and scores of the occupied answers.
given_of <- function(layer, scores = "equal") {
  e <- layer$estimate
  sides <- list(down = e$rows, across = e$columns)
  base <- test_base(e)
  c(list(n = if (is.na(base)) e$n else base),
    if (is.list(scores)) Map(function(at, side) scores[[side]][at], sides, names(sides)) else sides)
}

layer_strength <- function(layer, alpha, explains = "across", asked = NULL, scores = "equal") {
  if (!is.null(layer$parts)) return(tick_strength())
  e <- layer$estimate
  fitting <- measures_fitting(layer)
  shown <- measures_shown(layer, explains)
  keys <- if (is.null(asked) || "all" %in% asked) fitting else names(measures)[measure_name(names(measures)) %in% asked]
  why <- no_test_reason(layer)
  rows <- if (!is.null(why)) lapply(keys, function(key) absent_figures(why)) else
    all_figures(layer, keys, alpha, given_of(layer, scores))
  Map(function(key, figures) {
    c(list(measure = measure_name(key), explains = measures[[key]]$explains), figures[1:6],
      list(shown = key %in% shown), figures["note"])
  }, keys, rows, USE.NAMES = FALSE)
}

measured <- function(estimate, se, low = NA_real_, high = NA_real_, p = NA_real_, interval = NA_character_,
                     note = NA_character_) {
  list(estimate = estimate, se = se, low = low, high = high, p = p, interval = interval, note = note)
}

absent_figures <- function(note, estimate = NA_real_, se = NA_real_) {
  measured(estimate, se, note = note)
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
  t <- if (e$df >= 1) stats::qt(1 - alpha / 2, e$df) else NA_real_
  words <- if (e$by_design) sprintf("t with %s design degrees of freedom", format_df(e$df)) else "normal"
  unordered <- !all(layer$ordered | dim(e$P) == 2L)
  lapply(seq_along(parts), function(k) {
    part <- parts[[k]]
    m <- measures[[keys[k]]]
    if (!is.null(part$why)) return(absent_figures(part$why, part$estimate))
    if (kin[k]) return(noncentral_figures(m, e, part$estimate, errors[1L, k], bounds[[m$scale]], given))
    figures <- delta_figures(m, e, part$estimate, errors[, k], t, words)
    if (m$only %in% "2x2" && m$range[1L] < 0 && is.na(figures$note)) figures$note <- sign_words(e$P)
    if (m$level == "ordinal" && unordered && is.na(figures$note))
      figures$note <- "the answers are not known to be ordered: the order of the table is taken"
    figures
  })
}

# In a 2x2 the sign depends on the order of the answers, so it is said which go together.
sign_words <- function(P) {
  first <- sort(c(rownames(P)[1L], colnames(P)[1L]), method = "radix")
  sprintf("plus: \"%s\" goes with \"%s\"", first[1L], first[2L])
}

# Estimate and gradients of one measure, or why there are none.
raw_figures <- function(m, layer, given) {
  P <- layer$estimate$P
  why <- unfit_reason(m, layer)
  if (!is.null(why)) return(list(why = why, estimate = NA_real_))
  out <- m$figures(P, given)
  if (!is.finite(out$estimate)) return(list(why = "not defined on this table", estimate = NA_real_))
  out$estimate <- min(max(out$estimate, m$range[1L]), m$range[2L])
  why <- m$undefined(P)
  if (!is.null(why)) return(list(why = why, estimate = out$estimate))
  out[c("gradient", "null_gradient")] <- lapply(out[c("gradient", "null_gradient")],
                                                function(g) if (!is.null(g)) as.vector(g))
  Filter(Negate(is.null), out)
}

unfit_reason <- function(m, layer) {
  if (m$only %in% "2x2" && any(dim(layer$estimate$P) != 2L)) return("needs two answers on each side")
  if (m$only %in% "square" && !isTRUE(layer$paired)) return("needs the same question asked twice (paired = TRUE)")
  NULL
}

delta_figures <- function(m, e, estimate, errors, t, words) {
  # A standard error of rounding size is a zero: the measure is at its bound, or does not move to first order.
  if (is.na(errors[1L]) || errors[1L] < 1e-9) {
    return(absent_figures("its standard error is 0: it is at its bound, or flat at this table", estimate, 0))
  }
  if (e$df < 1)
    return(absent_figures("no degrees of freedom: there are no more clusters than strata in this table", estimate,
                          errors[1L]))
  # Measures that can be negative have their interval on the scale of the inverse hyperbolic tangent (Fisher 1921; of
  # Yule's Q it is Woolf's interval of the odds ratio): with n = 20, and 0.3 in the population, gamma's is right in 95
  # to 98 of 100 samples there and in 88 to 92 without.
  ends <- if (m$range[1L] < 0) tanh(atanh(estimate) + c(-1, 1) * t * errors[1L] / (1 - estimate^2)) else
    estimate + c(-1, 1) * t * errors[1L]
  measured(estimate, errors[1L], max(m$range[1L], ends[1L]), min(m$range[2L], ends[2L]),
           p = if (errors[2L] > 1e-9) 2 * stats::pt(-abs(estimate) / errors[2L], e$df) else NA_real_,
           interval = if (m$range[1L] < 0) paste0(words, ", scale of arctanh") else words)
}

# The interval of phi^2 (or of another scale whose n-fold is chi-square at independence): all noncentralities that the
# statistic would not reject. V cannot be negative and its estimate is biased upwards where it is small, so estimate +-
# t se misses badly there: in simulated clustered surveys of 600 with no association it covers 0 in 31 of 100, this
# form in 98 (and at V = 0.3 92 and 95).
noncentral_bounds <- function(scale, e, alpha) {
  d <- prod(dim(e$P) - 1)
  effect <- if (e$by_design) e$effect else list(sum = d, df = d, why = NA_character_)
  if (!is.na(effect$why)) return(list(why = effect$why))
  value <- noncentral_scales[[scale]](e$P)
  f <- max(0, e$n * value) / effect$sum
  bound <- function(tail) noncentrality_at(f, effect$df, effect$df * e$df, tail) * effect$sum / effect$df / e$n
  high <- bound(alpha / 2)
  if (high == 0)
    return(list(why = sprintf("the statistic is smaller than chance alone makes it in %s of samples",
                              format_level(alpha / 2))))
  list(low = bound(1 - alpha / 2), high = high, value = value, by_chance = effect$sum / e$n, why = NA_character_,
       interval = if (!e$by_design) "noncentral chi-square" else
       sprintf("noncentral F, Rao-Scott, %s design degrees of freedom", format_df(e$df)))
}

noncentral_figures <- function(m, e, estimate, se, bounds, given) {
  if (!is.na(bounds$why)) return(absent_figures(bounds$why, estimate, se))
  at <- function(f) min(m$range[2L], m$population(f, e$P, given))
  note <- if (m$population(bounds$value, e$P, given) > at(bounds$high)) {
    sprintf("chance alone makes about %s in a table of this shape", format_strength(at(bounds$by_chance)))
  } else NA_character_
  measured(estimate, se, at(bounds$low), at(bounds$high), interval = bounds$interval, note = note)
}

# The noncentrality at which F on d1, d2 (d2 = Inf: chi-square / d1) is at most `f` with probability `p`; 0 when even a
# noncentrality of 0 makes that less probable. On the root of the noncentrality the normal quantile of that probability
# is all but a straight line, so a few secant steps find it; a search between ends does when they do not.
noncentrality_at <- function(f, d1, d2, p) {
  if (noncentral_f_below(f, d1, d2, 0) <= p) return(0)
  off <- function(root) stats::qnorm(noncentral_f_below(f, d1, d2, root^2)) - stats::qnorm(p)
  x <- sqrt(f * d1) + c(0.5, 1.5) * -stats::qnorm(p)
  x <- pmax(x, c(0.05, 0.1))
  y <- c(off(x[1L]), off(x[2L]))
  for (step in 1:12) {
    if (!all(is.finite(y)) || y[1L] == y[2L]) break
    new <- x[2L] - y[2L] * (x[2L] - x[1L]) / (y[2L] - y[1L])
    if (!is.finite(new) || new < 0) break
    x <- c(x[2L], new)
    y <- c(y[2L], off(new))
    if (abs(x[2L] - x[1L]) <= 1e-10 * (1 + x[2L])) return(x[2L]^2)
  }
  below <- function(ncp) noncentral_f_below(f, d1, d2, ncp) - p
  near <- 0
  far <- max(10, f * d1)
  while (below(far) > 0) {
    near <- far
    far <- 2 * far
  }
  stats::uniroot(below, c(near, far), tol = 1e-9 * far)$root
}

# P(F <= f). The series of stats::pf slows down and then fails to converge for large noncentralities; from 10,000 on
# Patnaik's (1949) central form is right to 0.0003 where p is 0.025.
noncentral_f_below <- function(f, d1, d2, ncp) {
  if (ncp >= 1e4) return(stats::pf(f * d1 / (d1 + ncp), (d1 + ncp)^2 / (d1 + 2 * ncp), d2))
  if (is.infinite(d2)) return(stats::pchisq(f * d1, d1, ncp))
  stats::pf(f, d1, d2, ncp)
}

# A sentence a row, in the labels of the two questions.
meanings <- function(rows, x) {
  label <- if (is.null(x$tally)) x$findings[c("down", "across")] else x$tally[c("down", "across")]
  keys <- measure_keys(rows)
  vapply(seq_along(keys), function(k) {
    if (is.na(rows$estimate[k])) return(NA_character_)
    paste0(measures[[keys[k]]]$says(rows$estimate[k], label$down$label, label$across$label),
           size_words(keys[k], rows$estimate[k], x))
  }, "")
}

# Conventional words for size, only where the option asks for them: of the effect size w = V sqrt(m - 1).
size_words <- function(key, estimate, x) {
  if (!setting("size_words") || !key %in% c("cramers_v", "phi") || is.null(x$tally)) return("")
  m <- min(dim(x$layers[[1L]]$estimate$P))
  w <- abs(estimate) * sqrt(if (key == "phi") 1 else m - 1)
  sprintf(" By the convention of Cohen (1988), w = V sqrt(min(rows, columns) - 1) = %s, that is %s.",
          format_strength(w),
          c("less than small", "small", "medium", "large")[findInterval(w, c(0.1, 0.3, 0.5)) + 1L])
}
