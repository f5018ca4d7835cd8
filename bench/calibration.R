# Does what is called 5 % happen in 5 of 100? Clustered, stratified, weighted surveys, simulated: the rejection rate of
# the headline test and of the plain one where there is no association, and the coverage of the intervals.
# Rscript bench/calibration.R [surveys, default 2000]
suppressPackageStartupMessages(library(fairlattice))
args <- commandArgs(trailingOnly = TRUE)
surveys <- if (length(args)) as.integer(args[1]) else 2000L

# Cell proportions with Cramer's V of `v`: uniform margins and more on the diagonal.
population <- function(r, k, v) {
  P <- matrix(1 / (r * k), r, k)
  D <- diag(1, r, k)
  D <- D - rowMeans(D)
  D <- t(t(D) - colMeans(D))
  P + v * D / sqrt(sum(D^2 / P) / (min(r, k) - 1))
}

# Clusters draw their own proportions around P (the smaller `alike`, the more alike are people of one cluster).
survey <- function(P, clusters, size, alike, spread) {
  cells <- matrix(stats::rgamma(clusters * length(P), rep(as.vector(P) * alike, each = clusters)), clusters)
  cell <- as.vector(apply(cells, 1, function(p) sample.int(length(P), size, TRUE, p)))
  cluster <- rep(seq_len(clusters), each = size)
  data <- data.frame(down = factor((cell - 1) %% nrow(P), seq_len(nrow(P)) - 1), across = factor((cell - 1) %/% nrow(P), seq_len(ncol(P)) - 1),
                     cluster, stratum = cluster %% 4, w = exp(spread * stats::rnorm(length(cell))))
  respondents(data, weight = w, stratum = stratum, cluster = cluster)
}

one <- function(P, ...) {
  x <- lattice(survey(P, ...), down, across)
  tests <- test_independence(x)
  v <- strength(x)
  v <- v[v$measure == "cramers_v", ]
  share <- shares(x)[1, ]
  truth <- sqrt(fairlattice:::phi_squared(P) / (min(dim(P)) - 1))
  d <- departures(x)
  c(headline = tests$p[tests$headline] < 0.05, plain = tests$p[tests$test == "pearson"] < 0.05, marked = any(d$mark != ""),
    v_covers = v$low <= truth + 1e-9 && truth <= v$high, share_covers = share$low <= P[1, 1] / sum(P[, 1]) && P[1, 1] / sum(P[, 1]) <= share$high)
}

cases <- expand.grid(shape = c("2x2", "3x4", "5x5"), v = c(0, 0.1, 0.3), alike = c(8, 1e5), clusters = c(20, 60), stringsAsFactors = FALSE)
set.seed(1)
rates <- lapply(seq_len(nrow(cases)), function(i) {
  case <- cases[i, ]
  side <- as.integer(strsplit(case$shape, "x")[[1]])
  P <- population(side[1], side[2], case$v)
  if (any(P < 0)) return(NULL)
  out <- replicate(surveys, one(P, case$clusters, 15, case$alike, 0.5))
  data.frame(case, t(round(rowMeans(out, na.rm = TRUE), 3)))
})
print(do.call(rbind, rates), row.names = FALSE)
