# What comes from elsewhere and what leaves: other programs' columns, labels
# that are formats, links and devices, packages that are damaged, decimal marks.
# Each was once wrong with status 0.

test_that("text of a user reaches no format: a tidy file holds the labels as they are", {
  labels <-
    c("75% or more", "100% satisfied", "%s %d %n", "another answer", "50%")
  data <- data.frame(a = rep(labels, 8), b = rep(c("x%y", "%"), each = 20))
  path <- withr::local_tempfile(fileext = ".tidy.csv")
  publish(crosstab(data, a, b), path)
  read <- utils::read.csv(path, check.names = FALSE)
  expect_setequal(read$down, labels)
  expect_setequal(read$across, c("x%y", "%"))
  expect_equal(sum(read$n), 40)
})

# Whether an expression is of words that stand in the code, put together in any
# way.
is_plain_text <- function(e) {
  if (is.character(e) || is.numeric(e) || is.null(e)) return(TRUE)
  word <- if (is.call(e)) as.character(e[[1L]])[1L] else ""
  # of a choice the condition is no part
  parts <- switch(word, paste = , paste0 = , c = , "(" = ,
                  strrep = as.list(e)[-1L], "if" = ,
                  switch = as.list(e)[-(1:2)])
  length(parts) > 0L &&
    all(vapply(parts, function(part) {
      identical(part, quote(expr = )) || is_plain_text(part)
    }, NA))
}

# The formats and replacements in an expression that are not of such words.
odd_formats <- function(e) {
  if (!is.call(e)) return(character())
  word <- if (is.symbol(e[[1L]])) as.character(e[[1L]]) else ""
  own <- switch(word, sprintf = , gettextf = list(e[[2L]]), sub = , gsub = {
    call <- match.call(get(word), e)
    if (!isTRUE(call$fixed)) list(call$replacement)
  })
  own <- Filter(Negate(is_plain_text), own)
  found <- vapply(own, function(part) deparse(part)[1L], "")
  if (identical(e[[1L]], quote(utils::capture.output)))
    found <- c(found, "capture.output")
  parts <- Filter(function(part) !identical(part, quote(expr = )), as.list(e))
  c(found, unlist(lapply(parts, odd_formats)))
}

test_that("no code takes text for a format, a pattern or a replacement", {
  files <- list.files(test_path("..", "..", "R"), "[.]R$", full.names = TRUE)
  skip_if(!length(files), "the source is not here")
  found <- unlist(lapply(files, function(file) {
    odd <-
      unlist(lapply(as.list(parse(file, keep.source = FALSE)), odd_formats))
    if (length(odd)) paste(basename(file), odd)
  }))
  # constants by name, and what was made safe on the line before
  known <- c("show-spreadsheet.R fill_xml", "show-spreadsheet.R style_xml",
             "show-word-styles.R border",
             "show-word-styles.R sprintf(\"\\\\1<w:rFonts",
             "show-chart.R paste0(\"\\\\1\", book)",
             "show-word.R sprintf(\"<w:sectPr>",
             "tally-format.R setting(\"minus\")",
             "show-slides.R capture.output")
  expect_identical(found[!vapply(found, function(one) any(startsWith(one, known)), NA)],
                   character())
})

test_that("numbers of other programs keep what they say is missing, at every door", {
  age <- c(18, 25, 98, 99, 60, 70, NA, 40)
  tag <- missing_for_kernel(97L)
  columns <- list(
    values = structure(age, na_values = c(98, 99)),
    range = structure(age, na_range = c(98, 99)),
    labelled = structure(age, na_values = c(98, 99),
                         labels = c("Don't know" = 98, Refused = 99),
                         class = "own_labelled"),
    tagged = structure(replace(age, 3:4, tag), labels = c(Refused = tag)))
  for (name in names(columns)) {
    data <- data.frame(g = rep(c("p", "q"), 4))
    data$age <- columns[[name]]
    gone <- function(x) sum(findings(x)$base$left_out$records)
    bands <- crosstab(band(data, age, breaks = c(18, 60)), age)
    expect_equal(as.data.frame(bands)$n, c(3, 2), info = name)
    expect_equal(gone(bands), 3, info = name)
    expect_equal(gone(crosstab(data, age, g)), 3, info = name)
    expect_equal(sum(findings(crosstab(among(data, age >= 60), g))$layers$n), 2,
                 info = name)
    expect_equal(sum(findings(crosstab(among(data, "age >= 60"), g))$layers$n),
                 2, info = name)
    expect_equal(means(crosstab(score(data, age), age, g))$n[1:2], c(2, 3),
                 info = name)
  }
  expect_true("Refused" %in%
                findings(crosstab(data, age, g))$base$left_out$detail)
  # a tag beside codes that are answers
  data$age <- structure(c(1, 2, tag, NA, 1, 2, 1, 1),
                        labels = c(Yes = 1, No = 2, Refused = tag))
  expect_equal(findings(crosstab(data, age))$base$left_out$records, c(1, 1))
  expect_error(crosstab(data.frame(a = structure(
                                     1:2, labels = c(A = 1, B = 1))), a),
               class = "fairlattice_error_column_type")
})

test_that(paste("whole numbers of 64 bits are numbers, or text where they are",
                "too large, and missing ones are missing"), {
  whole <- bit64::as.integer64(c(5, 7, NA, 5))
  data <- data.frame(b = c("x", "y", "x", "y"))
  data$i <- whole
  data$w <- bit64::as.integer64(c(1, 2, 3, 4))
  x <- crosstab(respondents(data, weight = w), i, b)
  expect_identical(rownames(x$layers[[1]]$n), c("5", "7"))
  expect_equal(sum(x$layers[[1]]$n), 3)
  expect_equal(sum(x$layers[[1]]$weighted), 7)
  data$i <- bit64::as.integer64(
    c("9007199254740993", "9007199254740994", NA, "9007199254740993"))
  expect_identical(rownames(crosstab(data, i)$layers[[1]]$n),
                   c("9007199254740993", "9007199254740994"))
  expect_identical(look(data, "i")$n, c(2, 1, 1))
})

test_that("R's own decimal mark changes nothing that is written", {
  table <- crosstab(demo_survey(), ferry, island)
  written <- function() {
    folder <- withr::local_tempdir()
    for (ending in c("json", "tidy.csv", "txt", "tex")) publish(
      table, file.path(folder, paste0("t.", ending)))
    publish(table, file.path(folder, "t.xlsx"))
    parts <- file.path(folder, "parts")
    utils::unzip(file.path(folder, "t.xlsx"), exdir = parts)
    files <- c(list.files(folder, "^t[.](json|tidy|txt|tex)",
                          full.names = TRUE),
               file.path(parts, "xl/worksheets/sheet1.xml"))
    c(lapply(files, readLines, warn = FALSE),
      list(format(table), write_up(table), format(strength(table)),
           cautions(table)$text))
  }
  point <- written()
  withr::local_options(OutDec = ",")
  expect_identical(written(), point)
  expect_identical(getOption("OutDec"), ",")
})

test_that("a link is followed to its file; devices, pipes and sockets are no files to write", {
  skip_on_os("windows")
  folder <- withr::local_tempdir()
  at <- function(name) file.path(folder, name)
  table <- crosstab(records_of(hand_2x2), down, across)
  writeLines("old", at("old.txt"))
  file.symlink(at("old.txt"), at("link.txt"))
  publish(table, at("link.txt"))
  expect_identical(Sys.readlink(at("link.txt")), at("old.txt"))
  expect_gt(file.size(at("old.txt")), 100)
  file.symlink("later.txt", at("dangling.txt"))
  publish(table, at("dangling.txt"))
  expect_true(file.exists(at("later.txt")) &&
                nzchar(Sys.readlink(at("dangling.txt"))))
  refused <- function(name, why) {
    before <- list.files(folder, all.files = TRUE)
    expect_error(publish(table, at(name)), why,
                 class = "fairlattice_error_not_written")
    expect_setequal(list.files(folder, all.files = TRUE), before)
  }
  file.symlink(at("nowhere/x.txt"), at("lost.txt"))
  refused("lost.txt", "folder that is not there")
  file.symlink(at("round.txt"), at("round.txt"))
  refused("round.txt", "leads to itself")
  system2("mkfifo", at("pipe.txt"))
  refused("pipe.txt", "a device, a pipe or a socket")
  file.symlink(at("pipe.txt"), at("to-pipe.txt"))
  refused("to-pipe.txt", "a device, a pipe or a socket")
  # root alone can
  made <- suppressWarnings(system2("mknod", c(at("device.txt"), "c", "1", "3"),
                                   stderr = FALSE)) == 0L
  if (made) {
    refused("device.txt", "a device, a pipe or a socket")
    expect_identical(kind_of_file_kernel(at("device.txt")), 3L)
  }
})

test_that("what a living process of anybody has left is not cleared away", {
  skip_on_os("windows")
  expect_identical(is_running_kernel(c(Sys.getpid(), 1L)), c(TRUE, TRUE)) # the first is not ours
  ended <- processx::process$new("true")
  ended$wait()
  expect_false(is_running_kernel(ended$get_pid()))
  folder <- withr::local_tempdir()
  mark <- sub("[0-9]+-$", "", paste0(".", temporary_mark()))
  left <- file.path(folder, sprintf("%s%d-x.csv", mark, c(1L, ended$get_pid())))
  file.create(left)
  clear_left_behind(folder, all.files = TRUE)
  expect_identical(file.exists(left), c(TRUE, FALSE))
})

test_that("a command writes over nothing that it reads, and a table over no records of its own", {
  folder <- withr::local_tempdir()
  at <- function(name) file.path(folder, name)
  for (name in c("veyra.csv", "veyra.schema.json", "house.yml")) file.copy(
    demo_file(name), folder)
  before <- lapply(list.files(folder, full.names = TRUE), tools::md5sum)
  cross <- c("crosstab", at("veyra.csv"), "--down", "ferry", "--across",
             "island", "--out")
  for (out in c("veyra.csv", "veyra.schema.json")) {
    run <- call_main(cross, at(out))
    expect_identical(run$status, 1L)
    expect_match(run$err,
                 "a file that this command reads|holds the records of this table",
                 info = out)
  }
  file.symlink(at("veyra.csv"), at("other.csv"))
  expect_identical(call_main(cross, at("other.csv"))$status, 1L)
  expect_error(publish(crosstab(read_records(at("veyra.csv")), ferry, island),
                       at("veyra.csv")),
               class = "fairlattice_error_not_written")
  expect_identical(lapply(list.files(folder, "^[vh]", full.names = TRUE),
                          tools::md5sum), before)
})

test_that("text that no XML may hold, or that a spreadsheet would work out, is written out", {
  data <- data.frame("=q" = rep(c("a\ufffeb", "c\u001b[31md", "\uff1d1+1",
                                  "\u001b[1mbold"), 5),
                     p = rep(c("x\uffff", "y"), 10), check.names = FALSE)
  attr(data[["=q"]], "label") <- "\u001b[31mred"
  x <- crosstab(data, "=q", p)
  folder <- withr::local_tempdir()
  for (ending in c("docx", "xlsx", "svg", "html", "txt", "csv", "tidy.csv",
                   "json")) {
    path <- file.path(folder, paste0("t.", ending))
    publish(x, path)
    if (ending %in% c("docx", "xlsx")) {
      parts <- file.path(folder, ending)
      utils::unzip(path, exdir = parts)
      for (part in list.files(parts, "[.](xml|rels)$", recursive = TRUE,
                              full.names = TRUE)) expect_no_error(
        xml2::read_xml(part))
      expect_identical(as.data.frame(read_tables(path))$n, as.data.frame(x)$n)
    } else if (ending == "svg") {
      expect_no_error(xml2::read_xml(path))
    } else {
      text <- paste(readLines(path, encoding = "UTF-8", warn = FALSE),
                    collapse = "\n")
      expect_false(grepl("\u001b", text, fixed = TRUE), info = ending)
      if (ending %in% c("csv", "tidy.csv"))
        expect_false(grepl("(^|,|\n)\"?(=|\uff1d)", text), info = ending)
    }
  }
})

test_that(paste("a template that is damaged, declares something, is too large",
                "or leads out of its folder is refused"), {
  whole <- withr::local_tempfile(fileext = ".docx")
  table <- crosstab(records_of(hand_2x2), down, across)
  publish(table, whole)
  out <- withr::local_tempfile(fileext = ".docx")
  refused <- function(template, why) {
    expect_error(publish(table, out, template = template), why,
                 class = "fairlattice_error_template")
    expect_false(file.exists(out))
  }
  changed <- function(change) {
    folder <- withr::local_tempfile(.local_envir = parent.frame())
    utils::unzip(whole, exdir = folder)
    change(folder)
    path <-
      withr::local_tempfile(fileext = ".docx", .local_envir = parent.frame())
    zip::zip(path, list.files(folder, all.files = TRUE, no.. = TRUE),
             root = folder)
    path
  }
  edit <- function(part, from, to) {
    function(folder) {
      path <- file.path(folder, part)
      writeLines(sub(from, to,
                     paste(readLines(path, warn = FALSE), collapse = "\n"),
                     fixed = TRUE), path)
    }
  }
  refused(changed(edit("word/styles.xml", "</w:styles>", "")),
          "styles.xml.*not well-formed XML")
  refused(changed(edit("word/document.xml", "<w:document",
                       "<!DOCTYPE x><w:document")), "declares a document type")
  refused(changed(function(folder) {
    writeBin(raw(101 * 2^20), file.path(folder, "word", "media.bin"))
  }), "more than 100 MiB")
  refused(changed(function(folder) {
    unlink(file.path(folder, "word", "document.xml"))
  }), "holds no word/document.xml")
  for (part in c("word/styles.xml", "word/_rels", "[Content_Types].xml")) {
    refused(
      changed(function(folder) {
        unlink(file.path(folder, part), recursive = TRUE, expand = FALSE)
      }), "It holds no")
  }
  bytes <- readBin(whole, "raw", 1e7)
  cut <- file_with("", ".docx")
  writeBin(utils::head(bytes, 5000L), cut)
  refused(cut, "cut short or damaged")
  middle <- replace(bytes, 700:720, as.raw(1))
  writeBin(middle, cut)
  refused(cut, "cannot be read as a template")
  publish(table, out, template = whole)
  expect_true(file.exists(out))
  # presentations, which another library opens
  whole <- withr::local_tempfile(fileext = ".pptx")
  publish(table, whole)
  folder <- withr::local_tempfile()
  utils::unzip(whole, exdir = folder)
  out <- withr::local_tempfile(fileext = ".pptx")
  for (part in c("ppt/slideLayouts", "ppt/slideMasters", "ppt/theme",
                 "docProps")) {
    other <- withr::local_tempfile()
    dir.create(other)
    file.copy(list.files(folder, full.names = TRUE), other, recursive = TRUE)
    unlink(file.path(other, part), recursive = TRUE)
    template <- withr::local_tempfile(fileext = ".pptx")
    zip::zip(template, list.files(other, all.files = TRUE, no.. = TRUE),
             root = other)
    refused(template, "It holds no")
  }
})

test_that("a table whose numbers were changed is refused, wherever it lies", {
  tables <- list(crosstab(demo_survey(), heating, island),
                 crosstab(demo_records(), leave, mode),
                 crosstab(demo_records(), ferry),
                 crosstab(net(demo_survey(), ferry,
                              Good = c("Satisfied", "Very satisfied")), ferry,
                          island),
                 crosstab(demo_survey(), leave, tenure, each = mode),
                 crosstab(ticks(demo_survey(),
                                reasons = c(reason_work, reason_housing)),
                          reasons, island))
  withr::local_seed(28)
  for (table in tables) {
    path <- withr::local_tempfile(fileext = ".json")
    publish(table, path)
    expect_no_error(read_tables(path))
    lines <- readLines(path, encoding = "UTF-8")
    figures <- grep("^ +\"[a-z_0-9]+\": -?[0-9.e+-]+,?$", lines)
    figures <- figures[figures > grep("^  \"base\"", lines)]
    for (bare in c(FALSE, TRUE)) {
      accepted <- 0
      for (at in sample(figures, 20L)) {
        changed <- lines
        was <- as.numeric(sub(",$", "", sub(".*: ", "", lines[at])))
        changed[at] <- sub(": -?[0-9.e+-]+",
                           sprintf(": %.15g", if (was == 0) 3 else -was - 1),
                           lines[at])
        # of a file by another program, which holds no digest, what is said
        # twice gives it away
        if (bare) changed <- changed[!grepl("^  \"digest\"", changed)]
        writeLines(changed, path, useBytes = TRUE)
        accepted <- accepted + tryCatch({
          read_tables(path)
          1
        }, fairlattice_error_not_a_table = function(e) 0)
      }
      expect_lte(accepted, if (bare) 6 else 0)
    }
  }
})

test_that("odd input is told in our words", {
  says <- function(code, why,
                   class = "fairlattice_error") {
    expect_error(suppressMessages(code), why, class = class)
  }
  plan <- file_with("records: veyra.csv\nmost_groups: 99999999999\nchapters: []\n",
                    ".yml")
  says(read_plan(plan), "There is no key \"most_groups\"")
  expect_identical(parse_yaml("a: 3000000000\nb: 12", stop),
                   list(a = 3e9, b = 12L))
  says(recheck("a,b\n\"x,1\ny,2"), "quotation mark that is not closed")
  says(recheck(hand_2x2, statistic = -1), "must be 0 or more")
  says(recheck(hand_2x2, p = 1.5), "between 0 and 1")
  says(crosstab(respondents(data.frame(a = c("x", "y"), w = 1e-200),
                            weight = w), a), "0 or at least 1e-100")
  foreign <-
    file_with("this is no database, however long it may be: it is text", ".db")
  run <- call_main("crosstab", "--database", paste0("sqlite:", foreign),
                   "--table", "t", "--down", "a")
  expect_identical(run$status, 1L)
  expect_match(run$err, "^fairlattice: The database could not answer")
  folder <- withr::local_tempdir()
  writeLines('{"resources": [{"name": "r", "path": "x.csv", "schema": ""}]}',
             file.path(folder, "datapackage.json"))
  writeLines("a,b\n1,2", file.path(folder, "x.csv"))
  says(read_records(file.path(folder, "datapackage.json")), "must be one file")
  says(read_records(folder), "records_in_chunks")
  says(read_records(demo_file("veyra.csv"), sheet = "x"),
       "`sheet` is for .xlsx, .ods files")
  # two columns of which neither varies, with letters
  constant <-
    data.frame(n = rep(1:2, each = 20), b = rep(c("p", "q"), each = 20))
  means <- crosstab(score(constant, n), n, b)
  expect_no_error(format(lay_out(means, marks = "letters")))
  expect_identical(attr(means(means), "pairs")[["p"]], NA_real_)
  fixed <- crosstab(respondents(data.frame(
                                  a = rep(c("x", "y"), each = 40),
                                  b = rep(c("p", "q"), each = 40),
                                  c = rep(1:20, 4)), cluster = c), a, b)
  expect_no_error(format(lay_out(fixed, marks = "letters")))
  zero <- file_with("a,b\nx,1\n", ".jsonl")
  writeBin(as.raw(c(charToRaw("{\"a\": 1}\n"), 0, charToRaw("{\"a\": 2}\n"))),
           zero)
  says(read_records(zero), "JSON")
  says(crosstab(respondents(records_in_chunks(zero)), a), "zero byte")
})

test_that("tables of counts lose nobody to a guess", {
  says <- function(text, why) {
    expect_error(crosstab_of_counts(text), why,
                 class = "fairlattice_error_counts")
  }
  says("Yes\t12\t5\nNo\t3\t20", "only numbers after \"Yes\"")
  says("Yes 12 5\nNo 3 20", "is one cell")
  years <- crosstab_of_counts("\t2030\t2031\nYes\t12\t5\nNo\t3\t20")
  expect_identical(colnames(years$layers[[1]]$n), c("2030", "2031"))
})

test_that("a table turned round shows what it showed", {
  counts <- crosstab(demo_records(), tenure, island, percent = "none")
  expect_match(paste(format(flip(counts)), collapse = "\n"),
               "Numbers of respondents")
  expect_identical(format(flip(flip(counts))), format(counts))
  run <- call_main("crosstab", demo_file("veyra.csv"), "--down", "tenure",
                   "--across", "island", "--percent", "none", "--flip")
  expect_match(run$out, "Numbers of respondents")
  laid <- attr(lay_out(crosstab(demo_records(), tenure, island),
                       show = c("row", "n"), title = "T"), "of")
  turned <- flip(laid)
  expect_identical(turned$layout[c("show", "title")],
                   list(show = c("column", "n"), title = "T"))
  # another base takes the place of the counts
  expect_match(paste(format(rechoose(counts, percent = "row")),
                     collapse = "\n"), "Row percentages")
})

test_that("what stands in a table is told under it, and nothing beside it", {
  table <- crosstab(demo_survey(), heating, island)
  hidden <- paste(format(lay_out(table, hide_under = 400)), collapse = "\n")
  expect_match(hidden, "+ more, ", fixed = TRUE)
  expect_match(hidden, "fewer than 400")
  expect_error(lay_out(table, show = c("weighted", "interval")),
               "without the figure that it is of",
               class = "fairlattice_error_layout")
  cut <- band(demo_records(), age, breaks = c(20, 40, 60))
  few <- paste(format(crosstab(among(cut, age != "under 20"), age, island)),
               collapse = "\n")
  expect_match(few, "cut into bands that begin at 20, 40, 60")
  alone <- format(below(crosstab(demo_survey(), ferry),
                        crosstab(demo_survey(), tenure)))
  expect_identical(trimws(alone[1]), "Satisfaction with the ferry, Tenure")
  expect_false(any(grepl("by all|\\bAll\\b", alone)))
  # each of the two is what it is by itself
  own <- lay_out(crosstab(demo_survey(), tenure),
                 show = c("column", "interval", "n", "weighted"))
  for (line in grep("Mortgage|Private", format(own), value = TRUE)) expect_true(
    any(gsub(" +", " ", alone) %in% gsub(" +", " ", line)))
})

test_that("what a form has no place for is said", {
  laid <- lay_out(crosstab(demo_records(), ferry, island), base_rows = "top",
                  title = "Who likes it")
  for (ending in c("json", "tidy.csv", "svg")) {
    path <- withr::local_tempfile(fileext = paste0(".", ending))
    expect_message(publish(laid, path), "has no place for.*base_rows",
                   class = "fairlattice_message")
  }
  expect_match(readChar(path, 1e5), "Who likes it") # the picture has its title
  expect_no_message(publish(laid, withr::local_tempfile(fileext = ".md")))
})

test_that(paste("the desk answers nobody without its token, and takes no body",
                "before it has looked at the head"), {
  desk <- new_desk(new_store(read_records(demo_file("veyra.csv")), "records"))
  desk$port <- 4321L
  head <- function(...) {
    utils::modifyList(list(
      REQUEST_METHOD = "POST",
      PATH_INFO = sprintf("/%s/do", desk$token),
      HTTP_HOST = "127.0.0.1:4321",
      HTTP_CONTENT_TYPE = "application/json",
      HTTP_CONTENT_LENGTH = "20"), list(...))
  }
  status <- function(...) answer_head(desk, head(...))$status
  expect_null(answer_head(desk, head()))
  expect_identical(status(HTTP_UPGRADE = "websocket"), 404L)
  expect_identical(status(PATH_INFO = "/do"), 404L)
  expect_identical(status(HTTP_HOST = "elsewhere"), 404L)
  expect_identical(status(HTTP_ORIGIN = "http://elsewhere"), 404L)
  for (size in c("300000000", "-1", "x", "1e99")) {
    expect_identical(status(HTTP_CONTENT_LENGTH = size), 413L, info = size)
  }
  expect_identical(answer_head(desk, head()[-5L])$status, 413L)
  expect_identical(status(HTTP_TRANSFER_ENCODING = "chunked"), 413L)
  expect_identical(status(
    REQUEST_METHOD = "GET",
    PATH_INFO = sprintf("/%s/", desk$token)), 413L)
  # the page that a browser is started with is for this user alone
  page <- sub("^file://", "", handed_over("http://127.0.0.1:4321/secret/"))
  withr::defer(unlink(page))
  expect_match(readLines(page), "url=http://127.0.0.1:4321/secret/",
               fixed = TRUE)
  if (.Platform$OS.type == "unix")
    expect_identical(format(file.mode(page)), "600")
})
