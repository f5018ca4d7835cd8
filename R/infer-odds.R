# A 2x2 within each of K strata: the common odds ratio, its tests, and whether
# the odds ratio is the same in all.

odds_parts <- function(t) {
  list(a = t[1, 1], b = t[1, 2], c = t[2, 1], d = t[2, 2], N = sum(t))
}

odds_ratio_of <- function(t) t[1, 1] * t[2, 2] / (t[1, 2] * t[2, 1])

# Robins, Breslow & Greenland (1986), eq. 3: P, Q shares of the diagonals, R, S
# the terms of the two sums.
mantel_haenszel <- function(tables) {
  parts <- lapply(tables, odds_parts)
  over_strata <- function(f) vapply(parts, function(t) with(t, f(a, b, c, d, N)), 0)
  R <- over_strata(function(a, b, c, d, N) a * d / N)
  S <- over_strata(function(a, b, c, d, N) b * c / N)
  P <- over_strata(function(a, b, c, d, N) (a + d) / N)
  variance <- sum(P * R) / (2 * sum(R)^2) +
              sum(P * S + (1 - P) * R) / (2 * sum(R) * sum(S)) +
              sum((1 - P) * S) / (2 * sum(S)^2)
  list(estimate = sum(R) / sum(S), R = sum(R), S = sum(S),
       se_log = sqrt(variance))
}

# Gradient of log(sum R / sum S) over the cells of every stratum.
mantel_haenszel_gradient <- function(tables, fit) {
  lapply(tables, function(t) {
    with(odds_parts(t),
         as.matrix(as.vector(matrix(c(d, 0, 0, a), 2L) / N - a * d / N^2) /
                       fit$R -
                     as.vector(matrix(c(0, b, c, 0), 2L) / N - b * c / N^2) /
                       fit$S))
  })
}

# One odds ratio: of a stratum, of all together ("pooled"), or of the table
# without `each` ("crude").
new_odds_ratio <- function(each, n, estimate, se, df, alpha, z = NA_real_) {
  undefined <- !is.finite(estimate) || estimate == 0 || !is.finite(se) || df < 1
  ends <- if (undefined) c(NA_real_, NA_real_) else
    log_interval(estimate, se, z, alpha, df)
  list(each = each, n = n,
       estimate = if (is.nan(estimate)) NA_real_ else estimate,
       se_log = if (undefined) NA_real_ else se,
       low = ends[1L], high = ends[2L],
       note = if (undefined) said("empty_cell_no_interval"))
}

odds_ratio_rows <- function(strata, alpha) {
  tables <- scaled_tables(strata)
  e <- strata$joint
  n <- vapply(strata$tables, function(t) sum(t$n), 0)
  each <- estimated(e, joint_figure(strata, log_odds_by_stratum))
  by_stratum <- lapply(seq_along(tables), function(k) {
    t <- tables[[k]]
    se <- if (any(t == 0)) NA_real_ else sqrt(each$variance[k])
    new_odds_ratio(strata$tables[[k]]$each, n[k], odds_ratio_of(t), se,
                   each$df[k], alpha)
  })
  fit <- mantel_haenszel(tables)
  pooled <- estimated(e, joint_figure(strata, pooled_log_odds))
  se <- if (counts_were_drawn(e)) fit$se_log else sqrt(pooled$variance)
  # the test of the common odds ratio, where it is one of drawn counts
  z <- if (counts_were_drawn(e))
    sqrt(mantel_haenszel_tests(strata)[[1L]]$statistic) else NA_real_
  c(by_stratum,
    list(new_odds_ratio("pooled", sum(n), fit$estimate, se, pooled$df, alpha,
                        z),
         crude_odds_ratio(strata$whole, alpha)))
}

# The log odds ratio of every stratum, and the common one, as figures of the
# strata.
log_odds_by_stratum <- function(tables) {
  K <- length(tables)
  gradient <- lapply(seq_len(K), function(k) {
    outer(log_odds_gradient(tables[[k]]), seq_len(K) == k)
  })
  part(vapply(tables, function(t) log(odds_ratio_of(t)), 0), gradient)
}

pooled_log_odds <- function(tables) {
  fit <- mantel_haenszel(tables)
  part(log(fit$estimate), mantel_haenszel_gradient(tables, fit))
}

# Of the table without `each`, strata of one row or column included.
crude_odds_ratio <- function(e, alpha) {
  found <- estimated(e, function(P) {
    part(log(odds_ratio_of(P)), as.matrix(log_odds_gradient(P)))
  })
  se <- if (any(e$P == 0)) NA_real_ else sqrt(found$variance)
  new_odds_ratio("crude", e$n, odds_ratio_of(e$P), se, found$df, alpha)
}

# Gradient of the log odds ratio over the cells, 0 where a cell is empty.
log_odds_gradient <- function(t) {
  gradient <- as.vector(matrix(c(1, -1, -1, 1), 2L) / t)
  ifelse(is.finite(gradient), gradient, 0)
}

# The same with 0 for a stratum that has an empty cell.
full_log_odds <- function(tables) {
  at <- log_odds_by_stratum(tables)
  at$value[!is.finite(at$value)] <- 0
  at
}

mantel_haenszel_tests <- function(strata) {
  parts <- lapply(strata$tables, function(t) odds_parts(t$n))
  over_strata <- function(f) vapply(parts, function(t) with(t, f(a, b, c, d, N)), 0)
  over <- sum(over_strata(function(a, b, c, d, N) a - (a + b) * (a + c) / N))
  variance <- sum(over_strata(function(a, b, c, d, N) {
    if (N > 1) (a + b) * (c + d) * (a + c) * (b + d) / (N^2 * (N - 1)) else 0
  }))
  row <- function(test, less) {
    if (variance <= 0) return(new_test(test, note = said("no_stratum_says")))
    statistic <- (abs(over) - min(less, abs(over)))^2 / variance
    new_test(test, statistic, 1, p = upper_chi_square(statistic, 1))
  }
  list(row("mantel_haenszel", 0), row("mantel_haenszel_corrected", 0.5))
}

# Breslow & Day (1980): the first cell of every stratum against what the common
# odds ratio makes of its margins; Tarone (1985) takes off what the odds ratio
# was not fitted for.
homogeneity_test <- function(strata) {
  none <- function(code) new_test("breslow_day_tarone", note = said(code))
  tables <- scaled_tables(strata)
  if (length(tables) < 2L) return(none("one_stratum"))
  if (!counts_were_drawn(strata$joint)) return(wald_homogeneity(strata, tables))
  theta <- mantel_haenszel(tables)$estimate
  if (!is.finite(theta) || theta == 0) return(none("odds_ratio_at_bound"))
  fits <- vapply(tables, breslow_day_fit, c(0, 0), theta = theta)
  some <- fits[2L, ] > 0
  if (sum(some) < 2L) return(none("too_few_margins"))
  statistic <- max(0,
                   sum(fits[1L, some]^2 / fits[2L, some]) -
                     sum(fits[1L, some])^2 / sum(fits[2L, some]))
  new_test("breslow_day_tarone", statistic, sum(some) - 1,
           p = upper_chi_square(statistic, sum(some) - 1))
}

# The first cell less its fitted value A, and the variance of A: A (N - r1 - c1
# + A) = theta (r1 - A)(c1 - A), solved for A within the margins.
breslow_day_fit <- function(t, theta) {
  rows <- row_sums(t)
  column <- sum(t[, 1])
  low <- max(0, column - rows[[2L]])
  high <- min(rows[[1L]], column)
  off <- function(A) {
    A * (rows[[2L]] - column + A) - theta * (rows[[1L]] - A) * (column - A)
  }
  A <- if (off(low) >= 0) low else if (off(high) <= 0) high else
    stats::uniroot(off, c(low, high), tol = 1e-12 * (1 + high))$root
  cells <- c(A, rows[[1L]] - A, column - A, rows[[2L]] - column + A)
  c(t[1, 1] - A, if (all(cells > 0)) 1 / sum(1 / cells) else 0)
}

# Under a design: are the log odds ratios the same? Wald, F on K - 1 and df - K
# + 2 (Korn & Graubard 1990).
wald_homogeneity <- function(strata, tables) {
  none <- function(code) new_test("same_odds_ratio", note = said(code))
  able <- which(vapply(tables, function(t) all(t > 0), NA))
  q <- length(able) - 1L
  e <- strata$joint
  if (q < 1L) return(none("too_few_full_strata"))
  against_last <- matrix(0, length(tables), q)
  against_last[able, ] <- rbind(diag(q), -1)
  contrasts <- estimated_together(
    e, contrasts_of(joint_figure(strata, full_log_odds), against_last))
  df <- contrasts$joint_df
  left <- df - q + 1
  if (left < 1) return(none("more_strata_than_df"))
  d <- as.matrix(contrasts$value)
  solved <- solve_or_null(contrasts$covariance, d)
  if (is.null(solved)) return(none("log_odds_no_variance"))
  statistic <- sum(d * solved) * left / (df * q)
  new_test("same_odds_ratio", statistic, q, left, upper_f(statistic, q, left))
}
