# A plan to begin with: every question of the records in its order, and guesses as
# comments.

# Lines of YAML. `data` are the columns, `path` is the file (none for a database), `out`
# where the plan will stand.
starter_plan <- function(data, path, out, options = list()) {
  name <- if (is.null(options$database)) path else
    options$table %||% database_file(options$database)$file %||% options$database
  roles <- likely_roles(data)
  questions <- setdiff(names(data), unlist(roles))
  kinds <- vapply(questions, function(name) question_kind(data[[name]]), "")
  c(sprintf("# A tab plan of %s. Guesses are comments: take away the # where they are right.",
            basename(name)),
    paste("# Editors check and complete it by plan.schema.json; 'fairlattice",
          "plan --check' checks it too."),
    sprintf("title: %s",
            yaml_text(attr(data, "title", exact = TRUE) %||%
                        sub("[.][^.]*$", "", basename(name)))), "", "records:",
    starter_records(path, out, options), "", starter_roles(roles), "",
    starter_prepare(data, questions, kinds), "",
    starter_across(data, questions, kinds), "", "chapters:",
    "  - title: Questions", "    tables:",
    starter_tables(data, questions, kinds), "",
    "# outputs: [report.html, report.docx, tables.xlsx, cells.tidy.csv]")
}

# The file as it is seen from where the plan will stand.
path_from <- function(path, out) {
  if (is.null(out)) return(path)
  if (normalizePath(dirname(path)) ==
        normalizePath(dirname(out), mustWork = FALSE)) basename(path) else
    normalizePath(path)
}

# Text as YAML, in quotes where it would be taken for something else.
yaml_text <- function(x) {
  plain <- grepl("^[A-Za-z_./][A-Za-z0-9 _./*'()-]*$", x) &
           !grepl(" #|: |[[:space:]]$", x) &
           !tolower(x) %in%
             c("yes", "no", "true", "false", "null", "on", "off", "y", "n",
               "none")
  ifelse(plain, x,
         vapply(x, function(one) {
           as.character(jsonlite::toJSON(one, auto_unbox = TRUE))
         }, ""))
}

# Where the records are, and what it takes to read them.
starter_records <- function(path, out, options) {
  # where they are first
  keys <- union(c("database", "table", "query", "in_chunks"), names(file_keys()))
  given <- options[intersect(keys, names(options))]
  if (!is.null(given$database)) given$database <- database_from(given$database, out) else
    given <- c(list(file = path_from(path, out)), given)
  if (!is.null(given$codebook)) given$codebook <- path_from(given$codebook, out)
  given <- Filter(function(one) !is.null(one) && !isFALSE(one), given)
  sprintf("  %s: %s", names(given), vapply(given, function(one) {
    if (isTRUE(one)) "true" else yaml_text(one)
  }, ""))
}

# A database that is a file, or the file of its connection, as path_from() has it.
database_from <- function(words, out) {
  named <- database_file(words)
  path <- named$file %||% words
  if (!file.exists(path)) return(words)
  paste0(if (!is.null(named)) paste0(named$database, ":"), path_from(path, out))
}

# Columns that look like the design's, by their names and what they hold.
likely_roles <- function(data) {
  columns <- names(data)
  like <- function(pattern) columns[grepl(pattern, columns, ignore.case = TRUE)]
  number <- columns[vapply(data, function(x) is.numeric(x) && !is.factor(x), NA)]
  many <- columns[vapply(data, function(x) is_plain(x) && length(unique(x)) > 0.9 * length(x), NA)]
  clusters <- columns[vapply(data, function(x) {
    size <- if (is_plain(x)) length(unique(x)) else 0L
    !is.numeric(x) && size > 20L && size < length(x) / 3
  }, NA)]
  list(weight = intersect(like("^(w|wt|weight|weights|gewicht)(_|$)|weight$"),
                          number), stratum = like("^strat(um|a)?$"),
       cluster = intersect(like("psu|cluster|settlement|segment|point|school"),
                           clusters),
       id = intersect(like("^(id|resp|respondent|case|person)"), many))
}

starter_roles <- function(roles) {
  found <- Filter(length, roles)
  if (!length(found)) return(c("# asked:", "#   weight: the column of weights"))
  lines <-
    sprintf("%s: %s", names(found), yaml_text(vapply(found, `[`, "", 1L)))
  c("# asked: # who was asked, as far as the names of columns say",
    paste0("#   ", lines))
}

# The answers of a column, declared or met.
answers_offered <- function(x) {
  if (is.factor(x)) setdiff(levels(x), attr(x, "missing", exact = TRUE)) else
    unique(x[!is.na(x)])
}

# What a column is in a plan: answers that can be tabulated, a number to be cut,
# or neither.
question_kind <- function(x) {
  if (is.numeric(x) && !is.factor(x) &&
        is.null(attr(x, "labels", exact = TRUE))) {
    values <- unique(x[!is.na(x)])
    return(if (length(values) > 12L) "number" else if (length(values))
             "answers" else "empty")
  }
  if (!is_plain(x)) return("other")
  size <- length(answers_offered(x))
  if (size < 2L) "empty" else if (size > look_at_most) "text" else "answers"
}

# Bands for numbers, and columns with a common beginning and two answers as the
# items of a tick-all question.
starter_prepare <- function(data, questions, kinds) {
  numbers <- questions[kinds == "number"]
  bands <- vapply(numbers, function(name) {
    values <- as.vector(unclass(data[[name]]))
    breaks <- round_breaks(values[is.finite(values)])
    sprintf("#   - band: {question: %s, breaks: [%s], into: %s}",
            yaml_text(name), paste(number_text(breaks), collapse = ", "),
            yaml_text(paste0(name, "_group")))
  }, "")
  sets <- likely_ticks(data, questions)
  items <- vapply(names(sets), function(start) {
    sprintf("#   - ticks: {name: %s, columns: %s}", yaml_text(start),
            yaml_text(paste0(start, "_*")))
  }, "")
  batteries <- likely_batteries(data, questions[kinds != "number"])
  statements <- vapply(names(batteries), function(name) {
    sprintf("#   - battery: {name: %s, columns: [%s]}", yaml_text(name),
            paste(yaml_text(batteries[[name]]), collapse = ", "))
  }, "")
  if (!length(c(bands, items, statements))) return("# prepare:")
  c("# prepare:", unname(bands), unname(items), unname(statements))
}

likely_ticks <- function(data, questions) {
  start <- sub("_[^_]*$", "", questions)
  two <- vapply(questions, function(name) {
    length(answers_offered(data[[name]])) == 2L
  }, NA)
  sets <- split(questions, start)
  Filter(function(set) length(set) > 2L && all(two[match(set, questions)]),
         sets[!names(sets) %in% questions])
}

likely_batteries <- function(data, questions) {
  offered <- lapply(data[questions], function(x) as.character(answers_offered(x)))
  sharing_answers(offered[lengths(offered) <= look_at_most])
}

# Questions with a few answers near the beginning or named like what a banner
# often has.
starter_across <- function(data, questions, kinds) {
  few <- questions[kinds == "answers" & vapply(data[questions], function(x) {
    size <- length(answers_offered(x))
    size >= 2L && size <= 6L
  }, NA)]
  telling <- "sex|gender|age|region|island|tenure|education|income|class|work|household"
  usual <- few[grepl(telling, few, ignore.case = TRUE)]
  banner <- utils::head(unique(c(usual, few)), 3L)
  if (!length(banner)) return("# across: [the questions of the banner]")
  c("# the questions across every table; without them each table is of one question alone",
    sprintf("# across: [%s]", paste(yaml_text(banner), collapse = ", ")),
    sprintf("# among: %s # the part of the sample that all tables are of",
            yaml_text(example_condition(data, banner[1L]))))
}

example_condition <- function(data, name) {
  x <- data[[name]]
  answer <- if (is.factor(x)) levels(x)[1L] else as.character(x[!is.na(x)][1L])
  sprintf("%s == %s", rlang::expr_deparse(as.name(name)),
          if (is.numeric(x) && !is.factor(x)) answer else deparse(answer))
}

starter_tables <- function(data, questions, kinds) {
  if (!length(questions)) return("      - every question")
  label <- vapply(questions, function(name) {
    first_line(title_of(data[[name]], name))
  }, "")
  about <- ifelse(label == questions, "", paste0(" # ", readable(label)))
  note <- c(number = "a number: cut it into bands first",
            text = "text with many different values",
            other = "no single values", empty = "one answer only")
  usable <- kinds == "answers"
  unname(ifelse(usable, sprintf("      - %s%s", yaml_text(questions), about),
                sprintf("      # - %s%s (%s)", yaml_text(questions), about,
                        note[kinds])))
}
