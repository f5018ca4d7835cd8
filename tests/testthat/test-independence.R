pick <- function(tests, name) tests[tests$test == name, ]

test_that("Pearson and likelihood ratio are the hand-worked ones", {
  tests <- test_independence(lattice(records_of(hand_2x2), down, across))
  expect_equal(pick(tests, "pearson")$statistic, 64 / 12 + 64 / 18 + 64 / 28 + 64 / 42)
  G2 <- 2 * (20 * log(20 / 12) + 10 * log(10 / 18) + 20 * log(20 / 28) + 50 * log(50 / 42))
  expect_equal(pick(tests, "likelihood_ratio")$statistic, G2)
  # chi-square on 1 degree of freedom is a squared normal
  expect_equal(pick(tests, "pearson")$p, 2 * pnorm(-sqrt(12.69841)), tolerance = 1e-5) # the hand-worked statistic has 7 digits
  expect_equal(tests$test[tests$headline], "pearson")
})

test_that("zero cells add 0 to G2, and tails are not 1 - p", {
  tests <- test_independence(lattice(records_of(hand_2x2 * c(100, 0, 0, 100)), down, across))
  expect_equal(tests$statistic, c(7000, 2 * (2000 * log(7000 / 2000) + 5000 * log(7000 / 5000))))
  big <- pick(test_independence(lattice(records_of(hand_2x2 * 50), down, across)), "pearson")$p
  expect_gt(big, 0)
  expect_lt(big, 1e-100)
})

test_that("Rao-Scott uses the eigenvalues of inv(H V0 H') H V H'", {
  data <- messy_records(500)
  x <- lattice(respondents(data, weight = w, stratum = stratum, cluster = cluster), down, across)
  e <- x$layers[[1]]$estimate
  d <- function(P) as.vector((P - outer(rowSums(P), colSums(P)))[1:2, 1:3])
  H <- t(vapply(1:6, function(k) as.vector(numeric_gradient(function(P) d(P)[k], e$P)), numeric(12)))
  p <- as.vector(e$P)
  V0 <- (diag(p) - p %*% t(p)) / e$n
  delta <- Re(eigen(solve(H %*% V0 %*% t(H)) %*% H %*% covariance_of(e, diag(12)) %*% t(H))$values)
  X2 <- e$n * sum((e$P - outer(rowSums(e$P), colSums(e$P)))^2 / outer(rowSums(e$P), colSums(e$P)))
  tests <- test_independence(x)
  second <- pick(tests, "rao_scott_second")
  expect_equal(second$statistic, X2 / sum(delta), tolerance = 1e-6) # H is numerical
  expect_equal(second$df, sum(delta)^2 / sum(delta^2), tolerance = 1e-6)
  expect_equal(second$df_error, second$df * e$df)
  expect_equal(second$p, pf(second$statistic, second$df, second$df_error, lower.tail = FALSE))
  expect_equal(pick(tests, "rao_scott_first")$statistic, X2 / mean(delta), tolerance = 1e-6)
  expect_true(second$headline)
  expect_match(pick(tests, "pearson")$note, "reference only")
})

test_that("what must not matter does not matter", {
  data <- messy_records(400)
  of <- function(data, ...) {
    x <- lattice(respondents(data, weight = w, stratum = stratum, cluster = cluster), down, across, ...)
    list(test_independence(x)[c("test", "statistic", "df", "df_error", "p")], strength(x)[c("measure", "estimate", "se", "low", "high")])
  }
  base <- of(data)
  scaled <- transform(data, w = w * 12345)
  shuffled <- data[rev(seq_len(400)), ]
  relabelled <- transform(data, down = factor(down, c("c", "a", "b")), across = factor(across, rev(levels(across))))
  expect_equal(of(scaled), base)
  expect_equal(of(shuffled), base)
  expect_equal(of(relabelled), base)
})

test_that("with equal weights and no design Rao-Scott is Pearson to the factor n/(n-1)", {
  data <- records_of(hand_2x3)
  data$w <- 1
  weighted <- test_independence(lattice(respondents(data, weight = w), down, across))
  plain <- test_independence(lattice(data, down, across))
  expect_equal(pick(weighted, "rao_scott_first")$statistic, pick(plain, "pearson")$statistic * 99 / 100)
  expect_equal(pick(weighted, "rao_scott_second")$df, 2)
})

test_that("a table that cannot be tested says why", {
  one <- test_independence(lattice(data.frame(a = c("x", "x"), b = c("p", "q")), a, b))
  expect_true(is.na(one$p))
  expect_match(one$note, "single answer")
  lonely <- data.frame(a = c("x", "y", "x", "y"), b = c("p", "q", "q", "p"), cluster = 1)
  expect_match(test_independence(lattice(respondents(lonely, cluster = cluster), a, b))$note[1], "no degrees of freedom")
  perfect <- data.frame(a = rep(c("x", "y"), 20), b = rep(c("p", "q"), 20), w = 1)
  expect_match(test_independence(lattice(respondents(perfect, weight = w), a, b))$note[1], "no variance")
})

test_that("in clustered, weighted surveys with no association the headline holds its level and the plain test does not", {
  withr::local_seed(20)
  p <- vapply(1:300, function(i) {
    cluster <- rep(1:30, each = 12)
    at <- function(sd) findInterval(rnorm(30, sd = sd)[cluster] + rnorm(360), c(-0.8, 0.9))
    data <- data.frame(down = at(1.5), across = at(1.5), cluster, stratum = cluster %% 3, w = exp(0.4 * rnorm(360)))
    tests <- test_independence(lattice(respondents(data, weight = w, stratum = stratum, cluster = cluster), down, across))
    c(tests$p[tests$headline], tests$p[tests$test == "pearson"])
  }, c(0, 0))
  rejected <- rowMeans(p < 0.05)
  expect_lt(rejected[1], 0.05 + 3 * sqrt(0.05 * 0.95 / 300)) # three simulation errors
  expect_gt(rejected[1], 0.01)
  expect_gt(rejected[2], 0.3)
})
