# What books and the ranking of questions share: work in batches, failures in
# words, and what is said of a pair.

# The value of an expression, or what went wrong in words.
either <- function(code) {
  tryCatch(code, fairlattice_error = function(e) {
    cli::ansi_strip(first_line(conditionMessage(e)))
  }, error = function(e) {
    words("book.internal", reason = first_line(conditionMessage(e)))
  })
}

# Work on many tables, on several cores where processes can be forked; tells how
# far it is between batches of so many for each core, where it can be interrupted. What
# a batch made goes through `after`, and its leavings are cleared away.
in_batches <- function(x, work, name, what = words("book.progress"),
                       after = function(made, done) made, for_each_core = 64L) {
  size <- for_each_core * setting("threads")
  out <- list()
  show_progress(0, length(x), what)
  for (from in seq(1L, length(x), by = size)) {
    at <- from:min(length(x), from + size - 1L)
    out[at] <- after(on_cores(x[at], work), x[at])
    if (length(x) > size) gc(full = FALSE)
    show_progress(max(at), length(x), what, name(x[max(at)]))
  }
  out
}

# The cell that departs most from independence, in words: "Peat in Norrey: 34.2%
# against 21.0%".
strongest_cell <- function(x, k, residual = residuals_of(x)[[k]]$adjusted_residual,
                           share = shares_of(x)[[k]]$share) {
  layer <- x$layers[[k]]
  if (is.null(residual) || all(is.na(residual))) return(NULL)
  at <- strongest_first(residual)[1L]
  across_rows <- x$choices$percent == "row"
  margin <- layer$margins[[if (across_rows) "across" else "down"]]$weighted /
            answers_in_all(layer)
  names <- cells_of_layer(layer)
  overall <- if (across_rows) margin[as.vector(col(layer$n))[at]] else
    margin[as.vector(row(layer$n))[at]]
  words("summary.cell", down = names$down[at], across = names$across[at],
        share = share[at], overall = overall,
        percent = x$choices$percent)
}

# Whether one of a pair nearly says the other: by how much it reduces the errors
# in guessing it.
apart_of <- function(layer, title, other, nearly = 0.95) {
  P <- layer$weighted / sum(layer$weighted)
  saved <- function(P) {
    modal <- max(row_sums(P))
    if (modal >= 1) 0 else (sum(P[column_peaks_kernel(P)]) - modal) / (1 - modal)
  }
  down <- saved(P) # the answer down guessed from that across
  across <- saved(t(P))
  if (min(down, across) >= nearly)
    return(words("related.copies", question = title, other = other))
  if (down >= nearly)
    return(words("related.says", question = other, other = title))
  if (across >= nearly)
    return(words("related.says", question = title, other = other))
  ""
}

# In the language and the style that a book was made in.
in_book <- function(b, code) {
  local_language(b$language)
  in_style(b$style, code)
}

# V, and beside it V corrected for chance, in whose interval it lies, where the
# two differ in print.
v_shown <- function(v, corrected) {
  text <- format_strength(v)
  other <- format_strength(corrected)
  ifelse(is.na(v), "", ifelse(is.na(corrected) | text == other, text,
                              sprintf("%s (%s)", text, other)))
}
