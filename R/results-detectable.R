#' What could this table have shown?
#'
#' The smallest effect that a test of independence finds with the wanted power,
#' the power it had for a given effect, and the n that would be needed. The
#' effect size is Cohen's w = sqrt(phi^2) = V sqrt(m - 1); power is that of the
#' noncentral chi-square on (r-1)(c-1) degrees of freedom with noncentrality n
#' w^2 / design effect (noncentral F with the design's degrees of freedom, where
#' there are few).
#'
#' `detectable(x)` takes a table as it is: n, r, c and the mean design effect of
#' its residuals (where those are undefined, that of unequal weights).
#' `detectable(n = , r = , c = )` plans one.
#'
#' @param x (crosstab, default none) From [crosstab()]; one table or several.
#' @param n (number) Respondents; may be several.
#' @param r,c (integers) Rows and columns.
#' @param alpha (number in 0-1, default that of the crosstab, or option
#'   `fairlattice.alpha`) Level of the test.
#' @param power (number in 0-1, default option `fairlattice.power`, 0.8) Wanted
#'   power.
#' @param design_effect (number, default that of the table, or 1) What the
#'   design costs: variances are so many times those of a random sample.
#' @param v (number in 0-1, default the table's own, or 0.1) The Cramer's V for
#'   which power and n are worked out.
#' @param df (number, default that of the table, or infinite) Degrees of freedom
#'   of the design.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame of class `fairlattice_detectable`, one row a layer or n:
#'   `each`, `n`, `r`, `c`, `alpha`, `wanted_power`, `design_effect`, `df`,
#'   `smallest_w`, `smallest_v` (smallest effect; above 1: the table is too
#'   small to show even a perfect association so often), `v`, `power` (for that
#'   V), `n_needed` (for that V at the wanted power), `note`.
#'   Units: `alpha`, power and V 0-1, `smallest_w` 0 or more.
#'   [ggplot2::autoplot()] draws the power curve.
#' @section Errors: `fairlattice_error_number`, `fairlattice_error_ticks`.
#' @references Cohen J (1988) Statistical Power Analysis for the Behavioral
#'   Sciences, 2nd ed., ch. 7.
#' @export
#' @examples
#' detectable(crosstab(demo_records(300), down = leave, across = tenure))
#' detectable(n = c(200, 500, 1000), r = 3, c = 4, v = 0.15, design_effect = 1.4)
detectable <- function(x = NULL, n = NULL, r = NULL, c = NULL, alpha = NULL,
                       power = NULL, design_effect = NULL, v = NULL, df = NULL,
                       ...) {
  nothing_else(...)
  call <- environment()
  power <- power %||% setting("power")
  check_fraction(power, "power", call)
  if (!is.null(v)) check_number(v, "v", 0, 1, call)
  if (!is.null(design_effect))
    check_number(design_effect, "design_effect", 1e-6, Inf, call)
  if (!is.null(df)) check_number(df, "df", 1, Inf, call)
  if (!is.null(x)) check_made(x, call)
  alpha <- alpha %||% if (is.null(x)) setting("alpha") else x$choices$alpha
  check_fraction(alpha, "alpha", call)
  if (!is.null(x)) {
    rows <- lapply(x$layers, function(layer) {
      list(layer_detectable(layer, alpha, power, design_effect, v, df))
    })
    return(new_result(frame_of(x, rows), "detectable"))
  }
  if (is.null(n) || is.null(r) || is.null(c))
    stop_input(tells("give_table_n_r_c"), "number", call = call)
  for (one in n) check_number(one, "n", 2, Inf, call)
  check_whole(r, "r", 2, call)
  check_whole(c, "c", 2, call)
  planned <- lapply(n, detectable_row, r, c, alpha, power, design_effect %||% 1,
                    df %||% Inf, v %||% 0.1)
  new_result(frame_of(list(layers = list(list(each = NA_character_))),
                      list(planned)), "detectable")
}
