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

test_that("a long or wide table goes on in even parts, between its groups", {
  withr::local_seed(4)
  data <- demo_records()
  data$job <- factor(sprintf("Occupation group number %02d of the list",
                             sample(27L, nrow(data), TRUE)))
  data$area <- factor(sprintf("Area %02d", sample(24L, nrow(data), TRUE)))
  path <- withr::local_tempfile(fileext = ".pptx")
  publish(list(crosstab(data, job, island), crosstab(data, heating, area)), path)
  tables <- slide_tables(path)
  long <- Filter(function(table) any(grepl("Occupation", table$body[, 1L])), tables)
  rows <- vapply(long, function(table) nrow(table$body), 0L)
  expect_gt(length(rows), 1L)
  expect_lte(diff(range(rows)), 3L)
  expect_identical(utils::tail(long[[length(long)]]$body[, 1L], 2L), c("Total", "Respondents"))
  wide <- Filter(function(table) any(grepl("Area", table$head)), tables)
  columns <- vapply(wide, function(table) ncol(table$body), 0L)
  expect_gt(length(columns), 1L)
  expect_lte(diff(range(columns)), 1L)
  # no chart of answers or bars that cannot be told apart
  expect_false(any(grepl("charts/", utils::unzip(path, list = TRUE)$Name)))
  # parts of any widths: in their order, none too wide, none more than need be
  for (k in 1:200) {
    widths <- stats::runif(sample(1:20, 1L), 1, 10)
    room <- stats::runif(1L, 10, 40)
    parts <- fairlattice:::panels_of(widths, room)
    expect_identical(unlist(parts), seq_along(widths))
    sums <- vapply(parts, function(at) sum(widths[at]), 0)
    filled <- max(fairlattice:::panels_filled(widths, room))
    if (!all(sums <= room + 1e-9) || length(parts) != filled)
      fail(paste("parts of", toString(round(widths, 2L)), "in", room))
  }
})

test_that("the test stands at the foot of a slide where its line is asked for", {
  x <- crosstab(demo_survey(), leave, mode)
  foot_of <- function(x) {
    path <- withr::local_tempfile(fileext = ".pptx")
    publish(x, path)
    paste(xml2::xml_text(part_of(path, "ppt/slides/slide1.xml")), collapse = " ")
  }
  expect_false(grepl("F(", foot_of(x), fixed = TRUE))
  asked <- foot_of(lay_out(x, lines = c("test", "strength")))
  expect_match(asked, "Has thought of leaving differs by Way of answering: Rao-Scott", fixed = TRUE)
  expect_match(asked, "F[(].*0[.]086")
})

test_that("labels of a chart are left out where a piece is too small for them, or is none", {
  chart <- list(values = matrix(c(2, 50, NA, 48), 2), bars = c("a", "b"), pieces = c("p", "q"),
                colours = c("112233", "445566"), stacked = TRUE, least = 4)
  left_out <- function(chart) {
    regmatches(chart_xml(chart), gregexpr("(?<=<c:dLbl><c:idx val=\")[0-9]+", chart_xml(chart),
                                          perl = TRUE))[[1]]
  }
  found <- left_out(chart)
  expect_identical(found, c("0", "1"))
  expect_identical(left_out(replace(chart, "stacked", FALSE)), character())
})
