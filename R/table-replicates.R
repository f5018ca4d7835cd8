# Replicate weights: the same figures from many re-weighted samples.

# Totals of every replicate, one row a cell of the layer (down its columns), one
# column a replicate; of imputed data sets those of the first, the second, ...
replicate_totals <- function(tally, at, cell, cells) {
  units <- nrow(tally$design$units)
  imputation <- (tally$cells$unit[at] - 1L) %/% units
  tally$cells$unit <- (tally$cells$unit - 1L) %% units + 1L
  parts <- lapply(seq_len(imputations_of(tally$design)), function(m) {
    own <- imputation == m - 1L
    totals_of_replicates(tally, at[own], cell[own], cells)
  })
  do.call(cbind, parts)
}

totals_of_replicates <- function(tally, at, cell, cells) {
  replicates <- tally$design$replicates
  if (is.null(replicates$factors))
    return(sums_by_group(tally$cells$replicates[at, , drop = FALSE], cell, cells))
  out <- matrix(0, cells, length(replicates$scale))
  # made from the design: a unit's weight times its factor, in blocks of cells
  met <- sort(unique(cell))
  for (block in split(met,
                      (seq_along(met) - 1L) %/%
                        max(1,
                            setting("block_cells") %/%
                              nrow(replicates$factors)))) {
    inside <- cell %in% block
    W <- matrix(0, nrow(replicates$factors), length(block))
    sums <- rowsum(tally$cells$w[at][inside],
                   tally$cells$unit[at][inside] +
                     (match(cell[inside], block) - 1L) * nrow(W))
    W[as.integer(rownames(sums))] <- sums
    out[block, ] <- crossprod(W, replicates$factors)
  }
  out
}

# Every figure is worked out in every replicate, as published standard errors
# are:
#   variance = sum over replicates of c_r (t_r - t)^2
# with c_r the replicate's coefficient. Where a figure is not defined in a
# replicate, because nobody of its base is left there, its linear form stands
# in.

# `shares` are the proportions in every replicate, one row a replicate, and
# `coefficient` theirs. A replicate in which nobody is left in this table says
# nothing; the others stand for it, so that the coefficients still add up to
# what they did. Replicates made from clusters have the degrees of freedom of
# the linearised form: clusters in the table less their strata; those that came
# with the data what was said of them.
replicated_spread <- function(totals, cells, design) {
  replicates <- design$replicates
  sums <- column_sums(totals)
  some <- sums > 0
  coefficient <-
    replicates$scale[some] * sum(replicates$scale) / sum(replicates$scale[some])
  df <- replicates$df
  met <- NULL
  if (!is.null(replicates$factors)) {
    met <- list(row = cells$unit, cell = cells$cell)
    present <- unique(cells$unit)
    df <-
      min(df, length(present) - length(unique(design$units$stratum[present])))
  }
  new_spread("replicated", min(df, sum(some) - 1),
             shares = t(totals[, some, drop = FALSE]) / sums[some],
             coefficient = coefficient, met = met,
             drawn = list(sums = sums[some], scale = replicates$scale[some],
                          none = sum(replicates$scale[!some])))
}

# Totals in every replicate; in one in which nobody is left here they are 0.
#' @export
totals_variance.fairlattice_replicated <- function(e, weights = NULL) {
  drawn <- e$spread$drawn
  at <- as.vector(e$sums)
  totals <- e$spread$shares * drawn$sums
  if (!is.null(weights)) {
    at <- as.vector(crossprod(weights, at))
    totals <- totals %*% weights
  }
  distances <- totals - rep(at, each = length(drawn$sums))
  column_sums(distances^2 * drawn$scale) + drawn$none * at^2
}

# How far every value of a figure is from its estimate `at` in every replicate,
# times the root of the coefficient: one row a replicate.
replicate_distances <- function(e, figure, at) {
  s <- e$spread
  of_replicate <- function(r) {
    P <- e$P
    P[] <- s$shares[r, ]
    figure(P)$value
  }
  values <-
    vapply(seq_along(s$coefficient), of_replicate, numeric(length(at$value)))
  distances <- matrix(values, length(at$value)) - at$value
  undefined <- !is.finite(distances)
  if (any(undefined)) distances[undefined] <- linear_distances(e, at)[undefined]
  t(distances) * sqrt(s$coefficient)
}

# The same by the derivative.
linear_distances <- function(e, at) {
  moved <- t(e$spread$shares) - as.vector(e$P)
  if (is.null(at$gradient)) matrix(0, length(at$value), ncol(moved)) else
    crossprod(matrix(at$gradient, nrow(moved)), moved)
}

#' @export
estimated.fairlattice_replicated <- function(e, figure) {
  at <- figure(e$P)
  none <- is.null(at$gradient)
  with_df(e, at, variance = if (none) numeric(length(at$value)) else
    column_sums(replicate_distances(e, figure, at)^2))
}

#' @export
estimated_together.fairlattice_replicated <- function(e, figure) {
  at <- figure(e$P)
  with_df(e, at, joint_df = design_df(e),
          covariance = crossprod(replicate_distances(e, figure, at)))
}

#' @export
estimated_shares.fairlattice_replicated <- function(e, percent) {
  share <- shares_of_sums(e, percent)
  shares <- e$spread$shares
  group <- base_groups(dim(e$P), percent)
  bases <- shares %*% outer(group, seq_len(max(group)), `==`)
  distances <-
    shares / bases[, group, drop = FALSE] - rep(share, each = nrow(shares))
  distances[!is.finite(distances)] <- 0 # nobody of the base is left: the linear form
  list(value = share, variance = column_sums(distances^2 * e$spread$coefficient),
       df = share_df(e, percent))
}

#' @export
residual_variance.fairlattice_replicated <- function(e) {
  matrix(column_sums(residual_distances(e)^2), nrow(e$P))
}

#' @export
residual_spread.fairlattice_replicated <- function(e) {
  spread_in(crossprod(residual_distances(e)), e$P)
}

residual_distances <- function(e) {
  departures <- function(P) part(as.vector(P - expected_proportions(P)), NULL)
  replicate_distances(e, departures, departures(e$P))
}
