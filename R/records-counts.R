#' The crosstab of counts that somebody already made
#'
#' Takes counts instead of records. A row or column is a total only if it adds
#' up: then it is set aside, and the account of the table says so with its
#' figures. One that is called a total and does not add up stops the reading
#' when it stands at the edge of the table (`recheck()` reports it instead), and
#' is otherwise kept as the answer that it must be, with a caution.
#'
#' @param x A matrix or table with two dimensions; a wide data frame (first
#'   column the names of the rows); a long one (a column for each question and
#'   one of counts); or text of a table, as pasted from a document: tabs,
#'   several spaces, bars (Markdown), commas or semicolons between cells,
#'   thousands separators (`1 234`, `1,234`), blank or a dash for 0, and cells
#'   such as `12 (34.5)` or `12 (34.5%)`, whose percentages are kept for
#'   [recheck()].
#' @param down,across (string, default the names of the dimensions, or "Rows"
#'   and "Columns") Titles of the questions. Of a long data frame: the columns
#'   of the two questions, named as in [crosstab()].
#' @param count (column name, default the only one of numbers) Of a long data
#'   frame: the column of counts.
#' @param totals (TRUE or FALSE, default TRUE) Whether rows and columns that add
#'   up are taken for totals. With FALSE every row and column is an answer.
#' @inheritParams crosstab
#' @return A crosstab. Attribute `totals` lists the totals found, printed and
#'   worked out; `printed` the printed percentages (0-100).
#' @section Errors: `fairlattice_error_counts`, naming row, column and cell.
#' @export
#' @examples
#' crosstab_of_counts("
#'            Norrey   Tarn   Total
#' Satisfied      62     41     103
#' Not            31     58      89")
crosstab_of_counts <- function(x, down = NULL, across = NULL, count = NULL,
                               totals = TRUE, explains = "across",
                               percent = NULL, alpha = NULL, correction = NULL,
                               margin = NULL, peaks = FALSE, p = NULL, ...) {
  nothing_else(...)
  call <- environment()
  check_flag(totals, "totals", call)
  choices <- checked_choices(
    mget(intersect(names(table_choices()), names(formals())), call), call)
  named <- list(down = named_by(down), across = named_by(across), count = named_by(count))
  counted <- !is.null(named$count$expression)
  if (!is.data.frame(x) && counted)
    stop_input(tells("count_names_column_data_frame"), "column_name",
               call = call)
  columns <- is.data.frame(x) && counted || long_asked(x, named$down, named$across)
  read <- if (columns) {
    counts_of_columns(x, column_named(named$down, x, "down", call),
                      column_named(named$across, x, "across", call),
                      column_named(named$count, x, "count", call), call)
  } else {
    counts_of(x, call)
  }
  title <- function(given, read) {
    if (columns || is.null(given)) return(read)
    if (!is.character(given) || length(given) != 1L || is.na(given))
      stop_input(tells("down_across_titles"), "column_name", call = call)
    unname(given)
  }
  counts_crosstab(read, if (columns) read$down else title(down, read$down),
                 if (columns) read$across else title(across, read$across),
                 totals, choices, call)
}

# Whether both questions are columns of a data frame.
long_asked <- function(x, down, across) {
  held <- function(named) names_held(named$expression, named$env, names(x))
  is.data.frame(x) && isTRUE(held(down) %in% names(x)) &&
    isTRUE(held(across) %in% names(x))
}

# `faulty`: what becomes of a total at the edge that does not add up: an error,
# or a claim that recheck() reports.
counts_crosstab <- function(read, down, across, totals, choices, call,
                            faulty = "stop") {
  counts <- if (totals) set_totals_aside(read, faulty, call) else
    list(counts = read$counts, totals = no_totals(), kept = character())
  M <- counts$counts
  bad <- which(M < 0 | M != round(M) | M >= 2^53, arr.ind = TRUE)
  if (length(bad)) {
    stop_input(c(tells("number_is_no_count", rownames(M)[bad[1L, 1L]],
                       colnames(M)[bad[1L, 2L]],
                       format(M[bad[1L, , drop = FALSE]], digits = 17L),
                       if (M[bad[1L, , drop = FALSE]] >= 2^53)
                         tells("not_held_exactly") else ""),
                 i = tells("counts_whole_numbers_respondents_weighted")),
               "counts", call = call)
  }
  if (!sum(M))
    stop_input(tells("every_count_0_nobody_table"), "nobody", call = call)
  x <- new_crosstab(tally_of_matrix(M, down, across, counts), choices, call)
  attr(x, "totals") <- counts$totals
  attr(x, "printed") <- read$percent[rownames(M), colnames(M), drop = FALSE]
  attr(x, "printed_digits") <- read$digits
  x
}

# Counts as a tally: without weights or a design, a respondent is a record.
tally_of_matrix <- function(M, down, across, found = NULL) {
  at <- which(M > 0)
  n <- as.vector(M)[at]
  question <- function(name, levels) {
    list(name = name, label = name, ordered = FALSE, levels = levels,
         missing = rep(FALSE, length(levels)), values = levels,
         observed = FALSE, history = list())
  }
  cells <- data.frame(unit = 1L, down = row(M)[at], across = col(M)[at],
                      each = 0L, records = n, n = n, w = n, w2 = n)
  design <- list(weighted = FALSE, stratified = FALSE, clustered = FALSE,
                 single_cluster = "centre",
                 units = data.frame(stratum = "", cluster = NA_character_,
                                    sampled = sum(n)))
  new_tally(list(down = question(down, rownames(M)),
                 across = question(across, colnames(M))), design, cells,
            no_reasons(), sum(n),
            list(roles = list(),
                 notes = list(kept_totals = found$kept, kept_sums = found$sums),
                 cut = FALSE,
                 counts = list(cells = length(M),
                               totals = totals_words(found$totals)),
                 repeated_ids = 0L, repeated_records = 0L, differing_ids = 0L))
}

# Counts in any shape as a matrix with names, beside the percentages printed
# with them.
counts_of <- function(x, call) {
  if (is.character(x) && is.null(dim(x))) return(counts_of_text(x, call))
  if (is.data.frame(x)) return(counts_of_frame(x, call))
  if (length(dim(x)) != 2L || !is.numeric(x)) {
    stop_input(c(tells("x_table_counts_not", quote_value(x)),
                 i = tells("give_matrix_data_frame_pasted")), "counts",
               call = call)
  }
  if (!length(x)) stop_input(tells("table_no_cells"), "counts", call = call)
  named <- list(rownames(x) %||% paste("row", seq_len(nrow(x))),
                colnames(x) %||% paste("column", seq_len(ncol(x))))
  named[] <-
    Map(line_names, named, c("row", "column"), MoreArgs = list(call = call))
  M <- matrix(as.numeric(x), nrow(x), dimnames = named)
  if (anyNA(M))
    stop_input(tells("count_missing_na_write_0"), "counts", call = call)
  titles <- names(dimnames(x))
  list(counts = M, down = if (is.null(titles)) "Rows" else titles[1L],
       across = if (is.null(titles)) "Columns" else titles[2L])
}

counts_of_frame <- function(x, call) {
  if (anyNA(names(x)) || any(!nzchar(names(x))))
    stop_input(tells("column_table_no_name"), "counts", call = call)
  bad <- which(!vapply(x, is.atomic, NA) |
                 vapply(x, function(column) !is.null(dim(column)), NA))
  if (length(bad)) {
    stop_input(tells("column_table_no_counts", names(x)[bad[1L]],
                     class(x[[bad[1L]]])[1L]), "counts", call = call)
  }
  number <- vapply(x, is.numeric, NA)
  if (ncol(x) == 3L && sum(number) == 1L && number[3L] &&
        anyDuplicated(x[[1L]]))
    return(counts_of_columns(x, names(x)[1L], names(x)[2L], names(x)[3L], call))
  if (ncol(x) < 2L || !nrow(x))
    stop_input(tells("table_counts_needs_column_names"), "counts", call = call)
  text <- function(column) {
    if (is.numeric(column))
      as.character(ifelse(is.na(column), NA, number_text(column))) else
      as.character(column)
  }
  cells <- vapply(x[-1L], text, character(nrow(x)))
  counts_of_cells(rbind(names(x),
                        cbind(as.character(x[[1L]]), matrix(cells, nrow(x)))),
                  call)
}

# A long data frame: a column for each question, one of counts. A pair that
# stands in several lines is added up.
counts_of_columns <- function(x, down, across, count, call) {
  if (is.null(down) || is.null(across))
    stop_input(tells("down_across_name_columns"), "column_name", call = call)
  if (is.null(count)) {
    count <- setdiff(names(x)[vapply(x, is.numeric, NA)], c(down, across))
    if (length(count) != 1L) {
      stop_input(c(tells("columns_may_hold_counts", length(count)),
                   i = tells("name_one_count")), "counts", call = call)
    }
  }
  check_weight(x[[count]], count, "count", call)
  gone <- which(is.na(x[[count]]) | is.na(x[[down]]) | is.na(x[[across]]))
  if (length(gone)) {
    stop_input(tells("line_table_lacks_count_answer", gone[1L]), "counts",
               call = call)
  }
  pick <- function(name) {
    factor(as.character(x[[name]]),
           if (is.factor(x[[name]])) levels(x[[name]]) else
             unique(as.character(x[[name]])))
  }
  rows <- pick(down)
  columns <- pick(across)
  M <- matrix(0, nlevels(rows), nlevels(columns),
              dimnames = list(levels(rows), levels(columns)))
  sums <- rowsum(as.numeric(x[[count]]),
                 as.integer(rows) + (as.integer(columns) - 1L) * nlevels(rows))
  M[as.integer(rownames(sums))] <- sums
  list(counts = M, down = title_of(x[[down]], down),
       across = title_of(x[[across]], across))
}

counts_of_text <- function(text, call) {
  counts_of_cells(grid_of_text(text, call), call)
}

# The cells of a pasted table: the first line has the names of the columns, the
# first column those of the rows.
grid_of_text <- function(text, call) {
  lines <- unlist(strsplit(text, "\r?\n"))
  lines <- lines[nzchar(trimws(lines))]
  if (length(lines) < 2L)
    stop_input(tells("table_fewer_two_lines_line"), "counts",
               call = call)
  cells <- split_cells(lines)
  size <- lengths(cells)
  if (size[1L] == max(size) - 1L) { # nothing stands over the names of the rows
    cells[[1L]] <- c("", cells[[1L]])
    size <- lengths(cells)
  }
  odd <- which(size != size[1L])
  if (length(odd)) {
    stop_input(c(tells("line_table_cells_but_first", odd[1L], size[odd[1L]],
                       size[1L], trimws(lines[odd[1L]])),
                 i = tells("put_tab_least_two_spaces")), "counts", call = call)
  }
  if (size[1L] == 1L) {
    stop_input(c(tells("line_1_table_one_cell", cut_short(trimws(lines[1L]))),
                 i = tells("put_tab_semicolon_least_two")), "counts",
               call = call)
  }
  check_headed(cells[[1L]], call)
  do.call(rbind, cells)
}

# A first line of numbers alone may be counts of people: it is not taken for
# names unless its first cell is empty.
check_headed <- function(first, call) {
  if (!nzchar(first[1L]) || !all(grepl("[0-9]", first[-1L])) ||
      any(parse_count(first[-1L])$bad)) return(invisible())
  stop_input(c(tells("first_line_table_only_numbers", cut_short(first[1L])),
               i = tells("put_line_names_columns_first")),
             "counts", call = call)
}

# Cells are parted by tabs, else semicolons, else commas that are not thousands,
# else two or more spaces.
split_cells <- function(lines) {
  # Markdown: bars between cells, a line of dashes under the names
  if (all(grepl("|", lines, fixed = TRUE))) {
    lines <- lines[!grepl("^[|: +-]+$", trimws(lines))]
    inner <- sub("[|]$", "", sub("^[|]", "", trimws(lines)))
    return(lapply(strsplit(paste0(inner, "|"), "|", fixed = TRUE),
                  function(cells) {
                    gsub("^([*]{1,2}|__)(.*)\\1$", "\\2", trimws(cells),
                         perl = TRUE)
                  }))
  }
  if (any(grepl("\t", lines)))
    return(lapply(strsplit(paste0(lines, "\t"), "\t", fixed = TRUE), trimws))
  if (all(grepl(";", lines, fixed = TRUE)))
    return(lapply(strsplit(paste0(lines, ";"), ";", fixed = TRUE), trimws))
  wide <- strsplit(trimws(lines), " {2,}")
  if (max(lengths(wide)) > 1L) return(wide)
  Map(function(line, k) {
    if (lengths(regmatches(line, gregexpr("\"", line, fixed = TRUE))) %% 2L ==
          1L)
      stop_input(c(tells("line_table_quotation_mark_not", k,
                         cut_short(trimws(line))),
                   i = tells("close_take_away")), "counts", call = NULL)
    trimws(scan(text = line, what = "", sep = ",", quote = "\"", quiet = TRUE))
  }, lines, seq_along(lines), USE.NAMES = FALSE)
}

# A grid of text: the first line has the names of the columns, the first column
# those of the rows.
counts_of_cells <- function(cells, call) {
  body <- cells[-1L, -1L, drop = FALSE]
  parsed <- parse_count(as.vector(body))
  if (any(parsed$bad)) {
    at <- arrayInd(which(parsed$bad)[1L], dim(body))
    stop_input(c(tells("text_is_no_count", cells[at[1L] + 1L, 1L],
                       cells[1L, at[2L] + 1L], cut_short(body[at])),
                 i = tells("cell_may_whole_number_such")), "counts",
               call = call)
  }
  names <- Map(line_names, list(cells[-1L, 1L], cells[1L, -1L]),
               c("row", "column"), MoreArgs = list(call = call))
  list(counts = matrix(parsed$count, nrow(body), dimnames = names),
       percent = matrix(parsed$percent, nrow(body), dimnames = names),
       digits = matrix(parsed$digits, nrow(body), dimnames = names),
       down = if (nzchar(cells[1L, 1L])) cells[1L, 1L] else "Rows",
       across = "Columns")
}

# The names of rows or columns: one that has none is called by its place, and no
# two may be the same.
line_names <- function(names, kind, call) {
  blank <- is.na(names) | !nzchar(names)
  names[blank] <- paste(kind, which(blank))
  twice <- names[duplicated(names)]
  if (length(twice))
    stop_input(tells("two_sides_named", kind, twice[1L]), "counts", call = call)
  names
}

is_nameless <- function(name) grepl("^(row|column) [0-9]+$", name)

# "1,234", "1 234", "", "-", "12 (34.5%)" as a count and the percentage beside
# it.
parse_count <- function(text) {
  text <- trimws(gsub("[\u00a0\u202f]", " ", text))
  text <- gsub("^([*]{1,2}|__)(.*)\\1$", "\\2", text, perl = TRUE) # bold in Markdown
  empty <- is.na(text) | text %in% c("", "-", "\u2013", "\u2014", ".")
  inner <- regmatches(text,
                      regexec("^([^(]*?) *\\(([0-9.,]+) *%?\\)$", text,
                              perl = TRUE))
  percent <-
    vapply(inner, function(m) if (length(m)) m[3L] else NA_character_, "")
  number <- ifelse(is.na(percent), text,
                   vapply(inner, function(m) if (length(m)) m[2L] else "", ""))
  plain <- grepl("^[0-9]{1,3}([ ,'][0-9]{3})+$", number)
  number[plain] <- gsub("[ ,']", "", number[plain])
  figure <- grepl("^[0-9]+([.][0-9]*)?$", number)
  count <- rep(NA_real_, length(number))
  count[figure] <- as.numeric(number[figure])
  count[!is.na(count) & !is.finite(count)] <- NA
  count[empty] <- 0
  list(count = count,
       percent = suppressWarnings(
         as.numeric(sub(",", ".", percent, fixed = TRUE))),
       digits = printed_digits(percent), bad = is.na(count))
}

# Decimals that a figure was printed with.
printed_digits <- function(text) {
  fraction <- sub("^[^.,]*[.,]?", "", text)
  ifelse(is.na(text), NA_integer_, nchar(fraction))
}

# What a line of totals is called. "N", "All" and "Base" may be answers as well
# ("N" for "No").
total_names <- c("total", "totals", "sum", "sums", "overall", "grand total")
perhaps_total_names <- c("all", "base", "n", "respondents")

no_totals <- function() {
  data.frame(side = character(), name = character(), of = character(),
             printed = numeric(), worked_out = numeric())
}

# A line is a total only if it adds up: one that is called so, or the last of
# more than two where it has no name. One called so at the edge that does not
# add up, although it nearly does (or is plainly called a total), is no answer
# either. The last line of another name is an answer, even where it adds up, and
# that is said.
set_totals_aside <- function(read, faulty, call) {
  M <- read$counts
  found <- no_totals()
  kept <- sums <- character()
  for (side in c("row", "column")) {
    if (side == "column") M <- t(M)
    repeat { # a table may have a line of totals and one of bases
      total <- total_line(M)
      if (is.null(total)) break
      worked <- colSums(M[!rownames(M) %in% total$among, , drop = FALSE])
      line <- M[total$at, ]
      if (!total$adds_up && faulty == "stop")
        stop_total(side, rownames(M)[total$at], line, worked, call)
      found <- rbind(found,
                     data.frame(side, name = rownames(M)[total$at],
                                of = colnames(M), printed = line,
                                worked_out = worked, row.names = NULL))
      M <- M[-total$at, , drop = FALSE]
    }
    named <-
      rownames(M)[tolower(rownames(M)) %in% c(total_names, perhaps_total_names)]
    if (length(named)) kept <- c(kept, words("line_named", side, named))
    if (adds_up_last(M))
      sums <- c(sums, words("line_named", side, rownames(M)[nrow(M)]))
    if (side == "column") M <- t(M)
  }
  list(counts = M, totals = found, kept = kept, sums = setdiff(sums, kept))
}

# The line of M that is a total, if there is one: its place, whether it adds up,
# and the names of all lines that are not added.
total_line <- function(M) {
  size <- nrow(M)
  if (size < 2L || !sum(M)) return(NULL)
  name <- tolower(rownames(M))
  plainly <- name %in% total_names
  named <- plainly | name %in% perhaps_total_names
  # named lines at the beginning and at the end
  edge <- cumsum(!named) == 0L | rev(cumsum(rev(!named))) == 0L
  for (at in rev(which(named))) {
    found <- total_at(M, at, plainly[at], edge)
    if (!is.null(found)) return(found)
  }
  last <- rownames(M)[size]
  if (adds_up_last(M) && is_nameless(last))
    list(at = size, adds_up = TRUE, among = last)
}

# Whether the last line is the sum of the others, whatever it is called.
adds_up_last <- function(M) {
  size <- nrow(M)
  size > 2L && ncol(M) > 1L && sum(M[size, ]) > 0 &&
    all(colSums(M[-size, , drop = FALSE]) == M[size, ])
}

# Whether a line that is called a total is one: it adds up, or nearly so at an
# edge, where it can be nothing else.
total_at <- function(M, at, plainly, edge) {
  among <- seq_len(nrow(M)) == at | edge
  others <- M[!among, , drop = FALSE]
  if (nrow(others) < 2L && !(plainly && edge[at])) return(NULL)
  off <- abs(M[at, ] - colSums(others))
  adds_up <- all(off <= 1e-8 * pmax(1, abs(M[at, ]))) && sum(M[at, ]) > 0
  if (adds_up && (plainly || edge[at]))
    return(list(at = at, adds_up = TRUE, among = rownames(M)[among]))
  nearly <- mean(off == 0) >= 0.5 || all(off <= pmax(1, 0.02 * colSums(others)))
  if (edge[at] && nrow(others) > 1L && (nearly || (plainly && at == nrow(M))))
    list(at = at, adds_up = FALSE, among = rownames(M)[among])
}

stop_total <- function(side, name, printed, worked, call) {
  at <- which(abs(printed - worked) > 1e-8 * pmax(1, abs(printed)))[1L]
  stop_input(c(tells("no_total_but_others_add", words("line_named", side, name),
                     format_count(printed[at]), names(printed)[at],
                     format_count(worked[at])),
               i = tells("correct_remove_answer_say_totals")), "counts",
             call = call)
}

# The totals that were set aside, with their figures.
totals_words <- function(totals) {
  if (!NROW(totals)) return(character())
  lines <- split(totals,
                 factor(paste(totals$side, totals$name),
                        unique(paste(totals$side, totals$name))))
  vapply(lines, function(line) {
    sprintf("%s (%s)", words("line_named", line$side[1L], line$name[1L]),
            list_some(format_count(line$printed)))
  }, "", USE.NAMES = FALSE)
}
