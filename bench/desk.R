# The desk in a browser: from the command to the first table, and from a change
# to the drawn table (median and 95th of 50), on the demo survey and on a
# million records of it.   Rscript bench/desk.R
suppressPackageStartupMessages(library(fairlattice))
library(testthat)
source("tests/testthat/helper-browser.R")
options(fairlattice.threads = 1L)
set.seed(1)
records <- read.csv(demo_file("veyra.csv"), colClasses = "character",
                    check.names = FALSE)
large <- file.path(tempdir(), "large.csv")
many <- records[sample(nrow(records), 1e6, TRUE), ]
many$id <- sprintf("V%07d", seq_len(nrow(many)))
data.table::fwrite(many, large)
file.copy(demo_file("veyra.schema.json"),
          file.path(tempdir(), "large.schema.json"))

act <- function(b, name, with) {
  # until the browser has laid out what came back
  asked(b,
        sprintf(paste(paste("(async () => { const now = performance.now();",
                            "const a = await fetch('do', { method: 'POST',"),
                      paste("headers: { 'Content-Type': 'application/json' },",
                            "body: JSON.stringify({ window: window.own, act:",
                            "'%s',"),
                      paste("with: %s, open: [], have: window.marks || {} })",
                            "}); const r = await a.json(); if (r.fault) throw",
                            "r.fault;"),
                      paste("for (const p of Object.keys(r.parts)) { const e",
                            "= document.getElementById('part-' + p);"),
                      paste("if (e) e.innerHTML = r.parts[p]; } window.marks",
                            "= r.marks; document.body.offsetHeight;"),
                      paste("for (const s of",
                            "document.querySelectorAll('.sheet')) if",
                            "(s.querySelector('script.model'))",
                            "window.livelyTable(s, true);"),
                      paste("document.body.offsetHeight; window.took =",
                            "performance.now() - now })(); window.took =",
                            "null; 0")), name,
                jsonlite::toJSON(with, auto_unbox = TRUE)))
  waited(b, "window.took !== null", 120)
  asked(b, "window.took")
}
told <- function(name, times) {
  cat(sprintf("  %-44s %5.0f ms (95%%: %.0f)\n", name, median(times),
              quantile(times, 0.95)))
}
for (file in c(demo_file("veyra.csv"), large)) local(
  {
    cat(sprintf("%s\n", basename(file)))
    begun <- Sys.time()
    address <- served_desk(file)
    b <- new_browser()
    opened(b, address)
    asked(b, "window.own = sessionStorage.getItem('window'); 0")
    cat(sprintf("  %-44s %5.1f s\n", "the page is there after",
                as.numeric(Sys.time() - begun, units = "secs")))
    act(b, "ask_all",
        list(weight = "weight", stratum = "island", cluster = "settlement"))
    act(b, "put", list(question = "ferry", side = "down"))
    act(b, "put", list(question = "island", side = "across"))
    cat(sprintf("  %-44s %5.1f s\n", "the first table with its design after",
                as.numeric(Sys.time() - begun, units = "secs")))
    down <- c("heating", "internet", "household", "season", "leave", "mode",
              "work", "way_off", "tenure", "ferry")
    told("another question down",
         vapply(rep(down, 5), function(q) {
           act(b, "put", list(question = q, side = "down"))
         }, 0))
    told("another base of the percentages",
         vapply(rep(c("row", "total", "column", "none", "column"), 10),
                function(base) {
                  act(b, "set", list(name = "percent", value = base))
                }, 0))
    told("another filter",
         vapply(18:67, function(age) {
           act(b, "keep", list(among = sprintf("age >= %d", age)))
         }, 0))
    act(b, "put", list(question = "tenure", side = "across"))
    told("decimals, with two questions across",
         vapply(rep(0:4, 10), function(n) {
           act(b, "set", list(name = "decimals", value = n))
         }, 0))
  })
