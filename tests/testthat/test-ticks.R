ticked_data <- function(n = 300, seed = 6) {
  withr::local_seed(seed)
  data <- messy_records(n, seed)
  on <- rnorm(n)
  data$t1 <- ifelse(data$each %in% "one", as.integer(on + rnorm(n) > 0), NA)
  data$t2 <- ifelse(data$each %in% "one", as.integer(on + rnorm(n) > 0.5), NA)
  data$t3 <- ifelse(data$each %in% "one", as.integer(runif(n) < 0.3), NA)
  data
}
survey_of <- function(data) {
  respondents(data, weight = w, stratum = stratum, cluster = cluster)
}
with_ticks <- function(data) ticks(survey_of(data), t = c(t1, t2, t3))

test_that(paste("items are read from every way of writing them, and not asked",
                "is told from none ticked"), {
  ways <- list(
    data.frame(a = c(1, 0, 0, NA), b = c(1, 1, 0, NA)),
    data.frame(a = c("Yes", "no", "No", NA), b = c("yes", "YES", "no", "")),
    data.frame(a = c(TRUE, FALSE, FALSE, NA), b = c(TRUE, TRUE, FALSE, NA)))
  for (way in ways) {
    made <- ticks(way, t = c(a, b))$t
    expect_identical(as.character(made),
                     c("a + b", "b", "none of them", "not asked"))
    expect_identical(is.na(made), c(FALSE, FALSE, FALSE, TRUE))
  }
  joined <- ticks(data.frame(j = c("a; b", "b", "none", NA)), t = j,
                  split = ";", none = "none")$t
  expect_identical(as.character(joined),
                   c("a + b", "b", "none of them", "not asked"))
  named <- ticks(data.frame(
    a = c("ferry", "", "ferry"),
    b = c("", "work", "work")), t = c(a, b))$t
  expect_identical(as.character(named), c("a", "b", "a + b"))
  survey <-
    ticks(demo_records(), reasons = c(reason_work, reason_ferry))$reasons
  expect_identical(attr(survey, "label"), "Reason to leave")
  expect_identical(attr(survey, "items"), c("Work", "The ferry"))
  expect_identical(attr(survey, "missing"),
                   "Not asked (has not thought of leaving)")
  expect_error(ticks(data.frame(a = c(1, 2), b = c(0, 1)), t = c(a, b)),
               "value \"2\" \\(record 2\\)", class = "fairlattice_error_ticks")
})

test_that("an item's figures are those of the ordinary table of that item", {
  data <- ticked_data()
  x <- crosstab(with_ticks(data), t, across)
  items <- test_items(x)
  for (k in 1:3) {
    alone <- data
    alone$item <- factor(data[[paste0("t", k)]], c(1, 0))
    y <- crosstab(survey_of(alone), item, across)
    expect_equal(items$p[k], with_headline(tests(y))$p)
    expect_equal(items$cramers_v[k], strength(y)$estimate[1])
    for (percent in c("column", "row", "total")) {
      mine <- shares(x, percent)
      other <- shares(y, percent)
      expect_equal(mine[mine$down == paste0("t", k), c("n", "share", "low", "high", "base")],
                   other[other$down == "1", c("n", "share", "low", "high", "base")],
                   ignore_attr = TRUE)
    }
    d <- residuals(x)
    expect_equal(d$adjusted_residual[d$down == paste0("t", k)],
                 residuals(y)$adjusted_residual[residuals(y)$down == "1"])
  }
  expect_equal(sort(residuals(x)$p_corrected),
               sort(p.adjust(residuals(x)$p, "holm")))
  e <- lapply(x$layers[[1]]$parts, function(part) part$estimate)
  X2 <- sum(vapply(e, function(e) pearson_statistic(e$P, e$n), 0))
  # every item has the same degrees of freedom
  delta <- mean(vapply(e, function(e) e$effect$mean, 0))
  first <- tests(x)[2, ]
  expect_equal(first$statistic, X2 / delta)
  expect_equal(first$df, 3 * 3)
  responses <- shares(x, "responses")
  expect_equal(as.vector(tapply(responses$share, responses$across, sum)),
               rep(1, 4))
  expect_error(shares(crosstab(data, down, across), "responses"),
               class = "fairlattice_error_choice")
})

test_that("ticks stand down, across or both, and turn", {
  survey <- with_ticks(ticked_data())
  down <- crosstab(survey, t, across)
  across <- crosstab(survey, across, t, explains = "down")
  cells <- setdiff(names(as.data.frame(down)), "each")
  expect_equal(as.data.frame(flip(across))[cells], as.data.frame(down)[cells])
  expect_same_table(flip(flip(down)), down)
  both <- crosstab(ticks(survey, u = c(t1, t2)), t, u)
  s <- shares(both)
  data <- survey$data
  use <- !is.na(data$t1) & !is.na(data$w) & data$w > 0
  expect_equal(s$share[s$down == "t3" & s$across == "t1"],
               sum(data$w[use & data$t3 == 1 & data$t1 == 1]) /
                 sum(data$w[use & data$t1 == 1]))
  expect_equal(s$share[s$down == "t1" & s$across == "t1"], 1)
  expect_equal(nrow(test_items(both)), 6)
})

test_that("the account, the page, the file and the print know ticks for what they are", {
  data <- ticked_data()
  x <- crosstab(with_ticks(data), t, across)
  f <- findings(x)
  expect_equal(f$base$used + sum(f$base$left_out$records), 300)
  expect_equal(f$base$left_out$records[left_out_words(f$base$left_out) == "t: not asked"] >
                 0, TRUE)
  expect_false(any(grepl("^Total", format(x))))
  expect_true(any(grepl("may add to more than", format(x))))
  path <- withr::local_tempfile(fileext = ".json")
  publish(x, path)
  expect_identical(format(read_tables(path)), format(x))
  expect_identical(test_items(read_tables(path)), test_items(x))
  expect_identical(names(test_items(x)), names(table_contract$items))
  publish(x, withr::local_tempfile(fileext = ".html"))
  drawn <- ggplot2::layer_data(ggplot2::autoplot(x), 1)
  expect_equal(sort(drawn$x), sort(f$cells$column_percent))
  look <- look(with_ticks(data), "t")
  expect_identical(look$answer[!look$missing], c("t1", "t2", "t3"))
  of <- function(rows) tally_of(with_ticks(data[rows, ]), t, across)
  merged <- crosstab_of_merged(merge(of(1:100), of(101:300)))
  expect_equal(merged$n, x$layers[[1]]$n)
})

test_that("all items together hold their level when nothing is associated", {
  withr::local_seed(8)
  p <- vapply(1:120, function(i) {
    cluster <- rep(1:25, each = 12)
    on <- rnorm(300)
    data <- data.frame(place = rep(c("p", "q", "r"), 100)[order(runif(300))],
                       cluster, a = as.integer(on + rnorm(300) > 0),
                       b = as.integer(on + rnorm(300) > 0.4),
                       c = as.integer(runif(300) < 0.4))
    tests(crosstab(ticks(respondents(data, cluster = cluster), t = c(a, b, c)),
                   t, place))$p[1]
  }, 0)
  expect_lt(mean(p < 0.05), 0.05 + 3 * sqrt(0.05 * 0.95 / 120)) # three simulation errors
  expect_gt(mean(p < 0.05), 0.005)
})

test_that("all items together: second order by the eigenvalues of their joint covariance", {
  data <- withr::with_seed(3, {
    n <- 300
    common <- rnorm(n)
    as.data.frame(c(list(place = sample(c("p", "q", "r"), n, TRUE)),
                    stats::setNames(lapply(
                                      1:4, function(k) {
                                        as.integer(common + rnorm(n) > 0.4 * k)
                                      }), letters[1:4])))
  })
  x <- crosstab(ticks(data, t = c(a, b, c, d)), t, place)
  found <- tests(x)[1, ]
  # brute force: residuals of the items, record by record, at the estimate
  g <- table_of(data$place)
  U <- do.call(cbind,
               lapply(letters[1:4], function(k) {
                 ticked <- data[[k]]
                 vapply(c("p", "q"), function(j) {
                   (ticked - mean(ticked)) *
                     ((data$place == j) - mean(data$place == j))
                 }, numeric(300))
               }))
  joint <- crossprod(sweep(U, 2, colMeans(U))) / 300
  V0 <- joint * kronecker(diag(4), matrix(1, 2, 2))
  delta <- Re(eigen(solve(V0, joint))$values)
  X2 <- sum(vapply(x$layers[[1]]$parts, function(part) {
    pearson_statistic(part$estimate$P, 300)
  }, 0))
  d1 <- sum(delta)^2 / sum(delta^2)
  expect_equal(found$df, d1)
  expect_equal(found$statistic, X2 * d1 / sum(delta))
})

test_that("the overall test of items that go together keeps its level", {
  withr::local_seed(17)
  p <- vapply(1:120, function(i) {
    common <- rnorm(200)
    items <- as.data.frame(stats::setNames(
                             lapply(1:6, function(k) {
                               as.integer(common + 0.6 * rnorm(200) > 0.3)
                             }), paste0("i", 1:6)))
    items$place <- sample(c("p", "q", "r"), 200, TRUE)
    tests(crosstab(ticks(items, t = c(i1, i2, i3, i4, i5, i6)), t, place))$p
  }, c(0, 0))
  expect_lt(mean(p[1, ] < 0.05), 0.05 + 3 * sqrt(0.05 * 0.95 / 120)) # three simulation errors
  expect_gt(mean(p[2, ] < 0.05), 0.07) # first order, which it replaces
})

test_that("an item under replicates is the ordinary table of that item", {
  data <- ticked_data()
  alone <- data
  alone$item <- factor(data$t2, c(1, 0))
  x <- crosstab(make_replicates(with_ticks(data), "jackknife"), t, across)
  y <- crosstab(make_replicates(survey_of(alone), "jackknife"), item, across)
  expect_equal(test_items(x)$p[2], with_headline(tests(y))$p)
})
