#' Is there an association?
#'
#' Tests of independence of `down` and `across`; several at once, one of them the headline, with the reason why.
#' Without weights or a design the headline is Pearson's chi-square, or the exact test when the table is sparse; with a
#' weight, stratum, cluster or replicates it is the second-order Rao-Scott test, and the plain Pearson statistic is
#' there as a reference only. When both questions are ordered the linear trend stands beside it. A table of the same
#' question asked twice (`paired = TRUE` in [lattice()]) is tested for symmetry.
#'
#' With p the estimated proportions and n the unweighted base:
#' * `pearson`: X2 = n sum (p_ij - p_i. p_.j)^2 / (p_i. p_.j), chi-square on (r-1)(c-1);
#' * `likelihood_ratio`: G2 = 2n sum p_ij ln(p_ij / (p_i. p_.j)), zero cells adding 0 (Wilks 1938);
#' * `continuity_corrected`: 2x2 only, each |O - E| lessened by min(0.5, |O - E|) (Yates 1934);
#' * `exact`: margins fixed, the probability of all tables no more probable than this one (Fisher 1934; Freeman &
#'   Halton 1951), of any size within the options `exact_steps` and `exact_bytes`; in a 2x2 also `exact_more` and
#'   `exact_fewer`, one-sided;
#' * `monte_carlo`: the same from B random tables (Patefield 1981), (b+1)/(B+1), with the standard error of that p in
#'   `p_se`;
#' * `linear_trend`: M2 = (n-1) r^2, chi-square on 1, r between scores (Mantel 1963); with a design divided by the
#'   design effect of r (its design variance over its multinomial one), F on 1 and the design's degrees of freedom;
#' * `rao_scott_first`: X2 / mean(delta), chi-square on (r-1)(c-1);
#' * `rao_scott_second`: F = X2 / sum(delta) on d1 = sum(delta)^2 / sum(delta^2) and d1 times the design's degrees of
#'   freedom; and both again for G2 (`rao_scott_first_likelihood`, `rao_scott_second_likelihood`) (Rao & Scott 1981,
#'   1984);
#' * `symmetry`, `symmetry_exact`, `symmetry_rao_scott`: of paired tables, Bowker's test (McNemar's in a 2x2), its
#'   exact form, and under a design.
#'
#' delta are the generalised design effects: the eigenvalues of inv(H V0 H') H V H', H being the Jacobian of
#' p_ij - p_i. p_.j over the first r-1 rows and c-1 columns, V the design covariance and V0 the multinomial one at p.
#' Where H V0 H' is singular at p, V0 is taken at the independence fit, and the result says so.
#'
#' @param x (lattice) From [lattice()] or [read_lattice()].
#' @param tests (character, default those that suit the table) Names from the list above, or "all".
#' @param p ("asymptotic", "exact" or "simulated"; default that of the lattice) How the headline of an unweighted table
#'   gets its p-value.
#' @param scores ("equal", "midranks", or a list of numbers `down` and `across`; default "equal": 1, 2, 3, ...) Of the
#'   linear trend.
#' @param draws (integer, default option `fairlattice.random_tables`) Random tables, rounded up to thousands.
#' @param seed (integer, default option `fairlattice.seed`) Of the random tables.
#' @param ... Nothing: what is put here is an error, with the nearest argument's name.
#' @return Data frame, one row a test and layer: `each`, `test`, `statistic`, `df`, `df_error` (second degrees of
#'   freedom of an F), `p`, `p_se` (simulation error), `base` (n), `headline` (TRUE for one row a layer), `why` (the
#'   headline was chosen), `note` (why a figure is undefined, or how it is to be read).
#' @section Errors: `fairlattice_error_test`, `fairlattice_error_scores`, `fairlattice_error_records_gone`.
#' @references Rao JNK, Scott AJ (1981) J Amer Statist Assoc 76:221-230; (1984) Ann Statist 12:46-60. Wilks SS (1938)
#'   Ann Math Statist 9:60-62. Yates F (1934) J Roy Statist Soc Suppl 1:217-235. Freeman GH, Halton JH (1951)
#'   Biometrika 38:141-149. Patefield WM (1981) Appl Statist 30:91-97. Mantel N (1963) J Amer Statist Assoc 58:690-700.
#'   Bowker AH (1948) J Amer Statist Assoc 43:572-574. McNemar Q (1947) Psychometrika 12:153-157.
#' @export
#' @examples
#' panel <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement)
#' test_independence(lattice(panel, down = internet, across = tenure))
#' test_independence(lattice(demo_records(60), down = ferry, across = tenure), p = "simulated", draws = 10000)
test_independence <- function(x, tests = NULL, p = NULL, scores = "equal", draws = NULL, seed = NULL, ...) {
  nothing_else(...)
  call <- environment()
  check_class(x, "fairlattice_lattice", "x", "lattice()", call)
  if (!is.null(tests) && !is.character(tests))
    stop_input(sprintf("`tests` must be names of tests, not %s.", quote_value(tests)), "test", call = call)
  bad <- setdiff(tests, c("all", names(test_labels)))
  if (length(bad))
    stop_input(c(sprintf("There is no test %s.", quote_value(bad[1L])),
                 did_you_mean(bad[1L], names(test_labels), "Tests")), "test", call = call)
  if (!is.null(p)) check_choice(p, ways_to_p, "p", call)
  if (is.null(x$tally)) {
    out <- stored(x, "tests", list(p = p, scores = if (!identical(scores, "equal")) scores, draws = draws, seed = seed))
    gone <- setdiff(tests, c("all", out$test))
    if (length(gone)) stored(x, "tests", list(tests = gone[1L]))
  } else {
    check_scores(scores, x, call)
    if (!is.null(seed)) check_whole(seed, "seed", 0, call)
    if (!is.null(draws)) check_whole(draws, "draws", 1000, call)
    out <- over_layers(x$layers, layer_tests, asked = tests, p = p %||% x$choices$p, scores = scores, draws = draws,
                       seed = seed)
  }
  if (!is.null(tests) && !"all" %in% tests) out <- out[out$test %in% tests, ]
  rownames(out) <- NULL
  as_findings(out, "tests")
}

test_labels <- c(
  pearson = "Pearson chi-square", likelihood_ratio = "likelihood ratio",
  continuity_corrected = "continuity-corrected chi-square",
  exact = "exact test", exact_more = "exact test, one-sided (more)", exact_fewer = "exact test, one-sided (fewer)",
  monte_carlo = "exact test by random tables",
  linear_trend = "linear trend", rao_scott_second = "Rao-Scott second order", rao_scott_first = "Rao-Scott first order",
  rao_scott_second_likelihood = "Rao-Scott second order of G\u00b2",
  rao_scott_first_likelihood = "Rao-Scott first order of G\u00b2",
  symmetry = "symmetry", symmetry_exact = "symmetry, exact", symmetry_rao_scott = "symmetry, Rao-Scott second order")

layer_tests <- function(layer, asked = NULL, p = NULL, scores = "equal", draws = NULL, seed = NULL) {
  if (!is.null(layer$parts)) return(tick_tests(layer))
  e <- layer$estimate
  row <- function(test, statistic = NA_real_, df = NA_real_, df_error = NA_real_, p = NA_real_, headline = FALSE,
                  note = NA_character_,
                  why = NA_character_, p_se = NA_real_) {
    list(test = test, statistic = statistic, df = df, df_error = df_error, p = p, p_se = p_se, base = layer$base$n,
         headline = headline, why = why, note = note)
  }
  none <- no_test_reason(layer)
  if (!is.null(none)) return(list(row("pearson", headline = TRUE, note = none)))
  wants <- function(name) any(c(name, "all") %in% asked)
  sparse <- sparse_rule(e)$sparse
  rows <- c(if (e$by_design) designed_tests(e, row),
            plain_tests(e, row, wants("continuity_corrected") || is.null(asked)))
  by <- p %||% if (!e$by_design && sparse && !isTRUE(layer$paired)) "exact" else "asymptotic"
  if (by == "exact" || wants("exact") || wants("exact_more") || wants("exact_fewer"))
    rows <- c(rows,
              exact_tests(layer, row, draws = draws, seed = seed, patient = identical(p, "exact") || wants("exact")))
  if (by == "simulated" || wants("monte_carlo")) rows <- c(rows, exact_tests(layer, row, simulated = TRUE, draws, seed))
  if (all(layer$ordered) || wants("linear_trend")) rows <- c(rows, list(trend_test(layer, row, scores)))
  if (isTRUE(layer$paired)) rows <- c(symmetry_tests(layer, row), rows)
  set_headline(rows, e, by, sparse, is.null(p))
}

# One headline a layer, and the sentence why.
set_headline <- function(rows, e, by, sparse, by_table) {
  if (any(vapply(rows, function(row) row$headline, NA))) return(rows)
  names <- vapply(rows, function(row) row$test, "")
  ps <- vapply(rows, function(row) row$p, 0)
  able <- function(wanted) intersect(wanted, names[!is.na(ps)])[1L]
  chosen <- if (e$by_design)
    intersect(c(if (isFALSE(e$effect$second)) "rao_scott_first", "rao_scott_second"), names)[1L] else
    able(c(if (by != "asymptotic") c(if (by == "exact") "exact", "monte_carlo"), "pearson"))
  k <- match(chosen, names)
  rows[[k]]$headline <- TRUE
  rows[[k]]$why <- if (e$by_design) {
    if (by == "asymptotic") "there are weights or a sample design, which this test follows" else
      "there are weights or a sample design, for which an exact p-value has no meaning"
  } else if (chosen == "pearson") {
    if (sparse && by_table) "the exact test is out of reach for so many respondents" else
      if (by_table) "there are no weights or design, and no expected counts too small for it" else "it was asked for"
  } else if (by_table) {
    "expected counts are too small for chi-square"
  } else "it was asked for"
  rows
}

# Said of the plain statistic of a weighted or designed table: it is made of weighted percentages, its p-value of simple
# random sampling.
plain_note <- "a reference only: of weighted percentages, as if respondents were a simple random sample"

plain_tests <- function(e, row, corrected) {
  d <- (nrow(e$P) - 1) * (ncol(e$P) - 1)
  reference <- if (e$by_design) plain_note else NA_character_
  of <- function(test, statistic)
    row(test, statistic, d, p = stats::pchisq(statistic, d, lower.tail = FALSE), note = reference)
  list_of <- list(of("pearson", pearson_statistic(e$P, e$n)), of("likelihood_ratio", likelihood_statistic(e$P, e$n)))
  if (d == 1 && corrected && all(dim(e$P) == 2L))
    list_of <- c(list_of, list(of("continuity_corrected", corrected_statistic(e$P, e$n))))
  list_of
}

designed_tests <- function(e, row) {
  effect <- e$effect
  if (!is.na(effect$why)) return(list(row("rao_scott_second", note = effect$why)))
  d <- (nrow(e$P) - 1) * (ncol(e$P) - 1)
  X2 <- pearson_statistic(e$P, e$n)
  G2 <- likelihood_statistic(e$P, e$n)
  first <- function(test, statistic) {
    adjusted <- statistic / effect$mean
    row(test, adjusted, d, p = stats::pchisq(adjusted, d, lower.tail = FALSE), note = effect$note)
  }
  if (!effect$second) return(list(first("rao_scott_first", X2), first("rao_scott_first_likelihood", G2)))
  second <- function(test, statistic) {
    f <- statistic / effect$sum
    df_error <- effect$df * e$df
    row(test, f, effect$df, df_error, stats::pf(f, effect$df, df_error, lower.tail = FALSE), note = effect$note)
  }
  list(second("rao_scott_second", X2), first("rao_scott_first", X2),
       second("rao_scott_second_likelihood", G2), first("rao_scott_first_likelihood", G2))
}

# M2 = (n - 1) r^2 (Mantel 1963); with a design over the design effect of r.
trend_test <- function(layer, row, scores) {
  e <- layer$estimate
  given <- given_of(layer, scores)
  m <- measures[[if (identical(scores, "midranks")) "spearman_rho" else "pearson_r"]]
  r <- m$estimate(e$P, given)
  if (!is.finite(r)) return(row("linear_trend", note = "the scores of one question are all the same"))
  M2 <- (e$n - 1) * r^2
  note <- sprintf("%s; r = %s", if (is.list(scores)) "given scores" else
                  if (scores == "equal") "scores 1, 2, 3, ..." else "midranks", format_strength(r))
  if (!e$by_design) return(row("linear_trend", M2, 1, p = stats::pchisq(M2, 1, lower.tail = FALSE), note = note))
  G <- as.vector(m$figures(e$P, given)$null_gradient)
  plain <- variance_of(multinomial(e$P, e$n), G)
  effect <- if (plain > 1e-14) variance_of(e, G) / plain else 0
  if (e$df < 1 || effect < 1e-9)
    return(row("linear_trend", note = "the design leaves it no variance or no degrees of freedom"))
  row("linear_trend", M2 / effect, 1, e$df, stats::pf(M2 / effect, 1, e$df, lower.tail = FALSE), note = note)
}

# Why a layer cannot be tested; NULL when it can.
no_test_reason <- function(layer) {
  e <- layer$estimate
  if (is.null(e)) return("nobody is in this table")
  if (nrow(e$P) < 2L || ncol(e$P) < 2L) {
    return("one of the two questions has a single answer here, so there is nothing to compare")
  }
  NULL
}

pearson_statistic <- function(P, n) {
  E <- expected_proportions(P)
  n * sum((P - E)^2 / E)
}

likelihood_statistic <- function(P, n) {
  E <- expected_proportions(P)
  seen <- P > 0
  max(0, 2 * n * sum(P[seen] * log(P[seen] / E[seen])))
}

# Yates (1934): every |O - E| is lessened by a half, but not below 0.
corrected_statistic <- function(P, n) {
  E <- expected_proportions(P)
  off <- abs(P - E) * n
  sum((off - pmin(0.5, off))^2 / (E * n))
}
