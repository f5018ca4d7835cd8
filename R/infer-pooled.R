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

# Crude and pooled direction, in a 2x2 and of ordered questions; NULL where
# there is none, or they agree, or one of them may be chance (Simpson 1951).
reversal_of <- function(x, strata) {
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
  if (!is.finite(crude) || sign(within) == sign(crude) || within == 0 ||
        crude == 0) return(NULL)
  top <- estimated(whole, function(P) top_of(measures$pearson_r, P, given))
  se <- sqrt(top$variance)
  p_crude <- if (se > 0) two_sided(top$value / se, top$df) else NA_real_
  p_within <- generalised_test("correlation", strata, tables, contrasts)$p
  if (anyNA(c(p_crude, p_within)) || max(p_crude, p_within) > x$choices$alpha)
    return(NULL) # evidence on both sides
  said("reversal", down = x$tally$down$label, across = x$tally$across$label,
       each = x$tally$each$label, together = crude > 0, p_crude = p_crude,
       p_within = p_within)
}

# The strata differ in their association; NULL where that may be chance.
heterogeneity_of <- function(x, strata) {
  test <- same_association(strata)
  if (!rejects(test, x$choices$alpha)) return(NULL)
  said("heterogeneity", down = x$tally$down$label,
       across = x$tally$across$label, each = x$tally$each$label,
       test = test$test, p = test$p)
}
