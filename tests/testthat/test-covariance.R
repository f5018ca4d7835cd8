# The covariance against its definition, and what it must agree with.

estimate_of <- function(x) x$layers[[1]]$estimate

test_that("linearised covariance is the definition's, with missing answers, zero weights and empty clusters", {
  data <- messy_records(300)
  data$down[data$cluster %in% c(2, 5)] <- NA # clusters with nobody in the table
  clustered <- estimate_of(lattice(respondents(data, weight = w, stratum = stratum, cluster = cluster), down, across))
  expect_equal(clustered$V, covariance_twin(data, data$w, data$stratum, data$cluster))
  expect_equal(clustered$df, length(unique(data$cluster)) - 2 - 3)
  alone <- estimate_of(lattice(respondents(data, weight = w, stratum = stratum), down, across))
  expect_equal(alone$V, covariance_twin(data, data$w, data$stratum, seq_len(300)))
})

test_that("with equal weights and no design it is n/(n-1) times the multinomial one", {
  data <- records_of(hand_2x3)
  data$w <- 7
  weighted <- estimate_of(lattice(respondents(data, weight = w), down, across))
  plain <- estimate_of(lattice(data, down, across))
  expect_equal(weighted$V, plain$V * 100 / 99)
  expect_equal(weighted$df, 99)
  p <- as.vector(hand_2x3) / 100
  expect_equal(plain$V, (diag(p) - p %*% t(p)) / 100)
})

test_that("keeping a part of the sample leaves the design as it was", {
  data <- messy_records(300)
  panel <- respondents(data, weight = w, stratum = stratum, cluster = cluster)
  part <- among(panel, each == "one")
  outside <- data
  outside$down[!outside$each %in% "one"] <- NA
  expect_equal(estimate_of(lattice(part, down, across))$V, covariance_twin(outside, data$w, data$stratum, data$cluster))
})

test_that("a lonely cluster is centred at 0 and adds its own square", {
  data <- messy_records(200)
  data$stratum[data$cluster == 1] <- "alone"
  x <- lattice(respondents(data, weight = w, stratum = stratum, cluster = cluster), down, across)
  expect_equal(estimate_of(x)$V, covariance_twin(data, data$w, data$stratum, data$cluster))
  expect_true("lonely_stratum" %in% cautions(x)$code)
})

test_that("a cluster's name counts within its stratum", {
  data <- messy_records(200)
  renamed <- transform(data, cluster = match(cluster, unique(cluster[stratum == stratum[1]])))
  data$nested <- ave(data$cluster, data$stratum, FUN = function(x) match(x, sort(unique(x))))
  of <- function(panel) estimate_of(lattice(panel, down, across))$V
  apart <- respondents(data, weight = w, stratum = stratum, cluster = cluster)
  nested <- respondents(data, weight = w, stratum = stratum, cluster = nested)
  expect_equal(of(nested), of(apart))
  expect_true("nested_clusters" %in% cautions(lattice(nested, down, across))$code)
})

test_that("the covariance of departures is J V J' with a numerical Jacobian", {
  P <- some_proportions(3, 4)
  V <- crossprod(matrix(withr::with_seed(2, rnorm(144)), 12))
  J <- t(vapply(seq_len(12), function(cell) {
    as.vector(numeric_gradient(function(P) (P - outer(rowSums(P), colSums(P)))[cell], P))
  }, numeric(12)))
  expect_equal(departure_covariance(P, V), J %*% V %*% t(J), tolerance = 1e-6) # central differences are right to 1e-8
})
