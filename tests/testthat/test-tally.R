# The tally against a twin that counts record by record, and its invariants.

twin <- function(data, weight, count) {
  code <- function(x) ifelse(is.na(x), 0L, as.integer(x))
  key <- data.frame(down = code(data$down), across = code(data$across),
                    n = count, w = count * weight, w2 = count * weight^2)
  out <- aggregate(cbind(n, w, w2) ~ down + across, key, sum)
  out[order(out$across, out$down), ]
}

test_that("the tally is what counting record by record gives", {
  for (n in c(1, 7, 400, 70000)) {
    for (weighted in c(TRUE, FALSE)) {
      for (counted in c(TRUE, FALSE)) {
        withr::local_seed(n)
        data <- data.frame(down = factor(
                             sample(c("a", "b", NA), n, TRUE),
                             c("a", "b", "none")),
                           across = factor(sample(1:4, n, TRUE), 1:4))
        weight <- if (weighted) exp(rnorm(n)) else rep(1, n)
        count <- if (counted) sample(1:9, n, TRUE) else rep(1, n)
        data$w <- weight
        data$k <- count
        survey <- respondents(data, weight = !!if (weighted) "w",
                              count = !!if (counted) "k")
        cells <- tally_of(survey, down, across)$cells
        expect_equal(cells[c("down", "across", "n", "w", "w2")],
                     twin(data, weight, count), ignore_attr = TRUE)
        expect_equal(sum(cells$records), n)
      }
    }
  }
})

test_that(paste("the sums do not depend on the number of threads, and the map",
                "gives what the array gives"), {
  data <- messy_records(70001)
  of <- function(data) {
    tally_of(respondents(
      data, weight = w, stratum = stratum,
      cluster = cluster), down, across, each)$cells
  }
  one <- withr::with_options(list(fairlattice.threads = 1L), of(data))
  expect_identical(withr::with_options(
    list(fairlattice.threads = 2L), of(data)), one)
  # a cluster a record makes more possible cells than an array is used for
  data$cluster <- seq_len(nrow(data))
  mapped <- of(data)
  expect_gt(nrow(mapped), 60000)
  expect_equal(rowsum(mapped$w, paste(mapped$down, mapped$across, mapped$each)),
               rowsum(one$w, paste(one$down, one$across, one$each)))
})

test_that("splitting the records in any way and merging gives the same tally", {
  data <- messy_records(500)
  data$answer <- sample(c("zeta", "alpha", "mid"), 500, TRUE) # observed answers, not declared ones
  of <- function(rows) {
    tally_of(respondents(data[rows, ], weight = w, stratum = stratum,
                         cluster = cluster), down, answer, each)
  }
  whole <- of(seq_len(500))
  for (seed in 1:5) {
    withr::local_seed(seed)
    # once so that no part has all clusters
    part <- if (seed == 1) 1 + data$cluster %% 3 else sample(1:3, 500, TRUE)
    merged <- merge(merge(of(which(part == 3)), of(which(part == 1))),
                    of(which(part == 2)))
    for (of_it in c("cells", "records", "down", "across", "each")) expect_equal(
      merged[[of_it]], whole[[of_it]])
    expect_equal(merged$design$units, whole$design$units)
    expect_equal(merged$aside[order(merged$aside$code), ],
                 whole$aside[order(whole$aside$code), ], ignore_attr = TRUE)
  }
  expect_error(merge(whole, tally_of(data, down, answer)),
               class = "fairlattice_error_merge")
})

test_that("every record is in the table or left out for one reason, whatever is wrong with it", {
  for (seed in 1:20) {
    data <- messy_records(200, seed)
    data$cluster[sample.int(200, 3)] <- NA
    survey <- among(respondents(data, weight = w, stratum = stratum,
                                cluster = cluster), "each == 'one'")
    account <- account_of(tally_of(survey, down, across))
    expect_equal(account$used + sum(account$left_out$records), 200)
    kept <- with(data,
                 !is.na(w) & w > 0 & !is.na(cluster) & each %in% "one" &
                   !is.na(down) & !is.na(across))
    expect_equal(account$used, sum(kept))
    expect_true(all(c("no_weight", "zero_weight", "no_cluster", "outside") %in%
                      account$left_out$code))
    # the first question without an answer is the reason
    designed <-
      respondents(data, weight = w, stratum = stratum, cluster = cluster)
    left <- account_of(tally_of(designed, down, across, each))$left_out
    there <- with(data, !is.na(w) & w > 0 & !is.na(cluster) & !is.na(stratum))
    first <- with(data,
                  ifelse(is.na(each), "each",
                         ifelse(is.na(down), "down",
                                ifelse(is.na(across), "across", NA))))
    expected <- table(first[there])
    of_questions <- left$question != ""
    expect_equal(tapply(left$records[of_questions], left$question[of_questions],
                        sum)[names(expected)], expected, ignore_attr = TRUE)
  }
})

test_that("a weight of 3 is not three respondents, but a count of 3 is", {
  data <- data.frame(down = c("a", "b"), across = c("p", "q"), three = 3L)
  weighted <- tally_of(respondents(data, weight = three), down, across)$cells
  counted <- tally_of(respondents(data, count = three), down, across)$cells
  tripled <- tally_of(data[c(1, 2, 1, 2, 1, 2), ], down, across)$cells
  expect_equal(c(sum(weighted$n), sum(weighted$w)), c(2, 6))
  expect_equal(counted[c("n", "w", "w2")], tripled[c("n", "w", "w2")])
})

test_that("reasons are told by their number, each with its code", {
  data <- data.frame(a = c("x", "y", NA, NA, "x", "y"),
                     b = c("p", NA, "p", "q", "q", "p"))
  left <- account_of(tally_of(data, a, b))$left_out
  expect_identical(left,
                   list2DF(list(code = c("no_answer", "no_answer"),
                                question = c("a", "b"), detail = c("", ""),
                                records = c(2, 1))))
})

test_that("tables of what has no answers are left to themselves, the others are tallied at once", {
  data <- demo_records(80)
  data$odd <- as.list(seq_len(80))
  tables <- list(c(down = "leave", across = "mode"), c(down = "leave", across = "odd"),
                 c(down = "tenure", each = "mode"))
  ready <- with_ready_tallies(as_survey(data), tables)$ready
  expect_setequal(ls(ready, all.names = TRUE), c(vapply(tables[-2], ready_key, ""), facts_ready))
})
