# Counts rounded to a base so that they still add up: controlled rounding of a
# two-way table with its totals (Causey, Cox and Ernst 1985, JASA 80:903-909;
# always possible, Cox 1987, JASA 82:520-524). Every entry goes to one of the
# two multiples around it, and multiples stay. Nothing is drawn at random: a
# table is always rounded alike.

# `M` is additive: its last row and column are the totals.
rounded_to <- function(M, base) {
  at <- dim(M)
  # with totals taken as negative every row and every column adds up to 0
  sign <- outer(replace(rep(1, at[1L]), at[1L], -1),
                replace(rep(1, at[2L]), at[2L], -1))
  y <- snapped(sign * M / base)
  # moving an entry up by one costs this much more than leaving it down
  slope <- 1 - 2 * (y - floor(y))
  open <- y != round(y)
  for (row in seq_len(at[1L])) while (any(open[row, ])) {
    cycle <- fractional_cycle(open, row)
    y[cycle] <- along_cycle(y[cycle], slope[cycle])
    open[cycle] <- y[cycle] != round(y[cycle])
  }
  unname(sign * y * base)
}

# What is an integer but for its last digits is one.
snapped <- function(y) {
  ifelse(abs(y - round(y)) < 1e-9 * pmax(1, abs(y)), round(y), y)
}

# Rounded one by one, where entries do not add up.
each_rounded <- function(M, base) round(M / base) * base

# A closed walk over fractional entries, from rows to columns and back. A row
# (column) whose entries add up to an integer never has one fractional entry
# alone, so the walk goes on until it meets itself. The entries, one a line.
fractional_cycle <- function(open, rows) {
  columns <- integer()
  repeat {
    row <- rows[length(rows)]
    columns <- c(columns,
                 Find(function(j) !j %in% utils::tail(columns, 1L),
                      which(open[row, ])))
    met <- match(columns[length(columns)], columns[-length(columns)])
    if (!is.na(met)) { # entered from row `met + 1`, left by the last row
      along <- (met + 1L):length(rows)
      return(cbind(rep(rows[along], each = 2L),
                   c(rbind(columns[along - 1L], columns[along]))))
    }
    column <- columns[length(columns)]
    rows <- c(rows, Find(function(i) i != row, which(open[, column])))
    met <- match(rows[length(rows)], rows[-length(rows)])
    if (!is.na(met)) {
      along <- met:length(columns)
      return(cbind(c(rbind(rows[along], rows[along + 1L])),
                   rep(columns[along], each = 2L)))
    }
  }
}

# Up and down by turns along the cycle, the way that costs less, until the first
# entry is whole.
along_cycle <- function(now, slope) {
  turn <- rep(c(1, -1), length.out = length(now))
  if (sum(turn * slope) > 0) turn <- -turn
  room <- ifelse(turn > 0, ceiling(now) - now, now - floor(now))
  snapped(now + turn * min(room))
}
