# One table from its tally: all figures, and figures with words, as ratios to
# one grouped count and sums over the same cells of the same records by
# data.table on one thread, in turn in one run; what the same table costs when it is of
# 20 imputed data sets, or has 100 replicate weights; and the processor time of the command
# against that of an R that does nothing.
# Rscript bench/on-demand.R
suppressPackageStartupMessages({
  library(fairlattice)
  library(data.table)
})
setDTthreads(1)
ours <- asNamespace("fairlattice")
survey <- respondents(demo_records(), weight = weight, stratum = island,
                      cluster = settlement, id = id)
plain <- as.data.table(lapply(demo_records()[c("island", "settlement", "heating", "tenure", "weight")],
                              function(x) {
                                if (is.factor(x)) as.integer(x) else
                                  as.vector(x)
                              }))
x <- crosstab(survey, heating, tenure)
grouped <- function() {
  plain[, .(n = .N, w = sum(weight), w2 = sum(weight^2)),
        by = .(island, settlement, heating, tenure)]
}
figures <- function() {
  y <- ours$new_crosstab(x$tally, x$choices)
  for (percent in c("column", "row", "total")) ours$shares_of(y, percent)
  ours$residuals_of(y)
  ours$tests_of(y)
  ours$strength_of(y)
  y
}
of_crosstab <- function() { # the same without the estimate
  y <- rechoose(x)
  y$layers <-
    lapply(y$layers, function(layer) replace(layer, "kept", list(new.env())))
  for (percent in c("column", "row", "total")) ours$shares_of(y, percent)
  ours$residuals_of(y)
  ours$tests_of(y)
  ours$strength_of(y)
}
words <- function() {
  y <- figures()
  ours$sheets_of(y)
  write_up(y)
}
once <- function(f, n = 100) {
  sum(system.time(for (i in seq_len(n)) f())[1:2]) / n * 1000
}
found <- replicate(9,
                   c(grouped = once(grouped), figures = once(figures),
                     crosstab = once(of_crosstab), words = once(words, 40)))
best <- apply(found, 1L, min)
cat(sprintf(paste("grouped count %.2f ms; all figures %.2f ms: %.2f of it",
                  "(from the crosstab %.2f); with words %.2f\n"),
            best[["grouped"]], best[["figures"]],
            best[["figures"]] / best[["grouped"]],
            best[["crosstab"]] / best[["grouped"]],
            best[["words"]] / best[["grouped"]]))

# the same table and its print, of imputed data and with replicate weights, in turn
imputed <- lapply(1:20, function(m) {
  set.seed(m)
  out <- demo_records()
  gone <- sample(nrow(out), nrow(out) %/% 5)
  out$heating[gone] <- sample(out$heating[!is.na(out$heating)], length(gone), TRUE)
  out
})
surveys <- list(one = survey,
                imputed = respondents(imputed, weight = weight, stratum = island,
                                      cluster = settlement),
                replicates = make_replicates(survey, "bootstrap", replicates = 100))
found <- replicate(9, vapply(surveys, function(one) {
  once(function() format(crosstab(one, heating, tenure)), 10)
}, 0))
best <- apply(found, 1L, min)
cat(sprintf(paste("a printed table %.0f ms; of 20 imputed data sets %.2f times that, with",
                  "100 replicate weights %.2f\n"), best[["one"]],
            best[["imputed"]] / best[["one"]], best[["replicates"]] / best[["one"]]))

program <- system.file("exec", "fairlattice", package = "fairlattice")
file <- demo_file("veyra.csv")
cpu <- function(command, args) {
  min(replicate(7, {
    before <- sum(proc.time()[4:5])
    system2(command, shQuote(args), stdout = FALSE, stderr = FALSE)
    sum(proc.time()[4:5]) - before
  }))
}
nothing <- cpu(file.path(R.home("bin"), "Rscript"), c("--vanilla", "-e", "1"))
cat(sprintf("processor time, in times of an R that does nothing: --version %.2f, cross %.2f\n",
            cpu(program, "--version") / nothing,
            cpu(program,
                c("crosstab", file, "--down", "heating", "--across", "island",
                  "--weight", "weight", "--stratum", "island", "--cluster",
                  "settlement")) / nothing))
