#' Tables that go public: what is protected, and from whom
#'
#' [lay_out()] guards the respondents of a table in one of two ways:
#' `withhold_under` leaves small counts out (statisticians speak of cell
#' suppression), `round_to` rounds all counts at random. Both also guard
#' percentages, nets, means, marks and everything else the table shows.
#'
#' @section Withholding:
#' Counts of 1 to `withhold_under` - 1 respondents are withheld, and so many
#' others with them (their partners) that each could be another count by at least
#' `protect`, whatever follows from
#'
#' * every other count, every total and every zero that is shown, and that a
#'   withheld count is at least 1 (where a zero has to be a partner itself: at
#'   least 0);
#' * all questions of a banner, and all tables of a book, of one command or of
#'   one file about the same people, in which the same question has the same
#'   totals, and the same pair of questions the same counts;
#' * nets, and questions whose answers are made of those of another in the same
#'   tables, such as age in two groups beside age in four;
#' * percentages and their rounding, weighted counts, means of a column, the
#'   order of lines that are sorted, and marks, letters and differences: what
#'   takes a withheld count in is left out with it.
#'
#' Where no other counts can protect one, the table is refused, and the error
#' says which. A table of fewer respondents than `withhold_under` shows nothing.
#'
#' @section Rounding:
#' Every count goes to one of the two multiples of `round_to` around it, at
#' random and so that it is right on average, and the answers of a table still
#' add up to its totals (Cox 1987). The turns come from the counts and from
#' `round_seed`: give a seed of your own and keep it to yourself.
#'
#' @section What is not protected:
#' * What somebody knows beside the tables: a respondent who is one of two in a
#'   cell knows the other, and a withheld cell may hold one person who is known
#'   to be in it.
#' * Tables of different people that are parts of each other: all residents, and
#'   those under 65, differ by those of 65 and over. Give both as columns of one
#'   table.
#' * Tables that were published before, or by another call. Publish what belongs
#'   together in one book.
#' * In records that stay in a database, questions of some twenty answers and more
#'   that are parts of those of another: to find how they nest from sums alone may
#'   take for ever, and is given up. Records in memory tell it at once.
#' * Totals that differ a little between tables because some did not answer one
#'   of the questions: how many they are can be worked out.
#' * Counts that are rounded in many tables: each table rounds anew, and the mean
#'   of many is near the true count.
#' * That all respondents of a column gave one answer: a share of 100 % is shown
#'   where the count is not small.
#' * The account of records, which counts those left out by reason; leave it out
#'   with `lines = "none"`.
#'
#' @references Cox LH (1980) J Amer Statist Assoc 75:377-385. Cox LH (1987) J
#'   Amer Statist Assoc 82:520-524.
#' @name disclosure
#' @examples
#' survey <- respondents(demo_records(), weight = weight)
#' table <- crosstab(survey, heating, c(island, tenure))
#' lay_out(table, show = c("column", "n"), withhold_under = 20, lines = "none")
#' lay_out(table, show = "n", round_to = 5, round_seed = 412, lines = "none")
NULL
