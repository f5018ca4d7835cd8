# Wherever a p-value and an interval stand together, they agree: the test rejects
# exactly where the interval leaves out what it tests. And every estimate lies in
# its interval. Tables of all shapes, sizes, strengths, designs and sources; so
# many as FAIRLATTICE_TABLES says (ten thousand take an hour).

tables_tried <- as.integer(Sys.getenv("FAIRLATTICE_TABLES", "120"))

# One made-up survey, by its number.
any_records <- function(k) {
  withr::local_seed(k)
  size <- if (k %% 3 == 0) c(2, 2) else sample(2:5, 2, TRUE)
  n <- sample(c(20, 60, 200, 800), 1)
  P <- matrix(rgamma(prod(size), sample(c(0.3, 1, 5), 1)), size[1]) + 1e-3
  if (runif(1) < 0.5) P <- outer(rowSums(P), colSums(P))
  cell <- sample.int(prod(size), n, TRUE, P)
  cluster <- sample.int(max(4, n %/% 8), n, TRUE)
  # people of one cluster are alike
  if (runif(1) < 0.4) cell <- ifelse(runif(n) < 0.3, cell[cluster], cell)
  data.frame(down = letters[(cell - 1) %% size[1] + 1],
             across = LETTERS[(cell - 1) %/% size[1] + 1],
             each = sample(c("e", "f", "g"), n, TRUE), cluster,
             stratum = cluster %% 2, w = exp(sample(c(0, 0.5), 1) * rnorm(n)))
}

asked_of <- list(
  random = function(data) respondents(data),
  weighted = function(data) respondents(data, weight = w),
  clustered = function(data) respondents(data, weight = w, cluster = cluster),
  stratified = function(data) {
    respondents(data, weight = w, stratum = stratum, cluster = cluster)
  },
  jackknife = function(data) {
    make_replicates(respondents(data, weight = w, cluster = cluster), "jackknife")
  })

# Statements of a table: value (where it must lie in the interval), p, interval,
# and what the test says that the figure is.
stated <- function(what, p, low, high, null = 0, value = NA_real_) {
  data.frame(what = rep_len(what, length(p)), p, low, high,
             null = rep_len(null, length(p)), value = rep_len(value, length(p)))
}

statements_of <- function(survey, data) {
  scores <- sort(unique(data$down))
  scores <- stats::setNames(seq_along(scores), scores)
  x <- crosstab(survey, down = "down", across = "across", p = "asymptotic")
  measured <- strength(x, "all")
  test <- tests(x)
  test <- test[test$headline, ]
  v <- measured[measured$measure == "cramers_v", ]
  pairs <- differences(x, least_base = 0)
  rest <- differences(x, "rest", least_base = 0)
  means <- attr(means(crosstab(score(survey, down, scores = scores), down = "down",
                               across = "across")), "pairs")
  rows <- list(
    stated(measured$measure, measured$p, measured$low, measured$high,
           value = ifelse(is.na(measured$corrected), measured$estimate,
                          measured$corrected)),
    if (nrow(v) && test$test %in% c("pearson", "rao_scott_corrected"))
      stated("V", test$p, ifelse(v$low > 0, v$low, -1), v$high),
    stated("difference", pairs$p, pairs$low, pairs$high, value = pairs$difference),
    stated("from the rest", rest$p, rest$low, rest$high, value = rest$difference),
    stated("means", means$p, means$low, means$high, value = means$difference))
  if (x$tally$design$weighted) {
    totals <- attr(totals(x), "pairs")
    rows <- c(rows, list(
      stated("totals", totals$p, totals$low, totals$high, value = totals$difference),
      stated("ratio", totals$p, totals$ratio_low, totals$ratio_high, 1, totals$ratio)))
  }
  if (nrow(x$layers[[1]]$n) == 2L) {
    found <- risks(x)
    by <- paste(found$compared, found$outcome)
    p <- found$estimate[found$figure == "p"][match(by, by[found$figure == "p"])]
    for (name in c("difference", "relative_risk", "odds_ratio")) {
      own <- found$figure == name
      rows <- c(rows, list(stated(name, p[own], found$low[own], found$high[own],
                                  if (name == "difference") 0 else 1,
                                  found$estimate[own])))
    }
  }
  do.call(rbind, rows)
}

expect_agreement <- function(found, k) {
  found <- found[!is.na(found$low), ]
  inside <- is.na(found$value) |
    found$low <= found$value + 1e-9 & found$value <= found$high + 1e-9
  expect_identical(found$what[!inside], character(), info = k)
  tested <- found[!is.na(found$p), ]
  expect_identical(tested$what[(tested$p < 0.05) !=
                                 (tested$low > tested$null | tested$high < tested$null)],
                   character(), info = k)
}

test_that("tests and intervals agree, and estimates lie in their intervals", {
  met <- character()
  for (k in seq_len(tables_tried)) {
    kind <- names(asked_of)[1L + k %% length(asked_of)]
    data <- any_records(k)
    found <- tryCatch(statements_of(asked_of[[kind]](data), data),
                      fairlattice_error_one_answer = function(e) NULL)
    if (is.null(found)) next
    met <- union(met, found$what[!is.na(found$p) & !is.na(found$low)])
    expect_agreement(found, paste(k, kind))
  }
  known <- c("gamma", "V", "difference", "from the rest", "means", "totals", "ratio",
             "relative_risk", "odds_ratio")
  expect_identical(setdiff(known, met), character())
})

test_that("the same holds of records in chunks and in a database, with the same figures", {
  # without one cluster of 106 nobody is left in an answer
  for (k in c(106L, seq_len(max(3L, tables_tried %/% 50L)))) {
    data <- any_records(k)
    kind <- c("weighted", "clustered", "stratified")[1L + k %% 3L]
    here <- statements_of(asked_of[[kind]](data), data)
    for (there in list(records_in_chunks(folder_of_parts(data)),
                       dbi_table(sqlite_with(data), "answers"))) {
      found <- statements_of(asked_of[[kind]](there), data)
      expect_agreement(found, paste(k, kind))
      expect_equal(found, here, tolerance = 1e-9, info = k)
    }
  }
})

test_that("the common odds ratio leaves 1 exactly where Mantel-Haenszel's test does", {
  for (k in seq_len(tables_tried %/% 2L)) {
    withr::local_seed(k)
    n <- sample(c(80, 400), 1)
    data <- data.frame(down = sample(c("x", "y"), n, TRUE),
                       across = sample(c("p", "q"), n, TRUE),
                       each = sample(letters[1:3], n, TRUE))
    more <- data$across == "p" & runif(n) < sample(c(0, 0.2, 0.3), 1)
    data$down[more] <- "x"
    found <- pooled(crosstab(data, down, across, each = each))
    own <- found$odds_ratios[found$odds_ratios$each == "pooled", ]
    p <- found$tests$p[found$tests$test == "mantel_haenszel"]
    expect_agreement(stated("common odds ratio", p, own$low, own$high, 1, own$estimate), k)
  }
})

test_that("a share leaves out a given one exactly where its test rejects", {
  for (k in seq_len(tables_tried %/% 2L)) {
    data <- any_records(k)
    kind <- names(asked_of)[1L + k %% length(asked_of)]
    found <- test_shares(asked_of[[kind]](data), down)$answers
    expect_agreement(stated("given share", found$p, found$low, found$high,
                            found$against, found$share), paste(k, kind))
  }
})
