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
               "not the same in both waves; only now: .Paper form.; only before: .Paper.")
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
  waves_of_surveys(surveys[[2]], surveys[[1]], c("2030", "2032"))$survey
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
