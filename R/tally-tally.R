#' The tally: the sums that every figure of a table comes from
#'
#' For every combination of design unit, `each`, `across` and `down` that
#' occurs: records, respondents (`n`), the sum of weights (`w`) and of squared
#' weights (`w2`). Reasons for no answer are tallied beside the answers, so the
#' account of records needs no second pass. Tallies add: see
#' [merge.fairlattice_tally()].
#'
#' @param survey (survey or data frame) From [respondents()].
#' @param down,across (column name, see [fairlattice]) The two questions.
#' @param each (column name, default none) Makes one table per answer.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return A list of class `fairlattice_tally`:
#'   * `down`, `across`, `each`: name, label, whether ordered, levels, and which
#'   levels are reasons for no answer;
#'   * `design`: whether weighted, stratified, clustered; `units`, one row a
#'   cluster within its stratum (or a stratum,
#'     when every respondent is their own cluster) with the respondents sampled in it;
#'   * `cells`: data frame of `unit`, `down`, `across`, `each` (codes; 0 is no
#'   answer at all), `records`, `n`, `w`,
#'     `w2`;
#'   * `aside`: data frame of the records that were left out before they were
#'   tallied: `code` and `detail` of the
#'     reason, `records`;
#'   * `records`: number of records read; `facts`: what else a caution may need.
#' @section Errors: `fairlattice_error_no_column`,
#'   `fairlattice_error_same_column`,
#'   `fairlattice_error_too_many_answers`.
#' @export
#' @examples
#' survey <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement)
#' head(tally_of(survey, down = ferry, across = tenure)$cells)
tally_of <- function(survey, down, across, each = NULL, ...) {
  nothing_else(...)
  call <- environment()
  survey <- as_survey(survey)
  tally_columns(survey,
                column_named(named_by(down), survey$data, "down", call),
                column_named(named_by(across), survey$data, "across", call),
                column_named(named_by(each), survey$data, "each", call),
                call)
}

tally_columns <- function(survey, down, across, each, call) {
  check_questions(down, across, each, survey$roles, call)
  if (is_battery(survey, down))
    return(tally_battery(survey, down, across, each, call))
  ready <- ready_tally(survey, down, across, each)
  if (!is.null(ready)) return(ready)
  survey <- grounded(survey, setdiff(c(down, across, each), everybody), call)
  asked <- c(down = down, across = across, each = each)
  answers <- lapply(asked, function(name) {
    as_answers(survey$data[[name]], name, call, codes = FALSE)
  })
  questions <- Map(describe_question, answers, asked)
  for (k in seq_along(questions))
    check_answer_count(questions[[k]], asked[[k]], call)
  cells <- if (!is.null(survey$sums)) tally_groups(survey, answers) else
    tally_records(survey, answers, questions)
  if (!is.null(cells$unsound)) stop_unsound(asked[[cells$unsound]], call)
  if (is.null(each)) cells$each <- rep(0L, length(cells$each))
  cells <- list2DF(cells)
  if (length(survey$replicates))
    cells$replicates <- sum_replicates(survey, answers, cells)
  cells <- with_auxiliary(cells, survey, answers)
  new_tally(questions, survey$design, cells, aside_of(survey),
            records_stood_for(survey) + sum(survey$before$records),
            tally_facts(survey, answers))
}

ready_key <- function(one) paste(one, collapse = "\r")

# Beside the tables, what is the same of all of them.
facts_ready <- "\rfacts"

# The tally of a table that was made ready; NULL where there is none.
ready_tally <- function(survey, down, across, each) {
  found <- if (!is.null(survey$ready))
    survey$ready[[ready_key(c(down, across, each))]]
  if (is.null(found)) return(NULL)
  if (!is.null(found$fault)) stop(found$fault)
  if (!is.null(found$tally)) return(found$tally)
  sides <- c("down", "across", if (!is.null(each)) "each")
  questions <- stats::setNames(found$questions, sides)
  names <- c(down, across, each)
  for (k in seq_along(questions)) if (names[k] != everybody)
    check_answer_count(questions[[k]], names[k], NULL)
  answers <- stats::setNames(found$answers, sides)
  if (across == everybody) answers$across <- rep(1L, nrow(survey$data))
  new_tally(questions, survey$design, found$cells, found$aside,
            sum(found$aside$records) + sum(found$cells$records),
            tally_facts(survey, answers, survey$ready[[facts_ready]]))
}

check_questions <- function(down, across, each, roles, call) {
  for (arg in c("down", "across")) if (is.null(get(arg))) {
    stop_input(tells("must_name_question", arg), "column_name", call = call)
  }
  asked <- c(down = down, across = across, each = each)
  twice <- asked[duplicated(asked)]
  if (length(twice)) {
    stop_input(c(tells("asked_twice", twice[1L],
                       names(asked)[asked == twice[1L]][1L], names(twice)[1L]),
                 i = tells("question_against_itself_says_nothing")),
               "same_column", call = call)
  }
  for (role in c("weight", "count", "id")) {
    hit <- names(asked)[asked %in% roles[[role]]]
    if (length(hit)) {
      stop_input(c(tells("column_cannot_too", roles[[role]], role, hit[1L]),
                   i = tells("name_a_question")), "same_column", call = call)
    }
  }
}

#' Add two tallies
#'
#' A tally of chunks of a file, of threads or of shards is the sum of theirs:
#' splitting the records in any way and merging gives the tally of them all, to
#' rounding. Answers, strata and clusters are matched by their labels. Ids that
#' occur once in each part are not seen as repeated: nothing in a tally could
#' show that.
#'
#' @param x,y (tallies) From [tally_of()], of the same questions and roles.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return A `fairlattice_tally`.
#' @section Errors: `fairlattice_error_merge` when the two are of different
#'   questions or designs.
#' @export
#' @examples
#' survey <- demo_records()
#' of <- function(rows) {
#'   tally_of(respondents(survey[rows, ], weight = weight), down = ferry, across = tenure)
#' }
#' both <- merge(of(1:1000), of(1001:nrow(survey)))
#' all.equal(both$cells, of(seq_len(nrow(survey)))$cells)
merge.fairlattice_tally <- function(x, y, ...) {
  nothing_else(...)
  call <- environment()
  check_class(y, "fairlattice_tally", "y", "tally_of()", call)
  for (part in c("down", "across", "each")) {
    if (!identical(x[[part]]$name, y[[part]]$name)) {
      stop_input(tells("tallies_different_questions_one_other", part,
                       quote_value(x[[part]]$name),
                       quote_value(y[[part]]$name)), "merge", call = call)
    }
  }
  if (!is.null(x$design$replicates$factors) ||
        !is.null(y$design$replicates$factors)) {
    stop_input(c(tells("tallies_replicates_made_design_cannot"),
                 i = tells("add_tallies_first_give_replicate")), "merge",
               call = call)
  }
  for (part in c("calibration", "stages", "imputations")) {
    if (!is.null(x$design[[part]]) || !is.null(y$design[[part]])) {
      stop_input(c(tells(c(calibration = "tallies_of_calibrated_weights",
                           stages = "tallies_of_several_stages",
                           imputations = "tallies_of_imputations")[[part]]),
                   i = tells("put_records_together_first")), "merge", call = call)
    }
  }
  same <-
    c("weighted", "stratified", "clustered", "single_cluster", "replicates")
  if (!identical(x$design[same], y$design[same])) {
    stop_input(tells("tallies_different_designs_one_weight"),
               "merge",
               call = call)
  }
  questions <- Map(merge_questions, x[c("down", "across", "each")],
                   y[c("down", "across", "each")])
  units <- merge_units(x$design, y$design)
  cells <-
    rbind(recode_cells(x, questions, units), recode_cells(y, questions, units))
  aside <- rbind(x$aside, y$aside)
  facts <- x$facts
  for (sum_of in c("repeated_ids", "repeated_records", "differing_ids")) {
    facts[[sum_of]] <- x$facts[[sum_of]] + y$facts[[sum_of]]
  }
  facts$cut <- x$facts$cut || y$facts$cut
  facts$sample <- NULL
  facts$among <- if (identical(x$facts$among, y$facts$among)) x$facts$among
  facts$source <- if (identical(x$facts$source, y$facts$source)) x$facts$source
  design <- x$design
  design$units <- units
  new_tally(questions, design,
            sum_by(cells, c("unit", "each", "across", "down"),
                   summed_columns(cells)),
            sum_by(aside, c("code", "detail"), "records"),
            x$records + y$records, facts)
}

merge_questions <- function(x, y) {
  if (is.null(x)) return(NULL)
  new <- !y$levels %in% x$levels
  for (part in c("levels", "missing", "values")) x[[part]] <-
    c(x[[part]], y[[part]][new])
  if (!is.null(x$items)) {
    if (!identical(x$items, y$items))
      stop_input(tells("tallies_different_items", x$label), "merge")
    x$ticked <- rbind(x$ticked, y$ticked[new, , drop = FALSE])
  }
  if (x$observed) { # observed answers are sorted, so a merge sorts them anew
    number <- suppressWarnings(as.numeric(x$levels))
    by_level <- if (anyNA(number)) order(x$levels, method = "radix") else
      order(number)
    for (part in c("levels", "missing", "values"))
      x[[part]] <- x[[part]][by_level]
  }
  x
}

merge_units <- function(x, y) {
  both <- rbind(x$units, y$units)
  sum_by(both, c("stratum", "cluster"), "sampled")
}

summed_columns <- function(cells) {
  intersect(c("records", "n", "w", "w2", "replicates", "auxiliary", "products"),
            names(cells))
}

unit_key <- function(units) paste(units$stratum, units$cluster, sep = "\r")

recode_cells <- function(tally, questions, units) {
  cells <- tally$cells
  cells$unit <- match(unit_key(tally$design$units), unit_key(units))[cells$unit]
  for (part in c("down", "across", if (!is.null(questions$each)) "each")) {
    at <- match(tally[[part]]$levels, questions[[part]]$levels)
    cells[[part]] <- c(0L, at)[cells[[part]] + 1L]
  }
  cells
}

# A tally of one question: across stands a single answer for everybody.
tally_alone <- function(survey, name, call, each = NULL) {
  check_questions(name, everybody, each, survey$roles, call)
  ready <- ready_tally(survey, name, everybody, each)
  if (!is.null(ready)) return(ready)
  survey <- grounded(survey, c(name, each), call)
  survey$data[[everybody]] <-
    structure(rep(1L, nrow(survey$data)), levels = "All", class = "factor")
  tally_columns(survey, name, everybody, each, call)
}

everybody_question <- function() {
  describe_question(structure(integer(), levels = "All", class = "factor"),
                    everybody)
}
