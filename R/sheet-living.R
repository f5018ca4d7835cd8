# What a living page knows of a table beside its sheet: every figure of every
# cell, so that a reader may ask for another one, turn the table and read how a
# cell comes about. The page works nothing out; it shows these.

# One an answer of `each`: the question down, and a block a question across.
# NULL where cells are guarded or hidden, or have no residuals (one-way tables,
# means).
#   down, label   the answers and nets down, and their question; `nets` how many of
#                 them, at the end, are nets
#   ci            how the page writes their intervals
#   base          what the percentages are of, "column", "row" or "total"; `weighted`
#                 whether there are weights
#   order         the places of those that are shown, in the order of the sheet
#   blocks        each with `label`, `across`, `nets`, `order`, `n`, and `figures`,
#                 matrices with everybody in the last
#                 row and column
#   whole         of a banner, the figures of everybody: one column
living_models <- function(x) {
  tables <- single_tables(x)
  banner <- inherits(x, "fairlattice_banner")
  # what is left out is not to be found under another base
  layout <- utils::modifyList(usual_layout(), as.list(x$layout))
  hides <- layout$hide_under > 0 || any(lengths(rules_asked(layout)) > 1L)
  lively <- !guards(x$layout) && !hides && is.null(layout$only) &&
            (!banner || length(x$tables) == 1L) &&
            all(vapply(tables, has, NA, "across", "answers"))
  if (!lively) return(NULL)
  each <- lapply(tables, function(table) {
    vapply(table$layers, function(layer) layer$each, "")
  })
  lapply(unique(unlist(each)), function(answer) {
    blocks <- Map(function(table, own) {
      k <- match(answer, own)
      if (!is.na(k))
        living_block(replace(table, "layout", list(as.list(x$layout))), k)
    }, tables, each)
    blocks <- unname(Filter(Negate(is.null), blocks))
    first <- blocks[[1L]]
    choices <- tables[[1L]]$choices
    model <- c(first$down,
               list(base = choices$percent,
                    ci = words("page.ci", alpha = choices$alpha),
                    weighted = is_weighted(tables[[1L]]),
                    blocks = lapply(blocks, function(block) {
                      block[names(block) != "down"]
                    })))
    if (banner) model$whole <- living_whole(x$totals[[1L]], answer)
    model
  })
}

living_block <- function(x, k) {
  parts <- net_parts(x, k)
  layout <- layout_of(x)
  facts <- facts_of(x)
  side <- function(side) {
    layer <- parts$core$layers[[1L]]
    answers <- if (side == "down") answers_down(layer) else
      answers_across(layer)
    lines <- side_lines(x, k, parts, side, replace(layout, "shorten", list(NULL)),
                        figures_of(x, k, parts, layout))
    nets <- length(if (side == "down") parts$down else parts$across)
    labels <- character(length(answers) + nets)
    labels[lines$at] <- sub("^\u2002", "",
                            paste0(ifelse(
                                     nzchar(lines$heading),
                                     paste0(lines$heading, ", "), ""),
                                   lines$label))
    list(label = facts[[side]]$label, answers = I(labels), nets = nets,
         order = I(lines$at), ticks = facts[[side]]$ticks)
  }
  ends <- function(percent, end) {
    100 *
      rbind(cbind(over_parts(parts, function(x) {
        shares_of(x, percent)[[1L]][[end]]
      }), NA), NA)
  }
  figures <- lapply(c("column", "row", "total"), function(percent) {
    percent_grid(parts, percent)
  })
  names(figures) <- c("column", "row", "total")
  for (percent in names(figures)) for (end in c("low", "high"))
    figures[[paste0(percent, "_", end)]] <- ends(percent, end)
  figures$n <- sum_grid(parts, "n")
  figures$weighted <- sum_grid(parts, "weighted")
  for (name in c("expected", "adjusted_residual", "p_corrected",
                 "contribution")) figures[[name]] <- residual_grid(parts, name)
  marks <- residual_grid(parts, "mark")
  figures$mark <-
    matrix(match(marks, c("fewer", "", "more"), 2L) - 2, nrow(marks))
  c(list(down = side("down")), side("across"),
    list(n = parts$core$layers[[1L]]$base$n, figures = figures))
}

# Everybody who answered the question down, whatever they answered across.
living_whole <- function(x, answer) {
  k <- match(answer, vapply(x$layers, function(layer) layer$each, ""))
  if (is.na(k)) return(NULL)
  parts <- net_parts(x, k)
  one <- function(grid) grid[, 1L, drop = FALSE]
  list(n = one(sum_grid(parts, "n")),
       weighted = one(sum_grid(parts, "weighted")),
       column = one(percent_grid(parts, "column")))
}
