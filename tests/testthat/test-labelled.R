# Data frames as other readers make them: numbers with labels, values and ranges that
# are no answers, missing values with a tag, dates, with classes of their own or none. In
# every verb they give what the same records give as factors.

# A missing value that carries a letter, as tagged ones do in the bits of its number.
tagged_missing <- function(letter) {
  bytes <- writeBin(NA_real_, raw(), endian = "little")
  bytes[5] <- charToRaw(letter)
  readBin(bytes, "double", endian = "little")
}

# The same answers three times: as factors, as labelled numbers of a class, as labelled
# numbers without one.
n <- 360
opinion <- c("Poor", "Fair", "Good")
made <- withr::with_seed(1, list(
  ferry = sample(c(1:3, 8, 9), n, TRUE, c(3, 4, 3, 0.5, 0.5)),
  harbour = sample(c(1:3, 8, 9), n, TRUE, c(2, 4, 4, 0.5, 0.5)),
  island = sample(1:3, n, TRUE), sex = sample(1:2, n, TRUE),
  work = sample(0:1, n, TRUE), school = sample(0:1, n, TRUE),
  age = sample(c(18:80, 998, 999), n, TRUE)))
labels <- list(ferry = c(Poor = 1, Fair = 2, Good = 3, "Don't know" = 8, Refused = 9),
               harbour = c(Poor = 1, Fair = 2, Good = 3, "Don't know" = 8, Refused = 9),
               island = c(Norrey = 1, Tarn = 2, Sandholm = 3), sex = c(Men = 1, Women = 2),
               work = c(No = 0, Yes = 1), school = c(No = 0, Yes = 1))
titles <- c(ferry = "The ferry", harbour = "The harbour", island = "Island", sex = "Sex",
            work = "For work", school = "For school", age = "Age")

# How a reader says that 8, 9 and 998 up are no answers.
gone_of <- function(name, of_age) {
  if (name == "age") of_age else if (length(labels[[name]]) == 5) c(8, 9)
}
kinds <- list(
  values = function(name, x) {
    structure(as.numeric(x), label = titles[[name]], labels = labels[[name]],
              na_values = gone_of(name, c(998, 999)),
              class = c("haven_labelled_spss", "haven_labelled", "vctrs_vctr", "double"))
  },
  range = function(name, x) {
    structure(as.integer(x), label = titles[[name]],
              labels = if (!is.null(labels[[name]])) stats::setNames(as.integer(labels[[name]]),
                                                                   names(labels[[name]])),
              na_range = gone_of(name, c(998, Inf)))
  },
  tagged = function(name, x) {
    gone <- c("8" = "d", "9" = "r", "998" = "d", "999" = "r")
    tags <- vapply(gone, tagged_missing, 0)
    value <- as.numeric(x)
    at <- match(as.character(x), names(gone))
    if (name == "age" || length(labels[[name]]) == 5) value[!is.na(at)] <- tags[at[!is.na(at)]]
    own <- labels[[name]]
    at <- match(as.character(own), names(gone))
    own[!is.na(at)] <- tags[at[!is.na(at)]]
    structure(value, label = titles[[name]], labels = own,
              class = c("haven_labelled", "vctrs_vctr", "double"))
  })

plain <- list2DF(Map(function(x, name) {
  if (name == "age") return(structure(replace(x, x > 900, NA), label = titles[[name]]))
  out <- factor(x, labels[[name]], names(labels[[name]]),
                ordered = FALSE)
  levels(out)[levels(out) %in% c("Don't know", "Refused")] <- NA
  structure(out, label = titles[[name]])
}, made, names(made)))
labelled <- lapply(kinds, function(kind) {
  list2DF(Map(function(x, name) kind(name, x), made, names(made)))
})
others <- list(weight = rep(c(0.5, 1, 1.5), 120), place = rep(1:36, 10), id = rep(1:180, 2),
               wave = rep(c("then", "now"), 180),
               came = rep(c(TRUE, TRUE, FALSE), 120), day = as.Date("2031-05-01") + rep(0:3, 90))
with_others <- function(data) cbind(data, as.data.frame(others))
surveyed <- function(data) {
  respondents(with_others(data), weight = weight, cluster = place)
}

# Figures, without the reasons of no answer, which a factor does not have.
figures <- function(x) {
  if (inherits(x, "fairlattice_banner") || inherits(x, "fairlattice_crosstab"))
    return(lapply(single_tables(x), function(one) as.data.frame(one)))
  as.data.frame(if (inherits(x, "fairlattice_goodness")) x$answers else x)
}
verbs <- list(
  crosstab = function(s) crosstab(s, ferry, island),
  each = function(s) crosstab(s, ferry, island, each = sex),
  alone = function(s) shares(crosstab(s, ferry)),
  means = function(s) {
    means(crosstab(score(s, ferry, c(Poor = 1, Fair = 2, Good = 3)), ferry, island))
  },
  number = function(s) quantiles(crosstab(score(s, age), age, island)),
  ratios = function(s) ratios(s, age, weight),
  band = function(s) crosstab(band(s, age, breaks = c(18, 40, 60)), age, ferry),
  bands = function(s) crosstab(band(s, age, n = 3), age, ferry),
  regroup = function(s) crosstab(regroup(s, ferry, Not_good = c("Poor", "Fair")), ferry, island),
  missing = function(s) {
    crosstab(regroup(s, ferry, missing = c("Left out" = "Fair")), ferry, island)
  },
  label = function(s) crosstab(label_answers(s, ferry, c(Poor = "Bad")), ferry, island),
  order = function(s) crosstab(order_answers(s, ferry, c("Good", "Fair", "Poor")), ferry, island),
  retitle = function(s) crosstab(retitle(s, ferry, "Boats"), ferry, island),
  net = function(s) crosstab(net(s, ferry, Fine = c("Fair", "Good")), ferry, island),
  ticks = function(s) crosstab(ticks(s, why = c(work, school)), why, island),
  battery = function(s) crosstab(battery(s, say = c(ferry, harbour)), down = say),
  combine = function(s) crosstab(combine(s, both = c(sex, island)), ferry, both),
  items = function(s) {
    ordered <- order_answers(order_answers(s, ferry, opinion), harbour, opinion)
    s <- score_items(ordered, index = c(ferry, harbour))
    crosstab(band(s, index, breaks = c(1, 2, 2.6)), index, island)
  },
  subdivide = function(s) crosstab(subdivide(s, sex, by = island), ferry, sex_by_island),
  among = function(s) {
    crosstab(among(s, age >= 30 & island != "Tarn" & ferry == "Good" | age < 30), ferry, sex)
  },
  among_words = function(s) {
    crosstab(among(s, "ferry %in% c('Good', 'Fair') & age > 40"), sex, island)
  },
  weigh_to = function(s) crosstab(weigh_to(s, list(sex = c(Men = 60, Women = 40))), ferry, island),
  nonresponse = function(s) crosstab(adjust_nonresponse(s, came, within = sex), ferry, island),
  replicates = function(s) crosstab(make_replicates(s, "jackknife"), ferry, island),
  paired = function(s) crosstab(s, ferry, harbour, paired = TRUE),
  shares = function(s) test_shares(s, sex, c(Men = 50, Women = 50)),
  related = function(s) related(s, to = island, questions = c(ferry, sex, age)),
  dates = function(s) crosstab(among(s, day > as.Date("2031-05-01")), ferry, island),
  one_per = function(s) crosstab(one_per(s, id, "last"), ferry, island),
  standardised = function(s) standardised(crosstab(s, ferry, island, each = sex)))

for (kind in names(kinds)) {
  test_that(paste("labelled numbers give what factors give, in every verb:", kind), {
    for (verb in names(verbs)) {
      wanted <- figures(verbs[[verb]](surveyed(plain)))
      found <- figures(verbs[[verb]](surveyed(labelled[[kind]])))
      expect_equal(found, wanted, info = verb)
    }
  })
}

test_that("what is no answer keeps its reason, a title its words", {
  for (kind in names(kinds)) {
    x <- crosstab(respondents(labelled[[kind]]), ferry, island)
    expect_identical(x$tally$down$label, "The ferry")
    reasons <- account_of(x$tally)$left_out
    expect_identical(reasons$records[match(c("Don't know", "Refused"), reasons$detail)],
                     as.integer(c(sum(made$ferry == 8), sum(made$ferry == 9))) + 0)
    seen <- look(labelled[[kind]], "ferry")
    expect_identical(seen$n[match(opinion, seen$answer)],
                     as.numeric(table(factor(made$ferry, 1:3))))
    expect_true(all(c("Don't know", "Refused") %in% seen$answer[seen$missing]))
    # written and read, nothing is lost
    path <- withr::local_tempfile(fileext = ".csv")
    data <- with_others(labelled[[kind]])
    suppressMessages(write_records(data, path))
    again <- suppressMessages(read_records(path))
    expect_equal(figures(crosstab(respondents(again, weight = weight, cluster = place), ferry,
                                  island)),
                 figures(verbs$crosstab(surveyed(labelled[[kind]]))))
  }
})
