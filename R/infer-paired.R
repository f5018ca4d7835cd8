# The same question asked twice of the same people: a square table, in which change is what lies off the diagonal.

# Pairs of cells (i, j) and (j, i) of the answers met, with their proportions and the gradient of p_ij - p_ji over the
# cells of P.
pairs_of_change <- function(P) {
  answers <- union(rownames(P), colnames(P))
  answers <- answers[order(pmin(match(answers, rownames(P)), match(answers, colnames(P)), na.rm = TRUE))]
  at <- utils::combn(length(answers), 2L)
  place <- function(i, j) match(answers[i], rownames(P)) + (match(answers[j], colnames(P)) - 1L) * nrow(P)
  there <- place(at[1L, ], at[2L, ])
  back <- place(at[2L, ], at[1L, ])
  p <- function(cell) ifelse(is.na(cell), 0, P[cell])
  G <- matrix(0, length(P), ncol(at))
  G[cbind(there, seq_along(there))[!is.na(there), , drop = FALSE]] <- 1
  G[cbind(back, seq_along(back))[!is.na(back), , drop = FALSE]] <- -1
  moved <- p(there) + p(back) > 0
  list(there = p(there)[moved], back = p(back)[moved], G = G[, moved, drop = FALSE], from = answers[at[1L, moved]],
       to = answers[at[2L, moved]])
}

# Bowker (1948): X2 = n sum (p_ij - p_ji)^2 / (p_ij + p_ji) over pairs that anybody is in; in a 2x2 it is McNemar's
# (1947), with its exact binomial form. Under a design the second-order Rao-Scott form: the multinomial covariance of
# the differences under symmetry is (p_ij + p_ji)/n, so their design effects have traces that are sums.
symmetry_tests <- function(layer, row) {
  e <- layer$estimate
  pairs <- pairs_of_change(e$P)
  d <- length(pairs$there)
  if (!d) return(list(row("symmetry", headline = TRUE,
                          note = "everybody gave the same answer twice, so there is no change to test")))
  X2 <- e$n * sum((pairs$there - pairs$back)^2 / (pairs$there + pairs$back))
  plain <- row("symmetry", X2, d, p = stats::pchisq(X2, d, lower.tail = FALSE), headline = !e$by_design,
               why = if (!e$by_design)
               paste0("the same question was asked twice, so the question is whether answers change as often one ",
                      "way as the other") else NA_character_,
               note = if (e$by_design) plain_note else NA_character_)
  if (e$by_design) {
    if (e$df < 1)
      return(list(row("symmetry_rao_scott", headline = TRUE,
                      note = "no degrees of freedom: there are no more clusters than strata in this table"), plain))
    V <- e$n * covariance_of(e, pairs$G) / (pairs$there + pairs$back)
    sum <- sum(diag(V))
    if (sum <= sqrt(.Machine$double.eps))
      return(list(row("symmetry_rao_scott", headline = TRUE,
                      note = "the changes of answer have no variance: the clusters all agree"), plain))
    df <- sum^2 / sum(V * t(V))
    return(list(row("symmetry_rao_scott", X2 / sum, df, df * e$df,
                    stats::pf(X2 / sum, df, df * e$df, lower.tail = FALSE), headline = TRUE,
                    why = "the same question was asked twice, with weights or a sample design"), plain))
  }
  if (d > 1L) return(list(plain))
  n <- round(e$n * c(pairs$there, pairs$back))
  exact <- row("symmetry_exact", p = min(1, 2 * stats::pbinom(min(n), sum(n), 0.5)),
               note = "binomial, of the people who changed")
  if (sum(n) >= 25) return(list(plain, exact))
  exact$headline <- TRUE
  exact$why <- sprintf("the same question was asked twice, and only %s people changed their answer",
                       format_count(sum(n)))
  plain$headline <- FALSE
  plain$why <- NA_character_
  list(exact, plain)
}
