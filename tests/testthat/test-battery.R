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
  expect_error(crosstab(respondents(both, count = n), both),
               "one record a respondent", class = "fairlattice_error_battery")
})

with_battery <- function(data = demo_records(), ...) {
  survey <- respondents(data, weight = weight, stratum = island, cluster = settlement)
  survey <- battery(survey, say = c(say_council, say_ferry, say_homes, say_future), ...)
  score(net(survey, say, "Agree in all" = c("Agree", "Strongly agree")), say)
}

test_that("nets and means of a battery are those of its statements, with their intervals", {
  survey <- with_battery()
  sheet <- lay_out(crosstab(survey, say), show = c("row", "interval"),
                   summary = c("mean", "interval"), sort = "mean")[[1]]
  columns <- sheet$columns$label
  expect_false(is.unsorted(-sheet$value[, columns == "Mean"]))
  for (k in seq_len(4)) {
    column <- c("say_council", "say_ferry", "say_homes", "say_future")[sheet$stub$at[k]]
    one <- score(net(survey, !!column, both = c("Agree", "Strongly agree")), !!column)
    alone <- lay_out(crosstab(one, !!column), show = c("column", "interval"),
                     summary = c("mean", "interval"))[[1]]
    net <- which(alone$stub$role == "net")
    expect_equal(sheet$value[k, columns == "Agree in all"], alone$value[net, 1])
    inside <- sheet$inside[[1]]
    expect_equal(inside$value[k, columns == "Agree in all"], alone$value[net, 2],
                 tolerance = 1e-3)
    mean <- which(alone$stub$role == "mean")[1]
    expect_equal(sheet$value[k, columns == "Mean"], alone$value[mean, 1])
    interval <- which(sheet$columns$role == "mean")[2]
    expect_equal(sheet$high[k, interval], alone$high[mean + 1, 1], tolerance = 1e-3)
  }
})

test_that("with a question across every statement is its own table", {
  survey <- with_battery()
  x <- crosstab(survey, say, c(island, tenure))
  expect_length(x$tables, 4)
  alone <- crosstab(survey, say_ferry, island)
  expect_equal(shares(x$tables[[2]][[1]])$share, shares(alone)$share)
  sheet <- lay_out(x, only = "nets", sort = "size")[[1]]
  expect_identical(sheet$title, "What residents say by Island, Tenure")
  lines <- sheet$stub$role != "base"
  expect_setequal(sheet$stub$label[lines],
                  c("The council listens to us", "The ferry can be relied on",
                    "Homes can be afforded here", "The isles have a good future"))
  expect_false(is.unsorted(-sheet$value[lines, ncol(sheet$value)]))
  # each line is that of the statement's own table, mark and all
  one <- net(survey, say_ferry, "Agree in all" = c("Agree", "Strongly agree"))
  own <- lay_out(crosstab(one, say_ferry, c(island, tenure)))[[1]]
  line <- which(sheet$stub$label == "The ferry can be relied on")
  net <- which(own$stub$role == "net")
  for (part in c("value", "mark")) expect_equal(sheet[[part]][line, ], own[[part]][net, ])
  # the bases reach from the smallest to the largest of the statements
  n <- vapply(x$totals, function(total) total$layers[[1]]$base$n, 0)
  base <- which(sheet$stub$role == "base")[1]
  all <- ncol(sheet$value)
  expect_identical(c(sheet$value[base, all], sheet$high[base, all]), range(n))
  listed <- lay_out(x, only = "means")[[1]]
  own <- means(crosstab(score(survey, say_ferry), say_ferry, island))
  expect_equal(listed$value[2, 1:5], own$mean[1:5])
})

test_that("only those who answered all statements, where that is asked", {
  data <- said(60, 4)
  data$say_2[6:20] <- NA
  data$town <- rep(c("a", "b"), 30)
  survey <- battery(data, say = c(say_1, say_2, say_3), answered = "all")
  x <- crosstab(survey, say)
  expect_identical(unname(x$layers[[1]]$margins$down$n), c(45, 45, 45))
  expect_identical(account_in(x)$left_out$records, 15)
  by_town <- crosstab(survey, say, town)
  expect_identical(by_town$tables[[1]][[1]]$layers[[1]]$base$n, 45)
  expect_identical(account_in(by_town$tables[[1]][[1]])$left_out$detail,
                   "not all statements answered")
})

test_that("Cochran's Q is by its definition, and McNemar's of two statements", {
  withr::local_seed(6)
  answered <- matrix(rbinom(60 * 4, 1, rep(c(0.3, 0.5, 0.4, 0.6), each = 60)), 60)
  data <- as.data.frame(ifelse(answered == 1, "Yes", "No"))
  q_of <- function(x) subset(tests(x), test == "cochran_q")
  found <- q_of(crosstab(battery(data, q = c(V1, V2, V3, V4)), q))
  # between statements, over the mean within respondents: Cochran 1950, eq. 1
  G <- colSums(answered)
  within <- rowMeans(answered) * (1 - rowMeans(answered))
  expect_equal(found$statistic, 3 * sum((G - mean(G))^2) / (4 * sum(within)))
  expect_identical(c(found$df, found$base), c(3, 60))
  data$V1[1:7] <- NA # who did not answer all is not in it
  part <- q_of(crosstab(battery(data, q = c(V1, V2)), q))
  expect_identical(part$base, 53)
  own <- data[!is.na(data$V1), ]
  changed <- table(own$V1, own$V2)
  expect_equal(part$statistic,
               (changed[1, 2] - changed[2, 1])^2 / (changed[1, 2] + changed[2, 1]))
  # statements that are answered at random differ in one of twenty
  p <- vapply(1:300, function(seed) {
    withr::local_seed(seed)
    own <- rbinom(80, 1, 0.5)
    alike <- lapply(1:3, function(k) ifelse(runif(80) < 0.4, own, rbinom(80, 1, 0.5)))
    data <- as.data.frame(lapply(alike, function(v) c("No", "Yes")[v + 1]))
    names(data) <- c("a", "b", "c")
    q_of(crosstab(battery(data, q = c(a, b, c)), q))$p
  }, 0)
  expect_gt(mean(p < 0.05), 0.02)
  expect_lt(mean(p < 0.05), 0.085)
  weighted <- respondents(demo_records(200), weight = weight)
  two <- battery(weighted, r = c(reason_work, reason_housing))
  expect_identical(nrow(q_of(crosstab(two, r))), 0L)
})

test_that("letters compare the means of statements as answers of the same people", {
  survey <- with_battery()
  x <- crosstab(survey, say)
  sheet <- lay_out(x, marks = "letters")[[1]]
  letters <- sheet$letters[, sheet$columns$role == "mean"]
  pairs <- attr(means(x), "pairs")
  names <- c("a", "b", "c", "d")
  for (k in 1:4) {
    own <- sub(" \\(.\\)$", "", sheet$stub$label[k])
    beaten <- c(pairs$second[pairs$exceeds == "first" & pairs$first == own],
                pairs$first[pairs$exceeds == "second" & pairs$second == own])
    statements <- sub(" \\(.\\)$", "", sheet$stub$label)
    expect_identical(letters[k], paste(sort(names[match(beaten, statements)]), collapse = " "))
  }
  # the same people: the standard error is that of their own differences
  data <- said(300, 8, shift = c(0, 0.4))
  plain <- score(battery(data, both = c(say_1, say_2)), both)
  found <- attr(means(crosstab(plain, both)), "pairs")
  d <- as.numeric(data$say_1) - as.numeric(data$say_2)
  expect_equal(found$difference, mean(d))
  expect_equal(found$high - found$low,
               2 * stats::qt(0.975, 299) * stats::sd(d) / sqrt(300), tolerance = 0.01)
})
