test_that("a small strength in a sentence shows its first digit", {
  expect_identical(vapply(c(0.3, 0.096, 0.004, 0.00034, 0, 1e-9),
                          strength_words, ""),
                   c("0.30", "0.10", "0.004", "0.0003", "0.00", "0.000000"))
})

test_that("numbers become the text that the table says", {
  expect_identical(format_count(c(0, 999, 1234, 1234567, NA)),
                   c("0", "999", "1,234", "1,234,567", ""))
  expect_identical(format_number(c(0, -0.001, -0.006, 1.005, 2e6, Inf, -Inf, NA,
                                   NaN)),
                   c("0.00", "0.00", "\u22120.01", "1.00", "2e+06", "infinite",
                     "\u2212infinite", "undefined", "undefined"))
  expect_identical(format_percent(c(0, 0.0004, 0.0005, 0.5, 0.9994, 0.9996,
                                    1 - 1e-16, NA), 1L),
                   c("0.0", "<0.1", "0.1", "50.0", "99.9", ">99.9", "100.0",
                     ""))
  expect_identical(format_p(c(0, 1e-300, 0.00099, 0.001, 0.0499, 0.9991, 1,
                              NA)),
                   c("p < 0.001", "p < 0.001", "p < 0.001", "p = 0.001",
                     "p = 0.050", "p > 0.999", "p > 0.999", "p undefined"))
  expect_identical(format_df(c(4, 4.25, 1234)), c("4", "4.2", "1,234"))
  expect_identical(confidence_words(c(0.05, 0.001)), c("95%", "99.9%"))
  expect_identical(format_count(numeric()), character())
  expect_identical(full_digits(c(0.1, 1 / 3, 1e-300)),
                   c("0.1", "0.33333333333333331", "1e-300"))
})

test_that("counts and figures have the digits that C prints, at every size and sign", {
  withr::local_seed(2)
  x <-
    c(stats::rnorm(200) * 10^sample(-3:7, 200L, TRUE), 0, 999.5, 1e5, -999999.5)
  for (digits in 0:3) {
    bare <- gsub("\u2212", "-", format_count(x, digits), fixed = TRUE)
    plain <-
      sub("^-(0[.]?0*)$", "\\1", sprintf("%.*f", digits, round(x, digits)))
    expect_identical(gsub(",", "", bare, fixed = TRUE), plain)
    expect_false(any(grepl("[0-9]{4}", sub("[.].*", "", bare))))
    expect_false(any(grepl("(^|-),|,[0-9]{0,2}(,|[.]|$)", bare)))
    small <- abs(x) < 1e6
    expect_identical(gsub("\u2212", "-", format_number(x[small], digits),
                          fixed = TRUE),
                     sub("^-(0[.]?0*)$", "\\1",
                         sprintf("%.*f", digits, x[small])))
  }
  withr::local_options(fairlattice.decimal_mark = ",",
                       fairlattice.leading_zero = FALSE,
                       fairlattice.minus = "-")
  expect_identical(format_count(-1234.5, 1L), "-1\u00a0234,5")
  expect_identical(format_strength(-0.25), "-,250")
})

test_that("a file's ending is what follows its last point", {
  expect_identical(file_ending(c("a/b.CSV", "a.b/c", "x.tar.gz", "x.",
                                 ".hidden", "a.b-c")),
                   c("csv", "", "gz", "", "hidden", ""))
  expect_identical(file_ending(character()), character())
})

test_that("every negative number has its minus, also among others", {
  expect_identical(format_number(c(-1.5, 2)), c("\u22121.50", "2.00"))
  withr::local_options(fairlattice.decimal_mark = ",",
                       fairlattice.thousands_mark = ".")
  expect_identical(format_number(c(-1.5, 2)), c("\u22121,50", "2,00"))
})

test_that("a share that would round to everybody or nobody says so, on the very border, too", {
  expect_identical(format_percent(c(0.9995, 0.99949, 1, 0.0005, 0.00049, 0), 1),
                   c(">99.9", "99.9", "100.0", "0.1", "<0.1", "0.0"))
})
