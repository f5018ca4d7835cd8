# What a table holds beside its answers (nets, several questions, one alone),
# and how it is laid out. Sheets are tested as data: what stands where, and of
# which kind.

satisfied <- c("Satisfied", "Very satisfied")
netted <- function(survey = demo_survey()) {
  net(net(survey, ferry, Happy = satisfied,
          Ends = c("Very dissatisfied", "Very satisfied")), island,
      West = c("Norrey", "Sandholm"))
}
line <- function(sheet, label) {
  which(trimws(gsub("\u2002", "", sheet$stub$label)) == label)
}

test_that(paste("a net is what combining its answers gives: percentages,",
                "intervals, marks, on either side and both"), {
  survey <- demo_survey()
  x <- crosstab(netted(survey), ferry, island)
  combined <- crosstab(regroup(survey, ferry, Happy = satisfied), ferry, island)
  across <- crosstab(regroup(survey, island, West = c("Norrey", "Sandholm")),
                     ferry, island)
  both <- crosstab(regroup(
    regroup(survey, ferry, Happy = satisfied),
    island, West = c("Norrey", "Sandholm")), ferry, island)
  for (percent in c("column", "row", "total")) {
    sheet <-
      lay_out(x, show = c(percent, "interval", "n"), stack = "brackets")[[1]]
    wanted <- function(table, down, island) {
      subset(shares(table, percent), down == !!down & across == !!island)
    }
    for (cell in list(list(combined, "Happy", "Tarn"),
                      list(across, "Neither", "West"),
                      list(both, "Happy", "West"))) {
      s <- shares(cell[[1]], percent)
      s <- s[s$down == cell[[2]] & s$across == cell[[3]], ]
      at <-
        cbind(line(sheet, cell[[2]]), which(sheet$columns$label == cell[[3]]))
      expect_equal(c(sheet$value[at], sheet$inside[[1]]$value[at],
                     sheet$inside[[1]]$high[at], sheet$inside[[2]]$value[at]),
                   c(100 * s$share, 100 * s$low, 100 * s$high, s$n),
                   info = paste(percent, cell[[2]], cell[[3]]))
    }
  }
  # against the rest, a net is a table of two rows
  two <- residuals(crosstab(
    regroup(survey, ferry, Happy = satisfied, other = "Others"), ferry, island))
  sheet <- lay_out(x, show = "adjusted")[[1]]
  expect_equal(sheet$value[line(sheet, "Happy"), match(unique(two$across), sheet$columns$label)],
               two$adjusted_residual[two$down == "Happy"])
  expect_identical(sheet$mark[line(sheet, "Happy"), match(unique(two$across), sheet$columns$label)],
                   two$mark[two$down == "Happy"])
  # beside its parts where they are adjacent, at the end where not; tests and
  # measures do not know of it
  expect_identical(sheet$stub$role[1:7],
                   c("answer", "answer", "answer", "net", "answer", "answer",
                     "net"))
  expect_identical(tests(x), tests(crosstab(survey, ferry, island)))
})

test_that("a net of ticks is of those who ticked any of its items", {
  survey <- ticks(demo_survey(),
                  reasons = c(reason_work, reason_housing, reason_school))
  any <- grepl("Work|School", as.character(survey$data$reasons))
  survey$data$any <- ifelse(is.na(survey$data$reasons), NA, any)
  alone <- shares(crosstab(survey, any, island))
  sheet <- lay_out(crosstab(net(survey, reasons, Either = c("Work", "School")),
                            reasons, island), show = c("column", "interval"))[[1]]
  at <- line(sheet, "Either")
  expect_equal(sheet$value[at, 1:5], 100 * alone$share[alone$down == "Yes"])
  expect_equal(sheet$inside[[1]]$high[at, 1:5],
               100 * alone$high[alone$down == "Yes"])
  expect_false("total" %in% sheet$stub$role)
})

test_that("nets follow what is done to their question, and say what is wrong with them", {
  survey <- netted()
  after <- crosstab(regroup(net(survey, ferry, Ends = NULL), ferry,
                            Good = satisfied), ferry, island)
  expect_identical(after$tally$down$nets$Happy, "Good")
  expect_error(regroup(survey, ferry, Odd = c("Neither", "Satisfied")),
               "cut the net \"Happy\"", class = "fairlattice_error_net")
  expect_null(crosstab(net(survey, ferry, Happy = NULL, Ends = NULL), ferry,
                       island)$tally$down$nets$Happy)
  expect_error(net(survey, ferry, Happy = c("Satisfied", "Very satified")),
               "Did you mean \"Very satisfied\"",
               class = "fairlattice_error_no_answer")
  expect_error(net(survey, ferry, c("Satisfied")), "needs its name",
               class = "fairlattice_error_net")
  expect_error(net(survey, season,
                   All = c("Spring", "Summer", "Autumn", "Winter")),
               "everybody", class = "fairlattice_error_net")
  # in a file its percentages stay
  path <- withr::local_tempfile(fileext = ".json")
  x <- crosstab(survey, ferry, island)
  publish(x, path)
  expect_equal(sheets_of(read_tables(path))[[1]]$value, sheets_of(x)[[1]]$value)
})

test_that(paste("a table read from a file has its nets and its column of",
                "everybody as they were, turned round too"), {
  survey <- netted()
  with_ticks <- net(ticks(
    survey,
    why = c(reason_work, reason_housing, reason_ferry)), why,
                    Living = c("Work", "Housing"))
  for (x in list(crosstab(survey, ferry, island),
                 crosstab(survey, ferry, island, each = leave),
                 crosstab(survey, ferry), crosstab(with_ticks, why, island))) {
    path <- withr::local_tempfile(fileext = ".json")
    publish(x, path)
    sheets <- function(x) {
      lapply(lay_out(x, show = c("column", "interval", "adjusted", "n"),
                     stack = "beneath", lines = "none"), `[`,
             c("stub", "columns", "value", "high", "mark"))
    }
    expect_equal(sheets(read_tables(path)), sheets(x))
    if (has(x, "across"))
      expect_equal(sheets(flip(flip(read_tables(path)))), sheets(x))
  }
})

test_that("a one-way table is look() and test_shares()", {
  survey <- demo_survey()
  x <- crosstab(survey, ferry)
  sheet <- lay_out(x)[[1]]
  one <- look(survey, ferry)
  one <- one[!one$missing, ]
  expect_identical(sheet$columns$figure,
                   c("%", "95% CI", "cumulative %", "n", "weighted count"))
  expect_equal(sheet$value[1:5, ],
               cbind(100 * one$share, 100 * one$low, 100 * one$cumulative,
                     one$n, one$weighted), ignore_attr = TRUE)
  expect_equal(sheet$high[1:5, 2], 100 * one$high)
  expect_equal(sheet$value[1:5, 1],
               100 * test_shares(survey, ferry)$answers$share)
  expect_equal(sum(account_of(x$tally)$left_out$records) +
                 x$layers[[1]]$base$records, nrow(survey$data))
  expect_match(write_up(x),
               "27.7% (95% CI 24.4 to 31.1) answered \"Satisfied\"",
               fixed = TRUE)
  expect_false("no_test" %in% cautions(x)$code)
  expect_error(flip(x), "one question", class = "fairlattice_error_one_way")
})

test_that("a block of a banner is the table of its pair, and the total column everybody's", {
  survey <- netted()
  options <- list(show = c("column", "interval", "adjusted"), stack = "beneath")
  laid <- function(x) do.call(lay_out, c(list(x), options))[[1]]
  banner <- crosstab(survey, c(ferry, heating), c(island, tenure, ferry))
  sheet <- laid(banner)
  expect_identical(unique(sheet$columns$spanner),
                   c("Island", "Tenure", "Satisfaction with the ferry", ""))
  for (down in c("ferry", "heating")) for (across in c("island", "tenure")) {
    x <- crosstab(survey, !!down, !!across)
    alone <- laid(x)
    label <- x$tally$down$label
    rows <- which(sheet$stub$role == "heading" & sheet$stub$label == label) +
            seq_len(nrow(alone$stub))
    columns <- which(sheet$columns$spanner == x$tally$across$label)
    inside <- seq_along(columns)
    for (part in c("value", "kind", "high", "mark")) expect_identical(
      sheet[[part]][rows, columns], alone[[part]][, inside],
      info = paste(down, across, part))
    total <-
      lay_out(crosstab(survey, !!down), show = c("column", "interval"))[[1]]
    answers <- rows[alone$stub$role %in% c("answer", "net") & alone$stub$figure == "column %"]
    expect_equal(sheet$value[answers, ncol(sheet$value)],
                 total$value[total$stub$role %in% c("answer", "net"), 1])
  }
  # ferry by itself stays empty, and is said
  itself <- which(sheet$columns$spanner == "Satisfaction with the ferry")
  expect_true(all(sheet$kind[2:10, itself] == ""))
  expect_true(any(grepl("not set against itself", sheet$account)))
  expect_equal(sheets_of(beside(crosstab(survey, ferry, island),
                                crosstab(survey, ferry, tenure))),
               sheets_of(crosstab(survey, ferry, c(island, tenure))))
  expect_equal(sheets_of(below(crosstab(survey, ferry, island),
                               crosstab(survey, heating, island))),
               sheets_of(crosstab(survey, c(ferry, heating), island)))
  expect_error(beside(crosstab(survey, ferry, island),
                      crosstab(survey, heating, tenure)), "same `down`",
               class = "fairlattice_error_banner")
  each <- crosstab(survey, ferry, c(season, mode), each = island)
  expect_length(sheets_of(each), 5)
  expect_equal(sheets_of(each)[[4]]$value[, 1:4],
               sheets_of(crosstab(survey, ferry, season, each = island))[[4]]$value[, 1:4])
})

test_that("a table cut down shows the same figures, and says when nothing would be left", {
  survey <- score(netted(), ferry)
  x <- crosstab(survey, ferry, island)
  whole <- lay_out(x)[[1]]
  for (only in list("nets", "Satisfied", c("means", "Neither"))) {
    cut <- lay_out(x, only = only)[[1]]
    named <- gsub("\u2002", "", whole$stub$label)
    kept <- named %in% c(only, "Mean"["means" %in% only]) |
      whole$stub$role == "net" & "nets" %in% only | whole$stub$role == "base"
    expect_equal(cut$value, whole$value[kept, ], info = only)
    expect_equal(cut$mark, whole$mark[kept, ], info = only)
    expect_false("total" %in% cut$stub$role)
  }
  expect_error(lay_out(x, only = "Content"), "nothing would be left",
               class = "fairlattice_error_layout")
  expect_error(lay_out(crosstab(survey, c(ferry, heating), island), only = "nets"),
               "Main heating", class = "fairlattice_error_layout")
})

test_that("columns are sorted by a line, or by their means, and letters stay theirs", {
  survey <- score(netted(), ferry)
  x <- crosstab(survey, ferry, island)
  whole <- lay_out(x, marks = "letters")[[1]]
  for (by in c("Satisfied", "mean")) {
    sheet <- lay_out(x, sort = by, marks = "letters")[[1]]
    columns <- sheet$columns$role == "answer"
    line <- if (by == "mean") sheet$stub$label == "Mean" else
      trimws(sheet$stub$label) == by
    expect_false(is.unsorted(-sheet$value[line, columns]), info = by)
    at <- match(sub(" \\(.*", "", sheet$columns$label),
                sub(" \\(.*", "", whole$columns$label))
    expect_false(identical(at, seq_along(at)))
    expect_equal(sheet$value, whole$value[, at], info = by)
    # the letters are those of the columns as they stand
    expect_identical(sub(".*\\(", "", sheet$columns$label[columns]),
                     sprintf("%s)", letters[seq_len(sum(columns))]))
    beaten <- function(sheet) {
      names <- sub(" \\(.*", "", sheet$columns$label)
      own <- which(grepl("(", sheet$columns$label, fixed = TRUE))
      found <- lapply(own, function(j) {
        lapply(strsplit(sheet$letters[, j], " "), function(l) {
          sort(names[own][match(l, letters)])
        })
      })
      stats::setNames(found, names[own])[sort(names[own])]
    }
    expect_identical(beaten(sheet), beaten(whole), info = by)
  }
  # what stands under one heading stays under it
  under <- crosstab(subdivide(survey, leave, by = mode, name = "both"), ferry, both)
  headings <- lay_out(under)[[1]]$columns$heading
  expect_identical(lay_out(under, sort = "Satisfied")[[1]]$columns$heading, headings)
  expect_error(lay_out(x, sort = "Satisfed"), "Satisfied", class = "fairlattice_error_layout")
})

test_that("several questions alone stand below each other, their bases beside a list", {
  survey <- demo_survey()
  x <- crosstab(survey, c(reason_work, reason_housing))
  sheet <- lay_out(x, only = "Ticked")[[1]]
  expect_identical(sheet$title, "Reason to leave")
  expect_identical(sheet$stub$label, c("Work", "Housing"))
  for (k in 1:2) {
    name <- c("reason_work", "reason_housing")[k]
    alone <- shares(crosstab(survey, !!name))
    own <- alone[alone$down == "Ticked", ]
    expect_equal(sheet$value[k, 1], 100 * own$share)
    expect_equal(sheet$value[k, sheet$columns$role == "base"][1], sum(alone$n))
  }
})

test_that(paste("blocks of a banner show the same answers, though one of them",
                "be given by nobody there"), {
  data <- data.frame(a = factor(rep(c("p", "q"), 30), c("p", "q", "r", "s")),
                     b = rep(c("x", "y", "y"), 20),
                     c = rep(c("u", "v"), each = 30), kept = TRUE)
  data$a[1] <- "r"
  data$b[1] <- NA
  data$c[2] <- NA
  survey <- among(data, kept)
  x <- crosstab(survey, a, c(b, c))
  sheet <- lay_out(x, show = "n")[[1]]
  expect_identical(sheet$stub$label[1:3], c("p", "q", "r"))
  expect_equal(unname(sheet$value[3, ]), c(0, 0, 1, 0, 1))
  expect_identical(dim(lay_out(
    crosstab(survey, a, c(b, c), overlap = TRUE),
    marks = "letters")[[1]]$letters), dim(lay_out(x)[[1]]$value))
  both <- lay_out(beside(crosstab(survey, a, b), crosstab(survey, a, c)),
                  show = "n")[[1]]
  expect_equal(both$value, sheet$value)
  below_each_other <- lay_out(
    below(crosstab(survey, b, a), crosstab(survey, c, a)),
    show = "n")[[1]]
  expect_identical(below_each_other$columns$label, c("p", "q", "r", "All"))
})

test_that("figures stand where the layout puts them, in its decimals and order", {
  x <- crosstab(demo_survey(), heating, island)
  s <- shares(x)
  d <- residuals(x)
  beneath <-
    lay_out(x, show = c("row", "n", "expected"), stack = "beneath")[[1]]
  answers <- beneath$stub$role == "answer"
  expect_equal(beneath$value[answers & beneath$stub$figure == "n", 1:5],
               matrix(s$n, 5))
  expect_equal(beneath$value[answers & beneath$stub$figure == "expected", 1:5],
               matrix(d$expected, 5))
  beside <-
    lay_out(x, show = c("column", "contribution"), stack = "beside")[[1]]
  expect_equal(beside$value[1:5, grepl("contribution", beside$columns$figure)][, 1:5],
               matrix(d$contribution, 5))
  brackets <- lay_out(x, show = c("column", "n"), decimals = 0)
  expect_identical(sheet_text(brackets[[1]])[1, 1], "19 (69)")
  counts <-
    lay_out(crosstab(demo_survey(), heating, island, percent = "none"))[[1]]
  expect_true(all(counts$kind == "count"))
  expect_equal(counts$value[6, 6], sum(s$n))
  expect_equal(rowSums(counts$value[1:5, 1:5]), counts$value[1:5, 6])
  size <- lay_out(x, sort = "size", last = "Oil")[[1]]
  expect_identical(size$stub$label[5], "Oil")
  expect_false(is.unsorted(-size$value[1:4, 6]))
  spread <- lay_out(x, sort = "difference")[[1]]
  ranges <- apply(spread$value[1:5, 1:5], 1, function(v) diff(range(v)))
  expect_false(is.unsorted(-ranges))
  other <- data.frame(a = c("Other", "x", "y", "Other", "Other"),
                      b = c("p", "q", "p", "q", "p"))
  expect_identical(lay_out(crosstab(other, a, b), sort = "size")[[1]]$stub$label[3],
                   "Other")
  expect_identical(lay_out(x, labels = c(Oil = "Heating oil"), title = "T",
                           notes = "N")[[1]][c("title", "notes")],
                   list(title = "T", notes = "N"))
  expect_error(lay_out(x, show = "intervl"), "Did you mean",
               class = "fairlattice_error_choice")
  expect_error(lay_out(x, show = c("n", "n")), "twice",
               class = "fairlattice_error_layout")
  expect_error(lay_out(x, decimals = 1.5), class = "fairlattice_error_layout")
})

test_that("percentages of too few are hidden everywhere, and the table says so", {
  x <- crosstab(demo_survey(), ferry, island)
  sheet <- lay_out(x, show = c("column", "interval", "n"), stack = "beneath",
                   hide_under = 400)[[1]]
  small <- c(1, 4) # Norrey 338, Tarn 388
  percents <-
    sheet$stub$role == "answer" & sheet$stub$figure %in% c("column %", "95% CI")
  expect_true(all(sheet$kind[percents, small] == "hidden") &&
                all(is.na(sheet$value[percents, small])))
  expect_false(any(sheet$kind[, -small] == "hidden"))
  expect_true(all(is.na(sheet$high[sheet$kind == "hidden"])))
  expect_true(all(sheet$mark[sheet$kind == "hidden"] == ""))
  expect_equal(sheet$value[sheet$stub$figure == "n", 1],
               c(shares(x)$n[1:5], 338))
  expect_true(any(grepl("fewer than 400 respondents", sheet$key)))
  expect_true(any(grepl("fewer than 400",
                        format(attr(lay_out(x, hide_under = 400), "of"),
                               lines = "none"))))
})

test_that("the lines under a table are those asked for", {
  x <- crosstab(demo_survey(), ferry, island)
  of <- function(lines) sheets_of(attr(lay_out(x, lines = lines), "of"))[[1]]
  parts <- c("tests", "strength", "reference", "account")
  there <- function(lines) parts[lengths(of(lines)[parts]) > 0]
  expect_identical(there("none"), character())
  expect_identical(there("test"), "tests")
  expect_identical(there(usual_lines), c("tests", "strength", "account"))
  expect_identical(there("working"), parts)
  expect_identical(nrow(of("test")$cautions), 0L)
  expect_error(lay_out(x, lines = "everything"), "published", # what there is
               class = "fairlattice_error_choice")
})

test_that("an index is the percentage over that of everybody", {
  x <- crosstab(net(demo_survey(), heating, Fuel = c("Oil", "Wood or peat")), heating, island)
  sheet <- lay_out(x, show = c("column", "index"), stack = "beside")[[1]]
  share <- sheet$value[, sheet$columns$figure == "column %"]
  index <- sheet$value[, sheet$columns$figure == "index (all = 100)"]
  lines <- sheet$stub$role %in% c("answer", "net")
  expect_equal(index[lines, 1:5], 100 * share[lines, 1:5] / share[lines, 6])
  by_row <- lay_out(x, show = c("row", "index"), stack = "beside")[[1]]
  share <- by_row$value[, by_row$columns$figure == "row %"]
  index <- by_row$value[, by_row$columns$figure == "index (all = 100)"]
  lines <- by_row$stub$role %in% c("answer", "net")
  expect_equal(index[lines, 1:5],
               100 * share[lines, 1:5] / share[rep(which(by_row$stub$role == "all"), sum(lines)), 1:5])
  alone <- lay_out(x, show = "index", lines = "none")
  expect_match(alone[[1]]$subtitle, "^Column percentages .*, as an index [(]all = 100[)]")
  expect_match(format(alone, width = 100),
               "Oil +68 . +145 . +67 +185 . +69", all = FALSE)
})

test_that("everybody stands last, first or nowhere, and answers are sorted by any column", {
  x <- crosstab(net(demo_survey(), heating, Fuel = c("Oil", "Wood or peat")), heating, island)
  usual <- lay_out(x)[[1]]
  first <- lay_out(x, total = "first")[[1]]
  order <- c(6, 1:5)
  expect_identical(first$columns$label, usual$columns$label[order])
  expect_identical(first$value, usual$value[, order])
  expect_identical(first$mark, usual$mark[, order])
  none <- lay_out(x, total = "none")[[1]]
  expect_identical(none$value, usual$value[, -6])
  by_row <- lay_out(x, show = "row", total = "first")[[1]]
  expect_identical(by_row$stub$role[1], "all")
  banner <- crosstab(demo_survey(), leave, c(island, mode))
  whole <- lay_out(banner, marks = "letters")[[1]]
  ahead <- lay_out(banner, marks = "letters", total = "first")[[1]]
  expect_identical(ahead$letters, whole$letters[, c(9, 1:8)])
  expect_identical(lay_out(banner, marks = "letters", total = "none")[[1]]$letters,
                   whole$letters[, -9])
  # by a column, with the answers that stay last
  sorted <- lay_out(crosstab(demo_survey(), heating, island), sort = "Tarn",
                    last = "Oil")[[1]]
  tarn <- sorted$value[sorted$stub$role == "answer", 4]
  expect_false(is.unsorted(-tarn[-5]))
  expect_identical(sorted$stub$label[5], "Oil")
  across <- lay_out(crosstab(net(demo_survey(), island, Far = c("Tarn", "Outer Veyra")),
                             heating, island), sort = "Far")[[1]]
  far <- across$value[across$stub$role == "answer", across$columns$label == "Far"]
  expect_false(is.unsorted(-far))
  expect_error(lay_out(x, sort = "Tarm"), "Tarn", class = "fairlattice_error_layout")
  # the place of a withheld count would say how large it is
  held <- lay_out(crosstab(demo_survey(), heating, island), show = "n", sort = "Tarn",
                  withhold_under = 60)[[1]]
  answers <- held$stub$role == "answer"
  withheld <- which(rowSums(held$kind[answers, ] == "withheld") > 0)
  expect_true(length(withheld) > 0 && length(withheld) < sum(answers))
  expect_identical(withheld, seq(to = sum(answers), length.out = length(withheld)))
})

test_that("a reader is given what is needed to read a table, its author all of it", {
  x <- crosstab(demo_survey(), heating, island)
  sheet <- sheets_of(attr(lay_out(x, dress = "published"), "of"))[[1]]
  expect_identical(sheet$tests,
                   "Main heating differs by Island: F(9.6, 728.8) = 22.59, p < 0.001; V = 0.341")
  expect_length(c(sheet$strength, sheet$reference, sheet$account), 0)
  expect_match(sheet$key, "more, .* fewer respondents than expected")
  expect_match(sheet$source, "^Source: ")
  expect_identical(nrow(sheet$cautions), 0L)
  # a part more, or without one, by its name
  with_account <- lay_out(x, dress = "published", lines = c("published", "account"))[[1]]
  expect_match(with_account$account, "22 left out")
  alone <- lay_out(x, dress = "published", lines = "strength")[[1]]
  expect_match(alone$strength[1], "^Cram.r's V = 0.341")
  # what would mislead stands there for readers, too
  few <- crosstab(respondents(demo_records(120)), heating, island)
  expect_true("small_base" %in% lay_out(few, dress = "published")[[1]]$cautions$code)
  # nothing found is said as such, and no key explains what is not there
  none <- lay_out(crosstab(demo_survey(), internet, tenure), dress = "published")[[1]]
  expect_match(none$tests, "^Internet quality does not differ significantly by Tenure: F")
  expect_length(none$key, 0)
  # the level is said where it is not the usual one, and the other way round
  turned <- crosstab(demo_survey(), heating, island, explains = "down", alpha = 0.01)
  expect_match(lay_out(turned, dress = "published")[[1]]$tests,
               "^Island differs by Main heating at the 0.01 level: F")
})

test_that("a file is for readers, and its author is told what it leaves out", {
  x <- crosstab(demo_survey(), internet, tenure)
  path <- withr::local_tempfile(fileext = ".md")
  told <- tryCatch(publish(x, path),
                   fairlattice_before_handing_on = function(m) conditionMessage(m))
  expect_match(told, "^Before you hand .*[.]md on:\n.*could have detected V of")
  page <- suppressMessages(publish(x, path))
  text <- paste(readLines(path, encoding = "UTF-8"), collapse = "\n")
  expect_no_match(text, "could have detected|Suggested text|For reference|null hypothesis")
  expect_no_message(publish(lay_out(x, dress = "working"), path))
  text <- paste(readLines(path, encoding = "UTF-8"), collapse = "\n")
  expect_match(text, "could have detected.*Suggested text")
  # the paragraph by its name
  suppressMessages(publish(lay_out(x, lines = c("published", "text")), path))
  text <- paste(readLines(path, encoding = "UTF-8"), collapse = "\n")
  expect_match(text, "Suggested text[^A-Z]+Internet quality does not differ significantly")
  # of several tables by their kind
  told <- tryCatch(publish(list(x, crosstab(demo_survey(), internet, season)), path),
                   fairlattice_before_handing_on = function(m) conditionMessage(m))
  expect_match(told, "(and 1 more table)", fixed = TRUE)
})

test_that("layouts stay within the width and draw every figure", {
  tables <- list(crosstab(netted(), ferry, island), crosstab(netted(), ferry),
                 crosstab(netted(), c(ferry, heating), c(island, tenure)))
  for (x in tables) for (width in c(60, 80, 200)) {
    lines <-
      format(lay_out(x, show = c("column", "n"), lines = "none"), width = width)
    expect_lte(max(cli::ansi_nchar(lines, "width")), width)
  }
  path <- withr::local_tempfile(fileext = ".html")
  suppressMessages(publish(lay_out(tables[[3]], lines = "working"), path))
  page <- paste(readLines(path), collapse = "\n")
  expect_equal(lengths(regmatches(page, gregexpr("scope=\"colgroup\"", page))),
               2)
  expect_equal(lengths(regmatches(page, gregexpr("class=\"write-up\"", page))),
               4)
  expect_error(publish(tables[[3]], withr::local_tempfile(fileext = ".svg")),
               "one figure cannot hold them",
               class = "fairlattice_error_figure")
})

test_that(paste("a sheet withholds nets, means and bases along with the cells",
                "that they would give away"), {
  survey <- net(score(demo_survey(), ferry), ferry, Happy = satisfied)
  x <- crosstab(survey, ferry, island)
  sheet <- lay_out(x, show = c("column", "n", "interval"), stack = "beneath",
                   withhold_under = 35)[[1]]
  held <- sheet$kind == "withheld"
  n <- sheet$stub$figure == "n" & sheet$stub$role == "answer"
  counts <- matrix(shares(x)$n, 5)
  expect_true(all(held[n, 1:5][counts < 35]))
  expect_gt(sum(held[n, 1:5]), sum(counts < 35))
  expect_true(all(is.na(sheet$value[held]) & is.na(sheet$high[held])))
  happy <- which(sheet$stub$role == "net")
  parts <- colSums(held[n, 1:5][4:5, ]) > 0
  expect_identical(held[happy[1], 1:5], parts)
  expect_identical(held[sheet$stub$role == "mean", 1:5][1, ],
                   colSums(held[n, 1:5]) > 0)
  expect_true(any(grepl("withheld", sheet$key)))
  expect_false(any(grepl(
    " 31\\b| 30\\b",
    format(lay_out(x, show = "n", withhold_under = 35, lines = "none")))))
  path <- withr::local_tempfile(fileext = ".html")
  publish(lay_out(crosstab(demo_survey(), ferry, tenure),
                  show = c("column", "n"), withhold_under = 32), path)
  page <- sub("<script type=\"application/json\" id=\"page-words.*", "",
              paste(readLines(path), collapse = " "))
  hidden <- withr::local_tempfile(fileext = ".html")
  publish(lay_out(crosstab(demo_survey(), ferry, tenure), hide_under = 400),
          hidden, figure = "none")
  for (one in c(page, paste(readLines(hidden), collapse = " "))) {
    expect_false(grepl("class=\"model| data-at=", one))
  }
  expect_false(grepl("<img|>9.9 |write-up\"|chi-square|Rao-Scott|Cram", page))
  small <- data.frame(a = c("x", "y"), b = rep(c("p", "q"), c(110, 10)))
  text <- format(lay_out(
    crosstab(small, a, b), show = "n",
    withhold_under = 20), lines = "working")
  # no caution, test or measure gives them away
  expect_false(any(grepl("\\b10\\b|\\b5\\b|Phi", text)))
  for (ending in c(".json", ".svg")) {
    expect_error(
      publish(lay_out(x, withhold_under = 35),
              withr::local_tempfile(fileext = ending)),
      "withheld", class = "fairlattice_error_format")
  }
})

test_that("every option of the layout reaches the table", {
  withr::local_options(cli.width = 200)
  file <- demo_file("veyra.csv")
  design <-
    c("--weight", "weight", "--stratum", "island", "--cluster", "settlement")
  cross <- function(...) {
    call_main("crosstab", file, ..., design, "--lines", "none")
  }
  expect_match(cross("--down", "ferry")$out,
               "95% CI +cumulative % .*Very dissatisfied +15.6 +13.5.17.9 +15.6 +402")
  expect_match(cross("--down", "ferry", "--across", "island", "--percent",
                     "none")$out, "Numbers of respondents.*134")
  expect_match(cross("--down", "ferry", "--across", "island", "--show",
                     "column,n", "--decimals", "0")$out, "9 \\(31\\)")
  expect_match(cross("--down", "ferry", "--across", "island", "--show",
                     "column,n", "--stack", "beneath", "--decimals",
                     "percent=2", "--sort", "size", "--title", "My title",
                     "--notes", "My note")$out,
               "^My title.*Satisfied +33.97 .*\n.n +117 .*Dissatisfied.*My note")
  expect_match(cross("--down", "ferry", "--across", "island,tenure",
                     "--together", "--marks", "letters", "--score", "ferry",
                     "--net", "ferry=Happy: Satisfied, Very satisfied")$out,
               "Island +Tenure.*Happy +48.2 [bce ]*[bce].*Mean +3.23")
  expect_match(cross("--down", "age", "--across", "island", "--score",
                     "age")$out, "Mean +50.54")
  expect_match(cross("--down", "ferry", "--across", "island", "--score",
                     "ferry=0,0,0,1,1")$out, "Mean +0.48")
  expect_match(cross("--down", "ferry", "--across", "island", "--against",
                     "rest")$out, "9.1 . .*higher")
  expect_match(cross("--down", "ferry", "--across", "island", "--hide-under",
                     "400")$out, "\\* percentages of fewer than 400")
  expect_match(cross("--down", "ferry", "--across", "island",
                     "--withhold-under", "32")$out, "\\[c\\]")
  expect_match(cross("--down", "season", "--shares",
                     "Spring=25,Summer=40,Autumn=25,Winter=10")$out,
               "given +%|given %")
  for (words in list(c("--decimals", "x"), c("--shares", "Yes=50"),
                     c("--show", "colum"), c("--score", "ferry=a,b"),
                     c("--against", "nowhere"), c("--net", "ferry"),
                     c("--stack", "some"))) {
    run <- cross("--down", "ferry", "--across", "island", words)
    expect_true(run$status %in% 1:2, info = words[1])
    expect_match(run$err, "^fairlattice: ")
  }
})

test_that("answers outside the base stand under it, of everybody asked, and are no part of it", {
  data <- demo_records()
  survey <- respondents(data, weight = weight)
  x <- crosstab(survey, say_homes, c(island, mode))
  plain <- lay_out(x)[[1]]
  sheet <- lay_out(x, outside = "Don't know")[[1]]
  line <- which(grepl("Don't know", sheet$stub$label))
  expect_equal(sheet$value[-line, ], plain$value)
  text <- as.character(data$say_homes)
  w <- ifelse(is.na(data$weight), 0, data$weight)
  answered <- !is.na(data$say_homes)
  unsure <- text %in% "Don't know"
  for (j in seq_along(sheet$columns$label)) {
    own <- if (sheet$columns$role[j] == "all") TRUE else
      as.character(data[[if (sheet$columns$block[j] == 1) "island" else "mode"]]) ==
        sheet$columns$label[j]
    expect_equal(sheet$value[line, j],
                 100 * sum(w[unsure & own]) / sum(w[(answered | unsure) & own]))
  }
  all <- lay_out(x, outside = "all")[[1]]
  expect_identical(sum(grepl("of all asked", all$stub$label)), 2L)
  # with row percentages it is the question across that has them
  rows <- lay_out(rechoose(crosstab(survey, island, say_homes), percent = "row"),
                  outside = "Don't know")[[1]]
  norrey <- which(rows$stub$label == "Norrey")
  expect_equal(rows$value[norrey, grepl("Don't know", rows$columns$label)],
               sheet$value[line, 1])
  expect_error(lay_out(x, outside = "Dont know"), "There are: \"Don't know\"",
               class = "fairlattice_error_layout")
  expect_error(lay_out(x, outside = "all", withhold_under = 5), "give withheld",
               class = "fairlattice_error_layout")
})

test_that("letters of two levels are capitals where they hold at the stricter", {
  x <- crosstab(score(demo_survey(), ferry), ferry, island)
  one <- function(alpha) {
    lay_out(rechoose(x, alpha = alpha), marks = "letters")[[1]]$letters
  }
  both <- lay_out(rechoose(x, alpha = 0.05), marks = "letters", second_alpha = 0.001)[[1]]
  expect_identical(tolower(both$letters), one(0.05))
  capitals <- gsub(" +", " ", trimws(gsub("[a-z]", "", both$letters)))
  expect_identical(tolower(capitals), one(0.001))
  expect_true(any(both$letters != tolower(both$letters)))
  expect_match(both$key, "capitals: level 0.001", all = FALSE)
  expect_error(lay_out(x, second_alpha = 0.01), "for letters", class = "fairlattice_error_layout")
  expect_error(lay_out(x, second_alpha = 0.1, marks = "letters"), "must be below",
               class = "fairlattice_error_layout")
})

test_that("percentages add up to 100 where that is asked, each within a step of its own", {
  survey <- net(demo_survey(), ferry, Content = c("Satisfied", "Very satisfied"))
  for (percent in c("column", "row", "total")) for (digits in 0:1) {
    x <- rechoose(crosstab(survey, ferry, island), percent = percent)
    plain <- lay_out(x, decimals = digits)[[1]]
    sheet <- lay_out(x, decimals = digits, round = "percent-to-100")[[1]]
    rows <- sheet$stub$role == "answer"
    columns <- sheet$columns$role == "answer"
    cells <- sheet$value[rows, columns]
    sums <- switch(percent, column = colSums(cells), row = rowSums(cells), sum(cells))
    expect_equal(unname(sums), rep(100, length(sums)))
    expect_equal(cells, round(cells, digits))
    expect_true(all(abs(cells - plain$value[rows, columns]) < 10^-digits))
    if (percent == "column")
      expect_equal(sheet$value[sheet$stub$role == "net", columns],
                   colSums(cells[4:5, ]))
    expect_false(any(grepl("rounding", sheet$notes)))
  }
  # largest remainders by hand: 33.33, 33.33, 33.34 of 100
  expect_equal(fairlattice:::largest_remainders(c(33.33, 33.33, 33.34), 100, 0), c(33, 33, 34))
  expect_equal(fairlattice:::largest_remainders(c(12.5, 12.5, 75), 100, 0), c(13, 12, 75))
  # the note stands where they do not, and only there
  off <- data.frame(a = rep(c("x", "y", "z"), 2), b = rep(c("p", "q"), each = 3))
  even <- data.frame(a = rep(c("x", "y"), 4), b = rep(c("p", "q"), each = 4))
  noted <- function(data, ...) {
    any(grepl("add up to 100", lay_out(crosstab(data, a, b), ...)[[1]]$notes))
  }
  expect_true(noted(off))
  expect_false(noted(even))
  expect_false(noted(off, lines = "none"))
})

test_that("everybody has no lines for figures that everybody has not", {
  x <- rechoose(crosstab(demo_survey(), ferry, island), percent = "row")
  sheet <- lay_out(x, show = c("row", "interval", "adjusted"), stack = "beneath")[[1]]
  expect_true(all(rowSums(sheet$kind != "") > 0 | sheet$stub$role == "heading"))
  expect_identical(sum(sheet$stub$role == "all"), 2L)
  beside <- lay_out(rechoose(x, percent = "column"), show = c("column", "adjusted"),
                    stack = "beside")[[1]]
  expect_identical(sum(beside$columns$role == "all"), 1L)
})

test_that("a title without its number, and clusters of totals as they are", {
  expect_identical(bare_title(list(number = "3", title = numbered("Heating by Island", "3"))),
                   "Heating by Island")
  expect_identical(bare_title(list(title = "Heating")), "Heating")
  x <- crosstab(respondents(demo_records(300), weight = weight, cluster = settlement), leave,
                mode)
  layout <- list(show = "estimated_total", percent = NA_character_, unit = "thousands")
  found <- precision_grid(net_parts(x, 1L, everybody = TRUE), layout, "clusters")
  expect_equal(as.vector(found[1:2, 1:3]), as.vector(layer_clusters(x$layers[[1]], "cell")))
})

test_that("counts are rounded to 2 as to any other number", {
  x <- crosstab(demo_survey(), heating, island)
  shown <- function(to) lay_out(x, show = "n", round_to = to, round_seed = 3)[[1]]$value
  expect_true(any(shown(1) %% 2 == 1, na.rm = TRUE))
  expect_true(all(shown(2) %% 2 == 0, na.rm = TRUE))
  expect_lte(max(abs(shown(2) - shown(1)), na.rm = TRUE), 1)
})

test_that("one text and several are told apart where one is due", {
  x <- crosstab(demo_records(60), leave, mode)
  expect_error(lay_out(x, title = c("a", "b")), "must be one text")
  expect_error(lay_out(x, notes = 3), "must be texts")
})

test_that("a published line of a table of each says each thing once", {
  x <- crosstab(demo_records(), leave, tenure, each = mode)
  for (k in 1:3) {
    lines <- published_line(x, k, tests_of(x)[[k]], 0.05, TRUE)
    expect_match(lines[1], "^Has thought of leaving .*; V = ")
    expect_false(any(grepl("n = ", lines[-1])))
    expect_false(any(duplicated(lines)))
  }
})
