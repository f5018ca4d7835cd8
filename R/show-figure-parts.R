# What all figures share: the side that makes the bars, the cells as they are
# drawn, colours, labels that keep clear of each other, titles and theme.

# The side that the percentages are of makes the bars (or groups, or columns);
# the answers of the other are their pieces.
figure_side <- function(f) {
  if (f$percent == "row") c(bar = "down", piece = "across") else
    c(bar = "across", piece = "down")
}

# The cells: percentages with their intervals, counts, weighted counts where
# there are weights.
drawn_cells <- function(f) {
  side <- figure_side(f)
  of <- if (f$percent %in% c("row", "total")) f$percent else "column"
  cells <- f$cells[!is.na(f$cells[[paste0(of, "_percent")]]), ]
  base <- f$margins[[side[["bar"]]]]
  bar <- cells[[side[["bar"]]]]
  figure <- function(name) cells[[paste0(of, "_", name)]]
  data <- list2DF(list(
    each = cells$each, bar = bar,
    piece = factor(cells[[side[["piece"]]]],
                   unique(f$cells[[side[["piece"]]]])),
    percent = figure("percent"),
    low = figure("low") %||% rep(NA_real_, nrow(cells)),
    high = figure("high") %||% rep(NA_real_, nrow(cells)), n = cells$n,
    weighted = cells$weighted,
    count = if (is.null(f$weight)) cells$n else cells$weighted,
    base = base$n[match(paste(cells$each, bar), paste(base$each, base$category))],
    residual = cells$adjusted_residual %||% rep(NA_real_, nrow(cells)),
    mark = cells$mark %||% rep("", nrow(cells))))
  data$each <- panel_of(data$each)
  # bars of the same name in two panels are two
  key <- paste(data$each, data$bar, sep = "\r")
  data$bar_key <- factor(key, rev(unique(key)))
  data <- data[is.na(data$base) | data$base == 0 | data$base >= (f$hide_under %||% 0), ]
  data$bar_label <- paste0(wrap_words(data$bar, 22L), ifelse(
    is.na(data$base), "", sprintf(" (%s)", format_count(data$base))))
  data$bar <- factor(data$bar, unique(f$cells[[side[["bar"]]]]))
  data
}

# What the percentages are of.
bars_of <- function(f) {
  side <- figure_side(f)[["bar"]]
  if (isTRUE(f$statements) && side == "down") words("each_statement") else f[[side]]$label
}

bar_labels <- function(data) {
  stats::setNames(data$bar_label, data$bar_key)[levels(data$bar_key)]
}

bar_axis <- function(data, above = 0.6) {
  ggplot2::scale_y_discrete(labels = bar_labels(data),
                            expand = ggplot2::expansion(add = c(0.6, above)))
}

# The panel that a cell is in, in their order; "" of a table without `each`.
panel_of <- function(each) {
  each <- ifelse(is.na(each), "", each)
  factor(each, unique(each))
}

# How many bars each panel has.
bars_of_panels <- function(f) {
  each <- unique(f$cells[c("each", figure_side(f)[["bar"]])])$each
  tabulate(match(each, unique(each)))
}

answers_drawn <- function(f) {
  length(unique(f$cells[[figure_side(f)[["piece"]]]]))
}

panel_rows <- function(f, columns = 2L) max(1L, ceiling(f$layers / columns))

# ---- words round a figure ----

# Title, what is drawn and of whom, and at the foot the test and the strength.
figure_texts <- function(f, key, width) {
  base <- words("figure_base", n = f$n, weight = f$weight)
  if (!is.null(f$shown)) key <- words("list_line", shown = f$shown, line = key)
  letters_of <- function(inches, size) as.integer(inches * 137 / size)
  list(title = if (!is.null(f$title)) wrap_words(f$title, letters_of(width, 15)),
       subtitle = wrap_words(paste0(key, " ", base), letters_of(width, 12.5)),
       caption = if (!is.null(f$caption)) wrap_words(f$caption, letters_of(width, 12)))
}

figure_labels <- function(plot, f, key, width) {
  texts <- figure_texts(f, key, width)
  plot + ggplot2::labs(title = texts$title, subtitle = texts$subtitle, caption = texts$caption)
}

# Panels of `each` or of a banner, with the strength and p of each over it.
with_panels <- function(plot, f, columns = 2L, scales = "free_y") {
  if (f$layers < 2L && is.null(f$each)) return(plot)
  plot +
    ggplot2::facet_wrap("each", ncol = columns, scales = scales,
                        labeller = ggplot2::as_labeller(
                          function(x) panel_title(f, x)))
}

panel_title <- function(f, panel) {
  note <- f$notes[panel]
  unname(paste0(wrap_words(panel, 45L),
                ifelse(is.na(note) | !nzchar(note), "", paste0("\n", note))))
}

# The figure in words: what kind it is, what was found, and the values.
figure_alt <- function(f, kind, values) {
  visible(words("figure_alt", kind = words(paste0("figure_kind.", kind)),
                title = f$title, finding = f$finding(), values = values))
}

# The percentages bar by bar.
values_by_bar <- function(data) {
  key <- paste(data$each, data$bar)
  vapply(split(data, factor(key, unique(key))), function(bar) {
    sprintf("%s%s: %s.", panel_before(bar$each[1L]), bar$bar[1L],
            paste(bar$piece, percent_words(bar$percent / 100), collapse = ", "))
  }, "")
}

panel_before <- function(each) {
  ifelse(nzchar(as.character(each)), paste0(each, ", "), "")
}

# ---- labels ----

wrap_words <- function(x, width) {
  vapply(as.character(x), function(one) {
    paste(strwrap(one, width), collapse = "\n")
  }, "", USE.NAMES = FALSE)
}

percent_axis <- function(x) {
  paste0(format_percent(abs(x) / 100, 0L), words("percent_sign"))
}

# Positions of things so many wide that do not overlap and lie as near to those
# wanted as they can (least squares: isotonic regression).
spread_out <- function(at, width) {
  by_place <- order(at)
  width <- rep_len(width, length(at))[by_place]
  steps <- cumsum(c(0, (width[-1L] + width[-length(width)]) / 2))[seq_along(at)]
  at[by_place] <- stats::isoreg(at[by_place] - steps)$yf + steps
  at
}

# Inches that a text takes in a figure.
text_inches <- function(text) {
  vapply(strsplit(text, "\n", fixed = TRUE), function(lines) {
    0.078 * max(nchar(lines, type = "width"), 0)
  }, 0)
}

# Places of labels beside points, in the same units as the points: each the
# first of several round its point that is clear of all points and of the labels
# placed before it, and otherwise the one that overlaps the least.
placed_labels <- function(x, y, width, height, clear = height / 2) {
  n <- length(x)
  boxes <- matrix(NA_real_, n, 4L)
  points <- cbind(x - clear, x + clear, y - clear, y + clear)
  overlap <- function(box, others) {
    sum(pmax(0, pmin(box[2L], others[, 2L]) - pmax(box[1L], others[, 1L])) *
          pmax(0, pmin(box[4L], others[, 4L]) - pmax(box[3L], others[, 3L])),
        na.rm = TRUE)
  }
  out <- list2DF(list(x = x, y = y, moved = rep(FALSE, n)))
  for (k in order(-y)) {
    directions <- rbind(c(1, 0), c(-1, 0), c(0, 1), c(0, -1), c(1, 1), c(-1, 1),
                        c(1, -1), c(-1, -1))
    places <- do.call(rbind,
                      lapply(c(1, 1.8, 3, 4.5), function(far) {
                        cbind(x[k] +
                                directions[, 1L] * (width[k] / 2 + clear * far),
                              y[k] + directions[, 2L] * (height + clear) * far,
                              far)
                      }))
    lost <- apply(places, 1L, function(at) {
      box <- c(at[1L] - width[k] / 2, at[1L] + width[k] / 2,
               at[2L] - height / 2, at[2L] + height / 2)
      overlap(box, boxes) + overlap(box, points[-k, , drop = FALSE])
    })
    best <- places[which.min(round(lost, 8)), ]
    boxes[k, ] <-
      c(best[1L] + c(-1, 1) * width[k] / 2, best[2L] + c(-1, 1) * height / 2)
    out$x[k] <- best[1L]
    out$y[k] <- best[2L]
    out$moved[k] <- best[3L] > 1
  }
  out
}

# ---- colours and theme ----

# Ordered answers go from light to dark of one hue; unordered ones differ in hue
# and in lightness both, so that they can be told apart without colour.
answer_colours <- function(n, ordered, house = NULL) {
  if (length(house)) return(rep_len(house, n))
  if (ordered)
    return(grDevices::hcl(h = 215, c = seq(18, 55, length.out = n),
                          l = seq(90, 30, length.out = n)))
  hue <- (20 + 360 * (seq_len(n) - 1) * 0.381966) %% 360
  grDevices::hcl(h = hue, c = 45, l = rep_len(c(40, 76, 55, 88, 34, 68), n))
}

# Ordered answers left and right of a middle: two hues, dark at the ends, and a
# light grey between.
balance_colours <- function(n, house = NULL) {
  if (length(house)) return(rep_len(house, n))
  half <- n %/% 2L
  side <- function(hue, light) {
    grDevices::hcl(h = hue, c = seq(55, 25, length.out = half),
                   l = seq(light[1L], light[length(light)], length.out = half))
  }
  # of an even number the two beside the middle differ in lightness too
  ends <- if (half == 1L) list(45, 72) else list(c(34, 72), c(28, 82))
  c(side(55, ends[[1L]]), if (n %% 2L) "#f0ede7", rev(side(215, ends[[2L]])))
}

colours_of <- function(f, n, ordered) {
  answer_colours(n, ordered, f$palette %||% f$style$colours$answers)
}

# Lines and points on paper: no colour so light that it is lost there.
line_colours <- function(f, n) {
  house <- f$palette %||% f$style$colours$answers
  if (length(house)) return(rep_len(house, n))
  hue <- (215 + 360 * (seq_len(n) - 1) * 0.381966) %% 360
  grDevices::hcl(h = hue, c = 60, l = rep_len(c(32, 56, 44, 60), n))
}

point_shapes <- function(n) {
  rep_len(c(16L, 17L, 15L, 4L, 1L, 2L, 0L, 3L, 5L, 6L), n)
}

ink_on <- function(colour) {
  rgb <- grDevices::col2rgb(colour) / 255
  linear <- ifelse(rgb <= 0.04045, rgb / 12.92, ((rgb + 0.055) / 1.055)^2.4)
  light <- c(0.2126, 0.7152, 0.0722) %*% linear
  ifelse(as.vector(light) > 0.179, "black", "white") # where both have the same contrast
}

# Shades: of percentages from 0 to the most, of residuals from fewer to more
# than expected, evenly spaced to the eye.
shades_of <- function(x, most, colours = c("#f4f2ee", "#00485a")) {
  at <- if (length(colours) == 2L) x / most else
    (pmin(pmax(x, -most), most) / most + 1) / 2
  shade <-
    grDevices::colorRamp(colours, space = "Lab")(ifelse(is.na(at), 0, at))
  ifelse(is.na(at), "#dddddd", grDevices::rgb(shade, maxColorValue = 255))
}

residual_shades <- function(x) {
  shades_of(x, 8, c("#8a4f00", "#f4f2ee", "#005a6e"))
}

with_sign <- function(x) {
  paste0(ifelse(x > 0, "+", ""), sub("-", "\u2212", format_number(x, 1L)))
}

# The first of several fonts; a drawing has one.
font_of <- function(fonts) {
  if (is.null(fonts)) "" else trimws(sub(",.*", "", fonts))
}

text_in <- function(f, ..., size = 3.6) {
  ggplot2::geom_text(..., size = size, family = font_of(f$style$fonts$text))
}

# A house's fonts and colours, as far as a figure has them.
figure_looks <- function(style) {
  list(size = style$fonts$size %||% 12, family = font_of(style$fonts$text),
       title = font_of(style$fonts$title %||% style$fonts$text),
       ink = style$colours$ink %||% "#1c1c1c", quiet = style$colours$quiet %||% "#55504a",
       paper = style$colours$paper %||% "white")
}

figure_theme <- function(style = NULL) {
  looks <- figure_looks(style)
  ggplot2::theme_minimal(base_size = looks$size, base_family = looks$family) +
    ggplot2::theme(
      legend.position = "top", legend.justification = "left",
      panel.grid.major.y = ggplot2::element_blank(),
      panel.grid.minor = ggplot2::element_blank(), plot.title.position = "plot",
      plot.caption.position = "plot",
      plot.margin = ggplot2::margin(8, 14, 8, 8),
      panel.spacing.x = ggplot2::unit(18, "pt"),
      text = ggplot2::element_text(colour = looks$ink),
      axis.text = ggplot2::element_text(colour = looks$ink),
      strip.text = ggplot2::element_text(
        face = "bold", hjust = 0, colour = looks$ink),
      plot.title = ggplot2::element_text(
        face = "bold", family = looks$title),
      plot.subtitle = ggplot2::element_text(colour = looks$quiet),
      plot.caption = ggplot2::element_text(
        colour = looks$quiet, hjust = 0, size = ggplot2::rel(0.8)),
      plot.background = ggplot2::element_rect(
        fill = looks$paper, colour = NA),
      legend.key.size = ggplot2::unit(11, "pt"))
}
