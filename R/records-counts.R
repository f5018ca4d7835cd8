#' The crosstab of counts that somebody already made
#'
#' Takes counts instead of records. Total rows and columns are known by their names and by their arithmetic, set aside,
#' and checked: one that does not add up is reported with both figures.
#'
#' @param x A matrix or table with two dimensions; a wide data frame (first column the names of the rows); a long one (two
#'   columns of answers and one of counts); or text of a table, as pasted from a document: tabs, several spaces, commas
#'   or semicolons between cells, thousands separators (`1 234`, `1,234`), blank or a dash for 0, and cells such as
#'   `12 (34.5)` or `12 (34.5%)`, whose percentages are kept for [recheck()].
#' @param down,across (string, default the names of the dimensions, or "Rows" and "Columns") Titles of the questions.
#' @param ... Choices of [lattice()]: `explains`, `percent`, `alpha`, `correction`.
#' @return A lattice. Attribute `totals` lists the totals found, printed and worked out; `printed` the printed percentages.
#' @section Errors: `fairlattice_error_counts`, naming row, column and cell.
#' @export
#' @examples
#' lattice_of_counts("
#'            Norrey   Tarn   Total
#' Satisfied      62     41     103
#' Not            31     58      89")
lattice_of_counts <- function(x, down = NULL, across = NULL, ...) {
  call <- environment()
  read <- counts_of(x, call)
  counts <- set_totals_aside(read, call)
  M <- counts$counts
  bad <- which(M < 0 | M != round(M), arr.ind = TRUE)
  if (length(bad)) {
    stop_input(c(sprintf("Row \"%s\", column \"%s\": %s is not a count.", rownames(M)[bad[1L, 1L]], colnames(M)[bad[1L, 2L]], format(M[bad[1L, , drop = FALSE]])),
                 i = "Counts are whole numbers of respondents. Weighted counts cannot be tested: they do not say how many people they stand for."),
               "counts", call = call)
  }
  if (!sum(M)) stop_input("Every count is 0: there is nobody in the table.", "nobody", call = call)
  x <- new_lattice(tally_of_matrix(M, down %||% read$down, across %||% read$across), count_choices(..., call = call), call)
  attr(x, "totals") <- counts$totals
  attr(x, "printed") <- read$percent[rownames(M), colnames(M), drop = FALSE]
  attr(x, "printed_digits") <- read$digits
  x
}

count_choices <- function(explains = "across", percent = NULL, alpha = NULL, correction = NULL, call) {
  check_choice(explains, c("across", "down"), "explains", call)
  list(explains = explains, percent = percent %||% if (explains == "across") "column" else "row", alpha = alpha %||% setting("alpha"),
       correction = correction %||% setting("correction"), keep_empty = TRUE)
}

# Counts as a tally: without weights or a design, a respondent is a record.
tally_of_matrix <- function(M, down, across) {
  at <- which(M > 0)
  n <- as.vector(M)[at]
  question <- function(name, levels) {
    list(name = name, label = name, ordered = FALSE, levels = levels, missing = rep(FALSE, length(levels)), values = levels, observed = FALSE, history = character())
  }
  cells <- data.frame(unit = 1L, down = row(M)[at], across = col(M)[at], each = 0L, records = n, n = n, w = n, w2 = n)
  design <- list(weighted = FALSE, stratified = FALSE, clustered = FALSE, lonely = "centre", units = data.frame(stratum = "", cluster = NA_character_, sampled = sum(n)))
  new_tally(list(down = question(down, rownames(M)), across = question(across, colnames(M))), design, cells,
            data.frame(reason = character(), records = integer()), sum(n),
            list(roles = list(), notes = list(), cut = FALSE, repeated_ids = 0L, repeated_records = 0L, differing_ids = 0L))
}

# Counts in any shape as a matrix with names, beside the percentages printed with them.
counts_of <- function(x, call) {
  if (is.character(x) && is.null(dim(x))) return(counts_of_text(x, call))
  if (is.data.frame(x)) return(counts_of_frame(x, call))
  if (length(dim(x)) != 2L || !is.numeric(x)) {
    stop_input(c(sprintf("`x` must be a table of counts, not %s.", quote_value(x)), i = "Give a matrix, a data frame or pasted text."), "counts", call = call)
  }
  M <- matrix(as.numeric(x), nrow(x), dimnames = list(rownames(x) %||% paste("row", seq_len(nrow(x))), colnames(x) %||% paste("column", seq_len(ncol(x)))))
  if (anyNA(M)) stop_input("A count is missing (NA): write 0 where there is nobody.", "counts", call = call)
  titles <- names(dimnames(x))
  list(counts = M, down = if (is.null(titles)) "Rows" else titles[1L], across = if (is.null(titles)) "Columns" else titles[2L])
}

counts_of_frame <- function(x, call) {
  number <- vapply(x, is.numeric, NA)
  if (ncol(x) == 3L && sum(number) == 1L && number[3L] && anyDuplicated(x[[1L]])) { # long: two columns of answers and a count
    pick <- function(k) factor(as.character(x[[k]]), unique(as.character(x[[k]])))
    rows <- pick(1L)
    columns <- pick(2L)
    M <- matrix(0, nlevels(rows), nlevels(columns), dimnames = list(levels(rows), levels(columns)))
    sums <- rowsum(x[[3L]], as.integer(rows) + (as.integer(columns) - 1L) * nlevels(rows))
    M[as.integer(rownames(sums))] <- sums
    return(list(counts = M, down = names(x)[1L], across = names(x)[2L]))
  }
  if (ncol(x) < 2L) stop_input("A table of counts needs a column of names and at least one of counts.", "counts", call = call)
  cells <- vapply(x[-1L], function(column) as.character(column), character(nrow(x)))
  counts_of_cells(rbind(names(x), cbind(as.character(x[[1L]]), matrix(cells, nrow(x)))), call)
}

counts_of_text <- function(text, call) counts_of_cells(grid_of_text(text, call), call)

# The cells of a pasted table: the first line has the names of the columns, the first column those of the rows.
grid_of_text <- function(text, call) {
  lines <- unlist(strsplit(text, "\r?\n"))
  lines <- lines[nzchar(trimws(lines))]
  if (length(lines) < 2L) stop_input("The table has fewer than two lines: a line of column names and one a row are needed.", "counts", call = call)
  cells <- split_cells(lines)
  size <- lengths(cells)
  if (size[1L] == max(size) - 1L) { # nothing stands over the names of the rows
    cells[[1L]] <- c("", cells[[1L]])
    size <- lengths(cells)
  }
  odd <- which(size != size[1L])
  if (length(odd)) {
    stop_input(c(sprintf("Line %d of the table has %d cells, but the first line has %d: \"%s\".", odd[1L], size[odd[1L]], size[1L], trimws(lines[odd[1L]])),
                 i = "Put a tab or at least two spaces between cells, and 0 or - where there is nobody."), "counts", call = call)
  }
  do.call(rbind, cells)
}

# Cells are parted by tabs, else semicolons, else commas that are not thousands, else two or more spaces.
split_cells <- function(lines) {
  if (any(grepl("\t", lines))) return(lapply(strsplit(paste0(lines, "\t"), "\t", fixed = TRUE), trimws))
  if (all(grepl(";", lines, fixed = TRUE))) return(lapply(strsplit(paste0(lines, ";"), ";", fixed = TRUE), trimws))
  wide <- strsplit(trimws(lines), " {2,}")
  if (max(lengths(wide)) > 1L) return(wide)
  lapply(lines, function(line) trimws(scan(text = line, what = "", sep = ",", quote = "\"", quiet = TRUE)))
}

# A grid of text: the first line has the names of the columns, the first column those of the rows.
counts_of_cells <- function(cells, call) {
  body <- cells[-1L, -1L, drop = FALSE]
  parsed <- parse_count(as.vector(body))
  if (any(parsed$bad)) {
    at <- arrayInd(which(parsed$bad)[1L], dim(body))
    stop_input(c(sprintf("Row \"%s\", column \"%s\": \"%s\" is not a count.", cells[at[1L] + 1L, 1L], cells[1L, at[2L] + 1L], body[at]),
                 i = "A cell may be a whole number, such as 1,234, or 12 (34.5%)."), "counts", call = call)
  }
  names <- list(cells[-1L, 1L], cells[1L, -1L])
  for (k in 1:2) {
    blank <- !nzchar(names[[k]])
    names[[k]][blank] <- paste(c("row", "column")[k], which(blank))
    twice <- names[[k]][duplicated(names[[k]])]
    if (length(twice)) stop_input(sprintf("Two %s are named \"%s\".", c("rows", "columns")[k], twice[1L]), "counts", call = call)
  }
  list(counts = matrix(parsed$count, nrow(body), dimnames = names), percent = matrix(parsed$percent, nrow(body), dimnames = names),
       digits = matrix(parsed$digits, nrow(body), dimnames = names),
       down = if (nzchar(cells[1L, 1L])) cells[1L, 1L] else "Rows", across = "Columns")
}

# "1,234", "1 234", "", "-", "12 (34.5%)" as a count and the percentage beside it.
parse_count <- function(text) {
  text <- trimws(gsub("[\u00a0\u202f]", " ", text))
  empty <- text %in% c("", "-", "\u2013", "\u2014", ".")
  inner <- regmatches(text, regexec("^([^(]*?) *\\(([0-9.,]+) *%?\\)$", text, perl = TRUE))
  percent <- vapply(inner, function(m) if (length(m)) m[3L] else NA_character_, "")
  number <- ifelse(is.na(percent), text, vapply(inner, function(m) if (length(m)) m[2L] else "", ""))
  plain <- grepl("^[0-9]{1,3}([ ,'][0-9]{3})+$", number)
  number[plain] <- gsub("[ ,']", "", number[plain])
  count <- suppressWarnings(as.numeric(number))
  count[empty] <- 0
  list(count = count, percent = suppressWarnings(as.numeric(sub(",", ".", percent, fixed = TRUE))), digits = printed_digits(percent), bad = is.na(count))
}

# Decimals that a figure was printed with.
printed_digits <- function(text) {
  fraction <- sub("^[^.,]*[.,]?", "", text)
  ifelse(is.na(text), NA_integer_, nchar(fraction))
}

total_names <- c("total", "totals", "sum", "all", "overall", "base", "n")

# The last row and column are totals when they are named so, or when they add up in every line (and there are others to
# add). Named ones that do not add up are reported.
set_totals_aside <- function(read, call) {
  M <- read$counts
  found <- data.frame(side = character(), name = character(), of = character(), printed = numeric(), worked_out = numeric())
  for (side in c("row", "column")) {
    if (side == "column") M <- t(M)
    last <- nrow(M)
    named <- which(tolower(rownames(M)) %in% total_names)
    total <- if (length(named)) named[length(named)] else if (last > 2L && all(colSums(M[-last, , drop = FALSE]) == M[last, ]) && sum(M) > 0) last
    if (length(total) && nrow(M) > 1L) {
      worked <- colSums(M[-total, , drop = FALSE])
      found <- rbind(found, data.frame(side, name = rownames(M)[total], of = colnames(M), printed = M[total, ], worked_out = worked, row.names = NULL))
      M <- M[-total, , drop = FALSE]
    }
    if (side == "column") M <- t(M)
  }
  list(counts = M, totals = found)
}
