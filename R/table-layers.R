# The layers of a crosstab, one per answer of `each`: its tables of sums, and
# what its estimate is made from. All three kinds of layer (of one answer a
# person, of ticks, read from a file) answer the same questions, by methods of
# the functions named layer_*().

# One layer of one answer a person.
#   each       the answer of `each` (NA without one)
#   ordered    whether the answers of `down` and `across` are ordered
#   paired     whether both are the same question asked twice
#   n, weighted, squared   matrices down x across of respondents, weights, squared weights
#   margins    of `down` and `across`: respondents `n` and `weighted`, one an answer
#   base       records, n, weighted, effective (Kish 1965) of the whole layer
#   cells      sums per design unit: unit, row, column, w, w2, n; NULL where they are
#              those of its tally (layer_cells())
#   replicates totals of the replicate weights, one row a cell, one column a replicate
#   kept       environment for results once they are worked out
#   estimate   see new_estimate() in R/table-variance.R; NULL while nobody is in the layer
new_layer <- function(each, ordered, paired, n, weighted, squared, records,
                      cells, replicates = NULL) {
  margins <- list(down = list(n = row_sums(n), weighted = row_sums(weighted)),
                  across = list(n = column_sums(n),
                                weighted = column_sums(weighted)))
  layer <- list(each = each, ordered = ordered, paired = paired, n = n,
                weighted = weighted, squared = squared, margins = margins,
                base = base_of(records, sum(n), sum(weighted), sum(squared)),
                cells = cells, replicates = replicates,
                kept = new.env(parent = emptyenv()), estimate = NULL)
  class(layer) <- "fairlattice_layer"
  layer
}

base_of <- function(records, n, weighted, squared) {
  list(records = records, n = n, weighted = weighted, squared = squared,
       effective = if (n) weighted^2 / squared else 0)
}

# The weight of all answers, which is that of the respondents where each gave
# one; a layer of several answers a person knows its `answers`.
answers_in_all <- function(layer) layer$answers %||% layer$base$weighted

# The answers down the side and across the top.
answers_down <- function(layer) rownames(layer$n)

answers_across <- function(layer) colnames(layer$n)

# The design's degrees of freedom in a layer; infinite without a design.
layer_df <- function(layer) UseMethod("layer_df")

#' @export
layer_df.fairlattice_layer <- function(layer) {
  if (is.null(layer$estimate)) Inf else design_df(layer$estimate)
}

# The answers of a question, without its reasons for no answer.
answers_of <- function(question) question$levels[!question$missing]

# The cells of a layer, down its columns.
cells_of_layer <- function(layer) {
  list(down = rep(answers_down(layer), ncol(layer$n)),
       across = rep(answers_across(layer), each = nrow(layer$n)))
}

# The sums per design unit of a layer, by the places of its rows and columns.
layer_cells <- function(layer, tally) {
  if (!is.null(layer$cells)) return(layer$cells)
  place <- function(side, answers) {
    question <- tally[[side]]
    at <- match(question$levels, answers, 0L)
    c(0L, ifelse(question$missing, 0L, at))[tally$cells[[side]] + 1L]
  }
  row <- place("down", answers_down(layer))
  column <- place("across", answers_across(layer))
  inside <- row > 0L & column > 0L
  if (!is.na(layer$each)) inside <- inside & place("each", layer$each) > 0L
  at <- which(inside)
  c(list(unit = tally$cells$unit[at], row = row[at], column = column[at]),
    lapply(tally$cells[c("w", "w2", "n")], `[`, at),
    auxiliary_at(tally$cells, at))
}

# Cells as a data frame, with matrices as columns.
framed_cells <- function(cells) {
  wide <- vapply(cells, is.matrix, NA)
  out <- list2DF(cells[!wide])
  for (name in names(cells)[wide]) out[[name]] <- cells[[name]]
  out
}

# The sums of the auxiliary variables of calibrated weights in some cells.
auxiliary_at <- function(cells, at) {
  there <- intersect(c("auxiliary", "products"), names(cells))
  if (length(there)) lapply(unclass(cells)[there], function(sums) sums[at, , drop = FALSE])
}
