#' Fair Lattice: weighted crosstabs that say how far to trust them
#'
#' From one record per respondent, with weights and a sample design, to a table
#' that can be shared. The usual way is [read_records()], [respondents()],
#' [crosstab()], and then whatever is to be said of the table; `print()` says
#' the most of it.
#'
#' | to | use |
#' |---|---|
#' | read a file and its codebook, see what is in it | [read_records()], [look()], [codebook()], [draft_codebook()] |
#' | say who was asked | [respondents()], [among()] (a part of the sample), [one_per()] |
#' | weigh, or make replicate weights | [weigh_to()], [adjust_nonresponse()], [make_replicates()] |
#' | prepare questions | [band()], [regroup()], [order_answers()], [retitle()], [combine()], [score_items()] |
#' | make questions of items or waves | [ticks()] (tick all that apply), [waves_long()] |
#' | make the table | [crosstab()]; of counts that somebody made: [crosstab_of_counts()]; turn it round: [flip()] |
#' | read percentages and their intervals | [shares()] |
#' | ask whether it could be chance | [tests()], [test_shares()] (one question), [test_items()] (ticks) |
#' | say more of a number | [score()], [means()], [quantiles()], [ratios()], [inequality()], [totals()] |
#' | control for a third question | [pooled()], [standardised()] |
#' | ask how strong it is | [strength()], [measures_known()], [risks()] |
#' | see where it sits | [residuals()], [reading()], [differences()] (letters) |
#' | know how far to trust it | [cautions()], [detectable()] (power), [regroup_sparse()], [working()] (the arithmetic) |
#' | pivot by hand, in the browser | [desk()] |
#' | hand it on | [publish()], [write_up()], [read_tables()], [write_records()] |
#' | check a table somebody else made | [recheck()], [counts_from_percentages()] |
#' | change a default | [options][fairlattice_options] |
#'
#' Two walks come with the package, as pages:
#' \href{../doc/from-the-field-to-a-table.html}{From the field to a table} and
#' \href{../doc/reading-a-crosstab-fairly.html}{Reading a crosstab fairly};
#' their files are in `system.file("doc", package = "fairlattice")`. The command
#' line is described by `fairlattice help` ([main()]).
#'
#' @section Naming columns: Every function names a column in the same way: bare
#'   (`ferry`), as a string (`"ferry"`),
#'   spliced (`!!name`), as `.data[["ferry"]]`, or by a variable that holds one
#'   string when no column has the variable's name. In a function of your own,
#'   `{{ question }}` hands on what your caller named.
#' @keywords internal
#' @useDynLib fairlattice, .registration = TRUE
#' @importFrom Rcpp evalCpp
#' @importFrom rlang .data !!
#' @importFrom stats residuals
"_PACKAGE"

#' @importFrom generics tidy
#' @export
generics::tidy

#' @importFrom generics glance
#' @export
generics::glance
