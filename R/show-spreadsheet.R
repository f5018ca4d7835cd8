# The file of a workbook, written part by part. Cells are gathered sheet by
# sheet and become XML when a sheet is finished, since a book has a thousand of
# them: a library that keeps an object a cell and style takes minutes for that.

new_spreadsheet <- function(font, size) {
  list2env(list(sheets = list(), strings = character(), defined = character(),
                font = font, size = size, numFmts = character(),
                fonts = sprintf("<font><sz val=\"%s\"/><name val=\"%s\"/></font>",
                                size, xml_escape(font)),
                fills = c("<fill><patternFill patternType=\"none\"/></fill>",
                          "<fill><patternFill patternType=\"gray125\"/></fill>"),
                borders = "<border><left/><right/><top/><bottom/><diagonal/></border>",
                xfs = paste("<xf numFmtId=\"0\" fontId=\"0\" fillId=\"0\"",
                            "borderId=\"0\" xfId=\"0\"/>"), active = 1L),
           parent = emptyenv())
}

add_sheet <- function(book, name, grid = FALSE) {
  book$sheets[[name]] <- list2env(
    list(grid = grid, cells = list(), merges = character(), widths = NULL,
         heights = NULL, pane = "", page = "", filter = "", xml = NULL),
    parent = emptyenv())
}

sheet_named <- function(book, name) book$sheets[[name]]

column_letters <- function(column) {
  out <- character(length(column))
  while (any(column > 0L)) {
    at <- column > 0L
    out[at] <- paste0(LETTERS[(column[at] - 1L) %% 26L + 1L], out[at])
    column[at] <- (column[at] - 1L) %/% 26L
  }
  out
}

# ---- what stands in the cells ----

# A vector goes down a column; a matrix or data frame fills columns. What is
# missing or empty is no cell.
put_cells <- function(b, name, values, column, row) {
  if (is.data.frame(values) || is.matrix(values)) {
    for (j in seq_len(ncol(values))) put_cells(
      b, name, values[, j], column + j - 1L, row)
    return(invisible())
  }
  if (is.factor(values) || is.logical(values)) values <- as.character(values)
  number <- is.numeric(values)
  at <-
    which(if (number) is.finite(values) else !is.na(values) & nzchar(values))
  if (!length(at)) return(invisible())
  keep_cells(b, name, row + at - 1L, rep(column, length(at)),
             if (number) "n" else "s",
             if (number) full_digits(as.numeric(values[at])) else
               as.character(values[at]))
}

# Formulas down a column; `shown` is what a program shows that does not
# calculate.
put_formulas <- function(b, name, formula, column, row, shown = NULL) {
  value <- paste0("<f>", xml_bare(formula), "</f>",
                  if (!is.null(shown)) paste0("<v>", xml_escape(shown), "</v>"))
  keep_cells(b, name, row + seq_along(formula) - 1L,
             rep(column, length(formula)), if (is.null(shown)) "f" else "t",
             value)
}

keep_cells <- function(b, name, row, column, kind, value) {
  sheet <- sheet_named(b$book, name)
  sheet$cells[[length(sheet$cells) + 1L]] <- list(
    row = as.integer(row), column = as.integer(column),
    kind = rep(kind, length(row)), value = value)
}

merge_cells <- function(b, name, columns, row) {
  sheet <- sheet_named(b$book, name)
  sheet$merges <- c(sheet$merges,
                    sprintf("%s%d:%s%d", column_letters(min(columns)), row,
                            column_letters(max(columns)), row))
}

column_widths <- function(b, name, widths) {
  sheet <- sheet_named(b$book, name)
  sheet$widths <- widths
}

row_heights <- function(b, name, rows, heights) {
  sheet <- sheet_named(b$book, name)
  sheet$heights[as.character(rows)] <- rep_len(heights, length(rows))
}

# What stays in sight: the rows above and the columns before a cell.
freeze_before <- function(b, name, row, column) {
  x <- column - 1L
  y <- row - 1L
  part <- if (x && y) "bottomRight" else if (y) "bottomLeft" else "topRight"
  sheet <- sheet_named(b$book, name)
  sheet$pane <- paste0(
    "<pane", if (x) sprintf(" xSplit=\"%d\"", x),
    if (y) sprintf(" ySplit=\"%d\"", y),
    sprintf(" topLeftCell=\"%s%d\" activePane=\"%s\" state=\"frozen\"/>",
            column_letters(column), row, part))
}

set_paper <- function(b, name, orientation = "portrait") {
  sheet <- sheet_named(b$book, name)
  sheet$page <- sprintf(
    "<pageSetup paperSize=\"9\" orientation=\"%s\" fitToWidth=\"1\" fitToHeight=\"0\"/>",
    orientation)
}

# A name that only one sheet knows, such as what is printed.
define_name <- function(b, name, what, range, hidden = FALSE) {
  text <- sprintf("<definedName name=\"_xlnm.%s\" localSheetId=\"%d\"%s>'%s'!%s</definedName>",
                  what, match(name, names(b$book$sheets)) - 1L,
                  if (hidden) " hidden=\"1\"" else "", xml_escape(name), range)
  b$book$defined <- c(b$book$defined, text)
}

# ---- looks as styles ----

# The number of a part of the styles; parts that are alike are one.
part_number <- function(book, kind, xml) {
  at <- match(xml, book[[kind]])
  if (is.na(at)) {
    book[[kind]] <- c(book[[kind]], xml)
    at <- length(book[[kind]])
  }
  at - 1L
}

workbook_rules <-
  c(none = NA, thin = "thin", thick = "medium", double = "double")

# The number of the style of a look (R/show-workbook-cells.R says what a look
# is): it is made of the numbers of its font, fill, border and format.
style_number <- function(b, look) {
  fill <- if (is.null(look$fill)) 0L else
    part_number(b$book, "fills",
                sprintf(fill_xml, look_colour(b, look$fill)))
  format <- if (is.null(look$format) || look$format == "General") 0L else
    164L + part_number(b$book, "numFmts", look$format)
  part_number(b$book, "xfs",
              sprintf(style_xml, format, look_font(b, look), fill,
                      look_border(b, look),
                      if (is.null(look$side)) "" else
                        sprintf(" horizontal=\"%s\"", look$side),
                      if (isTRUE(look$inset)) " indent=\"1\"" else "",
                      if (isTRUE(look$upright)) "top" else "bottom",
                      if (isTRUE(look$wrap)) " wrapText=\"1\"" else ""))
}

style_xml <- paste0(
  "<xf numFmtId=\"%d\" fontId=\"%d\" fillId=\"%d\" borderId=\"%d\" xfId=\"0\" ",
  "applyNumberFormat=\"1\" applyFont=\"1\" applyFill=\"1\" applyBorder=\"1\" ",
  "applyAlignment=\"1\"><alignment%s%s vertical=\"%s\"%s/></xf>")

fill_xml <- paste0("<fill><patternFill patternType=\"solid\">",
                   "<fgColor rgb=\"%s\"/></patternFill></fill>")

# A colour by its name in the house style, or as it is.
look_colour <- function(b, name) {
  usual <- if (name %in% names(page_colours)) page_colours[[name]] else name
  sprintf("FF%s", hex_of(b$look$colours[[name]] %||% usual))
}

look_font <- function(b, look) {
  bold <- isTRUE(look$bold) || !is.null(look$fill) && look$fill != "typed"
  ink <- if (isTRUE(look$link)) "#005a6e" else
    if (isTRUE(look$quiet)) "quiet" else "ink"
  part_number(b$book, "fonts",
              sprintf(paste0("<font>%s%s<sz val=\"%s\"/><color rgb=\"%s\"/>",
                             "<name val=\"%s\"/></font>"),
                      if (bold) "<b/>" else "",
                      if (isTRUE(look$link)) "<u/>" else "",
                      look$size %||% b$book$size, look_colour(b, ink),
                      xml_escape(b$book$font)))
}

look_border <- function(b, look) {
  side <- function(name, which) {
    kind <- if (is.null(which)) NA else if (which == "spanner") "thin" else
      workbook_rules[[b$look$rules[[which]] %||% "thin"]]
    if (is.na(kind)) return(sprintf("<%s/>", name))
    sprintf("<%1$s style=\"%2$s\"><color rgb=\"%3$s\"/></%1$s>", name, kind,
            look_colour(b, "rule"))
  }
  part_number(b$book, "borders",
              sprintf("<border><left/><right/>%s%s<diagonal/></border>",
                      side("top", look$top), side("bottom", look$bottom)))
}

# ---- sheets and the whole ----

# What was gathered of a sheet, with the numbers of its styles (`styled`: row,
# column, style), as XML.
finish_sheet <- function(b, name, styled) {
  sheet <- sheet_named(b$book, name)
  cells <- cells_in_order(sheet$cells, styled)
  text <- cells$kind == "s"
  cells$value[text] <- string_numbers(b$book, visible(cells$value[text]))
  sheet$xml <- sheet_xml(sheet, rows_xml(sheet, cells))
  if (nzchar(sheet$filter))
    define_name(b, name, "_FilterDatabase", sheet$filter, hidden = TRUE)
  sheet$cells <- list()
}

# Of every place what was put there last, and those that only have a look.
cells_in_order <- function(put, styled) {
  part_of <- function(name, none) c(none, unlist(lapply(put, `[[`, name)))
  cells <- list(row = part_of("row", integer()), column = part_of("column", integer()),
                kind = part_of("kind", character()), value = part_of("value", character()))
  cells <- lapply(cells, `[`, !duplicated(cell_place(cells), fromLast = TRUE))
  bare <- !cell_place(styled) %in% cell_place(cells)
  none <- rep("", sum(bare))
  cells <- Map(c, cells, list(styled$row[bare], styled$column[bare], none, none))
  cells$style <- styled$style[match(cell_place(cells), cell_place(styled))]
  lapply(cells, `[`, order(cells$row, cells$column))
}

# A number for the place of every cell on its sheet.
cell_place <- function(cells) cells$row * 20000 + cells$column

rows_xml <- function(sheet, cells) {
  rows <- sort(unique(c(cells$row, as.integer(names(sheet$heights)))))
  content <- rep("", length(rows))
  content[match(unique(cells$row), rows)] <-
    sheet_rows_kernel(cells$row, cells$column, column_letters(seq_len(max(0L, cells$column))),
                      cells$kind, cells$value, cells$style)
  height <- unlist(sheet$heights)[as.character(rows)]
  paste0("<row r=\"", rows, "\"",
         ifelse(is.na(height) | !length(height), "",
                paste0(" ht=\"", height, "\" customHeight=\"1\"")), ">",
         content, "</row>")
}

sheet_xml <- function(sheet, rows) {
  widths <- if (length(sheet$widths))
    sprintf("<col min=\"%1$d\" max=\"%1$d\" width=\"%2$s\" customWidth=\"1\"/>",
            seq_along(sheet$widths),
            format(sheet$widths, digits = 6L, trim = TRUE))
  some <- function(open, inside, close) {
    if (length(inside)) c(open, inside, close)
  }
  paste(c(
    xml_head, "<worksheet xmlns=\"", sheet_space,
    "\"><sheetPr><pageSetUpPr fitToPage=\"1\"/></sheetPr><sheetViews>",
    sprintf("<sheetView%s workbookViewId=\"0\">",
            if (sheet$grid) "" else " showGridLines=\"0\""), sheet$pane,
    "</sheetView></sheetViews><sheetFormatPr defaultRowHeight=\"15\"/>",
    some("<cols>", widths, "</cols>"),
    "<sheetData>",
    rows, "</sheetData>",
    if (nzchar(sheet$filter))
      sprintf("<autoFilter ref=\"%s\"/>",
              gsub("$", "", sheet$filter, fixed = TRUE)),
    some(sprintf("<mergeCells count=\"%d\">", length(sheet$merges)),
         sprintf("<mergeCell ref=\"%s\"/>", sheet$merges), "</mergeCells>"),
    paste("<pageMargins left=\"0.7\" right=\"0.7\" top=\"0.75\"",
          "bottom=\"0.75\" header=\"0.3\" footer=\"0.3\"/>"), sheet$page,
    "</worksheet>"), collapse = "")
}

# Texts are kept once for the whole book.
string_numbers <- function(book, text) {
  book$strings <- c(book$strings, setdiff(text, book$strings))
  match(text, book$strings) - 1L
}

xml_head <- "<?xml version=\"1.0\" encoding=\"UTF-8\" standalone=\"yes\"?>\n"
sheet_space <- "http://schemas.openxmlformats.org/spreadsheetml/2006/main"
package_space <- "http://schemas.openxmlformats.org/package/2006"
office_types <- "application/vnd.openxmlformats-officedocument.spreadsheetml"

# `further` adds parts to the opened package.
save_spreadsheet <- function(book, file, further = function(folder) NULL) {
  folder <- tempfile("workbook-")
  on.exit(unlink(folder, recursive = TRUE))
  for (part in c("_rels", "docProps", "xl/_rels", "xl/worksheets")) dir.create(
    file.path(folder, part), recursive = TRUE)
  write <- function(path, ...) {
    write_whole(paste(c(xml_head, ...), collapse = ""), file.path(folder, path))
  }
  at <- seq_along(book$sheets)
  relation <- function(id, kind, target) {
    sprintf("<Relationship Id=\"%s\" Type=\"%s\" Target=\"%s\"/>", id, kind,
            target)
  }
  relations <- function(...) {
    c("<Relationships xmlns=\"", package_space, "/relationships\">", ...,
      "</Relationships>")
  }
  part <- function(name, type) {
    sprintf("<Override PartName=\"%s\" ContentType=\"%s\"/>", name, type)
  }
  write("[Content_Types].xml", "<Types xmlns=\"", package_space,
        "/content-types\">",
        "<Default Extension=\"rels\" ContentType=\"application/vnd.openxmlformats-package.relationships+xml\"/>",
        "<Default Extension=\"xml\" ContentType=\"application/xml\"/>",
        part("/xl/workbook.xml", paste0(office_types, ".sheet.main+xml")),
        part(sprintf("/xl/worksheets/sheet%d.xml", at),
             paste0(office_types, ".worksheet+xml")),
        part("/xl/styles.xml", paste0(office_types, ".styles+xml")),
        part("/xl/sharedStrings.xml",
             paste0(office_types, ".sharedStrings+xml")),
        part("/docProps/core.xml",
             "application/vnd.openxmlformats-package.core-properties+xml"),
        "</Types>")
  write("_rels/.rels",
        relations(relation("rId1", paste0(office_relations, "/officeDocument"),
                           "xl/workbook.xml"),
                  relation("rId2",
                           paste0(package_space,
                                  "/relationships/metadata/core-properties"),
                           "docProps/core.xml")))
  write("docProps/core.xml", "<cp:coreProperties xmlns:cp=\"", package_space,
        "/metadata/core-properties\" ",
        paste("xmlns:dc=\"http://purl.org/dc/elements/1.1/\"",
              "xmlns:dcterms=\"http://purl.org/dc/terms/\" "),
        "xmlns:xsi=\"http://www.w3.org/2001/XMLSchema-instance\"><dc:creator>Fair Lattice</dc:creator>",
        sprintf("<dcterms:created xsi:type=\"dcterms:W3CDTF\">%s</dcterms:created></cp:coreProperties>",
                format(Sys.time(), "%Y-%m-%dT%H:%M:%SZ", tz = "UTC")))
  last <- length(at)
  write("xl/_rels/workbook.xml.rels",
        relations(
          relation(paste0("rId", at), paste0(office_relations, "/worksheet"),
                   sprintf("worksheets/sheet%d.xml", at)),
          relation(paste0("rId", last + 1L),
                   paste0(office_relations, "/styles"), "styles.xml"),
          relation(paste0("rId", last + 2L),
                   paste0(office_relations, "/sharedStrings"),
                   "sharedStrings.xml")))
  write("xl/workbook.xml", "<workbook xmlns=\"", sheet_space, "\" xmlns:r=\"",
        office_relations, "\"><bookViews>",
        sprintf("<workbookView activeTab=\"%d\"/></bookViews><sheets>",
                book$active - 1L),
        sprintf("<sheet name=\"%s\" sheetId=\"%d\" r:id=\"rId%d\"/>",
                xml_escape(names(book$sheets)), at, at), "</sheets>",
        if (length(book$defined))
          c("<definedNames>", book$defined, "</definedNames>"),
        "<calcPr calcId=\"0\" fullCalcOnLoad=\"1\"/></workbook>")
  write("xl/styles.xml", styles_xml(book))
  write("xl/sharedStrings.xml",
        sprintf("<sst xmlns=\"%s\" uniqueCount=\"%d\">", sheet_space,
                length(book$strings)),
        paste0("<si><t xml:space=\"preserve\">", xml_bare(book$strings),
               "</t></si>", recycle0 = TRUE), "</sst>")
  for (k in at) write_whole(book$sheets[[k]]$xml,
                            file.path(folder, "xl", "worksheets",
                                      sprintf("sheet%d.xml", k)))
  further(folder)
  packed(folder, file)
}

styles_xml <- function(book) {
  listed <- function(name, parts) {
    c(sprintf("<%s count=\"%d\">", name, length(parts)), parts,
      sprintf("</%s>", name))
  }
  c("<styleSheet xmlns=\"", sheet_space, "\">",
    if (length(book$numFmts))
      listed("numFmts",
             sprintf("<numFmt numFmtId=\"%d\" formatCode=\"%s\"/>",
                     163L + seq_along(book$numFmts), xml_bare(book$numFmts))),
    listed("fonts", book$fonts), listed("fills", book$fills),
    listed("borders", book$borders),
    paste("<cellStyleXfs count=\"1\"><xf numFmtId=\"0\" fontId=\"0\"",
          "fillId=\"0\" borderId=\"0\"/></cellStyleXfs>"),
    listed("cellXfs", book$xfs),
    paste("<cellStyles count=\"1\"><cellStyle name=\"Normal\" xfId=\"0\"",
          "builtinId=\"0\"/></cellStyles></styleSheet>"))
}
