# Tables as slides: each with its title, a sentence that says what was found, a
# table and a chart that can be edited, and the full test in the notes. Fonts
# and colours are those of the presentation's theme, so that a house's template
# has its way.

slides_of <- function(entries, file, asked) {
  for (package in c("officer", "xml2", "zip")) need_package(
    package, tells("to_write_slides"), asked$call)
  entries <- noting(entries)
  tables <- published_tables(entries)
  d <- tryCatch(begun_slides(asked), error = function(e) {
    if (inherits(e, "fairlattice_error") || is.null(asked$template)) stop(e)
    stop_input(c(tells("cannot_read_template", basename(asked$template)),
                 x = tells("masters_layouts_relations_do_not")), "template",
               path = asked$template, call = asked$call)
  })
  made_of <- drawn_with_data(entries, entries, function() {
    for (entry in entries) {
      if (entry$kind == "table")
        in_style(entry$x$layout$style, slide_table(entry, d)) else
        slide_result(entry, d)
    }
  })
  print(d$made$show, target = file)
  reopened(file, function(folder) {
    add_charts(folder, d$made$charts)
    if (!is.null(made_of$aside)) add_data(folder, made_of$aside, "ppt/presentation.xml")
  })
}

# What is made so far: the presentation, and the charts of its slides.
begun_slides <- function(asked) {
  show <- officer::read_pptx(slides_template(asked$template, asked$call))
  list(size = unlist(officer::slide_size(show)),
       layout = title_layout(show, asked), figure = asked$figure,
       made = list2env(list(show = show, charts = list())))
}

# The layout with a title and nothing else, and where its title ends.
title_layout <- function(show, asked) {
  known <- officer::layout_summary(show)
  kinds <- lapply(seq_len(nrow(known)), function(k) {
    setdiff(officer::layout_properties(show, known$layout[k],
                                       known$master[k])$type,
            c("dt", "ftr", "sldNum"))
  })
  fits <- vapply(kinds, function(kind) identical(kind, "title"), NA)
  at <- c(which(fits & known$layout == "Title Only"), which(fits))[1L]
  if (is.na(at))
    stop_input(c(tells("template_no_layout_title_alone",
                       basename(asked$template)),
                 i = tells("slides_need_one_such_title")), "template",
               path = asked$template, call = asked$call)
  title <- officer::layout_properties(show, known$layout[at], known$master[at])
  title <- title[title$type == "title", ]
  list(layout = known$layout[at], master = known$master[at],
       left = title$offx + 0.1, below = title$offy + title$cy + 0.05)
}

# The plain presentation, made as wide as screens are; or the house's, checked.
slides_template <- function(template, call) {
  if (!is.null(template)) {
    unlink(template_folder(template, "pptx", call), recursive = TRUE)
    return(template)
  }
  plain <- tempfile(fileext = ".pptx")
  invisible(utils::capture.output(print(officer::read_pptx(), target = plain)))
  folder <- unpacked(plain)
  on.exit(unlink(folder, recursive = TRUE))
  wider <- function(text) {
    for (part in c("<a:off x=\"", "<a:ext cx=\"")) {
      at <- gregexpr(sprintf("(?<=%s)[0-9]+", part), text, perl = TRUE)
      regmatches(text, at) <- lapply(
        regmatches(text, at), function(x) {
          sprintf("%.0f", as.numeric(x) * 4 / 3)
        })
    }
    text
  }
  for (path in list.files(file.path(folder, "ppt",
                                    c("slideMasters", "slideLayouts")), "xml$",
                          full.names = TRUE)) edit_part(path, wider)
  # a title of one line to the left
  edit_part(file.path(folder, "ppt", "slideMasters", "slideMaster1.xml"),
            function(text) {
              style <- regmatches(text,
                                  regexpr(
                                    "<p:titleStyle>.*</p:titleStyle>", text))
              plain <- gsub("sz=\"[0-9]+\"", "sz=\"2600\"",
                            gsub("algn=\"ctr\"", "algn=\"l\"", style))
              sub("cy=\"1143000\"", "cy=\"640080\"",
                  sub(style, plain, text, fixed = TRUE), fixed = TRUE)
            })
  edit_part(file.path(folder, "ppt", "presentation.xml"), function(text) {
    sub("<p:sldSz[^>]*/>", "<p:sldSz cx=\"12192000\" cy=\"6858000\"/>", text)
  })
  packed(folder, plain)
  plain
}

# A title that would take more than a line is set smaller, so that it keeps to two.
slide_new <- function(d, title) {
  title <- visible(title)
  size <- slide_title_size(title, d$size[["width"]])
  show <- officer::add_slide(d$made$show, layout = d$layout$layout,
                             master = d$layout$master)
  shown <- if (is.null(size)) title else xml2::read_xml(slide_title(title, size))
  d$made$show <-
    officer::ph_with(show, shown, officer::ph_location_type("title"))
}

# In points; NULL where the template's own does. A letter is about half as wide as
# it is high.
slide_title_size <- function(title, width) {
  room <- 2 * (width - 1.4) * 72
  if (nchar(title) * 14.2 <= room / 2) return(NULL)
  max(16, min(20, floor(room / (0.52 * nchar(title)))))
}

slide_title <- function(title, size) {
  sprintf(paste0("<p:sp %s><p:nvSpPr><p:cNvPr id=\"0\" name=\"Title\"/><p:cNvSpPr>",
                 "<a:spLocks noGrp=\"1\"/></p:cNvSpPr><p:nvPr><p:ph type=\"title\"/></p:nvPr>",
                 "</p:nvSpPr><p:spPr/><p:txBody><a:bodyPr/><a:lstStyle/><a:p><a:r>",
                 "<a:rPr sz=\"%d\"/><a:t>%s</a:t></a:r></a:p></p:txBody></p:sp>"),
          slide_spaces, as.integer(100 * size), xml_escape(title))
}

# ---- a table ----

slide_table <- function(entry, d) {
  x <- entry$x
  sheets <- noted_sheets(entry)
  single <- inherits(x, "fairlattice_crosstab")
  for (k in seq_along(sheets)) {
    sheet <- sheets[[k]]
    finding <- if (single) in_style(x$layout$style, headline_finding(x, k))
    notes <-
      c(texts_below(sheet), if (k == length(sheets)) paragraphs_of(entry))
    slide_sheet(sheet, finding, notes,
                footer_of(sheet, x$layout$lines),
                if (single) chart_of_slide(x, k, d$figure), d)
  }
}

# More answers than these have no colours that can be told apart, and the numbers of
# more bars no room.
most_in_chart <- 12L
most_bars <- 16L

chart_of_slide <- function(x, k, figure) {
  if (!has_figure(x, figure)) return(NULL)
  chart <- chart_data(x, k)
  if (length(chart$pieces) <= most_in_chart && length(chart$bars) <= most_bars) chart
}

# Labels of bars beside a table have room for so many letters.
most_beside <- 26L

# The test stands in the notes; where its line was asked for by name, at the foot of
# the slide as well.
footer_of <- function(sheet, lines) {
  c(if ("test" %in% lines) sheet$tests, if ("strength" %in% lines) sheet$strength)
}

# In inches.
footer_height <- function(footer) if (length(footer)) 0.3 else 0

# In inches: a letter of a table is 0.083 wide, a line 0.26 high.
slide_letter <- 0.094
slide_line <- 0.26

# Points of what stands on a slide: nothing is smaller.
slide_points <- 12

slide_sheet <- function(sheet, finding, notes, footer, chart, d) {
  room <- c(width = d$size[["width"]] - 2 * d$layout$left,
            height = d$size[["height"]] - d$layout$below - 1.65 - footer_height(footer))
  top <- d$layout$below + 0.75
  grid <- grid_of_sheet(sheet)
  widths_of <- function(grid, most, scale) {
    slide_letter * (grid_widths(grid, head_most = most) + 2) +
      slide_sign_width(grid)
  }
  fits <- page_for(grid, c(across = room[["width"]]), widths_of)
  lines <- lines_on_slides(grid, fits$widths[1L], room[["height"]])
  # beside the chart, if that can be
  near <- if (!is.null(chart) && length(lines) == 1L &&
                max(text_width(chart$bars)) <= most_beside)
    page_for(grid, c(beside = room[["width"]] - 3.3, across = Inf), widths_of)
  beside <- identical(near$page, "beside") &&
    length(lines_on_slides(grid, near$widths[1L], room[["height"]])) == 1L
  if (beside) fits <- near
  columns <-
    sheet_panels(sheet, fits$widths[-1L], room[["width"]] - fits$widths[1L])
  chart_room <- room[["width"]] - sum(fits$widths) - 0.3
  pages <- expand.grid(line = seq_along(lines), column = seq_along(columns))
  for (page in seq_len(nrow(pages))) {
    at <- columns[[pages$column[page]]]
    part <- rows_at(grid_of_sheet(sheet, at), lines[[pages$line[page]]])
    again <- if (page > 1L) sprintf(" (%s)", words("continued")) else ""
    slide_frame(d, paste0(finding %||% full_title(sheet), again),
                if (!is.null(finding)) full_title(sheet),
                c(sheet$subtitle, sheet$key), notes, footer)
    slide_add(d, slide_grid(part, fits$widths[c(1L, at + 1L)]), d$layout$left,
              top, sum(fits$widths[c(1L, at + 1L)]), 1)
    if (beside)
      slide_chart(d, chart, d$layout$left + sum(fits$widths) + 0.3, top,
                  chart_room, room[["height"]])
  }
  if (!is.null(chart) && !beside) {
    slide_frame(d, finding %||% full_title(sheet),
                if (!is.null(finding)) full_title(sheet), sheet$subtitle, notes, footer)
    slide_chart(d, chart, d$layout$left, top, room[["width"]], room[["height"]])
  }
}

# Lines of a long table in as many parts as the slides need, about even and between
# its groups; the heads stand over each. `width` is that of the labels, which wrap.
lines_on_slides <- function(grid, width, height) {
  most <- max(4, floor(height / slide_line) - length(grid$heads) - 1)
  tall <- pmax(1, ceiling(slide_letter * (text_width(grid$texts[, 1L]) + 2) / width))
  starts <- group_starts(grid)
  from <- 1L
  repeat {
    first <- from[length(from)]
    used <- cumsum(tall[first:length(tall)])
    left <- used[length(used)]
    if (left <= most) break
    even <- first + sum(used <= left / ceiling(left / most))
    latest <- first + max(1L, sum(used <= most))
    near <- starts[starts > first & starts <= latest & abs(starts - even) <= most / 4]
    from <- c(from, if (length(near)) near[which.min(abs(near - even))] else
      max(even, first + 1L))
  }
  unname(split(seq_along(tall), findInterval(seq_along(tall), from)))
}

rows_at <- function(grid, at) {
  for (part in c("texts", "signs", "marks")) {
    if (!is.null(grid[[part]])) grid[[part]] <- grid[[part]][at, , drop = FALSE]
  }
  grid$roles <- grid$roles[at]
  grid$foot <- grid$foot[at]
  grid
}

# A slide with its title (of a table what was found), what stands under it (then
# the title of the table), what the percentages are of, the notes, and what was
# asked for at its foot.
slide_frame <- function(d, title, below, subtitle, notes, footer = NULL) {
  slide_new(d, title)
  wide <- d$size[["width"]] - 2 * d$layout$left
  if (length(below))
    slide_add(d, slide_text(below, 16), d$layout$left, d$layout$below, wide, 0.65)
  subtitle <- subtitle[nzchar(subtitle)]
  foot <- c(if (length(subtitle)) paste(subtitle, collapse = ". "),
            if (length(footer)) paste(footer, collapse = "; "))
  if (length(foot))
    slide_add(d, slide_text(foot, slide_points, quiet = TRUE), d$layout$left,
              d$size[["height"]] - 0.9 - footer_height(footer), wide,
              0.65 + footer_height(footer))
  if (length(notes))
    d$made$show <- officer::set_notes(d$made$show,
                                      paste(visible(notes), collapse = "\n"),
                                      officer::notes_location_type("body"))
}

# Where something stands goes in the place of a mark that no text can hold.
frame_mark <- "\r"

slide_add <- function(d, xml, left, top, width, height) {
  frame <- sprintf("<a:off x=\"%.0f\" y=\"%.0f\"/><a:ext cx=\"%.0f\" cy=\"%.0f\"/>",
                   left * 914400, top * 914400, width * 914400, height * 914400)
  document <- xml2::read_xml(sub(frame_mark, frame, xml, fixed = TRUE))
  d$made$show <- officer::ph_with(d$made$show, document,
                                  officer::ph_location(
                                    left, top, width, height))
}

slide_chart <- function(d, chart, left, top, width, height) {
  number <- length(d$made$charts) + 1L
  # a piece that has no room for its number goes without
  chart$least <- max(4.5, 22 / max(width - 1.7, 0.6))
  d$made$charts <- c(d$made$charts, list(chart))
  slide_add(d,
            sprintf(paste0(
              paste("<p:graphicFrame %s><p:nvGraphicFramePr><p:cNvPr id=\"0\"",
                    "name=\"Chart\" descr=\"%s\"/>"),
              "<p:cNvGraphicFramePr/><p:nvPr/>",
              "</p:nvGraphicFramePr><p:xfrm>\r</p:xfrm><a:graphic>",
              "<a:graphicData uri=\"http://schemas.openxmlformats.org/drawingml/2006/chart\">",
              "<c:chart xmlns:c=\"http://schemas.openxmlformats.org/drawingml/2006/chart\" r:id=\"%s\"/>",
              "</a:graphicData></a:graphic></p:graphicFrame>"), slide_spaces,
                    xml_escape(chart$tell), own_id(number)), left, top, width,
            height)
}

slide_spaces <- paste("xmlns:a=\"http://schemas.openxmlformats.org/drawingml/2006/main\"",
                      "xmlns:r=\"http://schemas.openxmlformats.org/officeDocument/2006/relationships\"",
                      "xmlns:p=\"http://schemas.openxmlformats.org/presentationml/2006/main\"")

slide_text <- function(text, size, quiet = FALSE) {
  sprintf(paste0(
    paste("<p:sp %s><p:nvSpPr><p:cNvPr id=\"0\" name=\"Text\"/><p:cNvSpPr",
          "txBox=\"1\"/><p:nvPr/></p:nvSpPr><p:spPr><a:xfrm>"),
    "\r</a:xfrm><a:prstGeom prst=\"rect\"><a:avLst/></a:prstGeom><a:noFill/></p:spPr><p:txBody>",
    paste("<a:bodyPr wrap=\"square\" lIns=\"0\" rIns=\"0\" tIns=\"0\"",
          "bIns=\"0\"><a:normAutofit/></a:bodyPr><a:lstStyle/>%s"),
    "</p:txBody></p:sp>"), slide_spaces,
          paste(slide_paragraph(held(text), size, quiet = quiet), collapse = ""))
}

# A paragraph: `side` is "l" or "r".
slide_paragraph <- function(text, size, bold = FALSE, side = "l",
                            quiet = FALSE) {
  quiet <- ifelse(quiet,
                  paste0(paste("<a:solidFill><a:schemeClr",
                               "val=\"tx1\"><a:lumMod",
                               "val=\"65000\"/><a:lumOff val=\"35000\"/>"),
                         "</a:schemeClr></a:solidFill>"), "")
  run <- sprintf("<a:r><a:rPr lang=\"%s\" sz=\"%d\" b=\"%d\">%s</a:rPr><a:t>%s</a:t></a:r>",
                 if (setting("language") == "de") "de-DE" else "en-GB",
                 as.integer(100 * size), as.integer(bold), quiet,
                 xml_escape(text))
  end <- sprintf("<a:endParaRPr sz=\"%d\"/>", as.integer(100 * size))
  paste0("<a:p><a:pPr algn=\"", side, "\"/>", ifelse(nzchar(text), run, end),
         "</a:p>")
}

# ---- the table itself ----

slide_sign_width <- function(grid) {
  ifelse(grid$labels | is.null(grid$signs), 0,
         slide_letter * max(2, text_width(grid$signs)))
}

slide_grid <- function(grid, widths) {
  deep <- length(grid$heads)
  # heads stand over the figures, not over their signs
  hold <- if (is.null(grid$signs)) 0L else as.integer(2 * 0.5 * slide_points * 12700)
  heads <- vapply(seq_len(deep), function(level) {
    slide_head(grid$heads[[level]], level == deep, hold)
  }, "")
  size <- dim(grid$texts)
  sign <- if (is.null(grid$signs)) "" else
    ifelse(nzchar(grid$signs), paste0("\u2007", grid$signs),
           ifelse(grid$labels[col(grid$texts)], "", "\u2007\u2007"))
  bold <- grid$marks != "" | grid$roles %in% c("net", "heading")
  fill <- mark_fills[grid$marks]
  last <- row(grid$texts) == size[1L]
  cell <- slide_cell(slide_paragraph(paste0(grid$texts, sign), slide_points, bold,
                                     ifelse(
                                       grid$labels[col(grid$texts)], "l", "r"),
                                     matrix(
                                       grid$roles == "base", size[1L],
                                       size[2L])),
                     top = ifelse(grid$foot[row(grid$texts)], 12700L, 0L),
                     bottom = ifelse(last, 12700L, 0L), fill = fill)
  rows <- paste0("<a:tr h=\"", round(slide_line * 914400), "\">",
                 apply(matrix(cell, size[1L]), 1L, paste, collapse = ""),
                 "</a:tr>")
  sprintf(paste0(
    paste("<p:graphicFrame %s><p:nvGraphicFramePr><p:cNvPr id=\"0\"",
          "name=\"Table\" descr=\"%s\"/><p:cNvGraphicFramePr>"),
    "<a:graphicFrameLocks noGrp=\"1\"/></p:cNvGraphicFramePr><p:nvPr/></p:nvGraphicFramePr><p:xfrm>\r</p:xfrm>",
    "<a:graphic><a:graphicData uri=\"http://schemas.openxmlformats.org/drawingml/2006/table\"><a:tbl>",
    "<a:tblPr firstRow=\"1\"/><a:tblGrid>%s</a:tblGrid>%s</a:tbl></a:graphicData></a:graphic></p:graphicFrame>"),
          slide_spaces, xml_escape(grid$title),
          paste0("<a:gridCol w=\"", round(widths * 914400), "\"/>",
                 collapse = ""), paste(c(heads, rows), collapse = ""))
}

slide_head <- function(cells, last, hold) {
  content <- vapply(seq_len(nrow(cells)), function(k) {
    lines <- c(cells$text[k], cells$figure[k])
    lines <- lines[nzchar(lines)]
    side <- if (cells$kind[k] == "column") "r" else "l"
    paste(slide_paragraph(if (length(lines)) lines else "", slide_points, TRUE, side),
          collapse = "")
  }, "")
  under <- ifelse(cells$kind == "spanner", 6350L, if (last) 19050L else 0L)
  spans <- ifelse(cells$span > 1L, sprintf(" gridSpan=\"%d\"", cells$span), "")
  merged <- vapply(cells$span, function(span) {
    paste(rep("<a:tc hMerge=\"1\"><a:txBody><a:bodyPr/><a:lstStyle/><a:p/></a:txBody><a:tcPr/></a:tc>",
              span - 1L), collapse = "")
  }, "")
  paste0("<a:tr h=\"", round(slide_line * 914400), "\">",
         paste0(slide_cell(content, bottom = under, span = spans,
                           right = 36000L + ifelse(cells$kind == "column", hold, 0L)),
                merged, collapse = ""), "</a:tr>")
}

# `right`: the margin there, in the format's own units.
slide_cell <- function(content, top = 0L, bottom = 0L, fill = NA_character_,
                       span = "", right = 36000L) {
  line <- function(side, width) {
    ifelse(width > 0L,
           sprintf(paste("<a:ln%1$s w=\"%2$d\"><a:solidFill><a:schemeClr",
                         "val=\"tx1\"/></a:solidFill></a:ln%1$s>"), side,
                   width),
           sprintf("<a:ln%1$s w=\"0\"><a:noFill/></a:ln%1$s>", side))
  }
  colour <- ifelse(is.na(fill), "<a:noFill/>",
                   sprintf("<a:solidFill><a:srgbClr val=\"%s\"/></a:solidFill>",
                           toupper(substring(page_colours[fill], 2L))))
  paste0("<a:tc", span, "><a:txBody><a:bodyPr/><a:lstStyle/>", content,
         "</a:txBody>",
         sprintf("<a:tcPr marL=\"36000\" marR=\"%d\" marT=\"18000\" marB=\"18000\" anchor=\"b\">",
                 right),
         line("L", 0L), line("R", 0L), line("T", top), line("B", bottom),
         colour, "</a:tcPr></a:tc>")
}

# A result: what it says and its columns, as far as a slide holds them; the rest
# stands in the notes.
slide_result <- function(entry, d) {
  said <- unlist(lapply(entry$parts, function(part) {
    switch(part$kind, said = part$text[nzchar(part$text)],
           pairs = paste0(trimws(part$labels), ": ", part$texts))
  }))
  grids <- Filter(Negate(is.null),
                  lapply(entry$parts, function(part) {
                    switch(part$kind,
                           columns = grid_of_columns(
                             part$columns, part$left, entry$title),
                           sheet = grid_of_sheet(part$sheet))
                  }))
  for (grid in if (length(grids)) grids else list(NULL)) {
    slide_frame(d, entry$title, if (!is.null(grid)) utils::head(said, 1L), "", said)
    if (is.null(grid)) {
      slide_add(d, slide_text(said, 14), d$layout$left, d$layout$below + 0.2,
                d$size[["width"]] - 2 * d$layout$left,
                d$size[["height"]] - d$layout$below - 0.6)
      next
    }
    widths <- fitted_widths(slide_letter * (grid_widths(grid) + 2) +
                              slide_sign_width(grid),
                            d$size[["width"]] - 2 * d$layout$left)
    most <- floor((d$size[["height"]] - d$layout$below - 1.65) / slide_line) -
            length(grid$heads)
    slide_add(d,
              slide_grid(rows_at(grid, seq_len(min(most, nrow(grid$texts)))),
                         widths), d$layout$left, d$layout$below + 0.75,
              sum(widths), 1)
  }
}
