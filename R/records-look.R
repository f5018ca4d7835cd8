#' See the questions
#'
#' For every question its title, answers with counts and shares of those who answered, and the missing ones by reason;
#' for a number its range and quartiles.
#'
#' @param x (data frame or panel) From [read_records()] or [respondents()].
#' @param question (character, default all) Names of the columns to look at.
#' @return Data frame of class `fairlattice_look`, one row an answer: `question`, `title`, `type` ("answers", "ordered
#'   answers", "number", "text"), `answer`, `n` (records), `share` (0-1, of those with an answer; `NA` for reasons),
#'   `missing` (TRUE for a reason for no answer).
#' @section Errors: `fairlattice_error_no_column`.
#' @export
#' @examples
#' look(demo_records(), "ferry")
look <- function(x, question = NULL) {
  call <- environment()
  data <- if (inherits(x, "fairlattice_panel")) x$data else x
  if (!is.data.frame(data)) stop_input(sprintf("`x` must be a data frame or a panel, not %s.", quote_value(x)), "class", call = call)
  for (name in question) check_column(name, data, "question", call)
  rows <- lapply(question %||% names(data), function(name) look_column(data[[name]], name))
  structure(do.call(rbind, rows), class = c("fairlattice_look", "data.frame"), records = nrow(data))
}

# More different values than this are summed up, not listed.
look_at_most <- 30L

look_column <- function(x, name) {
  title <- attr(x, "label", exact = TRUE) %||% name
  row <- function(type, answer, n, share = NA_real_, missing = FALSE) {
    if (length(answer)) data.frame(question = name, title, type, answer, n, share, missing)
  }
  if (is.numeric(x) && is.null(attr(x, "labels", exact = TRUE))) return(rbind(look_number(x, row), look_missing(x, row)))
  if (!is.factor(x) && length(unique(x)) > look_at_most) {
    text <- as.character(x)
    blank <- is.na(text) | !nzchar(text)
    return(rbind(row("text", sprintf("%s different values", format_count(length(unique(text[!blank])))), sum(!blank)),
                 row("text", "no answer"[any(blank)], sum(blank), missing = TRUE)))
  }
  answers <- tryCatch(as_answers(x, name), fairlattice_error = function(e) NULL)
  if (is.null(answers)) return(row(class(x)[1L], sprintf("%s different values", format_count(length(unique(x)))), sum(!is.na(x))))
  counts <- tabulate(as.integer(answers), nlevels(answers))
  reason <- levels(answers) %in% attr(answers, "missing")
  type <- if (is.ordered(answers)) "ordered answers" else "answers"
  none <- sum(is.na(as.integer(answers)))
  rbind(row(type, levels(answers)[!reason], counts[!reason], counts[!reason] / max(1L, sum(counts[!reason]))),
        row(type, c(levels(answers)[reason], "no answer")[c(counts[reason], none) > 0L], c(counts[reason], none)[c(counts[reason], none) > 0L], missing = TRUE))
}

look_number <- function(x, row) {
  values <- as.vector(unclass(x))
  values <- values[!is.na(values)]
  if (!length(values)) return(row("number", "no values", 0L))
  at <- number_text(signif(stats::quantile(values, 0:4 / 4, names = FALSE), 6L))
  row("number", sprintf("%s to %s, quartiles %s, %s, %s", at[1L], at[5L], at[2L], at[3L], at[4L]), length(values))
}

look_missing <- function(x, row) {
  counts <- if (inherits(x, "fairlattice_number")) table_of_reasons(x) else c("no answer" = sum(is.na(x)))
  counts <- counts[counts > 0L]
  row("number", names(counts), unname(counts), missing = TRUE)
}

#' @export
`[.fairlattice_look` <- function(x, ...) {
  class(x) <- "data.frame"
  x[...]
}
