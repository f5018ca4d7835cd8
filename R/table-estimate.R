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
  new_estimate(sums, P, n, rows, columns,
               spread_by(design, P, n, layer, cells, rows, columns))
}

# The spread that goes with a design.
spread_by <- function(design, P, n, layer, cells, rows, columns) {
  height <- nrow(layer$n)
  cells$cell <- match(seq_len(height), rows)[cells$row] +
    (match(seq_len(ncol(layer$n)), columns)[cells$column] - 1L) * length(rows)
  if (!is.null(design$replicates)) {
    totals <- layer$replicates[places_at(rows, columns, height), , drop = FALSE]
    return(replicated_spread(totals, cells, design))
  }
  if (!design$weighted && !design$stratified && !design$clustered)
    return(random_spread(P, n))
  if (is.null(design$calibration) && is.null(design$stages))
    linearised_spread(P, cells, design) else
      scored_spread(P, cells, design)
}
