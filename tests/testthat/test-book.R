# The book of a plan: its contents, its figures, its waves, what it is kept in,
# and what is written of it.

demo_plan <- read_plan(demo_file("veyra.plan.yml"))
demo_book <- book(demo_plan)

test_that("the contents of the demo book are these", {
  found <- as.data.frame(summary(demo_book))
  printed <- c(format(demo_book, width = 80), "",
               sprintf("%d: %s by %s, n = %s, %s; %s", found$table,
                       found$question, found$across, found$n, found$test,
                       found$strongest)[1:8])
  expect_identical(cli::ansi_strip(printed),
                   readLines(test_path("fixtures", "veyra-book.txt"),
                             encoding = "UTF-8"))
  expect_identical(vapply(demo_book$tables, function(one) one$number, 0L), 1:20)
})

test_that("every figure of a book is that of the single table", {
  survey <- demo_survey()
  questions <- setdiff(names(survey$data),
                       c("id", "settlement", "weight", "age", "island",
                         "tenure", "mode", "work"))
  plan <- plan_of(survey, across = c(island, tenure, mode, work),
                  chapters = list(All = questions))
  b <- book(plan)
  tables <- 0L
  for (down in questions) {
    for (across in c("island", "tenure", "mode", "work")) {
      alone <- crosstab(survey, !!down, !!across)
      expect_equal(as.data.frame(b[down, across]), as.data.frame(alone),
                   tolerance = 1e-12, info = paste(down, across))
      expect_equal(as.data.frame(tests(b[down, across])),
                   as.data.frame(tests(alone)), tolerance = 1e-12,
                   info = paste(down, across))
      tables <- tables + 1L
    }
  }
  expect_gte(tables, 60L)
  # and all results of one filtered, prepared table with ticks and each
  filtered <- book(plan_of(among(ticks(survey, reasons = "reason_*"), age < 60),
                           across = island,
                           chapters = list(
                             A = list(list(
                                        questions = "reasons",
                                        among = "mode == 'Web'",
                                        each = "tenure")))))
  alone <- crosstab(among(among(ticks(survey, reasons = "reason_*"), age < 60),
                          mode == "Web"), reasons, island, each = tenure)
  expect_equal(as.data.frame(filtered[[1]]), as.data.frame(alone),
               tolerance = 1e-12)
})

test_that("tallies of many tables are those of each, whatever the threads and the parts", {
  survey <- respondents(messy_records(900), weight = w, stratum = stratum,
                        cluster = cluster)
  survey <- among(survey, each == "one" | down != "a")
  asked <- list(c(down = "down", across = "across"),
                c(down = "across", across = "down", each = "each"),
                c(down = "each", across = "\rall"),
                c(down = "down", across = "each"))
  for (threads in c(1L, 3L)) {
    withr::local_options(fairlattice.threads = threads)
    ready <- fairlattice:::with_ready_tallies(survey, asked)
    for (one in asked) {
      get <- function(survey) {
        if (one[["across"]] == "\rall")
          return(fairlattice:::tally_alone(survey, one[["down"]], NULL))
        fairlattice:::tally_columns(survey, one[["down"]], one[["across"]],
                                    if (length(one) == 3L) one[["each"]], NULL)
      }
      expect_equal(get(ready), get(survey), tolerance = 1e-12,
                   ignore_attr = TRUE)
      expect_identical(get(ready)$cells$n, get(survey)$cells$n)
    }
  }
  # whoever changes the survey loses the sums of what it was
  expect_null(among(ready, down == "a")$ready)
  expect_null(retitle(ready, down, "Other")$ready)
  # parts of the records add up to the whole
  data <- messy_records(900)
  of <- function(rows) {
    part <- respondents(data[rows, ], weight = w, stratum = stratum,
                        cluster = cluster)
    tally_of(fairlattice:::with_ready_tallies(part, asked), down, across)
  }
  whole <- of(1:900)
  parts <- merge(merge(of(1:200), of(201:650)), of(651:900))
  expect_equal(parts$cells, whole$cells, tolerance = 1e-12)
})

test_that("numbers stay when a table is added at the end, and `only` keeps them", {
  numbers <- function(...) {
    b <- book(plan_of(demo_survey(), across = island,
                      chapters = list(A = c("ferry", "heating"),
                                      B = c("leave", ...))))
    vapply(b$tables, function(one) paste(one$number, one$down), "")
  }
  expect_identical(numbers("mode")[1:3], numbers())
  plan <- plan_of(demo_survey(), across = island,
                  chapters = list(A = c("ferry", "heating"),
                                  B = c("leave", "mode")))
  some <- book(plan, only = c("chapter 2", "ferry"))
  expect_identical(vapply(some$tables, function(one) one$number, 0L),
                   c(1L, 3L, 4L))
  expect_identical(vapply(book(plan, only = "b")$tables, function(one) {
    one$number
  }, 0L), 3:4)
  expect_error(book(plan, only = "chapter 7"), class = "fairlattice_error_book")
})

test_that("a table that fails does not stop the book", {
  data <- demo_records()
  data$same <- factor("one")
  data$text <- sprintf("text %d", seq_len(nrow(data)))
  plan <- plan_of(respondents(data, weight = weight), across = island,
                  chapters = list(
                    A = list(list(questions = c("ferry", "text")),
                             list(questions = "leave", among = "age > 200"),
                             "same")))
  b <- book(plan)
  failed <- vapply(b$tables, function(one) !is.null(one$failure), NA)
  expect_identical(failed, c(FALSE, TRUE, TRUE, FALSE))
  expect_match(b$tables[[2]]$failure, "2,412 different answers")
  expect_match(b$tables[[3]]$failure, "no respondents")
  expect_match(paste(format(b), collapse = "\n"),
               "Not made: \"text\" has 2,412")
  expect_error(b["text"], "could not be made", class = "fairlattice_error_book")
  page <- withr::local_tempfile(fileext = ".html")
  publish(b, page, figure = "none")
  expect_match(paste(readLines(page), collapse = ""), "Table 2.*Not made")
})

test_that("a book is indexed and filtered", {
  b <- book(plan_of(demo_survey(), across = c(island, tenure),
                    chapters = list(A = c("heating", "season"))))
  expect_s3_class(b["heating", "island"], "fairlattice_crosstab")
  expect_s3_class(b["heating"], "fairlattice_banner")
  expect_identical(b["heating"], b[[1]])
  expect_error(b["heatin", "island"], "Did you mean \"heating\"")
  expect_error(b["heating", "islan"], "Did you mean \"island\"")
  found <- summary(b)
  expect_equal(found$p_corrected, stats::p.adjust(found$p, "BH"))
  expect_identical(vapply(significant(b)$tables, function(one) one$down, ""),
                   "heating")
  none <- significant(b, 1e-300)
  expect_length(none$tables, 0L)
  expect_match(paste(format(none, width = 300), collapse = " "),
               "4 tests of independence were made in the whole book")
  # what is left of a book is corrected over all tests that were made, those
  # that were left out too
  rest <- function(part) found[found$table %in% part, ]
  for (part in list(significant(b), b[2:1], significant(b[1:2]))) {
    kept <- vapply(part$tables, function(one) one$number, 0L)
    expect_equal(as.data.frame(summary(part)), as.data.frame(rest(kept)),
                 ignore_attr = TRUE)
    expect_identical(attr(summary(part), "tests"), 4L)
  }
})

test_that("what is true of all tables is said at the front, not under each", {
  withr::local_options(fairlattice.threads = 1L)
  b <- book(plan_of(demo_survey(), across = island,
                    chapters = list(A = c("ferry", "heating"))))
  entries <- fairlattice:::as_entries(b, NULL)
  front <- paste(unlist(lapply(entries[2:3], function(entry) {
    lapply(entry$parts, `[`, c("text", "texts"))
  })), collapse = " ")
  expect_match(front, "Kish's effective sample size is 1,218 of 2,405 respondents, clusters not counted")
  expect_match(front, "6 ids occur more than once")
  tables <- fairlattice:::published_tables(entries)
  under <- paste(unlist(lapply(tables, function(x) format(x, width = 200))),
                 collapse = "\n")
  expect_false(grepl("occur more than once|Very unequal weights", under))
  # alone it says so
  expect_match(paste(format(b["ferry", "island"]), collapse = " "),
               "occur more than once")
})

test_that("guarded tables give nothing away: not in the summary, the figures or the data", {
  b <- book(plan_of(demo_survey(), across = tenure, chapters = list(A = list(
    "ferry", list(questions = "heating", withhold_under = 50),
    list(questions = "internet", round_to = 10, round_seed = 412, along = "tests")))))
  found <- summary(b)
  expect_identical(found$question, "ferry")
  rows <- fairlattice:::all_rows(b)
  expect_true(all(is.na(rows$n[rows$question != "ferry"])))
  folder <- withr::local_tempdir()
  expect_message(publish(b, file.path(folder, "b.tidy.csv"), as = "data"),
                 "2, 3 are not listed as data")
  expect_identical(unique(read.csv(file.path(folder, "b.tidy.csv"))$down_question),
                   "ferry")
  publish(b, file.path(folder, "b.txt"))
  text <- paste(readLines(file.path(folder, "b.txt")), collapse = "\n")
  expect_false(grepl("Tests", sub(".*Table 3", "", text)))
  # how it was made and what is printed, but no table and not the seed
  inside <- jsonlite::fromJSON(fairlattice:::data_in_page(
    fairlattice:::html_of(fairlattice:::as_entries(b, NULL), "none", NULL)), simplifyVector = FALSE)
  expect_identical(vapply(inside, `[[`, "", "format"), c("fairlattice-book", "fairlattice-printed"))
  expect_false(grepl("412|round_seed", jsonlite::toJSON(inside)))
  withheld <- inside[[2L]]$sheets[[2L]]$rows[[1L]]$cells
  expect_identical(unlist(withheld), unname(fairlattice:::sheet_text(
    fairlattice:::sheets_of(b[[2L]])[[1L]])[1L, ]))
  file <- file.path(folder, "b.docx")
  publish(b, file, figure = "none")
  expect_identical(verify(file, demo_records())$verdict,
                   c(rep("the same figures from other records", 2L), "not to be made again"))
})

# ---- what is written, kept and said ----

test_that("a book comes back from the cache, and a spoilt one is made anew", {
  folder <- demo_plan_folder()
  path <- file.path(folder, "veyra.plan.yml")
  cache <- file.path(folder, "kept")
  first <- book(path, only = "chapter 1", cache = cache)
  expect_length(list.files(cache), 1L)
  again <- book(path, only = "chapter 1", cache = cache)
  expect_equal(as.data.frame(again["ferry", "island"]),
               as.data.frame(first["ferry", "island"]))
  expect_length(list.files(cache), 1L)
  # the same plan elsewhere writes its outputs there
  elsewhere <- demo_plan_folder()
  moved <- book(file.path(elsewhere, "veyra.plan.yml"), only = "chapter 1",
                cache = cache)
  expect_length(list.files(cache), 1L)
  expect_identical(unique(dirname(vapply(moved$outputs, `[[`, "", "file"))),
                   elsewhere)
  # other records, another part or another option is another book
  cat("V9999999,1,N01,1,40,1,1,1,1,1,1,1,1,1,1,1,1,,,,,,,1,1,1,1\n",
      file = file.path(folder, "veyra.csv"), append = TRUE)
  expect_identical(book(path, only = "chapter 1", cache = cache)["ferry", "mode"]$tally$records,
                   first["ferry", "mode"]$tally$records + 1)
  expect_length(list.files(cache), 2L)
  for (file in list.files(cache, full.names = TRUE)) writeLines("no book", file)
  expect_message(spoilt <- book(path, only = "chapter 1", cache = cache),
                 "cannot be read and is made anew")
  expect_s3_class(spoilt, "fairlattice_book")
  expect_silent(book(path, only = "chapter 1", cache = cache))
})

test_that("the command makes what the plan says, and its status says what failed", {
  folder <- demo_plan_folder()
  plan <- file.path(folder, "veyra.plan.yml")
  check <- call_main("plan", plan, "--check")
  expect_identical(check$status, 0L)
  expect_match(check$out,
               "20 tables in 4 chapters.*veyra-tables.xlsx \\(tables\\)")
  out <- file.path(folder, c("b.md", "b.json", "site/"))
  run <- call_main("book", plan, "--only", "chapter 4", "--fresh", "--out",
                   out[1], "--out", out[2], "--out", out[3])
  expect_identical(run$status, 0L)
  expect_match(run$out, "19 +Years lived on the isles")
  expect_setequal(list.files(out[3]), c("index.html", "chapter-1.html"))
  index <- paste(readLines(file.path(out[3], "index.html")), collapse = "")
  links <-
    regmatches(index, gregexpr("chapter-1.html#[a-z]+-[0-9]+", index))[[1L]]
  page <- paste(readLines(file.path(out[3], "chapter-1.html")), collapse = "")
  for (link in sub(".*#", "", links)) expect_match(
    page, sprintf("id=\"%s\"", link), fixed = TRUE)
  expect_true(length(read_tables(out[2])) >= 6L)
  writeLines(c("records: veyra.csv",
               "chapters: [{title: A, tables: [ferry, {questions: leave, among: age > 200}]}]"),
             file.path(folder, "part.yml"))
  part <- call_main("book", file.path(folder, "part.yml"), "--fresh")
  expect_identical(part$status, 3L)
  expect_match(part$out,
               "of which 1 could not be made.*Not made: There are no respondents")
  bad <- call_main("book", file.path(folder, "part.yml"), "--out",
                   file.path(folder, "x.png"))
  expect_identical(bad$status, 1L)
  expect_match(bad$err, "holds one figure")
  # records without a codebook have that of the plan's own, also those of the
  # wave before
  small <- file.path(folder, "small.yml")
  writeLines(c("records: veyra.csv", "across: island",
               "chapters: [{title: A, tables: [heating]}]"), small)
  b <- book(small, before = file.path(folder, "veyra-before.csv"))
  expect_s3_class(b$tables[[1]]$change, "fairlattice_banner")
  other <- call_main("book", small, "--records",
                     file.path(folder, "veyra-before.csv"), "--fresh")
  expect_identical(other$status, 0L)
  expect_match(other$err, "turbine +question gone")
  wave <- call_main("book", plan, "--records",
                    file.path(folder, "veyra-before.csv"), "--only", "19",
                    "--fresh")
  expect_identical(wave$status, 1L)
  expect_match(wave$err, "line [0-9]+, column [0-9]+: .*turbine")
})

test_that("every form of a book holds its chapters, findings and tables", {
  folder <- withr::local_tempdir()
  b <- book(plan_of(demo_survey(), across = c(island, tenure),
                    title = "Trial book",
                    chapters = list(
                      "Getting about" = c("ferry", "way_off"),
                      "At home" = list(list(
                        questions = "heating",
                        along = "tests")))))
  for (ending in c("html", "docx", "xlsx", "md", "txt", "csv", "tex",
                   "mail.html")) {
    path <- file.path(folder, paste0("b.", ending))
    publish(b, path, figure = "none")
    text <- if (ending == "docx")
      paste(xml2::xml_text(xml2::xml_find_all(
                             part_of(path, "word/document.xml"), "//t")),
            collapse = " ") else if (ending == "xlsx")
      paste(unlist(lapply(openxlsx::getSheetNames(path), function(sheet) {
        unlist(openxlsx::read.xlsx(path, sheet, colNames = FALSE))
      })), collapse = " ") else paste(readLines(path), collapse = " ")
    for (what in c("Getting about", "At home", "Main heating",
                   "Satisfaction with the ferry",
                   "Which questions are related")) expect_match(
      text, what, fixed = TRUE, info = paste(ending, what))
    if (ending != "xlsx") expect_match(text, "Trial book", info = ending)
  }
  names <- openxlsx::getSheetNames(file.path(folder, "b.xlsx"))
  expect_true(all(c("Contents", "About these tables",
                    "1 Satisfaction with the ferry b") %in% names))
})

test_that("a pair that stands in two tables, or turned round, is one test", {
  survey <- respondents(demo_records(400), weight = weight, cluster = settlement)
  b <- book(plan_of(survey, across = "island",
                    chapters = list(One = c("heating", "season"),
                                    Two = "heating")))
  found <- summary(b)
  expect_identical(attr(found, "tests"), 2L)
  expect_identical(nrow(found), 3L)
  own <- found[found$question == "heating", ]
  expect_equal(own$p_corrected[1], own$p_corrected[2])
  expect_equal(sort(unique(found$p_corrected)),
               sort(unique(correct(unique(found$p), "benjamini_hochberg"))))
})

test_that("clusters whose codes repeat across strata are named once, at the front", {
  data <- demo_records(400)
  data$place <- rep_len(1:6, 400) # the same codes in every island
  plan <- plan_of(respondents(data, weight = weight, stratum = island, cluster = place),
                  across = mode)
  b <- book(plan, cache = FALSE)
  out <- withr::local_tempfile(fileext = ".md")
  publish(b, out)
  text <- readLines(out)
  expect_identical(sum(grepl("treated as nested", text)), 1L)
})

test_that("the base of a part of the sample is that of its people", {
  survey <- respondents(demo_records(400), weight = weight)
  part <- among(survey, age >= 50)
  inside <- part$aside == 0L
  found <- base_of_survey(part)
  expect_equal(found$n, sum(inside))
  expect_equal(found$weighted, sum(part$weight[inside]))
})

test_that("what goes along with the tables of a banner is that of each of them", {
  survey <- demo_survey()
  x <- crosstab(survey, heating, c("island", "tenure"))
  item <- list(settings = list(along = "tests"), pooled = FALSE)
  found <- results_along(x, item, survey)
  expect_identical(lapply(found, as.data.frame),
                   lapply(unname(single_tables(x)), function(one) as.data.frame(tests(one))))
})

test_that("whom the survey left out beforehand is told at the front, one person, too", {
  survey <- demo_survey()
  survey$before <- data.frame(code = "condition", detail = c("a", "b"), question = "",
                              records = 1:0)
  expect_identical(front_of(survey, "island")$left_out$detail[1], "a")
  expect_false("b" %in% front_of(survey, "island")$left_out$detail)
})

test_that("the list of keys says once that a table takes any setting", {
  listed <- keys_listed(plan_keys())
  at <- grep("any setting, see below", listed)
  expect_length(at, 1L)
  expect_match(tail(grep("^  \\* `", listed[seq_len(at)], value = TRUE), 1), "`tables`")
})

test_that("a question without pairs keeps what its own tables found", {
  rows <- data.frame(finding = c("first", "second"))
  expect_identical(finding_of(data.frame(apart = character()), rows), "first")
})

test_that("what to look at before a book is handed on is said once, whatever it is written to", {
  folder <- withr::local_tempdir()
  file.copy(list.files(dirname(demo_file("veyra.csv")), full.names = TRUE), folder)
  plan <- file.path(folder, "p.yml")
  writeLines(c("records: {file: veyra.csv}", "chapters:", "  - title: A",
               "    tables: [{questions: [ferry, leave], across: tenure}]"), plan)
  out <- file.path(folder, c("a.md", "b.csv", "c.json"))
  run <- call_main(c("book", plan, rbind("--out", out)))
  expect_true(all(file.exists(out)))
  expect_length(gregexpr("Before you hand", run$err, fixed = TRUE)[[1]], 1L)
  expect_match(run$err, "Before you hand a.md on")
})

test_that("a book without outputs shows its 25 strongest pairs and counts the others", {
  folder <- withr::local_tempdir()
  file.copy(list.files(dirname(demo_file("veyra.csv")), full.names = TRUE), folder)
  plan <- file.path(folder, "p.yml")
  writeLines(c("records: {file: veyra.csv}", "chapters:", "  - title: A",
               "    tables: [{questions: [ferry, leave, internet, heating, season, work],",
               "              across: [tenure, island, mode, household, way_off]}]"), plan)
  run <- call_main(c("book", plan))
  expect_match(run$out, "... and 5 more.", fixed = TRUE)
})
