# Each on a core of its own where processes can be forked, of which this one takes its share:
# what a table takes is worth the process.
on_cores <- function(x, work) {
  cores <- if (.Platform$OS.type == "unix") min(setting("threads"), length(x)) else 1L
  if (cores < 2L) return(lapply(x, work))
  shares <- unname(split(seq_along(x), rep_len(seq_len(cores), length(x))))
  made <- function(at) lapply(x[at], function(one) tryCatch(work(one), error = identity))
  jobs <- lapply(shares[-1L], function(at) parallel::mcparallel(made(at), silent = TRUE))
  on.exit(if (length(jobs)) {
    tools::pskill(vapply(jobs, `[[`, 0L, "pid"))
    parallel::mccollect(jobs)
  })
  out <- lapply(x, function(one) NULL)
  out[shares[[1L]]] <- made(shares[[1L]])
  # errors are raised below, so the warnings about them are none
  others <- suppressWarnings(parallel::mccollect(jobs))
  jobs <- list()
  ended <- !vapply(others, is.list, NA) # from outside
  out[unlist(shares[-1L][!ended])] <- unlist(unname(others[!ended]), recursive = FALSE)
  out[unlist(shares[-1L][ended])] <- made(unlist(shares[-1L][ended]))
  for (one in out) if (inherits(one, "error")) stop(one)
  out
}

# Two works at once, `here` in this process, `aside` in one of its own where there can be one;
# NULL is none. A list of what both give.
at_once <- function(here, aside) {
  on_cores(Filter(Negate(is.null), list(here = here, aside = aside)), function(work) work())
}
