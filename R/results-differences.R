#' Which columns differ?
#'
#' Compares every pair of columns within a row (of rows within a column, when
#' percentages are of rows). Two-sided; corrected within the row. A column's
#' letter in a cell says that its figure exceeds the figure of the column with
#' that letter.
#'
#' z is the difference of the two shares over its standard error with the pooled
#' share, as in the two-proportion test; under a design that standard error, on
#' the weighted bases scaled to the respondents, is multiplied by the square
#' root of the difference's design effect: its variance on the covariance V over
#' its multinomial variance. p from t with the design's degrees of freedom. The
#' interval of a difference is Newcombe's hybrid score interval (1998) without a
#' design; under one it holds the differences that the same test, with the
#' shares most likely at that difference (Miettinen & Nurminen 1985), would not
#' reject, so that it leaves out 0 exactly when p is under the level. Columns of
#' fewer than `least_base` respondents are left out of the comparison and named.
#'
#' @param x (crosstab) From [crosstab()]; not of a tick-all question.
#' @param against ("each other", "rest", "total", "previous", "first", or an
#'   answer; default "each other") What a column is set against: all others, pair by
#'   pair; everybody outside of it; everybody, itself included, where the
#'   interval takes the covariance of part and whole into account and the test
#'   is that against the rest, whose null hypothesis is the same; the column
#'   before it, such as the wave before; the first column; or the column of one answer.
#' @param compare ("columns" or "rows"; default by the percentages of the
#'   crosstab) What is compared.
#' @param correction ("holm", "bonferroni" or "benjamini_hochberg", default that
#'   of the crosstab) Over the pairs of a row.
#' @param alpha (number in 0-1, default that of the crosstab) Level of the
#'   letters; intervals have confidence 1 - `alpha`, each for itself.
#' @param least_base (integer, default option `fairlattice.small_base`, 30)
#'   Respondents that a column must have.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame, one row a pair: `each`, `within` (the row), `first`,
#'   `second` (the columns), `first_share`, `second_share` (0-1), `difference`,
#'   `low`, `high`, `z`, `p`, `p_corrected`, `exceeds` ("first", "second" or
#'   ""), `note` (why a figure is missing), and with a `margin` (see
#'   [crosstab()]) `p_equivalent`, of two one-sided tests that the two shares
#'   differ by as much (Schuirmann 1987; not corrected). Attribute `letters`: data frame of
#'   `each`, `down`, `across`, `letters` per cell; (NULL unless `against` is
#'   "each other"); attribute `lettered` (`letter`, `answer`); attribute
#'   `left_out`: data frame of `each`, `answer`, `base`. Units: a difference
#'   and its interval are of shares (-1 to 1, not points), p-values 0-1.
#' @section Errors: `fairlattice_error_ticks`, `fairlattice_error_records_gone`,
#'   `fairlattice_error_too_many_cells`
#'   (more than a million pairs).
#' @references Newcombe RG (1998) Statist Med 17:873-890. Miettinen O, Nurminen
#'   M (1985) Statist Med 4:213-226. Farrington CP, Manning G (1990) Statist Med
#'   9:1447-1454. Schuirmann DJ (1987) J Pharmacokinet Biopharm 15:657-680.
#' @export
#' @examples
#' differences(crosstab(demo_records(), down = internet, across = tenure))
differences <- function(x, against = "each other", compare = NULL,
                        correction = NULL, alpha = NULL, least_base = NULL,
                        ...) {
  nothing_else(...)
  call <- environment()
  check_made(x, call, ticks = TRUE)
  compare <- compare %||% if (x$choices$percent == "row") "rows" else "columns"
  check_choice(compare, c("columns", "rows"), "compare", call)
  correction <- correction %||% x$choices$correction
  check_choice(correction, names(corrections), "correction", call)
  alpha <- alpha %||% x$choices$alpha
  check_fraction(alpha, "alpha", call)
  least_base <- least_base %||% setting("small_base")
  check_whole(least_base, "least_base", 0, call)
  check_pairs(dim(x$layers[[1L]]$n), compare, call)
  sides <- if (compare == "columns") c("down", "across") else
    c("across", "down")
  answers <- dimnames(x$layers[[1L]]$n)[[match(sides[2L], c("down", "across"))]]
  check_against(against, references_in(x, compare, answers), call)
  found <- lapply(x$layers, function(layer) {
    layer_differences(one_layer(x, layer), compare, correction, alpha,
                      least_base, against)
  })
  pairs <- frame_of_columns(x, found)
  if (against %in% c("rest", "total"))
    pairs$second <- rep(words(paste0("against.", against)), nrow(pairs))
  letters <- if (against == "each other")
    frame_of_columns(x,
                     Map(function(layer, pairs) {
                       c(cells_of_layer(layer),
                         list(letters = layer_letters(layer, pairs, compare)))
                     }, x$layers, found))
  new_result(pairs, "differences", letters = letters,
             lettered = data.frame(letter = letters_for(length(answers)),
                                   answer = answers),
             left_out = frame_of_columns(
               x, lapply(x$layers, layer_small_bases, compare, least_base)),
             against = against, compare = compare,
             labels = c(within = x$tally[[sides[1L]]]$label,
                        of = x$tally[[sides[2L]]]$label),
             layers = vapply(x$layers, function(layer) layer$each, ""),
             alpha = alpha, correction = correction, least_base = least_base,
             margin = x$choices$margin)
}

check_against <- function(against, answers, call) {
  if (is.character(against) && length(against) == 1L &&
        against %in% c(againsts, answers)) return(invisible())
  stop_input(c(tells("against_answer_not",
                     list_some(sprintf("\"%s\"", againsts)),
                     quote_value(against)),
               did_you_mean(against, c(againsts, answers), "answers")),
             "against", call = call)
}

check_pairs <- function(size, compare, call) {
  if (compare == "rows") size <- rev(size)
  pairs <- choose(size[2L], 2)
  if (size[1L] * pairs <= 1e6) return(invisible())
  stop_input(c(tells("pairs_lines_too_many_compare", format_count(pairs),
                     compare, format_count(size[1L])),
               i = tells("combine_answers_into_fewer_keep")), "too_many_cells",
             call = call)
}
