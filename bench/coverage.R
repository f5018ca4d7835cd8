# Does what is called 5 % happen in 5 of 100 surveys, and is what is called 95 %
# right in 95? A grid of simulated surveys with a known truth; what lies outside
# .03 to .07, or .93 to .97, is listed with the cautions that stand on those
# tables: the tables of docs/VALIDATION.md.
# Rscript bench/coverage.R [surveys a row, default 2000] [parts, default all:
#   random, designs, columns, waves, totals, calibrated, stages, imputed, standards,
#   quantiles]
suppressPackageStartupMessages(library(fairlattice))
ours <- asNamespace("fairlattice")
arguments <- c(commandArgs(TRUE), "2000")
surveys <- as.integer(grep("^[0-9]+$", arguments, value = TRUE)[1L])
parts <- c("random", "designs", "columns", "waves", "totals", "calibrated", "stages",
           "imputed", "standards", "quantiles")
asked <- if (any(parts %in% arguments)) intersect(parts, arguments) else parts
options(fairlattice.threads = 1L, fairlattice.exact_steps = 5e5,
        fairlattice.random_tables = 2e4, width = 200)

inside <- function(low, high, truth) low <= truth + 1e-9 & truth <= high + 1e-9

# ---- the populations ----

v_of <- function(P) sqrt(ours$phi_squared(P) / (min(dim(P)) - 1))

# Uneven margins and a trend along the diagonal, of Cramer's V `v`.
population <- function(r, k, v) {
  a <- seq(1.4, 1, length.out = r)
  b <- seq(1, 1.4, length.out = k)
  even <- outer(a / sum(a), b / sum(b))
  diagonal <- matrix(0, r, k)
  m <- max(r, k)
  for (i in seq_len(m))
    diagonal[ceiling(i * r / m), ceiling(i * k / m)] <- 1 / m
  towards <- function(share) (1 - share) * even + share * diagonal
  if (v == 0) return(even)
  towards(uniroot(function(share) v_of(towards(share)) - v,
                  c(0, 1 - 1e-9))$root)
}

# Associated answers that few give.
rare <- function(r, diagonal, rest) {
  P <- matrix(rest, r, r)
  diag(P) <- diagonal
  P[r, r] <- 1 - sum(P) + diagonal
  P
}

shapes <- list(
  "rare 2x2" = rare(2, 0.02, 0.03), "rarer 2x2" = rare(2, 0.01, 0.01),
  "rare 3x3" = rare(3, 0.03, 0.01), "2x2, V 0" = population(2, 2, 0),
  "2x2, V 0.1" = population(2, 2, 0.1), "2x2, V 0.3" = population(2, 2, 0.3),
  "2x5, V 0" = population(2, 5, 0), "3x4, V 0" = population(3, 4, 0),
  "3x4, V 0.1" = population(3, 4, 0.1), "3x4, V 0.3" = population(3, 4, 0.3),
  "3x4, V 0.6" = population(3, 4, 0.6), "5x5, V 0" = population(5, 5, 0),
  "5x5, V 0.05" = population(5, 5, 0.05), "5x5, V 0.3" = population(5, 5, 0.3),
  "5x5, V 0.9" = population(5, 5, 0.9))

answers_in <- function(cell, P) {
  side <- function(code, size) factor(code, seq_len(size), ordered = TRUE)
  data.frame(down = side((cell - 1) %% nrow(P) + 1, nrow(P)),
             across = side((cell - 1) %/% nrow(P) + 1, ncol(P)))
}

at_random <- function(P, n) {
  respondents(answers_in(sample.int(length(P), n, TRUE, P), P))
}

# Clusters of 15 in up to four strata, lognormal weights; people of a cluster
# alike (Dirichlet of size 8) or not.
clustered <- function(P, clusters, alike) {
  p <- matrix(as.vector(P), clusters, length(P), byrow = TRUE)
  if (alike) {
    drawn <- matrix(rgamma(length(p), 8 * p), clusters) + 1e-12
    p <- drawn / rowSums(drawn)
  }
  cell <- as.vector(apply(p, 1L, function(q) sample.int(length(P), 15L, TRUE, q)))
  cluster <- rep(seq_len(clusters), each = 15L)
  respondents(data.frame(answers_in(cell, P), cluster,
                         stratum = cluster %% min(4, clusters %/% 3),
                         w = exp(0.5 * rnorm(length(cell)))),
              weight = w, stratum = stratum, cluster = cluster)
}

# ---- what is looked at: figures "in" their interval, tests that "reject" ----

measures <- c(V = "cramers_v", tau = "goodman_kruskal_tau", U = "uncertainty",
              lambda = "lambda", gamma = "gamma")

measures_in <- function(rows) vapply(rows, function(row) row$measure, "")

of_table <- function(x, P) {
  layer <- x$layers[[1L]]
  e <- layer$estimate
  if (is.null(e) || any(dim(e$P) != dim(P))) return(NULL)
  rows <- Filter(function(row) row$explains %in% c("both", "across"),
                 ours$layer_strength(layer, 0.05, asked = unname(measures)))
  keys <- ours$measure_keys(rows)
  given <- list(n = 1, down = seq_len(nrow(P)), across = seq_len(ncol(P)))
  measured <- vapply(seq_along(rows), function(k) {
    inside(rows[[k]]$low, rows[[k]]$high,
           ours$measures[[keys[k]]]$estimate(P, given))
  }, NA)
  measured <- measured[!duplicated(measures_in(rows))]
  v <- ours$cramers_v_of(rows)
  share <- ours$shares_of(x)[[1L]]
  pair <- ours$layer_differences(x, "columns", "holm", 0.05, 0)
  p <- ours$headline_of(ours$tests_of(x)[[1L]])$p
  columns <- P %*% diag(1 / colSums(P))
  shown <- unique(measures_in(rows))
  out <- c(stats::setNames(measured, paste(names(measures)[match(shown, measures)], "in")),
           "share in" = inside(share$low[1L], share$high[1L], columns[1L, 1L]),
           "difference in" = inside(pair$low[1L], pair$high[1L],
                                    columns[1L, 1L] - columns[1L, 2L]),
           "V outside" = !inside(v$low, v$high, v$estimate),
           "corrected V outside" = !inside(v$low, v$high, v$corrected),
           "disagrees" = (p < 0.05) != (v$low > 0))
  if (all(dim(P) == 2L)) {
    odds <- risks(x)
    odds <- odds[odds$figure == "odds_ratio", ]
    out["odds ratio in"] <- inside(odds$low, odds$high,
                                   P[1, 1] * P[2, 2] / (P[1, 2] * P[2, 1]))
  }
  if (v_of(P) > 1e-9) return(out)
  c(out, "headline rejects" = p < 0.05,
    "marks reject" = any(ours$residuals_of(x)[[1L]]$mark != ""),
    "letters reject" = any(pair$p_corrected[pair$within == "1"] < 0.05))
}

random_rows <- function() {
  sizes <- list("rare 2x2" = c(500, 2000), "rarer 2x2" = 1000, "rare 3x3" = 500,
                "2x2, V 0" = c(20, 100, 1000), "2x2, V 0.1" = 100,
                "2x2, V 0.3" = c(50, 1000), "2x5, V 0" = 200,
                "3x4, V 0" = c(20, 100, 1000), "3x4, V 0.1" = 300,
                "3x4, V 0.3" = 5000, "3x4, V 0.6" = 300, "5x5, V 0" = c(20, 200),
                "5x5, V 0.05" = 1000, "5x5, V 0.3" = c(20, 200),
                "5x5, V 0.9" = 500)
  unlist(Map(function(P, name, n) {
    lapply(n, function(n) {
      list(name = sprintf("%s, n %g", name, n),
           draw = function() crosstab(at_random(P, n), down, across),
           look = function(x) of_table(x, P))
    })
  }, shapes[names(sizes)], names(sizes), sizes), FALSE)
}

design_rows <- function() {
  cases <- list(
    list("rare 2x2", c(40, 100)), list("rarer 2x2", c(60, 100)),
    list("rare 3x3", c(40, 100)), list("2x2, V 0", c(3, 12, 20, 60)),
    list("2x2, V 0.3", c(6, 20, 60)), list("2x5, V 0", c(12, 40)),
    list("3x4, V 0", c(12, 20, 60)), list("3x4, V 0.1", 60),
    list("3x4, V 0.3", c(12, 60)), list("5x5, V 0", c(20, 60)),
    list("5x5, V 0.3", c(20, 60)))
  unlist(lapply(cases, function(case) {
    P <- shapes[[case[[1L]]]]
    unlist(lapply(case[[2L]], function(clusters) {
      lapply(c(TRUE, FALSE), function(alike) {
        list(name = sprintf("%s, %g clusters%s", case[[1L]], clusters,
                            if (alike) " alike" else ""),
             draw = function() crosstab(clustered(P, clusters, alike), down, across),
             look = function(x) of_table(x, P))
      })
    }), FALSE)
  }), FALSE)
}

# The people of every column live in so many of 24 clusters in four strata, and
# nothing is related.
column_rows <- function() {
  share <- mean(findInterval(qnorm(ppoints(1e6), 0, sqrt(1.25)), c(-0.6, 0.3)) == 2)
  score <- 1 + mean(findInterval(qnorm(ppoints(1e6), 0, sqrt(1.25)), c(-0.6, 0.3)))
  drawn <- function(groups) {
    column <- rep(seq_along(groups), groups)[sample(24L)]
    own <- rnorm(24L, 0, 0.5)
    id <- rep(1:24, each = 12L)
    answer <- findInterval(own[id] + rnorm(length(id)), c(-0.6, 0.3))
    data <- data.frame(
      stratum = (id - 1) %% 4, cluster = id, w = runif(length(id), 0.6, 1.6),
      column = factor(column[id], labels = letters[seq_along(groups)]),
      answer = factor(answer, 0:2, c("low", "middle", "high"), ordered = TRUE))
    crosstab(score(respondents(data, weight = w, stratum = stratum,
                               cluster = cluster), answer), answer, column)
  }
  look <- function(x) {
    layer <- x$layers[[1L]]
    shares <- ours$shares_of(x)[[1L]]
    at <- which(rep(rownames(layer$n), ncol(layer$n)) == "high")[1L]
    pairs <- ours$layer_differences(x, "columns", "holm", 0.05, 2)
    mean <- means(x)
    c("share in" = inside(shares$low[at], shares$high[at], share),
      "mean in" = inside(mean$low[1L], mean$high[1L], score),
      "difference rejects" = pairs$p[pairs$within == "high" &
                                       pairs$first == "a"][1L] < 0.05,
      "means reject" = ours$equal_means_test(layer, 1:3)$p < 0.05,
      "headline rejects" = ours$headline_of(ours$tests_of(x)[[1L]])$p < 0.05,
      "marks reject" = any(ours$residuals_of(x)[[1L]]$mark != ""))
  }
  lapply(list(c(2, 22), c(3, 21), c(4, 20), c(6, 18), c(12, 12), c(3, 3, 18),
              rep(4, 6), c(8, 8, 8), c(24, 24)), function(groups) {
    both <- sum(groups) > 24
    list(name = if (both) "columns in all clusters" else
           paste("columns in", paste(groups, collapse = ", "), "clusters"),
         draw = function() if (both) across_clusters() else drawn(groups),
         look = look)
  })
}

across_clusters <- function() {
  own <- rnorm(24L, 0, 0.5)
  id <- rep(1:24, each = 12L)
  data <- data.frame(
    stratum = (id - 1) %% 4, cluster = id, w = runif(length(id), 0.6, 1.6),
    column = factor(sample(c("a", "b"), length(id), TRUE)),
    answer = factor(findInterval(own[id] + rnorm(length(id)), c(-0.6, 0.3)), 0:2,
                    c("low", "middle", "high"), ordered = TRUE))
  crosstab(score(respondents(data, weight = w, stratum = stratum,
                             cluster = cluster), answer), answer, column)
}

# Three waves in four strata that differ, six clusters each, of which so many
# were visited in the wave before, too; nothing has changed.
wave_rows <- function() {
  drawn <- function(kept) {
    of_wave <- lapply(0:2, function(wave) seq_len(6L) + wave * (6L - kept))
    most <- max(unlist(of_wave))
    own <- matrix(rnorm(4L * most, c(-1, -0.3, 0.3, 1), 0.4), 4L)
    waves <- lapply(1:3, function(wave) {
      at <- expand.grid(stratum = 1:4, number = of_wave[[wave]], person = 1:12)
      level <- own[cbind(at$stratum, at$number)] + rnorm(nrow(at))
      data <- data.frame(stratum = at$stratum,
                         cluster = paste(at$stratum, at$number),
                         w = runif(nrow(at), 0.6, 1.6),
                         answer = factor(level > 0.2, c(TRUE, FALSE), c("yes", "no")))
      respondents(data, weight = w, stratum = stratum, cluster = cluster)
    })
    crosstab(ours$waves_of_surveys(waves, NULL)$survey, down = "answer",
             across = !!ours$wave_column)
  }
  look <- function(x) {
    change <- differences(x, "previous")
    change <- change[change$within == "yes", ]
    trend <- ours$wave_trends(x$layers[[1L]], "holm", 0.05)
    c("change in" = inside(change$low[1L], change$high[1L], 0),
      "change rejects" = change$p[1L] < 0.05,
      "any change rejects" =
        ours$headline_of(ours$tests_of(x)[[1L]])$p < 0.05,
      "trend rejects" = trend[[1L]]$p < 0.05)
  }
  lapply(c(0, 3, 4, 6), function(kept) {
    list(
    name = sprintf("three waves, %g of 6 clusters again", kept),
    draw = function() drawn(kept), look = look)
  })
}

# Clusters drawn from a population of clusters of unequal size; a column that
# `part` of them have (1: a column of two fifths of everybody), an answer that
# `share` of the people give.
total_rows <- function() {
  weight <- 100
  spread <- 0.3
  drawn <- function(per, strata, part, share) {
    clusters <- per * strata
    size <- pmax(1, rpois(clusters, 15 * exp(rnorm(clusters, 0, spread))))
    id <- rep(seq_len(clusters), size)
    own <- runif(clusters) < part
    has <- if (part < 1) own[id] else runif(length(id)) < 0.4
    yes <- runif(length(id)) <
      plogis(qlogis(share) + rnorm(clusters, 0, spread)[id])
    data <- data.frame(stratum = (id - 1) %/% per, cluster = id, weight,
                       column = factor(ifelse(has, "in", "out"), c("in", "out")),
                       answer = factor(ifelse(yes, "yes", "no"), c("yes", "no")))
    if (!any(has & yes)) return(NULL)
    crosstab(respondents(data, weight = weight, stratum = stratum,
                         cluster = cluster), answer, column)
  }
  truth_of <- function(per, strata, part, share) {
    chance <- function(z) plogis(qlogis(share) + spread * z) * dnorm(z)
    weight * per * strata * 15 * exp(spread^2 / 2) *
      (if (part < 1) part else 0.4) * integrate(chance, -8, 8)$value
  }
  lapply(list(c(6, 4, 1, .5), c(6, 4, 1, .1), c(6, 4, .5, .5), c(6, 4, .25, .5),
              c(6, 4, .12, .5), c(2, 4, 1, .5), c(2, 4, .5, .5),
              c(25, 4, .05, .3), c(25, 4, 1, .02), c(3, 1, 1, .5)), function(row) {
    truth <- do.call(truth_of, as.list(row))
    list(name = sprintf("total, %g clusters, %s with the column, share %g",
                        row[1L] * row[2L], if (row[3L] < 1) row[3L] else "all",
                        row[4L]),
         draw = function() do.call(drawn, as.list(row)),
         look = function(x) {
           found <- ours$layer_totals(x$layers[[1L]], 0.05)
           c("total in" = inside(found$low[1L], found$high[1L], truth))
         })
  })
}

# ---- weights, stages, imputations, standards, numbers ----

# An answer and a number in two columns, of one survey.
answer_and_number <- function(survey, column) {
  x <- crosstab(survey, answer, !!column)
  x$number <- crosstab(score(survey, number), number, !!column)
  x
}

# Whether the intervals hold what is true: the first row's `share` of the first column
# and of the second, the number's `mean` in the first, and V.
answer_and_number_in <- function(x, share, mean, v = NULL) {
  found <- ours$shares_of(x)[[1L]]
  pair <- ours$layer_differences(x, "columns", "holm", 0.05, 0)
  number <- means(x$number)
  strength <- ours$cramers_v_of(ours$layer_strength(x$layers[[1L]], 0.05,
                                                    asked = "cramers_v"))
  c("share in" = inside(found$low[1L], found$high[1L], share[1L]),
    "difference in" = inside(pair$low[1L], pair$high[1L], share[1L] - share[2L]),
    "mean in" = inside(number$low[1L], number$high[1L], mean),
    if (!is.null(v)) c("V in" = inside(strength$low, strength$high, v)))
}

# Three margins that are known, an answer that depends on two of them, clusters of people
# who are alike or none; raked to so many of them.
calibrated_rows <- function() {
  margins <- list(a = c(0.5, 0.5), b = c(0.5, 0.3, 0.2), c = c(0.4, 0.3, 0.2, 0.1))
  chance <- function(a, b) plogis(-0.6 + 1.4 * (a == 1) + 0.9 * (b == 1))
  truth <- function(column) {
    grid <- expand.grid(a = 1:2, b = 1:3)
    p <- margins$a[grid$a] * margins$b[grid$b]
    at <- if (is.null(column)) TRUE else grid$a == column
    sum((p * chance(grid$a, grid$b))[at]) / sum(p[at])
  }
  drawn <- function(n, clusters, used) {
    id <- rep(seq_len(clusters), length.out = n)
    own <- if (clusters < n) rnorm(clusters, 0, 0.4)[id] else 0
    side <- function(name) {
      factor(sample.int(length(margins[[name]]), n, TRUE, margins[[name]]),
             seq_along(margins[[name]]), paste0(name, seq_along(margins[[name]])))
    }
    data <- data.frame(a = side("a"), b = side("b"), c = side("c"), id,
                       stratum = id %% 4, w = runif(n, 0.5, 1.5))
    yes <- runif(n) < plogis(qlogis(chance(as.integer(data$a), as.integer(data$b))) + own)
    data$answer <- factor(ifelse(yes, "yes", "no"), c("yes", "no"))
    data$number <- rnorm(n, 10 * as.integer(data$a) + 3 * yes, 4) %/% 1
    survey <- if (clusters < n)
      respondents(data, weight = w, stratum = stratum, cluster = id) else
        respondents(data, weight = w)
    weigh_to(survey, lapply(stats::setNames(used, used), function(name) {
      stats::setNames(margins[[name]], paste0(name, seq_along(margins[[name]])))
    }))
  }
  # with clusters the truth is that of the mean over their levels
  level <- function(own, column) {
    if (!own) return(truth(column))
    z <- qnorm(ppoints(2000)) * 0.4
    grid <- expand.grid(a = 1:2, b = 1:3)
    p <- margins$a[grid$a] * margins$b[grid$b]
    mean_of <- vapply(seq_len(6), function(k) {
      mean(plogis(qlogis(chance(grid$a[k], grid$b[k])) + z))
    }, 0)
    at <- if (is.null(column)) rep(TRUE, 6) else grid$a == column
    sum((p * mean_of)[at]) / sum(p[at])
  }
  unlist(lapply(list(c("a", "b"), c("a", "b", "c")), function(used) {
    lapply(list(c(300, 300), c(600, 40), c(1200, 80)), function(size) {
      own <- size[2L] < size[1L]
      P <- vapply(1:2, function(k) {
        p <- level(own, k)
        0.5 * c(p, 1 - p)
      }, numeric(2))
      list(name = sprintf("raked to %g margins, n %g%s", length(used), size[1L],
                          if (own) sprintf(", %g clusters", size[2L]) else ""),
           draw = function() answer_and_number(drawn(size[1L], size[2L], used), "a"),
           look = function(x) {
             one <- ours$shares_of(ours$alone(x))[[1L]]
             c("share of all in" = inside(one$low[1L], one$high[1L], level(own, NULL)),
               # whole numbers, half a one below on average
               answer_and_number_in(x, c(level(own, 1L), level(own, 2L)),
                                    10 + 3 * level(own, 1L) - 0.5, v_of(P)))
           })
    })
  }), FALSE)
}

# Settlements of dwellings of people, drawn in two or three stages, with small and large
# parts of all there are; the truth is that of the population drawn from.
stage_rows <- function() {
  drawn <- function(places, dwellings, of_places, of_dwellings) {
    grid <- expand.grid(person = 1:4, dwelling = seq_len(of_dwellings),
                        place = seq_len(of_places), stratum = 1:3)
    unit <- interaction(grid$place, grid$stratum, drop = TRUE)
    home <- interaction(grid$dwelling, unit, drop = TRUE)
    level <- rnorm(nlevels(unit), 0, 0.7)[unit] + rnorm(nlevels(home), 0, 0.7)[home]
    grid$answer <- factor(ifelse(runif(nrow(grid)) < plogis(level), "yes", "no"), c("yes", "no"))
    yes <- grid$answer == "yes"
    u <- runif(nrow(grid)) < ifelse(yes, 0.6, 0.4)
    grid$column <- factor(ifelse(u, "u", "v"))
    grid$number <- rnorm(nrow(grid), 20 + 2 * level, 4) %/% 1
    truth <<- list(all = mean(yes), share = c(mean(yes[u]), mean(yes[!u])),
                   mean = mean(grid$number[u]), v = v_of(table(yes, u) / nrow(grid)))
    kept <- unlist(lapply(split(seq_len(nrow(grid)), grid$stratum), function(at) {
      lapply(sample(of_places, places), function(u) {
        lapply(sample(of_dwellings, dwellings), function(s) {
          at[grid$place[at] == u & grid$dwelling[at] == s]
        })
      })
    }))
    out <- grid[kept, ]
    out$w <- of_places / places * of_dwellings / dwellings
    out$N1 <- of_places
    out$N2 <- of_dwellings
    respondents(out, weight = w, stratum = stratum, cluster = c(place, dwelling),
                population = c(N1, N2))
  }
  truth <- NULL
  lapply(list(c(8, 4, 160, 40), c(8, 4, 16, 40), c(8, 4, 10, 6), c(8, 3, 8, 6)), function(size) {
    list(name = sprintf("%g of %g settlements, %g of %g dwellings", size[1L], size[3L],
                        size[2L], size[4L]),
         draw = function() answer_and_number(do.call(drawn, as.list(size)), "column"),
         look = function(x) {
           one <- ours$shares_of(ours$alone(x))[[1L]]
           c("share of all in" = inside(one$low[1L], one$high[1L], truth$all),
             answer_and_number_in(x, truth$share, truth$mean, truth$v))
         })
  })
}

# An answer and a number that some do not give (more often so in one column), imputed
# five times by draws from what is known of the column, with its uncertainty.
imputed_rows <- function() {
  chance <- c(0.35, 0.55)
  drawn <- function(missing, related, M) {
    n <- 500
    group <- rep(1:2, each = n / 2)
    p <- if (related) chance else rep(0.45, 2)
    yes <- runif(n) < p[group]
    number <- rnorm(n, 10 + 5 * group, 4)
    gone <- runif(n) < missing * c(0.7, 1.3)[group]
    frames <- lapply(seq_len(M), function(m) {
      q <- vapply(1:2, function(g) {
        known <- yes[group == g & !gone]
        rbeta(1, sum(known) + 0.5, sum(!known) + 0.5)
      }, 0)
      full <- ifelse(gone, runif(n) < q[group], yes)
      for (g in 1:2) {
        known <- number[group == g & !gone]
        k <- length(known)
        sd <- stats::sd(known) * sqrt((k - 1) / rchisq(1, k - 1))
        at <- which(group == g & gone)
        number[at] <- rnorm(length(at), rnorm(1, mean(known), sd / sqrt(k)), sd)
      }
      data.frame(answer = factor(ifelse(full, "yes", "no"), c("yes", "no")),
                 group = factor(c("u", "v")[group]), number = number %/% 1, w = 1)
    })
    answer_and_number(respondents(frames, weight = w), "group")
  }
  unlist(lapply(c(0.1, 0.3, 0.5), function(missing) {
    lapply(c(TRUE, FALSE), function(related) {
      p <- if (related) chance else rep(0.45, 2)
      list(name = sprintf("%g %% missing at random%s", 100 * missing,
                          if (related) "" else ", unrelated"),
           draw = function() drawn(missing, related, 5L),
           look = function(x) {
             tests <- ours$tests_of(x)[[1L]]
             p_of <- function(name) Find(function(row) row$test == name, tests)$p
             out <- answer_and_number_in(x, p, 14.5, if (related) v_of(rbind(p, 1 - p) / 2))
             if (related) return(out)
             c(out, "headline rejects" = ours$headline_of(tests)$p < 0.05,
               "D1 rejects" = p_of("imputed_wald") < 0.05,
               "D3 rejects" = p_of("imputed_likelihood_ratio") < 0.05)
           })
    })
  }), FALSE)
}

# Columns of other ages, and an answer that depends on age alone.
standard_rows <- function() {
  age <- c(0.2, 0.5, 0.7)
  drawn <- function(n, clusters) {
    id <- rep(seq_len(clusters), length.out = n)
    column <- sample(1:2, n, TRUE)
    class <- ifelse(column == 1, sample.int(3, n, TRUE, c(0.5, 0.3, 0.2)),
                    sample.int(3, n, TRUE, c(0.2, 0.3, 0.5)))
    yes <- runif(n) < age[class]
    crosstab(respondents(data.frame(
      answer = factor(ifelse(yes, "yes", "no"), c("yes", "no")),
      column = factor(c("u", "v")[column]), class = factor(class), id, stratum = id %% 4,
      w = runif(n, 0.5, 1.5)), weight = w, stratum = stratum, cluster = id),
      answer, column, each = class)
  }
  lapply(list(c(300, 300, "total"), c(600, 40, "total"), c(600, 40, "v"), c(600, 40, "given")),
         function(row) {
    to <- if (row[3L] == "given") c("1" = 50, "2" = 25, "3" = 25) else row[3L]
    S <- switch(row[3L], total = c(0.35, 0.3, 0.35), v = c(0.2, 0.3, 0.5),
                given = c(0.5, 0.25, 0.25))
    list(name = sprintf("standardised to %s, n %s, %s clusters", row[3L], row[1L], row[2L]),
         draw = function() drawn(as.numeric(row[1L]), as.numeric(row[2L])),
         look = function(x) {
           found <- standardised(x, to)
           pairs <- attr(found, "pairs")
           c("share in" = inside(found$low[1L], found$high[1L], sum(S * age)),
             "difference in" = inside(pairs$low[1L], pairs$high[1L], 0),
             "difference rejects" = pairs$p[1L] < 0.05)
         })
  })
}

# Quantiles of numbers that are heaped at round values, in clusters of people alike.
quantile_rows <- function() {
  heap <- function(z, step) step * round(exp(6 + 0.6 * z) / step)
  drawn <- function(n, clusters, step) {
    id <- rep(seq_len(clusters), length.out = n)
    z <- if (clusters < n) rnorm(clusters, 0, sqrt(0.1))[id] + rnorm(n, 0, sqrt(0.9)) else
      rnorm(n)
    data <- data.frame(number = heap(z, step), id, stratum = id %% 4, w = runif(n, 0.5, 1.5))
    survey <- if (clusters < n) respondents(data, weight = w, stratum = stratum, cluster = id) else
      respondents(data, weight = w)
    crosstab(score(survey, number), number)
  }
  # of the population's grouped distribution, between the limits of its classes
  grouped <- function(q, step) {
    limits <- step * (0:1000 - 0.5)
    stats::approx(pnorm((log(pmax(limits, 0)) - 6) / 0.6), limits, q, ties = "ordered")$y
  }
  row_of <- function(n, clusters, step, in_classes) {
    list(name = sprintf("n %g, %g clusters, heaped at %g%s", n, clusters, step,
                        if (in_classes) ", in classes" else ""),
         draw = function() drawn(n, clusters, step),
         look = function(x) {
           q <- c(0.1, 0.5, 0.9)
           found <- quantiles(x, 100 * q, class_width = if (in_classes) step)
           truth <- if (in_classes) grouped(q, step) else heap(qnorm(q), step)
           stats::setNames(inside(found$low, found$high, truth),
                           c("10 % in", "50 % in", "90 % in"))
         })
  }
  Map(row_of, c(200, 600, 600, 200), c(200, 40, 40, 200), c(10, 10, 100, 200),
      rep(c(FALSE, TRUE), each = 4L))
}

# ---- running ----

cautioned <- 200L

run_row <- function(row, seed) {
  set.seed(seed)
  codes <- list()
  found <- lapply(seq_len(surveys), function(k) {
    x <- row$draw()
    if (is.null(x)) return(NULL)
    if (k <= cautioned) codes[[length(codes) + 1L]] <<- unique(cautions(x)$code)
    tryCatch(row$look(x), error = function(e) stop(row$name, ": ", conditionMessage(e)))
  })
  found <- do.call(rbind, Filter(Negate(is.null), found))
  message(row$name)
  list(name = row$name, rate = colMeans(found, na.rm = TRUE),
       given = colMeans(!is.na(found)),
       codes = table(unlist(codes)) / max(1L, length(codes)))
}

nominal <- function(names) {
  ifelse(grepl(" in$", names), 0.95, ifelse(grepl("reject", names), 0.05, NA))
}

printed <- function(rows, part) {
  names <- unique(unlist(lapply(rows, function(row) names(row$rate))))
  cat("\n###", part, "\n\n")
  cat("| survey |", paste(names, collapse = " | "), "|\n")
  cat(strrep("|---", length(names) + 1L), "|\n", sep = "")
  for (row in rows) {
    shown <- row$rate[names]
    text <- ifelse(is.na(shown), "-", sprintf("%.3f", shown))
    thin <- !is.na(shown) & row$given[names] < 0.5
    text[thin] <- sprintf("%s (of %.2f)", text[thin], row$given[names][thin])
    far <- abs(shown - nominal(names)) > 0.02 + 1e-9
    text[which(far)] <- sprintf("**%s**", text[which(far)])
    cat("|", row$name, "|", paste(text, collapse = " | "), "|\n")
  }
  cat("\nOutside, with the cautions on those tables:\n\n")
  for (row in rows) {
    far <- names(which(abs(row$rate - nominal(names(row$rate))) > 0.02 + 1e-9))
    if (!length(far)) next
    seen <- sort(row$codes[row$codes >= 0.25], decreasing = TRUE)
    cat(sprintf("* %s: %s. Cautions: %s\n", row$name,
                paste(sprintf("%s %.3f", far, row$rate[far]), collapse = ", "),
                paste(sprintf("`%s` %.2f", names(seen), seen), collapse = ", ")))
  }
}

makers <- list(random = random_rows, designs = design_rows,
               columns = column_rows, waves = wave_rows, totals = total_rows,
               calibrated = calibrated_rows, stages = stage_rows, imputed = imputed_rows,
               standards = standard_rows, quantiles = quantile_rows)
for (part in asked) {
  rows <- unname(makers[[part]]())
  found <- parallel::mclapply(seq_along(rows), function(k) run_row(rows[[k]], k),
                              mc.cores = getOption("mc.cores", 2L),
                              mc.preschedule = FALSE)
  failed <- vapply(found, inherits, NA, "try-error")
  if (any(failed)) stop(found[[which(failed)[1L]]])
  printed(found, part)
}
