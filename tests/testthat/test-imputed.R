# Imputed data sets, combined by Rubin's rules. Definitions: Rubin (1987); Barnard & Rubin
# (1999); Li, Raghunathan & Rubin (1991); Meng & Rubin (1992).

imputed_frames <- function(M = 5, n = 360, seed = 1, missing = 0.3) {
  withr::local_seed(seed)
  data <- data.frame(isle = rep(c("Norrey", "Tarn"), n / 2), place = rep(1:24, n / 24),
                     w = stats::runif(n, 0.5, 2), sex = sample(c("f", "m"), n, TRUE))
  data$stratum <- data$place %% 3
  ferry <- stats::rbinom(n, 2, ifelse(data$sex == "f", 0.5, 0.4))
  gone <- stats::runif(n) < missing
  lapply(seq_len(M), function(m) {
    own <- replace(ferry, gone, stats::rbinom(sum(gone), 2, 0.45))
    out <- data
    out$ferry <- factor(own, 0:2, c("bad", "fair", "good"), ordered = TRUE)
    out$income <- round(900 + 200 * own + stats::rnorm(n, 0, 80), -1)
    out
  })
}
of_frames <- function(frames) {
  respondents(frames, weight = w, stratum = stratum, cluster = place)
}
of_one <- function(frame) {
  respondents(frame, weight = w, stratum = stratum, cluster = place)
}

test_that("estimate, standard error, degrees of freedom and missing information, by definition", {
  frames <- imputed_frames()
  found <- as.data.frame(shares(crosstab(of_frames(frames), ferry)))
  each <- lapply(frames, function(frame) as.data.frame(shares(crosstab(of_one(frame), ferry))))
  Q <- vapply(each, function(one) one$share, numeric(3))
  U <- vapply(each, function(one) one$se^2, numeric(3))
  B <- apply(Q, 1, stats::var)
  total <- rowMeans(U) + 1.2 * B
  expect_equal(found$share, rowMeans(Q))
  expect_equal(found$se, sqrt(total))
  expect_equal(found$missing_information, 1.2 * B / total)
  # Barnard & Rubin (1999), (3) to (5), with 24 - 3 degrees of freedom
  lambda <- 1.2 * B / total
  observed <- (21 + 1) / (21 + 3) * 21 * (1 - lambda)
  df <- 1 / (lambda^2 / 4 + 1 / observed)
  logit <- stats::qlogis(found$share)
  half <- stats::qt(0.975, df) * found$se / (found$share * (1 - found$share))
  expect_equal(found$low, stats::plogis(logit - half))
  # means, totals and differences by the same rule
  means <- as.data.frame(means(crosstab(score(of_frames(frames), income), income)))
  one <- vapply(frames, function(frame) {
    unlist(as.data.frame(means(crosstab(score(of_one(frame), income), income)))[c("mean", "se")])
  }, numeric(2))
  expect_equal(means$mean[1], mean(one["mean", ]))
  expect_equal(means$se[1], sqrt(mean(one["se", ]^2) + 1.2 * stats::var(one["mean", ])))
  totals <- as.data.frame(totals(crosstab(of_frames(frames), ferry)))
  one <- vapply(frames, function(frame) {
    unlist(as.data.frame(totals(crosstab(of_one(frame), ferry)))[1, c("total", "se")])
  }, numeric(2))
  expect_equal(totals$se[1], sqrt(mean(one[2, ]^2) + 1.2 * stats::var(one[1, ])))
})

test_that("degrees of freedom at their limits", {
  expect_identical(combined_df(0, 5, Inf), Inf)
  expect_equal(combined_df(0.5, 5, Inf), 4 / 0.25)
  expect_equal(combined_df(0, 5, 20), 21 / 23 * 20)
  expect_lt(combined_df(0.999, 5, 20), 1)
  # all data sets alike: nothing is missing, and nothing but the degrees of freedom changes
  frames <- imputed_frames(3, missing = 0)
  frames[2:3] <- frames[c(1, 1)]
  both <- list(of_frames(frames), of_one(frames[[1]])) |>
    lapply(function(survey) as.data.frame(shares(crosstab(survey, ferry, sex))))
  expect_equal(both[[1]]$se, both[[2]]$se)
  expect_equal(both[[1]]$n, both[[2]]$n)
  expect_true(all(both[[1]]$missing_information < 1e-12))
})

test_that("Rubin's table of the efficiency of so many imputations", {
  # Rubin (1987) Multiple Imputation for Nonresponse in Surveys, table 4.1, in % of standard
  # errors: 2, 3 and 5 imputations, with 10 to 90 % of the information missing
  published <- rbind(c(98, 93, 89, 86, 83), c(98, 95, 93, 90, 88), c(99, 97, 95, 94, 92))
  missing <- c(0.1, 0.3, 0.5, 0.7, 0.9)
  found <- t(vapply(c(2, 3, 5), function(M) {
    values <- sqrt(missing) %o% as.vector(scale(seq_len(M)))
    combined(values, matrix(1 - missing, 5, M), Inf)$variance^-0.5
  }, missing))
  expect_equal(round(100 * found), published)
})

test_that("tests over imputed data sets: D1 and D3 by definition, Rao-Scott with all variance", {
  frames <- imputed_frames()
  x <- crosstab(of_frames(frames), ferry, sex)
  found <- tests(x)
  P <- lapply(frames, function(frame) crosstab(of_one(frame), ferry, sex)$layers[[1]]$estimate)
  d <- vapply(P, function(e) (e$P - e$fit)[1:2, 1], numeric(2))
  U <- Reduce(`+`, lapply(P, function(e) residual_spread(e)$covariance)) / 5
  B <- stats::cov(t(d))
  r <- 1.2 * sum(diag(B %*% solve(U))) / 2
  wald <- drop(rowMeans(d) %*% solve(U, rowMeans(d))) / (2 * (1 + r)) * (21 - 1) / 21
  expect_equal(found$statistic[found$test == "imputed_wald"], wald)
  effect <- vapply(P, function(e) e$effect$mean, 0)
  full <- mean(vapply(P, function(e) 2 * e$n * sum(e$P * log(e$P / e$fit)), 0) / effect)
  middle <- Reduce(`+`, lapply(P, `[[`, "P")) / 5
  fixed <- mean(vapply(P, function(e) {
    2 * e$n * sum(e$P * log(middle / expected_proportions(middle)))
  }, 0) / effect)
  r <- 6 / (2 * 4) * (full - fixed)
  at <- found$test == "imputed_likelihood_ratio"
  expect_equal(found$statistic[at], fixed / (2 * (1 + r)))
  expect_equal(found$df_error[at], min(4 + 4 * (1 + (1 - 2 / 8) / r)^2, 2 * 21))
  total <- residual_spread(x$layers[[1]]$estimate)
  expect_equal(unname(total$covariance), unname(U + 1.2 * B))
  expect_identical(found$test[found$headline], "rao_scott_corrected")
  expect_match(attr(found, "why") %||% paste(format(found), collapse = " "),
               "5 imputed data sets")
  # without weights or a design, too, counts are no longer drawn
  plain <- crosstab(respondents(lapply(frames, `[`, c("ferry", "sex"))), ferry, sex)
  expect_false(counts_were_drawn(plain$layers[[1]]$estimate))
  expect_equal(sum(plain$layers[[1]]$n), 360)
  expect_error(crosstab(respondents(frames), ferry, sex, p = "exact"), "exact")
})

test_that("one data frame, chunks and a database say the same; replicates and ticks, too", {
  frames <- imputed_frames()
  long <- do.call(rbind, Map(function(frame, m) cbind(frame, copy = m), frames, 1:5))
  long$ferry <- as.character(long$ferry)
  from <- function(records) {
    respondents(records, weight = w, stratum = stratum, cluster = place, imputation = copy)
  }
  here <- crosstab(from(long), ferry, sex, each = isle)
  con <- sqlite_with(long)
  folder <- folder_of_parts(long)
  expect_same_tally(here, crosstab(from(dbi_table(con, "answers")), ferry, sex, each = isle))
  expect_same_tally(here, crosstab(from(records_in_chunks(folder)), ferry, sex, each = isle))
  se <- function(survey) as.data.frame(shares(crosstab(survey, ferry, sex)))$se
  expect_equal(se(from(long)), se(of_frames(frames))[c(1, 2, 3, 4, 5, 6)])
  expect_equal(se(make_replicates(of_frames(frames), "jackknife")), se(of_frames(frames)),
               tolerance = 0.03)
  weighed <- weigh_to(of_frames(frames), list(sex = c(f = 50, m = 50)))
  expect_true(all(is.na(as.data.frame(shares(crosstab(weighed, sex)))$se)))
  expect_equal(se(make_replicates(weighed, "jackknife")), se(weighed), tolerance = 0.05)
  # replicate weights that came with the data
  jk <- make_replicates(of_one(frames[[1]]), "jackknife")$design$replicates
  place <- match(paste(frames[[1]]$stratum, frames[[1]]$place),
                 paste(of_one(frames[[1]])$design$units$stratum,
                       of_one(frames[[1]])$design$units$cluster))
  with_replicates <- lapply(frames, function(frame) {
    cbind(frame, stats::setNames(as.data.frame(frame$w * jk$factors[place, ]),
                                 paste0("rep_", seq_along(jk$scale))))
  })
  came <- respondents(with_replicates, weight = w, replicates = "rep_*", replicate_kind = "jkn",
                      replicate_scale = jk$scale, replicate_df = 21)
  expect_equal(se(came), se(make_replicates(of_frames(frames), "jackknife")))
  marked <- lapply(frames, function(frame) {
    frame$a <- as.integer(frame$ferry == "good")
    frame$b <- as.integer(frame$sex == "f")
    frame
  })
  ticked <- crosstab(ticks(of_frames(marked), both = c(a, b)), both, isle)
  expect_equal(as.data.frame(shares(ticked))$se[1],
               as.data.frame(shares(crosstab(of_frames(marked), a, isle)))$se[2])
  # printed again from a file
  path <- withr::local_tempfile(fileext = ".json")
  publish(here, path)
  own <- c("se", "missing_information")
  expect_equal(as.data.frame(shares(read_tables(path)))[own], as.data.frame(shares(here))[own])
  expect_equal(as.data.frame(here)$column_missing_information,
               shares(here)$missing_information)
  expect_match(write_up(crosstab(from(long), ferry, sex)), "over 5 imputed data sets")
  for (down in c("ferry", "sex")) expect_match(
    gsub("\\s+", " ", paste(format(crosstab(from(long), !!down, c("isle", "stratum"))),
                            collapse = " ")), "weighted by w, over 5 imputed data sets")
  laid <- lay_out(here, show = c("column", "missing_information"), source = TRUE)
  expect_match(gsub("\\s+", " ", paste(format(laid), collapse = " ")), "5 imputed data sets")
})

test_that("without each cluster in turn: within every data set, and between them", {
  frames <- imputed_frames()
  values <- function(tables) sqrt(tables[, 2, drop = FALSE])
  of <- function(survey) crosstab(survey, ferry, sex)$layers[[1]]$estimate
  each <- lapply(frames, function(frame) of(of_one(frame)))
  within <- vapply(each, function(e) left_out(e, values, identity)$variance, 0)
  expect_true(all(within > 0))
  expect_equal(left_out(of(of_frames(frames)), values, identity)$variance,
               mean(within) + 1.2 * stats::var(vapply(each, function(e) sqrt(e$P[2]), 0)))
})

test_that("waves of imputed data go together imputation by imputation", {
  now <- imputed_frames()
  then <- lapply(imputed_frames(seed = 2), function(frame) {
    frame$place <- frame$place + 12 # half of the places were visited again
    frame$stratum <- frame$place %% 3
    frame
  })
  # of every figure, what Rubin's rules make of the waves put together one by one
  expect_combined <- function(prepared, before = then) {
    repeats <- function(x) if (is.data.frame(x)) rep(list(x), 5) else x
    of <- function(x) prepared(if (is.data.frame(x)) of_one(x) else of_frames(x))
    change_of <- function(e) {
      wave <- outer(as.vector(col(e$P)), 1:2, `==`) + 0
      rows <- lapply(1:3, function(i) {
        shares <- ratios_of(wave * (as.vector(row(e$P)) == i), wave)
        estimated(e, contrasts_of(shares, matrix(c(-1, 1))))
      })
      data.frame(value = vapply(rows, `[[`, 0, "value"),
                 se = sqrt(vapply(rows, `[[`, 0, "variance")))
    }
    figures <- function(first, last) {
      joined <- waves_of_surveys(list(first, last), NULL)$survey
      list(change = change_of(crosstab(joined, ferry, !!wave_column)$layers[[1]]$estimate),
           pooled = as.data.frame(shares(crosstab(pooled_waves(first, last), ferry)))[
             c("share", "se")])
    }
    whole <- figures(of(before), of(now))
    parts <- Map(function(a, b) figures(prepared(of_one(a)), prepared(of_one(b))),
                 repeats(before), now)
    for (part in names(whole)) {
      values <- vapply(parts, function(one) one[[part]][[1L]], numeric(3))
      within <- rowMeans(vapply(parts, function(one) one[[part]][[2L]]^2, numeric(3)))
      expect_equal(whole[[part]][[1L]], rowMeans(values), tolerance = 1e-6)
      expect_equal(whole[[part]][[2L]], sqrt(within + 1.2 * apply(values, 1, stats::var)),
                   tolerance = 1e-6)
    }
  }
  expect_combined(identity)
  expect_combined(identity, then[[1]]) # a wave that was not imputed
  expect_combined(function(survey) weigh_to(survey, list(sex = c(f = 50, m = 50))))
  expect_combined(function(survey) make_replicates(survey, "jackknife"))
  expect_error(pooled_waves(of_frames(then[1:3]), of_frames(now)), "3, 5",
               class = "fairlattice_error_plan")
  # whoever was set aside in a wave stays aside
  some <- pooled_waves(among(of_frames(then), sex == "f"), of_frames(now))
  expect_equal(sum(crosstab(some, sex)$layers[[1]]$n), 360 + sum(then[[1]]$sex == "f"))
})

test_that("a look at imputed data sets counts people", {
  survey <- of_frames(imputed_frames())
  seen <- as.data.frame(look(survey, c("income", "sex")))
  expect_equal(seen$n[seen$question == "income"], 360)
  expect_equal(sum(seen$n[seen$question == "sex"]), 360)
})

test_that("what is wrong with imputed data sets is told", {
  frames <- imputed_frames(3)
  refused <- function(data, pattern, ...) {
    expect_error(respondents(data, ...), pattern, class = "fairlattice_error_imputation")
  }
  refused(frames[1], "two data frames or more")
  refused(list(frames[[1]], frames[[2]][-1, ]), "number 2 has 359 records")
  other <- frames
  levels(other[[3]]$ferry)[1] <- "awful"
  refused(other, "\"ferry\" of imputed data set 3")
  other <- frames
  other[[2]] <- other[[2]][rev(seq_len(360)), ]
  refused(other, "same people in the same order", cluster = place)
  long <- do.call(rbind, Map(function(frame, m) cbind(frame, copy = m), frames, 1:3))
  refused(long[-1, ], "\"1\" has 359 records", imputation = copy)
  refused(long[1:360, ], "only one imputation", imputation = copy)
  refused(transform(long, copy = replace(copy, 5, NA)), "1 records do not say", imputation = copy)
  tally <- tally_of(respondents(frames), ferry, sex)
  expect_error(merge(tally, tally), "imputed data sets cannot be added")
  expect_error(strength(crosstab(of_frames(frames), ferry, sex), interval = "bootstrap"),
               "no bootstrap intervals")
})
