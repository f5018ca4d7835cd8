# A progress bar for work that takes more than a second: put where the core reports to.
.onLoad <- function(libname, pkgname) progress$show <- progress_bar

progress_bar <- function(done, total, what) {
  if (done == 0) progress$started <- Sys.time()
  if (is.null(progress$bar) && done < total && difftime(Sys.time(), progress$started, units = "secs") > 1) {
    progress$bar <- cli::cli_progress_bar(what, total = total, .auto_close = FALSE,
                                          format = "{cli::pb_name}{cli::pb_bar} {cli::pb_percent}")
  }
  if (is.null(progress$bar)) return(invisible())
  if (done < total) {
    cli::cli_progress_update(set = done, id = progress$bar)
  } else {
    cli::cli_progress_done(id = progress$bar)
    progress$bar <- NULL
  }
  invisible()
}
