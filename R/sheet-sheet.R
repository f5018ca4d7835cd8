# The sheet: a table laid out, with no format in it. Writers draw it and compute nothing.
#
# title, subtitle text; each, layer: the answer of `each`, alone and with its question corner, spanner labels over the
# stub and over the columns stub, columns data frames: label, role ("answer", "all", "total", "base") value, kind,
# mark, peak matrices: the number, what kind of number ("percent", "count", "weighted"), "more"/"fewer"/"", largest of
# its line key, tests, strength, reference, cautions, notes, account lines of text that go under the table

# One sheet a layer.
sheets_of <- function(x) sheets_from(findings(x))

sheets_from <- function(f) {
  lapply(seq_len(nrow(f$layers)), function(k) layer_sheet(f, k))
}

layer_sheet <- function(f, k) {
  layer <- f$layers[k, ]
  of_layer <- function(data, whole = FALSE) {
    data[if (is.na(layer$each)) rep(TRUE, nrow(data)) else data$each %in% c(layer$each, if (whole) NA), , drop = FALSE]
  }
  cells <- of_layer(f$cells)
  down <- of_layer(f$margins$down)
  across <- of_layer(f$margins$across)
  test <- with_headline(of_layer(f$tests))
  grid <- layout_for(f$settings$percent, cells, down, across, layer, !is.null(f$design$weight),
                     c(down = f$down$ticks, across = f$across$ticks))
  weight <- f$design$weight
  c(list(title = f$title, each = layer$each,
         layer = if (!is.na(layer$each)) sprintf("%s: %s", f$each$label, layer$each),
         subtitle = paste0(base_words(f), if (!is.null(weight)) sprintf(", weighted by %s", weight)),
         corner = f$down$label, spanner = f$across$label),
    grid, list(peak = peaks_in(f, grid)),
    list(key = c(key_line(f, layer, cells, test),
                 if (isTRUE(f$settings$peaks))
                 sprintf("^ the largest percentage of its %s", if (f$settings$percent == "row") "row" else "column")),
                 tests = c(sentence_case(test_line(f, test)), trend_line(f, of_layer(f$tests))),
         strength = c(strength_line(f, of_layer(f$strength)), if (!is.null(f$items)) item_lines(f, of_layer(f$items))),
         reference = reference_line(f, of_layer(f$tests)),
         # what is true of the whole is said once, with the first layer
         cautions = of_layer(f$cautions, whole = k == 1L)[c("code", "severity", "text")],
         notes = history_lines(f), account = account_line(f, layer)))
}

# Which cells hold the largest percentage of their column (of their row, with row percentages).
peaks_in <- function(f, grid) {
  peak <- matrix(FALSE, nrow(grid$value), ncol(grid$value))
  if (!isTRUE(f$settings$peaks)) return(peak)
  rows <- grid$stub$role == "answer"
  columns <- grid$columns$role == "answer"
  shares <- grid$value[rows, columns, drop = FALSE]
  by <- if (f$settings$percent == "row") 1L else 2L
  most <- apply(shares, by, function(v) if (all(is.na(v))) NA else max(v, na.rm = TRUE))
  peak[rows, columns] <- !is.na(shares) & shares == if (by == 1L) most else rep(most, each = nrow(shares))
  peak
}

# What was done to the questions before they were tabulated.
history_lines <- function(f) {
  unlist(lapply(f[c("down", "across", "each")], function(question) {
    if (length(question$history)) sprintf("%s: %s", question$label, paste(question$history, collapse = "; "))
  }), use.names = FALSE)
}

base_words <- function(f) {
  switch(f$settings$percent,
         column = sprintf("Column percentages: of each %s %s", if (f$across$ticks) "item ticked in" else "answer to",
                          f$across$label),
         row = sprintf("Row percentages: of each %s %s", if (f$down$ticks) "item ticked in" else "answer to",
                       f$down$label),
         total = "Percentages of everybody in the table")
}

# Where percentages, totals and bases stand, for each base of the percentages. Ticks do not add up to a total of 100.
layout_for <- function(percent, cells, down, across, layer, weighted, ticks) {
  r <- nrow(down)
  k <- nrow(across)
  shares <- matrix(cells[[paste0(percent, "_percent")]], r, k)
  marks <- matrix(cells$mark, r, k)
  bases <- function(margin, all) {
    rbind(c(margin$n, all$n), if (weighted) c(margin$weighted, all$weighted))
  }
  base_names <- c("Respondents", if (weighted) "Weighted base")
  hundred <- function(margin) ifelse(margin$n > 0, 100, NA)
  kinds <- function(percents) c(rep("percent", percents), "count", if (weighted) "weighted")
  if (percent == "row") {
    total <- if (!ticks[["across"]]) c(hundred(down), 100)
    value <- cbind(rbind(shares, across$percent), total, t(bases(down, layer)))
    stub <- named_lines(down$category, all = "All")
    columns <- named_lines(across$category, if (!is.null(total)) "Total", base_names)
    kind <- matrix(rep(kinds(k + !is.null(total)), each = r + 1L), nrow = r + 1L)
  } else {
    of_all <- percent == "total"
    total <- if (of_all) c(across$percent, 100) else if (!ticks[["down"]]) c(hundred(across), 100)
    value <- rbind(cbind(shares, down$percent), total, bases(across, layer))
    stub <- named_lines(down$category, if (!of_all && !is.null(total)) "Total", base_names, if (of_all) "All")
    columns <- named_lines(across$category, all = "All")
    kind <- matrix(rep(kinds(r + !is.null(total)), k + 1L), ncol = k + 1L)
  }
  mark <- matrix("", nrow(value), ncol(value))
  mark[seq_len(r), seq_len(k)] <- marks
  list(stub = stub, columns = columns, value = unname(value), kind = kind, mark = mark)
}

named_lines <- function(answers, total = NULL, bases = NULL, all = NULL) {
  data.frame(label = c(answers, all, total, bases),
             role = rep(c("answer", "all", "total", "base"),
                        c(length(answers), length(all), length(total), length(bases))))
}

# The text of every cell of a sheet: percentages as shares, bases as counts, nothing where there is nothing.
sheet_text <- function(sheet) {
  text <- format_percent(sheet$value / 100)
  text[sheet$kind == "count"] <- format_count(sheet$value[sheet$kind == "count"])
  weighted <- sheet$kind == "weighted"
  # a decimal only where a base is small enough for it to matter
  text[weighted] <- format_count(sheet$value[weighted], if (any(sheet$value[weighted] < 100)) 1L else 0L)
  text[is.na(sheet$value)] <- "\u2013"
  matrix(text, nrow(sheet$value))
}

mark_signs <- c(more = "+", fewer = "\u2212")

key_line <- function(f, layer, cells, test) {
  if (is.na(layer$critical)) return(NULL)
  answers <- c(length(unique(cells$down[!is.na(cells$p)])), length(unique(cells$across[!is.na(cells$p)])))
  ticked <- f$down$ticks || f$across$ticks
  size <- if (ticked) sum(!is.na(cells$p)) else sum(distinct_cells(answers))
  rule <- sprintf("adjusted residual beyond \u00b1%s, %s over %d %s, level %s", format_number(layer$critical),
                  corrections[[f$settings$correction]], size, plural(size, "cell"), format_alpha(f$settings$alpha))
  if (any(cells$mark != "")) {
    return(sprintf("+ more, %s fewer respondents than expected if the two were unrelated (%s)", mark_signs[["fewer"]],
                   rule))
  }
  if (!is.na(test$p) && test$p <= f$settings$alpha) {
    return(sprintf(paste0("No single cell is marked (%s): the association is spread over many of them, which is no ",
                          "contradiction"), rule))
  }
  sprintf("No cell departs from what is expected if the two were unrelated (%s)", rule)
}

test_line <- function(f, test) {
  if (is.na(test$p)) return(sprintf("no test: %s", test$note))
  words <- verdict(test, f$settings$alpha)
  note <- if (is.na(test$note) || test$test %in% c("exact", "symmetry_exact")) "" else sprintf(" (%s)", test$note)
  sprintf("%s: %s%s", words, test_figures(test), note)
}

# Of two ordered questions the trend stands beside the headline.
trend_line <- function(f, tests) {
  trend <- trend_beside(f, tests)
  if (is.null(trend)) return(NULL)
  sprintf("%s: %s (%s)", if (trend$p <= f$settings$alpha) "Linear trend" else "No evidence of a linear trend",
          bare_trend(trend), trend$note)
}

# Each item of a tick-all question by itself.
item_lines <- function(f, items) {
  name <- ifelse(is.na(items$by), items$item, sprintf("%s by %s", items$item, items$by))
  figures <- sprintf("%s (corrected %s), V = %s (%s to %s)", format_p(items$p),
                     sub("^p +(= )?", "", format_p(items$p_corrected)), format_strength(items$cramers_v),
                     format_strength(items$low), format_strength(items$high))
  sprintf("%s: %s", name, ifelse(is.na(items$p), items$note, figures))
}

# The plain statistic of a weighted or designed table stands there for reference, and says so.
reference_line <- function(f, tests) {
  plain <- tests[tests$test %in% c("pearson", "symmetry") & !tests$headline &
                 grepl("reference only", tests$note, fixed = TRUE), ]
  if (!nrow(plain)) return(NULL)
  weighted <- !is.null(f$design$weight) || !is.null(f$design$replicates)
  sprintf("For reference only (%ssample design ignored): %s", if (weighted) "weighted percentages, " else "",
          test_figures(plain[1L, ]))
}

# The measures shown first, with their direction.
strength_line <- function(f, strength) {
  chosen <- strength[strength$shown & !is.na(strength$estimate), ]
  chosen <- chosen[order(match(chosen$measure, c("kappa", "phi", "gamma", "tau_b"))), ]
  vapply(seq_len(nrow(chosen)), function(k) {
    direction <- if (chosen$explains[k] == "both") "" else sprintf("%s explaining %s; ", f[[chosen$explains[k]]]$label,
                                                                   f[[setdiff(c("down", "across"),
                                                                              chosen$explains[k])]]$label)
    sentence_case(sub("(", paste0("(", direction), strength_figures(chosen[k, ], f$settings$alpha), fixed = TRUE))
  }, "")
}

account_line <- function(f, layer) {
  left <- f$base$left_out
  here <- if (is.na(layer$each)) "" else sprintf("%s respondents in this table. ", format_count(layer$n))
  reasons <- sprintf("%s %s", format_count(left$records), left$reason)
  where <- if (is.na(layer$each)) "table" else "tables"
  # of a table of counts, and of records that stand for several respondents each, both numbers are said
  standing <- if (is.null(f$base$respondents)) "" else
    sprintf(" (standing for %s %s)", format_count(f$base$respondents), plural(f$base$respondents, "respondent"))
  account <- if (!is.null(f$base$cells)) {
    sprintf("%s %s counted in %s %s%s", format_count(f$base$respondents), plural(f$base$respondents, "respondent"),
            format_count(f$base$cells),
            plural(f$base$cells, "cell"),
            if (length(f$base$set_aside))
            sprintf("; set aside as totals: %s", paste(f$base$set_aside, collapse = "; ")) else "")
  } else if (nrow(left)) {
    sprintf("%s records read = %s in the %s%s + %s left out: %s", format_count(f$base$records),
            format_count(f$base$used), where, standing,
            format_count(sum(left$records)), paste(reasons, collapse = "; "))
  } else {
    sprintf("%s %s read, all in the %s%s", format_count(f$base$records), plural(f$base$records, "record"), where,
            standing)
  }
  blank <- as.numeric(f$source$blank_lines %||% 0)
  if (blank > 0) account <- sprintf("%s; %s blank %s of the file", account, format_count(blank), plural(blank, "line"))
  unequal <- if (is.null(f$design$weight) || is.na(layer$effective)) "" else
    sprintf(" (effective base %s)", format_count(layer$effective))
  paste0(here, account, unequal)
}
