# The command desk.

desk_command_options <- function() {
  c(in_group("Options",
             one("--port", "NUMBER",
                 "the port of its address (default a free one)", number = TRUE),
             switch_on("--no-browser", "print the address and open nothing"),
             one("--language", "LANGUAGE",
                 "language of what is said (default en)",
                 choices = setting_choices$language)), file_options(),
    source_options())
}

run_desk <- function(options, files) {
  check_sources(options)
  if (identical(files, "-")) stop_words(tells("desk_needs_file_goes_reading"))
  if (!is.null(options$port)) check_port(options$port, NULL)
  local_language(options$language)
  records <- records_asked(options, files)
  # the line goes out at once: all else that a command prints is gathered until
  # it ends
  say <- function(line) {
    cat("Ctrl-C ends the desk. It answers at this address alone:\n",
        file = stderr())
    standard_output_kernel(charToRaw(paste0(line, "\n")))
  }
  read <-
    Filter(function(one) !is.null(one) && !isFALSE(one),
           options[vapply(c(file_options(), source_options()), option_name, "")])
  tryCatch(run_desk_of(records, "records", options$port,
                       !isTRUE(options$no_browser), say, NULL, read,
                       if (isTRUE(options$in_chunks)) files),
           interrupt = function(e) invisible())
  0L
}
