# The results of a crosstab, each part worked out when it is first asked for and
# kept in its layer for as long as what it depends on stays the same. A table
# read from a file answers from what was stored.

# A list over the layers, of what is `asked`, kept under a name. Each part is
# worked out by the function layer_PART().
result_of <- function(x, what, asked, name = what) {
  work <- paste0("layer_", what)
  if (!length(asked)) asked <- NULL # an empty list may have names
  lapply(x$layers, function(layer) {
    once(layer$kept, name, asked, do.call(work, c(list(layer), asked)))
  })
}

# The same of what is asked beyond the choices of the crosstab; `call` is named
# by the error of a stored table that does not have it. What is the default is
# not asked, so that one result is kept for all who want it.
further_result_of <- function(x, what, ..., call = NULL) {
  asked <- list(...)
  for (name in names(asked)) {
    if (is.null(asked[[name]]) || identical(asked[[name]], as_stored[[name]]))
      asked[[name]] <- NULL
  }
  if (!has(x, "records")) check_stored(x, asked, call)
  result_of(x, what, asked, paste(c(what, asked$asked), collapse = " "))
}

tests_of <- function(x) result_of(x, "tests", c(list(), p = x$choices$p))

# The measures shown first, or all that fit.
strength_of <- function(x, which = "shown") {
  found <- if (!has(x, "records")) lapply(x$layers, layer_strength) else
    result_of(x, "strength",
              list(alpha = x$choices$alpha, explains = x$choices$explains,
                   asked = which), paste("strength", which))
  if (which == "shown" && !has(x, "records"))
    lapply(found, Filter, f = function(row) row$shown) else found
}

shares_of <- function(x, percent = x$choices$percent, alpha = x$choices$alpha) {
  result_of(x, "shares", list(percent = percent, alpha = alpha),
            paste("shares", percent))
}

estimated_totals_of <- function(x, alpha = x$choices$alpha) {
  result_of(x, "totals", list(alpha = alpha))
}

residuals_of <- function(x) {
  result_of(x, "residuals",
            list(correction = x$choices$correction, alpha = x$choices$alpha))
}

items_of <- function(x) {
  result_of(x, "items",
            list(alpha = x$choices$alpha, correction = x$choices$correction))
}

# Cramer's V of every layer, which stands for the strength of its association.
cramers_v_in <- function(x) {
  if (!has(x, "records")) return(lapply(strength_of(x, "all"), cramers_v_of))
  shown <- lapply(strength_of(x), cramers_v_of)
  if (!any(vapply(shown, is.null, NA))) return(shown)
  lapply(result_of(x, "strength",
                   list(alpha = x$choices$alpha, asked = "cramers_v"),
                   "strength cramers_v"), cramers_v_of)
}

# Cautions of the table as a whole, and of every layer.
cautions_of <- function(x) {
  if (!has(x, "records")) return(x$cautions)
  once(x$kept, "cautions", NULL, {
    tests <- lapply(tests_of(x), headline_of)
    list(whole = by_severity(whole_cautions(x)),
         layers = Map(function(layer, test, v) {
           by_severity(layer_cautions(layer, x, test, v))
         }, x$layers, tests, cramers_v_in(x)))
  })
}

# What a table is of: its questions, design, base, source.
facts_of <- function(x) {
  if (!has(x, "records")) return(x$facts)
  held <- x$kept$facts # they are asked for so often that once() would be the larger part
  if (is.null(held)) once(x$kept, "facts", NULL, facts_from(x)) else held$value
}

facts_from <- function(x) {
  tally <- unclass(x$tally)
  sum_of <- function(name) {
    sum(vapply(x$layers, function(layer) layer$base[[name]], 0))
  }
  first <- x$layers[[1L]]
  account <- account_in(x)
  source <- tally$facts$source
  list(down = c(question_of(tally$down, answers_down(first)),
                list(shares = first$given)),
       across = question_of(tally$across, answers_across(first)),
       each = if (!is.null(tally$each))
         question_of(tally$each,
                     vapply(x$layers, function(layer) layer$each, "")),
       design = c(stats::setNames(tally$facts$roles[c("weight", "stratum", "cluster")],
                                  c("weight", "stratum", "cluster")),
                  list(replicates = tally$design$replicates$kind,
                       calibrated_to = tally$facts$margins$labels,
                       imputations = tally$design$imputations,
                       df = finite_or_na(min(vapply(x$layers, layer_df, 0))))),
       among = tally$facts$among,
       base = c(account,
                list(weighted = sum_of("weighted"),
                     effective = sum_of("weighted")^2 / sum_of("squared"),
                     cells = tally$facts$counts$cells,
                     set_aside = tally$facts$counts$totals)),
       source = list(file = source$file, dated = source$dated,
                     sha256 = source$sha256, records = tally$records,
                     blank_lines = source$blank_lines))
}

# A question as its table shows it.
question_of <- function(question, shown) {
  codes <- if (is.null(question$items))
    question$values[match(shown, question$levels)] else
    question$item_names[match(shown, question$items)]
  list(name = question$name, label = question$label, ordered = question$ordered,
       ticks = !is.null(question$items),
       statements = isTRUE(question$statements), history = question$history,
       nets = question$nets, scores = unname(scores_shown(question, shown)),
       summed = question$summed, headings = headings_shown(question, shown),
       categories = frame_with(list(code = codes, label = shown)))
}

# Of a question within another: heading and label of every answer.
headings_shown <- function(question, shown) {
  if (is.null(question$headings)) return(NULL)
  at <- match(shown, question$headings$answer)
  list2DF(list(outer = question$headings$outer[at],
               inner = question$headings$inner[at]))
}

scores_shown <- function(question, shown) {
  if (!is.null(question$scores)) question$scores[match(shown, question$levels)]
}

is_weighted <- function(x) !is.null(facts_of(x)$design$weight)

# ---- tables read from a file ----

# A layer whose results were stored: the fields that every layer has, and
# `stored`, the parts by name.
new_stored_layer <- function(each, n, weighted, margins, base, df, stored) {
  structure(list(each = each, n = n, weighted = weighted, margins = margins,
                 base = base, df = df, stored = stored,
                 kept = new.env(parent = emptyenv())),
            class = "fairlattice_stored_layer")
}

new_stored_crosstab <- function(facts, choices, layers, cautions) {
  structure(list(tally = NULL, choices = choices, facts = facts,
                 layers = layers, cautions = cautions,
                 kept = new.env(parent = emptyenv())),
            class = "fairlattice_crosstab")
}

#' @export
layer_df.fairlattice_stored_layer <- function(layer) {
  if (is.na(layer$df)) Inf else layer$df
}

#' @export
layer_shares.fairlattice_stored_layer <- function(layer, percent, alpha,
                                                  kind = "usual") {
  layer$stored$shares[[percent]] %||%
    stop_records_gone("percent", percent, NULL, NULL)
}

#' @export
layer_residuals.fairlattice_stored_layer <- function(layer, correction, alpha,
                                                     kind = "adjusted") {
  layer$stored$residuals
}

#' @export
layer_tests.fairlattice_stored_layer <- function(layer, asked = NULL, p = NULL,
                                                 scores = "equal", draws = NULL,
                                                 seed = NULL) {
  layer$stored$tests
}

#' @export
layer_strength.fairlattice_stored_layer <- function(layer, alpha,
                                                    explains = "across",
                                                    asked = "all",
                                                    scores = "equal") {
  layer$stored$strength
}

#' @export
layer_items.fairlattice_stored_layer <- function(layer, alpha, correction) {
  layer$stored$items
}

#' @export
layer_compared.fairlattice_stored_layer <- function(layer) layer$stored$compared

# The p-values of the headline tests of all answers of `each`, corrected for how many
# there are; NULL where there is one table.
corrected_over_each <- function(x) {
  if (length(x$layers) < 2L) return(NULL)
  p <- vapply(tests_of(x), function(rows) headline_of(rows)$p %||% NA_real_, 0)
  correct(p, x$choices$correction)
}
