#' Keep a part of the sample, its design intact
#'
#' Those outside the condition leave the table but stay in the sample: clusters
#' and strata with nobody left still count in the variance. How many were
#' outside is in the account of records.
#'
#' @param survey (survey or data frame) From [respondents()].
#' @param condition (an expression or one string) Who is kept. As a string it is
#'   data, not code: it may use `==`, `!=`, `<`, `<=`, `>`, `>=`, `%in% c(...)`,
#'   `&`, `|`, `!`, `is.na()` and brackets on columns, and nothing else is ever
#'   run. A bare expression is evaluated with the columns in reach; coded
#'   answers appear as ordinary factors, with their reasons for no answer as
#'   `NA`.
#' @param base (string) Who is kept, in the words of a report ("residents aged
#'   18 or over"): the subtitle of every table says so. Without it the condition
#'   is put into words.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return The survey, with those outside set aside under a named reason.
#' @section Errors: `fairlattice_error_condition`,
#'   `fairlattice_error_no_column`, `fairlattice_error_no_answer`.
#' @export
#' @examples
#' survey <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement)
#' older <- among(survey, age >= 65, base = "residents aged 65 or over")
#' crosstab(older, down = ferry, across = island)
#' among(survey, "island == 'Norrey' & !is.na(ferry)")
among <- function(survey, condition, base = NULL, ...) {
  nothing_else(...)
  call <- environment()
  if (!is.null(base) &&
        (!is.character(base) || length(base) != 1L || is.na(base)))
    stop_input(tells("base_one_text_not", quote_value(base)), "condition",
               call = call)
  survey <- as_survey(survey)
  quosure <- rlang::enquo(condition)
  done <- function(out) {
    noted(out, survey, "among", list(condition = condition_told(quosure, survey$data),
                                     base = base))
  }
  if (is_far(survey)) return(done(among_far(survey, quosure, base, call)))
  kept <- kept_by(quosure, survey$data, call)
  done(among_those(survey, kept$kept, kept$words, base))
}

# A condition as one string, what stands for a value replaced by it.
condition_told <- function(quosure, data) {
  expression <- rlang::quo_get_expr(quosure)
  if (is.character(expression)) return(expression)
  tree <- tryCatch(condition_tree(quosure, names(data))$tree, error = function(e) expression)
  paste(rlang::expr_deparse(tree, width = 500L), collapse = " ")
}

# Sets aside whoever is not kept.
among_those <- function(survey, kept, words, base) {
  survey <- set_aside(survey, is.na(kept), "cannot_tell", words)
  survey <- set_aside(survey, !kept, "outside", words)
  survey$cut <- TRUE
  survey$among <- c(survey$among, list(base_in_words(words, base, survey$data)))
  survey
}

# The same of records that stay where they are: by the source, where it can
# tell, or on the groups that come from it.
among_far <- function(survey, quosure, base, call) {
  words <- kept_by(quosure, survey$data, call)$words
  tree <- condition_tree(quosure, names(survey$data))
  uses <- intersect(all.vars(tree$tree), names(survey$data))
  raw <- !any(uses %in% unlist(lapply(survey$steps, `[[`, "makes")))
  truth <- if (raw && length(uses)) survey$records$truth(tree, call)
  survey$cut <- TRUE
  survey$among <- c(survey$among, list(base_in_words(words, base, survey$data)))
  later(survey,
        if (is.null(truth)) {
          list(uses = uses, cuts = cuts_of_condition(tree$tree, survey$data),
               run = function(survey) {
                 among_those(survey, kept_by(quosure, survey$data, call)$kept,
                             words, base)
               })
        } else {
          list(truth = truth, run = function(survey, kept) {
            among_those(survey, kept, words, base)
          })
        })
}

# A condition as a tree of columns and constants: what stands for a value is
# replaced by it.
condition_tree <- function(quosure, columns) {
  expression <- rlang::quo_get_expr(quosure)
  if (is.character(expression))
    return(list(tree = parse(text = readable(expression), keep.source = FALSE,
                             encoding = "UTF-8")[[1L]], words = TRUE))
  env <- rlang::quo_get_env(quosure)
  with_values <- function(node) {
    if (is.symbol(node) && !as.character(node) %in% columns) {
      value <- get0(as.character(node), env, mode = "numeric") %||%
               get0(as.character(node), env, mode = "character")
      return(if (is.null(value)) node else if (length(value) == 1L) value else
               as.call(c(quote(c), as.list(value))))
    }
    if (is.call(node)) node[-1L] <- lapply(as.list(node)[-1L], with_values)
    node
  }
  list(tree = with_values(expression), words = FALSE)
}

# Where the numbers of a condition are cut: at the constants they are compared
# with. NULL for a column that is used in any other way.
cuts_of_condition <- function(tree, columns) {
  cuts <- list()
  whole <- character()
  visit <- function(node) {
    if (is.symbol(node)) whole <<- c(whole, as.character(node))
    if (!is.call(node)) return(invisible())
    parts <- as.list(node)[-1L]
    word <- if (is.symbol(node[[1L]])) as.character(node[[1L]]) else ""
    if (word == "is.na" && is.symbol(parts[[1L]])) return(invisible())
    at <- which(vapply(parts, is.symbol, NA))
    values <- if (length(parts) == 2L && length(at) == 1L)
      numbers_in(parts[[3L - at]])
    if (!word %in% comparisons || is.null(values)) {
      for (part in parts) visit(part)
      return(invisible())
    }
    name <- as.character(parts[[at]])
    cuts[[name]] <<-
      join_cuts(cuts[[name]], new_cuts(below = values, upto = values))
  }
  visit(tree)
  cuts <- cuts[setdiff(names(cuts), whole)]
  cuts[vapply(names(cuts), function(name) is.numeric(columns[[name]]), NA)]
}

# The numbers that a constant holds; NULL when it holds anything else.
numbers_in <- function(node) {
  if (is.numeric(node)) return(if (all(is.finite(node))) node)
  if (!is.call(node) || !as.character(node[[1L]])[1L] %in% c("c", "-", "("))
    return(NULL)
  values <- lapply(as.list(node)[-1L], numbers_in)
  if (any(vapply(values, is.null, NA))) return(NULL)
  if (identical(node[[1L]], quote(`-`))) -unlist(values) else unlist(values)
}

# Who a condition keeps (TRUE, FALSE, or NA where it cannot be told), and its
# words.
kept_by <- function(quosure, data, call) {
  expression <- rlang::quo_get_expr(quosure)
  if (is.character(expression)) {
    words <- expression
    kept <- kept_by_words(expression, data, call)
  } else {
    words <- rlang::expr_deparse(expression, width = 500L)[1L]
    named <- data[unique(intersect(all.vars(expression), names(data)))]
    for (name in names(named)) check_plain(
      named[[name]], name, "condition", call)
    for (name in held_to_text(condition_tree(quosure, names(data))$tree, named))
      named[[name]] <- data[[name]] <- answers_of_labels(named[[name]], name)
    check_compared(expression, named, call)
    # the columns that it names; by .data it may name any
    told <- if (".data" %in% all.vars(expression)) data else named
    kept <- tryCatch(rlang::eval_tidy(quosure, lapply(told, told_column)),
                     error = function(e) {
                       stop_input(c(tells(
                                      "condition_cannot_worked_out",
                                      cut_short(words)),
                                    x = sub("\n.*", "", conditionMessage(e)),
                                    did_you_mean_columns(expression, data)),
                                  "condition", call = call)
                     })
  }
  size <- nrow(data)
  if (!is.logical(kept) || !length(kept) %in% c(1L, size)) {
    stop_input(c(tells("condition_true_false_every_record", cut_short(words)),
                 i = tells("compare_column_value_such_age")), "condition",
               call = call)
  }
  list(kept = rep(kept, length.out = size), words = words)
}

# Who is kept, for the subtitle: as the user says it, or the condition with the
# labels of its columns.
base_in_words <- function(condition, base, data) {
  if (!is.null(base)) return(said("base_called", base = readable(base)))
  tree <- tryCatch(parse(text = condition, keep.source = FALSE,
                         encoding = "UTF-8"), error = function(e) NULL)
  columns <- intersect(all.vars(tree), names(data))
  said("base_kept", condition = condition, names = columns,
       labels = vapply(columns, function(name) label_of(data[[name]]) %||% name,
                       "", USE.NAMES = FALSE))
}

# A condition given as text is parsed, never evaluated: this walks the tree and
# knows these words alone.
kept_by_words <- function(text, data, call) {
  text <- readable(text)
  tree <- if (nchar(text) <= most_condition)
    tryCatch(parse(text = text, keep.source = FALSE, encoding = "UTF-8"),
             error = function(e) NULL)
  if (length(tree) != 1L) {
    stop_input(c(tells("condition_cannot_read", cut_short(text),
                       if (nchar(text) > most_condition)
                         tells("too_long_condition",
                               format_count(most_condition)) else ""),
                 i = tells("write_like_age_18_island")), "condition",
               condition = text, call = call)
  }
  too_long <- function(e) {
    stop_input(c(tells("condition_too_many_terms"),
                 i = tells("several_answers_one_question_go")), "condition",
               call = call)
  }
  tryCatch(walk_condition(tree[[1L]], condition_on_records(data, call), call),
           stackOverflowError = too_long,
           expressionStackOverflowError = too_long)
}

most_condition <- 1e5

# What the words of a condition mean for records in memory: each gives a vector,
# one value a record. A database has the same words in its own language
# (R/records-sql.R).
condition_on_records <- function(data, call) {
  list(column = function(symbol) condition_column(symbol, data, call),
       is_na = function(symbol) is.na(condition_column(symbol, data, call)),
       compare = function(word, parts) compare(word, parts, data, call),
       truth = function(x, node) condition_truth(x, node, call),
       not = `!`, and = `&`, or = `|`)
}

# The tree of a condition, in the words of `on`.
walk_condition <- function(node, on, call, depth = 0L) {
  if (depth > 200L)
    stop_input(tells("condition_nested_too_deeply"), "condition", call = call)
  again <- function(part) walk_condition(part, on, call, depth + 1L)
  word <- if (is.call(node) && is.symbol(node[[1L]]))
    as.character(node[[1L]]) else ""
  parts <- if (is.call(node)) as.list(node)[-1L] else list()
  binary <- length(parts) == 2L
  if (word == "(") return(again(parts[[1L]]))
  if (word == "!" && length(parts) == 1L)
    return(on$not(on$truth(again(parts[[1L]]), parts[[1L]])))
  if (word %in% c("&", "|") && binary) return(walk_chain(word, node, again, on))
  if (word == "is.na" && length(parts) == 1L && is.symbol(parts[[1L]]))
    return(on$is_na(parts[[1L]]))
  if (word %in% comparisons && binary) return(on$compare(word, parts))
  if (is.symbol(node)) return(on$column(node))
  stop_input(c(tells("condition_cannot_hold", rlang::expr_deparse(node)[1L]),
               i = tells("may_compare_columns_values_ask")),
             "condition", call = call)
}

comparisons <- c("==", "!=", "<", "<=", ">", ">=", "%in%")

# a & b & c ... hangs down to the left, however long it is.
walk_chain <- function(word, node, again, on) {
  join <- if (word == "&") on$and else on$or
  terms <- list()
  while (rlang::is_call(node, word, n = 2L)) {
    terms <- c(terms, list(node[[3L]]))
    node <- node[[2L]]
  }
  out <- on$truth(again(node), node)
  for (term in rev(terms)) out <- join(out, on$truth(again(term), term))
  out
}

condition_truth <- function(x, node, call) {
  if (is.logical(x)) return(x)
  stop_input(c(tells("not_true_false_itself", rlang::expr_deparse(node)[1L]),
               i = tells("compare_value_such_age_18")), "condition",
             call = call)
}

condition_column <- function(symbol, data, call) {
  name <- as.character(symbol)
  check_column(name, data, "condition", call)
  check_plain(data[[name]], name, "condition", call)
  told_column(data[[name]])
}

# One comparison of a column with a value, or of two columns. Answers are
# compared by their labels.
compare <- function(word, parts, data, call) {
  side <- lapply(parts, function(part) {
    if (is.symbol(part)) condition_column(part, data, call) else
      condition_constant(part, word == "%in%", call)
  })
  symbol <- vapply(parts, is.symbol, logical(1L))
  for (k in which(symbol)) {
    name <- as.character(parts[[k]])
    if (is.character(side[[3L - k]]) && is_number_with_labels(data[[name]]))
      side[[k]] <- answers_of_labels(data[[name]], name)
  }
  if (symbol[1L] && !symbol[2L])
    check_answers_known(side[[1L]], side[[2L]], as.character(parts[[1L]]), call)
  if (symbol[2L] && !symbol[1L])
    check_answers_known(side[[2L]], side[[1L]], as.character(parts[[2L]]), call)
  check_kinds(side, parts, call)
  if (word == "%in%")
    return(ifelse(is.na(side[[1L]]), NA, as.vector(side[[1L]]) %in% side[[2L]]))
  if (word %in% c("<", "<=", ">", ">=")) {
    for (k in which(symbol)) if (is.factor(side[[k]]) &&
                                   !is.ordered(side[[k]])) {
      stop_input(c(tells("answers_no_order_says_nothing",
                         as.character(parts[[k]]), word),
                   i = tells("use_equals_or_in")), "condition", call = call)
    }
  } else {
    side <- lapply(side, function(x) if (is.factor(x)) as.character(x) else x)
  }
  tryCatch(as.vector(match.fun(word)(side[[1L]], side[[2L]])),
           error = function(e) {
             shown <- vapply(parts, function(part) {
               cut_short(rlang::expr_deparse(part)[1L])
             }, "")
             stop_input(c(tells("cannot_compared", shown[1L], shown[2L]),
                          i = tells("dates_written_2030_12_31")), "condition",
                        call = call)
           })
}

# Numbers are compared with numbers and text with text: R itself would compare
# "10" and 9 as words.
check_kinds <- function(side, parts, call) {
  text <- vapply(side, function(x) is.character(x) || is.factor(x), NA)
  number <- vapply(side, function(x) is.numeric(x) && !is.factor(x), NA)
  if (!(any(text) && any(number))) return(invisible())
  shown <- function(k) cut_short(rlang::expr_deparse(parts[[k]])[1L])
  stop_input(c(tells("number_text_cannot_compared", shown(which(number)[1L]),
                     shown(which(text)[1L])),
               i = tells("write_numbers_without_quotes_answers")), "condition",
             call = call)
}

# Numbers with labels stand for codes; where they are held against text, for labels.
held_to_text <- function(tree, columns) {
  found <- character()
  visit <- function(node) {
    if (!is.call(node)) return(invisible())
    parts <- as.list(node)[-1L]
    if (rlang::is_call(node, comparisons, n = 2L)) {
      name <- vapply(parts, function(part) if (is.symbol(part)) as.character(part) else "", "")
      text <- vapply(parts, function(part) {
        is.character(part) || rlang::is_call(part, "c") &&
          all(vapply(as.list(part)[-1L], is.character, NA))
      }, NA)
      found <<- c(found, name[rev(text)])
    }
    for (part in parts) visit(part)
  }
  visit(tree)
  Filter(function(name) is_number_with_labels(columns[[name]]), unique(found[nzchar(found)]))
}

is_number_with_labels <- function(x) {
  is.numeric(x) && !is.factor(x) && !is.null(attr(x, "labels", exact = TRUE))
}

answers_of_labels <- function(x, name) told_column(as_answers(x, name))

# The same in a bare expression, where a column stands against a constant.
check_compared <- function(expression, columns, call) {
  if (!is.call(expression)) return(invisible())
  parts <- as.list(expression)[-1L]
  if (rlang::is_call(expression, c("==", "!=", "<", "<=", ">", ">="), n = 2L)) {
    side <- lapply(parts, function(part) {
      if (is.symbol(part)) columns[[as.character(part)]] else
        if (is.atomic(part)) part
    })
    if (!any(vapply(side, is.null, NA))) check_kinds(side, parts, call)
  }
  for (part in parts) if (is.call(part)) check_compared(part, columns, call)
}

did_you_mean_columns <- function(expression, data) {
  unknown <- setdiff(all.vars(expression), names(data))
  near <- if (length(unknown)) nearest(unknown[1L], names(data))
  if (!is.null(near)) c(i = tells("did_you_mean_column", near))
}

condition_constant <- function(node, several, call) {
  word <- if (is.call(node) && is.symbol(node[[1L]]))
    as.character(node[[1L]]) else ""
  if (is.atomic(node) && length(node) == 1L && !is.null(node)) return(node)
  if (word == "-" && length(node) == 2L && is.numeric(node[[2L]]))
    return(-node[[2L]])
  if (word == "(") return(condition_constant(node[[2L]], several, call))
  if (several && word == "c") {
    return(unlist(lapply(as.list(node)[-1L], condition_constant,
                         several = FALSE, call = call)))
  }
  stop_input(c(tells("condition_cannot_hold", rlang::expr_deparse(node)[1L]),
               i = tells("compare_column_number_quoted_answer")),
             "condition", call = call)
}

check_answers_known <- function(column, values, name, call) {
  if (!is.factor(column)) return(invisible())
  unknown <- setdiff(as.character(values), levels(column))
  if (length(unknown)) {
    stop_input(c(tells("question_has_no_answer", name, unknown[1L]),
                 did_you_mean(unknown[1L], levels(column), "answers")),
               "no_answer", column = name, value = unknown[1L], call = call)
  }
}
