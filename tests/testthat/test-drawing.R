# What pages and documents show of figures of bars and dots is what the plots show.

scene_of <- function(x, kind) {
  drawn <- drawn_figure(figure_data(x), kind, NULL)
  figures[[kind]]$scene(drawn$data, drawn$f)
}
parts_of <- function(scene, part) bind_frames(lapply(scene$panels, `[[`, part))
drawn_svg <- function(x, kind) {
  file <- withr::local_tempfile(fileext = ".svg")
  draw_figure(figure_data(x), kind, file, "svg", NULL)
  xml2::xml_ns_strip(xml2::read_xml(file))
}

drawn_tables <- function() {
  survey <- survey_of(demo_records())
  list(one = crosstab(survey, ferry, tenure), panels = crosstab(survey, ferry, leave, each = mode),
       banner = crosstab(survey, ferry, c(island, tenure)), alone = crosstab(survey, ferry),
       rows = crosstab(survey, ferry, mode, percent = "row"),
       ticks = crosstab(ticks(survey, why = c(reason_work, reason_ferry)), why, island),
       counts = crosstab(survey, heating, mode, percent = "none"))
}

test_that("bars, dots, labels and colours are those of the plots", {
  skip_if_not_installed("ggplot2")
  tables <- drawn_tables()
  same <- function(a, b) expect_equal(sort(a), sort(b), tolerance = 1e-9)
  tried <- 0
  for (kind in names(Filter(function(figure) !is.null(figure$scene), figures)))
    for (name in names(tables)) {
      x <- tables[[name]]
      if (!is.null(figures[[kind]]$lacks(figure_data(x)))) next
      if (kind == "balance" && name == "counts") next
      scene <- scene_of(x, kind)
      plot <- ggplot2::autoplot(x, kind)
      built <- ggplot2::ggplot_build(plot)
      of <- function(geom, what) {
        at <- vapply(plot$layers, function(layer) inherits(layer$geom, geom), NA)
        unlist(lapply(built$data[at], function(data) as.character(data[[what]])))
      }
      number <- function(...) as.numeric(of(...))
      if (kind == "dots") {
        points <- parts_of(scene, "points")
        same(points$x, number("GeomPoint", "x"))
        same(points$shape, number("GeomPoint", "shape"))
        same(points$colour, of("GeomPoint", "colour"))
        lines <- parts_of(scene, "lines")
        same(lines$from[!is.na(lines$from)], as.vector(stats::na.omit(number("GeomSegment", "x"))))
      } else {
        boxes <- parts_of(scene, "boxes")
        bar <- if (kind == "balance") "GeomTile" else "GeomCol"
        same(boxes$from, number(bar, "xmin"))
        same(boxes$to, number(bar, "xmax"))
        filled <- of(bar, "fill")
        if (length(filled)) same(boxes$fill, filled)
      }
      texts <- parts_of(scene, "texts")$text
      same(trimws(texts[nzchar(texts)]), trimws(Filter(nzchar, of("GeomText", "label"))))
      expect_identical(scene$texts[c("title", "subtitle", "caption")],
                       unclass(plot$labels)[c("title", "subtitle", "caption")])
      tried <- tried + 1
    }
  expect_gt(tried, 20)
})

test_that("bars stand in the order of the answers, one beneath the other, where their labels are", {
  x <- drawn_tables()$banner
  scene <- scene_of(x, "shares")
  expect_identical(vapply(scene$panels, function(one) sub("\n.*", "", one$title), ""),
                   c("Island", "Tenure"))
  panel <- scene$panels[[1]]
  expect_match(panel$rows[1:2], "^(Norrey|Sandholm) \\([0-9]+\\)$")
  first <- panel$boxes[panel$boxes$row == 1, ]
  share <- 100 * shares(single_tables(x)[[1]])$share[1:4]
  expect_equal(first$from, c(0, cumsum(share)), tolerance = 0.5)
  expect_equal(sum(first$to - first$from), 100)
  # beside each other within a row, none over another
  grouped <- scene_of(x, "grouped")$panels[[2]]$boxes
  grouped <- grouped[order(grouped$row), ]
  below <- grouped$row[-1] - grouped$half[-1]
  expect_true(all(below - (grouped$row + grouped$half)[-nrow(grouped)] > 0))
  expect_true(all(abs(grouped$row - round(grouped$row)) < 0.45))
})

test_that("everything lies on the page, in a house's fonts and colours, whatever the table", {
  skip_if_not_installed("svglite")
  skip_if_not_installed("xml2")
  long <- demo_records(400)
  levels(long$ferry) <- paste("A very long answer of many words that goes on and on for some time",
                              seq_along(levels(long$ferry)))
  levels(long$tenure) <- paste("A tenure that takes some lines", seq_along(levels(long$tenure)))
  many <- data.frame(a = factor(rep(1:3, 100)), b = factor(rep(1:30, 10)))
  tables <- c(drawn_tables(),
              list(long = crosstab(respondents(long), ferry, tenure, each = mode),
                   many = crosstab(respondents(many), a, b),
                   seven = crosstab(respondents(demo_records(30)[1:7, ]), ferry, leave)))
  for (name in names(tables)) for (kind in c("shares", "grouped", "stacked", "dots", "balance")) {
    x <- tables[[name]]
    if (!is.null(figures[[kind]]$lacks(figure_data(x)))) next
    svg <- drawn_svg(x, kind)
    size <- as.numeric(strsplit(xml2::xml_attr(svg, "viewBox"), " ")[[1]])
    text <- xml2::xml_find_all(svg, "//text")
    at <- function(what) as.numeric(xml2::xml_attr(text, what))
    wide <- as.numeric(sub("px", "", xml2::xml_attr(text, "textLength")))
    anchor <- xml2::xml_attr(text, "text-anchor")
    left <- at("x") - wide * ifelse(anchor %in% "middle", 0.5, ifelse(anchor %in% "end", 1, 0))
    expect_true(all(left >= 0, na.rm = TRUE), info = paste(name, kind))
    expect_true(all(at("y") >= 0 & at("y") <= size[4], na.rm = TRUE), info = paste(name, kind))
    expect_true(all(left + wide <= size[3] + 1, na.rm = TRUE), info = paste(name, kind))
  }
  house <- house_style(demo_file("house.yml"))
  house$colours$answers <- c("#123456", "#654321")
  file <- withr::local_tempfile(fileext = ".svg")
  publish(lay_out(crosstab(demo_records(), leave, mode), style = house), file, figure = "shares")
  text <- paste(readLines(file), collapse = "\n")
  expect_match(text, "fill: #123456", ignore.case = TRUE)
  expect_match(text, "fill: #654321", ignore.case = TRUE)
})
