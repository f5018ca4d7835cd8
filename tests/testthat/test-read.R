schema <- '{"fields": [{"name": "q", "title": "Question", "type": "integer",
  "categories": [{"value": 1, "label": "Yes"}, {"value": 2, "label": "No"}],
  "missingValues": [{"value": "", "label": "No answer"}, {"value": "-9", "label": "Refused"}]},
  {"name": "n", "type": "integer"}]}'

# A data file with its codebook beside it.
with_codebook <- function(text, book = schema, env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  writeLines(text, file.path(folder, "d.csv"))
  writeLines(book, file.path(folder, "d.schema.json"))
  file.path(folder, "d.csv")
}

test_that("codes become labelled answers, and missing codes keep their reason", {
  data <- read_records(with_codebook("q,n,free\n1,5,x\n2,,\n-9,7,y\n,8,z"))
  expect_identical(as.character(data$q), c("Yes", "No", "Refused", "No answer"))
  expect_identical(is.na(data$q), c(FALSE, FALSE, TRUE, TRUE))
  expect_identical(attr(data$q, "label"), "Question")
  expect_identical(as.vector(unclass(data$n)), c(5, NA, 7, 8))
})

test_that("the same codebook in YAML reads the same", {
  path <- with_codebook("q,n\n1,5\n-9,6")
  yaml::write_yaml(jsonlite::fromJSON(schema, simplifyVector = FALSE), sub("csv$", "schema.yaml", path))
  expect_equal(read_records(path, sub("csv$", "schema.yaml", path)), read_records(path))
})

test_that("values that the codebook does not know are named with their lines, or left out when asked", {
  path <- with_codebook("q,n,t\n1,5,\"two\nlines\"\n3,6,x\n2,7,y\n3,8,z\n4,9,z")
  error <- expect_error(read_records(path), class = "fairlattice_error_unknown_value")
  expect_match(conditionMessage(error), "Column \"q\": .* value \"3\" \\(2 records: lines 4, 6\\)")
  expect_match(conditionMessage(error), "1 other value of this column is not known either")
  data <- read_records(path, unknown = "missing")
  expect_identical(is.na(data$q), c(FALSE, TRUE, FALSE, TRUE, TRUE))
  expect_identical(as.character(data$q)[2], "value not in the codebook")
  expect_error(read_records(with_codebook("q,n\n1,five")), "value \"five\" \\(1 record: lines 2\\)",
               class = "fairlattice_error_unknown_value")
})

test_that("a codebook that contradicts itself is refused", {
  broken <- list("{" = "not JSON", "{}" = "no fields", '{"fields": [{"title": "x"}]}' = "no name",
                 '{"fields": [{"name": "q"}, {"name": "q"}]}' = "field \"q\" twice",
                 '{"fields": [{"name": "q", "categories": [{"value": 1, "label": "A"}, {"value": 1}]}]}' =
                   "\"1\" twice",
                 '{"fields": [{"name": "q", "categories": [1, 2],
                   "missingValues": ["2"]}]}' = "an answer and missing at once")
  for (book in names(broken))
    expect_error(read_records(with_codebook("q\n1", book)), broken[[book]], class = "fairlattice_error_codebook")
})

test_that("a file that cannot be read whole is refused with its line", {
  refused <- function(text, pattern, class = "fairlattice_error_file") {
    expect_error(read_records(file_with(text)), pattern, class = class)
  }
  refused("", "is empty")
  refused("a,b\n", "header and no records")
  refused("a,b\n1,2\n1,2,3\n4,5\n", "Line 3 .* has 3 cells, but the first line has 2")
  refused("a,b\n1,2\n3\n4,5\n", "Line 3 .* has 1 cell,")
  refused("a,b\n1,2\n3,4\n5\n", "Line 4 .* has 1 cell,")
  refused("a,b\n1,2,3\n4,5,6\n", "first line .* has 2 cells, but line 2 has 3")
  refused("\n1,2\n3,4\n", "first line .* is blank")
  # numbers are no names, and a header is not guessed where it may be damaged
  refused("A survey\n1,2\n3,4\n5,6\n", "first line .* has 1 cell, but line 2 has 2")
  refused("id,age,home\n1,34,a,x\n2,35,b,y\n", "first line .* has 3 cells, but line 2 has 4")
  refused("a,a\n1,2\n", "two columns named \"a\"")
  refused("a,\n1,2\n", "Column 2 .* has no name")
  refused("name,b\ncaf\xe9,2\nx,3\n", "Line 2 .* not UTF-8 .*column \"name\"")
  refused("caf\xe9,b\n1,2\n", "Line 1 .* not UTF-8 .*the header")
  expect_error(read_records("no-such-file.csv"), class = "fairlattice_error_no_file")
  expect_error(read_records(tempdir()), "is a folder", class = "fairlattice_error_no_file")
  expect_error(read_records(sub("veyra", "veyrra", demo_file())), "Did you mean", class = "fairlattice_error_no_file")
})

test_that("what a file may well have is read as it is meant", {
  expect_identical(names(read_records(file_with("\xef\xbb\xbfa,b\n1,2\n"))), c("a", "b"))
  quoted <- read_records(file_with("a,b\n\"x, \"\"y\"\"\nz\",2\n007,3\n"))
  expect_identical(quoted$a, c("x, \"y\"\nz", "007"))
  expect_identical(read_records(file_with("a\tb\n1\tx,y\n", ".tsv"))$b, "x,y")
  expect_identical(read_records(file_with("caf\xe9,b\n\xe9t\xe9,2\n"), encoding = "latin1")[["caf\u00e9"]],
                   "\u00e9t\u00e9")
  expect_identical(read_records(file_with("a\r\nNA\r\nx\r\n"))$a, c("NA", "x"))
})

test_that("the shipped survey is the generator's, and has in it what it promises", {
  shipped <- read_records(demo_file("veyra.csv"))
  expect_equal(shipped, demo_records(), ignore_attr = TRUE)
  expect_equal(dim(shipped)[1], 2412)
  figures <- function(down, across) {
    tests <- tests(crosstab(demo_survey(), !!down, !!across))
    c(design = tests$p[tests$headline], plain = tests$p[tests$test == "pearson"])
  }
  expect_lt(figures("heating", "island")["design"], 1e-10)
  alike <- figures("internet", "tenure")
  expect_true(alike["plain"] < 0.05 && alike["design"] > 0.2)
  expect_gt(figures("season", "tenure")["design"], 0.05)
  expect_lt(figures("leave", "mode")["design"], 0.05)
  expect_true("tiny_effect" %in% cautions(crosstab(demo_survey(), leave, mode))$code)
  before <- withr::with_seed(9, runif(1))
  after <- withr::with_seed(9, {
    demo_records(50)
    runif(1)
  })
  expect_identical(after, before)
})

test_that("look() lists answers, reasons and numbers, and adds up", {
  seen <- look(demo_records())
  expect_true(all(tapply(seen$n, seen$question, sum) == 2412))
  ferry <- look(demo_records(), "ferry")
  expect_equal(sum(ferry$share, na.rm = TRUE), 1)
  expect_identical(ferry$answer[ferry$missing], c("Don't know", "Prefer not to say", "Never uses it"))
  expect_error(look(demo_records(), "fery"), "Did you mean", class = "fairlattice_error_no_column")
  expect_match(paste(format(look(demo_records(), "age")), collapse = "\n"),
               "smallest 18; quartiles 39, 54, 69;\\s+largest 95; 78 different")
  survey <- demo_survey()
  weighted <- look(survey)
  expect_true(all(tapply(weighted$n, weighted$question, sum) == 2412))
  shares <- shares(crosstab(survey, ferry, island), "total")
  everybody <- weighted[weighted$question == "ferry" & !weighted$missing, ]
  expect_equal(everybody$share,
               as.vector(tapply(shares$weighted, factor(shares$down, unique(shares$down)), sum) / sum(shares$weighted)))
  expect_true(all(everybody$low < everybody$share & everybody$share < everybody$high))
  expect_equal(everybody$cumulative, cumsum(everybody$share))
  expect_setequal(look(demo_records(), find = "LEAVE")$question,
                  c("leave", grep("reason", names(demo_records()), value = TRUE)))
  expect_error(look(demo_records(), find = "teleport"), class = "fairlattice_error_not_found")
  wide <- data.frame(matrix(1:2, 2, 60))
  expect_length(format(look(wide)), 2 + 60 + 2)
  # a weight of 3 is three of the value
  expect_equal(weighted_quantiles(c(5, 1, 9), c(1, 3, 2), c(0, 0.25, 0.5, 1)),
               stats::quantile(c(1, 1, 1, 5, 9, 9), c(0, 0.25, 0.5, 1), type = 2, names = FALSE))
})

test_that("ids, weights and counts are told as what they are, however few values they have", {
  data <- data.frame(who = letters[1:7], weight = c(1, 2, 1, 1, 2, 1, 1),
                     people = c(3, 3, 2, 2, 2, 3, 3),
                     ferry = c("Daily", "Never", NA, "Daily", "Daily", "Never", "Daily"))
  seen <- look(respondents(data, id = who, weight = weight))
  expect_identical(seen$answer[seen$question == "who"], "7 different values")
  expect_identical(seen$type, rep(c("text", "number", "number", "answers"), c(1, 1, 1, 3)))
  seen <- look(respondents(data, count = people))
  expect_identical(unique(seen$type[seen$question == "people"]), "number")
  expect_equal(seen$n[seen$question == "ferry"], c(10, 6, 2))
})

test_that("a number is looked at by its smallest, its quartiles and its largest", {
  data <- data.frame(age = structure(c(3, 7, 12, 15, 40), label = "Age in years"))
  expect_identical(five_numbers(list(value = data$age, weight = rep(1, 5))),
                   c(3, 7, 12, 15, 40))
  text <- paste(format(look(data)), collapse = "\n")
  expect_match(text, "age: Age in years (", fixed = TRUE)
})

test_that("lines above the header are left aside, said, and counted in the lines of errors", {
  text <- "A survey, of residents\n\nid,age,home,work\n1,34,a,\"x, y\"\n2,35,b,z\n3,36,c,z\n"
  path <- file_with(text)
  expect_message(records <- read_records(path), "2 lines above the header left aside")
  expect_identical(dim(records), c(3L, 4L))
  expect_identical(names(records), c("id", "age", "home", "work"))
  expect_identical(records$work, c("x, y", "z", "z"))
  expect_error(suppressMessages(read_records(file_with(paste0(text, "4,37,d\n")))),
               "Line 7 .* has 3 cells", class = "fairlattice_error_file")
})

test_that("only the mark of UTF-8 is taken off the beginning of a text", {
  marked <- as.raw(c(0xef, 0xbb, 0xbf, 0x61))
  expect_identical(fairlattice:::without_mark(marked), as.raw(0x61))
  other <- as.raw(c(0xce, 0xbb, 0xbf, 0x61))
  expect_identical(fairlattice:::without_mark(other), other)
  expect_identical(fairlattice:::without_mark(marked[1:2]), marked[1:2])
  expect_identical(fairlattice:::without_mark(marked[1:3]), raw())
})

test_that("ranges of cells count columns beyond Z, and go from the upper left to the lower right", {
  expect_equal(cell_range("B2:AA40", NULL), c(2, 2, 40, 27))
  expect_equal(cell_range("AZ1:BC2", NULL), c(1, 52, 2, 55))
  for (wrong in c("B2:A9", "B9:C2", "B0:C2"))
    expect_error(cell_range(wrong, NULL), class = "fairlattice_error_range")
  # a row further down than the column is far to the right is no fault
  expect_equal(cell_range("C9:D9", NULL), c(9, 3, 9, 4))
  expect_identical(likely_missing(c(1, 2, 3, 9), c("1", "2", "3", "9")), "9")
  expect_identical(likely_missing(c(7, 8, 9, 10), c("7", "8", "9", "10")), character())
  expect_identical(likely_missing(c(1, 2, 5, 8), c("1", "2", "5", "8")), "8")
})

test_that("lines above a header are told from it whatever separates the cells", {
  for (sep in c("|", ";", "\t")) {
    text <- gsub(",", sep, "A survey\n\nid,age,home\n1,34,a\n2,35,b\n3,36,c\n", fixed = TRUE)
    records <- suppressMessages(read_records(file_with(text)))
    expect_identical(names(records), c("id", "age", "home"))
  }
  expect_true(all_are_names("id|age|home", "|"))
  expect_false(all_are_names("id|34|home", "|"))
})

test_that("a delimiter is one sign, and nothing else is taken for one", {
  path <- withr::local_tempfile(fileext = ".csv")
  writeLines(c("a5b", "152"), path)
  for (odd in list(5, c(",", ";"), NA_character_, "ab", "\n", TRUE))
    expect_error(read_records(path, delimiter = odd), class = "fairlattice_error_choice")
  writeLines(c("a;b", "x;y", "x;z"), path)
  expect_named(read_records(path, delimiter = "semicolon"), c("a", "b"))
})

test_that("a file is UTF-16 where both bytes of its mark say so", {
  path <- withr::local_tempfile(fileext = ".csv")
  for (first in c(0xff, 0xfe)) {
    writeBin(c(as.raw(first), charToRaw("a,b\n1,2\n")), path)
    found <- expect_error(read_records(path), class = "fairlattice_error")
    expect_no_match(conditionMessage(found), "UTF-16")
    expect_named(read_records(path, encoding = "latin1"), c(intToUtf8(c(first, 97)), "b"))
  }
  for (way in c("UTF-16LE", "UTF-16BE")) {
    mark <- as.raw(if (way == "UTF-16LE") c(0xff, 0xfe) else c(0xfe, 0xff))
    writeBin(c(mark, iconv("a,b\n1,2\n", "UTF-8", way, toRaw = TRUE)[[1]]), path)
    expect_named(suppressMessages(read_records(path)), c("a", "b"))
  }
})
