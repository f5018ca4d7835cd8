# Packed files are unpacked into a copy, in pieces, up to a stated limit: a small file may hold more than a disk does.
# Every byte is accounted for: by the size and checksum that gzip and zip files carry, by the exit status of the
# program that unpacks.

unpackers <- list(
  gz = function(path, file, call) {
    out <- unpack(gzfile(path, "rb"), file, call)
    check_gzip(path, out, file, call)
    list(path = out$path, name = sub("\\.gz$", "", file, ignore.case = TRUE))
  },
  zst = function(path, file, call) {
    out <- unpack(zstd_pipe(path, call), file, call)
    list(path = out$path, name = sub("\\.zst$", "", file, ignore.case = TRUE))
  },
  zip = function(path, file, call) unpack_zip(path, file, call)
)

# R reads a gzip file that is cut short without a word; its last eight bytes say what it should hold.
check_gzip <- function(path, out, file, call) {
  end <- bytes_at(path, file.size(path) - 8, 8L)
  start <- bytes_at(path, 0, 2L)
  whole <- identical(start, as.raw(c(0x1f, 0x8b))) && length(end) == 8L && number_of(end[1:4]) == out$crc &&
    number_of(end[5:8]) == out$size %% 2^32
  if (whole) return(invisible())
  unlink(out$path)
  stop_corrupt(file, "a whole gzip file of one part", call)
}

zstd_pipe <- function(path, call) {
  if (!nzchar(Sys.which("zstd"))) {
    stop_input(c("The program zstd is needed to read a .zst file.",
                 i = "Install it (Debian, Ubuntu: apt-get install zstd), or unpack the file first."), "package",
                 call = call)
  }
  pipe(sprintf("zstd -dcq %s", shQuote(path.expand(path))), "rb")
}

# ---- zip ----
# The list of what a zip file holds stands at its end; sizes and checksums there are what every part is held against.

unpack_zip <- function(path, file, call) {
  inside <- zip_list(path, file, call)
  inside <- inside[!grepl("/$|^__MACOSX/", inside$name), ]
  if (nrow(inside) != 1L) {
    stop_input(c(sprintf("\"%s\" holds %d files, so it is not clear which to read.", file, nrow(inside)),
                 x = list_some(cut_short(inside$name)), i = "Unpack the one that is meant."),
               "file", path = file, call = call)
  }
  list(path = zip_part(path, inside, file, call), name = basename(inside$name))
}

bytes_at <- function(path, at, n) {
  if (is.na(at) || at < 0 || at > file.size(path)) return(raw())
  from <- file(path, "rb")
  on.exit(close(from))
  seek(from, at)
  readBin(from, "raw", n)
}

# A whole number from bytes, the least first.
number_of <- function(bytes) sum(as.integer(bytes) * 256^(seq_along(bytes) - 1))

# What a zip file says that it holds: name, method, sizes, checksum and place of every part.
zip_list <- function(path, file, call, what = "a zip file") {
  bad <- function(why = NULL) stop_corrupt(file, what, call, why)
  size <- file.size(path)
  tail <- bytes_at(path, max(0, size - 65557), 65557L)
  at <- which(utils::head(tail, -3L) == as.raw(0x50) & utils::head(tail[-1L], -2L) == as.raw(0x4b) &
              utils::head(tail[-(1:2)], -1L) == as.raw(5) & tail[-(1:3)] == as.raw(6))
  if (length(tail) < 22L || !length(at)) bad()
  end <- tail[max(at) + 0:21]
  if (length(end) < 22L || anyNA(end)) bad()
  field <- function(bytes, from, n) number_of(bytes[from + seq_len(n)])
  parts <- field(end, 10, 2)
  length <- field(end, 12, 4)
  start <- field(end, 16, 4)
  if (parts == 65535 || start == 2^32 - 1) {
    stop_input(c(sprintf("\"%s\" is a zip file of the large kind (zip64), which is not read.", file),
                 i = "Unpack it first."), "file", path = file, call = call)
  }
  if (start + length > size) bad()
  directory <- bytes_at(path, start, length)
  if (base::length(directory) != length) bad()
  rows <- list()
  from <- 0
  while (base::length(rows) < parts) {
    if (from + 46 > length || !identical(directory[from + 1:4], as.raw(c(0x50, 0x4b, 1, 2)))) bad()
    name_size <- field(directory, from + 28, 2)
    rest <- field(directory, from + 30, 2) + field(directory, from + 32, 2)
    if (from + 46 + name_size > length) bad()
    name <- directory[from + 46 + seq_len(name_size)]
    if (any(name == as.raw(0))) bad("A name in it holds a zero byte.")
    name <- rawToChar(name)
    if (!validUTF8(name)) name <- iconv(name, "latin1", "UTF-8")
    Encoding(name) <- "UTF-8"
    rows[[base::length(rows) + 1L]] <- list(name = name, flags = field(directory, from + 8, 2),
                                            method = field(directory, from + 10, 2),
                                            crc = field(directory, from + 16, 4),
                                      packed = field(directory, from + 20, 4), size = field(directory, from + 24, 4),
                                      at = field(directory, from + 42, 4))
    from <- from + 46 + name_size + rest
  }
  if (!base::length(rows))
    return(data.frame(name = character(), flags = numeric(), method = numeric(), crc = numeric(), packed = numeric(),
                      size = numeric(), at = numeric()))
  names <- names(rows[[1L]])
  list2DF(stats::setNames(lapply(names, function(name) unlist(lapply(rows, `[[`, name))), names))
}

# One part of a zip file as a file of its own. Its packed bytes are read to their own end, not to the size that the zip
# claims, and then held against that size and checksum.
zip_part <- function(path, part, file, call, what = "a whole zip file") {
  bad <- function(why = NULL) stop_corrupt(file, what, call, why)
  if (part$flags %% 2 == 1) stop_input(c(sprintf("\"%s\" is locked with a password.", file), i = "Unpack it first."),
                                       "file", path = file, call = call)
  if (!part$method %in% c(0, 8))
    stop_input(c(sprintf("\"%s\" is packed in a way that is not read (method %s).", file, format(part$method)),
                 i = "Unpack it first."), "file", path = file, call = call)
  check_unpacked(part$size, file, call)
  local <- bytes_at(path, part$at, 30L)
  if (length(local) < 30L || !identical(local[1:4], as.raw(c(0x50, 0x4b, 3, 4)))) bad()
  from <- part$at + 30 + number_of(local[27:28]) + number_of(local[29:30])
  if (from + part$packed > file.size(path)) bad()
  ending <- paste0(".", tools::file_ext(part$name))
  if (part$method == 0) {
    if (part$packed != part$size) bad()
    packed <- file(path, "rb")
    seek(packed, from)
    out <- unpack(packed, file, call, ending, most = part$size)
  } else {
    # deflated bytes with the head and foot of a gzip file round them: R unpacks that in pieces
    wrapped <- scratch_file(".gz")
    on.exit(unlink(wrapped))
    foot <- function(x) as.raw(x %/% 256^(0:3) %% 256)
    tryCatch(write_whole(c(as.raw(c(0x1f, 0x8b, 8, 0, 0, 0, 0, 0, 0, 255)), bytes_at(path, from, part$packed),
                           foot(part$crc), foot(part$size)), wrapped),
             error = function(e) stop_no_room(call))
    out <- unpack(gzfile(wrapped, "rb"), file, call, ending)
  }
  if (out$size == part$size && out$crc == part$crc) return(out$path)
  unlink(out$path)
  bad(if (out$size != part$size) sprintf("It unpacks to %s bytes, but says that it holds %s.", format_count(out$size),
                                         format_count(part$size)) else "Its checksum is another.")
}

check_unpacked <- function(size, file, call) {
  most <- setting("most_unpacked")
  if (size > most) {
    stop_input(c(sprintf("\"%s\" unpacks to more than %s MiB, the most that is read.", file, format_count(most / 2^20)),
                 i = "If it is truly that large, set options(fairlattice.most_unpacked = BYTES)."), "too_large",
                 path = file, call = call)
  }
}

# Copies what a connection gives (at most `most` bytes of it) and says how many bytes there were and their checksum.
unpack <- function(from, file, call, ending = ".csv", most = Inf) {
  copy <- scratch_file(ending)
  to <- file(copy, "wb")
  size <- 0
  crc <- 0
  status <- 0L
  whole <- FALSE
  loud <- function(expression) {
    withCallingHandlers(expression, warning = function(w) stop(conditionMessage(w), call. = FALSE))
  }
  tryCatch({
    while (size < most) {
      piece <- loud(readBin(from, "raw", min(2^22, most - size)))
      if (!length(piece)) break
      size <- size + length(piece)
      check_unpacked(size, file, call)
      crc <- crc32_kernel(piece, crc)
      loud(writeBin(piece, to))
    }
    whole <- TRUE
  }, error = function(e) {
    if (inherits(e, "fairlattice_error")) stop(e) else
      if (grepl("writing", conditionMessage(e))) stop_no_room(call) else stop_corrupt(file, "whole", call)
  },
  finally = {
    status <- suppressWarnings(close(from)) %||% 0L
    suppressWarnings(close(to)) # what could not be written is seen below, by the size
    if (!whole) unlink(copy)
  })
  written <- file.size(copy)
  if (written != size) {
    unlink(copy)
    stop_no_room(call)
  }
  if (!size || !identical(as.integer(status), 0L)) {
    unlink(copy)
    stop_corrupt(file, "whole", call)
  }
  list(path = copy, size = size, crc = crc)
}

stop_corrupt <- function(file, what, call, why = NULL) {
  stop_input(c(sprintf("\"%s\" is not %s: it is cut short or damaged.", file, what), x = why,
               i = "Get it again from where it came."), "file", path = file, call = call)
}
