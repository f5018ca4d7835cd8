# A book as it is printed, and as the entries that pages, documents and
# workbooks are made of.

#' @export
format.fairlattice_book <- function(x, width = cli::console_width(), ...) {
  nothing_else(...)
  in_book(x, lines_of_book(x, width))
}

lines_of_book <- function(x, width) {
  failed <- length(failed_tables(x))
  found <- summary(x)
  lines <- c(cli::style_bold(x$title), "",
             wrap_lines(c(words("book.counts", tables = length(x$tables),
                                failed = failed,
                                chapters = length(
                                  unique(
                                    vapply(
                                      x$tables, function(one) one$chapter,
                                      0L)))), tests_made(found)), width))
  size <- nchar(max(0L, numbers_of_tables(x$tables)))
  for (k in unique(vapply(x$tables, function(one) one$chapter, 0L))) {
    own <- Filter(function(one) one$chapter == k, x$tables)
    lines <- c(lines, "",
               wrap_lines(cli::style_bold(
                            words("book.chapter", number = k,
                                  title = x$chapters[[k]]$title)), width),
               unlist(lapply(own, contents_line, size = size, width = width)))
  }
  plain_text(lines)
}

contents_line <- function(one, size, width) {
  text <- wrap_lines(c(visible(one$title),
                       if (!is.null(one$failure))
                         words("book.failed", reason = one$failure)),
                     width - size - 4L)
  paste0(pad(c(paste0("  ", one$number), rep("", length(text) - 1L)),
             size + 4L), text)
}

#' @export
print.fairlattice_book <- function(x, ...) {
  cat(format(x, ...), sep = "\n")
  invisible(x)
}

#' @export
format.fairlattice_plan <- function(x, width = cli::console_width(), ...) {
  nothing_else(...)
  titles <- vapply(x$asked$chapters, function(chapter) chapter$title, "")
  lines <- c(cli::style_bold(x$asked$title %||% words("book.title")), "",
             format(x$survey))
  if (!is.null(x$compare))
    lines <- c(lines,
               wrap_lines(words("plan.compared",
                                waves = levels(
                                  x$compare$survey$data[[wave_column]])),
                          width))
  lines <- c(lines, "",
             words("plan.tables", tables = length(x$tables),
                   chapters = length(titles)))
  size <- nchar(length(x$tables))
  for (k in seq_along(titles)) {
    own <- Filter(function(item) item$chapter == k, x$tables)
    lines <- c(lines, "",
               wrap_lines(cli::style_bold(
                            words("book.chapter", number = k,
                                  title = titles[k])), width),
               unlist(lapply(own, function(item) {
                 one <- list(number = item$number,
                             title = title_of_item("", item, x$survey))
                 contents_line(one, size, width)
               })))
  }
  outputs <- vapply(x$asked$outputs, function(one) {
    sprintf("  %s (%s)", one$file, kind_of_output(one$file, one$as))
  }, "")
  plain_text(c(lines,
               if (length(outputs)) c("", words("plan.outputs"), outputs)))
}

#' @export
print.fairlattice_plan <- function(x, ...) {
  cat(format(x, ...), sep = "\n")
  invisible(x)
}

# ---- entries ----

# How a book is shown in a file: a report, tables alone, or data.
kind_of_output <- function(path, as = NULL) {
  if (!is.null(as)) return(as)
  if (is_site(path)) return("report")
  switch(ending_of(path), html = , docx = , mail.html = , md = , pdf = , tex = ,
         txt = "report", json = , tidy.csv = , parquet = "data", "tables")
}

#' @export
as_entries.fairlattice_book <- function(x, call, width = Inf, as = NULL) {
  in_book(x, entries_of_book(x, call, as))
}

entries_of_book <- function(x, call, as) {
  as <- as %||% "report"
  tables <- Filter(function(one) is.null(one$failure), x$tables)
  if (as == "data") return(data_of_book(tables, call))
  found <- summary(x)
  c(list(new_front(x, book_recipe(x, as))), front_entries(x, found, as),
    chapters_of_book(x, found, as))
}

# The tables as data, but for those whose counts are guarded, which is said.
data_of_book <- function(tables, call) {
  guarded <- vapply(tables, function(one) guards(one$table$layout), NA)
  numbers <- vapply(tables, function(one) one$number, 0L)
  if (any(guarded))
    rlang::inform(words("book.not_in_data", tables = numbers[guarded]),
                  class = "fairlattice_message")
  if (all(guarded))
    stop_input(tells("book_no_table_may_listed"), "book", call = call)
  lapply(tables[!guarded], function(one) new_table(one$table))
}

# What stands before the chapters: what is true of all tables, what is meant by
# what, the summary, the index.
front_entries <- function(b, found, as) {
  definitions <- definition_lines(b)
  Filter(length,
         list(
           new_piece(words("front.title"), list(said_part(front_lines(b)))),
           new_piece(words("front.definitions"),
                     list(pairs_part(definitions$labels, definitions$texts))),
           if (nrow(found))
             new_piece(words("front.summary"), parts_of(found),
                       list(summary = summary_frame(found))),
           new_piece(words("front.index"), list(index_part(b)),
                     list(index = index_frame(b)))))
}

# The summary for a spreadsheet, where it is sorted and filtered.
summary_frame <- function(found) {
  shown <- c(table = "table", question = "title", by = "by", each = "each",
             n = "n", p = "p", p_corrected = "p_corrected",
             cramers_v = "cramers_v", corrected = "corrected", low = "low",
             high = "high", strongest = "strongest")
  frame <- as.data.frame(unclass(found), stringsAsFactors = FALSE)[shown]
  if (all(is.na(frame$each))) frame$each <- NULL
  names(frame) <- name_of("column", names(shown)[match(names(frame), shown)])
  frame
}

index_frame <- function(b) {
  index <- index_of(b)
  stats::setNames(index, name_of("column", names(index)))
}

index_part <- function(b) {
  index <- visible_in(index_of(b))
  columns <-
    list(index$question, index$tables, format_count(index$n), index$finding)
  names(columns) <- name_of("column", c("question", "tables", "n", "finding"))
  columns_part(columns, left = c(TRUE, FALSE, FALSE, TRUE))
}

chapters_of_book <- function(b, found, as) {
  shown <- unique(vapply(b$tables, function(one) one$chapter, 0L))
  unlist(lapply(shown, function(k) {
    own <- Filter(function(one) one$chapter == k, b$tables)
    c(list(new_chapter(words("book.chapter", number = k,
                             title = b$chapters[[k]]$title),
                       if (as == "report") b$chapters[[k]]$text)),
      unlist(lapply(own, entries_of_item, b = b, found = found, as = as),
             recursive = FALSE))
  }), recursive = FALSE)
}

# A table with what goes along with it.
entries_of_item <- function(one, b, found, as) {
  number <- as.character(one$number)
  if (!is.null(one$failure))
    return(list(new_piece(words("numbered", number = number, title = one$title),
                          list(said_part(
                                 words("book.failed", reason = one$failure))),
                          number = number, failed = TRUE)))
  x <- one$table
  x$layout$front <- said_at_front
  x$layout$front_notes <- b$front$prepared
  report <- as == "report"
  own <- one$settings$write_up %||% "none"
  table <- c(new_table(x),
             list(number = number,
                  figure = if (report) one$settings$figure else "none"))
  table$paragraphs <- if (!report || own == "none") FALSE else own
  table$drawn <- if (report) drawn_of(one, found)
  table$finding <- if (report && !guards(x$layout))
    finding_of_table(one, b, found)
  change <- if (!is.null(one$change)) change_entry(one, number, report)
  along <- unlist(lapply(seq_along(one$along), function(k) {
    numbered_finding(one$along[[k]], number, k)
  }), recursive = FALSE)
  c(list(table), if (length(change)) list(change), if (!guards(x$layout)) along)
}

# Of a table with several questions across the figure is that of the pair that
# its finding is about, or of the first.
drawn_of <- function(one, found) {
  pairs <- single_tables(one$table)
  if (!inherits(one$table, "fairlattice_banner") || length(pairs) == 1L)
    return(one$table)
  best <- best_pair(found[found$table == one$number, ])
  hit <- Find(function(pair) {
    pair$tally$down$name %in% best$question &&
      pair$tally$across$name %in% best$across
  }, pairs)
  drawn <- hit %||% pairs[[1L]]
  drawn$layout <- one$table$layout[c("style", "withhold_under", "round_to")]
  drawn
}

# Sheets beside a table of the book have its number and a letter.
numbered_finding <- function(x, number, k) {
  entry <- new_finding(x)
  list(numbered_sheets(entry, paste0(number, letters_for(k)[k])))
}

numbered_sheets <- function(entry, number) {
  entry$number <- number
  entry$parts <- lapply(entry$parts, function(part) {
    if (part$kind == "sheet") part$sheet$number <- number
    part
  })
  entry
}

change_entry <- function(one, number, report) {
  if (is.character(one$change))
    return(new_piece(words("wave.none"), list(said_part(one$change)),
                     number = paste0(number, "w")))
  if (guards(one$table$layout)) return(NULL)
  sheets <- sheets_of(one$change)
  entry <- new_piece(sheets[[1L]]$title,
                     lapply(sheets, function(sheet) {
                       list(kind = "sheet", sheet = sheet)
                     }),
                     stats::setNames(list(change_frame(one$change)), "change"))
  # drawn are the answers of all over the waves: the first table of the change
  all <- single_tables(one$change)[[1L]]
  all$tally$across$label <- words("wave_label")
  all$kept <- new.env(parent = emptyenv()) # what was said of it under another name
  all$layout$style <- one$change$layout$style
  if (report && has_figure(all, one$settings$figure %||% "shares"))
    entry$drawn <- all
  numbered_sheets(entry, paste0(number, "w"))
}

# The changes as rows: question, answer, column, from which wave to which, the
# shares before and now, the change and its tests.
change_frame <- function(x) {
  bind_frames(lapply(single_tables(x), function(table) {
    found <- layer_differences(table, "columns", table$choices$correction,
                               table$choices$alpha, setting("small_base"),
                               x$layout$against)
    facts <- facts_of(table)
    place <- function(answers) match(answers, facts$across$categories$label)
    headings <- facts$across$headings
    outer <- headings$outer[place(found$first)]
    wave <- function(answers) {
      if (is.null(headings)) answers else headings$inner[place(answers)]
    }
    list2DF(list(question = rep(facts$down$name, length(found$first)),
                 answer = found$within,
                 column = outer %||%
                          rep(words("line.all"), length(found$first)),
                 from = wave(found$second), to = wave(found$first),
                 before = 100 * found$second_share,
                 now = 100 * found$first_share, change = 100 * found$difference,
                 low = 100 * found$low, high = 100 * found$high, p = found$p,
                 p_corrected = found$p_corrected))
  }))
}
