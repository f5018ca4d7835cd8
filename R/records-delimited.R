# Comma-, tab- and semicolon-separated text.

# Nothing may be guessed away: whatever data.table's reader would skip, pad or stop at becomes an error with its line.
read_delimited <- function(path, file, options, call) {
  stop_here <- function(...) stop_input(c(...), "file", path = file, call = call)
  text <- in_utf8(path, options$encoding, stop_here, file)
  path <- text$path
  header <- header_line(path)
  if (!validUTF8(header)) stop_encoding(file, 1L, "the header", stop_here)
  if (!nzchar(trimws(header))) {
    stop_here(sprintf("The first line of \"%s\" is blank.", file), i = "It must have the names of the columns.")
  }
  sep <- separator_of(header)
  check_width(header, sep, file, stop_here)
  decimal <- options$decimal %||% decimal_mark(path, sep)
  read <- read_quickly(path, sep, decimal)
  if (any(grepl("improper quoting", read$said))) read <- read_carefully(path, sep, decimal)
  if (is.null(read$data)) stop_here(sprintf("\"%s\" cannot be read as a table of records.", file), x = first_line(read$said))
  data <- read$data
  stop_if_ragged(read$said, file, stop_here)
  if (!nrow(data)) stop_here(sprintf("\"%s\" has a header and no records.", file))
  check_names(names(data), header_cells(header, sep), file, stop_here)
  data[] <- lapply(names(data), function(name) clean_text(data[[name]], name, data, file, stop_here))
  said <- c(text$said, if (sep != "," && !grepl("[.](tsv|tab)", file)) sprintf("%s between cells", c("\t" = "tabs", ";" = "semicolons")[[sep]]),
            if (decimal == "," && is.null(options$decimal)) "decimal commas")
  list(data = data, said = said, line_of = function(records) lines_of(data, records))
}

# The file in UTF-8: itself, or a copy that is. A byte-order mark of UTF-16 is taken at its word.
in_utf8 <- function(path, encoding, stop_here, file) {
  mark <- readBin(path, "raw", 2L)
  said <- NULL
  if (is.null(encoding) && length(mark) == 2L && (all(mark == c(0xff, 0xfe)) || all(mark == c(0xfe, 0xff)))) {
    encoding <- if (mark[1L] == 0xff) "UTF-16LE" else "UTF-16BE"
    said <- encoding
  }
  if (is.null(encoding) || toupper(encoding) == "UTF-8") return(list(path = path, said = NULL))
  bytes <- readBin(path, "raw", file.size(path))
  text <- tryCatch(iconv(list(bytes), from = encoding, to = "UTF-8", toRaw = TRUE)[[1L]], error = function(e) {
    stop_here(sprintf("This R does not know the encoding \"%s\".", encoding), i = "iconvlist() lists those that it knows.")
  })
  if (is.null(text)) stop_here(sprintf("\"%s\" is not %s text.", file, encoding))
  copy <- tempfile(fileext = ".csv")
  writeBin(text, copy)
  list(path = copy, said = said)
}

# "," where cells such as 1,5 occur and none such as 1.5; a comma between cells leaves no other choice than ".".
decimal_mark <- function(path, sep) {
  if (sep == ",") return(".")
  cells <- unlist(strsplit(readLines(path, n = 500L, warn = FALSE), sep, fixed = TRUE, useBytes = TRUE))
  with_mark <- function(mark) any(grepl(sprintf("^\"?-?[0-9]+%s[0-9]+\"?$", mark), cells, useBytes = TRUE))
  if (with_mark(",") && !with_mark("[.]")) "," else "."
}

# What the quick reader made of the file, and what it said in passing.
read_quickly <- function(path, sep, decimal) {
  said <- character()
  data <- tryCatch(
    withCallingHandlers(
      data.table::fread(path, sep = sep, header = TRUE, skip = 0L, na.strings = "", strip.white = TRUE, encoding = "UTF-8", dec = decimal,
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
read_carefully <- function(path, sep, decimal) {
  tryCatch({
    data <- utils::read.table(path, sep = sep, header = TRUE, quote = "\"", comment.char = "", colClasses = "character",
                              na.strings = "", check.names = FALSE, strip.white = TRUE,
                              fileEncoding = "UTF-8-BOM")
    data[] <- lapply(data, function(x) if (any(grepl("^0[0-9]", x))) x else utils::type.convert(x, na.strings = "", as.is = TRUE, dec = decimal))
    list(data = data, said = character())
  }, error = function(e) list(data = NULL, said = conditionMessage(e)), warning = function(w) list(data = NULL, said = conditionMessage(w)))
}

first_line <- function(text) sub("\n.*", "", text)

header_line <- function(path) {
  header <- readLines(path, n = 1L, warn = FALSE, encoding = "UTF-8", skipNul = TRUE)
  if (!length(header)) return("")
  bytes <- charToRaw(header)
  if (identical(utils::head(bytes, 3L), as.raw(c(0xef, 0xbb, 0xbf)))) { # a byte-order mark
    header <- rawToChar(bytes[-(1:3)])
    Encoding(header) <- "UTF-8"
  }
  header
}

# A limit on columns, counted before anything is read: so many are no questions.
check_width <- function(header, sep, file, stop_here) {
  width <- sum(charToRaw(header) == charToRaw(sep)) + 1L
  if (width > setting("most_columns")) {
    stop_here(sprintf("The first line of \"%s\" names %s columns; at most %s are read.", file, format_count(width), format_count(setting("most_columns"))),
              i = "Is the table turned on its side? If not, set options(fairlattice.most_columns = NUMBER).")
  }
}

header_cells <- function(header, sep) {
  scan(text = header, what = "", sep = sep, quote = "\"", quiet = TRUE, strip.white = TRUE, encoding = Encoding(header))
}

separator_of <- function(header) {
  bare <- gsub("\"[^\"]*\"", "", header, useBytes = TRUE)
  bytes <- charToRaw(bare)
  counts <- vapply(c(",", "\t", ";"), function(sep) sum(bytes == charToRaw(sep)), 0L)
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
  if (!is.character(x) || plain_text_kernel(x)) return(x)
  values <- unique(x)
  invalid <- values[!validUTF8(values)]
  if (length(invalid)) stop_encoding(file, lines_of(data, match(invalid[1L], x)), sprintf("column \"%s\"", name), stop_here)
  doubled <- grepl("\"\"", values, fixed = TRUE)
  if (!any(doubled)) return(x)
  gsub("\"\"", "\"", x, fixed = TRUE)
}

stop_encoding <- function(file, line, where, stop_here) {
  stop_here(sprintf("Line %d of \"%s\" is not UTF-8 text (%s).", line, file, where),
            i = "It may be Latin-1: read it with encoding = \"latin1\" (--encoding latin1), or save it as UTF-8.")
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
