# Level and power of the second-order Rao-Scott test with few clusters: as the
# literature has it (F on d1, d1 df), and with the sum of squares of the design
# effects freed of its bias (F on d1', d1 df; and F on d1', d1' df).
# Rscript bench/second-order.R [surveys a row, default 2000]
suppressPackageStartupMessages(library(fairlattice))
args <- commandArgs(trailingOnly = TRUE)
surveys <- if (length(args)) as.numeric(args[1]) else 2000

# One survey: strata of clusters; people of a cluster alike (`alike`: size of
# the Dirichlet, Inf for not at all); `shift` moves the down shares of the last
# column towards the first row.
draw <- function(r, c, clusters, size, alike, uneven, shift) {
  of <- rep(seq_len(4), length.out = clusters)
  if (uneven)
    of <- sort(sample(rep(seq_len(4),
                          ceiling(clusters * c(0.4, 0.3, 0.15, 0.15)))[seq_len(clusters)]))
  people <- if (uneven)
    pmax(3, rpois(clusters, size * rgamma(clusters, 2, 2))) else
    rep(size, clusters)
  cluster <- rep(seq_len(clusters), people)
  gamma <- function(k) {
    p <- rep(1 / k, k)
    if (is.infinite(alike)) return(matrix(p, clusters, k, byrow = TRUE))
    g <- matrix(rgamma(clusters * k, alike * p), clusters)
    (g + 1e-12) / rowSums(g + 1e-12)
  }
  pick <- function(P) {
    u <- runif(nrow(P))
    1L + rowSums(u > t(apply(P, 1L, cumsum))[, -ncol(P), drop = FALSE])
  }
  down <- pick(gamma(r)[cluster, ])
  across <- pick(gamma(c)[cluster, ])
  moved <- across == c & runif(length(across)) < shift
  down[moved] <- 1L
  data.frame(down = factor(down, seq_len(r)),
             across = factor(across, seq_len(c)), cluster,
             stratum = of[cluster], w = exp(0.5 * rnorm(length(cluster))))
}

p_values <- function(data) {
  x <- crosstab(respondents(data, weight = w, stratum = stratum,
                            cluster = cluster), down, across)
  e <- x$layers[[1L]]$estimate
  if (is.null(e$effect) || !is.null(e$effect$why)) return(c(NA, NA, NA, NA, NA))
  d <- prod(dim(e$P) - 1)
  s1 <- e$effect$sum
  q <- s1^2 / e$effect$df
  df <- fairlattice:::design_df(e)
  unbiased <- df^2 / ((df - 1) * (df + 2)) * (q - s1^2 / df)
  d1 <- s1^2 / q
  free <- if (unbiased > 0) min(max(s1^2 / unbiased, d1), d) else d
  f <- fairlattice:::pearson_statistic(e$P, e$n) / s1
  c(pf(f, d1, d1 * df, lower.tail = FALSE),
    pf(f, free, d1 * df, lower.tail = FALSE),
    pf(f, free, free * df, lower.tail = FALSE), df, d)
}

rows <- expand.grid(table = c("2x2", "2x5", "3x4", "5x5", "4x8"),
                    clusters = c(12, 20, 40, 100),
                    kind = c("alike", "not", "very alike", "uneven", "large"),
                    stringsAsFactors = FALSE)
one <- function(row, shift, seed) {
  set.seed(seed)
  size <- as.integer(strsplit(row$table, "x")[[1L]])
  kind <- row$kind
  p <- vapply(seq_len(surveys), function(i) {
    data <- draw(size[1L], size[2L], row$clusters,
                 if (kind == "large") 40 else 15,
                 switch(kind, alike = 8, not = Inf, "very alike" = 2,
                        uneven = 8, large = 8), kind == "uneven", shift)
    tryCatch(p_values(data), error = function(e) rep(NA_real_, 5))
  }, numeric(5))
  c(rowMeans(p[1:3, , drop = FALSE] < 0.05, na.rm = TRUE),
    df = median(p[4, ], na.rm = TRUE), d = size[1L] * size[2L] - sum(size) + 1)
}
shown <- function(rows, shift) {
  found <- parallel::mclapply(seq_len(nrow(rows)), function(k) {
    one(rows[k, ], shift, 100 + k)
  }, mc.cores = 2L)
  print(cbind(rows, round(do.call(rbind, found), 3)))
}
cat("Level at 5 %\n")
if (!"power" %in% args) shown(rows, 0)
cat("Power\n")
shown(rows[rows$kind %in% c("alike", "uneven") & rows$clusters < 100, ], 0.12)
