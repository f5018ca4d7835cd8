# The tallies of many tables from one pass over the records. A survey that has
# them ready gives them to tally_columns(); whatever changes the survey makes it
# forget them.

# `tables` is a list of c(down, across, each); across may be `everybody`.
# Questions that cannot be tabulated are left to the table that asks for them,
# which says why.
with_ready_tallies <- function(survey, tables) {
  tables <- unique(tables)
  if (length(tables) < 2L || length(survey$replicates) ||
        length(survey$calibration)) return(survey)
  if (is_far(survey)) return(with_far_tallies(survey, tables))
  columns <- setdiff(unique(unlist(tables)), everybody)
  answers <- lapply(stats::setNames(columns, columns), function(name) {
    tryCatch(as_answers(survey$data[[name]], name, NULL, codes = FALSE),
             fairlattice_error = function(e) NULL)
  })
  sound <- columns[vapply(columns, function(name) {
    x <- answers[[name]]
    !is.null(x) && !is_battery(survey, name) && nlevels(x) < 65536L &&
      codes_within_kernel(x, nlevels(x))
  }, NA)]
  tables <- Filter(function(one) {
    all(one %in% c(sound, everybody)) && one[[1L]] %in% sound
  }, tables)
  if (!length(tables)) return(survey)
  columns <- setdiff(unique(unlist(tables)), everybody)
  place <- function(side) {
    match(vapply(tables, function(one) one[side], ""), columns, 0L) - 1L
  }
  asked <- rbind(place("down"), place("across"), place("each"))
  cells <- tally_many_kernel(unname(answers[columns]),
                             vapply(answers[columns], nlevels, 0L), asked,
                             unit_of_tally(survey), survey$weight, survey$count,
                             survey$aside, units_of_tally(survey$design),
                             setting("threads"))
  questions <- Map(describe_question, answers[columns], columns)
  questions[[everybody]] <- everybody_question()
  aside <- aside_of(survey)
  survey$ready <- new.env(parent = emptyenv())
  survey$ready[[facts_ready]] <- facts_of_all(survey)
  for (k in seq_along(tables)) {
    one <- tables[[k]]
    survey$ready[[ready_key(one)]] <- list(
      cells = list2DF(people_in(cells[[k]], survey)), questions = questions[one], aside = aside,
      answers = answers[one])
  }
  survey
}

# Of records that stay where they are, all are asked for at once. What goes
# wrong with one goes wrong when it is asked for.
with_far_tallies <- function(survey, tables) {
  grounds <- grounded_many(survey,
                           lapply(tables, function(one) {
                             setdiff(unname(one), everybody)
                           }))
  survey$ready <- new.env(parent = emptyenv())
  for (k in seq_along(tables)) {
    one <- as.list(tables[[k]])
    survey$ready[[ready_key(tables[[k]])]] <- tryCatch(
      {
        tally <- if (one$across == everybody)
          tally_alone(grounds[[k]], one$down, NULL, one[["each"]]) else
          tally_columns(grounds[[k]], one$down, one$across, one[["each"]], NULL)
        list(cells = tally$cells, tally = tally)
      }, fairlattice_error = function(e) list(fault = e))
  }
  survey
}

# A tally without what its survey has, and with it again: many tables hold the
# same sums and design once, and a process that makes one does not send them
# back.
without_sums <- function(tally, survey) {
  found <- ready_of(tally, survey)
  if (!is.null(found) && identical(tally$cells, found$cells))
    tally["cells"] <- list(NULL)
  if (identical(tally$design, survey$design)) tally["design"] <- list(NULL)
  tally
}

with_sums <- function(tally, survey) {
  if (is.null(tally$cells)) tally$cells <- ready_of(tally, survey)$cells
  if (is.null(tally$design)) tally$design <- survey$design
  tally
}

ready_of <- function(tally, survey) {
  key <-
    ready_key(unlist(lapply(tally[c("down", "across", "each")], `[[`, "name")))
  if (!is.null(survey$ready)) survey$ready[[key]]
}

# Takes sums away from a survey that has them ready.
forget_tallies <- function(survey, tables) {
  if (is.null(survey$ready)) return(invisible())
  keys <- unique(vapply(tables, ready_key, ""))
  there <- vapply(keys, exists, NA, envir = survey$ready, inherits = FALSE)
  rm(list = keys[there], envir = survey$ready)
}
