#' The arithmetic, step by step
#'
#' How the chi-square statistic of one table comes about: margins, expected counts, the contribution of every cell,
#' their sum, the degrees of freedom and p; under a design also the design effects that it is divided by. For teaching,
#' and for checking a table by hand. Printing shows the steps as text; `as.data.frame()` gives one row a step and cell.
#'
#' @param x (lattice) From [lattice()] or [lattice_of_counts()]; not of a tick-all question.
#' @param each (string) Which layer, where there are several; default the first.
#' @param ... Nothing: what is put here is an error, with the nearest argument's name.
#' @return Data frame of class `fairlattice_working`: `step` ("observed", "row_total", "column_total", "total",
#'   "expected", "contribution", "statistic", "df", "design_effect", "f", "p"), `down`,
#'   `across`, `value`, `how` (the arithmetic in figures).
#' @section Errors: `fairlattice_error_answer`, `fairlattice_error_ticks`.
#' @export
#' @examples
#' working(lattice_of_counts(matrix(c(20, 10, 30, 40), 2, dimnames = list(c("Yes", "No"), c("North", "South")))))
working <- function(x, each = NULL, ...) {
  nothing_else(...)
  call <- environment()
  check_made(x, call)
  names <- vapply(x$layers, function(layer) layer$each, "")
  if (!is.null(each)) check_answer(each, names, "each", call)
  layer <- x$layers[[if (is.null(each)) 1L else match(each, names)]]
  steps <- rows_to_frame(working_steps(layer))
  structure(as_findings(steps, "working"), title = findings_title(x), each = layer$each,
            weighted = x$tally$design$weighted, note = no_test_reason(layer))
}

working_steps <- function(layer) {
  step <- function(step, value, how, down = NA_character_, across = NA_character_)
    list(step = step, down = down, across = across, value = value, how = how)
  e <- layer$estimate
  if (!is.null(no_test_reason(layer))) return(list(step("total", layer$base$n, no_test_reason(layer))))
  n <- e$n
  O <- n * e$P
  E <- n * expected_proportions(e$P)
  X <- (O - E)^2 / E
  rows <- rownames(O)
  columns <- colnames(O)
  number <- function(x) ifelse(abs(x - round(x)) < 1e-9, format_count(x), format_count(x, setting("digits_statistic")))
  cells <- function(name, value, how) {
    unlist(lapply(seq_along(columns),
                  function(j)
                  lapply(seq_along(rows), function(i) step(name, value[i, j], how(i, j), rows[i], columns[j]))),
                  recursive = FALSE)
  }
  plus <- function(x) paste(number(x), collapse = " + ")
  d <- prod(dim(O) - 1)
  X2 <- sum(X)
  scale <- if (e$by_design) "weighted shares, on the scale of the %s respondents" else "respondents"
  c(cells("observed", O, function(i, j) if (grepl("%s", scale)) sprintf(scale, format_count(n)) else scale),
    lapply(seq_along(rows), function(i) step("row_total", sum(O[i, ]), plus(O[i, ]), down = rows[i])),
    lapply(seq_along(columns), function(j) step("column_total", sum(O[, j]), plus(O[, j]), across = columns[j])),
    list(step("total", n, plus(rowSums(O)))),
    cells("expected", E,
          function(i, j) sprintf("%s \u00d7 %s / %s", number(sum(O[i, ])), number(sum(O[, j])), number(n))),
    cells("contribution", X,
          function(i, j) sprintf("(%s \u2212 %s)\u00b2 / %s", number(O[i, j]), number(E[i, j]), number(E[i, j]))),
    list(step("statistic", X2, plus(as.vector(X))),
         step("df", d, sprintf("(%d \u2212 1)(%d \u2212 1)", nrow(O), ncol(O)))),
    if (!e$by_design)
    list(step("p", stats::pchisq(X2, d, lower.tail = FALSE),
              sprintf("the chance of a chi-square of %s or more on %s degrees of freedom", number(X2),
                      format_df(d)))) else
      design_steps(e, X2, step, number))
}

design_steps <- function(e, X2, step, number) {
  effect <- e$effect
  if (!is.na(effect$why)) return(list(step("design_effect", NA_real_, effect$why)))
  f <- X2 / effect$sum
  df_error <- effect$df * e$df
  list(step("design_effect", effect$sum,
            paste0("the sum of the generalised design effects: what weights and clusters add to the variance of ",
                   "the departures")),
       step("f", f, sprintf("%s / %s", number(X2), number(effect$sum))),
       step("p", stats::pf(f, effect$df, df_error, lower.tail = FALSE),
            sprintf("the chance of an F of %s or more on %s and %s degrees of freedom (%s \u00d7 the design's %s)",
                    number(f), format_df(effect$df), format_df(df_error), format_df(effect$df), format_df(e$df))))
}
