# Imputed data sets: the same people as often as there are imputations (or plausible
# values), as one data frame with a column that says which. A row stands for one over
# their number of a respondent, so that every sum of a tally is the mean over the
# imputations; and a design unit of a tally is one within an imputation, so that each of
# them has its own table.

# Data frames of the same people, one below the other; and the column that says which.
imputation_column <- "imputation"

frames_below <- function(frames, call) {
  stop_frames <- function(...) stop_input(c(...), "imputation", call = call)
  if (length(frames) < 2L || !all(vapply(frames, is.data.frame, NA)))
    stop_frames(tells("imputations_data_frames"))
  first <- frames[[1L]]
  for (k in seq_along(frames)[-1L]) {
    other <- frames[[k]]
    if (!identical(names(other), names(first)) || nrow(other) != nrow(first))
      stop_frames(tells("imputations_differ", k, nrow(other), ncol(other),
                        nrow(first), ncol(first)))
  }
  out <- lapply(stats::setNames(names(first), names(first)), function(name) {
    columns <- lapply(frames, function(frame) frame[[name]])
    known <- attributes(columns[[1L]])
    same <- vapply(columns, function(column) identical(attributes(column), known), NA)
    if (!all(same)) stop_frames(tells("imputations_columns_differ", name, which(!same)[1L]))
    # what was not imputed is the same in all
    values <- if (all(vapply(columns[-1L], identical, NA, columns[[1L]])))
      rep(as.vector(unclass(columns[[1L]])), length(columns)) else
      unlist(lapply(columns, function(column) as.vector(unclass(column))), use.names = FALSE)
    known$names <- NULL
    attributes(values) <- known
    values
  })
  out <- list2DF(out)
  for (name in c("source", "title"))
    attr(out, name) <- attr(first, name, exact = TRUE)
  if (imputation_column %in% names(out))
    stop_frames(tells("imputation_column_taken", imputation_column))
  out[[imputation_column]] <- rep(seq_along(frames), each = nrow(first))
  out
}

# Which imputation a record is of, as whole numbers from 1; every imputation has the
# same people in the same order. NULL where there is only one.
imputation_of <- function(column, design, call, groups = NULL) {
  if (is.null(column)) return(NULL)
  stop_imputation <- function(...) stop_input(c(...), "imputation", call = call)
  labels <- design_labels(column)
  if (anyNA(labels)) stop_imputation(tells("imputation_not_known", sum(is.na(labels))))
  at <- match(levels(labels), natural_order(levels(labels)))[as.integer(labels)]
  if (max(at) < 2L) stop_imputation(tells("imputation_only_one"))
  records <- as.vector(rowsum(as.numeric(groups$records %||% rep(1, length(at))), at))
  other <- records[records != records[1L]]
  if (length(other))
    stop_imputation(tells("imputations_of_different_size", levels(labels)[1L],
                          format_count(records[1L]), format_count(other[1L])))
  if (is.null(groups)) {
    by_imputation <- split(seq_along(at), at)
    for (name in names(design)) {
      values <- lapply(by_imputation, function(rows) {
        lapply(by_stage(design[[name]]), function(column) {
          if (is.factor(column)) as.integer(column)[rows] else column[rows]
        })
      })
      if (!all(vapply(values[-1L], identical, NA, values[[1L]])))
        stop_imputation(c(tells("imputations_of_other_people", name),
                          i = tells("sort_each_imputation_alike")))
    }
  }
  at
}

natural_order <- function(labels) {
  number <- suppressWarnings(as.numeric(labels))
  if (anyNA(number)) sort(labels, method = "radix") else labels[order(number)]
}

# The survey whose rows stand for one over so many of a respondent.
with_imputations <- function(survey, imputation) {
  if (is.null(imputation)) return(survey)
  M <- max(imputation)
  survey$imputation <- imputation
  survey$count <- (survey$count %||% rep(1, nrow(survey$data))) / M
  for (sum in intersect(c("n", "w", "w2", "replicates"), names(survey$sums)))
    if (!is.null(survey$sums[[sum]])) survey$sums[[sum]] <- survey$sums[[sum]] / M
  survey
}

# Whether a record is of the first imputation.
first_imputation <- function(survey) {
  if (is.null(survey$imputation)) TRUE else survey$imputation == 1L
}

imputations_of <- function(design) design$imputations %||% 1L

# The design unit of every record, each imputation having its own.
unit_of_tally <- function(survey) {
  if (is.null(survey$imputation)) return(survey$unit)
  units_of_imputations_kernel(survey$unit, survey$imputation, nrow(survey$design$units))
}

units_of_tally <- function(design) nrow(design$units) * imputations_of(design)

# The cells of every imputation, on the scale of a whole sample.
cells_by_imputation <- function(cells, design) {
  M <- imputations_of(design)
  units <- nrow(design$units)
  imputation <- (cells$unit - 1L) %/% units + 1L
  cells$unit <- (cells$unit - 1L) %% units + 1L
  for (sum in intersect(c("w", "w2", "n", "auxiliary", "products"), names(cells)))
    cells[[sum]] <- cells[[sum]] * M
  of <- structure(as.integer(imputation), levels = as.character(seq_len(M)), class = "factor")
  lapply(split(seq_along(imputation), of), function(at) {
    lapply(cells, function(x) if (is.matrix(x)) x[at, , drop = FALSE] else x[at])
  })
}
