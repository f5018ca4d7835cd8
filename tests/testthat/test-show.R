test_that(paste("the printed table holds every figure of its sheet, at any",
                "width, in colour and without"), {
  x <- crosstab(demo_survey(), heating, tenure)
  sheet <- sheets_of(x)[[1]]
  for (width in c(40, 72, 200)) {
    for (colours in c(1, 256)) {
      withr::local_options(cli.num_colors = colours)
      lines <- format(x, width = width)
      expect_lte(max(cli::ansi_nchar(lines, "width")), width)
      figures <- unlist(regmatches(
        lines,
        gregexpr("[0-9,]+\\.[0-9](?= |$)", lines, perl = TRUE)))
      expect_true(all(grep("\\.", sheet_text(sheet), value = TRUE) %in%
                        figures))
      stub <- sum(grepl("^Oil ", lines)) # every survey repeats the stub
      expect_equal(stub, sum(grepl("^Main heating  ", lines)))
    }
  }
})

test_that("every sign has a plain twin", {
  withr::local_options(cli.unicode = FALSE)
  expect_false(any(grepl("[^ -~]",
                         format(crosstab(demo_survey(), heating, island),
                                width = 80))))
})

test_that(paste("percentages, totals, bases and marks stand where the base of",
                "the percentages puts them"), {
  for (percent in c("column", "row", "total")) {
    x <- crosstab(demo_survey(), heating, island, percent = percent)
    sheet <- sheets_of(x)[[1]]
    d <- residuals(x)
    s <- shares(x)
    expect_equal(sheet$value[1:5, 1:5], matrix(100 * s$share, 5))
    expect_equal(sheet$mark[1:5, 1:5], matrix(d$mark, 5))
    n <- sheet$value[sheet$kind == "count"]
    margin <- if (percent == "row")
      tapply(s$n, factor(s$down, unique(s$down)), sum) else
      tapply(s$n, factor(s$across, unique(s$across)), sum)
    expect_equal(n, c(as.vector(margin), sum(s$n)))
    hundred <- if (percent == "row") sheet$value[, 6] else
      if (percent == "column") sheet$value[6, ] else sheet$value[6, 6]
    expect_true(all(hundred == 100))
  }
})

test_that("the page is whole and accessible", {
  x <- crosstab(demo_survey(), heating, island)
  page <- withr::local_tempfile(fileext = ".html")
  publish(x, page)
  text <- paste(readLines(page, encoding = "UTF-8"), collapse = "\n")
  # one script, which the page's policy names by its hash, and blocks of data,
  # which none runs
  expect_false(grepl("http://|https://|<link", text))
  expect_identical(sub("type=\"application/json\" ", "",
                       regmatches(text, gregexpr("<script[^>]*>", text))[[1]]),
                   c("<script class=\"model\">",
                     "<script id=\"fair-lattice-tables\">",
                     "<script id=\"page-words\">", "<script>"))
  expect_lt(nchar(sub(".*<script>", "", text)), 60000)
  for (piece in c("<html lang=\"en\">", "<style>", "<caption>", "scope=\"col\"",
                  "scope=\"colgroup\"", "scope=\"row\"", "<tfoot>",
                  "alt=\"Bars of 100%", "data:image/svg+xml;base64,",
                  "more than expected", "49.1")) expect_true(
    grepl(piece, text, fixed = TRUE), info = piece)
  expect_equal(lengths(regmatches(text, gregexpr("<td", text))),
               length(sheets_of(x)[[1]]$value))
  hostile <- data.frame(a = c("<b>x</b>", "y & z"), b = c("p\"q", "r"))
  publish(crosstab(hostile, a, b), page, figure = "none")
  expect_true(any(grepl("&lt;b&gt;x", readLines(page))) &&
                !any(grepl("<b>x", readLines(page))))
})

test_that("figures draw what was computed", {
  x <- crosstab(demo_survey(), heating, island)
  shares <- ggplot2::layer_data(ggplot2::autoplot(x, "shares"), 1)
  expect_equal(sort(shares$xmax - shares$xmin),
               sort(as.data.frame(x)$column_percent))
  labels <- ggplot2::layer_data(ggplot2::autoplot(x, "residuals"), 2)$label
  d <- residuals(x)
  expect_setequal(labels, residuals_data(figure_data(x))$label)
  expect_equal(sum(grepl("*", labels, fixed = TRUE)), sum(d$mark != ""))
  expect_error(ggplot2::autoplot(x, "pie"), class = "fairlattice_error_choice")
})

test_that(paste("a table read back from JSON prints the same, gives the same",
                "figures and turns the same"), {
  tables <- list(crosstab(demo_survey(), heating, island),
                 crosstab(
                   demo_survey(), ferry, way_off, each = island,
                   percent = "row"),
                 crosstab(data.frame(a = c("x", "x"), b = c("p", "q")), a, b))
  for (x in tables) {
    path <- withr::local_tempfile(fileext = ".json")
    publish(x, path)
    y <- read_tables(path)
    expect_identical(format(y), format(x))
    expect_identical(format(flip(y)), format(flip(x)))
    expect_identical(as.data.frame(y), as.data.frame(x)) # every digit
    expect_equal(residuals(y), residuals(x), ignore_attr = TRUE)
    expect_equal(shares(y, "total"), shares(x, "total"), ignore_attr = TRUE)
    expect_error(residuals(y, alpha = 0.2), "read from a file",
                 class = "fairlattice_error_records_gone")
  }
})

test_that("what is not a table is refused", {
  bad <- c("[1, 2" = "not JSON", "{\"a\": 1}" = "not a table",
           "{\"format\": \"fairlattice-table\", \"version\": 9}" = "version 9",
           "{\"format\": \"fairlattice-table\", \"version\": 1}" = "has no \"down\"")
  for (text in names(bad)) expect_error(read_tables(file_with(text, ".json")),
                                        bad[[text]],
                                        class = "fairlattice_error_not_a_table")
  path <- withr::local_tempfile(fileext = ".json")
  publish(crosstab(demo_survey(), heating, island), path)
  text <- readLines(path)
  writeLines(sub("\"n\": 62,?", "\"n\": \"many\",", text), path)
  if (!identical(readLines(path), text))
    expect_error(read_tables(path), "is not numeric",
                 class = "fairlattice_error_not_a_table")
})

test_that("a file that cannot be written leaves the old one and nothing half-written", {
  x <- crosstab(demo_survey(), heating, island)
  folder <- withr::local_tempdir()
  path <- file.path(folder, "t.json")
  writeLines("old", path)
  expect_error(write_beside(path, function(file) {
    writeLines("half", file)
    stop("the disk is full")
  }, NULL), "the disk is full", class = "fairlattice_error_not_written")
  expect_identical(readLines(path), "old")
  expect_identical(list.files(folder, all.files = TRUE, no.. = TRUE), "t.json")
  expect_error(publish(x, file.path(folder, "none", "t.json")), "no folder",
               class = "fairlattice_error_no_folder")
  expect_error(publish(x, file.path(folder, "t.doc")),
               class = "fairlattice_error_format")
  dir.create(file.path(folder, "d.json"))
  expect_error(publish(x, file.path(folder, "d.json")), "is a folder",
               class = "fairlattice_error_not_written")
})

test_that("the list of questions fits its width, however long what stands on the right", {
  data <- demo_records(60)
  attr(data$ferry, "label") <- strrep("A very long title of a question that goes on ", 4)
  data$many <- factor(seq_len(60))
  for (width in c(90, 100, 120)) {
    lines <- cli::ansi_strip(format(look(data), width = width))
    expect_lte(max(text_width(lines)), width)
  }
})

test_that("a list of questions keeps to its width, whatever they are called", {
  data <- as.data.frame(lapply(stats::setNames(1:45, sprintf("q%02d", 1:45)), function(k) {
    structure(rep(c("Yes", "No", NA), c(5, 4, k %% 3)[c(1, 2, 3)])[1:9], label = strrep("long ", 30))
  }))
  whole <- paste(rep("name", 12), collapse = "_")
  names(data)[7] <- whole
  names(data)[8] <- "amount_of_money_of_the_household"
  for (width in c(60, 80, 200)) {
    lines <- format(look(data), width = width)
    expect_true(all(nchar(lines[-1L]) <= width), info = width)
    expect_length(grep("2 answers", lines), 45L)
    expect_identical(sum(startsWith(lines, whole)), 1L)
  }
  expect_true(whole %in% format(look(data), width = 80))
})
