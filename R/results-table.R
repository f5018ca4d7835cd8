# The whole table as plain data: one row a cell, one row a margin, one row a
# layer.

# The columns are those of the JSON. A coefficient of variation is the standard
# error in percent of the figure.
cells_frame <- function(x) {
  totals <- estimated_totals_of(x)
  share <- lapply(c(row = "row", column = "column", total = "total"),
                  function(percent) shares_of(x, percent))
  each_of <- function(k) {
    layer <- x$layers[[k]]
    columns <- c(cells_of_layer(layer),
                 list(n = as.vector(layer$n),
                      weighted = as.vector(layer$weighted)))
    for (percent in names(share)) columns[[paste0(percent, "_percent")]] <-
      100 * share[[percent]][[k]]$share
    for (percent in names(share)) for (end in c("low", "high"))
      columns[[paste0(percent, "_", end)]] <- 100 * share[[percent]][[k]][[end]]
    for (percent in names(share)) columns[paste0(percent, c("_se", "_cv", "_deff"))] <-
      precision_of(columns[[paste0(percent, "_percent")]], share[[percent]][[k]])
    # of imputed data alone
    for (percent in names(share)) columns[[paste0(percent, "_missing_information")]] <-
      share[[percent]][[k]]$missing_information
    columns[paste0("weighted", c("_low", "_high", "_se", "_cv", "_deff"))] <-
      totals[[k]][c("low", "high", "se", "cv", "deff")]
    columns$weighted_cv <- 100 * columns$weighted_cv
    c(columns,
      residuals_of(x)[[k]][setdiff(c(residual_columns, "mark"), "observed")])
  }
  frame_of_columns(x, lapply(seq_along(x$layers), each_of))
}

# How sure percentages are: standard error, coefficient of variation (in
# percent) and design effect.
precision_of <- function(percent, share) {
  se <- 100 * share$se
  list(se, ifelse(percent > 0, 100 * se / percent, NA_real_), share$deff)
}

# The cells of nets and of everybody (NA), with the columns of cells_frame() and
# whether `down` and `across` are such.
sums_frame <- function(x) {
  of_layer <- function(k) {
    parts <- net_parts(x, k, everybody = TRUE)
    core <- parts$core$layers[[1L]]
    # the cells of all parts one after the other, and where among them each stands
    parts_met <- list()
    met <- 0L
    places <- over_parts(parts, function(part) {
      cells <- once(part$kept, "cells", NULL, cells_frame(part))
      parts_met[[length(parts_met) + 1L]] <<- cells
      met <<- met + nrow(cells)
      met - nrow(cells) + seq_len(nrow(cells))
    })
    down <- c(answers_down(core), names(nets_in(x, "down")), NA)
    across <- c(answers_across(core), names(nets_in(x, "across")), NA)
    rows <- rep(seq_along(down), length(across))
    columns <- rep(seq_along(across), each = length(down))
    down_net <- rows > nrow(core$n)
    across_net <- columns > ncol(core$n)
    keep <- down_net | across_net
    places <- as.vector(places)[keep]
    figures <- setdiff(names(parts_met[[1L]]), c("each", "down", "across"))
    values <- lapply(stats::setNames(figures, figures), function(name) {
      unlist(lapply(parts_met, .subset2, name), recursive = FALSE)[places]
    })
    c(list(down = down[rows][keep], across = across[columns][keep],
           down_net = down_net[keep], across_net = across_net[keep]), values)
  }
  frame_of_columns(x, lapply(seq_along(x$layers), of_layer))
}

margin_frame <- function(x, side) {
  frame_of_columns(x,
                   lapply(x$layers, function(layer) {
                     margin <- layer$margins[[side]]
                     list(category = if (side == "down")
                            answers_down(layer) else answers_across(layer),
                          n = margin$n, weighted = margin$weighted,
                          percent = if (answers_in_all(layer) > 0)
                            100 * margin$weighted / answers_in_all(layer) else
                            NA_real_ * margin$n)
                   }))
}

layers_frame <- function(x) {
  frame_of(x, Map(function(layer, cells) {
    list(c(layer$base[c("n", "weighted", "effective")],
           list(df = finite_or_na(layer_df(layer)), critical = cells$critical)))
  }, x$layers, residuals_of(x)))
}

#' A table as plain data
#'
#' `as.data.frame()` and `tidy()` give one row a cell, `glance()` one row a
#' layer. The names are stable: they are those of the JSON that [publish()]
#' writes.
#'
#' @param x (crosstab) From [crosstab()] or [read_tables()].
#' @param row.names,optional,stringsAsFactors Not used: [data.frame()] gives
#'   them.
#' @param ... Not used; an argument here is an error.
#' @return Data frame. Cells: `each`, `down`, `across`, `n`, `weighted`,
#'   percentages (0-100) with their intervals, standard errors, coefficients of
#'   variation (in percent) and design effects (`row_percent`, `row_low`,
#'   `row_high`, `row_se`, `row_cv`, `row_deff`, ...), the same of the estimated
#'   totals (`weighted_low`, ..., see [totals()]; `NA` without weights), of imputed
#'   data the share of information that is missing (`row_missing_information`, ...; 0-1),
#'   `expected` (scale of n), residuals, `p`, `p_corrected`, `contribution`,
#'   `share_of_statistic`, `mark`. Layers: `each`, `n`, `weighted`, `effective`,
#'   `test`, `statistic`, `df`, `df_error`, `p`, `cramers_v`, `low`, `high`.
#'   Units beyond the percentages: p-values, V and its interval 0-1.
#' @export
#' @examples
#' table <- crosstab(demo_records(), down = heating, across = island)
#' head(as.data.frame(table))
#' glance(table)
as.data.frame.fairlattice_crosstab <- function(x, row.names = NULL,
                                               optional = FALSE, ...,
                                               stringsAsFactors = FALSE) {
  nothing_else(...)
  cells_frame(x)
}

#' @rdname as.data.frame.fairlattice_crosstab
#' @export
tidy.fairlattice_crosstab <- function(x, ...) {
  nothing_else(...)
  cells_frame(x)
}

#' @rdname as.data.frame.fairlattice_crosstab
#' @export
glance.fairlattice_crosstab <- function(x, ...) {
  nothing_else(...)
  frame_of(x, Map(function(layer, tests, v) {
    list(c(layer$base[c("n", "weighted", "effective")],
           headline_of(tests)[c("test", "statistic", "df", "df_error", "p")],
           list(cramers_v = v$estimate, low = v$low, high = v$high)))
  }, x$layers, tests_of(x), cramers_v_in(x)))
}

# What a table is called when no title was given.
table_title <- function(x) {
  facts <- facts_of(x)
  if (!has(x, "pair")) return(facts$down$label)
  words("title", down = facts$down$label, across = facts$across$label)
}
