# The figures that a cell of a table may hold, over all its lines: answers, nets
# and, last, everybody.

# `kind` says how it is written (R/sheet-sheet.R); `of` gives the figure as a
# matrix, or of an interval two: value and high.
cell_figures <- list(
  column = list(kind = "percent", of = function(parts, layout, ...) {
    percent_grid(parts, "column", rounding_of(layout))
  }),
  row = list(kind = "percent", of = function(parts, layout, ...) {
    percent_grid(parts, "row", rounding_of(layout))
  }),
  total = list(kind = "percent", of = function(parts, layout, ...) {
    percent_grid(parts, "total", rounding_of(layout))
  }),
  n = list(kind = "count", of = function(parts, layout, ...) {
    sum_grid(parts, "n", rounding_of(layout))
  }),
  weighted = list(kind = "weighted", of = function(parts, layout, ...) {
    sum_grid(parts, "weighted", rounding_of(layout))
  }),
  cumulative = list(kind = "percent", of = function(parts, layout, ...) {
    cumulative_grid(parts, rounding_of(layout))
  }),
  index = list(kind = "index", of = function(parts, layout, ...) {
    index_grid(parts, layout$percent, rounding_of(layout))
  }),
  estimated_total = list(kind = "estimated", of = function(parts, layout, ...) {
    sum_grid(parts, "weighted") / unit_sizes[[layout$unit]]
  }),
  interval = list(kind = "interval", of = function(parts, layout, x, k) {
    everybody <- net_parts(x, k, everybody = TRUE)
    end <- function(which) precision_grid(everybody, layout, which)
    list(value = end("low"), high = end("high"),
         kind = if (of_totals(layout)) "estimated_interval" else "interval")
  }),
  se = list(kind = "se", of = function(parts, layout, x, k) {
    list(value = precision_grid(net_parts(x, k, everybody = TRUE), layout, "se"),
         kind = if (of_totals(layout)) "estimated" else "se")
  }),
  cv = list(kind = "cv", of = function(parts, layout, x, k) {
    precision_grid(net_parts(x, k, everybody = TRUE), layout, "cv")
  }),
  deff = list(kind = "deff", of = function(parts, layout, x, k) {
    precision_grid(net_parts(x, k, everybody = TRUE), layout, "deff")
  }),
  missing_information = list(kind = "missing_information", of = function(parts, layout, x, k) {
    precision_grid(net_parts(x, k, everybody = TRUE), layout, "missing_information")
  }),
  given = list(kind = "percent", of = function(parts, ...) given_grid(parts)),
  difference = list(kind = "change", of = function(parts, layout, ...) {
    100 * difference_grid(parts, layout, "difference")
  }),
  difference_interval = list(kind = "change_interval",
                             of = function(parts, layout, ...) {
                               list(value = 100 *
                                      difference_grid(parts, layout, "low"),
                                    high = 100 *
                                      difference_grid(parts, layout, "high"))
                             }),
  expected = list(kind = "expected", of = function(parts, ...) {
    residual_grid(parts, "expected")
  }),
  residual = list(kind = "expected", of = function(parts, ...) {
    residual_grid(parts, "residual")
  }),
  pearson = list(kind = "number", of = function(parts, ...) {
    residual_grid(parts, "pearson_residual")
  }),
  adjusted = list(kind = "number", of = function(parts, ...) {
    residual_grid(parts, "adjusted_residual")
  }),
  contribution = list(kind = "number", of = function(parts, ...) {
    residual_grid(parts, "contribution")
  })
)

percent_figures <- c("column", "row", "total")

# The figures that are of counts alone, which can be rounded.
rounded_figures <- c(percent_figures, "n", "weighted", "cumulative", "index")

# To what counts are rounded, by which seed; NULL where they are not.
rounding_of <- function(layout) {
  if (layout$round_to > 1)
    list(to = layout$round_to, seed = layout$round_seed %||% 1)
}

# Sums, with those of everybody in the last row and column.
sum_grid <- function(parts, what, rounding = NULL) {
  if (!is.null(rounding))
    return(once(parts$core$kept, paste("rounded", what), rounding,
                rounded_grid(parts, what, rounding)))
  core <- over_parts(parts, function(x) x$layers[[1L]][[what]])
  rbind(cbind(core, margin_over_parts(parts, "down", what)),
        c(margin_over_parts(parts, "across", what),
          parts$core$layers[[1L]]$base[[what]]))
}

# Sums rounded so that answers add up to their totals, and nets are the sums of
# their parts. Items of ticks, which do not add up, are rounded one by one.
rounded_grid <- function(parts, what, rounding) {
  sums <- sum_grid(parts, what)
  if (!has(parts$core, "adds_up")) return(each_rounded(sums, rounding$to, rounding$seed))
  core <- parts$core$layers[[1L]]
  answers <- list(down = answers_down(core), across = answers_across(core))
  at <- dim(sums)
  keep <- list(c(seq_along(answers$down), at[1L]),
               c(seq_along(answers$across), at[2L]))
  rounded <- rounded_to(sums[keep[[1L]], keep[[2L]]], rounding$to,
                        rounding$seed)
  # lines as sums of answers: a net of its parts, everybody of all
  taken <- function(side) {
    nets <- lapply(nets_in(parts$core, side), function(net) {
      as.numeric(answers[[side]] %in% net)
    })
    rbind(diag(length(answers[[side]])), do.call(rbind, nets), 1)
  }
  taken("down") %*%
    rounded[seq_along(answers$down), seq_along(answers$across), drop = FALSE] %*%
    t(taken("across"))
}

# Bases of both sides' lines: answers, nets, everybody.
bases_of <- function(x, parts, bases, rounding = NULL) {
  if (!is.null(rounding)) return(rounded_bases(parts, bases, rounding))
  base <- parts$core$layers[[1L]]$base
  bases_along <- function(what) {
    lapply(c(down = "down", across = "across"), function(side) {
      if (what != "effective")
        return(c(margin_over_parts(parts, side, what), base[[what]]))
      weighted <- margin_over_parts(parts, side, "weighted")
      c(weighted^2 / margin_over_parts(parts, side, "squared"), base$effective)
    })
  }
  stats::setNames(lapply(bases, bases_along), bases)
}

# The bases of both sides, as the last line of the rounded sums; an effective
# base, which is no sum, by itself.
rounded_bases <- function(parts, bases, rounding) {
  rounded_base <- function(what) {
    if (what == "effective")
      return(lapply(bases_of(parts$core, parts, what)[[1L]], each_rounded,
                    base = rounding$to, seed = rounding$seed))
    sums <- sum_grid(parts, what, rounding)
    list(down = sums[, ncol(sums)], across = sums[nrow(sums), ])
  }
  stats::setNames(lapply(bases, rounded_base), bases)
}

# Percentages: those of everybody are of the margins.
percent_grid <- function(parts, percent, rounding = NULL) {
  W <- sum_grid(parts, "weighted", rounding)
  last <- dim(W)
  base <- switch(percent, column = W[rep(last[1L], last[1L]), , drop = FALSE],
                 row = W[, rep(last[2L], last[2L]), drop = FALSE],
                 total = array(W[last[1L], last[2L]], last))
  out <- W / base
  out[base <= 0] <- NA_real_
  if (is.null(rounding))
    out[-last[1L], -last[2L]] <-
      over_parts(parts, function(x) shares_of(x, percent)[[1L]]$share)
  100 * out
}

# The shares that a one-way table is held against; of a net their sum.
given_grid <- function(parts) {
  question <- facts_of(parts$core)$down
  given <- question$shares
  size <- dim(sum_grid(parts, "n"))
  if (is.null(given)) return(array(NA_real_, size))
  nets <- vapply(nets_in(parts$core, "down"), function(net) {
    sum(given[question$categories$label %in% net])
  }, 0)
  array(100 * c(given, nets, 1), size)
}

# The percentage of every column (row, of row percentages) over that of everybody,
# which is 100.
index_grid <- function(parts, percent, rounding = NULL) {
  by_row <- identical(percent, "row")
  share <- percent_grid(parts, if (by_row) "row" else "column", rounding)
  size <- dim(share)
  all <- if (by_row) share[rep(size[1L], size[1L]), , drop = FALSE] else
    share[, rep(size[2L], size[2L]), drop = FALSE]
  out <- 100 * share / all
  out[!is.finite(out)] <- NA_real_
  out
}

# Percentages of an answer and all before it; nets and everybody have none.
cumulative_grid <- function(parts, rounding = NULL) {
  shares <- percent_grid(parts, "column", rounding)
  r <- length(answers_down(parts$core$layers[[1L]]))
  out <- array(NA_real_, dim(shares))
  out[seq_len(r), ] <- apply(shares[seq_len(r), , drop = FALSE], 2L, cumsum)
  out
}

# What estimated totals are counted in.
unit_sizes <- c(units = 1, thousands = 1e3, millions = 1e6)

# The figures that say how sure another is: the percentage that is shown or,
# where there is none, the estimated total.
precision_figures <- c("interval", "se", "cv", "deff", "missing_information")

of_totals <- function(layout) {
  "estimated_total" %in% layout$show && is.na(layout$percent)
}

# How sure the figures of the cells are, from tables in which all answers of a
# side are one: the ends `low` and `high` and the `width` of their intervals,
# `se`, `cv` (in percent), `deff`, or the respondents (`base`) and `clusters`
# that they are of.
precision_grid <- function(parts, layout, what) {
  if (what == "width")
    return(precision_grid(parts, layout, "high") -
             precision_grid(parts, layout, "low"))
  if (of_totals(layout)) {
    times <- switch(what, cv = 100, deff = , base = , clusters = 1,
                    1 / unit_sizes[[layout$unit]])
    return(times * over_parts(parts, function(x) {
      layer <- x$layers[[1L]]
      switch(what, base = layer$n, clusters = layer_clusters(layer, "cell"),
             estimated_totals_of(x)[[1L]][[what]] %||%
               rep(NA_real_, length(layer$n)))
    }))
  }
  percent <- layout$percent
  out <- over_parts(parts, function(x) {
    share <- shares_of(x, percent)[[1L]]
    switch(what, clusters = layer_clusters(x$layers[[1L]], percent),
           cv = 100 * cv_of(share), deff = , base = share[[what]],
           100 * (share[[what]] %||% rep(NA_real_, length(share$share))))
  })
  # everybody is 100 % of everybody by definition, which is no estimate
  if (percent != "row")
    out[nrow(out), if (percent == "column") TRUE else ncol(out)] <- NA
  if (percent == "row") out[, ncol(out)] <- NA
  out
}

# Residuals from what is expected; everybody has none.
residual_grid <- function(parts, name) {
  found <- over_parts(parts, function(x) residuals_of(x)[[1L]][[name]])
  rbind(cbind(found, NA), NA)
}

# Marks by residuals ("more" and "fewer"), or by differences ("higher" and
# "lower").
mark_grid <- function(parts, layout) {
  marks <- switch(layout$marks, residuals = residual_grid(parts, "mark"),
                  differences = difference_grid(parts, layout, "mark"),
                  array("", dim(sum_grid(parts, "n"))))
  marks[is.na(marks)] <- ""
  marks
}

# Differences from what a column (row, of row percentages) is set against;
# everybody has none.
difference_grid <- function(parts, layout, name) {
  # the total column of a banner, which is compared with none
  if (isTRUE(layout$in_banner))
    return(array(if (name == "mark") NA_character_ else NA_real_,
                 dim(sum_grid(parts, "n"))))
  check_figured(parts$core, NULL, ticks = TRUE)
  found <- over_parts(parts, function(x) {
    layer_marks_against(x, compared_side(layout), x$choices$correction,
                        x$choices$alpha, setting("small_base"), layout$against)[[name]]
  })
  rbind(cbind(found, NA), NA)
}

# Letters of the columns that a figure exceeds; nets of columns, which share
# respondents with them, have none.
letter_grid <- function(parts, layout, before) {
  check_figured(parts$core, NULL, ticks = TRUE)
  compare <- compared_side(layout)
  if (!is.null(layout$letters_found)) {
    nets <- matrix("", nrow(layout$letters_found), length(parts$across) + 1L)
    return(rbind(cbind(layout$letters_found, nets), ""))
  }
  found <- over_parts(parts, function(x) {
    levels <- c(x$choices$alpha, layout$second_alpha)
    at_level <- lapply(levels, function(alpha) {
      pairs <- layer_differences(x, compare, x$choices$correction, alpha,
                                 setting("small_base"))
      layer_letters(x$layers[[1L]], pairs, compare, before)
    })
    if (length(levels) == 1L) at_level[[1L]] else with_capitals(at_level[[1L]], at_level[[2L]])
  })
  core <- parts$core$layers[[1L]]
  if (compare == "columns")
    found[, seq_len(ncol(found)) > ncol(core$n)] <- "" else
    found[seq_len(nrow(found)) > nrow(core$n), ] <- ""
  rbind(cbind(found, ""), "")
}

# Letters of two levels: those that hold at the stricter one are capitals.
with_capitals <- function(letters, strict) {
  mapply(function(letters, strict) {
    paste(ifelse(letters %in% strict, toupper(letters), letters), collapse = " ")
  }, strsplit(letters, " ", fixed = TRUE), strsplit(strict, " ", fixed = TRUE),
  USE.NAMES = FALSE)
}

# Row percentages are compared down the side, all others across the top.
compared_side <- function(layout) {
  if (layout$percent %in% "row") "rows" else "columns"
}

# The places of lines among so many, of which everybody is the last.
places_among <- function(lines, last) {
  at <- lines$at
  at[is.na(at)] <- last
  at
}

# A grid without some of its figures: `where` says which of the main ones, and
# of those in brackets. Their marks and letters go too.
taken_out <- function(grid, where, kind) {
  out <- function(part) {
    here <- where(part)
    part$kind[here] <- kind
    part$value[here] <- NA_real_
    part$high[here] <- NA_real_
    part
  }
  main <- c("value", "kind", "high")
  grid[main] <- out(grid[main])
  grid$inside <- lapply(grid$inside, out)
  grid$mark[grid$kind == kind] <- ""
  if (!is.null(grid$letters)) grid$letters[grid$kind == kind] <- ""
  grid
}

# The lines that columns can be sorted by: answers and nets down.
lines_named_down <- function(x) {
  if (has(x, "answers"))
    c(answers_down(x$layers[[1L]]), names(nets_in(x, "down")))
}

# The columns that lines can be sorted by: answers and nets across.
columns_named_across <- function(x) {
  if (has(x, "across"))
    c(answers_across(x$layers[[1L]]), names(nets_in(x, "across")))
}
