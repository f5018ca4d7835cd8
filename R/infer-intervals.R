# Intervals: of a share, of a difference of two, of ratios, and of what a
# noncentral distribution says.

# (p + z^2/2n +- z sqrt(p(1-p)/n + z^2/4n^2)) / (1 + z^2/n) (Wilson 1927)
wilson_interval <- function(p, n, alpha) {
  z2 <- stats::qnorm(1 - alpha / 2)^2
  middle <- (p + z2 / (2 * n)) / (1 + z2 / n)
  half_width <- sqrt(z2 * (p * (1 - p) / n + z2 / (4 * n^2))) / (1 + z2 / n)
  list(low = ifelse(p == 0, 0, middle - half_width),
       high = ifelse(p == 1, 1, middle + half_width))
}

# The usual interval of a share: Wilson's where the counts were drawn, else on
# the logit scale with the variance of the design. None where there is no
# estimate.
share_interval <- function(p, n, variance, df, alpha, e) {
  if (is.null(e)) return(list(low = p, high = p))
  if (counts_were_drawn(e)) wilson_interval(p, n, alpha) else
    logit_interval(p, variance, df, alpha)
}

# Clopper & Pearson's (1934) limits, which are quantiles of beta distributions,
# on n or the effective base (Korn & Graubard 1998). Where nobody or everybody
# is in the cell there is no variance, so the base is n over the design effect
# of the table.
binomial_interval <- function(p, n, variance, df, alpha, effect, e) {
  if (is.null(e)) return(list(low = p, high = p))
  if (!counts_were_drawn(e)) {
    ratio <- (critical_t(alpha, pmax(n - 1, 1)) / critical_t(alpha, df))^2
    known <- !is.na(variance) & variance > 0 & p > 0 & p < 1
    n <- ifelse(known, pmin(n, p * (1 - p) / variance * ratio),
                pmin(n, n / effect * ratio))
    p[df < 1] <- NA_real_
  }
  x <- p * n
  list(low = ifelse(p == 0, 0, stats::qbeta(alpha / 2, x, n - x + 1)),
       high = ifelse(p == 1, 1, stats::qbeta(1 - alpha / 2, x + 1, n - x)))
}

# On the logit scale; a share of exactly 0 or 1 has none, nor one without a
# variance: that of people who all live in one cluster, of which the sample says
# nothing about others.
logit_interval <- function(p, variance, df, alpha) {
  p[!(p > 0 & p < 1 & variance > 1e-20)] <- NA_real_
  half_width <- critical_t(alpha, df) * sqrt(variance) / (p * (1 - p))
  middle <- stats::qlogis(p)
  list(low = stats::plogis(middle - half_width),
       high = stats::plogis(middle + half_width))
}

# Newcombe (1998), method 10: the distances of Wilson's limits, added in
# squares.
newcombe_interval <- function(p1, n1, p2, n2, alpha) {
  one <- wilson_interval(p1, n1, alpha)
  two <- wilson_interval(p2, n2, alpha)
  d <- p1 - p2
  list(low = d - sqrt((p1 - one$low)^2 + (two$high - p2)^2),
       high = d + sqrt((one$high - p1)^2 + (p2 - two$low)^2))
}

# The same, but for differences of which it says otherwise than the test: theirs
# is the interval that the test would not reject.
newcombe_as_tested <- function(p1, n1, p2, n2, z, t, alpha) {
  out <- newcombe_interval(p1, n1, p2, n2, alpha)
  off <- which((out$low > 0 | out$high < 0) != (abs(z) > t))
  if (!length(off)) return(out)
  at <- function(x) rep_len(x, length(z))[off]
  tested <- score_interval(p1[off], at(n1), p2[off], at(n2), at(t))
  out$low[off] <- tested$low
  out$high[off] <- tested$high
  out
}

# All differences that the test with the constrained variance (Miettinen &
# Nurminen 1985) would not reject, its variance times a design effect: at a
# difference of 0 that is the variance with the pooled share, so the interval
# leaves 0 when the test rejects. `t` is in standard errors.
score_interval <- function(p1, n1, p2, n2, t, effect = 1) {
  d <- p1 - p2
  beyond <- function(at) {
    abs(d - at) > t * sqrt(effect * constrained_variance(p1, n1, p2, n2, at))
  }
  # the lower ends of all, then the upper ones
  inner <- rep(d, 2L)
  outer <- rep(c(-1, 1), each = length(d))
  for (step in 1:50) {
    middle <- (inner + outer) / 2
    out <- beyond(middle)
    outer <- ifelse(out, middle, outer)
    inner <- ifelse(out, inner, middle)
  }
  ends <- (inner + outer) / 2
  low <- seq_along(d)
  list(low = ends[low], high = ends[-low])
}

# The variance of a difference of two shares, if the shares were those most likely
# at a difference of `at`.
constrained_variance <- function(p1, n1, p2, n2, at) {
  shares <- constrained_shares(p1, n1, p2, n2, at)
  pmax(shares$first * (1 - shares$first) / n1 +
         shares$second * (1 - shares$second) / n2, 0)
}

# The most likely shares whose difference is `at`: the root of a cubic
# (Farrington & Manning 1990, appendix).
constrained_shares <- function(p1, n1, p2, n2, at) {
  theta <- n2 / n1
  a <- 1 + theta
  b <- -(1 + theta + p1 + theta * p2 + at * (theta + 2))
  c <- at^2 + at * (2 * p1 + theta + 1) + p1 + theta * p2
  d <- -p1 * at * (1 + at)
  v <- b^3 / (27 * a^3) - b * c / (6 * a^2) + d / (2 * a)
  u <-
    c(1, -1)[1L + (v < 0)] * sqrt(not_negative(b^2 / (9 * a^2) - c / (3 * a)))
  ratio <- v / u^3
  ratio[u == 0] <- 0
  w <- (pi + acos(kept_between(ratio, -1, 1))) / 3
  first <- kept_between(2 * u * cos(w) - b / (3 * a), 0, 1)
  list(first = first, second = kept_between(first - at, 0, 1))
}

# The noncentrality at which F on d1, d2 (d2 = Inf: chi-square / d1) is at most
# `f` with the probability p(noncentrality); 0 when even a noncentrality of 0
# makes that less probable, NA when it is beyond 10^12. On the root of the
# noncentrality the normal quantile of that probability is all but a straight
# line, so a few secant steps find it, from the end of equal tails of
# `start_tail`; a search between ends does when they do not.
noncentrality_at <- function(f, d1, d2, p, start_tail) {
  if (noncentral_f_below(f, d1, d2, 0) <= p(0)) return(0)
  off <- function(root) {
    stats::qnorm(noncentral_f_below(f, d1, d2, root^2)) - stats::qnorm(p(root^2))
  }
  goal <- stats::qnorm(start_tail)
  x0 <- max(sqrt(f * d1) - 0.5 * goal, 0.05)
  x1 <- max(sqrt(f * d1) - 1.5 * goal, 0.1)
  y0 <- off(x0)
  y1 <- off(x1)
  for (step in 1:12) {
    if (!is.finite(y0) || !is.finite(y1) || y0 == y1) break
    new <- x1 - y1 * (x1 - x0) / (y1 - y0)
    if (!is.finite(new) || new < 0) break
    x0 <- x1
    y0 <- y1
    x1 <- new
    if (abs(x1 - x0) <= 1e-10 * (1 + x1)) return(x1^2)
    y1 <- off(x1)
  }
  below <- function(ncp) noncentral_f_below(f, d1, d2, ncp) - p(ncp)
  near <- 0
  far <- max(10, f * d1)
  while (below(far) > 0) {
    if (far > 1e12) return(NA_real_)
    near <- far
    far <- 2 * far
  }
  stats::uniroot(below, c(near, far), tol = 1e-9 * far)$root
}

# Both ends of the noncentrality, with unequal tails (Puza & O'Neill 2006): the
# lower tail is a = (alpha/2) (power - alpha) / (1 - alpha), with the power of
# the test at that noncentrality, so that it is 0 at 0 and alpha/2 far out. The
# lower end is 0 exactly where the test does not reject. A statistic smaller than
# in all but `alpha` of the tables without any association says no more than one
# of that size.
noncentral_ends <- function(f, d1, d2, alpha) {
  critical <- stats::qf(1 - alpha, d1, d2)
  tail <- function(ncp) {
    power <- 1 - noncentral_f_below(critical, d1, d2, ncp)
    alpha / 2 * not_negative(power - alpha) / (1 - alpha)
  }
  c(noncentrality_at(f, d1, d2, function(ncp) 1 - alpha + tail(ncp),
                     1 - alpha / 2),
    noncentrality_at(max(f, stats::qf(alpha, d1, d2)), d1, d2, tail, alpha / 2))
}

# P(F <= f). The series of stats::pf slows down and then fails to converge for
# large noncentralities; from 10,000 on Patnaik's (1949) central form is right
# to 0.0003 where p is 0.025.
noncentral_f_below <- function(f, d1, d2, ncp) {
  if (ncp >= 1e4)
    return(stats::pf(f * d1 / (d1 + ncp), (d1 + ncp)^2 / (d1 + 2 * ncp), d2))
  if (is.infinite(d2)) return(stats::pchisq(f * d1, d1, ncp))
  stats::pf(f, d1, d2, ncp)
}

# An interval that leaves 0 exactly where the test does: `estimate` over
# `se_null`, its standard error where 0 is true, is the ratio of the test, and
# `se` is the standard error at the estimate. Where estimate +- t se says
# otherwise than the test, the end next to 0 is where the distance is t standard
# errors, their square between the two in proportion to the way to 0.
interval_as_tested <- function(estimate, se, se_null, t) {
  ends <- estimate + c(-1, 1) * t * se
  rejected <- abs(estimate) > t * se_null
  if (is.na(rejected) || (prod(ends) > 0) == rejected) return(ends)
  size <- abs(estimate)
  slope <- t^2 * (se_null^2 - se^2) / size
  way <- if (rejected) (slope + sqrt(slope^2 + 4 * t^2 * se^2)) / 2 else
    t * se_null
  ends[if (estimate > 0) 1L else 2L] <- sign(estimate) * (size - way)
  ends
}

# Of a ratio on the log scale; `z` is the ratio of the test that it is 1, NA
# where there is none.
log_interval <- function(ratio, se, z, alpha, df) {
  at_one <- if (is.na(z) || z == 0) se else abs(log(ratio) / z)
  exp(interval_as_tested(log(ratio), se, at_one, critical_t(alpha, df)))
}

# On the scale of the inverse hyperbolic tangent (Fisher 1921), for figures
# between -1 and 1, with the ratio `z` of the test of zero.
arctanh_interval <- function(estimate, se, z, alpha, df) {
  middle <- atanh(estimate)
  at_zero <- if (is.na(z) || z == 0) se else abs(middle / z)
  tanh(interval_as_tested(middle, se / (1 - estimate^2), at_zero,
                          critical_t(alpha, df)))
}

# Ends of an interval of a figure's size: 0 where the figure's own interval
# holds 0.
folded <- function(ends) {
  c(if (prod(ends) <= 0) 0 else min(abs(ends)), max(abs(ends)))
}

# The interval of a scale s of which n s is chi-square on d at independence,
# under a design the corrected second-order F after division by the sum of its
# design effects, and the scale `corrected` for what chance makes of it. All
# noncentralities that the statistic would not reject take the variance of the
# root of the statistic to be that of a noncentral chi-square, which is false
# where associated answers are rare; so the ends are stretched about the centre c
# by what the variance of the root really is, kappa, from the delta method: c -
# root(kappa) (c - root(L)) and c + root(kappa) (root(U) - c). The lower end is 0
# exactly where L is: where stretching would bring it there, it is stretched on
# the logarithmic scale.
stretched_interval <- function(value, variance, n, effect, alpha) {
  d1 <- effect$df_corrected
  a <- effect$sum / d1
  f <- max(0, n * value) / effect$sum
  roots <- sqrt(noncentral_ends(f, d1, effect$df_error, alpha))
  centre <- sqrt(max(f * d1 - d1, 0))
  kappa <- if (value > 0 && variance > 1e-18)
    n * variance / (4 * value) / a else 1
  ends <- centre + sqrt(kappa) * (roots - centre)
  if (roots[1L] == 0) ends[1L] <- 0 else
    if (ends[1L] <= 0) ends[1L] <- centre * (roots[1L] / centre)^sqrt(kappa)
  ends[2L] <- max(ends[2L], centre)
  c(ends^2, centre^2) * a / n
}
