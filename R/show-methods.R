#' A table as R's own objects
#'
#' `as.table()` gives the counts as a table of base R, named by the questions
#' (with `each` in three dimensions), which `dim()`, `dimnames()` and `[` are
#' of; `as.matrix()` any figure of the cells as a matrix; `summary()` the
#' headline test, the strength and the cautions; `plot()` draws the figure.
#'
#' @param x,object (crosstab) From [crosstab()] or [read_tables()].
#' @param what (string, default "n") The figure: `"n"` (respondents),
#'   `"weighted"`, `"row_percent"`, `"column_percent"`, `"total_percent"`, or
#'   another numeric column of
#'   [as.data.frame()][as.data.frame.fairlattice_crosstab].
#' @param kind (string, default "shares") The figure to draw, and further
#'   arguments, see [autoplot()][autoplot.fairlattice_crosstab].
#' @param ... Indices for `[`, such as `x["Yes", ]`; otherwise not used, and an
#'   error that names the nearest argument.
#' @return `as.table()`: a `table`. `as.matrix()`: a numeric matrix (with `each`
#'   an array). `dim()`: rows, columns (and tables). `summary()`: a list of
#'   class `summary.fairlattice_crosstab` with `title`, `n`, `tests`,
#'   `strength`, `cautions`, that prints itself. `plot()`: the ggplot object,
#'   invisibly.
#' @section Errors: `fairlattice_error_choice`, naming the figures that there
#'   are.
#' @name crosstab_methods
#' @examples
#' table <- crosstab(demo_records(), down = ferry, across = island)
#' as.table(table)["Very satisfied", ]
#' dim(table)
#' as.matrix(table, "column_percent")
#' summary(table)
NULL

#' @rdname crosstab_methods
#' @export
as.table.fairlattice_crosstab <- function(x, ...) {
  nothing_else(...)
  structure(counts_array(x), class = "table")
}

#' @rdname crosstab_methods
#' @export
as.matrix.fairlattice_crosstab <- function(x, what = "n", ...) {
  nothing_else(...)
  cells <- cells_frame(x)
  check_choice(what,
               setdiff(names(cells)[vapply(cells, is.numeric, NA)], "each"),
               "what", environment())
  sizes <- vapply(x$layers, function(layer) length(layer$n), 0L)
  cells_array(x, split(cells[[what]], rep(seq_along(sizes), sizes)))
}

# The counts, which need nothing to be worked out: R asks for the size of a
# table unbidden.
counts_array <- function(x) {
  cells_array(x, lapply(x$layers, function(layer) as.vector(layer$n)))
}

# Values of the cells, a vector a layer, in their shape: down, across, and the
# answers of `each`.
cells_array <- function(x, values) {
  facts <- facts_of(x)
  cells <- lapply(x$layers, cells_of_layer)
  categories <- function(side) unlist(lapply(cells, `[[`, side))
  at <- list(down = categories("down"),
             across = if (!has(x, "across"))
               rep(words("line.all"), length(categories("down"))) else categories("across"))
  if (!is.null(facts$each))
    at$each <-
      rep(vapply(x$layers, function(layer) layer$each, ""), lengths(values))
  sides <- lapply(at, unique)
  names(sides) <-
    vapply(facts[names(sides)], function(question) question$name %||% "", "")
  out <- array(NA_real_, unname(lengths(sides)), sides)
  out[do.call(cbind, unname(Map(match, at, sides)))] <-
    unlist(values, use.names = FALSE)
  out
}

#' @rdname crosstab_methods
#' @export
dim.fairlattice_crosstab <- function(x) dim(counts_array(x))

#' @export
dimnames.fairlattice_crosstab <- function(x) dimnames(counts_array(x))

#' @rdname crosstab_methods
#' @export
`[.fairlattice_crosstab` <- function(x, ...) as.table(x)[...]

#' @rdname crosstab_methods
#' @export
summary.fairlattice_crosstab <- function(object, ...) {
  nothing_else(...)
  found <- if (has(object, "across")) tests(object)
  out <- list(title = table_title(object),
              n = vapply(object$layers, function(layer) layer$base$n, 0),
              tests = if (!is.null(found)) found[found$headline, ],
              strength = if (has(object, "across")) strength(object),
              cautions = cautions(object))
  structure(out,
            lines = plain_text(c(
              cli::style_bold(out$title), "",
              unlist(lapply(seq_along(object$layers), function(k) {
                sheet <- in_style(object$layout$style, sheet_of(object, k))
                c(sheet$layer, sheet$tests, sheet$strength,
                  caution_texts(sheet$cautions), sheet$account, "")
              })))), class = "summary.fairlattice_crosstab")
}

#' @export
format.summary.fairlattice_crosstab <- function(x, width = cli::console_width(),
                                                ...) {
  nothing_else(...)
  unlist(lapply(attr(x, "lines"), function(line) {
    if (nzchar(line)) wrap_lines(line, width, exdent = 2L) else ""
  }))
}

#' @export
print.summary.fairlattice_crosstab <- function(x, ...) {
  cat(format(x, ...), sep = "\n")
  invisible(x)
}

#' @rdname crosstab_methods
#' @export
plot.fairlattice_crosstab <- function(x, kind = names(figures), ...) {
  drawn <- autoplot.fairlattice_crosstab(x, kind, ...)
  print(drawn)
  invisible(drawn)
}

#' @rdname crosstab_methods
#' @export
plot.fairlattice_banner <- plot.fairlattice_crosstab
