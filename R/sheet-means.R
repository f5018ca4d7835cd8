# The lines of means and quantiles under the answers of a scored question.

# Which lines there are: none without scores; of a number the quartiles too.
summary_asked <- function(x, layout) {
  question <- facts_of(x)$down
  if (is.null(question$scores)) return(character())
  layout$summary %||%
    if (has(x, "answers")) c("mean", "interval", "sd", "median") else
      setdiff(summary_lines, c("se", "cv", "deff"))
}

# The figures of every column of the sheet: of an answer, a net, everybody.
summaries_of <- function(parts, columns, alpha) {
  core <- parts$core$layers[[1L]]
  scores <- scores_in(parts$core, core)
  summary_at <- function(at) {
    if (is.na(at) || !has(parts$core, "across"))
      return(layer_summary(core, scores, NULL, alpha))
    if (at <= ncol(core$n)) return(layer_summary(core, scores, at, alpha))
    net <- parts$across[[at - ncol(core$n)]]$layers[[1L]]
    layer_summary(net, scores, 1L, alpha)
  }
  lapply(columns$at, summary_at)
}

# Fills the lines of means in.
with_summaries <- function(grid, stub, columns, parts, alpha) {
  if (!any(stub$role == "mean")) return(grid)
  first <- which(columns$role != "base" & columns$nth == 1L)
  found <- summaries_of(parts, lapply(columns, `[`, first), alpha)
  column_values <- function(name) vapply(found, `[[`, 0, name)
  for (i in which(stub$role == "mean")) {
    name <- stub$summary[i]
    grid$value[i, first] <- column_values(if (name == "interval") "low" else name)
    grid$kind[i, first] <-
      switch(name, interval = "mean_interval", cv = , deff = name, "mean")
    if (name == "cv") grid$value[i, first] <- 100 * grid$value[i, first]
    if (name == "interval") grid$high[i, first] <- column_values("high")
  }
  grid
}

# Letters of the columns whose mean a mean exceeds.
mean_letters <- function(letters, stub, columns, x, before) {
  layer <- x$layers[[1L]]
  row <- which(stub$role == "mean" & stub$summary == "mean")
  if (!length(row)) return(letters)
  pairs <- layer_mean_differences(
    layer, scores_in(x, layer), x$choices$alpha, x$choices$correction,
    headings_of(x, "columns", answers_across(layer))$outer)
  answers <- answers_across(layer)
  names <- letters_for(before + length(answers))
  for (j in which(columns$role == "answer" & columns$nth == 1L)) {
    own <- answers[columns$at[j]]
    beaten <- vapply(pairs, function(pair) {
      if (pair$exceeds == "first" && pair$first == own) pair$second else
        if (pair$exceeds == "second" && pair$second == own) pair$first else
          NA_character_
    }, "")
    letters[row, j] <-
      paste(names[before + sort(match(beaten, answers))], collapse = " ")
  }
  letters
}

# The test that the means are equal, beside the headline of a scored question.
means_line <- function(x, layer) {
  scores <- scores_in(x, layer)
  # of a number the means are the headline
  if (is.null(scores) || !has(x, "records") || !has(x, "answers")) return(NULL)
  test <- layer_means_test(layer, scores)
  if (!is.null(test)) test_line(x, test)
}
