# Earlier waves beside this one: their records joined to these, so that what the
# waves share (clusters, strata) is in the covariance of a change, and what is
# new, gone or relabelled in the questions. Waves stand in their order, this one
# last.

with_wave_before <- function(plan) {
  asked <- plan$asked$before
  if (is.null(asked) && is.null(plan$then)) return(plan)
  if (!is.null(asked$question)) {
    plan$compare <- or_fault(plan, "before", compared_with(
      waves_of_question(plan, asked), asked$against, asked$breaks))
    if (!is.null(plan$compare)) plan$survey <- plan$compare$now
    return(plan)
  }
  then <- surveys_before(plan, asked)
  if (length(then))
    plan$compare <- or_fault(plan, "before", compared_with(
      waves_of_surveys(c(then, list(plan$survey)), asked$called), asked$against,
      asked$breaks))
  plan
}

# The waves with what each is compared with: the one before it, the first, or one
# of them by its name.
compared_with <- function(compare, against = NULL, breaks = NULL) {
  compare$against <- against %||% "previous"
  waves <- levels(compare$survey$data[[wave_column]])
  compare$breaks <- breaks_asked(breaks, waves)
  if (!compare$against %in% c("previous", "first", waves))
    stop_input(c(tells("no_wave_of_that_name", list_some(waves),
                       compare$against),
                 did_you_mean(compare$against, waves, "waves")), "plan",
               call = NULL)
  compare
}

# Breaks in the series, "WAVE" or "WAVE: why", by the wave that begins anew: why, by its
# name.
breaks_asked <- function(breaks, waves) {
  if (!length(breaks)) return(NULL)
  wave <- trimws(sub(":.*$", "", breaks))
  why <- ifelse(grepl(":", breaks, fixed = TRUE), trimws(sub("^[^:]*:", "", breaks)), "")
  odd <- setdiff(wave, waves[-1L])
  if (length(odd))
    stop_input(c(tells("no_wave_of_that_name", list_some(waves[-1L]), odd[1L]),
                 did_you_mean(odd[1L], waves, "waves")), "plan", call = NULL)
  stats::setNames(why, wave)
}

# The earlier waves in their order, prepared as this one.
surveys_before <- function(plan, asked) {
  found <- plan$then %||%
    lapply(as.list(asked$file) %or% list(NULL), function(file) {
      or_fault(plan, "before",
               records_of(plan, replace(asked, "file", list(file)), "before"))
    })
  known <- length(plan$faults$found)
  out <- lapply(Filter(Negate(is.null), found), function(data) {
    if (inherits(data, "fairlattice_survey")) return(data)
    survey <- or_fault(plan, "before", survey_as_asked(data, plan$asked$asked))
    if (!is.null(survey)) designed_survey(plan, survey)
  })
  # a step that fits these records alone
  for (k in seq_along(plan$faults$found)) if (k > known)
    plan$faults$found[[k]]$message <-
      spoken(tells("in_wave_before", plan$faults$found[[k]]$message))
  if (length(out) == length(found)) Filter(Negate(is.null), out)
}

# The names of so many waves.
wave_names <- function(called, waves) {
  if (is.null(called))
    return(if (waves == 2L) c(words("wave.before"), words("wave.now")) else
      words("wave.nth", n = seq_len(waves)))
  if (length(called) != waves || anyDuplicated(called))
    stop_input(tells("called_different_names_of_waves", waves), "plan",
               call = NULL)
  called
}

wave_column <- "\rwave"

wave_of <- function(codes, called) {
  new_answers(codes, called, label = words("line.all"), ordered = TRUE)
}

# All waves in one file: an answer each of a question.
waves_of_question <- function(plan, asked) {
  survey <- plan$survey
  name <-
    column_named(list(expression = asked$question), survey$data, "question", NULL)
  for (arg in c("now", "then")) if (is.null(asked[[arg]]))
    stop_input(tells("before_lacks_key_answer", arg, name,
                     c(now = "this wave", then = "the wave before")[[arg]]),
               "plan", call = NULL)
  given <- grounded(survey, name)$data[[name]]
  # waves may be numbers, such as years
  numbers <- is.numeric(given) && !is.factor(given) && is.null(attr(given, "labels"))
  in_answers <- function(x) as_answers(if (numbers) as.character(x) else x, name)
  answers <- in_answers(given)
  waves <- unlist(asked[c("then", "now")], use.names = FALSE)
  for (value in waves) {
    if (!value %in% levels(answers))
      stop_input(c(tells("question_has_no_answer", name, value),
                   did_you_mean(value, levels(answers), "answers")),
                 "no_answer", value = value, call = NULL)
  }
  called <- wave_names(asked$called %||% waves, length(waves))
  survey <- with_made(survey, wave_column, name, function(columns, ...) {
    answers <- in_answers(columns[[1L]])
    wave_of(match(levels(answers)[as.integer(answers)], waves), called)
  })
  condition <-
    sprintf("%s == %s", rlang::expr_deparse(as.name(name)),
            if (numbers) asked$now else deparse(asked$now))
  list(survey = in_wave_strata(survey, called),
       now = among(plan$survey, !!condition),
       differing = character())
}

# Sets of records as one survey: the columns that all have with the same answers.
# The design is that of all; a cluster of the same name is the same cluster.
# Weights of each wave are taken to the same mean, so that none counts for more.
waves_of_surveys <- function(surveys, called) {
  for (one in surveys) if (is_far(one))
    stop_needs_records(tells("comparing_waves"), one, NULL)
  surveys <- imputed_alike(surveys)
  called <- wave_names(called, length(surveys))
  now <- surveys[[length(surveys)]]
  # of several stages the first
  roles <- lapply(now$roles[c("weight", "stratum", "cluster", "count")],
                  function(names) names[1L])
  replicated <- vapply(surveys, function(one) length(one$replicates) > 0L, NA)
  if (any(replicated) && !all(replicated))
    stop_input(tells("waves_replicate_weights_in_all"), "plan", call = NULL)
  for (one in surveys) for (name in unlist(roles)) if (!name %in% names(one$data))
    stop_input(tells("wave_before_no_column", name), "no_column", column = name,
               call = NULL)
  # the latest first, whose answers and titles hold
  latest <- rev(surveys)
  both <- Reduce(intersect, lapply(latest, function(one) names(one$data)))
  joined <- lapply(stats::setNames(both, both), function(name) {
    columns <- lapply(latest, function(one) one$data[[name]])
    one <- waves_joined(columns, name)
    # what the design needs is joined by its words, though as a question it may
    # differ
    if (is_said(one) && name %in% unlist(roles))
      unlist(lapply(columns, plain_role)) else one
  })
  differing <- vapply(Filter(is_said, joined), in_words, "")
  data <- list2DF(joined[setdiff(both, names(differing))])
  size <- vapply(latest, function(one) nrow(one$data), 0L)
  if (!is.null(roles$weight))
    data[[roles$weight]] <- data[[roles$weight]] /
      rep(vapply(latest, function(one) mean(one$weight, na.rm = TRUE), 0), size)
  data[[wave_column]] <- wave_of(rep(rev(seq_along(surveys)), size), called)
  if (imputations_of(now$design) > 1L) {
    roles$imputation <- wave_imputation
    data[[wave_imputation]] <- unlist(lapply(latest, `[[`, "imputation"))
  }
  if (any(replicated))
    return(list(survey = aside_as_in(replicated_waves(data, latest, size, roles), latest),
                differing = differing))
  survey <- respondents(data, weight = !!roles$weight,
                        stratum = !!roles$stratum, cluster = !!roles$cluster,
                        count = !!roles$count, imputation = !!roles$imputation,
                        single_cluster = now$design$single_cluster)
  survey <- aside_as_in(survey, latest)
  sizes <- lapply(latest, function(one) {
    units <- one$design$units
    if (!is.null(units$population))
      stats::setNames(units$population, units$stratum)
  })
  survey$calibration <- calibration_of_waves(latest, size)
  list(survey = in_wave_strata(survey, called, unlist(sizes)),
       differing = differing)
}

wave_imputation <- "\rimputation"

# Waves of imputed data sets are put together imputation by imputation; one that was not
# imputed is the same in all of them.
imputed_alike <- function(surveys) {
  times <- vapply(surveys, function(one) imputations_of(one$design), 1)
  M <- max(times)
  if (any(times > 1 & times < M))
    stop_input(c(tells("waves_imputed_differently", list_some(times)),
                 i = tells("waves_imputed_as_often")), "plan", call = NULL)
  lapply(surveys, function(one) {
    if (imputations_of(one$design) == M) return(one)
    rows <- rep(seq_len(nrow(one$data)), M)
    one$data <- list2DF(lapply(one$data, values_at, rows))
    for (part in c("weight", "aside"))
      if (!is.null(one[[part]])) one[[part]] <- one[[part]][rows]
    one$calibration <- calibration_of_records(one$calibration, rows)
    one$design$imputations <- M
    one$imputation <- rep(seq_len(M), each = length(rows) / M)
    one
  })
}

# Whoever was set aside in a wave, or left out of it before, is so in all of them
# together, for the same reason.
aside_as_in <- function(survey, surveys) {
  before <- bind_frames(lapply(surveys, `[[`, "before"))
  if (!is.null(before)) survey$before <- sum_by(before, c("code", "detail"), "records")
  last <- cumsum(vapply(surveys, function(one) nrow(one$data), 0L))
  for (k in seq_along(surveys)) {
    one <- surveys[[k]]
    aside <- integer(nrow(survey$data))
    if (!is.null(one$aside)) aside[last[k] - length(one$aside) + seq_along(one$aside)] <- one$aside
    for (r in seq_len(nrow(one$reasons)))
      survey <- set_aside(survey, aside == r, one$reasons$code[r], one$reasons$detail[r])
  }
  survey$cut <- any(unlist(lapply(surveys, `[[`, "cut")))
  among <- unique(lapply(surveys, `[[`, "among"))
  if (length(among) == 1L) survey["among"] <- among
  survey
}

# The margins of each wave hold for its own records: every wave has variables of
# its own, which are 0 for the others.
calibration_of_waves <- function(surveys, size) {
  steps <- max(lengths(lapply(surveys, `[[`, "calibration")))
  own <- lapply(surveys, function(one) one$weight %||% rep(1, nrow(one$data)))
  joined <- function(s, part) {
    unlist(Map(function(one, weight) {
      step <- one$calibration[s][[1L]]
      values <- step[[part]] %||% (if (part == "carry") step$weight) %||% weight
      values / mean(weight, na.rm = TRUE)
    }, surveys, own))
  }
  lapply(seq_len(steps), function(s) {
    found <- lapply(surveys, function(one) one$calibration[s][[1L]])
    columns <- vapply(found, function(step) ncol(step$x) %||% 0L, 0L)
    before <- cumsum(columns) - columns
    patterns <- Map(function(step, k) {
      x <- matrix(0, 1L + (nrow(step$x) %||% 0L), sum(columns))
      if (columns[k]) x[-1L, before[k] + seq_len(columns[k])] <- step$x
      x
    }, found, seq_along(found))
    start <- cumsum(c(0L, vapply(patterns, nrow, 0L)))
    of <- Map(function(step, rows, at) at + 1L + (step$of %||% rep(0L, rows)),
              found, size, start[-length(start)])
    every <- function(part) unique(unlist(lapply(found, `[[`, part)))
    new_calibration_step(every("label"), every("names"),
                         do.call(rbind, patterns), unlist(of),
                         joined(s, "weight"), joined(s, "carry"))
  })
}

# Replicate weights of all waves. Those of the same number and coefficients go
# together, replicate by replicate: where the waves share clusters that carries
# their covariance, and where they do not it comes to nothing on average. Others
# follow each other: in the replicates of one wave the others stay as they are.
replicated_waves <- function(data, latest, size, roles) {
  designs <- lapply(latest, function(one) one$design$replicates)
  weights <- Map(function(one) {
    as.matrix(one$data[one$replicates]) / mean(one$weight, na.rm = TRUE)
  }, latest)
  scales <- lapply(designs, `[[`, "scale")
  together <- all(vapply(scales[-1L], function(scale) {
    isTRUE(all.equal(scale, scales[[1L]]))
  }, NA))
  own <- split(seq_len(sum(size)), rep(seq_along(size), size))
  if (together) {
    W <- do.call(rbind, lapply(weights, unname))
    scale <- scales[[1L]]
    df <- min(vapply(designs, `[[`, 0, "df"))
  } else {
    W <- matrix(data[[roles$weight]], sum(size), sum(lengths(scales)))
    at <- split(seq_len(ncol(W)), rep(seq_along(scales), lengths(scales)))
    for (k in seq_along(weights)) W[own[[k]], at[[k]]] <- weights[[k]]
    scale <- unlist(scales)
    df <- sum(vapply(designs, `[[`, 0, "df"))
  }
  names <- paste0("\rreplicate", seq_len(ncol(W)))
  data[names] <- as.data.frame(W)
  data <- data[setdiff(names(data), unlist(lapply(latest, `[[`, "replicates")))]
  respondents(data, weight = !!roles$weight, count = !!roles$count,
              imputation = !!roles$imputation, replicates = !!names, replicate_kind = "jkn",
              replicate_scale = scale, replicate_df = df)
}

# A stratum is centred within the set of waves in which its clusters were
# visited (only before, only now, both): the waves' own stratification holds, and
# clusters of both carry the covariance. Where every respondent is a cluster of
# their own, within each wave. `population` has what the strata hold, by their
# names, where it is known: each wave is a share of it.
in_wave_strata <- function(survey, called, population = NULL) {
  if (length(population)) {
    units <- survey$design$units
    size <- unname(population[match(units$stratum, names(population))])
    survey$design$units$population <- replace(size, is.na(size), Inf)
  }
  design <- survey$design
  if (is_far(survey) || !design$clustered && is.null(survey$unit) &&
        !design$weighted) return(with_calibration(survey))
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
    of_unit <- lapply(of_unit, function(waves) sort(unique(waves)))
    visited <- vapply(of_unit, label, "")
    stratum <- units$stratum
    units$stratum <- named(stratum, visited)
    if (!is.null(units$population))
      units$population <- units$population *
        share_of_waves(of_unit, stratum, units$stratum)
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
  with_calibration(survey)
}

# By what the population of a stratum is multiplied for the clusters of one set of
# waves, so that they are as large a part of it as the clusters of their waves are.
share_of_waves <- function(of_unit, stratum, class) {
  in_wave <- table(rep(stratum, lengths(of_unit)), unlist(of_unit))
  visited <- vapply(seq_along(of_unit), function(u) {
    if (!length(of_unit[[u]])) return(1)
    mean(in_wave[stratum[u], as.character(of_unit[[u]])])
  }, 0)
  as.vector(table(class)[class]) / visited
}

plain_role <- function(x) {
  if (is.numeric(x) && !is.factor(x)) as.numeric(x) else as.character(x)
}

# A column of all waves, that of the latest first, or why it cannot be one.
waves_joined <- function(columns, name) {
  now <- columns[[1L]]
  plain <- vapply(columns, function(x) is.numeric(x) && !is.factor(x), NA)
  if (all(plain) && is.null(attr(now, "labels")))
    return(structure(unlist(lapply(columns, function(x) as.vector(unclass(x)))),
                     label = label_of(now)))
  parts <- lapply(columns, function(x) {
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
  if (!observed && !all_alike(shown))
    return(answers_differ(label_of(now) %||% name, shown))
  missing <- unique(unlist(lapply(parts, attr, "missing", exact = TRUE)))
  answers <- c(setdiff(unique(unlist(shown)), missing), missing)
  given <- unlist(lapply(parts, function(x) levels(x)[as.integer(x)]))
  out <- new_answers(match(given, answers), answers,
                     missing = as.character(missing), label = label_of(now),
                     ordered = is.ordered(parts[[1L]]))
  for (what in c("nets", "scores", "headings", "history"))
    attr(out, what) <- attr(parts[[1L]], what, exact = TRUE)
  out
}

all_alike <- function(answers) {
  all(vapply(answers[-1L], identical, NA, answers[[1L]]))
}

# What this wave has that no other has, and the other way.
answers_differ <- function(question, shown) {
  earlier <- unique(unlist(shown[-1L]))
  said("wave_answers_differ", question = question,
       new = setdiff(shown[[1L]], earlier), gone = setdiff(earlier, shown[[1L]]))
}

ticks_joined <- function(parts, name) {
  items <- lapply(parts, attr, "items", exact = TRUE)
  if (!all_alike(items))
    return(answers_differ(label_of(parts[[1L]]) %||% name, items))
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

# The survey of all waves with every question across subdivided by the wave,
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
# across, each column against the one before it (or the first); or why there is
# none.
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
  x <- with_breaks(x, names(compare$breaks))
  layout <- s[intersect(names(s), c("decimals", "labels", "wrap", "shorten", "hide_under"))]
  layout$bases <- "n" # weights of each wave stand on a scale of their own
  x <- with_layout(x,
                   c(layout,
                     list(
                       show = c("column", "difference"), stack = "brackets",
                       against = compare$against, marks = "differences",
                       lines = "none", source = FALSE,
                       notes = over_waves(x, style, compare$breaks),
                       title = words("wave_title",
                                     question = table_title(x$totals[[1L]]),
                                     waves = levels(
                                       survey$data[[wave_column]])))), style)
  x$layout$total <- "none"
  x
}

# The tables of a banner know of the breaks, across which nothing is compared.
with_breaks <- function(x, breaks) {
  x$tables <- lapply(x$tables, lapply, function(table) {
    if (!is.null(table)) table$choices$breaks <- breaks
    table
  })
  x
}

# What the waves together say: whether anything changed over them, and of three
# and more which answers rise or fall from wave to wave; with breaks in the series only
# over the waves since the last, and what the breaks are.
over_waves <- function(x, style, breaks = NULL) {
  whole <- single_tables(x)[[1L]]
  if (!has(whole, "adds_up")) return(NULL)
  in_style(style, {
    test <- if (length(breaks)) list(p = NA) else headline_of(tests_of(whole)[[1L]])
    trends <- wave_trends(whole$layers[[1L]], whole$choices$correction,
                          whole$choices$alpha, names(breaks))
    found <- Filter(function(one) isTRUE(one$p_corrected <= whole$choices$alpha),
                    trends)
    c(if (length(breaks)) words("wave_breaks", wave = names(breaks), why = breaks),
      if (!is.na(test$p)) words("wave_any_change", figures = test_figures(test)),
      if (length(trends))
        words("wave_trends", answers = vapply(found, `[[`, "", "answer"),
              slope = points_of(found, "slope"), low = points_of(found, "low"),
              high = points_of(found, "high"),
              correction = whole$choices$correction,
              alpha = whole$choices$alpha))
  })
}

points_of <- function(rows, name) {
  signed(100 * vapply(rows, `[[`, 0, name), setting("digits"))
}

# The straight line through the shares of every answer over the waves, by least
# squares: its slope a wave with its interval and test, under the design with the
# covariance of clusters that waves share. None of fewer than three waves.
wave_trends <- function(layer, correction, alpha, breaks = NULL) {
  e <- layer$estimate
  waves <- e$columns
  since <- max(0L, which(answers_across(layer)[waves] %in% breaks))
  at <- seq_along(waves)[seq_along(waves) >= since]
  waves <- waves[at]
  if (length(waves) < 3L) return(NULL)
  line <- (waves - mean(waves)) / sum((waves - mean(waves))^2)
  under <- outer(as.vector(col(e$P)), at, `==`) + 0
  rows <- lapply(seq_len(nrow(e$P)), function(i) {
    shares <- ratios_of(under * (as.vector(row(e$P)) == i), under)
    found <- estimated(e, contrasts_of(shares, matrix(line)))
    se <- sqrt(found$variance)
    t <- if (isTRUE(se > 1e-12)) critical_t(alpha, found$df) else NA_real_
    list(answer = answers_down(layer)[e$rows[i]], slope = found$value, se = se,
         low = found$value - t * se, high = found$value + t * se,
         p = if (is.na(t)) NA_real_ else two_sided(found$value / se, found$df))
  })
  corrected_rows(rows, correction)
}

# ---- several waves as one survey ----

#' Several waves as one survey
#'
#' A combined survey of several years: the records of all, their weights divided
#' as the producer says, so that the sums are those of an average year. The
#' design is that of all waves together (clusters that were visited again are
#' the same cluster), and margins that weights were calibrated to hold for each
#' wave by itself. The column `wave` says which wave a record is of.
#'
#' @param ... (surveys) From [respondents()], in their order.
#' @param called (character) What the waves are called; default by their number.
#' @param divide ("equal", "size", or numbers, one a wave; default "equal") By
#'   what the weights of each wave are multiplied: one over the number of waves,
#'   the wave's part of all respondents, or what is given.
#' @return A survey.
#' @section Errors: `fairlattice_error_plan`: one wave alone, and numbers that
#'   are not one a wave; `fairlattice_error_no_column`.
#' @references Korn EL, Graubard BI (1999) Analysis of Health Surveys, ch. 8.
#' @export
#' @examples
#' waves <- lapply(c("before", "now"), function(wave) {
#'   respondents(demo_records(wave = wave), weight = weight, stratum = island,
#'               cluster = settlement)
#' })
#' crosstab(do.call(pooled_waves, waves), down = ferry, across = island)
pooled_waves <- function(..., called = NULL, divide = "equal") {
  surveys <- list(...)
  call <- environment()
  stop_waves <- function(...) stop_input(tells(...), "plan", call = call)
  if (length(surveys) < 2L || !all(vapply(surveys, inherits, NA, "fairlattice_survey")))
    stop_waves("pooled_waves_of_surveys")
  size <- vapply(surveys, function(one) nrow(one$data), 0L)
  parts <- if (identical(divide, "equal")) rep(1 / length(surveys), length(surveys)) else
    if (identical(divide, "size")) size / sum(size) else divide
  if (!is.numeric(parts) || length(parts) != length(surveys) || anyNA(parts) || any(parts <= 0))
    stop_waves("pooled_waves_divided", length(surveys))
  joined <- waves_of_surveys(surveys, called)$survey
  # weights were taken to a mean of 1: back to their size, times the part
  mean <- vapply(surveys, function(one) {
    if (is.null(one$weight)) 1 else mean(one$weight, na.rm = TRUE)
  }, 0)
  times <- (mean * parts)[as.integer(joined$data[[wave_column]])]
  out <- with_weights_times(joined, times)
  if ("wave" %in% names(out$data)) stop_waves("pooled_waves_column_taken")
  out$data[["wave"]] <- structure(out$data[[wave_column]], label = words("wave.column"))
  out
}

# The survey with its weights, those of its replicates and what its calibration
# carries multiplied record by record.
with_weights_times <- function(survey, times) {
  columns <- c(survey$roles$weight, survey$replicates)
  if (is.null(survey$roles$weight)) {
    survey$data[["pooled"]] <- 1
    survey$roles["weight"] <- list("pooled")
    columns <- c("pooled", survey$replicates)
    survey$weight <- rep(1, nrow(survey$data))
    survey$design$weighted <- TRUE
  }
  for (name in columns) survey$data[[name]] <- as.numeric(survey$data[[name]]) * times
  survey$weight <- survey$weight * times
  survey$calibration <- lapply(survey$calibration, function(step) {
    for (part in c("weight", "carry", "before"))
      if (!is.null(step[[part]])) step[[part]] <- step[[part]] * times
    step
  })
  with_calibration(survey)
}
