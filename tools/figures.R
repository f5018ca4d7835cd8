# One sheet of every kind of figure, of the demo survey.   Rscript
# tools/figures.R OUT.png
library(fairlattice)
survey <- respondents(demo_records(), weight = weight, stratum = island,
                      cluster = settlement)
survey <- retitle(band(survey, age, breaks = c(18, 35, 50, 65),
                       into = "age_group"), age_group, "Age group")
ferry <- crosstab(survey, ferry, island)
heating <- crosstab(survey, heating, island)
plots <- list(
  ggplot2::autoplot(ferry, "shares"), ggplot2::autoplot(ferry, "balance"),
  ggplot2::autoplot(ferry, "stacked"),
  ggplot2::autoplot(ferry, "dots"),
  ggplot2::autoplot(crosstab(survey, heating, age_group), "change"),
  ggplot2::autoplot(crosstab(survey, internet, tenure), "grouped"),
  ggplot2::autoplot(heating, "residuals"),
  ggplot2::autoplot(heating, "heat"), ggplot2::autoplot(heating, "mosaic"),
  ggplot2::autoplot(heating, "map"),
  ggplot2::autoplot(crosstab(survey, ferry, c(island, tenure, age_group)),
                    "shares"),
  ggplot2::autoplot(detectable(n = c(300, 600, 1200), r = 3, c = 4, v = 0.1)))
grDevices::png(commandArgs(TRUE), 2460, 2360, res = 96, type = "cairo")
grid::grid.newpage()
grid::pushViewport(grid::viewport(layout = grid::grid.layout(4L, 3L)))
for (k in seq_along(plots)) print(
  plots[[k]],
  vp = grid::viewport(layout.pos.row = (k - 1L) %/% 3L + 1L,
                      layout.pos.col = (k - 1L) %% 3L + 1L))
invisible(grDevices::dev.off())
