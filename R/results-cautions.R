#' How far to trust it
#'
#' Plain-word cautions about a table, each with the figures that raised it and
#' what to do about it. Severity is "note" (worth knowing), "care" (read the
#' table with this in mind) or "stop" (do not use the test). The cut-offs are
#' [options][fairlattice_options].
#'
#' | code | raised when |
#' |---|---|
#' | `no_test` | the test is undefined |
#' | `tick_all` | answers look like several ticked items joined together |
#' | `ticks_add_up` | a question made by [ticks()] |
#' | `repeated_ids` | an id occurs more than once |
#' | `sparse` | over 20 % of the expected counts are under 5, or one under 1; in a 2x2 any under 5 (Cochran 1954) |
#' | `small_base`, `low_base` | percentages of fewer than 30, or 30 to 49, respondents |
#' | `tiny_effect` | significant, yet w = V sqrt(m - 1) is under 0.1 |
#' | `not_significant` | not significant: the smallest effect that would have shown, and how far the interval reaches |
#' | `clusters_of_group` | a column (row) with people in fewer than 8 clusters |
#' | `few_clusters` | fewer design degrees of freedom than the test has |
#' | `single_cluster` | a stratum with one cluster |
#' | `calibrated_margin` | the weights are calibrated to a question of the table |
#' | `unequal_weights` | weights that shrink the effective base by a third or more |
#' | `left_out` | more than 5 % of the records lack an answer or a weight |
#' | `vanishing` | within the answers of `each` the association is weaker by more than chance, and may be none |
#' | `reversal` | within the answers of `each` the association points the other way, both beyond chance (Simpson) |
#' | `heterogeneity` | the association differs between the answers of `each` (see [pooled()]) |
#' | `against_explains` | percentages run against what explains what |
#' | `unordered` | answers that look like a scale or bands, in no order (see [order_answers()]) |
#' | `empty_category` | a declared answer that nobody gave |
#' | `kept_total` | a row or column of counts is called like a total and does not add up |
#' | `kept_sum` | the last row or column of counts is the sum of the others, though it is not called a total |
#' | `unread_parts` | files of a folder were not opened: the condition leaves out their records |
#' | `nested_clusters` | a cluster's name occurs in several strata |
#'
#' @param x (crosstab) From [crosstab()] or [read_tables()].
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame: `each` (`NA` for the whole table), `code`, `severity`,
#'   `text`.
#' @references Cochran WG (1954) Biometrics 10:417-451.
#' @section Errors: `fairlattice_error_class` (`x` is no table).
#' @export
#' @examples
#' cautions(crosstab(demo_records(), down = heating, across = island))
cautions <- function(x, ...) {
  nothing_else(...)
  check_class(x, "fairlattice_crosstab", "x", "crosstab()", environment())
  new_result(cautions_frame(x), "cautions")
}

# Of the table as a whole (`each` is NA) and of its layers, the severest first.
cautions_frame <- function(x) {
  found <- cautions_of(x)
  each <- c(rep(NA_character_, length(found$whole)),
            unlist(Map(function(layer, found) rep(layer$each, length(found)),
                       x$layers, found$layers)))
  all <- c(found$whole, unlist(found$layers, recursive = FALSE))
  pick <- function(field) vapply(all, function(one) field(one), "")
  out <- list2DF(list(each = as.character(each),
                      code = pick(function(one) one$what$code),
                      severity = pick(function(one) one$severity),
                      text = pick(function(one) in_words(one$what))))
  out <- out[order(match(out$severity, severities)), ]
  rownames(out) <- NULL
  out
}
