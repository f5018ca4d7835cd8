# The tables of a plan: every question, answer and condition looked up in the
# prepared records. What is wrong is kept as a fault.

prepared_plan <- function(plan, records, before, call) {
  plan$folder <- if (is.null(plan$file)) "." else dirname(plan$file)
  if (is.null(plan$style)) plan$style <- style_of_plan(plan)
  of_records <- function(x) {
    is.data.frame(x) || inherits(x, "fairlattice_survey")
  }
  if (of_records(before)) {
    plan$then <- list(before)
  } else if (is.list(before) && length(before) &&
               all(vapply(before, of_records, NA))) {
    plan$then <- unname(before)
  } else if (!is.null(before)) {
    plan$asked$before <- c(wave_asked(before, plan$asked$before$called, call),
                           plan$asked$before["against"])
  }
  plan$survey <- survey_of_plan(plan, records)
  if (is.null(plan$survey)) return(plan)
  plan$made <- plan$survey$made
  plan <- with_wave_before(plan)
  plan$survey <- kept_among(plan, plan$survey, plan$asked, character())
  plan$tables <- tables_of_plan(plan)
  check_outputs(plan)
  plan
}

# The section `before` of a plan: files in their order, or the answers of a
# question for the waves.
wave_asked <- function(before, called, call) {
  text <- function(x) is.character(x) && length(x) && !anyNA(x)
  if (text(before)) return(list(file = before, called = called))
  if (!is.list(before) ||
        !setequal(names(before), c("question", "then", "now")) ||
        !all(vapply(before, text, NA)))
    stop_input(c(tells("before_path_records_list_question"),
                 i = tells("write_list_question_year_then")), "plan",
               call = call)
  c(before, list(called = called))
}

style_of_plan <- function(plan) {
  file <- plan$asked$style
  if (!is.null(file))
    or_fault(plan, "style", house_style(beside_plan(plan, file)))
}

# ---- the tables ----

# All tables of all chapters in their order: a list each of number, chapter,
# questions down and across, each, and what is set for it.
tables_of_plan <- function(plan) {
  made <- list()
  chapters <- plan$asked$chapters
  for (i in seq_along(chapters)) {
    chapter <- chapters[[i]]
    path <- c("chapters", as.character(i))
    kept_among(plan, plan$survey, chapter, path) # for its faults
    for (j in seq_along(chapter$tables)) {
      one <- chapter$tables[[j]]
      if (is.null(one)) next
      made <- c(made,
                tables_of_entry(plan, chapter, one, i,
                                c(path, "tables", as.character(j))))
    }
  }
  lapply(seq_along(made), function(k) c(list(number = k), made[[k]]))
}

tables_of_entry <- function(plan, chapter, one, i, path) {
  down <- questions_asked(plan, one$questions %||% every_question,
                          c(path, "questions"))
  down <- setdiff(down, questions_asked(plan, one$but, c(path, "but")))
  across <- across_asked(plan, chapter, one, i, path)
  each <- questions_asked(plan, one$each, c(path, "each"))
  kept_among(plan, plan$survey, one, path)
  if (isTRUE(one$pooled) && is.null(each))
    add_fault(plan, c(path, "pooled"),
              tells("pooled_takes_tables_each_together"))
  standardise <- questions_asked(plan, one$standardise, c(path, "standardise"))
  if (!is.null(one$standard) && is.null(one$standardise))
    add_fault(plan, c(path, "standard"), tells("standard_needs_standardise"))
  if (!is.null(one$class_width) && is.null(one$quantiles))
    add_fault(plan, c(path, "class_width"), tells("class_width_needs_quantiles"))
  numbers <- function(key, check) {
    if (is.null(one[[key]])) return(NULL)
    found <- as.numeric(unlist(one[[key]]))
    or_fault(plan, c(path, key), check(found, NULL))
    found
  }
  quantiles <- numbers("quantiles", check_quantiles)
  class_width <- numbers("class_width", check_class_width)
  if (isTRUE(one$paired) && length(across) != 1L)
    add_fault(plan, c(path, "paired"),
              tells("paired_needs_one_question_across"))
  if (!is.null(one$shares))
    check_shares_asked(plan, one$shares, down, across, path)
  settings <-
    utils::modifyList(as.list(plan$asked$defaults), as.list(chapter$defaults))
  settings <- utils::modifyList(
    settings, one[intersect(names(one), names(setting_keys()))])
  if (!length(down)) return(NULL)
  sides <- if (isTRUE(one$together)) list(down) else as.list(down)
  title <- if (length(sides) == 1L) one$title
  if (!is.null(one$title) && length(sides) > 1L)
    add_fault(plan, c(path, "title"),
              tells("title_one_table_several_questions"))
  lapply(sides, function(down) {
    list(chapter = i, down = down, across = across, each = each,
         pooled = isTRUE(one$pooled), paired = isTRUE(one$paired),
         shares = one$shares, standardise = standardise,
         standard = one$standard, quantiles = quantiles, class_width = class_width,
         among = c(section_condition(chapter), section_condition(one)),
         title = title, settings = settings, path = path)
  })
}

# A condition and how it is called.
section_condition <- function(section) {
  if (!is.null(section$among))
    list(list(among = section$among, base = section[["base"]]))
}

# The questions across: of the table, of its chapter or of the plan; "none"
# makes a table of one question.
across_asked <- function(plan, chapter, one, i, path) {
  from <- if (!is.null(one$across)) list(one$across, c(path, "across")) else
    if (!is.null(chapter$across))
      list(chapter$across, c("chapters", as.character(i), "across")) else
      list(plan$asked$across, "across")
  if (identical(from[[1L]], "none") ||
        !is.null(one$shares) && is.null(one$across)) return(NULL)
  found <- questions_asked(plan, from[[1L]], from[[2L]])
  if (length(found)) found
}

every_question <- "every question"

# Columns by name, pattern or "every question".
questions_asked <- function(plan, words, path) {
  data <- plan$survey$data
  found <- lapply(seq_along(words), function(k) {
    word <- words[k]
    if (word %in% names(data)) return(word)
    if (word == every_question) return(all_questions(plan))
    if (word %in% plan$faults$unmade) return(NULL)
    pattern <- grepl("*", word, fixed = TRUE)
    hit <- if (pattern) grep(utils::glob2rx(word), names(data), value = TRUE)
    if (length(hit)) return(hit)
    at <- if (length(words) > 1L) c(path, as.character(k)) else path
    add_fault(plan, at,
              if (pattern) tells("no_question_named_like", cut_short(word)) else
                tells("no_question", cut_short(word)),
              did_you_mean(word, names(data), "questions"))
    NULL
  })
  unique(unlist(found))
}

# Every column that is a question: none of the design's, no item of a tick-all
# question that stands as a whole, and no question that the banner asks already.
all_questions <- function(plan) {
  roles <- unlist(plan$survey$roles[c("weight", "cluster", "id", "count", "population")])
  items <- unlist(lapply(plan$survey$data, attr, "item_names", exact = TRUE),
                  use.names = FALSE)
  setdiff(names(plan$survey$data),
          c(roles, plan$survey$replicates, items, plan$asked$across))
}

check_shares_asked <- function(plan, shares, down, across, path) {
  if (length(down) != 1L || !is.null(across))
    return(add_fault(plan, c(path, "shares"),
                     tells("shares_one_question_without_one")))
  if (identical(shares, "equal")) return(invisible())
  answers <- or_fault(plan, c(path, "questions"),
                      as_answers(plan$survey$data[[down]], down))
  if (is.null(answers)) return(invisible())
  known <- setdiff(levels(answers), attr(answers, "missing", exact = TRUE))
  for (name in setdiff(names(shares), known)) add_fault(
    plan, c(path, "shares", name),
    tells("question_has_no_answer", down, cut_short(name)),
    did_you_mean(name, known, "answers"), at_key = TRUE)
  absent <- setdiff(known, names(shares))
  if (length(absent) && all(names(shares) %in% known))
    add_fault(plan, c(path, "shares"), tells("there_is_no_share", absent[1L]))
}

# ---- the outputs ----

check_outputs <- function(plan) {
  for (k in seq_along(plan$asked$outputs)) {
    one <- plan$asked$outputs[[k]]
    if (is.null(one$file)) next
    path <- c("outputs", as.character(k))
    or_fault(plan, path, check_book_output(one))
    if (!is.null(one$template) && !file.exists(beside_plan(plan, one$template)))
      add_fault(plan, c(path, "template"), tells("no_template", one$template))
  }
}

# The outputs with their places, as seen from here.
outputs_of_plan <- function(plan) {
  lapply(plan$asked$outputs, function(one) {
    one$file <- beside_plan(plan, one$file)
    if (!is.null(one$template)) one$template <- beside_plan(plan, one$template)
    one
  })
}

# A file by its ending, or a folder.
is_site <- function(path) grepl("[/\\\\]$", path)

check_book_output <- function(one) {
  if (is_site(one$file)) return(invisible())
  ending <- ending_of(one$file)
  if (!ending %in% names(writers))
    stop_input(c(tells("does_not_end_format_can", one$file),
                 i = tells("folder_end",
                           paste0(".", book_endings(), collapse = ", "))),
               "format", value = one$file, call = NULL)
  if (!ending %in% book_endings())
    stop_input(c(tells("file_holds_one_figure_book", ending),
                 i = tells("possible_are",
                           paste0(".", book_endings(), collapse = ", "))),
               "format", value = one$file, call = NULL)
  for (what in c("template", "formulas")) {
    if (isTRUE(one[[what]]) || is.character(one[[what]])) {
      if (!what %in% writers[[ending]]$takes)
        stop_input(tells("not_for_such_file", what, ending), "format",
                   call = NULL)
    }
  }
}

# The forms that hold many tables.
book_endings <- function() {
  setdiff(names(writers), c("svg", "png", "figure.pdf"))
}
