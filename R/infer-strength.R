#' How strong is it?
#'
#' Measures of association with standard errors and intervals. Every measure gives its estimate and its gradient g in
#' the cell proportions; its standard error is sqrt(g'Vg) with V the covariance under the table's design, so every
#' interval follows the design. Intervals are estimate +- t se, with the design's degrees of freedom (normal without a
#' design), cut to the measure's range; Cramer's V of an unweighted table inverts the noncentral chi-square instead.
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
  e <- layer$estimate
  why <- no_test_reason(layer)
  two_by_two <- is.null(why) && all(dim(e$P) == 2L)
  wanted <- measures[vapply(measures, function(m) two_by_two || !m$only_2x2, NA)]
  rows <- lapply(names(wanted), function(key) {
    m <- wanted[[key]]
    figures <- if (is.null(why)) measure_figures(m, e, alpha) else absent_figures(why)
    data.frame(measure = measure_name(key), explains = m$explains, figures)
  })
  do.call(rbind, rows)
}

absent_figures <- function(note, estimate = NA_real_, se = NA_real_) {
  data.frame(estimate, se, low = NA_real_, high = NA_real_, interval = NA_character_, note)
}

measure_figures <- function(m, e, alpha) {
  estimate <- m$estimate(e$P)
  if (!is.finite(estimate)) return(absent_figures("not defined on this table"))
  estimate <- min(max(estimate, m$range[1L]), m$range[2L])
  why <- m$undefined(e$P)
  if (!is.null(why)) return(absent_figures(why, estimate))
  if (m$interval == "noncentral" && !e$by_design) return(noncentral_figures(m, e, estimate, alpha))
  se <- if (estimate == 0 && m$interval == "noncentral") 0 else sqrt(delta_variance(m$gradient(e$P), e$V))
  # A standard error of rounding size is a zero: the measure is at its bound, or does not move to first order.
  if (is.na(se) || se < 1e-9) {
    return(absent_figures("the standard error is 0 here, which makes no interval: the measure is at its bound, or flat at this table", estimate, 0))
  }
  if (e$df < 1) return(absent_figures("no degrees of freedom: there are no more clusters than strata in this table", estimate, se))
  reach <- stats::qt(1 - alpha / 2, e$df) * se
  data.frame(estimate, se, low = max(m$range[1L], estimate - reach), high = min(m$range[2L], estimate + reach),
             interval = if (e$by_design) sprintf("t with %s design degrees of freedom", format_df(e$df)) else "normal",
             note = NA_character_)
}

# The interval of V without a design: all noncentralities that the statistic would not reject, on V's scale.
noncentral_figures <- function(m, e, estimate, alpha) {
  k <- least_side(e$P)
  d <- (nrow(e$P) - 1) * (ncol(e$P) - 1)
  X2 <- pearson_statistic(e$P, e$n)
  bound <- function(tail) sqrt(noncentrality_at(X2, d, tail) / (e$n * k))
  se <- if (estimate == 0) 0 else sqrt(delta_variance(m$gradient(e$P), e$V))
  data.frame(estimate, se, low = min(1, bound(1 - alpha / 2)), high = min(1, bound(alpha / 2)),
             interval = "noncentral chi-square", note = NA_character_)
}

# The noncentrality at which `X2` has the lower-tail probability `p`; 0 when even 0 has less.
noncentrality_at <- function(X2, d, p) {
  below <- function(ncp) chi_square_below(X2, d, ncp) - p
  if (X2 <= 0 || below(0) <= 0) return(0)
  far <- X2 + 10 * sqrt(X2) + 50
  stats::uniroot(below, c(0, far), tol = 1e-9 * far)$root
}

# P(chi-square with noncentrality <= x). The series of stats::pchisq slows down and then fails to converge for large
# noncentralities; there Sankaran's (1959) normal form is right to about 1e-6.
chi_square_below <- function(x, d, ncp) {
  if (ncp < 1e4) return(stats::pchisq(x, d, ncp))
  a <- d + ncp
  b <- d + 2 * ncp
  c <- d + 3 * ncp
  h <- 1 - 2 * a * c / (3 * b^2)
  p <- b / a^2
  m <- (h - 1) * (1 - 3 * h)
  stats::pnorm(((x / a)^h - (1 + h * p * (h - 1 - 0.5 * (2 - h) * m * p))) / (h * sqrt(2 * p) * (1 + 0.5 * m * p)))
}
