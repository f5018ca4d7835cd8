pick <- function(tests, name) tests[tests$test == name, ]

test_that("Pearson and likelihood ratio are the hand-worked ones", {
  tests <- tests(crosstab(records_of(hand_2x2), down, across))
  expect_equal(pick(tests, "pearson")$statistic,
               64 / 12 + 64 / 18 + 64 / 28 + 64 / 42)
  G2 <- 2 *
        (20 * log(20 / 12) + 10 * log(10 / 18) + 20 * log(20 / 28) +
           50 * log(50 / 42))
  expect_equal(pick(tests, "likelihood_ratio")$statistic, G2)
  # chi-square on 1 degree of freedom is a squared normal
  # the hand-worked statistic has 7 digits
  expect_equal(pick(tests, "pearson")$p, 2 * pnorm(-sqrt(12.69841)),
               tolerance = 1e-5)
  expect_equal(tests$test[tests$headline], "pearson")
})

test_that("zero cells add 0 to G2, and tails are not 1 - p", {
  tests <-
    tests(crosstab(records_of(hand_2x2 * c(100, 0, 0, 100)), down, across))
  expect_equal(tests$statistic[1:2],
               c(7000, 2 * (2000 * log(7000 / 2000) + 5000 * log(7000 / 5000))))
  big <-
    pick(tests(crosstab(records_of(hand_2x2 * 50), down, across)), "pearson")$p
  expect_gt(big, 0)
  expect_lt(big, 1e-100)
})

test_that("Rao-Scott uses the eigenvalues of inv(H V0 H') H V H'", {
  data <- messy_records(500)
  x <- crosstab(respondents(data, weight = w, stratum = stratum,
                            cluster = cluster), down, across)
  e <- x$layers[[1]]$estimate
  d <- function(P) as.vector((P - outer(rowSums(P), colSums(P)))[1:2, 1:3])
  H <- t(vapply(1:6, function(k) {
    as.vector(numeric_gradient(function(P) d(P)[k], e$P))
  }, numeric(12)))
  p <- as.vector(e$P)
  V0 <- (diag(p) - p %*% t(p)) / e$n
  df <- design_df(e)
  V <- estimated_together(e, cells_of)$covariance
  delta <- Re(eigen(solve(H %*% V0 %*% t(H)) %*% H %*% V %*% t(H))$values)
  X2 <- e$n *
        sum((e$P - outer(rowSums(e$P), colSums(e$P)))^2 /
              outer(rowSums(e$P), colSums(e$P)))
  tests <- tests(x)
  second <- pick(tests, "rao_scott_second")
  expect_equal(second$statistic, X2 / sum(delta), tolerance = 1e-6) # H is numerical
  expect_equal(second$df, sum(delta)^2 / sum(delta^2), tolerance = 1e-6)
  expect_equal(second$df_error, second$df * df)
  expect_equal(second$p,
               pf(second$statistic, second$df, second$df_error,
                  lower.tail = FALSE))
  expect_equal(pick(tests, "rao_scott_first")$statistic, X2 / mean(delta),
               tolerance = 1e-6)
  corrected <- pick(tests, "rao_scott_corrected")
  s2 <- df^2 / ((df - 1) * (df + 2)) * (sum(delta^2) - sum(delta)^2 / df)
  expect_equal(corrected$df, min(6, sum(delta)^2 / s2), tolerance = 1e-6)
  expect_equal(corrected$df_error, second$df_error)
  expect_equal(corrected$p,
               pf(corrected$statistic, corrected$df, corrected$df_error,
                  lower.tail = FALSE))
  expect_true(corrected$headline)
  expect_match(pick(tests, "pearson")$note, "reference only")
})

test_that("what must not matter does not matter", {
  data <- messy_records(400)
  of <- function(data, ...) {
    x <- crosstab(respondents(data, weight = w, stratum = stratum,
                              cluster = cluster), down, across, ...)
    list(tests(x)[c("test", "statistic", "df", "df_error", "p")],
         strength(x)[c("measure", "estimate", "se", "low", "high")])
  }
  base <- of(data)
  scaled <- transform(data, w = w * 12345)
  shuffled <- data[rev(seq_len(400)), ]
  relabelled <- transform(data, down = factor(down, c("c", "a", "b")),
                          across = factor(across, rev(levels(across))))
  expect_equal(of(scaled), base)
  expect_equal(of(shuffled), base)
  expect_equal(of(relabelled), base)
})

test_that("with equal weights and no design Rao-Scott is Pearson to the factor n/(n-1)", {
  data <- records_of(hand_2x3)
  data$w <- 1
  weighted <- tests(crosstab(respondents(data, weight = w), down, across))
  plain <- tests(crosstab(data, down, across))
  expect_equal(pick(weighted, "rao_scott_first")$statistic,
               pick(plain, "pearson")$statistic * 99 / 100)
  expect_equal(pick(weighted, "rao_scott_second")$df, 2)
})

test_that("a table that cannot be tested says why", {
  one <- tests(crosstab(data.frame(a = c("x", "x"), b = c("p", "q")), a, b))
  expect_true(is.na(one$p))
  expect_match(one$note, "only one answer")
  single_cluster <- data.frame(a = c("x", "y", "x", "y"),
                               b = c("p", "q", "q", "p"), cluster = 1)
  expect_match(tests(crosstab(respondents(single_cluster, cluster = cluster), a,
                              b))$note[1], "no degrees of freedom")
  perfect <-
    data.frame(a = rep(c("x", "y"), 20), b = rep(c("p", "q"), 20), w = 1)
  expect_match(tests(crosstab(respondents(perfect, weight = w), a, b))$note[1],
               "no variance")
})

# All tables with these margins, column by column: the probability of those no
# more probable than the observed one.
brute_exact <- function(n) {
  S <- function(x) sum(lgamma(x + 1))
  columns <- colSums(n)
  log_all <-
    sum(lgamma(rowSums(n) + 1)) + sum(lgamma(columns + 1)) - lgamma(sum(n) + 1)
  p <- 0
  fill <- function(j, rest, s) {
    if (j == length(columns)) {
      s <- s + S(rest)
      if (s >= S(n) - 1e-7) p <<- p + exp(log_all - s)
      return()
    }
    ways <-
      as.matrix(expand.grid(lapply(rest, function(u) 0:min(u, columns[j]))))
    for (k in which(rowSums(ways) == columns[j])) fill(
      j + 1, rest - ways[k, ], s + S(ways[k, ]))
  }
  fill(1, rowSums(n), 0)
  p
}
kernel_exact <- function(n, ...) {
  exact_kernel(as.integer(rowSums(n)), as.integer(colSums(n)),
               log_factorials_of(n), 1e8, 1e9, 2L, NULL)
}

test_that("the exact test is the brute-force one, any shape", {
  withr::local_seed(4)
  shapes <-
    list(c(2, 2), c(2, 3), c(3, 2), c(3, 3), c(2, 6), c(4, 3), c(4, 4), c(5, 3))
  for (shape in rep(shapes, 2)) {
    n <- matrix(rpois(prod(shape), 1.2), shape[1])
    n[1, ] <- n[1, ] + (colSums(n) == 0)
    n[, 1] <- n[, 1] + (rowSums(n) == 0)
    expect_equal(kernel_exact(n)$p, brute_exact(n), tolerance = 1e-10,
                 info = paste(shape, collapse = "x"))
    # order and side do not matter
    expect_equal(kernel_exact(n)$p,
                 kernel_exact(t(n)[sample(ncol(n)), , drop = FALSE])$p,
                 tolerance = 1e-12)
  }
  # equal rows, ties, and everything in one cell but one
  expect_equal(kernel_exact(matrix(2, 3, 3))$p, 1)
  expect_equal(kernel_exact(diag(5))$p, brute_exact(diag(5)))
})

test_that("the lady and the tea: 3 of 4 cups told right", {
  # Fisher RA (1935) The Design of Experiments, ch. 2: of 70 ways, 1 + 16 are as
  # good or better
  x <- crosstab(records_of(matrix(c(3, 1, 1, 3), 2,
                                  dimnames = dimnames(hand_2x2))), down, across)
  tests <- tests(x)
  expect_equal(pick(tests, "exact")$p, 34 / 70)
  expect_equal(pick(tests, "exact_more")$p, 17 / 70)
  expect_equal(pick(tests, "exact_fewer")$p, 69 / 70)
  expect_identical(tests$test[tests$headline], "exact")
  expect_match(tests$why[tests$headline], "too small for chi-square")
  expect_identical(subset(tests(x, p = "asymptotic"), headline)$test, "pearson")
})

test_that("beyond its budget the exact test turns to random tables, and says so", {
  n <- matrix(withr::with_seed(1, rpois(25, 3)), 5,
              dimnames = list(1:5, letters[1:5]))
  x <- crosstab(records_of(n), down, across)
  exact <- pick(tests(x, p = "exact"), "exact")
  withr::local_options(fairlattice.exact_steps = 20) # 15 times as many when it is asked for
  expect_identical(pick(tests(x, p = "exact"), "exact")$p, exact$p) # what was found stays found
  x <- crosstab(records_of(n), down, across)
  turned <- pick(tests(x, p = "exact"), "monte_carlo")
  expect_match(turned$note, "100,000 random tables")
  expect_lt(abs(turned$p - exact$p), 4 * turned$p_se)
  expect_equal(turned$p_se, sqrt(turned$p * (1 - turned$p) / 1e5))
  simulated <- function(seed) {
    pick(tests(x, p = "simulated", draws = 5000, seed = seed), "monte_carlo")$p
  }
  expect_identical(simulated(3), simulated(3))
  expect_false(simulated(3) == simulated(4))
  one_thread <-
    withr::with_options(list(fairlattice.threads = 1L), simulated(3))
  expect_identical(one_thread, simulated(3))
})

test_that("random tables have their margins, and the probabilities of the definition", {
  rows <- c(3L, 2L, 2L)
  columns <- c(4L, 3L)
  tables <- vapply(1:20000, function(k) {
    random_table_kernel(rows, columns, 7, k)
  }, integer(6))
  expect_true(all(tables[1, ] + tables[2, ] == 3 &
                    tables[1, ] + tables[3, ] + tables[5, ] == 4))
  probability <- apply(unique(t(tables)), 1, function(n) {
    exp(sum(lgamma(c(rows, columns) + 1)) - lgamma(8) - sum(lgamma(n + 1)))
  })
  seen <-
    apply(unique(t(tables)), 1, function(n) mean(colSums(tables == n) == 6))
  expect_equal(sum(probability), 1)
  expect_true(all(abs(seen - probability) < 4.5 * sqrt(probability / 20000)))
})

test_that(paste("an exact test of weighted records is refused with the",
                "reason, and the headline stays"), {
  data <- transform(records_of(hand_2x2), w = 1.5)
  tests <-
    tests(crosstab(respondents(data, weight = w), down, across), p = "exact")
  expect_match(pick(tests, "exact")$note, "not available with weights")
  expect_true(is.na(pick(tests, "exact")$p))
  expect_identical(tests$test[tests$headline], "rao_scott_corrected")
})

test_that("continuity correction and linear trend are the hand-worked ones", {
  tests <- tests(crosstab(records_of(hand_2x2), down, across), tests = "all")
  expect_equal(pick(tests, "continuity_corrected")$statistic,
               7.5^2 * (1 / 12 + 1 / 18 + 1 / 28 + 1 / 42))
  data <- records_of(hand_2x3)
  r <- cor(as.integer(data$down), as.integer(data$across))
  trend <- function(...) {
    tests(crosstab(data, down, across), tests = "linear_trend", ...)$statistic
  }
  expect_equal(trend(), 99 * r^2)
  expect_equal(trend(scores = "midranks"),
               99 * cor(rank(data$down), rank(data$across))^2)
  scores <- list(down = c(0, 1), across = c(1, 5, 6))
  expect_equal(trend(scores = scores),
               99 * cor(as.integer(data$down), c(1, 5, 6)[data$across])^2)
  expect_error(trend(scores = list(down = 1:2)), "a number for every answer",
               class = "fairlattice_error_scores")
  data[] <- lapply(data, as.ordered)
  expect_true("linear_trend" %in% tests(crosstab(data, down, across))$test)
  expect_true(any(grepl("inear trend: M.\\(1",
                        format(crosstab(data, down, across)))))
  data$w <- 2
  weighted <-
    tests(crosstab(respondents(data, weight = w), down, across), "linear_trend")
  expect_equal(weighted$statistic, 99 * r^2 * 99 / 100)
  # one cluster a stratum: a variance, but no degrees of freedom
  data$cluster <- seq_len(nrow(data)) %% 5
  survey <- respondents(data, weight = w, stratum = cluster, cluster = cluster,
                        single_cluster = "centre")
  alone <-
    pick(tests(crosstab(survey, down, across), "linear_trend"), "linear_trend")
  expect_identical(c(alone$statistic, alone$p), c(NA_real_, NA_real_))
})

test_that("symmetry is the hand-worked one, weighted or not", {
  # Bowker: (12-4)^2/16 + (7-3)^2/10 + (9-5)^2/14
  n <- matrix(c(30, 4, 3, 12, 25, 5, 7, 9, 20), 3,
              dimnames = list(letters[1:3], letters[1:3]))
  data <- records_of(n)
  tests <- tests(crosstab(data, down, across, paired = TRUE))
  headline <- tests[tests$headline, ]
  expect_equal(headline$statistic, 64 / 16 + 16 / 10 + 16 / 14)
  expect_identical(headline[c("test", "df")],
                   data.frame(test = "symmetry", df = 3), ignore_attr = TRUE)
  data$w <- 5
  weighted <- subset(tests(crosstab(respondents(data, weight = w), down, across,
                                    paired = TRUE)), headline)
  # with equal weights the trace is n/(n-1) (3 - sum (p_ij - p_ji)^2/(p_ij +
  # p_ji))
  expect_equal(weighted$statistic,
               headline$statistic /
                 (115 / 114 * (3 - headline$statistic / 115)))
  few <-
    matrix(c(10, 1, 8, 6), 2, dimnames = list(c("no", "yes"), c("no", "yes")))
  exact <- subset(tests(crosstab(records_of(few), down, across, paired = TRUE)),
                  headline)
  expect_equal(exact$p, 2 * sum(choose(9, 0:1)) / 2^9)
  expect_error(crosstab(demo_survey(), ferry, island, paired = TRUE),
               "same answers", class = "fairlattice_error_paired")
})

test_that(paste("in clustered, weighted surveys with no association the",
                "headline holds its level and the plain test does not"), {
  withr::local_seed(20)
  p <- vapply(1:300, function(i) {
    cluster <- rep(1:30, each = 12)
    at <- function(sd) {
      findInterval(rnorm(30, sd = sd)[cluster] + rnorm(360), c(-0.8, 0.9))
    }
    data <- data.frame(down = at(1.5), across = at(1.5), cluster,
                       stratum = cluster %% 3, w = exp(0.4 * rnorm(360)))
    tests <- tests(crosstab(
      respondents(data, weight = w, stratum = stratum, cluster = cluster), down,
      across))
    c(tests$p[tests$headline], tests$p[tests$test == "pearson"])
  }, c(0, 0))
  rejected <- rowMeans(p < 0.05)
  # three simulation errors
  expect_lt(rejected[1], 0.05 + 3 * sqrt(0.05 * 0.95 / 300))
  expect_gt(rejected[1], 0.01)
  expect_gt(rejected[2], 0.3)
})

test_that(paste("the sum of squares of the design effects is freed of the",
                "bias that few clusters give it"), {
  withr::local_seed(9)
  D <- diag(c(3, 2, 1, 1, 0.5))
  df <- 8
  found <- replicate(4000, {
    W <- crossprod(matrix(rnorm(df * 5), df) %*% sqrt(D)) / df
    c(sum(W^2), unbiased_squares(sum(diag(W)), sum(W^2), df))
  })
  # four simulation errors
  expect_equal(mean(found[2, ]), sum(D^2), tolerance = 0.05)
  expect_gt(mean(found[1, ]), 1.3 * sum(D^2))
})

test_that("both one-sided forms of the exact test are sums over the tables with these margins", {
  n <- matrix(c(7, 2, 3, 9), 2, dimnames = dimnames(hand_2x2))
  tests <- tests(crosstab(records_of(n), down, across), "all")
  # columns 9 and 12, first row 10
  chance <- function(a) choose(9, a) * choose(12, 10 - a) / choose(21, 10)
  expect_equal(pick(tests, "exact_more")$p, sum(chance(7:9)))
  expect_equal(pick(tests, "exact_fewer")$p, sum(chance(0:7)))
})

test_that("without degrees of freedom there is no trend, with one there is", {
  data <- transform(messy_records(300), down = as.ordered(down),
                    across = as.ordered(across))
  trend <- function(clusters) {
    survey <- respondents(transform(data, g = cluster %% clusters), weight = w,
                          cluster = g)
    pick(tests(crosstab(survey, down, across)), "linear_trend")
  }
  expect_true(is.na(trend(1)$p))
  expect_match(trend(1)$note, "no variance or no degrees of freedom")
  expect_equal(trend(2)$df_error, 1)
})

test_that("all tests are there when all are asked for", {
  x <- crosstab(records_of(hand_2x3), down, across)
  all <-
    c("pearson", "likelihood_ratio", "exact", "monte_carlo", "linear_trend")
  expect_identical(tests(x)$test, all[1:2])
  expect_setequal(tests(x, "all")$test, all)
  expect_setequal(tests(crosstab(records_of(hand_2x2), down, across),
                        "all")$test,
                  c(all, "continuity_corrected", "exact_more", "exact_fewer"))
})

test_that("where counts are just as given, nothing adds to the statistic", {
  data <- data.frame(q = rep(c("a", "b", "c"), c(20, 20, 0)))
  data$q <- factor(data$q, c("a", "b", "c"))
  found <- as.data.frame(test_shares(data, q, c(a = 50, b = 50, c = 1e-9))$answers)
  expect_true(all(is.finite(found$contribution[1:2])))
  even <- as.data.frame(residuals(crosstab(data, q, shares = c(a = 50, b = 50, c = 0))))
  expect_false(any(is.nan(even$share_of_statistic)))
})

test_that("an expected count of exactly 5 is not too small, one below is, by every rule", {
  at <- matrix(5, 3, 3)
  below <- replace(at, 1:3, 4.9)
  for (rule in names(sparse_rules)) {
    withr::local_options(fairlattice.sparse_rule = rule)
    expect_false(sparse_counts(at)$sparse, info = rule)
    expect_true(sparse_counts(below)$sparse, info = rule)
  }
  # a fifth of the cells may be small by Cochran's rule, if none is below 1
  withr::local_options(fairlattice.sparse_rule = "cochran")
  expect_false(sparse_counts(replace(matrix(9, 5, 2), 1:2, 1))$sparse)
  expect_true(sparse_counts(replace(matrix(9, 5, 2), 1:3, 1))$sparse)
  expect_true(sparse_counts(replace(matrix(9, 5, 2), 1, 0.99))$sparse)
  expect_true(sparse_counts(replace(matrix(9, 2, 2), 1, 4.9))$sparse)
})
