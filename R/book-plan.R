# From a file to a plan: the keys checked one by one, every fault kept with its place, and all of them told at once.
# Nothing of a plan is ever run: it is read as data, and conditions are walked as among() does.

#' Read a tab plan
#'
#' A tab plan is a YAML file that says all of a survey's tables: the records, who was asked, how questions are prepared,
#' what runs across the top of every table, the chapters with their tables, and what is made of them. Every key may be
#' left out but `chapters`. All faults are told at once, with line and column and the nearest key, question or answer
#' that is known. Nothing in a plan is run. Editors check and complete plans by the JSON Schema of
#' `demo_file("plan.schema.json")`.
#'
#' Conditions (`among`) speak of the questions as they are after `prepare`. Files are looked for beside the plan. Where
#' a section has a file, title or list of questions alone, that may stand in its place: `records: veyra.csv`.
#'
#' @eval plan_help()
#' @param file (string) Path of a YAML file.
#' @param records (path or data frame, default what the plan says) Other records, such as those of another wave.
#' @param before (path or data frame, default what the plan says) The records of the wave before.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return A plan (class `fairlattice_plan`) with the records read and prepared, for [book()]. Print it to see what
#'   would be made.
#' @section Errors: `fairlattice_error_plan`, whose `faults` is a data frame of `line`, `column`, `key` and `message`.
#' @export
#' @examples
#' read_plan(demo_file("veyra.plan.yml"))
read_plan <- function(file, records = NULL, before = NULL, ...) {
  nothing_else(...)
  call <- environment()
  plan <- parsed_plan(file, call)
  plan <- prepared_plan(plan, records, before, call)
  stop_faults(plan, call)
  plan
}

#' A tab plan of R objects
#'
#' The same as [read_plan()] for records that are in R already.
#'
#' @param x (panel or data frame) From [respondents()], with its questions prepared.
#' @param across (column names, default none) The questions across the top of every table.
#' @param chapters (list) Chapters by their titles, each a character vector of questions (or patterns), or a list of
#'   tables, each a list with the keys of [read_plan()]. By default one chapter with every question.
#' @param defaults (list) Settings of all tables, see [read_plan()].
#' @param title (string) Title of the book.
#' @param before (panel or data frame, default none) The wave before, prepared alike.
#' @param called (two strings) What the wave before and this one are called.
#' @param style ([house_style()]) The house style.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return A plan, as [read_plan()] gives it.
#' @section Errors: `fairlattice_error_plan`.
#' @export
#' @examples
#' panel <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement)
#' plan_of(panel, across = c(island, tenure), chapters = list("At home" = c("heating", "internet")))
plan_of <- function(x, across = NULL, chapters = NULL, defaults = list(), title = NULL, before = NULL, called = NULL,
                    style = NULL, ...) {
  nothing_else(...)
  call <- environment()
  panel <- as_panel(x)
  across <- columns_named(rlang::enquo(across), panel$data, "across", call)
  if (is.null(chapters)) chapters <- stats::setNames(list(every_question), title %||% "Questions")
  if (!is.list(chapters) || is.null(names(chapters)) || any(!nzchar(names(chapters))))
    stop_input(c("`chapters` must be a list named by the titles of the chapters.",
                 i = "Write list(\"At home\" = c(\"heating\", \"internet\"))."), "plan", call = call)
  keys <- list(title = title, across = as.list(across), defaults = as_listing(defaults),
               chapters = unname(Map(function(title, tables) {
                 list(title = title, tables = if (is.list(tables)) as_listing(unname(tables)) else
                   list(list(questions = as.list(tables))))
               }, names(chapters), chapters)),
               before = if (!is.null(called)) list(called = as.list(called)))
  plan <- checked_plan(Filter(length, keys), "the plan", list(), NULL)
  if (!is.null(style)) plan$style <- as_style(style, call)
  plan <- prepared_plan(plan, panel, before, call)
  stop_faults(plan, call)
  plan
}

# Vectors as the lists that a YAML file would give.
as_listing <- function(x) {
  lapply(x, function(one) if (is.list(one)) as_listing(one) else if (length(one) > 1L) as.list(one) else one)
}

every_question <- "every question"

# ---- faults ----

new_faults <- function() list2env(list(found = list()), parent = emptyenv())

# `value` is what is meant within the path: its own place is told, if it has one.
add_fault <- function(plan, path, message, hint = NULL, at_key = FALSE) {
  place <- place_of(plan$places, path)
  place <- if (is.null(place)) c(NA_integer_, NA_integer_) else if (at_key) place[1:2] else place[3:4]
  one <- list(line = place[1L], column = place[2L], key = paste(path, collapse = "."),
              message = paste(c(message, unname(hint)), collapse = " "))
  plan$faults$found <- c(plan$faults$found, list(one))
  invisible()
}

# The place of a path, or of the nearest part that it belongs to.
place_of <- function(places, path) {
  while (length(path)) {
    # a text or list alone stands for a key that is not written
    place <- places[[path_key(path)]] %||% places[[path_key(path[!path %in% c("questions", "file")])]]
    if (!is.null(place)) return(place)
    path <- path[-length(path)]
  }
  NULL
}

# An error of ours as a fault of what caused it: where the value or column that it names stands, within the path.
add_error <- function(plan, path, error) {
  value <- as.character(unlist(error[c("value", "column", "condition")]))
  within <- leaves_of(plan$keys, path)
  hit <- match(value, within$text, 0L)
  at <- if (any(hit > 0L)) within$path[[hit[hit > 0L][1L]]] else path
  lines <- cli::ansi_strip(unlist(strsplit(unname(c(error$message, error$body)), "\n", fixed = TRUE)))
  add_fault(plan, at, lines[1L], sub("^\\W+ (?=\\w|\")", "", lines[-1L], perl = TRUE))
}

# The texts beneath a path, with the path of each.
leaves_of <- function(keys, path) {
  part <- keys
  for (step in path) {
    at <- suppressWarnings(as.integer(step))
    part <- if (is.null(names(part)) && !is.na(at) && at <= length(part)) part[[at]] else
      if (is.list(part) && step %in% names(part)) part[[step]] else return(list(text = character(), path = list()))
  }
  found <- list(text = character(), path = list())
  walk <- function(part, path) {
    if (is.list(part)) {
      steps <- names(part) %||% as.character(seq_along(part))
      for (k in seq_along(part)) walk(part[[k]], c(path, steps[k]))
    } else if (is_scalar(part)) {
      found$text <<- c(found$text, as.character(part))
      found$path <<- c(found$path, list(path))
    }
  }
  walk(part, path)
  found
}

stop_faults <- function(plan, call) {
  found <- plan$faults$found
  if (!length(found)) return(invisible())
  faults <- list2DF(list(line = vapply(found, `[[`, 0L, "line"), column = vapply(found, `[[`, 0L, "column"),
                         key = vapply(found, `[[`, "", "key"), message = vapply(found, `[[`, "", "message")))
  faults <- unique(faults[order(faults$line, faults$column), ])
  where <- ifelse(is.na(faults$line), ifelse(nzchar(faults$key), paste0(faults$key, ": "), ""),
                  sprintf("line %d, column %d: ", faults$line, faults$column))
  stop_input(c(sprintf("%s has %d %s.", sentence_case(plan$called), nrow(faults), plural(nrow(faults), "fault")),
               stats::setNames(paste0(where, faults$message), rep("x", nrow(faults)))), "plan", faults = faults,
             path = plan$file, call = call)
}

# ---- from text to checked keys ----

parsed_plan <- function(file, call) {
  if (!is.character(file) || length(file) != 1L || is.na(file))
    stop_input(sprintf("`file` must be one path, not %s.", quote_value(file)), "plan", call = call)
  if (!file.exists(file) || dir.exists(file))
    stop_input(sprintf("There is no plan \"%s\".", file), "plan", path = file, call = call)
  need_package("yaml", "read a tab plan", call)
  text <- text_of(file)
  bad <- function(why, ...) {
    stop_input(c(sprintf("The plan \"%s\" cannot be read.", basename(file)), x = why, ...), "plan", path = file,
               call = call)
  }
  keys <- parse_yaml(text, bad, plain_yaml)
  if (is.null(keys)) bad("It is empty.", i = "'fairlattice plan FILE --out plan.yml' writes one to begin with.")
  if (!is_mapping(keys)) bad("It holds no keys.", i = "Write them like \"records: veyra.csv\".")
  checked_plan(keys, sprintf("the plan \"%s\"", basename(file)), yaml_places(text), file)
}

# Words such as yes, no and 010 are answers here, not truths and octal numbers; lists stay lists.
plain_yaml <- list("bool#yes" = function(x) if (tolower(x) == "true") TRUE else x,
                   "bool#no" = function(x) if (tolower(x) == "false") FALSE else x,
                   "int#oct" = function(x) x, "int#base60" = function(x) x, "float#base60" = function(x) x,
                   "timestamp#iso8601" = function(x) x, "timestamp#spaced" = function(x) x,
                   "timestamp#ymd" = function(x) x, seq = function(x) x)

checked_plan <- function(keys, called, places, file) {
  plan <- structure(list(file = file, called = called, places = places, keys = keys, faults = new_faults()),
                    class = "fairlattice_plan")
  plan$asked <- checked_section(plan, keys, plan_keys(), character())
  plan
}

checked_section <- function(plan, value, keys, path, short = NULL) {
  if (!is.null(short) && (is_text(value) || is_listing(value) && length(value)))
    return(checked_section(plan, stats::setNames(list(value), short), keys, path))
  if (!is_mapping(value)) {
    add_fault(plan, path, sprintf("%s must hold keys with values, not %s.", named_path(path), described(value)),
              sprintf("Keys: %s.", list_some(names(keys))))
    return(list())
  }
  for (name in setdiff(names(value), names(keys)))
    add_fault(plan, c(path, name), sprintf("There is no key \"%s\"%s.", cut_short(name),
                                           if (length(path)) sprintf(" in \"%s\"", last_name(path)) else ""),
              did_you_mean(name, names(keys), "Keys"), at_key = TRUE)
  given <- Filter(Negate(is.null), value[intersect(names(value), names(keys))])
  for (name in names(Filter(function(key) key$needed, keys))) if (is.null(given[[name]]))
    add_fault(plan, path, sprintf("%s lacks the key \"%s\".", named_path(path), name), at_key = TRUE)
  out <- lapply(stats::setNames(names(given), names(given)),
                function(name) checked_value(plan, given[[name]], keys[[name]], c(path, name)))
  Filter(Negate(is.null), out)
}

# A value that is what its key asks for, in the form that R functions take; NULL where it is not.
checked_value <- function(plan, value, key, path) {
  bad <- function(what, hint = NULL) {
    add_fault(plan, path, sprintf("\"%s\" must be %s, not %s.", last_name(path), what, described(value)), hint)
    NULL
  }
  each <- function(check) {
    if (!is_listing(value)) return(bad("a list"))
    if (!length(value) && key$kind == "sections") return(bad("a list of one or more"))
    lapply(seq_along(value), function(k) check(value[[k]], c(path, k)))
  }
  switch(
    key$kind,
    section = checked_section(plan, value, key$keys, path, key$short),
    sections = {
      # one alone needs no list
      if (is_mapping(value) || is_text(value)) value <- list(value)
      each(function(one, path) checked_section(plan, one, key$keys, path, key$short))
    },
    steps = each(function(one, path) checked_step(plan, one, key$keys, path)),
    choice = if (is_text(value) && as.character(value) %in% key$choices) as.character(value) else
      bad(one_of(key$choices), meant_choice(value, key$choices)),
    choices = checked_choices_of(value, key, bad),
    {
      kind <- key_kinds[[key$kind]]
      if (!isTRUE(kind$right(value))) return(bad(kind$what))
      within_limits(plan, in_r(value, key$kind), path)
    })
}

checked_choices_of <- function(value, key, bad) {
  if (is_listing(value) && !length(value)) return(character())
  words <- if (one_or_list(is_text)(value)) as.character(unlist(value))
  wrong <- setdiff(words, key$choices)
  if (is.null(words)) return(bad(paste("some of", list_some(key$choices, Inf))))
  if (length(wrong)) return(bad(paste("some of", list_some(key$choices, Inf)), did_you_mean(wrong[1L], key$choices)))
  words
}

# A step of preparing: one verb with its keys.
checked_step <- function(plan, value, verbs, path) {
  if (!is_mapping(value) || length(value) != 1L) {
    add_fault(plan, path, sprintf("A step must be one verb with its keys, not %s.", described(value)),
              sprintf("Verbs: %s.", list_some(names(verbs), Inf)))
    return(NULL)
  }
  verb <- names(value)
  if (!verb %in% names(verbs)) {
    add_fault(plan, c(path, verb), sprintf("There is no step \"%s\".", cut_short(verb)),
              did_you_mean(verb, names(verbs), "Steps"), at_key = TRUE)
    return(NULL)
  }
  known <- length(plan$faults$found)
  with <- checked_section(plan, value[[1L]], verbs[[verb]]$keys, c(path, verb))
  list(verb = verb, with = with, faulty = length(plan$faults$found) > known)
}

# YAML lists and mappings as vectors.
in_r <- function(value, kind) {
  switch(kind, text = as.character(value), texts = as.character(unlist(value)),
         number = as.numeric(value), numbers = as.numeric(unlist(value)),
         named_texts = lapply(value, function(one) as.character(unlist(one))),
         named_text = vapply(value, as.character, ""), named_numbers = , numbers_by_name = , list_or_names = , shares = unlist(value), value)
}

# Values that have their limits elsewhere: levels, and what lay_out() checks.
within_limits <- function(plan, value, path) {
  name <- last_name(path)
  check <- if (name %in% c("alpha", "fay")) function(value) check_fraction(value, name, NULL) else
    if (any(path == "defaults") || any(path == "tables")) {
      if (!is.null(layout_checks[[name]])) function(value) layout_checks[[name]](value, name, NULL)
    }
  if (is.null(check)) return(value)
  tryCatch({
    check(value)
    value
  }, fairlattice_error = function(e) {
    add_error(plan, path, e)
    NULL
  })
}

last_name <- function(path) {
  named <- path[is.na(suppressWarnings(as.integer(path)))]
  if (length(named)) named[length(named)] else ""
}

named_path <- function(path) if (length(path)) sprintf("\"%s\"", last_name(path)) else "The plan"

described <- function(value) {
  if (is_mapping(value)) return("keys with values")
  if (is.list(value)) return(if (length(value)) "a list" else "an empty list")
  quote_value(value)
}
