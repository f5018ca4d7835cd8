# Tables to paste into a mail or a document: the look in every element itself,
# no style sheet, no script, and no word that is hidden on the page but not in
# what is pasted.

mail_of <- function(entries) {
  sections <- lapply(entries, function(entry) {
    if (entry$kind == "table")
      in_style(entry$x$layout$style, mail_table(entry)) else
      mail_result(entry, NULL)
  })
  rendered <- vapply(sections, function(section) {
    as.character(htmltools::doRenderTags(section))
  }, "")
  sprintf(paste("<!DOCTYPE html>\n<html lang=\"%s\"><head><meta",
                "charset=\"utf-8\"></head><body>\n%s\n</body></html>"),
          setting("language"), paste(rendered, collapse = "\n"))
}

# The look of the parts, with the colours and fonts of a house style.
mail_looks <- function(style) {
  colour <- function(name) {
    paste0("#", hex_of(style$colours[[name]] %||% page_colours[[name]]))
  }
  text <- css_fonts(style$fonts$text %||% "Arial, Helvetica, sans-serif")
  size <- style$fonts$size %||% 10
  font <- function(size, ink) {
    sprintf("font-family:%s;font-size:%gpt;color:%s;", text, size, colour(ink))
  }
  base <- font(size, "ink")
  widths <- c(none = "0 none", thin = "1px solid", thick = "2px solid",
              double = "3px double")
  rule <- function(name, usual) {
    sprintf("%s %s;", widths[[style$rules[[name]] %||% usual]], colour("rule"))
  }
  list(base = base,
       table = paste0(base, "border-collapse:collapse;border-spacing:0;"),
       title = paste0(base, "font-weight:bold;margin:0 0 2px 0;"),
       line = paste0(base, "margin:4px 0;"),
       quiet = paste0(font(0.9 * size, "quiet"), "margin:4px 0;"),
       cell = "padding:2px 8px;vertical-align:bottom;",
       head = rule("head", "thick"), foot = rule("foot", "thick"),
       rows = if (!is.null(style$rules$rows) && style$rules$rows != "none")
         rule("rows", "thin"), grey = sprintf("color:%s;", colour("quiet")),
       thin = sprintf("1px solid %s;", colour("quiet")),
       more = sprintf("background-color:%s;font-weight:bold;", colour("more")),
       fewer = sprintf("background-color:%s;font-weight:bold;",
                       colour("fewer")))
}

mail_table <- function(entry) {
  tag <- htmltools::tags
  looks <- mail_looks(entry$x$layout$style)
  paragraphs <- paragraphs_of(entry)
  tag$div(lapply(sheets_of(entry$x), mail_sheet, looks = looks),
          if (length(paragraphs))
            list(tag$p(style = looks$title, words("to_paste")),
                 lapply(paragraphs, function(text) {
                   tag$p(style = looks$line, held(text))
                 })))
}

mail_sheet <- function(sheet, looks) {
  tag <- htmltools::tags
  sheet <- visible_in(sheet)
  text <- texts_below(sheet)
  quiet <- lines_below(sheet)$kind %in%
           c("key", "reference", "notes", "account", "source")
  tag$div(style = "margin:0 0 18px 0;",
          tag$p(style = looks$title, full_title(sheet)),
          lapply(sheet$subtitle[nzchar(sheet$subtitle)], tag$p,
                 style = looks$quiet), mail_grid(grid_of_sheet(sheet), looks),
          Map(function(line, quiet) {
            tag$p(style = if (quiet) looks$quiet else looks$line, held(line))
          }, text, quiet, USE.NAMES = FALSE))
}

mail_grid <- function(grid, looks) {
  tag <- htmltools::tags
  heads <- lapply(seq_along(grid$heads), mail_head, grid = grid, looks = looks)
  rows <- lapply(seq_len(nrow(grid$texts)), mail_row, grid = grid,
                 looks = looks)
  tag$table(style = looks$table, if (length(heads)) tag$thead(heads),
            tag$tbody(rows))
}

# Where figures have signs after them, room of their width is left where there
# is none.
mail_no_sign <- "\u2007\u2007"

mail_head <- function(level, grid, looks) {
  tag <- htmltools::tags
  cells <- grid$heads[[level]]
  last <- level == length(grid$heads)
  under <- ifelse(cells$kind == "spanner",
                  paste0("border-bottom:", looks$thin),
                  if (last) paste0("border-bottom:", looks$head) else "")
  side <- ifelse(cells$kind == "column", "right", "left")
  # heads stand over the figures, not over their signs
  over <- function(text, side) {
    if (nzchar(text) && side == "right" && !is.null(grid$signs))
      paste0(text, mail_no_sign) else text
  }
  tag$tr(lapply(seq_len(nrow(cells)), function(k) {
    both <- nzchar(cells$text[k]) && nzchar(cells$figure[k])
    tag$th(colspan = if (cells$span[k] > 1L) cells$span[k],
           scope = if (cells$kind[k] == "spanner") "colgroup" else "col",
           style = sprintf("%stext-align:%s;%s", looks$cell, side[k], under[k]),
           over(cells$text[k], side[k]), if (both) tag$br(),
           over(cells$figure[k], side[k]))
  }))
}

mail_row <- function(i, grid, looks) {
  tag <- htmltools::tags
  top <- if (grid$foot[i]) looks$foot else if (i > 1L) looks$rows
  rule <- paste0(if (!is.null(top)) paste0("border-top:", top),
                 if (i == nrow(grid$texts))
                   paste0("border-bottom:", looks$foot),
                 if (grid$roles[i] == "base") looks$grey)
  bold <- grid$roles[i] %in% c("net", "heading")
  styled <- function(j, weight) {
    mark <- mark_fills[grid$marks[i, j]]
    paste0(looks$cell, "text-align:", if (grid$labels[j]) "left" else "right",
           ";", rule, weight, if (!is.na(mark)) looks[[mark]])
  }
  tag$tr(lapply(seq_len(ncol(grid$texts)), function(j) {
    text <- grid$texts[i, j]
    # the browser's own heads of rows are bold
    if (j == 1L && grid$labels[1L])
      return(tag$th(scope = "row",
                    style = paste0(styled(j, if (bold) "font-weight:bold;"),
                                   if (!bold) "font-weight:normal;"), text))
    sign <- if (!is.null(grid$signs)) grid$signs[i, j]
    after <- if (is.null(sign)) "" else
      if (nzchar(sign)) paste0("\u00a0", sign) else mail_no_sign
    tag$td(style = styled(j, if (bold) "font-weight:bold;"),
           paste0(text, after))
  }))
}

mail_result <- function(entry, style) {
  tag <- htmltools::tags
  looks <- mail_looks(style)
  tag$div(style = "margin:0 0 18px 0;", tag$p(style = looks$title, entry$title),
          lapply(entry$parts, function(part) {
            switch(part$kind, sheet = mail_sheet(part$sheet, looks),
                   said = lapply(part$text[nzchar(part$text)],
                                 function(line) {
                                   tag$p(style = looks$line, held(line))
                                 }),
                   columns = mail_grid(grid_of_columns(part$columns, part$left),
                                       looks),
                   pairs = mail_grid(grid_of_pairs(
                                       part$labels, held(part$texts)), looks))
          }))
}
