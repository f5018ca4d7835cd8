# Tables that come back from what was written, and results in every form.

list2env(written_golden(), environment())

test_that("tables come back from every form that carries them, and results with them", {
  x <- golden_crosstab()
  one <- crosstab(demo_survey(), internet, leave, each = island)
  wanted <- c(json_of(x), json_of(one))
  for (ending in c("json", "html", "docx", "xlsx", "pptx")) {
    path <- file.path(folder, paste0("back.", ending))
    publish(list(x, residuals(x), write_up(x, "full"), one, pooled(one)), path,
            figure = "none")
    back <- read_tables(path)
    expect_length(back, 5L)
    expect_identical(lapply(back[c(1, 4)], format, width = 90),
                     lapply(list(x, one), format, width = 90), info = ending)
    expect_equal(as.data.frame(back[[2]])$adjusted_residual,
                 as.data.frame(residuals(x))$adjusted_residual)
    expect_identical(back[[3]], write_up(x, "full"))
    expect_equal(back[[5]]$p, pooled(one)$tests$p)
    expect_error(residuals(back[[1]], correction = "bonferroni"),
                 "cannot be worked out anew")
  }
  for (ending in c("html", "docx", "xlsx", "pptx")) {
    path <- file.path(folder, paste0("held.", ending))
    publish(golden$withheld, path, figure = "none")
    expect_error(read_tables(path), "holds no tables as data",
                 class = "fairlattice_error_not_a_table")
  }
  writeLines("<html></html>", path <- file.path(folder, "other.html"))
  expect_error(read_tables(path), "holds no tables as data",
               class = "fairlattice_error_not_a_table")
})

test_that("results stand in every form that is for reading", {
  x <- crosstab(respondents(demo_records()), leave, tenure)
  asked <-
    list(x, tests(x), residuals(x), risks(x), working(x), write_up(x, "full"))
  look_at <- look(demo_records(), tenure)
  for (ending in c("html", "docx", "md", "txt", "tex", "mail.html")) {
    path <- file.path(folder, paste0("results.", ending))
    publish(c(asked,
              list(test_shares(demo_survey(), leave, c(Yes = 40, No = 60)),
                   look_at)), path, figure = "none")
    text <- if (ending == "docx")
      xml2::xml_text(part_of(path, "word/document.xml")) else
      paste(readLines(path, encoding = "UTF-8"), collapse = " ")
    text <- gsub("[\\s\u00a0\\\\~]+", "", text, perl = TRUE)
    for (piece in c("Pearson chi-square", "Where is it?", "odds ratio",
                    "Their sum is the statistic", "The test was chosen",
                    "Owned outright", "Against known shares")) expect_true(
      grepl(gsub(" ", "", piece), text, fixed = TRUE),
      info = paste(ending, piece))
  }
  path <- file.path(folder, "results.xlsx")
  publish(asked, path)
  skip_if_not_installed("readxl")
  names <- readxl::excel_sheets(path)
  cells <- as.data.frame(readxl::read_excel(
                           path, grep("Where is it", names, value = TRUE),
                           skip = 2))
  expect_equal(cells$adjusted_residual[1:10],
               as.data.frame(residuals(x))$adjusted_residual, tolerance = 1e-12)
})

test_that("the example report is knitted, and its tables are real ones", {
  skip_if_not_installed("rmarkdown")
  skip_if_not(rmarkdown::pandoc_available(), "there is no pandoc here")
  source <- file.path(folder, "veyra-report.Rmd")
  file.copy(system.file("report", "veyra-report.Rmd", package = "fairlattice",
                        mustWork = TRUE), source)
  word <- rmarkdown::render(source, "word_document", quiet = TRUE)
  document <- part_of(word, "word/document.xml")
  expect_length(xml2::xml_find_all(document, "//tbl"), 3L)
  cells <- xml2::xml_text(xml2::xml_find_all(document, "//tc"))
  expect_true(all(c("49.1", "+", "District heating") %in% cells))
  html <-
    xml2::read_html(rmarkdown::render(source, "html_document", quiet = TRUE))
  expect_length(xml2::xml_find_all(html, "//table"), 3L)
  expect_length(xml2::xml_find_all(html, "//pre"), 0L)
  expect_identical(xml2::xml_text(xml2::xml_find_all(html, "//caption"))[1],
                   "Main heating by Island")
})

test_that("what R's own generics give is what the table holds", {
  x <- golden_crosstab()
  counts <- as.table(x)
  expect_s3_class(counts, "table")
  expect_identical(dim(x), dim(counts))
  expect_identical(names(dimnames(x)), c("heating", "island"))
  expect_equal(sum(counts), x$layers[[1]]$base$n)
  expect_identical(x["Oil", "Tarn"], counts["Oil", "Tarn"])
  expect_equal(colSums(as.matrix(x, "column_percent")),
               c(Norrey = 100, Sandholm = 100, `Harrow Skerry` = 100,
                 Tarn = 100, `Outer Veyra` = 100))
  expect_identical(dim(crosstab(demo_survey(), internet, leave, each = island)),
                   c(4L, 2L, 5L))
  expect_error(as.matrix(x, "percent"), "column_percent",
               class = "fairlattice_error_choice")
  expect_true(any(grepl("Rao-Scott", format(summary(x)))))
  expect_s3_class(withr::with_pdf(NULL, plot(x)), "ggplot")
})

test_that("a table that came back has all its measures, and shows those that it showed", {
  x <- crosstab(demo_records(), ferry, tenure)
  file <- withr::local_tempfile(fileext = ".json")
  publish(x, file)
  back <- read_tables(file)
  expect_identical(strength(back)$measure, strength(x)$measure)
  expect_setequal(strength(back, "all")$measure, strength(x, "all")$measure)
  expect_gt(nrow(strength(back, "all")), nrow(strength(back)))
})

test_that("labels of a page are given 24 letters before they wrap, or as many as are asked for", {
  data <- demo_records(60)
  levels(data$leave) <- paste(levels(data$leave), strrep("and so on ", 5))
  page <- withr::local_tempfile(fileext = ".html")
  stub <- function(...) {
    publish(lay_out(crosstab(data, leave, mode), ...), page)
    text <- paste(readLines(page), collapse = "\n")
    regmatches(text, regexpr("--stub: [0-9]+ch", text))
  }
  expect_identical(stub(), "--stub: 24ch")
  expect_identical(stub(wrap = 12), "--stub: 12ch")
})
