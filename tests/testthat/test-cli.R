# The command line, called and as a process.

file <- demo_file("veyra.csv")
design <- c("--weight", "weight", "--stratum", "island", "--cluster",
            "settlement", "--id", "id")

test_that("cross prints the table that R prints, for all pairs of questions", {
  run <- call_main("crosstab", file, "--down", "heating,ferry", "--down",
                   "leave", "--across", "island", "--across=tenure", design)
  expect_identical(run$status, 0L)
  voice$speaks <- "command" # remedies are options there
  withr::defer(voice$speaks <- "function")
  for (down in c("heating", "ferry", "leave")) {
    for (across in c("island", "tenure")) {
      printed <- paste(format(crosstab(demo_survey(), !!down, !!across)),
                       collapse = "\n")
      expect_true(grepl(trimws(printed), run$out, fixed = TRUE),
                  info = paste(down, across))
    }
  }
})

test_that("--format json prints JSON alone, and --out writes every file", {
  folder <- withr::local_tempdir()
  files <- file.path(folder, c("t.json", "t.html"))
  run <- call_main("crosstab", file, "--down", "heating", "--across", "island",
                   design, "--format", "json", "--flip", "--out", files[1],
                   "--out", files[2])
  expect_identical(run$status, 0L)
  json <- jsonlite::fromJSON(run$out)
  expect_identical(json$title, "Island by Main heating")
  expect_identical(json$source$sha256, cli::hash_file_sha256(file))
  expect_true(all(file.exists(files)))
  expect_match(run$err, "Wrote .*t.html")
  expect_identical(paste(readLines(files[1]), collapse = "\n"), run$out)
})

test_that("every option reaches the table", {
  run <- call_main("crosstab", file, "--down", "leave", "--across", "mode",
                   design, "--each", "island", "--among",
                   "island %in% c('Tarn', 'Norrey') & age >= 30", "--percent",
                   "row", "--explains", "down", "--alpha", "0.1",
                   "--correction", "bonferroni")
  expect_identical(run$status, 0L)
  expect_match(run$out,
               "Island: Norrey.*Row percentages.*Bonferroni over\\s+3 cells; level 0.1.*90% CI")
  expect_false(grepl("Sandholm", run$out))
})

test_that("questions are prepared on the way, and tables of counts are checked", {
  run <- call_main("crosstab", file, "--down", "ferry", "--across", "age",
                   design, "--band", "age=18,35,65", "--one-per", "last",
                   "--among", "island != 'Tarn'", "--regroup",
                   paste("ferry=Unhappy: Very dissatisfied, Dissatisfied;",
                         "Happy: Satisfied, Very satisfied"))
  expect_match(run$out,
               "18\u201334.*Unhappy.*another record of the same respondent|Unhappy")
  expect_false(grepl("more than once", run$out))
  for (bad in list(c("--band", "age"), c("--band", "age=a,b"),
                   c("--regroup", "ferry=Unhappy"), c("--one-per", "first"))) {
    expect_identical(call_main("crosstab", file, "--down", "ferry", "--across",
                               "age", bad)$status, 2L, info = bad[2])
  }
  table <- file_with("   p   q\nx   20   10\ny   20   50\n", ".txt")
  expect_match(call_main("recheck", table, "--claimed-statistic", "12.7",
                         "--claimed-df", "2")$out,
               "agrees +statistic.*DIFFERS +degrees of freedom")
  shares <- file_with("   p   q\nx   66.7   41.4\ny   33.3   58.6\n", ".txt")
  expect_match(call_main("recheck", shares, "--bases", "93,99")$out,
               "1 table of counts")
  expect_identical(call_main("recheck", table, "--bases", "93,x")$status, 2L)
  alone <- call_main("recheck", file_with("x\n", ".txt"), "--bases", "93")
  expect_identical(alone$status, 1L)
  expect_match(alone$err, "fewer than two lines")
})

test_that("what is at fault decides the exit status, and messages go to standard error", {
  words <- list(character(), "crss", c("crosstab", file),
                c("crosstab", file, "--across", "ferry"),
                c("crosstab", "--down", "a", "--across", "b"),
                c("crosstab", file, file, "--down", "a", "--across", "b"),
                c("crosstab", file, "--dwn", "a"),
                c("crosstab", file, "--down"),
                c("crosstab", file, "--down", "ferry", "--across", "island",
                  "--percent", "columns"),
                c("crosstab", file, "--down", "ferry", "--across", "island",
                  "--alpha", "x"),
                c("crosstab", file, "--down", "ferry", "--across", "island",
                  "--alpha", "2"))
  for (args in words) expect_identical(call_main(args)$status, 2L,
                                       info = paste(args, collapse = " "))
  question <- list(c("look", "nowhere.csv"),
                   c("look", file, "--question", "fery"),
                   c("crosstab", file, "--down", "fery", "--across", "island"),
                   c("crosstab", file, "--down", "ferry", "--across", "island",
                     "--among", "age > 500"),
                   c("crosstab", file, "--down", "ferry", "--across", "island",
                     "--out", "no/such/folder/t.html"),
                   c("crosstab", file, "--down", "id", "--across", "island"),
                   c("crosstab", file, "--down", "weight", "--across", "island",
                     "--weight", "weight"))
  for (args in question) {
    run <- call_main(args)
    expect_identical(run$status, 1L, info = paste(args, collapse = " "))
    expect_match(run$err, "^fairlattice: ")
    expect_identical(run$out, "")
    expect_false(grepl("Error in|Backtrace|internal error", run$err))
  }
})

test_that("every command has help with an example that runs", {
  expect_match(call_main("--version")$out, "^fairlattice [0-9.]+")
  expect_match(call_main("--help")$out, "crosstab .*look .*demo")
  folder <- withr::local_tempdir()
  file.copy(vapply(demo_files, demo_file, ""), folder)
  writeLines(c("        Norrey     Tarn", "Satisfied  62 (66.7)  41 (41.4)",
               "Not        31 (33.3)  58 (58.6)"),
             file.path(folder, "ferry-table.txt"))
  # a small plan in place of the whole survey's
  writeLines(c("records: veyra.csv", "across: island",
               "defaults: {figure: none}",
               "chapters: [{title: A, tables: [ferry]}]", "outputs: ferry.md"),
             file.path(folder, "veyra.plan.yml"))
  # the same records in a database, and as one of the parts of a survey
  file.copy(demo_file("veyra.csv"), file.path(folder, "part-1.csv"))
  con <- DBI::dbConnect(RSQLite::SQLite(), file.path(folder, "veyra.db"))
  DBI::dbWriteTable(con, "answers", raw_survey())
  DBI::dbDisconnect(con)
  withr::local_dir(folder)
  # what was published of them
  dir.create("report")
  survey <- respondents(suppressMessages(read_records("veyra.csv")))
  for (file in c("heating.docx", "report/heating.json"))
    publish(crosstab(survey, heating, island), file)
  withr::local_options(fairlattice.exact_steps = 1e5,
                       fairlattice.random_tables = 1000)
  for (name in names(commands())) {
    command <- commands()[[name]]
    help <- call_main(name, "--help")
    expect_identical(help$status, 0L)
    expect_match(help$out, "Examples:")
    for (option in command$options) expect_true(
      grepl(option$flag, help$out, fixed = TRUE))
    # one runs until it is ended, the other makes everything: see
    # test-desk-browser.R, test-demo.R
    if (name %in% c("desk", "demo")) next
    for (example in command$example) {
      words <- gsub("'", "",
                    regmatches(example,
                               gregexpr("'[^']*'|[^ ']+('[^']*')?", example))[[1]])
      if (name == "book") words <- c(words, "--fresh")
      called <- call_main(words)
      expect_identical(called$status, 0L, info = paste(example, called$err))
    }
  }
})

test_that("the executable runs, answers with its status, and keeps output and messages apart", {
  program <- system.file("exec", "fairlattice", package = "fairlattice")
  run <- function(...) {
    suppressWarnings(system2(file.path(R.home("bin"), "Rscript"),
                             shQuote(c(program, ...)), stdout = TRUE,
                             stderr = FALSE))
  }
  good <- run("look", file, "--question", "ferry")
  expect_true(any(grepl("Very satisfied", good)))
  bad <- run("crosstab", file, "--down", "fery", "--across", "island")
  expect_identical(attr(bad, "status"), 1L)
  expect_length(bad, 0)
  expect_identical(attr(run("crosstab", file, "--percent", "all"), "status"),
                   2L)
  expect_match(run("--version"), "^fairlattice")
  # as it is called by its name, with little of R attached: a page with its
  # figures is written
  page <- withr::local_tempfile(fileext = ".html")
  named <- system2(program,
                   shQuote(c("crosstab", file, "--down", "leave", "--across",
                             "tenure", "--out", page)), stdout = TRUE,
                   stderr = TRUE)
  expect_null(attr(named, "status"))
  expect_true(file.exists(page))
  piped <- function(input, ...) {
    system2(file.path(R.home("bin"), "Rscript"), shQuote(c(program, ...)),
            input = input, stdout = TRUE, stderr = TRUE)
  }
  table <- piped(c("a  p  q", "x  5  6", "y  7  9"), "recheck", "-",
                 "--claimed-p", "0.9")
  expect_true(any(grepl("agrees +p: claimed 0.9", table)))
  records <- piped(readLines(file), "crosstab", "-", "--codebook",
                   demo_file("veyra.schema.json"), "--down", "season",
                   "--across", "tenure")
  expect_true(any(grepl("2,412 records: ", records)))
  expect_false(any(grepl("[Ww]arning", c(table, records))))
})

test_that("more of a table is shown when it is asked for, as the functions print it", {
  table <- crosstab(demo_survey(), leave, internet)
  run <- call_main("crosstab", file, "--down", "leave", "--across", "internet",
                   design, "--tests", "--strength", "--residuals",
                   "--differences", "--risks", "--reference", "Good",
                   "--detectable", "--working", "--write-up", "full")
  expect_identical(run$status, 0L)
  wanted <- list(tests(table), strength(table, "all", explain = TRUE),
                 residuals(table), differences(table),
                 risks(table, reference = "Good"), detectable(table),
                 working(table))
  for (part in wanted) expect_true(
    grepl(trimws(paste(format(part), collapse = "\n")), run$out, fixed = TRUE),
    info = class(part)[1])
  expect_match(run$out, "The null hypothesis that")
  each <- call_main("crosstab", file, "--down", "leave", "--across", "internet",
                    "--each", "island", design)
  expect_match(each$out, "Controlling for Island.*general association")
  made <- call_main("crosstab", file, "--down", "leave", "--across", "internet",
                    design, "--make-replicates", "jackknife", "--format",
                    "json")
  expect_match(made$out, "\"replicates\": \"jackknife\"")
  exact <- call_main("crosstab", file, "--down", "leave", "--across",
                     "internet", "--among", "age < 20", "--p", "exact",
                     "--peaks")
  expect_match(gsub("\\s+", " ", exact$out), "exact test, n = 12")
  expect_identical(call_main("crosstab", file, "--down", "leave", "--across",
                             "internet", "--p", "exactly")$status, 2L)
})

test_that("options are read wherever they stand, and what cannot be read is named", {
  command <- list(files = Inf, usage = "x", options = list(
    one("--weight", "NAME", ""), one("--level", "NUMBER", "", number = TRUE),
    several("--down", "NAMES", ""), switch_on("--peaks", "")))
  read <- function(...) parse_words(command, c(...))
  found <- read("--weight=a", "f.csv", "--down", "x, y", "--peaks", "-", "--weight", "b=c",
                "--down=z", "--level", "-5", "--", "--peaks", "-q")
  expect_identical(found, list(options = list(weight = "b=c", level = -5, down = c("x", "y", "z"),
                                              peaks = TRUE),
                               args = c("f.csv", "-", "--peaks", "-q")))
  expect_identical(read("f")$options, list(weight = NULL, level = NULL, down = NULL, peaks = FALSE))
  faults <- c("There is no option \"--wieght\"" = "--wieght=w", "There is no option \"-w\"" = "-w",
              "--weight needs a value after it" = "--weight",
              "--peaks takes no value" = "--peaks=yes",
              "--level must be a number, not \"five\"" = "--level=five")
  for (fault in names(faults)) expect_error(read("f", faults[[fault]]), fault, fixed = TRUE)
  expect_error(read("--weight", "--peaks"), "--weight needs a value", fixed = TRUE)
  expect_error(read("--wieght", "w"), "--weight", fixed = TRUE)
})

test_that("a command refuses the options of another", {
  counts <- file_with("Opinion,North,South\nYes,10,20\nNo,30,15\n")
  expect_identical(call_main("recheck", counts)$status, 0L)
  for (option in c("--strength", "--peaks", "--working"))
    expect_match(call_main("recheck", counts, option)$err, "There is no option")
})

test_that("a word too many is named, and what is known of it", {
  file <- demo_file("veyra.csv")
  run <- call_main(c("crosstab", file, "more.csv", "--down", "leave"))
  expect_identical(run$status, 2L)
  expect_match(run$err, "more.csv")
  expect_no_match(run$err, "database")
  run <- call_main(c("crosstab", file, "--database", "sqlite:x.db", "--table", "t", "--down",
                     "leave"))
  expect_match(run$err, "database")
})

test_that("two levels behind --alpha are two options", {
  expect_identical(with_second_level(c("a.csv", "--alpha", "0.05,0.01", "--flip")),
                   c("a.csv", "--alpha", "0.05", "--second-alpha", "0.01", "--flip"))
  for (words in list(c("--alpha", "0.05"), c("x,y", "--alpha", "0.1", "a,b"), "--alpha",
                     character()))
    expect_identical(with_second_level(words), words)
})
