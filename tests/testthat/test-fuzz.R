# Any file, any data frame, any argument: a result, or an error of ours.

test_that("whatever is thrown at it, there is a result or an error of ours", {
  fuzz_begin(test_path("fixtures"))
  for (kind in setdiff(names(fuzz_kinds()), "sheet")) {
    cases <- if (kind == "arguments") 1:60 else if (kind %in% slow_kinds)
      1:8 else 1:30
    said <- vapply(cases, function(case) fuzz_case(kind, case), "")
    expect_identical(said[nzchar(said)], character(), info = kind)
  }
})
