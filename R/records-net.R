# Nets: answers taken together, kept with the question.

#' Nets: subtotals beside their parts
#'
#' A net takes answers together ("Satisfied" for "Satisfied" and "Very
#' satisfied"). It is kept with the question, and every table of the question
#' shows it beside its parts, never instead of them: with its percentage and
#' interval, its residual mark and its letters, each worked out as if the
#' answers had been combined by [regroup()]. Tests and measures of the table are
#' of the answers; nets take no part in them. Nets of a tick-all question are of
#' those who ticked any of the items. A net of answers that are combined later
#' follows them; one that is cut in two is an error.
#'
#' @param x (data frame or survey) What has the question.
#' @param question (column name, see [fairlattice]) Which question.
#' @param ... The nets: `Satisfied = c("Satisfied", "Very satisfied")`. `Name =
#'   NULL` takes a net away.
#' @return Like `x`, with the question changed.
#' @section Errors: `fairlattice_error_net` (a net without a name, or of the
#'   name of an answer), and
#'   `fairlattice_error_no_answer` for an unknown answer.
#' @export
#' @examples
#' survey <- net(demo_records(), ferry, Satisfied = c("Satisfied", "Very satisfied"),
#'               Dissatisfied_all = c("Dissatisfied", "Very dissatisfied"))
#' crosstab(survey, down = ferry, across = island)
net <- function(x, question, ...) {
  call <- environment()
  data <- data_of(x, call)
  name <- question_named(named_by(question), data, call)
  nets <- list(...)
  check_plain(data[[name]], name, "question", call)
  out <- with_made(x, name, name, function(columns, ...) {
    with_nets(as_answers(columns[[1L]], name, call), nets, name, call)
  })
  noted(out, x, if (all(lengths(nets))) "net" else "net(NULL)",
        list(question = name, nets = nets))
}

with_nets <- function(column, nets, name, call) {
  known <- attr(column, "items", exact = TRUE) %||% answers_to(column)
  if (is.null(attr(column, "items", exact = TRUE)))
    nets <- lapply(nets, function(net) {
      if (is.character(net)) unique(answers_called(net, column)) else net
    })
  check_nets(nets, known, name, call)
  keeping(column, "nets", utils::modifyList(as.list(kept_with(column, "nets")), nets))
}

check_nets <- function(nets, known, name, call) {
  if (!length(nets) || is.null(names(nets)) || any(!nzchar(names(nets)))) {
    stop_input(c(tells("every_net_needs_name"),
                 i = tells("write_satisfied_c_satisfied_very")), "net",
               call = call)
  }
  for (net in names(nets)) {
    answers <- nets[[net]]
    if (is.null(answers)) next
    if (!is.character(answers) || !length(answers) || anyNA(answers) ||
          anyDuplicated(answers)) {
      stop_input(tells("net_answers_each_named_once", net,
                       quote_value(answers)), "net", call = call)
    }
    unknown <- setdiff(answers, known)
    if (length(unknown)) {
      stop_input(c(tells("question_has_no_answer", name, unknown[1L]),
                   did_you_mean(unknown[1L], known, "answers")), "no_answer",
                 column = name, value = unknown[1L], call = call)
    }
    if (length(answers) == length(known)) {
      stop_input(tells("net_takes_all_answers_everybody", net, name), "net",
                 call = call)
    }
  }
}
