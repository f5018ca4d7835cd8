# Results as text: each says what it found in words first, and then shows the figures.

#' @export
format.fairlattice_departures <- function(x, width = cli::console_width(), most = 15L, ...) {
  nothing_else(...)
  kind <- attr(x, "residual", exact = TRUE) %||% "adjusted"
  reading <- attr(x, "reading", exact = TRUE)
  of_each <- unique(x$each)
  plain_text(unlist(lapply(seq_along(of_each), function(k) {
    cells <- visible_in(as.data.frame(x)[x$each %in% of_each[k] & !is.na(x$expected), ])
    c(if (!is.na(of_each[k])) c(of_each[k], ""), if (length(reading)) wrap_lines(reading[k], width), "",
      if (nrow(cells)) departures_text(cells, kind, width, most))
  })))
}

departures_text <- function(cells, kind, width, most) {
  residual <- residual_column[[kind]]
  cells <- cells[order(-abs(cells[[residual]])), ]
  shown <- utils::head(cells, most)
  columns <- list(ifelse(shown$mark == "", " ", mark_signs[shown$mark]), paste(shown$down, "\u00d7", shown$across),
                  format_number(shown$observed, 1L), format_number(shown$expected, 1L),
                  format_number(shown[[residual]]), percent_words(shown$share_of_statistic, 0L),
                  bare_p(shown$p_corrected))
  names(columns) <- c(" ", name_of("column", c("cell", "observed", "expected")), name_of("residual", kind),
                      name_of("column", c("share_of_statistic", "p_corrected")))
  critical <- cells$critical[1L]
  c(text_columns(columns, left = 2L, width = width),
    if (nrow(cells) > most) words("smaller_residuals", cells = nrow(cells) - most),
    if (!is.na(critical)) words("marked_beyond", residual = name_of("residual", kind), critical = critical), "")
}

# Columns of text under their names, the first `left` of them to the left; a label too long for the width is cut.
text_columns <- function(columns, left = 1L, width = 80L, indent = "") {
  widths <- vapply(seq_along(columns), function(k) max(text_width(c(names(columns)[k], columns[[k]]))), 0L)
  over <- sum(widths + 2L) + nchar(indent) - width
  if (over > 0L) { # the longest label gives way
    k <- which.max(widths[seq_len(left)])
    widths[k] <- max(16L, widths[k] - over)
    columns[[k]] <- shorten(columns[[k]], widths[k])
  }
  cells <- Map(function(name, column, width, k) pad(c(name, column), width, if (k <= left) "left" else "right"),
               names(columns), columns, widths, seq_along(columns))
  lines <- sub(" +$", "", paste0(indent, do.call(paste, c(unname(cells), sep = "  "))))
  rule <- strrep("\u2500", min(width - nchar(indent), max(text_width(lines)) - nchar(indent)))
  c(lines[1L], paste0(indent, rule), lines[-1L])
}

#' @export
format.fairlattice_strength <- function(x, width = cli::console_width(), ...) {
  nothing_else(...)
  data <- visible_in(as.data.frame(x))
  plain_text(unlist(lapply(unique(data$each), function(each) {
    c(if (!is.na(each)) c(each, ""), strength_text(data[data$each %in% each, ], width), "")
  })))
}

strength_text <- function(rows, width) {
  label <- name_of("measure", rows$measure)
  sides <- c(across = "across explains down", down = "down explains across", both = "")[rows$explains]
  full <- ifelse(nzchar(sides), paste0(label, ", ", sides), label)
  shown <- function(value) ifelse(is.na(value), "", format_strength(value))
  columns <- list(full, shown(rows$estimate), shown(rows$se),
                  ifelse(is.na(rows$low), "", interval_words(rows$low, rows$high, format_strength)), bare_p(rows$p))
  names(columns) <- name_of("column", c("measure", "estimate", "se", "interval", "p_zero"))
  noted <- !is.na(rows$note)
  ways <- unique(stats::na.omit(rows$interval))
  notes <- c(sprintf("%s: %s.", sentence_case(full[noted]), rows$note[noted]),
             vapply(ways,
                    function(way) words("interval_of", measures = unique(label[rows$interval %in% way]), way = way),
                    ""))
  meanings <- stats::na.omit(rows$meaning)
  c(text_columns(columns, width = width), "", wrap_lines(unique(notes), width, exdent = 2L),
    if (length(meanings)) c("", wrap_lines(paste("\u2022", meanings), width, exdent = 2L)))
}

#' @export
format.fairlattice_differences <- function(x, width = cli::console_width(), ...) {
  nothing_else(...)
  what <- attributes(x)
  small <- what$left_out
  rules <- c(words("pairs_rule", compare = what$compare, against = what$against, question = what$labels[["within"]],
                   correction = what$correction, alpha = what$alpha),
             if (nrow(small)) paste0(words("letters_small", limit = what$least_base, answers = small$answer,
                                           n = small$base), "."),
             words("differences_in_points"))
  parts <- lapply(what$layers, function(each) {
    rows <- visible_in(as.data.frame(x)[x$each %in% each, ])
    c(if (!is.na(each)) c(each, ""), differences_text(rows, what$compare, width), "")
  })
  plain_text(c(unlist(parts), wrap_lines(rules, width), ""))
}

differences_text <- function(rows, compare, width) {
  if (!nrow(rows)) return(words("no_bases_to_compare", compare = compare))
  found <- rows[rows$exceeds != "", ]
  if (!nrow(found)) return(words("none_differs", compare = compare, pairs = nrow(rows)))
  found <- found[order(-abs(found$z)), ]
  swap <- found$exceeds == "second"
  points <- function(v) format_number(100 * v, setting("digits"))
  columns <- list(found$within, ifelse(swap, found$second, found$first), ifelse(swap, found$first, found$second),
                  paste(format_percent(pmax(found$first_share, found$second_share)), "/",
                        format_percent(pmin(found$first_share, found$second_share))),
                  points(abs(found$difference)),
                  interval_words(points(ifelse(swap, -found$high, found$low)),
                                 points(ifelse(swap, -found$low, found$high)), identity), bare_p(found$p_corrected))
  names(columns) <- name_of("column", c("within", "higher_in", "than_in", "shares", "difference", "interval",
                                        "corrected"))
  text_columns(columns, left = 3L, width = width)
}

#' @export
format.fairlattice_risks <- function(x, width = cli::console_width(), ...) {
  nothing_else(...)
  data <- visible_in(as.data.frame(x))
  keys <- unique(data[c("each", "compared", "reference", "outcome")])
  parts <- lapply(seq_len(nrow(keys)), function(k) {
    key <- keys[k, ]
    rows <- data[data$each %in% key$each & data$compared == key$compared, ]
    heading <- words("against", outcome = key$outcome, compared = key$compared, reference = key$reference)
    c(if (is.na(key$each)) heading else paste0(key$each, ", ", heading), risks_text(rows, width), "")
  })
  plain_text(c(unlist(parts), wrap_lines(words("intervals_at", alpha = attr(x, "alpha"), several = nrow(keys) > 1L),
                                         width), ""))
}

risks_text <- function(rows, width) {
  get <- function(figure) rows[match(figure, rows$figure), ]
  if (is.na(get("share")$estimate)) return(paste0("  ", rows$note[1L]))
  percent <- function(row) {
    words("with_interval", value = percent_words(row$estimate), low = format_percent(row$low),
          high = percent_words(row$high))
  }
  points <- function(v) format_number(100 * v, setting("digits"))
  plain <- function(name, digits = setting("digits_statistic")) {
    row <- get(name)
    value <- format_number(row$estimate, digits)
    if (is.na(row$estimate)) return(row$note)
    if (is.na(row$low)) return(words("with_note", value = value, note = row$note %|NA|% words("no_interval")))
    words("with_interval", value = value, low = format_number(row$low, digits), high = format_number(row$high, digits))
  }
  d <- get("difference")
  p <- vapply(c("p", "p_more", "p_fewer"), function(name) get(name)$estimate, 0)
  lines <- c(shares = words("shares_against", first = percent(get("share")), second = percent(get("share_reference"))),
             difference = words("with_interval", value = words("points", value = points(d$estimate)),
                                low = points(d$low), high = points(d$high)),
             needed = plain("needed", 1L), relative_risk = plain("relative_risk"), odds_ratio = plain("odds_ratio"),
             log_odds_ratio = plain("log_odds_ratio"), odds_ratio_exact = plain("odds_ratio_exact"),
             test = if (is.na(p[1L])) get("z")$note else
               words("z_and_p", z = get("z")$estimate, p = p[[1L]], more = p[[2L]], fewer = p[[3L]]))
  labels <- name_of("risk", names(lines))
  unlist(Map(function(label, line) {
    wrapped <- wrap_lines(line, width - 18L)
    paste0("  ", pad(c(label, rep("", length(wrapped) - 1L)), 16L), wrapped)
  }, labels, lines), use.names = FALSE)
}

#' @export
format.fairlattice_detectable <- function(x, width = cli::console_width(), ...) {
  nothing_else(...)
  data <- visible_in(as.data.frame(x))
  lines <- vapply(seq_len(nrow(data)), function(k) detectable_words(data[k, ]), "")
  plain_text(c(wrap_lines(lines, width, exdent = 2L), ""))
}

detectable_words <- function(row) {
  where <- if (is.na(row$each)) "" else paste0(row$each, ": ")
  if (is.na(row$smallest_v)) {
    return(paste0(where, words("detectable_none", reason = row$note %|NA|% words("effects_undefined_sparse"))))
  }
  first <- words("detectable_table", r = row$r, c = row$c, n = row$n, alpha = row$alpha, effect = row$design_effect)
  smallest <- words("detectable_smallest", v = row$smallest_v, w = row$smallest_w, power = row$wanted_power)
  paste0(where, first, ": ", paste(c(paste0(smallest, "."),
                                     words("detectable_power", v = row$v, power = row$power),
                                     if (!is.na(row$n_needed)) words("detectable_needed", power = row$wanted_power,
                                                                     v = row$v, n = row$n_needed),
                                     if (!is.na(row$note)) sprintf("(%s)", row$note)), collapse = " "))
}

#' @export
format.fairlattice_pooled <- function(x, width = cli::console_width(), ...) {
  nothing_else(...)
  odds <- x$odds_ratios
  tests <- as.data.frame(x$tests)
  df <- ifelse(is.na(tests$df), "", ifelse(is.na(tests$df_error), format_df(tests$df),
                                          paste(format_df(tests$df), format_df(tests$df_error), sep = "; ")))
  names <- name_of("test", tests$test)
  none <- is.na(tests$statistic)
  columns <- function(names, ...) stats::setNames(list(...), names)
  plain_text(c(
    wrap_lines(words("pooled_title", title = x$title, each = x$labels[["each"]], n = x$n), width), "",
    if (!is.null(odds))
      c(text_columns(columns(c(name_of("column", "odds_ratio"), "n", name_of("column", c("estimate", "interval"))),
                             odds$each, format_count(odds$n), format_number(odds$estimate),
                             ifelse(is.na(odds$low), odds$note, interval_words(odds$low, odds$high))), width = width),
        ""),
    text_columns(columns(c(name_of("column", c("test", "statistic")), "df", "p"), names,
                         ifelse(none, "", format_number(tests$statistic)), df, bare_p(tests$p)), width = width), "",
    wrap_lines(unique(sprintf("%s: %s", names[none], tests$note[none])), width),
    if (x$by_design) wrap_lines(words("pooled_by_design"), width),
    if (length(x$left_out)) wrap_lines(words("pooled_left_out", answers = x$left_out), width),
    if (!is.null(x$reversal)) wrap_lines(words("pooled_care", text = x$reversal), width, exdent = 6L), ""))
}

#' @export
print.fairlattice_pooled <- function(x, ...) {
  cat(format(x, ...), sep = "\n")
  invisible(x)
}

#' @export
format.fairlattice_working <- function(x, width = cli::console_width(), ...) {
  nothing_else(...)
  data <- visible_in(as.data.frame(x))
  of <- function(step) data[data$step == step, ]
  head <- c(wrap_lines(attr(x, "title"), width), if (!is.na(attr(x, "each"))) attr(x, "each"), "")
  none <- attr(x, "note", exact = TRUE)
  if (!is.null(none)) return(plain_text(c(head, words("no_test_sentence", reason = none), "")))
  design <- of("design_effect")
  p <- of("p")
  ending <- c(words("working_statistic", value = format_number(of("statistic")$value, 4L)),
              words("working_df", how = of("df")$how, value = format_df(of("df")$value)),
              if (nrow(design)) words("working_design", effect = format_number(design$value, 4L), how = design$how,
                                      f = of("f")$how, value = format_number(of("f")$value, 4L)),
              if (nrow(p)) words("working_p", step = if (nrow(design)) 7L else 6L, p = format_p(p$value), how = p$how))
  plain_text(c(
    head, wrap_lines(words("working_observed", what = of("observed")$how[1L]), width),
    working_grid(of, "observed", width, totals = TRUE), "", wrap_lines(words("working_expected"), width),
    wrap_lines(working_example(of("expected")), width), working_grid(of, "expected", width), "",
    wrap_lines(words("working_contribution"), width), wrap_lines(working_example(of("contribution")), width),
    working_grid(of, "contribution", width), "", wrap_lines(ending, width, exdent = 3L), ""))
}

working_value <- function(v) format_count(v, if (all(abs(v - round(v)) < 1e-9)) 0L else setting("digits_statistic"))

working_example <- function(step) {
  words("working_example", down = step$down[1L], across = step$across[1L], how = step$how[1L],
        value = working_value(step$value[1L]))
}

# A step as a table, with its totals; as a list of cells where it is too wide.
working_grid <- function(of, step, width, totals = FALSE) {
  rows <- unique(of("observed")$down)
  columns <- unique(of("observed")$across)
  M <- matrix(of(step)$value, length(rows), length(columns))
  if (totals) M <- rbind(cbind(M, of("row_total")$value), c(of("column_total")$value, of("total")$value))
  text <- matrix(working_value(M), nrow(M))
  total <- if (totals) words("line.total")
  named <- stats::setNames(c(list(c(rows, total)), lapply(seq_len(ncol(text)), function(j) text[, j])),
                           c("", columns, total))
  wide <- sum(vapply(named, function(column) max(text_width(column)), 0L) + 2L) + max(text_width(columns)) > width
  if (!wide) return(text_columns(named, width = width, indent = "  "))
  wrap_lines(sprintf("%s \u00d7 %s: %s", of(step)$down, of(step)$across, working_value(of(step)$value)), width)
}

# The table with letters in place of marks.
letters_text <- function(x, width = cli::console_width()) {
  format(lay_out(x, marks = "letters", lines = "none"), width = width)
}
