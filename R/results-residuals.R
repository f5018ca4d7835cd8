#' Where does it sit?
#'
#' Residuals per cell, on the scale of the unweighted base n: raw O - E, Pearson
#' (O - E)/sqrt(E), adjusted (O - E)/sqrt(E (1 - p_i.)(1 - p_.j)) (Haberman
#' 1973). With a weight or design the adjusted residual is divided by the square
#' root of the cell's residual design effect: the design variance of p_ij - p_i.
#' p_.j over its multinomial variance. p-values are two-sided (normal; t with
#' the design's degrees of freedom) and corrected over the cells of the table
#' (with two rows or two columns, over those that are not the mirror image of
#' another). A mark needs the corrected p. `critical` is the size of adjusted
#' residual that divides marked cells from the others after the correction. In a
#' sparse table without a design, whose headline is exact, the p-values of cells
#' are exact, too (hypergeometric, margins fixed), and there is no critical
#' residual.
#'
#' `reading()` says in words where it sits, strongest first. A significant table
#' without a marked cell is no contradiction, and the reading says why.
#'
#' @param object,x (crosstab) From [crosstab()] or [read_tables()].
#' @param type ("adjusted", "pearson" or "raw", default "adjusted") Which
#'   residual p-values and marks are of. Pearson residuals have a variance under
#'   1, so marks by them are too few; raw ones have no p-value and no marks.
#' @param correction ("holm", "bonferroni" or "benjamini_hochberg", default that
#'   of the crosstab).
#' @param alpha (number in 0-1, default that of the crosstab) Level of the
#'   marks.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame, one row a cell: `each`, `down`, `across`, `observed` and
#'   `expected` (scale of n), `residual`, `pearson_residual`,
#'   `adjusted_residual`, `p`, `p_corrected`, `contribution` ((O - E)^2 / E),
#'   `share_of_statistic`, `mark` ("more", "fewer" or ""), `critical`. Cells of
#'   empty rows or columns are `NA`. Units: adjusted residuals in standard
#'   errors, p-values and `share_of_statistic` 0-1.
#' @references Haberman SJ (1973) Biometrics 29:205-220. Holm S (1979) Scand J
#'   Statist 6:65-70. Benjamini Y, Hochberg Y (1995) J Roy Statist Soc B
#'   57:289-300.
#' @section Errors: `fairlattice_error_class`, `fairlattice_error_choice`,
#'   `fairlattice_error_records_gone` (of
#'   a table read from a file what was not stored with it).
#' @rdname residuals
#' @aliases residuals
#' @export
#' @examples
#' residuals(crosstab(demo_records(), down = heating, across = island), correction = "bonferroni")
residuals.fairlattice_crosstab <- function(object,
                                           type = c(
                                             "adjusted", "pearson", "raw"),
                                           correction = NULL, alpha = NULL,
                                           ...) {
  nothing_else(...)
  call <- environment()
  x <- object
  type <- first_of(type)
  check_choice(type, c("adjusted", "pearson", "raw"), "type", call)
  correction <- correction %||% x$choices$correction
  alpha <- alpha %||% x$choices$alpha
  check_choice(correction, names(corrections), "correction", call)
  check_fraction(alpha, "alpha", call)
  found <- residuals_at(x, type, correction, alpha, call)
  data <- frame_of_columns(x,
                           Map(function(layer, cells) {
                             c(cells_of_layer(layer), cells)
                           }, x$layers, found))
  # what a reading in words needs beside the cells
  reading <- unlist(Map(function(layer, cells, tests) {
    reading_words(layer, cells, headline_of(tests), alpha, 6L,
                  residual_column[[type]])
  }, x$layers, found, tests_of(x)))
  new_result(data, "residuals", reading = reading, type = type)
}

# A banner has residuals table by table; respondents and books have none.
#' @export
residuals.fairlattice_banner <- function(object, ...) {
  check_class(object, "fairlattice_crosstab", "object", "crosstab()",
              environment())
}

#' @export
residuals.fairlattice_survey <- residuals.fairlattice_banner

#' @export
residuals.fairlattice_book <- residuals.fairlattice_banner

# The column of each kind of residual.
residual_column <- c(adjusted = "adjusted_residual",
                     pearson = "pearson_residual", raw = "residual")

residuals_at <- function(x, type, correction, alpha, call) {
  if (type == "adjusted" &&
        identical(list(correction, alpha),
                  unname(x$choices[c("correction", "alpha")])))
    return(residuals_of(x))
  if (!has(x, "records"))
    check_stored(x, list(correction = correction, alpha = alpha, type = type),
                 call)
  lapply(x$layers, layer_residuals, correction = correction, alpha = alpha,
         kind = type)
}

#' @rdname residuals
#' @param most (integer, default 6) Cells named.
#' @return `reading()`: (character) one text a layer.
#' @export
reading <- function(x, most = 6, ...) {
  nothing_else(...)
  check_class(x, "fairlattice_crosstab", "x", "crosstab()", environment())
  check_whole(most, "most", 1, environment())
  unlist(Map(function(layer, cells, tests) {
    reading_words(layer, cells, headline_of(tests), x$choices$alpha, most)
  }, x$layers, residuals_of(x), tests_of(x)))
}

reading_words <- function(layer, cells, test, alpha, most,
                          residual = "adjusted_residual") {
  significant <- rejects(test, alpha)
  marked <- which(cells$mark != "")
  if (!length(marked)) {
    return(words(if (is.na(test$p)) "reading_no_test" else if (significant)
                   "reading_spread" else "reading_none"))
  }
  marked <- marked[strongest_first(cells[[residual]][marked])]
  names <- cells_of_layer(layer)
  name <- unlist(Map(function(down, across, residual) {
    words("reading_cell", down = down, across = across, residual = residual)
  }, names$down[marked], names$across[marked], cells[[residual]][marked]))
  more <- cells$mark[marked] == "more"
  say <- function(which, code) {
    if (any(which))
      words(code, cells = utils::head(name[which], most),
            more = max(0, sum(which) - most))
  }
  paste(c(say(more, "reading_more"), say(!more, "reading_fewer"),
          if (!significant) words("reading_not_significant")), collapse = " ")
}
