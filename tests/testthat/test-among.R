data <- data.frame(age = c(15, 40, NA, 70),
                   island = factor(c("Norrey", "Tarn", "Norrey", "Tarn")),
                   ferry = factor(c("Bad", "Good", "Bad", NA), c("Bad", "Good"),
                                  ordered = TRUE),
                   yes = c(TRUE, FALSE, TRUE, TRUE))
kept <- function(condition) {
  survey <- among(data, !!condition)
  if (is.null(survey$aside)) rep(TRUE, 4) else survey$aside == 0
}

test_that("conditions in words keep whom they say", {
  cases <- list(
    "age >= 18" = c(FALSE, TRUE, FALSE, TRUE),
    "age >= 18 & island == 'Tarn'" = c(FALSE, TRUE, FALSE, TRUE),
    "island %in% c('Norrey', 'Tarn')" = rep(TRUE, 4),
    "!(island == 'Tarn') | age == 70" = c(TRUE, FALSE, TRUE, TRUE),
    "is.na(age)" = c(FALSE, FALSE, TRUE, FALSE),
    "ferry < 'Good'" = c(TRUE, FALSE, TRUE, FALSE),
    "yes" = c(TRUE, FALSE, TRUE, TRUE),
    "age > -1 & !is.na(ferry)" = c(TRUE, TRUE, FALSE, FALSE),
    "'Tarn' == island" = c(FALSE, TRUE, FALSE, TRUE))
  for (condition in names(cases)) expect_identical(
    kept(condition), cases[[condition]], info = condition)
  expect_identical(among(data, age >= 18)$aside == 0, cases[["age >= 18"]])
})

test_that("a condition in words is data: nothing in it is run", {
  trap <- withr::local_tempfile()
  evil <- c(sprintf("file.create('%s')", trap),
            sprintf("age > {file.create('%s'); 1}", trap),
            "age > (function() 1)()", "system('true')", "age >= 18; yes",
            "base::is.na(age)", "age[1] == 15", "data$age > 1",
            "age == c(15, file.create('x'))", "age > 1 + 1",
            "`if`(yes, yes, yes)", "age <- 3", "is.na(quit())",
            "island %in% getwd()", "")
  for (condition in evil) expect_error(kept(condition),
                                       class = "fairlattice_error_condition")
  expect_false(file.exists(trap))
})

test_that("slips are named", {
  expect_error(kept("agee > 3"), "Did you mean \"age\"",
               class = "fairlattice_error_no_column")
  expect_error(kept("island == 'Norey'"), "Did you mean \"Norrey\"",
               class = "fairlattice_error_no_answer")
  expect_error(kept("island > 'Tarn'"), "no order",
               class = "fairlattice_error_condition")
  expect_error(kept("age & yes"), "not true or false",
               class = "fairlattice_error_condition")
  expect_error(among(data, age + 1), "TRUE or FALSE for every record",
               class = "fairlattice_error_condition")
})

test_that("those who cannot be told are counted apart from those outside", {
  survey <- among(data, "age >= 18")
  expect_identical(tabulate(survey$aside), c(1L, 1L))
  expect_identical(survey$reasons$code, c("cannot_tell", "outside"))
  expect_identical(survey$reasons$detail, rep("age >= 18", 2))
})

test_that("two columns are compared, not added", {
  expect_error(among(data, "age + age"), "cannot hold `age \\+ age`",
               class = "fairlattice_error_condition")
})
