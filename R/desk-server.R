# The desk as a server on the machine's own address. Every request needs the
# token in its path; there is nothing to reach but what is named here, and the
# records of the one file that was opened.

# The state of a desk: what it serves, and its windows, each with its work, what
# was before and what was undone.
new_desk <- function(store) {
  list2env(list(store = store, token = random_token(),
                windows = new.env(parent = emptyenv()), port = NULL,
                now = NULL, waiting = list(), overtaken = list()),
           parent = emptyenv())
}

random_token <- function() paste(random_bytes_kernel(16L), collapse = "")

desk_address <- function(desk) {
  sprintf("http://127.0.0.1:%d/%s/", desk$port, desk$token)
}

# What may be asked for under the token, by method and name.
desk_answers <- list(
  `GET ` = function(desk, body) {
    text_answer("text/html; charset=utf-8", desk_page(desk))
  },
  `GET page.js` = function(desk, body) {
    text_answer("text/javascript; charset=utf-8", page_file("page.js"))
  },
  `GET desk.js` = function(desk, body) {
    text_answer("text/javascript; charset=utf-8", page_file("desk.js"))
  },
  `GET desk.css` = function(desk, body) {
    text_answer("text/css; charset=utf-8",
                paste0(page_file("page.css"), page_file("desk.css")))
  },
  `POST do` = function(desk, body) json_answer(answer_act(desk, body)),
  `POST pictures` = function(desk, body) json_answer(answer_pictures(desk, body)),
  `POST answers` = function(desk, body) json_answer(answer_answers(desk, body)),
  `POST take` = function(desk, body) answer_take(desk, body),
  `POST figure` = function(desk, body) answer_figure(desk, body),
  `POST overtake` = function(desk, body) json_answer(answer_overtake(desk, body))
)

# What a request is answered by its head alone, before any of its body is taken;
# NULL where it may go on. Whoever has not the token is told nothing, not even
# that this is a desk; there are no sockets that stay open.
answer_head <- function(desk, request) {
  host <- request$HTTP_HOST %||% ""
  origin <- request$HTTP_ORIGIN
  own <- sprintf(c("127.0.0.1:%d", "localhost:%d"), desk$port)
  start <- sprintf("/%s/", desk$token)
  path <- request$PATH_INFO %||% ""
  name <- paste(request$REQUEST_METHOD, substring(path, nchar(start) + 1L))
  strange <- !host %in% own ||
             !is.null(origin) && !origin %in% paste0("http://", own) ||
             !startsWith(path, start) || !is.null(request$HTTP_UPGRADE)
  if (strange || !name %in% names(desk_answers))
    return(plain_answer(404L, "Not found"))
  size <- suppressWarnings(as.numeric(request$HTTP_CONTENT_LENGTH %||%
                                        request$CONTENT_LENGTH %||% NA))
  posted <- request$REQUEST_METHOD == "POST"
  type <- request$HTTP_CONTENT_TYPE %||% request$CONTENT_TYPE %||% ""
  if (posted && !grepl("^application/json", type))
    return(plain_answer(415L, "JSON only"))
  in_pieces <- !is.null(request$HTTP_TRANSFER_ENCODING)
  fits <- if (posted) isTRUE(size >= 0 && size <= most_posted) else
    !isTRUE(size > 0)
  if (in_pieces || !fits) return(plain_answer(413L, "Too large"))
  NULL
}

# A request to an answer.
answer_request <- function(desk, request) {
  refused <- answer_head(desk, request)
  if (!is.null(refused)) return(refused)
  start <- sprintf("/%s/", desk$token)
  name <- paste(request$REQUEST_METHOD,
                substring(request$PATH_INFO, nchar(start) + 1L))
  body <- if (request$REQUEST_METHOD == "POST")
    tryCatch(body_of(request), fairlattice_error = identity)
  if (is.null(desk$now) || is.null(body) || name == "POST overtake")
    return(answered(desk, name, body))
  promises::promise(function(resolve, reject) {
    desk$waiting <- c(desk$waiting, list(function() resolve(answered(desk, name, body))))
  })
}

# One thing is answered at a time. While it waits for a source that is asked in
# another process (see waits()), what else comes is put down, and answered next.
answer_waiting <- function(desk) {
  while (length(desk$waiting)) {
    first <- desk$waiting[[1L]]
    desk$waiting <- desk$waiting[-1L]
    first()
  }
}

# While a source is asked: what else is asked of the desk is heard, and what has
# been overtaken by another act of its window is given up.
waits <- function(desk) {
  httpuv::service(NA)
  if (is_overtaken(desk, desk$now)) rlang::signal("", "fairlattice_overtaken")
}

is_overtaken <- function(desk, asked) {
  !is.null(asked$turn) && asked$turn <= desk$overtaken[[asked$window]] %||% 0
}

# The page counts the acts of its window, and says of which turn it no longer
# waits for an answer. What is taken away as a file is waited for.
answer_overtake <- function(desk, body) {
  turn <- turn_of(body)
  if (!is.null(turn)) desk$overtaken[[turn$window]] <- turn$turn
  list()
}

turn_of <- function(body) {
  right <- is.list(body) && is.numeric(body$turn) && length(body$turn) == 1L &&
           is.character(body$window) && length(body$window) == 1L
  if (right && nzchar(body$window)) body[c("window", "turn")]
}

# The answer to a body, or to the error that it was.
answered <- function(desk, name, body) {
  before <- list(now = desk$now, speaks = voice$speaks)
  on.exit({
    desk$now <- before$now
    voice$speaks <- before$speaks
  })
  voice$speaks <- "desk"
  if (name != "POST overtake")
    desk$now <- c(list(name = name), if (name != "POST take") turn_of(body))
  tryCatch({
    if (inherits(body, "condition")) stop(body)
    desk_answers[[name]](desk, body)
  }, fairlattice_overtaken = function(e) {
    json_answer(list(overtaken = TRUE))
  }, fairlattice_error = function(e) {
    json_answer(list(fault = fault_html(e)))
  }, error = function(e) {
    cat("fairlattice: internal error:", conditionMessage(e), "\n",
        file = stderr())
    json_answer(list(fault = fault_html(list(
      message = words("desk.internal", what = conditionMessage(e))))))
  })
}

most_posted <- 2^20

# Nothing of the page may be loaded from elsewhere, kept, framed or sent on.
desk_headers <- list(
  `Content-Security-Policy` = paste(
    paste("default-src 'none'; script-src 'self'; style-src 'self'",
          "'unsafe-inline'; img-src 'self' data: blob:;"),
    "connect-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"),
  `X-Content-Type-Options` = "nosniff", `Referrer-Policy` = "no-referrer",
  `Cache-Control` = "no-store",
  `Cross-Origin-Resource-Policy` = "same-origin",
  `Cross-Origin-Opener-Policy` = "same-origin")

desk_answer <- function(status, type, body, ...) {
  list(status = status,
       headers = c(list(`Content-Type` = type, ...), desk_headers), body = body)
}
text_answer <- function(type, body) desk_answer(200L, type, body)
plain_answer <- function(status, text) {
  desk_answer(status, "text/plain; charset=utf-8", text)
}
json_answer <- function(x) {
  desk_answer(200L, "application/json; charset=utf-8", to_json(x))
}

# What was posted, as lists. Every place where it is used checks what it takes
# out.
body_of <- function(request) {
  stop_body <- function(...) stop_input(tells("what_page_sent_cannot_read"), "desk", call = NULL)
  bytes <- request$rook.input$read()
  if (any(bytes == as.raw(0))) stop_body()
  found <- parse_json(rawToChar(bytes), stop_body)
  if (is.list(found)) found else stop_body()
}

fault_html <- function(e) {
  lines <- cli::ansi_strip(unlist(strsplit(
                                    unname(c(e$message, e$body)), "\n",
                                    fixed = TRUE)))
  lines <- sub("^(\u2139|\u2716|\u2022|[ix*]) ", "", lines)
  paste0(sprintf("<span>%s</span>", htmltools::htmlEscape(lines)),
         collapse = " ")
}

# ---- windows ----

# A window by its name: a new one begins with nothing, and another never sees
# it.
window_of <- function(desk, body) {
  id <- text_sent(body, "window")
  if (!grepl("^[a-z0-9]{8,40}$", id))
    stop_input(tells("window_no_sound_name"), "desk", call = NULL)
  if (is.null(desk$windows[[id]])) {
    asked <- if (desk$store$given)
      Filter(Negate(is.null), desk$store$records$roles) else list()
    desk$windows[[id]] <- list(id = id, now = new_work(asked), past = list(),
                               coming = list(), open = character())
  }
  window <- desk$windows[[id]]
  window$open <- as.character(unlist(body$open))
  window
}

# The works of other windows, also of those that are closed: nothing that was
# done is lost with a page.
works_elsewhere <- function(desk, id) {
  others <- Filter(function(one) one$id != id && !is.null(one$now$down),
                   as.list(desk$windows))
  at <- vapply(others, function(one) as.numeric(one$at %||% 0), 0)
  others <- others[order(at, decreasing = TRUE)]
  titles <- vapply(others, function(one) title_of_work(desk$store, one$now), "")
  as.list(stats::setNames(titles, vapply(others, function(one) one$id, "")))
}

most_undone <- 200L

# The window after an act. An act that leads to no table is not done: what stood
# before stays.
window_after <- function(desk, window, act, with) {
  if (act == "hello") return(window)
  if (act %in% c("undo", "redo")) return(stepped(window, act))
  now <- if (act == "take_up") {
    other <- desk$windows[[text_sent(with, "window")]]
    if (is.null(other))
      stop_input(tells("window_work_not_here_any"), "desk", call = NULL)
    other$now
  } else {
    check_choice(act, names(acts), "act", NULL)
    if (desk$store$given && act %in% c("ask", "ask_all"))
      stop_input(words("desk.design_given"), "desk", call = NULL)
    acts[[act]](window$now, as.list(with))
  }
  if (identical(now, window$now)) return(window)
  # an act that is overtaken is done all the same: the next one is an act upon it
  tryCatch(table_of_work(desk$store, now), fairlattice_overtaken = function(e) NULL)
  window$past <- utils::tail(
    c(window$past, list(list(work = window$now, did = act))), most_undone)
  window$coming <- list()
  window$now <- now
  window
}

stepped <- function(window, act) {
  from <- if (act == "undo") "past" else "coming"
  to <- if (act == "undo") "coming" else "past"
  stack <- window[[from]]
  if (!length(stack)) return(window)
  last <- stack[[length(stack)]]
  window[[to]] <- c(window[[to]], list(list(work = window$now, did = last$did)))
  window[[from]] <- stack[-length(stack)]
  window$now <- last$work
  window
}

# ---- answers ----

# What was done, and the parts of the page that are others than those that it
# has.
answer_act <- function(desk, body) {
  act <- text_sent(body, "act")
  window <- window_after(desk, window_of(desk, body), act, body$with)
  if (is.null(window$now$down))
    window$others <- works_elsewhere(desk, window$id)
  parts <- tryCatch({
    parts <- desk_parts(desk$store, window)
    parts$known <- known_part(desk$store, window$now)
    parts
  }, fairlattice_overtaken = function(e) NULL)
  window$at <- Sys.time()
  desk$windows[[window$id]] <-
    window[c("id", "now", "past", "coming", "open", "at")]
  if (is.null(parts)) return(list(overtaken = TRUE))
  marks <- lapply(parts, rlang::hash)
  known <- vapply(names(parts), function(name) {
    identical(body$have[[name]], marks[[name]])
  }, NA)
  list(parts = parts[!known], marks = marks,
       said = said_of_act(desk$store, window, act))
}

said_of_act <- function(store, window, act) {
  told <- if (act %in% c("undo", "redo")) words(paste0("desk.", act)) else
    if (act %in% names(acts)) words(paste0("desk.did.", act)) else return("")
  paste0(told, ". ",
         if (!is.null(window$now$down)) title_of_work(store, window$now))
}

# What the filter can be completed with: names with their titles, and answers of
# a few.
known_part <- function(store, work) {
  survey <- prepared_of_work(store, work)
  columns <- names(survey$data)
  once(store$parts, hash_of("known", work$asked, steps_of(work)), NULL, {
    answers <- lapply(met_columns(survey), function(x) {
      if (is.factor(x) && nlevels(x) <= look_at_most &&
            is.null(attr(x, "items", exact = TRUE)))
        I(answers_offered(x))
    })
    list(names = I(columns),
         titles = I(vapply(columns, question_title, "", survey = survey,
                           USE.NAMES = FALSE)),
         answers = Filter(Negate(is.null), answers))
  }, most = 300L)
}

most_pictures <- 40L

answer_pictures <- function(desk, body) {
  window <- window_of(desk, body)
  survey <- prepared_of_work(desk$store, window$now)
  columns <- utils::head(intersect(as.character(unlist(body$names)),
                                   names(survey$data)), most_pictures)
  lapply(stats::setNames(columns, columns), function(name) {
    found <- once(desk$store$pictures,
                  hash_of(window$now$asked, steps_of(window$now), name), NULL,
                  question_picture(survey, name), most = 4000L)
    c(list(n = if (is.na(found$n)) "" else format_count(found$n),
           shares = I(found$shares)),
      if (!is.null(found$range)) list(range = found$range))
  })
}

# The editor of a question's answers; with a step, what would become of them and
# of the table.
answer_answers <- function(desk, body) {
  window <- window_of(desk, body)
  work <- window$now
  question <- text_sent(body, "question")
  survey <- prepared_of_work(desk$store, work)
  check_choice(question, names(survey$data), "question", NULL)
  if (is.null(body$step))
    return(list(html = rendered(answers_editor(survey, question))))
  after <- acts$prepare(work, body$step)
  changed <- prepared_of_work(desk$store, after)
  shown <- body$step$into %||% body$step$name %||% question
  list(html = rendered(step_preview(desk$store, changed, shown, work, after)))
}

# A file of the table or the tray, in any form.
answer_take <- function(desk, body) {
  window <- window_of(desk, body)
  form <- text_sent(body, "form")
  check_choice(form, names(writers), "form", NULL)
  what <- text_sent(body, "what")
  check_choice(what, c("table", "tray"), "what", NULL)
  works <- if (what == "tray") window$now$tray else list(window$now)
  tables <-
    Filter(Negate(is.null), lapply(works, table_of_work, store = desk$store))
  if (!length(tables))
    stop_input(tells("no_table_publish"), "desk", call = NULL)
  figure <- works[[1L]]$figure
  drawn <- requireNamespace("ggplot2", quietly = TRUE)
  path <- scratch_file(paste0(".", form))
  on.exit(unlink(path))
  publish(if (length(tables) == 1L) tables[[1L]] else tables, path,
          figure = if (drawn) figure else "none")
  name <- gsub("[^a-z0-9]+", "-",
               tolower(paste(c(works[[1L]]$down, works[[1L]]$across),
                             collapse = " ")))
  if (length(tables) > 1L) name <- "tables" else if (!grepl("[a-z0-9]", name))
    name <- "table"
  desk_answer(200L, "application/octet-stream",
              readBin(path, "raw", file.size(path)),
              `Content-Disposition` = sprintf(
                "attachment; filename=\"%s.%s\"", name, form))
}

# The figure as a picture, with what it says.
answer_figure <- function(desk, body) {
  window <- window_of(desk, body)
  table <- table_of_work(desk$store, window$now)
  kind <- text_sent(body, "figure")
  check_choice(kind, names(figures), "figure", NULL)
  if (is.null(table)) stop_input(tells("no_table_draw"), "desk", call = NULL)
  need_package("ggplot2", tells("to_draw_figure"), NULL)
  f <- figure_data(table)
  path <- scratch_file(".svg")
  on.exit(unlink(path))
  in_style(table$layout$style, draw_figure(f, kind, path, "svg", NULL))
  svg <- readBin(path, "raw", file.size(path))
  json_answer(list(alt = figures[[kind]]$tell(f),
                   svg = jsonlite::base64_enc(svg)))
}
