# Calibration: factors F(x'b) on the base weights so that weighted sums of x are what
# they are known to be (Deville & Saerndal 1992). Each method is F with its
# derivative at u = x'b; F(0) = F'(0) = 1.
calibration_methods <- list(
  raking = function(u, limits) {
    f <- exp(kept_between(u, -50, 50))
    list(f = f, slope = f)
  },
  linear = function(u, limits) list(f = 1 + u, slope = rep(1, length(u))),
  # between L and U: L(U-1) + U(1-L) e^Au over (U-1) + (1-L) e^Au
  logit = function(u, limits) {
    L <- limits[1L]
    U <- limits[2L]
    A <- (U - L) / ((1 - L) * (U - 1))
    e <- exp(kept_between(A * u, -50, 50))
    f <- (L * (U - 1) + U * (1 - L) * e) / (U - 1 + (1 - L) * e)
    list(f = f, slope = A * (f - L) * (U - f) / (U - L))
  }
)

# Factors that other methods would put beyond the limits stay at them.
factors_at <- function(u, how) {
  found <- calibration_methods[[how$method]](u, how$limits)
  if (is.null(how$limits) || how$method == "logit") return(found)
  beyond <- found$f < how$limits[1L] | found$f > how$limits[2L]
  found$f <- kept_between(found$f, how$limits[1L], how$limits[2L])
  found$slope[beyond] <- 0
  found
}

# Newton's method on the sums of every pattern, a step being halved until it comes
# nearer, and on until it comes no nearer. `auxiliary` has the variables `x` by
# pattern, what their weighted sums are to be (`goal`), what a gap of each is told
# as a share of (`scale`), and whether numbers of people are known (`people`); else
# the sum of the weights is kept. `of` is the pattern of every row of `base`.
calibrate <- function(base, n, auxiliary, of, how) {
  patterns <- seq_len(nrow(auxiliary$x))
  d <- as.vector(rowsum(c(base * n, numeric(length(patterns))), c(of, patterns)))
  x <- auxiliary$x
  goal <- auxiliary$goal
  people <- auxiliary$people %||% sum(d)
  scale <- auxiliary$scale * ifelse(auxiliary$per_person, people, 1)
  if (is.null(auxiliary$people)) {
    x <- cbind(1, x)
    goal <- c(sum(d), goal)
    scale <- c(sum(d), scale)
  }
  at_coefficients <- function(b) {
    at <- factors_at(as.vector(x %*% b), how)
    off <- goal - as.vector(crossprod(x, d * at$f))
    c(at, list(b = b, off = off, gap = max(abs(off / scale))))
  }
  at <- at_coefficients(numeric(ncol(x)))
  for (round in seq_len(how$rounds)) {
    slopes <- crossprod(x * (d * at$slope), x)
    step <- as.vector(inverse_of(slopes) %*% at$off)
    nearer <- nearer_by(at, step, scale, at_coefficients)
    if (is.null(nearer)) break
    at <- nearer
    if (at$gap <= 1e-6 * how$tolerance) break
  }
  factor <- at$f[of]
  converged <- at$gap <= how$tolerance
  if (!converged && !is.null(how$limits) && is.null(auxiliary$people))
    factor <- factors_within(factor, base * n, how$limits)
  list(factor = factor, converged = converged, rounds = round, gap = at$gap)
}

# The coefficients after a step, or after half of it, and so on; NULL where none is
# nearer to the goal.
nearer_by <- function(at, step, scale, at_coefficients) {
  for (halves in 0:20) {
    new <- at_coefficients(at$b + step / 2^halves)
    if (sum((new$off / scale)^2) < sum((at$off / scale)^2)) return(new)
  }
  NULL
}

# Factors cut to the limits, and scaled so that the weights still add up to what
# they did.
factors_within <- function(factor, base, limits) {
  cut <- function(scale) pmin(pmax(scale * factor, limits[1L]), limits[2L])
  off <- function(log_scale) sum(base * cut(exp(log_scale))) - sum(base)
  some <- factor > 0
  if (!any(some)) return(factor)
  ends <- log(c(limits[1L], limits[2L])) - log(rev(range(factor[some])))
  ends[!is.finite(ends)] <- c(-50, 50)[!is.finite(ends)]
  if (off(ends[1L]) >= 0) return(cut(exp(ends[1L])))
  if (off(ends[2L]) <= 0) return(cut(exp(ends[2L])))
  cut(exp(stats::uniroot(off, ends, tol = 1e-13)$root))
}

# The factors of all rows: calibrated, and where weights are trimmed calibrated
# again after each cut, until nothing is left to be cut.
calibrated_rows <- function(base, n, use, auxiliary, how) {
  factor <- rep(1, length(base))
  own <- list(base = base[use], n = n[use], of = auxiliary$of[use])
  fit <- calibrate(own$base, own$n, auxiliary, own$of, how)
  weight <- own$base * fit$factor
  settled <- is.null(how$trim)
  for (round in seq_len(if (settled) 0L else how$rounds)) {
    mean <- sum(own$n * weight) / sum(own$n)
    cut <- kept_between(weight, how$trim[1L] * mean, how$trim[2L] * mean)
    settled <- all(abs(cut - weight) <= how$tolerance * mean)
    if (settled) break
    fit <- calibrate(cut, own$n, auxiliary, own$of, how)
    weight <- cut * fit$factor
  }
  factor[use] <- weight / own$base
  list(factor = factor, converged = fit$converged && settled,
       rounds = fit$rounds, gap = fit$gap)
}

# ---- the same of replicate weights ----

# Replicate weights after the steps of a calibration, each replicate by itself:
# columns of their own, whatever they were before. `weights` gives those of
# replicate r before the steps.
calibrated_replicates <- function(survey, weights, steps) {
  design <- survey$design$replicates
  use <- survey$aside %||% integer(nrow(survey$data)) == 0L
  n <- respondents_of_rows(survey)$n
  columns <- lapply(seq_along(design$scale), function(r) {
    Reduce(function(weight, step) weight * factors_again(step, weight, n, use),
           steps, weights(r))
  })
  names <- paste0("\rcalibrated", seq_along(columns))
  design["factors"] <- list(NULL)
  design$names <- names
  list(names = names, columns = columns, design = design)
}

# The survey whose replicates were made of its design, with each calibrated as its
# weights were.
with_steps_again <- function(survey) {
  base <- survey$calibration[[1L]]$before
  made <- calibrated_replicates(survey, replicate_weights(survey, base),
                                survey$calibration)
  survey$data[made$names] <- made$columns
  survey$replicates <- made$names
  survey$design$replicates <- made$design
  with_calibration(survey)
}

# The weights of a replicate as they are.
replicate_weights <- function(survey, base) {
  factors <- survey$design$replicates$factors
  function(r) {
    if (is.null(factors)) as.numeric(survey$data[[survey$replicates[r]]]) else
      base * factors[survey$unit, r]
  }
}

# What a step does to other weights: `again` has how it was done.
factors_again <- function(step, weight, n, use) {
  again <- step$again
  if (!is.null(again$responded)) {
    found <- response_factors(weight * n, again$class, again$responded)
    return(replace(found, !is.finite(found), 0))
  }
  some <- use & !is.na(weight) & weight > 0
  auxiliary <- c(step[c("x", "of")], again[c("goal", "scale", "per_person", "people")])
  calibrated_rows(weight, n, some, auxiliary, again$how)$factor
}

# In every class the weights of all go to those who responded; NA where a class
# has nobody who did.
response_factors <- function(weight, class, responded) {
  weight[is.na(weight)] <- 0
  all <- rowsum(weight, class)[, 1L]
  there <- rowsum(weight * responded, class)[, 1L]
  unname((all / there)[as.character(class)]) * responded
}
