# Residuals per cell, on the scale of the unweighted base n: raw O - E, Pearson
# (O - E)/sqrt(E), adjusted (O - E)/sqrt(E (1 - p_i.)(1 - p_.j)) (Haberman
# 1973), with a design over the root of the cell's residual design effect.

residual_columns <- c("observed", "expected", "residual", "pearson_residual",
                      "adjusted_residual", "p", "p_corrected", "contribution",
                      "share_of_statistic")

# Vectors down the columns of the layer's table, NA in empty rows and columns:
# residual_columns, `mark` ("more", "fewer" or ""), and the `critical` residual
# that divides marked cells from the others. `kind` is the residual that
# p-values and marks are of.
layer_residuals <- function(layer, correction, alpha, kind = "adjusted") {
  UseMethod("layer_residuals")
}

#' @export
layer_residuals.fairlattice_layer <- function(layer, correction, alpha,
                                              kind = "adjusted") {
  layer <- unclass(layer)
  out <- no_residuals(length(layer$n))
  e <- layer$estimate
  if (!is.null(no_test_reason(layer))) return(out)
  P <- e$P
  E <- e$n * e$fit
  D <- e$n * P - E
  pearson <- pearson_residuals(e)
  adjusted <- adjusted_residuals(e, pearson)
  tested <-
    switch(kind, adjusted = adjusted, pearson = pearson, raw = NA_real_ * D)
  exact <- kind == "adjusted" && marks_are_exact(layer)
  p <- if (exact) exact_cells(layer$n[e$rows, e$columns, drop = FALSE]) else
    two_sided(as.vector(tested), design_df(e))
  mirror <- mirror_of(dim(P))
  distinct <- unique(mirror)
  corrected <- correct(p[distinct], correction)
  contribution <- pearson^2
  statistic <- sum(contribution)
  figures <- list(e$n * P, E, D, pearson, adjusted, p,
                  corrected[match(mirror, distinct)], contribution,
                  if (statistic > 0) contribution / statistic else 0 * E)
  at <- places_in(layer)
  for (k in seq_along(figures)) out[[k]][at] <- figures[[k]]
  out$mark <- marks_of(out$p_corrected, out$residual, alpha)
  out$critical <- if (exact) NA_real_ else
    critical_residual(corrected, correction, alpha, design_df(e))
  out
}

pearson_residuals <- function(e) {
  E <- e$n * e$fit
  (e$n * e$P - E) / sqrt(E)
}

adjusted_residuals <- function(e, pearson = pearson_residuals(e)) {
  pearson / sqrt(tcrossprod(1 - row_sums(e$P), 1 - column_sums(e$P))) /
    sqrt(residual_design_effects(e))
}

# The same in the order of the layer's table; NULL where nothing can be tested.
adjusted_of_layer <- function(layer) {
  if (!is.null(no_test_reason(layer))) return(NULL)
  out <- rep(NA_real_, length(layer$n))
  out[places_in(layer)] <- adjusted_residuals(layer$estimate)
  out
}

# Where the headline is exact, since the table is sparse, so are the marks: no
# residual divides them.
marks_are_exact <- function(layer) {
  e <- layer$estimate
  counts_were_drawn(e) && !isTRUE(layer$paired) && sparse_rule(e)$sparse
}

# The exact p of every cell, with the margins fixed: its count is hypergeometric
# (Fisher 1935), and what is no more probable than the count that was seen counts
# against independence. In a 2x2 that is the exact test itself.
exact_cells <- function(n) {
  rows <- row_sums(n)
  columns <- column_sums(n)
  N <- sum(n)
  vapply(seq_along(n), function(cell) {
    at <- arrayInd(cell, dim(n))
    row <- rows[at[1L]]
    column <- columns[at[2L]]
    chance <- stats::dhyper(max(0, row + column - N):min(row, column), row,
                            N - row, column)
    seen <- stats::dhyper(n[cell], row, N - row, column)
    min(1, sum(chance[chance <= seen * (1 + 1e-7)]))
  }, 0)
}

# Those of a table of `size` cells that has none.
no_residuals <- function(size) {
  c(stats::setNames(rep(list(rep(NA_real_, size)), length(residual_columns)),
                    residual_columns),
    list(mark = rep("", size), critical = NA_real_))
}

marks_of <- function(p_corrected, residual, alpha) {
  mark <- rep("", length(p_corrected))
  at <- which(p_corrected <= alpha)
  mark[at] <- c("fewer", "more")[1L + (residual[at] > 0)]
  mark
}

# The strongest residuals first. Mirrored cells depart alike and stay in the
# order of the table, whatever their rounding.
strongest_first <- function(residual) order(-signif(abs(residual), 10L))

# With two rows the second row's residuals are those of the first with the other
# sign, so there are half as many things to look at; likewise with two columns.
# The correction is over those: over all cells it would be twice (in a 2x2 four
# times) as careful as it need be.
mirror_of <- function(size) {
  first <- function(n) if (n == 2L) c(1L, 1L) else seq_len(n)
  places_at(first(size[1L]), first(size[2L]), size[1L])
}

distinct_cells <- function(size) mirror_of(size) == seq_len(prod(size))

# The |residual| that divides marked from unmarked cells. With R of m cells
# marked, the next would need a p of at most alpha/m (Bonferroni), alpha/(m - R)
# (Holm) or alpha (R + 1)/m (Benjamini-Hochberg): every marked cell is beyond
# that and no other is.
critical_residual <- function(p_corrected, correction, alpha, df) {
  m <- sum(!is.na(p_corrected))
  if (!m || df < 1) return(NA_real_)
  R <- sum(p_corrected <= alpha, na.rm = TRUE)
  level <- switch(correction, bonferroni = alpha / m,
                  holm = alpha / max(1, m - R),
                  benjamini_hochberg = alpha * min(m, R + 1) / m)
  stats::qt(level / 2, df, lower.tail = FALSE)
}

# How many things the correction is over: distinct cells with a p-value.
layer_compared <- function(layer) UseMethod("layer_compared")

#' @export
layer_compared.fairlattice_layer <- function(layer) {
  if (is.null(no_test_reason(layer)))
    sum(distinct_cells(dim(layer$estimate$P))) else 0L
}
