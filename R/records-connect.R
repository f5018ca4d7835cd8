# From the words of a command or plan to an open connection. Passwords come from
# the environment alone.

# The databases that can be named: the package that speaks to one, its driver,
# what it calls a password (files have none), what a connection may say, and how R opens
# a file of it for reading alone.
databases <- list(
  sqlite = list(package = "RSQLite", driver = "SQLite", keys = "file"),
  duckdb = list(package = "duckdb", driver = "duckdb", keys = "file",
                reading = "read_only = TRUE"),
  postgresql = list(package = "RPostgres", driver = "Postgres",
                    password = "password",
                    keys = c("host", "port", "dbname", "user", "sslmode")),
  mariadb = list(package = "RMariaDB", driver = "MariaDB", password = "password",
                 keys = c("host", "port", "dbname", "user", "socket"),
                 called = c(user = "username", socket = "unix.socket")),
  clickhouse = list(package = "RClickhouse", driver = "clickhouse",
                    password = "password",
                    keys = c("host", "port", "dbname", "user")),
  odbc = list(package = "odbc", driver = "odbc", password = "pwd",
              keys = c("dsn", "driver", "server", "dbname", "port", "uid"),
              called = c(dbname = "database")))

# "sqlite:veyra.db" or a YAML file such as
#   database: postgresql
#   host: archive
#   dbname: survey
#   user: analyst
#   password_from: SURVEY_PASSWORD
connect_database <- function(words, folder = ".", call = NULL) {
  stop_connection <- function(...) stop_input(c(...), "database", call = call)
  asked <- database_file(words) %||% connection_file(words, folder, stop_connection, call)
  check_connection(asked, words, stop_connection)
  opened(asked, folder, stop_connection, call)
}

# The kind and the file of a database that is a file ("sqlite:veyra.db"), or NULL.
database_file <- function(words) {
  kind <- sub(":.*", "", words)
  if (grepl("^[a-z]+:.", words) && kind %in% c("sqlite", "duckdb"))
    list(database = kind, file = sub("^[a-z]+:", "", words))
}

# What the file of a connection says.
connection_file <- function(words, folder, stop_connection, call) {
  if (!grepl("[.]ya?ml$", words))
    stop_connection(tells("names_no_database", cut_short(words)),
                    i = tells("write_sqlite_file_duckdb_file"))
  path <- if (file.exists(words)) words else file.path(folder, words)
  if (!file.exists(path)) stop_connection(tells("no_file", words))
  need_package("yaml", tells("to_read_connection"), call)
  parse_yaml(text_of(path), function(why, ...) {
    stop_connection(tells("connection_cannot_read", basename(words)), x = why, ...)
  })
}

check_connection <- function(asked, words, stop_connection) {
  if (!is.list(asked) || is.null(asked$database))
    stop_connection(tells("connection_lacks_key_database", cut_short(words)))
  if (!asked$database %in% names(databases))
    stop_connection(tells("no_database_here",
                          cut_short(as.character(asked$database))),
                    did_you_mean(as.character(asked$database), names(databases),
                                 "databases"))
  secret <- intersect(c("password", "pwd", "pass"), names(asked))
  if (length(secret))
    stop_connection(tells("connection_file_holds_no_password", secret[1L]),
                    i = tells("write_password_from_name_put_password"))
  known <- c("database", "password_from", databases[[asked$database]]$keys)
  odd <- setdiff(names(asked), known)
  if (length(odd)) stop_connection(tells("no_key_connection", odd[1L]),
                                   did_you_mean(odd[1L], known, "keys"))
  bad <- names(Filter(function(x) !is.atomic(x) || length(x) != 1L || is.na(x),
                      asked))
  if (length(bad)) stop_connection(tells("connection_one_value", bad[1L]))
}

opened <- function(asked, folder, stop_connection, call) {
  kind <- databases[[asked$database]]
  need_package("DBI", tells("to_read_database"), call)
  need_package(kind$package, tells("to_read_database_of", asked$database),
               call)
  arguments <- if (!"file" %in% kind$keys) driver_arguments(asked, kind) else
    file_arguments(asked, folder, stop_connection)
  password <- if (!is.null(asked$password_from))
    password_in(asked$password_from, stop_connection)
  if (!is.null(kind$password)) arguments[[kind$password]] <- password
  # Ctrl-C cancels the query at the server
  if (asked$database == "postgresql") arguments$check_interrupts <- TRUE
  driver <- getExportedValue(kind$package, kind$driver)
  tryCatch(quietly_asked(do.call(DBI::dbConnect, c(list(driver()), arguments))),
           error = function(e) {
             stop_connection(tells("database_cannot_reached", asked$database),
                             x = one_line(without_password(
                                            conditionMessage(e), password)),
                             i = tells("see_runs_host_name_user"))
           })
}

# What a connection says, by the names that the driver has for it.
driver_arguments <- function(asked, kind) {
  arguments <- asked[intersect(names(asked), kind$keys)]
  renamed <- intersect(names(kind$called), names(arguments))
  names(arguments)[match(renamed, names(arguments))] <- kind$called[renamed]
  arguments
}

password_in <- function(variable, stop_connection) {
  password <- Sys.getenv(variable, NA)
  if (is.na(password))
    stop_connection(tells("environment_no_variable_hold_password", variable))
  password
}

# What a driver says, should it say the password.
without_password <- function(text, password) {
  if (is.null(password) || !nzchar(password)) text else
    gsub(password, "***", text, fixed = TRUE)
}

# A database that is a file: there, and opened for reading alone. DuckDB in
# memory has no tables, but reads files in place, whose path is then the table.
file_arguments <- function(asked, folder, stop_connection) {
  path <- if (is.null(asked$file))
    stop_connection(tells("connection_lacks_key_file")) else asked$file
  if (asked$database == "duckdb" && path == ":memory:")
    return(list(dbdir = path))
  if (!file.exists(path)) path <- file.path(folder, path)
  if (!file.exists(path) || dir.exists(path))
    stop_connection(tells("no_database", asked$file))
  if (asked$database == "duckdb") return(list(dbdir = path, read_only = TRUE))
  list(dbname = path, flags = getExportedValue("RSQLite", "SQLITE_RO"))
}

# Whether a section of a plan, or the options of a command, have their records
# elsewhere than in memory.
records_elsewhere <- function(asked) {
  !is.null(asked$database) || isTRUE(asked$in_chunks)
}

# Where a command's or plan's records are, when not all of them are read into
# memory.
far_records <- function(asked, files = NULL, folder = ".", call = NULL) {
  unknown <- asked$unknown %||% "error"
  if (is.null(asked$database))
    return(records_in_chunks(files, asked$codebook, unknown, asked$decimal,
                             asked$delimiter, asked$most_groups))
  source <- dbi_table(connect_database(asked$database, folder, call), asked$table,
                      asked$codebook, unknown, isTRUE(asked$show_sql), asked$time_limit,
                      query = asked$query)
  source$again <- list(asked, files, folder)
  source
}
