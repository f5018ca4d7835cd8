# The named styles of a Word document: those of the plain template, in the
# fonts, colours and rules of a house style, and in a house's own template those
# that it lacks.

word_space <- c(w = "http://schemas.openxmlformats.org/wordprocessingml/2006/main")

# The template as a folder with every style that is needed, and the ids of the
# styles by their names.
word_template <- function(template, style, call) {
  plain <- unpacked(plain_document())
  own <- file.path(plain, "word", "styles.xml")
  write_whole(in_house_look(part_text(own), style), own)
  if (is.null(template)) return(list(folder = plain, ids = style_ids(xml2::read_xml(own))))
  on.exit(unlink(plain, recursive = TRUE))
  folder <- template_folder(template, "docx", call)
  styles <- file.path(folder, "word", "styles.xml")
  list(folder = folder, ids = with_styles(styles, xml2::read_xml(own)))
}

plain_document <- function() {
  system.file("templates", "plain.docx", package = "fairlattice", mustWork = TRUE)
}

style_ids <- function(styles) {
  found <- xml2::xml_find_all(styles, "//w:style", word_space)
  called <- xml2::xml_find_first(found, "w:name", word_space)
  stats::setNames(xml2::xml_attr(found, "styleId"), xml2::xml_attr(called, "val"))
}

# Adds to a template's styles those that it does not define, by name; what they
# are based on is found by name too.
with_styles <- function(file, plain) {
  styles <- xml2::read_xml(file)
  known <- style_ids(styles)
  names(known) <- tolower(names(known))
  ours <- style_ids(plain)
  names_of <- stats::setNames(names(ours), ours)
  here <- known[tolower(names(ours))]
  ids <- stats::setNames(ifelse(is.na(here), ours, here), names(ours))
  for (node in xml2::xml_find_all(plain, "//w:style", word_space)) {
    id <- xml2::xml_attr(node, "styleId")
    if (!is.na(known[tolower(names_of[[id]])])) next
    added <- xml2::xml_add_child(styles, node)
    for (kind in c("w:basedOn", "w:next")) {
      link <- xml2::xml_find_first(added, kind, word_space)
      if (!inherits(link, "xml_missing"))
        xml2::xml_set_attr(link, "w:val", ids[[names_of[[xml2::xml_attr(link, "val")]]]])
    }
  }
  xml2::write_xml(styles, file)
  ids
}

# What of the plain template stands for which part of a house style.
plain_colours <- c(ink = "1C1C1C", quiet = "55504A", more = "DCEEF1", fewer = "F6E7D3",
                   rule = "8D867B")
word_rules <- c(none = "nil", thin = "single", thick = "thick", double = "double")

in_house_look <- function(text, style) {
  swap <- function(from, to) text <<- gsub(from, to, text, fixed = TRUE)
  # the rules first, since their colours are those of the ink otherwise
  rules <- style$rules
  border <- "<w:%s w:val=\"single\" w:sz=\"8\" w:space=\"%d\" w:color=\"1C1C1C\"/>"
  sides <- list(head = c("bottom", 1L), foot = c("top", 1L))
  ink <- hex_of(style$colours$rule) %||% "1C1C1C"
  for (name in names(sides)) {
    rule <- rules[[name]] %||% "plain"
    swap(sprintf(border, sides[[name]][1L], 1L), word_border(sides[[name]][1L], rule, ink))
  }
  swap(sprintf(border, "bottom", 0L), paste0(
    word_border("bottom", rules$foot %||% "plain", ink),
    if ((rules$rows %||% "none") != "none") word_border("insideH", rules$rows,
                                                        hex_of(style$colours$rule) %||% "D9D4CB")))
  for (name in intersect(names(plain_colours), names(style$colours)))
    swap(sprintf("\"%s\"", plain_colours[[name]]), sprintf("\"%s\"", hex_of(style$colours[[name]])))
  if (!is.null(style$fonts$title)) { # titles and headings
    for (name in c("Title", "heading 1", "heading 2", "heading 3", "caption")) {
      # a backslash is one
      font <- gsub("\\", "\\\\", xml_escape(first_font(style$fonts$title)), fixed = TRUE)
      text <- sub(sprintf("(<w:name w:val=\"%s\"/>.*?<w:rPr>)", name),
                  sprintf("\\1<w:rFonts w:ascii=\"%1$s\" w:hAnsi=\"%1$s\" w:cs=\"%1$s\"/>", font), text, perl = TRUE)
    }
  }
  if (!is.null(style$fonts$text))
    swap("\"Arial\"", sprintf("\"%s\"", xml_escape(first_font(style$fonts$text))))
  if (!is.null(style$fonts$size)) # of the text, and of tables, which are a little smaller
    for (size in c(20, 18, 16))
      swap(sprintf("w:val=\"%d\"", size),
           sprintf("w:val=\"%d\"", as.integer(round(style$fonts$size * size / 10))))
  if (identical(setting("language"), "de")) swap("w:val=\"en-GB\"", "w:val=\"de-DE\"")
  text
}

word_border <- function(side, rule, colour) {
  size <- c(plain = 8L, none = 0L, thin = 4L, thick = 16L, double = 6L)[[rule]]
  kind <- c(word_rules, plain = "single")[[rule]]
  sprintf("<w:%s w:val=\"%s\" w:sz=\"%d\" w:space=\"%d\" w:color=\"%s\"/>", side, kind, size,
          if (side == "insideH") 0L else 1L, colour)
}

# ---- the same looks written out ----
# For documents that have other styles, such as those that pandoc makes.


# What the styles of the plain template say, with what they are based on: for
# every name the parts of a paragraph and of a run, by the name of the part.
written_looks <- function() {
  folder <- unpacked(plain_document())
  on.exit(unlink(folder, recursive = TRUE))
  styles <- xml2::read_xml(file.path(folder, "word", "styles.xml"))
  nodes <- xml2::xml_find_all(styles, "//w:style", word_space)
  ids <- xml2::xml_attr(nodes, "styleId")
  parts_in <- function(node, of) {
    found <- xml2::xml_children(xml2::xml_find_first(node, of, word_space))
    stats::setNames(as.character(found), xml2::xml_name(found))
  }
  all_parts <- function(node, of) {
    base <- xml2::xml_attr(xml2::xml_find_first(node, "w:basedOn", word_space), "val")
    below <- if (!is.na(base) && base != "Normal")
      all_parts(nodes[[match(base, ids)]], of) else character()
    own <- parts_in(node, of)
    c(below[setdiff(names(below), names(own))], own)
  }
  names <- xml2::xml_attr(xml2::xml_find_first(nodes, "w:name", word_space), "val")
  looks <- lapply(nodes, function(node) {
    list(paragraph = all_parts(node, "w:pPr"), run = all_parts(node, "w:rPr"))
  })
  stats::setNames(looks, names)
}

# What the table style says.
crosstab_borders <- paste0("<w:tblBorders><w:bottom w:val=\"single\" w:sz=\"8\" w:space=\"0\" w:color=\"1C1C1C\"/>",
                           "</w:tblBorders>")
crosstab_margins <- "<w:tblCellMar><w:left w:w=\"0\" w:type=\"dxa\"/><w:right w:w=\"0\" w:type=\"dxa\"/></w:tblCellMar>"

# The order that the format asks for.
paragraph_parts <- c("keepNext", "keepLines", "pBdr", "tabs", "spacing", "ind", "jc", "outlineLvl")
run_parts <- c("b", "color", "sz", "szCs", "shd")

in_order <- function(parts, order) paste(parts[order(match(names(parts), order))], collapse = "")

# Where the look of a run will stand once its paragraph is known: no text has a
# line break in it.
look_mark <- function(style) paste0("\r", ifelse(is.na(style), "", style), "\r")

paragraph_with_looks <- function(looks, style, runs) {
  style <- rep_len(style, length(runs))
  for (one in unique(style)) {
    here <- style == one
    own <- looks[[one]]$run
    run_look <- function(more) {
      sprintf("<w:rPr>%s</w:rPr>",
              in_order(c(own[setdiff(names(own), names(more))], more), run_parts))
    }
    for (mark in unique(unlist(regmatches(runs[here], gregexpr("\r[^\r]*\r", runs[here]))))) {
      more <- if (mark != "\r\r") looks[[gsub("\r", "", mark)]]$run
      runs[here] <- gsub(mark, run_look(more), runs[here], fixed = TRUE)
    }
    # an empty paragraph, too, is as high as its letters
    runs[here] <- paste0("<w:p><w:pPr>", in_order(looks[[one]]$paragraph, paragraph_parts),
                         run_look(NULL), "</w:pPr>",
                         runs[here], "</w:p>")
  }
  runs
}
