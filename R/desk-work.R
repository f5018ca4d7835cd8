# What the desk is asked for: one table, in the words of a tab plan, and the
# tray. A work is plain data; an act makes a new one of it and leaves the old
# one as it was, so that everything can be undone.

#   asked      the design: names of columns by what they are (see asked_keys())
#   one_per    "first" or "last": one record of each respondent
#   prepare    steps, each a verb and what goes with it (see prepare_keys())
#   among, base   the condition, and the same in words
#   down, across, each   questions; one down, any number across, one each
#   settings   see setting_keys(), and `title`
#   figure     the kind that is drawn
#   tray       works without a tray, in their order
new_work <- function(asked = list()) {
  list(asked = asked, one_per = NULL, prepare = list(), among = NULL,
       base = NULL, down = NULL, across = character(), each = NULL,
       settings = list(), figure = "shares", tray = list())
}

# What can be done, by name: each takes a work and what goes with the act, and
# gives a work. `with` comes from a page, so that everything in it is checked.
acts <- list(
  put = function(work, with) {
    check_choice(with$side, sides, "side", NULL)
    put_question(work, text_sent(with, "question"), with$side, with$before)
  },
  drop = function(work, with) {
    check_choice(with$side, sides, "side", NULL)
    without_question(work, text_sent(with, "question"))
  },
  turn = function(work, with) turned_work(work),
  clear = function(work, with) {
    fresh <- new_work()
    utils::modifyList(work,
                      list(down = NULL, across = fresh$across, each = NULL,
                           settings = list()))
  },
  ask = function(work, with) {
    check_choice(with$role, names(asked_keys()), "role", NULL)
    work$asked[[with$role]] <- text_sent_or_none(with, "column")
    if (is.null(work$asked$id)) work["one_per"] <- list(NULL)
    work
  },
  ask_all = function(work, with) {
    for (role in names(with)) work <-
      acts$ask(work, list(role = role, column = with[[role]]))
    work
  },
  one_per = function(work, with) {
    keep <- text_sent_or_none(with, "keep")
    if (!is.null(keep)) check_choice(keep, c("first", "last"), "keep", NULL)
    if (!is.null(keep) && is.null(work$asked$id))
      stop_input(tells("say_first_column_tells_who"), "desk", call = NULL)
    work["one_per"] <- list(keep)
    work
  },
  keep = function(work, with) {
    work["among"] <- list(text_sent_or_none(with, "among"))
    work["base"] <-
      list(if (!is.null(work$among)) text_sent_or_none(with, "base"))
    work
  },
  set = function(work, with) {
    set_work(work, text_sent(with, "name"), with$value)
  },
  draw = function(work, with) {
    check_choice(with$figure, c(names(figures), "none"), "figure", NULL)
    replace(work, "figure", with$figure)
  },
  prepare = function(work, with) {
    replace(work, "prepare",
            list(c(work$prepare, list(checked_desk_step(with)))))
  },
  unprepare = function(work, with) {
    replace(work, "prepare",
            list(work$prepare[-place_in(with$at, work$prepare)]))
  },
  tray_put = function(work, with) {
    if (is.null(work$down))
      stop_input(tells("no_table_yet_put_into"), "desk", call = NULL)
    replace(work, "tray", list(c(work$tray, list(bare_work(work)))))
  },
  tray_drop = function(work, with) {
    replace(work, "tray", list(work$tray[-place_in(with$at, work$tray)]))
  },
  tray_move = function(work, with) {
    at <- place_in(with$at, work$tray)
    to <- place_in(with$to, work$tray)
    replace(work, "tray", list(append(work$tray[-at], work$tray[at], to - 1L)))
  },
  tray_open = function(work, with) {
    one <- work$tray[[place_in(with$at, work$tray)]]
    one$tray <- work$tray
    one
  }
)

sides <- c("down", "across", "each")

bare_work <- function(work) replace(work, "tray", list(list()))

# Where a question stands; NULL where it does not.
side_of <- function(work, question) {
  for (side in sides) if (question %in% work[[side]]) return(side)
  NULL
}

without_question <- function(work, question) {
  work["down"] <- list(if (!identical(work$down, question)) work$down)
  work["each"] <- list(if (!identical(work$each, question)) work$each)
  work$across <- setdiff(work$across, question)
  work
}

# Across there is room for several, down and each for one: what stood there goes
# to where the new one came from, or away.
put_question <- function(work, question, side, before = NULL) {
  from <- side_of(work, question)
  at <- match(question, work$across)
  work <- without_question(work, question)
  if (side == "across") {
    to <- if (is.character(before))
      match(before, work$across, length(work$across) + 1L) else
      length(work$across) + 1L
    work$across <- append(work$across, question, to - 1L)
    return(work)
  }
  was <- work[[side]]
  work[[side]] <- question
  if (is.null(was) || is.null(from) || from == side) return(work)
  if (from == "across") work$across <- append(work$across, was, at - 1L) else
    work[[from]] <- was
  work
}

turned_work <- function(work) {
  if (is.null(work$down) || length(work$across) != 1L)
    stop_input(tells("only_table_one_question_down"), "desk", call = NULL)
  work[c("down", "across")] <- work[c("across", "down")]
  work$settings$explains <- other_side[[work$settings$explains %||% "across"]]
  if (work$settings$explains == "across") work$settings$explains <- NULL
  for (key in c("percent", "show")) if (length(work$settings[[key]]))
    work$settings[[key]] <- other_base(work$settings[[key]])
  work
}

desk_settings <- function() {
  c(setting_keys(), list(title = new_key("text", "title of the table")))
}

# A setting as a page sends it: NULL and "" take it back.
set_work <- function(work, name, value) {
  keys <- desk_settings()
  check_choice(name, names(keys), "name", NULL)
  key <- keys[[name]]
  value <- if (is.list(value)) unlist(value) else value
  if (!length(value) || identical(value, "")) {
    work$settings[[name]] <- NULL
    return(work)
  }
  if (key$kind %in% c("number", "numbers", "numbers_by_name")) {
    number <- suppressWarnings(as.numeric(value))
    if (anyNA(number) || key$kind != "numbers" && length(number) != 1L)
      stop_input(tells("key_must_be_number", name,
                       cut_short(as.character(value)[1L])), "desk", call = NULL)
    value <- number
  }
  if (key$kind %in% c("choice", "choices"))
    for (one in value) check_choice(one, key$choices, name, NULL) else
    if (!key_kinds[[key$kind]]$right(
      if (length(value) > 1L) as.list(value) else value))
      stop_input(tells("key_must_be", name,
                       tells(key_kinds[[key$kind]]$what)), "desk", call = NULL)
  work$settings[[name]] <- value
  if (name == "percent")
    work$settings$show <- show_after(work$settings$show, value)
  work
}

# What stands in a cell when the percentages become others: they come first, and
# alone they need not be asked for.
show_after <- function(show, percent) {
  rest <- setdiff(show, c(percent_figures, if (percent == "none") "n"))
  if (length(rest)) c(if (percent == "none") "n" else percent, rest)
}

# A step of preparing, checked as a plan's is.
checked_desk_step <- function(with) {
  verbs <- prepare_keys()
  check_choice(with$verb, names(verbs), "verb", NULL)
  for (part in intersect(c("answers", "nets", "missing"), names(with))) {
    if (is.list(with[[part]])) {
      if (!all(lengths(with[[part]])))
        stop_input(words("desk.choose_first"), "desk", call = NULL)
      if (!is.null(names(with[[part]])) && any(!nzchar(names(with[[part]]))))
        stop_input(words("desk.name_first"), "desk", call = NULL)
    }
  }
  step <- Filter(length, with[setdiff(names(with), "verb")])
  for (one in step$breaks) if (!is.numeric(one))
    stop_input(tells("is_not_a_number", cut_short(as.character(one)[1L])),
               "desk", call = NULL)
  plan <- checked_plan(list(prepare = list(
                              stats::setNames(list(step), with$verb)),
                            chapters = list(
                              list(title = "x", tables = list("x")))),
                       "the step")
  for (fault in plan$faults$found) stop_input(
    fault$message, "desk", call = NULL)
  list(verb = with$verb, with = plan$asked$prepare[[1L]]$with)
}

# ---- what a page sends ----

text_sent <- function(with, name) {
  value <- with[[name]]
  if (!is.character(value) || length(value) != 1L || is.na(value) ||
        !nzchar(value))
    stop_input(tells("must_be_one_text", name), "desk", call = NULL)
  value
}

text_sent_or_none <- function(with, name) {
  value <- with[[name]]
  if (is.null(value) || identical(trimws(value), "")) NULL else
    text_sent(with, name)
}

place_in <- function(at, list) {
  if (!is.numeric(at) || length(at) != 1L || !at %in% seq_along(list))
    stop_input(tells("no_such_place_list"), "desk", call = NULL)
  as.integer(at)
}
