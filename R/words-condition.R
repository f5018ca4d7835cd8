# A condition in words, for the line that says who is in a table: "Age: 18 or
# more; Island: Norrey or Tarn". It is parsed and never evaluated; what is no
# comparison of a column with values stays as it was written.

condition_in_words <- function(condition, names, labels) {
  tree <- tryCatch(parse(text = condition, keep.source = FALSE,
                         encoding = "UTF-8"), error = function(e) NULL)
  if (length(tree) != 1L) return(condition)
  condition_part(tree[[1L]], stats::setNames(labels, names))
}

condition_part <- function(node, labels) {
  word <- if (is.call(node) && is.symbol(node[[1L]]))
    as.character(node[[1L]]) else ""
  parts <- if (is.call(node)) as.list(node)[-1L] else list()
  if (word == "(") return(condition_part(parts[[1L]], labels))
  if (word == "!" && is_no_answer(parts[[1L]], labels))
    return(compared_words(parts[[1L]][[2L]], words("condition.answered"),
                          labels))
  if (word == "!")
    return(words("condition.not", part = condition_part(parts[[1L]], labels)))
  if (is_no_answer(node, labels))
    return(compared_words(parts[[1L]], words("condition.no_answer"), labels))
  if (word %in% c("&", "|") && length(parts) == 2L)
    return(words(c("&" = "condition.and", "|" = "condition.or")[[word]],
                 parts = vapply(chain_of(node, word), joined_part, "",
                                within = word, labels = labels)))
  if (word %in% names(comparison_words) && length(parts) == 2L) {
    if (!is_column(parts[[1L]], labels)) { # 18 <= age
      parts <- rev(parts)
      word <- mirrored[[word]]
    }
    values <- if (is_column(parts[[1L]], labels)) values_in(parts[[2L]])
    if (!is.null(values))
      return(compared_words(parts[[1L]], comparison_in_words(word, values),
                            labels))
  }
  rlang::expr_deparse(node, width = 500L)[1L]
}

comparison_words <- list(
  ">=" = c(number = "at_least", answer = "from"),
  ">" = c(number = "more", answer = "above"),
  "<=" = c(number = "at_most", answer = "up_to"),
  "<" = c(number = "less", answer = "below"),
  "==" = c(number = "equal", answer = "equal"),
  "!=" = c(number = "other", answer = "other"),
  "%in%" = c(number = "one_of", answer = "one_of"))

mirrored <- c(">=" = "<=", ">" = "<", "<=" = ">=", "<" = ">", "==" = "==",
              "!=" = "!=", "%in%" = "")

comparison_in_words <- function(word, values) {
  text <- if (is.numeric(values)) number_text(values) else as.character(values)
  name <- paste0("condition.",
                 comparison_words[[word]][[if (is.numeric(values)) "number" else "answer"]])
  if (word == "%in%") words(name, values = text) else words(name, value = text)
}

compared_words <- function(column, what, labels) {
  words("condition.compared", label = labels[[as.character(column)]],
        what = what)
}

is_column <- function(node, labels) {
  is.symbol(node) && as.character(node) %in% names(labels)
}

is_no_answer <- function(node, labels) {
  rlang::is_call(node, "is.na", n = 1L) && is_column(node[[2L]], labels)
}

# Alternatives among conditions that all hold stand in brackets.
joined_part <- function(node, within, labels) {
  bare <- node
  while (rlang::is_call(bare, "(")) bare <- bare[[2L]]
  text <- condition_part(bare, labels)
  if (rlang::is_call(bare, c("&", "|")) && !rlang::is_call(bare, within))
    sprintf("(%s)", text) else text
}

# a & b & c hangs down to the left.
chain_of <- function(node, word) {
  terms <- list()
  while (rlang::is_call(node, word, n = 2L)) {
    terms <- c(list(node[[3L]]), terms)
    node <- node[[2L]]
  }
  c(list(node), terms)
}

# One constant, or those of c(...); NULL where it is anything else.
values_in <- function(node) {
  if (is.atomic(node) && length(node) == 1L) return(node)
  if (rlang::is_call(node, "(")) return(values_in(node[[2L]]))
  if (rlang::is_call(node, "-", n = 1L) && is.numeric(node[[2L]]))
    return(-node[[2L]])
  if (!rlang::is_call(node, "c")) return(NULL)
  values <- lapply(as.list(node)[-1L], values_in)
  if (any(vapply(values, is.null, NA))) NULL else unlist(values)
}
