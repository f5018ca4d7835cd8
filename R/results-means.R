#' Means by column
#'
#' Mean, standard deviation and quartiles of a scored question or a number in
#' every column, with a test that the means are equal and every pair of columns.
#' A mean is a ratio of weighted sums; under a design its variance is that of
#' its linearised scores, its interval t with the design's degrees of freedom,
#' and the test the second-order F of the contrasts of the means (Rao & Scott
#' 1984), with the degrees of freedom of the column of fewest clusters. Without a
#' design it is the textbook's: s / root n, t on n - 1, and Welch's (1951) test.
#' The median's interval is Woodruff's (1952). Pairs
#' are corrected over all of them.
#'
#' @param x (crosstab) From [crosstab()], its question down with scores: see
#'   [score()].
#' @param alpha,correction As in [crosstab()]; default those of the crosstab.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame, one row a column (the last of all respondents): `each`,
#'   `column`, `n`, `weighted`, `mean`, `se`, `low`, `high`, `sd`, `q1`,
#'   `median`, `q3`, `median_low`, `median_high`. Attribute `tests`: data frame
#'   as [tests()] gives it; attribute `pairs`: data frame of `each`, `first`,
#'   `second`, `first_mean`, `second_mean`, `difference`, `low`, `high`, `p`,
#'   `p_corrected`, `exceeds`. Units: everything but `n`, `weighted` and the
#'   p-values (0-1) is in the units of the scores.
#' @section Errors: `fairlattice_error_score` for a question without scores.
#' @references Rao JNK, Scott AJ (1984) Ann Statist 12:46-60. Welch BL
#'   (1951) Biometrika 38:330-336. Woodruff RS (1952) J Amer Statist Assoc
#'   47:635-646.
#' @export
#' @examples
#' means(crosstab(score(demo_records(), ferry), down = ferry, across = island))
means <- function(x, alpha = NULL, correction = NULL, ...) {
  nothing_else(...)
  call <- environment()
  check_class(x, "fairlattice_crosstab", "x", "crosstab()", call)
  statements <- has(x, "statements")
  x <- means_table(x)
  if (is.null(scores_in(x, x$layers[[1L]]))) {
    stop_input(c(tells("no_scores_answers_not_averaged",
                       facts_of(x)$down$label),
                 i = tells("say_what_count_score")), "score", call = call)
  }
  alpha <- alpha %||% x$choices$alpha
  correction <- correction %||% x$choices$correction
  check_fraction(alpha, "alpha", call)
  check_choice(correction, names(corrections), "correction", call)
  rows <- lapply(x$layers, function(layer) {
    scores <- scores_in(x, layer)
    columns <- if (!has(x, "across")) list() else
      as.list(seq_len(ncol(layer$n)))
    names <- if (length(columns)) answers_across(layer)
    if (!statements) { # which have no mean of all
      columns <- c(columns, list(NULL))
      names <- c(names, words("line.all"))
    }
    Map(function(column, name) {
      c(list(column = name), layer_summary(layer, scores, column, alpha))
    }, columns, names)
  })
  one <- function(layer) {
    test <- if (has(x, "across")) layer_means_test(layer, scores_in(x, layer))
    if (!is.null(test)) list(test)
  }
  pairs <- lapply(x$layers, function(layer) {
    if (has(x, "across"))
      layer_mean_differences(layer, scores_in(x, layer), alpha, correction,
                             headings_of(x, "columns", answers_across(layer))$outer)
  })
  new_result(frame_of(x, rows), "means",
             tests = frame_of(x, lapply(x$layers, one)),
             pairs = frame_of(x, pairs), correction = correction, alpha = alpha)
}
