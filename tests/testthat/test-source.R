# Records that stay where they are: what a source says that cannot answer, or
# would answer wrongly, and that nothing is done to it.

test_that("ids that occur more than once are counted, or it is said that they were not", {
  data <- raw_survey()
  near <-
    respondents(suppressMessages(read_records(demo_file("veyra.csv"))), id = id)
  twice <-
    crosstab(near, ferry)$tally$facts[c("repeated_ids", "repeated_records")]
  expect_gt(twice$repeated_ids, 0)
  for (source in named_sources(data)) {
    expect_equal(crosstab(respondents(source, id = id), ferry)$tally$facts[c("repeated_ids", "repeated_records")],
                 twice)
  }
  few <- respondents(records_in_chunks(folder_of_parts(data),
                                       most_groups = 200), id = id)
  expect_message(crosstab(few, ferry), "was not looked for")
})

test_that(paste("what a database cannot tell as R does is left to R, and",
                "numbers are cut where conditions need it"), {
  db <- dbi_table(sqlite_with(data.frame(
                                n = c(1.5, 2, 3, NA), t = c("a", "B", "b", NA),
                                m = 1:4)), "answers")
  p <- respondents(db)
  told <- function(p) !is.null(p$steps[[1]]$truth)
  expect_true(told(among(p, n > 1)))
  expect_true(told(among(p, t %in% c("a", "b"))))
  expect_false(told(among(p, "t < 'b'")))
  expect_false(told(among(p, n < m)))
  expect_false(told(among(p, sqrt(n) > 1)))
  # sqrt() needs the number whole; a comparison alone needs to know on which
  # side it lies
  expect_identical(needed_for(among(p, sqrt(n) > 1), character())$set$columns,
                   "n")
  banded <- band(among(band(p, n, breaks = 2, into = "half"), half != "x"), m,
                 breaks = c(2, 3))
  set <- needed_for(banded, "m")$set
  expect_identical(set$columns, character())
  expect_identical(set$cuts$n$at, 2)
  expect_identical(set$cuts$m$at, c(2, 3))
  expect_identical(cuts_of_condition(quote(n >= 2 & n != 5 & is.na(n)),
                                     list(n = 1))$n$at, c(2, 2, 5, 5))
  expect_length(cuts_of_condition(quote(n >= 2 & n < m), list(n = 1, m = 1)), 0)
})

# ---- kinds of columns ----

test_that(paste("64-bit numbers, decimals, truths, reserved words, collations",
                "and odd texts are what they are in memory"), {
  data <- data.frame(select = c(TRUE, FALSE, NA, TRUE), check.names = FALSE)
  data[["from \"x\" `y`"]] <- c("Yes", "YES", "yes ", "Z\u00fcrich\\'; --")
  data[["group"]] <- c(1.5, 2.25, 1.5, NA)
  near <- crosstab(respondents(data), "from \"x\" `y`", "group")
  con <- sqlite_with(data,
                     types = c(select = "BOOLEAN",
                               "from \"x\" `y`" = "TEXT COLLATE NOCASE",
                               group = "DECIMAL(5,2)"))
  far <- respondents(dbi_table(con, "answers"))
  expect_same_tally(near, crosstab(far, "from \"x\" `y`", "group"))
  expect_same_tally(crosstab(among(respondents(data),
                                   "`from \"x\" \\`y\\`` == 'Yes'"), "group"),
                    crosstab(among(far, "`from \"x\" \\`y\\`` == 'Yes'"),
                             "group"))
  DBI::dbExecute(con, "CREATE TABLE big (id INTEGER, q TEXT)")
  DBI::dbExecute(con,
                 paste("INSERT INTO big VALUES (9007199254740993, 'a'),",
                       "(9007199254740995, 'b'), (5, 'b')"))
  found <- crosstab(respondents(dbi_table(con, "big")), id, q)$tally
  expect_setequal(found$down$levels,
                  c("9007199254740993", "9007199254740995", "5"))
  skip_if_not_installed("bit64")
  whole <- getExportedValue("bit64", "as.integer64")
  expect_identical(plain_column(whole(c("5", NA, "70000000000"))),
                   c(5, NA, 7e10))
})

test_that("a weight that is no weight is told, with how many records have it", {
  data <- data.frame(w = c(1, 2, -3, -0.5, NA), q = c("a", "b", "a", "b", "b"))
  for (source in named_sources(data, NULL)) {
    expect_error(crosstab(respondents(source, weight = w), q),
                 "not in 2 records", class = "fairlattice_error_weight")
  }
  con <- sqlite_with(data)
  expect_error(crosstab(respondents(dbi_table(con, "answers"), weight = w), q),
               "The least is -3")
  DBI::dbExecute(con, "UPDATE answers SET w = 'much' WHERE w = 2")
  expect_error(crosstab(respondents(dbi_table(con, "answers"), weight = w), q),
               "holds text.*1 record has text")
  expect_error(crosstab(respondents(dbi_table(con, "answers")), w, q),
               "mixed type", class = "fairlattice_error_database")
  DBI::dbExecute(con, "UPDATE answers SET w = NULL")
  expect_error(crosstab(respondents(dbi_table(con, "answers"), weight = w), q),
               "zero or missing in every record")
  text <- folder_of_parts(data.frame(w = c("1", "2", "3", "4,5"), q = "a"))
  expect_error(crosstab(respondents(records_in_chunks(text), weight = w), q),
               "holds text.*Line 2 of \"part-3.csv\" has \"4,5\"")
})

# ---- faults ----

test_that(paste("a database that cannot answer says so in its own words, and",
                "nothing is left half done"), {
  data <- raw_survey()
  con <- sqlite_with(data)
  expect_error(dbi_table(con, "answer"), "Did you mean \"answers\"",
               class = "fairlattice_error_no_table")
  expect_error(dbi_table(1, "answers"), class = "fairlattice_error_database")
  expect_error(dbi_table(con, "answers", time_limit = 3), "no time limit")
  source <- dbi_table(con, "answers", codebook = survey_codebook())
  p <- survey_of(source)
  expect_error(respondents(source, weight = wieght),
               class = "fairlattice_error_no_column")
  expect_error(crosstab(p, ferri, island),
               class = "fairlattice_error_no_column")
  expect_error(regroup(p, ferry, Bad = "Angry"),
               class = "fairlattice_error_no_answer")
  expect_error(one_per(p, id), class = "fairlattice_error_needs_records")
  DBI::dbExecute(con, "UPDATE answers SET ferry = 77 WHERE rowid < 4")
  expect_error(crosstab(p, ferry, island),
               "does not know the value \"77\" (3 records)", fixed = TRUE)
  unknown <- respondents(dbi_table(con, "answers", codebook = survey_codebook(),
                                   unknown = "missing"))
  expect_true("value not in the codebook" %in%
                account_of(crosstab(unknown, ferry, island)$tally)$left_out$detail)
  DBI::dbExecute(con, "ALTER TABLE answers DROP COLUMN leave")
  expect_error(crosstab(p, leave, island), "the column \"leave\" is gone",
               class = "fairlattice_error_changed")
  # what nobody asks for keeps nothing away
  expect_s3_class(crosstab(p, tenure, island), "fairlattice_crosstab")
  DBI::dbExecute(con, "DROP TABLE answers")
  expect_error(crosstab(p, tenure, island), "no such table",
               class = "fairlattice_error_database")
  closed <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  DBI::dbWriteTable(closed, "answers", data)
  gone <- dbi_table(closed, "answers")
  DBI::dbDisconnect(closed)
  expect_error(crosstab(respondents(gone), tenure, island),
               class = "fairlattice_error_database")
})

test_that(paste("records that change between two tables of a book are an",
                "error, and so are sums that do not agree"), {
  groups <- function(records) list(records = records)
  expect_silent(check_same_records(list(groups(c(2, 3)), groups(5))))
  expect_error(check_same_records(list(groups(5), groups(6))),
               class = "fairlattice_error_changed")
  expect_error(check_same_records(list(groups(0))),
               class = "fairlattice_error_no_records")
  sums <- list(n = c(3, 1), w = c(0.6, 2), w2 = c(0.14, 4), weight = c(1, 1))
  expect_silent(check_sums_agree(sums, NULL))
  same <- rep(0.1, 1e6) # whose sums are rounded on the way
  expect_silent(check_sums_agree(list(n = 1e6, w = Reduce(`+`, same),
                                      w2 = Reduce(`+`, same^2), weight = 1),
                                 NULL))
  for (wrong in list(list(w = c(1, 2)), list(w = c(0.6, 2.01)),
                     list(w2 = c(0.4, 4)), list(n = c(2, 1)))) {
                       expect_error(check_sums_agree(
                                      utils::modifyList(sums, wrong), NULL),
                                    class = "fairlattice_error_sums")
                     }
  db <- list(call = NULL)
  good <- list(records = 3, records_again = 3, w = 0.1, w_again = 0.1 * 3)
  expect_silent(check_sums_twice(db, good))
  expect_error(check_sums_twice(db, replace(good, "w_again", 0.4)),
               "two sums of the same weights", class = "fairlattice_error_sums")
  expect_error(check_sums_twice(db, replace(good, "records_again", 2)),
               "two sums of the same records")
  expect_error(check_sums_twice(db,
                                c(good,
                                  list(n = 2^31 - 1, n_again = -2147483648))),
               "two sums of the same counts")
})

test_that("a table of too many groups is refused before it is asked for", {
  con <- sqlite_with(data.frame(cluster = seq_len(150000),
                                q = rep(c("a", "b"), 75000)))
  sent <- character()
  listen <- function(code) {
    withCallingHandlers(code, fairlattice_message = function(m) {
      sent <<- c(sent, conditionMessage(m))
      rlang::cnd_muffle(m)
    })
  }
  few <- respondents(dbi_table(con, "answers", most_groups = 1e5,
                               show_sql = TRUE), cluster = cluster)
  expect_error(listen(crosstab(few, q)), "about 150,000 rows",
               class = "fairlattice_error_too_many_groups")
  expect_false(any(grepl("GROUP BY k1, k2 LIMIT", sent)))
  # what the look at the first records did not foresee is stopped when it comes
  sorted <- respondents(dbi_table(con, "answers", most_groups = 1), stratum = q)
  expect_error(crosstab(sorted, q), class = "fairlattice_error_too_many_groups")
  chunks <- records_in_chunks(
    folder_of_parts(data.frame(cluster = 1:500, q = "a")), most_groups = 300)
  expect_error(crosstab(respondents(chunks, cluster = cluster), q),
               class = "fairlattice_error_too_many_groups")
  for (G in c(2000, 2e5, 3e6)) {
    expect_equal(groups_in_all(G * -expm1(-1e5 / G), 1e5), G, tolerance = 1e-3)
  }
})

test_that("nothing that a name, an answer or a condition holds is ever run by the database", {
  hostile <- c("'; DROP TABLE answers; --", "\"; DELETE FROM answers; --",
               "x' OR '1'='1", "`; DROP TABLE answers", "a\\'b", "%s%n",
               "/* */ UNION SELECT 1", "Robert'); DROP TABLE answers;--",
               "\u201c\u2019; DROP", "1) FROM answers; --")
  data <- data.frame(q = rep(hostile, 4), w = 1, stringsAsFactors = FALSE)
  names(data)[2] <- hostile[2]
  for (name in hostile[-2]) data[[name]] <- rep(c("u", "v"), 20)
  all <- data
  for (engine in names(engines)) {
    # ClickHouse's driver cannot write a column with a backtick or a backslash
    # in its name
    data <- if (engine == "clickhouse") all[!grepl("[`\\\\]", names(all))] else
      all
    con <- engines[[engine]](data)
    if (is.null(con)) next
    before <- DBI::dbGetQuery(con, "SELECT COUNT(*) AS n FROM answers")$n
    tables <- sort(DBI::dbListTables(con))
    sent <- character()
    withCallingHandlers({
      p <- respondents(dbi_table(con, "answers", show_sql = TRUE),
                       weight = !!hostile[2])
      near <- respondents(data, weight = !!hostile[2])
      for (name in setdiff(names(data), c("q", hostile[2]))) {
        expect_same_tally(crosstab(near, "q", !!name), crosstab(p, "q", !!name),
                          paste(engine, name))
      }
      for (answer in hostile) {
        keep <- function(p) {
          crosstab(among(p,
                         q == answer | q != !!answer & q %in% c(answer, "x")),
                   q, keep_empty = TRUE)
        }
        expect_same_tally(keep(near), keep(p), paste(engine, answer))
      }
    }, fairlattice_message = function(m) {
      sent <<- c(sent, conditionMessage(m))
      rlang::cnd_muffle(m)
    })
    # MariaDB gives a query what it needs in front of it
    bare <- sub("^SET STATEMENT [a-z_0-9=, ]+ FOR ", "", sent)
    expect_true(all(startsWith(bare, "SELECT ")))
    expect_equal(DBI::dbGetQuery(con, "SELECT COUNT(*) AS n FROM answers")$n,
                 before)
    expect_identical(sort(DBI::dbListTables(con)), tables)
  }
  con <- sqlite_with(data)
  for (condition in hostile) {
    expect_error(among(respondents(dbi_table(con, "answers")), !!condition),
                 class = "fairlattice_error")
  }
})

test_that("a server's time limit and its refusals are told", {
  con <- postgres_with(data.frame(q = rep(c("a", "b"), 2000), n = 1:4000))
  skip_if(is.null(con), "no PostgreSQL server for the tests")
  DBI::dbExecute(con,
                 paste("CREATE OR REPLACE VIEW slow AS SELECT q, n,",
                       "pg_sleep(0.002) IS NULL AS late FROM answers"))
  withr::defer(DBI::dbExecute(con, "DROP VIEW slow"), priority = "first")
  slow <- respondents(dbi_table(con, "slow", time_limit = 0.5))
  expect_error(crosstab(among(slow, "late == 'x' | n > 0"), q),
               class = "fairlattice_error")
  expect_error(crosstab(slow, q, late),
               "time limit of 0.5 seconds.*statement timeout",
               class = "fairlattice_error_database")
  # nothing can be written in the view that the records are read in
  refused <- NULL
  db <- list(con = con, dialect = dialect_of(con), time_limit = NULL)
  in_one_view(db,
              refused <- tryCatch(DBI::dbExecute(con, "DELETE FROM answers"),
                                  error = conditionMessage))
  expect_match(refused, "read-only")
  # a transaction of the user's own is as it was, also after a query that failed
  DBI::dbExecute(con, "BEGIN")
  DBI::dbExecute(con, "CREATE TABLE kept (q integer)")
  expect_s3_class(crosstab(respondents(dbi_table(con, "answers")), q),
                  "fairlattice_crosstab")
  expect_error(crosstab(slow, q, late), "statement timeout")
  DBI::dbExecute(con, "INSERT INTO kept VALUES (1)")
  DBI::dbExecute(con, "COMMIT")
  expect_identical(DBI::dbGetQuery(con, "SELECT q FROM kept")$q, 1L)
  DBI::dbExecute(con, "DROP TABLE kept")
  DBI::dbExecute(con, "DROP ROLE IF EXISTS guest")
  DBI::dbExecute(con, "CREATE ROLE guest")
  DBI::dbExecute(con, "SET ROLE guest")
  expect_error(dbi_table(con, "answers"), "that this user may read",
               class = "fairlattice_error_no_table")
  expect_error(crosstab(slow, q), "permission denied",
               class = "fairlattice_error_database")
  DBI::dbExecute(con, "RESET ROLE")
  # the connection is sound
  expect_s3_class(crosstab(respondents(dbi_table(con, "answers")), q),
                  "fairlattice_crosstab")
})

test_that("DuckDB reads files in place, and leaves a transaction of the user's own as it was", {
  con <- duckdb_with(data.frame(q = c("a", "b")))
  skip_if(is.null(con), "DuckDB is not installed")
  DBI::dbExecute(con, "BEGIN TRANSACTION")
  DBI::dbExecute(con, "CREATE TABLE kept (q integer)")
  expect_s3_class(crosstab(respondents(dbi_table(con, "answers")), q),
                  "fairlattice_crosstab")
  DBI::dbExecute(con, "COMMIT")
  expect_true(DBI::dbExistsTable(con, "kept"))
  data <- raw_survey()
  folder <- folder_of_parts(data, ending = ".parquet")
  words <- c("crosstab", "--codebook", survey_codebook(), "--down", "ferry",
             "--across", "tenure", "--weight", "weight")
  told <- function(...) {
    utils::capture.output(suppressMessages(main(c(words, ...))))
  }
  expect_identical(told("--database", "duckdb::memory:", "--table",
                        file.path(folder, "*.parquet")),
                   told(demo_file("veyra.csv")))
})

test_that("a time limit stops a query of ClickHouse", {
  con <- clickhouse_with(data.frame(q = 1:5000))
  skip_if(is.null(con), "no ClickHouse servers for the tests")
  DBI::dbExecute(con, "DROP TABLE IF EXISTS slow")
  DBI::dbExecute(con,
                 paste("CREATE VIEW slow AS SELECT q, toInt32((q +",
                       "sleepEachRow(0.0005)) % 3) AS r FROM answers"))
  withr::defer(DBI::dbExecute(con, "DROP TABLE slow"), priority = "first")
  expect_error(crosstab(respondents(dbi_table(con, "slow", time_limit = 1)), r),
               "Timeout exceeded: [^\n]*maximum: 1[.]\n",
               class = "fairlattice_error_database")
})

test_that("a connection that is lost in the middle is an error, and no table comes of it", {
  con <- postgres_with(data.frame(q = c("a", "b"), p = c("u", "v")))
  skip_if(is.null(con), "no PostgreSQL server for the tests")
  lost <- DBI::dbConnect(driver_of("RPostgres", "Postgres"))
  survey <- respondents(dbi_table(lost, "answers"))
  process <- DBI::dbGetQuery(lost, "SELECT pg_backend_pid() AS id")$id
  DBI::dbGetQuery(con, sprintf("SELECT pg_terminate_backend(%d)", process))
  expect_error(crosstab(survey, q, p), class = "fairlattice_error_database")
  suppressWarnings(DBI::dbDisconnect(lost))
})

test_that("an interrupt ends the command at once, and the query at the server", {
  skip_on_os("windows")
  # from the moment on that the sums were asked for
  interrupted <- function(database) {
    out <- withr::local_tempfile(fileext = ".html")
    process <- processx::process$new(
      "bash",
      c("-c",
        paste("exec",
              program(
                "crosstab", "--database", database, "--table", "slow", "--down",
                "q", "--across", "r",
                "--show-sql", "--out", out))), stderr = "|")
    withr::defer(process$kill())
    told <- character()
    for (look in 1:300) {
      told <- c(told, process$read_error_lines())
      if (any(grepl("GROUP BY", told))) break
      Sys.sleep(0.1)
    }
    Sys.sleep(0.2)
    process$signal(tools::SIGINT)
    process$wait(10000)
    expect_false(process$is_alive())
    expect_true(process$get_exit_status() %in% c(130L, -tools::SIGINT))
    told <- process$read_all_error_lines()
    expect_match(told, "^fairlattice: interrupted$", all = FALSE)
    expect_false(file.exists(out))
  }
  folder <- withr::local_tempdir()
  path <- file.path(folder, "slow.db")
  con <- DBI::dbConnect(RSQLite::SQLite(), path)
  DBI::dbExecute(con,
                 paste("CREATE VIEW slow AS WITH RECURSIVE numbers(i) AS",
                       "(SELECT 1 UNION ALL SELECT i + 1 FROM numbers WHERE i < 1e11)",
                       "SELECT i % 2 AS q, i % 3 AS r FROM numbers"))
  DBI::dbDisconnect(con)
  interrupted(paste0("sqlite:", path))
  con <- postgres_with(data.frame(q = 1))
  skip_if(is.null(con), "no PostgreSQL server for the tests")
  DBI::dbExecute(con,
                 paste("CREATE VIEW slow AS SELECT i % 2 AS q,",
                       # not slow where the groups are looked at beforehand
                       "CASE WHEN i > 100000 AND pg_sleep(0.1) IS NULL THEN 1 ELSE 2 END AS r",
                       "FROM generate_series(1, 200000) AS numbers(i)"))
  withr::defer(DBI::dbExecute(con, "DROP VIEW slow"), priority = "first")
  connection <- file.path(folder, "server.yml")
  server <-
    c(host = "PGHOST", port = "PGPORT", dbname = "PGDATABASE", user = "PGUSER")
  writeLines(c("database: postgresql",
               sprintf("%s: %s", names(server), Sys.getenv(server))),
             connection)
  interrupted(connection)
  busy <- DBI::dbGetQuery(con,
                          paste("SELECT query FROM pg_stat_activity WHERE",
                                "state = 'active' AND pid <> pg_backend_pid()"))
  expect_false(any(grepl("slow", busy$query)))
})

test_that(paste("enumerations, fixed-length texts and numbers that are no",
                "numbers come from PostgreSQL as in memory"), {
  con <- postgres_with(data.frame(q = c("a", "b")))
  skip_if(is.null(con), "no PostgreSQL server for the tests")
  DBI::dbExecute(con, "DROP TABLE IF EXISTS kinds")
  DBI::dbExecute(con, "DROP TYPE IF EXISTS mood")
  DBI::dbExecute(con, "CREATE TYPE mood AS ENUM ('low', 'high')")
  DBI::dbExecute(con,
                 "CREATE TABLE kinds (m mood, b boolean, d numeric(10, 2), f double precision,
    i bigint, c char(4), t timestamptz)")
  DBI::dbExecute(con,
                 "INSERT INTO kinds VALUES ('low', true, 1.50, 'NaN', 5000000000, 'ab', now()),
    ('high', false, 2.25, 1, 7, 'cd', now()),
    ('low', NULL, 1.50, 2, 7, NULL, NULL), (NULL, true, NULL, NULL, NULL, 'ab', NULL)")
  data <- data.frame(m = c("low", "high", "low", NA),
                     b = c(TRUE, FALSE, NA, TRUE), d = c(1.5, 2.25, 1.5, NA),
                     f = c(NaN, 1, 2, NA), i = c(5e9, 7, 7, NA))
  near <- respondents(data)
  far <- respondents(suppressWarnings(dbi_table(con, "kinds")))
  expect_same_tally(crosstab(near, m, b), crosstab(far, m, b))
  expect_same_tally(crosstab(near, d, i), crosstab(far, d, i))
  expect_same_tally(crosstab(respondents(data, weight = d), m),
                    crosstab(respondents(far$records, weight = d), m))
  expect_same_tally(crosstab(among(near, f > 0.5), m),
                    crosstab(among(far, f > 0.5), m))
  expect_error(crosstab(far, t, m), class = "fairlattice_error_column_type")
})

# ---- connections and the command line ----

test_that("a connection is described without a password, and says what is wrong with it", {
  folder <- withr::local_tempdir()
  data <- data.frame(q = c("a", "b", "b"), p = c("u", "v", "v"))
  path <- file.path(folder, "veyra.db")
  con <- DBI::dbConnect(RSQLite::SQLite(), path)
  DBI::dbWriteTable(con, "answers", data)
  DBI::dbDisconnect(con)
  written <- function(...) {
    file <- tempfile(fileext = ".yml", tmpdir = folder)
    writeLines(c(...), file)
    file
  }
  con <- connect_database(written("database: sqlite", "file: veyra.db"), folder)
  expect_error(DBI::dbExecute(con, "DROP TABLE answers"), "readonly")
  DBI::dbDisconnect(con)
  refused <- list("holds no password" = written(
                    "database: postgresql", "password: secret"),
                  "Did you mean \"sqlite\"" = written(
                    "database: sqlit", "file: veyra.db"),
                  "no key \"dbhost\"" = written(
                    "database: postgresql", "dbhost: x"),
                  "lacks the key \"database\"" = written("file: veyra.db"),
                  "no variable \"FL_NOT_THERE\"" = written(
                    "database: sqlite", "file: veyra.db",
                    "password_from: FL_NOT_THERE"),
                  "There is no database \"none.db\"" = "sqlite:none.db",
                  "names no database" = "veyra",
                  "There is no file" = "none.yml",
                  "Tags" = written("database: !expr stop()"))
  for (why in names(refused)) {
    expect_error(connect_database(refused[[why]], folder), why, fixed = TRUE)
  }
  skip_if(!has_driver("RPostgres"), "no driver of PostgreSQL")
  withr::local_envvar(FL_SECRET = "hush-hush")
  nowhere <- written("database: postgresql", "host: 127.0.0.1", "port: 1",
                     "user: hush-hush", "password_from: FL_SECRET")
  message <- tryCatch(connect_database(nowhere), error = conditionMessage)
  expect_match(message, "cannot be reached")
  expect_identical(without_password("no entry for hush-hush at host",
                                    "hush-hush"), "no entry for *** at host")
  expect_no_match(message, "hush-hush")
})

test_that(paste("the command line and a plan give the same table from a",
                "database, from chunks and from a file"), {
  folder <- withr::local_tempdir()
  withr::local_dir(folder)
  for (name in c("veyra.csv", "veyra.schema.json")) {
    file.copy(demo_file(name), name)
  }
  con <- DBI::dbConnect(RSQLite::SQLite(), "veyra.db")
  DBI::dbWriteTable(con, "answers", raw_survey())
  DBI::dbDisconnect(con)
  words <- c("--codebook", "veyra.schema.json", "--down", "ferry", "--across",
             "age", "--band", "age=18,35,65", "--among", "age >= 18",
             "--weight", "weight", "--stratum", "island", "--cluster",
             "settlement")
  told <- function(...) {
    withr::local_envvar(NO_COLOR = "1")
    text <- utils::capture.output(
      status <- suppressMessages(main(c("crosstab", ...))))
    list(status, text)
  }
  here <- told("veyra.csv", words)
  expect_identical(told("--database", "sqlite:veyra.db", "--table", "answers",
                        words), here)
  expect_identical(told("veyra.csv", "--in-chunks", words), here)
  sent <- utils::capture.output(
    main(c("crosstab", "--database", "sqlite:veyra.db", "--table", "answers",
           "--show-sql", words)), type = "message")
  expect_true(any(grepl("GROUP BY k1, k2, k3, k4, k5, sw", sent)))
  wrong <- function(...) {
    paste(utils::capture.output(main(c("crosstab", ...)), type = "message"),
          collapse = " ")
  }
  expect_match(wrong("veyra.csv", "--table", "answers", "--down", "ferry"),
               "needs --database")
  expect_match(wrong("--database", "sqlite:veyra.db", "--down", "ferry"),
               "needs --table")
  expect_match(wrong("veyra.csv", "--database", "sqlite:veyra.db", "--table",
                     "answers", "--down", "ferry"), "one word too many")
  plan <- function(records) {
    writeLines(c(records,
                 "asked: {weight: weight, stratum: island, cluster: settlement}",
                 "prepare:",
                 "  - band: {question: age, breaks: [18, 35, 65], into: ages}",
                 "among: age >= 18", "across: [island, tenure]", "chapters:",
                 "  - title: One", "    tables: [{questions: [ferry, ages]}]"),
               "own.plan.yml")
    as.data.frame(summary(book("own.plan.yml")))
  }
  memory <- plan("records: veyra.csv")
  expect_equal(plan(c("records:", "  database: sqlite:veyra.db",
                      "  table: answers", "  codebook: veyra.schema.json")),
               memory)
  expect_equal(plan(c("records:", "  file: veyra.csv", "  in_chunks: true")),
               memory)
  expect_error(plan(c("records:", "  database: sqlite:veyra.db")),
               "needs \"table\"")
})
