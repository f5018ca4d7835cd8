# Columns as other programs give them: whole numbers of 64 bits, and numbers
# some of whose codes, or whose missing values with a tag, are declared reasons
# for no answer; and any column as answers. What stands here is the same for
# every source of records.

# The data frame with such columns as ordinary ones; others, and everything else
# of it, as they are.
as_known_columns <- function(data) {
  for (k in which(vapply(data, is_foreign, NA))) data[[k]] <-
    as_known_column(data[[k]])
  data
}

is_foreign <- function(x) {
  inherits(x, "integer64") ||
    is.numeric(x) && !is.factor(x) && declares_missing(x)
}

declares_missing <- function(x) {
  labels <- attr(x, "labels", exact = TRUE)
  !is.null(attr(x, "na_values", exact = TRUE)) ||
    !is.null(attr(x, "na_range", exact = TRUE)) ||
    is.double(labels) && anyNA(labels)
}

# A number whose labels are all of reasons is a number that knows them; one with
# labels of answers, too, is codes.
as_known_column <- function(x) {
  if (inherits(x, "integer64")) x <- plain_column(x)
  is_number <- is.numeric(x) && !is.factor(x) && declares_missing(x) &&
               !length(answer_labels(x))
  if (is_number) number_of_codes(x) else x
}

# The labels of codes that are answers.
answer_labels <- function(x) {
  labels <- attr(x, "labels", exact = TRUE)
  labels[!is.na(labels) & !is_missing_code(as.vector(labels), x)]
}

is_missing_code <- function(codes, x) {
  codes %in% attr(x, "na_values", exact = TRUE) |
    in_range(codes, attr(x, "na_range", exact = TRUE))
}

in_range <- function(codes, range) {
  if (!is.numeric(range) || length(range) != 2L || anyNA(range) ||
        !is.numeric(codes)) return(FALSE)
  !is.na(codes) & codes >= range[1L] & codes <= range[2L]
}

# A column of codes as a number: what is declared missing is so, and knows its
# reason; a label of an answer is gone.
number_of_codes <- function(x) {
  if (!is.numeric(x) || is.factor(x) || !declares_missing(x)) return(x)
  values <- as.double(as.vector(unclass(x)))
  labels <- attr(x, "labels", exact = TRUE)
  codes <- sort(unique(values[is_missing_code(values, x)]))
  tags <- tags_of(x)
  named <- function(at, else_called) {
    ifelse(is.na(at), else_called, names(labels)[at])
  }
  reasons <- c(named(match(codes, labels), number_text(codes)), names(tags))
  of_code <- match(values, codes)
  of_tag <- length(codes) + match(reason_of_kernel(values), tags)
  reason <- ifelse(is.na(of_code), of_tag, of_code)
  gone <- !is.na(reason)
  values[gone] <-
    missing_for_kernel(match(reasons, unique(reasons))[reason[gone]])
  new_number(values, unique(readable(reasons)), label_of(x))
}

# Tags of missing values that have a label, named by it: the tag stands in the
# bits of the NA itself, where a reason's index does (src/reasons.h).
tags_of <- function(x) {
  labels <- attr(x, "labels", exact = TRUE)
  if (!is.double(labels)) return(stats::setNames(integer(), character()))
  gone <- labels[is.na(labels)]
  stats::setNames(reason_of_kernel(as.vector(gone)), names(gone))
}

# Whole numbers of 64 bits as numbers while every one can be held exactly, else
# as text.
plain_column <- function(x) {
  if (!inherits(x, "integer64"))
    return(if (is.character(x)) `Encoding<-`(x, "UTF-8") else x)
  # of the digits that a double has no room for
  number <- suppressWarnings(bit64::as.double.integer64(x))
  number[bit64::is.na.integer64(x)] <- NA
  label <- attr(x, "label", exact = TRUE)
  out <- if (all(abs(number) < 2^53, na.rm = TRUE)) number else
    bit64::as.character.integer64(x)
  if (is.null(label)) out else structure(out, label = label)
}

# The numbers of a weight or count, whatever class and labels a column has.
numbers_alone <- function(x) {
  if (is.numeric(x) && !is.factor(x) && is.null(dim(x)))
    as.vector(unclass(number_of_codes(x))) else x
}

# A column as a condition sees it: reasons and blank text are no answers.
told_column <- function(x) {
  if (is.factor(x)) return(plain_factor(x))
  if (is.character(x)) return(without_blanks(x))
  if (is.numeric(x)) as.vector(unclass(number_of_codes(x))) else x
}

without_blanks <- function(x) {
  x[!is.na(x) & !grepl("[^ \t\r\n]", x, useBytes = TRUE)] <- NA
  x
}

# Some values of a column with all that is known of it: R drops the title of a plain
# column, and the labels of a class whose package is not loaded.
values_at <- function(x, at) {
  if (!is.null(dim(x))) return(x[at, , drop = FALSE])
  if (!is.atomic(x)) return(x[at])
  known <- attributes(x)
  known$names <- NULL
  attributes(x) <- NULL
  x <- x[at]
  attributes(x) <- known
  x
}

# ---- any column as answers ----

# Any column as a factor or answers: factors, characters, logicals, numbers, and
# coded numbers with `label`/`labels` attributes.
as_answers <- function(x, name, call = NULL, codes = TRUE) {
  if (is.factor(x)) return(sound_factor(x, name, call, codes))
  if (is_foreign(x)) x <- as_known_column(x)
  label <- label_of(x)
  if (inherits(x, c("Date", "POSIXt", "difftime")) || !is_plain(x)) {
    stop_input(c(tells("column_no_answers_tabulate", name, class(x)[1L]),
                 i = tells("turn_into_answers_first_dates")), "column_type",
               column = name, call = call)
  }
  if (inherits(x, "fairlattice_number")) return(number_answers(x, label))
  if (is.logical(x))
    return(new_answers(as.vector(x) + 1L, c("No", "Yes"), label = label))
  coded <- length(attr(x, "labels", exact = TRUE)) || declares_missing(x)
  if (coded) return(labelled_answers(x, name, label, call))
  observed_answers(x, label)
}

number_answers <- function(x, label) {
  reasons <- attr(x, "reasons")
  found <- different_values(x)
  number <- at_fifteen_digits(found$values)
  values <- unique(number)
  codes <- match(number, values)[found$codes]
  reason <- reason_of_kernel(as.numeric(x))
  codes[reason > 0L] <- length(values) + reason[reason > 0L]
  structure(new_answers(codes, c(number_text(values), reasons),
                        missing = reasons, label = label), observed = TRUE,
            numeric = TRUE, summed = attr(x, "summed", exact = TRUE))
}

# The different values of a plain column, numbers in ascending order, and which of them every
# record has: what is asked of values is asked once, however many records have them.
different_values <- function(x) {
  x <- as.vector(unclass(x))
  found <- different_kernel(x)
  list(values = x[found$first], codes = found$code)
}

# No declared answers: those that occur, sorted. Blank text is no answer.
observed_answers <- function(x, label) {
  summed <- attr(x, "summed", exact = TRUE)
  found <- different_values(x)
  given <- if (is.character(x)) readable(found$values) else at_fifteen_digits(found$values)
  if (is.character(x)) given[!nzchar(trimws(given))] <- NA
  values <- sort(unique(given), method = "radix")
  text <- if (is.numeric(x)) number_text(values) else as.character(values)
  structure(new_answers(match(given, values)[found$codes], text, label = label), observed = TRUE,
            numeric = if (is.numeric(x)) TRUE, summed = summed)
}

# Codes with a named vector of labels, and the codes that are declared missing.
labelled_answers <- function(x, name, label, call) {
  labels <- attr(x, "labels", exact = TRUE)
  if (length(labels)) check_labels(labels, name, call)
  values <- as.vector(unclass(x))
  tags <- tags_of(x)
  labels <- labels[!is.na(labels)]
  known <- as.vector(unname(labels))
  blank <- !nzchar(trimws(as.character(names(labels))))
  extra <- setdiff(sort(unique(values)), known)
  codes <- c(known, extra)
  called <- c(ifelse(blank, as.character(known), names(labels)),
              as.character(extra), names(tags))
  text <- make.unique(readable(called), sep = " / ")
  is_missing <- c(is_missing_code(codes, x), rep(TRUE, length(tags)))
  at <- match(values, codes)
  if (length(tags)) {
    tagged <- match(reason_of_kernel(as.numeric(values)), tags)
    at[!is.na(tagged)] <- length(codes) + tagged[!is.na(tagged)]
  }
  new_answers(at, text, missing = text[is_missing], label = label,
              values = c(codes, rep(NA, length(tags))))
}

check_labels <- function(labels, name, call) {
  named <- is.atomic(labels) && !is.null(names(labels)) &&
           length(names(labels)) == length(labels)
  tags <- if (is.double(labels))
    reason_of_kernel(as.vector(labels)[is.na(labels)]) else
    labels[is.na(labels)]
  apart <- !anyDuplicated(as.vector(labels)[!is.na(labels)]) &&
           !anyDuplicated(tags) && !any(tags %in% c(0L, NA))
  if (named && !anyNA(names(labels)) && apart) return(invisible())
  stop_input(c(tells("labels_cannot_read_each_code", name),
               i = tells("give_c_yes_1_no")),
             "column_type", column = name, call = call)
}
