# Layers of tick-all questions. The tally has patterns of ticks; an item is a
# sum of patterns. A layer of ticks is made of parts, one ordinary layer for
# each item (ticked or not, by the answers of the other question) or, with ticks
# on both sides, for each pair of items. Every figure of the layer is a figure
# of one of its parts; the layer of patterns that they are made from stays with
# them, since it knows who ticked several.

ticks_in <- function(tally) {
  vapply(tally[c("down", "across")], function(question) {
    !is.null(question$items)
  }, NA)
}

# A layer of ticks has the fields of new_layer(), `n` and `weighted` being of
# the items, and
#   parts      ordinary layers, one an item (or pair of items), down the columns of the table
#   ticks      which sides are items
#   patterns   the layer before the items were made; `groups` the item's ticked
#              patterns, for each part
tick_layer <- function(layer, tally) {
  layer$cells <- layer_cells(layer, tally)
  ticks <- ticks_in(tally)
  row_items <- if (ticks[["down"]]) item_groups(tally$down) else list(NULL)
  column_items <- if (ticks[["across"]]) item_groups(tally$across) else
    list(NULL)
  parts <- list()
  groups <- list()
  for (column in column_items) for (row in row_items) {
    parts <- c(parts, list(collapse_layer(layer, row, column)))
    groups <- c(groups, list(list(row = row, column = column)))
  }
  names <- list(if (ticks[["down"]]) tally$down$items else rownames(layer$n),
                if (ticks[["across"]]) tally$across$items else
                  colnames(layer$n))
  out <- layer
  # with one part an item of `down`, parts come item by item, and a part has the
  # cells of one row
  grid <- function(what) {
    matrix(unlist(lapply(parts, function(part) {
      part_cells(part[[what]], ticks)
    })), length(names[[1L]]), length(names[[2L]]),
           byrow = ticks[["down"]] && !ticks[["across"]], dimnames = names)
  }
  out[c("n", "weighted")] <- list(grid("n"), grid("weighted"))
  out$margins <- list(down = tick_margin(layer$margins$down, row_items),
                      across = tick_margin(layer$margins$across, column_items))
  out[c("parts", "ticks", "patterns", "groups")] <-
    list(parts, ticks, layer, groups)
  class(out) <- c("fairlattice_ticks_layer", "fairlattice_layer")
  out
}

# Respondents who ticked each item; without items the answers as they are.
tick_margin <- function(margin, items) {
  if (is.null(items[[1L]])) return(margin)
  lapply(margin, function(values) {
    vapply(items, function(group) sum(values[group == 1L]), 0)
  })
}

#' @export
layer_df.fairlattice_ticks_layer <- function(layer) layer_df(layer$parts[[1L]])

# For each item the group of every pattern: 1 ticked, 2 not.
item_groups <- function(question) {
  ticked <- question$ticked[!question$missing, , drop = FALSE]
  lapply(seq_along(question$items), function(k) ifelse(ticked[, k], 1L, 2L))
}

# A layer with its rows and columns put together into groups (NULL: as they
# are).
collapse_layer <- function(layer, rows, columns) {
  together <- function(M) {
    if (!is.null(rows)) M <- group_sums(M, rows)
    if (!is.null(columns)) M <- t(group_sums(t(M), columns))
    M
  }
  sums <- lapply(layer[c("n", "weighted", "squared")], together)
  to <- function(group, place) if (is.null(group)) place else group[place]
  replicates <- layer$replicates
  if (!is.null(replicates)) {
    at <- arrayInd(seq_along(layer$n), dim(layer$n))
    found <- rowsum(replicates,
                    to(rows, at[, 1L]) +
                      (to(columns, at[, 2L]) - 1L) * nrow(sums$n))
    replicates <- matrix(0, length(sums$n), ncol(found))
    replicates[as.integer(rownames(found)), ] <- found
  }
  cells <- framed_cells(layer$cells)
  cells$row <- to(rows, cells$row)
  cells$column <- to(columns, cells$column)
  cells <- sum_by(cells, c("unit", "column", "row"), summed_columns(cells))
  new_layer(layer$each, layer$ordered, layer$paired, sums$n, sums$weighted,
            sums$squared, layer$base$records, as.list(cells), replicates)
}

group_sums <- function(M, group) {
  out <- matrix(0, 2L, ncol(M),
                dimnames = list(c("ticked", "not ticked"), colnames(M)))
  for (k in 1:2) out[k, ] <- column_sums(M[group == k, , drop = FALSE])
  out
}

# Those cells of a part that are cells of the layer: the ticked row, column or
# cell. `x` is a matrix, or runs down its columns.
part_cells <- function(x, ticks, size = dim(x)) {
  at <- matrix(seq_len(prod(size)), size[1L], size[2L])
  rows <- if (ticks[["down"]]) 1L else seq_len(size[1L])
  columns <- if (ticks[["across"]]) 1L else seq_len(size[2L])
  as.vector(x)[as.vector(at[rows, columns, drop = FALSE])]
}

# Figures per cell of a layer of ticks, each a vector down its columns, from
# those of its parts.
cells_from_parts <- function(layer, figure) {
  parts <- lapply(layer$parts, function(part) {
    lapply(figure(part), part_cells, layer$ticks, dim(part$n))
  })
  size <- dim(layer$n)
  at <- seq_len(prod(size))
  if (layer$ticks[["down"]] && !layer$ticks[["across"]])
    at <- as.vector(matrix(at, size[1L], byrow = TRUE))
  items <- names(parts[[1L]])
  stats::setNames(lapply(items, function(name) {
    unlist(lapply(parts, `[[`, name))[at]
  }), items)
}
