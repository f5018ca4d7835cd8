# Figures: what is drawn is what the core says, for every kind; the map by its
# definition; labels that keep clear of each other; colours that can be told
# apart.

drawn <- function(x, kind, layer, ...) {
  ggplot2::layer_data(ggplot2::autoplot(x, kind, ...), layer)
}

sorted <- function(x) sort(as.numeric(x))

test_that("every kind draws the percentages, counts and intervals of the table", {
  x <- crosstab(demo_survey(), ferry, island)
  cells <- as.data.frame(x)
  s <- as.data.frame(shares(x))
  widths <- function(d) sorted(d$xmax - d$xmin)
  expect_equal(widths(drawn(x, "shares", 1)), sorted(cells$column_percent))
  expect_equal(sorted(drawn(x, "grouped", 1)$xmax),
               sorted(cells$column_percent))
  expect_equal(sorted(drawn(crosstab(demo_survey(), ferry, island,
                                     percent = "none"), "grouped", 1)$xmax),
               sorted(cells$n))
  expect_equal(widths(drawn(x, "stacked", 1)), sorted(cells$weighted))
  for (neutral in c("split", "aside")) expect_equal(
    widths(drawn(x, "balance", 2, neutral = neutral)),
    sorted(cells$column_percent))
  dots <- drawn(x, "dots", 2)
  expect_equal(sorted(dots$x), sorted(100 * s$low))
  expect_equal(sorted(dots$xend), sorted(100 * s$high))
  expect_equal(sorted(drawn(x, "dots", 3)$x), sorted(cells$column_percent))
  tiles <- drawn(x, "mosaic", 1)
  area <- (tiles$xmax - tiles$xmin) * (tiles$ymax - tiles$ymin)
  expect_equal(sorted(area), sorted(cells$weighted / sum(cells$weighted)))
  expect_equal(sum(tiles$linewidth > 0.5), sum(cells$mark != ""))
  expect_setequal(drawn(x, "heat", 2)$label,
                  format_percent(cells$column_percent / 100, 0L))
  # the other way round
  turned <- rechoose(x, percent = "row")
  expect_equal(widths(drawn(turned, "shares", 1)), sorted(cells$row_percent))
  expect_equal(nlevels(figures$shares$data(figure_data(turned))$bar_key), 5L)
})

test_that("balance puts what is below the middle left of it and sums both sides", {
  x <- crosstab(demo_survey(), ferry, island)
  data <- balance_data(replace(figure_data(x), "neutral", "split"))
  column <- function(answers) {
    cells <- as.data.frame(x)
    as.vector(tapply(cells$column_percent * cells$down %in% answers,
                     factor(cells$across, unique(cells$across)), sum))
  }
  one <- data[!duplicated(data$bar), ]
  expect_equal(one$below, column(c("Very dissatisfied", "Dissatisfied")))
  expect_equal(one$above, column(c("Satisfied", "Very satisfied")))
  norrey <- data[data$bar == "Norrey", ]
  expect_equal(norrey$from[-1], norrey$to[-5]) # without gaps
  expect_equal(norrey$from[3], -norrey$to[3]) # the middle answer in halves
})

test_that("change draws ordered columns or two of them, with the intervals", {
  panel <- order_answers(demo_survey(), island,
                         c("Outer Veyra", "Tarn", "Harrow Skerry", "Sandholm",
                           "Norrey"))
  x <- crosstab(panel, heating, island)
  s <- as.data.frame(shares(x))
  lines <- drawn(x, "change", 1)
  expect_equal(sorted(lines$ymin), sorted(100 * s$low))
  expect_equal(sorted(lines$ymax), sorted(100 * s$high))
  expect_equal(sorted(drawn(x, "change", 2)$y),
               sorted(as.data.frame(x)$column_percent))
  expect_error(ggplot2::autoplot(crosstab(demo_survey(), heating, island),
                                 "change"), "ordered columns",
               class = "fairlattice_error_figure")
})

test_that(paste("the map keeps the chi-square distances between profiles, and",
                "says how much of the statistic it shows"), {
  withr::local_seed(4)
  for (k in 1:20) {
    n <- matrix(sample.int(40L, 9L), 3L,
                dimnames = list(letters[1:3], LETTERS[1:3]))
    map <- map_of(list(weighted = n))
    # a table of three answers has no more than two axes
    expect_equal(sum(map$share), 1)
    profiles <- n / rowSums(n)
    mass <- colSums(n) / sum(n)
    between <- function(i, j) {
      sqrt(sum((profiles[i, ] - profiles[j, ])^2 / mass))
    }
    expect_equal(as.vector(dist(map$down)),
                 c(between(1, 2), between(1, 3), between(2, 3)))
    # weighted squares of the coordinates are chi-square over n
    expected <- tcrossprod(rowSums(n), colSums(n)) / sum(n)
    inertia <- sum((n - expected)^2 / expected) / sum(n)
    expect_equal(sum(rowSums(n) / sum(n) * rowSums(map$down^2)), inertia)
    expect_equal(sum(mass * rowSums(map$across^2)), inertia)
  }
  wide <- map_of(list(weighted = rbind(n, 0, 7:9)))
  expect_true(all(is.na(wide$down[4, ]))) # nobody gave it
  expect_null(map_of(list(weighted = n[, 1:2])))
  two <- crosstab(data.frame(a = c("x", "y", "x"), b = c("p", "q", "r")), a, b)
  expect_error(ggplot2::autoplot(two, "map"), "three answers or more",
               class = "fairlattice_error_figure")
  x <- crosstab(demo_survey(), heating, island)
  points <- drawn(x, "map", 4)
  map <- map_of(x$layers[[1]])
  expect_equal(sorted(points$x), sorted(c(map$down[, 1], map$across[, 1])))
  expect_match(ggplot2::autoplot(x, "map")$labels$subtitle, "91%")
})

test_that("panels of `each` and of a banner each hold their own table", {
  banner <- crosstab(demo_survey(), ferry, c(island, tenure))
  one <- as.data.frame(crosstab(demo_survey(), ferry, tenure))
  d <- drawn(banner, "shares", 1)
  expect_equal(sorted((d$xmax - d$xmin)[d$PANEL == 2]),
               sorted(one$column_percent))
  by <- crosstab(demo_survey(), ferry, island, each = tenure)
  d <- drawn(by, "balance", 2)
  cells <- as.data.frame(by)
  for (k in 1:5) expect_equal(
    sorted((d$xmax - d$xmin)[d$PANEL == k]),
    sorted(cells$column_percent[cells$each == unique(cells$each)[k]]))
  both <-
    figure_data(crosstab(demo_survey(), ferry, c(island, tenure), each = leave))
  expect_identical(both$layers, 4L)
  expect_identical(names(both$notes), unique(both$cells$each))
  expect_identical(names(both$map()), unique(both$cells$each))
  for (kind in setdiff(names(figures), "change")) expect_s3_class(
    ggplot2::autoplot(banner, kind), "ggplot")
  expect_error(ggplot2::autoplot(crosstab(
                                   demo_survey(), c(ferry, heating), island)),
               "different answers", class = "fairlattice_error_figure")
  page <- withr::local_tempfile(fileext = ".html")
  publish(banner, page, "dots")
  expect_match(paste(readLines(page), collapse = ""),
               "alt=\"Dots with intervals: ", fixed = TRUE)
})

test_that("what a figure needs is said, and a table without it has the usual one in a page", {
  panel <-
    ticks(demo_survey(), reasons = c(reason_work, reason_housing, reason_ferry))
  items <- crosstab(panel, reasons, island)
  for (kind in c("stacked", "balance", "mosaic", "map")) expect_error(
    ggplot2::autoplot(items, kind), "cannot be drawn",
    class = "fairlattice_error_figure")
  expect_error(ggplot2::autoplot(crosstab(panel, heating, island), "balance"),
               "ordered answers")
  x <- crosstab(panel, ferry, island)
  expect_error(ggplot2::autoplot(x, palette = "no colour"), "must be colours",
               class = "fairlattice_error_figure")
  expect_error(ggplot2::autoplot(x, titel = "a"), "title")
  expect_identical(ggplot2::autoplot(x, title = "My own")$labels$title,
                   "My own")
  expect_setequal(drawn(x, "shares", 1, palette = c("red", "blue"))$fill,
                  c("red", "blue"))
  page <- withr::local_tempfile(fileext = ".html")
  publish(items, page, "mosaic")
  expect_match(paste(readLines(page), collapse = ""),
               "alt=\"Bars of items ticked", fixed = TRUE)
  # the finding is in the words for those who cannot see it, the test and
  # strength under the figure
  expect_match(figures$mosaic$tell(figure_data(x)), write_up(x, "sentence"),
               fixed = TRUE)
  expect_match(ggplot2::autoplot(x, "dots")$labels$caption,
               "Rao-Scott.*V = 0.118")
  expect_match(ggplot2::autoplot(x, "dots")$labels$subtitle,
               "2,215, weighted by weight")
})

test_that("answers are named over the first bar where all names find room there", {
  x <- crosstab(demo_survey(), leave, island)
  named <- drawn(x, "stacked", 3)
  cells <- as.data.frame(x)
  expect_identical(named$label, c("Yes", "No"))
  first <- cells$weighted[cells$across == cells$across[1]]
  expect_equal(named$x, c(first[1] / 2, first[1] + first[2] / 2))
  expect_null(names_above(replace(figures$shares$data(figure_data(x)), "value",
                                  1:10), list(layers = 2L)))
  narrow <- ggplot2::autoplot(crosstab(demo_survey(), ferry, island), "shares")
  expect_length(narrow$layers, 2L) # a legend says it
})

test_that("many columns are all drawn, and too many refused", {
  expect_error(ggplot2::autoplot(crosstab(demo_survey(), ferry, settlement),
                                 "mosaic"), "at most 40 answers")
  expect_error(ggplot2::autoplot(crosstab(demo_survey(), ferry, settlement),
                                 "dots"), "at most 40 answers")
  some <- among(demo_survey(), settlement %in% sprintf("N%02d", 1:20))
  x <- crosstab(some, ferry, settlement, keep_empty = FALSE)
  cells <- as.data.frame(x)
  tiles <- drawn(x, "mosaic", 1)
  expect_identical(nrow(tiles), sum(cells$weighted > 0))
  expect_false(anyNA(tiles[c("xmin", "xmax", "ymin", "ymax")]))
  names <- drawn(x, "mosaic", 3)
  expect_identical(names$label, unique(cells$across))
  expect_false(anyNA(names$x))
  expect_identical(nrow(drawn(x, "dots", 4)), nrow(cells)) # names beside them
})

test_that("labels do not overlap", {
  withr::local_seed(11)
  for (k in 1:200) {
    at <- runif(sample(2:12, 1))
    width <- runif(length(at), 0, 0.2)
    placed <- spread_out(at, width)
    o <- order(at)
    expect_true(all(diff(placed[o]) >=
                      (width[o][-1] + width[o][-length(o)]) / 2 - 1e-12))
    if (all(diff(sort(at)) > 0.2)) expect_equal(placed, at)
  }
  for (k in 1:50) {
    x <- runif(14)
    y <- runif(14)
    width <- runif(14, 0.04, 0.14)
    at <- placed_labels(x, y, width, rep(0.03, 14)[1])
    apart <- outer(at$x, at$x, function(a, b) abs(a - b)) >=
               outer(width, width, `+`) / 2 - 1e-9 |
             outer(at$y, at$y, function(a, b) abs(a - b)) >= 0.03 - 1e-9
    expect_true(all(apart[upper.tri(apart)]))
  }
})

# Lightness (L* of CIE) of colours as they are seen without one kind of cone
# (Machado, Oliveira, Fernandes 2009).
seen <- list(
  plain = diag(3),
  protan = rbind(c(0.152286, 1.052583, -0.204868),
                 c(0.114503, 0.786281, 0.099216),
                 c(-0.003882, -0.048116, 1.051998)),
  deutan = rbind(c(0.367322, 0.860646, -0.227968),
                 c(0.280085, 0.672501, 0.047413),
                 c(-0.011820, 0.042940, 0.968881)),
  tritan = rbind(c(1.255528, -0.076749, -0.178779),
                 c(-0.078411, 0.930809, 0.147602),
                 c(0.004733, 0.691367, 0.303900)))

luminance <- function(colours, eye = seen$plain) {
  rgb <- grDevices::col2rgb(colours) / 255
  linear <- ifelse(rgb <= 0.04045, rgb / 12.92, ((rgb + 0.055) / 1.055)^2.4)
  as.vector(c(0.2126, 0.7152, 0.0722) %*% pmin(pmax(eye %*% linear, 0), 1))
}

test_that(paste("neighbouring answers differ in lightness, to every eye and",
                "in grey, and text on them can be read"), {
  lightness <- function(colours, eye) {
    y <- luminance(colours, eye)
    ifelse(y > 0.008856, 116 * y^(1 / 3) - 16, 903.3 * y)
  }
  contrast <- function(a, b) {
    (pmax(a, b) + 0.05) / (pmin(a, b) + 0.05)
  }
  for (n in 2:8) {
    palettes <- list(ordered = answer_colours(n, TRUE),
                     plain = answer_colours(n, FALSE),
                     balance = balance_colours(n))
    for (name in names(palettes)) {
      for (eye in names(seen)) {
        expect_gt(min(abs(diff(lightness(palettes[[name]], seen[[eye]])))), 6)
      }
      ink <- ink_on(palettes[[name]])
      expect_gt(min(contrast(luminance(ink), luminance(palettes[[name]]))), 4.5)
    }
    expect_gt(min(contrast(luminance(line_colours(list(), n)), 1)), 3) # on paper
  }
  for (shades in list(residual_shades(seq(-9, 9, 0.5)), shades_of(0:40, 40))) {
    expect_gt(min(contrast(luminance(ink_on(shades)), luminance(shades))), 4.5)
  }
})

test_that("a figure draws what the layout shows, in its order and under its names", {
  x <- crosstab(net(demo_survey(), ferry, Content = c("Satisfied", "Very satisfied")),
                ferry, island)
  drawn <- function(...) {
    f <- fairlattice:::figure_data(attr(lay_out(x, ...), "of"))
    fairlattice:::drawn_cells(f)
  }
  whole <- drawn()
  sheet <- lay_out(x, sort = "Satisfied")[[1]]
  sorted <- drawn(sort = "Satisfied")
  expect_identical(levels(sorted$bar), sheet$columns$label[sheet$columns$role == "answer"])
  expect_identical(levels(sorted$piece), levels(whole$piece)) # ordered answers stay so
  expect_equal(sorted$percent[sorted$bar == "Tarn"], whole$percent[whole$bar == "Tarn"])
  cut <- drawn(only = c("Content", "Neither"), labels = c(Neither = "In between"))
  expect_setequal(levels(cut$piece), c("Content", "In between"))
  figures <- lay_out(x, show = c("column", "interval"), stack = "beneath")[[1]]
  net <- figures$value[figures$stub$role == "net", ]
  own <- cut[cut$piece == "Content", ]
  expect_equal(own$percent, unname(net[1, match(own$bar, figures$columns$label)]))
  expect_equal(own$low, unname(net[2, match(own$bar, figures$columns$label)]))
  expect_setequal(as.character(drawn(hide_under = 400)$bar),
                  c("Sandholm", "Harrow Skerry", "Outer Veyra"))
  expect_error(ggplot2::autoplot(attr(lay_out(crosstab(score(demo_survey(), ferry), ferry,
                                                       island), only = "means"), "of")),
               "draws percentages of answers", class = "fairlattice_error_figure")
})

test_that("a list of questions is drawn with a line a question", {
  x <- crosstab(demo_survey(), c(reason_work, reason_housing, reason_ferry), c(island, mode))
  x <- attr(lay_out(x, only = "Ticked", sort = "size"), "of")
  sheet <- fairlattice:::sheets_of(x)[[1]]
  f <- fairlattice:::figure_data(x)
  cells <- fairlattice:::drawn_cells(f)
  expect_identical(levels(cells$piece), sheet$stub$label[sheet$stub$role != "base"])
  expect_identical(levels(cells$each), c("Island", "Way of answering"))
  at <- cbind(match(cells$piece, sheet$stub$label), match(cells$bar, sheet$columns$label))
  expect_equal(cells$percent, sheet$value[at])
  expect_match(ggplot2::autoplot(x, "dots")$labels$subtitle, "^Ticked: percentages")
})

test_that("a table one of whose layers leaves figures out is not drawn beside it", {
  x <- crosstab(demo_survey(), leave, tenure, each = mode)
  flagged <- function(limit) with_layout(x, list(flag_under = c(limit + 1000, limit)), NULL)
  smallest <- function(x) vapply(x$layers, function(layer) min(layer$margins$across$n), 0)
  limit <- sort(smallest(x))[2L] # one layer has a column of fewer
  expect_true(fairlattice:::takes_figures_out(flagged(limit)))
  expect_false(fairlattice:::takes_figures_out(flagged(min(smallest(x)))))
})

test_that("areas of a mosaic are counts", {
  x <- crosstab(demo_survey(), heating, island)
  data <- mosaic_data(figure_data(x))
  area <- (data$xmax - data$xmin) * (data$ymax - data$ymin)
  weighted <- cells_frame(x)
  at <- match(paste(data$piece, data$bar), paste(weighted$down, weighted$across))
  expect_equal(area, weighted$weighted[at] / sum(weighted$weighted))
})

test_that("labels of two points keep clear of each other and of both points", {
  withr::local_seed(3)
  for (k in 1:200) {
    x <- runif(2)
    y <- runif(2)
    width <- runif(2, 0.05, 0.4)
    at <- placed_labels(x, y, width, 0.05, 0.02)
    gap <- function(a, b, reach_x, reach_y) {
      max(abs(a[1] - b[1]) - reach_x, abs(a[2] - b[2]) - reach_y)
    }
    label <- function(k) c(at$x[k], at$y[k])
    expect_gte(gap(label(1), label(2), sum(width) / 2, 0.05), -1e-9)
    for (k in 1:2) {
      other <- c(x[3 - k], y[3 - k])
      expect_gte(gap(label(k), other, width[k] / 2 + 0.02, 0.045), -1e-9)
    }
  }
})

test_that("a map is as high as it is wide at most, and not flatter than a third", {
  f <- figure_data(crosstab(demo_records(), heating, island))
  at <- function(high) {
    map <- list(down = cbind(c(a = 0, b = 1), c(0, high)), across = cbind(c(c = 0.5), 0),
                share = c(0.6, 0.3))
    f$map <- function() stats::setNames(list(map), "")
    map_size(f)[2]
  }
  expect_equal(at(0.5), 2.6 + 6.2 * 0.5)
  expect_equal(at(4), 2.6 + 6.2)
  expect_equal(at(0.01), 2.6 + 6.2 * 0.3)
})
