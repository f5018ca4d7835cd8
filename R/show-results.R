# Results as text: each says what it found in words first, and then shows the figures.

#' @export
format.fairlattice_departures <- function(x, width = cli::console_width(), most = 15L, ...) {
  nothing_else(...)
  tests <- attr(x, "tests")
  kind <- attr(x, "residual", exact = TRUE) %||% "adjusted"
  residual <- c(adjusted = "adjusted_residual", pearson = "pearson_residual", raw = "residual")[[kind]]
  parts <- lapply(unique(x$each), function(each) {
    cells <- visible_in(as.data.frame(x)[x$each %in% each & !is.na(x$expected), ])
    cells <- cells[order(-abs(cells[[residual]])), ]
    shown <- utils::head(cells, most)
    lines <- c(if (!is.na(each)) c(each, ""),
               if (!is.null(tests))
               wrap_lines(reading_of(as.data.frame(x)[x$each %in% each, ], tests[tests$each %in% each, ],
                                     attr(x, "alpha"), 6, residual), width), "")
    if (!nrow(cells)) return(lines)
    columns <- list(
      " " = ifelse(shown$mark == "", " ", mark_signs[shown$mark]), Cell = paste(shown$down, "\u00d7", shown$across),
      observed = format_number(shown$observed, 1L), expected = format_number(shown$expected, 1L),
      residual = format_number(shown[[residual]]),
      "share of X\u00b2" = paste(format_percent(shown$share_of_statistic, 0L), "%"),
      "p, corrected" = bare_p(shown$p_corrected))
    names(columns)[5L] <- kind
    c(lines, text_columns(columns, left = 2L, width = width),
      if (nrow(cells) > most) sprintf("and %d cells with smaller residuals", nrow(cells) - most),
      if (!is.na(cells$critical[1L]))
      sprintf("Marked: %s residual beyond \u00b1%s.", if (kind == "pearson") "Pearson" else kind,
              format_number(cells$critical[1L])), "")
  })
  plain_text(unlist(parts))
}

# "0.013", "< 0.001": p without its name.
bare_p <- function(p) ifelse(is.na(p), "", sub("^= ", "", trimws(format_p(p, ""))))

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
  c(lines[1L], paste0(indent, strrep("\u2500", min(width - nchar(indent), max(text_width(lines)) - nchar(indent)))),
    lines[-1L])
}

#' @export
format.fairlattice_strength <- function(x, width = cli::console_width(), ...) {
  nothing_else(...)
  data <- visible_in(as.data.frame(x))
  parts <- lapply(unique(data$each), function(each) {
    rows <- data[data$each %in% each, ]
    label <- vapply(rows$measure, function(m) measures[[match(m, measure_name(names(measures)))]]$label, "")
    direction <- c(across = "across explains down", down = "down explains across", both = "")[rows$explains]
    lines <- text_columns(list(Measure = ifelse(nzchar(direction), paste0(label, ", ", direction), label),
                               estimate = ifelse(is.na(rows$estimate), "", format_strength(rows$estimate)),
                      se = ifelse(is.na(rows$se), "", format_strength(rows$se)),
                      interval = ifelse(is.na(rows$low), "", format_interval(rows$low, rows$high, format_strength)),
                      "p (zero)" = bare_p(rows$p)), width = width)
    full <- ifelse(nzchar(direction), paste0(label, ", ", direction), label)
    ways <- unique(stats::na.omit(rows$interval))
    notes <- c(ifelse(is.na(rows$note), NA, paste0(sentence_case(full), ": ", rows$note, ".")),
               vapply(ways,
                      function(way) sprintf("Interval of %s: %s.",
                                            paste(unique(label[rows$interval %in% way]), collapse = ", "), way), ""))
    notes <- unique(stats::na.omit(notes))
    meanings <- stats::na.omit(rows$meaning)
    c(if (!is.na(each)) c(each, ""), lines, "", wrap_lines(notes, width, exdent = 2L),
      if (length(meanings)) c("", wrap_lines(paste("\u2022", meanings), width, exdent = 2L)), "")
  })
  plain_text(unlist(parts))
}

#' @export
format.fairlattice_differences <- function(x, width = cli::console_width(), ...) {
  nothing_else(...)
  what <- attributes(x)
  one <- sub("s$", "", what$compare)
  rule <- sprintf("Pairs of %s within each answer to %s; %s over the pairs of a line, level %s.", what$compare,
                  what$labels[["within"]],
                  corrections[[what$correction]], format_alpha(what$alpha))
  small <- what$left_out
  left <- if (nrow(small)) sprintf("Left out for their small bases (under %d): %s.", what$least_base,
                                   named_bases(stats::setNames(small$base, small$answer)))
  parts <- lapply(unique(x$each), function(each) {
    rows <- visible_in(as.data.frame(x)[x$each %in% each, ])
    found <- rows[rows$exceeds != "", ]
    found <- found[order(-abs(found$z)), ]
    swap <- found$exceeds == "second"
    greater <- ifelse(swap, found$second, found$first)
    lesser <- ifelse(swap, found$first, found$second)
    points <- function(v) format_number(100 * v, setting("digits"))
    ends <- ifelse(swap, paste(points(-found$high), "to", points(-found$low)),
                   paste(points(found$low), "to", points(found$high)))
    c(if (!is.na(each)) c(each, ""),
      if (!nrow(rows)) sprintf("No two %s have the bases to be compared.", what$compare) else
      if (!nrow(found))
      sprintf("No %s differs from another beyond chance (%s pairs compared).", one, format_count(nrow(rows))) else
        text_columns(list(Within = found$within, "is higher in" = greater, "than in" = lesser,
                          shares = paste(format_percent(pmax(found$first_share, found$second_share)), "/",
                                         format_percent(pmin(found$first_share, found$second_share))),
                          difference = points(abs(found$difference)), interval = ends,
                          corrected = bare_p(found$p_corrected)), left = 3L, width = width), "")
  })
  plain_text(c(unlist(parts),
               wrap_lines(c(rule, left, sprintf("%s percentage points; intervals each for itself.", "Differences are")),
                          width), ""))
}

#' @export
format.fairlattice_risks <- function(x, width = cli::console_width(), ...) {
  nothing_else(...)
  data <- visible_in(as.data.frame(x))
  keys <- unique(data[c("each", "compared", "reference", "outcome")])
  parts <- lapply(seq_len(nrow(keys)), function(k) {
    rows <- data[data$each %in% keys$each[k] & data$compared == keys$compared[k], ]
    get <- function(figure) rows[match(figure, rows$figure), ]
    heading <- sprintf("%s\"%s\": %s against %s", if (is.na(keys$each[k])) "" else paste0(keys$each[k], ", "),
                       keys$outcome[k], keys$compared[k], keys$reference[k])
    if (is.na(get("share")$estimate)) return(c(heading, paste0("  ", rows$note[1L]), ""))
    percent <- function(r)
      sprintf("%s %% (%s to %s)", format_percent(r$estimate), format_percent(r$low), format_percent(r$high))
    points <- function(v) format_number(100 * v, setting("digits"))
    plain <- function(r, digits = setting("digits_statistic")) {
      if (is.na(r$low)) return(sprintf("%s (%s)", format_number(r$estimate, digits), r$note %|NA|% "no interval"))
      sprintf("%s (%s to %s)", format_number(r$estimate, digits), format_number(r$low, digits),
              format_number(r$high, digits))
    }
    p <- vapply(c("p", "p_more", "p_fewer"), function(name) get(name)$estimate, 0)
    d <- get("difference")
    lines <- list(
      c("shares", sprintf("%s against %s", percent(get("share")), percent(get("share_reference")))),
      c("difference", sprintf("%s points (%s to %s)", points(d$estimate), points(d$low), points(d$high))),
      c("number needed", plain(get("needed"), 1L)), c("relative risk", plain(get("relative_risk"))),
      c("odds ratio", plain(get("odds_ratio"))),
      c("  its logarithm", plain(get("log_odds_ratio"))),
      c("  exact",
        if (is.na(get("odds_ratio_exact")$estimate)) get("odds_ratio_exact")$note else plain(get("odds_ratio_exact"))),
      c("test", if (is.na(p[1L])) get("z")$note else
        sprintf("z = %s, %s (one-sided: more %s, fewer %s)", format_number(get("z")$estimate), format_p(p[1L]),
                bare_p(p[2L]), bare_p(p[3L]))))
    c(heading, unlist(lapply(lines, function(line) {
      words <- wrap_lines(line[2L], width - 18L)
      paste0("  ", pad(c(line[1L], rep("", length(words) - 1L)), 16L), words)
    })), "")
  })
  several <- nrow(keys) > 1L
  plain_text(c(unlist(parts),
               wrap_lines(sprintf("%s intervals%s.", format_level(attr(x, "alpha")),
                                  if (several) "; each comparison by itself, not corrected for their number" else ""),
                                  width), ""))
}

#' @export
format.fairlattice_detectable <- function(x, width = cli::console_width(), ...) {
  nothing_else(...)
  data <- visible_in(as.data.frame(x))
  lines <- vapply(seq_len(nrow(data)), function(k) {
    row <- data[k, ]
    where <- if (is.na(row$each)) "" else paste0(row$each, ": ")
    if (is.na(row$smallest_v))
      return(sprintf("%sno test can be made: %s.", where, row$note %|NA|% "its design effect is undefined"))
    smallest <- if (row$smallest_v <= 1)
      sprintf("an association of V = %s or more (w = %s) would have been found with %s %% power",
              format_strength(row$smallest_v),
                                                 format_strength(row$smallest_w), format(100 * row$wanted_power)) else
                                                   "even a perfect association would be found less often than wanted"
    needed <- if (is.na(row$n_needed)) "" else
      sprintf(" For %s %% power at V = %s the table needs about %s respondents.", format(100 * row$wanted_power),
              format_strength(row$v), format_count(row$n_needed))
    sprintf("%s%s\u00d7%s table of %s respondents, level %s%s: %s. For V = %s its power is %s %%.%s%s", where,
            format(row$r), format(row$c), format_count(row$n), format_alpha(row$alpha),
            if (row$design_effect == 1) "" else sprintf(", design effect %s", format_number(row$design_effect)),
            smallest, format_strength(row$v), format_percent(row$power, 0L), needed,
            if (is.na(row$note)) "" else sprintf(" (%s)", row$note))
  }, "")
  plain_text(c(wrap_lines(lines, width, exdent = 2L), ""))
}

#' @export
format.fairlattice_pooled <- function(x, width = cli::console_width(), ...) {
  nothing_else(...)
  odds <- x$odds_ratios
  tests <- as.data.frame(x$tests)
  names <- pooled_test_labels
  df <- ifelse(is.na(tests$df), "",
               ifelse(is.na(tests$df_error), format_df(tests$df),
                      paste(format_df(tests$df), format_df(tests$df_error), sep = "; ")))
  notes <- unique(stats::na.omit(ifelse(is.na(tests$statistic), paste0(names[tests$test], ": ", tests$note), NA)))
  plain_text(c(
    wrap_lines(sprintf("%s, within the answers of %s taken together (%s respondents)", x$title, x$labels[["each"]],
                       format_count(x$n)), width), "",
    if (!is.null(odds))
    c(text_columns(list("Odds ratio" = odds$each, n = format_count(odds$n), estimate = format_number(odds$estimate),
                                            interval = ifelse(is.na(odds$low), odds$note,
                                                              format_interval(odds$low, odds$high))), width = width),
                                                              ""),
    text_columns(list(Test = names[tests$test],
                      statistic = ifelse(is.na(tests$statistic), "", format_number(tests$statistic)), df = df,
                      p = bare_p(tests$p)), width = width), "",
    if (length(notes)) wrap_lines(notes, width),
    if (x$by_design) wrap_lines("F statistics, second-order Rao-Scott: they follow weights and design.", width),
    if (length(x$left_out))
    wrap_lines(sprintf("Left out, having one row or column only: %s.", list_some(x$left_out)), width),
    if (!is.null(x$reversal)) wrap_lines(paste("Care:", x$reversal), width, exdent = 6L), ""))
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
  if (!is.null(attr(x, "note"))) return(plain_text(c(head, sprintf("No test: %s.", attr(x, "note")), "")))
  rows <- unique(of("observed")$down)
  columns <- unique(of("observed")$across)
  number <- function(v) format_count(v, if (all(abs(v - round(v)) < 1e-9)) 0L else setting("digits_statistic"))
  grid <- function(step, totals = FALSE) {
    M <- matrix(of(step)$value, length(rows), length(columns))
    text <- matrix(number(M), length(rows))
    if (totals) {
      M <- rbind(cbind(M, of("row_total")$value), c(of("column_total")$value, of("total")$value))
      text <- matrix(number(M), nrow(M))
    }
    named <- stats::setNames(c(list(c(rows, if (totals) "Total")), lapply(seq_len(ncol(text)), function(j) text[, j])),
                             c("", columns, if (totals) "Total"))
    if (sum(vapply(named, function(column) max(text_width(column)), 0L) + 2L) + max(text_width(columns)) > width)
      return(wrap_lines(sprintf("%s \u00d7 %s: %s", of(step)$down, of(step)$across, number(of(step)$value)), width))
    text_columns(named, width = width, indent = "  ")
  }
  example <- function(step) {
    row <- of(step)[1L, ]
    sprintf("such as %s \u00d7 %s: %s = %s", row$down, row$across, row$how, number(row$value))
  }
  design <- of("design_effect")
  ending <- c(
    sprintf("4. Their sum is the statistic: X\u00b2 = %s", format_number(of("statistic")$value, 4L)),
    sprintf("5. Degrees of freedom: %s = %s", of("df")$how, format_df(of("df")$value)),
    if (nrow(design)) sprintf("6. Weights and design: divided by %s, %s. F = %s = %s", format_number(design$value, 4L),
                              design$how, of("f")$how, format_number(of("f")$value, 4L)),
    sprintf("%d. %s: %s", if (nrow(design)) 7L else 6L, format_p(of("p")$value), of("p")$how))
  plain_text(c(
    head, wrap_lines(sprintf("1. Observed (%s)", of("observed")$how[1L]), width), grid("observed", TRUE), "",
    wrap_lines("2. Expected if the two were unrelated: row total \u00d7 column total / total", width),
    wrap_lines(example("expected"), width), grid("expected"), "",
    wrap_lines("3. Contribution of every cell: (observed \u2212 expected)\u00b2 / expected", width),
    wrap_lines(example("contribution"), width), grid("contribution"), "",
    wrap_lines(ending, width, exdent = 3L), ""))
}

# The table with letters in place of marks: what differences() found, cell by cell.
letters_text <- function(x, width = cli::console_width(), ...) {
  found <- differences(x, ...)
  what <- attributes(found)
  by_rows <- what$compare == "rows"
  plain_text(unlist(lapply(sheets_of(x), function(sheet) {
    here <- what$letters[what$letters$each %in% sheet$each, ]
    side <- if (by_rows) "stub" else "columns"
    answers <- which(sheet[[side]]$role == "answer")
    sheet[[side]]$label[answers] <- sprintf("%s (%s)", sheet[[side]]$label[answers],
                                            what$lettered$letter[match(sheet[[side]]$label[answers],
                                                                       what$lettered$answer)])
    sheet$letters <- matrix("", nrow(sheet$value), ncol(sheet$value))
    sheet$letters[sheet$stub$role == "answer", sheet$columns$role == "answer"] <- here$letters
    small <- what$left_out[what$left_out$each %in% here$each, ]
    c(wrap_lines(sheet$title, width), if (!is.null(sheet$layer)) wrap_lines(sheet$layer, width),
      wrap_lines(sheet$subtitle, width), "", text_grid(sheet, width), "",
      wrap_lines(sprintf(paste0("A letter: the figure exceeds that of the %s with this letter (two-sided, %s over ",
                                "the pairs of a line, level %s)"), sub("s$", "", what$compare),
                         corrections[[what$correction]], format_alpha(what$alpha)), width),
      if (nrow(small))
      wrap_lines(sprintf("Not compared for their small bases (under %d): %s", what$least_base,
                         named_bases(stats::setNames(small$base, small$answer))), width), "")
  })))
}
