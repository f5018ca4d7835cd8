# Columns against columns within a row (rows against rows within a column): differences of shares, their tests, letters
# and marks. Written for columns; of rows the table is turned.

# What a column is set against: all others in pairs ("each other"), the one before it ("previous"), everybody outside of
# it ("rest"), everybody ("total"), or a column of that name.
againsts <- c("each other", "rest", "total", "previous")

# A column a pair: within, first, second (answers, or "rest" and "total"), first_share, second_share, difference, low,
# high, z, p, p_corrected, exceeds ("first", "second" or ""), note. `x` is of one layer; columns of fewer than
# `least_base` respondents are left out.
layer_differences <- function(x, compare, correction, alpha, least_base, against = "each other") {
  layer <- x$layers[[1L]]
  none <- list(within = character(), first = character(), second = character(), first_share = numeric(),
               second_share = numeric(), difference = numeric(), low = numeric(), high = numeric(), z = numeric(),
               p = numeric(), p_corrected = numeric(), exceeds = character(), note = list())
  if (!is.null(no_test_reason(layer))) return(none)
  of <- turned_estimate(layer, compare)
  able <- which(of$n >= least_base)
  pairs <- if (against %in% c("rest", "total")) as.list(able) else pairs_against(able, colnames(of$P), against)
  if (!length(pairs)) return(none)
  compared <- if (is.list(pairs)) columns_to_rest(x, of, able, compare, alpha, least_base, against) else
    columns_to_columns(of, pairs, alpha)
  if (is.null(compared)) return(none)
  rows <- lapply(seq_len(nrow(of$P)), function(i) {
    d <- compared[[i]]
    d$p_corrected <- correct(d$p, correction)
    found <- !is.na(d$p_corrected) & d$p_corrected <= alpha
    d$exceeds <- ifelse(!found, "", ifelse(d$difference > 0, "first", "second"))
    d$within <- rep(rownames(of$P)[i], length(d$p))
    d[names(none)]
  })
  stats::setNames(lapply(names(none), function(name) do.call(c, lapply(rows, `[[`, name))), names(none))
}

# The estimate of a layer with what is compared in its columns: proportions P, their places in the estimate, bases.
turned_estimate <- function(layer, compare) {
  e <- layer$estimate
  place <- matrix(seq_along(e$P), nrow(e$P))
  if (compare == "columns") return(list(e = e, P = e$P, place = place, n = layer$margins$across$n[e$columns]))
  list(e = e, P = t(e$P), place = t(place), n = layer$margins$down$n[e$rows])
}

# Pairs of columns, the first against the second.
pairs_against <- function(able, names, against) {
  if (against == "each other") return(if (length(able) > 1L) utils::combn(able, 2L))
  if (against == "previous") {
    now <- able[(able - 1L) %in% able]
    return(if (length(now)) rbind(now, now - 1L))
  }
  reference <- match(against, names)
  others <- setdiff(able, reference)
  if (reference %in% able && length(others)) rbind(others, reference)
}

# Per row of the table the differences of all pairs.
columns_to_columns <- function(of, pairs, alpha) {
  rows <- seq_len(nrow(of$P))
  shares <- lapply(rows, function(i) pair_shares(of$e, of$P, of$place, i, pairs, of$n))
  differences_by_row(shares, of$e, alpha, colnames(of$P)[pairs[1L, ]], colnames(of$P)[pairs[2L, ]])
}

# Every column against everybody outside of it. Against the total, of which it is a part, the difference is the same
# times the share of the others, and the null hypothesis is the same: z and p are those against the rest, and the
# interval takes the covariance of part and whole.
columns_to_rest <- function(x, of, able, compare, alpha, least_base, against) {
  side <- if (compare == "columns") "across" else "down"
  parts <- lapply(able, function(j) turned_estimate(net_table(x, side, colnames(of$P)[j])$layers[[1L]], compare))
  there <- which(vapply(parts, function(part) ncol(part$P) == 2L && part$n[2L] >= least_base, NA))
  if (!length(there)) return(NULL)
  rows <- seq_len(nrow(of$P))
  shares <- lapply(rows, function(i) {
    bind_columns(lapply(parts[there], function(part) pair_shares(part$e, part$P, part$place, i, matrix(1:2), part$n)))
  })
  found <- differences_by_row(shares, of$e, alpha, colnames(of$P)[able[there]], rep(against, length(there)))
  if (against == "rest") found else lapply(rows, function(i) to_total(found[[i]], of, i, able[there], alpha))
}

# The differences of all rows at once, since an interval is a search; then row by row.
differences_by_row <- function(shares, e, alpha, first, second) {
  all <- bind_columns(shares)
  found <- c(all[c("first_share", "second_share")],
             difference_of(all$first_share, all$first_base, all$second_share, all$second_base, all$effect, e, alpha))
  pairs <- length(first)
  lapply(seq_along(shares), function(i) {
    c(lapply(found, `[`, (i - 1L) * pairs + seq_len(pairs)), list(first = first, second = second))
  })
}

bind_columns <- function(rows) {
  names <- names(rows[[1L]])
  stats::setNames(lapply(names, function(name) unlist(lapply(rows, `[[`, name), use.names = FALSE)), names)
}

# The gradient of p_ij / p_.j - p_i.: (1[row i] - q) / p_.j in column j, less 1[row i].
to_total <- function(d, of, i, columns, alpha) {
  total <- sum(of$P[i, ])
  in_row <- as.numeric(row(of$P) == i)
  G <- vapply(seq_along(columns), function(k) {
    here <- col(of$P) == columns[k]
    replace(numeric(length(of$P)), of$place, here * (in_row - d$first_share[k]) / sum(of$P[here]) - in_row)
  }, numeric(length(of$P)))
  reach <- t_reach(alpha, of$e$df) * sqrt(variance_of(of$e, G))
  d$second_share <- rep(total, length(columns))
  d$difference <- d$first_share - total
  d[c("low", "high")] <- list(d$difference - reach, d$difference + reach)
  d
}

# Per cell, down the columns of a table, whether its share is higher or lower than that which it is set against, and by
# how much: mark, difference, low, high. Kept with the layer, since a table may show them all.
layer_marks_against <- function(x, compare, correction, alpha, least_base, against) {
  once(x$layers[[1L]]$kept, "marks against", list(compare, correction, alpha, least_base, against),
       marks_from_pairs(x$layers[[1L]], compare,
                        layer_differences(x, compare, correction, alpha, least_base, against)))
}

marks_from_pairs <- function(layer, compare, pairs) {
  cells <- cells_of_layer(layer)
  if (compare == "rows") names(cells) <- rev(names(cells))
  at <- match(paste(cells$down, cells$across, sep = "\r"), paste(pairs$within, pairs$first, sep = "\r"))
  mark <- c(first = "higher", second = "lower")[pairs$exceeds[at]]
  list(mark = unname(ifelse(is.na(mark), "", mark)), difference = pairs$difference[at], low = pairs$low[at],
       high = pairs$high[at])
}

# Shares of row i in the columns of each pair, their bases, and the design effect of the difference.
pair_shares <- function(e, P, place, i, pairs, n) {
  base <- colSums(P)
  q <- unname(P[i, ] / base)
  a <- pairs[1L, ]
  b <- pairs[2L, ]
  effect <- rep(1, length(a))
  if (e$by_design) {
    # gradient of a share: (1[cell] - q) / base in its column
    G <- matrix(0, length(P), ncol(P))
    for (k in seq_along(q)) G[place[, k], k] <- ((seq_len(nrow(P)) == i) - q[k]) / base[k]
    of_pairs <- function(V) pmax(0, diag(V)[a] + diag(V)[b] - 2 * V[cbind(a, b)])
    effect <- difference_effect(of_pairs(covariance_of(e, G)), of_pairs(covariance_of(multinomial(e$P, e$n), G)))
    n <- e$n * base
  }
  list(first_share = q[a], second_share = q[b], first_base = unname(n[a]), second_base = unname(n[b]), effect = effect)
}

# The design variance of a difference over its multinomial one; NA where there is none.
difference_effect <- function(designed, plain) ifelse(plain > 1e-14 & designed > 0, designed / plain, NA_real_)

# A difference of two shares: z over its standard error with the pooled share, times the root of its design effect, p
# from t, and the interval. Under a design the bases n are the weighted ones on the scale of the respondents, as they
# are in the variances that the design effect is a ratio of.
difference_of <- function(p1, n1, p2, n2, effect, e, alpha) {
  pooled <- (p1 * n1 + p2 * n2) / (n1 + n2)
  se <- sqrt(effect * pooled * (1 - pooled) * (1 / n1 + 1 / n2))
  if (e$df < 1) se <- NA_real_ * se
  flat <- is.na(se) | se <= 1e-12
  z <- ifelse(flat, NA_real_, (p1 - p2) / se)
  interval <- if (e$by_design) score_interval(p1, n1, p2, n2, t_reach(alpha, e$df), effect) else
    newcombe_interval(p1, n1, p2, n2, alpha)
  note <- vector("list", length(z))
  note[flat & pooled %in% c(0, 1)] <- list(said("all_or_none_in_both"))
  note[flat & !pooled %in% c(0, 1)] <- list(said("no_variance_by_design"))
  list(difference = p1 - p2, low = interval$low, high = interval$high, z = z, p = two_sided(z, e$df), note = note)
}

# a, b, ..., z, aa, ab, ...
letters_for <- function(n) utils::head(c(letters, outer(letters, letters, function(x, y) paste0(y, x))), n)

# Per cell (down its columns) the letters of the columns (rows) that its figure exceeds.
# Letters begin after those of `before` other columns.
layer_letters <- function(layer, pairs, compare, before = 0L) {
  columns <- compare == "columns"
  cells <- cells_of_layer(layer)
  within <- if (columns) cells$down else cells$across
  own <- if (columns) cells$across else cells$down
  answers <- if (columns) answers_across(layer) else answers_down(layer)
  first <- pairs$exceeds == "first"
  found <- pairs$exceeds != ""
  greater <- ifelse(first, pairs$first, pairs$second)[found]
  lesser <- ifelse(first, pairs$second, pairs$first)[found]
  vapply(seq_along(own), function(k) {
    beaten <- lesser[pairs$within[found] == within[k] & greater == own[k]]
    paste(letters_for(before + length(answers))[before + which(answers %in% beaten)], collapse = " ")
  }, "")
}

# Columns (rows) whose base is too small to be compared: answer and base.
layer_small_bases <- function(layer, compare, least_base) {
  base <- layer$margins[[if (compare == "columns") "across" else "down"]]$n
  answers <- if (compare == "columns") answers_across(layer) else answers_down(layer)
  small <- base < least_base & base > 0
  list(answer = answers[small], base = base[small])
}
