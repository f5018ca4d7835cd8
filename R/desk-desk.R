#' Pivot by hand, in a browser
#'
#' Opens a page on this machine to pick questions, see their table at once with
#' its figure, test, strength and cautions, and take it away: as R code, a
#' command, a plan or a file in any form of [publish()]. Everything done can be
#' undone; a page that is closed or loaded anew loses nothing as long as the
#' desk runs. Needs the package httpuv.
#'
#' Nobody else can use it: the server answers on the machine's own address only
#' (127.0.0.1), and every request needs the random token that is part of the
#' address, without which nothing that it sends is taken. It reaches no file but
#' what is given here, keeps nothing and sends nothing. The records are read
#' into memory once, or asked for sums where they are; another base, level or layout of
#' a table tallies nothing anew. Files in chunks, and a database that the command was
#' given by name, are asked in another process: the next act does not wait for a query
#' that is still running, which is cancelled (in PostgreSQL and MariaDB at the server,
#' too). A connection that was opened in R can be in one process only, so its
#' queries are waited for.
#'
#' @param survey (string, data frame, source or survey) The path of a file of records,
#'   for [read_records()]; records, in memory or where they are ([dbi_table()],
#'   [records_in_chunks()], a lazy table of dplyr); or a survey from [respondents()],
#'   whose design then stays as it is.
#' @param port (integer in 1024-65535, default a free one) The port of the
#'   address.
#' @param browser (TRUE or FALSE, default TRUE) Whether the page is opened in
#'   the browser.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Nothing. The address is printed as one line; the desk runs until it
#'   is interrupted (Ctrl-C, Escape).
#' @section Errors: those of [read_records()] and [respondents()];
#'   `fairlattice_error_port` where the port is in use,
#'   `fairlattice_error_package` without httpuv.
#' @export
#' @examplesIf interactive()
#' desk(demo_file("veyra.csv"))
desk <- function(survey, port = NULL, browser = TRUE, ...) {
  nothing_else(...)
  call <- environment()
  check_flag(browser, "browser", call)
  if (!is.null(port)) check_port(port, call)
  name <- substitute(survey)
  records <- if (is.character(survey)) read_records(survey) else survey
  records <- as_source(records)
  asked <- is.data.frame(records) || is_source(records)
  if (!asked && !inherits(records, "fairlattice_survey"))
    stop_input(tells("survey_path_data_frame_survey", quote_value(survey)),
               "class", call = call)
  # whatever is wrong with them is told before a page opens
  if (asked) respondents(records)
  run_desk_of(records, if (is.symbol(name)) as.character(name) else "records",
              port, browser, function(line) cat(line, "\n", sep = ""), call)
}

# Serves until it is interrupted. `say` prints the address.
run_desk_of <- function(records, name, port, browser, say, call,
                        read = list(), files = NULL) {
  need_package("httpuv", tells("to_open_desk"), call)
  desk <- new_desk(NULL)
  if (is_source(records) && !is.null(records$again) &&
        requireNamespace("callr", quietly = TRUE))
    records <- source_apart(records, function() waits(desk))
  desk$store <- new_store(records, name, read, files)
  server <- served(desk, port, call)
  on.exit(httpuv::stopServer(server))
  say(desk_address(desk))
  if (browser && has_screen())
    tryCatch(utils::browseURL(handed_over(desk_address(desk))),
             error = function(e) NULL)
  repeat {
    httpuv::service(250)
    answer_waiting(desk)
  }
}

# The address as a page in a file that nobody else may read, which leads to it:
# what a browser is started with, all users of the machine can see.
handed_over <- function(address) {
  path <- tempfile("desk-", fileext = ".html")
  was <- Sys.umask("077")
  on.exit(Sys.umask(was))
  page <- paste("<!DOCTYPE html><meta charset=\"utf-8\"><meta",
                "http-equiv=\"refresh\" content=\"0; url=%s\">")
  writeLines(sub("%s", address, page, fixed = TRUE), path)
  paste0("file://", normalizePath(path, "/"))
}

# A machine that is reached through a terminal has no browser to open; the
# address is printed all the same.
has_screen <- function() {
  .Platform$OS.type == "windows" || Sys.info()[["sysname"]] == "Darwin" ||
    any(nzchar(Sys.getenv(c("DISPLAY", "WAYLAND_DISPLAY"))))
}

check_port <- function(port, call) {
  if (!is.numeric(port) || length(port) != 1L || is.na(port) ||
        port != round(port) || port < 1024 || port > 65535)
    stop_input(tells("port_whole_number_1024_65535", quote_value(port)), "port",
               call = call)
}

served <- function(desk, port, call) {
  desk$port <- as.integer(port %||% httpuv::randomPort(host = "127.0.0.1"))
  app <- list(call = function(request) answer_request(desk, request),
              onHeaders = function(request) answer_head(desk, request),
              onWSOpen = function(socket) socket$close())
  tryCatch(httpuv::startServer("127.0.0.1", desk$port, app, quiet = TRUE),
           error = function(e) {
             stop_input(c(tells("port_cannot_used", desk$port),
                          x = first_line(conditionMessage(e)),
                          i = tells("name_another_none_free_one")), "port",
                        call = call)
           })
}
