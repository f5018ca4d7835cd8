# Which questions have to do with one, or with each other: all pairs, ranked by
# strength.

#' Which questions are related?
#'
#' Every question against one, or all pairs: ranked by Cramér's V, with its
#' interval, the design-based p-value corrected over all pairs
#' (Benjamini-Hochberg), the base, and where the association sits. Numbers are
#' cut into four bands of about as many respondents; of tick-all questions every
#' item stands by itself. Pairs that are copies of one another, or of which one
#' nearly says the other, stand apart: they are no finding. Questions that
#' cannot be tabulated are named with their reason.
#'
#' @param x (survey or data frame) From [respondents()].
#' @param to (column name, default none) The question that all others are set
#'   against; without it all pairs.
#' @param questions (column names, default all) Only these.
#' @param nearly (number in 0-1, default 0.95) Knowing one of a pair reduces the
#'   errors in guessing the other by this share or more: they nearly determine
#'   one another.
#' @param alpha (number in 0-1, default option `fairlattice.alpha`) Level of the
#'   intervals and of the corrected p.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame (class `fairlattice_related`), the strongest first:
#'   `question`, `title`, `with`, `with_title`, `n`, `cramers_v`, the same
#'   `corrected` for chance, `low`, `high`, `test`, `p`, `p_corrected`,
#'   `strongest` (in words), `apart` (why a pair is no finding, or ""), `note`
#'   (why there is no test). Attribute `left_out`: data frame of `question`,
#'   `reason`. Units: V, its interval and p-values 0-1. It can be plotted and
#'   given to [publish()].
#' @references Cramér H (1946) Mathematical Methods of Statistics; Benjamini Y,
#'   Hochberg Y (1995) JRSS B 57: 289-300.
#' @section Errors: `fairlattice_error_no_column`; `fairlattice_error_related`
#'   with fewer than two questions.
#' @export
#' @examples
#' survey <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement)
#' related(survey, to = ferry, questions = c(island, tenure, internet, season, mode))
related <- function(x, to = NULL, questions = NULL, nearly = 0.95, alpha = NULL,
                    ...) {
  nothing_else(...)
  call <- environment()
  survey <- as_survey(x)
  to <- column_named(named_by(to), survey$data, "to", call)
  asked <-
    columns_named(named_by(questions), survey$data, "questions", call)
  check_fraction(nearly, "nearly", call)
  alpha <- alpha %||% setting("alpha")
  check_fraction(alpha, "alpha", call)
  ready <-
    questions_ready(survey, unique(c(to, asked %||% names(survey$data))), call)
  survey <- ready$survey
  looked_at <- ready$names
  if (!is.null(to) && !to %in% looked_at)
    stop_input(c(tells("cannot_set_against_other_questions", to),
                 x = ready$left_out$reason[match(to, ready$left_out$question)]),
               "related", call = call)
  if (length(looked_at) < 2L)
    stop_input(tells("no_two_questions_can_set"), "related", call = call)
  pairs <- if (is.null(to)) utils::combn(looked_at, 2L) else
    rbind(setdiff(looked_at, to), to, deparse.level = 0)
  items <- lapply(seq_len(ncol(pairs)), function(k) {
    list(number = k, down = pairs[1L, k], across = pairs[2L, k])
  })
  survey <- with_tallies(survey, items)
  titles <- vapply(looked_at, function(name) title_of(survey$data[[name]], name), "")
  # of an outcome it is told how many of each group have it: `down` explains it
  choices <- checked_choices(list(explains = if (is.null(to)) "across" else "down",
                                  alpha = alpha, keep_empty = FALSE))
  work <- function(k) related_row(survey, items[[k]], titles, nearly, choices)
  # a pair takes little time, and a process a while to begin
  rows <- in_batches(seq_along(items), work, function(k) items[[k]]$down,
                     words("related.progress"), for_each_core = 512L)
  rows <- as.data.frame(data.table::rbindlist(rows))
  rows$p_corrected <- NA_real_
  rows$p_corrected[rows$apart == ""] <-
    correct(rows$p[rows$apart == ""], "benjamini_hochberg")
  rows <- rows[order(rows$apart != "", -rows$cramers_v, na.last = TRUE), ]
  rownames(rows) <- NULL
  new_result(rows[related_columns], "related", left_out = ready$left_out,
             to = to, alpha = alpha,
             to_title = if (!is.null(to)) title_of(survey$data[[to]], to),
             repeated = if (is_far(survey)) 0 else
               length(unique(survey$repeat_id)))
}

related_columns <- c("question", "title", "with", "with_title", "n",
                     "cramers_v", "corrected", "low", "high", "test", "p",
                     "p_corrected", "strongest", "apart", "note")

# The questions as they can be set against each other: numbers banded, ticks
# item by item, none of the design's roles; and those that cannot be, with the
# reason.
questions_ready <- function(survey, names, call) {
  roles <- c(unlist(survey$roles[c("weight", "id", "count", "population", "cluster")]),
             survey$replicates)
  out <- list(survey = survey, names = character(),
              left_out = list2DF(list(question = character(),
                                      reason = character())))
  whole <- unlist(lapply(survey$data[names], attr, "item_names", exact = TRUE),
                  use.names = FALSE)
  names <- setdiff(names, c(roles, whole))
  surveys <- if (is_far(survey)) surveys_of_questions(survey, names) else
    rep(list(survey), length(names))
  for (k in seq_along(names)) {
    name <- names[k]
    column <- surveys[[k]]$data[[name]]
    weight <- weight_of(surveys[[k]])
    made <- tryCatch(question_ready(column, name, weight),
                     fairlattice_error = function(e) {
                       cli::ansi_strip(first_line(conditionMessage(e)))
                     })
    if (is.character(made)) {
      out$left_out <-
        rbind(out$left_out, list2DF(list(question = name, reason = made)))
      next
    }
    breaks <- if (is_far(survey)) breaks_in_four(column, name, weight)
    for (one in names(made)) out$survey <- if (!is_far(survey))
      with_column(out$survey, one, made[[one]]) else
      with_made(out$survey, one, name, ready_column(name, one, breaks),
                if (!is.null(breaks))
                  stats::setNames(list(new_cuts(below = breaks)), name))
    out$names <- c(out$names, names(made))
  }
  out
}

# How a question is made ready when its records come in groups.
ready_column <- function(name, one, breaks) {
  force(list(name, one, breaks))
  function(columns, weight, records) {
    question_ready(columns[[1L]], name, weight, breaks)[[one]]
  }
}

# Where a number that has many values is cut into four; NULL of any other
# question.
breaks_in_four <- function(x, name, weight) {
  if (!is_plain(x) || !looks_like_number(x) ||
        length(unique(x[!is.na(x)])) <= 12L) return(NULL)
  stop_bands <- function(...) {
    stop_input(c(...), "band", column = name, call = NULL)
  }
  equal_count_breaks(band_values(x, name, stop_bands), weight, 4L, stop_bands)
}

# One question as columns that can be tabulated, or why there is none. A number
# with many values is cut into four, at `breaks` where they are known already.
question_ready <- function(x, name, weight, breaks = NULL) {
  if (!is_plain(x)) return(words("related.no_values"))
  breaks <- breaks %||% breaks_in_four(x, name, weight)
  if (!is.null(breaks))
    x <-
      band_number(x, name, weight, breaks, NULL, NULL, NULL, "left", NULL, NULL)
  answers <- as_answers(x, name)
  items <- attr(answers, "items", exact = TRUE)
  if (!is.null(items)) return(items_ready(answers, name, items))
  size <- nlevels(answers) - length(attr(answers, "missing", exact = TRUE))
  if (size < 2L) return(words("related.one_answer"))
  if (size > most_related) return(words("related.many_answers", answers = size))
  stats::setNames(list(answers), name)
}

# More answers than this make no table that says where an association sits.
most_related <- 30L

items_ready <- function(answers, name, items) {
  ticked <-
    attr(answers, "ticked", exact = TRUE)[as.integer(answers), , drop = FALSE]
  asked <- !is.na(answers)
  columns <- lapply(seq_along(items), function(k) {
    new_answers(ifelse(asked, 2L - ticked[, k], NA_integer_),
                c(words("related.ticked"), words("related.not_ticked")),
                label = sprintf("%s: %s", label_of(answers) %||% name,
                                items[k]))
  })
  stats::setNames(columns,
                  attr(answers, "item_names", exact = TRUE) %||%
                    paste(name, items))
}

# One pair: its columns, but for what takes all pairs.
related_row <- function(survey, pair, titles, nearly, choices) {
  row <- list(question = pair$down, title = titles[[pair$down]], with = pair$across,
              with_title = titles[[pair$across]], n = 0, cramers_v = NA_real_,
              corrected = NA_real_, low = NA_real_, high = NA_real_,
              test = NA_character_, p = NA_real_, strongest = NA_character_, apart = "",
              note = NA_character_)
  x <- either(new_crosstab(tally_columns(survey, pair$down, pair$across, NULL, NULL), choices))
  if (is.character(x)) return(replace(row, "note", x))
  layer <- x$layers[[1L]]
  test <- headline_of(tests_of(x)[[1L]])
  v <- cramers_v_of(layer_strength(layer, choices$alpha, asked = "cramers_v"))
  row$n <- layer$base$n
  row[c("cramers_v", "corrected", "low", "high")] <-
    list(v$estimate, v$corrected %||% NA_real_, v$low, v$high)
  row[c("test", "p")] <- list(test$test, test$p)
  row$strongest <- strongest_cell(
    x, 1L, adjusted_of_layer(layer),
    as.vector(layer$weighted) / base_per_cell(layer$weighted, choices$percent)) %||% NA_character_
  if (is.na(test$p)) row$note <- in_words(test$note)
  row$apart <- apart_of(layer, row$title, row$with_title, nearly)
  row
}

#' @export
parts_of.fairlattice_related <- function(x, width = Inf, most = 40L, ...) {
  nothing_else(...)
  data <- visible_in(as.data.frame(x))
  alpha <- attr(x, "alpha", exact = TRUE) %||% 0.05
  pairs <- is.null(attr(x, "to", exact = TRUE))
  ranked <- data[data$apart == "", ]
  apart <- data[data$apart != "", ]
  left <- attr(x, "left_out", exact = TRUE)
  tested <- sum(!is.na(ranked$p))
  shown <- utils::head(ranked, most)
  bare <- function(value, format) ifelse(is.na(value), "", format(value))
  columns <- list(shown$title, if (pairs) shown$with_title,
                  format_count(shown$n),
                  v_shown(shown$cramers_v, shown$corrected),
                  ifelse(is.na(shown$low), "",
                         interval_words(shown$low, shown$high,
                                        format_strength)), bare_p(shown$p),
                  ifelse(is.na(shown$p), "", bare_p(shown$p_corrected)),
                  ifelse(!is.na(shown$note), shown$note,
                         ifelse(shown$p_corrected <= alpha, shown$strongest,
                                "")))
  names(columns) <- name_of("column",
                            c("question", "with", "n", "v_corrected",
                              "interval", "p", "p_corrected", "strongest"))
  columns <- Filter(length, columns)
  if (width < 110) columns <- columns[-length(columns)]
  text <-
    names(columns) %in% name_of("column", c("question", "with", "strongest"))
  in_parts(said_part(words("related.said",
                           to = attr(x, "to_title", exact = TRUE),
                           pairs = nrow(ranked), expected = alpha * tested,
                           tests = tested,
                           significant = sum(
                             ranked$p_corrected <= alpha, na.rm = TRUE),
                           alpha = alpha)),
           if (isTRUE(attr(x, "repeated", exact = TRUE) > 0))
             said_part(words("front.repeated",
                             ids = attr(x, "repeated", exact = TRUE))),
           gap_part, if (nrow(shown)) columns_part(columns, left = text),
           said_part(if (nrow(ranked) > nrow(shown))
                       words("summary.more",
                             rows = nrow(ranked) - nrow(shown))),
           if (width < 110 && nrow(shown)) gap_part,
           if (width < 110)
             said_part(readings(utils::head(
               shown[shown$p_corrected %in% shown$p_corrected[which(shown$p_corrected <= alpha)], ],
               10L), pairs), exdent = 2L), if (nrow(apart)) gap_part,
           if (nrow(apart))
             said_part(c(words("related.apart"),
                         paste0("  ", unique(apart$apart))), exdent = 4L),
           if (length(left$question)) gap_part,
           if (length(left$question))
             said_part(c(words("related.left_out"),
                         sprintf("  %s: %s", left$question, left$reason)),
                       exdent = 4L))
}

# Where the strongest associations sit, a line each.
readings <- function(rows, pairs) {
  if (nrow(rows))
    paste0(rows$title, if (pairs) paste0(" / ", rows$with_title), ": ",
           rows$strongest)
}

# ---- the picture ----

#' Draw which questions are related
#'
#' Against one question: a dot with its interval a question. Of all pairs: a
#' field of the strengths. Needs ggplot2.
#'
#' @param object,x (related) From [related()].
#' @param most (integer, default 30) The strongest so many questions are drawn.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return A ggplot object.
#' @exportS3Method ggplot2::autoplot
#' @examplesIf requireNamespace("ggplot2", quietly = TRUE)
#' survey <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement)
#' found <- related(survey, to = ferry, questions = c(island, tenure, internet, season, mode))
#' ggplot2::autoplot(found)
autoplot.fairlattice_related <- function(object, most = 30L, ...) {
  nothing_else(...)
  need_package("ggplot2", tells("to_draw_figure"), environment())
  data <- as.data.frame(object)
  data <- data[data$apart == "" & !is.na(data$cramers_v), ]
  if (!nrow(data))
    stop_input(tells("nothing_draw_no_pair_measure"), "nobody",
               call = environment())
  data$sure <- ifelse(data$p_corrected <= attr(object, "alpha"), "yes", "no")
  data$sure[is.na(data$sure)] <- "no"
  if (is.null(attr(object, "to"))) related_field(data, most) else
    related_dots(data, most, object)
}

related_dots <- function(data, most, object) {
  data <- utils::head(data, most)
  label <- make.unique(wrap_words(data$title, 34L))
  data$label <- factor(label, rev(label))
  ggplot2::ggplot(data,
                  ggplot2::aes(x = .data$cramers_v, y = .data$label,
                               shape = .data$sure)) +
    ggplot2::geom_linerange(ggplot2::aes(xmin = .data$low, xmax = .data$high),
                            colour = "#7a8b91", na.rm = TRUE, linewidth = 0.8) +
    ggplot2::geom_point(colour = "#005a6e", fill = "white", size = 2.8,
                        stroke = 1) +
    # a V that chance alone would give may lie outside; V corrected does not
    ggplot2::geom_point(ggplot2::aes(x = .data$corrected), shape = "|",
                        colour = "#1c1c1c", size = 3.6, na.rm = TRUE) +
    ggplot2::scale_shape_manual(
      values = c(yes = 19, no = 21), breaks = c("yes", "no"), name = NULL,
      labels = c(words("related.sure"), words("related.unsure"))) +
    ggplot2::scale_x_continuous(limits = c(0, NA),
                                expand = ggplot2::expansion(c(0, 0.05))) +
    ggplot2::labs(title = words("related.picture",
                                to = attr(object, "to_title")), y = NULL,
                  x = words("related.axis", alpha = attr(object, "alpha"))) +
    figure_theme(NULL) +
    ggplot2::theme(panel.grid.major.y = ggplot2::element_line(
                     colour = "#ebe7e0"))
}

# Titles cut to a width; those that would be alike are cut at their beginning,
# where statements of one battery do not differ.
told_apart <- function(titles, width) {
  short <- shorten(titles, width)
  alike <- short %in% short[duplicated(short)]
  ends <- substring(titles, pmax(1L, nchar(titles) - width + 2L))
  short[alike] <- paste0("\u2026", sub("^\\S* ", "", ends[alike]))
  make.unique(short)
}

related_field <- function(data, most) {
  titles <-
    utils::head(unique(as.vector(rbind(data$title, data$with_title))), most)
  data <- data[data$title %in% titles & data$with_title %in% titles, ]
  both <- list2DF(list(a = c(data$title, data$with_title),
                       b = c(data$with_title, data$title),
                       v = rep(data$cramers_v, 2L), sure = rep(data$sure, 2L)))
  labels <- told_apart(titles, 26L)
  both$a <- factor(both$a, titles, labels)
  both$b <- factor(both$b, rev(titles), rev(labels))
  both$dark <- both$v > 0.6 * max(both$v)
  both$text <-
    ifelse(both$sure == "yes", format_number(both$v, 2L), "")
  ggplot2::ggplot(both,
                  ggplot2::aes(x = .data$a, y = .data$b, fill = .data$v)) +
    ggplot2::geom_tile(colour = "white", linewidth = 0.6) +
    ggplot2::geom_text(ggplot2::aes(label = .data$text, colour = .data$dark),
                       size = 2.9, show.legend = FALSE) +
    ggplot2::scale_colour_manual(values = c(
                                   "FALSE" = "#1c1c1c", "TRUE" = "white")) +
    ggplot2::scale_fill_gradient(low = "#f2f6f7", high = "#005a6e",
                                 limits = c(0, NA),
                                 name = words("column.cramers_v"),
                                 guide = ggplot2::guide_colourbar(
                                   barwidth = 12)) + ggplot2::coord_fixed() +
    ggplot2::labs(title = words("related.field"),
                  subtitle = words("related.field_key"), x = NULL, y = NULL) +
    figure_theme(NULL) +
    ggplot2::theme(axis.text.x = ggplot2::element_text(angle = 45, hjust = 1),
                   panel.grid = ggplot2::element_blank())
}

#' @export
picture_of.fairlattice_related <- function(x) {
  data <- as.data.frame(x)
  data <- data[data$apart == "" & !is.na(data$cramers_v), ]
  if (!nrow(data)) return(NULL)
  rows <- min(30L,
              if (is.null(attr(x, "to", exact = TRUE)))
                length(unique(c(data$title, data$with_title))) else nrow(data))
  best <- utils::head(data, 5L)
  list(plot = autoplot.fairlattice_related(x),
       width = if (is.null(attr(x, "to", exact = TRUE))) 4 + 0.3 * rows else 9,
       height = if (is.null(attr(x, "to", exact = TRUE))) 3 + 0.3 * rows else
         1.6 + 0.34 * rows,
       alt = words("related.picture_alt",
                   best = sprintf("%s, V = %s", best$title,
                                  format_strength(best$cramers_v))))
}

#' @rdname autoplot.fairlattice_related
#' @export
plot.fairlattice_related <- function(x, most = 30L, ...) {
  drawn <- autoplot.fairlattice_related(x, most, ...)
  print(drawn)
  invisible(drawn)
}
