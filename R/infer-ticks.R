# A layer of ticks answers every question by its parts, one ordinary layer an item (or pair of items).

# An item's own test and strength: item (and `by`, with ticks on both sides), the figures of the headline test,
# p_corrected over the items, cramers_v with its interval, note. NULL of a layer of one answer a person.
layer_items <- function(layer, alpha, correction) UseMethod("layer_items")

#' @export
layer_items.fairlattice_layer <- function(layer, alpha, correction) NULL

#' @export
layer_items.fairlattice_ticks_layer <- function(layer, alpha, correction) {
  ticks <- layer$ticks
  items <- expand.grid(item = if (ticks[["down"]]) answers_down(layer) else answers_across(layer),
                       by = if (all(ticks)) answers_across(layer) else NA_character_, stringsAsFactors = FALSE)
  rows <- Map(function(part, item, by) {
    test <- headline_of(layer_tests(part))
    v <- cramers_v_of(layer_strength(part, alpha, asked = "cramers_v"))
    c(list(item = item, by = by), test[c("test", "statistic", "df", "df_error", "p")],
      list(p_corrected = NA_real_, cramers_v = v$estimate, low = v$low, high = v$high), test["note"])
  }, layer$parts, items$item, items$by)
  corrected <- correct(vapply(rows, function(row) row$p, 0), correction)
  Map(function(row, p) replace(row, "p_corrected", p), unname(rows), corrected)
}

# All items together: sum of the Pearson statistics over their mean design effect.
#' @export
layer_tests.fairlattice_ticks_layer <- function(layer, asked = NULL, p = NULL, scores = "equal", draws = NULL,
                                                seed = NULL) {
  able <- Filter(function(part) is.null(no_test_reason(part)) && is.null(part$estimate$effect$why), layer$parts)
  row <- new_test("rao_scott_first", base = layer$base$n, headline = TRUE, why = said("why_items_together"),
                  note = said("no_item_differs"))
  if (!length(able)) return(list(row))
  X2 <- sum(vapply(able, function(part) pearson_statistic(part$estimate$P, part$estimate$n), 0))
  row$df <- sum(vapply(able, function(part) free_of(part$estimate$P), 0))
  effect <- sum(vapply(able, function(part) part$estimate$effect$sum %||% free_of(part$estimate$P), 0)) / row$df
  row$statistic <- X2 / effect
  row$p <- upper_chi_square(row$statistic, row$df)
  row$note <- said("items_together", left_out = length(layer$parts) - length(able))
  list(row)
}

#' @export
layer_strength.fairlattice_ticks_layer <- function(layer, alpha, explains = "across", asked = "all",
                                                   scores = "equal") {
  list(new_strength("cramers_v", "both", absent_figures(said("strength_per_item")), TRUE))
}

#' @export
layer_departures.fairlattice_ticks_layer <- function(layer, correction, alpha, kind = "adjusted") {
  cells <- cells_from_parts(layer, function(part) layer_departures(part, correction, alpha, kind)[departure_columns])
  cells$p_corrected <- correct(cells$p, correction)
  cells$mark <- marks_of(cells$p_corrected, cells$residual, alpha)
  cells$critical <- critical_residual(cells$p, correction, alpha, layer_df(layer))
  cells
}

#' @export
layer_compared.fairlattice_ticks_layer <- function(layer) {
  sum(!is.na(layer_departures(layer, "holm", 0.05)$p))
}

#' @export
layer_shares.fairlattice_ticks_layer <- function(layer, percent, alpha, kind = "usual") {
  if (percent != "responses") return(cells_from_parts(layer, function(part) layer_shares(part, percent, alpha, kind)))
  side <- if (layer$ticks[["down"]]) "column" else "row"
  base <- base_per_cell(layer$weighted, side)
  none <- rep(NA_real_, length(base))
  list(share = as.vector(ifelse(base > 0, layer$weighted / base, NA_real_)), low = none, high = none,
       base = as.vector(base_per_cell(layer$n, side)), base_weighted = as.vector(base))
}
