# Statements with the same answers, of the same people.

said <- function(n, seed, alike = 0.8, shift = c(0, 0, 0)) {
  withr::local_seed(seed)
  content <- rnorm(n)
  answers <- c("Disagree", "Undecided", "Agree")
  out <- lapply(shift, function(by) {
    latent <- alike * content + sqrt(1 - alike^2) * rnorm(n) + by
    factor(answers[cut(latent, c(-Inf, -0.6, 0.4, Inf))], answers,
           ordered = TRUE)
  })
  as.data.frame(stats::setNames(out, paste0("say_", seq_along(shift))))
}

test_that("every row is the one-way table of its statement", {
  data <- said(400, 1, shift = c(0, 0.3, -0.4))
  data$say_1[1:40] <- NA
  data[1:10, ] <- NA
  data$weight <- rep(c(0.5, 1, 2, 2.5), 100)
  data$town <- rep(1:40, each = 10)
  for (survey in list(respondents(data), respondents(data, weight = weight),
                      respondents(data, weight = weight, cluster = town))) {
    survey <- battery(survey, say = c(say_1, say_2, say_3))
    table <- shares(crosstab(survey, down = say))
    for (name in c("say_1", "say_2", "say_3")) {
      alone <- shares(crosstab(survey, down = !!name))
      own <- table[table$down == name, ]
      expect_equal(own$share, alone$share)
      expect_equal(own$n, alone$n)
      expect_equal(own$base_weighted, alone$base_weighted)
      # one respondent more or less in the degrees of freedom
      if (!is.null(survey$roles$weight))
        expect_equal(own[c("low", "high")], alone[c("low", "high")],
                     tolerance = 0.01, ignore_attr = TRUE)
    }
  }
})

test_that("a record is counted once, with the reason where no statement is answered", {
  data <- said(60, 2)
  data[1:5, ] <- NA
  data$say_2[6:20] <- NA
  data$weight <- c(NA, 0, rep(1, 58))
  survey <- battery(respondents(data, weight = weight),
                    say = c(say_1, say_2, say_3))
  x <- crosstab(survey, down = say)
  account <- account_in(x)
  expect_identical(account$used, 55)
  expect_identical(account$used + sum(account$left_out$records), 60)
  layer <- x$layers[[1]]
  expect_identical(layer$base$n, 55)
  expect_identical(layer$base$weighted, 55)
  expect_identical(unname(layer$margins$down$n), c(55, 40, 55))
  expect_match(write_up(x), "answered by 55 respondents", fixed = TRUE)
})

test_that("two statements with two answers are tested as the same people twice", {
  withr::local_seed(3)
  first <- rbinom(500, 1, 0.5)
  second <- ifelse(runif(500) < 0.7, first, rbinom(500, 1, 0.62))
  data <- data.frame(a = factor(first, 0:1, c("No", "Yes")),
                     b = factor(second, 0:1, c("No", "Yes")))
  x <- crosstab(battery(data, both = c(a, b)), down = both)
  headline <- subset(tests(x), headline)
  # of the difference of the two shares within persons
  d <- second - first
  t <- mean(d) / (stats::sd(d) / sqrt(500))
  expect_equal(headline$statistic, t^2, tolerance = 0.02)
  expect_equal(headline$p, 2 * stats::pt(-abs(t), 499), tolerance = 0.03)
})

test_that("statements that are answered alike are found to differ in one of twenty", {
  found <- vapply(1:400, function(seed) {
    data <- said(120, seed)
    x <- crosstab(battery(data, say = c(say_1, say_2, say_3)), down = say)
    subset(tests(x), headline)$p < 0.05
  }, NA)
  expect_gt(mean(found), 0.02)
  expect_lt(mean(found), 0.085)
})

test_that("replicate weights give the same shares, and nearly the same intervals", {
  survey <- respondents(demo_records(800), weight = weight, stratum = island,
                        cluster = settlement)
  made <- list(survey, make_replicates(survey, "jackknife"))
  found <- lapply(made, function(one) {
    one <- battery(one, say = c(say_council, say_ferry, say_homes))
    shares(crosstab(one, down = say))
  })
  expect_equal(found[[2]]$share, found[[1]]$share)
  expect_equal(found[[2]]$low, found[[1]]$low, tolerance = 0.02)
})

test_that("a battery leaves in every form, comes back, and says no word of English in German", {
  survey <- battery(respondents(demo_records(300), weight = weight),
                    say = c(say_council, say_ferry, say_homes, say_future))
  x <- crosstab(survey, down = say)
  file <- withr::local_tempfile(fileext = ".json")
  publish(x, file)
  expect_identical(format(read_tables(file)), format(x))
  for (ending in c(".html", ".xlsx", ".md", ".tex", ".csv", ".docx")) {
    out <- withr::local_tempfile(fileext = ending)
    publish(x, out)
    expect_gt(file.size(out), 500)
  }
  withr::local_options(fairlattice.language = "de")
  text <- paste(c(format(x), write_up(x, "full")), collapse = " ")
  expect_no_match(text, "\\b(statements|answered|respondents|percentages)\\b")
  # one table an island, each of its own people
  each <- crosstab(survey, down = say, each = island)
  expect_equal(sum(vapply(each$layers, function(layer) layer$base$n, 0)),
               x$layers[[1]]$base$n)
})

test_that("what makes no battery is told", {
  data <- data.frame(a = c("Yes", "No"), b = c("Yes", "Maybe"), n = c(2, 3))
  expect_error(battery(data, both = c(a, b)), "has the answer \"Maybe\"",
               class = "fairlattice_error_battery")
  expect_error(battery(data, one = a), "two statements at least",
               class = "fairlattice_error_battery")
  data$b <- c("No", "Yes")
  both <- battery(data, both = c(a, b))
  expect_error(crosstab(both, both, n), "no question across",
               class = "fairlattice_error_battery")
  expect_error(crosstab(respondents(both, count = n), both),
               "one record a respondent", class = "fairlattice_error_battery")
})
