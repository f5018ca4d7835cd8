# A progress bar for work that takes more than a second: put where the core
# reports to.
.onLoad <- function(libname, pkgname) {
  progress$show <- progress_bar
  reader$home <- Sys.getpid()
}

# `at` is the piece at hand of work that is counted in pieces.
progress_bar <- function(done, total, what, at = NULL) {
  if (done == 0) progress$started <- Sys.time()
  if (is.null(progress$bar) && done < total &&
        difftime(Sys.time(), progress$started, units = "secs") > 1) {
    # files of which a share is read tell for themselves how long it will take,
    # which has no room beside a bar
    counted <- if (total == 1)
      "{cli::pb_name}{cli::pb_percent}, {cli::pb_status}" else
      paste("{cli::pb_name}{cli::pb_bar} {cli::pb_current}/{cli::pb_total}",
            "{cli::pb_status}{cli::pb_eta_str}")
    progress$bar <- cli::cli_progress_bar(
      what, total = total, .auto_close = FALSE,
      format = if (is.null(at))
        "{cli::pb_name}{cli::pb_bar} {cli::pb_percent}" else counted)
  }
  if (is.null(progress$bar)) return(invisible())
  if (done < total) {
    cli::cli_progress_update(set = done, id = progress$bar,
                             status = if (!is.null(at)) paste0(at, " "))
  } else {
    cli::cli_progress_done(id = progress$bar)
    progress$bar <- NULL
  }
  invisible()
}
