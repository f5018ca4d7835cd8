# What a table could have shown, the arithmetic, the paragraph, and tables at
# the edge of what can be worked out.

test_that("power is that of the noncentral chi-square, and n needed gives it back", {
  d <- detectable(n = 400, r = 2, c = 2, v = 0.2)
  # one degree of freedom: a squared normal
  power <- function(n, v) {
    pnorm(v * sqrt(n) - qnorm(0.975)) + pnorm(-v * sqrt(n) - qnorm(0.975))
  }
  expect_equal(d$power, power(400, 0.2), tolerance = 1e-6)
  expect_gte(power(d$n_needed, 0.2), 0.8)
  expect_lt(power(d$n_needed - 1, 0.2), 0.8)
  expect_equal(power(400, d$smallest_v), 0.8, tolerance = 1e-5)
  expect_equal(detectable(n = 800, r = 2, c = 2, v = 0.2,
                          design_effect = 2)$power, d$power)
  expect_lt(detectable(n = 400, r = 2, c = 2, v = 0.2, df = 8)$power, d$power)
  x <- crosstab(demo_survey(), leave, tenure)
  own <- detectable(x)
  expect_equal(own$design_effect, x$layers[[1]]$estimate$effect$mean)
  expect_equal(own$v, subset(strength(x, "cramers_v"))$estimate)
  expect_match(format(own, width = 200)[1],
               "design effect 2\\.[0-9]+: an association of V = 0")
  expect_match(format(detectable(n = 5, r = 2, c = 2))[1],
               "even a perfect association")
  expect_error(detectable(n = 1, r = 2, c = 2),
               class = "fairlattice_error_number")
})

test_that("the power found by simulation is the one foretold", {
  withr::local_seed(11)
  P <- matrix(c(0.3, 0.2, 0.2, 0.3), 2) # V = 0.2
  p <- vapply(1:600, function(i) {
    n <- matrix(rmultinom(1, 150, P), 2)
    pchisq(pearson_statistic(n / 150, 150), 1, lower.tail = FALSE)
  }, 0)
  foretold <- detectable(n = 150, r = 2, c = 2, v = 0.2)$power
  expect_lt(abs(mean(p < 0.05) - foretold),
            3.5 * sqrt(foretold * (1 - foretold) / 600))
})

test_that("the working adds up to the test, step by step", {
  x <- crosstab(records_of(hand_2x2), down, across)
  w <- working(x)
  of <- function(step) w$value[w$step == step]
  expect_equal(of("expected"), c(12, 28, 18, 42))
  expect_equal(of("contribution"), 64 / c(12, 28, 18, 42))
  expect_equal(of("statistic"), sum(of("contribution")))
  expect_identical(w$how[w$step == "expected"][1], "30 \u00d7 40 / 100")
  expect_equal(of("p"), tests(x)$p[1])
  designed <- crosstab(demo_survey(), leave, tenure)
  w <- working(designed)
  headline <- subset(tests(designed), headline)
  expect_equal(of("f"), headline$statistic)
  expect_equal(of("p"), headline$p)
  expect_true(any(grepl("4. Their sum is the statistic", format(w))))
})

test_that("the full write-up has every part, and claims no more than the test", {
  full <- write_up(crosstab(demo_survey(), heating, island), "full")
  expect_match(full, "sample design with strata and clusters")
  expect_no_match(write_up(crosstab(demo_records(), heating, island)),
                  "design|weight")
  for (part in c("^Main heating differs by Island [(]Rao-Scott",
                 paste("The null hypothesis that Main heating and Island are",
                       "unrelated is rejected at the 0.05 level"),
                 "weighted by weight", "strata and clusters",
                 "records were left out: Main heating: Don't know \\(15\\); ",
                 "Rao-Scott second order, corrected, F\\(", "p < 0.001",
                 "Strength of association: Cram.r's V = ", "95% CI",
                 "More than expected", "Fewer than expected")) expect_match(
    full, part)
  none <- write_up(crosstab(records_of(matrix(
    c(50, 51, 52, 50), 2,
    dimnames = dimnames(hand_2x2))), down, across), "full")
  expect_match(none, "not rejected .* no evidence that there is no association")
  expect_match(none, "could have detected V of 0.20 or more")
  expect_false(grepl("prove|p = 0[^.]|p = 0\\.000|no difference between",
                     paste(full, none)))
})

test_that("digits, leading zero and decimal mark follow the options, in every output", {
  x <- crosstab(demo_survey(), leave, internet)
  usual <- c(write_up(x), format(x)) # what was said once is said anew when an option changes
  set <- list(fairlattice.decimal_mark = ",", fairlattice.leading_zero = FALSE,
              fairlattice.digits = 2L, fairlattice.digits_strength = 2L)
  withr::local_options(set)
  text <- write_up(x)
  expect_match(text, "V = ,1[0-9] \\((,[0-9]{2} corrected for chance; )?95% CI ,[0-9]{2} to ,[0-9]{2}\\)")
  expect_match(text, "p < ,001")
  expect_match(text, "58,[0-9]{2}%")
  expect_match(text, "2\u00a0257 respondents")
  printed <- c(format(x), format(strength(x)), format(risks(x)),
               format(differences(x)), format(working(x)))
  expect_false(any(grepl("[0-9]\\.[0-9]", printed)))
  expect_true(any(grepl("58,[0-9]{2}", printed)))
  expect_match(json_of(x), "0\\.[0-9]+") # data stay data
  withr::local_options(lapply(set, function(value) NULL))
  expect_identical(c(write_up(x), format(x)), usual)
})

test_that("peaks mark the largest percentage of every column, or row", {
  signs <- function(...) {
    sheet_of(crosstab(records_of(hand_2x3), down, across, peaks = TRUE,
                      ...))$peak[1:2, 1:3]
  }
  expect_identical(signs(), rbind(c(TRUE, FALSE, FALSE), c(FALSE, TRUE, TRUE)))
  expect_identical(signs(percent = "row"),
                   rbind(c(TRUE, FALSE, FALSE), c(FALSE, FALSE, TRUE)))
  expect_true(any(grepl("\\^",
                        format(crosstab(records_of(hand_2x3), down, across,
                                        peaks = TRUE)))))
  expect_false(any(grepl("\\^",
                         format(crosstab(records_of(hand_2x3), down, across)))))
})

test_that("another sparse rule can be chosen", {
  n <- matrix(c(3, 9, 12, 40), 2, dimnames = dimnames(hand_2x2)) # least expected count 2.8, mean 16
  codes <- function(rule) {
    withr::with_options(list(fairlattice.sparse_rule = rule),
                        cautions(crosstab(records_of(n), down, across)))
  }
  expect_true("sparse" %in% codes("cochran")$code)
  expect_match(subset(codes("every"), code == "sparse")$text,
               "1 of 4 expected counts is under 5, the smallest 2.8 \\(rule: every")
  expect_false("sparse" %in% codes("average")$code)
})

test_that(paste("no table at the edge crashes, has a NaN, a negative",
                "variance, or a gap without a reason"), {
  counts <- function(v, r) {
    crosstab_of_counts(matrix(
      v, r,
      dimnames = list(
        paste0("r", seq_len(r)),
        paste0("c", seq_len(length(v) / r)))))
  }
  wild <- withr::with_seed(
    1,
    data.frame(a = sample(letters[1:3], 300, TRUE),
               b = sample(LETTERS[1:4], 300, TRUE), w = 10^runif(300, -6, 6),
               g = sample(1:40, 300, TRUE)))
  agree <- data.frame(a = rep(c("x", "y", "x", "y"), 20),
                      b = rep(c("p", "q", "q", "p"), 20),
                      g = rep(1:20, each = 4))
  tables <- c(
    list(counts(1:4, 1), counts(1:4, 4),
         counts(c(3, 0, 5, 2, 0, 7, 4, 0, 9), 3), counts(c(5, 0, 0, 0), 2),
         counts(c(2^51, 2^51, 2^51 + 2^20, 2^51 - 2^20), 2),
         counts(diag(c(40, 30, 50)), 3), counts(diag(c(40, 30)), 2),
         counts(rep(20, 12), 3), counts(c(1, 0, 0, 1), 2),
         crosstab(respondents(wild, weight = w), a, b),
         crosstab(respondents(wild, weight = w, cluster = g), a, b),
         crosstab(respondents(agree, cluster = g), a, b),
         crosstab(respondents(transform(wild, g = 1), cluster = g), a, b),
         crosstab(respondents(transform(wild, g = g %% 2), cluster = g), a, b)),
    lapply(1:5, function(n) {
      crosstab(data.frame(
        a = rep(c("x", "y"), length.out = n),
        b = rep(c("p", "q", "q"), length.out = n)), a, b)
    }))
  for (k in seq_along(tables)) {
    x <- tables[[k]]
    tests <- tests(x, "all")
    s <- strength(x, "all")
    r <- risks(x)
    d <- differences(x, least_base = 0)
    frames <- list(tests, s, residuals(x), shares(x), r, d, detectable(x))
    expect_false(any(vapply(
      frames,
      function(f) {
        any(
          vapply(
            f,
            function(v) {
              is.numeric(v) && any(is.nan(v))
            }, NA))
      }, NA)), info = k)
    expect_false(any(is.na(tests$p) & is.na(tests$note)) ||
                   any(is.na(s$estimate) & is.na(s$note)) ||
                   any(is.na(s$low) & is.na(s$note)), info = k)
    expect_false(any(is.na(r$estimate) & is.na(r$note)) ||
                   any(is.na(d$p) & is.na(d$note) &
                         layer_df(x$layers[[1]]) >= 1), info = k)
    expect_false(any(s$se < 0, na.rm = TRUE) ||
                   any(s$low > s$high, na.rm = TRUE), info = k)
    expect_type(paste(c(format(x), write_up(x, "full"), reading(x),
                        format(working(x))), collapse = ""), "character")
  }
  bound <- strength(counts(diag(c(40, 30)), 2), "all")
  expect_equal(bound$estimate[bound$measure %in% c("cramers_v", "phi", "yule_q")],
               c(1, 1, 1))
})

test_that("a very large table has its test, first order, and says so", {
  withr::local_options(fairlattice.most_df = 20L)
  data <- messy_records(500, r = 6, k = 7)
  x <- crosstab(respondents(data, weight = w, cluster = cluster), down, across)
  headline <- subset(tests(x), headline)
  expect_identical(headline$test, "rao_scott_first")
  expect_match(headline$note, "not worked out beyond 20 degrees")
  # at the independence fit the sum of the design effects is a sum over cells
  e <- x$layers[[1]]$estimate
  withr::local_options(fairlattice.most_df = 1000L,
                       fairlattice.rao_scott_v0 = "fit")
  expect_equal(design_effects(e)$sum, e$effect$sum)
})

test_that("n needed grows with the design effect", {
  one <- detectable(n = 400, r = 3, c = 4, v = 0.15)$n_needed
  more <-
    detectable(n = 400, r = 3, c = 4, v = 0.15, design_effect = 2.5)$n_needed
  expect_equal(more, 2.5 * one, tolerance = 2 / one) # both are rounded up
})

test_that("little power needs little, and the power found is the power asked for", {
  for (power in c(0.06, 0.1, 0.5, 0.99)) {
    ncp <- needed_noncentrality(3, 0.05, power)
    expect_equal(pchisq(qchisq(0.95, 3), 3, ncp, lower.tail = FALSE), power,
                 tolerance = 1e-6)
  }
})

test_that("the working names every cell of a table that is not square", {
  w <- working(crosstab(records_of(hand_2x3), down, across))
  expected <- w[w$step == "expected", ]
  expect_identical(paste(expected$down, expected$across),
                   as.vector(outer(c("x", "y"), c("p", "q", "r"), paste)))
  expect_equal(expected$value, as.vector(outer(c(50, 50), c(30, 30, 40)) / 100))
})

test_that(paste("a figure that was kept is worked out anew when an option",
                "that it read has changed, and only then"), {
  survey <- respondents(demo_records(), weight = weight, stratum = island,
                        cluster = settlement)
  few <- records_of(matrix(
    c(9, 1, 3, 2, 8, 4), 2,
    dimnames = list(c("x", "y"), c("p", "q", "r"))))
  made <- function() {
    list(crosstab(survey, ferry, tenure), crosstab(few, down, across))
  }
  all_of <- function(x) {
    list(format(x, lines = "working"), format(strength(x, "all", explain = TRUE)),
         format(tests(x)), format(residuals(x)), format(detectable(x)),
         write_up(x, "full"), as.data.frame(cautions(x)))
  }
  seen <- function(tables) lapply(tables, all_of)
  # not among them: what a table is made with (alpha, correction, rao_scott_v0),
  # and exact_steps, since an exact p that was found stays found
  tables <- made()
  usual <- seen(tables)
  other <- list(sparse_rule = "every", sparse_expected = 1, sparse_share = 0.9,
                sparse_least = 4, small_base = 400, low_base = 900,
                tiny_effect = 0.9, notable_effect = 0.01, weight_loss = 1,
                left_out_share = 0.001, power = 0.5, language = "de",
                digits = 3, digits_statistic = 4, digits_strength = 5,
                digits_p = 5, leading_zero = FALSE, decimal_mark = ",",
                minus = "-", size_words = TRUE)
  moved <- character()
  for (name in names(other)) {
    was <- options(stats::setNames(other[name], paste0("fairlattice.", name)))
    changed <- seen(tables)
    expect_identical(changed, seen(made()), info = name)
    if (!identical(changed, usual)) moved <- c(moved, name)
    options(was)
    expect_identical(seen(tables), usual, info = name)
  }
  expect_gt(length(moved), 14L)
})

test_that("what is kept is worked out once, and by whoever keeps what is made of it", {
  kept <- new.env()
  times <- 0
  work <- function() {
    times <<- times + 1
    setting("power")
  }
  inner <- function() once(kept, "inner", NULL, work())
  outer <- function() once(kept, "outer", NULL, inner() + 1)
  expect_identical(c(outer(), outer(), inner(), times), c(1.8, 1.8, 0.8, 1))
  withr::local_options(fairlattice.alpha = 0.2) # which nobody read
  expect_identical(c(outer(), times), c(1.8, 1))
  withr::local_options(fairlattice.power = 0.5)
  expect_identical(c(outer(), outer(), times), c(1.5, 1.5, 2))
  kept$inner <- NULL
  expect_error(once(kept, "fails", NULL, stop("no")), "no")
  expect_null(watched$seen)
})
