#' Fair Lattice: weighted crosstabs that say how far to trust them
#'
#' From one record per respondent, with weights and a sample design, to a table that can be shared:
#' [read_records()], [respondents()], [lattice()], and then [shares()], [test_independence()], [strength()],
#' [departures()], [cautions()], [write_up()] and [publish()].
#'
#' @keywords internal
#' @useDynLib fairlattice, .registration = TRUE
#' @importFrom Rcpp evalCpp
#' @importFrom rlang .data !!
"_PACKAGE"

#' @importFrom generics tidy
#' @export
generics::tidy

#' @importFrom generics glance
#' @export
generics::glance
