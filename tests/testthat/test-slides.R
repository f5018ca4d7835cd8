# Slides: the golden sheets read back by another program, and a house's
# presentation.

list2env(written_golden(), environment())

test_that("slides hold every sheet, and charts whose figures can be edited", {
  path <- book_as("pptx")
  expect_sheets(joined_lines(slide_tables(path)), sheets, FALSE, "pptx")
  x <- crosstab(demo_survey(), leave, mode)
  path <- file.path(folder, "chart.pptx")
  publish(x, path)
  parts <- utils::unzip(path, list = TRUE)$Name
  chart <- part_of(path, grep("charts/[^/]*xml$", parts, value = TRUE))
  share <- as.matrix(x, "column_percent")
  expect_equal(as.numeric(xml2::xml_text(
                            xml2::xml_find_all(chart, "//val//v"))),
               as.vector(t(share)), tolerance = 1e-12)
  expect_identical(xml2::xml_text(xml2::xml_find_all(chart, "//ser/tx//v")),
                   rownames(share))
  inside <- withr::local_tempdir()
  utils::unzip(path, grep("embeddings", parts, value = TRUE), exdir = inside)
  typed <- openxlsx::read.xlsx(
    list.files(inside, "xlsx$", recursive = TRUE, full.names = TRUE))
  expect_equal(unname(as.matrix(typed[-1])), unname(t(share)),
               tolerance = 1e-12)
  notes <- xml2::xml_text(part_of(path,
                                  grep("notesSlides/notesSlide1.xml$", parts,
                                       value = TRUE)))
  expect_true(grepl("differs by Way of answering: F(", notes, fixed = TRUE))
  skip_if_not(has_program("soffice"), "there is no office suite here")
  book <- file.path(folder, "book.pptx")
  own <-
    lapply(slide_tables(book), function(table) rbind(table$head, table$body))
  office <- Map(function(rows, table) unlist(utils::tail(rows, nrow(table))),
                slides_by_office(by_office(book, "fodp", folder)), own)
  expect_identical(office,
                   lapply(own, function(table) bare(as.vector(t(table)))))
})

test_that("slides take a house's presentation, and say what it lacks", {
  house <- withr::local_tempfile(fileext = ".pptx")
  utils::capture.output(print(officer::read_pptx(), target = house))
  path <- withr::local_tempfile(fileext = ".pptx")
  publish(golden$two_by_two, path, template = house)
  expect_equal(unlist(officer::slide_size(officer::read_pptx(path))),
               c(width = 10, height = 7.5))
  expect_sheets(joined_lines(slide_tables(path)), golden$two_by_two, FALSE,
                "template")
  folder <- fairlattice:::unpacked(house)
  fairlattice:::edit_part(file.path(folder, "ppt", "slideLayouts",
                                    "slideLayout6.xml"), function(text) {
                                      gsub(
                                        "type=\"title\"",
                                        "type=\"body\" idx=\"9\"", text)
                                    })
  fairlattice:::packed(folder, house)
  expect_error(publish(golden$two_by_two, path, template = house),
               "no layout with a title alone",
               class = "fairlattice_error_template")
  expect_error(publish(golden$two_by_two, path,
                       template = withr::local_tempfile(
                         lines = "x", fileext = ".pptx")),
               "cannot be read as a template",
               class = "fairlattice_error_template")
  # a part that would be written elsewhere
  outside <- withr::local_tempdir()
  dir.create(file.path(outside, "in"))
  writeLines("x", file.path(outside, "evil.xml"))
  suppressWarnings(withr::with_dir(file.path(outside, "in"),
                                   zip::zip(
                                     house, "../evil.xml", mode = "mirror")))
  expect_error(publish(golden$two_by_two, path, template = house), "template",
               class = "fairlattice_error_template")
  expect_error(publish(data.frame(a = "x"), path), "crosstab()", fixed = TRUE,
               class = "fairlattice_error")
})
