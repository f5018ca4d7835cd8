# What a table needs, as one query that adds up. Names and values are quoted by
# the driver, and nothing but SELECT is ever sent, with settings for it alone.

# What is true, false, or not known, and how that goes through &, | and !. Not
# every engine follows the standard in it: as 0, 1 and 2, with 1 for not known,
# they are the smaller, the larger and the complement.
standard_logic <- list(
  leaf = function(x) x, not = function(x) sprintf("(NOT %s)", x),
  and = function(x, y) sprintf("(%s AND %s)", x, y),
  or = function(x, y) sprintf("(%s OR %s)", x, y),
  column = function(x) {
    sprintf("CASE WHEN %s THEN 1 WHEN NOT (%s) THEN 0 END", x, x)
  })
logic_of_three <- list(
  leaf = function(x) sprintf("ifNull(%s * 2, 1)", x),
  not = function(x) sprintf("(2 - %s)", x),
  and = function(x, y) sprintf("least(%s, %s)", x, y),
  or = function(x, y) sprintf("greatest(%s, %s)", x, y),
  column = function(x) {
    sprintf("CASE WHEN %s = 2 THEN 1 WHEN %s = 0 THEN 0 END", x, x)
  })

# How databases differ. `text` compares letter by letter whatever the column's
# collation, `number` is a double or NULL, `broken` tells whether a number has a
# fractional part, `logic` is how conditions are put together. Sums of doubles
# can neither be rounded nor overflow unseen; where it is not known what they
# are, they are made twice (`sums_twice`).
standard_sql <- list(
  text = function(x) x,
  number = function(x) sprintf("CAST(%s AS DOUBLE PRECISION)", x),
  blank = function(x) sprintf("(TRIM(%s) = '')", x), loose = FALSE,
  measured = NULL, broken = function(x) sprintf("(%s <> FLOOR(%s))", x, x),
  sign = NULL, sums_twice = TRUE,
  member = function(x, values) sprintf("(%s IN (%s))", x, values),
  row_limit = function(query, rows) NULL,
  quoted = function(con, text) as.character(DBI::dbQuoteString(con, text)),
  logic = standard_logic, grouping_sets = FALSE,
  in_transaction = function(con) FALSE, view = list(),
  within = list(),
  columns = NULL, # the query that lists the columns of a table that may be read
  # a limit of time as a statement before the queries, or as one of the settings
  # that hold for a query alone: the query with them (seconds: NULL for no limit)
  limit_time = NULL, with_settings = NULL,
  # whether the records are counted a second time, where an answer may be cut short
  # without an error; whether groups by what is worked out take longer than by columns
  counted_again = TRUE, slow_keys = FALSE,
  # of a server: the query that tells the number of a connection, and what ends
  # the query that another one runs
  own_number = NULL, cancel = NULL
)

limited_rows <- function(query, rows) sprintf("%s LIMIT %.0f", query, rows)

# The sign of a number where NaN is larger than all numbers; first what most weights are.
sign_but_nan <- function(kind) {
  function(x) {
    gsub("x", sprintf("CAST(%s AS %s)", x, kind), fixed = TRUE, paste(
      "CASE WHEN x > 0 AND x <= 1.7976931348623157e308 THEN 1 WHEN x = 0 THEN 0",
      "WHEN x < 0 THEN -1 WHEN x <> 'NaN' THEN 9 ELSE -3 END"))
  }
}

dialects <- list(
  SQLiteConnection = list(
    text = function(x) sprintf("(%s COLLATE BINARY)", x), loose = TRUE,
    blank = function(x) sprintf("(TRIM(%s, char(9, 10, 13, 32)) = '')", x),
    columns = function(quoted, called, table, schema) {
      sprintf("SELECT name FROM pragma_table_info(%s)",
              paste(c(quoted(table), if (!is.null(schema)) quoted(schema)),
                    collapse = ", "))
    },
    # a column may hold text among its numbers, which would count as 0
    number = function(x) {
      sprintf("CASE WHEN typeof(%s) IN ('integer', 'real') THEN %s END", x, x)
    },
    broken = function(x) sprintf("(%s <> CAST(%s AS INTEGER))", x, x),
    # a sum of whole numbers that overflows is an error of its own
    measured = function(x) x, sums_twice = FALSE,
    counted_again = FALSE, slow_keys = TRUE,
    # texts are larger than all numbers
    sign = function(x) {
      sprintf(paste(paste("CASE WHEN %s > 0 AND %s < 9e999 THEN 1 WHEN %s = 0",
                          "THEN 0 WHEN %s < 0 THEN -1"),
                    paste("WHEN typeof(%s) IN ('text', 'blob') THEN -2 WHEN",
                          "%s IS NOT NULL THEN 9 ELSE -3 END")), x, x, x, x, x,
              x)
    },
    row_limit = limited_rows),
  PqConnection = list(
    text = function(x) sprintf("(CAST(%s AS TEXT) COLLATE \"C\")", x),
    number = function(x) {
      sprintf("NULLIF(CAST(%s AS DOUBLE PRECISION), 'NaN')", x)
    },
    blank = function(x) {
      sprintf("(BTRIM(%s, CHR(9) || CHR(10) || CHR(13) || ' ') = '')", x)
    },
    columns = function(quoted, called, table, schema) {
      sprintf(paste("SELECT CAST(attname AS TEXT) FROM pg_catalog.pg_attribute",
                    "WHERE attrelid = to_regclass(%s) AND attnum > 0",
                    paste("AND NOT attisdropped AND",
                          "has_column_privilege(attrelid, attnum, 'SELECT')",
                          "ORDER BY attnum")), quoted(called))
    },
    measured = function(x) sprintf("CAST(%s AS DOUBLE PRECISION)", x),
    sums_twice = FALSE, counted_again = FALSE, slow_keys = TRUE,
    sign = sign_but_nan("DOUBLE PRECISION"),
    row_limit = limited_rows, grouping_sets = TRUE,
    # `immediate`: in one message, so that a transaction of its own begins with
    # it
    in_transaction = function(con) {
      later <- "SELECT CASE WHEN now() = statement_timestamp() THEN 0 ELSE 1 END"
      as.numeric(DBI::dbGetQuery(con, later, immediate = TRUE)[[1L]]) == 1
    },
    view = list(before = "BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY",
                after = "ROLLBACK"),
    within = list(before = "SAVEPOINT fairlattice",
                  after = c("ROLLBACK TO SAVEPOINT fairlattice",
                            "RELEASE SAVEPOINT fairlattice")),
    limit_time = function(seconds) {
      sprintf("SET LOCAL statement_timeout = %d", ceiling(1000 * seconds))
    },
    own_number = "SELECT pg_backend_pid()",
    cancel = function(con, number) {
      DBI::dbGetQuery(con, sprintf("SELECT pg_cancel_backend(%.0f)", number))
    }),
  MariaDBConnection = list(
    # texts are compared without regard to case, accents and blanks at their ends,
    # unless they are told to be compared sign by sign
    text = function(x) sprintf("(CONVERT(%s USING utf8mb4) COLLATE utf8mb4_nopad_bin)", x),
    number = function(x) sprintf("CAST(%s AS DOUBLE)", x),
    blank = function(x) {
      sprintf("(TRIM(REPLACE(REPLACE(REPLACE(%s, CHAR(9), ''), CHAR(10), ''), CHAR(13), '')) = '')",
              x)
    },
    columns = function(quoted, called, table, schema) {
      sprintf(paste("SELECT column_name FROM information_schema.columns WHERE table_schema = %s",
                    "AND table_name = %s ORDER BY ordinal_position"),
              if (is.null(schema)) "DATABASE()" else quoted(schema), quoted(table))
    },
    measured = function(x) sprintf("CAST(%s AS DOUBLE)", x),
    # it keeps no numbers without an end
    sign = function(x) {
      sprintf(paste("CASE WHEN %s > 0 THEN 1 WHEN %s = 0 THEN 0 WHEN %s < 0 THEN -1",
                    "ELSE -3 END"), x, x, x)
    },
    sums_twice = FALSE, row_limit = limited_rows,
    in_transaction = function(con) {
      as.numeric(DBI::dbGetQuery(con, "SELECT @@in_transaction")[[1L]]) == 1
    },
    view = list(before = "START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY",
                after = "ROLLBACK"),
    within = list(before = "SAVEPOINT fairlattice",
                  after = c("ROLLBACK TO SAVEPOINT fairlattice",
                            "RELEASE SAVEPOINT fairlattice")),
    # groups beyond its 16 MB go to the disk, which takes six times as long; and no
    # setting of its user may cut an answer short
    with_settings = function(query, seconds) {
      paste0("SET STATEMENT max_heap_table_size = 536870912, tmp_table_size = 536870912, ",
             "sql_select_limit = 18446744073709551615",
             if (!is.null(seconds)) sprintf(", max_statement_time = %d", ceiling(seconds)),
             " FOR ", query)
    },
    counted_again = FALSE, slow_keys = TRUE,
    own_number = "SELECT CONNECTION_ID()",
    cancel = function(con, number) {
      DBI::dbExecute(con, sprintf("KILL QUERY %.0f", number))
    }),
  duckdb_connection = list(
    number = function(x) sprintf("NULLIF(CAST(%s AS DOUBLE), 'NaN')", x),
    blank = function(x) {
      sprintf("(TRIM(%s, CHR(9) || CHR(10) || CHR(13) || ' ') = '')", x)
    },
    columns = function(quoted, called, table, schema) {
      sprintf("SELECT column_name FROM (DESCRIBE SELECT * FROM %s)", called)
    },
    measured = function(x) sprintf("CAST(%s AS DOUBLE)", x),
    sign = sign_but_nan("DOUBLE"),
    sums_twice = FALSE,
    row_limit = limited_rows, grouping_sets = TRUE,
    # two statements of one transaction; one that is open sees one state of the
    # records by itself
    in_transaction = function(con) {
      now <- function() {
        as.character(DBI::dbGetQuery(con, "SELECT txid_current()")[[1L]])
      }
      now() == now()
    },
    view = list(before = "BEGIN TRANSACTION READ ONLY", after = "ROLLBACK")),
  ClickhouseConnection = list(
    text = function(x) sprintf("toString(%s)", x),
    blank = function(x) sprintf("match(%s, '^[ \\\\t\\\\r\\\\n]*$')", x),
    number = function(x) sprintf("toFloat64(%s)", x),
    broken = function(x) sprintf("(%s != floor(%s))", x, x),
    logic = logic_of_three, sums_twice = FALSE,
    # a backslash is a sign of its own in its texts, and the driver does not
    # know
    quoted = function(con, text) {
      text <- gsub("\\", "\\\\", text, fixed = TRUE)
      sprintf("'%s'", gsub("'", "\\'", text, fixed = TRUE))
    },
    member = function(x, values) {
      sprintf("if(isNull(%s), NULL, %s IN (%s))", x, x, values)
    },
    columns = function(quoted, called, table, schema) {
      sprintf(paste("SELECT name FROM system.columns WHERE database = %s AND table = %s",
                    "AND default_kind IN ('', 'DEFAULT')"),
              if (is.null(schema)) "currentDatabase()" else quoted(schema),
              quoted(table))
    },
    with_settings = function(query, seconds) {
      if (is.null(seconds)) query else
        sprintf("%s SETTINGS max_execution_time = %d", query, ceiling(seconds))
    },
    row_limit = limited_rows)
)

# The classes that ODBC gives the same databases.
by_odbc <- c(PostgreSQL = "PqConnection", SQLite = "SQLiteConnection",
             MariaDB = "MariaDBConnection")

dialect_of <- function(con) {
  known <- Filter(function(name) inherits(con, name),
                  c(names(dialects), names(by_odbc)))
  if (!length(known)) return(standard_sql)
  name <- known[1L]
  dialect <- utils::modifyList(standard_sql,
                               dialects[[if (name %in% names(by_odbc)) by_odbc[[name]] else name]])
  # another server that speaks its protocol may not know what it alone takes
  if (name == "MariaDBConnection" && !grepl("MariaDB", DBI::dbGetInfo(con)$db.version))
    dialect[c("with_settings", "counted_again")] <-
      standard_sql[c("with_settings", "counted_again")]
  dialect
}

# A source's way of writing SQL: its connection and dialect, what its columns
# are, and the codebook's missing codes.
sql_column <- function(db, name) DBI::dbQuoteIdentifier(db$con, name)

sql_value <- function(db, value) {
  if (is.character(value)) return(db$dialect$quoted(db$con, enc2utf8(value)))
  text <- sprintf("%.17g", value)
  ifelse(startsWith(text, "-"), paste0("(", text, ")"), text)
}

holds_text <- function(x) is.character(x) || is.factor(x)

# The values of a column as they are told apart.
sql_whole <- function(db, name) {
  x <- sql_column(db, name)
  if (holds_text(db$raw[[name]])) db$dialect$text(x) else as.character(x)
}

# A number cut: -1, -2, ... for the codes that the codebook declares missing,
# else twice the number of cuts that lie at or below it, and one more if it is
# no whole number; NULL where there is none.
sql_cut <- function(db, name, cuts) {
  x <- as.character(sql_column(db, name))
  number <- db$dialect$number(x)
  apart <- missing_numbers(db$codebook$fields[[name]])
  bounds <- sprintf("WHEN %s %s %s THEN %d", x, ifelse(cuts$upto, "<=", "<"),
                    sql_value(db, cuts$at), 2L * (seq_len(nrow(cuts)) - 1L))
  broken <- if (is.integer(db$raw[[name]])) "" else
    sprintf(" + CASE WHEN %s THEN 1 ELSE 0 END", db$dialect$broken(x))
  sprintf("CASE WHEN %s IS NULL THEN NULL %s ELSE (CASE %s ELSE %d END)%s END",
          number,
          paste(sprintf("WHEN %s = %s THEN %d", x, sql_value(db, apart),
                        -seq_along(apart)), collapse = " "),
          paste(bounds, collapse = " "), 2L * nrow(cuts), broken)
}

# The codes of a codebook's field that are numbers and declared missing.
missing_numbers <- function(field) {
  if (is.null(field)) return(numeric())
  codes <- suppressWarnings(as.numeric(field$missing$value))
  codes[is.finite(codes)]
}

# Only this is asked of a weight or count beside its sums: whether it is missing
# (-3), 0, above or below, or no number (-2). A key that is never NULL is
# grouped faster.
sql_sign <- function(db, name) {
  x <- as.character(sql_column(db, name))
  if (is_text_there(db, name))
    return(sprintf("CASE WHEN %s IS NULL THEN -3 ELSE -2 END", x))
  if (!is.null(db$dialect$sign)) return(db$dialect$sign(x))
  number <- db$dialect$number(x)
  sprintf(paste(paste("CASE WHEN %s > 1.7976931348623157e308 THEN 9 WHEN %s >",
                      "0 THEN 1 WHEN %s = 0 THEN 0"), "WHEN %s < 0 THEN -1",
                "ELSE -3 END"), number, number, number, number)
}

# A column of texts, none of which is asked to be a number; where any column may
# hold any value, each tells by itself.
is_text_there <- function(db, name) {
  !db$dialect$loose && holds_text(db$raw[[name]])
}

# The columns of a query by the names that they have in it: `keys`, of which
# groups are made, and `sums`.
query_parts <- function(db, set, measures) {
  keys <- list()
  from <- list()
  lead <- list() # what stands for a group in a number that is cut
  for (name in set$columns) keys[[paste0("k", length(keys) + 1L)]] <-
    sql_whole(db, name)
  for (name in names(set$cuts)) {
    keys[[paste0("k", length(keys) + 1L)]] <-
      sql_cut(db, name, set$cuts[[name]])
    from[[paste0("x", length(lead) + 1L)]] <- as.character(sql_column(db, name))
    lead[[paste0("m", length(lead) + 1L)]] <-
      sprintf("MIN(x%d)", length(lead) + 1L)
  }
  for (condition in set$conditions) keys[[paste0("k", length(keys) + 1L)]] <-
    db$dialect$logic$column(condition)
  # a number that is summed up; what is none is seen by its sign
  number <- function(name) {
    x <- if (is_text_there(db, name)) "0" else
      as.character(sql_column(db, name)) # refused by its sign
    (db$dialect$measured %||% db$dialect$number)(x)
  }
  weight <- if (!is.null(measures$weight)) number(measures$weight)
  count <- if (!is.null(measures$count)) number(measures$count)
  if (!is.null(weight)) {
    from$of_w <- weight
    keys$sw <- sql_sign(db, measures$weight)
  }
  if (!is.null(count)) {
    from$of_n <- count
    keys$sn <- sql_sign(db, measures$count)
  }
  from[sprintf("of_r%d", seq_along(measures$replicates))] <-
    lapply(measures$replicates, number)
  if (length(measures$replicates))
    keys$sr <- sprintf("CASE WHEN %s THEN 0 ELSE 1 END",
                       paste(sprintf("%s IS NULL",
                                     lapply(measures$replicates, number)),
                             collapse = " OR "))
  list(keys = keys, from = from,
       sums = c(lead, sums_sent(measures, db$dialect$sums_twice)))
}

# The second sums of n and the weights are made another way, so that an engine
# that rounds or overflows is caught.
sums_sent <- function(measures, twice) {
  times <- if (!is.null(measures$count)) "of_n * " else ""
  sums <- c(list(records = "COUNT(*)", records_again = "SUM(1)"),
            if (!is.null(measures$count))
              list(n = "SUM(of_n)", n_again = "SUM(of_n * 3)"),
            if (!is.null(measures$weight))
              list(w = sprintf("SUM(%sof_w)", times),
                   w2 = sprintf("SUM(%sof_w * of_w)", times),
                   w_again = sprintf("SUM(%sof_w * 3)", times)),
            stats::setNames(sprintf("SUM(%sof_r%d)", times,
                                    seq_along(measures$replicates)),
                            sprintf("replicate%d",
                                    seq_along(measures$replicates))))
  if (twice) sums else sums[!endsWith(names(sums), "_again")]
}

as_columns <- function(parts) {
  paste(sprintf("%s AS %s", unlist(parts), names(parts)), collapse = ", ")
}

# SELECT keys, sums FROM (SELECT ... FROM the table) GROUP BY keys, in one or
# several sets of keys, of all records or `where` something holds of the keys.
sql_query <- function(db, parts, sets = NULL, where = NULL) {
  inner <- c(parts$keys, parts$from)
  if (!length(inner)) inner <- list(one = "1")
  keys <- names(parts$keys)
  groups <- if (!length(keys)) "" else if (is.null(sets))
    paste0(" GROUP BY ", paste(keys, collapse = ", ")) else
    sprintf(" GROUP BY GROUPING SETS (%s)",
            paste(vapply(sets, function(set) {
              sprintf("(%s)", paste(set, collapse = ", "))
            }, ""), collapse = ", "))
  which <- if (!is.null(sets))
    sprintf("GROUPING(%s) AS which_set", paste(keys, collapse = ", "))
  again <- if (db$dialect$counted_again)
    sprintf("(SELECT COUNT(*) FROM %s) AS every_one", db$table)
  sprintf("SELECT %s FROM (SELECT %s FROM %s) AS records%s%s",
          paste(c(keys, which, as_columns(parts$sums), again), collapse = ", "),
          as_columns(inner), db$table, if (is.null(where)) "" else paste0(" WHERE ", where),
          groups)
}

# The signs of weights and counts as the least of each group, and not as keys of
# the groups: enough where all of them are above 0.
with_least_signs <- function(parts) {
  signs <- parts$keys[intersect(c("sw", "sn"), names(parts$keys))]
  parts$keys[names(signs)] <- NULL
  parts$from[paste0("of_", names(signs))] <- signs
  parts$sums[names(signs)] <- as.list(sprintf("MIN(of_%s)", names(signs)))
  parts
}

# ---- conditions ----

# The condition as SQL, or NULL where it needs what a database cannot tell as R
# does: the order of texts, columns compared with one another, anything but the
# words of a condition. `words` is whether it was given as text, whose %in%
# cannot be told of a missing answer; in R's own it is FALSE.
sql_condition <- function(db, tree, words, call) {
  tryCatch(walk_condition(tree, condition_in_sql(db, words, call), call),
           fairlattice_not_in_sql = function(e) NULL,
           fairlattice_error = function(e) NULL)
}

not_in_sql <- function() {
  rlang::abort("not in SQL", class = "fairlattice_not_in_sql")
}

condition_in_sql <- function(db, words, call) {
  logic <- db$dialect$logic
  list(column = function(symbol) not_in_sql(), is_na = function(symbol) {
    logic$leaf(sql_is_na(db, as.character(symbol)))
  }, compare = function(word, parts) {
    logic$leaf(sql_compare(db, word, parts, words, call))
  }, truth = function(x, node) x, not = logic$not, and = logic$and,
       or = logic$or)
}

sql_compare <- function(db, word, parts, words, call) {
  symbol <- vapply(parts, is.symbol, NA)
  if (sum(symbol) != 1L) not_in_sql()
  name <- as.character(parts[[which(symbol)]])
  value <- condition_constant(parts[[which(!symbol)]], word == "%in%", call)
  if (symbol[2L]) {
    if (word == "%in%") not_in_sql()
    word <- c("<" = ">", "<=" = ">=", ">" = "<", ">=" = "<=", "==" = "==",
              "!=" = "!=")[[word]]
  }
  column <- db$columns[[name]]
  if (is.null(column) || anyNA(value) || !length(value)) not_in_sql()
  told <- if (is.factor(column))
    sql_compare_answers(db, name, column, word, value) else
    if (is.numeric(column) && is.numeric(value))
      sql_compare_number(db, name, word, value) else
      if (is.character(column) && is.character(value))
        sql_compare_text(db, name, word, value) else not_in_sql()
  if (word == "%in%" && !words)
    sprintf("(CASE WHEN %s THEN 1 ELSE 0 END = 1)", told) else told
}

sql_words <-
  c("==" = "=", "!=" = "<>", "<" = "<", "<=" = "<=", ">" = ">", ">=" = ">=")

sql_list <- function(db, values) paste(sql_value(db, values), collapse = ", ")

sql_compare_number <- function(db, name, word, value) {
  if (!all(is.finite(value))) not_in_sql()
  x <- sql_number(db, name)
  if (word == "%in%") db$dialect$member(x, sql_list(db, value)) else
    sprintf("(%s %s %s)", x, sql_words[[word]], sql_value(db, value))
}

# A number, NULL where the codebook declares its code missing.
sql_number <- function(db, name) {
  x <- db$dialect$number(as.character(sql_column(db, name)))
  apart <- missing_numbers(db$codebook$fields[[name]])
  if (length(apart))
    sprintf("CASE WHEN NOT (%s IN (%s)) THEN %s END", x, sql_list(db, apart),
            x) else x
}

# The texts of a column, NULL where they are blank: no answer, as in memory.
sql_told <- function(db, name) {
  x <- sql_whole(db, name)
  sprintf("(CASE WHEN NOT %s THEN %s END)", db$dialect$blank(x), x)
}

sql_compare_text <- function(db, name, word, value) {
  if (!word %in% c("==", "!=", "%in%")) not_in_sql() # texts have another order everywhere
  x <- sql_told(db, name)
  if (word == "!=") sprintf("(%s <> %s)", x, sql_value(db, value)) else
    db$dialect$member(x, sql_list(db, value))
}

# Answers by a codebook: what R says of each, as lists of codes.
sql_compare_answers <- function(db, name, column, word, value) {
  answers <-
    factor(levels(column), levels(column), ordered = is.ordered(column))
  answers[levels(column) %in% attr(column, "missing")] <- NA
  said <- if (word == "%in%")
    ifelse(is.na(answers), NA, as.character(answers) %in% value) else
    if (word %in% c("==", "!="))
      match.fun(word)(as.character(answers), value) else
      match.fun(word)(answers, value)
  codes <- attr(column, "values", exact = TRUE) %||% levels(column)
  sql_of_codes(db, name, codes, said)
}

sql_of_codes <- function(db, name, codes, said) {
  number <- is.numeric(db$raw[[name]])
  known <- !is.na(said) & !is.na(codes) & nzchar(codes)
  values <- if (number) suppressWarnings(as.numeric(codes)) else codes
  known <- known & !is.na(values)
  x <- if (number) db$dialect$number(as.character(sql_column(db, name))) else
    sql_whole(db, name)
  when <- vapply(c(TRUE, FALSE), function(truth) {
    own <- values[known & said %in% truth]
    if (!length(own)) "" else
      sprintf("WHEN %s IN (%s) THEN %d", x, sql_list(db, own), truth + 0L)
  }, "")
  if (!any(nzchar(when))) return("(NULL = 1)")
  sprintf("(CASE %s END = 1)", paste(when[nzchar(when)], collapse = " "))
}

sql_is_na <- function(db, name) {
  column <- db$columns[[name]]
  if (is.null(column)) not_in_sql()
  if (is.factor(column)) {
    codes <- attr(column, "values", exact = TRUE) %||% levels(column)
    is_answer <- sql_of_codes(db, name, codes,
                              ifelse(levels(column) %in%
                                       attr(column, "missing"), NA, TRUE))
    return(sprintf("(CASE WHEN %s THEN 0 ELSE 1 END = 1)", is_answer))
  }
  if (is.numeric(column)) return(sprintf("(%s IS NULL)", sql_number(db, name)))
  sprintf("(%s IS NULL)",
          if (holds_text(db$raw[[name]])) sql_told(db, name) else
            sql_column(db, name))
}
