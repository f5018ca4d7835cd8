# Workbooks: the golden sheets read back by another program, and sheets that
# calculate.

list2env(written_golden(), environment())

test_that("a workbook holds numbers, also as another program reads it", {
  skip_if_not_installed("readxl")
  path <- book_as("xlsx")
  if (has_program("soffice"))
    path <- by_office(path, "xlsx", withr::local_tempdir())
  names <- readxl::excel_sheets(path)
  expect_length(grep("^[0-9]+ ", names), length(sheets))
  for (k in seq_along(sheets)) {
    sheet <- sheets[[k]]
    if (length(sheet$inside)) next # figures in brackets have columns of their own
    cells <- suppressMessages(as.data.frame(
                                readxl::read_excel(
                                  path, names[k + 1L], col_names = FALSE,
                                  col_types = "list",
                                  .name_repair = "minimal")))
    at <- fairlattice:::workbook_columns(sheet)
    first <- which(bare(vapply(cells[[1]], function(v) as.character(v)[1],
                               "")) == bare(sheet$corner))
    first <- first[length(first)]
    if (!length(first))
      first <- which(vapply(cells[[at$value[1]]], function(v) is.numeric(v),
                            NA))[1L] - 1L
    for (j in seq_along(at$value)) {
      column <- cells[[at$value[j]]][first + seq_len(nrow(sheet$value))]
      number <-
        vapply(column, function(v) if (is.numeric(v)) v else NA_real_, 0)
      expect_equal(number, sheet$value[, j], tolerance = 1e-12,
                   info = paste(sheet$title, j))
      if (length(at$high) && at$high[j] <= length(cells)) {
        high <- cells[[at$high[j]]][first + seq_len(nrow(sheet$value))]
        expect_equal(vapply(high, function(v) {
          if (is.numeric(v)) v else NA_real_
        }, 0), sheet$high[, j], tolerance = 1e-12)
      }
    }
  }
  both <-
    lay_out(crosstab(demo_survey(), ferry, island), show = c("column", "n"))
  publish(both, path)
  cells <- suppressMessages(as.data.frame(
                              readxl::read_excel(
                                path, 2L, col_names = FALSE,
                                .name_repair = "minimal")))
  expect_true(any(grepl("column %", unlist(cells), fixed = TRUE)))
  expect_false(any(grepl("^[0-9.]+ \\([0-9,]+\\)$", unlist(cells))))
  formats <- as.character(part_of(path, "xl/styles.xml"))
  expect_true(grepl("formatCode=\"0.0\"", formats, fixed = TRUE))
  text <- as.character(part_of(path, "xl/workbook.xml"))
  expect_true(all(vapply(c("_xlnm.Print_Area", "_xlnm.Print_Titles"), grepl, NA,
                         text, fixed = TRUE)))
  expect_true(grepl("state=\"frozen\"",
                    as.character(part_of(path, "xl/worksheets/sheet2.xml")),
                    fixed = TRUE))
})

test_that(paste("a sheet that calculates comes to our figures, and to those",
                "of other counts that are typed in"), {
  skip_if_not_installed("readxl")
  skip_if_not(has_program("soffice"), "there is no office suite here")
  differences <- function(path) {
    unlist(lapply(grep("Calculation", readxl::excel_sheets(path), value = TRUE),
                  function(name) {
                    cells <- suppressMessages(
                      as.data.frame(
                        readxl::read_excel(
                          path, name, col_names = FALSE,
                          .name_repair = "minimal")))
                    off <- which(cells == "Difference", arr.ind = TRUE)
                    unlist(
                      lapply(
                        seq_len(nrow(off)),
                        function(k) {
                          rows <- seq(
                            off[k, 1] + 1L,
                            min(nrow(cells), off[k, 1] + nrow(cells)))
                          stop_at <- which(is.na(cells[rows, 1]))[-1L]
                          if (length(stop_at))
                            rows <- rows[seq_len(stop_at[1L] - 1L)]
                          columns <- if (off[k, 2] == 4L) 4L else
                            seq(off[k, 2], ncol(cells))
                          values <- suppressWarnings(
                            as.numeric(unlist(cells[rows, columns])))
                          values[!is.na(values)]
                        }))
                  }))
  }
  survey <- demo_survey()
  plain <- respondents(demo_records())
  a <- crosstab(plain, leave, tenure)
  b <- crosstab(among(plain, age < 50), leave, tenure)
  path <- file.path(folder, "live.xlsx")
  publish(list(a, crosstab(survey, heating, island),
               crosstab(survey, internet, leave, each = island),
               crosstab(respondents(demo_records(), weight = weight), ferry,
                        mode)), path, formulas = TRUE)
  recalculated <- withr::local_tempdir()
  off <- differences(by_office(path, "xlsx", recalculated))
  expect_gt(length(off), 600L)
  expect_lt(max(abs(off)), 1e-9)
  # other counts typed in: the formulas are the figures of the other table
  book <- openxlsx::loadWorkbook(path)
  name <- grep("Calculation", names(book), value = TRUE)[1L]
  openxlsx::writeData(book, name, unname(unclass(as.table(b))), 2L, 6L,
                      colNames = FALSE)
  other <- file.path(folder, "other.xlsx")
  openxlsx::saveWorkbook(book, other, overwrite = TRUE)
  cells <- suppressMessages(
    as.data.frame(readxl::read_excel(
      by_office(other, "xlsx", recalculated),
      name, col_names = FALSE,
      .name_repair = "minimal")))
  line <- function(label) {
    as.numeric(cells[utils::tail(which(cells[[1]] == label), 1L), 2])
  }
  pearson <- subset(as.data.frame(tests(b)), test == "pearson")
  expect_equal(line("Pearson chi-square"), pearson$statistic, tolerance = 1e-9)
  expect_equal(line("p"), pearson$p, tolerance = 1e-9)
  v <-
    subset(as.data.frame(strength(b, "all")), measure == "cramers_v")$estimate
  expect_equal(line("Cram\u00e9r's V"), v, tolerance = 1e-9)
  top <- which(cells[[1]] == "Column %")
  share <- as.matrix(b, "column_percent")
  expect_equal(as.numeric(unlist(cells[top + 2L, 2:(1 + ncol(share))])),
               unname(share[1, ]), tolerance = 1e-9)
  # what cannot calculate says so
  ticked <- crosstab(ticks(survey, reasons = c(reason_work, reason_ferry)),
                     reasons, island)
  expect_message(publish(ticked, path, formulas = TRUE),
                 "No sheet that calculates.*ticked")
  expect_error(publish(golden$withheld, path, formulas = TRUE), "withheld",
               class = "fairlattice_error_format")
  expect_error(publish(a, tempfile(fileext = ".docx"), formulas = TRUE),
               "is for .xlsx", fixed = TRUE, class = "fairlattice_error_format")
})

test_that("rows are as high as the labels in them", {
  data <- demo_records()
  long <- paste("The ferry should sail in every weather, whatever that costs and whoever has to",
                "pay for it")
  data$view <- factor(rep_len(c(long, "It should not"), nrow(data)))
  path <- withr::local_tempfile(fileext = ".xlsx")
  publish(crosstab(data, view, island), path)
  rows <- xml2::xml_find_all(part_of(path, "xl/worksheets/sheet2.xml"), "//row")
  heights <- stats::setNames(as.numeric(xml2::xml_attr(rows, "ht")), xml2::xml_attr(rows, "r"))
  labels <- suppressMessages(readxl::read_xlsx(path, 2L, readxl::cell_limits(c(1L, 1L), c(NA, 1L)),
                                               col_names = FALSE))[[1L]]
  expect_gte(heights[[as.character(match(long, labels))]], 31)
  expect_true(is.na(heights[[as.character(match("It should not", labels))]]))
})

test_that("formats of numbers have ids of their own, beyond those that every program knows", {
  path <- withr::local_tempfile(fileext = ".xlsx")
  suppressMessages(publish(crosstab(demo_survey(), heating, island), path, figure = "none"))
  folder <- withr::local_tempdir()
  zip::unzip(path, exdir = folder)
  styles <- paste(readLines(file.path(folder, "xl", "styles.xml"), warn = FALSE), collapse = "")
  id <- function(pattern) {
    as.integer(gsub("[^0-9]", "", regmatches(styles, gregexpr(pattern, styles))[[1]]))
  }
  defined <- id("<numFmt numFmtId=\"[0-9]+\"")
  expect_true(length(defined) > 1 && all(defined >= 164) && !anyDuplicated(defined))
  expect_setequal(setdiff(id(" numFmtId=\"[0-9]+\""), c(0, defined)), integer())
})
