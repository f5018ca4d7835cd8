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
