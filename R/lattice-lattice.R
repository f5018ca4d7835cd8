#' The crosstab
#'
#' `down` runs down the side (the rows), `across` runs across the top (the columns), `each` makes one table per
#' answer. By default `across` explains `down`, so percentages are of each column; `explains = "down"` turns
#' percentages and every directed measure round. The records are read once, into a tally; every figure comes from it.
#'
#' @param panel (panel or data frame) From [respondents()].
#' @param down,across (column name, see [fairlattice]) The two questions.
#' @param each (column name, default none) Makes one table per answer.
#' @param explains ("across" or "down", default "across") The question that is taken to explain the other.
#' @param percent ("column", "row" or "total", default the base that `explains` calls for) Base of the percentages
#'   shown. Percentages against `explains` lead to a caution.
#' @param alpha (number in 0-1, default option `fairlattice.alpha`, 0.05) Level of tests and marks; intervals have
#'   confidence 1 - `alpha`.
#' @param correction ("holm", "bonferroni" or "benjamini_hochberg", default option `fairlattice.correction`)
#'   Correction of the residuals' p-values over the cells of a table.
#' @param keep_empty (TRUE or FALSE, default TRUE unless [among()] was used) Whether declared answers that nobody
#'   gave keep their row or column. They are left out of every test either way.
#' @param paired (TRUE or FALSE, default FALSE) Whether `down` and `across` are the same question asked twice of the
#'   same people: the test is then whether answers changed as often one way as the other, and the strength is their
#'   agreement (kappa).
#' @param peaks (TRUE or FALSE, default FALSE) Whether prints mark the largest percentage of every column (row, with
#'   row percentages), so that the drift of an ordered table is seen at a glance.
#' @param p ("asymptotic", "exact" or "simulated"; default by the table, see [test_independence()]) How the headline
#'   test of an unweighted table gets its p-value: in the table, the list of tests and the paragraph alike.
#' @param ... Nothing: what is put here is an error, with the nearest argument's name.
#' @return A lattice (class `fairlattice_lattice`) with the tally, the choices made and, per answer of `each`, the
#'   estimated proportions with their covariance. Print it, or pass it to [shares()], [test_independence()],
#'   [strength()], [departures()], [cautions()], [write_up()], [flip()], [publish()].
#' @section Errors: those of [tally_of()], and `fairlattice_error_nobody` when no respondent is in the table,
#'   `fairlattice_error_too_many_cells`, `fairlattice_error_paired` (two questions without the same answers).
#' @export
#' @examples
#' panel <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement, id = id)
#' lattice(panel, down = ferry, across = island)
lattice <- function(panel, down, across, each = NULL, explains = c("across", "down"), percent = NULL,
                    alpha = NULL, correction = NULL, keep_empty = NULL, paired = FALSE, peaks = FALSE, p = NULL, ...) {
  nothing_else(...)
  call <- environment()
  panel <- as_panel(panel)
  explains <- first_of(explains)
  tally <- tally_columns(panel, column_named(rlang::enquo(down), panel$data, "down", call),
                         column_named(rlang::enquo(across), panel$data, "across", call),
                         column_named(rlang::enquo(each), panel$data, "each", call), call)
  choices <- checked_choices(explains, percent, alpha, correction, keep_empty %||% !panel$cut, paired, peaks, p, call)
  if (paired) check_paired(tally, call)
  new_lattice(tally, choices, call)
}

# What may be chosen of a table, checked.
checked_choices <- function(explains = "across", percent = NULL, alpha = NULL, correction = NULL, keep_empty = TRUE,
                            paired = FALSE, peaks = FALSE, p = NULL, call = NULL) {
  check_choice(explains, c("across", "down"), "explains", call)
  percent <- percent %||% if (explains == "across") "column" else "row"
  alpha <- alpha %||% setting("alpha")
  correction <- correction %||% setting("correction")
  check_choice(percent, c("column", "row", "total"), "percent", call)
  check_fraction(alpha, "alpha", call)
  check_choice(correction, names(corrections), "correction", call)
  check_flag(keep_empty, "keep_empty", call)
  check_flag(paired, "paired", call)
  check_flag(peaks, "peaks", call)
  if (!is.null(p)) check_choice(p, ways_to_p, "p", call)
  list(explains = explains, percent = percent, alpha = alpha, correction = correction, keep_empty = keep_empty,
       paired = paired, peaks = peaks, p = p)
}

ways_to_p <- c("asymptotic", "exact", "simulated")

# The names of the corrections, and what stats::p.adjust() and a reader call them.
corrections <- c(holm = "Holm", bonferroni = "Bonferroni", benjamini_hochberg = "Benjamini-Hochberg")

new_lattice <- function(tally, choices, call = NULL) {
  layers <- layers_of(tally, choices$keep_empty, isTRUE(choices$paired))
  used <- sum(vapply(layers, function(layer) layer$base$records, 0))
  if (used == 0) {
    account <- account_of(tally)$left_out
    stop_input(c("Nobody is in the table.",
                 x = sprintf("%s of %s records: %s.", format_count(account$records), format_count(tally$records),
                             account$reason)), "nobody", call = call)
  }
  size <- length(layers[[1L]]$n)
  if (size > setting("most_cells")) {
    stop_input(c(sprintf("The table would have %s cells; the most is %s.", format_count(size),
                         format_count(setting("most_cells"))),
                 i = "Cut numbers into bands, or join answers into fewer."), "too_many_cells", call = call)
  }
  # `kept` holds what was worked out once, so that printing, writing and saving do not work it out again
  structure(list(tally = tally, choices = choices, layers = lapply(layers, add_estimates, tally = tally),
                 kept = new.env(parent = emptyenv())), class = "fairlattice_lattice")
}

check_paired <- function(tally, call) {
  answers <- lapply(tally[c("down", "across")], answers_of)
  declared <- !all(tally$down$observed, tally$across$observed)
  alone <- setdiff(union(answers$down, answers$across), intersect(answers$down, answers$across))
  if (any(ticks_in(tally)) || length(intersect(answers$down, answers$across)) < 2L || (declared && length(alone))) {
    stop_input(c(sprintf("`paired` needs the same answers in \"%s\" and \"%s\".", tally$down$label, tally$across$label),
                 x = if (length(alone)) sprintf("Only one of them has %s.", list_some(alone, 5L)),
                 i = "Join answers alike in both, or leave `paired` out."), "paired", call = call)
  }
}

# The answers of a question, without its reasons for no answer.
answers_of <- function(question) question$levels[!question$missing]

# One layer per answer of `each`: matrices down x across of respondents, weights and squared weights.
layers_of <- function(tally, keep_empty, paired = FALSE) {
  place <- function(question) {
    place <- integer(length(question$levels) + 1L) # code 0 and reasons have no place in the table
    place[which(!question$missing) + 1L] <- seq_len(sum(!question$missing))
    place
  }
  row <- place(tally$down)[tally$cells$down + 1L]
  column <- place(tally$across)[tally$cells$across + 1L]
  layer <- if (is.null(tally$each)) rep(1L, length(row)) else place(tally$each)[tally$cells$each + 1L]
  inside <- row > 0L & column > 0L & layer > 0L
  shown <- function(question, at) {
    if (!is.null(question$items)) return(rep(TRUE, length(answers_of(question))))
    seen <- seq_along(answers_of(question)) %in% at[inside]
    if (keep_empty) rep(TRUE, length(seen)) else seen
  }
  rows <- shown(tally$down, row)
  columns <- shown(tally$across, column)
  if (paired && length(rows) == length(columns)) rows <- columns <- rows | columns
  names <- if (is.null(tally$each)) NA_character_ else answers_of(tally$each)
  keep <- if (is.null(tally$each)) TRUE else shown(tally$each, layer)
  lapply(which(keep), function(k) {
    at <- which(inside & layer == k)
    cell <- row[at] + (column[at] - 1L) * length(rows)
    grid <- function(values) {
      sums <- sum_by_cell_kernel(cell, values, length(rows) * length(columns))
      matrix(sums, length(rows), length(columns),
             dimnames = list(answers_of(tally$down), answers_of(tally$across)))[rows, columns, drop = FALSE]
    }
    n <- grid(tally$cells$n[at])
    weighted <- grid(tally$cells$w[at])
    squared <- grid(tally$cells$w2[at])
    layer <- list(each = names[k], ordered = c(down = tally$down$ordered, across = tally$across$ordered),
                  paired = paired, n = n, weighted = weighted, squared = squared,
         base = list(records = sum(tally$cells$records[at]), n = sum(n), weighted = sum(weighted),
                     effective = if (sum(n)) sum(weighted)^2 / sum(squared) else 0), # Kish (1965)
         cells = list2DF(list(unit = tally$cells$unit[at], row = cumsum(rows)[row[at]],
                              column = cumsum(columns)[column[at]], w = tally$cells$w[at],
                              w2 = tally$cells$w2[at], n = tally$cells$n[at])))
    if (!is.null(tally$design$replicates)) {
      place <- matrix(0L, length(rows), length(columns))
      place[rows, columns] <- seq_len(sum(rows) * sum(columns))
      layer$replicates <- replicate_totals(tally, at, place[cell], sum(rows) * sum(columns))
    }
    if (any(ticks_in(tally))) tick_layer(layer, tally) else layer
  })
}

# Every record is in the table or left out for one reason: `each` first, then `down`, then `across`.
account_of <- function(tally) {
  reason_of <- function(question, code) {
    if (is.null(question)) return(rep(NA_character_, length(code)))
    reasons <- c("no answer", ifelse(question$missing, question$levels, NA))[code + 1L]
    ifelse(is.na(reasons), NA, paste0(question$label, ": ", reasons))
  }
  cells <- tally$cells
  reason <- reason_of(tally$each, cells$each)
  for (part in c("down", "across")) {
    reason <- ifelse(is.na(reason), reason_of(tally[[part]], cells[[part]]), reason)
  }
  out <- is.na(reason)
  left <- rbind(tally$aside[tally$aside$records > 0, ],
                if (any(!out)) data.frame(reason = reason[!out], records = cells$records[!out]))
  if (nrow(left)) left <- sum_by(left, "reason", "records")
  left <- left[order(-left$records), , drop = FALSE]
  rownames(left) <- NULL
  list(records = tally$records, used = sum(cells$records[out]), left_out = left,
       respondents = if (!is.null(tally$facts$roles$count) || !is.null(tally$facts$counts)) sum(cells$n[out]))
}
