# How often the interval of Cramer's V holds the truth, how wide it is, how often
# it says otherwise than the test, and how often V and V corrected for chance lie
# outside, by multinomial sampling: the table of docs/VALIDATION.md.
# Rscript bench/intervals-and-tests.R [samples a row, default 2000]
suppressPackageStartupMessages(library(fairlattice))
ours <- asNamespace("fairlattice")
samples <- as.integer(c(commandArgs(TRUE), "2000")[1L])
v_of <- function(P) sqrt(ours$phi_squared(P) / (min(dim(P)) - 1))

# Equal margins, and a trend (or, where that is too little, a diagonal) that
# makes the V that is wanted.
with_v <- function(r, c, v) {
  even <- matrix(1 / (r * c), r, c)
  if (v == 0) return(even)
  towards <- function(k, shape) (1 - k) * even + k * shape / sum(shape)
  trend <- 1 + outer(seq(-1, 1, length.out = r), seq(-1, 1, length.out = c))
  shape <- if (v_of(towards(1, trend)) > v) trend else diag(1, r, c) + 1e-6
  k <- uniroot(function(k) v_of(towards(k, shape)) - v, c(0, 0.9999))$root
  towards(k, shape)
}

rows <- list(
  list("rare 2x2 (.02 .03 .03 .92)", matrix(c(.02, .03, .03, .92), 2), 500),
  list("rarer 2x2 (.01 .01 .01 .97)", matrix(c(.01, .01, .01, .97), 2), 1000),
  list("2x2", with_v(2, 2, 0), 100), list("2x2", with_v(2, 2, .1), 100),
  list("2x2", with_v(2, 2, .3), 50), list("3x4", with_v(3, 4, 0), 100),
  list("3x4", with_v(3, 4, .1), 300), list("3x4", with_v(3, 4, .6), 300),
  list("5x5", with_v(5, 5, 0), 200), list("5x5", with_v(5, 5, .05), 1000),
  list("5x5", with_v(5, 5, .9), 500))

one <- function(P, n) {
  counts <- matrix(rmultinom(1L, n, P), nrow(P),
                   dimnames = list(seq_len(nrow(P)), letters[seq_len(ncol(P))]))
  x <- crosstab_of_counts(counts, totals = FALSE)
  layer <- x$layers[[1L]]
  v <- ours$cramers_v_of(ours$layer_strength(layer, 0.05, asked = "cramers_v"))
  if (is.na(v$low)) return(rep(NA_real_, 5L))
  e <- layer$estimate
  X2 <- ours$pearson_statistic(e$P, e$n)
  rejected <- pchisq(X2, prod(dim(e$P) - 1), lower.tail = FALSE) < 0.05
  truth <- v_of(P)
  outside <- function(at) at < v$low - 1e-9 || at > v$high + 1e-9
  c(!outside(truth), v$high - v$low, rejected != (v$low > 0),
    outside(v$estimate), outside(v$corrected))
}

set.seed(1)
cat("| table | n | V | covers | width | disagrees | V outside | corrected V outside |\n")
for (row in rows) {
  found <- rowMeans(replicate(samples, one(row[[2L]], row[[3L]])), na.rm = TRUE)
  cat(sprintf("| %s | %s | %.2f | %s |\n", row[[1L]], row[[3L]], v_of(row[[2L]]),
              paste(sprintf("%.3f", found), collapse = " | ")))
}
