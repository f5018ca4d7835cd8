#' The strata of `each`, taken together
#'
#' Whether `down` and `across` go together within the answers of `each`: what is
#' left of an association when `each` is controlled for.
#'
#' In a 2x2xK table the Mantel-Haenszel common odds ratio sum(a d/N) / sum(b
#' c/N), with the interval of Robins, Breslow & Greenland (1986), or on V by its
#' gradient under a design; the Cochran-Mantel-Haenszel test with and without
#' continuity correction; and whether the odds ratio is the same in all strata:
#' Breslow & Day with Tarone's correction (1985), or a Wald test of the log odds
#' ratios on V. In any table the three generalised statistics (Landis, Heyman &
#' Koch 1978): general association, mean scores (of the explained question, over
#' the explaining one) and correlation. Each is G'inv(H)G with G the sum over
#' strata of what was seen less what would be expected, and H its hypergeometric
#' covariance. Under a design it is divided by its generalised design effects,
#' second order, as the test of independence is.
#'
#' In larger tables whether the association is the same in all strata is the
#' test of no three-way interaction: iterative proportional fitting, Pearson's
#' X2 (Bishop, Fienberg & Holland 1975), second-order Rao-Scott under a design;
#' not given where the mean expected count is under 5.
#'
#' Each row of `odds_ratios` is an answer of `each`, `"pooled"`, or `"crude"`:
#' the table without `each`, strata of one row or column included. A singular
#' covariance is inverted where it can be. When pooled and crude point in
#' opposite directions, `reversal` says so (Simpson's paradox), and so does
#' [cautions()].
#'
#' @param x (crosstab) From [crosstab()] with `each`.
#' @param scores ("equal", "midranks", "ridits", or a list of numbers `down` and
#'   `across`, one an answer; default "equal": 1, 2, 3, ...) Midranks are the
#'   ranks within each stratum, ridits their shares, (midrank - 1/2) / n.
#' @param alpha (number in 0-1, default that of the crosstab) Intervals have
#'   confidence 1 - `alpha`.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return List of class `fairlattice_pooled`: `odds_ratios` (data frame:
#'   `each`, `n`, `estimate`, `se_log`, `low`, `high`, `note`; `NULL` for larger
#'   tables), `tests` (data frame: `test`, `statistic`, `df`, `df_error`, `p`,
#'   `note`), `reversal` (text or `NULL`), `left_out` (answers of `each` that
#'   say nothing: one row or column only). Units: odds ratios 0 and up,
#'   `se_log` of their logarithm, p-values 0-1.
#' @section Errors: `fairlattice_error_pooled` without `each`;
#'   `fairlattice_error_ticks`; `fairlattice_error_scores`.
#' @references Mantel N, Haenszel W (1959) J Nat Cancer Inst 22:719-748. Robins
#'   J, Breslow N, Greenland S (1986) Biometrics 42:311-323. Tarone RE (1985)
#'   Biometrika 72:91-95. Bishop YMM, Fienberg SE, Holland PW (1975) Discrete
#'   Multivariate Analysis, ch. 3. Landis JR, Heyman ER, Koch GG (1978) Int
#'   Statist Rev 46:237-254. Simpson EH (1951) J Roy Statist Soc B 13:238-241.
#' @export
#' @examples
#' survey <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement)
#' pooled(crosstab(survey, down = leave, across = tenure, each = island))
pooled <- function(x, scores = "equal", alpha = NULL, ...) {
  nothing_else(...)
  call <- environment()
  check_made(x, call)
  if (is.null(x$tally$each)) {
    stop_input(c(tells("one_table_only_nothing_take"),
                 i = tells("make_crosstab_each")), "pooled", call = call)
  }
  alpha <- alpha %||% x$choices$alpha
  check_fraction(alpha, "alpha", call)
  check_scores(scores, x, call, c("equal", "midranks", "ridits"))
  strata <- strata_tables(x)
  tests <-
    list2DF(columns_in_words(pooled_tests(strata, scores, x$choices$explains)))
  found <- misleading_of(x, strata)
  structure(list(
    title = table_title(x),
    labels = vapply(x$tally[c("down", "across", "each")], function(q) q$label,
                    ""),
    alpha = alpha, by_design = by_design_of(strata),
    n = sum(vapply(strata$tables, function(t) sum(t$n), 0)),
    odds_ratios = if (two_by_two(strata) && length(strata$tables))
      list2DF(columns_in_words(odds_ratio_rows(strata, alpha))),
    tests = new_result(tests[c("test", "statistic", "df", "df_error", "p", "note")],
                       "tests"),
    reversal = if (!is.null(found)) in_words(found),
    left_out = strata$left_out), class = "fairlattice_pooled")
}
