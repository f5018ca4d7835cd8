# Figures of bars: percentages beside each other, counts on top of each other,
# shares of 100 %, and ordered answers left and right of their middle.

percent_scale <- function(...) {
  ggplot2::scale_x_continuous(labels = percent_axis, ...)
}

legend_of <- function(colour) {
  list(ggplot2::scale_fill_manual(
         values = unname(colour), labels = function(x) {
           wrap_words(x, 18L)
         }, drop = FALSE),
       ggplot2::guides(fill = ggplot2::guide_legend(
         nrow = ceiling(length(colour) / 5), byrow = TRUE)))
}

key_of <- function(f, kind) {
  side <- figure_side(f)
  if (!is.null(f$shown))
    kind <- if (identical(f$across$name, everybody)) "total" else "within"
  words(paste0("figure_key.", kind), question = bars_of(f),
        ticks = isTRUE(f[[side[["piece"]]]]$ticks))
}

# ---- shares: bars of 100 % ----

shares_data <- function(f) {
  data <- drawn_cells(replace(f, "percent",
                              if (f$percent == "row") "row" else "column"))
  data$label <-
    ifelse(data$percent >= 4.5, format_percent(data$percent / 100, 0L), "")
  data
}

shares_draw <- function(data, f) {
  side <- figure_side(f)
  if (f[[side[["piece"]]]]$ticks) return(items_draw(data, f, side))
  stacked_bars(replace(data, "value", list(data$percent)), f, "shares",
               percent_axis)
}

# Pieces of a bar one after the other, from the left.
stacked_bars <- function(data, f, key, labels) {
  colour <-
    colours_of(f, nlevels(data$piece), f[[figure_side(f)[["piece"]]]]$ordered)
  data$ink <- ink_on(colour)[as.integer(data$piece)]
  named <- names_above(data, f)
  plot <- ggplot2::ggplot(data,
                          ggplot2::aes(x = .data$value, y = .data$bar_key,
                                       fill = .data$piece)) +
          ggplot2::geom_col(width = 0.78, colour = "white", linewidth = 0.5,
                            position = ggplot2::position_stack(
                              reverse = TRUE)) +
          text_in(f,
                  ggplot2::aes(label = .data$label, colour = .data$ink,
                               group = .data$piece), size = 3.4,
                  position = ggplot2::position_stack(
                    vjust = 0.5, reverse = TRUE)) +
          ggplot2::scale_colour_identity() + legend_of(colour) +
          bar_axis(data, above = if (is.null(named)) 0.6 else 1) +
          ggplot2::scale_x_continuous(labels = labels,
                                      expand = ggplot2::expansion(c(0, 0.03))) +
          ggplot2::labs(x = NULL, y = NULL, fill = NULL)
  if (!is.null(named))
    plot <- plot + ggplot2::guides(fill = "none") +
            text_in(f,
                    ggplot2::aes(x = .data$middle,
                                 y = nlevels(data$bar_key) + 0.46,
                                 label = .data$name), data = named, size = 3.4,
                    vjust = 0, lineheight = 0.85, colour = "#1c1c1c")
  with_panels(figure_labels(plot, f, key_of(f, key), 8.6) +
                figure_theme(f$style), f, 1L)
}

# The names of the pieces, where all of them find room over those of the first
# bar; NULL where a legend is needed.
names_above <- function(data, f) {
  first <- data[data$bar_key == rev(levels(data$bar_key))[1L], ]
  first <- first[order(as.integer(first$piece)), ]
  first$name <- wrap_words(first$piece, 16L)
  inches <- 6.2 * first$value / max(rowsum(data$value, data$bar_key))
  if (f$layers > 1L || any(text_inches(first$name) + 0.06 > inches))
    return(NULL)
  first$middle <- cumsum(first$value) - first$value / 2
  first
}

# Ticks do not add up, so they are not stacked: a bar an item, a panel a base.
items_draw <- function(data, f, side) {
  names <- bar_labels(data)
  data$panel <- factor(data$bar_key, rev(levels(data$bar_key)))
  data$piece <- factor(data$piece, rev(levels(data$piece)))
  plot <- ggplot2::ggplot(data,
                          ggplot2::aes(x = .data$percent, y = .data$piece)) +
          ggplot2::geom_col(width = 0.7, fill = item_colour(f)) +
          text_in(f,
                  ggplot2::aes(label = format_percent(.data$percent / 100, 0L)),
                  hjust = -0.2, size = 3.4, colour = "#1c1c1c") +
          (if (nlevels(data$panel) > 1L)
            ggplot2::facet_wrap("panel", ncol = 3L,
                                labeller = ggplot2::as_labeller(
                                  function(key) item_panel_title(f, names, key)))) +
          percent_scale(limits = c(0, max(data$percent) * 1.15),
                        n.breaks = 4L) +
          ggplot2::scale_y_discrete(labels = function(x) wrap_words(x, 22L)) +
          ggplot2::labs(x = NULL, y = NULL)
  figure_labels(plot, f, key_of(f, "shares"), 8.6) + figure_theme(f$style)
}

item_colour <- function(f) (f$palette %||% f$style$colours$answers %||% "#005a6e")[1L]

# The base of a panel, with the panel that it is of where there are several.
item_panel_title <- function(f, names, key) {
  paste0(if (f$layers > 1L) paste0(sub("\r.*", "", key), ": "), names[key])
}

shares_size <- function(f) {
  if (f[[figure_side(f)[["piece"]]]]$ticks) {
    panels <- sum(bars_of_panels(f))
    return(c(8.6, 1.7 + ceiling(panels / 3) * (0.5 + 0.3 * answers_drawn(f))))
  }
  c(8.6,
    2 + f$layers * (if (f$layers > 1L) 0.6 else 0) +
      0.45 * sum(bars_of_panels(f)))
}

# ---- grouped: bars beside each other ----

grouped_data <- function(f) {
  data <- drawn_cells(f)
  data$value <- if (is.null(f$counts)) data$percent else data[[f$counts]]
  data$label <- if (is.null(f$counts))
    format_percent(data$percent / 100, 0L) else format_count(data$value)
  data
}

grouped_draw <- function(data, f) {
  side <- figure_side(f)
  colour <- colours_of(f, nlevels(data$piece), f[[side[["piece"]]]]$ordered)
  dodge <-
    ggplot2::position_dodge2(width = 0.84, reverse = TRUE, padding = 0.06)
  plot <- ggplot2::ggplot(data,
                          ggplot2::aes(x = .data$value, y = .data$bar_key,
                                       fill = .data$piece)) +
          ggplot2::geom_col(width = 0.84, colour = "#55504a", linewidth = 0.25,
                            position = dodge) +
          text_in(f, ggplot2::aes(label = .data$label, group = .data$piece),
                  hjust = -0.2, size = 3.2, colour = "#1c1c1c",
                  position = ggplot2::position_dodge2(
                    width = 0.84, reverse = TRUE)) + legend_of(colour) +
          bar_axis(data) +
          ggplot2::scale_x_continuous(
            labels = if (is.null(f$counts)) percent_axis else format_count,
            expand = ggplot2::expansion(c(0, 0.08))) +
          ggplot2::labs(x = NULL, y = NULL, fill = NULL)
  with_panels(figure_labels(plot, f, key_of(f, grouped_key(f)), 8.6) +
                figure_theme(f$style), f, 1L)
}

grouped_key <- function(f) {
  if (!is.null(f$counts)) f$counts else if (f$percent == "total") "total" else "shares"
}

grouped_size <- function(f) {
  c(8.6,
    min(40,
        2.1 + f$layers * (if (f$layers > 1L) 0.6 else 0) +
          sum(bars_of_panels(f)) * (0.16 + max(0.3, 0.2 * answers_drawn(f)))))
}

# ---- stacked: counts on top of each other ----

stacked_data <- function(f) {
  data <- drawn_cells(f)
  data$label <- format_count(data$count)
  inches <- 6.2 * data$count / longest_bar(data)
  data$label[inches < text_inches(data$label) + 0.06] <- ""
  data
}

longest_bar <- function(data) {
  max(rowsum(data$count, paste(data$each, data$bar)))
}

stacked_draw <- function(data, f) {
  stacked_bars(replace(data, "value", list(data$count)), f,
               counts_key(f), format_count)
}

counts_key <- function(f) if (is.null(f$weight)) "n" else "weighted"

# ---- balance: ordered answers left and right of their middle ----

# Where every piece begins and ends: those below the middle run left from it.
# The middle answer of an odd number is split in halves, or stands aside.
balance_data <- function(f) {
  data <- shares_data(f)
  pieces <- nlevels(data$piece)
  half <- pieces %/% 2L
  at <- as.integer(data$piece)
  middle <- pieces %% 2L == 1L & at == half + 1L
  key <- paste(data$each, data$bar)
  within <- function(values) stats::ave(values, key, FUN = sum)
  neutral <- within(ifelse(middle, data$percent, 0))
  aside <- identical(f$neutral, "aside")
  offset <- if (aside) 0 else neutral / 2
  before <- stats::ave(seq_along(at), key, FUN = function(i) {
    o <- order(at[i])
    sums <- cumsum(data$percent[i][o])
    (sums - data$percent[i][o])[order(o)]
  })
  low <- within(ifelse(at <= half, data$percent, 0))
  data$from <- ifelse(at <= half, -offset - low + before,
                      ifelse(middle, -offset, offset + before - low - neutral))
  data$to <- data$from + data$percent
  data$aside <- middle & aside
  far <- 10 * max(ceiling(max(data$to[!data$aside]) / 10), 1)
  data$from[data$aside] <- far + 8
  data$to[data$aside] <- far + 8 + data$percent[data$aside]
  data$below <- low
  data$above <- within(ifelse(at > pieces - half, data$percent, 0))
  data
}

balance_draw <- function(data, f) {
  colour <-
    balance_colours(nlevels(data$piece), f$palette %||% f$style$colours$answers)
  data$ink <- ink_on(colour)[as.integer(data$piece)]
  ends <- balance_ends(data)
  total <- function(x) format_percent(x / 100, 0L)
  breaks <- pretty(c(min(data$from), max(ends$right)), 6)
  plot <- ggplot2::ggplot(data) +
          ggplot2::geom_vline(xintercept = 0, colour = "#1c1c1c",
                              linewidth = 0.5) +
          ggplot2::geom_tile(ggplot2::aes(
                               x = (.data$from + .data$to) / 2,
                               width = .data$to - .data$from, y = .data$bar_key,
                               fill = .data$piece), height = 0.78,
                             colour = "white", linewidth = 0.5) +
          text_in(f,
                  ggplot2::aes(x = (.data$from + .data$to) / 2,
                               y = .data$bar_key, label = .data$label,
                               colour = .data$ink)) +
          text_in(f,
                  ggplot2::aes(x = .data$left, y = .data$bar_key,
                               label = total(.data$below)), data = ends,
                  hjust = 1.25, fontface = "bold") +
          text_in(f,
                  ggplot2::aes(x = .data$right, y = .data$bar_key,
                               label = total(.data$above)), data = ends,
                  hjust = -0.25, fontface = "bold") +
          ggplot2::scale_colour_identity() + legend_of(colour) +
          bar_axis(data) +
          percent_scale(breaks = breaks, expand = ggplot2::expansion(0.06)) +
          ggplot2::labs(x = NULL, y = NULL, fill = NULL)
  with_panels(figure_labels(plot, f, key_of(f, "balance"), 8.6) +
                figure_theme(f$style), f, 1L)
}

# Where each bar ends on both sides.
balance_ends <- function(data) {
  ends <- data[!duplicated(data[c("each", "bar")]), ]
  edge <- rowsum_of(data, function(rows) {
    c(min(rows$from[!rows$aside]), max(rows$to[!rows$aside]))
  })
  ends[c("left", "right")] <- edge[match(paste(ends$each, ends$bar), rownames(edge)), ]
  ends
}

# A row of figures for each bar.
rowsum_of <- function(data, work) {
  key <- paste(data$each, data$bar)
  do.call(rbind, lapply(split(data, factor(key, unique(key))), work))
}

balance_words <- function(f) {
  data <- balance_data(f)
  ends <- data[!duplicated(data[c("each", "bar")]), ]
  values <- sprintf("%s%s: %s.", panel_before(ends$each), ends$bar,
                    words_each("figure_balance_bar", below = ends$below / 100,
                               above = ends$above / 100))
  figure_alt(f, "balance", values)
}
