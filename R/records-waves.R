#' Waves: from one record a person to one record a person and wave
#'
#' Columns such as `ferry_1`, `ferry_2` become one column `ferry` and a column
#' that says the wave. A wave in which somebody answered none of the questions
#' has no record of theirs. Afterwards a person has several records: name `id`
#' in [respondents()], and use clusters of persons or [one_per()], or every test
#' counts one person several times.
#'
#' @param x (data frame) One record a person.
#' @param questions (character) The beginnings of the columns' names:
#'   `c("ferry", "internet")`.
#' @param sep (string, default "_") What stands between beginning and wave.
#' @param wave (string, default "wave") Name of the new column; its answers are
#'   in the order of the waves.
#' @param waves (character, default all in the order of the columns) Which waves,
#'   in their order: `c("2028", "2030")`.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame with the other columns repeated.
#' @section Errors: `fairlattice_error_waves` when a question has no columns, or
#'   its waves differ from the others'.
#' @export
#' @examples
#' wide <- data.frame(id = 1:2, ferry_2030 = c("Good", "Bad"), ferry_2031 = c("Good", NA))
#' waves_long(wide, "ferry")
waves_long <- function(x, questions, sep = "_", wave = "wave", waves = NULL,
                       ...) {
  nothing_else(...)
  call <- environment()
  check_data_frame(x, call)
  asked_for <- waves
  waves <- lapply(questions, function(question) {
    start <- paste0(question, sep)
    found <- substring(names(x)[startsWith(names(x), start)], nchar(start) + 1L)
    if (!length(found))
      stop_input(c(tells("no_column_begins", start),
                   did_you_mean(start, names(x), "columns")), "waves",
                 call = call)
    absent <- setdiff(as.character(asked_for), found)
    if (length(absent))
      stop_input(c(tells("no_column_begins", paste0(start, absent[1L])),
                   did_you_mean(absent[1L], found, "waves")), "waves",
                 call = call)
    if (is.null(asked_for)) found else unique(as.character(asked_for))
  })
  for (k in seq_along(waves)[-1L]) if (!setequal(waves[[1L]], waves[[k]])) {
    odd <- c(setdiff(waves[[1L]], waves[[k]]), setdiff(waves[[k]], waves[[1L]]))
    stop_input(tells("questions_differ_in_one_wave", questions[1L],
                     questions[k], odd[1L]), "waves", call = call)
  }
  columns <- function(which) paste0(questions, sep, which)
  of_waves <- unlist(lapply(paste0(questions, sep), function(start) {
    names(x)[startsWith(names(x), start)]
  }))
  rest <- x[setdiff(names(x), of_waves)]
  parts <- lapply(waves[[1L]], function(which) {
    asked <- x[columns(which)]
    # a reason such as "Don't know" is an answer here
    answered <-
      Reduce(`|`, lapply(asked, function(column) !is.na(as.character(column))))
    names(asked) <- questions
    of_wave <- stats::setNames(data.frame(rep(which, nrow(x))), wave)
    cbind(rest, of_wave, asked)[answered, , drop = FALSE]
  })
  check_same_answers(parts, questions, call)
  out <- do.call(rbind,
                 lapply(parts, function(part) {
                   part[questions] <- lapply(
                     part[questions], function(column) {
                       if (is.factor(column)) as.character(column) else column
                     })
                   part
                 }))
  for (question in questions) out[[question]] <-
    like_first(out[[question]], parts[[1L]][[question]])
  out[[wave]] <- factor(out[[wave]], waves[[1L]], ordered = TRUE)
  rownames(out) <- NULL
  noted(out, x, "waves_long")
}

check_same_answers <- function(parts, questions, call) {
  for (question in questions) for (part in parts[-1L]) {
    if (is.factor(part[[question]]) &&
          !identical(levels(part[[question]]),
                     levels(parts[[1L]][[question]]))) {
      stop_input(tells("answers_not_same_every_wave", question), "waves",
                 call = call)
    }
  }
}

# The stacked column with the levels, reasons and title of its first wave.
like_first <- function(column, first) {
  if (!is.factor(first)) return(column)
  codes <- match(column, levels(first))
  if (!inherits(first, "fairlattice_answers"))
    return(factor(levels(first)[codes], levels(first),
                  ordered = is.ordered(first)))
  new_answers(codes, levels(first), attr(first, "missing"),
              attr(first, "label"), is.ordered(first), attr(first, "values"))
}
