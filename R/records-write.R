#' The codebook of a data frame
#'
#' `codebook()` gives what the columns say of themselves (titles, answers in
#' their order, codes, reasons for no answer) as a list that can be edited and
#' given back to [read_records()]. `draft_codebook()` looks at bare data
#' instead: types and answers as found; a likely order and likely missing codes
#' are proposed under `guesses`, which reading ignores until somebody moves
#' them. `write_codebook()` writes either as a Table Schema; `write_records()`
#' writes codes and codebook beside each other.
#'
#' @param x (data frame) Records; for `write_codebook()` also a codebook.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return `codebook()`, `draft_codebook()`: list of class
#'   `fairlattice_codebook` with `title` and `fields` (each `name`, `title`,
#'   `type`, `categories` and `missing` as data frames of value and label,
#'   `ordered`, `guesses`). The writers: `path`, invisibly.
#' @section Errors: those of [publish()] for files that cannot be written.
#' @export
#' @examples
#' book <- codebook(demo_records())
#' book$fields$ferry$title <- "How content are you with the ferry?"
#' records <- read_records(demo_file("veyra.csv"), codebook = book)
codebook <- function(x, ...) {
  nothing_else(...)
  check_data_frame(x, environment())
  fields <- lapply(names(x), function(name) field_of(x[[name]], name))
  structure(list(title = attr(x, "title", exact = TRUE),
                 fields = stats::setNames(fields, names(x))),
            class = "fairlattice_codebook")
}

check_data_frame <- function(x, call) {
  if (!is.data.frame(x))
    stop_input(tells("x_data_frame_not", quote_value(x)), "class", call = call)
  check_names_there(x, call)
  for (k in seq_along(x)) check_plain(x[[k]], names(x)[k], "x", call)
}

no_values <- function() data.frame(value = character(), label = character())

field_of <- function(x, name) {
  field <- list(name = name, title = label_of(x) %||% name, type = "any",
                categories = no_values(),
                missing = data.frame(value = "", label = ""), ordered = FALSE)
  if (inherits(x, "fairlattice_number")) {
    field$type <- "number"
    field$missing <- rbind(field$missing,
                           data.frame(value = reason_codes(x),
                                      label = as.character(attr(x, "reasons"))))
  } else if (is.factor(x) || is.logical(x) ||
               !is.null(attr(x, "labels", exact = TRUE))) {
    answers <- as_answers(x, name)
    values <- answer_values(answers)
    gone <- levels(answers) %in% attr(answers, "missing", exact = TRUE)
    field$categories <-
      data.frame(value = values[!gone], label = levels(answers)[!gone])
    blank <- !nzchar(values) & gone
    field$missing <- rbind(data.frame(value = "",
                                      label = if (any(blank))
                                        levels(answers)[blank] else ""),
                           data.frame(value = values[gone & !blank],
                                      label = levels(answers)[gone & !blank]))
    field$ordered <- is.ordered(answers)
  } else {
    field$type <- if (is.numeric(x)) "number" else if (inherits(x, "Date"))
      "date" else "string"
  }
  field
}

# The code of each level: as read, or made: 1, 2, ... for answers and -1, -2,
# ... for reasons.
answer_values <- function(answers) {
  gone <- levels(answers) %in% attr(answers, "missing", exact = TRUE)
  values <- attr(answers, "values", exact = TRUE)
  if (is.null(values)) {
    values <- character(nlevels(answers))
    values[!gone] <- seq_len(sum(!gone))
    values[gone] <- -seq_len(sum(gone))
  }
  values <- as.character(values)
  lacking <- is.na(values)
  values[lacking] <- paste0("-9", 90 + seq_len(sum(lacking)))
  values
}

# Codes for the reasons of a number: negative whole numbers that no value has.
reason_codes <- function(x) {
  values <- as.vector(unclass(x))
  as.character(setdiff(-seq_len(length(attr(x, "reasons")) + 100L),
                       values[!is.na(values)])[seq_along(attr(x, "reasons"))])
}

#' @rdname codebook
#' @export
draft_codebook <- function(x, ...) {
  nothing_else(...)
  check_data_frame(x, environment())
  book <- codebook(x)
  for (name in names(x)) {
    column <- if (is.character(x[[name]])) readable(x[[name]]) else x[[name]]
    if (is.factor(column) || inherits(column, "fairlattice_number")) next
    values <- sort(unique(column[!is.na(column)]), method = "radix")
    text <- if (is.numeric(values)) number_text(values) else
      as.character(values)
    few <- length(values) > 0L && length(values) <= look_at_most &&
           length(values) < length(column) &&
           (!is.numeric(values) || all(values == round(values)))
    guesses <- list(missingValues = likely_missing(values, text))
    if (few) {
      book$fields[[name]]$categories <- data.frame(value = text, label = text)
      book$fields[[name]]$type <- "any"
      guesses$order <- likely_order(setdiff(text, guesses$missingValues))
    }
    book$fields[[name]]$guesses <- Filter(length, guesses)
  }
  book
}

# Codes that mostly stand for no answer: -9 and its kin below values that are
# not negative; 99 and its kin far above the others; words such as "DK".
likely_missing <- function(values, text) {
  words <- tolower(trimws(text)) %in%
           c("dk", "d/k", "don't know", "dont know", "do not know", "na", "n/a",
             "refused", "prefer not to say", "not applicable", "no answer",
             "missing", "?", "-")
  if (!is.numeric(values)) return(text[words])
  negative <- values < 0 &
              values %in% c(-1:-9, -88, -89, -97:-99, -777, -888, -999) &
              any(values >= 0)
  nines <- values %in% c(8, 9, 88, 98, 99, 888, 998, 999)
  rest <- values[!negative & !nines]
  beyond <- nines & length(rest) > 0L & values > 1.5 * max(c(rest, 0)) &
            values - max(c(rest, 0)) > 2
  text[negative | beyond]
}

schema_of <- function(book) {
  pairs <- function(data) {
    Map(function(value, label) {
      if (nzchar(label) && label != value)
        list(value = value, label = label) else value
    }, data$value, data$label, USE.NAMES = FALSE)
  }
  fields <- lapply(unname(book$fields), function(field) {
    out <- list(name = field$name, title = field$title, type = field$type)
    if (nrow(field$categories))
      out$categories <- Map(function(value, label) {
        list(value = value, label = label)
      }, field$categories$value, field$categories$label, USE.NAMES = FALSE)
    if (field$ordered) out$categoriesOrdered <- TRUE
    if (nrow(field$missing) > 1L || nzchar(field$missing$label[1L]))
      out$missingValues <- I(pairs(field$missing))
    if (length(field$guesses)) out$guesses <- lapply(field$guesses, I)
    out
  })
  c(if (!is.null(book$title)) list(title = book$title),
    list(missingValues = I(list("")), fields = fields))
}

#' @rdname codebook
#' @param path (string) Where to: `.json` for a codebook; `.csv` or `.parquet`
#'   for records, with `NAME.schema.json` beside.
#' @export
write_codebook <- function(x, path, ...) {
  nothing_else(...)
  call <- environment()
  book <- if (inherits(x, "fairlattice_codebook")) x else codebook(x)
  check_folder(path, "json", call)
  write_beside(path, function(file) {
    write_whole(as.character(jsonlite::toJSON(
                               schema_of(book), auto_unbox = TRUE,
                               pretty = TRUE)), file)
  }, call)
  invisible(path)
}

#' @rdname codebook
#' @export
write_records <- function(x, path, ...) {
  nothing_else(...)
  call <- environment()
  check_data_frame(x, call)
  check_folder(path, c("csv", "parquet"), call)
  raw <- list2DF(stats::setNames(lapply(names(x), function(name) {
    raw_codes(x[[name]], name)
  }), names(x)))
  parquet <- file_ending(path) == "parquet"
  if (parquet) need_package("nanoparquet", tells("to_write_parquet"), call)
  write_beside(path, function(file) {
    if (parquet) nanoparquet::write_parquet(raw, file) else write_csv(raw, file)
  }, call)
  write_codebook(codebook(x),
                 paste0(sub("\\.[^.]*$", "", path), ".schema.json"))
  invisible(path)
}

# As many lines must come back as were written: data.table says nothing of a
# disk that is full.
write_csv <- function(raw, file) {
  raw[] <- lapply(raw, function(x) if (is.character(x)) readable(x) else x)
  data.table::fwrite(raw, file, quote = "auto", na = "", showProgress = FALSE)
  made <- scan_delimited_kernel(file, ",", FALSE)
  if (made$fault != "" || made$records != nrow(raw) ||
        length(made$header) != length(raw)) stop("it was cut short")
}

raw_codes <- function(x, name) {
  if (inherits(x, "fairlattice_number")) {
    reason <- reason_of_kernel(as.numeric(x))
    codes <- as.numeric(reason_codes(x))
    values <- as.vector(unclass(x))
    values[reason > 0L] <- codes[reason[reason > 0L]]
    return(values)
  }
  if (!is.factor(x) && !is.logical(x) &&
        is.null(attr(x, "labels", exact = TRUE)))
    return(if (inherits(x, "Date")) x else as.vector(x))
  answers <- as_answers(x, name)
  codes <- answer_values(answers)[as.integer(answers)]
  codes[!is.na(codes) & !nzchar(codes)] <- NA
  number <- suppressWarnings(as.numeric(codes))
  if (!anyNA(number[!is.na(codes)]) &&
        identical(number_text(number[!is.na(codes)]), codes[!is.na(codes)]))
    number else codes
}

check_folder <- function(path, endings, call) {
  if (!is.character(path) || length(path) != 1L ||
        !file_ending(path) %in% endings) {
    stop_input(tells("path_one_file_name_ends",
                     paste0(".", endings, collapse = " or ")), "format",
               call = call)
  }
  if (!dir.exists(dirname(path)))
    stop_input(c(tells("no_folder", dirname(path)),
                 i = tells("make_first_name_another")), "no_folder",
               call = call)
}

#' @export
format.fairlattice_codebook <- function(x, ...) {
  nothing_else(...)
  lines <- lapply(x$fields, function(field) {
    missing <- field$missing[nzchar(field$missing$value), ]
    c(sprintf("%s: %s (%s)", field$name, field$title,
              if (nrow(field$categories))
                name_of("look_type", if (field$ordered) "ordered" else
                  "answers") else
                field$type), if (isTRUE(field$weight))
                paste0("    ", words("codebook_weight")),
      if (nrow(field$categories))
        sprintf("    %s  %s", field$categories$value, field$categories$label),
      if (nrow(missing))
        sprintf("    %s  %s", missing$value,
                words("look_missing", missing$label)),
      if (length(field$guesses$missingValues))
        paste0("    ", words("codebook_guess_missing",
                             paste(field$guesses$missingValues,
                                   collapse = ", "))),
      if (length(field$guesses$order))
        paste0("    ", words("codebook_guess_order",
                             paste(field$guesses$order, collapse = ", "))))
  })
  visible(c(x$title, unlist(lines, use.names = FALSE)))
}

#' @export
print.fairlattice_codebook <- function(x, ...) {
  cat(format(x, ...), sep = "\n")
  invisible(x)
}
