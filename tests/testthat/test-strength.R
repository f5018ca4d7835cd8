value <- function(strength, name, explains = "both") strength[strength$measure == name & strength$explains == explains, ]

test_that("V, phi and lambda are the hand-worked ones", {
  two <- strength(lattice(records_of(hand_2x2), down, across))
  expect_equal(value(two, "phi")$estimate, 800 / sqrt(30 * 70 * 40 * 60))
  expect_equal(value(two, "cramers_v")$estimate, 800 / sqrt(30 * 70 * 40 * 60))
  three <- strength(lattice(records_of(hand_2x3), down, across))
  expect_equal(value(three, "lambda", "across")$estimate, 0.36)
  expect_equal(value(three, "lambda", "down")$estimate, 1 / 6)
  expect_equal(value(three, "lambda", "both")$estimate, (24 + 18 + 26 + 24 + 26 - 50 - 40) / (50 + 60))
  expect_false("phi" %in% three$measure)
})

test_that("every gradient in the registry is the numerical one, up to a constant", {
  # on the simplex a constant added to a gradient changes nothing: the covariance of proportions sums to 0
  centred <- function(g) g - mean(g)
  for (key in names(measures)) for (size in list(c(2, 2), c(2, 4), c(3, 3), c(5, 4))) {
    m <- measures[[key]]
    if (m$only_2x2 && !all(size == 2)) next
    P <- some_proportions(size[1], size[2], seed = 4)
    on_simplex <- function(P) m$estimate(P / sum(P))
    expect_equal(centred(m$gradient(P)), centred(numeric_gradient(on_simplex, P)), tolerance = 1e-5, info = key)
    expect_gte(m$estimate(P), m$range[1])
    expect_lte(m$estimate(P), m$range[2])
  }
})

test_that("turning the table turns the direction, and only that", {
  data <- messy_records(300)
  panel <- respondents(data, weight = w, stratum = stratum, cluster = cluster)
  one <- strength(lattice(panel, down, across))
  two <- strength(lattice(panel, across, down))
  figures <- c("estimate", "se", "low", "high")
  expect_equal(value(one, "lambda", "across")[figures], value(two, "lambda", "down")[figures], ignore_attr = TRUE)
  for (name in c("cramers_v", "lambda")) expect_equal(value(one, name)[figures], value(two, name)[figures], ignore_attr = TRUE)
})

test_that("V's interval holds the noncentralities that the statistic does not reject", {
  v <- value(strength(lattice(records_of(hand_2x3), down, across)), "cramers_v")
  X2 <- pearson_statistic(hand_2x3 / 100, 100)
  expect_equal(pchisq(X2, 2, 100 * v$low^2, lower.tail = FALSE), 0.025, tolerance = 1e-5) # the root is found to 1e-9 of its range
  expect_equal(pchisq(X2, 2, 100 * v$high^2), 0.025, tolerance = 1e-5)
  none <- value(strength(lattice(records_of(matrix(10, 2, 3, dimnames = dimnames(hand_2x3))), down, across)), "cramers_v")
  expect_equal(c(none$estimate, none$low), c(0, 0))
  # either side of the switch to the central form
  expect_equal(noncentral_f_below(2600, 4, Inf, 10001), pchisq(10400, 4, 10001), tolerance = 1e-3)
  expect_equal(noncentral_f_below(2600, 4, 60, 10001), pf(2600, 4, 60, 10001), tolerance = 1e-3)
})

test_that("intervals of V and lambda cover in clustered surveys", {
  withr::local_seed(5)
  P <- rbind(c(0.20, 0.10, 0.05), c(0.05, 0.15, 0.10), c(0.05, 0.10, 0.20))
  truth <- c(sqrt(phi_squared(P) / 2), lambda(P))
  hit <- vapply(1:200, function(i) {
    cells <- matrix(rgamma(40 * 9, rep(12 * as.vector(P), each = 40)), 40)
    cell <- unlist(lapply(1:40, function(g) sample.int(9, 15, TRUE, cells[g, ])))
    data <- data.frame(down = (cell - 1) %% 3, across = (cell - 1) %/% 3, cluster = rep(1:40, each = 15), w = exp(0.4 * rnorm(600)))
    s <- strength(lattice(respondents(data, weight = w, cluster = cluster), down, across))
    rows <- rbind(value(s, "cramers_v"), value(s, "lambda", "across"))
    rows$low <= truth & truth <= rows$high
  }, c(NA, NA))
  expect_gt(min(rowMeans(hit)), 0.95 - 3 * sqrt(0.05 * 0.95 / 200)) # three simulation errors
})

test_that("an undefined figure has its cause beside it", {
  tied <- strength(lattice(records_of(matrix(c(10, 10, 5, 20), 2, dimnames = dimnames(hand_2x2))), down, across))
  expect_match(value(tied, "lambda", "across")$note, "tied")
  expect_true(is.na(value(tied, "lambda", "across")$se))
  flat <- strength(lattice(records_of(matrix(c(30, 10, 20, 10), 2, dimnames = dimnames(hand_2x2))), down, across))
  expect_equal(value(flat, "lambda", "across")$estimate, 0)
  expect_match(value(flat, "lambda", "across")$note, "standard error is 0")
  alone <- strength(lattice(data.frame(a = c("x", "x"), b = c("p", "q")), a, b))
  expect_true(all(is.na(alone$estimate)) && all(grepl("single answer", alone$note)))
})

test_that("the list of measures is made from the registry", {
  known <- measures_known()
  expect_equal(nrow(known), length(measures))
  expect_true(all(nzchar(known$source)) && all(nzchar(known$formula)))
})
