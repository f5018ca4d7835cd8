# What the desk shows of a work, a part of the page each, as HTML. Parts know nothing of the page: it puts each in its
# place and sends back what is asked of them (`data-act`, `data-with`, `data-set`).

# All parts of a work. `desk` is a window of it: the work, what was done before, and which parts are open.
desk_parts <- function(store, window) {
  work <- window$now
  panel <- prepared_of_work(store, work)
  table <- table_of_work(store, work)
  sheets <- if (!is.null(table)) in_style(table$layout$style, desk_sheets(table))
  parts <- c(list(history = history_part(window), brief = brief_part(panel, work),
                  choices = if (!is.null(table)) choices_part(table, work, window$open) else "",
                  who = who_part(store, panel, work, sheets),
                  steps = steps_part(work), tray = tray_part(store, window),
                  leave = leave_part(store, work, window$open)),
             if (is.null(table)) empty_parts(store, window) else table_parts(table, sheets, work, window$open))
  c(lapply(parts, function(part) as.character(htmltools::doRenderTags(part))),
    list(questions = questions_part(panel, work)))
}

# The sheets with all lines, to be taken apart: some stand under the table, some beside it.
desk_sheets <- function(table) {
  table$layout$lines <- if (guards(table$layout)) table$layout$lines else "all"
  table$layout$source <- FALSE
  sheets_of(table)
}

# ---- the sentence: what is compared ----

brief_part <- function(panel, work) {
  tag <- htmltools::tags
  title <- function(name) first_line(title_of(panel$data[[name]], name))
  slot <- function(side, before, questions, room) {
    tag$div(class = "slot", `data-side` = side, tag$span(class = "says", before),
            lapply(questions, function(name) chip(name, title(name), side)),
            if (room) tag$button(type = "button", class = "add", `data-add` = side, `data-key` = paste0("add-", side),
                                 words(paste0("desk.add.", side))))
  }
  tag$div(class = "brief",
          slot("down", words("desk.compare"), work$down, is.null(work$down)),
          slot("across", words("desk.by"), work$across, TRUE),
          slot("each", words("desk.each"), work$each, is.null(work$each)))
}

# A question where it stands: its name opens its answers, the cross takes it away.
chip <- function(name, title, side) {
  tag <- htmltools::tags
  tag$span(class = "chip", draggable = "true", `data-question` = name, `data-from` = side,
           tag$button(type = "button", class = "open", `data-answers` = name, `data-key` = paste0("chip-", name),
                      title = words("desk.open_answers", question = title), title),
           act_button("drop", list(question = name, side = side), "\u00d7", class = "away",
                      label = words("desk.take_away", question = title), key = paste0("away-", name)))
}

act_button <- function(act, with, text, class = NULL, label = NULL, key = act, disabled = FALSE) {
  htmltools::tags$button(type = "button", class = class, `data-act` = act, `data-key` = key, `aria-label` = label,
                         title = label, `data-with` = if (length(with)) to_json(with),
                         disabled = if (disabled) NA, text)
}

to_json <- function(x) as.character(jsonlite::toJSON(x, auto_unbox = TRUE, null = "null", digits = NA))

# A list to choose from; `act` names what choosing does, the chosen value goes along under `name`.
choice_list <- function(label, key, options, chosen, spoken = FALSE, ...) {
  tag <- htmltools::tags
  tag$label(class = "choice", tag$span(class = if (spoken) "spoken", label),
            tag$select(`data-key` = key, ..., htmltools::HTML(options_html(options, chosen))))
}

# As text: an object an option takes longer than all figures of a table.
options_html <- function(options, chosen) {
  safe <- function(x) htmltools::htmlEscape(x, attribute = TRUE)
  paste(sprintf("<option value=\"%s\"%s>%s</option>", safe(names(options)),
                ifelse(names(options) == chosen, " selected", ""), safe(options)), collapse = "")
}

named_options <- function(kind, values) stats::setNames(name_of(kind, values), values)

# ---- how it is shown ----

choices_part <- function(table, work, open) {
  tag <- htmltools::tags
  set <- work$settings
  one <- single_tables(table)[[1L]]
  alone <- is_alone(one)
  percent <- if (identical(set$percent, "none")) "none" else one$choices$percent
  tag$div(
    class = "choices",
    if (!alone) choice_list(words("page.percentages_of"), "set-percent", named_options("view_base_short", c(
      "column", "row", "total", "none")), percent, `data-set` = "percent"),
    show_choices(set$show %||% character(), alone, percent),
    if (!alone) choice_list(words("desk.marks"), "set-marks", named_options("desk.mark", mark_kinds),
                            set$marks %||% "residuals", `data-set` = "marks"),
    choice_list(words("page.sort"), "set-sort", named_options("desk.sort", if (alone) sorts[1:2] else sorts),
                set$sort %||% "asked", `data-set` = "sort"),
    number_field(words("desk.decimals"), "decimals", set$decimals %||% setting("digits"), 0, 6),
    tag$details(class = "extra", `data-open` = "more",
                tag$summary(`data-key` = "more", words("desk.more")), if ("more" %in% open) more_settings(set)),
    tag$div(class = "acts", if (length(work$across) == 1L) act_button("turn", NULL, words("desk.turn")),
            act_button("clear", NULL, words("desk.clear"))))
}

# What else may stand in a cell, besides the percentage.
show_choices <- function(show, alone, percent) {
  tag <- htmltools::tags
  own <- if (percent == "none") "n" else percent
  offered <- setdiff(names(cell_figures), c(own, if (alone) c("row", "total", "expected", "residual", "pearson",
                                                              "adjusted", "contribution", "difference",
                                                              "difference_interval") else "cumulative", "given"))
  tag$details(class = "extra", `data-open` = "show",
              tag$summary(`data-key` = "show", words("desk.in_cell")),
              tag$fieldset(`data-show` = own, tag$legend(class = "spoken", words("desk.in_cell")),
                           lapply(offered, function(figure) {
                             tag$label(tag$input(type = "checkbox", value = figure,
                                                 `data-key` = paste0("show-", figure),
                                                 checked = if (figure %in% show) NA), " ",
                                       name_of("desk.show", figure))
                           })))
}

number_field <- function(label, name, value, least = NULL, most = NULL, step = NULL) {
  tag <- htmltools::tags
  tag$label(class = "choice", tag$span(label),
            tag$input(type = "number", `data-set` = name, `data-key` = paste0("set-", name), value = value, min = least,
                      max = most, step = step %||% 1))
}

# Every other setting of a plan, by its kind: what a plan may say, the desk may.
set_elsewhere <- c("percent", "show", "marks", "sort", "decimals", "lines", "figure", "write_up", "along", "labels",
                   "source")

more_settings <- function(set) {
  tag <- htmltools::tags
  keys <- desk_settings()
  keys <- keys[setdiff(names(keys), set_elsewhere)]
  tag$div(class = "settings", lapply(names(keys), function(name) {
    key <- keys[[name]]
    value <- set[[name]]
    about <- sentence_case(key$about)
    key_name <- paste0("set-", name)
    tag$div(class = "setting", switch(
      key$kind,
      choice = choice_list(about, key_name, c(stats::setNames(words("desk.by_default"), ""),
                                              stats::setNames(gsub("_", " ", key$choices), key$choices)),
                           value %||% "", `data-set` = name),
      flag = tag$label(class = "choice", tag$span(about), tag$input(
        type = "checkbox", `data-set` = name, `data-key` = key_name, checked = if (isTRUE(value)) NA)),
      number = number_field(about, name, value, step = "any"),
      choices = tag$fieldset(`data-several` = name, tag$legend(about), lapply(key$choices, function(one) {
        tag$label(tag$input(type = "checkbox", value = one, `data-key` = paste0(key_name, "-", one),
                            checked = if (one %in% value) NA), " ", gsub("_", " ", one))
      })),
      tag$label(class = "choice", tag$span(about), tag$input(
        type = "text", `data-set` = name, `data-key` = key_name, value = paste(value, collapse = "; ")))))
  }))
}

# ---- who is in it ----

shown_roles <- c("weight", "stratum", "cluster", "respondent", "count")

who_part <- function(store, panel, work, sheets) {
  tag <- htmltools::tags
  columns <- names(store$data)
  none <- stats::setNames(words("desk.none"), "")
  design <- if (store$given) tag$p(class = "given", words("desk.design_given")) else
    list(lapply(shown_roles, function(role) {
      choice_list(words(paste0("desk.role.", role)), paste0("ask-", role), c(none, stats::setNames(columns, columns)),
                  work$asked[[role]] %||% "", `data-role` = role)
    }), likely_button(store, work),
    if (!is.null(work$asked$respondent))
      choice_list(words("desk.one_per"), "one-per", c(stats::setNames(words("desk.one_per.all"), ""),
                                                      named_options("desk.one_per", c("first", "last"))),
                  work$one_per %||% "", `data-one-per` = ""))
  tag$div(
    tag$details(class = "design", `data-open` = "design", open = if (!length(work$asked)) NA,
                tag$summary(`data-key` = "design", tag$b(words("desk.design")), " ", design_words(panel)), design),
    tag$form(class = "filter", `data-form` = "keep",
             tag$label(tag$span(words("desk.among")),
                       tag$input(type = "text", name = "among", `data-key` = "among", value = work$among,
                                 autocomplete = "off", spellcheck = "false", role = "combobox",
                                 `aria-expanded` = "false", `aria-controls` = "completions",
                                 placeholder = words("desk.among_example"))),
             if (!is.null(work$among))
               tag$label(tag$span(words("desk.base_words")),
                         tag$input(type = "text", name = "base", `data-key` = "base", value = work$base)),
             tag$div(class = "acts", tag$button(type = "submit", `data-key` = "keep", words("desk.keep")),
                     if (!is.null(work$among)) act_button("keep", NULL, words("desk.everybody"), key = "everybody"))),
    tag$p(class = "fault", id = "fault-who", role = "alert"),
    account_lines(sheets))
}

account_lines <- function(sheets) {
  account <- unlist(lapply(sheets, function(sheet) sheet$account))
  lapply(account, htmltools::tags$p, class = "account")
}

# "weight, strata of island, clusters of settlement", or that every record counts alike.
design_words <- function(panel) {
  role <- panel$roles
  named <- c(if (!is.null(role$weight)) words("desk.told.weight", name = role$weight),
             if (!is.null(role$stratum)) words("desk.told.stratum", name = role$stratum),
             if (!is.null(role$cluster)) words("desk.told.cluster", name = role$cluster),
             if (length(panel$replicates)) words("desk.told.replicates", number = length(panel$replicates)))
  if (length(named)) paste(named, collapse = ", ") else words("desk.told.none")
}

# Columns that look like the design's, offered once, never taken unasked.
likely_button <- function(store, work) {
  if (length(work$asked)) return(NULL)
  found <- lapply(Filter(length, likely_roles(store$data)), `[`, 1L)
  found <- found[!duplicated(unlist(found))]
  if (length(found))
    act_button("ask_all", found, words("desk.likely", columns = sprintf("%s = %s", name_of("desk.role", names(found)),
                                                                       unlist(found))), class = "likely")
}

# ---- what was done to the questions ----

steps_part <- function(work) {
  tag <- htmltools::tags
  if (!length(work$prepare)) return("")
  tag$ul(class = "steps", lapply(seq_along(work$prepare), function(k) {
    text <- step_in_words(work$prepare[[k]])
    tag$li(text, " ", act_button("unprepare", list(at = k), "\u00d7", class = "away",
                                 label = words("desk.undo_step", step = text), key = paste0("step-", k)))
  }))
}

step_in_words <- function(step) {
  with <- step$with
  told <- switch(step$verb, join = names(c(with$answers, with$missing)), net = names(with$nets),
                 band = number_text(with$breaks), order = with$answers, retitle = with$title,
                 score = number_text(unlist(with$scores)), ticks = with$columns, character())
  words(paste0("desk.step.", step$verb), question = with$question %||% with$name, told = told)
}

# ---- the list of questions ----

# Lines of text, for there may be thousands.
questions_part <- function(panel, work) {
  q <- questions_listed(panel)
  design <- unlist(panel$roles)
  safe <- function(x) htmltools::htmlEscape(x, attribute = TRUE)
  side <- vapply(q$name, function(name) side_of(work, name) %||% "", "")
  kind <- name_of("desk.kind", q$kind)
  about <- ifelse(q$name %in% design, words("desk.kind.design"), kind)
  paste(sprintf(paste0("<li role=\"option\" draggable=\"true\" tabindex=\"-1\" id=\"q-%d\" data-question=\"%s\" ",
                       "data-key=\"q-%s\" data-kind=\"%s\" aria-selected=\"false\"%s><span class=\"title\">%s</span>",
                       "<span class=\"about\"><i class=\"name\">%s</i> %s<span class=\"base\"></span></span>",
                       "<span class=\"bars\" aria-hidden=\"true\"></span></li>"),
                seq_along(q$name), safe(q$name), safe(q$name), q$kind,
                ifelse(nzchar(side), sprintf(" data-stands=\"%s\"", side), ""), safe(q$title),
                ifelse(q$title == q$name, "", safe(q$name)), about), collapse = "\n")
}

# ---- before there is a table ----

empty_parts <- function(store, window) {
  tag <- htmltools::tags
  none <- list(figure = "", trust = tag$p(class = "hint", words("desk.trust_later")), where = "", paragraph = "",
               working = "")
  c(list(table = tag$div(
    class = "empty", tag$h2(words("desk.begin")), tag$p(words("desk.begin_how")),
    tag$p(class = "hint", words("desk.begin_keys")),
    if (length(window$others)) tag$div(class = "others", tag$p(words("desk.others")), lapply(
      names(window$others), function(id) {
        act_button("take_up", list(window = id), window$others[[id]], key = paste0("other-", id))
      })))), none)
}

# ---- the table and what goes with it ----

table_parts <- function(table, sheets, work, open) {
  guarded <- guards(table$layout)
  tables <- single_tables(table)
  list(table = sheet_part(table, sheets), figure = figure_part(table, work),
       trust = trust_part(sheets), where = if (!guarded) where_part(tables) else "",
       paragraph = if (!guarded) paragraph_part(table) else "",
       working = working_part(tables, guarded, "working" %in% open))
}

sheet_part <- function(table, sheets) {
  tag <- htmltools::tags
  models <- living_models(table) %||% list(NULL)
  beside <- c("tests", "strength", "reference", "account")
  bare <- lapply(sheets, function(sheet) {
    sheet[beside] <- list(character())
    sheet$cautions <- sheet$cautions[0L, ]
    sheet
  })
  tag$section(Map(html_sheet, bare, model = models, MoreArgs = list(heading = tag$h2, titled = TRUE)))
}

trust_part <- function(sheets) {
  tag <- htmltools::tags
  lines <- lapply(sheets, function(sheet) {
    found <- lines_below(sheet)
    found <- found[found$kind %in% c("tests", "strength", "reference", "caution"), ]
    list(if (length(sheets) > 1L && nrow(found)) tag$h4(sheet$layer), html_lines(found))
  })
  if (any(vapply(sheets, function(sheet) length(sheet$tests) + length(sheet$strength) + nrow(sheet$cautions) > 0L, NA)))
    lines else tag$p(class = "hint", words("desk.nothing_to_test"))
}

# ---- the figure ----

# The usual one is drawn here from what it would be drawn from, so that it comes with the table; the others are pictures
# that follow it.
figure_part <- function(table, work) {
  tag <- htmltools::tags
  if (!has_desk_figure(table)) return("")
  kind <- work$figure
  chosen <- choice_list(words("desk.figure"), "draw", c(named_options("desk.figure_kind", c(names(figures), "none"))),
                        kind, `data-figure` = "")
  drawn <- if (kind == "shares") shares_bars(figure_data(table)) else if (kind != "none")
    tag$div(class = "picture", `data-picture` = kind, tag$p(class = "hint", words("desk.drawing")))
  list(chosen, drawn)
}

has_desk_figure <- function(table) {
  has_figure(table, "shares") || inherits(table, "fairlattice_banner") && length(table$tables) == 1L &&
    !guards(table$layout) && !any(vapply(single_tables(table), is_summed, NA))
}

# Bars of 100 %, or of a tick-all question a bar an item; as text, for there may be many.
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
                     safe(data$piece), format_percent(data$percent / 100), words("percent_sign"), data$percent, colour,
                     vapply(colour, ink_on, ""), safe(data$label))
  bar <- factor(data$bar_key, unique(data$bar_key))
  first <- match(levels(bar), data$bar_key)
  of <- function(text, more = "") sprintf("<span class=\"of\">%s%s</span>", safe(text), more)
  heads <- of(data$bar[first], sprintf("<small>%s</small>", format_count(data$base[first])))
  rows <- if (items) {
    item <- sprintf("<div class=\"bar item\">%s<span class=\"whole\">%s</span></div>", of(data$piece), segment)
    paste0("<div class=\"bar head\">", heads, "</div>", vapply(split(item, bar), paste, "", collapse = ""))
  } else sprintf("<div class=\"bar\">%s<span class=\"whole\">%s</span></div>", heads,
                 vapply(split(segment, bar), paste, "", collapse = ""))
  each <- as.character(data$each[first])
  panels <- vapply(split(rows, factor(each, unique(each))), paste, "", collapse = "")
  key <- if (!items) sprintf("<ul class=\"legend\">%s</ul>", paste(sprintf(
    "<li><i style=\"background:%s\"></i>%s</li>", colours[seq_along(pieces)], safe(pieces)), collapse = ""))
  tag$figure(class = "shares", role = "img", `aria-label` = figures$shares$tell(f), htmltools::HTML(c(key, paste0(
    "<div class=\"panel\">", ifelse(nzchar(names(panels)), sprintf("<h4>%s</h4>", safe(names(panels))), ""), panels,
    "</div>", collapse = ""))))
}

# ---- where it sits, how it comes about, what to say ----

where_part <- function(tables) {
  tag <- htmltools::tags
  tables <- Filter(function(table) !is_alone(table) && !is_summed(table), tables)
  lapply(tables, function(table) {
    several <- length(tables) > 1L
    lapply(seq_along(table$layers), function(k) {
      layer <- table$layers[[k]]
      cells <- departures_of(table)[[k]]
      if (is.null(cells)) return(NULL)
      head <- c(if (several) facts_of(table)$across$label, if (!is.na(layer$each)) layer$each)
      list(if (length(head)) tag$h4(paste(head, collapse = ", ")),
           tag$p(reading_words(layer, cells, headline_of(tests_of(table)[[k]]), table$choices$alpha, 3L)),
           strongest_cells(layer, cells))
    })
  })
}

# The strongest departures as bars to the left and right of what is expected.
strongest_cells <- function(layer, cells, most = 6L) {
  tag <- htmltools::tags
  names <- cells_of_layer(layer)
  r <- cells$adjusted_residual
  at <- utils::head(order(-abs(r), na.last = NA), most)
  if (!length(at)) return(NULL)
  width <- 50 * abs(r[at]) / max(abs(r[at]), 5)
  tag$ul(class = "strongest", lapply(seq_along(at), function(k) {
    cell <- at[k]
    mark <- cells$mark[cell]
    tag$li(tag$span(class = "which", names$down[cell], " \u00d7 ", names$across[cell]),
           tag$span(class = "swing", `aria-hidden` = "true", tag$i(
             class = if (r[cell] > 0) "more" else "fewer",
             style = sprintf("width:%.2f%%;%s:50%%", width[k], if (r[cell] > 0) "left" else "right"))),
           tag$span(class = "figure", with_sign(r[cell]), if (nzchar(mark)) mark_signs[[mark]]))
  }))
}

paragraph_part <- function(table) {
  tag <- htmltools::tags
  text <- paragraphs_with(table)
  list(lapply(text, tag$p, class = "write-up"),
       if (length(text)) copy_button(paste(text, collapse = "\n\n"), "paragraph"))
}

copy_button <- function(text, key) {
  htmltools::tags$button(type = "button", class = "copy", `data-copy` = text, `data-key` = paste0("copy-", key),
                         words("page.copy"))
}

# Worked out only while it is looked at.
working_part <- function(tables, guarded, open) {
  tag <- htmltools::tags
  able <- Filter(function(table) !guarded && !is_alone(table) && !any(ticks_in(table$tally)) && !is_summed(table),
                 tables)
  if (!length(able)) return("")
  tag$details(class = "step-by-step", `data-open` = "working", open = if (open) NA,
              tag$summary(`data-key` = "working", words("section.working")),
              if (open) lapply(able, function(table) lapply(table$layers, function(layer) {
                one <- working(table, if (!is.na(layer$each)) layer$each)
                lapply(parts_of(one, Inf), function(part) {
                  if (part$kind == "said") lapply(part$text[nzchar(part$text)], tag$p) else
                    if (part$kind == "columns") tag$div(class = "scroll", tabindex = "0", role = "group",
                                                        `aria-label` = words("section.working"), html_columns(part))
                })
              })))
}

# ---- handing on ----

# One file a form; forms of one figure alone are for one table.
forms_offered <- function() {
  stats::setNames(sprintf(".%s \u2013 %s", names(writers), vapply(writers, `[[`, "", "what")), names(writers))
}

tray_part <- function(store, window) {
  tag <- htmltools::tags
  work <- window$now
  tray <- work$tray
  size <- length(tray)
  list(
    if (!is.null(work$down)) act_button("tray_put", NULL, words("desk.into_tray"), class = "main"),
    if (size) tag$ol(class = "tray", lapply(seq_along(tray), function(k) {
      title <- title_of_work(store, tray[[k]])
      tag$li(draggable = "true", `data-tray` = k, tag$div(
             act_button("tray_open", list(at = k), title, class = "open", key = paste0("tray-", k)),
             tag$span(class = "acts",
                      act_button("tray_move", list(at = k, to = k - 1L), "\u2191",
                                 label = words("desk.up", title = title),
                                 key = paste0("up-", k), disabled = k == 1L),
                      act_button("tray_move", list(at = k, to = k + 1L), "\u2193",
                                 label = words("desk.down", title = title), key = paste0("lower-", k),
                                 disabled = k == size),
                      act_button("tray_drop", list(at = k), "\u00d7", class = "away",
                                 label = words("desk.take_away", question = title), key = paste0("out-", k)))))
    })),
    if (size || !is.null(work$down)) tag$form(
      class = "publish", `data-form` = "publish",
      choice_list(words("desk.publish"), "publish-what", c(
        if (!is.null(work$down)) c(table = words("desk.this_table")),
        if (size) c(tray = words("desk.the_tray", number = size))), if (size) "tray" else "table", name = "what"),
      choice_list(words("desk.as"), "publish-form", forms_offered(), "html", name = "form"),
      tag$button(type = "submit", `data-key` = "publish", class = "main", words("desk.save"))),
    tag$p(class = "fault", id = "fault-publish", role = "alert"))
}

title_of_work <- function(store, work) {
  if (!is.null(work$settings$title)) return(work$settings$title)
  panel <- prepared_of_work(store, work)
  label <- function(name) first_line(title_of(panel$data[[name]], name))
  words("desk.title", down = label(work$down), across = vapply(work$across, label, ""),
        each = if (!is.null(work$each)) label(work$each), among = work$base %||% work$among)
}

# Worked out only while they are looked at.
leave_part <- function(store, work, open) {
  tag <- htmltools::tags
  one <- function(name, made) {
    is_open <- name %in% open
    tag$details(class = "leave", `data-open` = name, open = if (is_open) NA,
                tag$summary(`data-key` = name, words(paste0("desk.leave.", name))),
                if (is_open) {
                  found <- made()
                  if (is.null(found$text)) tag$p(class = "hint", found$why) else
                    list(tag$pre(tabindex = "0", found$text), copy_button(found$text, name))
                })
  }
  works <- if (length(work$tray)) work$tray else if (!is.null(work$down)) list(work)
  if (is.null(work$down) && !length(works)) return("")
  list(one("code", function() list(text = paste(code_of_work(store, work), collapse = "\n"))),
       one("command", function() command_of_work(store, work)),
       if (length(works)) one("plan", function() plan_of_works(store, works)))
}

history_part <- function(window) {
  told <- function(which, stack) {
    last <- if (length(stack)) stack[[length(stack)]]$did
    what <- if (!is.null(last)) words(paste0("desk.did.", last))
    act_button(which, NULL, words(paste0("desk.", which)), disabled = !length(stack),
               label = words(paste0("desk.", which, "_what"), what = what))
  }
  list(told("undo", window$past), told("redo", window$coming))
}
