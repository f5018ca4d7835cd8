# Which answers to join in a sparse table: the one with the fewest respondents
# among those with small expected counts, with its smaller neighbour (ordered)
# or with the next smallest (not ordered), until the rule holds.

# The table with its answers joined, and the steps that led there.
joined_until_full <- function(x, call) {
  now <- x
  steps <- list()
  while (is_sparse(now)) {
    step <- next_join(now)
    if (is.null(step)) break
    now <- new_crosstab(join_tally(now$tally, step$side, step$answers),
                        x$choices, call)
    steps <- c(steps,
               list(list(question = x$tally[[step$side]]$label,
                         joined = paste(step$answers, collapse = " + "))))
  }
  list(table = now, steps = steps)
}

is_sparse <- function(x) {
  layer <- x$layers[[1L]]
  is.null(no_test_reason(layer)) && sparse_rule(layer$estimate)$sparse
}

# The line with the smallest margin among those with a small expected count, and
# whom it is joined with.
next_join <- function(x) {
  e <- x$layers[[1L]]$estimate
  E <- sparse_rule(e)$E
  small <- E < setting("sparse_expected")
  lines <- rbind(
    data.frame(side = "down", at = seq_len(nrow(E)), size = row_sums(E),
               small = row_sums(small) > 0, open = nrow(E) > 2L),
    data.frame(side = "across", at = seq_len(ncol(E)), size = column_sums(E),
               small = column_sums(small) > 0, open = ncol(E) > 2L))
  lines <- lines[lines$small & lines$open, ]
  if (!nrow(lines)) return(NULL)
  line <- lines[which.min(lines$size), ]
  sums <- if (line$side == "down") row_sums(E) else column_sums(E)
  others <- if (x$tally[[line$side]]$ordered)
    intersect(line$at + c(-1L, 1L), seq_along(sums)) else
    setdiff(seq_along(sums), line$at)
  with <- others[which.min(sums[others])]
  names <- dimnames(e$P)[[match(line$side, c("down", "across"))]]
  list(side = line$side, answers = names[sort(c(line$at, with))])
}

# A tally with answers of one question joined into one.
join_tally <- function(tally, side, answers) {
  question <- tally[[side]]
  new <- paste(answers, collapse = " + ")
  # a step like any other, so that the table can be made anew
  if (!is.null(tally$facts$made))
    tally$facts$made$steps <- c(tally$facts$made$steps, list(
      list(verb = "regroup", with = list(question = question$name,
                                         answers = stats::setNames(list(answers), new)))))
  becomes <- replace(question$levels, question$levels %in% answers, new)
  levels <- unique(becomes)
  tally$cells[[side]] <- c(0L, match(becomes, levels))[tally$cells[[side]] + 1L]
  tally$cells <- sum_by(tally$cells, c("unit", "each", "across", "down"),
                        summed_columns(tally$cells))
  first <- match(levels, becomes)
  question[c("levels", "missing", "values")] <- list(
    levels, question$missing[first],
    ifelse(levels == new, new, question$values[first]))
  question$history <-
    c(question$history, list(said("joined", new = new, old = answers)))
  tally[[side]] <- question
  tally
}
