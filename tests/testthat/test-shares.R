test_that("unweighted intervals are Wilson's", {
  # 20 of 40: centre (0.5 + z2/80) / (1 + z2/40), worked with z = 1.959964
  s <- shares(crosstab(records_of(hand_2x2), down, across))
  expect_equal(c(s$share[1], s$low[1], s$high[1]), c(0.5, 0.3519953, 0.6480047),
               tolerance = 1e-6)
  none <- shares(crosstab(records_of(matrix(
                                       c(0, 12, 5, 5), 2,
                                       dimnames = dimnames(hand_2x2))), down,
                          across))[1, ]
  expect_equal(none$low, 0)
  expect_equal(none$high, qnorm(0.975)^2 / (12 + qnorm(0.975)^2)) # the closed form at 0
})

test_that("weighted intervals follow the ratio's design variance on the logit scale", {
  data <- messy_records(300)
  x <- crosstab(respondents(data, weight = w, stratum = stratum,
                            cluster = cluster), down, across)
  e <- x$layers[[1]]$estimate
  V <- covariance_twin(data, data$w, data$stratum, data$cluster)
  for (percent in c("column", "row", "total")) {
    s <- shares(x, percent)
    ratio <- function(P) {
      base <-
        switch(percent, column = sum(P[, 3]), row = sum(P[2, ]), total = sum(P))
      P[2, 3] / base
    }
    g <- as.vector(numeric_gradient(ratio, e$P))
    q <- ratio(e$P)
    se <- sqrt(sum(g * (V %*% g))) / (q * (1 - q))
    one <- s[s$down == "b" & s$across == "C", ]
    expect_equal(one$share, q)
    expect_equal(c(one$low, one$high),
                 plogis(qlogis(q) + c(-1, 1) * qt(0.975, design_df(e)) * se),
                 tolerance = 1e-5)
  }
})

test_that("shares of a base add to 1, and an empty base has none", {
  data <- records_of(hand_2x3)
  data$across <- factor(data$across, c("p", "q", "r", "never"))
  x <- crosstab(data, down, across)
  s <- shares(x)
  expect_equal(as.vector(tapply(s$share, s$across, sum)[c("p", "q", "r")]),
               c(1, 1, 1))
  expect_true(all(is.na(s$share[s$across == "never"])))
  expect_equal(sum(shares(x, "total")$share), 1)
  expect_error(shares(x, "cell"), class = "fairlattice_error_choice")
})

test_that("the binomial interval has its tails, on the effective base under a design", {
  x <- crosstab(records_of(hand_2x2), down, across)
  s <- shares(x, interval = "korn_graubard")[1, ] # 20 of 40
  expect_equal(pbinom(19, 40, s$low, lower.tail = FALSE), 0.025)
  expect_equal(pbinom(20, 40, s$high), 0.025)
  none <- shares(crosstab(records_of(matrix(
                                       c(0, 10, 5, 5), 2,
                                       dimnames = dimnames(hand_2x2))), down,
                          across), interval = "korn_graubard")[1, ]
  expect_equal(c(none$low, none$high), c(0, 1 - 0.025^(1 / 10)))
  wide <- crosstab(demo_survey(), heating, island)
  exact <- shares(wide, interval = "korn_graubard")
  expect_true(all(exact$low <= exact$share & exact$share <= exact$high))
  # its effective base by the definition, from the standard error that the logit
  # interval was made with
  usual <- shares(wide)
  p <- usual$share
  df <- layer_df(wide$layers[[1]])
  se <- (qlogis(usual$high) - qlogis(p)) * p * (1 - p) / qt(0.975, df)
  n <- pmin(usual$base,
            p * (1 - p) / se^2 * (qt(0.975, usual$base - 1) / qt(0.975, df))^2)
  expect_equal(exact$low, qbeta(0.025, p * n, n - p * n + 1))
  expect_equal(exact$high, qbeta(0.975, p * n + 1, n - p * n))
})

test_that("a share of 0 has its interval on a base that knows the design", {
  data <- messy_records(400)
  data$down[data$across %in% "A" & data$down %in% "c"] <- NA
  of <- function(survey) {
    subset(shares(crosstab(survey, down, across), interval = "korn_graubard"),
           down == "c" & across == "A")
  }
  plain <- of(data[!is.na(data$w) & data$w > 0 & !is.na(data$cluster), ])
  designed <-
    of(respondents(data, weight = w, stratum = stratum, cluster = cluster))
  expect_equal(c(plain$low, designed$low), c(0, 0))
  expect_gt(designed$high, plain$high * 1.05)
})

test_that("without clusters the interval follows the weights, by its definition", {
  data <- messy_records(300)
  data <- data[!is.na(data$w) & data$w > 0 & !is.na(data$down) & !is.na(data$across), ]
  s <- shares(crosstab(respondents(data, weight = w), down, across))
  one <- s[s$down == "b" & s$across == "C", ]
  inside <- data$across == "C"
  q <- with(data, sum(w[inside & down == "b"]) / sum(w[inside]))
  u <- with(data, inside * w * ((down == "b") - q) / sum(w[inside])) # scores, whose mean is 0
  se <- sqrt(sum(u^2) * nrow(data) / (nrow(data) - 1))
  ends <- plogis(qlogis(q) +
                   c(-1, 1) * qt(0.975, sum(inside) - 1) * se / (q * (1 - q)))
  expect_equal(c(one$share, one$low, one$high), c(q, ends))
})

test_that("what the design costs is its mean over the other shares", {
  expect_equal(share_effects(c(0.2, 0.5, 0), c(50, 40, 30),
                             c(2 * 0.16 / 50, 4 * 0.25 / 40, NA), NULL), 3)
  expect_equal(share_effects(c(0, 1), c(50, 40), c(0, 0),
                             list(n = 90, effective = 45)), 2)
  expect_equal(share_effects(0.2, 50, 0.5 * 0.16 / 50, NULL), 1)
})

test_that(paste("people of one cluster say nothing about others: no interval,",
                "of a share or a difference"), {
  survey <- among(respondents(
    demo_records(), weight = weight,
    stratum = island, cluster = settlement),
                  settlement %in% c("H01", "H02", "H03", "H07", "H10"))
  x <- crosstab(survey, ferry, settlement, keep_empty = FALSE)
  s <- as.data.frame(shares(x))
  expect_true(all(is.na(s$low) & is.na(s$high)))
  # all respondents are of several clusters
  expect_false(anyNA(as.data.frame(shares(x, "total"))$low[s$n > 0]))
  d <- as.data.frame(differences(x))
  expect_true(all(is.na(d$low) & is.na(d$p)))
  expect_false(anyNA(d$difference))
})

test_that("a design effect is told of no share that does not vary", {
  expect_identical(is.na(share_deff(c(0, 0.5, 1, 0.5), c(10, 10, 10, 10), c(0, 0.1, 0, 1e-12))),
                   c(TRUE, FALSE, TRUE, TRUE))
  found <- logit_interval(c(0.5, 0.5, 0), c(1e-22, 0.01, 0.01), rep(10, 3), 0.05)
  expect_identical(is.na(found$low), c(TRUE, FALSE, TRUE))
})
