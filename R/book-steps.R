# The steps that prepare questions, an entry each. Plans, the desk, the command
# line, their help, and the R code and commands that leave the desk are made
# from it.
#   about    what the step does, in a line
#   keys     what a plan may say of it
#   call     the call of R that does it to `survey`; `name` makes a column's name part of a call
#   rank     its place among the steps of a command, whatever order its options stand in
#   parts    the keys that hold questions which go into the new one as they are
#   told     what the desk says of it beside the question
#   options  the options of the command line that ask for it, by name
prepare_step <- function(about, keys, call, rank, parts = NULL,
                         told = function(with) character(), options = list()) {
  list(about = about, keys = keys, call = call, rank = rank, parts = parts,
       told = told, options = options)
}

# An option: the sign for its value and what it is for, in the help; the keys of
# the step that it can say; and the two ways between its words and those keys.
# `example` stands in the help and in errors. What is read is a name, a value
# and the flag that they stood behind.
step_option <- function(value, help, example, takes, read, write) {
  help <- c(sprintf("%s, such as '%s'", help[1L], example), help[-1L])
  list(value = value, help = paste(help, collapse = "; "), example = example,
       takes = takes, read = read, write = write)
}

# NAME=ITEM,ITEM: `name` and `items` are the keys of the two.
list_option <- function(value, help, example, name, items) {
  step_option(value, help, example, c(name, items), read = function(part) {
    stats::setNames(list(part$name, words_in(part$value, ",")), c(name, items))
  }, write = function(with) {
    if (length(with[[items]]))
      sprintf("%s=%s", with[[name]], paste(with[[items]], collapse = ","))
  })
}

# NAME=ITEM,ITEM as above; "; all" behind them is of those who answered all.
battery_option <- function(help) {
  option <- list_option("NAME=COLUMNS", help, "say=say_council,say_ferry", "name",
                        "columns")
  option$takes <- c(option$takes, "answered")
  of_all <- "; *all$"
  utils::modifyList(option, list(
    read = function(part) {
      whole <- grepl(of_all, part$value)
      part$value <- sub(of_all, "", part$value)
      c(option$read(part), if (whole) list(answered = "all"))
    },
    write = function(with) {
      paste0(option$write(with), if (identical(with$answered, "all")) "; all")
    }))
}

# NAME=NEW: OLD, OLD; ...: answers under other names, which are the key
# `answers`.
answers_option <- function(value, help, example, answers, bare = NULL) {
  step_option(value, help, example, c("question", answers),
              read = function(part) {
                stats::setNames(list(part$name, answers_in_words(part, bare)),
                                c("question", answers))
              }, write = function(with) {
                if (!length(with[[answers]])) return(NULL)
                taken <- vapply(with[[answers]], function(one) {
                  paste(unlist(one), collapse = ", ")
                }, "")
                sprintf("%s=%s", with$question,
                        paste(sprintf("%s: %s", names(taken), taken),
                              collapse = "; "))
              })
}

prepare_steps <- function() {
  list(
    one_per = prepare_step(
      "one record a person",
      list(id = needed(new_key("text", "column that says who it is")),
           keep = new_key("text", "first, last, or a condition")),
      call = function(with, name) {
        code_call("one_per", quote(survey), name(with$id), with$keep)
      },
      rank = 0),
    band = prepare_step(
      "cut a number into bands",
      list(question = the_question(),
           breaks = new_key("numbers", "where bands begin"),
           n = new_key("number",
                       "or how many bands of about as many respondents"),
           width = new_key("number", "or how wide they are"),
           labels = new_key("texts", "what the bands are called"),
           closed = new_key("choice", "which end belongs to a band",
                            choices = c("left", "right")),
           least = new_key("number", "bands of fewer records are joined"),
           into = new_key("text",
                          "the name of a new question, so that the number stays")),
      call = function(with, name) {
        code_call("band", quote(survey), name(with$question),
                  breaks = unlist(with$breaks), n = with[["n"]],
                  width = with$width, labels = unlist(with$labels),
                  closed = with$closed, least = with$least, into = with$into)
      },
      rank = 1, told = function(with) number_text(unlist(with$breaks)),
      options = list(band = step_option(
        "NAME=BREAKS",
        c("cut a number into bands that begin at these values",
          "'age_group=age:18,35,65' makes a new question of them"),
        "age=18,25,35,50,65", c("question", "breaks", "into"),
        read = function(part) {
          breaks <- numbers_in_words(sub("^[^:]*:", "", part$value), part$flag)
          if (!grepl(":", part$value, fixed = TRUE))
            return(list(question = part$name, breaks = breaks))
          list(question = trimws(sub(":.*", "", part$value)), breaks = breaks,
               into = part$name)
        },
        write = function(with) {
          breaks <- paste(number_text(unlist(with$breaks)), collapse = ",")
          if (is.null(with$into)) sprintf("%s=%s", with$question, breaks) else
            sprintf("%s=%s:%s", with$into, with$question, breaks)
        }))),
    ticks = prepare_step(
      "a tick-all question",
      list(name = new_key("text", "the name of the new question"),
           columns = new_key("texts", "the columns of its items"),
           question = new_key("text", "or one column that holds all ticks"),
           split = new_key("text", "what parts them there"),
           label = new_key("text", "the title of the question"),
           none = new_key("text",
                          "text of the column that says that nothing was ticked")),
      call = function(with, name) {
        made_of <- if (is.null(with$split)) with$columns else with$question
        items <- stats::setNames(list(several_code(made_of, name)),
                                 with$name %||% with$question)
        code_call("ticks", quote(survey), !!!items, label = with$label,
                  split = with$split, none = with$none)
      },
      rank = 2, parts = "columns", told = function(with) with$columns,
      options = list(
        ticks = list_option("NAME=COLUMNS",
                            "make a tick-all question of columns",
                            "reasons=reason_work,reason_housing", "name",
                            "columns"),
        split = step_option(
          "NAME=SIGN",
          "make a tick-all question of one column whose ticks are separated by a sign",
          "reasons=;",
          c("question", "split"),
          read = function(part) {
            if (!nzchar(part$value))
              stop_input(tells("sign_parts_ticks_missing", part$flag), "words")
            list(question = part$name, split = part$value)
          },
          write = function(with) {
            if (!is.null(with$split))
              sprintf("%s=%s", with$question, with$split)
          }))),
    battery = prepare_step(
      "statements with the same answers",
      list(name = needed(new_key("text", "the name of the new question")),
           columns = needed(new_key("texts", "the columns of its statements")),
           label = new_key("text", "the title of the question"),
           answered = new_key("choice", "who is in it: whoever answered any, or all",
                              choices = c("any", "all"))),
      call = function(with, name) {
        statements <- stats::setNames(list(several_code(with$columns, name)),
                                      with$name)
        code_call("battery", quote(survey), !!!statements, label = with$label,
                  answered = with$answered)
      },
      rank = 5.5, parts = "columns", told = function(with) with$columns,
      options = list(
        battery = battery_option(paste(
          "make one question of statements with the same answers ('; all' behind",
          "them: of those who answered all)")))),
    regroup = prepare_step(
      "answers taken together as new ones",
      list(question = the_question(),
           answers = new_key("named_texts",
                             "new answers, each with those it takes in"),
           other = new_key("text", "what all other answers become"),
           missing = new_key("named_texts",
                             "answers that are reasons for no answer, by the reason")),
      call = function(with, name) {
        code_call("regroup", quote(survey), question = name(with$question),
                  !!!listed(with$answers), other = with$other,
                  missing = if (length(with$missing))
                    rlang::call2("list", !!!listed(with$missing)))
      },
      rank = 3, told = function(with) names(c(with$answers, with$missing)),
      options = list(
        regroup = answers_option("NAME=NEW: OLD, OLD",
                                 "take answers together as new ones",
                                 paste("ferry=Unhappy: Very dissatisfied,",
                                       "Dissatisfied; Happy: Satisfied"),
                                 "answers"),
        missing = answers_option("NAME=REASON: ANSWERS",
                                 paste("answers or codes that become a reason for no",
                                       "answer; codes alone ('ferry=98,99') do without",
                                       "a reason of their own"),
                                 "ferry=Not relevant: Neither", "missing",
                                 bare = "no answer"))),
    label_answers = prepare_step(
      "what the codes of a question stand for",
      list(question = the_question(),
           labels = needed(new_key("named_text", "the labels, by the codes"))),
      call = function(with, name) {
        labels <- unlist(with$labels)
        code_call("label_answers", quote(survey), name(with$question),
                  rlang::call2("c", !!!as.list(labels)))
      },
      rank = 2.5, told = function(with) unlist(with$labels, use.names = FALSE),
      options = list(
        labels = step_option(
          "NAME=CODE: LABEL", "what the codes of a question stand for",
          "ferry=1: Very dissatisfied; 2: Dissatisfied", c("question", "labels"),
          read = function(part) {
            list(question = part$name, labels = lapply(answers_in_words(part), `[[`, 1L))
          }, write = function(with) {
            if (length(with$labels))
              sprintf("%s=%s", with$question,
                      paste(sprintf("%s: %s", names(with$labels), unlist(with$labels)),
                            collapse = "; "))
          }))),
    combine = prepare_step(
      "the pairs of several questions' answers as one question",
      list(name = needed(new_key("text", "the name of the new question")),
           questions = needed(new_key("texts", "the questions"))),
      call = function(with, name) {
        code_call("combine", quote(survey),
                  !!!stats::setNames(list(several_code(with$questions, name)),
                                     with$name))
      },
      rank = 4, parts = "questions", told = function(with) with$questions,
      options = list(combine = list_option(
        "NAME=QUESTIONS",
        "the pairs of several questions' answers as one question",
        "home=island,tenure", "name", "questions"))),
    score_items = prepare_step(
      "one number from several questions",
      list(name = needed(new_key("text", "its name")),
           questions = needed(new_key("texts", "the questions")),
           by = new_key("choice", "their mean or their sum",
                        choices = c("mean", "sum")),
           least = new_key("number",
                           "how many must have been answered (default all)")),
      call = function(with, name) {
        code_call("score_items", quote(survey),
                  !!!stats::setNames(list(several_code(with$questions, name)),
                                     with$name), by = with$by,
                  least = with$least)
      },
      rank = 4, parts = "questions", told = function(with) with$questions,
      options = list(score_items = list_option(
        "NAME=QUESTIONS",
        "one number from several questions, the mean of their scores",
        "content=ferry,turbine", "name", "questions"))),
    subdivide = prepare_step(
      "the answers of a question within those of another",
      list(question = the_question(),
           by = needed(new_key("text", "the other question")),
           name = new_key("text", "the name of the new question")),
      call = function(with, name) {
        code_call("subdivide", quote(survey), name(with$question),
                  name(with$by), with$name)
      },
      rank = 4, parts = c("question", "by"),
      options = list(subdivide = step_option(
        "NAME=NAME",
        "one question within another, which makes the question NAME_by_NAME",
        "leave=internet",
        c("question", "by"),
        read = function(part) {
          list(question = part$name, by = trimws(part$value))
        },
        write = function(with) sprintf("%s=%s", with$question, with$by)))),
    order_answers = prepare_step(
      "the order of the answers",
      list(question = the_question(),
           answers = needed(new_key("texts", "all answers in their order"))),
      call = function(with, name) {
        code_call("order_answers", quote(survey), name(with$question),
                  unlist(with$answers))
      },
      rank = 5, told = function(with) with$answers,
      options = list(order_answers = list_option(
        "NAME=ANSWERS", "the answers in this order",
        "size=small,middle,large", "question", "answers"))),
    retitle = prepare_step(
      "another title of a question",
      list(question = the_question(),
           title = needed(new_key("text", "the title"))),
      call = function(with, name) {
        code_call("retitle", quote(survey), name(with$question), with$title)
      },
      rank = 6, told = function(with) with$title,
      options = list(retitle = step_option(
        "NAME=WORDS", "what a question is called in tables",
        "ferry=Content with the ferry", c("question", "title"),
        read = function(part) {
          list(question = part$name, title = trimws(part$value))
        },
        write = function(with) sprintf("%s=%s", with$question, with$title)))),
    score = prepare_step(
      "scores of the answers, for means",
      list(question = the_question(),
           scores = new_key("list_or_names",
                            "in the order of the answers or by answer (default 1, 2, ...)")),
      call = function(with, name) {
        code_call("score", quote(survey), name(with$question),
                  unlist(with$scores))
      },
      rank = 6, told = function(with) number_text(unlist(with$scores)),
      options = list(score = step_option(
        "NAME[=SCORES]",
        paste("mean, standard deviation and median too: of a number, or of",
              "answers by their codes or scores"),
        "ferry=1,2,3,4,5", c("question", "scores"),
        read = function(part) {
          list(question = part$name,
               scores = if (!is.null(part$value))
                 numbers_in_words(part$value, part$flag))
        },
        write = function(with) {
          paste(c(with$question,
                  if (length(with$scores))
                    paste(number_text(unlist(with$scores)), collapse = ",")),
                collapse = "=")
        }))),
    net = prepare_step(
      "subtotals beside their answers",
      list(question = the_question(),
           nets = needed(new_key("named_texts",
                                 "nets, each with its answers"))),
      call = function(with, name) {
        code_call("net", quote(survey), name(with$question),
                  !!!listed(with$nets))
      },
      rank = 6, told = function(with) names(with$nets),
      options = list(net = answers_option(
        "NAME=NET: ANSWERS", "a subtotal beside its parts",
        "ferry=Satisfied in all: Satisfied, Very satisfied",
        "nets"))))
}

the_question <- function() needed(new_key("text", "the question"))

# ---- a step is run, written as R, and taken from a command ----

# What a step makes of a survey (or of a table of counts), by the very call that
# R code of it has.
step_done <- function(step, survey) {
  eval(prepare_steps()[[step$verb]]$call(step$with, identity),
       list(survey = survey), asNamespace("fairlattice"))
}

step_code <- function(step) {
  prepare_steps()[[step$verb]]$call(step$with, as.name)
}

# The name of the question that a step changes or makes.
made_by <- function(step) {
  with <- step$with
  if (step$verb == "subdivide" && is.null(with$name))
    return(sprintf("%s_by_%s", with$question, with$by))
  with$into %||% with$name %||% with$question
}

# The options of all steps: a list each of verb, and what step_option() holds.
step_options <- function() {
  steps <- prepare_steps()
  unlist(unname(lapply(names(steps), function(verb) {
    lapply(steps[[verb]]$options, function(option) c(list(verb = verb), option))
  })), recursive = FALSE)
}

# The steps that the options of a command ask for, in the order in which it
# prepares. A column that is there has its title before it becomes an item of a
# tick-all question.
steps_asked <- function(options, columns) {
  known <- step_options()
  steps <- unlist(unname(lapply(names(known), function(flag) {
    lapply(options[[flag]], step_in_words, flag = flag, option = known[[flag]])
  })), recursive = FALSE)
  ranks <- vapply(prepare_steps(), `[[`, 0, "rank")
  banded <- unlist(lapply(steps, function(step) {
    if (step$verb == "band") step$with$question
  }))
  at <- vapply(steps, function(step) {
    named <- step$verb == "retitle" && step$with$question %in% columns
    # values of a number that are no answers, before it is cut
    lost <- step$verb == "regroup" && !length(step$with$answers) &&
      step$with$question %in% banded
    if (lost) ranks[["band"]] - 0.5 else
      if (named) ranks[["band"]] + 0.5 else ranks[[step$verb]]
  }, 0)
  steps[order(at)]
}

step_in_words <- function(words, flag, option) {
  optional <-
    grepl("[", option$value, fixed = TRUE) && !grepl("=", words, fixed = TRUE)
  written <- paste0("--", dashed(flag))
  part <- if (optional) list(name = words) else
    name_and_value(words, written, option$example)
  list(verb = option$verb, with = option$read(c(part, flag = written)),
       flag = flag)
}

# The words of a step on the command line; NULL where no option can say it.
words_of_step <- function(step) {
  asked <- names(Filter(length, step$with))
  options <- Filter(function(option) length(option$write(step$with)),
                    prepare_steps()[[step$verb]]$options)
  if (!length(options) ||
        !all(asked %in% unlist(lapply(options, `[[`, "takes")))) return(NULL)
  unlist(lapply(names(options), function(flag) {
    c(paste0("--", dashed(flag)), options[[flag]]$write(step$with))
  }))
}

# ---- words and code ----

dashed <- function(name) gsub("_", "-", name)

words_in <- function(text, sign) {
  trimws(strsplit(text, sign, fixed = TRUE)[[1L]])
}

# "age=18,25" as a name and a value.
name_and_value <- function(words, flag, example) {
  at <- regexpr("=", words, fixed = TRUE)
  if (at < 2L)
    stop_input(tells("written_like_not", flag, example, words), "words")
  list(name = trimws(substr(words, 1L, at - 1L)),
       value = substring(words, at + 1L))
}

numbers_in_words <- function(text, flag) {
  numbers <-
    suppressWarnings(as.numeric(strsplit(text, ",", fixed = TRUE)[[1L]]))
  if (anyNA(numbers)) stop_input(tells("not_list_numbers", flag, text), "words")
  numbers
}

# "New: old, old; Newer: older" as lists of answers by their new name.
# Codes alone are answers without a reason of their own.
answers_in_words <- function(part, bare = NULL) {
  if (!is.null(bare) && !grepl(":", part$value, fixed = TRUE))
    return(stats::setNames(list(words_in(part$value, ",")), bare))
  pairs <-
    lapply(strsplit(words_in(part$value, ";"), ":", fixed = TRUE), trimws)
  if (!length(pairs) || any(lengths(pairs) != 2L))
    stop_input(tells("written_like_new_old_old", part$flag, part$value),
               "words")
  stats::setNames(lapply(pairs, function(pair) words_in(pair[2L], ",")),
                  vapply(pairs, `[`, "", 1L))
}

# What is NULL is left out of a call.
code_call <- function(.name, ...) {
  rlang::call2(.name, !!!Filter(Negate(is.null), rlang::list2(...)))
}

# One column, or several as c(...).
several_code <- function(columns, name = as.name) {
  columns <- lapply(unname(unlist(columns)), name)
  if (length(columns) > 1L) rlang::call2("c", !!!columns) else
    if (length(columns)) columns[[1L]]
}

listed <- function(x) lapply(x, unlist)
