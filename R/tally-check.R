# One check for each kind of input. A check returns nothing; its error says what
# was wrong, where, and what to do.

check_column <- function(name, data, arg, call) {
  if (!name %in% names(data)) {
    stop_input(c(tells("no_column", name, arg),
                 did_you_mean(name, names(data), "columns")), "no_column",
               column = name, call = call)
  }
  if (sum(names(data) == name, na.rm = TRUE) > 1L) {
    stop_input(c(tells("there_are_two_columns_named", name, arg),
                 i = tells("rename_one")), "column_twice", column = name,
               call = call)
  }
}

# Squares of weights are summed: beyond this they would leave the range of
# numbers.
most_weight <- 1e100
least_weight <- 1e-100

# The same of every source of records; `where` is what it knows of where the
# text stands.
stop_not_numbers <- function(arg, name, where, call) {
  stop_input(c(tells("numbers_but_column_holds_text", arg, name), x = where,
               i = tells("convert_correct_column_first")), arg, column = name,
             call = call)
}

stop_odd_weight <- function(arg, name, records, where, call) {
  stop_input(c(tells("finite_not_negative_but_not", arg, name,
                     how_many(records, "record")), x = where,
               i = tells("correct_values_make_missing_leave")), arg,
             column = name, call = call)
}

stop_size_of_weight <- function(arg, name, small, where, call) {
  bound <- if (small) said("zero_or_at_least", format(least_weight)) else
    said("at_most", format(most_weight))
  stop_input(c(tells("but_not_every_record", arg, bound, name), x = where,
               i = tells(if (small) "multiply_column" else "divide_column")),
             arg, column = name, call = call)
}

stop_broken_count <- function(name, where, call) {
  stop_input(c(tells("count_whole_numbers_but_not", name), x = where,
               i = tells("sampling_weight_goes_weight")), "count",
             column = name, call = call)
}

# A weight or count column: numbers, finite, not negative, not all zero. Missing
# ones are dealt with by the caller.
check_weight <- function(x, name, arg, call) {
  stop_column <- function(...) stop_input(c(...), arg, column = name, call = call)
  if (!is.atomic(x) || is.null(x) || !is.null(dim(x)))
    stop_column(tells("numbers_but_column", arg, name, class(x)[1L]))
  if (!is.numeric(x) || is.factor(x)) {
    text <- readable(as.character(if (is.factor(x))
                                    sound_factor(x, name, call) else x))
    odd <- which(!is.na(text) & is.na(suppressWarnings(as.numeric(text))))
    bad <- c(odd, which(!is.na(text)))[1L]
    stop_not_numbers(arg, name,
                     if (!is.na(bad))
                       tells("record_has_text", bad, cut_short(text[bad])),
                     call)
  }
  bad <- which(is.infinite(x) | (!is.na(x) & x < 0))
  if (length(bad)) {
    stop_odd_weight(arg, name, length(bad),
                    tells("record_has", bad[1L], format(x[bad[1L]])), call)
  }
  if (!any(x > 0, na.rm = TRUE)) {
    stop_column(tells("zero_missing_every_record_column", arg, name),
                i = tells("nobody_would_left_table_name"))
  }
  small <- if (arg == "weight") which(x > 0 & x < least_weight)
  if (length(small)) {
    stop_size_of_weight(arg, name, TRUE,
                        tells("record_has", small[1L], format(x[small[1L]])),
                        call)
  }
  large <- which(x > most_weight)
  if (length(large)) {
    stop_size_of_weight(arg, name, FALSE,
                        tells("record_has", large[1L], format(x[large[1L]])),
                        call)
  }
  if (arg == "count" && any(x >= 2^53, na.rm = TRUE)) {
    bad <- which(x >= 2^53)[1L]
    stop_column(tells("count_below_2_53_where", bad, format(x[bad], digits = 17L),
                      name), i = tells("correct_value"))
  }
  if (arg == "count" && any(x != round(x), na.rm = TRUE)) {
    bad <- which(x != round(x))[1L]
    stop_broken_count(name, tells("record_has", bad, format(x[bad])), call)
  }
}

check_answer_count <- function(answers, name, call) {
  if (isTRUE(answers$summed)) return(invisible())
  size <- if (is.null(answers$items)) sum(!answers$missing) else
    length(answers$items)
  if (isTRUE(answers$numeric)) check_value_count(answers, name, call)
  most <- setting("most_answers")
  if (size > most) {
    examples <- list_some(answers$levels[!answers$missing], 3L)
    stop_input(c(tells("different_answers", name, format_count(size), examples),
                 x = tells("table_more_rows_columns_not", most),
                 i = tells("cut_number_into_bands_join")),
               "too_many_answers", column = name, answers = size, call = call)
  }
}

# A number with many different values makes no table that anybody could read,
# and takes long: bands are proposed. Whole numbers (years, a count of children)
# may have more values than others.
check_value_count <- function(answers, name, call) {
  # a value that is no number has no band
  values <- suppressWarnings(as.numeric(answers$levels[!answers$missing]))
  values <- values[is.finite(values)]
  whole <- all(values == round(values))
  most <- setting("most_values") * if (whole) 1 else 0.4
  if (length(values) <= most) return(invisible())
  breaks <- paste(number_text(round_breaks(values)), collapse = ", ")
  stop_input(c(tells("number_different_values", name,
                     format_count(length(values)), number_text(min(values)),
                     number_text(max(values))),
               i = switch(voice$speaks,
                          command = tells(
                            "cut_into_bands_by_option", name,
                            gsub(" ", "", breaks)),
                          desk = tells("cut_into_bands_on_desk", breaks),
                          tells("cut_into_bands_in_r", name, breaks,
                                length(values))),
               i = tells("values_codes_label_codebook")), "too_many_answers",
             column = name, answers = length(values),
             breaks = round_breaks(values), call = call)
}

# Where about five bands of round numbers begin.
round_breaks <- function(values) {
  breaks <- pretty(values, 5L)
  breaks <- breaks[breaks >= min(values) & breaks <= max(values)]
  if (length(breaks) > 1L && breaks[1L] > min(values))
    c(min(values), breaks) else breaks
}

# The column that an argument names: bare, as a string, spliced with !!, as
# .data[["name"]], or by a variable (or another expression) that holds one
# string when no column has its name. NULL when it names none. Takes what
# named_by() gives.
column_named <- function(named, data, arg, call) {
  columns <- names_held(named$expression, named$env, names(data))
  if (is.null(columns)) return(NULL)
  if (!is.character(columns) || length(columns) != 1L || is.na(columns)) {
    stop_input(c(tells("name_one_column_not", arg, said_as(named)),
                 i = tells("give_bare_column_name_string")), "column_name",
               call = call)
  }
  check_column(columns, data, arg, call)
  columns
}

# The columns that an argument names: as above, c(a, b), several strings, or one
# string with a * in it ("rep_*").
columns_named <- function(named, data, arg, call) {
  columns <- names_held(named$expression, named$env, names(data))
  if (is.null(columns)) return(NULL)
  if (!is.character(columns) || anyNA(columns)) {
    stop_input(c(tells("name_columns_not", arg, said_as(named)),
                 i = tells("give_c_first_second_strings")), "column_name",
               call = call)
  }
  if (length(columns) == 1L && !columns %in% names(data) &&
        grepl("*", columns, fixed = TRUE)) {
    found <- grep(utils::glob2rx(columns), names(data), value = TRUE)
    if (!length(found)) {
      stop_input(tells("no_column_named_like", columns, arg), "no_column",
                 column = columns, call = call)
    }
    return(found)
  }
  for (name in columns) check_column(name, data, arg, call)
  columns
}

said_as <- function(named) {
  sub("^NA_[a-z]+_$", "NA", rlang::expr_deparse(named$expression, width = 60L)[1L])
}

# What stands for an argument of the function that asks, and where it is to be
# looked up. Strings that a program gives, as the command does, are what they are,
# and so are names, unless they are no columns: then they are looked up. What else
# people write may be injected, so that takes rlang, whose loading is half of the
# time that a small table takes.
named_by <- function(argument) {
  frame <- parent.frame()
  name <- substitute(argument)
  if (eval(call("missing", name), frame)) return(list(expression = NULL))
  given <- eval(call("substitute", name), frame)
  if (!is.language(given)) return(list(expression = given))
  quosure <- function() eval(bquote(rlang::enquo(.(name))), frame)
  if (!are_names(given)) return(named_in(quosure()))
  named <- list2env(list(expression = given), parent = emptyenv())
  delayedAssign("env", named_in(quosure())$env, assign.env = named)
  named
}

# A name, or several in c().
are_names <- function(expression) {
  is.symbol(expression) ||
    is_call_of(expression, "c") && all(vapply(as.list(expression)[-1L], is.symbol, NA))
}

named_in <- function(quosure) {
  list(expression = rlang::quo_get_expr(quosure), env = rlang::quo_get_env(quosure))
}

is_call_of <- function(expression, words) {
  is.call(expression) && is.symbol(expression[[1L]]) &&
    as.character(expression[[1L]]) %in% words
}

# The strings that an expression stands for; a column's own name goes before a
# variable of that name. What holds none is given back as NA, which no column is
# called.
names_held <- function(expression, env, columns) {
  if (inherits(expression, "quosure")) {
    inner <- named_in(expression)
    return(names_held(inner$expression, inner$env, columns))
  }
  if (is.null(expression)) return(NULL)
  if (is.symbol(expression) && as.character(expression) %in% columns)
    return(as.character(expression))
  if (is_call_of(expression, "c")) {
    return(unlist(lapply(as.list(expression)[-1L], names_held, env = env,
                         columns = columns), use.names = FALSE))
  }
  if (is_call_of(expression, c("$", "[[")) &&
        identical(expression[[2L]], quote(.data))) {
    if (is_call_of(expression, "$")) return(as.character(expression[[3L]]))
    expression <- expression[[3L]]
  }
  held <- if (is.language(expression))
    tryCatch(eval(expression, env), error = function(e) NA) else expression
  if (is.null(held)) return(NULL)
  if (is.character(held) && length(held)) return(unname(as.vector(held)))
  if (is.symbol(expression)) as.character(expression) else NA
}
