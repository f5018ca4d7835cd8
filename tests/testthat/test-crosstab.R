test_that("bad questions are refused with the reason", {
  survey <- demo_survey()
  expect_error(crosstab(survey, fery, island), "Did you mean \"ferry\"",
               class = "fairlattice_error_no_column")
  expect_error(crosstab(survey, ferry, ferry), "asked for twice",
               class = "fairlattice_error_same_column")
  expect_error(crosstab(survey, weight, island), "is the weight column",
               class = "fairlattice_error_same_column")
  expect_error(crosstab(survey, across = ferry),
               class = "fairlattice_error_column_name")
  expect_error(crosstab(among(survey, age > 200), ferry, island),
               "There are no respondents in the table",
               class = "fairlattice_error_nobody")
  wide <- data.frame(a = sprintf("answer %d", 1:2000), b = c("p", "q"),
                     c = factor(rep(1:200, 10)))
  expect_error(crosstab(wide, a, b), "2,000 different answers",
               class = "fairlattice_error_too_many_answers")
  withr::with_options(list(fairlattice.most_cells = 100),
                      expect_error(crosstab(
                                     transform(wide, d = factor(rep(1:40, 50))),
                                     c, d),
                                   class = "fairlattice_error_too_many_cells"))
  expect_error(crosstab(survey, ferry, island, explains = "both"),
               class = "fairlattice_error_choice")
  expect_error(crosstab(survey, ferry, island, alpha = 5),
               class = "fairlattice_error_fraction")
})

test_that("flip() twice gives the table back, and once keeps every figure", {
  x <- crosstab(demo_survey(), ferry, way_off, each = island)
  expect_same_table(flip(flip(x)), x)
  once <- flip(x)
  expect_identical(once$choices[c("explains", "percent")],
                   list(explains = "down", percent = "row"))
  expect_equal(tests(once), tests(x))
  a <- as.data.frame(x)
  b <- as.data.frame(once)
  at <- match(paste(a$each, a$down, a$across), paste(b$each, b$across, b$down))
  same <- c("n", "weighted", "total_percent", "expected", "adjusted_residual",
            "p_corrected", "mark")
  expect_equal(b[at, same], a[same], ignore_attr = TRUE)
  expect_equal(b$row_percent[at], a$column_percent)
})

test_that("declared answers that nobody gave keep their place, unless the sample was cut", {
  data <- records_of(hand_2x2)
  data$down <- factor(data$down, c("x", "y", "never"))
  data$part <- data$down == "x"
  whole <- crosstab(data, down, across)
  expect_identical(rownames(whole$layers[[1]]$n), c("x", "y", "never"))
  expect_true("empty_category" %in% cautions(whole)$code)
  cut <- among(respondents(data), part)
  expect_identical(rownames(crosstab(cut, down, across)$layers[[1]]$n), "x")
  expect_identical(rownames(crosstab(cut, down, across, keep_empty = TRUE)$layers[[1]]$n),
                   c("x", "y", "never"))
})

test_that("each makes one table per answer, each like the table of that part", {
  survey <- demo_survey()
  each <- crosstab(survey, leave, tenure, each = island)
  tarn <- crosstab(among(survey, island == "Tarn"), leave, tenure)
  of <- function(data) data[data$each == "Tarn", -1]
  expect_equal(of(tests(each))[names(tests(tarn))[-1]], tests(tarn)[-1], ignore_attr = TRUE)
  # the headlines are corrected over all of them, too
  found <- as.data.frame(tests(each))
  at <- found$headline
  expect_equal(found$p_corrected[at], stats::p.adjust(found$p[at], "holm"))
  expect_true(all(is.na(found$p_corrected[!at])))
  expect_equal(of(strength(each)), strength(tarn)[-1], ignore_attr = TRUE)
})

test_that("the plain data frames have the names of the contract and the figures of the parts", {
  x <- crosstab(demo_survey(), heating, island)
  cells <- as.data.frame(x)
  of_imputed <- endsWith(names(table_contract$cells), "_missing_information")
  expect_identical(names(cells), names(table_contract$cells)[!of_imputed])
  expect_identical(generics::tidy(x), cells)
  expect_equal(cells$column_percent / 100, shares(x)$share)
  expect_equal(generics::glance(x)$cramers_v, strength(x)$estimate[1])
  expect_identical(names(layers_frame(x)), names(table_contract$layers))
  expect_identical(names(tests(x)), names(table_contract$tests))
  expect_identical(names(strength(x)), names(table_contract$strength))
})

test_that("every percentage of a cell has its own interval", {
  x <- crosstab(demo_survey(), leave, internet)
  cells <- as.data.frame(x)
  for (percent in c("row", "column", "total")) {
    for (end in c("low", "high")) {
      expect_equal(
        cells[[paste0(percent, "_", end)]] / 100, shares(x, percent)[[end]],
        info = paste(percent, end))
    }
  }
})

test_that(paste("another view of a table is the table made that way, and what",
                "does not depend on it is kept"), {
  x <- crosstab(demo_survey(), leave, internet)
  tests(x)
  y <- rechoose(x, alpha = 0.01, correction = "bonferroni", explains = "down")
  z <- crosstab(demo_survey(), leave, internet, alpha = 0.01,
                correction = "bonferroni", explains = "down")
  expect_identical(format(y), format(z))
  expect_identical(y$layers[[1]]$kept, x$layers[[1]]$kept)
  expect_identical(format(
    rechoose(y, alpha = 0.05, correction = "holm", explains = "across")),
                   format(x))
  read <- saved(x)
  expect_identical(format(rechoose(read, percent = "row")),
                   format(rechoose(x, percent = "row")))
  expect_error(rechoose(read, alpha = 0.01),
               class = "fairlattice_error_records_gone")
  expect_error(rechoose(x, percent = "rows"), "Did you mean \"row\"",
               class = "fairlattice_error_choice")
})

test_that("nothing is worked out before it is asked for, and then once", {
  x <- crosstab(demo_survey(), leave, internet)
  kept <- function() sort(ls(x$layers[[1]]$kept))
  expect_identical(kept(), character())
  tests(x)
  expect_identical(kept(), "tests")
  x$layers[[1]]$kept$tests$value[[1]]$p <- 0.123 # whoever works it out anew will not say this
  expect_identical(glance(x)$p, 0.123)
})

test_that("the degrees of freedom of several tables are the fewest of them", {
  x <- crosstab(demo_survey(), leave, internet, each = island)
  expect_equal(facts_of(x)$design$df, min(vapply(x$layers, layer_df, 0)))
  expect_gt(max(vapply(x$layers, layer_df, 0)), facts_of(x)$design$df)
})

test_that("a base of percentages stays as it was unless what explains what is turned", {
  x <- crosstab(demo_survey(), leave, internet, percent = "row")
  expect_identical(rechoose(x, explains = "across")$choices$percent, "row")
  expect_identical(rechoose(x, explains = "down")$choices$percent, "row")
  expect_identical(rechoose(crosstab(demo_survey(), leave, internet),
                            explains = "down")$choices$percent, "row")
})

test_that("rows taken from a result print as it does, where they can", {
  x <- crosstab(demo_records(200), leave, mode)
  expect_s3_class(tests(x)[1, ], "fairlattice_tests")
  expect_false(inherits(risks(x)[1, ], "fairlattice_risks"))
  expect_s3_class(risks(x)[1, ], "fairlattice_result")
})
