# The desk in a browser, driven as an analyst would.

idle <- "!document.body.hasAttribute('aria-busy')"
has <- function(selector) {
  sprintf("!!document.querySelector(%s)",
          jsonlite::toJSON(selector, auto_unbox = TRUE))
}
chosen_in <- function(b, key, value) {
  asked(b,
        sprintf(paste("{ const s = document.querySelector('[data-key=%s]'); s.value = '%s';",
                      "s.dispatchEvent(new Event('change', { bubbles: true })) }"),
                key, value))
  waited(b, idle)
}
title_is <- function(title) {
  sprintf("(document.querySelector('#part-table h2') || {}).textContent === '%s'",
          title)
}
text_in <- function(b, selector) {
  gsub("\u00a0", " ",
       asked(b, sprintf("document.querySelector('%s').textContent", selector)),
       fixed = TRUE)
}
shown_cells <- function(b) {
  found <- asked(b,
                 paste("[...document.querySelectorAll('#part-table td[data-at]')]",
                       ".map(c => [c.dataset.at, c.firstChild.textContent])"))
  stats::setNames(vapply(found, `[[`, "", 2L), vapply(found, `[[`, "", 1L))
}
wanted_cells <- function(x, figure = "column_percent") {
  cells <- as.data.frame(x)
  at <- function(side) match(cells[[side]], unique(cells[[side]]))
  stats::setNames(format_percent(cells[[figure]] / 100),
                  paste(1, at("down"), at("across"), sep = "."))
}
same_cells <- function(b, x, ...) {
  found <- shown_cells(b)
  wanted <- wanted_cells(x, ...)
  expect_identical(found[sort(names(wanted))], wanted[sort(names(wanted))])
}

keyed_with <- function(b, key, modifiers) {
  for (type in c("keyDown", "keyUp")) b$to(
    "Input.dispatchKeyEvent", type = type, key = key,
    code = paste0("Key", toupper(key)), modifiers = modifiers,
    windowsVirtualKeyCode = utf8ToInt(toupper(key)))
  waited(b, idle)
}

test_that(paste("an analyst pivots, turns, filters and nets, and reads the",
                "figures of crosstab(); nothing is lost"), {
  skip_without_browser()
  address <- served_desk(demo_file("veyra.csv"))
  b <- new_browser()
  opened(b, address)
  waited(b, has("li[data-question=ferry]"))
  for (role in names(design_asked)) {
    chosen_in(b, paste0("ask-", role), design_asked[[role]])
  }
  # bases in the list are those of the design
  n <- format_count(crosstab(demo_survey(), tenure)$layers[[1]]$base$n)
  waited(b,
         sprintf(paste("document.querySelector('li[data-question=tenure]",
                       ".base').textContent === '%s'"), n))
  dragged(b, "li[data-question=ferry]", ".slot[data-side=down]")
  waited(b, has(".chip[data-question=ferry]"))
  dragged(b, "li[data-question=island]", ".slot[data-side=across]")
  waited(b, title_is("Satisfaction with the ferry by Island"))
  table <- crosstab(demo_survey(), ferry, island)
  same_cells(b, table)
  told <- text_in(b, "#part-trust")
  for (line in c(sheets_of(table)[[1]]$tests,
                 sheets_of(table)[[1]]$cautions$text)) {
                   expect_match(told, line, fixed = TRUE)
                 }
  expect_match(text_in(b, "#part-who"), sheets_of(table)[[1]]$account,
               fixed = TRUE)
  expect_match(text_in(b, "#part-paragraph"), write_up(table), fixed = TRUE)
  pointed(b, "td[data-at='1.1.2']")
  waited(b, has(".working .cell"))

  clicked(b, "[data-act=turn]")
  waited(b, title_is("Island by Satisfaction with the ferry"))
  same_cells(b, flip(table), figure = "row_percent")
  keyed_with(b, "z", 2L) # Ctrl
  waited(b, title_is("Satisfaction with the ferry by Island"))

  clicked(b, "[data-key=among]")
  typed(b, "isl")
  waited(b, "!document.querySelector('#completions').hidden")
  keyed(b, "ArrowDown")
  keyed(b, "Enter")
  typed(b, " == Ta")
  keyed(b, "ArrowDown")
  keyed(b, "Enter")
  expect_identical(asked(b, "document.querySelector('[data-key=among]').value"),
                   "island == \"Tarn\"")
  typed(b, " & age > 300")
  keyed(b, "Enter")
  waited(b,
         "document.querySelector('#fault-who').textContent.includes('no respondents')")
  same_cells(b, table) # still the one before
  asked(b, "document.querySelector('[data-key=among]').value = 'age >= 18'")
  clicked(b, "[data-key=keep]")
  waited(b, has("[data-key=base]"))
  adults <- among(demo_survey(), "age >= 18")
  same_cells(b, crosstab(adults, ferry, island))

  clicked(b, "[data-key=chip-ferry]")
  waited(b, has("dialog[open] .answers"))
  for (answer in c("Satisfied", "Very satisfied")) {
    clicked(b, sprintf(".answers input[value='%s']", answer))
  }
  clicked(b, "[data-verb=net] input")
  typed(b, "Content")
  clicked(b, "[data-key=verb-net]")
  keyed(b, "Escape") # before it is done: the editor stays closed
  waited(b,
         paste("[...document.querySelectorAll('#part-table",
               "tr.net th')].some(t =>", "t.textContent.includes('Content'))"))
  netted <- crosstab(net(
    adults, ferry,
    Content = c("Satisfied", "Very satisfied")), ferry, island)
  same_cells(b, netted)
  clicked(b, "[data-act=tray_put]")
  waited(b, has(".tray li"))

  # loaded anew, everything is there; in another window nothing is, but it can
  # be taken up
  b$to("Page.reload")
  Sys.sleep(0.5)
  waited(b, has(".tray li"))
  same_cells(b, netted)
  first <- another_page(b)
  opened(b, address)
  waited(b, has(".others button"))
  clicked(b, ".others button")
  waited(b, has("#part-table table"))
  clicked(b, "[data-act=clear]")
  waited(b, has(".empty"))
  b$session <- first
  act_again <- asked(b, "document.querySelectorAll('#part-table table').length")
  expect_identical(act_again, 1L)

  # published in two forms
  folder <- withr::local_tempdir()
  b$to("Page.setDownloadBehavior", behavior = "allow", downloadPath = folder)
  for (form in c("json",
                 if (requireNamespace("officer", quietly = TRUE)) "docx")) {
    asked(b,
          sprintf("document.querySelector('[name=form]').value = '%s'", form))
    clicked(b, "[data-key=publish]")
    path <- file.path(folder, paste0("ferry-island.", form))
    until <- Sys.time() + 30
    while (!file.exists(path) && Sys.time() < until) Sys.sleep(0.1)
    Sys.sleep(0.3)
    expect_true(file.exists(path), info = form)
    expect_identical(as.data.frame(read_tables(path)), as.data.frame(netted),
                     info = form)
  }
  expect_length(complaints(b), 0L)
})

test_that("everything is within reach of the keyboard, and a program that has ended is told", {
  skip_without_browser()
  skip_if_not_installed("httpuv")
  desk <- NULL
  address <- served_desk(demo_file("veyra.csv"), began = function(process) {
    desk <<- process
  })
  b <- new_browser(360L, 800L)
  opened(b, address)
  waited(b, has("li[data-question=heating]"))
  focused <- function() {
    asked(b, "document.activeElement.dataset.key || document.activeElement.id")
  }
  tabbed_to <- function(key) {
    for (k in 1:60) {
      if (identical(focused(), key)) return(TRUE)
      keyed(b, "Tab")
    }
    FALSE
  }
  keyed_with(b, "/", 0L)
  expect_true(tabbed_to("find"))
  typed(b, "heating")
  keyed(b, "Enter")
  waited(b, has(".slot[data-side=down] .chip"))
  expect_true(tabbed_to("add-across"))
  keyed(b, "Enter")
  expect_identical(focused(), "find")
  asked(b, "document.querySelector('#find').select()")
  typed(b, "tenure")
  keyed(b, "Enter")
  waited(b, title_is("Main heating by Tenure"))
  expect_true(tabbed_to("set-percent"))
  typed(b, "each row") # a list is chosen from by its first letters
  waited(b,
         "document.querySelector('#part-table').textContent.includes('Row percentages')")
  same_cells(b, crosstab(demo_records(), heating, tenure, percent = "row"),
             figure = "row_percent")
  expect_identical(focused(), "set-percent") # where it was
  expect_true(tabbed_to("tray_put"))
  keyed(b, "Enter")
  waited(b, has(".tray li"))
  expect_identical(focused(), "tray_put")
  # at 360 px only boxes of their own scroll
  expect_lte(asked(b, "document.documentElement.scrollWidth"), 360L)
  desk$kill_tree()
  clicked(b, "[data-act=tray_put]")
  waited(b, "!document.querySelector('#lost').hidden")
  expect_match(text_in(b, "#lost"), "has ended or does not answer")
  expect_true(asked(b, has("#part-table table")))
})
