# A page of 1, 30 and 300 tables (banners of three questions): its size with
# figures, and how long a browser takes to open it and to show another view of a
# table.   Rscript bench/page.R
library(fairlattice)
source("tests/testthat/helper-browser.R")
survey <- respondents(demo_records(), weight = weight, stratum = island,
                      cluster = settlement)
questions <- c("ferry", "heating", "internet", "season", "mode", "way_off",
               "turbine", "leave", "work", "household")
across <- utils::combn(c("island", "tenure", "season", "mode", "leave", "work"),
                       3L, simplify = FALSE)
entries <- unlist(lapply(across, function(banner) {
  lapply(questions, function(down) {
    list(questions = down, across = as.list(setdiff(banner, down)))
  })
}), recursive = FALSE)
for (size in c(1L, 30L, 300L)) {
  chosen <- rep_len(entries, size)
  chapters <- split(chosen, ceiling(seq_along(chosen) / 30))
  names(chapters) <- paste("Chapter", seq_along(chapters))
  book <- book(plan_of(survey, chapters = chapters))
  path <- tempfile(fileext = ".html")
  made <- system.time(publish(book, path))[["elapsed"]]
  options(fairlattice.threads = 1L) # forked processes and the browser's do not go together
  local({
    browser <- new_browser()
    opened(browser, path)
    open <- asked(browser,
                  "performance.getEntriesByType('navigation')[0].loadEventEnd")
    asked(browser, "document.querySelector('.sheet').scrollIntoView()")
    Sys.sleep(0.5)
    change <- asked(browser,
                    paste(
                      "(() => { const s = document.querySelector('.tools select'), t = [];",
                      paste("for (let k = 0; k < 50; k++) { const now =",
                            "performance.now(); s.value = k % 2 ? 'n' :",
                            "'percent';"),
                      paste("s.dispatchEvent(new Event('change'));",
                            "document.body.offsetHeight;",
                            "t.push(performance.now() - now) }"),
                      "t.sort((a, b) => a - b); return [t[24], t[47]] })()"))
    cat(sprintf(paste("%3d tables: %5.1f MB, made in %5.1f s, opened in %5.2f",
                      "s, another view in %.1f ms (95%%: %.1f)\n"), size,
                file.size(path) / 2^20, made, open / 1000, change[[1L]],
                change[[2L]]))
  })
}
