# What clients ask for, each in one command.

veyra <- c(demo_file("veyra.csv"), "--weight", "weight", "--stratum", "island",
           "--cluster", "settlement")

asked_for <- function(..., ending, command = "crosstab", first = veyra) {
  out <- withr::local_tempfile(fileext = ending, .local_envir = parent.frame())
  run <- call_main(command, first, ..., "--out", out)
  expect_identical(run$status, 0L, info = paste(run$err, collapse = "\n"))
  out
}

word_text <- function(path) {
  paste(xml2::xml_text(xml2::xml_find_all(part_of(path, "word/document.xml"), "//t")),
        collapse = " ")
}

csv_rows <- function(path) {
  lines <- sub("^\ufeff", "", readLines(path, encoding = "UTF-8"))
  lapply(lines, function(line) {
    scan(text = line, what = "", sep = ",", quote = "\"", quiet = TRUE)
  })
}

survey <- respondents(suppressMessages(read_records(demo_file("veyra.csv"))),
                      weight = weight, stratum = island, cluster = settlement)

test_that("the total first, no decimals, without the undecided, sorted, with a net, in our template", {
  request <- c("--down", "turbine", "--across", "island",
               "--missing", "turbine=Undecided: Undecided",
               "--net", "turbine=In favour in all: Strongly in favour, In favour",
               "--sort", "In favour in all", "--total", "first", "--decimals", "0")
  template <- withr::local_tempfile(fileext = ".docx")
  publish(crosstab(survey, leave, mode), template, figure = "none")
  out <- asked_for(request, "--template", template, ending = ".docx")
  text <- word_text(out)
  expect_match(text, "In favour in all", fixed = TRUE)
  expect_no_match(text, "Undecided")
  expect_no_match(text, "Has thought of leaving") # the template's own text stays there
  rows <- csv_rows(asked_for(request, ending = ".csv"))
  heads <- Filter(function(row) length(row) > 5 && row[2] == "All", rows)[[1]]
  net <- Filter(function(row) identical(trimws(row[1]), "In favour in all"), rows)[[1]]
  figures <- as.numeric(net[nzchar(heads)][-(1:2)])
  expect_false(is.unsorted(-figures))
  expect_false(any(grepl(".", net[-1], fixed = TRUE)))
  left <- regroup(survey, turbine, missing = c(Undecided = "Undecided"))
  found <- shares(crosstab(net(left, turbine, In_all = c("Strongly in favour", "In favour")),
                           turbine, island))
  expect_equal(as.numeric(net[2]),
               round(100 * sum(found$n * 0 + found$weighted *
                                 (found$down %in% c("Strongly in favour", "In favour"))) /
                       sum(found$weighted)))
})

test_that("the difference from the rest, with its interval", {
  rows <- csv_rows(asked_for("--down", "leave", "--across", "island", "--against", "rest",
                             "--show", "column,difference,difference_interval", "--stack",
                             "beneath", ending = ".csv"))
  found <- differences(crosstab(survey, leave, island), "rest")
  own <- found[found$within == "Yes" & found$first == "Norrey", ]
  line <- Filter(function(row) grepl("difference", row[1]) && length(row) > 3, rows)[[1]]
  expect_equal(as.numeric(line[2]), round(100 * own$difference, 1))
})

test_that("who ticked each of six reasons, in one table, the most frequent first", {
  out <- asked_for("--down", paste0("reason_", c("work", "housing", "school", "health", "ferry",
                                                 "family"), collapse = ","),
                   "--only", "Ticked", "--together", "--sort", "size", ending = ".csv")
  rows <- Filter(function(row) length(row) >= 4, csv_rows(out))
  found <- as.numeric(vapply(rows[-1], `[`, "", 2L))
  expect_length(found, 6L)
  expect_false(is.unsorted(-found))
  alone <- shares(crosstab(survey, reason_work))
  expect_true(any(abs(found - round(100 * alone$share[alone$down == "Ticked"], 1)) < 1e-9))
})

test_that("a trend with its change", {
  folder <- withr::local_tempdir()
  for (file in c("veyra.csv", "veyra.schema.json", "veyra-before.csv", "veyra.plan.yml", "house.yml"))
    file.copy(demo_file(file), folder)
  out <- file.path(folder, "change.html")
  run <- call_main("book", file.path(folder, "veyra.plan.yml"), "--before",
                   file.path(folder, "veyra-before.csv"), "--only", "1", "--out", out)
  expect_identical(run$status, 0L, info = paste(run$err, collapse = "\n"))
  expect_match(paste(readLines(out, warn = FALSE), collapse = "\n"), "[Cc]hange")
})

test_that("one question within another", {
  rows <- csv_rows(asked_for("--subdivide", "household=mode", "--down", "leave", "--across",
                             "household_by_mode", ending = ".csv"))
  heads <- Filter(function(row) length(row) > 6, rows)[[1]]
  expect_true(any(heads == "Lives alone: Web"))
})

test_that("means of a number by another question", {
  rows <- csv_rows(asked_for("--down", "age", "--score", "age", "--across", "work", "--only",
                             "means", ending = ".csv"))
  found <- means(crosstab(score(survey, age), age, work))
  line <- Filter(function(row) identical(row[1], "Mean"), rows)[[1]]
  expect_equal(as.numeric(line[2]), round(found$mean[1], 2))
})

test_that("how many people, in thousands, with an interval", {
  rows <- csv_rows(asked_for("--down", "heating", "--across", "tenure", "--show",
                             "estimated_total,interval", "--unit", "thousands", ending = ".csv"))
  found <- as.data.frame(totals(crosstab(survey, heating, tenure)))
  own <- found[found$down %in% "Oil" & found$across %in% "Mortgage", ]
  oil <- Filter(function(row) identical(row[1], "Oil"), rows)[[1]]
  heads <- Filter(function(row) length(row) > 6, rows)[[1]]
  expect_equal(as.numeric(oil[heads == "Mortgage"]), own$total / 1000, tolerance = 0.05)
  expect_match(oil[heads == "Mortgage interval"], "[0-9]\u2013[0-9]")
})

test_that("a workbook of numbers", {
  skip_if_not_installed("readxl")
  out <- asked_for("--down", "heating", "--across", "island", ending = ".xlsx")
  cells <- suppressMessages(readxl::read_xlsx(out, 1L + ("Contents" %in% readxl::excel_sheets(out)),
                                              col_names = FALSE, col_types = "list"))
  oil <- which(vapply(cells[[1]], identical, NA, "Oil"))
  numbers <- Filter(is.numeric, lapply(cells[-1], function(column) column[[oil]]))
  found <- shares(crosstab(survey, heating, island))
  expect_equal(unlist(numbers, use.names = FALSE)[1] / 100,
               found$share[found$down == "Oil" & found$across == "Norrey"], tolerance = 1e-6)
})

test_that("the table in German", {
  out <- asked_for("--down", "heating", "--across", "island", "--language", "de", ending = ".docx")
  text <- word_text(out)
  expect_match(text, "Spaltenprozente")
  expect_no_match(text, "percentages|respondents|weighted by")
})

test_that("a chart with our title", {
  out <- asked_for("--down", "ferry", "--across", "island", "--figure", "dots", "--title",
                   "How content residents are", ending = ".svg")
  expect_match(paste(readLines(out, warn = FALSE), collapse = ""), "How content residents are")
})
