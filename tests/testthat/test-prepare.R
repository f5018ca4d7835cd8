ferry <- factor(c("bad", "poor", "good", "fine", NA),
                c("bad", "poor", "good", "fine"), ordered = TRUE)

test_that("answers are joined, renamed, reordered and set to missing, and the table says so", {
  joined <- regroup(ferry, Low = c("bad", "poor"))
  expect_identical(as.character(joined), c("Low", "Low", "good", "fine", NA))
  expect_identical(levels(joined), c("Low", "good", "fine"))
  expect_true(is.ordered(joined))
  expect_false(is.ordered(regroup(ferry, Ends = c("bad", "fine"))))
  expect_identical(levels(regroup(ferry, fine = "fine", good = "good",
                                  Low = c("poor", "bad"))),
                   c("fine", "good", "Low"))
  expect_identical(levels(regroup(ferry, Low = "bad", other = "Rest")),
                   c("Low", "Rest"))
  gone <- regroup(ferry, missing = c("Not counted" = "poor"))
  expect_identical(is.na(gone), c(FALSE, TRUE, FALSE, FALSE, TRUE))
  back <-
    regroup(demo_records(), ferry, Undecided = c("Neither", "Don't know"))$ferry
  expect_equal(sum(back == "Undecided", na.rm = TRUE),
               sum(demo_records()$ferry %in% c("Neither", "Don't know")))
  data <- data.frame(ferry, place = c("p", "q", "p", "q", "p"))
  x <- crosstab(regroup(respondents(data), ferry, Low = c("bad", "poor")),
                ferry, place)
  expect_true(any(grepl("ferry: \"Low\" combines \"bad\", \"poor\"", format(x),
                        fixed = TRUE)))
  expect_error(regroup(data, ferry, Low = "bads"), "Did you mean \"bad\"",
               class = "fairlattice_error_no_answer")
  expect_error(regroup(ferry, A = "bad", B = "bad"), "named twice",
               class = "fairlattice_error_regroup")
  expect_error(regroup(ferry, "bad"), "needs its name",
               class = "fairlattice_error_regroup")
})

test_that("joining answers of the records is joining rows of the table", {
  data <- messy_records(300)
  of <- function(data) {
    crosstab(respondents(data, weight = w), down, across)$layers[[1]]$weighted
  }
  expect_equal(unname(of(regroup(data, down, ab = c("a", "b")))),
               unname(rowsum(of(data), c(1, 1, 2))))
})

test_that("bands hold every number once, with labels that say what is in them", {
  cases <- list(
    list(list(breaks = c(18, 25, 65)), 17:66,
         c("17 or less", "18\u201324", "25\u201364", "65 or more")),
    list(list(breaks = c(18, 65)), 18:66, c("18\u201364", "65 or more")),
    list(list(breaks = c(18, 65), closed = "right"), 17:66,
         c("18 or less", "19\u201365", "66 or more")),
    list(list(breaks = c(1, 2)), c(0.5, 1, 2.5),
         c("under 1", "1 to under 2", "2 or more")),
    list(list(breaks = c(1, 2), closed = "right"), c(0.5, 2, 2.5),
         c("1 or less", "over 1 to 2", "over 2")),
    list(list(width = 10), c(5, 15, 29),
         c("0\u20139", "10\u201319", "20 or more")),
    list(list(breaks = 1:4), c(1, 2, 3, 4), c("1", "2", "3", "4 or more")))
  for (case in cases) {
    bands <- do.call(band, c(list(case[[2]]), case[[1]]))
    expect_identical(levels(bands), case[[3]])
    expect_false(anyNA(as.integer(bands)))
    expect_false(is.unsorted(as.integer(bands)))
  }
  expect_identical(as.character(band(c(17, 18, 24, 25), breaks = c(18, 25))),
                   c("17 or less", "18\u201324", "18\u201324", "25 or more"))
})

test_that("bands of equal count follow the weights, and small ones are joined", {
  withr::local_seed(1)
  age <- sample(18:90, 4000, TRUE)
  expect_lt(diff(range(table(as.integer(band(age, n = 4))))), 120) # a year has about 55
  data <- data.frame(age, w = ifelse(age < 40, 3, 1))
  bands <- band(respondents(data, weight = w), age, n = 3)$data$age
  sums <- tapply(data$w, as.character(bands), sum)
  expect_lt(diff(range(sums)) / sum(sums), 0.05)
  few <- band(c(1, 1, 1, 2, 3, 3, 3, 9), breaks = 1:9, least = 3)
  expect_true(all(table(as.integer(few)) >= 3))
  # worked by hand: 1 joins 4, then 1 joins 1, then 2 joins 5
  expect_identical(join_small(c(5, 1, 4, 1, 1), 3), c(1L, 2L, 2L, 2L, 2L))
  expect_error(band(age, breaks = c(5, 3)), "increasing",
               class = "fairlattice_error_band")
  expect_error(band(age), "one of", class = "fairlattice_error_band")
  expect_error(band(age, breaks = 30, labels = c("a", "b", "c")), "2 bands",
               class = "fairlattice_error_band")
  expect_error(band(demo_records(), ferry, n = 2), "not a number",
               class = "fairlattice_error_band")
  reasons <- band(demo_records(), age, n = 3)$age
  expect_equal(sum(reasons == "Prefer not to say", na.rm = TRUE),
               sum(is.na(demo_records()$age)))
})

test_that("pairs of answers and scores are what they say", {
  data <- demo_records()
  pairs <- combine(data, home = c(tenure, leave))$home
  expect_identical(is.na(pairs), is.na(data$tenure) | is.na(data$leave))
  expect_equal(sum(pairs == "Mortgage, Yes", na.rm = TRUE),
               sum(data$tenure == "Mortgage" & data$leave == "Yes",
                   na.rm = TRUE))
  scored <- score_items(data.frame(a = ferry, b = c(10, NA, 1, NA, NA)),
                        s = c(a, b), least = 1)$s
  expect_equal(as.vector(unclass(scored))[1:4], c(5.5, 2, 2, 4))
  expect_true(is.na(scored[5]))
  expect_equal(as.vector(unclass(score_items(
                                   data.frame(
                                     a = ferry, b = c(10, NA, 1, NA, NA)),
                                   s = c(a, b), by = "sum")$s))[c(1, 3)],
               c(11, 4))
  expect_error(score_items(data, s = c(tenure, leave)), "no order",
               class = "fairlattice_error_combine")
  expect_error(combine(data, c(tenure, leave)), "one new name",
               class = "fairlattice_error_combine")
})

test_that("one record a person, the rest accounted for, and the design made anew", {
  data <- demo_records()
  for (keep in c("first", "last", "age >= 60")) {
    kept <- one_per(data, id, keep)
    expect_false(anyDuplicated(kept$id) > 0)
    x <- crosstab(respondents(kept, weight = weight, id = id), ferry, island)
    f <- findings(x)
    expect_equal(f$base$used + sum(f$base$left_out$records), 2412)
    expect_false("repeated_ids" %in% f$cautions$code)
    survey <- one_per(among(respondents(data, weight = weight, id = id),
                            age > 30), id, keep)
    again <- findings(crosstab(survey, ferry, island))
    expect_equal(again$base$used + sum(again$base$left_out$records), 2412)
  }
  # what is known of a column stays with it
  titled <- score(data, age)
  attr(titled$settlement, "label") <- "Where they live"
  for (name in c("settlement", "age", "ferry")) expect_mapequal(
    attributes(one_per(titled, id)[[name]]), attributes(titled[[name]]))
  expect_equal(one_per(data, id, "last")$age[match("V0000007", one_per(data, id, "last")$id)],
               data$age[max(which(data$id == "V0000007"))])
})

test_that("a sparse table is mended by the smallest joins, and only when told", {
  x <- crosstab(demo_records(60), ferry, island)
  proposal <- regroup_sparse(x)
  expect_true("sparse" %in% cautions(x)$code)
  mended <- regroup_sparse(x, apply = TRUE)
  expect_identical(proposal$mended, !"sparse" %in% cautions(mended)$code)
  expect_equal(sum(mended$layers[[1]]$n), sum(x$layers[[1]]$n))
  ordered <- strsplit(proposal$steps$joined[proposal$steps$question == "Satisfaction with the ferry"],
                      " + ", fixed = TRUE)
  scale <-
    setdiff(levels(demo_records()$ferry), attr(demo_records()$ferry, "missing"))
  for (joined in ordered) expect_true(all(diff(match(joined, scale)) == 1))
  headline <- function(x) subset(tests(x), headline)$p
  expect_equal(proposal$tests$p, c(headline(x), headline(mended)))
  expect_identical(nrow(regroup_sparse(crosstab(
    demo_survey(), leave, mode))$steps), 0L)
  expect_true(any(grepl("combines", format(mended))))
  expect_error(regroup_sparse(crosstab(demo_survey(), leave, mode,
                                       each = island)),
               class = "fairlattice_error_regroup")
})

test_that("waves become records, and nobody's answer is lost", {
  wide <- data.frame(id = 1:3, place = c("p", "q", "p"),
                     a_1 = factor(c("x", "y", NA)),
                     a_2 = factor(c("y", "x", "x")), b_1 = c(1, NA, NA),
                     b_2 = 4:6)
  long <- waves_long(wide, c("a", "b"))
  expect_identical(paste(long$id, long$wave),
                   c("1 1", "2 1", "1 2", "2 2", "3 2"))
  expect_identical(as.character(long$a), c("x", "y", "y", "x", "x"))
  expect_equal(long$b, c(1, NA, 4, 5, 6))
  expect_true("repeated_ids" %in%
                cautions(crosstab(respondents(long, id = id), a, place))$code)
  expect_error(waves_long(wide, "c"), class = "fairlattice_error_waves")
  expect_error(waves_long(cbind(wide, b_3 = 1), c("a", "b")), "\"3\" is in one",
               class = "fairlattice_error_waves")
})

test_that("weights cut to limits still add up, whether or not they settle", {
  data <- demo_records(300)
  for (limits in list(c(0.8, 1.25), c(0.5, 2))) {
    survey <- suppressWarnings(
      weigh_to(data,
               list(island = c(Norrey = 60, Sandholm = 10, "Harrow Skerry" = 10,
                               Tarn = 10, "Outer Veyra" = 10)),
               limits = limits))
    expect_equal(sum(survey$weight), 300)
    expect_true(all(survey$weight >= limits[1] - 1e-9 &
                      survey$weight <= limits[2] + 1e-9))
  }
})

test_that("two answers on a side are never joined into one", {
  n <- matrix(c(1, 2, 30, 40, 1, 1), 2,
              dimnames = list(c("x", "y"), c("p", "q", "r")))
  mended <- regroup_sparse(crosstab_of_counts(n, totals = FALSE), apply = TRUE)
  expect_identical(rownames(mended$layers[[1]]$n), c("x", "y"))
  expect_equal(ncol(mended$layers[[1]]$n), 2)
})

test_that("waves are taken in the order that is asked for, and no others", {
  wide <- data.frame(id = 1:3, ferry_2032 = c("a", "b", "a"),
                     ferry_2028 = c("b", "b", "a"), ferry_2030 = c("a", NA, "b"))
  long <- waves_long(wide, "ferry", waves = c(2028, 2032))
  expect_identical(levels(long$wave), c("2028", "2032"))
  expect_identical(long$ferry[long$id == 1], c("b", "a"))
  expect_identical(names(long), c("id", "wave", "ferry"))
  expect_error(waves_long(wide, "ferry", waves = c("2028", "2031")),
               "ferry_2031", class = "fairlattice_error_waves")
})

test_that("codes, labels and earlier names all call the same answer", {
  data <- data.frame(q = c(1, 2, 2, 3, 98, 1), age = c(20, 99, 30, 98, 40, 50))
  labelled <- label_answers(data, q, c("1" = "Low", "2" = "Middle", "3" = "High"))
  expect_identical(levels(labelled$q), c("Low", "Middle", "High", "98"))
  expect_identical(as.character(labelled$q),
                   c("Low", "Middle", "Middle", "High", "98", "Low"))
  # missing by its code, before and after labels
  without <- regroup(labelled, q, missing = c("Don't know" = "98"))
  expect_identical(is.na(without$q), data$q == 98)
  joined <- regroup(without, q, "Not low" = c("2", "High"))
  expect_identical(as.character(joined$q)[c(1, 2, 4)], c("Low", "Not low", "Not low"))
  for (order in list(c("Not low", "Low"), c("High", "Middle", "Low"), c("3", "2", "1")))
    expect_identical(attr(order_answers(joined, q, order)$q, "levels")[1:2],
                     c("Not low", "Low"))
  expect_identical(attr(net(labelled, q, Some = c("2", "High"))$q, "nets"),
                   list(Some = c("Middle", "High")))
  expect_error(label_answers(data, q, c("7" = "Odd")), "no answer \"7\"",
               class = "fairlattice_error_no_answer")
  expect_error(label_answers(data, q, "Low"), "named by its code",
               class = "fairlattice_error_regroup")
  # a number with values that are none stays a number
  aged <- regroup(data, age, missing = list("Refused" = "98", "no answer" = "99"))
  expect_s3_class(aged$age, "fairlattice_number")
  expect_equal(as.numeric(aged$age), c(20, NA, 30, NA, 40, 50))
  bands <- band(aged, age, breaks = c(18, 35))
  expect_identical(account_in(crosstab(bands, age, q))$left_out$detail, c("Refused", "no answer"))
  expect_error(regroup(data, age, missing = c(Odd = "97")), "only values that it has",
               class = "fairlattice_error_no_answer")
})

test_that("a title is one text that is not empty", {
  data <- demo_records(20)
  for (odd in list(5, c("a", "b"), NA_character_, "", NULL))
    expect_error(retitle(data, ferry, odd), class = "fairlattice_error")
  expect_identical(attr(retitle(data, ferry, "Content")$ferry, "label", exact = TRUE) %||%
                     title_of(retitle(data, ferry, "Content")$ferry, "ferry"), "Content")
})
