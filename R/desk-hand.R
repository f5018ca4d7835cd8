# The parts of the desk that hand on what was done: the tray, files, code, and
# undoing.

# One file a form; forms of one figure alone are for one table.
forms_offered <- function() {
  stats::setNames(sprintf(".%s \u2013 %s", names(writers),
                          vapply(writers, `[[`, "", "what")), names(writers))
}

tray_part <- function(store, window) {
  tag <- htmltools::tags
  work <- window$now
  tray <- work$tray
  size <- length(tray)
  list(
    if (!is.null(work$down))
      act_button("tray_put", NULL, words("desk.into_tray"), class = "main"),
    if (size)
      tag$ol(class = "tray",
             lapply(seq_along(tray), function(k) {
               title <- title_of_work(store, tray[[k]])
               tag$li(draggable = "true", `data-tray` = k,
                      tag$div(
                        act_button("tray_open", list(at = k), title,
                                   class = "open", key = paste0("tray-", k)),
                        tag$span(class = "acts",
                                 act_button(
                                   "tray_move", list(at = k, to = k - 1L),
                                   "\u2191",
                                   label = words("desk.up", title = title),
                                   key = paste0("up-", k), disabled = k == 1L),
                                 act_button(
                                   "tray_move", list(at = k, to = k + 1L),
                                   "\u2193",
                                   label = words("desk.down", title = title),
                                   key = paste0("lower-", k),
                                   disabled = k == size),
                                 act_button(
                                   "tray_drop", list(at = k), "\u00d7",
                                   class = "away",
                                   label = words(
                                     "desk.take_away", question = title),
                                   key = paste0("out-", k)))))
             })),
    if (size || !is.null(work$down))
      tag$form(
        class = "publish", `data-form` = "publish",
        choice_list(words("desk.publish"), "publish-what",
                    c(
                      if (!is.null(work$down))
                        c(table = words("desk.this_table")),
                      if (size)
                        c(tray = words("desk.the_tray", number = size))),
                    if (size) "tray" else "table", name = "what"),
        choice_list(words("desk.as"), "publish-form", forms_offered(), "html",
                    name = "form"),
        tag$button(type = "submit", `data-key` = "publish", class = "main",
                   words("desk.save"))),
    tag$p(class = "fault", id = "fault-publish", role = "alert"))
}

title_of_work <- function(store, work) {
  if (!is.null(work$settings$title)) return(work$settings$title)
  survey <- prepared_of_work(store, work)
  label <- function(name) question_title(survey, name)
  words("desk.title", down = label(work$down),
        across = vapply(work$across, label, ""),
        each = if (!is.null(work$each)) label(work$each),
        among = work$base %||% work$among)
}

# Worked out only while they are looked at.
leave_part <- function(store, work, open) {
  tag <- htmltools::tags
  one <- function(name, made) {
    is_open <- name %in% open
    tag$details(class = "leave", `data-open` = name, open = if (is_open) NA,
                tag$summary(`data-key` = name,
                            words(paste0("desk.leave.", name))),
                if (is_open) {
                  found <- made()
                  if (is.null(found$text)) tag$p(class = "hint", found$why) else
                    list(tag$pre(tabindex = "0", found$text),
                         copy_button(found$text, name))
                })
  }
  works <- if (length(work$tray)) work$tray else if (!is.null(work$down))
    list(work)
  if (is.null(work$down) && !length(works)) return("")
  list(one("code", function() {
    list(text = paste(code_of_work(store, work), collapse = "\n"))
  }), one("command", function() command_of_work(store, work)),
       if (length(works)) one("plan", function() plan_of_works(store, works)))
}

history_part <- function(window) {
  told <- function(which, stack) {
    last <- if (length(stack)) stack[[length(stack)]]$did
    what <- if (!is.null(last)) words(paste0("desk.did.", last))
    act_button(which, NULL, words(paste0("desk.", which)),
               disabled = !length(stack),
               label = words(c(undo = "desk.undo_what",
                               redo = "desk.redo_what")[[which]], what = what))
  }
  list(told("undo", window$past), told("redo", window$coming))
}
