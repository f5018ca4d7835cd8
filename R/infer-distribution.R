# What else a number says, column by column: any quantile, ratios of two numbers, how
# unequal it is. All of them are figures of the cells' proportions, of which the door
# knows the variance.

# The weighted distribution in a column (of everybody without one): distinct values in
# their order, with their shares.
distribution_in <- function(layer, scores, column = NULL) {
  W <- if (is.null(column)) row_sums(layer$weighted) else layer$weighted[, column]
  at <- order(scores)
  at <- at[W[at] > 0]
  list(values = scores[at], share = W[at] / sum(W))
}

# A quantile with its interval (Francisco & Fuller 1991): all values whose cumulative
# share F does not differ from the asked one, q, by more than t standard errors, on
# the logit scale, where F is neither 0 nor 1. At a value that many have, F jumps, and
# q may lie within the jump; the interval then reaches the values on both sides. With
# `woodruff` it is the share's interval at the quantile, carried back (Woodruff 1952).
quantile_figures <- function(layer, scores, q, column, alpha, woodruff) {
  found <- distribution_in(layer, scores, column)
  if (!length(found$values))
    return(list(value = NA_real_, low = NA_real_, high = NA_real_))
  value <- quantiles_of(found$values, found$share, q)
  e <- layer$estimate
  within <- function(low, high) list(value = value, low = low, high = high)
  if (length(found$values) < 2L) return(within(NA_real_, NA_real_))
  upto <- cumsum(found$share)
  error_at <- function(k) {
    error_of_share(e, as.numeric(scores <= found$values[k]), column, alpha)
  }
  last <- length(upto)
  near <- error_at(min(which(upto >= q - 1e-12)))
  if (is.na(near$df) || near$df < 1) return(within(NA_real_, NA_real_))
  if (woodruff) {
    ends <- quantiles_of(found$values, found$share,
                         kept_between(q + c(-1, 1) * near$t * near$se, 0, 1))
    return(within(min(ends[1L], value), max(ends[2L], value)))
  }
  # by how many standard errors the share up to value k is below, or above, q
  beyond <- function(k, side) {
    reached <- upto[k]
    if (reached >= 1 - 1e-12) return(side < 0)
    one <- error_at(k)
    if (one$se <= 1e-10) return(side * (q - reached) > 0)
    off <- (stats::qlogis(q) - stats::qlogis(reached)) * reached * (1 - reached)
    side * off > one$t * one$se
  }
  # the first value up to which the share could be q; the first from which it is
  # surely more
  low <- first_where(last, function(k) !beyond(k, 1))
  high <- first_where(last, function(k) upto[k] > q && beyond(k, -1))
  within(min(found$values[low], value), max(found$values[high], value))
}

# The standard error of a share in a column, of which every row has as much as
# `below` says, with its degrees of freedom and their t.
error_of_share <- function(e, below, column, alpha) {
  one <- estimated(e, means_in(e, below, column))
  if (counts_were_drawn(e)) one$df <- Inf
  list(se = sqrt(one$variance), t = critical_t(alpha, max(1, one$df)), df = one$df)
}

# A quantile of a number that people round, from its grouped distribution: values
# are gathered in classes of one width round its multiples, within which people lie
# evenly. A share p is then a mean of scores, 1 below its class and, in it, as far as
# it goes; the interval reaches to the shares that do not differ from q by more than
# t standard errors (as above), whose values lie between those that occur.
grouped_quantile_figures <- function(layer, scores, q, column, alpha, class_width,
                                     woodruff) {
  # what lies half way between two belongs to the upper one
  class <- floor(scores / class_width + 0.5)
  found <- distribution_in(layer, class, column)
  classes <- unique(found$values)
  if (!length(classes)) return(list(value = NA_real_, low = NA_real_, high = NA_real_))
  share <- as.vector(rowsum(found$share, match(found$values, classes)))
  before <- c(0, cumsum(share))[seq_along(share)]
  class_at <- function(p) pmax(findInterval(p, before), 1L)
  within <- function(p) kept_between((p - before[class_at(p)]) / share[class_at(p)], 0, 1)
  value_at <- function(p) class_width * (classes[class_at(p)] - 0.5 + within(p))
  # between two classes that lie apart: the middle of what is between them
  at_share <- function(p) (value_at(p - 1e-12) + value_at(p + 1e-12)) / 2
  error_at <- function(p) {
    below <- (class < classes[class_at(p)]) + within(p) * (class == classes[class_at(p)])
    one <- error_of_share(layer$estimate, below, column, alpha)
    if (is.na(one$df) || one$df < 1) NA_real_ else one$t * one$se
  }
  half <- error_at(q)
  ends <- if (is.na(half)) c(NA_real_, NA_real_) else
    if (woodruff) kept_between(q + c(-1, 1) * half, 0, 1) else
    c(share_beyond(q, 1e-9, error_at), share_beyond(q, 1 - 1e-9, error_at))
  list(value = at_share(q), low = at_share(ends[1L]), high = at_share(ends[2L]))
}

# From q towards `far`: the share that is as far from q as it may lie by chance, on
# the logit scale.
share_beyond <- function(q, far, error_at) {
  beyond <- function(p) {
    abs(stats::qlogis(p) - stats::qlogis(q)) - error_at(p) / (p * (1 - p))
  }
  if (!isTRUE(beyond(far) > 0)) return(far)
  stats::uniroot(beyond, sort(c(q, far)), tol = 1e-7)$root
}

# The first of 1, ..., last of which something holds that holds of all after it.
first_where <- function(last, holds) {
  low <- 0L
  high <- last
  while (high - low > 1L) {
    middle <- (low + high) %/% 2L
    if (holds(middle)) high <- middle else low <- middle
  }
  high
}

# The Gini coefficient, D/m with D the mean difference of two people's values, halved,
# and m the mean, and its derivative by the people's shares p:
#   G = sum p_i p_j |y_i - y_j| / (2 m),  dG/dp_i = (sum_j p_j |y_i - y_j| - G y_i) / m
# (Langel & Tille 2013); and the share of all that the top part holds,
#   S = (sum p_i (y_i - c)+ + part c) / m,  dS/dp_i = ((y_i - c)+ - S y_i) / m
# with c the quantile above which they are.
inequality_figure <- function(e, scores, column, parts) {
  in_column <- as.vector(cells_of_columns(e, column))
  y <- scores[e$rows][row(e$P)]
  function(P) {
    weight <- as.vector(P) * in_column
    base <- sum(weight)
    p <- weight / base
    m <- sum(p * y)
    by_value <- order(y)
    reached <- cumsum(p[by_value])
    C <- cumsum((p * y)[by_value])
    apart <- numeric(length(y))
    apart[by_value] <- y[by_value] * (2 * reached - 1) + m - 2 * C
    G <- sum(p * apart) / (2 * m)
    found <- lapply(parts, function(part) {
      c <- quantiles_of(y, p, 1 - part)
      over <- pmax(y - c, 0)
      S <- (sum(p * over) + part * c) / m
      list(value = S, slope = (over - S * y) / m)
    })
    slopes <- cbind((apart - G * y) / m,
                    do.call(cbind, lapply(found, `[[`, "slope")))
    # by the proportions of the table: those in the column over its own
    centred <- slopes - rep(column_sums(p * slopes), each = length(y))
    part(c(G, vapply(found, `[[`, 0, "value")), centred * in_column / base,
         base = matrix(in_column, length(y), 1L + length(parts)))
  }
}
