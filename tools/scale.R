# Draws docs/scale.svg from docs/scale.csv, the growth curves that
# bench/sources.R measures.   Rscript tools/scale.R
library(ggplot2)
found <- read.csv("docs/scale.csv")
found$what <- factor(found$what, unique(found$what))
drawn <- ggplot(found, aes(size, seconds)) + geom_line(colour = "grey50") +
         geom_point(size = 2) +
         geom_text(aes(label = paste(seconds, "s")), hjust = 1.15, vjust = -0.4,
                   size = 3) + facet_wrap(~what, scales = "free_x") +
         scale_x_log10(labels = function(x) {
           ifelse(x < 1e6, format(x, big.mark = ",", scientific = FALSE, trim = TRUE),
                  paste(x / 1e6, "million"))
         }, expand = expansion(mult = c(0.3, 0.15))) +
         scale_y_log10(expand = expansion(mult = c(0.05, 0.15))) +
         labs(x = NULL, y = "seconds") + theme_minimal(base_size = 11) +
         theme(panel.grid.minor = element_blank(),
               strip.text = element_text(face = "bold", hjust = 0))
ggsave("docs/scale.svg", drawn, width = 9, height = 3.2)
