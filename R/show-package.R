# The zipped packages of office programs (documents, workbooks, slides): opened
# as folders, changed, closed again; and the tables that travel in them as data.

unpacked <- function(path) {
  folder <- tempfile("package-")
  utils::unzip(path, exdir = folder)
  folder
}

# The list of contents comes first, as office programs expect it.
packed <- function(folder, path) {
  path <- file.path(normalizePath(dirname(path)), basename(path))
  was <- setwd(folder)
  on.exit(setwd(was))
  parts <- list.files(recursive = TRUE, all.files = TRUE)
  file <- tempfile(fileext = ".zip")
  zip::zip(file, union(intersect("[Content_Types].xml", parts), parts),
           mode = "mirror", compression_level = 3)
  if (!file.copy(file, path, overwrite = TRUE)) stop("it was cut short")
  unlink(file)
}

# Changes the text of a part of an opened package.
edit_part <- function(path, edit) write_whole(edit(part_text(path)), path)

part_text <- function(path) {
  paste(readLines(path, encoding = "UTF-8", warn = FALSE), collapse = "\n")
}

# Text as the content of an XML element or attribute; of what a person reads
# what cannot be seen is written out.
xml_escape <- function(x) xml_bare(visible(as.character(x)))

# JSON as the content of an element: what is no character of XML stands as an
# escape.
xml_json <- function(json) xml_text_kernel(json, TRUE)

xml_bare <- function(x) xml_text_kernel(as.character(x), FALSE)

# A template of the right kind, as a folder.
template_folder <- function(template, ending, call) {
  bad <- function(...) {
    stop_input(c(...), "template", path = template, call = call)
  }
  if (!one_text(template))
    bad(tells("template_one_path_not", quote_value(template)))
  if (!file.exists(template) || dir.exists(template))
    bad(tells("no_template", template))
  if (file_ending(template) != ending)
    bad(tells("template_does_not_end", basename(template), ending),
        i = tells("file_takes_template_own_kind", ending))
  note_read(template)
  unread <- function(why) {
    bad(tells("cannot_read_template", basename(template)), x = why)
  }
  why <- function(e) {
    paste(c(e$message, e$body[names(e$body) == "x"]), collapse = " ")
  }
  folder <- tryCatch(checked_package(template, most_template, call),
                     fairlattice_error = function(e) unread(why(e)))
  absent <- Filter(function(part) !length(Sys.glob(file.path(folder, part))),
                   template_parts[[ending]])
  if (length(absent) || !file.exists(file.path(folder, "[Content_Types].xml")))
    unread(tells("holds_no_part", c(absent, "[Content_Types].xml")[1L]))
  folder
}

# What a template must hold.
template_parts <- list(
  docx = c("word/document.xml", "word/_rels/document.xml.rels",
           "word/styles.xml"),
  pptx = c("ppt/presentation.xml", "ppt/_rels/presentation.xml.rels",
           "ppt/slideMasters/*.xml", "ppt/slideLayouts/*.xml",
           "ppt/theme/*.xml", "docProps/app.xml", "docProps/core.xml"))

# Bytes that a template may unpack to.
most_template <- 100 * 2^20

# A package of somebody else's, opened as a folder: every part is whole and
# stays within the folder, all of them are no larger than `most`, and what is
# XML is well-formed and declares nothing.
checked_package <- function(path, most, call) {
  file <- basename(path)
  what <- "a document"
  bad <- function(why) stop_input(why, "file", path = path, call = call)
  inside <- zip_list(path, file, call, what)
  inside <- inside[!grepl("/$", inside$name), ]
  if (any(grepl("^/|^[A-Za-z]:|(^|[/\\\\])[.][.]([/\\\\]|$)", inside$name)))
    bad(tells("some_parts_would_lie_outside"))
  if (anyDuplicated(tolower(inside$name)))
    bad(tells("template_holds_part_twice"))
  if (sum(inside$size) > most)
    bad(tells("template_unpacks_to_more", format_count(most / 2^20)))
  folder <- tempfile("package-")
  for (k in seq_len(nrow(inside))) {
    to <- file.path(folder, inside$name[k])
    dir.create(dirname(to), recursive = TRUE, showWarnings = FALSE)
    if (inside$size[k] == 0) {
      file.create(to)
      next
    }
    part <- zip_part(path, inside[k, ], file, call, what)
    if (!file.rename(part, to)) file.copy(part, to)
    unlink(part)
    if (grepl("[.](xml|rels)$", inside$name[k]))
      xml_document(to, inside$name[k], "well-formed XML", call, doctype = FALSE)
  }
  folder
}

# ---- the tables as data, inside the package ----

tables_space <- "urn:fair-lattice:tables"

office_relations <- "http://schemas.openxmlformats.org/officeDocument/2006/relationships"

# The ids of our parts, beyond those that others take.
own_id <- function(number) sprintf("rId%d", 9000L + as.integer(number))

# Names further parts to one that uses them.
add_relations <- function(file, id, kind, target) {
  entry <- sprintf("<Relationship Id=\"%s\" Type=\"%s/%s\" Target=\"%s\"/>", id,
                   office_relations, kind, target)
  edit_part(file, function(text) {
    sub("</Relationships>",
        paste0(paste(entry, collapse = ""), "</Relationships>"), text,
        fixed = TRUE)
  })
}

# The JSON of the tables as a part of an opened package, which office programs
# keep and do not show.
add_data <- function(folder, json, main) {
  dir.create(file.path(folder, "customXml"), showWarnings = FALSE)
  part <- "customXml/fair-lattice.xml"
  write_whole(c("<?xml version=\"1.0\" encoding=\"UTF-8\"?>",
                paste0("<tables xmlns=\"", tables_space, "\">", xml_json(json), "</tables>"),
                ""), file.path(folder, part))
  add_relations(file.path(folder, dirname(main), "_rels",
                          paste0(basename(main), ".rels")), own_id(0L),
                "customXml", paste0("../", part))
}

# Opens a written package, lets it be changed, and closes it again.
reopened <- function(path, change) {
  folder <- unpacked(path)
  on.exit(unlink(folder, recursive = TRUE))
  change(folder)
  packed(folder, path)
}

# The JSON that a package holds; NULL without any.
data_in_package <- function(path, call) {
  inside <- zip_list(path, basename(path), call, "a document")
  inside <- inside[inside$name == "customXml/fair-lattice.xml", ]
  if (nrow(inside) != 1L) return(NULL)
  part <- zip_part(path, inside, basename(path), call, "a document")
  on.exit(unlink(part))
  xml2::xml_text(xml_document(part, basename(path), "a document", call))
}

# ---- a house style as office programs write it ----

# The colours of the usual look.
page_colours <- c(ink = "#1c1c1c", quiet = "#55504a", rule = "#1c1c1c",
                  more = "#dceef1", fewer = "#f6e7d3", typed = "#fff6d6")

# A colour as office programs write it.
hex_of <- function(colour) {
  if (!is.null(colour))
    toupper(paste(format(as.hexmode(grDevices::col2rgb(colour)[, 1L]),
                         width = 2L), collapse = ""))
}

# The font that is named first.
first_font <- function(fonts) {
  trimws(strsplit(fonts, ",", fixed = TRUE)[[1L]])[1L]
}
