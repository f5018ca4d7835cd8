#' Tick-all questions, item by item
#'
#' The headline test of every item (ticked or not, by the other question; with ticks on both sides every pair of
#' items), its p-value corrected over the items, and Cramer's V. The overall test, which [test_independence()] gives,
#' adds the items' Pearson statistics and divides by their mean design effect: first-order Rao-Scott for all items
#' together, chi-square on the sum of their degrees of freedom (Bilder & Loughin 2004). The ordinary chi-square of the
#' responses is not given: one person's ticks are not several people.
#'
#' @param x (lattice) Of a question made by [ticks()].
#' @param ... Nothing: what is put here is an error, with the nearest argument's name.
#' @return Data frame: `each`, `item` (and `by`, with ticks on both sides), `test`, `statistic`, `df`, `df_error`, `p`,
#'   `p_corrected`, `cramers_v`,
#'   `low`, `high`, `note`.
#' @references Bilder CR, Loughin TM (2004) Biometrics 60:241-248.
#' @export
#' @examples
#' survey <- ticks(demo_records(), reasons = c(reason_work, reason_housing, reason_school))
#' test_items(lattice(survey, down = reasons, across = island))
test_items <- function(x, ...) {
  nothing_else(...)
  check_class(x, "fairlattice_lattice", "x", "lattice()", environment())
  items <- if (is.null(x$tally)) x$findings$items else items_of(x)
  if (is.null(items)) {
    stop_input(c("This table has no tick-all question.",
                 i = "Make one with ticks(), and a table of it with lattice()."), "ticks", call = environment())
  }
  items
}

# Corrected over the items of a layer; NULL for a table without ticks.
items_of <- function(x) {
  if (!any(ticks_in(x$tally))) return(NULL)
  out <- over_layers(x$layers, layer_items, alpha = x$choices$alpha)
  for (each in unique(out$each)) {
    at <- out$each %in% each
    out$p_corrected[at] <- correct(out$p[at], x$choices$correction)
  }
  as_findings(out, "items")
}

layer_items <- function(layer, alpha) {
  ticks <- layer$ticks
  items <- expand.grid(item = if (ticks[["down"]]) rownames(layer$n) else colnames(layer$n),
                       by = if (all(ticks)) colnames(layer$n) else NA_character_, stringsAsFactors = FALSE)
  Map(function(part, item, by) {
    test <- Find(function(row) row$headline, layer_tests(part))
    v <- Find(function(row) row$measure == "cramers_v", layer_strength(part, alpha, asked = "cramers_v"))
    c(list(item = item, by = by), test[c("test", "statistic", "df", "df_error", "p")],
      list(p_corrected = NA_real_, cramers_v = v$estimate, low = v$low, high = v$high, note = test$note))
  }, layer$parts, items$item, items$by)
}

# All items together: sum of the Pearson statistics over their mean design effect.
tick_tests <- function(layer) {
  able <- Filter(function(part) is.null(no_test_reason(part)) &&
                 (is.null(part$estimate$effect) || is.na(part$estimate$effect$why)), layer$parts)
  row <- list(test = "rao_scott_first", statistic = NA_real_, df = NA_real_, df_error = NA_real_, p = NA_real_,
              p_se = NA_real_, base = layer$base$n, headline = TRUE,
              why = "a person may have ticked several items, which this test takes together",
              note = "no item was ticked by some and not by others, so there is nothing to compare")
  if (!length(able)) return(list(row))
  X2 <- sum(vapply(able, function(part) pearson_statistic(part$estimate$P, part$estimate$n), 0))
  row$df <- sum(vapply(able, function(part) prod(dim(part$estimate$P) - 1), 0))
  effect <- sum(vapply(able, function(part) if (part$estimate$by_design) part$estimate$effect$sum else
                       prod(dim(part$estimate$P) - 1), 0)) / row$df
  row$statistic <- X2 / effect
  row$p <- stats::pchisq(row$statistic, row$df, lower.tail = FALSE)
  left <- length(layer$parts) - length(able)
  row$note <- paste0("all items together", if (left) sprintf("; %d that everybody or nobody ticked left out", left))
  list(row)
}

tick_strength <- function() {
  figures <- absent_figures("a tick-all question has a strength per item")
  list(c(list(measure = "cramers_v", explains = "both"), figures[1:6], list(shown = TRUE), figures["note"]))
}

tick_departures <- function(layer, correction, alpha, kind = "adjusted") {
  cells <- cells_from_parts(layer, function(part) layer_departures(part, correction, alpha, kind))
  df <- Find(function(part) !is.null(part$estimate), layer$parts)$estimate$df
  cells$p_corrected <- correct(cells$p, correction)
  marked <- !is.na(cells$p_corrected) & cells$p_corrected <= alpha
  cells$mark <- ifelse(!marked, "", ifelse(cells$residual > 0, "more", "fewer"))
  cells$critical <- critical_residual(cells$p, correction, alpha, df)
  cells
}

tick_shares <- function(layer, percent, alpha, kind = "usual") {
  if (percent != "responses") return(cells_from_parts(layer, function(part) layer_shares(part, percent, alpha, kind)))
  size <- dim(layer$n)
  sums <- function(M) if (layer$ticks[["down"]]) matrix(colSums(M), size[1L], size[2L], byrow = TRUE) else
    matrix(rowSums(M), size[1L], size[2L])
  base <- sums(layer$weighted)
  data.frame(down = rep(rownames(layer$n), size[2L]), across = rep(colnames(layer$n), each = size[1L]),
             n = as.vector(layer$n),
             weighted = as.vector(layer$weighted), share = as.vector(ifelse(base > 0, layer$weighted / base, NA_real_)),
             low = NA_real_, high = NA_real_,
             base = as.vector(sums(layer$n)), base_weighted = as.vector(base))
}
