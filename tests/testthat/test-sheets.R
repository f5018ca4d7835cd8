# Whole sheets as data, held against what was looked at and found right: what stands where, as which kind, with which
# role and marks. Where a change is meant, FAIRLATTICE_WRITE_SHEETS=1 writes them anew, to be read in the difference.

# One line a column, then one a line of the sheet with all its cells, then the lines of text.
sheet_as_text <- function(sheet) {
  written <- fairlattice:::sheet_text(sheet)
  cell <- function(i, j) {
    paste0(written[i, j], if (nzchar(sheet$kind[i, j])) paste0("|", sheet$kind[i, j]),
           if (nzchar(sheet$mark[i, j])) paste0("|", sheet$mark[i, j]), if (sheet$peak[i, j]) "|peak",
           if (!is.null(sheet$letters) && nzchar(sheet$letters[i, j])) paste0("|", sheet$letters[i, j]))
  }
  row <- function(i) {
    cells <- vapply(seq_len(nrow(sheet$columns)), function(j) cell(i, j), "")
    paste(c(sprintf("%s <%s> %s", sheet$stub$role[i], sheet$stub$label[i], sheet$stub$figure[i]), cells),
          collapse = " ; ")
  }
  field <- function(name) if (length(sheet[[name]])) paste0(name, ": ", sheet[[name]])
  columns <- sheet$columns
  c(field("title"), if (length(sheet$layer)) field("layer"), field("subtitle"), field("corner"),
    sprintf("column %s <%s> %s", columns$role, paste(columns$spanner, columns$heading, columns$label, sep = " / "),
            columns$figure),
    vapply(seq_len(nrow(sheet$stub)), row, ""), field("key"), field("tests"), field("strength"),
    if (nrow(sheet$cautions)) paste(sheet$cautions$severity, sheet$cautions$text, sep = ": "), field("notes"),
    field("account"))
}

golden <- local({
  panel <- demo_panel()
  ages <- function(breaks) band(panel, age, breaks = breaks)
  alike <- regroup(panel, internet, Poor = c("Very poor", "Poor"), Good = c("Good", "Very good"))
  scripts <- data.frame(
    view = factor(rep(c("Entirely dissatisfied with the ferry and with all that belongs to it, above all in winter",
                        paste("\u0394\u03c5\u03c3\u03b1\u03c1\u03b5\u03c3\u03c4\u03b7\u03bc\u03ad\u03bd\u03bf\u03b9",
                              "\u03bc\u03b5 \u03c4\u03bf \u03c0\u03bb\u03bf\u03af\u03bf"),
                        paste0("\u5bf9\u6e21\u8f6e\u975e\u5e38\u6ee1\u610f\u7684\u5c45\u6c11\u548c\u4ed6\u4eec",
                               "\u7684\u5bb6\u4eba")), c(40, 35, 45))),
    island = factor(rep(c("The northern harbours and everything beyond them", "\u65bd\u5c9b"), 60)))
  list(
    two_by_two = lay_out(lattice(alike, leave, internet), lines = "usual"),
    nets_means_letters = lay_out(lattice(net(score(ages(c(18, 25, 35, 45, 55, 65, 75)), ferry), ferry,
                                             Satisfied_all = c("Satisfied", "Very satisfied")), ferry, age),
                                 marks = "letters", lines = "headline"),
    banner = lay_out(lattice(ages(c(18, 25, 33, 41, 49, 57, 65, 73, 81)), ferry, c(island, work, age, way_off)),
                     lines = "usual"),
    two_down = lay_out(lattice(ticks(panel, reasons = c(reason_work, reason_ferry)), c(ferry, internet),
                               c(leave, reasons)),
                       show = c("column", "n"), lines = "none"),
    sixty_rows = lay_out(lattice(band(panel, age, breaks = c(16, 18:76)), age, leave), lines = "headline"),
    each = lay_out(lattice(panel, internet, leave, each = island), show = c("column", "n"), lines = "headline"),
    ticks = lay_out(lattice(ticks(panel, reasons = c(reason_work, reason_housing, reason_ferry)), reasons, island),
                    marks = "letters", lines = "usual"),
    withheld = lay_out(lattice(panel, ferry, tenure), show = c("n", "column"), withhold_under = 20),
    rounded = lay_out(lattice(panel, ferry, tenure), show = c("n", "column"), round_to = 10),
    scripts = lay_out(lattice(scripts, view, island), lines = "headline"),
    seven = lay_out(lattice(demo_records()[1:7, ], leave, mode), lines = "usual"),
    given = lay_out(lattice(panel, season, shares = c(Spring = 25, Summer = 40, Autumn = 25, Winter = 10)),
                    lines = "headline"),
    one_way = lay_out(lattice(among(panel, age >= 18 & island %in% c("Norrey", "Tarn")), ferry), lines = "usual"),
    headings = lay_out(lattice(subdivide(panel, leave, by = internet), ferry, leave_by_internet), marks = "letters",
                       base_rows = "top", lines = "none"))
})

test_that("golden sheets hold what they held", {
  for (name in names(golden)) {
    text <- unlist(lapply(golden[[name]], sheet_as_text))
    path <- test_path("fixtures", "sheets", paste0(name, ".txt"))
    if (nzchar(Sys.getenv("FAIRLATTICE_WRITE_SHEETS"))) writeLines(enc2utf8(text), path, useBytes = TRUE)
    expect_identical(text, readLines(path, encoding = "UTF-8"), info = name)
  }
})

test_that("golden sheets are drawn whole at any width: no line too long, no figure lost, every label once a panel", {
  for (name in names(golden)) for (width in c(60, 80, 200)) {
    sheets <- golden[[name]]
    lines <- format(sheets, width = width)
    expect_lte(max(cli::ansi_nchar(lines, "width")), width)
    figures <- unlist(lapply(sheets, fairlattice:::sheet_text))
    figures <- fairlattice:::plain_text(figures[nzchar(figures)])
    # as a whole word, as often as the sheets hold it (bases and shares may be alike, so at least)
    count <- function(one) {
      sum(lengths(regmatches(lines, gregexpr(one, lines, fixed = TRUE))))
    }
    often <- tapply(figures, figures, length)
    expect_true(all(vapply(names(often), count, 0L) >= often), info = paste(name, width))
  }
})

test_that("the page of a golden sheet has its cells in order, under heads that reach over all of them", {
  for (name in names(golden)) {
    path <- withr::local_tempfile(fileext = ".html")
    publish(golden[[name]], path, figure = "none")
    page <- xml2::read_html(path)
    for (k in seq_along(golden[[name]])) {
      sheet <- golden[[name]][[k]]
      table <- xml2::xml_find_all(page, "//table")[[k]]
      cells <- lapply(xml2::xml_find_all(table, ".//tr[td]"), function(row) {
        vapply(xml2::xml_find_all(row, "./td"), function(cell) xml2::xml_text(xml2::xml_find_first(cell, "./text()")),
               "")
      })
      cells <- do.call(rbind, cells)
      text <- fairlattice:::sheet_text(sheet)[sheet$stub$role != "heading", , drop = FALSE]
      expect_identical(ifelse(is.na(cells), "", trimws(cells)), text, info = name, ignore_attr = TRUE)
      # every row of the head covers all columns, cells from above counted in
      heads <- xml2::xml_find_all(table, "./thead/tr")
      covered <- integer(length(heads))
      for (i in seq_along(heads)) for (head in xml2::xml_find_all(heads[[i]], "./th")) {
        of <- function(what) as.integer(xml2::xml_attr(head, what, default = "1"))
        down <- seq(i, length.out = of("rowspan"))
        covered[down] <- covered[down] + of("colspan")
      }
      expect_identical(covered, rep(nrow(sheet$columns) + 1L, length(heads)), info = name)
    }
  }
})
