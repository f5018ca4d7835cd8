# All strata of `each` together: which tests are made, whether the association
# is the same in all of them, and whether the table without `each` would
# mislead.

pooled_tests <- function(strata, scores, explains) {
  two <- two_by_two(strata)
  c(if (two && length(strata$tables) && !by_design_of(strata))
      mantel_haenszel_tests(strata),
    generalised_tests(strata, scores, explains), list(same_association(strata)))
}

# Is the association the same in all strata?
same_association <- function(strata) {
  if (two_by_two(strata)) homogeneity_test(strata) else three_way_test(strata)
}

# The association without `each` and that within its answers, in a 2x2 and of
# ordered questions: the direction, the p-value, and of that within how far it is
# from what it would be if it were as strong as without. NULL where there is none.
crude_and_within <- function(x, strata) {
  if (length(strata$tables) < 2L) return(NULL)
  size <- c(length(strata$rows), length(strata$columns))
  if (!all(x$layers[[1L]]$ordered | size == 2L)) return(NULL)
  tables <- scaled_tables(strata)
  contrasts <- lapply(tables, function(t) {
    association_contrasts(t, strata$rows, strata$columns, "equal",
                          "across")$correlation
  })
  seen <- function(t, b) {
    sum(b * as.vector(t - tcrossprod(row_sums(t), column_sums(t)) / sum(t)))
  }
  within <- sum(unlist(Map(seen, tables, contrasts)))
  whole <- strata$whole
  given <- list(down = whole$rows, across = whole$columns)
  r <- measures$pearson_r$figures(whole$P, given)
  crude <- r$estimate
  if (!is.finite(crude) || crude == 0) return(NULL)
  top <- estimated(whole, function(P) top_of(measures$pearson_r, P, given))
  se <- sqrt(top$variance)
  p_crude <- if (se > 0) two_sided(top$value / se, top$df) else NA_real_
  test <- generalised_test("correlation", strata, tables, contrasts)
  if (anyNA(c(p_crude, test$p))) return(NULL)
  as_crude <- crude_slope(whole$P, given) * spread_within(tables, strata)
  plain <- sum(unlist(Map(hypergeometric_covariance, tables, contrasts)))
  effect <- if (within == 0) 1 else within^2 / plain / test$statistic
  list(crude = crude, within = within, p_crude = p_crude, p_within = test$p,
       short = (as_crude - within) * sign(as_crude) / sqrt(plain * effect),
       df = test$df_error %|NA|% Inf)
}

# By how much the answer down rises with that across, without `each`; and what
# that is worth in all strata: the variation across within them.
crude_slope <- function(P, given) {
  u <- given$down
  v <- given$across
  rows <- row_sums(P)
  columns <- column_sums(P)
  mean_v <- sum(columns * v)
  (sum(P * outer(u, v)) - sum(rows * u) * mean_v) / sum(columns * (v - mean_v)^2)
}

spread_within <- function(tables, strata) {
  v <- strata$columns
  sum(vapply(tables, function(t) {
    n <- column_sums(t)
    sum(n * (v - sum(n * v) / sum(n))^2)
  }, 0))
}

# Whether the table without `each` would mislead: the direction turns round within
# its answers, neither by chance (Simpson 1951); or the association is gone there:
# none that could not be chance, and weaker than without `each` by more than
# chance. NULL where neither is so.
misleading_of <- function(x, strata) {
  found <- crude_and_within(x, strata)
  alpha <- x$choices$alpha
  if (is.null(found) || found$p_crude > alpha) return(NULL)
  questions <- list(down = x$tally$down$label, across = x$tally$across$label,
                    each = x$tally$each$label)
  if (found$p_within > alpha) {
    weaker <- found$short > 0 &&
      isTRUE(two_sided(found$short, found$df) <= alpha)
    return(if (weaker)
      do.call(said, c("vanishing", questions, found[c("p_crude", "p_within")])))
  }
  if (sign(found$within) == -sign(found$crude))
    do.call(said, c("reversal", questions, together = found$crude > 0,
                    found[c("p_crude", "p_within")]))
}

# The strata differ in their association; NULL where that may be chance.
heterogeneity_of <- function(x, strata) {
  test <- same_association(strata)
  if (!rejects(test, x$choices$alpha)) return(NULL)
  said("heterogeneity", down = x$tally$down$label,
       across = x$tally$across$label, each = x$tally$each$label,
       test = test$test, p = test$p)
}
