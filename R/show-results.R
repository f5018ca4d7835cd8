# Results in parts: each says what it found in words first, and then shows the
# figures. The same parts are drawn as text and go into pages and documents.
#
# A part is a sheet ("sheet"), text (`kind` "said"), columns of text under their
# names, of which some (the first so many) are labels to the `left` that may be
# `cut` where a line is too narrow ("columns"), or lines of a label and a text
# ("pairs").

said_part <- function(text, exdent = 0L) {
  if (length(text)) list(kind = "said", text = text, exdent = exdent)
}
gap_part <- list(kind = "said", text = "", exdent = 0L)
columns_part <- function(columns, left = 1L, indent = "", cut = TRUE) {
  if (is.numeric(left)) left <- seq_along(columns) <= left
  list(kind = "columns", columns = columns, left = left, indent = indent,
       cut = cut)
}
# The texts of a part's columns as a matrix.
part_texts <- function(part) {
  matrix(unlist(part$columns, use.names = FALSE), ncol = length(part$columns))
}

pairs_part <- function(labels, texts) {
  list(kind = "pairs", labels = labels, texts = texts)
}

# The parts of a result. `width` is how much room there is: some show figures as
# a list where a table is too wide.
parts_of <- function(x, width = Inf, ...) UseMethod("parts_of")

in_parts <- function(...) Filter(length, list(...))

#' @export
format.fairlattice_result <- function(x, width = cli::console_width(), ...) {
  plain_numbers()
  plain_text(text_of_parts(parts_of(x, width, ...), width))
}

text_of_parts <- function(parts, width) {
  unlist(lapply(parts, text_of_part, width = width))
}

text_of_part <- function(part, width) {
  switch(part$kind, sheet = text_sheet(part$sheet, width),
         said = if (identical(part$text, "")) "" else
           wrap_lines(part$text, width, part$exdent),
         columns = text_columns(part, width),
         pairs = unlist(Map(function(label, text) {
           wrapped <- wrap_lines(text, width - 18L)
           paste0("  ", pad(c(label, rep("", length(wrapped) - 1L)), 16L),
                  wrapped)
         }, part$labels, part$texts), use.names = FALSE))
}

#' @export
parts_of.fairlattice_residuals <- function(x, width = Inf, most = 15L, ...) {
  nothing_else(...)
  kind <- attr(x, "type", exact = TRUE) %||% "adjusted"
  reading <- attr(x, "reading", exact = TRUE)
  of_each <- unique(x$each)
  unlist(lapply(seq_along(of_each), function(k) {
    cells <- visible_in(as.data.frame(x)[x$each %in% of_each[k] & !is.na(x$expected), ])
    c(each_parts(of_each[k]),
      in_parts(said_part(if (length(reading)) reading[k]), gap_part),
      if (nrow(cells)) residuals_parts(cells, kind, most))
  }), recursive = FALSE)
}

# The answer of `each` over what is of it.
each_parts <- function(each) {
  if (!is.na(each)) in_parts(said_part(each), gap_part)
}

residuals_parts <- function(cells, kind, most) {
  residual <- residual_column[[kind]]
  cells <- cells[strongest_first(cells[[residual]]), ]
  shown <- utils::head(cells, most)
  columns <- list(ifelse(shown$mark == "", " ", mark_signs[shown$mark]),
                  paste(shown$down, "\u00d7", shown$across),
                  format_number(shown$observed, 1L),
                  format_number(shown$expected, 1L),
                  format_number(shown[[residual]]),
                  percent_words(shown$share_of_statistic, 0L),
                  bare_p(shown$p_corrected))
  names(columns) <- c(" ", name_of("column", c("cell", "observed", "expected")),
                      name_of("residual", kind),
                      name_of("column", c("share_of_statistic", "p_corrected")))
  critical <- cells$critical[1L]
  in_parts(columns_part(columns, left = 2L),
           said_part(if (nrow(cells) > most)
                       words("smaller_residuals", cells = nrow(cells) - most)),
           said_part(if (!is.na(critical))
                       words("marked_beyond",
                             residual = name_of("residual", kind),
                             critical = critical)), gap_part)
}

# Columns under their names and a rule; the longest labels give way where they
# are too wide.
text_columns <- function(part, width) {
  columns <- part$columns
  left <- part$left
  widths <- vapply(seq_along(columns), function(k) {
    max(text_width(c(names(columns)[k], columns[[k]])))
  }, 0L)
  over <- sum(widths + 2L) + nchar(part$indent) - width
  if (over > 0L && part$cut) {
    room <- sum(widths[left]) - over
    widths[left] <- pmin(widths[left],
                         pmax(16L,
                              as.integer(fitted_widths(widths[left], room))))
    columns[left] <- Map(shorten, columns[left], widths[left])
  }
  cells <- Map(function(name, column, width, k) {
    pad(c(name, column), width, if (left[k]) "left" else "right")
  }, names(columns), columns, widths, seq_along(columns))
  indent <- part$indent
  lines <-
    sub(" +$", "", paste0(indent, do.call(paste, c(unname(cells), sep = "  "))))
  rule <- strrep("\u2500",
                 min(width - nchar(indent),
                     max(text_width(lines)) - nchar(indent)))
  c(lines[1L], paste0(indent, rule), lines[-1L])
}

# Tests by their names, the headline first of its layer; why a test was taken,
# and what is to be said of one, below.
#' @export
parts_of.fairlattice_tests <- function(x, width = Inf, ...) {
  nothing_else(...)
  data <- visible_in(as.data.frame(x))
  column_or_na <- function(name) {
    if (is.null(data[[name]])) rep(NA, nrow(data)) else data[[name]]
  }
  name <- name_of("test", data$test)
  bare <- function(value, format) ifelse(is.na(value), "", format(value))
  each <- column_or_na("each")
  headline <- column_or_na("headline") %in% TRUE
  columns <- list(ifelse(is.na(each), "", each), name,
                  ifelse(headline, words("column.headline"), ""),
                  bare(data$statistic, format_number), bare(data$df, format_df),
                  bare(column_or_na("df_error"), format_df), bare_p(data$p),
                  bare_p(as.numeric(column_or_na("p_corrected"))),
                  bare(column_or_na("base"), format_count))
  names(columns) <- c("", words("column.test"), " ", words("column.statistic"),
                      "df", words("column.df_error"), "p",
                      words("column.p_corrected"), "n")
  kept <- vapply(columns, function(column) any(nzchar(column)), NA)
  said <- unlist(lapply(c("why", "note"), function(what) {
    text <- column_or_na(what)
    there <- !is.na(text)
    unique(words(paste0("test_", what), name = name[there], text = text[there]))
  }))
  if (!nrow(data)) return(in_parts(said_part(words("nothing_to_say"))))
  in_parts(columns_part(columns[kept], left = (seq_along(columns) <= 3L)[kept],
                        cut = FALSE), if (length(said)) gap_part,
           said_part(said, exdent = 2L))
}

#' @export
parts_of.fairlattice_strength <- function(x, width = Inf, ...) {
  nothing_else(...)
  data <- visible_in(as.data.frame(x))
  unlist(lapply(unique(data$each), function(each) {
    c(each_parts(each), strength_parts(data[data$each %in% each, ]),
      list(gap_part))
  }), recursive = FALSE)
}

strength_parts <- function(rows) {
  label <- name_of("measure", rows$measure)
  full <- label
  directed <- rows$explains != "both"
  full[directed] <- sprintf("%s, %s", label[directed],
                            name_of("explains", rows$explains[directed]))
  shown <- function(value) ifelse(is.na(value), "", format_strength(value))
  columns <- list(full, shown(rows$estimate), shown(rows$corrected),
                  shown(rows$se),
                  ifelse(is.na(rows$low), "",
                         interval_words(rows$low, rows$high, format_strength)),
                  bare_p(rows$p))
  names(columns) <- name_of("column", c("measure", "estimate", "corrected",
                                        "se", "interval", "p_zero"))
  if (all(is.na(rows$corrected))) columns[[3L]] <- NULL
  noted <- !is.na(rows$note)
  ways <- unique(stats::na.omit(rows$interval))
  notes <- c(sprintf("%s: %s.", sentence_case(full[noted]), rows$note[noted]),
             vapply(ways, function(way) {
               words("interval_of",
                     measures = unique(label[rows$interval %in% way]),
                     way = way)
             }, ""))
  meanings <- stats::na.omit(rows$meaning)
  in_parts(columns_part(columns), gap_part,
           said_part(unique(notes), exdent = 2L),
           if (length(meanings)) gap_part,
           said_part(if (length(meanings)) paste("\u2022", meanings),
                     exdent = 2L))
}

#' @export
parts_of.fairlattice_differences <- function(x, width = Inf, ...) {
  nothing_else(...)
  what <- attributes(x)
  small <- what$left_out
  rules <- c(words("pairs_rule", compare = what$compare, against = what$against,
                   question = what$labels[["within"]],
                   correction = what$correction, alpha = what$alpha),
             if (nrow(small))
               paste0(words("letters_small", limit = what$least_base,
                            answers = small$answer, n = small$base), "."),
             words("differences_in_points"),
             if (!is.null(x$p_equivalent))
               words("pairs_equivalent", margin = what$margin,
                     alpha = what$alpha, pairs = sum(!is.na(x$p_equivalent)),
                     found = sum(x$p_equivalent <= what$alpha, na.rm = TRUE)))
  parts <- lapply(what$layers, function(each) {
    rows <- visible_in(as.data.frame(x)[x$each %in% each, ])
    c(each_parts(each), list(differences_part(rows, what$compare)),
      list(gap_part))
  })
  c(unlist(parts, recursive = FALSE), in_parts(said_part(rules), gap_part))
}

differences_part <- function(rows, compare) {
  if (!nrow(rows))
    return(said_part(words("no_bases_to_compare", compare = compare)))
  found <- rows[rows$exceeds != "", ]
  if (!nrow(found))
    return(said_part(words("none_differs", compare = compare,
                           pairs = nrow(rows))))
  found <- found[order(-abs(found$z)), ]
  swap <- found$exceeds == "second"
  points <- function(v) format_number(100 * v, setting("digits"))
  columns <- list(found$within, ifelse(swap, found$second, found$first),
                  ifelse(swap, found$first, found$second),
                  paste(format_percent(pmax(
                    found$first_share,
                    found$second_share)), "/",
                        format_percent(pmin(
                          found$first_share,
                          found$second_share))), points(abs(found$difference)),
                  interval_words(points(ifelse(swap, -found$high, found$low)),
                                 points(ifelse(swap, -found$low, found$high)),
                                 identity), bare_p(found$p_corrected))
  names(columns) <- name_of("column",
                            c("within", "higher_in", "than_in", "shares",
                              "difference", "interval", "corrected"))
  columns_part(columns, left = 3L)
}

#' @export
parts_of.fairlattice_risks <- function(x, width = Inf, ...) {
  nothing_else(...)
  data <- visible_in(as.data.frame(x))
  keys <- unique(data[c("each", "compared", "reference", "outcome")])
  parts <- lapply(seq_len(nrow(keys)), function(k) {
    key <- keys[k, ]
    rows <- data[data$each %in% key$each & data$compared == key$compared, ]
    heading <- words("against", outcome = key$outcome, compared = key$compared,
                     reference = key$reference)
    in_parts(said_part(if (is.na(key$each)) heading else
                         paste0(key$each, ", ", heading)), risks_part(rows),
             gap_part)
  })
  c(unlist(parts, recursive = FALSE),
    in_parts(said_part(words("intervals_at", alpha = attr(x, "alpha"),
                             several = nrow(keys) > 1L)), gap_part))
}

risks_part <- function(rows) {
  get <- function(figure) rows[match(figure, rows$figure), ]
  if (is.na(get("share")$estimate))
    return(said_part(paste0("  ", rows$note[1L])))
  percent <- function(row) {
    words("with_interval", value = percent_words(row$estimate),
          low = format_percent(row$low), high = percent_words(row$high))
  }
  points <- function(v) format_number(100 * v, setting("digits"))
  plain <- function(name, digits = setting("digits_statistic")) {
    row <- get(name)
    value <- format_number(row$estimate, digits)
    if (is.na(row$estimate)) return(row$note)
    if (is.na(row$low))
      return(words("with_note", value = value,
                   note = row$note %|NA|% words("no_interval")))
    words("with_interval", value = value, low = format_number(row$low, digits),
          high = format_number(row$high, digits))
  }
  d <- get("difference")
  p <- vapply(c("p", "p_more", "p_fewer"), function(name) get(name)$estimate, 0)
  lines <- c(shares = words("shares_against", first = percent(get("share")),
                            second = percent(get("share_reference"))),
             difference = words("with_interval",
                                value = words(
                                  "points", value = points(d$estimate)),
                                low = points(d$low), high = points(d$high)),
             needed = plain("needed", 1L),
             relative_risk = plain("relative_risk"),
             odds_ratio = plain("odds_ratio"),
             log_odds_ratio = plain("log_odds_ratio"),
             odds_ratio_exact = plain("odds_ratio_exact"),
             test = if (is.na(p[1L])) get("z")$note else
               words("z_and_p", z = get("z")$estimate, p = p[[1L]],
                     more = p[[2L]], fewer = p[[3L]]))
  pairs_part(name_of("risk", names(lines)), lines)
}

#' @export
parts_of.fairlattice_detectable <- function(x, width = Inf, ...) {
  nothing_else(...)
  data <- visible_in(as.data.frame(x))
  lines <-
    vapply(seq_len(nrow(data)), function(k) detectable_words(data[k, ]), "")
  in_parts(said_part(lines, exdent = 2L), gap_part)
}

detectable_words <- function(row) {
  where <- if (is.na(row$each)) "" else paste0(row$each, ": ")
  if (is.na(row$smallest_v)) {
    return(paste0(where,
                  words("detectable_none",
                        reason = row$note %|NA|%
                          words("effects_undefined_sparse"))))
  }
  first <- words("detectable_table", r = row$r, c = row$c, n = row$n,
                 alpha = row$alpha, effect = row$design_effect)
  smallest <- words("detectable_smallest", v = row$smallest_v,
                    w = row$smallest_w, power = row$wanted_power)
  paste0(where, first, ": ",
         paste(c(paste0(smallest, "."),
                 words("detectable_power", v = row$v, power = row$power),
                 if (!is.na(row$n_needed))
                   words("detectable_needed", power = row$wanted_power,
                         v = row$v, n = row$n_needed),
                 if (!is.na(row$note)) sprintf("(%s)", row$note)),
               collapse = " "))
}

#' @export
format.fairlattice_pooled <- function(x, ...) format.fairlattice_result(x, ...)

#' @export
parts_of.fairlattice_pooled <- function(x, width = Inf, ...) {
  nothing_else(...)
  odds <- x$odds_ratios
  tests <- as.data.frame(x$tests)
  df <- ifelse(is.na(tests$df), "",
               ifelse(is.na(tests$df_error), format_df(tests$df),
                      paste(format_df(tests$df), format_df(tests$df_error),
                            sep = "; ")))
  names <- name_of("test", tests$test)
  none <- is.na(tests$statistic)
  columns <- function(names, ...) stats::setNames(list(...), names)
  intervals <-
    ifelse(is.na(odds$low), odds$note, interval_words(odds$low, odds$high))
  in_parts(
    said_part(words("pooled_title", title = x$title, each = x$labels[["each"]],
                    n = x$n)), gap_part,
    if (!is.null(odds))
      columns_part(columns(c(name_of("column", "odds_ratio"), "n",
                             name_of("column", c("estimate", "interval"))),
                           odds$each, format_count(odds$n),
                           format_number(odds$estimate), intervals)),
    if (!is.null(odds)) gap_part,
    columns_part(columns(c(name_of("column", c("test", "statistic")), "df",
                           "p"), names,
                         ifelse(none, "", format_number(tests$statistic)), df,
                         bare_p(tests$p))), gap_part,
    said_part(unique(sprintf("%s: %s", names[none], tests$note[none]))),
    said_part(if (x$by_design) words("pooled_by_design")),
    said_part(if (length(x$left_out))
                words("pooled_left_out", answers = x$left_out)),
    said_part(if (!is.null(x$reversal)) words("pooled_care", text = x$reversal),
              exdent = 6L), gap_part)
}

#' @export
print.fairlattice_pooled <- function(x, ...) {
  cat(format(x, ...), sep = "\n")
  invisible(x)
}

#' @export
parts_of.fairlattice_working <- function(x, width = Inf, ...) {
  nothing_else(...)
  data <- visible_in(as.data.frame(x))
  step_rows <- function(step) data[data$step == step, ]
  head <- in_parts(said_part(attr(x, "title")),
                   said_part(if (!is.na(attr(x, "each"))) attr(x, "each")),
                   gap_part)
  none <- attr(x, "note", exact = TRUE)
  if (!is.null(none))
    return(c(head,
             in_parts(said_part(words("no_test_sentence", reason = none)),
                      gap_part)))
  design <- step_rows("design_effect")
  p <- step_rows("p")
  ending <- c(words("working_statistic",
                    value = format_number(step_rows("statistic")$value, 4L)),
              words("working_df", how = step_rows("df")$how,
                    value = format_df(step_rows("df")$value)),
              if (nrow(design))
                words("working_design",
                      effect = format_number(design$value, 4L),
                      how = design$how, f = step_rows("f")$how,
                      value = format_number(step_rows("f")$value, 4L)),
              if (nrow(p))
                words("working_p", step = if (nrow(design)) 7L else 6L,
                      p = format_p(p$value), how = p$how))
  c(head,
    in_parts(
      said_part(words("working_observed", what = step_rows("observed")$how[1L])),
      working_grid(step_rows, "observed", width, totals = TRUE), gap_part,
      said_part(words("working_expected")),
      said_part(working_example(step_rows("expected"))),
      working_grid(step_rows, "expected", width), gap_part,
      said_part(words("working_contribution")),
      said_part(working_example(step_rows("contribution"))),
      working_grid(step_rows, "contribution", width), gap_part,
      said_part(ending, exdent = 3L), gap_part))
}

working_value <- function(v) {
  format_count(v,
               if (all(abs(v - round(v)) < 1e-9)) 0L else
                 setting("digits_statistic"))
}

working_example <- function(step) {
  words("working_example", down = step$down[1L], across = step$across[1L],
        how = step$how[1L], value = working_value(step$value[1L]))
}

# A step as a table, with its totals; as a list of cells where it is too wide.
working_grid <- function(of, step, width, totals = FALSE) {
  rows <- unique(of("observed")$down)
  columns <- unique(of("observed")$across)
  M <- matrix(of(step)$value, length(rows), length(columns))
  if (totals)
    M <- rbind(cbind(M, of("row_total")$value),
               c(of("column_total")$value, of("total")$value))
  text <- matrix(working_value(M), nrow(M))
  total <- if (totals) words("line.total")
  named <- stats::setNames(c(list(c(rows, total)),
                             lapply(seq_len(ncol(text)), function(j) {
                               text[, j]
                             })), c("", columns, total))
  wide <- sum(vapply(named, function(column) max(text_width(column)), 0L) +
                2L) + max(text_width(columns)) > width
  if (!wide) return(columns_part(named, indent = "  "))
  said_part(sprintf("%s \u00d7 %s: %s", of(step)$down, of(step)$across,
                    working_value(of(step)$value)))
}

# Any other result: its columns; words that make a line too long go under the
# figures.
#' @export
parts_of.fairlattice_result <- function(x, width = Inf, ...) {
  nothing_else(...)
  if (!nrow(x)) return(in_parts(said_part(words("nothing_to_say"))))
  data <- visible_in(as.data.frame(x))
  data <- data[!vapply(data, function(column) all(is.na(column)), NA)]
  text <- Map(finding_text, data, names(data))
  wordy <- intersect(c("why", "note"), names(text))
  widths <- vapply(names(text), function(name) {
    max(text_width(c(name, text[[name]])))
  }, 0L)
  long <- length(wordy) && (is.infinite(width) || sum(widths + 2L) - 2L > width)
  shown <- if (long) setdiff(names(data), wordy) else names(data)
  figures <- columns_part(text[shown],
                          left = !vapply(data[shown], is.numeric, NA),
                          cut = FALSE)
  if (!long) return(in_parts(figures))
  said <- unlist(lapply(seq_len(nrow(data)), function(k) {
    unlist(lapply(wordy, function(name) {
      if (nzchar(text[[name]][k]))
        sprintf("%s: %s", text[[1L]][k], text[[name]][k])
    }))
  }))
  in_parts(figures, gap_part, said_part(said, exdent = 2L))
}

# Every total with how sure it is; the pairs that differ below.
#' @export
parts_of.fairlattice_totals <- function(x, width = Inf, ...) {
  nothing_else(...)
  data <- visible_in(as.data.frame(x))
  all_pairs <- attr(x, "pairs", exact = TRUE)
  parts <- lapply(unique(data$each), function(each) {
    rows <- data[data$each %in% each, ]
    pairs <- all_pairs[all_pairs$each %in% each, ]
    c(each_parts(each), list(totals_part(rows), gap_part),
      if (NROW(pairs)) list(total_pairs_part(visible_in(pairs), x), gap_part))
  })
  c(unlist(parts, recursive = FALSE),
    in_parts(said_part(c(words("totals_rule", alpha = attr(x, "alpha")),
                         if (attr(x, "of_sample"))
                           paste0(words("totals_of_sample"), "."))), gap_part))
}

totals_part <- function(rows) {
  count <- function(v) ifelse(is.na(v), "", format_count(v))
  columns <- list(ifelse(is.na(rows$down), words("line.all"), rows$down),
                  rows$across,
                  format_count(rows$n), count(rows$total), count(rows$se),
                  ifelse(is.na(rows$low), "",
                         interval_words(rows$low, rows$high, format_count)),
                  ifelse(is.na(rows$cv), "", percent_words(rows$cv, 1L)),
                  ifelse(is.na(rows$deff), "", format_number(rows$deff)))
  names(columns) <- name_of("column", c("answer", "column", "n", "total", "se",
                                        "interval", "cv", "deff"))
  # of one question there are no columns to name
  if (all(rows$across == rows$across[1L])) columns[[2L]] <- NULL
  columns_part(columns, left = length(columns) - 6L)
}

total_pairs_part <- function(pairs, x) {
  found <- pairs[!is.na(pairs$p_corrected) &
                   pairs$p_corrected <= attr(x, "alpha"), ]
  if (!nrow(found))
    return(said_part(words("none_differs", compare = "columns",
                           pairs = nrow(pairs))))
  swap <- found$difference < 0
  columns <- list(ifelse(is.na(found$down), words("line.all"), found$down),
                  ifelse(swap, found$second, found$first),
                  ifelse(swap, found$first, found$second),
                  format_count(abs(found$difference)),
                  interval_words(ifelse(swap, -found$high, found$low),
                                 ifelse(swap, -found$low, found$high),
                                 format_count),
                  format_number(ifelse(swap, 1 / found$ratio, found$ratio)),
                  interval_words(ifelse(swap, 1 / found$ratio_high,
                                        found$ratio_low),
                                 ifelse(swap, 1 / found$ratio_low,
                                        found$ratio_high), format_number),
                  bare_p(found$p_corrected))
  names(columns) <- name_of("column", c("within", "higher_in", "than_in",
                                        "difference", "interval", "ratio",
                                        "interval", "corrected"))
  columns_part(columns, left = 3L)
}

#' @export
print.fairlattice_result <- function(x, ...) {
  cat(format(x, ...), sep = "\n")
  invisible(x)
}

#' @export
as.data.frame.fairlattice_result <- function(x, row.names = NULL,
                                             optional = FALSE, ...,
                                             stringsAsFactors = FALSE) {
  nothing_else(...)
  class(x) <- "data.frame"
  x
}

finding_text <- function(column, name) {
  if (!is.numeric(column))
    return(ifelse(is.na(column), "", as.character(column)))
  if (name %in% c("p", "p_corrected"))
    return(ifelse(is.na(column), "", sub("^ *= ", "", format_p(column, ""))))
  text <- if (name %in% c("n", "base", "records")) format_count(column) else
    if (name == "df") format_df(column) else
      format_number(column,
                    if (name %in%
                          c("estimate", "se", "low", "high", "share",
                            "share_of_statistic")) 3L else 2L)
  ifelse(is.na(column), "", text)
}

# Crude and standardised figures beside each other, and the columns that differ.
#' @export
parts_of.fairlattice_standardised <- function(x, width = Inf, ...) {
  nothing_else(...)
  data <- visible_in(as.data.frame(x))
  standard <- attr(x, "standard", exact = TRUE)
  odd <- attr(x, "undefined", exact = TRUE)
  left <- attr(x, "left_out", exact = TRUE)
  pairs <- attr(x, "pairs", exact = TRUE)
  said <- c(words("standardised_rule", by = attr(x, "by"), to = attr(x, "to"),
                  alpha = attr(x, "alpha"), classes = standard$class,
                  share = standard$share),
            if (NROW(odd)) words("standardised_undefined", across = odd$across,
                                 class = odd$class),
            if (left > 0) words("standardised_left_out", records = left,
                                by = attr(x, "by")))
  c(list(standardised_part(data), gap_part), in_parts(said_part(said), gap_part),
    if (NROW(pairs)) list(standardised_pairs_part(visible_in(pairs), x), gap_part))
}

standardised_part <- function(rows) {
  mean <- is.na(rows$down)
  figure <- function(v) {
    ifelse(is.na(v), "", ifelse(mean, format_number(v), format_percent(v)))
  }
  columns <- list(ifelse(mean, words("line.mean"), rows$down), rows$across,
                  format_count(rows$n), figure(rows$crude), figure(rows$standardised),
                  figure(rows$se),
                  ifelse(is.na(rows$low), "", interval_words(rows$low, rows$high, figure)))
  names(columns) <- name_of("column", c("answer", "column", "n", "crude", "standardised",
                                        "se", "interval"))
  columns_part(columns, left = 2L)
}

standardised_pairs_part <- function(pairs, x) {
  found <- pairs[!is.na(pairs$p_corrected) & pairs$p_corrected <= attr(x, "alpha"), ]
  if (!nrow(found))
    return(said_part(words("none_differs", compare = "columns", pairs = nrow(pairs))))
  swap <- found$difference < 0
  mean <- is.na(found$down)
  figure <- function(v) ifelse(mean, format_number(v), format_percent(v))
  columns <- list(ifelse(mean, words("line.mean"), found$down),
                  ifelse(swap, found$second, found$first),
                  ifelse(swap, found$first, found$second),
                  figure(abs(found$difference)),
                  interval_words(ifelse(swap, -found$high, found$low),
                                 ifelse(swap, -found$low, found$high), figure),
                  bare_p(found$p_corrected))
  names(columns) <- name_of("column", c("within", "higher_in", "than_in", "difference",
                                        "interval", "corrected"))
  columns_part(columns, left = 3L)
}

# ---- what else a number says ----

#' @export
parts_of.fairlattice_quantiles <- function(x, width = Inf, ...) {
  nothing_else(...)
  width <- attr(x, "class_width", exact = TRUE)
  c(number_parts(x, function(rows) {
    list(percent_of = format(rows$percent, trim = TRUE), value = format_number(rows$value))
  }, format_number),
  if (!is.null(width)) in_parts(said_part(words("grouped_rule", width = width)), gap_part))
}

#' @export
parts_of.fairlattice_inequality <- function(x, width = Inf, ...) {
  nothing_else(...)
  number_parts(x, function(rows) {
    top <- sub("^top_", "", rows$figure)
    list(figure = ifelse(rows$figure == "gini", words("gini"), words("held_by_top", top = top)),
         estimate = format_strength(rows$estimate), se = shown_if(rows$se, format_strength))
  }, format_strength)
}

#' @export
parts_of.fairlattice_ratios <- function(x, width = Inf, ...) {
  nothing_else(...)
  number_parts(x, function(rows) {
    list(ratio_of = format_number(rows$ratio), se = shown_if(rows$se, format_number))
  }, format_number)
}

shown_if <- function(v, format) ifelse(is.na(v), "", format(v))

# A column's name, its respondents, the figures that `of` gives, and their interval.
number_parts <- function(x, of, format) {
  data <- visible_in(as.data.frame(x))
  each <- data$each %||% rep(NA_character_, nrow(data))
  parts <- lapply(unique(each), function(one) {
    rows <- data[each %in% one, ]
    figures <- of(rows)
    columns <- c(list(rows$column, format_count(rows$n)), unname(figures),
                 list(ifelse(is.na(rows$low), "",
                             interval_words(rows$low, rows$high, format))))
    names(columns) <- name_of("column", c("column", "n", names(figures), "interval"))
    c(each_parts(one), list(columns_part(columns, left = 1L), gap_part))
  })
  c(unlist(parts, recursive = FALSE),
    in_parts(said_part(words("number_rule", label = attr(x, "label"),
                             alpha = attr(x, "alpha"))), gap_part))
}
