# Results as data frames, in words: what users hold in their hands. Rows come
# from the core as lists; here they get the answer of `each` in front, and their
# sentences.

# Rows as columns, in words.
columns_in_words <- function(rows) {
  columns <- columns_of(rows)
  for (name in intersect(said_columns, names(columns))) columns[[name]] <-
    all_in_words(columns[[name]])
  columns
}

# Rows of every layer as one data frame; NULL where no layer has any.
frame_of <- function(x, by_layer) {
  bind_frames(Map(function(layer, rows) {
    if (length(rows))
      list2DF(c(list(each = rep(layer$each, length(rows))),
                columns_in_words(rows)))
  }, x$layers, by_layer))
}

# Columns of every layer (vectors of one length; figures of the layer as a whole
# are repeated) as one data frame.
frame_of_columns <- function(x, by_layer) {
  bind_frames(Map(function(layer, columns) {
    size <- max(lengths(columns))
    columns <- lapply(columns, function(column) {
      if (is.list(column)) all_in_words(column) else if (length(column) == 1L)
        rep(column, size) else column
    })
    list2DF(c(list(each = rep(layer$each, size)), columns))
  }, x$layers, by_layer))
}

bind_frames <- function(frames) {
  frames <- unname(Filter(Negate(is.null), frames))
  if (length(frames) == 1L) return(frames[[1L]])
  if (!length(frames) || !all(vapply(frames, is_plain_frame, NA, names(frames[[1L]]))))
    return(do.call(rbind, frames))
  # the same, without what rbind() asks of every column
  names <- names(frames[[1L]])
  list2DF(lapply(stats::setNames(names, names), function(name) {
    unlist(lapply(frames, function(frame) .subset2(frame, name)))
  }))
}

is_plain_frame <- function(x, names) {
  identical(class(x), "data.frame") && identical(names(x), names) && .row_names_info(x) <= 0L &&
    all(vapply(x, function(column) is.atomic(column) && is.null(attributes(column)), NA))
}

# A result is a data frame that prints itself readably; further arguments are
# attributes that its print needs.
new_result <- function(data, kind, ...) {
  out <- structure(data, ...)
  class(out) <-
    c(paste0("fairlattice_", kind), "fairlattice_result", "data.frame")
  out
}

# Results that are printed a row at a time stay what they are when rows are
# taken from them; a text made of all rows (the working, risks, differences)
# cannot be made of some, so what is left of it is a plain table.
by_row <- paste0("fairlattice_",
                 c("tests", "strength", "shares", "cautions", "residuals",
                   "detectable", "items"))

#' @export
`[.fairlattice_result` <- function(x, ...) {
  out <- NextMethod()
  if (!is.data.frame(out)) return(out)
  whole <- identical(dim(out), dim(x)) && identical(names(out), names(x))
  if (whole || (class(x)[1L] %in% by_row && identical(names(out), names(x)))) {
    for (name in setdiff(names(attributes(x)),
                         c("names", "row.names", "class"))) attr(out, name) <-
      attr(x, name, exact = TRUE)
    class(out) <- class(x)
  } else {
    class(out) <- c("fairlattice_result", "data.frame")
  }
  out
}
