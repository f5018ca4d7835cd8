# What is drawn as a table in Word, slides, LaTeX and mail: texts in rows and
# columns, the same of a sheet and of a result.
#
#   heads       rows of the head, from the top: data frames of the cells (text,
#               figure, span, kind: "corner", "spanner", "column", "empty")
#   texts       character matrix
#   labels      which of its columns are labels, not figures
#   signs       character matrix of the same size: marks or letters beside the figures, or NULL
#   marks       "more", "fewer", "higher", "lower" or "" of every cell
#   roles       of the rows; `foot` says above which of them a rule stands
#   title       what the table is called
#   wraps       characters of labels and of heads after which they go on on a further
#               line; NA by the form

grid_of_sheet <- function(sheet, at = seq_len(nrow(sheet$columns))) {
  part <- columns_at(sheet, at)
  size <- nrow(part$value)
  signs <- cell_signs(sheet)
  groups <- line_groups(part$stub)
  starts <- vapply(groups, function(group) group$rows[1L], 0L)
  list(title = full_title(sheet), heads = head_rows(part),
       texts = cbind(stub_labels(part$stub), sheet_text(part)),
       labels = seq_len(ncol(part$value) + 1L) == 1L,
       signs = if (any(signs != "")) cbind(rep("", size), signs[, at, drop = FALSE]),
       marks = cbind(rep("", size), part$mark), roles = part$stub$role,
       foot = seq_len(size) %in% starts[-1L],
       wraps = rep(sheet$wrap %||% NA, 2L))
}

# A sheet of some of its columns.
columns_at <- function(sheet, at) {
  if (identical(at, seq_len(nrow(sheet$columns)))) return(sheet)
  those <- function(part) {
    for (name in c("value", "kind", "high", "mark", "peak", "flag", "letters"))
      if (!is.null(part[[name]])) part[[name]] <- part[[name]][, at, drop = FALSE]
    part
  }
  sheet <- those(sheet)
  sheet$inside <- lapply(sheet$inside, those)
  sheet$columns <- sheet$columns[at, ]
  sheet
}

# The head in rows: every cell of a column stands in the last, spanners above;
# what is not taken is empty.
head_rows <- function(sheet) {
  cells <- unclass(head_cells(sheet))
  deep <- max(cells$row + cells$rows - 1L)
  spans <- cells$kind == "spanner"
  lapply(seq_len(deep), function(level) {
    here <- which(cells$row == level & spans | level == deep & !spans)
    free <- setdiff(0:nrow(sheet$columns), sequence(cells$columns[here], cells$column[here]))
    in_order <- order(c(cells$column[here], free))
    with_empty <- function(part, empty) {
      c(cells[[part]][here], rep(empty, length(free)))[in_order]
    }
    list2DF(list(text = with_empty("label", ""), figure = with_empty("figure", ""),
                 span = with_empty("columns", 1L), kind = with_empty("kind", "empty")))
  })
}

# Named columns of text under their names; `left` says which of them are labels.
grid_of_columns <- function(columns, left, title = "") {
  texts <- matrix(unlist(lapply(columns, as.character), use.names = FALSE),
                  ncol = length(columns))
  plain_grid(texts,
             list(list2DF(list(text = names(columns),
                               figure = rep("", length(columns)),
                               span = rep(1L, length(columns)),
                               kind = ifelse(left, "corner", "column")))), left,
             title)
}

# Labels and texts, without heads.
grid_of_pairs <- function(labels, texts, title = "") {
  plain_grid(cbind(labels, texts), list(), c(TRUE, TRUE), title,
             wraps = c(80, NA))
}

plain_grid <- function(texts, heads, left, title, wraps = c(NA, NA)) {
  list(title = title, heads = heads, texts = texts, labels = left, signs = NULL,
       marks = array("", dim(texts)), roles = rep("answer", nrow(texts)),
       foot = rep(FALSE, nrow(texts)), wraps = wraps)
}

# How many characters the columns hold, whatever room they get: their longest
# text, the longest word of what may wrap (labels and heads), the longest head.
grid_sizes <- function(grid) {
  none <- rep("", ncol(grid$texts))
  last <- if (length(grid$heads)) grid$heads[[length(grid$heads)]] else
    list(text = none, figure = none)
  of_columns <- function(size) vapply(seq_len(ncol(grid$texts)), size, 0)
  # what is marked is in bold, which is wider
  bold <- ifelse(grid$marks != "", 1.12, 1)
  list(text = of_columns(function(j) max(text_width(grid$texts[, j]) * bold[, j], 1)),
       word = of_columns(function(j) {
         longest_word(c(last$text[j], last$figure[j], if (grid$labels[j]) grid$texts[, j]))
       }),
       head = of_columns(function(j) max(text_width(c(last$text[j], last$figure[j])))))
}

# How many characters wide every column is to be: figures whole, heads and
# labels at most so many before they wrap.
grid_widths <- function(grid, label_most = 32L, head_most = 14L) {
  sizes <- grid$sizes %||% grid_sizes(grid)
  label_most <- grid$wraps[1L] %|NA|% label_most
  head_most <- grid$wraps[2L] %|NA|% head_most
  ifelse(grid$labels, pmin(label_most, pmax(sizes$text, sizes$word, sizes$head)),
         # heads are bold
         pmax(sizes$text, 1.22 * sizes$word, pmin(1.15 * sizes$head, head_most)))
}

# The page that a table goes on, and how wide its columns are: upright if that
# can be, across if not. Heads are broken rather than the page turned, and the
# page turned rather than the table split; before that the letters are made
# smaller. `pages` are the widths of both, `widths` the columns' of a grid for the
# most characters that a line of a head may have, and for the size of the letters.
page_for <- function(grid, pages, widths, scales = 1) {
  grid$sizes <- grid_sizes(grid)
  for (page in names(pages)) for (scale in scales) for (most in c(14L, 10L)) {
    own <- widths(grid, most, scale)
    # columns alike, where there is room for that
    even <- replace(own, !grid$labels, max(own[!grid$labels]))
    tries <- list(even, alike_under_heads(own, grid), own)
    # labels are whole, or take what room there is
    whole <- whole_labels(grid, widths, most, scale)
    for (try in c(lapply(tries, pmax, whole), tries)) if (sum(try) <= pages[[page]])
      return(list(page = page, head_most = most, scale = scale,
                  widths = labels_in_room(try, whole, pages[[page]])))
  }
  smallest <- min(scales)
  list(page = names(pages)[length(pages)], widths = widths(grid, 14L, smallest),
       head_most = 14L, scale = smallest)
}

# The lines that groups begin on: what stands at the end, headings, nets.
group_starts <- function(grid) {
  unique(c(1L, which(grid$foot | grid$roles %in% c("heading", "net"))))
}

# How wide labels would be on one line each, up to a limit; 0 for figures.
label_most_in_room <- 60L

whole_labels <- function(grid, widths, most, scale) {
  if (is.na(grid$wraps[1L])) grid$wraps[1L] <- label_most_in_room
  ifelse(grid$labels, widths(grid, most, scale), 0)
}

# Labels take what room is left before they wrap, the first first.
labels_in_room <- function(widths, whole, room) {
  for (j in which(whole > widths))
    widths[j] <- min(whole[j], widths[j] + room - sum(widths))
  widths
}

# The columns of one question are of one width.
alike_under_heads <- function(widths, grid) {
  for (level in grid$heads) {
    ends <- cumsum(level$span)
    for (k in which(level$kind == "spanner")) {
      own <- seq(ends[k] - level$span[k] + 1L, ends[k])
      widths[own] <- max(widths[own])
    }
  }
  widths
}

# Widths that a page has room for: the widest give way, all to the same width.
fitted_widths <- function(widths, room) {
  if (sum(widths) <= room) return(widths)
  sorted <- sort(widths)
  # the most that the k widest may have when the others stay as they are
  most <-
    (room - c(0, cumsum(sorted)[-length(sorted)])) / rev(seq_along(sorted))
  k <- which(most <= sorted)
  pmin(widths, max(most[k[1L]], max(widths) / 4))
}
