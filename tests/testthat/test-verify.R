# Whether what was published still holds.

endings <- c("html", "docx", "xlsx", "pptx", "json")

published <- function(x, endings, env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  for (ending in endings) publish(x, file.path(folder, paste0("t.", ending)))
  folder
}

# Changes a text inside a page, document, workbook or slides, outside of the data.
edited <- function(path, part, from, to) {
  if (!is.null(part)) {
    folder <- fairlattice:::unpacked(path)
    file <- list.files(folder, part, recursive = TRUE, full.names = TRUE)[1L]
  } else {
    file <- path
  }
  text <- fairlattice:::text_of(file)
  expect_true(grepl(from, text, fixed = TRUE), info = path)
  writeLines(sub(from, to, text, fixed = TRUE), file, useBytes = TRUE)
  if (!is.null(part)) fairlattice:::packed(folder, path)
}

records <- suppressMessages(read_records(demo_file("veyra.csv")))
asked <- respondents(records, weight = weight, stratum = island, cluster = settlement, id = id)

test_that("tables of all kinds are the same, whatever was done to the records", {
  old <- 60
  tables <- list(
    plain = crosstab(asked, heating, island),
    alone = crosstab(asked, tenure),
    given = crosstab(asked, leave, shares = c(Yes = 40, No = 60)),
    turned = flip(crosstab(asked, ferry, tenure)),
    each = crosstab(asked, leave, tenure, each = mode),
    paired = crosstab(respondents(records), say_council, say_ferry, paired = TRUE),
    among = crosstab(among(asked, age > old & island != "Tarn"), ferry, tenure),
    steps = crosstab(net(order_answers(regroup(
      band(one_per(asked, id, keep = "last"), age, breaks = c(18, 35, 65), into = "age_group"),
      tenure, Owned = c("Owned outright", "Mortgage"), missing = c(Tied = "Tied to a job")),
      tenure, c("Private rent", "Isles Trust rent", "Owned")),
      ferry, Content = c("Satisfied", "Very satisfied")), ferry, c(age_group, tenure)),
    labels = crosstab(label_answers(retitle(asked, leave, "Leaving"), leave,
                                    c(Yes = "Has", No = "Has not")), leave, island),
    joined = regroup_sparse(crosstab(among(respondents(records), age > 78), heating, tenure),
                            apply = TRUE),
    ticks = crosstab(ticks(asked, why = c(reason_work, reason_housing)), why, island),
    made = crosstab(combine(subdivide(asked, leave, by = mode), home = c(tenure, mode)),
                    home, leave_by_mode),
    replicates = crosstab(make_replicates(asked, "jackknife"), heating, island),
    battery = crosstab(battery(asked, say = c(say_council, say_homes)), say),
    twin = crosstab(net(battery(asked, say = c(say_council, say_homes), answered = "all"), say,
                        Agree_in_all = c("Agree", "Strongly agree")), say, island),
    data_frame = crosstab(band(records, age, breaks = c(18, 50)), age, leave),
    counts = crosstab(asked, ferry, island, percent = "row"))
  for (name in names(tables)) {
    found <- verify(published(tables[[name]], c("json", "html")), records)
    expect_identical(unique(found$verdict), "the same", info = name)
  }
  # a table that was read back and written again says so too
  file <- withr::local_tempfile(fileext = ".json")
  publish(tables$steps$tables[[1]][[1]], file)
  publish(read_tables(file), file)
  expect_identical(verify(file, records)$verdict, "the same")
})

test_that("other records: the same figures, or the cells that differ", {
  x <- crosstab(respondents(records), heating, island)
  folder <- published(x, endings)
  mixed <- records[rev(seq_len(nrow(records))), ]
  attr(mixed, "source") <- NULL
  found <- verify(folder, mixed)
  expect_identical(unique(found$verdict), "the same figures from other records")
  expect_true(all(found$holds))
  at <- which(records$heating == "Oil" & records$island == "Norrey")[1]
  changed <- records
  changed$heating[at] <- "Electric"
  was <- x$layers[[1]]$n
  found <- verify(file.path(folder, "t.docx"), changed)
  expect_identical(found$verdict, "other figures")
  expect_match(found$detail, sprintf("Oil in Norrey was .* \\(%d\\), now .* \\(%d\\)",
                                     was["Oil", "Norrey"], was["Oil", "Norrey"] - 1L))
  expect_match(found$detail, sprintf("Electric in Norrey .* now .* \\(%d\\)",
                                     was["Electric", "Norrey"] + 1L))
  expect_false(found$holds)
})

test_that("numbers that were changed by hand are named, in every form", {
  x <- crosstab(asked, heating, island)
  folder <- published(x, endings)
  parts <- c(docx = "^document.xml$", pptx = "slide1.xml$")
  share <- shares(x)
  value <- 100 * share$share[share$down == "Oil" & share$across == "Norrey"]
  text <- format(round(value, 1), nsmall = 1)
  for (ending in c("html", "docx", "pptx", "xlsx")) {
    path <- file.path(folder, paste0("t.", ending))
    if (ending == "xlsx") {
      inside <- fairlattice:::unpacked(path)
      sheets <- list.files(inside, "sheet[0-9]+.xml$", recursive = TRUE, full.names = TRUE)
      digits <- substr(fairlattice:::full_digits(value), 1, 8)
      holds <- vapply(sheets, function(file) {
        grepl(digits, fairlattice:::text_of(file), fixed = TRUE)
      }, NA)
      expect_true(any(holds))
      for (file in sheets[holds])
        writeLines(gsub(sprintf("<v>%s[0-9]*</v>", digits), "<v>91.4</v>",
                        fairlattice:::text_of(file)), file)
      fairlattice:::packed(inside, path)
    } else {
      part <- if (ending %in% names(parts)) parts[[ending]]
      edited(path, part, paste0(">", text), ">91.4")
    }
    found <- verify(path, records)
    expect_identical(found$verdict, c("the same", "edited by hand"), info = ending)
    expect_match(found$detail[2], sprintf("%s of \"Oil\"", text), info = ending)
  }
  # figures inside that do not add up any more
  path <- file.path(folder, "t.json")
  edited(path, NULL, "\"n\": 69", "\"n\": 96")
  found <- verify(path, records)
  expect_identical(found$verdict, "edited by hand")
})

test_that("nothing is called changed that was only laid out, in English and German", {
  survey <- net(score(asked, ferry), ferry, Content = c("Satisfied", "Very satisfied"))
  laid <- function(x, ...) attr(lay_out(x, ...), "of")
  tables <- list(
    laid(crosstab(survey, ferry, c(island, tenure)), marks = "letters", show = c("column", "n")),
    laid(crosstab(survey, heating, tenure), show = c("column", "interval", "adjusted"),
         stack = "beneath", sort = "size"),
    laid(crosstab(survey, heating, tenure), show = c("estimated_total", "interval"),
         unit = "thousands"),
    laid(crosstab(survey, tenure), decimals = 0),
    laid(crosstab(survey, c(reason_work, reason_ferry), island), only = "Ticked"))
  for (language in c("en", "de")) {
    withr::local_options(fairlattice.language = language,
                         fairlattice.decimal_mark = if (language == "de") "," else ".",
                         fairlattice.big_mark = if (language == "de") "." else ",")
    # in English all of them, in German two
    some <- if (language == "en") tables else tables[c(1L, 3L)]
    found <- verify(published(some, setdiff(endings, "json")), records)
    expect_identical(unique(found$verdict), "the same")
    expect_identical(as.vector(table(found$file)), rep(if (language == "en") 7L else 3L, 4L))
  }
})

test_that("what cannot be made again is said, and nothing of a file is run", {
  raked <- weigh_to(asked, list(mode = c(Web = 0.6, Paper = 0.3, "At the door" = 0.1)))
  expect_identical(verify(published(crosstab(raked, leave, island), "json"), records)$verdict,
                   "the same")
  loose <- order_answers(asked, tenure, rev(levels(records$tenure)), ordered = FALSE)
  found <- verify(published(crosstab(loose, leave, tenure), "json"), records)
  expect_identical(found$verdict, "not to be made again")
  expect_match(found$detail, "a plan cannot say: order_answers(ordered = FALSE)", fixed = TRUE)
  folder <- published(crosstab(among(asked, age > 30), leave, island), "json")
  path <- file.path(folder, "t.json")
  expect_match(verify(path, records[setdiff(names(records), "leave")])$detail, "no column \"leave\"")
  text <- fairlattice:::text_of(path)
  harmful <- withr::local_tempfile()
  with <- function(from, to) {
    writeLines(sub(from, to, text, fixed = TRUE), path)
    verify(path, records)
  }
  found <- with("          \"condition\": \"age > 30\"", sprintf("\"condition\": \"file.create('%s') > 0\"", harmful))
  expect_identical(found$verdict, "not to be made again")
  found <- with("\"among\": {", "\"system\": {")
  expect_match(found$detail, "system")
  found <- with("\"weight\": \"weight\"\n", "\"wait\": \"weight\"\n")
  expect_false(file.exists(harmful))
})

test_that("a folder is looked through, and the command says by its status whether all holds", {
  folder <- published(crosstab(asked, heating, island), c("docx", "json"))
  writeLines("<html><body>no tables</body></html>", file.path(folder, "note.html"))
  writeLines("text", file.path(folder, "note.txt"))
  run <- call_main("verify", folder, "--records", demo_file("veyra.csv"))
  expect_identical(run$status, 0L)
  expect_match(paste(run$out, collapse = "\n"), "2 of 2 published tables hold")
  expect_match(paste(run$out, collapse = "\n"), "nothing to hold: note.html")
  out <- withr::local_tempfile(fileext = ".csv")
  before <- call_main("verify", file.path(folder, "t.json"), "--records",
                      demo_file("veyra-before.csv"), "--codebook", demo_file("veyra.schema.json"),
                      "--out", out)
  expect_identical(before$status, 1L)
  expect_match(paste(readLines(out), collapse = "\n"), "other figures")
  expect_identical(call_main("verify", folder)$status, 2L)
  expect_error(verify("no-such-file.docx", records), class = "fairlattice_error_no_file")
  expect_error(verify(file.path(folder, "note.html"), records), "no tables",
               class = "fairlattice_error_not_a_table")
})

test_that("a book is made anew of its plan and held against what it printed", {
  skip_if_not_installed("ggplot2")
  folder <- withr::local_tempdir()
  file.copy(list.files(dirname(demo_file("veyra.csv")), full.names = TRUE), folder)
  plan_file <- file.path(folder, "veyra.plan.yml")
  plan <- readLines(plan_file)
  last <- grep("title: Everything else", plan) # has nothing that the others have not
  writeLines(plan[-seq(last, which(plan == "" & seq_along(plan) > last)[1L] - 1L)], plan_file)
  made <- suppressMessages(book(plan_file))
  out <- withr::local_tempdir()
  for (file in c("b.docx", "b.pptx"))
    suppressMessages(publish(made, file.path(out, file), figure = "none", as = "tables"))
  before <- suppressMessages(read_records(file.path(folder, "veyra-before.csv"),
                                          demo_file("veyra.schema.json"), unknown = "missing"))
  now <- suppressMessages(read_records(file.path(folder, "veyra.csv"), unknown = "missing"))
  found <- verify(out, now, before)
  rounded <- grepl("^Table 18[.]", found$table)
  expect_identical(unique(found$verdict[!rounded]), "the same")
  expect_identical(unique(found$verdict[rounded]), "not to be made again")
  expect_setequal(found$file, list.files(out))
  # tables whose counts are withheld or rounded are held, too; changes without the
  # records before cannot be
  alone <- verify(file.path(out, "b.docx"), now)
  alone <- alone[!grepl("^Table 18[.]", alone$table), ]
  kept <- alone$verdict == "the same"
  expect_true(all(grepl("^Table [0-9]+w", alone$table[!kept])))
  expect_true(any(grepl("^Table 17[.]", alone$table[kept])))
  expect_identical(unique(alone$verdict[!kept]), "not to be made again")
  # one answer of one person
  changed <- now
  changed$ferry[which(now$ferry == "Satisfied")[1:9]] <- "Dissatisfied"
  attr(changed, "source") <- NULL
  found <- verify(file.path(out, "b.docx"), changed, before)
  expect_identical(unique(found$verdict[grepl("^Table 6[.]", found$table)]),
                   "the same figures from other records")
  expect_identical(found$verdict[grepl("^Table 1[.]", found$table)], "other figures")
  expect_match(found$detail[grepl("^Table 1[.]", found$table)],
               "\"Dissatisfied\" in \"Norrey\" was [0-9]+, now [0-9]+")
  expect_match(found$detail[grepl("^Table 1w[.]", found$table)], "in \"Norrey 2032\" was")
  expect_match(paste(format(found), collapse = "\n"),
               "b.docx: [0-9]+ tables: the same figures from")
  # a site, and an edited page of it
  site <- paste0(withr::local_tempdir(), "/")
  made$outputs <- NULL
  suppressMessages(fairlattice:::write_output(made, list(file = site), NULL))
  page <- file.path(site, "chapter-2.html")
  text <- fairlattice:::text_of(page)
  cell <- regmatches(text, regexpr("<td class=\"answer\">[1-9][0-9][.][0-9]", text))
  writeLines(gsub(cell, sub(">.*", ">99.9", cell), text, fixed = TRUE), page, useBytes = TRUE)
  found <- verify(site, now, before)
  expect_identical(unique(found$file[found$verdict == "edited by hand"]), "chapter-2.html")
  expect_true(all(found$holds | found$verdict == "edited by hand" |
                    grepl("^Table 18[.]", found$table)))
  expect_error(read_tables(page), class = "fairlattice_error_not_a_table")
})

test_that("a book of R objects carries the steps of its survey", {
  survey <- band(asked, age, breaks = c(18, 50), into = "age_group")
  made <- book(plan_of(among(survey, age >= 18), across = c(age_group, tenure),
                       chapters = list(At_home = c("heating", "internet")),
                       style = house_style(numbers = list(decimal_mark = ","), language = "de")))
  file <- withr::local_tempfile(fileext = ".docx")
  suppressMessages(publish(made, file, figure = "none"))
  found <- verify(file, records)
  expect_identical(unique(found$verdict), "the same")
  expect_identical(nrow(found), 2L)
})

test_that(paste("what a file says of its book is data: damaged or hostile, it is refused or",
                "does not hold"), {
  made <- book(plan_of(asked, across = tenure, chapters = list(At_home = "heating")))
  file <- withr::local_tempfile(fileext = ".html")
  suppressMessages(publish(made, file, figure = "none"))
  page <- fairlattice:::text_of(file)
  inside <- fairlattice:::data_in_page(page)
  raw <- jsonlite::fromJSON(inside, simplifyVector = FALSE)
  junk <- list(NULL, 7, list(1, "a"), list(a = 1))
  written <- withr::local_tempfile()
  changes <- list(
    list(plan = list(chapters = list(list(title = "A", tables = list("heating"))),
                     outputs = list(list(file = written)), records = list(file = written),
                     style = written, before = list(file = written))),
    list(plan = list(chapters = list(list(title = "A", among = "file.create('x')",
                                          tables = list("heating"))))))
  for (part in c("plan", "made", "style", "as", "language", "title"))
    changes <- c(changes, lapply(junk, function(x) stats::setNames(list(x), part)))
  for (change in changes) {
    recipe <- raw[[1L]]
    recipe[names(change)] <- change
    text <- jsonlite::toJSON(list(recipe, raw[[2L]]), auto_unbox = TRUE, null = "null")
    writeLines(sub(inside, gsub("<", "\\u003c", text, fixed = TRUE), page, fixed = TRUE), file,
               useBytes = TRUE)
    found <- tryCatch(verify(file, records), fairlattice_error = identity)
    expect_s3_class(found, c("fairlattice_verified", "fairlattice_error"), exact = FALSE)
  }
  for (sheet in list(7, list(), list(title = 1), list(title = "a", rows = 3),
                     list(title = "a", rows = list(list(label = 1))),
                     list(title = "a", rows = list(), decimal_mark = "x"))) {
    text <- jsonlite::toJSON(list(raw[[1L]], replace(raw[[2L]], "sheets", list(list(sheet)))),
                             auto_unbox = TRUE, null = "null")
    writeLines(sub(inside, gsub("<", "\\u003c", text, fixed = TRUE), page, fixed = TRUE), file,
               useBytes = TRUE)
    expect_error(verify(file, records), class = "fairlattice_error_not_a_table")
  }
  expect_false(file.exists(written))
})

test_that("tables of stages, margins and imputed data sets are made anew; plans say all three", {
  data <- demo_records(600, complex = TRUE)
  long <- do.call(rbind, lapply(1:5, function(m) {
    cbind(data, income = data[[paste0("income_", m)]], copy = m)
  }))
  of <- function(records) {
    respondents(records, weight = weight, stratum = island, cluster = c(settlement, dwelling),
                population = c(settlements, dwellings), calibrated_to = "island:age_group")
  }
  folder <- withr::local_tempdir()
  publish(crosstab(of(data), leave, tenure), file.path(folder, "staged.json"))
  expect_true(verify(file.path(folder, "staged.json"), data)$holds)
  imputed <- respondents(long, weight = weight, stratum = island, cluster = settlement,
                         imputation = copy)
  publish(crosstab(band(imputed, income, breaks = c(0, 1000, 2000), into = "paid"), paid, mode),
          file.path(folder, "imputed.json"))
  expect_true(verify(file.path(folder, "imputed.json"), long)$holds)
  plan <- file.path(folder, "plan.yml")
  writeLines(c("records: {file: x.csv}", "asked:", "  weight: weight", "  stratum: island",
               "  cluster: [settlement, dwelling]", "  population: [settlements, dwellings]",
               "  calibrated_to: 'island:age_group'", "across: [tenure]", "chapters:",
               "  - title: Leaving", "    tables: [leave]"), plan)
  b <- book(read_plan(plan, records = data), cache = FALSE)
  table <- single_tables(b$tables[[1]]$table)[[1]]
  expect_equal(as.data.frame(shares(table))$se,
               as.data.frame(shares(crosstab(of(data), leave, tenure)))$se)
})
