# Means and quantiles against their definitions, the textbook's forms, and
# simulated surveys.

scored <- function(data, ...) score(data, down, ...)

test_that("without a design means, intervals and the test are the textbook's", {
  withr::local_seed(2)
  data <- data.frame(y = round(rnorm(90, 5, 2), 1),
                     g = sample(c("p", "q", "r"), 90, TRUE))
  x <- crosstab(score(data, y), y, g)
  m <- means(x)
  for (g in c("p", "q", "r")) {
    y <- data$y[data$g == g]
    own <- m[m$column == g, ]
    expect_equal(unlist(own[c("mean", "sd", "low", "high")], use.names = FALSE),
                 c(mean(y), sd(y), t.test(y)$conf.int))
    expect_equal(own$median, median(y))
  }
  expect_equal(m$mean[4], mean(data$y))
  welch <- oneway.test(y ~ g, data)
  test <- attr(m, "tests")
  expect_equal(c(test$statistic, test$df, test$df_error, test$p),
               c(welch$statistic, welch$parameter, welch$p.value),
               ignore_attr = TRUE)
  pairs <- attr(m, "pairs")
  two <- t.test(data$y[data$g == "p"], data$y[data$g == "q"])
  expect_equal(c(pairs$difference[1], pairs$low[1], pairs$high[1], pairs$p[1]),
               c(-diff(two$estimate), two$conf.int, two$p.value),
               ignore_attr = TRUE)
  expect_equal(pairs$p_corrected, p.adjust(pairs$p, "holm"))
  expect_identical(tests(x)$test, "equal_means")
})

test_that(paste("under a design a mean's variance comes from its definition,",
                "and a 0/1 question's mean is its share"), {
  data <- messy_records(500)
  data$down <- factor(as.character(data$down), c("a", "b", "c"))
  survey <- respondents(data, weight = w, stratum = stratum, cluster = cluster)
  x <- crosstab(scored(survey, c(1, 2, 5)), down, across)
  m <- means(x)
  use <- !is.na(data$down) & !is.na(data$across) & !is.na(data$w) & data$w > 0
  y <- c(a = 1, b = 2, c = 5)[as.character(data$down)]
  here <- use & data$across %in% "B"
  expect_equal(m$mean[2], weighted.mean(y[here], data$w[here]))
  # linearised: z = w (y - m) / W in the column, summed by cluster, about its
  # stratum's mean
  z <- ifelse(here, data$w * (y - m$mean[2]) / sum(data$w[here]), 0)
  z[is.na(z)] <- 0
  total <- rowsum(z, paste(data$stratum, data$cluster))
  stratum <- sub(" .*", "", rownames(total))
  variance <- sum(tapply(
    total, stratum,
    function(t) {
      length(t) / (length(t) - 1) * sum((t - mean(t))^2)
    }))
  expect_equal(m$se[2], sqrt(variance))
  df <- layer_df(x$layers[[1]])
  expect_equal(m$high[2] - m$mean[2], qt(0.975, df) * m$se[2])
  # the second-order test of the contrasts, by hand: what a random sample would
  # make of them, over its design effects
  e <- x$layers[[1]]$estimate
  V <- estimated_together(e, means_in(e, c(1, 2, 5), 1:4))$covariance
  p <- e$P
  V0 <- diag(vapply(1:4, function(j) {
    share <- p[, j] / sum(p[, j])
    at <- sum(share * c(1, 2, 5))
    sum(share * (c(1, 2, 5) - at)^2) / (e$n * sum(p[, j]))
  }, 0))
  C <- cbind(-1, diag(3))
  d <- C %*% m$mean[1:4]
  plain <- solve(C %*% V0 %*% t(C))
  effects <- eigen(plain %*% C %*% V %*% t(C))$values
  test <- attr(m, "tests")
  d1 <- sum(effects)^2 / sum(effects^2)
  expect_equal(c(test$statistic, test$df, test$df_error),
               c(drop(t(d) %*% plain %*% d) / sum(effects), d1, d1 * df))
  numeric <- vapply(seq_along(e$P), function(k) {
    f <- function(P) sum(c(1, 2, 5) * P[, 3]) / sum(P[, 3])
    up <- down <- e$P
    up[k] <- up[k] + 1e-6
    down[k] <- down[k] - 1e-6
    (f(up) - f(down)) / 2e-6
  }, 0)
  expect_equal(means_in(e, c(1, 2, 5), 3)(e$P)$gradient, matrix(numeric),
               tolerance = 1e-6)
  binary <- crosstab(score(
    regroup(survey, down, b = c("b", "c")),
    down, c(b = 1, a = 0)), down, across)
  s <- shares(binary)
  expect_equal(means(binary)$mean[1:4], s$share[s$down == "b"])
  # nets of columns and ticks
  net <- lay_out(crosstab(
    net(scored(survey, c(1, 2, 5)), across, AB = c("A", "B")), down, across))[[1]]
  joined <- means(crosstab(
    scored(regroup(survey, across, AB = c("A", "B")), c(1, 2, 5)), down,
    across))
  row <- which(net$stub$label == "Mean")
  expect_equal(net$value[row, net$columns$label == "AB"],
               joined$mean[joined$column == "AB"])
  expect_equal(net$high[row + 1, net$columns$label == "AB"],
               joined$high[joined$column == "AB"])
})

test_that("quantiles are those of the definition, and the median's interval holds it", {
  expect_equal(quantiles_of(c(3, 1, 2), c(0.25, 0.5, 0.25), c(0.25, 0.5, 0.75)),
               c(1, 1.5, 2.5))
  expect_equal(quantiles_of(c(1, 2, 3), c(0.2, 0.5, 0.3), 0.5), 2)
  withr::local_seed(8)
  inside <- replicate(300, {
    cluster <- rep(1:30, each = 10)
    y <- round(2 * rnorm(30)[cluster] + rnorm(300, 0, 3), 1)
    x <- crosstab(score(respondents(data.frame(
                                      y, g = "all", w = exp(0.5 * rnorm(300)),
                                      cluster), weight = w, cluster = cluster),
                        y), y)
    m <- score_summary(x$layers[[1]], x$layers[[1]]$scores, NULL, 0.05)
    c(mean = m$low <= 0 && 0 <= m$high,
      median = m$median_low <= 0 && 0 <= m$median_high)
  })
  expect_true(all(abs(rowMeans(inside) - 0.95) < 0.045))
})

test_that("the test that means are equal keeps its level in clustered surveys", {
  withr::local_seed(9)
  p <- replicate(300, {
    cluster <- rep(1:40, each = 10)
    data <- data.frame(y = round(rnorm(40)[cluster] + rnorm(400)),
                       g = sample(3, 400, TRUE), cluster)
    tests(crosstab(score(respondents(data, cluster = cluster), y), y, g))$p
  })
  expect_lt(abs(mean(p < 0.05) - 0.05), 3.5 * sqrt(0.05 * 0.95 / 300))
})

test_that("answers are not averaged unasked, and scores that do not fit are refused", {
  survey <- demo_survey()
  expect_error(means(crosstab(survey, ferry, island)), "averaged unasked",
               class = "fairlattice_error_score")
  expect_false("mean" %in%
                 sheets_of(crosstab(survey, ferry, island))[[1]]$stub$role)
  expect_error(score(survey, heating), "have no order",
               class = "fairlattice_error_score")
  expect_error(score(survey, ferry, 1:3), "must be 5 numbers",
               class = "fairlattice_error_score")
  expect_error(score(survey, age, 1), "counts as itself",
               class = "fairlattice_error_score")
  expect_error(regroup(score(survey, ferry), ferry,
                       Bad = c("Dissatisfied", "Very dissatisfied")),
               "different scores", class = "fairlattice_error_score")
  expect_error(crosstab(survey, age, island),
               class = "fairlattice_error_too_many_answers")
  x <- crosstab(score(survey, age), age, island)
  expect_identical(unique(sheets_of(x)[[1]]$stub$role), c("mean", "base"))
  turned <-
    sheets_of(crosstab(score(survey, age), age, island, explains = "down"))[[1]]
  expect_identical(turned[c("stub", "value")],
                   sheets_of(x)[[1]][c("stub", "value")])
  expect_match(write_up(x), "The mean of Age is 50.54 for \"Norrey\"",
               fixed = TRUE)
  expect_error(publish(x, withr::local_tempfile(fileext = ".json")), "number",
               class = "fairlattice_error_format")
  path <- withr::local_tempfile(fileext = ".json")
  publish(crosstab(score(survey, ferry), ferry, island), path)
  expect_equal(means(read_tables(path))$mean,
               means(crosstab(score(survey, ferry), ferry, island))$mean)
})

test_that("of a column that does not vary there is no interval of its mean", {
  data <- data.frame(score = c(rep(2, 10), 1:10), across = rep(c("p", "q"), each = 10))
  data$w <- rep(1:2, 10)
  for (survey in list(respondents(data), respondents(data, weight = w))) {
    m <- means(crosstab(score(survey, score), score, across))
    own <- m[m$column == "p", ]
    expect_equal(own$mean, 2)
    expect_true(is.na(own$low) && is.na(own$high))
  }
})

test_that("two clusters are enough for the difference of two means, with one degree of freedom", {
  data <- data.frame(c = rep(1:2, each = 20), w = 1:2, b = rep(c("p", "q"), 20),
                     a = factor(c(1, 2, 2, 3, 1, 1, 3)[1 + (seq_len(40)^2) %% 7],
                                ordered = TRUE))
  x <- crosstab(score(respondents(data, weight = w, cluster = c), a), a, b)
  pair <- attr(means(x), "pairs")
  expect_false(is.na(pair$p))
  expect_equal((pair$high - pair$low) / 2 / qt(0.975, 1),
               abs(pair$difference / qt(1 - pair$p / 2, 1)))
})

test_that("the median's interval where the counts were drawn, by the definition", {
  withr::local_seed(5)
  data <- data.frame(y = round(stats::rnorm(81, 50, 10)))
  found <- as.data.frame(means(crosstab(score(data, y), y)))
  t <- stats::qt(0.975, 80)
  at <- 0.5 + c(-1, 1) * t * sqrt(0.25 / 81)
  expect_equal(c(found$median_low, found$median_high),
               stats::quantile(data$y, at, type = 2, names = FALSE))
})

test_that("weights and counts together make bands of equal size", {
  data <- data.frame(y = c(1, 2, 3, 4), w = c(1, 3, 1, 1), k = c(1, 2, 3, 4))
  expect_equal(weight_of(respondents(data, weight = w, count = k)), data$w * data$k)
  expect_equal(weight_of(respondents(data, count = k)), data$k)
})

test_that("a column whose members all gave the same answer leaves no test of equal means", {
  data <- data.frame(y = c(rep(3, 20), rep(1:5, 8)), g = rep(c("same", "differs"), c(20, 40)))
  m <- means(crosstab(score(data, y), y, g))
  expect_identical(m$se[m$column == "same"], 0)
  expect_identical(is.na(m$low), m$column == "same")
  test <- attr(m, "tests", exact = TRUE)
  expect_identical(test$p, NA_real_)
  expect_match(test$note, "no variance")
})
