# What is put on the sheets of a workbook: names, lines of text, pages, and the
# looks of cells.

# The name of a new sheet: at most 31 characters, none that the format forbids,
# none that is taken. It begins with its number, but for the sheets of a book,
# whose tables have a number of their own (`whole`).
sheet_name <- function(title, b, whole = FALSE) {
  base <- gsub("[]*?:/\\\\'\u2018\u2019[]+", " ", visible(title))
  base <- trimws(gsub("\\s+", " ", base))
  if (!nzchar(base)) base <- words("caption_table")
  number <- length(b$names$taken)
  name <- trimws(substr(base, 1L, 31L))
  if (!whole || tolower(name) %in% b$names$taken)
    name <- trimws(substr(sprintf("%d %s", number, base), 1L, 31L))
  b$names$taken <- c(b$names$taken, tolower(name))
  add_sheet(b$book, name)
  name
}

# ---- lines of text, pages ----

# Text over the width of the table (of eight columns at least), on rows as high
# as it needs. `wide` are the widths of the columns in characters.
put_lines <- function(b, name, lines, from, wide) {
  if (!length(lines)) return(invisible())
  wide <- c(wide, rep(8.4, max(0L, 8L - length(wide))))
  rows <- from + seq_along(lines) - 1L
  put_cells(b, name, lines, 1L, from)
  for (row in rows) merge_cells(b, name, seq_along(wide), row)
  put_style(b, name, list(wrap = TRUE, side = "left", upright = TRUE), rows, 1L)
  # widths are in digits, and letters of a text are narrower
  high <-
    vapply(lines, function(line) length(strwrap(line, 1.05 * sum(wide))), 0L)
  row_heights(b, name, rows, 15.5 * pmax(1L, high))
}

# A data frame under its names, which have a look of their own.
put_frame <- function(b, name, frame, row, filter = FALSE) {
  put_cells(b, name, t(names(frame)), 1L, row)
  put_cells(b, name, frame, 1L, row + 1L)
  number <- vapply(frame, is.numeric, NA)
  put_style(b, name,
            list(bold = TRUE, bottom = "head", wrap = TRUE, side = "left",
                 inset = TRUE), row, which(!number))
  put_style(b, name,
            list(bold = TRUE, bottom = "head", wrap = TRUE, side = "right"),
            row, which(number))
  # texts do not touch the figures before them
  put_style(b, name, list(side = "left", inset = TRUE),
            row + seq_len(nrow(frame)), which(!number))
  if (any(text_width(names(frame)[number]) > 9L)) row_heights(b, name, row, 31)
  sheet <- sheet_named(b$book, name)
  if (filter)
    sheet$filter <- sprintf("$A$%d:$%s$%d", row, column_letters(length(frame)),
                            row + nrow(frame))
}

# The title of a sheet, and the lines under it.
put_title <- function(b, name, lines) {
  if (!length(lines)) return(invisible())
  put_cells(b, name, lines, 1L, 1L)
  put_style(b, name, list(bold = TRUE, size = 14), 1L, 1L)
  if (length(lines) > 1L)
    put_style(b, name, list(quiet = TRUE), seq_along(lines)[-1L], 1L)
}

# What is printed: the table on pages of its width, its heads repeated.
set_page <- function(b, name, rows, columns, heads) {
  set_paper(b, name, if (columns > 9L) "landscape" else "portrait")
  define_name(b, name, "Print_Titles", sprintf("$%d:$%d", heads[1L], heads[2L]))
  define_name(b, name, "Print_Area",
              sprintf("$A$%d:$%s$%d", rows[1L],
                      column_letters(max(columns, 8L)), rows[2L]))
}

# ---- looks: gathered while a sheet is written, then one style for all cells of one look ----

# A look is a list: format, bold, quiet, size, side, wrap, upright, fill, and
# the rules top and bottom. What is said last of a cell holds.
put_style <- function(b, name, look, rows, columns) {
  put_looks(b, rep(rows, length(columns)), rep(columns, each = length(rows)), list(look),
            rep(1L, length(rows) * length(columns)))
}

# Cells with the looks that they have, by their number in a list of looks.
put_looks <- function(b, rows, columns, looks, chosen) {
  keys <- vapply(looks, function(look) {
    paste(deparse(Filter(Negate(is.null), look)), collapse = "")
  }, "")
  new <- !keys %in% ls(b$looks)
  for (k in which(new)) assign(keys[k], looks[[k]], b$looks)
  b$cells$put <-
    c(b$cells$put, list(list(row = rows, column = columns, key = keys[chosen])))
}

flush_looks <- function(b, name) {
  put <- b$cells$put
  b$cells$put <- NULL
  look_part <- function(part) unlist(lapply(put, `[[`, part))
  cells <- list2DF(list(row = as.integer(look_part("row")),
                        column = as.integer(look_part("column")),
                        key = as.character(look_part("key"))))
  cells <- cells[!duplicated(cell_place(cells), fromLast = TRUE), ]
  keys <- unique(cells$key)
  cells$style <- vapply(keys, look_style, 0L, b = b)[match(cells$key, keys)]
  finish_sheet(b, name, cells)
}

look_style <- function(b, key) {
  if (is.null(b$styles[[key]]))
    b$styles[[key]] <- as.integer(style_number(b, b$looks[[key]]))
  b$styles[[key]]
}
