# Sums of small matrices. Base's rowSums() and colSums() take longer to look at what they are given than to add up a
# table of a few cells; these take matrices alone, and give no names.

row_sums <- function(M) .rowSums(M, nrow(M), ncol(M))

column_sums <- function(M) .colSums(M, nrow(M), ncol(M))

# A figure that is negative by rounding alone is 0; one that is missing stays so.
not_negative <- function(x) {
  x[x < 0] <- 0
  x
}

# Places, down its columns, of the cells in these rows and columns of a matrix with so many rows.
places_at <- function(rows, columns, height) {
  rep(rows, length(columns)) + rep((columns - 1L) * height, each = length(rows))
}
