# Everything that is said of a table, in one list of plain data: the JSON contract, and all that layout and writers see.

# They are worked out once a table, and again only after an option has changed.
findings <- function(x) {
  if (is.null(x$tally)) return(x$findings)
  once(x$kept, "findings", options()[paste0("fairlattice.", names(setting_defaults))], findings_of(x))
}

findings_of <- function(x) {
  tally <- x$tally
  choices <- x$choices
  departures <- over_layers(x$layers, layer_departures, correction = choices$correction, alpha = choices$alpha)
  tests <- over_layers(x$layers, layer_tests, p = choices$p)
  strength <- over_layers(x$layers, layer_strength, alpha = choices$alpha, explains = choices$explains)
  account <- account_of(tally)
  f <- list(
    title = sprintf("%s by %s", tally$down$label, tally$across$label),
    source = list(file = tally$facts$source$file, sha256 = tally$facts$source$sha256, records = tally$records,
                  blank_lines = tally$facts$source$blank_lines),
    down = question_of(tally$down, rownames(x$layers[[1L]]$n)),
    across = question_of(tally$across, colnames(x$layers[[1L]]$n)),
    each = if (!is.null(tally$each)) question_of(tally$each, vapply(x$layers, function(layer) layer$each, "")),
    design = c(tally$facts$roles[c("weight", "stratum", "cluster")],
               list(replicates = tally$design$replicates$kind, df = finite_or_na(min(vapply(x$layers, layer_df, 0))))),
    settings = c(choices[c("explains", "percent", "alpha", "correction")],
                 list(paired = isTRUE(choices$paired), peaks = isTRUE(choices$peaks), p = choices$p)),
    base = list(records = account$records, used = account$used,
                weighted = sum(vapply(x$layers, function(l) l$base$weighted, 0)),
                effective = sum(vapply(x$layers, function(l) l$base$weighted, 0))^2 /
                  sum(vapply(x$layers, function(l) sum(l$squared), 0)),
                left_out = account$left_out, respondents = account$respondents, cells = tally$facts$counts$cells,
                set_aside = tally$facts$counts$totals),
    layers = over_layers(x$layers, function(layer) data.frame(
      n = layer$base$n, weighted = layer$base$weighted, effective = layer$base$effective,
      df = finite_or_na(layer_df(layer)))),
    cells = cells_of(x, departures),
    margins = list(down = over_layers(x$layers, margin_of, side = "down"),
                   across = over_layers(x$layers, margin_of, side = "across")),
    tests = as_findings(tests, "tests"), strength = as_findings(strength, "strength"),
    cautions = as_findings(cautions_from(x, tests, strength), "cautions"), items = items_of(x))
  f$layers$critical <- vapply(split(departures$critical, rep(seq_along(x$layers), each = length(x$layers[[1L]]$n))),
                              function(v) v[1L], 0, USE.NAMES = FALSE)
  f$write_up <- write_up_from(f)
  f
}

layer_df <- function(layer) (if (is.null(layer$parts)) layer$estimate else layer$parts[[1L]]$estimate)$df %||% Inf

finite_or_na <- function(x) ifelse(is.finite(x), x, NA_real_)

question_of <- function(question, shown) {
  codes <- if (is.null(question$items)) question$values[match(shown, question$levels)] else
    question$item_names[match(shown, question$items)]
  list(name = question$name, label = question$label, ordered = question$ordered, ticks = !is.null(question$items),
       history = question$history,
       categories = data.frame(code = codes, label = shown))
}

cells_of <- function(x, departures) {
  share <- lapply(c(row = "row", column = "column", total = "total"), function(percent) {
    over_layers(x$layers, layer_shares, percent = percent, alpha = x$choices$alpha)
  })
  one <- share$column
  data.frame(
    each = one$each, down = one$down, across = one$across, n = one$n, weighted = one$weighted,
    row_percent = 100 * share$row$share, column_percent = 100 * share$column$share,
    total_percent = 100 * share$total$share,
    row_low = 100 * share$row$low, row_high = 100 * share$row$high,
    column_low = 100 * share$column$low, column_high = 100 * share$column$high,
    total_low = 100 * share$total$low, total_high = 100 * share$total$high,
    departures[c("expected", "residual", "pearson_residual", "adjusted_residual", "p", "p_corrected", "contribution",
                 "share_of_statistic", "mark")])
}

margin_of <- function(layer, side) {
  sum <- c(down = rowSums, across = colSums)[[side]]
  names <- dimnames(layer$n)[[match(side, c("down", "across"))]]
  margin <- layer$margins[[side]] %||% data.frame(n = sum(layer$n), weighted = sum(layer$weighted), row.names = NULL)
  data.frame(category = names, margin,
             percent = if (layer$base$weighted > 0) 100 * margin$weighted / layer$base$weighted else NA_real_)
}

# One data frame over the layers, with the answer of `each` in front (NA without one). `what` gives a data frame, or a
# list of rows.
over_layers <- function(layers, what, ...) {
  parts <- lapply(layers, function(layer) {
    part <- what(layer, ...)
    if (!is.data.frame(part)) part <- rows_to_frame(part)
    list2DF(c(list(each = rep(layer$each, nrow(part))), part))
  })
  if (length(parts) == 1L) parts[[1L]] else do.call(rbind, parts)
}

# A list of rows, each a list of single values, as a data frame: much cheaper than binding data frames.
rows_to_frame <- function(rows) {
  names <- names(rows[[1L]])
  list2DF(stats::setNames(lapply(names, function(name) unlist(lapply(rows, `[[`, name))), names))
}

# Results are data frames that print themselves readably.
as_findings <- function(data, kind) {
  class(data) <- c(paste0("fairlattice_", kind), "fairlattice_findings", "data.frame")
  data
}

# Results that are printed a row at a time stay what they are when rows are taken from them; a text made of all rows
# (the working, risks, differences) cannot be made of some, so what is left of it is a plain table.
by_row <- paste0("fairlattice_", c("tests", "strength", "shares", "cautions", "departures", "detectable", "items"))

#' @export
`[.fairlattice_findings` <- function(x, ...) {
  out <- NextMethod()
  if (!is.data.frame(out)) return(out)
  kind <- class(x)[1L]
  whole <- identical(dim(out), dim(x)) && identical(names(out), names(x))
  if (whole || (kind %in% by_row && identical(names(out), names(x)))) {
    for (name in setdiff(names(attributes(x)), c("names", "row.names", "class")))
      attr(out, name) <- attr(x, name, exact = TRUE)
    class(out) <- class(x)
  } else {
    class(out) <- c("fairlattice_findings", "data.frame")
  }
  out
}

# A table read from a file has the figures that were written, at the choices they were made with. `asked` are those
# that a caller made; the ones that the file does not have (another residual, the bootstrap) stand as NULL in its
# choices.
stored <- function(x, what, asked = list(), call = rlang::caller_env()) {
  asked <- Filter(Negate(is.null), asked)
  for (name in names(asked)) if (!identical(asked[[name]], x$choices[[name]])) {
    was <- x$choices[[name]]
    stop_input(c(sprintf("This table was read from a file%s; `%s` = %s cannot be worked out anew without the records.",
                         if (is.null(was)) "" else sprintf(", where `%s` was %s", name, quote_value(was)), name,
                         quote_value(asked[[name]])), i = "Make it from the records with lattice()."), "records_gone",
                         call = call)
  }
  if (what != "departures") return(x$findings[[what]])
  cells <- x$findings$cells
  data <- data.frame(cells[c("each", "down", "across")], observed = cells$expected + cells$residual,
                     cells[setdiff(departure_columns, "observed")], mark = cells$mark,
                     critical = x$findings$layers$critical[match(cells$each, x$findings$layers$each)])
  as_findings(data, "departures")
}

stored_shares <- function(x, percent, asked, call) {
  stored(x, "cells", asked, call)
  f <- x$findings
  cells <- f$cells
  # bases stand in the margins: the cells of a tick-all question do not add up to them
  side <- c(column = "across", row = "down")[percent]
  base <- if (percent == "total") f$layers[match(cells$each, f$layers$each), ] else {
    margin <- f$margins[[side]]
    margin[match(paste(cells$each, cells[[side]], sep = "\r"), paste(margin$each, margin$category, sep = "\r")), ]
  }
  as_findings(data.frame(
    cells[c("each", "down", "across", "n", "weighted")], share = cells[[paste0(percent, "_percent")]] / 100,
    low = cells[[paste0(percent, "_low")]] / 100, high = cells[[paste0(percent, "_high")]] / 100,
    base = base$n, base_weighted = base$weighted), "shares")
}

new_read_lattice <- function(f) {
  structure(list(tally = NULL, choices = f$settings, findings = f), class = "fairlattice_lattice")
}

#' A table as plain data
#'
#' `as.data.frame()` and `tidy()` give one row a cell, `glance()` one row a layer. The names are stable: they are those
#' of the JSON that [publish()] writes.
#'
#' @param x (lattice) From [lattice()] or [read_lattice()].
#' @param row.names,optional,stringsAsFactors Not used: [data.frame()] gives them.
#' @param ... Nothing: what is put here is an error.
#' @return Data frame. Cells: `each`, `down`, `across`, `n`, `weighted`, percentages (0-100) with their intervals
#'   (`row_percent`, `row_low`, ...), `expected` (scale of n), residuals, `p`, `p_corrected`, `contribution`,
#'   `share_of_statistic`, `mark`. Layers: `each`, `n`, `weighted`, `effective`, `test`, `statistic`, `df`, `df_error`,
#'   `p`, `cramers_v`, `low`, `high`.
#' @export
#' @examples
#' table <- lattice(demo_records(), down = heating, across = island)
#' head(as.data.frame(table))
#' glance(table)
as.data.frame.fairlattice_lattice <- function(x, row.names = NULL, optional = FALSE, ..., stringsAsFactors = FALSE) {
  nothing_else(...)
  findings(x)$cells
}

#' @rdname as.data.frame.fairlattice_lattice
#' @export
tidy.fairlattice_lattice <- function(x, ...) {
  nothing_else(...)
  findings(x)$cells
}

#' @rdname as.data.frame.fairlattice_lattice
#' @export
glance.fairlattice_lattice <- function(x, ...) {
  nothing_else(...)
  f <- findings(x)
  test <- with_headline(f$tests)
  v <- f$strength[f$strength$measure == "cramers_v", ]
  data.frame(f$layers[c("each", "n", "weighted", "effective")],
             as.data.frame(test)[c("test", "statistic", "df", "df_error", "p")],
             cramers_v = v$estimate, low = v$low, high = v$high)
}
