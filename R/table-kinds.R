# Kinds of table, and what each has. Nobody asks which kind a table is: whoever
# needs something asks has() for that. A further kind is an entry here, methods
# of the layer_*() functions for its layer, and its rows in the sheet.
#
#   across      a question across: a table of two questions
#   answers     its rows are answers, with percentages
#   adds_up     everybody is in one row and one column, so that shares add up to 100
#   test        a test of the whole
#   strength    a measure of association
#   residuals   cells set against what would be expected
#   given_shares   shares that a question alone is held against
#   pair        rows and columns are two questions, which title and heads name
#   statements  its rows are questions with the same answers, of the same people
#   records     records, or counts, from which more can be worked out
#
# `says` names the sentences that a kind has in place of the usual ones: of the
# null hypothesis, the headline (found and not found), the key of its marks (with
# some and with none), the base of its percentages, and who is in it.

new_table_kind <- function(..., layer = function(layer, tally) layer,
                           says = list()) {
  list(has = c(...), layer = layer, says = says)
}

table_kinds <- list(
  crosstab = new_table_kind("across", "pair", "answers", "adds_up", "test",
                            "strength", "residuals"),
  ticks = new_table_kind("across", "pair", "answers", "test", "residuals",
                         layer = function(layer, tally) {
                           tick_layer(layer, tally)
                         }),
  number = new_table_kind("across", "pair", "test",
                          layer = function(layer, tally) {
                            number_layer(layer, tally)
                          }),
  one_way = new_table_kind("answers", "adds_up"),
  one_way_ticks = new_table_kind("answers", layer = function(layer, tally) {
    tick_layer(layer, tally)
  }),
  one_number = new_table_kind(layer = function(layer, tally) {
    number_layer(layer, tally)
  }),
  given = new_table_kind("answers", "adds_up", "test", "residuals",
                         "given_shares",
                         says = list(null = "null_given",
                                     headline = c("goodness_rejected",
                                                  "goodness_not_rejected"),
                                     key = c("key_given", "key_given_none"))),
  battery = new_table_kind("across", "answers", "test", "residuals",
                           "statements", layer = function(layer, tally) {
                             battery_layer(layer)
                           }, says = list(
                             null = "null_statements",
                             headline = c("statements_differ",
                                          "statements_alike"),
                             key = c("key_statements", "key_statements_none"),
                             base = "base.statements", who = "who_statements"))
)

# By the questions of a table as its tally, or its facts, have them.
kind_of <- function(down, across, given = FALSE) {
  if (isTRUE(down$statements)) return("battery")
  one <- identical(across$name, everybody)
  if (isTRUE(down$summed)) return(if (one) "one_number" else "number")
  ticks <- !is.null(down$items) || !is.null(across$items) ||
           isTRUE(down$ticks) || isTRUE(across$ticks)
  if (ticks) return(if (one) "one_way_ticks" else "ticks")
  if (!one) "crosstab" else if (given) "given" else "one_way"
}

# Whether a crosstab has everything that is asked for. That is asked for so often
# that it is kept.
has <- function(x, ...) {
  there <- x$kept$has
  if (is.null(there)) x$kept$has <- there <- what_it_has(x)
  all(c(...) %in% there)
}

what_it_has <- function(x) {
  c(kind_of_table(x)$has, if (!is.null(x$tally)) "records")
}

kind_of_table <- function(x) {
  sides <- if (is.null(x$tally)) x$facts else x$tally
  given <- !is.null(x$layers[[1L]]$given) || !is.null(x$facts$down$shares)
  table_kinds[[kind_of(sides$down, sides$across, given)]]
}

# The side whose lines are the answers: of statements they stand across.
listed_side <- function(x) if (has(x, "statements")) "across" else "down"

# The code of what a kind says in its own words; NULL where it says the usual.
says <- function(x, what) kind_of_table(x)$says[[what]]

# A layer as its kind of table has it.
layer_of_kind <- function(layer, tally) {
  table_kinds[[kind_of(tally$down, tally$across)]]$layer(layer, tally)
}

# A number down the side is summed up, not listed: the rows of its layer are its
# values.
number_layer <- function(layer, tally) {
  layer$scores <-
    tally$down$scores[match(answers_down(layer), tally$down$levels)]
  class(layer) <- c("fairlattice_number_layer", "fairlattice_layer")
  layer
}
