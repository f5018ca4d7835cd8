# Strata taken together, against hand-worked sums, general formulas and each
# other.

# Two strata: 10 of 20 against 5 of 25, and 30 of 40 against 20 of 50.
two_strata <- function() {
  of <- function(counts, e) {
    transform(records_of(matrix(counts, 2, dimnames = dimnames(hand_2x2))),
              e = e)
  }
  rbind(of(c(10, 10, 5, 20), "one"), of(c(30, 10, 20, 30), "two"))
}
pick <- function(tests, name) tests[tests$test == name, ]

test_that("Mantel-Haenszel is the hand-worked sum", {
  p <- pooled(crosstab(two_strata(), down, across, each = e))
  R <- 10 * 20 / 45 + 30 * 30 / 90
  S <- 5 * 10 / 45 + 20 * 10 / 90
  expect_equal(p$odds_ratios$estimate, c(4, 4.5, R / S, 40 * 50 / (25 * 20)))
  P <- c(30 / 45, 60 / 90)
  r <- c(200 / 45, 10)
  s <- c(50 / 45, 200 / 90)
  rbg <- sum(P * r) / (2 * R^2) + sum(P * s + (1 - P) * r) / (2 * R * S) +
         sum((1 - P) * s) / (2 * S^2)
  expect_equal(p$odds_ratios$se_log[3], sqrt(rbg))
  expect_equal(p$odds_ratios$low[3], exp(log(R / S) - qnorm(0.975) * sqrt(rbg)))
  over <- 10 - 20 * 15 / 45 + 30 - 40 * 50 / 90
  variance <- 15 * 30 * 20 * 25 / (45^2 * 44) + 50 * 40 * 40 * 50 / (90^2 * 89)
  expect_equal(pick(p$tests, "mantel_haenszel")$statistic, over^2 / variance)
  expect_equal(pick(p$tests, "mantel_haenszel_corrected")$statistic,
               (over - 0.5)^2 / variance)
  # in a 2x2xK all three generalised statistics are Mantel-Haenszel's
  for (name in c("general_association", "mean_scores", "correlation"))
    expect_equal(pick(p$tests, name)$statistic, over^2 / variance)
})

test_that("Breslow-Day's fitted cells keep the margins and the common odds ratio", {
  p <- pooled(crosstab(two_strata(), down, across, each = e))
  theta <- p$odds_ratios$estimate[3]
  fit <- function(r1, r2, c1) {
    uniroot(function(A) A * (r2 - c1 + A) - theta * (r1 - A) * (c1 - A),
            c(max(0, c1 - r2), min(r1, c1)), tol = 1e-12)$root
  }
  A <- c(fit(15, 30, 20), fit(50, 40, 40))
  v <- 1 /
       (1 / A + 1 / (c(15, 50) - A) + 1 / (c(20, 40) - A) +
          1 / (c(30, 40) - c(20, 40) + A))
  off <- c(10, 30) - A
  expect_equal(pick(p$tests, "breslow_day_tarone")$statistic,
               sum(off^2 / v) - sum(off)^2 / sum(v), tolerance = 1e-8)
})

test_that("one stratum is the ordinary table: X2 (n-1)/n, and the linear trend", {
  data <- transform(records_of(hand_2x3), e = "all")
  p <- pooled(crosstab(data, down, across, each = e))
  X2 <- pearson_statistic(hand_2x3 / 100, 100)
  expect_equal(pick(p$tests, "general_association")$statistic, X2 * 99 / 100)
  expect_equal(pick(p$tests, "general_association")$df, 2)
  trend <- tests(crosstab(data, down, across), "linear_trend")$statistic
  expect_equal(pick(p$tests, "correlation")$statistic, trend)
  # mean scores of two answers over three columns are the same as general
  # association
  expect_equal(pick(p$tests, "mean_scores")$statistic, X2 * 99 / 100)
  scored <- pooled(crosstab(data, down, across, each = e),
                   scores = list(down = c(0, 1), across = c(1, 2, 9)))
  given <- tests(crosstab(data, down, across), "linear_trend",
                 scores = list(down = c(0, 1), across = c(1, 2, 9)))$statistic
  expect_equal(pick(scored$tests, "correlation")$statistic, given)
})

test_that(paste("equal weights give the unweighted statistics to n/(n-1), the",
                "jackknife the linearised ones"), {
  data <- transform(two_strata(), w = 3)
  plain <- pooled(crosstab(data[1:3], down, across, each = e))
  weighted <-
    pooled(crosstab(respondents(data, weight = w), down, across, each = e))
  expect_equal(weighted$odds_ratios$estimate, plain$odds_ratios$estimate)
  expect_equal(weighted$odds_ratios$se_log[1:2],
               plain$odds_ratios$se_log[1:2] * sqrt(135 / 134))
  # two estimators of one variance
  expect_equal(weighted$odds_ratios$se_log[3], plain$odds_ratios$se_log[3],
               tolerance = 0.01)
  expect_equal(pick(weighted$tests, "general_association")$statistic,
               pick(plain$tests, "general_association")$statistic * 134 / 135)
  survey <- demo_survey()
  of <- function(survey) {
    pooled(crosstab(survey, leave, internet, each = island))$tests
  }
  expect_equal(of(make_replicates(survey, "jackknife"))$statistic,
               of(survey)$statistic, tolerance = 0.1)
})

test_that("a reversal is named, and only then", {
  of <- function(counts, e) {
    transform(records_of(matrix(counts, 2, dimnames = dimnames(hand_2x2))),
              e = e)
  }
  # within both strata q does better on x, taken together p does
  data <-
    rbind(of(c(600, 200, 85, 15), "easy"), of(c(30, 70, 300, 500), "hard"))
  x <- crosstab(data, down, across, each = e)
  expect_match(pooled(x)$reversal,
               "rise together .* yet within the answers .* they go in opposite directions")
  expect_true("reversal" %in% cautions(x)$code)
  expect_true("reversal" %in%
                cautions(crosstab(respondents(
                                    transform(data, w = 2), weight = w), down,
                                  across, each = e))$code)
  expect_false("reversal" %in%
                 cautions(crosstab(two_strata(), down, across, each = e))$code)
  expect_error(pooled(crosstab(data, down, across)), "one table only",
               class = "fairlattice_error_pooled")
})

test_that("an association that a third question accounts for is named, with evidence on both sides", {
  of <- function(counts, e) {
    transform(records_of(matrix(counts, 2, dimnames = dimnames(hand_2x2))), e = e)
  }
  # within both strata unrelated (1:4 and 4:1), together odds of 3.2
  gone <- rbind(of(c(20, 80, 80, 320), "one"), of(c(320, 80, 80, 20), "two"))
  x <- crosstab(gone, down, across, each = e)
  expect_true("vanishing" %in% cautions(x)$code)
  expect_match(pooled(x)$reversal, "no evidence of it")
  weighted <- crosstab(respondents(transform(gone, w = 2), weight = w), down,
                       across, each = e)
  expect_true("vanishing" %in% cautions(weighted)$code)
  # as strong within as without: too few to see it within is no evidence
  same <- rbind(of(c(12, 8, 8, 12), "one"), of(c(12, 8, 8, 12), "two"),
                of(c(12, 8, 8, 12), "three"))
  expect_false("vanishing" %in%
                 cautions(crosstab(same, down, across, each = e))$code)
  # by hand: what is expected within if the slope were that of all
  strata <- strata_tables(x)
  found <- crude_and_within(x, strata)
  n <- table(gone$down, gone$across)
  expect_equal(abs(found$within), 0)
})

counts_by <- function(...) {
  tables <- list(...)
  do.call(rbind, lapply(seq_along(tables), function(k) {
    n <- tables[[k]]
    dimnames(n) <- list(letters[seq_len(nrow(n))], LETTERS[seq_len(ncol(n))])
    transform(records_of(n), e = sprintf("s%02d", k))
  }))
}

test_that("the crude odds ratio is that of the table without each, whatever its strata say", {
  data <- counts_by(rbind(c(10, 3), c(4, 12)), rbind(c(30, 5), c(0, 0)))
  p <- pooled(crosstab(data, down, across, each = e))
  crude <- p$odds_ratios[p$odds_ratios$each == "crude", ]
  expect_equal(crude$estimate, 40 * 12 / (8 * 4))
  whole <- risks(crosstab(data, down, across))
  whole <- whole[whole$figure == "odds_ratio", ]
  expect_equal(crude[c("low", "high")], whole[c("low", "high")],
               ignore_attr = TRUE)
})

# Mantel's correlation statistic from its definition: sums over strata of
# covariances and variances of scores.
correlation_of <- function(data, rank) {
  parts <- lapply(split(data, data$e), function(d) {
    u <- rank(as.integer(d$down))
    v <- rank(as.integer(d$across))
    n <- nrow(d)
    if (n < 2) return(c(0, 0))
    c(sum((u - mean(u)) * v),
      sum((u - mean(u))^2) * sum((v - mean(v))^2) / (n - 1))
  })
  sums <- Reduce(`+`, parts)
  sums[1]^2 / sums[2]
}

test_that("midranks are ranks within the stratum, ridits their shares", {
  data <- counts_by(rbind(c(9, 8), c(5, 18)), rbind(c(27, 22), c(24, 47)),
                    rbind(c(0, 1), c(0, 5)), rbind(c(0, 0), c(2, 0)),
                    rbind(c(5, 0), c(2, 8)))
  x <- crosstab(data, down, across, each = e)
  correlation <- function(scores) {
    pick(pooled(x, scores)$tests, "correlation")$statistic
  }
  expect_equal(correlation("midranks"), correlation_of(data, rank))
  expect_equal(correlation("ridits"),
               correlation_of(data, function(x) (rank(x) - 0.5) / length(x)))
  # of three answers and four, each side by its own
  data <- counts_by(rbind(c(9, 8, 1, 2), c(5, 18, 3, 1), c(2, 2, 30, 4)),
                    rbind(c(2, 1, 9, 1), c(12, 3, 3, 0), c(1, 8, 1, 7)))
  x <- crosstab(data, down, across, each = e)
  expect_equal(correlation("midranks"), correlation_of(data, rank))
})

test_that(paste("general association has its figure where the covariance is",
                "singular, but the system is not"), {
  of <- function(v) matrix(v, 3)
  data <- counts_by(of(c(5, 2, 0, 3, 4, 0, 0, 0, 0)),
                    of(c(0, 0, 0, 0, 0, 0, 0, 0, 3)),
                    of(c(0, 0, 0, 0, 6, 2, 0, 3, 4)))
  test <- pick(pooled(crosstab(data, down, across, each = e))$tests,
               "general_association")
  expect_equal(c(test$statistic, test$df), c(2.583, 2), tolerance = 1e-3)
})

test_that("the homogeneity of odds ratios under a design is Wald's, to its factor", {
  survey <- demo_survey()
  x <- crosstab(among(survey, "internet %in% c('Good', 'Poor')"), leave,
                internet, each = island, keep_empty = FALSE)
  test <- pick(pooled(x)$tests, "same_odds_ratio")
  strata <- strata_tables(x)
  e <- strata$joint
  log_odds <- function(P) {
    M <- matrix(P, 2)
    vapply(seq_len(ncol(M) / 2), function(k) {
      log(M[1, 2 * k - 1] * M[2, 2 * k] / (M[1, 2 * k] * M[2, 2 * k - 1]))
    }, 0)
  }
  K <- length(log_odds(e$P))
  G <- vapply(seq_len(K), function(k) {
    as.vector(numeric_gradient(function(P) log_odds(P)[k], e$P))
  }, numeric(length(e$P)))
  C <- cbind(diag(K - 1), -1)
  d <- C %*% log_odds(e$P)
  wald <- sum(d *
                solve(C %*% estimated_together(e, sums_of(G))$covariance %*%
                        t(C), d))
  df <- design_df(e)
  # G is numerical
  expect_equal(test$statistic, wald * (df - K + 2) / (df * (K - 1)),
               tolerance = 1e-5)
  expect_equal(c(test$df, test$df_error), c(K - 1, df - K + 2))
})

test_that("Mantel-Haenszel is of 2x2 tables without a design", {
  names <- function(x) pooled(x)$tests$test
  expect_false("mantel_haenszel" %in%
                 names(crosstab(demo_records(600), ferry, tenure,
                                each = island)))
  weighted <- respondents(transform(two_strata(), w = 1), weight = w)
  expect_false("mantel_haenszel" %in%
                 names(crosstab(weighted, down, across, each = e)))
})

test_that("with equal weights no three-way interaction has the statistic of no weights", {
  data <- transform(demo_records(900), one = 1)
  test <- function(survey) {
    pick(pooled(crosstab(survey, leave, tenure, each = mode))$tests,
         "no_three_way")
  }
  plain <- test(data)
  skip_if(is.na(plain$p))
  weighted <- test(respondents(data, weight = one))
  # the effects are taken at the estimate
  expect_equal(weighted$statistic * weighted$df, plain$statistic,
               tolerance = 0.05)
})

test_that("a stratum of one person says nothing, and takes nothing away", {
  data <- demo_records(300)
  levels(data$mode) <- c("Web", "Paper", "At the door")
  data <- data[!is.na(data$mode) & !is.na(data$leave) & !is.na(data$reason_work), ]
  lone <- data[1, ]
  lone$mode <- factor("By post", c(levels(data$mode), "By post"))
  levels(data$mode) <- levels(lone$mode)
  tests <- function(data) {
    found <- pooled(crosstab(data, leave, reason_work, each = mode))$tests
    found[found$test %in% c("mantel_haenszel", "mantel_haenszel_corrected"), c("statistic", "p")]
  }
  both <- rbind(data, lone)
  expect_false(anyNA(tests(both)$p))
  expect_equal(tests(both), tests(droplevels(data)), ignore_attr = TRUE)
})
