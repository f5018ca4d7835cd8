# Packed files are unpacked into a copy, in pieces, up to a stated limit: a small file may hold more than a disk does.

unpackers <- list(
  gz = function(path, file, call) unpack_gzip(path, file, call),
  zst = function(path, file, call) unpack(zstd_pipe(path, call), sub("\\.zst$", "", file, ignore.case = TRUE), file, call),
  zip = function(path, file, call) unpack_zip(path, file, call)
)

# R reads a gzip file that is cut short without a word; its last four bytes say how much it should hold.
unpack_gzip <- function(path, file, call) {
  bytes <- readBin(path, "raw", 2L)
  out <- unpack(gzfile(path, "rb"), sub("\\.gz$", "", file, ignore.case = TRUE), file, call)
  from <- file(path, "rb")
  on.exit(close(from))
  seek(from, file.size(path) - 4)
  promised <- sum(as.integer(readBin(from, "raw", 4L)) * 256^(0:3))
  if (!identical(bytes, as.raw(c(0x1f, 0x8b))) || file.size(out$path) %% 2^32 != promised) {
    unlink(out$path)
    stop_corrupt(file, "a whole gzip file of one part", call)
  }
  out
}

zstd_pipe <- function(path, call) {
  if (!nzchar(Sys.which("zstd"))) {
    stop_input(c("The program zstd is needed to read a .zst file.", i = "Install it (Debian, Ubuntu: apt-get install zstd), or unpack the file first."), "package", call = call)
  }
  pipe(sprintf("zstd -dcq %s", shQuote(path)), "rb")
}

unpack_zip <- function(path, file, call) {
  inside <- tryCatch(suppressWarnings(utils::unzip(path, list = TRUE)), error = function(e) NULL)
  if (is.null(inside)) stop_corrupt(file, "a zip file", call)
  inside <- inside[!grepl("/$|^__MACOSX/", inside$Name), ]
  if (nrow(inside) != 1L) {
    stop_input(c(sprintf("\"%s\" holds %d files, so it is not clear which to read.", file, nrow(inside)), x = list_some(inside$Name), i = "Unpack the one that is meant."),
               "file", path = file, call = call)
  }
  check_unpacked(inside$Length, file, call)
  unpack(unz(path, inside$Name, "rb"), basename(inside$Name), file, call)
}

check_unpacked <- function(size, file, call) {
  most <- setting("most_unpacked")
  if (size > most) {
    stop_input(c(sprintf("\"%s\" unpacks to more than %s MiB, the most that is read.", file, format_count(most / 2^20)),
                 i = "If it is truly that large, set options(fairlattice.most_unpacked = BYTES)."), "too_large", path = file, call = call)
  }
}

unpack <- function(from, name, file, call) {
  on.exit(close(from))
  copy <- tempfile(fileext = paste0(".", tools::file_ext(name)))
  to <- file(copy, "wb")
  size <- 0
  whole <- FALSE
  tryCatch({
    repeat {
      piece <- withCallingHandlers(readBin(from, "raw", 2^22), warning = function(w) stop(w))
      if (!length(piece)) break
      size <- size + length(piece)
      check_unpacked(size, file, call)
      writeBin(piece, to)
    }
    whole <- TRUE
  }, error = function(e) if (inherits(e, "fairlattice_error")) stop(e) else stop_corrupt(file, "whole", call),
  finally = {
    close(to)
    if (!whole) unlink(copy)
  })
  if (!size) stop_corrupt(file, "whole", call)
  list(path = copy, name = name)
}

stop_corrupt <- function(file, what, call, why = NULL) {
  stop_input(c(sprintf("\"%s\" is not %s: it is cut short or damaged.", file, what), x = why, i = "Get it again from where it came."), "file", path = file, call = call)
}
