#' Weights that make up for people who did not respond
#'
#' Of a survey that has a record for everybody in the sample: within each class
#' the weights of all go to those who responded, in proportion to theirs. Those
#' who did not stay in the sample, under a named reason, and count in the
#' variance: a figure varies with who was sampled and with who of a class
#' responded. Replicate weights are adjusted anew, each by itself.
#'
#' @param survey (survey or data frame) From [respondents()], with everybody who
#'   was sampled.
#' @param responded (an expression or one string, as in [among()]) Who
#'   responded.
#' @param within (columns, default none) The questions whose answers together
#'   make the classes; all in one without.
#' @param into (string, default "adjusted") Column of the new weights.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return The survey with the new weights; calibrate it afterwards with
#'   [weigh_to()].
#' @section Errors: `fairlattice_error_nonresponse`: a class in which nobody
#'   responded, or people whose class or response is not known.
#' @references Särndal C-E, Lundström S (2005) Estimation in Surveys with
#'   Nonresponse, ch. 7. Valliant R, Dever JA, Kreuter F (2018) Practical Tools
#'   for Designing and Weighting Survey Samples, 2nd ed., ch. 13.
#' @export
#' @examples
#' survey <- respondents(demo_records(complex = TRUE), weight = weight, stratum = island,
#'                       cluster = settlement)
#' adjust_nonresponse(survey, !is.na(ferry), within = c(island, age_group))
adjust_nonresponse <- function(survey, responded, within = NULL,
                               into = "adjusted", ...) {
  nothing_else(...)
  call <- environment()
  survey <- as_survey(survey)
  if (is_far(survey))
    stop_needs_records(tells("adjusting_for_nonresponse"), survey, call)
  classes <- columns_named(named_by(within), survey$data, "within", call)
  there <- kept_by(rlang::enquo(responded), survey$data, call)
  base <- survey$weight %||% rep(1, nrow(survey$data))
  use <- survey$aside %||% integer(length(base)) == 0L
  class <- response_class(survey$data, classes, call)
  check_response(there$kept, class, use, call)
  responds <- as.numeric(use & there$kept %in% TRUE)
  class[!use | is.na(class)] <- 0L
  n <- respondents_of_rows(survey)$n
  factor <- response_factors(ifelse(use, base * n, 0), class, responds)
  factor[is.na(factor)] <- 1
  none <- use & responds == 0
  survey <- set_aside(survey, none, "no_response", there$words)
  step <- response_step(survey$data, classes, class, use, base, factor, responds)
  out <- with_new_weights(survey, ifelse(use, base * factor, base), step, base,
                          into, call)
  noted(out, survey, "adjust_nonresponse",
        list(responded = there$words, within = classes, into = into))
}

# Classes as whole numbers: one for everybody, or one a combination of answers.
response_class <- function(data, classes, call) {
  if (is.null(classes)) return(rep(1L, nrow(data)))
  joint_answers(lapply(classes, function(name) data[[name]]), classes, call)
}

check_response <- function(responded, class, use, call) {
  stop_response <- function(...) stop_input(c(...), "nonresponse", call = call)
  unknown <- sum(use & (is.na(responded) | is.na(class)))
  if (unknown)
    stop_response(tells("response_not_known", unknown),
                  i = tells("response_known_of_all"))
  empty <- setdiff(unique(class[use]), class[use & responded])
  if (length(empty))
    stop_response(tells("class_without_response", length(empty),
                        sum(use & class %in% empty)),
                  i = tells("join_classes"))
}

# The auxiliary variables are the classes. Who responded counts with the weight
# afterwards; in everybody's influence the new weight takes the place of the old.
response_step <- function(data, classes, class, use, base, factor, responds) {
  size <- max(class, 1L)
  after <- ifelse(use, base * factor * responds, 0)
  labels <- mapply(title_of, data[classes], classes)
  step <- new_calibration_step(unname(labels), character(),
                               rbind(diag(size), 0),
                               ifelse(class > 0L, class, size + 1L),
                               carry = after - ifelse(use, base, 0))
  step$again <- list(class = class, responded = responds)
  step
}
