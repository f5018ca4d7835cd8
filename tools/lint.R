# Lints every file of the package by .lintr, two at a time, and counts how
# branched its functions are; the status is 1 when anything is found.
# Rscript tools/lint.R [FILE ...]
folders <- c("R", "tests", "inst", "data-raw", "vignettes", "bench", "tools")
files <- commandArgs(trailingOnly = TRUE)
if (!length(files))
  files <- list.files(folders, "[.](R|Rmd)$", full.names = TRUE, recursive = TRUE)
files <- files[order(-file.size(files))]
most_branches <- 25L

# The functions of a file that have too many branches: one more than its
# decisions (McCabe 1976). What stands within another function counts there.
branched <- function(file) {
  tokens <- utils::getParseData(parse(file, keep.source = TRUE, encoding = "UTF-8"))
  place <- function(line, column) line * 1e4 + column
  from <- place(tokens$line1, tokens$col1)
  to <- place(tokens$line2, tokens$col2)
  whole <- match(tokens$parent[tokens$token %in% c("FUNCTION", "'\\\\'")], tokens$id)
  whole <- whole[order(from[whole])]
  whole <- whole[to[whole] > c(0, cummax(to[whole])[-length(whole)])] # not within another
  decisions <- from[tokens$token %in% c("IF", "FOR", "WHILE", "AND2", "OR2")]
  at <- findInterval(decisions, from[whole])
  inside <- at > 0L & decisions <= c(0, to[whole])[at + 1L]
  branches <- 1L + tabulate(at[inside], length(whole))
  many <- branches > most_branches
  sprintf("%s:%d: a function of %d branches (at most %d)", rep(file, sum(many)),
          tokens$line1[whole][many], branches[many], most_branches)
}

invisible(loadNamespace("lintr")) # once, not in every process
lint <- function(file) {
  list(lintr::lint(file), if (grepl("[.]R$", file)) branched(file))
}
found <- parallel::mclapply(files, lint, mc.cores = 2L, mc.preschedule = FALSE)
failed <- vapply(found, inherits, NA, what = "try-error")
if (any(failed))
  stop("lint: ", files[failed][1L], " cannot be read", call. = FALSE)
for (one in found) {
  if (length(one[[1L]])) print(one[[1L]])
  writeLines(as.character(one[[2L]]))
}
any_found <- any(vapply(found, function(one) sum(lengths(one)) > 0L, NA))
quit(save = "no", status = as.integer(any_found))
