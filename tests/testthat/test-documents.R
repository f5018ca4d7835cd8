# Word, workbooks, slides, LaTeX and mail: the golden sheets through every writer, read back by another program and held
# against the sheets figure by figure.

golden <- golden_sheets()
for (package in c("officer", "openxlsx", "xml2", "zip")) skip_if_not_installed(package)
folder <- withr::local_tempdir(.local_envir = teardown_env())
sheets <- unlist(lapply(golden, unclass), recursive = FALSE)
book_as <- function(ending, ...) {
  path <- file.path(folder, paste0("book.", ending))
  publish(unname(golden), path, figure = "none", ...)
  path
}
hostile <- data.frame(
  a = c("=1+1", "<b>x</b>", "\\input{x}", "p|q", "@here", "line\nbreak", "\u0645\u0631\u062d\u0628\u0627",
        strrep("long ", 40),
        "\u202eabc", "$5 & 6% #_^~"),
  b = rep(c("{=1}", "+cmd|' /C calc'!A0", "[c]", "*x*", "`y`"), 2))
hostile_table <- lattice(hostile, a, b)

test_that("a Word document holds every sheet, also as another program reads it", {
  path <- book_as("docx")
  expect_sheets(word_tables(path), sheets, TRUE, "docx")
  text <- xml2::xml_text(part_of(path, "word/document.xml"))
  for (sheet in sheets) for (line in c(sheet$title, sheet$key, sheet$tests, sheet$account))
    expect_true(grepl(bare(line), bare(text), fixed = TRUE), info = line)
  skip_if_not(has_program("soffice"), "there is no office suite here")
  html <- xml2::read_html(by_office(path, "html", folder))
  office <- lapply(html_tables(html, heads = 1L), function(table) rbind(table$head, table$body))
  own <- lapply(word_tables(path), function(table) table$body)
  office <- Map(function(found, wanted) utils::tail(found, nrow(wanted)), office, own)
  expect_identical(lapply(office, function(M) bare(as.vector(M))), lapply(own, function(M) bare(as.vector(M))))
})

test_that("pandoc reads the same tables from a document, a page and Markdown, and every part is well-formed", {
  skip_if_not(has_program("pandoc"), "there is no pandoc here")
  some <- golden[c("two_by_two", "nets_means_letters", "each", "ticks", "seven")]
  some_sheets <- unlist(lapply(some, unclass), recursive = FALSE)
  for (ending in c("docx", "html", "md")) {
    path <- file.path(folder, paste0("pandoc.", ending))
    publish(unname(some), path, figure = "none")
    from <- c(docx = "docx", html = "html", md = "markdown")[[ending]]
    out <- paste0(path, ".out.html")
    expect_identical(system2("pandoc", c("-f", from, "-t", "html", "-o", shQuote(out), shQuote(path))), 0L)
    found <- html_tables(xml2::read_html(out, encoding = "UTF-8"))
    expect_length(found, length(some_sheets))
    for (k in seq_along(found)) {
      cells <- bare(found[[k]]$body)
      wanted <- setdiff(bare(fairlattice:::sheet_text(some_sheets[[k]])), "")
      # in a page a sign and the word for it stand in the cell of their figure
      there <- vapply(wanted, function(figure) any(startsWith(cells, figure)), NA)
      expect_true(all(there), info = paste(ending, k, paste(wanted[!there], collapse = " ")))
    }
  }
  skip_if_not(has_program("xmllint"), "there is no xmllint here")
  for (ending in c("docx", "xlsx", "pptx")) {
    path <- file.path(folder, paste0("formed.", ending))
    publish(c(unname(some), list(hostile_table)), path)
    parts <- withr::local_tempdir()
    utils::unzip(path, exdir = parts)
    files <- list.files(parts, "[.](xml|rels)$", recursive = TRUE, full.names = TRUE, all.files = TRUE)
    expect_identical(system2("xmllint", c("--noout", shQuote(files))), 0L, info = ending)
  }
})

test_that("headings of a page are in order, its heads have scopes, and its text stands out from what is behind it", {
  path <- file.path(folder, "page.html")
  publish(list(golden$each, golden$banner, departures(golden_lattice()), "A paragraph."), path)
  html <- xml2::read_html(path)
  levels <- as.integer(substring(xml2::xml_name(xml2::xml_find_all(html, "//h1 | //h2 | //h3 | //h4")), 2L))
  expect_identical(levels[1L], 1L)
  expect_lte(max(diff(levels)), 1L)
  expect_true(all(xml2::xml_attr(xml2::xml_find_all(html, "//th"), "scope") %in% c("col", "colgroup", "row",
                                                                                   "rowgroup")))
  expect_true(all(nzchar(xml2::xml_attr(xml2::xml_find_all(html, "//img"), "alt"))))
  luminance <- function(colour) {
    part <- grDevices::col2rgb(colour)[, 1] / 255
    sum(c(0.2126, 0.7152, 0.0722) * ifelse(part <= 0.03928, part / 12.92, ((part + 0.055) / 1.055)^2.4))
  }
  contrast <- function(a, b) (max(luminance(a), luminance(b)) + 0.05) / (min(luminance(a), luminance(b)) + 0.05)
  usual <- fairlattice:::page_colours
  for (behind in c("#ffffff", "#f6f4ef", usual[["more"]], usual[["fewer"]], usual[["typed"]]))
    expect_gte(contrast(usual[["ink"]], behind), 7)
  for (behind in c("#ffffff", "#f6f4ef")) expect_gte(contrast(usual[["quiet"]], behind), 4.5)
})

test_that("a document is made of named styles, and a template has its way with them", {
  x <- golden$banner
  path <- withr::local_tempfile(fileext = ".docx")
  publish(list(x, golden$two_by_two, golden$nets_means_letters), path, figure = "none")
  document <- part_of(path, "word/document.xml")
  count <- function(what) length(xml2::xml_find_all(document, what))
  # no look of its own: fonts, colours, borders and shades are those of styles
  expect_identical(count("//rFonts | //color | //sz | //b | //shd | //tcBorders | //pBdr | //jc"), 0L)
  styles <- part_of(path, "word/styles.xml")
  used <- unique(xml2::xml_attr(xml2::xml_find_all(document, "//pStyle | //rStyle | //tblStyle"), "val"))
  expect_true(all(used %in% xml2::xml_attr(xml2::xml_find_all(styles, "//style"), "styleId")))
  # captions are counted by Word, heads are repeated, rows are whole, and there is a list of all tables
  expect_gte(sum(grepl("SEQ Table", xml2::xml_text(xml2::xml_find_all(document, "//instrText")))), 3L)
  expect_true(any(grepl("TOC .*Table", xml2::xml_text(xml2::xml_find_all(document, "//instrText")))))
  expect_identical(count("//tr[not(trPr/cantSplit)]"), 0L)
  expect_true(all(vapply(xml2::xml_find_all(document, "//tbl"), function(table) {
    length(xml2::xml_find_all(table, "./tr/trPr/tblHeader")) > 0L
  }, NA)))
  expect_true(all(nzchar(xml2::xml_attr(xml2::xml_find_all(document, "//tblCaption"), "val"))))
  # the banner lies across, what follows stands upright again
  turned <- xml2::xml_attr(xml2::xml_find_all(document, "//sectPr/pgSz"), "orient")
  expect_true("landscape" %in% turned && is.na(turned[length(turned)]))
  # a house's template: its styles stay, those that it lacks are added
  house <- withr::local_tempfile(fileext = ".docx")
  base <- fairlattice:::unpacked(system.file("templates", "plain.docx", package = "fairlattice"))
  fairlattice:::edit_part(file.path(base, "word", "styles.xml"), function(text) {
    text <- sub("<w:style [^>]*w:styleId=\"TableNote\".*?</w:style>", "", text, perl = TRUE)
    sub("(<w:name w:val=\"Table Figure\"/>.*?)<w:sz w:val=\"18\"/>", "\\1<w:sz w:val=\"44\"/>",
        gsub("TableFigure", "Figures", text), perl = TRUE)
  })
  fairlattice:::packed(base, house)
  publish(golden$two_by_two, path, figure = "none", template = house)
  styles <- part_of(path, "word/styles.xml")
  of <- function(name) xml2::xml_find_all(styles, sprintf("//style[name/@val='%s']", name))
  expect_identical(xml2::xml_attr(xml2::xml_find_first(of("Table Figure"), ".//sz"), "val"), "44")
  expect_length(of("Table Note"), 1L)
  document <- part_of(path, "word/document.xml")
  expect_true("Figures" %in% xml2::xml_attr(xml2::xml_find_all(document, "//pStyle"), "val"))
  expect_error(publish(x, path, template = "nothing.docx"), "no template", class = "fairlattice_error_template")
  expect_error(publish(x, path, template = demo_file("house.yml")), "does not end in .docx", fixed = TRUE,
               class = "fairlattice_error_template")
  expect_error(publish(x, tempfile(fileext = ".md"), template = house), "is for .docx", fixed = TRUE,
               class = "fairlattice_error_format")
  # fonts, colours and rules of a house style reach the styles
  styled <- lay_out(golden$two_by_two, style = house_style(fonts = list(text = "Georgia, serif", size = 12),
                                                           colours = list(more = "#00FF00"),
                                                           rules = list(head = "double")))
  publish(styled, path, figure = "none")
  text <- as.character(part_of(path, "word/styles.xml"))
  for (piece in c("Georgia", "00FF00", "<bottom val=\"double\"", "<sz val=\"24\""))
    expect_true(grepl(piece, text, fixed = TRUE), info = piece)
})

test_that("a workbook holds numbers, also as another program reads it", {
  skip_if_not_installed("readxl")
  path <- book_as("xlsx")
  if (has_program("soffice")) path <- by_office(path, "xlsx", withr::local_tempdir())
  names <- readxl::excel_sheets(path)
  expect_length(grep("^[0-9]+ ", names), length(sheets))
  for (k in seq_along(sheets)) {
    sheet <- sheets[[k]]
    if (length(sheet$inside)) next # figures in brackets have columns of their own
    cells <- suppressMessages(as.data.frame(readxl::read_excel(path, names[k + 1L], col_names = FALSE,
                                                               col_types = "list",
                                                               .name_repair = "minimal")))
    at <- fairlattice:::workbook_columns(sheet)
    first <- which(bare(vapply(cells[[1]], function(v) as.character(v)[1], "")) == bare(sheet$corner))
    first <- first[length(first)]
    if (!length(first)) first <- which(vapply(cells[[at$value[1]]], function(v) is.numeric(v), NA))[1L] - 1L
    for (j in seq_along(at$value)) {
      column <- cells[[at$value[j]]][first + seq_len(nrow(sheet$value))]
      number <- vapply(column, function(v) if (is.numeric(v)) v else NA_real_, 0)
      expect_equal(number, sheet$value[, j], tolerance = 1e-12, info = paste(sheet$title, j))
      if (length(at$high) && at$high[j] <= length(cells)) {
        high <- cells[[at$high[j]]][first + seq_len(nrow(sheet$value))]
        expect_equal(vapply(high, function(v) if (is.numeric(v)) v else NA_real_, 0), sheet$high[, j],
                     tolerance = 1e-12)
      }
    }
  }
  both <- lay_out(lattice(demo_panel(), ferry, island), show = c("column", "n"))
  publish(both, path)
  cells <- suppressMessages(as.data.frame(readxl::read_excel(path, 2L, col_names = FALSE, .name_repair = "minimal")))
  expect_true(any(grepl("column %", unlist(cells), fixed = TRUE)))
  expect_false(any(grepl("^[0-9.]+ \\([0-9,]+\\)$", unlist(cells))))
  formats <- as.character(part_of(path, "xl/styles.xml"))
  expect_true(grepl("formatCode=\"0.0\"", formats, fixed = TRUE))
  text <- as.character(part_of(path, "xl/workbook.xml"))
  expect_true(all(vapply(c("_xlnm.Print_Area", "_xlnm.Print_Titles"), grepl, NA, text, fixed = TRUE)))
  expect_true(grepl("state=\"frozen\"", as.character(part_of(path, "xl/worksheets/sheet2.xml")), fixed = TRUE))
})

test_that("a sheet that calculates comes to our figures, and to those of other counts that are typed in", {
  skip_if_not_installed("readxl")
  skip_if_not(has_program("soffice"), "there is no office suite here")
  differences <- function(path) {
    unlist(lapply(grep("Calculation", readxl::excel_sheets(path), value = TRUE), function(name) {
      cells <- suppressMessages(as.data.frame(readxl::read_excel(path, name, col_names = FALSE,
                                                                 .name_repair = "minimal")))
      off <- which(cells == "Difference", arr.ind = TRUE)
      unlist(lapply(seq_len(nrow(off)), function(k) {
        rows <- seq(off[k, 1] + 1L, min(nrow(cells), off[k, 1] + nrow(cells)))
        stop_at <- which(is.na(cells[rows, 1]))[-1L]
        if (length(stop_at)) rows <- rows[seq_len(stop_at[1L] - 1L)]
        columns <- if (off[k, 2] == 4L) 4L else seq(off[k, 2], ncol(cells))
        values <- suppressWarnings(as.numeric(unlist(cells[rows, columns])))
        values[!is.na(values)]
      }))
    }))
  }
  panel <- demo_panel()
  plain <- respondents(demo_records())
  a <- lattice(plain, leave, tenure)
  b <- lattice(among(plain, age < 50), leave, tenure)
  path <- file.path(folder, "live.xlsx")
  publish(list(a, lattice(panel, heating, island), lattice(panel, internet, leave, each = island),
               lattice(respondents(demo_records(), weight = weight), ferry, mode)), path, formulas = TRUE)
  recalculated <- withr::local_tempdir()
  off <- differences(by_office(path, "xlsx", recalculated))
  expect_gt(length(off), 600L)
  expect_lt(max(abs(off)), 1e-9)
  # other counts typed in: the formulas are the figures of the other table
  book <- openxlsx::loadWorkbook(path)
  name <- grep("Calculation", names(book), value = TRUE)[1L]
  openxlsx::writeData(book, name, unname(unclass(as.table(b))), 2L, 6L, colNames = FALSE)
  other <- file.path(folder, "other.xlsx")
  openxlsx::saveWorkbook(book, other, overwrite = TRUE)
  cells <- suppressMessages(as.data.frame(readxl::read_excel(by_office(other, "xlsx", recalculated), name,
                                                             col_names = FALSE,
                                                             .name_repair = "minimal")))
  line <- function(label) as.numeric(cells[utils::tail(which(cells[[1]] == label), 1L), 2])
  pearson <- subset(as.data.frame(test_independence(b)), test == "pearson")
  expect_equal(line("Pearson chi-square"), pearson$statistic, tolerance = 1e-9)
  expect_equal(line("p"), pearson$p, tolerance = 1e-9)
  v <- subset(as.data.frame(strength(b, "all")), measure == "cramers_v")$estimate
  expect_equal(line("Cram\u00e9r's V"), v, tolerance = 1e-9)
  top <- which(cells[[1]] == "Column %")
  share <- as.matrix(b, "column_percent")
  expect_equal(as.numeric(unlist(cells[top + 2L, 2:(1 + ncol(share))])), unname(share[1, ]), tolerance = 1e-9)
  # what cannot calculate says so
  ticked <- lattice(ticks(panel, reasons = c(reason_work, reason_ferry)), reasons, island)
  expect_message(publish(ticked, path, formulas = TRUE), "No sheet that calculates.*ticked")
  expect_error(publish(golden$withheld, path, formulas = TRUE), "withheld", class = "fairlattice_error_format")
  expect_error(publish(a, tempfile(fileext = ".docx"), formulas = TRUE), "is for .xlsx", fixed = TRUE,
               class = "fairlattice_error_format")
})

test_that("slides hold every sheet, and charts whose figures can be edited", {
  path <- book_as("pptx")
  expect_sheets(joined_lines(slide_tables(path)), sheets, FALSE, "pptx")
  x <- lattice(demo_panel(), leave, mode)
  path <- file.path(folder, "chart.pptx")
  publish(x, path)
  parts <- utils::unzip(path, list = TRUE)$Name
  chart <- part_of(path, grep("charts/[^/]*xml$", parts, value = TRUE))
  share <- as.matrix(x, "column_percent")
  expect_equal(as.numeric(xml2::xml_text(xml2::xml_find_all(chart, "//val//v"))), as.vector(t(share)),
               tolerance = 1e-12)
  expect_identical(xml2::xml_text(xml2::xml_find_all(chart, "//ser/tx//v")), rownames(share))
  inside <- withr::local_tempdir()
  utils::unzip(path, grep("embeddings", parts, value = TRUE), exdir = inside)
  typed <- openxlsx::read.xlsx(list.files(inside, "xlsx$", recursive = TRUE, full.names = TRUE))
  expect_equal(unname(as.matrix(typed[-1])), unname(t(share)), tolerance = 1e-12)
  notes <- xml2::xml_text(part_of(path, grep("notesSlides/notesSlide1.xml$", parts, value = TRUE)))
  expect_true(grepl("Rao-Scott second order, corrected", notes, fixed = TRUE))
  skip_if_not(has_program("soffice"), "there is no office suite here")
  book <- file.path(folder, "book.pptx")
  own <- lapply(slide_tables(book), function(table) rbind(table$head, table$body))
  office <- Map(function(rows, table) unlist(utils::tail(rows, nrow(table))),
                slides_by_office(by_office(book, "fodp", folder)), own)
  expect_identical(office, lapply(own, function(table) bare(as.vector(t(table)))))
})

test_that("slides take a house's presentation, and say what it lacks", {
  house <- withr::local_tempfile(fileext = ".pptx")
  utils::capture.output(print(officer::read_pptx(), target = house))
  path <- withr::local_tempfile(fileext = ".pptx")
  publish(golden$two_by_two, path, template = house)
  expect_equal(unlist(officer::slide_size(officer::read_pptx(path))), c(width = 10, height = 7.5))
  expect_sheets(joined_lines(slide_tables(path)), golden$two_by_two, FALSE, "template")
  folder <- fairlattice:::unpacked(house)
  fairlattice:::edit_part(file.path(folder, "ppt", "slideLayouts", "slideLayout6.xml"),
                          function(text) gsub("type=\"title\"", "type=\"body\" idx=\"9\"", text))
  fairlattice:::packed(folder, house)
  expect_error(publish(golden$two_by_two, path, template = house), "no layout with a title alone",
               class = "fairlattice_error_template")
  expect_error(publish(golden$two_by_two, path, template = withr::local_tempfile(lines = "x", fileext = ".pptx")),
               "cannot be read as a template", class = "fairlattice_error_template")
  # a part that would be written elsewhere
  outside <- withr::local_tempdir()
  dir.create(file.path(outside, "in"))
  writeLines("x", file.path(outside, "evil.xml"))
  suppressWarnings(withr::with_dir(file.path(outside, "in"), zip::zip(house, "../evil.xml", mode = "mirror")))
  expect_error(publish(golden$two_by_two, path, template = house), "template", class = "fairlattice_error_template")
  expect_error(publish(data.frame(a = "x"), path), "lattice()", fixed = TRUE, class = "fairlattice_error")
})

test_that("LaTeX compiles as it stands and holds every sheet", {
  path <- book_as("tex")
  text <- paste(readLines(path, encoding = "UTF-8"), collapse = "\n")
  tables <- regmatches(text, gregexpr("(?s)\\\\begin\\{longtable\\}.*?\\\\end\\{longtable\\}", text, perl = TRUE))[[1]]
  read <- lapply(tables, function(table) {
    body <- sub("(?s)^.*\\\\endlastfoot\n", "", table, perl = TRUE)
    head <- regmatches(table, regexpr("(?s)\\\\toprule\n.*?\\\\midrule", table, perl = TRUE))
    rows <- function(text) {
      lines <- grep("\\\\\\\\$", strsplit(text, "\n")[[1]], value = TRUE)
      lapply(strsplit(sub("\\\\\\\\$", "", lines), "(?<!\\\\)&", perl = TRUE), trimws)
    }
    as_grid(c(utils::tail(rows(gsub("\\\\shortstack\\[r\\]\\{([^{}]*)\\}", "\\1",
                                    gsub("\\\\\\\\(?=[^\n])", " ", head, perl = TRUE))),
                          1L), rows(body)), 1L)
  })
  plain <- function(x) {
    x <- gsub("\\\\(multicolumn\\{[0-9]+\\}\\{[^{}]*(\\{\\})?[^{}]*\\}|textbf|footnotesize|small)", "", x)
    for (k in seq_along(fairlattice:::latex_signs))
      x <- gsub(fairlattice:::latex_signs[[k]], names(fairlattice:::latex_signs)[k], x, fixed = TRUE)
    gsub("[{}]", "", x)
  }
  read <- lapply(read, lapply, function(M) {
    M[] <- plain(M)
    M
  })
  expect_sheets(read, sheets, TRUE, "tex")
  skip_if_not(has_program("pdflatex"), "there is no LaTeX here")
  pdf <- file.path(folder, "book.pdf")
  publish(list(golden$banner, golden$scripts, hostile_table, departures(golden_lattice())), pdf)
  expect_identical(rawToChar(readBin(pdf, "raw", 5L)), "%PDF-")
})

test_that("without LaTeX a PDF of tables is an error that says what to do, and one of the figure is none", {
  withr::local_envvar(PATH = "")
  expect_error(publish(golden$two_by_two, file.path(folder, "x.pdf")), "no LaTeX on this machine",
               class = "fairlattice_error_package")
  expect_false(file.exists(file.path(folder, "x.pdf")))
  path <- file.path(folder, "x.figure.pdf")
  publish(golden_lattice(), path)
  expect_identical(rawToChar(readBin(path, "raw", 5L)), "%PDF-")
})

test_that("a mail holds every sheet with its look in every element, and nothing hidden", {
  path <- book_as("mail.html")
  html <- xml2::read_html(path)
  expect_sheets(html_tables(html), sheets, FALSE, "mail")
  expect_length(xml2::xml_find_all(html, "//script | //style | //link | //*[@class] | //*[@hidden]"), 0L)
  expect_true(all(nzchar(xml2::xml_attr(xml2::xml_find_all(html, "//td | //th | //p | //table"), "style"))))
})

test_that("hostile labels are shown as they are in every form, and never a formula, tag, command or field", {
  shown <- visible(hostile$a)
  path <- function(ending) file.path(folder, paste0("hostile.", ending))
  for (ending in c("docx", "xlsx", "pptx", "tex", "mail.html", "html"))
    publish(hostile_table, path(ending), figure = "none", formulas = ending == "xlsx")
  expect_true(all(bare(shown) %in% bare(unlist(lapply(word_tables(path("docx")), function(table) table$body)))))
  word <- part_of(path("docx"), "word/document.xml")
  expect_false(any(grepl("calc|1\\+1", xml2::xml_text(xml2::xml_find_all(word, "//instrText")))))
  parts <- grep("worksheets/sheet[0-9]+.xml", utils::unzip(path("xlsx"), list = TRUE)$Name, value = TRUE)
  formulas <- unlist(lapply(parts, function(part) {
    xml2::xml_text(xml2::xml_find_all(part_of(path("xlsx"), part), "//f"))
  }))
  expect_false(any(grepl("cmd|1\\+1|@here", formulas)))
  strings <- xml2::xml_text(xml2::xml_find_all(part_of(path("xlsx"), "xl/sharedStrings.xml"), "//si"))
  expect_true(all(bare(shown) %in% bare(strings)))
  expect_true(all(bare(shown) %in% bare(unlist(lapply(slide_tables(path("pptx")), function(table) table$body)))))
  expect_false(any(grepl("\\input", readLines(path("tex")), fixed = TRUE)))
  for (ending in c("mail.html", "html")) {
    html <- xml2::read_html(path(ending))
    expect_length(xml2::xml_find_all(html, "//td//b[text()='x'] | //th//b"), 0L)
    expect_true(all(bare(shown) %in% bare(xml2::xml_text(xml2::xml_find_all(html, "//tbody//th")))))
  }
})

test_that("tables come back from every form that carries them, and results with them", {
  x <- golden_lattice()
  one <- lattice(demo_panel(), internet, leave, each = island)
  wanted <- c(json_of(x), json_of(one))
  for (ending in c("json", "html", "docx", "xlsx", "pptx")) {
    path <- file.path(folder, paste0("back.", ending))
    publish(list(x, departures(x), write_up(x, "full"), one, pooled(one)), path, figure = "none")
    back <- read_lattice(path)
    expect_length(back, 5L)
    expect_identical(lapply(back[c(1, 4)], format, width = 90), lapply(list(x, one), format, width = 90), info = ending)
    expect_equal(as.data.frame(back[[2]])$adjusted_residual, as.data.frame(departures(x))$adjusted_residual)
    expect_identical(back[[3]], write_up(x, "full"))
    expect_equal(back[[5]]$p, pooled(one)$tests$p)
    expect_error(departures(back[[1]], correction = "bonferroni"), "cannot be worked out anew")
  }
  for (ending in c("html", "docx", "xlsx", "pptx")) {
    path <- file.path(folder, paste0("held.", ending))
    publish(golden$withheld, path, figure = "none")
    expect_error(read_lattice(path), "holds no tables as data", class = "fairlattice_error_not_a_table")
  }
  writeLines("<html></html>", path <- file.path(folder, "other.html"))
  expect_error(read_lattice(path), "holds no tables as data", class = "fairlattice_error_not_a_table")
})

test_that("results stand in every form that is for reading", {
  x <- lattice(respondents(demo_records()), leave, tenure)
  asked <- list(x, test_independence(x), departures(x), risks(x), working(x), write_up(x, "full"))
  look_at <- look(demo_records(), tenure)
  for (ending in c("html", "docx", "md", "txt", "tex", "mail.html")) {
    path <- file.path(folder, paste0("results.", ending))
    publish(c(asked, list(test_shares(demo_panel(), leave, c(Yes = 40, No = 60)), look_at)), path, figure = "none")
    text <- if (ending == "docx") xml2::xml_text(part_of(path, "word/document.xml")) else
      paste(readLines(path, encoding = "UTF-8"), collapse = " ")
    text <- gsub("[\\s\u00a0\\\\~]+", "", text, perl = TRUE)
    for (piece in c("Pearson chi-square", "Where is it?", "odds ratio", "Their sum is the statistic",
                    "The test was chosen",
                    "Owned outright", "Against known shares"))
      expect_true(grepl(gsub(" ", "", piece), text, fixed = TRUE), info = paste(ending, piece))
  }
  path <- file.path(folder, "results.xlsx")
  publish(asked, path)
  skip_if_not_installed("readxl")
  names <- readxl::excel_sheets(path)
  cells <- as.data.frame(readxl::read_excel(path, grep("Where is it", names, value = TRUE), skip = 2))
  expect_equal(cells$adjusted_residual[1:10], as.data.frame(departures(x))$adjusted_residual, tolerance = 1e-12)
})

test_that("the example report is knitted, and its tables are real ones", {
  skip_if_not_installed("rmarkdown")
  skip_if_not(rmarkdown::pandoc_available(), "there is no pandoc here")
  source <- file.path(folder, "veyra-report.Rmd")
  file.copy(system.file("report", "veyra-report.Rmd", package = "fairlattice", mustWork = TRUE), source)
  word <- rmarkdown::render(source, "word_document", quiet = TRUE)
  document <- part_of(word, "word/document.xml")
  expect_length(xml2::xml_find_all(document, "//tbl"), 3L)
  cells <- xml2::xml_text(xml2::xml_find_all(document, "//tc"))
  expect_true(all(c("49.1", "+", "District heating") %in% cells))
  html <- xml2::read_html(rmarkdown::render(source, "html_document", quiet = TRUE))
  expect_length(xml2::xml_find_all(html, "//table"), 3L)
  expect_length(xml2::xml_find_all(html, "//pre"), 0L)
  expect_identical(xml2::xml_text(xml2::xml_find_all(html, "//caption"))[1], "Main heating by Island")
})

test_that("what R's own generics give is what the table holds", {
  x <- golden_lattice()
  counts <- as.table(x)
  expect_s3_class(counts, "table")
  expect_identical(dim(x), dim(counts))
  expect_identical(names(dimnames(x)), c("heating", "island"))
  expect_equal(sum(counts), x$layers[[1]]$base$n)
  expect_identical(x["Oil", "Tarn"], counts["Oil", "Tarn"])
  expect_equal(colSums(as.matrix(x, "column_percent")),
               c(Norrey = 100, Sandholm = 100, `Harrow Skerry` = 100, Tarn = 100,
                                                        `Outer Veyra` = 100))
  expect_identical(dim(lattice(demo_panel(), internet, leave, each = island)), c(4L, 2L, 5L))
  expect_error(as.matrix(x, "percent"), "column_percent", class = "fairlattice_error_choice")
  expect_true(any(grepl("Rao-Scott", format(summary(x)))))
  expect_s3_class(withr::with_pdf(NULL, plot(x)), "ggplot")
})
