#' Tick-all questions, item by item
#'
#' The headline test of every item (ticked or not, by the other question; with ticks on both sides every pair of
#' items), its p-value corrected over the items, and Cramer's V. The overall test, which [test_independence()] gives,
#' adds the items' Pearson statistics and divides by their mean design effect: first-order Rao-Scott for all items
#' together, chi-square on the sum of their degrees of freedom (Bilder & Loughin 2004). The ordinary chi-square of the
#' responses is not given: one person's ticks are not several people.
#'
#' @param x (lattice) Of a question made by [ticks()].
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame: `each`, `item` (and `by`, with ticks on both sides), `test`, `statistic`, `df`, `df_error`, `p`,
#'   `p_corrected`, `cramers_v`,
#'   `low`, `high`, `note`.
#' @references Bilder CR, Loughin TM (2004) Biometrics 60:241-248.
#' @export
#' @examples
#' survey <- ticks(demo_records(), reasons = c(reason_work, reason_housing, reason_school))
#' test_items(lattice(survey, down = reasons, across = island))
test_items <- function(x, ...) {
  nothing_else(...)
  check_class(x, "fairlattice_lattice", "x", "lattice()", environment())
  items <- frame_of(x, items_of(x))
  if (is.null(items)) {
    stop_input(c("This table has no tick-all question.",
                 i = "Make one with ticks(), and a table of it with lattice()."), "ticks", call = environment())
  }
  new_result(items, "items")
}
