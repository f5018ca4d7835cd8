# Do the intervals of nets, means, medians and differences hold the truth in 95
# of 100 surveys? 2,000 surveys a row of a population of 2,400 clusters, drawn
# in two waves of clusters that are independent or overlap by half.
# Rscript bench/layout-intervals.R [surveys a row, default 2000]
suppressPackageStartupMessages(library(fairlattice))
args <- commandArgs(trailingOnly = TRUE)
surveys <- if (length(args)) as.integer(args[1L]) else 2000L
options(fairlattice.threads = 1L)
set.seed(1)
people <- 60L
clusters <- 2400L
cluster <- rep(seq_len(clusters), each = people)
pull <- stats::rnorm(clusters, 0, 0.6)[cluster]
group <- sample(c("p", "q", "r"), clusters * people, TRUE, c(0.5, 0.3, 0.2))
latent <- pull + 0.4 * (group == "p") + stats::rnorm(clusters * people)
answer_at <- function(x) {
  factor(findInterval(x, c(-1, 0, 0.8, 1.8)) + 1L, 1:5, ordered = TRUE)
}
population <- data.frame(first = answer_at(latent),
                         second = answer_at(latent + 0.2), group, cluster,
                         chance = exp(0.4 * stats::rnorm(clusters * people)))
score <- as.integer(population$first)
in_p <- population$group == "p"
share <- function(answers, who = TRUE) mean((answers == 5)[who])
truth <- c(net = mean(score[in_p] >= 4), mean = mean(score[in_p]),
           rest = share(population$first, in_p) -
                  share(population$first, !in_p),
           total = share(population$first, in_p) - share(population$first),
           previous = share(population$second) - share(population$first))
by_cluster <- split(seq_along(cluster), cluster)
# people with a larger chance are drawn more often, and their weight makes up
# for it
weighted <- function(chosen) {
  rows <- unlist(lapply(by_cluster[chosen], function(of) {
    sample(of, 10L, TRUE, population$chance[of])
  }))
  transform(population[rows, ], weight = 1 / chance)
}
one <- function(number, overlap) {
  chosen <- sample(clusters, number)
  now <- weighted(chosen)
  design <- function(data) respondents(data, weight = weight, cluster = cluster)
  x <- crosstab(score(net(design(now), first, High = c("4", "5")), first),
                first, group)
  sheet <- lay_out(x, show = c("column", "interval"))[[1L]]
  at <- which(sheet$stub$role == "net")
  inside <- function(low, high, name) {
    low <= truth[[name]] && truth[[name]] <= high
  }
  m <- means(x)
  of <- function(against) {
    d <- differences(x, against)
    d[d$within == "5" & d$first == "p", ]
  }
  rest <- of("rest")
  total <- of("total")
  before <- if (overlap)
    c(sample(chosen, number / 2),
      sample(setdiff(seq_len(clusters), chosen), number / 2)) else
    sample(setdiff(seq_len(clusters), chosen), number)
  old <- weighted(before)
  waves <- rbind(data.frame(old[c("cluster", "weight")], answer = old$first,
                            wave = "1"),
                 data.frame(now[c("cluster", "weight")], answer = now$second,
                            wave = "2"))
  change <- differences(crosstab(design(waves), answer, wave), "previous")
  change <- change[change$within == "5", ]
  c(net = inside(sheet$inside[[1L]]$value[at, 1L] / 100,
                 sheet$inside[[1L]]$high[at, 1L] / 100, "net"),
    mean = inside(m$low[1L], m$high[1L], "mean"),
    rest = inside(rest$low, rest$high, "rest"),
    total = inside(total$low, total$high, "total"),
    previous = inside(change$low, change$high, "previous"))
}
cases <- expand.grid(clusters = c(20L, 60L), overlap = c(FALSE, TRUE))
rows <- parallel::mclapply(seq_len(nrow(cases)), function(k) {
  set.seed(k)
  rowMeans(replicate(surveys, one(cases$clusters[k], cases$overlap[k])))
}, mc.cores = 2L, mc.preschedule = FALSE)
print(cbind(cases, round(do.call(rbind, rows), 3L)), row.names = FALSE)
