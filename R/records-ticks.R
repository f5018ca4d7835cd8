#' A tick-all-that-apply question
#'
#' Makes one question of several columns (0/1, yes/no, ticked or not, or an
#' item's name or blank), or of one column in which ticks are joined ("a;c;d").
#' In [crosstab()] it may stand down, across or both: percentages are of
#' respondents who were asked and may add to more than 100; it is tested item by
#' item ([test_items()]) and all items together, never as if ticks were one
#' answer each.
#'
#' `ticks(survey, reasons = c(reason_work, reason_housing))` or `ticks(survey,
#' reasons = joined, split = ";")`.
#'
#' @param x (data frame or survey).
#' @param ... One new name, and the columns (or the one column of joined ticks)
#'   that it is made from.
#' @param label (string, default the beginning that the columns' titles share,
#'   or the new name) Title of the question.
#' @param split (string, default none) What stands between ticks in one column.
#' @param none (string, default none) What a column of joined ticks says when
#'   none was ticked. Blank is then "not asked"; without it, too.
#' @return Like `x`, with the new question. Whoever has no answer to any item
#'   was not asked, and is told apart from whoever ticked none.
#' @section Errors: `fairlattice_error_ticks` for a value that is neither ticked
#'   nor not.
#' @export
#' @examples
#' survey <- ticks(demo_records(),
#'                 reasons = c(reason_work, reason_housing, reason_school, reason_health))
#' crosstab(survey, down = reasons, across = island)
ticks <- function(x, ..., label = NULL, split = NULL, none = NULL) {
  call <- environment()
  data <- data_of(x, call)
  asked <- new_from_columns(rlang::enquos(...), data, call)
  out <- with_made(x, asked$name, asked$columns, function(columns, ...) {
    made_ticks(columns, label, split, none, asked$name, call)
  })
  of <- if (is.null(split)) list(columns = asked$columns) else
    list(question = asked$columns, split = split)
  noted(out, x, "ticks", c(list(name = asked$name), of, list(label = label, none = none)))
}

made_ticks <- function(columns, label, split, none, called, call) {
  if (is.null(split) && !is.null(none))
    stop_input(tells("none_ticks_stand_joined_one"), "ticks", call = call)
  made <- if (!is.null(split))
    split_ticks(columns[[1L]], split, none, call) else
    column_ticks(columns, call)
  titles <- mapply(title_of, columns, names(columns))
  shared <- if (is.null(split)) shared_beginning(titles) else
    list(start = titles[[1L]], rest = colnames(made$ticked))
  new_ticks(made$ticked, made$asked, shared$rest,
            if (is.null(split)) names(columns) else shared$rest,
            label %||% if (nzchar(shared$start)) shared$start else called,
            made$why)
}

# Columns of one item each: ticked, not ticked, or nothing said.
column_ticks <- function(columns, call) {
  parts <- Map(one_item, columns, names(columns), MoreArgs = list(call = call))
  ticked <- vapply(parts, function(part) part %in% TRUE, logical(nrow(columns)))
  ticked <- matrix(ticked, nrow(columns), length(parts))
  answered <- matrix(vapply(parts, function(part) !is.na(part),
                            logical(nrow(columns))), nrow(columns),
                     length(parts))
  reasons <- unique(unlist(lapply(columns, function(column) {
    attr(column, "missing", exact = TRUE)
  })))
  list(ticked = ticked, asked = rowSums(answered) > 0,
       why = if (length(reasons) == 1L) reasons else "not asked")
}

ticked_words <-
  c("1", "yes", "true", "ticked", "x", "selected", "checked", "chosen", "y")
not_ticked_words <- c("0", "no", "false", "not ticked", "not selected",
                      "unticked", "not chosen", "n")

one_item <- function(column, name, call) {
  text <- as.character(plain_factor(if (is.numeric(column) &&
                                          is.null(attr(column, "labels")))
                                      number_text_or_na(column) else
                                      as_answers(column, name, call)))
  text[!is.na(text) & !nzchar(trimws(text))] <- NA
  text <- readable(text)
  word <- tolower(trimws(text))
  seen <- unique(word[!is.na(word)])
  # an item's name, or blank
  if (length(seen) == 1L && !seen %in% not_ticked_words) return(!is.na(word))
  odd <- setdiff(seen, c(ticked_words, not_ticked_words))
  if (length(odd)) {
    stop_input(c(tells("value_record_neither_ticked_nor", name,
                       cut_short(odd[1L]), which(word == odd[1L])[1L]),
                 i = tells("items_0_1_yes_no")), "ticks", column = name,
               call = call)
  }
  ifelse(is.na(word), NA, word %in% ticked_words)
}

number_text_or_na <- function(x) {
  ifelse(is.na(x), NA_character_, number_text(as.vector(unclass(x))))
}

split_ticks <- function(column, split, none, call) {
  for (one in list(split = split, none = none)) {
    if (!is.null(one) && (!is.character(one) || !length(one) || anyNA(one)))
      stop_input(tells("split_none_texts"), "ticks", call = call)
  }
  if (length(split) != 1L || !nzchar(split))
    stop_input(tells("split_one_sign_parts_ticks"), "ticks", call = call)
  text <- readable(as.character(plain_factor(column)))
  asked <- !is.na(text) & nzchar(trimws(text))
  pieces <- lapply(strsplit(text, split, fixed = TRUE), trimws)
  items <- setdiff(sort(unique(as.character(unlist(pieces[asked]))),
                        method = "radix"), c("", none))
  if (!length(items))
    stop_input(tells("no_tick_any_record"), "ticks", call = call)
  ticked <- matrix(vapply(pieces, function(one) items %in% one,
                          logical(length(items))), length(pieces), byrow = TRUE)
  colnames(ticked) <- items
  list(ticked = ticked, asked = asked, why = "not asked")
}
