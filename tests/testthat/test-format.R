test_that("a small strength in a sentence shows its first digit", {
  expect_identical(vapply(c(0.3, 0.096, 0.004, 0.00034, 0, 1e-9), strength_words, ""),
                   c("0.30", "0.10", "0.004", "0.0003", "0.00", "0.000000"))
})

test_that("numbers become the text that the table says", {
  expect_identical(format_count(c(0, 999, 1234, 1234567, NA)), c("0", "999", "1,234", "1,234,567", ""))
  expect_identical(format_number(c(0, -0.001, -0.006, 1.005, 2e6, Inf, -Inf, NA, NaN)),
                   c("0.00", "0.00", "\u22120.01", "1.00", "2e+06", "infinite", "\u2212infinite", "undefined", "undefined"))
  expect_identical(format_percent(c(0, 0.0004, 0.0005, 0.5, 0.9994, 0.9996, 1 - 1e-16, NA), 1L),
                   c("0.0", "<0.1", "0.1", "50.0", "99.9", ">99.9", "100.0", ""))
  expect_identical(format_p(c(0, 1e-300, 0.00099, 0.001, 0.0499, 0.9991, 1, NA)),
                   c("p < 0.001", "p < 0.001", "p < 0.001", "p = 0.001", "p = 0.050", "p > 0.999", "p > 0.999",
                     "p undefined"))
  expect_identical(format_df(c(4, 4.25, 1234)), c("4", "4.2", "1,234"))
  expect_identical(confidence_words(c(0.05, 0.001)), c("95%", "99.9%"))
  expect_identical(format_count(numeric()), character())
  expect_identical(full_digits(c(0.1, 1 / 3, 1e-300)), c("0.1", "0.33333333333333331", "1e-300"))
})
