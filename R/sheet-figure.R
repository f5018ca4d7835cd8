# What a figure is drawn from: cells and margins as data, the questions they are
# of, and the lines that go with it.

# Of a banner the panels are its tables.
#   down, across, each   the questions, as facts_of() has them
#   cells, margins       cells_frame() and margin_frame() of both sides; `each` says the panel
#   percent, alpha       what the percentages are of; the level of their intervals
#   counts               "n" or "weighted" of a table that shows no percentages
#   layers               how many panels; `notes` what is said over each, by its name
#   n, weight            the base, and the column of weights
#   caption              the test and the strength, of a single table
#   finding, map         functions that give the finding in a sentence, and the coordinates of map_of(), by panel
figure_data <- function(x) {
  if (inherits(x, "fairlattice_banner")) return(banner_figure_data(x))
  facts <- facts_of(x)
  several <- !is.null(facts$each)
  panels <- if (several) vapply(x$layers, function(layer) layer$each, "") else
    ""
  notes <- vapply(seq_along(x$layers), function(k) panel_note(x, k), "")
  c(facts[c("down", "across", "each")],
    list(title = title_shown(x), style = x$layout$style,
         percent = x$choices$percent, alpha = x$choices$alpha,
         counts = if (length(x$layout$show) &&
                        all(x$layout$show %in% c("n", "weighted")))
           x$layout$show[1L], layers = length(x$layers), cells = cells_frame(x),
         margins = list(down = margin_frame(x, "down"),
                        across = margin_frame(x, "across")),
         n = sum(vapply(x$layers, function(layer) layer$base$n, 0)),
         weight = if (is_weighted(x)) facts$design$weight,
         notes = stats::setNames(notes, panels),
         caption = if (length(x$layers) == 1L) figure_caption(x),
         finding = function() {
           unlist(lapply(seq_along(x$layers), function(k) {
             paragraph_of(x, k, "sentence")
           }))
         }, map = function() stats::setNames(lapply(x$layers, map_of), panels)))
}

banner_figure_data <- function(x) {
  tables <- tables_in(x)
  of <- lapply(tables, figure_data)
  answers <- unique(lapply(of, function(f) f$down$categories$label))
  if (length(answers) > 1L)
    stop_input(c(tells("these_questions_different_answers_one"),
                 i = tells("draw_one_question_down_time")), "figure",
               call = NULL)
  label <- function(side) vapply(of, function(f) f[[side]]$label, "")
  several <- length(unique(label("down"))) > 1L
  panels <- if (!several) label("across") else
    if (length(unique(label("across"))) == 1L) label("down") else
      words_each("title", down = label("down"), across = label("across"))
  panels <- make.unique(panels, sep = " ")
  # a panel of a table of `each` has the name of both
  named <- function(k, each) {
    ifelse(is.na(each) | !nzchar(each), panels[k],
           paste0(panels[k], ", ", each))
  }
  bind <- function(get) {
    bind_frames(lapply(seq_along(of), function(k) {
      frame <- get(of[[k]])
      replace(frame, "each", list(named(k, frame$each)))
    }))
  }
  by_panel <- function(get) {
    do.call(c, lapply(seq_along(of), function(k) {
      own <- get(of[[k]])
      stats::setNames(own, named(k, names(own)))
    }))
  }
  f <- of[[1L]]
  f$across$label <- paste(unique(label("across")), collapse = ", ")
  f$across$ordered <- all(vapply(of, function(f) f$across$ordered, NA))
  f$down$label <- paste(unique(label("down")), collapse = ", ")
  f$each <- list(label = f$across$label)
  f[c("title", "style", "layers")] <-
    list(title_shown(x), x$layout$style, sum(vapply(of, `[[`, 0L, "layers")))
  f$cells <- bind(function(f) f$cells)
  f$margins <- list(down = bind(function(f) f$margins$down),
                    across = bind(function(f) f$margins$across))
  f$n <- max(vapply(of, `[[`, 0, "n"))
  f["caption"] <- list(NULL)
  f$notes <- by_panel(function(f) f$notes)
  f$finding <- function() unlist(lapply(of, function(f) f$finding()))
  f$map <- function() by_panel(function(f) f$map())
  f
}

words_each <- function(code, ...) {
  unname(mapply(words, ..., MoreArgs = list(.code = code)))
}

# The test and the strength of a table with one layer, as far as its lines have
# them.
figure_caption <- function(x) {
  if (!has(x, "across")) return(NULL)
  layout <- layout_of(x)
  published <- layout$dress == "published"
  asked <- function(part) part %in% layout$lines
  test <- if (asked("test")) headline_of(tests_of(x)[[1L]])
  strength <- if (asked("strength"))
    utils::head(strength_told(strength_of(x)[[1L]]), 1L)
  lines <- c(if (!is.null(test) && !is.na(test$p))
               test_figures(test, named = !published),
             if (length(strength))
               if (published) strength_in_short(strength[[1L]]) else
                 strength_figures(strength[[1L]], x))
  if (length(lines)) paste(lines, collapse = "; ")
}

# What is said of one panel among several.
panel_note <- function(x, k) {
  if (!has(x, "across")) return("")
  test <- headline_of(tests_of(x)[[k]])
  v <- cramers_v_in(x)[[k]]
  parts <- c(if (!is.null(v) && !is.na(v$estimate))
               sprintf("V = %s", format_strength(v$estimate)),
             if (!is.null(test) && !is.na(test$p)) format_p(test$p))
  paste(parts, collapse = ", ")
}

# Whether the rule for figures that are not sure enough takes any cell out, so that
# no picture is to draw it.
takes_figures_out <- function(x) {
  any(vapply(single_tables(x), function(table) {
    table$layout <- x$layout
    rules <- Filter(function(limits) length(limits) == 2L, rules_asked(as.list(x$layout)))
    if (!length(rules) || !has(table, "answers")) return(FALSE)
    any(vapply(seq_along(table$layers), function(k) {
      any(grades_of_cells(table, k, layout_of(table), rules) == 2L)
    }, NA))
  }, NA))
}
