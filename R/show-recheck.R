#' @export
format.fairlattice_recheck <- function(x, width = cli::console_width(), ...) {
  plain_numbers()
  plain_text(c(format(attr(x, "crosstab"), width = width),
               text_of_parts(parts_of(x), width)))
}

#' @export
parts_of.fairlattice_recheck <- function(x, width = Inf, ...) {
  nothing_else(...)
  if (!nrow(x)) return(in_parts(said_part(words("recheck_nothing"))))
  verdict <- words("recheck_verdict", held = sum(x$holds), of = nrow(x))
  lines <- words("recheck_line", x$holds, x$claim, x$claimed, x$worked_out,
                 x$remark)
  in_parts(said_part(verdict), said_part(lines, exdent = 8L))
}

#' @export
print.fairlattice_recheck <- function(x, ...) {
  cat(format(x, ...), sep = "\n")
  invisible(x)
}

#' @export
format.fairlattice_counts <- function(x, ...) {
  nothing_else(...)
  if (length(x$impossible)) {
    return(words("counts_impossible", columns = list_some(x$impossible)))
  }
  range <- function(values, digits) {
    interval_words(values[1L], values[2L], digits = digits)
  }
  plain_text(c(
    words("counts_tables", tables = many_tables(x$tables), one = x$tables == 1,
          columns = paste(names(x$columns), many_tables(x$columns),
                          collapse = ", ")),
    words("counts_extremes", statistic = range(x$statistic, 2L),
          v = range(x$v, 3L),
          p = interval_words(x$p[1L], x$p[2L], function(p) {
            in_house_style(as.character(signif(p, 3L)))
          })),
    if (!x$complete) words("counts_searched")))
}

# How many tables there are: from a billion on, to four digits.
many_tables <- function(n) {
  ifelse(n > 1e9, formatC(n, digits = 3L, format = "e"), format_count(n))
}

#' @export
print.fairlattice_counts <- function(x, ...) {
  cat(format(x, ...), sep = "\n")
  invisible(x)
}

#' @export
format.fairlattice_regrouping <- function(x, width = cli::console_width(),
                                          ...) {
  nothing_else(...)
  if (!nrow(x$steps))
    return(words(if (x$mended) "regroup_not_sparse" else
                   "regroup_nothing_left"))
  lines <- c(unlist(Map(function(question, joined) {
    words("regroup_step", question = question, joined = joined)
  }, x$steps$question, x$steps$joined)),
             words("regroup_small", before = x$small[["before"]],
                   after = x$small[["after"]], mended = x$mended),
             words("regroup_before", figures = test_figures(x$tests[1L, ])),
             words("regroup_after", figures = test_figures(x$tests[2L, ])),
             words("regroup_not_yet"))
  plain_text(unlist(lapply(lines, wrap_lines, width = width, exdent = 2L)))
}

#' @export
print.fairlattice_regrouping <- function(x, ...) {
  cat(format(x, ...), sep = "\n")
  invisible(x)
}
