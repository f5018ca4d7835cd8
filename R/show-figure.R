# The figures of a table by their names. Each is drawn from figure_data():
# `data` says what is drawn and where, `draw` makes a plot of it and `scene` what
# pages and documents have in its place (R/show-drawing.R; not all have one),
# `tell` says it in words for who cannot see it, `size` is in inches, and `lacks`
# the code of what a table lacks for it (NULL: nothing).
figures <- list(
  shares = list(data = shares_data, draw = shares_draw, scene = shares_scene,
                size = shares_size, lacks = function(f) NULL, tell = function(f) {
                  figure_alt(f, kind_of_shares(f),
                             values_by_bar(shares_data(f)))
                }),
  grouped = list(data = grouped_data, draw = grouped_draw, scene = grouped_scene,
                 size = grouped_size, lacks = function(f) NULL, tell = function(f) {
                   figure_alt(f, "grouped", values_by_bar(drawn_cells(f)))
                 }),
  stacked = list(data = stacked_data, draw = stacked_draw, scene = counts_scene,
                 size = shares_size, lacks = function(f) lacks_no_ticks(f),
                 tell = function(f) {
                   figure_alt(f, "stacked", values_by_bar(drawn_cells(f)))
                 }),
  dots = list(data = drawn_cells, draw = dots_draw, scene = dots_scene,
              size = dots_size, lacks = function(f) lacks_room(f),
              tell = function(f) {
                figure_alt(f, "dots", values_by_bar(drawn_cells(f)))
              }),
  balance = list(data = balance_data, draw = balance_draw, scene = balance_scene,
                 size = shares_size, tell = balance_words,
                 lacks = function(f) lacks_order(f)),
  change = list(data = change_data, draw = change_draw, size = change_size,
                lacks = function(f) lacks_waves(f), tell = function(f) {
                  figure_alt(f, "change", values_by_bar(drawn_cells(f)))
                }),
  heat = list(data = heat_data, draw = heat_draw, size = cells_size,
              lacks = function(f) NULL, tell = function(f) {
                figure_alt(f, "heat", values_by_bar(drawn_cells(f)))
              }),
  residuals = list(data = residuals_data, draw = residuals_draw,
                   size = cells_size, tell = residuals_words,
                   lacks = function(f) NULL),
  mosaic = list(data = mosaic_data, draw = mosaic_draw, size = mosaic_size,
                lacks = function(f) lacks_no_ticks(f) %||% lacks_room(f),
                tell = function(f) {
                  figure_alt(f, "mosaic", values_by_bar(drawn_cells(f)))
                }),
  map = list(data = map_data, draw = map_draw, size = map_size,
             lacks = function(f) lacks_plane(f), tell = map_words)
)

kind_of_shares <- function(f) {
  if (f[[figure_side(f)[["piece"]]]]$ticks) "items" else "shares"
}

lacks_no_ticks <- function(f) {
  if (f$down$ticks || f$across$ticks) "single_answers"
}

# More answers than can be named beside each other.
lacks_room <- function(f) {
  if (max(bars_of_panels(f), answers_drawn(f)) > 40L) "fewer"
}

lacks_order <- function(f) {
  if (!isTRUE(f[[figure_side(f)[["piece"]]]]$ordered)) "order" else
    lacks_no_ticks(f)
}

# Lines between answers say that they follow each other.
lacks_waves <- function(f) {
  bars <- f[[figure_side(f)[["bar"]]]]
  several <- length(unique(f$cells[[figure_side(f)[["bar"]]]]))
  if (several < 2L || several > 2L && !isTRUE(bars$ordered)) "waves"
}

lacks_plane <- function(f) {
  lacks_no_ticks(f) %||% if (!nrow(map_data(f))) "plane"
}

#' Figures of a table
#'
#' A ggplot object to go on with. Every figure draws the figures of the table
#' and works nothing out anew; tables of an `each`, and those of a banner of one
#' question down, are its panels. Needs the package ggplot2.
#'
#' * `"shares"`: a bar of 100 % for every percentage base, cut into the answers
#'   (for a tick-all question a bar an item).
#' * `"grouped"`: bars beside each other, of the table's percentages; of its
#'   counts where it was made with `percent = "none"`.
#' * `"stacked"`: counts (weighted, with weights) on top of each other.
#' * `"dots"`: percentages with their intervals, the columns compared on one
#'   line.
#' * `"balance"`: ordered answers left and right of their middle.
#' * `"change"`: percentages over waves, or other ordered columns, with their
#'   intervals.
#' * `"heat"`: percentages as shades.
#' * `"residuals"`: adjusted residuals.
#' * `"mosaic"`: areas are (weighted) counts; the shade is the adjusted
#'   residual, + and - are marks.
#' * `"map"`: the answers as points, those with like profiles near each other
#'   (correspondence analysis). It says how much of the statistic it shows, and
#'   when that is little.
#'
#' Bars, groups and columns are the side that the percentages are of: turn a
#' figure round with `percent = "row"` in [crosstab()], [rechoose()] or
#' [flip()].
#'
#' @param object (crosstab or banner) From [crosstab()] or [read_tables()].
#' @param kind (one of the above, default "shares").
#' @param title (string, default the table's) Title; `""` for none.
#' @param palette (colours, default those of the house style, or ours) Colours
#'   of the answers, in their order.
#' @param neutral ("split" or "aside", default "split") Of `"balance"`: whether
#'   the middle answer is cut in halves or stands aside.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return A ggplot object.
#' @section Errors: `fairlattice_error_figure` where the table has not what the
#'   figure needs.
#' @references Greenacre M (2017) Correspondence Analysis in Practice, 3rd
#'   edition. Chapman and Hall.
#'
#'   Hartigan J, Kleiner B (1981) Mosaics for contingency tables. Computer
#'   Science and Statistics: 268-273.
#' @exportS3Method ggplot2::autoplot
#' @examplesIf requireNamespace("ggplot2", quietly = TRUE)
#' table <- crosstab(demo_records(), down = ferry, across = island)
#' ggplot2::autoplot(table)
#' ggplot2::autoplot(table, "balance", neutral = "aside")
autoplot.fairlattice_crosstab <- function(object, kind = names(figures),
                                          title = NULL, palette = NULL,
                                          neutral = c("split", "aside"), ...) {
  nothing_else(...)
  call <- environment()
  kind <- first_of(kind)
  check_choice(kind, names(figures), "kind", call)
  neutral <- first_of(neutral)
  check_choice(neutral, c("split", "aside"), "neutral", call)
  if (!is.null(title)) check_text(title, "title", 1, call)
  check_palette(palette, call)
  need_package("ggplot2", tells("to_draw_figure"), call)
  f <- figure_data(object)
  f$neutral <- neutral
  f$palette <- palette
  if (!is.null(title)) f["title"] <- list(if (nzchar(title)) title)
  in_style(object$layout$style, plot_of(f, kind, call))
}

#' @rdname autoplot.fairlattice_crosstab
#' @exportS3Method ggplot2::autoplot
autoplot.fairlattice_banner <- autoplot.fairlattice_crosstab

check_palette <- function(palette, call) {
  if (is.null(palette)) return(invisible())
  sound <- is.character(palette) && length(palette) && !anyNA(palette) &&
    !inherits(try(grDevices::col2rgb(palette), silent = TRUE), "try-error")
  if (!sound)
    stop_input(c(tells("palette_colours_not", quote_value(palette)),
                 i = tells("write_c_005a6e_b06a00_instance")), "figure",
               call = call)
}

# Whether a figure goes along with a table: it would show cells that are
# withheld, and a number down has no cells.
has_figure <- function(x, figure) {
  if (figure == "none" || guards(x$layout) || takes_figures_out(x)) return(FALSE)
  if (!all(vapply(single_tables(x), has, NA, "across", "answers")))
    return(FALSE)
  !inherits(x, "fairlattice_banner") || length(x$tables) == 1L ||
    is_list_of_questions(x)
}

plot_of <- function(f, kind, call) {
  drawn <- drawn_figure(f, kind, call)
  figures[[kind]]$draw(drawn$data, drawn$f)
}

# What is drawn, where the table has what it takes.
drawn_figure <- function(f, kind, call) {
  f <- visible_in(f)
  if (!nrow(f$cells) && f$n)
    stop_input(c(tells("figure_needs_answers"), i = tells("figure_needs_answers_how")),
               "figure", call = call)
  if (!f$n)
    stop_input(tells("nothing_draw_nobody_table"), "nobody", call = call)
  lacking <- figures[[kind]]$lacks(f)
  if (!is.null(lacking))
    stop_input(c(tells("figure_cannot_drawn_table", kind),
                 i = words(paste0("figure_needs.", lacking))), "figure",
               call = call)
  drawn <- figures[[kind]]$data(f)
  if (!nrow(drawn))
    stop_input(tells("nothing_draw_nobody_table"), "nobody", call = call)
  list(data = drawn, f = f)
}

# The figure that a table can have: the one that is asked for, or the usual one
# where it lacks something for that.
kind_for <- function(f, kind) {
  if (is.null(figures[[kind]]$lacks(f))) kind else "shares"
}

# Inches that a figure of this table wants.
figure_size <- function(f, kind) {
  stats::setNames(figures[[kind]]$size(f), c("width", "height"))
}

# The picture that goes along with a result: a plot, its size in inches, and
# what it shows in words; NULL for most.
picture_of <- function(x) UseMethod("picture_of")

#' @export
picture_of.default <- function(x) NULL
