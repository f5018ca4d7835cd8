# Calibrated weights: the variance by linearisation of what the margins leave
# unexplained. With y the indicator of a cell and x the auxiliary variables,
#   e = y - x'B,  B = (sum w x x')^-1 sum w x y
# takes the place of y (Deville & Saerndal 1992, 3.4): of a cell that the margins
# explain whole nothing is left, and it has no variance. The score of a cluster is its
# sum of w e, over everybody in the sample, whether in the table or not:
#   t = W - X'B,  W and X its sums of w y and of w x.

calibrated_spread <- function(P, cells, design) {
  plain <- linearised_spread(P, cells, design)
  totals <- if (design$clustered) calibrated_clusters(P, cells, design) else
    calibrated_respondents(P, cells, design)
  N <- sum(cells$w)
  to_shares <- function(block) {
    force(block)
    function() {
      t <- block_of(block)
      (t - tcrossprod(row_sums(t), as.vector(P))) / N
    }
  }
  scores <- lapply(totals$scores, to_shares)
  if (length(scores) == 1L) scores <- list(scores[[1L]]())
  new_spread("calibrated", plain$df, plain$single,
             diagonal = if (!is.null(totals$diagonal)) totals$diagonal / N^2,
             scores = scores,
             minus = if (!is.null(totals$minus)) to_shares(totals$minus)(),
             met = plain$met, drawn = totals)
}

# The coefficients B of every cell, one row a cell.
coefficients_of <- function(cells, size, calibration) {
  sums <- matrix(0, size, ncol(calibration$units))
  found <- rowsum(cells$auxiliary, cells$cell)
  sums[as.integer(rownames(found)), ] <- found
  tcrossprod(sums, calibration$solve)
}

# Scores of totals: (t - mean of its stratum) root f, one row a cluster. What is left
# of rounding size is nothing. A single cluster is centred at the mean of all.
calibrated_clusters <- function(P, cells, design) {
  size <- length(P)
  calibration <- design$calibration
  strata <- strata_of(design, by = "cluster")
  B <- coefficients_of(cells, size, calibration)
  totals <- function(first, last) {
    inside <- cells$unit >= first & cells$unit <= last
    W <- matrix(0, last - first + 1L, size)
    W[cbind(cells$unit[inside] - first + 1L, cells$cell[inside])] <-
      cells$w[inside]
    X <- calibration$units[first:last, , drop = FALSE]
    t <- W - tcrossprod(X, B)
    t[abs(t) < 1e-10 * (W + tcrossprod(abs(X), abs(B)))] <- 0
    t
  }
  blocks <- in_blocks(length(strata$of), size, totals)
  mean <- stratum_means(blocks, strata, size)
  at <- split(seq_along(strata$of), rep(seq_along(blocks), vapply(blocks, function(block) {
    nrow(block_of(block))
  }, 0L)))
  scores <- Map(function(block, rows) {
    h <- strata$of[rows]
    make <- function() {
      (block_of(block) - mean[h, , drop = FALSE]) * sqrt(strata$factor[h])
    }
    if (is.function(block)) make else make()
  }, blocks, unname(at))
  list(scores = scores)
}

stratum_means <- function(blocks, strata, size) {
  sums <- matrix(0, length(strata$a), size)
  done <- 0L
  for (block in blocks) {
    t <- block_of(block)
    found <- rowsum(t, strata$of[done + seq_len(nrow(t))])
    h <- as.integer(rownames(found))
    sums[h, ] <- sums[h, , drop = FALSE] + found
    done <- done + nrow(t)
  }
  mean <- sums / strata$a
  single <- which(strata$a == 1L)
  if (length(single))
    mean[single, ] <- rep(column_sums(sums) / sum(strata$a), each = length(single))
  mean
}

# The same where every respondent is a cluster of their own: sum over a stratum of
# f (w y - z'B)(w y - z'B)', with z what a respondent carries, is
#   D - Z B' - B Z' + B M B' = D + (B - Z M^-1) M (B - Z M^-1)' - Z M^-1 Z'
# with D the diagonal of sums of w^2, Z the sums of w z by cell and M those of z z'.
# Less f/a times the square of the stratum's sum, as ever.
calibrated_respondents <- function(P, cells, design) {
  size <- length(P)
  calibration <- design$calibration
  strata <- strata_of(design, by = "respondent")
  B <- coefficients_of(cells, size, calibration)
  by_cell <- function(M) {
    rowsum(rbind(M, matrix(0, size, ncol(M))), c(cells$cell, seq_len(size)))
  }
  f <- strata$factor
  D <- as.vector(by_cell(cbind(cells$w2 * f[cells$unit])))
  Z <- by_cell(cells$products * f[cells$unit])
  M <- Reduce(`+`, Map(`*`, calibration$squares, f))
  root <- root_of(M)
  ZR <- Z %*% root$inverse
  W <- matrix(0, length(strata$a), size)
  W[cbind(cells$unit, cells$cell)] <- cells$w
  totals <- (W - tcrossprod(calibration$units, B)) *
    sqrt(ifelse(strata$a > 1, f / strata$a, 0))
  list(diagonal = D, scores = list(t(B %*% root$root - ZR)),
       minus = rbind(t(ZR), totals))
}

# R and its inverse with M = R R', over the directions that M has.
root_of <- function(M) {
  scale <- sqrt(diagonal_of(M))
  scale[scale <= 0] <- 1
  parts <- eigen(M / tcrossprod(scale), symmetric = TRUE)
  kept <- parts$values > 1e-9 * max(parts$values, 0)
  V <- parts$vectors[, kept, drop = FALSE]
  size <- sqrt(parts$values[kept])
  list(root = V * scale * rep(size, each = nrow(V)),
       inverse = V / scale / rep(size, each = nrow(V)))
}

# Of weighted sums themselves, from the same scores.
#' @export
totals_variance.fairlattice_calibrated <- function(e, weights = NULL) {
  drawn <- e$spread$drawn
  G <- weights %||% diag(length(e$P))
  plus <- if (is.null(drawn$diagonal)) 0 else column_sums(G^2 * drawn$diagonal)
  squares <- function(S) column_sums((S %*% G)^2)
  for (block in drawn$scores) plus <- plus + squares(block_of(block))
  without_rounding(plus, if (is.null(drawn$minus)) 0 else squares(drawn$minus))
}
