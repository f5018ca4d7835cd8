#' Which columns differ?
#'
#' Compares every pair of columns within a row (of rows within a column, when percentages are of rows). Two-sided;
#' corrected within the row. A column's letter in a cell says that its figure exceeds the figure of the column with
#' that letter.
#'
#' z is the difference of the two shares over its standard error with the pooled share, as in the two-proportion test;
#' under a design that standard error is multiplied by the square root of the difference's design effect: its variance
#' on the covariance V over its multinomial variance. p from t with the design's degrees of freedom. The interval of a
#' difference is Newcombe's hybrid score interval (1998) without a design and Wald's on V, with t, under one. Columns
#' of fewer than `least_base` respondents are left out of the comparison and named.
#'
#' @param x (lattice) From [lattice()]; not of a tick-all question.
#' @param compare ("columns" or "rows"; default by the percentages of the lattice) What is compared.
#' @param correction ("holm", "bonferroni" or "benjamini_hochberg", default that of the lattice) Over the pairs of a
#'   row.
#' @param alpha (number in 0-1, default that of the lattice) Level of the letters; intervals have confidence 1 -
#'   `alpha`, each for itself.
#' @param least_base (integer, default option `fairlattice.small_base`, 30) Respondents that a column must have.
#' @param ... Nothing: what is put here is an error, with the nearest argument's name.
#' @return Data frame, one row a pair: `each`, `within` (the row), `first`, `second` (the columns), `first_share`,
#'   `second_share` (0-1), `difference`, `low`, `high`, `z`, `p`, `p_corrected`, `exceeds` ("first", "second" or ""),
#'   `note` (why a figure is missing). Attribute `letters`: data frame of `each`, `down`, `across`, `letters` per cell;
#'   attribute `names`' letters: `lettered` (`letter`, `answer`); attribute `left_out`: data frame of `each`, `answer`,
#'   `base`.
#' @section Errors: `fairlattice_error_ticks`, `fairlattice_error_records_gone`, `fairlattice_error_too_many_cells`
#'   (more than a million pairs).
#' @references Newcombe RG (1998) Statist Med 17:873-890.
#' @export
#' @examples
#' differences(lattice(demo_records(), down = internet, across = tenure))
differences <- function(x, compare = NULL, correction = NULL, alpha = NULL, least_base = NULL, ...) {
  nothing_else(...)
  call <- environment()
  check_made(x, call)
  compare <- compare %||% if (x$choices$percent == "row") "rows" else "columns"
  check_choice(compare, c("columns", "rows"), "compare", call)
  correction <- correction %||% x$choices$correction
  check_choice(correction, names(corrections), "correction", call)
  alpha <- alpha %||% x$choices$alpha
  check_fraction(alpha, "alpha", call)
  least_base <- least_base %||% setting("small_base")
  check_whole(least_base, "least_base", 0, call)
  size <- dim(x$layers[[1L]]$n)
  if (compare == "rows") size <- rev(size)
  if (size[1L] * choose(size[2L], 2) > 1e6) {
    stop_input(c(sprintf("%s pairs of %s in %s lines are too many to compare.", format_count(choose(size[2L], 2)),
                         compare, format_count(size[1L])),
                 i = "Join answers into fewer, or keep fewer with among()."), "too_many_cells", call = call)
  }
  pairs <- over_layers(x$layers, layer_differences, compare = compare, correction = correction, alpha = alpha,
                       least_base = least_base)
  sides <- if (compare == "columns") c("down", "across") else c("across", "down")
  answers <- dimnames(x$layers[[1L]]$n)[[match(sides[2L], c("down", "across"))]]
  lettered <- data.frame(letter = letters_for(length(answers)), answer = answers)
  left_out <- over_layers(x$layers, function(layer) {
    base <- stats::setNames(margin_of(layer, sides[2L])$n, answers)
    small <- base < least_base & base > 0
    data.frame(answer = answers[small], base = unname(base[small]))
  })
  structure(as_findings(pairs, "differences"), letters = letters_of(pairs, x, lettered, sides), lettered = lettered,
            left_out = left_out, compare = compare,
            labels = c(within = x$tally[[sides[1L]]]$label, of = x$tally[[sides[2L]]]$label), alpha = alpha,
            correction = correction, least_base = least_base)
}

# A lattice made from records or counts, of one answer a person.
check_made <- function(x, call) {
  check_class(x, "fairlattice_lattice", "x", "lattice()", call)
  if (is.null(x$tally)) {
    stop_input(c("This table was read from a file, and its records are gone.",
                 i = "Make it from the records with lattice()."), "records_gone", call = call)
  }
  if (any(ticks_in(x$tally))) {
    stop_input(c("A tick-all question has no such figures: one person ticks several items.",
                 i = "test_items() tests it item by item."), "ticks", call = call)
  }
}

# a, b, ..., z, aa, ab, ...
letters_for <- function(n) utils::head(c(letters, outer(letters, letters, function(x, y) paste0(y, x))), n)

layer_differences <- function(layer, compare, correction, alpha, least_base) {
  none <- list(within = character(), first = character(), second = character(), first_share = numeric(),
               second_share = numeric(),
               difference = numeric(), low = numeric(), high = numeric(), z = numeric(), p = numeric(),
               p_corrected = numeric(), exceeds = character(), note = character())
  e <- layer$estimate
  if (!is.null(no_test_reason(layer))) return(list2DF(none))
  turn <- compare == "rows"
  P <- if (turn) t(e$P) else e$P
  place <- if (turn) t(matrix(seq_along(e$P), nrow(e$P))) else matrix(seq_along(e$P), nrow(e$P))
  n <- if (turn) rowSums(layer$n)[e$rows] else colSums(layer$n)[e$columns]
  able <- which(n >= least_base)
  if (length(able) < 2L) return(list2DF(none))
  pairs <- utils::combn(able, 2L)
  rows <- lapply(seq_len(nrow(P)), function(i) {
    d <- compare_shares(e, P, place, i, pairs, n, alpha)
    corrected <- correct(d$p, correction)
    found <- !is.na(corrected) & corrected <= alpha
    c(list(within = rep(rownames(P)[i], ncol(pairs)), first = colnames(P)[pairs[1L, ]],
           second = colnames(P)[pairs[2L, ]]), d[1:7], list(
      p_corrected = corrected, exceeds = ifelse(!found, "", ifelse(d$difference > 0, "first", "second")),
      note = d$note))
  })
  names <- names(none)
  list2DF(stats::setNames(lapply(names, function(name) unlist(lapply(rows, `[[`, name), use.names = FALSE)), names))
}

# Shares of row i in the columns of each pair: difference, interval, z and p.
compare_shares <- function(e, P, place, i, pairs, n, alpha) {
  base <- colSums(P)
  q <- P[i, ] / base
  a <- pairs[1L, ]
  b <- pairs[2L, ]
  difference <- q[a] - q[b]
  pooled <- (q[a] * n[a] + q[b] * n[b]) / (n[a] + n[b])
  se <- sqrt(pooled * (1 - pooled) * (1 / n[a] + 1 / n[b]))
  if (!e$by_design) {
    interval <- newcombe_interval(q[a], n[a], q[b], n[b], alpha)
  } else {
    # gradient of a share: (1[cell] - q) / base in its column
    G <- matrix(0, length(P), ncol(P))
    for (k in seq_along(q)) G[place[, k], k] <- ((seq_len(nrow(P)) == i) - q[k]) / base[k]
    of_pairs <- function(V) pmax(0, diag(V)[a] + diag(V)[b] - 2 * V[cbind(a, b)])
    designed <- of_pairs(covariance_of(e, G))
    plain <- of_pairs(covariance_of(multinomial(e$P, e$n), G))
    se <- ifelse(plain > 1e-14, se * sqrt(designed / plain), NA_real_)
    reach <- if (e$df >= 1) stats::qt(1 - alpha / 2, e$df) * sqrt(designed) else NA_real_
    interval <- list(low = pmax(-1, difference - reach), high = pmin(1, difference + reach))
  }
  flat <- is.na(se) | se <= 1e-12
  z <- ifelse(flat, NA_real_, difference / se)
  note <- ifelse(!flat, NA_character_,
                 ifelse(pooled %in% c(0, 1), "nobody or everybody here, in both", "no variance under the design"))
  p <- if (e$df >= 1) 2 * stats::pt(-abs(z), e$df) else rep(NA_real_, length(z))
  list(first_share = unname(q[a]), second_share = unname(q[b]), difference = unname(difference),
       low = unname(interval$low), high = unname(interval$high),
       z = unname(z), p = unname(p), note = unname(note))
}

# Newcombe (1998), method 10: the distances of Wilson's limits, added in squares.
newcombe_interval <- function(p1, n1, p2, n2, alpha) {
  one <- wilson_interval(p1, n1, alpha)
  two <- wilson_interval(p2, n2, alpha)
  d <- p1 - p2
  list(low = d - sqrt((p1 - one$low)^2 + (two$high - p2)^2), high = d + sqrt((one$high - p1)^2 + (p2 - two$low)^2))
}

# Per cell the letters of the columns that its figure exceeds.
letters_of <- function(pairs, x, lettered, sides) {
  over_layers(x$layers, function(layer) {
    cells <- list(rep(rownames(layer$n), ncol(layer$n)), rep(colnames(layer$n), each = nrow(layer$n)))
    names(cells) <- c("down", "across")
    here <- pairs[pairs$each %in% layer$each & pairs$exceeds != "", ]
    greater <- ifelse(here$exceeds == "first", here$first, here$second)
    lesser <- ifelse(here$exceeds == "first", here$second, here$first)
    cells$letters <- vapply(seq_along(cells$down), function(k) {
      beaten <- lesser[here$within == cells[[sides[1L]]][k] & greater == cells[[sides[2L]]][k]]
      paste(lettered$letter[lettered$answer %in% beaten], collapse = " ")
    }, "")
    list2DF(cells)
  })
}
