# Figures of bars and dots as they stand in pages and documents: the figures of the plots that
# autoplot() gives, put straight on the device, which takes a tenth of the time. A scene says what
# stands where, in the units of its axes; it is drawn in inches, from the upper left.

# A scene:
#   key      what is drawn, for the line under the title
#   columns  how many panels stand beside each other
#   panels   one a panel: `title`, `rows` (their labels from the top; row k lies at k), `range` and
#            `breaks` of its axis across, and data frames of `boxes`, `lines`, `points`, `texts`
#   axis     writes the breaks
#   legend   labels, colours and, of points, shapes; NULL without one
#   above    room over the rows, in rows
new_scene <- function(f, key, panels, axis, legend = NULL, columns = 1L, above = 0, free = FALSE) {
  structure(list(texts = figure_texts(f, key, 8.6), panels = panels, axis = axis, legend = legend,
                 columns = columns, above = above, free = free), class = "fairlattice_scene")
}

is_scene <- function(x) inherits(x, "fairlattice_scene")

# The parts of a scene panel by panel: data frames with a column `each`.
scene_panels <- function(f, data, rows, range, ..., breaks = NULL) {
  parts <- list(...)
  lapply(levels(data$each), function(panel) {
    own <- lapply(parts, function(part) part[part$each == panel, , drop = FALSE])
    limits <- if (is.function(range)) range(panel) else range
    c(list(title = if (f$layers > 1L || !is.null(f$each)) panel_title(f, panel),
           rows = rows(panel), range = limits, breaks = breaks %||% breaks_in(limits)), own)
  })
}

breaks_in <- function(range, wanted = 5L, of = range) {
  at <- pretty(of, wanted)
  at[at >= range[1L] - 1e-9 & at <= range[2L] + 1e-9]
}

# The bars of a panel, from the top, and the row of each.
rows_of_bars <- function(data) {
  labels <- bar_labels(data)
  function(panel) rev(labels[levels(data$bar_key) %in% data$bar_key[data$each == panel]])
}
row_of_bar <- function(data) {
  key <- -as.integer(data$bar_key)
  stats::ave(key, data$each, FUN = function(k) match(k, sort(unique(k))))
}

boxes_at <- function(data, from, to, row, half, fill, border) {
  list2DF(list(each = data$each, from = rep_len(from, nrow(data)), to = to, row = row,
               half = rep_len(half, nrow(data)), fill = fill,
               border = rep_len(border, nrow(data))))
}

texts_at <- function(data, x, row, text, hjust = 0.5, colour = "#1c1c1c", bold = FALSE,
                     vjust = 0.5) {
  n <- nrow(data)
  list2DF(list(each = data$each, x = x, row = row, text = text, hjust = rep_len(hjust, n),
               colour = rep_len(colour, n), bold = rep_len(bold, n), vjust = rep_len(vjust, n)))
}

# A line with no row is upright, one with no ends goes across.
lines_at <- function(each, from, to, row, colour) {
  n <- length(each)
  list2DF(list(each = each, from = rep_len(from, n), to = rep_len(to, n), row = rep_len(row, n),
               colour = rep_len(colour, n)))
}

legend_entries <- function(labels, colours, shapes = NULL) {
  list(labels = wrap_words(labels, 18L), colours = unname(colours), shapes = shapes)
}

# ---- the scenes ----

shares_scene <- function(data, f) {
  if (f[[figure_side(f)[["piece"]]]]$ticks) return(items_scene(data, f))
  stacked_scene(replace(data, "value", list(data$percent)), f, "shares", percent_axis)
}

counts_scene <- function(data, f) {
  stacked_scene(replace(data, "value", list(data$count)), f, counts_key(f), format_count)
}

stacked_scene <- function(data, f, key, axis) {
  colours <- colours_of(f, nlevels(data$piece), f[[figure_side(f)[["piece"]]]]$ordered)
  data <- data[order(data$each, data$bar_key, as.integer(data$piece)), ]
  to <- stats::ave(data$value, data$bar_key, FUN = cumsum)
  row <- row_of_bar(data)
  piece <- as.integer(data$piece)
  boxes <- boxes_at(data, to - data$value, to, row, 0.39, colours[piece], "white")
  texts <- texts_at(data, to - data$value / 2, row, data$label, colour = ink_on(colours)[piece])
  named <- names_above(data, f)
  if (!is.null(named)) {
    over <- texts_at(named, named$middle, rep(0.54, nrow(named)), named$name, vjust = 0)
    texts <- bind_frames(list(texts, over))
  }
  breaks <- if (key == "shares") seq(0, 100, 25) else breaks_in(c(0, max(to)))
  panels <- scene_panels(f, data, rows_of_bars(data), c(0, max(to) * 1.03), boxes = boxes,
                         texts = texts, breaks = breaks)
  new_scene(f, key_of(f, key), panels, axis,
            if (is.null(named)) legend_entries(levels(data$piece), colours),
            above = if (is.null(named)) 0 else
              0.4 * max(lengths(strsplit(named$name, "\n", fixed = TRUE))))
}

# Ticks do not add up: a bar an item, a panel a base.
items_scene <- function(data, f) {
  names <- bar_labels(data)
  base <- factor(data$bar_key, rev(levels(data$bar_key)))
  data$each <- base
  row <- as.integer(data$piece)
  boxes <- boxes_at(data, 0, data$percent, row, 0.35, rep(item_colour(f), nrow(data)), NA)
  texts <- texts_at(data, data$percent, row,
                    paste0(" ", format_percent(data$percent / 100, 0L)), hjust = 0)
  range <- c(0, max(data$percent) * 1.15)
  panels <- scene_panels(f, data, function(panel) wrap_words(levels(data$piece), 22L), range,
                         boxes = boxes, texts = texts, breaks = breaks_in(range, 4L))
  titles <- item_panel_title(f, names, levels(base))
  panels <- lapply(seq_along(panels), function(k) {
    replace(panels[[k]], "title", list(if (nlevels(base) > 1L) titles[k]))
  })
  new_scene(f, key_of(f, "shares"), panels, percent_axis, columns = min(3L, length(panels)))
}

grouped_scene <- function(data, f) {
  colours <- colours_of(f, nlevels(data$piece), f[[figure_side(f)[["piece"]]]]$ordered)
  data <- data[order(data$each, data$bar_key, as.integer(data$piece)), ]
  many <- stats::ave(data$value, data$bar_key, FUN = length)
  nth <- stats::ave(data$value, data$bar_key, FUN = seq_along)
  row <- row_of_bar(data) - 0.42 + (nth - 0.5) * 0.84 / many
  boxes <- boxes_at(data, 0, data$value, row, 0.42 / many * 0.94,
                    colours[as.integer(data$piece)], "#55504a")
  texts <- texts_at(data, data$value, row, paste0(" ", data$label), hjust = 0)
  panels <- scene_panels(f, data, rows_of_bars(data), c(0, max(data$value) * 1.08),
                         boxes = boxes, texts = texts)
  axis <- if (is.null(f$counts)) percent_axis else format_count
  new_scene(f, key_of(f, grouped_key(f)), panels, axis,
            legend_entries(levels(data$piece), colours))
}

balance_scene <- function(data, f) {
  colours <- balance_colours(nlevels(data$piece), f$palette %||% f$style$colours$answers)
  row <- row_of_bar(data)
  piece <- as.integer(data$piece)
  ends <- balance_ends(data)
  end_row <- row[match(ends$bar_key, data$bar_key)]
  total <- function(x) format_percent(x / 100, 0L)
  boxes <- boxes_at(data, data$from, data$to, row, 0.39, colours[piece], "white")
  texts <- bind_frames(list(
    texts_at(data, (data$from + data$to) / 2, row, data$label, colour = ink_on(colours)[piece]),
    texts_at(ends, ends$left, end_row, paste0(total(ends$below), " "), 1, bold = TRUE),
    texts_at(ends, ends$right, end_row, paste0(" ", total(ends$above)), 0, bold = TRUE)))
  lines <- lines_at(factor(levels(data$each), levels(data$each)), 0, 0, NA_real_, "#1c1c1c")
  range <- range(data$from, data$to, ends$right)
  range <- range + c(-0.06, 0.06) * diff(range)
  panels <- scene_panels(f, data, rows_of_bars(data), range, lines = lines, boxes = boxes,
                         texts = texts,
                         breaks = breaks_in(range, 6L, c(min(data$from), max(ends$right))))
  new_scene(f, key_of(f, "balance"), panels, percent_axis,
            legend_entries(levels(data$piece), colours))
}

dots_scene <- function(data, f) {
  own <- named_beside(f)
  data <- dots_placed(data, own)
  pieces <- levels(data$piece)
  row <- length(pieces) + 1 - data$y
  place <- as.integer(data$place)
  colours <- line_colours(f, nlevels(data$place))
  shapes <- point_shapes(nlevels(data$place))
  most <- ifelse(is.na(data$high), data$percent, data$high)
  least <- ifelse(is.na(data$low), data$percent, data$low)
  # the same for all panels where names stand beside the points
  range <- function(panel) {
    at <- if (own) TRUE else data$each == panel
    ends <- c(min(least[at]), max(most[at]))
    ends + c(-0.05, if (own) 0.2 else 0.05) * max(diff(ends), 1e-9)
  }
  between <- expand.grid(each = levels(data$each), row = seq_len(length(pieces) - 1L) + 0.5)
  sure <- !is.na(data$low)
  lines <- bind_frames(list(
    lines_at(between$each, NA_real_, NA_real_, between$row, "#d9d4ca"),
    lines_at(data$each[sure], data$low[sure], data$high[sure], row[sure], colours[place[sure]])))
  points <- list2DF(list(each = data$each, x = data$percent, row = row, colour = colours[place],
                         shape = shapes[place]))
  texts <- texts_at(data, most, row, paste0("  ", data$bar), hjust = 0, colour = colours[place])
  panels <- scene_panels(f, data, function(panel) rev(wrap_words(pieces, 24L)), range,
                         lines = lines, points = points, texts = if (own) texts else texts[0L, ])
  new_scene(f, dots_key(f), panels, percent_axis,
            if (!own) legend_entries(levels(data$place), colours, shapes), free = !own)
}

# ---- a scene on the device ----

# Points of the parts of a figure, at 12 points of text.
text_points <- c(title = 14.4, subtitle = 12, caption = 9.6, small = 9.6, label = 9.7)

pen_of <- function(style, size) {
  looks <- figure_looks(style)
  c(looks, list(wide = size[[1L]], high = size[[2L]], points = text_points * looks$size / 12))
}

paint_scene <- function(scene, style, size) {
  pen <- pen_of(style, size)
  grid::grid.newpage()
  paint_boxes(pen, 0, pen$wide, 0, pen$high, pen$paper, NA)
  left <- 8 / 72
  top <- 8 / 72
  texts <- scene$texts
  if (!is.null(texts$title))
    top <- top + paint_block(pen, texts$title, left, top, "title", bold = TRUE)
  top <- top + paint_block(pen, texts$subtitle, left, top, "subtitle", pen$quiet)
  if (!is.null(scene$legend)) top <- top + paint_legend(pen, scene$legend, left, top)
  bottom <- pen$high - 8 / 72
  if (!is.null(texts$caption)) {
    bottom <- bottom - lines_high(texts$caption, pen, "caption")
    paint_text(pen, left, bottom, texts$caption, "caption", colour = pen$quiet)
    bottom <- bottom - 5 / 72
  }
  paint_panels(pen, scene, left, pen$wide - 14 / 72, top, bottom)
}

# Panels row by row, as high as they have rows; labels of the rows beside the first of each.
paint_panels <- function(pen, scene, left, right, top, bottom) {
  panels <- scene$panels
  small <- pen$points[["small"]]
  stub <- text_wide(pen, unlist(lapply(panels, `[[`, "rows")), "small") + 6 / 72
  axis <- 1.6 * small / 72
  gap <- 18 / 72
  per <- scene$columns
  wide <- (right - left - stub - gap * (per - 1L)) / per
  nth <- (seq_along(panels) - 1L) %/% per
  title <- vapply(panels, function(one) {
    if (is.null(one$title)) 0 else lines_high(one$title, pen, "small") + 5 / 72
  }, 0)
  title <- stats::ave(title, nth, FUN = max)
  rows <- stats::ave(vapply(panels, function(one) length(one$rows) + scene$above + 0.2, 0), nth,
                     FUN = max)
  first <- !duplicated(nth)
  with_axis <- scene$free | nth == max(nth) | seq_along(panels) + per > length(panels)
  axes <- tapply(with_axis, nth, any) | max(nth) == nth[first]
  room <- bottom - top - sum(title[first]) - axis * sum(axes) - 8 / 72 * max(nth)
  pitch <- room / sum(rows[first])
  for (k in seq_along(panels)) {
    x <- left + stub + (wide + gap) * ((k - 1L) %% per)
    y <- top + title[k]
    if (title[k] > 0) paint_text(pen, x, top, panels[[k]]$title, "small", bold = TRUE)
    paint_panel(pen, scene, panels[[k]], x, x + wide, y, pitch, with_axis[k], (k - 1L) %% per == 0L)
    if (k == length(panels) || nth[k + 1L] > nth[k])
      top <- y + pitch * rows[k] + 8 / 72 + if (axes[[nth[k] + 1L]]) axis else 0
  }
}

paint_panel <- function(pen, scene, panel, from, to, top, pitch, with_axis, with_rows) {
  x <- function(value) from + (value - panel$range[1L]) / diff(panel$range) * (to - from)
  y <- function(row) top + (row - 0.4 + scene$above) * pitch
  end <- y(length(panel$rows) + 0.6)
  for (line in x(panel$breaks)) paint_lines(line, line, top, end, "#ebebeb", 0.8, pen)
  fine <- panel$lines
  if (NROW(fine)) {
    upright <- is.na(fine$row)
    across <- is.na(fine$from)
    paint_lines(ifelse(across, from, x(fine$from)), ifelse(across, to, x(fine$to)),
                ifelse(upright, top, y(fine$row)), ifelse(upright, end, y(fine$row)), fine$colour,
                ifelse(across, 0.9, 1.5), pen)
  }
  boxes <- panel$boxes
  if (NROW(boxes))
    paint_boxes(pen, x(boxes$from), x(boxes$to), y(boxes$row - boxes$half),
                y(boxes$row + boxes$half), boxes$fill, boxes$border)
  points <- panel$points
  if (NROW(points))
    grid::grid.points(inches(x(points$x)), inches(pen$high - y(points$row)), pch = points$shape,
                      size = grid::unit(0.11, "inches"),
                      gp = grid::gpar(col = points$colour, fill = points$colour))
  texts <- panel$texts
  texts <- texts[nzchar(texts$text), ]
  for (style in split(texts, list(texts$hjust, texts$bold, texts$vjust), drop = TRUE))
    paint_text(pen, x(style$x), y(style$row), style$text, "label", colour = style$colour,
               bold = style$bold[1L], hjust = style$hjust[1L], vjust = style$vjust[1L])
  if (with_rows)
    paint_text(pen, from - 6 / 72, y(seq_along(panel$rows)), panel$rows, "small", hjust = 1,
               vjust = 0.5)
  if (with_axis)
    paint_text(pen, x(panel$breaks), end + 3 / 72, scene$axis(panel$breaks), "small", hjust = 0.5)
}

# Names beside their colours, five a line; how high it is.
paint_legend <- function(pen, legend, left, top) {
  n <- length(legend$labels)
  lines <- ceiling(n / 5)
  columns <- ceiling(n / lines)
  nth <- seq_len(n) - 1L
  column <- nth %% columns
  line <- nth %/% columns
  wide <- vapply(split(legend$labels, column), function(own) text_wide(pen, own, "small"), 0)
  high <- vapply(split(legend$labels, line), function(own) {
    max(11 / 72, vapply(own, lines_high, 0, pen = pen, part = "small"))
  }, 0) + 4 / 72
  x <- left + cumsum(c(0, wide + 28 / 72))[column + 1L]
  y <- top + cumsum(c(0, high))[line + 1L] + (high[line + 1L] - 4 / 72) / 2
  square <- 11 / 72
  if (is.null(legend$shapes)) {
    paint_boxes(pen, x, x + square, y - square / 2, y + square / 2, legend$colours, NA)
  } else {
    grid::grid.points(inches(x + square / 2), inches(pen$high - y), pch = legend$shapes,
                      size = grid::unit(0.11, "inches"),
                      gp = grid::gpar(col = legend$colours, fill = legend$colours))
  }
  paint_text(pen, x + square + 5 / 72, y, legend$labels, "small", vjust = 0.5)
  sum(high) + 6 / 72
}

# ---- marks ----

inches <- function(x) grid::unit(x, "inches")

paint_boxes <- function(pen, from, to, top, bottom, fill, border) {
  grid::grid.rect(inches(from), inches(pen$high - bottom), inches(to - from),
                  inches(bottom - top), just = c(0, 0),
                  gp = grid::gpar(fill = fill, col = border, lwd = 1.1))
}

paint_lines <- function(from, to, top, bottom, colour, wide, pen) {
  grid::grid.segments(inches(from), inches(pen$high - top), inches(to), inches(pen$high - bottom),
                      gp = grid::gpar(col = colour, lwd = wide))
}

text_looks <- function(pen, part, colour = pen$ink, bold = FALSE) {
  grid::gpar(fontsize = pen$points[[part]], lineheight = 0.9, col = colour,
             fontfamily = if (part == "title") pen$title else pen$family,
             fontface = if (bold) "bold" else "plain")
}

# `vjust` 0 puts what it says above its place, 1 below.
paint_text <- function(pen, x, y, text, part, colour = pen$ink, bold = FALSE, hjust = 0,
                       vjust = 1) {
  grid::grid.text(text, inches(x), inches(pen$high - y), just = c(hjust, vjust),
                  gp = text_looks(pen, part, colour, bold))
}

# Lines of text, and how high they are with the room below.
paint_block <- function(pen, text, left, top, part, colour = pen$ink, bold = FALSE) {
  paint_text(pen, left, top, text, part, colour, bold)
  lines_high(text, pen, part) + 6 / 72
}

lines_high <- function(text, pen, part) {
  (1L + sum(gregexpr("\n", text, fixed = TRUE)[[1L]] > 0L)) * pen$points[[part]] * 0.9 / 72 +
    0.2 * pen$points[[part]] / 72
}

text_wide <- function(pen, text, part) {
  lines <- unlist(strsplit(as.character(text), "\n", fixed = TRUE))
  if (!length(lines)) return(0)
  grid::pushViewport(grid::viewport(gp = text_looks(pen, part)))
  on.exit(grid::popViewport())
  max(grid::convertWidth(grid::stringWidth(lines), "inches", valueOnly = TRUE))
}
