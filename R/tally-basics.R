# What is done to every table many times over, for tables of a few cells, where base's functions take longer to look at
# what they are given than to do it.

# Sums of matrices, without names.
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

# A data frame of columns of one length.
frame_with <- function(columns) {
  attr(columns, "row.names") <- .set_row_names(length(columns[[1L]]))
  class(columns) <- "data.frame"
  columns
}
