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
  if (is.null(x$tally)) return(flip_read(x))
  tally <- x$tally
  tally[c("down", "across")] <- tally[c("across", "down")]
  tally$cells[c("down", "across")] <- tally$cells[c("across", "down")]
  tally$cells <- tally$cells[order(tally$cells$unit, tally$cells$each, tally$cells$across, tally$cells$down), ]
  rownames(tally$cells) <- NULL
  new_lattice(tally, flip_choices(x$choices))
}

flip_choices <- function(choices) {
  choices$explains <- c(across = "down", down = "across")[[choices$explains]]
  choices$percent <- c(column = "row", row = "column", total = "total")[[choices$percent]]
  choices
}

# A table read from a file has no tally: its figures change places.
flip_read <- function(x) {
  f <- x$findings
  swap <- function(names) {
    turned <- names
    pairs <- c(down = "across", across = "down", row_percent = "column_percent", column_percent = "row_percent",
               row_low = "column_low", column_low = "row_low", row_high = "column_high", column_high = "row_high")
    turned[names %in% names(pairs)] <- pairs[names[names %in% names(pairs)]]
    turned
  }
  order <- names(f$cells)
  names(f$cells) <- swap(order)
  f$cells <- f$cells[order]
  at <- function(question, values) match(values, question$categories$label)
  f[c("down", "across")] <- f[c("across", "down")]
  f$cells <- f$cells[order(match(f$cells$each, f$layers$each), at(f$across, f$cells$across), at(f$down, f$cells$down)),
                     ]
  rownames(f$cells) <- NULL
  f$margins[c("down", "across")] <- f$margins[c("across", "down")]
  directed <- f$strength$explains != "both"
  f$strength$explains[directed] <- c(across = "down", down = "across")[f$strength$explains[directed]]
  turned <- flip_choices(x$choices)
  f$settings[c("explains", "percent")] <- turned[c("explains", "percent")]
  f$title <- sprintf("%s by %s", f$down$label, f$across$label)
  against <- against_explains(f$settings, f$down$label, f$across$label)
  if (!is.null(against)) f$cautions$text[f$cautions$code == "against_explains"] <- against$text
  f$write_up <- write_up_from(f)
  new_read_lattice(f)
}
