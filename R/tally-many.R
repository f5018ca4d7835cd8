# The tallies of many tables from one pass over the records. A panel that has them ready gives them to tally_columns();
# whatever changes the panel makes it forget them.

# `tables` is a list of c(down, across, each); across may be `everybody`. Questions that cannot be tabulated are left to
# the table that asks for them, which says why.
with_ready_tallies <- function(panel, tables) {
  tables <- unique(tables)
  if (length(tables) < 2L || length(panel$replicates)) return(panel)
  if (is_far(panel)) return(with_far_tallies(panel, tables))
  names <- setdiff(unique(unlist(tables)), everybody)
  answers <- lapply(stats::setNames(names, names), function(name) {
    tryCatch(as_answers(panel$data[[name]], name, NULL, codes = FALSE), fairlattice_error = function(e) NULL)
  })
  sound <- names[vapply(answers, function(x) {
    !is.null(x) && nlevels(x) < 65536L && codes_within_kernel(x, nlevels(x))
  }, NA)]
  tables <- Filter(function(one) all(one %in% c(sound, everybody)) && one[[1L]] %in% sound, tables)
  if (!length(tables)) return(panel)
  names <- setdiff(unique(unlist(tables)), everybody)
  place <- function(one, side) if (side %in% names(one)) match(one[[side]], names, 0L) - 1L else -1L
  asked <- matrix(vapply(tables, function(one) vapply(c("down", "across", "each"), place, 0, one = one), numeric(3L)),
                  3L)
  storage.mode(asked) <- "integer"
  cells <- tally_many_kernel(unname(answers[names]), vapply(answers[names], nlevels, 0L), asked,
                             panel$unit, panel$weight, panel$count, panel$aside, nrow(panel$design$units),
                             setting("threads"))
  questions <- Map(describe_question, answers[names], names)
  questions[[everybody]] <- everybody_question()
  aside <- aside_of(panel)
  panel$ready <- new.env(parent = emptyenv())
  for (k in seq_along(tables)) {
    one <- tables[[k]]
    panel$ready[[ready_key(one)]] <- list(cells = list2DF(cells[[k]]), questions = questions[one], aside = aside,
                                          answers = answers[one])
  }
  panel
}

# Of records that stay where they are, all are asked for at once. What goes wrong with one goes wrong when it is asked
# for.
with_far_tallies <- function(panel, tables) {
  grounds <- grounded_many(panel, lapply(tables, function(one) setdiff(unname(one), everybody)))
  panel$ready <- new.env(parent = emptyenv())
  for (k in seq_along(tables)) {
    one <- as.list(tables[[k]])
    panel$ready[[ready_key(tables[[k]])]] <- tryCatch({
      tally <- if (one$across == everybody) tally_alone(grounds[[k]], one$down, NULL, one[["each"]]) else
        tally_columns(grounds[[k]], one$down, one$across, one[["each"]], NULL)
      list(cells = tally$cells, tally = tally)
    }, fairlattice_error = function(e) list(fault = e))
  }
  panel
}

# A tally without what its panel has, and with it again: many tables hold the same sums and design once, and a process
# that makes one does not send them back.
without_sums <- function(tally, panel) {
  found <- ready_of(tally, panel)
  if (!is.null(found) && identical(tally$cells, found$cells)) tally["cells"] <- list(NULL)
  if (identical(tally$design, panel$design)) tally["design"] <- list(NULL)
  tally
}

with_sums <- function(tally, panel) {
  if (is.null(tally$cells)) tally$cells <- ready_of(tally, panel)$cells
  if (is.null(tally$design)) tally$design <- panel$design
  tally
}

ready_of <- function(tally, panel) {
  key <- ready_key(unlist(lapply(tally[c("down", "across", "each")], `[[`, "name")))
  if (!is.null(panel$ready)) panel$ready[[key]]
}

# Takes sums away from a panel that has them ready.
forget_tallies <- function(panel, tables) {
  if (is.null(panel$ready)) return(invisible())
  keys <- vapply(tables, ready_key, "")
  rm(list = intersect(keys, ls(panel$ready, all.names = TRUE)), envir = panel$ready)
}
