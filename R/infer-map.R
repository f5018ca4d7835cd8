# The map of a table: answers as points in the plane, those with like profiles
# near each other. It is the best picture of the standardised residuals in two
# dimensions (correspondence analysis).

# Coordinates of the answers `down` and `across` (a row each, NA where nobody
# gave one), and the `share` of the statistic that each axis shows; NULL of a
# table with fewer than three answers on a side, which has no plane. With P =
# p_ij, r and c its margins and S = (P - r c') / sqrt(r c') = U D V': down = U D
# / sqrt(r), across = V D / sqrt(c), share = D^2 / sum D^2 (Greenacre M, 2017,
# Correspondence Analysis in Practice, 3rd ed., appendix A). The sign of an axis
# is chosen so that the answer down that is farthest out stands on its positive
# side.
map_of <- function(layer) {
  P <- layer$weighted / sum(layer$weighted)
  rows <- which(row_sums(P) > 0)
  columns <- which(column_sums(P) > 0)
  if (min(length(rows), length(columns)) < 3L) return(NULL)
  P <- P[rows, columns, drop = FALSE]
  r <- row_sums(P)
  column_mass <- column_sums(P)
  S <- svd((P - tcrossprod(r, column_mass)) / sqrt(tcrossprod(r, column_mass)))
  axes <- function(U, mass) t(t(U[, 1:2, drop = FALSE]) * S$d[1:2]) / sqrt(mass)
  down <- axes(S$u, r)
  turn <- apply(down, 2L, function(x) if (x[which.max(abs(x))] < 0) -1 else 1)
  placed <- function(points, at, names) {
    out <- matrix(NA_real_, length(names), 2L, dimnames = list(names, NULL))
    out[at, ] <- t(t(points) * turn)
    out
  }
  list(down = placed(down, rows, rownames(layer$weighted)),
       across = placed(axes(S$v, column_mass), columns, colnames(layer$weighted)),
       share = if (sum(S$d^2) > 0) S$d[1:2]^2 / sum(S$d^2) else
         c(NA_real_, NA_real_))
}
