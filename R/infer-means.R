# Means and quantiles of scores, or of a number, in every column of a table. A
# mean is a ratio of sums, so its variance comes from the covariance of the
# cells by its gradient, as that of a share does.

# The figures of one column (of everybody without one): respondents, weighted,
# mean with standard error and interval, standard deviation, quartiles and the
# median's interval. `scores` has one a row of the layer.
score_summary <- function(layer, scores, column = NULL, alpha = 0.05) {
  e <- layer$estimate
  sum_of <- function(M) if (is.null(column)) sum(M) else sum(M[, column])
  out <- list(n = sum_of(layer$n), weighted = sum_of(layer$weighted),
              mean = NA_real_, se = NA_real_, low = NA_real_, high = NA_real_,
              sd = NA_real_, q1 = NA_real_, median = NA_real_, q3 = NA_real_,
              median_low = NA_real_, median_high = NA_real_, cv = NA_real_,
              deff = NA_real_)
  W <- if (is.null(column)) row_sums(layer$weighted) else
    layer$weighted[, column]
  if (sum(W) <= 0) return(out)
  p <- W / sum(W)
  m <- sum(p * scores)
  spread <- sum(p * (scores - m)^2)
  out$mean <- m
  out$sd <- if (out$n > 1) sqrt(spread * out$n / (out$n - 1)) else NA_real_
  out[c("q1", "median", "q3")] <-
    as.list(quantiles_of(scores, p, c(0.25, 0.5, 0.75)))
  if (is.null(e)) return(out)
  # where the counts were drawn the classical form: s / root n, t on n - 1
  found <- if (counts_were_drawn(e))
    list(variance = out$sd^2 / out$n, df = out$n - 1) else
    estimated(e, means_in(e, scores, column))
  # of a column that does not vary nothing is known but its mean
  t <- if (isTRUE(found$variance > 1e-20)) critical_t(alpha, found$df) else
    NA_real_
  out$se <- sqrt(found$variance)
  if (!is.na(t))
    out[c("cv", "deff")] <-
      list(if (m != 0) out$se / abs(m) else NA_real_, out$se^2 * out$n / out$sd^2)
  out[c("low", "high")] <- list(m - t * out$se, m + t * out$se)
  out[c("median_low", "median_high")] <-
    as.list(median_interval(e, scores, column, p, out, t))
  out
}

# The same of a column as the table shows it: an item of ticks is the first
# column of its part.
layer_summary <- function(layer, scores, column, alpha) {
  UseMethod("layer_summary")
}

#' @export
layer_summary.default <- function(layer, scores, column, alpha) {
  score_summary(layer, scores, column, alpha)
}

#' @export
layer_summary.fairlattice_ticks_layer <- function(layer, scores, column,
                                                  alpha) {
  if (is.null(column)) score_summary(layer$patterns, scores, NULL, alpha) else
    score_summary(layer$parts[[column]], scores, 1L, alpha)
}

# The test that the means of a layer's columns are equal, and their differences
# in pairs; of items of ticks, which share respondents, there are none.
layer_means_test <- function(layer, scores) UseMethod("layer_means_test")

#' @export
layer_means_test.default <- function(layer, scores) {
  equal_means_test(layer, scores)
}

#' @export
layer_means_test.fairlattice_ticks_layer <- function(layer, scores) NULL

layer_mean_differences <- function(layer, scores, alpha, correction, heading) {
  UseMethod("layer_mean_differences")
}

#' @export
layer_mean_differences.default <- function(layer, scores, alpha, correction,
                                           heading) {
  mean_differences(layer, scores, alpha, correction, heading)
}

#' @export
layer_mean_differences.fairlattice_ticks_layer <- function(layer, scores, alpha,
                                                           correction,
                                                           heading) {
  NULL
}

# The means of columns (of everybody without any) as a figure.
means_in <- function(e, scores, columns = NULL) {
  under <- cells_of_columns(e, columns)
  ratios_of(under * scores[e$rows][row(e$P)], under)
}

# Of every cell whether it is in each of some columns (in any, without them): 1 or 0,
# one column a column.
cells_of_columns <- function(e, columns) {
  if (is.null(columns)) matrix(1, length(e$P)) else
    outer(e$columns[col(e$P)], columns, `==`) + 0
}

# The least value at which the cumulative share reaches q; where it is exactly
# q, midway to the next.
quantiles_of <- function(values, p, q) {
  by_value <- order(values)
  values <- values[by_value][p[by_value] > 0]
  reached <- cumsum(p[by_value][p[by_value] > 0])
  vapply(q, function(share) {
    at <- which(reached >= share - 1e-12)[1L]
    if (is.na(at)) at <- length(values)
    if (abs(reached[at] - share) <= 1e-12 && at < length(values))
      mean(values[at + 0:1]) else values[at]
  }, 0)
}

# Woodruff (1952): the interval of the share at or under the median, carried
# back to the values.
median_interval <- function(e, scores, column, p, summary, t) {
  under <- as.numeric(scores <= summary$median)
  se <- if (counts_were_drawn(e)) sqrt(0.25 / summary$n) else
    sqrt(estimated(e, means_in(e, under, column))$variance)
  at <- 0.5 + c(-1, 1) * t * se
  if (anyNA(at)) return(c(NA_real_, NA_real_))
  ends <- quantiles_of(scores, p, pmin(pmax(at, 0), 1))
  c(min(ends[1L], summary$median), max(ends[2L], summary$median))
}

# Whether the means of the columns are equal. Under a design what a random sample
# would make of their contrasts, over its generalised design effects, second order
# (Rao & Scott 1984), with the degrees of freedom of the column of fewest clusters:
# a Wald test rejects far too often where a column has few. Without a design
# Welch's (1951), which does not take the variances to be equal.
equal_means_test <- function(layer, scores) {
  none <- function(code) {
    new_test("equal_means", base = layer$base$n, note = said(code))
  }
  e <- layer$estimate
  if (is.null(e)) return(none("nobody_here"))
  if (length(e$columns) < 2L) return(none("single_answer"))
  found <-
    lapply(e$columns, function(column) score_summary(layer, scores, column))
  column_values <- function(name) vapply(found, `[[`, 0, name)
  k <- length(found)
  if (counts_were_drawn(e)) {
    if (any(column_values("n") < 2) || any(column_values("se") <= 0))
      return(none("means_no_variance"))
    w <- 1 / column_values("se")^2
    centre <- sum(w * column_values("mean")) / sum(w)
    lost <- sum((1 - w / sum(w))^2 / (column_values("n") - 1))
    f <- sum(w * (column_values("mean") - centre)^2) / (k - 1) /
         (1 + 2 * (k - 2) / (k^2 - 1) * lost)
    df_error <- (k^2 - 1) / (3 * lost)
    return(new_test("equal_means", f, k - 1, df_error,
                    upper_f(f, k - 1, df_error), layer$base$n))
  }
  from_first <-
    contrasts_of(means_in(e, scores, e$columns), rbind(-1, diag(1, k - 1L)))
  contrasts <- estimated_together(e, from_first)
  if (any(contrasts$df < 1)) return(none("means_one_cluster"))
  d <- contrasts$value
  plain <- estimated_together(as_random(e), from_first)$covariance
  solved <- solve_or_null(plain, matrix(d))
  effects <- effects_between(plain, contrasts$covariance)
  if (is.null(solved) || !has_variance(effects$sum))
    return(none("means_no_variance"))
  f <- second_order(sum(d * solved), effects, min(contrasts$df))
  new_test("equal_means", f$statistic, f$df, f$df_error, f$p, layer$base$n)
}

# Pairs of columns: difference of means, standard error, interval, p and
# corrected p. Under a design t on its degrees of freedom with the covariance of
# the two; without one Welch's t.
mean_differences <- function(layer, scores, alpha, correction,
                             heading = rep("", ncol(layer$n))) {
  e <- layer$estimate
  if (is.null(e) || length(e$columns) < 2L) return(NULL)
  pairs <- pairs_against(e$columns, "each other", list(outer = heading))
  if (is.null(pairs)) return(NULL)
  of <- lapply(seq_len(ncol(layer$n)), function(column) {
    score_summary(layer, scores, column)
  })
  found <- mean_variances(e, scores, of, pairs)
  rows <- lapply(seq_len(ncol(pairs)), function(k) {
    a <- of[[pairs[1L, k]]]
    b <- of[[pairs[2L, k]]]
    d <- a$mean - b$mean
    se <- sqrt(found$variance[k])
    df <- found$df[k]
    # two columns that do not have neither interval nor test
    varies <- !is.na(se) && se > 0 && df >= 1
    t <- if (varies) critical_t(alpha, df) else NA_real_
    list(first = answers_across(layer)[pairs[1L, k]],
         second = answers_across(layer)[pairs[2L, k]], first_mean = a$mean,
         second_mean = b$mean, difference = d, low = d - t * se,
         high = d + t * se, p = if (varies) two_sided(d / se, df) else NA_real_)
  })
  p <- correct(vapply(rows, `[[`, 0, "p"), correction)
  Map(function(row, p) {
    higher <- if (!is.na(p) && p <= alpha)
      if (row$difference > 0) "first" else "second" else ""
    c(row, list(p_corrected = p, exceeds = higher))
  }, rows, p)
}

# The variance of the difference of means of every pair of columns, and its
# degrees of freedom: under a design with the covariance of the two, else
# Welch's.
mean_variances <- function(e, scores, of, pairs) {
  if (counts_were_drawn(e)) {
    of_pair <- function(side, name) vapply(of[pairs[side, ]], `[[`, 0, name)
    a <- of_pair(1L, "se")^2
    b <- of_pair(2L, "se")^2
    return(list(variance = a + b,
                df = (a + b)^2 /
                     (a^2 / (of_pair(1L, "n") - 1) +
                        b^2 / (of_pair(2L, "n") - 1))))
  }
  weights <-
    outer(e$columns, pairs[1L, ], `==`) - outer(e$columns, pairs[2L, ], `==`)
  estimated(e, contrasts_of(means_in(e, scores, e$columns), weights))
}

# The scores of a question's answers as its table shows them; NULL without any.
scores_in <- function(x, layer) {
  question <- if (!has(x, "records")) x$facts$down else x$tally$down
  if (is.null(question$scores)) return(NULL)
  answers <- if (has(x, "records")) question$levels else
    question$categories$label
  unname(question$scores[match(answers_down(layer), answers)])
}

# ---- a number down the side: a layer whose rows are its values ----
# Of these only the summary is shown.


#' @export
layer_tests.fairlattice_number_layer <- function(layer, asked = NULL, p = NULL,
                                                 scores = "equal", draws = NULL,
                                                 seed = NULL) {
  test <- equal_means_test(layer, layer$scores)
  test[c("headline", "why")] <- list(TRUE, said("why_means"))
  list(test)
}

#' @export
layer_strength.fairlattice_number_layer <- function(layer, alpha,
                                                    explains = "across",
                                                    asked = "all",
                                                    scores = "equal") {
  list(new_strength("cramers_v", "both", absent_figures(said("not_of_means")),
                    FALSE))
}

#' @export
layer_residuals.fairlattice_number_layer <- function(layer, correction, alpha,
                                                     kind = "adjusted") {
  no_residuals(length(layer$n))
}

#' @export
layer_compared.fairlattice_number_layer <- function(layer) 0L

#' @export
add_estimates.fairlattice_number_layer <- function(layer, tally) {
  layer["estimate"] <-
    list(estimate_of(layer, tally$design, layer_cells(layer, tally)))
  layer
}
