# Scores: what the answers of a question count for when they are averaged.

#' Means of a question
#'
#' Answers are never averaged unasked. `score()` says what each counts for (its
#' code, or what is given), and every table of the question down the side then
#' shows the mean with its interval, the standard deviation and the median under
#' the percentages. A number (age, income) needs no bands then: its table has
#' the summary alone, and its test is whether the means of the columns are
#' equal.
#'
#' @param x (data frame or survey) What has the question.
#' @param question (column name, see [fairlattice]) Which question.
#' @param scores (numbers, named by the answers or in their order; default, of
#'   ordered answers, the codes of the codebook, or 1, 2, 3, ...) What the
#'   answers count for. `NULL` of a number: the number itself.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Like `x`, with the question changed.
#' @section Errors: `fairlattice_error_score` for scores that do not fit, or
#'   answers without an order and without
#'   scores.
#' @seealso [means()]
#' @export
#' @examples
#' survey <- score(score(demo_records(), ferry), age)
#' crosstab(survey, down = ferry, across = island)
#' crosstab(survey, down = age, across = island)
score <- function(x, question, scores = NULL, ...) {
  nothing_else(...)
  call <- environment()
  data <- data_of(x, call)
  name <- question_named(named_by(question), data, call)
  check_plain(data[[name]], name, "question", call)
  out <- with_made(x, name, name, function(columns, ...) {
    with_scores(columns[[1L]], scores, name, call)
  })
  noted(out, x, "score", list(question = name, scores = scores_noted(scores, data[[name]], name)))
}

# In the order of the answers, however they were given.
scores_noted <- function(scores, column, name) {
  if (is.null(names(scores))) return(if (length(scores)) as.list(scores))
  as.list(unname(scores[answers_to(as_answers(column, name))]))
}

with_scores <- function(column, scores, name, call) {
  if (is.numeric(column) && !is.factor(column) &&
        is.null(attr(column, "labels", exact = TRUE))) {
    if (!is.null(scores))
      stop_score(tells("number_counts_itself_leave_scores", name), call)
    attr(column, "summed") <- TRUE
    return(column)
  }
  answers <- as_answers(column, name, call)
  if (!is.null(attr(answers, "items", exact = TRUE)))
    stop_score(tells("ticks_tick_all_question_no"), call)
  keeping(answers, "scores",
          checked_scores(scores, answers, answers_to(answers), name, call))
}

# One number an answer, named by it.
checked_scores <- function(scores, answers, shown, name, call) {
  if (is.null(scores)) {
    ordered <- attr(answers, "battery", exact = TRUE)$ordered %||% is.ordered(answers)
    if (!ordered) {
      stop_score(c(tells("answers_no_order_no_scores", name),
                   i = tells("give_scores_c_answer_1")), call)
    }
    codes <- suppressWarnings(as.numeric(
      attr(answers, "battery", exact = TRUE)$values %||%
        attr(answers, "values", exact = TRUE)[match(shown, levels(answers))]))
    if (length(codes) == length(shown) && !anyNA(codes))
      return(stats::setNames(codes, shown))
    return(stats::setNames(as.numeric(seq_along(shown)), shown))
  }
  if (!is.numeric(scores) || any(!is.finite(scores)) ||
        length(scores) != length(shown)) {
    stop_score(tells("scores_numbers_one_every_answer", length(shown), name,
                     list_some(shown)), call)
  }
  if (is.null(names(scores))) return(stats::setNames(as.numeric(scores), shown))
  unknown <- setdiff(names(scores), shown)
  if (length(unknown)) {
    stop_score(c(tells("question_has_no_answer", name, unknown[1L]),
                 did_you_mean(unknown[1L], shown, "answers")), call)
  }
  scores[shown]
}

stop_score <- function(message, call) stop_input(message, "score", call = call)
