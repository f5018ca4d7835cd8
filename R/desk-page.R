# The page of the desk: its frame, into which the parts are put. All texts of it
# are in the catalogue.

desk_page <- function(desk) {
  tag <- htmltools::tags
  file <- desk$store$source$file %||% words("desk.records")
  place <- function(name, ...) {
    tag$div(id = paste0("part-", name), `data-part` = name, ...)
  }
  panel <- function(name, heading, ...) {
    tag$section(class = "panel", id = name,
                `aria-labelledby` = paste0("head-", name),
                tag$h2(id = paste0("head-", name), heading), ...)
  }
  page <- tag$html(
    lang = setting("language"),
    tag$head(tag$meta(charset = "utf-8"),
             tag$meta(name = "viewport",
                      content = "width=device-width, initial-scale=1"),
             tag$title(sprintf("%s \u2013 %s", file, words("desk.name"))),
             tag$link(rel = "icon", href = "data:,"),
             tag$link(rel = "stylesheet", href = "desk.css")),
    tag$body(
      class = "desk",
      tag$a(class = "skip", href = "#part-table", words("desk.skip")),
      tag$header(tag$h1(words("desk.name"),
                        tag$small(words("desk.records_in", file = file,
                                        n = desk$store$size))),
                 place("history"), tag$span(class = "lights")),
      tag$p(id = "lost", class = "fault", role = "alert", hidden = NA,
            tag$span(words("desk.lost")), " ",
            tag$button(type = "button", `data-again` = NA,
                       words("desk.again"))),
      tag$main(
        panel("list", words("desk.questions"),
              tag$label(class = "find",
                        tag$span(class = "spoken", words("page.find")),
                        tag$input(type = "search", id = "find",
                                  autocomplete = "off",
                                  placeholder = words("page.find"),
                                  `aria-controls` = "part-questions",
                                  `aria-describedby` = "find-for")),
              tag$p(id = "find-for", class = "hint"),
              tag$ul(id = "part-questions", `data-part` = "questions",
                     role = "listbox", `aria-label` = words("desk.questions"),
                     tabindex = "0"),
              tag$p(id = "none-found", class = "hint", hidden = NA,
                    words("desk.none_found")),
              tag$div(id = "put", role = "group",
                      `aria-label` = words("desk.put_question"), hidden = NA,
                      tag$b(id = "put-name"),
                      tag$div(class = "acts",
                              lapply(sides, function(side) {
                                tag$button(
                                  type = "button", `data-put` = side,
                                  words(paste0("desk.put.", side)))
                              }),
                              tag$button(
                                type = "button", `data-put` = "answers",
                                words("desk.put.answers"))))),
        tag$div(id = "middle", place("brief"),
                tag$p(id = "fault", class = "fault", role = "alert"),
                place("choices"), place("table", tabindex = "-1"),
                tag$div(class = "two",
                        tag$section(`aria-label` = words("desk.figure"),
                                    place("figure")),
                        tag$section(`aria-labelledby` = "head-where",
                                    class = "where",
                                    tag$h3(
                                      id = "head-where",
                                      words("section.residuals")),
                                    place("where"))), place("working")),
        tag$div(id = "side",
                panel("in-it", words("desk.who"), place("design"), place("who"),
                      place("steps")),
                panel("trust", words("desk.trust"), place("trust")),
                panel("hand-on", words("desk.hand_on"), place("paragraph"),
                      place("tray"), place("leave")))),
      tag$ul(id = "completions", role = "listbox", hidden = NA),
      tag$dialog(id = "editor", `aria-labelledby` = "editor-title",
                 tag$div(id = "editor-inside")),
      tag$div(id = "said", role = "status", class = "spoken"),
      json_block(c(page_words(), list(desk = desk_words())), id = "page-words"),
      tag$script(src = "page.js"), tag$script(src = "desk.js")))
  paste0("<!DOCTYPE html>\n", htmltools::doRenderTags(page), "\n")
}

# What the script of the desk says.
desk_words <- function() {
  list(find_for = stats::setNames(lapply(
                                    paste0("desk.find_for.", sides), words),
                                  sides), copied = words("desk.copied"),
       saved = words("desk.saved"))
}
