# The sheet of a banner: the grids of its tables, bound by their columns and
# lines, with one total column.

#' @export
sheets_of.fairlattice_banner <- function(x) {
  each <- vapply(x$totals[[1L]]$layers, function(layer) layer$each, "")
  in_style(x$layout$style, lapply(each, banner_sheet, x = x))
}

tables_in <- function(x) Filter(Negate(is.null), unlist(x$tables, recursive = FALSE))

# The tables of two questions that it is made of.
single_tables <- function(x) if (inherits(x, "fairlattice_banner")) tables_in(x) else list(x)

banner_sheet <- function(x, each) {
  first <- tables_in(x)[[1L]]
  facts <- facts_of(first)
  laid <- function(table) if (!is.null(table)) replace(table, "layout", list(x$layout))
  # all blocks have the bases that any of them needs
  bases <- lapply(tables_in(x), function(table) layout_of(laid(table))$bases)
  x$layout <- as.list(x$layout)
  x$layout["bases"] <- list(bases[[which.max(lengths(bases))]])
  if (all_alone(x)) # what each of them shows by itself
    x$layout$show <- x$layout$show %||%
      Reduce(intersect, lapply(tables_in(x), function(table) layout_of(table)$show))
  layout <- layout_of(laid(first))
  # a number down, the first, may have none
  layout$marks <- if (layout$round_to > 1) "none" else marks_asked(as.list(x$layout))
  layout$overlap <- !is.null(x$columns)
  rows <- Map(function(tables, total, columns) {
    layout["columns"] <- list(columns)
    banner_row(lapply(tables, laid), laid(total), each, layout)
  }, x$tables, x$totals, x$columns %||% vector("list", length(x$tables)))
  of_rows <- lapply(rows, `[[`, "grids")
  grids <- lapply(of_rows, function(own) bind_beside(filled_in(own, of_rows)))
  down <- lines_titled(x)
  listed <- cut_down(layout) && length(grids) > 1L && all(vapply(grids, has_one_line, NA))
  grid <- if (length(rows) == 1L) grids[[1L]] else
    if (listed) bind_listed(grids, down, layout, all_alone(x)) else bind_below(grids, down)
  c(list(title = numbered(layout$title %||% title_of_table(x), layout$number),
         number = layout$number, each = each,
         layer = if (!is.na(each))
           words("layer_title", each = facts$each$label, answer = each),
         subtitle = layout$subtitle %||%
                    c(banner_base_line(first, layout, listed),
                      all_in_words(facts$among)),
         corner = if (length(down) == 1L) down else ""),
    without_empty(grid[names(grid) != "key"]), look_of(layout),
    banner_lines(rows, layout, x$skipped, grid$key, listed))
}

cut_down <- function(layout) !is.null(layout$only)

# Whether one line is left of every one of several questions.
is_list_of_questions <- function(x) {
  cut_down(x$layout) && length(x$tables) > 1L && all(vapply(x$tables, function(row) {
    table <- Filter(Negate(is.null), row)[[1L]]
    only <- x$layout$only
    nets <- names(nets_in(table, "down"))
    shown <- sum(answers_down(table$layers[[1L]]) %in% only) +
      sum(nets %in% only | "nets" %in% only)
    has(table, "answers") && shown == 1L && !"means" %in% only
  }, NA))
}

has_one_line <- function(grid) sum(grid$stub$role != "base") == 1L

# One-way tables below each other: there is no question across, and no total
# column beside them.
all_alone <- function(x) !any(vapply(tables_in(x), has, NA, "across"))

# "Heating by Island", of a banner with all its questions.
title_of_table <- function(x) {
  if (!inherits(x, "fairlattice_banner")) return(table_title(x))
  if (all_alone(x)) return(down_titled(x))
  across <- unique(vapply(tables_in(x), function(table) facts_of(table)$across$label, ""))
  words("title", down = down_titled(x), across = paste(across, collapse = ", "))
}

# What the questions down are called under that title.
lines_titled <- function(x) {
  titles <- vapply(x$totals, table_title, "")
  if (length(titles) > 1L) shared_beginning(titles)$rest else titles
}

# The questions down, in a title: by the beginning that they share, or the first of
# them.
down_titled <- function(x) {
  titles <- vapply(x$totals, table_title, "")
  start <- if (length(titles) > 1L) shared_beginning(titles)$start else ""
  x$down %||% if (nzchar(start)) start else list_some(titles, 3L)
}

# The title that was asked for, or else what the table is of.
title_shown <- function(x) x$layout$title %||% title_of_table(x)

# What the percentages are of; the questions stand over their columns.
# A list of questions says in the first place what of each it shows.
banner_base_line <- function(table, layout, listed = FALSE) {
  if (listed) {
    line <- if (identical(layout$only, "means")) weighted_line(list_line(table, layout), table) else
      words("list_line", shown = list_line(table, layout),
            line = banner_base_line(table, layout))
    return(line)
  }
  if (!has(table, "across")) return(base_line(table, layout))
  weighted_line(words(paste0("banner_base.", layout$percent %|NA|% "none")), table)
}

weighted_line <- function(line, table) {
  if (is_weighted(table))
    line <- words("weighted_by", text = line, weight = facts_of(table)$design$weight)
  over_imputations(line, table)
}

# The tables of one question down, beside each other: the grid of each and of
# everybody (NULL where there is no table), and which layer of which table they
# are of.
banner_row <- function(tables, total, each, layout) {
  block <- function(table) {
    k <- if (!is.null(table))
      match(each, vapply(table$layers, function(layer) layer$each, ""))
    if (length(k) && !is.na(k)) list(table = table, k = k)
  }
  blocks <- lapply(tables, block)
  there <- Filter(Negate(is.null), blocks)
  whole <- block(total)
  if (all(vapply(there, function(one) !has(one$table, "across"), NA))) {
    grids <- lapply(there, function(one) {
      grid_of(one$table, one$k, layout_of(one$table))
    })
    return(list(grids = grids, blocks = there, whole = whole))
  }
  # letters run through all columns; those of lines are the same in every table
  columns <- vapply(blocks, function(one) {
    if (is.null(one) || compared_side(layout) == "rows") 0L else
      ncol(one$table$layers[[one$k]]$n)
  }, 0L)
  found <- all_letters(layout, each, columns)
  # what one block withholds neither another nor the total column may give away
  protected <- protected_in_row(c(blocks, list(whole)), layout)
  grids <- Map(function(one, before, letters, block) {
    if (is.null(one)) return(NULL)
    in_row <- list(letters_before = before, letters_found = letters,
                   block = block, protected = protected[[block]])
    own <- utils::modifyList(layout_of(one$table), in_row)
    grid_of(one$table, one$k, own, ends = FALSE)
  }, blocks, cumsum(c(0L, columns))[seq_along(blocks)], found, seq_along(blocks))
  if (layout$total == "none")
    return(list(grids = grids, blocks = there, whole = whole))
  total$layout$in_banner <- TRUE
  whole_grid <-
    grid_of(total, whole$k,
            utils::modifyList(layout_of(total), list(
              protected = protected[[length(protected)]])))
  if (layout$marks == "letters")
    whole_grid$letters <- array("", dim(whole_grid$value))
  grids <- if (layout$total == "first") c(list(whole_grid), grids) else
    c(grids, list(whole_grid))
  list(grids = grids, blocks = there, whole = whole)
}

# What every block of a row of tables withholds, by layers; nothing where none
# does, or where it was worked out with other tables.
protected_in_row <- function(blocks, layout) {
  out <- vector("list", length(blocks))
  there <- which(!vapply(blocks, is.null, NA))
  limits <- limits_of(layout)
  known <- vapply(blocks[there], function(one) {
    identical(one$table$protected$limits, limits)
  }, NA)
  if (!withholds(layout) || all(known)) return(out)
  counts <- lapply(blocks[there], function(one) counts_guarded(one$table, one$k))
  held <- protected_or_refused(counts, limits)
  for (i in seq_along(there)) {
    one <- blocks[[there[i]]]
    own <- list()
    own[[one$k]] <- filled_out(held[[i]], one$table$layers[[one$k]],
                               has(one$table, "answers"))
    out[[there[i]]] <- list(limits = limits, held = own)
  }
  out
}

# Letters over all columns of a banner, where they are compared with each other:
# a matrix a block.
all_letters <- function(layout, each, columns) {
  x <- layout$columns
  if (is.null(x) || layout$marks != "letters" || compared_side(layout) == "rows")
    return(vector("list", length(columns)))
  k <- match(each, vapply(x$layers, function(layer) layer$each, ""))
  found <- letter_grid(net_parts(x, k), layout, 0L)
  block <- rep(seq_along(columns), columns)
  lapply(seq_along(columns), function(j) {
    found[-nrow(found), which(block == j), drop = FALSE]
  })
}

# Where a question would stand against itself its columns stay empty; columns
# that no row has are left out.
filled_in <- function(grids, rows) {
  out <- lapply(seq_along(grids), function(j) {
    if (!is.null(grids[[j]])) return(grids[[j]])
    model <- Find(Negate(is.null), lapply(rows, `[[`, j))
    if (!is.null(model)) empty_grid(Find(Negate(is.null), grids), model$columns)
  })
  Filter(Negate(is.null), out)
}

empty_grid <- function(grid, columns) {
  blanks <- function(parts) {
    there <- intersect(names(empty_cell), names(parts))
    lapply(empty_cell[there], matrix, nrow(grid$stub), nrow(columns))
  }
  c(list(stub = grid$stub, columns = columns), blanks(grid),
    list(inside = lapply(grid$inside, blanks)))
}

# Grids of the same lines.
bind_beside <- function(grids) {
  out <- bind_cells(grids, cbind)
  out$columns <- do.call(rbind, lapply(grids, `[[`, "columns"))
  out
}

# Grids of the same columns, each under the title of its question.
bind_below <- function(grids, titles) {
  headed <- Map(function(grid, title) {
    line <- grid
    line$stub <- list2DF(list(label = title, figure = "", role = "heading",
                              at = NA_integer_))
    bind_lines(list(empty_grid(line, grid$columns), grid))
  }, grids, titles)
  bind_lines(headed)
}

# What of every question a list shows: an answer, a net, the mean.
list_line <- function(table, layout) {
  if ("means" %in% layout$only) return(words("list_of_means"))
  shown <- setdiff(layout$only, only_kinds)
  if (!length(shown)) shown <- names(nets_in(table, "down"))
  unname(ifelse(shown %in% names(layout$labels), layout$labels[shown], shown))
}

# A line a question, named by it. Its bases stand once, from the smallest to the
# largest of all questions where they differ, or beside each where there is no
# question across.
bind_listed <- function(grids, titles, layout, alone) {
  lines <- Map(function(grid, title) {
    line <- grid_part(grid, rows = grid$stub$role != "base")
    line$stub[c("label", "role")] <- list(title, "answer")
    line
  }, grids, titles)
  bases <- lapply(grids, function(grid) grid_part(grid, rows = grid$stub$role == "base"))
  if (alone && nrow(bases[[1L]]$stub)) {
    lines <- Map(with_bases_beside, lines, bases)
    bases <- lapply(bases, grid_part, rows = FALSE)
  }
  lines <- lines[listed_order(lines, titles, layout)]
  bases <- bases_together(bases)
  if (!nrow(bases$stub)) return(bind_lines(lines))
  bind_lines(if (layout$base_rows == "top") c(list(bases), lines) else
    c(lines, list(bases)))
}

# The bases of a line as columns of it.
with_bases_beside <- function(line, bases) {
  first <- which(bases$kind[1L, ] != "")[1L]
  columns <- line$columns[rep(1L, nrow(bases$stub)), ]
  columns[c("label", "role", "figure")] <- list(bases$stub$label, "base", "")
  beside <- empty_grid(line, columns)
  beside$value[1L, ] <- bases$value[, first]
  beside$kind[1L, ] <- bases$kind[, first]
  bind_beside(list(line, c(beside, list(columns = columns))))
}

# By the size of the figure in the column of everybody, or a named one.
listed_order <- function(lines, titles, layout) {
  columns <- lines[[1L]]$columns
  everybody <- c(which(columns$role == "all"), 1L)[1L] # the first, with no question across
  at <- if (layout$sort %in% c("size", "mean", "difference")) everybody else
    match(layout$sort, columns$label)
  if (is.na(at)) return(seq_along(lines))
  order(kept_last(titles, layout$last),
        -vapply(lines, function(line) line$value[1L, at], 0))
}

bases_together <- function(grids) {
  out <- grids[[1L]]
  if (!nrow(out$stub)) return(out)
  of_all <- vapply(grids, `[[`, out$value, "value")
  least <- apply(of_all, 1:2, min)
  most <- apply(of_all, 1:2, max)
  several <- !is.na(least) & most - least > 1e-9 * abs(most)
  out$value <- least
  out$high[several] <- most[several]
  out$kind[several] <- paste0(sub("^count$", "base", out$kind[several]), "_range")
  out
}

bind_lines <- function(grids) {
  out <- bind_cells(grids, rbind)
  out$stub <- do.call(rbind, lapply(grids, `[[`, "stub"))
  out
}

# All that grids have a matrix of, and what their keys say, once.
bind_cells <- function(grids, bind) {
  together <- function(parts) {
    pieces <- intersect(names(empty_cell), names(parts[[1L]]))
    bound <- lapply(pieces, function(name) {
      do.call(bind, lapply(parts, `[[`, name))
    })
    stats::setNames(bound, pieces)
  }
  out <- utils::modifyList(grids[[1L]], together(grids))
  out$inside <- lapply(seq_along(grids[[1L]]$inside), function(j) {
    together(lapply(grids, function(grid) grid$inside[[j]]))
  })
  out$key <- unique(unlist(lapply(grids, `[[`, "key")))
  out
}

# The lines under a banner: those of every table, named by their questions. What
# is true of all who answered the question down is said once.
banner_lines <- function(rows, layout, skipped, hidden, listed) {
  several <- length(rows) > 1L
  found <- unlist(lapply(rows, function(row) {
    lapply(row$blocks, block_lines, of_all = row$whole, layout, several)
  }), recursive = FALSE)
  no_marks <- list(mark = "", key = NULL)
  whole <- lapply(rows, function(row) {
    lines_under(row$whole$table, row$whole$k, no_marks, layout)
  })
  all <- function(name) unlist(lapply(found, `[[`, name))
  key <- unique(all("key"))
  if (layout$marks == "residuals" && length(key))
    key <- words("banner_key", rules = if (listed) list_rule(rows) else key)
  cautions <- do.call(rbind, lapply(c(whole, found), `[[`, "cautions"))
  of_each <- listed & cautions$code == "unequal_weights" # nearly the same of each
  cautions <- cautions[!duplicated(cautions) & !(of_each & duplicated(cautions$code)), ]
  of_whole <- lapply(whole, `[[`, "account")
  account <- if (length(unique(of_whole)) == 1L) of_whole[[1L]] else
    unlist(Map(function(row, line) {
      if (length(line))
        words("block_line", block = table_title(row$whole$table), line = line)
    }, rows, of_whole))
  # readers of a list are told what is marked in it, not a test a question
  tests <- if (!listed || layout$dress == "working") all("tests")
  list(key = c(key, hidden), tests = tests, strength = NULL,
       reference = all("reference"),
       cautions = cautions[order(match(cautions$severity, severities)), ],
       notes = unique(all("notes")), source = whole[[1L]]$source,
       account = c(account, all("account"),
                   if (length(skipped))
                     words("by_itself", questions = skipped)))
}

# The lines of one table of a banner, without what is said of all who answered
# the question down.
block_lines <- function(block, of_all, layout, several) {
  lines <-
    lines_under(block$table, block$k, list(mark = "", key = NULL), layout)
  name <- if (several) table_title(block$table) else
    facts_of(block$table)$across$label
  named <- function(text) {
    if (length(text)) words("block_line", block = name, line = text)
  }
  of_whole <- cautions_of(of_all$table)
  known <- codes_in(c(of_whole$whole, of_whole$layers[[of_all$k]]))
  cautions <- lines$cautions[!lines$cautions$code %in% known, ]
  cautions$text <- words("block_line", block = rep(name, nrow(cautions)),
                         line = cautions$text)
  n_in <- function(one) one$table$layers[[one$k]]$base$n
  lost <- n_in(of_all) - n_in(block)
  own <- layout_of(block$table)
  own["overlap"] <- list(layout$overlap)
  list(key = if (layout$marks == "residuals") block_key(block, name) else
         marks_key(block$table, block$k, NULL, own, TRUE),
       # what was found names its questions
       tests = c(lines$tests[1L], named(c(lines$tests[-1L], lines$strength))),
       reference = named(lines$reference), cautions = cautions,
       notes = lines$notes,
       account = if (length(lines$account) && lost > 0)
         words("block_left_out", block = name, n = lost))
}

# The rule of a list's marks: each question has critical values of its own.
list_rule <- function(rows) {
  choices <- rows[[1L]]$blocks[[1L]]$table$choices
  words("list_rule", correction = choices$correction, alpha = choices$alpha)
}

codes_in <- function(cautions) vapply(cautions, function(one) one$what$code, "")

# The rule of a block's marks, where it has any.
block_key <- function(block, name) {
  cells <- residuals_of(block$table)[[block$k]]
  if (!any(cells$mark != "")) return(NULL)
  layer <- block$table$layers[[block$k]]
  words("block_line", block = name,
        line = marking_rule_of(block$table, layer, cells))
}
