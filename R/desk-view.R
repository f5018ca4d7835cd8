# What the desk shows of a work, a part of the page each, as HTML. Parts know
# nothing of the page: it puts each in its place and sends back what is asked of
# them (`data-act`, `data-with`, `data-set`).

# All parts of a work. `desk` is a window of it: the work, what was done before,
# and which parts are open.
desk_parts <- function(store, window) {
  work <- window$now
  survey <- prepared_of_work(store, work)
  table <- table_of_work(store, work)
  sheets <- if (!is.null(table))
    in_style(table$layout$style, desk_sheets(table))
  asked <- list(work$asked, steps_of(work))
  kept <- function(name, key, part) {
    once(store$parts, hash_of(name, asked, key), NULL, rendered(part),
         most = 300L)
  }
  parts <- list(history = rendered(history_part(window)),
                brief = kept("brief", work[sides], brief_part(survey, work)),
                choices = rendered(if (!is.null(table))
                                     choices_part(table, work, window$open)),
                design = kept("design", work$one_per,
                              design_part(store, survey, work)),
                who = kept("who",
                           list(work[c("among", "base")],
                                account_texts(table, sheets)),
                           who_part(work, table, sheets)),
                steps = rendered(steps_part(work)),
                tray = kept("tray", work, tray_part(store, window)),
                leave = rendered(leave_part(store, work, window$open)),
                questions = kept("questions", NULL,
                                 htmltools::HTML(questions_part(survey))))
  c(parts,
    if (is.null(table)) empty_parts(window) else
      table_parts(table, sheets, work, window$open, kept))
}

# The sheets with all lines, to be taken apart: some stand under the table, some
# beside it.
desk_sheets <- function(table) {
  table$layout$dress <- "working"
  if (!guards(table$layout)) table$layout$lines <- "working"
  table$layout$source <- FALSE
  sheets_of(table)
}

# ---- the sentence: what is compared ----

brief_part <- function(survey, work) {
  tag <- htmltools::tags
  title <- function(name) question_title(survey, name)
  slot <- function(side, before, questions, room) {
    tag$div(class = "slot", `data-side` = side,
            tag$span(class = "says", before),
            lapply(questions, function(name) chip(name, title(name), side)),
            if (room)
              tag$button(type = "button", class = "add", `data-add` = side,
                         `data-key` = paste0("add-", side),
                         words(paste0("desk.add.", side))))
  }
  tag$div(class = "brief",
          slot("down", words("desk.compare"), work$down, is.null(work$down)),
          slot("across", words("desk.by"), work$across, TRUE),
          slot("each", words("desk.each"), work$each, is.null(work$each)))
}

# A question where it stands: its name opens its answers, the cross takes it
# away.
chip <- function(name, title, side) {
  tag <- htmltools::tags
  tag$span(class = "chip", draggable = "true", `data-question` = name,
           `data-from` = side,
           tag$button(type = "button", class = "open", `data-answers` = name,
                      `data-key` = paste0("chip-", name),
                      title = words("desk.open_answers", question = title,
                                    across = side == "across"), title),
           act_button("drop", list(question = name, side = side), "\u00d7",
                      class = "away",
                      label = words("desk.take_away", question = title),
                      key = paste0("away-", name)))
}

# ---- how it is shown ----

choices_part <- function(table, work, open) {
  tag <- htmltools::tags
  set <- work$settings
  one <- single_tables(table)[[1L]]
  alone <- !has(one, "across")
  percent <- if (identical(set$percent, "none")) "none" else one$choices$percent
  tag$div(
    class = "choices",
    if (!alone)
      choice_list(words("page.percentages_of"), "set-percent",
                  named_options("view_base_short",
                                c("column", "row", "total", "none")), percent,
                  `data-set` = "percent"),
    show_choices(set$show %||% character(), alone, percent),
    if (!alone)
      choice_list(words("desk.marks"), "set-marks",
                  named_options("desk.mark", mark_kinds),
                  set$marks %||% "residuals", `data-set` = "marks"),
    choice_list(words("page.sort"), "set-sort",
                sort_options(one, alone),
                set$sort %||% "asked", `data-set` = "sort"),
    number_field(words("desk.decimals"), "decimals",
                 set$decimals %||% setting("digits"), 0, 6),
    tag$details(class = "extra", `data-open` = "more",
                tag$summary(`data-key` = "more", words("desk.more")),
                if ("more" %in% open) more_settings(set)),
    tag$div(class = "acts",
            if (length(work$across) == 1L)
              act_button("turn", NULL, words("desk.turn")),
            act_button("clear", NULL, words("desk.clear"))))
}

# By what a table can be sorted: a rule, or an answer or net of its.
sort_options <- function(x, alone) {
  scored <- !is.null(facts_of(x)[[listed_side(x)]]$scores)
  rules <- if (alone) sorts[1:2] else setdiff(sorts, if (!scored) "mean")
  names <- if (!alone) c(columns_named_across(x), lines_named_down(x))
  c(named_options("desk.sort", rules), stats::setNames(names, names))
}

# What else may stand in a cell, besides the percentage.
show_choices <- function(show, alone, percent) {
  tag <- htmltools::tags
  own <- if (percent == "none") "n" else percent
  offered <- setdiff(names(cell_figures),
                     c(own,
                       if (alone)
                         c("row", "total", "index", "expected", "residual", "pearson",
                           "adjusted", "contribution", "difference",
                           "difference_interval") else "cumulative", "given"))
  tag$details(class = "extra", `data-open` = "show",
              tag$summary(`data-key` = "show", words("desk.in_cell")),
              tag$fieldset(`data-show` = own,
                           tag$legend(class = "spoken", words("desk.in_cell")),
                           lapply(offered, function(figure) {
                             tag$label(tag$input(
                               type = "checkbox", value = figure,
                               `data-key` = paste0("show-", figure),
                               checked = if (figure %in% show) NA), " ",
                                       name_of("desk.show", figure))
                           })))
}

# Every other setting of a plan, by its kind: what a plan may say, the desk may.
set_elsewhere <- c("percent", "show", "marks", "sort", "decimals", "figure", "write_up",
                   "along", "labels", "source")

more_settings <- function(set) {
  tag <- htmltools::tags
  keys <- desk_settings()
  keys <- keys[setdiff(names(keys), set_elsewhere)]
  tag$div(class = "settings",
          lapply(names(keys), function(name) {
            key <- keys[[name]]
            value <- set[[name]]
            about <- sentence_case(key$about)
            key_name <- paste0("set-", name)
            tag$div(class = "setting",
                    switch(
                      key$kind,
                      choice = choice_list(
                        about, key_name,
                        c(stats::setNames(words("desk.by_default"), ""),
                          stats::setNames(
                            gsub("_", " ", key$choices), key$choices)),
                        value %||% "", `data-set` = name),
                      flag = tag$label(class = "choice", tag$span(about),
                                       tag$input(
                                         type = "checkbox", `data-set` = name,
                                         `data-key` = key_name,
                                         checked = if (isTRUE(value)) NA)),
                      number = number_field(about, name, value, step = "any"),
                      choices = tag$fieldset(
                        `data-several` = name, tag$legend(about),
                        lapply(key$choices, function(one) {
                          tag$label(tag$input(
                                      type = "checkbox", value = one,
                                      `data-key` = paste0(key_name, "-", one),
                                      checked = if (one %in% value) NA), " ",
                                    gsub("_", " ", one))
                        })),
                      tag$label(class = "choice", tag$span(about),
                                tag$input(
                                  type = "text", `data-set` = name,
                                  `data-key` = key_name,
                                  value = paste(value, collapse = "; ")))))
          }))
}

# ---- who is in it ----

shown_roles <- c("weight", "stratum", "cluster", "id", "count")

design_part <- function(store, survey, work) {
  tag <- htmltools::tags
  columns <- names(store$columns)
  none <- stats::setNames(words("desk.none"), "")
  design <- if (store$given)
    tag$p(class = "given", words("desk.design_given")) else
    list(lapply(shown_roles, function(role) {
      choice_list(words(paste0("desk.role.", role)), paste0("ask-", role),
                  c(none, stats::setNames(columns, columns)),
                  work$asked[[role]] %||% "", `data-role` = role)
    }), likely_button(store, work),
         if (!is.null(work$asked$id) && !is_source(store$records))
           choice_list(words("desk.one_per"), "one-per",
                       c(stats::setNames(words("desk.one_per.all"), ""),
                         named_options("desk.one_per", c("first", "last"))),
                       work$one_per %||% "", `data-one-per` = ""))
  tag$details(class = "design", `data-open` = "design",
              open = if (!length(work$asked)) NA,
              tag$summary(`data-key` = "design", tag$b(words("desk.design")),
                          " ", design_words(survey)), design)
}

who_part <- function(work, table, sheets) {
  tag <- htmltools::tags
  tag$div(
    tag$form(class = "filter", `data-form` = "keep",
             tag$label(tag$span(words("desk.among")),
                       tag$input(type = "text", name = "among",
                                 `data-key` = "among", value = work$among,
                                 autocomplete = "off", spellcheck = "false",
                                 role = "combobox", `aria-expanded` = "false",
                                 `aria-controls` = "completions",
                                 placeholder = words("desk.among_example"))),
             if (!is.null(work$among))
               tag$label(tag$span(words("desk.base_words")),
                         tag$input(type = "text", name = "base",
                                   `data-key` = "base", value = work$base)),
             tag$div(class = "acts",
                     tag$button(type = "submit", `data-key` = "keep",
                                words("desk.keep")),
                     if (!is.null(work$among))
                       act_button("keep", NULL, words("desk.everybody"),
                                  key = "everybody"))),
    tag$p(class = "fault", id = "fault-who", role = "alert"),
    lapply(account_texts(table, sheets), tag$p, class = "account"))
}

# With a table an answer of `each`, what is true of all of them is said once.
account_texts <- function(table, sheets) {
  if (is.null(table)) return(NULL)
  one <- single_tables(table)[[1L]]
  if (length(one$layers) < 2L || guards(table$layout))
    return(unlist(lapply(sheets, function(sheet) sheet$account)))
  c(account_line(one, one$layers[[1L]], own = FALSE),
    list_some(sprintf("%s: %s",
                       vapply(one$layers, function(layer) layer$each, ""),
                       format_count(vapply(
                                      one$layers, function(layer) layer$base$n,
                                      0)))))
}

# "weight, strata of island, clusters of settlement", or that every record
# counts alike.
design_words <- function(survey) {
  role <- survey$roles
  named <- c(if (!is.null(role$weight))
               words("desk.told.weight", name = role$weight),
             if (!is.null(role$stratum))
               words("desk.told.stratum", name = role$stratum),
             if (!is.null(role$cluster))
               words("desk.told.cluster", name = role$cluster),
             if (length(survey$replicates))
               words("desk.told.replicates",
                     number = length(survey$replicates)))
  if (length(named)) paste(named, collapse = ", ") else words("desk.told.none")
}

# Columns that look like the design's, offered once, never taken unasked.
likely_button <- function(store, work) {
  if (length(work$asked)) return(NULL)
  found <- lapply(Filter(length, likely_roles(store$columns)), `[`, 1L)
  found <- found[!duplicated(unlist(found))]
  if (length(found))
    act_button("ask_all", found,
               words("desk.likely",
                     columns = sprintf("%s = %s",
                                       name_of("desk.role", names(found)),
                                       unlist(found))), class = "likely")
}

# ---- what was done to the questions ----

steps_part <- function(work) {
  tag <- htmltools::tags
  if (!length(work$prepare)) return("")
  tag$ul(class = "steps",
         lapply(seq_along(work$prepare), function(k) {
           text <- step_told(work$prepare[[k]])
           tag$li(text, " ",
                  act_button("unprepare", list(at = k), "\u00d7",
                             class = "away",
                             label = words("desk.undo_step", step = text),
                             key = paste0("step-", k)))
         }))
}

step_told <- function(step) {
  told <- prepare_steps()[[step$verb]]$told(step$with)
  words(paste0("desk.step.", step$verb),
        question = step$with$question %||% step$with$name, told = told)
}

# ---- the list of questions ----

# Lines of text, for there may be thousands.
questions_part <- function(survey) {
  q <- questions_listed(survey)
  design <- unlist(survey$roles)
  safe <- function(x) htmltools::htmlEscape(x, attribute = TRUE)
  kind <- name_of("desk.kind", q$kind)
  about <- ifelse(q$name %in% design, words("desk.kind.design"), kind)
  paste(sprintf(paste0(paste("<li role=\"option\" draggable=\"true\"",
                             "tabindex=\"-1\" id=\"q-%d\"",
                             "data-question=\"%s\" "),
                       paste("data-key=\"q-%s\" data-kind=\"%s\"",
                             "aria-selected=\"false\"><span",
                             "class=\"title\">%s</span>"),
                       paste("<span class=\"about\"><i class=\"name\">%s</i>",
                             "%s<span class=\"base\"></span></span>"),
                       "<span class=\"bars\" aria-hidden=\"true\"></span></li>"),
                seq_along(q$name), safe(q$name), safe(q$name), q$kind,
                safe(q$title), ifelse(q$title == q$name, "", safe(q$name)),
                about), collapse = "\n")
}

# ---- before there is a table ----

empty_parts <- function(window) {
  tag <- htmltools::tags
  none <- list(figure = "",
               trust = rendered(tag$p(class = "hint",
                                      words("desk.trust_later"))), where = "",
               paragraph = "", working = "")
  c(list(table = rendered(tag$div(
    class = "empty", tag$h2(words("desk.begin")),
    tag$p(words("desk.begin_how")),
    tag$p(class = "hint", words("desk.begin_keys")),
    if (length(window$others))
      tag$div(class = "others", tag$p(words("desk.others")),
              lapply(
                names(window$others),
                function(id) {
                  act_button("take_up", list(window = id), window$others[[id]],
                             key = paste0("other-", id))
                }))))), none)
}
