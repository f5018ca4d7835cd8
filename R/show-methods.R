#' A table as R's own objects
#'
#' `as.table()` gives the counts as a table of base R, named by the questions (with `each` in three dimensions), which
#' `dim()`, `dimnames()` and `[` are of; `as.matrix()` any figure of the cells as a matrix; `summary()` the headline
#' test, the strength and the cautions; `plot()` draws the figure.
#'
#' @param x,object (lattice) From [lattice()] or [read_lattice()].
#' @param what (string, default "n") The figure: `"n"` (respondents), `"weighted"`, `"row_percent"`, `"column_percent"`,
#'   `"total_percent"`, or another numeric column of [as.data.frame()][as.data.frame.fairlattice_lattice].
#' @param kind (string, default "shares") The figure to draw, and further arguments, see
#'   [autoplot()][autoplot.fairlattice_lattice].
#' @param ... Indices for `[`, such as `x["Yes", ]`; otherwise not used, and an error that names the nearest argument.
#' @return `as.table()`: a `table`. `as.matrix()`: a numeric matrix (with `each` an array). `dim()`: rows, columns (and
#'   tables). `summary()`: a list of class `summary.fairlattice_lattice` with `title`, `n`, `tests`, `strength`,
#'   `cautions`, that prints itself. `plot()`: the ggplot object, invisibly.
#' @section Errors: `fairlattice_error_choice`, naming the figures that there are.
#' @name lattice_methods
#' @examples
#' table <- lattice(demo_records(), down = ferry, across = island)
#' as.table(table)["Very satisfied", ]
#' dim(table)
#' as.matrix(table, "column_percent")
#' summary(table)
NULL

#' @rdname lattice_methods
#' @export
as.table.fairlattice_lattice <- function(x, ...) {
  nothing_else(...)
  structure(counts_array(x), class = "table")
}

#' @rdname lattice_methods
#' @export
as.matrix.fairlattice_lattice <- function(x, what = "n", ...) {
  nothing_else(...)
  cells <- cells_frame(x)
  check_choice(what, setdiff(names(cells)[vapply(cells, is.numeric, NA)], "each"), "what", environment())
  sizes <- vapply(x$layers, function(layer) length(layer$n), 0L)
  cells_array(x, split(cells[[what]], rep(seq_along(sizes), sizes)))
}

# The counts, which need nothing to be worked out: R asks for the size of a table unbidden.
counts_array <- function(x) cells_array(x, lapply(x$layers, function(layer) as.vector(layer$n)))

# Values of the cells, a vector a layer, in their shape: down, across, and the answers of `each`.
cells_array <- function(x, values) {
  facts <- facts_of(x)
  cells <- lapply(x$layers, cells_of_layer)
  of <- function(side) unlist(lapply(cells, `[[`, side))
  at <- list(down = of("down"), across = if (is_alone(x)) rep(words("line.all"), length(of("down"))) else of("across"))
  if (!is.null(facts$each))
    at$each <- rep(vapply(x$layers, function(layer) layer$each, ""), lengths(values))
  sides <- lapply(at, unique)
  names(sides) <- vapply(facts[names(sides)], function(question) question$name %||% "", "")
  out <- array(NA_real_, unname(lengths(sides)), sides)
  out[do.call(cbind, unname(Map(match, at, sides)))] <- unlist(values, use.names = FALSE)
  out
}

#' @rdname lattice_methods
#' @export
dim.fairlattice_lattice <- function(x) dim(counts_array(x))

#' @export
dimnames.fairlattice_lattice <- function(x) dimnames(counts_array(x))

#' @rdname lattice_methods
#' @export
`[.fairlattice_lattice` <- function(x, ...) as.table(x)[...]

#' @rdname lattice_methods
#' @export
summary.fairlattice_lattice <- function(object, ...) {
  nothing_else(...)
  tests <- if (!is_alone(object)) test_independence(object)
  out <- list(title = table_title(object), n = vapply(object$layers, function(layer) layer$base$n, 0),
              tests = if (!is.null(tests)) tests[tests$headline, ],
              strength = if (!is_alone(object)) strength(object), cautions = cautions(object))
  structure(out, lines = plain_text(c(
    cli::style_bold(out$title), "", unlist(lapply(seq_along(object$layers), function(k) {
      sheet <- in_style(object$layout$style, sheet_of(object, k))
      c(sheet$layer, sheet$tests, sheet$strength, caution_texts(sheet$cautions), sheet$account, "")
    })))), class = "summary.fairlattice_lattice")
}

#' @export
format.summary.fairlattice_lattice <- function(x, width = cli::console_width(), ...) {
  nothing_else(...)
  unlist(lapply(attr(x, "lines"), function(line) if (nzchar(line)) wrap_lines(line, width, exdent = 2L) else ""))
}

#' @export
print.summary.fairlattice_lattice <- function(x, ...) {
  cat(format(x, ...), sep = "\n")
  invisible(x)
}

#' @rdname lattice_methods
#' @export
plot.fairlattice_lattice <- function(x, kind = names(figures), ...) {
  drawn <- autoplot.fairlattice_lattice(x, kind, ...)
  print(drawn)
  invisible(drawn)
}

#' @rdname lattice_methods
#' @export
plot.fairlattice_banner <- plot.fairlattice_lattice
