#' The demo survey
#'
#' A made-up survey of the residents of the Veyra Isles: five islands (strata),
#' some 90 settlements (clusters), and respondents whose weights are calibrated
#' to each island's residents by age group. It has associations of known size
#' built in: island and heating go strongly together, thinking of leaving and
#' the way of answering hardly (yet significantly), season and tenure not at
#' all, and people of one settlement are alike in internet, heating and tenure.
#' A few records have no weight or a weight of 0, and a few ids occur twice.
#'
#' @param n (integer, default 2412) Number of records.
#' @param seed (integer, default 1) The same seed gives the same records on
#'   every machine.
#' @param settlements (integer, default 90) Number of clusters, at least 10.
#' @param wave ("now" or "before", default "now") The survey, or the wave before
#'   it: other people of the same settlements, who were more satisfied with the
#'   ferry and heated less often with heat pumps, were alike in all else, and
#'   were not asked about the turbine.
#' @param complex (TRUE or FALSE, default FALSE) Whether the records have what a
#'   complex survey has, too: `age_group`, to which the weights are calibrated
#'   within islands, known of everybody; the second stage of the sample
#'   (`dwelling`), with how many `settlements` an island and `dwellings` a
#'   settlement has; and a monthly income that some did not tell, imputed five
#'   times (`income_1` to `income_5`).
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return `demo_records()`: data frame of answers, like one from
#'   [read_records()]. `demo_file()`: path of a shipped file.
#' @export
#' @examples
#' str(demo_records(100)[, c("island", "age", "ferry")])
demo_records <- function(n = 2412L, seed = 1L, settlements = 90L,
                         wave = c("now", "before"), complex = FALSE, ...) {
  nothing_else(...)
  wave <- first_of(wave)
  check_choice(wave, c("now", "before"), "wave", environment())
  check_flag(complex, "complex", environment())
  coded_records(demo_codes(n, seed, settlements, wave, complex), demo_codebook(),
                source = list(file = "demo_records()"))
}

#' @rdname demo_records
#' @param name ("veyra.csv", "veyra-before.csv", "veyra.schema.json",
#'   "veyra.plan.yml", "plan.schema.json" or "house.yml") Which shipped file.
#' @export
demo_file <- function(name = "veyra.csv", ...) {
  nothing_else(...)
  folder <- system.file("extdata", package = "fairlattice")
  if (!name %in% list.files(folder)) {
    stop_input(c(tells("no_demo_file_named", name),
                 i = tells("possible_are", list_some(list.files(folder)))),
               "no_file", call = environment())
  }
  file.path(folder, name)
}

demo_codebook <- function() read_codebook(demo_file("veyra.schema.json"))

# Raw codes, as the shipped file has them. The caller's random numbers are left
# as they were.
demo_codes <- function(n, seed, settlements, wave = "now", complex = FALSE) {
  call <- rlang::caller_env()
  for (arg in c("n", "settlements")) {
    if (!is.numeric(get(arg)) || length(get(arg)) != 1L || is.na(get(arg)) ||
          get(arg) < 10) {
      stop_input(tells("whole_number_least_10_not", arg, quote_value(get(arg))),
                 "demo", call = call)
    }
  }
  before <- globalenv()$.Random.seed
  kind <- RNGkind()
  on.exit({
    do.call(RNGkind, as.list(kind))
    if (is.null(before)) rm(".Random.seed", envir = globalenv()) else
      assign(".Random.seed", before, globalenv())
  })
  set.seed(seed, "Mersenne-Twister", "Inversion", "Rejection")
  places <- demo_places(as.integer(settlements))
  beyond <- function(out) {
    columns <- setdiff(names(out), "age_group_known")
    if (complex) cbind(out[columns], demo_complex(out, places)) else out[columns]
  }
  if (wave == "now") return(beyond(demo_answers(as.integer(n), places)))
  # other people of the same places
  set.seed(seed + 1e6)
  then <-
    demo_answers(as.integer(n), places, ferry_then = 0.45, pumps_then = -0.8)
  then$id <- sub("V", "U", then$id, fixed = TRUE)
  beyond(then[names(then) != "turbine"])
}

# What a complex survey has, too; drawn after all else, so that the answers are the
# same with it and without.
demo_complex <- function(records, places) {
  n <- nrow(records)
  at <- match(records$settlement, places$code)
  # dwellings of two people on average; half of an island's settlements, and a sixth
  # of a settlement's dwellings
  homes <- pmax(1L, tabulate(at, length(places$code)) %/% 2L)
  dwelling <- 1L + as.integer(floor(stats::runif(n) * homes[at]))
  met <- tapply(dwelling, at, function(x) length(unique(x)))
  log_income <- 7.3 + 0.25 * (records$tenure %in% 2L) + 0.2 * (records$work %in% 2:3) -
    0.25 * (records$work %in% 5L) + 0.2 * places$wealth[at] + 0.45 * stats::rnorm(n)
  told <- stats::runif(n) > 0.18 - 0.06 * (records$mode == 3L)
  incomes <- lapply(1:5, function(m) {
    # a draw for those who did not tell, from what people like them told
    like <- paste(records$work, records$tenure)
    donor <- stats::ave(seq_len(n), like, FUN = function(rows) {
      known <- rows[told[rows]]
      if (length(known)) known[sample.int(length(known), length(rows), TRUE)] else rows
    })
    own <- ifelse(told, log_income, log_income[donor] + 0.05 * stats::rnorm(n))
    100 * round(exp(own) / 100)
  })
  titled <- function(x, title) structure(x, label = title)
  data.frame(age_group = titled(c("18-34", "35-49", "50-64", "65 or more")[records$age_group_known],
                                "Age group"),
             dwelling = sprintf("%s-%03d", records$settlement, dwelling),
             settlements = 2L * tabulate(places$island, 5L)[places$island[at]],
             dwellings = 6L * as.integer(met[as.character(at)]),
             stats::setNames(as.data.frame(lapply(incomes, titled, "Monthly income")),
                             paste0("income_", 1:5)))
}

# Settlements: their island, size, and what makes people of one place alike.
demo_places <- function(size) {
  share <- c(0.30, 0.24, 0.20, 0.15, 0.11)
  # two settlements an island, at the least
  on <- sort(c(1:5, 1:5, sample.int(5L, size - 10L, TRUE, share)))
  number <- stats::ave(on, on, FUN = seq_along)
  list(island = on,
       code = sprintf("%s%02d", c("N", "S", "H", "T", "O")[on], number),
       size = stats::rgamma(size, 3, 3), cable = stats::rnorm(size),
       wealth = stats::rnorm(size), remote = stats::rnorm(size))
}

# One draw per record from a matrix of weights, one row a record.
draw <- function(weights) {
  upto <- weights
  for (k in seq_len(ncol(weights))[-1L]) upto[, k] <-
    upto[, k - 1L] + weights[, k]
  at <- stats::runif(nrow(weights)) * upto[, ncol(upto)]
  as.integer(1L + rowSums(upto[, -ncol(upto), drop = FALSE] < at))
}

# Ordered answers: a latent value cut into `shares`.
draw_ordered <- function(latent, shares) {
  cut <- stats::qnorm(cumsum(shares)[-length(shares)])
  findInterval(latent, cut) + 1L
}

# `ferry_then` and `pumps_then` are what changed since the wave before.
demo_answers <- function(n, place, ferry_then = 0, pumps_then = 0) {
  with_noise <- function(x, size) x * size + sqrt(1 - size^2) * stats::rnorm(n)
  at <- sample.int(length(place$island), n, TRUE,
                   place$size * c(0.8, 0.9, 1, 1.2, 1.5)[place$island])
  island <- place$island[at]
  age <- as.integer(pmin(96, 18 + floor(78 * stats::rbeta(n, 1.5, 1.7))))
  age_group <- findInterval(age, c(35, 50, 65)) + 1L

  tenure <- draw(exp(outer(place$wealth[at], c(0.9, 0.5, -0.6, -0.8, 0)) +
                       matrix(c(0.9, 0.3, 0.4, 0.2, -0.9), n, 5, TRUE) +
                       outer((age - 50) / 20, c(0.9, -0.2, -0.7, 0, -0.2))))
  heating_by_island <- rbind(c(1, 0.7, 0.4, 0.1, 2), c(1.6, 0.8, 0.9, 0.5, -3),
                             c(0.6, 1.1, 1, 0.9, -3),
                             c(1.9, 0.1, -0.2, 1.3, -3),
                             c(0.9, 0.4, 1.4, 1.6, -3))
  heating_by_island[, 3L] <- heating_by_island[, 3L] + pumps_then
  heating <- draw(exp(heating_by_island[island, ] +
                        outer(place$remote[at], c(0.5, -0.2, -0.5, 0.6, -0.4))))
  way_off <- draw(exp(matrix(c(1.8, 0.5, -0.5, -1), n, 4, TRUE) +
                        outer(place$remote[at], c(0, -0.5, 0.8, 0.3)) +
                        outer(island == 1, c(0, 1.1, -0.3, 0))))
  household <- draw(exp(matrix(c(0.2, 0.5, 0.3, -0.9), n, 4, TRUE) +
                          outer((age - 50) / 20, c(0.5, 0.2, -0.9, -0.5))))
  work <- draw(exp(matrix(c(0, 0.3, 0.4, -0.1, 0), n, 5, TRUE) +
                     outer(pmax(age - 60, 0) / 5, c(-1, -1, -1, -1, 1.2)) +
                     outer(age < 60, c(0, 0, 0, 0, -2.2))))
  season <- sample.int(4L, n, TRUE, c(0.24, 0.42, 0.22, 0.12))
  mode <- sample.int(3L, n, TRUE, c(0.46, 0.38, 0.16))

  ferry_feeling <- with_noise(place$remote[at], 0.35) - 0.3 * (island == 3) +
                   0.35 * (island == 1) - 0.25 * (way_off == 1) + ferry_then
  ferry <- draw_ordered(ferry_feeling, c(0.14, 0.24, 0.22, 0.28, 0.12))
  internet <-
    draw_ordered(with_noise(place$cable[at], 0.6), c(0.18, 0.27, 0.35, 0.20))
  turbine <- draw_ordered(stats::rnorm(n) - 0.35 * scale_age(age) +
                            0.25 * (heating == 3),
                          c(0.13, 0.15, 0.22, 0.29, 0.21))
  years <- draw_ordered(stats::rnorm(n) * 0.85 + 0.6 * scale_age(age),
                        c(0.10, 0.16, 0.21, 0.24, 0.29))
  leaving <- stats::plogis(-0.75 - 0.5 * scale_age(age) -
                             0.33 * (internet - 2.5) - 0.25 * (ferry - 3) +
                             0.3 * (mode == 1) + 0.25 * (tenure == 3))
  leave <- 2L - (stats::runif(n) < leaving)
  reasons <- vapply(c(work = 0.48, housing = 0.36, school = 0.20, health = 0.27,
                      ferry = 0.33, family = 0.24), function(share) {
                        as.integer(stats::runif(n) < share)
                      }, integer(n))
  reasons[, "ferry"] <-
    pmax(reasons[, "ferry"], as.integer(ferry == 1 & stats::runif(n) < 0.5))
  reasons[leave == 2L, ] <- NA

  unanswered <- function(x, shares, codes) {
    u <- stats::runif(n)
    from <- 0
    for (k in seq_along(shares)) {
      x[u >= from & u < from + shares[k]] <- codes[k]
      from <- from + shares[k]
    }
    x
  }
  ferry <- unanswered(ferry, c(0.03, 0.01), c(-1L, -2L))
  ferry[way_off == 3L & stats::runif(n) < 0.4] <- -3L
  out <- data.frame(
    id = demo_ids(n), island, settlement = place$code[at],
    weight = demo_weights(island, age_group),
    age = unanswered(age, 0.006, -2L),
    household, tenure = unanswered(tenure, 0.008, -2L),
    work = unanswered(work, 0.01, -2L), years,
    heating = unanswered(heating, 0.006, -1L),
    internet = unanswered(internet, 0.02, -1L), way_off,
    ferry, turbine = unanswered(turbine, c(0.06, 0.02), c(-1L, -2L)),
    season = unanswered(season, 0.01, -1L), mode,
    leave = unanswered(leave, c(0.025, 0.015), c(-1L, -2L)),
    stats::setNames(as.data.frame(reasons),
                    paste0("reason_", colnames(reasons))))
  cbind(out, demo_statements(place, at, age, ferry_feeling),
        age_group_known = age_group)
}

# Four statements to agree with: who agrees with one, rather agrees with the
# others; a few leave one out.
demo_statements <- function(place, at, age, ferry_feeling) {
  n <- length(at)
  content <- stats::rnorm(n)
  lean <- list(council = 0.3 * place$wealth[at] - 0.1,
               ferry = 0.8 * ferry_feeling - 0.2,
               homes = 0.35 * scale_age(age) - 0.7,
               future = -0.3 * scale_age(age) + 0.2)
  out <- lapply(lean, function(latent) {
    x <- draw_ordered(0.6 * content + 0.8 * stats::rnorm(n) + latent,
                      c(0.12, 0.22, 0.24, 0.28, 0.14))
    u <- stats::runif(n)
    replace(replace(x, u < 0.03, -1L), u >= 0.03 & u < 0.04, -2L)
  })
  stats::setNames(as.data.frame(out), paste0("say_", names(out)))
}

scale_age <- function(age) (age - 52) / 20

# Ids, a few of which occur twice: the last records of the file are second
# visits.
demo_ids <- function(n) {
  number <- seq_len(n)
  second <- seq_len(min(6L, n %/% 100L))
  number[n + 1L - second] <- second * 7L
  sprintf("V%07d", number)
}

# Unequal chances of selection, then calibrated so that each island and age
# group has its share of 21,400 residents.
demo_weights <- function(island, age_group) {
  residents <- outer(c(8600, 5200, 3700, 2500, 1400),
                     c(0.24, 0.26, 0.27, 0.23)) * length(island) / 2412
  start <- exp(0.35 * stats::rnorm(length(island)))
  cell <- island + 5L * (age_group - 1L)
  total <- tapply(start, factor(cell, seq_len(20L)), sum)
  weight <- round(start * (as.vector(residents) / as.vector(total))[cell], 4)
  few <- seq_len(min(4L, length(island) %/% 500L))
  weight[few * 311L] <- NA
  weight[few[few < 4L] * 173L] <- 0
  weight
}
