# Shares of the row, column and table totals, with their intervals.

# Vectors down the columns of the layer's table: share (NA on an empty base), low, high, base (respondents),
# base_weighted.
layer_shares <- function(layer, percent, alpha, kind = "usual") UseMethod("layer_shares")

#' @export
layer_shares.fairlattice_layer <- function(layer, percent, alpha, kind = "usual") {
  layer <- unclass(layer)
  base <- base_per_cell(layer$weighted, percent)
  n <- base_per_cell(layer$n, percent)
  share <- as.vector(layer$weighted) / base
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
  list(share = share, low = interval$low, high = interval$high, base = n, base_weighted = base)
}

# The total that each cell is a share of.
base_per_cell <- function(M, percent) {
  switch(percent, column = rep(column_sums(M), each = nrow(M)), row = rep(row_sums(M), ncol(M)),
         total = rep(sum(M), length(M)))
}

# Which base that is, cell by cell.
base_groups <- function(size, percent) {
  switch(percent, column = rep(seq_len(size[2L]), each = size[1L]), row = rep(seq_len(size[1L]), size[2L]),
         total = rep(1L, prod(size)))
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
  variance <- if (is.null(e$sparse)) squares_of(e, function(S) share_squares_kernel(S, e$P, percent)) else
    sparse_share_variance(e, base_groups(dim(e$P), percent), as.vector(e$P) / base_per_cell(e$P, percent),
                          base_per_cell(e$P, percent))
  if (!is.null(e$diagonal)) {
    b <- base_per_cell(e$P, percent)
    q <- as.vector(e$P) / b
    rest <- base_per_cell(matrix(e$diagonal, nrow(e$P)), percent) - e$diagonal
    variance <- variance + (e$diagonal * (1 - q)^2 + rest * q^2) / b^2
  }
  out <- rep(NA_real_, length(layer$n))
  out[places_in(layer)] <- not_negative(variance)
  out
}
