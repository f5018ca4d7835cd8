#' Is there an association?
#'
#' Tests of independence of `down` and `across`; several at once, one of them
#' the headline, with the reason why. Without weights or a design the headline
#' is Pearson's chi-square, or the exact test when the table is sparse; with a
#' weight, stratum, cluster or replicates it is the second-order Rao-Scott test,
#' its degrees of freedom corrected for the number of clusters, and the plain
#' Pearson statistic is there as a reference only. When both questions are
#' ordered the linear trend stands beside it. A table of the same question asked
#' twice (`paired = TRUE` in [crosstab()]) is tested for symmetry.
#'
#' With p the estimated proportions and n the unweighted base:
#' * `pearson`: X2 = n sum (p_ij - p_i. p_.j)^2 / (p_i. p_.j), chi-square on
#'   (r-1)(c-1);
#' * `likelihood_ratio`: G2 = 2n sum p_ij ln(p_ij / (p_i. p_.j)), zero cells
#'   adding 0 (Wilks 1938);
#' * `continuity_corrected`: 2x2 only, each |O - E| lessened by min(0.5, |O -
#'   E|) (Yates 1934);
#' * `exact`: margins fixed, the probability of all tables no more probable than
#'   this one (Fisher 1934; Freeman & Halton 1951), of any size within the
#'   options `exact_steps` and `exact_bytes`; in a 2x2 also `exact_more` and
#'   `exact_fewer`, one-sided;
#' * `monte_carlo`: the same from B random tables (Patefield 1981), (b+1)/(B+1),
#'   with the standard error of that p in `p_se`;
#' * `linear_trend`: M2 = (n-1) r^2, chi-square on 1, r between scores (Mantel
#'   1963); with a design divided by the design effect of r (its design variance
#'   over its multinomial one), F on 1 and the design's degrees of freedom;
#' * `rao_scott_first`: X2 / mean(delta), chi-square on (r-1)(c-1);
#' * `rao_scott_corrected`, the headline with a weight or design: F = X2 /
#'   sum(delta) on d1' and d1 times the design's degrees of freedom, with d1' =
#'   sum(delta)^2 / s2 and s2 = df^2 / ((df - 1)(df + 2)) (sum(delta^2) -
#'   sum(delta)^2 / df), the sum of squares freed of the bias that few clusters
#'   (df) give it, kept between d1 and (r-1)(c-1). The form is ours; in
#'   simulated surveys of 12 to 100 clusters it rejects 2 to 7 in 100 at 5 %
#'   where `rao_scott_second` rejects 0 to 7 (docs/VALIDATION.md);
#' * `rao_scott_second`: F = X2 / sum(delta) on d1 = sum(delta)^2 / sum(delta^2)
#'   and d1 times the design's degrees of freedom; and both again for G2
#'   (`rao_scott_first_likelihood`, `rao_scott_second_likelihood`) (Rao & Scott
#'   1981, 1984);
#' * `imputed_wald`, `imputed_likelihood_ratio`: of imputed data sets, D1 (Li,
#'   Raghunathan & Rubin 1991) of the departures from independence and D3 (Meng &
#'   Rubin 1992) of the likelihood ratio over its design effect; the Rao-Scott
#'   tests, too, take the variance between data sets into account;
#' * `symmetry`, `symmetry_exact`, `symmetry_rao_scott`: of paired tables,
#'   Bowker's test (McNemar's in a 2x2), its exact form, and under a design;
#' * `cochran_q`: of a [battery()] of two answers, unweighted and without a design:
#'   of those who answered all k statements, with G_j who gave the second answer to
#'   statement j and L_i to how many respondent i gave it, Q = (k-1) (k sum(G_j^2) -
#'   sum(G_j)^2) / (k sum(L_i) - sum(L_i^2)), chi-square on k - 1 (Cochran 1950).
#'   The Rao-Scott tests of a battery are of marginal homogeneity under its design.
#'
#' delta are the generalised design effects: the eigenvalues of inv(H V0 H') H V
#' H', H being the Jacobian of p_ij - p_i. p_.j over the first r-1 rows and c-1
#' columns, V the design covariance and V0 the multinomial one at p. Where H V0
#' H' is singular at p, V0 is taken at the independence fit, and the result says
#' so.
#'
#' @param x (crosstab) From [crosstab()] or [read_tables()].
#' @param tests (character, default those that suit the table) Names from the
#'   list above, or "all".
#' @param p ("asymptotic", "exact" or "simulated"; default that of the crosstab)
#'   How the headline of an unweighted table gets its p-value.
#' @param scores ("equal", "midranks", or a list of numbers `down` and `across`;
#'   default "equal": 1, 2, 3, ...) Of the linear trend.
#' @param draws (integer, default option `fairlattice.random_tables`) Random
#'   tables, rounded up to thousands.
#' @param seed (integer, default option `fairlattice.seed`) Of the random
#'   tables.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame, one row a test and layer: `each`, `test`, `statistic`,
#'   `df`, `df_error` (second degrees of freedom of an F), `p`, `p_se`
#'   (simulation error), `base` (n), `headline` (TRUE for one row a layer),
#'   `why` (the headline was chosen), `note` (why a figure is undefined, or how
#'   it is to be read), `p_corrected` (of the headlines of all answers of `each`,
#'   corrected over them by the table's correction). Units: p-values and their simulation error 0-1.
#' @section Errors: `fairlattice_error_test`, `fairlattice_error_scores`,
#'   `fairlattice_error_records_gone`.
#' @references Rao JNK, Scott AJ (1981) J Amer Statist Assoc 76:221-230; (1984)
#'   Ann Statist 12:46-60. Wilks SS (1938) Ann Math Statist 9:60-62. Yates F
#'   (1934) J Roy Statist Soc Suppl 1:217-235. Freeman GH, Halton JH (1951)
#'   Biometrika 38:141-149. Patefield WM (1981) Appl Statist 30:91-97. Mantel N
#'   (1963) J Amer Statist Assoc 58:690-700. Bowker AH (1948) J Amer Statist
#'   Assoc 43:572-574. McNemar Q (1947) Psychometrika 12:153-157. Cochran WG
#'   (1950) Biometrika 37:256-266.
#' @export
#' @examples
#' survey <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement)
#' tests(crosstab(survey, down = internet, across = tenure))
#' tests(crosstab(demo_records(60), down = ferry, across = tenure), p = "simulated", draws = 10000)
tests <- function(x, tests = NULL, p = NULL, scores = "equal", draws = NULL,
                  seed = NULL, ...) {
  nothing_else(...)
  call <- environment()
  check_class(x, "fairlattice_crosstab", "x", "crosstab()", call)
  check_tests(tests, call)
  if (!is.null(p)) check_choice(p, ways_to_p, "p", call)
  check_scores(scores, x, call)
  if (!is.null(seed)) check_whole(seed, "seed", 0, call)
  if (!is.null(draws)) check_whole(draws, "draws", 1000, call)
  asked <- if (has(x, "records")) tests
  found <- further_result_of(x, "tests", p = p %||% x$choices$p, asked = asked,
                             scores = scores, draws = draws, seed = seed,
                             call = call)
  out <- frame_of(x, found)
  if (is.null(p) && length(x$layers) > 1L)
    out$p_corrected <- corrected_headlines(x, out)
  gone <- if (!has(x, "records")) setdiff(tests, c("all", out$test))
  if (length(gone)) stop_records_gone("tests", gone[1L], NULL, call)
  if (!is.null(tests) && !"all" %in% tests) out <- out[out$test %in% tests, ]
  rownames(out) <- NULL
  new_result(out, "tests")
}

# The corrected p-value beside the headline of every answer of `each`.
corrected_headlines <- function(x, out) {
  corrected <- corrected_over_each(x)
  layers <- vapply(x$layers, function(layer) layer$each, "")
  found <- corrected[match(out$each, layers)] %||% rep(NA_real_, nrow(out))
  replace(found, !out$headline, NA_real_)
}

tests_known <- c("pearson", "likelihood_ratio", "continuity_corrected", "exact",
                 "exact_more", "exact_fewer", "monte_carlo", "linear_trend",
                 "rao_scott_corrected", "rao_scott_second", "rao_scott_first",
                 "rao_scott_second_likelihood", "rao_scott_first_likelihood",
                 "symmetry", "symmetry_exact", "symmetry_rao_scott",
                 "cochran_q", "imputed_wald", "imputed_likelihood_ratio")

check_tests <- function(tests, call) {
  if (is.null(tests)) return(invisible())
  if (!is.character(tests))
    stop_input(tells("tests_names_tests_not", quote_value(tests)), "test",
               call = call)
  bad <- setdiff(tests, c("all", tests_known))
  if (length(bad)) {
    stop_input(c(tells("there_is_no_test", quote_value(bad[1L])),
                 did_you_mean(bad[1L], tests_known, "tests")), "test",
               call = call)
  }
}

# "equal", "midranks", or a number for every answer.
check_scores <- function(scores, x, call, words = c("equal", "midranks")) {
  if (is.character(scores) && length(scores) == 1L && scores %in% words)
    return(invisible())
  good <- is.list(scores) && all(c("down", "across") %in% names(scores))
  for (side in c("down", "across")) {
    answers <- dimnames(x$layers[[1L]]$n)[[match(side, c("down", "across"))]]
    given <- if (good) scores[[side]]
    if (!is.numeric(given) || length(given) != length(answers) ||
          any(!is.finite(given))) {
      stop_input(c(tells("scores_must_be", one_of(words)),
                   i = tells("wrong_number_of_values", side, length(answers),
                             list_some(answers))), "scores", call = call)
    }
  }
}
