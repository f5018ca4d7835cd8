#' Standardised percentages and means
#'
#' The percentages of a table as they would be if all its columns had the same
#' composition by a third question (direct standardisation): islands whose
#' residents differ in age are compared as if they did not. The third question
#' is the table's `each`. Beside them stand the crude ones, of the same people.
#' With q_ijk the share of answer i in column j and class k and S_k the standard,
#' s_ij = sum over k of S_k q_ijk; its variance follows the sample design, and
#' that of a standard which was itself estimated from the sample.
#'
#' @param x (crosstab) With `each`: the classes of the standard.
#' @param to ("total", a column of the table, or numbers named by the classes;
#'   default "total") The standard: the composition of everybody in the table,
#'   of one column, or given shares or numbers of people.
#' @param alpha,correction As in [crosstab()]; default those of the crosstab.
#'   Differences are corrected over the pairs of columns.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame, one row a cell (`down` is `NA` for the mean of scored
#'   answers): `down`, `across`, `n` (respondents), `crude`, `standardised`, `se`,
#'   `low`, `high` (shares 0-1; means in units of the score). Attributes: `pairs`,
#'   the differences of all pairs of columns (`down`, `first`, `second`,
#'   `difference`, `se`, `low`, `high`, `p`, `p_corrected`); `standard`, the
#'   classes and their shares (0-1); `undefined`, columns that have nobody in a
#'   class; `left_out`, records without a class.
#' @section Errors: `fairlattice_error_standard`: a table without classes, and
#'   numbers that are not one a class.
#' @references Fleiss JL, Levin B, Paik MC (2003) Statistical Methods for Rates
#'   and Proportions, 3rd ed., ch. 19.
#' @export
#' @examples
#' survey <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement)
#' survey <- band(survey, age, breaks = c(18, 35, 50, 65), into = "age_group")
#' standardised(crosstab(survey, down = leave, across = tenure, each = age_group))
standardised <- function(x, to = "total", alpha = NULL, correction = NULL, ...) {
  nothing_else(...)
  call <- environment()
  check_class(x, "fairlattice_crosstab", "x", "crosstab()", call)
  check_records_there(x, call)
  alpha <- alpha %||% x$choices$alpha
  correction <- correction %||% x$choices$correction
  check_fraction(alpha, "alpha", call)
  check_choice(correction, names(corrections), "correction", call)
  if (is.null(x$tally$each) || !has(x, "across", "adds_up"))
    stop_input(c(tells("standard_needs_each"), i = tells("standard_each_how")),
               "standard", call = call)
  if (identical(x$choices$explains, "down")) x <- flip(x)
  joint <- classes_joint(x)
  classes <- vapply(x$layers[joint$classes], function(layer) layer$each, "")
  first <- x$layers[[1L]]
  columns <- answers_across(first)[joint$columns]
  rows <- answers_down(first)[joint$rows]
  standard <- standard_asked(to, classes, columns, call)
  scores <- scores_shown(x$tally$down, answers_down(first))[joint$rows]
  found <- standardised_figures(joint, standard, alpha, correction, scores)
  A <- joint_array(joint, joint$e$P)
  share <- standard_of(matrix(colSums(A), joint$size[2L]), standard)$share
  n <- Reduce(`+`, lapply(x$layers, function(layer) layer$n))[joint$rows, joint$columns,
                                                              drop = FALSE]
  left <- account_in(x)$left_out
  odd <- columns_without_class(joint, standard)
  new_result(standardised_frame(found, rows, columns, n, alpha), "standardised",
             pairs = standardised_pairs_frame(found$pairs, rows, columns),
             standard = data.frame(class = classes, share = share),
             undefined = data.frame(across = columns[odd[, 1L]], class = classes[odd[, 2L]]),
             left_out = sum(left$records[left$question %in% x$tally$each$label]),
             by = x$tally$each$label, to = to_told(to), alpha = alpha,
             correction = correction, title = title_of_table(x))
}

# The same of tables that have no classes yet: of each that has columns of one answer a
# person.
standardised_along <- function(x, survey, by, to) {
  lapply(Filter(function(one) has(one, "across", "adds_up"), single_tables(x)),
         standardised_of, survey = survey, by = by, to = to)
}

standardised_of <- function(x, survey, by, to) {
  asked <- Filter(Negate(is.null), x$choices[c("explains", "alpha", "correction")])
  standardised(rlang::inject(crosstab(survey, down = !!x$tally$down$name,
                                      across = !!x$tally$across$name,
                                      each = !!by, !!!asked)), to)
}

to_told <- function(to) if (is.numeric(to)) "given" else if (to == "total") "total" else to

# The standard that is asked for: the classes' shares (`given`), the place of a column
# (`of`), or, with neither, everybody.
standard_asked <- function(to, classes, columns, call) {
  stop_standard <- function(...) stop_input(c(...), "standard", call = call)
  if (is.numeric(to)) {
    if (is.null(names(to)) || anyNA(to) || any(to < 0) || !any(to > 0))
      stop_standard(tells("standard_numbers"))
    off <- c(setdiff(names(to), classes), setdiff(classes, names(to)))
    if (length(off))
      stop_standard(tells("standard_one_a_class", off[1L]),
                    did_you_mean(off[1L], classes, "classes"))
    return(list(given = unname(as.numeric(to[classes]))))
  }
  if (identical(to, "total")) return(list())
  if (!is.character(to) || length(to) != 1L || !to %in% columns)
    stop_standard(tells("standard_no_column", as.character(to)[1L]),
                  did_you_mean(as.character(to)[1L], columns, "columns"))
  list(of = match(to, columns))
}

standardised_frame <- function(found, rows, columns, n, alpha) {
  shares <- found$shares
  se <- sqrt(shares$variance)
  known <- !is.na(se) & se > 1e-10 & shares$df >= 1
  interval <- logit_interval(shares$share, shares$variance, pmax(shares$df, 1), alpha)
  out <- list(down = rep(rows, length(columns)), across = rep(columns, each = length(rows)),
              n = as.vector(n), crude = shares$crude, standardised = shares$share,
              se = ifelse(known, se, NA_real_), low = ifelse(known, interval$low, NA_real_),
              high = ifelse(known, interval$high, NA_real_))
  means <- found$means
  if (!is.null(means)) {
    interval <- t_interval(list(value = means$mean, variance = means$variance,
                                df = means$df), alpha)
    out <- Map(c, out, c(list(rep(NA, length(columns)), columns, column_sums(n),
                              means$crude, means$mean), interval))
  }
  list2DF(out)
}

standardised_pairs_frame <- function(pairs, rows, columns) {
  if (is.null(pairs)) return(NULL)
  list2DF(c(list(down = c(rows, NA)[pairs$row], first = columns[pairs$first],
                 second = columns[pairs$second]),
            pairs[c("difference", "se", "low", "high", "p", "p_corrected")]))
}
