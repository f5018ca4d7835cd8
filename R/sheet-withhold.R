# What a table does not show for the sake of its respondents: counts of few, and
# as many others as protect them (R/infer-withhold.R), with all that would give
# them away.

# Cells of few respondents, and those from which they could be worked out, are
# not shown; nor is a net or a mean that takes such a cell in, nor in their line
# what compares columns.
withheld <- function(grid, stub, columns, x, k, parts, layout) {
  if (!layout$withhold_under) return(grid)
  core <- parts$core$layers[[1L]]
  held <- withheld_lines(x, core, held_of(x, k, layout))
  at <- places_among(columns, ncol(held))
  here <- held[places_among(stub, nrow(held)), at, drop = FALSE]
  means <- stub$role == "mean"
  if (has(x, "answers"))
    here[means, ] <- rep(colSums(held[seq_len(nrow(core$n)), at, drop = FALSE]) >
                           0, each = sum(means))
  if (!any(here)) return(grid)
  hundred <- outer(stub$role == "total", columns$role == "total", `|`)
  grid$key <- c(grid$key, words("withheld_key", limit = layout$withhold_under))
  grid <- without_comparisons(grid, rowSums(here) > 0, colSums(here) > 0, layout)
  taken_out(grid, function(part) {
    here & part$kind != "" & !(hundred & part$kind == "percent")
  }, "withheld")
}

# Differences, marks and letters say how a withheld share compares.
without_comparisons <- function(grid, rows, columns, layout) {
  beside <- if (compared_side(layout) == "columns")
    matrix(rows, length(rows), length(columns)) else
    matrix(columns, length(rows), length(columns), byrow = TRUE)
  grid <- taken_out(grid, function(part) {
    beside & part$kind %in% c("change", "change_interval")
  }, "withheld")
  if (layout$marks %in% c("differences", "letters")) grid$mark[beside] <- ""
  if (!is.null(grid$letters)) grid$letters[beside] <- ""
  grid
}

# What of layer k is withheld, with the totals as last row and column: as it was
# worked out for all tables of the same people, or of this one alone.
held_of <- function(x, k, layout) {
  limits <- limits_of(layout)
  shared <- layout$protected %||% x$protected
  if (!is.null(shared) && identical(shared$limits, limits))
    return(shared$held[[k]])
  layer <- x$layers[[k]]
  once(layer$kept, "held", limits,
       filled_out(protected_or_refused(list(counts_guarded(x, k)), limits)[[1L]],
                  layer, has(x, "answers")))
}

# Counts under a limit are withheld, and can be others by so much.
limits_of <- function(layout) {
  limit <- layout$withhold_under
  list(limit = limit, protect = layout[["protect"]] %||% limit)
}

protected_or_refused <- function(tables, limits, call = NULL) {
  held <- protected_cells(tables, limits$limit, limits$protect)
  open <- attr(held, "open")
  if (length(open))
    stop_unprotected(open[[1L]], tables[[open[[1L]]$table]]$each, limits, call)
  held
}

# `each`: the answer that the table is of.
stop_unprotected <- function(open, each, limits, call) {
  where <- paste(c(open$down, if (!is.na(open$across)) open$across),
                 collapse = " \u00d7 ")
  if (nzchar(each %|NA|% "")) where <- paste0(where, ", ", each)
  stop_input(c(tells("cannot_be_protected", where, open$question, limits$limit,
                     limits$protect), i = tells("cannot_be_protected_how")),
             "unprotected", table = open$table, call = call)
}

# A layer as protected_cells() takes it. Of a number the columns alone are
# shown, with their bases.
counts_guarded <- function(x, k, open = FALSE) {
  layer <- x$layers[[k]]
  facts <- facts_of(x)
  alone <- !has(x, "across")
  margin <- function(side) {
    answers <- if (side == "down") answers_down(layer) else answers_across(layer)
    stats::setNames(as.vector(layer$margins[[side]]$n), answers)
  }
  if (!has(x, "answers")) {
    totals <- if (alone) stats::setNames(layer$base$n, "") else margin("across")
    return(list(n = as.matrix(totals),
                down = if (alone) "" else facts$across$name,
                across = NA_character_, totals = list(down = totals),
                base = layer$base$n, open = open, each = layer$each))
  }
  ticks <- c(down = facts$down$ticks, across = !alone && facts$across$ticks)
  list(n = layer$n, down = facts$down$name,
       across = if (alone) NA_character_ else facts$across$name,
       totals = list(down = margin("down"), across = margin("across")),
       base = layer$base$n, ticks = ticks, most = most_of(layer, ticks),
       open = open, each = layer$each, sample = if (!any(ticks)) x$tally$facts$sample)
}

# As many as were asked can have ticked an item.
most_of <- function(layer, ticks) {
  if (!any(ticks)) return(NULL)
  size <- dim(layer$n)
  if (all(ticks)) return(array(layer$base$n, size))
  if (ticks[["down"]])
    return(matrix(layer$margins$across$n, size[1L], size[2L], byrow = TRUE))
  matrix(layer$margins$down$n, size[1L], size[2L])
}

# Of a number, whose cells are its columns, as a matrix over all its values.
filled_out <- function(held, layer, has_answers) {
  if (has_answers) return(held)
  columns <- held[seq_len(nrow(held) - 1L), 1L]
  if (length(columns) != ncol(layer$n)) columns <- logical(ncol(layer$n))
  matrix(c(columns, held[nrow(held), ncol(held)]), nrow(layer$n) + 1L,
         length(columns) + 1L, byrow = TRUE)
}

# The same over answers, nets and everybody: a net is withheld where any of its
# answers is.
withheld_lines <- function(x, layer, held) {
  with_nets <- function(M, side, answers) {
    nets <- lapply(nets_in(x, side), function(net) {
      inside <- which(answers %in% net)
      colSums(M[inside, , drop = FALSE]) > 0
    })
    rbind(M[seq_along(answers), , drop = FALSE], do.call(rbind, nets),
          M[nrow(M), , drop = FALSE])
  }
  t(with_nets(t(with_nets(held, "down", answers_down(layer))), "across",
              answers_across(layer)))
}

withholds <- function(layout) (layout$withhold_under %||% 0) > 0
