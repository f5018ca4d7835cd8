#' Weights that bring the sample to what is known of the population
#'
#' Calibration: the weights are changed as little as possible so that the sample
#' agrees with known margins. Base weights are respected: what is multiplied is
#' the survey's weight (1 without one). The survey remembers its margins, and
#' the variance of every figure afterwards is that of what they leave
#' unexplained, the residuals of a regression on them (Deville & Särndal 1992):
#' a figure of a margin itself has none. Replicate weights are calibrated
#' anew, each by itself.
#'
#' A target is one of
#'
#' * shares of answers, a named numeric vector that adds up to 1 or 100, or
#'   numbers of people, one that adds up to more than 200;
#' * of several questions at once (post-stratification), a data frame of their
#'   answers and a column `share` or `count`;
#' * of a number, its sum in the population (a single number) or its mean
#'   (`c(mean = 2.4)`).
#'
#' Without numbers of people the sum of the weights is kept. Whoever lacks an
#' answer to a question is in none of its answers: shares are then those of the
#' people who answered.
#'
#' @param survey (survey or data frame) From [respondents()].
#' @param targets (list) Targets, under the question's name where it is one.
#' @param method ("raking", "linear" or "logit", default "raking") By what the
#'   base weights are multiplied: exp(x'b), which is raking; 1 + x'b, the
#'   generalised regression estimator; or a logistic curve between the `limits`.
#' @param limits (two numbers, default none) Least and greatest factor that a
#'   base weight may be multiplied by. `"logit"` needs them.
#' @param trim (two numbers, default none) Least and greatest weight, in mean
#'   weights: what is beyond is cut, and the rest is calibrated again, until both
#'   hold.
#' @param by ("respondent" or "cluster", default "respondent") Whether everybody
#'   has a factor of their own, or all members of a cluster share one
#'   (integrated weights).
#' @param rounds (integer, default 200) Most rounds.
#' @param tolerance (number, default 1e-6) Greatest gap between a share and its
#'   target that counts as none.
#' @param into (string, default "weighed") Column of the new weights.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return The survey with the new weights; attribute `weighing` is a list:
#'   `converged`, `rounds`, `gap` (greatest, in share, 0-1), `design_effect` (n /
#'   Kish's effective base, before and after), `factors` (range), `unplaced`
#'   (records without an answer to some target).
#' @section Errors: `fairlattice_error_target`: an unknown answer, one without a
#'   share, shares that do not add up, numbers of people that add up to
#'   different totals, a target that nobody in the sample can meet, and weights
#'   below 0.
#' @references Deville J-C, Särndal C-E (1992) J Amer Statist Assoc 87:376-382.
#'   Deville J-C, Särndal C-E, Sautory O (1993) J Amer Statist Assoc
#'   88:1013-1020. Deming WE, Stephan FF (1940) Ann Math Statist 11:427-444.
#'   Lemaître G, Dufour J (1987) Survey Methodology 13:199-207 (integrated
#'   weights).
#' @export
#' @examples
#' survey <- respondents(demo_records(), stratum = island, cluster = settlement)
#' survey <- weigh_to(survey, list(
#'   island = c(Norrey = 40, Sandholm = 24, "Harrow Skerry" = 17, Tarn = 12, "Outer Veyra" = 7),
#'   leave = c(Yes = 36, No = 64)))
#' attr(survey, "weighing")$design_effect
#' shares(crosstab(survey, leave))
weigh_to <- function(survey, targets, method = c("raking", "linear", "logit"),
                     limits = NULL, trim = NULL, by = c("respondent", "cluster"),
                     rounds = 200L, tolerance = 1e-6, into = "weighed", ...) {
  nothing_else(...)
  call <- environment()
  survey <- as_survey(survey)
  method <- first_of(method)
  by <- first_of(by)
  check_weighing(targets, method, limits, trim, by, survey, call)
  if (is_far(survey) && !is.null(survey$asked$replicates))
    stop_needs_records(tells("calibrating_replicate_weights"), survey, call)
  questions <- unique(unlist(Map(target_questions, targets,
                                 names(targets) %||% list(NULL))))
  check_whole(rounds, "rounds", 1, call)
  check_number(tolerance, "tolerance", 0, 1, call)
  how <- list(targets = targets, method = method, limits = limits, trim = trim,
              by = by, rounds = rounds, tolerance = tolerance)
  rows <- if (is_far(survey))
    grounded(survey, intersect(questions, names(survey$data)), call) else survey
  found <- calibrated_factors(rows, how, call)
  out <- if (is_far(survey))
    later(survey, weighing_step(rows, questions, found, how, into, call)) else
    with_weights(survey, found, how, into, call)
  out <- noted(out, survey, "weigh_to",
               c(list(targets = targets_written(targets)), how[-1L], list(into = into)))
  attr(out, "weighing") <- found$weighing
  if (!found$weighing$converged) {
    rlang::warn(c(spoken(tells("weights_did_not_settle", found$weighing$rounds,
                               format(found$weighing$gap, digits = 2))),
                  i = spoken(tells("loosen_limits"))),
                  class = "fairlattice_warning_not_settled")
  }
  out
}

# ---- targets as plans, commands and files write them ----

# Lists of numbers by answer, under the question's name; of several questions at once lists
# within lists under their names with colons.
targets_written <- function(targets) {
  own <- names(targets) %||% rep("", length(targets))
  questions <- Map(target_questions, targets, own)
  written <- Map(function(target, questions) {
    if (is.data.frame(target))
      return(nested(target[questions], target[[setdiff(names(target), questions)[1L]]]))
    if (length(target) == 1L && is.null(names(target))) target else as.list(target)
  }, targets, questions)
  stats::setNames(written, vapply(questions, paste, "", collapse = ":"))
}

nested <- function(answers, numbers) {
  if (!length(answers)) return(numbers)
  first <- as.character(answers[[1L]])
  lapply(split(seq_along(first), factor(first, unique(first))), function(at) {
    nested(lapply(answers[-1L], `[`, at), numbers[at])
  })
}

# The same as weigh_to() takes them.
targets_read <- function(written) {
  read <- Map(function(target, name) {
    flat <- flat_target(target)
    if (is.null(flat$path[[1L]])) return(flat$number)
    if (max(lengths(flat$path)) < 2L)
      return(stats::setNames(flat$number, unlist(flat$path)))
    questions <- strsplit(name, ":", fixed = TRUE)[[1L]]
    if (any(lengths(flat$path) != length(questions)))
      stop_input(tells("target_levels", name), "target", call = NULL)
    answers <- lapply(seq_along(questions), function(k) vapply(flat$path, `[[`, "", k))
    list2DF(stats::setNames(c(answers, list(flat$number)),
                            c(questions, if (sum(flat$number) > 200) "count" else "share")))
  }, written, names(written))
  stats::setNames(read, ifelse(vapply(read, is.data.frame, NA), "", names(written)))
}

# The numbers of a target, and the answers that lead to each (NULL: none).
flat_target <- function(target, path = NULL) {
  if (!is.list(target))
    return(list(number = suppressWarnings(as.numeric(target)), path = list(path)))
  parts <- Map(function(one, name) flat_target(one, c(path, name)), target, names(target))
  list(number = unlist(lapply(parts, `[[`, "number"), use.names = FALSE),
       path = unlist(lapply(unname(parts), `[[`, "path"), recursive = FALSE))
}

check_weighing <- function(targets, method, limits, trim, by, survey, call) {
  if (!is.list(targets) || !length(targets))
    stop_input(tells("targets_list_shares_named_question"), "target",
               call = call)
  check_choice(method, names(calibration_methods), "method", call)
  check_choice(by, c("respondent", "cluster"), "by", call)
  check_bounds(limits, "limits", call)
  check_bounds(trim, "trim", call)
  if (method == "logit" && is.null(limits))
    stop_input(tells("logit_needs_limits"), "target", call = call)
  if (is_far(survey) && (by == "cluster" || !is.null(trim)))
    stop_needs_records(tells(if (by == "cluster") "weights_of_whole_clusters" else
      "trimming_weights"), survey, call)
  if (by == "cluster" && is.null(survey$roles$cluster))
    stop_input(tells("by_cluster_needs_clusters"), "target", call = call)
}

check_bounds <- function(bounds, arg, call) {
  if (is.null(bounds)) return(invisible())
  if (!is.numeric(bounds) || length(bounds) != 2L || anyNA(bounds) ||
        bounds[1L] < 0 || bounds[1L] > 1 || bounds[2L] < 1)
    stop_input(tells("bounds_two_numbers", arg), "target", call = call)
}

# What every row's weight is multiplied by, how the weighing went, and the
# auxiliary variables for the survey to remember.
calibrated_factors <- function(survey, how, call) {
  base <- survey$weight %||% rep(1, nrow(survey$data))
  use <- if (is.null(survey$aside)) rep(TRUE, length(base)) else
    survey$aside == 0L
  use <- use & base > 0
  rows <- respondents_of_rows(survey)
  parts <- lapply(seq_along(how$targets), function(k) {
    target_part(how$targets[[k]], names(how$targets)[k], survey$data, use, call)
  })
  check_counts(parts, call)
  auxiliary <- auxiliary_of_parts(parts, survey, base, use, how$by)
  fit <- calibrated_rows(base, rows$n, use, auxiliary, how)
  if (any(fit$factor[use] < 0))
    stop_input(c(tells("weights_would_be_negative", sum(fit$factor[use] < 0)),
                 i = tells("name_limits_or_raking")), "target", call = call)
  squares <- (rows$n * rows$short * base^2)[use]
  kish <- function(f) sum((rows$n * base)[use] * f)^2 / sum(squares * f^2)
  list(factor = fit$factor, auxiliary = auxiliary, label = vapply(parts, `[[`, "", "label"),
       names = unlist(lapply(parts, `[[`, "names")),
       weighing = list(
         converged = fit$converged, rounds = fit$rounds, gap = fit$gap,
         factors = range(fit$factor[use]),
         design_effect = sum(rows$n[use]) /
                         c(before = kish(1), after = kish(fit$factor[use])),
         unplaced = vapply(parts, function(part) {
           sum(records_by(survey, ifelse(is.na(part$key) & use, 1L, 0L), 1L))
         }, 0)))
}

# The variables of all targets, by pattern; with one factor for a whole cluster
# the mean of its members stands for each. `goal` is what their weighted sums are
# to be, `scale` what a gap of each is told as a share of (times the people where it is
# `per_person`).
auxiliary_of_parts <- function(parts, survey, base, use, by) {
  found <- auxiliary_patterns(parts)
  x <- found$x
  of <- found$of
  if (by == "cluster") {
    unit <- survey$unit
    weight <- ifelse(use, base * respondents_of_rows(survey)$n, 0)
    sums <- rowsum(weight * x[of, , drop = FALSE], unit)
    x <- sums / pmax(as.vector(rowsum(weight, unit)), 1e-300)
    of <- match(unit, as.integer(rownames(sums)))
  }
  every <- function(part) unlist(lapply(parts, `[[`, part))
  list(x = x, of = of, goal = every("goal"), scale = every("scale"),
       per_person = every("per_person"),
       people = every("total")[1L])
}

with_weights <- function(survey, found, how, into, call) {
  base <- survey$weight %||% rep(1, nrow(survey$data))
  with_new_weights(survey, base * found$factor, weighing_memory(found, how),
                   base, into, call)
}

# The survey with the weights that a step made of those before, and its replicates
# after the same step.
with_new_weights <- function(survey, weight, step, before, into, call) {
  data <- survey$data
  data[[into]] <- weight
  bare <- survey
  if (!is.null(survey$design$replicates)) {
    made <- calibrated_replicates(survey, replicate_weights(survey, before),
                                  list(step))
    data[made$names] <- made$columns
    bare$replicates <- made$names
    bare$design$replicates <- made$design
  }
  bare$data <- data
  bare$roles["weight"] <- list(into)
  out <- keep_records(bare, rep(TRUE, nrow(data)), survey$before, call)
  with_calibration_step(out, step, before)
}

# What a survey remembers of its weighing.
weighing_memory <- function(found, how) {
  auxiliary <- found$auxiliary
  again <- c(auxiliary[c("goal", "scale", "per_person", "people")],
             list(how = how[setdiff(names(how), "targets")]))
  c(new_calibration_step(found$label, found$names, auxiliary$x, auxiliary$of),
    list(again = again))
}

# Of records that stay where they are the factors are kept by the answers that
# they go with.
weighing_step <- function(rows, questions, found, how, into, call) {
  key_of <- function(survey) {
    do.call(paste, c(lapply(survey$data[questions], plain_text_of), sep = "\r"))
  }
  inside <- if (is.null(rows$aside)) TRUE else rows$aside == 0L
  keys <- key_of(rows)[inside]
  factors <- found$factor[inside]
  patterns <- found$auxiliary$of[inside]
  list(uses = questions, run = function(survey) {
    at <- match(key_of(survey), keys)
    f <- factors[at]
    f[is.na(f)] <- 1 # nobody of these is in the table
    sums <- survey$sums
    before <- survey$weight %||% rep(1, nrow(survey$data))
    survey$sums[c("w", "w2")] <-
      list((sums$w %||% sums$n) * f, (sums$w2 %||% sums$n) * f^2)
    survey$weight <- mean_weight(survey$sums)
    survey$design$weighted <- TRUE
    survey$roles["weight"] <- list(into)
    found$auxiliary$x <- rbind(found$auxiliary$x, 0)
    found$auxiliary$of <- patterns[at]
    found$auxiliary$of[is.na(at)] <- nrow(found$auxiliary$x)
    with_calibration_step(survey, weighing_memory(found, how), before)
  })
}

target_questions <- function(target, name) {
  if (is.data.frame(target)) setdiff(names(target), c("share", "count")) else name
}

# A target as a part of the auxiliary variables: the key of every record (NA
# without an answer), its variables, and what their weighted sums are to be.
target_part <- function(target, name, data, use, call) {
  questions <- target_questions(target, name)
  if (!length(questions) || !nzchar(questions[1L]))
    stop_input(tells("every_target_named_question"), "target", call = call)
  for (question in questions) check_column(question, data, "targets", call)
  if (is_target_of_number(target)) number_part(target, name, data, use, call) else
    answers_part(target, questions, data, use, call)
}

is_target_of_number <- function(target) {
  is.numeric(target) && length(target) == 1L &&
    (is.null(names(target)) || names(target) %in% c("mean", "total"))
}

# The sum of a number, or its mean among those who have it.
number_part <- function(target, name, data, use, call) {
  value <- numbers_alone(data[[name]])
  if (!is.numeric(value))
    stop_input(tells("target_number_of_answers", name), "target", call = call)
  if (!is.finite(target) || !any(use & !is.na(value) & value != 0))
    stop_input(tells("target_number_cannot_be_met", name), "target", call = call)
  of_mean <- identical(names(target), "mean")
  target <- as.numeric(target)
  list(label = title_of(data[[name]], name), names = name, key = value,
       variables = function(rows) {
         x <- value[rows]
         cbind(ifelse(is.na(x), 0, if (of_mean) x - target else x))
       },
       goal = if (of_mean) 0 else target,
       scale = if (of_mean) max(abs(value[use]), na.rm = TRUE) else abs(target),
       per_person = of_mean)
}

answers_part <- function(target, questions, data, use, call) {
  stop_target <- function(...) stop_input(c(...), "target", call = call)
  columns <- lapply(questions, function(question) plain_text_of(data[[question]]))
  key <- do.call(paste, c(columns, sep = ", "))
  key[Reduce(`|`, lapply(columns, is.na))] <- NA
  told <- target_values(target, questions, stop_target)
  keys <- told$keys
  label <- paste(mapply(title_of, data[questions], questions), collapse = " \u00d7 ")
  unplaced <- setdiff(unique(key[use & !is.na(key)]), keys)
  if (length(unplaced))
    stop_target(tells("sample_no_share_target", unplaced[1L], told$named),
                did_you_mean(unplaced[1L], keys, "shares"))
  nobody <- setdiff(keys, key[use])
  if (length(nobody)) {
    stop_target(tells("nobody_sample_no_weights_can", nobody[1L], told$named,
                      format(100 * told$share[match(nobody[1L], keys)])),
                i = tells("join_another_answer_data_target"))
  }
  at <- match(key, keys)
  share <- told$share
  list(label = label, names = questions, key = at,
       total = if (told$counted) told$total,
       variables = function(rows) {
         x <- indicators(at[rows], length(keys))
         if (!told$counted) x <- x - tcrossprod(row_sums(x), share)
         x
       },
       goal = if (told$counted) told$total * share else numeric(length(keys)),
       scale = rep(1, length(keys)), per_person = rep(TRUE, length(keys)))
}

# The answers of a target, their shares, and whether they are numbers of people.
target_values <- function(target, questions, stop_target) {
  named <- paste(questions, collapse = " and ")
  in_column <- if (is.data.frame(target))
    intersect(c("share", "count"), names(target))
  if (is.data.frame(target) && length(in_column) != 1L)
    stop_target(tells("target_several_questions_needs_column"))
  values <- if (is.data.frame(target)) target[[in_column]] else
    as.numeric(target)
  keys <- if (is.data.frame(target))
    do.call(paste, c(lapply(target[questions], as.character), sep = ", ")) else
    names(target)
  if (is.null(keys) || anyNA(values) || any(values <= 0) || anyDuplicated(keys))
    stop_target(tells("shares_positive_each_named_once", named))
  total <- sum(values)
  counted <- identical(in_column, "count") ||
    is.null(in_column) && are_people(total)
  if (!counted && !any(abs(total - c(1, 100)) <= c(0.005, 0.5)))
    stop_target(tells("shares_add_up_not_1", named, format(total)))
  list(keys = keys, share = values / total, total = total, counted = counted,
       named = named)
}

# Numbers of people are those of one population.
check_counts <- function(parts, call) {
  counted <- Filter(function(part) !is.null(part$total), parts)
  totals <- vapply(counted, `[[`, 0, "total")
  off <- which(abs(totals - totals[1L]) > 1e-4 * totals[1L])
  if (length(off))
    stop_input(tells("targets_of_different_totals", counted[[1L]]$label,
                     format_count(totals[1L]), counted[[off[1L]]]$label,
                     format_count(totals[off[1L]])), "target", call = call)
}

plain_text_of <- function(x) {
  if (is_sum(x)) return(number_text(as.numeric(numbers_alone(x))))
  text <- as.character(plain_factor(as_answers(x, "target")))
  text[is.na(text)] <- NA
  text
}
