# Runs the tests against the installed package, prints how long each file took,
# and closes with a plain line of counts; the status is 1 when any fails. With
# FAIRLATTICE_STRICT a test that is skipped fails too, unless what it lacks
# stands in tools/may-be-skipped. Rscript tools/test.R [part of a test file's
# name] Files run three at a time, since some wait for a server or another program,
# each in a process of its own, those first that took longest when they last ran;
# one file alone runs here.
suppressPackageStartupMessages(library(testthat))
part <- commandArgs(trailingOnly = TRUE)
strict <- nzchar(Sys.getenv("FAIRLATTICE_STRICT"))
may_be_skipped <- readLines("tools/may-be-skipped")

# Why each test was skipped.
skips_in <- function(results) {
  unlist(lapply(results, function(one) {
    skipped <-
      Filter(function(result) inherits(result, "expectation_skip"), one$results)
    lapply(skipped, function(result) {
      sprintf("%s: %s", one$test,
              sub("^Reason: ", "", conditionMessage(result)))
    })
  }))
}

is_allowed <- function(skips) {
  vapply(skips, function(why) {
    any(vapply(may_be_skipped, grepl, NA, x = why, fixed = TRUE))
  }, NA)
}

# What failed: the test, and the first line of what it said.
failures_in <- function(results) {
  unlist(lapply(results, function(one) {
    failed <- Filter(function(result) {
      inherits(result, c("expectation_failure", "expectation_error"))
    }, one$results)
    vapply(failed, function(result) {
      said <- strsplit(conditionMessage(result), "\n", fixed = TRUE)[[1L]][1L]
      sprintf("Failed in %s: %s: %s", one$file, one$test, said)
    }, "")
  }))
}

# Passed, failed and skipped of the files whose names hold `filter`.
run_here <- function(filter) {
  # what an author is told of every file would bury what fails
  results <- withCallingHandlers(
    test_dir("tests/testthat", filter = filter, package = "fairlattice",
             load_package = "installed",
             reporter = SummaryReporter$new(show_praise = FALSE),
             stop_on_failure = FALSE),
    fairlattice_before_handing_on = function(m) tryInvokeRestart("muffleMessage"))
  counts <- as.data.frame(results)
  skips <- skips_in(results)
  odd <- if (strict && length(skips)) skips[!is_allowed(skips)]
  if (length(odd))
    writeLines(paste("Failed: skipped, which this machine must not:", odd))
  writeLines(as.character(failures_in(results)))
  c(sum(counts$passed), sum(counts$failed) + sum(counts$error) + length(odd),
    sum(counts$skipped) - length(odd))
}

closing_line <- "^([0-9]+) passed, ([0-9]+) failed, ([0-9]+) skipped$"

# The same, of files in processes of their own; one that ends without its
# closing line has failed.
run_apart <- function(names, at_once = 3L) {
  counts <- c(0, 0, 0)
  seconds <- numeric()
  failures <- character()
  running <- list()
  program <- file.path(R.home("bin"), "Rscript")
  while (length(names) || length(running)) {
    while (length(names) && length(running) < at_once) {
      out <- tempfile()
      process <- processx::process$new(
        program, c("tools/test.R", sprintf("^%s$", names[1L])), stdout = out,
        stderr = "2>&1", cleanup_tree = TRUE)
      running[[out]] <-
        list(process = process, name = names[1L], began = Sys.time())
      names <- names[-1L]
    }
    Sys.sleep(0.1)
    for (out in names(Filter(function(one) !one$process$is_alive(), running))) {
      one <- running[[out]]
      seconds[one$name] <-
        as.numeric(difftime(Sys.time(), one$began, units = "secs"))
      said <- readLines(out, warn = FALSE)
      writeLines(said[!grepl(closing_line, said)])
      last <- grep(closing_line, said, value = TRUE)
      found <- regmatches(last, regexec(closing_line, last))
      counts <-
        counts + if (length(found)) as.numeric(found[[1L]][-1L]) else c(0, 1, 0)
      failures <- c(failures, grep("^Failed", said, value = TRUE),
                    if (!length(found)) paste("Failed: ended early:", one$name))
      running[[out]] <- NULL
    }
  }
  list(counts = counts, failures = failures,
       seconds = sort(seconds, decreasing = TRUE))
}

# Seconds a file, as kept: of this checkout's last run, or those that are
# committed.
kept <-
  Filter(file.exists, c(".build/test-seconds.csv", "tools/test-seconds.csv"))
names <-
  sub("^test-(.*)[.]R$", "\\1", list.files("tests/testthat", "^test-.*[.]R$"))
longest_first <- function(names) {
  took <- if (length(kept)) utils::read.csv(kept[1L]) else
    data.frame(file = character(), seconds = numeric())
  seconds <- took$seconds[match(names, took$file)]
  names[order(-replace(seconds, is.na(seconds), Inf))] # of a new file nobody knows
}

if (length(part)) {
  counts <- run_here(part[[1L]])
} else {
  found <- run_apart(longest_first(names))
  counts <- found$counts
  seconds <-
    data.frame(file = names(found$seconds), seconds = round(found$seconds, 1L))
  utils::write.csv(seconds, ".build/test-seconds.csv", row.names = FALSE,
                   quote = FALSE)
  cat("\nSeconds a file, the longest first (kept in .build/test-seconds.csv):\n")
  writeLines(strwrap(paste(sprintf("%s\u00a0%.0f", seconds$file,
                                   seconds$seconds), collapse = ", "), 100L))
  writeLines(found$failures)
}
cat(sprintf("%.0f passed, %.0f failed, %.0f skipped\n", counts[1L], counts[2L],
            counts[3L]))
quit(save = "no", status = as.integer(counts[2L] > 0))
