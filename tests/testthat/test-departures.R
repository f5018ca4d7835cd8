test_that("residuals are the hand-worked ones", {
  d <- departures(lattice(records_of(hand_2x2), down, across))
  expect_equal(d$expected, c(12, 28, 18, 42))
  expect_equal(d$residual, c(8, -8, -8, 8))
  expect_equal(d$pearson_residual[1], 8 / sqrt(12))
  expect_equal(d$adjusted_residual[1], 8 / sqrt(12 * 0.7 * 0.6))
  expect_equal(sum(d$contribution), 64 / 12 + 64 / 18 + 64 / 28 + 64 / 42)
  expect_equal(sum(d$share_of_statistic), 1)
  expect_equal(d$mark, c("more", "fewer", "fewer", "more"))
})

test_that("in a 2x2 the squared adjusted residual is the headline statistic, with a design too", {
  d <- departures(lattice(records_of(hand_2x2), down, across))
  expect_equal(d$adjusted_residual^2, rep(64 / 12 + 64 / 18 + 64 / 28 + 64 / 42, 4))
  data <- messy_records(300, r = 2, k = 2)
  x <- lattice(respondents(data, weight = w, stratum = stratum, cluster = cluster), down, across)
  tests <- test_independence(x)
  expect_equal(departures(x)$adjusted_residual^2, rep(tests$statistic[tests$test == "rao_scott_first"], 4))
  expect_equal(departures(x)$p[1], tests$p[tests$headline]) # F on 1 is a squared t
})

test_that("the corrections are what they say, and the printed critical value divides marked from unmarked cells", {
  data <- messy_records(800, r = 4)
  data$across[data$down %in% "b"][1:60] <- "A"
  x <- lattice(respondents(data, weight = w, stratum = stratum, cluster = cluster), down, across)
  df <- x$layers[[1]]$estimate$df
  for (correction in c("holm", "bonferroni", "benjamini_hochberg")) for (alpha in c(0.2, 0.05, 0.001)) {
    d <- departures(x, correction, alpha)
    beyond <- abs(d$adjusted_residual) >= d$critical
    expect_identical(beyond, d$mark != "", info = paste(correction, alpha))
  }
  withr::local_seed(3)
  for (i in 1:200) {
    p <- rbeta(6, 0.3, 3)
    for (correction in names(corrections)) {
      beyond <- qnorm(p / 2, lower.tail = FALSE) >= critical_residual(p, correction, 0.05, Inf)
      expect_identical(beyond, correct(p, correction) <= 0.05)
    }
  }
  bonferroni <- departures(x, "bonferroni")
  expect_equal(bonferroni$critical[1], qt(1 - 0.05 / (2 * nrow(bonferroni)), df))
  expect_equal(bonferroni$p_corrected, pmin(1, bonferroni$p * nrow(bonferroni)))
  sorted <- sort(d$p)
  expect_equal(sort(departures(x, "holm")$p_corrected), pmin(1, cummax(sorted * rev(seq_along(sorted)))))
})

test_that("empty rows and columns have no residual and take no part", {
  data <- records_of(hand_2x2)
  data$down <- factor(data$down, c("x", "never", "y"))
  d <- departures(lattice(data, down, across))
  expect_equal(is.na(d$adjusted_residual), d$down == "never")
  expect_equal(d$adjusted_residual[d$down != "never"], departures(lattice(records_of(hand_2x2), down, across))$adjusted_residual)
})
