#' Cut a number into bands
#'
#' Give one of `breaks` (where bands begin, or end with `closed = "right"`), `n`
#' (so many bands of equal weighted count) or `width`. Nothing is lost: values
#' beyond the breaks get an open band of their own. Whole numbers get labels
#' such as "18-24" and "65 or more", with a dash.
#'
#' @param x (data frame, survey, or one numeric column) What has the number.
#' @param question (column name, see [fairlattice]) Which number; not given when
#'   `x` is one column.
#' @param breaks (numeric, increasing) Where bands begin (`closed = "left"`) or
#'   end (`closed = "right"`).
#' @param n (integer) Number of bands of equal count, by the survey's weights if
#'   it has them.
#' @param width (number) Width of the bands, which begin at multiples of it.
#' @param labels (character, default made) One label a band.
#' @param closed ("left" or "right", default "left") The bound that belongs to a
#'   band.
#' @param least (integer, default none) Every band must have at least so many
#'   respondents: smaller ones are joined with their smaller neighbour.
#' @param into (string, default the question's name) Column that the bands go
#'   to.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Like `x`, with the bands as an ordered question and its history kept.
#' @section Errors: `fairlattice_error_band`.
#' @export
#' @examples
#' survey <- band(demo_records(), age, breaks = c(18, 35, 50, 65))
#' crosstab(survey, down = leave, across = age)
band <- function(x, question, breaks = NULL, n = NULL, width = NULL,
                 labels = NULL, closed = c("left", "right"), least = NULL,
                 into = NULL, ...) {
  nothing_else(...)
  call <- environment()
  closed <- first_of(closed)
  check_choice(closed, c("left", "right"), "closed", call)
  if (is.atomic(x))
    return(band_number(as_known_column(x), "x", NULL, breaks, n, width, labels,
                       closed, least, call))
  data <- data_of(x, call)
  name <- column_named(named_by(question), data, "question", call)
  if (is.null(name))
    stop_input(tells("question_name_number"), "column_name", call = call)
  check_plain(data[[name]], name, "question", call)
  if (!is.null(into) &&
        (!is.character(into) || length(into) != 1L || is.na(into) ||
           !nzchar(into)))
    stop_input(tells("into_one_name"), "band", call = call)
  cuts <- if (is.numeric(breaks))
    stats::setNames(list(if (closed == "left") new_cuts(below = breaks) else
                           new_cuts(upto = breaks)), name)
  out <- with_made(x, into %||% name, name, function(columns, weight, records) {
    band_number(columns[[1L]], name, weight, breaks, n, width, labels, closed,
                least, call, records)
  }, cuts)
  noted(out, x, "band", list(question = name, breaks = breaks, n = n, width = width,
                             labels = labels, closed = closed, least = least, into = into))
}

# `records` is how many records each value stands for (NULL: one).
band_number <- function(x, name, weight, breaks, n, width, labels, closed,
                        least, call, records = NULL) {
  stop_band <- function(...) {
    stop_input(c(...), "band", column = name, call = call)
  }
  check_band_choices(breaks, n, width, labels, least, stop_band, call)
  x <- number_of_codes(x)
  values <- band_values(x, name, stop_band)
  seen <- values[!is.na(values)]
  breaks <- band_breaks(values, seen, weight, breaks, n, width, stop_band)
  bands <- bands_at(values, seen, breaks, closed, least, records)
  made <- bands$labels
  if (!is.null(labels) && length(labels) != length(made)) {
    stop_band(tells("bands_labels", length(made), list_some(made),
                    length(labels)))
  }
  reasons <- attr(x, "reasons", exact = TRUE)
  reason <- if (length(reasons)) reason_of_kernel(as.numeric(x)) else 0L
  codes <- bands$codes
  codes[reason > 0L] <- length(made) + reason[reason > 0L]
  out <- new_answers(as.integer(codes), c(labels %||% made, reasons),
                     missing = as.character(reasons), label = label_of(x),
                     ordered = TRUE)
  with_history(out, x,
               list(said("banded", bands = length(made), closed = closed,
                         ends = bands$ends, least = least %||% NA)))
}

check_band_choices <- function(breaks, n, width, labels, least, stop_band,
                               call) {
  if (sum(!is.null(breaks), !is.null(n), !is.null(width)) != 1L)
    stop_band(tells("give_one_breaks_n_width"))
  if (!is.null(breaks) &&
        (!is.numeric(breaks) || !length(breaks) || any(!is.finite(breaks))))
    stop_band(tells("breaks_finite_numbers"))
  if (!is.null(width)) check_number(width, "width", 0, Inf, call)
  if (!is.null(least)) check_number(least, "least", 1, Inf, call)
  if (!is.null(labels) &&
        (!is.character(labels) || anyNA(labels) || anyDuplicated(labels)))
    stop_band(tells("labels_different_texts"))
}

band_values <- function(x, name, stop_band) {
  if (!is.numeric(x) || is.factor(x)) {
    stop_band(tells("not_number_cannot_cut_into", name),
              i = tells("combine_answers_regroup"))
  }
  values <- as.vector(unclass(x))
  values[is.na(values)] <- NA
  if (any(is.infinite(values))) {
    stop_band(tells("infinite_values_record", name,
                    which(is.infinite(values))[1L]),
              i = tells("make_missing_first"))
  }
  if (all(is.na(values))) stop_band(tells("no_values", name))
  values
}

# Where bands begin (end): as given, with equal counts, or of one width.
band_breaks <- function(values, seen, weight, breaks, n, width, stop_band) {
  if (!is.null(width) && (width == 0 || diff(range(seen)) / width > 1000))
    stop_band(tells("width_makes_more_1_000", number_text(width)))
  breaks <- if (!is.null(breaks)) as.numeric(breaks) else
    if (!is.null(n)) equal_count_breaks(values, weight, n, stop_band) else
      seq(floor(min(seen) / width) * width, max(seen), by = width)
  if (anyNA(breaks) || any(diff(breaks) <= 0))
    stop_band(tells("breaks_increasing_numbers"),
              x = tells("breaks_are", list_some(number_text(breaks))))
  breaks
}

# The band of every value, the bands' labels, and where they begin (end). Band k
# runs from bounds[k + 1] to bounds[k + 2], k = 0, 1, ...; empty ones at either
# end are left out, small ones joined.
bands_at <- function(values, seen, breaks, closed, least, records = NULL) {
  whole <- all(seen == round(seen)) && all(breaks == round(breaks))
  at <- findInterval(values, breaks, left.open = closed == "right")
  bounds <- c(-Inf, breaks, Inf)
  keep <- seq_along(bounds)[-1L] - 1L
  keep <- keep[(keep - 1L) %in% at[!is.na(at)] | !(keep %in% range(keep))] - 1L
  joined <- if (!is.null(least))
    join_small(records_at(match(at, keep), length(keep), records), least) else
    seq_along(keep)
  from <- bounds[keep[!duplicated(joined)] + 1L]
  to <- bounds[keep[!duplicated(joined, fromLast = TRUE)] + 2L]
  list(codes = joined[match(at, keep)],
       ends = if (closed == "left") from[is.finite(from)] else
         to[is.finite(to)],
       labels = mapply(band_label, from, to,
                       MoreArgs = list(whole = whole, closed = closed,
                                       low = min(seen), high = max(seen))))
}

records_at <- function(place, size, records) {
  if (is.null(records)) return(tabulate(place, size))
  sum_by_cell_kernel(replace(place, is.na(place), 0L), as.numeric(records),
                     size)
}

# Weighted quantiles: the least value that at least a share k/n of the weight
# does not pass begins the next band.
equal_count_breaks <- function(values, weight, n, stop_band) {
  if (!is.numeric(n) || length(n) != 1L || is.na(n) || n < 2)
    stop_band(tells("n_number_least_2_not", quote_value(n)))
  weight <- weight %||% rep(1, length(values))
  use <- !is.na(values) & !is.na(weight)
  if (!any(use) || sum(weight[use]) <= 0)
    stop_band(tells("nobody_weight_value"))
  sums <- rowsum(weight[use], values[use])
  at <- as.numeric(rownames(sums))
  below <- c(0, cumsum(sums)[-length(at)]) / sum(sums)
  unique(c(at[1L],
           at[vapply(seq_len(n - 1L) / n, function(share) which.min(abs(below - share)), 0L)]))
}

# Joins bands with too few to their smaller neighbour, smallest first; gives the
# number of the band each belongs to.
join_small <- function(counts, least) {
  group <- seq_along(counts)
  repeat {
    size <- as.vector(rowsum(counts, group))
    if (length(size) == 1L || min(size) >= least) return(group)
    small <- which.min(size)
    beside <- setdiff(c(small - 1L, small + 1L), c(0L, length(size) + 1L))
    with <- beside[which.min(size[beside])]
    group[group == max(small, with)] <- min(small, with)
    group <- match(group, unique(group))
  }
}

band_label <- function(from, to, whole, closed, low, high) {
  text <- number_text
  if (whole) { # bounds that are in the band
    first <- if (closed == "left") from else from + 1
    last <- if (closed == "left") to - 1 else to
    if (is.infinite(from) && is.infinite(to)) return(band_name("all"))
    if (is.infinite(from)) return(band_name("or_less", text(last)))
    if (is.infinite(to)) return(band_name("or_more", text(first)))
    return(if (first == last) text(first) else
             band_name("from_to", text(first), text(last)))
  }
  if (is.infinite(from))
    return(band_name(if (closed == "left") "under" else "or_less", text(to)))
  if (is.infinite(to))
    return(band_name(if (closed == "left") "or_more" else "over", text(from)))
  band_name(if (closed == "left") "to_under" else "over_to", text(from),
            text(to))
}
