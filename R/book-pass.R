# All sums of a book from one pass: which pairs of questions its tables need.

with_tallies <- function(survey, items) {
  with_ready_tallies(survey,
                     unlist(lapply(items, pairs_of_item), recursive = FALSE))
}

# Pairs of questions by their sides; of a question alone everybody stands
# across.
pairs_of_item <- function(item) {
  pairs_of(item$down, item$across, item$each) %or%
    lapply(item$down, function(down) {
      c(down = down, across = everybody, each = item$each)
    })
}

# Work on every tally of a table or banner.
on_tallies <- function(x, work, survey) {
  on_one <- function(table) {
    if (!is.null(table)) table$tally <- work(table$tally, survey)
    table
  }
  if (!inherits(x, "fairlattice_banner")) return(on_one(x))
  x$tables <- lapply(x$tables, lapply, on_one)
  x$totals <- lapply(x$totals, on_one)
  x
}
