# Samples drawn in several stages, and with unequal probabilities. The variance is the
# sum over stages of squares of the sums t of their units about a centre of their
# stratum, times a factor:
#   V = sum_i f_i (t_i - centre)^2 + sum_i rate_i (sum_k f_ik (t_ik - centre_i)^2 + ...)
# with weights that are the inverse of the inclusion probabilities (Saerndal, Swensson
# & Wretman 1992, 4.3): the second stage counts as far as the first took a known part
# of all there are. Where that part is not known nothing but the first stage counts:
# its units are ultimate clusters.
#
# A design in stages has, beside its `units`, which are those of the last stage,
#   stages     one a stage that counts: `of`, the stage's unit of every unit; and of
#              every unit of the stage its `stratum`, `factor`, what it weighs in the
#              centre (`centre`), whether it is `single` in its stratum, its `rate`
#   deciding   of every unit the `unit` and `stratum` that degrees of freedom count: of
#              the first stage that did not take all there are, or `certain`
#   single_of  names of the first stage's strata with a single unit

# Factors and weights of the centre for units drawn without replacement with the
# probabilities `rate`, those of 1 aside. With n units in the stratum:
#   hajek        (1 - rate) n/(n-1) about the mean weighted by 1 - rate (Hajek 1964)
#   brewer       (1 - rate) n/(n-1) about the mean (Brewer 2002, 9.27); with the
#                population's sum of squared rates estimated from the sample this is
#                what Hartley & Rao (1962) give
unequal_methods <- list(
  hajek = function(rate, n) {
    list(factor = (1 - rate) * n / (n - 1), centre = (1 - rate) / sum(1 - rate))
  },
  brewer = function(rate, n) {
    list(factor = (1 - rate) * n / (n - 1), centre = rep(1 / n, length(rate)))
  }
)

# What was said of the population, of every stage: numbers of units in the stratum, or
# the rates at which they were drawn, which are at most 1.
rate_of_units <- function(values, stratum, a, stage, names, call) {
  stop_population <- function(...) stop_input(c(...), "population", call = call)
  if (is.null(values)) return(numeric(length(stratum)))
  if (anyNA(values) || any(values <= 0))
    stop_population(tells("population_of_stage_known", stage))
  if (all(values <= 1)) return(values)
  differ <- tapply(values, stratum, function(x) length(unique(x)) > 1L)
  if (any(differ))
    stop_population(tells("population_one_number_a_stratum", stage,
                          names[match(which(differ)[1L], stratum)]))
  short <- which(values < a)
  if (length(short))
    stop_population(tells("population_fewer_sampled",
                          tells("in_stratum", names[short[1L]]),
                          format(values[short[1L]]), format_count(a[short[1L]])))
  a / values
}

# One stage: `of` the unit of every record in the sample, `within` the stratum of every
# unit, `values` what is known of the population.
new_stage <- function(within, values, multiplier, stage, how, names, call) {
  stratum <- match(within, unique(within))
  a <- tabulate(stratum)[stratum]
  rate <- rate_of_units(values, stratum, a, stage, names, call)
  n <- pmax(as.vector(rowsum(as.numeric(rate < 1), stratum))[stratum], 0)
  factor <- (1 - rate) * ifelse(a > 1, a / (a - 1), 0)
  centre <- 1 / a
  uneven <- as.vector(tapply(rate, stratum, function(x) diff(range(x)) > 1e-9))
  for (h in which(uneven)) {
    at <- which(stratum == h & rate < 1)
    if (length(at) > 1L) {
      found <- unequal_methods[[how$unequal]](rate[at], length(at))
      factor[at] <- found$factor
      centre[stratum == h] <- 0
      centre[at] <- found$centre
    }
  }
  single <- n == 1 & rate < 1
  factor[single] <- if (stage > 1L || how$single_cluster == "zero") 0 else
    1 - rate[single]
  list(stratum = stratum, factor = multiplier * factor, centre = centre,
       single = single, rate = rate, multiplier = multiplier)
}

# The survey with all stages of its design. `columns` are lists of the columns of
# strata, clusters and population, stage by stage.
with_stages <- function(survey, columns, how, call) {
  sampled <- which(sampled_in(survey))
  first <- survey$design$units
  unit <- (survey$unit %||% rep(1L, nrow(survey$data)))[sampled]
  within <- match(first$stratum, unique(first$stratum))
  label <- function(column) as.character(design_labels(column))[sampled]
  stages <- list(c(new_stage(within, by_unit(columns$population, 1L, unit, sampled, call),
                             rep(1, nrow(first)), 1L, how, first$stratum, call),
                   list(of = unit, parent = rep(1L, nrow(first)))))
  later <- max(length(columns$cluster), length(columns$population))
  for (s in seq_len(later)[-1L]) {
    before <- stages[[s - 1L]]
    own <- if (s <= length(columns$cluster)) label(columns$cluster[[s]]) else
      as.character(seq_along(sampled)) # everybody is a unit of their own
    of <- match_pairs(before$of, own)
    opens <- which(!duplicated(of))
    parent <- before$of[opens]
    within <- parent
    if (s <= length(columns$stratum))
      within <- paste(parent, label(columns$stratum[[s]])[opens])
    stages[[s]] <- c(
      new_stage(within, by_unit(columns$population, s, of, sampled, call),
                before$multiplier[parent] * before$rate[parent], s, how,
                first$cluster[stages[[1L]]$of[opens]], call),
      list(of = of, parent = parent))
  }
  design_of_stages(survey, stages, sampled)
}

# Which pair of values every element has, counted as they come.
match_pairs <- function(x, y) {
  key <- paste(x, y, sep = "\r")
  match(key, unique(key))
}

# The values of stage s by unit: NULL where nothing is said; one a unit.
by_unit <- function(columns, s, of, sampled, call) {
  if (s > length(columns)) return(NULL)
  values <- columns[[s]]
  if (!is.numeric(values) || is.factor(values))
    stop_input(tells("population_numbers"), "population", call = call)
  values <- as.vector(unclass(values))[sampled]
  first <- which(!duplicated(of))
  same <- is.na(values) | values == values[first][match(of, of[first])]
  if (!all(same %in% TRUE))
    stop_input(tells("population_one_value_a_unit", s), "population", call = call)
  values[first][order(of[first])]
}

# The design whose units are those of the last stage that counts.
design_of_stages <- function(survey, stages, sampled) {
  counts <- vapply(stages, function(stage) any(stage$multiplier > 0), NA)
  stages <- stages[seq_len(max(1L, which(counts)))]
  last <- stages[[length(stages)]]
  opens <- which(!duplicated(last$of))
  opens <- opens[order(last$of[opens])]
  first <- survey$design$units
  psu <- stages[[1L]]$of[opens]
  standing <- if (is.null(survey$count)) rep(1, length(sampled)) else
    survey$count[sampled]
  survey$design$units <- data.frame(
    stratum = first$stratum[psu], cluster = first$cluster[psu],
    sampled = as.vector(rowsum(standing, last$of)))
  survey$unit <- replace(rep(1L, nrow(survey$data)), sampled, last$of)
  survey$design$deciding <- deciding_units(stages, opens)
  single <- stages[[1L]]$single
  survey$design$single_of <- unique(first$stratum[single])
  survey$design$stages <- lapply(stages, function(stage) {
    c(list(of = stage$of[opens]),
      stage[c("stratum", "factor", "centre", "single", "rate", "multiplier", "parent")])
  })
  survey
}

# Degrees of freedom are counted where a choice was made: units of a stage that took
# all there are stand for strata of the next.
deciding_units <- function(stages, opens) {
  unit <- stratum <- rep(NA_character_, length(opens))
  for (s in seq_along(stages)) {
    of <- stages[[s]]$of[opens]
    open <- is.na(unit) & stages[[s]]$rate[of] < 1
    unit[open] <- paste(s, of[open])
    stratum[open] <- paste(s, stages[[s]]$stratum[of[open]])
  }
  list2DF(list(unit = match(unit, unique(unit)), stratum = match(stratum, unique(stratum)),
               certain = is.na(unit)))
}

# How many clusters of the first stage a design has.
first_stage_units <- function(design) {
  if (is.null(design$stages)) nrow(design$units) else
    length(design$stages[[1L]]$stratum)
}

# ---- replicates of several stages: factors, one row a unit of the last stage ----

# Every unit of every stage is left out once, the others of its stratum standing for
# it, with the stage's share of the variance as coefficient.
staged_jackknife <- function(stages) {
  parts <- lapply(stages, function(stage) {
    a <- tabulate(stage$stratum)[stage$stratum]
    used <- which(stage$factor > 0 & a > 1)
    factors <- vapply(used, function(u) {
      mates <- stage$stratum[stage$of] == stage$stratum[u]
      ifelse(stage$of == u, 0, ifelse(mates, a[u] / (a[u] - 1), 1))
    }, numeric(length(stage$of)))
    list(factors = factors, scale = stage$factor[used] * ((a[used] - 1) / a[used])^2)
  })
  list(factors = do.call(cbind, lapply(parts, `[[`, "factors")),
       scale = unlist(lapply(parts, `[[`, "scale")))
}

# Half of the units of each stratum of each stage, drawn without replacement and
# rescaled, so that the first two moments are right at every stage (Preston 2009,
# which extends Rao, Wu & Yue 1992): with lambda_s = sqrt(n* rate_1 ... rate_{s-1}
# (1 - rate_s) / (n - n*)) the factor is 1 + sum over s of lambda_s (the product
# over earlier stages of sqrt(n/n*) delta) (n/n* delta - 1).
staged_bootstrap <- function(stages, draws) {
  factors <- matrix(1, length(stages[[1L]]$of), draws)
  kept <- matrix(1, nrow(factors), draws)
  for (stage in stages) {
    n <- tabulate(stage$stratum)
    half <- pmax(1, n %/% 2L)
    delta <- matrix(0, length(stage$stratum), draws)
    for (h in seq_along(n)) {
      here <- which(stage$stratum == h)
      if (n[h] > 1L) for (b in seq_len(draws))
        delta[here[sample.int(n[h], half[h])], b] <- n[h] / half[h]
    }
    alone <- n[stage$stratum] == 1L
    lambda <- sqrt(half[stage$stratum] * stage$multiplier * (1 - stage$rate) /
                     pmax(1, n - half)[stage$stratum])
    if (any(alone)) {
      # a single unit adds its own square, or nothing
      adds <- stage$factor[alone] > 0
      delta[alone, ] <- 2 * stats::rbinom(sum(alone) * draws, 1L, 0.5)
      lambda[alone] <- sqrt(stage$factor[alone]) * adds
    }
    of <- stage$of
    factors <- factors + lambda[of] * kept * (delta[of, , drop = FALSE] - 1)
    share <- sqrt(half / n)[stage$stratum][of]
    kept <- kept * ifelse(alone[of], 1, delta[of, , drop = FALSE] * share)
  }
  factors
}

# Columns of a role stage by stage, in a list.
by_stage <- function(column) {
  if (is.null(column) || is.list(column) && !is.factor(column)) column else
    list(column)
}

# The labels of a column of the design, as a factor whose levels are in no order
# yet; NULL without a column.
design_labels <- function(x) {
  if (is.null(x)) return(NULL)
  if (inherits(x, "fairlattice_answers")) x <- plain_factor(x)
  found <- if (!is.factor(x)) different_values(x) else
    list(values = levels(x), codes = as.integer(x))
  labels <- readable(as.character(at_fifteen_digits(found$values)))
  labels[!is.na(labels) & !nzchar(trimws(labels))] <- NA
  known <- unique(labels[!is.na(labels)])
  structure(match(labels, known)[found$codes], levels = known, class = "factor")
}
