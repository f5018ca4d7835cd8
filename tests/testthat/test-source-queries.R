# Records that a query gives: as text, or as a lazy table of dplyr.

answers_in_sqlite <- function(env = parent.frame()) {
  con <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  withr::defer(DBI::dbDisconnect(con), env)
  DBI::dbWriteTable(con, "answers", utils::read.csv(demo_file("veyra.csv")))
  con
}
cells <- function(survey) as.data.frame(crosstab(survey, ferry, island))
codes <- demo_file("veyra.schema.json")

test_that("a query is a table of its rows", {
  skip_if_not_installed("RSQLite")
  con <- answers_in_sqlite()
  of <- function(query) {
    respondents(dbi_table(con, query = query, codebook = codes), weight = weight,
                stratum = island, cluster = settlement)
  }
  whole <- respondents(dbi_table(con, "answers", codes), weight = weight, stratum = island,
                       cluster = settlement)
  expect_equal(cells(of("SELECT * FROM answers;")), cells(whole))
  expect_equal(cells(of("-- all of them\n (SELECT * FROM answers -- to the end; of the line")),
               cells(whole)) |> expect_error(class = "fairlattice_error_database")
  of_with <- "-- all of them\nWITH a AS (SELECT * FROM answers) SELECT * FROM a -- end;"
  expect_equal(cells(of(of_with)), cells(whole))
  expect_equal(cells(of("SELECT * FROM answers WHERE mode IN (1, 2) AND 'a;b' <> \"mode\"")),
               as.data.frame(crosstab(among(whole, mode %in% c("Web", "Paper")), ferry, island)))
  made <- dbi_table(con, query = "SELECT weight, leave, age >= 60 AS old FROM answers")
  expect_identical(names(made$columns), c("weight", "leave", "old"))
  expect_identical(sum(crosstab(respondents(made), leave, old)$layers[[1]]$n), 2412)
  expect_identical(made$about$file, "query of a database in memory")
  expect_output(print(respondents(made, weight = weight)), "Survey of 2,412 records")
})

test_that("what is no query of records is refused, and nothing is changed", {
  skip_if_not_installed("RSQLite")
  con <- answers_in_sqlite()
  refused <- function(words, ...) {
    expect_error(dbi_table(con, ...), words, class = "fairlattice_error")
  }
  refused("must be a SELECT", query = "DROP TABLE answers")
  refused("must be a SELECT", query = "/* SELECT */ DELETE FROM answers")
  refused("one statement", query = "SELECT * FROM answers; DROP TABLE answers")
  refused("no such column: nope", query = "SELECT nope FROM answers")
  refused("one SELECT as a text", query = c("SELECT 1", "SELECT 2"))
  refused("not both", "answers", query = "SELECT * FROM answers")
  refused("name of a table")
  expect_identical(DBI::dbListTables(con), "answers")
  # in words
  words <- function(...) {
    testthat::expect_error(check_sources(list(...)), class = "fairlattice_error")$message
  }
  expect_match(words(query = "SELECT 1"), "needs --database")
  expect_match(words(database = "sqlite:a.db", table = "a", query = "SELECT 1"), "one of the two")
})

test_that("a lazy table is asked as it is, and nothing of it is collected", {
  skip_if_not_installed("RSQLite")
  skip_if_not_installed("dbplyr")
  con <- answers_in_sqlite()
  lazy <- dplyr::mutate(dplyr::filter(dplyr::tbl(con, "answers"), age >= 18), old = age > 60)
  survey <- respondents(lazy, weight = weight, stratum = island)
  here <- DBI::dbGetQuery(con, "SELECT *, age > 60 AS old FROM answers WHERE age >= 18")
  here <- respondents(here, weight = weight, stratum = island)
  expect_equal(as.data.frame(crosstab(survey, leave, old)),
               as.data.frame(crosstab(here, leave, old)))
  of_code <- respondents(dbi_table(lazy, codebook = codes), weight = weight)
  expect_identical(as.data.frame(crosstab(of_code, leave, mode))$across[1], "Web")
  expect_identical(nrow(survey$data), 0L)
  expect_error(dbi_table(lazy, "answers"), "has its query", class = "fairlattice_error_database")
})

test_that("a plan to begin with is that of the records in memory", {
  skip_if_not_installed("RSQLite")
  folder <- withr::local_tempdir()
  withr::local_dir(folder)
  for (file in c("veyra.csv", "veyra.schema.json")) file.copy(demo_file(file), ".")
  con <- DBI::dbConnect(RSQLite::SQLite(), "veyra.db")
  DBI::dbWriteTable(con, "answers", utils::read.csv("veyra.csv"))
  DBI::dbDisconnect(con)
  begun <- function(...) {
    suppressMessages(utils::capture.output(main(c("plan", ...))))
  }
  here <- begun("veyra.csv")
  where <- c("--database", "sqlite:veyra.db", "--codebook", "veyra.schema.json")
  far <- begun(where, "--table", "answers")
  from <- grep("^# asked", here)
  expect_identical(far[-seq_len(grep("^# asked", far))], here[-seq_len(from)])
  expect_identical(far[grep("^records", far) + 1:3],
                   c("  database: \"sqlite:veyra.db\"", "  table: answers",
                     "  codebook: veyra.schema.json"))
  dir.create("plans")
  suppressMessages(utils::capture.output(main(
    c("plan", where, "--query", "SELECT * FROM answers", "--out", "plans/p.yml"))))
  read <- read_plan("plans/p.yml")
  expect_identical(nrow(read$survey$data), 0L)
  expect_identical(begun("veyra.csv", "--in-chunks")[-(1:8)], here[-(1:7)])
})
