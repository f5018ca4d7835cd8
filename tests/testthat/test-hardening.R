# No wrong table without a word: what attack and daily use found, each held
# through the public face.

# ---- totals ----

test_that("a line is a total only if it adds up, whatever it is called", {
  M <- matrix(c(10, 4, 8, 7, 9, 3, 5, 6, 11), 3,
              dimnames = list(c("A", "N", "Y"), c("M", "N", "S")))
  x <- crosstab_of_counts(M)
  expect_equal(unname(x$layers[[1]]$n), unname(M))
  expect_match(subset(cautions(x), code == "kept_total")$text,
               "row \"N\", column \"N\"")
  expect_match(tail(format(x, width = 200), 2)[1],
               "63 respondents counted in 9 cells$")
  for (name in c("Total", "All", "Base", "N")) {
    with_total <- rbind(M, colSums(M))
    rownames(with_total)[4] <- name
    rownames(with_total)[2] <- "Z"
    y <- crosstab_of_counts(with_total)
    expect_equal(dim(y$layers[[1]]$n), c(3, 3), info = name)
    expect_match(paste(format(y, width = 200), collapse = " "),
                 sprintf("set aside as totals: row \"%s\" \\(22, 19, 22\\)",
                         name), info = name)
    expect_equal(dim(crosstab_of_counts(with_total, totals = FALSE)$layers[[1]]$n),
                 c(4, 3))
    off <- with_total
    off[4, 2] <- off[4, 2] + 1
    expect_error(crosstab_of_counts(off),
                 "has 20 for \"N\", but the others add up to 19",
                 class = "fairlattice_error_counts", info = name)
    expect_false(all(recheck(off)$holds))
  }
  # a total of totals, a base under the total, and a total that stands first
  both <- rbind(M[c(1, 3), ], Total = colSums(M[c(1, 3), ]),
                Base = colSums(M[c(1, 3), ]))
  expect_equal(dim(crosstab_of_counts(cbind(both, All = rowSums(both)))$layers[[1]]$n),
               c(2, 3))
  expect_equal(rownames(crosstab_of_counts(both[c(3, 1, 2), ])$layers[[1]]$n),
               c("A", "Y"))
  # two answers of the same size are no total and its part
  expect_equal(dim(crosstab_of_counts(matrix(
    c(5, 5, 7, 7), 2,
    dimnames = list(c("Y", "N"), c("p", "q"))))$layers[[1]]$n), c(2, 2))
})

test_that("records that stand for several respondents are counted both ways", {
  data <- data.frame(a = c("x", "y", "x", "y"), b = c("p", "p", "q", "q"),
                     n = c(100, 200, 192, 100))
  x <- crosstab(respondents(data, count = n), a, b)
  expect_match(paste(format(x, width = 200), collapse = " "),
               "4 records read, all in the table; representing 592 respondents")
  expect_equal(findings(saved(x))$base$respondents, 592)
})

# ---- arguments that vanish ----

test_that(paste("an argument that nothing uses is an error with the nearest",
                "name, in every public function"), {
  x <- crosstab(records_of(hand_2x3), down, across)
  refused <- function(expression, pattern) {
    expect_error(expression, pattern, class = "fairlattice_error_argument")
  }
  refused(crosstab(records_of(hand_2x3), down, across, pct = "row"),
          "Unexpected argument `pct`.*percent")
  refused(crosstab(records_of(hand_2x3), down, across, percnt = "row"),
          "Did you mean \"percent\"")
  refused(print(x, digits = 0), "Unexpected argument `digits`")
  refused(format(x, widht = 60), "Did you mean \"width\"")
  refused(as.data.frame(x, digits = 0), "Unexpected argument")
  refused(glance(x, foo = 1), "Unexpected argument")
  for (name in c("shares", "tests", "strength", "residuals", "cautions",
                 "write_up", "flip", "differences", "risks", "detectable",
                 "working", "reading", "publish", "recheck")) {
    f <- get(name, asNamespace("fairlattice"))
    first <- if (name == "publish") list(x, tempfile(fileext = ".json")) else
      list(x)
    refused(do.call(f, c(first, list(zzz = 1))), "Unexpected argument `zzz`")
  }
  exported <- getNamespaceExports("fairlattice")
  silent <- Filter(function(name) {
    is.function(get(name, asNamespace("fairlattice"))) &&
      !"..." %in% names(formals(get(name, asNamespace("fairlattice"))))
  }, exported)
  expect_identical(sort(silent), "main")
})

test_that("what was asked for is what is given, or an error", {
  x <- crosstab(records_of(hand_2x3), down, across)
  expect_error(strength(x, scores = "midranks"), "Spearman",
               class = "fairlattice_error_scores")
  expect_match(paste(format(residuals(x, type = "pearson")), collapse = "\n"),
               "expected +pearson")
  expect_match(paste(format(residuals(x, type = "pearson")), collapse = "\n"),
               format_number(residuals(x)$pearson_residual[1]), fixed = TRUE)
  read <- saved(x)
  gone <- function(expression) {
    expect_error(expression, "cannot be worked out anew",
                 class = "fairlattice_error_records_gone")
  }
  gone(shares(read, interval = "korn_graubard"))
  gone(strength(read, interval = "bootstrap"))
  gone(strength(read, scores = list(down = 1:2, across = 1:3)))
  gone(strength(read, measures = "kappa"))
  gone(tests(read, p = "exact"))
  gone(tests(read, tests = "exact"))
  gone(residuals(read, type = "pearson"))
  for (percent in c("column", "row", "total"))
    expect_equal(shares(read, percent), shares(x, percent), ignore_attr = TRUE)
  survey <- ticks(demo_records(300),
                  reasons = c(reason_work, reason_housing, reason_school))
  ticked <- crosstab(survey, reasons, island)
  for (percent in c("column", "row", "total")) expect_equal(
    shares(saved(ticked), percent), shares(ticked, percent), ignore_attr = TRUE)
})

test_that("how p is worked out is one choice, for the table, the tests and the paragraph", {
  data <- records_of(hand_2x3)
  x <- crosstab(data, down, across, p = "exact")
  expect_identical(subset(tests(x), headline)$test, "exact")
  expect_match(paste(format(x, width = 200), collapse = " "),
               "exact test, n = 100")
  expect_match(write_up(x), "exact test, n = 100")
  expect_match(write_up(saved(x), "full"), "exact test")
  expect_identical(subset(tests(x, p = "asymptotic"), headline)$test, "pearson")
  expect_match(paste(format(crosstab(data, down, across)), collapse = " "),
               "Pearson")
})

test_that("part of a result prints as what it is", {
  x <- crosstab(records_of(hand_2x3), down, across)
  parts <- list(risks(x)[1:8, ], head(working(x)), differences(x)[1, ],
                strength(x)[1, ], residuals(x)[1:2, ], tests(x)[1, ],
                cautions(x)[0, ])
  for (part in parts) expect_type(format(part), "character")
  expect_match(paste(format(residuals(x)[1:2, ]), collapse = "\n"), "adjusted")
})

# ---- bytes ----

test_that("every unpacked byte is accounted for", {
  text <- paste0("a,b\n",
                 paste(sprintf("%d,x%d", 1:3000, 1:3000 %% 7), collapse = "\n"),
                 "\n")
  plain <- file_with(text)
  folder <- withr::local_tempdir()
  zip <- file.path(folder, "r.zip")
  zip_of(zip, "r.csv", charToRaw(text))
  expect_equal(read_records(zip), read_records(plain), ignore_attr = TRUE)
  refused <- function(bytes, pattern, ending = ".zip") {
    bad <- file.path(folder, paste0("bad", ending))
    writeBin(bytes, bad)
    expect_error(read_records(bad), pattern, class = "fairlattice_error_file")
  }
  bytes <- readBin(zip, "raw", 1e6)
  directory <- tail(grepRaw("PK\001\002", bytes, all = TRUE), 1)
  understated <- replace(bytes, directory + 24:27, as.raw(c(100, 0, 0, 0)))
  refused(understated,
          "unpacks to 2[0-9],[0-9]{3} bytes, but says that it holds 100")
  refused(replace(bytes, directory + 16:19, as.raw(1:4)),
          "checksum is another|cut short or damaged")
  refused(head(bytes, 400), "cut short or damaged")
  gz <- memCompress(charToRaw(text), "gzip")
  gz_file <- file.path(folder, "r.csv.gz")
  connection <- gzfile(gz_file, "wb")
  writeBin(charToRaw(text), connection)
  close(connection)
  gz <- readBin(gz_file, "raw", 1e6)
  expect_equal(read_records(gz_file), read_records(plain), ignore_attr = TRUE)
  refused(head(gz, length(gz) %/% 2), "cut short or damaged", ".csv.gz")
  refused(replace(gz, length(gz) - 7,
                  as.raw(bitwXor(as.integer(gz[length(gz) - 7]), 255L))),
          "cut short or damaged", ".csv.gz")
  expect_identical(crc32_kernel(charToRaw("123456789"), 0), 3421780262) # the check value of CRC-32
})

test_that("a temporary folder or a disk that is full is an error, and the old file stays", {
  skip_on_os("windows")
  full <- Sys.glob("/dev/full")
  skip_if(!length(full), "this system has no full device")
  out <- shell(paste(program("crosstab", demo_file(), "--down", "season",
                             "--across", "tenure"), ">", full, "2>&1 >", full))
  expect_identical(status_of(out), 1L)
  closed <-
    shell(paste(program("look", demo_file(), "--question", "ferry"), ">&-"))
  expect_identical(status_of(closed), 1L)
  expect_match(paste(closed, collapse = " "),
               "Not all of the output could be written")
  folder <- withr::local_tempdir()
  piped <- shell(sprintf("cd %s && %s | head -1; exit ${PIPESTATUS[0]}",
                         shQuote(folder),
                         program("crosstab", demo_file(), "--down", "season",
                                 "--across", "tenure", "--out", "t.md", "--out",
                                 "t.json")))
  expect_identical(status_of(piped), 0L)
  expect_true(all(c("t.md", "t.json") %in% list.files(folder)))
})

test_that(paste0(paste("a figure that is cut short is not put in the place of",
                       "the old one; modes, links and temporaries "),
                 "are kept in order"), {
  expect_true(is_whole(file_with("<svg></svg>\n"), "svg"))
  expect_false(is_whole(file_with("<svg><g>"), "svg"))
  folder <- withr::local_tempdir()
  path <- file.path(folder, "t.svg")
  writeLines("old", path)
  expect_error(write_beside(
    path,
    function(file) {
      writeLines("<svg>", file)
    }, NULL), "cut short", class = "fairlattice_error_not_written")
  expect_identical(readLines(path), "old")
  expect_identical(list.files(folder, all.files = TRUE, no.. = TRUE), "t.svg")
  x <- crosstab(records_of(hand_2x2), down, across)
  json <- file.path(folder, "t.json")
  publish(x, json)
  skip_on_os("windows")
  Sys.chmod(json, "640")
  # beyond the numbers that processes have
  dead <- sub("-[0-9]+-$", "-4194000-", temporary_mark())
  left <- file.path(folder, paste0(".", dead, "abc.json"))
  file.create(left)
  mine <- file.path(folder, paste0(".", temporary_mark(), "abc.json"))
  file.create(mine)
  publish(x, json)
  expect_identical(format(file.mode(json)), "640")
  expect_identical(file.exists(c(left, mine)), c(FALSE, TRUE))
  link <- file.path(folder, "link.json")
  file.symlink(json, link)
  publish(x, link)
  expect_identical(Sys.readlink(link), json)
})

# ---- one reader, one rule ----

test_that("cells are read by one rule, and lines are accounted for", {
  refused <- function(text, pattern) {
    expect_error(read_records(file_with(text)), pattern,
                 class = "fairlattice_error_file")
  }
  refused("a,b\n5,1,\"x\"a\n6,2,y\n7,1,z",
          "Line 2 .* text after a closing quote")
  refused("a,b\n1,\"x\n2,y\n",
          "A quote that opens on line 2 .* is never closed")
  writeBin(as.raw(c(0x61, 0x2c, 0x62, 0x0a, 0x31, 0, 0x32, 0x0a)),
           zero <- withr::local_tempfile(fileext = ".csv"))
  expect_error(read_records(zero), "Line 2 .* zero byte",
               class = "fairlattice_error_file")
  expect_message(blank <- read_records(file_with("a,b\n\n1,x\n\n\n2,y\n\n")),
                 "4 blank lines skipped", class = "fairlattice_message")
  expect_identical(blank$b, c("x", "y"))
  # in one column a blank line is an answer that is not there
  expect_identical(read_records(file_with("a\n1\n\n2\n"))$a, c(1L, NA, 2L))
  odd <- read_records(file_with("a,b\n5\" pipe,1\n\"say \"\"hi\"\"\", 2 \n"))
  expect_identical(as.list(odd)[1:2],
                   list(a = c("5\" pipe", "say \"hi\""), b = 1:2))
  expect_identical(read_records(file_with("a|b\n1|x,y\n"), delimiter = "|")$b,
                   "x,y")
  book <- withr::local_tempfile(fileext = ".json")
  writeLines('{"fields": [{"name": "a", "categories": [1, 2]}]}', book)
  suppressMessages(expect_error(read_records(
                                  file_with("a,b\n1,\"x\ny\"\n\n9,z\n"), book),
                                "lines 5\\)",
                                class = "fairlattice_error_unknown_value"))
})

test_that("the careful reader and the fast one give the same cells", {
  cells <- c("1", "2.5", "-3", "x", "\"a,b\"", "", "TRUE", "007", "\"q\"\"q\"",
             "1e5", "2030-01-31")
  for (seed in 1:30) {
    text <- withr::with_seed(seed, {
      columns <-
        replicate(3, sample(sample(cells, 3), 6, TRUE), simplify = FALSE)
      paste0("a,b,c\n",
             paste(do.call(paste, c(columns, sep = ",")), collapse = "\n"),
             "\n")
    })
    path <- file_with(text)
    made <- scan_delimited_kernel(path, ",", FALSE)
    fast <- read_quickly(path, ",", ".", made)
    careful <- read_carefully(path, ",", ".")
    if (!is.null(fast))
      expect_equal(lapply(fast, as.character), lapply(careful, as.character),
                   info = text)
  }
})

# ---- values ----

test_that("numbers and text are not compared, and numbers that print alike are one answer", {
  survey <- respondents(data.frame(age = c(9, 10, 30), town = c("x", "y", "x")))
  for (words in c("age >= '9'", "age == '9'", "age %in% c('9', '10')",
                  "town > 3")) {
    expect_error(among(survey, !!words), "is a number and .* is text",
                 class = "fairlattice_error_condition")
  }
  expect_error(among(survey, age >= "9"), "is a number and",
               class = "fairlattice_error_condition")
  near <-
    crosstab(data.frame(a = c(0.3, 0.1 + 0.2, 0.4), b = c("p", "q", "p")), a, b)
  expect_identical(rownames(near$layers[[1]]$n), c("0.3", "0.4"))
  expect_error(crosstab_of_counts("\tp\tq\nx\t9007199254740993\t1\ny\t1\t2"),
               "2\\^53", class = "fairlattice_error_counts")
  expect_error(respondents(data.frame(a = 1, n = 2^53 + 2), count = n),
               "below 2\\^53", class = "fairlattice_error_count")
  expect_error(respondents(data.frame(a = 1:2, w = c(1, 1e300)), weight = w),
               "at most 1e\\+100", class = "fairlattice_error_weight")
  blank <- crosstab(data.frame(a = factor(
                                 c("x", "", "y", " "), c("", "x", "y", " ")),
                               b = c("p", "q", "q", "p")), a, b)
  expect_identical(rownames(blank$layers[[1]]$n), c("x", "y"))
  expect_equal(account_of(blank$tally)$left_out,
               data.frame(code = "no_answer", question = "a", detail = "",
                          records = 2))
})

test_that("conditions of any length and in any script are read", {
  survey <- respondents(data.frame(a = c("\u00e9", "b"), n = 1:2))
  expect_identical(among(survey, "a == '\u00e9'")$aside, c(0L, 1L))
  long <- function(terms) {
    paste(sprintf("n == %d", rep(1:2, length.out = terms)), collapse = " | ")
  }
  expect_null(among(survey, !!long(1000))$aside)
  expect_error(among(survey, !!long(20000)), "more than 100,000 characters",
               class = "fairlattice_error_condition")
  deep <- paste0(strrep("!", 1000), "(n == 1)")
  expect_error(among(survey, !!deep), class = "fairlattice_error_condition")
  expect_error(among(survey, n > nowhere), "cannot be worked out",
               class = "fairlattice_error_condition")
})

test_that("a number with many values asks to be banded, and proposes bands that work", {
  records <- demo_records(300)
  caught <- tryCatch(crosstab(records, leave, age),
                     fairlattice_error_too_many_answers = identity)
  expect_match(conditionMessage(caught),
               "band\\(x, age, breaks = c\\(18, 20, 40")
  expect_gt(ncol(crosstab(band(records, age, breaks = caught$breaks), leave,
                          age)$layers[[1]]$n), 3)
  quarters <- data.frame(years = rep(16 + (0:15) / 4, 4), b = c("p", "q"))
  expect_error(crosstab(quarters, b, years), "number with 16 different values",
               class = "fairlattice_error_too_many_answers")
  years <- data.frame(year = rep(2010:2035, 4), b = c("p", "q"))
  expect_equal(ncol(crosstab(years, b, year)$layers[[1]]$n), 26)
})

test_that(paste("the exact test is worked out once a table, and a table",
                "beyond its budget is not begun"), {
  n <- matrix(withr::with_seed(1, rpois(20, 2)), 4,
              dimnames = list(1:4, letters[1:5]))
  x <- crosstab(records_of(n), down, across)
  write_up(x)
  # whoever works it out anew will not say this
  x$layers[[1]]$kept$exact$value$p <- 0.123
  x$layers[[1]]$kept$tests <- NULL
  expect_match(paste(c(format(x), write_up(x), format(tests(x))),
                     collapse = " "), "p = 0.123.*p = 0.123.*0.123")
  wide <- withr::with_seed(
    1,
    data.frame(a = factor(sample(4, 2700, TRUE)),
               b = factor(sample(53, 2700, TRUE, prob = (1:53)^2))))
  counts <- crosstab(wide, a, b)$layers[[1]]$n
  tried <- exact_kernel(as.integer(rowSums(counts)),
                        as.integer(colSums(counts)), log_factorials_of(counts),
                        setting("exact_steps"), setting("exact_bytes"), 1L, NULL)
  expect_identical(tried[c("finished", "steps")],
                   list(finished = FALSE, steps = 0))
})

# ---- words that say what the figures say ----

test_that(paste("a reversal needs evidence on both sides, and strata that",
                "differ are a caution of their own"), {
  of <- function(counts, e) {
    transform(records_of(matrix(counts, 2, dimnames = dimnames(hand_2x2))),
              e = e)
  }
  codes <- function(data) {
    cautions(crosstab(data, down, across, each = e))$code
  }
  # weak within: pooled p is about 0.1
  reversed <-
    rbind(of(c(81, 6, 234, 36), "small"), of(c(192, 71, 55, 25), "large"))
  expect_false("reversal" %in% codes(reversed))
  strong <- reversed[rep(seq_len(nrow(reversed)), 5), ]
  expect_true("reversal" %in% codes(strong))
  differ <- rbind(of(c(40, 10, 10, 40), "one"), of(c(25, 25, 25, 25), "two"))
  expect_true("heterogeneity" %in% codes(differ))
  expect_false("heterogeneity" %in%
                 codes(rbind(
                   of(c(40, 10, 10, 40), "one"),
                   of(c(40, 10, 10, 40), "two"))))
})

test_that("no three-way interaction: fitted margins, its 2x2xK form, level and power", {
  A <- withr::with_seed(1, array(rpois(24, 30), c(3, 4, 2)))
  fit <- fit_two_way(A)
  for (side in list(1:2, c(1, 3), 2:3)) expect_equal(
    apply(fit, side, sum), apply(A, side, sum), tolerance = 1e-7)
  # no interaction: all odds ratios of two rows and columns are the same in both
  # layers
  ratio <- function(k) {
    fit[1, 1, k] * fit[3, 4, k] / (fit[1, 4, k] * fit[3, 1, k])
  }
  expect_equal(ratio(1), ratio(2), tolerance = 1e-5)
  long <- function(A, w = NULL) {
    at <- arrayInd(rep(seq_along(A), A), dim(A))
    data.frame(a = letters[at[, 1]], b = LETTERS[at[, 2]], e = at[, 3])
  }
  test <- function(x) tail(as.data.frame(pooled(x)$tests), 1)
  plain <- test(crosstab(long(A), a, b, each = e))
  expect_equal(plain[c("test", "df")], list(test = "no_three_way", df = 6),
               ignore_attr = TRUE)
  expect_equal(plain$statistic, sum((A - fit)^2 / fit), tolerance = 1e-6)
  # equal weights give the same to n/(n-1), up to where V0 is taken
  weighted <- test(crosstab(respondents(transform(long(A), w = 2), weight = w),
                            a, b, each = e))
  expect_equal(weighted$statistic * weighted$df / plain$statistic, 1,
               tolerance = 0.1)
  p <- withr::with_seed(2,
                        vapply(1:200, function(i) {
                          B <- array(rpois(
                            18,
                            rep(c(20, 30, 25, 15, 40, 30, 20, 25, 30), 2) *
                              rep(c(1, 1.5), each = 9)), c(3, 3, 2))
                          three_way_test(
                            strata_tables(
                              crosstab(long(B), a, b, each = e)))$p
                        }, 0))
  expect_lt(abs(mean(p < 0.05) - 0.05), 0.05)
})

test_that("what stands beside a weighted table says what it is, and signs say what they mean", {
  data <- transform(records_of(hand_2x2), w = rep(c(1, 2), 50))
  x <- crosstab(respondents(data, weight = w), down, across)
  expect_match(paste(format(x, width = 200, lines = "working"), collapse = "\n"),
               "For reference only \\(weighted percentages, sample design ignored\\)")
  expect_match(subset(strength(x), measure == "phi")$note,
               "\"x\" goes with \"p\"")
  clustered <-
    crosstab(respondents(transform(data, g = 1:100), cluster = g), down, across)
  expect_match(paste(format(clustered, width = 200, lines = "working"),
                     collapse = "\n"),
               "reference only \\(sample design ignored\\)")
})

# ---- kernels, readers of other people ----

test_that("codes beyond their answers cannot reach a kernel", {
  n <- 50
  wild <- list(structure(rep(1:3, length.out = n), labels = 1:3),
               structure(rep(1:9, length.out = n), levels = c("x", "y"),
                         class = "factor"),
               structure(rep(1:2, length.out = n), labels = c(a = 1, b = 1)))
  for (column in wild) {
    data <- data.frame(b = rep(c("p", "q"), n / 2))
    data$a <- column
    expect_error(crosstab(data, a, b), class = "fairlattice_error_column_type")
  }
  data$a <- matrix(1, n, 2)
  for (role in c("weight", "count")) {
    roles <- stats::setNames(list("a", "b"), c(role, "cluster"))
    expect_error(do.call(respondents, c(list(data), roles)),
                 "must be numbers, but the column \"a\" is a matrix",
                 class = paste0("fairlattice_error_", role))
  }
  expect_identical(tally_kernel(c(1L, 5L), c(1L, 1L), NULL, NULL, NULL, NULL,
                                NULL, 2L, 1L, 0L, 1L, 1L),
                   list(unsound = "down"))
  expect_error(tally_kernel(c(1L, 2L), 1L, NULL, NULL, NULL, NULL, NULL, 2L, 1L,
                            0L, 1L, 1L), "internal")
  expect_error(tally_kernel(1L, 1L, NULL, 3L, NULL, NULL, NULL, 1L, 1L, 0L, 2L,
                            1L), "internal: a design unit")
  expect_error(sum_by_cell_kernel(c(1L, 9L), c(1, 1), 3L), "internal")
  expect_error(exact_kernel(c(3L, 4L), c(3L, 5L), 0, 1e6, 1e6, 1L, NULL), "internal")
})

test_that("a saved table whose names were changed is refused with the place", {
  path <- withr::local_tempfile(fileext = ".json")
  publish(crosstab(records_of(hand_2x2), down, across), path)
  whole <- paste(readLines(path), collapse = "\n")
  expect_no_error(read_tables(path))
  refused <- function(from, to, why) {
    expect_true(grepl(from, whole, fixed = TRUE))
    writeLines(sub(from, to, whole, fixed = TRUE), path)
    expect_error(read_tables(path), why,
                 class = "fairlattice_error_not_a_table")
  }
  refused("\"label\": \"down\"", "\"labl\": \"down\"",
          "\"down\" has no \"label\"")
  refused("\"margins\": {\n    \"down\"", "\"margins\": {\n    \"dwn\"",
          "\"margins\" has no \"down\"")
  named <-
    regmatches(whole, regexpr("\"arguments\": [{]\\s*\"[a-z_]+\"", whole))
  refused(named, sub("\"[a-z_]+\"$", "\"odd\"", named),
          "cannot be put into words")
})

test_that(paste("JSON is text: nothing is followed, labels are strings, and",
                "what is no JSON does not reach the parser"), {
  secret <- file_with("[{\"a\": 1}]", ".json")
  for (text in c(secret, dQuote(secret, FALSE), "http://127.0.0.1:1/x.json")) {
    expect_error(read_records(file_with(text, ".json")),
                 class = "fairlattice_error_file")
    expect_error(read_tables(file_with(text, ".json")),
                 class = "fairlattice_error_not_a_table")
  }
  for (text in c("[{\"a\": %n}]", strrep("[", 1e5), "[{\"a\": 1},]",
                 "{\"a\": [1")) {
                   expect_error(
                     read_records(file_with(text, ".json")),
                     class = "fairlattice_error_file")
                 }
  labels <- c("{\"x\": 1}", "[1]", "null", "@number:5", "\\u0001")
  data <-
    data.frame(a = factor(rep(labels, 4), labels), b = rep(c("p", "q"), 10))
  attr(data$a, "label") <- structure("{\"evil\": true}", class = "json")
  x <- crosstab(data, a, b)
  raw <- jsonlite::parse_json(json_of(x))
  expect_identical(vapply(raw$down$categories, `[[`, "", "label"), labels)
  expect_identical(raw$down$label, "{\"evil\": true}")
  expect_identical(facts_of(saved(x))$down$categories$label, labels)
})

test_that("a damaged workbook or Parquet file is an error, not the end", {
  skip_if_not_installed("readxl")
  skip_if_not_installed("callr")
  bytes <- readBin(test_path("fixtures", "survey.xlsx"), "raw", 1e6)
  bad <- withr::local_tempfile(fileext = ".xlsx")
  for (at in c(60, 400, 1500)) {
    writeBin(replace(bytes, at + 0:9, as.raw(255:246)), bad)
    expect_error(read_records(bad), class = "fairlattice_error_file")
  }
  expect_error(in_child(function() tools::pskill(Sys.getpid(), 9L), list(),
                        "x.xlsx", "a workbook", NULL),
               "reader of this format broke down",
               class = "fairlattice_error_file")
  expect_error(read_records(file_with("PAR1 no parquet PAR1", ".parquet")),
               class = "fairlattice_error_file")
  for (range in c("A", "1:2", "B3:A1")) expect_error(
    read_records(test_path("fixtures", "survey.xlsx"), range = range),
    class = "fairlattice_error_range")
  for (sheet in list(1.5, 0, NA, c(1, 2))) expect_error(
    read_records(test_path("fixtures", "survey.xlsx"), sheet = sheet),
    class = "fairlattice_error_file")
  whole <- read_records(test_path("fixtures", "survey.xlsx"), sheet = 1)
  expect_equal(read_records(test_path("fixtures", "survey.xlsx"), sheet = 1,
                            range = "A1"), whole, ignore_attr = TRUE)
})

test_that("small bombs are refused by stated limits", {
  skip_if_not_installed("xml2")
  folder <- withr::local_tempdir()
  ods <- function(content) {
    path <- tempfile(tmpdir = folder, fileext = ".ods")
    zip_of(path, "content.xml", charToRaw(content))
    path
  }
  sheet <- function(rows) {
    sprintf(paste("<d xmlns:t=\"t\" xmlns:o=\"o\"><o:spreadsheet><t:table",
                  "t:name=\"s\">%s</t:table></o:spreadsheet></d>"), rows)
  }
  cell <- function(text, more = "") {
    sprintf("<t:table-cell o:value-type=\"string\" %s><t:p>%s</t:p></t:table-cell>",
            more, text)
  }
  row <- function(cells, more = "") {
    sprintf("<t:table-row %s>%s</t:table-row>", more, cells)
  }
  good <- sheet(paste0(row(cell("a")), row(cell("x"))))
  expect_identical(read_records(ods(good))$a, "x")
  expect_error(read_records(ods(paste0(paste(
                                         "<!DOCTYPE d [<!ENTITY a",
                                         "\"aaaa\"><!ENTITY b",
                                         "\"&a;&a;\">]>"), good))),
               "declares entities", class = "fairlattice_error_file")
  expect_error(read_records(ods(sheet(paste0(
    row(cell("a")),
    row(cell("x"), "t:number-rows-repeated=\"900000000\""))))),
               "spans 900,000,001 rows", class = "fairlattice_error_too_large")
  expect_error(read_records(ods(sheet(row(
    cell("a", "t:number-columns-repeated=\"900000\""))))),
               "spans 1 rows and 900,000 columns",
               class = "fairlattice_error_too_large")
  dated <- sheet(paste0(row(cell("a")),
                        paste0("<t:table-row><t:table-cell o:value-type=\"date\" ",
                               paste("o:date-value=\"2030-99-99\"><t:p>99 of",
                                     "99</t:p></t:table-cell></t:table-row>"))))
  expect_identical(read_records(ods(dated))$a, "99 of 99")
  far <- "<row r=\"1\"><c r=\"A1\"/><c s=\"1\" r=\"XFD1048576\"><v>1</v></c></row>"
  expect_equal(unname(sheet_extent_kernel(charToRaw(far))),
               c(1048576, 16384, 2))
  bomb <- file_with("a: &a [x, x]\nb: &b [*a, *a]\nfields: [*b]\n", ".yaml")
  expect_error(read_records(file_with("q\n1\n"), bomb), "Aliases",
               class = "fairlattice_error_codebook")
  expect_error(read_records(file_with("q\n1\n"),
                            file_with("fields: !expr stop()\n", ".yaml")),
               "Tags", class = "fairlattice_error_codebook")
  expect_error(counts_from_percentages(cbind(a = c(40, 60)), 1e15), "too large",
               class = "fairlattice_error_percentages")
})

test_that("broken codebooks and packages are refused by name", {
  data <- file_with("q\n1\n")
  broken <- c("123", "{\"fields\": [\"a\"]}",
              "{\"fields\": [{\"name\": \"q\", \"categories\": [null]}]}",
              "{\"fields\": [{\"name\": \"q\", \"type\": [\"a\", \"b\"]}]}",
              "[]",
              paste("{\"fields\": [{\"name\": \"q\", \"categories\":",
                    "[{\"value\": [1, 2], \"label\": \"x\"}]}]}"))
  for (text in broken) expect_error(read_records(
                                      data, file_with(text, ".json")),
                                    class = "fairlattice_error_codebook",
                                    info = text)
  folder <- withr::local_tempdir()
  package <- file.path(folder, "datapackage.json")
  for (text in c("5", "{\"resources\": [1]}",
                 paste("{\"resources\": [{\"name\": \"a\", \"path\":",
                       "\"x.csv\", \"schema\": \"datapackage.json\"}]}"))) {
    writeLines(text, package)
    expect_error(read_records(package), class = "fairlattice_error_codebook",
                 info = text)
  }
  drafted <- file.path(folder, "d.csv")
  writeLines(c("q", "1", "2", "-9", "1"), drafted)
  write_codebook(draft_codebook(read_records(drafted)),
                 file.path(folder, "d.schema.json"))
  expect_message(read <- read_records(drafted),
                 "draft with guesses and was not applied",
                 class = "fairlattice_message")
  expect_type(read$q, "integer")
})

test_that("odd choices and options are answered by name", {
  expect_error(crosstab_of_counts(hand_2x2, percent = "foo"),
               "`percent` must be", class = "fairlattice_error_choice")
  expect_error(crosstab_of_counts(hand_2x2, percent = "col"),
               "Did you mean \"column\"", class = "fairlattice_error_choice")
  for (word in c("BH", "fdr")) expect_error(
    crosstab_of_counts(hand_2x2, correction = word),
    "Did you mean \"benjamini_hochberg\"", class = "fairlattice_error_choice")
  withr::local_options(fairlattice.sparse_rule = "foo")
  expect_error(tests(crosstab_of_counts(hand_2x2)),
               "option `fairlattice.sparse_rule` must be",
               class = "fairlattice_error_option")
  expect_error(recheck(hand_2x2, p = "1e400"),
               class = "fairlattice_error_claim")
})

# ---- naming columns ----

test_that("columns are named by one rule in every function", {
  records <- demo_records(200)
  wanted <- findings(crosstab(records, "leave", "island"))$cells
  v <- "island"
  same <- function(x) expect_equal(findings(x)$cells, wanted)
  same(crosstab(records, leave, island))
  same(crosstab(records, "leave", v))
  same(crosstab(records, leave, !!c(a = "island")))
  same(crosstab(records, .data[["leave"]], .data$island))
  same(crosstab(records, leave, .data[[v]]))
  older <- among(respondents(records), age >= 65)$aside
  expect_identical(among(respondents(records), .data[["age"]] >= 65)$aside > 0,
                   older > 0)
  least <- 65
  expect_identical(among(respondents(records), age >= least)$aside > 0,
                   older > 0)
  lapply("island", function(one) same(crosstab(records, "leave", one)))
  wrapped <- function(data, question) crosstab(data, leave, {{ question }})
  same(wrapped(records, island))
  island <- "tenure" # a column's own name goes before a variable
  same(crosstab(records, leave, island))
  question <- "ferry"
  expect_identical(unique(look(records, question)$question), "ferry")
  expect_identical(unique(look(records, c(ferry, "leave"))$question),
                   c("ferry", "leave"))
  expect_equal(regroup(records, question,
                       Bad = c("Very dissatisfied", "Dissatisfied"))$ferry,
               regroup(records, ferry,
                       Bad = c("Very dissatisfied", "Dissatisfied"))$ferry)
  expect_equal(respondents(records, weight = "weight")$weight,
               respondents(records, weight = weight)$weight)
  long <- data.frame(opinion = c("y", "n", "y", "n"),
                     place = c("p", "p", "q", "q"), count = c(20, 20, 10, 50),
                     other = 1:4)
  expect_equal(unname(crosstab_of_counts(long, opinion, place, count)$layers[[1]]$n),
               unname(hand_2x2))
  unnamed <- stats::setNames(data.frame(1:2, 3:4), c("a", NA))
  expect_error(look(unnamed), "Column 2 of the data has no name",
               class = "fairlattice_error_column_name")
})

# ---- the terminal ----

test_that("control characters and overrides of direction are shown, not obeyed", {
  data <- data.frame(a = c("x\033[31mred", "y\u202egnol", "x\033[31mred"),
                     b = c("p\rq", "z", "z"))
  attr(data$a, "label") <- "title\a"
  x <- crosstab(data, a, b)
  text <- c(format(x), format(look(data)), format(residuals(x)),
            format(strength(x, "all", explain = TRUE)),
            tryCatch(crosstab(data, "\033[2J", b), error = conditionMessage))
  expect_false(any(grepl("[\\x01-\\x09\\x0b-\\x1f\\x7f]|\u202e",
                         gsub("\033\\[(1|22)m", "", text), perl = TRUE)))
  expect_true(any(grepl("x<U+001B>[31mred", text, fixed = TRUE)))
  expect_true(any(grepl("<U+202E>", text, fixed = TRUE)))
})

# ---- the command line ----

test_that("an option is itself, never one that begins like it", {
  run <- call_main("crosstab", demo_file(), "--down", "ferry", "--across",
                   "island", "--among", "age < 20", "--regroup-sparse")
  expect_identical(run$status, 0L)
  expect_match(run$err, "Joined in Satisfaction with the ferry: ")
  pairs <- call_main("crosstab", demo_file(), "--down", "leave,island",
                     "--across", "island")
  expect_identical(pairs$status, 0L)
  expect_match(pairs$err, "Left out: island by itself")
  expect_match(call_main("help", "crosstab")$out,
               "Most used:.*Preparing questions:")
  expect_identical(call_main("crosstab", demo_file(), "--down", "leave",
                             "--across", "island", "--each", "reason_work",
                             "--differences")$status, 0L)
  for (shell in c("bash", "zsh")) expect_match(
    call_main("completion", shell)$out, "--down --across")
  expect_identical(call_main("completion", "fish")$status, 2L)
})

test_that("questions are ordered, titled, split and joined on the way; tables of counts too", {
  path <- file_with("size,why\nsmall,a\nbig,a;b\nmiddle,b\nsmall,a\nbig,a\nmiddle,b;a\n")
  run <- call_main("crosstab", path, "--down", "why", "--across", "size",
                   "--split", "why=;", "--order-answers",
                   "size=small,middle,big", "--retitle", "why=Reasons to leave")
  expect_match(run$out, "^Reasons to leave by size.*small +middle +big")
  expect_match(call_main("crosstab", path, "--down", "why", "--across", "size",
                         "--order-answers", "size=small,big")$err,
               "it lacks \"middle\"")
  table <- file_with(paste0(paste("| Opinion | Norrey | Tarn | Total",
                                  "|\n|---|---:|---:|---:|\n| Very good | 30",
                                  "| 20 | 50 "),
                            "|\n| Good | 32 | 21 | 53 |\n| **Bad** | 31 | 58 | 89 |\n"),
                     ".md")
  joined <- call_main("recheck", table, "--regroup",
                      "rows=Any good: Very good, Good", "--claimed-statistic",
                      "12.30")
  expect_match(joined$out, "Any good +66.7.*agrees +statistic: claimed 12.30")
  counts <- crosstab_of_counts(hand_2x3)
  regrouped <- regroup(counts, columns, both = c("p", "q"))
  expect_equal(unname(regrouped$layers[[1]]$n),
               unname(cbind(rowSums(hand_2x3[, 1:2]), hand_2x3[, 3])))
  expect_error(regroup(counts, columns, q = c("p", "q")), "question = in full",
               class = "fairlattice_error_regroup")
  survey <-
    order_answers(data.frame(s = c("b", "a", "c", "a")), s, c("c", "b", "a"))
  expect_true(is.ordered(survey$s))
  expect_identical(levels(survey$s), c("c", "b", "a"))
  expect_identical(title_of(retitle(survey, s, "Size")$s, "s"), "Size")
})

test_that("bytes outside of a file are none", {
  file <- withr::local_tempfile()
  writeBin(as.raw(1:10), file)
  expect_identical(bytes_at(file, 2, 3), as.raw(3:5))
  for (at in list(-1, 11, NA)) expect_identical(bytes_at(file, at, 2), raw())
})

test_that("one text is one text, and one value of a connection is one value", {
  expect_identical(vapply(list("a", c("a", "b"), NA_character_, 3, NULL), is_one_text, NA),
                   c(TRUE, FALSE, FALSE, FALSE, FALSE))
  path <- withr::local_tempfile(fileext = ".yml")
  writeLines(c("database: postgres", "host: [one, two]", "dbname: x"), path)
  expect_error(opened_connection <- far_records(list(database = path, table = "t"), NULL, "."),
               class = "fairlattice_error")
})
