#' See the questions
#'
#' For every question its title, answers with counts and shares (with interval,
#' of all, cumulative where ordered), and the missing ones by reason; for a
#' number the smallest value, the weighted quartiles, the largest and how many
#' values differ. With a survey the shares and quartiles are weighted and the
#' intervals follow the design.
#'
#' @param x (data frame or survey) From [read_records()] or [respondents()].
#' @param question (columns, default all) The questions to look at: `c(ferry,
#'   tenure)`, strings, or a pattern such as `"reason_*"`.
#' @param find (string, default none) Only questions whose name or title has
#'   this in it.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame of class `fairlattice_look`, one row an answer:
#'   `question`, `title`, `type` ("answers", "ordered", "number",
#'   "text"), `answer`, `n` (records or respondents), `weighted`, `share` (0-1,
#'   of those with an answer; `NA` for reasons), `low`, `high`, `share_of_all`,
#'   `cumulative` (ordered answers), `missing` (TRUE for a reason for no
#'   answer). Its attribute `batteries` lists the questions that share their
#'   answers, by the name that a [battery()] of them could have.
#' @section Errors: `fairlattice_error_no_column`,
#'   `fairlattice_error_not_found`.
#' @export
#' @examples
#' look(demo_records(), "ferry")
#' look(respondents(demo_records(), weight = weight), find = "leav")
look <- function(x, question = NULL, find = NULL, ...) {
  nothing_else(...)
  call <- environment()
  if (!inherits(x, "fairlattice_survey") && !is.data.frame(x)) {
    stop_input(tells("x_data_frame_survey_not", quote_value(x)), "class",
               call = call)
  }
  survey <- if (inherits(x, "fairlattice_survey")) x else
    new_survey(as_known_columns(x), list(), list(), call)
  columns <- columns_named(named_by(question), survey$data, "question",
                           call) %||% names(survey$data)
  if (!is.null(find) &&
        (!is.character(find) || length(find) != 1L || is.na(find)))
    stop_input(tells("find_one_string_not", quote_value(find)), "not_found",
               call = call)
  if (!is.null(find)) columns <- found_questions(columns, survey$data, find, call)
  surveys <- if (is_far(survey)) surveys_of_questions(survey, columns) else
    rep(list(survey), length(columns))
  met <- Map(function(one, name) column_as_met(one$data[[name]], name, one$roles), surveys, columns)
  surveys <- with_answers(surveys, columns, lapply(met, `[[`, "answers"), apart = is_far(survey))
  each <- if (length(columns) > 50L) on_cores else lapply # a process takes longer than a few
  rows <- each(seq_along(columns), function(k) {
    look_column(surveys[[k]], columns[k], met[[k]], call)
  })
  found <- as.data.frame(data.table::rbindlist(flat_rows(rows)))
  structure(found, class = c("fairlattice_look", "data.frame"),
            records = records_stood_for(surveys[[1L]]),
            weight = survey$roles$weight, batteries = batteries_among(found))
}

# Three questions or more with the same three answers or more are statements of a
# battery, named by the beginning of their names.
batteries_among <- function(found) {
  listed <- found[found$type %in% c("answers", "ordered") & !found$missing, ]
  sharing_answers(split(listed$answer, factor(listed$question, unique(listed$question))))
}

# Of the answers of every question the names of those that share theirs, in the
# order of the questions.
sharing_answers <- function(answers) {
  answers <- lapply(answers, unique)
  several <- answers[lengths(answers) >= 3L]
  key <- vapply(several, function(one) paste(sort(one), collapse = "\r"), "")
  alike <- split(names(several), factor(key, unique(key)))
  alike <- unname(alike[lengths(alike) >= 3L])
  stats::setNames(alike, make.unique(vapply(alike, beginning_of_names, "")))
}

# "say" of "say_council" and "say_ferry".
beginning_of_names <- function(names) {
  apart <- strsplit(names, "", fixed = TRUE)
  size <- min(lengths(apart))
  same <- vapply(seq_len(size), function(k) {
    length(unique(vapply(apart, `[[`, "", k))) == 1L
  }, NA)
  start <- substr(names[1L], 1L, sum(cumprod(same)))
  start <- sub("[^[:alpha:]]+$", "", start)
  if (nzchar(start)) start else "statements"
}

# Parts of a look, lists of columns, stand in lists of lists: made one table at the end,
# which is much cheaper than table by table.
flat_rows <- function(x) {
  if (!is.null(names(x))) list(x) else unlist(lapply(x, flat_rows), recursive = FALSE)
}

found_questions <- function(names, data, find, call) {
  titles <- vapply(names, function(name) title_of(data[[name]], name), "")
  hit <- grepl(tolower(find), tolower(names), fixed = TRUE) |
         grepl(tolower(find), tolower(titles), fixed = TRUE)
  if (!any(hit))
    stop_input(c(tells("no_question_name_title", find),
                 did_you_mean(find, c(names, titles), "questions")),
               "not_found", call = call)
  names[hit]
}

# More different values than this are summed up, not listed.
look_at_most <- 30L

# What is told of a column: its answers, which are listed, or what it holds.
column_as_met <- function(x, name, roles) {
  if (is.null(x) || !is.atomic(x) || !is.null(dim(x)) || is.raw(x)) return(list(is = "not_single"))
  if (looks_like_number(x) || name %in% unlist(roles[c("weight", "count")]))
    return(list(is = "number"))
  if (has_many_values(x) || name %in% roles$id) return(list(is = "text"))
  answers <- tryCatch(as_answers(x, name), fairlattice_error = function(e) NULL)
  list(is = if (is.null(answers)) "uncounted" else "answers", answers = answers)
}

look_column <- function(survey, name, met, call) {
  x <- survey$data[[name]]
  if (is.character(x)) x <- readable(x)
  title <- title_of(x, name)
  row <- function(type, answer, n, weighted = NA_real_, share = NA_real_,
                  low = NA_real_, high = NA_real_, share_of_all = NA_real_,
                  cumulative = NA_real_, missing = FALSE) {
    if (!length(answer)) return(NULL)
    list(question = name, title = title, type = type, answer = as.character(answer),
         n = as.numeric(n), weighted = weighted, share = share, low = low, high = high,
         share_of_all = share_of_all, cumulative = cumulative, missing = missing)
  }
  switch(met$is,
         not_single = row(class(x)[1L], words("look_not_single"), records_stood_for(survey)),
         number = list(look_number(survey, x, row), look_missing(survey, x, row)),
         text = look_text(survey, x, row),
         uncounted = look_uncounted(survey, x, row),
         answers = look_answers(survey, name,
                                if (is.ordered(met$answers)) "ordered" else "answers", row, call))
}

has_many_values <- function(x) {
  if (is.character(x)) x <- readable(x)
  !is.factor(x) && length(unique(x)) > look_at_most
}

# The surveys with the answers in place of the columns. Unless each is a survey `apart`,
# the answers of all are tallied in one pass.
with_answers <- function(surveys, names, answers, apart) {
  listed <- which(!vapply(answers, is.null, NA))
  if (apart) {
    for (k in listed) surveys[[k]]$data[[names[k]]] <- answers[[k]]
    return(surveys)
  }
  survey <- surveys[[1L]]
  survey$data[names[listed]] <- answers[listed]
  alone <- lapply(names[listed], function(name) c(down = name, across = everybody))
  rep(list(with_ready_tallies(survey, alone)), length(surveys))
}

# Of records that stay where they are: each question by itself, numbers without
# the design, since every value of theirs would be told apart in every cluster.
surveys_of_questions <- function(survey, names) {
  bare <- survey
  bare$roles[c("stratum", "cluster", "population")] <- list(NULL)
  plain <- vapply(survey$data[names], function(x) !is.factor(x), NA)
  surveys <- list()
  surveys[!plain] <- grounded_many(survey, as.list(names[!plain]))
  surveys[plain] <- grounded_many(bare, as.list(names[plain]))
  # few answers, with no codebook: the design tells how far to trust them
  many <- function(x) looks_like_number(x) || has_many_values(x)
  few <-
    plain & !mapply(function(one, name) many(one$data[[name]]), surveys, names)
  surveys[few] <- grounded_many(survey, as.list(names[few]))
  surveys
}

# The columns of a survey as they are met: of records that stay where they are each
# by itself, its values in proportion to their records. An id of more values than a
# query may give is one of many values that are not listed.
columns_met <- function(survey, names = base::names(survey$data)) {
  if (!is_far(survey)) return(as.list(survey$data)[names])
  surveys <- tryCatch(surveys_of_questions(survey, names),
                      fairlattice_error_too_many_groups = function(e) NULL) %||%
    lapply(names, function(name) {
      tryCatch(surveys_of_questions(survey, name)[[1L]],
               fairlattice_error_too_many_groups = function(e) NULL)
    })
  Map(function(one, name) {
    if (is.null(one)) return(structure(as.character(seq_len(most_met)), answered = NA))
    in_proportion(one$data[[name]], one$sums$records)
  }, stats::setNames(surveys, names), names)
}

most_met <- 10000L

# Values repeated as often as they have records, of many records in proportion; how many
# records have one is said beside them (`answered`).
in_proportion <- function(x, records) {
  answered <- sum(records[!is.na(x)])
  if (sum(records) > most_met) records <- pmax(1, round(records * most_met / sum(records)))
  structure(values_at(x, rep(seq_along(x), records)), answered = answered)
}

looks_like_number <- function(x) {
  is.numeric(x) && !is.factor(x) && is.null(attr(x, "labels", exact = TRUE))
}

records_where <- function(survey, x) records_by(survey, as.integer(x), 1L)

look_text <- function(survey, x, row) {
  text <- as.character(x)
  blank <- is.na(text) | !nzchar(trimws(text))
  list(row("text",
           words("look_different", length(unique(text[!blank]))),
           records_where(survey, !blank)),
       row("text", words("reason.no_answer")[any(blank)], records_where(survey, blank),
           missing = TRUE))
}

look_uncounted <- function(survey, x, row) {
  if (!inherits(x, c("Date", "POSIXct", "difftime")))
    return(row(class(x)[1L], words("look_not_counted"),
               records_stood_for(survey)))
  row(class(x)[1L],
      words("look_different", length(unique(x))),
      records_where(survey, !is.na(x)))
}

look_answers <- function(survey, name, type, row, call) {
  tally <- tally_alone(survey, name, call)
  layer <- add_estimates(layers_of(tally, TRUE)[[1L]], tally)
  shares <- layer_shares(layer, "total", setting("alpha"))
  if (!is.null(tally$down$items)) type <- "ticks"
  all <- sum(tally$cells$n)
  n <- as.vector(layer$n)
  given <- row(type, answers_down(layer), n, as.vector(layer$weighted),
               shares$share, shares$low, shares$high, n / all,
               if (type == "ordered") cumsum(shares$share) else NA_real_)
  left <- if (any(tally$aside$records > 0)) tally$aside[tally$aside$records > 0, ]
  list(given, look_reasons(tally, type, row, all),
       if (!is.null(left)) row(type, reason_words(left$code, rep("", nrow(left)), left$detail),
                               left$records, missing = TRUE))
}

# How many have no answer, by its reason.
look_reasons <- function(tally, type, row, all) {
  counts <- sum_by_cell_kernel(tally$cells$down + 1L, tally$cells$n, length(tally$down$levels) + 1L)
  counts <- c(counts[-1L][tally$down$missing], counts[1L])
  met <- counts > 0
  if (!any(met)) return(NULL)
  reasons <- c(tally$down$levels[tally$down$missing], words("reason.no_answer"))
  row(type, reasons[met], counts[met], share_of_all = counts[met] / all, missing = TRUE)
}

look_number <- function(survey, x, row) {
  values <- as.numeric(as.vector(unclass(x)))
  endless <- records_where(survey, is.infinite(values))
  values[is.infinite(values)] <- NA
  seen <- value_sums(survey, values)
  if (endless)
    return(list(look_values(seen, row),
                row("number", words("infinite"), endless, missing = TRUE)))
  look_values(seen, row)
}

look_values <- function(seen, row) {
  if (!length(seen$value)) return(row("number", words("look_no_values"), 0L))
  at <- number_text(five_numbers(seen))
  row("number",
      words("look_number", five = at, different = length(unique(seen$value))),
      seen$n, sum(seen$weight))
}

# The smallest value, the quartiles and the largest.
five_numbers <- function(seen) {
  signif(weighted_quantiles(seen$value, seen$weight, 0:4 / 4), 6L)
}

# Every value that occurs with its weight. Whole numbers near each other are
# counted like answers; others stay one by one.
value_sums <- function(survey, values) {
  use <- !is.na(values)
  if (!is.null(survey$aside)) use <- use & survey$aside == 0L
  weight <- if (!is.null(survey$weight) || !is.null(survey$count))
    rep((survey$weight %||% 1) * (survey$count %||% 1),
        length.out = length(values))[use]
  standing <- if (!is.null(survey$sums)) survey$sums$n[use]
  # people stand in every imputed data set
  times <- if (is.null(standing)) imputations_of(survey$design) else 1
  values <- values[use]
  ends <- if (length(values)) range(values) else c(0, Inf)
  if (diff(ends) < 1e5 && max(abs(ends)) < 2^31 &&
        all(values == (whole <- as.integer(values)))) {
    at <- whole - as.integer(ends[1L]) + 1L
    size <- as.integer(diff(ends)) + 1L
    n <- if (is.null(standing)) tabulate(at, size) else
      sum_by_cell_kernel(at, standing, size)
    sums <- if (is.null(weight)) n else
      replace(numeric(size), which(n > 0L), rowsum(weight, at))
    return(list(value = ends[1L] + which(n > 0L) - 1,
                weight = as.numeric(sums[n > 0L]), n = sum(n) / times))
  }
  list(value = values, weight = weight %||% rep(1, length(values)),
       n = sum(standing %||% rep(1, length(values))) / times)
}

# The least value at which the weight up to it reaches the share; halfway
# between two values where it does so exactly.
weighted_quantiles <- function(values, weight, shares) {
  by_value <- order(values, method = "radix")
  values <- values[by_value]
  upto <- cumsum(weight[by_value])
  goal <- shares * upto[length(upto)]
  vapply(goal, function(g) {
    k <- min(length(values), sum(upto < g * (1 - 1e-12)) + 1L)
    if (abs(upto[k] - g) <= 1e-12 * upto[length(upto)] && k < length(values) &&
        g > 0) (values[k] + values[k + 1L]) / 2 else values[k]
  }, 0)
}

look_missing <- function(survey, x, row) {
  aside <- survey$aside %||% integer(length(x))
  asked <- aside == 0L
  counts <- if (inherits(x, "fairlattice_number")) {
    words <- c("no answer", attr(x, "reasons"))
    place <- ifelse(is.na(x) & asked, reason_of_kernel(as.numeric(x)) + 1L, 0L)
    stats::setNames(records_by(survey, place, length(words)), words)
  } else {
    c("no answer" = records_where(survey, is.na(as.vector(unclass(x))) & asked))
  }
  counts <- counts[counts > 0L]
  left <- records_by(survey, aside, nrow(survey$reasons))
  why <- reason_words(survey$reasons$code, rep("", length(left)),
                      survey$reasons$detail)
  list(row("number", names(counts), unname(counts),
           share_of_all = unname(counts) / records_where(survey, asked),
           missing = TRUE),
       row("number", why[left > 0L], left[left > 0L], missing = TRUE))
}

#' @export
`[.fairlattice_look` <- function(x, ...) {
  class(x) <- "data.frame"
  x[...]
}
