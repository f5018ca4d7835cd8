# Shares of the row, column and table totals, with their intervals.

# Vectors down the columns of the layer's table: share (NA on an empty base),
# low, high, base (respondents), base_weighted, se and deff, the design effect:
# the variance over that of a random sample of as many people as the base has.
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
  variance <- df <- missing <- rep(NA_real_, length(share))
  if (!is.null(e)) {
    df[] <- design_df(e) # also of an answer that nobody gave
    at <- places_in(layer)
    found <- estimated_shares(e, percent)
    share[at] <- found$value
    variance[at] <- found$variance
    df[at] <- found$df
    if (!is.null(found$missing)) missing[at] <- found$missing
  }
  interval <- if (kind == "korn_graubard") {
    binomial_interval(share, n, variance, df, alpha,
                      share_effects(share, n, variance, layer$base), e)
  } else {
    share_interval(share, n, variance, df, alpha, e)
  }
  se <- sqrt(variance)
  se[df < 1 | is.na(interval$low)] <- NA_real_
  c(list(share = share, low = interval$low, high = interval$high, base = n,
         base_weighted = base, se = se, deff = share_deff(share, n, se)),
    if (inherits(e$spread, "fairlattice_imputed"))
      list(missing_information = replace(missing, is.na(se), NA)))
}

# The coefficient of variation; a share of 0 has none.
cv_of <- function(share) ifelse(share$share > 0, share$se / share$share, NA_real_)

share_deff <- function(share, n, se) {
  effect <- se^2 * n / (share * (1 - share))
  effect[!is.finite(effect) | se <= 1e-10] <- NA_real_
  effect
}

# What the design costs a share that nobody or everybody has: the mean design
# effect of the other shares, or that of the weights where there is none; at
# least 1.
share_effects <- function(share, n, variance, base) {
  effects <- variance * n / (share * (1 - share))
  effects <- effects[is.finite(effects) & effects > 0]
  max(1, if (length(effects)) mean(effects) else base$n / base$effective)
}

# How many clusters the people live in of whom each cell's percentage is
# (`percent`), or who are in the cell itself ("cell"); NA where there are no
# clusters.
layer_clusters <- function(layer, percent) UseMethod("layer_clusters")

#' @export
layer_clusters.default <- function(layer, percent) {
  out <- rep(NA_real_, length(layer$n))
  e <- unclass(layer)$estimate
  if (is.null(e$spread$met$row)) return(out)
  group <- if (percent == "cell") seq_along(e$P) else
    base_groups(dim(e$P), percent)
  out[places_in(layer)] <- clusters_in_groups(e, group)[group]
  out
}

#' @export
layer_clusters.fairlattice_ticks_layer <- function(layer, percent) {
  cells_from_parts(layer, function(part) {
    list(clusters = layer_clusters(part, percent))
  })$clusters
}
