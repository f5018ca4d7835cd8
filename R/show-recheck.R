#' @export
format.fairlattice_recheck <- function(x, width = cli::console_width(), ...) {
  plain_numbers()
  plain_text(c(format(attr(x, "crosstab"), width = width),
               text_of_parts(parts_of(x), width)))
}

#' @export
parts_of.fairlattice_recheck <- function(x, width = Inf, ...) {
  nothing_else(...)
  verdict <- if (!nrow(x)) "No total and no claim to check." else
    if (all(x$holds) && nrow(x) == 1L)
      "The counts bear out the one claim or total." else
      if (all(x$holds))
        sprintf("The counts bear out all %d claims and totals.", nrow(x)) else
        sprintf("The counts do not bear out %d of %d claims and totals.",
                sum(!x$holds), nrow(x))
  lines <- if (nrow(x))
    sprintf("%s%s: claimed %s, worked out %s%s",
            ifelse(x$holds, "agrees\u00a0\u00a0", "DIFFERS\u00a0"), x$claim,
            x$claimed, x$worked_out,
            ifelse(is.na(x$remark), "", sprintf(" (%s)", x$remark)))
  in_parts(said_part(verdict), said_part(if (length(lines)) lines, exdent = 8L))
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
    return(sprintf("No whole counts give these percentages: the print is inconsistent in %s.",
                   list_some(x$impossible)))
  }
  range <- function(values, digits) {
    interval_words(values[1L], values[2L], digits = digits)
  }
  plain_text(c(
    sprintf("%s %s of counts could have given these percentages (%s).",
            format(x$tables, big.mark = ",", scientific = x$tables > 1e9,
                   digits = 4), plural(x$tables, "table"),
            paste(names(x$columns),
                  format(x$columns, big.mark = ",", trim = TRUE),
                  collapse = ", ")),
    sprintf("Chi-square %s, Cram\u00e9r's V %s, p %s.", range(x$statistic, 2L),
            range(x$v, 3L), paste(signif(x$p, 3), collapse = " to ")),
    if (!x$complete)
      paste("Too many to go through: the extremes come from a search and may",
            "be a little short of the true ones.")))
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
