# What is done to every table many times over, for tables of a few cells, where
# base's functions take longer to look at what they are given than to do it.

# Sums of matrices, without names.
row_sums <- function(M) {
  size <- dim(M)
  .rowSums(M, size[1L], size[2L])
}

column_sums <- function(M) {
  size <- dim(M)
  .colSums(M, size[1L], size[2L])
}

# Places of the diagonal of a square matrix with so many rows.
diagonal_places <- function(height) {
  (seq_len(height) - 1L) * height + seq_len(height)
}

diagonal_of <- function(M) M[diagonal_places(nrow(M))]

# diag(p) - pp', n times the covariance of proportions p of n that are drawn at
# random.
covariance_of_draws <- function(p) {
  V <- -tcrossprod(p)
  at <- diagonal_places(length(p))
  V[at] <- p + V[at]
  V
}

# A figure that is negative by rounding alone is 0; one that is missing stays
# so.
not_negative <- function(x) {
  x[x < 0] <- 0
  x
}

kept_between <- function(x, low, high) {
  x[x < low] <- low
  x[x > high] <- high
  x
}

# Places, down its columns, of the cells in these rows and columns of a matrix
# with so many rows.
places_at <- function(rows, columns, height) {
  rep(rows, length(columns)) + rep((columns - 1L) * height, each = length(rows))
}

# A data frame of columns of one length.
frame_with <- function(columns) {
  attr(columns, "row.names") <- .set_row_names(length(columns[[1L]]))
  class(columns) <- "data.frame"
  columns
}
