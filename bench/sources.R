# Records that stay where they are: files in chunks against data.table's bare
# reading, databases against their own plain grouped query, and how both grow.
# Prints ratios of one run; what it finds is in docs/SCALE.md.
#   Rscript bench/sources.R             20 million records, some minutes
#   Rscript bench/sources.R --databases the databases alone
#   Rscript bench/sources.R --files     the files alone
#   Rscript bench/sources.R --full      100 million records in files (12 GB of disk for all)
suppressPackageStartupMessages(library(fairlattice))
args <- commandArgs(trailingOnly = TRUE)
full <- "--full" %in% args
files_too <- !"--databases" %in% args
folder <- Sys.getenv("FAIRLATTICE_BENCH_FOLDER", tempfile("sources-"))
dir.create(folder, showWarnings = FALSE)
data.table::setDTthreads(2)
if (!nzchar(Sys.getenv("FAIRLATTICE_BENCH_FOLDER")))
  reg.finalizer(globalenv(), function(e) unlink(folder, TRUE), TRUE)

seconds <- function(code) {
  gc()
  system.time(code)[["elapsed"]]
}

# Twelve columns; clusters lie within 50 strata.
records <- function(n, seed, clusters = 5000) {
  set.seed(seed)
  cluster <- sample.int(clusters, n, TRUE)
  data.table::data.table(
    id = seq_len(n) + as.integer(n * (seed - 1)),
    stratum = 1L + (cluster - 1L) %/% max(1, clusters / 50), cluster = cluster,
    weight = round(rlnorm(n, 0, 0.5), 4), age = 15L + sample.int(80L, n, TRUE),
    region = sample.int(8L, n, TRUE),
    ferry = sample.int(5L, n, TRUE), tenure = sample.int(4L, n, TRUE),
    heating = sample(c("Electric", "Oil", "Gas", "Wood", "Heat pump"), n, TRUE),
    leave = sample.int(2L, n, TRUE),
    income = round(rlnorm(n, 10, 1)), month = sample.int(12L, n, TRUE))
}
part <- function(k, n = 1e7, ...) {
  path <- file.path(folder, sprintf("part-%02d.csv", k))
  if (!file.exists(path)) data.table::fwrite(records(n, k, ...), path)
  path
}
asked <- function(source) {
  respondents(source, weight = weight, stratum = stratum, cluster = cluster)
}
columns <- c("stratum", "cluster", "weight", "region", "ferry")

# ---- files ----

if (files_too) {
  cat("Files: a weighted 5 x 8 table, 5,000 clusters\n")
  sizes <- c(1e6, 1e7, if (full) 1e8 else 2e7)
  for (n in sizes) {
    files <- if (n < 1e7) {
      path <- file.path(folder, "small.csv")
      if (!file.exists(path)) data.table::fwrite(records(n, 1), path)
      path
    } else {
      vapply(seq_len(n / 1e7), part, "")
    }
    bare <- seconds(for (file in files) {
                      data.table::fread(file, select = columns, nThread = 2L,
                                        showProgress = FALSE)
                      NULL
                    })
    # in a process of its own, whose memory is told
    own <- callr::r(function(files) {
      library(fairlattice)
      time <- system.time(crosstab(respondents(
                                     records_in_chunks(files), weight = weight,
                                     stratum = stratum, cluster = cluster),
                                   ferry, region))[["elapsed"]]
      most <- grep("VmHWM", readLines("/proc/self/status"), value = TRUE)
      list(time = time, memory = as.numeric(gsub("[^0-9]", "", most)) / 1024)
    }, list(files))
    cat(sprintf(paste("  %11s records: data.table reads in %.1f s, the table",
                      "takes %.1f s (ratio %.2f), at most %.0f MB\n"),
                format(n, big.mark = ",", scientific = FALSE), bare, own$time,
                own$time / bare, own$memory))
  }

  cat("Parquet and JSON lines: the same table, 5,000 clusters and none; the least of three\n")
  taken <- function(files, bare) {
    surveys <- list(clusters = asked(records_in_chunks(files)),
                    plain = respondents(records_in_chunks(files), weight = weight))
    times <- vapply(1:3, function(k) {
      c(bare = seconds(bare()), vapply(surveys, function(survey) {
        seconds(crosstab(survey, ferry, region))
      }, 0))
    }, numeric(3L))
    apply(times, 1L, min)
  }
  for (n in c(1e6, 1e7)) {
    files <- file.path(folder, sprintf("%s-%d.parquet", format(n), 1:4))
    if (!all(file.exists(files)))
      for (k in 1:4) nanoparquet::write_parquet(as.data.frame(records(n / 4, k)), files[k])
    took <- taken(files, function() {
      for (file in files) nanoparquet::read_parquet(file, columns)
    })
    cat(sprintf("  Parquet, %.0f million: bare %.2f s, clusters %.2f (%.2f), none %.2f (%.2f)\n",
                n / 1e6, took[[1]], took[[2]], took[[2]] / took[[1]], took[[3]],
                took[[3]] / took[[1]]))
  }
  lines <- file.path(folder, "records.jsonl")
  if (!file.exists(lines))
    jsonlite::stream_out(as.data.frame(records(1e6, 1)), file(lines), verbose = FALSE)
  some <- readLines(lines, 50000L)
  parsed <- seconds(jsonlite::fromJSON(paste0("[", paste(some, collapse = ","), "]"))) * 20
  took <- taken(lines, function() NULL)
  cat(sprintf("  JSON lines, 1 million: the parser %.1f s, clusters %.2f, none %.2f (%.0f times)\n",
              parsed, took[[2]], took[[3]], parsed / took[[3]]))

  cat("Clusters: 10 million records\n")
  for (clusters in c(10, 1000, 1e5, 1e6)) {
    path <- file.path(folder, "clusters.csv")
    data.table::fwrite(records(1e7, 99, clusters)[, ..columns], path)
    time <- seconds(crosstab(respondents(
                               records_in_chunks(path, most_groups = 2e7),
                               weight = weight, cluster = cluster), ferry))
    cat(sprintf("  %9s clusters: %.1f s\n",
                format(clusters, big.mark = ",", scientific = FALSE), time))
    unlink(path)
  }

  cat("Tables: one pass over 1 million records, no design\n")
  small <- respondents(records_in_chunks(file.path(folder, "small.csv")),
                       weight = weight)
  questions <- c("region", "ferry", "tenure", "heating", "leave", "month")
  pairs <- combn(questions, 2L)
  for (tables in c(1, 10, 100, 1000)) {
    made <- lapply(seq_len(tables), function(k) {
      # the same pairs again under other names, so that each is a table of its
      # own
      pair <- pairs[, (k - 1) %% ncol(pairs) + 1]
      list(columns = pair,
           cuts = list(age = fairlattice:::new_cuts(
                         below = c(20, 21 + (k - 1) %/% ncol(pairs)))),
           conditions = list())
    })
    time <- seconds(small$records$sums(made, list(weight = "weight")))
    cat(sprintf("  %5d tables: %.1f s\n", tables, time))
  }
}

# ---- databases ----

if ("--files" %in% args) quit(save = "no")
plain <- paste("SELECT stratum, cluster, ferry, region, COUNT(*) AS n, SUM(weight) AS w,",
               paste("SUM(weight * weight) AS w2 FROM answers GROUP BY",
                     "stratum, cluster, ferry, region"))
# In turn, so that a slow minute of the machine falls on both; the least of
# each.
held <- function(name, con, times = 5L) {
  survey <- asked(dbi_table(con, "answers"))
  taken <- vapply(seq_len(times), function(k) {
    c(bare = seconds(DBI::dbGetQuery(con, plain)),
      own = seconds(crosstab(survey, ferry, region)))
  }, numeric(2L))
  least <- apply(taken, 1L, min)
  cat(sprintf(paste("  %-10s plain query %.1f s, the table %.1f s: (ours - 0.3",
                    "s) / plain = %.2f; %s rows came back\n"), name,
              least[["bare"]], least[["own"]],
              (least[["own"]] - 0.3) / least[["bare"]],
              format(nrow(DBI::dbGetQuery(con, plain)), big.mark = ",")))
}

cat("Databases: 20 million records, the same table\n")
parts <- vapply(1:2, part, "")
con <- DBI::dbConnect(RSQLite::SQLite(), file.path(folder, "veyra.db"))
if (!DBI::dbExistsTable(con, "answers"))
  for (k in 1:2) {
    DBI::dbWriteTable(con, "answers",
                      as.data.frame(data.table::fread(
                                      parts[k], showProgress = FALSE)),
                      append = k > 1)
  }
held("SQLite", con, times = 2L)
DBI::dbDisconnect(con)

types <- c(id = "bigint", weight = "double precision", heating = "text",
           income = "double precision")
named <- names(data.table::fread(parts[1], nrows = 1))
if (nzchar(Sys.getenv("FAIRLATTICE_POSTGRES")) &&
      requireNamespace("RPostgres", quietly = TRUE)) {
  con <- DBI::dbConnect(RPostgres::Postgres())
  kind <- ifelse(named %in% names(types), types[named], "integer")
  DBI::dbExecute(con,
                 sprintf("CREATE UNLOGGED TABLE answers (%s)",
                         paste(named, kind, collapse = ", ")))
  for (file in parts) system2(
    "psql",
    c("-q", "-c",
      shQuote(sprintf("\\copy answers from '%s' csv header", file))))
  DBI::dbExecute(con, "ANALYZE answers")
  held("PostgreSQL", con)
  DBI::dbDisconnect(con)
}
if (nzchar(Sys.getenv("FAIRLATTICE_MARIADB")) && requireNamespace("RMariaDB", quietly = TRUE)) {
  con <- DBI::dbConnect(RMariaDB::MariaDB(), dbname = "survey", username = "root",
                        unix.socket = Sys.getenv("FAIRLATTICE_MARIADB"))
  kind <- ifelse(named == "heating", "varchar(20)",
                 ifelse(named %in% c("weight", "income"), "double",
                        ifelse(named == "id", "bigint", "integer")))
  DBI::dbExecute(con, sprintf("CREATE TABLE answers (%s)", # `leave` is a word of its own there
                              paste0("`", named, "` ", kind, collapse = ", ")))
  Sys.chmod(folder, "0755") # the server reads the files itself
  for (file in parts)
    DBI::dbExecute(con, sprintf(paste("LOAD DATA INFILE '%s' INTO TABLE answers FIELDS",
                                      "TERMINATED BY ',' IGNORE 1 LINES"), file))
  DBI::dbExecute(con, "ANALYZE TABLE answers")
  held("MariaDB", con, times = 2L)
  DBI::dbDisconnect(con)
}
port <- as.integer(Sys.getenv("FAIRLATTICE_CLICKHOUSE_PORT"))
if (!is.na(port) && requireNamespace("RClickhouse", quietly = TRUE)) {
  kind <- ifelse(named == "heating", "String",
                 ifelse(named %in% c("weight", "income"), "Float64",
                        ifelse(named == "id", "Int64", "Int32")))
  for (k in 1:2) {
    con <- suppressWarnings(DBI::dbConnect(
                              RClickhouse::clickhouse(), host = "127.0.0.1",
                              port = port + 10L * (k - 1L)))
    DBI::dbExecute(con,
                   sprintf(paste("CREATE TABLE here (%s) ENGINE = MergeTree()",
                                 "PARTITION BY tuple() ORDER BY id"),
                           paste(named, kind, collapse = ", ")))
    system(sprintf(paste("clickhouse-client --port %d --query 'INSERT INTO",
                         "here FORMAT CSVWithNames' < '%s'"),
                   port + 10L * (k - 1L), parts[k]))
    if (k == 1) first <- con
  }
  DBI::dbExecute(first,
                 paste("CREATE TABLE answers AS here ENGINE =",
                       "Distributed(islands, default, here, rand())"))
  held("ClickHouse", first)
}
