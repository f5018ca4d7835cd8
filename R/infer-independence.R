#' Is there an association?
#'
#' Tests of independence of `down` and `across`. Without weights or a design the headline is Pearson's chi-square;
#' with a weight, stratum or cluster it is the second-order Rao-Scott test, and the plain Pearson statistic is there
#' as a reference only.
#'
#' With p the estimated proportions and n the unweighted base (Rao & Scott 1981, 1984):
#' * `pearson`: X2 = n sum (p_ij - p_i. p_.j)^2 / (p_i. p_.j), chi-square on (r-1)(c-1);
#' * `likelihood_ratio`: G2 = 2n sum p_ij ln(p_ij / (p_i. p_.j)), zero cells adding 0 (Wilks 1938);
#' * `rao_scott_first`: X2 / mean(delta), chi-square on (r-1)(c-1);
#' * `rao_scott_second`: F = X2 / sum(delta) on d1 = sum(delta)^2 / sum(delta^2) and d1 times the design's degrees of
#'   freedom; and both again for G2 (`rao_scott_first_likelihood`, `rao_scott_second_likelihood`).
#'
#' delta are the generalised design effects: the eigenvalues of inv(H V0 H') H V H', H being the Jacobian of
#' p_ij - p_i. p_.j over the first r-1 rows and c-1 columns, V the design covariance and V0 the multinomial one at p.
#' Where H V0 H' is singular at p, V0 is taken at the independence fit, and the result says so.
#'
#' @param x (lattice) From [lattice()] or [read_lattice()].
#' @return Data frame, one row a test and layer: `each`, `test`, `statistic`, `df`, `df_error` (second degrees of
#'   freedom of an F), `p`, `base` (n), `headline` (TRUE for one row a layer), `note` (why a figure is undefined, or how
#'   it is to be read).
#' @references Rao JNK, Scott AJ (1981) J Amer Statist Assoc 76:221-230; (1984) Ann Statist 12:46-60. Wilks SS (1938)
#'   Ann Math Statist 9:60-62.
#' @export
#' @examples
#' panel <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement)
#' test_independence(lattice(panel, down = internet, across = tenure))
test_independence <- function(x) {
  check_class(x, "fairlattice_lattice", "x", "lattice()", environment())
  if (is.null(x$tally)) return(x$findings$tests)
  as_findings(over_layers(x$layers, layer_tests), "tests")
}

layer_tests <- function(layer) {
  if (!is.null(layer$parts)) return(tick_tests(layer))
  e <- layer$estimate
  row <- function(test, statistic = NA_real_, df = NA_real_, df_error = NA_real_, p = NA_real_, headline = FALSE,
                  note = NA_character_) {
    list(test = test, statistic = statistic, df = df, df_error = df_error, p = p, base = layer$base$n, headline = headline, note = note)
  }
  why <- no_test_reason(layer)
  if (!is.null(why)) return(list(row("pearson", headline = TRUE, note = why)))
  d <- (nrow(e$P) - 1) * (ncol(e$P) - 1)
  X2 <- pearson_statistic(e$P, e$n)
  G2 <- likelihood_statistic(e$P, e$n)
  upper <- function(x) stats::pchisq(x, d, lower.tail = FALSE)
  reference <- if (e$by_design) "ignores the weights' and the design's effect on the variance: a reference only" else NA_character_
  plain <- list(
    row("pearson", X2, d, p = upper(X2), headline = !e$by_design, note = reference),
    row("likelihood_ratio", G2, d, p = upper(G2), note = reference))
  if (!e$by_design) return(plain)
  effect <- e$effect
  if (!is.na(effect$why)) return(c(list(row("rao_scott_second", headline = TRUE, note = effect$why)), plain))
  first <- function(test, statistic) {
    adjusted <- statistic / effect$mean
    row(test, adjusted, d, p = upper(adjusted), note = effect$note)
  }
  second <- function(test, statistic, headline = FALSE) {
    f <- statistic / effect$sum
    df_error <- effect$df * e$df
    row(test, f, effect$df, df_error, stats::pf(f, effect$df, df_error, lower.tail = FALSE), headline, effect$note)
  }
  c(list(second("rao_scott_second", X2, TRUE), first("rao_scott_first", X2),
         second("rao_scott_second_likelihood", G2), first("rao_scott_first_likelihood", G2)), plain)
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
