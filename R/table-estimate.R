# The estimate of a layer: its proportions, and how they vary from sample to
# sample.

# The estimate of a layer, or of every part of one of ticks.
add_estimates <- function(layer, tally) UseMethod("add_estimates")

#' @export
add_estimates.fairlattice_layer <- function(layer, tally) {
  e <- estimate_of(unclass(layer), tally$design, layer_cells(layer, tally))
  if (!is.null(e) && min(dim(e$P)) > 1L) e$effect <- design_effects(e)
  layer["estimate"] <- list(e)
  layer
}

#' @export
add_estimates.fairlattice_ticks_layer <- function(layer, tally) {
  layer$parts <- lapply(layer$parts, add_estimates, tally = tally)
  layer$patterns <- add_estimates(layer$patterns, tally)
  layer
}

# NULL while nobody is in the layer.
estimate_of <- function(layer, design, cells = layer$cells) {
  rows <- which(layer$margins$down$weighted > 0)
  columns <- which(layer$margins$across$weighted > 0)
  if (!length(rows)) return(NULL)
  sums <- layer$weighted[rows, columns, drop = FALSE]
  P <- sums / layer$base$weighted
  n <- layer$base$n
  height <- nrow(layer$n)
  cells$cell <- match(seq_len(height), rows)[cells$row] +
    (match(seq_len(ncol(layer$n)), columns)[cells$column] - 1L) * length(rows)
  totals <- layer$replicates[places_at(rows, columns, height), , drop = FALSE]
  spread <- if (imputations_of(design) > 1L)
    imputed_spread(estimates_by_imputation(sums, n, rows, columns, cells, totals, design),
                   P) else
      spread_by(design, P, n, cells, totals)
  new_estimate(sums, P, n, rows, columns, spread)
}

# The spread that goes with a design. `totals` are those of replicate weights, one row
# a cell of P.
spread_by <- function(design, P, n, cells, totals) {
  if (!is.null(design$replicates))
    return(replicated_spread(totals, cells, design))
  if (!design$weighted && !design$stratified && !design$clustered)
    return(random_spread(P, n))
  if (is.null(design$calibration) && is.null(design$stages))
    linearised_spread(P, cells, design) else
      scored_spread(P, cells, design)
}

# The estimate that each imputation has of the same table.
estimates_by_imputation <- function(sums, n, rows, columns, cells, totals, design) {
  M <- imputations_of(design)
  once <- replace(design, "imputations", list(NULL))
  parts <- cells_by_imputation(cells, design)
  lapply(seq_len(M), function(m) {
    own <- parts[[m]]
    own_sums <- replace(sums, seq_along(sums),
                        sum_by_cell_kernel(own$cell, own$w, length(sums)))
    P <- own_sums / sum(own_sums)
    R <- ncol(totals) %/% M
    new_estimate(own_sums, P, n, rows, columns,
                 spread_by(once, P, n, own,
                           totals[, seq_len(R) + (m - 1L) * R, drop = FALSE] * M))
  })
}
