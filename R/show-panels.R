# A table that is wider than its room, in panels one under another.

# Columns in as few panels as the room allows, as even as so many can be.
panels_of <- function(widths, room) {
  panel <- panels_filled(widths, room)
  least <- max(sum(widths) / max(panel), widths)
  for (step in seq_len(8L)) {
    middle <- (least + room) / 2
    narrower <- panels_filled(widths, middle)
    if (max(narrower) > max(panel)) {
      least <- middle
    } else {
      panel <- narrower
      room <- middle
    }
  }
  unname(split(seq_along(widths), panel))
}

# The panel of each column, one panel filled after the other.
panels_filled <- function(widths, room) {
  panel <- integer(length(widths))
  now <- 1L
  used <- 0L
  for (k in seq_along(widths)) {
    if (used > 0L && used + widths[k] > room) {
      now <- now + 1L
      used <- 0L
    }
    used <- used + widths[k]
    panel[k] <- now
  }
  panel
}

# The columns of a sheet in as many tables as the room asks for: the blocks of
# its questions stay together where they fit. `needed` are the widths of its
# columns, `room` what is left beside the labels.
sheet_panels <- function(sheet, needed, room) {
  if (sum(needed) <= room) return(list(seq_along(needed)))
  key <- sheet$columns$spanner
  block <- cumsum(c(TRUE, key[-1L] != key[-length(key)]))
  width <- as.vector(rowsum(needed, block))
  # questions stay whole where each of them has room
  if (any(width > room)) return(panels_of(needed, room))
  lapply(panels_of(width, room), function(k) which(block %in% k))
}
