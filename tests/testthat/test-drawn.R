# What is drawn, as numbers and text held against what was looked at and found right:
# where marks of a figure stand and how large it is, where things stand on slides and how
# high the rows of a workbook are, how results print at any width. Where a change is
# meant, FAIRLATTICE_WRITE_SHEETS=1 writes them anew, to be read in the difference, and
# looked at.

survey <- respondents(demo_records(900), weight = weight, stratum = island,
                      cluster = settlement)
tables <- list(
  two = crosstab(survey, ferry, island),
  each = crosstab(survey, leave, tenure, each = mode),
  alone = crosstab(survey, heating),
  ticks = crosstab(ticks(survey, why = c(reason_work, reason_housing, reason_school)), why,
                   mode),
  row = crosstab(survey, internet, leave, explains = "down"),
  # more answers than colours and shapes, long labels, panels of different columns
  many = crosstab(label_answers(band(survey, age, breaks = seq(18, 78, 5)), mode,
                                c(Web = "By a form on the web that some did not find at once")),
                  age, c(mode, leave)))

number <- function(v) paste(format(signif(v, 4), trim = TRUE), collapse = " ")

# What ggplot2 makes of a plot, layer by layer.
plot_lines <- function(plot) {
  built <- ggplot2::ggplot_build(plot)
  where <- c("PANEL", "x", "xmin", "xmax", "xend", "y", "ymin", "ymax", "yend", "label", "fill",
             "colour", "shape", "linetype")
  layers <- Map(function(layer, data) {
    told <- intersect(where, c("PANEL", names(layer$mapping), names(plot$mapping),
                               "xmin", "xmax", "ymin", "ymax"))
    fixed <- Filter(is.numeric, layer$aes_params)
    fixed <- paste(names(fixed), vapply(fixed, number, ""), collapse = "; ")
    c(paste(" ", class(layer$geom)[1], fixed, layer$show.legend),
      frame_prints(data[intersect(told, names(data))], "   "))
  }, plot$layers, built$data)
  scales <- vapply(plot$scales$scales, function(scale) {
    limits <- tryCatch(scale$limits, error = function(e) NULL)
    paste(scale$aesthetics[1], if (is.numeric(limits)) number(limits) else "")
  }, "")
  texts <- Filter(is.character, unclass(plot$labels)[c("title", "subtitle", "caption", "x", "y")])
  c(unlist(layers), paste("  scale", scales),
    paste0("  ", names(texts), " ", gsub("\n", " / ", texts)))
}

# The same of a figure of a table, with its size in inches.
figure_lines <- function(x, kind) {
  f <- figure_data(x)
  if (!is.null(figures[[kind]]$lacks(f))) return(paste(kind, "not of this table"))
  c(paste(kind, "size", number(figure_size(f, kind))), plot_lines(ggplot2::autoplot(x, kind)))
}

test_that("figures are drawn where they were", {
  skip_if_not_installed("ggplot2")
  for (name in names(tables))
    held(unlist(lapply(names(figures), function(kind) figure_lines(tables[[name]], kind))),
         "drawn", paste0("figures-", name))
  held(c(answer_colours(9, FALSE), answer_colours(5, TRUE), balance_colours(5),
         line_colours(list(), 6), point_shapes(12)), "drawn", "colours")
})

# Every number that says where something stands, part by part.
attributes_of <- function(path, parts, names) {
  folder <- withr::local_tempdir()
  utils::unzip(path, exdir = folder)
  unlist(lapply(parts, function(part) {
    text <- paste(readLines(file.path(folder, part), warn = FALSE, encoding = "UTF-8"),
                  collapse = "")
    found <- regmatches(text, gregexpr(sprintf("\\b(%s)=\"[^\"]*\"", paste(names, collapse = "|")),
                                       text))[[1]]
    c(part, strwrap(paste(found, collapse = " "), 90))
  }))
}

test_that("slides and workbooks stand where they stood", {
  skip_if_not_installed("officer")
  laid <- lay_out(tables$each, lines = "working", notes = "A note.")
  folder <- withr::local_tempdir()
  deck <- file.path(folder, "t.pptx")
  suppressMessages(publish(list(laid, tables$two, tables$alone,
                                lay_out(tables$many, lines = c("test", "strength")),
                                crosstab(survey, heating, island)), deck))
  slides <- grep("^ppt/slides/slide[0-9]+[.]xml$", utils::unzip(deck, list = TRUE)$Name,
                 value = TRUE)
  held(attributes_of(deck, sort(slides),
                     c("x", "y", "cx", "cy", "sz", "w", "h", "b", "lang", "marL", "algn",
                       "anchor")),
       "drawn", "slides")
  parts <- utils::unzip(deck, list = TRUE)$Name
  charts <- sort(grep("^ppt/charts/chart[^/]*[.]xml$", parts, value = TRUE))
  opened <- withr::local_tempdir()
  utils::unzip(deck, charts, exdir = opened)
  held(vapply(seq_along(charts), function(k) {
    print_of(readLines(file.path(opened, charts[k]), warn = FALSE, encoding = "UTF-8"))
  }, ""), "drawn", "charts")
  german <- file.path(folder, "g.pptx")
  withr::with_options(list(fairlattice.language = "de"),
                      suppressMessages(publish(tables$two, german)))
  expect_match(paste(attributes_of(german, "ppt/slides/slide1.xml", "lang"), collapse = " "),
               "de-DE")
  book <- file.path(folder, "t.xlsx")
  suppressMessages(publish(list(laid, tables$two, tables$many), book))
  sheets <- grep("^xl/(worksheets/sheet[0-9]+|styles)[.]xml$", utils::unzip(book, list = TRUE)$Name,
                 value = TRUE)
  held(attributes_of(book, sort(sheets),
                     c("ht", "width", "wrapText", "horizontal", "vertical", "textRotation",
                       "indent", "s", "ref", "xSplit", "ySplit", "fitToWidth", "fitToHeight",
                       "orientation", "display")), "drawn", "workbook")
  # what is printed, and which rows again on every page
  unzipped <- withr::local_tempdir()
  utils::unzip(book, exdir = unzipped)
  text <- paste(readLines(file.path(unzipped, "xl/workbook.xml"), warn = FALSE), collapse = "")
  held(regmatches(text, gregexpr("<definedName[^/]*</definedName>", text))[[1]], "drawn",
       "printed")
})

test_that("a document's tables are as wide, and say the same, as they did", {
  skip_if_not_installed("officer")
  file <- withr::local_tempfile(fileext = ".docx")
  laid <- lay_out(tables$each, lines = "working", notes = "A note.", show = c("column", "n"))
  suppressMessages(publish(list(laid, lay_out(tables$many, marks = "letters"), tables$ticks), file))
  folder <- withr::local_tempdir()
  utils::unzip(file, exdir = folder)
  text <- paste(readLines(file.path(folder, "word/document.xml"), warn = FALSE, encoding = "UTF-8"),
                collapse = "")
  cells <- strsplit(text, "</w:tc>", fixed = TRUE)[[1]]
  prints <- vapply(cells, function(cell) {
    found <- regmatches(cell, gregexpr("<w:t[^>]*>[^<]*|w:(w|val|ascii|type)=\"[^\"]*", cell))[[1]]
    paste(gsub("<w:t[^>]*>", "", gsub("w:", "", found)), collapse = " ")
  }, "", USE.NAMES = FALSE)
  prints <- paste(vapply(prints, print_of, ""), collapse = "; ")
  held(c(paste(length(cells), "cells"), strwrap(prints, 96)), "drawn", "word")
  styles <- paste(readLines(file.path(folder, "word/styles.xml"), warn = FALSE, encoding = "UTF-8"),
                  collapse = "")
  own <- regmatches(styles, gregexpr("<w:style [^>]*w:styleId=\"Table[^>]*>.*?</w:style>", styles,
                                     perl = TRUE))[[1]]
  held(unlist(strsplit(gsub("><", ">\n<", own, fixed = TRUE), "\n")), "drawn", "word-styles")
})

test_that("figures of results, and mail, look as they did", {
  skip_if_not_installed("ggplot2")
  aged <- quantiles(crosstab(score(survey, age), age, mode), at = c(5, 10, 25, 50, 75, 90, 95))
  field <- related(survey, questions = c("ferry", "heating", "leave"))
  held(c(plot_lines(ggplot2::autoplot(detectable(crosstab(survey, ferry, island)))),
         plot_lines(ggplot2::autoplot(aged)), plot_lines(ggplot2::autoplot(aged, "steps")),
         plot_lines(ggplot2::autoplot(field))), "drawn", "others")
  file <- withr::local_tempfile(fileext = ".mail.html")
  suppressMessages(publish(lay_out(tables$two, notes = "A note.", lines = "working"), file))
  text <- paste(readLines(file, warn = FALSE), collapse = "\n")
  held(sort(unique(regmatches(text, gregexpr("style=[^>]*", text))[[1]])), "drawn", "mail")
})

test_that("results print as they did, at any width", {
  x <- tables$two
  results <- list(tests(x), strength(x, "all", explain = TRUE), residuals(x), differences(x),
                  risks(tables$row), totals(x), detectable(x), shares(x), cautions(x),
                  means(crosstab(score(survey, ferry), ferry, island)),
                  working(crosstab(demo_records(200), leave, mode)), pooled(tables$each),
                  look(survey, c("ferry", "age", "settlement")), look(demo_records(300)),
                  related(survey, questions = c("ferry", "heating", "internet", "leave")))
  lines <- unlist(lapply(c(60, 100), function(width) {
    withr::local_options(width = width, cli.width = width)
    unlist(lapply(results, function(one) {
      c(paste("##", class(one)[1], width), cli::ansi_strip(format(one, width = width)))
    }))
  }))
  held(lines, "drawn", "results")
})
