# From a survey whose records stay where they are to an ordinary survey of
# groups: what a table needs, asked of the source, and the steps that prepare
# its questions, run on what comes back.

# The steps that questions need, and the columns of the source that those need:
# whole, or where they are cut.
needed_for <- function(survey, questions) {
  whole <- questions
  cuts <- list()
  steps <- list()
  for (step in rev(survey$steps)) {
    if (!is.null(step$makes)) {
      if (!step$makes %in% c(whole, names(cuts))) next
      whole <- setdiff(whole, step$makes)
      cuts[[step$makes]] <- NULL
    }
    steps <- c(list(step), steps)
    for (name in step$uses) {
      if (is.null(step$cuts[[name]])) whole <- union(whole, name) else
        cuts[[name]] <- if (is.null(cuts[[name]])) step$cuts[[name]] else
          join_cuts(cuts[[name]], step$cuts[[name]])
    }
  }
  design <- unlist(survey$roles[c("stratum", "cluster", "population", "imputation")],
                   use.names = FALSE)
  whole <- union(design, whole)
  list(steps = steps,
       set = list(columns = whole, cuts = cuts[setdiff(names(cuts), whole)],
                  conditions = lapply(Filter(
                                        function(step) !is.null(step$truth),
                                        steps), `[[`, "truth")))
}

# ---- surveys of groups ----

grounded <- function(survey, questions, call = NULL) {
  if (!is_far(survey)) return(survey)
  grounded_many(survey, list(questions), call)[[1L]]
}

# One survey for each of many lists of questions.
grounded_many <- function(survey, asked, call = NULL) {
  plans <- lapply(asked, function(questions) needed_for(survey, questions))
  measures <- list(weight = survey$roles$weight, count = survey$roles$count,
                   replicates = survey$asked$replicates)
  attr(measures, "designed") <- !is.null(survey$roles$stratum) || !is.null(survey$roles$cluster)
  found <- survey$records$sums(lapply(plans, `[[`, "set"), measures)
  check_same_records(found)
  Map(function(plan, groups) survey_of_groups(survey, plan$steps, groups, call),
      plans, found)
}

survey_of_groups <- function(survey, steps, groups, call) {
  check_group_sums(survey, groups, call)
  data <- survey$records$coded(groups$data, groups$records)
  roles <- survey$roles
  column <- role_columns(data, roles)
  column["weight"] <- list(if (!is.null(roles$weight)) groups$weight)
  column["count"] <- list(if (!is.null(roles$count)) groups$count)
  column["id"] <- list(NULL)
  groups$data <- NULL
  attr(data, "source") <- survey$records$about
  out <- design_survey(data, roles, column, survey$asked, call, groups)
  truths <- 0L
  for (step in steps) {
    if (is.null(step$truth)) {
      out <- step$run(out)
    } else {
      truths <- truths + 1L
      out <- step$run(out, groups$kept[[truths]])
    }
  }
  if (!is.null(roles$id))
    out$repeated <-
      once(survey$far, "repeated", roles$id, survey$records$repeats(roles$id))
  out$notes$unread_parts <- groups$unread
  out["among"] <- list(survey$among)
  out$cut <- survey$cut
  out$made <- survey$made
  out
}

least_in_words <- function(least) {
  if (!is.null(least)) tells("least_value_is", format(least))
}

# All groups are of the same records, or somebody has changed them in between.
check_same_records <- function(found) {
  records <- vapply(found, function(groups) sum(groups$records), 0)
  if (length(unique(records)) > 1L) {
    stop_input(c(tells("records_changed_while_read_then",
                       format_count(records[1L]),
                       format_count(records[records != records[1L]][1L])),
                 i = tells("ask_again_later")), "changed", call = NULL)
  }
  if (length(found) && records[1L] == 0)
    stop_input(tells("there_are_no_records"), "no_records", call = NULL)
}

# The sign of a weight or count in a group is 1 above 0, 0, -1 below, -2 of
# text, missing without a number, and this where it has no end.
infinite_sign <- 9L

# What check_weight() sees in records, seen in groups of them.
check_group_sums <- function(survey, groups, call) {
  roles <- survey$roles
  for (arg in c("weight", "count")) if (!is.null(roles[[arg]])) {
    stop_column <- function(...) {
      stop_input(c(...), arg, column = roles[[arg]], call = call)
    }
    state <- groups[[arg]]
    sums <- if (arg == "weight") groups$w2 else groups$n
    # extremes and sums tell whether there is anything to look for
    most <- max(state, 0, na.rm = TRUE)
    if (min(state, 0, na.rm = TRUE) < 0 || most == infinite_sign || !is.finite(sum(sums)))
      check_signs_of_sums(survey, groups, arg, state, sums, call)
    if (most == 0) {
      stop_column(tells("zero_missing_every_record_column", arg, roles[[arg]]),
                  i = tells("nobody_would_left_table_name"))
    }
  }
  check_size_of_weights(roles, groups, call)
  if (!is.null(roles$count) && any(groups$n != round(groups$n), na.rm = TRUE)) {
    stop_broken_count(roles$count, NULL, call)
  }
  check_sums_agree(groups, call)
}

# Text, weights and counts below 0 or without end among the groups.
check_signs_of_sums <- function(survey, groups, arg, state, sums, call) {
  role <- survey$roles[[arg]]
  odd <- which(state == -2)
  if (length(odd)) {
    records <- sum(groups$records[odd])
    stop_not_numbers(arg, role, tells("is_text_in", format_count(records),
                                      plural(records, "record has", "records have")), call)
  }
  below <- which(state < 0)
  known <- !is.na(state) & (is.null(survey$roles$count) | !is.na(groups$count %||% 1))
  told <- state %in% infinite_sign # else an infinite sum tells of it
  endless <- which(told | known & !is.finite(sums) & !any(told))
  if (length(below) || length(endless)) {
    stop_odd_weight(arg, role, sum(groups$records[c(below, endless)]),
                    least_in_words(if (length(below)) survey$records$least(role)), call)
  }
}

# Weights whose squares vanish, or leave the range of numbers, as their sums
# tell of them.
check_size_of_weights <- function(roles, groups, call) {
  if (is.null(roles$weight)) return(invisible())
  if (isTRUE(min(groups$w2) >= least_weight^2 && max(groups$w2) <= most_weight^2))
    return(invisible())
  odd <- which(groups$weight > 0 & groups$n > 0 &
                 (groups$w2 < least_weight^2 |
                    groups$w2 > groups$n * most_weight^2))
  if (!length(odd)) return(invisible())
  stop_size_of_weight("weight", roles$weight, groups$w2[odd[1L]] < 1, NULL,
                      call)
}

# (sum of w)^2 is at least the sum of w^2, and at most n times it (Cauchy and
# Schwarz); whoever rounds a sum, or lets it overflow, breaks that soon. Sums of
# many doubles are themselves rounded, far below a millionth.
check_sums_agree <- function(groups, call) {
  if (is.null(groups$w) || is.null(groups$w2)) return(invisible())
  square <- groups$w^2
  apart <- square > groups$n * groups$w2 * (1 + 1e-6)^2
  if (is.null(groups$count)) apart <- apart | square < groups$w2 * (1 - 1e-6)^2
  if (!any(apart, na.rm = TRUE)) return(invisible())
  sound <- groups$weight > 0 & groups$n >= 1 & groups$w2 > 1e-290
  if (!any(apart & sound, na.rm = TRUE)) return(invisible())
  stop_input(c(tells("sums_do_not_add_up"),
               x = tells("rounded_go_beyond_what_numbers"),
               i = tells("store_weights_double_precision_numbers")), "sums",
             call = call)
}
