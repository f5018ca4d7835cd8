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
  plain_text(c(sprintf("%s records, %d %s%s", format_count(attr(x, "records")),
                       length(questions), plural(length(questions), "question"),
                       if (is.null(weight)) "" else
                         sprintf(", weighted by %s", weight)), "", lines))
}

look_lines <- function(one, width, weighted) {
  answer <- paste0(ifelse(one$missing, "missing: ", ""), one$answer)
  label <- max(12L, min(48L, width - 44L, max(text_width(answer))))
  percent <- function(x, last = "") {
    ifelse(is.na(x), "", paste0(format_percent(x), " %", last))
  }
  columns <- list(format_count(one$n),
                  if (weighted)
                    ifelse(is.na(one$weighted), "", format_count(one$weighted)),
                  ifelse(one$missing, percent(one$share_of_all, " of all"),
                         percent(one$share,
                                 if (any(one$missing)) strrep(" ", 7L) else
                                   "")),
                  ifelse(is.na(one$low), "",
                         sprintf("(%s to %s)", format_percent(one$low),
                                 format_percent(one$high))),
                  if (any(!is.na(one$cumulative)))
                    ifelse(is.na(one$cumulative), "",
                           paste0(percent(one$cumulative), " so far")))
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
                       one$title[1L], one$type[1L]), width),
    sub(" +$", "", cells), "")
}

# For a page or a document: every question with a table of its answers.
#' @export
parts_of.fairlattice_look <- function(x, width = Inf, ...) {
  nothing_else(...)
  data <- visible_in(as.data.frame(unclass(x)))
  weighted <- !is.null(attr(x, "weight"))
  bare <- function(value, format) ifelse(is.na(value), "", format(value))
  unlist(unname(lapply(split(data,
                             factor(data$question, unique(data$question))),
                       function(one) {
                         share <-
                           ifelse(one$missing, one$share_of_all, one$share)
                         columns <- c(list(
                           paste0(
                             ifelse(one$missing, "missing: ", ""),
                             one$answer), format_count(one$n)),
                                      if (weighted)
                                        list(bare(one$weighted, format_count)),
                                      list(
                                        bare(share, format_percent),
                                        ifelse(
                                          is.na(one$low), "",
                                          interval_words(
                                            one$low, one$high,
                                            format_percent))))
                         names(columns) <- c(
                           "Answer", "n", if (weighted) "Weighted n", "%",
                           "95% CI")
                         kept <- vapply(columns, function(column) {
                           any(nzchar(column))
                         }, NA)
                         in_parts(said_part(
                                    sprintf(
                                      "%s: %s (%s)", one$question[1L],
                                      one$title[1L], one$type[1L])),
                                  columns_part(columns[kept]), gap_part)
                       })), recursive = FALSE)
}

look_list <- function(questions, width) {
  first <- lapply(questions, function(one) one[1L, ])
  missing <- vapply(questions, function(one) sum(one$n[one$missing]), 0)
  what <- vapply(questions, function(one) {
    if (one$type[1L] %in% c("number", "text")) one$type[1L] else
      sprintf("%d %s", sum(!one$missing), one$type[1L])
  }, "")
  name <- vapply(first, function(one) one$question, "")
  title <- vapply(first, function(one) one$title, "")
  right <- sprintf("%s, %s missing", what, format_count(missing))
  room <- max(12L, width - max(text_width(name)) - max(text_width(right)) - 4L)
  c(paste0(pad(name, max(text_width(name))), "  ",
           pad(shorten(title, room), min(room, max(text_width(title)))), "  ",
           right), "",
    "Look at one with its name (--question), or search in names and titles (--find).")
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
    words(if (rejects(test, x$alpha)) "goodness_found" else
            "goodness_not_found", figures = test_figures(test))
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
