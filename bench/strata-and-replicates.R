# Levels at 5 % and coverage of 95 % intervals of what calibration.R leaves out:
# strata taken together, replicate weights, the bootstrap. Four strata of
# clusters of 15, lognormal weights, people of a cluster alike.
# Rscript bench/strata-and-replicates.R [surveys a row, default 1000]
suppressPackageStartupMessages(library(fairlattice))
args <- commandArgs(trailingOnly = TRUE)
surveys <- if (length(args)) as.numeric(args[1]) else 1000
ours <- asNamespace("fairlattice")

draw <- function(r, k, clusters, levels = 3L) {
  cluster <- rep(seq_len(clusters), each = 15L)
  pick <- function(size) {
    g <- matrix(rgamma(clusters * size, 8 / size), clusters)
    p <- t(apply(g / rowSums(g), 1L, cumsum))[cluster, , drop = FALSE]
    factor(1L + rowSums(runif(length(cluster)) > p[, -size, drop = FALSE]),
           seq_len(size), ordered = TRUE)
  }
  data.frame(down = pick(r), across = pick(k),
             e = sample(letters[seq_len(levels)], length(cluster), TRUE),
             cluster, stratum = cluster %% 4L,
             w = exp(0.5 * rnorm(length(cluster))))
}
p_of <- function(tests, names) {
  vapply(names, function(name) tests$p[match(name, tests$test)], 0)
}
rate <- function(rows) rowMeans(rows < 0.05, na.rm = TRUE)
shown <- function(title, work) {
  found <- parallel::mclapply(
    1:2, function(core) {
      set.seed(core)
      replicate(surveys / 2, tryCatch(work(), error = function(e) NULL),
                simplify = FALSE)
    }, mc.cores = 2L)
  cat(title, "\n")
  print(round(rate(do.call(cbind,
                           Filter(Negate(is.null),
                                  unlist(found, recursive = FALSE)))), 3))
}
designed <- function(data) {
  respondents(data, weight = w, stratum = stratum, cluster = cluster)
}

shown("pooled(), 2x2x3, n = 600 at random", function() {
  d <- draw(2L, 2L, 40L)
  d$down <- factor(sample(1:2, nrow(d), TRUE))
  d$across <- factor(sample(1:2, nrow(d), TRUE))
  t <- pooled(crosstab(d, down, across, each = e))$tests
  p_of(t,
       c("mantel_haenszel", "mantel_haenszel_corrected", "general_association",
         "breslow_day_tarone"))
})
for (size in list(c(2L, 2L), c(3L, 4L))) shown(
  sprintf("pooled(), %dx%dx3, 40 clusters alike", size[1L], size[2L]),
  function() {
    t <- pooled(crosstab(designed(draw(size[1L], size[2L], 40L)), down, across,
                         each = e))$tests
    p_of(t,
         c("general_association", "mean_scores", "correlation",
           if (size[1L] == 2L) "same_odds_ratio" else "no_three_way"))
  })
covers <- function(row, truth) {
  if (is.na(row$low)) NA else 1 - (row$low <= truth && truth <= row$high)
} # 1: missed
for (kind in c("jackknife", "bootstrap")) shown(
  sprintf(paste("%s replicates, 3x4, 40 clusters: headline; share and gamma",
                "missed (nominal 0.05 each)"), kind), function() {
                  x <- crosstab(make_replicates(
                                  designed(draw(3L, 4L, 40L)), kind, 200,
                                  seed = sample.int(1e6, 1L)), down, across)
                  share <- shares(x)[1L, ]
                  c(headline = Find(function(row) row$headline,
                                    ours$tests_of(x)[[1L]])$p,
                    share = 1 - covers(share, 1 / 3),
                    gamma = 1 - covers(strength(x, "gamma"), 0))
                })
shown("percentile bootstrap, 3x4, 40 clusters: gamma and tau-b missed (nominal 0.05)",
      function() {
        s <- strength(crosstab(designed(draw(3L, 4L, 40L)), down, across),
                      c("gamma", "tau_b"), interval = "bootstrap", draws = 400,
                      seed = sample.int(1e6, 1L))
        c(gamma = 1 - covers(s[s$measure == "gamma", ], 0),
          tau_b = 1 - covers(s[s$measure == "tau_b", ], 0))
      })
