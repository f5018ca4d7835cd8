# Lints every file of the package by .lintr, two at a time; the status is 1 when
# anything is found.
# Rscript tools/lint.R
folders <- c("R", "tests", "inst", "data-raw", "vignettes", "bench", "tools")
files <- list.files(folders, "[.](R|Rmd)$", full.names = TRUE, recursive = TRUE)
files <- files[order(-file.size(files))]
# how branched a function is takes most of the time, and is asked of what the package runs only:
# tests, and catalogues of sentences, hardly branch
lint <- function(file) {
  if (grepl("^R/", file) && !grepl("^R/words-", file)) return(lintr::lint(file))
  lintr::lint(file, linters = unbranched)
}
unbranched <- eval(parse(text = read.dcf(".lintr", "linters"))[[1L]], asNamespace("lintr"))
unbranched <- unbranched[names(unbranched) != "cyclocomp_linter"]
found <-
  parallel::mclapply(files, lint, mc.cores = 2L, mc.preschedule = FALSE)
failed <- vapply(found, inherits, NA, what = "try-error")
if (any(failed))
  stop("lint: ", files[failed][1L], " cannot be read", call. = FALSE)
for (one in found[lengths(found) > 0L]) print(one)
quit(save = "no", status = as.integer(any(lengths(found) > 0L)))
