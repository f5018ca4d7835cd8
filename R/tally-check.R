# One check for each kind of input. A check returns nothing; its error says what was wrong, where, and what to do.

# Every error of ours has the class fairlattice_error and one of its own, and carries its data in `...`.
stop_input <- function(message, class, ..., call = NULL) {
  rlang::abort(message, class = c(paste0("fairlattice_error_", class), "fairlattice_error"), call = call, ...)
}

# The nearest of `known` to `given`, when it is near enough to be a slip of the hand.
nearest <- function(given, known) {
  if (!length(known)) return(NULL)
  distance <- utils::adist(given, known, ignore.case = TRUE, partial = FALSE)[1L, ]
  best <- which.min(distance)
  if (distance[best] <= max(1, nchar(given) / 3)) known[best] else NULL
}

did_you_mean <- function(given, known, what = "Known") {
  near <- nearest(given, known)
  if (!is.null(near)) return(c(i = sprintf("Did you mean \"%s\"?", near)))
  c(i = sprintf("%s: %s.", what, list_some(known)))
}

# "a, b, c" of at most `most`, and how many more.
list_some <- function(x, most = 8L) {
  shown <- paste(utils::head(x, most), collapse = ", ")
  if (length(x) > most) sprintf("%s and %d more", shown, length(x) - most) else shown
}

check_column <- function(name, data, arg, call) {
  if (!name %in% names(data)) {
    stop_input(c(sprintf("There is no column \"%s\" (`%s`).", name, arg), did_you_mean(name, names(data), "Columns")),
               "no_column", column = name, call = call)
  }
  if (sum(names(data) == name) > 1L) {
    stop_input(c(sprintf("There are two columns named \"%s\" (`%s`).", name, arg), i = "Rename one of them."),
               "column_twice", column = name, call = call)
  }
}

# A weight or count column: numbers, finite, not negative, not all zero. Missing ones are dealt with by the caller.
check_weight <- function(x, name, arg, call) {
  stop_here <- function(...) stop_input(c(...), arg, column = name, call = call)
  if (!is.numeric(x) || is.factor(x)) {
    text <- as.character(x)
    bad <- which(!is.na(text) & is.na(suppressWarnings(as.numeric(text))))[1L]
    where <- if (is.na(bad)) "" else sprintf(" Record %d has \"%s\".", bad, text[bad])
    stop_here(sprintf("`%s` must be numbers, but the column \"%s\" is %s.%s", arg, name, class(x)[1L], where),
              i = "Convert or mend the column first.")
  }
  bad <- which(is.infinite(x) | (!is.na(x) & x < 0))
  if (length(bad)) {
    stop_here(sprintf("`%s` must be finite and not negative, but \"%s\" has %d such %s: record %d has %s.", arg, name,
                      length(bad), plural(length(bad), "value"), bad[1L], format(x[bad[1L]])),
              i = "Mend the values, or make them missing to leave those records out.")
  }
  if (!any(x > 0, na.rm = TRUE)) {
    stop_here(sprintf("`%s` is zero or missing in every record (column \"%s\").", arg, name),
              i = "Nobody would be left in the table: name another column.")
  }
  if (arg == "count" && any(x != round(x), na.rm = TRUE)) {
    bad <- which(x != round(x))[1L]
    stop_here(sprintf("`count` must be whole numbers, but \"%s\" has %s in record %d.", name, format(x[bad]), bad),
              i = "A sampling weight goes to `weight`.")
  }
}

check_answer_count <- function(answers, name, call) {
  size <- if (is.null(answers$items)) sum(!answers$missing) else length(answers$items)
  most <- setting("most_answers")
  if (size > most) {
    examples <- list_some(answers$levels[!answers$missing], 3L)
    stop_input(c(sprintf("\"%s\" has %s different answers (%s).", name, format_count(size), examples),
                 x = sprintf("A table of more than %d rows or columns is not made.", most),
                 i = "Cut a number into bands, or join the answers into fewer, and ask again."),
               "too_many_answers", column = name, answers = size, call = call)
  }
}

check_choice <- function(x, choices, arg, call) {
  if (!is.character(x) || length(x) != 1L || !x %in% choices) {
    stop_input(sprintf("`%s` must be %s, not %s.", arg, one_of(choices), quote_value(x)), "choice", call = call)
  }
}

check_fraction <- function(x, arg, call) {
  if (!is.numeric(x) || length(x) != 1L || is.na(x) || x <= 0 || x >= 1) {
    stop_input(sprintf("`%s` must be a number between 0 and 1, not %s.", arg, quote_value(x)), "fraction", call = call)
  }
}

check_number <- function(x, arg, least, most, call) {
  if (!is.numeric(x) || length(x) != 1L || is.na(x) || x < least || x > most) {
    range <- if (is.finite(most)) sprintf("between %s and %s", format(least), format(most)) else sprintf("of at least %s", format(least))
    stop_input(sprintf("`%s` must be a number %s, not %s.", arg, range, quote_value(x)), "number", call = call)
  }
}

check_whole <- function(x, arg, least, call) {
  if (!is.numeric(x) || length(x) != 1L || is.na(x) || x < least || x != round(x) || x > 2^31 - 1) {
    stop_input(sprintf("`%s` must be a whole number of at least %s, not %s.", arg, format(least), quote_value(x)), "number", call = call)
  }
}

check_flag <- function(x, arg, call) {
  if (!isTRUE(x) && !isFALSE(x)) {
    stop_input(sprintf("`%s` must be TRUE or FALSE, not %s.", arg, quote_value(x)), "flag", call = call)
  }
}

check_class <- function(x, class, arg, made_by, call) {
  if (!inherits(x, class)) {
    stop_input(c(sprintf("`%s` must come from %s, not be %s.", arg, made_by, quote_value(x))), "class", call = call)
  }
}

`%|NA|%` <- function(x, y) if (is.na(x)) y else x

one_of <- function(choices) {
  quoted <- paste0("\"", choices, "\"")
  if (length(quoted) == 1L) return(quoted)
  paste(paste(utils::head(quoted, -1L), collapse = ", "), "or", utils::tail(quoted, 1L))
}

quote_value <- function(x) {
  if (is.character(x) && length(x) == 1L) return(sprintf("\"%s\"", x))
  if (is.atomic(x) && length(x) == 1L) return(format(x))
  sprintf("a %s of length %d", class(x)[1L], length(x))
}

plural <- function(n, one, many = paste0(one, "s")) ifelse(n == 1, one, many)

# The column that an argument names, bare, as a string or spliced with !!; NULL when it names none.
column_named <- function(expression, data, arg, call) {
  if (missing(expression) || is.null(expression) || identical(expression, quote(expr = ))) return(NULL)
  name <- if (is.symbol(expression)) as.character(expression) else expression
  if (!is.character(name) || length(name) != 1L || is.na(name)) {
    stop_input(c(sprintf("`%s` must name one column, not be `%s`.", arg, rlang::expr_deparse(expression)[1L]),
                 i = "Give a bare column name, a string, or !!variable."), "column_name", call = call)
  }
  check_column(name, data, arg, call)
  name
}

# The columns that an argument names: c(a, b), strings, or one string with a * in it ("rep_*").
columns_named <- function(expression, data, arg, call) {
  if (is.null(expression)) return(NULL)
  names <- if (rlang::is_call(expression, "c")) vapply(as.list(expression)[-1L], function(part) column_named(part, data, arg, call), "") else
    if (is.symbol(expression)) as.character(expression) else expression
  if (!is.character(names) || anyNA(names)) stop_input(sprintf("`%s` must name columns.", arg), "column_name", call = call)
  if (length(names) == 1L && grepl("*", names, fixed = TRUE)) {
    found <- grep(utils::glob2rx(names), names(data), value = TRUE)
    if (!length(found)) stop_input(sprintf("No column is named like \"%s\" (`%s`).", names, arg), "no_column", column = names, call = call)
    return(found)
  }
  for (name in names) check_column(name, data, arg, call)
  names
}
