# One question against given shares (goodness of fit), with a residual per
# answer: p estimated, q given.

goodness_tests <- function(p, q, layer) {
  e <- layer$estimate
  row <- function(test, ...) new_test(test, ..., base = layer$base$n)
  some <- q > 0
  d <- sum(some) - 1
  if (d < 1)
    return(list(row("pearson", headline = TRUE,
                    note = said("one_answer_only"))))
  X2 <- e$n * sum((p - q)[some]^2 / q[some])
  G2 <- max(0, 2 * e$n * sum(ifelse(p > 0, p * log(p / q), 0), na.rm = TRUE))
  drawn <- counts_were_drawn(e)
  note <- reference_note(e)
  plain <- list(row("pearson", X2, d, p = upper_chi_square(X2, d),
                    headline = drawn, note = note),
                row("likelihood_ratio", G2, d, p = upper_chi_square(G2, d),
                    note = note))
  if (drawn) return(plain)
  if (!has_df(e))
    return(c(list(row("rao_scott_corrected", headline = TRUE,
                      note = said("no_df"))), plain))
  # one-way design effects: their sum is n sum V_ii / q_i, their sum of squares
  # n^2 sum V_ij^2 / (q_i q_j)
  at <- q[e$rows]
  cells <- estimated_together(e, cells_of)
  V <- cells$covariance
  weighted_sum <- e$n * sum(diag(V) / at)
  effects <- new_effects(weighted_sum, d, e$n^2 * sum(V^2 / tcrossprod(at)),
                         design_df = cells$joint_df)
  second <- function(test, statistic) {
    f <- second_order(statistic, effects, cells$joint_df)
    row(test, f$statistic, f$df, f$df_error, f$p)
  }
  first <- X2 / effects$mean
  f <- corrected_order(X2, effects)
  corrected <- row("rao_scott_corrected", f$statistic, f$df, f$df_error, f$p,
                   headline = TRUE)
  c(list(corrected, second("rao_scott_second", X2),
         row("rao_scott_first", first, d, p = upper_chi_square(first, d)),
         second("rao_scott_second_likelihood", G2)), plain)
}

# (p - q) over its standard error at q: multinomial, times the root of the
# design effect of p, so that equal weights give the unweighted figure.
goodness_residuals <- function(p, q, layer, correction, alpha) {
  e <- layer$estimate
  # an answer that nobody gave has a design effect only where the counts were
  # drawn
  effect <- rep(if (counts_were_drawn(e)) 1 else NA_real_, length(p))
  df <- rep(design_df(e), length(p))
  cells <- estimated(e, cells_of)
  effect[e$rows] <- design_effect_of(e, cells_of, cells$variance)
  df[e$rows] <- cells$df
  se <- sqrt(q * (1 - q) / e$n * effect)
  residual <- ifelse(se > 0, (p - q) / se, NA_real_)
  p_value <- two_sided(residual, df)
  # of two answers the second says what the first does
  mirror <- mirror_of(c(length(p), 1L))
  corrected <- correct(p_value[unique(mirror)], correction)[mirror]
  list(residual = residual, p = p_value, p_corrected = corrected,
       mark = marks_of(corrected, residual, alpha), df = df)
}

# The intervals of shares held against given ones `q`: on the logit scale, where an
# interval would say otherwise than the test, its end next to the given share
# moves. Where the counts were drawn Wilson's is the test's own.
shares_as_tested <- function(shares, q, found, alpha, e) {
  if (counts_were_drawn(e)) return(shares)
  inside <- function(share) share > 0 & share < 1
  able <- which(inside(shares$share) & inside(q) & !is.na(shares$low) &
                  !is.na(found$residual) & found$residual != 0)
  for (k in able) {
    t <- critical_t(alpha, found$df[k])
    off <- stats::qlogis(shares$share[k]) - stats::qlogis(q[k])
    se <- (stats::qlogis(shares$high[k]) - stats::qlogis(shares$low[k])) / (2 * t)
    ends <- interval_as_tested(off, se, abs(off / found$residual[k]), t)
    ends <- stats::plogis(ends + stats::qlogis(q[k]))
    shares$low[k] <- ends[1L]
    shares$high[k] <- ends[2L]
  }
  shares
}

# ---- a one-way table that is held against shares ----

given_shares <- function(layer) layer$weighted[, 1L] / layer$base$weighted

#' @export
layer_tests.fairlattice_given_layer <- function(layer, asked = NULL, p = NULL,
                                                scores = "equal", draws = NULL,
                                                seed = NULL) {
  if (is.null(layer$estimate))
    return(list(new_test("pearson", headline = TRUE,
                         note = said("nobody_here"))))
  goodness_tests(given_shares(layer), layer$given, layer)
}

#' @export
layer_residuals.fairlattice_given_layer <- function(layer, correction, alpha,
                                                    kind = "adjusted") {
  out <- no_residuals(length(layer$n))
  e <- layer$estimate
  if (is.null(e)) return(out)
  p <- given_shares(layer)
  E <- e$n * layer$given
  D <- e$n * p - E
  pearson <- ifelse(E > 0, D / sqrt(E), NA_real_)
  found <- goodness_residuals(p, layer$given, layer, correction, alpha)
  statistic <- sum(pearson^2, na.rm = TRUE)
  figures <- list(e$n * p, E, D, pearson, found$residual, found$p,
                  found$p_corrected, pearson^2,
                  if (statistic > 0) pearson^2 / statistic else 0 * E)
  for (k in seq_along(figures)) out[[k]][seq_along(p)] <- figures[[k]]
  out$mark[seq_along(p)] <- ifelse(is.na(found$mark), "", found$mark)
  distinct <- distinct_cells(c(length(p), 1L))
  out$critical <- critical_residual(unname(found$p_corrected)[distinct],
                                    correction, alpha, design_df(e))
  out
}

#' @export
layer_compared.fairlattice_given_layer <- function(layer) {
  sum(distinct_cells(c(sum(layer$given > 0), 1L)))
}

# Those of a one-way table, with the expected counts of the shares.
#' @export
rules_of.fairlattice_given_layer <- function(layer) {
  c(layer_rules,
    list(sparse = function(about) {
      sparse_caution(sparse_counts((about$layer$base$n * about$layer$given)[about$layer$given > 0]),
                     FALSE)
    }))[c("sparse", "bases", "single_cluster", "unequal_weights")]
}
