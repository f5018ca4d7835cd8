# What is read from JSON: codebooks, data packages, stored tables and what the desk is sent.

parsed <- function(text) parse_json(text, function(why) why[[1L]]$code)

test_that("any JSON is read as a general-purpose parser reads it", {
  texts <- c("a", "", "caf\u00e9 \u20ac \U1F600", "\"\\/\b\f\n\r\t", "\u007f", strrep("long ", 20))
  any_value <- function(deep) {
    kind <- sample(if (deep) 7 else 5, 1)
    switch(kind, NULL, stats::runif(1) < 0.5,
           sample(c(0L, -5L, 2147483647L, -2147483647L), 1),
           sample(c(0.5, -1e-3, 1e300, 3e9, 123456.789), 1), sample(texts, 1),
           lapply(seq_len(sample(0:4, 1)), function(k) any_value(deep - 1)),
           {
             size <- sample(0:4, 1)
             stats::setNames(lapply(seq_len(size), function(k) any_value(deep - 1)),
                             sample(c(texts[nzchar(texts)], "k", "l"), size))
           })
  }
  withr::local_seed(7)
  for (trial in 1:300) {
    value <- list(any_value(5))
    json <- jsonlite::toJSON(value, auto_unbox = TRUE, null = "null", digits = NA,
                             pretty = sample(c(TRUE, FALSE), 1))
    expect_identical(parsed(json), jsonlite::parse_json(json), info = json)
    # of what is cut short, or has a sign too many, neither makes anything
    at <- sample(nchar(json), 1)
    broken <- paste0(substr(json, 1, at - 1), sample(c("", ",", "x", "\"", "]"), 1),
                     substr(json, at + 1, nchar(json)))
    if (isTRUE(as.vector(jsonlite::validate(broken))))
      expect_identical(parsed(broken), jsonlite::parse_json(broken), info = broken) else
        expect_identical(parsed(broken), "text_is_not_json", info = broken)
  }
})

test_that("what is written in another way says the same, and nothing is lost", {
  expect_identical(parsed("\t[1, 1.0, 1e2, -0, true,\r\nnull ]\n"),
                   list(1L, 1, 100, 0L, TRUE, NULL))
  expect_identical(parsed('"\\u00e9\\ud83d\\ude00\\/\\ud83d!"'), "\u00e9\U1F600/\ufffd!")
  expect_identical(parsed('{"a": 9007199254740993, "a": 3000000000}'),
                   list(a = "9007199254740993", a = 3e9))
  expect_identical(parsed("{}"), stats::setNames(list(), character()))
  for (odd in c("", " ", "[1,]", "[1 2]", "{\"a\"}", "{a: 1}", "01", "1.", "+1", "'a'", "nul",
                "[1]]", "\"a\tb\"", "\"\\x41\""))
    expect_identical(parsed(odd), "text_is_not_json", info = odd)
  expect_identical(parsed('"a\\u0000b"'), "not_json_can_read")
  deep <- function(n) paste0(strrep("[", n), strrep("]", n))
  expect_type(parsed(deep(200)), "list")
  expect_identical(parsed(deep(1e5)), "nested_too_deeply")
})
