# What a figure is drawn from: cells and margins as data, and the questions they are of.
figure_data <- function(x) {
  facts <- facts_of(x)
  c(facts[c("down", "across", "each")],
    list(title = table_title(x), style = x$layout$style, percent = x$choices$percent, layers = length(x$layers),
         cells = cells_frame(x),
         margins = list(down = margin_frame(x, "down"), across = margin_frame(x, "across"))))
}
