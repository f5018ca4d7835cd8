# The lines of means and quantiles under the answers of a scored question.

# Which lines there are: none without scores; of a number the quartiles too.
summary_asked <- function(x, layout) {
  if (is.null(facts_of(x)[[listed_side(x)]]$scores)) return(character())
  if (!is.null(layout$only) && has(x, "answers"))
    return(if ("means" %in% layout$only) layout$summary %||% "mean" else character())
  if (has(x, "statements")) return(layout$summary %||% "mean")
  layout$summary %||%
    if (has(x, "answers")) c("mean", "interval", "sd", "median") else
      setdiff(summary_lines, c("se", "cv", "deff"))
}

# The layer of a table that is of the same answer of `each` as that of another.
layer_like <- function(table, layer) {
  each <- vapply(table$layers, function(layer) layer$each, "")
  table$layers[[match(layer$each, each)]]
}

# The figures of every column of the sheet (of statements, of every line): of an
# answer, a net, everybody.
summaries_of <- function(parts, at, alpha) {
  table <- means_table(parts$core)
  core <- layer_like(table, parts$core$layers[[1L]])
  scores <- scores_in(table, core)
  lapply(at, function(at) {
    if (is.na(at) || !has(table, "across"))
      return(layer_summary(core, scores, NULL, alpha))
    if (at <= ncol(core$n)) return(layer_summary(core, scores, at, alpha))
    net <- parts$across[[at - ncol(core$n)]]$layers[[1L]]
    layer_summary(net, scores, 1L, alpha)
  })
}

# Fills the lines of means in; of statements, the columns.
with_summaries <- function(grid, stub, columns, parts, alpha) {
  beside <- has(parts$core, "statements")
  lines <- if (beside) columns else stub
  along <- if (beside) stub else columns
  if (!any(lines$role == "mean")) return(grid)
  first <- which(along$role != "base" & along$nth == 1L)
  found <- summaries_of(parts, along$at[first], alpha)
  for (i in which(lines$role == "mean")) {
    cells <- if (beside) cbind(first, i) else cbind(i, first)
    name <- lines$summary[i]
    values_of <- function(name) vapply(found, `[[`, 0, name)
    grid$value[cells] <- values_of(if (name == "interval") "low" else name) *
      if (name == "cv") 100 else 1
    grid$kind[cells] <-
      switch(name, interval = "mean_interval", cv = , deff = name, "mean")
    if (name == "interval") grid$high[cells] <- values_of("high")
  }
  grid
}

# Letters of the columns (statements) whose mean a mean exceeds.
mean_letters <- function(letters, stub, columns, x, before, second_alpha = NULL) {
  beside <- has(x, "statements")
  means_at <- function(lines) which(lines$role == "mean" & lines$summary == "mean")
  compared_at <- function(lines) which(lines$role == "answer" & lines$nth == 1L)
  mean <- means_at(if (beside) columns else stub)
  if (!length(mean)) return(letters)
  table <- means_table(x)
  layer <- layer_like(table, x$layers[[1L]])
  answers <- answers_across(layer)
  names <- letters_for(before + length(answers))
  beaten_at <- function(alpha) {
    pairs <- layer_mean_differences(
      layer, scores_in(table, layer), alpha, x$choices$correction,
      headings_of(table, "columns", answers)$outer)
    vapply(answers, function(own) {
      beaten <- vapply(pairs, function(pair) {
        if (pair$exceeds == "first" && pair$first == own) pair$second else
          if (pair$exceeds == "second" && pair$second == own) pair$first else
            NA_character_
      }, "")
      paste(names[before + sort(match(beaten, answers))], collapse = " ")
    }, "", USE.NAMES = FALSE)
  }
  text <- beaten_at(x$choices$alpha)
  if (!is.null(second_alpha)) text <- with_capitals(text, beaten_at(second_alpha))
  lines <- if (beside) stub else columns
  for (j in compared_at(lines))
    letters[if (beside) j else mean, if (beside) mean else j] <- text[lines$at[j]]
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
