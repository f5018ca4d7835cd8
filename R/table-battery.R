# The layer of a battery is an ordinary one, of statements by answers, in which
# every respondent has as many answers as statements that they answered. Only its
# base is of respondents.

battery_layer <- function(layer) {
  class(layer) <- c("fairlattice_battery_layer", "fairlattice_layer")
  layer
}

#' @export
add_estimates.fairlattice_battery_layer <- function(layer, tally) {
  layer <- NextMethod()
  each <- if (is.na(layer$each)) 0L else
    match(layer$each, tally$each$levels)
  people <- tally$facts$people[tally$facts$people$each == each, ]
  layer$answers <- layer$base$weighted
  layer$base <- base_of(layer$base$records, sum(people$n), sum(people$w),
                        sum(people$w2))
  layer
}
