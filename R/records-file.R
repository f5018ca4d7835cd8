# Files are written beside their name and put in its place when they are whole;
# what is read from a copy is read from a whole one. Both kinds of temporary
# file carry the machine and the process in their name, so that the next run can
# clear away what a process that was killed has left.

temporary_mark <- function() {
  node <- gsub("[^A-Za-z0-9-]", "", Sys.info()[["nodename"]])
  sprintf("fairlattice-%s-%d-", node, Sys.getpid())
}

# Writes to a new file in the same folder, then renames it: the old file stays
# until the new one is whole.
write_beside <- function(path, write, call) {
  target <- target_of(path, call)
  clear_left_behind(dirname(target), all.files = TRUE)
  ending <- file_ending(path)
  beside <- tempfile(paste0(".", temporary_mark()), dirname(target),
                     paste0(".", ending))
  on.exit(unlink(beside))
  stop_writing <- function(why) {
    stop_input(c(tells("file_cannot_be_written", path), x = why,
                 i = tells("see_folder_may_written_room")), "not_written",
               path = path, call = call)
  }
  withCallingHandlers(
    tryCatch(write(beside), error = function(e) {
      if (inherits(e, "fairlattice_error")) stop(e) else
        stop_writing(first_line(conditionMessage(e)))
    }),
    warning = function(w) {
      unwritten <- grepl(paste("cannot open|No space|not",
                               "permitted|denied|problem writing|write error"),
                         conditionMessage(w))
      if (unwritten) stop_writing(first_line(conditionMessage(w)))
    })
  if (!file.exists(beside) || !is_whole(beside, ending))
    stop_writing(tells("cut_short_disk_may_full"))
  mode <- if (file.exists(target)) file.mode(target)
  if (!is.null(mode)) Sys.chmod(beside, mode, use_umask = FALSE)
  if (!suppressWarnings(file.rename(beside, target)))
    stop_writing(tells("could_not_put_place"))
}

# Where a file goes: to its path, or to what a link there points to, which stays
# a link. Only a file is written over, and none that the command itself has
# read.
target_of <- function(path, call) {
  stop_target <- function(...) {
    stop_input(c(...), "not_written", path = path, call = call)
  }
  target <- path
  for (step in seq_len(41L)) {
    link <- Sys.readlink(target)
    if (is.na(link) || !nzchar(link)) break
    if (step == 41L) stop_target(tells("link_leads_itself", path))
    target <- if (grepl("^(/|[A-Za-z]:)", link)) link else
      file.path(dirname(target), link)
  }
  kind <- kind_of_file_kernel(path.expand(target))
  if (kind == 3L) {
    stop_target(tells("no_file_but_device_pipe", path), i = tells("name_file"))
  }
  if (kind == 2L) stop_target(tells("folder_no_file_name_can", path))
  if (kind == 0L && !dir.exists(dirname(target)))
    stop_target(tells("link_into_folder_not", path),
                i = tells("make_first_name_another"))
  if (voice$speaks == "command" && kind == 1L &&
        normalizePath(target) %in% files_read$paths)
    stop_target(tells("file_command_reads_not_written", path),
                i = tells("name_another"))
  target
}

# The files that a command has read.
files_read <- list2env(list(paths = character()), parent = emptyenv())

note_read <- function(path) {
  if (voice$speaks == "command")
    files_read$paths <-
      union(files_read$paths, normalizePath(path, mustWork = FALSE))
  invisible(path)
}

# How each kind of file ends when it is whole; the others are checked by the
# bytes that were written.
file_endings <- list(svg = charToRaw("</svg>"),
                     png = as.raw(c(0x49, 0x45, 0x4e, 0x44, 0xae, 0x42, 0x60,
                                    0x82)), html = charToRaw("</html>"),
                     parquet = charToRaw("PAR1"))

is_whole <- function(path, kind) {
  end <- file_endings[[kind]]
  size <- file.size(path)
  if (is.null(end)) return(TRUE)
  if (is.na(size) || size < length(end)) return(FALSE)
  from <- file(path, "rb")
  on.exit(close(from))
  seek(from, max(0, size - length(end) - 8))
  last_bytes <- readBin(from, "raw", length(end) + 8L)
  while (length(last_bytes) && last_bytes[length(last_bytes)] %in% as.raw(c(0x0a, 0x0d, 0x20))) {
    last_bytes <- last_bytes[-length(last_bytes)]
  }
  identical(utils::tail(last_bytes, length(end)), end)
}

# Text or bytes to a file; every byte must be there afterwards.
write_whole <- function(x, path) {
  if (!is.raw(x)) x <- enc2utf8(x)
  size <- if (is.raw(x)) length(x) else sum(nchar(x, "bytes") + 1)
  to <- file(path, "wb")
  suppressWarnings({ # what could not be written is seen by the size
    if (is.raw(x)) writeBin(x, to) else writeLines(x, to, useBytes = TRUE)
    close(to)
  })
  if (!isTRUE(file.size(path) == size)) {
    unlink(path)
    stop(spoken(tells("bytes_written",
                      format_count(max(0, file.size(path), na.rm = TRUE)),
                      format_count(size))))
  }
}

# What the dead have left in the temporary folder is cleared once a session.
scratch <- new.env(parent = emptyenv())

scratch_file <- function(ending) {
  once(scratch, "cleared", NULL,
       clear_left_behind(Sys.glob(file.path(dirname(tempdir()), "Rtmp*"))))
  tempfile(temporary_mark(), fileext = ending)
}

# A copy of bytes in the temporary folder, whole.
scratch_copy <- function(bytes, ending) {
  path <- scratch_file(ending)
  tryCatch(write_whole(bytes, path), error = function(e) stop_no_room())
  path
}

stop_no_room <- function(call = NULL) {
  stop_input(c(tells("no_room_temporary_copy", dirname(tempdir())),
               i = tells("free_some_point_tmpdir_folder")),
             "no_room", call = call)
}

# Removes the temporary files of processes of this machine that are no more.
clear_left_behind <- function(folders, all.files = FALSE) {
  start <- sub("[0-9]+-$", "", temporary_mark())
  found <- list.files(folders, paste0("^[.]?", start, "[0-9]+-"),
                      full.names = TRUE, all.files = all.files)
  if (!length(found)) return(invisible())
  process <- suppressWarnings(
    as.integer(sub("-.*", "",
                   sub(paste0("^[.]?", start), "", basename(found)))))
  known <- !is.na(process) & process > 0L
  unlink(found[known][!is_running_kernel(process[known])])
}

# Bytes of text without the byte-order mark of UTF-8.
without_mark <- function(bytes) {
  if (length(bytes) > 2L && identical(bytes[1:3], as.raw(c(0xef, 0xbb, 0xbf))))
    bytes[-(1:3)] else bytes
}

# All bytes of a file, or an error.
bytes_of <- function(path, stop_file, file) {
  bytes <- readBin(note_read(path), "raw", file.size(path))
  if (length(bytes) != file.size(path))
    stop_file(tells("cannot_read_end", file))
  bytes
}

need_package <- function(name, to, call) {
  if (!requireNamespace(name, quietly = TRUE)) {
    stop_input(c(tells("package_needed", name, to),
                 i = tells("install_install_packages", name)),
               "package", package = name, call = call)
  }
}

first_line <- function(text) sub("\n.*", "", text)

# The file's hash, if it is still the file that was read: worked out once for all
# that is made of a file, which may be large.
source_hash <- function(source) {
  if (is.null(source$path)) return(NULL)
  once(program, "checksum", source[c("path", "size", "modified")], {
    now <- file.info(source$path)
    if (identical(now$size, source$size) &&
          identical(now$mtime, source$modified))
      cli::hash_file_sha256(source$path)
  })
}
