# Conditions that become part of a query. Oracle: the records in memory.

random_condition <- function(depth) {
  leaf <- function() {
    word <- sample(c("==", "!=", "<", "<=", ">", ">="), 1)
    switch(sample(7, 1),
           sprintf("num %s %s", word, sample(c("1", "2.5", "-3", "0"), 1)),
           sprintf("%s %s num", sample(c("1", "2.5"), 1), word),
           sprintf("txt %s '%s'", sample(c("==", "!="), 1),
                   sample(c("a", "b", "it''s", "none"), 1)),
           sprintf("num %%in%% c(1, 2.5, %d)", sample(-3:3, 1)),
           sprintf("txt %%in%% c('a', '%s')", sample(letters[2:4], 1)),
           sprintf("is.na(%s)", sample(c("num", "txt", "code"), 1)),
           sprintf("code %s 'Yes'", sample(c("==", "!="), 1)))
  }
  if (depth == 0) return(gsub("''", "\\\\'", leaf()))
  switch(sample(4, 1), sprintf("!(%s)", random_condition(depth - 1)),
         sprintf("(%s & %s)", random_condition(depth - 1),
                 random_condition(depth - 1)),
         sprintf("(%s | %s)", random_condition(depth - 1),
                 random_condition(depth - 1)), random_condition(depth - 1))
}

test_that(paste("a condition in SQL keeps whom it keeps in R, on random",
                "conditions and records with missing values"), {
  set.seed(11)
  data <- data.frame(num = sample(c(1, 2, 2.5, -3, 99, NA), 200, TRUE),
                     txt = sample(c("a", "b", "it's", "", NA), 200, TRUE),
                     code = sample(c(1L, 2L, 8L, NA), 200, TRUE),
                     q = sample(c("u", "v"), 200, TRUE),
                     stringsAsFactors = FALSE)
  codebook <- withr::local_tempfile(fileext = ".schema.json")
  writeLines('{"fields": [{"name": "num", "type": "number", "missingValues": [{"value": 99, "label": "Refused"}]},
    {"name": "code", "categories": [{"value": 1, "label": "Yes"}, {"value": 2, "label": "No"}],
     "missingValues": [{"value": 8, "label": "Don\'t know"}]}]}', codebook)
  csv <- withr::local_tempfile(fileext = ".csv")
  data.table::fwrite(data, csv, na = "")
  raw <- data
  raw$txt[raw$txt %in% ""] <- NA # a blank cell of a file is no text
  near <- coded_records(raw, read_codebook(codebook, "x", NULL))
  sources <- named_sources(raw, codebook)
  # a process for every table takes long, and its conditions are worked out as for lines of JSON
  sources$parquet <- NULL
  here <- grepl("^(sqlite|postgres|mariadb|clickhouse|duckdb)$", names(sources))
  in_sql <- 0
  for (k in 1:20) {
    text <- random_condition(sample(0:3, 1))
    for (bare in c(FALSE, TRUE)) {
      kept <- function(x) {
        p <- if (bare) eval(call("among", x, parse(text = text)[[1]])) else
          among(x, !!text)
        list(crosstab(p, q, keep_empty = TRUE)$tally,
             length(Filter(function(step) !is.null(step$truth), p$steps)))
      }
      memory <- tryCatch(kept(respondents(near))[[1]],
                         fairlattice_error_nobody = function(e) NULL)
      for (name in names(sources)) {
        far <- tryCatch(kept(respondents(sources[[name]])),
                        fairlattice_error_nobody = function(e) NULL)
        expect_identical(is.null(memory), is.null(far),
                         info = paste(text, name))
        if (!is.null(memory))
          expect_same_tally(memory, far[[1]], paste(text, name, bare))
        in_sql <- in_sql + (length(far) && far[[2]] > 0)
      }
    }
  }
  expect_gt(in_sql, 25 * sum(here)) # most of them were worked out by the database
})
