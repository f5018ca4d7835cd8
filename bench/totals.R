# How often the interval of an estimated total holds the truth, on the scale of
# the logarithm (as it is) and symmetric, by drawing clusters from a population:
# the table of docs/VALIDATION.md.
# Rscript bench/totals.R [surveys a row, default 2000]
suppressPackageStartupMessages(library(fairlattice))
ours <- asNamespace("fairlattice")
surveys <- as.integer(c(commandArgs(TRUE), "2000")[1L])
weight <- 100
size_sd <- answer_sd <- 0.3

# `per` clusters in each of `strata`, some `people` in each; a column that `part`
# of the clusters have (1: a column of two fifths of everybody), an answer that
# `share` of the people give.
drawn <- function(per, strata, people, part, share) {
  clusters <- per * strata
  size <- pmax(1, rpois(clusters, people * exp(rnorm(clusters, 0, size_sd))))
  id <- rep(seq_len(clusters), size)
  own <- runif(clusters) < part
  inside <- if (part < 1) own[id] else runif(length(id)) < 0.4
  yes <- runif(length(id)) <
    plogis(qlogis(share) + rnorm(clusters, 0, answer_sd)[id])
  data.frame(stratum = (id - 1) %/% per, cluster = id, weight = weight,
             column = factor(ifelse(inside, "in", "out"), c("in", "out")),
             answer = factor(ifelse(yes, "yes", "no"), c("yes", "no")))
}

truth_of <- function(per, strata, people, part, share) {
  chance <- function(z) plogis(qlogis(share) + answer_sd * z) * dnorm(z)
  weight * per * strata * people * exp(size_sd^2 / 2) *
    (if (part < 1) part else 0.4) * integrate(chance, -8, 8)$value
}

one <- function(row) {
  data <- do.call(drawn, row)
  if (!any(data$column == "in" & data$answer == "yes")) return(rep(NA_real_, 4L))
  x <- crosstab(respondents(data, weight = weight, stratum = stratum,
                            cluster = cluster), answer, column)
  layer <- x$layers[[1L]]
  found <- ours$layer_totals(layer, 0.05)
  truth <- do.call(truth_of, row)
  t <- qt(0.975, ours$layer_df(layer))
  c(found$low[1L] <= truth && truth <= found$high[1L],
    abs(found$total[1L] - truth) <= t * found$se[1L], found$se[1L] / truth,
    ours$layer_clusters(layer, "cell")[1L])
}

rows <- list(list(6, 4, 15, 1, .5), list(6, 4, 15, 1, .1),
             list(6, 4, 15, .5, .5), list(6, 4, 15, .25, .5),
             list(6, 4, 15, .12, .5), list(2, 4, 15, 1, .5),
             list(2, 4, 15, .5, .5), list(25, 4, 15, .05, .3),
             list(25, 4, 15, 1, .02), list(3, 1, 15, 1, .5))
set.seed(3)
cat("| clusters | part of them with the column | share | covers | symmetric covers | CV | clusters in the cell |\n")
for (row in rows) {
  found <- rowMeans(replicate(surveys, one(row)), na.rm = TRUE)
  cat(sprintf("| %g in %g strata | %s | %g | %s |\n", row[[1L]] * row[[2L]],
              row[[2L]], if (row[[4L]] < 1) row[[4L]] else "all", row[[5L]],
              paste(sprintf(c("%.3f", "%.3f", "%.2f", "%.1f"), found),
                    collapse = " | ")))
}
