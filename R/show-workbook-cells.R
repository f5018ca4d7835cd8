# What is put on the sheets of a workbook: names, lines of text, pages, and the looks of cells.

# The name of a new sheet: at most 31 characters, none that the format forbids, none that is taken.
sheet_name <- function(title, b) {
  base <- gsub("[]*?:/\\\\'\u2018\u2019[]+", " ", visible(title))
  base <- trimws(gsub("\\s+", " ", base))
  if (!nzchar(base)) base <- words("caption_table")
  number <- length(b$names$taken)
  name <- trimws(substr(sprintf("%d %s", number, base), 1L, 31L))
  b$names$taken <- c(b$names$taken, tolower(name))
  openxlsx::addWorksheet(b$book, name, gridLines = FALSE)
  name
}

# ---- lines of text, pages ----

# Text over the width of the table (of eight columns at least), on rows as high as it needs. `wide` are the widths of
# the columns in characters.
put_lines <- function(b, name, lines, from, wide) {
  if (!length(lines)) return(invisible())
  wide <- c(wide, rep(8.4, max(0L, 8L - length(wide))))
  rows <- from + seq_along(lines) - 1L
  openxlsx::writeData(b$book, name, visible(lines), 1L, from, colNames = FALSE)
  for (row in rows) openxlsx::mergeCells(b$book, name, cols = seq_along(wide), rows = row)
  put_style(b, name, list(wrap = TRUE, side = "left", upright = TRUE), rows, 1L)
  high <- vapply(lines, function(line) length(strwrap(line, 0.9 * sum(wide))), 0L)
  openxlsx::setRowHeights(b$book, name, rows, 15.5 * pmax(1L, high))
}

# The title of a sheet, and the lines under it.
put_title <- function(b, name, lines) {
  if (!length(lines)) return(invisible())
  openxlsx::writeData(b$book, name, visible(lines), 1L, 1L, colNames = FALSE)
  put_style(b, name, list(bold = TRUE, size = 14), 1L, 1L)
  if (length(lines) > 1L) put_style(b, name, list(quiet = TRUE), seq_along(lines)[-1L], 1L)
}

# What is printed: the table on pages of its width, its heads repeated.
set_page <- function(b, name, rows, columns, heads) {
  openxlsx::pageSetup(b$book, name, orientation = if (columns > 9L) "landscape" else "portrait", paperSize = 9,
                      fitToWidth = TRUE, fitToHeight = FALSE, printTitleRows = seq(heads[1L], heads[2L]))
  area <- sprintf("<definedName name=\"_xlnm.Print_Area\" localSheetId=\"%d\">'%s'!$A$%d:$%s$%d</definedName>",
                  match(name, names(b$book)) - 1L, xml_escape(name), rows[1L], openxlsx::int2col(max(columns, 8L)),
                  rows[2L])
  b$book$workbook$definedNames <- c(b$book$workbook$definedNames, area)
}

# ---- looks: gathered while a sheet is written, then one style for all cells of one look ----

# A look is a list: format, bold, quiet, size, side, wrap, upright, fill, and the rules top and bottom. What is said
# last of a cell holds.
put_style <- function(b, name, look, rows, columns) {
  cells <- expand.grid(row = rows, column = columns)
  put_looks(b, cells$row, cells$column, list(look), rep(1L, nrow(cells)))
}

# Cells with the looks that they have, by their number in a list of looks.
put_looks <- function(b, rows, columns, looks, which) {
  keys <- vapply(looks, function(look) paste(deparse(Filter(Negate(is.null), look)), collapse = ""), "")
  new <- !keys %in% ls(b$looks)
  for (k in which(new)) assign(keys[k], looks[[k]], b$looks)
  b$cells$put <- c(b$cells$put, list(list(row = rows, column = columns, key = keys[which])))
}

flush_looks <- function(b, name) {
  put <- b$cells$put
  b$cells$put <- NULL
  of <- function(part) unlist(lapply(put, `[[`, part))
  cells <- list2DF(list(row = of("row"), column = of("column"), key = of("key")))
  cells <- cells[!duplicated(cells[c("row", "column")], fromLast = TRUE), ]
  for (at in split(seq_len(nrow(cells)), cells$key))
    openxlsx::addStyle(b$book, name, look_style(b, cells$key[at[1L]]), rows = cells$row[at], cols = cells$column[at],
                       gridExpand = FALSE)
}

look_style <- function(b, key) {
  if (is.null(b$styles[[key]])) b$styles[[key]] <- numbered_format(new_look(b$looks[[key]], b$look), b)
  b$styles[[key]]
}

# A format has one number in a book, whatever the looks that use it: there is room for no more than some two hundred.
numbered_format <- function(style, b) {
  if (is.null(style$numFmt) || as.integer(style$numFmt$numFmtId) < 164L) return(style) # a known one
  code <- style$numFmt$formatCode
  b$names$formats <- union(b$names$formats, code)
  style$numFmt$numFmtId <- 200L + match(code, b$names$formats)
  style
}

head_look <- function(b) new_look(list(bold = TRUE, bottom = "head", wrap = TRUE), b$look)

workbook_rules <- c(none = NA, thin = "thin", thick = "medium", double = "double")

new_look <- function(key, style) {
  colour <- function(name) paste0("#", hex_of(style$colours[[name]] %||% page_colours[[name]]))
  rule <- function(which) {
    kind <- switch(which, spanner = "thin", workbook_rules[[style$rules[[which]] %||% "thin"]])
    if (is.na(kind)) NULL else kind
  }
  sides <- c(top = key$top, bottom = key$bottom)
  kinds <- lapply(sides, rule)
  kinds <- unlist(Filter(Negate(is.null), kinds))
  openxlsx::createStyle(
    numFmt = key$format %||% "GENERAL", halign = key$side,
    valign = if (isTRUE(key$upright)) "top" else "bottom", wrapText = isTRUE(key$wrap),
    textDecoration = if (isTRUE(key$bold) || !is.null(key$fill) && key$fill != "typed") "bold",
    fontSize = key$size, fontColour = colour(if (isTRUE(key$quiet)) "quiet" else "ink"),
    fgFill = if (!is.null(key$fill)) colour(key$fill),
    border = if (length(kinds)) names(kinds), borderStyle = if (length(kinds)) unname(kinds) else "thin",
    borderColour = colour("rule"))
}
