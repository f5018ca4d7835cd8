# Does what is called 5 % happen in 5 of 100, and is what is called 95 % right
# in 95? Simulated surveys with a known truth: rejection rates of the headline
# test and of the plain one, family-wise error of marks and letters where there
# is no association, and coverage of the intervals. Rscript bench/calibration.R
# [surveys a row, default 2000]
suppressPackageStartupMessages(library(fairlattice))
args <- commandArgs(trailingOnly = TRUE)
surveys <- if (length(args)) as.integer(args[1]) else 2000L
options(fairlattice.exact_steps = 5e5, fairlattice.random_tables = 2e4,
        fairlattice.threads = 1L) # the exact test or its random form: both are the headline

# Cell proportions with uneven margins and a trend along the diagonal, of
# Cramer's V `v`.
population <- function(r, k, v) {
  a <- seq(1.6, 1, length.out = r)
  b <- seq(1, 1.5, length.out = k)
  a <- a / sum(a)
  b <- b / sum(b)
  u <- seq_len(r) - sum(a * seq_len(r))
  w <- seq_len(k) - sum(b * seq_len(k))
  size <- v * sqrt(min(r, k) - 1) / sqrt(sum(a * u^2) * sum(b * w^2))
  outer(a, b) + size * outer(a * u, b * w)
}

as_answers <- function(cell, P) {
  data.frame(down = factor((cell - 1) %% nrow(P), seq_len(nrow(P)) - 1,
                           ordered = TRUE),
             across = factor((cell - 1) %/% nrow(P), seq_len(ncol(P)) - 1,
                             ordered = TRUE))
}

# Clusters draw their own proportions around P (the smaller `alike`, the more
# alike are people of one cluster); four strata, unequal weights.
clustered <- function(P, clusters, alike, size = 15, spread = 0.5) {
  cells <- matrix(stats::rgamma(clusters * length(P),
                                rep(as.vector(P) * alike, each = clusters)),
                  clusters)
  cell <-
    as.vector(apply(cells, 1, function(p) sample.int(length(P), size, TRUE, p)))
  cluster <- rep(seq_len(clusters), each = size)
  respondents(data.frame(as_answers(cell, P), cluster, stratum = cluster %% 4,
                         w = exp(spread * stats::rnorm(length(cell)))),
              weight = w, stratum = stratum, cluster = cluster)
}

at_random <- function(P, n) {
  respondents(as_answers(sample.int(length(P), n, TRUE, P), P))
}

one <- function(P, survey) {
  x <- crosstab(survey, down, across)
  layer <- x$layers[[1]]
  if (is.null(layer$estimate) || min(dim(layer$estimate$P)) < 2)
    return(rep(NA, 12))
  tests <- tests(x)
  s <- strength(x, c("cramers_v", "lambda", "uncertainty", "gamma", "tau_b"))
  given <- list(n = 1, down = seq_len(nrow(P)), across = seq_len(ncol(P)))
  covers <- function(key, measure, explains = "both") {
    row <- s[s$measure == measure & s$explains == explains, ]
    truth <- fairlattice:::measures[[key]]$estimate(P, given)
    row$low <= truth + 1e-9 && truth - 1e-9 <= row$high
  }
  share <- shares(x)[1, ]
  true_share <- P[1, 1] / sum(P[, 1])
  odds <- if (all(dim(P) == 2)) {
    or <- risks(x)
    or <- or[or$figure == "odds_ratio", ]
    truth <- P[1, 1] * P[2, 2] / (P[1, 2] * P[2, 1])
    or$low <= truth && truth <= or$high
  } else {
    NA
  }
  letters <- differences(x, least_base = 0)
  c(headline = tests$p[tests$headline] < 0.05,
    plain = tests$p[tests$test == "pearson"] < 0.05,
    trend = tests$p[tests$test == "linear_trend"] < 0.05,
    marked = any(residuals(x)$mark != ""),
    lettered = any(letters$exceeds[letters$within == "0"] != ""),
    V = covers("cramers_v", "cramers_v"),
    lambda = covers("lambda_across", "lambda", "across"),
    U = covers("uncertainty_across", "uncertainty", "across"),
    gamma = covers("gamma", "gamma"), tau_b = covers("tau_b", "tau_b"),
    share = share$low <= true_share && true_share <= share$high, odds = odds)
}

rate <- function(case, draw) {
  set.seed(1)
  side <- as.integer(strsplit(case$shape, "x")[[1]])
  P <- population(side[1], side[2], case$v)
  if (any(P < 0)) return(NULL)
  out <- replicate(surveys, one(P, draw(P)))
  row <- data.frame(case, t(round(rowMeans(out, na.rm = TRUE), 3)),
                    none = round(mean(is.na(out["lambda", ])), 2))
  message(paste(format(row), collapse = " "))
  row
}

run <- function(cases, draw) {
  rates <- parallel::mclapply(
    seq_len(nrow(cases)), function(i) {
      rate(cases[i, ], function(P) draw(P, cases[i, ]))
    }, mc.cores = 2, mc.preschedule = FALSE)
  print(do.call(rbind, rates), row.names = FALSE)
}

options(width = 200)
shapes <- c("2x2", "3x4", "5x5")
cat("Respondents drawn at random\n")
run(expand.grid(shape = shapes, n = c(20, 100, 1000), v = c(0, 0.3),
                stringsAsFactors = FALSE), function(P, case) {
                  at_random(P, case$n)
                })
cat("Four strata, clusters of 15, unequal weights\n")
run(expand.grid(shape = shapes,
                design = c("20 alike", "60 alike", "60 not alike"),
                v = c(0, 0.3), stringsAsFactors = FALSE), function(P, case) {
                  clustered(P, as.integer(substr(case$design, 1, 2)),
                            if (grepl("not", case$design)) 1e5 else 8)
                })
