# Workbooks, JSON and Parquet. Each gives raw columns, what was detected, and
# the place of a record.

read_workbook <- function(path, file, options, call) {
  need_package("readxl", tells("to_read_workbook"), call)
  check_workbook(path, file, options, call)
  range <- cell_range(options$range, call)
  sheets <- in_child(function(path) readxl::excel_sheets(path), list(path),
                     file, "a workbook", call)
  sheet <- chosen_sheet(options$sheet, sheets, file, call)
  cells <- in_child(function(path, sheet, range) {
    if (!is.null(range)) range <- readxl::cell_limits(range[1:2], range[3:4])
    as.list(suppressMessages(readxl::read_xlsx(
                               path, sheet, range = range, col_names = FALSE,
                               col_types = "list", .name_repair = "minimal")))
  }, list(path, sheet, range), file,
                    tells("must_workbook_with_sheet", sheet),
                    call)
  grid_records(cells, file, sheet, sheets, options, call,
               above = if (is.null(range)) 0L else range[1L] - 1L)
}

# The readers of these formats are other people's, and a damaged file can bring
# down the process that reads it: so they work in a process of their own, whose
# end is an error like any other.
in_child <- function(work, arguments, file, what, call) {
  need_package("callr", tells("to_read_safely"), call)
  environment(work) <- globalenv()
  tryCatch(run_in_child(work, arguments), error = function(e) {
    # what the reader itself said is the error within the error
    why <- if (inherits(e, "callr_status_error")) first_line(conditionMessage(e$parent))
    stop_corrupt(file, what, call,
                 if (is.null(why)) tells("reader_format_broke_down") else cut_short(why, 200L))
  })
}

# The process stays for the next file, unless it met a fault or this process is itself a copy of
# another (parallel work), whose reader it may not share.
run_in_child <- function(work, arguments) {
  own <- Sys.getpid() == reader$home
  session <- if (own) reader$session
  if (is.null(session) || !session$is_alive()) {
    session <- new_r_session()
    if (own) reader$session <- session
  }
  stays <- FALSE
  on.exit(if (!stays) session$close())
  out <- session$run(function(work, arguments, folder) {
    setwd(folder)
    do.call(work, arguments)
  }, list(work, arguments, getwd()))
  stays <- own
  out
}

# A process of R that stays, with the packages of this one. With `supervise` it
# ends with this one, even where that is killed in the middle of a question. It
# has room for the columns of large files, so that it is not cleared up (all that
# is loaded gone through) at each of them.
new_r_session <- function(supervise = FALSE) {
  callr::r_session$new(callr::r_session_options(
    extra = list(supervise = supervise),
    env = c(callr::rcmd_safe_env(), R_VSIZE = "384M",
            R_LIBS = paste(.libPaths(), collapse = .Platform$path.sep))),
    wait_timeout = 30000) # a busy machine takes its time
}

# The process that reads, and the one that the package was loaded in.
reader <- new.env(parent = emptyenv())

# A workbook is a zip file: all its parts must be whole, and its sheets of a
# size that can be held.
check_workbook <- function(path, file, options, call) {
  parts <- zip_list(path, file, call, "a workbook")
  if (!all(c("[Content_Types].xml", "xl/workbook.xml") %in% parts$name))
    stop_corrupt(file, tells("a_workbook"), call)
  check_unpacked(sum(parts$size), file, call)
  for (k in which(!grepl("/$", parts$name) & parts$size > 0)) {
    part <- zip_part(path, parts[k, ], file, call, "a workbook")
    size <- if (grepl("^xl/worksheets/[^/]*[.]xml$", parts$name[k]))
      sheet_extent_kernel(readBin(part, "raw", file.size(part)))
    unlink(part)
    if (!is.null(size) && is.null(options$range))
      check_sheet_size(size[["rows"]], size[["columns"]], file, call)
  }
}

check_sheet_size <- function(rows, columns, file, call) {
  most <- setting("most_sheet_cells")
  if (rows * columns > most || columns > setting("most_columns")) {
    stop_input(c(tells("sheet_spans_rows_columns_most", file,
                       format_count(rows), format_count(columns),
                       format_count(most)),
                 i = tells("stray_cell_far_off_choose")), "too_large",
               path = file, call = call)
  }
}

# "B2:H400", or "B2" for all from there on, as first row, first column, last
# row, last column.
cell_range <- function(range, call) {
  if (is.null(range)) return(NULL)
  found <- if (is.character(range) && length(range) == 1L)
    regmatches(toupper(range),
               regexec("^([A-Z]{1,3})([0-9]{1,7})(:([A-Z]{1,3})([0-9]{1,7}))?$",
                       toupper(range)))[[1L]]
  column <- function(letters) {
    if (nzchar(letters))
      Reduce(function(sum, letter) 26 * sum + letter, utf8ToInt(letters) - 64L,
             0) else NA_real_
  }
  out <- if (length(found))
    c(as.numeric(found[3L]), column(found[2L]),
      if (nzchar(found[6L])) as.numeric(found[6L]) else NA_real_,
      column(found[5L]))
  if (is.null(out) || out[1L] < 1 || any(out[3:4] < out[1:2], na.rm = TRUE)) {
    stop_input(c(tells("range_cells_sheet_not", quote_value(range)),
                 i = tells("write_b2_h400_b2_all")), "range", call = call)
  }
  out
}

# An OpenDocument sheet is a zip of XML: rows and cells may stand for several
# like them.
read_opendocument <- function(path, file, options, call) {
  need_package("xml2", tells("to_read_ods"), call)
  if (!is.null(options$range))
    stop_input(tells("range_workbooks_xlsx_opendocument_sheet"), "file",
               call = call)
  what <- tells("must_ods")
  inside <- zip_list(path, file, call, what)
  inside <- inside[inside$name == "content.xml", ]
  if (nrow(inside) != 1L) stop_corrupt(file, what, call)
  content <- zip_part(path, inside, file, call, what)
  on.exit(unlink(content))
  document <- xml_document(content, file, what, call)
  tables <- xml2::xml_find_all(
    document, "//*[local-name()='spreadsheet']/*[local-name()='table']")
  sheets <- xml2::xml_attr(tables, "name")
  if (!length(sheets) || anyNA(sheets)) stop_corrupt(file, what, call)
  sheet <- chosen_sheet(options$sheet, sheets, file, call)
  rows <- lapply(xml2::xml_find_all(tables[[match(sheet, sheets)]],
                                    ".//*[local-name()='table-row']"),
                 function(row) {
                   cells <- ods_cells(row, file, call)
                   list(cells = if (!all(vapply(cells, is.na, NA))) cells,
                        times = repeated(row, "number-rows-repeated"))
                 })
  times <- vapply(rows, function(row) {
    if (is.null(row$cells)) min(row$times, 1) else row$times
  }, 0)
  width <- max(0L, lengths(lapply(rows, `[[`, "cells")))
  check_sheet_size(sum(times), width, file, call)
  rows <- rep(lapply(rows, `[[`, "cells"), times)
  columns <- lapply(seq_len(width), function(k) {
    lapply(rows, function(row) if (k <= length(row)) row[[k]] else NA)
  })
  grid_records(columns, file, sheet, sheets, options, call)
}

# XML without entities: they can blow up to any size, and no file read here has
# need of them. Codebooks may name their document type; packages of office
# programs have none.
xml_document <- function(path, file, what, call, doctype = TRUE) {
  bytes <- readBin(path, "raw", file.size(path))
  bare <- bytes[bytes != as.raw(0)] # in UTF-16 every other byte is 0
  if (!doctype && length(grepRaw("<!DOCTYPE", bare, fixed = TRUE)))
    stop_input(tells("declares_document_type", file), "file", path = file,
               call = call)
  if (length(grepRaw("<!ENTITY", bare, fixed = TRUE))) {
    stop_input(c(tells("declares_entities_not_read", file),
                 i = tells("remove_such_file_no_need")), "file", path = file,
               call = call)
  }
  # of names that are odd but read, xml2 warns in its own words
  tryCatch(suppressWarnings(xml2::read_xml(
                              path, options = c("NONET", "NOBLANKS"))),
           error = function(e) {
             stop_corrupt(file, what, call, first_line(conditionMessage(e)))
           })
}

repeated <- function(node, attribute) {
  times <-
    suppressWarnings(as.numeric(xml2::xml_attr(node, attribute, default = "1"))) # no number: once
  if (is.na(times)) 1 else max(0, min(round(times), 1e9))
}

# The cells of a row by their values, formulas too; what a merged cell covers is
# empty.
ods_cells <- function(row, file, call) {
  cells <- lapply(xml2::xml_find_all(row,
                                     "./*[local-name()='table-cell' or local-name()='covered-table-cell']"),
                  function(cell) {
                    value <- ods_value(cell)
                    times <- repeated(cell, "number-columns-repeated")
                    list(value = value,
                         # the empty rest of a line
                         times = if (is.na(value) && times > 200) 0 else times)
                  })
  times <- vapply(cells, `[[`, 0, "times")
  check_sheet_size(1, sum(times), file, call)
  cells <- rep(lapply(cells, `[[`, "value"), times)
  if (length(cells)) cells else list(NA)
}

# What a cell holds; a number or date that is none is its text.
ods_value <- function(cell) {
  text <- paste(xml2::xml_text(xml2::xml_find_all(
                                 cell, "./*[local-name()='p']")),
                collapse = "\n")
  kind <- xml2::xml_attr(cell, "value-type", default = "")
  value <- switch(kind, float = , percentage = ,
                  currency = suppressWarnings(
                    as.numeric(xml2::xml_attr(cell, "value"))),
                  date = tryCatch(as.POSIXct(
                                    substr(
                                      xml2::xml_attr(cell, "date-value"), 1L,
                                      10L), tz = "UTC", format = "%Y-%m-%d"),
                                  error = function(e) NA),
                  boolean = xml2::xml_attr(cell, "boolean-value") == "true",
                  string = text, NA)
  if (length(value) == 1L && is.na(value) && nzchar(text)) text else value
}

chosen_sheet <- function(sheet, sheets, file, call) {
  if (is.null(sheet)) return(sheets[1L])
  if (!is.atomic(sheet) || length(sheet) != 1L || is.na(sheet))
    stop_input(tells("sheet_one_name_number"), "file", call = call)
  if (!is.numeric(sheet) && !sheet %in% sheets && grepl("^[0-9]{1,6}$", sheet))
    sheet <- as.numeric(sheet)
  if (is.numeric(sheet) && sheet >= 1 && sheet <= length(sheets) &&
        sheet == round(sheet)) return(sheets[sheet])
  if (sheet %in% sheets) return(sheet)
  stop_input(c(tells("no_sheet", file, sheet),
               did_you_mean(as.character(sheet), sheets, "sheets")), "file",
             path = file, call = call)
}

# Cells with the names of the columns in the first line.
grid_records <- function(columns, file, sheet, sheets, options, call,
                         above = 0L) {
  stop_file <- function(...) {
    stop_input(c(...), "file", path = file, call = call)
  }
  if (!length(columns) || length(columns[[1L]]) < 2L)
    stop_no_records(sheet, sheets, file, stop_file)
  blank <- function(cell) {
    is.null(cell) || is.na(cell[1L]) || identical(trimws(cell), "")
  }
  head <- vapply(columns, function(column) {
    if (blank(column[[1L]])) "" else trimws(as.character(column[[1L]]))
  }, "")
  empty <- vapply(columns, function(column) all(vapply(column, blank, NA)), NA)
  columns <- columns[!empty]
  nameless <- which(!nzchar(head) & !empty)
  if (length(nameless)) {
    stop_file(tells("column_sheet_no_name_first", nameless[1L], sheet),
              i = tells("every_column_needs_own_name"))
  }
  body <- lapply(columns, function(column) column[-1L])
  used <- Reduce(`|`, lapply(body, function(column) !vapply(column, blank, NA)))
  if (!any(used)) stop_no_records(sheet, sheets, file, stop_file)
  names(body) <- head[!empty]
  typed <-
    Map(sheet_column, lapply(body, function(column) column[used]), names(body))
  said <- c(if (length(sheets) > 1L && is.null(options$sheet))
              words("read_sheet", sheet, length(sheets)),
            unlist(lapply(typed, function(one) one$said)),
            if (!all(used))
              words("read_blank_lines", sum(!used)))
  lines <- which(used) + 1L + above
  list(data = list2DF(lapply(typed, function(one) one$values)), said = said,
       line_of = function(records) lines[records], blank = sum(!used))
}

# The other sheets may have some.
stop_no_records <- function(sheet, sheets, file, stop_file) {
  others <- setdiff(sheets, sheet)
  stop_file(tells("sheet_no_records", sheet, file),
            i = if (length(others)) tells("other_sheets_are", list_some(quoted(others))))
}

# One column of a sheet, cell by cell: numbers kept as text become numbers when
# all of them are, and that is said.
sheet_column <- function(cells, name) {
  none <- vapply(cells, function(cell) {
    is.null(cell) || is.na(cell[1L]) || identical(trimws(cell), "")
  }, NA)
  kind <- rep("", length(cells))
  kind[!none] <- vapply(
    cells[!none], function(cell) {
      if (inherits(cell, "POSIXt")) "date" else if (is.numeric(cell))
        "number" else if (is.logical(cell)) "logical" else "text"
    }, "")
  text <- rep(NA_character_, length(cells))
  text[!none] <- vapply(
    cells[!none], function(cell) {
      if (inherits(cell, "POSIXt"))
        format(cell,
               if (format(cell, "%H%M%S") == "000000") "%Y-%m-%d" else
                 "%Y-%m-%d %H:%M:%S", tz = "UTC") else if (is.numeric(cell))
        number_text(cell) else trimws(as.character(cell))
    }, "")
  kinds <- unique(kind[!none])
  if (!length(kinds)) return(list(values = rep(NA, length(cells))))
  if (identical(kinds, "logical")) return(list(values = as.logical(text)))
  if (identical(kinds, "date"))
    return(list(values = as.Date(substr(text, 1L, 10L))))
  number <- suppressWarnings(as.numeric(text))
  padded <- any(grepl("^0[0-9]", text))
  if (all(kinds %in% c("number", "text")) && !anyNA(number[!none]) && !padded) {
    as_text <- sum(kind == "text")
    return(list(values = number,
                said = if (as_text && as_text < sum(!none))
                  words("read_numbers_as_text", as_text, name)))
  }
  list(values = text,
       said = if ("date" %in% kinds)
         words("read_dates_as_text", name))
}

# JSON is text and read as such: nothing that it holds is followed. Records and lists of
# anything are lists, with names and without; a whole number that no number can hold exactly
# stays a text.
parse_json <- function(text, stop_file) {
  found <- json_tree_kernel(utf8_text(text, stop_file), most_nested)
  if (is.list(found)) return(found[[1L]])
  stop_file(tells(c(fault = "text_is_not_json", too_deep = "nested_too_deeply",
                    zero = "not_json_can_read")[[found]]))
}

most_nested <- 200L

utf8_text <- function(text, stop_file) {
  text <- paste(text, collapse = "\n")
  if (validUTF8(text)) text else stop_file(tells("codebook_is_not_utf_8"))
}

# A list of records, or of values, as a data frame, or a vector: by a library, which sees what
# kinds there are. A text that holds the name of a file or an address is not followed, since
# text that is no JSON does not reach it.
parse_json_records <- function(text, stop_file) {
  text <- utf8_text(text, stop_file)
  if (json_depth_kernel(text) > most_nested) stop_file(tells("nested_too_deeply"))
  # no message of the parser is shown: it may hold any part of the text
  valid <- tryCatch(isTRUE(as.vector(jsonlite::validate(text))),
                    error = function(e) FALSE)
  if (!valid) stop_file(tells("text_is_not_json"))
  tryCatch(jsonlite::parse_json(text, simplifyVector = TRUE, bigint_as_char = TRUE),
           error = function(e) stop_file(tells("not_json_can_read")))
}

text_of <- function(path) {
  bytes <- without_mark(readBin(note_read(path), "raw", file.size(path)))
  if (any(bytes == as.raw(0))) bytes <- as.raw(0xff) # no text, in any encoding
  text <- rawToChar(bytes)
  Encoding(text) <- "UTF-8"
  text
}

read_json_records <- function(path, file, options, call) {
  stop_file <- function(why) {
    stop_input(c(tells("cannot_read_json", file), x = why), "file", path = file,
               call = call)
  }
  json_records(parse_json_records(text_of(path), stop_file), file, call)
}

read_json_lines <- function(path, file, options, call) {
  json_lines(strsplit(text_of(path), "\r?\n", useBytes = TRUE)[[1L]], 0, file,
             call)
}

# Some lines of a file, that come after `before` others.
json_lines <- function(lines, before, file, call) {
  Encoding(lines) <- "UTF-8"
  at <- which(grepl("[^ \t]", lines, useBytes = TRUE))
  object <- function(line) {
    validUTF8(line) && grepl("^[ \t]*[{].*[}][ \t]*$", line) &&
      isTRUE(as.vector(jsonlite::validate(line)))
  }
  stop_line <- function(why) {
    bad <- Find(function(k) !object(lines[k]), at)
    stop_input(c(tells("line_not_json",
                       if (is.null(bad)) "?" else format_count(before + bad),
                       file), x = if (is.null(bad)) why,
                 i = tells("json_lines_one_object_line")), "file", path = file,
               call = call)
  }
  data <- parse_json_records(paste0("[", paste(lines[at], collapse = ","), "]"), stop_line)
  raw <- json_records(data, file, call)
  if (nrow(raw$data) != length(at))
    stop_line(tells("line_holds_several_objects"))
  raw$line_of <- function(records) before + at[records]
  raw
}

# Lines of JSON as a data frame; NULL where all are blank.
json_frame <- function(lines, before, file, call) {
  if (!any(grepl("[^ \t\r]", lines, useBytes = TRUE))) return(NULL)
  json_lines(lines, before, file, call)$data
}

json_records <- function(data, file, call) {
  if (!is.data.frame(data) || !nrow(data)) {
    stop_input(c(tells("not_list_records", file),
                 i = tells("list_objects_one_record_same")), "file",
               path = file, call = call)
  }
  if (anyNA(names(data)) || any(!nzchar(names(data))))
    stop_input(tells("key_no_name", file), "file", path = file, call = call)
  plain <- vapply(data, function(x) is.atomic(x) && is.null(dim(x)), NA)
  nested <- names(data)[!plain]
  if (length(nested))
    stop_input(tells("holds_lists_objects_not_single", file, nested[1L]),
               "file", path = file, call = call)
  list(data = data, said = NULL, line_of = function(records) {
    paste("record", records)
  })
}

read_parquet_file <- function(path, file, options, call) {
  check_parquet(path, file, call)
  data <- in_child(function(path) {
    as.data.frame(nanoparquet::read_parquet(path))
  }, list(path), file, tells("a_parquet_file"), call)
  if (!nrow(data))
    stop_input(tells("file_has_no_records", file), "file", path = file,
               call = call)
  list(data = data, said = NULL, line_of = function(records) {
    paste("record", records)
  })
}

check_parquet <- function(path, file, call) {
  need_package("nanoparquet", tells("to_read_parquet"), call)
  size <- file.size(path)
  mark <- charToRaw("PAR1")
  if (size < 12 || !identical(bytes_at(path, 0, 4L), mark) ||
        !identical(bytes_at(path, size - 4, 4L), mark) ||
        number_of(bytes_at(path, size - 8, 4L)) > size - 12) {
    stop_corrupt(file, tells("a_parquet_file"), call)
  }
}
