#' The paragraph for the report
#'
#' What was found, what was compared and among whom, the strength with its
#' interval, and where it sits, in sentences that can be pasted. The first
#' sentence says what differs by what, with the figures of the test, and can be
#' quoted alone. A test
#' that is not significant is never "no difference", and says what could have
#' been found; nothing is called proven. Decimals, decimal mark, the zero before
#' it and the language follow the [options][fairlattice_options].
#'
#' @param x (crosstab) From [crosstab()] or [read_tables()].
#' @param style ("short", "full" or "sentence", default "short") `"full"` also
#'   says whether the null hypothesis is rejected, what was done to whom, why this
#'   test, every measure shown, and all cautions; `"sentence"` is the first
#'   sentence alone.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return (character) One text a layer.
#' @section Errors: `fairlattice_error_class` (`x` is no table),
#'   `fairlattice_error_choice`.
#' @export
#' @examples
#' table <- crosstab(demo_records(), down = heating, across = island)
#' write_up(table, "sentence")
#' cat(write_up(table, style = "full"))
write_up <- function(x, style = c("short", "full", "sentence"), ...) {
  nothing_else(...)
  check_class(x, "fairlattice_crosstab", "x", "crosstab()", environment())
  style <- first_of(style)
  check_choice(style, c("short", "full", "sentence"), "style", environment())
  vapply(seq_along(x$layers), function(k) paragraph_of(x, k, style), "")
}

paragraph_of <- function(x, k, style) {
  x <- unclass(x)
  layer <- x$layers[[k]]
  full <- style == "full"
  found <- cautions_of(x)
  cautions <- by_severity(c(found$whole, found$layers[[k]]))
  if (!has(x, "across")) {
    decision <- if (has(x, "given_shares"))
      decision_of(x, layer, headline_of(tests_of(x)[[k]]), full)
    if (length(decision) && style == "sentence") return(decision)
    return(paste(c(decision,
                   if (!has(x, "answers")) mean_sentence(x, layer) else
                     answers_sentence(x, k, full),
                   if (style != "sentence")
                     c(who_sentence(x, layer, full),
                       caution_sentence(cautions, full))), collapse = " "))
  }
  tests <- tests_of(x)[[k]]
  test <- headline_of(tests)
  decision <- decision_of(x, layer, test, full)
  if (style == "sentence") return(decision)
  sentences <- c(decision, who_sentence(x, layer, full),
                 if (full && !is.null(test$why) && !is.na(test$p))
                   words("test_chosen", reason = test$why),
                 if (full) trend_sentence(x, tests),
                 if (has(x, "pair")) strength_sentence(x, k, full),
                 if (!has(x, "answers")) means_sentence(x, layer) else
                   where_sentences(x, k, test, full),
                 if (!is.na(test$p))
                   caveat_sentences(x, k, layer, test, cautions),
                 caution_sentence(cautions, full))
  paste(sentences, collapse = " ")
}

# The paragraphs that go along with a table, one a layer of every table; none
# with counts that are withheld or rounded.
paragraphs_with <- function(x, style = "short") {
  if (!guards(x$layout))
    unlist(lapply(single_tables(x), write_up, style = style))
}

# What was found, with the figures of its test; in full also the null hypothesis,
# and whether it is rejected.
decision_of <- function(x, layer, test, full) {
  within <- within_words(facts_of(x), layer)
  if (is.na(test$p)) {
    facts <- facts_of(x)
    return(paste0(words("not_tested", down = facts$down$label,
                        across = facts$across$label %||% "", within = within,
                        reason = test$note), "."))
  }
  c(words("claim_sentence", claim = claim_of(x, test, within),
          figures = figures_told(layer, test)),
    if (full) decision_sentence(x, test, within))
}

decision_sentence <- function(x, test, within) {
  facts <- facts_of(x)
  null <- words(says(x, "null") %||%
                  if (test$test == "equal_means") "null_means" else
                    if (is_symmetry(test)) "null_symmetric" else
                      "null_unrelated", down = facts$down$label,
                across = facts$across$label, within = within)
  alpha <- x$choices$alpha
  words(if (rejects(test, alpha)) "rejected" else "not_rejected", null = null,
        alpha = alpha)
}

# Of one question alone: how many gave the most frequent answers (all in full),
# with their intervals.
answers_sentence <- function(x, k, full) {
  layer <- x$layers[[k]]
  share <- shares_of(x, "column")[[k]]
  largest <- utils::head(order(-share$share), if (full) Inf else 3L)
  words("answers_given", question = facts_of(x)$down$label,
        within = within_words(facts_of(x), layer),
        answers = bands_shown(answers_down(layer)[largest],
                              facts_of(x)$down$history),
        share = share$share[largest], low = share$low[largest],
        high = share$high[largest], alpha = x$choices$alpha,
        ticks = facts_of(x)$down$ticks)
}

means_sentence <- function(x, layer) {
  found <- lapply(seq_len(ncol(layer$n)), function(j) {
    score_summary(layer, layer$scores, j, x$choices$alpha)
  })
  column_values <- function(name) vapply(found, `[[`, 0, name)
  words("means_found", question = facts_of(x)$down$label,
        columns = bands_shown(answers_across(layer),
                              facts_of(x)$across$history), means = column_values("mean"),
        low = column_values("low"), high = column_values("high"), alpha = x$choices$alpha)
}

# Of a number alone.
mean_sentence <- function(x, layer) {
  found <- score_summary(layer, layer$scores, NULL, x$choices$alpha)
  words("means_found", question = facts_of(x)$down$label,
        columns = words("line.all"), means = found$mean, low = found$low,
        high = found$high, alpha = x$choices$alpha)
}

within_words <- function(facts, layer) {
  if (is.na(layer$each)) "" else
    words("within", each = facts$each$label, answer = layer$each)
}

who_sentence <- function(x, layer, full) {
  facts <- facts_of(x)
  left <- facts$base$left_out
  parts <- c("stratum", "cluster", "replicates")
  design <- name_of("design", parts[!vapply(facts$design[parts], is.null, NA)])
  design_words <- if (length(design)) words("who_design", design = design) else
    ""
  if (is_weighted(x))
    design_words <- words("who_weighted", weight = facts$design$weight,
                          effective = layer$base$effective, design = design,
                          calibrated_to = facts$design$calibrated_to)
  if (!is.null(facts$design$imputations))
    design_words <- paste0(design_words, words("who_imputed",
                                               imputations = facts$design$imputations))
  reasons <- if (full)
    words("account_reason", reason = left_out_words(left),
          records = left$records)
  left_words <- if (sum(left$records))
    words("who_left_out", left = sum(left$records),
          records = facts$base$records, reasons = reasons) else ""
  base <- if (length(facts$among)) paste0(all_in_words(facts$among), ".")
  if (!has(x, "across"))
    return(paste(c(words("who_answered", within = within_words(facts, layer),
                         n = layer$base$n, design = design_words,
                         left = left_words), base), collapse = " "))
  who <- words(says(x, "who") %||% "who_compared", down = facts$down$label,
               across = facts$across$label, within = within_words(facts, layer),
               n = layer$base$n, design = design_words, left = left_words)
  paste(c(who, base), collapse = " ")
}

trend_sentence <- function(x, tests) {
  facts <- facts_of(x)
  trend <- trend_beside(tests, c(facts$down$ordered, facts$across$ordered))
  if (is.null(trend)) return(NULL)
  words(if (rejects(trend, x$choices$alpha)) "trend_sentence" else
          "no_trend_sentence", figures = test_figures(trend, named = FALSE))
}

strength_sentence <- function(x, k, full) {
  told <- strength_told(strength_of(x)[[k]])
  if (!length(told)) return(NULL)
  if (!full) told <- told[1L]
  words("strength_sentence", figures = strength_figures_told(x, k, told))
}

# The strongest marked cells with their percentages: three, or all in full.
# Column percentages are set against those of the row in the whole table, which
# stand in the margin of `down`.
where_sentences <- function(x, k, test, full) {
  layer <- x$layers[[k]]
  cells <- residuals_of(x)[[k]]
  marked <- which(cells$mark != "" & sure_cells(x, k))
  if (!length(marked))
    return(if (full && rejects(test, x$choices$alpha)) words("where_spread"))
  marked <- utils::head(marked[strongest_first(cells$adjusted_residual[marked])],
                        if (full) Inf else 3L)
  parts <- cells_in_words(x, k, marked)
  more <- cells$mark[marked] == "more"
  c(if (any(more)) words("where_more", cells = parts[more]),
    if (any(!more)) words("where_fewer", cells = parts[!more]))
}

# "49.1% in "Norrey" answered "District heating", against 20.1% overall", cell by
# cell.
cells_in_words <- function(x, k, cells) {
  layer <- x$layers[[k]]
  percent <- x$choices$percent
  margin <- layer$margins[[if (percent == "row") "across" else "down"]]$weighted /
            answers_in_all(layer)
  names <- cells_of_layer(layer)
  overall <- if (percent == "row") margin[as.vector(col(layer$n))] else
    margin[as.vector(row(layer$n))]
  share <- shares_of(x)[[k]]$share
  vapply(cells, function(at) {
    words(paste0("where_", percent), down = names$down[at],
          across = names$across[at], share = share[at], overall = overall[at])
  }, "")
}

# What was found as a headline: what differs, and the percentages of the two cells
# that stand out most. NULL where nothing was found, or counts are guarded.
headline_finding <- function(x, k) {
  if (guards(x$layout) || !has(x, "test")) return(NULL)
  test <- headline_of(tests_of(x)[[k]])
  if (!rejects(test, x$choices$alpha)) return(NULL)
  claim <- claim_of(x, test, within_words(facts_of(x), x$layers[[k]]))
  if (!has(x, "answers", "pair")) return(claim)
  cells <- residuals_of(x)[[k]]
  more <- which(cells$mark == "more" & sure_cells(x, k))
  if (!length(more)) return(claim)
  more <- utils::head(more[strongest_first(cells$adjusted_residual[more])], 2L)
  words("claim_headline", claim = claim, cells = cells_in_words(x, k, more))
}

# Of a test that rejects nothing: what that does not show, and what could have
# been found. Where the interval of V reaches no more than a tiny effect, that is
# evidence of its own.
caveat_sentences <- function(x, k, layer, test, cautions) {
  within <- equivalence_line(x, k)
  if (!is.null(within)) return(paste0(within, "."))
  if (rejects(test, x$choices$alpha)) return(NULL)
  reach <- Find(function(one) one$what$code == "not_significant", cautions)
  found <- reach$what$arguments
  high <- found$high %||% NA_real_
  if (!is.na(high) && has(x, "strength") &&
        high * sqrt(min(dim(layer$n)) - 1) < setting("tiny_effect"))
    return(words("small_at_most", high = high))
  c(words(if (is_symmetry(test)) "no_evidence_symmetry" else
            if (test$test == "equal_means") "no_evidence_means" else
              "no_evidence"),
    if (!is.null(found))
      in_words(list(code = "reach_sentence", arguments = found)))
}

caution_sentence <- function(cautions, full) {
  told <- Filter(function(one) {
    !one$what$code %in% c("no_test", "not_significant") &&
      (full || one$severity != "note")
  }, cautions)
  if (length(told))
    words("with_care",
          cautions = vapply(told, function(one) in_words(one$what), ""))
}
