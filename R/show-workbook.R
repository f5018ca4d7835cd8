# Tables as a workbook: a sheet a table, in which numbers are numbers; a list of
# the sheets; the figures one row a cell; and, where that is asked for, sheets
# that calculate (R/show-live.R).

workbook_of <- function(entries, file, asked) {
  need_package("zip", tells("to_write_workbook"), asked$call)
  entries <- noting(entries)
  tables <- published_tables(entries)
  style <- if (length(tables)) tables[[1L]]$layout$style
  book <- new_spreadsheet(first_font(style$fonts$text %||% "Calibri"),
                          style$fonts$size %||% 11)
  kept <- function() new.env(parent = emptyenv())
  b <- list(book = book, styles = kept(), looks = kept(), cells = kept(),
            names = kept(), look = style)
  b$names$taken <- tolower(words("workbook.contents"))
  add_sheet(book, words("workbook.contents"), grid = TRUE)
  # results stand in a workbook as frames
  shown <- Filter(function(entry) entry$kind == "table", entries)
  made_of <- drawn_with_data(entries, shown, function() {
    listed <- unlist(lapply(entries, workbook_entry, b = b,
                            live = asked$formulas), recursive = FALSE)
    listed <- Filter(Negate(is.null), listed)
    data <- if (!is_book(entries)) workbook_data(tables, b)
    workbook_contents(c(listed, data), b)
    book$active <- if (length(listed) == 1L) 2L else 1L
  })
  save_spreadsheet(book, file, function(folder) {
    if (!is.null(made_of$aside)) add_data(folder, made_of$aside, "xl/workbook.xml")
  })
}

# The sheets of an entry, with a title each for the list.
workbook_entry <- function(entry, b, live) {
  if (entry$kind == "front") return(NULL)
  if (entry$kind == "chapter")
    return(list(list(name = "", title = entry$title)))
  if (entry$kind != "table") return(list(workbook_result(entry, b)))
  x <- entry$x
  # a figure in brackets would make the cell a text
  if (length(x$layout$show) > 1L &&
        (x$layout$stack %||% "brackets") == "brackets") {
    x$layout$stack <- "beside"
    entry$x <- x
    entry$noted <- NULL # what is kept is as it was asked for
  }
  in_style(x$layout$style, {
    sheets <- noted_sheets(entry)
    paragraphs <- paragraphs_of(entry)
    c(lapply(seq_along(sheets), function(k) {
      workbook_sheet(sheets[[k]], if (k == length(sheets)) paragraphs, b)
    }), if (live) workbook_live(x, b))
  })
}

# ---- one sheet ----

workbook_sheet <- function(sheet, paragraphs, b) {
  name <- sheet_name(paste0(if (!is.null(sheet$number))
                              paste0(sheet$number, " "),
                            full_title(replace(
                              sheet, "title", bare_title(sheet)))), b,
                     !is.null(sheet$number))
  at <- workbook_columns(sheet)
  top <- c(full_title(sheet), visible(sheet$subtitle))
  top <- top[nzchar(top)]
  heads <- head_rows(sheet)
  first <- length(top) + 2L # where the heads begin
  body <- first + length(heads)
  last <- body + nrow(sheet$value) - 1L
  put_title(b, name, top)
  put_heads(b, name, heads, first, at)
  wide <- put_body(b, name, sheet, body, at)
  text <- c(texts_below(sheet),
            if (length(paragraphs)) c(words("to_paste"), paragraphs))
  put_lines(b, name, text, last + 2L, wide)
  freeze_before(b, name, body, 2L)
  set_page(b, name, c(1L, last + 1L + length(text)), at$last,
           c(first, body - 1L))
  flush_looks(b, name)
  list(name = name, title = full_title(sheet))
}

# Where the columns of a sheet stand: its figures, beside them the upper ends of
# intervals and the signs where there are any.
workbook_columns <- function(sheet) {
  ends <- !all(is.na(sheet$high))
  signs <- any(cell_signs(sheet) != "")
  wide <- 1L + ends + signs
  value <- 2L + wide * (seq_len(nrow(sheet$columns)) - 1L)
  list(value = value, high = if (ends) value + 1L,
       sign = if (signs) value + 1L + ends, wide = wide,
       last = max(value) + wide - 1L)
}

put_heads <- function(b, name, heads, first, at) {
  deep <- length(heads)
  for (level in seq_len(deep)) {
    cells <- heads[[level]]
    from <- cumsum(c(0L, cells$span))[seq_len(nrow(cells))]
    column <- c(1L, at$value)[from + 1L]
    row <- first + level - 1L
    text <- ifelse(nzchar(cells$figure),
                   trimws(paste0(cells$text, "\n", cells$figure)), cells$text)
    last <- level == deep
    for (k in which(nzchar(text))) {
      put_cells(b, name, text[k], column[k], row)
      if (cells$kind[k] == "spanner" && cells$span[k] * at$wide > 1L)
        merge_cells(b, name, column[k] + seq_len(cells$span[k] * at$wide) - 1L,
                    row)
    }
    put_style(b, name,
              list(bold = TRUE, wrap = TRUE, side = "right",
                   bottom = if (last) "head"), row, 1L:at$last)
    put_style(b, name,
              list(bold = TRUE, wrap = TRUE, side = "left",
                   bottom = if (last) "head"), row,
              column[cells$kind %in% c("corner")])
    spans <- which(cells$kind == "spanner")
    for (k in spans) put_style(
      b, name, list(bold = TRUE, side = "left", bottom = "spanner"), row,
      column[k] + seq_len(cells$span[k] * at$wide) - 1L)
  }
}

# Gives how wide the columns are.
put_body <- function(b, name, sheet, body, at) {
  rows <- body + seq_len(nrow(sheet$value)) - 1L
  put_cells(b, name, stub_labels(sheet$stub), 1L, body)
  looks <- workbook_formats(sheet)
  text <- figure_text(sheet[c("value", "kind", "high")], sheet$decimals)
  number <- !is.na(sheet$value)
  signs <- cell_signs(sheet)
  starts <-
    vapply(line_groups(sheet$stub), function(group) group$rows[1L], 0L)[-1L]
  for (j in seq_along(at$value)) {
    put_numbers(b, name, sheet$value[, j], at$value[j], body, text[, j],
                number[, j])
    if (length(at$high))
      put_numbers(b, name, sheet$high[, j], at$high[j], body, "",
                  !is.na(sheet$high[, j]))
    if (length(at$sign)) put_cells(b, name, signs[, j], at$sign[j], body)
  }
  of_row <- lapply(seq_along(rows), function(i) {
    list(bold = sheet$stub$role[i] %in% c("net", "heading"),
         quiet = sheet$stub$role[i] == "base", top = if (i %in% starts) "foot",
         bottom = if (i == length(rows)) "foot")
  })
  put_looks(b, rows, rep(1L, length(rows)),
            lapply(of_row, c, list(side = "left", wrap = TRUE)),
            seq_along(rows))
  fill <- mark_fills[sheet$mark]
  cells <- list2DF(list(row = as.vector(row(sheet$value)),
                        format = as.vector(looks), fill = as.vector(fill)))
  kinds <- unique(cells)
  which <- match(do.call(paste, cells), do.call(paste, kinds))
  looks_of <- function(side, format) {
    lapply(seq_len(nrow(kinds)), function(k) {
      c(of_row[[kinds$row[k]]],
        list(side = side, format = format(kinds$format[k]),
             fill = kinds$fill[k] %|NA|% NULL))
    })
  }
  columns <- function(places) as.integer(places[as.vector(col(sheet$value))])
  here <- rows[cells$row]
  put_looks(b, here, columns(at$value), looks_of("right", identity), which)
  if (length(at$high))
    put_looks(b, here, columns(at$high), looks_of("left", upper_end), which)
  if (length(at$sign))
    put_looks(b, here, columns(at$sign), looks_of("left", function(f) NULL),
              which)
  labels <- c(sheet$corner, stub_labels(sheet$stub))
  wide <- rep(8, at$last)
  wide[1L] <- min(45, max(12, text_width(labels) + 2))
  widths <- pmax(8, vapply(head_texts(sheet), longest_word, 0L) + 2,
                 vapply(seq_along(at$value), function(j) {
                   max(text_width(text[, j])) + 3
                 }, 0))
  wide[at$value] <- widths
  if (length(at$sign)) wide[at$sign] <- max(3, text_width(signs) + 1)
  column_widths(b, name, wide)
  tall <- lengths(lapply(stub_labels(sheet$stub), wrap_label, wide[1L] - 1))
  row_heights(b, name, rows[tall > 1L], 15.5 * tall[tall > 1L])
  # heads on as many lines as they need
  lines <- Map(function(label, figure, width) {
    parts <- c(label, figure)
    sum(lengths(lapply(parts[nzchar(parts)], wrap_label, width - 1)))
  }, sheet$columns$label, sheet$columns$figure, widths)
  row_heights(b, name, body - 1L, 15.5 * max(unlist(lines), 1L))
  wide
}

# The upper end of an interval follows a dash.
upper_end <- function(format) {
  if (format != "General") paste0("\"\u2013 \"", format)
}

# Numbers of a column, and where there is none what stands there.
put_numbers <- function(b, name, value, column, body, text, number) {
  put_cells(b, name, value, column, body)
  put_cells(b, name, ifelse(number, "", text), column, body)
}

# How a number of each kind is shown, with the decimals of the sheet.
workbook_formats <- function(sheet) {
  out <- matrix("General", nrow(sheet$kind), ncol(sheet$kind))
  for (kind in setdiff(unique(as.vector(sheet$kind)),
                       c("", not_shown))) {
    here <- sheet$kind == kind
    out[here] <-
      number_format(kind, digits_for(kind, sheet$value[here], sheet$decimals))
  }
  flagged <- which(sheet$flag == "caution")
  after <- sprintf("\" %s\"", unsure)
  out[flagged] <-
    paste0(gsub(";", paste0(after, ";"), out[flagged], fixed = TRUE), after)
  out
}

number_format <- function(kind, digits) {
  places <- if (digits > 0L) paste0(".", strrep("0", digits)) else ""
  plain <- paste0("0", places)
  grouped <- if (nzchar(setting("thousands_mark"))) paste0("#,##0", places) else
    plain
  switch(kind, count = , weighted = , estimated = , estimated_interval = , effective = ,
         base_range = , weighted_range = , effective_range = grouped,
         percent = if (setting("percent_sign")) paste0(plain, "\"%\"") else
           plain, change = ,
         change_interval = sprintf("+%1$s;\u2212%1$s;%1$s", plain), plain)
}

# ---- the list of sheets, results, data ----

workbook_contents <- function(listed, b) {
  name <- words("workbook.contents")
  titles <- vapply(listed, `[[`, "", "title")
  names <- vapply(listed, `[[`, "", "name")
  put_cells(b, name, name, 1L, 1L)
  put_style(b, name, list(bold = TRUE, size = 14), 1L, 1L)
  chapters <- !nzchar(names)
  links <- sprintf("HYPERLINK(\"#'%s'!A1\",\"%s\")", names,
                   gsub("\"", "\"\"", names, fixed = TRUE))
  for (k in which(!chapters)) put_formulas(
    b, name, links[k], 1L, k + 2L, names[k])
  put_style(b, name, list(link = TRUE), which(!chapters) + 2L, 1L)
  put_style(b, name, list(bold = TRUE), which(chapters) + 2L, 2L)
  put_cells(b, name, titles, 2L, 3L)
  column_widths(b, name, c(34, 80))
  set_paper(b, name)
  flush_looks(b, name)
}

# A result: its figures as numbers, and what it says.
workbook_result <- function(entry, b) {
  name <- sheet_name(entry$title, b, is.null(entry$x))
  put_title(b, name, entry$title)
  row <- 3L
  for (frame in entry$frames) {
    put_frame(b, name, frame, row,
              filter = nrow(frame) > 8L && length(entry$frames) == 1L)
    format_columns(b, name, frame, row)
    column_widths(b, name,
                  vapply(frame, function(column) {
                    min(60,
                        max(10,
                            if (!is.numeric(column))
                              text_width(as.character(column)[!is.na(column)]) +
                                2))
                  }, 0))
    row <- row + nrow(frame) + 2L
  }
  for (part in entry$parts) if (part$kind == "pairs") {
    put_cells(b, name, cbind(part$labels, part$texts), 1L, row)
    put_style(b, name, list(wrap = TRUE, upright = TRUE, side = "left"),
              row - 1L + seq_along(part$labels), 1:2)
    column_widths(b, name, c(18, 90))
    high <- vapply(part$texts, function(text) length(strwrap(text, 84L)), 0L)
    row_heights(b, name, row - 1L + seq_along(part$labels),
                15.5 * pmax(1L, high))
    row <- row + length(part$labels) + 1L
  }
  said <- unlist(lapply(entry$parts, function(part) {
    if (part$kind == "said") part$text[nzchar(part$text)]
  }))
  put_lines(b, name, said, row, rep(12, 8L))
  set_paper(b, name,
            if (any(lengths(entry$frames) > 6L)) "landscape" else "portrait")
  flush_looks(b, name)
  list(name = name, title = entry$title)
}

# Numbers of a result with three decimals, p-values never as 0.
format_columns <- function(b, name, frame, row) {
  for (k in which(vapply(frame, function(column) {
    is.double(column) && any(column != round(column), na.rm = TRUE)
  }, NA))) {
    format <- if (startsWith(names(frame)[k], "p"))
      "[<0.001]\"< 0.001\";0.000" else "0.000"
    put_style(b, name, list(format = format), row + seq_len(nrow(frame)), k)
  }
}

# All cells of all tables, one a row, for further work; not of what may not be
# listed.
workbook_data <- function(tables, b) {
  if (!length(tables) || !can_carry(tables)) return(NULL)
  name <- sheet_name(words("workbook.data"), b)
  put_frame(b, name, tidy_frame(tables, identity), 1L)
  freeze_before(b, name, 2L, 1L)
  flush_looks(b, name)
  list(list(name = name, title = words("workbook.data")))
}
