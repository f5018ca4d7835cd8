# Runs the tests against the installed package and closes with a plain line of counts; the status is 1 when any fails.
# Rscript tools/test.R [part of a test file's name]
suppressPackageStartupMessages(library(testthat))
args <- commandArgs(trailingOnly = TRUE)
results <- test_dir("tests/testthat", filter = if (length(args)) args[[1L]], package = "fairlattice", load_package = "installed",
                    reporter = SummaryReporter$new(show_praise = FALSE), stop_on_failure = FALSE)
counts <- as.data.frame(results)
failed <- sum(counts$failed) + sum(counts$error)
cat(sprintf("%d passed, %d failed, %d skipped\n", sum(counts$passed), failed, sum(counts$skipped)))
quit(save = "no", status = as.integer(failed > 0))
