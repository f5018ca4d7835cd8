#' Where does it sit?
#'
#' Residuals per cell, on the scale of the unweighted base n: raw O - E, Pearson (O - E)/sqrt(E), adjusted (O -
#' E)/sqrt(E (1 - p_i.)(1 - p_.j)) (Haberman 1973). With a weight or design the adjusted residual is divided by the
#' square root of the cell's departure design effect: the design variance of p_ij - p_i. p_.j over its multinomial
#' variance. p-values are two-sided (normal; t with the design's degrees of freedom) and corrected over the cells of
#' the table (with two rows or two columns, over those that are not the mirror image of another). A mark needs the
#' corrected p. `critical` is the size of adjusted residual that divides marked cells from the others after the
#' correction.
#'
#' `reading()` says in words where it sits, strongest first. A significant table without a marked cell is no
#' contradiction, and the reading says why.
#'
#' @param x (lattice) From [lattice()] or [read_lattice()].
#' @param residual ("adjusted", "pearson" or "raw", default "adjusted") Which residual p-values and marks are of.
#'   Pearson residuals have a variance under 1, so marks by them are too few; raw ones have no p-value and no marks.
#' @param correction ("holm", "bonferroni" or "benjamini_hochberg", default that of the lattice).
#' @param alpha (number in 0-1, default that of the lattice) Level of the marks.
#' @param ... Nothing: what is put here is an error, with the nearest argument's name.
#' @return Data frame, one row a cell: `each`, `down`, `across`, `observed` and `expected` (scale of n), `residual`,
#'   `pearson_residual`, `adjusted_residual`, `p`, `p_corrected`, `contribution` ((O - E)^2 / E),
#'   `share_of_statistic`, `mark` ("more", "fewer" or ""), `critical`. Cells of empty rows or columns are `NA`.
#' @references Haberman SJ (1973) Biometrics 29:205-220. Holm S (1979) Scand J Statist 6:65-70. Benjamini Y, Hochberg Y
#'   (1995) J Roy Statist Soc B 57:289-300.
#' @export
#' @examples
#' departures(lattice(demo_records(), down = heating, across = island), correction = "bonferroni")
departures <- function(x, residual = c("adjusted", "pearson", "raw"), correction = NULL, alpha = NULL, ...) {
  nothing_else(...)
  check_class(x, "fairlattice_lattice", "x", "lattice()", environment())
  residual <- first_of(residual)
  check_choice(residual, c("adjusted", "pearson", "raw"), "residual", environment())
  if (is.null(x$tally)) {
    return(stored(x, "departures",
                  list(correction = correction, alpha = alpha, residual = if (residual != "adjusted") residual)))
  }
  correction <- correction %||% x$choices$correction
  alpha <- alpha %||% x$choices$alpha
  check_choice(correction, names(corrections), "correction", environment())
  check_fraction(alpha, "alpha", environment())
  out <- as_findings(over_layers(x$layers, layer_departures, correction = correction, alpha = alpha, kind = residual),
                     "departures")
  # what a reading in words needs beside the cells
  attr(out, "tests") <- over_layers(x$layers,
                                    function(layer)
                                    Filter(function(row) row$headline, layer_tests(layer, p = x$choices$p)))
  attr(out, "alpha") <- alpha
  attr(out, "residual") <- residual
  out
}

#' @rdname departures
#' @param most (integer, default 6) Cells named.
#' @return `reading()`: (character) one text a layer.
#' @export
reading <- function(x, most = 6, ...) {
  nothing_else(...)
  check_class(x, "fairlattice_lattice", "x", "lattice()", environment())
  check_whole(most, "most", 1, environment())
  f <- findings(x)
  vapply(seq_len(nrow(f$layers)), function(k) {
    of_layer <- function(data) data[is.na(f$layers$each[k]) | data$each %in% f$layers$each[k], ]
    reading_of(of_layer(f$cells), with_headline(of_layer(f$tests)), f$settings$alpha, most)
  }, "")
}

reading_of <- function(cells, test, alpha, most, residual = "adjusted_residual") {
  significant <- !is.na(test$p) && test$p <= alpha
  marked <- cells[cells$mark != "", ]
  if (!nrow(marked)) {
    if (is.na(test$p)) return("There is no test, so no cell stands out.")
    if (!significant) return("No cell departs from what would be expected if the two were unrelated.")
    return(paste(paste0("No single cell stands out, although the table as a whole is significant. That is no ",
                        "contradiction: the test adds up all departures,"),
                 "each cell must be beyond chance by itself, corrected for how many cells are looked at."))
  }
  marked <- marked[order(-abs(marked[[residual]])), ]
  name <- sprintf("%s \u00d7 %s (%s%s)", marked$down, marked$across, ifelse(marked[[residual]] > 0, "+", ""),
                  format_number(marked[[residual]], 1L))
  say <- function(which, words) {
    if (!any(which)) return(NULL)
    sprintf("%s: %s%s.", words, paste(utils::head(name[which], most), collapse = "; "),
            if (sum(which) > most) sprintf("; and %d more", sum(which) - most) else "")
  }
  more <- marked$mark == "more"
  paste(c(say(more, "More than expected"), say(!more, "Fewer than expected"),
          if (!significant) "The table as a whole is not significant: read single cells with care."), collapse = " ")
}

departure_columns <- c("observed", "expected", "residual", "pearson_residual", "adjusted_residual", "p",
                       "p_corrected", "contribution", "share_of_statistic")

layer_departures <- function(layer, correction, alpha, kind = "adjusted") {
  if (!is.null(layer$parts)) return(tick_departures(layer, correction, alpha, kind))
  size <- length(layer$n)
  cells <- list(down = rep(rownames(layer$n), ncol(layer$n)), across = rep(colnames(layer$n), each = nrow(layer$n)))
  cells[departure_columns] <- list(rep(NA_real_, size))
  cells$mark <- rep("", size)
  cells$critical <- rep(NA_real_, size)
  e <- layer$estimate
  if (!is.null(no_test_reason(layer))) return(list2DF(cells))
  P <- e$P
  E <- e$n * expected_proportions(P)
  D <- e$n * P - E
  adjusted <- D / sqrt(E * outer(1 - rowSums(P), 1 - colSums(P))) / sqrt(departure_design_effects(e))
  of <- switch(kind, adjusted = adjusted, pearson = D / sqrt(E), raw = array(NA_real_, dim(E)))
  p <- as.vector(if (e$df >= 1) 2 * stats::pt(-abs(of), e$df) else array(NA_real_, dim(E)))
  at <- as.vector(outer(e$rows, (e$columns - 1L) * nrow(layer$n), `+`))
  statistic <- sum(D^2 / E)
  distinct <- distinct_cells(dim(P))
  figures <- list(e$n * P, E, D, D / sqrt(E), adjusted, p,
                  correct(p[distinct], correction)[match(mirror_of(dim(P)), which(distinct))], D^2 / E,
                  if (statistic > 0) D^2 / E / statistic else 0 * E)
  for (k in seq_along(figures)) cells[[departure_columns[k]]][at] <- as.vector(figures[[k]])
  marked <- which(cells$p_corrected <= alpha)
  cells$mark[marked] <- ifelse(cells$residual[marked] > 0, "more", "fewer")
  cells$critical <- rep(critical_residual(p[distinct], correction, alpha, e$df), size)
  list2DF(cells)
}

# With two rows the second row's residuals are those of the first with the other sign, so there are half as many things
# to look at; likewise with two columns. The correction is over those: over all cells it would be twice (in a 2x2 four
# times) as careful as it need be.
mirror_of <- function(size) {
  first <- function(n) if (n == 2L) c(1L, 1L) else seq_len(n)
  as.vector(outer(first(size[1L]), (first(size[2L]) - 1L) * size[1L], `+`))
}

distinct_cells <- function(size) mirror_of(size) == seq_len(prod(size))

# Design variance of each d_ij over its multinomial variance, both by the gradient of d_ij at p. 1 without a design;
# NA (the residual is then undefined) where either variance is zero.
departure_design_effects <- function(e) {
  if (!e$by_design) return(1)
  if (e$df < 1) return(NA_real_)
  designed <- e$effect$variance %||% departure_variance(e)
  plain <- multinomial_departure_variance(e$P, e$n)
  none <- 1e-12 * max(plain, 0)
  matrix(ifelse(plain > none & designed > none, designed / plain, NA_real_), nrow(e$P))
}

correct <- function(p, correction) {
  stats::p.adjust(p, c(holm = "holm", bonferroni = "bonferroni", benjamini_hochberg = "BH")[[correction]])
}

# The |residual| that divides marked from unmarked cells. With R of m cells marked, the next would need a p of at most
# alpha/m (Bonferroni), alpha/(m - R) (Holm) or alpha (R + 1)/m (Benjamini-Hochberg): every marked cell is beyond that
# and no other is.
critical_residual <- function(p, correction, alpha, df) {
  p <- p[!is.na(p)]
  m <- length(p)
  if (!m || df < 1) return(NA_real_)
  R <- sum(correct(p, correction) <= alpha)
  level <- switch(correction, bonferroni = alpha / m, holm = alpha / max(1, m - R),
                  benjamini_hochberg = alpha * min(m, R + 1) / m)
  stats::qt(level / 2, df, lower.tail = FALSE)
}
