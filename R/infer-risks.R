# The chance of one row in one column against another: difference, ratio, odds, number needed, exact odds ratio, tests.

# One figure: what is compared, estimate, standard error (of the log for ratios), interval, note.
new_risk <- function(outcome, compared, reference) {
  function(figure, estimate = NA_real_, se = NA_real_, low = NA_real_, high = NA_real_, note = NULL) {
    list(outcome = outcome, compared = compared, reference = reference, figure = figure, estimate = estimate, se = se,
         low = low, high = high, note = note)
  }
}

# All figures of a layer, one row each: of every column in `compared` against the reference. With `turn` rows and
# columns change places.
layer_risks <- function(layer, outcome, compared, reference, turn, alpha) {
  unlist(lapply(compared, function(one) risk_rows(layer, outcome, one, reference, turn, alpha)), recursive = FALSE)
}

risk_rows <- function(layer, outcome, compared, reference, turn, alpha) {
  row <- new_risk(outcome, compared, reference)
  weighted <- if (turn) t(layer$weighted) else layer$weighted
  n <- if (turn) t(layer$n) else layer$n
  e <- layer$estimate
  base <- colSums(weighted)[c(compared, reference)]
  if (any(base == 0)) return(list(row("share", note = said("nobody_in", answer = names(base)[base == 0][1L]))))
  sides <- if (turn) c(length(e$columns), length(e$rows)) else c(length(e$rows), length(e$columns))
  if (is.null(e) || compared == reference || sides[1L] < 2L) return(list(row("share", note = said("single_answer"))))
  q <- weighted[outcome, c(compared, reference)] / base
  m <- colSums(n)[c(compared, reference)]
  counts <- rbind(n[outcome, c(compared, reference)], m - n[outcome, c(compared, reference)])
  # gradients of the two shares over the cells of P
  G <- vapply(c(compared, reference), function(k) {
    P <- if (turn) t(e$P) else e$P
    g <- matrix(0, nrow(P), ncol(P), dimnames = dimnames(P))
    g[, k] <- ((rownames(P) == outcome) - q[[k]]) / sum(P[, k])
    as.vector(if (turn) t(g) else g)
  }, numeric(length(e$P)))
  V <- covariance_of(e, G)
  effect <- 1
  if (e$by_design) {
    D <- G[, 1L] - G[, 2L]
    effect <- difference_effect(variance_of(e, D), variance_of(multinomial(e$P, e$n), D))
    m <- e$n * base / sum(weighted)
  }
  d <- difference_of(q[[1L]], m[[1L]], q[[2L]], m[[2L]], effect, e, alpha)
  c(share_figures(q, m, V, d, e, row, alpha), ratio_figures(q, V, e, row, alpha), exact_figures(counts, e, row, alpha),
    z_figures(d, e, row))
}

share_figures <- function(q, m, V, d, e, row, alpha) {
  se <- sqrt(pmax(0, diag(V)))
  each <- if (e$by_design) logit_interval(q, diag(V), e$df, alpha) else wilson_interval(q, m, alpha)
  se_d <- sqrt(max(0, V[1, 1] + V[2, 2] - 2 * V[1, 2]))
  through <- is.na(d$low) || (d$low <= 0 && d$high >= 0)
  ends <- if (through) c(NA_real_, NA_real_) else sort(1 / c(d$low, d$high))
  list(row("share", q[[1L]], se[1L], each$low[[1L]], each$high[[1L]]),
       row("share_reference", q[[2L]], se[2L], each$low[[2L]], each$high[[2L]]),
       row("difference", d$difference, se_d, d$low, d$high),
       row("needed", if (d$difference == 0) Inf else 1 / d$difference, NA_real_, ends[1L], ends[2L],
           if (through && !is.na(d$low)) said("needed_through_infinity", low = 1 / d$low, high = 1 / d$high)))
}

# On the log scale: the gradient of log q is 1/q, of the log odds 1/(q(1-q)).
ratio_figures <- function(q, V, e, row, alpha) {
  zero <- any(q == 0)
  bound <- zero || any(q == 1)
  t <- critical_t(alpha, e$df)
  odds <- q / (1 - q)
  of <- function(figure, ratio, scale, undefined) {
    if (undefined) {
      return(row(figure, ratio, note = said("empty_cell_no_wald")))
    }
    se <- sqrt(max(0, (V[1, 1] * scale[1]^2 + V[2, 2] * scale[2]^2 - 2 * V[1, 2] * scale[1] * scale[2])))
    row(figure, ratio, se, exp(log(ratio) - t * se), exp(log(ratio) + t * se))
  }
  # 0/0 and infinity/infinity are undefined
  ratio <- function(a, b) if ((a == 0 && b == 0) || (is.infinite(a) && is.infinite(b))) NA_real_ else a / b
  OR <- of("odds_ratio", ratio(odds[[1L]], odds[[2L]]), 1 / (q * (1 - q)), bound)
  logged <- OR
  logged$figure <- "log_odds_ratio"
  logged[c("estimate", "low", "high")] <- lapply(OR[c("estimate", "low", "high")], log)
  list(of("relative_risk", ratio(q[[1L]], q[[2L]]), 1 / q, zero), OR, logged)
}

# With the margins fixed the first cell is noncentral hypergeometric: the odds ratio at which its mean is what was
# seen, and those at which either tail has alpha/2.
exact_figures <- function(counts, e, row, alpha) {
  none <- function(code) list(row("odds_ratio_exact", note = said(code)))
  if (e$by_design) return(none("exact_not_with_design"))
  if (sum(counts) > 1e5) return(none("exact_odds_too_many"))
  x <- counts[1, 1]
  support <- max(0, sum(counts[1, ]) - sum(counts[, 2])):min(sum(counts[1, ]), sum(counts[, 1]))
  if (length(support) < 2L) return(none("one_table_only"))
  log_weight <- lchoose(sum(counts[, 1]), support) + lchoose(sum(counts[, 2]), sum(counts[1, ]) - support)
  chances <- function(log_odds) {
    w <- log_weight + support * log_odds
    w <- exp(w - max(w))
    w / sum(w)
  }
  solve_for <- function(f) exp(stats::uniroot(f, c(-50, 50), tol = 1e-9, extendInt = "yes")$root)
  estimate <- if (x == min(support)) 0 else if (x == max(support)) Inf else
    solve_for(function(t) sum(support * chances(t)) - x)
  low <- if (x == min(support)) 0 else solve_for(function(t) sum(chances(t)[support >= x]) - alpha / 2)
  high <- if (x == max(support)) Inf else solve_for(function(t) sum(chances(t)[support <= x]) - alpha / 2)
  list(row("odds_ratio_exact", estimate, NA_real_, low, high))
}

z_figures <- function(d, e, row) {
  if (is.na(d$z)) return(list(row("z", note = said("outcome_no_variance"))))
  list(row("z", d$z), row("p", d$p), row("p_more", stats::pt(d$z, e$df, lower.tail = FALSE)),
       row("p_fewer", stats::pt(d$z, e$df)))
}
