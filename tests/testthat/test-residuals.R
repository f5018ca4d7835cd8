test_that("residuals are the hand-worked ones", {
  d <- residuals(crosstab(records_of(hand_2x2), down, across))
  expect_equal(d$expected, c(12, 28, 18, 42))
  expect_equal(d$residual, c(8, -8, -8, 8))
  expect_equal(d$pearson_residual[1], 8 / sqrt(12))
  expect_equal(d$adjusted_residual[1], 8 / sqrt(12 * 0.7 * 0.6))
  expect_equal(sum(d$contribution), 64 / 12 + 64 / 18 + 64 / 28 + 64 / 42)
  expect_equal(sum(d$share_of_statistic), 1)
  expect_equal(d$mark, c("more", "fewer", "fewer", "more"))
})

test_that("in a 2x2 the squared adjusted residual is the headline statistic, with a design too", {
  d <- residuals(crosstab(records_of(hand_2x2), down, across))
  expect_equal(d$adjusted_residual^2,
               rep(64 / 12 + 64 / 18 + 64 / 28 + 64 / 42, 4))
  data <- messy_records(300, r = 2, k = 2)
  x <- crosstab(respondents(data, weight = w, stratum = stratum,
                            cluster = cluster), down, across)
  tests <- tests(x)
  expect_equal(residuals(x)$adjusted_residual^2,
               rep(tests$statistic[tests$test == "rao_scott_first"], 4))
  expect_equal(residuals(x)$p[1], tests$p[tests$headline]) # F on 1 is a squared t
})

test_that(paste("the corrections are what they say, and the printed critical",
                "value divides marked from unmarked cells"), {
  data <- messy_records(800, r = 4)
  data$across[data$down %in% "b"][1:60] <- "A"
  x <- crosstab(respondents(
    data, weight = w, stratum = stratum,
    cluster = cluster), down, across)
  df <- layer_df(x$layers[[1]])
  for (correction in c("holm", "bonferroni", "benjamini_hochberg")) {
    for (alpha in c(0.2, 0.05, 0.001)) {
      d <- residuals(x, correction = correction, alpha = alpha)
      beyond <- abs(d$adjusted_residual) >= d$critical
      expect_identical(beyond, d$mark != "", info = paste(correction, alpha))
    }
  }
  withr::local_seed(3)
  for (i in 1:200) {
    p <- rbeta(6, 0.3, 3)
    for (correction in names(corrections)) {
      beyond <- qnorm(p / 2, lower.tail = FALSE) >=
                critical_residual(correct(p, correction), correction, 0.05, Inf)
      expect_identical(beyond, correct(p, correction) <= 0.05)
    }
  }
  bonferroni <- residuals(x, correction = "bonferroni")
  expect_equal(bonferroni$critical[1],
               qt(1 - 0.05 / (2 * nrow(bonferroni)), df))
  expect_equal(bonferroni$p_corrected, pmin(1, bonferroni$p * nrow(bonferroni)))
  sorted <- sort(d$p)
  expect_equal(sort(residuals(x, correction = "holm")$p_corrected),
               pmin(1, cummax(sorted * rev(seq_along(sorted)))))
})

test_that("empty rows and columns have no residual and take no part", {
  data <- records_of(hand_2x2)
  data$down <- factor(data$down, c("x", "never", "y"))
  d <- residuals(crosstab(data, down, across))
  expect_equal(is.na(d$adjusted_residual), d$down == "never")
  expect_equal(d$adjusted_residual[d$down != "never"],
               residuals(crosstab(records_of(hand_2x2), down, across))$adjusted_residual)
})

test_that("the residual that is asked for is the one that is marked", {
  x <- crosstab(records_of(hand_2x2), down, across)
  pearson <- residuals(x, type = "pearson")
  expect_equal(pearson$p, 2 * pnorm(-abs(pearson$pearson_residual)))
  raw <- residuals(x, type = "raw")
  expect_true(all(is.na(raw$p)) && all(raw$mark == ""))
  expect_equal(raw$residual, c(8, -8, -8, 8))
})

test_that(paste("the reading names the strongest first, and a significant",
                "table without a mark is no contradiction"), {
  expect_match(reading(crosstab(demo_survey(), heating, island)),
               paste("^More than expected: District heating",
                     "\u00d7 Norrey \\(residual \\+[0-9.]+\\);"))
  spread <- matrix(c(38, 62, 50, 50, 50, 50, 62, 38), 2,
                   dimnames = list(c("x", "y"), letters[1:4]))
  x <- crosstab(records_of(spread), down, across, correction = "bonferroni",
                alpha = 0.01)
  expect_lt(tests(x)$p[1], 0.01)
  expect_true(all(residuals(x)$mark == ""))
  expect_match(reading(x), "no contradiction")
  expect_match(reading(crosstab(
    records_of(matrix(10, 2, 2, dimnames = dimnames(hand_2x2))),
    down, across)), "No cell departs")
})

test_that("mirror images are corrected once: in a 2x2 the mark is the test", {
  two <- residuals(crosstab(records_of(hand_2x2), down, across))
  expect_equal(two$p_corrected, two$p)
  expect_equal(two$critical[1], qnorm(0.975))
  n <- matrix(c(24, 6, 12, 18, 14, 26, 20, 30), 2,
              dimnames = list(c("x", "y"), letters[1:4]))
  d <-
    residuals(crosstab(records_of(n), down, across), correction = "bonferroni")
  expect_equal(d$p_corrected, pmin(1, d$p * 4))
  expect_true(any(grepl("Bonferroni over 4 cells",
                        format(crosstab(records_of(n), down, across,
                                        correction = "bonferroni"),
                               width = 200))))
  three <- matrix(rep(c(20, 30, 40), 3) + 1:9, 3, dimnames = list(1:3, 4:6))
  d <- residuals(crosstab(records_of(three), down, across),
                 correction = "bonferroni")
  expect_equal(d$p_corrected, pmin(1, d$p * 9))
})

test_that("a correction is its definition, whatever the order, with ties and missing p-values", {
  withr::local_seed(5)
  step_down <- function(p, k) { # the largest of (m - j + 1) p_(j) up to it
    up <- sort(p)
    min(1, max((length(p) - seq_along(up) + 1)[up <= p[k]] * up[up <= p[k]]))
  }
  step_up <- function(p, k) {
    up <- sort(p)
    min(1, (length(p) / seq_along(up) * up)[up >= p[k]])
  }
  for (trial in 1:40) {
    p <- round(stats::runif(sample(12, 1L))^3, 2)
    all <- seq_along(p)
    with_missing <- append(p, NA, sample(0:length(p), 1L))
    for (found in list(identity(p), with_missing)) {
      there <- !is.na(found)
      expect_equal(correct(found, "bonferroni")[there], pmin(1, length(p) * p))
      expect_equal(correct(found, "holm")[there],
                   vapply(all, step_down, 0, p = p))
      expect_equal(correct(found, "benjamini_hochberg")[there],
                   vapply(all, step_up, 0, p = p))
      expect_identical(is.na(correct(found, "holm")), !there)
    }
  }
  expect_identical(correct(numeric(), "holm"), numeric())
})

test_that("of cells that depart alike the paragraph names the first, whatever their rounding", {
  x <- crosstab(records_of(hand_2x2), down, across)
  last_digit <- c(1, 1 + 4e-16, 1 - 4e-16, 1 + 8e-16)
  told <- write_up(x)
  x$layers[[1]]$kept$residuals$value$adjusted_residual <-
    last_digit * residuals(x)$adjusted_residual
  expect_identical(write_up(x), told)
  expect_match(told, "50.0% in \"p\" answered \"x\"", fixed = TRUE)
})
