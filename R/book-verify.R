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
#' A book carries its plan, and what was done to the records, in place of the
#' figures: it is made anew, and what it prints is held against what it printed,
#' figures as they were rounded, and also of tables whose counts are withheld.
#'
#' @param path (character) Files, or folders with all their files, of the endings
#'   `.html`, `.docx`, `.xlsx`, `.pptx` and `.json`.
#' @param records (data frame or string) The records, as [read_records()] gives
#'   them, or their file.
#' @param before (data frame, string or list of them, default none) The records of
#'   the waves before, in their order, for a book that shows changes.
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
verify <- function(path, records, before = NULL, ...) {
  nothing_else(...)
  call <- environment()
  if (!is.character(path) || !length(path) || anyNA(path))
    stop_input(tells("verify_paths_are_texts", quote_value(path)), "no_file", call = call)
  in_hand <- function(records) {
    if (is.character(records) && length(records) == 1L) records <- read_records(records)
    check_data_frame(records, call)
    records
  }
  held <- list(kept = new.env(parent = emptyenv()), now = in_hand(records),
               before = if (is.data.frame(before)) list(before) else
                 if (length(before)) lapply(before, in_hand))
  files <- lapply(path, verified_files, call = call)
  found <- lapply(unlist(lapply(files, `[[`, "named")), verified_file, held = held,
                  call = call)
  looked <- lapply(unlist(lapply(files, `[[`, "inside")), function(file) {
    tryCatch(verified_file(file, held, call),
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

# The same figures: of the same file, by its checksum then and now, or of others.
verdict_of_same <- function(then, now) {
  same_file <- !is.null(then) && identical(then, now)
  verdicts_that_hold[2L - same_file]
}

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

# All tables of a file, a row each. `held` are the records, of now and before, and the
# books that were made of them.
verified_file <- function(path, held, call) {
  file <- basename(path)
  stop_table <- function(...) stop_input(c(...), "not_a_table", path = path, call = call)
  raw <- parse_json(table_text(path, stop_table, call), function(why) {
    stop_table(tells("file_is_not_json", file), x = why)
  })
  raw <- if (is.null(names(raw))) raw else list(raw)
  tables <- Filter(function(one) {
    is.list(one) && identical(one$format, "fairlattice-table")
  }, raw)
  recipe <- Find(is_recipe, raw)
  shown <- Find(is_printed, raw)
  if (!length(tables) && is.null(recipe)) stop_table(tells("json_but_holds_no_table", file))
  if (!is.null(shown) && !is_sound_print(shown) || !is.null(recipe) && !is_sound_recipe(recipe))
    stop_table(tells("what_file_carries_is_damaged", file))
  rows <- lapply(tables, function(one) {
    tryCatch({
      stored <- table_from_json(one, file, stop_table)
      verified_table(stored, one, held$now, file)
    }, fairlattice_error_not_a_table = function(e) {
      # the data inside do not add up any more
      verified_row(file, table_named(one), "edited by hand", plain_message(e))
    })
  })
  if (!is.null(recipe)) rows <- list(verified_book(recipe, shown, held, file, call))
  do.call(rbind, c(rows, list(if (!is.null(shown)) edited_rows(path, file, shown, call))))
}

# ---- a book ----

# Of every sheet that a file of a book shows, whether it would be printed so now.
verified_book <- function(recipe, shown, held, file, call) {
  sheets <- shown$sheets
  numbers_of <- function(sheets) vapply(sheets, function(sheet) sheet$number %||% "", "")
  numbers <- numbers_of(sheets)
  # the same book may stand in several files
  now <- once(held$kept, hash_of(recipe), NULL, tryCatch(
    book_made_anew(recipe, held$now, held$before, call),
    fairlattice_error = function(e) plain_message(e)))
  if (is.character(now))
    return(verified_row(file, recipe$title, "not to be made again", now))
  holds <- verdict_of_same(recipe$source$sha256, now$sha256)
  # sheets of the same number in their order
  nth <- function(numbers) paste(numbers, stats::ave(seq_along(numbers), numbers, FUN = seq_along))
  at <- match(nth(numbers), nth(numbers_of(now$sheets)))
  titles <- vapply(sheets, called_sheet, "")
  do.call(rbind, lapply(seq_along(sheets), function(k) {
    why <- if (isTRUE(sheets[[k]]$seeded)) words("verify_seeded") else if (is.na(at[k]))
      unname(now$failures[numbers[k]])
    if (!is.null(why))
      return(verified_row(file, titles[k], "not to be made again",
                          if (is.na(why)) words("verify_no_sheet") else why))
    differing <- prints_that_differ(sheets[[k]], now$sheets[[at[k]]])
    verified_row(file, titles[k], if (length(differing)) "other figures" else holds,
                 words("verify_differs", what = differing))
  }))
}

called_sheet <- function(sheet) {
  title <- if (is.null(sheet$number)) sheet$title else
    words("numbered", number = sheet$number, title = sheet$title)
  if (is.null(sheet$each)) title else sprintf("%s (%s)", title, sheet$each)
}

# In words: the cells that are printed otherwise, and the lines of one alone.
prints_that_differ <- function(was, is) {
  was_lines <- printed_lines(was)
  is_lines <- printed_lines(is)
  both <- intersect(names(was_lines), names(is_lines))
  alike <- identical(unlist(was$columns), unlist(is$columns))
  cells <- do.call(rbind, lapply(both, function(line) {
    cells_that_differ(line, was_lines[[line]], is_lines[[line]], if (alike) unlist(was$columns))
  }))
  alone <- function(lines, others) {
    vapply(lines[setdiff(names(lines), names(others))], paste, "", collapse = " ")
  }
  gone <- alone(was_lines, is_lines)
  new <- alone(is_lines, was_lines)
  c(words("verify_print", line = c(cells$line, names(gone), names(new)),
          column = c(cells$column, rep("", length(gone) + length(new))),
          was = c(cells$was, gone, rep(NA, length(new))),
          now = c(cells$now, rep(NA, length(gone)), new)),
    if (!length(c(cells$line, gone, new)) && !identical(unlist(was$said), unlist(is$said)))
      words("verify_said", was = unlist(was$said), now = unlist(is$said)))
}

# The cells of every line of a printed sheet, by its label.
printed_lines <- function(sheet) {
  labels <- vapply(sheet$rows, `[[`, "", "label")
  stats::setNames(lapply(sheet$rows, function(row) as.character(unlist(row$cells))),
                  make.unique(labels))
}

# Of a line the cells that differ; as a whole where the columns are others.
cells_that_differ <- function(line, was, is, columns) {
  if (length(was) != length(is) || length(columns) != length(was)) {
    was <- paste(was, collapse = " ")
    is <- paste(is, collapse = " ")
    columns <- ""
  }
  at <- which(was != is)
  if (length(at)) list2DF(list(line = rep(line, length(at)), column = columns[at], was = was[at],
                               now = is[at]))
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
  verdict <- if (length(differing)) "other figures" else
    verdict_of_same(stored$facts$source$sha256, file_checksum(now))
  verified_row(file, table_named(raw), verdict,
               words("verify_differs", what = differing))
}

plain_message <- function(e) {
  cli::ansi_strip(paste(c(e$message, unname(e$body)), collapse = " "))
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

# Tables of a file that are told one by one where they hold.
most_listed <- 5L

#' @export
parts_of.fairlattice_verified <- function(x, width = Inf, ...) {
  nothing_else(...)
  without <- attr(x, "without")
  # what holds is counted where it is much
  key <- paste(x$file, x$verdict, sep = "\r")
  many <- x$holds & stats::ave(seq_along(key), key, FUN = length) > most_listed
  one <- x[!many, ]
  counted <- x[many & !duplicated(key), ]
  lines <- c(if (nrow(one)) words("verify_line", file = one$file, table = one$table,
                                  verdict = one$verdict, detail = one$detail),
             if (nrow(counted)) words("verify_many", file = counted$file,
                                      tables = as.vector(table(key)[key[many & !duplicated(key)]]),
                                      verdict = counted$verdict))
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
