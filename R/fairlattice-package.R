#' Fair Lattice: weighted crosstabs that say how far to trust them
#'
#' From one record per respondent, with weights and a sample design, to a table
#' that can be shared. The usual way is [read_records()], [respondents()],
#' [crosstab()], and then whatever is to be said of the table; `print()` says
#' the most of it.
#'
#' | to | use |
#' |---|---|
#' | read a file and its codebook, see what is in it | [read_records()], [look()], [demo_records()], [demo_file()] |
#' | write down what columns mean | [codebook()], [draft_codebook()], [write_codebook()], [label_answers()] |
#' | leave records where they are | [dbi_table()], [records_in_chunks()] |
#' | say who was asked | [respondents()], [among()] (a part of the sample), [one_per()] |
#' | weigh, or make replicate weights | [weigh_to()], [adjust_nonresponse()], [make_replicates()] |
#' | prepare questions | [band()], [regroup()], [order_answers()], [retitle()], [subdivide()], [combine()] |
#' | make questions of items | [ticks()] (tick all that apply), [battery()] (statements), [score_items()] |
#' | set waves beside each other | [waves_long()], [pooled_waves()] |
#' | make the table | [crosstab()], [crosstab_of_counts()] (of counts that somebody made), [tally_of()] |
#' | add subtotals and means, join tables | [net()], [score()], [beside()], [below()] |
#' | look at it another way | [rechoose()], [flip()], [lay_out()], [house_style()] |
#' | read percentages and their intervals | [shares()], [totals()] (how many people) |
#' | say more of a number | [means()], [quantiles()], [ratios()], [inequality()] |
#' | ask whether it could be chance | [tests()], [test_shares()] (one question), [test_items()] (ticks) |
#' | control for a third question | [pooled()], [standardised()] |
#' | ask how strong it is | [strength()], [measures_known()], [risks()] |
#' | see where it sits | [`residuals()`][residuals], [reading()], [differences()] (letters), [significant()] |
#' | know how far to trust it | [cautions()], [detectable()] (power), [regroup_sparse()], [working()] (the arithmetic) |
#' | have it as plain data | [`as.data.frame()`][as.data.frame.fairlattice_crosstab], [tidy()], [glance()] |
#' | pivot by hand, in the browser | [desk()] |
#' | make a book of a survey | [read_plan()], [plan_of()], [book()], [related()] |
#' | hand it on | [publish()], [write_up()], [`autoplot()`][autoplot.fairlattice_crosstab], [write_records()] |
#' | bring back, and check, what was published | [read_tables()], [verify()] |
#' | check a table somebody else made | [recheck()], [counts_from_percentages()] |
#' | change a default, or use the command line | [options][fairlattice_options], [main()] |
#'
#' The articles are listed by `browseVignettes("fairlattice")`; begin with
#' `vignette("a-tour-in-five-minutes", "fairlattice")`. The command
#' line is described by `fairlattice help` ([main()]).
#'
#' @section Naming columns: Every function names a column in the same way: bare
#'   (`ferry`), as a string (`"ferry"`),
#'   spliced (`!!name`), as `.data[["ferry"]]`, or by a variable that holds one
#'   string when no column has the variable's name. In a function of your own,
#'   `{{ question }}` hands on what your caller named.
#' @keywords internal
#' @useDynLib fairlattice, .registration = TRUE
#' @importFrom stats residuals
"_PACKAGE"

#' @importFrom generics tidy
#' @export
generics::tidy

#' @importFrom generics glance
#' @export
generics::glance

# what a figure's aes() means by it is known where it is drawn
utils::globalVariables(".data")
