# The words of a command: options, how they are read and checked, and errors
# about them.

stop_words <- function(message) stop_input(message, "words")

# An option with one value, one that may be given several times or with commas,
# and a switch.
one <- function(flag, value, help, choices = NULL, default = NULL,
                number = FALSE) {
  list(flag = flag, value = value, choices = choices, default = default,
       kind = if (number) "number" else "one",
       help = paste0(help,
                     if (!is.null(choices))
                       paste0(": ", paste(choices, collapse = ", "))))
}

several <- function(flag, value, help, commas = TRUE) {
  list(flag = flag, value = value, help = help, kind = "several",
       commas = commas)
}

switch_on <- function(flag, help) {
  list(flag = flag, help = help, kind = "switch")
}

option_name <- function(option) gsub("-", "_", sub("^--", "", option$flag))

parse_words <- function(command, words) {
  parsed <- parsed_words(words, command$options)
  options <- lapply(command$options, function(option) {
    check_option(parsed$values[[option$flag]], option) %||% option_default(option)
  })
  # every option has its place, also one that was not given: `$` would otherwise take
  # another that begins like it
  names(options) <- vapply(command$options, option_name, "")
  # the records may be in the database
  files <- if (is.null(options$database)) command$files else 0L
  check_files_given(parsed$args, files, command)
  list(options = options, args = parsed$args)
}

# "--alpha 0.05,0.01" is two levels.
with_second_level <- function(words) {
  at <- which(words == "--alpha")
  for (k in rev(at[at < length(words)])) {
    levels <- strsplit(words[k + 1L], ",", fixed = TRUE)[[1L]]
    if (length(levels) == 2L)
      words <- c(words[seq_len(k)], levels[1L], "--second-alpha", levels[2L],
                 words[-seq_len(k + 1L)])
  }
  words
}

option_default <- function(option) {
  if (option$kind == "switch") FALSE else option$default
}

# The values of every option that was given, by its flag, and what stands beside them, as
# texts. An option's value is the next word, or stands behind "="; words after "--" are no
# options.
parsed_words <- function(words, options) {
  flags <- vapply(options, `[[`, "", "flag")
  valued <- vapply(options, `[[`, "", "kind") != "switch"
  if ("--second-alpha" %in% flags) words <- with_second_level(words)
  end <- match("--", words, length(words) + 1L)
  after <- words[-seq_len(end)]
  words <- words[seq_len(end - 1L)]
  option <- match(sub("=.*", "", words), flags, 0L)
  joined <- option > 0L & grepl("=", words, fixed = TRUE)
  apart <- which(valued[replace(option, option == 0L, NA)] & !joined)
  check_flags(words, option, joined, apart, flags, valued)
  values <- sub("^[^=]*=", "", words)
  values[apart] <- words[apart + 1L]
  option[apart + 1L] <- NA
  given <- which(option > 0L)
  list(values = split(values[given], flags[option[given]]), args = c(words[option %in% 0L], after))
}

check_files_given <- function(given, files, command) {
  if (length(given) == files || is.infinite(files) && length(given)) return(invisible())
  usage <- tells("usage_fairlattice", command$usage)
  if (length(given) < files)
    stop_words(c(tells("file_missing"), i = usage))
  stop_words(c(tells("one_word_too_many", given[files + 1L]),
               i = if (files < command$files)
                 tells("database_records_database_not_file"),
               i = usage))
}

# Unknown options are told with the nearest known one, and one that lacks its value, or has
# one though it takes none, is told too. A value may begin with one "-".
check_flags <- function(words, option, joined, apart, flags, valued) {
  unknown <- startsWith(words, "-") & words != "-" & option == 0L
  unknown <- setdiff(which(unknown), apart[!startsWith(words[apart + 1L], "--")] + 1L)
  if (length(unknown)) {
    name <- sub("=.*", "", words[unknown[1L]])
    stop_words(c(tells("no_option", name), did_you_mean(name, flags, "options")))
  }
  bare <- apart[apart == length(words) | startsWith(words[apart + 1L], "--")]
  if (length(bare)) stop_words(tells("needs_value_after", words[bare[1L]]))
  switched <- which(joined)[!valued[option[joined]]]
  if (length(switched)) stop_words(tells("takes_no_value", flags[option[switched[1L]]]))
}

# What an option was given, checked: a switch is on, one that takes several values has all
# of them, any other the last.
check_option <- function(values, option) {
  if (!length(values)) return(NULL)
  if (option$kind == "switch") return(TRUE)
  if (option$kind == "several")
    return(if (option$commas) trimws(unlist(strsplit(values, ",", fixed = TRUE))) else values)
  value <- values[length(values)]
  if (!is.null(option$choices) && !value %in% option$choices) {
    stop_words(c(tells("option_must_be", option$flag, one_of(option$choices),
                       cut_short(value)), meant_choice(value, option$choices)))
  }
  if (option$kind != "number") return(value)
  number <- suppressWarnings(as.numeric(value))
  if (is.na(number))
    stop_words(tells("option_must_be_number", option$flag, value))
  number
}

# Options under a heading of the help.
in_group <- function(title, ...) {
  lapply(list(...), function(option) c(option, list(group = title)))
}

file_options <- function() {
  in_group("The file",
           one("--codebook", "FILE",
               "the codebook (default: FILE's name with .schema.json, beside it)"),
           one("--unknown", "WHAT",
               paste("a value that the codebook does not know is an error, or",
                     "makes the answer missing"),
               choices = c("error", "missing")),
           one("--encoding", "NAME",
               "how the letters of a text file are written, such as latin1 (default UTF-8)"),
           one("--delimiter", "SIGN",
               paste("what stands between cells of a text file, such as '|'",
                     "or tab (default: detected)")),
           one("--decimal", "MARK",
               "the decimal mark of a text file, a point or a comma (default: detected)"),
           one("--sheet", "NAME",
               "sheet of a workbook, by name or number; resource of a data package"),
           one("--range", "CELLS",
               "cells of a sheet, such as B2:H400, or B2 for all from there on"))
}

# Records that stay where they are, in place of a FILE in memory.
source_options <- function() {
  in_group("Records that are not read into memory",
           one("--database", "WHERE",
               paste(paste("in place of FILE: sqlite:FILE or duckdb:FILE, or",
                           "a YAML file that describes the"),
                     "connection (database, host, port, dbname, user, password_from)")),
           one("--table", "NAME", "the table or view of the database"),
           one("--query", "SELECT", "in place of --table: a query whose rows are the records"),
           switch_on("--show-sql", "show every query that is sent"),
           one("--time-limit", "SECONDS",
               "stop a query that takes longer (PostgreSQL, MariaDB, ClickHouse)",
               number = TRUE),
           switch_on("--in-chunks",
                     paste(paste("read FILE (or 'part-*.csv', or a folder of",
                                 "parts) in chunks, once for all tables:",
                                 "text, Parquet,"), "JSON lines")))
}

# Options of where the records are that do not go together.
check_sources <- function(options) {
  if (is.null(options$database)) {
    for (name in c("table", "query", "show_sql", "time_limit")) {
      if (!is.null(options[[name]]) && !isFALSE(options[[name]]))
        stop_words(tells("database_needs_database", dashed(name)))
    }
  } else if (is.null(options$table) == is.null(options$query)) {
    stop_words(tells("database_needs_table_table_whose_rows"))
  } else if (isTRUE(options$in_chunks)) {
    stop_words(tells("chunks_files_not_database"))
  }
}

# How the sample was drawn: what every command may ask ...
design_options <- function(group = "Who was asked") {
  in_group(group, one("--weight", "NAME", "column of sampling weights"),
           several("--stratum", "NAMES", "columns of strata, stage by stage"),
           several("--cluster", "NAMES", "columns of clusters, stage by stage"),
           one("--count", "NAME",
               "column that says how many respondents a record stands for"))
}

# ... and beyond that.
sample_options <- function() {
  in_group("Who was asked",
           one("--id", "NAME",
               "column of respondent ids: warns of ids that occur more than once"),
           one("--one-per", "WHICH",
               paste("keep one record of each --id: first, last, or a",
                     "condition such as \"age >= 18\"")),
           several("--population", "NAMES",
                   paste("columns with the stratum's number of clusters (respondents) in",
                         "the population, or the rates of drawing, stage by stage")),
           one("--unequal", "METHOD",
               "approximation for clusters drawn with unequal probabilities",
               choices = names(unequal_methods)),
           one("--imputation", "NAME",
               "column that says which imputed data set a record is of"),
           several("--calibrated-to", "NAMES",
                   paste("margins that the weights were calibrated to;",
                         "sex:age_group for two questions together")),
           one("--adjust-nonresponse", "WHO",
               paste("weights that make up for people who did not respond: who did, and the",
                     "questions within whose answers, such as '!is.na(ferry); island,mode'")),
           several("--weigh-to", "TARGET",
                   paste("weigh the sample to shares or numbers of people by answer, such",
                         "as 'leave=Yes: 36; No: 64', or a number's mean, 'age=mean: 47.5'",
                         "(given again for more questions)"), commas = FALSE),
           one("--single-cluster", "HOW",
               "what a stratum with one cluster adds to the variance (default centre)",
               choices = c("centre", "zero", "stop")),
           several("--replicates", "NAMES",
                   "columns of replicate weights, or a pattern such as 'rep_*'"),
           one("--replicate-kind", "KIND", "what kind they are (default brr)",
               choices = names(replicate_kinds)),
           one("--fay", "NUMBER", "Fay's factor", number = TRUE),
           one("--make-replicates", "KIND",
               "make replicate weights from strata and clusters",
               choices = names(replicate_makers)))
}

# The options of the steps that prepare questions, in the order in which they
# are done.
question_options <- function() {
  options <- step_options()
  do.call(in_group,
          unname(c("Preparing questions",
                   lapply(names(options), function(name) {
                     several(paste0("--", dashed(name)), options[[name]]$value,
                             options[[name]]$help, commas = FALSE)
                   }))))
}

sparse_option <- function() {
  in_group("Preparing questions",
           switch_on("--regroup-sparse",
                     paste("take the answers with the fewest respondents",
                           "together until no expected count is too small")))
}

# The options of the choices of a table and of its layout that stand in a group
# of the help.
choice_options <- function(group) {
  shared_names <-
    names(Filter(function(help) identical(help$group, group), choice_help))
  choices <- all_choices()
  options <- lapply(shared_names, function(name) {
    choice <- choices[[name]]
    help <- choice_help[[name]]
    flag <- paste0("--", dashed(name))
    switch(choice$kind, flag = switch_on(flag, help$about),
           choices = several(flag, help$sign,
                             sprintf("%s: %s", help$about,
                                     paste(choice$values, collapse = ", "))),
           numbers = , numbers_by_name = several(flag, help$sign, help$about),
           texts = several(flag, help$sign, help$about, commas = FALSE),
           one(flag, help$sign, help$about, choices = choice$values,
               number = choice$kind %in% c("fraction", "whole")))
  })
  do.call(in_group, c(group, options))
}
