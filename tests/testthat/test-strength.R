# The measures against their definitions, pairs of respondents and hand-worked
# tables; their gradients, intervals and coverage.
value <- function(strength, name, explains = "both") {
  strength[strength$measure == name & strength$explains == explains, ]
}
all_of <- function(x, ...) strength(x, measures = "all", ...)

test_that("nominal measures are the hand-worked ones", {
  two <- all_of(crosstab(records_of(hand_2x2), down, across))
  phi <- 800 / sqrt(30 * 70 * 40 * 60)
  expect_equal(value(two, "phi")$estimate, phi)
  expect_equal(value(two, "cramers_v")$estimate, phi)
  expect_equal(value(two, "tschuprow_t")$estimate, phi)
  expect_equal(value(two, "contingency_coefficient")$estimate,
               sqrt(phi^2 / (1 + phi^2)))
  expect_equal(value(two, "contingency_coefficient_adjusted")$estimate,
               sqrt(phi^2 / (1 + phi^2)) / sqrt(0.5))
  expect_equal(value(two, "cramers_v_corrected")$estimate,
               sqrt((phi^2 - 1 / 99) / (2 - 1 / 99 - 1)))
  expect_equal(value(two, "yule_q")$estimate,
               (20 * 50 - 10 * 20) / (20 * 50 + 10 * 20))
  expect_equal(value(two, "yule_y")$estimate,
               (sqrt(1000) - sqrt(200)) / (sqrt(1000) + sqrt(200)))
  three <- all_of(crosstab(records_of(hand_2x3), down, across))
  expect_equal(value(three, "lambda", "across")$estimate, 0.36)
  expect_equal(value(three, "lambda", "down")$estimate, 1 / 6)
  expect_equal(value(three, "lambda")$estimate,
               (24 + 18 + 26 + 24 + 26 - 50 - 40) / (50 + 60))
  # columns 24+6, 12+18, 14+26 of 100; rows 50, 50: (sum p^2/p.j - 1/2) / (1/2)
  expect_equal(value(three, "goodman_kruskal_tau", "across")$estimate,
               2 *
                 ((24^2 + 6^2) / 3000 + (12^2 + 18^2) / 3000 +
                    (14^2 + 26^2) / 4000 - 0.5))
  H <- function(n) -sum(n / sum(n) * log(n / sum(n)))
  shared <- H(c(50, 50)) + H(c(30, 30, 40)) - H(hand_2x3)
  expect_equal(value(three, "uncertainty", "across")$estimate,
               shared / H(c(50, 50)))
  expect_equal(value(three, "uncertainty", "down")$estimate,
               shared / H(c(30, 30, 40)))
  expect_equal(value(three, "uncertainty")$estimate,
               2 * shared / (H(c(50, 50)) + H(c(30, 30, 40))))
  expect_false(any(c("phi", "gamma", "kappa") %in% three$measure))
  expect_identical(strength(crosstab(records_of(hand_2x3), down, across))$measure,
                   c("cramers_v", "lambda"))
})

test_that("ordinal measures are what counting every pair of respondents gives", {
  n <-
    matrix(c(9, 3, 1, 4, 7, 2, 2, 6, 8, 1, 0, 5), 3, dimnames = list(1:3, 1:4))
  data <- records_of(n)
  data[] <- lapply(data, as.ordered)
  u <- as.integer(data$down)
  v <- as.integer(data$across)
  pairs <- utils::combn(length(u), 2)
  du <- sign(u[pairs[1, ]] - u[pairs[2, ]])
  dv <- sign(v[pairs[1, ]] - v[pairs[2, ]])
  C <- sum(du * dv > 0)
  D <- sum(du * dv < 0)
  s <- all_of(crosstab(data, down, across))
  expect_equal(value(s, "gamma")$estimate, (C - D) / (C + D))
  expect_equal(value(s, "tau_b")$estimate,
               (C - D) / sqrt(sum(du != 0) * sum(dv != 0)))
  expect_equal(value(s, "tau_c")$estimate, 2 * 3 * (C - D) / (48^2 * 2))
  expect_equal(value(s, "somers_d", "across")$estimate, (C - D) / sum(dv != 0))
  expect_equal(value(s, "somers_d", "down")$estimate, (C - D) / sum(du != 0))
  expect_equal(value(s, "somers_d")$estimate,
               (C - D) / ((sum(du != 0) + sum(dv != 0)) / 2))
  expect_equal(value(s, "pearson_r")$estimate, cor(u, v))
  expect_equal(value(s, "spearman_rho")$estimate, cor(rank(u), rank(v)))
  scored <- strength(crosstab(data, down, across), "pearson_r",
                     scores = list(down = c(0, 1, 5), across = c(1, 2, 4, 9)))
  expect_equal(scored$estimate, cor(c(0, 1, 5)[u], c(1, 2, 4, 9)[v]))
  expect_identical(strength(crosstab(data, down, across))$measure,
                   c("cramers_v", "gamma", "tau_b"))
})

test_that(paste("kappa is the hand-worked one, and the same with an answer",
                "that only one of the two has"), {
  # agreement 35 of 50, by chance (25*30 + 25*20)/2500 = 0.5: kappa = 0.4
  n <-
    matrix(c(20, 10, 5, 15), 2, dimnames = list(c("yes", "no"), c("yes", "no")))
  kappa <- strength(crosstab(records_of(n), down, across, paired = TRUE))
  expect_equal(kappa$estimate[kappa$measure == "kappa"], 0.4)
  wider <- rbind(cbind(n, maybe = 0), maybe = c(3, 2, 0))
  k <- strength(crosstab(records_of(wider), down, across, paired = TRUE),
                "kappa")$estimate
  expect_equal(k,
               (35 / 55 - (25 * 33 + 25 * 22) / 55^2) /
                 (1 - (25 * 33 + 25 * 22) / 55^2))
})

test_that("every gradient in the registry is the numerical one, up to a constant", {
  # on the simplex a constant added to a gradient changes nothing: the
  # covariance of proportions sums to 0
  centred <- function(g) g - mean(g)
  for (key in names(measures)) {
    for (size in list(c(2, 2), c(2, 4), c(3, 3), c(5, 4))) {
      m <- measures[[key]]
      if (m$only %in% "2x2" && !all(size == 2) ||
            m$only %in% "square" && size[1] != size[2]) next
      P <- some_proportions(size[1], size[2], seed = 4)
      given <- list(n = 500, down = seq_len(size[1])^1.5,
                    across = cumsum(1 / seq_len(size[2])))
      on_simplex <- function(P) m$estimate(P / sum(P), given)
      expect_equal(centred(m$figures(P, given)$gradient),
                   centred(numeric_gradient(on_simplex, P)), tolerance = 1e-5,
                   info = key)
      expect_gte(m$estimate(P, given), m$range[1])
      expect_lte(m$estimate(P, given), m$range[2])
      expect_equal(m$figures(P, given)$estimate, m$estimate(P, given))
      if (is.null(m$figures(P, given)$top)) next # no test of zero
      top <- function(P) m$figures(P / sum(P), given)$top$value
      expect_equal(centred(m$figures(P, given)$top$gradient),
                   centred(numeric_gradient(top, P)), tolerance = 1e-5,
                   ignore_attr = TRUE, info = key)
    }
  }
})

test_that("turning the table turns the direction, and only that", {
  data <- messy_records(300)
  data[c("down", "across")] <- lapply(data[c("down", "across")], as.ordered)
  survey <- respondents(data, weight = w, stratum = stratum, cluster = cluster)
  one <- all_of(crosstab(survey, down, across))
  two <- all_of(crosstab(survey, across, down))
  figures <- c("estimate", "se", "low", "high", "p")
  for (k in seq_len(nrow(one))) {
    other <-
      c(across = "down", down = "across", both = "both")[[one$explains[k]]]
    expect_equal(one[k, figures], value(two, one$measure[k], other)[figures],
                 ignore_attr = TRUE, info = one$measure[k])
  }
})

test_that("equal weights change nothing but n/(n-1), and order reversed changes the sign alone", {
  data <- messy_records(250)[c("down", "across")]
  data <- data[complete.cases(data), ]
  data[] <- lapply(data, as.ordered)
  data$w <- 3
  plain <- all_of(crosstab(data[1:2], down, across))
  weighted <- all_of(crosstab(respondents(data, weight = w), down, across))
  # the bias-corrected V takes off a hair less
  expect_equal(weighted$estimate[-2], plain$estimate[-2])
  expect_equal(weighted$se^2, plain$se^2 * nrow(data) / (nrow(data) - 1),
               tolerance = 1e-3)
  data$down <- factor(data$down, rev(levels(data$down)), ordered = TRUE)
  turned <- all_of(crosstab(data[1:2], down, across))
  signed <- turned$measure %in%
            c("gamma", "tau_b", "tau_c", "somers_d", "pearson_r",
              "spearman_rho")
  expect_equal(turned$estimate[signed], -plain$estimate[signed])
  expect_equal(turned$se[signed], plain$se[signed])
  expect_equal(turned$p, plain$p)
})

test_that("the test of zero of phi is chi-square, and one numerator has one test", {
  x <- crosstab(records_of(hand_2x2), down, across)
  s <- all_of(x)
  expect_equal(value(s, "phi")$p,
               pchisq(pearson_statistic(hand_2x2 / 100, 100), 1,
                      lower.tail = FALSE))
  for (measure in c("tau_b", "yule_q", "pearson_r")) expect_equal(
    value(s, measure)$p, value(s, "gamma")$p)
  # with equal weights the design effect of the top is n/(n-1) and the reference
  # t
  weighted <- all_of(crosstab(respondents(
                                transform(records_of(hand_2x2), w = 2),
                                weight = w), down, across))
  z <- sqrt(pearson_statistic(hand_2x2 / 100, 100) * 99 / 100)
  expect_equal(value(weighted, "phi")$p, 2 * pt(-z, 99))
})

test_that("the test of zero keeps its level in small samples", {
  withr::local_seed(31)
  p <- vapply(1:500, function(i) {
    n <- matrix(rmultinom(1, 30, outer(c(0.2, 0.3, 0.5), c(0.3, 0.3, 0.4))), 3,
                dimnames = list(1:3, letters[1:3]))
    if (min(rowSums(n), colSums(n)) == 0) return(NA_real_)
    layer <- crosstab_of_counts(n)$layers[[1]]
    layer_strength(layer, 0.05, asked = "gamma")[[1]]$p
  }, 0)
  expect_lt(abs(mean(p < 0.05, na.rm = TRUE) - 0.05),
            3.5 * sqrt(0.05 * 0.95 / 500))
})

test_that(paste("a percentile bootstrap by clusters comes near the delta",
                "method, and says what it cannot do"), {
  survey <- demo_survey()
  x <- crosstab(survey, ferry, years)
  delta <- strength(x, c("gamma", "tau_b"))
  boot <- strength(x, c("gamma", "tau_b"), interval = "bootstrap", draws = 400)
  # the error of 400 draws is 3.5 %
  expect_equal(boot$se, delta$se, tolerance = 0.15)
  expect_equal(boot$low, delta$low, tolerance = 0.15)
  expect_equal(boot,
               strength(x, c("gamma", "tau_b"), interval = "bootstrap",
                        draws = 400))
  respondents_only <-
    crosstab(respondents(demo_records(), weight = weight), ferry, tenure)
  expect_error(strength(respondents_only, interval = "bootstrap"),
               "make_replicates", class = "fairlattice_error_bootstrap")
  made <- make_replicates(
    respondents(demo_records(300), weight = weight),
    "bootstrap", 300)
  expect_match(strength(crosstab(made, tenure, internet), "cramers_v",
                        interval = "bootstrap")$interval, "300 draws")
})

test_that("what a measure means is said in the table's own words", {
  s <- strength(crosstab(demo_survey(), heating, island), measures = "all",
                explain = TRUE)
  expect_match(value(s, "lambda", "across")$meaning,
               "Knowing \"Island\" reduces the errors in guessing \"Main heating\" by [0-9]+%")
  expect_match(value(s, "lambda", "down")$meaning,
               "Knowing \"Main heating\" reduces the errors in guessing \"Island\"")
  expect_false(any(grepl("Cohen", s$meaning)))
  withr::with_options(list(fairlattice.size_words = TRUE),
                      expect_match(strength(
                        crosstab(records_of(hand_2x2), down, across),
                        explain = TRUE)$meaning[1],
                                   "Cohen's \\(1988\\) convention, w .* 0.356 is medium"))
  for (key in names(measures)) for (x in c(-0.25, 0, 0.25)) expect_type(
    words(paste0("meaning.", key), x = x, d = "d", a = "a"), "character")
  expect_identical(setdiff(paste0("measure.", measure_name(names(measures))),
                           names(words_en)), character())
  expect_error(strength(crosstab(demo_survey(), heating, island), "gama"),
               "Did you mean \"gamma\"", class = "fairlattice_error_measure")
})

test_that(paste("V's interval is that of the noncentralities, stretched by",
                "what the variance of its root is"), {
  v <-
    value(strength(crosstab(records_of(hand_2x3), down, across)), "cramers_v")
  P <- hand_2x3 / 100
  X2 <- pearson_statistic(P, 100)
  tail <- function(ncp) { # Puza & O'Neill (2006)
    0.025 * (pchisq(qchisq(0.95, 2), 2, ncp, lower.tail = FALSE) - 0.05) / 0.95
  }
  at <- function(p) {
    uniroot(function(ncp) pchisq(X2, 2, ncp) - p(tail(ncp)), c(0, 100),
            tol = 1e-10)$root
  }
  low <- at(function(tail) 0.95 + tail)
  high <- at(function(tail) tail)
  g <- numeric_gradient(
    function(P) {
      sqrt(phi_squared(P / sum(P)))
    }, P)
  kappa <- sum(P * (g - sum(P * g))^2) # n times the delta method's variance
  centre <- sqrt(X2 - 2)
  # the numeric gradient is right to six digits
  expect_equal(v$low, (centre - sqrt(kappa) * (centre - sqrt(low))) / 10,
               tolerance = 1e-5)
  expect_equal(v$high, (centre + sqrt(kappa) * (sqrt(high) - centre)) / 10,
               tolerance = 1e-5)
  expect_equal(v$corrected, sqrt((X2 - 2) / 100))
  none <- value(strength(
    crosstab(
      records_of(matrix(10, 2, 3, dimnames = dimnames(hand_2x3))), down,
      across)), "cramers_v")
  expect_equal(c(none$estimate, none$low), c(0, 0))
  # as of a statistic that 19 of 20 tables without association exceed
  expect_gt(none$high, 0.1)
  # either side of the switch to the central form
  expect_equal(noncentral_f_below(2600, 4, Inf, 10001), pchisq(10400, 4, 10001),
               tolerance = 1e-3)
  expect_equal(noncentral_f_below(2600, 4, 60, 10001), pf(2600, 4, 60, 10001),
               tolerance = 1e-3)
})

test_that("in a 2x2 V and phi have one interval, and tau its square", {
  n <- matrix(c(10, 15, 15, 460), 2, dimnames = dimnames(hand_2x2))
  of <- function(x) {
    all_of(x)[c("measure", "explains", "estimate", "low", "high")]
  }
  survey <- among(demo_survey(), "internet %in% c('Good', 'Poor')")
  for (x in list(crosstab(records_of(n), down, across),
                 crosstab(survey, leave, internet, keep_empty = FALSE))) {
    s <- of(x)
    phi <- value(s, "phi")
    ends <- if (phi$low * phi$high <= 0) c(0, max(abs(phi$low), phi$high)) else
      sort(abs(c(phi$low, phi$high)))
    expect_equal(unlist(value(s, "cramers_v")[c("low", "high")]), ends,
                 ignore_attr = TRUE)
    tau <- s[s$measure == "goodman_kruskal_tau", ]
    expect_equal(sqrt(c(tau$low[1], tau$high[1])), ends)
  }
})

test_that(paste("where associated answers are rare the intervals of V and tau",
                "hold the truth as often as they say"), {
                  withr::local_seed(21)
                  rare <- matrix(0.01, 3, 3)
                  diag(rare) <- c(0.03, 0.03, 0.88)
                  for (P in list(matrix(c(0.02, 0.03, 0.03, 0.92), 2), rare)) {
                    truth <- c(sqrt(phi_squared(P) / least_side(P)),
                               measures$goodman_kruskal_tau_across$estimate(
                                 P, list()))
                    held <- vapply(1:250, function(i) {
                      n <- matrix(rmultinom(1, 500, P), nrow(P),
                                  dimnames = list(
                                    seq_len(nrow(P)),
                                    letters[seq_len(ncol(P))]))
                      found <- layer_strength(
                        crosstab_of_counts(n)$layers[[1]], 0.05,
                        asked = c("cramers_v", "goodman_kruskal_tau"))
                      vapply(1:2, function(k) {
                        found[[k]]$low <= truth[k] &&
                          truth[k] <= found[[k]]$high
                      }, NA)
                    }, c(NA, NA))
                    expect_true(all(abs(rowMeans(held) - 0.95) < 0.05),
                                info = nrow(P)) # 3.5 simulation errors
                  }
                })

test_that("a measure at its bound that leaves it in a replicate has no interval", {
  data <- data.frame(down = rep(c("a", "a", "b", "b"), c(2, 1, 57, 0)),
                     across = rep(c("A", "B", "A", "B"), c(2, 1, 57, 0)),
                     cluster = rep(1:6, 10))
  x <- crosstab(make_replicates(respondents(data, cluster = cluster), "jackknife"),
                down, across)
  q <- value(strength(x, "all"), "gamma")
  expect_equal(q$estimate, -1)
  expect_true(is.na(q$low))
  expect_match(q$note, "at its limit")
})

test_that("lambda has no interval in a sparse table, and says so", {
  s <- strength(crosstab(demo_records(60), heating, island))
  expect_true(is.na(value(s, "lambda", "across")$low))
  expect_match(value(s, "lambda", "across")$note, "too sparse|tied|improve")
})

test_that("intervals of V and lambda cover in clustered surveys", {
  withr::local_seed(5)
  P <- rbind(c(0.20, 0.10, 0.05), c(0.05, 0.15, 0.10), c(0.05, 0.10, 0.20))
  truth <- c(sqrt(phi_squared(P) / 2), measures$lambda_across$estimate(P))
  hit <- vapply(1:200, function(i) {
    cells <- matrix(rgamma(40 * 9, rep(12 * as.vector(P), each = 40)), 40)
    cell <-
      unlist(lapply(1:40, function(g) sample.int(9, 15, TRUE, cells[g, ])))
    data <- data.frame(down = (cell - 1) %% 3, across = (cell - 1) %/% 3,
                       cluster = rep(1:40, each = 15),
                       w = exp(0.4 * rnorm(600)))
    s <- strength(crosstab(respondents(data, weight = w, cluster = cluster),
                           down, across))
    rows <- rbind(value(s, "cramers_v"), value(s, "lambda", "across"))
    rows$low <= truth & truth <= rows$high
  }, c(NA, NA))
  expect_gt(min(rowMeans(hit)), 0.95 - 3 * sqrt(0.05 * 0.95 / 200)) # three simulation errors
})

test_that("an undefined figure has its cause beside it", {
  tied <- all_of(crosstab(records_of(matrix(
                                       c(10, 10, 5, 20), 2,
                                       dimnames = dimnames(hand_2x2))), down,
                          across))
  expect_match(value(tied, "lambda", "across")$note, "tied")
  expect_true(is.na(value(tied, "lambda", "across")$se))
  flat <- all_of(crosstab(records_of(matrix(
                                       c(30, 10, 20, 10), 2,
                                       dimnames = dimnames(hand_2x2))), down,
                          across))
  expect_equal(value(flat, "lambda", "across")$estimate, 0)
  expect_match(value(flat, "lambda", "across")$note,
               "does not improve the guess")
  alone <-
    strength(crosstab(data.frame(a = c("x", "x"), b = c("p", "q")), a, b))
  expect_true(all(is.na(alone$estimate)) &&
                all(grepl("only one answer", alone$note)))
})

test_that("the list of measures is made from the registry", {
  known <- measures_known()
  expect_equal(nrow(known), length(measures))
  expect_true(all(nzchar(known$source)) && all(nzchar(known$formula)))
})

test_that("the bootstrap of two clusters a stratum is rescaled to their variance", {
  data <- withr::with_seed(5, {
    cluster <- rep(1:40, each = 10)
    pull <- rnorm(40)[cluster]
    data.frame(down = factor(rbinom(400, 1, plogis(pull)) + 1),
               across = factor(rbinom(400, 1, plogis(0.5 * pull)) + 1), cluster,
               stratum = (cluster + 1) %/% 2)
  })
  x <- crosstab(respondents(data, stratum = stratum, cluster = cluster), down,
                across)
  linear <- strength(x, "phi")$se
  drawn <- strength(x, "phi", interval = "bootstrap", draws = 3000)$se
  expect_equal(drawn, linear, tolerance = 0.08) # without rescaling 0.71 of it
})

test_that(paste("the bootstrap works out every measure on tables of any",
                "shape, and counts those it cannot"), {
  x <- crosstab(records_of(hand_2x3), down, across)
  s <- strength(x, c("cramers_v", "goodman_kruskal_tau"),
                interval = "bootstrap", draws = 400)
  delta <- strength(x, c("cramers_v", "goodman_kruskal_tau"))
  expect_equal(s$se, delta$se, tolerance = 0.25)
  expect_true(all(s$low < s$estimate & s$estimate < s$high))
  few <- strength(crosstab(
    records_of(matrix(c(1, 9, 0, 10), 2, dimnames = dimnames(hand_2x2))), down,
    across), "cramers_v", interval = "bootstrap", draws = 200)
  expect_match(few$interval, "undefined in [0-9]+ of them") # 0.95^20 of the draws have one row only
})

test_that("the range of every measure is that of its definition", {
  signed <- c("gamma", "tau_b", "tau_c", "somers_d_both", "somers_d_across", "somers_d_down",
              "pearson_r", "spearman_rho", "yule_q", "yule_y", "phi", "kappa")
  for (name in names(measures)) {
    range <- measures[[name]]$range
    allowed <- if (name %in% signed) list(c(-1, 1)) else list(c(0, 1), c(0, Inf), c(0, sqrt(2)))
    expect_true(any(vapply(allowed, identical, NA, as.numeric(range))), info = name)
  }
})

test_that("that an order is not known is said of three answers without one, not of two", {
  note <- function(counts) {
    rows <- strength(crosstab(records_of(counts), down, across), "gamma")
    any(grepl("not known to be ordered", as.data.frame(rows)$note))
  }
  expect_true(note(hand_2x3))
  expect_false(note(hand_2x2))
})

test_that("the noncentrality is where the probability is met, however small it is", {
  for (target in c(1e-4, 0.01, 0.3, 2, 40)) for (d2 in c(7, 60, Inf)) for (d1 in c(1, 4)) {
    f <- 2.5
    wanted <- noncentral_f_below(f, d1, d2, target)
    found <- noncentrality_at(f, d1, d2, function(ncp) wanted, 0.025)
    expect_equal(noncentral_f_below(f, d1, d2, found), wanted, tolerance = 1e-7)
  }
})
