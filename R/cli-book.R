# The commands plan, book and related.

plan_options <- function() {
  c(in_group("Options",
             one("--out", "FILE",
                 "where the plan goes (default: it is printed)"),
             switch_on("--check",
                       "FILE is a plan: check it, and show what would be made")),
    file_options(), source_options())
}

run_plan <- function(options, files) {
  check_sources(options)
  if (isTRUE(options$check)) {
    if (!is.null(options$out)) stop_words(tells("check_writes_nothing_no_out"))
    return(print(read_plan(files)))
  }
  if (!is.null(options$out) &&
        !grepl("[.]ya?ml$", options$out, ignore.case = TRUE))
    stop_words(tells("out_end_yml_plan_yaml"))
  if (!is.null(options$out) && file.exists(options$out))
    stop_words(c(tells("file_already", options$out),
                 i = tells("name_another_plan_somebody_worked")))
  records <- records_asked(options, files)
  columns <- if (is_source(records)) columns_met(respondents(records)) else records
  text <- starter_plan(columns, files, options$out, options)
  if (is.null(options$out)) return(cat(plain_text(text), sep = "\n"))
  write_beside(options$out, function(file) {
    write_whole(paste0(paste(text, collapse = "\n"), "\n"), file)
  }, NULL)
  say_wrote(options$out,
            ". Its guesses are comments: take away the # where they are right.")
}

book_options <- function() {
  in_group("Options",
           several("--out", "FILE",
                   paste(paste("what is made of the book, by the ending; a",
                               "folder, with / at its end, for a site"),
                         "(default: the plan's outputs; may be given again)"),
                   commas = FALSE),
           several("--only", "WHAT",
                   paste("a chapter ('chapter 2' or its title), a table's",
                         "number or a question (may be given again)"),
                   commas = FALSE),
           one("--records", "FILE",
               "the same plan on other records, such as the next wave"),
           several("--before", "FILE",
                   paste("the records of the wave before, set beside each table",
                         "(of several waves again, in their order); of waves in",
                         "one file, the question and its answers, this wave",
                         "last: year=2022,2024,2026"), commas = FALSE),
           one("--language", "LANGUAGE", "language of what is said of a table",
               choices = setting_choices$language),
           switch_on("--fresh",
                     "make all anew, also where the book of an unchanged plan is kept"))
}

# What this command gives the system when some tables of a book could not be
# made.
some_failed <- 3L

run_book <- function(options, files) {
  for (path in options$out) check_book_path(path)
  local_language(options$language)
  if (!is.null(options$records)) say_changes(files, options$records)
  b <- book(files, only = options$only, records = options$records,
            before = wave_in_words(options$before),
            cache = !isTRUE(options$fresh))
  b$language <- options$language %||% b$language
  outputs <- if (length(options$out))
    lapply(options$out, function(path) list(file = path)) else b$outputs
  for (k in seq_along(outputs))
    say_wrote(if (k == 1L) write_output(b, outputs[[k]]) else
      told_elsewhere(write_output(b, outputs[[k]])))
  print(b)
  if (!length(outputs)) {
    found <- summary(b)
    if (nrow(found))
      cat("", plain_text(cli::style_bold(words("front.summary"))), "",
          plain_text(text_of_parts(parts_of(
                                     found, cli::console_width(), most = 25L),
                                   cli::console_width())), sep = "\n")
  }
  if (length(failed_tables(b))) some_failed else 0L
}

# The waves before: files, or "year=2022,2024,2026".
wave_in_words <- function(words) {
  if (length(words) != 1L || !grepl("=", words, fixed = TRUE) ||
        file.exists(words)) return(words)
  part <- name_and_value(words, "--before", "year=2024,2026")
  answers <- trimws(strsplit(part$value, ",", fixed = TRUE)[[1L]])
  if (length(answers) < 2L || !all(nzchar(answers)))
    stop_words(tells("before_name_two_answers_year", part$name, part$value))
  list(question = part$name, then = answers[-length(answers)],
       now = answers[length(answers)])
}

check_book_path <- function(path) {
  check_book_output(list(file = path))
  if (!is_site(path)) check_output(path, NULL)
}

# What is new, gone or relabelled in other records, before anything is
# tabulated.
say_changes <- function(plan, records) {
  plan <- parsed_plan(plan, NULL)
  stop_faults(plan, NULL)
  plan$folder <- dirname(plan$file)
  file <- plan$asked$records$file
  if (is.null(file) || records_elsewhere(plan$asked$records) ||
        !file.exists(beside_plan(plan, file))) {
    cat(visible(paste("The plan's own records are not here, so their",
                      "questions are not compared with the new ones.")), "\n",
        sep = "", file = stderr())
    return(invisible())
  }
  quietly <- function(code) {
    withCallingHandlers(code, fairlattice_message = function(m) {
      rlang::cnd_muffle(m)
    })
  }
  changes <- quietly(questions_changed(records_of(
    plan, plan$asked$records, "records",
    records), records_of(plan, plan$asked$records, "records")))
  # at once, before anything is tabulated: what goes to standard output is
  # gathered until the end
  cat(plain_text(format_changes(changes)), "", sep = "\n", file = stderr())
}

format_changes <- function(changes, width = cli::console_width()) {
  if (!nrow(changes))
    return("Questions and answers are those of the plan's own records.")
  said <- c(new_question = "new question", question_gone = "question gone",
            retitled = "other title", relabelled = "same code, other answer",
            new_answer = "new answer", answer_gone = "answer gone")
  part <- columns_part(list(Question = visible(changes$question),
                            Change = unname(said[changes$change]),
                            Before = visible(changes$before),
                            Now = visible(changes$now)), left = 4L)
  c(cli::style_bold("What changed in the questions"), "",
    text_of_part(part, width))
}

related_options <- function() {
  c(in_group("Options",
      one("--to", "NAME", "the question that all others are set against (default: all pairs)"),
      several("--question", "NAME", "only these questions (may be given again, or with commas)"),
      one("--among", "CONDITION", "keep a part of the sample, such as \"age >= 18\""),
      one("--nearly", "NUMBER",
          "pairs of which one says so much of the other are set apart (default 0.95)",
          number = TRUE),
      one("--alpha", "NUMBER",
          "level of intervals and of the corrected p (default 0.05)",
          number = TRUE),
      out_option("write what is found")),
    design_options(), sample_options()[1:2],
    # scores, nets and sparse tables are of single tables
    Filter(function(option) {
      !option$flag %in% c("--score", "--net", "--subdivide")
    }, question_options()),
    source_options(), file_options())
}

run_related <- function(options, files) {
  for (path in options$out) check_output(path, NULL)
  survey <- respondents(records_asked(options, files),
                        weight = !!options$weight, stratum = !!options$stratum,
                        cluster = !!options$cluster, count = !!options$count,
                        id = !!options$id)
  survey <- prepare_questions(
    survey, options,
    if (length(options$question)) c(options$to, options$question),
    "--question or --to")
  found <- related(survey, to = !!options$to, questions = !!options$question,
                   nearly = options$nearly %||% 0.95, alpha = options$alpha)
  publish_asked(found, options)
  print(found)
}
