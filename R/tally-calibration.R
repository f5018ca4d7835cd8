# What the weights of a survey were calibrated to. A figure that the margins explain
# varies less from sample to sample than its weights seem to say; what varies are the
# residuals of a regression on the margins (Deville & Saerndal 1992). Here is what a
# survey remembers of that, and the sums by which R/table-scored.R takes the
# regression off.
#
# `survey$calibration` is a list of steps, in the order in which they were done, each with
#   label    what the margins are called
#   names    the columns that they are made of
#   x, of    auxiliary variables: one row a pattern that occurs, one column a
#            variable; and the pattern of every record
#   weight   every record's weight after the step (NULL: the survey's weight)
#   carry    by what x counts in a record's influence (NULL: that weight)
#   before   every record's weight before the step
#   again    how it was done, for replicate weights: see factors_again()
# A step that makes up for people who did not respond has another `carry`: their
# weight goes over to those who did.
new_calibration_step <- function(label, names, x, of, weight = NULL,
                                 carry = NULL) {
  list(label = label, names = names, x = x, of = of, weight = weight,
       carry = carry)
}

# The survey after one more step; those before keep the weights they made.
with_calibration_step <- function(survey, step, before) {
  earlier <- lapply(survey$calibration, function(one) {
    if (is.null(one$weight)) one$weight <- before
    if (is.null(one$carry)) one$carry <- one$weight
    one
  })
  step$before <- before
  survey$calibration <- c(earlier, list(step))
  with_calibration(survey)
}

# The steps of fewer records.
calibration_of_records <- function(steps, stays) {
  lapply(steps, function(step) {
    for (part in c("of", "weight", "carry", "before"))
      if (!is.null(step[[part]])) step[[part]] <- step[[part]][stays]
    step
  })
}

# The design with the sums that its calibration needs: to be made anew whenever
# records, weights or units change.
with_calibration <- function(survey) {
  survey$ready <- NULL
  survey$design$calibration <-
    if (length(survey$calibration) && is.null(survey$design$replicates))
      calibration_sums(survey)
  survey
}

# Of every record the auxiliary variables of all steps, and what their influence
# carries: matrices with one row a record; those outside of the sample have 0.
auxiliary_of <- function(survey) {
  steps <- survey$calibration
  own <- survey$weight %||% rep(1, nrow(survey$data))
  inside <- sampled_in(survey)
  per_record <- function(values) replace(values, !inside | is.na(values), 0)
  weight <- lapply(steps, function(step) per_record(step$weight %||% own))
  carry <- Map(function(step, weight) {
    if (is.null(step$carry)) weight else per_record(step$carry)
  }, steps, weight)
  x <- lapply(steps, function(step) step$x[step$of, , drop = FALSE] * inside)
  list(x = x, weight = weight, carried = Map(`*`, carry, x))
}

# Respondents that a row stands for, and by what the square of its mean weight
# falls short of the mean of the squares.
respondents_of_rows <- function(survey) {
  n <- survey$count %||% rep(1, nrow(survey$data))
  n[is.na(n)] <- 0
  sums <- survey$sums
  short <- if (is.null(sums$w2)) 1 else
    ifelse(sums$w > 0, sums$w2 * n / sums$w^2, 1)
  list(n = n, short = short)
}

#   solve      takes the sums of w x in a domain to the coefficients B of its regression
#   units      sums of the carried x in every design unit: one row a unit
#   squares    where every respondent is a cluster of their own: their products in
#              every unit
calibration_sums <- function(survey) {
  found <- auxiliary_of(survey)
  rows <- respondents_of_rows(survey)
  E <- do.call(cbind, found$carried)
  unit <- survey$unit %||% rep(1L, nrow(survey$data))
  units <- nrow(survey$design$units)
  list(solve = calibration_solver(found, rows$n),
       units = sums_by_group(E * rows$n, unit, units),
       squares = if (!survey$design$clustered)
         products_by_unit(E * sqrt(rows$n * rows$short), unit, units))
}

# What the margins are called, and their columns; NULL without any.
margins_of <- function(survey) {
  steps <- Filter(function(step) length(step$names), survey$calibration)
  all <- function(part) unique(unlist(lapply(steps, `[[`, part), use.names = FALSE))
  if (length(steps)) list(labels = all("label"), names = all("names"))
}

# From the last step to the first: the coefficients of step s are A_s^-1 (T_s - sum
# over later steps of C_sj B_j), with A_s = sum w_s x_s x_s', C_sj the products of x_s
# with what step j carries, and T_s the domain's sums of w x_s.
calibration_solver <- function(found, n) {
  sizes <- vapply(found$x, ncol, 0L)
  last <- cumsum(sizes)
  at <- Map(seq.int, last - sizes + 1L, last)
  L <- matrix(0, sum(sizes), sum(sizes))
  for (s in rev(seq_along(sizes))) {
    x <- found$x[[s]]
    own <- matrix(0, sizes[s], sum(sizes))
    own[, at[[s]]] <- diag(sizes[s])
    for (j in seq_along(sizes)[seq_along(sizes) > s])
      own <- own - crossprod(x * n, found$carried[[j]]) %*% L[at[[j]], , drop = FALSE]
    L[at[[s]], ] <- inverse_of(crossprod(x * (n * found$weight[[s]]), x)) %*% own
  }
  L
}

# The inverse of a matrix of products; margins that say the same twice leave
# directions in which it has none.
inverse_of <- function(A) {
  parts <- directions_of(A)
  V <- parts$vectors / parts$scale
  V %*% (t(V) / parts$values)
}

# The directions that a matrix of products has, on a scale on which it has ones down its
# diagonal.
directions_of <- function(A) {
  scale <- sqrt(diagonal_of(A))
  scale[scale <= 0] <- 1
  parts <- eigen(A / tcrossprod(scale), symmetric = TRUE)
  kept <- parts$values > 1e-9 * max(parts$values, 0)
  list(scale = scale, values = parts$values[kept],
       vectors = parts$vectors[, kept, drop = FALSE])
}

# Sums of the rows of M by group: one row a group, 0 where there is none of it.
sums_by_group <- function(M, group, groups) {
  storage.mode(M) <- "double"
  group_sums_kernel(M, as.integer(group), as.integer(groups))
}

products_by_unit <- function(E, unit, units) {
  found <- split(seq_len(nrow(E)), factor(unit, seq_len(units)))
  lapply(found, function(rows) crossprod(E[rows, , drop = FALSE]))
}

# ---- weights that came calibrated ----

# The margins that an argument names: columns, or "a:b"; with what is known of them
# where it is a list by their names (attribute `known`).
margins_named <- function(named, data, call) {
  known <- list_held(named)
  if (!is.null(known)) return(structure(names(known), known = known))
  margins <- names_held(named$expression, named$env, names(data))
  if (!is.null(margins) && (!is.character(margins) || anyNA(margins)))
    stop_input(c(tells("name_columns_not", "calibrated_to", said_as(named)),
                 i = tells("give_c_first_second_strings")), "column_name",
               call = call)
  margins
}

# The named list that an argument is, or holds; NULL of anything else.
list_held <- function(named) {
  expression <- named$expression
  held <- if (is.list(expression)) expression else
    if (is_call_of(expression, "list") || is.symbol(expression))
      tryCatch(eval(expression, named$env), error = function(e) NULL)
  if (is.list(held) && !is.data.frame(held) && length(held) && !is.null(names(held))) held
}

# Whether what is known of a margin are numbers of people, by what they add up to;
# shares add up to 1 or 100.
are_people <- function(total) total > 200

# Whether the weights hold what is said to be known of their margins: shares or numbers
# of people by answer, or the sum of a number, to half a percent.
check_known_margins <- function(survey, known, call) {
  inside <- sampled_in(survey)
  w <- ifelse(inside, survey$weight * respondents_of_rows(survey)$n, 0)
  w[is.na(w)] <- 0
  stop_margin <- function(name, answer, found, asked) {
    stop_input(c(tells("margin_not_held", name, answer, format(signif(found, 4)),
                       format(asked)), i = tells("margin_not_held_how")),
               "calibration", call = call)
  }
  for (name in names(known)) {
    asked <- known[[name]]
    if (!is.numeric(asked) || !length(asked) || anyNA(asked))
      stop_input(tells("margin_of_numbers", name), "calibration", call = call)
    if (is.null(names(asked))) {
      found <- sum(w * numbers_alone(survey$data[[name]]), na.rm = TRUE)
      if (abs(found / asked - 1) > 0.005) stop_margin(name, "", found, asked)
      next
    }
    answers <- as.character(plain_factor(as_answers(survey$data[[name]], name, call)))
    sums <- vapply(names(asked), function(one) sum(w[answers %in% one]), 0)
    scale <- if (are_people(sum(asked))) 1 else sum(asked) / sum(sums)
    off <- which(abs(sums * scale - asked) > 0.005 * sum(asked))
    if (length(off))
      stop_margin(name, names(asked)[off[1L]], sums[off[1L]] * scale, asked[off[1L]])
  }
}

# The survey that knows which margins its weights were calibrated to before they
# came here: answers as they are, numbers as their sums, "a:b" the answers of two
# questions together.
calibrated_before <- function(survey, margins, call) {
  if (is.null(margins)) return(survey)
  columns <- unique(unlist(lapply(margins, margin_columns, names(survey$data))))
  for (name in columns) check_column(name, survey$data, "calibrated_to", call)
  if (is.null(survey$roles$weight) && !length(survey$asked$replicates))
    stop_input(c(tells("calibrated_to_needs_weight"),
                 i = tells("weigh_to_calibrates")), "calibration", call = call)
  told <- list(margins = as.vector(margins))
  if (is_far(survey)) {
    out <- later(survey, list(uses = columns, run = function(survey) {
      calibrated_before(survey, margins, call)
    }))
    return(noted(out, survey, "calibrated_to", told))
  }
  if (!is.null(attr(margins, "known")))
    check_known_margins(survey, attr(margins, "known"), call)
  parts <- lapply(margins, margin_of, data = survey$data, call = call)
  auxiliary <- auxiliary_patterns(parts)
  weight <- survey$weight %||% rep(1, nrow(survey$data))
  step <- new_calibration_step(vapply(parts, `[[`, "", "label"),
                               unlist(lapply(parts, `[[`, "names")),
                               auxiliary$x, auxiliary$of)
  inside <- which(sampled_in(survey))
  sums <- (weight * respondents_of_rows(survey)$n)[inside]
  goal <- column_sums(sums * auxiliary$x[auxiliary$of[inside], , drop = FALSE])
  step$again <- list(goal = goal, people = sum(sums),
                     scale = pmax(abs(goal), 1e-300),
                     per_person = rep(FALSE, length(goal)),
                     how = list(method = "raking", rounds = 50L, tolerance = 1e-6))
  noted(with_calibration_step(survey, step, weight), survey, "calibrated_to",
        told)
}

margin_of <- function(margin, data, call) {
  names <- margin_columns(margin, names(data))
  columns <- lapply(names, function(name) data[[name]])
  label <- paste(mapply(title_of, columns, names), collapse = " \u00d7 ")
  if (length(names) == 1L && is_sum(columns[[1L]])) {
    value <- as.numeric(numbers_alone(columns[[1L]]))
    return(list(label = label, names = names, at = NULL,
                variables = function(rows) cbind(replace(value, is.na(value), 0)[rows]),
                key = value))
  }
  at <- joint_answers(columns, names, call)
  list(label = label, names = names, at = at, key = at,
       variables = function(rows) indicators(at[rows], max(at, 1L, na.rm = TRUE)))
}

# A column of numbers that stand for themselves.
is_sum <- function(x) {
  is.numeric(x) && !is.factor(x) && !length(answer_labels(x))
}

# "a:b" is two columns, unless one is called so.
margin_columns <- function(margin, columns) {
  if (margin %in% columns) margin else strsplit(margin, ":", fixed = TRUE)[[1L]]
}

# Which combination of answers every record has; NA without an answer to one.
joint_answers <- function(columns, names, call) {
  codes <- Map(function(column, name) {
    answers <- plain_factor(as_answers(column, name, call))
    as.character(answers)
  }, columns, names)
  key <- do.call(paste, c(unname(codes), sep = "\r"))
  key[Reduce(`|`, lapply(codes, is.na))] <- NA
  match(key, sort(unique(key), method = "radix"))
}

indicators <- function(at, size) {
  out <- matrix(0, length(at), size)
  placed <- which(!is.na(at))
  out[cbind(placed, at[placed])] <- 1
  out
}

# The patterns of several margins: variables are worked out once for each.
auxiliary_patterns <- function(parts) {
  key <- do.call(paste, c(lapply(parts, function(part) part$key), sep = "\r"))
  first <- which(!duplicated(key))
  list(x = do.call(cbind, lapply(parts, function(part) part$variables(first))),
       of = match(key, key[first]))
}
