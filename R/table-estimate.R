# An estimate and what its covariance is made of (R/table-covariance.R says how).

# An estimate.
#   P            proportions over the occupied rows and columns
#   fit          what the proportions would be if the two questions were unrelated
#   n            respondents
#   rows, columns   which rows and columns of the layer those are
#   by_design    whether there is a weight, stratum, cluster or replicate
#   df           the design's degrees of freedom; infinite without a design
#   single       names of the strata with a single cluster
#   diagonal, scores, minus, sparse   what the covariance V is made of (see above)
#   effect       the generalised design effects of the residuals from independence: see design_effects()
new_estimate <- function(P, n, rows, columns, by_design, spread) {
  c(list(P = P, fit = expected_proportions(P), n = n, rows = rows, columns = columns, by_design = by_design), spread)
}

new_spread <- function(df, single = character(), diagonal = NULL, scores = NULL, minus = NULL, sparse = NULL) {
  list(df = df, single = single, diagonal = diagonal, scores = scores, minus = minus, sparse = sparse)
}

# What the cell proportions would be if the two questions were unrelated: the products of the margins.
expected_proportions <- function(P) tcrossprod(row_sums(P), column_sums(P))
