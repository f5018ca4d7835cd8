# A real browser over its DevTools pipe: pages are opened, pointed at, tapped
# and tabbed through as a reader would.

chromium <- function() {
  found <- Sys.which(c("chromium", "chromium-browser", "google-chrome"))
  unname(found[nzchar(found)][1L])
}

skip_without_browser <- function() {
  skip_on_os("windows")
  skip_if_not_installed("processx")
  skip_if(is.na(chromium()), "no Chromium on this machine")
}

# A browser with one page; `to(method, ...)` sends a command and gives its
# result. Its pipe ends messages with NUL, which R has no place for, so that
# lines go to and fro.
new_browser <- function(width = 1280L, height = 800L, env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  pipes <- paste(paste("exec \"$@\" 3< <(exec stdbuf -o0 tr '\\n' '\\0') 4>",
                       ">(exec stdbuf -o0 tr '\\0' '\\n')"),
                 ">/dev/null 2>&1 </dev/null")
  process <- processx::process$new(
    "bash",
    c("-c", pipes, "bash", chromium(), "--headless", "--no-sandbox",
      "--disable-gpu", "--no-first-run", "--remote-debugging-pipe",
      "--disable-background-networking", paste0("--user-data-dir=", folder),
      "about:blank"), stdin = "|", stdout = "|", cleanup_tree = TRUE)
  withr::defer(process$kill_tree(), envir = env)
  b <- new.env()
  b$process <- process
  b$last <- 0L
  b$events <- list()
  b$to <- function(method, ...) {
    b$last <- b$last + 1L
    message <- list(id = b$last, method = method, params = list(...))
    if (!length(message$params)) message$params <- NULL
    message$sessionId <- b$session
    left <- process$write_input(
      paste0(jsonlite::toJSON(message, auto_unbox = TRUE, digits = NA), "\n"))
    while (length(left)) left <- process$write_input(left)
    answer_to(b, b$last)
  }
  target <- b$to("Target.createTarget", url = "about:blank")$targetId
  b$session <-
    b$to("Target.attachToTarget", targetId = target, flatten = TRUE)$sessionId
  for (domain in c("Page", "Runtime", "Log")) b$to(paste0(domain, ".enable"))
  sized(b, width, height)
  b
}

answer_to <- function(b, id) {
  until <- Sys.time() + 30
  while (Sys.time() < until) {
    b$process$poll_io(200L)
    for (line in b$process$read_output_lines()) {
      message <- jsonlite::fromJSON(line, simplifyVector = FALSE)
      if (is.null(message$id)) b$events <- c(b$events, list(message))
      if (identical(as.integer(message$id), id)) {
        if (!is.null(message$error))
          stop("the browser: ", message$error$message)
        found <- message$result
      }
    }
    if (exists("found", inherits = FALSE)) return(found)
  }
  stop("the browser did not answer")
}

sized <- function(b, width, height) {
  b$to("Emulation.setDeviceMetricsOverride", width = width, height = height,
       deviceScaleFactor = 1, mobile = FALSE)
}

opened <- function(b, path, script = TRUE) {
  b$to("Emulation.setScriptExecutionDisabled", value = !script)
  b$to("Page.navigate",
       url = if (startsWith(path, "http:")) path else
         paste0("file://", normalizePath(path)))
  until <- Sys.time() + 30
  while (Sys.time() < until && !identical(asked(b, "document.readyState"), "complete")) {
    Sys.sleep(0.05)
  }
  Sys.sleep(0.2)
  invisible(b)
}

# The value of an expression in the page.
asked <- function(b, expression) {
  found <-
    b$to("Runtime.evaluate", expression = expression, returnByValue = TRUE)
  if (!is.null(found$exceptionDetails))
    stop("in the page: ", found$exceptionDetails$exception$description)
  found$result$value
}

# Real pointer and keys.
middle_of <- function(b, selector) {
  unlist(asked(b,
               sprintf(paste(paste("(() => { const e =",
                                   "document.querySelector(%s);",
                                   "e.scrollIntoView({block: 'center'});"),
                             "const r = e.getBoundingClientRect();",
                             "return [r.x + r.width / 2, r.y + r.height / 2] })()"),
                       jsonlite::toJSON(selector, auto_unbox = TRUE))))
}

pointed <- function(b, selector) {
  at <- middle_of(b, selector)
  b$to("Input.dispatchMouseEvent", type = "mouseMoved", x = at[1L], y = at[2L])
}

clicked <- function(b, selector) {
  at <- middle_of(b, selector)
  for (type in c("mousePressed", "mouseReleased")) b$to(
    "Input.dispatchMouseEvent", type = type, x = at[1L], y = at[2L],
    button = "left", clickCount = 1L)
}

keyed <- function(b, key,
                  code = c(Tab = 9L, Enter = 13L, Escape = 27L, ArrowLeft = 37L,
                           ArrowUp = 38L, ArrowRight = 39L, ArrowDown = 40L)[[key]]) {
  text <- if (key == "Enter") list(text = "\r") # which sends a form
  for (type in c("keyDown", "keyUp")) do.call(
    b$to,
    c(list("Input.dispatchKeyEvent", type = type, key = key, code = key,
           windowsVirtualKeyCode = code), if (type == "keyDown") text))
}

typed <- function(b, text) {
  for (one in strsplit(text, "")[[1L]]) b$to(
    "Input.dispatchKeyEvent", type = "char", text = one)
}

# Waits until an expression is true in the page.
waited <- function(b, expression, seconds = 20) {
  until <- Sys.time() + seconds
  while (Sys.time() < until) {
    if (isTRUE(asked(b, expression))) return(invisible(TRUE))
    Sys.sleep(0.05)
  }
  stop("in vain waited for: ", expression)
}

# A thing taken with the pointer and let go over another.
dragged <- function(b, from, to) {
  b$to("Input.setInterceptDrags", enabled = TRUE)
  at <- middle_of(b, from)
  mouse <- function(type, at, ...) {
    b$to("Input.dispatchMouseEvent", type = type, x = at[1L], y = at[2L], ...)
  }
  mouse("mousePressed", at, button = "left", clickCount = 1L)
  mouse("mouseMoved", at + 12, button = "left")
  mouse("mouseMoved", at + 24, button = "left")
  until <- Sys.time() + 10
  taken <- function() {
    Filter(function(one) one$method == "Input.dragIntercepted", b$events)
  }
  while (!length(taken()) && Sys.time() < until) asked(b, "1")
  data <- utils::tail(taken(), 1L)[[1L]]$params$data
  place <- middle_of(b, to)
  for (type in c("dragEnter", "dragOver", "drop")) b$to(
    "Input.dispatchDragEvent", type = type, x = place[1L], y = place[2L],
    data = data)
  mouse("mouseReleased", place, button = "left", clickCount = 1L)
  b$events <- list()
  b$to("Input.setInterceptDrags", enabled = FALSE)
}

# A further page of the browser; `b$session` says which one is spoken to.
another_page <- function(b) {
  target <-
    b$to("Target.createTarget", url = "about:blank", forTab = FALSE)$targetId
  first <- b$session
  b$session <- NULL
  b$session <-
    b$to("Target.attachToTarget", targetId = target, flatten = TRUE)$sessionId
  for (domain in c("Page", "Runtime", "Log")) b$to(paste0(domain, ".enable"))
  first
}

# The desk on a file, as the command serves it; gives its address. `began` is
# handed its process.
served_desk <- function(words, env = parent.frame(), began = function(process) {
  NULL
}) {
  skip_if_not_installed("httpuv")
  process <- processx::process$new(
    file.path(R.home("bin"), "Rscript"),
    c("-e", "q(status = fairlattice::main(commandArgs(TRUE)))", "desk", words,
      "--no-browser"), stdout = "|",
    stderr = "|", cleanup_tree = TRUE)
  withr::defer(process$kill_tree(), envir = env)
  began(process)
  until <- Sys.time() + 30
  while (Sys.time() < until && process$is_alive()) {
    process$poll_io(500L)
    address <- grep("^http://127[.]0[.]0[.]1:", process$read_output_lines(),
                    value = TRUE)
    if (length(address)) return(address)
  }
  stop("the desk did not begin: ", process$read_all_error())
}

# What the page complained of: errors of the script, and what its policy
# refused.
complaints <- function(b) {
  Filter(function(one) {
    one$method %in% c("Runtime.exceptionThrown", "Log.entryAdded")
  }, b$events)
}

# The design, as it is said to the desk.
design_asked <-
  list(weight = "weight", stratum = "island", cluster = "settlement", id = "id")
