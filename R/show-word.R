# Tables as a Word document. The look is that of named styles
# (R/show-word-styles.R), so that a house's template changes it by its own
# definitions; here stands only what a table is: its rows, spans and widths, and
# the style that each text has.

word_of <- function(entries, file, asked) {
  for (package in c("xml2", "zip")) need_package(
    package, tells("to_write_word"), asked$call)
  entries <- noting(entries)
  tables <- published_tables(entries)
  style <- if (length(tables)) tables[[1L]]$layout$style
  made <- word_template(asked$template, style, asked$call)
  on.exit(unlink(made$folder, recursive = TRUE))
  path <- file.path(made$folder, "word", "document.xml")
  document <- word_parts(part_text(path))
  w <- list(ids = made$ids, page = word_page(document$section),
            folder = file.path(made$folder, "word", "media"),
            figure = asked$figure, call = asked$call,
            fills = fills_of_marks(made$folder, made$ids),
            letter = 11.6 * (style$fonts$size %||% 10) * 0.9, gap = 140,
            points = 0.9 * (style$fonts$size %||% 10),
            smallest = style$fonts$smallest %||% 8,
            book = is_book(entries), count = new.env(parent = emptyenv()))
  made_of <- drawn_with_data(entries, entries, function() {
    word_sections(word_blocks(entries, length(tables), w), document$section)
  })
  write_whole(c(document$before, made_of$here, document$after), path)
  add_pictures(made$folder, w$count$figures %||% 0L)
  if (is.null(asked$template))
    date_package(made$folder,
                 if (length(tables)) sheets_of(tables[[1L]])[[1L]]$title)
  if (!is.null(made_of$aside)) add_data(made$folder, made_of$aside, "word/document.xml")
  packed(made$folder, file)
}

# The text of a document before and after the place where the tables go, and its
# last section, which says how large the page is and what stands over and under it.
# The sample text of a template does not come along.
word_parts <- function(text) {
  at <- utils::tail(gregexpr("<w:sectPr", text, fixed = TRUE)[[1L]], 1L)
  if (at < 0L)
    at <- utils::tail(gregexpr("</w:body>", text, fixed = TRUE)[[1L]], 1L)
  before <- substr(text, 1L, at - 1L)
  rest <- substr(text, at, nchar(text))
  section <- regmatches(rest,
                        regexpr("(?s)^<w:sectPr.*?(</w:sectPr>|/>(?=</w:body>))",
                                rest, perl = TRUE))
  before <- sub("(?s)(<w:body>).*$", "\\1", before, perl = TRUE)
  list(before = before, section = c(section, "<w:sectPr/>")[1L],
       after = if (length(section))
         substr(rest, nchar(section) + 1L, nchar(rest)) else rest)
}

# The pictures that the text names, as parts of the package.
add_pictures <- function(folder, figures) {
  if (!figures) return(invisible())
  add_relations(file.path(folder, "word", "_rels", "document.xml.rels"),
                own_id(seq_len(figures)),
                "image", sprintf("media/fair-lattice-%d.png", seq_len(figures)))
  edit_part(file.path(folder, "[Content_Types].xml"), function(text) {
    if (grepl("Extension=\"png\"", text, fixed = TRUE)) return(text)
    sub("(<Types[^>]*>)",
        "\\1<Default Extension=\"png\" ContentType=\"image/png\"/>", text)
  })
}

# When it was made, and what it is called.
date_package <- function(folder, title) {
  now <- format(Sys.time(), "%Y-%m-%dT%H:%M:%SZ", tz = "UTC")
  edit_part(file.path(folder, "docProps", "core.xml"), function(text) {
    text <- gsub("2026-01-01T00:00:00Z", now, text, fixed = TRUE)
    sub("<dc:title></dc:title>",
        sprintf("<dc:title>%s</dc:title>", xml_escape(title %||% "")), text,
        fixed = TRUE)
  })
}

# How wide the text of a page is, upright and across, in twentieths of a point.
word_page <- function(section) {
  number <- function(part, name) {
    element <-
      regmatches(section, regexpr(sprintf("<w:%s [^>]*>", part), section))
    found <- regmatches(element,
                        regexpr(sprintf("(?<= w:%s=\")[0-9]+", name), element,
                                perl = TRUE))
    if (length(found)) as.numeric(found) else NA_real_
  }
  sides <- c(number("pgSz", "w"), number("pgSz", "h"))
  margins <- number("pgMar", "left") + number("pgMar", "right")
  if (anyNA(c(sides, margins))) return(c(upright = 9298, across = 14230))
  c(upright = min(sides), across = max(sides)) - margins
}

# ---- the document: blocks of paragraphs and tables ----
# Each on a page that stands upright or lies across.


word_blocks <- function(entries, tables, w) {
  several <- tables > 1L || w$book
  chapter <- ""
  entry_blocks <- function(entry) {
    if (entry$kind != "table") return(word_result(entry, w, in_contents(entry)))
    heading <- chapter_of(entry$x)
    new <- several && !w$book && !identical(heading, chapter)
    chapter <<- heading
    blocks <- in_style(entry$x$layout$style, word_table(entry, w))
    # a heading goes with what follows it
    if (new)
      blocks[[1L]]$xml <-
        c(word_line(w, "heading 1", heading), blocks[[1L]]$xml)
    blocks
  }
  opened <- NULL # the title of a chapter, which goes with what follows it
  content <- unlist(lapply(entries, function(entry) {
    if (entry$kind == "front") return(NULL)
    if (entry$kind == "chapter") {
      opened <<- c(opened, word_chapter(entry, w))
      return(NULL)
    }
    blocks <- entry_blocks(entry)
    blocks[[1L]]$xml <- c(opened, blocks[[1L]]$xml)
    opened <<- NULL
    blocks
  }), recursive = FALSE)
  title <- Find(function(entry) entry$kind == "front", entries)$title %||%
           words("several_tables", number = tables)
  front <- if (several)
    new_block(c(word_line(w, "Title", title), word_contents(w)))
  Filter(function(block) length(block$xml),
         c(if (several) list(front), content))
}

# The title of a chapter, with its texts.
word_chapter <- function(entry, w) {
  mark <- word_listed(w, entry$title, "chapter", counted(w, "chapters"))
  c(word_paragraph(w, "heading 1",
                   paste0(mark$start, word_run(w, entry$title), mark$end)),
    unlist(lapply(entry$parts, function(part) {
      word_line(w, "Normal", held(part$text))
    })))
}

# A result under its heading.
word_result <- function(entry, w, first = FALSE) {
  blocks <- unlist(lapply(entry$parts, function(part) {
    if (part$kind == "sheet") word_sheet(part$sheet, w) else
      list(word_part(part, entry, w))
  }), recursive = FALSE)
  # what is said stands on the page of what follows it
  for (k in rev(seq_along(blocks))[-1L]) {
    if (entry$parts[[1L]]$kind != "sheet" && blocks[[k + 1L]]$across)
      blocks[[k]]$across <- TRUE
  }
  if (!length(blocks)) blocks <- list(new_block(NULL))
  before_chapters <- first && is.null(entry$number)
  mark <- if (first)
    word_listed(w, entry$title, if (before_chapters) "chapter" else "table",
                counted(w, "pieces"))
  heading <- word_paragraph(w,
                            if (before_chapters) "heading 1" else "heading 2",
                            paste0(mark$start, word_run(w, entry$title),
                                   mark$end))
  blocks[[1L]]$xml <- c(heading, blocks[[1L]]$xml)
  blocks
}

word_part <- function(part, entry, w) {
  if (part$kind == "said")
    return(new_block(word_line(w,
                               if (entry$kind == "text") "Normal" else
                                 "Table Test", held(part$text))))
  grid <- if (part$kind == "pairs")
    grid_of_pairs(part$labels, held(part$texts), entry$title) else
    grid_of_columns(part$columns, part$left, entry$title)
  widths <- word_widths(grid, w)
  across <- sum(widths) > 1.25 * w$page[["upright"]]
  new_block(c(word_grid(grid,
                        fitted_widths(widths,
                                      w$page[[if (across) "across" else "upright"]]),
                        w), word_paragraph(w, "Table Test", "")), across)
}

new_block <- function(xml, across = FALSE) list(xml = xml, across = across)

# Blocks one after the other, with a new section where the page is turned. The
# section of a block is written at its end; that of the last one is the
# document's own.
word_sections <- function(blocks, section) {
  across <- vapply(blocks, `[[`, NA, "across")
  last <- length(blocks)
  ends <- c(across[-1L] != across[-last], FALSE)
  plain <-
    c("FALSE" = section, "TRUE" = turned_section(section))[as.character(across)]
  broken <- sprintf("<w:p><w:pPr>%s</w:pPr></w:p>", plain)
  c(unlist(Map(function(block, end, broken) c(block$xml, if (end) broken),
               blocks, ends, broken)), plain[[last]])
}

turned_section <- function(section) {
  size <- regmatches(section, regexpr("<w:pgSz [^>]*>", section))
  turned <- function(width, height) {
    sprintf("<w:pgSz w:w=\"%s\" w:h=\"%s\" w:orient=\"landscape\"/>", width,
            height)
  }
  if (!length(size))
    return(sub("<w:sectPr/>",
               sprintf("<w:sectPr>%s</w:sectPr>", turned(16838, 11906)),
               section))
  page_size <- function(name) sub(sprintf(".* w:%s=\"([0-9]+)\".*", name), "\\1", size)
  sub(size, turned(page_size("h"), page_size("w")), section, fixed = TRUE)
}

# Under which heading of a book a table stands.
chapter_of <- function(x) {
  if (inherits(x, "fairlattice_banner")) down_titled(x) else facts_of(x)$down$label
}

# The list of all tables with their pages, as a field that Word brings up to
# date by the captions.
word_contents <- function(w) {
  titles <- vapply(w$count$listed, `[[`, "", "title")
  marks <- vapply(w$count$listed, `[[`, "", "mark")
  chapter <- vapply(w$count$listed, `[[`, "", "kind") == "chapter"
  lines <- paste0("<w:hyperlink w:anchor=\"", marks, "\">",
                  ifelse(chapter | !any(chapter), "",
                         "<w:r><w:t xml:space=\"preserve\">\u2002\u2002</w:t></w:r>"),
                  word_run(w, titles), "</w:hyperlink>")
  last <- length(lines)
  # one field over all its lines; of a book it is made from marks of two levels
  code <- if (any(chapter)) " TOC \\h \\z \\f t " else
    sprintf(" TOC \\h \\z \\c \"%s\" ", words("caption_table"))
  lines[1L] <- paste0(word_opened(code), lines[1L])
  lines[last] <- paste0(lines[last], word_mark("end"))
  c(word_line(w, "heading 1", words("tables")),
    word_paragraph(w, "table of figures", lines))
}

# Puts a title on the list: the start and end of its bookmark, and the mark that
# contents are made from again.
word_listed <- function(w, title, kind, number) {
  mark <- word_bookmark(c(chapter = "Chapter", table = words("caption_table"))[[kind]],
                        number)
  # what stands before the chapters is counted apart from them
  while (mark %in% vapply(w$count$listed, `[[`, "", "mark")) mark <-
    paste0(mark, "_")
  w$count$listed <-
    c(w$count$listed, list(list(title = title, kind = kind, mark = mark)))
  id <- counted(w, "marks")
  code <- sprintf(" TC \"%s\" \\f t \\l %d ",
                  gsub("\"", "\\\"", title, fixed = TRUE),
                  c(chapter = 1L, table = 2L)[[kind]])
  list(start = sprintf("<w:bookmarkStart w:id=\"%d\" w:name=\"%s\"/>", id,
                       mark),
       end = paste0(if (w$book)
                      paste0(word_mark("begin"),
                             "<w:r><w:instrText xml:space=\"preserve\">",
                             xml_escape(code), "</w:instrText></w:r>",
                             word_mark("end")),
                    sprintf("<w:bookmarkEnd w:id=\"%d\"/>", id)))
}

word_bookmark <- function(name, number) paste0("_Toc", name, number)

word_table <- function(entry, w) {
  sheets <- noted_sheets(entry)
  paragraphs <- paragraphs_of(entry)
  # the further tables of one number have a letter
  for (k in seq_along(sheets)[-1L]) if (!is.null(sheets[[k]]$number))
    sheets[[k]]$number <- paste0(sheets[[k]]$number, letters_for(k)[k])
  blocks <- unlist(lapply(sheets, word_sheet, w = w), recursive = FALSE)
  # what was found stands above its table
  if (!is.null(entry$finding))
    blocks[[1L]]$xml <-
      c(word_line(w, "Normal", held(entry$finding)), blocks[[1L]]$xml)
  after <- c(word_figure(drawn_beside(entry), w, figure_of(entry, w$figure)),
             if (length(paragraphs))
               c(word_line(w, "heading 2", words("to_paste")),
                 word_line(w, "Normal", held(paragraphs))))
  c(blocks, list(new_block(after, w$book && blocks[[length(blocks)]]$across)))
}

# ---- one sheet ----

word_sheet <- function(sheet, w) {
  grid <- grid_of_sheet(sheet)
  scales <- unique(pmax(c(1, 0.94, 0.88), min(1, w$smallest / w$points)))
  fits <- page_for(grid, w$page, function(grid, most, scale) {
    word_widths(grid, replace(w, c("letter", "gap"), scale * c(w$letter, w$gap)), most)
  }, scales)
  widths <- fits$widths
  stub <- widths[1L]
  needed <- widths[-1L]
  across <- fits$page == "across"
  panels <- sheet_panels(sheet, needed, w$page[[fits$page]] - stub)
  # in pieces in any case, it need not lie across for them
  upright <- if (across && length(panels) > 1L)
    sheet_panels(sheet, needed, w$page[["upright"]] - stub)
  if (length(upright) == length(panels)) {
    panels <- upright
    across <- FALSE
  }
  number <- sheet$number %||% counted(w, "tables")
  grid$title <- full_title(replace(sheet, "title", bare_title(sheet)))
  xml <- unlist(lapply(seq_along(panels), function(k) {
    part <- if (length(panels) == 1L) grid else
      grid_of_sheet(sheet, panels[[k]])
    c(word_caption(w, words("caption_table"), number, grid$title,
                   again = k > 1L),
      if (k == 1L) word_line(w, "Table Subtitle", sheet$subtitle),
      word_grid(part, c(stub, needed[panels[[k]]]), w, fits$scale,
                with_next = k == length(panels)))
  }))
  below <- word_below(lines_below(sheet), w)
  # a paragraph follows every table
  list(new_block(c(xml,
                   if (length(below)) below else
                     word_paragraph(w, "Table Note", "")), across))
}

word_below <- function(lines, w) {
  styles <- c(key = "Table Note", tests = "Table Test", strength = "Table Test",
              reference = "Table Note", caution = "Table Caution",
              notes = "Table Note", account = "Table Note",
              source = "Table Note")
  caution <- lines$kind == "caution"
  severity <-
    ifelse(caution, paste0(name_of("severity", lines$severity), ":"), "")
  marks <-
    c(stop = "Caution Stop", care = "Caution Care", note = "Caution Note")
  before <- ifelse(caution,
                   paste0(word_run(w, severity, unname(marks[lines$severity])),
                          word_run(w, " ")), "")
  paragraphs <- word_paragraph(w, unname(styles[lines$kind]),
                               paste0(before, word_run(w, held(lines$text))))
  # a few lines stay with their table, and none of them goes to a page alone
  size <- length(paragraphs)
  kept_with_next(paragraphs, seq_len(size) < size & size <= most_in_group)
}

# Widths of the columns of figures with their signs, and of the labels, in
# twentieths of a point.
word_widths <- function(grid, w, head_most = 14L) {
  out <- grid_widths(grid, head_most = head_most) * w$letter + w$gap
  # a text that follows figures stands a little apart from them
  apart <- grid$labels & seq_along(out) > 1L
  out[apart] <- out[apart] + 2 * w$letter
  # heads keep apart, by the signs or without them
  apart <- if (!is.null(grid$signs)) word_sign_width(grid, w) else
    if (any(grid$roles %in% c("base", "total", "all"))) w$letter else 0
  out[!grid$labels] <- out[!grid$labels] + apart
  ceiling(out)
}

# Letters are smaller than figures.
word_sign_width <- function(grid, w) {
  ceiling(max(text_width(grid$signs), 1.5) * w$letter * 0.75 + 60)
}

# A grid as a table: heads that are repeated on every page, rows that are not
# torn. `with_next`: what follows stands on the page of the last row.
word_grid <- function(grid, widths, w, scale = 1, with_next = TRUE) {
  signed <- !is.null(grid$signs)
  labels <- grid$labels
  sign <- if (signed) word_sign_width(grid, w) else 0
  # a column of figures is two of the table where signs stand beside them
  of_column <- function(j) {
    if (labels[j] || !signed) widths[j] else c(widths[j] - sign, sign)
  }
  columns <- unlist(lapply(seq_along(widths), of_column))
  deep <- length(grid$heads)
  heads <- vapply(seq_len(deep), function(level) {
    word_row(word_head(grid$heads[[level]], level == deep, labels, widths, sign,
                       w), TRUE)
  }, "")
  rows <- word_rows(grid, widths, sign, w)
  heads <- kept_with_next(heads, rep(TRUE, deep))
  kept <- kept_together(grid)
  kept[length(kept)] <- kept[length(kept)] && with_next
  rows <- kept_with_next(rows, kept)
  written <- !is.null(w$looks)
  if (scale < 1) {
    heads <- word_sized(heads, scale, w)
    rows <- word_sized(rows, scale, w)
  }
  paste0("<w:tbl><w:tblPr>",
         if (!written)
           paste0("<w:tblStyle w:val=\"", w$ids[["Crosstab"]], "\"/>"),
         "<w:tblW w:w=\"", round(sum(columns)), "\" w:type=\"dxa\"/>",
         if (written) crosstab_borders, "<w:tblLayout w:type=\"fixed\"/>",
         if (written) crosstab_margins,
         "<w:tblLook w:val=\"0020\" w:firstRow=\"1\" w:lastRow=\"0\" ",
         paste("w:firstColumn=\"0\" w:lastColumn=\"0\" w:noHBand=\"1\"",
               "w:noVBand=\"1\"/><w:tblCaption w:val=\""),
         xml_escape(grid$title), "\"/></w:tblPr><w:tblGrid>",
         paste0("<w:gridCol w:w=\"", round(columns), "\"/>", collapse = ""),
         "</w:tblGrid>", paste(c(heads, rows), collapse = ""), "</w:tbl>")
}

# So many lines find room on a page, whichever way it lies; a table of more breaks
# between its groups, those of no more than so many lines.
most_on_page <- 24L
most_in_group <- 12L

# Which rows stay on the page of the next: all of a table that fits a page, and of
# a longer one those within a group.
kept_together <- function(grid) {
  size <- nrow(grid$texts)
  if (size <= most_on_page) return(rep(TRUE, size))
  group <- findInterval(seq_len(size), group_starts(grid))
  small <- tabulate(group)[group] <= most_in_group
  last <- c(diff(group) > 0, FALSE)
  # everybody and the bases stay with each other and with what is said below
  small & !last | grid$foot & seq_len(size) < size
}

# The texts of a table a little smaller than its styles have them.
word_sized <- function(rows, scale, w) {
  size <- sprintf("<w:sz w:val=\"%d\"/>", as.integer(round(2 * w$points * scale)))
  rows <- gsub("</w:rPr>", paste0(size, "</w:rPr>"), rows, fixed = TRUE)
  gsub("<w:r><w:t ", sprintf("<w:r><w:rPr>%s</w:rPr><w:t ", size), rows, fixed = TRUE)
}

kept_with_next <- function(rows, kept) {
  rows[kept] <- gsub("(<w:pStyle [^>]*/>)", "\\1<w:keepNext/>", rows[kept], perl = TRUE)
  rows
}

word_row <- function(cells, head = FALSE) {
  paste0("<w:tr><w:trPr><w:cantSplit/>", if (head) "<w:tblHeader/>",
         "</w:trPr>", paste(cells, collapse = ""), "</w:tr>")
}

# `fill`: the colour of the whole cell, "" for none.
word_cell <- function(width, content, span = 1L, fill = "") {
  paste0("<w:tc><w:tcPr><w:tcW w:w=\"", round(width), "\" w:type=\"dxa\"/>",
         ifelse(span > 1L, paste0("<w:gridSpan w:val=\"", span, "\"/>"), ""),
         ifelse(nzchar(fill), paste0("<w:shd w:val=\"clear\" w:color=\"auto\" w:fill=\"",
                                     fill, "\"/>"), ""),
         "<w:vAlign w:val=\"bottom\"/></w:tcPr>", content, "</w:tc>")
}

# The colours of marked cells, by the styles of their text.
fills_of_marks <- function(folder, ids) {
  styles <- xml2::read_xml(file.path(folder, "word", "styles.xml"))
  vapply(c(more = "Table More", fewer = "Table Fewer"), function(name) {
    fill <- xml2::xml_attr(xml2::xml_find_first(styles, sprintf(
      "//w:style[@w:styleId='%s']//w:shd", ids[[name]]), word_space), "fill")
    if (is.na(fill) || fill == "auto") "" else fill
  }, "")
}

word_head <- function(cells, last, labels, widths, sign, w) {
  styles <- c(corner = "Table Head Corner", spanner = "Table Spanner",
              column = "Table Head", empty = "Table Above")
  at <- cumsum(c(1L, cells$span))[seq_len(nrow(cells))]
  # the head of a text beside figures is not to touch theirs
  beside <- cells$kind == "corner" & at > 1L
  text <- paste0(word_run(w, paste0(ifelse(beside, "\u2002", ""), cells$text)),
                 ifelse(nzchar(cells$figure) & nzchar(cells$text),
                        "<w:r><w:br/></w:r>", ""), word_run(w, cells$figure))
  content <- word_paragraph(w, unname(styles[cells$kind]), text)
  unlist(lapply(seq_len(nrow(cells)), function(k) {
    own <- seq(at[k], length.out = cells$span[k])
    signs <- if (sign > 0) sum(!labels[own]) else 0L
    if (!last || signs == 0L)
      return(word_cell(sum(widths[own]), content[k], cells$span[k] + signs))
    # the head stands over the figures, not over their signs
    c(word_cell(widths[own] - sign, content[k]),
      word_cell(sign, word_paragraph(w, "Table Head", "")))
  }))
}

word_rows <- function(grid, widths, sign, w) {
  roles <- grid$roles
  run_style <- c(net = "Table Net", base = "Table Base")[roles]
  marks <- c(more = "Table More", higher = "Table More", fewer = "Table Fewer",
             lower = "Table Fewer")
  # of every cell: the style of its paragraph, and that of its text
  cell <- function(j, text, kind) {
    style <- ifelse(grid$foot, paste("Table Foot", kind), paste("Table", kind))
    look <- marks[grid$marks[, j]]
    if (kind == "Sign") look[is.na(look)] <- "Table Letters"
    look <- ifelse(is.na(look), run_style, look)
    word_paragraph(w, style, word_run(w, text, look))
  }
  fill_of <- function(j) {
    fill <- w$fills[mark_fills[grid$marks[, j]]]
    if (is.null(w$fills)) "" else unname(ifelse(is.na(fill), "", fill))
  }
  cells <- unlist(lapply(seq_along(widths), function(j) {
    # a text that follows figures is not to touch them
    if (grid$labels[j])
      return(list(word_cell(widths[j],
                            cell(j, grid$texts[, j],
                                 if (j > 1L) "Text" else "Stub"))))
    c(list(word_cell(widths[j] - sign, cell(j, grid$texts[, j], "Figure"),
                     fill = fill_of(j))),
      if (sign > 0)
        list(word_cell(sign, cell(j, grid$signs[, j], "Sign"), fill = fill_of(j))))
  }), recursive = FALSE)
  rows <- do.call(paste0, cells)
  level <- grid$foot | !length(grid$heads) | sum(grid$labels) > 1L
  rows[level] <-
    gsub("<w:vAlign w:val=\"bottom\"/>", "", rows[level], fixed = TRUE)
  title <- roles == "heading"
  rows[title] <- word_cell(sum(widths),
                           word_paragraph(
                             w, "Table Question",
                             word_run(w, grid$texts[title, 1L])), length(cells))
  vapply(rows, word_row, "", USE.NAMES = FALSE)
}

# Sheets for a document that another program makes: with their looks written
# out, and a caption in its style.
word_report <- function(x) {
  w <-
    list(looks = kept_looks(), page = c(upright = 9360), letter = 93, gap = 90)
  unlist(lapply(sheets_of(x), function(sheet) {
    grid <- grid_of_sheet(sheet)
    fits <- page_for(grid, w$page, function(grid, most, scale) word_widths(grid, w, most))
    panels <- sheet_panels(sheet, fits$widths[-1L],
                           w$page[["upright"]] - fits$widths[1L])
    caption <- sprintf(paste0("<w:p><w:pPr><w:pStyle w:val=\"TableCaption\"/><w:keepNext/></w:pPr><w:r>",
                              "<w:t xml:space=\"preserve\">%s</w:t></w:r></w:p>"),
                       xml_escape(grid$title))
    tables <- lapply(panels, function(at) {
      c(word_grid(grid_of_sheet(sheet, at), fits$widths[c(1L, at + 1L)], w),
        word_line(w, "Table Note", " "))
    })
    c("", "```{=openxml}", if (nzchar(grid$title)) caption,
      word_line(w, "Table Subtitle", sheet$subtitle), unlist(tables),
      word_below(lines_below(sheet), w), "```", "")
  }))
}

kept_looks <- function() once(program, "looks", NULL, written_looks())

# ---- captions, figures, paragraphs, runs ----

counted <- function(w, what) {
  w$count[[what]] <- (w$count[[what]] %||% 0L) + 1L
  w$count[[what]]
}

# "Table 3. Title", whose number Word counts itself; what goes on from a table
# before has its number as text.
word_caption <- function(w, name, number, title, again = FALSE) {
  text <- if (nzchar(title)) word_run(w, paste0(". ", title))
  if (again)
    return(word_paragraph(w, "caption",
                          paste0(word_run(
                                   w,
                                   sprintf(
                                     "%s %s (%s)", name, number,
                                     words("continued"))), text)))
  full <- paste0(name, " ", number, if (nzchar(title)) paste0(". ", title))
  # of a table that goes along with another the number has a letter, which Word
  # cannot count
  counts <- !grepl("[a-z]", number)
  # the number that it has in a book
  given <- if (is.character(number)) sprintf("\\r %s ", number) else ""
  mark <- if (counts && name == words("caption_table"))
    word_listed(w, full, "table", number) else word_marked(w, name, number)
  label <- paste0(word_run(w, paste0(name, " ")),
                  if (!counts) word_run(w, number) else
                    word_field(sprintf(" SEQ %s \\* ARABIC %s", name, given),
                               number))
  word_paragraph(w, "caption", paste0(mark$start, label, text, mark$end))
}

# A bookmark that is on no list.
word_marked <- function(w, name, number) {
  id <- counted(w, "marks")
  list(start = sprintf("<w:bookmarkStart w:id=\"%d\" w:name=\"%s\"/>", id,
                       word_bookmark(name, number)),
       end = sprintf("<w:bookmarkEnd w:id=\"%d\"/>", id))
}

word_field <- function(code, shown, dirty = FALSE) {
  paste0(word_opened(code, dirty), "<w:r><w:t>", shown, "</w:t></w:r>",
         word_mark("end"))
}

# A field up to where what it shows begins.
word_opened <- function(code, dirty = FALSE) {
  paste0(word_mark("begin", dirty), "<w:r><w:instrText xml:space=\"preserve\">",
         xml_escape(code), "</w:instrText></w:r>", word_mark("separate"))
}

word_mark <- function(kind, dirty = FALSE) {
  sprintf("<w:r><w:fldChar w:fldCharType=\"%s\"%s/></w:r>", kind,
          if (dirty) " w:dirty=\"true\"" else "")
}

word_figure <- function(x, w, kind = w$figure) {
  if (!has_figure(x, kind)) return(NULL)
  f <- figure_data(x)
  kind <- kind_for(f, kind)
  number <- counted(w, "figures")
  dir.create(w$folder, showWarnings = FALSE)
  file <- file.path(w$folder, sprintf("fair-lattice-%d.png", number))
  # the caption has its title
  draw_figure(replace(f, "title", list(NULL)), kind, file, "png", w$call)
  size <- figure_size(f, kind)
  size <- size * min(1, w$page[["upright"]] / 1440 / size[["width"]]) * 914400
  picture <- sprintf(paste0(
    "<w:r><w:drawing>",
    paste("<wp:inline xmlns:wp=\"%6$s/wordprocessingDrawing\" distT=\"0\"",
          "distB=\"0\" distL=\"0\" distR=\"0\">"),
    "<wp:extent cx=\"%1$.0f\" cy=\"%2$.0f\"/>",
    paste("<wp:docPr id=\"%3$d\" name=\"%4$s\" descr=\"%5$s\"/><a:graphic",
          "xmlns:a=\"%6$s/main\"><a:graphicData "),
    "uri=\"%6$s/picture\"><pic:pic xmlns:pic=\"%6$s/picture\"><pic:nvPicPr>",
    "<pic:cNvPr id=\"%3$d\" name=\"%4$s\"/><pic:cNvPicPr/></pic:nvPicPr><pic:blipFill>",
    "<a:blip xmlns:r=\"%7$s\" r:embed=\"%8$s\"/>",
    "<a:stretch><a:fillRect/></a:stretch></pic:blipFill><pic:spPr><a:xfrm><a:off x=\"0\" y=\"0\"/>",
    paste("<a:ext cx=\"%1$.0f\" cy=\"%2$.0f\"/></a:xfrm><a:prstGeom",
          "prst=\"rect\"><a:avLst/></a:prstGeom></pic:spPr>"),
    "</pic:pic></a:graphicData></a:graphic></wp:inline></w:drawing></w:r>"),
                     size[["width"]], size[["height"]], number,
                     paste(words("caption_figure"), number),
                     xml_escape(figures[[kind]]$tell(f)),
                     "http://schemas.openxmlformats.org/drawingml/2006",
                     office_relations, own_id(number))
  c(word_paragraph(w, "Table Picture", picture),
    word_caption(w, words("caption_figure"), number, f$title))
}

word_line <- function(w, style, text) {
  word_paragraph(w, style, word_run(w, text[nzchar(text)]))
}

word_paragraph <- function(w, style, runs) {
  if (!length(runs)) return(NULL)
  if (!is.null(w$looks)) return(paragraph_with_looks(w$looks, style, runs))
  paste0("<w:p><w:pPr><w:pStyle w:val=\"", w$ids[style], "\"/></w:pPr>", runs,
         "</w:p>")
}

# Text in a character style; none where it is NA.
word_run <- function(w, text, style = NA_character_) {
  if (!length(text)) return(character())
  look <- if (!is.null(w$looks)) look_mark(style) else
    ifelse(is.na(style), "",
           paste0("<w:rPr><w:rStyle w:val=\"", w$ids[style], "\"/></w:rPr>"))
  ifelse(nzchar(text),
         paste0("<w:r>", look, "<w:t xml:space=\"preserve\">", xml_escape(text),
                "</w:t></w:r>"), "")
}
