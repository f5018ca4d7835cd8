# What all kinds of parts of a survey in files share.

# How a part is read, by the ending of its name; NA of a kind that is not read
# in chunks.
part_kinds <- c(csv = "text", tsv = "text", txt = "text", tab = "text",
                parquet = "parquet", jsonl = "lines", ndjson = "lines")

kind_of_part <- function(files) {
  plain <- sub(sprintf("[.](%s)$", paste(names(unpackers), collapse = "|")), "",
               tolower(basename(files)))
  unname(part_kinds[file_ending(plain)])
}

# What changes when a file does.
stamp_of <- function(files) {
  paste(file.size(files), as.numeric(file.mtime(files)))
}

# A part as plain text: itself, or unpacked for as long as `work` runs.
with_plain_part <- function(path, call, work) {
  ending <- file_ending(path)
  if (!ending %in% names(unpackers)) return(work(path))
  unpacked <- unpackers[[ending]](path, basename(path), call)
  on.exit(unlink(unpacked$path))
  work(unpacked$path)
}

stop_too_many_kept <- function(most_groups, call) {
  stop_too_many_groups(tells("more_groups_records_would_kept",
                             format_count(most_groups)), call)
}

# The values of a column, part below part: numbers where all are (or are missing), texts
# where some are not.
values_below <- function(parts) {
  if (all(vapply(parts, is_numeric_part, NA)) || length(unique(lapply(parts, class))) == 1L)
    return(do.call(c, parts))
  unlist(lapply(parts, as.character))
}

is_numeric_part <- function(x) is.numeric(x) || is.logical(x) && all(is.na(x))

# Replicate weights that are missing in a group leave it out.
replicates_there <- function(sums, there) {
  sums[!there, ] <- NA
  unname(sums)
}

# How far the reading is, when a share of the bytes is done, how fast it goes
# and how long it will take.
show_reading <- function(file, done, records, began) {
  seconds <- max(proc.time()[["elapsed"]] - began, 0.01)
  show_progress(done, 1, words("chunks.progress"),
                words("chunks.speed", file = file, speed = records / seconds,
                      left = seconds * (1 - done) / max(done, 1e-9)))
}
