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
#   statements  its rows are questions with the same answers, of the same people
#   records     records, or counts, from which more can be worked out

new_table_kind <- function(..., layer = function(layer, tally) layer) {
  list(has = c(...), layer = layer)
}

table_kinds <- list(
  crosstab = new_table_kind("across", "answers", "adds_up", "test", "strength",
                            "residuals"),
  ticks = new_table_kind("across", "answers", "test", "residuals",
                         layer = function(layer, tally) {
                           tick_layer(layer, tally)
                         }),
  number = new_table_kind("across", "test", layer = function(layer, tally) {
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
                         "given_shares"),
  battery = new_table_kind("across", "answers", "test", "residuals",
                           "statements", layer = function(layer, tally) {
                             battery_layer(layer)
                           })
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
  sides <- if (is.null(x$tally)) x$facts else x$tally
  given <- !is.null(x$layers[[1L]]$given) || !is.null(x$facts$down$shares)
  c(table_kinds[[kind_of(sides$down, sides$across, given)]]$has,
    if (!is.null(x$tally)) "records")
}

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
