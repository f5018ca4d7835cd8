# Packed files are unpacked into a copy, in pieces, up to a stated limit: a
# small file may hold more than a disk does. Every byte is accounted for: by the
# size and checksum that gzip and zip files carry, by the exit status of the
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

# R reads a gzip file that is cut short without a word; its last eight bytes say
# what it should hold.
check_gzip <- function(path, out, file, call) {
  end <- bytes_at(path, file.size(path) - 8, 8L)
  start <- bytes_at(path, 0, 2L)
  whole <- identical(start, as.raw(c(0x1f, 0x8b))) && length(end) == 8L &&
           number_of(end[1:4]) == out$crc &&
           number_of(end[5:8]) == out$size %% 2^32
  if (whole) return(invisible())
  unlink(out$path)
  stop_corrupt(file, tells("whole_gzip_file_one_part"), call)
}

zstd_pipe <- function(path, call) {
  if (!nzchar(Sys.which("zstd"))) {
    stop_input(c(tells("program_zstd_needed_read_zst"),
                 i = tells("install_debian_ubuntu_apt_get")), "package",
                 call = call)
  }
  pipe(sprintf("zstd -dcq %s", shQuote(path.expand(path))), "rb")
}

# ---- zip ----
# The list of what a zip file holds stands at its end; sizes and checksums there
# are what every part is held against.

unpack_zip <- function(path, file, call) {
  inside <- zip_list(path, file, call)
  inside <- inside[!grepl("/$|^__MACOSX/", inside$name), ]
  if (nrow(inside) != 1L) {
    stop_input(c(tells("holds_files_not_clear_read", file, nrow(inside)),
                 x = list_some(cut_short(inside$name)),
                 i = tells("unpack_one_meant")), "file", path = file,
               call = call)
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

# What a zip file says that it holds: name, sizes, checksum and place of every
# part; and how a part is packed, which stands before it. The two must call it
# by one name.
zip_list <- function(path, file, call, what = tells("must_zip")) {
  bad <- function(why = NULL) stop_corrupt(file, what, call, why)
  found <- tryCatch(zip::zip_list(path), error = function(e) bad())
  called <- names_in_utf8(found$filename)
  heads <- lapply(found$offset, function(at) bytes_at(path, at, 30L))
  if (!all(vapply(heads, is_part_head, NA))) bad()
  field <- function(from, n) {
    vapply(heads, function(head) number_of(head[from + seq_len(n)]), 0)
  }
  own <- Map(function(at, size) bytes_at(path, at + 30, size), found$offset,
             field(26, 2))
  if (any(vapply(own, function(name) any(name == as.raw(0)), NA)))
    bad(tells("zip_name_zero_byte"))
  if (!identical(names_in_utf8(vapply(own, rawToChar, "")), called)) bad()
  list2DF(list(name = called, flags = field(6, 2), method = field(8, 2),
               crc = unsigned(found$crc32),
               packed = as.numeric(found$compressed_size),
               size = as.numeric(found$uncompressed_size),
               at = as.numeric(found$offset),
               from = as.numeric(found$offset) + 30 + field(26, 2) +
                      field(28, 2)))
}

is_part_head <- function(head) {
  length(head) == 30L && identical(head[1:4], as.raw(c(0x50, 0x4b, 3, 4)))
}

# Whole numbers of 32 bits, of which R takes the first bit for a sign and one
# for NA.
unsigned <- function(x) {
  x <- as.numeric(unclass(x))
  x[is.na(x)] <- 2^31
  x + 2^32 * (x < 0)
}

# Names are UTF-8, or of the code page of old programs.
names_in_utf8 <- function(names) readable(`Encoding<-`(names, "UTF-8"))

# One part of a zip file as a file of its own. Its packed bytes are read to
# their own end, not to the size that the zip claims, and then held against that
# size and checksum.
zip_part <- function(path, part, file, call, what = tells("must_whole_zip")) {
  bad <- function(why = NULL) stop_corrupt(file, what, call, why)
  if (part$flags %% 2 == 1)
    stop_input(c(tells("locked_password", file), i = tells("unpack_first")),
               "file", path = file, call = call)
  if (!part$method %in% c(0, 8))
    stop_input(c(tells("packed_way_not_read_method", file, format(part$method)),
                 i = tells("unpack_first")), "file", path = file, call = call)
  check_unpacked(part$size, file, call)
  if (part$from + part$packed > file.size(path)) bad()
  ending <- paste0(".", tools::file_ext(part$name))
  if (part$method == 0) {
    if (part$packed != part$size) bad()
    packed <- file(path, "rb")
    seek(packed, part$from)
    out <- unpack(packed, file, call, ending, most = part$size)
  } else {
    # deflated bytes with the head and foot of a gzip file round them: R unpacks
    # that in pieces
    wrapped <- scratch_file(".gz")
    on.exit(unlink(wrapped))
    foot <- function(x) as.raw(x %/% 256^(0:3) %% 256)
    tryCatch(write_whole(c(as.raw(c(0x1f, 0x8b, 8, 0, 0, 0, 0, 0, 0, 255)),
                           bytes_at(path, part$from, part$packed),
                           foot(part$crc), foot(part$size)), wrapped),
             error = function(e) stop_no_room(call))
    out <- unpack(gzfile(wrapped, "rb"), file, call, ending)
  }
  if (out$size == part$size && out$crc == part$crc) return(out$path)
  unlink(out$path)
  bad(if (out$size != part$size)
        tells("zip_size_differs", format_count(out$size),
              format_count(part$size)) else tells("zip_checksum_differs"))
}

check_unpacked <- function(size, file, call) {
  most <- setting("most_unpacked")
  if (size > most) {
    stop_input(c(tells("unpacks_more_mib_most_read", file,
                       format_count(most / 2^20)),
                 i = tells("truly_large_set_options_fairlattice")), "too_large",
               path = file, call = call)
  }
}

# Copies what a connection gives (at most `most` bytes of it) and says how many
# bytes there were and their checksum.
unpack <- function(from, file, call, ending = ".csv", most = Inf) {
  copy <- scratch_file(ending)
  to <- file(copy, "wb")
  size <- 0
  crc <- 0
  status <- 0L
  whole <- FALSE
  loud <- function(expression) {
    withCallingHandlers(expression, warning = function(w) {
      stop(conditionMessage(w), call. = FALSE)
    })
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
      if (grepl("writing", conditionMessage(e))) stop_no_room(call) else
        stop_corrupt(file, tells("is_whole"), call)
  }, finally = {
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
    stop_corrupt(file, tells("is_whole"), call)
  }
  list(path = copy, size = size, crc = crc)
}

stop_corrupt <- function(file, what, call, why = NULL) {
  stop_input(c(tells("not_cut_short_damaged", file, what), x = why,
               i = tells("get_again_where_came")), "file", path = file,
             call = call)
}
