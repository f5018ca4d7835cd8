# Samples drawn in several stages, with unequal probabilities, and their replicates.
# Definitions: Saerndal, Swensson & Wretman (1992), 4.3; Hajek (1964); Brewer (2002).

# 2 strata of 8 settlements of 6 dwellings of 4 people; 5, 3 and 2 of them drawn.
drawn_in_stages <- function(seed, psus = 5, ssus = 3, people = 2) {
  withr::local_seed(seed)
  isles <- expand.grid(person = 1:4, dwelling = 1:6, place = 1:8, isle = c("Norrey", "Tarn"))
  level <- stats::rnorm(16)[(as.integer(isles$isle) - 1) * 8 + isles$place]
  isles$ferry <- ifelse(stats::runif(nrow(isles)) < stats::plogis(level), "good", "bad")
  isles$sex <- sample(c("f", "m"), nrow(isles), TRUE)
  rows <- unlist(lapply(split(seq_len(nrow(isles)), isles$isle), function(at) {
    lapply(sample(8, psus), function(u) {
      lapply(sample(6, ssus), function(s) {
        sample(at[isles$place[at] == u & isles$dwelling[at] == s], people)
      })
    })
  }))
  out <- isles[rows, ]
  out$w <- 8 / psus * 6 / ssus * 4 / people
  out[c("places", "dwellings", "residents")] <- list(8, 6, 4)
  rownames(out) <- NULL
  out
}
staged <- function(data, ...) {
  respondents(data, weight = w, stratum = isle, cluster = c(place, dwelling),
              population = c(places, dwellings, residents), ...)
}

# The recursive form, by its definition: `z` are scores, weighted already.
recursive_twin <- function(z, stages, sizes) {
  if (!length(stages)) return(0)
  within <- function(z, unit, N, rest) {
    t <- as.vector(tapply(z, unit, sum))
    f <- length(t) / N
    (1 - f) * length(t) * stats::var(t) + f * sum(vapply(rest, identity, 0))
  }
  unit <- stages[[1]]
  rest <- lapply(split(seq_along(z), unit), function(at) {
    recursive_twin(z[at], lapply(stages[-1], `[`, at), sizes[-1])
  })
  within(z, unit, sizes[1], rest)
}
by_stratum <- function(z, data, sizes = c(8, 6, 4)) {
  sum(vapply(split(seq_along(z), data$isle), function(at) {
    recursive_twin(z[at], list(data$place[at], data$dwelling[at], at)[seq_along(sizes)], sizes)
  }, 0))
}
score_of <- function(data) {
  good <- data$ferry == "good"
  data$w * (good - stats::weighted.mean(good, data$w)) / sum(data$w)
}
se_of <- function(survey) as.data.frame(shares(crosstab(survey, ferry)))$se[1]

test_that("every stage counts as far as the one before took a known part", {
  for (seed in 1:3) {
    data <- drawn_in_stages(seed)
    z <- score_of(data)
    survey <- staged(data)
    expect_equal(se_of(survey), sqrt(by_stratum(z, data)))
    expect_equal(layer_df(crosstab(survey, ferry)$layers[[1]]), 10 - 2)
    # two stages: the people of a dwelling are all there are
    two <- respondents(data, weight = w, stratum = isle, cluster = c(place, dwelling),
                       population = c(places, dwellings))
    expect_equal(se_of(two), sqrt(by_stratum(z, data, c(8, 6))))
    # nothing known of the population: ultimate clusters, whatever is named
    plain <- respondents(data, weight = w, stratum = isle, cluster = place)
    expect_equal(se_of(respondents(data, weight = w, stratum = isle,
                                   cluster = c(place, dwelling))), se_of(plain))
    # rates say the same as numbers
    rates <- transform(data, places = 5 / 8, dwellings = 3 / 6, residents = 2 / 4)
    expect_equal(se_of(staged(rates)), se_of(survey))
    # every total too, and a domain's
    totals <- as.data.frame(totals(crosstab(survey, ferry, sex)))
    at <- which(totals$down %in% "good" & totals$across %in% "f")
    t <- data$w * (data$ferry == "good" & data$sex == "f")
    expect_equal(as.numeric(totals$se[at]), sqrt(by_stratum(t, data)))
  }
})

test_that("settlements that were all taken are strata of the next stage", {
  data <- drawn_in_stages(4, psus = 8)
  survey <- staged(data)
  expect_equal(se_of(survey), sqrt(by_stratum(score_of(data), data)))
  expect_equal(layer_df(crosstab(survey, ferry)$layers[[1]]), 16 * (3 - 1))
  all <- drawn_in_stages(5, psus = 8, ssus = 6, people = 4)
  whole <- as.data.frame(shares(crosstab(staged(all), ferry)))
  expect_true(all(is.na(whole[c("low", "high", "se")])))
})

test_that("unequal probabilities: the named approximations, and simple sampling as their case", {
  data <- drawn_in_stages(6)
  rate <- stats::setNames(c(0.3, 0.9, 0.5, 1, 0.4, 0.7, 0.6, 0.8), 1:8)
  data$rate <- rate[data$place]
  data$w <- 2 / data$rate
  z <- score_of(data)
  t_of <- function(at) as.vector(tapply(z[at], data$place[at], sum))
  by_method <- function(centre) {
    sum(vapply(split(seq_along(z), data$isle), function(at) {
      pi <- rate[names(tapply(z[at], data$place[at], sum))]
      t <- t_of(at)[pi < 1]
      pi <- pi[pi < 1]
      n <- length(t)
      sum(n / (n - 1) * (1 - pi) * (t - centre(t, pi))^2)
    }, 0))
  }
  of <- function(...) {
    respondents(data, weight = w, stratum = isle, cluster = place, population = rate, ...)
  }
  expect_equal(se_of(of()),
               sqrt(by_method(function(t, pi) stats::weighted.mean(t, 1 - pi))))
  expect_equal(se_of(of(unequal = "brewer")), sqrt(by_method(function(t, pi) mean(t))))
  # Hartley & Rao with the population's sum of squared rates estimated by that of
  # the rates in the sample, over all pairs, is Brewer's
  pairs <- sum(vapply(split(seq_along(z), data$isle), function(at) {
    pi <- rate[names(tapply(z[at], data$place[at], sum))]
    t <- t_of(at)[pi < 1]
    pi <- pi[pi < 1]
    n <- length(t)
    two <- utils::combn(n, 2)
    sum((1 - pi[two[1, ]] - pi[two[2, ]] + sum(pi) / n) * (t[two[1, ]] - t[two[2, ]])^2) / (n - 1)
  }, 0))
  expect_equal(se_of(of(unequal = "brewer")), sqrt(pairs))
  data$rate <- 5 / 8
  expect_equal(se_of(of()), se_of(respondents(data, weight = w, stratum = isle,
                                              cluster = place, population = places)))
})

test_that("without each unit in turn: of one stage as without stages, and of all of them", {
  data <- drawn_in_stages(7)
  share <- function(tables) cbind(tables[, 2] / (tables[, 1] + tables[, 2]))
  of <- function(survey, values = share) {
    left_out(crosstab(survey, ferry, sex)$layers[[1]]$estimate, values, identity)
  }
  one <- of(respondents(data, weight = w, stratum = isle, cluster = place))
  data[c("places", "dwellings")] <- list(1e9, 1e9)
  expect_equal(of(respondents(data, weight = w, stratum = isle, cluster = c(place, dwelling),
                              population = c(places, dwellings))), one, tolerance = 1e-6)
  # a figure that hardly bends has the variance of its derivatives
  survey <- staged(drawn_in_stages(7))
  e <- crosstab(survey, ferry, sex)$layers[[1]]$estimate
  total <- of(survey, function(tables) cbind(tables[, 1] + tables[, 3]))
  x <- crosstab(survey, ferry)
  expect_equal(sqrt(total$variance), as.data.frame(shares(x))$se[1], tolerance = 0.01)
})

test_that("replicates of all stages have the variance of the recursive form", {
  data <- drawn_in_stages(7)
  survey <- staged(data)
  of_total <- function(survey) {
    x <- crosstab(survey, ferry)
    totals_variance(x$layers[[1]]$estimate)
  }
  # of a total the jackknife is exact
  expect_equal(of_total(make_replicates(survey, "jackknife")), of_total(survey))
  expect_equal(sqrt(of_total(make_replicates(survey, "bootstrap", replicates = 3000))),
               sqrt(of_total(survey)), tolerance = 0.05)
  expect_error(make_replicates(survey, "brr"), "first stage alone",
               class = "fairlattice_error_replicates")
  rows <- strength(crosstab(survey, ferry, sex), "cramers_v", interval = "bootstrap")
  expect_true(rows$low < rows$estimate & rows$estimate < rows$high)
})

test_that("calibrated, in stages, from a database, and joined with another wave", {
  data <- drawn_in_stages(8)
  survey <- weigh_to(staged(data), list(sex = c(f = 190, m = 194)))
  w <- survey$weight
  good <- data$ferry == "good"
  X <- outer(data$sex, c("f", "m"), `==`) + 0
  z <- (good - stats::weighted.mean(good, w)) / sum(w)
  e <- w * (z - as.vector(X %*% solve(crossprod(X * w, X), crossprod(X * w, z))))
  expect_equal(se_of(survey), sqrt(by_stratum(e, data)))
  con <- sqlite_with(data)
  two <- function(records) {
    respondents(records, weight = w, stratum = isle, cluster = c(place, dwelling),
                population = c(places, dwellings))
  }
  expect_equal(se_of(two(dbi_table(con, "answers"))), se_of(two(data)))
  expect_error(se_of(staged(dbi_table(con, "answers"))), "every record",
               class = "fairlattice_error_needs_records")
  joined <- waves_of_surveys(list(staged(data), staged(drawn_in_stages(9))), NULL)$survey
  expect_s3_class(crosstab(joined, ferry, !!wave_column), "fairlattice_crosstab")
  expect_match(format(survey), "place > dwelling", all = FALSE)
})

test_that("what is wrong with stages is told", {
  data <- drawn_in_stages(10)
  refused <- function(pattern, class, ...) {
    expect_error(respondents(data, weight = w, ...), pattern,
                 class = paste0("fairlattice_error_", class))
  }
  refused("more stages than `cluster`", "stages", stratum = c(isle, sex), cluster = place)
  refused("more stages than there are", "stages", cluster = place,
          population = c(places, dwellings, residents))
  data$short <- 2
  refused("fewer", "population", stratum = isle, cluster = c(place, dwelling),
          population = c(places, short))
  data$mixed <- ifelse(data$person == 1, 6, 7)
  refused("one value for all records", "population", stratum = isle,
          cluster = c(place, dwelling), population = c(places, mixed))
  data$mixed <- 8 + (data$place %% 2)
  refused("numbers differ", "population", stratum = isle, cluster = c(place, dwelling),
          population = c(mixed, dwellings))
  data$mixed <- ifelse(data$place == 1, NA, 8)
  data$place[1:2] <- NA
  survey <- respondents(data, weight = w, stratum = isle, cluster = c(place, dwelling))
  expect_match(format(survey), "2 no cluster", all = FALSE)
})

test_that("a single unit that was certain adds nothing to the replicates of its stage", {
  data <- drawn_in_stages(8)
  data <- data[data$isle == "Norrey" | data$place == data$place[data$isle == "Tarn"][1], ]
  data$places[data$isle == "Tarn"] <- 1
  survey <- staged(data)
  factors <- make_replicates(survey, "bootstrap", replicates = 40)$design$replicates$factors
  expect_identical(dim(factors), c(nrow(data), 40L))
  expect_true(all(is.finite(factors)))
})

# ---- populations of the literature, small enough for all their samples ----

# The variance of the estimated total of a number under a design.
variance_of_total <- function(data, ...) {
  data$answer <- factor(data$y)
  e <- crosstab(respondents(data, weight = w, ...), answer)$layers[[1]]$estimate
  totals_variance(e, cbind(as.numeric(levels(data$answer))[e$rows]))
}

test_that("Yates & Grundy's populations: two draws with probabilities in proportion to size", {
  p <- 1:4 / 10
  populations <- list(A = c(0.5, 1.2, 2.1, 3.2), B = c(0.8, 1.4, 1.8, 2.0),
                      C = c(0.2, 0.6, 0.9, 0.8))
  draws <- expand.grid(1:4, 1:4)
  expected <- vapply(populations, function(y) {
    sum(apply(draws, 1, function(i) {
      data <- data.frame(y = y[i], w = 1 / (2 * p[i]), draw = 1:2)
      prod(p[i]) * variance_of_total(data, cluster = draw)
    }))
  }, 0)
  # Yates & Grundy (1953), J Roy Statist Soc B 15:253-261
  expect_equal(unname(expected), c(0.5, 0.5, 0.125))
})

test_that("Cochran's three units of unequal size: over all samples in two stages", {
  # Cochran (1977) Sampling Techniques, ch. 11
  units <- list(c(0, 1), c(1, 2, 2, 3), c(3, 3, 4, 4, 5, 5))
  M <- lengths(units)
  expect_equal(round(vapply(units, stats::var, 0), 3), c(0.5, 0.667, 0.8))
  estimates <- unlist(lapply(combn(3, 2, simplify = FALSE), function(i) {
    first <- combn(M[i[1]], 2, simplify = FALSE)
    lapply(first, function(a) {
      lapply(combn(M[i[2]], 2, simplify = FALSE), function(b) {
        data <- data.frame(y = c(units[[i[1]]][a], units[[i[2]]][b]), unit = rep(i, each = 2),
                           w = 3 / 2 * rep(M[i], each = 2) / 2, N = 3, M = rep(M[i], each = 2))
        c(i[1] + i[2], sum(data$w * data$y),
          variance_of_total(data, cluster = unit, population = c(N, M)))
      })
    })
  }), recursive = FALSE) |> unlist(recursive = FALSE)
  found <- do.call(rbind, estimates)
  # pairs of units are as likely as each other, and so are the samples within one
  chance <- 1 / 3 / as.vector(table(found[, 1])[as.character(found[, 1])])
  expect_equal(sum(chance * found[, 2]), 33) # the population's total
  expect_equal(sum(chance * found[, 3]), sum(chance * (found[, 2] - 33)^2))
  # which is what the formula says: between units and within them
  Y <- vapply(units, sum, 0)
  within <- M^2 * (1 - 2 / M) * vapply(units, stats::var, 0) / 2
  expect_equal(sum(chance * found[, 3]), 9 * (1 - 2 / 3) * stats::var(Y) / 2 + 3 / 2 * sum(within))
})
