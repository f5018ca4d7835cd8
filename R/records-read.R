#' Read records and their codebook
#'
#' Reads CSV, TSV, XLSX, ODS, Parquet, JSON and JSON lines, plain or compressed
#' (gzip, zip, zstd). What had to be detected (separator, decimal comma,
#' encoding) is said in one line. A codebook beside the file (`veyra.csv` +
#' `veyra.schema.json`, a Data Package Table Schema) turns codes into labelled
#' answers in its order; its missing codes become missing with their reason
#' kept: `is.na()` is TRUE for them, and every table says how many were left out
#' for which reason.
#'
#' @param path (character) The file, with the names of the columns in the first
#'   line; several files of one shape, or a pattern such as `"part-*.csv"`, are
#'   read as one; a `datapackage.json` stands for its data.
#' @param codebook (string or codebook, default the codebook beside the file, if
#'   there is one) Path of a Table Schema (JSON or YAML), a `datapackage.json`
#'   or a DDI Codebook (XML); or one from [codebook()].
#' @param unknown ("error" or "missing", default "error") What to do with a
#'   value that the codebook does not know: stop, or leave such records out
#'   under that reason.
#' @param encoding (string, default UTF-8) How the letters of a text file are
#'   written: any name that R knows.
#' @param decimal ("." or ",", default detected) The decimal mark of a text
#'   file.
#' @param sheet (string or number, default the first) Sheet of a workbook;
#'   resource of a data package.
#' @param range (string, default all) Cells of a sheet, such as `"B2:H400"`, or
#'   `"B2"` for all from there on.
#' @param delimiter (string of one character, default detected) What stands
#'   between the cells of a text file: `"|"`, `"tab"`.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame, one row a record. Columns with categories are answers (a
#'   kind of factor), numbers with declared missing codes are numbers that know
#'   their reasons.
#' @section Errors: `fairlattice_error_no_file`, `fairlattice_error_file`
#'   (empty, header alone, ragged, wrong
#'   encoding, corrupt; with its line), `fairlattice_error_codebook`,
#'   `fairlattice_error_unknown_value`, `fairlattice_error_too_large`,
#'   `fairlattice_error_package` (a format's package is not installed).
#' @export
#' @examples
#' records <- read_records(demo_file("veyra.csv"))
#' summary(records$ferry)
read_records <- function(path, codebook = NULL, unknown = c("error", "missing"),
                         encoding = NULL, decimal = NULL, sheet = NULL,
                         range = NULL, delimiter = NULL, ...) {
  nothing_else(...)
  call <- environment()
  unknown <- first_of(unknown)
  check_choice(unknown, c("error", "missing"), "unknown", call)
  if (!is.null(decimal)) check_choice(decimal, c(".", ","), "decimal", call)
  delimiter <- checked_delimiter(delimiter, call)
  files <- expand_paths(path, call)
  if (length(files) == 1L && basename(files) == "datapackage.json") {
    resource <- package_resource(files, sheet, NULL, call)
    codebook <- codebook %||% resource$codebook
    files <- resource$path
    sheet <- NULL # the resource's name
    for (file in files) check_file(file, call)
  }
  options <- list(encoding = encoding, decimal = decimal, sheet = sheet,
                  range = range, delimiter = delimiter)
  raw <- bind_parts(lapply(files, read_raw, options = options, call = call),
                    files, call)
  beside <- if (is.null(codebook)) codebook_beside(files[1L])
  drafted <- !is.null(beside) && is_draft(beside)
  codebook <- codebook %||% if (!drafted) beside
  if (is.character(codebook))
    codebook <- read_codebook(codebook, basename(files[1L]), call)
  weights <-
    names(Filter(function(field) isTRUE(field$weight), codebook$fields))
  said <- c(unique(raw$said),
            if (drafted) words("read_draft", basename(beside)),
            if (length(weights))
              words("read_weight", weights))
  if (length(said))
    rlang::inform(words("read_said", file = basename(files[1L]), said = said),
                  class = "fairlattice_message")
  info <- file.info(files[1L])
  source <- list(file = paste(basename(files), collapse = ", "),
                 path = if (length(files) == 1L) normalizePath(files),
                 size = info$size, modified = info$mtime,
                 dated = format(info$mtime, "%Y-%m-%d"),
                 blank_lines = raw$blank)
  if (is.null(codebook)) return(structure(raw$data, source = source))
  coded_records(raw$data, codebook, unknown, source, raw$line_of, call)
}

checked_delimiter <- function(delimiter, call) {
  if (is.null(delimiter)) return(NULL)
  named <- c(tab = "\t", comma = ",", semicolon = ";", bar = "|", pipe = "|",
             space = " ", "\\t" = "\t")
  if (is.character(delimiter) && length(delimiter) == 1L &&
        delimiter %in% names(named)) delimiter <- named[[delimiter]]
  if (!is.character(delimiter) || length(delimiter) != 1L || is.na(delimiter) ||
        nchar(delimiter, "bytes") != 1L || grepl("[\"\r\n]", delimiter)) {
    stop_input(c(tells("delimiter_one_character_not", quote_value(delimiter)),
                 i = tells("write_tab")), "choice", call = call)
  }
  delimiter
}

# Files that are there, in the order of their names where a pattern stands for
# them.
expand_paths <- function(path, call) {
  if (!is.character(path) || !length(path) || anyNA(path)) {
    stop_input(tells("path_file_name_not", quote_value(path)), "no_file",
               call = call)
  }
  files <- unlist(lapply(path, function(one) {
    found <- if (!file.exists(one) && grepl("[*?]", one))
      sort(Sys.glob(one), method = "radix")
    if (length(found)) found else one
  }))
  for (file in files) check_file(file, call)
  files
}

# How each kind of file is read: from a path to raw columns, what was detected,
# and the place of a record.
readers <- list(
  csv = function(...) read_delimited(...),
  tsv = function(...) read_delimited(...),
  txt = function(...) read_delimited(...),
  tab = function(...) read_delimited(...),
  xlsx = function(...) read_workbook(...),
  ods = function(...) read_opendocument(...),
  json = function(...) read_json_records(...),
  jsonl = function(...) read_json_lines(...),
  ndjson = function(...) read_json_lines(...),
  parquet = function(...) read_parquet_file(...)
)

# What is asked of the reading, and the kinds of files that it is for.
of_text <- c("csv", "tsv", "txt", "tab")
reading_takes <- list(encoding = of_text, decimal = of_text,
                      delimiter = of_text, sheet = c("xlsx", "ods"),
                      range = "xlsx")

check_reading <- function(options, ending, file, call) {
  for (arg in names(reading_takes)) {
    if (!is.null(options[[arg]]) && !ending %in% reading_takes[[arg]]) {
      stop_input(c(tells("files_not", arg,
                         paste0(".", reading_takes[[arg]], collapse = ", "),
                         file), i = tells("leave_out")), "file", path = file,
                 call = call)
    }
  }
}

read_raw <- function(path, options, call) {
  file <- basename(path)
  ending <- file_ending(path)
  if (ending %in% names(unpackers)) {
    unpacked <- unpackers[[ending]](path, file, call)
    on.exit(unlink(unpacked$path))
    path <- unpacked$path
    ending <- file_ending(unpacked$name)
  }
  if (!ending %in% names(readers)) {
    if (nzchar(ending)) {
      stop_input(c(tells("kind_not_read", file),
                   i = tells("kinds_these_packed",
                             list_some(names(readers), 12L),
                             list_some(names(unpackers)))), "file", path = file,
                 call = call)
    }
    ending <- "csv"
  }
  check_reading(options, ending, file, call)
  raw <- readers[[ending]](path, file, options, call)
  twice <- names(raw$data)[duplicated(names(raw$data))]
  if (length(twice)) {
    stop_input(c(tells("two_columns_named_columns", file, twice[1L],
                       list_some(which(names(raw$data) == twice[1L]))),
                 i = tells("rename_one")), "file", path = file, call = call)
  }
  raw
}

# Parts of one survey under one another; every part must have the same columns.
bind_parts <- function(parts, files, call) {
  if (length(parts) == 1L) return(parts[[1L]])
  columns <- names(parts[[1L]]$data)
  for (k in seq_along(parts)[-1L]) {
    odd <- c(setdiff(columns, names(parts[[k]]$data)),
             setdiff(names(parts[[k]]$data), columns))
    if (length(odd)) {
      stop_input(c(tells("files_differ_in_one_column", basename(files[1L]),
                         basename(files[k]), odd[1L])), "file", path = files[k],
                 call = call)
    }
  }
  kind <- function(data) {
    vapply(data[columns], function(x) {
      if (is.numeric(x)) "number" else class(x)[1L]
    }, "")
  }
  kinds <-
    vapply(parts, function(part) kind(part$data), character(length(columns)))
  several <- apply(matrix(kinds, length(columns)), 1L, function(row) {
    length(unique(row)) > 1L
  })
  mixed <- columns[several]
  frames <- lapply(parts, function(part) {
    part$data[mixed] <- lapply(part$data[mixed], as.character)
    part$data[columns]
  })
  ends <- cumsum(vapply(frames, nrow, 0L))
  list(data = as.data.frame(data.table::rbindlist(frames)),
       said = unlist(lapply(parts, function(part) part$said)),
       blank = sum(unlist(lapply(parts, function(part) part$blank))),
       line_of = function(records) {
         part <- findInterval(records, c(0, ends) + 1L)
         paste(basename(files)[part],
               mapply(function(k, record) {
                 parts[[k]]$line_of(record - c(0, ends)[k])
               }, part, records), sep = ":")
       })
}

check_file <- function(path, call) {
  if (!is.character(path) || length(path) != 1L || is.na(path)) {
    stop_input(tells("path_one_file_name_not", quote_value(path)), "no_file",
               call = call)
  }
  if (dir.exists(path))
    stop_input(c(tells("folder_not_file", path),
                 i = tells("records_parts_read_where_lie")), "no_file",
               path = path, call = call)
  if (!file.exists(path)) {
    near <- nearest(basename(path), list.files(dirname(path)))
    stop_input(c(tells("no_file", path),
                 i = if (!is.null(near))
                   tells("did_you_mean", file.path(dirname(path), near))),
               "no_file", path = path, call = call)
  }
  if (file.access(path, 4L) != 0L)
    stop_input(tells("file_may_not_read", path), "no_file", path = path,
               call = call)
  if (file.size(path) == 0)
    stop_input(tells("file_empty", path), "file", path = path, call = call)
  note_read(path)
}
