# A layer of ticks answers every question by its parts, one ordinary layer an
# item (or pair of items).

# An item's own test and strength: item (and `by`, with ticks on both sides),
# the figures of the headline test, p_corrected over the items, cramers_v with
# its interval, note. NULL of a layer of one answer a person.
layer_items <- function(layer, alpha, correction) UseMethod("layer_items")

#' @export
layer_items.fairlattice_layer <- function(layer, alpha, correction) NULL

#' @export
layer_items.fairlattice_ticks_layer <- function(layer, alpha, correction) {
  ticks <- layer$ticks
  items <- expand.grid(item = if (ticks[["down"]]) answers_down(layer) else
                         answers_across(layer),
                       by = if (all(ticks)) answers_across(layer) else
                         NA_character_, stringsAsFactors = FALSE)
  rows <- Map(function(part, item, by) {
    test <- headline_of(layer_tests(part))
    v <- cramers_v_of(layer_strength(part, alpha, asked = "cramers_v"))
    c(list(item = item, by = by),
      test[c("test", "statistic", "df", "df_error", "p")],
      list(p_corrected = NA_real_, cramers_v = v$estimate, low = v$low,
           high = v$high), test["note"])
  }, layer$parts, items$item, items$by)
  corrected <- correct(vapply(rows, function(row) row$p, 0), correction)
  Map(function(row, p) replace(row, "p_corrected", p), unname(rows), corrected)
}

# All items together: the sum of their Pearson statistics over its generalised
# design effects, which take the covariance among all items, known from the
# patterns of ticks (Thomas & Decady 2004): second order, and first order beside
# it (Bilder & Loughin 2004).
#' @export
layer_tests.fairlattice_ticks_layer <- function(layer, asked = NULL, p = NULL,
                                                scores = "equal", draws = NULL,
                                                seed = NULL) {
  able <- which(vapply(layer$parts, function(part) {
    is.null(no_test_reason(part)) && is.null(part$estimate$effect$why)
  }, NA))
  row <- function(test, ...) new_test(test, ..., base = layer$base$n)
  if (!length(able)) {
    return(list(row("rao_scott_second", headline = TRUE,
                    why = said("why_items_together"),
                    note = said("no_item_differs"))))
  }
  parts <- layer$parts[able]
  note <- said("items_together", left_out = length(layer$parts) - length(able))
  X2 <- sum(vapply(parts, function(part) {
    pearson_statistic(part$estimate$P, part$estimate$n)
  }, 0))
  d <- sum(vapply(parts, function(part) free_of(part$estimate$P), 0))
  e <- layer$patterns$estimate
  items <- estimated_together(e, item_residuals(layer, able))
  effects <- item_effects(layer, able, items$covariance)
  adjusted <- X2 * d / effects$sum
  first <- row("rao_scott_first", adjusted, d,
               p = upper_chi_square(adjusted, d), note = note)
  f <- second_order(X2, effects, items$joint_df)
  # without a design F on d1 and infinity is chi-square over d1
  second <- if (!counts_were_drawn(e))
    row("rao_scott_second", f$statistic, f$df, f$df_error, f$p,
        note = note) else
    row("rao_scott_second", f$statistic * f$df, f$df, p = f$p, note = note)
  second[c("headline", "why")] <- list(TRUE, said("why_items_together"))
  list(second, first)
}

# The generalised design effects of the residuals of all items: inv(V0) V, with
# V0 the covariance of each item by itself in a random sample and V that of all
# items together.
item_effects <- function(layer, able, V) {
  sizes <- vapply(layer$parts[able], function(part) free_of(part$estimate$P), 0)
  item <- rep(seq_along(able), sizes)
  M <- matrix(0, nrow(V), ncol(V))
  for (k in seq_along(able)) {
    part <- layer$parts[[able[k]]]$estimate
    rows <- V[item == k, , drop = FALSE]
    M[item == k, ] <- solve_or_null(residual_spread(as_random(part))$covariance,
                                    rows) %||%
                      solve_or_null(independence_covariance(part$P, part$n),
                                    rows)
  }
  traces_of(M)
}

# The residuals of several items as a figure of the patterns: each those of a
# table whose cells are sums of patterns.
item_residuals <- function(layer, able) {
  sums <- lapply(able, item_sums, layer = layer)
  function(P) {
    of_items <- Map(function(k, A) {
      part_P <- layer$parts[[k]]$estimate$P
      part_P[] <- crossprod(A, as.vector(P))
      at <- residuals_in(part_P)
      part(at$value, A %*% at$gradient)
    }, able, sums)
    part(unlist(lapply(of_items, `[[`, "value")),
         do.call(cbind, lapply(of_items, `[[`, "gradient")))
  }
}

# Which pattern is in which cell of an item's table: one row a pattern, one
# column a cell.
item_sums <- function(layer, k) {
  part <- layer$parts[[k]]$estimate
  group <- layer$groups[[k]]
  e <- layer$patterns$estimate
  to <- function(group, at) if (is.null(group)) at else group[at]
  rows <- match(to(group$row, e$rows), part$rows)
  columns <- match(to(group$column, e$columns), part$columns)
  cell <- places_at(rows, columns, nrow(part$P))
  outer(cell, seq_along(part$P), `==`) + 0
}

#' @export
layer_strength.fairlattice_ticks_layer <- function(layer, alpha,
                                                   explains = "across",
                                                   asked = "all",
                                                   scores = "equal") {
  list(new_strength("cramers_v", "both",
                    absent_figures(said("strength_per_item")), TRUE))
}

#' @export
layer_residuals.fairlattice_ticks_layer <- function(layer, correction, alpha,
                                                    kind = "adjusted") {
  cells <- cells_from_parts(layer, function(part) {
    layer_residuals(part, correction, alpha, kind)[residual_columns]
  })
  cells$p_corrected <- correct(cells$p, correction)
  cells$mark <- marks_of(cells$p_corrected, cells$residual, alpha)
  exact <- any(vapply(layer$parts, function(part) {
    is.null(no_test_reason(part)) && marks_are_exact(part)
  }, NA))
  cells$critical <- if (exact) NA_real_ else
    critical_residual(cells$p_corrected, correction, alpha, layer_df(layer))
  cells
}

#' @export
layer_compared.fairlattice_ticks_layer <- function(layer) {
  sum(!is.na(layer_residuals(layer, "holm", 0.05)$p))
}

#' @export
layer_shares.fairlattice_ticks_layer <- function(layer, percent, alpha,
                                                 kind = "usual") {
  if (percent != "responses")
    return(cells_from_parts(layer, function(part) {
      layer_shares(part, percent, alpha, kind)
    }))
  side <- if (layer$ticks[["down"]]) "column" else "row"
  base <- base_per_cell(layer$weighted, side)
  none <- rep(NA_real_, length(base))
  list(share = as.vector(ifelse(base > 0, layer$weighted / base, NA_real_)),
       low = none, high = none, base = base_per_cell(layer$n, side),
       base_weighted = base, se = none, deff = none)
}
