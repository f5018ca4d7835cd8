# The wave before beside this one: its records joined to these, so that what the
# waves share (clusters, strata) is in the covariance of a change, and what is
# new, gone or relabelled in the questions.

with_wave_before <- function(plan) {
  asked <- plan$asked$before
  if (is.null(asked) && is.null(plan$then)) return(plan)
  if (!is.null(asked$question)) {
    plan$compare <- or_fault(plan, "before", waves_of_question(plan, asked))
    if (!is.null(plan$compare)) plan$survey <- plan$compare$now
    return(plan)
  }
  then <- survey_before(plan, asked)
  if (!is.null(then))
    plan$compare <- or_fault(plan, "before",
                             waves_of_surveys(plan$survey, then, asked$called))
  plan
}

# The wave before, prepared as this one.
survey_before <- function(plan, asked) {
  if (inherits(plan$then, "fairlattice_survey")) return(plan$then)
  data <-
    plan$then %||% or_fault(plan, "before", records_of(plan, asked, "before"))
  survey <- if (!is.null(data))
    or_fault(plan, "before", asked_survey(data, plan$asked$asked))
  if (is.null(survey)) return(NULL)
  known <- length(plan$faults$found)
  survey <- prepared_survey(plan, survey)
  # a step that fits these records alone
  for (k in seq_along(plan$faults$found)) if (k > known)
    plan$faults$found[[k]]$message <-
      paste("In the wave before:", plan$faults$found[[k]]$message)
  survey
}

wave_names <- function(called) {
  if (is.null(called)) return(c(words("wave.before"), words("wave.now")))
  if (length(called) != 2L || anyDuplicated(called))
    stop_input(tells("called_two_different_names_wave"), "plan", call = NULL)
  called
}

wave_column <- "\rwave"

wave_of <- function(codes, called) {
  new_answers(codes, called, label = words("line.all"), ordered = TRUE)
}

# Both waves in one file: an answer each of a question.
waves_of_question <- function(plan, asked) {
  survey <- plan$survey
  name <-
    column_named(rlang::quo(!!asked$question), survey$data, "question", NULL)
  for (arg in c("now", "then")) if (is.null(asked[[arg]]))
    stop_input(tells("before_lacks_key_answer", arg, name,
                     c(now = "this wave", then = "the wave before")[[arg]]),
               "plan", call = NULL)
  answers <- as_answers(grounded(survey, name)$data[[name]], name)
  for (value in unlist(asked[c("now", "then")])) {
    if (!value %in% levels(answers))
      stop_input(c(tells("question_has_no_answer", name, value),
                   did_you_mean(value, levels(answers), "answers")),
                 "no_answer", value = value, call = NULL)
  }
  called <- wave_names(asked$called %||% c(asked$then, asked$now))
  survey <- with_made(survey, wave_column, name, function(columns, ...) {
    answers <- as_answers(columns[[1L]], name)
    wave_of(match(levels(answers)[as.integer(answers)],
                  c(asked$then, asked$now)), called)
  })
  condition <-
    sprintf("%s == %s", rlang::expr_deparse(as.name(name)), deparse(asked$now))
  list(survey = in_wave_strata(survey, called),
       now = among(plan$survey, !!condition),
       differing = character())
}

# Two sets of records as one survey: the columns that both have with the same
# answers. The design is that of both; a cluster of the same name is the same
# cluster. Weights of each wave are taken to the same mean, so that neither
# counts for more.
waves_of_surveys <- function(now, then, called) {
  for (one in list(now, then)) if (is_far(one))
    stop_needs_records(tells("comparing_waves"), one, NULL)
  called <- wave_names(called)
  roles <- now$roles[c("weight", "stratum", "cluster", "count")]
  if (length(now$replicates) || length(then$replicates))
    stop_input(tells("waves_replicate_weights_not_compared"), "plan",
               call = NULL)
  for (name in unlist(roles)) if (!name %in% names(then$data))
    stop_input(tells("wave_before_no_column", name), "no_column", column = name,
               call = NULL)
  both <- intersect(names(now$data), names(then$data))
  joined <- lapply(stats::setNames(both, both), function(name) {
    one <- waves_joined(now$data[[name]], then$data[[name]], name)
    # what the design needs is joined by its words, though as a question it may
    # differ
    if (is_said(one) && name %in% unlist(roles))
      c(plain_role(now$data[[name]]), plain_role(then$data[[name]])) else one
  })
  differing <- vapply(Filter(is_said, joined), in_words, "")
  data <- list2DF(joined[setdiff(both, names(differing))])
  size <- c(nrow(now$data), nrow(then$data))
  if (!is.null(roles$weight))
    data[[roles$weight]] <- data[[roles$weight]] /
                            rep(c(mean(now$weight, na.rm = TRUE),
                                  mean(then$weight, na.rm = TRUE)), size)
  data[[wave_column]] <- wave_of(rep(2:1, size), called)
  survey <- respondents(data, weight = !!roles$weight,
                        stratum = !!roles$stratum, cluster = !!roles$cluster,
                        count = !!roles$count,
                        single_cluster = now$design$single_cluster)
  list(survey = in_wave_strata(survey, called), differing = differing)
}

# A stratum is centred within the set of waves in which its clusters were
# visited (only before, only now, both): the waves' own stratification holds, and
# clusters of both carry the covariance. Where every respondent is a cluster of
# their own, within each wave.
in_wave_strata <- function(survey, called) {
  design <- survey$design
  if (is_far(survey) || !design$clustered && is.null(survey$unit) &&
        !design$weighted) return(survey)
  wave <- as.integer(survey$data[[wave_column]])
  unit <- survey$unit %||% rep(1L, length(wave))
  sampled <- !is.na(wave) & sampled_in(survey)
  units <- design$units
  label <- function(waves) paste(called[waves], collapse = ", ")
  named <- function(stratum, waves) {
    paste0(stratum, ifelse(nzchar(stratum), " ", ""), "(", waves, ")")
  }
  if (design$clustered) {
    of_unit <- split(wave[sampled], factor(unit[sampled], seq_len(nrow(units))))
    visited <- vapply(of_unit, function(waves) label(sort(unique(waves))), "")
    units$stratum <- named(units$stratum, visited)
  } else {
    key <- unit + (replace(wave, is.na(wave), 0L)) * nrow(units)
    met <- sort(unique(key[sampled]))
    n <- if (is.null(survey$count)) rep(1, length(key)) else survey$count
    at <- (met - 1L) %% nrow(units) + 1L
    of_wave <- called[(met - 1L) %/% nrow(units)]
    survey$unit <- match(key, met)
    survey$unit[is.na(survey$unit)] <- 1L # never compared
    units <- units[at, , drop = FALSE]
    units$stratum <- named(units$stratum, of_wave)
    units$sampled <- vapply(met, function(one) sum(n[sampled & key == one]), 0)
    rownames(units) <- NULL
  }
  survey$design$units <- units
  survey$design$stratified <- TRUE
  survey$ready <- NULL
  survey
}

plain_role <- function(x) {
  if (is.numeric(x) && !is.factor(x)) as.numeric(x) else as.character(x)
}

# A column of both waves, or why it cannot be one.
waves_joined <- function(now, then, name) {
  if (is.numeric(now) && !is.factor(now) && is.numeric(then) &&
        !is.factor(then) && is.null(attr(now, "labels")))
    return(structure(c(as.vector(unclass(now)), as.vector(unclass(then))),
                     label = label_of(now)))
  parts <- lapply(list(now, then), function(x) {
    tryCatch(as_answers(x, name), fairlattice_error = function(e) NULL)
  })
  if (any(vapply(parts, is.null, NA)))
    return(said("wave_differs", question = name))
  if (!is.null(attr(parts[[1L]], "items", exact = TRUE)))
    return(ticks_joined(parts, name))
  shown <- lapply(parts, function(x) {
    setdiff(levels(x), attr(x, "missing", exact = TRUE))
  })
  observed <- all(vapply(parts, function(x) {
    isTRUE(attr(x, "observed", exact = TRUE))
  }, NA))
  if (!observed && !identical(shown[[1L]], shown[[2L]]))
    return(said("wave_answers_differ", question = label_of(now) %||% name,
                new = setdiff(shown[[1L]], shown[[2L]]),
                gone = setdiff(shown[[2L]], shown[[1L]])))
  missing <- unique(unlist(lapply(parts, attr, "missing", exact = TRUE)))
  answers <- c(setdiff(unique(unlist(shown)), missing), missing)
  out <- new_answers(match(unlist(lapply(
                                    parts, function(x) {
                                      levels(x)[as.integer(x)]
                                    })), answers), answers,
                     missing = as.character(missing), label = label_of(now),
                     ordered = is.ordered(parts[[1L]]))
  for (what in c("nets", "scores", "headings", "history"))
    attr(out, what) <- attr(parts[[1L]], what, exact = TRUE)
  out
}

ticks_joined <- function(parts, name) {
  items <- lapply(parts, attr, "items", exact = TRUE)
  if (!identical(items[[1L]], items[[2L]]))
    return(said("wave_answers_differ",
                question = label_of(parts[[1L]]) %||% name,
                new = setdiff(items[[1L]], items[[2L]]),
                gone = setdiff(items[[2L]], items[[1L]])))
  inside <- do.call(rbind,
                    lapply(parts, function(x) {
                      attr(x, "ticked", exact = TRUE)[as.integer(x), , drop = FALSE]
                    }))
  asked <- unlist(lapply(parts, function(x) !is.na(x)))
  inside[is.na(inside)] <- FALSE
  new_ticks(inside, asked, items[[1L]],
            attr(parts[[1L]], "item_names", exact = TRUE),
            label_of(parts[[1L]]))
}

# ---- what changed in the questions ----

# New, gone and relabelled questions and answers between two sets of records,
# one a row.
questions_changed <- function(now, then) {
  row <- function(question, change, then = "", now = "") {
    list2DF(list(question = rep_len(question, length(change)), change = change,
                 before = rep_len(then, length(change)),
                 now = rep_len(now, length(change))))
  }
  none <- row(character(), character())
  title <- function(data, name) label_of(data[[name]]) %||% name
  whole <- list(none)
  for (name in setdiff(names(now), names(then)))
    whole <- c(whole, list(row(name, "new_question", now = title(now, name))))
  for (name in setdiff(names(then), names(now))) whole <-
    c(whole, list(row(name, "question_gone", then = title(then, name))))
  for (name in intersect(names(now), names(then))) {
    if (title(now, name) != title(then, name))
      whole <- c(whole,
                 list(row(name, "retitled", title(then, name),
                          title(now, name))))
    whole <-
      c(whole, list(answers_changed(now[[name]], then[[name]], name, row)))
  }
  do.call(rbind, whole)
}

answers_changed <- function(now, then, name, row) {
  declared <- lapply(list(now, then), function(x) {
    if (!is.factor(x)) return(NULL)
    shown <- setdiff(levels(x), attr(x, "missing", exact = TRUE))
    stats::setNames(shown,
                    as.character(attr(x, "values", exact = TRUE) %||%
                                   levels(x))[match(shown, levels(x))])
  })
  a <- declared[[1L]]
  b <- declared[[2L]]
  if (is.null(a) || is.null(b)) return(NULL)
  new <- setdiff(a, b)
  gone <- setdiff(b, a)
  # the same code under another label
  same <- intersect(names(a)[a %in% new], names(b)[b %in% gone])
  rbind(if (length(same))
          row(name, rep("relabelled", length(same)), unname(b[same]),
              unname(a[same])),
        row(name, rep("new_answer", length(setdiff(new, a[same]))),
            now = setdiff(new, a[same])),
        row(name, rep("answer_gone", length(setdiff(gone, b[same]))),
            then = setdiff(gone, b[same])))
}

# ---- the table of a change ----

within_wave <- function(names) if (length(names)) paste0(names, wave_column)

# The survey of both waves with every question across subdivided by the wave,
# and the sums of all its tables.
with_waves_within <- function(survey, items) {
  for (name in intersect(unique(unlist(lapply(items, `[[`, "across"))),
                         names(survey$data))) {
    # items do not exclude each other
    if (!is.null(attr(survey$data[[name]], "items", exact = TRUE))) next
    survey <- subdivide(survey, !!name, !!wave_column, name = within_wave(name))
    attr(survey$data[[within_wave(name)]], "label") <-
      label_of(survey$data[[name]]) %||% name
  }
  with_tallies(survey,
               lapply(items, function(item) {
                 known <- function(names) intersect(names, names(survey$data))
                 list(down = known(item$down),
                      across = known(c(wave_column, within_wave(item$across))))
               }))
}

# A question down by wave, and by wave within the answers of every question
# across, each column against the one before it; or why there is none.
table_of_change <- function(compare, item, survey, style) {
  differing <- compare$differing[intersect(names(compare$differing), c(item$down, item$across))]
  if (length(differing)) return(paste(differing, collapse = " "))
  absent <- setdiff(c(item$down, item$across), names(survey$data))
  if (length(absent)) return(words("wave_lacks", questions = absent))
  across <- c(wave_column,
              intersect(within_wave(setdiff(item$across, item$down)),
                        names(survey$data)))
  s <- item$settings
  table <- function(across) {
    crosstab(survey, down = !!item$down, across = !!across,
             alpha = s[["alpha"]], correction = s[["correction"]],
             percent = "column")
  }
  x <- if (length(across) > 1L) table(across) else beside(table(across))
  layout <- s[intersect(names(s), c("decimals", "labels", "wrap", "shorten", "hide_under"))]
  layout$bases <- "n" # weights of each wave stand on a scale of their own
  x <- with_layout(x,
                   c(layout,
                     list(
                       show = c("column", "difference"), stack = "brackets",
                       against = "previous", marks = "differences",
                       lines = "none",
                       source = FALSE,
                       title = words("wave_title",
                                     question = table_title(x$totals[[1L]]),
                                     waves = levels(
                                       survey$data[[wave_column]])))), style)
  x$layout$total <- FALSE
  x
}
