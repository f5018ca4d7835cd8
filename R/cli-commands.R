# The commands: each reads its options, calls the public functions and prints.

out_option <- function(help) {
  several("--out", "FILE",
          sprintf("%s (%s; may be given again)", help,
                  paste0(".", names(writers), collapse = ", ")))
}

cross_options <- function() {
  design <- design_options("Most used")
  c(in_group("Most used",
             several("--down", "NAME",
                     "question that runs down the side (may be given again, or with commas)"),
             several("--across", "NAME",
                     paste("question across the top (may be given again, or",
                           "with commas); without it a table of --down alone")),
             switch_on("--together",
                       paste("all questions across, and all down, in one",
                             "table with one total column")),
             one("--each", "NAME",
                 "make one table per answer of this question"),
             one("--among", "CONDITION",
                 "keep a part of the sample, such as \"age >= 18 & island == 'Norrey'\"")),
    design[1:3], choice_options("Most used"),
    in_group("Most used", out_option("write the tables"),
             one("--template", "FILE",
                 paste("the house's document or presentation, whose styles a",
                       "written .docx or .pptx takes")),
             switch_on("--formulas",
                       paste("a written .xlsx calculates: counts are typed",
                             "in, all else is formulas"))),
    choice_options("How it looks"), choice_options("How sure"),
    in_group("How it looks",
             switch_on("--overlap",
                       paste("letters compare all columns of --together,",
                             "people who stand in several taken into account")),
             one("--base", "WORDS",
                 paste("who --among keeps, for the line under the title, such",
                       "as 'residents aged 18 or over'")),
             one("--style", "FILE",
                 paste("the house style, a YAML file: fonts, colours, rules,",
                       "decimals, signs, words, layout"))),
    list(replace(design[[4L]], "group", "Who was asked")), sample_options(),
    choice_options("Who was asked"), question_options(), sparse_option(),
    choice_options("The table"),
    in_group("The table", switch_on("--flip", "turn the table round"),
             one("--figure", "KIND",
                 "figure of a page or picture (default shares)",
                 choices = c(names(figures), "none")),
             one("--language", "LANGUAGE",
                 "language of what is said of a table (default en)",
                 choices = setting_choices$language),
             one("--format", "FORMAT", "what is printed (default text)",
                 choices = c("text", "json"))),
    in_group("More about a table",
             several("--shares", "ANSWER=SHARE",
                     paste("hold the answers of --down alone against these",
                           "shares, such as 'Yes=50,No=50'")),
             switch_on("--tests", "show every test that suits the table"),
             switch_on("--strength",
                       "show every measure that suits the table, and what each means"),
             switch_on("--residuals",
                       "show where it sits, cell by cell, strongest first"),
             switch_on("--differences",
                       "show which columns differ, by letters and pair by pair"),
             switch_on("--risks",
                       "show differences, ratios and odds of one row, column against column"),
             one("--outcome", "ANSWER",
                 paste("row (column, with --explains down) whose chance",
                       "--risks compares (default the first)")),
             one("--reference", "ANSWER",
                 paste("column (row, with --explains down) that --risks holds",
                       "the others against (default the last)")),
             one("--standardise", "NAME",
                 paste("percentages as if all columns had the same composition",
                       "by this question")),
             several("--standard", "WHAT",
                     paste("to which: total (default), a column, or shares such as",
                           "young=30,old=70")),
             several("--quantiles", "NUMBERS",
                     "show these quantiles of a number, such as 10,50,90"),
             one("--class-width", "NUMBER",
                 paste("to what people round the number of --quantiles, which are",
                       "then interpolated"), number = TRUE),
             switch_on("--inequality",
                       "show the Gini coefficient of a number, and what the top tenth holds"),
             switch_on("--totals",
                       "show how many people are in every cell, with intervals"),
             switch_on("--detectable", "show what the table could have shown"),
             switch_on("--working",
                       "show the arithmetic of the statistic, step by step"),
             one("--write-up", "STYLE", "show the paragraph for the report",
                 choices = c("short", "full", "sentence"))), source_options(),
    file_options())
}

cross_examples <- c(
  "a table with its sample design" = paste(
    "crosstab veyra.csv --down heating", "--across island --weight weight",
    "--stratum island --cluster", "settlement"),
  "bands, joined answers, one record a person" = paste(
    "crosstab veyra.csv --down ferry --across age --band age=18,35,65",
    "--regroup 'ferry=Unhappy: Very dissatisfied, Dissatisfied' --id id --one-per last"),
  "a tick-all question, of a part of the sample, as a page" = paste(
    paste("crosstab veyra.csv --down reasons --across island --ticks",
          "reasons=reason_work,reason_housing"),
    "--among 'age < 65' --base 'residents under 65' --out reasons.html"),
  "one question alone, against shares that are known" = paste(
    "crosstab veyra.csv --down leave --shares 'Yes=40,No=60'"),
  "counts alone, the largest answer first, with a title and a note" = paste(
    paste("crosstab veyra.csv --down ferry --across island --percent none",
          "--sort size --title 'Who likes the ferry'"),
    "--notes 'Residents of all ages'"),
  "counts beside percentages without decimals, and the headline test" = paste(
    paste("crosstab veyra.csv --down ferry --across island --show column,n",
          "--stack beside --decimals 0 --lines test")),
  "several questions across, a subtotal, means, and letters over all columns" = paste(
    "crosstab veyra.csv --down ferry --across island,tenure --together",
    paste("--net 'ferry=Satisfied in all: Satisfied, Very satisfied' --score",
          "ferry --marks letters --overlap")),
  "one question within another" = paste("crosstab veyra.csv --down ferry",
                                        "--across leave_by_internet",
                                        "--subdivide leave=internet"),
  "every island against the rest, small bases hidden" = paste(
    paste("crosstab veyra.csv --down ferry --across island --against rest",
          "--show column,difference,difference_interval"),
    "--hide-under 50"),
  "for the public: small counts withheld, or all rounded" = paste(
    "crosstab veyra.csv --down ferry --across tenure --show column,n --withhold-under 20",
    "--out public.html"),
  "crosstab veyra.csv --down ferry --across tenure --show n --round-to 5",
  "records in a database, which adds them up" = paste(
    "crosstab --database sqlite:veyra.db --table answers --down ferry --across island",
    "--codebook veyra.schema.json"),
  "files too large for memory" = paste("crosstab 'part-*.csv' --in-chunks",
                                       "--down ferry --across island",
                                       "--codebook veyra.schema.json --weight",
                                       "weight"),
  "in the style of the house" = paste("crosstab veyra.csv --down ferry",
                                      "--across island --style house.yml",
                                      "--out styled.html")
)

# The records of a command: of a file in memory, or where they are.
records_asked <- function(options, files) {
  check_sources(options)
  if (records_elsewhere(options)) far_records(options, files) else
    read_file(options, files)
}

# FILE may be - for standard input, as comma-separated text.
read_file <- function(options, path) {
  if (path == "-") {
    path <- scratch_copy(standard_input(), ".csv")
    on.exit(unlink(path))
  }
  read_records(path, options$codebook, options$unknown %||% "error",
               options$encoding, options$decimal, options$sheet, options$range,
               delimiter = options$delimiter)
}

# All bytes of it, as they are.
standard_input <- function() {
  input <- file("stdin", "rb")
  on.exit(close(input))
  pieces <- list()
  repeat {
    piece <- readBin(input, "raw", 2^20)
    if (!length(piece)) return(do.call(c, c(list(raw()), pieces)))
    pieces[[length(pieces) + 1L]] <- piece
  }
}

# Options that do not go together are told before anything is read.
check_cross <- function(options) {
  if (!length(options$down)) {
    stop_words(c(tells("down_missing_names_question"),
                 i = tells("run_fairlattice_look_file_see")))
  }
  check_companions(options)
  if (isTRUE(options$overlap) && !isTRUE(options$together))
    stop_words(tells("overlap_columns_one_table_needs"))
  if (!is.null(options$single_cluster) && is.null(options$stratum) &&
        is.null(options$cluster))
    stop_words(tells("single_cluster_strata_one_cluster"))
  if (!is.null(options$base) && is.null(options$among))
    stop_words(tells("base_says_who_among_keeps"))
  if (length(options$shares) &&
        (length(options$down) != 1L || length(options$across)))
    stop_words(tells("shares_one_question_down_without"))
  if (!is.null(options$alpha) && (options$alpha <= 0 || options$alpha >= 1)) {
    stop_words(tells("alpha_between_0_1_not", format(options$alpha)))
  }
  if (isTRUE(options$regroup_sparse) &&
        (!is.null(options$each) || length(c(options$ticks, options$split)))) {
    stop_words(tells("regroup_sparse_one_table_time"))
  }
}

# Options that say more of another one need that one.
check_companions <- function(options) {
  if (!is.null(options$standard) && is.null(options$standardise))
    stop_words(tells("standard_needs_standardise"))
  if (!is.null(options$class_width) && is.null(options$quantiles))
    stop_words(tells("class_width_needs_quantiles"))
}

run_cross <- function(options, files) {
  check_cross(options)
  check_forms(options)
  style <- if (!is.null(options$style)) house_style(options$style)
  set <- utils::modifyList(as.list(style$options),
                           list(fairlattice.language = options$language))
  was <- options(set)
  on.exit(options(was))
  survey <- survey_as_asked(records_asked(options, files), options)
  survey <- prepare_questions(survey, options,
                              c(options$down, options$across, options$each))
  if (length(options$weigh_to)) options$weigh_to <- list(targets = targets_asked(options$weigh_to))
  if (!is.null(options$adjust_nonresponse))
    options$adjust_nonresponse <- response_asked(options$adjust_nonresponse)
  survey <- with_design_asked(survey, options)
  tables <- lapply(tables_asked(survey, options), laid_out_as_asked,
                   options = options, style = style)
  tables <- protected_tables(tables)
  along <- lapply(tables, function(table) {
    c(results_asked(table, options), if (!is.null(options$standardise))
      standardised_along(table, survey, options$standardise,
                         standard_in_words(options$standard)))
  })
  all <- unlist(Map(c, lapply(tables, list), along), recursive = FALSE)
  if (any(vapply(tables, function(x) guards(x$layout), NA)))
    check_alone(entries_of(all, NULL), NULL)
  publish_asked(all, options)
  if (identical(options$format, "json")) {
    entries <- entries_of(all, NULL)
    check_withheld(entries, "json", FALSE, NULL)
    return(cat(json_entries(entries), "\n", sep = ""))
  }
  say_not_followed(style, "text")
  print_tables(tables, along)
}

# What is written. Files first: whoever reads the print may stop reading at any
# line.
publish_asked <- function(x, options) {
  for (path in options$out) {
    told_elsewhere(
      publish(x, path, options$figure %||% "shares",
              template = if (takes_asked(path, "template")) options$template,
              formulas = isTRUE(options$formulas) &&
                         takes_asked(path, "formulas")))
    say_wrote(path)
  }
}

# What an author is to know of a file stands in what is printed, or was said of
# another form of it.
told_elsewhere <- function(code) {
  withCallingHandlers(code, fairlattice_before_handing_on = function(m) {
    rlang::cnd_muffle(m)
  })
}

takes_asked <- function(path, what) what %in% writers[[ending_of(path)]]$takes

# --template and --formulas are for some forms: one of the files must be of such
# a form.
check_forms <- function(options) {
  for (path in options$out) check_output(path, NULL)
  asked <- c(template = !is.null(options$template),
             formulas = isTRUE(options$formulas))
  flags <- c(template = "--template", formulas = "--formulas")
  for (what in names(asked)[asked]) {
    if (!any(vapply(options$out, takes_asked, NA, what = what))) {
      takers <- names(Filter(function(writer) what %in% writer$takes, writers))
      stop_words(tells("needs_out_file", flags[[what]],
                       paste0(".", takers, collapse = " or ")))
    }
  }
}

# What is done to a question that no table asks for would go unseen.
check_prepared <- function(steps, survey, used,
                           named_by = "--down, --across or --each") {
  known <- prepare_steps()
  parts <-
    unlist(lapply(steps, function(step) step$with[known[[step$verb]]$parts]))
  patterns <- grep("*", parts, fixed = TRUE, value = TRUE)
  matched <- lapply(patterns, function(one) {
    grep(utils::glob2rx(one), names(survey$data), value = TRUE)
  })
  used <- c(used, parts, unlist(matched))
  for (step in steps) if (!made_by(step) %in% used)
    stop_words(c(tells("no_table_asks", dashed(step$flag), made_by(step)),
                 i = tells("name_leave_option_out", named_by)))
}

# "!is.na(ferry); island,mode": who responded, and within which classes.
response_asked <- function(words) {
  parts <- words_in(words, ";")
  list(responded = parts[1L], within = if (length(parts) > 1L) words_in(parts[2L], ","))
}

# "leave=Yes: 36; No: 64" and so on as plans write targets.
targets_asked <- function(words) {
  example <- "leave=Yes: 36; No: 64"
  parts <- lapply(words, name_and_value, "--weigh-to", example)
  targets <- lapply(parts, function(part) {
    pieces <- words_in(part$value, ";")
    pieces <- pieces[nzchar(pieces)]
    number <- suppressWarnings(as.numeric(sub("^.*:", "", pieces)))
    if (!length(pieces) || anyNA(number) || !all(grepl(":", pieces, fixed = TRUE)))
      stop_input(tells("written_like_not", "--weigh-to", example,
                       paste0(part$name, "=", part$value)), "words")
    stats::setNames(as.list(number), trimws(sub(":[^:]*$", "", pieces)))
  })
  stats::setNames(targets, vapply(parts, `[[`, "", "name"))
}

# "Yes=50" and so on as shares named by their answers.
shares_asked <- function(words) {
  parts <- lapply(words, name_and_value, "--shares", "Yes=50,No=50")
  shares <- suppressWarnings(as.numeric(vapply(parts, `[[`, "", "value")))
  if (anyNA(shares))
    stop_words(tells("shares_not_number", words[is.na(shares)][1L]))
  stats::setNames(shares, vapply(parts, `[[`, "", "name"))
}

# One table a pair of questions (a question by itself where there is none
# across), or all of them as one.
tables_asked <- function(survey, options) {
  down <- unique(options$down)
  across <- unique(options$across)
  pairs <- if (length(across))
    expand.grid(across = across, down = down, stringsAsFactors = FALSE) else
    list2DF(list(across = rep(NA_character_, length(down)), down = down))
  together <- isTRUE(options$together)
  itself <- !together & !is.na(pairs$across) & pairs$across == pairs$down
  if (any(itself) && !all(itself)) {
    cat(plain_text(sprintf("Left out: %s by itself, which says nothing.",
                           pairs$down[itself])), sep = "\n", file = stderr())
    pairs <- pairs[!itself, ]
  }
  if (together)
    pairs <- list(down = list(down), across = list(if (length(across)) across else NA))
  unname(Map(function(down, across) {
    asked <- c(list(down = down, across = if (!anyNA(across)) across,
                    each = options$each), asked_of(options, table_choices()),
               list(shares = if (length(options$shares)) shares_asked(options$shares),
                    overlap = together && isTRUE(options$overlap)))
    table <- do.call(crosstab, c(list(quote(survey)), asked))
    if (inherits(table, "fairlattice_banner")) return(table)
    if (isTRUE(options$regroup_sparse)) table <- regrouped_sparse(table)
    if (isTRUE(options$flip)) flip(table) else table
  }, pairs$down, pairs$across))
}

# A table with the layout that was asked for.
laid_out_as_asked <- function(table, options, style) {
  choices <- layout_choices() # --labels is a step of preparing
  asked <- asked_of(options, choices[setdiff(names(choices), "labels")])
  if (length(asked$decimals)) asked$decimals <- decimals_asked(asked$decimals)
  for (name in intersect(names(reliability_rules), names(asked)))
    asked[[name]] <- numbers_asked(asked[[name]])
  asked$show <- asked$show %||% table$layout$show
  with_layout(table, asked, style)
}

# The choices that options ask for; a switch that is off asks for nothing.
asked_of <- function(options, choices) {
  Filter(function(value) length(value) && !isFALSE(value),
         options[intersect(names(choices), names(options))])
}

# What is no number is left to the check of the choice to name.
numbers_asked <- function(words) {
  number <- suppressWarnings(as.numeric(words))
  if (anyNA(number)) words else number
}

# "0", or "percent=0,number=1".
decimals_asked <- function(words) {
  parts <- strsplit(words, "=", fixed = TRUE)
  number <- suppressWarnings(
    as.numeric(vapply(parts, function(part) part[length(part)], "")))
  if (anyNA(number))
    stop_words(tells("decimals_not_number", words[is.na(number)][1L]))
  names(number) <- vapply(parts, function(part) {
    if (length(part) > 1L) trimws(part[1L]) else "percent"
  }, "")
  number
}

say_wrote <- function(path, more = "") {
  cat(visible(sprintf("Wrote %s%s", path, more)), "\n", sep = "",
      file = stderr())
}

# Answers joined until the table is not sparse, and said.
regrouped_sparse <- function(table) {
  proposal <- regroup_sparse(table)
  if (!nrow(proposal$steps)) return(table)
  cat(plain_text(sprintf("Joined in %s: %s", proposal$steps$question,
                         proposal$steps$joined)), sep = "\n", file = stderr())
  regroup_sparse(table, apply = TRUE)
}

# --among comes before the steps, so that its condition speaks of the questions
# as they are in the file. `used` are the questions that tables ask for, where
# that is known.
prepare_questions <- function(survey, options, used = NULL, ...) {
  if (!is.null(options$one_per)) {
    if (is.null(options$id)) stop_words(tells("one_per_needs_id_know"))
    survey <- one_per(survey, !!options$id, options$one_per)
  }
  if (!is.null(options$among))
    survey <- among(survey, !!options$among, options$base)
  steps <- steps_asked(options, names(survey$data))
  for (step in steps) survey <- step_done(step, survey)
  if (length(used)) check_prepared(steps, survey, used, ...)
  survey
}

print_tables <- function(tables, along) {
  for (k in seq_along(tables)) {
    if (k > 1L)
      cat(plain_text(strrep("\u2550", min(cli::console_width(), 72L))), "\n\n",
          sep = "")
    print(tables[[k]])
    print_entries(along[[k]])
  }
}

# Results under their headings; a further table by itself.
print_entries <- function(x) {
  width <- cli::console_width()
  for (entry in if (length(x)) entries_of(x, NULL, width)) cat(
    plain_text(cli::style_bold(entry$title)), "",
    plain_text(text_of_parts(entry$parts, width)), "", sep = "\n")
}

# What goes along with a table, by the options that ask for it.
results_asked <- function(table, options) {
  wanted <- names(results_known)[vapply(names(results_known), function(name) {
    isTRUE(options[[name]]) || is.character(options[[name]])
  }, NA)]
  asked <- unlist(lapply(wanted, function(name) {
    lapply(single_tables(table), function(one) {
      results_known[[name]](one, options)
    })
  }), recursive = FALSE)
  # not where it would give withheld counts away
  two <- inherits(table, "fairlattice_crosstab") &&
         has(table, "across", "adds_up") && !guards(table$layout)
  c(asked, if (!is.null(options$each) && two) list(pooled(table)))
}

# How much of a draft is a guess.
guesses_in_words <- function(draft) {
  guessed <- function(what) {
    sum(vapply(draft$fields, function(field) length(field$guesses[[what]]) > 0L, NA))
  }
  orders <- guessed("order")
  missing <- guessed("missingValues")
  if (!orders && !missing) return(". Nothing in it is a guess.")
  found <- c(if (orders) sprintf("%d %s of answers", orders, plural(orders, "order", "orders")),
             if (missing) sprintf("codes for no answer in %d %s", missing,
                                  plural(missing, "question", "questions")))
  sprintf(". It proposes %s, marked as guesses: move those that are right.",
          paste(found, collapse = " and "))
}

run_look <- function(options, files) {
  for (path in options$out) check_output(path, NULL)
  data <- records_asked(options, files)
  if (is_source(data)) {
    if (!is.null(options$draft_codebook))
      stop_words(tells("draft_codebook_needs_records_file"))
    data <- respondents(data)
  }
  if (!is.null(options$draft_codebook)) {
    asked <-
      columns_named(list(expression = options$question), data, "--question", NULL)
    draft <- draft_codebook(if (is.null(asked)) data else data[asked])
    write_codebook(draft, options$draft_codebook)
    say_wrote(options$draft_codebook, guesses_in_words(draft))
  }
  asked <-
    Filter(Negate(is.null), options[c("weight", "stratum", "cluster", "count")])
  if (inherits(data, "fairlattice_survey") && length(asked))
    data <- data$records
  survey <- if (length(asked))
    respondents(data, weight = !!options$weight, stratum = !!options$stratum,
                cluster = !!options$cluster, count = !!options$count) else data
  found <- look(survey, !!options$question, options$find)
  publish_asked(found, options)
  print(found)
}

verify_options <- function() {
  c(in_group("Options",
             one("--records", "FILE", "the records that the tables are held against"),
             several("--before", "FILE",
                     "the records of the waves before, for a book that shows changes"),
             out_option("write what is found")),
    file_options())
}

run_verify <- function(options, files) {
  for (path in options$out) check_output(path, NULL)
  if (is.null(options$records))
    stop_words(tells("verify_against_which_records"))
  found <- verify(files, read_file(options, options$records),
                  lapply(options$before, read_before, options = options))
  publish_asked(found, options)
  print(found)
  if (all(found$holds)) 0L else 1L
}

# Records without a codebook of their own have that of the records of now.
read_before <- function(path, options) {
  if (is.null(codebook_beside(path)))
    options$codebook <- options$codebook %||% codebook_beside(options$records)
  read_file(options, path)
}

recheck_options <- function() {
  list(several("--regroup", "NAME=NEW: OLD, OLD",
               paste0(paste("join rows or columns first, such as 'rows=Any:",
                            "a, b, c' (what was tested is often the "),
                      "printed table collapsed)"), commas = FALSE),
       switch_on("--keep-totals",
                 "rows and columns that add up are answers, not totals"),
       one("--claimed-statistic", "NUMBER", "the chi-square that was printed"),
       one("--claimed-df", "NUMBER", "its degrees of freedom"),
       one("--claimed-p", "NUMBER",
           "the p-value that was printed, such as 0.056 or \"<0.001\""),
       one("--claimed-v", "NUMBER", "the Cram\u00e9r's V that was printed"),
       one("--claimed-percent", "BASE",
           "what the percentages in cells such as 12 (34.5) are said to be of",
           choices = c("column", "row", "total")),
       several("--bases", "NUMBER",
               paste("the table has column percentages alone, of these bases:",
                     "which counts could have given them?")),
       out_option("write the table and what was found"))
}

# FILE is a table as pasted from a document: a file, or - for standard input.
run_recheck <- function(options, files) {
  for (path in options$out) check_output(path, NULL)
  if (files != "-") check_file(files, NULL)
  lines <- text_lines(if (files == "-") standard_input() else
                        readBin(files, "raw", file.size(files)))
  if (length(options$bases))
    return(print(percentages_of_lines(lines, options$bases)))
  if (!length(lines)) stop_input(tells("table_empty"), "file")
  table <- counts_to_check(lines, isTRUE(options$keep_totals))
  for (step in steps_asked(options["regroup"], character())) table <-
    step_done(step, table)
  checked <- recheck(table, options$claimed_statistic, options$claimed_df,
                     options$claimed_p, options$claimed_v,
                     options$claimed_percent)
  publish_asked(checked, options)
  print(checked)
}

text_lines <- function(bytes) {
  bytes <- without_mark(bytes)
  if (any(bytes == as.raw(0)))
    stop_input(tells("table_holds_zero_byte_no"), "file")
  lines <- strsplit(rawToChar(bytes), "\r\n|\n|\r", useBytes = TRUE)[[1L]]
  Encoding(lines) <- "UTF-8"
  bad <- which(!validUTF8(lines))
  if (length(bad))
    stop_input(c(tells("line_table_not_utf_8", bad[1L]),
                 i = tells("save_utf_8")), "file")
  lines
}

percentages_of_lines <- function(lines, bases) {
  base <- suppressWarnings(as.numeric(bases))
  if (anyNA(base)) stop_words(tells("bases_not_number", bases[is.na(base)][1L]))
  grid <- grid_of_text(lines, NULL)
  text <-
    sub(",", ".", sub(" *%$", "", grid[-1L, -1L, drop = FALSE]), fixed = TRUE)
  percent <- suppressWarnings(
    matrix(as.numeric(text), nrow(text),
           dimnames = list(grid[-1L, 1L], grid[1L, -1L])))
  if (anyNA(percent))
    stop_input(tells("not_percentage", text[is.na(percent)][1L]), "percentages")
  counts_from_percentages(percent, base, max(printed_digits(text)))
}

# Every table of the demo shows something true that was built into the survey.
demo_tables <- list(
  list(file = "heating-by-island", down = "heating", across = "island",
       about = "A strong association, of known cause."),
  list(file = "internet-by-tenure", down = "internet", across = "tenure",
       about = paste("People of one settlement are alike: the plain test",
                     "cries wolf, the design-based one does not.")),
  list(file = "leaving-by-way-of-answering", down = "leave", across = "mode",
       about = "Significant, yet weak."),
  list(file = "season-by-tenure", down = "season", across = "tenure",
       about = "Unrelated: and what \"not significant\" does and does not say.")
)

demo_files <- c("veyra.csv", "veyra.schema.json", "house.yml",
                "veyra-before.csv", "veyra.plan.yml", "plan.schema.json")

# The forms that hold several tables.
demo_books <- c("html", "docx", "xlsx", "pptx", "tex", "pdf", "mail.html", "md")

# Writes a form; where this machine lacks what it takes, says so.
demo_form <- function(x, path) {
  tryCatch({
    told_elsewhere(publish(x, path, formulas = takes_asked(path, "formulas")))
    ""
  }, fairlattice_error_package = function(e) first_line(conditionMessage(e)))
}

demo_output <- function(b, path) {
  tryCatch({
    told_elsewhere(write_output(b, list(file = path)))
    ""
  }, fairlattice_error_package = function(e) first_line(conditionMessage(e)))
}

run_demo <- function(options, files) {
  folder <- options$out
  if (!dir.exists(folder) && !dir.create(folder, showWarnings = FALSE)) {
    stop_input(c(tells("folder_cannot_made", folder),
                 i = tells("name_another_out")), "no_folder")
  }
  records <- read_records(demo_file("veyra.csv"))
  survey <- respondents(records, weight = "weight", stratum = "island",
                        cluster = "settlement", id = "id")
  tables <- lapply(demo_tables, function(one) {
    crosstab(survey, down = !!one$down, across = !!one$across)
  })
  # files first: whoever reads the print may stop reading at any line
  data <-
    file.path(folder, paste0(vapply(demo_tables, `[[`, "", "file"), ".json"))
  for (k in seq_along(tables)) told_elsewhere(publish(tables[[k]], data[k]))
  # all tables in the forms that hold several, the first in the others
  several <- intersect(names(writers), demo_books)
  single <- setdiff(names(writers), c("json", several))
  forms <- c(file.path(folder, paste0("veyra.", several)),
             file.path(folder, paste0(demo_tables[[1L]]$file, ".", single)))
  made <- vapply(forms, function(path) {
    demo_form(if (ending_of(path) %in% several) tables else tables[[1L]], path)
  }, "")
  for (name in demo_files) {
    write_beside(file.path(folder, name), function(file) {
      write_whole(readBin(demo_file(name), "raw", file.size(demo_file(name))),
                  file)
    }, NULL)
  }
  b <- book(file.path(folder, "veyra.plan.yml"))
  pages <- file.path(folder, c("veyra-book.html", "veyra-tables.xlsx"))
  made <- c(made, vapply(pages, function(path) demo_output(b, path), ""))
  forms <- c(forms, pages)
  cat(plain_text(c(cli::style_bold(attr(records, "title")), format(survey),
                   "")), sep = "\n")
  for (k in seq_along(tables)) {
    cat(plain_text(strrep("\u2550", min(cli::console_width(), 72L))), "\n",
        demo_tables[[k]]$about, "\n\n", sep = "")
    print(tables[[k]])
  }
  cat(plain_text(strrep("\u2550", min(cli::console_width(), 72L))),
      "\nThe whole survey, from its tab plan.\n\n", sep = "")
  print(b)
  cat("\n")
  files <- c(forms[made == ""], data, file.path(folder, demo_files))
  what <- c(vapply(forms[made == ""], function(path) {
    if (path %in% pages) "the book of the tab plan" else
      writers[[ending_of(path)]]$what
  }, ""), rep("a table as data", length(data)), "the records", "their codebook",
            "a house style", "the wave before", "the tab plan",
            "its keys, for editors")
  cat("Written:", paste0("  ", pad(files, max(text_width(files))), "  ", what),
      "", sep = "\n")
  missed <- made != ""
  if (any(missed))
    cat("Not written, for lack of what it takes:",
        paste0("  ", forms[missed], ": ", made[missed]), "", sep = "\n")
  cat(sprintf(paste0(paste("Try it on the records:\n  fairlattice look",
                           "%s\n  fairlattice crosstab %s --down ferry",
                           "--across "),
                     "island --weight weight --stratum island --cluster settlement\n",
                     "  fairlattice book %s --only ferry\n",
                     "  fairlattice desk %s\n"), file.path(folder, "veyra.csv"),
              file.path(folder, "veyra.csv"),
              file.path(folder, "veyra.plan.yml"),
              file.path(folder, "veyra.csv")))
}
