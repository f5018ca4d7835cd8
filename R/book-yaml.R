# Where every key and value of a YAML text stands, so that what is wrong with it
# can be told with line and column. The values themselves are read by the YAML
# library; places that are not found here are told by what they are part of.

# By path (names and numbers joined by "\r") c(line, column, line, column): of the
# key or item, and of its value; an environment.
yaml_places <- function(text) {
  found <- new.env(parent = emptyenv())
  try(walk_block(strsplit(text, "\r\n|\n|\r")[[1L]], found), silent = TRUE)
  found
}

path_key <- function(path) paste(unlist(path), collapse = "\r")

note_place <- function(found, path, line, column, value = c(line, column)) {
  found[[path_key(path)]] <- as.integer(c(line, column, value))
}

key_pattern <- "^(\"(?:[^\"\\\\]|\\\\.)*\"|'(?:[^']|'')*'|[^\\s#\\[\\]{},\"'-][^#]*?|-[^\\s#][^#]*?)\\s*:(?=\\s|$)"

unquoted <- function(word) {
  word <- trimws(word)
  if (grepl("^\".*\"$", word))
    return(gsub("\\\\(.)", "\\1", substr(word, 2L, nchar(word) - 1L)))
  if (grepl("^'.*'$", word))
    return(gsub("''", "'", substr(word, 2L, nchar(word) - 1L), fixed = TRUE))
  word
}

# Blocks by their indentation. A frame is a mapping or a list that is open:
# where it begins and what its path is.
walk_block <- function(lines, found) {
  state <- list(frames = list(), skip_to = 0L, # lines up to here belong to what began before
                scalar_under = -1L) # lines further in than this belong to a text of several lines
  for (i in seq_along(lines)) {
    if (i <= state$skip_to ||
          grepl("^\\s*(#|$)|^(---|[.]{3})(\\s|$)", lines[i])) next
    indent <- nchar(sub("^( *).*$", "\\1", lines[i]))
    if (state$scalar_under >= 0L && indent > state$scalar_under) next
    state$scalar_under <- -1L
    state <- walk_line(state, lines, i, indent, found)
  }
}

# The keys and dashes that a line begins with.
walk_line <- function(state, lines, i, indent, found) {
  rest <- substring(lines[i], indent + 1L)
  repeat {
    item <- grepl("^-(\\s|$)", rest)
    key <- if (item) "-" else
      regmatches(rest, regexpr(key_pattern, rest, perl = TRUE))
    if (!length(key)) return(state)
    state$frames <- step_in(open_frames(state$frames, indent, item), item, key)
    taken <- if (item) nchar(sub("^(-\\s*).*$", "\\1", rest)) else
      nchar(key) +
        nchar(sub("^(\\s*).*$", "\\1", substring(rest, nchar(key) + 1L)))
    frame <- state$frames[[length(state$frames)]]
    path <- c(frame$base, frame$at)
    begin <- indent + taken + 1L
    value <- substring(rest, taken + 1L)
    note_place(found, path, i, indent + 1L,
               if (nzchar(value)) c(i, begin) else c(i, indent + 1L))
    if (grepl("^[\\[{]", value)) {
      state$skip_to <- walk_flow(lines, i, begin, path, found)
      return(state)
    }
    if (grepl("^[|>]", value)) state$scalar_under <- indent
    if (!item) {
      state$skip_to <- max(state$skip_to, end_of_quoted(lines, i, value))
      return(state)
    }
    rest <- value
    indent <- begin - 1L
  }
}

# The frames that are still open at an indentation, the last of them the one
# that a key or dash belongs to.
open_frames <- function(frames, indent, item) {
  closed <- function(frame) {
    frame$indent > indent || frame$indent == indent && frame$item && !item
  }
  while (length(frames) && closed(frames[[length(frames)]])) frames <-
    frames[-length(frames)]
  top <- if (length(frames)) frames[[length(frames)]]
  if (is.null(top) || top$indent < indent || top$item != item)
    frames[[length(frames) + 1L]] <-
      list(indent = indent, item = item, base = c(top$base, top$at), count = 0L)
  frames
}

step_in <- function(frames, item, key) {
  k <- length(frames)
  frames[[k]]$count <- frames[[k]]$count + 1L
  frames[[k]]$at <- if (item) as.character(frames[[k]]$count) else
    unquoted(sub(":$", "", trimws(key)))
  frames
}

# A quoted text may go on on further lines.
end_of_quoted <- function(lines, from, value) {
  sign <- substr(value, 1L, 1L)
  if (!sign %in% c("\"", "'")) return(0L)
  text <- substring(value, 2L)
  for (i in from:length(lines)) {
    if (i > from) text <- lines[i]
    bare <- gsub(if (sign == "\"") "\\\\." else "''", "", text)
    if (grepl(sign, bare, fixed = TRUE)) return(i)
  }
  length(lines)
}

# Quoted texts, brackets and commas, colons, comments, words.
flow_pattern <- paste0("\"(?:[^\"\\\\]|\\\\.)*\"|'(?:[^']|'')*'|[\\[\\]{},]|:(?=[\\s\\[{\"']|$)|(?<=\\s)#.*|",
                       "[^\\s\\[\\]{},:\"'](?:[^\\[\\]{},:]|:(?=\\S))*")

# What stands in brackets, over as many lines as it takes; gives the last of
# them.
walk_flow <- function(lines, line, column, path, found) {
  open <- list()
  for (i in line:length(lines)) {
    from <- if (i == line) column else 1L
    text <- substring(lines[i], from)
    at <- gregexpr(flow_pattern, text, perl = TRUE)[[1L]]
    if (at[1L] < 0L) next
    tokens <- substring(text, at, at + attr(at, "match.length") - 1L)
    for (t in seq_along(tokens)) {
      token <- tokens[t]
      here <- c(i, from + at[t] - 1L)
      k <- length(open)
      if (startsWith(token, "#")) next
      if (token %in% c("[", "{")) {
        if (k) open[[k]] <- next_value(open[[k]], here, found)
        open[[k + 1L]] <- list(path = if (k)
                                 c(open[[k]]$path, open[[k]]$at) else path,
                               map = token == "{", count = 0L, at = NULL,
                               fresh = TRUE)
      } else if (token %in% c("]", "}")) {
        open <- open[-k]
        if (!length(open)) return(i)
      } else if (token == ",") {
        open[[k]]$fresh <- TRUE
      } else if (token != ":") {
        open[[k]] <- next_value(open[[k]], here, found, unquoted(token))
      }
    }
  }
  length(lines)
}

# A key, the value of one, or an item of an open bracket.
next_value <- function(open, here, found, token = NULL) {
  if (open$map && open$fresh && !is.null(token)) {
    open$at <- token
    note_place(found, c(open$path, token), here[1L], here[2L])
  } else if (open$map) {
    place <- found[[path_key(c(open$path, open$at))]]
    if (!is.null(place))
      note_place(found, c(open$path, open$at), place[1L], place[2L], here)
  } else if (open$fresh) {
    open$count <- open$count + 1L
    open$at <- as.character(open$count)
    note_place(found, c(open$path, open$at), here[1L], here[2L])
  }
  open$fresh <- FALSE
  open
}
