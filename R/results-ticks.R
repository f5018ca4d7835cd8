#' Tick-all questions, item by item
#'
#' The headline test of every item (ticked or not, by the other question; with
#' ticks on both sides every pair of items), its p-value corrected over the
#' items, and Cramer's V. The overall test, which [tests()] gives, adds the
#' items' Pearson statistics and refers them to the generalised design effects
#' of all items together, whose covariance is known from the patterns of ticks:
#' second-order Rao-Scott (Thomas & Decady 2004), with the first order (Bilder &
#' Loughin 2004) beside it. Without a design it is chi-square on the
#' Satterthwaite degrees of freedom. In simulated surveys of items that go
#' together (latent correlation 0.5 to 0.7) the first order rejects 9 to 16 in
#' 100 at 5 %, the second order 5. The ordinary chi-square of the responses is
#' not given: one person's ticks are not several people.
#'
#' @param x (crosstab) Of a question made by [ticks()].
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame: `each`, `item` (and `by`, with ticks on both sides),
#'   `test`, `statistic`, `df`, `df_error`, `p`, `p_corrected`, `cramers_v`,
#'   `low`, `high`, `note`. Units: p-values, V and its interval 0-1.
#' @references Bilder CR, Loughin TM (2004) Biometrics 60:241-248. Thomas DR,
#'   Decady YJ (2004) Int J Testing 4:43-59.
#' @section Errors: `fairlattice_error_class` (`x` is no table),
#'   `fairlattice_error_ticks` (no tick-all
#'   question in it).
#' @export
#' @examples
#' survey <- ticks(demo_records(), reasons = c(reason_work, reason_housing, reason_school))
#' test_items(crosstab(survey, down = reasons, across = island))
test_items <- function(x, ...) {
  nothing_else(...)
  check_class(x, "fairlattice_crosstab", "x", "crosstab()", environment())
  items <- frame_of(x, items_of(x))
  if (is.null(items)) {
    stop_input(c(tells("table_no_tick_all_question"),
                 i = tells("make_one_ticks_table_crosstab")), "ticks",
               call = environment())
  }
  new_result(items, "items")
}
