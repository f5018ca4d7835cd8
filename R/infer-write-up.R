#' The paragraph for the report
#'
#' What was compared and among whom, the test with its figures, the strength with its interval, and where it sits, in
#' sentences that can be pasted. A test that is not significant is "no evidence of", never "no difference", and says
#' what could have been found; nothing is called proven. Decimals, decimal mark and the zero before it follow the
#' [options][fairlattice_options].
#'
#' @param x (lattice) From [lattice()] or [read_lattice()].
#' @param style ("short" or "full", default "short") `"full"` also states the hypotheses, what was done to whom, why
#'   this test, every measure shown, and all cautions.
#' @param ... Nothing: what is put here is an error, with the nearest argument's name.
#' @return (character) One paragraph a layer.
#' @export
#' @examples
#' cat(write_up(lattice(demo_records(), down = heating, across = island), style = "full"))
write_up <- function(x, style = c("short", "full"), ...) {
  nothing_else(...)
  check_class(x, "fairlattice_lattice", "x", "lattice()", environment())
  style <- first_of(style)
  check_choice(style, c("short", "full"), "style", environment())
  f <- findings(x)
  if (style == "short") f$write_up else write_up_from(f, full = TRUE)
}

write_up_from <- function(f, full = FALSE) {
  vapply(seq_len(nrow(f$layers)), function(k) {
    layer <- f$layers[k, ]
    of_layer <- function(data) data[is.na(layer$each) | data$each %in% layer$each, ]
    test <- with_headline(of_layer(f$tests))
    cautions <- f$cautions[is.na(f$cautions$each) | f$cautions$each %in% layer$each, ]
    found <- !is.na(test$p) && test$p <= f$settings$alpha
    sentences <- c(
      if (full) hypotheses_sentence(f, layer, test), who_sentence(f, layer, full), if (full) why_sentence(test),
      test_sentence(f, test, if (full) of_layer(f$tests)), strength_sentences(of_layer(f$strength), f, full),
      where_sentence(of_layer(f$cells), of_layer(f$margins[[other_side(f)]]), f$settings, test, full),
      if (!found && !is.na(test$p)) reach_sentence(cautions), caution_sentence(cautions, full))
    paste(sentences[nzchar(sentences)], collapse = " ")
  }, "")
}

# Column percentages are set against those of the row in the whole table, which stand in the margin of `down`.
other_side <- function(f) if (f$settings$percent == "row") "across" else "down"

hypotheses_sentence <- function(f, layer, test) {
  where <- if (is.na(layer$each)) "" else sprintf(" within %s = %s", f$each$label, layer$each)
  if (startsWith(test$test, "symmetry")) {
    return(sprintf(paste0("Null hypothesis: between \"%s\" and \"%s\" answers change as often one way as the ",
                          "other%s; alternative: they do not."), f$down$label, f$across$label, where))
  }
  sprintf(paste0("Null hypothesis: \"%s\" and \"%s\" are unrelated in the population%s; alternative: they are ",
                 "related in some way."), f$down$label, f$across$label, where)
}

who_sentence <- function(f, layer, full) {
  left <- f$base$left_out
  weighted <- !is.null(f$design$weight)
  design <- c(if (!is.null(f$design$stratum)) "strata", if (!is.null(f$design$cluster)) "clusters",
              if (!is.null(f$design$replicates)) "replicate weights")
  reasons <- if (full && nrow(left))
    sprintf(" (%s)", paste(format_count(left$records), left$reason, collapse = "; ")) else ""
  sprintf("%s was compared by %s%s among %s respondents%s%s.", f$down$label, f$across$label,
          if (is.na(layer$each)) "" else sprintf(" within %s = %s", f$each$label, layer$each), format_count(layer$n),
          if (weighted)
          sprintf(" (weighted by %s; effective base %s%s)", f$design$weight, format_count(layer$effective),
                                if (length(design))
                                paste0("; sample design with ", paste(design, collapse = " and ")) else "")
          else if (length(design)) sprintf(" (sample design with %s)", paste(design, collapse = " and ")) else "",
          if (sum(left$records)) sprintf("; %s of %s records were left out%s", format_count(sum(left$records)),
                                         format_count(f$base$records), reasons) else "")
}

why_sentence <- function(test) {
  if (is.na(test$why) || is.na(test$p)) "" else sprintf("The test was chosen since %s.", test$why)
}

test_sentence <- function(f, test, all = NULL) {
  if (is.na(test$p)) return(sprintf("No test could be made: %s.", test$note))
  trend <- if (!is.null(all)) trend_sentence(f, all) else ""
  figures <- test_figures(test)
  found <- test$p <= f$settings$alpha
  sentence <- if (startsWith(test$test, "symmetry")) {
    sprintf("%s (%s).",
            sentence_case(if (found) verdict(test, f$settings$alpha) else
                          paste("there is", verdict(test, f$settings$alpha))), figures)
  } else if (found) {
    sprintf("The two are associated more than chance would explain (%s).", figures)
  } else {
    sprintf("There is no evidence of an association (%s); this is not evidence that there is none.", figures)
  }
  trimws(paste(sentence, trend))
}

trend_sentence <- function(f, tests) {
  trend <- trend_beside(f, tests)
  if (is.null(trend)) return("")
  sprintf("%s (%s).", if (trend$p <= f$settings$alpha) "Both being ordered, there is a linear trend" else
          "Both being ordered, there is no evidence of a linear trend", bare_trend(trend))
}

# The trend that stands beside the headline of two ordered questions; NULL without one.
trend_beside <- function(f, tests) {
  trend <- tests[tests$test == "linear_trend" & !tests$headline & !is.na(tests$p), ]
  if (nrow(trend) && f$down$ordered && f$across$ordered) trend
}

# The figures of a trend whose name was said already.
bare_trend <- function(trend) sub("^linear trend, ", "", test_figures(trend))

# What a test says, in words that claim no more than it does.
verdict <- function(test, alpha) {
  found <- test$p <= alpha
  if (startsWith(test$test, "symmetry")) return(if (found) "answers changed more often one way than the other" else
                                                "no evidence that answers changed more often one way than the other")
  if (found) "associated more than chance would explain" else "no evidence of an association"
}

# "Rao-Scott second order, F(7.2, 610.4) = 25.31, p < 0.001"
test_figures <- function(test) {
  if (is.na(test$statistic)) { # exact tests have a p-value only
    return(sprintf("%s, n = %s, %s%s", test_labels[[test$test]], format_count(test$base), format_p(test$p),
                   if (is.na(test$p_se)) "" else
                   sprintf(" \u00b1 %s", format_number(1.96 * test$p_se, 4L, bounded = TRUE))))
  }
  statistic <- if (is.na(test$df_error)) {
    name <- if (grepl("likelihood", test$test)) "G\u00b2" else if (test$test == "linear_trend") "M\u00b2" else "X\u00b2"
    sprintf("%s(%s, n = %s)", name, format_df(test$df), format_count(test$base))
  } else {
    sprintf("F(%s, %s)", format_df(test$df), format_df(test$df_error))
  }
  sprintf("%s, %s = %s, %s", test_labels[[test$test]], statistic, format_number(test$statistic), format_p(test$p))
}

strength_sentences <- function(strength, f, full) {
  shown <- strength[strength$shown & !is.na(strength$estimate), ]
  shown <- shown[order(match(shown$measure, c("kappa", "phi", "gamma", "tau_b", "cramers_v"))), ]
  if (!nrow(shown)) return("")
  if (!full) shown <- shown[1L, ]
  figures <- vapply(seq_len(nrow(shown)), function(k) {
    direction <- if (shown$explains[k] == "both") "" else
      sprintf("%s explaining %s: ", f[[shown$explains[k]]]$label,
              f[[setdiff(c("down", "across"), shown$explains[k])]]$label)
    paste0(direction, strength_figures(shown[k, ], f$settings$alpha))
  }, "")
  sprintf("Strength: %s.", paste(figures, collapse = "; "))
}

# "Cramer's V = 0.31 (95 % interval 0.27 to 0.36)"
strength_figures <- function(row, alpha) {
  label <- measures[[match(row$measure, measure_name(names(measures)))]]$label
  interval <- if (is.na(row$low)) sprintf("no interval: %s", row$note %|NA|% "not given") else
    paste(c(sprintf("%s interval %s", format_level(alpha), format_interval(row$low, row$high, format_strength)),
            row$note[!is.na(row$note)]), collapse = "; ")
  sprintf("%s = %s (%s)", label, format_strength(row$estimate), interval)
}

# The strongest marked cells with their percentages: three, or all in full.
where_sentence <- function(cells, margin, settings, test, full) {
  marked <- cells[cells$mark != "", ]
  if (!nrow(marked)) {
    found <- !is.na(test$p) && test$p <= settings$alpha
    return(if (full && found)
           paste0("No single cell stands out after correction, which is no contradiction: the association is ",
                  "spread over many cells.") else "")
  }
  marked <- utils::head(marked[order(-abs(marked$adjusted_residual)), ], if (full) Inf else 3L)
  of <- settings$percent
  side <- if (of == "row") "across" else "down"
  parts <- sprintf("%s %s %s (%s %%%s)", marked$down, "\u00d7", marked$across,
                   format_percent(marked[[paste0(of, "_percent")]] / 100),
    if (of == "total") "" else
    sprintf(" against %s %% in all", format_percent(margin$percent[match(marked[[side]], margin$category)] / 100)))
  more <- marked$mark == "more"
  say <- function(which, words) if (any(which)) sprintf("%s: %s.", words, paste(parts[which], collapse = "; ")) else ""
  paste(c(say(more, "More than expected"), say(!more, "Fewer than expected"))[c(any(more), any(!more))], collapse = " ")
}

# What a test that found nothing could have found.
reach_sentence <- function(cautions) {
  text <- cautions$text[cautions$code == "not_significant"]
  if (length(text)) sentence_case(sub("^[^:]*: ", "", text[1L])) else ""
}

caution_sentence <- function(cautions, full) {
  told <- cautions[!cautions$code %in% c("no_test", "not_significant") & (full | cautions$severity != "note"), ]
  if (nrow(told)) paste("To be read with care:", paste(told$text, collapse = " ")) else ""
}
