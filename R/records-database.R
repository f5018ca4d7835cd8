# Records in a database: the database adds up, and only sums come here.

#' Records in a database
#'
#' A table, a view or a query whose records stay where they are: for every table that is
#' asked for, the database adds up the records in one query, and only the sums
#' come here. Nothing is created or changed in the database. Everything that
#' works on a survey works on one of [respondents()]`(dbi_table(...))`; what
#' needs each record by itself says so. A lazy table of dplyr is such a query
#' already: [respondents()] takes it as it is.
#'
#' Conditions of [among()] and numbers cut by [band()] become part of the query
#' where the database can tell them as R does; otherwise the columns that they
#' need are told apart, and R does it on the groups. Answers are joined, ticks
#' read and codes labelled on the groups.
#'
#' @param con (DBI connection, or a lazy table of dplyr) Open. SQLite, PostgreSQL,
#'   MariaDB, DuckDB and ClickHouse are known; any other is spoken to in standard SQL.
#' @param table (string, `DBI::Id()` or `DBI::SQL()`) The name of the table,
#'   view or materialised view, alone or after its schema and a point
#'   (`"survey.answers"`); in DuckDB also the path of files that it reads in
#'   place, such as `"parts/*.parquet"`. Only columns that this user may read
#'   are there, and only those that a table needs are asked for.
#' @param query (string, in place of `table`) One SELECT, with whatever joins, renames
#'   and filters it takes, whose rows are the records. It is a part of every query that
#'   is sent, so what it costs is paid every time; of a slow one, make a table.
#' @param codebook (string or codebook, default none) As in [read_records()].
#' @param unknown ("error" or "missing", default "error") What to do with a
#'   value that the codebook does not know, in a column that a table needs.
#' @param show_sql (TRUE or FALSE, default FALSE) Whether every query is told
#'   before it is sent.
#' @param time_limit (number of seconds, default none) A query that takes longer
#'   is stopped (PostgreSQL, MariaDB, ClickHouse).
#' @param most_groups (number, default option `fairlattice.most_groups`,
#'   5,000,000) Rows that one query may give back.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return A source (class `fairlattice_source`), for [respondents()].
#' @section Errors: `fairlattice_error_no_table`; `fairlattice_error_database`
#'   when the database refuses or breaks off,
#'   with its own words; `fairlattice_error_sums` when two sums of the same do
#'   not agree; `fairlattice_error_changed` when the records change between two
#'   queries; `fairlattice_error_too_many_groups`.
#' @seealso [records_in_chunks()]
#' @export
#' @examplesIf requireNamespace("RSQLite", quietly = TRUE)
#' con <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
#' DBI::dbWriteTable(con, "answers", read.csv(demo_file("veyra.csv")))
#' survey <- dbi_table(con, "answers", codebook = demo_file("veyra.schema.json"))
#' survey <- respondents(survey, weight = weight, stratum = island, cluster = settlement)
#' crosstab(survey, down = ferry, across = island)
#' DBI::dbDisconnect(con)
dbi_table <- function(con, table = NULL, codebook = NULL,
                      unknown = c("error", "missing"), show_sql = FALSE,
                      time_limit = NULL, most_groups = NULL, query = NULL, ...) {
  nothing_else(...)
  call <- environment()
  need_package("DBI", tells("to_read_database"), call)
  if (inherits(con, "tbl_sql")) {
    if (!is.null(table) || !is.null(query))
      stop_input(tells("lazy_table_has_its_query"), "database", call = call)
    query <- query_of_lazy(con, call)
    con <- dbplyr::remote_con(con)
  }
  unknown <- first_of(unknown)
  check_choice(unknown, c("error", "missing"), "unknown", call)
  check_flag(show_sql, "show_sql", call)
  if (!is.null(time_limit)) check_number(time_limit, "time_limit", 0, Inf, call)
  most_groups <- most_groups %||% setting("most_groups")
  check_number(most_groups, "most_groups", 1, Inf, call)
  if (!inherits(con, "DBIConnection") || !DBI::dbIsValid(con))
    stop_input(c(tells("con_open_connection"),
                 i = tells("open_one_dbi_dbconnect")), "database", call = call)
  if (!is.null(query)) {
    if (!is.null(table)) stop_input(tells("table_or_query"), "no_table", call = call)
    table <- query_as_table(query, call)
  }
  named <-
    is.character(table) && length(table) == 1L && !is.na(table) && nzchar(table)
  if (!named && !inherits(table, "Id"))
    stop_input(tells("table_name_table_not", quote_value(table)), "no_table",
               call = call)
  called <- if (!is.null(query)) "query" else if (named) as.character(table) else
    paste(table@name, collapse = ".")
  db <- list(con = con, called = called, dialect = dialect_of(con),
             show_sql = show_sql, time_limit = time_limit,
             most_groups = most_groups, unknown = unknown, of_query = !is.null(query),
             call = call)
  if (!is.null(time_limit) && is.null(db$dialect$limit_time) &&
        is.null(db$dialect$with_settings))
    stop_input(tells("database_no_time_limit_query"), "database", call = call)
  db <- in_one_view(db, with_columns(db, table, call))
  if (is.character(codebook)) codebook <- read_codebook(codebook, called, call)
  db$codebook <- codebook
  db$columns <- coded_groups(db, db$raw, NULL)
  new_source(db$columns,
             about = list(file = sprintf(
                            "%s of %s", if (is.null(query)) paste("table", called) else called,
                            database_name(con))),
             sums = function(sets, measures) database_sums(db, sets, measures),
             coded = function(data, records) coded_groups(db, data, records),
             truth = function(condition, call) {
               sql_condition(db, condition$tree, condition$words, call)
             }, repeats = function(name) repeats_in_database(db, name),
             least = function(name) {
               as.numeric(ask(db,
                              sprintf("SELECT MIN(%s) AS least FROM %s",
                                      sql_column(db, name), db$table), 1)[[1L]])
             }, number = if (!is.null(db$dialect$own_number)) function() {
               as.numeric(DBI::dbGetQuery(con, db$dialect$own_number)[[1L]])
             }, cancel = if (!is.null(db$dialect$cancel)) function(number) {
               db$dialect$cancel(con, number)
             })
}

# One SELECT as it stands in the place of a table; a comment at its end does not reach
# beyond it. Whether it is sound the database says.
query_as_table <- function(query, call) {
  stop_query <- function(...) stop_input(c(...), "database", call = call)
  if (!is.character(query) || length(query) != 1L || is.na(query))
    stop_query(tells("query_one_text", quote_value(query)))
  text <- sub(";\\s*$", "", trimws(query))
  said <- without_quotes_and_comments(text)
  if (!grepl("^[(\\s]*(SELECT|WITH|FROM)\\b", said, ignore.case = TRUE, perl = TRUE))
    stop_query(tells("query_no_select", cut_short(text)))
  if (grepl(";", said, fixed = TRUE))
    stop_query(tells("query_several_statements", cut_short(text)))
  DBI::SQL(sprintf("(%s\n) AS records_asked_for", text))
}

# A text of SQL without what stands in quotes and comments.
without_quotes_and_comments <- function(sql) {
  pattern <- "(?s)'[^']*'|\"[^\"]*\"|`[^`]*`|--[^\n]*|/[*].*?[*]/"
  trimws(gsub(pattern, " ", sql, perl = TRUE))
}

# The query that a lazy table of dplyr stands for. Nothing of it is collected.
query_of_lazy <- function(lazy, call) {
  need_package("dbplyr", tells("to_read_lazy_table"), call)
  as.character(dbplyr::sql_render(lazy))
}

#' @export
as_source.tbl_sql <- function(x) dbi_table(x)

# What the database is called, without who asks and with which password.
database_name <- function(con) {
  info <-
    tryCatch(suppressWarnings(DBI::dbGetInfo(con)), error = function(e) list())
  name <- info$dbname %||% ""
  if (!is.character(name) || length(name) != 1L || !nzchar(name))
    return("a database")
  if (name == ":memory:") "a database in memory" else basename(name)
}

# The table as it is written in a query, and its columns without records
# (`raw`). A name with a point is one of a schema, unless a table is called so.
with_columns <- function(db, table, call) {
  of_schema <- "^([^.]+)[.](.+)$"
  parts <- if (is.character(table) && !inherits(table, "SQL"))
    regmatches(table, regexec(of_schema, table))[[1L]]
  tries <- c(list(table),
             if (length(parts))
               list(DBI::Id(schema = parts[2L], table = parts[3L])))
  for (one in tries) {
    db$named <- one
    db$table <- as.character(DBI::dbQuoteIdentifier(db$con, one))
    columns <- columns_there(db, one)
    if (!length(columns)) next
    db$raw <- first_records(db, columns)
    check_names_there(db$raw, call)
    return(db)
  }
  known <- tryCatch(quietly_asked(DBI::dbListTables(db$con)),
                    error = function(e) character())
  stop_input(c(tells("no_table_user_may_read", db$called,
                     database_name(db$con)),
               if (length(known)) did_you_mean(db$called, known, "tables")),
             "no_table", call = call)
}

# The names of the columns that this user may read, from the database's own
# list; none where there is no such table.
columns_there <- function(db, table) {
  named <- if (inherits(table, "Id")) table@name else
    if (!inherits(table, "SQL")) c(table = as.character(table))
  listed <- if (!is.null(db$dialect$columns) && !is.null(named))
    db$dialect$columns(function(text) db$dialect$quoted(db$con, text), db$table,
                       named[["table"]],
                       if ("schema" %in% names(named)) named[["schema"]])
  if (!is.null(listed)) return(as.character(ask(db, listed, Inf)[[1L]]))
  # one of which there is no list, asked for no records
  there <- if (!inherits(table, "SQL"))
    tryCatch(quietly_asked(DBI::dbExistsTable(db$con, table)),
             error = function(e) NA)
  if (isFALSE(there)) return(character())
  names(ask(db, sprintf("SELECT * FROM %s WHERE 1 = 0", db$table), 1,
            mixed = TRUE))
}

# Columns without records, as the driver gives them; kinds are seen from the
# first thousand records, where so few can be asked for. One that the driver
# cannot read is told when it is asked for, and keeps no other away.
first_records <- function(db, columns) {
  found <- tryCatch(look_at(db, columns),
                    fairlattice_error_database = function(e) {
                      lapply(stats::setNames(columns, columns), function(name) {
                        tryCatch(look_at(db, name)[[1L]],
                                 fairlattice_error_database = function(e) {
                                   logical()
                                 })
                      })
                    })
  list2DF(lapply(stats::setNames(found, columns), function(x) {
    plain_column(x)[0L]
  }), nrow = 0L)
}

# The first records of some columns, or none where a driver may fetch all that
# it is sent.
look_at <- function(db, columns) {
  none <- if (is.null(db$dialect$row_limit("", 0))) " WHERE 1 = 0" else ""
  sql <- sprintf("SELECT %s FROM %s%s",
                 paste(sql_column(db, columns), collapse = ", "), db$table,
                 none)
  in_one_view(db, ask(db, sql, 1000, mixed = TRUE))
}

# What a driver has to say of itself is not for whoever asks for a table.
quietly_asked <- function(code) suppressWarnings(suppressMessages(code))

coded_groups <- function(db, data, records) {
  where <- list(records = records %||% numeric(), find = function(row) NULL)
  coded_columns(data, db$codebook, db$unknown, function(name) where, db$call)
}

# ---- asking ----

# What a query gives, at most `rows` of it, as a list of columns. The database's
# own words stand in the error. A column of numbers and texts, which the driver
# would change, is one unless `mixed`.
ask <- function(db, sql, rows, mixed = FALSE) {
  asked <- sql
  limited <- if (is.finite(rows)) db$dialect$row_limit(sql, rows)
  sql <- limited %||% sql
  set <- !is.null(db$dialect$with_settings)
  if (set) sql <- db$dialect$with_settings(sql, db$time_limit)
  if (db$show_sql) rlang::inform(sql, class = "fairlattice_message")
  stop_query <- function(why) stop_refused(db, sql, why)
  # PostgreSQL's own driver notices by itself (R/records-connect.R)
  if (!inherits(db$con, "PqConnection") && voice$speaks == "command" &&
        !interactive()) {
    end_at_interrupt_kernel(TRUE, tempdir())
    on.exit(end_at_interrupt_kernel(FALSE, ""))
  }
  result <- NULL
  on.exit(add = TRUE,
          if (!is.null(result))
            tryCatch(DBI::dbClearResult(result), error = function(e) NULL))
  withCallingHandlers(tryCatch({
    result <- DBI::dbSendQuery(db$con, sql)
    # a driver may make room for n rows at once
    as.list(DBI::dbFetch(result, n = if (is.null(limited)) rows else -1))
  }, error = function(e) {
    fixed <- set && !is.null(db$time_limit) &&
             grepl("readonly mode", conditionMessage(e), ignore.case = TRUE)
    if (fixed) return(ask_untimed(db, asked, rows, mixed))
    stop_query(conditionMessage(e))
  }), warning = function(w) {
    if (!mixed && grepl("mixed type|coerc", conditionMessage(w)))
      stop_query(conditionMessage(w))
    invokeRestart("muffleWarning")
  })
}

# Of a user who may set nothing, not even a limit of time.
ask_untimed <- function(db, sql, rows, mixed) {
  rlang::inform(words("no_time_limit"),
                class = "fairlattice_message", .frequency = "once",
                .frequency_id = "fairlattice_no_time_limit")
  ask(replace(db, "time_limit", list(NULL)), sql, rows, mixed)
}

stop_refused <- function(db, sql, why) {
  if (!is.null(db$time_limit) &&
        grepl("timeout|time limit|max_execution_time", why,
              ignore.case = TRUE))
    stop_input(c(tells("query_table_took_longer_time", db$called,
                       how_many(db$time_limit, "second")), x = one_line(why),
                 i = tells("ask_fewer_questions_time_raise")), "database",
               sql = sql, call = db$call)
  if (db$of_query)
    stop_input(c(tells("database_refused_query"), x = one_line(why),
                 i = tells("send_query_by_itself")), "database", sql = sql, call = db$call)
  stop_input(c(tells("database_could_not_answer_about", db$called),
               x = one_line(why), i = tells("see_connection_open_user_may")),
             "database", sql = sql, call = db$call)
}

one_line <- function(text) {
  text <- sub("Stack trace:.*", "", gsub("[[:space:]]+", " ", text)) # of the server's own program
  cut_short(trimws(text), 400L)
}

# Statements of the dialect round the queries: a transaction that sees one state
# of the records and cannot write, or within a transaction of the user's own one
# that leaves it as it was.
in_one_view <- function(db, work) {
  tell <- function(statement, failed) {
    tryCatch(quietly_asked(DBI::dbExecute(db$con, statement)), error = failed)
  }
  refused <- function(statement) {
    function(e) stop_refused(db, statement, conditionMessage(e))
  } # also when lost
  inside <- tryCatch(quietly_asked(db$dialect$in_transaction(db$con)),
                     error = refused("whether a transaction is open"))
  around <- db$dialect[[if (inside) "within" else "view"]]
  for (one in around$before) tell(one, refused(one))
  on.exit(for (one in around$after) tell(one, function(e) NULL))
  if (!is.null(db$time_limit) && !is.null(db$dialect$limit_time))
    tell(db$dialect$limit_time(db$time_limit), function(e) NULL)
  work
}

database_sums <- function(db, sets, measures) {
  in_one_view(db, {
    check_same_columns(db,
                       intersect(names(db$raw), columns_asked(sets, measures)))
    parts <- lapply(sets, function(set) query_parts(db, set, measures))
    check_groups_fit(db, lapply(parts, `[[`, "keys"))
    if (db$dialect$grouping_sets && length(sets) > 1L)
      sums_in_sets(db, sets, parts, measures) else
      Map(function(set, one) groups_of(db, ask_by_keys(db, one), set, measures), sets, parts)
  })
}

# The groups of one set of keys. To tell groups by the signs of their weights takes longer than by
# columns alone. Where that counts, the least sign of every group is asked for: most have weights
# above 0 alone, and those of 0 or none are few, so that they are asked for by themselves.
ask_by_keys <- function(db, parts) {
  signs <- intersect(c("sw", "sn"), names(parts$keys))
  by_keys <- function(...) ask_groups(db, sql_query(db, parts, ...))
  if (!db$dialect$slow_keys || !length(signs)) return(by_keys())
  found <- ask_groups(db, sql_query(db, with_least_signs(parts)))
  all_of <- function(columns) as.numeric(unlist(found[columns], use.names = FALSE))
  least <- all_of(signs)
  sums <- all_of(intersect(c("w", "w2"), names(found)))
  # of no records: NA; what has no end is told by its sum
  if (!all(least %in% c(1, 0, -3)) || any(is.nan(sums) | is.infinite(sums))) return(by_keys())
  if (all(least == 1)) return(found)
  if (!identical(signs, "sw") || any(startsWith(names(found), "replicate"))) return(by_keys())
  without_weight(found, by_keys(where = "sw <> 1"), setdiff(names(parts$keys), "sw")) %||% by_keys()
}

# Groups of all weights, and those of weights that are 0 or missing, which add to no sum but that of
# records, by the same keys: what is left of the first, and the second below it. NULL where they do
# not belong together.
without_weight <- function(found, none, keys) {
  counts <- c(as.numeric(found$records), -as.numeric(none$records))
  both <- c(Map(function(a, b) values_below(list(a, b)), found[keys], none[keys]),
            list(records = counts))
  left <- summed_groups(both, keys)$records
  if (length(left) != length(found$records) || any(left < 0)) return(NULL)
  found$records <- left
  found$sw <- rep(1, length(left))
  Map(function(a, b) values_below(list(a[left > 0], b)), found, none[names(found)])
}

columns_asked <- function(sets, measures) {
  unique(c(unlist(lapply(sets, function(set) c(set$columns, names(set$cuts)))),
           unlist(measures)))
}

# Columns that have gone or changed their kind since the source was made, of
# those that are needed now.
check_same_columns <- function(db, columns) {
  stop_changed <- function(name, how) {
    stop_input(c(tells("table_changed_column", db$called, name, how),
                 i = tells("call_dbi_table_again")), "changed", call = db$call)
  }
  if (!length(columns)) return(invisible())
  now <- tryCatch(look_at(db, columns),
                  fairlattice_error_database = function(e) {
                    there <- tryCatch(in_one_view(
                                        db, columns_there(db, db$named)),
                                      fairlattice_error_database = function(e) {
                                        NULL
                                      })
                    gone <- setdiff(columns, there)
                    if (length(there) && length(gone))
                      stop_changed(gone[1L], tells("column_is_gone"))
                    stop(e)
                  })
  kind <- function(data) {
    vapply(data, function(x) class(plain_column(x)[0L])[1L], "")
  }
  other <- columns[kind(db$raw[columns]) != kind(now)]
  if (length(other)) stop_changed(other[1L], tells("column_of_another_kind"))
}

ask_groups <- function(db, sql) {
  found <- ask(db, sql, db$most_groups + 1)
  if (length(found) && length(found[[1L]]) > db$most_groups)
    stop_too_many(db, "more")
  # slices of 64-bit integers are not alike in all versions of the package that
  # makes them
  found[] <- lapply(found, plain_column)
  found
}

stop_too_many <- function(db, how_many) {
  stop_too_many_groups(tells("database_would_send_rows_table", how_many,
                             format_count(db$most_groups)), db$call)
}

# One look at the first records for all sets of keys: from how many of them are
# alike follows how many groups there are in all, were the groups of one size.
check_groups_fit <- function(db, sets) {
  sets <- unique(Filter(length,
                        lapply(sets, function(keys) {
                          unlist(keys, use.names = FALSE)
                        })))
  keys <- unique(unlist(sets))
  if (!length(keys) || is.null(db$dialect$row_limit("", 0))) return(invisible())
  names(keys) <- sprintf("g%d", seq_along(keys))
  size <- 100000
  first <- db$dialect$row_limit(
    sprintf("SELECT %s FROM %s", as_columns(keys), db$table), size)
  for (some in split(sets, (seq_along(sets) - 1L) %/% 100L)) {
    told <- vapply(some, function(set) {
      sprintf("(SELECT COUNT(*) FROM (SELECT DISTINCT %s FROM (%s) AS f) AS g)",
              paste(names(keys)[match(set, keys)], collapse = ", "), first)
    }, "")
    found <- ask(db,
                 sprintf("SELECT (SELECT COUNT(*) FROM (%s) AS f) AS seen, %s",
                         first,
                         paste(sprintf("%s AS s%d", told, seq_along(told)),
                               collapse = ", ")), 1)
    found <- vapply(found, function(x) as.numeric(plain_column(x)), 0)
    check_likely(db, max(found[-1L]), found[[1L]], size)
  }
}

check_likely <- function(db, groups, seen, size) {
  likely <- if (isTRUE(seen == size)) groups_in_all(groups, seen) else 0
  if (likely <= db$most_groups) return(invisible())
  all <- as.numeric(plain_column(ask(db,
                                     sprintf(
                                       "SELECT COUNT(*) AS every_one FROM %s",
                                       db$table), 1)[[1L]]))
  likely <- likely * -expm1(-all / likely)
  if (likely > db$most_groups)
    stop_too_many(db, paste("about", format_count(signif(likely, 2L))))
}

# G groups of one size show G(1 - exp(-m/G)) of them in m records.
groups_in_all <- function(groups, records) {
  if (groups >= records) return(records^2)
  shown <- function(log_size) {
    exp(log_size) * -expm1(-records / exp(log_size)) - groups
  }
  exp(stats::uniroot(shown, log(c(groups / 2, records^2)), tol = 1e-10)$root)
}

# Ids that occur more than once, and their records.
repeats_in_database <- function(db, name) {
  inner <- sprintf(paste(paste("SELECT COUNT(*) AS here FROM (SELECT %s AS k1",
                               "FROM %s) AS f WHERE k1 IS NOT NULL GROUP BY",
                               "k1"), "HAVING COUNT(*) > 1"),
                   sql_whole(db, name), db$table)
  found <- ask(db,
               sprintf("SELECT COUNT(*) AS ids, SUM(here) AS seen FROM (%s) AS g",
                       inner), 1)
  found <- vapply(found, function(x) as.numeric(plain_column(x)), 0)
  c(found[[1L]], if (is.na(found[[2L]])) 0 else found[[2L]])
}

# ---- groups ----

# What came back, as groups (R/tally-source.R); its columns go by the names of
# query_parts().
groups_of <- function(db, found, set, measures) {
  found <- lapply(found, plain_column)
  check_all_there(db, found)
  if (db$dialect$sums_twice) check_sums_twice(db, found)
  key <- sprintf("k%d",
                 seq_len(length(set$columns) + length(set$cuts) +
                           length(set$conditions)))
  of <- split(key,
              rep(c("columns", "cuts", "conditions"),
                  lengths(set[c("columns", "cuts", "conditions")])))
  data <- stats::setNames(found[of$columns], set$columns)
  data[names(set$cuts)] <- found[sprintf("m%d", seq_along(set$cuts))]
  number <- function(name) {
    if (!is.null(found[[name]])) as.numeric(found[[name]])
  }
  sign_of <- function(name) {
    if (!is.null(found[[name]]))
      replace(number(name), which(number(name) == -3), NA)
  }
  records <- number("records")
  list(data = list2DF(as_they_were(data, db$raw), nrow = length(records)),
       kept = lapply(found[of$conditions], function(x) as.numeric(x) == 1),
       records = records, n = number("n") %||% records, w = number("w"),
       w2 = number("w2"), weight = sign_of("sw"), count = sign_of("sn"),
       replicates = if (length(measures$replicates))
         replicate_sums(found, length(measures$replicates)))
}

# A column without a value in a query may come back as another kind than it is.
as_they_were <- function(data, raw) {
  Map(function(x, name) {
    if (is.logical(x) && all(is.na(x)))
      rep(raw[[name]][NA_integer_], length(x)) else x
  }, data, names(data))
}

replicate_sums <- function(found, size) {
  sums <- do.call(cbind,
                  lapply(found[sprintf("replicate%d", seq_len(size))],
                         as.numeric))
  replicates_there(sums, as.numeric(found$sr) != 0)
}

# The groups of a set hold every record once: as many as a count of the same
# query says.
check_all_there <- function(db, found) {
  in_groups <- sum(as.numeric(found$records))
  in_all <- as.numeric(found$every_one)
  if (!length(in_all) || all(in_all == in_groups)) return(invisible())
  stop_input(c(tells("database_does_not_add_up", format_count(in_groups),
                     format_count(in_all[1L])),
               i = tells("ask_again_or_report")), "sums", call = db$call)
}

# Sums that were made twice.
check_sums_twice <- function(db, found) {
  apart <- function(x, y) {
    x <- as.numeric(x)
    y <- as.numeric(y)
    any(abs(x - y) > 1e-9 * pmax(abs(x), abs(y)) | is.na(x) != is.na(y),
        na.rm = TRUE)
  }
  third <- function(x) if (!is.null(x)) as.numeric(x) / 3
  wrong <- c(records = apart(found$records, found$records_again),
             count = !is.null(found$n) && apart(found$n, third(found$n_again)),
             weight = !is.null(found$w) && apart(found$w, third(found$w_again)))
  if (!any(wrong)) return(invisible())
  stop_input(c(tells("database_sums_differ",
                     c(records = "records", count = "counts",
                       weight = "weights")[[names(wrong)[wrong][1L]]]),
               x = tells("rounds_sums_go_beyond_what"),
               i = tells("store_weights_double_precision_numbers")), "sums",
             call = db$call)
}

# Many tables from one query, where the database has grouping sets: keys that
# several tables share are sent once.
sums_in_sets <- function(db, sets, parts, measures) {
  batch <- batches_of_sets(parts)
  unlist(lapply(split(seq_along(sets), batch), function(at) {
    keys <- unique(unlist(lapply(parts[at], `[[`, "keys")))
    named <- lapply(parts[at], function(one) {
      sprintf("g%d", match(unlist(one$keys), keys))
    })
    all <- list(keys = stats::setNames(as.list(keys),
                                       sprintf("g%d", seq_along(keys))))
    # numbers that are cut have names of their own in each set
    renamed <-
      Map(function(one, k) renamed_leads(one, k), parts[at], seq_along(at))
    all$from <- unlist(lapply(renamed, `[[`, "from"), recursive = FALSE)
    all$from <- all$from[!duplicated(names(all$from))]
    all$sums <- unlist(lapply(renamed, `[[`, "sums"), recursive = FALSE)
    all$sums <- all$sums[!duplicated(names(all$sums))]
    found <- ask_groups(db, sql_query(db, all, unique_sets(named)))
    grouped <- as.numeric(found$which_set)
    lapply(seq_along(at), function(k) {
      own <- named[[k]]
      bits <- sum(2 ^
                    (length(keys) -
                       which(!seq_along(keys) %in%
                               as.integer(sub("g", "", own)))))
      one <- lapply(found, `[`, grouped == bits)
      out <- c(stats::setNames(one[own], names(parts[[at[k]]]$keys)),
               stats::setNames(one[names(renamed[[k]]$sums)],
                               names(parts[[at[k]]]$sums)), one["every_one"])
      groups_of(db, out, sets[[at[k]]], measures)
    })
  }), recursive = FALSE)
}

# Two tables of the same columns are one set: named twice, its groups would come
# twice.
unique_sets <- function(sets) sets[!duplicated(lapply(sets, sort))]

renamed_leads <- function(parts, k) {
  lead <- grep("^m[0-9]+$", names(parts$sums), value = TRUE)
  new <- sprintf("%sof%d", sub("m", "x", lead), k)
  names(parts$from)[match(sub("m", "x", lead), names(parts$from))] <- new
  parts$sums[lead] <- sprintf("MIN(%s)", new)
  names(parts$sums)[match(lead, names(parts$sums))] <-
    sprintf("%sof%d", lead, k)
  parts
}

# A query has at most thirty keys, since GROUPING() gives a number of 32 bits.
batches_of_sets <- function(parts) {
  batch <- integer(length(parts))
  keys <- character()
  number <- 1L
  for (k in seq_along(parts)) {
    keys <- unique(c(keys, unlist(parts[[k]]$keys)))
    if (length(keys) > 30L || sum(batch == number) >= 12L) {
      number <- number + 1L
      keys <- unlist(parts[[k]]$keys)
    }
    batch[k] <- number
  }
  batch
}
