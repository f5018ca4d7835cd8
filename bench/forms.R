# Writing 300 tables with a banner of four into documents: seconds and megabytes
# of each form, and how both grow with the number of tables (300 to 100: 3.0 is
# linear). The tables are worked out before, so that writing alone is measured;
# the yardstick is the bare laying out of the same tables, before and after each
# form, since a busy machine changes its pace. Rscript bench/forms.R
suppressPackageStartupMessages(library(fairlattice))
survey <- respondents(demo_records(), weight = weight, stratum = island,
                      cluster = settlement)
banners <- lapply(c("ferry", "heating", "season", "internet", "leave"),
                  function(down) {
                    crosstab(survey, !!down,
                             setdiff(c("island", "tenure", "mode", "work",
                                       "household"), down)[1:4])
                  })
for (banner in banners) invisible(format(banner))
laid <- function(n) {
  system.time(for (banner in rep_len(banners, n)) fairlattice:::sheets_of(
                banner))[["elapsed"]]
}
for (ending in c("docx", "xlsx", "html")) {
  path <- tempfile(fileext = paste0(".", ending))
  before <- laid(300)
  used <- vapply(c(100, 300), function(n) {
    gc(reset = TRUE)
    seconds <- system.time(publish(rep_len(banners, n), path, figure = "none"))[["elapsed"]]
    c(seconds = seconds, megabytes = file.size(path) / 1e6,
      memory = sum(gc()[, 6]))
  }, c(seconds = 0, megabytes = 0, memory = 0))
  after <- laid(300)
  cat(sprintf(paste0(paste("%-10s 100: %5.1f s %5.1f MB   300: %5.1f s %5.1f",
                           "MB   ratio %.2f (wanted: at most 3.3), "),
                     paste("%.1f times the laying out (%.1f and %.1f s; wanted: at most 4),",
                           "%.0f MB of memory\n")), ending,
              used[1, 1], used[2, 1], used[1, 2], used[2, 2],
              used[1, 2] / used[1, 1], used[1, 2] / mean(c(before, after)), before, after,
              used[3, 2]))
}
