# A page with a cell's working open, wide and narrow.   Rscript tools/living.R
# PAGE.html WIDE.png NARROW.png
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
  sized(b, 360L, 800L)
  asked(b, "document.querySelector('.sheet').scrollIntoView()")
  picture(given[3L])
})
