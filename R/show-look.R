#' @export
format.fairlattice_look <- function(x, width = cli::console_width(), ...) {
  data <- as.data.frame(unclass(x))
  questions <- split(data, factor(data$question, unique(data$question)))
  lines <- unlist(lapply(questions, look_lines, width = width), use.names = FALSE)
  plain_text(c(sprintf("%s records, %d %s", format_count(attr(x, "records")), length(questions), plural(length(questions), "question")), "", lines))
}

look_lines <- function(one, width) {
  answer <- paste0(ifelse(one$missing, "missing: ", ""), one$answer)
  label <- max(12L, min(48L, width - 30L, max(text_width(answer))))
  cells <- unlist(Map(function(answer, n, share) {
    words <- wrap_label(answer, label)
    figures <- paste0("  ", pad(format_count(n), 7L, "right"), if (!is.na(share)) paste0("  ", pad(format_percent(share), 5L, "right"), " %"))
    paste0("    ", pad(words, label), c(rep("", length(words) - 1L), figures))
  }, answer, one$n, one$share))
  c(wrap_lines(sprintf("%s: %s (%s)", cli::style_bold(one$question[1L]), one$title[1L], one$type[1L]), width), cells, "")
}

#' @export
print.fairlattice_look <- function(x, width = cli::console_width(), ...) {
  cat(format(x, width = width), sep = "\n")
  invisible(x)
}
