# A source that is asked in a process of its own: the same sums, and what nobody
# waits for any more is given up, here and at the server; on the desk the next
# act does not wait for the one before.

# A view of `answers` whose column `ferry` takes seconds a record once the table
# `slow` says 1.
slow_views <- c(
  sqlite = paste("CASE WHEN (WITH RECURSIVE c(x) AS (SELECT 1 UNION ALL SELECT x + 1 FROM c",
                 "WHERE x < s.slow * 20000000) SELECT MAX(x) FROM c) > 0 THEN ferry END"),
  postgres = "CASE WHEN s.slow = 1 AND pg_sleep(5) IS NULL THEN NULL ELSE ferry END",
  mariadb = "CASE WHEN s.slow = 1 AND SLEEP(5) = 9 THEN NULL ELSE ferry END")
running <- c(
  postgres = paste("SELECT COUNT(*) FROM pg_stat_activity WHERE state = 'active' AND query",
                   "LIKE '%%%s%%' AND pid <> pg_backend_pid()"),
  mariadb = paste("SELECT COUNT(*) FROM information_schema.processlist WHERE info LIKE '%%%s%%'",
                  "AND id <> CONNECTION_ID()"))

# A database that can be opened by name: what opens it, and its connection here.
slow_database <- function(engine, env = parent.frame()) {
  data <- data.frame(ferry = rep(1:5, 12), island = rep(c("Tarn", "Norrey"), 30))
  table <- sprintf("kept_%d", Sys.getpid())
  folder <- withr::local_tempdir(.local_envir = env)
  file <- file.path(folder, "veyra.db")
  con <- if (engine == "sqlite")
    withr::local_db_connection(DBI::dbConnect(RSQLite::SQLite(), file), .local_envir = env) else
    engines[[engine]](data, table, env)
  if (is.null(con)) return(NULL)
  if (engine == "sqlite") DBI::dbWriteTable(con, table, data)
  for (one in c(paste("DROP VIEW IF EXISTS", paste0(table, "_view")),
                paste("DROP TABLE IF EXISTS", paste0(table, "_speed")),
                sprintf("CREATE TABLE %s_speed (slow integer)", table),
                sprintf("INSERT INTO %s_speed VALUES (0)", table),
                sprintf("CREATE VIEW %s_view AS SELECT %s AS ferry, island FROM %s, %s_speed s",
                        table, slow_views[[engine]], table, table)))
    suppressMessages(DBI::dbExecute(con, one))
  withr::defer({
    DBI::dbExecute(con, sprintf("DROP VIEW %s_view", table))
    DBI::dbExecute(con, sprintf("DROP TABLE %s_speed", table))
  }, env)
  words <- switch(engine, sqlite = paste0("sqlite:", file), postgres = , mariadb = {
    said <- if (engine == "postgres")
      list(database = "postgresql", host = Sys.getenv("PGHOST"),
           port = as.integer(Sys.getenv("PGPORT")), dbname = Sys.getenv("PGDATABASE"),
           user = Sys.getenv("PGUSER")) else
      list(database = "mariadb", dbname = "survey", user = "root",
           socket = Sys.getenv("FAIRLATTICE_MARIADB"))
    yaml::write_yaml(said, file.path(folder, "veyra.yml"))
    file.path(folder, "veyra.yml")
  })
  view <- paste0(table, "_view")
  list(con = con, view = view, words = words,
       asked = list(database = words, table = view, unknown = "error"),
       slow = function(slow) {
         DBI::dbExecute(con, sprintf("UPDATE %s_speed SET slow = %d", table, slow))
       },
       # how many queries of the view run at the server
       running = function() {
         as.numeric(DBI::dbGetQuery(con, sprintf(running[[engine]], view))[[1L]])
       })
}

set_of <- function(...) list(list(columns = c(...), cuts = list(), conditions = list()))

test_that("what is asked in another process is the same; what is given up ends at the server", {
  skip_if_not_installed("callr")
  skip_if_not_installed("RSQLite")
  skip_if_not_installed("yaml")
  tried <- 0L
  for (engine in names(slow_views)) {
    db <- slow_database(engine)
    if (is.null(db)) next
    tried <- tried + 1L
    source <- far_records(db$asked)
    over <- FALSE
    waited <- 0L
    apart <- source_apart(source, function() {
      waited <<- waited + 1L
      if (over && waited > 20L && (engine == "sqlite" || db$running() > 0))
        rlang::signal("", "fairlattice_overtaken")
    })
    wanted <- source$sums(set_of("ferry", "island"), list())
    expect_identical(apart$sums(set_of("ferry", "island"), list()), wanted)
    expect_identical(apart$repeats("ferry"), source$repeats("ferry"))
    expect_identical(apart$least("ferry"), 1)
    # its faults are ours, and it stays
    expect_error(apart$sums(set_of("ferry"), list(weight = "none_such")),
                 class = "fairlattice_error")
    over <- TRUE
    waited <- 0L
    db$slow(1)
    expect_null(tryCatch(apart$sums(set_of("ferry"), list()),
                         fairlattice_overtaken = function(e) NULL))
    if (engine != "sqlite") {
      until <- Sys.time() + 3 # of the five seconds of its first record
      while (db$running() > 0 && Sys.time() < until) Sys.sleep(0.05)
      expect_identical(db$running(), 0, info = engine)
    }
    over <- FALSE
    db$slow(0)
    expect_identical(apart$sums(set_of("ferry", "island"), list()), wanted)
  }
  expect_gt(tried, 0L)
})

test_that("files in chunks are asked apart as they are here; what ended is said", {
  skip_if_not_installed("callr")
  source <- records_in_chunks(demo_file("veyra.csv"))
  apart <- source_apart(source, function() NULL)
  figures <- function(source) {
    as.data.frame(crosstab(respondents(source, weight = weight, stratum = island,
                                       cluster = settlement), ferry, island))
  }
  expect_equal(figures(apart), figures(source))
  ended <- source_apart(source, function() {
    get("worker", environment(ended$sums))$session$kill()
  })
  expect_error(ended$repeats("id"), "has ended", class = "fairlattice_error_database")
})

# A request of the page, sent at once and read when it is asked for.
posted <- function(address, name, ..., turn = 1) {
  parts <- regmatches(address, regexec("http://(127.0.0.1):([0-9]+)(/.*)", address))[[1L]]
  con <- socketConnection(parts[2L], as.integer(parts[3L]), blocking = TRUE, open = "r+b",
                          timeout = 60)
  body <- jsonlite::toJSON(list(window = "window0001", turn = turn, ...), auto_unbox = TRUE)
  writeBin(charToRaw(paste0(
    sprintf("POST %s%s HTTP/1.1\r\nHost: %s:%s\r\n", parts[4L], name, parts[2L], parts[3L]),
    "Content-Type: application/json\r\nConnection: close\r\n",
    sprintf("Content-Length: %d\r\n\r\n%s", nchar(body, "bytes"), body))), con)
  con
}
answer_to <- function(con) {
  withr::defer(close(con))
  size <- 0L
  while (length(line <- readLines(con, 1L)) && nzchar(line)) if (grepl("^Content-Length", line, TRUE))
    size <- as.integer(sub(".*: *", "", line))
  text <- raw()
  while (length(text) < size) text <- c(text, readBin(con, "raw", size - length(text)))
  jsonlite::fromJSON(rawToChar(text), simplifyVector = FALSE)
}

test_that("on the desk the next act does not wait for the query of the one before", {
  skip_if_not_installed("httpuv")
  skip_if_not_installed("RSQLite")
  db <- slow_database("sqlite")
  address <- served_desk(c("--database", db$words, "--table", db$view))
  put <- function(question, side, turn) {
    posted(address, "do", act = "put", with = list(question = question, side = side), turn = turn)
  }
  expect_length(answer_to(posted(address, "do", act = "hello", turn = 1))$fault, 0L)
  db$slow(1)
  first <- put("ferry", "down", 2)
  Sys.sleep(1)
  # another window, and the pictures of the questions, are heard meanwhile and wait
  pictures <- posted(address, "pictures", names = list("ferry"), turn = 2)
  expect_identical(answer_to(posted(address, "overtake", turn = 2)), list())
  expect_identical(answer_to(first), list(overtaken = TRUE))
  expect_identical(answer_to(pictures), list(overtaken = TRUE))
  db$slow(0)
  # what was overtaken is done all the same
  found <- answer_to(put("island", "across", 3))
  expect_match(found$parts$table, "<h2[^>]*>ferry by island")
  answer_to(posted(address, "do", act = "undo", turn = 4))
  expect_match(answer_to(posted(address, "do", act = "hello", turn = 5))$parts$table,
               "<h2[^>]*>ferry")
})

test_that("work on several cores gives what one gives, whoever is ended or fails", {
  skip_on_os("windows")
  withr::local_options(fairlattice.threads = 3L)
  here <- Sys.getpid()
  expect_identical(on_cores(c(a = 1, b = 2), function(k) if (k == 2) k), list(a = NULL, b = 2))
  # its whole share is done again, here
  ended <- function(k) {
    if (k == 2 && Sys.getpid() != here) tools::pskill(Sys.getpid(), tools::SIGKILL)
    c(k, Sys.getpid())
  }
  found <- on_cores(1:7, ended)
  expect_identical(vapply(found, `[[`, 0L, 1L), 1:7)
  expect_identical(vapply(found, `[[`, 0L, 2L)[c(1, 2, 4, 5, 7)], rep(here, 5L))
  expect_error(on_cores(1:7, function(k) if (k > 4) stop("of ", k)), "of 5", fixed = TRUE)
  done <- 0
  expect_identical(at_once(function() done <<- done + 1, function() "aside"),
                   list(here = 1, aside = "aside"))
  at_once(function() NULL, function() NULL)
  expect_identical(done, 1)
  expect_identical(at_once(function() NULL, NULL), list(here = NULL))
})
