# Shares of the row, column and table totals, with their intervals.

# Vectors down the columns of the layer's table: share (NA on an empty base), low, high, base (respondents),
# base_weighted.
layer_shares <- function(layer, percent, alpha, kind = "usual") UseMethod("layer_shares")

#' @export
layer_shares.fairlattice_layer <- function(layer, percent, alpha, kind = "usual") {
  size <- dim(layer$n)
  base <- base_per_cell(layer$weighted, percent)
  n <- base_per_cell(layer$n, percent)
  share <- layer$weighted / base
  share[base <= 0] <- NA_real_
  e <- layer$estimate
  interval <- if (is.null(e)) {
    list(low = share, high = share)
  } else if (kind == "korn_graubard") {
    variance <- if (e$by_design) share_variance(layer, percent)
    binomial_interval(share, n, variance, e$df, alpha, share_effects(share, n, variance, layer$base))
  } else if (e$by_design) {
    logit_interval(share, share_variance(layer, percent), e$df, alpha)
  } else {
    wilson_interval(share, n, alpha)
  }
  list(share = as.vector(share), low = as.vector(interval$low), high = as.vector(interval$high), base = as.vector(n),
       base_weighted = as.vector(base))
}

# The total that each cell is a share of.
base_per_cell <- function(M, percent) {
  switch(percent, column = matrix(colSums(M), nrow(M), ncol(M), byrow = TRUE),
         row = matrix(rowSums(M), nrow(M), ncol(M)), total = matrix(sum(M), nrow(M), ncol(M)))
}

# What the design costs a share that nobody or everybody has: the mean design effect of the other shares, or that of
# the weights where there is none; at least 1.
share_effects <- function(share, n, variance, base) {
  if (is.null(variance)) return(1)
  effects <- variance * n / (share * (1 - share))
  effects <- effects[is.finite(effects) & effects > 0]
  max(1, if (length(effects)) mean(effects) else base$n / base$effective)
}

# Variance of q = p_ij / b, b the proportion of its base: the score of q is (score of p_ij - q score of b) / b.
share_variance <- function(layer, percent) {
  e <- layer$estimate
  group <- as.vector(switch(percent, column = col(e$P), row = row(e$P), total = array(1L, dim(e$P))))
  p <- as.vector(e$P)
  b <- sum_by_cell_kernel(group, p, max(group))[group]
  q <- p / b
  variance <- if (!is.null(e$sparse)) sparse_share_variance(e, group, q, b) else
    squares_of(e, function(S) share_scores_kernel(S, group, max(group), q, b))
  if (!is.null(e$diagonal)) {
    rest <- sum_by_cell_kernel(group, e$diagonal, max(group))[group] - e$diagonal
    variance <- variance + (e$diagonal * (1 - q)^2 + rest * q^2) / b^2
  }
  out <- array(NA_real_, dim(layer$n))
  out[e$rows, e$columns] <- pmax(0, variance)
  out
}
