# Nothing that is asked goes unheard: every option of every command, and every
# argument of every function, changes what comes, or is refused with a reason. A
# new one that is not tried here fails.

# The demo survey with what some options need: a count, a population, replicate
# weights, the same question again, several ticks in one cell.
walked_survey <- function(env = parent.frame()) {
  data <- utils::read.csv(demo_file("veyra.csv"), colClasses = "character")
  again <- data$id %in% data$id[duplicated(data$id)]
  data <- data[again | seq_len(nrow(data)) <= 900L, ]
  withr::local_seed(1)
  n <- nrow(data)
  data$people <- rep(1:2, length.out = n)
  data$clusters <- 400
  data <- data[seq_len(2L * (nrow(data) %/% 2L)), ]
  n <- nrow(data)
  data$copy <- rep(1:2, each = n / 2)
  data$drawn <- 0.1 + 0.01 * as.integer(factor(data$settlement))
  data$again <- replace(data$leave, seq(1, n, 7), "2")
  data$ways <- rep(c("bus", "boat;bus", "boat", ""), length.out = n)
  for (r in 1:6) data[[paste0("r", r)]] <-
    round(as.numeric(data$weight) * runif(n, 0.5, 1.5), 3)
  path <- withr::local_tempfile(fileext = ".csv", .local_envir = env)
  utils::write.csv(data, path, row.names = FALSE, na = "")
  file.copy(demo_file("veyra.schema.json"),
            sub("[.]csv$", ".schema.json", path))
  withr::defer(unlink(sub("[.]csv$", ".schema.json", path)), env)
  path
}

# What a command says and writes; OUT.ending stands for a file that it writes.
walked <- function(words) {
  folder <- withr::local_tempdir()
  at <- grep("^OUT[.]", words)
  words[at] <- file.path(folder, sub("^OUT", "out", words[at]))
  run <- call_main(words)
  bytes <- lapply(words[at], function(path) {
    if (!file.exists(path)) return(NULL)
    if (grepl("docx|pptx|xlsx", path))
      zip::zip_list(path)[c("filename", "crc32")] else readBin(path, "raw", 1e7)
  })
  list(status = run$status,
       said = gsub(folder, "", c(run$out, run$err), fixed = TRUE),
       files = bytes)
}

walk_options <- function(command, file, options, base) {
  known <-
    vapply(commands()[[command]]$options, function(option) option$flag, "")
  expect_setequal(names(options), known)
  before <- list()
  for (flag in names(options)) {
    one <- options[[flag]]
    start <- c(command, one$of %||% c(file, base), one$beside)
    # without where the records are
    unlike <- if (isTRUE(one$same)) c(command, file, base, one$beside) else
      start
    key <- paste(unlike, collapse = "\r")
    if (is.null(before[[key]])) before[[key]] <- walked(unlike)
    found <- walked(c(start, flag, one$words))
    if (isTRUE(one$same)) { # where the records are changes no table
      expect_identical(sub("\n+Source:.*", "", found$said[1L]),
                       sub("\n+Source:.*", "", before[[key]]$said[1L]),
                       info = flag)
    } else if (found$status == 0L) {
      expect_false(identical(found, before[[key]]), info = paste(command, flag))
    } else { # refused, in our words
      expect_match(found$said[2L], "fairlattice: ", info = flag)
      expect_false(grepl("internal error", found$said[2L]), info = flag)
    }
  }
}

with_words <- function(..., beside = NULL, of = NULL, same = FALSE) {
  list(words = c(...), beside = beside, of = of, same = same)
}

test_that("every option of the crosstab is heard", {
  file <- walked_survey()
  path <- withr::local_tempfile(fileext = ".db")
  con <- DBI::dbConnect(RSQLite::SQLite(), path)
  DBI::dbWriteTable(con, "answers", utils::read.csv(file))
  DBI::dbDisconnect(con)
  schema <- sub("[.]csv$", ".schema.json", file)
  other <- withr::local_tempfile(fileext = ".schema.json")
  writeLines(gsub("Very satisfied", "Delighted", readLines(schema)), other)
  fewer <- withr::local_tempfile(fileext = ".schema.json")
  writeLines('{"fields": [{"name": "leave", "categories": [{"value": "1", "label": "Yes"}]}]}',
             fewer)
  latin <- withr::local_tempfile(fileext = ".csv")
  writeBin(as.raw(c(charToRaw("ferry,island\nm"), 0xfc,
                    charToRaw("de,x\nwach,y\n"))), latin)
  commas <- withr::local_tempfile(fileext = ".csv")
  writeLines(c("ferry;island;w", "a;x;1,5", "b;y;2,5", "a;y;1"), commas)
  house <- demo_file("house.yml")
  pair <- c("--down", "ferry", "--across", "island")
  design <- c("--stratum", "island", "--cluster", "settlement")
  of <- function(...) c(file, ...)
  db <- c("--database", paste0("sqlite:", path), "--table", "answers", pair,
          "--codebook", schema)
  walk_options("crosstab", file, base = pair,
               options = list(
                 `--down` = with_words("leave"),
                 `--across` = with_words("tenure"),
                 `--each` = with_words("mode"),
                 `--together` = with_words(beside = c("--across", "tenure")),
                 `--among` = with_words("age >= 40"),
                 `--weight` = with_words("weight"),
                 `--stratum` = with_words("island"),
                 `--cluster` = with_words("settlement"),
                 `--percent` = with_words("row"),
                 `--show` = with_words("column,n"),
                 `--lines` = with_words("working"),
                 `--dress` = with_words("published"),
                 `--total` = with_words("first"),
                 `--out` = with_words("OUT.html"),
                 `--formulas` = with_words(beside = c("--out", "OUT.xlsx")),
                 `--template` = with_words(
                   demo_file("house.yml"), beside = c("--out", "OUT.docx")),
                 `--stack` = with_words("beside",
                                        beside = c("--show", "column,n")),
                 `--decimals` = with_words("0"),
                 `--marks` = with_words("letters"),
                 `--against` = with_words(
                   "rest", beside = c("--show", "column,difference")),
                 `--overlap` = with_words(
                   beside = c("--across", "tenure", "--together", "--marks",
                              "letters", "--weight", "weight")),
                 `--sort` = with_words("size", beside = c("--percent", "row")),
                 `--last` = with_words("Neither", beside = c("--sort", "size")),
                 `--only` = with_words("Satisfied"),
                 `--outside` = with_words("all", beside = c("--down", "say_homes")),
                 `--second-alpha` = with_words("0.0001", beside = c("--marks", "letters")),
                 `--round` = with_words("percent-to-100", beside = c("--decimals", "0")),
                 `--wrap` = with_words("8"),
                 `--shorten` = with_words("6"),
                 `--title` = with_words("Who likes it"),
                 `--subtitle` = with_words("A line."),
                 `--bases` = with_words("effective"),
                 `--base-rows` = with_words("top"),
                 `--margin` = with_words("0.1"), `--protect` = with_words("60", beside = c("--withhold-under", "30")),
                 `--round-seed` = with_words("5", beside = c("--round-to", "5")),
                 `--unit` = with_words(
                   "thousands",
                   beside = c("--show", "estimated_total", "--weight", "weight")),
                 `--flag-cv` = with_words("3,6"), `--flag-width` = with_words("4"),
                 `--flag-under` = with_words("600,5"),
                 `--flag-clusters` = with_words("30", beside = design),
                 `--totals` = with_words(beside = c("--weight", "weight")),
                 `--summary` = with_words(
                   "mean", beside = c("--score", "ferry")),
                 `--base` = with_words("those of 40 or over",
                                       beside = c("--among", "age >= 40")),
                 `--notes` = with_words("A note."),
                 `--hide-under` = with_words("400"),
                 `--withhold-under` = with_words("40"),
                 `--round-to` = with_words("10"),
                 `--style` = with_words(house),
                 `--count` = with_words("people"), `--id` = with_words("id"),
                 `--one-per` = with_words("last", beside = c("--id", "id")),
                 `--keep-empty` = with_words(
                   beside = c("--among",
                              "island == 'Tarn' & ferry != 'Neither'",
                              "--across", "mode")),
                 `--population` = with_words("clusters", beside = design),
                 `--unequal` = with_words(
                   "brewer", beside = c("--weight", "weight", "--cluster",
                                        "settlement", "--population", "drawn")),
                 `--imputation` = with_words("copy"),
                 `--inequality` = with_words(beside = c(
                   "--score", "age", "--down", "age", "--across", "mode")),
                 `--quantiles` = with_words("10,90", beside = c(
                   "--score", "age", "--down", "age", "--across", "mode")),
                 `--class-width` = with_words("10", beside = c(
                   "--score", "age", "--down", "age", "--across", "mode",
                   "--quantiles", "50")),
                 `--standardise` = with_words("tenure", beside = c("--across", "mode")),
                 `--standard` = with_words(
                   "Web", beside = c("--across", "mode", "--standardise", "tenure")),
                 `--calibrated-to` = with_words(
                   "island:mode", beside = c("--weight", "weight")),
                 `--adjust-nonresponse` = with_words("!is.na(ferry); mode"),
                 `--weigh-to` = with_words("leave=Yes: 36; No: 64"),
                 `--single-cluster` = with_words(
                   "stop",
                   beside = c("--stratum", "settlement", "--cluster",
                              "settlement")),
                 `--replicates` = with_words(
                   "r1,r2,r3,r4,r5,r6", beside = c("--weight", "weight")),
                 `--replicate-kind` = with_words(
                   "jk1",
                   beside = c("--weight", "weight", "--replicates",
                              "r1,r2,r3,r4,r5,r6")),
                 `--fay` = with_words("0.3",
                                      beside = c(
                                        "--weight", "weight", "--replicates",
                                        "r1,r2,r3,r4,r5,r6")),
                 `--make-replicates` = with_words(
                   "jkn", beside = c("--weight", "weight", design)),
                 `--band` = with_words("age=18,40",
                                       beside = c(
                                         "--across", "age", "--among",
                                         "age < 50")),
                 `--regroup` = with_words(
                   "ferry=Content: Satisfied, Very satisfied"),
                 `--missing` = with_words("ferry=Not relevant: Neither"),
                 `--labels` = with_words("ferry=Neither: In between"),
                 `--regroup-sparse` = with_words(
                   beside = c("--among", "age > 88")),
                 `--subdivide` = with_words(
                   "leave=internet",
                   of = of("--down", "ferry", "--across", "leave_by_internet")),
                 `--combine` = with_words(
                   "home=tenure,leave",
                   of = of("--down", "home", "--across", "island")),
                 `--score-items` = with_words(
                   "content=ferry,internet",
                   of = of("--down", "content", "--across", "island")),
                 `--order-answers` = with_words(
                   "tenure=Mortgage,Private rent",
                   of = of("--down", "tenure", "--across", "island")),
                 `--retitle` = with_words("ferry=Content with it"),
                 `--score` = with_words("ferry"),
                 `--net` = with_words("ferry=In all: Satisfied, Very satisfied"),
                 `--ticks` = with_words("reasons=reason_work,reason_housing",
                                        of = of(
                                          "--down", "reason_work", "--across",
                                          "island", "--down", "reasons")),
                 `--battery` = with_words("say=say_ferry,say_homes",
                                          of = of("--down", "say")),
                 `--split` = with_words("ways=;",
                                        of = of(
                                          "--down", "ways", "--across",
                                          "island")),
                 `--explains` = with_words("down"), `--flip` = with_words(),
                 `--paired` = with_words(
                   of = of("--down", "leave", "--across", "leave")),
                 `--peaks` = with_words(),
                 `--alpha` = with_words("0.001"),
                 `--correction` = with_words("bonferroni"),
                 `--p` = with_words("exact",
                                    of = of(
                                      "--down", "leave", "--across", "island",
                                      "--among", "age > 75")),
                 `--figure` = with_words(
                   "heat", beside = c("--out", "OUT.svg")),
                 `--language` = with_words("de"),
                 `--format` = with_words("json"),
                 `--shares` = with_words(
                   "Yes=50", "--shares", "No=50", of = of("--down", "leave")),
                 `--tests` = with_words(), `--strength` = with_words(),
                 `--residuals` = with_words(), `--differences` = with_words(),
                 `--risks` = with_words(),
                 `--outcome` = with_words("Satisfied", beside = "--risks"),
                 `--reference` = with_words("Norrey", beside = "--risks"),
                 `--detectable` = with_words(), `--working` = with_words(),
                 `--write-up` = with_words("full"),
                 `--database` = with_words(
                   paste0("sqlite:", path), same = TRUE,
                   of = c("--table", "answers", pair, "--codebook", schema)),
                 `--table` = with_words("nobody",
                                        of = c(
                                          "--database", paste0("sqlite:", path),
                                          pair)),
                 `--query` = with_words(
                   "SELECT * FROM answers WHERE mode = 1",
                   of = c("--database", paste0("sqlite:", path), pair, "--codebook", schema)),
                 `--show-sql` = with_words(of = db),
                 `--time-limit` = with_words("5", of = db),
                 `--in-chunks` = with_words(
                   same = TRUE, of = of(pair, "--codebook", schema)),
                 `--codebook` = with_words(other),
                 `--unknown` = with_words(
                   "missing",
                   beside = c("--codebook", fewer, "--down", "leave")),
                 `--encoding` = with_words("latin1", of = c(latin, pair)),
                 `--delimiter` = with_words(",", of = c(commas, pair)),
                 `--decimal` = with_words(
                   ".", of = c(commas, pair, "--weight", "w")),
                 `--sheet` = with_words("2"), `--range` = with_words("A1:B9")))
  # an option of another question's is told
  for (odd in list(c("--score", "age"),
                   c("--net", "tenure=All: Mortgage, Private rent"),
                   c("--retitle", "leave=Going"),
                   c("--order-answers", "leave=No,Yes"),
                   c("--band", "age=18,40"))) {
    run <- call_main("crosstab", file, pair, odd)
    expect_identical(run$status, 2L, info = odd[1L])
    expect_match(run$err, "no table asks for", info = odd[1L])
  }
})

test_that("every option of the other commands is heard", {
  file <- walked_survey()
  # options of the design and of files are those of the crosstab, tried above
  known <- function(command) {
    vapply(commands()[[command]]$options, function(option) option$flag, "")
  }
  tried <- known("crosstab")
  walk <- function(command, base, options, of = file) {
    walk_options(command, of,
                 c(options,
                   lapply(stats::setNames(
                     nm = setdiff(known(command), names(options))),
                          function(flag) {
                            expect_true(flag %in% tried,
                                        info = paste(command, flag))
                            with_words(switch(
                              flag, `--weight` = , `--stratum` = ,
                              `--cluster` = , `--id` = ,
                              `--count` = sub("--", "", flag),
                              `--table` = , `--sheet` = "x",
                              `--range` = "A1:B2",
                              `--one-per` = "last", "x"))
                          })), base)
  }
  walk("look", c("--question", "ferry,leave"),
       list(
         `--question` = with_words("island"), `--find` = with_words("leave"),
         `--draft-codebook` = with_words("OUT.json"),
         `--out` = with_words("OUT.html"), `--weight` = with_words("weight"),
         `--stratum` = with_words("island"),
         `--cluster` = with_words("settlement"),
         `--count` = with_words("people")))
  table <- file_with(paste0(paste("way\tNorrey\tTarn\nboat\t20 (40)\t10",
                                  "(20)\nbus\t10 (20)\t20 (40)\n"),
                            "walk\t20 (40)\t20 (40)\nTotal\t50\t50\n"), ".txt")
  percents <-
    file_with("way\tNorrey\tTarn\nboat\t40\t20\nbus\t60\t80\n", ".txt")
  walk("recheck", character(), of = table,
       options = list(
         `--regroup` = with_words("rows=public: boat, bus"),
         `--keep-totals` = with_words(),
         `--claimed-statistic` = with_words("5"),
         `--claimed-df` = with_words("1"), `--claimed-p` = with_words("0.5"),
         `--claimed-v` = with_words("0.5"),
         `--claimed-percent` = with_words("column"),
         `--bases` = with_words("50,50", of = percents),
         `--out` = with_words("OUT.html")))
  walk("related", c("--to", "island", "--question", "ferry,leave,age,tenure"),
       list(
         `--to` = with_words("mode"), `--question` = with_words("internet"),
         `--among` = with_words("age > 60"),
         `--nearly` = with_words("0.01"), `--alpha` = with_words("0.2"),
         `--out` = with_words("OUT.html"),
         `--weight` = with_words("weight"),
         `--stratum` = with_words("island",
                                  beside = c("--cluster", "settlement")),
         `--cluster` = with_words("settlement"),
         `--count` = with_words("people"), `--id` = with_words("id"),
         `--one-per` = with_words("last", beside = c("--id", "id")),
         `--band` = with_words("age=18,40"),
         `--regroup` = with_words("ferry=Content: Satisfied, Very satisfied"),
         `--missing` = with_words("ferry=Not relevant: Neither"),
         `--combine` = with_words("home=tenure,leave", "--question", "home"),
         `--score-items` = with_words("content=ferry,internet", "--question",
                                      "content"),
         `--order-answers` = with_words("tenure=Mortgage,Private rent"),
         `--retitle` = with_words("ferry=Content with it"),
         `--ticks` = with_words("reasons=reason_work,reason_housing",
                                "--question", "reasons"),
         `--battery` = with_words("say=say_ferry,say_homes"),
         `--split` = with_words("ways=;",
                                of = c(file, "--to", "island", "--question",
                                       "ferry,ways"))))
  walk("plan", character(),
       list(`--out` = with_words("OUT.yml"),
            `--check` = with_words(of = demo_file("veyra.plan.yml"))))
})

# ---- functions ----

# What stands in a list, not deeper than somebody looks.
outlined <- function(x) utils::capture.output(utils::str(x, max.level = 2L))

# What a user sees of a value.
seen <- function(x) {
  if (inherits(x, "fairlattice_crosstab"))
    return(list(format(x, lines = "working"), as.data.frame(x)))
  if (is.character(x) && length(x) == 1L && file.exists(x)) {
    ending <- tools::file_ext(x)
    return(if (ending %in% c("docx", "xlsx", "pptx"))
             zip::zip_list(x)[c("filename", "crc32")] else
             readBin(x, "raw", 1e7))
  }
  if (inherits(x, "fairlattice_survey")) {
    shown <- tryCatch(format(crosstab(x, ferry, island), lines = "working"),
                      fairlattice_error = conditionMessage)
    return(list(format(x), shown,
                lapply(x$data, function(column) {
                  c(list(as.character(column)), attributes(column))
                })))
  }
  if (is.data.frame(x))
    return(list(if (class(x)[1L] != "data.frame")
                  utils::capture.output(print(x)),
                lapply(x, function(column) {
                  list(typeof(column), as.character(column), attributes(column))
                }),
                outlined(attributes(x))))
  list(utils::capture.output(print(x)), if (is.list(x)) outlined(unclass(x)))
}

tried_call <- function(call, env) {
  tryCatch(list(value = seen(suppressMessages(
                               suppressWarnings(eval(call, env))))),
           fairlattice_error = function(e) list(error = conditionMessage(e)))
}

# The call with another argument of one function in it.
changed_call <- function(call, name, argument, value) {
  if (!is.call(call)) return(call)
  if (identical(call[[1L]], as.name(name))) {
    call <- rlang::call_match(call, get(name, asNamespace("fairlattice")))
    call[argument] <- list(value)
    return(call)
  }
  call[-1L] <- lapply(as.list(call)[-1L], changed_call, name = name,
                      argument = argument, value = value)
  call
}

test_that("every argument of every function is heard", {
  env <- new.env(parent = asNamespace("fairlattice"))
  env$data <- demo_records(n = 900)
  env$survey <- respondents(env$data, weight = weight, stratum = island,
                            cluster = settlement)
  env$plain <- respondents(env$data)
  env$survey <- env$data
  env$survey$people <- 2
  env$survey$clusters <- 400
  withr::local_seed(2)
  for (r in 1:6) env$survey[[paste0("r", r)]] <-
    as.vector(env$survey$weight) * runif(nrow(env$survey), 0.5, 1.5)
  env$table <- crosstab(env$survey, ferry, island)
  env$small <- crosstab(among(env$plain, age > 75), leave, mode)
  env$many <- crosstab(env$survey, ferry, island, each = mode)
  env$counts <- matrix(c(20, 10, 30, 25, 15, 40, 45, 25, 70), 3,
                       dimnames = list(c("a", "b", "Total"), c("p", "q", "r")))
  env$heating <- crosstab(env$survey, heating, island)
  env$file <- walked_survey()
  env$folder <- withr::local_tempdir()
  plan <- file.path(env$folder, "p.yml")
  for (name in c("veyra.csv", "veyra.schema.json", "veyra-before.csv",
                 "house.yml")) file.copy(demo_file(name), env$folder)
  writeLines(c("records: veyra.csv", "across: island", "chapters:",
               "  - title: One", "    tables: [ferry, leave]"), plan)
  env$plan <- plan
  env$con <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  withr::defer(DBI::dbDisconnect(env$con))
  DBI::dbWriteTable(env$con, "answers", utils::read.csv(demo_file("veyra.csv")))
  env$out <- function(ending) tempfile(tmpdir = env$folder, fileext = ending)
  env$schema <- demo_file("veyra.schema.json")
  env$waves <- data.frame(ferry_1 = c("a", "b"), ferry_2 = c("b", "b"))
  env$targets <- list(island = c(Norrey = 30, Sandholm = 20,
                                 "Harrow Skerry" = 20, Tarn = 15,
                                 "Outer Veyra" = 15),
                      leave = c(Yes = 70, No = 30))
  # per function: a call, and another value of every further argument; several
  # where they need different calls
  walk <- list(
    adjust_nonresponse = list(quote(adjust_nonresponse(
      respondents(survey, weight = weight), age > 40 & !is.na(age))),
      within = "island", into = "w2"),
    among = list(quote(among(survey, age > 40)), base = "older"),
    battery = list(quote(battery(data, say = c(say_ferry, say_homes))),
                   label = "Sayings", answered = "all"),
    band = list(quote(band(data, age, breaks = c(18, 40))), n = 3, width = 10,
                labels = c("x", "y"), closed = "right", least = 2000,
                into = "bands"),
    book = list(quote(book(plan, cache = FALSE)), only = "ferry",
                records = quote(demo_records(n = 300)),
                before = quote(file.path(folder, "veyra-before.csv"))),
    combine = NULL,
    counts_from_percentages = list(
      quote(counts_from_percentages(matrix(c(40.1, 59.9, 20, 80), 2),
                                    c(500, 50))), digits = 0, most = 0),
    dbi_table = list(quote(crosstab(respondents(dbi_table(con, "answers")),
                                    ferry, island)), codebook = quote(schema), query = "SELECT 1",
                     time_limit = 3, most_groups = 3, show_sql = "yes",
                     unknown = "other"),
    demo_records = list(quote(demo_records()), n = 100, seed = 3,
                        settlements = 4, wave = 1, complex = TRUE),
    residuals = list(quote(residuals(table)), type = "pearson",
                     correction = "bonferroni", alpha = 0.2),
    detectable = list(quote(detectable(n = 300, r = 2, c = 3)), n = 400, r = 3,
                      c = 4, alpha = 0.2, power = 0.5, design_effect = 2,
                      v = 0.3, df = 20),
    differences = list(quote(differences(table)), against = "rest",
                       compare = "rows", correction = "bonferroni", alpha = 0.5,
                       least_base = 400),
    crosstab = list(quote(crosstab(survey, leave, mode)), across = "island",
                    each = "island", explains = "down", percent = "total",
                    alpha = 0.3, correction = "bonferroni", keep_empty = "no",
                    paired = TRUE, peaks = TRUE, p = "exact",
                    shares = c(Yes = 50, No = 50), overlap = TRUE),
    crosstab_of_counts = list(quote(crosstab_of_counts(counts)), down = "x",
                              across = "y", count = "n", totals = FALSE,
                              explains = "down", percent = "row", alpha = 0.7,
                              correction = "bonferroni", peaks = TRUE,
                              p = "exact"),
    lay_out = list(quote(lay_out(table)), show = "row", decimals = 3,
                   sort = "size", last = "Neither", only = "Satisfied",
                   labels = c(Neither = "In between"), shorten = 8, title = "T",
                   subtitle = "S", notes = "N", source = "Here",
                   bases = "effective", base_rows = "top", hide_under = 400,
                   marks = "letters", against = "rest", withhold_under = 90,
                   round_to = 10, stack = "sideways"),
    label_answers = list(quote(label_answers(data, ferry, c(Neither = "Between"))),
                         labels = c(Neither = "In between")),
    look = list(quote(look(data)), question = "ferry", find = "leave"),
    means = list(quote(means(crosstab(score(survey, ferry), ferry, island))),
                 alpha = 0.2, correction = "bonferroni"),
    one_per = list(quote(one_per(data, id)), keep = "last"),
    order_answers = list(quote(order_answers(
                                 data, ferry, rev(levels(data$ferry)[1:5]))),
                         ordered = FALSE),
    plan_of = list(quote(plan_of(data)), across = "island",
                   chapters = list(One = "ferry"),
                   defaults = list(percent = "row"), title = "T",
                   before = quote(data), called = c("then", "now"),
                   style = quote(demo_file("house.yml"))),
    pooled = list(quote(pooled(many)), scores = list(down = 5:1), alpha = 0.3),
    publish = list(quote(publish(table, out(".html"))), figure = "heat",
                   template = "t.docx", formulas = TRUE, as = "data"),
    read_plan = list(quote(read_plan(plan)),
                     records = quote(demo_records(n = 300)),
                     before = quote(file.path(folder, "veyra-before.csv"))),
    read_records = list(quote(read_records(file)),
                        codebook = quote(codebook(data["ferry"])),
                        unknown = "other", encoding = "nothing", decimal = ",",
                        sheet = 2, range = "A1", delimiter = ";"),
    reading = list(quote(reading(heating)), most = 1),
    recheck = list(quote(recheck(counts)), statistic = 2, df = 1, p = 0.5,
                   v = 0.5, percent = "row", totals = FALSE),
    rechoose = list(quote(rechoose(table)), percent = "row", alpha = 0.3,
                    correction = "bonferroni", explains = "down", margin = 0.1),
    records_in_chunks = list(quote(crosstab(
                                     respondents(records_in_chunks(file)),
                                     ferry, island)),
                             codebook = quote(codebook(data["ferry"])),
                             unknown = "other", decimal = "x", delimiter = ";",
                             most_groups = 3),
    regroup = list(quote(regroup(data, ferry,
                                 Good = c("Satisfied", "Very satisfied"))),
                   other = "Rest", missing = c("None" = "Neither")),
    regroup_sparse = list(quote(regroup_sparse(small)), apply = TRUE),
    related = list(quote(related(plain, to = "island",
                                 questions = c("ferry", "leave"))), to = "mode",
                   questions = "tenure", nearly = 0.01, alpha = 0.3),
    respondents = list(quote(respondents(survey)), weight = "weight",
                       stratum = "island", cluster = "settlement", id = "id",
                       count = "people", population = "clusters",
                       calibrated_to = "no_such_margin", imputation = "mode", unequal = "other",
                       single_cluster = "never", replicates = paste0("r", 1:6)),
    risks = list(quote(risks(table)), outcome = "Neither", reference = "Tarn",
                 alpha = 0.3),
    score = list(quote(crosstab(score(survey, ferry), ferry, island)),
                 scores = c(1, 2, 3, 9, 10)),
    score_items = list(quote(score_items(data, s = c(ferry, ferry))),
                       by = "sum", least = 1),
    shares = list(quote(shares(table)), percent = "row", alpha = 0.3,
                  interval = "other"),
    significant = list(quote(significant(book(plan, cache = FALSE))),
                       alpha = 1e-9),
    strength = list(quote(strength(table)), measures = "gamma", alpha = 0.3,
                    scores = list(down = c(1, 2, 3, 9, 10)),
                    interval = "bootstrap", explain = TRUE),
    subdivide = list(quote(subdivide(data, leave, internet)), name = "other"),
    standardised = list(quote(standardised(crosstab(survey, leave, mode, each = tenure))),
                        to = "Web", alpha = 0.3, correction = "bonferroni"),
    quantiles = list(quote(quantiles(crosstab(score(survey, age), age, mode))), at = 30,
                     class_width = 10,
                     interval = "woodruff", alpha = 0.3),
    inequality = list(quote(inequality(crosstab(score(survey, age), age, mode))), top = 30,
                      alpha = 0.3),
    ratios = list(quote(ratios(survey, age, weight)), across = "mode", alpha = 0.3),
    tally_of = list(quote(tally_of(survey, ferry, island)), across = "tenure",
                    each = "mode"),
    tests = list(quote(tests(small)), tests = "likelihood_ratio",
                 p = "simulated", scores = list(down = c(1, 5))),
    test_shares = list(quote(test_shares(survey, leave, c(Yes = 40, No = 60))),
                       against = "equal", alpha = 0.3, correction = "other"),
    ticks = list(quote(ticks(data, reasons = c(reason_work, reason_housing))),
                 label = "Why", split = ";", none = "x"),
    totals = list(quote(totals(crosstab(respondents(survey, weight = weight),
                                        ferry, island))), alpha = 0.3, correction = "bonferroni"),
    waves_long = list(quote(waves_long(waves, "ferry")), sep = ".",
                      wave = "when", waves = c("2", "1")),
    weigh_to = list(quote(weigh_to(survey, targets)), limits = c(0.9, 1.1),
                    method = "linear", trim = c(0.99, 1.01), by = "cluster",
                    rounds = 1, tolerance = 0.5, into = "w2"),
    make_replicates = list(quote(make_replicates(survey)), kind = "bootstrap",
                           replicates = 5, fay = 0.3, seed = "x"),
    working = list(quote(working(many, each = "Web")), each = "Paper"),
    write_up = list(quote(write_up(table)), style = "full"))
  others <- list( # arguments that need a call of their own
    band = list(quote(band(data, age, breaks = c(18, 40))), breaks = c(18, 50)),
    lay_out = list(quote(lay_out(crosstab(
                                   score(survey, ferry), ferry, island))),
                   summary = "median"),
    lay_out = list(quote(lay_out(crosstab(respondents(survey, weight = weight),
                                          ferry, island),
                                 show = "estimated_total")),
                   unit = "millions"),
    crosstab = list(quote(write_up(crosstab(survey, season, mode))), margin = 0.9),
    crosstab_of_counts = list(quote(write_up(crosstab_of_counts(counts))),
                              margin = 0.9),
    lay_out = list(quote(lay_out(table, show = "n", withhold_under = 40)),
                   protect = 200),
    lay_out = list(quote(lay_out(table, show = "n", round_to = 10)),
                   round_seed = 7),
    lay_out = list(quote(lay_out(table, lines = "none")), flag_cv = c(1, 2),
                   flag_width = 1, flag_under = 1e4, flag_clusters = 1e4),
    lay_out = list(quote(lay_out(table, lines = "none")), lines = "test"),
    lay_out = list(quote(lay_out(table, marks = "letters")), second_alpha = 0.001),
    lay_out = list(quote(lay_out(table, decimals = 0)), round = "percent-to-100",
                   outside = "all"),
    lay_out = list(quote(lay_out(table)), dress = "published", total = "first"),
    lay_out = list(quote(lay_out(table, style = NULL)),
                   style = quote(house_style(demo_file("house.yml")))),
    respondents = list(quote(respondents(
                               survey, weight = weight,
                               replicates = paste0("r", 1:6))),
                       replicate_kind = "jk1", fay = 0.4, replicate_scale = 0.5,
                       replicate_df = 2),
    strength = list(quote(strength(small, interval = "bootstrap", draws = 100,
                                   seed = 1)), draws = 120, seed = 2),
    tests = list(quote(tests(small, p = "simulated", draws = 1000, seed = 1)),
                 draws = 2000, seed = 5))
  # what has no argument of its own, is only written or runs on, or says the
  # same of everything (tried elsewhere)
  without <- c("below", "beside", "pooled_waves", "verify", "cautions", "codebook", "combine",
               "demo_file", "desk", "draft_codebook", "flip", "glance",
               "house_style", "main", "measures_known", "net", "read_tables",
               "retitle", "test_items", "tidy", "write_codebook",
               "write_records")
  functions <- Filter(function(name) {
    is.function(get(name, asNamespace("fairlattice")))
  }, getNamespaceExports("fairlattice"))
  expect_setequal(c(names(Filter(length, walk)), without),
                  c(functions, "residuals"))
  # named by the base call already, or where something is kept or drawn
  given <- list(adjust_nonresponse = "responded",
                ratios = c("top", "bottom"), among = "condition", band = "breaks", book = "cache",
                dbi_table = c("con", "table"), crosstab = "down",
                crosstab = "margin", crosstab_of_counts = "margin",
                lay_out = c("wrap", "lines", "dress", "total", "style", "second_alpha",
                            "round", "outside", "summary", "unit",
                            "protect", "round_seed",
                            names(reliability_rules)),
                one_per = "id", order_answers = c("question", "answers"),
                publish = "path", score = "question", label_answers = "question",
                subdivide = c("question", "by"), retitle = "title",
                test_shares = "question", tally_of = "down",
                waves_long = "questions", weigh_to = "targets",
                band = "question", strength = c("draws", "seed"),
                tests = c("draws", "seed"), regroup = "question",
                counts_from_percentages = "base",
                respondents = c("replicate_kind", "fay", "replicate_scale",
                                "replicate_df"))
  for (name in names(Filter(length, walk))) {
    method <- if (name == "residuals") "residuals.fairlattice_crosstab" else
      name
    arguments <- setdiff(names(formals(get(
      method, asNamespace("fairlattice")))), "...")[-1L]
    tried <- c(names(walk[[name]])[-1L], unlist(given[names(given) == name]))
    expect_identical(setdiff(arguments,
                             c(tried,
                               if (name %in% c("demo_records", "detectable"))
                                 "n")), character(), info = name)
  }
  all <- c(Filter(length, walk), others)
  for (k in seq_along(all)) {
    call <- all[[k]][[1L]]
    base <- tried_call(call, env)
    expect_null(base$error, info = deparse(call))
    for (argument in names(all[[k]])[-1L]) {
      changed <-
        changed_call(call, names(all)[k], argument, all[[k]][[argument]])
      expect_false(identical(tried_call(changed, env), base),
                   info = paste(deparse(changed), collapse = " "))
    }
  }
})

test_that("names that are given twice are named", {
  x <- crosstab(demo_records(100), leave, mode)
  expect_error(lay_out(x, show = c("row", "n", "n")), "\"n\"|`n`| n ")
})
