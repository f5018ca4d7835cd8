# The sheet: a table laid out, with no format in it. Writers draw it and compute nothing.
#
#   title, subtitle   text
#   each, layer       the answer of `each`, alone and with its question
#   corner, spanner   labels over the stub and over the columns
#   stub, columns     data frames: label, role ("answer", "all", "total", "base")
#   value, kind, mark, peak, letters   matrices: the number, what kind of number ("percent", "count", "weighted"),
#                     "more"/"fewer"/"", whether it is the largest of its line, letters of what it exceeds (or NULL)
#   key, tests, strength, reference, cautions, notes, account   lines of text that go under the table

# One sheet a layer; parts of the first `most` layers only, where not all are shown.
sheets_of <- function(x) lapply(seq_along(x$layers), function(k) sheet_of(x, k))

sheet_of <- function(x, k = 1L) {
  layer <- x$layers[[k]]
  facts <- facts_of(x)
  alpha <- x$choices$alpha
  cells <- departures_of(x)[[k]]
  tests <- tests_of(x)[[k]]
  test <- headline_of(tests)
  items <- items_of(x)[[k]]
  told <- cautions_of(x)
  peaks <- isTRUE(x$choices$peaks)
  grid <- layout_for(x, layer, shares_of(x)[[k]]$share, cells$mark)
  several <- !is.na(layer$each)
  c(list(title = table_title(x), each = layer$each,
         layer = if (several) words("layer_title", each = facts$each$label, answer = layer$each),
         subtitle = base_line(x), corner = facts$down$label, spanner = facts$across$label),
    grid, list(peak = peaks_in(grid, peaks, x$choices$percent)),
    list(key = c(key_line(x, layer, cells, test), if (peaks) words("peak_key", row = x$choices$percent == "row")),
         tests = c(test_line(test, alpha), trend_line(trend_beside(tests, c(facts$down$ordered, facts$across$ordered)),
                                                      alpha)),
         strength = c(vapply(strength_told(strength_of(x)[[k]]), function(row) {
           sentence_case(strength_figures(row, x))
         }, ""), item_lines(items)),
         reference = reference_line(x, tests),
         # what is true of the whole is said once, with the first layer
         cautions = caution_lines(by_severity(c(if (k == 1L) told$whole, told$layers[[k]]))),
         notes = history_lines(x), account = account_line(x, layer)))
}

caution_lines <- function(found) {
  list2DF(list(code = vapply(found, function(one) one$what$code, ""),
               severity = vapply(found, function(one) one$severity, ""),
               text = vapply(found, function(one) in_words(one$what), "")))
}

# Which cells hold the largest percentage of their column (of their row, with row percentages).
peaks_in <- function(grid, wanted, percent) {
  peak <- matrix(FALSE, nrow(grid$value), ncol(grid$value))
  if (!wanted) return(peak)
  rows <- grid$stub$role == "answer"
  columns <- grid$columns$role == "answer"
  shares <- grid$value[rows, columns, drop = FALSE]
  by <- if (percent == "row") 1L else 2L
  most <- apply(shares, by, function(v) if (all(is.na(v))) NA else max(v, na.rm = TRUE))
  peak[rows, columns] <- !is.na(shares) & shares == if (by == 1L) most else rep(most, each = nrow(shares))
  peak
}

# Where percentages, totals and bases stand, for each base of the percentages. Ticks do not add up to a total of 100.
layout_for <- function(x, layer, share, mark) {
  r <- nrow(layer$n)
  k <- ncol(layer$n)
  facts <- facts_of(x)
  percent <- x$choices$percent
  weighted <- is_weighted(x)
  all <- layer$base
  shares <- matrix(100 * share, r, k)
  down <- layer$margins$down
  across <- layer$margins$across
  bases <- function(margin) rbind(c(margin$n, all$n), if (weighted) c(margin$weighted, all$weighted))
  of_all <- function(margin) if (all$weighted > 0) 100 * margin$weighted / all$weighted else NA_real_ * margin$n
  hundred <- function(margin) ifelse(margin$n > 0, 100, NA)
  base_names <- c(words("line.respondents"), if (weighted) words("line.weighted"))
  kinds <- function(percents) c(rep("percent", percents), "count", if (weighted) "weighted")
  if (percent == "row") {
    total <- if (!facts$across$ticks) c(hundred(down), 100)
    value <- cbind(rbind(shares, of_all(across)), total, t(bases(down)))
    stub <- named_lines(answers_down(layer), all = words("line.all"))
    columns <- named_lines(answers_across(layer), if (!is.null(total)) words("line.total"), base_names)
    kind <- matrix(rep(kinds(k + !is.null(total)), each = r + 1L), nrow = r + 1L)
  } else {
    whole <- percent == "total"
    total <- if (whole) c(of_all(across), 100) else if (!facts$down$ticks) c(hundred(across), 100)
    value <- rbind(cbind(shares, of_all(down)), total, bases(across))
    stub <- named_lines(answers_down(layer), if (!whole && !is.null(total)) words("line.total"), base_names,
                        if (whole) words("line.all"))
    columns <- named_lines(answers_across(layer), all = words("line.all"))
    kind <- matrix(rep(kinds(r + !is.null(total)), k + 1L), ncol = k + 1L)
  }
  marks <- matrix("", nrow(value), ncol(value))
  marks[seq_len(r), seq_len(k)] <- mark
  list(stub = stub, columns = columns, value = unname(value), kind = kind, mark = marks)
}

named_lines <- function(answers, total = NULL, bases = NULL, all = NULL) {
  list2DF(list(label = c(answers, all, total, bases),
               role = rep(c("answer", "all", "total", "base"),
                          c(length(answers), length(all), length(total), length(bases)))))
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

# The sheet with letters in place of marks: what differences() found, cell by cell.
lettered_sheet <- function(sheet, found) {
  what <- attributes(found)
  here <- what$letters[what$letters$each %in% sheet$each, ]
  side <- if (what$compare == "rows") "stub" else "columns"
  answers <- sheet[[side]]$role == "answer"
  label <- sheet[[side]]$label[answers]
  sheet[[side]]$label[answers] <- sprintf("%s (%s)", label, what$lettered$letter[match(label, what$lettered$answer)])
  sheet$letters <- matrix("", nrow(sheet$value), ncol(sheet$value))
  sheet$letters[sheet$stub$role == "answer", sheet$columns$role == "answer"] <- here$letters
  small <- what$left_out[what$left_out$each %in% here$each, ]
  sheet$key <- c(words("letters_key", compare = what$compare, correction = what$correction, alpha = what$alpha),
                 if (nrow(small))
                 words("letters_small", limit = what$least_base, answers = small$answer, n = small$base))
  sheet
}
