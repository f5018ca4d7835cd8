fixture <- function(name) test_path("fixtures", name)
quiet <- function(expression) suppressMessages(expression)
refused <- function(path, pattern, class = "fairlattice_error_file", ...) {
  expect_error(quiet(read_records(path, ...)), pattern, class = class)
}
figures <- function(data) {
  x <- crosstab(respondents(data, weight = weight, stratum = island,
                            cluster = settlement), ferry, island)
  list(as.data.frame(x), findings(x)$base$left_out)
}

test_that("workbooks are read by their values, with what had to be settled said", {
  skip_if_not_installed("readxl")
  expect_message(data <- read_records(fixture("survey.xlsx")),
                 paste("sheet \"Answers\" of 2, 1 number stored as text in",
                       "\"mixed\", 1 blank line skipped"),
                 class = "fairlattice_message")
  expect_equal(data$n, c(5, 10, 7.5, 2)) # the second is a formula
  expect_equal(data$mixed, c(10, 11, 12, 13))
  expect_identical(data$code, c("007", "012", "3", "4"))
  expect_identical(data$when,
                   as.Date(c("2031-01-01", "2031-01-02", NA, "2031-01-03")))
  expect_identical(names(read_records(fixture("survey.xlsx"), sheet = "Notes")),
                   c("key", "value"))
  expect_equal(quiet(read_records(fixture("survey.xlsx"), sheet = 1,
                                  range = "A1:B3"))$q, c(1, 2))
  refused(fixture("survey.xlsx"), "no sheet \"Answer\"", sheet = "Answer")
  refused(fixture("merged.xlsx"), "Column 2 .* has no name")
  refused(file_with("not a workbook", ".xlsx"), "is not a workbook")
  expect_error(crosstab(quiet(read_records(fixture("survey.xlsx"))), when, q),
               "month or the wave", class = "fairlattice_error_column_type")
})

test_that("OpenDocument sheets are read, with repeated rows", {
  skip_if_not_installed("xml2")
  data <- quiet(read_records(fixture("survey.ods")))
  expect_equal(data,
               data.frame(q = c(1, 2, 1, 1), n = c(5, 10, NA, NA),
                          free = c("x", "y", "z", "z")), ignore_attr = TRUE)
  refused(file_with("nothing", ".ods"), "cut short or damaged")
})

test_that("every door leads to the same table", {
  file <- demo_file("veyra.csv")
  folder <- withr::local_tempdir()
  at <- function(name) file.path(folder, name)
  raw <- data.table::fread(file, data.table = FALSE)
  file.copy(demo_file("veyra.schema.json"),
            at(paste0("veyra.", c("schema.json", "json.schema.json"))))
  want <- figures(read_records(file))
  jsonlite::write_json(raw, at("veyra.json"), na = "null", digits = NA)
  jsonlite::stream_out(raw, file(at("veyra.jsonl")), verbose = FALSE,
                       digits = NA)
  data.table::fwrite(raw, at("veyra.tsv"), sep = "\t")
  decimal <- raw
  decimal$weight <- sub(".", ",", decimal$weight, fixed = TRUE)
  data.table::fwrite(decimal, at("comma.csv"), sep = ";")
  packed <- gzfile(at("veyra.csv.gz"), "wb")
  writeBin(readBin(file, "raw", file.size(file)), packed)
  close(packed)
  for (k in 1:3) data.table::fwrite(
    raw[findInterval(seq_len(nrow(raw)), c(1, 800, 1700)) == k, ],
    at(sprintf("part-%d.csv", k)))
  writeBin(iconv(readLines(file), "UTF-8", "UTF-16LE", toRaw = TRUE) |>
             lapply(function(line) c(line, as.raw(c(10, 0)))) |> unlist(),
           at("wide.csv"))
  book <- demo_file("veyra.schema.json")
  doors <- list(at("veyra.json"), at("veyra.jsonl"), at("veyra.tsv"),
                at("comma.csv"), at("veyra.csv.gz"), at("part-*.csv"))
  for (door in doors) expect_equal(figures(quiet(read_records(door, book))),
                                   want, info = door)
  expect_equal(figures(quiet(read_records(
                               at("wide.csv"), book, encoding = "UTF-16LE"))),
               want)
  expect_message(read_records(at("comma.csv"), book),
                 "semicolons between cells, decimal commas")
  writeLines(jsonlite::toJSON(list(name = "veyra",
                                   resources = list(
                                     list(
                                       name = "people", path = "part-1.csv",
                                       schema = "veyra.schema.json"),
                                     list(
                                       name = "others", path = "../out.csv"))),
                              auto_unbox = TRUE), at("datapackage.json"))
  expect_equal(nrow(read_records(at("datapackage.json"), sheet = "people")),
               799)
  refused(at("datapackage.json"), "2 resources", "fairlattice_error_codebook")
  refused(at("datapackage.json"), "not a file in its own folder",
          "fairlattice_error_codebook", sheet = "others")
  if (nzchar(Sys.which("zstd"))) {
    system2("zstd",
            c("-q", shQuote(at("part-1.csv")), "-o",
              shQuote(at("part-1.csv.zst"))))
    expect_equal(read_records(at("part-1.csv.zst"), book),
                 read_records(at("part-1.csv"), book), ignore_attr = TRUE)
  }
})

test_that("what is written is read back the same, in every format", {
  folder <- withr::local_tempdir()
  data <- demo_records()
  data$household[3] <- NA
  for (ending in c("csv", "parquet")) {
    if (ending == "parquet") skip_if_not_installed("nanoparquet")
    path <- file.path(folder, paste0("w.", ending))
    write_records(data, path)
    back <- read_records(path)
    expect_equal(figures(back), figures(data))
    expect_equal(look(back)[c("question", "title", "type", "answer", "n")],
                 look(data)[c("question", "title", "type", "answer", "n")],
                 ignore_attr = TRUE)
  }
  plain <- data.frame(f = factor(c("b", "a", NA), c("b", "a")),
                      o = factor(c("x", "y", "x"), ordered = TRUE),
                      l = c(TRUE, NA, FALSE), t = c("007", "a,b", "\"q\""))
  write_records(plain, file.path(folder, "p.csv"))
  back <- read_records(file.path(folder, "p.csv"))
  expect_identical(as.character(back$f), c("b", "a", NA))
  expect_true(is.ordered(back$o))
  expect_identical(as.character(back$l), c("Yes", NA, "No"))
  expect_identical(as.vector(back$t), plain$t)
})

test_that("a codebook can be edited, and a draft marks its guesses and applies none", {
  book <- codebook(demo_records())
  book$fields$ferry$title <- "Happy with the ferry?"
  expect_identical(attr(read_records(demo_file("veyra.csv"), book)$ferry,
                        "label"), "Happy with the ferry?")
  bare <- data.frame(q = c(1, 2, 3, -9, 99, 2),
                     agree = c("Agree", "Disagree", "Strongly agree", "DK",
                               "Agree", "Disagree"),
                     age = c(18, 40, 60, 90, 33, 21) + 0.5)
  draft <- draft_codebook(bare)
  expect_identical(draft$fields$q$guesses$missingValues, c("-9", "99"))
  expect_identical(draft$fields$agree$guesses,
                   list(missingValues = "DK",
                        order = c("Strongly agree", "Agree", "Disagree")))
  expect_null(draft$fields$age$guesses$missingValues)
  path <- withr::local_tempfile(fileext = ".json")
  data <- withr::local_tempfile(fileext = ".csv")
  write_codebook(draft, path)
  data.table::fwrite(bare, data)
  expect_false(anyNA(read_records(data, path)$q))
  expect_match(paste(format(draft), collapse = "\n"),
               "guess: -9, 99 may mean missing")
})

test_that("DDI codebooks are read, and entities are not", {
  skip_if_not_installed("xml2")
  xml <- paste0(paste0("<codeBook xmlns=\"ddi:codebook:2_5\"><dataDscr><var name=\"q\" ",
                       "nature=\"ordinal\"><labl>Question</labl>"),
                "<catgry><catValu>1</catValu><labl>Low</labl></catgry>",
                "<catgry><catValu>2</catValu><labl>High</labl></catgry>",
                "<catgry missing=\"Y\"><catValu>-9</catValu><labl>Refused</labl></catgry></var>",
                paste("<var name=\"n\" wgt=\"wgt\"><varFormat",
                      "type=\"numeric\"/></var></dataDscr></codeBook>"))
  data <- file_with("q,n\n1,5\n-9,6\n2,7\n")
  expect_message(read <- read_records(data, file_with(xml, ".xml")),
                 "names n as weight", class = "fairlattice_message")
  expect_identical(as.character(read$q), c("Low", "Refused", "High"))
  expect_identical(is.na(read$q), c(FALSE, TRUE, FALSE))
  expect_true(is.ordered(read$q))
  secret <- file_with("secret")
  evil <- sprintf("<!DOCTYPE x [<!ENTITY e SYSTEM \"file://%s\">]>%s", secret,
                  sub("Question", "&e;", xml, fixed = TRUE))
  refused(data, "declares entities", "fairlattice_error_codebook",
          codebook = file_with(evil, ".xml"))
  refused(data, "is not XML", "fairlattice_error_codebook",
          codebook = file_with("<codeBook>", ".xml"))
})

test_that("packed, corrupt and oversized files are refused with the reason", {
  expect_equal(read_records(fixture("one.zip"))$n, c(5, 6))
  refused(fixture("two.zip"), "holds 2 files")
  withr::with_options(list(fairlattice.most_unpacked = 2^22),
                      refused(fixture("zeros.zip"),
                              "unpacks to more than 4 MiB",
                              "fairlattice_error_too_large"))
  refused(file_with("PK\003\004 cut", ".zip"), "cut short or damaged")
  cut <- withr::local_tempfile(fileext = ".csv.gz")
  packed <- gzfile(cut, "wb")
  writeBin(readBin(demo_file("veyra.csv"), "raw", 1e6), packed)
  close(packed)
  writeBin(utils::head(readBin(cut, "raw", 1e6), 20000), cut)
  refused(cut, "cut short or damaged")
  refused(file_with("{\"a\": 1}", ".json"), "not a list of records")
  refused(file_with("[{\"a\": [1, 2]}, {\"a\": [3]}]", ".json"),
          "\"a\" holds lists")
  refused(file_with("{\"a\": 1}\n{\"a\": \n", ".jsonl"),
          "Line 2 .* is not JSON")
  refused(file_with("x", ".docx"), "kind that is not read")
  refused(file_with(paste0(paste0("c", 1:1e6, collapse = ","), "\n1\n")),
          "1,000,000 columns")
  refused(c(file_with("a,b\n1,2\n"), file_with("a,c\n1,2\n")),
          "\"b\" is in one of them only")
  refused(file_with("a\n1\n"), "does not know the encoding",
          encoding = "no-such-code")
  if (requireNamespace("nanoparquet", quietly = TRUE))
    refused(file_with("PAR1 cut", ".parquet"), "is not a Parquet file")
})

test_that("a draft proposes the order of scales, bands and numbers in labels, and of nothing else", {
  order_of <- function(...) fairlattice:::likely_order(c(...))
  shuffled <- list(
    c("Under 18", "18 to 34", "35 to 64", "65 and over"), c("18-24", "25-34", "35\u201364", "65+"),
    c("Unter 18", "18 bis 34", "35 bis 64", "65 und \u00e4lter"),
    c("Less than \u00a310,000", "\u00a310,000 to \u00a319,999", "\u00a320,000 or more"),
    c("less than 20k", "20k to 40k", "more than 40k"), c("Grade 1", "Grade 2", "Grade 10"),
    c("none", "1 child", "2 children", "3 or more children"),
    c("8th Grade", "9 - 11th Grade", "High School", "Some College", "College Grad"),
    c("Excellent", "Vgood", "Good", "Fair", "Poor"), c("Immer", "Oft", "Manchmal", "Selten", "Nie"),
    c("small", "middle", "large"), c("Very likely", "Unlikely", "Very unlikely"),
    c("Sehr zufrieden", "Zufrieden", "Unzufrieden"), c("Daily", "Weekly", "Monthly", "Less often"))
  for (right in shuffled) {
    withr::local_seed(2)
    expect_identical(order_of(sample(right)), right)
  }
  for (none in list(c("Norrey", "Tarn", "Harrow Skerry"), c("North 1", "South 2", "East 3"),
                    c("1", "2", "10"), c("Agree", "Disagree"), c("Oil", "Wood", "Poor"),
                    c("Route 7", "Route 12", "Road 3")))
    expect_null(order_of(none))
  path <- withr::local_tempfile(fileext = ".csv")
  drafted <- withr::local_tempfile(fileext = ".json")
  data.table::fwrite(data.frame(often = c("Never", "Often", "Sometimes", "Never", "Often"),
                                age = c("65+", "18-34", "35-64", "18-34", "65+"),
                                home = c("a", "b", "c", "a", "b")), path)
  run <- call_main("look", path, "--draft-codebook", drafted)
  expect_match(run$err, "proposes 2 orders of answers, marked")
  none <- call_main("look", path, "--question", "home", "--draft-codebook", drafted)
  expect_match(none$err, "Nothing in it is a guess")
})
