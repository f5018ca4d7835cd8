#' Mend a sparse table
#'
#' For a table that breaks the sparse rule, proposes which answers to join: the answer with the fewest respondents
#' among those with small expected counts, with its smaller neighbour (ordered) or with the next smallest (not
#' ordered), until the rule holds or two answers are left on each side. Shows the effect on the test. Does it only when
#' told.
#'
#' @param x (lattice) One table from [lattice()] or [lattice_of_counts()], without `each` or ticks.
#' @param apply (TRUE or FALSE, default FALSE) Whether to give the table with the answers joined instead of the
#'   proposal.
#' @param ... Nothing: what is put here is an error, with the nearest argument's name.
#' @return With `apply`, a lattice. Otherwise a list of class `fairlattice_regrouping`: `steps` (`question`, `joined`),
#'   `small` (share of small expected counts, before and after), `tests` (headline before and after), `mended`.
#' @export
#' @examples
#' few <- lattice(demo_records(60), down = ferry, across = island)
#' regroup_sparse(few)
#' regroup_sparse(few, apply = TRUE)
regroup_sparse <- function(x, apply = FALSE, ...) {
  nothing_else(...)
  call <- environment()
  check_class(x, "fairlattice_lattice", "x", "lattice()", call)
  check_flag(apply, "apply", call)
  if (is.null(x$tally) || length(x$layers) > 1L || any(ticks_in(x$tally))) {
    stop_input("`x` must be one table made from records or counts, without `each` and without ticks.", "regroup",
               call = call)
  }
  now <- x
  steps <- list()
  while (is.null(no_test_reason(now$layers[[1L]])) && sparse_rule(now$layers[[1L]]$estimate)$sparse) {
    step <- next_join(now)
    if (is.null(step)) break
    now <- new_lattice(join_tally(now$tally, step$side, step$answers), x$choices, call)
    steps <- c(steps, list(list(question = x$tally[[step$side]]$label, joined = paste(step$answers, collapse = " + "))))
  }
  if (apply) return(now)
  headline <- function(table) Find(function(row) row$headline, layer_tests(table$layers[[1L]]))
  share <- function(table) if (is.null(no_test_reason(table$layers[[1L]])))
    sparse_rule(table$layers[[1L]]$estimate)$share else NA_real_
  structure(list(
    steps = if (length(steps)) rows_to_frame(steps) else data.frame(question = character(), joined = character()),
    small = c(before = share(x), after = share(now)), tests = rows_to_frame(list(headline(x), headline(now))),
    mended = is.null(no_test_reason(now$layers[[1L]])) && !sparse_rule(now$layers[[1L]]$estimate)$sparse),
    class = "fairlattice_regrouping")
}

# The rules that call a table sparse (option `sparse_rule`), with the cut-offs of the options: each gives whether it
# is, and its name.
sparse_rules <- list(
  cochran = list(name = "Cochran 1954", sparse = function(E) {
    allowed <- if (all(dim(E) == 2L)) 0 else setting("sparse_share") * length(E)
    sum(E < setting("sparse_expected")) > allowed || min(E) < setting("sparse_least")
  }),
  every = list(name = "every expected count", sparse = function(E) any(E < setting("sparse_expected"))),
  average = list(name = "their average, Roscoe & Byars 1971", sparse = function(E) mean(E) < setting("sparse_expected"))
)

sparse_rule <- function(e) {
  E <- e$n * expected_proportions(e$P)
  small <- sum(E < setting("sparse_expected"))
  rule <- sparse_rules[[setting("sparse_rule")]]
  list(E = E, small = small, share = small / length(E), least = min(E), sparse = rule$sparse(E), name = rule$name)
}

# The line with the smallest margin among those with a small expected count, and whom it is joined with.
next_join <- function(x) {
  e <- x$layers[[1L]]$estimate
  E <- sparse_rule(e)$E
  small <- E < setting("sparse_expected")
  lines <- rbind(
    data.frame(side = "down", at = seq_len(nrow(E)), size = rowSums(E), small = rowSums(small) > 0,
               open = nrow(E) > 2L),
    data.frame(side = "across", at = seq_len(ncol(E)), size = colSums(E), small = colSums(small) > 0,
               open = ncol(E) > 2L))
  lines <- lines[lines$small & lines$open, ]
  if (!nrow(lines)) return(NULL)
  line <- lines[which.min(lines$size), ]
  sums <- if (line$side == "down") rowSums(E) else colSums(E)
  others <- if (x$tally[[line$side]]$ordered) intersect(line$at + c(-1L, 1L), seq_along(sums)) else
    setdiff(seq_along(sums), line$at)
  with <- others[which.min(sums[others])]
  names <- dimnames(e$P)[[match(line$side, c("down", "across"))]]
  list(side = line$side, answers = names[sort(c(line$at, with))])
}

# A tally with answers of one question joined into one.
join_tally <- function(tally, side, answers) {
  question <- tally[[side]]
  new <- paste(answers, collapse = " + ")
  becomes <- replace(question$levels, question$levels %in% answers, new)
  levels <- unique(becomes)
  tally$cells[[side]] <- c(0L, match(becomes, levels))[tally$cells[[side]] + 1L]
  tally$cells <- sum_by(tally$cells, c("unit", "each", "across", "down"), summed_columns(tally$cells))
  first <- match(levels, becomes)
  question[c("levels", "missing", "values")] <- list(levels, question$missing[first],
                                                     ifelse(levels == new, new, question$values[first]))
  question$history <- c(question$history, sprintf("%s joined from %s", new, paste(answers, collapse = ", ")))
  tally[[side]] <- question
  tally
}
