# Comma-, tab- and semicolon-separated text.

# One reader, one rule: src/delimited.cpp says how a file is made (names,
# records, blank lines, the lines that records begin on) and what is wrong with
# it, by RFC 4180. data.table reads the cells fast, and what it read must be as
# many records of the same names; where it balks, or a cell is one that it takes
# otherwise, the cells come from the first reader.
read_delimited <- function(path, file, options, call) {
  stop_file <- function(...) {
    stop_input(c(...), "file", path = file, call = call)
  }
  text <- in_utf8(path, options$encoding, stop_file, file)
  path <- text$path
  above <- lines_above_header(path, options$delimiter)
  if (length(above)) path <- without_lines(path, length(above))
  header <- header_line(path)
  if (!validUTF8(header)) stop_encoding(file, 1L, "the header", stop_file)
  if (!nzchar(trimws(header))) {
    stop_file(tells("first_line_blank", file), i = tells("names_columns"))
  }
  sep <- options$delimiter %||% separator_of(header)
  check_width(header, sep, file, stop_file)
  decimal <- options$decimal %||% decimal_mark(path, sep)
  made <- scan_delimited_kernel(path, sep, FALSE)
  made$line <- made$line + length(above)
  stop_if_faulty(made, file, stop_file)
  if (!made$records) stop_file(tells("header_no_records", file))
  check_names(made$header, file, stop_file)
  quickly <- !made$odd && file.size(path) > quick_from
  data <- (if (quickly) read_quickly(path, sep, decimal, made)) %||%
          read_carefully(path, sep, decimal)
  line_of <- function(records) {
    length(above) + if (length(made$lines)) made$lines[records] else records + 1
  }
  data[] <- lapply(names(data), function(name) {
    clean_text(data[[name]], name, line_of, file, stop_file)
  })
  blank <- made$blank
  said <- c(text$said, if (length(above)) words("read_above_header", above),
            separator_words(sep, file, options$delimiter),
            if (decimal == "," && is.null(options$decimal))
              words("read_decimal_commas"),
            if (blank) words("read_blank_lines", blank))
  list(data = data, said = said, line_of = line_of, blank = blank)
}

separator_words <- function(sep, file, given) {
  usual <- if (grepl("[.](tsv|tab)", file)) "\t" else ","
  if (is.null(given) && sep != usual && sep != ",") {
    name_of("read_separator",
            c("\t" = "tab", ";" = "semicolon", "|" = "bar")[[sep]])
  }
}

# What is wrong with a file, where, and what to do.
stop_if_faulty <- function(made, file, stop_file) {
  line <- format_count(made$line)
  size <- length(made$header)
  switch(made$fault, unreadable = stop_file(tells("cannot_read_end", file)),
         nul = stop_file(tells("line_holds_zero_byte_no", line, file),
                         i = tells("utf_16_say_encoding_utf")),
         ragged = stop_file(if (made$line == 2)
                              tells("first_line_but_line_2", file,
                                    how_many(size, "cell"),
                                    format_count(made$cells)) else
                              tells("line_but_first_line", line, file,
                                    how_many(made$cells, "cell"), size),
                            i = if (made$cells > size)
                              tells("separator_inside_answer_needs_quotes") else
                              tells("correct_line")),
         after_quote = stop_file(tells("line_text_after_closing_quote", line,
                                       file),
                                 i = tells("quote_inside_cell_quotes_written")),
         unclosed = stop_file(tells("quote_opens_line_never_closed", line,
                                    file),
                              i = tells("close_write_twice_belongs_answer")))
}

# The file in UTF-8: itself, or a copy that is. A byte-order mark of UTF-16 is
# taken at its word.
in_utf8 <- function(path, encoding, stop_file, file) {
  mark <- readBin(path, "raw", 2L)
  said <- NULL
  if (is.null(encoding) && length(mark) == 2L &&
        (all(mark == c(0xff, 0xfe)) || all(mark == c(0xfe, 0xff)))) {
    encoding <- if (mark[1L] == 0xff) "UTF-16LE" else "UTF-16BE"
    said <- encoding
  }
  if (is.null(encoding) || toupper(encoding) == "UTF-8")
    return(list(path = path, said = NULL))
  bytes <- bytes_of(path, stop_file, file)
  text <- tryCatch(iconv(list(bytes), from = encoding, to = "UTF-8",
                         toRaw = TRUE)[[1L]], error = function(e) {
                           stop_file(tells(
                                       "r_does_not_know_encoding", encoding),
                                     i = tells("iconvlist_lists_those_knows"))
                         })
  if (is.null(text)) stop_file(tells("file_is_not_text", file, encoding))
  list(path = scratch_copy(text, ".csv"), said = said)
}

# "," where cells such as 1,5 occur and none such as 1.5; a comma between cells
# leaves no other choice than ".".
decimal_mark <- function(path, sep) {
  if (sep == ",") return(".")
  cells <- unlist(strsplit(readLines(path, n = 500L, warn = FALSE), sep,
                           fixed = TRUE, useBytes = TRUE))
  with_mark <- function(mark) {
    any(grepl(sprintf("^\"?-?[0-9]+%s[0-9]+\"?$", mark), cells,
              useBytes = TRUE))
  }
  if (with_mark(",") && !with_mark("[.]")) "," else "."
}

# Bytes from which a file is worth loading data.table for.
quick_from <- 1e6

# What data.table makes of the file; NULL when it says anything, or has another
# number of records or other names.
read_quickly <- function(path, sep, decimal, made) {
  data <- tryCatch(
    data.table::fread(path, sep = sep, header = TRUE, skip = 0L,
                      na.strings = "", strip.white = TRUE, encoding = "UTF-8",
                      dec = decimal, keepLeadingZeros = TRUE,
                      integer64 = "character", data.table = FALSE,
                      check.names = FALSE, blank.lines.skip = made$blank > 0,
                      showProgress = FALSE, nThread = setting("threads")),
    warning = function(w) NULL, error = function(e) NULL)
  if (is.null(data) || nrow(data) != made$records ||
        !identical(enc2utf8(names(data)), enc2utf8(made$header))) return(NULL)
  # words that data.table takes for numbers are no numbers here
  odd <- vapply(data, function(x) {
    is.double(x) && any(is.nan(x) | is.infinite(x))
  }, NA)
  if (any(odd)) return(NULL)
  # and it leaves a doubled quote inside quotes doubled
  data[] <- lapply(data, function(x) {
    if (is.character(x) && !plain_text_kernel(x))
      gsub("\"\"", "\"", x, fixed = TRUE, useBytes = TRUE) else x
  })
  data[] <- lapply(data, function(x) {
    if (is.character(x)) `Encoding<-`(x, "UTF-8") else x
  })
  data
}

# The cells by the rule itself, one by one.
read_carefully <- function(path, sep, decimal) {
  read <- scan_delimited_kernel(path, sep, TRUE)
  data <- lapply(read$data, typed_cells, decimal = decimal)
  names(data) <- read$header
  list2DF(data, nrow = read$records)
}

# A column of text as numbers where every cell is one that can be held exactly,
# as true or false where all are, else as it is.
typed_cells <- function(x, decimal) {
  met <- unique(x) # of few answers, met many times each
  there <- met[!is.na(met)]
  mark <- if (decimal == ",") "," else "[.]"
  if (!length(there)) return(rep(NA, length(x)))
  if (all(there %in% c("TRUE", "FALSE", "True", "False", "true", "false")))
    return(toupper(x) == "TRUE")
  if (all(grepl("^[0-9]{4}-[0-9]{2}-[0-9]{2}$", there)) &&
        !anyNA(dates <- as.Date(there, optional = TRUE))) {
    return(dates[match(x, there)])
  }
  number <-
    sprintf("^[+-]?([0-9]+(%s[0-9]*)?|%s[0-9]+)([eE][+-]?[0-9]+)?$", mark, mark)
  if (!all(grepl(number, there)) || any(grepl("^[+-]?0[0-9]", there))) return(x)
  values <- as.numeric(sub(",", ".", there, fixed = TRUE))
  if (any(abs(values) >= 2^53)) return(x)
  whole <- all(grepl("^[+-]?[0-9]+$", there)) && all(abs(values) < 2^31)
  if (whole) values <- as.integer(values)
  values[match(x, there)]
}

header_line <- function(path) {
  header <-
    readLines(path, n = 1L, warn = FALSE, encoding = "UTF-8", skipNul = TRUE)
  if (!length(header)) return("")
  header <- rawToChar(without_mark(charToRaw(header)))
  Encoding(header) <- "UTF-8"
  header
}

# Lines over the header that are none of the table: half its cells at most each,
# while the header has as many as most lines (of those that are looked at) and the
# two after it, and names that are names: no numbers, none blank, no two alike.
lines_above_header <- function(path, sep) {
  lines <- readLines(path, n = 60L, warn = FALSE, encoding = "UTF-8", skipNul = TRUE)
  bare <- gsub("\"[^\"]*\"", "", lines, useBytes = TRUE)
  if (length(bare) < 3L || any(grepl("\"", bare, fixed = TRUE, useBytes = TRUE)))
    return(character())
  sep <- sep %||% separator_of(bare[which.max(nchar(bare, type = "bytes"))])
  header <- header_among(cells_on(bare, sep))
  if (is.na(header) || !all_are_names(lines[header], sep)) return(character())
  lines[seq_len(header - 1L)]
}

# How many cells every line has; none where it is blank.
cells_on <- function(lines, sep) {
  cells <- lengths(regmatches(lines, gregexpr(sep, lines, fixed = TRUE, useBytes = TRUE))) + 1L
  replace(cells, !grepl("[^ \t\r]", lines, useBytes = TRUE), 0L)
}

# Which line is the header by the number of its cells; NA where the first is, or
# where that cannot be told.
header_among <- function(cells) {
  width <- as.integer(names(which.max(table(cells[cells > 0L]))))
  header <- which(cells == width)[1L]
  after <- cells[-seq_len(header)]
  whole <- all(utils::head(after[after > 0L], 2L) == width)
  above <- cells[seq_len(header - 1L)]
  fits <- whole && header %in% 2:30 && width > 1L && header < length(cells) &&
    all(above <= width / 2)
  if (fits) header else NA_integer_
}

# Whether the cells of a line can be names of columns.
all_are_names <- function(line, sep) {
  names <- strsplit(line, sep, fixed = TRUE, useBytes = TRUE)[[1L]]
  bare <- gsub("^[ \"]+|[ \"]+$", "", names, useBytes = TRUE)
  number <- suppressWarnings(as.numeric(sub(",", ".", bare, fixed = TRUE, useBytes = TRUE)))
  all(nzchar(bare)) && !anyDuplicated(bare) && all(is.na(number))
}

# The file without its first lines, as a scratch copy.
without_lines <- function(path, n) {
  bytes <- readBin(path, "raw", file.size(path))
  ends <- which(bytes == as.raw(10L))
  scratch_copy(bytes[-seq_len(ends[n])], ".csv")
}

# A limit on columns, counted before anything is read: so many are no questions.
check_width <- function(header, sep, file, stop_file) {
  width <- sum(charToRaw(header) == charToRaw(sep)) + 1L
  if (width > setting("most_columns")) {
    stop_file(tells("first_line_names_columns_most", file, format_count(width),
                    format_count(setting("most_columns"))),
              i = tells("table_turned_side_not_set"))
  }
}

separator_of <- function(header) {
  bare <- gsub("\"[^\"]*\"", "", header, useBytes = TRUE)
  bytes <- charToRaw(bare)
  counts <- vapply(c(",", "\t", ";", "|"), function(sep) {
    sum(bytes == charToRaw(sep))
  }, 0L)
  if (all(counts == 0L)) "," else names(which.max(counts))
}

check_names <- function(names, file, stop_file) {
  if (any(!validUTF8(names))) stop_encoding(file, 1L, "the header", stop_file)
  if (any(!nzchar(names)))
    stop_file(tells("file_column_has_no_name", which(!nzchar(names))[1L], file))
  twice <- names[duplicated(names)]
  if (length(twice)) {
    stop_file(tells("two_columns_named_columns", file, twice[1L],
                    list_some(which(names == twice[1L]))),
              i = tells("rename_one"))
  }
}

# Text must be valid.
clean_text <- function(x, name, line_of, file, stop_file) {
  if (!is.character(x) || plain_text_kernel(x)) return(x)
  values <- unique(x)
  invalid <- values[!validUTF8(values)]
  if (length(invalid))
    stop_encoding(file, line_of(match(invalid[1L], x)),
                  sprintf("column \"%s\"", name), stop_file)
  x
}

stop_encoding <- function(file, line, where, stop_file) {
  stop_file(tells("line_not_utf_8_text", line, file, where),
            i = tells("may_latin_1_read_encoding"))
}
