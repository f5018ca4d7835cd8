# LaTeX, mail, Markdown and pages: the golden sheets through every writer, read
# back by another program and held against the sheets figure by figure.

list2env(written_golden(), environment())

hostile_table <- crosstab(hostile, a, b)

test_that(paste("pandoc reads the same tables from a document, a page and",
                "Markdown, and every part is well-formed"), {
  skip_if_not(has_program("pandoc"), "there is no pandoc here")
  some <-
    golden[c("two_by_two", "nets_means_letters", "each", "ticks", "seven")]
  some_sheets <- unlist(lapply(some, unclass), recursive = FALSE)
  for (ending in c("docx", "html", "md")) {
    path <- file.path(folder, paste0("pandoc.", ending))
    publish(unname(some), path, figure = "none")
    from <- c(docx = "docx", html = "html", md = "markdown")[[ending]]
    out <- paste0(path, ".out.html")
    expect_identical(system2(
      "pandoc",
      c("-f", from, "-t", "html", "-o", shQuote(out), shQuote(path))), 0L)
    found <- html_tables(xml2::read_html(out, encoding = "UTF-8"))
    expect_length(found, length(some_sheets))
    for (k in seq_along(found)) {
      cells <- bare(found[[k]]$body)
      wanted <- setdiff(bare(fairlattice:::sheet_text(some_sheets[[k]])), "")
      # in a page a sign and the word for it stand in the cell of their figure
      there <- vapply(wanted, function(figure) {
        any(startsWith(cells, figure))
      }, NA)
      expect_true(all(there),
                  info = paste(
                    ending, k,
                    paste(wanted[!there], collapse = " ")))
    }
  }
  skip_if_not(has_program("xmllint"), "there is no xmllint here")
  for (ending in c("docx", "xlsx", "pptx")) {
    path <- file.path(folder, paste0("formed.", ending))
    publish(c(unname(some), list(hostile_table)), path)
    parts <- withr::local_tempdir()
    utils::unzip(path, exdir = parts)
    files <- list.files(parts, "[.](xml|rels)$", recursive = TRUE,
                        full.names = TRUE, all.files = TRUE)
    expect_identical(system2("xmllint", c("--noout", shQuote(files))), 0L,
                     info = ending)
  }
})

test_that(paste("headings of a page are in order, its heads have scopes, and",
                "its text stands out from what is behind it"), {
  path <- file.path(folder, "page.html")
  publish(list(golden$each, golden$banner, residuals(golden_crosstab()),
               "A paragraph."), path)
  html <- xml2::read_html(path)
  levels <- as.integer(substring(
    xml2::xml_name(xml2::xml_find_all(html, "//h1 | //h2 | //h3 | //h4")), 2L))
  expect_identical(levels[1L], 1L)
  expect_lte(max(diff(levels)), 1L)
  expect_true(all(xml2::xml_attr(xml2::xml_find_all(html, "//th"), "scope") %in%
                    c("col", "colgroup", "row", "rowgroup")))
  expect_true(all(nzchar(
    xml2::xml_attr(xml2::xml_find_all(html, "//img"), "alt"))))
  luminance <- function(colour) {
    part <- grDevices::col2rgb(colour)[, 1] / 255
    sum(c(0.2126, 0.7152, 0.0722) *
          ifelse(part <= 0.03928, part / 12.92, ((part + 0.055) / 1.055)^2.4))
  }
  contrast <- function(a, b) {
    (max(luminance(a), luminance(b)) + 0.05) /
      (min(luminance(a), luminance(b)) + 0.05)
  }
  usual <- fairlattice:::page_colours
  for (behind in c("#ffffff", "#f6f4ef", usual[["more"]], usual[["fewer"]],
                   usual[["typed"]])) {
                     expect_gte(contrast(usual[["ink"]], behind), 7)
                   }
  for (behind in c("#ffffff", "#f6f4ef")) {
    expect_gte(contrast(usual[["quiet"]], behind), 4.5)
  }
})

test_that("LaTeX compiles as it stands and holds every sheet", {
  path <- book_as("tex")
  text <- paste(readLines(path, encoding = "UTF-8"), collapse = "\n")
  tables <- regmatches(text,
                       gregexpr("(?s)\\\\begin\\{longtable\\}.*?\\\\end\\{longtable\\}",
                                text, perl = TRUE))[[1]]
  read <- lapply(tables, function(table) {
    body <- sub("(?s)^.*\\\\endlastfoot\n", "", table, perl = TRUE)
    head <- regmatches(table,
                       regexpr("(?s)\\\\toprule\n.*?\\\\midrule", table,
                               perl = TRUE))
    rows <- function(text) {
      lines <- grep("\\\\\\\\$", strsplit(text, "\n")[[1]], value = TRUE)
      lapply(strsplit(sub("\\\\\\\\$", "", lines), "(?<!\\\\)&", perl = TRUE),
             trimws)
    }
    as_grid(c(utils::tail(rows(gsub("\\\\shortstack\\[r\\]\\{([^{}]*)\\}",
                                    "\\1",
                                    gsub(
                                      "\\\\\\\\(?=[^\n])", " ", head,
                                      perl = TRUE))), 1L), rows(body)), 1L)
  })
  plain <- function(x) {
    x <- gsub("\\\\(multicolumn\\{[0-9]+\\}\\{[^{}]*(\\{\\})?[^{}]*\\}|textbf|footnotesize|small)",
              "", x)
    for (k in seq_along(fairlattice:::latex_signs)) x <- gsub(
      fairlattice:::latex_signs[[k]], names(fairlattice:::latex_signs)[k], x,
      fixed = TRUE)
    gsub("[{}]", "", x)
  }
  read <- lapply(read, lapply, function(M) {
    M[] <- plain(M)
    M
  })
  expect_sheets(read, sheets, TRUE, "tex")
  skip_if_not(has_program("pdflatex"), "there is no LaTeX here")
  pdf <- file.path(folder, "book.pdf")
  publish(list(golden$banner, golden$scripts, hostile_table,
               residuals(golden_crosstab())), pdf)
  expect_identical(rawToChar(readBin(pdf, "raw", 5L)), "%PDF-")
})

test_that(paste("without LaTeX a PDF of tables is an error that says what to",
                "do, and one of the figure is none"), {
  withr::local_envvar(PATH = "")
  expect_error(publish(golden$two_by_two, file.path(folder, "x.pdf")),
               "no LaTeX on this machine", class = "fairlattice_error_package")
  expect_false(file.exists(file.path(folder, "x.pdf")))
  path <- file.path(folder, "x.figure.pdf")
  publish(golden_crosstab(), path)
  expect_identical(rawToChar(readBin(path, "raw", 5L)), "%PDF-")
})

test_that("a mail holds every sheet with its look in every element, and nothing hidden", {
  path <- book_as("mail.html")
  html <- xml2::read_html(path)
  expect_sheets(html_tables(html), sheets, FALSE, "mail")
  expect_length(xml2::xml_find_all(html,
                                   "//script | //style | //link | //*[@class] | //*[@hidden]"),
                0L)
  expect_true(all(nzchar(xml2::xml_attr(xml2::xml_find_all(
    html, "//td | //th | //p | //table"), "style"))))
})

test_that(paste("hostile labels are shown as they are in every form, and",
                "never a formula, tag, command or field"), {
  shown <- visible(hostile$a)
  path <- function(ending) {
    file.path(folder, paste0("hostile.", ending))
  }
  for (ending in c("docx", "xlsx", "pptx", "tex", "mail.html", "html")) {
    publish(
      hostile_table, path(ending), figure = "none",
      formulas = ending == "xlsx")
  }
  expect_true(all(bare(shown) %in%
                    bare(
                      unlist(
                        lapply(
                          word_tables(path("docx")),
                          function(table) table$body)))))
  word <- part_of(path("docx"), "word/document.xml")
  expect_false(any(grepl(
    "calc|1\\+1",
    xml2::xml_text(xml2::xml_find_all(word, "//instrText")))))
  parts <- grep("worksheets/sheet[0-9]+.xml",
                utils::unzip(path("xlsx"), list = TRUE)$Name, value = TRUE)
  formulas <- unlist(lapply(
    parts,
    function(part) {
      xml2::xml_text(xml2::xml_find_all(part_of(path("xlsx"), part), "//f"))
    }))
  expect_false(any(grepl("cmd|1\\+1|@here", formulas)))
  strings <- xml2::xml_text(
    xml2::xml_find_all(part_of(path("xlsx"), "xl/sharedStrings.xml"), "//si"))
  expect_true(all(bare(shown) %in% bare(strings)))
  expect_true(all(bare(shown) %in%
                    bare(
                      unlist(
                        lapply(
                          slide_tables(path("pptx")),
                          function(table) table$body)))))
  expect_false(any(grepl("\\input", readLines(path("tex")), fixed = TRUE)))
  for (ending in c("mail.html", "html")) {
    html <- xml2::read_html(path(ending))
    expect_length(xml2::xml_find_all(html, "//td//b[text()='x'] | //th//b"), 0L)
    expect_true(all(bare(shown) %in%
                      bare(
                        xml2::xml_text(
                          xml2::xml_find_all(html, "//tbody//th")))))
  }
})

test_that("text in XML has its signs of markup escaped, and nothing else is another", {
  texts <- c(plain = "as it is", "a < b & \"c\" > d", NA, "", "&amp;<<", "\u00fc\ufffe\uffff\u20ac>",
             "'")
  wanted <- texts
  for (sign in c("&", "<", ">", "\""))
    wanted <- gsub(sign, c("&" = "&amp;", "<" = "&lt;", ">" = "&gt;", "\"" = "&quot;")[[sign]],
                   wanted, fixed = TRUE)
  expect_identical(xml_bare(texts), unname(wanted))
  expect_identical(xml_json("[\"\ufffe&\uffff\"]"), "[&quot;\\ufffe&amp;\\uffff&quot;]")
  latin <- "\xe9<"
  Encoding(latin) <- "latin1"
  expect_identical(xml_bare(latin), "\u00e9&lt;")
  expect_identical(xml_bare(factor("a&b")), "a&amp;b")
})
