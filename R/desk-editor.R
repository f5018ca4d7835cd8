# The editor of a question's answers: joined, taken as a net, left out, put in
# order, scored, cut into bands, and what would come of it before it is done.

answers_editor <- function(survey, question) {
  tag <- htmltools::tags
  note <- if (question %in% unlist(survey$roles))
    tag$p(class = "hint", words("desk.is_design"))
  found <- question_answers(survey, question)
  title <- question_title(survey, question)
  number <- found$kind == "number"
  tag$div(
    class = "editor", `data-question` = question,
    tag$h2(id = "editor-title", title),
    tag$p(class = "hint", tag$code(question), " \u00b7 ",
          name_of("desk.kind", found$kind)), note,
    tag$div(class = "two",
            tag$div(if (number) number_verbs(question) else answer_verbs(found),
                    ticks_verb(survey, question, found),
                    battery_verb(survey, question, found),
                    verb_form("retitle", words("desk.verb.retitle"),
                              field(words("desk.new_title"), "title", title)),
                    tag$p(class = "fault", id = "fault-editor",
                          role = "alert")),
            tag$div(class = "preview", `aria-live` = "polite", id = "preview",
                    tag$h3(words("desk.as_it_is")), answers_table(found))),
    tag$div(class = "acts end",
            tag$button(type = "button", class = "close", `data-close` = NA,
                       `data-key` = "close", words("desk.close"))))
}

# A field of a step: `name` is its key; `several` says of what it holds a list,
# "texts" or "numbers".
field <- function(label, name, value = NULL, several = NULL, ...) {
  tag <- htmltools::tags
  tag$label(class = "field", tag$span(label),
            tag$input(type = "text", name = name, value = value,
                      autocomplete = "off", `data-several` = several, ...))
}

# A verb with its fields, of which the page makes a step. `takes` says what else
# goes into it under the key `key`: the answers that are "chosen", by the name
# in the field `called`; their "order"; or their "scores".
verb_form <- function(verb, label, ..., takes = NULL, key = NULL,
                      button = verb) {
  tag <- htmltools::tags
  tag$form(class = "verb", `data-verb` = verb, `data-takes` = takes,
           `data-into` = key, ...,
           tag$button(type = "submit", `data-key` = paste0("verb-", button),
                      label))
}

number_verbs <- function(question) {
  tag <- htmltools::tags
  list(tag$h3(words("desk.bands")),
       verb_form("band", words("desk.verb.band"),
                 field(words("desk.breaks"), "breaks", several = "numbers",
                       placeholder = "18, 35, 50, 65"),
                 field(words("desk.into"), "into", paste0(question, "_group"))),
       tag$h3(words("desk.scores")),
       tag$p(class = "hint", words("desk.mean_of_number")),
       verb_form("score", words("desk.verb.score")))
}

answer_verbs <- function(found) {
  tag <- htmltools::tags
  ticks <- found$kind == "ticks"
  scores <-
    found$scores %||% if (found$kind == "ordered") seq_along(found$answers)
  list(
    tag$fieldset(class = "answers", tag$legend(words("desk.choose_answers")),
                 if (!ticks)
                   tag$div(class = "head",
                           tag$span(words("desk.score_and_order"))),
                 tag$ol(Map(function(answer, k) {
                   tag$li(tag$label(tag$input(
                     type = "checkbox", value = answer), " ", tag$span(answer)),
                          if (!ticks)
                            tag$span(class = "acts",
                                     tag$input(
                                       type = "number", step = "any",
                                       class = "score", name = "score",
                                       value = if (!is.null(scores))
                                         scores[[k]],
                                       `aria-label` = words(
                                         "desk.score_of", answer = answer)),
                                     tag$button(
                                       type = "button", `data-move` = "-1",
                                       `aria-label` = words(
                                         "desk.up", title = answer), "\u2191"),
                                     tag$button(
                                       type = "button", `data-move` = "1",
                                       `aria-label` = words(
                                         "desk.down", title = answer),
                                       "\u2193")))
                 }, found$answers, seq_along(found$answers),
                            USE.NAMES = FALSE))),
    if (!ticks)
      verb_form("regroup", words("desk.verb.regroup"),
                field(words("desk.new_answer"), "called"), takes = "chosen",
                key = "answers"),
    verb_form("net", words("desk.verb.net"),
              field(words("desk.new_net"), "called"), takes = "chosen",
              key = "nets"),
    if (!ticks)
      verb_form("regroup", words("desk.verb.leave"),
                field(words("desk.reason"), "called",
                      words("desk.reason_usual")), takes = "chosen",
                key = "missing", button = "leave"),
    if (!ticks)
      tag$div(class = "pair",
              verb_form("order_answers", words("desk.verb.order_answers"),
                        takes = "order", key = "answers"),
              verb_form("score", words("desk.verb.score"), takes = "scores",
                        key = "scores")))
}

# A column of two answers beside others of its kind may be an item of a tick-all
# question.
ticks_verb <- function(survey, question, found) {
  if (!found$kind %in% c("answers", "ordered") || length(found$answers) > 2L)
    return(NULL)
  columns_verb("ticks", words("desk.verb.ticks"), words("desk.items"), survey, question,
               likely_ticks)
}

# A question that shares its answers with others may be a statement of a battery.
battery_verb <- function(survey, question, found) {
  if (!found$kind %in% c("answers", "ordered") || length(found$answers) < 3L ||
        is_far(survey) || is_battery(survey, question)) return(NULL)
  columns_verb("battery", words("desk.verb.battery"), words("desk.statements"), survey,
               question, likely_batteries)
}

# A verb that makes one question of several columns: of those that `likely` finds
# to belong together the ones that this question is among.
columns_verb <- function(verb, called, columns_called, survey, question, likely) {
  sets <- likely(met_columns(survey), setdiff(names(survey$data), unlist(survey$roles)))
  own <- Filter(function(set) question %in% set, sets)
  if (length(own))
    verb_form(verb, called,
              field(columns_called, "columns",
                    paste(own[[1L]], collapse = ", "), several = "texts"),
              field(words("desk.into"), "name", names(own)))
}

# What there is, or what would be: answers with respondents and shares, and who
# has none.
answers_table <- function(found) {
  tag <- htmltools::tags
  left <- function(reason, records) {
    tag$tr(class = "left", tag$th(scope = "row", reason),
           tag$td(format_count(records)), tag$td())
  }
  if (found$kind == "number")
    return(tag$p(paste0(words("line.respondents"), ": ",
                        format_count(found$picture$n), ". ",
                        found$picture$range)))
  row <- function(answer, n, share, class = NULL) {
    tag$tr(class = class, tag$th(scope = "row", answer),
           tag$td(format_count(n)), tag$td(format_percent(share)))
  }
  netted <- lapply(names(found$nets), function(net) {
    inside <- found$answers %in% found$nets[[net]]
    # of ticks a net is no sum: the table has it
    if (found$kind == "ticks") return(row(net, NA, NA, "net"))
    row(net, sum(found$n[inside]), sum(found$share[inside]), "net")
  })
  tag$table(class = "plain",
            tag$thead(tag$tr(tag$td(),
                             tag$th(scope = "col", words("desk.show.n")),
                             tag$th(scope = "col", words("percent_sign")))),
            tag$tbody(Map(row, found$answers, found$n, found$share,
                          USE.NAMES = FALSE), netted,
                      Map(left, found$left$reason, found$left$records,
                          USE.NAMES = FALSE)))
}

step_preview <- function(store, after, shown, work, changed) {
  tag <- htmltools::tags
  found <- question_answers(after, shown)
  list(tag$h3(words("desk.as_it_would_be",
                    question = question_title(after, shown))),
       answers_table(found), account_preview(store, work, changed))
}

# The account of the table that stands, before and after.
account_preview <- function(store, work, changed) {
  tag <- htmltools::tags
  used <- function(work) {
    table <- table_of_work(store, work)
    if (is.null(table)) return(NULL)
    account <- account_of(single_tables(table)[[1L]]$tally)
    c(used = account$used, records = account$records)
  }
  now <- used(work)
  if (is.null(now)) return(NULL)
  then <- used(changed)
  tag$p(class = "account",
        words("desk.account_after", before = now[["used"]],
              after = then[["used"]], records = then[["records"]]))
}
