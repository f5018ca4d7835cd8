# Tests of independence of one layer: Pearson's chi-square and its kin,
# Rao-Scott under a design, the linear trend, and which of them is the headline.

# The tests of a layer, one row each. `asked` names tests beyond those that suit
# the table; `p` is how the headline of an unweighted table gets its p-value.
layer_tests <- function(layer, asked = NULL, p = NULL, scores = "equal",
                        draws = NULL, seed = NULL) {
  UseMethod("layer_tests")
}

#' @export
layer_tests.fairlattice_layer <- function(layer, asked = NULL, p = NULL,
                                          scores = "equal", draws = NULL,
                                          seed = NULL) {
  layer <- unclass(layer)
  e <- layer$estimate
  none <- no_test_reason(layer)
  if (!is.null(none))
    return(list(new_test("pearson", base = layer$base$n, note = none,
                         headline = TRUE)))
  wants <- function(names) !is.null(asked) && any(c(names, "all") %in% asked)
  drawn <- counts_were_drawn(e)
  sparse <- drawn && sparse_rule(e)$sparse # which decides nothing under a design
  X2 <- pearson_statistic(e$P, e$n, e$fit)
  G2 <- likelihood_statistic(e$P, e$n, e$fit)
  rows <- c(if (!drawn) designed_tests(e, X2, G2),
            plain_tests(e, X2, G2,
                        wants("continuity_corrected") || is.null(asked)))
  by <- p %||% if (sparse && !isTRUE(layer$paired)) "exact" else "asymptotic"
  if (by == "exact" || wants(c("exact", "exact_more", "exact_fewer")))
    rows <- c(rows,
              exact_tests(layer, FALSE, draws, seed,
                          patient = identical(p, "exact") || wants("exact")))
  if (by == "simulated" || wants("monte_carlo"))
    rows <- c(rows, exact_tests(layer, TRUE, draws, seed))
  if (all(layer$ordered) || wants("linear_trend"))
    rows <- c(rows, list(trend_test(layer, scores)))
  if (isTRUE(layer$paired)) rows <- c(symmetry_tests(layer), rows)
  set_headline(c(rows, imputed_tests(e)), e, by, sparse, is.null(p))
}

# One headline a layer, and why it is that.
set_headline <- function(rows, e, by, sparse, by_table) {
  if (!is.null(headline_of(rows))) return(rows)
  names <- vapply(rows, function(row) row$test, "")
  drawn <- counts_were_drawn(e)
  k <- if (!drawn) {
    match(if (isFALSE(e$effect$second)) "rao_scott_first" else
            "rao_scott_corrected", names)
  } else {
    ps <- vapply(rows, function(row) row$p, 0)
    wanted <- c(if (by == "exact") c("exact", "monte_carlo"),
                if (by == "simulated") "monte_carlo", "pearson")
    match(intersect(wanted, names[!is.na(ps)])[1L], names)
  }
  rows[[k]]$headline <- TRUE
  rows[[k]]$why <- if (inherits(e$spread, "fairlattice_imputed"))
    said("why_imputed", imputations = length(e$spread$parts)) else
      headline_reason(names[k], !drawn, by, sparse, by_table)
  rows
}

headline_reason <- function(test, by_design, by, sparse, by_table) {
  if (by_design)
    return(said(if (by == "asymptotic") "why_design" else
                  "why_design_not_exact"))
  if (!by_table) return(said("why_asked"))
  if (test != "pearson") return(said("why_sparse"))
  said(if (sparse) "why_exact_too_large" else "why_plain")
}

plain_tests <- function(e, X2, G2, corrected) {
  d <- free_of(e$P)
  asymptotic <- function(test, statistic) {
    new_test(test, statistic, d, p = upper_chi_square(statistic, d), base = e$n,
             note = reference_note(e))
  }
  c(list(asymptotic("pearson", X2), asymptotic("likelihood_ratio", G2)),
    if (corrected && all(dim(e$P) == 2L))
      list(asymptotic("continuity_corrected", corrected_statistic(e$P, e$n))))
}

designed_tests <- function(e, X2, G2) {
  effect <- e$effect
  if (!is.null(effect$why))
    return(list(new_test("rao_scott_corrected", base = e$n, note = effect$why)))
  d <- free_of(e$P)
  first <- function(test, statistic) {
    adjusted <- statistic / effect$mean
    new_test(test, adjusted, d, p = upper_chi_square(adjusted, d), base = e$n,
             note = effect$note)
  }
  second <- function(test, statistic) {
    f <- second_order(statistic, effect, design_df(e))
    new_test(test, f$statistic, f$df, f$df_error, f$p, e$n, effect$note)
  }
  if (!effect$second)
    return(list(first("rao_scott_first", X2),
                first("rao_scott_first_likelihood", G2)))
  f <- corrected_order(X2, effect)
  corrected <- new_test("rao_scott_corrected", f$statistic, f$df, f$df_error,
                        f$p, e$n, effect$note)
  list(corrected, second("rao_scott_second", X2), first("rao_scott_first", X2),
       second("rao_scott_second_likelihood", G2),
       first("rao_scott_first_likelihood", G2))
}

# M2 = (n - 1) r^2 (Mantel 1963); with a design over the design effect of r.
trend_test <- function(layer, scores) {
  e <- layer$estimate
  given <- given_of(layer, scores)
  m <- measures[[if (identical(scores, "midranks")) "spearman_rho" else "pearson_r"]]
  r <- m$estimate(e$P, given)
  if (!is.finite(r))
    return(new_test("linear_trend", base = e$n, note = said("scores_all_same")))
  M2 <- (e$n - 1) * r^2
  note <- said("trend_scores",
               scores = if (is.list(scores)) "given" else scores, r = r)
  row <- function(...) new_test("linear_trend", ..., base = e$n)
  if (counts_were_drawn(e))
    return(row(M2, 1, p = upper_chi_square(M2, 1), note = note))
  top <- estimated(e, function(P) top_of(m, P, given))
  effect <- design_effect_of(e, function(P) top_of(m, P, given), top$variance)
  if (top$df < 1 || is.na(effect) || effect < 1e-9)
    return(row(note = said("trend_no_variance")))
  row(M2 / effect, 1, top$df, upper_f(M2 / effect, 1, top$df), note = note)
}

# Yates (1934): every |O - E| is lessened by a half, but not below 0.
corrected_statistic <- function(P, n) {
  E <- expected_proportions(P)
  off <- abs(P - E) * n
  sum((off - pmin(0.5, off))^2 / (E * n))
}

# The trend that stands beside the headline of two ordered questions; NULL
# without one.
trend_beside <- function(tests, ordered) {
  if (all(ordered))
    Find(function(row) {
      row$test == "linear_trend" && !row$headline && !is.na(row$p)
    }, tests)
}

# The plain statistic that stands for reference; NULL without one.
reference_test <- function(tests) {
  Find(function(row) {
    row$test %in% c("pearson", "symmetry") && !row$headline &&
      code_of(row$note) %in% "reference_only"
  }, tests)
}
