# How often what is said of a column of few clusters is right: 24 clusters in 4
# strata, the people of the first column in k of them, nothing related (intervals:
# how often they hold the truth; tests: how often they reject at 5 %): the table
# of docs/VALIDATION.md.
# Rscript bench/few-clusters.R [surveys a row, default 2000]
suppressPackageStartupMessages(library(fairlattice))
ours <- asNamespace("fairlattice")
surveys <- as.integer(c(commandArgs(TRUE), "2000")[1L])

# `groups`: in how many clusters each column lives.
drawn <- function(groups, people = 12) {
  column <- rep(seq_along(groups), groups)[sample(24L)]
  own <- rnorm(24L, 0, 0.5)
  id <- rep(1:24, each = people)
  answer <- findInterval(own[id] + rnorm(length(id)), c(-0.6, 0.3))
  data.frame(stratum = (id - 1) %% 4, cluster = id, w = runif(length(id), 0.6, 1.6),
             column = factor(column[id], labels = letters[seq_along(groups)]),
             answer = factor(answer, 0:2, c("low", "middle", "high"), ordered = TRUE))
}

truth <- mean(findInterval(rnorm(4e6, 0, sqrt(1.25)), c(-0.6, 0.3)) == 2)

one <- function(groups) {
  survey <- score(respondents(drawn(groups), weight = w, stratum = stratum,
                              cluster = cluster), answer)
  x <- crosstab(survey, answer, column)
  layer <- x$layers[[1L]]
  share <- ours$shares_of(x)[[1L]]
  at <- which(rep(rownames(layer$n), ncol(layer$n)) == "high")[1L]
  pairs <- ours$layer_differences(x, "columns", "holm", 0.05, 2)
  means <- ours$equal_means_test(layer, 1:3)
  c(share$low[at] <= truth && truth <= share$high[at],
    pairs$p[pairs$within == "high" & pairs$first == "a"][1L] < 0.05,
    means$p < 0.05, ours$headline_of(ours$tests_of(x)[[1L]])$p < 0.05,
    any(ours$residuals_of(x)[[1L]]$mark != ""))
}

set.seed(5)
cat("| clusters of the columns | share covered | difference | means | headline | any mark |\n")
for (groups in list(c(2, 22), c(3, 21), c(4, 20), c(6, 18), c(12, 12), c(3, 3, 18),
                    rep(4, 6))) {
  found <- rowMeans(replicate(surveys, one(groups)), na.rm = TRUE)
  cat(sprintf("| %s | %s |\n", paste(groups, collapse = ", "),
              paste(sprintf("%.3f", found), collapse = " | ")))
}
