# Workbooks, JSON and Parquet. Each gives raw columns, what was detected, and the place of a record.

read_workbook <- function(path, file, options, call) {
  need_package("readxl", "read a workbook (.xlsx)", call)
  sheets <- tryCatch(readxl::excel_sheets(path), error = function(e) stop_corrupt(file, "a workbook", call))
  sheet <- chosen_sheet(options$sheet, sheets, file, call)
  cells <- tryCatch(suppressMessages(readxl::read_xlsx(path, sheet, range = options$range, col_names = FALSE, col_types = "list", .name_repair = "minimal")),
                    error = function(e) stop_input(c(sprintf("Sheet \"%s\" of \"%s\" cannot be read.", sheet, file), x = first_line(conditionMessage(e))), "file", path = file, call = call))
  grid_records(lapply(cells, identity), file, sheet, sheets, options, call)
}

# An OpenDocument sheet is a zip of XML: rows and cells may stand for several like them.
read_opendocument <- function(path, file, options, call) {
  need_package("xml2", "read an OpenDocument sheet (.ods)", call)
  if (!is.null(options$range)) stop_input("`range` is for workbooks (.xlsx): an OpenDocument sheet is read whole.", "file", call = call)
  inside <- tryCatch(suppressWarnings(utils::unzip(path, list = TRUE)), error = function(e) NULL)
  if (!"content.xml" %in% inside$Name) stop_corrupt(file, "an OpenDocument sheet", call)
  check_unpacked(inside$Length[inside$Name == "content.xml"], file, call)
  content <- unpack(unz(path, "content.xml", "rb"), "content.xml", file, call)
  on.exit(unlink(content$path))
  document <- tryCatch(xml2::read_xml(content$path, options = c("NONET", "HUGE")), error = function(e) stop_corrupt(file, "an OpenDocument sheet", call))
  tables <- xml2::xml_find_all(document, "//*[local-name()='spreadsheet']/*[local-name()='table']")
  sheets <- xml2::xml_attr(tables, "name")
  sheet <- chosen_sheet(options$sheet, sheets, file, call)
  rows <- unlist(lapply(xml2::xml_find_all(tables[[match(sheet, sheets)]], ".//*[local-name()='table-row']"), function(row) {
    cells <- ods_cells(row)
    if (all(vapply(cells, is.na, NA))) list(NULL) else rep(list(cells), repeated(row, "number-rows-repeated"))
  }), recursive = FALSE)
  width <- max(0L, lengths(rows))
  columns <- lapply(seq_len(width), function(k) lapply(rows, function(row) if (k <= length(row)) row[[k]] else NA))
  grid_records(columns, file, sheet, sheets, options, call)
}

repeated <- function(node, attribute) as.integer(xml2::xml_attr(node, attribute, default = "1"))

# The cells of a row by their values, formulas too; what a merged cell covers is empty.
ods_cells <- function(row) {
  cells <- unlist(lapply(xml2::xml_find_all(row, "./*[local-name()='table-cell' or local-name()='covered-table-cell']"), function(cell) {
    value <- switch(xml2::xml_attr(cell, "value-type", default = ""), float = , percentage = , currency = as.numeric(xml2::xml_attr(cell, "value")),
                    date = as.POSIXct(substr(xml2::xml_attr(cell, "date-value"), 1L, 10L), tz = "UTC"), boolean = xml2::xml_attr(cell, "boolean-value") == "true",
                    string = paste(xml2::xml_text(xml2::xml_find_all(cell, "./*[local-name()='p']")), collapse = "\n"), NA)
    times <- repeated(cell, "number-columns-repeated")
    if (is.na(value) && times > 200L) list() else rep(list(value), times) # the empty rest of a line
  }), recursive = FALSE)
  if (length(cells)) cells else list(NA)
}

chosen_sheet <- function(sheet, sheets, file, call) {
  if (is.null(sheet)) return(sheets[1L])
  if (!is.numeric(sheet) && !sheet %in% sheets && grepl("^[0-9]+$", sheet)) sheet <- as.integer(sheet)
  if (is.numeric(sheet) && sheet >= 1 && sheet <= length(sheets)) return(sheets[sheet])
  if (sheet %in% sheets) return(sheet)
  stop_input(c(sprintf("\"%s\" has no sheet \"%s\".", file, sheet), did_you_mean(as.character(sheet), sheets, "Sheets")), "file", path = file, call = call)
}

# Cells with the names of the columns in the first line.
grid_records <- function(columns, file, sheet, sheets, options, call) {
  stop_here <- function(...) stop_input(c(...), "file", path = file, call = call)
  if (!length(columns) || length(columns[[1L]]) < 2L) stop_here(sprintf("Sheet \"%s\" of \"%s\" has no records.", sheet, file))
  blank <- function(cell) is.null(cell) || is.na(cell[1L]) || identical(trimws(cell), "")
  head <- vapply(columns, function(column) if (blank(column[[1L]])) "" else trimws(as.character(column[[1L]])), "")
  empty <- vapply(columns, function(column) all(vapply(column, blank, NA)), NA)
  columns <- columns[!empty]
  nameless <- which(!nzchar(head) & !empty)
  if (length(nameless)) {
    stop_here(sprintf("Column %d of sheet \"%s\" has no name in the first line.", nameless[1L], sheet),
              i = "Every column needs its own name there: take merged heading cells apart, or choose the cells with `range` (--range).")
  }
  body <- lapply(columns, function(column) column[-1L])
  used <- Reduce(`|`, lapply(body, function(column) !vapply(column, blank, NA)))
  if (!any(used)) stop_here(sprintf("Sheet \"%s\" of \"%s\" has no records.", sheet, file))
  names(body) <- head[!empty]
  typed <- Map(sheet_column, lapply(body, function(column) column[used]), names(body))
  said <- c(if (length(sheets) > 1L && is.null(options$sheet)) sprintf("sheet \"%s\" of %d", sheet, length(sheets)), unlist(lapply(typed, function(one) one$said)),
            if (!all(used)) sprintf("%d blank lines passed over", sum(!used)))
  lines <- which(used) + 1L
  list(data = list2DF(lapply(typed, function(one) one$values)), said = said, line_of = function(records) lines[records])
}

# One column of a sheet, cell by cell: numbers kept as text become numbers when all of them are, and that is said.
sheet_column <- function(cells, name) {
  none <- vapply(cells, function(cell) is.null(cell) || is.na(cell[1L]) || identical(trimws(cell), ""), NA)
  kind <- rep("", length(cells))
  kind[!none] <- vapply(cells[!none], function(cell) if (inherits(cell, "POSIXt")) "date" else if (is.numeric(cell)) "number" else if (is.logical(cell)) "logical" else "text", "")
  text <- rep(NA_character_, length(cells))
  text[!none] <- vapply(cells[!none], function(cell) if (inherits(cell, "POSIXt")) format(cell, if (format(cell, "%H%M%S") == "000000") "%Y-%m-%d" else "%Y-%m-%d %H:%M:%S", tz = "UTC") else
    if (is.numeric(cell)) number_text(cell) else trimws(as.character(cell)), "")
  kinds <- unique(kind[!none])
  if (!length(kinds)) return(list(values = rep(NA, length(cells))))
  if (identical(kinds, "logical")) return(list(values = as.logical(text)))
  if (identical(kinds, "date")) return(list(values = as.Date(substr(text, 1L, 10L))))
  number <- suppressWarnings(as.numeric(text))
  padded <- any(grepl("^0[0-9]", text))
  if (all(kinds %in% c("number", "text")) && !anyNA(number[!none]) && !padded) {
    as_text <- sum(kind == "text")
    return(list(values = number, said = if (as_text && as_text < sum(!none)) sprintf("%d numbers kept as text in \"%s\"", as_text, name)))
  }
  list(values = text, said = if ("date" %in% kinds) sprintf("dates among other cells in \"%s\", read as text", name))
}

read_json_records <- function(path, file, options, call) {
  text <- paste(readLines(path, warn = FALSE, encoding = "UTF-8"), collapse = "\n")
  data <- tryCatch(jsonlite::fromJSON(text), error = function(e) stop_input(c(sprintf("\"%s\" is not JSON.", file), x = first_line(conditionMessage(e))), "file", path = file, call = call))
  json_records(data, file, call)
}

read_json_lines <- function(path, file, options, call) {
  lines <- readLines(path, warn = FALSE, encoding = "UTF-8")
  at <- which(nzchar(trimws(lines)))
  data <- tryCatch(jsonlite::fromJSON(paste0("[", paste(lines[at], collapse = ","), "]")), error = function(e) {
    bad <- Find(function(k) !jsonlite::validate(lines[k]), at)
    stop_input(c(sprintf("Line %s of \"%s\" is not JSON.", bad %||% "?", file), i = "JSON lines have one object a line."), "file", path = file, call = call)
  })
  raw <- json_records(data, file, call)
  raw$line_of <- function(records) at[records]
  raw
}

json_records <- function(data, file, call) {
  if (!is.data.frame(data) || !nrow(data)) {
    stop_input(c(sprintf("\"%s\" is not a list of records.", file), i = "It must be a list of objects, one a record, of the same keys."), "file", path = file, call = call)
  }
  nested <- names(data)[!vapply(data, is.atomic, NA) | vapply(data, function(x) !is.null(dim(x)), NA)]
  if (length(nested)) stop_input(sprintf("In \"%s\", \"%s\" holds lists or objects, not single values.", file, nested[1L]), "file", path = file, call = call)
  list(data = data, said = NULL, line_of = function(records) paste("record", records))
}

read_parquet_file <- function(path, file, options, call) {
  need_package("nanoparquet", "read a Parquet file", call)
  data <- tryCatch(as.data.frame(nanoparquet::read_parquet(path)), error = function(e) stop_corrupt(file, "a Parquet file", call, first_line(conditionMessage(e))))
  if (!nrow(data)) stop_input(sprintf("\"%s\" has no records.", file), "file", path = file, call = call)
  list(data = data, said = NULL, line_of = function(records) paste("record", records))
}
