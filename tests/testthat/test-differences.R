# Columns against columns: differences, letters, risks, odds.

test_that("a pair of columns is the two-proportion test, with Newcombe's interval", {
  d <- differences(lattice(records_of(hand_2x2), down, across))
  # x: 20 of 30 against 20 of 70... columns p (40) and q (60): 20/40 against 10/60... worked from the counts
  n <- colSums(hand_2x2)
  q <- hand_2x2[1, ] / n
  pooled <- sum(hand_2x2[1, ]) / 100
  expect_equal(d$difference[d$within == "x"], q[[1]] - q[[2]])
  expect_equal(d$z[d$within == "x"], (q[[1]] - q[[2]]) / sqrt(pooled * (1 - pooled) * sum(1 / n)))
  expect_equal(d$z[1]^2, 12.69841, tolerance = 1e-6) # in a 2x2 it is the chi-square
  expect_identical(d$exceeds, c("first", "second"))
  # Newcombe RG (1998) Statist Med 17:873-890, table II, case (a), method 10: 56/70 - 48/80 is 0.2, 0.0524 to 0.3339
  published <- newcombe_interval(56 / 70, 70, 48 / 80, 80, 0.05)
  expect_equal(unlist(published), c(low = 0.0524, high = 0.3339), tolerance = 5e-4) # printed to 4 decimals
})

test_that("letters name the columns that a figure exceeds, and small bases are left out and named", {
  n <- matrix(c(80, 20, 50, 50, 20, 80, 3, 2), 2, dimnames = list(c("yes", "no"), c("north", "mid", "south", "rock")))
  d <- differences(lattice(records_of(n), down, across))
  cells <- attr(d, "letters")
  expect_identical(cells$letters, c("b c", "", "c", "a", "", "a b", "", ""))
  expect_identical(attr(d, "left_out")$answer, "rock")
  expect_equal(attr(d, "left_out")$base, 5)
  expect_false("rock" %in% c(d$first, d$second))
  expect_true("rock" %in% differences(lattice(records_of(n), down, across), least_base = 0)$second)
  expect_equal(d$p_corrected[1:3], p.adjust(d$p[1:3], "holm"))
  text <- letters_text(lattice(records_of(n), down, across), 100)
  expect_true(any(grepl("80.0 b c", text)) && any(grepl("rock \\(5\\)", text)))
  turned <- differences(lattice(records_of(n), across, down, explains = "down"))
  expect_equal(turned$difference, d$difference)
})

test_that("under a design z is divided by the root of the difference's design effect", {
  data <- transform(records_of(hand_2x3), w = 2)
  plain <- differences(lattice(data[1:2], down, across))
  weighted <- differences(lattice(respondents(data, weight = w), down, across))
  expect_equal(weighted$z, plain$z * sqrt(99 / 100))
  twice <- rbind(transform(data, id = 1:100), transform(data, id = 1:100)) # everybody twice: clusters of two alike
  clustered <- differences(lattice(respondents(twice, cluster = id), down, across))
  expect_equal(clustered$z, weighted$z, tolerance = 1e-8)
  expect_error(differences(lattice(ticks(demo_records(), r = c(reason_work, reason_housing)), r, island)),
               class = "fairlattice_error_ticks")
})

figure <- function(r, name) r[r$figure == name, ]

test_that("risks are the hand-worked ones", {
  r <- risks(lattice(records_of(hand_2x2), down, across)) # x: 20 of 40 against 10 of 60
  expect_equal(figure(r, "difference")$estimate, 1 / 2 - 1 / 6)
  expect_equal(figure(r, "needed")$estimate, 3)
  expect_equal(figure(r, "relative_risk")$estimate, 3)
  expect_equal(figure(r, "relative_risk")$high, exp(log(3) + qnorm(0.975) * sqrt(1 / 20 - 1 / 40 + 1 / 10 - 1 / 60)))
  expect_equal(figure(r, "odds_ratio")$estimate, 5)
  expect_equal(figure(r, "odds_ratio")$low, exp(log(5) - qnorm(0.975) * sqrt(1 / 20 + 1 / 20 + 1 / 10 + 1 / 50)))
  expect_equal(figure(r, "log_odds_ratio")$estimate, log(5))
  expect_equal(figure(r, "p")$estimate, 2 * figure(r, "p_more")$estimate)
  expect_equal(figure(r, "p_more")$estimate + figure(r, "p_fewer")$estimate, 1)
})

test_that("the exact odds ratio gives its tails what they should have", {
  n <- matrix(c(7, 3, 2, 8), 2, dimnames = dimnames(hand_2x2))
  r <- figure(risks(lattice(records_of(n), down, across)), "odds_ratio_exact")
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
  r <- risks(lattice(records_of(n), down, across))
  expect_true(is.infinite(figure(r, "odds_ratio")$estimate))
  expect_match(figure(r, "odds_ratio")$note, "empty")
  expect_equal(figure(r, "odds_ratio_exact")$estimate, Inf)
  expect_false(is.na(figure(r, "odds_ratio_exact")$low))
  panel <- demo_panel()
  chosen <- risks(lattice(panel, leave, tenure), outcome = "No", reference = "Mortgage")
  expect_identical(unique(chosen$reference), "Mortgage")
  expect_identical(unique(chosen$outcome), "No")
  expect_error(risks(lattice(panel, leave, tenure), reference = "Morgage"), "Did you mean \"Mortgage\"",
               class = "fairlattice_error_answer")
  expect_match(paste(format(chosen), collapse = " "), "not corrected for their number")
})

test_that("a weighted log odds ratio has the variance of its numerical gradient", {
  x <- lattice(demo_panel(), leave, tenure)
  r <- figure(risks(x), "log_odds_ratio")
  e <- x$layers[[1]]$estimate
  log_odds <- function(P) log(P[1, 1] * P[2, 5] / (P[1, 5] * P[2, 1]))
  expect_equal(r$se[1]^2, variance_of(e, as.vector(numeric_gradient(log_odds, e$P))), tolerance = 1e-6)
})

test_that("under a design the interval of a difference leaves 0 exactly when its test rejects", {
  data <- messy_records(400, seed = 3)
  data$w <- data$w^3 # extreme weights
  x <- lattice(respondents(data, weight = w, stratum = stratum, cluster = cluster), down, across)
  for (alpha in c(0.01, 0.05, 0.2, 0.5)) {
    d <- differences(x, alpha = alpha, least_base = 0)
    expect_identical(d$p <= alpha, d$low > 0 | d$high < 0)
  }
  # at each end the constrained test is just significant
  n <- c(40, 60)
  ends <- score_interval(0.3, n[1], 0.5, n[2], qnorm(0.975))
  for (at in unlist(ends)) {
    like <- function(p) -sum(n * (c(0.3, 0.5) * log(c(p, p - at)) + c(0.7, 0.5) * log(1 - c(p, p - at))))
    p <- optimize(like, c(max(0, at) + 1e-9, min(1, 1 + at) - 1e-9), tol = 1e-12)$minimum
    se <- sqrt(p * (1 - p) / n[1] + (p - at) * (1 - p + at) / n[2])
    expect_equal(abs(-0.2 - at) / se, qnorm(0.975), tolerance = 1e-6) # optimize finds p to half its digits
  }
})

test_that("only columns with somebody in them are named for their small bases", {
  data <- records_of(hand_2x3)
  data$across <- factor(data$across, c("p", "q", "r", "never"))
  left <- attr(differences(lattice(data, down, across), least_base = 35), "left_out")
  expect_identical(left$answer, c("p", "q"))
})

test_that("the shares that risks are made of have the intervals of shares()", {
  x <- lattice(demo_panel(), leave, internet)
  r <- risks(x, reference = "Good")
  s <- shares(x)
  one <- r[r$compared == "Poor" & r$figure == "share", c("estimate", "low", "high")]
  expect_equal(one, s[s$down == "Yes" & s$across == "Poor", c("share", "low", "high")], ignore_attr = TRUE)
})
