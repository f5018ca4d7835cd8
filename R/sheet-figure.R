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
#   finding, map         functions that give the finding in a sentence, and the
#                        coordinates of map_of(), by panel
figure_data <- function(x) {
  if (inherits(x, "fairlattice_banner")) return(banner_figure_data(x))
  facts <- facts_of(x)
  several <- !is.null(facts$each)
  panels <- if (several) vapply(x$layers, function(layer) layer$each, "") else
    ""
  notes <- vapply(seq_along(x$layers), function(k) panel_note(x, k), "")
  layout <- layout_of(x)
  lines <- lapply(c(down = "down", across = "across"), lines_drawn, x = x,
                  layout = layout)
  c(facts[c("down", "across", "each")],
    list(title = title_shown(x), style = x$layout$style,
         statements = has(x, "statements"), percent = x$choices$percent, alpha = x$choices$alpha,
         counts = if (length(x$layout$show) &&
                        all(x$layout$show %in% c("n", "weighted")))
           x$layout$show[1L], layers = length(x$layers),
         cells = cells_drawn(x, lines), hide_under = layout$hide_under,
         margins = Map(function(side, lines) {
           margin <- margin_frame(x, side)
           margin$category <- relabelled(margin$category, lines)
           margin
         }, c(down = "down", across = "across"), lines),
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

# The answers (and nets, of a table that is cut down) of a side as the table shows
# them, in their order, named by what they are called there. Ordered answers that
# are pieces of bars stay in theirs.
lines_drawn <- function(x, side, layout) {
  x <- unclass(x)
  bars <- if (x$choices$percent == "row") "down" else "across"
  if (side != bars && isTRUE(facts_of(x)[[side]]$ordered)) layout$sort <- "asked"
  layout["shorten"] <- list(NULL)
  of_layers <- lapply(seq_along(x$layers), function(k) {
    parts <- net_parts(x, k)
    lines <- side_lines(x, k, parts, side, layout, figures_of(x, k, parts, layout))
    own <- lines$role == "answer" | lines$role == "net" & cut_down(layout) &
      side == listed_side(x)
    layer <- parts$core$layers[[1L]]
    names <- c(if (side == "down") answers_down(layer) else answers_across(layer),
               names(nets_in(x, side)))
    stats::setNames(trimws(gsub("\u2002", "", lines$label[own])), names[lines$at[own]])
  })
  all <- unlist(of_layers)
  all[!duplicated(names(all))]
}

relabelled <- function(names, lines) {
  ifelse(names %in% names(lines), unname(lines[names]), names)
}

# The cells that are drawn: those of the lines that the table shows.
cells_drawn <- function(x, lines) {
  cells <- cells_frame(x)
  side <- listed_side(x)
  nets <- setdiff(names(lines[[side]]), cells[[side]])
  if (length(nets)) {
    sums <- sums_frame(x)
    other <- other_side[[side]]
    own <- sums[[side]] %in% nets & sums[[paste0(side, "_net")]] &
      !sums[[paste0(other, "_net")]]
    cells <- bind_frames(list(cells, sums[own, names(cells)]))
  }
  panels <- unique(cells$each)
  at <- lapply(lines, names)
  cells <- cells[cells$down %in% at$down & cells$across %in% at$across, ]
  cells <- cells[order(match(cells$each, panels), match(cells$across, at$across),
                       match(cells$down, at$down)), ]
  cells$down <- relabelled(cells$down, lines$down)
  cells$across <- relabelled(cells$across, lines$across)
  rownames(cells) <- NULL
  cells
}

banner_figure_data <- function(x) {
  tables <- lapply(tables_in(x), function(table) {
    replace(table, "layout", list(utils::modifyList(as.list(x$layout), list(title = NULL))))
  })
  if (is_list_of_questions(x)) return(list_figure_data(x, tables))
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
  named <- function(k, each) panel_named(panels[k], each)
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

# A list of questions, one line each: the questions are what answers are
# otherwise, and like ticks they do not add up.
list_figure_data <- function(x, tables) {
  of <- lapply(tables, figure_data)
  rows <- rep(seq_along(x$tables), vapply(x$tables, function(row) {
    length(Filter(Negate(is.null), row))
  }, 0L))
  across <- vapply(of, function(f) f$across$label, "")
  several <- length(unique(across)) > 1L
  cells <- bind_frames(lapply(seq_along(of), function(k) {
    own <- of[[k]]$cells
    own$down <- rep(lines_titled(x)[rows[k]], nrow(own))
    if (several) own$each <- panel_named(rep(across[k], nrow(own)), own$each)
    own
  }))
  sheet <- sheets_of(x)[[1L]]
  order <- sheet$stub$label[sheet$stub$role != "base"]
  cells <- cells[order(match(cells$each, unique(cells$each)),
                       match(cells$across, unique(cells$across)),
                       match(cells$down, order)), ]
  f <- of[[1L]]
  f$cells <- cells
  f$down[c("label", "ticks", "ordered")] <- list(down_titled(x), TRUE, FALSE)
  f["each"] <- list(if (several) list(label = paste(unique(across), collapse = ", ")) else
    f$each)
  # the bases of the questions differ
  f$margins <- lapply(f$margins, function(margin) replace(margin, "n", list(NA_real_)))
  f[c("title", "style", "layers", "shown")] <-
    list(title_shown(x), x$layout$style, length(unique(cells$each)),
         list_line(tables[[1L]], layout_of(tables[[1L]])))
  f$n <- max(vapply(of, `[[`, 0, "n"))
  f["caption"] <- list(NULL)
  f["notes"] <- list(NULL)
  f$finding <- function() character()
  f
}

panel_named <- function(panel, each) {
  ifelse(is.na(each) | !nzchar(each), panel, paste0(panel, ", ", each))
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
  strength <- if (asked("strength") && has(x, "pair"))
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
  v <- if (has(x, "pair")) cramers_v_in(x)[[k]]
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
