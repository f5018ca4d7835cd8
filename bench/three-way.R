# Level and power of the test of no three-way interaction (docs/VALIDATION.md):
# surveys with and without a difference between the strata of `each`.   Rscript
# bench/three-way.R [surveys, default 2000]
suppressPackageStartupMessages(library(fairlattice))
args <- commandArgs(trailingOnly = TRUE)
surveys <- if (length(args)) as.integer(args[1L]) else 2000L
softmax <- function(x) exp(x) / sum(exp(x))

# One survey: r x c answers in K strata, associated by `main` everywhere and by
# `more` besides in the last; with clusters of 15, people of a cluster alike
# (Dirichlet of size 8) and lognormal weights where `clusters` is given.
survey <- function(r, c, K, n, main, more, clusters = NULL) {
  score <- outer(scale(seq_len(r))[, 1L], scale(seq_len(c))[, 1L])
  P <- lapply(seq_len(K), function(k) {
    softmax(as.vector((main + more * (k == K)) * score)) / K
  })
  p <- unlist(P)
  if (is.null(clusters)) {
    cell <- sample.int(length(p), n, TRUE, p)
    group <- seq_len(n)
    w <- NULL
  } else {
    group <- rep(seq_len(clusters), each = 15L)
    cell <- unlist(lapply(seq_len(clusters), function(g) {
      sample.int(length(p), 15L, TRUE, rgamma(length(p), 8 * p * length(p) / 4))
    }))
    w <- exp(0.5 * rnorm(length(cell)))
  }
  at <- arrayInd(cell, c(r, c, K))
  data <- data.frame(a = factor(at[, 1L], seq_len(r)),
                     b = factor(at[, 2L], seq_len(c)),
                     e = factor(at[, 3L], seq_len(K)), g = group,
                     h = group %% 4L)
  if (is.null(clusters)) crosstab(data, a, b, each = e) else
    crosstab(respondents(transform(data, w = w), weight = w, stratum = h,
                         cluster = g), a, b, each = e)
}

settings <- list(list(3, 3, 2, 400), list(3, 4, 3, 800), list(5, 4, 3, 1200),
                 list(3, 3, 2, NA, 40), list(3, 4, 3, NA, 60),
                 list(5, 4, 3, NA, 80))
cat("| shape | n or clusters | difference | rejects | no figure |\n|---|---|---|---|---|\n")
for (s in settings) for (more in c(0, 0.4)) {
  set.seed(1)
  p <- vapply(seq_len(surveys), function(i) {
    x <- survey(s[[1L]], s[[2L]], s[[3L]], s[[4L]], 0.3, more,
                if (length(s) > 4L) s[[5L]])
    utils::tail(as.data.frame(pooled(x)$tests), 1L)$p
  }, 0)
  cat(sprintf("| %dx%dx%d | %s | %s | %.3f | %.2f |\n", s[[1L]], s[[2L]],
              s[[3L]],
              if (length(s) > 4L) sprintf("%d clusters", s[[5L]]) else s[[4L]],
              more, mean(p < 0.05, na.rm = TRUE), mean(is.na(p))))
}
