#' Check a table that somebody else made
#'
#' Works the figures out from the counts and says of each claim whether the
#' counts bear it out, to the digits it was printed with. Give claims as strings
#' to keep their digits ("0.050").
#'
#' @param x Counts in any shape that [crosstab_of_counts()] takes, or a
#'   crosstab.
#' @param statistic,df,p,v (string or number, default none) The claimed
#'   chi-square, degrees of freedom, p-value and Cramer's V. A claimed p may be
#'   "<0.001".
#' @param totals (TRUE or FALSE, default TRUE) As in [crosstab_of_counts()]; a
#'   total that does not add up is reported here.
#' @param percent ("column", "row" or "total", default none) What the
#'   percentages printed in the cells are claimed to be of.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame of class `fairlattice_recheck`: `claim`, `claimed`,
#'   `worked_out`, `holds` (TRUE or FALSE), `remark`; attribute `crosstab` has
#'   the table.
#' @section Errors: `fairlattice_error_counts` (the table cannot be read, with
#'   its place),
#'   `fairlattice_error_claim` (what is claimed is no number, or nothing like it
#'   can be worked out), `fairlattice_error_choice`.
#' @export
#' @examples
#' recheck("        Norrey     Tarn
#'   Satisfied  62 (66.7)  41 (41.4)
#'   Not        31 (33.3)  58 (58.6)", statistic = "12.2", df = "1", p = "<0.001", percent = "column")
recheck <- function(x, statistic = NULL, df = NULL, p = NULL, v = NULL,
                    percent = NULL, totals = TRUE, ...) {
  nothing_else(...)
  call <- environment()
  check_flag(totals, "totals", call)
  table <- if (inherits(x, "fairlattice_crosstab")) x else
    counts_to_check(x, !totals, call)
  if (!has(table, "records", "adds_up") || length(table$layers) > 1L) {
    stop_input(tells("x_counts_one_table_made"),
               "claim", call = call)
  }
  claims <- list(statistic = statistic, df = df, p = p, v = v)
  claims <- lapply(claims, function(claim) {
    if (is.numeric(claim)) number_text(claim) else claim
  })
  for (name in names(claims)) check_claim(claims[[name]], name, call)
  if (!is.null(percent))
    check_choice(percent, c("column", "row", "total"), "percent", call)
  rows <- c(totals_claims(attr(table, "totals")), figure_claims(claims, table),
            percent_claims(percent, table))
  data <- if (length(rows)) list2DF(columns_of(rows)) else
    data.frame(claim = character(), claimed = character(),
               worked_out = character(), holds = logical(),
               remark = character())
  class(data) <- c("fairlattice_recheck", "data.frame")
  attr(data, "crosstab") <- table
  data
}

# A table of counts whose totals may be wrong: that is what is to be found out.
counts_to_check <- function(x, keep_totals = FALSE, call = NULL) {
  read <- counts_of(x, call)
  counts_crosstab(read, read$down, read$across, !keep_totals, checked_choices(),
                  call, faulty = "report")
}

check_claim <- function(claim, name, call) {
  if (is.null(claim)) return(invisible())
  number <- if (is.character(claim))
    suppressWarnings(as.numeric(sub(",", ".", sub("^ *[<>]=? *", "", claim),
                                    fixed = TRUE))) else NA
  if (length(claim) != 1L || !is.finite(number))
    stop_input(tells("claimed_number_not", name, quote_value(claim)), "claim",
               call = call)
  most <- c(statistic = Inf, df = Inf, p = 1, v = 1)[[name]]
  if (number < 0 || number > most)
    stop_input(tells("claimed_not_no_table_such", name,
                     tells(if (is.finite(most)) "must_between_0_and_1" else
                             "must_from_0"),
                     quote_value(claim)), "claim", call = call)
}

# Whether `value` prints as `claimed` does. "<0.001" holds for anything smaller.
bears_out <- function(value, claimed) {
  claimed <- trimws(sub(",", ".", claimed, fixed = TRUE))
  bound <- substr(claimed, 1L, 1L)
  number <- as.numeric(sub("^[<>]=? *", "", claimed))
  if (bound == "<") return(value < number)
  if (bound == ">") return(value > number)
  # half a unit of the last printed digit, and the rounding of the calculation
  # itself
  abs(value - number) <=
    0.5 * 10^-printed_digits(claimed) + 1e-9 * max(1, abs(value))
}

claim_row <- function(claim, claimed, worked_out, holds,
                      remark = NA_character_) {
  list(claim = claim, claimed = claimed, worked_out = worked_out, holds = holds,
       remark = remark)
}

totals_claims <- function(totals) {
  lapply(seq_len(NROW(totals)), function(k) {
    one <- totals[k, ]
    claim_row(words("recheck_total", words("line_named", one$side, one$name),
                    one$of),
              format_count(one$printed), format_count(one$worked_out),
              one$printed == one$worked_out)
  })
}

# A claimed statistic may be one of several: the claim is held against each, and
# the remark says which it is.
figure_claims <- function(claims, table) {
  e <- table$layers[[1L]]$estimate
  claims <- Filter(Negate(is.null), claims)
  if (!length(claims)) return(NULL)
  if (!is.null(no_test_reason(table$layers[[1L]]))) {
    stop_input(tells("claims_cannot_checked",
                     in_words(no_test_reason(table$layers[[1L]]))), "claim",
               call = NULL)
  }
  d <- prod(dim(e$P) - 1)
  known <- c(pearson = pearson_statistic(e$P, e$n),
             likelihood_ratio = likelihood_statistic(e$P, e$n))
  if (all(dim(e$P) == 2L))
    known <- c(known, continuity_corrected = corrected_statistic(e$P, e$n))
  lapply(names(claims), function(name) {
    claimed <- claims[[name]]
    if (name == "df")
      return(claim_row(words("recheck_df"), claimed, format_df(d),
                       bears_out(d, claimed)))
    values <- switch(name, statistic = known,
                     v = sqrt(known[1L] / (e$n * least_side(e$P))),
                     p = stats::pchisq(known, d, lower.tail = FALSE))
    label <- switch(name, statistic = words("recheck_statistic"), p = "p",
                    v = name_of("measure", "cramers_v"))
    fits <- vapply(values, bears_out, NA, claimed = claimed)
    first <- if (any(fits)) which(fits)[1L] else 1L
    remark <- if (any(fits) && first > 1L)
      words("recheck_it_is", name_of("test", names(known)[first])) else
        NA_character_
    digits <- max(3L, printed_digits(sub("^[<>]=? *", "", claimed)))
    claim_row(label, claimed,
              if (name == "p" && values[first] < 0.001)
                in_house_style(format(values[first], digits = 3)) else
                format_number(values[first], digits), any(fits), remark)
  })
}

percent_claims <- function(percent, table) {
  printed <- attr(table, "printed")
  if (is.null(percent)) return(NULL)
  if (is.null(printed) || all(is.na(printed))) {
    return(list(claim_row(name_of("recheck_percentages", percent), "", "",
                          FALSE, words("recheck_no_percentages"))))
  }
  digits <- attr(table, "printed_digits")[rownames(printed), colnames(printed)]
  shares <- function(percent) {
    matrix(100 * layer_shares(table$layers[[1L]], percent, 0.05)$share,
           nrow(printed))
  }
  fits <- function(percent) {
    abs(shares(percent) - printed) <= 0.5 * 10^-digits + 1e-9
  }
  wrong <- which(!fits(percent) & !is.na(printed), arr.ind = TRUE)
  if (!nrow(wrong))
    return(list(claim_row(name_of("recheck_percentages", percent),
                          words("recheck_cells", sum(!is.na(printed))),
                          words("recheck_all_agree"), TRUE)))
  others <- Filter(function(other) all(fits(other) | is.na(printed)),
                   setdiff(c("column", "row", "total"), percent))
  remark <- if (length(others))
    words("recheck_they_are", name_of("recheck_percentages", others[1L])) else
    NA_character_
  worked <- shares(percent)
  lapply(seq_len(nrow(wrong)), function(k) {
    at <- wrong[k, , drop = FALSE]
    claim_row(words("recheck_cell", name_of("recheck_percentage", percent),
                    rownames(printed)[at[1L]], colnames(printed)[at[2L]]),
              format_number(printed[at], digits[at]),
              format_number(worked[at], digits[at]), FALSE, remark)
  })
}

#' Which counts could have given these percentages?
#'
#' From printed column percentages and the bases of the columns alone: which
#' whole counts could have given the rounded figures, how many such tables there
#' are, and the smallest and largest chi-square, p and V among them. A column
#' that no counts can give is named. Bounded: beyond `most` tables the extremes
#' come from a search, and the result says so.
#'
#' @param percent (numeric matrix) Printed column percentages, one column a
#'   base.
#' @param base (whole numbers) The base of each column.
#' @param digits (integer, default those of the figures) Decimals that the
#'   percentages were printed with.
#' @param most (number, default 1e5) Tables that are gone through one by one.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return List of class `fairlattice_counts`: `tables` (how many), `complete`
#'   (whether all were gone through), `statistic`, `p`, `v` (smallest and
#'   largest), `least` and `most` (the tables of the smallest and largest
#'   chi-square), `columns` (how many ways each column has), `impossible` (names
#'   of columns that no counts give). Units: p and V 0-1.
#' @section Errors: `fairlattice_error_percentages`, naming row and column.
#' @export
#' @examples
#' counts_from_percentages(cbind(Norrey = c(66.7, 33.3), Tarn = c(41.4, 58.6)),
#'                         base = c(93, 99), digits = 1)
counts_from_percentages <- function(percent, base, digits = NULL, most = 1e5,
                                    ...) {
  nothing_else(...)
  call <- environment()
  if (!is.matrix(percent) || !is.numeric(percent) || anyNA(percent) ||
        any(percent < 0 | percent > 100)) {
    stop_input(tells("percent_matrix_percentages_between_0"), "percentages",
               call = call)
  }
  if (!is.numeric(base) || length(base) != ncol(percent) ||
        any(is.na(base) | base < 1 | base != round(base))) {
    stop_input(tells("base_whole_numbers_one_column", ncol(percent)),
               "percentages", call = call)
  }
  if (any(base > most_base)) {
    stop_input(c(tells("base_too_large_go_through", format_count(max(base)),
                       format_count(most_base)),
                 i = tells("many_respondents_percentages_say_nearly")),
               "percentages", call = call)
  }
  check_number(most, "most", 1, 1e7, call)
  if (!is.null(digits)) check_number(digits, "digits", 0, 12, call)
  digits <- digits %||% max(printed_digits(number_text(percent)))
  colnames(percent) <-
    colnames(percent) %||% paste("column", seq_len(ncol(percent)))
  half_width <- 0.5 * 10^-digits + 1e-9
  low <- t(ceiling(t(percent - half_width) * base / 100 - 1e-9))
  high <- t(floor(t(percent + half_width) * base / 100 + 1e-9))
  low[] <- pmax(low, 0)
  ways <- vapply(seq_along(base), function(j) {
    compositions(low[, j], high[, j], base[j])
  }, 0)
  names(ways) <- colnames(percent)
  out <- list(tables = prod(ways), complete = TRUE, columns = ways,
              impossible = colnames(percent)[ways == 0], statistic = c(NA, NA),
              p = c(NA, NA), v = c(NA, NA))
  if (all(ways > 0))
    out[c("complete", "statistic", "p", "v", "least", "most")] <-
      extreme_tables(low, high, base, ways, most, dimnames(percent))
  structure(out, class = "fairlattice_counts")
}

most_base <- 1e6

# How many ways whole numbers within bounds add up to `total`: one convolution a
# cell.
compositions <- function(low, high, total) {
  if (any(low > high)) return(0)
  left <- total - sum(low)
  if (left < 0) return(0)
  ways <- c(1, numeric(left))
  for (room in high - low) {
    upto <- cumsum(ways)
    ways <- upto -
            c(rep(0, min(room + 1, left + 1)),
              utils::head(upto, max(0, left - room)))
  }
  ways[left + 1]
}

# All whole columns within bounds that add up to `total`, at most `most` of
# them.
all_columns <- function(low, high, total, most = Inf) {
  grow <- function(k, left) {
    if (k == length(low))
      return(if (left >= low[k] && left <= high[k]) list(left) else list())
    rest_low <- sum(low[-seq_len(k)])
    rest_high <- sum(high[-seq_len(k)])
    from <- max(low[k], left - rest_high)
    to <- min(high[k], left - rest_low)
    if (from > to) return(list())
    out <- list()
    for (value in from:to) {
      out <- c(out,
               lapply(grow(k + 1L, left - value), function(tail) {
                 c(value, tail)
               }))
      if (length(out) >= most) break
    }
    out
  }
  do.call(cbind, grow(1L, total))
}

extreme_tables <- function(low, high, base, ways, most, names) {
  columns <- lapply(seq_along(base), function(j) {
    all_columns(low[, j], high[, j], base[j], most)
  })
  sizes <- vapply(columns, ncol, 0L)
  statistic <- function(M) {
    M <- M[rowSums(M) > 0, , drop = FALSE]
    if (min(dim(M)) < 2L) 0 else pearson_statistic(M / sum(M), sum(M))
  }
  table_at <- function(pick) {
    vapply(seq_along(pick), function(j) columns[[j]][, pick[j]],
           numeric(nrow(low)))
  }
  complete <- prod(ways) <= most
  if (complete) {
    picks <- as.matrix(expand.grid(lapply(sizes, seq_len)))
    values <- apply(picks, 1L, function(pick) statistic(table_at(pick)))
    least <- picks[which.min(values), ]
    greatest <- picks[which.max(values), ]
  } else {
    least <- climb(sizes, function(pick) -statistic(table_at(pick)))
    greatest <- climb(sizes, function(pick) statistic(table_at(pick)))
  }
  tables <- lapply(list(least, greatest), function(pick) {
    matrix(table_at(pick), nrow(low), dimnames = names)
  })
  X2 <- vapply(tables, statistic, 0)
  shown <- vapply(tables, function(M) sum(rowSums(M) > 0), 0)
  d <- pmax(1, (shown - 1) * (length(base) - 1))
  list(complete, X2, rev(stats::pchisq(X2, d, lower.tail = FALSE)),
       sqrt(X2 / (sum(base) * pmax(1, pmin(shown, length(base)) - 1))),
       tables[[1L]], tables[[2L]])
}

# One column at a time to its best, from several starts, until nothing gets
# better.
climb <- function(sizes, score, starts = 5L, tries = 400L) {
  best <- NULL
  for (start in seq_len(starts)) {
    pick <- pmax(1L, round(sizes * (start - 0.5) / starts))
    value <- score(pick)
    repeat {
      before <- value
      for (j in seq_along(sizes)) {
        for (k in unique(
          round(seq(1, sizes[j], length.out = min(sizes[j], tries))))) {
          other <- replace(pick, j, k)
          score_other <- score(other)
          if (score_other > value) {
            pick <- other
            value <- score_other
          }
        }
      }
      if (value <= before) break
    }
    if (is.null(best) || value > best$value)
      best <- list(pick = pick, value = value)
  }
  best$pick
}
