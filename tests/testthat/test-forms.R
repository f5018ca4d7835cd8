# Every form that a laid-out table leaves in: read back by another reader, it
# holds the sheet, cell by cell.

golden <- golden_sheets()
saved_as <- function(x, ending, ...) {
  path <- withr::local_tempfile(fileext = ending, .local_envir = parent.frame())
  publish(x, path, ...)
  path
}
lines_of <- function(path) readLines(path, encoding = "UTF-8", warn = FALSE)
# What a form shows of a sheet: heads, labels and cells.
grid_shown <- function(sheet) {
  unname(rbind(c(sheet$corner, fairlattice:::head_texts(sheet)),
               cbind(fairlattice:::stub_labels(sheet$stub),
                     fairlattice:::cell_texts(sheet))))
}

test_that("Markdown holds every cell, by its own rules and as another program renders it", {
  for (name in names(golden)) {
    text <- lines_of(saved_as(golden[[name]], ".md"))
    rows <- grep("^\\|", text, value = TRUE)
    # rows of one length, whichever table they are of
    even <- function(rows) {
      do.call(rbind, lapply(rows, function(row) {
        trimws(row, whitespace = "[ \u2002]")[seq_len(max(lengths(rows)))]
      }))
    }
    cells <- even(lapply(strsplit(paste0(rows, "end"), "(?<!\\\\)\\|", perl = TRUE),
                         function(row) row[-c(1L, length(row))]))
    bare <-
      gsub("\\\\([[:punct:]])", "\\1", gsub("**", "", cells, fixed = TRUE))
    bare <- bare[!grepl("^:?-+:?$", bare[, 2L]), , drop = FALSE]
    # signs have columns of their own, without a head: each sheet put together again
    joined <- function(cells) {
      lines <- split(seq_len(nrow(cells)), cumsum(cells[, 1] == cells[1, 1] &
                                                    !grepl("^[0-9]", cells[, 2])))
      do.call(rbind, lapply(lines, function(at) {
        part <- cells[at, , drop = FALSE]
        part <- part[, !is.na(part[1, ]), drop = FALSE]
        sign <- which(part[1, ] == "" & seq_len(ncol(part)) > 1L)
        for (j in sign) part[, j - 1L] <- trimws(paste(part[, j - 1L], part[, j]))
        if (length(sign)) part[, -sign, drop = FALSE] else part
      }))
    }
    wanted <- do.call(rbind, lapply(golden[[name]], grid_shown))
    wanted <- trimws(wanted, whitespace = "[ \u2002]")
    expect_identical(joined(bare), wanted, info = name, ignore_attr = TRUE)
    skip_if_not_installed("commonmark")
    html <- xml2::read_html(commonmark::markdown_html(text, extensions = TRUE))
    shown <- lapply(xml2::xml_find_all(html, "//table//tr"), function(row) {
      xml2::xml_text(xml2::xml_find_all(row, "./*"))
    })
    expect_identical(joined(even(shown)), wanted, info = name, ignore_attr = TRUE)
    for (sheet in golden[[name]]) {
      for (line in c(sheet$subtitle, sheet$key, sheet$tests, sheet$account)) {
        expect_true(
          grepl(line, xml2::xml_text(html), fixed = TRUE),
          info = paste(name, line))
      }
    }
  }
})

test_that("the printed form as CSV holds every cell, and the tidy one every figure", {
  for (name in names(golden)) {
    text <- sub("^\ufeff", "", lines_of(saved_as(golden[[name]], ".csv")))
    wanted <- do.call(rbind, lapply(golden[[name]], grid_shown))
    rows <- lapply(text, function(line) {
      scan(text = line, what = "", sep = ",", quote = "\"", quiet = TRUE)
    })
    rows <- rows[lengths(rows) >= ncol(wanted)]
    # the same figures and signs, whatever stands between them
    bare <- function(text) gsub("[ ,()]", "", gsub("\u2212", "-", text))
    shown <- vapply(rows, function(row) bare(paste(row, collapse = "")), "")
    lines <- apply(wanted, 1, paste, collapse = "")
    expect_identical(setdiff(bare(lines[grepl("[0-9]", lines)]), shown),
                     character(), info = name)
    # a figure stands alone in its cell, so that a spreadsheet calculates with it
    cells <- unlist(lapply(rows[-1], `[`, -1L))
    with_number <- cells[grepl("[0-9]", cells) & !grepl("\u2013| to ", cells)]
    expect_false(anyNA(suppressWarnings(as.numeric(with_number))), info = name)
  }
  x <- crosstab(demo_survey(), ferry, island)
  tidy <- data.table::fread(saved_as(x, ".tidy.csv"), data.table = FALSE)
  expect_equal(tidy[names(cells_frame(x))[-1]], cells_frame(x)[-1],
               tolerance = 1e-12, ignore_attr = TRUE)
  expect_identical(unique(tidy$down_question), "ferry")
  both <- data.table::fread(saved_as(crosstab(
                                       demo_survey(), ferry, c(island, leave)),
                                     ".tidy.csv"), data.table = FALSE)
  expect_identical(unique(both$across_question), c("island", "leave"))
  expect_error(publish(crosstab(score(demo_survey(), age), age, island),
                       tempfile(fileext = ".tidy.csv")), "means()",
               fixed = TRUE, class = "fairlattice_error_format")
})

test_that("plain text is the print of a wide terminal, without colour", {
  for (name in names(golden)) {
    path <- withr::with_options(
      list(cli.num_colors = 256L),
      saved_as(golden[[name]], ".txt", figure = "none"))
    text <- lines_of(path)
    expect_lte(max(nchar(text, "width")), 100L)
    expect_false(any(grepl("\033", text, fixed = TRUE)))
    for (sheet in golden[[name]]) expect_true(
      any(grepl(strwrap(sheet$title, 60)[1], text, fixed = TRUE)))
  }
})

test_that("labels are shown as they are in every form, and are no formula, tag, sign or field", {
  hostile <- c("=1+1", "<b>bold</b>", "\\input{x}", "a | b", "@home",
               "line\nbreak", "*star* _under_ `code`", "+3 points",
               "[link](nowhere)", "$x$ & #1 ~ ^",
               "\u05d0\u05d1\u05d2 \u05d3\u05d4", strrep("long ", 40))
  data <- data.frame(view = factor(rep(hostile, 4), hostile),
                     side = factor(rep(c("-2+3", "1. first"), 24)))
  x <- crosstab(data, view, side)
  sheet <- lay_out(x)[[1]]
  flat <- trimws(gsub("\n", " ", hostile))
  html <- xml2::xml_text(xml2::xml_find_all(
                           xml2::read_html(
                             saved_as(x, ".html", figure = "none")),
                           "//tbody//th"))
  expect_identical(trimws(gsub("\\s+", " ", html)),
                   trimws(gsub("\\s+", " ", hostile)))
  csv <- lapply(sub("^\ufeff", "", lines_of(saved_as(x, ".csv"))),
                function(line) {
                  scan(text = line, what = "", sep = ",", quote = "\"",
                       quiet = TRUE)
                })
  labels <- vapply(Filter(function(row) length(row) == 4L, csv), `[`, "", 1L)[seq_along(hostile) + 1L]
  expect_identical(trimws(sub("^'", "", labels)), flat)
  expect_identical(startsWith(labels, "'"), grepl("^[-=+@]", flat))
  skip_if_not_installed("commonmark")
  md <- xml2::read_html(commonmark::markdown_html(
                          lines_of(saved_as(x, ".md")), extensions = TRUE))
  shown <- xml2::xml_text(xml2::xml_find_all(md, "//tbody/tr/td[1]"))[seq_along(hostile)]
  expect_identical(gsub("\\s+", " ", trimws(shown)), gsub("\\s+", " ", flat))
  expect_length(xml2::xml_find_all(md,
                                   "//td//b | //td//em | //td//a | //td//code"),
                0L)
})

test_that("a knitted report has the table with its caption", {
  skip_if_not_installed("knitr")
  source <- c("```{r tbl-ferry, echo = FALSE}", "library(fairlattice)",
              paste("lay_out(crosstab(demo_records(), down = ferry, across =",
                    "island), lines = \"test\")"), "```")
  text <- strsplit(knitr::knit(text = source, quiet = TRUE), "\n")[[1]]
  expect_true(any(grepl("^\\| Satisfaction with the ferry +\\| +Norrey \\|",
                        text)))
  expect_true("**Satisfaction with the ferry by Island**" %in% text)
  report <- function(...) {
    asked <- list(...)
    old <-
      lapply(stats::setNames(names(asked), names(asked)), knitr::opts_knit$get)
    knitr::opts_knit$set(asked)
    on.exit(knitr::opts_knit$set(old))
    strsplit(knitr::knit(text = source, quiet = TRUE), "\n")[[1]]
  }
  expect_true(": Satisfaction with the ferry by Island" %in%
                report(rmarkdown.pandoc.to = "html"))
  expect_true(": Satisfaction with the ferry by Island {#tbl-ferry}" %in%
                report(rmarkdown.pandoc.to = "html", quarto.version = "1.4"))
  expect_true(": (\\#tab:tbl-ferry) Satisfaction with the ferry by Island" %in%
                report(rmarkdown.pandoc.to = "latex",
                       bookdown.internal.label = TRUE))
  expect_false(any(grepl("```|^##", text)))
})

test_that(paste("what is withheld stays so in every form that draws the",
                "sheet, and the others are refused"), {
  held <- golden$withheld
  written <- function(x, path) {
    tryCatch(is.character(publish(x, path, figure = "none")),
             fairlattice_error_package = function(e) FALSE)
  }
  for (ending in names(writers)) {
    path <- withr::local_tempfile(fileext = paste0(".", ending))
    if (!writers[[ending]]$sheet) {
      expect_error(publish(held, path), "withheld",
                   class = "fairlattice_error_format")
      expect_false(file.exists(path))
    } else if (ending != "pdf" && written(held, path)) {
      text <- gsub("[\\{}]", "", all_text(path))
      expect_match(text, "[c]", fixed = TRUE, info = ending)
      expect_false(grepl("Rao-Scott|null hypothesis|fairlattice-table", text),
                   info = ending)
    }
  }
})

test_that("nothing that goes along with a table gives away what it withholds", {
  for (result in list(residuals(attr(golden$withheld, "of")),
                      write_up(attr(golden$withheld, "of")))) {
    path <- withr::local_tempfile(fileext = ".html")
    expect_error(publish(list(golden$withheld, result), path),
                 "would give them away", class = "fairlattice_error_format")
    expect_false(file.exists(path))
  }
  out <- call_main(c("crosstab", demo_file(), "--down", "ferry", "--across",
                     "tenure", "--withhold-under", "20", "--format", "json"))
  expect_identical(out$status, 1L)
  expect_match(paste(out$err, collapse = " "), "withheld")
})

test_that("a form that cannot follow a style says so, and takes the ending that is longest", {
  style <-
    house_style(fonts = list(size = 12), numbers = list(percent_sign = TRUE))
  x <- lay_out(crosstab(demo_survey(), ferry, island), style = style)
  path <- withr::local_tempfile(fileext = ".md")
  expect_message(publish(x, path), "a .md file does not follow its fonts",
                 fixed = TRUE)
  expect_true(any(grepl("9.1% ", lines_of(path), fixed = TRUE)))
  expect_identical(ending_of(c("a/b.TIDY.csv")), "tidy.csv")
  expect_identical(ending_of("tidy.csv"), "csv")
  expect_error(publish(x, "table.doc"), ".tidy.csv", fixed = TRUE,
               class = "fairlattice_error_format")
  expect_setequal(names(style_followed), c(names(writers), "text"))
})
