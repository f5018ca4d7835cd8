# Pairs of columns within a row (of rows within a column): differences of shares, their tests, and the letters.

# A column a pair: within, first, second (answers), first_share, second_share, difference, low, high, z, p, p_corrected,
# exceeds ("first", "second" or ""), note. `compare` is "columns" or "rows"; columns of fewer than `least_base`
# respondents are left out.
layer_differences <- function(layer, compare, correction, alpha, least_base) {
  none <- list(within = character(), first = character(), second = character(), first_share = numeric(),
               second_share = numeric(), difference = numeric(), low = numeric(), high = numeric(), z = numeric(),
               p = numeric(), p_corrected = numeric(), exceeds = character(), note = list())
  e <- layer$estimate
  if (!is.null(no_test_reason(layer))) return(none)
  turn <- compare == "rows"
  P <- if (turn) t(e$P) else e$P
  place <- matrix(seq_along(e$P), nrow(e$P))
  if (turn) place <- t(place)
  n <- if (turn) layer$margins$down$n[e$rows] else layer$margins$across$n[e$columns]
  able <- which(n >= least_base)
  if (length(able) < 2L) return(none)
  pairs <- utils::combn(able, 2L)
  rows <- lapply(seq_len(nrow(P)), function(i) {
    d <- compare_shares(e, P, place, i, pairs, n, alpha)
    d$p_corrected <- correct(d$p, correction)
    found <- !is.na(d$p_corrected) & d$p_corrected <= alpha
    d$exceeds <- ifelse(!found, "", ifelse(d$difference > 0, "first", "second"))
    d$within <- rep(rownames(P)[i], ncol(pairs))
    d$first <- colnames(P)[pairs[1L, ]]
    d$second <- colnames(P)[pairs[2L, ]]
    d[names(none)]
  })
  stats::setNames(lapply(names(none), function(name) do.call(c, lapply(rows, `[[`, name))), names(none))
}

# Shares of row i in the columns of each pair: difference, interval, z and p.
compare_shares <- function(e, P, place, i, pairs, n, alpha) {
  base <- colSums(P)
  q <- P[i, ] / base
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
  found <- difference_of(q[a], n[a], q[b], n[b], effect, e, alpha)
  lapply(c(list(first_share = q[a], second_share = q[b]), found), unname)
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
layer_letters <- function(layer, pairs, compare) {
  columns <- compare == "columns"
  within <- if (columns) rep(answers_down(layer), ncol(layer$n)) else rep(answers_across(layer), each = nrow(layer$n))
  own <- if (columns) rep(answers_across(layer), each = nrow(layer$n)) else rep(answers_down(layer), ncol(layer$n))
  answers <- if (columns) answers_across(layer) else answers_down(layer)
  first <- pairs$exceeds == "first"
  found <- pairs$exceeds != ""
  greater <- ifelse(first, pairs$first, pairs$second)[found]
  lesser <- ifelse(first, pairs$second, pairs$first)[found]
  vapply(seq_along(own), function(k) {
    beaten <- lesser[pairs$within[found] == within[k] & greater == own[k]]
    paste(letters_for(length(answers))[answers %in% beaten], collapse = " ")
  }, "")
}

# Columns (rows) whose base is too small to be compared: answer and base.
layer_small_bases <- function(layer, compare, least_base) {
  base <- layer$margins[[if (compare == "columns") "across" else "down"]]$n
  answers <- if (compare == "columns") answers_across(layer) else answers_down(layer)
  small <- base < least_base & base > 0
  list(answer = answers[small], base = base[small])
}
