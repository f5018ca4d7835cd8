# The page as it is read in a browser: its script shows the figures of the core
# and nothing else, by pointer and by keys, wide and narrow, light and dark;
# without it the page is whole.

page_of <- function(x, env = parent.frame(), ...) {
  path <- withr::local_tempfile(fileext = ".html", .local_envir = env)
  # processes of the browser and forked ones do not go together
  withr::local_options(fairlattice.threads = 1L)
  publish(x, path, figure = "none", ...)
  path
}

# The texts of elements, and how many of them are seen.
texts_of <- function(selector) {
  sprintf("[...document.querySelectorAll(%s)].map(e => e.textContent)",
          selector)
}
seen_of <- function(selector) {
  sprintf("[...document.querySelectorAll(%s)].filter(e => e.offsetHeight).length",
          selector)
}

# Chooses in the k-th list under a table.
chosen <- function(b, list, value, table = 1L) {
  asked(b,
        sprintf(paste("(() => { const s = document.querySelectorAll('.tools')[%d].querySelectorAll('select')[%d];",
                      "s.value = '%s'; s.dispatchEvent(new Event('change')); })()"),
                table - 1L, list - 1L, value))
}

# What the cells say, by their places: "block.down.across" and the text before
# the sign.
cells_shown <- function(b, selector = ".sheet table") {
  found <- asked(b,
                 sprintf(paste(paste("(() => { const t =",
                                     "document.querySelector('%s'); return",
                                     "[...t.querySelectorAll("),
                               paste("'td[data-at]')].map(c => [c.dataset.at,",
                                     "c.firstChild.textContent]) })()")),
                         selector))
  out <- vapply(found, `[[`, "", 2L)
  stats::setNames(out, vapply(found, `[[`, "", 1L))
}

# The same from the core, of one table without nets.
cells_wanted <- function(x, figure, write, block = 1L) {
  d <- as.data.frame(x)
  at <- function(side) match(d[[side]], unique(d[[side]]))
  stats::setNames(write(d[[figure]]),
                  paste(block, at("down"), at("across"), sep = "."))
}

test_that("every view of every table shows the figures of the core, turned too", {
  skip_without_browser()
  x <- crosstab(demo_survey(), ferry, island)
  banner <- crosstab(demo_survey(), heating, c(island, tenure))
  items <- crosstab(ticks(demo_survey(),
                          reasons = c(reason_work, reason_housing,
                                      reason_ferry)), reasons, island)
  b <- new_browser(height = 6000L)
  opened(b, page_of(list(x, banner, items)))
  percent <- function(v) format_percent(v / 100)
  agree <- function(found, wanted) {
    expect_identical(found[sort(names(found))], wanted[sort(names(wanted))])
  }
  blocks <- list(list(x), banner$tables[[1]], list(items))
  for (table in seq_along(blocks)) {
    selector <- sprintf("#table-%d .sheet table", table)
    wanted <- function(figure, write) {
      unlist(lapply(seq_along(blocks[[table]]), function(k) {
        cells_wanted(blocks[[table]][[k]], figure, write, k)
      }))
    }
    agree(cells_shown(b, selector), wanted("column_percent", percent)) # as published
    for (base in c("column", "row", "total")) {
      chosen(b, 1, "percent", table)
      chosen(b, 2, base, table)
      agree(cells_shown(b, selector), wanted(paste0(base, "_percent"), percent))
    }
    chosen(b, 1, "n", table)
    agree(cells_shown(b, selector), wanted("n", format_count))
    chosen(b, 1, "weighted", table)
    agree(cells_shown(b, selector), wanted("weighted", format_count))
    chosen(b, 1, "expected", table)
    agree(cells_shown(b, selector),
          wanted("expected", function(v) format_count(v, 1L)))
    clicked(b, sprintf("#table-%d .tools button", table)) # turned
    chosen(b, 1, "adjusted_residual", table)
    agree(cells_shown(b, selector),
          wanted("adjusted_residual", function(v) format_number(v, 2L)))
    first <- asked(b,
                   sprintf("document.querySelector('%s tbody th[scope=row]').textContent",
                           selector))
    expect_identical(first, "Norrey")
    chosen(b, 1, "interval", table)
    chosen(b, 2, "column", table)
    d <- as.data.frame(blocks[[table]][[1]])
    found <- cells_shown(b, selector)
    expect_true(all(interval_words(d$column_low / 100, d$column_high / 100,
                                   format_percent) %in% found))
  }
  expect_length(complaints(b), 0L)
})

test_that("a cell that is pointed at or reached by keys says how it comes about", {
  skip_without_browser()
  x <- crosstab(demo_survey(), ferry, island)
  d <- as.data.frame(residuals(x))
  s <- as.data.frame(shares(x))
  b <- new_browser()
  opened(b, page_of(x))
  told <- function() asked(b, "document.querySelector('.working').textContent")
  expect_match(told(), "Point at a cell")
  says <- function(down, across) {
    text <- told()
    row <- d[d$down == down & d$across == across, ]
    share <- s[s$down == down & s$across == across, ]
    for (piece in c(paste(down, "\u00d7", across), percent_words(share$share),
                    format_number(row$adjusted_residual, 2L),
                    paste("=", format_count(row$expected, 1L)),
                    format_p(row$p_corrected),
                    interval_words(share$low, share$high, format_percent))) {
                      expect_true(
                        grepl(piece, text, fixed = TRUE),
                        info = paste(piece, "in", text))
                    }
  }
  pointed(b, "td[data-at='1.2.3']")
  says("Dissatisfied", "Harrow Skerry")
  clicked(b, "td[data-at='1.1.1']")
  says("Very dissatisfied", "Norrey")
  for (key in c("ArrowRight", "ArrowDown", "ArrowDown", "ArrowLeft")) keyed(
    b, key)
  says("Neither", "Norrey")
  keyed(b, "Escape")
  expect_match(told(), "Point at a cell")
  # by keys alone: the table is reached by Tab, and has one place in the order
  opened(b, page_of(x))
  where <- character()
  for (k in 1:12) {
    keyed(b, "Tab")
    where <- c(where,
               asked(b,
                     paste("document.activeElement.tagName +",
                           "(document.activeElement.dataset.at || '')")))
  }
  expect_identical(sum(grepl("^TD", where)), 1L)
  expect_identical(sum(where == "SELECT"), 4L)
  expect_true("TD1.1.1" %in% where)
})

test_that("sorting, shading and copying follow what is seen", {
  skip_without_browser()
  x <- crosstab(demo_survey(), heating, island)
  b <- new_browser()
  opened(b, page_of(x))
  rows <- function() unlist(asked(b, texts_of("'.sheet tbody tr.answer th'")))
  d <- as.data.frame(x)
  norrey <- d[d$across == "Norrey", ]
  chosen(b, 3, "0")
  expect_identical(rows(), norrey$down[order(-norrey$column_percent)])
  clicked(b, "thead th:nth-child(2) button.sort") # the other way
  expect_identical(rows(), norrey$down[order(norrey$column_percent)])
  expect_identical(asked(b,
                         paste("document.querySelector('thead tr:last-child",
                               "th:nth-child(2)').getAttribute('aria-sort')")),
                   "ascending")
  clicked(b, "thead th:nth-child(2) button.sort")
  expect_identical(rows(), unique(d$down))
  chosen(b, 3, "5") # by a column that other views have not
  chosen(b, 1, "adjusted_residual")
  expect_identical(rows(), unique(d$down))
  chosen(b, 1, "percent")
  chosen(b, 4, "residual")
  shade <- asked(b,
                 "document.querySelector('td[data-at=\"1.5.1\"]').style.getPropertyValue('--shade')")
  expect_equal(as.numeric(shade), 1) # a residual of 15 is as dark as can be
  asked(b,
        paste(paste("window.addEventListener('copy', e => { window.got =",
                    "[e.clipboardData.getData('text/plain'),"),
              "e.clipboardData.getData('text/html')] })"))
  clicked(b, ".tools button:nth-of-type(2)")
  got <- asked(b, "window.got")
  lines <- strsplit(strsplit(got[[1]], "\n")[[1]], "\t")
  expect_identical(lines[[3]][1:2],
                   c("Oil",
                     paste0(format_percent(norrey$column_percent[1] / 100),
                            "\u2212")))
  expect_match(got[[2]], "<p><b>Main heating by Island</b></p><table",
               fixed = TRUE)
  expect_false(grepl("class=|data-at|tabindex", got[[2]]))
  expect_match(asked(b, "document.querySelector('.status').textContent"),
               "Copied")
})

test_that("the page fits its window, narrow and enlarged, and can be read in light and dark", {
  skip_without_browser()
  b <- new_browser()
  path <- page_of(list(crosstab(demo_survey(), heating, c(island, tenure)),
                       residuals(crosstab(demo_survey(), ferry, island))))
  styled <- page_of(lay_out(crosstab(demo_survey(), ferry, island),
                            style = house_style(demo_file("house.yml"))))
  opened(b, styled) # a house's decimals and signs
  chosen(b, 1, "percent")
  column <- as.data.frame(crosstab(demo_survey(), ferry, island))$column_percent
  expect_setequal(cells_shown(b), format_percent(column / 100, 0L))
  clicked(b, "td[data-at='1.1.1']")
  expect_match(asked(b, "document.querySelector('.working').textContent"),
               "p < .001", fixed = TRUE)
  for (width in c(1280L, 768L, 360L, 320L)) { # 320: 1280 at 400 %
    sized(b, width, 800L)
    opened(b, path)
    clicked(b, "td[data-at='1.1.1']")
    expect_lte(asked(b, "document.documentElement.scrollWidth"), width)
    small <- asked(b,
                   paste(paste("[...document.querySelectorAll('button,",
                               "select, input')].filter(e => { const r ="),
                         paste("e.getBoundingClientRect(); return r.width <",
                               "24 || r.height < 24 }).length")))
    expect_identical(small, 0L, info = width)
  }
  unnamed <- asked(b,
                   paste(paste("[...document.querySelectorAll('select,",
                               "input')].filter(e => !e.labels.length ||"),
                         "!e.labels[0].textContent.trim()).length"))
  expect_identical(unnamed, 0L)
  # contrast of every text with what is behind it
  worst <- "(() => {
    const linear = v => v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
    const light = c => { const p = c.map(v => linear(v / 255));
      return 0.2126 * p[0] + 0.7152 * p[1] + 0.0722 * p[2] };
    const rgba = t => { const p = t.match(/[\\d.]+/g).map(Number); return [p.slice(0, 3), p.length > 3 ? p[3] : 1] };
    const behind = e => { if (!e) return [255, 255, 255]; const [c, a] = rgba(getComputedStyle(e).backgroundColor);
      if (a === 1) return c; const d = behind(e.parentElement); return c.map((v, k) => a * v + (1 - a) * d[k]) };
    let least = 99;
    for (const e of document.querySelectorAll('main *')) {
      if (![...e.childNodes].some(n => n.nodeType === 3 && n.textContent.trim()) || e.tagName === 'SCRIPT') continue;
      const a = light(rgba(getComputedStyle(e).color)[0]), b = light(behind(e));
      least = Math.min(least, (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05));
    }
    return least })()"
  for (look in c("light", "dark")) {
    b$to("Emulation.setEmulatedMedia",
         features = list(list(name = "prefers-color-scheme", value = look)))
    for (page in c(path, styled)) {
      opened(b, page)
      expect_identical(asked(b,
                             "document.documentElement.classList.contains('dark')"),
                       look == "dark")
      for (shade in c("none", "percent", "residual")) {
        chosen(b, 4, shade)
        expect_gt(asked(b, worst), 4.5)
      }
    }
  }
})

test_that(paste("without its script, and in print, the page is whole; with it",
                "nothing is fetched, kept or run but this"), {
  skip_without_browser()
  hostile <- data.frame(a = c(
    "<img src=x onerror=alert(1)>",
    "</script><b>", "x", "y"), b = c("p", "\"q\"", "&r", "p"))
  x <- crosstab(demo_survey(), ferry, island)
  path <- page_of(list(lay_out(x, dress = "working"), crosstab(hostile, a, b)))
  b <- new_browser()
  opened(b, path, script = FALSE)
  b$to("Emulation.setScriptExecutionDisabled", value = FALSE)
  expect_identical(asked(
    b,
    "document.querySelectorAll('.tools, .working, button').length"), 0L)
  plain <- asked(b, "document.querySelector('#table-1').innerText")
  for (line in c("9.1", "Respondents", "Rao-Scott second order",
                 "6 ids occur more than once")) expect_match(plain, line)
  opened(b, path)
  b$to("Emulation.setEmulatedMedia", media = "print")
  expect_identical(asked(b, seen_of("'.tools, .working, button'")), 0L)
  b$to("Emulation.setEmulatedMedia", media = "screen")
  asked(b, "document.querySelector('#table-2').scrollIntoView()")
  Sys.sleep(0.3)
  clicked(b, "#table-2 td[data-at='1.1.1']")
  expect_identical(asked(
    b,
    "document.querySelectorAll('main img, main b b').length"), 0L)
  expect_length(complaints(b), 0L)
  expect_identical(asked(
    b,
    paste("Object.keys(localStorage).length", "+ document.cookie.length")), 0L)
  asked(b,
        paste("const s = document.createElement('script');",
              "s.textContent = 'window.ran = 1';", "document.body.append(s)"))
  expect_null(asked(b, "window.ran"))
  expect_match(complaints(b)[[1]]$params$entry$text, "Content Security Policy")
})

test_that("a book's contents are searched, its summary is sorted, and long books open at once", {
  skip_without_browser()
  withr::local_options(fairlattice.threads = 1L)
  questions <- c("ferry", "heating", "internet", "season", "mode", "way_off",
                 "turbine", "leave", "work")
  book <- book(plan_of(demo_survey(), across = c(island, tenure),
                       chapters = list(A = questions[1:5], B = questions[6:9])))
  b <- new_browser()
  opened(b, page_of(book))
  shown <- function() asked(b, seen_of("'nav li li'"))
  expect_identical(shown(), 9L)
  asked(b,
        paste(paste("(() => { const f =",
                    "document.querySelector('input[type=search]'); f.value =",
                    "'HEAT';"), "f.dispatchEvent(new Event('input')) })()"))
  expect_identical(shown(), 1L)
  expect_identical(asked(b,
                         "document.querySelector('nav .status').textContent"),
                   "1 found")
  column <- function(k) {
    rows <- "[...document.querySelector('table.sortable').tBodies[0].rows]"
    unlist(asked(b,
                 sprintf("%s.map(r => r.cells[%d].textContent)", rows, k - 1L)))
  }
  before <- column(6)
  for (way in 1:2) {
    asked(b,
          "document.querySelectorAll('table.sortable')[0].querySelectorAll('th button')[5].click()")
    v <- as.numeric(sub("< ", "", column(6)[nzchar(column(6))]))
    expect_false(is.unsorted(if (way == 1) v else rev(v)))
  }
  asked(b,
        "document.querySelectorAll('table.sortable')[0].querySelectorAll('th button')[5].click()")
  expect_identical(column(6), before)
})
