#' Is the sample like the population?
#'
#' One question against given shares (goodness of fit), with a residual per
#' answer. Without weights or a design: X2 = n sum (p_i - q_i)^2 / q_i and G2 =
#' 2n sum p_i ln(p_i / q_i) on r - 1 degrees of freedom. With them the headline
#' is the second-order Rao-Scott test with the one-way design effects: their sum
#' is n sum V_ii / q_i, their sum of squares n^2 sum V_ij^2 / (q_i q_j).
#' Residuals are (p_i - q_i) over their multinomial standard error at q, under a
#' design times the root of the design effect of p_i; two-sided, and corrected
#' over the answers.
#'
#' @param survey (survey or data frame) From [respondents()].
#' @param question (column name, see [fairlattice]) Which question.
#' @param against ("equal", or a named numeric vector, default "equal") The
#'   shares to hold it against, one an answer, that add up to 1 or 100.
#' @param alpha,correction As in [crosstab()].
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return List of class `fairlattice_goodness`: `tests` (as [tests()] gives
#'   them), `answers` (data frame: `answer`, `n`, `share`, `low`, `high`,
#'   `against`, `residual`, `p`, `p_corrected`, `mark`), `left_out`. Units:
#'   shares and their intervals 0-1, residuals in standard errors, p-values 0-1.
#' @references Rao JNK, Scott AJ (1981) J Amer Statist Assoc 76:221-230.
#' @section Errors: `fairlattice_error_column_name`,
#'   `fairlattice_error_no_column`, `fairlattice_error_against`
#'   (shares that do not fit the answers, or do not add up),
#'   `fairlattice_error_nobody`.
#' @export
#' @examples
#' survey <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement)
#' test_shares(survey, season, against = c(Spring = 25, Summer = 40, Autumn = 25, Winter = 10))
test_shares <- function(survey, question, against = "equal", alpha = NULL,
                        correction = NULL, ...) {
  nothing_else(...)
  call <- environment()
  survey <- as_survey(survey)
  name <- column_named(named_by(question), survey$data, "question", call)
  if (is.null(name))
    stop_input(tells("question_name_question"), "column_name", call = call)
  alpha <- alpha %||% setting("alpha")
  correction <- correction %||% setting("correction")
  check_fraction(alpha, "alpha", call)
  check_choice(correction, names(corrections), "correction", call)
  tally <- tally_alone(survey, name, call)
  layer <- add_estimates(layers_of(tally, TRUE)[[1L]], tally)
  if (is.null(layer$estimate))
    stop_input(tells("nobody_answered_question"), "nobody", call = call)
  q <- shares_against(against, rownames(layer$n), layer, "against", call)
  p <- layer$weighted[, 1L] / layer$base$weighted
  found <- goodness_residuals(p, q, layer, correction, alpha)
  shares <- shares_as_tested(layer_shares(layer, "total", alpha), q, found, alpha,
                             layer$estimate)
  answers <- list2DF(c(list(answer = rownames(layer$n),
                            n = unname(layer$n[, 1L]), share = unname(p),
                            low = shares$low, high = shares$high, against = q),
                       lapply(found[c("residual", "p", "p_corrected", "mark")],
                              unname)))
  tests <- list2DF(columns_in_words(goodness_tests(p, q, layer)))
  structure(list(title = tally$down$label, weight = survey$roles$weight,
                 alpha = alpha, tests = new_result(tests, "tests"),
                 answers = answers,
                 left_out = reasons_frame(account_of(tally)$left_out)),
            class = "fairlattice_goodness")
}

# Reasons in words, and how many records were left out for each.
reasons_frame <- function(left) {
  list2DF(list(reason = left_out_words(left), records = left$records))
}
