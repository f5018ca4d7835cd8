# What is made of several tallies, and what a design adds to one, from every
# source. Oracle: the records in memory.

test_that(paste("tables of several questions, looks, tests of shares,",
                "relations and books are those of memory"), {
  near <- survey_of(suppressMessages(read_records(demo_file("veyra.csv"))))
  questions <- c("ferry", "island", "tenure", "internet", "season", "age")
  figures <- function(p) {
    b <- book(plan_of(p, across = c("island", "tenure"),
                      chapters = list(
                        One = c("heating", "internet"),
                        Two = "ferry")))
    # lines of JSON have their columns in the order in which they first occur
    list(look = as.data.frame(look(p, question = !!names(near$data))),
         shares = test_shares(p, season)$tests,
         related = as.data.frame(related(p, questions = questions)),
         to = as.data.frame(related(p, to = "ferry", questions = questions)),
         book = as.data.frame(summary(b)),
         front = b$front[c("base", "records", "strata", "clusters")],
         overlap = differences(
           crosstab(p, ferry, c(island, tenure), overlap = TRUE)$columns[[1L]]),
         strength = strength(crosstab(p, ferry, island), "all"),
         printed = format(near))
  }
  here <- figures(near)
  sources <- named_sources(raw_survey())
  # read by a process of its own at every pass, of which there are too many here
  sources$parquet <- NULL
  for (source in sources) {
    expect_equal(figures(survey_of(source)), here, tolerance = 1e-9)
  }
})

test_that("counts, weights, replicates and population sizes come through", {
  set.seed(7)
  data <- data.frame(stratum = rep(c("a", "b"), each = 60),
                     cluster = rep(1:12, each = 10),
                     weight = round(stats::runif(120, 0, 3), 2),
                     people = sample(0:3, 120, TRUE),
                     size = rep(c(20, 30), each = 60),
                     down = sample(c("x", "y", "z"), 120, TRUE),
                     across = sample(1:3, 120, TRUE))
  data$weight[c(3, 50)] <- c(NA, 0)
  data$people[9] <- NA
  data$cluster[4] <- NA
  for (r in 1:4) data[[paste0("rep_", r)]] <-
    round(data$weight * stats::runif(120, 0.5, 1.5), 3)
  data$rep_2[11] <- NA
  designs <- list(
    function(x) respondents(x, count = people, weight = weight),
    function(x) {
      respondents(x, weight = weight, stratum = stratum, cluster = cluster,
                  population = size)
    },
    function(x) respondents(x, weight = weight, replicates = "rep_*"),
    function(x) {
      respondents(x, weight = weight, count = people, replicates = "rep_*",
                  replicate_kind = "bootstrap")
    },
    function(x) respondents(x, stratum = stratum), function(x) x)
  sources <- named_sources(data, NULL)
  for (k in seq_along(designs)) {
    here <- crosstab(designs[[k]](data), down, across)
    for (source in if (k %% 3L == 1L) sources else
                     sources[names(sources) != "parquet"]) {
      if (k == 6L) source <- respondents(source)
      expect_same_tally(here, crosstab(designs[[k]](source), down, across))
    }
  }
})
