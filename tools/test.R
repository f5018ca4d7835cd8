# Runs the tests against the installed package and closes with a plain line of counts; the status is 1 when any fails.
# Rscript tools/test.R [part of a test file's name]
# Files run two at a time, each in a process of its own, the longest first; one file alone runs here.
suppressPackageStartupMessages(library(testthat))
part <- commandArgs(trailingOnly = TRUE)

# Passed, failed and skipped of the files whose names hold `filter`.
run_here <- function(filter) {
  results <- test_dir("tests/testthat", filter = filter, package = "fairlattice", load_package = "installed",
                      reporter = SummaryReporter$new(show_praise = FALSE), stop_on_failure = FALSE)
  counts <- as.data.frame(results)
  c(sum(counts$passed), sum(counts$failed) + sum(counts$error), sum(counts$skipped))
}

closing_line <- "^([0-9]+) passed, ([0-9]+) failed, ([0-9]+) skipped$"

# The same, of files in processes of their own; one that ends without its closing line has failed.
run_apart <- function(names, at_once = 2L) {
  counts <- c(0, 0, 0)
  running <- list()
  program <- file.path(R.home("bin"), "Rscript")
  while (length(names) || length(running)) {
    while (length(names) && length(running) < at_once) {
      out <- tempfile()
      running[[out]] <- processx::process$new(program, c("tools/test.R", sprintf("^%s$", names[1L])), stdout = out,
                                              stderr = "2>&1", cleanup_tree = TRUE)
      names <- names[-1L]
    }
    Sys.sleep(0.1)
    for (out in names(Filter(function(process) !process$is_alive(), running))) {
      said <- readLines(out, warn = FALSE)
      writeLines(said[!grepl(closing_line, said)])
      last <- grep(closing_line, said, value = TRUE)
      found <- regmatches(last, regexec(closing_line, last))
      counts <- counts + if (length(found)) as.numeric(found[[1L]][-1L]) else c(0, 1, 0)
      running[[out]] <- NULL
    }
  }
  counts
}

files <- list.files("tests/testthat", "^test-.*[.]R$", full.names = TRUE)
names <- sub("^test-(.*)[.]R$", "\\1", basename(files[order(-file.size(files))]))
first <- c("source", "demo", "source-alike") # they wait for servers and processes
names <- c(intersect(first, names), setdiff(names, first))
counts <- if (length(part)) run_here(part[[1L]]) else run_apart(names)
cat(sprintf("%.0f passed, %.0f failed, %.0f skipped\n", counts[1L], counts[2L], counts[3L]))
quit(save = "no", status = as.integer(counts[2L] > 0))
