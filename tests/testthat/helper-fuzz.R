# Random attacks: files damaged in every way, and calls with arguments of every
# kind. A case is good when it gives a result or an error of ours, says nothing
# in R's own words, and accounts for every record. tools/fuzz runs many of them
# in a process of its own that may die; the tests run a few.

# What came of a case: "" when all is well, otherwise what is wrong.
verdict_of <- function(work) {
  said <- character()
  note <- function(...) said <<- c(said, paste(...))
  tryCatch(withCallingHandlers(work(), warning = function(w) {
    note("warning:", conditionMessage(w)[1L])
    invokeRestart("muffleWarning")
  }, message = function(m) {
    if (!inherits(m, "fairlattice_message"))
      note("message:", conditionMessage(m)[1L])
    invokeRestart("muffleMessage")
  }), fairlattice_error = function(e) {
    text <- conditionMessage(e)
    if (grepl("internal:|invalid UTF|NA_character_|character\\(0\\)", text))
      note("odd error:", text)
  }, error = function(e) {
    note("raw error:", conditionMessage(e)[1L], "in",
         deparse(conditionCall(e))[1L])
  })
  paste(said, collapse = "; ")
}

# ---- bytes ----
damage <- function(bytes) {
  hostile <- list(charToRaw("\""), charToRaw("\"\""), charToRaw(","),
                  charToRaw("\n"), charToRaw("\r"), charToRaw("\r\n\r\n"),
                  as.raw(0), as.raw(0xff), charToRaw("\xc3"),
                  charToRaw("1e999"), charToRaw("\t"), charToRaw(";"),
                  charToRaw("  "), charToRaw("%n%s"), charToRaw("[["),
                  charToRaw("}"), charToRaw("null"),
                  charToRaw("<!ENTITY x \"y\">"), charToRaw("\u202e"))
  for (k in seq_len(sample(1:4, 1L))) {
    size <- length(bytes)
    if (!size) return(bytes)
    at <- sample.int(size, 1L)
    bytes <- switch(sample(6L, 1L), bytes[-at],
                    append(bytes, hostile[[sample(length(hostile), 1L)]],
                           at - sample(0:1, 1L)),
                    replace(bytes, at, as.raw(sample(0:255, 1L))),
                    utils::head(bytes, at), c(bytes, bytes[seq_len(at)]),
                    append(bytes, bytes[at:min(size, at + sample(40L, 1L))],
                           sample.int(size, 1L)))
  }
  bytes
}

small_csv <- function() {
  rows <- sample(1:12, 1L)
  cell <- function() {
    sample(c("1", "2", "x", "\"a b\"", "\"a,b\"", "\"q\"\"q\"", "", "3.5",
             "2030-01-02", "NA", "TRUE", "\"l\nm\"", " y "), rows, TRUE)
  }
  columns <- replicate(sample(1:4, 1L), cell(), simplify = FALSE)
  lines <- c(paste(letters[seq_along(columns)], collapse = ","),
             do.call(paste, c(columns, sep = ",")))
  charToRaw(paste0(paste(lines, collapse = sample(c("\n", "\r\n"), 1L)),
                   sample(c("", "\n", "\n\n"), 1L)))
}

# Records of a text file counted by another rule: quotes are taken out first,
# and lines counted. NA where it cannot tell.
records_counted <- function(bytes) {
  if (any(bytes == as.raw(0)) || !validUTF8(rawToChar(bytes))) return(NA)
  text <- sub("^\ufeff", "", rawToChar(bytes))
  bare <-
    gsub("(^|[,;\t|\n\r])[ ]*\"(?:[^\"]|\"\")*\"", "\\1Q", text, perl = TRUE)
  if (grepl("\"", bare, fixed = TRUE)) return(NA)
  lines <- strsplit(bare, "\r\n|\n|\r")[[1L]]
  if (!grepl("[,;\t|]", lines[1L])) return(NA) # of one column a blank line is a record
  sum(grepl("[^ \t]", lines[-1L]) |
        grepl("\t", lines[1L], fixed = TRUE) &
          grepl("\t", lines[-1L], fixed = TRUE))
}

file_of <- function(bytes, ending) {
  path <- tempfile("case", fileext = ending)
  writeBin(bytes, path)
  path
}

fuzz_csv <- function() {
  bytes <- damage(small_csv())
  path <- file_of(bytes, ".csv")
  on.exit(unlink(path))
  read <- read_records(path)
  counted <- records_counted(bytes)
  if (!is.na(counted) && counted != nrow(read))
    stop(sprintf("%d records read, %d counted", nrow(read), counted))
  look(read)
  if (ncol(read) > 1L)
    account_adds_up(crosstab(read, !!names(read)[1L], !!names(read)[2L]))
}

account_adds_up <- function(x) {
  f <- findings(x)
  if (f$base$used + sum(f$base$left_out$records) != f$base$records)
    stop("the account does not add up")
  format(x)
  ""
}

demo_bytes <- function(name) {
  readBin(demo_file(name), "raw", file.size(demo_file(name)))
}

fuzz_codebook <- function() {
  data <- file_of(charToRaw("q,n\n1,5\n2,6\n-9,7\n"), ".csv")
  schema <- charToRaw(paste0('{"title": "T", "missingValues": [""], "fields": [{"name": "q", "title": "Q", ',
                             '"type": "any", "categories": [{"value": "1", "label": "Yes"}, ',
                             '{"value": "2", "label": "No"}], ',
                             '"categoriesOrdered": true, "missingValues": [{"value": "-9", "label": "Gone"}]}, ',
                             '{"name": "n", "type": "number"}]}'))
  kind <- sample(c("json", "yaml", "xml", "package"), 1L)
  bytes <- switch(kind, json = schema,
                  package = c(charToRaw('{"resources": [{"name": "r", "path": "x.csv", "schema": '),
                              schema, charToRaw("}]}")),
                  yaml = charToRaw(paste0(
                    paste("title: T\nfields:\n- name:",
                          "q\n  categories:\n  - value:",
                          "1\n    label: 'Yes'\n  - "),
                    paste("value: 2\n    label:",
                          "'No'\n  missingValues: [-9]\n-",
                          "name: n\n  type: number\n"))),
                  xml = charToRaw(paste0(
                    "<codeBook><var name=\"q\"><labl>Q</labl><catgry>",
                    "<catValu>1</catValu><labl>Low</labl>",
                    "</catgry></var></codeBook>")))
  folder <- tempfile("book")
  dir.create(folder)
  on.exit(unlink(c(folder, data), recursive = TRUE))
  book <- file.path(folder,
                    if (kind == "package") "datapackage.json" else
                      paste0("b.", kind))
  writeBin(damage(bytes), book)
  read_records(data, book, unknown = "missing")
}

fuzz_json <- function() {
  kind <- sample(c(".json", ".jsonl"), 1L)
  text <- if (kind == ".json")
    '[{"a": 1, "b": "x"}, {"a": 2, "b": null}, {"a": 3, "b": "y"}]' else
    '{"a": 1, "b": "x"}\n{"a": 2, "b": null}\n\n{"a": 3, "b": "y"}\n'
  path <- file_of(damage(charToRaw(text)), kind)
  on.exit(unlink(path))
  look(read_records(path))
}

fuzz_table <- function() {
  path <- file_of(damage(fuzz_state$table), ".json")
  on.exit(unlink(path))
  x <- read_tables(path)
  format(x)
}

fuzz_packed <- function() {
  plain <- file_of(small_csv(), ".csv")
  on.exit(unlink(plain))
  ending <- sample(c(".csv.gz", ".zip"), 1L)
  bytes <- if (ending == ".zip")
    readBin(test_path_of("one.zip"), "raw", 1e6) else
    memCompress(readBin(plain, "raw", 1e6), "gzip")
  path <- file_of(damage(bytes), ending)
  on.exit(unlink(path), add = TRUE)
  look(read_records(path))
}

fuzz_counts <- function() {
  cell <- function(n) {
    sample(c("12", "1,234", "7 (50.0)", "-", "", "x", "1e5", "0", "3.5", "-2",
             "9007199254740993", "|", "Total"), n, TRUE,
           c(9, 3, 3, 2, 1, rep(0.4, 8)))
  }
  rows <- sample(1:5, 1L)
  columns <- sample(1:5, 1L)
  sep <- sample(c("\t", "   ", ",", ";", " | "), 1L)
  lines <- c(paste(c("",
                     sample(c("p", "q", "N", "All", "Total", "r"), columns,
                            TRUE)), collapse = sep),
             vapply(seq_len(rows), function(k) {
               paste(c(sample(c("a", "b", "N", "Total", "c"), 1L),
                       cell(columns)), collapse = sep)
             }, ""))
  check <- recheck(paste(lines, collapse = "\n"),
                   statistic = sample(c("3.2", "x", "1e400", "<0.1"), 1L),
                   percent = sample(c("column", "row", "foo"), 1L,
                                    prob = c(4, 2, 1)))
  format(check)
}

# A sheet of another program, damaged: slow, since other people's readers work
# in a process of their own.
fuzz_sheet <- function() {
  name <- sample(c("survey.xlsx", "survey.ods", "merged.xlsx"), 1L)
  path <- file_of(damage(readBin(test_path_of(name), "raw", 1e6)),
                  paste0(".", tools::file_ext(name)))
  on.exit(unlink(path))
  look(read_records(path))
}

test_path_of <- function(name) file.path(fuzz_state$fixtures, name)

# ---- arguments ----
odd_column <- function(n) {
  kinds <- list(
    function() sample(c("x", "y", "z", NA, "", " "), n, TRUE),
    function() factor(sample(c("p", "q", ""), n, TRUE)),
    function() sample(1:3, n, TRUE), function() rnorm(n),
    function() rep(Inf, n),
    function() sample(c(0.3, 0.1 + 0.2, NaN, NA, Inf), n, TRUE),
    function() sample(c(TRUE, FALSE, NA), n, TRUE),
    function() as.Date("2030-01-01") + seq_len(n),
    function() as.list(seq_len(n)), function() matrix(1, n, 2),
    function() structure(sample(1:3, n, TRUE), labels = 1:3),
    function() structure(sample(1:3, n, TRUE), labels = c(a = 1, a = 2)),
    function() {
      structure(sample(1:9, n, TRUE), levels = c("a", "b"), class = "factor")
    }, function() rep(NA, n),
    function() complex(real = seq_len(n)),
    function() `Encoding<-`(rep("caf\xe9", n), "latin1"),
    function() `Encoding<-`(rep("caf\xe9", n), "bytes"),
    function() as.POSIXlt("2030-01-01") + seq_len(n),
    function() ordered(sample(c("low", "high"), n, TRUE)),
    function() structure(sample(1:2, n, TRUE), label = list(1, 2)),
    function() rep("a;b", n),
    function() as.raw(rep(1, n)),
    function() {
      structure(factor(sample(c("u", "v"), n, TRUE)),
                label = paste0("\033[2Jtitle", "\u202e"))
    },
    function() sample(c(1e300, 1, 0), n, TRUE), function() seq_len(n) + 0.25,
    function() data.frame(k = seq_len(n)),
    function() structure(sample(1:2, n, TRUE), class = "strange"),
    function() character(0)[rep(NA_integer_, n)])
  kinds[[sample(length(kinds), 1L)]]()
}

odd_frame <- function() {
  n <- sample(c(0, 1, 2, 7, 40), 1L, prob = c(1, 1, 2, 6, 10))
  data <- list(a = factor(sample(c("x", "y", "z"), n, TRUE),
                          c("x", "y", "z", "empty")),
               b = sample(c("p", "q"), n, TRUE), w = round(exp(rnorm(n)), 2),
               g = sample(5, n, TRUE))
  for (k in seq_len(sample(0:3, 1L))) {
    data[[sample(c("a", "b", "c", "w", "g", "if", "a b"), 1L)]] <- odd_column(n)
  }
  out <- structure(data, class = "data.frame", row.names = .set_row_names(n))
  if (runif(1) < 0.05)
    names(out)[sample(length(out), 1L)] <- sample(c(NA, "", "a"), 1L)
  out
}

odd_value <- function() {
  values <- list(NULL, NA, 0, -1, 1e308, Inf, NaN, "", "a", "x", "col", "BH",
                 c("a", "b"), TRUE, list(), list(1), quote(a), function(x) x,
                 1:3, "row", "column", "exact", 0.05, "\u00e9", "%s",
                 "adjusted", "all", "2.5", 1e15, letters, factor("a"),
                 Sys.Date())
  values[[sample(length(values), 1L)]]
}

random_call <- function(f, first, most = 3L) {
  names <- setdiff(names(formals(f)), c(names(formals(f))[1L], "..."))
  given <- sample(names, min(length(names), sample(0:most, 1L)))
  if (runif(1) < 0.05) given <- c(given, "dgits")
  arguments <- stats::setNames(lapply(given, function(name) odd_value()), given)
  do.call(f, c(list(first), arguments), quote = TRUE)
}

fuzz_arguments <- function() {
  data <- odd_frame()
  column <- function() {
    if (length(data) && runif(1) < 0.95) sample(names(data), 1L) else
      odd_value()
  }
  survey <- data
  if (runif(1) < 0.6) {
    roles <-
      list(weight = "w", stratum = "g", cluster = "g", count = "w", id = "a")
    roles <- roles[sample(names(roles), sample(0:2, 1L))]
    if (runif(1) < 0.1 && length(roles)) roles[[1L]] <- odd_value()
    survey <- do.call(respondents, c(list(data), roles), quote = TRUE)
  }
  prepare <- list(
    function() {
      among(survey,
            !!sample(c("a == 'x'", "w > 1", "a >= 'x'", "w == '1'",
                       "!!!!is.na(a)", "b %in% c('p', 'q') & (g < 3 | g > 4)",
                       "stop('x')", "a = 1", "((a"), 1L))
    },
    function() regroup(survey, !!column(), New = c("x", "y")),
    function() band(survey, !!column(), n = 3),
    function() ticks(survey, t = c("a", "b")),
    function() combine(survey, t = c("a", "b")),
    function() one_per(survey, !!column()),
    function() order_answers(survey, !!column(), c("p", "q")),
    function() score_items(survey, t = c("w", "g")),
    function() random_call(look, survey),
    function() retitle(survey, !!column(), odd_value()),
    function() codebook(data), function() draft_codebook(data),
    function() make_replicates(survey, "jackknife"))
  if (runif(1) < 0.5) survey <- prepare[[sample(length(prepare), 1L)]]()
  if (!inherits(survey, c("fairlattice_survey", "data.frame")) ||
        inherits(survey, c("fairlattice_look", "fairlattice_codebook")))
    return("")
  x <- crosstab(survey, !!column(), !!column(),
                each = !!if (runif(1) < 0.2) column(),
                percent = if (runif(1) < 0.1) odd_value(),
                alpha = if (runif(1) < 0.1) odd_value())
  account_adds_up(x)
  if (runif(1) < 0.2) {
    file <- tempfile(fileext = ".json")
    on.exit(unlink(file))
    publish(x, file)
    x <- read_tables(file)
  }
  calls <- list(shares, tests, strength, residuals, cautions, write_up, flip,
                differences, risks, pooled, detectable, working, reading,
                regroup_sparse, test_items, recheck, as.data.frame, glance)
  out <- random_call(calls[[sample(length(calls), 1L)]], x)
  if (is.data.frame(out) && nrow(out) && runif(1) < 0.3)
    out <- out[sample(nrow(out), 1L), ]
  format(out)
}

fuzz_matrix <- function() {
  size <- sample(1:5, 2L, TRUE)
  M <- matrix(sample(c(0:9, 50, 1e6, 2^53, NA, -1, 0.5), prod(size), TRUE,
                     c(rep(3, 10), 3, rep(0.3, 5))), size[1L], size[2L])
  if (runif(1) < 0.8)
    dimnames(M) <- list(sample(c("A", "N", "Y", "All", "Total", "Base", ""),
                               size[1L], TRUE),
                        make.unique(sample(
                                      c("M", "N", "S", "Total"), size[2L],
                                      TRUE)))
  M <- if (runif(1) < 0.3) as.data.frame(M) else M
  format(random_call(crosstab_of_counts, M, 2L))
}

# ---- plans ----

# A few changes to the lines of a plan: a line gone, doubled, moved in or out, a
# word replaced by a hostile one, bytes damaged.
mutated_plan <- function(lines) {
  hostile <- c("", "~", "[]", "{}", "[[", "{a: {b: [", "'", "\"", "!!r x", "*a",
               "&a b", "- -", ": :", "yes", "-1", "1e999", ".nan", "none",
               "every question", "*", "\t", "|", ">", "? x", "x: y: z",
               "\u202e", "2030-01-01", "0x1F", "[1, [2, [3]]]", "age >= ",
               "system('x')", strrep("[", 60L), strrep("a", 400L))
  for (k in seq_len(sample(1:3, 1L))) {
    at <- sample.int(length(lines), 1L)
    words <- if (validUTF8(lines[at]))
      regmatches(lines[at],
                 gregexpr("[^ ,:{}\\[\\]]+", lines[at], perl = TRUE))[[1L]]
    lines <- switch(
      sample(6L, 1L),
      lines[-at], append(lines, lines[at], at),
      replace(lines, at, paste0("  ", lines[at])),
      replace(lines, at, sub("^ {1,2}", "", lines[at])),
      if (length(words))
        replace(lines, at,
                sub(sample(words, 1L), sample(hostile, 1L), lines[at],
                    fixed = TRUE)) else lines,
      strsplit(rawToChar(Filter(function(b) b != 0,
                                damage(charToRaw(
                                  paste(lines, collapse = "\n"))))), "\n",
               useBytes = TRUE)[[1L]])
    if (!length(lines)) lines <- ""
  }
  lines
}

# The demo plan, changed, over a few of the demo's records; what can be read is
# made, and no table may fail for a fault of the program.
fuzz_plan <- function() {
  path <- file.path(fuzz_state$folder, "mutated.plan.yml")
  connection <- file(path, "wb")
  writeLines(mutated_plan(fuzz_state$plan), connection, useBytes = TRUE)
  close(connection)
  plan <- read_plan(path)
  format(plan)
  b <- book(plan,
            only = as.character(head(vapply(
                                       plan$tables, function(one) one$number,
                                       0L), 3L)))
  format(b)
  failures <- unlist(lapply(b$tables, function(one) one$failure))
  odd <- grep("fault of the program", failures, value = TRUE)
  if (length(odd)) stop(odd[1L])
}

fuzz_state <- list2env(list(fixtures = NULL, table = NULL, folder = NULL,
                            plan = NULL), parent = emptyenv())

# Those of helper-fuzz-doors.R are among them.
fuzz_kinds <- function() {
  c(list(csv = fuzz_csv, codebook = fuzz_codebook, json = fuzz_json,
         table = fuzz_table, packed = fuzz_packed, counts = fuzz_counts,
         arguments = fuzz_arguments, matrix = fuzz_matrix, sheet = fuzz_sheet,
         plan = fuzz_plan), fuzz_doors)
}

fuzz_begin <- function(fixtures) {
  fuzz_begin_doors()
  fuzz_state$fixtures <- fixtures
  fuzz_state$table <- charToRaw(
    json_of(crosstab(data.frame(a = c("x", "y", "x", "y", "x"),
                                b = c("p", "q", "q", "p", "p")), a, b)))
  fuzz_state$folder <- tempfile("plans-")
  dir.create(fuzz_state$folder)
  for (name in c("veyra.schema.json", "house.yml")) file.copy(
    demo_file(name), fuzz_state$folder)
  for (name in c("veyra.csv", "veyra-before.csv")) writeLines(
    readLines(demo_file(name), 161L), file.path(fuzz_state$folder, name))
  fuzz_state$plan <- readLines(demo_file("veyra.plan.yml"))
}

# One case, which is the same whenever it is run.
fuzz_case <- function(kind, number) {
  set.seed(number, kind = "Mersenne-Twister", normal.kind = "Inversion",
           sample.kind = "Rejection")
  was <- options(OutDec = sample(c(".", ","), 1L))
  on.exit(options(was))
  verdict_of(function() fuzz_kinds()[[kind]]())
}
