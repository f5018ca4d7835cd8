# The distribution of a number, column by column: boxes between its quantiles, and the
# steps of its cumulative shares.

#' Figures of a number's distribution
#'
#' * `"boxes"`: of every column the range between each pair of quantiles that are as
#'   far from the middle (10 and 90, 25 and 75, ...), the inner ones broader, and the
#'   median as a point with its interval beside it;
#' * `"steps"`: of every column the weighted share of people up to each value.
#'
#' @param object,x ([quantiles()])
#' @param kind ("boxes" or "steps", default "boxes")
#' @param title (string, default the number's) Title; `""` for none.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return A ggplot object.
#' @section Errors: `fairlattice_error_choice`; `fairlattice_error_figure` for
#'   boxes of less than two quantiles.
#' @exportS3Method ggplot2::autoplot
#' @examplesIf requireNamespace("ggplot2", quietly = TRUE)
#' survey <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement)
#' found <- quantiles(crosstab(score(survey, age), down = age, across = tenure))
#' ggplot2::autoplot(found)
#' ggplot2::autoplot(found, "steps")
autoplot.fairlattice_quantiles <- function(object, kind = c("boxes", "steps"),
                                           title = NULL, ...) {
  nothing_else(...)
  call <- environment()
  kind <- first_of(kind)
  check_choice(kind, c("boxes", "steps"), "kind", call)
  need_package("ggplot2", tells("to_draw_figure"), call)
  drawn <- if (kind == "boxes") boxes_draw(boxes_data(object, call), object) else
    steps_draw(steps_data(object), object)
  title <- title %||% attr(object, "label")
  drawn + ggplot2::labs(title = if (nzchar(title)) title, x = NULL, y = NULL) +
    figure_theme()
}

#' @rdname autoplot.fairlattice_quantiles
#' @export
plot.fairlattice_quantiles <- function(x, kind = c("boxes", "steps"), ...) {
  drawn <- autoplot.fairlattice_quantiles(x, first_of(kind), ...)
  print(drawn)
  invisible(drawn)
}

#' @export
picture_of.fairlattice_quantiles <- function(x) {
  data <- visible_in(as.data.frame(x))
  if (length(unique(data$percent)) < 2L) return(NULL)
  columns <- nrow(unique(data[c("each", "column")]))
  told <- sprintf("%s: %s", data$column, format_number(data$value))
  list(plot = autoplot.fairlattice_quantiles(x), width = 9, height = 1.6 + 0.42 * columns,
       alt = words("quantiles_alt", label = attr(x, "label"),
                   values = told[data$percent == data$percent[which.min(abs(data$percent - 50))]]))
}

# Columns from the top down; everybody last.
columns_drawn <- function(names) factor(names, rev(unique(names)))

# One row a range: its ends, and how near it is to the middle (1: the innermost); and
# one a median.
boxes_data <- function(x, call = NULL) {
  data <- visible_in(as.data.frame(x))
  data$each <- data$each %||% NA_character_
  lower <- sort(unique(data$percent[data$percent < 50]), decreasing = TRUE)
  lower <- lower[vapply(lower, function(p) any(abs(data$percent - (100 - p)) < 1e-9), NA)]
  if (!length(lower))
    stop_input(tells("boxes_need_pairs"), "figure", call = call)
  at <- function(percent) data[abs(data$percent - percent) < 1e-9, ]
  ranges <- do.call(rbind, lapply(seq_along(lower), function(k) {
    low <- at(lower[k])
    list2DF(list(each = low$each, column = low$column, from = low$value,
                 to = at(100 - lower[k])$value, nth = rep(k, nrow(low))))
  }))
  middle <- at(50)
  list(ranges = ranges, middle = middle)
}

boxes_draw <- function(drawn, x) {
  ranges <- drawn$ranges
  ranges$column <- columns_drawn(ranges$column)
  levels <- levels(ranges$column)
  half <- c(0.3, 0.14, 0.06, 0.03)[pmin(ranges$nth, 4L)]
  ranges$place <- as.integer(ranges$column)
  ranges$half <- half
  ranges$shade <- c("#7fa3b5", "#aec6d1", "#cfdde3", "#e2eaee")[pmin(ranges$nth, 4L)]
  ranges <- ranges[order(-ranges$nth), ]
  middle <- drawn$middle
  middle$place <- match(middle$column, levels)
  out <- ggplot2::ggplot() +
    ggplot2::geom_rect(ggplot2::aes(xmin = .data$from, xmax = .data$to,
                                    ymin = .data$place - .data$half,
                                    ymax = .data$place + .data$half),
                       data = ranges, fill = ranges$shade) +
    ggplot2::scale_y_continuous(breaks = seq_along(levels), labels = wrap_words(levels, 24L)) +
    ggplot2::scale_x_continuous(labels = number_axis)
  if (nrow(middle)) {
    told <- middle[!is.na(middle$low), ]
    out <- out +
      ggplot2::geom_segment(ggplot2::aes(x = .data$low, xend = .data$high, y = .data$place,
                                         yend = .data$place), data = told, colour = "#1c1c1c") +
      ggplot2::geom_point(ggplot2::aes(x = .data$value, y = .data$place), data = middle,
                          colour = "#1c1c1c", size = 2.4)
  }
  if (!all(is.na(ranges$each)))
    out <- out + ggplot2::facet_wrap(~each)
  out
}

# Values and cumulative shares of every column, from the first step on.
steps_data <- function(x) {
  found <- attr(x, "distribution", exact = TRUE)
  found <- found[found$column != words("line.all") | length(unique(found$column)) == 1L, ]
  found
}

steps_draw <- function(drawn, x) {
  drawn$column <- factor(drawn$column, unique(drawn$column))
  colours <- line_colours(list(), nlevels(drawn$column))
  lines <- rep_len(c("solid", "22", "42", "13", "1343"), nlevels(drawn$column))
  out <- ggplot2::ggplot(drawn, ggplot2::aes(.data$value, .data$percent,
                                             colour = .data$column,
                                             linetype = .data$column)) +
    ggplot2::geom_step(linewidth = 0.8) +
    ggplot2::scale_colour_manual(values = colours, name = NULL) +
    ggplot2::scale_linetype_manual(values = lines, name = NULL) +
    ggplot2::scale_y_continuous(labels = percent_axis, limits = c(0, 100)) +
    ggplot2::scale_x_continuous(labels = number_axis)
  if (!all(is.na(drawn$each))) out <- out + ggplot2::facet_wrap(~each)
  out
}

# Numbers at an axis: whole ones as counts.
number_axis <- function(v) {
  whole <- all(v == round(v), na.rm = TRUE)
  ifelse(is.na(v), "", if (whole) format_count(v) else format_number(v))
}
