# Speed and memory, as ratios in one run against a general-purpose yardstick.
# make bench
# Rscript bench/bench.R [records, default 20 million]
suppressPackageStartupMessages({
  library(fairlattice)
  library(data.table)
})
args <- commandArgs(trailingOnly = TRUE)
size <- if (length(args)) as.numeric(args[1]) else 2e7
setDTthreads(2)

best <- function(expression, times = 5) {
  min(vapply(seq_len(times), function(i) {
    system.time(eval.parent(expression))[["elapsed"]]
  }, 0))
}
report <- data.frame(what = character(), seconds = numeric(),
                     yardstick = character(), ratio = character())
line <- function(what, seconds, yardstick = "", against = NA, wanted = "") {
  ratio <- if (is.na(against)) "" else sprintf("%.2f", against / seconds)
  report[nrow(report) + 1L, ] <<-
    list(what, signif(seconds, 3), yardstick, paste(ratio, wanted))
}

set.seed(1)
data <- data.table(down = factor(sample.int(5L, size, TRUE)),
                   across = factor(sample.int(8L, size, TRUE)), w = runif(size))
survey <- respondents(data, weight = w)
ours <- best(quote(tally_of(survey, down, across)))
grouped <- best(quote(data[, .(n = .N, w = sum(w)), by = .(down, across)]), 3)
keyed <- best(quote(data[, .(n = .N, w = sum(w)), keyby = .(down, across)]), 3)
total <- best(quote(sum(data$w)))
line(sprintf("tally of %g records, 5 x 8, weighted", size), ours,
     "data.table grouped count and sum", min(grouped, keyed),
     "times as fast (wanted: 10)")
line("  the same", ours, "sum(w), one thread", total,
     "of it (wanted: at least 0.5)")
withr::with_options(list(fairlattice.threads = 1L),
                    line("  the same on one thread",
                         best(quote(tally_of(survey, down, across))),
                         "sum(w), one thread", total, "of it"))
rm(data, survey)

records <- demo_records(1e6, settlements = 5000)
big <-
  respondents(records, weight = weight, stratum = island, cluster = settlement)
clustered <- best(quote(crosstab(big, heating, island)), 3)
yardstick <- as.data.table(
  lapply(records[c("island", "settlement", "heating", "weight")],
         function(x) if (is.factor(x)) as.integer(x) else as.vector(x)))
by_cluster <- best(quote(yardstick[, .(n = .N, w = sum(weight)), by = .(island, settlement, heating)]),
                   3)
line("crosstab() of 1e6 records in 5,000 clusters", clustered,
     "data.table grouped sum", by_cluster, "times as fast")
set.seed(2)
wide <- data.frame(down = factor(sample.int(10L, 1e6, TRUE)),
                   across = factor(sample.int(10L, 1e6, TRUE)),
                   stratum = rep(1:20, each = 50000),
                   cluster = rep(1:5000, each = 200), w = runif(1e6))
wide_survey <-
  respondents(wide, weight = w, stratum = stratum, cluster = cluster)
everything <- function(x) {
  tests(x)
  strength(x, "all")
  residuals(x)
}
inference <- best(quote(everything(crosstab(wide_survey, down, across))), 5)
wide_table <- as.data.table(wide)
grouped <- best(quote(wide_table[, .(n = .N, w = sum(w)), by = .(stratum, cluster, down, across)]),
                5)
line(paste("10 x 10 from 1e6 records in 5,000 clusters: all tests, measures",
           "with intervals, residuals"), inference,
     "data.table grouped sum by the same cells", grouped,
     "of it (wanted: at least 0.25)")
ready <- tally_of(respondents(demo_records(), weight = weight, stratum = island,
                              cluster = settlement), heating, island)
choices <- crosstab(demo_records(), heating, island)$choices
from_tally <- function(times) {
  for (i in seq_len(times)) everything(
    fairlattice:::new_crosstab(ready, choices))
}
from_tally(50)
line("all of it from a ready tally of a 5 x 5",
     best(quote(from_tally(20)), 10) / 20, "wanted: under 0.010 s")
line("1,000 tables, everything from a ready tally",
     best(quote(from_tally(1000)), 2), "wanted: under 5 s")
few <- matrix(c(5, 3, 4, 2, 6, 4, 4, 5, 3, 4, 3, 5, 4, 6, 2, 4, 4, 3, 5, 4, 4,
                4, 4, 4, 4), 5)
line("exact test of a 5 x 5, n = 99",
     best(quote(fairlattice:::exact_kernel(
                  as.integer(rowSums(few)), as.integer(colSums(few)),
                  fairlattice:::log_factorials_of(few), 1e9, 2e9, 2L, NULL)), 3),
     "wanted: well under a second")
tea <- matrix(c(12, 8, 9, 11, 10, 10, 13, 7, 9, 11, 8, 12, 10, 9, 11, 10, 12, 8,
                10, 10), 4)
line("a million random 4 x 5 tables, 2 threads",
     best(quote(fairlattice:::count_random_kernel(
                  as.integer(rowSums(tea)), as.integer(colSums(tea)),
                  fairlattice:::log_factorials_of(tea), 1, 0L, 1000L, 2L)), 3),
     "wanted: under 2 s")
line("demo_records(1e6)", best(quote(demo_records(1e6)), 1))

folder <- tempfile()
dir.create(folder)
big_file <- file.path(folder, "big.csv")
codes <- fairlattice:::demo_codes(1e6, 1, 90)
for (k in seq_len(30 - ncol(codes))) codes[[paste0("more_", k)]] <- codes$ferry
book <- fairlattice:::demo_codebook()
for (name in setdiff(names(codes), names(book$fields))) book$fields[[name]] <-
  replace(book$fields$ferry, "name", name)
fwrite(codes, big_file)
bare <- best(quote(fread(big_file)))
ours <- best(quote(read_records(big_file, book)))
line("read_records() of 1e6 records, 30 questions, codebook applied", ours,
     "data.table's bare read", bare, "of it (wanted: at least 0.67)")
read <- read_records(big_file, book)
line("  memory of the same, in times of the bare data",
     as.numeric(object.size(read)) / as.numeric(object.size(fread(big_file))),
     "wanted: at most 2.5 (not seconds)")
questions <- setdiff(names(read), c("id", "settlement", "weight"))
line("look(), a question of 1e6 records",
     best(quote(look(read[rep(questions, 8)[1:200]])), 1) / 200,
     "wanted: under 0.02 s")
rm(read, codes)

survey <- respondents(demo_records(), weight = weight, stratum = island,
                      cluster = settlement, id = id)
whole <- function() {
  for (i in 1:100) {
    x <- crosstab(survey, heating, island)
    tests(x)
    strength(x)
  }
}
line("crosstab(), tests(), strength(): demo survey",
     best(quote(whole()), 3) / 100, "wanted: under 0.015 s")
program <- system.file("exec", "fairlattice", package = "fairlattice")
file <- demo_file("veyra.csv")
words <- c(program, "crosstab", file, "--down", "heating", "--across", "island",
           "--weight", "weight", "--stratum", "island", "--cluster",
           "settlement")
line("fairlattice crosstab, from start to exit",
     best(quote(system2(file.path(R.home("bin"), "Rscript"), words,
                        stdout = FALSE))), "wanted: under 1.5 s")
empty <- best(quote(system2(file.path(R.home("bin"), "Rscript"), c("-e", "1"),
                            stdout = FALSE)))
loading <- best(quote(system2(file.path(R.home("bin"), "Rscript"),
                              c("-e", shQuote("library(fairlattice)")),
                              stdout = FALSE))) - empty
line("loading the package", loading, "wanted: under 0.5 s")
options(width = 200)
print(report, right = FALSE, row.names = FALSE)
