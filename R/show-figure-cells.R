# Figures of cells: residuals, percentages as shades, and areas that are counts.

cells_by_place <- function(f, columns) {
  data <- f$cells[c("each", "down", "across", columns)]
  data$each <- panel_of(data$each)
  data$down <- factor(data$down, rev(unique(data$down)))
  data$across <- factor(data$across, unique(data$across))
  data
}

grid_draw <- function(data, f, key, face) {
  size <- cells_size(f)
  plot <- ggplot2::ggplot(data,
                          ggplot2::aes(x = .data$across, y = .data$down,
                                       fill = .data$shade)) +
          ggplot2::geom_tile(colour = "white", linewidth = 1) +
          text_in(f, ggplot2::aes(label = .data$label), fontface = face,
                  colour = ink_on(data$shade), size = 3.8) +
          ggplot2::scale_fill_identity() +
          ggplot2::scale_x_discrete(labels = function(x) wrap_words(x, 14L),
                                    position = "top") +
          ggplot2::scale_y_discrete(labels = function(x) wrap_words(x, 22L)) +
          ggplot2::labs(x = f$across$label, y = f$down$label)
  with_panels(figure_labels(plot, f, key, size[[1L]]) + figure_theme(f$style) +
                ggplot2::theme(panel.grid = ggplot2::element_blank()), f,
              scales = "free")
}

cells_size <- function(f) {
  wide <- max(6, min(14, 3 + 1.1 * length(unique(f$cells$across))))
  c(if (f$layers > 1L) max(9, wide) else wide,
    1.2 + panel_rows(f) * (1.4 + 0.45 * length(unique(f$cells$down))))
}

# ---- residuals ----

residuals_data <- function(f) {
  data <- cells_by_place(f, c("adjusted_residual", "mark"))
  data$label <- ifelse(is.na(data$adjusted_residual), "",
                       paste0(with_sign(data$adjusted_residual),
                              ifelse(data$mark == "", "", "*")))
  data$shade <- residual_shades(data$adjusted_residual)
  data
}

residuals_draw <- function(data, f) {
  grid_draw(data, f, words("figure_residuals"),
            ifelse(data$mark == "", "plain", "bold"))
}

residuals_words <- function(f) {
  marked <- f$cells[f$cells$mark != "", ]
  cells <- sprintf("%s \u00d7 %s %s", marked$down, marked$across,
                   format_number(marked$adjusted_residual, 1L))
  figure_alt(f, "residuals", words("figure_marked", cells = cells))
}

# ---- heat: percentages as shades ----

heat_data <- function(f) {
  of <- paste0(f$percent, "_percent")
  data <- cells_by_place(f, of)
  data$percent <- data[[of]]
  data$label <-
    ifelse(is.na(data$percent), "", format_percent(data$percent / 100, 0L))
  data$shade <- shades_of(data$percent, max(data$percent, 1e-9, na.rm = TRUE))
  data
}

heat_draw <- function(data, f) {
  grid_draw(data, f, key_of(f, if (f$percent == "total") "total" else "within"),
            "plain")
}

# ---- mosaic: areas are counts ----

# A column's width is its share of all, a tile's height its share of the column;
# between tiles there is a gap.
mosaic_data <- function(f) {
  data <- drawn_cells(replace(f, "percent",
                              if (f$percent == "row") "row" else "column"))
  gap <- function(answers) min(0.012, 0.25 / answers)
  across_gap <- gap(nlevels(data$bar))
  down_gap <- gap(nlevels(data$piece))
  data <- data[order(data$each, as.integer(data$bar), as.integer(data$piece)), ]
  width <- stats::ave(data$count, data$each, data$bar, FUN = sum) /
           stats::ave(data$count, data$each, FUN = sum)
  first <- !duplicated(data[c("each", "bar")])
  left <- stats::ave(ifelse(first, width, 0), data$each, FUN = cumsum) - width
  place <- stats::ave(as.numeric(first), data$each, FUN = cumsum) - 1
  height <- data$percent / 100
  below <-
    stats::ave(height, data$each, data$bar, FUN = function(h) 1 - cumsum(h))
  data$xmin <- left + across_gap * place
  data$xmax <- data$xmin + width
  down <- as.integer(data$piece) - 1L
  data$ymin <- below - down_gap * down
  data$ymax <- data$ymin + height
  data$sign <-
    c("", "+", "\u2212")[match(data$mark, c("", "more", "fewer"), 1L)]
  data$label <- ifelse(width > 0.045 & height > 0.045,
                       paste0(format_percent(data$percent / 100, 0L),
                              data$sign), ifelse(height > 0.02, data$sign, ""))
  data$shade <- residual_shades(data$residual)
  data
}

mosaic_draw <- function(data, f) {
  side <- figure_side(f)
  panels <- levels(data$each)
  # the names of the columns stand over them, those of the tiles beside the
  # first column, as far apart as they need
  size <- mosaic_size(f)
  inch <- (size[1L] / min(f$layers, 2L) - 0.4) * 0.72 # of the unit square
  line <- 0.24 / ((size[2L] - 1.8) / panel_rows(f) * 0.7)
  columns <- data[!duplicated(data[c("each", "bar")]), ]
  columns$x <- (columns$xmin + columns$xmax) / 2
  columns$name <- wrap_words(columns$bar, 12L)
  columns$width <- (text_inches(columns$name) + 0.08) / inch
  for (panel in panels) {
    at <- columns$each == panel
    columns$x[at] <- spread_out(columns$x[at], columns$width[at])
  }
  rows <- do.call(rbind, lapply(panels, function(panel) {
    own <- data[data$each == panel, ]
    own <- own[own$bar_key == own$bar_key[1L], ]
    own$y <- -spread_out(-(own$ymin + own$ymax) / 2, line)
    own
  }))
  rows$name <- wrap_words(rows$piece, 20L)
  letters <- max(nchar(unlist(strsplit(rows$name, "\n")), type = "width"))
  sides <- c(min(-0.04 - 0.0135 * letters, columns$x - columns$width / 2),
             max(data$xmax, columns$x + columns$width / 2) + 0.01)
  plot <- ggplot2::ggplot(data) +
          ggplot2::geom_rect(ggplot2::aes(
                               xmin = .data$xmin, xmax = .data$xmax,
                               ymin = .data$ymin, ymax = .data$ymax,
                               fill = .data$shade,
                               linewidth = ifelse(.data$sign == "", 0.2, 0.9)),
                             data = data[data$ymax > data$ymin, ],
                             colour = "#1c1c1c") +
          text_in(f,
                  ggplot2::aes(x = (.data$xmin + .data$xmax) / 2,
                               y = (.data$ymin + .data$ymax) / 2,
                               label = .data$label),
                  colour = ink_on(data$shade), size = 3.4) +
          text_in(f, ggplot2::aes(x = .data$x, y = 1.02, label = .data$name),
                  data = columns, vjust = 0, size = 3.4, lineheight = 0.85) +
          text_in(f, ggplot2::aes(x = -0.02, y = .data$y, label = .data$name),
                  data = rows, hjust = 1, size = 3.4, lineheight = 0.85) +
          ggplot2::scale_linewidth_identity() + ggplot2::scale_fill_identity() +
          ggplot2::scale_x_continuous(limits = sides, expand = c(0, 0),
                                      breaks = NULL) +
          ggplot2::scale_y_continuous(limits = c(
                                        min(data$ymin, rows$y) - 0.04, 1.13),
                                      expand = c(0, 0), breaks = NULL) +
          ggplot2::labs(x = NULL, y = NULL)
  key <- words("figure_key.mosaic", question = f[[side[["bar"]]]]$label)
  with_panels(figure_labels(plot, f, key, 8.6) + figure_theme(f$style), f, 2L,
              "fixed")
}

# Wider with more columns, higher with more answers.
mosaic_size <- function(f) {
  columns <- max(bars_of_panels(f))
  c(if (f$layers > 1L) max(12, 5 + columns) else max(8.6, 2.5 + 0.5 * columns),
    1.8 + panel_rows(f) * max(4.4, 0.42 * answers_drawn(f)))
}
