# A sheet that calculates: counts are typed in (and, under a design, the design
# effects), everything else is formulas on them; beside each stand our own
# figure and the difference. Change one count and everything moves.

# The sheets of every layer of a table; of one that has none it is said why.
workbook_live <- function(x, b) {
  unlist(lapply(single_tables(x), function(table) {
    lapply(seq_along(table$layers), function(k) {
      why <- no_live_reason(table, k)
      if (is.null(why)) return(live_sheet(table, k, b))
      rlang::inform(words("no_live", title = live_title(table, k),
                          reason = why), class = "fairlattice_message")
      NULL
    })
  }), recursive = FALSE)
}

no_live_reason <- function(x, k) {
  if (!has(x, "across")) return(words("no_live_alone"))
  if (!has(x, "records")) return(words("no_live_stored"))
  if (!has(x, "answers")) return(words("no_live_number"))
  if (!has(x, "adds_up")) return(words("no_live_ticks"))
  why <- no_test_reason(x$layers[[k]])
  if (!is.null(why)) in_words(why)
}

live_title <- function(x, k) {
  each <- x$layers[[k]]$each
  full_title(list(title = title_shown(x),
                  layer = if (!is.na(each))
                    words("layer_title", each = facts_of(x)$each$label,
                          answer = each)))
}

live_sheet <- function(x, k, b) {
  title <- live_title(x, k)
  name <- sheet_name(paste(words("workbook.live"), title), b)
  layer <- x$layers[[k]]
  e <- layer$estimate
  drawn <- counts_were_drawn(e)
  size <- dim(e$P)
  # the place of everything on the sheet
  s <- list(b = b, name = name, size = size, labels = dimnames(e$P),
            ours = size[2L] + 4L, off = 2L * size[2L] + 6L,
            at = new.env(parent = emptyenv()))
  put_title(b, name, paste0(words("workbook.live"), ": ", title))
  put_lines(b, name, words("live_about", weighted = !drawn), 2L,
            c(30, rep(12, 2L * size[2L] + 3L)))
  s$at$row <- 4L
  whole <- function(values) {
    matrix(values, nrow(layer$n))[e$rows, e$columns, drop = FALSE]
  }
  live_observed(s,
                if (is_weighted(x)) whole(layer$weighted) else whole(layer$n),
                layer$base, is_weighted(x))
  for (percent in c("column", "row", "total")) {
    live_block(s, words(paste0("figure.", percent)),
               sprintf("100*{count}/{%s}", percent),
               100 * whole(shares_of(x, percent)[[k]]$share), "0.0")
  }
  cells <- residuals_of(x)[[k]]
  live_block(s, words("figure.expected"), "{n}*{column}*{row}/{total}^2",
             whole(cells$expected), "#,##0.00", "expected")
  live_block(s, words("figure.residual"), "{n}*{count}/{total}-{expected}",
             whole(cells$residual), "0.00", "residual")
  live_block(s, words("figure.pearson"), "{residual}/SQRT({expected})",
             whole(cells$pearson_residual), "0.00", "pearson")
  effects <- residual_design_effects(e)
  if (!drawn) live_typed(s, words("live_effects"), effects, "effect")
  live_block(s, words("figure.adjusted"),
             paste0("{pearson}/SQRT((1-{column}/{total})*(1-{row}/{total}))",
                    if (!drawn) "/SQRT({effect})"),
             whole(cells$adjusted_residual), "0.00",
             where = if (!drawn) !is.na(effects))
  live_block(s, words("figure.contribution"), "{pearson}^2",
             whole(cells$contribution), "0.00", "contribution")
  live_figures(s, x, k, e)
  columns <- c(30, rep(12, 2L * size[2L] + size[2L] + 6L))
  column_widths(b, name, columns)
  freeze_before(b, name, 4L, 2L)
  set_page(b, name, c(1L, s$at$row), s$off + size[2L], c(1L, 2L))
  flush_looks(b, name)
  list(name = name, title = paste0(words("workbook.live"), ": ", title))
}

cell_at <- function(row, column, fixed = "") {
  paste0(fixed, column_letters(column), fixed, row)
}
range_at <- function(rows, columns) {
  paste0(cell_at(rows[1L], columns[1L]), ":",
         cell_at(rows[length(rows)], columns[length(columns)]))
}

# The heading of a block with the labels of its columns, three times: the
# formulas, ours, the difference.
live_heading <- function(s, title, compared = TRUE) {
  row <- s$at$row
  write <- function(value, column, row) {
    put_cells(s$b, s$name, value, column, row)
  }
  write(visible(sentence_case(title)), 1L, row)
  starts <- c(2L, if (compared) c(s$ours, s$off))
  if (compared) {
    write(words("live_ours"), s$ours, row)
    write(words("live_difference"), s$off, row)
  }
  put_style(s$b, s$name, list(bold = TRUE), row, c(1L, starts))
  for (start in starts) {
    write(t(visible(s$labels[[2L]])), start, row + 1L)
    put_style(s$b, s$name,
              list(bold = TRUE, side = "right", wrap = TRUE, bottom = "head"),
              row + 1L, start + seq_len(s$size[2L]) - 1L)
  }
  write(visible(s$labels[[1L]]), 1L, row + 2L)
  row + 2L
}

live_numbers <- function(s, values, row, column, format, fill = NULL) {
  values <- as.matrix(values)
  put_cells(s$b, s$name, unname(values), column, row)
  put_style(s$b, s$name, list(format = format, side = "right", fill = fill),
            row + seq_len(nrow(values)) - 1L,
            column + seq_len(ncol(values)) - 1L)
}

live_formula <- function(s, formula, row, column, format) {
  put_formulas(s$b, s$name, formula, column, row)
  put_style(s$b, s$name, list(format = format, side = "right"),
            row + seq_along(formula) - 1L, column)
}

# The counts, typed in, with their totals as formulas; and of weighted ones the
# number of respondents.
live_observed <- function(s, counts, base, weighted) {
  r <- s$size[1L]
  n_across <- s$size[2L]
  first <- live_heading(s,
                        words(if (weighted) "live_weighted" else "live_counts"),
                        compared = FALSE)
  rows <- first + seq_len(r) - 1L
  columns <- 1L + seq_len(n_across)
  format <- if (weighted) "#,##0.00" else "#,##0"
  live_numbers(s, counts, first, 2L, format, "typed")
  live_formula(s,
               sprintf("SUM(%s)",
                       vapply(rows, function(row) range_at(row, columns), "")),
               first, n_across + 2L, format)
  for (column in c(columns, n_across + 2L)) live_formula(
    s, sprintf("SUM(%s)", range_at(rows, column)), first + r, column, format)
  put_cells(s$b, s$name, words("line.total"), n_across + 2L, first - 1L)
  put_cells(s$b, s$name, words("line.total"), 1L, first + r)
  put_style(s$b, s$name, list(bold = TRUE, side = "right", bottom = "head"),
            first - 1L, n_across + 2L)
  s$at$rows <- rows
  s$at$columns <- columns
  s$at$total <- cell_at(first + r, n_across + 2L, "$")
  s$at$row <- first + r + 1L
  if (!weighted) {
    s$at$n <- s$at$total
  } else {
    put_cells(s$b, s$name, words("line.respondents"), 1L, s$at$row)
    live_numbers(s, base$n, s$at$row, 2L, "#,##0", "typed")
    s$at$n <- cell_at(s$at$row, 2L, "$")
    s$at$row <- s$at$row + 1L
  }
  s$at$row <- s$at$row + 1L
}

# A block of formulas, in which {count} is the count, {column}, {row} and
# {total} are its totals, {n} the respondents, and any other name the cell of a
# block before.
live_block <- function(s, title, formula, ours, format, name = NULL,
                       where = NULL) {
  first <- live_heading(s, title)
  i <- as.vector(row(ours))
  j <- as.vector(col(ours))
  cells <- list(count = cell_at(s$at$rows[i], s$at$columns[j]),
                column = cell_at(s$at$rows[s$size[1L]] + 1L, s$at$columns[j]),
                row = cell_at(s$at$rows[i], s$size[2L] + 2L),
                total = s$at$total, n = s$at$n)
  for (other in intersect(ls(s$at),
                          c("expected", "residual", "pearson", "effect"))) {
                            cells[[other]] <-
                              cell_at(s$at[[other]] + i - 1L, j + 1L)
                          }
  pieces <- strsplit(gsub("[{}]", "\r", formula), "\r", fixed = TRUE)[[1L]]
  named <- seq_along(pieces) %% 2L == 0L
  text <- matrix(do.call(paste0,
                         c(ifelse(named, cells[pieces], pieces),
                           recycle0 = TRUE)), nrow(ours))
  there <- if (is.null(where)) array(TRUE, dim(ours)) else where
  for (column in seq_len(ncol(ours))) {
    for (rows in runs_of(which(there[, column]))) {
      live_formula(s, text[rows, column], first + rows[1L] - 1L, column + 1L,
                   format)
      live_formula(s,
                   sprintf("%s-%s", cell_at(first + rows - 1L, column + 1L),
                           cell_at(first + rows - 1L, s$ours + column - 1L)),
                   first + rows[1L] - 1L, s$off + column - 1L, "0.0E+00")
    }
  }
  live_numbers(s, ours, first, s$ours, format)
  if (!is.null(name)) s$at[[name]] <- first
  s$at$row <- first + nrow(ours) + 1L
}

runs_of <- function(at) {
  unname(split(at, cumsum(c(1L, diff(at) != 1L))[seq_along(at)]))
}

# Figures that are typed in, since they come from the sample design.
live_typed <- function(s, title, values, name) {
  first <- live_heading(s, title, compared = FALSE)
  live_numbers(s, values, first, 2L, "0.0000", "typed")
  s$at[[name]] <- first
  s$at$row <- first + nrow(values) + 1L
}

# The statistic, its degrees of freedom and p, and the strength: a line each.
# `s$line` writes a line and remembers where it stands, `s$value_of` is the cell
# of its value.
live_figures <- function(s, x, k, e) {
  tests <- tests_of(x)[[k]]
  test_figure <- function(test, what) {
    row <- Find(function(row) row$test == test, tests)
    if (is.null(row)) NA_real_ else row[[what]]
  }
  live_figures_head(s)
  where <- new.env(parent = emptyenv())
  s$value_of <- function(name) cell_at(where[[name]], 2L)
  s$line <- function(name, ...) where[[name]] <- live_line(s, ...)
  block <- range_at(s$at$rows, s$at$columns)
  contributions <-
    range_at(s$at$contribution + seq_len(s$size[1L]) - 1L, s$at$columns)
  s$line("statistic", name_of("test", "pearson"),
         sprintf("SUM(%s)", contributions), test_figure("pearson", "statistic"))
  s$line("df", "df", sprintf("(ROWS(%1$s)-1)*(COLUMNS(%1$s)-1)", block),
         test_figure("pearson", "df"), "0")
  live_p(s, e, test_figure)
  live_strength(s, x, k, block)
}

live_figures_head <- function(s) {
  put_cells(s$b, s$name,
            t(c(words("live_figures"), words("live_formula"),
                words("live_ours"), words("live_difference"))), 1L, s$at$row)
  put_style(s$b, s$name, list(bold = TRUE, bottom = "head", side = "right"),
            s$at$row, 2:4)
  put_style(s$b, s$name, list(bold = TRUE, bottom = "head"), s$at$row, 1L)
}

# One line: a number as it is, or a formula with our own figure and the
# difference beside it; its row.
live_line <- function(s, label, value, ours = NA_real_, format = "0.0000") {
  s$at$row <- s$at$row + 1L
  row <- s$at$row
  put_cells(s$b, s$name, visible(label), 1L, row)
  if (is.numeric(value)) {
    live_numbers(s, value, row, 2L, format, "typed")
    return(row)
  }
  live_formula(s, value, row, 2L, format)
  if (!is.na(ours)) {
    live_numbers(s, ours, row, 3L, format)
    live_formula(s, sprintf("%s-%s", cell_at(row, 2L), cell_at(row, 3L)), row,
                 4L, "0.0E+00")
  }
  row
}

# Cramer's V, and lambda in both directions.
live_strength <- function(s, x, k, block) {
  measure <- function(name, explains) {
    row <- Find(function(row) row$measure == name && row$explains == explains,
                strength_of(x, "all")[[k]])
    if (is.null(row)) NA_real_ else row$estimate
  }
  s$line("v", name_of("measure", "cramers_v"),
         sprintf("SQRT(%s/(%s*(MIN(ROWS(%3$s),COLUMNS(%3$s))-1)))",
                 s$value_of("statistic"), s$at$n, block),
         measure("cramers_v", "both"))
  total_row <- s$at$rows[s$size[1L]] + 1L
  sums <- list(across = range_at(s$at$rows, s$size[2L] + 2L),
               down = range_at(total_row, s$at$columns))
  parts <- list(across = vapply(s$at$columns, range_at, "",
                                rows = s$at$rows),
                down = vapply(s$at$rows, range_at, "",
                              columns = s$at$columns))
  facts <- facts_of(x)
  for (explains in c("across", "down")) {
    label <- sprintf("%s (%s)", name_of("measure", "lambda"),
                     words("explaining", explaining = facts[[explains]]$label,
                           explained = facts[[other_side[[explains]]]]$label))
    formula <- sprintf("IF(%2$s=MAX(%1$s),0,(%3$s-MAX(%1$s))/(%2$s-MAX(%1$s)))",
                       sums[[explains]], s$at$total,
                       paste0("MAX(", parts[[explains]], ")", collapse = "+"))
    s$line(paste0("lambda_", explains), label, formula,
           measure("lambda", explains))
  }
}

# The p-value: of chi-square, or under a design of F with the design effects
# typed in. F's is written by the beta function, since spreadsheets take the
# whole part of its degrees of freedom.
live_p <- function(s, e, test_figure) {
  p_line <- function(test, formula, ...) {
    cells <- vapply(c(...), s$value_of, "")
    s$line("p", "p", do.call(sprintf, c(formula, as.list(unname(cells)))),
           test_figure(test, "p"), "0.000000")
  }
  ratio <- function(x, y) sprintf("%s/%s", s$value_of(x), s$value_of(y))
  if (counts_were_drawn(e))
    return(p_line("pearson", "CHIDIST(%s,%s)", "statistic", "df"))
  effect <- e$effect
  if (!is.null(effect$why)) return(invisible())
  if (!effect$second) {
    s$line("mean", words("live_mean_effect"), effect$mean)
    s$line("first", name_of("test", "rao_scott_first"),
           ratio("statistic", "mean"),
           test_figure("rao_scott_first", "statistic"))
    return(p_line("rao_scott_first", "CHIDIST(%s,%s)", "first", "df"))
  }
  s$line("sum", words("live_sum_effects"), effect$sum)
  s$line("f_df", words("live_f_df"), effect$df_corrected)
  s$line("f_error", words("live_f_error"), effect$df_error)
  s$line("f", sprintf("F (%s)", name_of("test", "rao_scott_corrected")),
         ratio("statistic", "sum"),
         test_figure("rao_scott_corrected", "statistic"))
  p_line("rao_scott_corrected",
         "BETADIST(%2$s/(%2$s+%1$s*%3$s),%2$s/2,%1$s/2)", "f_df", "f_error",
         "f")
}
