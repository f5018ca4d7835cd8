#' Percentages with their intervals
#'
#' Shares of the row, column and table totals. Without a design the intervals are Wilson's (1927); with a weight,
#' stratum or cluster they are on the logit scale, with the design variance and t. A share of exactly 0 or 1 has no
#' logit interval.
#'
#' @param x (lattice) From [lattice()] or [read_lattice()].
#' @param percent ("column", "row" or "total", default that of the lattice; or "responses") Base of the percentages. Of
#'   a tick-all question `"responses"` gives each item's share of the ticks in its column (row, when the question
#'   stands across), which add to 100; they are no shares of people, so they have no interval.
#' @param alpha (number in 0-1, default that of the lattice) Intervals have confidence 1 - `alpha`.
#' @param interval ("usual" or "korn_graubard", default "usual") `"korn_graubard"` gives the binomial interval (Clopper
#'   & Pearson 1934) on the effective base p(1 - p)/variance, times (t(n - 1)/t(df))^2 (Korn & Graubard 1998): for
#'   shares near 0 or 1, and it has a limit at exactly 0 or 1, too.
#' @param ... Nothing: what is put here is an error, with the nearest argument's name.
#' @return Data frame, one row a cell: `each`, `down`, `across`, `n` (respondents), `weighted`, `share` (0-1; `NA` on
#'   an empty base), `low`, `high`, `base` (unweighted respondents that the percentage is of), `base_weighted`.
#' @references Wilson EB (1927) J Amer Statist Assoc 22:209-212. Korn EL, Graubard BI (1998) Survey Methodology
#'   24:193-201. Clopper CJ, Pearson ES (1934) Biometrika 26:404-413.
#' @export
#' @examples
#' head(shares(lattice(demo_records(), down = ferry, across = island), percent = "row"))
shares <- function(x, percent = NULL, alpha = NULL, interval = c("usual", "korn_graubard"), ...) {
  nothing_else(...)
  check_class(x, "fairlattice_lattice", "x", "lattice()", environment())
  percent <- percent %||% x$choices$percent
  responses <- identical(percent, "responses") && !is.null(x$tally) && any(ticks_in(x$tally))
  if (!responses) check_choice(percent, c("column", "row", "total"), "percent", environment())
  interval <- first_of(interval)
  check_choice(interval, c("usual", "korn_graubard"), "interval", environment())
  if (is.null(x$tally)) {
    return(stored_shares(x, percent, list(alpha = alpha, interval = if (interval != "usual") interval), environment()))
  }
  alpha <- alpha %||% x$choices$alpha
  check_fraction(alpha, "alpha", environment())
  as_findings(over_layers(x$layers, layer_shares, percent = percent, alpha = alpha, kind = interval), "shares")
}

layer_shares <- function(layer, percent, alpha, kind = "usual") {
  if (!is.null(layer$parts)) return(tick_shares(layer, percent, alpha, kind))
  size <- dim(layer$n)
  over <- function(M) switch(percent, column = matrix(colSums(M), size[1L], size[2L], byrow = TRUE),
                             row = matrix(rowSums(M), size[1L], size[2L]), total = matrix(sum(M), size[1L], size[2L]))
  base <- over(layer$weighted)
  share <- ifelse(base > 0, layer$weighted / base, NA_real_)
  interval <- if (is.null(layer$estimate)) {
    list(low = share, high = share)
  } else if (kind == "korn_graubard") {
    binomial_interval(share, over(layer$n), if (layer$estimate$by_design) share_variance(layer, share, percent),
                      layer$estimate$df, alpha)
  } else if (layer$estimate$by_design) {
    logit_interval(share, share_variance(layer, share, percent), layer$estimate$df, alpha)
  } else {
    wilson_interval(share, over(layer$n), alpha)
  }
  list2DF(list(down = rep(rownames(layer$n), size[2L]), across = rep(colnames(layer$n), each = size[1L]),
               n = as.vector(layer$n), weighted = as.vector(layer$weighted), share = as.vector(share),
               low = as.vector(interval$low), high = as.vector(interval$high), base = as.vector(over(layer$n)),
               base_weighted = as.vector(base)))
}

# (p + z^2/2n +- z sqrt(p(1-p)/n + z^2/4n^2)) / (1 + z^2/n)
wilson_interval <- function(p, n, alpha) {
  z2 <- stats::qnorm(1 - alpha / 2)^2
  middle <- (p + z2 / (2 * n)) / (1 + z2 / n)
  reach <- sqrt(z2 * (p * (1 - p) / n + z2 / (4 * n^2))) / (1 + z2 / n)
  list(low = ifelse(p == 0, 0, middle - reach), high = ifelse(p == 1, 1, middle + reach))
}

# Clopper & Pearson's limits, which are quantiles of beta distributions, on n or the effective base. Where nobody or
# everybody is in the cell there is no variance, so the base is n itself.
binomial_interval <- function(p, n, variance, df, alpha) {
  if (!is.null(variance)) {
    if (df < 1) return(list(low = NA_real_ * p, high = NA_real_ * p))
    t <- function(df) stats::qt(1 - alpha / 2, df)
    effective <- pmin(n, p * (1 - p) / variance * (t(pmax(n - 1, 1)) / t(df))^2)
    n <- ifelse(!is.na(variance) & variance > 0 & p > 0 & p < 1, effective, n)
  }
  x <- p * n
  list(low = ifelse(p == 0, 0, stats::qbeta(alpha / 2, x, n - x + 1)),
       high = ifelse(p == 1, 1, stats::qbeta(1 - alpha / 2, x + 1, n - x)))
}

logit_interval <- function(p, variance, df, alpha) {
  defined <- !is.na(p) & p > 0 & p < 1 & df >= 1
  reach <- if (df >= 1) stats::qt(1 - alpha / 2, df) * sqrt(variance) / (p * (1 - p)) else NA_real_
  end <- function(sign) ifelse(defined, stats::plogis(stats::qlogis(p) + sign * reach), NA_real_)
  list(low = end(-1), high = end(1))
}

# Variance of q = p_ij / b, b the proportion of its base: the score of q is (score of p_ij - q score of b) / b.
share_variance <- function(layer, share, percent) {
  e <- layer$estimate
  group <- as.vector(switch(percent, column = col(e$P), row = row(e$P), total = array(1L, dim(e$P))))
  b <- as.vector(rowsum(as.vector(e$P), group))[group]
  q <- as.vector(e$P) / b
  variance <- if (!is.null(e$sparse)) sparse_share_variance(e, group, q, b) else
    squares_of(e,
               function(S) (S -
                            rep(q, each = nrow(S)) * t(rowsum(t(S), group))[, group,
                                                                            drop = FALSE]) / rep(b, each = nrow(S)))
  if (!is.null(e$diagonal)) {
    rest <- as.vector(rowsum(e$diagonal, group))[group] - e$diagonal
    variance <- variance + (e$diagonal * (1 - q)^2 + rest * q^2) / b^2
  }
  out <- array(NA_real_, dim(layer$n))
  out[e$rows, e$columns] <- pmax(0, variance)
  out
}
