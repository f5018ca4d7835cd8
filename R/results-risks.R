#' Two columns, two rows: differences, ratios and odds
#'
#' For a 2x2 table, and for larger ones each column against a reference column,
#' the chance of one row (`outcome`) is compared:
#'
#' * `difference` of the two shares p1 - p2, with `low`/`high` (Newcombe 1998
#'   without a design; under one those that the test z would not reject, see
#'   [differences()]);
#' * `relative_risk` p1 / p2 and `odds_ratio` (p1/(1-p1)) / (p2/(1-p2)), plain
#'   and as `log_odds_ratio`, on the log scale (Woolf 1955; under a design the
#'   same with the variance of the log by its gradient on V, and t);
#' * `needed`: 1 / difference, the number of people among whom one more (or
#'   fewer) has the outcome; its interval is the reciprocal of the difference's,
#'   and runs through infinity when the difference can be 0;
#' * `odds_ratio_exact`: the conditional maximum likelihood odds ratio with its
#'   exact interval, margins fixed (Cornfield 1956), without a design only;
#' * `z` with the pooled share (times the root of the difference's design effect
#'   under a design), `p` two-sided, `p_more` and `p_fewer` one-sided.
#'
#' A zero cell leaves ratios without a Wald interval, and the note says so.
#'
#' @param x (crosstab) From [crosstab()]; not of a tick-all question.
#' @param outcome (string, default the first row) The row whose chance is
#'   compared. With `explains = "down"` rows and columns change places.
#' @param reference (string, default the last column) The column that the others
#'   are held against.
#' @param alpha (number in 0-1, default that of the crosstab) Intervals have
#'   confidence 1 - `alpha`.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame, one row a figure: `each`, `outcome`, `compared`,
#'   `reference`, `figure`, `estimate`, `se` (of the log for ratios), `low`,
#'   `high`, `note`; the figures being those above, and `share`,
#'   `share_reference`, `z`, `p`, `p_more`, `p_fewer`. Units: shares 0-1 and
#'   their differences -1 to 1 (not points), ratios 0 and up, p-values 0-1, and
#'   `needed` in respondents.
#' @section Errors: `fairlattice_error_answer`, `fairlattice_error_ticks`.
#' @references Woolf B (1955) Ann Hum Genet 19:251-253. Newcombe RG (1998)
#'   Statist Med 17:873-890. Cornfield J (1956) Proc Third Berkeley Symp
#'   4:135-148.
#' @export
#' @examples
#' survey <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement)
#' risks(crosstab(survey, down = leave, across = tenure), reference = "Owned outright")
risks <- function(x, outcome = NULL, reference = NULL, alpha = NULL, ...) {
  nothing_else(...)
  call <- environment()
  check_made(x, call)
  alpha <- alpha %||% x$choices$alpha
  check_fraction(alpha, "alpha", call)
  turn <- x$choices$explains == "down"
  names <- dimnames(x$layers[[1L]]$n)
  sums <- lapply(c("down", "across"), function(side) {
    Reduce(`+`, lapply(x$layers, function(layer) layer$margins[[side]]$n))
  })
  if (turn) {
    names <- rev(names)
    sums <- rev(sums)
  }
  check_answer(outcome, names[[1L]], "outcome", call)
  check_answer(reference, names[[2L]], "reference", call)
  seen <- Map(function(names, sums) names[sums > 0], names, sums)
  outcome <- outcome %||% seen[[1L]][1L]
  reference <- reference %||% seen[[2L]][length(seen[[2L]])]
  compared <- setdiff(seen[[2L]], reference)
  if (!length(compared)) compared <- reference # nothing to compare: said in one row
  new_result(frame_of(x,
                      lapply(x$layers, layer_risks, outcome, compared,
                             reference, turn, alpha)), "risks", alpha = alpha)
}

check_answer <- function(given, answers, arg, call) {
  if (is.null(given)) return()
  if (!is.character(given) || length(given) != 1L || !given %in% answers) {
    stop_input(c(tells("answer_table_not", arg, quote_value(given)),
                 did_you_mean(given, answers, "answers")), "answer",
               call = call)
  }
}
