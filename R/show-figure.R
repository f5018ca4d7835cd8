#' The figure of a table
#'
#' `"stacked"` draws a bar of 100 % for every percentage base, cut into the answers; `"departures"` draws the grid of
#' adjusted residuals with their figures. Needs the package ggplot2.
#'
#' @param object (lattice) From [lattice()] or [read_lattice()].
#' @param kind ("stacked" or "departures", default "stacked").
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return A ggplot object.
#' @exportS3Method ggplot2::autoplot
#' @examplesIf requireNamespace("ggplot2", quietly = TRUE)
#' ggplot2::autoplot(lattice(demo_records(), down = ferry, across = island), "stacked")
autoplot.fairlattice_lattice <- function(object, kind = c("stacked", "departures"), ...) {
  nothing_else(...)
  kind <- first_of(kind)
  check_choice(kind, names(figures), "kind", environment())
  need_package("ggplot2", "draw a figure", environment())
  in_style(object$layout$style, plot_of(figure_data(object), kind, environment()))
}

# Whether a figure goes along with a table: it would show cells that are withheld.
has_figure <- function(x, figure) {
  figure != "none" && inherits(x, "fairlattice_lattice") && !is_alone(x) && !guards(x$layout)
}

plot_of <- function(f, kind, call) {
  data <- figures[[kind]]$data(f)
  if (!nrow(data)) stop_input("There is nothing to draw: nobody is in the table.", "nobody", call = call)
  figures[[kind]]$draw(data, f)
}

# Computed in one function, drawn in another, told in a third.
figures <- list(
  stacked = list(data = function(f) stacked_data(f), draw = function(data, f) stacked_draw(data, f),
                 tell = function(f) stacked_words(f)),
  departures = list(data = function(f) departures_data(f), draw = function(data, f) departures_draw(data, f),
                    tell = function(f) departures_words(f))
)

figure_side <- function(f) {
  if (f$percent == "row") c(bar = "down", piece = "across") else
    c(bar = "across", piece = "down")
}

stacked_data <- function(f) {
  side <- figure_side(f)
  of <- if (f$percent == "row") "row" else "column"
  cells <- f$cells[!is.na(f$cells[[paste0(of, "_percent")]]), ]
  base <- f$margins[[side[["bar"]]]]
  bar <- cells[[side[["bar"]]]]
  data <- data.frame(each = cells$each, bar = bar, piece = cells[[side[["piece"]]]],
                     percent = cells[[paste0(of, "_percent")]],
                     base = base$n[match(paste(cells$each, bar), paste(base$each, base$category))])
  data$label <- ifelse(data$percent >= 4.5, format_percent(data$percent / 100, 0L), "")
  data$bar_label <- sprintf("%s (%s)", wrap_words(data$bar, 22L), format_count(data$base))
  # sprintf() keeps the order in which bars occur, which is that of the table
  data$bar_label <- factor(data$bar_label, rev(unique(data$bar_label)))
  data$piece <- factor(data$piece, unique(f$cells[[side[["piece"]]]]))
  data
}

stacked_draw <- function(data, f) {
  side <- figure_side(f)
  if (f[[side[["piece"]]]]$ticks) return(items_draw(data, f, side))
  colour <- answer_colours(nlevels(data$piece), f[[side[["piece"]]]]$ordered, f$style$colours$answers)
  data$ink <- ink_on(colour)[as.integer(data$piece)]
  plot <- ggplot2::ggplot(data, ggplot2::aes(x = .data$percent, y = .data$bar_label, fill = .data$piece)) +
    ggplot2::geom_col(width = 0.78, colour = "white", linewidth = 0.5,
                      position = ggplot2::position_stack(reverse = TRUE)) +
    ggplot2::geom_text(ggplot2::aes(label = .data$label, colour = .data$ink, group = .data$piece), size = 3.6,
                       family = font_of(f$style$fonts$text),
                       position = ggplot2::position_stack(vjust = 0.5, reverse = TRUE)) +
    ggplot2::scale_colour_identity() +
    ggplot2::scale_fill_manual(values = unname(colour), labels = function(x) wrap_words(x, 18L), drop = FALSE) +
    ggplot2::scale_x_continuous(expand = ggplot2::expansion(c(0, 0.02)),
                                labels = function(x) paste0(x, words("percent_sign"))) +
    ggplot2::labs(title = if (!is.null(f$title)) wrap_words(f$title, 70L), x = NULL, y = NULL, fill = NULL,
                  subtitle = wrap_words(words("figure_stacked", question = f[[side[["bar"]]]]$label), 90L)) +
    figure_theme(f$style)
  with_layers(plot, f)
}

# Ticks do not add up, so they are not stacked: a bar an item, a panel a base.
items_draw <- function(data, f, side) {
  data$panel <- factor(as.character(data$bar_label), rev(levels(data$bar_label)))
  data$piece <- factor(data$piece, rev(levels(data$piece)))
  ggplot2::ggplot(data, ggplot2::aes(x = .data$percent, y = .data$piece)) +
    ggplot2::geom_col(width = 0.7, fill = "#005a6e") +
    ggplot2::geom_text(ggplot2::aes(label = format_percent(.data$percent / 100, 0L)), hjust = -0.2, size = 3.4,
                       family = font_of(f$style$fonts$text), colour = "#1c1c1c") +
    ggplot2::facet_wrap(if (is.null(f$each)) "panel" else c("each", "panel"), ncol = 3L) +
    ggplot2::scale_x_continuous(limits = c(0, max(data$percent) * 1.15),
                                labels = function(x) paste0(x, words("percent_sign"))) +
    ggplot2::scale_y_discrete(labels = function(x) wrap_words(x, 22L)) +
    ggplot2::labs(title = if (!is.null(f$title)) wrap_words(f$title, 70L), x = NULL, y = NULL,
                  subtitle = wrap_words(words("figure_items", question = f[[side[["bar"]]]]$label), 90L)) +
    figure_theme(f$style)
}

departures_data <- function(f) {
  data <- f$cells[c("each", "down", "across", "adjusted_residual", "mark")]
  data$label <- ifelse(is.na(data$adjusted_residual), "", paste0(
    ifelse(data$adjusted_residual > 0, "+", ""), sub("-", "\u2212", format_number(data$adjusted_residual, 1L)),
    ifelse(data$mark == "", "", "*")))
  data$size <- pmin(abs(data$adjusted_residual), 8) * sign(data$adjusted_residual)
  data$down <- factor(data$down, rev(unique(data$down)))
  data$across <- factor(data$across, unique(data$across))
  data
}

departures_draw <- function(data, f) {
  face <- ifelse(data$mark == "", "plain", "bold")
  ink <- ifelse(!is.na(data$size) & abs(data$size) > 5.5, "white", "#1c1c1c")
  plot <- ggplot2::ggplot(data, ggplot2::aes(x = .data$across, y = .data$down, fill = .data$size)) +
    ggplot2::geom_tile(colour = "white", linewidth = 1) +
    ggplot2::geom_text(ggplot2::aes(label = .data$label), fontface = face, colour = ink, size = 3.8,
                       family = font_of(f$style$fonts$text)) +
    ggplot2::scale_fill_gradient2(low = "#8a4f00", mid = "#f4f2ee", high = "#005a6e", limits = c(-8, 8),
                                  na.value = "#dddddd", guide = "none") +
    ggplot2::scale_x_discrete(labels = function(x) wrap_words(x, 14L), position = "top") +
    ggplot2::scale_y_discrete(labels = function(x) wrap_words(x, 22L)) +
    ggplot2::labs(title = if (!is.null(f$title)) wrap_words(f$title, 70L), x = f$across$label, y = f$down$label,
                  subtitle = words("figure_departures")) +
    figure_theme(f$style) + ggplot2::theme(panel.grid = ggplot2::element_blank())
  with_layers(plot, f)
}

with_layers <- function(plot, f) {
  if (is.null(f$each)) plot else
    plot + ggplot2::facet_wrap("each", ncol = 2L, scales = "free_y")
}

# The first of several fonts; a drawing has one.
font_of <- function(fonts) if (is.null(fonts)) "" else trimws(sub(",.*", "", fonts))

# A house's fonts and colours, as far as a figure has them.
figure_theme <- function(style = NULL) {
  ink <- style$colours$ink %||% "#1c1c1c"
  ggplot2::theme_minimal(base_size = style$fonts$size %||% 12, base_family = font_of(style$fonts$text)) +
    ggplot2::theme(
      legend.position = "top", legend.justification = "left", panel.grid.major.y = ggplot2::element_blank(),
      panel.grid.minor = ggplot2::element_blank(), plot.title.position = "plot",
      plot.margin = ggplot2::margin(8, 14, 8, 8), text = ggplot2::element_text(colour = ink),
      axis.text = ggplot2::element_text(colour = ink),
      plot.title = ggplot2::element_text(face = "bold", family = font_of(style$fonts$title %||% style$fonts$text)),
      plot.background = ggplot2::element_rect(fill = style$colours$paper %||% "white", colour = NA),
      legend.key.size = ggplot2::unit(11, "pt"))
}

# Ordered answers go from light to dark of one hue; unordered ones differ in hue and in lightness both, so that they
# can be told apart without colour.
answer_colours <- function(n, ordered, house = NULL) {
  if (length(house)) return(rep_len(house, n))
  if (ordered) return(grDevices::hcl(h = 215, c = seq(18, 55, length.out = n), l = seq(90, 30, length.out = n)))
  hue <- (20 + 360 * (seq_len(n) - 1) * 0.381966) %% 360
  grDevices::hcl(h = hue, c = 48, l = rep_len(c(42, 78, 60, 88, 33, 70), n))
}

ink_on <- function(colour) {
  rgb <- grDevices::col2rgb(colour) / 255
  light <- c(0.2126, 0.7152, 0.0722) %*% rgb^2.2
  ifelse(as.vector(light) > 0.3, "#1c1c1c", "white")
}

wrap_words <- function(x, width) {
  vapply(as.character(x), function(one) paste(strwrap(one, width), collapse = "\n"), "", USE.NAMES = FALSE)
}

stacked_words <- function(f) {
  data <- stacked_data(f)
  key <- paste(data$each, data$bar)
  bars <- vapply(split(data, factor(key, unique(key))), function(bar) {
    where <- if (is.na(bar$each[1L])) "" else paste0(bar$each[1L], ", ")
    sprintf("%s%s: %s.", where, bar$bar[1L],
            paste(bar$piece, percent_words(bar$percent / 100), collapse = ", "))
  }, "")
  words(if (f[[figure_side(f)[["piece"]]]]$ticks) "figure_items_alt" else "figure_stacked_alt", title = f$title,
        bars = bars)
}

departures_words <- function(f) {
  marked <- f$cells[f$cells$mark != "", ]
  words("figure_departures_alt", title = f$title,
        cells = sprintf("%s \u00d7 %s %s", marked$down, marked$across, format_number(marked$adjusted_residual, 1L)))
}

#' The power curve
#'
#' Power against Cramer's V, with the smallest V that shows at the wanted power and the table's own V.
#'
#' @param object From [detectable()].
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return A ggplot object.
#' @exportS3Method ggplot2::autoplot
#' @examplesIf requireNamespace("ggplot2", quietly = TRUE)
#' ggplot2::autoplot(detectable(n = c(200, 500, 1000), r = 3, c = 4))
autoplot.fairlattice_detectable <- function(object, ...) {
  nothing_else(...)
  need_package("ggplot2", "draw a figure", environment())
  rows <- as.data.frame(object)
  curve <- power_curve(rows)
  if (is.null(curve)) stop_input("There is no table here that can be tested.", "nobody", call = environment())
  name <- function(rows) ifelse(is.na(rows$each), sprintf("n = %s", format_count(rows$n)), rows$each)
  curve$table <- factor(name(curve), unique(name(curve)))
  shows <- rows[!is.na(rows$smallest_v) & rows$smallest_v <= 1, ]
  shows$table <- factor(name(shows), levels(curve$table))
  own <- rows[!is.na(rows$power), ]
  own$table <- factor(name(own), levels(curve$table))
  several <- nlevels(curve$table) > 1L
  plot <- ggplot2::ggplot(curve, ggplot2::aes(.data$v, .data$power, linetype = .data$table)) +
    ggplot2::geom_hline(yintercept = rows$wanted_power[1L], colour = "#8d867b",
                        linewidth = 0.4) + ggplot2::geom_line(linewidth = 0.8, colour = "#0f5b6b") +
    ggplot2::geom_point(data = shows, ggplot2::aes(.data$smallest_v, .data$wanted_power), shape = 21L, size = 3,
                        fill = "white", colour = "#1c1c1c", show.legend = FALSE) +
    ggplot2::geom_text(data = shows,
                       ggplot2::aes(.data$smallest_v, .data$wanted_power,
                                    label = sprintf("V = %s", format_strength(.data$smallest_v))), hjust = -0.2,
                                    vjust = 1.4, size = 3.6, show.legend = FALSE) +
    ggplot2::scale_y_continuous(limits = c(0, 1), labels = function(x) percent_words(x, 0L)) +
    ggplot2::labs(x = words("v_axis"), y = words("power_axis"), linetype = NULL,
                  title = words("power_title", r = rows$r[1L], c = rows$c[1L], alpha = rows$alpha[1L]),
                  subtitle = wrap_words(words("power_key", power = rows$wanted_power[1L]), 80L)) +
    figure_theme() + ggplot2::theme(legend.key.width = ggplot2::unit(42, "pt")) +
    ggplot2::geom_point(data = own, ggplot2::aes(.data$v, .data$power), shape = 18L, size = 3.4, colour = "#b06a00",
                        show.legend = FALSE)
  if (!several) plot <- plot + ggplot2::guides(linetype = "none")
  plot
}

# Inches that a figure of this table wants.
figure_size <- function(f, kind) {
  side <- figure_side(f)
  layers <- max(1L, ceiling(f$layers / 2))
  rows <- if (kind == "stacked") nrow(f[[side[["bar"]]]]$categories) else nrow(f$down$categories)
  if (kind == "stacked" && f[[side[["piece"]]]]$ticks) {
    panels <- nrow(f[[side[["bar"]]]]$categories) * f$layers
    return(c(width = 8.6, height = 1.2 + ceiling(panels / 3) * (0.5 + 0.3 * nrow(f[[side[["piece"]]]]$categories))))
  }
  c(width = if (kind == "stacked") 8.6 else max(6, min(14, 3 + 1.1 * nrow(f$across$categories))),
    height = layers * (1.5 + 0.45 * rows))
}

# The picture that goes along with a result: a plot, its size in inches, and what it shows in words; NULL for most.
picture_of <- function(x) UseMethod("picture_of")

#' @export
picture_of.default <- function(x) NULL
