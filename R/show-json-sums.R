# Whether the numbers of a table that was read are those that were written, and
# agree with each other: parts add up to their sums, percentages are of their
# bases, residuals follow from the counts, and p-values from their statistics. A
# file in which one number was changed by hand, or damaged, is told by the
# digest of all its numbers, and where what it says of the same thing twice
# differs.

# `read` has the parts, facts and settings of the table, and `raw`, what stands
# in the file.
check_adds_up <- function(read, file, stop_table) {
  digest <- read$raw$digest
  if (!is.null(digest) &&
        !identical(digest, numbers_digest(read$raw[numbers_parts])))
    stop_table(tells("numbers_not_those_written", file),
               i = tells("changed_damaged_after_written_get"))
  for (looks_wrong in list(sums_wrong, percentages_wrong, precision_wrong,
                           residuals_wrong,
                           tests_wrong, strength_wrong)) {
    wrong <- looks_wrong(read$parts, read$facts, read$settings)
    if (length(wrong))
      stop_table(tells("does_not_add_up", file, wrong[1L]),
                 i = tells("changed_damaged_after_written_get"))
  }
}

# The parts of a table whose numbers its digest covers: SHA-256 of all of them
# with every digit, smallest first, so that another program may write them in
# any order.
numbers_parts <- c("base", "layers", "cells", "sums", "margins", "tests",
                   "strength", "items", "cautions")

numbers_digest <- function(parts) {
  cli::hash_sha256(numbers_text_kernel(parts))
}

# As many digits as bring the same number back. R's own reader is a last digit off
# now and then, where those of other programs are not.
full_digits <- function(x) whole_text_kernel(as.numeric(x))

# Numbers as the file has them have every digit; what was worked out another way
# agrees to the rounding of sums.
close_to <- function(x, y, within = 1e-6) {
  is.na(x) | is.na(y) | abs(x - y) <= within * pmax(1, abs(x), abs(y))
}

outside <- function(x, low, high) !is.na(x) & (x < low - 1e-9 | x > high + 1e-9)

# The layer of each row of a frame.
layer_of_rows <- function(rows, layers) {
  if (nrow(layers) == 1L && is.na(layers$each)) rep(1L, NROW(rows)) else
    match(rows$each, layers$each)
}

# Sums of cells are the margins, those of margins the layers; the records are in
# the table or left out.
sums_wrong <- function(parts, facts, settings) {
  base <- facts$base
  layers <- parts$layers
  counts <- c(parts$cells$n, layers$n, unlist(lapply(parts$margins, `[[`, "n")),
              base$left_out$records)
  # over imputed data sets a number of respondents is a mean
  parts_of <- facts$design$imputations %||% 1
  whole <- abs(counts * parts_of - round(counts * parts_of)) < 1e-6
  if (any(counts < 0 | !whole | parts_of == 1 & counts != round(counts), na.rm = TRUE))
    return(tells("number_respondents_not_whole_number"))
  if (any(c(parts$cells$weighted, layers$weighted) < 0, na.rm = TRUE))
    return(tells("weighted_number_below_0"))
  if (any(outside(layers$effective, 0, layers$n)) ||
        any(layers$df < 0, na.rm = TRUE))
    return(tells("effective_base_degrees_freedom_beyond"))
  known <- is.numeric(base$records) && is.numeric(base$used)
  if (known && base$records != base$used + sum(base$left_out$records))
    return(tells("records_table_those_left_out"))
  ticks <- several_answers(facts)
  c(base_wrong(base, layers), if (!ticks) margins_wrong(parts, facts),
    if (!is.null(parts$sums)) nets_wrong(parts, facts, ticks))
}

# Whether a respondent may stand in several cells.
several_answers <- function(facts) {
  facts$down$ticks || facts$across$ticks || facts$down$statements
}

# Of one table the base is told twice.
base_wrong <- function(base, layers) {
  if (nrow(layers) != 1L) return(NULL)
  told <-
    Filter(is.numeric, base[intersect(c("weighted", "effective"), names(base))])
  wrong <-
    names(Filter(Negate(isTRUE), Map(close_to, told, layers[names(told)])))
  if (length(wrong)) tells("base_not_of_table", list_some(wrong))
}

margins_wrong <- function(parts, facts) {
  layers <- parts$layers
  for (what in c("n", "weighted")) for (side in c("down", "across")) {
    margin <- parts$margins[[side]]
    in_cells <- rowsum(parts$cells[[what]],
                       paste(layer_of_rows(parts$cells, layers),
                             parts$cells[[side]], sep = "\r"))
    key <- paste(layer_of_rows(margin, layers), margin$category, sep = "\r")
    told <- key %in% rownames(in_cells)
    if (!all(close_to(in_cells[key[told], 1L], margin[[what]][told])))
      return(tells("cells_do_not_sum_totals", facts[[side]]$label))
    total <- rowsum(margin[[what]], layer_of_rows(margin, layers))
    if (!all(close_to(total[as.character(seq_len(nrow(layers))), 1L],
                      layers[[what]])))
      return(tells("totals_do_not_sum_base", facts[[side]]$label))
  }
}

# A line of nets or everybody is the sum of its answers.
nets_wrong <- function(parts, facts, ticks) {
  sums <- parts$sums
  line <-
    paste(sums$each, sums$down, sums$across, sums$down_net, sums$across_net)
  if (ticks || anyDuplicated(line)) return(NULL)
  members <- function(name, is_net, side) {
    if (is.na(name)) return(NULL)
    if (isTRUE(is_net)) facts[[side]]$nets[[name]] else name
  }
  at_layer <- layer_of_rows(sums, parts$layers)
  cells_layer <- layer_of_rows(parts$cells, parts$layers)
  fine <- vapply(seq_len(nrow(sums)), function(k) {
    down <- members(sums$down[k], sums$down_net[k], "down")
    across <- members(sums$across[k], sums$across_net[k], "across")
    own <- cells_layer == at_layer[k] &
           (is.null(down) | parts$cells$down %in% down) &
           (is.null(across) | parts$cells$across %in% across)
    all(close_to(sum(parts$cells$n[own]), sums$n[k]),
        close_to(sum(parts$cells$weighted[own]), sums$weighted[k]))
  }, NA)
  if (!all(fine)) tells("net_not_sum")
}

# Coefficients of variation are standard errors in percent of their figures; the
# interval of a total is as far below it as above, in ratios; design effects
# compare the variances with those of random samples.
precision_wrong <- function(parts, facts, settings) {
  for (rows in Filter(NROW, parts[c("cells", "sums")])) {
    for (figure in c("row", "column", "total", "weighted")) {
      value <- rows[[if (figure == "weighted") figure else
                       paste0(figure, "_percent")]]
      se <- rows[[paste0(figure, "_se")]]
      if (any(outside(se, 0, Inf)) ||
            !all(close_to(rows[[paste0(figure, "_cv")]], 100 * se / value)))
        return(tells("standard_error_not_cv", figure))
    }
    if (!all(close_to(rows$weighted_low * rows$weighted_high, rows$weighted^2)))
      return(tells("total_not_within_interval"))
  }
  cells <- parts$cells
  layer <- layer_of_rows(cells, parts$layers)
  base <- bases_of_rows(parts, cells, layer, "n")
  if (facts$down$statements) base$total <- NULL
  for (percent in names(base)) {
    share <- cells[[paste0(percent, "_percent")]] / 100
    effect <- (cells[[paste0(percent, "_se")]] / 100)^2 * base[[percent]] /
      (share * (1 - share))
    if (!all(close_to(effect, cells[[paste0(percent, "_deff")]])))
      return(tells("design_effect_not_variance", percent))
  }
  everybody <- parts$layers[layer, ]
  share <- cells$weighted / everybody$weighted
  effect <- cells$weighted_se^2 /
    (everybody$weighted^2 * share * (1 - share) / everybody$n)
  if (!facts$down$statements && !all(close_to(effect, cells$weighted_deff)))
    tells("design_effect_not_variance", "weighted")
}

# The bases of each cell's row, column and whole table.
bases_of_rows <- function(parts, cells, layer, what) {
  base <- function(side) {
    margin <- parts$margins[[side]]
    at <- match(paste(layer, cells[[side]]),
                paste(layer_of_rows(margin, parts$layers), margin$category))
    margin[[what]][at]
  }
  list(row = base("down"), column = base("across"),
       total = parts$layers[[what]][layer])
}

# Percentages are of their bases, lie in their intervals, and these between 0
# and 100.
percentages_wrong <- function(parts, facts, settings) {
  for (rows in Filter(NROW, parts[c("cells", "sums")])) {
    for (percent in c("row", "column", "total")) {
      share <- rows[[paste0(percent, "_percent")]]
      low <- rows[[paste0(percent, "_low")]]
      high <- rows[[paste0(percent, "_high")]]
      if (any(outside(c(share, low, high), 0, 100)) ||
          any(outside(share, low, high) & !is.na(low) & !is.na(high)))
        return(tells("percentage_lies_outside_interval", percent))
    }
  }
  cells <- parts$cells
  layer <- layer_of_rows(cells, parts$layers)
  bases <- bases_of_rows(parts, cells, layer, "weighted")
  if (facts$down$statements) bases$total <- NULL
  for (percent in names(bases)) {
    if (!all(close_to(cells[[paste0(percent, "_percent")]],
                      100 * cells$weighted / bases[[percent]])))
      return(tells("percentage_not_base", percent))
  }
  for (margin in if (!facts$down$statements) parts$margins) {
    total <- parts$layers$weighted[layer_of_rows(margin, parts$layers)]
    if (!all(close_to(margin$percent, 100 * margin$weighted / total)))
      return(tells("total_percentage_not_base"))
  }
  NULL
}

# Residuals and their p-values follow from the counts; marks from the residuals.
residuals_wrong <- function(parts, facts, settings) {
  cells <- parts$cells
  cells <- cells[!is.na(cells$expected), ]
  if (!nrow(cells)) return(NULL)
  layer <- layer_of_rows(cells, parts$layers)
  if (any(cells$expected < 0) ||
        any(outside(c(cells$p, cells$p_corrected, cells$share_of_statistic), 0,
                    1))) return(tells("expected_count_p_value_beyond"))
  if (!all(close_to(cells$pearson_residual,
                    cells$residual / sqrt(cells$expected), 1e-5)))
    return(tells("residual_does_not_follow_expected"))
  if (!all(close_to(cells$contribution, cells$pearson_residual^2, 1e-5)))
    return(tells("contribution_statistic_does_not_follow"))
  if (any(cells$p_corrected < cells$p * (1 - 1e-9), na.rm = TRUE))
    return(tells("corrected_p_value_below_plain"))
  signs <- !is.na(cells$adjusted_residual) &
           abs(cells$residual) > 1e-9 * pmax(1, cells$expected)
  if (any(sign(cells$adjusted_residual[signs]) != sign(cells$residual[signs])))
    return(tells("adjusted_residual_sign_another"))
  df <- parts$layers$df[layer]
  p <- suppressWarnings(2 *
                          stats::pt(-abs(cells$adjusted_residual),
                                    ifelse(is.na(df), Inf, df)))
  # exact p-values follow from the counts, not from the residuals
  p[is.na(parts$layers$critical[layer])] <- NA_real_
  if (!all(close_to(cells$p, p, 1e-7))) return(tells("cell_p_value_does_not"))
  if (any(marks_apart(cells, parts$layers$critical[layer]), na.rm = TRUE))
    return(tells("mark_does_not_follow_residual"))
  if (several_answers(facts)) return(NULL)
  shares <- rowsum(cells$contribution, layer)
  if (!all(close_to(cells$share_of_statistic,
                    cells$contribution / shares[as.character(layer), 1L],
                    1e-5))) return(tells("share_statistic_does_not_follow"))
  observed <-
    parts$layers$n[layer] * cells$weighted / parts$layers$weighted[layer]
  if (!settings$paired &&
        !all(close_to(cells$expected + cells$residual, observed, 1e-5)))
    return(tells("expected_count_residual_do_not"))
  NULL
}

# A mark that its residual does not bear out.
marks_apart <- function(cells, critical) {
  other_way <- (cells$mark == "more") != (cells$adjusted_residual > 0)
  too_small <- abs(cells$adjusted_residual) < critical * (1 - 1e-9)
  cells$mark %in% c("more", "fewer") & (other_way | too_small)
}

chi_square_tests <- c("pearson", "likelihood_ratio", "continuity_corrected",
                      "symmetry", "rao_scott_first", "rao_scott_second",
                      "rao_scott_corrected", "symmetry_rao_scott")

# p-values lie between 0 and 1 and follow from a chi-square or F statistic and
# its degrees of freedom.
tests_wrong <- function(parts, facts, settings) {
  for (test in parts$tests) {
    if (any(outside(test$p, 0, 1)) ||
          any(test$df < 0, test$df_error < 0, test$p_se < 0, na.rm = TRUE))
      return(tells("test_p_value_degrees_freedom"))
    if (test$test %in% chi_square_tests && !p_follows(test))
      return(tells("test_p_value_does_not"))
  }
  NULL
}

# Of a test that lacks one of its figures there is nothing to follow.
p_follows <- function(test) {
  if (anyNA(c(test$statistic, test$p, test$df))) return(TRUE)
  p <- suppressWarnings( # of negative ones there is none
    if (is.na(test$df_error))
      stats::pchisq(test$statistic, test$df, lower.tail = FALSE) else
      stats::pf(test$statistic, test$df, test$df_error, lower.tail = FALSE))
  test$statistic >= 0 && isTRUE(close_to(test$p, p, 1e-7)) &&
    !isTRUE(test$p > 0 && abs(log(test$p / p)) > 1e-5)
}

# Measures lie within their range, and are those of the counts where these say
# all that they need.
strength_wrong <- function(parts, facts, settings) {
  ticks <- several_answers(facts)
  for (row in parts$strength) {
    key <- if (row$measure %in% names(measures)) row$measure else
      paste(row$measure, row$explains, sep = "_")
    m <- measures[[key]]
    if (beyond_range(row, m$range %||% c(-Inf, Inf)))
      return(tells("measure_interval_beyond_range", row$measure))
    if (is.null(m) || is.na(row$estimate) || ticks ||
          row$measure == "cramers_v_corrected") next
    found <- measured_again(m, parts, row$each)
    if (!is.null(found) && !close_to(found, row$estimate, 1e-5))
      return(tells("measure_not_counts", row$measure))
  }
}

beyond_range <- function(row, range) {
  any(outside(c(row$estimate, row$low, row$high), range[1L], range[2L])) ||
    isTRUE(row$low > row$high) || isTRUE(row$se < 0) ||
    any(outside(row$p, 0, 1))
}

# A nominal measure of the weighted counts; others need scores, or the base of
# the test, which a file does not hold.
measured_again <- function(m, parts, each) {
  if (!identical(m$level, "nominal") || identical(m$only, "square"))
    return(NULL)
  k <- if (is.na(each)) 1L else match(each, parts$layers$each)
  cells <- parts$cells[layer_of_rows(parts$cells, parts$layers) == k, ]
  if (nrow(parts$layers) > 1L && is.na(each)) return(NULL)
  names <- lapply(cells[c("down", "across")], unique)
  P <- matrix(0, length(names$down), length(names$across))
  P[cbind(match(cells$down, names$down), match(cells$across, names$across))] <-
    cells$weighted
  P <- P[rowSums(P) > 0, colSums(P) > 0, drop = FALSE] / sum(P)
  found <- tryCatch(m$estimate(P, list()), error = function(e) NULL)
  if (length(found) == 1L && is.finite(found)) found
}
