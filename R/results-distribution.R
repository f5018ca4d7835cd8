#' Quantiles of a number
#'
#' Any quantile of a number (or of scored answers) in every column, with
#' intervals that hold where many people have the same value: all values whose
#' cumulative share does not differ from the quantile's by more than t standard
#' errors under the sample design (Francisco & Fuller 1991), or the share's
#' interval carried back to the values (Woodruff 1952).
#'
#' Such an interval ends at values that occur. Where most people round (an income
#' to the next thousand), it can be much too long, and a quantile jumps from one
#' round value to the next. With `class_width` the numbers are taken as grouped
#' data: in classes of this width round its multiples, within which people lie
#' evenly; quantiles and the ends of their intervals are interpolated.
#'
#' @param x (crosstab) Its question down a number or with scores: see [score()].
#' @param at (numbers between 0 and 100, default `c(10, 25, 50, 75, 90)`) Which
#'   quantiles, in percent.
#' @param interval ("francisco_fuller" or "woodruff", default
#'   "francisco_fuller") The interval.
#' @param class_width (number above 0, in the units of the number, default none) To
#'   what people round, such as 10 or 1000.
#' @param alpha (number in 0-1, default that of the crosstab) Intervals have
#'   confidence 1 - `alpha`.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame, one row a column (the last of all respondents) and
#'   quantile: `each`, `column`, `n`, `percent`, `value`, `low`, `high` (in the
#'   units of the number).
#' @section Errors: `fairlattice_error_score` for a question without scores,
#'   `fairlattice_error_quantiles`.
#' @references Francisco CA, Fuller WA (1991) Ann Statist 19:454-469. Woodruff
#'   RS (1952) J Amer Statist Assoc 47:635-646.
#' @export
#' @examples
#' survey <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement)
#' quantiles(crosstab(score(survey, age), down = age, across = tenure), at = c(10, 50, 90))
quantiles <- function(x, at = c(10, 25, 50, 75, 90),
                      interval = c("francisco_fuller", "woodruff"),
                      class_width = NULL, alpha = NULL, ...) {
  nothing_else(...)
  call <- environment()
  interval <- first_of(interval)
  check_choice(interval, c("francisco_fuller", "woodruff"), "interval", call)
  check_quantiles(at, call)
  if (!is.null(class_width)) check_class_width(class_width, call)
  rows <- number_rows(x, alpha, call, function(layer, scores, column, alpha) {
    lapply(at, function(percent) {
      c(list(percent = percent), if (is.null(class_width))
        quantile_figures(layer, scores, percent / 100, column, alpha,
                         interval == "woodruff") else
        grouped_quantile_figures(layer, scores, percent / 100, column, alpha,
                                 class_width, interval == "woodruff"))
    })
  })
  new_result(rows$frame, "quantiles", alpha = rows$alpha, label = rows$label,
             class_width = class_width, distribution = distribution_rows(x))
}

check_quantiles <- function(at, call) {
  if (!is.numeric(at) || !length(at) || anyNA(at) || any(at <= 0 | at >= 100))
    stop_input(tells("quantiles_between_0_100"), "quantiles", call = call)
}

check_class_width <- function(class_width, call) {
  wide <- is.numeric(class_width) && length(class_width) == 1L &&
          is.finite(class_width) && class_width > 0
  if (!wide)
    stop_input(tells("class_width_above_0", quote_value(class_width)), "quantiles",
               call = call)
}

# The weighted distribution in every column, for its figure.
distribution_rows <- function(x) {
  rows <- lapply(x$layers, function(layer) {
    scores <- scores_in(x, layer)
    columns <- if (has(x, "across")) seq_len(ncol(layer$n)) else integer()
    parts <- lapply(c(as.list(columns), list(NULL)), function(column) {
      found <- distribution_in(layer, scores, column)
      list2DF(list(each = rep(layer$each, length(found$values)),
                   column = rep(if (is.null(column)) words("line.all") else
                     answers_across(layer)[column], length(found$values)),
                   value = found$values, percent = 100 * cumsum(found$share)))
    })
    do.call(rbind, parts)
  })
  do.call(rbind, rows)
}

#' How unequal a number is
#'
#' The Gini coefficient of a number in every column, and the share of all of it
#' that those who have the most hold, with intervals under the sample design by
#' their influence (Langel & Tillé 2013).
#'
#' @param x (crosstab) Its question down a number: see [score()]. No value may
#'   be below 0.
#' @param top (numbers between 0 and 100, default 10) Of the people who have the
#'   most, in percent, how much they hold.
#' @param alpha (number in 0-1, default that of the crosstab) Intervals have
#'   confidence 1 - `alpha`.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame, one row a column (the last of all respondents) and
#'   figure: `each`, `column`, `n`, `figure` ("gini" or "top_10"), `estimate`
#'   (0-1), `se`, `low`, `high`.
#' @section Errors: `fairlattice_error_score` for a question without scores, and
#'   values below 0; `fairlattice_error_quantiles`.
#' @references Langel M, Tillé Y (2013) J R Statist Soc A 176:521-540.
#' @export
#' @examples
#' inequality(crosstab(score(demo_records(), age), down = age, across = island))
inequality <- function(x, top = 10, alpha = NULL, ...) {
  nothing_else(...)
  call <- environment()
  if (!is.numeric(top) || anyNA(top) || any(top <= 0 | top >= 100))
    stop_input(tells("quantiles_between_0_100"), "quantiles", call = call)
  names <- c("gini", if (length(top)) paste0("top_", format(top, trim = TRUE)))
  rows <- number_rows(x, alpha, call, function(layer, scores, column, alpha) {
    e <- layer$estimate
    if (any(scores < 0 & row_sums(layer$weighted) > 0))
      stop_input(tells("inequality_below_0"), "score", call = call)
    found <- estimated(e, inequality_figure(e, scores, column, top / 100))
    interval <- t_interval(found, alpha, e)
    lapply(seq_along(names), function(k) {
      c(list(figure = names[k], estimate = found$value[k]), lapply(interval, `[`, k))
    })
  })
  new_result(rows$frame, "inequality", alpha = rows$alpha, label = rows$label)
}

# Rows of every column of a table of a number, and of all; `of` gives lists of figures.
number_rows <- function(x, alpha, call, of) {
  check_class(x, "fairlattice_crosstab", "x", "crosstab()", call)
  check_records_there(x, call)
  alpha <- alpha %||% x$choices$alpha
  check_fraction(alpha, "alpha", call)
  if (is.null(scores_in(x, x$layers[[1L]])))
    stop_input(c(tells("no_scores_answers_not_averaged", facts_of(x)$down$label),
                 i = tells("say_what_count_score")), "score", call = call)
  rows <- lapply(x$layers, function(layer) {
    scores <- scores_in(x, layer)
    columns <- if (has(x, "across")) seq_len(ncol(layer$n)) else integer()
    in_columns <- lapply(columns, function(column) {
      lapply(of(layer, scores, column, alpha), function(one) {
        c(list(column = answers_across(layer)[column], n = sum(layer$n[, column])), one)
      })
    })
    of_all <- lapply(of(layer, scores, NULL, alpha), function(one) {
      c(list(column = words("line.all"), n = sum(layer$n)), one)
    })
    c(unlist(in_columns, recursive = FALSE), of_all)
  })
  list(frame = frame_of(x, rows), alpha = alpha, label = facts_of(x)$down$label)
}

#' Ratios of two numbers
#'
#' The ratio of the sums of two numbers in every column, such as income a member
#' of the household: sum(w y) / sum(w x), with its interval under the sample
#' design (linearised, or in every replicate), and the differences between
#' columns. People lacking either number are in none of the two sums.
#'
#' @param survey (survey or data frame) From [respondents()].
#' @param top,bottom (column names) The two numbers.
#' @param across (column name, default none) A ratio a column.
#' @param alpha (number in 0-1, default option `fairlattice.alpha`) Intervals
#'   have confidence 1 - `alpha`.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame, one row a column (the last of all respondents):
#'   `column`, `n`, `ratio`, `se`, `low`, `high`.
#' @section Errors: `fairlattice_error_score` for a column that is no number.
#' @references Cochran WG (1977) Sampling Techniques, 3rd ed., ch. 6.
#' @export
#' @examples
#' records <- demo_records()
#' records$members <- as.integer(records$household)
#' ratios(records, top = age, bottom = members, across = island)
ratios <- function(survey, top, bottom, across = NULL, alpha = NULL, ...) {
  nothing_else(...)
  call <- environment()
  survey <- as_survey(survey)
  alpha <- alpha %||% setting("alpha")
  check_fraction(alpha, "alpha", call)
  names <- c(column_named(named_by(top), survey$data, "top", call),
             column_named(named_by(bottom), survey$data, "bottom", call))
  across <- column_named(named_by(across), survey$data, "across", call)
  if (length(names) < 2L)
    stop_input(tells("ratio_needs_two_numbers"), "score", call = call)
  for (name in names) if (!is.numeric(numbers_alone(survey$data[[name]])))
    stop_input(tells("ratio_of_numbers", name), "score", call = call)
  labels <- mapply(title_of, survey$data[names], names)
  both <- "\rratio"
  made <- with_made(survey, both, names, function(columns, ...) {
    y <- numbers_alone(columns[[1L]])
    x <- numbers_alone(columns[[2L]])
    key <- ifelse(is.na(y) | is.na(x), NA, paste(number_text(y), number_text(x)))
    structure(factor(key), label = paste(labels, collapse = " / "), summed = TRUE)
  })
  tally <- if (is.null(across)) tally_alone(made, both, call) else
    tally_columns(made, both, across, NULL, call)
  layer <- add_estimates(layers_of(unclass(tally), FALSE)[[1L]], unclass(tally))
  numbers <- do.call(rbind, strsplit(answers_down(layer), " ", fixed = TRUE))
  y <- as.numeric(numbers[, 1L])
  x <- as.numeric(numbers[, 2L])
  e <- layer$estimate
  in_cells <- function(values) values[e$rows][row(e$P)]
  under <- cbind(if (!is.null(across)) cells_of_columns(e, e$columns),
                 cells_of_columns(e, NULL))
  found <- estimated(e, ratios_of(under * in_cells(y), under * in_cells(x)))
  n <- c(if (!is.null(across)) column_sums(layer$n)[e$columns], sum(layer$n))
  new_result(list2DF(c(list(
    column = c(if (!is.null(across)) answers_across(layer)[e$columns], words("line.all")),
    n = unname(n), ratio = found$value), t_interval(found, alpha, e))),
    "ratios", alpha = alpha, label = paste(labels, collapse = " / "))
}
