#' Combine answers in a sparse table
#'
#' For a table that breaks the sparse rule, proposes which answers to join: the
#' answer with the fewest respondents among those with small expected counts,
#' with its smaller neighbour (ordered) or with the next smallest (not ordered),
#' until the rule holds or two answers are left on each side. Shows the effect
#' on the test. Does it only when told.
#'
#' @param x (crosstab) One table from [crosstab()] or [crosstab_of_counts()],
#'   without `each` or ticks.
#' @param apply (TRUE or FALSE, default FALSE) Whether to give the table with
#'   the answers joined instead of the proposal.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return With `apply`, a crosstab. Otherwise a list of class
#'   `fairlattice_regrouping`: `steps` (`question`, `joined`), `small` (share of
#'   small expected counts, 0-1, before and after), `tests` (headline before and
#'   after), `mended`.
#' @section Errors: `fairlattice_error_regroup` (`x` is not one table made from
#'   records or counts, without `each` and
#'   ticks).
#' @export
#' @examples
#' few <- crosstab(demo_records(60), down = ferry, across = island)
#' regroup_sparse(few)
#' regroup_sparse(few, apply = TRUE)
regroup_sparse <- function(x, apply = FALSE, ...) {
  nothing_else(...)
  call <- environment()
  check_class(x, "fairlattice_crosstab", "x", "crosstab()", call)
  check_flag(apply, "apply", call)
  if (!has(x, "records", "adds_up") || length(x$layers) > 1L) {
    stop_input(tells("x_one_table_made_records"), "regroup",
               call = call)
  }
  found <- joined_until_full(x, call)
  if (apply) return(found$table)
  share <- function(table) {
    layer <- table$layers[[1L]]
    if (is.null(no_test_reason(layer))) sparse_rule(layer$estimate)$share else
      NA_real_
  }
  testable <- is.null(no_test_reason(found$table$layers[[1L]]))
  structure(list(
    steps = if (length(found$steps)) list2DF(columns_of(found$steps)) else
      data.frame(question = character(), joined = character()),
    small = c(before = share(x), after = share(found$table)),
    tests = frame_of(list(layers = x$layers),
                     list(list(headline_of(tests_of(x)[[1L]]),
                               headline_of(tests_of(found$table)[[1L]])))),
    mended = testable && !is_sparse(found$table)),
            class = "fairlattice_regrouping")
}
