# Where every record is: in the table, or left out for a reason.

# Every record is in the table or left out for one reason: `each` first, then `down`, then `across`. A reason has a
# code, the question it is of ("" for the record as a whole), and its detail.
account_of <- function(tally) {
  cells <- tally$cells
  used <- rep(TRUE, nrow(cells))
  reasons <- list(code = tally$aside$code, question = rep("", nrow(tally$aside)), detail = tally$aside$detail,
                  records = tally$aside$records)
  for (side in c("each", "down", "across")) if (!is.null(tally[[side]])) {
    question <- tally[[side]]
    code <- cells[[side]]
    out <- used & c(TRUE, question$missing)[code + 1L]
    if (any(out)) {
      sums <- sum_by_cell_kernel(code[out] + 1L, as.numeric(cells$records[out]), length(question$levels) + 1L)
      met <- which(tabulate(code[out] + 1L, length(sums)) > 0L)
      reasons <- Map(c, reasons, list(ifelse(met == 1L, "no_answer", "missing"), rep(question$label, length(met)),
                                      c("", question$levels)[met], sums[met]))
    }
    used <- used & !out
  }
  reasons <- lapply(reasons, `[`, reasons$records > 0)
  # two questions of one title (the same question asked twice) have their reasons in common
  key <- paste(reasons$code, reasons$question, reasons$detail, sep = "\r")
  first <- !duplicated(key)
  reasons$records <- as.vector(rowsum(reasons$records, match(key, key[first])))
  reasons[c("code", "question", "detail")] <- lapply(reasons[c("code", "question", "detail")], `[`, first)
  order <- order(-reasons$records, reasons$question, reasons$detail, reasons$code, method = "radix")
  list(records = tally$records, used = sum(cells$records[used]), left_out = list2DF(lapply(reasons, `[`, order)),
       respondents = if (!is.null(tally$facts$roles$count) || !is.null(tally$facts$counts)) sum(cells$n[used]))
}

# The same of a lattice, kept with it.
account_in <- function(x) once(x$kept, "account", NULL, account_of(x$tally))
