# The questions of a panel as the desk lists them: what each is, how many answered it, and a tiny picture.

# One row a question: name, title and what it is, for all columns of the panel.
questions_listed <- function(panel) {
  names <- names(panel$data)
  kinds <- vapply(panel$data, listed_kind, "")
  list2DF(list(name = names, title = vapply(names, function(name) first_line(title_of(panel$data[[name]], name)), ""),
               kind = unname(kinds)))
}

# Of a long column the beginning tells what it is.
listed_kind <- function(x) {
  if (!is.null(attr(x, "items", exact = TRUE))) return("ticks")
  if (!is_plain(x)) return("other")
  kind <- question_kind(if (is.factor(x)) x else x[seq_len(min(length(x), 20000L))])
  if (kind == "answers" && is.ordered(x)) "ordered" else kind
}

# The base of a question and bars of its answers' shares (of a number, of ten equal parts of its range); no bars where
# there are none to draw.
question_picture <- function(panel, name) {
  x <- panel$data[[name]]
  kind <- listed_kind(x)
  if (kind == "number") return(number_picture(panel, x))
  if (!kind %in% c("answers", "ordered", "ticks"))
    return(list(n = if (is_plain(x)) sum(!is.na(x)), shares = numeric()))
  tally <- tryCatch(tally_alone(panel, name, NULL), fairlattice_error = function(e) NULL)
  if (is.null(tally)) return(list(n = NA, shares = numeric()))
  layer <- layers_of(tally, TRUE)[[1L]]
  sums <- as.vector(layer$weighted)
  list(n = layer$base$n, shares = if (sum(sums) > 0) sums / layer$base$weighted else numeric())
}

number_picture <- function(panel, x) {
  values <- as.numeric(as.vector(unclass(x)))
  values[is.infinite(values)] <- NA
  seen <- value_sums(panel, values)
  if (length(seen$value) < 2L) return(list(n = seen$n, shares = numeric()))
  range <- range(seen$value)
  part <- pmin(10L, 1L + floor(10 * (seen$value - range[1L]) / diff(range)))
  sums <- sum_by_cell_kernel(as.integer(part), as.numeric(seen$weight), 10L)
  list(n = seen$n, shares = sums / sum(sums))
}

# The answers of a question with what each weighs, as the editor of answers shows them; `left` are those without one.
question_answers <- function(panel, name) {
  column <- panel$data[[name]]
  kind <- listed_kind(column)
  if (kind == "number") return(list(kind = kind, picture = number_picture(panel, column)))
  answers <- as_answers(column, name, NULL)
  tally <- tally_alone(panel, name, NULL)
  layer <- layers_of(tally, TRUE)[[1L]]
  account <- account_of(tally)
  list(kind = if (kind == "answers" && is.ordered(answers)) "ordered" else kind, answers = answers_down(layer),
       n = as.vector(layer$n), share = as.vector(layer$weighted) / layer$base$weighted, base = layer$base$n,
       nets = attr(answers, "nets", exact = TRUE), scores = attr(answers, "scores", exact = TRUE),
       left = reasons_frame(account$left_out))
}
