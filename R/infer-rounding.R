# Counts rounded to a base so that they still add up: controlled rounding of a
# two-way table with its totals (Causey, Cox and Ernst 1985, JASA 80:903-909;
# always possible, Cox 1987, JASA 82:520-524). Every entry goes to one of the
# two multiples around it, at random and so that it is right on average (Cox's
# unbiased procedure); multiples stay. The turns come from the table itself and a
# seed, so that a table is always rounded alike.

# `M` is additive: its last row and column are the totals.
rounded_to <- function(M, base, seed = 1) {
  with_seed(seed_for(M, seed), drawn_to_multiples(M, base))
}

# A seed that nobody knows who does not know the counts: they are the digits of a
# number, modulo a prime (with the multiplier of Park & Miller 1988). Our own, since
# a hash of R objects differs between versions of what makes it.
seed_for <- function(M, seed) {
  prime <- 2^31 - 1
  h <- abs(seed) %% prime
  for (x in round(1000 * c(length(M), M))) h <- (48271 * h + abs(x)) %% prime
  as.integer(h)
}

drawn_to_multiples <- function(M, base) {
  at <- dim(M)
  # with totals taken as negative every row and every column adds up to 0
  sign <- outer(replace(rep(1, at[1L]), at[1L], -1),
                replace(rep(1, at[2L]), at[2L], -1))
  y <- snapped(sign * M / base)
  open <- y != round(y)
  for (row in seq_len(at[1L])) while (any(open[row, ])) {
    cycle <- fractional_cycle(open, row)
    y[cycle] <- along_cycle(y[cycle])
    open[cycle] <- y[cycle] != round(y[cycle])
  }
  unname(sign * y * base)
}

# What is an integer but for its last digits is one.
snapped <- function(y) {
  ifelse(abs(y - round(y)) < 1e-9 * pmax(1, abs(y)), round(y), y)
}

# Rounded one by one, where entries do not add up.
each_rounded <- function(M, base, seed = 1) {
  y <- snapped(M / base)
  up <- with_seed(seed_for(M, seed), stats::runif(length(y))) < y - floor(y)
  base * (floor(y) + up)
}

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

# Up and down by turns along the cycle until the first entry is whole, one way or
# the other: the farther way the less often, so that nothing moves on average.
along_cycle <- function(now) {
  turn <- rep(c(1, -1), length.out = length(now))
  room <- function(turn) {
    min(ifelse(turn > 0, ceiling(now) - now, now - floor(now)))
  }
  one <- room(turn)
  other <- room(-turn)
  snapped(now + turn * if (stats::runif(1L) < other / (one + other)) one else -other)
}
