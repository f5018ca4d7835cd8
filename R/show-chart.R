# A bar chart that office programs draw and let people edit: its figures in a
# small workbook inside the presentation.

# The bars of one layer: percentages (a row a piece, a column a bar), labels,
# colours.
chart_data <- function(x, k) {
  f <- figure_data(x)
  data <- shares_data(f)
  each <- x$layers[[k]]$each
  data <- if (is.na(each)) data else data[data$each %in% each, ]
  bars <- unique(as.character(data$bar))
  pieces <- levels(data$piece)
  at <- match(outer(pieces, bars, paste, sep = "\r"),
              paste(data$piece, data$bar, sep = "\r"))
  values <- matrix(data$percent[at], length(pieces))
  side <- figure_side(f)
  base <- data$base[match(bars, data$bar)]
  based <- ifelse(is.na(base), "", sprintf(" (%s)", format_count(base)))
  list(values = values, bars = paste0(bars, based), pieces = pieces,
       colours = substr(grDevices::rgb(t(
         grDevices::col2rgb(
           answer_colours(
             length(pieces),
             f[[side[["piece"]]]]$ordered,
             f$style$colours$answers))), maxColorValue = 255), 2L, 7L),
       stacked = !f[[side[["piece"]]]]$ticks, tell = figures$shares$tell(f))
}

# Puts the charts of the slides into the package: each a part with its workbook.
add_charts <- function(folder, charts) {
  if (!length(charts)) return(invisible())
  at <- function(...) file.path(folder, "ppt", ...)
  for (part in c("charts/_rels", "embeddings")) dir.create(
    at(part), recursive = TRUE, showWarnings = FALSE)
  slides <- list.files(at("slides"), "xml$")
  text <- vapply(at("slides", slides), part_text, "")
  for (k in seq_along(charts)) {
    name <- sprintf("fair-lattice-%d", k)
    write_whole(chart_xml(charts[[k]]), at("charts", paste0(name, ".xml")))
    chart_workbook(charts[[k]], at("embeddings", paste0(name, ".xlsx")))
    relations <- at("charts/_rels", paste0(name, ".xml.rels"))
    write_whole(paste0(paste("<?xml version=\"1.0\" encoding=\"UTF-8\"",
                             "standalone=\"yes\"?>\n<Relationships "),
                       "xmlns=\"http://schemas.openxmlformats.org/package/2006/relationships\"></Relationships>"),
                relations)
    add_relations(relations, "rId1", "package",
                  sprintf("../embeddings/%s.xlsx", name))
    slide <-
      slides[grepl(sprintf("r:id=\"%s\"", own_id(k)), text, fixed = TRUE)]
    add_relations(at("slides/_rels", paste0(slide, ".rels")), own_id(k),
                  "chart", sprintf("../charts/%s.xml", name))
  }
  edit_part(file.path(folder, "[Content_Types].xml"), function(text) {
    kind <- "ContentType=\"application/vnd.openxmlformats-officedocument."
    parts <- sprintf(paste("<Override",
                           "PartName=\"/ppt/charts/fair-lattice-%d.xml\"",
                           "%sdrawingml.chart+xml\"/>"), seq_along(charts),
                     kind)
    book <- if (!grepl("Extension=\"xlsx\"", text, fixed = TRUE))
      sprintf("<Default Extension=\"xlsx\" %sspreadsheetml.sheet\"/>", kind)
    text <- sub("(<Types[^>]*>)", paste0("\\1", book), text)
    sub("</Types>", paste0(paste(parts, collapse = ""), "</Types>"), text,
        fixed = TRUE)
  })
}

# The figures of a chart: a row a bar, a column a piece.
chart_workbook <- function(chart, path) {
  b <- list(book = new_spreadsheet("Calibri", 11))
  add_sheet(b$book, "Sheet1", grid = TRUE)
  put_cells(b, "Sheet1", t(chart$pieces), 2L, 1L)
  put_cells(b, "Sheet1", chart$bars, 1L, 2L)
  put_cells(b, "Sheet1", unname(t(chart$values)), 2L, 2L)
  finish_sheet(b, "Sheet1",
               list2DF(list(row = integer(), column = integer(),
                            style = integer())))
  save_spreadsheet(b$book, path)
}

# Horizontal bars of 100 %, cut into pieces; of ticks, which do not add up, a
# bar an item beside each other.
chart_xml <- function(chart) {
  bars <- length(chart$bars)
  points <- function(values) {
    there <- which(!is.na(values))
    paste0(sprintf("<c:ptCount val=\"%d\"/>", length(values)),
           paste0("<c:pt idx=\"", there - 1L, "\"><c:v>",
                  xml_escape(values[there]), "</c:v></c:pt>", collapse = ""))
  }
  font <- function(colour) {
    sprintf(paste0("<c:txPr><a:bodyPr/><a:lstStyle/><a:p><a:pPr>",
                   "<a:defRPr sz=\"1200\">%s</a:defRPr>",
                   "</a:pPr><a:endParaRPr lang=\"en-GB\"/></a:p></c:txPr>"),
            colour)
  }
  solid <- function(hex) {
    sprintf("<a:solidFill><a:srgbClr val=\"%s\"/></a:solidFill>", hex)
  }
  column <- column_letters(seq_along(chart$pieces) + 1L)
  series <- vapply(seq_along(chart$pieces), function(k) {
    small <- which(is.na(chart$values[k, ]) | chart$values[k, ] < chart$least)
    ink <- if (chart$stacked &&
                 ink_on(paste0("#", chart$colours[k])) == "white") "FFFFFF" else
      "000000"
    paste0(
      sprintf("<c:ser><c:idx val=\"%1$d\"/><c:order val=\"%1$d\"/>", k - 1L),
      sprintf("<c:tx><c:strRef><c:f>Sheet1!$%s$1</c:f><c:strCache>%s</c:strCache></c:strRef></c:tx>",
              column[k], points(chart$pieces[k])),
      sprintf("<c:spPr>%s</c:spPr><c:invertIfNegative val=\"0\"/><c:dLbls>",
              solid(chart$colours[k])),
      if (chart$stacked && length(small))
        paste0("<c:dLbl><c:idx val=\"", small - 1L,
               "\"/><c:delete val=\"1\"/></c:dLbl>", collapse = ""),
      "<c:numFmt formatCode=\"0\" sourceLinked=\"0\"/><c:spPr><a:noFill/></c:spPr>",
      font(solid(ink)),
      paste("<c:showLegendKey val=\"0\"/><c:showVal val=\"1\"/><c:showCatName",
            "val=\"0\"/><c:showSerName val=\"0\"/>"),
      "<c:showPercent val=\"0\"/><c:showBubbleSize val=\"0\"/></c:dLbls>",
      sprintf("<c:cat><c:strRef><c:f>Sheet1!$A$2:$A$%d</c:f><c:strCache>%s</c:strCache></c:strRef></c:cat>",
              bars + 1L, points(chart$bars)),
      sprintf(paste0("<c:val><c:numRef><c:f>Sheet1!$%1$s$2:$%1$s$%2$d</c:f><c:numCache>",
                     "<c:formatCode>0.0</c:formatCode>",
                     "%3$s</c:numCache></c:numRef></c:val></c:ser>"), column[k],
              bars + 1L,
              points(ifelse(is.na(chart$values[k, ]), NA,
                            full_digits(chart$values[k, ])))))
  }, "")
  axis <- "<c:spPr><a:ln><a:noFill/></a:ln></c:spPr>"
  paste0(
    "<?xml version=\"1.0\" encoding=\"UTF-8\" standalone=\"yes\"?>\n<c:chartSpace ",
    "xmlns:c=\"http://schemas.openxmlformats.org/drawingml/2006/chart\" ",
    "xmlns:a=\"http://schemas.openxmlformats.org/drawingml/2006/main\" ",
    "xmlns:r=\"http://schemas.openxmlformats.org/officeDocument/2006/relationships\">",
    "<c:roundedCorners val=\"0\"/><c:chart>",
    paste("<c:autoTitleDeleted",
          "val=\"1\"/><c:plotArea><c:layout/><c:barChart><c:barDir",
          "val=\"bar\"/><c:grouping val=\""),
    if (chart$stacked) "percentStacked" else "clustered",
    "\"/><c:varyColors val=\"0\"/>", paste(series, collapse = ""),
    "<c:gapWidth val=\"35\"/>", if (chart$stacked) "<c:overlap val=\"100\"/>",
    "<c:axId val=\"1001\"/><c:axId val=\"1002\"/></c:barChart>",
    paste("<c:catAx><c:axId val=\"1001\"/><c:scaling><c:orientation",
          "val=\"maxMin\"/></c:scaling><c:delete val=\"0\"/>"),
    paste("<c:axPos val=\"l\"/><c:numFmt formatCode=\"General\"",
          "sourceLinked=\"0\"/><c:majorTickMark val=\"none\"/>"),
    "<c:minorTickMark val=\"none\"/><c:tickLblPos val=\"nextTo\"/>", axis,
    font(""),
    paste("<c:crossAx val=\"1002\"/><c:crosses val=\"autoZero\"/><c:auto",
          "val=\"1\"/><c:lblAlgn val=\"ctr\"/>"),
    "<c:lblOffset val=\"100\"/><c:noMultiLvlLbl val=\"0\"/></c:catAx>",
    paste("<c:valAx><c:axId val=\"1002\"/><c:scaling><c:orientation",
          "val=\"minMax\"/><c:min val=\"0\"/></c:scaling>"),
    "<c:delete val=\"1\"/><c:axPos val=\"b\"/><c:numFmt formatCode=\"0\" sourceLinked=\"0\"/>",
    "<c:majorTickMark val=\"none\"/>",
    "<c:minorTickMark val=\"none\"/><c:tickLblPos val=\"nextTo\"/><c:crossAx val=\"1001\"/>",
    "<c:crosses val=\"max\"/></c:valAx>",
    "</c:plotArea><c:legend><c:legendPos val=\"t\"/><c:overlay val=\"0\"/>",
    font(""), "</c:legend>",
    "<c:plotVisOnly val=\"1\"/><c:dispBlanksAs val=\"gap\"/></c:chart>",
    "<c:externalData r:id=\"rId1\"><c:autoUpdate val=\"0\"/></c:externalData></c:chartSpace>")
}
