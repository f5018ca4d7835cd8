#' Estimated totals
#'
#' How many people of the population are in each cell: the sum of the weights,
#' with a standard error and an interval of its own. It is not that of the
#' percentage times the base: the base is an estimate, too. With t_k the
#' weighted sum of cluster k (0 where it has nobody in the cell), the variance
#' of a total is that of the t_k within their strata (Saerndal, Swensson &
#' Wretman 1992, 2.8 and 3.7); with replicate weights it is that of the total in
#' every replicate. The interval is on the scale of the logarithm, with t.
#'
#' Weights that are scaled to the number of respondents say nothing of how many
#' people there are; the print says so.
#'
#' @param x (crosstab) From [crosstab()], with weights.
#' @param alpha,correction As in [crosstab()]; default those of the crosstab.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame, one row a cell, with the totals of every column (whose
#'   `down` is `NA`): `each`, `down`, `across`, `n` (respondents), `total`,
#'   `se`, `low`, `high` (people), `cv` (0-1), `deff` (the variance over that of
#'   a random sample of as many respondents from as many people). Attribute
#'   `pairs`: data frame, one row a pair of columns in a row: `each`, `down`,
#'   `first`, `second`, `first_total`, `second_total`, `difference`, `se`,
#'   `low`, `high` (people), `ratio`, `ratio_low`, `ratio_high` (0 and up), `p`,
#'   `p_corrected` (0-1). Items that people share are not compared.
#' @references Saerndal CE, Swensson B, Wretman J (1992) Model Assisted Survey
#'   Sampling. Springer.
#' @section Errors: `fairlattice_error_weight` (there are no weights),
#'   `fairlattice_error_class`, `fairlattice_error_records_gone`.
#' @export
#' @examples
#' survey <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement)
#' totals(crosstab(survey, down = heating, across = tenure))
totals <- function(x, alpha = NULL, correction = NULL, ...) {
  nothing_else(...)
  call <- environment()
  check_class(x, "fairlattice_crosstab", "x", "crosstab()", call)
  check_records_there(x, call)
  check_weighted(x, call)
  alpha <- alpha %||% x$choices$alpha
  correction <- correction %||% x$choices$correction
  check_fraction(alpha, "alpha", call)
  check_choice(correction, names(corrections), "correction", call)
  cells <- lapply(seq_along(x$layers), function(k) {
    parts <- net_parts(x, k, everybody = TRUE)
    core <- parts$core$layers[[1L]]
    grid <- function(figure) {
      M <- over_parts(parts, function(part) figure(part$layers[[1L]]))
      keep <- c(seq_len(nrow(core$n)), nrow(M))
      as.vector(M[keep, seq_len(ncol(core$n)), drop = FALSE])
    }
    figures <- c(total = "total", se = "se", low = "low", high = "high",
                 cv = "cv", deff = "deff")
    c(list(down = rep(c(answers_down(core), NA), ncol(core$n)),
           across = rep(answers_across(core), each = nrow(core$n) + 1L),
           n = grid(function(layer) layer$n)),
      lapply(figures, function(figure) {
        grid(function(layer) layer_totals(layer, alpha)[[figure]])
      }))
  })
  new_result(frame_of_columns(x, cells), "totals",
             pairs = frame_of(x, lapply(x$layers, layer_total_pairs, alpha,
                                        correction)),
             alpha = alpha, correction = correction,
             of_sample = !counts_people(x))
}

# Without weights a count is of respondents, not of people.
check_weighted <- function(x, call) {
  if (!is_weighted(x))
    stop_input(c(tells("totals_need_weights"),
                 i = tells("totals_weight_how")), "weight", call = call)
}
