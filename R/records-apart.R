# A source that is asked in a process of its own, so that this one can go on
# meanwhile, and that gives up what nobody waits for any more, here and in the
# database.

# `waits` is called again and again until the answer is there. Where it does not
# come back (an error, or a condition that is caught), the question is given up.
source_apart <- function(source, waits) {
  worker <- new.env(parent = emptyenv())
  begin_worker(worker, source$again)
  apart <- c("sums", "repeats", "least")
  source[apart] <- lapply(apart, function(what) {
    function(...) asked_apart(worker, source, what, list(...), waits)
  })
  source
}

# The process opens the same source, while this one goes on.
begin_worker <- function(worker, again) {
  worker$session <- new_r_session(supervise = TRUE)
  worker$opened <- FALSE
  own <- options()
  worker$session$call(open_apart, list(
    again, own[startsWith(names(own), "fairlattice.")], getwd(), voice$speaks))
}

# In the process, which knows nothing of this file: the source, and the number
# of its connection at the server.
open_apart <- function(again, settings, folder, speaks) {
  setwd(folder)
  options(settings)
  own <- asNamespace("fairlattice")
  assign("speaks", speaks, envir = own$voice)
  source <- do.call(own$far_records, again)
  options(fairlattice_source = source)
  if (!is.null(source$number)) source$number()
}

ask_opened <- function(what, arguments) {
  do.call(getOption("fairlattice_source")[[what]], arguments)
}

asked_apart <- function(worker, source, what, arguments, waits) {
  if (is.null(worker$session) || !worker$session$is_alive())
    begin_worker(worker, source$again)
  answered <- FALSE
  on.exit(if (!answered) give_up(worker, source))
  if (isFALSE(worker$opened)) worker$opened <- list(number = answer_of(worker, waits))
  worker$session$call(ask_opened, list(what, arguments))
  found <- tryCatch(answer_of(worker, waits), fairlattice_error = identity)
  answered <- TRUE
  if (inherits(found, "fairlattice_error")) stop(found)
  found
}

# What the process answers; its error is an error here.
answer_of <- function(worker, waits) {
  session <- worker$session
  while (session$poll_process(20) == "timeout") waits()
  said <- if (session$is_alive()) session$read()
  cat(said$stderr, file = stderr()) # queries that are told
  if (!is.null(said$error$parent)) stop(said$error$parent)
  if (!identical(said$code, 200L))
    stop_input(tells("reading_process_ended"), "database", call = NULL)
  said$result
}

# The query is ended at the server, too: it would go on there until it has its
# answer. It may be over by now.
give_up <- function(worker, source) {
  session <- worker$session
  worker$session <- NULL
  if (is.list(worker$opened) && !is.null(source$cancel))
    tryCatch(source$cancel(worker$opened$number), error = function(e) NULL)
  session$kill()
}
