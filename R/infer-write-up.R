#' The paragraph for the report
#'
#' What was compared and among whom, the test with its figures, the strength with its interval, and where it sits, in
#' sentences that can be pasted. A test that is not significant is "no evidence of", never "no difference".
#'
#' @param x (lattice) From [lattice()] or [read_lattice()].
#' @return (character) One paragraph a layer.
#' @export
#' @examples
#' cat(write_up(lattice(demo_records(), down = heating, across = island)))
write_up <- function(x) {
  check_class(x, "fairlattice_lattice", "x", "lattice()", environment())
  findings(x)$write_up
}

write_up_from <- function(f) {
  vapply(seq_len(nrow(f$layers)), function(k) {
    layer <- f$layers[k, ]
    of_layer <- function(data) data[is.na(layer$each) | data$each %in% layer$each, ]
    test <- with_headline(of_layer(f$tests))
    sentences <- c(
      who_sentence(f, layer), test_sentence(f, test),
      strength_sentence(of_layer(f$strength), f$settings),
      where_sentence(of_layer(f$cells), of_layer(f$margins[[other_side(f)]]), f$settings), caution_sentence(of_layer(f$cautions)))
    paste(sentences[nzchar(sentences)], collapse = " ")
  }, "")
}

# Column percentages are set against those of the row in the whole table, which stand in the margin of `down`.
other_side <- function(f) if (f$settings$percent == "row") "across" else "down"

who_sentence <- function(f, layer) {
  left <- sum(f$base$left_out$records)
  weighted <- !is.null(f$design$weight)
  design <- c(if (!is.null(f$design$stratum)) "strata", if (!is.null(f$design$cluster)) "clusters")
  sprintf("%s was compared by %s%s among %s respondents%s%s.", f$down$label, f$across$label,
          if (is.na(layer$each)) "" else sprintf(" within %s = %s", f$each$label, layer$each), format_count(layer$n),
          if (weighted) sprintf(" (weighted by %s; effective base %s%s)", f$design$weight, format_count(layer$effective),
                                if (length(design)) paste0("; sample design with ", paste(design, collapse = " and ")) else "")
          else if (length(design)) sprintf(" (sample design with %s)", paste(design, collapse = " and ")) else "",
          if (left) sprintf("; %s of %s records were left out", format_count(left), format_count(f$base$records)) else "")
}

test_sentence <- function(f, test) {
  if (is.na(test$p)) return(sprintf("No test could be made: %s.", test$note))
  figures <- test_figures(test)
  if (test$p <= f$settings$alpha) {
    sprintf("The two are associated more than chance would explain (%s).", figures)
  } else {
    sprintf("There is no evidence of an association (%s); this is not evidence that there is none.", figures)
  }
}

# What a test says, in words that claim no more than it does.
verdict <- function(test, alpha) {
  found <- test$p <= alpha
  if (startsWith(test$test, "symmetry")) return(if (found) "answers changed more often one way than the other" else "no evidence that answers changed more often one way than the other")
  if (found) "associated more than chance would explain" else "no evidence of an association"
}

# "Rao-Scott second order, F(7.2, 610.4) = 25.31, p < 0.001"
test_figures <- function(test) {
  if (is.na(test$statistic)) { # exact tests have a p-value only
    return(sprintf("%s, n = %s, %s%s", test_labels[[test$test]], format_count(test$base), format_p(test$p),
                   if (is.na(test$p_se)) "" else sprintf(" \u00b1 %s", format(1.96 * test$p_se, digits = 1L))))
  }
  statistic <- if (is.na(test$df_error)) {
    sprintf("%s(%s, n = %s)", if (grepl("likelihood", test$test)) "G\u00b2" else if (test$test == "linear_trend") "M\u00b2" else "X\u00b2", format_df(test$df), format_count(test$base))
  } else {
    sprintf("F(%s, %s)", format_df(test$df), format_df(test$df_error))
  }
  sprintf("%s, %s = %s, %s", test_labels[[test$test]], statistic, format_number(test$statistic), format_p(test$p))
}

strength_sentence <- function(strength, settings) {
  v <- strength[strength$measure == if (any(strength$measure == "phi")) "phi" else "cramers_v", ][1L, ]
  if (is.na(v$estimate)) return("")
  sprintf("Strength: %s.", strength_figures(v, settings$alpha))
}

# "Cramer's V = 0.31 (95 % interval 0.27 to 0.36)"
strength_figures <- function(row, alpha) {
  label <- measures[[match(row$measure, measure_name(names(measures)))]]$label
  interval <- if (is.na(row$low)) sprintf("no interval: %s", row$note %|NA|% "not given") else
    paste(c(sprintf("%s interval %s", format_level(alpha), format_interval(row$low, row$high, format_strength)), row$note[!is.na(row$note)]), collapse = "; ")
  sprintf("%s = %s (%s)", label, format_strength(row$estimate), interval)
}

# The strongest marked cells, at most three.
where_sentence <- function(cells, margin, settings) {
  marked <- cells[cells$mark != "", ]
  if (!nrow(marked)) return("")
  marked <- utils::head(marked[order(-abs(marked$adjusted_residual)), ], 3L)
  of <- settings$percent
  side <- if (of == "row") "across" else "down"
  parts <- sprintf("%s %s %s (%s %%%s)", marked$down, "\u00d7", marked$across, format_percent(marked[[paste0(of, "_percent")]] / 100),
    if (of == "total") "" else sprintf(" against %s %% in all", format_percent(margin$percent[match(marked[[side]], margin$category)] / 100)))
  more <- marked$mark == "more"
  say <- function(which, words) if (any(which)) sprintf("%s: %s.", words, paste(parts[which], collapse = "; ")) else ""
  paste(c(say(more, "More than expected"), say(!more, "Fewer than expected"))[c(any(more), any(!more))], collapse = " ")
}

caution_sentence <- function(cautions) {
  serious <- cautions[cautions$severity != "note" & !cautions$code %in% "no_test", ]
  if (nrow(serious)) paste("To be read with care:", paste(serious$text, collapse = " ")) else ""
}
