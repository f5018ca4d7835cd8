#' What could this table have shown?
#'
#' The smallest effect that a test of independence finds with the wanted power, the power it had for a given effect,
#' and the n that would be needed. The effect size is Cohen's w = sqrt(phi^2) = V sqrt(m - 1); power is that of the
#' noncentral chi-square on (r-1)(c-1) degrees of freedom with noncentrality n w^2 / design effect (noncentral F with
#' the design's degrees of freedom, where there are few).
#'
#' `detectable(x)` takes a table as it is: n, r, c and the mean design effect of its departures (where those are
#' undefined, that of unequal weights). `detectable(n = , r = , c = )` plans one.
#'
#' @param x (lattice, default none) From [lattice()]; one table or several.
#' @param n (number) Respondents; may be several.
#' @param r,c (integers) Rows and columns.
#' @param alpha (number in 0-1, default that of the lattice, or option `fairlattice.alpha`) Level of the test.
#' @param power (number in 0-1, default option `fairlattice.power`, 0.8) Wanted power.
#' @param design_effect (number, default that of the table, or 1) What the design costs: variances are so many times
#'   those of a random sample.
#' @param v (number in 0-1, default the table's own, or 0.1) The Cramer's V for which power and n are worked out.
#' @param df (number, default that of the table, or infinite) Degrees of freedom of the design.
#' @param ... Nothing: what is put here is an error, with the nearest argument's name.
#' @return Data frame of class `fairlattice_detectable`, one row a layer or n: `each`, `n`, `r`, `c`, `alpha`,
#'   `wanted_power`, `design_effect`, `df`, `smallest_w`, `smallest_v` (smallest effect; above 1: the table is too
#'   small to show even a perfect association so often), `v`, `power` (for that V), `n_needed` (for that V at the
#'   wanted power), `note`. [ggplot2::autoplot()] draws the power curve.
#' @section Errors: `fairlattice_error_number`, `fairlattice_error_ticks`.
#' @references Cohen J (1988) Statistical Power Analysis for the Behavioral Sciences, 2nd ed., ch. 7.
#' @export
#' @examples
#' detectable(lattice(demo_records(300), down = leave, across = tenure))
#' detectable(n = c(200, 500, 1000), r = 3, c = 4, v = 0.15, design_effect = 1.4)
detectable <- function(x = NULL, n = NULL, r = NULL, c = NULL, alpha = NULL, power = NULL, design_effect = NULL,
                       v = NULL, df = NULL, ...) {
  nothing_else(...)
  call <- environment()
  power <- power %||% setting("power")
  check_fraction(power, "power", call)
  if (!is.null(v)) check_number(v, "v", 0, 1, call)
  if (!is.null(design_effect)) check_number(design_effect, "design_effect", 1e-6, Inf, call)
  if (!is.null(df)) check_number(df, "df", 1, Inf, call)
  if (!is.null(x)) {
    check_made(x, call)
    alpha <- alpha %||% x$choices$alpha
    check_fraction(alpha, "alpha", call)
    rows <- over_layers(x$layers, function(layer) list(detectable_in(layer, alpha, power, design_effect, v, df)))
  } else {
    alpha <- alpha %||% setting("alpha")
    check_fraction(alpha, "alpha", call)
    if (is.null(n) || is.null(r) || is.null(c)) stop_input("Give a table, or `n`, `r` and `c`.", "number", call = call)
    for (one in n) check_number(one, "n", 2, Inf, call)
    check_whole(r, "r", 2, call)
    check_whole(c, "c", 2, call)
    rows <- rows_to_frame(lapply(n, function(one) {
      append(list(each = NA_character_),
             detectable_row(one, r, c, alpha, power, design_effect %||% 1, df %||% Inf, v %||% 0.1))
    }))
  }
  as_findings(rows, "detectable")
}

detectable_in <- function(layer, alpha, power, design_effect, v, df) {
  e <- layer$estimate
  why <- no_test_reason(layer)
  if (!is.null(why)) return(detectable_row(layer$base$n, NA, NA, alpha, power, NA_real_, Inf, NA_real_, why))
  effect <- design_effect %||% (e$n / test_base(e))
  note <- NA_character_
  if (is.na(effect)) {
    effect <- layer$base$n / layer$base$effective
    note <- "design effect of the unequal weights alone"
  }
  own <- sqrt(phi_squared(e$P) / least_side(e$P))
  detectable_row(e$n, nrow(e$P), ncol(e$P), alpha, power, effect, df %||% max(e$df, 1), v %||% own, note)
}

detectable_row <- function(n, r, c, alpha, power, effect, df, v, note = NA_character_) {
  out <- list(n = n, r = as.numeric(r), c = as.numeric(c), alpha = alpha, wanted_power = power, design_effect = effect,
              df = finite_or_na(df), smallest_w = NA_real_,
              smallest_v = NA_real_, v = v, power = NA_real_, n_needed = NA_real_, note = note)
  if (is.na(effect)) return(out)
  d <- (r - 1) * (c - 1)
  m <- min(r, c) - 1
  out$smallest_w <- smallest_effect(n / effect, d, alpha, power, df)
  out$smallest_v <- out$smallest_w / sqrt(m)
  out$power <- power_of(n / effect * v^2 * m, d, alpha, df)
  if (v > 0) out$n_needed <- ceiling(needed_noncentrality(d, alpha, power, df) / (v^2 * m) * effect)
  out
}

# Power of the test at a noncentrality: chi-square, or the F on d and d df that Rao-Scott refers to.
power_of <- function(noncentrality, d, alpha, df = Inf) {
  critical <- stats::qf(alpha, d, d * df, lower.tail = FALSE)
  1 - noncentral_f_below(critical, d, d * df, noncentrality)
}

needed_noncentrality <- function(d, alpha, power, df = Inf) {
  if (power <= alpha) return(0) # chance alone is enough
  far <- 10
  while (power_of(far, d, alpha, df) < power) {
    if (far > 1e12) return(NA_real_)
    far <- 4 * far
  }
  stats::uniroot(function(ncp) power_of(ncp, d, alpha, df) - power, c(0, far), tol = 1e-8)$root
}

# The smallest effect w that a table could show. `base` is the effective base of the test: n over the mean design
# effect of the table.
smallest_effect <- function(base, d, alpha, power, df = Inf) sqrt(needed_noncentrality(d, alpha, power, df) / base)

# n over the mean generalised design effect; n itself without a design.
test_base <- function(e) {
  if (!e$by_design) return(e$n)
  if (!is.null(e$effect) && is.na(e$effect$why)) e$n / e$effect$mean else NA_real_
}

# Points of the power curve of every row: V from 0 to beyond the smallest that shows.
power_curve <- function(rows, points = 81L) {
  rows <- rows[!is.na(rows$smallest_v), ]
  most <- min(1, max(1.6 * rows$smallest_v, rows$v, 0.02))
  do.call(rbind, lapply(seq_len(nrow(rows)), function(k) {
    row <- rows[k, ]
    m <- min(row$r, row$c) - 1
    v <- seq(0, most, length.out = points)
    df <- if (is.na(row$df)) Inf else row$df
    power <- vapply(v,
                    function(one)
                    power_of(row$n / row$design_effect * one^2 * m, (row$r - 1) * (row$c - 1), row$alpha, df), 0)
    data.frame(each = row$each, n = row$n, v = v, power = power)
  }))
}
