# Columns against columns: differences, letters, risks, odds.

test_that("a pair of columns is the two-proportion test, with Newcombe's interval", {
  d <- differences(crosstab(records_of(hand_2x2), down, across))
  # x: 20 of 30 against 20 of 70... columns p (40) and q (60): 20/40 against
  # 10/60... worked from the counts
  n <- colSums(hand_2x2)
  q <- hand_2x2[1, ] / n
  pooled <- sum(hand_2x2[1, ]) / 100
  expect_equal(d$difference[d$within == "x"], q[[1]] - q[[2]])
  expect_equal(d$z[d$within == "x"],
               (q[[1]] - q[[2]]) / sqrt(pooled * (1 - pooled) * sum(1 / n)))
  expect_equal(d$z[1]^2, 12.69841, tolerance = 1e-6) # in a 2x2 it is the chi-square
  expect_identical(d$exceeds, c("first", "second"))
  # Newcombe RG (1998) Statist Med 17:873-890, table II, case (a), method 10:
  # 56/70 - 48/80 is 0.2, 0.0524 to 0.3339
  published <- newcombe_interval(56 / 70, 70, 48 / 80, 80, 0.05)
  # printed to 4 decimals
  expect_equal(unlist(published), c(low = 0.0524, high = 0.3339),
               tolerance = 5e-4)
})

test_that(paste("letters name the columns that a figure exceeds, and small",
                "bases are left out and named"), {
  n <- matrix(c(80, 20, 50, 50, 20, 80, 3, 2), 2,
              dimnames = list(
                c("yes", "no"),
                c("north", "mid", "south", "rock")))
  d <- differences(crosstab(records_of(n), down, across))
  cells <- attr(d, "letters")
  expect_identical(cells$letters, c("b c", "", "c", "a", "", "a b", "", ""))
  expect_identical(attr(d, "left_out")$answer, "rock")
  expect_equal(attr(d, "left_out")$base, 5)
  expect_false("rock" %in% c(d$first, d$second))
  expect_true("rock" %in%
                differences(
                  crosstab(records_of(n), down, across),
                  least_base = 0)$second)
  expect_equal(d$p_corrected[1:3], p.adjust(d$p[1:3], "holm"))
  text <- format(lay_out(
    crosstab(records_of(n), down, across),
    marks = "letters", lines = "none"), width = 100)
  expect_true(any(grepl("80.0 b c", text)) && any(grepl("rock \\(5\\)", text)))
  turned <-
    differences(crosstab(records_of(n), across, down, explains = "down"))
  expect_equal(turned$difference, d$difference)
})

test_that("under a design z is divided by the root of the difference's design effect", {
  data <- transform(records_of(hand_2x3), w = 2)
  plain <- differences(crosstab(data[1:2], down, across))
  weighted <- differences(crosstab(respondents(data, weight = w), down, across))
  expect_equal(weighted$z, plain$z * sqrt(99 / 100))
  # everybody twice: clusters of two alike
  twice <- rbind(transform(data, id = 1:100), transform(data, id = 1:100))
  clustered <-
    differences(crosstab(respondents(twice, cluster = id), down, across))
  expect_equal(clustered$z, weighted$z, tolerance = 1e-8)
})

test_that(paste("items of ticks are compared as tables of one item each,",
                "columns that share people by their covariance"), {
  survey <-
    ticks(demo_survey(), why = c(reason_work, reason_housing, reason_ferry))
  x <- crosstab(survey, why, island)
  d <- differences(x)
  one <- differences(crosstab(demo_survey(), reason_ferry, island))
  names <-
    c("first_share", "second_share", "difference", "low", "high", "z", "p")
  expect_equal(d[d$within == "The ferry", names],
               one[one$within == "Ticked", names], ignore_attr = TRUE)
  # across, a person may be in both columns: a simple random sample of 12 by
  # hand
  data <- data.frame(y = rep(c("p", "q"), each = 6),
                     a = c(1, 1, 1, 1, 0, 0, 1, 1, 0, 0, 0, 0),
                     b = c(1, 1, 0, 0, 1, 0, 1, 0, 1, 1, 1, 0))
  h <- differences(crosstab(ticks(respondents(data), t = c(a, b)), y, t),
                   least_base = 0)[1L, ]
  p <- as.numeric(data$y == "p")
  share <- function(t) sum(p * t) / sum(t)
  influence <- function(t) t * (p - share(t)) / sum(t) # of each person on the share
  alone <- function(t) share(t) * (1 - share(t)) / sum(t)
  pooled <- (sum(p * data$a) + sum(p * data$b)) / (sum(data$a) + sum(data$b))
  effect <- sum((influence(data$a) - influence(data$b))^2) /
            (alone(data$a) + alone(data$b))
  expect_equal(h$difference, share(data$a) - share(data$b))
  expect_equal(h$z,
               h$difference /
                 sqrt(effect * pooled * (1 - pooled) *
                        (1 / sum(data$a) + 1 / sum(data$b))))
  # who ticked nothing in common is compared as two columns of one question
  apart <- data.frame(y = data$y, g = rep(c("a", "b"), 6))
  as_ticks <-
    transform(apart, a = as.integer(g == "a"), b = as.integer(g == "b"))
  expect_equal(differences(
    crosstab(ticks(as_ticks, t = c(a, b)), y, t),
    least_base = 0)$z, differences(crosstab(apart, y, g), least_base = 0)$z)
})

test_that("letters over all columns of a banner take the pairs within a question as they are", {
  x <- crosstab(demo_survey(), ferry, c(island, leave), overlap = TRUE)
  columns <- x$columns[[1L]]
  all <- differences(columns)
  inside <-
    all[startsWith(all$first, "Island") & startsWith(all$second, "Island"), ]
  own <- differences(x$tables[[1L]][[1L]])
  expect_equal(inside$z, own$z, tolerance = 1e-8)
  expect_gt(nrow(all), nrow(own))
  sheet <- lay_out(x, marks = "letters")[[1L]]
  expect_true(any(grepl("all columns", sheet$key)))
  # a letter of the other question stands in a cell exactly when differences()
  # says so
  at <- which(sheet$columns$label == "Yes (f)")
  row <- which(sheet$stub$label == "Dissatisfied")
  beaten <- all$second[all$within == "Dissatisfied" & all$first == "Has thought of leaving: Yes" &
                       all$exceeds == "first"]
  beaten <- c(beaten,
              all$first[all$within == "Dissatisfied" &
                          all$second == "Has thought of leaving: Yes" &
                          all$exceeds == "second"])
  places <- match(beaten, answers_across(columns$layers[[1L]]))
  expect_identical(strsplit(sheet$letters[row, at], " ")[[1L]],
                   letters[sort(places)])
  expect_error(crosstab(demo_survey(), ferry, island, overlap = TRUE),
               class = "fairlattice_error_banner")
})

figure <- function(r, name) r[r$figure == name, ]

test_that("risks are the hand-worked ones", {
  r <- risks(crosstab(records_of(hand_2x2), down, across)) # x: 20 of 40 against 10 of 60
  expect_equal(figure(r, "difference")$estimate, 1 / 2 - 1 / 6)
  expect_equal(figure(r, "needed")$estimate, 3)
  expect_equal(figure(r, "relative_risk")$estimate, 3)
  expect_equal(figure(r, "relative_risk")$high,
               exp(log(3) +
                     qnorm(0.975) * sqrt(1 / 20 - 1 / 40 + 1 / 10 - 1 / 60)))
  expect_equal(figure(r, "odds_ratio")$estimate, 5)
  expect_equal(figure(r, "odds_ratio")$low,
               exp(log(5) -
                     qnorm(0.975) * sqrt(1 / 20 + 1 / 20 + 1 / 10 + 1 / 50)))
  expect_equal(figure(r, "log_odds_ratio")$estimate, log(5))
  expect_equal(figure(r, "p")$estimate, 2 * figure(r, "p_more")$estimate)
  expect_equal(figure(r, "p_more")$estimate + figure(r, "p_fewer")$estimate, 1)
})

test_that("the exact odds ratio gives its tails what they should have", {
  n <- matrix(c(7, 3, 2, 8), 2, dimnames = dimnames(hand_2x2))
  r <- figure(risks(crosstab(records_of(n), down, across)), "odds_ratio_exact")
  chances <- function(odds) {
    x <- 0:9
    w <- choose(10, x) * choose(10, 9 - x) * odds^x
    w / sum(w)
  }
  expect_equal(sum(0:9 * chances(r$estimate)), 7, tolerance = 1e-6)
  expect_equal(sum(chances(r$low)[0:9 >= 7]), 0.025, tolerance = 1e-6)
  expect_equal(sum(chances(r$high)[0:9 <= 7]), 0.025, tolerance = 1e-6)
})

test_that("a zero cell gives no Wald figure and says so; the reference can be chosen", {
  n <- matrix(c(10, 20, 0, 30), 2, dimnames = dimnames(hand_2x2))
  r <- risks(crosstab(records_of(n), down, across))
  expect_true(is.infinite(figure(r, "odds_ratio")$estimate))
  expect_match(figure(r, "odds_ratio")$note, "empty")
  expect_equal(figure(r, "odds_ratio_exact")$estimate, Inf)
  expect_false(is.na(figure(r, "odds_ratio_exact")$low))
  survey <- demo_survey()
  chosen <- risks(crosstab(survey, leave, tenure), outcome = "No",
                  reference = "Mortgage")
  expect_identical(unique(chosen$reference), "Mortgage")
  expect_identical(unique(chosen$outcome), "No")
  expect_error(risks(crosstab(survey, leave, tenure), reference = "Morgage"),
               "Did you mean \"Mortgage\"", class = "fairlattice_error_answer")
  expect_match(paste(format(chosen), collapse = " "),
               "not corrected for their number")
})

test_that("a weighted log odds ratio has the variance of its numerical gradient", {
  x <- crosstab(demo_survey(), leave, tenure)
  r <- figure(risks(x), "log_odds_ratio")
  e <- x$layers[[1]]$estimate
  log_odds <- function(P) log(P[1, 1] * P[2, 5] / (P[1, 5] * P[2, 1]))
  expect_equal(r$se[1]^2,
               estimated(e,
                         sums_of(as.matrix(
                           as.vector(numeric_gradient(log_odds, e$P)))))$variance,
               tolerance = 1e-6)
})

test_that("under a design the interval of a difference leaves 0 exactly when its test rejects", {
  data <- messy_records(400, seed = 3)
  data$w <- data$w^3 # extreme weights
  x <- crosstab(respondents(data, weight = w, stratum = stratum,
                            cluster = cluster), down, across)
  for (alpha in c(0.01, 0.05, 0.2, 0.5)) {
    d <- differences(x, alpha = alpha, least_base = 0)
    expect_identical(d$p <= alpha, d$low > 0 | d$high < 0)
  }
  # at each end the constrained test is just significant
  n <- c(40, 60)
  ends <- score_interval(0.3, n[1], 0.5, n[2], qnorm(0.975))
  for (at in unlist(ends)) {
    like <- function(p) {
      -sum(n *
             (c(0.3, 0.5) * log(c(p, p - at)) +
                c(0.7, 0.5) * log(1 - c(p, p - at))))
    }
    p <- optimize(like, c(max(0, at) + 1e-9, min(1, 1 + at) - 1e-9),
                  tol = 1e-12)$minimum
    se <- sqrt(p * (1 - p) / n[1] + (p - at) * (1 - p + at) / n[2])
    # optimize finds p to half its digits
    expect_equal(abs(-0.2 - at) / se, qnorm(0.975), tolerance = 1e-6)
  }
})

test_that("only columns with somebody in them are named for their small bases", {
  data <- records_of(hand_2x3)
  data$across <- factor(data$across, c("p", "q", "r", "never"))
  left <-
    attr(differences(crosstab(data, down, across), least_base = 35), "left_out")
  expect_identical(left$answer, c("p", "q"))
})

test_that("the shares that risks are made of have the intervals of shares()", {
  x <- crosstab(demo_survey(), leave, internet)
  r <- risks(x, reference = "Good")
  s <- shares(x)
  one <-
    r[r$compared == "Poor" & r$figure == "share", c("estimate", "low", "high")]
  expect_equal(one,
               s[s$down == "Yes" & s$across == "Poor", c("share", "low", "high")],
               ignore_attr = TRUE)
})

test_that(paste("a column against the rest is the table of the two, and",
                "against the total the same test"), {
  data <- messy_records(600)
  for (survey in list(data[c("down", "across")],
                      respondents(
                        data, weight = w, stratum = stratum,
                        cluster = cluster))) {
    x <- crosstab(survey, down, across)
    rest <- differences(x, "rest")
    total <- differences(x, "total")
    for (column in LETTERS[1:4]) {
      own <- rest[rest$first == column, ]
      joined <- regroup(survey, across, Rest = setdiff(LETTERS[1:4], column))
      pair <- differences(crosstab(joined, down, across))
      turn <- ifelse(pair$first == column, 1, -1)
      expect_equal(own$difference, turn * pair$difference)
      expect_equal(own$p, pair$p)
      expect_equal(own$low, ifelse(turn > 0, pair$low, -pair$high))
    }
    expect_equal(total[c("z", "p", "p_corrected")],
                 rest[c("z", "p", "p_corrected")], ignore_attr = TRUE)
    # part and whole: (1 - share of the column) times the difference from the
    # rest
    w <- colSums(x$layers[[1]]$estimate$P)[total$first]
    expect_equal(total$difference, unname((1 - w) * rest$difference))
    expect_equal(total$second_share,
                 unname(rowSums(x$layers[[1]]$estimate$P)[total$within]))
    # its variance by a numerical gradient
    e <- x$layers[[1]]$estimate
    f <- function(p) {
      P <- matrix(p, nrow(e$P)) / sum(p)
      P[2, 3] / sum(P[, 3]) - sum(P[2, ])
    }
    p <- as.vector(e$P)
    gradient <- vapply(seq_along(p), function(k) {
      (f(replace(p, k, p[k] + 1e-6)) - f(replace(p, k, p[k] - 1e-6))) / 2e-6
    }, 0)
    se <- sqrt(estimated(e, sums_of(matrix(gradient)))$variance)
    row <- total[total$within == "b" & total$first == "C", ]
    expect_equal(row$high - row$difference, critical_t(0.05, design_df(e)) * se,
                 tolerance = 1e-5)
  }
  previous <- differences(x, "previous")
  each <- differences(x)
  expect_identical(unique(paste(previous$first, previous$second)),
                   c("B A", "C B", "D C"))
  expect_equal(previous$difference[1],
               -each$difference[each$first == "A" & each$second == "B"][1])
  named <- differences(x, "C")
  expect_identical(unique(named$second), "C")
  expect_setequal(named$first, c("A", "B", "D"))
  # the rest is too small
  lone <- crosstab(data.frame(
    a = c("x", "y"),
    b = rep(c("p", "q"), c(110, 10))), a, b)
  expect_identical(nrow(differences(lone, "rest")), 0L)
  expect_identical(nrow(differences(lone, "total")), 0L)
  expect_error(differences(x, "elsewhere"), "Answers: ",
               class = "fairlattice_error_against")
  rows <- differences(x, "rest", compare = "rows")
  expect_setequal(rows$first, letters[1:3])
})

test_that("the interval of a part against the whole covers in clustered surveys", {
  withr::local_seed(5)
  inside <- replicate(300, {
    cluster <- rep(1:40, each = 10)
    pull <- rnorm(40)[cluster]
    across <- sample(c("p", "q", "r"), 400, TRUE)
    down <- ifelse(pull + rnorm(400) + 0.5 * (across == "p") > 0, "yes", "no")
    x <- crosstab(respondents(data.frame(down, across, cluster),
                              cluster = cluster), down, across)
    d <- differences(x, "total")
    d <- d[d$within == "yes" & d$first == "p", ]
    truth <- pnorm(0.5 / sqrt(2)) - (pnorm(0.5 / sqrt(2)) + 2 * 0.5) / 3
    d$low <= truth && truth <= d$high
  })
  expect_gt(mean(inside), 0.95 - 3.5 * sqrt(0.95 * 0.05 / 300))
})

test_that("marks and letters of a layout are those of differences(), nets included", {
  survey <- net(demo_survey(), ferry, Happy = c("Satisfied", "Very satisfied"))
  x <- crosstab(survey, ferry, island)
  sheet <- lay_out(x, marks = "letters")[[1]]
  answers <- sheet$stub$role == "answer"
  expect_equal(as.vector(sheet$letters[answers, 1:5]),
               attr(differences(x), "letters")$letters)
  joined <- attr(differences(crosstab(regroup(
    survey, ferry,
    Happy = c("Satisfied", "Very satisfied"),
    other = "Others"), ferry, island)), "letters")
  expect_equal(sheet$letters[sheet$stub$role == "net", 1:5],
               joined$letters[joined$down == "Happy"])
  d <- differences(x, "rest")
  marked <- lay_out(x, against = "rest", show = c("column", "difference"))[[1]]
  expect_equal(marked$inside[[1]]$value[answers, 1:5],
               t(matrix(100 * d$difference, 5)))
  signs <- c(first = "higher", second = "lower")[d$exceeds]
  expect_equal(marked$mark[answers, 1:5],
               t(matrix(ifelse(is.na(signs), "", signs), 5)),
               ignore_attr = TRUE)
  # what is compared follows the percentages shown
  rows <- differences(x, "rest", compare = "rows")
  turned <- lay_out(x, against = "rest", show = c("row", "difference"))[[1]]
  expect_equal(turned$inside[[1]]$value[turned$stub$role == "answer", 1:5],
               matrix(100 * rows$difference, 5))
  banner <-
    lay_out(crosstab(survey, ferry, c(tenure, island)), marks = "letters")[[1]]
  expect_identical(banner$columns$label[6:7], c("Norrey (f)", "Sandholm (g)"))
  expect_identical(banner$letters[1, 7], "f")
})

test_that("two shares are shown to differ by less than a margin by two one-sided tests", {
  x <- crosstab(demo_survey(), season, tenure, margin = 0.1)
  found <- as.data.frame(differences(x))
  # at level alpha, just when the interval of 1 - 2 alpha lies within the margin
  narrow <- as.data.frame(differences(crosstab(demo_survey(), season, tenure),
                                      alpha = 0.1))
  expect_identical(found$p_equivalent <= 0.05,
                   narrow$low > -0.1 & narrow$high < 0.1)
  expect_null(as.data.frame(differences(crosstab(demo_survey(), season,
                                                 tenure)))$p_equivalent)
  # without a design, by hand: z at the most likely shares that differ by 0.1
  p_at <- function(at) {
    seen <- function(p) {
      dbinom(30, 100, p + at, log = TRUE) + dbinom(28, 120, p, log = TRUE)
    }
    p <- optimize(seen, c(max(0, -at) + 1e-9, min(1, 1 - at) - 1e-9),
                  maximum = TRUE, tol = 1e-12)$maximum
    (0.3 - 28 / 120 - at) / sqrt((p + at) * (1 - p - at) / 100 + p * (1 - p) / 120)
  }
  expect_equal(equivalence_p(0.3, 100, 28 / 120, 120, 1, Inf, 0.1),
               max(pnorm(-p_at(-0.1)), pnorm(p_at(0.1))), tolerance = 1e-5)
  # right at the margin it says so in at most 5 of 100 samples
  withr::local_seed(9)
  a <- rbinom(4000, 150, 0.5) / 150
  b <- rbinom(4000, 150, 0.35) / 150
  p <- equivalence_p(a, 150, b, 150, 1, rep(Inf, 4000), 0.15)
  expect_lt(abs(mean(p <= 0.05) - 0.05), 0.012)
  # the table says it of V, the paragraph too, and neither without a margin
  text <- paste(format(x), collapse = " ")
  expect_match(text, "smaller than the margin of V = 0.10")
  expect_match(write_up(x), "smaller than the margin of V = 0.10")
  wide <- paste(format(crosstab(demo_survey(), heating, island, margin = 0.1)),
                collapse = " ")
  expect_match(wide, "does not show that the association is\\s+smaller")
  expect_false(grepl("margin", paste(format(rechoose(crosstab(demo_survey(), season,
                                                              tenure))), collapse = "")))
  expect_error(crosstab(demo_survey(), season, tenure, margin = 10),
               class = "fairlattice_error_fraction")
})

test_that("pairs are told with the higher share first, and what is set against it", {
  x <- differences(crosstab(demo_survey(), ferry, island))
  lines <- format(x, width = 140)
  found <- as.data.frame(x)
  shown <- regmatches(lines, regexpr("[0-9.]+ / +[0-9.]+", lines))
  shares <- do.call(rbind, lapply(strsplit(shown, " */ *"), as.numeric))
  expect_gt(nrow(shares), 2L)
  expect_true(all(shares[, 1L] > shares[, 2L]))
  own <- found[found$exceeds != "", ]
  own <- own[order(-abs(own$z)), ]
  expect_equal(shares[, 1L], round(100 * pmax(own$first_share, own$second_share), 1L))
  expect_equal(shares[, 2L], round(100 * pmin(own$first_share, own$second_share), 1L))
})
