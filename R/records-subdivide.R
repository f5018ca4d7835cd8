# One question within another: each answer of the one subdivided by the answers
# of the other.

#' One question within another
#'
#' Internet use within age group, say: a new question whose answers are the
#' pairs of both. Across the top of a table its answers stand under headings of
#' the first question, and letters compare the answers under the same heading.
#' Who lacks an answer to either has none to the new question, for the same
#' reason.
#'
#' @param x (data frame or survey) What has the questions.
#' @param question,by (column names, see [fairlattice]) The question that gives
#'   the headings, and the one that stands within each of them.
#' @param name (string, default the two names with `_by_` between) What the new
#'   question is called.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Like `x`, with the new question.
#' @section Errors: `fairlattice_error_subdivide` for tick-all questions, a
#'   question by itself, or a name that is taken.
#' @export
#' @examples
#' survey <- subdivide(demo_records(), leave, by = internet)
#' lay_out(crosstab(survey, down = ferry, across = leave_by_internet), marks = "letters")
subdivide <- function(x, question, by, name = NULL, ...) {
  nothing_else(...)
  call <- environment()
  data <- data_of(x, call)
  outer <- column_named(named_by(question), data, "question", call)
  inner <- column_named(named_by(by), data, "by", call)
  if (is.null(outer) || is.null(inner))
    stop_input(tells("question_name_questions"), "column_name", call = call)
  if (outer == inner)
    stop_subdivide(tells("cannot_subdivided_itself", outer), call)
  name <- name %||% paste0(outer, "_by_", inner)
  if (!is.character(name) || length(name) != 1L || is.na(name) || !nzchar(name))
    stop_subdivide(tells("name_one_text_not", quote_value(name)), call)
  if (name %in% names(data))
    stop_subdivide(c(tells("column_already", name),
                     i = tells("give_another_name")), call)
  out <- with_made(x, name, c(outer, inner), function(columns, ...) {
    column <- subdivided(as_answers(columns[[1L]], outer, call),
                         as_answers(columns[[2L]], inner, call))
    if (is.null(column))
      stop_subdivide(tells("tick_all_question_not_subdivided"), call)
    attr(column, "label") <- words("subdivided",
                                   question = label_of(columns[[1L]]) %||%
                                     outer,
                                   by = label_of(columns[[2L]]) %||% inner)
    column
  })
  noted(out, x, "subdivide", list(question = outer, by = inner, name = name))
}

subdivided <- function(outer, inner) {
  if (!is.null(attr(outer, "items", exact = TRUE)) ||
        !is.null(attr(inner, "items", exact = TRUE))) return(NULL)
  known_answers <- function(answers) {
    missing <- as.character(attr(answers, "missing", exact = TRUE))
    shown <- setdiff(levels(answers), missing)
    text <- levels(answers)[as.integer(answers)]
    list(missing = missing, shown = shown, at = match(text, shown),
         reason = ifelse(text %in% missing, text, NA))
  }
  outer <- known_answers(outer)
  inner <- known_answers(inner)
  pairs <- list2DF(list(outer = rep(outer$shown, each = length(inner$shown)),
                        inner = rep(inner$shown, length(outer$shown))))
  codes <- (outer$at - 1L) * length(inner$shown) + inner$at
  # a pair that nobody gave is no answer that was offered
  given <- sort(unique(codes))
  pairs <- pairs[given, ]
  codes <- match(codes, given)
  combined <- paste(pairs$outer, pairs$inner, sep = ", ")
  missing <- setdiff(unique(c(outer$missing, inner$missing)), combined)
  reason <- ifelse(is.na(outer$reason), inner$reason, outer$reason)
  codes[is.na(codes)] <- length(combined) + match(reason[is.na(codes)], missing)
  out <- new_answers(as.integer(codes), c(combined, missing), missing = missing)
  structure(out, headings = list2DF(c(list(answer = combined), pairs)))
}

stop_subdivide <- function(message, call) {
  stop_input(message, "subdivide", call = call)
}
