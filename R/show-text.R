# Sheets as text, at any width, readable without colour and in plain ASCII.

#' @export
format.fairlattice_crosstab <- function(x, width = cli::console_width(),
                                        lines = NULL, ...) {
  nothing_else(...)
  if (!is.null(lines))
    check_some(lines, c(names(line_sets), line_parts), "lines", environment())
  asked <- lines %||% x$layout$lines %||% x$layout$dress
  x$layout$brief <- is.null(asked)
  x$layout$lines <- asked %||% lines_in_terminal
  in_style(x$layout$style,
           plain_text(unlist(lapply(sheets_of(x), text_sheet, width = width))))
}

# What stands under a table in the terminal, on one line each.
lines_in_terminal <- c("key", "test", "strength", "cautions", "account")

#' @export
format.fairlattice_banner <- format.fairlattice_crosstab

#' @export
print.fairlattice_banner <- function(x, ...) {
  cat(format(x, ...), sep = "\n")
  invisible(x)
}

#' @export
format.fairlattice_sheets <- function(x, ...) format(attr(x, "of"), ...)

#' @export
print.fairlattice_sheets <- function(x, ...) {
  cat(format(x, ...), sep = "\n")
  invisible(x)
}

#' Print a table
#'
#' The title, percentages with their base rows, marks with their key, the
#' headline test, the strength, the cautions and the account of records. Wide
#' tables are wrapped into panels.
#'
#' @param x (crosstab) From [crosstab()] or [read_tables()].
#' @param width (integer, default that of the terminal) Characters a line may
#'   have.
#' @param lines (character, default those of [lay_out()]) What goes along under
#'   the table: "key", "test", "strength", "reference", "cautions", "account" and
#'   "source", or "none", "published" or "working" (all of them). By default all
#'   but reference and source, on one line each.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return `x`, invisibly.
#' @export
#' @examples
#' print(crosstab(demo_records(), down = ferry, across = island), width = 72)
print.fairlattice_crosstab <- function(x, width = cli::console_width(),
                                       lines = NULL, ...) {
  cat(format(x, width = width, lines = lines, ...), sep = "\n")
  invisible(x)
}

text_sheet <- function(sheet, width) {
  width <- max(40L, width)
  sheet <- visible_in(sheet)
  single_blanks(c(
    wrap_lines(cli::style_bold(sheet$title), width),
    if (!is.null(sheet$layer)) wrap_lines(sheet$layer, width),
    wrap_lines(sheet$subtitle, width), "",
    text_grid(sheet, width), "",
    wrap_lines(sheet$key, width), if (length(sheet$key)) "",
    wrap_lines(c(sheet$tests, sheet$strength, sheet$reference), width,
               exdent = 2L),
    text_cautions(sheet$cautions, width), "",
    wrap_lines(sheet$notes, width, exdent = 2L),
    wrap_lines(sheet$account, width, exdent = 2L), "",
    wrap_lines(sheet$source, width, exdent = 2L), ""))
}

# One blank line where several would follow each other.
single_blanks <- function(lines) {
  lines[!(lines == "" & c(FALSE, lines[-length(lines)] == ""))]
}

# What mends it, by the caution's code: a function in R, an option on the
# command line. A table that is handed on names neither.
remedies <- list(
  sparse = c("regroup_sparse()", "--regroup or --regroup-sparse"),
  tick_all = c("ticks(split = )", "--split"),
  repeated_ids = c("one_per()", "--one-per"),
  unordered = c("order_answers()", "--order-answers"),
  single_cluster = c("respondents(single_cluster = )", "--single-cluster"),
  reversal = c("pooled()", NA), vanishing = c("pooled()", NA),
  heterogeneity = c("pooled()", NA)) # the command shows that anyway

remedy_of <- function(code) {
  voiced <- if (voice$speaks == "command") 2L else 1L
  named <- vapply(remedies[code], function(one) {
    if (is.null(one)) NA_character_ else one[[voiced]]
  }, "")
  ifelse(is.na(named), "",
         vapply(named, function(remedy) {
           paste0(" ", words("see", remedy = remedy))
         }, ""))
}

text_cautions <- function(cautions, width) {
  if (!nrow(cautions)) return(NULL)
  c("",
    wrap_lines(paste0(caution_texts(cautions), remedy_of(cautions$code)), width,
               exdent = 6L))
}

# Figures stay with their signs and what they count: "p = 0.013", "95 %" and "no
# weight (4)" are not torn apart.
held <- function(lines) {
  gsub(" (?=[=<>%] ?)|(?<= [=<>]) |(?<=[0-9]) (?=%)|(?<=[0-9],) (?=[0-9n])| (?=\\([0-9,]+\\))",
       "\u00a0", as.character(lines), perl = TRUE)
}

wrap_lines <- function(lines, width, exdent = 0L) {
  wrapped <- lapply(held(plain_signs(lines)), function(line) {
    styled <- grepl("\033", line, fixed = TRUE)
    if (!styled && text_width(line) < width && !grepl("  |\n", line))
      return(line)
    if (styled)
      as.character(cli::ansi_strwrap(line, width, exdent = exdent)) else
      strwrap(line, width, exdent = exdent)
  })
  gsub("\u00a0", " ", unlist(wrapped), fixed = TRUE)
}

# Figures under each other also where some of a column have a sign after them.
flags_apart <- function(sheet) {
  text <- sheet_text(sheet)
  flagged <- sheet$flag %in% "caution"
  if (!any(flagged)) return(text)
  beside <- col(text) %in% col(text)[flagged] & !flagged &
    sheet$kind != "unreliable"
  text[beside] <- paste0(text[beside], strrep(" ", nchar(unsure) + 1L))
  text
}

# The grid in as many panels of columns as the width asks for; every panel
# repeats the stub.
text_grid <- function(sheet, width) {
  signs <- c(mark_signs, " ")
  sign <- ifelse(sheet$mark == "", " ", signs[sheet$mark])
  marked <- any(sheet$mark != "") && is.null(sheet$letters)
  after <- if (!is.null(sheet$letters))
    paste0(" ", pad(sheet$letters, max(1L, text_width(sheet$letters)))) else
    if (marked) paste0(" ", sign)
  text <- matrix(paste0(flags_apart(sheet), after, peak_signs(sheet)),
                 nrow(sheet$value))
  stub_most <-
    min(sheet$wrap %||% max(12L, min(32L, width %/% 3L)), width - 20L)
  stub <- lapply(stub_labels(sheet$stub), function(label) {
    wrap_label(label, max(stub_most, min(14L, longest_word(label))))
  })
  corner <- wrap_label(sheet$corner, stub_most)
  stub_width <- max(text_width(unlist(c(stub, corner))))
  # the widest headings that need the fewest panels
  heads_at <- function(most) {
    wrapped <- function(label) {
      if (nzchar(label))
        wrap_label(label, max(most, min(14L, longest_word(label))))
    }
    heads <- Map(function(label, figure) c(wrapped(label), wrapped(figure)),
                 sheet$columns$label, sheet$columns$figure)
    widths <- pmax(apply(matrix(text_width(text), nrow(text)), 2L, max),
                   vapply(heads, function(h) max(text_width(h), 0L), 0L) +
                     2L * marked)
    list(heads = heads, widths = widths,
         panels = sheet_panels(sheet, widths + 2L, width - stub_width))
  }
  best <- NULL
  for (most in if (is.null(sheet$wrap)) c(14L, 12L, 10L, 9L, 8L) else
                 min(sheet$wrap, width - stub_width - 4L)) {
    try <- heads_at(most)
    if (is.null(best) || length(try$panels) < length(best$panels)) best <- try
    if (length(best$panels) == 1L) break
  }
  heads <- best$heads
  widths <- best$widths
  panels <- best$panels
  unlist(lapply(seq_along(panels), function(k) {
    at <- panels[[k]]
    lines <- text_panel(sheet, text[, at, drop = FALSE], stub, corner,
                        heads[at], widths[at], stub_width, width, marked,
                        list(sheet$columns$spanner[at],
                             sheet$columns$heading[at]))
    sub(" +$", "", if (k > 1L) c("", lines) else lines)
  }))
}

# A sign beside the largest percentage of every column (or row), where that is
# asked for.
peak_signs <- function(sheet) if (any(sheet$peak)) ifelse(sheet$peak, "^", " ")

text_panel <- function(sheet, text, stub, corner, heads, widths, stub_width,
                       width, marked, spanners) {
  total <- stub_width + sum(widths + 2L)
  rules <- lapply(c(head = "thin", foot = "thin", rows = "none"),
                  function(kind) rule_of(kind, total))
  asked <- sheet$style$rules
  rules[names(asked)] <- lapply(asked, rule_of, width = total)
  tall <- max(lengths(c(heads, list(corner))))
  from_below <- function(lines) c(rep("", tall - length(lines)), lines)
  gap <- if (marked) "  " else ""
  head_columns <- lapply(seq_along(heads), function(j) {
    pad(paste0(from_below(heads[[j]]), gap), widths[j] + 2L, "right")
  })
  header <-
    do.call(paste0, c(list(pad(from_below(corner), stub_width)), head_columns))
  # headings under different questions stay apart
  over <- unlist(Map(spanner_line, spanners, list("", spanners[[1L]]),
                     MoreArgs = list(
                       widths = widths + 2L, stub_width = stub_width,
                       width = width)))
  rows <- lapply(seq_along(stub), function(i) {
    lines <- stub[[i]]
    figures <- paste0(pad(text[i, ], widths + 2L, "right"), collapse = "")
    paste0(pad(lines, stub_width), c(rep("", length(lines) - 1L), figures))
  })
  c(over, header, rules$head, with_rules(rows, sheet$stub$role, rules))
}

rule_signs <- c(thin = "\u2500", thick = "\u2501", double = "\u2550")

rule_of <- function(kind, width) {
  if (kind != "none") strrep(rule_signs[[kind]], width)
}

# Rules under the answers and nets of every question (over them, where bases
# stand on top), over a further question's title, and between lines.
with_rules <- function(rows, roles, rules) {
  body <- roles %in% c("answer", "net")
  last <- length(roles)
  foot <- c(FALSE,
            body[-last] != body[-1L] & roles[-last] != "heading" |
              roles[-1L] == "heading")
  between <- c(FALSE, body[-last] & body[-1L])
  unlist(Map(function(row, foot, between) {
    c(if (foot) rules$foot else if (between) rules$rows, row)
  }, rows, foot, between))
}

# The questions over their columns; a long one is cut where the next begins, and
# at the end of the panel.
spanner_line <- function(spanners, above, widths, stub_width, width) {
  if (!any(nzchar(spanners))) return(NULL)
  runs <- rle(paste(above, spanners, sep = "\r"))
  room <-
    vapply(split(widths, rep(seq_along(runs$lengths), runs$lengths)), sum, 0)
  last <- length(room)
  # the last may reach beyond its columns, but not beyond the line
  most <-
    min(max(10L, room[last] - 2L), width - stub_width - sum(room[-last]) - 2L)
  paste0(strrep(" ", stub_width),
         paste0(Map(function(label, room, k) {
           pad(paste0("  ",
                      shorten(label,
                              if (k == last) most else max(1L, room - 3L))),
               room)
         }, sub(".*\r", "", runs$values), room, seq_along(room)),
                collapse = ""))
}

text_width <- function(x) as.integer(nchar(x, type = "width"))

pad <- function(x, width, side = "left") {
  space <- strrep(" ", pmax(0L, width - text_width(x)))
  if (side == "left") paste0(x, space) else paste0(space, x)
}

shorten <- function(x, width) {
  cut <- if (cli::is_utf8_output()) "\u2026" else "..."
  ifelse(text_width(x) > width,
         paste0(substr(x, 1L, max(0L, width - nchar(cut))),
                substr(cut, 1L, width)), x)
}

longest_word <- function(labels) {
  max(text_width(unlist(strsplit(labels, " ", fixed = TRUE))), 1L)
}

# A label on lines of at most `width`; a longer word is cut.
wrap_label <- function(label, width) {
  if (text_width(label) <= width && nzchar(label) &&
        !grepl("  ", label, fixed = TRUE)) return(label)
  words <- strsplit(label, " ", fixed = TRUE)[[1L]]
  words <- unlist(lapply(words, pieces_of, width = width))
  lines <- strwrap(paste(words, collapse = " "), width + 1L)
  if (length(lines)) lines else ""
}

# A word in pieces of at most `width`; letters of some scripts take two places.
pieces_of <- function(word, width) {
  if (text_width(word) <= width) return(word)
  letters <- strsplit(word, "")[[1L]]
  ends <- cumsum(text_width(letters))
  piece <- integer(length(ends))
  start <- 0L
  for (k in seq_along(ends)) {
    if (ends[k] - start > width) start <- ends[k] - text_width(letters[k])
    piece[k] <- start
  }
  vapply(split(letters, piece), paste, "", collapse = "", USE.NAMES = FALSE)
}

# Where the terminal has no Unicode, every sign has a plain twin.
plain_twins <- c("\u2191" = ">", "\u2193" = "<", "\u2002" = " ", "\u2500" = "-",
                 "\u2550" = "=", "\u2501" = "=", "\u2212" = "-", "\u2013" = "-",
                 "\u00d7" = "x", "\u00b1" = "+-", "\u00e9" = "e",
                 "\u00b2" = "2", "\u2026" = "...", "\u2139" = "i",
                 "\u2716" = "x",
                 stats::setNames(c("_", ".", ":", "-", "=", "+", "*", "#"),
                                 c("\u2581", "\u2582", "\u2583", "\u2584",
                                   "\u2585", "\u2586", "\u2587", "\u2588")))

plain_text <- function(x) plain_signs(visible(x, unseen_but_bold))

plain_signs <- function(x) {
  if (cli::is_utf8_output()) return(x)
  for (sign in names(plain_twins)) x <-
    gsub(sign, plain_twins[[sign]], x, fixed = TRUE)
  x
}
