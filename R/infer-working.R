# The arithmetic of the chi-square statistic of one layer, step by step.

# One step: its name, the cell it is of, its value, and `how`: figures and signs
# alone, or what is said.
new_step <- function(step, value, how, down = NA_character_,
                     across = NA_character_) {
  list(step = step, down = down, across = across, value = value, how = how)
}

working_steps <- function(layer) {
  e <- layer$estimate
  n <- e$n
  O <- n * e$P
  E <- n * expected_proportions(e$P)
  X <- (O - E)^2 / E
  d <- free_of(e$P)
  X2 <- sum(X)
  cells <- function(name, value, how) {
    at <- expand.grid(i = seq_len(nrow(O)), j = seq_len(ncol(O)))
    Map(function(i, j) {
      new_step(name, value[i, j], how(i, j), rownames(O)[i], colnames(O)[j])
    }, at$i, at$j, USE.NAMES = FALSE)
  }
  observed <- said(if (counts_were_drawn(e)) "observed_plain" else
                     "observed_weighted", n = n)
  c(cells("observed", O, function(i, j) observed),
    lapply(seq_len(nrow(O)), function(i) {
      new_step("row_total", sum(O[i, ]), plus_of(O[i, ]), down = rownames(O)[i])
    }),
    lapply(seq_len(ncol(O)), function(j) {
      new_step("column_total", sum(O[, j]), plus_of(O[, j]),
               across = colnames(O)[j])
    }), list(new_step("total", n, plus_of(row_sums(O)))),
    cells("expected", E, function(i, j) {
      sprintf("%s \u00d7 %s / %s", working_number(sum(O[i, ])),
              working_number(sum(O[, j])), working_number(n))
    }),
    cells("contribution", X, function(i, j) {
      sprintf("(%s \u2212 %s)\u00b2 / %s", working_number(O[i, j]),
              working_number(E[i, j]), working_number(E[i, j]))
    }),
    list(new_step("statistic", X2, plus_of(as.vector(X))),
         new_step("df", d,
                  sprintf("(%d \u2212 1)(%d \u2212 1)", nrow(O), ncol(O)))),
    if (!counts_were_drawn(e)) design_steps(e, X2) else
      list(new_step("p", upper_chi_square(X2, d),
                    said("chance_of_chi_square", statistic = X2, df = d))))
}

design_steps <- function(e, X2) {
  effect <- e$effect
  if (!is.null(effect$why))
    return(list(new_step("design_effect", NA_real_, effect$why)))
  f <- X2 / effect$sum
  df_error <- effect$df_error
  list(new_step("design_effect", effect$sum, said("sum_of_effects")),
       new_step("f", f,
                sprintf("%s / %s", working_number(X2),
                        working_number(effect$sum))),
       new_step("p", upper_f(f, effect$df_corrected, df_error),
                said("chance_of_f", f = f, df = effect$df_corrected,
                     df_error = df_error)))
}

working_number <- function(x) {
  ifelse(abs(x - round(x)) < 1e-9, format_count(x),
         format_count(x, setting("digits_statistic")))
}

plus_of <- function(x) paste(working_number(x), collapse = " + ")
