# Records that stay where they are: the same tally from memory, from files in
# chunks and from every database that is here. Oracle: the records in memory.

# What may be done to a survey before its table is made.
ways <- list(
  plain = function(p) crosstab(p, ferry, island),
  alone = function(p) crosstab(p, ferry),
  each = function(p) {
    crosstab(regroup(p, ferry, Bad = c("Very dissatisfied", "Dissatisfied")),
             ferry, island, each = tenure)
  },
  bare_condition = function(p) {
    crosstab(among(p, age >= 18 & island == "Norrey"), ferry, tenure)
  },
  words = function(p) {
    crosstab(among(p,
                   "age >= 18 & age < 60 & !is.na(tenure) | ferry %in% c('Satisfied')"),
             ferry, mode)
  },
  a_variable = function(p) {
    oldest <- 65
    crosstab(among(among(p, age <= oldest), island != "Tarn"), ferry, tenure)
  },
  an_expression = function(p) {
    crosstab(among(p, nchar(as.character(island)) > 4), ferry, tenure)
  },
  bands = function(p) {
    crosstab(band(p, age, breaks = c(18, 35, 65)), ferry, age)
  },
  bands_right = function(p) {
    crosstab(band(p, age, breaks = c(30, 50), closed = "right", into = "old"),
             old, tenure)
  },
  bands_joined = function(p) {
    crosstab(band(p, age, breaks = 2:9 * 10, least = 300), ferry, age)
  },
  quarters = function(p) crosstab(band(p, age, n = 4), age, island),
  on_bands = function(p) {
    crosstab(among(band(p, age, breaks = c(18, 35, 65), into = "old"),
                   old != "65 or more"), ferry, old)
  },
  ticked = function(p) {
    crosstab(ticks(p, reasons = c(reason_work, reason_housing, reason_school)),
             reasons, island)
  },
  pairs = function(p) {
    crosstab(combine(p, home = c(tenure, heating)), ferry, home)
  },
  within = function(p) {
    crosstab(subdivide(p, leave, by = internet), ferry, leave_by_internet)
  },
  items = function(p) {
    crosstab(band(score_items(p, comfort = c(internet, ferry), least = 1),
                  comfort, breaks = 1:4), leave, comfort)
  },
  number = function(p) crosstab(score(p, age), age, island),
  means = function(p) {
    crosstab(net(score(p, ferry), ferry,
                 Glad = c("Satisfied", "Very satisfied")), ferry, island)
  },
  jackknife = function(p) {
    crosstab(make_replicates(p, "jackknife"), internet, tenure)
  },
  limited = function(p) {
    crosstab(weigh_to(p, list(leave = c(Yes = 40, No = 60)),
                      limits = c(0.4, 3)), ferry, island)
  })

test_that(paste("every source gives the tally of the records in memory,",
                "whatever is done to the questions"), {
  data <- raw_survey()
  near <- survey_of(suppressMessages(read_records(demo_file("veyra.csv"))))
  mode <- levels(near$data$mode)
  ways$ordered <- function(p) {
    crosstab(retitle(order_answers(p, mode, rev(mode)), mode, "Way"), mode,
             leave)
  }
  tenure <- levels(as_answers(plain_factor(near$data$tenure), "tenure"))
  ways$raked <- function(p) {
    shares <-
      stats::setNames(seq_along(tenure) / sum(seq_along(tenure)), tenure)
    crosstab(weigh_to(p, list(leave = c(Yes = 40, No = 60), tenure = shares)),
             ferry, island)
  }
  sources <- named_sources(data)
  expect_gte(length(sources), 3L)
  for (way in names(ways)) {
    here <- ways[[way]](near)
    # reading Parquet starts a process each time
    some <- if (match(way, names(ways)) %% 4L == 1L) names(sources) else
      setdiff(names(sources), "parquet")
    for (source in some) {
      expect_same_tally(
        here, ways[[way]](survey_of(sources[[source]])),
        paste(way, source))
    }
  }
})
