# Lines of JSON in chunks: the same records, values and faults as the parser of whole files finds,
# wherever a piece ends.

# Values as a program writes them in JSON, and some that none does.
json_tokens <- c("1", "-2.5", "0", "-0.0", "1e3", "2E-2", "12345678901", "true", "false", "null",
                 "\"\"", "\"a\"", "\"NA\"", "\"q \\\" q\"", "\"\\u00e9\\n\"", "\"\u00e9\"",
                 "\"\\ud83d\\ude00\"", "\"a text that is longer than sixteen bytes, \\\\ too\"")
odd_tokens <- c("01", "+1", ".5", "1.", "1e", "NaN", "tru", "'a'", "\"a", "a\"", "[1]",
                "{\"x\": 1}", "\"\\x\"", "\"\\u12g4\"", "\"\t\"", "", "1 2", "-")

test_that("every line is a record, blank or a fault as the parser of JSON says", {
  set.seed(12)
  path <- withr::local_tempfile(fileext = ".jsonl")
  columns <- c("a", "bee", "\u00e9\"c")
  names <- c("\"a\"", "\"bee\"", "\"\u00e9\\\"c\"", "\"\\u00e9\\u0022c\"")
  faults <- 0
  for (trial in 1:80) {
    lines <- vapply(seq_len(sample(2:9, 1)), function(k) {
      own <- sample(json_tokens, sample(0:3, 1))
      if (stats::runif(1) < 0.05) own <- c(own, sample(odd_tokens, 1))
      keys <- names[c(sample(1:2), 3:4)[seq_along(own)]] # in any order; one of them twice
      space <- function() sample(c("", " ", "\t"), 1, prob = c(4, 1, 1))
      text <- paste0(space(), "{", space(), paste0(keys, space(), ":", space(), own,
                                                   collapse = paste0(space(), ",", space())),
                     space(), "}", space())
      switch(sample(4, 1, prob = c(40, 2, 1, 1)), if (length(own)) text else "{}", "", "{} {}",
             sub("}", ",}", text, fixed = TRUE))
    }, "")
    writeBin(charToRaw(paste0(enc2utf8(lines), sample(c("\n", "\r\n"), 1), collapse = "")), path)
    single <- vapply(lines, function(line) {
      if (!nzchar(trimws(line))) return(TRUE)
      isTRUE(as.vector(jsonlite::validate(line))) &&
        all(lengths(jsonlite::fromJSON(line, simplifyVector = FALSE)) < 2) &&
        !grepl("[[{]", substring(trimws(line), 2))
    }, NA, USE.NAMES = FALSE)
    bad <- match(FALSE, single)
    faults <- faults + !is.na(bad)
    for (piece in c(1, 9, 64, 1e6)) {
      own <- scanned(path, length(columns), piece, sample(1:2, 1), json = columns)
      expect_identical(own$now$fault, if (is.na(bad)) "" else "no_json", info = lines)
      if (!is.na(bad)) {
        expect_identical(own$now$line, as.numeric(bad), info = lines)
        next
      }
      there <- lines[nzchar(trimws(lines))]
      expect_identical(c(own$now$records, own$now$blank),
                       as.numeric(c(length(there), length(lines) - length(there))))
      # of a key that is there twice the first counts
      met <- lapply(there, jsonlite::fromJSON, simplifyVector = FALSE)
      wanted <- sort(vapply(met, function(one) {
        paste(vapply(columns, function(name) {
          deparse1(one[[match(name, names(one))]] %||% "nothing")
        }, ""), collapse = "|")
      }, ""))
      values <- lapply(own$cells, function(cells) {
        vapply(cells, function(cell) {
          if (nzchar(cell)) deparse1(jsonlite::fromJSON(cell, simplifyVector = FALSE)) else
            "\"nothing\""
        }, "")
      })
      expect_identical(sort(rep(do.call(paste, c(values, sep = "|")), own$sums$records)), wanted,
                       info = lines)
    }
  }
  expect_gt(faults, 10)
})

test_that("kinds, missing numbers and keys that are not there are those of the whole file", {
  folder <- withr::local_tempdir()
  path <- file.path(folder, "x.jsonl")
  lines <- c('{"q": "a", "n": 17, "w": 1.5, "t": true}', '{"q": "b", "n": 17.5, "w": 2}', "",
             '{"n": "NA", "w": 1, "q": "\\u0061"}', '{"w": 3, "q": null, "n": 40, "t": false}')
  writeLines(lines, path)
  both <- list(read_records(path), records_in_chunks(path))
  for (weight in c("none", "w")) {
    made <- lapply(both, function(records) {
      survey <- if (weight == "none") respondents(records) else respondents(records, weight = w)
      list(crosstab(survey, q, n), crosstab(survey, q, t))
    })
    expect_equal(lapply(made[[2]], as.data.frame), lapply(made[[1]], as.data.frame))
  }
  refused <- function(line, why) {
    writeLines(c(rep('{"q": "a", "n": 1, "w": 1}', 70000), line), path)
    expect_error(crosstab(respondents(records_in_chunks(path), weight = w), q, n), why,
                 class = "fairlattice_error")
  }
  refused('{"q": "a", "n": 1', "Line 70,001 of \"x.jsonl\" is not JSON")
  refused('{"q": "a", "n": [1, 2]}', "\"n\"")
  refused('{"q": "a", "other": 1}', "\"other\"")
  refused('{"q": "a", "n": 1, "w": "heavy"}', "70,001 of \"x.jsonl\" has \"heavy\"")
})
