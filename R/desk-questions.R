# The questions of a survey as the desk lists them: what each is, how many
# answered it, and a tiny picture.

# A column of a survey as it is met. Of records that stay where they are, it is asked for
# when it is looked at, and again when a step has made it anew.
met_column <- function(survey, name) {
  if (!is_far(survey)) return(survey$data[[name]])
  made <- any(vapply(survey$steps, function(step) name %in% step$makes, NA))
  if (!made && !is.null(survey$met[[name]])) return(survey$met[[name]])
  once(survey$met, hash_of(survey$made, name), NULL, columns_met(survey, name)[[1L]])
}

met_columns <- function(survey) {
  names <- names(survey$data)
  lapply(stats::setNames(names, names), met_column, survey = survey)
}

# One row a question: name, title and what it is, for all columns of the survey.
questions_listed <- function(survey) {
  columns <- names(survey$data)
  list2DF(list(name = columns,
               title = vapply(columns, question_title, "", survey = survey),
               kind = unname(vapply(met_columns(survey), listed_kind, ""))))
}

question_title <- function(survey, name) {
  first_line(title_of(survey$data[[name]], name))
}

# Of a long column the beginning tells what it is.
listed_kind <- function(x) {
  if (!is.null(attr(x, "items", exact = TRUE))) return("ticks")
  if (!is_plain(x)) return("other")
  kind <-
    question_kind(if (is.factor(x)) x else x[seq_len(min(length(x), 20000L))])
  if (kind == "answers" && is.ordered(x)) "ordered" else kind
}

# The base of a question and bars of its answers' shares; of a number its
# smallest value, median and largest in place of bars.
question_picture <- function(survey, name) {
  x <- met_column(survey, name)
  kind <- listed_kind(x)
  if (kind == "number") return(number_picture(survey, name))
  if (!kind %in% c("answers", "ordered", "ticks"))
    return(list(n = if (is_plain(x)) attr(x, "answered", exact = TRUE) %||% sum(!is.na(x)),
                shares = numeric()))
  found <- tryCatch(question_answers(survey, name),
                    fairlattice_error = function(e) NULL)
  if (is.null(found)) return(list(n = NA, shares = numeric()))
  list(n = found$base,
       shares = if (any(found$n > 0)) found$share else numeric())
}

number_picture <- function(survey, name) {
  if (is_far(survey)) survey <- surveys_of_questions(survey, name)[[1L]]
  x <- survey$data[[name]]
  values <- as.numeric(as.vector(unclass(x)))
  values[is.infinite(values)] <- NA
  seen <- value_sums(survey, values)
  if (!length(seen$value)) return(list(n = seen$n, shares = numeric()))
  range <- number_text(signif(five_numbers(seen)[c(1L, 3L, 5L)], 3L))
  list(n = seen$n, shares = numeric(),
       range = paste(range, collapse = " \u2026 "))
}

# The answers of a question with what each weighs, as the editor of answers
# shows them; `left` are those without one.
question_answers <- function(survey, name) {
  column <- met_column(survey, name)
  kind <- listed_kind(column)
  if (kind == "number")
    return(list(kind = kind, picture = number_picture(survey, name)))
  answers <- as_answers(column, name, NULL)
  tally <- tally_alone(survey, name, NULL)
  layer <- layers_of(tally, TRUE)[[1L]]
  account <- account_of(tally)
  if (is_battery(survey, name)) {
    # the answers of all statements together
    battery <- battery_in(survey, name)
    given <- column_sums(layer$weighted)
    return(list(kind = if (battery$ordered) "ordered" else "answers",
                answers = answers_across(layer), n = column_sums(layer$n),
                share = given / sum(given), base = sum(layer$base$records),
                nets = battery$nets, scores = battery$scores,
                left = reasons_frame(account$left_out)))
  }
  list(kind = if (kind == "answers" && is.ordered(answers)) "ordered" else kind,
       answers = answers_down(layer), n = as.vector(layer$n),
       share = as.vector(layer$weighted) / layer$base$weighted,
       base = layer$base$n, nets = attr(answers, "nets", exact = TRUE),
       scores = attr(answers, "scores", exact = TRUE),
       left = reasons_frame(account$left_out))
}
