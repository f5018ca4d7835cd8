# Whole sheets as data, held against what was looked at and found right: what
# stands where, as which kind, with which role and marks. Where a change is
# meant, FAIRLATTICE_WRITE_SHEETS=1 writes them anew, to be read in the
# difference.

# One line a column, then one a line of the sheet with all its cells, then the
# lines of text.
sheet_as_text <- function(sheet) {
  written <- fairlattice:::sheet_text(sheet)
  cell <- function(i, j) {
    paste0(written[i, j],
           if (nzchar(sheet$kind[i, j])) paste0("|", sheet$kind[i, j]),
           if (nzchar(sheet$mark[i, j])) paste0("|", sheet$mark[i, j]),
           if (sheet$peak[i, j]) "|peak",
           if (!is.null(sheet$letters) && nzchar(sheet$letters[i, j]))
             paste0("|", sheet$letters[i, j]))
  }
  row <- function(i) {
    cells <- vapply(seq_len(nrow(sheet$columns)), function(j) cell(i, j), "")
    paste(c(sprintf("%s <%s> %s", sheet$stub$role[i], sheet$stub$label[i],
                    sheet$stub$figure[i]), cells), collapse = " ; ")
  }
  field <- function(name) {
    if (length(sheet[[name]])) paste0(name, ": ", sheet[[name]])
  }
  columns <- sheet$columns
  c(field("title"), if (length(sheet$layer)) field("layer"), field("subtitle"),
    field("corner"),
    sprintf("column %s <%s> %s", columns$role,
            paste(columns$spanner, columns$heading, columns$label, sep = " / "),
            columns$figure), vapply(seq_len(nrow(sheet$stub)), row, ""),
    field("key"), field("tests"), field("strength"),
    if (nrow(sheet$cautions))
      paste(sheet$cautions$severity, sheet$cautions$text, sep = ": "),
    field("notes"), field("account"))
}

golden <- golden_sheets()

test_that("golden sheets hold what they held", {
  for (name in names(golden)) {
    held(unlist(lapply(golden[[name]], sheet_as_text)), "sheets", name)
  }
})

test_that(paste("golden sheets are drawn whole at any width: no line too",
                "long, no figure lost, every label once a survey"), {
  for (name in names(golden)) {
    for (width in c(60, 80, 200)) {
      sheets <- golden[[name]]
      lines <- format(sheets, width = width)
      expect_lte(max(cli::ansi_nchar(lines, "width")), width)
      figures <- unlist(lapply(sheets, fairlattice:::sheet_text))
      figures <- fairlattice:::plain_text(figures[nzchar(figures)])
      # as a whole word, as often as the sheets hold it (bases and shares may be
      # alike, so at least)
      count <- function(one) {
        sum(lengths(regmatches(lines, gregexpr(one, lines, fixed = TRUE))))
      }
      often <- tapply(figures, figures, length)
      expect_true(all(vapply(names(often), count, 0L) >= often),
                  info = paste(name, width))
    }
  }
})

test_that(paste("the page of a golden sheet has its cells in order, under",
                "heads that reach over all of them"), {
  for (name in names(golden)) {
    path <- withr::local_tempfile(fileext = ".html")
    publish(golden[[name]], path, figure = "none")
    page <- xml2::read_html(path)
    for (k in seq_along(golden[[name]])) {
      sheet <- golden[[name]][[k]]
      table <- xml2::xml_find_all(page, "//table")[[k]]
      cells <- lapply(xml2::xml_find_all(
        table,
        "./tbody/tr[td] | ./tfoot/tr[td]"), function(row) {
          vapply(
            xml2::xml_find_all(row, "./td"),
            function(cell) {
              xml2::xml_text(xml2::xml_find_first(cell, "./text()"))
            }, "")
        })
      cells <- do.call(rbind, cells)
      text <- fairlattice:::sheet_text(sheet)[sheet$stub$role != "heading", , drop = FALSE]
      expect_identical(ifelse(is.na(cells), "", trimws(cells)), text,
                       info = name, ignore_attr = TRUE)
      # every row of the head covers all columns, cells from above counted in
      heads <- xml2::xml_find_all(table, "./thead/tr")
      covered <- integer(length(heads))
      for (i in seq_along(heads)) {
        for (head in xml2::xml_find_all(heads[[i]], "./th | ./td")) {
          of <- function(what) {
            as.integer(xml2::xml_attr(head, what, default = "1"))
          }
          down <- seq(i, length.out = of("rowspan"))
          covered[down] <- covered[down] + of("colspan")
        }
      }
      expect_identical(covered, rep(nrow(sheet$columns) + 1L, length(heads)),
                       info = name)
    }
  }
})
