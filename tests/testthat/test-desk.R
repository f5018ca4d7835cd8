# The desk: what is done makes the table that crosstab() makes, can be undone,
# and leaves as code, command and plan that make it again; nothing answers
# without the token; a browser drives it as an analyst would.

demo_desk <- function(records = read_quietly(demo_file("veyra.csv"))) {
  desk <- new_desk(new_store(records))
  desk$port <- 8123L
  desk
}
read_quietly <- function(path) suppressMessages(read_records(path))

# An act of a window, as the page sends it; the answer, or the fault.
done <- function(desk, act, ..., window = "window0001", open = character()) {
  answer_act(desk,
             list(window = window, act = act, with = list(...),
                  open = as.list(open), have = list()))
}
doing <- function(desk, ..., window = "window0001") {
  for (one in list(...)) do.call(done, c(list(desk), one, window = window))
}
asks <- function(...) c(list("ask_all"), design_asked, ...)
puts <- function(question, side) list("put", question = question, side = side)
sets <- function(name, value) list("set", name = name, value = value)
prepares <- function(verb, ...) list("prepare", verb = verb, ...)
now <- function(desk, window = "window0001") desk$windows[[window]]$now
made <- function(desk) table_of_work(desk$store, now(desk))
json <- function(x) vapply(single_tables(x), json_of, "")

satisfied <- list("Satisfied in all" = list("Satisfied", "Very satisfied"))
unhappy <- list("Unhappy" = list("Very dissatisfied", "Dissatisfied"))

# Works that take every way: what is done, and the same table from the public
# functions.
works <- list(
  plain = list(list(asks(), puts("ferry", "down"), puts("island", "across")),
               function(p) crosstab(p, ferry, island)),
  alone = list(list(puts("tenure", "down")), function(p) {
    crosstab(respondents(p$data), tenure)
  }),
  turned = list(list(asks(), puts("ferry", "down"), puts("island", "across"),
                     list("turn")), function(p) {
                       flip(crosstab(p, ferry, island))
                     }),
  chosen = list(list(asks(), puts("ferry", "down"), puts("island", "across"),
                     sets("percent", "row"), sets("alpha", "0.01"),
                     sets("correction", "bonferroni"), sets("decimals", "0"),
                     sets("sort", "size")), function(p) {
                       crosstab(p, ferry, island, percent = "row", alpha = 0.01,
                                correction = "bonferroni")
                     }),
  counts = list(list(asks(), puts("heating", "down"), puts("island", "across"),
                     sets("percent", "none")), function(p) {
                       crosstab(p, heating, island, percent = "none")
                     }),
  banner = list(list(asks(), puts("heating", "down"), puts("island", "across"),
                     puts("tenure", "across"), sets("percent", "total"),
                     sets("alpha", "0.1")), function(p) {
                       crosstab(p, heating, c(island, tenure),
                                percent = "total", alpha = 0.1)
                     }),
  each = list(list(asks(), puts("season", "down"), puts("tenure", "across"),
                   puts("leave", "each"), sets("keep_empty", TRUE)),
              function(p) {
                crosstab(p, season, tenure, leave, keep_empty = TRUE)
              }),
  prepared = list(list(asks(), list("one_per", keep = "last"),
                       prepares("band", question = "age",
                                breaks = list(18, 35, 65), into = "age_group"),
                       prepares("regroup", question = "ferry",
                                answers = unhappy),
                       prepares("net", question = "ferry", nets = satisfied),
                       prepares("score", question = "ferry",
                                scores = list(
                                  Unhappy = 1, Neither = 2, Satisfied = 4,
                                  "Very satisfied" = 5)),
                       prepares("retitle", question = "ferry", title = "Ferry"),
                       puts("ferry", "down"), puts("age_group", "across"),
                       list("keep", among = "age >= 18 & island != 'Tarn'",
                            base = "adults")), function(p) {
                              p <- band(one_per(p, id, "last"), age,
                                        c(18, 35, 65), into = "age_group")
                              p <- net(regroup(
                                p, ferry,
                                Unhappy = c(
                                  "Very dissatisfied",
                                  "Dissatisfied")), ferry,
                                       "Satisfied in all" = c(
                                         "Satisfied", "Very satisfied"))
                              p <- retitle(
                                score(p, ferry, c(1, 2, 4, 5)), ferry, "Ferry")
                              crosstab(among(
                                p, "age >= 18 & island != 'Tarn'",
                                "adults"), ferry, age_group)
                            }),
  ordered = list(list(prepares("order_answers", question = "season",
                               answers = list(
                                 "Winter", "Spring", "Summer", "Autumn")),
                      prepares("ticks", name = "reasons",
                               columns = list("reason_work", "reason_housing")),
                      puts("reasons", "down"), puts("season", "across")),
                 function(p) {
                   p <- order_answers(respondents(p$data), season,
                                      c("Winter", "Spring", "Summer", "Autumn"))
                   crosstab(ticks(p, reasons = c(reason_work, reason_housing)),
                            reasons, season)
                 })
)

test_that("what is done makes the table that the functions make, and so does all that leaves", {
  path <- demo_file("veyra.csv")
  survey <- respondents(read_quietly(path), weight = weight, stratum = island,
                        cluster = settlement, id = id)
  for (name in names(works)) {
    desk <- demo_desk()
    do.call(doing, c(list(desk), works[[name]][[1]]))
    wanted <- json(works[[name]][[2]](survey))
    expect_identical(json(made(desk)), wanted, info = name)

    code <- parse(text = code_of_work(desk$store, now(desk)))
    left <- suppressMessages(eval(code[-1],
                                  new.env(parent = asNamespace("fairlattice"))))
    if (inherits(left, "fairlattice_sheets")) left <- attr(left, "of")
    expect_identical(json(left), wanted, info = paste(name, "as code"))

    skip_if_not_installed("yaml")
    file <- withr::local_tempfile(fileext = ".yml")
    writeLines(plan_of_works(desk$store, list(now(desk)))$text, file)
    expect_identical(json(suppressMessages(book(file, cache = FALSE))$tables[[1]]$table),
                     wanted, info = paste(name, "as a plan"))

    command <- command_of_work(desk$store, now(desk))
    script <- withr::local_tempfile(
      lines = sub("^fairlattice", "printf '%s\\\\n'", command$text))
    words <- system2("sh", script, stdout = TRUE) # as a shell takes it apart
    printed <- suppressMessages(
      capture.output(status <- main(c(words, "--format", "json"))))
    expect_identical(status, 0L)
    found <- jsonlite::fromJSON(printed, simplifyVector = FALSE)
    if (!is.null(found$format)) found <- list(found)
    # with `each` the strata taken together go along
    found <- Filter(function(one) one$format == "fairlattice-table", found)
    # a command prepares in an order of its own
    steps_sorted <- function(tables) {
      lapply(tables, function(one) {
        steps <- one$made$steps
        one$made$steps <- steps[order(vapply(steps, names, ""))]
        one
      })
    }
    wanted <- lapply(wanted, jsonlite::fromJSON, simplifyVector = FALSE)
    expect_equal(steps_sorted(found), steps_sorted(wanted), info = paste(name, "as a command"))
  }
})

test_that("what options cannot say is said, not left out", {
  desk <- demo_desk()
  doing(desk, asks(), puts("ferry", "down"), puts("island", "across"))
  why <- function() command_of_work(desk$store, now(desk))$why
  expect_null(why())
  done(desk, "prepare", verb = "regroup", question = "ferry",
       answers = list("Not, in all" = list(
                        "Dissatisfied", "Very dissatisfied")))
  expect_match(why(), "comma")
  done(desk, "undo")
  done(desk, "prepare", verb = "band", question = "age", breaks = list(18, 40))
  done(desk, "keep", among = "age == '18\u201339'")
  expect_match(why(), "filter speaks of a question as it was changed")
  done(desk, "undo")
  done(desk, "prepare", verb = "regroup", question = "ferry",
       missing = list(Neutral = list("Neither")))
  expect_null(why())
  expect_match(command_of_work(desk$store, now(desk))$text,
               "--missing 'ferry=Neutral: Neither'", fixed = TRUE)
  done(desk, "undo")
  done(desk, "undo")
  # a title is one text, whatever signs are in it
  done(desk, "prepare", verb = "retitle", question = "ferry", title = "Ferry: of all, by isle")
  expect_null(why())
  done(desk, "undo")
  done(desk, "prepare", verb = "band", question = "age", n = 3)
  expect_match(why(), "not an option of the command")
  given <- new_store(respondents(demo_records()), "survey")
  expect_match(command_of_work(given, now(desk))$why,
               "did not come from one file")
  two <- list(now(desk), replace(now(desk), "prepare", list(list())))
  expect_match(plan_of_works(desk$store, two)$why,
               "differ in their design or in what was done")
})

test_that("how the file was read goes along, and a survey keeps its design", {
  path <- file_with("a;b;w\nyes;up;1,5\nno;down;2,5\nyes;down;0,5\nno;up;1,0\n")
  store <- new_store(suppressMessages(read_records(
                                        path, delimiter = ";", decimal = ",")),
                     read = list(delimiter = ";", decimal = ","))
  work <- utils::modifyList(new_work(list(weight = "w")),
                            list(down = "a", across = "b"))
  expect_match(paste(code_of_work(store, work), collapse = "\n"),
               "delimiter = \";\", decimal = \",\"", fixed = TRUE)
  expect_match(command_of_work(store, work)$text,
               "--delimiter ';' \\\n  --decimal ,", fixed = TRUE)
  skip_if_not_installed("yaml")
  file <- withr::local_tempfile(fileext = ".yml",
                                lines = plan_of_works(store, list(work))$text)
  expect_identical(json(suppressMessages(book(file, cache = FALSE))$tables[[1]]$table),
                   json(table_of_work(store, work)))
  withr::with_options(list(fairlattice.language = "de"), {
    expect_match(code_of_work(store, work)[2], "fairlattice.language = \"de\"",
                 fixed = TRUE)
    expect_match(command_of_work(store, work)$text, "--language de")
    expect_match(plan_of_works(store, list(work))$text, "language: de")
  })
  desk <- demo_desk(demo_survey())
  doing(desk, puts("ferry", "down"), puts("island", "across"))
  expect_identical(json(made(desk)),
                   json(crosstab(demo_survey(), ferry, island)))
  expect_error(done(desk, "ask", role = "weight", column = ""),
               "that of the survey", class = "fairlattice_error_desk")
})

test_that("another base, level or layout tallies nothing anew", {
  desk <- demo_desk()
  doing(desk, asks(), puts("ferry", "down"), puts("island", "across"),
        puts("tenure", "across"))
  # without records nothing can be tallied
  for (key in names(desk$store$surveys)) {
    desk$store$surveys[[key]]$value$data <- NULL
  }
  work <- now(desk)
  for (change in list(c("percent", "row"), c("percent", "none"),
                      c("alpha", "0.01"), c("correction", "bonferroni"),
                      c("explains", "down"), c("marks", "letters"),
                      c("sort", "size"), c("decimals", "0"),
                      c("hide_under", "500"))) {
    table <- table_of_work(desk$store,
                           acts$set(work,
                                    list(name = change[1], value = change[2])))
    expect_s3_class(table, "fairlattice_banner")
  }
  expect_error(table_of_work(desk$store, replace(work, "down", "heating")))
})

test_that("everything can be undone and done again, and windows do not meet", {
  desk <- demo_desk()
  steps <- works$prepared[[1]]
  states <- list(NULL)
  done(desk, "hello")
  before <- list(now(desk))
  for (step in steps) {
    do.call(done, c(list(desk), step))
    before <- c(before, list(now(desk)))
  }
  doing(desk, list("tray_put"), list("clear"),
        list("put", question = "work", side = "down"), list("tray_put"),
        list("tray_move", at = 2, to = 1))
  expect_identical(vapply(now(desk)$tray, function(work) work$down, ""),
                   c("work", "ferry"))
  done(desk, "tray_open", at = 2)
  expect_identical(bare_work(now(desk)), bare_work(before[[length(before)]]))
  for (k in 1:6) done(desk, "undo")
  for (k in rev(seq_along(steps))) {
    done(desk, "undo")
    expect_identical(now(desk), before[[k]])
  }
  done(desk, "undo") # nothing is left
  for (k in seq_along(steps)) done(desk, "redo")
  expect_identical(now(desk), before[[length(before)]])

  second <- done(desk, "hello", window = "window0002")
  expect_null(now(desk, "window0002")$down)
  expect_match(second$parts$table, "Ferry by Age (adults)", fixed = TRUE)
  done(desk, "take_up", window = "window0002") |>
    expect_error(class = "fairlattice_error_desk")
  answer_act(desk,
             list(window = "window0002", act = "take_up",
                  with = list(window = "window0001")))
  doing(desk, puts("island", "each"), window = "window0002")
  expect_null(now(desk)$each)
})

test_that("questions change places, and each place has the room it has", {
  work <- new_work()
  put <- function(work, ...) acts$put(work, list(...))
  work <- put(put(put(work, question = "a", side = "down"), question = "b",
                  side = "across"), question = "c", side = "across")
  expect_identical(put(work, question = "c", side = "across",
                       before = "b")$across, c("c", "b"))
  swapped <- put(work, question = "b", side = "down")
  expect_identical(swapped[sides],
                   list(down = "b", across = c("a", "c"), each = NULL))
  expect_identical(put(swapped, question = "c", side = "each")[sides],
                   list(down = "b", across = "a", each = "c"))
  expect_identical(put(work, question = "d", side = "down")[sides],
                   list(down = "d", across = c("b", "c"), each = NULL))
  expect_error(acts$turn(work, list()), class = "fairlattice_error_desk")
  shown <- acts$set(acts$set(work,
                             list(name = "show", value = list("column", "n"))),
                    list(name = "percent", value = "row"))
  expect_identical(shown$settings$show, c("row", "n"))
  expect_null(acts$set(shown, list(name = "show", value = ""))$settings$show)
})

test_that("what leads to no table is told and changes nothing", {
  desk <- demo_desk()
  doing(desk, asks(), puts("ferry", "down"), puts("island", "across"))
  before <- now(desk)
  faults <- list(
    "no respondents in the table" = list("keep", among = "age > 200"),
    "cannot be read" = list("keep", among = "age >"),
    "no answer \"Norway\"" = list("keep", among = "island == 'Norway'"),
    "cannot hold" = list("keep", among = "system('true')"),
    "must be numbers" = list("ask", role = "weight", column = "ferry"),
    "no column" = list("ask", role = "weight", column = "nowhere"),
    "no column \"nothing\"" = list("put", question = "nothing",
                                   side = "across"),
    "`side` must be" = list("put", question = "work", side = "left"),
    "`percent` must be" = list("set", name = "percent", value = "most"),
    "must be a number" = list("set", name = "alpha", value = "low"),
    "Choose answers first" = list("prepare", verb = "net", question = "ferry",
                                  nets = list(New = list())),
    "Give it a name" = list("prepare", verb = "net", question = "ferry",
                            nets = stats::setNames(list("Neither"), "")),
    "\"x\" is not a number" = list("prepare", verb = "band", question = "age",
                                   breaks = list(18, "x")),
    "`alpha` must be" = list("set", name = "alpha", value = "7"),
    "no answer \"Happy\"" = list("prepare", verb = "regroup",
                                 question = "ferry",
                                 answers = list(New = list("Happy"))))
  for (message in names(faults)) {
    expect_error(do.call(done, c(list(desk), faults[[message]])), message,
                 class = "fairlattice_error")
    expect_identical(now(desk), before)
  }
  # codes that are not the page's
  for (odd in list(list("set", name = "nothing", value = 1),
                   list("system", x = "true"), list("tray_open", at = 1e9),
                   list("tray_drop", at = list()),
                   list("put", question = list(1), side = "down"),
                   list("prepare", verb = "eval", x = "1"))) expect_error(
    do.call(done, c(list(desk), odd)), class = "fairlattice_error")
})

table_survey <- function(desk) survey_of_work(desk$store, now(desk))

# A request as the server gets it.
request <- function(path, method = "GET", body = "", ...,
                    host = "127.0.0.1:8123", type = "application/json") {
  list2env(utils::modifyList(list(
    REQUEST_METHOD = method, PATH_INFO = path, HTTP_HOST = host,
    CONTENT_TYPE = type,
    CONTENT_LENGTH = as.character(nchar(body, "bytes")),
    rook.input = list(read = function() charToRaw(body))), list(...)))
}

test_that("nothing answers without the token, the own address and the own page", {
  desk <- demo_desk()
  expect_match(desk$token, "^[0-9a-f]{32}$")
  expect_false(random_token() == random_token())
  own <- function(name) sprintf("/%s/%s", desk$token, name)
  status <- function(...) answer_request(desk, request(...))$status
  hello <- "{\"window\":\"window0001\",\"act\":\"hello\"}"
  for (name in c("", "desk.js", "desk.css", "page.js")) expect_identical(
    status(own(name)), 200L)
  expect_identical(status(own("do"), "POST", hello), 200L)
  refused <- list(list("/"), list("/desk.js"), list(sub("/$", "0/", own(""))),
                  list(sub("./$", "/", own(""))),
                  list(paste0("/", strrep("0", 32L), "/")),
                  list(own("../etc/passwd")), list(own("veyra.csv")),
                  list(own("do")), list(own("desk.js"), "POST", "{}"),
                  list(own(""), host = "veyra.example:8123"),
                  list(own("do"), "POST", hello,
                       HTTP_ORIGIN = "http://veyra.example"),
                  list(own("do"), "DELETE", hello))
  for (one in refused) {
    answer <- answer_request(desk, do.call(request, one))
    expect_identical(list(answer$status, answer$body), list(404L, "Not found"))
  }
  expect_identical(status(own("do"), "POST", hello, type = "text/plain"), 415L)
  expect_identical(status(own("do"), "POST", hello,
                          CONTENT_LENGTH = "99999999"), 413L)
  for (body in c("", "[", "7", "{}",
                 "{\"window\":\"../../x\",\"act\":\"hello\"}")) {
    answer <- answer_request(desk, request(own("do"), "POST", body))
    expect_named(jsonlite::fromJSON(answer$body), "fault")
  }
  headers <- answer_request(desk, request(own("")))$headers
  expect_match(headers$`Content-Security-Policy`,
               "default-src 'none'; script-src 'self';", fixed = TRUE)
  expect_identical(headers$`Referrer-Policy`, "no-referrer")
})

test_that("what the data say is text on the page, whatever it is", {
  bad <- "<script>alert(1)</script>\"'&"
  data <- demo_records()[c("ferry", "island", "age")]
  names(data)[2] <- bad
  levels(data$ferry)[1] <- bad
  attr(data$ferry, "label") <- bad
  desk <- demo_desk(data)
  doing(desk, puts("ferry", "down"), puts(bad, "across"),
        list("keep", among = "age > 1", base = bad), list("tray_put"))
  parts <- done(desk, "hello",
                open = c("code", "command", "plan", "more", "working"))$parts
  for (name in setdiff(names(parts), "known")) expect_no_match(
    parts[[name]], "<script>a", fixed = TRUE)
  editor <-
    answer_answers(desk, list(window = "window0001", question = bad))$html
  expect_no_match(editor, "<script>a", fixed = TRUE)
})

test_that(paste("a page asks for figures, pictures of questions, previews and",
                "files, and gets those of the table"), {
  desk <- demo_desk()
  doing(desk, asks(), puts("heating", "down"), puts("island", "across"),
        list("tray_put"))
  table <- made(desk)
  own <- function(name, ...) {
    body <- as.character(
      jsonlite::toJSON(list(window = "window0001", ...), auto_unbox = TRUE))
    answer_request(desk,
                   request(sprintf("/%s/%s", desk$token, name), "POST", body))
  }
  pictures <- jsonlite::fromJSON(
    own("pictures", names = c("heating", "age", "id", "nowhere"))$body)
  expect_named(pictures, c("heating", "age", "id"))
  expect_equal(pictures$heating$shares,
               shares(crosstab(table_survey(desk), heating))$share)
  expect_identical(pictures$age$range, "18 \u2026 50 \u2026 95") # weighted
  expect_length(pictures$age$shares, 0L)
  preview <- jsonlite::fromJSON(
    own("answers", question = "heating",
        step = list(
          verb = "regroup", question = "heating",
          missing = list(Odd = list("Oil"))))$body)$html
  n <- sum(as.data.frame(table)$n)
  oil <- sum(as.data.frame(table)$n[as.data.frame(table)$down == "Oil"])
  netted <- jsonlite::fromJSON(
    own("answers", question = "heating",
        step = list(
          verb = "net", question = "heating",
          nets = list(Warm = list("Oil", "Electric"))))$body)$html
  whole <- shares(crosstab(
    net(table_survey(desk), heating, Warm = c("Oil", "Electric")), heating))
  expect_match(gsub("\\s+", "", netted),
               sprintf("Warm</th><td>%s</td><td>%s</td>",
                       format_count(sum(whole$n[1:2])),
                       format_percent(sum(whole$share[1:2]))), fixed = TRUE)
  expect_match(preview,
               sprintf("In the table: %s of 2,412 records (before: %s)",
                       format_count(n - oil), format_count(n)), fixed = TRUE)
  skip_if_not_installed("ggplot2")
  figure <- jsonlite::fromJSON(own("figure", figure = "dots")$body)
  expect_identical(figure$alt, figures$dots$tell(figure_data(table)))
  expect_match(rawToChar(jsonlite::base64_dec(figure$svg)), "</svg>")
  file <- own("take", what = "tray", form = "json")
  expect_identical(file$headers$`Content-Disposition`,
                   "attachment; filename=\"heating-island.json\"")
  path <- withr::local_tempfile(fileext = ".json")
  writeBin(file$body, path)
  expect_identical(as.data.frame(read_tables(path)), as.data.frame(table))
  expect_match(jsonlite::fromJSON(
    own("take", what = "tray", form = "exe")$body)$fault, "must be")
})

test_that(paste("with a table an answer of a question, the account is said",
                "once, with the base of each"), {
  desk <- demo_desk()
  doing(desk, asks(), puts("season", "down"), puts("leave", "across"),
        puts("tenure", "each"))
  table <- made(desk)
  told <- account_texts(table, desk_sheets(table))
  account <- account_of(table$tally)
  expect_length(told, 2L)
  expect_match(told[1],
               sprintf("%s records read: %s in the tables",
                       format_count(account$records),
                       format_count(account$used)), fixed = TRUE)
  n <- vapply(table$layers, function(layer) layer$base$n, 0)
  expect_match(told[2], paste0("Owned outright: ", format_count(n[1])),
               fixed = TRUE)
  expect_identical(sum(n), account$used)
})

test_that("the bars of the desk are the figures of the table", {
  x <- crosstab(demo_survey(), ferry, island)
  drawn <- as.character(shares_bars(figure_data(x)))
  widths <- as.numeric(regmatches(drawn,
                                  gregexpr(
                                    "(?<=width:)[0-9.]+", drawn, perl = TRUE))[[1]])
  cells <- as.data.frame(x)
  expect_equal(widths,
               cells$column_percent[order(match(cells$across, unique(cells$across)))],
               tolerance = 1e-5)
  items <- crosstab(ticks(demo_survey(),
                          reasons = c(reason_work, reason_housing)), reasons,
                    island)
  expect_length(gregexpr("class=\"bar item\"",
                         as.character(shares_bars(figure_data(items))))[[1]],
                10)
})

test_that("statements that share their answers can be made one table of, with nets", {
  desk <- demo_desk()
  doing(desk, asks())
  editor <- answer_answers(desk, list(window = "window0001", question = "say_ferry"))$html
  expect_match(editor, "data-verb=\"battery\"", fixed = TRUE)
  expect_match(editor, "say_council, say_ferry, say_homes, say_future", fixed = TRUE)
  doing(desk, prepares("battery", name = "say",
                       columns = list("say_council", "say_ferry", "say_homes", "say_future")),
        puts("say", "down"))
  own <- answer_answers(desk, list(window = "window0001", question = "say"))$html
  expect_match(own, "Strongly agree", fixed = TRUE)
  doing(desk, prepares("net", question = "say",
                       nets = list("Agree in all" = list("Agree", "Strongly agree"))))
  table <- made(desk)
  expect_identical(table$tally$across$nets, list("Agree in all" = c("Agree", "Strongly agree")))
  expect_identical(sheets_of(table)[[1]]$columns$label[4], "Agree in all")
})

test_that("rows and columns can be swapped where there is one question each", {
  desk <- demo_desk()
  shown <- function() {
    grepl("Swap rows and columns", paste(unlist(desk_parts(
      desk$store, list(now = now(desk), open = character()))), collapse = " "), fixed = TRUE)
  }
  doing(desk, puts("ferry", "down"))
  expect_false(shown())
  doing(desk, puts("island", "across"))
  expect_true(shown())
  doing(desk, puts("tenure", "across"))
  expect_false(shown())
})

test_that("records in a database are worked on as those in memory are", {
  skip_if_not_installed("RSQLite")
  folder <- withr::local_tempdir()
  withr::local_dir(folder)
  for (file in c("veyra.csv", "veyra.schema.json")) file.copy(demo_file(file), ".")
  con <- withr::local_db_connection(DBI::dbConnect(RSQLite::SQLite(), "veyra.db"))
  DBI::dbWriteTable(con, "answers", utils::read.csv("veyra.csv"))
  where <- list(database = "sqlite:veyra.db", query = "SELECT * FROM answers",
                codebook = "veyra.schema.json")
  far <- new_desk(new_store(far_records(where), "records", where))
  here <- demo_desk(read_quietly("veyra.csv"))
  expect_identical(far$store$size, 2412)
  expect_identical(likely_roles(far$store$columns), likely_roles(here$store$columns))
  bands <- prepares("band", question = "age", breaks = list(18, 40, 60), into = "ages")
  figures <- function(x) lapply(single_tables(x), as.data.frame)
  for (name in setdiff(names(works), "prepared")) {
    window <- sprintf("window%04d", match(name, names(works)) + 1L)
    for (desk in list(far, here))
      do.call(doing, c(list(desk), works[[name]][[1]], list(bands), window = window))
    work <- now(far, window)
    wanted <- figures(table_of_work(here$store, now(here, window)))
    expect_equal(figures(table_of_work(far$store, work)), wanted, info = name)
    surveys <- lapply(list(far, here), function(desk) prepared_of_work(desk$store, work))
    expect_identical(questions_listed(surveys[[1]]), questions_listed(surveys[[2]]))
    for (question in c("ages", "ferry", "age", "weight", "settlement"))
      expect_equal(question_picture(surveys[[1]], question),
                   question_picture(surveys[[2]], question), info = question)
    own <- new.env(parent = asNamespace("fairlattice"))
    left <- suppressMessages(eval(parse(text = code_of_work(far$store, work))[-1], own))
    DBI::dbDisconnect(own$con)
    if (inherits(left, "fairlattice_sheets")) left <- attr(left, "of")
    expect_equal(figures(left), wanted, info = paste(name, "as code"))
  }
  expect_match(command_of_work(far$store, work)$text,
               "crosstab \\\n  --database sqlite:veyra.db", fixed = TRUE)
  skip_if_not_installed("yaml")
  writeLines(plan_of_works(far$store, list(work))$text, "p.yml")
  # what is no key of a plan stays out of it, and every record is counted
  where <- c(where, show_sql = TRUE, time_limit = 9)
  expect_no_match(plan_of_works(replace(far$store, "read", list(where)), list(work))$text,
                  "show_sql|time_limit")
  DBI::dbWriteTable(con, "many", data.frame(note = c(sprintf("n%d", 1:11000), rep(NA, 1000)),
                                            w = 1:12000))
  many <- new_store(dbi_table(con, "many"))
  expect_identical(many$size, 12000)
  expect_identical(question_picture(with_met(respondents(dbi_table(con, "many")), many$met),
                                    "note")$n, 11000)
  of_plan <- suppressMessages(book("p.yml", cache = FALSE))$tables[[1]]$table
  expect_equal(figures(of_plan), wanted)
})

test_that("ports are whole numbers that anybody may open", {
  for (port in list(80, 1023, 65536, 8080.5, NA, "8080", c(8080, 8081)))
    expect_error(check_port(port, NULL), class = "fairlattice_error_port")
  for (port in c(1024, 65535)) expect_null(check_port(port, NULL))
})
