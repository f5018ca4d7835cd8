# Word: the golden sheets read back by another program, styles and templates.

list2env(written_golden(), environment())

test_that("a Word document holds every sheet, also as another program reads it", {
  path <- book_as("docx")
  expect_sheets(word_tables(path), sheets, TRUE, "docx")
  text <- xml2::xml_text(part_of(path, "word/document.xml"))
  for (sheet in sheets) for (line in c(sheet$title, sheet$key, sheet$tests,
                                       sheet$account)) expect_true(
    grepl(bare(line), bare(text), fixed = TRUE), info = line)
  skip_if_not(has_program("soffice"), "there is no office suite here")
  html <- xml2::read_html(by_office(path, "html", folder))
  office <- lapply(html_tables(html, heads = 1L), function(table) {
    rbind(table$head, table$body)
  })
  own <- lapply(word_tables(path), function(table) table$body)
  office <-
    Map(function(found, wanted) utils::tail(found, nrow(wanted)), office, own)
  expect_identical(lapply(office, function(M) bare(as.vector(M))),
                   lapply(own, function(M) bare(as.vector(M))))
})

test_that("a document is made of named styles, and a template has its way with them", {
  x <- golden$banner
  path <- withr::local_tempfile(fileext = ".docx")
  publish(list(x, golden$nets_means_letters, golden$two_by_two), path,
          figure = "none")
  document <- part_of(path, "word/document.xml")
  count <- function(what) length(xml2::xml_find_all(document, what))
  # no look of its own: fonts, colours, borders and shades are those of styles; a
  # marked cell is filled with the shade that its style has
  expect_identical(count(paste("//rFonts | //color | //b | //rPr/shd |",
                               "//tcBorders | //pBdr | //jc")), 0L)
  # but that a table which would turn its page is made smaller, to 8 points at least
  sizes <- as.numeric(xml2::xml_attr(xml2::xml_find_all(document, "//sz"), "val"))
  expect_true(all(sizes %in% 16:17))
  expect_setequal(xml2::xml_attr(xml2::xml_find_all(document, "//tcPr/shd"), "fill"),
                  c("DCEEF1", "F6E7D3"))
  styles <- part_of(path, "word/styles.xml")
  used <- unique(xml2::xml_attr(xml2::xml_find_all(
                                  document, "//pStyle | //rStyle | //tblStyle"),
                                "val"))
  expect_true(all(used %in%
                    xml2::xml_attr(xml2::xml_find_all(styles, "//style"),
                                   "styleId")))
  # captions are counted by Word, heads are repeated, rows are whole, and there
  # is a list of all tables
  expect_gte(sum(grepl("SEQ Table",
                       xml2::xml_text(xml2::xml_find_all(
                                        document, "//instrText")))), 3L)
  expect_true(any(grepl("TOC .*Table",
                        xml2::xml_text(xml2::xml_find_all(
                          document, "//instrText")))))
  expect_identical(count("//tr[not(trPr/cantSplit)]"), 0L)
  expect_true(all(vapply(xml2::xml_find_all(document, "//tbl"), function(table) {
    length(xml2::xml_find_all(table, "./tr/trPr/tblHeader")) > 0L
  }, NA)))
  expect_true(all(nzchar(xml2::xml_attr(xml2::xml_find_all(
    document, "//tblCaption"), "val"))))
  # the banner lies across, what follows stands upright again
  turned <-
    xml2::xml_attr(xml2::xml_find_all(document, "//sectPr/pgSz"), "orient")
  expect_true("landscape" %in% turned && is.na(turned[length(turned)]))
  # a house's template: its styles stay, those that it lacks are added
  house <- withr::local_tempfile(fileext = ".docx")
  base <- fairlattice:::unpacked(
    system.file("templates", "plain.docx", package = "fairlattice"))
  fairlattice:::edit_part(file.path(base, "word", "styles.xml"), function(text) {
    text <- sub("<w:style [^>]*w:styleId=\"TableNote\".*?</w:style>", "", text,
                perl = TRUE)
    sub("(<w:name w:val=\"Table Figure\"/>.*?)<w:sz w:val=\"18\"/>",
        "\\1<w:sz w:val=\"44\"/>", gsub("TableFigure", "Figures", text),
        perl = TRUE)
  })
  fairlattice:::packed(base, house)
  publish(golden$two_by_two, path, figure = "none", template = house)
  styles <- part_of(path, "word/styles.xml")
  of <- function(name) {
    xml2::xml_find_all(styles, sprintf("//style[name/@val='%s']", name))
  }
  expect_identical(xml2::xml_attr(xml2::xml_find_first(
                                    of("Table Figure"), ".//sz"), "val"), "44")
  expect_length(of("Table Note"), 1L)
  document <- part_of(path, "word/document.xml")
  expect_true("Figures" %in%
                xml2::xml_attr(xml2::xml_find_all(document, "//pStyle"), "val"))
  expect_error(publish(x, path, template = "nothing.docx"), "no template",
               class = "fairlattice_error_template")
  expect_error(publish(x, path, template = demo_file("house.yml")),
               "does not end in .docx", fixed = TRUE,
               class = "fairlattice_error_template")
  expect_error(publish(x, tempfile(fileext = ".md"), template = house),
               "is for .docx", fixed = TRUE, class = "fairlattice_error_format")
  # fonts, colours and rules of a house style reach the styles
  styled <- lay_out(golden$two_by_two,
                    style = house_style(fonts = list(
                      text = "Georgia, serif", size = 12),
                                        colours = list(more = "#00FF00"),
                                        rules = list(head = "double")))
  publish(styled, path, figure = "none")
  text <- as.character(part_of(path, "word/styles.xml"))
  for (piece in c("Georgia", "00FF00", "<bottom val=\"double\"",
                  "<sz val=\"24\"")) expect_true(
    grepl(piece, text, fixed = TRUE), info = piece)
})

test_that("a table that fits a page stays on one, a longer one breaks between its groups", {
  rows_of <- function(x) {
    path <- withr::local_tempfile(fileext = ".docx")
    publish(x, path, figure = "none")
    document <- part_of(path, "word/document.xml")
    rows <- xml2::xml_find_all(document, "//tbl/tr")
    vapply(rows, function(row) length(xml2::xml_find_all(row, ".//pPr/keepNext")) > 0L, NA)
  }
  survey <- demo_survey()
  expect_true(all(rows_of(crosstab(survey, heating, island))))
  long <- crosstab(survey, c(ferry, heating, season, work, household), island)
  kept <- rows_of(long)
  expect_false(all(kept))
  # every question begins with its heading, which stays with its first answers
  sheet <- fairlattice:::sheets_of(long)[[1]]
  heads <- length(kept) - nrow(sheet$stub)
  expect_true(all(kept[heads + which(sheet$stub$role == "heading")]))
  # nothing is counted before Word has opened it, so no page numbers stand there
  path <- withr::local_tempfile(fileext = ".docx")
  publish(list(crosstab(survey, ferry, island), crosstab(survey, heating, island)), path)
  codes <- xml2::xml_text(xml2::xml_find_all(part_of(path, "word/document.xml"), "//instrText"))
  expect_false(any(grepl("PAGEREF", codes)))
})

test_that("a house says how small a table may become before its page is turned", {
  across <- function(smallest) {
    x <- crosstab(demo_survey(), ferry, c(leave, mode))
    style <- withr::local_tempfile(lines = c("fonts:", sprintf("  smallest: %s", smallest)),
                                   fileext = ".yml")
    path <- withr::local_tempfile(fileext = ".docx")
    publish(lay_out(x, style = style, show = c("column", "n", "interval"), stack = "beside",
                    bases = character()), path, figure = "none")
    document <- part_of(path, "word/document.xml")
    c(turned = any(xml2::xml_attr(xml2::xml_find_all(document, "//pgSz"), "orient") %in%
                     "landscape"),
      least = min(as.numeric(xml2::xml_attr(xml2::xml_find_all(document, "//sz"), "val")), 99))
  }
  expect_gte(across(8)[["least"]], 16)
  expect_identical(across(9)[["least"]], 99)
})

test_that("a wide table goes on under itself, and its last piece stays with its lines", {
  x <- crosstab(demo_survey(), ferry, c(island, tenure, household, season))
  path <- withr::local_tempfile(fileext = ".docx")
  publish(x, path, figure = "none")
  tables <- xml2::xml_find_all(part_of(path, "word/document.xml"), "//tbl")
  expect_gt(length(tables), 1L)
  kept <- vapply(tables, function(table) {
    rows <- xml2::xml_find_all(table, "./tr")
    length(xml2::xml_find_all(rows[[length(rows)]], ".//keepNext")) > 0L
  }, NA)
  expect_identical(kept, seq_along(kept) == length(kept))
})
