# How the work of the desk is taken away: as R code, as a command line, as a
# plan. Each makes the same table.

# ---- R ----

code_of_work <- function(store, work) {
  lines <- c("library(fairlattice)", code_of_language(), "",
             code_of_survey(store, work))
  for (step in steps_of(work))
    lines <- c(lines, code_text("survey", step_code(step)))
  if (!is.null(work$among))
    lines <- c(lines, code_line("survey", "among", quote(survey), work$among,
                                base = work$base))
  c(lines, if (!is.null(work$down)) code_of_table(work))
}

code_of_language <- function() {
  if (!is.null(language_said()))
    sprintf("options(fairlattice.language = \"%s\")", language_said())
}

# A survey that the desk was given is called what it was called there; one that
# was asked on the desk begins with its records.
code_of_survey <- function(store, work) {
  if (store$given) return(sprintf("survey <- %s", store$name))
  c(code_of_records(store), code_line("survey", "respondents", as.name("records"),
                       !!!symbols(work$asked)))
}

code_of_records <- function(store) {
  read <- store$read
  if (!is.null(read$database))
    return(c(code_of_connection(read$database),
             code_line("records", "dbi_table", quote(con),
                       !!!read[intersect(names(formals(dbi_table)), names(read))])))
  if (isTRUE(read$in_chunks))
    return(code_line("records", "records_in_chunks", store$files,
                     !!!read[intersect(names(formals(records_in_chunks)), names(read))]))
  if (!is.null(store$source$path))
    return(code_line("records", "read_records", store$source$path, !!!read))
  if (store$name != "records") sprintf("records <- %s", store$name)
}

# A database that is a file is opened; what else a connection takes stands in its file.
code_of_connection <- function(words) {
  named <- database_file(words)
  if (is.null(named)) return(sprintf("con <- DBI::dbConnect(...) # as %s says", words))
  kind <- databases[[named$database]]
  opened <- c(deparse(named$file), if (named$file != ":memory:") kind$reading)
  sprintf("con <- DBI::dbConnect(%s::%s(), %s)", kind$package, kind$driver,
          paste(opened, collapse = ", "))
}

# Where the records are, as a command or a plan says it: files, or nothing where
# options name a database; NULL where neither can.
place_of_records <- function(store) {
  if (store$given) return(NULL)
  if (!is.null(store$read$database)) return(character())
  store$files %||% store$source$path
}

code_of_table <- function(work) {
  chosen <- intersect(names(work$settings), c(made_with(), chosen_anew()))
  laid_out <- intersect(names(work$settings), names(layout_choices()))
  c(code_line("table", "crosstab", quote(survey), down = as.name(work$down),
              across = several_code(work$across),
              each = if (!is.null(work$each)) as.name(work$each),
              !!!work$settings[chosen]),
    if (length(laid_out))
      code_line("table", "lay_out", quote(table), !!!work$settings[laid_out]),
    "table")
}

# The language of what is said, where it is not the usual one.
language_said <- function() if (setting("language") != "en") setting("language")

symbols <- function(x) lapply(x, as.name)

code_text <- function(to, call) {
  lines <- trimws(deparse(call, width.cutoff = 90L), "left")
  paste(sprintf("%s <- %s", to, lines[1L]),
        paste0("  ", lines[-1L], recycle0 = TRUE, collapse = "\n"),
        sep = if (length(lines) > 1L) "\n" else "")
}

code_line <- function(.to, .name, ...) code_text(.to, code_call(.name, ...))

# ---- the command line ----

# One command, or NULL with the reason where options cannot say it.
command_of_work <- function(store, work) {
  why <- not_in_words(store, work)
  if (!is.null(why))
    return(list(text = NULL, why = words(paste0("desk.no_command.", why))))
  flag <- function(name, value) {
    if (isFALSE(value) || !length(value)) return(NULL)
    name <- paste0("--", dashed(name))
    if (isTRUE(value)) name else
      c(name,
        paste(if (is.numeric(value)) number_text(value) else value,
              collapse = ","))
  }
  flags <- function(values) {
    unlist(Map(flag, names(values), values), use.names = FALSE)
  }
  text <- c(flags(store$read), flags(work$asked), flag("one-per", work$one_per),
            flag("among", work$among), flag("base", work$base),
            unlist(lapply(work$prepare, words_of_step)),
            flag("down", work$down), flag("across", work$across),
            if (length(work$across) > 1L) "--together", flag("each", work$each),
            flags(work$settings), flag("language", language_said()))
  list(text = shell_lines(c("fairlattice", "crosstab", place_of_records(store)),
                          text))
}

shell_word <- function(x) {
  ifelse(grepl("^[A-Za-z0-9_./,=:@%+-]+$", x), x,
         paste0("'", gsub("'", "'\\''", x, fixed = TRUE), "'"))
}

# A line an option, as a shell reads it.
shell_lines <- function(start, text) {
  starts <- startsWith(text, "--")
  options <- split(text, cumsum(starts))
  lines <-
    vapply(options, function(one) paste(shell_word(one), collapse = " "), "")
  paste(c(paste(shell_word(start), collapse = " "), lines),
        collapse = " \\\n  ")
}

# Why a table cannot be asked for in words; NULL where it can.
not_in_words <- function(store, work) {
  if (is.null(place_of_records(store))) return("no_file")
  if (is.null(work$down)) return("no_table")
  options <- vapply(cross_options(), option_name, "")
  if (length(setdiff(names(work$settings), options))) return("setting")
  if (any(vapply(work$prepare, function(step) is.null(words_of_step(step)),
                 NA))) return("step")
  texts <- unlist(lapply(work$prepare, function(step) {
    step$with[names(step$with) != "title"]
  }))
  named <- unlist(lapply(work$prepare, function(step) {
    c(names(step$with$answers), names(step$with$nets), names(step$with$missing))
  }))
  signs <- c(texts, named, work$across, work$settings$notes)
  if (any(grepl("[,;:=]", signs))) return("signs")
  changed <- vapply(work$prepare, made_by, "")
  of_condition <- if (!is.null(work$among))
    all.vars(parse(text = work$among, keep.source = FALSE))
  if (any(changed %in% of_condition)) return("condition")
  ranks <-
    vapply(work$prepare, function(step) prepare_steps()[[step$verb]]$rank, 0)
  if (any(vapply(split(ranks, changed), is.unsorted, NA))) return("order")
  NULL
}

# ---- a plan ----

# The keys of a plan that makes the tables of these works; they must share
# design and preparation.
plan_of_works <- function(store, works) {
  shared <-
    unique(lapply(works, function(work) list(work$asked, steps_of(work))))
  if (length(shared) > 1L)
    return(list(text = NULL, why = words("desk.no_plan.several")))
  if (is.null(place_of_records(store)))
    return(list(text = NULL, why = words("desk.no_command.no_file")))
  need_package("yaml", tells("to_write_plan"), NULL)
  steps <- lapply(shared[[1L]][[2L]], function(step) {
    stats::setNames(list(lapply(step$with, plan_value)), step$verb)
  })
  tables <- lapply(works, function(work) {
    key <- list(questions = work$down,
                across = if (length(work$across)) as.list(work$across) else
                  "none", each = work$each, among = work$among,
                base = work$base)
    c(Filter(length, key), lapply(work$settings, plan_value),
      list(figure = work$figure))
  })
  keys <- list(language = language_said(),
               records = c(Filter(length, list(file = place_of_records(store))),
                           lapply(store$read[names(store$read) %in% names(file_keys())],
                                  function(one) {
                                    if (is.logical(one)) one else as.character(one)
                                  })),
               asked = as.list(shared[[1L]][[1L]]), prepare = steps,
               chapters = list(list(title = words("desk.chapter"),
                                    tables = tables)))
  list(text = yaml::as.yaml(Filter(length, keys),
                            indent.mapping.sequence = TRUE, precision = 15L,
                            handlers = list(logical = yaml_flag)))
}

plan_value <- function(x) {
  if (is.list(x) || length(x) > 1L && is.null(names(x)))
    lapply(x, plan_value) else if (length(x) > 1L) as.list(x) else x
}

# YAML's own words for the two.
yaml_flag <- function(x) {
  structure(ifelse(x, "true", "false"), class = "verbatim")
}
