# From the text of a plan to checked keys. Nothing of it is ever run: it is read
# as data.

parsed_plan <- function(file, call) {
  if (!is.character(file) || length(file) != 1L || is.na(file))
    stop_input(tells("file_one_path_not", quote_value(file)), "plan",
               call = call)
  if (!file.exists(file) || dir.exists(file))
    stop_input(tells("no_plan", file), "plan", path = file, call = call)
  need_package("yaml", tells("to_read_plan"), call)
  text <- text_of(file)
  bad <- function(why, ...) {
    stop_input(c(tells("plan_cannot_read", basename(file)), x = why, ...),
               "plan", path = file, call = call)
  }
  keys <- parse_yaml(text, bad, plain_yaml)
  if (is.null(keys))
    bad(tells("plan_is_empty"), i = tells("fairlattice_plan_file_out_plan"))
  if (!is_mapping(keys))
    bad(tells("plan_holds_no_keys"), i = tells("write_like_records_veyra_csv"))
  checked_plan(keys, sprintf("the plan \"%s\"", basename(file)), text, file)
}

# Words such as yes, no and 010 are answers here, not truths and octal numbers;
# lists stay lists.
plain_yaml <- list("int#oct" = function(x) x, "int#base60" = function(x) x,
                   "float#base60" = function(x) x,
                   "timestamp#iso8601" = function(x) x,
                   "timestamp#spaced" = function(x) x,
                   "timestamp#ymd" = function(x) x, seq = function(x) x)

checked_plan <- function(keys, called, text = NULL, file = NULL) {
  plan <- structure(list(file = file, called = called, text = text,
                         keys = keys, faults = new_faults()),
                    class = "fairlattice_plan")
  plan$asked <- checked_section(plan, keys, plan_keys(), character())
  plan
}

checked_section <- function(plan, value, keys, path, short = NULL) {
  if (!is.null(short) &&
        (is_text(value) || is_listing(value) && length(value)))
    return(checked_section(plan, stats::setNames(list(value), short), keys,
                           path))
  if (!is_mapping(value)) {
    add_fault(plan, path,
              tells("must_hold_keys", named_path(path), described(value)),
              tells("known.keys", list_some(names(keys))))
    return(list())
  }
  for (name in setdiff(names(value), names(keys))) add_fault(
    plan, c(path, name),
    tells("there_is_no_key", cut_short(name),
          if (length(path)) tells("within_key", last_name(path)) else ""),
    did_you_mean(name, names(keys), "keys"), at_key = TRUE)
  given <- Filter(Negate(is.null), value[intersect(names(value), names(keys))])
  for (name in names(Filter(function(key) key$needed, keys))) {
    if (is.null(given[[name]]))
      add_fault(plan, path, tells("lacks_key", named_path(path), name),
                at_key = TRUE)
  }
  out <- lapply(stats::setNames(names(given), names(given)),
                function(name) {
                  checked_value(plan, given[[name]], keys[[name]],
                                c(path, name))
                })
  Filter(Negate(is.null), out)
}

# A value that is what its key asks for, in the form that R functions take; NULL
# where it is not.
checked_value <- function(plan, value, key, path) {
  bad <- function(what, hint = NULL) {
    add_fault(plan, path,
              tells("key_must_be_not", last_name(path), what, described(value)),
              hint)
    NULL
  }
  each <- function(check) {
    if (!is_listing(value)) return(bad(tells("must_be_list")))
    if (!length(value) && key$kind == "sections")
      return(bad(tells("must_be_filled_list")))
    lapply(seq_along(value), function(k) check(value[[k]], c(path, k)))
  }
  switch(
    key$kind,
    section = checked_section(plan, value, key$keys, path, key$short),
    sections = {
      # one alone needs no list
      if (is_mapping(value) || is_text(value)) value <- list(value)
      each(function(one, path) {
        checked_section(plan, one, key$keys, path, key$short)
      })
    },
    steps = each(function(one, path) checked_step(plan, one, key$keys, path)),
    choice = if (is_text(value) && as.character(value) %in% key$choices)
      as.character(value) else
      bad(one_of(key$choices), meant_choice(value, key$choices)),
    choices = checked_choices_of(value, key, bad),
    {
      kind <- key_kinds[[key$kind]]
      if (!isTRUE(kind$right(value))) return(bad(tells(kind$what)))
      within_limits(plan, in_r(value, key$kind), path)
    })
}

checked_choices_of <- function(value, key, bad) {
  if (is_listing(value) && !length(value)) return(character())
  words <- if (one_or_list(is_text)(value)) as.character(unlist(value))
  wrong <- setdiff(words, key$choices)
  if (is.null(words)) return(bad(said("some_of", list_some(key$choices, Inf))))
  if (length(wrong))
    return(bad(said("some_of", list_some(key$choices, Inf)),
               did_you_mean(wrong[1L], key$choices)))
  words
}

# A step of preparing: one verb with its keys.
checked_step <- function(plan, value, verbs, path) {
  if (!is_mapping(value) || length(value) != 1L) {
    add_fault(plan, path, tells("step_one_verb_keys_not", described(value)),
              tells("known.verbs", list_some(names(verbs), Inf)))
    return(NULL)
  }
  verb <- names(value)
  if (!verb %in% names(verbs)) {
    add_fault(plan, c(path, verb), tells("no_step", cut_short(verb)),
              did_you_mean(verb, names(verbs), "steps"), at_key = TRUE)
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
         named_text = vapply(value, as.character, ""), named_numbers = ,
         numbers_by_name = , list_or_names = , shares = unlist(value), value)
}

# Values that have their limits elsewhere: levels, and what lay_out() checks.
within_limits <- function(plan, value, path) {
  name <- last_name(path)
  check <- if (name %in% c("alpha", "fay"))
    function(value) check_fraction(value, name, NULL) else
    if (any(path == "defaults") || any(path == "tables")) {
      choice <- layout_choices()[[name]]
      if (!is.null(choice))
        function(value) check_chosen(choice, value, name, NULL)
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
  named <- path[!grepl("^[0-9]+$", path)]
  if (length(named)) named[length(named)] else ""
}

named_path <- function(path) {
  if (length(path)) sprintf("\"%s\"", last_name(path)) else "The plan"
}

described <- function(value) {
  if (is_mapping(value)) return(tells("must_mapping"))
  if (is.list(value)) return(tells(if (length(value)) "must_list" else "must_empty_list"))
  quote_value(value)
}
