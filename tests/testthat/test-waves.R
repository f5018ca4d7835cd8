# Changes between two waves.

demo_book <- book(read_plan(demo_file("veyra.plan.yml")))

test_that("a change between two waves, and its mark, are those built in", {
  change <- function(down) {
    one <- Find(function(one) one$down[1] == down && !is.null(one$change),
                demo_book$tables)
    fairlattice:::change_frame(one$change)
  }
  ferry <- change("ferry")
  all <- ferry[ferry$column == "All", ]
  expect_true(all(all$change[all$answer %in% c("Very dissatisfied", "Dissatisfied")] >
                    5))
  expect_true(all(all$p_corrected[all$answer %in% c("Very dissatisfied", "Very satisfied")] <
                    0.001))
  heating <- change("heating")
  expect_identical(heating$answer[heating$column == "All" & heating$change > 5 & heating$p_corrected < 0.01],
                   "Heat pump")
  # the shares are those of the two waves by themselves
  then <- respondents(read_records(demo_file("veyra-before.csv"),
                                   demo_file("veyra.schema.json")),
                      weight = weight)
  shares <- as.data.frame(crosstab(among(one_per(then, id, "last"), age >= 18),
                                   heating, island))
  own <- heating[heating$column == "Tarn", ]
  expect_equal(own$before,
               shares$column_percent[shares$across == "Tarn"][match(own$answer, unique(shares$down))],
               tolerance = 1e-8)
  # a report draws the change of all respondents, with these shares
  skip_if_not_installed("ggplot2")
  report <- as_entries(demo_book[1:2], NULL)
  drawn <- Find(function(entry) entry$kind == "result" && !is.null(entry$drawn),
                report)$drawn
  lines <- figures$change$data(figure_data(drawn))
  expect_equal(lines$percent[lines$bar == "2032"],
               all$now[match(lines$piece[lines$bar == "2032"], all$answer)])
  expect_match(figure_data(drawn)$title, "by Wave$")
  turbine <-
    Find(function(one) "turbine" %in% one$down, demo_book$tables)$change
  expect_match(turbine, "wave before has no")
})

test_that("a change under two simple random samples is the plain difference of two shares", {
  withr::local_seed(3)
  sample_of <- function(n, share) {
    data.frame(view = factor(ifelse(runif(n) < share, "yes", "no"),
                             c("yes", "no")),
               place = factor(sample(c("a", "b"), n, TRUE)))
  }
  now <- sample_of(500, 0.5)
  then <- sample_of(400, 0.4)
  b <- book(plan_of(now, across = place, chapters = list(A = "view"),
                    before = then, called = c("old", "new")))
  row <- fairlattice:::change_frame(b$tables[[1]]$change)
  row <- row[row$column == "All" & row$answer == "yes", ]
  p <- c(mean(then$view == "yes"), mean(now$view == "yes"))
  pooled <- (400 * p[1] + 500 * p[2]) / 900
  z <- (p[2] - p[1]) / sqrt(pooled * (1 - pooled) * (1 / 400 + 1 / 500))
  expect_equal(row$change, 100 * (p[2] - p[1]))
  expect_equal(row$p, 2 * pnorm(-abs(z)), tolerance = 1e-8)
  # the waves of one file say the same
  both <- rbind(cbind(now, wave = "new"), cbind(then, wave = "old"))
  both$wave <- factor(both$wave)
  path <- file_with("", ".csv")
  data.table::fwrite(both, path)
  plan <- plan_file(sprintf("records: %s", path), "across: place",
                    "chapters: [{title: A, tables: [view]}]",
                    "before: {question: wave, now: new, then: old}")
  one <- fairlattice:::change_frame(book(read_plan(plan))$tables[[1]]$change)
  one <- one[one$column == "All" & one$answer == "yes", ]
  figures <- c("before", "now", "change", "p")
  expect_equal(one[figures], row[figures], ignore_attr = TRUE)
  # and when it is asked for outside of the plan
  plan <- plan_file(sprintf("records: %s", path), "across: place",
                    "chapters: [{title: A, tables: [view]}]")
  asked <-
    read_plan(plan, before = fairlattice:::wave_in_words("wave = old, new"))
  other <- fairlattice:::change_frame(book(asked)$tables[[1]]$change)
  expect_equal(other[other$column == "All" & other$answer == "yes", figures],
               row[figures], ignore_attr = TRUE)
  expect_error(read_plan(plan, before = list(question = "wave")),
               "question, then and now")
  expect_error(read_plan(plan,
                         before = list(question = "wave", then = "ol",
                                       now = "new")), "Did you mean \"old\"")
  expect_error(fairlattice:::wave_in_words("wave=old"), "two answers")
})

test_that("marks of change cry wolf about as often as they say", {
  withr::local_seed(8)
  settlements <- data.frame(stratum = rep(1:4, each = 10), cluster = 1:40,
                            pull = rnorm(40, 0, 0.4))
  wave <- function(n) {
    at <- sample.int(40L, n, TRUE)
    asked <- lapply(setNames(nm = sprintf("q%d", 1:60)), function(k) {
      factor(findInterval(settlements$pull[at] * sample(c(-1, 1), 1L) +
                            rnorm(n), c(-0.8, 0, 0.8)), 0:3, letters[1:4])
    })
    data.frame(asked, settlements[at, c("stratum", "cluster")],
               w = exp(0.4 * rnorm(n)))
  }
  marked <- unlist(lapply(1:5, function(k) {
    survey <- function(data) {
      respondents(data, weight = w, stratum = stratum, cluster = cluster)
    }
    b <- book(plan_of(survey(wave(700)),
                      chapters = list(A = sprintf("q%d", 1:60)),
                      before = survey(wave(700))))
    vapply(b$tables, function(one) {
      mean(fairlattice:::change_frame(one$change)$p_corrected <= 0.05)
    }, 0)
  }))
  expect_length(marked, 300L) # unrelated tables of four rows each
  expect_gt(mean(marked), 0.025)
  expect_lt(mean(marked), 0.075)
})

test_that("what is new, gone or relabelled is listed, and answers that differ are not compared", {
  then <- demo_records(300, wave = "before")
  now <- demo_records(300)
  levels(now$mode)[2] <- "Paper form"
  attr(now$leave, "label") <- "Has thought of moving away"
  changes <- fairlattice:::questions_changed(now, then)
  expect_identical(changes$change[match(c("turbine", "mode", "leave"), changes$question)],
                   c("new_question", "relabelled", "retitled"))
  expect_identical(unlist(changes[changes$question == "mode", c("before", "now")],
                          use.names = FALSE), c("Paper", "Paper form"))
  b <- book(plan_of(now, across = island,
                    chapters = list(A = c("mode", "turbine", "heating")),
                    before = then))
  expect_match(b$tables[[1]]$change,
               "not the same in all waves; only now: .Paper form.; only before: .Paper.")
  expect_match(b$tables[[2]]$change, "has no")
  expect_s3_class(b$tables[[3]]$change, "fairlattice_banner")
})

# Two waves of four strata that differ, six clusters a stratum and wave, of which
# `both` are visited in both.
two_waves <- function(seed, both) {
  withr::local_seed(seed)
  level <- c(0.2, 0.4, 0.6, 0.8)
  of_wave <- function(wave, homes) {
    do.call(rbind, lapply(1:4, function(h) {
      own <- c(seq_len(both), if (both < 6) 6 * wave + seq_len(6 - both))
      p <- pmin(pmax(level[h] + homes[[h]][own] * 0.1, 0.02), 0.98)
      data.frame(stratum = h, cluster = rep(paste0(h, "-", own), each = 10),
                 q = ifelse(runif(60) < rep(p, each = 10), "yes", "no"))
    }))
  }
  homes <- lapply(1:4, function(h) rnorm(20))
  surveys <- lapply(1:2, function(wave) {
    respondents(of_wave(wave, homes), stratum = stratum, cluster = cluster)
  })
  waves_of_surveys(surveys, c("2030", "2032"))$survey
}

test_that("a change has the standard error that it has, whatever clusters the waves share", {
  for (both in c(0, 3, 6)) {
    found <- vapply(1:150, function(seed) {
      survey <- two_waves(seed, both)
      x <- crosstab(survey, q, !!wave_column)
      e <- x$layers[[1]]$estimate
      share <- ratios_of(outer(as.vector(row(e$P) == 2), 1:2) > 0 &
                           outer(as.vector(col(e$P)), 1:2, `==`),
                         outer(as.vector(col(e$P)), 1:2, `==`) + 0)
      change <- estimated(e, contrasts_of(share, c(-1, 1)))
      c(change$value, sqrt(change$variance), design_df(e))
    }, c(0, 0, 0))
    expect_equal(mean(found[2, ]), sd(found[1, ]), tolerance = 0.15,
                 info = both)
    # clusters less classes
    classes <- if (both %in% c(0, 6)) 1 + (both == 0) else 3
    expect_identical(unique(found[3, ]), 4 * (12 - both) - 4 * classes)
  }
})

# Waves of the same clusters, or of new ones, with a share that moves by `step`
# a wave.
waves_of_people <- function(waves, step, clusters = 24, kept = clusters, n = 20) {
  pull <- rnorm(clusters * waves, 0, 0.3)
  lapply(seq_len(waves), function(t) {
    # of each wave's clusters so many were in the one before
    own <- (t - 1) * (clusters - kept) + seq_len(clusters)
    id <- rep(own, each = n)
    data.frame(stratum = (id - 1) %% 4, cluster = id, w = runif(length(id), 0.5, 2),
               view = factor(ifelse(runif(length(id)) <
                                      plogis(pull[id] + step * (t - 1)), "yes", "no"),
                             c("yes", "no")),
               place = factor(sample(c("a", "b"), length(id), TRUE)))
  })
}

as_wave <- function(data) {
  respondents(data, weight = w, stratum = stratum, cluster = cluster)
}

test_that("four waves: each against the one before or the first, any change, and the trend", {
  withr::local_seed(21)
  waves <- lapply(waves_of_people(4, 0.25), as_wave)
  plan <- function(...) {
    plan_of(waves[[4]], across = place, chapters = list(A = "view"),
            before = waves[1:3], ...)
  }
  b <- book(plan(called = c("2026", "2028", "2030", "2032")), cache = FALSE)
  change <- b$tables[[1]]$change
  rows <- fairlattice:::change_frame(change)
  all <- rows[rows$column == "All" & rows$answer == "yes", ]
  expect_identical(all$from, c("2026", "2028", "2030"))
  expect_identical(all$to, c("2028", "2030", "2032"))
  # the shares are those of each wave by itself
  alone <- vapply(waves, function(wave) {
    cells <- as.data.frame(crosstab(wave, view, place))
    weight <- tapply(cells$weighted, cells$down, sum)
    100 * weight[["yes"]] / sum(weight)
  }, 0)
  expect_equal(all$now, alone[-1], tolerance = 1e-8)
  expect_equal(all$change, diff(alone), tolerance = 1e-8)
  expect_setequal(rows$column, c("All", "a", "b"))
  notes <- sheets_of(change)[[1]]$notes
  expect_match(notes, "Any change over the waves: .*p ", all = FALSE)
  expect_match(notes, "Linear trend, points a wave: \"yes\" \\+", all = FALSE)
  # the slope by hand, by least squares of the four shares
  whole <- single_tables(change)[[1]]$layers[[1]]
  trend <- fairlattice:::wave_trends(whole, "holm", 0.05)[[1]]
  expect_equal(trend$slope, unname(coef(lm(alone / 100 ~ c(1:4)))[2]),
               tolerance = 1e-8)
  expect_identical(trend$p < 0.05, trend$low > 0 | trend$high < 0)
  # a page of the book draws and says it
  page <- withr::local_tempfile(fileext = ".html")
  publish(b, page)
  expect_match(paste(readLines(page), collapse = " "), "Any change over the waves")
  # against the first
  asked <- plan_of(waves[[4]], chapters = list(A = "view"), before = waves[1:3])
  asked$compare$against <- "first"
  first <- fairlattice:::change_frame(book(asked, cache = FALSE)$tables[[1]]$change)
  expect_identical(unique(first$from), "Wave 1")
  expect_equal(first$change[first$answer == "yes"], alone[-1] - alone[1],
               tolerance = 1e-8)
  # against one by its name, under every heading of a question across
  asked <- plan(called = c("2026", "2028", "2030", "2032"))
  asked$compare$against <- "2028"
  named <- fairlattice:::change_frame(book(asked, cache = FALSE)$tables[[1]]$change)
  expect_identical(unique(named$from), "2028")
  expect_identical(unique(named$to[named$column == "a"]), c("2026", "2030", "2032"))
  expect_equal(named$change[named$answer == "yes" & named$column == "All"],
               alone[-2] - alone[2], tolerance = 1e-8)
  expect_error(plan(called = c("a", "b")), "4 different names",
               class = "fairlattice_error_plan")
})

test_that("waves by their files, or as answers of one question, in their order", {
  withr::local_seed(22)
  waves <- waves_of_people(3, 0.3)
  folder <- withr::local_tempdir()
  files <- file.path(folder, sprintf("w%d.csv", 1:3))
  for (k in 1:3) utils::write.csv(waves[[k]], files[k], row.names = FALSE)
  plan <- plan_file(sprintf("records: %s", files[3]),
                    "asked: {weight: w, stratum: stratum, cluster: cluster}",
                    "chapters: [{title: A, tables: [view]}]",
                    sprintf("before: {file: [%s, %s], called: [one, two, three], against: first}",
                            files[1], files[2]))
  of_files <- fairlattice:::change_frame(book(plan, cache = FALSE)$tables[[1]]$change)
  expect_identical(of_files$to, rep(c("two", "three"), 2))
  expect_identical(of_files$from, rep("one", 4))
  one <- do.call(rbind, Map(function(data, year) {
    transform(data, year = year, cluster = cluster)
  }, waves, c("in 2028", "in 2030", "in 2032")))
  path <- file.path(folder, "all.csv")
  utils::write.csv(one, path, row.names = FALSE)
  plan <- plan_file(sprintf("records: %s", path),
                    "asked: {weight: w, stratum: stratum, cluster: cluster}",
                    "chapters: [{title: A, tables: [view]}]",
                    "before: {question: year, then: [in 2028, in 2030], now: in 2032, against: first}")
  of_one <- fairlattice:::change_frame(book(plan, cache = FALSE)$tables[[1]]$change)
  expect_equal(of_one$change, of_files$change, tolerance = 0.05)
  # years are numbers
  utils::write.csv(transform(one, year = sub("in ", "", year)), path, row.names = FALSE)
  lines <- c(sprintf("records: %s", path),
             "asked: {weight: w, stratum: stratum, cluster: cluster}",
             "chapters: [{title: A, tables: [view]}]",
             "before: {question: year, then: [2028, 2030], now: 2032, against: 2028}")
  plan <- do.call(plan_file, as.list(lines))
  by_year <- fairlattice:::change_frame(book(plan, cache = FALSE)$tables[[1]]$change)
  expect_equal(by_year[-(4:5)], of_one[-(4:5)])
  plan <- do.call(plan_file, as.list(sub("against: 2028", "against: 2029", lines)))
  expect_error(book(plan, cache = FALSE), "\"2029\" is none of them",
               class = "fairlattice_error_plan")
  expect_identical(fairlattice:::wave_in_words("year=2028,2030,2032"),
                   list(question = "year", then = c("2028", "2030"), now = "2032"))
})

test_that("the test of any change and of a trend keep their level, with new, same and rotated clusters", {
  withr::local_seed(23)
  for (kept in c(0, 12, 24)) {
    p <- replicate(200, {
      surveys <- lapply(waves_of_people(3, 0, kept = kept, n = 8), as_wave)
      compare <- fairlattice:::waves_of_surveys(surveys, NULL)
      x <- crosstab(compare$survey, down = "view",
                    across = !!fairlattice:::wave_column)
      c(fairlattice:::headline_of(tests_of(x)[[1]])$p,
        fairlattice:::wave_trends(x$layers[[1]], "holm", 0.05)[[1]]$p)
    })
    expect_lt(max(rowMeans(p < 0.05)), 0.1)
    expect_gt(min(rowMeans(p < 0.05)), 0.01)
  }
})

test_that("the population correction goes into a change", {
  withr::local_seed(24)
  variance <- function(size, kept) {
    surveys <- lapply(waves_of_people(2, 0.2, kept = kept), function(data) {
      data$size <- size
      respondents(data, weight = w, stratum = stratum, cluster = cluster,
                  population = size)
    })
    survey <- fairlattice:::waves_of_surveys(surveys, NULL)$survey
    e <- crosstab(survey, down = "view",
                  across = !!fairlattice:::wave_column)$layers[[1]]$estimate
    under <- outer(as.vector(col(e$P)), 1:2, `==`) + 0
    shares <- ratios_of(under * (as.vector(row(e$P)) == 1), under)
    estimated(e, contrasts_of(shares, matrix(c(-1, 1))))$variance
  }
  for (kept in c(0, 24)) {
    withr::with_seed(kept, large <- variance(1e9, kept))
    # of each stratum's 24 / 4 clusters a wave half are visited
    withr::with_seed(kept, half <- variance(12, kept))
    expect_equal(half, large / 2, tolerance = 1e-6, info = kept)
  }
})

test_that("replicate weights of waves go together, or follow each other", {
  withr::local_seed(25)
  # every cluster is left out once, in all waves that it is in
  left_out <- function(data, clusters) {
    W <- vapply(clusters, function(one) {
      of <- (one - 1) %% 4
      mates <- clusters[(clusters - 1) %% 4 == of]
      ifelse(data$cluster == one, 0,
             ifelse(data$stratum == of, data$w * length(mates) / (length(mates) - 1),
                    data$w))
    }, data$w)
    colnames(W) <- paste0("r", seq_along(clusters))
    cbind(data, W)
  }
  change <- function(survey) {
    e <- crosstab(survey, down = "view",
                  across = !!fairlattice:::wave_column)$layers[[1]]$estimate
    under <- outer(as.vector(col(e$P)), 1:2, `==`) + 0
    shares <- ratios_of(under * (as.vector(row(e$P)) == 1), under)
    estimated(e, contrasts_of(shares, matrix(c(-1, 1))))
  }
  of_waves <- function(waves, replicates) {
    surveys <- Map(function(data, clusters) {
      if (!replicates) return(as_wave(data))
      data <- left_out(data, clusters)
      respondents(data, weight = w, replicates = grep("^r[0-9]+$", names(data),
                                                      value = TRUE),
                  replicate_kind = "jkn",
                  replicate_scale = rep(5 / 6, length(clusters)))
    }, waves, lapply(waves, function(data) sort(unique(data$cluster))))
    change(fairlattice:::waves_of_surveys(surveys, NULL)$survey)
  }
  # the same clusters in both: the covariance is in it
  same <- waves_of_people(2, 0.2)
  together <- of_waves(same, TRUE)
  linear <- of_waves(same, FALSE)
  expect_equal(together$value, linear$value, tolerance = 1e-8)
  expect_equal(together$variance, linear$variance, tolerance = 0.1)
  # new clusters, of another number in one wave: one after the other
  fewer <- waves_of_people(2, 0.2, kept = 0)
  fewer[[2]] <- subset(fewer[[2]], cluster <= max(cluster) - 4)
  apart <- of_waves(fewer, TRUE)
  expect_equal(apart$variance, of_waves(fewer, FALSE)$variance, tolerance = 0.15)
  expect_error(fairlattice:::waves_of_surveys(
    list(as_wave(same[[1]]),
         respondents(left_out(same[[2]], 1:24), weight = w,
                     replicates = paste0("r", 1:24), replicate_kind = "jk1")),
    NULL), "all of them have some", class = "fairlattice_error_plan")
})

test_that("pooled waves: an average year, with the clusters that both visited", {
  waves <- lapply(c("before", "now"), function(wave) {
    respondents(demo_records(wave = wave), weight = weight, stratum = island,
                cluster = settlement)
  })
  pooled <- pooled_waves(waves[[1]], waves[[2]], called = c("2028", "2030"))
  share <- function(survey) as.data.frame(shares(crosstab(survey, ferry)))$share
  sums <- vapply(waves, function(one) sum(crosstab(one, ferry)$layers[[1]]$weighted), 0)
  expect_equal(sum(crosstab(pooled, ferry)$layers[[1]]$weighted), mean(sums))
  expect_equal(share(pooled),
               (sums[1] * share(waves[[1]]) + sums[2] * share(waves[[2]])) / sum(sums))
  expect_identical(levels(pooled$data$wave), c("2028", "2030"))
  given <- pooled_waves(waves[[1]], waves[[2]], divide = c(0.9, 0.1))
  expect_equal(share(given), (9 * sums[1] * share(waves[[1]]) + sums[2] * share(waves[[2]])) /
                 (9 * sums[1] + sums[2]))
  # waves of other settlements: the variance of a total is the sum of theirs
  other <- waves[[1]]$data
  other$settlement <- paste(other$settlement, "then")
  apart <- pooled_waves(respondents(other, weight = weight, stratum = island, cluster = settlement),
                        waves[[2]])
  variance <- function(survey) totals_variance(crosstab(survey, ferry)$layers[[1]]$estimate)
  expect_equal(variance(apart), (variance(waves[[1]]) + variance(waves[[2]])) / 4)
  expect_gt(max(abs(variance(pooled) / variance(apart) - 1)), 0.1)
  # margins hold for each wave
  margin <- list(leave = c(Yes = 40, No = 60))
  raked <- do.call(pooled_waves, lapply(waves, weigh_to, margin))
  expect_equal(share_of <- as.data.frame(shares(crosstab(raked, leave)))$share, c(0.4, 0.6))
  expect_true(all(is.na(as.data.frame(shares(crosstab(raked, leave)))$se)))
  # who was left out of a wave before is counted in both together, with those set aside
  once <- do.call(pooled_waves, lapply(waves, function(wave) {
    among(one_per(respondents(wave$data[c(1, 1, seq_len(nrow(wave$data))), ]), id), age > 40)
  }))
  account <- fairlattice:::account_of(crosstab(once, ferry)$tally)$left_out
  twice <- sum(vapply(waves, function(wave) 2L + sum(duplicated(wave$data$id)), 0L))
  expect_identical(account$records[account$code == "another_record"], as.numeric(twice))
  expect_equal(sum(account$records) + fairlattice:::account_of(crosstab(once, ferry)$tally)$used,
               sum(vapply(waves, function(wave) 2L + nrow(wave$data), 0L)))
  expect_error(pooled_waves(waves[[1]]), "two surveys or more", class = "fairlattice_error_plan")
  expect_error(pooled_waves(waves[[1]], waves[[2]], divide = 1), "2 positive numbers")
})

test_that("nothing is compared across a break in the series, and why is said", {
  data <- demo_records(1200)
  data$year <- rep(c("2024", "2026", "2028", "2030", "2032"), 240)
  plan <- function(breaks) {
    path <- withr::local_tempfile(fileext = ".yml", .local_envir = parent.frame())
    writeLines(c("records: {file: x.csv}", "asked: {weight: weight}",
                 "before:", "  question: year", "  now: '2032'",
                 "  then: ['2024', '2026', '2028', '2030']",
                 if (length(breaks)) sprintf("  breaks: ['%s']", breaks),
                 "chapters:", "  - title: Ferry", "    tables: [ferry]"), path)
    read_plan(path, records = data)
  }
  whole <- book(plan(NULL), cache = FALSE)$tables[[1]]$change
  broken <- book(plan("2028: new wording"), cache = FALSE)$tables[[1]]$change
  text <- function(x) gsub("\\s+", " ", paste(format(x), collapse = " "))
  expect_match(text(broken), "From 2028 on the series begins anew \\(new wording\\)")
  pairs <- function(x) {
    one <- single_tables(x)[[1]]
    found <- layer_differences(one, "columns", "holm", 0.05, 0, "previous")
    unique(paste(found$second, found$first))
  }
  expect_identical(pairs(whole), c("2024 2026", "2026 2028", "2028 2030", "2030 2032"))
  expect_identical(pairs(broken), c("2024 2026", "2028 2030", "2030 2032"))
  first <- layer_differences(single_tables(broken)[[1]], "columns", "holm", 0.05, 0, "first")
  expect_identical(unique(first$second), c("2024", "2028"))
  # the trend is that of the waves since the break
  layer <- single_tables(broken)[[1]]$layers[[1]]
  P <- layer$estimate$P
  own <- apply(P[, 3:5] / rep(colSums(P)[3:5], each = nrow(P)), 1,
               function(y) stats::coef(stats::lm(y ~ seq_along(y)))[2])
  trends <- wave_trends(layer, "holm", 0.05, "2028")
  expect_equal(vapply(trends, `[[`, 0, "slope"), unname(own))
  expect_error(plan("2023"), "no wave|2023")
})

test_that("where everybody is a cluster of their own, strata are those of each wave", {
  waves <- lapply(c("before", "now"), function(wave) {
    respondents(demo_records(200, wave = wave), weight = weight, stratum = island)
  })
  units <- waves_of_surveys(waves, c("old", "new"))$survey$design$units
  expect_identical(nrow(units), 10L)
  expect_true(all(grepl(" \\((old|new)\\)$", units$stratum)))
  expect_equal(sum(units$sampled[grepl("old", units$stratum)]),
               sum(!is.na(waves[[1]]$data$weight)))
})
