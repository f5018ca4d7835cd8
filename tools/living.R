# A page with a cell's working open.   Rscript tools/living.R PAGE.html OUT.png
source("tests/testthat/helper-browser.R")
given <- commandArgs(TRUE)
local({
  b <- new_browser()
  picture <- function(file) {
    writeBin(jsonlite::base64_dec(b$to("Page.captureScreenshot",
                                       format = "png")$data), file)
  }
  b$to("Emulation.setScrollbarsHidden", hidden = TRUE)
  opened(b, given[1L])
  Sys.sleep(0.5)
  clicked(b, "td.mark[data-at]")
  asked(b, "window.scrollTo(0, 0)")
  sized(b, 1280L, 1500L)
  picture(given[2L])
})
