# Layers of tick-all questions. The tally has patterns of ticks; an item is a sum of patterns. A layer of ticks is made
# of parts, one ordinary layer for each item (ticked or not, by the answers of the other question) or, with ticks on
# both sides, for each pair of items. Every figure of the layer is a figure of one of its parts.

ticks_in <- function(tally) vapply(tally[c("down", "across")], function(question) !is.null(question$items), NA)

tick_layer <- function(layer, tally) {
  ticks <- ticks_in(tally)
  row_items <- if (ticks[["down"]]) item_groups(tally$down) else list(NULL)
  column_items <- if (ticks[["across"]]) item_groups(tally$across) else list(NULL)
  parts <- list()
  for (column in column_items) for (row in row_items) parts <- c(parts, list(collapse_layer(layer, row, column)))
  rows <- if (ticks[["down"]]) tally$down$items else rownames(layer$n)
  columns <- if (ticks[["across"]]) tally$across$items else colnames(layer$n)
  grid <- function(what) {
    cells <- unlist(lapply(parts, function(part) part_cells(part[[what]], ticks)))
    # with one part an item of down, parts come item by item, and a part has the cells of one row
    by_row <- ticks[["down"]] && !ticks[["across"]]
    matrix(cells, length(rows), length(columns), byrow = by_row, dimnames = list(rows, columns))
  }
  everybody <- list(n = layer$n, weighted = layer$weighted)
  margin <- function(items, side) {
    if (is.null(items[[1L]]))
      return(data.frame(n = side(everybody$n), weighted = side(everybody$weighted), row.names = NULL))
    data.frame(n = vapply(items, function(group) sum(side(everybody$n)[group == 1L]), 0),
               weighted = vapply(items, function(group) sum(side(everybody$weighted)[group == 1L]), 0),
               row.names = NULL)
  }
  layer$margins <- list(down = margin(row_items, rowSums), across = margin(column_items, colSums))
  layer[c("n", "weighted")] <- list(grid("n"), grid("weighted"))
  layer$parts <- parts
  layer$ticks <- ticks
  layer
}

# For each item the group of every pattern: 1 ticked, 2 not.
item_groups <- function(question) {
  ticked <- question$ticked[!question$missing, , drop = FALSE]
  lapply(seq_along(question$items), function(k) ifelse(ticked[, k], 1L, 2L))
}

# A layer with its rows and columns put together into groups (NULL: as they are).
collapse_layer <- function(layer, rows, columns) {
  together <- function(M) {
    if (!is.null(rows)) M <- group_sums(M, rows)
    if (!is.null(columns)) M <- t(group_sums(t(M), columns))
    M
  }
  out <- layer
  out[c("n", "weighted", "squared")] <- lapply(layer[c("n", "weighted", "squared")], together)
  if (!is.null(layer$replicates)) {
    to <- function(group, each) if (is.null(group)) each else group[each]
    at <- arrayInd(seq_along(layer$n), dim(layer$n))
    place <- to(rows, at[, 1L]) + (to(columns, at[, 2L]) - 1L) * nrow(out$n)
    sums <- rowsum(layer$replicates, place)
    out$replicates <- matrix(0, length(out$n), ncol(sums))
    out$replicates[as.integer(rownames(sums)), ] <- sums
  }
  cells <- layer$cells
  if (!is.null(rows)) cells$row <- rows[cells$row]
  if (!is.null(columns)) cells$column <- columns[cells$column]
  out$cells <- sum_by(cells, c("unit", "column", "row"), c("w", "w2", "n"))
  out
}

group_sums <- function(M, group) {
  out <- matrix(0, 2L, ncol(M), dimnames = list(c("ticked", "not ticked"), colnames(M)))
  for (k in 1:2) out[k, ] <- colSums(M[group == k, , drop = FALSE])
  out
}

# Those cells of a part that are cells of the layer: the ticked row, column or cell. `x` is a matrix, or runs down its
# columns.
part_cells <- function(x, ticks, size = dim(x)) {
  at <- matrix(seq_len(prod(size)), size[1L], size[2L])
  at <- at[if (ticks[["down"]]) 1L else seq_len(size[1L]), if (ticks[["across"]]) 1L else seq_len(size[2L]),
           drop = FALSE]
  if (is.data.frame(x)) x[as.vector(at), ] else x[as.vector(at)]
}

# A data frame of figures per cell of a layer, from one per part.
cells_from_parts <- function(layer, figures) {
  frames <- lapply(layer$parts, function(part) part_cells(figures(part), layer$ticks, dim(part$n)))
  out <- do.call(rbind, frames)
  size <- dim(layer$n)
  order <- if (layer$ticks[["down"]] && !layer$ticks[["across"]])
    as.vector(matrix(seq_len(prod(size)), size[1L], size[2L], byrow = TRUE)) else seq_len(prod(size))
  out <- out[order, ]
  out$down <- rep(rownames(layer$n), size[2L])
  out$across <- rep(colnames(layer$n), each = size[1L])
  rownames(out) <- NULL
  out
}
