# How a table is to look, as users ask for it.

#' Lay a table out
#'
#' Which figures stand in a cell and how, in which order the answers go, what
#' stands over and under the table. What is printed, published and saved follows
#' it; no figure is worked out anew.
#'
#' A cell may hold `"column"`, `"row"` and `"total"` percentages, the `"n"`
#' (respondents), the `"weighted"` n, the `"interval"` of the percentage, the
#' `"expected"` count with its `"residual"` (observed less expected),
#' `"pearson"` and `"adjusted"` residual, the `"contribution"` to chi-square,
#' and, of a one-way table, the `"cumulative"` percentage of ordered answers and
#' the `"given"` percentage that it is held against. Nets ([net()]) stand over
#' their parts where these are adjacent, at the end of the answers where they
#' are not.
#'
#' @param x (crosstab or banner) From [crosstab()], [beside()] or
#'   [read_tables()].
#' @param show (character, default the percentage of the crosstab) The figures
#'   of a cell, in their order: percentages (`column`, `row`, `total`,
#'   `cumulative`), the `index` against everybody (100: as in the whole table),
#'   counts (`n`, `weighted`), `estimated_total` (how many people of the
#'   population, see [totals()]), how sure these are (`interval`, `se`,
#'   `cv`, `deff`: of the percentage shown, or else of the estimated total; of
#'   imputed data sets `missing_information`, the share that is missing),
#'   differences and residuals.
#' @param stack ("brackets", "beneath" or "beside", default "brackets" of two
#'   figures, otherwise "beneath") Where the second and further figures stand:
#'   "43.0 (357)", on lines of their own, or in columns of their own.
#' @param decimals (number, or numbers named `percent`, `mean`, `weighted`,
#'   `expected`, `number`; default by the options) Decimals of the figures; a
#'   single one is that of percentages.
#' @param sort ("asked", "size", "difference", "mean", or an answer or net; default
#'   "asked") Order of the answers down the side: as they are, by the size of the
#'   percentage in the whole table or in the named column, or by how far the
#'   percentages of the columns are apart. An answer or net down the side, or
#'   "mean", sorts the columns by their percentage of it, or by their means (of a
#'   [battery()] "mean" sorts the statements).
#' @param last (character, default "Other" and its like) Answers that stay last
#'   when answers are sorted.
#' @param only (character) What the table is cut down to: "nets", "means", or
#'   answers and nets by their names. Tests and bases stay those of all answers. Of
#'   several questions below each other, of which one line each is left, it makes a
#'   list: "Agree in all" of eight statements, the means of ten, who said "Yes" to
#'   six.
#' @param labels (named character) Other labels for this table: `c("Very
#'   satisfied" = "Very")`.
#' @param wrap (integer) Characters after which a label goes on on a further
#'   line; by default the width of the terminal or of the page decides.
#' @param shorten (integer) Characters that a label may have; longer ones are
#'   cut, with an ellipsis. Labels that would then be the same stay whole.
#' @param title (string) In place of that of the table; `""` leaves it out.
#' @param subtitle (character) In place of the lines under the title, which say
#'   what the percentages are of and, after [among()], who the respondents are;
#'   `""` leaves them out.
#' @param notes (character) Lines that go under the table.
#' @param source (TRUE, FALSE or string, default TRUE where `lines` are "all")
#'   Whether the last line says where the table comes from: the file with its
#'   date and checksum, the design, and the program; or that line in other
#'   words.
#' @param bases (any of "n", "weighted", "effective"; default "n", and
#'   "weighted" with weights) The rows (columns, of row percentages) of bases;
#'   `character()` is none.
#' @param base_rows ("foot" or "top", default "foot") Where the rows of bases
#'   stand (of row percentages the columns: on the right or on the left).
#' @param outside (character) Reasons for no answer that are shown under the bases
#'   ("Don't know"), or "all" of them: as percentages of everybody who gave an answer
#'   or one of these reasons. They are no part of the base, nor of any test.
#' @param total ("last", "first" or "none", default "last") Where the column of
#'   everybody stands (with row percentages the row of everybody).
#' @param dress ("working" or "published", default "working" where it is shown,
#'   "published" in a file) Whom the table is for. Its author is told all there is
#'   to know of it, its readers what they need to read it: the key of what is
#'   marked, the test and the strength on one line, the source, and the cautions
#'   without which the table would mislead (the severest, small bases, many records
#'   left out).
#' @param lines (character, default those of the dress) What goes along under the
#'   table, by name: "key" to its signs, "rounding" (where figures do not add up to
#'   their total, or differences to their parts), "test", "strength", "reference" (the plain
#'   test beside that of a design), "cautions", "account" (of the records left out,
#'   and what was done to the questions), "source", "text" (the paragraph of
#'   [write_up()], in files); or a set of them: "none", "published", "working"
#'   (all). What stands in the table is explained in any case; "key" also says
#'   that nothing is marked.
#' @param hide_under (integer, default 0) Percentages of fewer respondents are
#'   not shown, and the table says so.
#' @param withhold_under (integer, default 0) For tables that go public: cells
#'   of 1 to so many respondents less one are withheld, and as many others that
#'   each of them could be another count by at least `protect`, for all that the
#'   table (or the banner, or the book) shows. Neither test, strength, cautions
#'   nor paragraph go along. See [disclosure] for what is protected against
#'   which knowledge.
#' @param protect (integer, default `withhold_under`) How many values a withheld
#'   count of few respondents must leave open.
#' @param round ("each" or "percent-to-100", default "each") Whether percentages are
#'   rounded each by itself, which may leave 99.9 or 100.1, or so that those that are
#'   shown add up to 100: all rounded down, and those of the largest remainders up
#'   (Hamilton's method). Nets are then sums of their parts as shown.
#' @param round_to (integer, default 1) For tables that go public: counts are
#'   rounded to multiples of it, at random to one of the two nearest and right
#'   on average; rows and columns of a table still add up to their totals.
#'   Percentages are of the rounded counts, and nothing is shown that is worked
#'   out from the others (tests, intervals, residuals, means).
#' @param round_seed (integer, default 1) Of the turns that rounding takes: the
#'   same table is always rounded alike.
#' @param style (from [house_style()], or the path of its file) The house style.
#'   What is asked here goes before it.
#' @param marks ("residuals", "letters", "differences" or "none"; default
#'   "residuals", or "differences" with `against`) What is marked: cells that
#'   depart from what is expected if the two were unrelated (a plus and a
#'   minus); by letters the columns that a figure exceeds; or differences from
#'   `against` (arrows up and down), see [differences()].
#' @param second_alpha (number in 0-1, default none) A stricter level beside that of
#'   the table: letters of `marks = "letters"` that hold at it, too, are capitals.
#' @param against ("rest", "total", "previous", "first" or an answer, default
#'   "rest")
#'   What a column is set against, for the marks and for the figures
#'   `"difference"` and `"difference_interval"` (in percentage points).
#' @param summary (any of "mean", "interval", "sd", "q1", "median", "q3", "se",
#'   "cv", "deff"; default mean, interval, sd and median, of a number the
#'   quartiles, too) The lines under the answers of a question with scores, see
#'   [score()]; `character()` is none.
#' @param unit ("units", "thousands" or "millions", default "units") What
#'   estimated totals are counted in.
#' @param flag_cv,flag_width,flag_under,flag_clusters (one number or two) How
#'   sure a figure must be: by its coefficient of variation (in percent), the
#'   width of its interval (in points; for percentages near 0 and 100, where the
#'   coefficient of variation misleads), the respondents that it is of, or the
#'   clusters in which they live. Beyond the first limit it stands with `[u]`,
#'   to be used with caution; beyond the second `[u]` stands in its place. The
#'   rules hold together, and the key says them.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return A list of class `fairlattice_sheets`, one sheet a layer, that prints
#'   itself and can be given to [publish()]. A sheet is plain data: `stub` and
#'   `columns` (data frames: `label`, `role`), the matrices `value` and `kind`
#'   (what figure it is), `high` (upper ends of intervals), `inside` (the
#'   figures in brackets), `mark`, `peak`, and the lines.
#' @section Errors: `fairlattice_error_choice`, `fairlattice_error_layout`.
#' @export
#' @examples
#' table <- crosstab(demo_records(), down = ferry, across = island)
#' lay_out(table, show = c("column", "n"), decimals = 0, sort = "size", lines = "test")
lay_out <- function(x, show = NULL, stack = NULL, decimals = NULL, sort = NULL,
                    last = NULL, only = NULL, labels = NULL, wrap = NULL, shorten = NULL,
                    title = NULL, subtitle = NULL, notes = NULL, source = NULL,
                    bases = NULL, base_rows = NULL, outside = NULL, total = NULL,
                    dress = NULL, lines = NULL, hide_under = NULL, marks = NULL,
                    second_alpha = NULL, against = NULL,
                    summary = NULL, withhold_under = NULL, protect = NULL,
                    round = NULL, round_to = NULL, round_seed = NULL,
                    unit = NULL, flag_cv = NULL, flag_width = NULL,
                    flag_under = NULL, flag_clusters = NULL, style = NULL,
                    ...) {
  nothing_else(...)
  call <- environment()
  if (inherits(x, "fairlattice_sheets")) x <- attr(x, "of")
  check_table(x, call)
  as_sheets(with_layout(x, mget(names(layout_choices()), call), style, call))
}

# The table with what is asked of its layout; no sheet is made yet.
with_layout <- function(x, asked, style = NULL, call = NULL) {
  if (!is.null(style)) style <- as_style(style, call)
  asked <- checked_layout(asked, call)
  # what is asked goes before what was asked earlier, and that before the style
  x$layout <- utils::modifyList(as.list(x$layout), asked)
  if (!is.null(style)) {
    x$layout <-
      c(x$layout, style$layout[setdiff(names(style$layout), names(x$layout))])
    x$layout$style <- style
  }
  check_rounded(x$layout, call)
  if (!is.null(x$layout$second_alpha)) check_second_alpha(x, call)
  if ("estimated_total" %in% asked$show)
    for (table in single_tables(x)) check_weighted(table, call)
  if (!is.null(asked$sort)) check_sort(x, asked$sort, call)
  for (table in if (!is.null(asked$only)) single_tables(x))
    check_only(table, asked$only, call)
  if (!is.null(asked$outside)) check_outside(x, asked$outside, call)
  if (!is.null(asked$against))
    check_against(asked$against,
                  unlist(lapply(single_tables(x), answers_compared,
                                layout = x$layout)), call)
  x
}

as_sheets <- function(x) {
  structure(sheets_of(x), of = x, class = "fairlattice_sheets")
}

# By what lines and columns can be sorted: a rule, or a column or line of any
# table.
check_sort <- function(x, asked, call) {
  if (asked %in% sorts) return(invisible())
  named <- unique(unlist(lapply(single_tables(x), function(table) {
    c(columns_named_across(table), lines_named_down(table))
  })))
  if (!asked %in% named)
    stop_layout(c(tells("sort_by_what", list_some(sprintf("\"%s\"", sorts)), asked),
                  did_you_mean(asked, c(sorts, named), "answers")), call)
}

# Every question has something of what the table is cut down to.
check_only <- function(x, asked, call) {
  side <- listed_side(x)
  scored <- !is.null(facts_of(x)[[side]]$scores)
  nets <- names(nets_in(x, side))
  there <- c(if (has(x, "answers")) c(answers_listed(x), nets),
             if (length(nets)) "nets", if (scored) "means")
  if (any(asked %in% there)) return(invisible())
  stop_layout(c(tells("only_nothing_left", facts_of(x)$down$label, list_some(asked)),
                i = tells("only_what_there_is", list_some(quoted(there), 12L))), call)
}

# A second level is a stricter one, and letters have two kinds.
check_second_alpha <- function(x, call) {
  if (marks_asked(x$layout) != "letters")
    stop_layout(c(tells("second_alpha_of_letters"), i = tells("second_alpha_marks")), call)
  alpha <- single_tables(x)[[1L]]$choices$alpha
  if (x$layout$second_alpha >= alpha)
    stop_layout(tells("second_alpha_stricter", x$layout$second_alpha, alpha), call)
}

# Reasons that some question has, of a table whose records are known.
check_outside <- function(x, asked, call) {
  if (guards(x$layout)) stop_layout(tells("outside_gives_away"), call)
  reasons <- unique(unlist(lapply(single_tables(x), function(table) {
    if (!has(table, "records")) stop_records_gone("outside", asked, NULL, call)
    if (any(vapply(facts_of(table)[c("down", "across")], `[[`, NA, "ticks")) ||
          has(table, "statements"))
      stop_layout(tells("outside_of_one_answer"), call)
    table$layout <- x$layout
    question <- table$tally[[outside_side(layout_of(table))]]
    question$levels[question$missing]
  })))
  unknown <- setdiff(asked, c("all", reasons))
  if (length(unknown))
    stop_layout(c(tells("outside_no_such_reason", unknown[1L]),
                  i = if (length(reasons)) tells("possible_are", list_some(quoted(reasons))) else
                    tells("outside_none_there")), call)
}

answers_listed <- function(x) {
  of_side <- if (listed_side(x) == "down") answers_down else answers_across
  unique(unlist(lapply(x$layers, of_side)))
}

# The answers of which each is compared with others.
answers_compared <- function(x, layout) {
  x$layout <- layout
  layer <- x$layers[[1L]]
  compare <- compared_side(layout_of(x))
  references_in(x, compare, if (compare == "columns") answers_across(layer) else
    answers_down(layer))
}
