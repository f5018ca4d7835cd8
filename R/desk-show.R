# The parts of the desk that show a table: the table itself, its figure, whether
# to trust it, where it sits, how it comes about and what to say of it. Every
# figure is the core's.

# `kept` keeps a part as long as nothing it depends on has changed.
table_parts <- function(table, sheets, work, open, kept) {
  guarded <- guards(table$layout)
  tables <- single_tables(table)
  settings <- work$settings[setdiff(names(work$settings), of_cells)]
  key <- list(work[c(sides, "among", "base", "figure")], settings)
  opened <- "working" %in% open
  list(table = rendered(sheet_part(table, sheets)),
       figure = kept("figure", key, figure_part(table, work)),
       trust = kept("trust", lapply(sheets, lines_below), trust_part(sheets)),
       where = kept("where", key, if (!guarded) where_part(tables)),
       paragraph = kept("paragraph", key, if (!guarded) paragraph_part(table)),
       working = kept("working", list(key, opened),
                      working_part(tables, guarded, opened)))
}

# Settings that change what stands in the cells of the sheet and nothing beside
# it.
of_cells <-
  c("decimals", "sort", "marks", "against", "stack", "bases", "base_rows")

sheet_part <- function(table, sheets) {
  tag <- htmltools::tags
  models <- living_models(table) %||% list(NULL)
  beside <- c("tests", "strength", "reference", "account")
  bare <- lapply(sheets, function(sheet) {
    sheet[beside] <- list(character())
    sheet$cautions <- sheet$cautions[0L, ]
    sheet
  })
  several <- length(sheets) > 1L
  tag$section(if (several) tag$h2(sheets[[1L]]$title),
              Map(html_sheet, bare, model = models,
                  MoreArgs = list(heading = if (several) tag$h3 else tag$h2)))
}

trust_part <- function(sheets) {
  tag <- htmltools::tags
  lines <- lapply(sheets, function(sheet) {
    found <- lines_below(sheet)
    found <-
      found[found$kind %in% c("tests", "strength", "reference", "caution"), ]
    list(if (length(sheets) > 1L && nrow(found)) tag$h4(sheet$layer),
         html_lines(found))
  })
  if (any(vapply(sheets, function(sheet) {
    length(sheet$tests) + length(sheet$strength) + nrow(sheet$cautions) > 0L
  }, NA))) lines else tag$p(class = "hint", words("desk.nothing_to_test"))
}

# ---- the figure ----

# The usual one is drawn here from what it would be drawn from, so that it comes
# with the table; the others are pictures that follow it.
figure_part <- function(table, work) {
  tag <- htmltools::tags
  if (!has_figure(table, "shares")) return("")
  kind <- work$figure
  chosen <- choice_list(words("desk.figure"), "draw",
                        c(named_options("desk.figure_kind",
                                        c(names(figures), "none"))), kind,
                        `data-figure` = "")
  drawn <- if (kind == "shares") shares_bars(figure_data(table)) else
    if (kind != "none")
      tag$div(class = "picture", `data-picture` = kind,
              tag$p(class = "hint", words("desk.drawing")))
  list(chosen, drawn)
}

# Bars of 100 %, or of a tick-all question a bar an item; as text, for there may
# be many.
shares_bars <- function(f) {
  tag <- htmltools::tags
  data <- shares_data(f)
  data <- data[data$percent > 0, ]
  pieces <- levels(data$piece)
  side <- figure_side(f)
  items <- f[[side[["piece"]]]]$ticks
  colours <- if (items) rep(line_colours(f, 1L), length(pieces)) else
    colours_of(f, length(pieces), isTRUE(f[[side[["piece"]]]]$ordered))
  colour <- colours[as.integer(data$piece)]
  safe <- function(x) htmltools::htmlEscape(as.character(x), attribute = TRUE)
  segment <- sprintf("<span class=\"piece\" title=\"%s: %s%s\" style=\"width:%.4f%%;background:%s;color:%s\">%s</span>",
                     safe(data$piece), format_percent(data$percent / 100),
                     words("percent_sign"), data$percent, colour,
                     vapply(colour, ink_on, ""), safe(data$label))
  bar <- factor(data$bar_key, unique(data$bar_key))
  first <- match(levels(bar), data$bar_key)
  span <- function(text, more = "") {
    sprintf("<span class=\"of\">%s%s</span>", safe(text), more)
  }
  heads <- span(data$bar[first],
                sprintf("<small>%s</small>", format_count(data$base[first])))
  rows <- if (items) {
    item <- sprintf("<div class=\"bar item\">%s<span class=\"whole\">%s</span></div>",
                    span(data$piece), segment)
    paste0("<div class=\"bar head\">", heads, "</div>",
           vapply(split(item, bar), paste, "", collapse = ""))
  } else {
    sprintf("<div class=\"bar\">%s<span class=\"whole\">%s</span></div>", heads,
            vapply(split(segment, bar), paste, "", collapse = ""))
  }
  each <- as.character(data$each[first])
  panels <-
    vapply(split(rows, factor(each, unique(each))), paste, "", collapse = "")
  key <- if (!items)
    sprintf("<ul class=\"legend\">%s</ul>",
            paste(sprintf(
              "<li><i style=\"background:%s\"></i>%s</li>",
              colours[seq_along(pieces)], safe(pieces)), collapse = ""))
  tag$figure(class = "shares", role = "img",
             `aria-label` = figures$shares$tell(f),
             htmltools::HTML(c(key,
                               paste0(
                                 "<div class=\"panel\">",
                                 ifelse(nzchar(names(panels)),
                                        sprintf(
                                          "<h4>%s</h4>", safe(names(panels))),
                                        ""), panels,
                                 "</div>", collapse = ""))))
}

# ---- where it sits, how it comes about, what to say ----

where_part <- function(tables) {
  tag <- htmltools::tags
  tables <- Filter(function(table) has(table, "across", "answers"), tables)
  lapply(tables, function(table) {
    several <- length(tables) > 1L
    lapply(seq_along(table$layers), function(k) {
      layer <- table$layers[[k]]
      cells <- residuals_of(table)[[k]]
      if (is.null(cells)) return(NULL)
      head <- c(if (several) facts_of(table)$across$label,
                if (!is.na(layer$each)) layer$each)
      list(if (length(head)) tag$h4(paste(head, collapse = ", ")),
           tag$p(reading_words(layer, cells, headline_of(tests_of(table)[[k]]),
                               table$choices$alpha, 3L)),
           strongest_cells(layer, cells))
    })
  })
}

# The strongest residuals as bars to the left and right of what is expected.
strongest_cells <- function(layer, cells, most = 6L) {
  tag <- htmltools::tags
  names <- cells_of_layer(layer)
  r <- cells$adjusted_residual
  at <- utils::head(strongest_first(r), min(most, sum(!is.na(r))))
  if (!length(at)) return(NULL)
  width <- 50 * abs(r[at]) / max(abs(r[at]), 5)
  tag$ul(class = "strongest",
         lapply(seq_along(at), function(k) {
           cell <- at[k]
           mark <- cells$mark[cell]
           tag$li(tag$span(class = "which", names$down[cell], " \u00d7 ",
                           names$across[cell]),
                  tag$span(class = "swing", `aria-hidden` = "true",
                           tag$i(
                             class = if (r[cell] > 0) "more" else "fewer",
                             style = sprintf(
                               "width:%.2f%%;%s:50%%", width[k],
                               if (r[cell] > 0) "left" else "right"))),
                  tag$span(class = "figure", with_sign(r[cell]),
                           if (nzchar(mark)) mark_signs[[mark]]))
         }))
}

paragraph_part <- function(table) {
  tag <- htmltools::tags
  text <- paragraphs_with(table)
  list(lapply(text, tag$p, class = "write-up", tabindex = "0"),
       if (length(text))
         copy_button(paste(text, collapse = "\n\n"), "paragraph"))
}

# Worked out only while it is looked at.
working_part <- function(tables, guarded, open) {
  tag <- htmltools::tags
  able <- Filter(function(table) !guarded && has(table, "strength"), tables)
  if (!length(able)) return("")
  tag$details(class = "step-by-step", `data-open` = "working",
              open = if (open) NA,
              tag$summary(`data-key` = "working", words("section.working")),
              if (open) lapply(able, working_of_layers))
}

working_of_layers <- function(table) {
  tag <- htmltools::tags
  lapply(table$layers, function(layer) {
    lapply(parts_of(working(table, if (!is.na(layer$each)) layer$each), Inf),
           function(part) {
             if (part$kind == "said")
               return(lapply(part$text[nzchar(part$text)], tag$p))
             if (part$kind == "columns")
               tag$div(class = "scroll", tabindex = "0", role = "group",
                       `aria-label` = words("section.working"),
                       html_columns(part))
           })
  })
}
