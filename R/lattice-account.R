# Where every record is: in the table, or left out for a reason.

# Every record is in the table or left out for one reason: `each` first, then `down`, then `across`. A reason has a
# code, the question it is of ("" for the record as a whole), and its detail.
account_of <- function(tally) {
  tally <- unclass(tally)
  cells <- as.list(tally$cells)
  used <- rep(TRUE, length(cells$records))
  reasons <- list(code = tally$aside$code, question = rep("", nrow(tally$aside)), detail = tally$aside$detail,
                  records = tally$aside$records)
  for (side in c("each", "down", "across")) if (!is.null(tally[[side]])) {
    question <- tally[[side]]
    code <- cells[[side]]
    out <- used & c(TRUE, question$missing)[code + 1L]
    if (any(out)) {
      sums <- sum_by_cell_kernel(code[out] + 1L, as.numeric(cells$records[out]), length(question$levels) + 1L)
      met <- which(tabulate(code[out] + 1L, length(sums)) > 0L)
      found <- list(code = c("missing", "no_answer")[(met == 1L) + 1L], question = rep(question$label, length(met)),
                    detail = c("", question$levels)[met], records = sums[met])
      for (name in names(found)) reasons[[name]] <- c(reasons[[name]], found[[name]])
    }
    used <- used & !out
  }
  # two questions of one title (the same question asked twice) have their reasons in common
  key <- paste(reasons$code, reasons$question, reasons$detail, sep = "\r")
  first <- match(key, key)
  reasons$records <- sum_by_cell_kernel(first, as.numeric(reasons$records), length(first))
  order <- order(-reasons$records, reasons$question, reasons$detail, reasons$code, method = "radix")
  order <- order[reasons$records[order] > 0]
  list(records = tally$records, used = sum(cells$records[used]), left_out = frame_with(lapply(reasons, `[`, order)),
       respondents = if (!is.null(tally$facts$roles$count) || !is.null(tally$facts$counts)) sum(cells$n[used]))
}

# The same of a lattice, kept with it.
account_in <- function(x) once(x$kept, "account", NULL, account_of(x$tally))
