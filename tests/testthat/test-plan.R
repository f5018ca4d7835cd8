# Tab plans: what they may say, what is wrong with them, and where.

good <- c("records: veyra.csv",
          "asked: {weight: weight, stratum: island, cluster: settlement}",
          "across: [island, tenure]", "chapters:", "  - title: One",
          "    tables: [ferry, heating]")

test_that("the schema that is shipped, the reader and the help page know the same keys", {
  schema <-
    jsonlite::fromJSON(demo_file("plan.schema.json"), simplifyVector = FALSE)
  expect_identical(schema,
                   jsonlite::fromJSON(fairlattice:::plan_schema(),
                                      simplifyVector = FALSE))
  # all paths of keys in the schema, and all in the reader
  in_schema <- function(node, path = character()) {
    if (!is.list(node)) return(NULL)
    unlist(c(lapply(names(node$properties), function(name) {
      c(paste(c(path, name), collapse = "."),
        in_schema(node$properties[[name]], c(path, name)))
    }), lapply(c(node$anyOf, list(node$items)), in_schema, path = path)))
  }
  in_reader <- function(keys, path = character()) {
    unlist(lapply(names(keys), function(name) {
      c(paste(c(path, name), collapse = "."),
        in_reader(keys[[name]]$keys, c(path, name)))
    }))
  }
  expect_setequal(in_schema(schema), in_reader(fairlattice:::plan_keys()))
  expect_gt(length(in_schema(schema)), 200L)
})

test_that(paste("the demo plan uses every key that can stand beside the",
                "others, and the rest is read too"), {
                  used <- function(value) {
                    if (!is.list(value)) return(NULL)
                    c(names(value), unlist(lapply(value, used)))
                  }
                  keys <- yaml::yaml.load_file(
                    demo_file("veyra.plan.yml"),
                    handlers = c(fairlattice:::words_of_yaml, fairlattice:::plain_yaml))
                  all_keys <- function(keys) {
                    unlist(c(names(keys),
                             lapply(keys, function(key) all_keys(key$keys))))
                  }
                  elsewhere <- c("sheet", "range", "count", "population",
                                 "calibrated_to", "adjust_nonresponse", "responded",
                                 "within", "weigh_to", "targets", "method", "limits", "trim",
                                 "unequal", "imputation",
                                 "standardise", "standard", "quantiles", "class_width",
                                 "replicates", "replicate_kind", "fay",
                                 "make_replicates", "p", "width", "split",
                                 "none", "other", "paired", "question", "now",
                                 "then", "template", "flag_width",
                                 "flag_clusters", "dress", "total", "only", "answered", "outside", "label_answers",
                                 "second_alpha", "round", "database", "table",
                                 "query", "in_chunks") # the last four in test-source-*.R
                  expect_setequal(setdiff(
                                    all_keys(fairlattice:::plan_keys()),
                                    used(keys)), setdiff(elsewhere, "question"))
                  # those that exclude each other, in plans of their own
                  faults <- faults_of("records: {file: veyra.csv}",
                                      paste("asked: {weight: weight,",
                                            "make_replicates: jackknife,",
                                            "stratum: island, cluster:",
                                            "settlement}"), "prepare:",
                                      "  - band: {question: age, width: 20}",
                                      paste("  - regroup: {question: ferry,",
                                            "answers: {Good: [Satisfied, Very",
                                            "satisfied]}, other: Rest}"),
                                      paste("chapters: [{title: A, tables:",
                                            "[{questions: ferry, across:",
                                            "age}]}]"))
                  expect_null(faults)
                  data <- data.frame(w1 = 1, w2 = 2, a = c("x", "y", "x", "y"),
                                     b = c("p", "p", "q", "q"), k = 1:4,
                                     pop = 50, s = "h", c = 1:4,
                                     all = c("m;n", "m", "-", "n"))
                  path <- file_with(paste(
                                      c(paste(names(data), collapse = ","),
                                        do.call(paste, c(data, sep = ","))),
                                      collapse = "\n"), ".csv")
                  plan <- plan_file(sprintf("records: %s", path),
                                    paste("asked: {count: k, stratum: s,",
                                          "cluster: c, population: pop}"),
                                    paste("prepare: [{ticks: {question: all,",
                                          "name: every, split: ';', none:",
                                          "'-'}}]"),
                                    paste("chapters: [{title: A, tables:",
                                          "[{questions: a, across: a_2, p:",
                                          "exact, paired: true}]}]"))
                  expect_match(tryCatch(read_plan(plan),
                                        error = conditionMessage),
                               "There is no question \"a_2\"")
                  plan <- plan_file(sprintf("records: %s", path),
                                    "asked: {replicates: 'w*', replicate_kind: fay, fay: 0.5}",
                                    paste("chapters: [{title: A, tables:",
                                          "[{questions: a, across: b}]}]"))
                  expect_length(read_plan(plan)$survey$replicates, 2L)
                })

test_that("all faults are told at once, each at its place and with the nearest known one", {
  faults <- faults_of(
    "titel: x", # 1
    "records: {file: veyra.csv, unknwon: missing}", # 2
    "asked: {weight: wieght, stratum: island}", # 3
    "prepare:", # 4
    "  - band: {question: age, breaks: [18, x]}", # 5
    "  - jion: {question: ferry}", # 6
    "  - net: {question: ferry, nets: {Good: [Satisfied, Very satisfid]}}", # 7
    "  - combine: {name: home, questions: [heating, moode]}", # 8
    "across: [islnd, tenure]", # 9
    "defaults: {percent: col, alpha: 2, shwo: n}", # 10
    "chapters:", # 11
    "  - title: A", # 12
    "    tables:", # 13
    "      - [ferry, feryy]", # 14
    "      - {questions: q12_*}", # 15
    "      - questions: leave", # 16
    "        among: island == \"Nory\"", # 17
    "      - {questions: leave, shares: {Yes: 40, Nope: 60}, across: none}", # 18
    "      - home", # 19
    "  - tables: []", # 20
    "outputs: [x.svg]") # 21
  expect_identical(faults$line,
                   as.integer(c(1, 2, 3, 5, 6, 7, 8, 9, 10, 10, 10, 14, 15, 17,
                                18, 20, 20, 21)))
  at <- function(line) faults[faults$line == line, ]
  expect_identical(at(2)$column, 28L)
  expect_match(at(1)$message, "no key \"titel\".*Did you mean \"title\"")
  expect_match(at(3)$message, "wieght.*Did you mean \"weight\"")
  expect_identical(at(7)$column, 53L)
  expect_match(at(7)$message, "Very satisfid.*Did you mean \"Very satisfied\"")
  expect_match(at(9)$message, "islnd.*Did you mean \"island\"")
  expect_match(paste(at(10)$message, collapse = " "),
               "Did you mean \"column\".*between 0 and 1.*Did you mean \"show\"")
  expect_identical(at(14)$column, 17L)
  expect_match(at(17)$message, "island.*Nory.*Norrey")
  expect_match(at(18)$message, "\"leave\" has no answer \"Nope\"")
  # what a step at fault would have made is no fault where it is used
  expect_false(any(grepl("home", faults$message[faults$line == 19L])))
})

test_that("what is wrong with the weights asked for is told at its line", {
  faults <- faults_of("records: veyra.csv", "asked:", # 2
                      "  weight: weight", # 3
                      "  adjust_nonresponse: {responded: '!is.na(fery)'}", # 4
                      "  weigh_to: {targets: {island: {Nowhere: 100}}}", # 5
                      "  make_replicates: brr", # 6
                      good[3:6])
  expect_identical(faults$line, 4:6)
  expect_match(faults$message[1], "fery.*Did you mean \"ferry\"")
  expect_match(faults$message[2], "no share in the target")
  expect_match(faults$message[3], "two clusters in every stratum")
})

test_that("nothing of a plan is run, and words stay what they are", {
  for (bad in c("title: !!r-expr 1+1", "title: !expr cat(1)",
                "title: &a x\nbase: *a")) {
    path <- plan_file(bad, good)
    expect_error(read_plan(path), class = "fairlattice_error_plan")
  }
  ran <- tempfile()
  faults <- faults_of(good, sprintf("among: file.create(\"%s\") == TRUE", ran))
  expect_match(faults$message, "cannot hold `file.create")
  expect_false(file.exists(ran))
  plan <- read_plan(plan_file(good, "defaults: {labels: {Yes: No, n: y}}",
                              "title: 010"))
  expect_identical(plan$asked$defaults$labels, c(Yes = "No", n = "y"))
  expect_identical(plan$asked$title, "010")
})

test_that("questions are named one by one, by pattern, and all but some", {
  downs <- function(...) {
    path <- plan_file(good[1:2],
                      "prepare: [{ticks: {name: reasons, columns: reason_*}}]",
                      "across: [island]", "chapters:", "  - title: A",
                      "    tables:", ...)
    vapply(read_plan(path)$tables, `[[`, "", "down")
  }
  expect_identical(downs("      - [heating, ferry]"), c("heating", "ferry"))
  expect_identical(downs("      - {questions: reason_*, but: [reason_work, reason_ferry]}"),
                   c("reason_housing", "reason_school", "reason_health",
                     "reason_family"))
  all <- downs("      - every question")
  expect_false(any(c("weight", "settlement", "reason_work", "island") %in% all))
  expect_true(all(c("reasons", "ferry", "leave") %in% all))
})

test_that("a plan is made of R objects and prints what it would make", {
  plan <- plan_of(demo_survey(), across = c(island, tenure),
                  chapters = list(Home = c("heating", "internet"), All = list(
    list(questions = "ferry", decimals = list(percent = 0)))), title = "Trial")
  expect_identical(vapply(plan$tables, `[[`, "", "down"),
                   c("heating", "internet", "ferry"))
  expect_identical(plan$tables[[3]]$settings$decimals, c(percent = 0))
  printed <- paste(format(plan), collapse = "\n")
  expect_match(printed,
               paste("Trial.*3 tables in 2 chapters.*1. Home.*1  Main heating",
                     "by Island, Tenure.*2. All"))
  expect_error(plan_of(demo_survey(), chapters = list(Home = "hetaing")),
               "Did you mean \"heating\"", class = "fairlattice_error_plan")
})

test_that("a starter plan reads back as it is, whatever the columns are called", {
  folder <- withr::local_tempdir()
  path <- file.path(folder, "odd.csv")
  data <- data.frame(check.names = FALSE, "yes" = c("a", "b", "a"),
                     "a: b" = 1:3, "it's #1" = c("x", "y", "y"),
                     "null" = c("p", "q", "q"), id = 1:3, weight = c(1, 1.5, 2),
                     "*x" = c("u", "v", "v"))
  data.table::fwrite(data[rep(1:3, 30), ], path)
  out <- file.path(folder, "odd.plan.yml")
  expect_identical(call_main("plan", path, "--out", out)$status, 0L)
  plan <- read_plan(out)
  expect_setequal(vapply(plan$tables, `[[`, "", "down"),
                  c("yes", "a: b", "it's #1", "null", "id", "*x"))
  expect_identical(call_main("plan", path, "--out", out)$status, 2L) # not overwritten
  demo <- file.path(folder, "veyra.plan.yml")
  call_main("plan", demo_file("veyra.csv"), "--out", demo)
  text <- readLines(demo)
  # its guesses hold once they are taken at their word
  expect_length(read_plan(file_with(paste(
    sub(
      "^# (?=(asked|prepare|across|among):|  )",
      "",
      sub("(#)  ( -|[a-z]+:)", "\\1   \\2", text), perl = TRUE),
    collapse = "\n"), ".yml"))$asked$prepare, 3L)
})

test_that("the place of every key and value is found, however a plan is written", {
  lines <- c("a: 1", "'b c':", "  - x", "  -   y: 2",
             "      z: [1, \"q, r\", {k: v}] # c", "  - - deep",
             "d: {e: 'it''s', f: [", "  one, two]}", "g: |", "  text: no key",
             "h: \"two", "  lines\"", "i: # nothing", "  j: k")
  at <- function(...) {
    fairlattice:::yaml_places(paste(lines, collapse = "\n"))[[paste(c(...), collapse = "\r")]]
  }
  expect_identical(at("a"), c(1L, 1L, 1L, 4L))
  expect_identical(at("b c", 2, "z", 2)[3:4], c(5L, 14L))
  expect_identical(at("b c", 2, "z", 3, "k"), c(5L, 23L, 5L, 26L))
  expect_identical(at("b c", 3, 1)[1:2], c(6L, 5L))
  expect_identical(at("d", "f", 2)[1:2], c(8L, 8L))
  expect_null(at("g", "text"))
  expect_identical(at("i", "j"), c(14L, 3L, 14L, 6L))
  # of the demo plan all that the YAML library finds
  text <- paste(readLines(demo_file("veyra.plan.yml")), collapse = "\n")
  places <- fairlattice:::yaml_places(text)
  paths <- function(value, path = character()) {
    if (!is.list(value)) return(NULL)
    steps <- if (is.null(names(value))) as.character(seq_along(value)) else
      names(value)
    unlist(lapply(seq_along(value), function(k) {
      c(paste(c(path, steps[k]), collapse = "\r"),
        paths(value[[k]], c(path, steps[k])))
    }))
  }
  whole <- yaml::yaml.load(text, handlers = c(fairlattice:::words_of_yaml, fairlattice:::plain_yaml))
  expect_setequal(names(places), paths(whole))
})

test_that("of many faults the first are told and the others counted; all of them are kept", {
  file <- withr::local_tempfile(fileext = ".yml")
  writeLines(c("chapters:", "  - title: A", "    tables:",
               sprintf("      - {questions: ferry, alhpa: 0.%02d}", 1:70)), file)
  found <- expect_error(read_plan(file, records = demo_records(20)),
                        class = "fairlattice_error_plan")
  expect_identical(nrow(found$faults), 70L)
  expect_identical(found$faults$line, 4:73)
  told <- cli::ansi_strip(conditionMessage(found))
  expect_match(told, "has 70 faults")
  expect_match(told, "line 53, column 28: There is no key \"alhpa\".*\n.*And 20 faults further on.")
  expect_no_match(told, "line 54")
})

test_that("a starter plan's example condition is of its first question across", {
  data <- demo_records(100)
  lines <- starter_across(data, c("ferry", "tenure", "island"), rep("answers", 3))
  first <- sub(".*across: \\[([a-z]+).*", "\\1", lines[2])
  expect_match(lines[3], paste0("# among: .*", first, " == "))
})

test_that("columns are proposed as one tick-all question where each of them has two answers", {
  data <- demo_records(60)
  data$why_a <- data$why_b <- data$why_c <- factor(rep(c("Yes", "No"), 30))
  data$how_a <- data$how_b <- data$why_a
  data$how_c <- factor(rep(c("Well", "Fair", "Badly"), 20))
  expect_named(likely_ticks(data, grep("^(why|how)_", names(data), value = TRUE)), "why")
})
