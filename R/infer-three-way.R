# Is the association the same in all strata? In a 2x2xK table that is
# homogeneity of the odds ratios (R/infer-odds.R). In any larger one it is the
# model without a three-way interaction: fitted by iterative proportional
# fitting, tested by Pearson's X2 (Bishop, Fienberg & Holland 1975, ch. 3), and
# under a design over its generalised design effects (Rao & Scott 1984).

most_three_way <- 4000L

three_way_test <- function(strata) {
  none <- function(code, ...) new_test("no_three_way", note = said(code, ...))
  if (length(strata$tables) < 2L) return(none("one_stratum"))
  tables <- scaled_tables(strata)
  A <- array(unlist(tables), c(dim(tables[[1L]]), length(tables)))
  if (length(A) > most_three_way)
    return(none("too_many_cells_to_fit", most = most_three_way))
  fit <- fit_two_way(A)
  if (is.null(fit)) return(none("no_convergence"))
  seen <- as.vector(fit) > 1e-9 * sum(A)
  if (mean(fit[seen]) < setting("sparse_expected"))
    return(none("expected_too_small"))
  Z <- interaction_contrasts(fit, seen)
  if (!ncol(Z)) return(none("margins_empty"))
  X2 <- sum((as.vector(A) - as.vector(fit))[seen]^2 / as.vector(fit)[seen])
  e <- strata$joint
  if (counts_were_drawn(e))
    return(new_test("no_three_way", X2, ncol(Z),
                    p = upper_chi_square(X2, ncol(Z))))
  if (!has_df(e)) return(none("no_df"))
  size <- length(tables[[1L]])
  G <- matrix(0, length(A), ncol(Z))
  G[seen, ] <- Z
  J <- joint_gradient(strata,
                      lapply(seq_along(tables), function(k) {
                        G[(k - 1L) * size + seq_len(size), , drop = FALSE]
                      }))
  plain <- crossprod(Z * sqrt(as.vector(fit)[seen] / sum(A))) / e$n
  contrasts <- estimated_together(e, sums_of(J))
  effects <- effects_between(plain, contrasts$covariance)
  if (is.null(effects) || effects$sum <= 1e-9)
    return(none("effects_undefined_sparse"))
  f <- second_order(X2, effects, contrasts$joint_df)
  new_test("no_three_way", f$statistic, f$df, f$df_error, f$p,
           note = said("second_order"))
}

# The counts with all three two-way margins of A and no three-way interaction:
# each margin in turn until none moves.
fit_two_way <- function(A, most = 500L) {
  fit <- array(1, dim(A))
  pairs <- list(c(1L, 2L), c(1L, 3L), c(2L, 3L))
  wanted <- lapply(pairs, function(side) apply(A, side, sum))
  for (step in seq_len(most)) {
    before <- fit
    for (k in 1:3) {
      now <- apply(fit, pairs[[k]], sum)
      fit <- sweep(fit, pairs[[k]], ifelse(now > 0, wanted[[k]] / now, 0), `*`)
    }
    if (max(abs(fit - before)) <= 1e-9 * sum(A)) return(fit)
  }
  NULL
}

# Contrasts of the three-way interaction, free of the model's own columns in the
# metric of the fit: one column a degree of freedom.
interaction_contrasts <- function(fit, seen) {
  size <- dim(fit)
  at <- arrayInd(which(seen), size)
  root <- sqrt(as.vector(fit)[seen])
  dummies <- function(k) outer(at[, k], seq_len(size[k]), `==`) + 0
  products <- function(x, y) {
    do.call(cbind, lapply(seq_len(ncol(x)), function(j) x[, j] * y))
  }
  D <- lapply(1:3, dummies)
  model <- qr(root *
                cbind(products(D[[1L]], D[[2L]]), products(D[[1L]], D[[3L]]),
                      products(D[[2L]], D[[3L]])))
  reduced <- lapply(D, function(d) d[, -ncol(d), drop = FALSE])
  Z <- qr.resid(model,
                root *
                  products(products(reduced[[1L]], reduced[[2L]]),
                           reduced[[3L]]))
  kept <- qr(Z)
  (Z / root)[, kept$pivot[seq_len(kept$rank)], drop = FALSE]
}
