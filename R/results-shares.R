#' Percentages with their intervals
#'
#' Shares of the row, column and table totals. Without a design the intervals
#' are Wilson's (1927); with a weight, stratum or cluster they are on the logit
#' scale, with the design variance and t. A share of exactly 0 or 1 has no logit
#' interval.
#'
#' @param x (crosstab) From [crosstab()] or [read_tables()].
#' @param percent ("column", "row" or "total", default that of the crosstab; or
#'   "responses") Base of the percentages. Of a tick-all question `"responses"`
#'   gives each item's share of the ticks in its column (row, when the question
#'   stands across), which add to 100; they are no shares of people, so they
#'   have no interval.
#' @param alpha (number in 0-1, default that of the crosstab) Intervals have
#'   confidence 1 - `alpha`.
#' @param interval ("usual" or "korn_graubard", default "usual")
#'   `"korn_graubard"` gives the binomial interval (Clopper & Pearson 1934) on
#'   the effective base p(1 - p)/variance, times (t(n - 1)/t(df))^2 (Korn &
#'   Graubard 1998): for shares near 0 or 1. At exactly 0 or 1, where there is
#'   no variance, the base is n over the mean design effect of the other shares.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame, one row a cell: `each`, `down`, `across`, `n`
#'   (respondents), `weighted`, `share` (0-1; `NA` on an empty base), `low`,
#'   `high` (0-1), `base` (unweighted respondents that the percentage is of),
#'   `base_weighted`, `se`, `deff`; of imputed data sets `missing_information`, the
#'   share of information that is missing (0-1).
#' @references Wilson EB (1927) J Amer Statist Assoc 22:209-212. Korn EL,
#'   Graubard BI (1998) Survey Methodology 24:193-201. Clopper CJ, Pearson ES
#'   (1934) Biometrika 26:404-413.
#' @section Errors: `fairlattice_error_class` (`x` is no table),
#'   `fairlattice_error_choice`,
#'   `fairlattice_error_records_gone` (of a table read from a file what was not
#'   stored with it).
#' @export
#' @examples
#' head(shares(crosstab(demo_records(), down = ferry, across = island), percent = "row"))
shares <- function(x, percent = NULL, alpha = NULL,
                   interval = c("usual", "korn_graubard"), ...) {
  nothing_else(...)
  call <- environment()
  check_class(x, "fairlattice_crosstab", "x", "crosstab()", call)
  percent <- percent %||% x$choices$percent
  ticks <- has(x, "records") && !has(x, "adds_up") && has(x, "answers")
  if (!(ticks && identical(percent, "responses")))
    check_choice(percent, c("column", "row", "total"), "percent", call)
  interval <- first_of(interval)
  check_choice(interval, c("usual", "korn_graubard"), "interval", call)
  alpha <- alpha %||% x$choices$alpha
  check_fraction(alpha, "alpha", call)
  if (!has(x, "records"))
    check_stored(x, list(alpha = alpha, interval = interval), call)
  found <- if (interval == "usual") shares_of(x, percent, alpha) else
    lapply(x$layers, layer_shares, percent = percent, alpha = alpha,
           kind = interval)
  new_result(frame_of_columns(x,
                              Map(function(layer, share) {
                                c(cells_of_layer(layer),
                                  list(n = as.vector(layer$n),
                                       weighted = as.vector(layer$weighted)),
                                  share)
                              }, x$layers, found)), "shares")
}
