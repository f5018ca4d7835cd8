# A sheet in the parts that every form is made of: the cells of its head with
# their spans, its lines, the signs beside its figures, and the lines of text
# under it in their order.

# The cells of the head, a row of the frame each: where it begins (`row`,
# `column`; column 0 is that of the stub), how many rows and columns it takes,
# its text and the figure's name under it, and what it is: "corner", "spanner"
# (over the columns of a question or of an answer) or "column". What has nothing
# over it reaches up to the top.
head_cells <- function(sheet) {
  over <- Filter(function(names) any(nzchar(names)),
                 list(sheet$columns$spanner, sheet$columns$heading))
  deep <- length(over) + 1L
  of <- seq_len(nrow(sheet$columns))
  # how many rows of the head a column's own cell takes
  own <- deep - Reduce(`+`, lapply(over, nzchar), rep(0L, length(of)))
  spanners <- lapply(seq_along(over), function(level) {
    # apart where what is above is
    key <- do.call(paste, c(over[seq_len(level)], sep = "\r"))
    runs <- rle(ifelse(nzchar(over[[level]]), key, paste0("\r", of)))
    first <- cumsum(c(1L, runs$lengths))[seq_along(runs$lengths)]
    there <- nzchar(over[[level]][first])
    new_heads(level, first[there], 1L, runs$lengths[there],
              over[[level]][first[there]], "spanner")
  })
  bind_frames(c(list(new_heads(1L, 0L, deep, 1L, sheet$corner, "corner")), spanners,
                list(new_heads(deep - own + 1L, of, own, 1L, sheet$columns$label,
                               "column", sheet$columns$figure))))
}

new_heads <- function(row, column, rows, columns, label, kind, figure = "") {
  size <- length(column)
  list2DF(list(row = rep_len(row, size), column = column,
               rows = rep_len(rows, size), columns = rep_len(columns, size),
               label = rep_len(label, size), figure = rep_len(figure, size),
               kind = rep_len(kind, size)))
}

# Lines in their groups: a question's answers, and what stands under them;
# several questions follow each other. `foot` says that a group stands at the
# end of the whole.
line_groups <- function(stub) {
  body <- stub$role %in% c("heading", "answer", "net")
  groups <- unname(split(seq_along(body),
                         cumsum(c(TRUE, body[-1L] != body[-length(body)]))))
  several <- "heading" %in% stub$role
  lapply(groups, function(rows) {
    list(rows = rows, body = body[rows[1L]],
         foot = !body[rows[1L]] && max(rows) == length(body) && !several)
  })
}

# A line's label; of a further figure of the same answer its name.
stub_labels <- function(stub) {
  further <- c(FALSE,
               stub$label[-1L] == stub$label[-nrow(stub)] &
                 nzchar(stub$figure[-1L]))
  ifelse(further, paste0("\u2002", stub$figure), stub$label)
}

# The sign of a cell's mark, or its letters.
signs_or_letters <- function(sheet) {
  if (is.null(sheet$letters))
    ifelse(sheet$mark == "", "", mark_signs[sheet$mark]) else sheet$letters
}

# What of the usual colours stands behind a mark.
mark_fills <-
  c(more = "more", higher = "more", fewer = "fewer", lower = "fewer")

# What stands beside the figure of a cell: the sign of its mark or its letters,
# and the sign of the largest.
cell_signs <- function(sheet) {
  matrix(trimws(paste(signs_or_letters(sheet), ifelse(sheet$peak, "^", ""))),
         nrow(sheet$value))
}

# The text of every cell with its sign or letters.
cell_texts <- function(sheet) {
  signs <- signs_or_letters(sheet)
  matrix(paste0(sheet_text(sheet), ifelse(signs == "", "", " "), signs,
                ifelse(sheet$peak, "^", "")), nrow(sheet$value))
}

# The heads of the columns on one line: question and heading where there are
# several of them, answer, figure.
head_texts <- function(sheet) {
  columns <- sheet$columns
  spanners <- setdiff(columns$spanner, "")
  before <- cbind(if (length(spanners) > 1L) columns$spanner, columns$heading)
  before <- apply(before, 1L, function(parts) {
    paste(parts[nzchar(parts)], collapse = ": ")
  })
  text <- ifelse(nzchar(before) & nzchar(columns$label),
                 paste(before, columns$label, sep = ": "), columns$label)
  trimws(paste(text, columns$figure))
}

# The lines of text under a sheet, in their order, each with its kind; of a
# caution with how severe it is.
lines_below <- function(sheet) {
  lines_of <- function(kind) {
    text <- sheet[[kind]]
    text <- text[nzchar(text)]
    list2DF(list(kind = rep(kind, length(text)),
                 severity = rep("", length(text)), text = as.character(text)))
  }
  cautions <- list2DF(list(kind = rep("caution", nrow(sheet$cautions)),
                           severity = sheet$cautions$severity,
                           text = sheet$cautions$text))
  do.call(rbind,
          c(lapply(c("key", "tests", "strength", "reference"), lines_of),
            list(cautions), lapply(c("notes", "account", "source"), lines_of)))
}

# "Care: 6 ids occur more than once."
caution_texts <- function(cautions) {
  sprintf("%s: %s", name_of("severity", cautions$severity), cautions$text)
}

# The same lines as texts that need no look: a caution begins with how severe it
# is.
texts_below <- function(sheet) {
  lines <- lines_below(sheet)
  ifelse(lines$kind == "caution", caution_texts(lines), lines$text)
}

# The title of a sheet with the answer of `each` that it is of.
full_title <- function(sheet) {
  parts <- c(sheet$title, sheet$layer)
  paste(parts[nzchar(parts)], collapse = ". ")
}
