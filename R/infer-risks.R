#' Two columns, two rows: differences, ratios and odds
#'
#' For a 2x2 table, and for larger ones each column against a reference column, the chance of one row (`outcome`) is
#' compared:
#'
#' * `difference` of the two shares p1 - p2, with `low`/`high` (Newcombe 1998 without a design; Wald on V, with t,
#'   under one);
#' * `relative_risk` p1 / p2 and `odds_ratio` (p1/(1-p1)) / (p2/(1-p2)), plain and as `log_odds_ratio`, on the log
#'   scale (Woolf 1955; under a design the same with the variance of the log by its gradient on V, and t);
#' * `needed`: 1 / difference, the number of people among whom one more (or fewer) has the outcome; its interval is the
#'   reciprocal of the difference's, and runs through infinity when the difference can be 0;
#' * `odds_ratio_exact`: the conditional maximum likelihood odds ratio with its exact interval, margins fixed
#'   (Cornfield 1956), without a design only;
#' * `z` with the pooled share (times the root of the difference's design effect under a design), `p` two-sided,
#'   `p_more` and `p_fewer` one-sided.
#'
#' A zero cell leaves ratios without a Wald interval, and the note says so.
#'
#' @param x (lattice) From [lattice()]; not of a tick-all question.
#' @param outcome (string, default the first row) The row whose chance is compared. With `explains = "down"` rows and
#'   columns change places.
#' @param reference (string, default the last column) The column that the others are held against.
#' @param alpha (number in 0-1, default that of the lattice) Intervals have confidence 1 - `alpha`.
#' @param ... Nothing: what is put here is an error, with the nearest argument's name.
#' @return Data frame, one row a figure: `each`, `outcome`, `compared`, `reference`, `figure`, `estimate`, `se` (of the
#'   log for ratios), `low`, `high`, `note`; the figures being those above, and `share`, `share_reference`, `z`, `p`,
#'   `p_more`, `p_fewer`.
#' @section Errors: `fairlattice_error_answer`, `fairlattice_error_ticks`.
#' @references Woolf B (1955) Ann Hum Genet 19:251-253. Newcombe RG (1998) Statist Med 17:873-890. Cornfield J (1956)
#'   Proc Third Berkeley Symp 4:135-148.
#' @export
#' @examples
#' panel <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement)
#' risks(lattice(panel, down = leave, across = tenure), reference = "Owned outright")
risks <- function(x, outcome = NULL, reference = NULL, alpha = NULL, ...) {
  nothing_else(...)
  call <- environment()
  check_made(x, call)
  alpha <- alpha %||% x$choices$alpha
  check_fraction(alpha, "alpha", call)
  turn <- x$choices$explains == "down"
  names <- dimnames(x$layers[[1L]]$n)
  if (turn) names <- rev(names)
  check_answer(outcome, names[[1L]], "outcome", call)
  check_answer(reference, names[[2L]], "reference", call)
  seen <- lapply(1:2, function(side) {
    sums <- Reduce(`+`, lapply(x$layers, function(layer) apply(layer$n, if (turn) 3L - side else side, sum)))
    names[[side]][sums > 0]
  })
  outcome <- outcome %||% seen[[1L]][1L]
  reference <- reference %||% seen[[2L]][length(seen[[2L]])]
  out <- over_layers(x$layers, function(layer) {
    compared <- setdiff(seen[[2L]], reference)
    if (!length(compared)) compared <- reference # nothing to compare: said in one row
    rows_to_frame(unlist(lapply(compared, function(one) risk_rows(layer, outcome, one, reference, turn, alpha)),
                         recursive = FALSE))
  })
  structure(as_findings(out, "risks"), alpha = alpha)
}

check_answer <- function(given, answers, arg, call) {
  if (is.null(given)) return()
  if (!is.character(given) || length(given) != 1L || !given %in% answers) {
    stop_input(c(sprintf("`%s` must be an answer of the table, not %s.", arg, quote_value(given)),
                 did_you_mean(given, answers, "Answers")), "answer", call = call)
  }
}

risk_rows <- function(layer, outcome, compared, reference, turn, alpha) {
  row <- function(figure, estimate = NA_real_, se = NA_real_, low = NA_real_, high = NA_real_, note = NA_character_) {
    list(outcome = outcome, compared = compared, reference = reference, figure = figure, estimate = estimate, se = se,
         low = low, high = high, note = note)
  }
  weighted <- if (turn) t(layer$weighted) else layer$weighted
  n <- if (turn) t(layer$n) else layer$n
  e <- layer$estimate
  base <- colSums(weighted)[c(compared, reference)]
  if (is.null(e) || any(base == 0) || compared == reference || length(e$rows) < 2L && !turn || length(e$columns) < 2L &&
      turn) {
    return(list(row("share",
                    note = if (!any(base == 0))
                    "one of the two questions has a single answer here, so there is nothing to compare" else
                    sprintf("nobody is in \"%s\"", names(base)[base == 0][1L]))))
  }
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
  c(share_figures(q, m, V, e, row, alpha), ratio_figures(q, V, e, row, alpha), exact_figures(counts, e, row, alpha),
    z_figures(q, m, G, e, row))
}

share_figures <- function(q, m, V, e, row, alpha) {
  se <- sqrt(pmax(0, diag(V)))
  each <- if (e$by_design) logit_interval(q, diag(V), e$df, alpha) else wilson_interval(q, m, alpha)
  d <- q[[1L]] - q[[2L]]
  se_d <- sqrt(max(0, V[1, 1] + V[2, 2] - 2 * V[1, 2]))
  reach <- if (e$df >= 1) stats::qt(1 - alpha / 2, e$df) * se_d else NA_real_
  of_d <- if (e$by_design) list(low = max(-1, d - reach), high = min(1, d + reach)) else
    newcombe_interval(q[[1L]], m[[1L]], q[[2L]], m[[2L]], alpha)
  through <- is.na(of_d$low) || (of_d$low <= 0 && of_d$high >= 0)
  ends <- if (through) c(NA_real_, NA_real_) else sort(1 / c(of_d$low, of_d$high))
  list(row("share", q[[1L]], se[1L], each$low[[1L]], each$high[[1L]]),
       row("share_reference", q[[2L]], se[2L], each$low[[2L]], each$high[[2L]]),
       row("difference", d, se_d, of_d$low[[1L]], of_d$high[[1L]]),
       row("needed", if (d == 0) Inf else 1 / d, NA_real_, ends[1L], ends[2L],
           if (through && !is.na(of_d$low))
           sprintf("the difference can be 0: from %s through infinity to %s", format_number(1 / of_d$low[[1L]], 1L),
                   format_number(1 / of_d$high[[1L]], 1L)) else NA_character_))
}

# On the log scale: the gradient of log q is 1/q, of the log odds 1/(q(1-q)).
ratio_figures <- function(q, V, e, row, alpha) {
  zero <- any(q == 0)
  bound <- zero || any(q == 1)
  t <- if (e$df >= 1) stats::qt(1 - alpha / 2, e$df) else NA_real_
  odds <- q / (1 - q)
  of <- function(figure, ratio, scale, undefined) {
    if (undefined) {
      return(row(figure, ratio, note = "a cell is empty, so there is no Wald interval: see the exact odds ratio"))
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
  if (e$by_design)
    return(list(row("odds_ratio_exact",
                    note = "weights or a design: respondents are not drawn at random, each for one")))
  if (sum(counts) > 1e5)
    return(list(row("odds_ratio_exact",
                    note = "not worked out for so many respondents, where the Wald interval is as good")))
  x <- counts[1, 1]
  support <- max(0, sum(counts[1, ]) - sum(counts[, 2])):min(sum(counts[1, ]), sum(counts[, 1]))
  if (length(support) < 2L) return(list(row("odds_ratio_exact", note = "the margins leave one table only")))
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

z_figures <- function(q, m, G, e, row) {
  pooled <- sum(q * m) / sum(m)
  se <- sqrt(pooled * (1 - pooled) * sum(1 / m))
  if (e$by_design) {
    D <- G[, 1L] - G[, 2L]
    plain <- variance_of(multinomial(e$P, e$n), D)
    se <- if (plain > 1e-14 && e$df >= 1) se * sqrt(variance_of(e, D) / plain) else NA_real_
  }
  if (is.na(se) || se <= 1e-12)
    return(list(row("z", note = "no variance: nobody or everybody has the outcome, or the clusters all agree")))
  z <- (q[[1L]] - q[[2L]]) / se
  list(row("z", z), row("p", 2 * stats::pt(-abs(z), e$df)), row("p_more", stats::pt(z, e$df, lower.tail = FALSE)),
       row("p_fewer", stats::pt(z, e$df)))
}
