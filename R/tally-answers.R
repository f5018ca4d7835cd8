# Answers: a factor that knows which of its levels are reasons for having no answer ("Don't know", "Not asked").
# is.na() is TRUE for those, yet the reason is kept; and because the reasons are levels, not a vector beside the
# codes, slicing the column in any way keeps them right.

new_answers <- function(codes, levels, missing = character(), label = NULL, ordered = FALSE, values = NULL) {
  structure(codes, levels = levels, missing = missing, label = label, values = values,
            class = c("fairlattice_answers", if (ordered) "ordered", "factor"))
}

#' @export
`[.fairlattice_answers` <- function(x, ..., drop = FALSE) {
  kept <- attributes(x)
  kept$names <- NULL
  codes <- unclass(x)
  attributes(codes) <- NULL
  out <- codes[...]
  attributes(out) <- kept
  out
}

#' @export
is.na.fairlattice_answers <- function(x) {
  codes <- as.integer(x)
  is.na(codes) | codes %in% which(levels(x) %in% attr(x, "missing"))
}

# Numbers whose missing values know their reason: the reason's index is in the bits of the NA itself, and `reasons`
# has the words. Arithmetic on them is missing, as it should be.
new_number <- function(x, reasons = character(), label = NULL) {
  structure(as.numeric(x), reasons = reasons, label = label, class = c("fairlattice_number", "numeric"))
}

#' @export
`[.fairlattice_number` <- function(x, ...) {
  out <- unclass(x)[...]
  attributes(out) <- c(attributes(out)["names"], attributes(x)[c("reasons", "label", "history", "class")])
  out
}

#' @export
print.fairlattice_number <- function(x, ...) {
  print(as.vector(unclass(x)), ...)
  reasons <- table_of_reasons(x)
  if (length(reasons)) cat("Missing: ", paste(reasons, names(reasons), collapse = "; "), "\n", sep = "")
  invisible(x)
}

# How many values are missing for each reason.
table_of_reasons <- function(x) {
  words <- c("no answer", attr(x, "reasons"))
  counts <- tabulate(reason_of_kernel(as.numeric(x)[is.na(x)]) + 1L, length(words))
  stats::setNames(counts, words)[counts > 0L]
}

number_answers <- function(x, label) {
  reasons <- attr(x, "reasons")
  values <- sort(unique(as.vector(unclass(x))))
  codes <- match(as.vector(unclass(x)), values)
  reason <- reason_of_kernel(as.numeric(x))
  codes[reason > 0L] <- length(values) + reason[reason > 0L]
  structure(new_answers(codes, c(number_text(values), reasons), missing = reasons, label = label), observed = TRUE)
}

number_text <- function(x) formatC(x, digits = 15L, format = "fg", width = 1L)

# An ordinary factor: reasons become plain NA.
plain_factor <- function(x) {
  if (!inherits(x, "fairlattice_answers")) return(x)
  factor(as.character(x), levels = setdiff(levels(x), attr(x, "missing")), ordered = is.ordered(x))
}

# Any column as a factor or answers: factors, characters, logicals, numbers, and coded numbers with `label`/`labels` attributes.
as_answers <- function(x, name, call = NULL) {
  if (is.factor(x)) return(x) # as it is: codes and levels are all that is needed, and nothing is copied
  label <- attr(x, "label", exact = TRUE)
  if (inherits(x, c("Date", "POSIXt", "difftime")) || is.list(x) || !is.null(dim(x))) {
    stop_input(c(sprintf("\"%s\" is a %s column, which has no answers to tabulate.", name, class(x)[1L]),
                 i = "Turn it into answers first: for dates, the month or the wave."), "column_type", column = name,
               call = call)
  }
  if (inherits(x, "fairlattice_number")) return(number_answers(x, label))
  if (is.logical(x)) return(new_answers(x + 1L, c("No", "Yes"), label = label))
  if (!is.null(attr(x, "labels", exact = TRUE))) return(labelled_answers(x, label))
  observed_answers(x, label)
}

# No declared answers: those that occur, sorted. Blank text is no answer.
observed_answers <- function(x, label) {
  if (is.character(x)) x[!is.na(x) & !nzchar(trimws(x))] <- NA
  values <- sort(unique(x), method = "radix")
  text <- if (is.numeric(x)) number_text(values) else as.character(values)
  structure(new_answers(match(x, values), text, label = label), observed = TRUE)
}

# Codes with a named vector of labels, and the codes that are declared missing.
labelled_answers <- function(x, label) {
  labels <- attr(x, "labels", exact = TRUE)
  values <- as.vector(unclass(x))
  range <- attr(x, "na_range", exact = TRUE)
  known <- unname(labels)
  extra <- setdiff(sort(unique(values)), known)
  codes <- c(known, extra)
  text <- make.unique(c(names(labels), as.character(extra)), sep = " / ")
  is_missing <- codes %in% attr(x, "na_values", exact = TRUE)
  if (length(range) == 2L) is_missing <- is_missing | (codes >= range[1L] & codes <= range[2L])
  new_answers(match(values, codes), text, missing = text[is_missing], label = label, values = codes)
}

# What the core keeps of a question beside its codes.
describe_question <- function(answers, name) {
  list(name = name, label = attr(answers, "label", exact = TRUE) %||% name, ordered = is.ordered(answers),
       levels = levels(answers), missing = levels(answers) %in% attr(answers, "missing"),
       values = as.character(attr(answers, "values") %||% levels(answers)),
       observed = isTRUE(attr(answers, "observed")), history = as.character(attr(answers, "history", exact = TRUE)),
       items = attr(answers, "items", exact = TRUE), item_names = attr(answers, "item_names", exact = TRUE), ticked = attr(answers, "ticked", exact = TRUE))
}

`%||%` <- function(x, y) if (is.null(x)) y else x
