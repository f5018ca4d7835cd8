# Answers: a factor that knows which of its levels are reasons for having no
# answer ("Don't know", "Not asked"). is.na() is TRUE for those, yet the reason
# is kept; and because the reasons are levels, not a vector beside the codes,
# slicing the column in any way keeps them right.

new_answers <- function(codes, levels, missing = character(), label = NULL,
                        ordered = FALSE, values = NULL) {
  structure(codes, levels = levels, missing = missing, label = label,
            values = values,
            class = c("fairlattice_answers", if (ordered) "ordered", "factor"))
}

#' @export
`[.fairlattice_answers` <- function(x, ..., drop = FALSE) {
  kept <- attributes(x)
  kept$names <- NULL
  codes <- unclass(x)
  attributes(codes) <- NULL
  out <- codes[...]
  attributes(out) <- kept
  out
}

#' @export
is.na.fairlattice_answers <- function(x) {
  codes <- as.integer(x)
  is.na(codes) | codes %in% which(levels(x) %in% attr(x, "missing"))
}

# Numbers whose missing values know their reason: the reason's index is in the
# bits of the NA itself, and `reasons` has the words. Arithmetic on them is
# missing, as it should be.
new_number <- function(x, reasons = character(), label = NULL) {
  structure(as.numeric(x), reasons = reasons, label = label,
            class = c("fairlattice_number", "numeric"))
}

#' @export
`[.fairlattice_number` <- function(x, ...) {
  out <- unclass(x)[...]
  attributes(out) <- c(attributes(out)["names"],
                       attributes(x)[c("reasons", "label", "history", "summed", "class")])
  out
}

#' @export
print.fairlattice_number <- function(x, ...) {
  print(as.vector(unclass(x)), ...)
  reasons <- table_of_reasons(x)
  if (length(reasons))
    cat("Missing: ", paste(reasons, names(reasons), collapse = "; "), "\n",
        sep = "")
  invisible(x)
}

# How many values are missing for each reason.
table_of_reasons <- function(x) {
  words <- c("no answer", attr(x, "reasons"))
  counts <-
    tabulate(reason_of_kernel(as.numeric(x)[is.na(x)]) + 1L, length(words))
  stats::setNames(counts, words)[counts > 0L]
}

# An ordinary factor: reasons become plain NA.
plain_factor <- function(x) {
  if (!inherits(x, "fairlattice_answers")) return(x)
  kept <- setdiff(levels(x), attr(x, "missing"))
  structure(match(levels(x), kept)[as.integer(unclass(x))], levels = kept,
            class = c(if (is.ordered(x)) "ordered", "factor"))
}

# Single values that can be compared, one a record.
is_plain <- function(x) {
  is.atomic(x) && !is.null(x) && is.null(dim(x)) && !is.raw(x) && !is.complex(x)
}

# The title of a column, if it has one: one text, whatever else somebody put
# there.
label_of <- function(x) {
  label <- attr(x, "label", exact = TRUE)
  if (is.character(label) && length(label) == 1L && !is.na(label) &&
        nzchar(trimws(label))) readable(as.vector(unclass(label)))
}

title_of <- function(x, name) label_of(x) %||% name

# A factor whose codes lie within its levels, none of them blank: as it is, so
# that nothing is copied. A blank level is no answer. `codes = FALSE` leaves the
# codes to the kernel that is given them, which looks at each anyway.
sound_factor <- function(x, name, call, codes = TRUE) {
  answers <- levels(x)
  if (!is.null(answers) && !is.character(answers)) answers <- as.character(answers)
  most <- if (codes && length(x))
    suppressWarnings(max(as.integer(x), na.rm = TRUE)) else 0 # nobody answered: -Inf
  if (typeof(x) != "integer" || is.null(answers) && length(x) ||
        anyDuplicated(answers) || most > length(answers)) {
    stop_unsound(name, call)
  }
  text <- readable(answers)
  blank <- is.na(text) | !grepl("[^[:space:]]", text)
  if (!any(blank)) {
    if (!identical(text, answers)) levels(x) <- text
    return(x)
  }
  keep <- attributes(x)
  places <- replace(rep(NA_integer_, length(answers)), which(!blank),
                    seq_len(sum(!blank)))
  missing <- intersect(keep$missing, answers[!blank])
  new_answers(places[as.integer(x)], text[!blank],
              missing = as.character(missing), label = label_of(x),
              ordered = is.ordered(x),
              values = if (!is.null(keep$values)) keep$values[!blank])
}

stop_unsound <- function(name, call) {
  stop_input(c(tells("not_valid_factor_codes_without", name),
               i = tells("create_again_factor")), "column_type", column = name,
             call = call)
}

# What the core keeps of a question beside its codes.
describe_question <- function(answers, name) {
  list(name = name, label = label_of(answers) %||% name,
       ordered = is.ordered(answers), levels = levels(answers),
       missing = levels(answers) %in% attr(answers, "missing"),
       values = as.character(attr(answers, "values") %||% levels(answers)),
       observed = isTRUE(attr(answers, "observed")),
       numeric = isTRUE(attr(answers, "numeric")),
       history = as.list(attr(answers, "history", exact = TRUE)),
       nets = attr(answers, "nets", exact = TRUE),
       scores = scores_of_levels(answers),
       summed = isTRUE(attr(answers, "summed", exact = TRUE)),
       items = attr(answers, "items", exact = TRUE),
       item_names = attr(answers, "item_names", exact = TRUE),
       ticked = attr(answers, "ticked", exact = TRUE),
       headings = attr(answers, "headings", exact = TRUE))
}

# The answers with what is kept beside them. Of a battery the answers are those
# of its statements.
keeping <- function(answers, what, value) {
  if (is.null(attr(answers, "battery", exact = TRUE)))
    attr(answers, what) <- value else
    attr(answers, "battery")[[what]] <- value
  if (!inherits(answers, "fairlattice_answers"))
    class(answers) <- unique(c("fairlattice_answers", class(answers)))
  answers
}

# The same, as it was kept; NULL for nothing.
kept_with <- function(answers, what) {
  battery <- attr(answers, "battery", exact = TRUE)
  if (is.null(battery)) attr(answers, what, exact = TRUE) else battery[[what]]
}

# The answers that may be given, without reasons for none.
answers_to <- function(answers) {
  attr(answers, "battery", exact = TRUE)$answers %||%
    setdiff(levels(answers), attr(answers, "missing", exact = TRUE))
}

# What every level counts for, NA of reasons; NULL of a question without scores.
# A number that is to be averaged counts as itself.
scores_of_levels <- function(answers) {
  answer_names <- levels(answers)
  if (isTRUE(attr(answers, "summed", exact = TRUE)))
    return(ifelse(answer_names %in% attr(answers, "missing"), NA_real_,
                  suppressWarnings(as.numeric(answer_names))))
  scores <- attr(answers, "scores", exact = TRUE)
  if (!is.null(scores)) unname(scores[answer_names])
}

# Every pattern of ticks that occurs is a level; `ticked` says which items it
# holds.
new_ticks <- function(ticked, asked, items, names, label, why = "not asked") {
  key <- rep(NA_character_, nrow(ticked))
  key[asked] <- do.call(paste0,
                        lapply(seq_len(ncol(ticked)), function(k) {
                          as.integer(ticked[asked, k])
                        }))
  keys <- sort(unique(key[asked]), method = "radix")
  patterns <- matrix(unlist(strsplit(keys, "")) == "1", length(keys),
                     ncol(ticked), byrow = TRUE)
  levels <- apply(patterns, 1L, function(row) {
    if (any(row)) paste(items[row], collapse = " + ") else "none of them"
  })
  codes <- match(key, keys)
  if (any(!asked)) codes[!asked] <- length(keys) + 1L
  out <- new_answers(codes,
                     make.unique(c(as.character(levels), why[any(!asked)]),
                                 sep = " / "), missing = why[any(!asked)],
                     label = label)
  attr(out, "items") <- as.character(items)
  attr(out, "item_names") <- as.character(names)
  attr(out, "ticked") <-
    rbind(patterns, matrix(FALSE, any(!asked), length(items)))
  out
}
