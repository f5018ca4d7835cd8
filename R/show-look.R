# From so many questions on, a look is a list: a line a question.
look_list_from <- 41L

#' @export
format.fairlattice_look <- function(x, width = cli::console_width(), ...) {
  nothing_else(...)
  data <- visible_in(as.data.frame(unclass(x)))
  questions <- split(data, factor(data$question, unique(data$question)))
  weight <- attr(x, "weight")
  lines <- if (length(questions) >= look_list_from)
    look_list(questions, width) else
    unlist(lapply(questions, look_lines, width = width,
                  weighted = !is.null(weight)), use.names = FALSE)
  plain_text(c(words("look_head", records = attr(x, "records"),
                     questions = length(questions), weight = weight), "",
               lines, wrap_lines(battery_hints(x), width)))
}

# Questions that share their answers, and how to have them in one table.
battery_hints <- function(x) {
  found <- attr(x, "batteries")
  unlist(Map(function(name, columns) {
    how <- if (voice$speaks == "command")
      sprintf("--battery %s=%s", name, paste(columns, collapse = ",")) else
      sprintf("battery(survey, %s = c(%s))", name, paste(columns, collapse = ", "))
    c(words("look_battery", columns = columns, how = how), "")
  }, names(found), found), use.names = FALSE)
}

# The answers of a question, and what its type is called.
look_labels <- function(one) {
  ifelse(one$missing, words("look_missing", one$answer), one$answer)
}
look_type <- function(one) {
  code <- paste0("look_type.", one$type[1L])
  if (is.null(sentence_of(code))) one$type[1L] else words(code)
}

look_lines <- function(one, width, weighted) {
  answer <- look_labels(one)
  label <- max(12L, min(48L, width - 44L, max(text_width(answer))))
  percent <- function(x, last = "") {
    ifelse(is.na(x), "", paste0(format_percent(x), " %", last))
  }
  of_all <- paste0(" ", words("look_of_all"))
  columns <- list(format_count(one$n),
                  if (weighted)
                    ifelse(is.na(one$weighted), "", format_count(one$weighted)),
                  ifelse(one$missing, percent(one$share_of_all, of_all),
                         percent(one$share,
                                 if (any(one$missing))
                                   strrep(" ", text_width(of_all)) else "")),
                  ifelse(is.na(one$low), "",
                         sprintf("(%s)", interval_words(one$low, one$high,
                                                        format_percent))),
                  if (any(!is.na(one$cumulative)))
                    ifelse(is.na(one$cumulative), "",
                           paste(percent(one$cumulative),
                                 words("look_so_far"))))
  columns <- Filter(function(column) any(nzchar(column)),
                    Filter(Negate(is.null), columns))
  columns <- lapply(columns, function(column) {
    pad(column, max(text_width(column)), "right")
  })
  figures <- do.call(paste, c(columns, sep = "  "))
  cells <- unlist(Map(function(answer, figures) {
    words <- wrap_label(answer, label)
    paste0("    ", pad(words, label), "  ",
           c(rep("", length(words) - 1L), figures))
  }, answer, figures))
  c(wrap_lines(sprintf("%s: %s (%s)", cli::style_bold(one$question[1L]),
                       one$title[1L], look_type(one)), width),
    sub(" +$", "", cells), "")
}

# For a page or a document: every question with a table of its answers.
#' @export
parts_of.fairlattice_look <- function(x, width = Inf, ...) {
  nothing_else(...)
  data <- visible_in(as.data.frame(unclass(x)))
  weighted <- !is.null(attr(x, "weight"))
  bare <- function(value, format) ifelse(is.na(value), "", format(value))
  of_question <- function(one) {
    share <- ifelse(one$missing, one$share_of_all, one$share)
    columns <- list(look_labels(one), format_count(one$n),
                    if (weighted) bare(one$weighted, format_count),
                    bare(share, format_percent),
                    ifelse(is.na(one$low), "",
                           interval_words(one$low, one$high, format_percent)))
    names(columns) <- c(words("look_column.answer"), "n",
                        words("look_column.weighted"), "%",
                        words("look_column.interval"))
    in_parts(said_part(sprintf("%s: %s (%s)", one$question[1L], one$title[1L],
                               look_type(one))),
             columns_part(Filter(function(column) any(nzchar(column)),
                                 columns)), gap_part)
  }
  questions <- split(data, factor(data$question, unique(data$question)))
  unlist(unname(lapply(questions, of_question)), recursive = FALSE)
}

look_list <- function(questions, width) {
  first <- lapply(questions, function(one) one[1L, ])
  missing <- vapply(questions, function(one) sum(one$n[one$missing]), 0)
  what <- vapply(questions, function(one) {
    if (one$type[1L] %in% c("number", "text")) look_type(one) else
      sprintf("%d %s", sum(!one$missing), look_type(one))
  }, "")
  name <- vapply(first, function(one) one$question, "")
  title <- vapply(first, function(one) one$title, "")
  right <- words("look_list_line", what = what, missing = missing)
  # a name that leaves no room for a title has a line of its own
  rest <- width - max(text_width(right)) - 4L
  names <- max(text_width(name)[text_width(name) <= max(8L, rest - 16L)], 2L)
  alone <- text_width(name) > names
  room <- max(12L, rest - names)
  lines <- paste0(pad(ifelse(alone, "", name), names), "  ",
                  pad(shorten(title, room), min(room, max(text_width(title)))), "  ",
                  right)
  c(unlist(Map(function(name, alone, line) c(if (alone) name, line), name, alone, lines),
           use.names = FALSE), "", wrap_lines(words("look_list_hint"), width))
}

#' @export
print.fairlattice_look <- function(x, ...) {
  cat(format(x, ...), sep = "\n")
  invisible(x)
}

#' @export
format.fairlattice_goodness <- function(x, ...) {
  format.fairlattice_result(x, ...)
}

#' @export
parts_of.fairlattice_goodness <- function(x, width = Inf, ...) {
  nothing_else(...)
  test <- as.data.frame(x$tests)[x$tests$headline, ]
  answers <- x$answers
  shares <- c("share", "low", "high", "against")
  answers[shares] <- lapply(answers[shares], function(v) 100 * v)
  names(answers)[names(answers) == "share"] <- "percent"
  verdict <- if (is.na(test$p))
    words("no_test_sentence", reason = test$note) else
    words("claim_sentence", figures = test_figures(test),
          claim = claim(table_kinds$given$says$headline, test, x$alpha, x$title))
  base <- words("goodness_base")
  c(in_parts(said_part(c(x$title,
                         if (is.null(x$weight)) base else
                           words("weighted_by", text = base,
                                 weight = x$weight))), gap_part),
    parts_of(new_result(answers, "answers"), width),
    in_parts(gap_part, said_part(verdict, exdent = 2L)))
}

#' @export
print.fairlattice_goodness <- function(x, ...) {
  cat(format(x, ...), sep = "\n")
  invisible(x)
}
