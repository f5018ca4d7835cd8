# The chance of one row in one column against another: difference, ratio, odds,
# number needed, exact odds ratio, tests.

# One figure: what is compared, estimate, standard error (of the log for
# ratios), interval, note.
new_risk <- function(outcome, compared, reference) {
  function(figure, estimate = NA_real_, se = NA_real_, low = NA_real_,
           high = NA_real_, note = NULL) {
    list(outcome = outcome, compared = compared, reference = reference,
         figure = figure, estimate = estimate, se = se, low = low, high = high,
         note = note)
  }
}

# All figures of a layer, one row each: of every column in `compared` against
# the reference. With `turn` rows and columns change places.
layer_risks <- function(layer, outcome, compared, reference, turn, alpha) {
  unlist(lapply(compared, function(one) {
    risk_rows(layer, outcome, one, reference, turn, alpha)
  }), recursive = FALSE)
}

risk_rows <- function(layer, outcome, compared, reference, turn, alpha) {
  risk <- new_risk(outcome, compared, reference)
  weighted <- if (turn) t(layer$weighted) else layer$weighted
  n <- if (turn) t(layer$n) else layer$n
  e <- layer$estimate
  base <- colSums(weighted)[c(compared, reference)]
  if (any(base == 0))
    return(list(risk("share",
                     note = said("nobody_in",
                                 answer = names(base)[base == 0][1L]))))
  sides <- if (turn) c(length(e$columns), length(e$rows)) else
    c(length(e$rows), length(e$columns))
  if (is.null(e) || compared == reference || sides[1L] < 2L)
    return(list(risk("share", note = said("single_answer"))))
  q <- weighted[outcome, c(compared, reference)] / base
  m <- colSums(n)[c(compared, reference)]
  counts <- rbind(n[outcome, c(compared, reference)],
                  m - n[outcome, c(compared, reference)])
  two <- share_in_columns(e$P, outcome, c(compared, reference), turn)
  found <- estimated_together(e, two)
  drawn <- counts_were_drawn(e)
  if (!drawn) m <- e$n * base / sum(weighted)
  effect <- design_effect_of(e, contrasts_of(two, c(1, -1)))
  df <- min(found$df)
  d <- difference_of(q[[1L]], m[[1L]], q[[2L]], m[[2L]], effect, df, alpha,
                     scored = !drawn)
  c(share_figures(q, m, found, d, e, risk, alpha),
    ratio_figures(q, estimated(e, log_ratios(two)), d$z, df, risk, alpha),
    exact_figures(counts, e, risk, alpha), z_figures(d, df, risk))
}

# The share of an outcome in each of the columns named, or in rows with `turn`.
share_in_columns <- function(P, outcome, columns, turn) {
  down <- rownames(P)[row(P)]
  across <- colnames(P)[col(P)]
  if (turn) {
    was <- down
    down <- across
    across <- was
  }
  under <- outer(across, columns, `==`) + 0
  ratios_of(under * (down == outcome), under)
}

share_figures <- function(q, m, found, d, e, row, alpha) {
  V <- found$covariance
  se <- sqrt(pmax(0, diag(V)))
  each <- share_interval(q, m, diag(V), found$df, alpha, e)
  se_d <- sqrt(max(0, V[1, 1] + V[2, 2] - 2 * V[1, 2]))
  through <- is.na(d$low) || (d$low <= 0 && d$high >= 0)
  # where the difference may be 0 the number needed may be infinite
  needed <- if (!through) {
    ends <- sort(1 / c(d$low, d$high))
    list(row("needed", 1 / d$difference, NA_real_, ends[1L], ends[2L]))
  }
  c(list(row("share", q[[1L]], se[1L], each$low[[1L]], each$high[[1L]]),
         row("share_reference", q[[2L]], se[2L], each$low[[2L]], each$high[[2L]]),
         row("difference", d$difference, se_d, d$low, d$high)),
    needed)
}

# The logs of the ratio of two shares and of the ratio of their odds, as a
# figure.
log_ratios <- function(two) {
  function(P) {
    at <- two(P)
    q <- at$value
    scale <- cbind(1 / q, 1 / (q * (1 - q))) * c(1, -1)
    part(c(log(q[1L] / q[2L]), stats::qlogis(q[1L]) - stats::qlogis(q[2L])),
         at$gradient %*% scale)
  }
}

# Relative risk and odds ratio, with their intervals on the log scale; `z` is
# the ratio of the test that there is no difference, with its degrees of freedom.
ratio_figures <- function(q, logs, z, df, row, alpha) {
  zero <- any(q == 0)
  bound <- zero || any(q == 1)
  odds <- q / (1 - q)
  figure <- function(name, ratio, k, undefined) {
    if (undefined) return(row(name, ratio, note = said("empty_cell_no_wald")))
    se <- sqrt(logs$variance[k])
    ends <- log_interval(ratio, se, z, alpha, df)
    row(name, ratio, se, ends[1L], ends[2L])
  }
  # 0/0 and infinity/infinity are undefined
  ratio <- function(a, b) {
    if ((a == 0 && b == 0) || (is.infinite(a) && is.infinite(b))) NA_real_ else
      a / b
  }
  odds_ratio <- figure("odds_ratio", ratio(odds[[1L]], odds[[2L]]), 2L, bound)
  logged <- odds_ratio
  logged$figure <- "log_odds_ratio"
  ends <- c("estimate", "low", "high")
  logged[ends] <- lapply(odds_ratio[ends], log)
  list(figure("relative_risk", ratio(q[[1L]], q[[2L]]), 1L, zero), odds_ratio,
       logged)
}

# With the margins fixed the first cell is noncentral hypergeometric: the odds
# ratio at which its mean is what was seen, and those at which either tail has
# alpha/2.
exact_figures <- function(counts, e, row, alpha) {
  none <- function(code) list(row("odds_ratio_exact", note = said(code)))
  if (!counts_were_drawn(e)) return(none("exact_not_with_design"))
  if (sum(counts) > 1e5) return(none("exact_odds_too_many"))
  x <- counts[1, 1]
  support <- max(0, sum(counts[1, ]) - sum(counts[, 2])):min(
    sum(counts[1, ]), sum(counts[, 1]))
  if (length(support) < 2L) return(none("one_table_only"))
  log_weight <- lchoose(sum(counts[, 1]), support) +
                lchoose(sum(counts[, 2]), sum(counts[1, ]) - support)
  chances <- function(log_odds) {
    w <- log_weight + support * log_odds
    w <- exp(w - max(w))
    w / sum(w)
  }
  solve_for <- function(f) {
    exp(stats::uniroot(f, c(-50, 50), tol = 1e-9, extendInt = "yes")$root)
  }
  estimate <- if (x == min(support)) 0 else if (x == max(support)) Inf else
    solve_for(function(t) sum(support * chances(t)) - x)
  low <- if (x == min(support)) 0 else
    solve_for(function(t) sum(chances(t)[support >= x]) - alpha / 2)
  high <- if (x == max(support)) Inf else
    solve_for(function(t) sum(chances(t)[support <= x]) - alpha / 2)
  list(row("odds_ratio_exact", estimate, NA_real_, low, high))
}

z_figures <- function(d, df, row) {
  if (is.na(d$z)) return(list(row("z", note = said("outcome_no_variance"))))
  list(row("z", d$z), row("p", d$p),
       row("p_more", stats::pt(d$z, df, lower.tail = FALSE)),
       row("p_fewer", stats::pt(d$z, df)))
}
