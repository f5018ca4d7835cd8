# Shares of the row, column and table totals, with their intervals.

# Vectors down the columns of the layer's table: share (NA on an empty base),
# low, high, base (respondents), base_weighted.
layer_shares <- function(layer, percent, alpha, kind = "usual") {
  UseMethod("layer_shares")
}

#' @export
layer_shares.fairlattice_layer <- function(layer, percent, alpha,
                                           kind = "usual") {
  layer <- unclass(layer)
  base <- base_per_cell(layer$weighted, percent)
  n <- base_per_cell(layer$n, percent)
  share <- as.vector(layer$weighted) / base
  share[base <= 0] <- NA_real_
  e <- layer$estimate
  variance <- df <- rep(NA_real_, length(share))
  if (!is.null(e)) {
    df[] <- design_df(e) # also of an answer that nobody gave
    at <- places_in(layer)
    found <- estimated_shares(e, percent)
    share[at] <- found$value
    variance[at] <- found$variance
    df[at] <- found$df
  }
  interval <- if (kind == "korn_graubard") {
    binomial_interval(share, n, variance, df, alpha,
                      share_effects(share, n, variance, layer$base), e)
  } else {
    share_interval(share, n, variance, df, alpha, e)
  }
  list(share = share, low = interval$low, high = interval$high, base = n,
       base_weighted = base)
}

# What the design costs a share that nobody or everybody has: the mean design
# effect of the other shares, or that of the weights where there is none; at
# least 1.
share_effects <- function(share, n, variance, base) {
  effects <- variance * n / (share * (1 - share))
  effects <- effects[is.finite(effects) & effects > 0]
  max(1, if (length(effects)) mean(effects) else base$n / base$effective)
}
