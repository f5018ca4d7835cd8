# The one door from figures to their variance.
#
# A figure is a function of the cell proportions P that gives its value and its
# derivative by the cells: part(value, gradient), the gradient with one row a
# cell and one column a value, or NULL where the value does not move to first
# order. Whoever wants a standard error comes here with a figure. How the people
# were drawn is known behind the door only, by the class of the estimate's
# `spread`:
#
#   fairlattice_random       simple random sampling      R/table-random.R
#   fairlattice_linearised   weights, strata, clusters   R/table-linearised.R
#   fairlattice_scored       calibrated weights, stages  R/table-scored.R
#   fairlattice_replicated   replicate weights           R/table-replicates.R
#
# A further kind of spread needs methods for the generics of this file alone.

# An estimate of a layer.
#   P            proportions over the occupied rows and columns
#   sums         the weighted sums that they are proportions of
#   fit          what P would be if the two questions were unrelated
#   n            respondents
#   rows, columns   which rows and columns of the layer those are
#   spread       how P varies from sample to sample
#   effect       the generalised design effects of the residuals: design_effects()
new_estimate <- function(sums, P, n, rows, columns, spread) {
  list(P = P, sums = sums, fit = expected_proportions(P), n = n, rows = rows,
       columns = columns, spread = spread)
}

# What all kinds of spread hold: the design's degrees of freedom, and the names
# of the strata with a single cluster. Where it is known who is in which cell,
# `met` has the clusters (`row`) and cells in which they have people, or, where
# everybody is a cluster of their own, the `size` of every cell. `drawn` has the
# sums of weights that a variance of totals is worked out from.
new_spread <- function(kind, df, single = character(), ...) {
  structure(list(df = df, single = single, ...),
            class = c(paste0("fairlattice_", kind), "fairlattice_spread"))
}

# What the door gives: values with what is known of them, and the degrees of
# freedom of each: the design's, or one less than the clusters that have people
# in the base of the figure, where these are fewer. A figure of several bases,
# such as a difference, has the fewest of them.
with_df <- function(e, at, ...) {
  list(value = at$value, ..., df = figure_df(e, at))
}

figure_df <- function(e, at) {
  df <- design_df(e)
  if (is.null(at$base) || is.null(e$spread$met))
    return(rep(df, length(at$value)))
  own <- pmin(df, clusters_in(e, at$base) - 1)
  if (is.null(at$of)) own else
    apply(at$of, 2L, function(used) min(own[used]))
}

# How many clusters have people in the cells of each base.
clusters_in <- function(e, base) {
  met <- e$spread$met
  if (!is.null(met$size)) return(as.vector(crossprod(base != 0, met$size)))
  vapply(seq_len(ncol(base)), function(k) {
    length(unique(met$row[base[met$cell, k] != 0]))
  }, 0L)
}

# The same of the columns or rows of a table, group by group.
clusters_in_groups <- function(e, group) {
  met <- e$spread$met
  if (!is.null(met$size)) return(as.vector(rowsum(met$size, group)))
  groups <- max(group)
  # where there is room for it, a place for every pair of cluster and group is the
  # quickest way to tell them apart
  if (max(met$row, 0L) * as.numeric(groups) < 1e6) {
    seen <- matrix(0, groups, max(met$row, 0L))
    seen[cbind(group[met$cell], met$row)] <- 1
    return(row_sums(seen))
  }
  pairs <- unique(met$row * groups + group[met$cell] - 1)
  tabulate(pairs %% groups + 1L, groups)
}

# The degrees of freedom of the shares of each cell in its column, row or table.
share_df <- function(e, percent) {
  df <- design_df(e)
  if (percent == "total" || is.null(e$spread$met))
    return(rep(df, length(e$P)))
  group <- base_groups(dim(e$P), percent)
  pmin(df, clusters_in_groups(e, group) - 1)[group]
}

# ---- the door ----

# Value, variance and degrees of freedom of every value of a figure.
estimated <- function(e, figure) UseMethod("estimated", e$spread)

# The same together: values, their covariance matrix, the degrees of freedom of
# each, and those of a test of all (`joint_df`).
estimated_together <- function(e, figure) {
  UseMethod("estimated_together", e$spread)
}

# The share that every cell has of its column, row or the table: value, variance
# and degrees of freedom, vectors down the columns of P.
estimated_shares <- function(e, percent) UseMethod("estimated_shares", e$spread)

# The departures from independence, d_ij = p_ij - p_i. p_.j: the variance of
# each.
residual_variance <- function(e) UseMethod("residual_variance", e$spread)

# The same with the covariance matrix of those of the first r-1 rows and c-1
# columns.
residual_spread <- function(e) UseMethod("residual_spread", e$spread)

# Values worked out anew without each cluster in turn (the jackknife), their
# variance and degrees of freedom; NULL where derivatives do as well, or nothing
# can be left out. `values` is a function of many tables of cell proportions, one a
# row; `scale` takes what it gives to the scale on which the variance is wanted.
left_out <- function(e, values, scale) UseMethod("left_out", e$spread)

# The tables without each cluster (`shares`, one a row), the `stratum` and `factor` of
# each, how many `times` it is there, and how many clusters there are (`K`); or NULL.
tables_without <- function(e) UseMethod("tables_without", e$spread)

# The variance of curved figures by their derivatives is too small where some answer
# is met in few clusters: in fewer than these.
left_out_below <- 40L

met_in_few <- function(e) {
  fewest <- function(percent) min(clusters_in_groups(e, base_groups(dim(e$P), percent)))
  length(e$P) < sparse_from && min(fewest("row"), fewest("column")) < left_out_below
}

# V = sum over strata of `factor` (theta_k - theta_mean)^2, of units that are there so
# many `times`. Its degrees of freedom are by the fourth moment of the u_k that it is
# the sum of squares of, 2 v^2 / (sum u^4 - v^2 / K) (Valliant & Rust 2010), which are
# few where few of the K clusters hold what moves the figure.
left_out_figures <- function(theta, without) {
  times <- without$times
  h <- without$stratum
  sums <- sums_by_group(cbind(times * theta, times), h, max(h))
  mean <- sums[, seq_len(ncol(theta)), drop = FALSE] / sums[, ncol(theta) + 1L]
  u2 <- (theta - mean[h, , drop = FALSE])^2 * without$factor
  v <- column_sums(times * u2)
  spread <- column_sums(times * u2^2) - v^2 / without$K
  list(variance = v, df = ifelse(spread > 0, pmax(1, 2 * v^2 / spread), Inf))
}

# The variance of weighted sums themselves, not of what they are shares of: of
# every cell, or one a column of `weights`, which has one row a cell.
totals_variance <- function(e, weights = NULL) UseMethod("totals_variance", e$spread)

# The design effect of every value of a figure: its variance (where it is known
# already, `designed`) over that of a random sample of as many people. NA where
# either has none.
design_effect_of <- function(e, figure, designed = NULL) {
  UseMethod("design_effect_of", e$spread)
}

# Whether the counts themselves were drawn, so that exact distributions and
# other methods for multinomial counts hold.
counts_were_drawn <- function(e) inherits(e$spread, "fairlattice_random")

# The design's degrees of freedom in a table; infinite where the counts were
# drawn.
design_df <- function(e) e$spread$df

has_df <- function(e) design_df(e) >= 1

# A variance of rounding size is none.
effect_over <- function(designed, plain) {
  ifelse(plain > 1e-18 & designed > 1e-20, designed / plain, NA_real_)
}
