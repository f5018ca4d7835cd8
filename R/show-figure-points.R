# Figures of points: percentages with their intervals, their change over waves,
# and the map of a table.

# ---- dots: the columns compared on one line ----

# A few columns that are the same in all panels have a legend; those of a
# banner, which differ, and many have their names beside them.
dots_draw <- function(data, f) {
  own <- named_beside(f)
  data <- dots_placed(data, own)
  size <- nlevels(data$piece)
  labels <- function(x) wrap_words(x, 18L)
  guide <- if (own) "none" else
    ggplot2::guide_legend(nrow = ceiling(max(data$bars) / 5), byrow = TRUE)
  colours <- ggplot2::scale_colour_manual(
    values = line_colours(f, nlevels(data$place)), labels = labels,
    guide = guide)
  shapes <- ggplot2::scale_shape_manual(
    values = point_shapes(nlevels(data$place)), labels = labels, guide = guide)
  down <- ggplot2::scale_y_continuous(
    breaks = seq_len(size), labels = wrap_words(levels(data$piece), 24L),
    limits = c(0.5, size + 0.5), expand = c(0, 0))
  across <- ggplot2::scale_x_continuous(
    labels = percent_axis,
    expand = ggplot2::expansion(c(0.05, if (own) 0.2 else 0.05)))
  between <- ggplot2::geom_hline(yintercept = seq_len(size - 1L) + 0.5,
                                 colour = "#d9d4ca", linewidth = 0.4)
  intervals <- ggplot2::geom_segment(
    ggplot2::aes(x = .data$low, xend = .data$high, y = .data$y,
                 yend = .data$y), linewidth = 0.7, na.rm = TRUE)
  points <- ggplot2::geom_point(ggplot2::aes(x = .data$percent, y = .data$y),
                                size = 2.6)
  names_beside <- if (own)
    text_in(f, ggplot2::aes(x = ifelse(is.na(.data$high), .data$percent,
                                       .data$high), y = .data$y,
                            label = paste0("  ", .data$bar)), hjust = 0,
            size = 2.7)
  plot <- ggplot2::ggplot(data, ggplot2::aes(colour = .data$place,
                                             shape = .data$place)) +
          between + intervals + points + names_beside + colours + shapes +
          down + across +
          ggplot2::labs(x = NULL, y = NULL, colour = NULL, shape = NULL)
  with_panels(figure_labels(plot, f, dots_key(f), 8.6) + figure_theme(f$style), f, 1L,
              if (own) "fixed" else "free")
}

dots_key <- function(f) words("figure_key.dots", question = bars_of(f), alpha = f$alpha)

# The height of every point: those of a line stand below each other, in panels
# of their own only those that the panel has.
dots_placed <- function(data, own) {
  bar <- as.integer(data$bar)
  data$bars <- nlevels(data$bar)
  if (own) {
    bar <- stats::ave(bar, data$each,
                      FUN = function(k) match(k, sort(unique(k))))
    data$bars <- stats::ave(bar, data$each, FUN = max)
  }
  data$place <- if (own) factor(bar) else data$bar
  data$piece <- factor(data$piece, rev(levels(data$piece)))
  data$y <- as.integer(data$piece) -
            (bar - (data$bars + 1) / 2) * 0.76 / pmax(data$bars, 2L)
  data
}

named_beside <- function(f) bars_differ(f) || max(bars_of_panels(f)) > 10L

bars_differ <- function(f) {
  of <- split(f$cells[[figure_side(f)[["bar"]]]], panel_of(f$cells$each))
  length(of) > 1L && !any(Reduce(intersect, lapply(of, unique)) %in% unlist(of))
}

dots_size <- function(f) {
  high <- answers_drawn(f) *
          pmax(0.34, (if (named_beside(f)) 0.17 else 0.12) * bars_of_panels(f))
  if (named_beside(f)) high <- rep(max(high), length(high))
  c(8.6, min(40, 2.3 + sum(high + if (f$layers > 1L) 0.7 else 0)))
}

# ---- change: percentages over waves ----

change_data <- function(f) {
  data <- drawn_cells(f)
  data$x <- as.integer(data$bar)
  data$label <- sprintf("%s %s", wrap_words(data$piece, 26L),
                        format_percent(data$percent / 100, 0L))
  data
}

change_draw <- function(data, f) {
  pieces <- nlevels(data$piece)
  waves <- levels(data$bar)
  ends <- range(c(data$low, data$high, data$percent), na.rm = TRUE)
  last <- do.call(rbind, lapply(split(data, data$each), function(panel) {
    panel <- panel[panel$x == max(panel$x), ]
    panel$at <- spread_out(panel$percent, diff(ends) * 0.062)
    panel
  }))
  several <- stats::ave(data$x, data$each, data$piece, FUN = length) > 1L
  plot <- ggplot2::ggplot(data,
                          ggplot2::aes(x = .data$x, y = .data$percent,
                                       colour = .data$piece)) +
          ggplot2::geom_linerange(ggplot2::aes(
                                    ymin = .data$low, ymax = .data$high),
                                  linewidth = 0.5, alpha = 0.6,
                                  position = ggplot2::position_dodge(
                                    width = 0.12), na.rm = TRUE) +
          ggplot2::geom_line(ggplot2::aes(linetype = .data$piece),
                             data = data[several, ], linewidth = 0.8,
                             position = ggplot2::position_dodge(width = 0.12)) +
          ggplot2::geom_point(ggplot2::aes(shape = .data$piece), size = 2.4,
                              position = ggplot2::position_dodge(
                                width = 0.12)) +
          text_in(f,
                  ggplot2::aes(x = .data$x + 0.12, y = .data$at,
                               label = .data$label), data = last, hjust = 0,
                  size = 3.4, lineheight = 0.85) +
          ggplot2::scale_colour_manual(values = line_colours(f, pieces),
                                       guide = "none") +
          ggplot2::scale_linetype_manual(
            values = rep_len(c("solid", "22", "42", "12"), pieces),
            guide = "none") +
          ggplot2::scale_shape_manual(values = point_shapes(pieces),
                                      guide = "none") +
          ggplot2::scale_x_continuous(breaks = seq_along(waves),
                                      labels = wrap_words(waves, 16L),
                                      limits = c(
                                        0.85, length(waves) * 1.32 + 0.25),
                                      expand = c(0, 0)) +
          ggplot2::scale_y_continuous(labels = percent_axis) +
          ggplot2::labs(x = NULL, y = NULL)
  key <- words("figure_key.change",
               question = bars_of(f), alpha = f$alpha)
  with_panels(figure_labels(plot, f, key, 8.6) + figure_theme(f$style), f, 2L,
              "fixed") +
    ggplot2::theme(panel.grid.major.x = ggplot2::element_line(
                     colour = "#ebe7e0", linewidth = 0.3),
                   panel.grid.major.y = ggplot2::element_line(
                     colour = "#ebe7e0", linewidth = 0.3))
}

change_size <- function(f) {
  c(8.6, 1.8 + panel_rows(f) * max(3.4, 0.32 * answers_drawn(f)))
}

# ---- map ----

map_data <- function(f) {
  maps <- f$map()
  bind_frames(lapply(seq_along(maps), function(k) {
    map <- maps[[k]]
    if (is.null(map)) return(NULL)
    at <- rbind(map$down, map$across)
    data <- list2DF(list(each = rep(names(maps)[k], nrow(at)),
                         answer = rownames(at),
                         side = rep(c("down", "across"),
                                    c(nrow(map$down), nrow(map$across))),
                         x = unname(at[, 1L]), y = unname(at[, 2L]),
                         first = rep(map$share[1L], nrow(at)),
                         second = rep(map$share[2L], nrow(at))))
    data[!is.na(data$x), ]
  })) %||% data.frame()
}

map_draw <- function(data, f) {
  data$each <- factor(data$each, unique(data$each))
  data$label <- ifelse(nchar(data$answer) > 28L,
                       paste0(substr(data$answer, 1L, 27L), "\u2026"),
                       data$answer)
  size <- map_size(f)
  columns <- min(f$layers, 2L)
  per_inch <- max(diff(range(data$x)) * 1.28 / (size[[1L]] / columns - 0.8),
                  diff(range(data$y)) * 1.2 /
                    ((size[[2L]] - 1.8) / panel_rows(f) - 0.6), 1e-9)
  text <- bind_frames(lapply(split(data, data$each), function(panel) {
    at <- placed_labels(panel$x, panel$y, text_inches(panel$label) * per_inch,
                        0.17 * per_inch, 0.09 * per_inch)
    panel[c("text_x", "text_y", "moved")] <- at
    panel
  }))
  names <- c(down = f$down$label, across = f$across$label)
  text$side <- factor(names[text$side], unique(names))
  colour <- rep_len(f$palette %||% f$style$colours$answers %||%
                      c("#005a6e", "#8a4f00"), 2L)
  plot <- ggplot2::ggplot(text, ggplot2::aes(colour = .data$side)) +
          ggplot2::geom_hline(yintercept = 0, colour = "#c9c4ba",
                              linewidth = 0.4) +
          ggplot2::geom_vline(xintercept = 0, colour = "#c9c4ba",
                              linewidth = 0.4) +
          ggplot2::geom_segment(ggplot2::aes(
                                  x = .data$x, y = .data$y, xend = .data$text_x,
                                  yend = .data$text_y),
                                data = text[text$moved, ], linewidth = 0.3) +
          ggplot2::geom_point(ggplot2::aes(
                                x = .data$x, y = .data$y, shape = .data$side),
                              size = 2.8) +
          text_in(f,
                  ggplot2::aes(x = .data$text_x, y = .data$text_y,
                               label = .data$label), size = 3.5,
                  show.legend = FALSE) +
          ggplot2::scale_colour_manual(values = colour, labels = function(x) {
            wrap_words(x, 40L)
          }) +
          ggplot2::scale_shape_manual(values = c(16L, 17L),
                                      labels = function(x) wrap_words(x, 40L)) +
          ggplot2::coord_equal(clip = "off") +
          ggplot2::scale_x_continuous(expand = ggplot2::expansion(0.14)) +
          ggplot2::scale_y_continuous(expand = ggplot2::expansion(0.1)) +
          ggplot2::labs(x = words("figure_axis", axis = 1L,
                                  share = data$first[1L]),
                        y = words("figure_axis", axis = 2L,
                                  share = data$second[1L]), colour = NULL,
                        shape = NULL)
  shown <- min(data$first + data$second)
  key <- words("figure_key.map", share = shown, little = shown < enough_shown)
  with_panels(figure_labels(plot, f, key, size[[1L]]) + figure_theme(f$style),
              f, 2L, "fixed")
}

# A map that shows less of the statistic than this says so.
enough_shown <- 0.7

# As high as the picture is for its width.
map_size <- function(f) {
  data <- map_data(f)
  high <- min(max(diff(range(data$y)) / max(diff(range(data$x)), 1e-9), 0.3), 1)
  if (f$layers > 1L) c(12, 1.8 + (1.4 + 4.2 * high) * panel_rows(f)) else
    c(8.6, 2.6 + 6.2 * high)
}

map_words <- function(f) {
  data <- map_data(f)
  figure_alt(f, "map",
             sprintf("%s%s (%s, %s)", panel_before(data$each), data$answer,
                     format_number(data$x, 2L), format_number(data$y, 2L)))
}
