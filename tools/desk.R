# The desk on the demo survey at three moments: a table, the answers of a
# question, handing on.   Rscript tools/desk.R FILE.csv FOLDER
library(testthat)
source("tests/testthat/helper-browser.R")
given <- commandArgs(TRUE)
local({
  address <- served_desk(given[1L])
  b <- new_browser()
  idle <- "!document.body.hasAttribute('aria-busy')"
  picture <- function(name) {
    Sys.sleep(0.5)
    writeBin(jsonlite::base64_dec(b$to("Page.captureScreenshot",
                                       format = "png")$data),
             file.path(given[2L], name))
  }
  put <- function(question, side) {
    clicked(b, sprintf("li[data-question=%s]", question))
    clicked(b, sprintf("[data-put=%s]", side))
    waited(b,
           sprintf("!!document.querySelector('.slot[data-side=%s] .chip[data-question=%s]')",
                   side, question))
  }
  ask <- function(role, column) {
    asked(b,
          sprintf(paste(paste("{ const s =",
                              "document.querySelector('[data-key=ask-%s]');",
                              "s.value = '%s';"),
                        "s.dispatchEvent(new Event('change', { bubbles: true })) }"),
                  role, column))
    Sys.sleep(0.1)
    waited(b, idle)
  }
  b$to("Emulation.setScrollbarsHidden", hidden = TRUE)
  opened(b, address)
  waited(b, "document.querySelectorAll('li[data-question]').length > 0")
  ask("weight", "weight")
  ask("stratum", "island")
  ask("cluster", "settlement")
  ask("id", "id")
  ask_one <- paste("{ const s = document.querySelector('[data-one-per]');",
                   "s.value = 'last'; s.dispatchEvent(new Event('change', {",
                   "bubbles: true })) }")
  asked(b, ask_one)
  waited(b, idle)
  put("heating", "down")
  put("island", "across")
  asked(b, "document.querySelector('details.design').open = false")
  picture("desk.png")
  put("ferry", "down")
  clicked(b, "[data-key=chip-ferry]")
  waited(b, "!!document.querySelector('dialog[open] .answers')")
  for (answer in c("Satisfied", "Very satisfied")) clicked(
    b, sprintf(".answers input[value='%s']", answer))
  clicked(b, "[data-verb=net] input")
  typed(b, "Satisfied in all")
  waited(b, "!!document.querySelector('dialog tr.net')")
  clicked(b, "[data-key=verb-net]")
  waited(b, idle)
  clicked(b, "[data-close]")
  clicked(b, "[data-act=tray_put]")
  waited(b, "document.querySelectorAll('.tray li').length === 1")
  put("tenure", "across")
  clicked(b, "[data-act=tray_put]")
  waited(b, "document.querySelectorAll('.tray li').length === 2")
  clicked(b, "summary[data-key=code]")
  waited(b, "!!document.querySelector('.leave pre')")
  asked(b,
        paste("document.getElementById('hand-on').scrollIntoView();",
              "document.querySelector('[data-part=figure]').scrollIntoView();",
              "0"))
  picture("desk-hand-on.png")
})
