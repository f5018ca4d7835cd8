# The same table seen another way.

#' The same table, seen another way
#'
#' Another base of percentages, level, correction or direction of what explains
#' what: a new view of the same table. The records are not touched, and what was
#' worked out already and does not depend on the choice is kept.
#'
#' @param x (crosstab or banner) From [crosstab()], [beside()],
#'   [crosstab_of_counts()] or [read_tables()]; of a table read from a file only
#'   `percent` can be chosen anew.
#' @param percent ("column", "row" or "total", default as it was; with a new
#'   `explains` the base that it calls for).
#' @param alpha (number in 0-1, default as it was).
#' @param correction ("holm", "bonferroni" or "benjamini_hochberg", default as
#'   it was).
#' @param explains ("across" or "down", default as it was).
#' @param margin (number in 0-1, default as it was) See [crosstab()].
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return A crosstab, or a banner of one.
#' @section Errors: `fairlattice_error_choice`, `fairlattice_error_fraction`,
#'   `fairlattice_error_records_gone`.
#' @export
#' @examples
#' table <- crosstab(demo_records(), down = ferry, across = island)
#' rechoose(table, percent = "row", alpha = 0.01)
rechoose <- function(x, percent = NULL, alpha = NULL, correction = NULL,
                     explains = NULL, margin = NULL, ...) {
  nothing_else(...)
  call <- environment()
  if (inherits(x, "fairlattice_banner"))
    return(rechoose_banner(x, percent, alpha, correction, explains, margin))
  check_class(x, "fairlattice_crosstab", "x", "crosstab()", call)
  was <- x$choices
  turned <- !is.null(explains) && !identical(explains, was$explains)
  # turned, the percentages take the base that goes with it
  percent <- percent %||% if (!turned) was$percent
  anew <- Filter(Negate(is.null), mget(chosen_anew(), call))
  asked <- utils::modifyList(was[setdiff(names(was), "percent")], anew)
  chosen <- checked_choices(asked, call)
  if (!has(x, "records")) {
    check_stored(x, chosen[c("alpha", "correction", "explains")], call)
    x$cautions <- cautions_at(x, chosen)
  }
  if (!identical(chosen$percent, was$percent))
    x$layout$show <- rechosen_base(x$layout$show, chosen$percent)
  x$choices[names(chosen)] <- chosen
  x$kept <- new.env(parent = emptyenv())
  x
}

# What is shown in a cell when another base is chosen: numbers of respondents
# alone give way to the percentages.
rechosen_base <- function(show, percent) {
  if (is.null(show) || identical(show, "n")) return(NULL)
  unique(replace(show, show %in% c("column", "row", "total"), percent))
}

# All tables of a banner; its columns of everybody and its columns as items have
# no base to choose.
rechoose_banner <- function(x, percent, alpha, correction, explains, margin) {
  x$tables <- lapply(x$tables, lapply, function(table) {
    if (!is.null(table))
      rechoose(table, percent, alpha, correction, explains, margin)
  })
  for (part in intersect(c("totals", "columns"), names(x))) x[[part]] <-
    lapply(x[[part]], rechoose, alpha = alpha, correction = correction)
  x
}

#' Turn a table round
#'
#' What ran down runs across and the other way. What explains what stays as it
#' was, and so do the base of the percentages (a column is now a row) and every
#' figure: turning twice gives the table back.
#'
#' @param x (crosstab) From [crosstab()] or [read_tables()].
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return A crosstab.
#' @section Errors: `fairlattice_error_class` (`x` is no table),
#'   `fairlattice_error_one_way` (a table of one
#'   question cannot be turned).
#' @export
#' @examples
#' flip(crosstab(demo_records(), down = tenure, across = island))
flip <- function(x, ...) {
  nothing_else(...)
  check_class(x, "fairlattice_crosstab", "x", "crosstab()", environment())
  if (!has(x, "across"))
    stop_one_way(tells("cannot_turned_round"), environment())
  if (!has(x, "records")) return(flip_stored(x))
  tally <- x$tally
  tally[c("down", "across")] <- tally[c("across", "down")]
  tally$cells[c("down", "across")] <- tally$cells[c("across", "down")]
  by_cell <- do.call(order, unname(as.list(
    tally$cells[c("unit", "each", "across", "down")])))
  tally$cells <- tally$cells[by_cell, ]
  rownames(tally$cells) <- NULL
  out <- new_crosstab(tally, flip_choices(x$choices))
  out$layout <- flip_layout(x$layout)
  out
}

# The table whose columns have the means. Statements run down, so theirs is the
# table turned round.
means_table <- function(x) {
  if (!has(x, "statements")) return(x)
  class(x) <- "fairlattice_crosstab"
  once(x$kept, "statements across", NULL, flip(x))
}

# The layout of the table turned round: a percentage of columns is one of rows
# now; a column that the others were set against is no column any more.
flip_layout <- function(layout) {
  if (is.null(layout)) return(NULL)
  if (!is.null(layout$show)) layout$show <- other_base(layout$show)
  if (!(layout$against %||% "rest") %in% c("rest", "total", "previous", "first"))
    layout$against <- NULL
  layout
}

# A percentage of columns is one of rows in the table turned round; of other
# figures nothing changes.
other_base <- function(figures) {
  turned <- c(column = "row", row = "column")[figures]
  unname(ifelse(is.na(turned), figures, turned))
}

flip_choices <- function(choices) {
  choices$explains <- other_side[[choices$explains]]
  choices$percent <- other_base(choices$percent)
  if (!is.null(choices$shown))
    names(choices$shown) <- other_side[names(choices$shown)]
  choices
}

other_side <- c(across = "down", down = "across")

# A table read from a file has no tally: its results change places.
flip_stored <- function(x) {
  choices <- flip_choices(x$choices)
  facts <- x$facts
  facts[c("down", "across")] <- facts[c("across", "down")]
  layers <- lapply(x$layers, function(layer) {
    turned <- as.vector(t(matrix(seq_along(layer$n), nrow(layer$n))))
    turn <- function(part) {
      lapply(part, function(v) {
        if (length(v) == length(turned)) v[turned] else v
      })
    }
    stored <- layer$stored
    stored$shares <- lapply(stored$shares, turn)
    names(stored$shares) <- other_base(names(stored$shares))
    stored$totals <- turn(stored$totals)
    stored$residuals <- turn(stored$residuals)
    stored$sums <- turned_sums(stored$sums)
    stored$strength <- lapply(stored$strength, function(row) {
      if (row$explains != "both") row$explains <- other_side[[row$explains]]
      row
    })
    margins <- layer$margins[c("across", "down")]
    names(margins) <- c("down", "across")
    new_stored_layer(each = layer$each, n = t(layer$n),
                     weighted = t(layer$weighted), margins = margins,
                     base = layer$base, df = layer$df, stored = stored)
  })
  turned <- new_stored_crosstab(facts, choices, layers, x$cautions)
  turned$layout <- flip_layout(x$layout)
  turned$cautions <- cautions_at(turned, choices)
  turned
}

# Stored cells of nets with rows and columns exchanged.
turned_sums <- function(sums) {
  if (is.null(sums)) return(NULL)
  was <- names(sums)
  part <- sub("_.*", "", was)
  other <- ifelse(part %in% names(other_side), other_side[part],
                  other_base(part))
  names(sums) <- paste0(other, substring(was, nchar(part) + 1L))
  sums[was]
}

# The stored cautions, those about the percentages shown being those of other
# choices.
cautions_at <- function(x, choices) {
  without <- function(found, codes) {
    Filter(function(one) !one$what$code %in% codes, found)
  }
  facts <- x$facts
  against <- against_explains(choices, facts$down$label, facts$across$label)
  alone <- is.null(facts$each)
  bases <- lapply(x$layers, function(layer) {
    layer_rules$bases(list(layer = layer, choices = choices))
  })
  codes <- c("small_base", "low_base")
  whole <- without(x$cautions$whole, c("against_explains", if (alone) codes))
  layers <- Map(function(found, bases) {
    by_severity(c(without(found, codes), bases))
  }, x$cautions$layers, bases)
  list(whole = by_severity(c(whole, against)), layers = layers)
}
