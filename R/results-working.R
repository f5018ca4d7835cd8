#' The arithmetic, step by step
#'
#' How the chi-square statistic of one table comes about: margins, expected
#' counts, the contribution of every cell, their sum, the degrees of freedom and
#' p; under a design also the design effects that it is divided by. For
#' teaching, and for checking a table by hand. Printing shows the steps as text;
#' `as.data.frame()` gives one row a step and cell.
#'
#' @param x (crosstab) From [crosstab()] or [crosstab_of_counts()]; not of a
#'   tick-all question.
#' @param each (string) Which layer, where there are several; default the first.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame of class `fairlattice_working`: `step` ("observed",
#'   "row_total", "column_total", "total", "expected", "contribution",
#'   "statistic", "df", "design_effect", "f", "p"), `down`, `across`, `value`,
#'   `how` (the arithmetic in figures).
#' @section Errors: `fairlattice_error_answer`, `fairlattice_error_ticks`.
#' @export
#' @examples
#' counts <- matrix(c(20, 10, 30, 40), 2,
#'                  dimnames = list(c("Yes", "No"), c("North", "South")))
#' working(crosstab_of_counts(counts))
working <- function(x, each = NULL, ...) {
  nothing_else(...)
  call <- environment()
  check_made(x, call)
  names <- vapply(x$layers, function(layer) layer$each, "")
  if (!is.null(each)) check_answer(each, names, "each", call)
  layer <- x$layers[[if (is.null(each)) 1L else match(each, names)]]
  none <- no_test_reason(layer)
  steps <- if (is.null(none)) working_steps(layer) else
    list(new_step("total", layer$base$n, none))
  columns <- columns_of(lapply(steps, function(step) {
    replace(step, "how", list(in_words(step$how)))
  }))
  new_result(list2DF(columns), "working", title = table_title(x),
             each = layer$each, weighted = x$tally$design$weighted,
             note = if (!is.null(none)) in_words(none))
}
