# Whether what was published still holds: its tables made anew of the records, and
# what the file shows held against what it carries. Nothing of a file is run: what
# was done is read as a plan is.

#' Hold published tables against records
#'
#' A page, document, workbook, slides or JSON of [publish()] carries its tables as
#' data: the questions, who was asked, what was done step by step, and the figures.
#' `verify()` makes every table anew of the records that are given and says of each
#' whether it is
#'
#' * `"the same"`: the same figures, of a file with the same checksum;
#' * `"the same figures from other records"`;
#' * `"other figures"`: `detail` names the cells, with what was published and what
#'   comes out now;
#' * `"edited by hand"`: numbers that the file was written with do not stand in it
#'   any more (a line of its own, beside the verdict on the figures);
#' * `"not to be made again"`: `detail` says why: the records have another form, or
#'   something was done that a plan cannot say.
#'
#' Figures are the counts, weighted counts and percentages of every cell, the
#' statistic of the test and the measures of strength. A report can be held true by
#' a nightly run of `fairlattice verify report/ --records now.csv`, whose status is 1
#' as soon as one table does not hold.
#'
#' @param path (character) Files, or folders with all their files, of the endings
#'   `.html`, `.docx`, `.xlsx`, `.pptx` and `.json`.
#' @param records (data frame or string) The records, as [read_records()] gives
#'   them, or their file.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame of class `fairlattice_verified`, a row a table (and one more
#'   where it was edited): `file`, `table`, `verdict`, `detail`, and `holds`, TRUE
#'   for the first two verdicts.
#' @section Errors: `fairlattice_error_no_file`, `fairlattice_error_not_a_table` for
#'   a file that holds no tables as data (in a folder it is left out, and said in the
#'   attribute `without`), and those of [read_records()].
#' @export
#' @examplesIf requireNamespace("xml2", quietly = TRUE)
#' folder <- tempfile()
#' dir.create(folder)
#' records <- read_records(demo_file("veyra.csv"))
#' survey <- respondents(records, weight = weight, cluster = settlement)
#' publish(crosstab(survey, heating, island), file.path(folder, "heating.html"))
#' verify(folder, records)
verify <- function(path, records, ...) {
  nothing_else(...)
  call <- environment()
  if (!is.character(path) || !length(path) || anyNA(path))
    stop_input(tells("verify_paths_are_texts", quote_value(path)), "no_file", call = call)
  if (is.character(records) && length(records) == 1L) records <- read_records(records)
  check_data_frame(records, call)
  files <- lapply(path, verified_files, call = call)
  found <- lapply(unlist(lapply(files, `[[`, "named")), verified_file, records = records,
                  call = call)
  looked <- lapply(unlist(lapply(files, `[[`, "inside")), function(file) {
    tryCatch(verified_file(file, records, call),
             fairlattice_error_not_a_table = function(e) NULL)
  })
  names(looked) <- unlist(lapply(files, `[[`, "inside"))
  without <- names(Filter(is.null, looked))
  rows <- do.call(rbind, c(found, unname(Filter(Negate(is.null), looked)))) %||%
    verified_row(character(), character(), character(), character())
  rows$holds <- rows$verdict %in% verdicts_that_hold
  new_result(rows, "verified", without = without)
}

verdicts_that_hold <- c("the same", "the same figures from other records")
verified_endings <- c("html", "docx", "xlsx", "pptx", "json")

verified_row <- function(file, table, verdict, detail = "") {
  list2DF(list(file = rep_len(file, length(verdict)), table = rep_len(table, length(verdict)),
               verdict = verdict, detail = rep_len(detail, length(verdict))))
}

# Files that are named, and those inside folders, which may hold no tables.
verified_files <- function(path, call) {
  if (!dir.exists(path)) {
    check_file(path, call)
    return(list(named = path, inside = character()))
  }
  inside <- sort(list.files(path, full.names = TRUE, recursive = TRUE), method = "radix")
  list(named = character(),
       inside = inside[vapply(inside, file_ending, "") %in% verified_endings])
}

# All tables of a file, a row each.
verified_file <- function(path, records, call) {
  file <- basename(path)
  stop_table <- function(...) stop_input(c(...), "not_a_table", path = path, call = call)
  raw <- parse_json(table_text(path, stop_table, call), function(why) {
    stop_table(tells("file_is_not_json", file), x = why)
  })
  raw <- if (is.null(names(raw))) raw else list(raw)
  tables <- Filter(function(one) {
    is.list(one) && identical(one$format, "fairlattice-table")
  }, raw)
  if (!length(tables)) stop_table(tells("json_but_holds_no_table", file))
  rows <- lapply(tables, function(one) {
    tryCatch({
      stored <- table_from_json(one, file, stop_table)
      verified_table(stored, one, records, file)
    }, fairlattice_error_not_a_table = function(e) {
      # the data inside do not add up any more
      verified_row(file, table_named(one), "edited by hand", plain_message(e))
    })
  })
  shown <- Find(is_printed, raw)
  do.call(rbind, c(rows, list(if (!is.null(shown)) edited_rows(path, file, shown, call))))
}

table_named <- function(raw) {
  if (is.character(raw$title)) paste(raw$title, collapse = " ") else ""
}

edited_rows <- function(path, file, shown, call) {
  gone <- changed_by_hand(shown, rows_shown(path, call))
  do.call(rbind, lapply(split(gone, factor(gone$title, unique(gone$title))), function(own) {
    texts <- vapply(split(own$printed, factor(own$line, unique(own$line))), paste, "",
                    collapse = ", ")
    verified_row(file, own$title[1L], "edited by hand",
                 words("verify_gone", lines = names(texts), texts = unname(texts)))
  }))
}

verified_table <- function(stored, raw, records, file) {
  now <- tryCatch(table_made_anew(stored, records),
                  fairlattice_error = function(e) plain_message(e))
  if (is.character(now))
    return(verified_row(file, table_named(raw), "not to be made again", now))
  differing <- figures_that_differ(stored, now)
  same_file <- !is.null(stored$facts$source$sha256) &&
    identical(stored$facts$source$sha256, file_checksum(now))
  verdict <- if (length(differing)) "other figures" else verdicts_that_hold[2L - same_file]
  verified_row(file, table_named(raw), verdict,
               words("verify_differs", what = differing))
}

plain_message <- function(e) {
  cli::ansi_strip(paste(c(e$message, unname(e$body)), collapse = " "))
}

# ---- a table made anew ----

table_made_anew <- function(x, records) {
  made <- checked_recipe(x$facts$made)
  survey <- asked_survey(records, made$asked)
  for (step in made$steps) survey <- made_step(step, survey)
  facts <- x$facts
  alone <- !has(x, "across")
  statements <- has(x, "statements")
  choices <- x$choices
  shares <- if (length(facts$down$shares))
    stats::setNames(as.numeric(facts$down$shares), facts$down$categories$label)
  table <- function(p) {
    crosstab(survey, down = !!facts$down$name,
             across = !!(if (!alone && !statements) facts$across$name),
             each = !!facts$each$name, explains = choices$explains,
             percent = if (alone || statements) NULL else choices$percent,
             alpha = choices$alpha, correction = choices$correction,
             paired = isTRUE(choices$paired), p = p, shares = shares, keep_empty = TRUE)
  }
  table(choices$p)
}

# What a file says was done, checked as the keys of a plan are.
checked_recipe <- function(made) {
  cannot <- function(why, ...) stop_input(c(why, ...), "recipe", call = NULL)
  if (is.null(made)) cannot(tells("recipe_not_known"))
  plan <- structure(list(file = "", called = "the table", places = NULL, keys = made,
                         faults = new_faults()), class = "fairlattice_plan")
  asked <- if (length(made$asked))
    checked_section(plan, made$asked, asked_keys(), "asked") else list()
  verbs <- plan_keys()$prepare$keys
  steps <- lapply(made$steps, function(step) {
    verb <- names(step)
    if (length(verb) == 1L && verb %in% names(recipe_verbs))
      return(list(verb = verb, with = step[[1L]]))
    if (length(verb) == 1L && !verb %in% names(verbs))
      cannot(tells("recipe_not_in_a_plan", verb))
    checked_step(plan, step, verbs, "prepare")
  })
  if (length(plan$faults$found)) cannot(plan$faults$found[[1L]]$message)
  list(asked = asked, steps = steps)
}

# What is done to a survey that is no step of preparing: how, given the keys as they
# stand in the file.
recipe_verbs <- list(
  among = function(survey, with) {
    among(survey, !!as.character(with$condition), base = with$base)
  },
  make_replicates = function(survey, with) {
    given <- Filter(Negate(is.null), with[c("replicates", "seed")])
    rlang::inject(make_replicates(survey, as.character(with$kind),
                                  fay = as.numeric(with$fay %||% 0), !!!given))
  },
  statements = function(survey, with) {
    name <- as.character(with$name)
    if (!is_battery(survey, name))
      stop_input(tells("no_column", name, "down"), "no_column", call = NULL)
    with_statements(survey, name, NULL)
  })

made_step <- function(step, survey) {
  own <- recipe_verbs[[step$verb]]
  if (is.null(own)) step_done(step, survey) else own(survey, step$with)
}

# ---- what differs ----

# In words: the cells whose counts or percentages differ, tests and measures.
figures_that_differ <- function(stored, now) {
  was <- cells_frame(stored)
  is <- cells_frame(now)
  key <- function(cells) paste(cells$each, cells$down, cells$across, sep = "\r")
  at <- match(key(was), key(is))
  here <- is[at, ]
  percent <- paste0(stored$choices$percent, "_percent")
  n <- ifelse(is.na(at), 0, here$n)
  differs <- n != was$n | far_apart(here$weighted, was$weighted) |
    far_apart(here[[percent]], was[[percent]])
  differs[is.na(at)] <- was$n[is.na(at)] > 0
  new <- is[!key(is) %in% key(was) & is$n > 0, ]
  # those that moved most first
  moved <- abs(here[[percent]] - was[[percent]])
  differs <- which(differs)[order(-moved[differs], -abs(n - was$n)[differs])]
  c(words("verify_cell", down = was$down[differs], across = was$across[differs],
          n = was$n[differs], percent = was[[percent]][differs], now_n = n[differs],
          now_percent = here[[percent]][differs]),
    words("verify_cell", down = new$down, across = new$across, n = rep(0, nrow(new)),
          percent = rep(NA_real_, nrow(new)), now_n = new$n, now_percent = new[[percent]]),
    if (!length(differs) && !nrow(new)) results_that_differ(stored, now))
}

results_that_differ <- function(stored, now) {
  unlist(lapply(seq_along(stored$layers), function(k) {
    was <- headline_of(tests_of(stored)[[k]])
    is <- headline_of(tests_of(now)[[min(k, length(now$layers))]])
    if (far_apart(is$statistic, was$statistic) || far_apart(is$p, was$p))
      words("verify_test", was = test_figures(was), now = test_figures(is))
  }))
}

# To rounding; what is missing in one alone is far.
far_apart <- function(a, b) {
  both <- !is.na(a) & !is.na(b)
  out <- is.na(a) != is.na(b)
  out[both] <- abs(a[both] - b[both]) > 1e-7 * pmax(1, abs(b[both]))
  out
}

#' @export
format.fairlattice_verified <- function(x, width = cli::console_width(), ...) {
  plain_text(text_of_parts(parts_of(x), width))
}

#' @export
parts_of.fairlattice_verified <- function(x, width = Inf, ...) {
  nothing_else(...)
  without <- attr(x, "without")
  lines <- if (nrow(x)) words("verify_line", file = x$file, table = x$table,
                              verdict = x$verdict, detail = x$detail)
  in_parts(said_part(words("verify_head", tables = sum(x$verdict != "edited by hand"),
                           holds = sum(x$holds))),
           gap_part, said_part(lines, exdent = 4L),
           if (length(without))
             said_part(words("verify_without", files = basename(without))))
}

#' @export
print.fairlattice_verified <- function(x, ...) {
  cat(format(x, ...), sep = "\n")
  invisible(x)
}
