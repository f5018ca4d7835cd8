# The same question asked twice of the same people: a square table, in which
# change is what lies off the diagonal.

# Pairs of cells (i, j) and (j, i) of the answers met, with their proportions
# and the gradient of p_ij - p_ji over the cells of P.
pairs_of_change <- function(P) {
  answers <- union(rownames(P), colnames(P))
  at <- pmin(match(answers, rownames(P)), match(answers, colnames(P)),
             na.rm = TRUE)
  answers <- answers[order(at)]
  at <- utils::combn(length(answers), 2L)
  place <- function(i, j) {
    match(answers[i], rownames(P)) +
      (match(answers[j], colnames(P)) - 1L) * nrow(P)
  }
  there <- place(at[1L, ], at[2L, ])
  back <- place(at[2L, ], at[1L, ])
  p <- function(cell) ifelse(is.na(cell), 0, P[cell])
  G <- matrix(0, length(P), ncol(at))
  G[cbind(there, seq_along(there))[!is.na(there), , drop = FALSE]] <- 1
  G[cbind(back, seq_along(back))[!is.na(back), , drop = FALSE]] <- -1
  moved <- p(there) + p(back) > 0
  list(there = p(there)[moved], back = p(back)[moved],
       G = G[, moved, drop = FALSE], from = answers[at[1L, moved]],
       to = answers[at[2L, moved]])
}

# Bowker (1948): X2 = n sum (p_ij - p_ji)^2 / (p_ij + p_ji) over pairs that
# anybody is in; in a 2x2 it is McNemar's (1947), with its exact binomial form.
# Under a design the second-order Rao-Scott form: the multinomial covariance of
# the differences under symmetry is (p_ij + p_ji)/n, so their design effects
# have traces that are sums.
symmetry_tests <- function(layer) {
  e <- layer$estimate
  pairs <- pairs_of_change(e$P)
  d <- length(pairs$there)
  if (!d)
    return(list(new_test("symmetry", base = e$n, note = said("no_change"),
                         headline = TRUE)))
  X2 <- e$n * sum((pairs$there - pairs$back)^2 / (pairs$there + pairs$back))
  plain <- new_test("symmetry", X2, d, p = upper_chi_square(X2, d), base = e$n,
                    note = reference_note(e))
  if (!counts_were_drawn(e))
    return(list(designed_symmetry(e, pairs, X2), plain))
  if (d == 1L) {
    n <- round(e$n * c(pairs$there, pairs$back))
    exact <- new_test("symmetry_exact",
                      p = min(1, 2 * stats::pbinom(min(n), sum(n), 0.5)),
                      base = e$n, note = said("symmetry_binomial"))
    if (sum(n) < 25) {
      exact[c("headline", "why")] <-
        list(TRUE, said("why_few_changed", changed = sum(n)))
      return(list(exact, plain))
    }
  }
  plain[c("headline", "why")] <- list(TRUE, said("why_paired"))
  c(list(plain), if (d == 1L) list(exact))
}

designed_symmetry <- function(e, pairs, X2) {
  none <- function(code) {
    new_test("symmetry_rao_scott", base = e$n, note = said(code),
             headline = TRUE)
  }
  if (!has_df(e)) return(none("no_df"))
  changes <- estimated_together(e, sums_of(pairs$G))
  effects <- traces_of(e$n * changes$covariance / (pairs$there + pairs$back))
  if (!has_variance(effects$sum)) return(none("changes_no_variance"))
  f <- second_order(X2, effects, changes$joint_df)
  new_test("symmetry_rao_scott", f$statistic, f$df, f$df_error, f$p, e$n,
           headline = TRUE, why = said("why_paired_design"))
}

# Whether two-answer statements are answered alike by the same people, unweighted
# and drawn one by one (Cochran 1950): of those who answered all k, with G_j who
# gave the second answer to statement j and L_i to how many respondent i gave it,
#   Q = (k-1) (k sum G_j^2 - (sum G_j)^2) / (k sum L_i - sum L_i^2).
# NULL where it is not for the table. For two statements it is McNemar's.
cochran_q <- function(layer) {
  spread <- layer$estimate$spread
  met <- spread$met
  one_by_one <- ncol(layer$n) == 2L && length(met$row) == sum(layer$n) &&
    all(layer$weighted == layer$n) && length(unique(spread$drawn$of)) == 1L
  if (!isTRUE(one_by_one) || nrow(layer$estimate$P) < nrow(layer$n)) return(NULL)
  k <- nrow(layer$n)
  statement <- (met$cell - 1L) %% k + 1L
  whole <- which(tabulate(met$row)[met$row] == k)
  second <- met$cell[whole] > k
  G <- as.numeric(tabulate(statement[whole][second], k))
  L <- as.numeric(rowsum(as.numeric(second), met$row[whole]))
  if (!any(L > 0 & L < k))
    return(list(new_test("cochran_q", base = length(L), note = said("all_alike"))))
  Q <- (k - 1) * (k * sum(G^2) - sum(G)^2) / (k * sum(L) - sum(L^2))
  list(new_test("cochran_q", Q, k - 1, p = upper_chi_square(Q, k - 1),
                base = length(L)))
}

#' @export
layer_tests.fairlattice_battery_layer <- function(layer, asked = NULL, p = NULL,
                                                  scores = "equal", draws = NULL,
                                                  seed = NULL) {
  c(NextMethod(), if (!is.null(layer$estimate)) cochran_q(layer))
}
