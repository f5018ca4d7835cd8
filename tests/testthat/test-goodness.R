test_that("one question against given shares is the hand-worked test", {
  # 30, 50, 20 against 40, 40, 20: X2 = 100/40 + 100/40 + 0 = 5 on 2
  data <- data.frame(q = rep(c("a", "b", "c"), c(30, 50, 20)))
  fit <- test_shares(data, q, c(a = 40, b = 40, c = 20))
  expect_equal(fit$tests$statistic, c(5, 2 * (30 * log(0.75) + 50 * log(1.25))))
  expect_equal(fit$tests$p[1], exp(-2.5)) # the upper tail of chi-square on 2
  expect_equal(fit$answers$residual, c(-10 / sqrt(24), 10 / sqrt(24), 0))
  expect_equal(test_shares(data, q)$answers$against, rep(1 / 3, 3))
  expect_equal(test_shares(data, q, c(c = 0.2, a = 0.4, b = 0.4))$tests,
               fit$tests)
})

test_that(paste("the weighted test uses the eigenvalues of inv(V0) V, and",
                "agrees with the plain one under equal weights"), {
  data <- messy_records(400)
  survey <- respondents(data, weight = w, stratum = stratum, cluster = cluster)
  q <- c(a = 0.5, b = 0.3, c = 0.2)
  fit <- test_shares(survey, down, q)
  one <- transform(data, across = factor("x"))
  V <- covariance_twin(one, data$w, data$stratum, data$cluster)
  n <- sum(fit$answers$n)
  delta <-
    eigen(solve((diag(q) - q %*% t(q))[1:2, 1:2] / n) %*% V[1:2, 1:2])$values
  X2 <- n * sum((fit$answers$share - q)^2 / q)
  expect_equal(fit$tests$statistic[1], X2 / sum(delta))
  second <- subset(fit$tests, test == "rao_scott_second")
  expect_equal(second$df, sum(delta)^2 / sum(delta^2))
  # the headline is the one corrected for few clusters, as of two questions
  headline <- subset(fit$tests, headline)
  expect_identical(headline$test, "rao_scott_corrected")
  expect_gte(headline$df, second$df)
  equal <- data.frame(q = rep(c("a", "b", "c"), c(30, 50, 20)), w = 4)
  rows <-
    test_shares(respondents(equal, weight = w), q, c(a = 0.3, b = 0.5, c = 0.2))
  expect_equal(rows$tests$df[1], 2)
  expect_equal(rows$tests$statistic[rows$tests$test == "rao_scott_first"], 0)
})

test_that(paste("a one-way table held against shares has the test, residuals",
                "and marks of test_shares()"), {
  survey <- demo_survey()
  against <- c("Very dissatisfied" = 15, Dissatisfied = 20, Neither = 20,
               Satisfied = 30, "Very satisfied" = 15)
  fit <- test_shares(survey, ferry, against)
  x <- crosstab(net(survey, ferry, Happy = c("Satisfied", "Very satisfied")),
                ferry, shares = against)
  sheet <- lay_out(x,
                   show = c(
                     "column", "given", "adjusted", "expected",
                     "contribution"))[[1]]
  answers <- sheet$stub$role == "answer"
  expect_equal(sheet$value[answers, 1:3],
               cbind(100 * fit$answers$share, 100 * fit$answers$against,
                     fit$answers$residual), ignore_attr = TRUE)
  expect_identical(sheet$mark[answers, 1], fit$answers$mark)
  n <- sum(fit$answers$n)
  expect_equal(sheet$value[answers, 4], n * fit$answers$against)
  expect_equal(sum(sheet$value[answers, 5]),
               fit$tests$statistic[fit$tests$test == "pearson"])
  happy <- test_shares(regroup(
    survey, ferry,
    Happy = c("Satisfied", "Very satisfied"),
    other = "Others"), ferry, c(Happy = 45, Others = 55))
  expect_equal(sheet$value[sheet$stub$role == "net", 2:3],
               c(45, happy$answers$residual[happy$answers$answer == "Happy"]))
  expect_match(sheet$tests, test_figures(headline_of(tests_of(x)[[1]])),
               fixed = TRUE)
  expect_match(write_up(x, "sentence"),
               "^The answers to .* differ from the given shares [(]Rao-Scott.*[)][.]$")
  path <- withr::local_tempfile(fileext = ".json")
  publish(x, path)
  expect_identical(format(read_tables(path), lines = "none", width = 200)[4:10],
                   format(
                     crosstab(
                       net(
                         survey, ferry,
                         Happy = c("Satisfied", "Very satisfied")),
                       ferry, shares = against), lines = "none",
                     width = 200)[4:10])
  # two answers say one thing
  two <- test_shares(survey, leave, c(Yes = 40, No = 60))$answers
  expect_equal(two$p_corrected, two$p)
  expect_equal(lay_out(crosstab(survey, ferry, shares = "equal"),
                       show = "given")[[1]]$value[1:5, 1], rep(20, 5))
  # small expected counts are named
  few <- data.frame(q = c("a", "a", "b", "c"))
  expect_true("sparse" %in% cautions(crosstab(few, q, shares = "equal"))$code)
  for (call in list(quote(crosstab(survey, ferry, island, shares = "equal")),
                    quote(crosstab(survey, ferry, shares = c(No = 1))),
                    quote(
                      crosstab(
                        ticks(survey, r = c(reason_work, reason_ferry)), r,
                        shares = "equal")))) {
                          expect_error(
                            eval(call), class = "fairlattice_error_against")
                        }
})

test_that("shares that cannot be held against are refused", {
  data <- data.frame(q = c("a", "b", "b"))
  refused <- function(against, pattern) {
    expect_error(test_shares(data, q, against), pattern,
                 class = "fairlattice_error_against")
  }
  refused(c(a = 50, bee = 50), "no answer \"bee\"")
  refused(c(a = 100), "no share for \"b\"")
  refused(c(a = 50, b = 40), "add up to 90")
  refused(c(a = 1, b = 0), "its share in `against` is 0")
  refused("same", "named by the answers")
})

test_that("raking brings every target to its shares, by the smallest change that does", {
  data <- demo_records()
  targets <- list(island = c(Norrey = 40, Sandholm = 24, "Harrow Skerry" = 17,
                             Tarn = 12, "Outer Veyra" = 7),
                  leave = c(Yes = 0.36, No = 0.64))
  survey <- weigh_to(respondents(data, weight = weight, stratum = island,
                                 cluster = settlement), targets)
  for (question in names(targets)) {
    seen <- look(survey, question)
    seen <- seen[!seen$missing, ]
    expect_equal(seen$share,
                 as.vector(targets[[question]][seen$answer]) /
                   sum(targets[[question]]), tolerance = 1e-5)
  }
  report <- attr(survey, "weighing")
  expect_true(report$converged)
  expect_equal(sum(survey$weight, na.rm = TRUE), sum(data$weight, na.rm = TRUE))
  kish <- function(w) length(w) * sum(w^2) / sum(w)^2
  used <- !is.na(data$weight) & data$weight > 0
  expect_equal(report$design_effect[["after"]], kish(survey$weight[used]))
  # raking multiplies by a product of one factor a margin: in a 2x2 the odds
  # ratio of the weights stays as it was
  four <- data.frame(a = rep(c("x", "y"), c(30, 70)),
                     b = rep(c("p", "q", "p", "q"), c(10, 20, 30, 40)))
  raked <- weigh_to(four,
                    list(a = c(x = 0.5, y = 0.5), b = c(p = 0.4, q = 0.6)),
                    tolerance = 1e-12)
  sums <- tapply(raked$weight, paste(four$a, four$b), sum)
  expect_equal(unname(sums[1] * sums[4] / (sums[2] * sums[3])),
               10 * 40 / (20 * 30), tolerance = 1e-9)
  cells <- weigh_to(four,
                    list(data.frame(a = c("x", "x", "y", "y"),
                                    b = c("p", "q", "p", "q"),
                                    share = c(10, 20, 30, 40))))
  expect_equal(unname(as.vector(tapply(cells$weight, paste(four$a, four$b),
                                       sum))), c(10, 20, 30, 40))
})

test_that("limits are kept and said, and targets that cannot be met are refused", {
  four <- data.frame(a = rep(c("x", "y"), c(5, 95)))
  expect_warning(survey <- weigh_to(four, list(a = c(x = 0.5, y = 0.5)),
                                    limits = c(0.5, 3)),
                 class = "fairlattice_warning_not_settled")
  expect_false(attr(survey, "weighing")$converged)
  expect_true(all(attr(survey, "weighing")$factors >= 0.5 - 1e-9 &
                    attr(survey, "weighing")$factors <= 3 + 1e-9))
  refused <- function(target, pattern) {
    expect_error(weigh_to(four, list(a = target)), pattern,
                 class = "fairlattice_error_target")
  }
  refused(c(x = 50, y = 40, z = 10), "Nobody in the sample has \"z\"")
  refused(c(x = 100), "has \"y\" in \"a\", which has no share")
  refused(c(x = 50, y = 40), "add up to 90")
  refused(c(50, 50), "named once")
  expect_error(weigh_to(four, list(b = c(x = 1))),
               class = "fairlattice_error_no_column")
})

test_that("equal weights give the residuals of no weights", {
  data <- data.frame(q = rep(c("a", "b", "c"), c(50, 30, 20)), w = 1)
  against <- c(a = 34, b = 33, c = 33)
  plain <- test_shares(data, q, against)$answers
  weighted <- test_shares(respondents(data, weight = w), q, against)$answers
  expect_equal(plain$residual, c(3.378, -0.638, -2.765), tolerance = 1e-3)
  expect_equal(weighted$residual, plain$residual * sqrt(99 / 100))
})

test_that("a design of one degree of freedom has its test, one of none says why not", {
  data <- data.frame(q = rep(c("a", "b", "b", "c"), 30),
                     g = rep(1:2, 60) + rep(0:1, c(7, 113)))
  of <- function(groups) {
    subset(test_shares(respondents(data, cluster = g), q, "equal")$tests,
           headline)
  }
  data$g <- rep(1:2, c(50, 70))
  expect_false(is.na(of()$p))
  data$g <- 1
  expect_match(of()$note, "no degrees of freedom")
})
