# Tables as JSON, the contract that other programs build on, and back.

# The columns of every part, and whether they are text ("t"), numbers ("n") or true/false ("l").
table_contract <- list(
  left_out = c(reason = "t", records = "n"),
  layers = c(each = "t", n = "n", weighted = "n", effective = "n", df = "n", critical = "n"),
  cells = c(each = "t", down = "t", across = "t", n = "n", weighted = "n", row_percent = "n", column_percent = "n",
            total_percent = "n", row_low = "n", row_high = "n", column_low = "n", column_high = "n", total_low = "n",
            total_high = "n", expected = "n", residual = "n", pearson_residual = "n", adjusted_residual = "n", p = "n",
            p_corrected = "n", contribution = "n", share_of_statistic = "n", mark = "t"),
  margin = c(each = "t", category = "t", n = "n", weighted = "n", percent = "n"),
  categories = c(code = "t", label = "t"),
  tests = c(each = "t", test = "t", statistic = "n", df = "n", df_error = "n", p = "n", p_se = "n", base = "n",
            headline = "l", why = "t", note = "t"),
  strength = c(each = "t", measure = "t", explains = "t", estimate = "n", se = "n", low = "n", high = "n", p = "n",
               interval = "t", shown = "l", note = "t"),
  items = c(each = "t", item = "t", by = "t", test = "t", statistic = "n", df = "n", df_error = "n", p = "n",
            p_corrected = "n", cramers_v = "n",
            low = "n", high = "n", note = "t"),
  cautions = c(each = "t", code = "t", severity = "t", text = "t")
)

json_of <- function(x) {
  f <- findings(x)
  if (!is.null(x$tally)) f$source$sha256 <- source_hash(x$tally$facts$source)
  head <- list(format = "fairlattice-table", version = 1L, title = f$title,
               software = list(name = "fairlattice", version = as.character(utils::packageVersion("fairlattice"))))
  parts <- c("source", "down", "across", "each", "design", "settings", "base", "layers", "cells", "margins", "tests",
             "strength", "cautions", if (!is.null(f$items)) "items", "write_up")
  json_text(c(head, stats::setNames(lapply(parts, function(part) f[[part]]), parts)))
}

# The file's hash, if it is still the file that was read.
source_hash <- function(source) {
  if (is.null(source$path) || !file.exists(source$path)) return(NULL)
  now <- file.info(source$path)
  if (identical(now$size, source$size) && identical(now$mtime, source$modified)) cli::hash_file_sha256(source$path)
}

# Numbers are written with as many digits as bring the same number back (the JSON library stops at 15): they go
# through it as marked text, and the marks are taken off afterwards.
json_text <- function(x) {
  mark <- number_mark(x)
  text <- jsonlite::toJSON(mark_numbers(x, mark), auto_unbox = TRUE, null = "null", na = "null", dataframe = "rows",
                           pretty = TRUE)
  gsub(sprintf("\"%s([^\"]*)\"", mark), "\\1", text)
}

# A mark that no text of x begins with.
number_mark <- function(x) {
  mark <- "@number:"
  while (any(startsWith(as.character(unlist(x)), mark), na.rm = TRUE)) mark <- paste0("@", mark)
  mark
}

mark_numbers <- function(x, mark) {
  if (is.list(x)) {
    x[] <- lapply(x, mark_numbers, mark = mark)
    class(x) <- if (is.data.frame(x)) "data.frame"
    return(x)
  }
  # bare: a class would be taken as an order to the writer
  if (!is.numeric(x)) return(if (is.character(x)) plain_strings(x) else as.vector(x))
  text <- rep(NA_character_, length(x))
  finite <- is.finite(x)
  text[finite] <- paste0(mark, full_digits(as.numeric(x[finite])))
  text
}

# Text without class or other attributes, in UTF-8 whatever it was in.
plain_strings <- function(x) readable(as.vector(unclass(x)))

full_digits <- function(x) {
  short <- sprintf("%.15g", x)
  ifelse(as.numeric(short) == x, short, sprintf("%.17g", x))
}

#' Read a table back
#'
#' Reads what [publish()] wrote as JSON. The table prints the same and gives the same figures; since the records are
#' gone, nothing can be worked out anew (another level, another correction).
#'
#' @param path (string) A JSON file of one table, or of a list of tables.
#' @param ... Nothing: what is put here is an error, with the nearest argument's name.
#' @return A lattice, or a list of lattices.
#' @section Errors: `fairlattice_error_no_file`; `fairlattice_error_not_a_table`, naming the part that is missing.
#' @export
#' @examples
#' file <- tempfile(fileext = ".json")
#' publish(lattice(demo_records(), down = ferry, across = island), file)
#' read_lattice(file)
read_lattice <- function(path, ...) {
  nothing_else(...)
  call <- environment()
  check_file(path, call)
  stop_here <- function(...) stop_input(c(...), "not_a_table", path = path, call = call)
  raw <- parse_json(text_of(path), function(why) stop_here(sprintf("\"%s\" is not JSON.", basename(path)), x = why))
  if (!is.list(raw) || !length(raw)) stop_here(sprintf("\"%s\" is JSON, but holds no table.", basename(path)))
  if (is.null(names(raw)) && length(raw))
    return(lapply(raw, lattice_from_json, file = basename(path), stop_here = stop_here))
  lattice_from_json(raw, basename(path), stop_here)
}

lattice_from_json <- function(raw, file, stop_here) {
  if (!identical(raw$format, "fairlattice-table")) {
    stop_here(sprintf("\"%s\" is JSON, but not a table of Fair Lattice's.", file),
              i = "Its \"format\" must be \"fairlattice-table\".")
  }
  if (!identical(suppressWarnings(as.numeric(unlist(raw$version))), 1)) { # what is no number is another version
    stop_here(sprintf("\"%s\" is version %s of the table format; this program reads version 1.", file,
                      quote_value(raw$version)))
  }
  parts <- c("down", "across", "settings", "base", "layers", "cells", "margins", "tests", "strength", "cautions",
             "write_up")
  absent <- setdiff(parts, names(raw))
  if (length(absent)) stop_here(sprintf("\"%s\" has no \"%s\".", file, absent[1L]))
  kinds <- c(down = "list", across = "list", settings = "list", base = "list", layers = "list", cells = "list",
             margins = "list",
             tests = "list", strength = "list", cautions = "list")
  for (part in names(kinds)) if (!is.list(raw[[part]]))
    stop_here(sprintf("\"%s\": \"%s\" is not what it must be.", file, part))
  frame <- function(rows, part) frame_from_json(rows, table_contract[[part]], part, file, stop_here)
  question <- function(q) if (!is.null(q))
    c(q[c("name", "label", "ordered")],
      list(ticks = isTRUE(q$ticks), history = as.character(unlist(q$history)),
           categories = frame(q$categories, "categories")))
  f <- raw[c("title", "source", "design", "settings", "base")]
  f$settings <- settings_from_json(f$settings, file, stop_here)
  f[c("down", "across")] <- lapply(raw[c("down", "across")], question)
  f["each"] <- list(question(raw$each))
  f$base$left_out <- frame(f$base$left_out, "left_out")
  f$base$set_aside <- as.character(unlist(f$base$set_aside))
  f$margins <- lapply(raw$margins, frame, part = "margin")
  for (part in c("layers", "cells")) f[[part]] <- frame(raw[[part]], part)
  for (part in c("tests", "strength", "cautions")) f[[part]] <- as_findings(frame(raw[[part]], part), part)
  if (!is.null(raw$items)) f$items <- as_findings(frame(raw$items, "items"), "items")
  f$write_up <- as.character(unlist(raw$write_up))
  new_read_lattice(f)
}

settings_from_json <- function(settings, file, stop_here) {
  read <- tryCatch(checked_choices(settings$explains, settings$percent, as.numeric(settings$alpha), settings$correction,
                                   TRUE, isTRUE(settings$paired),
                                   isTRUE(settings$peaks), settings$p),
                                   error = function(e) stop_here(sprintf("\"%s\": \"settings\" cannot be read.", file),
                                                                 x = first_line(conditionMessage(e))))
  read[c("explains", "percent", "alpha", "correction", "paired", "peaks", "p")]
}

frame_from_json <- function(rows, contract, part, file, stop_here) {
  if (!is.list(rows) || !all(vapply(rows, is.list, NA)))
    stop_here(sprintf("\"%s\": \"%s\" is not a list of rows.", file, part))
  columns <- lapply(names(contract), function(column) {
    kind <- c(t = "character", n = "numeric", l = "logical")[[contract[[column]]]]
    value <- lapply(rows, function(row) if (is.null(row[[column]])) NA else row[[column]])
    absent <- which(!vapply(rows, function(row) column %in% names(row), NA))
    if (length(absent)) stop_here(sprintf("\"%s\": row %d of \"%s\" has no \"%s\".", file, absent[1L], part, column))
    bad <- which(lengths(value) != 1L |
                 !vapply(value, function(v) is.atomic(v) &&
                         (is.na(v) || kind == "character" || is.numeric(v) == (kind == "numeric")), NA))
    if (length(bad))
      stop_here(sprintf("\"%s\": \"%s\" in row %d of \"%s\" is not %s.", file, column, bad[1L], part, kind))
    as.vector(unlist(value), kind)
  })
  list2DF(stats::setNames(columns, names(contract)), nrow = length(rows))
}
