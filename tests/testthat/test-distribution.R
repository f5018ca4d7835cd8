# Quantiles, ratios and inequality. Definitions: Francisco & Fuller (1991), Woodruff (1952);
# Cochran (1977), ch. 6; Langel & Tille (2013).

survey_of_ages <- function(n = 800) {
  score(respondents(demo_records(n), weight = weight, stratum = island,
                    cluster = settlement), age)
}

test_that("a quantile's interval holds the values whose share does not differ from it", {
  survey <- survey_of_ages()
  x <- crosstab(survey, age, mode)
  found <- as.data.frame(quantiles(x, at = c(10, 50, 90)))
  layer <- x$layers[[1]]
  values <- scores_in(x, layer)
  for (column in 1:3) for (q in c(0.1, 0.5, 0.9)) {
    # every value in turn: the share up to it, and its standard error
    inside <- vapply(sort(values), function(v) {
      one <- estimated(layer$estimate, means_in(layer$estimate, as.numeric(values <= v), column))
      if (one$value <= 0 || one$value >= 1) return(c(one$value <= 0, one$value >= 1))
      off <- (stats::qlogis(q) - stats::qlogis(one$value)) * one$value * (1 - one$value)
      t <- stats::qt(0.975, one$df) * sqrt(one$variance)
      c(off > t, -off > t)
    }, logical(2))
    row <- found[found$column == colnames(layer$n)[column] & found$percent == 100 * q, ]
    expect_equal(row$low, min(sort(values)[!inside[1, ]], row$value))
    expect_equal(row$high, max(row$value, sort(values)[which(inside[2, ])[1]]))
  }
  # the median is that of means()
  woodruff <- as.data.frame(quantiles(x, 50, interval = "woodruff"))
  told <- as.data.frame(means(x))
  expect_equal(woodruff[c("value", "low", "high")], told[c("median", "median_low", "median_high")],
               ignore_attr = TRUE)
})

test_that("grouped data: quantiles within classes, by hand and by the share below them", {
  data <- data.frame(y = rep(c(9, 10, 20, 24, 30), c(1, 1, 3, 2, 3)), w = 1)
  x <- crosstab(score(respondents(data, weight = w), y), y)
  found <- as.data.frame(quantiles(x, c(10, 50, 90), class_width = 10))
  woodruff <- as.data.frame(quantiles(x, 50, "woodruff", class_width = 10))
  # classes 5 to 15 (2 of 10), 15 to 25 (5), 25 to 35 (3)
  expect_equal(found$value, c(10, 15 + 10 * 0.3 / 0.5, 25 + 10 * 0.2 / 0.3))
  below <- rep(c(1, 0.6, 0), c(2, 5, 3)) # how much of each lies below the median
  half <- stats::qt(0.975, 9) * sqrt(sum((below - 0.5)^2) / (10 * 9))
  carried <- function(p) stats::approx(c(0, 0.2, 0.7, 1), c(5, 15, 25, 35), p)$y
  expect_equal(c(woodruff$low, woodruff$high), carried(0.5 + c(-1, 1) * half))
  # the ends are as far from the median as chance allows: the low one in class 10
  p <- (found$low[2] - 5) / 10 * 0.2
  below <- rep(c(p / 0.2, 0), c(2, 8))
  se <- sqrt(sum((below - p)^2) / (10 * 9))
  expect_equal(stats::qlogis(p) + stats::qt(0.975, 9) * se / (p * (1 - p)), 0, tolerance = 1e-4)
  # a fifth lies up to 10.5, and nobody up to 19.5
  expect_equal(as.data.frame(quantiles(x, 20, class_width = 1))$value, 15)
  # as the number turns round, so do its quantiles, but for what lies on a limit
  turned <- score(respondents(transform(data, y = -y), weight = w), y)
  expect_equal(as.data.frame(quantiles(crosstab(turned, y), c(90, 50, 10), class_width = 10))$value,
               -found$value)
  for (odd in list(0, -1, c(1, 2), "10", NA, Inf))
    expect_error(quantiles(x, 50, class_width = odd), "one number above 0",
                 class = "fairlattice_error_quantiles")
  said <- format(quantiles(x, 50, class_width = 10))
  expect_match(paste(said, collapse = "\n"), "Interpolated within classes of 10", fixed = TRUE)
  run <- call_main(c("crosstab", demo_file("veyra.csv"), "--score", "age", "--down", "age",
                     "--class-width", "10"))
  expect_match(run$err, "quantiles: name those")
  # a plan, too
  plan <- withr::local_tempfile(fileext = ".yml")
  with_table <- function(...) {
    writeLines(c(sprintf("records: {file: %s}", demo_file("veyra.csv")),
                 "prepare: [{score: {question: age}}]", "chapters:", "  - title: Age", "    tables:",
                 "      - questions: age", ...), plan)
    plan
  }
  b <- book(read_plan(with_table("        quantiles: [10, 50, 90]",
                                 "        class_width: 10")), cache = FALSE)
  expect_equal(b$tables[[1]]$along[[1]],
               quantiles(crosstab(score(demo_records(), age), age), c(10, 50, 90),
                         class_width = 10), ignore_attr = TRUE)
  expect_error(read_plan(with_table("        quantiles: [10, 100]")), "line 7.*between 0 and 100",
               class = "fairlattice_error_plan")
  expect_error(read_plan(with_table("        quantiles: 50", "        class_width: -10")),
               "line 8.*one number above 0", class = "fairlattice_error_plan")
  expect_error(read_plan(with_table("        class_width: 10")), "line 7.*name those",
               class = "fairlattice_error_plan")
})

test_that("quantiles turn round with their number, and odd ones have no interval", {
  data <- data.frame(y = c(1, 2, 2, 2, 2, 2, 2, 3, 9, 10), g = "all")
  up <- as.data.frame(quantiles(crosstab(score(data, y), y), c(30, 70)))
  expect_equal(up$value, c(2, 2.5))
  down <- as.data.frame(quantiles(crosstab(score(transform(data, y = -y), y), y), c(70, 30)))
  expect_equal(-down$value, up$value)
  same <- as.data.frame(quantiles(crosstab(score(transform(data, y = 5), y), y), 50))
  expect_equal(same$value, 5)
  expect_true(is.na(same$low))
  expect_error(quantiles(crosstab(score(data, y), y), 0), "between 0 and 100",
               class = "fairlattice_error_quantiles")
  expect_error(quantiles(crosstab(data, y, g)), class = "fairlattice_error_score")
})

test_that("Gini and the share of the top by hand, with their influence", {
  data <- data.frame(y = c(0, 1, 2, 3, 14), k = rep(c("a", "b"), c(2, 3)))
  found <- as.data.frame(inequality(crosstab(score(data, y), y), top = c(20, 40)))
  apart <- mean(abs(outer(data$y, data$y, `-`)))
  expect_equal(found$estimate, c(apart / 2 / 4, 14 / 20, 17 / 20))
  survey <- survey_of_ages()
  x <- crosstab(survey, age, mode)
  e <- x$layers[[1]]$estimate
  figure <- inequality_figure(e, scores_in(x, x$layers[[1]]), 1L, 0.137)
  at <- figure(e$P)
  for (k in 1:2) {
    numeric <- numeric_gradient(function(P) figure(P / sum(P))$value[k], e$P, step = 1e-7)
    own <- at$gradient[, k] - sum(at$gradient[, k] * e$P)
    some <- as.vector(e$P) > 0
    expect_equal(as.vector(numeric)[some], own[some], tolerance = 1e-3)
  }
  jackknife <- make_replicates(survey, "jackknife")
  expect_equal(as.data.frame(inequality(crosstab(jackknife, age, mode)))$se,
               as.data.frame(inequality(x))$se, tolerance = 0.1)
  expect_error(inequality(crosstab(score(transform(data, y = y - 1), y), y)), "not below 0")
})

test_that("a ratio by hand, under a design and from a database", {
  data <- data.frame(y = c(10, 20, 60, NA, 30), x = c(1, 2, 3, 4, NA), w = c(1, 2, 1, 1, 1))
  found <- as.data.frame(ratios(respondents(data, weight = w), y, x))
  R <- (10 + 40 + 60) / (1 + 4 + 3)
  expect_equal(found$ratio, R)
  expect_equal(found$n, 3)
  # of five respondents, those without either number have a residual of 0
  e <- c(data$w[1:3] * (data$y[1:3] - R * data$x[1:3]), 0, 0) / 8
  expect_equal(found$se, sqrt(3 / 2 * sum((e[1:3] - mean(e[1:3]))^2)), tolerance = 0.2)
  records <- demo_records(600)
  records$members <- as.integer(records$household)
  of <- function(p) {
    ratios(respondents(p, weight = weight, stratum = island, cluster = settlement),
           age, members, mode)
  }
  near <- of(records)
  both <- records[!is.na(records$weight) & !is.na(as.numeric(records$age)), ]
  expect_equal(near$ratio[4],
               with(both, sum(weight * age) / sum(weight * members)))
  raw <- raw_survey()[1:600, ]
  raw$age[raw$age < 0] <- NA
  con <- sqlite_with(transform(raw, members = household))
  far <- of(dbi_table(con, "answers"))
  near <- of(transform(raw, members = household))
  expect_equal(far$ratio[4], near$ratio[4])
  expect_equal(far$se[4], near$se[4])
  expect_error(ratios(records, mode, age), "no number", class = "fairlattice_error_score")
  expect_error(ratios(records, age), "two numbers")
})

test_that("the command shows quantiles and inequality, in German too", {
  run <- call_main("crosstab", demo_file("veyra.csv"), "--score", "age", "--down", "age",
                   "--across", "mode", "--quantiles", "10,90", "--inequality")
  expect_match(run$out, "Gini coefficient")
  expect_match(run$out, "share of the top 10%")
  withr::local_options(fairlattice.language = "de")
  expect_match(paste(format(inequality(crosstab(survey_of_ages(), age, mode))), collapse = " "),
               "Anteil der obersten 10 %")
})

test_that("figures draw the quantiles and the cumulative shares", {
  skip_if_not_installed("ggplot2")
  found <- quantiles(crosstab(survey_of_ages(), age, mode), c(10, 25, 50, 75, 90))
  data <- as.data.frame(found)
  boxes <- ggplot2::layer_data(ggplot2::autoplot(found), 1)
  expect_equal(sort(boxes$xmin), sort(data$value[data$percent < 50]))
  expect_equal(sort(boxes$xmax), sort(data$value[data$percent > 50]))
  points <- ggplot2::layer_data(ggplot2::autoplot(found), 3)
  expect_equal(sort(points$x), sort(data$value[data$percent == 50]))
  steps <- ggplot2::layer_data(ggplot2::autoplot(found, "steps"), 1)
  expect_equal(max(steps$y), 100)
  expect_equal(length(unique(steps$group)), 3L)
  first <- steps[steps$group == 1, ]
  own <- data$value[data$column == "Web" & data$percent == 75]
  expect_true(first$y[which(first$x >= own)[1]] >= 75)
  expect_error(ggplot2::autoplot(quantiles(crosstab(survey_of_ages(), age), 50)),
               "both sides of the median", class = "fairlattice_error_figure")
  expect_match(picture_of(found)$alt, "Medians: Web")
})

test_that("quantiles are between 0 and 100, every one of them", {
  x <- crosstab(score(demo_survey(), age), age, island)
  for (odd in list(c(50, 120), c(0, 50), c(50, NA), numeric(), "50"))
    expect_error(quantiles(x, odd), class = "fairlattice_error")
})
