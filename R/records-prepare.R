# Preparing questions: every verb takes a data frame or a survey and gives the
# same back with the question changed; the caller's data stay as they were. What
# was done is kept with the question as its history, and every table says it.

data_of <- function(x, call) {
  if (inherits(x, "fairlattice_survey")) return(x$data)
  if (is.data.frame(x)) return(as_known_columns(x))
  stop_input(tells("x_data_frame_survey_one", quote_value(x)), "class",
             call = call)
}

# The one question that a step is about.
question_named <- function(named, data, call) {
  column_named(named, data, "question", call) %||%
    stop_input(tells("question_name_question"), "column_name", call = call)
}

with_history <- function(column, from, steps) {
  attr(column, "history") <-
    c(as.list(attr(from, "history", exact = TRUE)), steps)
  column
}

#' Join, rename, reorder answers
#'
#' `regroup(survey, ferry, Unhappy = c("Very dissatisfied", "Dissatisfied"))`.
#' Where every answer is named, the new order is the order given; otherwise a
#' new answer takes the place of the first that it joins. An ordered question
#' stays ordered as long as only neighbours are joined.
#'
#' @param x (data frame, survey, one column, or a table of counts from
#'   [crosstab_of_counts()]) What has the question.
#' @param question (column name, see [fairlattice]) Which question; not given
#'   when `x` is one column. Of a table of counts its title, or "rows" or
#'   "columns".
#' @param ... (character) New answers, each with the old ones that it joins. A
#'   reason for no answer may be joined in too.
#' @param other (string, default none) Joins every answer that is not named.
#' @param missing (named character or list, default none) Answers that become a
#'   reason for no answer: `c("Not relevant" = "Neither")`.
#' @return Like `x`, with the question regrouped and its history kept.
#' @section Errors: `fairlattice_error_no_answer` for an unknown old answer,
#'   with the nearest one;
#'   `fairlattice_error_regroup` for one that is named twice.
#' @export
#' @examples
#' survey <- regroup(demo_records(), tenure, Owned = c("Owned outright", "Mortgage"),
#'                   other = "Rented or tied")
#' crosstab(survey, down = leave, across = tenure)
regroup <- function(x, question, ..., other = NULL, missing = NULL) {
  call <- environment()
  # R takes q = for question = , and what was meant as the question for an answer
  taken <- Filter(function(name) {
    nzchar(name) && name != "question" && startsWith("question", name)
  }, names(sys.call()))
  if (length(taken)) {
    stop_input(c(tells("may_new_answer_short_question", taken[1L]),
                 i = tells("write_question_full_new_answers")), "regroup",
               call = call)
  }
  joins <- lapply(list(...), as.character)
  if (is.atomic(x) && !is.null(x)) {
    if (!base::missing(question)) stop_regroup_name(call)
    return(join_answers(as_answers(x, "x", call), joins, other, missing, "x",
                        call))
  }
  if (inherits(x, "fairlattice_crosstab"))
    return(regroup_counts(x, named_by(question), joins, other, missing,
                          call))
  data <- data_of(x, call)
  name <- question_named(named_by(question), data, call)
  done <- function(out) {
    noted(out, x, "regroup", list(question = name, answers = if (length(joins)) joins,
                                  other = other, missing = as.list(missing)))
  }
  done(with_made(x, name, name, function(columns, ...) {
    column <- columns[[1L]]
    # a number of which only some values are no answers stays a number
    if (looks_like_number(column) && !length(joins) && is.null(other))
      return(number_without(column, missing, name, call))
    join_answers(as_answers(column, name, call), joins, other, missing, name, call)
  }))
}

# A number, of which some values are reasons for no answer.
number_without <- function(x, missing, name, call) {
  missing <- lapply(as.list(missing), as.character)
  values <- suppressWarnings(as.numeric(unlist(missing)))
  unknown <- unlist(missing)[is.na(values) | !values %in% x]
  if (length(unknown))
    stop_input(c(tells("question_has_no_answer", name, unknown[1L]),
                 i = tells("number_missing_of_values")), "no_answer", column = name,
               value = unknown[1L], call = call)
  known <- attr(x, "reasons", exact = TRUE)
  reasons <- unique(c(known, names(missing)))
  out <- as.numeric(x)
  for (reason in names(missing))
    out[out %in% as.numeric(missing[[reason]])] <-
      missing_for_kernel(match(reason, reasons))
  with_history(new_number(out, reasons, label_of(x)), x,
               regroup_steps(list(), NULL, missing, character(), FALSE))
}

#' Labels for codes
#'
#' What the answers of a question are called, by the codes in its column:
#' `label_answers(survey, q1, c("1" = "Yes", "2" = "No"))`. A codebook says the same
#' of a whole file, see [codebook()].
#'
#' @param x (data frame or survey) What has the question.
#' @param question (column name, see [fairlattice]) Which question.
#' @param labels (named character) The new labels, named by the codes (or answers)
#'   that they stand for. Those that are not named stay as they are.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Like `x`, with the question changed.
#' @section Errors: `fairlattice_error_no_answer` for an unknown code.
#' @export
#' @examples
#' survey <- data.frame(q1 = c(1, 2, 2, 1), q2 = c("a", "b", "a", "a"))
#' crosstab(label_answers(survey, q1, c("1" = "Yes", "2" = "No")), q2, q1)
label_answers <- function(x, question, labels, ...) {
  nothing_else(...)
  call <- environment()
  data <- data_of(x, call)
  name <- question_named(named_by(question), data, call)
  labels <- unlist(labels)
  if (!is.character(labels) || is.null(names(labels)) || anyNA(labels) ||
        any(!nzchar(c(labels, names(labels)))) || anyDuplicated(labels))
    stop_input(c(tells("labels_named_by_codes"), i = tells("write_labels_codes")),
               "regroup", call = call)
  check_plain(data[[name]], name, "question", call)
  out <- with_made(x, name, name, function(columns, ...) {
    answers <- as_answers(columns[[1L]], name, call)
    join_answers(answers, stats::setNames(as.list(names(labels)), labels), NULL, NULL,
                 name, call, in_place = TRUE)
  })
  noted(out, x, "label_answers", list(question = name, labels = as.list(labels)))
}

# Answers as they may be called: by their labels, by the codes of the file, or by
# what they were called before they were joined.
answers_called <- function(asked, answers) {
  now <- levels(answers)
  also <- also_called(answers)
  vapply(asked, function(one) {
    if (one %in% now || !one %in% names(also)) one else also[[one]]
  }, "", USE.NAMES = FALSE)
}

# What each answer is called otherwise: its codes, and its names before.
also_called <- function(answers) {
  codes <- as.character(attr(answers, "values", exact = TRUE))
  codes <- if (length(codes) && !anyDuplicated(codes))
    stats::setNames(levels(answers), codes)
  c(attr(answers, "also_called", exact = TRUE), codes)
}

# Rows or columns of a table of counts, put together.
regroup_counts <- function(x, question, joins, other, missing, call) {
  if (is.null(x$tally$facts$counts)) {
    stop_input(c(tells("table_made_records_not_counts"),
                 i = tells("join_answers_records_make_table")), "regroup",
               call = call)
  }
  sides <-
    c(rows = "down", columns = "across", down = "down", across = "across")
  titles <- stats::setNames(names(sides)[3:4],
                            c(x$tally$down$name, x$tally$across$name))
  known <- c(titles, sides)
  name <- column_named(question,
                       stats::setNames(as.list(seq_along(known)),
                                       make.unique(names(known))), "question",
                       call)
  if (is.null(name))
    stop_input(tells("question_name_rows_columns"), "column_name", call = call)
  side <- known[[name]]
  M <- x$layers[[1L]]$n
  if (side == "across") M <- t(M)
  answers <- join_answers(as_answers(factor(rownames(M), rownames(M)), name,
                                     call), joins, other, missing, name, call)
  kept <- !is.na(answers)
  joined <-
    rowsum(M[kept, , drop = FALSE], as.integer(answers)[kept], reorder = TRUE)
  rownames(joined) <- levels(answers)[as.integer(rownames(joined))]
  if (side == "across") joined <- t(joined)
  found <- list(totals = attr(x, "totals"),
                kept = x$tally$facts$notes$kept_totals,
                sums = x$tally$facts$notes$kept_sums)
  out <- new_crosstab(tally_of_matrix(joined, x$tally$down$name,
                                      x$tally$across$name, found), x$choices,
                      call)
  out$tally[[side]]$history <- attr(answers, "history", exact = TRUE)
  attr(out, "totals") <- attr(x, "totals")
  out
}

#' The order and the title of a question
#'
#' `order_answers()` says in which order answers go; with `ordered` they are a
#' scale, so that trend, gamma and bands of colour follow. `retitle()` says what
#' the question is called in tables.
#'
#' @param x (data frame or survey) What has the question.
#' @param question (column name, see [fairlattice]) Which question.
#' @param answers (character) All its answers, in their order.
#' @param ordered (TRUE or FALSE, default TRUE) Whether the order is that of a
#'   scale.
#' @param title (string) What it is called.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Like `x`, with the question changed.
#' @section Errors: `fairlattice_error_no_answer` for an unknown answer,
#'   `fairlattice_error_order` for one that is not
#'   named.
#' @export
#' @examples
#' survey <- data.frame(size = c("small", "large", "middle", "small"),
#'                      town = c("yes", "no", "no", "yes"))
#' survey <- order_answers(survey, size, c("small", "middle", "large"))
#' crosstab(retitle(survey, town, "Lives in a town"), town, size)
order_answers <- function(x, question, answers, ordered = TRUE, ...) {
  nothing_else(...)
  call <- environment()
  data <- data_of(x, call)
  name <- question_named(named_by(question), data, call)
  if (!is.character(answers) || anyNA(answers))
    stop_input(tells("answers_texts"), "order", call = call)
  check_flag(ordered, "ordered", call)
  out <- with_made(x, name, name, function(columns, ...) {
    answers_in_order(as_answers(columns[[1L]], name, call), answers, ordered,
                     name, call)
  })
  noted(out, x, if (ordered) "order_answers" else "order_answers(ordered = FALSE)",
        list(question = name, answers = answers))
}

answers_in_order <- function(old, answers, ordered, name, call) {
  answers <- unique(answers_called(answers, old))
  column <- join_answers(old, stats::setNames(as.list(answers), answers), NULL,
                         NULL, name, call)
  absent <- setdiff(levels(old), c(answers, attr(old, "missing", exact = TRUE)))
  if (length(absent)) {
    stop_input(c(tells("order_name_all_answers_not", name,
                       list_some(sprintf("\"%s\"", absent)))), "order",
               column = name, call = call)
  }
  class(column) <- c("fairlattice_answers", if (ordered) "ordered", "factor")
  attr(column, "history") <- attr(old, "history", exact = TRUE)
  column
}

#' @rdname order_answers
#' @export
retitle <- function(x, question, title, ...) {
  nothing_else(...)
  call <- environment()
  data <- data_of(x, call)
  name <- question_named(named_by(question), data, call)
  if (!is.character(title) || length(title) != 1L || is.na(title) ||
        !nzchar(trimws(title)))
    stop_input(tells("title_one_text_not", quote_value(title)), "title",
               call = call)
  check_plain(data[[name]], name, "question", call)
  out <- with_made(x, name, name, function(columns, ...) {
    column <- columns[[1L]]
    attr(column, "label") <- title
    column
  })
  noted(out, x, "retitle", list(question = name, title = title))
}

# `in_place`: the answers keep their order, though all of them be named.
join_answers <- function(answers, joins, other, missing, name, call,
                         in_place = FALSE) {
  if (is.null(names(joins)) && length(joins) || any(!nzchar(names(joins))))
    stop_regroup_name(call)
  old <- levels(answers)
  was_missing <- attr(answers, "missing", exact = TRUE)
  joins <- lapply(joins, answers_called, answers)
  gone <- lapply(lapply(as.list(missing), as.character), answers_called, answers)
  named <- unlist(c(joins, gone), use.names = FALSE)
  unknown <- setdiff(named, old)
  if (length(unknown)) {
    stop_input(c(tells("question_has_no_answer", name, unknown[1L]),
                 did_you_mean(unknown[1L], old, "answers")), "no_answer",
               column = name, value = unknown[1L], call = call)
  }
  if (anyDuplicated(named)) {
    stop_input(tells("answer_named_twice", named[duplicated(named)][1L]),
               "regroup", call = call)
  }
  becomes <- stats::setNames(old, old)
  for (new in names(joins)) becomes[joins[[new]]] <- new
  for (reason in names(gone)) becomes[gone[[reason]]] <- reason
  if (!is.null(other)) becomes[setdiff(old, c(named, was_missing))] <- other
  reasons <- union(setdiff(was_missing, unlist(joins)), names(gone))
  kept <- setdiff(unique(unname(becomes)), reasons)
  complete <- all(setdiff(old, was_missing) %in% named)
  kept_answers <- if (complete && !in_place) intersect(c(names(joins), kept), kept) else kept
  out <- new_answers(match(unname(becomes)[as.integer(answers)],
                           c(kept_answers, reasons)), c(kept_answers, reasons),
                     missing = reasons, label = label_of(answers),
                     ordered = is.ordered(answers) &&
                       (complete || neighbours(joins, old)))
  attr(out, "scores") <- scores_after(attr(answers, "scores", exact = TRUE),
                                      becomes, kept, name, call)
  before <- also_called(answers)
  attr(out, "also_called") <-
    c(stats::setNames(becomes[before], names(before)), becomes)
  attr(out, "nets") <-
    nets_after(attr(answers, "nets", exact = TRUE), becomes, call)
  with_history(out, answers,
               regroup_steps(joins, other, gone,
                             setdiff(old, c(named, was_missing)),
                             is.ordered(answers) && !is.ordered(out)))
}

# The nets of a question whose answers were combined: `becomes` gives the new
# answer of each old one.
nets_after <- function(nets, becomes, call) {
  lapply(stats::setNames(names(nets), names(nets)), function(net) {
    new <- unique(unname(becomes[nets[[net]]]))
    cut <- Filter(function(answer) {
      !all(names(becomes)[becomes == answer] %in% nets[[net]])
    }, new)
    if (length(cut)) {
      stop_input(c(tells("combining_would_cut_net_two", cut[1L], net),
                   i = tells("take_net_away_first_net")), "net", call = call)
    }
    new
  })
}

# The scores of a question whose answers were combined: answers of different
# scores have none together.
scores_after <- function(scores, becomes, kept, name, call) {
  if (is.null(scores)) return(NULL)
  vapply(kept, function(answer) {
    own <- unique(scores[names(becomes)[becomes == answer]])
    if (length(own) != 1L) {
      stop_input(c(tells("would_combine_answers_different_scores", answer,
                         name), i = tells("give_scores_after_answers_been")),
                 "score", call = call)
    }
    own
  }, 0)
}

stop_regroup_name <- function(call) {
  stop_input(c(tells("every_new_answer_needs_name"),
               i = tells("write_new_c_old_older")), "regroup", call = call)
}

# Whether every join is of answers that stand side by side.
neighbours <- function(joins, old) {
  all(vapply(joins, function(join) {
    at <- match(join, old)
    diff(range(at)) == length(at) - 1L
  }, NA))
}

regroup_steps <- function(joins, other, gone, rest, unordered) {
  renamed <- lengths(joins) == 1L
  same <- renamed & names(joins) == vapply(joins, `[`, "", 1L)
  step <- function(code, new, old) {
    unname(Map(function(new, old) said(code, new = new, old = old), new, old))
  }
  c(step("joined", names(joins)[!renamed], joins[!renamed]),
    step("renamed", names(joins)[renamed & !same], joins[renamed & !same]),
    if (!is.null(other)) list(said("joined", new = other, old = rest)),
    step("made_missing", names(gone), gone),
    if (unordered) list(said("order_lost")))
}

#' Derived questions: pairs of answers, and scores from items
#'
#' `combine(survey, home = c(tenure, heating))` makes a question whose answers
#' are the pairs of theirs; whoever lacks one of them has no answer, for that
#' reason. `score_items(survey, comfort = c(internet, ferry))` makes a number:
#' the mean or sum over items of the answer's place in its order (1 for the
#' first; a number counts as itself).
#'
#' @param x (data frame or survey).
#' @param ... One new name, and the columns that it is made from.
#' @param by ("mean" or "sum", default "mean") How items make a score.
#' @param least (integer, default all) Items that must be answered; with fewer
#'   the score is missing. A sum over fewer items than all is the mean times
#'   their number.
#' @return Like `x`, with the new column.
#' @section Errors: `fairlattice_error_combine`, and those of naming columns.
#' @export
#' @examples
#' survey <- combine(demo_records(), home = c(tenure, household))
#' survey <- score_items(survey, comfort = c(internet, ferry), least = 1)
#' crosstab(band(survey, comfort, breaks = c(1, 2, 3, 4)), down = leave, across = comfort)
combine <- function(x, ...) {
  call <- environment()
  data <- data_of(x, call)
  asked <- new_from_columns(rlang::enquos(...), data, call)
  if (length(asked$columns) < 2L)
    stop_input(tells("combination_needs_least_two_questions"), "combine",
               call = call)
  out <- with_made(x, asked$name, asked$columns, function(columns, ...) {
    combined_answers(columns, call)
  })
  noted(out, x, "combine", list(name = asked$name, questions = asked$columns))
}

# The pairs of answers of several questions.
combined_answers <- function(columns, call) {
  answers <- Map(function(column, name) as_answers(column, name, call), columns,
                 names(columns))
  shown <- lapply(answers, function(one) {
    setdiff(levels(one), attr(one, "missing", exact = TRUE))
  })
  labels <- vapply(seq_along(answers), function(k) {
    label_of(answers[[k]]) %||% names(columns)[k]
  }, "")
  grid <- rev(expand.grid(rev(unname(shown)), KEEP.OUT.ATTRS = FALSE,
                          stringsAsFactors = FALSE))
  text <- lapply(answers, as.character)
  missing <- lapply(answers, is.na)
  reason <- rep(NA_character_, length(answers[[1L]]))
  for (k in rev(seq_along(answers))) {
    reason[missing[[k]]] <- paste0(
      labels[k], ": ",
      ifelse(is.na(text[[k]][missing[[k]]]), "no answer",
             text[[k]][missing[[k]]]))
  }
  reasons <- sort(unique(reason[!is.na(reason)]), method = "radix")
  pair <- do.call(paste, c(unname(text), sep = ", "))
  pair[!is.na(reason)] <- reason[!is.na(reason)]
  combinations <- c(do.call(paste, c(unname(grid), sep = ", ")), reasons)
  out <- new_answers(match(pair, combinations), combinations, missing = reasons,
                     label = paste(labels, collapse = " and "))
  with_history(out, NULL, list(said("paired_answers", questions = labels)))
}

#' @rdname combine
#' @export
score_items <- function(x, ..., by = c("mean", "sum"), least = NULL) {
  call <- environment()
  by <- first_of(by)
  check_choice(by, c("mean", "sum"), "by", call)
  data <- data_of(x, call)
  asked <- new_from_columns(rlang::enquos(...), data, call)
  out <- with_made(x, asked$name, asked$columns, function(columns, ...) {
    item_scores(columns, by, least, asked$name, call)
  })
  noted(out, x, "score_items",
        list(name = asked$name, questions = asked$columns, by = by, least = least))
}

item_scores <- function(columns, by, least, called, call) {
  size <- length(columns[[1L]])
  items <- vapply(names(columns), function(name) {
    item_values(columns[[name]], name, call)
  }, numeric(size))
  items <- matrix(items, size, length(columns))
  least <- least %||% ncol(items)
  given <- rowSums(!is.na(items))
  mean <- rowSums(items, na.rm = TRUE) / given
  enough <- given >= least & given > 0
  values <- ifelse(enough, if (by == "mean") mean else mean * ncol(items), NA)
  values[!enough] <- missing_for_kernel(rep(1L, sum(!enough)))
  out <- new_number(values,
                    sprintf("fewer than %d of %d items answered", least,
                            ncol(items)), called)
  with_history(out, NULL,
               list(said("scored", by = by, items = names(columns),
                         least = least)))
}

# An answer's place in its order; a number as itself.
item_values <- function(x, name, call) {
  if (is.numeric(x) && is.null(attr(x, "labels", exact = TRUE)))
    return(ifelse(is.na(x), NA_real_, as.vector(unclass(x))))
  if (!is.ordered(x)) {
    stop_input(c(tells("answers_no_order_make_no", name),
                 i = tells("give_ordered_questions_numbers")), "combine",
               call = call)
  }
  as.numeric(as.integer(plain_factor(x)))
}

# name = c(a, b): the new name and the columns.
new_from_columns <- function(quosures, data, call) {
  name <- names(quosures)
  if (length(quosures) != 1L || !nzchar(name %||% "")) {
    stop_input(c(tells("give_one_new_name_columns"),
                 i = tells("write_name_c_first_second")), "combine",
               call = call)
  }
  columns <- columns_named(named_in(quosures[[1L]]), data, name, call)
  for (column in columns) check_plain(data[[column]], column, name, call)
  list(name = name, columns = columns)
}

#' One record a person
#'
#' Where a person has several records (visits, waves), keeps one of them. The
#' others are left out of the sample and stand in the account of records under
#' their reason.
#'
#' @param x (data frame or survey).
#' @param id (column name, see [fairlattice]) Who the person is. Records without
#'   one are kept.
#' @param keep ("first", "last", or a condition in words, default "first") Which
#'   record stays; with a condition, the first that meets it (a person with none
#'   is left out).
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Like `x`, with fewer records.
#' @section Errors: `fairlattice_error_no_column`,
#'   `fairlattice_error_column_type`, `fairlattice_error_condition`.
#' @export
#' @examples
#' survey <- one_per(demo_records(), id, keep = "last")
#' crosstab(survey, down = ferry, across = island)
one_per <- function(x, id, keep = "first", ...) {
  nothing_else(...)
  call <- environment()
  data <- data_of(x, call)
  name <- column_named(named_by(id), data, "id", call)
  if (is.null(name))
    stop_input(tells("id_name_column"), "column_name", call = call)
  check_plain(data[[name]], name, "id", call)
  if (is_far(x)) stop_needs_records(tells("one_per"), x, call)
  who <- readable(as.character(data[[name]]))
  who[is.na(who) | !nzchar(who)] <-
    paste("\r", which(is.na(who) | !nzchar(who)))
  if (!is.character(keep) || length(keep) != 1L)
    stop_input(tells("keep_first_last_condition_words"), "choice", call = call)
  if (inherits(x, "fairlattice_survey") && !is.null(x$imputation))
    who <- paste(x$imputation, who)
  meets <- if (keep %in% c("first", "last")) rep(TRUE, nrow(data)) else
    kept_by_words(keep, data, call) %in% TRUE
  stays <- rep(FALSE, nrow(data))
  stays[meets] <- !duplicated(who[meets], fromLast = keep == "last")
  none <- !who %in% who[meets]
  before <- rbind(attr(data, "left_before", exact = TRUE),
                  data.frame(
                    code = c("another_record", "no_record_meets"),
                    detail = c("", keep),
                    records = c(sum(!stays & !none), sum(none))))
  before <- before[before$records > 0L, ]
  out <- if (inherits(x, "fairlattice_survey")) keep_records(x, stays, before, call) else
    only_records(data, stays, before)
  noted(out, x, "one_per", list(id = name, keep = keep))
}

only_records <- function(data, stays, before) {
  kept <- data[stays, , drop = FALSE]
  for (name in names(data)) kept[[name]] <- values_at(data[[name]], stays)
  for (name in c("source", "title")) attr(kept, name) <-
    attr(data, name, exact = TRUE)
  rownames(kept) <- NULL
  structure(kept, left_before = before)
}

# The survey of fewer records: the design is made anew, what was set aside by
# among() stays aside.
keep_records <- function(survey, stays, before, call) {
  data <- only_records(survey$data, stays, before)
  fresh <- new_survey(data, survey$roles,
                      role_columns(data, survey$roles), call)
  if (!is.null(survey$design$replicates$factors)) {
    stop_input(c(tells("replicates_survey_made_records_weights"),
                 i = tells("call_make_replicates_after_step")), "replicates",
               call = call)
  }
  fresh <- with_sampling(fresh, role_columns(data, survey$roles),
                         survey$design[c("single_cluster", "unequal")], call)
  fresh$design["replicates"] <- list(survey$design$replicates)
  fresh["replicates"] <- list(survey$replicates)
  aside <- (survey$aside %||% integer(nrow(survey$data)))[stays]
  # whoever was set aside before has that reason still
  zero <- match("zero_weight", fresh$reasons$code)
  if (!is.na(zero)) fresh$aside[fresh$aside == zero & aside > 0L] <- 0L
  for (k in seq_len(nrow(survey$reasons))) fresh <- set_aside(
    fresh, aside == k, survey$reasons$code[k], survey$reasons$detail[k])
  fresh$cut <- survey$cut
  fresh["among"] <- list(survey$among)
  fresh$calibration <- calibration_of_records(survey$calibration, stays)
  with_calibration(fresh)
}
