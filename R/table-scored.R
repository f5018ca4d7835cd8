# Linearised variances whose scores are worked out for totals first: of calibrated
# weights, and of samples drawn in several stages.
#
# Calibrated weights: with y the indicator of a cell and x the auxiliary variables,
#   e = y - x'B,  B = (sum w x x')^-1 sum w x y
# takes the place of y (Deville & Saerndal 1992, 3.4): of a cell that the margins
# explain whole nothing is left, and it has no variance. The sum of w e of a cluster
# is over everybody in the sample, whether in the table or not:
#   t = W - X'B,  W and X its sums of w y and of w x.
#
# Stages: every stage adds squares of the sums t of its units about the centre of their
# stratum, times a factor, which R/tally-stages.R works out (Saerndal, Swensson &
# Wretman 1992, 4.3).

scored_spread <- function(P, cells, design) {
  known <- if (!is.null(design$stages)) stages_met(cells, design) else
    if (design$clustered) clusters_met(cells, strata_of(design, by = "cluster")) else
      respondents_met(cells, strata_of(design, by = "respondent"), length(P))
  totals <- if (design$clustered) scored_clusters(P, cells, design) else
    scored_respondents(P, cells, design)
  N <- sum(cells$w)
  to_shares <- function(block) {
    force(block)
    function() {
      t <- block_of(block)
      (t - tcrossprod(row_sums(t), as.vector(P))) / N
    }
  }
  scores <- lapply(totals$scores, function(block) {
    of_shares <- to_shares(block)
    if (is.function(block)) of_shares else of_shares()
  })
  new_spread("scored", known$df, known$single,
             diagonal = if (!is.null(totals$diagonal)) totals$diagonal / N^2,
             scores = scores,
             minus = if (!is.null(totals$minus)) to_shares(totals$minus)(),
             met = known$met, drawn = totals)
}

# What is known of a sample in stages: degrees of freedom are units less strata, of the
# first stage, and of the next where the first took all there are.
stages_met <- function(cells, design) {
  there <- unique(cells$unit)
  found <- design$deciding[there, ]
  found <- found[!found$certain, ]
  unit <- design$deciding$unit[cells$unit]
  list(df = length(unique(found$unit)) - length(unique(found$stratum)),
       single = intersect(design$single_of, design$units$stratum[there]),
       met = list(row = match(unit, unique(unit)), cell = cells$cell))
}

# The coefficients B of every cell, one row a cell.
coefficients_of <- function(cells, size, calibration) {
  tcrossprod(sums_by_group(cells$auxiliary, cells$cell, size), calibration$solve)
}

# Scores of totals, (t - centre of its stratum) root f, one row a unit of each stage.
scored_clusters <- function(P, cells, design) {
  size <- length(P)
  calibration <- design$calibration
  B <- if (!is.null(calibration)) coefficients_of(cells, size, calibration)
  stages <- design$stages %||% list(one_stage(design))
  blocks <- lapply(stages, function(stage) {
    X <- if (!is.null(B)) rowsum(calibration$units, stage$of)
    stage_scores(stage, cells, size, X, B)
  })
  of_all <- function(part) unlist(lapply(stages, `[[`, part))
  strata <- cumsum(c(0, vapply(stages, function(stage) max(stage$stratum), 0)))
  list(scores = unlist(blocks, recursive = FALSE),
       units = list(stratum = of_all("stratum") +
                      rep(strata[seq_along(stages)],
                          vapply(stages, function(stage) length(stage$stratum), 0L)),
                    factor = of_all("factor"), centre = of_all("centre"),
                    single = of_all("single")))
}

# A design of clusters as its only stage.
one_stage <- function(design) {
  strata <- strata_of(design, by = "cluster")
  a <- strata$a[strata$of]
  list(of = seq_along(strata$of), stratum = strata$of, factor = strata$factor[strata$of],
       centre = 1 / a, single = a <= 1)
}

stage_scores <- function(stage, cells, size, X, B) {
  unit <- stage$of[cells$unit]
  units <- length(stage$stratum)
  of_stratum <- if (!is.null(X)) rowsum(X * stage$centre, stage$stratum)
  centre <- residual_totals(cells, cells$w * stage$centre[unit], stage$stratum[unit],
                            max(stage$stratum), size, of_stratum, B)
  if (any(stage$single)) {
    # a single unit about the mean of all
    mean <- residual_totals(cells, cells$w, rep(1L, length(unit)), 1L, size,
                            if (!is.null(X)) rbind(column_sums(X)), B) / units
    centre[stage$stratum[stage$single], ] <- rep(mean, each = sum(stage$single))
  }
  in_blocks(units, size, function(first, last) {
    rows <- first:last
    part <- lapply(cells[c("w", "cell")], `[`, unit >= first & unit <= last)
    t <- residual_totals(part, part$w, unit[unit >= first & unit <= last] - first + 1L,
                         length(rows), size,
                         if (!is.null(X)) X[rows, , drop = FALSE], B)
    (t - centre[stage$stratum[rows], , drop = FALSE]) * sqrt(stage$factor[rows])
  })
}

# t = W - X'B by group and cell; what is left of rounding size is nothing.
residual_totals <- function(cells, w, group, groups, size, X, B) {
  W <- matrix(sum_by_cell_kernel(as.integer(group + (cells$cell - 1) * groups), w,
                                 as.integer(groups * size)), groups)
  if (is.null(B)) return(W)
  t <- W - tcrossprod(X, B)
  t[abs(t) < 1e-10 * (abs(W) + tcrossprod(abs(X), abs(B)))] <- 0
  t
}

# Calibrated weights where every respondent is a cluster of their own: sum over a
# stratum of
# f (w y - z'B)(w y - z'B)', with z what a respondent carries, is
#   D - Z B' - B Z' + B M B' = D + (B - Z M^-1) M (B - Z M^-1)' - Z M^-1 Z'
# with D the diagonal of sums of w^2, Z the sums of w z by cell and M those of z z'.
# Less f/a times the square of the stratum's sum, as ever.
scored_respondents <- function(P, cells, design) {
  size <- length(P)
  calibration <- design$calibration
  strata <- strata_of(design, by = "respondent")
  B <- coefficients_of(cells, size, calibration)
  by_cell <- function(M) sums_by_group(M, cells$cell, size)
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
  parts <- directions_of(M)
  size <- rep(sqrt(parts$values), each = nrow(M))
  list(root = parts$vectors * parts$scale * size,
       inverse = parts$vectors / parts$scale / size)
}

# Without unit k of its stratum the sums of all cells are T - c (t_k - centre), with
# c = 1 / (1 - what t_k weighs in the centre): where all weigh the same, the others
# stand for a/(a-1) of theirs. Of calibrated weights t_k is of residuals, which is, to
# the first order, what calibrating the others anew leaves.
#' @export
tables_without.fairlattice_scored <- function(e) {
  drawn <- e$spread$drawn
  units <- drawn$units
  if (is.null(units) || any(units$single & units$factor > 0) || !met_in_few(e) ||
        any(vapply(drawn$scores, is.function, NA))) return(NULL)
  moves <- which(units$factor > 0)
  factor <- units$factor[moves]
  step <- 1 / (1 - units$centre[moves])
  scores <- do.call(rbind, drawn$scores)[moves, , drop = FALSE]
  sums <- not_negative(rep(as.vector(e$sums), each = length(moves)) - scores * (step / sqrt(factor)))
  list(shares = sums / row_sums(sums), stratum = units$stratum[moves], factor = factor / step^2,
       times = rep(1, length(moves)),
       K = sum(factor)^2 / sum(factor^2)) # units that hardly count are hardly there
}

# Of weighted sums themselves, from the same scores.
#' @export
totals_variance.fairlattice_scored <- function(e, weights = NULL) {
  drawn <- e$spread$drawn
  G <- weights %||% diag(length(e$P))
  plus <- if (is.null(drawn$diagonal)) 0 else column_sums(G^2 * drawn$diagonal)
  squares <- function(S) column_sums((S %*% G)^2)
  for (block in drawn$scores) plus <- plus + squares(block_of(block))
  without_rounding(plus, if (is.null(drawn$minus)) 0 else squares(drawn$minus))
}
