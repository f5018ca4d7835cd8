#' How strong is it?
#'
#' Measures of association with standard errors and intervals. Every measure gives its estimate and its gradient g in
#' the cell proportions; its standard error is sqrt(g'Vg) with V the covariance under the table's design, so every
#' interval follows the design. Intervals are estimate +- t se, with the design's degrees of freedom (normal without a
#' design), cut to the measure's range. Cramer's V, which cannot be negative, inverts the noncentral form of the headline
#' test instead: chi-square without a design, second-order Rao-Scott F with one.
#' [measures_known()] lists the measures with formula, range and source.
#'
#' @param x (lattice) From [lattice()] or [read_lattice()].
#' @param alpha (number in 0-1, default that of the lattice) Intervals have confidence 1 - `alpha`.
#' @return Data frame, one row a measure, direction and layer: `each`, `measure`, `explains` ("across": across explains
#'   down; "down"; or "both", symmetric), `estimate`, `se`, `low`, `high`, `interval` (how it was made), `note` (why a
#'   figure is missing).
#' @references Goodman LA, Kruskal WH (1972) J Amer Statist Assoc 67:415-421 (delta method for measures of association).
#' @export
#' @examples
#' strength(lattice(demo_records(), down = heating, across = island))
strength <- function(x, alpha = NULL) {
  check_class(x, "fairlattice_lattice", "x", "lattice()", environment())
  if (is.null(x$tally)) return(stored(x, "strength", alpha = alpha))
  alpha <- alpha %||% x$choices$alpha
  check_fraction(alpha, "alpha", environment())
  as_findings(over_layers(x$layers, layer_strength, alpha = alpha), "strength")
}

layer_strength <- function(layer, alpha) {
  if (!is.null(layer$parts)) return(tick_strength())
  e <- layer$estimate
  why <- no_test_reason(layer)
  two_by_two <- is.null(why) && all(dim(e$P) == 2L)
  wanted <- measures[vapply(measures, function(m) two_by_two || !m$only_2x2, NA)]
  rows <- lapply(names(wanted), function(key) {
    m <- wanted[[key]]
    figures <- if (is.null(why)) measure_figures(m, e, alpha) else absent_figures(why)
    c(list(measure = measure_name(key), explains = m$explains), figures)
  })
  rows
}

measured <- function(estimate, se, low = NA_real_, high = NA_real_, interval = NA_character_, note = NA_character_) {
  list(estimate = estimate, se = se, low = low, high = high, interval = interval, note = note)
}

absent_figures <- function(note, estimate = NA_real_, se = NA_real_) {
  measured(estimate, se, note = note)
}

measure_figures <- function(m, e, alpha) {
  estimate <- m$estimate(e$P)
  if (!is.finite(estimate)) return(absent_figures("not defined on this table"))
  estimate <- min(max(estimate, m$range[1L]), m$range[2L])
  why <- m$undefined(e$P)
  if (!is.null(why)) return(absent_figures(why, estimate))
  if (m$interval == "noncentral") return(noncentral_figures(m, e, estimate, alpha))
  se <- sqrt(variance_of(e, m$gradient(e$P)))
  # A standard error of rounding size is a zero: the measure is at its bound, or does not move to first order.
  if (is.na(se) || se < 1e-9) {
    return(absent_figures("its standard error is 0: it is at its bound, or flat at this table", estimate, 0))
  }
  if (e$df < 1) return(absent_figures("no degrees of freedom: there are no more clusters than strata in this table", estimate, se))
  reach <- stats::qt(1 - alpha / 2, e$df) * se
  measured(estimate, se, max(m$range[1L], estimate - reach), min(m$range[2L], estimate + reach),
          if (e$by_design) sprintf("t with %s design degrees of freedom", format_df(e$df)) else "normal")
}

# The interval of V: all noncentralities that the headline statistic would not reject, on V's scale. V cannot be
# negative and its estimate is biased upwards where it is small, so estimate +- t se misses badly there: in simulated
# clustered surveys of 600 with no association it covers 0 in 31 of 100, this form in 98 (and at V = 0.3 92 and 95).
noncentral_figures <- function(m, e, estimate, alpha) {
  effect <- if (e$by_design) e$effect else list(sum = prod(dim(e$P) - 1), df = prod(dim(e$P) - 1), why = NA)
  se <- if (estimate == 0) 0 else sqrt(variance_of(e, m$gradient(e$P)))
  if (!is.na(effect$why)) return(absent_figures(effect$why, estimate, se))
  scale <- effect$sum / effect$df
  f <- pearson_statistic(e$P, e$n) / effect$sum
  bound <- function(tail) {
    min(1, sqrt(noncentrality_at(f, effect$df, effect$df * e$df, tail) * scale / (e$n * least_side(e$P))))
  }
  high <- bound(alpha / 2)
  by_chance <- sqrt(effect$sum / (e$n * least_side(e$P)))
  measured(estimate, se, bound(1 - alpha / 2), high, if (!e$by_design) "noncentral chi-square" else
    sprintf("noncentral F, second-order Rao-Scott, %s design degrees of freedom", format_df(e$df)),
    if (estimate > high) sprintf("chance alone makes about %s in a table of this shape", format_number(by_chance)) else NA_character_)
}

# The noncentrality at which F on d1, d2 (d2 = Inf: chi-square / d1) is at most `f` with probability `p`; 0 when even
# a noncentrality of 0 makes that less probable.
noncentrality_at <- function(f, d1, d2, p) {
  below <- function(ncp) noncentral_f_below(f, d1, d2, ncp) - p
  if (below(0) <= 0) return(0)
  far <- 10
  while (below(far) > 0) far <- 4 * far
  stats::uniroot(below, c(0, far), tol = 1e-9 * far)$root
}

# P(F <= f). The series of stats::pf slows down and then fails to converge for large noncentralities; from 10,000 on
# Patnaik's (1949) central form is right to 0.0003 where p is 0.025.
noncentral_f_below <- function(f, d1, d2, ncp) {
  if (ncp >= 1e4) return(stats::pf(f * d1 / (d1 + ncp), (d1 + ncp)^2 / (d1 + 2 * ncp), d2))
  if (is.infinite(d2)) return(stats::pchisq(f * d1, d1, ncp))
  stats::pf(f, d1, d2, ncp)
}
