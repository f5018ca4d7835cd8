# Codes and the sentences that they are said in.

source_of <- function(pattern) {
  files <- list.files(test_path("..", "..", "R"), pattern, full.names = TRUE)
  skip_if(!length(files), "the source is not here")
  files
}
# The codes that the source says: first arguments of said(), tells(), words()
# and caution() that are plain texts.
codes_in <- function(files) {
  walk <- function(x) {
    if (!is.call(x)) return(NULL)
    name <- if (is.symbol(x[[1]])) as.character(x[[1]]) else ""
    at <- c(said = 2, tells = 2, words = 2, caution = 3)[name]
    texts <- function(x) {
      unlist(lapply(as.list(x), function(part) if (is.character(part)) part))
    }
    own <- if (!is.na(at) && length(x) >= at) texts(x[[at]])
    c(own,
      unlist(lapply(as.list(x), function(part) if (!missing(part)) walk(part))))
  }
  unique(unlist(lapply(files, function(file) lapply(parse(file), walk))))
}

test_that(paste("every code has its English sentence, and no sentence of",
                "another language is of no code"), {
  said <- setdiff(codes_in(source_of("[.]R$")), c("as_written", "", "both"))
  said <- said[grepl("^[a-z0-9_.]+$", said) & !grepl("[._]$", said)]
  known <- names(words_en)
  expect_gt(length(said), 700)
  beginnings <- unique(sub("[.].*", "", c(known, names(errors_en))))
  expect_identical(setdiff(said, c(known, names(errors_en), beginnings)),
                   character())
  expect_identical(anyDuplicated(known), 0L)
  expect_setequal(names(words_de), known)
  arguments <- function(sentence) {
    if (is.function(sentence)) names(formals(sentence))
  }
  for (code in names(words_de)) {
    expect_identical(
      arguments(words_de[[code]]), arguments(words_en[[code]]),
      info = code)
  }
  for (code in grep("^brief[.]", known, value = TRUE)) {
    full <- sub("brief.", "", code, fixed = TRUE)
    expect_identical(arguments(words_en[[code]]), arguments(words_en[[full]]),
                     info = code)
  }
})

test_that("every error has its sentence in every language, with the same blanks", {
  expect_identical(anyDuplicated(names(errors_en)), 0L)
  expect_setequal(names(errors_de), names(errors_en))
  blanks <- function(text) {
    lengths(regmatches(text, gregexpr("%([0-9]+[$])?[sd]", text)))
  }
  for (code in names(errors_en)) expect_identical(
    blanks(errors_de[[code]]), blanks(errors_en[[code]]), info = code)
  ask <- function() crosstab(demo_records(20), heting, island, alpha = 0.05)
  expect_error(ask(), "There is no column \"heting\"")
  withr::local_options(fairlattice.language = "de")
  expect_error(ask(),
               "Es gibt keine Spalte \u201eheting\u201c .*\n.*Meinten Sie \u201eheating\u201c")
  expect_error(crosstab(demo_records(20), heating, island, foo = 1),
               "survey, .* und 7 weitere")
  expect_match(spoken(how_many(1, "record")), "^1 Datensatz$")
  expect_match(spoken(how_many(2400, "record")), "Datens\u00e4tze$")
})

test_that("the floors below the words say codes, never sentences", {
  files <- source_of("^(tally|table|infer)-.*[.]R$")
  sentences <- unlist(lapply(files, function(file) {
    data <- utils::getParseData(parse(file, keep.source = TRUE))
    texts <- data$text[data$token == "STR_CONST"]
    texts[grepl("^\"[A-Z][^ ]+ .*[ .]", texts) & grepl("[a-z]{2,} [a-z]{2,} [a-z]{2,}", texts)]
  }))
  expect_identical(sentences, character())
})

test_that("the names of bands are shown in the language of the table", {
  survey <- band(respondents(demo_records()), age, breaks = c(18, 35, 65))
  survey <- band(survey, weight, breaks = c(5, 10.5), into = "size_of_weight")
  shown <- function(question) {
    sheets_of(crosstab(survey, !!question, island))[[1]]$stub$label
  }
  english <- shown("age")
  expect_true(all(c("18\u201334", "65 or more") %in% english))
  withr::local_options(fairlattice.language = "de")
  expect_true(all(c("18\u201334", "65 oder mehr") %in% shown("age")))
  expect_true(all(c("unter 5", "5 bis unter 10,5", "10,5 oder mehr") %in%
                    shown("size_of_weight")))
  # they stay names of answers: a condition names them as ever
  expect_no_error(among(survey, age == "65 or more"))
})

test_that("a table speaks German, with a decimal comma", {
  withr::local_options(fairlattice.language = "de")
  x <- crosstab(demo_survey(), heating, island)
  printed <- paste(format(x, width = 200), collapse = "\n")
  expect_match(printed, "Main heating nach Island")
  expect_match(printed,
               "Spaltenprozente \\(Basis: je Island\\), gewichtet mit weight")
  expect_match(printed,
               "Main heating unterscheidet sich nach Island: .* F\\(9,6; 728,8\\) = 22,59, p < 0,001")
  expect_match(printed, "95 %-KI 0,307 bis 0,361")
  expect_match(printed,
               paste("2 412 Datens\u00e4tze: 2 390 in der Tabelle; 22",
                     "ausgelassen: keine Antwort auf Main heating"))
  expect_match(paste(format(x, width = 200, lines = "working"), collapse = "\n"),
               "2 412 Datens\u00e4tze gelesen: 2 390 in der Tabelle, 22 ausgelassen")
  expect_false(grepl("[0-9][.][0-9]| records|respondents", printed))
  expect_match(write_up(x, "sentence"),
               "^Main heating unterscheidet sich nach Island [(]")
  expect_match(write_up(x, "full"), "Die Nullhypothese, dass .* verworfen[.]")
  tests <- tests(x, "all")
  expect_false(anyNA(tests$why[tests$headline]))
  withr::local_options(fairlattice.language = "fr")
  expect_error(format(x), "must be \"en\" or \"de\"",
               class = "fairlattice_error_option")
})

test_that("numbers stand with their nouns", {
  expect_match(words("account_whole", records = 1, several = FALSE),
               "^1 record read")
  expect_match(words("account_counts", n = 1, cells = 1),
               "^1 respondent counted in 1 cell")
  expect_match(words("repeated_ids", ids = 1, records = 2, differing = 0),
               "1 id occurs")
  expect_match(words("marking_rule", critical = 1.96, correction = "holm",
                     cells = 1, alpha = 0.05), "no correction: one comparison")
  expect_match(words("who_left_out", left = 1, records = 5, reasons = NULL),
               "1 of 5 records was left out")
  expect_match(words("few_clusters", df = 1, d = 2), "1 degree of freedom")
})

test_that(paste("JSON carries code, arguments and text, and says the same in",
                "another language when it is read"), {
  x <- crosstab(demo_survey(), leave, internet)
  raw <- jsonlite::parse_json(json_of(x))
  expect_identical(raw$version, 2L)
  headline <- Find(function(row) row$headline, raw$tests)
  expect_identical(headline$why[c("code", "text")],
                   list(code = "why_design", text = words_en$why_design))
  left <- Find(function(one) one$what$code == "left_out", raw$cautions)
  expect_identical(left$what$arguments$records, 155L)
  read <- saved(x)
  withr::local_options(fairlattice.language = "de")
  expect_identical(format(read), format(x))
  expect_identical(write_up(read, "full"), write_up(x, "full"))
})

test_that("version 1, which had texts only, is still read, with its figures and as it was said", {
  old <- read_tables(test_path("fixtures", "table-1.json"))
  raw <- jsonlite::parse_json(
    paste(readLines(test_path("fixtures", "table-1.json")), collapse = ""))
  survey <- respondents(demo_records(240), weight = weight, stratum = island,
                        cluster = settlement)
  now <- crosstab(survey, leave, internet)
  # each figure has degrees of freedom of its own since
  same <- grep("_(low|high|se|cv|deff)$", names(as.data.frame(old))[1:17],
               invert = TRUE, value = TRUE)
  expect_equal(as.data.frame(old)[same], as.data.frame(now)[same])
  expect_identical(cautions(old)$text,
                   vapply(raw$cautions, function(one) one$text, ""))
  expect_identical(glance(old)$test, "rao_scott_second")
  expect_true(any(grepl("For reference only", format(old, lines = "working"))))
  expect_match(write_up(old), "does not differ significantly by Internet")
  # a turned table says its cautions anew
  expect_identical(format(flip(flip(old)), lines = "none"),
                   format(old, lines = "none"))
})

test_that("no code reads a sentence", {
  for (file in source_of("^(tally|crosstab|infer|results|sheet|show|cli)-")) {
    text <- readLines(file)
    reads <- grep("(grepl|startsWith|sub|regexpr)\\([^)]*[$](note|why|text|interval|reason)\\b",
                  text, value = TRUE)
    expect_identical(reads, character(), info = basename(file))
  }
})
