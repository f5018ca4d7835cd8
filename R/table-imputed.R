# Imputed data sets: each has its own estimate, and figures are combined (Rubin 1987):
# with U the mean of their variances and B the variance between their values,
#   T = U + (1 + 1/M) B.
# The value is that of the mean table, whose sums are what is printed; of a share of
# people whose number is the same in all of them that is the mean of the values. The
# degrees of freedom are those of Barnard & Rubin (1999), from the complete data's.

imputed_spread <- function(parts, P) {
  df <- mean(vapply(parts, design_df, 0))
  M <- length(parts)
  within <- by_part(parts, length(P), function(e) estimated_shares(e, "total")$variance)
  between <- (1 + 1 / M) * row_variances(by_part(parts, length(P), function(e) e$P))
  missing <- sum(between) / max(sum(between) + sum(within) / M, 1e-300)
  new_spread("imputed", combined_df(missing, M, df),
             unique(unlist(lapply(parts, function(e) e$spread$single))),
             parts = parts, met = parts[[1L]]$spread$met, complete_df = df,
             missing = missing)
}

# What every part has, one column a part.
by_part <- function(parts, size, of) {
  matrix(vapply(parts, function(e) as.vector(of(e)), numeric(size)), size)
}

row_variances <- function(values) {
  off <- values - row_sums(values) / ncol(values)
  row_sums(off^2) / (ncol(values) - 1)
}

# Barnard & Rubin (1999), with `missing` the share of information that is missing,
# (1 + 1/M) B / T.
combined_df <- function(missing, M, df) {
  missing <- kept_between(missing, 0, 1)
  of_imputations <- ifelse(missing > 0, (M - 1) / missing^2, Inf)
  observed <- ifelse(is.infinite(df), ifelse(missing < 1, Inf, 0),
                     (df + 1) / (df + 3) * df * (1 - missing))
  ifelse(is.infinite(observed) & is.infinite(of_imputations), Inf,
         1 / (1 / of_imputations + 1 / pmax(observed, 1e-300)))
}

# Of values in every imputation (one column an imputation) and their variances: the
# total variance, the share of missing information, and degrees of freedom. A value
# that an imputation does not have is left out.
combined <- function(values, variances, df) {
  known <- is.finite(values) & is.finite(variances)
  values[!known] <- NA
  variances[!known] <- NA
  M <- row_sums(known)
  mean <- rowMeans(values, na.rm = TRUE)
  U <- rowMeans(variances, na.rm = TRUE)
  B <- rowSums((values - mean)^2, na.rm = TRUE) / pmax(1, M - 1)
  between <- (1 + 1 / pmax(1, M)) * B
  total <- U + between
  missing <- ifelse(total > 0, between / total, 0)
  list(variance = total, df = combined_df(missing, ncol(values), df),
       missing = missing)
}

#' @export
estimated.fairlattice_imputed <- function(e, figure) {
  at <- figure(e$P)
  found <- lapply(e$spread$parts, estimated, figure)
  c(list(value = at$value), combined_parts(found, length(at$value)))
}

#' @export
estimated_shares.fairlattice_imputed <- function(e, percent) {
  found <- lapply(e$spread$parts, estimated_shares, percent)
  c(list(value = shares_of_sums(e, percent)), combined_parts(found, length(e$P)))
}

# What the parts gave, put together.
combined_parts <- function(found, size) {
  of <- function(name) by_part(found, size, function(one) one[[name]])
  combined(of("value"), of("variance"), rowMeans(of("df")))
}

#' @export
estimated_together.fairlattice_imputed <- function(e, figure) {
  at <- figure(e$P)
  size <- length(at$value)
  found <- lapply(e$spread$parts, estimated_together, figure)
  M <- length(found)
  B <- (1 + 1 / M) * between_imputations(by_part(found, size, function(one) one$value))
  total <- Reduce(`+`, lapply(found, `[[`, "covariance")) / M + B
  df <- rowMeans(by_part(found, size, function(one) one$df))
  missing <- function(between, total) between / pmax(total, 1e-300)
  list(value = at$value, covariance = total,
       df = combined_df(missing(diagonal_of(B), diagonal_of(total)), M, df),
       joint_df = combined_df(missing(sum(diagonal_of(B)), sum(diagonal_of(total))), M,
                              mean(vapply(found, `[[`, 0, "joint_df"))))
}

# All tables of all data sets at once, and the table of each itself.
#' @export
left_out.fairlattice_imputed <- function(e, values, scale) {
  parts <- e$spread$parts
  without <- lapply(parts, tables_without)
  if (any(vapply(without, is.null, NA))) return(NULL)
  tables <- c(lapply(without, `[[`, "shares"),
              lapply(parts, function(part) rbind(as.vector(part$P))))
  theta <- scale(values(do.call(rbind, tables)))
  of <- rep(seq_along(tables), vapply(tables, nrow, 0L))
  rows_of <- function(k) theta[of == k, , drop = FALSE]
  found <- lapply(seq_along(parts), function(k) left_out_figures(rows_of(k), without[[k]]))
  combine <- function(what) do.call(cbind, lapply(found, `[[`, what))
  combined(t(theta[of > length(parts), , drop = FALSE]), combine("variance"),
           rowMeans(combine("df")))[c("variance", "df")]
}

between_imputations <- function(values) {
  values[!is.finite(values)] <- 0
  off <- values - row_sums(values) / ncol(values)
  tcrossprod(off) / (ncol(values) - 1)
}

departures_of <- function(e) e$P - expected_proportions(e$P)

#' @export
residual_variance.fairlattice_imputed <- function(e) {
  parts <- e$spread$parts
  M <- length(parts)
  within <- by_part(parts, length(e$P), residual_variance)
  between <- row_variances(by_part(parts, length(e$P), departures_of))
  matrix(row_sums(within) / M + (1 + 1 / M) * between, nrow(e$P))
}

#' @export
residual_spread.fairlattice_imputed <- function(e) {
  parts <- e$spread$parts
  M <- length(parts)
  spreads <- lapply(parts, residual_spread)
  mean_of <- function(name) Reduce(`+`, lapply(spreads, `[[`, name)) / M
  B <- (1 + 1 / M) * between_imputations(by_part(parts, length(e$P), departures_of))
  inner <- cells_but_last(e$P)
  list(covariance = mean_of("covariance") + B[inner, inner, drop = FALSE],
       variance = mean_of("variance") + matrix(diagonal_of(B), nrow(e$P)))
}

#' @export
totals_variance.fairlattice_imputed <- function(e, weights = NULL) {
  parts <- e$spread$parts
  M <- length(parts)
  size <- if (is.null(weights)) length(e$P) else ncol(weights)
  values <- by_part(parts, size, function(part) {
    if (is.null(weights)) part$sums else crossprod(weights, as.vector(part$sums))
  })
  within <- by_part(parts, size, function(part) totals_variance(part, weights))
  row_sums(within) / M + (1 + 1 / M) * row_variances(values)
}
