# Tables as one self-contained page: no network; whole without its script, by
# eye, by screen reader and on paper. The script (inst/page) shows other figures
# of a table, which stand beside it (R/sheet-living.R).

# `contents` takes the place of the page's own list of tables; `elsewhere` names
# the other pages of a site.
html_of <- function(entries, figure, call, contents = NULL, elsewhere = NULL) {
  tag <- htmltools::tags
  entries <- noting(entries)
  tables <- published_tables(entries)
  several <- length(tables) > 1L
  if (figure != "none" && length(tables))
    need_package("ggplot2", tells("to_draw_figure_or_none"),
                 call)
  style <- if (length(tables)) tables[[1L]]$layout$style
  # what stands before it is no part of one
  first_chapter <- match("chapter", vapply(entries, `[[`, "", "kind"), 0L)
  sections <- on_cores(seq_along(entries), function(k) {
    entry <- entries[[k]]
    drawn_entry <- switch(entry$kind, front = "",
                          table = in_style(entry$x$layout$style,
                                           html_table(
                                             entry, k, figure_of(entry, figure),
                                             !several, call)),
                          chapter = tag$section(
                            id = paste0("chapter-", k), class = "chapter",
                            tag$h2(entry$title),
                            lapply(entry$parts, function(part) {
                              lapply(part$text, tag$p)
                            })),
                          html_result(entry, k, figure,
                                      if (k < first_chapter ||
                                            !several && length(tables)) tag$h2 else
                                        if (several) tag$h3 else tag$h1))
    list(text = as.character(htmltools::doRenderTags(drawn_entry)),
         noted = entry$noted$sheets)
  })
  # of processes of their own
  for (k in seq_along(entries)) if (!is.null(entries[[k]]$noted))
    entries[[k]]$noted$sheets <- sections[[k]]$noted
  sections <- lapply(sections, `[[`, "text")
  kinds <- vapply(entries, `[[`, "", "kind")
  title_of_entry <- function(entry) {
    if (entry$kind == "table") title_in_list(entry) else entry$title
  }
  titles <- visible(vapply(entries, title_of_entry, ""))
  several <- several || any(kinds == "chapter")
  name <- elsewhere$title %||%
          if (any(kinds == "front")) titles[kinds == "front"][1L] else
            if (several) words("several_tables", number = length(tables)) else
              titles[1L]
  contents <- contents %||% if (several) html_contents(entries, kinds, titles)
  page <- tag$html(
    lang = setting("language"),
    tag$head(tag$meta(charset = "utf-8"),
             tag$meta(`http-equiv` = "Content-Security-Policy",
                      content = page_policy()),
             tag$meta(name = "viewport",
                      content = "width=device-width, initial-scale=1"),
             tag$title(visible(name)),
             tag$style(htmltools::HTML(page_file("page.css")))),
    tag$body(style = css_of(style), class = if (any(kinds == "chapter")) "book",
             tag$main(if (!is.null(elsewhere)) html_elsewhere(elsewhere),
                      if (several || any(kinds == "front")) tag$h1(name),
                      contents, lapply(sections, htmltools::HTML)),
             html_data(entries),
             json_block(in_style(style, page_words()), id = "page-words"),
             tag$script(htmltools::HTML(page_file("page.js")))))
  # rendered as it stands: as.character() would take the head out
  paste0("<!DOCTYPE html>\n", htmltools::doRenderTags(page), "\n")
}

# What the page may do: show its own pictures and styles, and run this one
# script. It fetches and sends nothing.
page_policy <- function() {
  digest <- cli::hash_sha256(page_file("page.js"))
  bytes <-
    as.raw(strtoi(substring(digest, seq(1L, 63L, 2L), seq(2L, 64L, 2L)), 16L))
  sprintf(paste(paste("default-src 'none'; img-src data:; style-src",
                      "'unsafe-inline'; script-src 'sha256-%s';"),
                "base-uri 'none'; form-action 'none'"),
          jsonlite::base64_enc(bytes))
}

page_file <- function(name) {
  once(program, name, NULL, {
    path <- system.file("page", name, package = "fairlattice", mustWork = TRUE)
    enc2utf8(paste0(paste(readLines(path, encoding = "UTF-8"), collapse = "\n"),
                    "\n"))
  })
}

# Data that the script reads; no browser shows or runs them. Matrices are rows
# of numbers, to the last digit: what is rounded twice may round to another
# figure.
json_block <- function(data, ...) {
  lists <- function(x) {
    if (is.matrix(x)) return(lapply(seq_len(nrow(x)), function(row) as.list(unname(x[row, ]))))
    if (inherits(x, "AsIs")) return(as.list(unname(x)))
    if (is.list(x)) lapply(x, lists) else x
  }
  # a line end is none of a text, where it is written by a code
  json <- gsub("\n *", "", json_text(lists(data)))
  htmltools::tags$script(type = "application/json", ...,
                         htmltools::HTML(gsub("<", "\\u003c", json, fixed = TRUE)))
}

# What the script says, in the language and the signs of the page.
page_words <- function() {
  named <- function(kind, names) {
    stats::setNames(lapply(paste0(kind, ".", names), words), names)
  }
  c(named("page",
          c("show", "published", "percentages_of", "shade", "no_shade", "turn",
            "sort", "as_asked", "copy", "copied", "tools", "hint", "share_of",
            "everybody", "expected", "observed", "contribution", "residual",
            "corrected", "unmarked", "find", "found", "dark", "light",
            "sentence", "sentence_row")),
    list(all = words("line.all"), total = words("line.total"),
         respondents = words("line.respondents"),
         more = words("more_than_expected"),
         fewer = words("fewer_than_expected"),
         percent_sign = words("percent_sign"),
         interval = words("interval", low = "{low}", high = "{high}"),
         views = named("view",
                       c("percent", "n", "weighted", "expected",
                         "adjusted_residual", "interval")),
         bases = named("view_base", c("column", "row", "total")),
         marks = list(decimal = setting("decimal_mark"),
                      thousands = setting("thousands_mark"),
                      minus = setting("minus"), digits_p = setting("digits_p"),
                      leading_zero = setting("leading_zero"))))
}

# The pages of a site, of which one is here.
html_elsewhere <- function(elsewhere) {
  tag <- htmltools::tags
  links <- lapply(seq_along(elsewhere$pages), function(k) {
    if (k == elsewhere$here)
      tag$b(`aria-current` = "page", elsewhere$labels[k]) else
      tag$a(href = elsewhere$pages[k], elsewhere$labels[k])
  })
  tag$nav(class = "site", `aria-label` = words("book.pages"), links)
}

# A list of all tables, in their chapters where there are any.
html_contents <- function(entries, kinds, titles) {
  tag <- htmltools::tags
  link <- function(k) {
    tag$a(href = sprintf("#%s-%d",
                         c(table = "table", chapter = "chapter",
                           result = "result")[[kinds[k]]], k), titles[k])
  }
  book <- any(kinds == "chapter")
  listed <- which(kinds == "table" |
                    book &
                      (kinds == "chapter" | vapply(entries, in_contents, NA)))
  chapter <- cumsum(kinds == "chapter")[listed]
  lists <- lapply(split(listed, chapter), function(at) {
    head <- at[kinds[at] == "chapter"]
    items <- lapply(setdiff(at, head), function(k) tag$li(link(k)))
    if (length(head)) tag$li(link(head), tag$ul(items)) else items
  })
  tag$nav(`aria-label` = words("tables"), class = if (book) "book",
          tag$ol(unname(lists)))
}

# What stands before the chapters, and tables that could not be made, are listed
# too.
in_contents <- function(entry) {
  entry$kind == "result" && is.null(entry$x) &&
    (is.null(entry$number) || isTRUE(entry$failed))
}

title_in_list <- function(entry) {
  x <- entry$x
  numbered(title_shown(x), x$layout$number)
}

# The tables as data, for read_tables(): a block that no browser shows or runs.
html_data <- function(entries) {
  if (!carries(entries)) return(NULL)
  json <- gsub("<", "\\u003c", json_entries(entries, shown = entries), fixed = TRUE)
  htmltools::tags$script(type = "application/json", id = html_data_id,
                         htmltools::HTML(json))
}

html_table <- function(entry, k, figure, alone, call) {
  x <- entry$x
  tag <- htmltools::tags
  heading <- if (alone) tag$h1 else tag$h2
  sheets <- noted_sheets(entry)
  paragraphs <- paragraphs_of(entry)
  drawn <- drawn_beside(entry)
  # in a book what was found stands under the title
  apart <- length(sheets) > 1L || !is.null(entry$finding)
  inner <- if (is.null(entry$number)) tag$h3 else tag$h4
  if (!is.null(entry$number)) heading <- tag$h3
  tag$section(
    id = paste0("table-", k), style = css_of(x$layout$style),
    if (apart) heading(sheets[[1L]]$title),
    if (!is.null(entry$finding))
      tag$p(class = "finding", visible(entry$finding)),
    Map(html_sheet, sheets, model = living_models(x) %||% list(NULL),
        MoreArgs = list(heading = if (apart) inner else heading,
                        titled = !apart)),
    if (has_figure(drawn, figure))
      html_figure(figure_data(drawn), figure, call),
    if (length(paragraphs))
      list(tag$h3(words("to_paste")),
           lapply(paragraphs, tag$p, class = "write-up")))
}

# A result with its heading.
html_result <- function(entry, k, figure, heading) {
  tag <- htmltools::tags
  tag$section(
    id = paste0("result-", k), class = "result", heading(entry$title),
    lapply(entry$parts, function(part) {
      switch(part$kind,
             sheet = html_sheet(part$sheet, tag$span,
                                titled = !identical(
                                  part$sheet$title, entry$title)),
             said = lapply(held(part$text[nzchar(part$text)]), tag$p,
                           class = if (entry$kind == "text") "write-up"),
             columns = tag$div(class = "scroll", tabindex = "0", role = "group",
                               `aria-label` = entry$title, html_columns(part)),
             pairs = tag$table(class = "plain",
                               tag$tbody(
                                 Map(function(label, text) {
                                   tag$tr(
                                     tag$th(scope = "row", label),
                                     tag$td(class = "words", held(text)))
                                 }, part$labels, part$texts,
                                     USE.NAMES = FALSE))))
    }),
    if (figure != "none" && !is.null(entry$drawn))
      html_figure(figure_data(entry$drawn), "change", NULL),
    html_picture(entry$x))
}

# Results of so many lines can be sorted by their columns.
sorted_from <- 5L

html_columns <- function(part) {
  tag <- htmltools::tags
  side <- ifelse(part$left, "label", "figure")
  cells <- part_texts(part)
  cells <- matrix(sprintf("<td class=\"%s\">%s</td>", side[col(cells)],
                          htmltools::htmlEscape(cells)), nrow(cells))
  tag$table(class = if (nrow(cells) >= sorted_from) "plain sortable" else
              "plain",
            tag$thead(tag$tr(Map(function(name, side) {
              if (nzchar(trimws(name)))
                tag$th(scope = "col", class = side, name) else tag$td()
            }, names(part$columns), side, USE.NAMES = FALSE))),
            tag$tbody(htmltools::HTML(paste0(
                                        "<tr>",
                                        apply(cells, 1L, paste, collapse = ""),
                                        "</tr>", collapse = "\n"))))
}

# `model` is what the script knows of the table.
html_sheet <- function(sheet, heading, titled = TRUE, model = NULL) {
  tag <- htmltools::tags
  sheet <- visible_in(sheet)
  rows <- html_rows(sheet, lively = !is.null(model))
  if (!is.null(model))
    model$digits <- sheet$decimals$percent %||% setting("digits")
  name <- function(j) {
    figure <- sheet$columns$figure[j]
    list(sheet$columns$label[j],
         if (nzchar(figure) && nzchar(sheet$columns$label[j])) tag$br(), figure)
  }
  tag$div(
    class = "sheet",
    tag$div(class = "scroll", tabindex = "0", role = "group",
            `aria-label` = sheet$title,
            tag$table(
              style = stub_style(sheet),
              tag$caption(if (titled || !is.null(sheet$layer))
                            heading(sheet$layer %||% sheet$title) else
                            tag$b(class = "spoken", sheet$title),
                          lapply(sheet$subtitle, tag$span)),
              tag$thead(html_heads(sheet, name)),
              lapply(line_groups(sheet$stub), function(group) {
                in_part <- if (group$foot) tag$tfoot else tag$tbody
                in_part(class = if (!group$body && !group$foot) "foot",
                     htmltools::HTML(paste(rows[group$rows], collapse = "\n")))
              }))),
    html_lines(lines_below(sheet)),
    if (!is.null(model)) json_block(model, class = "model"))
}

# How wide the labels of the lines are at least, so that many columns do not
# squeeze long ones, and at most.
widest_stub <- 24L
stub_style <- function(sheet) {
  wrap <- sheet$wrap %||% Inf
  width <- min(wrap, widest_stub, max(text_width(stub_labels(sheet$stub)), 0L))
  paste0(sprintf("--stub: %dch", as.integer(width)),
         if (is.finite(wrap)) sprintf("; --wrap: %dch", as.integer(wrap)))
}

# The lines of a sheet, as text: there are too many cells for an object each.
html_rows <- function(sheet, lively = FALSE) {
  text <- htmltools::htmlEscape(sheet_text(sheet))
  marked <- nzchar(sheet$mark)
  aside <- function(sign, word) {
    sprintf("<span aria-hidden=\"true\">%s</span><span class=\"spoken\">%s</span>",
            htmltools::htmlEscape(sign), htmltools::htmlEscape(word))
  }
  spoken <- c(more = words("more_than_expected"),
              fewer = words("fewer_than_expected"), higher = words("higher"),
              lower = words("lower"))
  sign <- if (is.null(sheet$letters))
    sprintf("<span class=\"sign\">%s</span>",
            ifelse(marked,
                   aside(mark_signs[match(sheet$mark, names(mark_signs))],
                         spoken[match(sheet$mark, names(spoken))]), "")) else
    sprintf("<span class=\"letters\">%s</span>",
            htmltools::htmlEscape(sheet$letters))
  peak <- ifelse(sheet$peak, aside("^", words("largest_of_line")), "")
  role <- sheet$columns$role[col(sheet$mark)]
  cells <- matrix(sprintf("<td class=\"%s\"%s>%s%s%s</td>",
                          ifelse(marked, paste(role, "mark", sheet$mark), role),
                          if (lively) html_places(sheet) else "", text, peak,
                          sign), nrow(sheet$mark))
  labels <- htmltools::htmlEscape(stub_labels(sheet$stub))
  heading <- sheet$stub$role == "heading"
  ifelse(heading,
         sprintf("<tr class=\"heading\"><th scope=\"rowgroup\" colspan=\"%d\">%s</th></tr>",
                 nrow(sheet$columns) + 1L, labels),
         sprintf("<tr class=\"%s\"><th scope=\"row\">%s</th>%s</tr>",
                 sheet$stub$role, labels,
                 apply(cells, 1L, paste, collapse = "")))
}

# Where a cell stands in the model of its table: block, place down, place
# across.
html_places <- function(sheet) {
  own <- c("answer", "net")
  here <- outer(sheet$stub$role %in% own, sheet$columns$role %in% own)
  place <-
    outer(sheet$stub$at, sheet$columns$at, function(i, j) paste0(i, ".", j))
  ifelse(here,
         sprintf(" data-at=\"%d.%s\"",
                 as.integer(sheet$columns$block[col(place)]), place), "")
}

line_classes <- c(key = "key", tests = "test", strength = "test",
                  reference = "key", notes = "account", account = "account",
                  source = "account")

# Lines of text as paragraphs, and cautions as a list.
html_lines <- function(lines) {
  tag <- htmltools::tags
  runs <- split(lines,
                cumsum(c(TRUE, diff(lines$kind == "caution") != 0))[seq_len(nrow(lines))])
  lapply(unname(runs), function(run) {
    text <- held(run$text)
    if (run$kind[1L] != "caution")
      return(Map(function(kind, line) tag$p(class = line_classes[[kind]], line),
                 run$kind, text, USE.NAMES = FALSE))
    tag$ul(class = "cautions",
           Map(function(severity, line) {
             tag$li(class = severity,
                    tag$b(words(paste0("severity.", severity))), " ", line)
           }, run$severity, text, USE.NAMES = FALSE))
  })
}

# The heads of the columns: under the question they are answers of, and of a
# question within another under the answers of that.
html_heads <- function(sheet, name) {
  tag <- htmltools::tags
  heads <- head_cells(sheet)
  scope <- c(corner = "col", spanner = "colgroup", column = "col")
  lapply(split(heads, heads$row), function(row) {
    tag$tr(lapply(seq_len(nrow(row)), function(k) {
      head <- row[k, ]
      role <- if (head$kind == "column") sheet$columns$role[head$column] else
        head$kind
      if (head$kind == "corner" && !nzchar(head$label))
        return(tag$td(class = "corner", rowspan = head$rows))
      tag$th(rowspan = if (head$rows > 1L || head$kind == "corner") head$rows,
             colspan = if (head$columns > 1L || head$kind == "spanner")
               head$columns, scope = scope[[head$kind]], class = role,
             if (head$kind == "column") name(head$column) else head$label)
    }))
  })
}

# A style as the custom properties that the page's style sheet reads; NULL
# without one.
css_of <- function(style) {
  colours <- style$colours[setdiff(names(style$colours), "answers")]
  hex <- function(colour) {
    vapply(colour, function(one) {
      sprintf("#%s",
              paste(format(as.hexmode(grDevices::col2rgb(one)), width = 2L),
                    collapse = ""))
    }, "")
  }
  fonts <- vapply(style$fonts[names(style$fonts) != "size"], css_fonts, "")
  borders <- c(none = "0 none", thin = "1px solid", thick = "2px solid",
               double = "3px double")
  value <- c(if (length(colours)) hex(unlist(colours)),
             if (length(fonts)) fonts,
             if (!is.null(style$fonts$size))
               c(size = sprintf("%gpt", style$fonts$size)),
             if (length(style$rules))
               stats::setNames(borders[unlist(style$rules)],
                               paste0("rule-", names(style$rules))))
  if (length(value)) paste0("--", names(value), ": ", value, collapse = "; ")
}

css_fonts <- function(fonts) {
  one <- trimws(strsplit(fonts, ",", fixed = TRUE)[[1L]])
  generic <- c("serif", "sans-serif", "monospace", "system-ui")
  paste(ifelse(one %in% generic, one,
               paste0("'", gsub("'", "", one, fixed = TRUE), "'")),
        collapse = ", ")
}

html_figure <- function(f, kind, call) {
  kind <- kind_for(f, kind)
  html_image(function(file) draw_figure(f, kind, file, "svg", call),
             figures[[kind]]$tell(f), call)
}

# The picture of a result, where it has one and it can be drawn.
html_picture <- function(x) {
  picture <- tryCatch(picture_of(x), fairlattice_error_package = function(e) NULL)
  if (!is.null(picture))
    html_image(function(file) draw_picture(picture, file, "svg", NULL),
               picture$alt, NULL)
}

html_image <- function(draw, alt, call) {
  file <- scratch_file(".svg")
  on.exit(unlink(file))
  draw(file)
  if (!is_whole(file, "svg")) stop_no_room(call)
  # as an image, not inline: two drawings on a page would share the names of
  # their glyphs
  data <- paste0("data:image/svg+xml;base64,",
                 jsonlite::base64_enc(readBin(file, "raw", file.size(file))))
  htmltools::tags$figure(htmltools::tags$img(
                           src = gsub("\n", "", data), alt = alt))
}

draw_figure <- function(f, kind, file, device, call) {
  scene <- figures[[kind]]$scene
  if (is.null(scene)) need_package("ggplot2", tells("to_draw_figure_or_none"), call)
  drawn <- drawn_figure(f, kind, call) # refuses what cannot be drawn, which has no size either
  size <- figure_size(f, kind)
  plot <- if (is.null(scene)) figures[[kind]]$draw(drawn$data, drawn$f) else
    scene(drawn$data, drawn$f)
  draw_picture(list(plot = plot, style = f$style, width = size[["width"]],
                    height = size[["height"]]), file, device, call)
}

# With svglite a drawing keeps its text as text, which takes a tenth of the
# room; with ragg a picture has smoother edges.
draw_picture <- function(picture, file, device, call) {
  has <- function(package) requireNamespace(package, quietly = TRUE)
  wide <- picture$width
  high <- picture$height
  open_device <- if (device == "svg" && has("svglite"))
    function() svglite::svglite(file, wide, high) else
    if (device == "png" && has("ragg"))
      function() ragg::agg_png(file, wide, high, units = "in", res = 150) else
      if (!capabilities("cairo")) {
        stop_input(c(tells("r_cannot_draw_figures_built"),
                     i = tells("install_svglite_svg_html_ragg")), "package",
                   call = call)
      } else {
        switch(device, svg = function() grDevices::svg(file, wide, high),
               pdf = function() grDevices::cairo_pdf(file, wide, high),
               png = function() {
                 grDevices::png(file, wide, high, units = "in", res = 150,
                                type = "cairo")
               })
      }
  open_device()
  opened <- grDevices::dev.cur()
  on.exit(grDevices::dev.off(opened))
  if (is_scene(picture$plot))
    paint_scene(picture$plot, picture$style, c(wide, high)) else print(picture$plot)
}
