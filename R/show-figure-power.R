# The power curve.

#' The power curve
#'
#' Power against Cramer's V, with the smallest V that shows at the wanted power
#' and the table's own V.
#'
#' @param object From [detectable()].
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return A ggplot object.
#' @exportS3Method ggplot2::autoplot
#' @examplesIf requireNamespace("ggplot2", quietly = TRUE)
#' ggplot2::autoplot(detectable(n = c(200, 500, 1000), r = 3, c = 4))
autoplot.fairlattice_detectable <- function(object, ...) {
  nothing_else(...)
  need_package("ggplot2", tells("to_draw_figure"), environment())
  rows <- as.data.frame(object)
  curve <- power_curve(rows)
  if (is.null(curve))
    stop_input(tells("no_table_here_can_tested"), "nobody",
               call = environment())
  name <- function(rows) {
    ifelse(is.na(rows$each), sprintf("n = %s", format_count(rows$n)), rows$each)
  }
  curve$table <- factor(name(curve), unique(name(curve)))
  shows <- rows[!is.na(rows$smallest_v) & rows$smallest_v <= 1, ]
  shows$table <- factor(name(shows), levels(curve$table))
  own <- rows[!is.na(rows$power), ]
  own$table <- factor(name(own), levels(curve$table))
  several <- nlevels(curve$table) > 1L
  plot <- ggplot2::ggplot(curve,
                          ggplot2::aes(.data$v, .data$power,
                                       linetype = .data$table)) +
          ggplot2::geom_hline(yintercept = rows$wanted_power[1L],
                              colour = "#8d867b", linewidth = 0.4) +
          ggplot2::geom_line(linewidth = 0.8, colour = "#0f5b6b") +
          ggplot2::geom_point(data = shows,
                              ggplot2::aes(
                                .data$smallest_v, .data$wanted_power),
                              shape = 21L, size = 3, fill = "white",
                              colour = "#1c1c1c", show.legend = FALSE) +
          ggplot2::geom_text(data = shows,
                             ggplot2::aes(
                               .data$smallest_v, .data$wanted_power,
                               label = sprintf(
                                 "V = %s", format_strength(.data$smallest_v))),
                             hjust = -0.2, vjust = 1.4, size = 3.6,
                             show.legend = FALSE) +
          ggplot2::scale_y_continuous(limits = c(0, 1), labels = function(x) {
            percent_words(x, 0L)
          }) +
          ggplot2::labs(x = words("v_axis"), y = words("power_axis"),
                        linetype = NULL,
                        title = words("power_title", r = rows$r[1L],
                                      c = rows$c[1L], alpha = rows$alpha[1L]),
                        subtitle = wrap_words(
                          words("power_key", power = rows$wanted_power[1L]),
                          80L)) + figure_theme() +
          ggplot2::theme(legend.key.width = ggplot2::unit(42, "pt")) +
          ggplot2::geom_point(data = own, ggplot2::aes(.data$v, .data$power),
                              shape = 18L, size = 3.4, colour = "#b06a00",
                              show.legend = FALSE)
  if (!several) plot <- plot + ggplot2::guides(linetype = "none")
  plot
}
