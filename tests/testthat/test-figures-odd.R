# Figures of odd tables.

test_that(paste("odd tables are drawn or refused in words: empty columns, one",
                "answer, panels that lack some, long labels"), {
  long <- factor(rep(c("a long label that goes on and on, and then on",
                       "<b>%s\n\u6f22</b>"), 15))
  data <- data.frame(a = factor(rep(1:3, 10), 1:4, c("x", "y", "z", "never")),
                     one = "only",
                     b = factor(
                       rep(1:2, each = 15), 0:3,
                       c("nobody", "p", "q", "no one")), long = long,
                     c = factor(
                       c(rep("k", 20), rep("l", 10)),
                       c("k", "l", "m")))
  data$b[data$c == "l"] <- "q"
  odd <- list(crosstab(data, a, b, keep_empty = TRUE),
              crosstab(data, a, b, each = c), crosstab(data, one, b),
              crosstab(data, a, one), crosstab(data, long, b),
              crosstab(data, a, c(b, long)), crosstab(data[1, ], a, b))
  path <- withr::local_tempfile(fileext = ".svg")
  for (x in odd) {
    for (kind in names(figures)) {
      drew <- tryCatch(is.character(publish(x, path, kind)),
                       fairlattice_error_figure = function(e) {
                         FALSE
                       })
      if (drew) expect_match(figures[[kind]]$tell(figure_data(x)), "^[A-Z].*: ")
      expect_true(drew || kind %in% c("map", "change", "balance"), info = kind)
    }
  }
})
