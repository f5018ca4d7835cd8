# Columns against columns within a row (rows against rows within a column):
# differences of shares, their tests, letters and marks. Written for columns; of
# rows the table is turned.

# What a column is set against: all others in pairs ("each other"), the one
# before it ("previous"), the first ("first"), everybody outside of it ("rest"),
# everybody ("total"), or a column of that name.
againsts <- c("each other", "rest", "total", "previous", "first")

# A column a pair: within, first, second (answers, or "rest" and "total"),
# first_share, second_share, difference, low, high, z, p, p_corrected, exceeds
# ("first", "second" or ""), note. `x` is of one layer; columns of fewer than
# `least_base` respondents are left out.
layer_differences <- function(x, compare, correction, alpha, least_base,
                              against = "each other") {
  layer <- x$layers[[1L]]
  none <- list(within = character(), first = character(), second = character(),
               first_share = numeric(), second_share = numeric(),
               difference = numeric(), low = numeric(), high = numeric(),
               z = numeric(), p = numeric(), p_corrected = numeric(),
               exceeds = character(), note = list())
  margin <- x$choices$margin
  if (!is.null(margin)) none$p_equivalent <- numeric()
  of <- compared_shares(layer, compare)
  if (is.null(of)) return(none)
  able <- which(of$n >= least_base)
  pairs <- if (against %in% c("rest", "total")) as.list(able) else
    pairs_against(able, against,
                  broken_headings(headings_of(x, compare, of$group), x$choices$breaks))
  if (!length(pairs)) return(none)
  compared <- if (is.list(pairs))
    columns_to_rest(x, of, able, compare, alpha, least_base, against,
                    margin) else
    columns_to_columns(of, pairs, alpha, margin)
  if (is.null(compared)) return(none)
  rows <- lapply(seq_along(of$line), function(i) {
    d <- compared[[i]]
    d$p_corrected <- correct(d$p, correction)
    found <- !is.na(d$p_corrected) & d$p_corrected <= alpha
    d$exceeds <- ifelse(!found, "", ifelse(d$difference > 0, "first", "second"))
    d$within <- rep(of$line[i], length(d$p))
    d[names(none)]
  })
  stats::setNames(lapply(names(none), function(name) {
    do.call(c, lapply(rows, `[[`, name))
  }), names(none))
}

# What is compared of a layer: shares of every `line` in every `group`, from the
# proportions M of an estimate, turned so that groups are of its columns.
# `lines` and `groups` say which rows and columns each takes in, a line a row:
# of ordinary answers one each; of items of ticks all patterns that hold them,
# so that groups share people (`overlap`). `place` leads back to the estimate,
# `n` is the respondents of every group. NULL where there is nothing to compare.
compared_shares <- function(layer, compare) {
  base <- layer$patterns %||% layer
  if (!is.null(no_test_reason(base))) return(NULL)
  e <- base$estimate
  place <- matrix(seq_along(e$P), nrow(e$P))
  down <- layer_members(layer, "down", e$rows, rownames(e$P))
  across <- layer_members(layer, "across", e$columns, colnames(e$P))
  if (compare == "columns")
    return(list(e = e, M = e$P, place = place, line = down$name,
                lines = down$inside, group = across$name,
                groups = across$inside, n = across$n, overlap = across$items))
  list(e = e, M = t(e$P), place = t(place), line = across$name,
       lines = across$inside, group = down$name, groups = down$inside,
       n = down$n, overlap = down$items)
}

# The answers of a side with which rows (columns) of the estimate they are, and
# their respondents.
layer_members <- function(layer, side, at, names) UseMethod("layer_members")

#' @export
layer_members.default <- function(layer, side, at, names) {
  list(name = names, inside = diag(length(names)) == 1,
       n = layer$margins[[side]]$n[at], items = FALSE)
}

#' @export
layer_members.fairlattice_ticks_layer <- function(layer, side, at, names) {
  if (!layer$ticks[[side]]) return(NextMethod())
  items <- if (side == "down") answers_down(layer) else answers_across(layer)
  # with items on both sides parts run over those down first
  of_part <- if (side == "down") seq_along(items) else
    (seq_along(items) - 1L) * length(layer$parts) / length(items) + 1L
  which <- c(down = "row", across = "column")[[side]]
  inside <- do.call(rbind,
                    lapply(layer$groups[of_part], function(group) {
                      group[[which]][at] == 1L
                    }))
  list(name = items, inside = inside, n = unname(layer$margins[[side]]$n),
       items = TRUE)
}

# The headings that answers stand under, of a question within another; otherwise
# one.
headings_of <- function(x, compare, answers) {
  headings <- x$tally[[if (compare == "columns") "across" else "down"]]$headings
  if (is.null(headings))
    return(list(answer = answers, outer = rep("", length(answers)), inner = answers))
  lapply(headings[c("answer", "outer", "inner")], `[`,
         match(answers, headings$answer))
}

# What all others can be set against: an answer, or one within every heading.
references_in <- function(x, compare, answers) {
  headings <- headings_of(x, compare, answers)
  unique(unlist(headings[c("answer", "inner")]))
}

# Pairs of columns under the same heading, the first against the second.
# `headings` has every column's whole name (`answer`), its heading (`outer`) and
# its name under it (`inner`).
pairs_against <- function(able, against, headings) {
  heading <- headings$outer
  if (against == "each other") {
    pairs <- if (length(able) > 1L) utils::combn(able, 2L)
    pairs <- pairs[, heading[pairs[1L, ]] == heading[pairs[2L, ]], drop = FALSE]
    return(if (length(pairs)) pairs)
  }
  if (against == "previous") {
    now <- able[(able - 1L) %in% able]
    now <- now[heading[now] == heading[now - 1L]]
    return(if (length(now)) rbind(now, now - 1L))
  }
  # a column by its whole name is what all are set against, wherever they stand
  reference <- if (against == "first") match(heading, heading) else
    if (against %in% headings$answer)
      rep(match(against, headings$answer), length(heading)) else
      match(paste(heading, against, sep = "\r"),
            paste(heading, headings$inner, sep = "\r"))
  now <- able[able != reference[able] & reference[able] %in% able]
  if (length(now)) rbind(now, reference[now])
}

# Columns on both sides of a break in a series are not compared: each stretch is under
# a heading of its own. `breaks` names the columns that a stretch begins with.
broken_headings <- function(headings, breaks) {
  if (!length(breaks)) return(headings)
  begins <- headings$inner %in% breaks | headings$answer %in% breaks
  stretch <- stats::ave(as.integer(begins), headings$outer, FUN = cumsum)
  headings$outer <- paste(headings$outer, stretch, sep = "\r")
  headings
}

# Per line the differences of all pairs of groups.
columns_to_columns <- function(of, pairs, alpha, margin = NULL) {
  shares <- lapply(seq_along(of$line), function(i) pair_shares(of, i, pairs))
  differences_by_row(shares, of, alpha, of$group[pairs[1L, ]],
                     of$group[pairs[2L, ]], margin)
}

# Every group against everybody outside of it. Against the total, of which it is
# a part, the difference is the same times the share of the others, and the null
# hypothesis is the same: z and p are those against the rest, and the interval
# takes the covariance of part and whole.
columns_to_rest <- function(x, of, able, compare, alpha, least_base, against,
                            margin = NULL) {
  side <- if (compare == "columns") "across" else "down"
  parts <- lapply(able, function(j) {
    compared_shares(net_table(x, side, of$group[j])$layers[[1L]], compare)
  })
  there <- which(vapply(parts, function(part) {
    length(part$group) == 2L && part$n[2L] >= least_base
  }, NA))
  if (!length(there)) return(NULL)
  shares <- lapply(seq_along(of$line), function(i) {
    bind_columns(lapply(parts[there], function(part) {
      pair_shares(part, match(of$line[i], part$line), matrix(1:2))
    }))
  })
  one <- replace(of, "overlap", FALSE) # a group and the rest share nobody
  found <- differences_by_row(shares, one, alpha, of$group[able[there]],
                              rep(against, length(there)), margin)
  if (against == "rest") found else
    lapply(seq_along(of$line), function(i) {
      to_total(found[[i]], of, i, able[there], alpha)
    })
}

# The differences of all rows at once, since an interval is a search; then row
# by row.
differences_by_row <- function(shares, of, alpha, first, second,
                               margin = NULL) {
  all <- bind_columns(shares)
  found <- c(all[c("first_share", "second_share")],
             difference_of(all$first_share, all$first_base, all$second_share,
                           all$second_base, all$effect, all$df, alpha,
                           scored = !counts_were_drawn(of$e) || of$overlap))
  if (!is.null(margin))
    found$p_equivalent <-
      equivalence_p(all$first_share, all$first_base, all$second_share,
                    all$second_base, all$effect, all$df, margin)
  pairs <- length(first)
  lapply(seq_along(shares), function(i) {
    c(lapply(found, `[`, (i - 1L) * pairs + seq_len(pairs)),
      list(first = first, second = second))
  })
}

bind_columns <- function(rows) {
  columns <- names(rows[[1L]])
  stats::setNames(lapply(columns, function(name) {
    unlist(lapply(rows, `[[`, name), use.names = FALSE)
  }), columns)
}

# The share of every group less that of everybody, which it is a part of.
to_total <- function(d, of, i, groups, alpha) {
  against_all <- contrasts_of(line_in_groups(of, i, groups, everybody = TRUE),
                              rbind(diag(1, length(groups)), -1))
  found <- estimated(of$e, against_all)
  half_width <- critical_t(alpha, found$df) * sqrt(found$variance)
  total <- sum(of$M[of$lines[i, ], ])
  d$second_share <- rep(total, length(groups))
  d$difference <- d$first_share - total
  d[c("low", "high")] <-
    list(d$difference - half_width, d$difference + half_width)
  # the margin is of the difference from the rest, not from the whole
  if (!is.null(d$p_equivalent)) d$p_equivalent[] <- NA_real_
  d
}

# The shares of line i in the groups, and in everybody, as a figure.
line_in_groups <- function(of, i, groups = seq_along(of$group),
                           everybody = FALSE) {
  in_cells <- function(values) replace(numeric(length(of$M)), of$place, values)
  height <- nrow(of$M)
  inside <- of$groups[groups, , drop = FALSE]
  if (everybody) inside <- rbind(inside, TRUE)
  under <-
    apply(inside, 1L, function(columns) in_cells(rep(columns, each = height)))
  ratios_of(under * in_cells(rep(of$lines[i, ], ncol(of$M))), under)
}

# Per cell, down the columns of a table, whether its share is higher or lower
# than that which it is set against, and by how much: mark, difference, low,
# high. Kept with the layer, since a table may show them all.
layer_marks_against <- function(x, compare, correction, alpha, least_base,
                                against) {
  once(x$layers[[1L]]$kept, "marks against",
       list(compare, correction, alpha, least_base, against),
       marks_from_pairs(x$layers[[1L]], compare,
                        layer_differences(
                          x, compare, correction, alpha, least_base, against)))
}

marks_from_pairs <- function(layer, compare, pairs) {
  cells <- cells_of_layer(layer)
  if (compare == "rows") names(cells) <- rev(names(cells))
  at <- match(paste(cells$down, cells$across, sep = "\r"),
              paste(pairs$within, pairs$first, sep = "\r"))
  mark <- c(first = "higher", second = "lower")[pairs$exceeds[at]]
  list(mark = unname(ifelse(is.na(mark), "", mark)),
       difference = pairs$difference[at], low = pairs$low[at],
       high = pairs$high[at])
}

# Shares of line i in the groups of each pair, their bases, and the design
# effect of the difference: its variance over that of two independent samples.
# Groups that share people have one without a design too.
pair_shares <- function(of, i, pairs) {
  e <- of$e
  inside <- of$groups + 0
  base <- as.vector(inside %*% column_sums(of$M))
  q <- as.vector(inside %*% column_sums(of$M[of$lines[i, ], , drop = FALSE])) /
       base
  a <- pairs[1L, ]
  b <- pairs[2L, ]
  drawn <- counts_were_drawn(e)
  n <- if (drawn) of$n else e$n * base
  effect <- rep(1, length(a))
  df <- rep(design_df(e), length(a))
  if (!drawn || of$overlap) {
    found <- estimated_together(e, line_in_groups(of, i))
    V <- found$covariance
    alone <- q * (1 - q) / n
    effect <- effect_over(pmax(0, diag(V)[a] + diag(V)[b] - 2 * V[cbind(a, b)]),
                          alone[a] + alone[b])
    df <- pmin(found$df[a], found$df[b])
  }
  list(first_share = q[a], second_share = q[b], first_base = unname(n[a]),
       second_base = unname(n[b]), effect = effect, df = df)
}

# Whether two shares differ by less than a margin: the larger p of the two
# one-sided tests that they differ by as much (Schuirmann 1987), each with the
# shares that are most likely at that difference (Farrington & Manning 1990).
equivalence_p <- function(p1, n1, p2, n2, effect, df, margin) {
  ratio <- function(at) {
    (p1 - p2 - at) /
      sqrt(effect * constrained_variance(p1, n1, p2, n2, at))
  }
  df[df < 1] <- NA_real_
  pmax(stats::pt(ratio(-margin), df, lower.tail = FALSE),
       stats::pt(ratio(margin), df))
}

# A difference of two shares: z over its standard error with the pooled share,
# times the root of its design effect, p from t, and the interval. Under a
# design the bases n are the weighted ones on the scale of the respondents, as
# they are in the variances that the design effect is a ratio of. `scored` is
# whether the interval takes the design effect.
difference_of <- function(p1, n1, p2, n2, effect, df, alpha, scored) {
  pooled <- (p1 * n1 + p2 * n2) / (n1 + n2)
  se <- sqrt(effect * pooled * (1 - pooled) * (1 / n1 + 1 / n2))
  se[df < 1] <- NA_real_
  flat <- is.na(se) | se <= 1e-12
  z <- ifelse(flat, NA_real_, (p1 - p2) / se)
  t <- critical_t(alpha, df)
  interval <- if (scored) score_interval(p1, n1, p2, n2, t, effect) else
    newcombe_as_tested(p1, n1, p2, n2, z, t, alpha)
  # without a variance there is none
  if (scored) interval <- lapply(interval, replace, is.na(effect), NA_real_)
  note <- vector("list", length(z))
  note[flat & pooled %in% c(0, 1)] <- list(said("all_or_none_in_both"))
  note[flat & !pooled %in% c(0, 1)] <- list(said("no_variance_by_design"))
  list(difference = p1 - p2, low = interval$low, high = interval$high, z = z,
       p = two_sided(z, df), note = note)
}

# a, b, ..., z, aa, ab, ...
letters_for <- function(n) {
  utils::head(c(letters, outer(letters, letters, function(x, y) paste0(y, x))),
              n)
}

# Per cell (down its columns) the letters of the columns (rows) that its figure
# exceeds. Letters begin after those of `before` other columns.
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
    paste(letters_for(before + length(answers))[before + which(answers %in% beaten)],
          collapse = " ")
  }, "")
}

# Columns (rows) whose base is too small to be compared: answer and base.
layer_small_bases <- function(layer, compare, least_base) {
  base <- layer$margins[[if (compare == "columns") "across" else "down"]]$n
  answers <- if (compare == "columns") answers_across(layer) else
    answers_down(layer)
  small <- base < least_base & base > 0
  list(answer = answers[small], base = base[small])
}
