#' Weights that bring the sample to known shares of the population
#'
#' Raking: the weights are multiplied so that each target's shares hold, one
#' target after the other, until all do. A target of several questions at once
#' (a data frame of their answers and a column `share`) is a cell adjustment.
#' Base weights are respected: what is multiplied is the survey's weight (1
#' without one), and its sum is kept. Whoever lacks an answer to a target's
#' question keeps their base weight in that step. Tests and intervals afterwards
#' take the new weights as they would any others.
#'
#' @param survey (survey or data frame) From [respondents()].
#' @param targets (list) Each a named numeric vector of shares (adding up to 1
#'   or 100) under the question's name, or a data frame of answers with a column
#'   `share`.
#' @param limits (two numbers, default none) Least and greatest factor that a
#'   base weight may be multiplied by.
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
#'   share, shares that do not add up, and a
#'   target that nobody in the sample can meet.
#' @references Deming WE, Stephan FF (1940) Ann Math Statist 11:427-444.
#' @export
#' @examples
#' survey <- respondents(demo_records(), stratum = island, cluster = settlement)
#' survey <- weigh_to(survey, list(
#'   island = c(Norrey = 40, Sandholm = 24, "Harrow Skerry" = 17, Tarn = 12, "Outer Veyra" = 7),
#'   leave = c(Yes = 36, No = 64)))
#' attr(survey, "weighing")$design_effect
weigh_to <- function(survey, targets, limits = NULL, rounds = 200L,
                     tolerance = 1e-6, into = "weighed", ...) {
  nothing_else(...)
  call <- environment()
  survey <- as_survey(survey)
  check_targets(targets, limits, call)
  if (!is.null(survey$design$replicates) || !is.null(survey$asked$replicates)) {
    stop_input(c(tells("replicate_weights_would_raked_too"),
                 i = tells("call_make_replicates_after_weighing")),
               "replicates", call = call)
  }
  questions <- unique(unlist(Map(target_questions, targets,
                                 names(targets) %||% list(NULL))))
  rows <- if (is_far(survey))
    grounded(survey, intersect(questions, names(survey$data)), call) else survey
  raked <- raked_factors(rows, targets, limits, rounds, tolerance, call)
  out <- if (is_far(survey))
    later(survey, weighing_step(rows, questions, raked$factor, into)) else
    with_weights(survey,
                 (survey$weight %||% rep(1, nrow(survey$data))) * raked$factor,
                 into, call)
  out <- noted(out, survey, "weigh_to")
  attr(out, "weighing") <- raked$weighing
  if (!raked$weighing$converged) {
    rlang::warn(c(spoken(tells("weights_did_not_settle", raked$weighing$rounds,
                               format(raked$weighing$gap, digits = 2))),
                  i = spoken(tells("loosen_limits"))),
                  class = "fairlattice_warning_not_settled")
  }
  out
}

check_targets <- function(targets, limits, call) {
  if (!is.list(targets) || !length(targets))
    stop_input(tells("targets_list_shares_named_question"), "target",
               call = call)
  if (!is.null(limits) &&
        (!is.numeric(limits) || length(limits) != 2L || anyNA(limits) ||
           limits[1L] <= 0 || limits[1L] > 1 || limits[2L] < 1)) {
    stop_input(tells("limits_two_numbers_such_c"), "target",
               call = call)
  }
}

# What every row's weight is multiplied by, and how the raking went.
raked_factors <- function(survey, targets, limits, rounds, tolerance, call) {
  base <- survey$weight %||% rep(1, nrow(survey$data))
  use <- if (is.null(survey$aside)) rep(TRUE, length(base)) else
    survey$aside == 0L
  standing <- survey$count %||% rep(1, length(base))
  goals <- lapply(seq_along(targets), function(k) {
    target_goal(targets[[k]], names(targets)[k], survey$data, use & base > 0,
                call)
  })
  fit <- rake(base[use], standing[use],
              lapply(goals, function(goal) {
                list(at = goal$at[use], share = goal$share)
              }), limits, rounds, tolerance)
  factor <- rep(1, length(base))
  factor[use] <- ifelse(base[use] > 0, fit$weight / base[use], 1)
  squares <- (survey$sums$w2 %||% (standing * base^2))[use]
  kish <- function(f) sum((standing * base)[use] * f)^2 / sum(squares * f^2)
  list(factor = factor,
       weighing = list(
         converged = fit$converged, rounds = fit$rounds, gap = fit$gap,
         factors = range(factor[use]),
         design_effect = sum(standing[use]) /
                         c(before = kish(1), after = kish(factor[use])),
         unplaced = vapply(goals, function(goal) {
           sum(records_by(survey, ifelse(is.na(goal$at) & use, 1L, 0L), 1L))
         }, 0)))
}

with_weights <- function(survey, weight, into, call) {
  data <- survey$data
  data[[into]] <- weight
  roles <- survey$roles
  roles["weight"] <- list(into)
  keep_records(replace(survey, c("data", "roles"), list(data, roles)),
               rep(TRUE, nrow(data)), survey$before, call)
}

# Of records that stay where they are the factors are kept by the answers that
# they go with.
weighing_step <- function(rows, questions, factor, into) {
  key_of <- function(survey) {
    do.call(paste, c(lapply(survey$data[questions], plain_text_of), sep = "\r"))
  }
  inside <- if (is.null(rows$aside)) TRUE else rows$aside == 0L
  keys <- key_of(rows)[inside]
  factors <- factor[inside]
  list(uses = questions, run = function(survey) {
    f <- factors[match(key_of(survey), keys)]
    f[is.na(f)] <- 1 # nobody of these is in the table
    sums <- survey$sums
    survey$sums[c("w", "w2")] <-
      list((sums$w %||% sums$n) * f, (sums$w2 %||% sums$n) * f^2)
    survey$weight <- mean_weight(survey$sums)
    survey$design$weighted <- TRUE
    survey$roles["weight"] <- list(into)
    survey
  })
}

target_questions <- function(target, name) {
  if (is.data.frame(target)) setdiff(names(target), "share") else name
}

# A target as the place of every record among its shares (NA without an answer),
# and the shares.
target_goal <- function(target, name, data, use, call) {
  stop_target <- function(...) stop_input(c(...), "target", call = call)
  questions <- target_questions(target, name)
  if (is.data.frame(target) && !"share" %in% names(target))
    stop_target(tells("target_several_questions_needs_column"))
  if (!length(questions) || !nzchar(questions[1L]))
    stop_target(tells("every_target_named_question"))
  for (question in questions) check_column(question, data, "targets", call)
  columns <-
    lapply(questions, function(question) plain_text_of(data[[question]]))
  key <- do.call(paste, c(columns, sep = ", "))
  key[Reduce(`|`, lapply(columns, is.na))] <- NA
  keys <- if (is.data.frame(target))
    do.call(paste, c(lapply(target[questions], as.character), sep = ", ")) else
    names(target)
  share <- if (is.data.frame(target)) target$share else as.numeric(target)
  label <- paste(questions, collapse = " and ")
  if (is.null(keys) || anyNA(share) || any(share <= 0) || anyDuplicated(keys))
    stop_target(tells("shares_positive_each_named_once", label))
  total <- sum(share)
  if (!any(abs(total - c(1, 100)) <= c(0.005, 0.5)))
    stop_target(tells("shares_add_up_not_1", label, format(total)))
  unplaced <- setdiff(unique(key[use & !is.na(key)]), keys)
  if (length(unplaced))
    stop_target(tells("sample_no_share_target", unplaced[1L], label),
                did_you_mean(unplaced[1L], keys, "shares"))
  nobody <- setdiff(keys, key[use])
  if (length(nobody)) {
    stop_target(tells("nobody_sample_no_weights_can", nobody[1L], label,
                      format(100 * share[match(nobody[1L], keys)] / total)),
                i = tells("join_another_answer_data_target"))
  }
  list(at = match(key, keys), share = share / total, label = label)
}

plain_text_of <- function(x) {
  text <- as.character(plain_factor(as_answers(x, "target")))
  text[is.na(text)] <- NA
  text
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

# Deming & Stephan (1940): multiply to each target in turn. With limits, factors
# are cut to them after every round.
rake <- function(base, standing, goals, limits, rounds, tolerance) {
  weight <- base
  total <- sum(standing * base)
  shares <- function(goal) {
    sums <- vapply(seq_along(goal$share), function(k) {
      sum((standing * weight)[goal$at %in% k])
    }, 0)
    sums / sum(sums)
  }
  for (round in seq_len(rounds)) {
    for (goal in goals) {
      placed <- !is.na(goal$at)
      factor <- goal$share / shares(goal)
      weight[placed] <- weight[placed] * factor[goal$at[placed]]
    }
    if (!is.null(limits))
      weight <- base * factors_within(weight / base, standing * base, limits)
    gap <-
      max(vapply(goals, function(goal) max(abs(shares(goal) - goal$share)), 0))
    if (gap <= tolerance) break
  }
  list(weight = if (is.null(limits))
         weight * total / sum(standing * weight) else weight,
       converged = gap <= tolerance, rounds = round, gap = gap)
}
