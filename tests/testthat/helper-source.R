# The same records in memory and wherever else they can be.

survey_of <- function(records) {
  respondents(records, weight = weight, stratum = island, cluster = settlement)
}
raw_survey <- function() utils::read.csv(demo_file("veyra.csv"))
survey_codebook <- function() demo_file("veyra.schema.json")

sqlite_with <- function(data, table = "answers", types = NULL,
                        env = parent.frame()) {
  skip_if_not_installed("RSQLite")
  con <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  withr::defer(DBI::dbDisconnect(con), env)
  DBI::dbWriteTable(con, table, data, field.types = types)
  con
}

# What the scanner makes of a file of text, or with the keys `json` of lines of JSON, in pieces of
# some bytes: how it ended, the cells of the groups as they stand there ("" where there is none),
# and their sums.
scanned <- function(path, columns, piece, threads = 2L, weight = -1L, json = character()) {
  keys <- lapply(seq_len(columns) - 1L, function(k) {
    list(column = k, cut = FALSE, at = numeric(), upto = logical(), apart = numeric())
  })
  # as memory of the system, and read
  both <- lapply(c(TRUE, FALSE), function(mapped) {
    x <- chunked_kernel(",", ".", columns, keys, list(seq_len(columns) - 1L), weight, -1L,
                        integer(), 1e6, threads, json)
    open_chunked_kernel(x, path, piece, mapped)
    repeat if (!(now <- step_chunked_kernel(x, 1L))$more) break
    list(now = now, found = found_chunked_kernel(x))
  })
  expect_identical(both[[1]], both[[2]])
  now <- both[[1]]$now
  found <- both[[1]]$found
  sums <- found$sets[[1]]
  list(now = now, sums = sums, cells = Map(function(texts, codes) c("", texts)[codes + 1L],
                                           found$texts, sums$codes))
}

# Text, in several parts.
folder_of_parts <- function(data, parts = 3L, ending = ".csv",
                            env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  of <- rep(seq_len(parts), length.out = nrow(data))
  for (k in seq_len(parts)) {
    path <- file.path(folder, sprintf("part-%d%s", k, ending))
    part <- data[sort(of) == k, , drop = FALSE]
    if (ending == ".parquet")
      nanoparquet::write_parquet(
        part, path,
        options = nanoparquet::parquet_options(
          num_rows_per_row_group = max(1L, nrow(part) %/% 2L))) else
      if (ending == ".jsonl")
        jsonlite::stream_out(part, file(path), verbose = FALSE) else
        data.table::fwrite(part, path, na = "")
  }
  folder
}

# Drivers that set-up does not install, where they are.
has_driver <- function(package) nzchar(system.file(package = package))
driver_of <- function(package, name) getExportedValue(package, name)()

# A server that was started for the tests (tools/with-databases), or none.
postgres_with <- function(data, table = "answers", env = parent.frame()) {
  if (!nzchar(Sys.getenv("FAIRLATTICE_POSTGRES"))) return(NULL)
  if (!has_driver("RPostgres")) return(NULL)
  driver <- driver_of("RPostgres", "Postgres")
  con <- suppressMessages(suppressWarnings(
    DBI::dbConnect(driver, host = Sys.getenv("PGHOST"),
                   port = as.integer(Sys.getenv("PGPORT")),
                   dbname = Sys.getenv("PGDATABASE"),
                   user = Sys.getenv("PGUSER"))))
  withr::defer(DBI::dbDisconnect(con), env)
  if (DBI::dbExistsTable(con, table)) DBI::dbRemoveTable(con, table)
  DBI::dbWriteTable(con, table, data, row.names = FALSE)
  con
}

mariadb_with <- function(data, table = "answers", env = parent.frame()) {
  socket <- Sys.getenv("FAIRLATTICE_MARIADB")
  if (!nzchar(socket) || !has_driver("RMariaDB")) return(NULL)
  con <- DBI::dbConnect(driver_of("RMariaDB", "MariaDB"), dbname = "survey", username = "root",
                        unix.socket = socket)
  withr::defer(DBI::dbDisconnect(con), env)
  if (DBI::dbExistsTable(con, table)) DBI::dbRemoveTable(con, table)
  DBI::dbWriteTable(con, table, data, row.names = FALSE)
  con
}

clickhouse_with <- function(data, table = "answers", env = parent.frame()) {
  port <- as.integer(Sys.getenv("FAIRLATTICE_CLICKHOUSE_PORT"))
  if (is.na(port) || !has_driver("RClickhouse")) return(NULL)
  con <- lapply(port + c(0L, 10L), function(one) {
    suppressWarnings(DBI::dbConnect(driver_of("RClickhouse", "clickhouse"),
                                    host = "127.0.0.1", port = one))
  })
  withr::defer(for (one in con) DBI::dbDisconnect(one), env)
  kind <- vapply(data, function(x) {
    if (is.integer(x) || is.logical(x)) "Nullable(Int32)" else
      if (is.numeric(x)) "Nullable(Float64)" else "Nullable(String)"
  }, "")
  half <- rep(1:2, length.out = nrow(data))
  here <- paste0(table, "_here")
  for (k in 1:2) {
    for (old in c(here, table)) DBI::dbExecute(
      con[[k]], sprintf("DROP TABLE IF EXISTS `%s`", old))
    DBI::dbExecute(con[[k]],
                   sprintf("CREATE TABLE `%s` (%s) ENGINE = Log", here,
                           paste(paste(DBI::dbQuoteIdentifier(
                             con[[k]], names(data)), kind), collapse = ", ")))
    DBI::dbWriteTable(con[[k]], here, data[half == k, , drop = FALSE],
                      append = TRUE, row.names = FALSE)
  }
  DBI::dbExecute(con[[1L]],
                 sprintf(paste("CREATE TABLE `%s` AS `%s` ENGINE =",
                               "Distributed(islands, default, `%s`, rand())"),
                         table, here, here))
  con[[1L]]
}

duckdb_with <- function(data, table = "answers", env = parent.frame()) {
  if (!has_driver("duckdb")) return(NULL)
  con <- DBI::dbConnect(driver_of("duckdb", "duckdb"))
  withr::defer(DBI::dbDisconnect(con, shutdown = TRUE), env)
  DBI::dbWriteTable(con, table, data)
  con
}

engines <- list(sqlite = sqlite_with, postgres = postgres_with,
                mariadb = mariadb_with, clickhouse = clickhouse_with,
                duckdb = duckdb_with)

# Every source that is here. Files of tests run beside each other, each with a
# table of its own.
named_sources <- function(data, codebook = survey_codebook(),
                          env = parent.frame()) {
  table <- paste0("answers_", Sys.getpid())
  folders <- c(text = ".csv",
               if (requireNamespace("nanoparquet", quietly = TRUE))
                 c(parquet = ".parquet"), lines = ".jsonl")
  chunks <- lapply(folders, function(ending) {
    records_in_chunks(folder_of_parts(data, ending = ending, env = env),
                      codebook = codebook)
  })
  open <- Filter(Negate(is.null),
                 lapply(engines, function(open) open(data, table, env = env)))
  c(chunks, lapply(open, dbi_table, table = table, codebook = codebook))
}

# What can be held against the records in memory: everything but where they came
# from.
bare_tally <- function(x) {
  tally <- if (inherits(x, "fairlattice_tally")) x else x$tally
  # of records elsewhere there are sums alone
  tally$facts[c("source", "differing_ids", "sample")] <- NULL
  tally$design <- Filter(Negate(is.null), tally$design)
  tally$aside <- tally$aside[order(tally$aside$code, tally$aside$detail), ]
  rownames(tally$aside) <- NULL
  tally$aside <- tally$aside[tally$aside$records > 0, ]
  rownames(tally$aside) <- NULL
  tally
}

# Sums of the same numbers in another order differ in their last digits alone.
expect_same_tally <- function(near, far, info = NULL) {
  expect_equal(bare_tally(far), bare_tally(near), tolerance = 1e-12,
               info = info)
}
