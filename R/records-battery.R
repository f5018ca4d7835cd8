#' Statements with the same answers
#'
#' Makes one question of several columns that share their answers ("agree" to
#' "disagree" with five statements). In [crosstab()] it stands down. Alone it has
#' one row a statement, one column an answer, percentages of those who answered
#' the statement; with [net()] and [score()] of the battery also nets and means.
#' Whether the statements are answered alike (marginal homogeneity) is tested with
#' every respondent as a cluster of their own answers (or in the clusters of the
#' design), since the same people answer all of them; so are the letters that
#' compare statements.
#'
#' With a question across, every statement is a table of its own below the others
#' (see [below()]), with the nets and scores of the battery. Cut down to one net
#' or the mean (`only` of [lay_out()]) it is one line a statement.
#'
#' `battery(survey, say = c(say_council, say_ferry, say_homes))`.
#'
#' @param x (data frame or survey).
#' @param ... One new name, and the columns that it is made from.
#' @param answered ("any" or "all", default "any") Who is in it: whoever answered
#'   any of the statements, or only those who answered all of them.
#' @param label (string, default the beginning that the columns' titles share,
#'   or the new name) Title of the battery.
#' @return Like `x`, with the new question. Whoever answers no statement is left
#'   out; whoever answers some is in the rows of those, unless `answered` is "all".
#' @section Errors: `fairlattice_error_battery` for a column with an answer that
#'   the others do not have; `fairlattice_error_needs_records` for records that
#'   stay in a database.
#' @export
#' @examples
#' survey <- respondents(demo_records(), weight = weight, cluster = settlement)
#' survey <- battery(survey, say = c(say_council, say_ferry, say_homes, say_future))
#' crosstab(survey, down = say)
#' survey <- net(survey, say, Agree_in_all = c("Agree", "Strongly agree"))
#' lay_out(crosstab(survey, down = say, across = island), only = "nets")
battery <- function(x, ..., label = NULL, answered = c("any", "all")) {
  call <- environment()
  answered <- first_of(answered)
  check_choice(answered, c("any", "all"), "answered", call)
  data <- data_of(x, call)
  asked <- new_from_columns(rlang::enquos(...), data, call)
  if (is_far(x)) stop_needs_records(tells("a_battery"), x, call)
  out <- with_made(x, asked$name, asked$columns, function(columns, ...) {
    made_battery(columns, label %||% asked$name, is.null(label), answered, call)
  })
  noted(out, x, "battery", list(name = asked$name, columns = asked$columns, label = label,
                                answered = answered))
}

# A factor that says who answered a statement at all, with what the tally needs
# to know of the statements.
made_battery <- function(columns, label, from_titles, answered, call) {
  if (length(columns) < 2L)
    stop_input(tells("battery_two_statements"), "battery", call = call)
  statements <- Map(as_answers, columns, names(columns),
                    MoreArgs = list(call = call))
  given <- lapply(statements, function(x) {
    setdiff(levels(x), attr(x, "missing", exact = TRUE))
  })
  # the statement with the most answers knows their order
  fullest <- which.max(lengths(given))
  answers <- given[[fullest]]
  for (k in seq_along(given)) {
    odd <- setdiff(given[[k]], answers)
    if (length(odd))
      stop_input(c(tells("battery_other_answer", names(columns)[k], odd[1L],
                         names(columns)[fullest]),
                   i = tells("battery_regroup_first")), "battery",
                 column = names(columns)[k], call = call)
  }
  all <- answered == "all"
  inside <- Reduce(if (all) `&` else `|`, lapply(statements, function(x) !is.na(x)))
  reason <- unique(unlist(lapply(statements, attr, "missing", exact = TRUE)))
  reason <- if (all) "not all statements answered" else
    if (length(reason) == 1L) reason else "no statement answered"
  titles <- shared_beginning(mapply(title_of, columns, names(columns)))
  out <- new_answers(ifelse(inside, 1L, 2L), c("answered", reason),
                     missing = reason,
                     label = if (from_titles && nzchar(titles$start))
                       titles$start else label)
  values <- attr(statements[[fullest]], "values", exact = TRUE)
  attr(out, "battery") <-
    list(columns = names(columns), answers = answers,
         values = values[match(answers, levels(statements[[fullest]]))],
         ordered = all(vapply(statements, is.ordered, NA)), answered = answered)
  out
}
