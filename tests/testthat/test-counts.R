pasted <- paste0("            p      q   Total\nx          20     10      30\ny          20     50      70\nTotal  ",
                 "    40     60     100")
same_as_hand <- function(x) {
  expect_equal(unname(x$layers[[1]]$n), unname(hand_2x2))
}

test_that("counts in any shape make the table that the records make", {
  hand <- unname(hand_2x2)
  long <- data.frame(a = c("x", "y", "x", "y"), b = c("p", "p", "q", "q"),
                     n = as.vector(hand))
  shapes <- list(hand_2x2, as.table(hand_2x2),
                 data.frame(a = c("x", "y"), p = c(20, 20), q = c(10, 50)),
                 long, pasted, "\tp\tq\nx\t20\t10\ny\t20\t50",
                 "a,p,q\nx,20,10\ny,20,50", "a;p;q\nx;20;10\ny;20;50",
                 "a    p    q\nx   20 (50.0%)   10 (16.7)\ny   20 (50.0%)   50 (83.3)",
                 strsplit(pasted, "\n")[[1]])
  for (shape in shapes) same_as_hand(crosstab_of_counts(shape))
  from_records <- crosstab(records_of(hand_2x2), down, across)
  from_counts <- crosstab_of_counts(hand_2x2)
  expect_equal(tests(from_counts), tests(from_records))
  expect_equal(strength(from_counts), strength(from_records))
  expect_equal(residuals(from_counts), residuals(from_records))
})

test_that("cells are read as they are printed", {
  cases <- c("1,234" = 1234, "1 234" = 1234, "1\u00a0234" = 1234,
             "12'345'678" = 12345678, " 7 " = 7, "-" = 0, "\u2013" = 0,
             "12 (34.5)" = 12, "1,234 (5,5 %)" = 1234)
  expect_equal(parse_count(names(cases))$count, unname(cases))
  expect_equal(parse_count(c("12 (34.5)", "1 (5,25 %)", "7"))[c("percent", "digits")],
               list(percent = c(34.5, 5.25, NA), digits = c(1L, 2L, NA)))
  blank <- crosstab_of_counts("\tp\tq\nx\t20\t\ny\t-\t50")
  expect_equal(as.vector(blank$layers[[1]]$n), c(20, 0, 0, 50))
})

test_that("totals are known by name and by arithmetic, set aside, and checked", {
  unnamed <- rbind(hand_2x2, colSums(hand_2x2))
  same_as_hand(crosstab_of_counts(unnamed))
  # a line of another name is people, even where it adds up by chance
  walk <- crosstab_of_counts(
    "Way\tNorrey\tTarn\nBoat\t20\t10\nBus\t13\t30\nWalk\t33\t40")
  expect_equal(sum(walk$layers[[1]]$n), 146)
  expect_match(cautions(walk)$text, "sum of the others: row \"Walk\"",
               all = FALSE)
  wrong <- sub("40     60     100", "41     60     101", pasted)
  expect_error(crosstab_of_counts(wrong),
               "\"Total\" is no total: it has 41 for \"p\", but the others add up to 40",
               class = "fairlattice_error_counts")
  totals <- attr(attr(recheck(wrong), "crosstab"), "totals")
  expect_equal(totals[totals$side == "row" & totals$printed != totals$worked_out, c("of", "printed", "worked_out")],
               data.frame(of = c("p", "Total"), printed = c(41, 101),
                          worked_out = c(40, 100)), ignore_attr = TRUE)
  three <- matrix(c(1, 2, 3, 4, 5, 6), 2,
                  dimnames = list(c("x", "y"), c("p", "q", "r")))
  # two rows that happen to add up are no total
  expect_equal(dim(crosstab_of_counts(three)$layers[[1]]$n), c(2, 3))
})

test_that("what are no counts are refused with their place", {
  refused <- function(x, pattern) {
    expect_error(crosstab_of_counts(x), pattern,
                 class = "fairlattice_error_counts")
  }
  refused("\tp\tq\nx\t20\tmany\ny\t1\t50",
          "Row \"x\", column \"q\": \"many\" is not a count")
  refused("\tp\tq\nx\t20\t1.5\ny\t1\t50", "column \"q\": 1.5 is not a count")
  refused("   p   q\nx   20   10   3\ny   1   50", "Line 2 .* has 4 cells")
  refused(matrix(c(1, -1, 2, 3), 2), "-1 is not a count")
  refused(matrix(c(1, NA, 2, 3), 2), "missing")
  refused("\tp\tp\nx\t20\t1\ny\t1\t50", "Two columns are named \"p\"")
  refused("alone", "fewer than two lines")
  expect_error(crosstab_of_counts(matrix(0, 2, 2)),
               class = "fairlattice_error_nobody")
})

test_that("claims are held to the digits that they were printed with", {
  check <- function(...) recheck(pasted, ...)
  hold <- function(...) {
    data <- check(...)
    data$holds[!grepl("Total", data$claim)]
  }
  X2 <- 64 / 12 + 64 / 18 + 64 / 28 + 64 / 42 # 12.698
  expect_true(hold(statistic = "12.7"))
  expect_true(hold(statistic = 12.7))
  expect_false(hold(statistic = "12.71"))
  expect_false(hold(statistic = "12.690"))
  expect_true(hold(p = "<0.001"))
  expect_false(hold(p = "<0.0001"))
  expect_true(hold(p = "0.0004"))
  expect_false(hold(df = "2"))
  expect_true(hold(v = "0.36"))
  yates <- sum((7.5)^2 / c(12, 18, 28, 42))
  corrected <- check(statistic = format(round(yates, 3)))
  expect_match(corrected$remark[corrected$claim == "statistic"],
               "continuity-corrected")
  expect_true(all(check()$holds))
  expect_error(check(p = "small"), class = "fairlattice_error_claim")
})

test_that("percentages printed the wrong way are named for what they are", {
  text <- "a    p    q\nx   20 (50.0)   10 (16.7)\ny   20 (50.0)   50 (83.3)"
  expect_true(recheck(text, percent = "column")$holds)
  wrong <- recheck(text, percent = "row")
  expect_false(any(wrong$holds))
  expect_match(wrong$remark[1], "they are column percentages")
  slip <- recheck(sub("16.7", "17.6", text), percent = "column")
  expect_identical(slip$claim, "column percentage, x by q")
})

test_that("counts behind rounded percentages are those that brute force finds", {
  withr::local_seed(2)
  for (i in 1:6) {
    M <- matrix(sample(1:9, 6, TRUE), 3)
    base <- colSums(M)
    percent <- round(100 * t(t(M) / base), 0)
    found <- counts_from_percentages(percent, base)
    ways <- vapply(1:2, function(j) {
      grid <- as.matrix(expand.grid(0:base[j], 0:base[j], 0:base[j]))
      grid <- grid[rowSums(grid) == base[j], , drop = FALSE]
      list(grid[apply(abs(100 * t(grid) / base[j] - percent[, j]) <= 0.5 + 1e-9, 2, all), , drop = FALSE])
    }, list(1))
    expect_equal(found$tables, nrow(ways[[1]]) * nrow(ways[[2]]))
    X2 <- unlist(lapply(seq_len(nrow(ways[[1]])), function(a) {
      lapply(seq_len(nrow(ways[[2]])), function(b) {
        table <- cbind(ways[[1]][a, ], ways[[2]][b, ])
        table <- table[rowSums(table) > 0, , drop = FALSE]
        pearson_statistic(table / sum(table), sum(table))
        })
    }))
    expect_equal(found$statistic, range(X2))
    searched <- counts_from_percentages(percent, base, most = 1)
    expect_true(!searched$complete || searched$tables == 1)
  }
  expect_identical(counts_from_percentages(
    cbind(A = c(66.7, 33.3), B = c(50, 50)), c(10, 10))$impossible, "A")
  big <- counts_from_percentages(cbind(A = c(40, 35, 25), B = c(30, 30, 40)),
                                 c(4000, 5000))
  expect_false(big$complete)
  expect_gt(big$statistic[2], big$statistic[1])
  expect_error(counts_from_percentages(cbind(c(50, 50)), 10.5),
               class = "fairlattice_error_percentages")
})

test_that("percentages up to 100 are percentages", {
  found <- counts_from_percentages(cbind(a = c(100, 0), b = c(50, 50)), base = c(4, 6))
  expect_false(is.null(found))
  expect_error(counts_from_percentages(cbind(a = c(101, -1)), base = 4),
               class = "fairlattice_error_percentages")
})

test_that("percentages that are missing, or no percentages, are refused", {
  for (odd in list(c(50, NA), c(50, 101), c(-1, 50)))
    expect_error(counts_from_percentages(cbind(Norrey = odd), 93),
                 class = "fairlattice_error_percentages")
})

test_that("the search tries every number, also the first", {
  for (at in c(1L, 2L, 57L, 100L)) {
    found <- climb(c(100L, 60L), function(pick) -sum((pick - c(at, 1L))^2))
    expect_equal(found, c(at, 1))
  }
})

test_that("a printed percentage leaves half a unit of its last digit, and no more", {
  found <- counts_from_percentages(cbind(a = c(33.3, 66.7)), 1000, digits = 1)
  expect_identical(as.vector(found$least), c(333, 667))
  expect_identical(found$most, found$least)
  found <- counts_from_percentages(cbind(a = c(33.2, 66.7)), 1000, digits = 1)
  expect_identical(found$impossible, "a")
})
