# How the work of the desk is taken away: as R code, as a command line, as a plan. Each makes the same table.

# ---- R ----

code_of_work <- function(store, work) {
  lines <- c("library(fairlattice)", if (!is.null(language_said()))
    sprintf("options(fairlattice.language = \"%s\")", language_said()), "",
             if (store$given) sprintf("panel <- %s", store$name) else
               c(if (!is.null(store$source$path)) code_line("records", "read_records", store$source$path,
                                                         !!!store$read) else
                 if (store$name != "records") sprintf("records <- %s", store$name),
                 code_line("panel", "respondents", as.name("records"), !!!symbols(asked_for_code(work$asked)))))
  for (step in steps_of(work)) lines <- c(lines, code_text("panel", step_codes[[step$verb]](step$with)))
  if (!is.null(work$among)) lines <- c(lines, code_line("panel", "among", quote(panel), work$among, base = work$base))
  if (is.null(work$down)) return(lines)
  of_lattice <- intersect(names(work$settings), c(made_with, chosen_anew))
  of_layout <- intersect(names(work$settings), names(layout_checks))
  c(lines, code_line("table", "lattice", quote(panel), down = as.name(work$down), across = several_code(work$across),
                     each = if (!is.null(work$each)) as.name(work$each), !!!work$settings[of_lattice]),
    if (length(of_layout)) code_line("table", "lay_out", quote(table), !!!work$settings[of_layout]), "table")
}

# The language of what is said, where it is not the usual one.
language_said <- function() if (setting("language") != "en") setting("language")

# respondents() knows as `id` what a plan calls the respondent.
asked_for_code <- function(asked) {
  names(asked)[names(asked) == "respondent"] <- "id"
  asked
}

symbols <- function(x) lapply(x, as.name)

several_code <- function(names) {
  if (length(names) > 1L) rlang::call2("c", !!!unname(symbols(names))) else if (length(names)) as.name(names)
}

# What is NULL is left out of a call.
code_call <- function(.name, ...) rlang::call2(.name, !!!Filter(Negate(is.null), rlang::list2(...)))

code_text <- function(to, call) {
  lines <- trimws(deparse(call, width.cutoff = 90L), "left")
  paste(sprintf("%s <- %s", to, lines[1L]), paste0("  ", lines[-1L], recycle0 = TRUE, collapse = "\n"),
        sep = if (length(lines) > 1L) "\n" else "")
}

code_line <- function(.to, .name, ...) code_text(.to, code_call(.name, ...))

listed <- function(x) lapply(x, unlist)

# The steps of preparing as calls, by their verbs.
step_codes <- list(
  band = function(with) {
    code_call("band", quote(panel), as.name(with$question), breaks = with$breaks, n = with[["n"]], width = with$width,
              labels = with$labels, closed = with$closed, least = with$least, into = with$into)
  },
  join = function(with) {
    code_call("regroup", quote(panel), question = as.name(with$question), !!!listed(with$answers), other = with$other,
              missing = if (length(with$missing)) rlang::call2("list", !!!listed(with$missing)))
  },
  order = function(with) code_call("order_answers", quote(panel), as.name(with$question), with$answers),
  retitle = function(with) code_call("retitle", quote(panel), as.name(with$question), with$title),
  ticks = function(with) {
    code_call("ticks", quote(panel),
              !!!stats::setNames(list(if (is.null(with$split)) several_code(with$columns) else as.name(with$question)),
                                 with$name %||% with$question),
              label = with$label, split = with$split, none = with$none)
  },
  net = function(with) code_call("net", quote(panel), as.name(with$question), !!!listed(with$nets)),
  score = function(with) code_call("score", quote(panel), as.name(with$question), unlist(with$scores)),
  one_per = function(with) code_call("one_per", quote(panel), as.name(with$id), with$keep)
)

# ---- the command line ----

# One command, or NULL with the reason where options cannot say it.
command_of_work <- function(store, work) {
  why <- not_in_words(store, work)
  if (!is.null(why)) return(list(text = NULL, why = words(paste0("desk.no_command.", why))))
  flag <- function(name, value) {
    if (isFALSE(value) || !length(value)) return(NULL)
    name <- paste0("--", gsub("_", "-", name))
    if (isTRUE(value)) name else c(name, paste(if (is.numeric(value)) number_text(value) else value, collapse = ","))
  }
  flags <- function(list) unlist(Map(flag, names(list), list), use.names = FALSE)
  asked <- asked_for_code(work$asked)
  text <- c(flags(store$read), flags(asked), flag("one-per", work$one_per), flag("among", work$among),
            flag("base", work$base),
            unlist(lapply(work$prepare, function(step) step_words[[step$verb]](step$with))),
            flag("down", work$down), flag("across", work$across), if (length(work$across) > 1L) "--together",
            flag("each", work$each), flags(work$settings), flag("language", language_said()))
  list(text = shell_lines(c("fairlattice", "cross", store$source$path), text))
}

shell_word <- function(x) {
  ifelse(grepl("^[A-Za-z0-9_./,=:@%+-]+$", x), x, paste0("'", gsub("'", "'\\''", x, fixed = TRUE), "'"))
}

# A line an option, as a shell reads it.
shell_lines <- function(start, text) {
  starts <- startsWith(text, "--")
  options <- split(text, cumsum(starts))
  lines <- vapply(options, function(one) paste(shell_word(one), collapse = " "), "")
  paste(c(paste(shell_word(start), collapse = " "), lines), collapse = " \\\n  ")
}

step_words <- list(
  band = function(with) {
    breaks <- paste(number_text(with$breaks), collapse = ",")
    c("--band", if (is.null(with$into)) sprintf("%s=%s", with$question, breaks) else
      sprintf("%s=%s:%s", with$into, with$question, breaks))
  },
  join = function(with) {
    c(if (length(with$answers)) c("--join", answers_word(with$question, with$answers)),
      if (length(with$missing)) c("--missing", answers_word(with$question, with$missing)))
  },
  net = function(with) c("--net", answers_word(with$question, with$nets)),
  order = function(with) c("--order", sprintf("%s=%s", with$question, paste(with$answers, collapse = ","))),
  retitle = function(with) c("--retitle", sprintf("%s=%s", with$question, with$title)),
  score = function(with) {
    c("--mean", paste(c(with$question, if (length(with$scores)) paste(number_text(unlist(with$scores)),
                                                                      collapse = ",")), collapse = "="))
  },
  ticks = function(with) c("--ticks", sprintf("%s=%s", with$name, paste(with$columns, collapse = ",")))
)

# What the options can say of a step.
words_take <- list(band = c("question", "breaks", "into"), join = c("question", "answers", "missing"),
                   net = c("question", "nets"), order = c("question", "answers"),
                   retitle = c("question", "title"),
                   score = c("question", "scores"), ticks = c("name", "columns"))

answers_word <- function(question, answers) {
  sprintf("%s=%s", question, paste(sprintf("%s: %s", names(answers), vapply(answers, paste, "", collapse = ", ")),
                                   collapse = "; "))
}

# The order that the command prepares in, whatever order its options stand in. Titles, scores and nets may come in any.
order_of_words <- c(band = 1, ticks = 2, join = 3, order = 4, retitle = 5, score = 5, net = 5)

# Why a table cannot be asked for in words; NULL where it can.
not_in_words <- function(store, work) {
  if (store$given || is.null(store$source$path)) return("no_file")
  if (is.null(work$down)) return("no_table")
  options <- vapply(cross_options(), option_name, "")
  if (length(setdiff(names(work$settings), options))) return("setting")
  verbs <- vapply(work$prepare, `[[`, "", "verb")
  if (any(!verbs %in% names(step_words))) return("step")
  beyond <- lapply(work$prepare, function(step) {
    setdiff(names(Filter(length, step$with)),
            words_take[[step$verb]])
  })
  if (length(unlist(beyond))) return("step")
  texts <- unlist(lapply(work$prepare, function(step) step$with[names(step$with) != "title"]))
  named <- unlist(lapply(work$prepare, function(step) {
    c(names(step$with$answers), names(step$with$nets), names(step$with$missing))
  }))
  signs <- c(texts, named, work$across, work$settings$notes)
  if (any(grepl("[,;:=]", signs))) return("signs")
  changed <- vapply(work$prepare, function(step) step$with$into %||% step$with$name %||% step$with$question, "")
  of_condition <- if (!is.null(work$among)) all.vars(parse(text = work$among, keep.source = FALSE))
  if (any(changed %in% of_condition)) return("condition")
  if (any(vapply(split(order_of_words[verbs], changed), is.unsorted, NA))) return("order")
  NULL
}

# ---- a plan ----

# The keys of a plan that makes the tables of these works; they must share design and preparation.
plan_of_works <- function(store, works) {
  shared <- unique(lapply(works, function(work) list(work$asked, steps_of(work))))
  if (length(shared) > 1L) return(list(text = NULL, why = words("desk.no_plan.several")))
  if (store$given || is.null(store$source$path)) return(list(text = NULL, why = words("desk.no_command.no_file")))
  need_package("yaml", "write a plan", NULL)
  steps <- lapply(shared[[1L]][[2L]], function(step) stats::setNames(list(lapply(step$with, plan_value)), step$verb))
  tables <- lapply(works, function(work) {
    key <- list(questions = work$down, across = if (length(work$across)) as.list(work$across) else "none",
                each = work$each, among = work$among, base = work$base)
    c(Filter(length, key), lapply(work$settings, plan_value), list(figure = work$figure))
  })
  keys <- list(language = language_said(),
               records = c(list(file = store$source$path), lapply(store$read, as.character)),
               asked = as.list(shared[[1L]][[1L]]), prepare = steps,
               chapters = list(list(title = words("desk.chapter"), tables = tables)))
  list(text = yaml::as.yaml(Filter(length, keys), indent.mapping.sequence = TRUE, precision = 15L,
                            handlers = list(logical = yaml_flag)))
}

plan_value <- function(x) {
  if (is.list(x) || length(x) > 1L && is.null(names(x))) lapply(x, plan_value) else
    if (length(x) > 1L) as.list(x) else x
}

# YAML's own words for the two.
yaml_flag <- function(x) structure(ifelse(x, "true", "false"), class = "verbatim")
