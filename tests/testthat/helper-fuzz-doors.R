# More random attacks, on every door: labels that are formats or no characters,
# columns of other programs, the same column through every source, templates and
# documents that are damaged, requests to the desk, other decimal marks.

hostile_labels <- c("75% or more", "100%", "%s", "%d of %n", "%", "50%s%n%x",
                    "{stop('x')}", "\\1\\2", "$&", "=1+1", "\uff1d1+1", "+49",
                    "@sum", "-5 to 5", "a\ufffeb", "\uffff",
                    "\u0001\u001b[31mred", "\u001b[1mbold", "\u202eabc", "a\tb",
                    "l\nm", "\"q\"", "it's", "<b>&amp;", "]]>", "--", "NA",
                    "null", "#REF!", "''", "\\", "a,b;c|d", "0,05",
                    strrep("long ", 60L), "\u00e9\u0301", "\U1F600")

texts <- function(n, of = hostile_labels) {
  sample(sample(of, sample(2:4, 1L)), n, TRUE)
}

# Tables of such labels in every form: text has no control sign, XML is
# well-formed, cells come back as they went.
fuzz_labels <- function() {
  n <- sample(c(7L, 30L, 60L), 1L)
  data <- data.frame(a = texts(n), b = texts(n))
  names(data) <- c(sample(c("a", "=b", "%s"), 1L), "q")
  attr(data[[1L]], "label") <- sample(hostile_labels, 1L)
  x <- crosstab(data, !!names(data)[1L], q)
  if (runif(1) < 0.3) x <- flip(x)
  account_adds_up(x)
  # pages and pictures take longer
  ending <- sample(c("tidy.csv", "csv", "txt", "json", "tex", "md", "docx",
                     "xlsx", "html", "svg"), 1L,
                   prob = c(8, 4, 4, 4, 3, 3, 2, 2, 1, 1))
  path <- tempfile(fileext = paste0(".", ending))
  on.exit(unlink(path))
  publish(x, path, figure = if (ending == "html") "none" else "shares")
  check_form(path, ending, x)
}

check_form <- function(path, ending, x) {
  if (ending %in% c("docx", "xlsx")) {
    folder <- tempfile("form-")
    on.exit(unlink(folder, recursive = TRUE))
    utils::unzip(path, exdir = folder)
    for (part in list.files(folder, "[.](xml|rels)$", recursive = TRUE,
                            full.names = TRUE)) xml2::read_xml(part)
    return(invisible(read_tables(path)))
  }
  if (ending == "svg") return(invisible(xml2::read_xml(path)))
  text <- readChar(path, file.size(path), useBytes = TRUE)
  Encoding(text) <- "UTF-8"
  if (grepl("[\\x{01}-\\x{08}\\x{0b}\\x{0c}\\x{0e}-\\x{1f}]", text,
            perl = TRUE)) stop("a control sign is in the file")
  if (ending == "json") return(invisible(read_tables(path)))
  if (ending == "tidy.csv") {
    read <- utils::read.csv(path, colClasses = "character", encoding = "UTF-8",
                            na.strings = character())
    if (nrow(read) != nrow(as.data.frame(x)) ||
          sum(as.numeric(read$n)) != sum(as.data.frame(x)$n))
      stop("cells are lost")
  }
}

# A number of another program, some of whose codes are declared missing, and
# what stands behind it.
foreign_column <- function(n) {
  values <- sample(c(18, 25, 40, 60, 98, 99), n, TRUE)
  tagged <- function(k) missing_for_kernel(k)
  kinds <- list(
    function() {
      list(x = structure(values, na_values = c(98, 99)), gone = values >= 98)
    },
    function() {
      list(x = structure(values, na_range = c(98, 99),
                         class = "haven_labelled"), gone = values >= 98)
    },
    function() {
      list(x = structure(values, na_values = 99,
                         labels = c("Don't know" = 99, Refused = 98)),
           gone = values == 99)
    },
    function() {
      list(x = structure(replace(values, values == 99, tagged(97L)),
                         labels = c(Refused = tagged(97L))),
           gone = values == 99)
    },
    function() {
      list(x = bit64::as.integer64(replace(values, values == 99, NA)),
           gone = values == 99)
    },
    function() {
      list(x = bit64::as.integer64("9007199254740993") +
               bit64::as.integer64(values), gone = rep(FALSE, n))
    },
    function() {
      list(x = structure(as.integer(values), label = "%s",
                         class = c("own", "integer")), gone = rep(FALSE, n))
    })
  kinds[[sample(length(kinds), 1L)]]()
}

# However it is asked, as many records have no answer.
fuzz_columns <- function() {
  n <- sample(c(7L, 40L), 1L)
  made <- foreign_column(n)
  data <- list2DF(list(v = made$x, g = rep_len(c("p", "q"), n),
                       w = structure(runif(n, 1, 2), labels = c(odd = 9),
                                     class = "own")))
  if (all(made$gone)) return("")
  survey <- if (runif(1) < 0.5) respondents(data, weight = w) else data
  left <- function(x) sum(findings(x)$base$left_out$records)
  number <- suppressWarnings(!inherits(made$x, "integer64") ||
                             all(abs(as.numeric(made$x)) < 2^53, na.rm = TRUE))
  tables <- list(crosstab(survey, v, g),
                 if (number)
                   crosstab(band(survey, v, breaks = c(30, 70)), v, g))
  for (x in Filter(Negate(is.null), tables)) {
    account_adds_up(x)
    if (left(x) != sum(made$gone))
      stop(sprintf("%d records without an answer, not %d", left(x),
                   sum(made$gone)))
  }
  if (number) {
    kept <- sum(!made$gone & as.numeric(made$x) > 30, na.rm = TRUE)
    found <- tryCatch(sum(findings(crosstab(among(survey, "v > 30"), g))$layers$n),
                      fairlattice_error_nobody = function(e) 0)
    if (found != kept)
      stop(sprintf("a condition keeps %s records, not %s", found, kept))
  }
  look(data)
  draft_codebook(data)
  codebook(data)
  ""
}

# ---- one rule for a cell ----

# A column as any source may hold it.
source_column <- function(n) {
  kinds <- list(
    function() {
      texts(n,
            setdiff(hostile_labels,
                    c("NA", "a\tb", "l\nm", "+49", "a\ufffeb", "\uffff",
                      "\u0001\u001b[31mred")))
    },
    function() sample(c("u", "v", "", "  ", NA), n, TRUE),
    function() sample(c(1L, 2L, -9L, NA), n, TRUE),
    function() {
      sample(c(0.5, 0.1 + 0.2, -3, NA), n,
             TRUE)
    }, function() bit64::as.integer64(sample(c(1, 7e10, NA), n, TRUE)),
    function() rep(NA_character_, n))
  kinds[[sample(length(kinds), 1L)]]()
}

source_weight <- function(n) {
  kinds <- list(function() round(runif(n, 0.5, 3), 3), function() {
    sample(c(1, 0, NA), n, TRUE)
  }, function() rep(0, n), function() {
    sample(c(1, -2), n, TRUE)
  }, function() sample(c(1, Inf), n, TRUE), function() rep(1e-200, n),
                function() sample(c("1.5", "much"), n, TRUE), function() {
                  rep(c("x", NA), length.out = n)
                }, function() bit64::as.integer64(sample(c(1, 3, NA), n, TRUE)))
  kinds[[sample(length(kinds), 1L, prob = c(6, 4, rep(1, 7)))]]()
}

# The records as frame, file, file in chunks, and table of a database; each
# gives a survey.
doors_to <- function(data, con, folder) {
  plain <- list2DF(lapply(data, function(x) {
    if (inherits(x, "integer64")) as.numeric(x) else x
  }))
  at <- function(name) file.path(folder, name)
  data.table::fwrite(plain, at("t.csv"), na = "", quote = TRUE)
  con_lines <- file(at("t.jsonl"), "wb")
  jsonlite::stream_out(plain, con_lines, verbose = FALSE, na = "null",
                       digits = NA)
  close(con_lines)
  nanoparquet::write_parquet(plain, at("t.parquet"))
  if (DBI::dbExistsTable(con, "t")) DBI::dbRemoveTable(con, "t")
  DBI::dbWriteTable(con, "t", data)
  out <- list(frame = function() data, csv = function() {
    read_records(at("t.csv"))
  }, chunks = function() records_in_chunks(at("t.csv")), lines = function() {
    records_in_chunks(at("t.jsonl"))
  }, parquet = function() records_in_chunks(at("t.parquet")),
              sqlite = function() dbi_table(con, "t"))
  if (runif(1) < 0.8) out["parquet"] <- NULL # which takes a process of its own
  finite <- all(vapply(plain, function(x) {
    !is.numeric(x) || all(is.finite(x) | is.na(x))
  }, NA))
  # what a kind of file has no way to hold: an infinite number, a column of
  # nothing at all
  held <- vapply(plain, function(x) any(!is.na(x)), NA)
  if (!finite || !all(held))
    out[c("csv", "chunks", "lines", if (!all(held)) c("sqlite", "parquet"))] <- NULL
  out
}

# What a source makes of a question: the numbers to the last digit, or the words
# of its refusal.
told_by <- function(door, ask) {
  tryCatch({
    x <- ask(door())
    cells <- as.data.frame(x)
    left <- findings(x)$base$left_out
    list(cells = cells[order(cells$down, cells$across), c("down", "across", "n", "weighted", "column_percent")],
         left = left[order(left$code, left$detail), c("code", "records")])
  }, fairlattice_error = function(e) {
    list(refused = first_line(conditionMessage(e)))
  })
}

fuzz_sources <- function() {
  n <- sample(c(8L, 30L), 1L)
  data <- list2DF(list(a = source_column(n), b = sample(c("p", "q"), n, TRUE),
                       w = source_weight(n)))
  weighted <- runif(1) < 0.6
  condition <- sample(c("", "a != 'u'", "is.na(a)", "a == 'v' | b == 'p'",
                        "b %in% c('p')"), 1L)
  ask <- function(records) {
    survey <- if (weighted) respondents(records, weight = w) else
      respondents(records)
    if (nzchar(condition) &&
          (is.character(data$a) || condition == "b %in% c('p')"))
      survey <- among(survey, !!condition)
    crosstab(survey, a, b)
  }
  folder <- tempfile("doors-")
  dir.create(folder)
  con <- DBI::dbConnect(RSQLite::SQLite(), ":memory:")
  on.exit({
    DBI::dbDisconnect(con)
    unlink(folder, recursive = TRUE)
  })
  doors <- doors_to(data, con, folder)
  # a text file has no kinds: what is all numbers there is a number
  if (is.character(data$w) && all(is.na(data$w) | data$w %in% "1.5"))
    doors[c("csv", "chunks")] <- NULL
  found <- lapply(doors, told_by, ask = ask)
  apart <- names(Filter(function(one) {
    !isTRUE(all.equal(one, found$frame, tolerance = 1e-14,
                      check.attributes = FALSE))
  }, found))
  if (length(apart))
    stop(sprintf("%s and frame differ: %s / %s", apart[1L],
                 paste(unlist(found[[apart[1L]]]), collapse = " "),
                 paste(unlist(found$frame), collapse = " ")))
  ""
}

# ---- templates, documents, requests ----

fuzz_template <- function() {
  ending <- sample(c("docx", "pptx"), 1L, prob = c(4, 1))
  bytes <- damage_in(fuzz_state[[ending]])
  template <- file_of(bytes, paste0(".", ending))
  out <- tempfile(fileext = paste0(".", ending))
  on.exit(unlink(c(template, out)))
  publish(fuzz_state$small, out, template = template, figure = "none")
  read_tables(out)
  folder <- checked_package(out, 1e9, NULL) # what was written is whole
  unlink(folder, recursive = TRUE)
}

# One byte, or some, of a package of any size.
damage_in <- function(bytes) {
  at <- sample.int(length(bytes), sample(1:3, 1L))
  switch(sample(4L, 1L),
         replace(bytes, at, as.raw(sample(0:255, length(at), TRUE))),
         utils::head(bytes, at[1L]), bytes[-at],
         append(bytes, as.raw(sample(0:255, 5L)), at[1L]))
}

fuzz_document <- function() {
  ending <- sample(c("docx", "xlsx", "pptx", "html"), 1L)
  path <- file_of(damage_in(fuzz_state$written[[ending]]), paste0(".", ending))
  on.exit(unlink(path))
  x <- read_tables(path)
  if (!identical(as.data.frame(x)$n, as.data.frame(fuzz_state$small)$n))
    stop("other numbers than were written")
}

# A request with any head and body: refused, or answered with words of ours.
fuzz_request <- function() {
  desk <- fuzz_state$desk
  one_of <- function(...) sample(list(...), 1L)[[1L]]
  body <- one_of("{}", "[", "null",
                 "{\"window\": \"abcdefgh1\", \"act\": \"put\"}", "\"x\"",
                 strrep("[", 500),
                 paste("{\"window\": \"abcdefgh1\", \"act\": \"set\",",
                       "\"with\": {\"name\": \"alpha\", \"value\": {}}}"),
                 "{\"window\": [1], \"act\": {}}",
                 "{\"window\": \"abcdefgh1\", \"form\": \"../x\"}", "\ufffe")
  request <- Filter(Negate(is.null),
                    list(
                      REQUEST_METHOD = one_of("GET", "POST", "PUT", "", "get"),
                      PATH_INFO = one_of(
                        sprintf("/%s/", desk$token),
                        sprintf("/%s/do", desk$token),
                        sprintf("/%s/take", desk$token),
                        sprintf("/%s/figure", desk$token), "/", "//", NULL,
                        "/../etc", sprintf("/%s", desk$token)),
                      HTTP_HOST = one_of(
                        sprintf("127.0.0.1:%d", desk$port), "elsewhere", NULL),
                      HTTP_ORIGIN = one_of(NULL, "null", "http://x"),
                      CONTENT_TYPE = one_of(
                        "application/json", "text/plain", NULL),
                      HTTP_UPGRADE = one_of(NULL, NULL, NULL, "websocket"),
                      HTTP_CONTENT_LENGTH = one_of(
                        as.character(nchar(body)), "-1", "1e99", "x", NULL,
                        "99999999999"),
                      HTTP_TRANSFER_ENCODING = one_of(
                        NULL, NULL, NULL, "chunked"),
                      rook.input = list(read = function() charToRaw(body))))
  said <- utils::capture.output(answer <- answer_request(desk, request),
                                type = "output")
  if (!answer$status %in% c(200L, 404L, 413L, 415L)) stop("an odd status")
  if (grepl("program failed", paste(answer$body, collapse = ""), fixed = TRUE))
    stop(answer$body)
  open <- identical(request$HTTP_HOST, sprintf("127.0.0.1:%d", desk$port)) &&
          is.null(request$HTTP_UPGRADE) &&
          startsWith(request$PATH_INFO %||% "", sprintf("/%s/", desk$token)) &&
          is.null(request$HTTP_ORIGIN)
  if (!open && answer$status != 404L) stop("a stranger is answered")
}

fuzz_begin_doors <- function() {
  survey <- respondents(demo_records(), weight = weight)
  fuzz_state$small <- crosstab(survey, leave, mode)
  folder <- tempfile("written-")
  dir.create(folder)
  fuzz_state$written <- lapply(
    stats::setNames(nm = c("docx", "xlsx", "pptx", "html")), function(ending) {
      path <- file.path(folder, paste0("t.", ending))
      publish(fuzz_state$small, path, figure = "none")
      readBin(path, "raw", file.size(path))
    })
  for (ending in c("docx", "pptx")) fuzz_state[[ending]] <-
    fuzz_state$written[[ending]]
  fuzz_state$desk <-
    new_desk(new_store(read_records(demo_file("veyra.csv")), "records"))
  fuzz_state$desk$port <- 4321L
}

fuzz_doors <- list(labels = fuzz_labels, columns = fuzz_columns,
                   sources = fuzz_sources, template = fuzz_template,
                   document = fuzz_document, request = fuzz_request)

# The kinds that take longest, of which there are fewer cases.
slow_kinds <- c("sheet", "template", "sources")
