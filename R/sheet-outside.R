# Answers that stand outside the base ("Don't know"), under the table: how many of
# everybody asked gave them.

# Of whose reasons for no answer they are: the question of which the percentages add
# up.
outside_side <- function(layout) if (layout$percent %in% "row") "across" else "down"

# The reasons that are asked for, in their order; "all" is every one that
# somebody gave.
outside_asked <- function(x, layout) {
  if (is.null(layout$outside)) return(character())
  side <- outside_side(layout)
  question <- x$tally[[side]]
  reasons <- question$levels[question$missing]
  if (!identical(layout$outside, "all")) return(intersect(layout$outside, reasons))
  cells <- x$tally$cells
  given <- unique(cells[[side]][cells$n > 0])
  reasons[match(reasons, question$levels) %in% given]
}

outside_key <- function(reasons) paste0("outside\r", reasons, recycle0 = TRUE)

# What stands in them, by the bases' names: along the other side (answers, nets,
# everybody) the percentage of a reason among those who gave an answer or one of
# the reasons that are shown. A column of both sides has it in one of them only.
outside_of <- function(x, k, layout) {
  reasons <- outside_asked(x, layout)
  if (!length(reasons)) return(list())
  side <- outside_side(layout)
  other <- other_side[[side]]
  layer <- x$layers[[k]]
  sums <- sums_by_reason(x$tally, layer, side, reasons)
  answered <- layer$margins[[other]]$weighted
  lines <- if (other == "down") answers_down(layer) else answers_across(layer)
  over_lines <- function(v) {
    nets <- vapply(nets_in(x, other), function(net) sum(v[lines %in% net]), 0)
    c(v, nets, sum(v))
  }
  all <- over_lines(answered) + Reduce(`+`, lapply(sums, over_lines))
  found <- lapply(sums, function(of_reason) {
    share <- 100 * over_lines(of_reason) / all
    none <- list(down = rep(NA_real_, nrow(layer$n) + length(nets_in(x, "down")) + 1L),
                 across = rep(NA_real_, ncol(layer$n) + length(nets_in(x, "across")) + 1L),
                 kind = "percent")
    none[[other]] <- share
    none
  })
  stats::setNames(found, outside_key(reasons))
}

# The (weighted) sums of every reason by the answers of the other side, of one layer.
sums_by_reason <- function(tally, layer, side, reasons) {
  other <- other_side[[side]]
  cells <- tally$cells
  if (!is.na(layer$each))
    cells <- cells[cells$each == match(layer$each, tally$each$levels), ]
  lines <- if (other == "down") answers_down(layer) else answers_across(layer)
  code <- match(lines, tally[[other]]$levels)
  lapply(reasons, function(reason) {
    own <- cells[cells[[side]] == match(reason, tally[[side]]$levels), ]
    vapply(code, function(k) sum(own$w[own[[other]] == k]), 0)
  })
}
