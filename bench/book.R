# A book of many tables: one pass and all figures, against grouped sums of the
# same pairs by data.table; the second run; growth; memory.   Rscript
# bench/book.R [RECORDS] [TABLES]
library(fairlattice)
args <- as.numeric(commandArgs(TRUE))
n <- if (length(args)) args[1] else 1e6
size <- if (length(args) > 1) args[2] else 1000
seconds <- function(code) system.time(code)[["elapsed"]]

made <- function(n, questions = 46L) {
  set.seed(1)
  latent <- rnorm(n)
  data <- as.data.frame(lapply(setNames(nm = paste0("q", seq_len(questions))),
                               function(name) {
                                 factor(findInterval(
                                          0.2 * latent + rnorm(n),
                                          qnorm(1:4 / 5)), 0:4,
                                        paste("Answer", 1:5))
                               }))
  data$weight <- exp(rnorm(n) / 3)
  data$cluster <- sample.int(90L, n, TRUE)
  data$stratum <- data$cluster %% 5L
  data
}
plan_for <- function(survey, tables) {
  pairs <- t(combn(46L, 2L))[seq_len(tables), , drop = FALSE]
  entries <- lapply(split(pairs[, 1L], pairs[, 2L]), function(down) {
    list(questions = paste0("q", down))
  })
  for (k in names(entries)) entries[[k]]$across <- paste0("q", k)
  plan_of(survey, chapters = list(All = unname(entries)))
}

data <- made(n)
records <- as.numeric(object.size(data)) / 2^20
survey <-
  respondents(data, weight = weight, stratum = stratum, cluster = cluster)
plan <- plan_for(survey, size)
invisible(book(plan_for(survey, 20))) # everything loaded
gc(reset = TRUE)
whole <- seconds(b <- book(plan))
peak <- sum(gc()[, 6])
few <- seconds(book(plan_for(survey, size / 10)))

table <- data.table::as.data.table(data)
data.table::setDTthreads(2L)
pairs <- t(combn(46L, 2L))[seq_len(size), , drop = FALSE]
some <- pairs[round(seq(1, size, length.out = 20)), , drop = FALSE]
grouped <- seconds(for (k in seq_len(nrow(some))) {
                     table[, .(n = .N, w = sum(weight), w2 = sum(weight^2)),
                           by = c(paste0("q", some[k, 1]), paste0("q", some[k, 2]))]
                   }) / nrow(some) * size
folder <- tempfile()
dir.create(folder)
forms <- c(html = seconds(publish(b, file.path(folder, "b.html"),
                                  figure = "none", as = "tables")),
           xlsx = seconds(publish(b, file.path(folder, "b.xlsx"))))

# the second run of an unchanged plan
data.table::fwrite(data, file.path(folder, "big.csv"))
writeLines(c("records: big.csv",
             "asked: {weight: weight, stratum: stratum, cluster: cluster}",
             "across: [q1, q2]",
             "chapters: [{title: A, tables: [every question]}]"),
           file.path(folder, "big.plan.yml"))
runs <- vapply(1:2, function(k) {
  seconds(book(file.path(folder, "big.plan.yml"),
               cache = file.path(folder, "kept")))
}, 0)

cat(sprintf("%s tables of %s records (%.0f MB)\n", format(size),
            format(n, big.mark = ","), records),
    sprintf("  all figures            %6.1f s\n", whole),
    sprintf(paste("  over grouped sums      %6.2f   (data.table, n, sum of w",
                  "and of w^2 of the same pairs: %.1f s)\n"), whole / grouped,
            grouped), sprintf("  growth, 10 times more  %6.1f\n", whole / few),
    sprintf("  peak over records      %6.1f\n", peak / records),
    sprintf("  page, workbook         %6.1f s, %.1f s\n", forms[["html"]],
            forms[["xlsx"]]),
    sprintf("  second run over first  %6.2f   (%.1f s, reading included)\n",
            runs[2] / runs[1], runs[1]), sep = "")
