test_that("any kind of column becomes answers", {
  kinds <- list(
    factor = factor(c("b", "a", NA), c("b", "a", "never")),
    character = c("b", "a", ""), logical = c(TRUE, FALSE, NA),
    number = c(10, 9, NA), integer = c(2L, 1L, NA),
    labelled = structure(c(2, 1, -9),
                         labels = c(one = 1, two = 2, refused = -9),
                         na_values = -9, label = "A question"))
  levels <- list(c("b", "a", "never"), c("a", "b"), c("No", "Yes"),
                 c("9", "10"), c("1", "2"), c("one", "two", "refused"))
  for (k in seq_along(kinds)) {
    answers <- as_answers(kinds[[k]], "x")
    expect_identical(levels(answers), levels[[k]], info = names(kinds)[k])
    expect_identical(is.na(answers), c(FALSE, FALSE, TRUE),
                     info = names(kinds)[k])
  }
  expect_identical(describe_question(as_answers(kinds$labelled, "x"), "x")$label,
                   "A question")
  expect_error(as_answers(as.Date("2031-01-01"), "day"),
               class = "fairlattice_error_column_type")
})

test_that("reasons for no answer survive slicing, and answers stay a factor", {
  x <- new_answers(c(1L, 3L, 2L, NA), c("Yes", "No", "Don't know"),
                   missing = "Don't know", label = "Q")
  expect_identical(is.na(x), c(FALSE, TRUE, FALSE, TRUE))
  half <- data.frame(x)[2:3, , drop = FALSE]$x
  expect_identical(is.na(half), c(TRUE, FALSE))
  expect_identical(as.character(half), c("Don't know", "No"))
  expect_identical(attr(half, "label"), "Q")
  expect_identical(plain_factor(x),
                   factor(c("Yes", NA, "No", NA), c("Yes", "No")))
})

test_that("numbers know why they are missing, and reckon as missing", {
  x <- code_number(c(34, -2, NA, -1),
                   list(name = "age", title = "Age",
                        categories = value_labels(NULL), type = "integer"),
                   value_labels(list(list(value = "-1", label = "Don't know"),
                                     list(value = "-2", label = "Refused"))),
                   character(), "error", NULL, NULL)
  expect_identical(is.na(x), c(FALSE, TRUE, TRUE, TRUE))
  expect_identical(mean(x, na.rm = TRUE), 34)
  expect_true(is.na(x[2] + 1))
  answers <- as_answers(rev(x)[1:3], "age")
  expect_identical(as.character(answers), c("Don't know", NA, "Refused"))
  data <-
    data.frame(age = x, b = c("p", "q", "p", "q"), a = c("u", "v", "u", "v"))
  expect_setequal(left_out_words(account_of(tally_of(data, age, b))$left_out),
                  c("Age: Refused", "Age: no answer", "Age: Don't know"))
})

test_that("respondents() takes names bare, as strings and spliced, and names what is wrong", {
  data <- data.frame(q = c("a", "b"), w = c(1, 2), text = c("1", "x"),
                     minus = c(1, -1), none = 0, half = c(1, 1.5))
  weight <- "w"
  expect_identical(respondents(data, weight = w)$weight,
                   respondents(data, weight = "w")$weight)
  expect_identical(respondents(data, weight = !!weight)$weight, c(1, 2))
  expect_error(respondents(data, weight = wt), "Did you mean \"w\"",
               class = "fairlattice_error_no_column")
  expect_error(respondents(data, weight = text), "Record 2 has \"x\"",
               class = "fairlattice_error_weight")
  expect_error(respondents(data, weight = minus), "Record 2 has -1",
               class = "fairlattice_error_weight")
  expect_error(respondents(data, weight = none),
               "zero or missing in every record",
               class = "fairlattice_error_weight")
  expect_error(respondents(data, count = half), "whole numbers",
               class = "fairlattice_error_count")
  expect_error(respondents(data, weight = c(w, q)), "must name one column",
               class = "fairlattice_error_column_name")
  expect_error(respondents(data[0, ]), class = "fairlattice_error_no_records")
  expect_error(respondents(transform(data, s = NA_character_), stratum = s),
               class = "fairlattice_error_nobody")
  expect_error(respondents(1:3), class = "fairlattice_error_class")
})

test_that("labels, ranges of missing codes and titles are each taken for what they are", {
  x <- structure(c(1, 2, 97, 99), labels = c(Yes = 1, No = 2),
                 na_range = c(90, 99))
  answers <- as_answers(x, "q")
  expect_identical(is.na(answers), c(FALSE, FALSE, TRUE, TRUE))
  expect_null(label_of(x))
  for (label in list(c("a", "b"), 1, NA_character_, " ")) expect_null(
    label_of(structure(1, label = label)))
  twice <- structure(c(1L, 2L), levels = c("a", "a"), class = "factor")
  expect_error(as_answers(twice, "q"), "not a valid factor",
               class = "fairlattice_error_column_type")
})

test_that("one word in the singular and the plural is one word", {
  expect_identical(likely_order(c("2 years", "1 year", "3 years")),
                   c("1 year", "2 years", "3 years"))
  expect_null(likely_order(c("2 cows", "1 goat", "3 sheep")))
  # answers that only one of two waves has keep their order
  P <- matrix(c(0.4, 0.2, 0.3, 0.1), 2, dimnames = list(c("a", "b"), c("b", "c")))
  pairs <- pairs_of_change(P)
  expect_identical(paste(pairs$from, pairs$to), c("a b", "a c", "b c"))
})
