# The lines of text over and under a table, in words.

# What separates figures in brackets: a comma, unless that is the decimal mark.
between <- function() if (setting("decimal_mark") == ",") "; " else ", "

# "Rao-Scott second order, F(7.2, 610.4) = 25.31, p < 0.001"
test_figures <- function(test, named = TRUE) {
  name <- if (named) paste0(words(paste0("test.", test$test)), ", ") else ""
  if (is.na(test$statistic)) { # exact tests have a p-value only
    error <- if (is.na(test$p_se)) "" else
      sprintf(" \u00b1 %s", format_number(1.96 * test$p_se, 4L, bounded = TRUE))
    return(sprintf("%sn = %s, %s%s", name, format_count(test$base),
                   format_p(test$p), error))
  }
  statistic <- if (is.na(test$df_error)) {
    sprintf("%s(%s%sn = %s)", statistic_signs[test$test] %|NA|% "X\u00b2",
            format_df(test$df), between(), format_count(test$base))
  } else {
    sprintf("F(%s%s%s)", format_df(test$df), between(),
            format_df(test$df_error))
  }
  sprintf("%s%s = %s, %s", name, statistic, format_number(test$statistic),
          format_p(test$p))
}

# The figures of the headline and of a measure stand under the table and in its
# paragraph: what is said of a layer is kept with it for as long as that, and
# how figures are written, stay the same.
told_once <- function(layer, name, of, text) once(layer$kept, name, of, text)

figures_told <- function(layer, test) {
  told_once(layer, "headline in words", test, test_figures(test))
}

strength_figures_told <- function(x, k, rows) {
  facts <- facts_of(x)
  labels <- list(facts$down$label, facts$across$label, x$choices$alpha)
  vapply(rows, function(row) {
    told_once(x$layers[[k]], paste(row$measure, "in words"), c(labels, row),
              strength_figures(row, x))
  }, "")
}

# Statistics that are not called X squared.
statistic_signs <- c(likelihood_ratio = "G\u00b2",
                     rao_scott_first_likelihood = "G\u00b2",
                     linear_trend = "M\u00b2")

is_symmetry <- function(test) {
  test$test %in% c("symmetry", "symmetry_exact", "symmetry_rao_scott")
}

# What a test found, in words that claim no more than it does: "Heating differs by
# Island". The claims of a kind are its own, and a level that is not the usual one
# is said.
claim_of <- function(x, test, within = "") {
  facts <- facts_of(x)
  codes <- says(x, "headline") %||%
    if (test$test == "equal_means") c("means_different", "means_not_different") else
      if (is_symmetry(test)) c("asymmetric", "not_asymmetric") else
        c("associated", "not_associated")
  sides <- sides_compared(x)
  claim(codes, test, x$choices$alpha, facts[[sides[1L]]]$label,
        facts[[sides[2L]]]$label %||% "", within)
}

# `codes`: of what is said where the test rejects, and where it does not.
claim <- function(codes, test, alpha, down, across = "", within = "") {
  words(codes[[if (rejects(test, alpha)) 1L else 2L]], down = down,
        across = across, within = within,
        level = if (alpha == 0.05) "" else words("at_level", alpha = alpha))
}

# The question that differs, and the one by which it does.
sides_compared <- function(x) {
  if (identical(x$choices$explains, "down")) c("across", "down") else
    c("down", "across")
}

test_line <- function(x, test, figures = test_figures(test)) {
  if (is.na(test$p)) return(words("no_test_line", reason = test$note))
  line <- words("claim_line", claim = claim_of(x, test), figures = figures)
  told <- is.null(test$note) || test$test %in% c("exact", "symmetry_exact")
  if (told) line else sprintf("%s (%s)", line, in_words(test$note))
}

# Of one answer of `each` among several: its p-value over all of them, where that
# would be read otherwise.
each_line <- function(x, layer, test) {
  corrected <- corrected_over_each(x)
  layers <- vapply(x$layers, function(one) one$each, "")
  p <- corrected[match(layer$each, layers)]
  if (is.null(corrected) || is.na(p) || !rejects(test, x$choices$alpha)) return(NULL)
  words("corrected_over_each", p = p, tables = sum(!is.na(corrected)),
        each = facts_of(x)$each$label, correction = x$choices$correction,
        still = p <= x$choices$alpha)
}

# "V = 0.34", for a line that says more.
strength_in_short <- function(row) {
  name <- if (row$measure == "cramers_v") "V" else
    words(paste0("measure.", row$measure))
  sprintf("%s = %s", name, format_strength(row$estimate))
}

# Of two ordered questions the trend stands beside the headline.
trend_line <- function(trend, alpha) {
  if (is.null(trend)) return(NULL)
  words(if (rejects(trend, alpha)) "trend_found" else "trend_not_found",
        figures = test_figures(trend, named = FALSE),
        scores = in_words(trend$note))
}

# The plain statistic of a weighted or designed table stands there for
# reference, and says so.
reference_line <- function(x, tests) {
  plain <- reference_test(tests)
  if (is.null(plain)) return(NULL)
  design <- facts_of(x)$design
  words("reference_line", figures = test_figures(plain),
        weighted = !is.null(design$weight) || !is.null(design$replicates))
}

# Each item of a tick-all question by itself.
item_lines <- function(items) {
  vapply(items, function(item) {
    name <- if (is.na(item$by)) item$item else
      words("item_by", item = item$item, by = item$by)
    if (is.na(item$p))
      return(words("item_no_test", name = name, reason = item$note))
    words("item_line", name = name, p = item$p, corrected = item$p_corrected,
          v = item$cramers_v, low = item$low, high = item$high)
  }, "")
}

# The measures shown first, in the order they are told in.
told_first <- c("kappa", "phi", "gamma", "tau_b", "cramers_v")

strength_told <- function(strength) {
  shown <- strength[vapply(strength, function(row) row$shown && !is.na(row$estimate), NA)]
  place <- match(vapply(shown, function(row) row$measure, ""), told_first,
                 length(told_first) + 1L)
  if (is.unsorted(place)) shown[order(place)] else shown
}

# "Cramer's V = 0.31 (95% CI 0.27 to 0.36)"
strength_figures <- function(row, x) {
  facts <- facts_of(x)
  directed <- row$explains != "both"
  explaining <- if (directed) facts[[row$explains]]$label
  explained <- if (directed) facts[[other_side[[row$explains]]]]$label
  no_gain <- directed && code_of(row$note) %in% "se_zero_no_gain"
  note <- if (no_gain) words("no_gain", knowing = explaining) else
    if (!is.null(row$note)) in_words(row$note)
  value <- format_strength(row$estimate)
  corrected <- if (!is.null(row$corrected) && !is.na(row$corrected))
    format_strength(row$corrected)
  corrected <- if (!is.null(corrected) && corrected != value)
    words("corrected_for_chance", value = corrected)
  interval <- if (is.na(row$low))
    words("no_ci", reason = note %||% words("undefined")) else
    c(words("ci", alpha = x$choices$alpha, low = row$low, high = row$high),
      note)
  sprintf("%s = %s (%s)", words(paste0("measure.", row$measure)),
          value,
          paste(c(if (directed)
                    words("explaining", explaining = explaining,
                          explained = explained), corrected, interval),
                collapse = "; "))
}

strength_lines <- function(x, k) {
  c(sentence_case(strength_figures_told(x, k,
                                        strength_told(strength_of(x)[[k]]))),
    equivalence_line(x, k))
}

# Whether V, by its interval, is within the margin that was named.
equivalence_line <- function(x, k) {
  margin <- x$choices$margin
  if (is.null(margin) || !has(x, "strength")) return(NULL)
  v <- cramers_v_in(x)[[k]]
  if (is.na(v$high)) return(NULL)
  words("equivalence", margin = margin, high = v$high, alpha = x$choices$alpha)
}

# What was done to the questions before they were tabulated, as far as it is not
# `told` already.
history_lines <- function(x, told = NULL) {
  facts <- facts_of(x)
  lines <- c(history_line(facts$down$history, facts$down$label),
             history_line(facts$across$history, facts$across$label),
             history_line(facts$each$history, facts$each$label))
  if (length(lines)) setdiff(lines, told)
}

history_line <- function(history, label) {
  if (length(history))
    sprintf("%s: %s", label, paste(all_in_words(history), collapse = "; "))
}

base_line <- function(x, layout = layout_of(x)) {
  facts <- facts_of(x)
  percent <- layout$percent %|NA|% "none"
  if (!has(x, "across")) percent <- "total"
  if (!has(x, "answers"))
    percent <- if (has(x, "across")) "mean" else "mean_alone"
  question <- if (percent == "row") facts$down else facts$across
  line <- if (of_totals(layout))
    words("base_of_totals", unit = layout$unit) else
      words(says(x, "base") %||% paste0("base.", percent),
            question = question$label, ticks = question$ticks)
  if ("index" %in% layout$show && !any(percent_figures %in% layout$show))
    line <- words("as_index", text = line)
  if (is_weighted(x) && (percent != "none" ||
                           any(c("weighted", "estimated_total") %in% layout$show)))
    line <- words("weighted_by", text = line, weight = facts$design$weight)
  over_imputations(line, x)
}

over_imputations <- function(line, x) {
  imputations <- facts_of(x)$design$imputations
  if (is.null(imputations)) line else
    paste0(line, words("who_imputed", imputations = imputations))
}

# Where a table comes from: the file, the design, the program. In a guarded
# table without the number of records.
source_line <- function(x, guarded) {
  facts <- facts_of(x)
  source <- facts$source
  design <- facts$design
  words("source_line", file = source$file, dated = source$dated,
        sha256 = source$sha256 %||% file_checksum(x),
        records = if (!guarded) source$records, weight = design$weight,
        stratum = design$stratum, cluster = design$cluster,
        replicates = design$replicates, calibrated_to = design$calibrated_to,
        imputations = design$imputations,
        version = program_version())
}

program_version <- function() {
  once(program, "version", NULL,
       own_version())
}

file_checksum <- function(x) if (has(x, "records")) source_hash(x$tally$facts$source)

# The line as it is asked for: not, by default with all lines, or in other
# words.
source_shown <- function(x, layout, by_default) {
  asked <- layout$source %||% by_default
  if (is.character(asked)) asked else if (asked) source_line(x, guards(layout))
}

# By which rule marks are given: beyond a residual, or by exact p-values.
marking_rule_of <- function(x, layer, cells) {
  words("marking_rule", critical = cells$critical,
        correction = x$choices$correction, cells = layer_compared(layer),
        alpha = x$choices$alpha)
}

# What a mark means, and by which rule it is given.
key_line <- function(x, layer, cells, test) {
  if (all(is.na(cells$p_corrected))) return(NULL)
  rule <- marking_rule_of(x, layer, cells)
  any_marked <- any(cells$mark != "")
  own <- says(x, "key")
  if (!is.null(own)) return(words(own[[if (any_marked) 1L else 2L]], rule = rule))
  words(if (any_marked) "key_marked" else if (rejects(test, x$choices$alpha))
          "key_spread" else "key_none", rule = rule)
}

# Why records are left out, all missing answers to a question as one reason.
reasons_together <- function(left) {
  in_base <- left$code %in% c("outside", "cannot_tell")
  reason <- left_out_words(left)
  reason[in_base] <- vapply(paste0("account_", left$code[in_base]), words, "")
  asked <- nzchar(left$question)
  reason[asked] <- vapply(left$question[asked], function(one) {
    words("account_no_answer", question = one)
  }, "")
  n <- rowsum(left$records, factor(reason, unique(reason)), reorder = FALSE)
  words("account_reason", reason = rownames(n), records = n[, 1L])
}

# Where every record is: in the table, or left out for a reason. In brief it is
# one line; without what is the layer's `own` it is true of all layers.
account_line <- function(x, layer, brief = FALSE, own = TRUE) {
  facts <- facts_of(x)
  base <- facts$base
  several <- !is.na(layer$each)
  left <- base$left_out
  line <- if (!is.null(base$cells)) {
    words("account_counts", n = base$respondents, cells = base$cells)
  } else if (nrow(left) && brief) {
    words("account_brief", records = base$records, used = base$used,
          left = sum(left$records), reasons = reasons_together(left))
  } else if (nrow(left)) {
    words("account_parts", records = base$records, used = base$used,
          left = sum(left$records),
          reasons = words("account_reason", reason = left_out_words(left),
                          records = left$records), several = several)
  } else {
    words("account_whole", records = base$records, several = several)
  }
  blank <- as.numeric(facts$source$blank_lines %||% 0)
  more <- c(if (is.null(base$cells) && !is.null(base$respondents))
              words("account_standing", n = base$respondents),
            if (length(base$set_aside))
              words("account_totals", totals = base$set_aside),
            if (blank > 0) words("account_blank", lines = blank),
            if (own && is_weighted(x) && !is.na(layer$base$effective))
              words("account_effective", n = layer$base$effective))
  paste(c(if (several && own) words("in_this_table", n = layer$base$n),
          paste(c(line, more), collapse = "; ")), collapse = " ")
}
