# Sheets as plain text and as comma-separated values, as printed or tidy.

text_width_of_file <- 100L

# As a terminal of 100 columns shows them, with everything under them, and the
# paragraph.
plain_of <- function(entries) {
  lines <- unlist(lapply(entries, function(entry) {
    if (entry$kind != "table")
      return(c(entry$title, "",
               as.character(text_of_parts(entry$parts, text_width_of_file)),
               ""))
    x <- entry$x
    paragraphs <- in_style(x$layout$style, paragraphs_of(entry))
    c(if (!is.null(entry$finding))
        c(wrap_lines(entry$finding, text_width_of_file), ""),
      format(x, width = text_width_of_file),
      if (length(paragraphs))
        c(words("to_paste"), "", wrap_lines(paragraphs, text_width_of_file),
          ""))
  }))
  visible(plain_signs(cli::ansi_strip(lines)))
}

# As printed, for a spreadsheet: title, heads, lines of the table, and the lines of
# text; a blank line between tables. It begins with the mark by which spreadsheets
# know UTF-8. A figure stands alone in its cell, without a mark between thousands
# unless one was asked for; signs, letters and further figures have cells of their
# own.
csv_of <- function(entries) {
  lines <- unlist(lapply(entries, function(entry) {
    if (entry$kind != "table") return(csv_result(entry))
    in_style(entry$x$layout$style,
             unlist(lapply(sheets_of(entry$x), function(sheet) {
               c(csv_sheet(sheet), "")
             })))
  }))
  paste0("\ufeff", paste(lines, collapse = "\n"))
}

csv_sheet <- function(sheet) {
  columns <- in_bare_numbers(csv_columns(sheet))
  grid <- rbind(no_formula(c(sheet$corner, columns$heads)),
                cbind(no_formula(stub_labels(sheet$stub)), columns$texts))
  under <- texts_below(sheet)
  single <- function(lines) {
    vapply(no_formula(lines[nzchar(lines)]), csv_row, "", USE.NAMES = FALSE)
  }
  c(single(c(sheet$title, sheet$layer, sheet$subtitle)),
    apply(grid, 1L, csv_row), single(under))
}

# Every column of the sheet, its further figures and its signs.
csv_columns <- function(sheet) {
  heads <- head_texts(sheet)
  signs <- cell_signs(sheet)
  unsure <- ifelse(sheet$flag %||% "" == "caution", unsure, "")
  signs[] <- trimws(paste(unsure, signs))
  main <- figure_text(sheet, sheet$decimals)
  further <- lapply(sheet$inside, function(figure) {
    text <- figure_text(figure, sheet$decimals)
    text[sheet$kind %in% not_shown] <- ""
    text
  })
  columns <- lapply(seq_along(heads), function(j) {
    kinds <- vapply(sheet$inside, function(figure) {
      c(setdiff(figure$kind[, j], c("", not_shown)), "")[1L]
    }, "")
    there <- nzchar(kinds)
    signed <- any(nzchar(signs[, j]))
    list(heads = c(heads[j], trimws(paste(heads[j], csv_figure_names(kinds[there]),
                                          recycle0 = TRUE)),
                   if (signed) ""),
         texts = cbind(main[, j],
                       do.call(cbind, lapply(further[there], function(M) M[, j])),
                       if (signed) signs[, j]))
  })
  list(heads = unlist(lapply(columns, `[[`, "heads")),
       texts = do.call(cbind, lapply(columns, `[[`, "texts")))
}

csv_figure_names <- function(kinds) {
  code <- paste0("figure.", ifelse(kinds == "count", "n", kinds), recycle0 = TRUE)
  vapply(code, function(one) {
    if (is.character(sentence_of(one))) words(one) else words("csv_interval")
  }, "", USE.NAMES = FALSE)
}

# As other programs read them, but for what was asked for.
in_bare_numbers <- function(code) {
  bare <- list(fairlattice.thousands_mark = "", fairlattice.minus = "-",
               fairlattice.percent_sign = FALSE)
  was <- options(bare[vapply(names(bare), function(name) is.null(getOption(name)), NA)])
  on.exit(options(was))
  code
}

csv_result <- function(entry) {
  rows <- function(M) apply(matrix(no_formula(M), nrow(M)), 1L, csv_row)
  c(csv_row(no_formula(entry$title)),
    unlist(lapply(entry$parts, function(part) {
      switch(part$kind, sheet = csv_sheet(part$sheet),
             said = if (any(nzchar(part$text))) rows(cbind(part$text)),
             columns = rows(rbind(names(part$columns), part_texts(part))),
             pairs = rows(cbind(part$labels, part$texts)))
    })), "")
}

csv_row <- function(cells) {
  cells <- gsub("[\r\n]+", " ", visible(cells))
  paste(ifelse(grepl("[\",]", cells),
               paste0("\"", gsub("\"", "\"\"", cells, fixed = TRUE), "\""),
               cells), collapse = ",")
}

# Text that a spreadsheet would take for a formula, also by the wide signs of
# East Asian keyboards, stands behind an apostrophe.
no_formula <- function(text) {
  ifelse(grepl("^[[:space:]]*[-=+@\uff1d\uff0b\uff0d\uff20]", text) &
           !grepl("^-?[0-9.,]+$", text), paste0("'", text), text)
}

# Tidy: one row a cell, with the names of as.data.frame() and those of the
# questions before them.
write_tidy_csv <- function(tables, file) {
  for (x in unlist(lapply(tables, single_tables), recursive = FALSE)) {
    check_listed(x)
  }
  write_csv(tidy_frame(tables, no_formula), file)
}

# `text` is what becomes of text, beyond that signs which cannot be seen are
# written out.
tidy_frame <- function(tables, text) {
  shown <- function(x) if (is.character(x)) text(visible(x)) else x
  frames <- lapply(unlist(lapply(tables, single_tables), recursive = FALSE),
                   function(x) {
                     facts <- facts_of(x)
                     cells <- cells_frame(x)
                     names <- list(down_question = facts$down$name,
                                   across_question = if (!has(x, "across"))
                                     NA else facts$across$name,
                                   each_question = facts$each$name %||% NA)
                     if (!has(x, "across")) cells$across <- NA
                     names <- lapply(names, function(name) rep(shown(name), nrow(cells)))
                     list2DF(c(names, lapply(cells, shown)))
                   })
  bind_frames(frames)
}
