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

# A replicate in which nobody is left in this table says nothing, and is one the fewer.
replicate_spread <- function(P, totals, replicates) {
  sums <- colSums(totals)
  some <- sums > 0
  S <- t(totals[, some, drop = FALSE]) / sums[some]
  S <- (S - rep(as.vector(P), each = nrow(S))) * sqrt(replicates$scale[some])
  new_spread(min(replicates$df, sum(some) - 1), scores = list(S))
}
