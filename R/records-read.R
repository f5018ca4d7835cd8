#' Read records and their codebook
#'
#' Reads comma- or tab-separated text. A codebook beside the file (`veyra.csv` + `veyra.schema.json`, a Data Package
#' Table Schema) turns codes into labelled answers in its order; its missing codes become missing with their reason
#' kept: `is.na()` is TRUE for them, and every table says how many were left out for which reason.
#'
#' @param path (string) The file: CSV or TSV, with the names of the columns in the first line.
#' @param codebook (string, default the codebook beside the file, if there is one) Path of a Table Schema in JSON or
#'   YAML.
#' @param unknown ("error" or "missing", default "error") What to do with a value that the codebook does not know:
#'   stop, or leave such records out under that reason.
#' @param encoding ("UTF-8" or "Latin-1", default "UTF-8") How the file's letters are written.
#' @return Data frame, one row a record. Columns with categories are answers (a kind of factor), numbers with declared
#'   missing codes are numbers that know their reasons.
#' @section Errors: `fairlattice_error_no_file`, `fairlattice_error_file` (empty, header alone, ragged, wrong
#'   encoding; with its line), `fairlattice_error_codebook`, `fairlattice_error_unknown_value`,
#'   `fairlattice_error_column_twice`.
#' @export
#' @examples
#' records <- read_records(demo_file("veyra.csv"))
#' summary(records$ferry)
read_records <- function(path, codebook = NULL, unknown = c("error", "missing"), encoding = c("UTF-8", "Latin-1")) {
  call <- environment()
  unknown <- unknown[1L]
  encoding <- encoding[1L]
  check_choice(unknown, c("error", "missing"), "unknown", call)
  check_choice(encoding, c("UTF-8", "Latin-1"), "encoding", call)
  check_file(path, call)
  data <- read_delimited(path, encoding, call)
  codebook <- codebook %||% codebook_beside(path)
  info <- file.info(path)
  source <- list(file = basename(path), path = normalizePath(path), size = info$size, modified = info$mtime)
  if (is.null(codebook)) return(structure(data, source = source))
  coded_records(data, read_codebook(codebook, call), unknown, source, function(records) lines_of(data, records), call)
}

check_file <- function(path, call) {
  if (!is.character(path) || length(path) != 1L || is.na(path)) {
    stop_input(sprintf("`path` must be one file name, not %s.", quote_value(path)), "no_file", call = call)
  }
  if (dir.exists(path)) stop_input(sprintf("\"%s\" is a folder, not a file.", path), "no_file", path = path, call = call)
  if (!file.exists(path)) {
    near <- nearest(basename(path), list.files(dirname(path)))
    stop_input(c(sprintf("There is no file \"%s\".", path), i = if (!is.null(near)) sprintf("Did you mean \"%s\"?", file.path(dirname(path), near))),
               "no_file", path = path, call = call)
  }
  if (file.access(path, 4L) != 0L) stop_input(sprintf("The file \"%s\" may not be read.", path), "no_file", path = path, call = call)
  if (file.size(path) == 0) stop_input(sprintf("The file \"%s\" is empty.", path), "file", path = path, call = call)
}

# Nothing may be guessed away: whatever data.table's reader would skip, pad or stop at becomes an error with its line.
read_delimited <- function(path, encoding, call) {
  stop_here <- function(...) stop_input(c(...), "file", path = path, call = call)
  file <- basename(path)
  header <- header_line(path, encoding)
  if (encoding == "UTF-8" && !validUTF8(header)) stop_encoding(file, 1L, "the header", stop_here)
  if (!nzchar(trimws(header))) {
    stop_here(sprintf("The first line of \"%s\" is blank.", file), i = "It must have the names of the columns.")
  }
  read <- read_quickly(path, separator_of(header), encoding)
  if (any(grepl("improper quoting", read$said))) read <- read_carefully(path, separator_of(header), encoding)
  if (is.null(read$data)) stop_here(sprintf("\"%s\" cannot be read as a table of records.", file), x = first_line(read$said))
  data <- if (encoding == "Latin-1") from_latin1(read$data) else read$data
  stop_if_ragged(read$said, file, stop_here)
  if (!nrow(data)) stop_here(sprintf("\"%s\" has a header and no records.", file))
  check_names(names(data), header_cells(header, separator_of(header)), file, stop_here)
  data[] <- lapply(names(data), function(name) clean_text(data[[name]], name, data, file, stop_here))
  data
}

from_latin1 <- function(data) {
  utf8 <- function(x) {
    Encoding(x)[!validUTF8(x)] <- "latin1"
    enc2utf8(x)
  }
  names(data) <- utf8(names(data))
  text <- vapply(data, is.character, NA)
  data[text] <- lapply(data[text], utf8)
  data
}

# What the quick reader made of the file, and what it said in passing.
read_quickly <- function(path, sep, encoding) {
  said <- character()
  data <- tryCatch(
    withCallingHandlers(
      data.table::fread(path, sep = sep, header = TRUE, skip = 0L, na.strings = "", strip.white = TRUE, encoding = encoding,
                        keepLeadingZeros = TRUE, integer64 = "character", data.table = FALSE, check.names = FALSE,
                        showProgress = FALSE, nThread = setting("threads")),
      warning = function(w) {
        said <<- c(said, conditionMessage(w))
        invokeRestart("muffleWarning")
      }),
    error = function(e) {
      said <<- conditionMessage(e)
      NULL
    })
  list(data = data, said = said)
}

# The quick reader takes some quoted line breaks for broken quotes; R's own reader takes them as they are meant.
read_carefully <- function(path, sep, encoding) {
  tryCatch({
    data <- utils::read.table(path, sep = sep, header = TRUE, quote = "\"", comment.char = "", colClasses = "character",
                              na.strings = "", check.names = FALSE, strip.white = TRUE,
                              fileEncoding = if (encoding == "UTF-8") "UTF-8-BOM" else "latin1")
    data[] <- lapply(data, function(x) if (any(grepl("^0[0-9]", x))) x else utils::type.convert(x, na.strings = "", as.is = TRUE))
    list(data = data, said = character())
  }, error = function(e) list(data = NULL, said = conditionMessage(e)), warning = function(w) list(data = NULL, said = conditionMessage(w)))
}

first_line <- function(text) sub("\n.*", "", text)

header_line <- function(path, encoding) {
  header <- readLines(path, n = 1L, warn = FALSE, encoding = if (encoding == "UTF-8") "UTF-8" else "latin1", skipNul = TRUE)
  if (!length(header)) return("")
  bytes <- charToRaw(header)
  if (identical(utils::head(bytes, 3L), as.raw(c(0xef, 0xbb, 0xbf)))) { # a byte-order mark
    header <- rawToChar(bytes[-(1:3)])
    Encoding(header) <- "UTF-8"
  }
  header
}

header_cells <- function(header, sep) {
  scan(text = header, what = "", sep = sep, quote = "\"", quiet = TRUE, strip.white = TRUE, encoding = Encoding(header))
}

separator_of <- function(header) {
  bare <- gsub("\"[^\"]*\"", "", header, useBytes = TRUE)
  counts <- vapply(c(",", "\t", ";"), function(sep) sum(gregexpr(sep, bare, fixed = TRUE, useBytes = TRUE)[[1L]] > 0L), 0L)
  if (all(counts == 0L)) "," else names(which.max(counts))
}

stop_if_ragged <- function(said, file, stop_here) {
  if (!length(said)) return(invisible())
  text <- paste(said, collapse = " ")
  number <- function(pattern) regmatches(text, regexec(pattern, text))[[1L]]
  early <- number("Stopped early on line ([0-9]+)\\. Expected ([0-9]+) fields but found ([0-9]+)")
  if (length(early)) {
    stop_here(sprintf("Line %s of \"%s\" has %s cells, but the lines before it have %s.", early[2L], file, early[4L], early[3L]),
              i = "Mend that line: a comma inside an answer needs quotes round the answer.")
  }
  footer <- number("Discarded single-line footer: <<(.*)>>")
  if (length(footer)) {
    stop_here(sprintf("The last line of \"%s\" does not have as many cells as the others: %s", file, quote_value(footer[2L])),
              i = "Mend or delete that line.")
  }
  stop_here(sprintf("\"%s\" cannot be read without guessing.", file), x = first_line(said[1L]))
}

# The names that were read must be those of the first line: nothing above the records is passed over.
check_names <- function(names, cells, file, stop_here) {
  if (any(!validUTF8(names))) stop_encoding(file, 1L, "the header", stop_here)
  if (length(cells) != length(names)) {
    stop_here(sprintf("The first line of \"%s\" has %d %s, but the lines after it have %d.", file, length(cells), plural(length(cells), "cell"), length(names)),
              i = "It must have the names of the columns: mend it, or delete what stands above the names.")
  }
  if (any(!nzchar(cells))) stop_here(sprintf("Column %d of \"%s\" has no name.", which(!nzchar(cells))[1L], file))
  if (any(enc2utf8(cells) != enc2utf8(names))) {
    stop_here(sprintf("The first line of \"%s\" does not look like the names of its columns.", file),
              x = sprintf("It begins with %s.", quote_value(substr(cells[1L], 1L, 40L))))
  }
  twice <- names[duplicated(names)]
  if (length(twice)) {
    stop_here(sprintf("\"%s\" has two columns named \"%s\" (columns %s).", file, twice[1L], list_some(which(names == twice[1L]))),
              i = "Rename one of them.")
  }
}

# Text must be valid, and a doubled quote inside quotes is one quote.
clean_text <- function(x, name, data, file, stop_here) {
  if (!is.character(x)) return(x)
  values <- unique(x)
  invalid <- values[!validUTF8(values)]
  if (length(invalid)) stop_encoding(file, lines_of(data, match(invalid[1L], x)), sprintf("column \"%s\"", name), stop_here)
  doubled <- grepl("\"\"", values, fixed = TRUE)
  if (!any(doubled)) return(x)
  gsub("\"\"", "\"", x, fixed = TRUE)
}

stop_encoding <- function(file, line, where, stop_here) {
  stop_here(sprintf("Line %d of \"%s\" is not UTF-8 text (%s).", line, file, where),
            i = "It may be Latin-1: read it with encoding = \"Latin-1\" (--encoding Latin-1), or save it as UTF-8.")
}

# The line of the file on which a record begins: line breaks inside quoted cells count.
lines_of <- function(data, records) {
  breaks <- numeric(nrow(data))
  for (column in Filter(is.character, data)) {
    has <- which(grepl("\n", column, fixed = TRUE, useBytes = TRUE))
    breaks[has] <- breaks[has] + lengths(regmatches(column[has], gregexpr("\n", column[has], fixed = TRUE, useBytes = TRUE)))
  }
  records + 1 + c(0, cumsum(breaks))[records]
}
