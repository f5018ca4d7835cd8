# What a user asks for: a table of two questions, of one alone, or of several.

#' The crosstab
#'
#' `down` runs down the side (the rows), `across` runs across the top (the
#' columns), `each` makes one table per answer. By default `across` explains
#' `down`, so percentages are of each column; `explains = "down"` turns
#' percentages and every directed measure round. The records are read once, into
#' a tally; every figure comes from it.
#'
#' @param survey (survey or data frame) From [respondents()].
#' @param down,across (column names, see [fairlattice]) The two questions.
#'   Without `across` the table is of one question alone; several of either,
#'   `c(a, b)`, make one table of all their pairs (see [beside()]); so does a
#'   [battery()] with a question across, of its statements.
#' @param each (column name, default none) Makes one table per answer.
#' @param explains ("across" or "down", default "across") The question that is
#'   taken to explain the other.
#' @param percent ("column", "row", "total" or "none", default the base that
#'   `explains` calls for) Base of the percentages shown; `"none"` shows numbers
#'   of respondents alone. Percentages against `explains` lead to a caution.
#' @param alpha (number in 0-1, default option `fairlattice.alpha`, 0.05) Level
#'   of tests and marks; intervals have confidence 1 - `alpha`.
#' @param correction ("holm", "bonferroni" or "benjamini_hochberg", default
#'   option `fairlattice.correction`) Correction of the residuals' p-values over
#'   the cells of a table.
#' @param keep_empty (TRUE or FALSE, default TRUE unless [among()] was used)
#'   Whether declared answers that nobody gave keep their row or column. They
#'   are left out of every test either way.
#' @param paired (TRUE or FALSE, default FALSE) Whether `down` and `across` are
#'   the same question asked twice of the same people: the test is then whether
#'   answers changed as often one way as the other, and the strength is their
#'   agreement (kappa).
#' @param margin (number in 0-1, default none) What is too small to matter: the
#'   table then says whether V, by its interval, is within it, and
#'   [differences()] whether two shares differ by less (two one-sided tests).
#'   That is evidence of equivalence, which a large p-value is not.
#' @param peaks (TRUE or FALSE, default FALSE) Whether prints mark the largest
#'   percentage of every column (row, with row percentages), so that the drift
#'   of an ordered table is seen at a glance.
#' @param p ("asymptotic", "exact" or "simulated"; default by the table, see
#'   [tests()]) How the headline test of an unweighted table gets its p-value:
#'   in the table, the list of tests and the paragraph alike.
#' @param shares ("equal", or a named numeric vector) Without `across`: shares
#'   to hold the question against, one an answer, that add up to 1 or 100. The
#'   table shows them, marks answers that depart from them, and has the
#'   goodness-of-fit test of [test_shares()].
#' @param overlap (TRUE or FALSE, default FALSE) Whether the letters of a table
#'   of several questions across compare all its columns, not only those of the
#'   same question. That people stand in several columns is then taken into
#'   account.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return A crosstab (class `fairlattice_crosstab`) with the tally, the choices
#'   made and, per answer of `each`, the estimated proportions with their
#'   covariance. Nothing else is worked out before it is asked for, and whatever
#'   was is kept with the table. Print it, or pass it to [shares()], [tests()],
#'   [strength()], [residuals()], [cautions()], [write_up()], [flip()],
#'   [publish()].
#' @section Errors: those of [tally_of()], and `fairlattice_error_nobody` when
#'   no respondent is in the table,
#'   `fairlattice_error_too_many_cells`, `fairlattice_error_paired` (two
#'   questions without the same answers).
#' @export
#' @examples
#' survey <- respondents(demo_records(), weight = weight, stratum = island,
#'                       cluster = settlement, id = id)
#' crosstab(survey, down = ferry, across = island)
crosstab <- function(survey, down, across = NULL, each = NULL,
                     explains = c("across", "down"), percent = NULL,
                     alpha = NULL, correction = NULL, keep_empty = NULL,
                     paired = FALSE, margin = NULL, peaks = FALSE, p = NULL,
                     shares = NULL, overlap = FALSE, ...) {
  nothing_else(...)
  call <- environment()
  survey <- as_survey(survey)
  explains <- first_of(explains)
  down <- columns_named(named_by(down), survey$data, "down", call)
  across <- columns_named(named_by(across), survey$data, "across", call)
  each <- column_named(named_by(each), survey$data, "each", call)
  counts <- identical(percent, "none") # the base is the usual one, and numbers alone are shown
  if (counts) percent <- NULL
  keep_empty <- keep_empty %||% !survey$cut
  choices <- checked_choices(mget(names(table_choices()), call), call)
  if (is.null(down))
    stop_input(tells("down_name_question"), "column_name", call = call)
  check_p_asked(p, survey, call)
  asked <- down
  if (length(across)) {
    survey <- with_statements_of(survey, asked, call)
    down <- statements_among(survey, asked)
  }
  table <- function(down, across) {
    if (is.null(across))
      return(one_way(survey, down, each, choices, shares, call))
    tally <- tally_columns(survey, down, across, each, call)
    if (paired) check_paired(tally, call)
    new_crosstab(tally, choices, call)
  }
  check_flag(overlap, "overlap", call)
  if (!is.null(shares) && (length(across) || length(down) != 1L))
    stop_input(tells("shares_are_of_one_question_down"), "against", call = call)
  single <- length(down) == 1L && length(across) <= 1L
  if (!single && is_far(survey) && is.null(survey$ready))
    survey <- with_ready_tallies(survey, pairs_of(down, across, each))
  if (overlap && (single || length(across) < 2L))
    stop_input(tells("overlap_several_questions_across"), "banner", call = call)
  out <- if (single) table(down, across) else
    tables_of(down, across, table, call)
  if (!single && length(asked) == 1L) out$down <- label_of(survey$data[[asked]])
  if (overlap)
    out$columns <- lapply(out$tables, function(row) {
      columns_as_items(survey, row, each, choices, call)
    })
  if (counts) out$layout <- list(show = "n")
  out
}

# Batteries among questions as their statements, which are questions then.
with_statements_of <- function(survey, names, call) {
  for (name in Filter(function(one) is_battery(survey, one), names))
    survey <- with_statements(survey, name, call)
  survey
}

statements_among <- function(survey, names) {
  unlist(lapply(names, function(name) {
    if (is_battery(survey, name)) battery_in(survey, name)$columns else name
  }))
}

# The statements of a battery as questions of their own, with its nets and
# scores.
with_statements <- function(survey, name, call) {
  asked <- survey$data[[name]]
  battery <- battery_in(survey, name)
  if (battery$answered == "all")
    survey <- set_aside(survey, is.na(asked), "missing", levels(asked)[2L])
  for (k in seq_along(battery$columns)) {
    column <- battery$columns[k]
    answers <- as_answers(survey$data[[column]], column, call)
    answers <- keeping(keeping(answers, "nets", battery$nets), "scores", battery$scores)
    attr(answers, "label") <- battery$statements[k]
    survey$data[[column]] <- answers
  }
  noted(survey, survey, "statements", list(name = name))
}

# An exact p-value is of respondents drawn one by one, each counting as one.
check_p_asked <- function(p, survey, call) {
  roles <- survey$roles[c("weight", "stratum", "cluster", "imputation")]
  designed <- !is.null(survey$design$replicates) || length(unlist(roles)) > 0L
  if (is.null(p) || p == "asymptotic" || !designed) return(invisible())
  stop_input(c(tells("no_p_value_weights_sample", p),
               i = tells("leave_p_out_test_follows")), "choice", call = call)
}

# Every pair of several questions, by its sides.
pairs_of <- function(down, across, each) {
  unlist(lapply(unique(down), function(one) {
    lapply(setdiff(across, one), function(other) {
      c(down = one, across = other, each = each)
    })
  }), recursive = FALSE)
}

# A question by itself: its percentages are of all respondents.
one_way <- function(survey, down, each, choices, shares, call) {
  statements <- is_battery(survey, down)
  choices[c("explains", "percent", "paired")] <- if (statements)
    list("down", "row", FALSE) else list("across", "column", FALSE)
  out <- new_crosstab(tally_alone(survey, down, call, each), choices, call)
  if (is.null(shares)) return(out)
  if (!has(out, "answers", "adds_up"))
    stop_input(tells("shares_question_one_answer_person"), "against",
               call = call)
  out$layers <- lapply(out$layers, function(layer) {
    with_given(layer,
               shares_against(shares, answers_down(layer), layer, "shares",
                              call))
  })
  out$kept <- new.env(parent = emptyenv()) # it is a table of another kind now
  out
}

# All pairs of several questions as one table; a question is not set against
# itself.
tables_of <- function(down, across, table, call) {
  if (is.null(across))
    return(new_banner(lapply(unique(down), function(one) list(table(one, NULL))),
                      NULL, call))
  tables <- lapply(unique(down), function(one) {
    lapply(unique(across), function(other) if (one != other) table(one, other))
  })
  empty <- vapply(tables, function(row) all(vapply(row, is.null, NA)), NA)
  if (all(empty)) check_questions(down[1L], across[1L], NULL, list(), call)
  out <- new_banner(tables[!empty], NULL, call)
  out$skipped <- intersect(down, across)
  out
}

# One question down by all columns of its banner at once, as items of a tick-all
# question: who stands in which columns is then in the covariance.
columns_as_items <- function(survey, row, each, choices, call) {
  tables <- Filter(Negate(is.null), row)
  name_of_side <- function(side) {
    vapply(tables, function(table) table$tally[[side]]$name, "")
  }
  survey <- grounded(survey,
                     unique(c(name_of_side("down"), name_of_side("across"),
                              each)), call)
  columns <- lapply(tables, function(table) {
    question <- table$tally$across
    shown <- unique(unlist(lapply(table$layers, answers_across)))
    answers <- as_answers(survey$data[[question$name]], question$name, call)
    text <- levels(answers)[as.integer(answers)]
    inside <- if (is.null(question$items)) outer(text, shown, `==`) else
      attr(answers, "ticked", exact = TRUE)[
        as.integer(answers), match(shown, question$items), drop = FALSE]
    list(items = paste(question$label, shown, sep = ": "),
         inside = inside & !is.na(inside))
  })
  inside <- do.call(cbind, lapply(columns, `[[`, "inside"))
  items <- make.unique(unlist(lapply(columns, `[[`, "items")))
  survey$data[["\rcolumns"]] <-
    new_ticks(inside, rep(TRUE, nrow(inside)), items, items, "columns")
  choices[c("explains", "percent", "paired")] <- list("across", "column", FALSE)
  choices$shown <- list(down = answers_down(tables[[1L]]$layers[[1L]]))
  down <- tables[[1L]]$tally$down$name
  new_crosstab(tally_columns(survey, down, "\rcolumns", each, call), choices,
               call)
}

# Shares named by the answers, checked, in their order; they add up to 1. `arg`
# is what the user knows them as.
shares_against <- function(against, answers, layer, arg, call) {
  stop_against <- function(...) stop_input(c(...), "against", call = call)
  if (identical(against, "equal"))
    return(rep(1 / length(answers), length(answers)))
  if (!is.numeric(against) || is.null(names(against)) || anyNA(against) ||
        any(against < 0)) {
    stop_against(tells("equal_shares_named_answers", arg))
  }
  unknown <- setdiff(names(against), answers)
  if (length(unknown))
    stop_against(tells("there_is_no_answer", unknown[1L]),
                 did_you_mean(unknown[1L], answers, "answers"))
  absent <- setdiff(answers, names(against))
  if (length(absent)) stop_against(tells("no_share_for", arg, absent[1L]))
  total <- sum(against)
  if (!any(abs(total - c(1, 100)) <= c(0.005, 0.5))) {
    stop_against(tells("shares_add_up_not_1_100", arg, format(total)))
  }
  q <- unname(against[answers]) / total
  none <- answers[q == 0 & layer$n[, 1L] > 0]
  if (length(none)) stop_against(tells("answered_but_share_0", none[1L], arg))
  q
}

# A one-way layer that is held against given shares, which it keeps as `given`.
with_given <- function(layer, given) {
  layer$given <- given
  class(layer) <- unique(c("fairlattice_given_layer", class(layer)))
  layer
}
