# What a user asks for: a plan from a file, or of R objects.

#' Read a tab plan
#'
#' A tab plan is a YAML file that says all of a survey's tables: the records,
#' who was asked, how questions are prepared, what runs across the top of every
#' table, the chapters with their tables, and what is made of them. Every key
#' may be left out but `chapters`. All faults are told at once, with line and
#' column and the nearest key, question or answer that is known. Nothing in a
#' plan is run. Editors check and complete plans by the JSON Schema of
#' `demo_file("plan.schema.json")`.
#'
#' Conditions (`among`) speak of the questions as they are after `prepare`.
#' Files are looked for beside the plan. Where a section has a file, title or
#' list of questions alone, that may stand in its place: `records: veyra.csv`.
#'
#' @eval plan_help()
#' @param file (string) Path of a YAML file.
#' @param records (path or data frame, default what the plan says) Other
#'   records, such as those of another wave.
#' @param before (path, data frame or list, default what the plan says) The
#'   records of the wave before; of both waves in one file, a list of
#'   `question`, and its answers `then` and `now`.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return A plan (class `fairlattice_plan`) with the records read and prepared,
#'   for [book()]. Print it to see what would be made.
#' @section Errors: `fairlattice_error_plan`, whose `faults` is a data frame of
#'   `line`, `column`, `key` and `message`.
#' @export
#' @examples
#' read_plan(demo_file("veyra.plan.yml"))
read_plan <- function(file, records = NULL, before = NULL, ...) {
  nothing_else(...)
  call <- environment()
  plan <- parsed_plan(file, call)
  plan <- prepared_plan(plan, records, before, call)
  stop_faults(plan, call)
  plan
}

#' A tab plan of R objects
#'
#' The same as [read_plan()] for records that are in R already.
#'
#' @param x (survey or data frame) From [respondents()], with its questions
#'   prepared.
#' @param across (column names, default none) The questions across the top of
#'   every table.
#' @param chapters (list) Chapters by their titles, each a character vector of
#'   questions (or patterns), or a list of tables, each a list with the keys of
#'   [read_plan()]. By default one chapter with every question.
#' @param defaults (list) Settings of all tables, see [read_plan()].
#' @param title (string) Title of the book.
#' @param before (survey or data frame, default none) The wave before, prepared
#'   alike.
#' @param called (two strings) What the wave before and this one are called.
#' @param style ([house_style()]) The house style.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return A plan, as [read_plan()] gives it.
#' @section Errors: `fairlattice_error_plan`.
#' @export
#' @examples
#' survey <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement)
#' plan_of(survey, across = c(island, tenure),
#'         chapters = list("At home" = c("heating", "internet")))
plan_of <- function(x, across = NULL, chapters = NULL, defaults = list(),
                    title = NULL, before = NULL, called = NULL, style = NULL,
                    ...) {
  nothing_else(...)
  call <- environment()
  survey <- as_survey(x)
  across <- columns_named(named_by(across), survey$data, "across", call)
  if (is.null(chapters))
    chapters <- stats::setNames(list(every_question), title %||% "Questions")
  if (!is.list(chapters) || is.null(names(chapters)) ||
        any(!nzchar(names(chapters))))
    stop_input(c(tells("chapters_list_named_titles_chapters"),
                 i = tells("write_list_home_c_heating")), "plan", call = call)
  keys <- list(title = title, across = as.list(across),
               defaults = as_listing(defaults),
               chapters = unname(Map(function(title, tables) {
                 list(title = title,
                      tables = if (is.list(tables))
                        as_listing(unname(tables)) else
                        list(list(questions = as.list(tables))))
               }, names(chapters), chapters)),
               before = if (!is.null(called)) list(called = as.list(called)))
  plan <- checked_plan(Filter(length, keys), "the plan")
  if (!is.null(style)) plan$style <- as_style(style, call)
  plan <- prepared_plan(plan, survey, before, call)
  stop_faults(plan, call)
  plan
}

# Vectors as the lists that a YAML file would give.
as_listing <- function(x) {
  lapply(x, function(one) {
    if (is.list(one)) as_listing(one) else if (length(one) > 1L)
      as.list(one) else one
  })
}
