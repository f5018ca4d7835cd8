# Codes and the sentences that they are said in.

source_of <- function(pattern) {
  files <- list.files(test_path("..", "..", "R"), pattern, full.names = TRUE)
  skip_if(!length(files), "the source is not here")
  files
}
# The codes that the source says: first arguments of said(), words() and caution() that are plain texts.
codes_in <- function(files) {
  walk <- function(x) {
    if (!is.call(x)) return(NULL)
    name <- if (is.symbol(x[[1]])) as.character(x[[1]]) else ""
    at <- c(said = 2, words = 2, caution = 3)[name]
    texts <- function(x) unlist(lapply(as.list(x), function(part) if (is.character(part)) part))
    own <- if (!is.na(at) && length(x) >= at) texts(x[[at]])
    c(own, unlist(lapply(as.list(x), function(part) if (!missing(part)) walk(part))))
  }
  unique(unlist(lapply(files, function(file) lapply(parse(file), walk))))
}

test_that("every code has its English sentence, and no sentence of another language is of no code", {
  said <- setdiff(codes_in(source_of("[.]R$")), c("as_written", "", "both"))
  said <- said[grepl("^[a-z0-9_.]+$", said) & !grepl("[._]$", said)]
  known <- names(words_en)
  expect_gt(length(said), 150)
  expect_identical(setdiff(said, c(known, unique(sub("[.].*", "", known)))), character())
  expect_identical(anyDuplicated(known), 0L)
  expect_identical(setdiff(names(words_de), known), character())
  arguments <- function(sentence) if (is.function(sentence)) names(formals(sentence))
  for (code in names(words_de)) expect_identical(arguments(words_de[[code]]), arguments(words_en[[code]]), info = code)
  for (code in grep("^brief[.]", known, value = TRUE)) {
    full <- sub("brief.", "", code, fixed = TRUE)
    expect_identical(arguments(words_en[[code]]), arguments(words_en[[full]]), info = code)
  }
})

test_that("a table speaks German, with a decimal comma, and says in English what German lacks", {
  withr::local_options(fairlattice.language = "de")
  x <- crosstab(demo_survey(), heating, island)
  printed <- paste(format(x, width = 200), collapse = "\n")
  expect_match(printed, "Main heating nach Island")
  expect_match(printed, "Spaltenprozente: je Antwort auf Island, gewichtet mit weight")
  expect_match(printed, "Die beiden h\u00e4ngen zusammen .* F\\(9,6; 728,8\\) = 22,59, p < 0,001")
  expect_match(printed, "95 %-KI 0,307 bis 0,360")
  expect_match(printed, "2 412 Datens\u00e4tze: 2 390 in der Tabelle; 22 ausgelassen: keine Antwort auf Main heating")
  expect_match(paste(format(x, width = 200, lines = "all"), collapse = "\n"),
               "2 412 Datens\u00e4tze gelesen: 2 390 in der Tabelle, 22 ausgelassen")
  expect_false(grepl("[0-9][.][0-9]| records|respondents", printed))
  expect_match(write_up(x, "sentence"),
               "^Die Nullhypothese, dass Main heating und Island unabh\u00e4ngig sind, wird .* verworfen")
  lacking <- setdiff(names(words_en), names(words_de))
  note <- sprintf("German lacks %d of %d sentences", length(lacking), length(words_en))
  expect_lt(length(lacking), length(words_en)) # they fall back:
  expect_identical(words("nothing_to_say"), words_en$nothing_to_say, info = note)
  tests <- tests(x, "all")
  expect_false(anyNA(tests$why[tests$headline]))
  withr::local_options(fairlattice.language = "fr")
  expect_error(format(x), "must be \"en\" or \"de\"", class = "fairlattice_error_option")
})

test_that("numbers stand with their nouns", {
  expect_match(words("account_whole", records = 1, several = FALSE), "^1 record read")
  expect_match(words("account_counts", n = 1, cells = 1), "^1 respondent counted in 1 cell")
  expect_match(words("repeated_ids", ids = 1, records = 2, differing = 0), "^1 id occurs")
  expect_match(words("marking_rule", critical = 1.96, correction = "holm", cells = 1, alpha = 0.05),
               "no correction: one comparison")
  expect_match(words("who_left_out", left = 1, records = 5, reasons = NULL), "1 of 5 records was left out")
  expect_match(words("few_clusters", df = 1, d = 2), "1 degree of freedom")
})

test_that("JSON carries code, arguments and text, and says the same in another language when it is read", {
  x <- crosstab(demo_survey(), leave, internet)
  raw <- jsonlite::parse_json(json_of(x))
  expect_identical(raw$version, 2L)
  headline <- Find(function(row) row$headline, raw$tests)
  expect_identical(headline$why[c("code", "text")], list(code = "why_design", text = words_en$why_design))
  left <- Find(function(one) one$what$code == "left_out", raw$cautions)
  expect_identical(left$what$arguments$records, 155L)
  read <- saved(x)
  withr::local_options(fairlattice.language = "de")
  expect_identical(format(read), format(x))
  expect_identical(write_up(read, "full"), write_up(x, "full"))
})

test_that("version 1, which had texts only, is still read, with its figures and as it was said", {
  old <- read_tables(test_path("fixtures", "table-1.json"))
  raw <- jsonlite::parse_json(paste(readLines(test_path("fixtures", "table-1.json")), collapse = ""))
  survey <- respondents(demo_records(240), weight = weight, stratum = island, cluster = settlement)
  now <- crosstab(survey, leave, internet)
  expect_equal(as.data.frame(old)[1:17], as.data.frame(now)[1:17])
  expect_identical(cautions(old)$text, vapply(raw$cautions, function(one) one$text, ""))
  expect_identical(glance(old)$test, "rao_scott_second")
  expect_true(any(grepl("For reference only", format(old, lines = "all"))))
  expect_match(write_up(old), "^The null hypothesis that")
  # a turned table says its cautions anew
  expect_identical(format(flip(flip(old)), lines = "none"), format(old, lines = "none"))
})

test_that("no code reads a sentence", {
  for (file in source_of("^(tally|crosstab|infer|results|sheet|show|cli)-")) {
    text <- readLines(file)
    reads <- grep("(grepl|startsWith|sub|regexpr)\\([^)]*[$](note|why|text|interval|reason)\\b", text, value = TRUE)
    expect_identical(reads, character(), info = basename(file))
  }
})
