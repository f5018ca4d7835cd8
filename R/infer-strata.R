# The strata of `each`: their tables over the answers that anybody gave, their
# joint estimate (one table with a column for every answer of across within
# every answer of each), and the table without `each`.

#   tables     list of each, n, weighted: the strata with two rows and two columns or more
#   left_out   answers of `each` whose strata say nothing
#   rows, columns   which answers of the layers are in the tables
#   joint      estimate of the tables side by side; NULL without tables
#   whole      estimate of all layers added up: the table without `each`
strata_tables <- function(x) {
  total <- Reduce(`+`, lapply(x$layers, function(layer) layer$n))
  rows <- which(row_sums(total) > 0)
  columns <- which(column_sums(total) > 0)
  says <- vapply(x$layers, function(layer) is.null(no_test_reason(layer)), NA)
  used <- x$layers[says]
  tables <- lapply(used, function(layer) {
    list(each = layer$each, n = layer$n[rows, columns, drop = FALSE],
         weighted = layer$weighted[rows, columns, drop = FALSE])
  })
  list(tables = tables,
       left_out = vapply(x$layers[!says], function(layer) layer$each, ""),
       rows = rows, columns = columns,
       joint = if (length(used))
         estimate_of(strata_joined(used, x$tally, rows, columns),
                     x$tally$design),
       whole = estimate_of(added_up(x$layers, x$tally), x$tally$design))
}

# Layers side by side as one; every cell stays, so that all strata have the same
# shape (an empty one has no variance).
strata_joined <- function(layers, tally, rows, columns) {
  bind <- function(field) {
    do.call(cbind,
            lapply(layers, function(layer) {
              layer[[field]][rows, columns, drop = FALSE]
            }))
  }
  cells <- Map(function(layer, k) {
    cells <- layer_cells(layer, tally)
    cells$row <- match(cells$row, rows)
    cells$column <- match(cells$column, columns) + (k - 1L) * length(columns)
    cells
  }, layers, seq_along(layers))
  first <- layers[[1L]]
  replicates <- if (!is.null(first$replicates)) {
    keep <- as.vector(outer(rows, (columns - 1L) * nrow(first$n), `+`))
    do.call(rbind,
            lapply(layers, function(layer) {
              layer$replicates[keep, , drop = FALSE]
            }))
  }
  new_layer(NA, first$ordered, FALSE, bind("n"), bind("weighted"),
            bind("squared"), NA, cells_together(cells), replicates)
}

# Layers added up: nobody is in two of them.
added_up <- function(layers, tally) {
  sum_of <- function(field) Reduce(`+`, lapply(layers, `[[`, field))
  first <- layers[[1L]]
  new_layer(NA, first$ordered, FALSE, sum_of("n"), sum_of("weighted"),
            sum_of("squared"), NA,
            cells_together(lapply(layers, layer_cells, tally)),
            if (!is.null(first$replicates)) sum_of("replicates"))
}

cells_together <- function(cells) {
  stats::setNames(lapply(names(cells[[1L]]), function(name) {
    parts <- lapply(cells, `[[`, name)
    if (is.matrix(parts[[1L]])) do.call(rbind, parts) else unlist(parts)
  }), names(cells[[1L]]))
}

by_design_of <- function(strata) {
  !is.null(strata$whole) && !counts_were_drawn(strata$whole)
}

two_by_two <- function(strata) {
  length(strata$rows) == 2L && length(strata$columns) == 2L
}

# On the scale of n whatever the weights are: n times the proportions of the
# joint table.
scaled_tables <- function(strata) {
  N <- sum(vapply(strata$tables, function(t) sum(t$weighted), 0))
  lapply(strata$tables, function(t) t$weighted / N * strata$joint$n)
}

# A figure of all strata as one of their joint estimate: `of` takes the tables
# of the strata on the scale of n, and gives values with a list of gradients,
# one a stratum.
joint_figure <- function(strata, of) {
  e <- strata$joint
  shape <- c(length(strata$rows), length(strata$columns))
  function(P) {
    all <- matrix(0, shape[1L], shape[2L] * length(strata$tables))
    all[e$rows, e$columns] <- e$n * P
    tables <- lapply(seq_along(strata$tables), function(k) {
      all[, (k - 1L) * shape[2L] + seq_len(shape[2L]), drop = FALSE]
    })
    at <- of(tables)
    part(at$value, e$n * joint_gradient(strata, at$gradient))
  }
}

# Gradients over the cells of the joint estimate, from gradients over the cells
# of every stratum (a list of matrices cells x figures).
joint_gradient <- function(strata, gradients) {
  G <- do.call(rbind, gradients)
  kept <- as.vector(outer(strata$joint$rows,
                          (strata$joint$columns - 1L) * length(strata$rows),
                          `+`))
  G[kept, , drop = FALSE]
}
