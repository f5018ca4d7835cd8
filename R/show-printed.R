# What a file shows of its tables, kept inside beside the data, and what stands in
# the file itself: held against each other they tell what was changed by hand.

# Of every table its lines, with the texts of their cells.
printed_json <- function(entries) {
  json_text(list(format = printed_format, version = 1L,
                 sheets = unname(printed_sheets(entries))))
}

printed_sheets <- function(entries) {
  not_noted <- vapply(entries, function(entry) is.null(entry$noted$sheets), NA)
  out <- lapply(entries, function(entry) entry$noted$sheets)
  out[not_noted] <- on_cores(entries[not_noted], printed_entry)
  unlist(out, recursive = FALSE)
}

printed_entry <- function(entry) {
  if (entry$kind != "table") {
    drawn <- Filter(function(part) part$kind == "sheet", entry$parts)
    return(lapply(drawn, function(part) printed_sheet(part$sheet)))
  }
  in_style(entry$x$layout$style, printed_table(entry$x, sheets_of(entry$x)))
}

printed_table <- function(x, sheets) {
  lapply(sheets, printed_sheet, seeded = !is.null(x$layout$round_seed))
}

# The sheets of a table's entry, which are noted where they are to be kept.
noted_sheets <- function(entry) {
  sheets <- sheets_of(entry$x)
  if (!is.null(entry$noted)) entry$noted$sheets <- printed_table(entry$x, sheets)
  sheets
}

# `seeded`: counts are rounded by a seed, which stays with the author.
printed_sheet <- function(sheet, seeded = FALSE) {
  text <- sheet_text(sheet)
  stub <- sheet$stub
  # further figures of a line stand under it by their names
  first <- !(duplicated(paste(stub$at, stub$label)) & nzchar(stub$figure))
  called <- line_called(ifelse(first, stub$label, stub$figure))
  list(title = bare_title(sheet), number = sheet$number, each = sheet$each,
       decimal_mark = setting("decimal_mark"), seeded = if (seeded) TRUE,
       columns = as.list(columns_called(sheet$columns)),
       rows = lapply(seq_len(nrow(text)), function(i) {
         list(label = called[i], cells = as.list(text[i, ]))
       }),
       said = as.list(c(sheet$tests, sheet$strength)))
}

# Columns by the heading over them, their answer and their figure.
columns_called <- function(columns) {
  trimws(gsub(" +", " ", paste(columns$heading, columns$label, columns$figure)))
}

# Whether what a file says it shows has the form that it was written in.
is_sound_print <- function(shown) {
  is.list(shown$sheets) && all(vapply(shown$sheets, is_sound_sheet, NA))
}

is_sound_sheet <- function(sheet) {
  if (!is.list(sheet) || !is.list(sheet$rows)) return(FALSE)
  texts <- Filter(Negate(is.null), c(list(title = sheet$title %||% NA),
                                     sheet[c("number", "each", "decimal_mark")]))
  all(vapply(texts, one_text, NA)) && (sheet$decimal_mark %||% ".") %in% c(".", ",") &&
    all(vapply(as.list(sheet$columns), is.character, NA)) &&
    all(vapply(sheet$rows, is_sound_row, NA))
}

is_sound_row <- function(row) {
  is.list(row) && one_text(row$label) && all(vapply(as.list(row$cells), is.character, NA))
}

# A label without what forms do to it: indents, breaks, spaces.
line_called <- function(label) {
  gsub("^ | $", "", gsub("[ \u2002\u00a0\u00ad\t\r\n]+", " ", label, perl = TRUE))
}

# The rows of all tables in a file, each a list of texts (numbers of a workbook are
# numbers), the first of them the label.
rows_shown <- function(path, call) {
  switch(file_ending(path),
         html = rows_of_xml(xml2::read_html(path), "//tr", "./th|./td", NULL),
         docx = rows_of_part(path, "word/document.xml", "//w:tbl/w:tr", "./w:tc", ".//w:t", call),
         pptx = rows_of_part(path, "ppt/slides/slide[0-9]+[.]xml", "//a:tr", "./a:tc",
                             ".//a:t", call),
         xlsx = rows_of_workbook(path))
}

rows_of_part <- function(path, part, row, cell, text, call) {
  folder <- checked_package(path, most_template, call)
  on.exit(unlink(folder, recursive = TRUE))
  files <- list.files(folder, recursive = TRUE)
  files <- files[grepl(paste0("^", part, "$"), files)]
  unlist(lapply(file.path(folder, files), function(file) {
    rows_of_xml(xml2::read_xml(file), row, cell, text)
  }), recursive = FALSE)
}

rows_of_xml <- function(document, row, cell, text) {
  space <- xml2::xml_ns(document) # which takes long in a large document
  lapply(xml2::xml_find_all(document, row, space), function(one) {
    cells <- xml2::xml_find_all(one, cell, space)
    vapply(cells, function(node) {
      if (is.null(text)) return(xml2::xml_text(node))
      paste(xml2::xml_text(xml2::xml_find_all(node, text, space)), collapse = "")
    }, "")
  })
}

rows_of_workbook <- function(path) {
  unlist(lapply(readxl::excel_sheets(path), function(sheet) {
    cells <- suppressMessages(readxl::read_xlsx(path, sheet, col_names = FALSE,
                                                col_types = "list",
                                                .name_repair = "minimal"))
    lapply(seq_len(nrow(cells)), function(i) {
      vapply(cells, function(column) {
        value <- column[[i]]
        if (is.null(value) || !length(value) || is.na(value[1L])) "" else
          if (is.numeric(value)) sprintf("%.15e", value) else as.character(value)
      }, "", USE.NAMES = FALSE)
    })
  }), recursive = FALSE)
}

# The numbers of a text as it was printed, each with how far the next number of as
# many decimals is.
numbers_printed <- function(text, mark) {
  text <- gsub("\u2212", "-", text)
  # spaces, points and commas between thousands
  text <- gsub("(?<=[0-9])[ \u00a0\u202f'](?=[0-9]{3}(?![0-9]))", "", text, perl = TRUE)
  between <- if (mark == ",") "[.]" else ","
  text <- gsub(sprintf("(?<=[0-9])%s(?=[0-9]{3}(?![0-9]))", between), "", text, perl = TRUE)
  if (mark == ",") text <- gsub("(?<=[0-9]),(?=[0-9])", ".", text, perl = TRUE)
  found <- unlist(regmatches(text, gregexpr("[0-9]*[.]?[0-9]+(e[-+]?[0-9]+)?", text)))
  decimals <- ifelse(grepl(".", found, fixed = TRUE) & !grepl("e", found),
                     nchar(sub("^[^.]*[.]", "", found)), 0L)
  list(value = as.numeric(found), step = 10^-decimals, text = found)
}

# What the kept lines have and the rows of the file have not: a data frame of the
# title, the line and the text that is gone. Rows are found by their labels; a line
# of the same name in another table of the file counts as one.
changed_by_hand <- function(printed, rows) {
  labels <- vapply(rows, function(row) if (length(row)) line_called(row[1L]) else "", "")
  by_mark <- lapply(c("." = ".", "," = ","), function(mark) {
    lapply(rows, function(row) numbers_printed(row[-1L], mark))
  })
  found <- lapply(printed$sheets, function(sheet) {
    mark <- sheet$decimal_mark %||% "."
    called <- vapply(sheet$rows, `[[`, "", "label")
    lapply(unique(called), function(label) {
      own <- unlist(lapply(sheet$rows[called == label], `[[`, "cells"))
      wanted <- numbers_printed(own, mark)
      if (!length(wanted$value)) return(NULL)
      here <- which(labels == label)
      there <- unlist(lapply(by_mark[[mark]][here], `[[`, "value"))
      gone <- wanted$text[!met_in(wanted, there)]
      if (length(gone)) list2DF(list(title = rep(sheet$title, length(gone)),
                                     line = rep(label, length(gone)), printed = gone))
    })
  })
  do.call(rbind, unlist(found, recursive = FALSE)) %||%
    list2DF(list(title = character(), line = character(), printed = character()))
}

# Whether each number is among others: as it was printed, or in the full digits of a
# workbook, where shares of 1 are percentages. Each stands for one only.
met_in <- function(wanted, there) {
  there <- as.numeric(there) # none where the line is gone
  out <- logical(length(wanted$value))
  for (k in seq_along(out)) {
    near <- abs(outer(there, c(1, 100)) - wanted$value[k]) <= wanted$step[k] * 0.5 + 1e-9
    at <- which(rowSums(near) > 0)[1L]
    out[k] <- !is.na(at)
    if (out[k]) there <- there[-at]
  }
  out
}
