# Replicate weights: the same estimate from many re-weighted samples. V = sum over replicates of c_r (p_r - p)(p_r -
# p)'.

# Totals of every replicate, one row a cell of the layer (down its columns), one column a replicate.
replicate_totals <- function(tally, at, cell, cells) {
  replicates <- tally$design$replicates
  out <- matrix(0, cells, length(replicates$scale))
  if (is.null(replicates$factors)) {
    sums <- rowsum(tally$cells$replicates[at, , drop = FALSE], cell)
    out[as.integer(rownames(sums)), ] <- sums
    return(out)
  }
  # made from the design: a unit's weight times its factor, in blocks of cells
  met <- sort(unique(cell))
  for (block in split(met, (seq_along(met) - 1L) %/% max(1, setting("block_cells") %/% nrow(replicates$factors)))) {
    inside <- cell %in% block
    W <- matrix(0, nrow(replicates$factors), length(block))
    sums <- rowsum(tally$cells$w[at][inside],
                   tally$cells$unit[at][inside] + (match(cell[inside], block) - 1L) * nrow(W))
    W[as.integer(rownames(sums))] <- sums
    out[block, ] <- crossprod(W, replicates$factors)
  }
  out
}

# A replicate in which nobody is left in this table says nothing; the others stand for it, so that the coefficients
# still add up to what they did. Replicates made from clusters have the degrees of freedom of the linearised form:
# clusters in the table less their strata; those that came with the data what was said of them.
replicate_spread <- function(P, totals, cells, design) {
  replicates <- design$replicates
  sums <- column_sums(totals)
  some <- sums > 0
  S <- t(totals[, some, drop = FALSE]) / sums[some]
  scale <- replicates$scale[some] * sum(replicates$scale) / sum(replicates$scale[some])
  df <- replicates$df
  if (!is.null(replicates$factors)) {
    present <- unique(cells$unit)
    df <- min(df, length(present) - length(unique(design$units$stratum[present])))
  }
  new_spread(min(df, sum(some) - 1), scores = list((S - rep(as.vector(P), each = nrow(S))) * sqrt(scale)))
}
