# All sums of a book from one pass.
with_tallies <- function(panel, items) panel
