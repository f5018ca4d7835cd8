# Databases as a careful administrator sets them up: schemas, views of all
# kinds, grants of columns, limits; and that what an engine gives is held
# against a count of the same.

# Every query that is sent while `code` runs.
queries_of <- function(code) {
  sent <- character()
  withCallingHandlers(code, fairlattice_message = function(m) {
    sent <<- c(sent, conditionMessage(m))
    rlang::cnd_muffle(m)
  })
  sent
}

small_survey <- function() {
  data.frame(wave = rep(1:2, each = 30), smoke = rep(c("yes", "no", "no"), 20),
             island = rep(c("Tarn", "Norrey"), 30),
             ferry = rep(1:5, 12))
}

test_that("two tables of the same columns count everybody once, in every engine", {
  data <- small_survey()
  for (source in named_sources(data, NULL)) {
    survey <- respondents(source, stratum = wave)
    ready <- with_tallies(survey,
                          list(list(down = "smoke", across = NULL),
                               list(down = "smoke", across = "wave"),
                               list(down = "smoke", across = "island"),
                               list(down = "island", across = "smoke")))
    for (x in list(crosstab(ready, smoke), crosstab(ready, smoke, wave),
                   crosstab(ready, island, smoke))) {
      expect_identical(x$tally$records, 60)
      expect_equal(sum(x$layers[[1]]$n), 60)
    }
  }
  sets <- list(list(columns = c("wave", "smoke"), cuts = list(),
                    conditions = list()),
               list(columns = c("smoke", "wave"), cuts = list(),
                    conditions = list()))
  for (source in named_sources(data, NULL)) {
    found <- source$sums(sets, list())
    expect_identical(unname(vapply(found, function(groups) sum(groups$records),
                                   0)), c(60, 60))
  }
  expect_identical(unique_sets(list(c("g1", "g2"), c("g2", "g1"), "g1")),
                   list(c("g1", "g2"), "g1"))
})

test_that("groups that hold more or fewer records than the table are no table", {
  db <- list(call = NULL)
  expect_null(check_all_there(db, list(records = c(2, 3), every_one = c(5, 5))))
  expect_error(check_all_there(db,
                               list(records = c(2, 3, 5),
                                    every_one = c(5, 5, 5))),
               "groups hold 10 records, and the table 5",
               class = "fairlattice_error_sums")
  # an engine that gives its groups twice
  con <- sqlite_with(small_survey())
  twice <- utils::modifyList(dialect_of(con), list(counted_again = TRUE))
  limited <- twice$row_limit
  twice$row_limit <- function(query, rows) {
    if (grepl("every_one", query))
      sprintf("SELECT * FROM (%s) UNION ALL SELECT * FROM (%s)", query,
              query) else limited(query, rows)
  }
  db <- list(con = con, called = "answers", dialect = twice, show_sql = FALSE,
             time_limit = NULL, most_groups = 1e6, unknown = "error",
             call = NULL)
  db <- with_columns(db, "answers", NULL)
  set <-
    list(columns = c("smoke", "island"), cuts = list(), conditions = list())
  expect_error(database_sums(db, list(set), list()),
               "groups hold 120 records, and the table 60",
               class = "fairlattice_error_sums")
})

test_that("one look at the first records for all tables, and only the columns that they need", {
  con <- sqlite_with(cbind(small_survey(), secret = "not asked for"))
  source <- NULL
  looked <- queries_of(source <- dbi_table(con, "answers", show_sql = TRUE))
  expect_length(looked, 2L) # the names of the columns, and their kinds
  survey <- respondents(source)
  asked <- queries_of(crosstab(survey, down = c(smoke, wave),
                               across = c(island, ferry)))
  expect_false(any(grepl("secret|[*] FROM", asked)))
  expect_identical(sum(grepl("DISTINCT", asked)), 1L)
})

test_that(paste("schemas, views, materialised views and names as they stand",
                "are tables, on PostgreSQL"), {
                  con <- postgres_with(small_survey())
                  skip_if(is.null(con), "no PostgreSQL server for the tests")
                  tell <- function(...) {
                    for (one in c(...)) suppressMessages(
                      DBI::dbExecute(con, one))
                  }
                  tell("DROP SCHEMA IF EXISTS field CASCADE",
                       "CREATE SCHEMA field",
                       "CREATE TABLE field.wave_2 AS SELECT * FROM answers",
                       paste("CREATE MATERIALIZED VIEW field.kept AS SELECT *",
                             "FROM field.wave_2 WHERE wave = 2"),
                       "DROP TABLE IF EXISTS \"a.b\"",
                       "CREATE TABLE \"a.b\" AS SELECT * FROM answers")
                  withr::defer(tell("DROP SCHEMA field CASCADE",
                                    "DROP TABLE \"a.b\""), priority = "first")
                  n <- function(table) {
                    crosstab(respondents(dbi_table(con, table)), smoke,
                             island)$tally$records
                  }
                  expect_identical(n("field.wave_2"), 60)
                  expect_identical(n(DBI::Id(
                                       schema = "field", table = "wave_2")), 60)
                  expect_identical(n(DBI::SQL("field.wave_2")), 60)
                  expect_identical(n("field.kept"), 30)
                  expect_identical(n("a.b"), 60) # a name with a point of its own
                  expect_error(dbi_table(con, "field.wave_3"),
                               class = "fairlattice_error_no_table")
                  # on the command line and in a plan
                  folder <- withr::local_tempdir()
                  server <- c(host = "PGHOST", port = "PGPORT",
                              dbname = "PGDATABASE", user = "PGUSER")
                  writeLines(c("database: postgresql",
                               sprintf("%s: %s", names(server),
                                       Sys.getenv(server))),
                             file.path(folder, "server.yml"))
                  run <- call_main("crosstab", "--database",
                                   file.path(folder, "server.yml"), "--table",
                                   "field.kept", "--down", "smoke", "--across",
                                   "island")
                  expect_identical(run$status, 0L)
                  expect_match(run$out, "30 records read")
                  writeLines(c("records:", "  database: server.yml",
                               "  table: field.wave_2", "across: island",
                               "chapters:", "  - title: One",
                               "    tables: [smoke]"),
                             file.path(folder, "p.yml"))
                  expect_identical(book(file.path(folder, "p.yml"),
                                        cache = FALSE)$tables[[1]]$table$tally$records,
                                   60)
                })

test_that(paste("a user who may read some columns reads those, within a time",
                "limit, and writes nothing"), {
  con <- postgres_with(small_survey())
  skip_if(is.null(con), "no PostgreSQL server for the tests")
  run <- function(...) {
    for (one in c(...)) suppressMessages(DBI::dbExecute(con, one))
  }
  run("DROP ROLE IF EXISTS reader", "CREATE ROLE reader LOGIN",
      "REVOKE ALL ON answers FROM reader",
      "GRANT SELECT (smoke, island) ON answers TO reader",
      "ALTER ROLE reader SET default_transaction_read_only = on")
  withr::defer(run("DROP OWNED BY reader", "DROP ROLE reader"),
               priority = "first")
  reader <- suppressWarnings(
    DBI::dbConnect(driver_of("RPostgres", "Postgres"),
                   host = Sys.getenv("PGHOST"),
                   port = as.integer(Sys.getenv("PGPORT")),
                   dbname = Sys.getenv("PGDATABASE"), user = "reader"))
  withr::defer(DBI::dbDisconnect(reader), priority = "first")
  source <- dbi_table(reader, "answers", time_limit = 20)
  expect_setequal(names(source$columns), c("smoke", "island"))
  expect_same_tally(crosstab(respondents(source), smoke, island),
                    crosstab(respondents(small_survey()), smoke, island))
  expect_error(crosstab(respondents(source), smoke, wave),
               class = "fairlattice_error_no_column")
})

test_that("a column that the driver cannot read keeps no other away, on ClickHouse", {
  con <- clickhouse_with(small_survey())
  skip_if(is.null(con), "no ClickHouse servers for the tests")
  run <- function(one) DBI::dbExecute(con, one)
  run("DROP TABLE IF EXISTS priced")
  run("CREATE TABLE priced (smoke String, island String, price Decimal(9, 2)) ENGINE = Log")
  withr::defer(run("DROP TABLE priced"), priority = "first")
  run("INSERT INTO priced SELECT smoke, island, toDecimal32(1.5, 2) FROM answers")
  survey <- respondents(dbi_table(con, "priced"))
  expect_identical(crosstab(survey, smoke, island)$tally$records, 60)
  # read, or refused in its own words
  outcome <-
    tryCatch(crosstab(survey, price, island), fairlattice_error = identity)
  expect_true(inherits(outcome,
                       c("fairlattice_crosstab", "fairlattice_error_database")))
})

test_that(paste("a blank text is no answer in a condition, and an infinite",
                "weight is counted, wherever the records are"), {
  data <- data.frame(a = rep(c("u", "v", "", "  ", NA), 8),
                     b = rep(c("p", "q"), 20), w = rep(c(1, 2, 3, 1), 10))
  near <- crosstab(among(respondents(data), a != "u"), b)
  expect_equal(findings(near)$base$left_out$records[findings(near)$base$left_out$code == "cannot_tell"],
               24)
  for (source in named_sources(data, NULL)) {
    expect_same_tally(crosstab(among(respondents(source), a != "u"), b), near)
    expect_same_tally(crosstab(among(respondents(source), is.na(a)), b),
                      crosstab(among(respondents(data), is.na(a)), b))
  }
  data$w[3] <- Inf
  words <- tryCatch(respondents(data, weight = w), error = function(e) {
    first_line(conditionMessage(e))
  })
  expect_match(words, "is not in 1 record")
  con <- sqlite_with(data)
  expect_error(crosstab(respondents(dbi_table(con, "answers"), weight = w), b),
               words, fixed = TRUE)
})

test_that("a weight that is text is refused in the same words by every source", {
  data <- data.frame(a = rep(c("u", "v"), 6), w = c("much", rep("2", 11)))
  told <- function(source) {
    tryCatch(crosstab(respondents(source, weight = w), a),
             error = function(e) first_line(conditionMessage(e)))
  }
  expect_match(told(data), "holds text")
  for (source in named_sources(data, NULL)) expect_identical(
    told(source), told(data))
})

test_that("what a connection file calls the database goes to the driver by the driver's name", {
  asked <-
    list(database = "odbc", dsn = "archive", dbname = "survey", uid = "analyst")
  expect_identical(driver_arguments(asked, databases$odbc),
                   list(dsn = "archive", database = "survey", uid = "analyst"))
  asked <- list(database = "postgresql", host = "archive", dbname = "survey")
  expect_identical(driver_arguments(asked, databases$postgresql),
                   list(host = "archive", dbname = "survey"))
})

test_that("a database through ODBC is asked as its own driver asks it", {
  if (!has_driver("odbc")) skip("no driver of ODBC is here")
  survey <- raw_survey()
  wanted <- as.data.frame(crosstab(among(survey_of(survey), age >= 30 & island != 4), ferry,
                                   island))
  libraries <- Sys.glob(c("/usr/lib/*/odbc/libsqlite3odbc.so", "/usr/lib/*/odbc/libmaodbc.so"))
  path <- withr::local_tempfile(fileext = ".db")
  socket <- Sys.getenv("FAIRLATTICE_MARIADB")
  tried <- 0
  for (library in libraries) {
    lite <- grepl("sqlite", library)
    if (!lite && !nzchar(socket)) next
    asked <- if (lite) list(driver = library, database = path) else
      list(driver = library, socket = socket, database = "survey", uid = "root")
    con <- do.call(DBI::dbConnect, c(list(driver_of("odbc", "odbc")), asked))
    table <- paste0("by_odbc_", Sys.getpid())
    DBI::dbWriteTable(con, table, survey)
    source <- dbi_table(con, table)
    found <- as.data.frame(crosstab(among(survey_of(source), age >= 30 & island != 4), ferry,
                                    island))
    expect_equal(found, wanted, info = library)
    DBI::dbRemoveTable(con, table)
    DBI::dbDisconnect(con)
    tried <- tried + 1
  }
  if (!tried) skip("no driver of ODBC is here")
})

test_that("where keys are slow, signs of weights are keys only where some are not above 0", {
  survey <- small_survey()
  queries <- function(weights, columns = c("smoke", "island")) {
    survey <- survey[seq_along(weights), ]
    survey$w <- weights
    con <- sqlite_with(survey)
    db <- list(con = con, called = "answers", show_sql = TRUE, time_limit = NULL,
               most_groups = 1e6, unknown = "error", call = NULL)
    of <- function(slow) {
      db$dialect <- utils::modifyList(dialect_of(con), list(slow_keys = slow))
      db <- with_columns(db, "answers", NULL)
      set <- list(columns = columns, cuts = list(), conditions = list())
      sent <- queries_of(sums <- database_sums(db, list(set), list(weight = "w")))
      list(groups = sums[[1L]], signs = grepl("MIN(of_sw)", sent, fixed = TRUE),
           keys = grepl("GROUP BY [k0-9, ]*sw( |$)", sent))
    }
    slow <- of(TRUE)
    quick <- of(FALSE)
    parts <- c("records", "w", "w2", "weight")
    in_order <- function(found) {
      frame <- cbind(found$groups$data, list2DF(found$groups[parts]))
      frame[do.call(order, frame), ]
    }
    expect_equal(in_order(slow), in_order(quick), ignore_attr = "row.names")
    expect_false(any(quick$signs))
    c(least = sum(slow$signs), keys = sum(slow$keys))
  }
  expect_identical(queries(rep(c(0.5, 2), 30)), c(least = 1L, keys = 0L))
  for (odd in c(0, NA, -1))
    expect_identical(queries(c(odd, rep(1, 59))), c(least = 1L, keys = 1L))
  # groups that do not belong together are asked for again
  groups <- list(k1 = c("a", "b"), records = c(3, 2), w = c(2, 2), sw = c(0, 1))
  none <- list(k1 = "a", sw = 0, records = 1, w = 0)
  expect_identical(without_weight(groups, none, "k1"),
                   list(k1 = c("a", "b", "a"), records = c(2, 2, 1), w = c(2, 2, 0),
                        sw = c(1, 1, 0)))
  expect_null(without_weight(groups, replace(none, "k1", "A"), "k1"))
  expect_null(without_weight(groups, replace(none, "records", 4), "k1"))
  # everybody, and nobody
  expect_identical(queries(rep(2, 60), character()), c(least = 1L, keys = 0L))
  expect_identical(queries(numeric(), character()), c(least = 1L, keys = 1L))
})
