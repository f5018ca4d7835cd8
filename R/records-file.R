# Writes to a new file in the same folder, then renames it: the old file stays until the new one is whole.
write_beside <- function(path, write, call) {
  beside <- tempfile(paste0(".", basename(path), "-"), dirname(path), paste0(".", tools::file_ext(path)))
  on.exit(unlink(beside))
  stop_here <- function(why) {
    stop_input(c(sprintf("\"%s\" cannot be written.", path), x = why, i = "See that the folder may be written to and has room."), "not_written", path = path, call = call)
  }
  withCallingHandlers(
    tryCatch(write(beside), error = function(e) if (inherits(e, "fairlattice_error")) stop(e) else stop_here(first_line(conditionMessage(e)))),
    warning = function(w) if (grepl("cannot open|No space|not permitted|denied", conditionMessage(w))) stop_here(first_line(conditionMessage(w))))
  if (!file.exists(beside) || !suppressWarnings(file.rename(beside, path))) stop_here("It could not be put in its place.")
}
