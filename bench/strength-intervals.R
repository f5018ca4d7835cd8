# How often 95 % intervals of V, tau, the uncertainty coefficient and lambda
# hold the truth, and how wide that of V is: balanced and rare tables, with and
# without a design.
# Rscript bench/strength-intervals.R [samples a row, default 1500]
suppressPackageStartupMessages(library(fairlattice))
args <- commandArgs(trailingOnly = TRUE)
samples <- if (length(args)) as.numeric(args[1]) else 1500
ours <- asNamespace("fairlattice")

# Uneven margins and a trend along the diagonal, of Cramer's V `v`; from 0.6 on
# a mixture with the diagonal.
population <- function(r, k, v) {
  a <- seq(1.4, 1, length.out = r) / sum(seq(1.4, 1, length.out = r))
  b <- seq(1, 1.4, length.out = k) / sum(seq(1, 1.4, length.out = k))
  E <- outer(a, b)
  D <- matrix(0, r, k)
  for (i in seq_len(max(r, k))) D[ceiling(i * r / max(r, k)), ceiling(i * k / max(r, k))] <-
    1 / max(r, k)
  V <- function(m) {
    P <- (1 - m) * E + m * D
    sqrt(ours$phi_squared(P) / (min(r, k) - 1)) - v
  }
  m <- if (v == 0) 0 else uniroot(V, c(0, 1 - 1e-9))$root
  (1 - m) * E + m * D
}
rare <- function(r, diagonal, last, rest) {
  P <- matrix(rest, r, r)
  diag(P) <- diagonal
  P[r, r] <- last
  P / sum(P)
}
asked <- c("cramers_v", "goodman_kruskal_tau", "uncertainty", "lambda")

found_in <- function(layer, P) {
  rows <- Filter(function(row) row$explains %in% c("both", "across"),
                 ours$layer_strength(layer, 0.05, asked = asked))
  keys <- ours$measure_keys(rows)
  given <- list(n = 1, down = seq_len(nrow(P)), across = seq_len(ncol(P)))
  one <- function(key) {
    row <- rows[[match(key, keys)]]
    truth <- ours$measures[[key]]$estimate(P, given)
    if (is.na(row$low)) NA else
      row$low <= truth + 1e-9 && truth <= row$high + 1e-9
  }
  v <- rows[[match("cramers_v", keys)]]
  c(V = one("cramers_v"), width = v$high - v$low,
    tau = one("goodman_kruskal_tau_across"), U = one("uncertainty_across"),
    lambda = one("lambda_across"))
}
shown <- function(rows, work) {
  found <- parallel::mclapply(
    seq_along(rows), function(k) {
      set.seed(100 + k)
      got <- replicate(samples, work(rows[[k]]))
      c(rowMeans(got, na.rm = TRUE), given = mean(!is.na(got["V", ])),
        lambda_given = mean(!is.na(got["lambda", ])))
    }, mc.cores = 2L)
  print(cbind(row = names(rows),
              as.data.frame(round(do.call(rbind, found), 3))),
        row.names = FALSE)
}

plain <- list(
  "rare 2x2, n 500" = list(P = rare(2, 0.02, 0.92, 0.03), n = 500),
  "rare 2x2, n 2000" = list(P = rare(2, 0.02, 0.92, 0.03), n = 2000),
  "rarer 2x2, n 1000" = list(P = rare(2, 0.01, 0.97, 0.01), n = 1000),
  "rare 3x3, n 500" = list(P = rare(3, 0.03, 0.88, 0.01), n = 500),
  "2x2, V 0, n 100" = list(P = population(2, 2, 0), n = 100),
  "2x2, V 0.3, n 50" = list(P = population(2, 2, 0.3), n = 50),
  "2x2, V 0.7, n 100" = list(P = population(2, 2, 0.7), n = 100),
  "3x4, V 0, n 100" = list(P = population(3, 4, 0), n = 100),
  "3x4, V 0.1, n 300" = list(P = population(3, 4, 0.1), n = 300),
  "3x4, V 0.6, n 300" = list(P = population(3, 4, 0.6), n = 300),
  "5x5, V 0, n 200" = list(P = population(5, 5, 0), n = 200),
  "5x5, V 0.05, n 1000" = list(P = population(5, 5, 0.05), n = 1000),
  "5x5, V 0.3, n 200" = list(P = population(5, 5, 0.3), n = 200),
  "5x5, V 0.9, n 500" = list(P = population(5, 5, 0.9), n = 500),
  "5x5, V 0.3, n 20" = list(P = population(5, 5, 0.3), n = 20),
  "3x4, V 0.3, n 5000" = list(P = population(3, 4, 0.3), n = 5000))
cat("Without a design\n")
shown(plain, function(row) {
  n <- matrix(rmultinom(1, row$n, row$P), nrow(row$P),
              dimnames = list(letters[seq_len(nrow(row$P))],
                              LETTERS[seq_len(ncol(row$P))]))
  found_in(crosstab_of_counts(n, totals = FALSE)$layers[[1L]], row$P)
})

samples <- samples / 3
clustered <- list()
for (one in list(list("rare 2x2", rare(2, 0.02, 0.92, 0.03), 40),
                 list("rare 2x2", rare(2, 0.02, 0.92, 0.03), 100),
                 list("2x2, V 0", population(2, 2, 0), 20),
                 list("2x2, V 0.3", population(2, 2, 0.3), 20),
                 list("3x4, V 0", population(3, 4, 0), 20),
                 list("3x4, V 0.1", population(3, 4, 0.1), 60),
                 list("3x4, V 0.3", population(3, 4, 0.3), 60),
                 list("5x5, V 0.3", population(5, 5, 0.3), 20),
                 list("5x5, V 0.6", population(5, 5, 0.6), 60))) for (alike in c(
                                                                                 8,
                                                                                 Inf)) {
  clustered[[sprintf("%s, %d clusters, %s", one[[1L]], one[[3L]], if (alike == 8) "alike" else "not")]] <-
    list(P = one[[2L]], clusters = one[[3L]], alike = alike)
}
cat("Four strata, clusters of 15, lognormal weights\n")
shown(clustered, function(row) {
  K <- length(row$P)
  p <- matrix(as.vector(row$P), row$clusters, K, byrow = TRUE)
  if (is.finite(row$alike)) {
    g <- matrix(rgamma(row$clusters * K, row$alike * p), row$clusters)
    p <- g / rowSums(g)
  }
  cell <- as.vector(apply(p, 1L, function(q) sample.int(K, 15L, TRUE, q)))
  cluster <- rep(seq_len(row$clusters), each = 15L)
  data <- data.frame(down = factor((cell - 1L) %% nrow(row$P),
                                   seq_len(nrow(row$P)) - 1L),
                     across = factor((cell - 1L) %/% nrow(row$P),
                                     seq_len(ncol(row$P)) - 1L), cluster,
                     stratum = cluster %% 4L,
                     w = exp(0.5 * rnorm(length(cell))))
  x <- tryCatch(crosstab(respondents(data, weight = w, stratum = stratum,
                                     cluster = cluster), down, across),
                error = function(e) NULL)
  if (is.null(x) || !is.null(ours$no_test_reason(x$layers[[1L]])))
    return(rep(NA_real_, 5))
  found_in(x$layers[[1L]], row$P)
})
