# Which questions are related: the ranking, what stands apart, and what is left
# out.

test_that("the ranking is that of the tables one by one, corrected over all of them", {
  survey <- demo_survey()
  found <- related(survey, to = island)
  for (k in c(1L, 4L, 9L)) {
    alone <- crosstab(survey, !!found$question[k], island, keep_empty = FALSE)
    test <- tests(alone)
    v <- strength(alone, "cramers_v")
    expect_equal(found$p[k], test$p[test$headline], info = found$question[k])
    expect_equal(c(found$cramers_v[k], found$low[k], found$high[k]),
                 c(v$estimate, v$low, v$high))
  }
  expect_identical(found$question[[1]], "heating")
  expect_false(is.unsorted(-found$cramers_v[found$apart == "" & !is.na(found$cramers_v)]))
  expect_equal(found$p_corrected[found$apart == ""],
               stats::p.adjust(found$p[found$apart == ""], "BH"))
  expect_false(any(c("weight", "id", "settlement", "island") %in%
                     found$question))
  # a column of the design is no question, so none that was left out
  expect_false("settlement" %in% attr(found, "left_out")$question)
  # of each group how many have what the others are set against
  outcome <- related(demo_survey(), to = leave, questions = tenure)
  x <- rechoose(crosstab(demo_survey(), tenure, leave), explains = "down")
  share <- shares(x)
  told <- regmatches(outcome$strongest, regexec("^(.*) in (.*): ([0-9.]+)%, against ([0-9.]+)%",
                                                outcome$strongest))[[1]]
  own <- share[share$down == told[3] & share$across == told[2], ]
  expect_equal(as.numeric(told[4]), round(100 * own$share, 1))
})

test_that("numbers are banded, ticks taken item by item, and all pairs made once", {
  survey <- ticks(demo_survey(),
                  reasons = c(reason_work, reason_housing, reason_family))
  found <- related(survey, questions = c(age, reasons, tenure, ferry))
  expect_identical(nrow(found), as.integer(choose(6, 2)))
  expect_setequal(c(found$question, found$with),
                  c("age", "reason_work", "reason_housing", "reason_family",
                    "tenure", "ferry"))
  banded <- crosstab(band(survey, age, n = 4), tenure, age, keep_empty = FALSE)
  row <- found[found$question %in% c("age", "tenure") & found$with %in% c("age", "tenure"), ]
  expect_equal(row$cramers_v, strength(banded, "cramers_v")$estimate,
               tolerance = 1e-6)
})

test_that("copies and questions that say the other are set apart, not found", {
  data <- demo_records(600)
  data$copy <- regroup(data$heating, a = "Oil", b = "Electric", c = "Heat pump",
                       d = "Wood or peat", e = "District heating")
  data$place <- factor(paste(data$island, rep_len(1:2, 600)))
  found <- related(data, questions = c(heating, copy, island, place, season))
  apart <- found[found$apart != "", ]
  expect_identical(nrow(apart), 2L)
  expect_match(apart$apart[apart$question == "heating" | apart$with == "heating"],
               "nearly determine one another")
  expect_match(apart$apart[apart$question == "island" | apart$with == "island"],
               "^\"place\" nearly determines \"Island\"")
  expect_true(all(is.na(apart$p_corrected)))
  expect_match(paste(format(found, width = 100), collapse = "\n"), "Set apart")
  # in a book as well
  b <- book(plan_of(data, across = island,
                    chapters = list(A = c("place", "season"))))
  expect_identical(summary(b)$apart[2],
                   "\"place\" nearly determines \"Island\".")
})

test_that("nothing related is found where nothing is, as seldom as is said", {
  withr::local_seed(21)
  false <- vapply(1:60, function(k) {
    data <- as.data.frame(lapply(setNames(nm = paste0("q", 1:9)),
                                 function(name) {
                                   sample(letters[1:3], 250, TRUE)
                                 }))
    any(related(data, to = q1)$p_corrected <= 0.05)
  }, NA)
  expect_lte(sum(false), 8L) # 3 of 60 on average; more than 8 once in 200 runs
})

test_that("what cannot be is refused, and the picture is drawn", {
  expect_error(related(demo_records(100), to = settlement),
               "cannot be set against", class = "fairlattice_error_related")
  expect_error(related(data.frame(a = c("x", "y"))),
               class = "fairlattice_error_related")
  expect_error(related(demo_records(100), too = island), "Did you mean \"to\"")
  skip_if_not_installed("ggplot2")
  found <- related(demo_records(300), to = ferry,
                   questions = c(island, mode, internet))
  dots <- ggplot2::ggplot_build(ggplot2::autoplot(found))$data
  expect_equal(dots[[2]]$x, found$cramers_v)
  field <- ggplot2::ggplot_build(
    ggplot2::autoplot(related(demo_records(300),
                              questions = c(ferry, island, mode))))$data
  expect_identical(nrow(field[[1]]), 6L)
  file <- withr::local_tempfile(fileext = ".png")
  publish(found, file)
  expect_gt(file.size(file), 5000)
  page <- withr::local_tempfile(fileext = ".html")
  publish(found, page)
  expect_match(paste(readLines(page), collapse = ""), "data:image/svg")
})

test_that("titles that begin alike are told apart by their ends", {
  titles <- paste("What residents of the isles say:",
                  c("the council listens to us", "homes can be afforded here",
                    "homes can be afforded here"))
  short <- told_apart(c("Island", titles), 26L)
  expect_identical(anyDuplicated(short), 0L)
  expect_match(short[2], "^\u2026.*listens to us$")
  expect_true(all(nchar(short[1:3]) <= 26))
  survey <- demo_records(300)
  found <- related(survey, questions = c(say_council, say_ferry, say_homes, say_future))
  expect_s3_class(ggplot2::autoplot(found), "ggplot")
})

test_that("the command says the same", {
  run <- call_main("related", demo_file("veyra.csv"), "--to", "island",
                   "--weight", "weight", "--cluster", "settlement",
                   "--question", "heating,season", "--among", "age < 60")
  expect_identical(run$status, 0L)
  expect_match(run$out,
               "2 questions against \"Island\".*Main heating.*Favourite season")
  expect_identical(call_main("related", demo_file("veyra.csv"), "--to",
                             "iland")$status, 1L)
})

test_that("pairs of which one says the other stand apart from the ranked ones", {
  data <- demo_records(300)
  data$isle <- data$island
  found <- related(data, questions = c("island", "isle", "ferry", "leave"))
  lines <- format(found, width = 100)
  apart <- found$apart[found$apart != ""]
  expect_length(unique(apart), 1L)
  below <- grep(apart[1], lines, fixed = TRUE)
  ranked <- grep("Ferry|Satisf|leaving", lines)
  expect_length(below, 1L)
  expect_gt(below, max(ranked))
})
