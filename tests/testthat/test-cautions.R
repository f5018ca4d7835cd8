codes <- function(data, ..., survey = respondents(data)) {
  cautions(crosstab(survey, down, across, ...))$code
}
from <- function(...) {
  records_of(matrix(c(...), 2, dimnames = dimnames(hand_2x2)))
}

test_that("each caution is raised by what it is about, and not otherwise", {
  clean <- from(200, 120, 110, 210)
  expect_identical(codes(clean), character())
  expect_true("sparse" %in% codes(from(3, 4, 4, 60)))
  expect_true("small_base" %in% codes(from(3, 4, 4, 60)))
  expect_true("low_base" %in% codes(from(20, 20, 200, 90)))
  expect_true("tiny_effect" %in% codes(from(5200, 4800, 4900, 5100)))
  expect_true("not_significant" %in% codes(from(50, 51, 52, 50)))
  expect_true("against_explains" %in% codes(clean, percent = "row"))
  expect_false("against_explains" %in%
                 codes(clean, percent = "row", explains = "down"))
  expect_true("no_test" %in% codes(subset(clean, down == "x")))
  expect_true("unequal_weights" %in%
                codes(survey = respondents(
                        transform(clean, w = rep_len(c(1, 20), 640)),
                        weight = w)))
  expect_true("left_out" %in%
                codes(transform(clean, down = replace(down, 1:60, NA))))
  few <- transform(clean, down = rep_len(letters[1:5], 640),
                   across = rep_len(LETTERS[1:4], 640),
                   cluster = rep_len(1:6, 640))
  expect_true("few_clusters" %in%
                codes(survey = respondents(few, cluster = cluster)))
})

test_that("one person counted twice is named, with whether the answers differ", {
  data <- from(200, 120, 110, 210)
  data$id <- c(1:638, 1, 2)
  data$down[640] <- data$down[2]
  data$across[640] <- data$across[2]
  said <- cautions(crosstab(respondents(data, id = id), down, across))
  expect_match(said$text[said$code == "repeated_ids"],
               "2 ids occur more than once \\(4 records\\). 1 of them gave different answers")
  part <- among(respondents(data, id = id), id > 5)
  expect_false("repeated_ids" %in% cautions(crosstab(part, down, across))$code)
})

test_that("joined ticks are told from ordinary answers", {
  ticked <- data.frame(down = rep(c("ferry;work", "work", "school; ferry"), 30),
                       across = rep(c("p", "q"), 45))
  said <- cautions(crosstab(ticked, down, across))
  expect_identical(said$severity[said$code == "tick_all"], "stop")
  expect_false(pieces_recur(joined_answers(c("Yes; often", "No", "Maybe"))))
})

test_that("not significant says what could have been shown", {
  # noncentrality 7.849 has power 0.8 at 5 % on 1 degree of freedom: (1.959964 +
  # 0.841621)^2 = 7.8489 the other tail is 1e-6
  expect_equal(smallest_effect(400, 1, 0.05, 0.8)^2 * 400,
               (qnorm(0.975) + qnorm(0.8))^2, tolerance = 1e-4)
  text <- cautions(crosstab(from(50, 51, 52, 50), down, across))
  expect_match(text$text[text$code == "not_significant"],
               "could have detected V of 0.20 or more")
})

test_that("the write-up never says that there is no difference, nor that p is 0", {
  none <- write_up(crosstab(from(50, 51, 52, 50), down, across))
  expect_match(none,
               "^down does not differ significantly by across [(]Pearson")
  expect_match(none, "no evidence that there is no association")
  strong <- write_up(crosstab(demo_survey(), heating, island))
  expect_match(strong, "p < 0.001")
  expect_match(strong,
               "49.1% in \"Norrey\" answered \"District heating\", against 20.1% overall")
  expect_match(strong, "22 of 2,412 records were left out")
  expect_no_match <- function(text, pattern) expect_false(grepl(pattern, text))
  expect_no_match(strong, "prove|p = 0[^.]|p = 0\\.000")
})

test_that("a table whose test has no base still has its cautions", {
  data <- data.frame(a = factor(rep(c("x", "y"), 20)), w = 1 + (1:40) %% 3)
  data$b <- data$a
  x <- crosstab(respondents(data, weight = w), a, b, paired = TRUE)
  expect_s3_class(cautions(x), "data.frame")
})

test_that("what could have been shown is one figure, with the design's degrees of freedom", {
  data <- transform(messy_records(300, clusters = 8), stratum = 1)
  x <- crosstab(respondents(data, weight = w, stratum = stratum,
                            cluster = cluster), across, down)
  reach <- Find(function(one) one$what$code == "not_significant",
                cautions_of(x)$layers[[1]])
  skip_if(is.null(reach))
  expect_equal(reach$what$arguments$v, detectable(x)$smallest_v)
})

test_that("a base of exactly the limit is not small, one under it is", {
  of <- function(n) {
    data <- data.frame(down = rep(c("x", "y"), 100),
                       across = rep(c("p", "q"), c(n, 200 - n)))
    cautions(crosstab(data, down, across))
  }
  expect_false("small_base" %in% of(30)$code)
  expect_true("low_base" %in% of(30)$code)
  expect_true("small_base" %in% of(29)$code)
  expect_true("low_base" %in% of(49)$code)
  expect_false("low_base" %in% of(50)$code)
})

test_that("what is true of the whole table is said with each, once", {
  data <- transform(from(200, 120, 110, 210), id = c(1:638, 1, 2),
                    e = rep(c("one", "two"), 320))
  x <- crosstab(respondents(data, id = id), down, across, each = e,
                percent = "row")
  found <- cautions(x)
  expect_identical(found$each[found$code %in% c("repeated_ids", "against_explains")],
                   c(NA_character_, NA_character_))
  expect_length(grep("occur more than once", format(x)), 1)
})

test_that("a tiny effect is judged by w, not by V", {
  E <- outer(rep(1 / 4, 4), rep(1 / 4, 4))
  n <- round(8000 * (E + (diag(4) / 4 - E) * 0.08)) # V = 0.08, w = 0.08 sqrt(3) = 0.139
  dimnames(n) <- list(letters[1:4], LETTERS[1:4])
  x <- crosstab_of_counts(n, totals = FALSE)
  expect_lt(strength(x, "cramers_v")$estimate, 0.1)
  expect_lt(subset(tests(x), headline)$p, 0.05)
  expect_false("tiny_effect" %in% cautions(x)$code)
})

test_that(paste("the reason most records are left out for is said whole, and",
                "ticks with each have their cautions"), {
  data <- transform(messy_records(300), across = replace(across, 1:40, NA))
  left <- Find(function(one) one$what$code == "left_out",
               cautions_of(crosstab(data, down, across))$whole)
  first <- account_of(crosstab(data, down, across)$tally)$left_out[1, ]
  expect_identical(left$what$arguments[c("reason", "question", "detail")],
                   list(reason = first$code, question = "across", detail = ""))
  survey <- ticks(demo_records(400),
                  reasons = c(reason_work, reason_housing, reason_school))
  expect_false(any(c("reversal", "heterogeneity") %in%
                     cautions(
                       crosstab(survey, reasons, tenure, each = island))$code))
})

test_that(paste("cautions go by severity and kind, and one of a kind that is",
                "not known comes last of its severity"), {
  found <- list(caution("note", "from_elsewhere"), caution("note", "left_out"),
                caution("care", "from_elsewhere"), caution("care", "sparse"),
                caution("stop", "tick_all"))
  codes <- vapply(by_severity(found), function(one) one$what$code, "")
  expect_identical(codes,
                   c("tick_all", "sparse", "from_elsewhere", "left_out",
                     "from_elsewhere"))
})

test_that("answers that look ordered and are not are named, with what to do", {
  data <- data.frame(often = rep(c("Never", "Often", "Sometimes", "Always"), 20),
                     home = rep(c("a", "b"), each = 40))
  found <- function(data, ...) {
    given <- cautions(crosstab(data, ...))
    given$text[given$code == "unordered"]
  }
  expect_match(found(data, often, home), "\"Always\" to \"Never\"")
  expect_match(format(crosstab(data, often, home)), "order_answers", all = FALSE)
  expect_length(found(data, often), 1L)
  ordered <- order_answers(data, often, c("Never", "Sometimes", "Often", "Always"))
  expect_length(found(ordered, often, home), 0L)
  # in the order of a scale, though not called ordered, somebody meant it
  data$often <- factor(data$often, c("Never", "Sometimes", "Often", "Always"))
  expect_length(found(data, often, home), 0L)
})
