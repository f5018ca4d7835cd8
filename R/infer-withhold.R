# Which cells of a table of counts are withheld, so that nobody can be told from
# it: those of few respondents, and as many others as it takes that none of them
# can be worked out from its neighbours and the totals.
#
# Rows and columns are the points of a graph and withheld cells its lines. With
# the totals given, the withheld counts can move along the cycles of that graph,
# one up and the next down by the same number, and in no other way; so a count
# is known exactly if and only if its line lies on no cycle. Counts of 0 are
# shown and lie on none: every withheld count is at least 1, so a step of one
# along a cycle is always to another table of counts.

# `n` has the totals as its last row and column. The result is of the same
# shape. `also` are cells that are withheld elsewhere, which this table is not
# to give away.
withheld_cells <- function(n, limit, also = FALSE) {
  held <- n > 0 & (n < limit | also)
  inside <- row(n) < nrow(n) & col(n) < ncol(n)
  # totals are the last to go
  cost <- ifelse(n > 0, n + ifelse(inside, 0, 10 * sum(n)), Inf)
  repeat {
    open <- bridges_in(held)
    if (!length(open)) return(held)
    at <- arrayInd(open[1L], dim(n))
    held[cheapest_way(ifelse(held, 0, cost), at[1L], at[2L])] <- TRUE
  }
}

# Rows whose totals are withheld in any of several tables with the same rows:
# what one of them withholds no other may show. `tables` are counts with totals,
# their rows named.
rows_withheld <- function(tables, limit) {
  found <- character()
  repeat {
    held <- lapply(tables, function(n) {
      cells <- withheld_cells(n, limit, total_of(n, found))
      rownames(n)[cells[, ncol(n)] & seq_len(nrow(n)) < nrow(n)]
    })
    more <- setdiff(unlist(held), found)
    if (!length(more)) return(found)
    found <- c(found, more)
  }
}

# Which cells are the totals of these rows; in a one-way table, whose only
# column is its total, both.
total_of <- function(n, rows) {
  outer(seq_len(nrow(n)) < nrow(n) & rownames(n) %in% rows,
        seq_len(ncol(n)) == ncol(n) | ncol(n) == 2L)
}

# Withheld cells that lie on no cycle: without the cell its row and column are
# not connected.
bridges_in <- function(held) {
  Filter(function(cell) {
    at <- arrayInd(cell, dim(held))
    held[cell] <- FALSE
    !connected(held, at[1L], at[2L])
  }, which(held))
}

connected <- function(held, from_row, to_column) {
  rows <- seq_len(nrow(held)) == from_row
  repeat {
    columns <- column_sums(held[rows, , drop = FALSE]) > 0
    if (columns[to_column]) return(TRUE)
    more <- row_sums(held[, columns, drop = FALSE]) > 0
    if (all(rows[more])) return(FALSE)
    rows <- rows | more
  }
}

# The cells of the cheapest way from a row to a column that does not take the
# cell where they meet (Dijkstra 1959). Cells that are withheld already cost
# nothing.
cheapest_way <- function(cost, from_row, to_column) {
  cost[from_row, to_column] <- Inf
  r <- nrow(cost)
  points <- r + ncol(cost)
  far <- rep(Inf, points)
  far[from_row] <- 0
  before <- integer(points)
  done <- logical(points)
  repeat {
    now <- which.min(ifelse(done, Inf, far))
    if (done[now] || !is.finite(far[now]) || now == r + to_column) break
    done[now] <- TRUE
    if (now <= r) {
      others <- r + seq_len(ncol(cost))
      step <- cost[now, ]
    } else {
      others <- seq_len(r)
      step <- cost[, now - r]
    }
    nearer <- far[now] + step < far[others]
    far[others[nearer]] <- far[now] + step[nearer]
    before[others[nearer]] <- now
  }
  way <- integer()
  now <- r + to_column
  while (now != from_row) {
    ends <- sort(c(now, before[now]))
    way <- c(way, ends[1L] + (ends[2L] - r - 1L) * r)
    now <- before[now]
  }
  way
}
