# Each on a core of its own where processes can be forked: what a table takes is
# worth the process.
on_cores <- function(x, work) {
  cores <- if (.Platform$OS.type == "unix")
    min(setting("threads"), length(x)) else 1L
  if (cores < 2L) return(lapply(x, work))
  # errors are raised below, so the warnings about them are none
  out <- suppressWarnings(parallel::mclapply(
                            x, function(one) {
                              tryCatch(work(one), error = identity)
                            }, mc.cores = cores))
  for (k in seq_along(out)) {
    if (inherits(out[[k]], "error")) stop(out[[k]])
    # its process was ended from outside
    if (is.null(out[[k]]) || inherits(out[[k]], "try-error"))
      out[[k]] <- work(x[[k]])
  }
  out
}

# Two works at once, `aside` in a process of its own where there can be one; NULL is none. A list
# of what both give.
at_once <- function(here, aside) {
  if (is.null(aside)) return(list(here = here()))
  if (.Platform$OS.type != "unix" || setting("threads") < 2L)
    return(list(here = here(), aside = aside()))
  job <- parallel::mcparallel(tryCatch(aside(), error = identity), silent = TRUE)
  collected <- FALSE
  on.exit(if (!collected) {
    tools::pskill(job$pid)
    parallel::mccollect(job)
  })
  mine <- here()
  other <- suppressWarnings(parallel::mccollect(job))[[1L]]
  collected <- TRUE
  if (inherits(other, "error")) stop(other)
  # its process was ended from outside
  if (is.null(other) || inherits(other, "try-error")) other <- aside()
  list(here = mine, aside = other)
}
