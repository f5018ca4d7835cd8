# What all kinds of parts of a survey in files share.

kind_of_part <- function(files) {
  plain <- sub(sprintf("[.](%s)$", paste(names(unpackers), collapse = "|")), "", tolower(basename(files)))
  tools::file_ext(plain)
}

# A part as plain text: itself, or unpacked for as long as `work` runs.
with_plain_part <- function(path, call, work) {
  ending <- tolower(tools::file_ext(path))
  if (!ending %in% names(unpackers)) return(work(path))
  unpacked <- unpackers[[ending]](path, basename(path), call)
  on.exit(unlink(unpacked$path))
  work(unpacked$path)
}

stop_too_many_kept <- function(parts) {
  stop_too_many_groups(sprintf("More than %s groups of records would have to be kept for this table.",
                               format_count(parts$most_groups)), parts$call)
}
