# Sheets as Markdown: pipe tables, which the two common dialects read alike, and
# paragraphs. Nothing in a label is taken for a sign of the language.

markdown_of <- function(entries) {
  book <- is_book(entries)
  level <- if (book) 3L else if (length(published_tables(entries)) > 1L) 2L else
    1L
  unlist(lapply(entries, function(entry) {
    if (entry$kind == "front") return(markdown_heading(entry$title, 1L))
    # in a book its chapters, and what stands before them
    if (entry$kind == "chapter" ||
          book && is.null(entry$number) && entry$kind == "result" &&
            is.null(entry$x)) return(markdown_result(entry, 2L))
    if (entry$kind != "table") return(markdown_result(entry, level + 1L))
    in_style(entry$x$layout$style, markdown_table(entry, level))
  }))
}

# A table with its heading; further layers under headings of their own, and the
# paragraph.
markdown_table <- function(entry, level) {
  sheets <- sheets_of(entry$x)
  layered <- length(sheets) > 1L
  paragraphs <- paragraphs_of(entry)
  c(markdown_heading(sheets[[1L]]$title, level),
    if (!is.null(entry$finding)) markdown_lines(entry$finding),
    unlist(lapply(sheets, function(sheet) {
      c(if (layered) markdown_heading(sheet$layer, level + 1L) else
        if (length(sheet$layer)) markdown_lines(sheet$layer),
        markdown_sheet(sheet))
    })),
    if (length(paragraphs))
      c(markdown_heading(words("to_paste"), level + 1L),
        markdown_lines(paragraphs)))
}

markdown_result <- function(entry, level) {
  c(markdown_heading(entry$title, level),
    unlist(lapply(entry$parts, function(part) {
      switch(part$kind, said = markdown_lines(part$text),
             sheet = markdown_sheet(part$sheet),
             columns = c(pipe_table(rbind(
                                      names(part$columns), part_texts(part)),
                                    !part$left), ""),
             pairs = c(pipe_table(rbind(c("", ""),
                                        cbind(part$labels, part$texts)),
                                  c(FALSE, FALSE)), ""))
    })))
}

markdown_sheet <- function(sheet) {
  c(markdown_lines(sheet$subtitle), markdown_grid(sheet), "",
    markdown_under(sheet))
}

# What stands under the grid: paragraphs, and cautions as a list.
markdown_under <- function(sheet) {
  lines <- lines_below(sheet)
  last <- lines$kind == "caution" &
          c(lines$kind[-1L] != "caution", TRUE)[seq_len(nrow(lines))]
  caution <- sprintf("- **%s:** %s", name_of("severity", lines$severity),
                     markdown_text(lines$text))
  unlist(Map(function(kind, text, caution, last) {
    if (kind == "caution") c(caution, if (last) "") else c(text, "")
  }, lines$kind, markdown_text(lines$text), caution, last), use.names = FALSE)
}

# One row of heads: a column's question stands before its answer where there are
# several. Signs and letters have columns of their own, so that figures line up.
markdown_grid <- function(sheet) {
  cells <- sheet_text(sheet)
  signs <- cell_signs(sheet)
  heads <- head_texts(sheet)
  strong <- sheet$stub$role %in% c("heading", "net")
  columns <- lapply(seq_len(ncol(cells)), function(j) {
    signed <- any(nzchar(signs[, j]))
    list(texts = cbind(c(heads[j], cells[, j]), if (signed) c("", signs[, j])),
         right = c(TRUE, if (signed) FALSE))
  })
  pipe_table(cbind(c(sheet$corner, stub_labels(sheet$stub)),
                   do.call(cbind, lapply(columns, `[[`, "texts"))),
             c(FALSE, unlist(lapply(columns, `[[`, "right"))), c(FALSE, strong))
}

# A table of texts, heads first; `strong` are the lines whose label is in bold.
pipe_table <- function(texts, right, strong = rep(FALSE, nrow(texts))) {
  grid <- matrix(markdown_text(texts), nrow(texts))
  grid[strong, 1L] <-
    sprintf("**%s**", trimws(grid[strong, 1L], whitespace = "[ \u2002]"))
  widths <- pmax(3L, apply(matrix(text_width(grid), nrow(grid)), 2L, max))
  padded <- vapply(seq_along(widths), function(j) {
    pad(grid[, j], widths[j], if (right[j]) "right" else "left")
  }, character(nrow(grid)))
  row <- function(cells) paste0("| ", paste(cells, collapse = " | "), " |")
  # of a wide table pandoc takes the columns' shares of the page from the
  # dashes: the longest figure, the longest word
  figures <- apply(matrix(text_width(grid[-1L, , drop = FALSE]),
                          nrow(grid) - 1L), 2L, max, 0L)
  need <- pmax(5L, ifelse(right, figures, pmin(18L, widths)),
               vapply(grid[1L, ], longest_word, 0L)) + 1L
  rule <- ifelse(right, paste0(strrep("-", need - 1L), ":"),
                 paste0(":", strrep("-", need - 1L)))
  c(row(padded[1L, ]), row(rule), apply(padded[-1L, , drop = FALSE], 1L, row))
}

markdown_heading <- function(text, level) {
  if (nzchar(text)) c(paste(strrep("#", level), markdown_text(text)), "")
}

markdown_lines <- function(lines) {
  unlist(lapply(lines[nzchar(lines)], function(line) {
    c(markdown_text(line), "")
  }))
}

# Text in which no sign of Markdown is one.
markdown_text <- function(x) {
  x <- gsub("[\r\n\t]+", " ", visible(as.character(x)))
  x <- gsub("([\\\\`*_{}\\[\\]<>#|~$@^&])", "\\\\\\1", x, perl = TRUE)
  # a list begins with a dash, a plus or a number
  x <- sub("^([-+]) ", "\\\\\\1 ", x)
  sub("^([0-9]+)([.)]) ", "\\1\\\\\\2 ", x)
}

#' Tables in a report that is knitted
#'
#' A table that is the value of a chunk of knitr, R Markdown or Quarto comes out
#' as a real table, in whatever the report is turned into: a pipe table (in Word
#' a table of Word's own) with its caption, the lines that the layout asks for
#' (`lines`, by default the usual), and no heading. With the chunk's option
#' `label` Quarto and bookdown can refer to it.
#'
#' @param x (crosstab, banner or laid-out table) From [crosstab()], [beside()]
#'   or [lay_out()].
#' @param options (list) The options of the chunk, as knitr gives them.
#' @param ... Not used.
#' @return Text that knitr takes as it is.
#' @exportS3Method knitr::knit_print
#' @examplesIf requireNamespace("knitr", quietly = TRUE)
#' table <- crosstab(demo_records(), down = ferry, across = island)
#' knitr::knit_print(lay_out(table, lines = "test"))
knit_print.fairlattice_crosstab <- function(x, options = NULL, ...) {
  plain_numbers()
  need_package("knitr", tells("to_knit"), environment())
  x$layout$dress <- x$layout$dress %||% "published"
  # pandoc's own tables in Word are cramped; where no program is to refer to it,
  # the table is ours
  word <- identical(knitr::pandoc_to(), "docx") && !refers_to_tables() &&
          requireNamespace("xml2", quietly = TRUE)
  lines <- in_style(x$layout$style,
                    if (word) word_report(x) else
                      markdown_report(x, options$label))
  knitr::asis_output(paste(lines, collapse = "\n"))
}

# Quarto and bookdown count tables, and refer to them by their labels.
refers_to_tables <- function() {
  !is.null(knitr::opts_knit$get("quarto.version")) ||
    isTRUE(knitr::opts_knit$get("bookdown.internal.label"))
}

#' @exportS3Method knitr::knit_print
knit_print.fairlattice_banner <- knit_print.fairlattice_crosstab

#' @exportS3Method knitr::knit_print
knit_print.fairlattice_sheets <- function(x, options = NULL, ...) {
  plain_numbers()
  knit_print.fairlattice_crosstab(attr(x, "of"), options, ...)
}

# Every sheet with its title: as pandoc reads a caption, where the report goes
# through it, otherwise in bold.
markdown_report <- function(x, label) {
  sheets <- sheets_of(x)
  c("",
    unlist(lapply(seq_along(sheets), function(k) {
      sheet <- sheets[[k]]
      title <- markdown_text(full_title(sheet))
      captioned <- !is.null(knitr::pandoc_to())
      c(if (nzchar(title) && !captioned) c(sprintf("**%s**", title), ""),
        if (!captioned) markdown_lines(sheet$subtitle), markdown_grid(sheet),
        "",
        if (nzchar(title) && captioned)
          c(paste0(": ", labelled(title, if (k == 1L) label)), ""),
        if (captioned) markdown_lines(sheet$subtitle), markdown_under(sheet))
    })))
}

# A caption with the label by which Quarto (of those that begin with tbl-) and
# bookdown refer to the table.
labelled <- function(caption, label) {
  if (is.null(label)) return(caption)
  if (!is.null(knitr::opts_knit$get("quarto.version")))
    return(if (startsWith(label, "tbl-"))
             sprintf("%s {#%s}", caption, label) else caption)
  if (isTRUE(knitr::opts_knit$get("bookdown.internal.label")))
    sprintf("(\\#tab:%s) %s", label, caption) else caption
}
