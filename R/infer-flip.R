#' Turn a table round
#'
#' What ran down runs across and the other way. What explains what stays as it was, and so do the base of the
#' percentages (a column is now a row) and every figure: turning twice gives the table back.
#'
#' @param x (lattice) From [lattice()] or [read_lattice()].
#' @param ... Nothing: what is put here is an error, with the nearest argument's name.
#' @return A lattice.
#' @export
#' @examples
#' flip(lattice(demo_records(), down = tenure, across = island))
flip <- function(x, ...) {
  nothing_else(...)
  check_class(x, "fairlattice_lattice", "x", "lattice()", environment())
  if (is_stored(x)) return(flip_stored(x))
  tally <- x$tally
  tally[c("down", "across")] <- tally[c("across", "down")]
  tally$cells[c("down", "across")] <- tally$cells[c("across", "down")]
  tally$cells <- tally$cells[order(tally$cells$unit, tally$cells$each, tally$cells$across, tally$cells$down), ]
  rownames(tally$cells) <- NULL
  new_lattice(tally, flip_choices(x$choices))
}

flip_choices <- function(choices) {
  choices$explains <- other_side[[choices$explains]]
  choices$percent <- c(column = "row", row = "column", total = "total")[[choices$percent]]
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
    turn <- function(part) lapply(part, function(v) if (length(v) == length(turned)) v[turned] else v)
    stored <- layer$stored
    stored$shares <- lapply(stored$shares, turn)
    names(stored$shares) <- c(column = "row", row = "column", total = "total")[names(stored$shares)]
    stored$departures <- turn(stored$departures)
    stored$strength <- lapply(stored$strength, function(row) {
      if (row$explains != "both") row$explains <- other_side[[row$explains]]
      row
    })
    new_stored_layer(layer$each, t(layer$n), t(layer$weighted),
                     stats::setNames(layer$margins[c("across", "down")], c("down", "across")), layer$base, layer$df,
                     stored)
  })
  cautions <- x$cautions
  cautions$whole <- Filter(function(one) one$what$code != "against_explains", cautions$whole)
  cautions$whole <- by_severity(c(cautions$whole, against_explains(choices, facts$down$label, facts$across$label)))
  new_stored_lattice(facts, choices, layers, cautions)
}
