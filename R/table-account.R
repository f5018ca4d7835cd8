# Where every record is: in the table, or left out for a reason.

# Every record is in the table or left out for one reason: `each` first, then
# `down`, then `across`. A reason has a code, the question it is of ("" for the
# record as a whole), and its detail.
account_of <- function(tally) {
  tally <- unclass(tally)
  cells <- unclass(tally$cells)
  aside <- unclass(tally$aside)
  sides <-
    Filter(function(side) !is.null(tally[[side]]), c("each", "down", "across"))
  found <- left_out_kernel(cells[sides],
                           lapply(tally[sides], function(question) {
                             c(TRUE, question$missing)
                           }), as.numeric(cells$records))
  reasons <- list(code = aside$code, question = rep("", length(aside$code)),
                  detail = aside$detail, records = as.numeric(aside$records))
  for (k in seq_along(sides)) {
    question <- tally[[sides[k]]]
    met <- which(found$records[[k]] > 0)
    reasons <- list(code = c(reasons$code,
                             c("missing", "no_answer")[(met == 1L) + 1L]),
                    question = c(reasons$question,
                                 rep(question$label, length(met))),
                    detail = c(reasons$detail, c("", question$levels)[met]),
                    records = c(reasons$records, found$records[[k]][met]))
  }
  # two questions of one title (the same question asked twice) have their
  # reasons in common
  key <- paste(reasons$code, reasons$question, reasons$detail, sep = "\r")
  first <- match(key, key)
  reasons$records <- sum_by_cell_kernel(first, reasons$records, length(first))
  by_reason <- order(-reasons$records, reasons$question, reasons$detail,
                     reasons$code, method = "radix")
  by_reason <- by_reason[reasons$records[by_reason] > 0]
  list(records = tally$records, used = sum(cells$records[found$used]),
       left_out = frame_with(lapply(reasons, `[`, by_reason)),
       respondents = if (!is.null(tally$facts$roles$count) ||
                           !is.null(tally$facts$counts))
         sum(cells$n[found$used]))
}

# The same of a crosstab, kept with it.
account_in <- function(x) once(x$kept, "account", NULL, account_of(x$tally))
