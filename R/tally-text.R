# Text as it can be compared and shown.

number_text <- function(x) formatC(x, digits = 15L, format = "fg", width = 1L)

# Numbers that print alike are one answer: 0.3 and 0.1 + 0.2 differ in the
# seventeenth digit only.
at_fifteen_digits <- function(x) if (is.double(x)) signif(x, 15L) else x

# Text as it can be compared and shown: in UTF-8, whatever it was written in.
readable <- function(x) {
  if (!length(x)) return(as.character(x))
  out <- enc2utf8(x)
  bad <- !is.na(out) & (!validUTF8(out) | Encoding(out) == "bytes")
  if (any(bad))
    out[bad] <- iconv(`Encoding<-`(out[bad], "unknown"), "latin1", "UTF-8")
  out
}

# Text with what a terminal would obey, or hide, or no XML may hold, written
# out: control characters, overrides of the direction of writing, and what is no
# character. Line breaks and tabs inside labels become spaces.
visible <- function(x, unseen = unseen_signs) {
  if (any(!validUTF8(x))) x <- readable(x)
  if (!any(grepl(unseen, x, perl = TRUE))) return(x)
  kept <- attributes(x)
  x <- gsub("[\r\n\t]+", " ", x, perl = TRUE)
  found <- gregexpr(unseen, x, perl = TRUE)
  regmatches(x, found) <- lapply(
    regmatches(x, found), function(signs) {
      vapply(signs, function(sign) sprintf("<U+%04X>", utf8ToInt(sign)), "")
    })
  attributes(x) <- kept
  x
}

# The same for all text in a list or data frame.
visible_in <- function(x) {
  if (is.character(x)) return(visible(x))
  if (is.list(x)) x[] <- lapply(x, visible_in)
  x
}

unseen_signs <- "[\\x{01}-\\x{1f}\\x{7f}-\\x{9f}\u200e\u200f\u202a-\u202e\u2066-\u2069\ufeff\\x{fffe}\\x{ffff}]"

# The same, but for bold type, which is ours on its way to a terminal.
unseen_but_bold <- paste0("(?!\\x1b\\[(?:1|22)m)", unseen_signs)

# The ending of a file's name, in small letters: "csv", or "" without one.
file_ending <- function(path) {
  ending <- tolower(sub("^.*[.]", "", path))
  ending[!grepl("[.][[:alnum:]]+$", path)] <- ""
  ending
}

sentence_case <- function(x) {
  paste0(toupper(substr(x, 1L, 1L)), substring(x, 2L))
}

# A value as it can be shown in one line of a message.
cut_short <- function(x, most = 80L) {
  x <- readable(as.character(x))
  ifelse(nchar(x) > most, paste0(substr(x, 1L, most), "..."), x)
}

`%|NA|%` <- function(x, y) if (is.na(x)) y else x

`%or%` <- function(x, y) if (length(x)) x else y

`%||%` <- function(x, y) if (is.null(x)) y else x

# "Reason to leave: work", "Reason to leave: housing": the beginning up to the
# colon, and the rests.
shared_beginning <- function(titles) {
  start <- unique(sub(": .*", "", titles))
  if (length(start) == 1L && all(grepl(": ", titles, fixed = TRUE)))
    return(list(start = start,
                rest = sentence_case(sub("^[^:]*: ", "", titles))))
  list(start = "", rest = unname(titles))
}
