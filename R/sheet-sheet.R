# The sheet: a table laid out, with no format in it. Writers draw it and compute
# nothing.
#
#   title, subtitle   text
#   each, layer       the answer of `each`, alone and with its question
#   corner            label over the stub
#   stub, columns     data frames: label, figure (name of the figure, where lines or
#                     columns are split by figures), role ("heading", "answer", "net",
#                     "mean", "all", "total", "base"), the place `at` among the answers
#                     and nets of its question (NA for none); of columns also the
#                     spanner over them, the heading under it ("" without one), and
#                     which table of a banner they are of (`block`)
#   value, kind, high, mark, peak, letters
#                     matrices: the number; what kind of number (see R/sheet-cells.R;
#                     "" where nothing stands, "hidden" on a base too small, "withheld"
#                     where too few); the upper end of an interval;
#                     "more"/"fewer"/""; whether it is the largest of its line; letters
#                     of what it exceeds (or NULL)
#   inside            further figures of the cells, each a list of value, kind and high
#   decimals, wrap, style   what is asked of the writers
#   key, tests, strength, reference, cautions, notes, account, source
#                     lines of text that go under the table

# One sheet a layer.
sheets_of <- function(x) UseMethod("sheets_of")

#' @export
sheets_of.fairlattice_crosstab <- function(x) {
  in_style(x$layout$style,
           lapply(seq_along(x$layers), function(k) sheet_of(x, k)))
}

sheet_of <- function(x, k = 1L) {
  x <- unclass(x) # whose parts are looked up hundreds of times, each time for a method of its class
  layer <- x$layers[[k]]
  facts <- facts_of(x)
  layout <- layout_of(x)
  grid <- grid_of(x, k, layout)
  several <- !is.na(layer$each)
  c(list(title = numbered(layout$title %||% table_title(x), layout$number),
         number = layout$number, each = layer$each,
         layer = if (several)
           words("layer_title", each = facts$each$label, answer = layer$each),
         subtitle = layout$subtitle %||%
                    c(base_line(x, layout), all_in_words(facts$among)),
         corner = if (has(x, "statements")) "" else facts$down$label),
    without_empty(grid[names(grid) != "key"]), look_of(layout),
    lines_under(x, k, grid, layout))
}

# The lines under the table, as far as they are asked for.
lines_under <- function(x, k, grid, layout) {
  layer <- x$layers[[k]]
  alpha <- x$choices$alpha
  published <- layout$dress == "published"
  brief <- published || isTRUE(layout$brief)
  asked <- function(part) part %in% layout$lines
  # tests, measures and bases would narrow withheld counts down, or give them
  told <- function(part) !guards(layout) && asked(part)
  # an exact test may take long, so none is made that is not shown
  tests <- function() tests_of(x)[[k]]
  strong <- told("strength") && has(x, "pair")
  # what stands in the table is explained in any case
  list(key = c(marks_key(x, k, grid, layout, told("key") && !published),
               if (isTRUE(x$choices$peaks))
                 words("peak_key", row = x$choices$percent == "row"), grid$key),
       tests = if (told("test") && published)
         published_line(x, k, tests(), alpha, strong) else
         if (told("test")) headline_lines(x, layer, tests(), alpha),
       strength = if (strong && !(published && told("test")))
         c(strength_lines(x, k), item_lines(items_of(x)[[k]])),
       reference = if (told("reference") && !has(x, "statements"))
         reference_line(x, tests()),
       cautions = caution_lines(if (told("cautions"))
         cautions_told(x, k, layout, published), brief),
       notes = c(if (asked("rounding") && is.null(layout$front))
         rounding_lines(x, layout, k),
         if (asked("account")) history_lines(x, layout$front_notes), layout$notes),
       # the number of records is rounded too
       account = if (asked("account") && layout$round_to == 1)
         account_line(x, layer, brief),
       source = source_shown(x, layout, asked("source")))
}

# The cautions of a layer, the severest first; what is true of the whole is said
# once, with the first layer. A reader has those without which the table would
# mislead.
cautions_told <- function(x, k, layout, published) {
  found <- not_at_front(cautions_of(x), layout$front)
  all <- by_severity(c(if (k == 1L) found$whole, found$layers[[k]]))
  if (published) Filter(for_readers, all) else all
}

for_readers <- function(caution) {
  caution$severity == "stop" || caution$what$code %in% c("small_base", "left_out")
}

# The test and the strength of a published table on one line.
published_line <- function(x, k, tests, alpha, strong) {
  found <- headline_lines(x, x$layers[[k]], tests, alpha, plain = TRUE)
  if (!length(found) || !strong || is.na(headline_of(tests)$p))
    return(c(found, if (strong) c(strength_lines(x, k))))
  rows <- utils::head(strength_told(strength_of(x)[[k]]), 1L)
  c(paste(c(found[1L], vapply(rows, strength_in_short, "")), collapse = "; "),
    found[-1L])
}

# The title with the number that a table has in a book.
numbered <- function(title, number) {
  if (is.null(number)) title else
    words("numbered", number = number, title = title)
}
bare_title <- function(sheet) {
  if (is.null(sheet$number)) return(sheet$title)
  before <- words("numbered", number = sheet$number, title = "")
  if (startsWith(sheet$title, before))
    substring(sheet$title, nchar(before) + 1L) else sheet$title
}

# Cautions without those that are said at the front of a book, for all its
# tables.
not_at_front <- function(found, codes) {
  rest <- function(cautions) {
    Filter(function(one) !one$what$code %in% codes, cautions)
  }
  if (is.null(codes)) found else
    list(whole = rest(found$whole), layers = lapply(found$layers, rest))
}

# What was found, with the headline test; beside it that of the means of a scored
# question, and (for an author) the trend of two ordered ones. `plain`: without the
# name of the test.
headline_lines <- function(x, layer, tests, alpha, plain = FALSE) {
  test <- headline_of(tests)
  if (!has(x, "across") && !has(x, "given_shares")) return(NULL)
  facts <- facts_of(x)
  c(test_line(x, test, if (plain) test_figures(test, FALSE) else
      figures_told(layer, test)),
    each_line(x, layer, test),
    means_line(x, layer),
    if (!plain)
      trend_line(trend_beside(tests, c(facts$down$ordered, facts$across$ordered)),
                 alpha))
}

# What the signs or letters of a table mean.
marks_key <- function(x, k, grid, layout, asked) {
  if (layout$marks == "none") return(NULL)
  layer <- x$layers[[k]]
  if (layout$marks == "residuals") {
    if (any(grid$mark != "") || asked)
      key_line(x, layer, residuals_of(x)[[k]], headline_of(tests_of(x)[[k]]))
  } else if (has(x, "across")) {
    compare <- compared_side(layout)
    compared <- facts_of(x)[[if (compare == "columns") "across" else "down"]]
    small <- layer_small_bases(layer, compare, setting("small_base"))
    c(if (layout$marks == "letters")
        c(words("letters_key", compare = compare, correction = x$choices$correction,
                alpha = x$choices$alpha, second = layout$second_alpha),
          if (isTRUE(layout$overlap)) words("letters_all") else
            if (!is.null(compared$headings))
              words("letters_headings", question = compared$label)) else
        words("against_key", against = layout$against, compare = compare,
              correction = x$choices$correction, alpha = x$choices$alpha),
      if (length(small$answer) && !guards(layout))
        words("letters_small", limit = setting("small_base"),
              answers = small$answer, n = small$base))
  }
}

# In full, or on one line each.
caution_lines <- function(found, brief) {
  # that there is no test is said in its line already
  if (brief) found <- Filter(function(one) one$what$code != "no_test", found)
  what <-
    lapply(found, function(one) if (brief) brief_of(one$what) else one$what)
  frame_with(list(code = vapply(found, function(one) one$what$code, ""),
                  severity = vapply(found, function(one) one$severity, ""),
                  text = all_in_words(what)))
}

brief_of <- function(what) {
  code <- paste0("brief.", what$code)
  if (is.null(what$arguments) || is.null(sentence_of(code))) what else
    replace(what, "code", code)
}

# ---- the grid ----

# Lines and columns in their order, and what stands in each cell. Without `ends`
# it is a part of a banner, which has one column of everybody for all its parts.
grid_of <- function(x, k, layout, ends = TRUE) {
  parts <- net_parts(x, k)
  figures <- figures_of(x, k, parts, layout)
  alone <- !has(x, "across") && !isTRUE(layout$in_banner)
  down <- side_lines(x, k, parts, "down", layout, figures)
  across <- side_lines(x, k, parts, "across", layout, figures)
  if (alone) across$label <- ""
  if (!has(x, "answers")) down <- lapply(down, `[`, 0L) # a number's values are not listed
  at_end <- ends_of(x, layout)
  down <- with_ends(down, at_end$down, layout)
  across <- with_ends(across, if (ends) at_end$across, layout)
  several <- length(figures) > 1L
  names <- figure_names(x, layout, alone)
  stub <- split_lines(down, if (several && layout$stack == "beneath") names)
  columns <-
    split_lines(across, if (several && layout$stack == "beside" || alone) names)
  columns$spanner <- rep("", length(columns$role))
  if (has(x, "pair"))
    columns$spanner[columns$role %in% c("answer", "net")] <-
      facts_of(x)$across$label
  if (!has(x, "across") && !alone)
    columns$role[columns$role == "answer"] <- "all"
  grid <- filled(stub, columns, figures,
                 c(bases_of(x, parts, layout$bases, rounding_of(layout)),
                   outside_of(x, k, layout)))
  grid <- with_summaries(grid, stub, columns, parts, x$choices$alpha)
  grid$inside <- if (several && layout$stack == "brackets")
    lapply(seq_along(figures)[-1L], function(j) {
      filled(stub, columns, figures[j], NULL)
    })
  grid$mark <- marks_on(stub, columns, mark_grid(parts, layout))
  lettered <- with_letters(grid, stub, columns, parts, layout)
  stub <- lettered$stub
  columns <- lettered$columns
  grid <- hidden_bases(lettered$grid, stub, columns, x, parts, layout)
  grid <- with_reliability(grid, stub, columns, x, k, parts, layout)
  if (of_totals(layout) && !counts_people(x))
    grid$key <- c(grid$key, words("totals_of_sample"))
  grid <- withheld(grid, stub, columns, x, k, parts, layout)
  if (layout$round_to > 1)
    grid$key <- c(grid$key, words("rounded_key", base = layout$round_to,
                                  alone = is.null(layout$block) &&
                                    !isTRUE(layout$in_banner)))
  keep <- c("label", "figure", "role", "at")
  columns$block <- rep(layout$block %||% 1L, length(columns$label))
  c(list(stub = frame_with(stub[keep]),
         columns = frame_with(columns[c(keep, "spanner", "heading", "block")])),
    grid,
    list(peak = peaks_in(stub, columns, grid$value, isTRUE(x$choices$peaks),
                         x$choices$percent)))
}

# The figures asked for, each with its values over all answers, nets and
# everybody.
figures_of <- function(x, k, parts, layout) {
  found <- lapply(layout$show, function(name) {
    figure <- cell_figures[[name]]$of(parts, layout, x, k)
    if (!is.list(figure)) figure <- list(value = figure, high = NULL)
    if (identical(name, layout$percent) && layout$round == "percent-to-100" &&
          adds_up_to_100(x, layout))
      figure$value <- percent_to_100(figure$value, x, parts, layout)
    utils::modifyList(list(kind = cell_figures[[name]]$kind), figure)
  })
  stats::setNames(found, layout$show)
}

# The answers and nets of a side in their order: labels, roles, and their places
# in the figures.
side_lines <- function(x, k, parts, side, layout, figures) {
  layer <- parts$core$layers[[1L]]
  answers <- if (side == "down") answers_down(layer) else answers_across(layer)
  nets <- nets_in(x, side)
  nets <- nets[vapply(nets, function(net) any(net %in% answers), NA)]
  order <- if (side == "down") sorted_answers(x, k, answers, layout, figures, parts) else
    sorted_columns(x, k, answers, layout, figures, parts)
  lines <- list(label = answers[order], role = rep("answer", length(order)),
                at = order, indent = rep(FALSE, length(order)))
  for (j in seq_along(nets)) {
    members <-
      which(lines$role == "answer" & lines$at %in% match(nets[[j]], answers))
    adjacent <- diff(range(members)) == length(members) - 1L &&
                !any(lines$indent[members])
    after <- if (adjacent) members[1L] - 1L else length(lines$label)
    if (adjacent) lines$indent[members] <- TRUE
    net <- list(label = names(nets)[j], role = "net", at = length(answers) + j,
                indent = FALSE)
    lines <- Map(function(line, new) append(line, new, after), lines, net)
  }
  if (side == listed_side(x)) lines <- only_asked(lines, layout$only)
  headings <- facts_of(x)[[side]]$headings
  lines$heading <- rep("", length(lines$label))
  if (side == "across" && !is.null(headings)) {
    own <- which(lines$role == "answer")
    lines$heading[own] <- headings$outer[lines$at[own]]
    lines$label[own] <- headings$inner[lines$at[own]]
  }
  named <- lines$label
  lines$label <- bands_shown(named, facts_of(x)[[side]]$history)
  known <- match(named, names(layout$labels))
  lines$label[!is.na(known)] <- unname(layout$labels[known[!is.na(known)]])
  lines$label <- shortened(lines$label, layout$shorten)
  if (side == "down")
    lines$label <- paste0(c("", "\u2002")[1L + lines$indent], lines$label)
  lines[c("label", "role", "at", "heading")]
}

# The answers and nets that a table is cut down to. A part of a net that is not
# shown itself is no part of anything.
only_asked <- function(lines, only) {
  if (is.null(only)) return(lines)
  keep <- lines$label %in% only | lines$role == "net" & "nets" %in% only
  lines <- lapply(lines, `[`, keep)
  lines$indent <- lines$indent & any(lines$role == "net")
  lines
}

# Labels of at most so many characters: cut between words where that leaves at
# least half, otherwise within one; what would then be alike stays whole.
shortened <- function(labels, most) {
  if (is.null(most)) return(labels)
  long <- nchar(labels) > most
  within <- substr(labels, 1L, most - 1L)
  between <- sub("\\s+\\S*$", "", substr(labels, 1L, most))
  between <-
    ifelse(nchar(between) >= most / 2 & nchar(between) < most, between, within)
  alike <- function(x) duplicated(x) | duplicated(x, fromLast = TRUE)
  for (cut in list(between, within)) {
    cut <- ifelse(long, paste0(trimws(cut, "right"), "\u2026"), labels)
    if (!any(alike(cut))) return(cut)
  }
  ifelse(alike(cut), labels, cut)
}

# The columns by the size of the first figure in a named line, or by their means.
# What stands under one heading stays there.
sorted_columns <- function(x, k, answers, layout, figures, parts) {
  as_they_are <- seq_along(answers)
  if (layout$sort == "asked") return(as_they_are)
  value <- figures[[1L]]$value
  row <- match(layout$sort, lines_named_down(x))
  by_mean <- layout$sort == "mean" && !has(x, "statements")
  if (layout$sort %in% columns_named_across(x) || is.null(value)) return(as_they_are)
  if (by_mean && !is.null(scores_in(x, x$layers[[k]]))) {
    by <- vapply(summaries_of(parts, as_they_are, x$choices$alpha), `[[`, 0, "mean")
  } else if (is.na(row)) {
    return(as_they_are)
  } else {
    by <- value[row, as_they_are]
    if (withholds(layout)) by[held_of(x, k, layout)[row, as_they_are]] <- -Inf
  }
  under <- facts_of(x)$across$headings$outer %||% rep("", length(answers))
  order(match(under, under), kept_last(answers, layout$last), -by)
}

# By the size of the first figure in the whole table or in a named column, by
# how far its columns are apart, or statements by their means.
sorted_answers <- function(x, k, answers, layout, figures, parts) {
  r <- length(answers)
  if (layout$sort == "mean" && has(x, "statements"))
    return(order(-vapply(summaries_of(parts, seq_len(r), x$choices$alpha), `[[`, 0,
                         "mean")))
  # by means columns are sorted
  if (layout$sort %in% c("asked", "mean")) return(seq_len(r))
  value <- figures[[1L]]$value
  column <- if (layout$sort %in% sorts) ncol(value) else
    match(layout$sort, columns_named_across(x))
  if (is.null(value) || is.na(column)) return(seq_len(r))
  by_size <- layout$sort != "difference"
  # of each row's own 100 %, and of figures that everybody has none of, the size
  # is how many there are
  if (by_size && (names(figures)[1L] == "row" && column == ncol(value) ||
                    all(is.na(value[seq_len(r), column]))))
    value <- sum_grid(parts, "weighted", rounding_of(layout))
  by <- if (by_size) value[seq_len(r), column] else
    apply(value[seq_len(r), -ncol(value), drop = FALSE], 1L,
          function(v) if (all(is.na(v))) -Inf else diff(range(v, na.rm = TRUE)))
  # the place of a line would say how large a withheld count is
  if (withholds(layout)) {
    held <- held_of(x, k, layout)[seq_len(r), , drop = FALSE]
    by[if (by_size && column == ncol(value)) held[, ncol(held)] else
      rowSums(held) > 0] <- -Inf
  }
  order(kept_last(answers, layout$last), -by)
}

# Every line in as many as there are figures. Bases stay one, and everybody has
# percentages and sums alone. `figures` are their names, by figure.
split_lines <- function(lines, figures) {
  size <- length(lines$label)
  if (!length(figures))
    return(c(lines, list(nth = rep(1L, size), figure = rep("", size))))
  nth <- lapply(lines$role, function(role) {
    if (role %in% c("base", "mean")) return(1L)
    if (role == "total")
      which(names(figures) %in% of_everybody(names(figures))) else
      seq_along(figures)
  })
  out <- lapply(lines, rep, lengths(nth))
  out$nth <- unlist(nth)
  out$figure <- ifelse(out$role %in% c("base", "mean"), "", figures[out$nth])
  out
}

# Figures that everybody has beside the answers.
of_everybody <- function(figures) {
  c(percent_figures, "n", "weighted", "estimated_total",
    if (!any(percent_figures %in% figures)) precision_figures)
}

figure_names <- function(x, layout, alone) {
  vapply(layout$show, function(figure) {
    if (figure %in% c("interval", "difference_interval"))
      return(words(paste0("figure.", figure), alpha = x$choices$alpha))
    if (figure == "estimated_total")
      return(words("figure.estimated_total", unit = layout$unit))
    if (alone && !has(x, "answers")) return(words("line.all"))
    if (alone && figure == "column") figure <- "percent"
    words(paste0("figure.", figure))
  }, "")
}

# What stands in every cell. `base_values` has a matrix a base: a line a side.
filled <- function(stub, columns, figures, base_values) {
  size <- c(length(stub$label), length(columns$label))
  cells <- list(value = matrix(NA_real_, size[1L], size[2L]),
                kind = matrix("", size[1L], size[2L]),
                high = matrix(NA_real_, size[1L], size[2L]))
  for (j in seq_along(figures))
    cells <- with_figure(cells, j, names(figures)[j], figures[[j]], stub,
                         columns)
  for (base in names(base_values)) {
    sums <- base_values[[base]]
    rows <- which(stub$base == base)
    across <- bases_along_side(columns, sums$across, sums$kind %||% base)
    for (i in rows) {
      cells$value[i, ] <- across$value
      cells$kind[i, ] <- across$kind
    }
    down <- bases_along_side(stub, sums$down, sums$kind %||% base)
    for (i in which(columns$base == base)) {
      cells$value[, i] <- down$value
      cells$kind[, i] <- down$kind
    }
  }
  cells
}

# The cells of the figure that is asked for j-th. Figures are stacked on one
# side at most; on neither, the further ones stand in brackets.
with_figure <- function(cells, j, name, figure, stub, columns) {
  stacked <- list(stub = any(stub$nth > 1L), columns = any(columns$nth > 1L))
  of_figure <- function(lines, here, there) {
    if (here) lines$nth == j else there || j == 1L
  }
  rows <- which(!stub$role %in% c("base", "mean") &
                  of_figure(stub, stacked$stub, stacked$columns))
  across <- which(!columns$role %in% c("base", "mean") &
                    of_figure(columns, stacked$columns, stacked$stub))
  at_rows <- places_among(stub, nrow(figure$value))[rows]
  at_columns <- places_among(columns, ncol(figure$value))[across]
  found <- figure$value[at_rows, at_columns, drop = FALSE]
  cells$value[rows, across] <- found
  cells$kind[rows, across] <- figure$kind
  # everybody has no residual, and a net no cumulative percentage: nothing
  # stands there
  if (anyNA(found)) {
    end <- outer(is.na(stub$at[rows]), is.na(columns$at[across]), `|`)
    none <- is.na(found) &
            (end & figure$kind != "percent" | name %in% "cumulative")
    cells$kind[rows, across][none] <- ""
  }
  if (!is.null(figure$high))
    cells$high[rows, across] <- figure$high[at_rows, at_columns]
  cells
}

# The bases of a side, under (beside) the first figure of every line of it.
bases_along_side <- function(lines, sums, base) {
  first <- lines$role != "base" & lines$nth == 1L
  value <- sums[places_among(lines, length(sums))]
  value[!first] <- NA_real_
  kind <- rep("", length(first))
  kind[first] <- switch(base, n = "count", base)
  list(value = value, kind = kind)
}

# The marks stand with the first figure of a cell.
marks_on <- function(stub, columns, marks) {
  out <- matrix("", length(stub$label), length(columns$label))
  rows <- which(stub$role %in% c("answer", "net") & stub$nth == 1L)
  across <- which(columns$role %in% c("answer", "net") & columns$nth == 1L)
  out[rows, across] <- marks[stub$at[rows], columns$at[across], drop = FALSE]
  out
}

# Letters of the columns (rows) with their answers, and in the cells those of
# what a figure exceeds.
with_letters <- function(grid, stub, columns, parts, layout) {
  out <- list(grid = grid, stub = stub, columns = columns)
  if (layout$marks != "letters") return(out)
  before <- layout$letters_before %||% 0L
  out$grid$letters <- if (!has(parts$core, "answers"))
    array("", dim(grid$value)) else
    marks_on(stub, columns, letter_grid(parts, layout, before))
  side <- if (compared_side(layout) == "columns") "columns" else "stub"
  if (side == "columns" || has(parts$core, "statements"))
    out$grid$letters <-
      mean_letters(out$grid$letters, stub, columns, parts$core, before,
                   layout$second_alpha)
  lines <- out[[side]]
  own <- lines$role == "answer"
  # letters go in the order in which the lines stand, unless other blocks use them
  at <- unique(lines$at[own])
  place <- if (isTRUE(layout$overlap)) lines$at[own] else match(lines$at[own], at)
  alphabet <- letters_for(before + max(lines$at[own]))
  if (!isTRUE(layout$overlap) && is.unsorted(at))
    out$grid$letters[] <- relettered(out$grid$letters, alphabet[before + at],
                                     alphabet[before + seq_along(at)])
  lines$label[own] <- sprintf("%s (%s)", lines$label[own], alphabet[before + place])
  out[[side]] <- lines
  out
}

# "a C" where `from` are called `to`.
relettered <- function(text, from, to) {
  vapply(strsplit(text, " ", fixed = TRUE), function(letters) {
    place <- match(tolower(letters), from)
    new <- ifelse(letters == tolower(letters), to[place], toupper(to[place]))
    paste(new[order(place)], collapse = " ")
  }, "")
}

# Percentages on too few respondents are not shown.
hidden_bases <- function(grid, stub, columns, x, parts, layout) {
  if (!layout$hide_under || is.na(layout$percent)) return(grid)
  base <- bases_of(x, parts, "n")$n
  base_along <- function(lines, side) {
    base[[side]][places_among(lines, length(base[[side]]))]
  }
  n <- switch(layout$percent,
              column = matrix(base_along(columns, "across"), nrow(grid$value),
                              ncol(grid$value), byrow = TRUE),
              row = matrix(base_along(stub, "down"), nrow(grid$value),
                           ncol(grid$value)),
              total = array(base$down[length(base$down)], dim(grid$value)))
  percents <- function(part) {
    n < layout$hide_under & n > 0 &
      part$kind %in% c("percent", "interval", "se", "cv", "deff", "missing_information")
  }
  if (any(percents(grid)))
    grid$key <- c(grid$key, words("hidden_key", limit = layout$hide_under))
  taken_out(grid, percents, "hidden")
}

# Which cells hold the largest percentage of their column (of their row, with
# row percentages).
peaks_in <- function(stub, columns, value, wanted, percent) {
  peak <- matrix(FALSE, nrow(value), ncol(value))
  if (!wanted) return(peak)
  rows <- stub$role == "answer" & stub$nth == 1L
  across <- columns$role == "answer" & columns$nth == 1L
  shares <- value[rows, across, drop = FALSE]
  by <- if (percent == "row") 1L else 2L
  most <- apply(shares, by, function(v) {
    if (all(is.na(v))) NA else max(v, na.rm = TRUE)
  })
  peak[rows, across] <- !is.na(shares) &
                        shares ==
                          if (by == 1L) most else rep(most, each = nrow(shares))
  peak
}

# ---- the text of a cell ----

range_of_counts <- function(v, high, digits) {
  paste0(format_count(v), "\u2013", format_count(high))
}

# How each kind of figure is written, with so many decimals; nothing stands for
# a figure that there is not.
kind_text <- list(
  percent = function(v, high, digits) {
    if (setting("percent_sign")) percent_words(v / 100, digits) else
      format_percent(v / 100, digits)
  },
  count = function(v, high, digits) format_count(v),
  base_range = range_of_counts,
  weighted_range = function(v, high, digits) {
    paste0(format_count(v, digits), "\u2013", format_count(high, digits))
  },
  effective_range = range_of_counts,
  weighted = function(v, high, digits) format_count(v, digits),
  effective = function(v, high, digits) format_count(v),
  expected = function(v, high, digits) format_number(v, digits),
  number = function(v, high, digits) format_number(v, digits),
  mean = function(v, high, digits) format_number(v, digits),
  mean_interval = function(v, high, digits) {
    paste0(format_number(v, digits), "\u2013", format_number(high, digits))
  },
  interval = function(v, high, digits) {
    paste0(format_percent(v / 100, digits), "\u2013",
           format_percent(high / 100, digits))
  },
  change = function(v, high, digits) signed(v, digits),
  change_interval = function(v, high, digits) {
    words("interval", low = signed(v, digits), high = signed(high, digits))
  },
  estimated = function(v, high, digits) format_count(v, digits),
  estimated_interval = function(v, high, digits) {
    paste0(format_count(v, digits), "\u2013", format_count(high, digits))
  },
  se = function(v, high, digits) format_percent(v / 100, digits),
  cv = function(v, high, digits) percent_words(v / 100, digits),
  deff = function(v, high, digits) format_number(v, digits),
  missing_information = function(v, high, digits) percent_words(v / 100, digits),
  index = function(v, high, digits) format_number(v, digits),
  unreliable = function(v, high, digits) rep(unsure, length(v)),
  hidden = function(v, high, digits) rep("*", length(v)),
  withheld = function(v, high, digits) rep("[c]", length(v))
)

# What stands after a figure that is to be used with caution, and in place of one
# that is too unsure to be shown.
unsure <- "[u]"

# Kinds of what stands in place of a figure.
not_shown <- c("hidden", "withheld", "unreliable")

# Kinds that are written with the decimals of another.
decimals_as <- c(weighted_range = "weighted", base_range = "count",
                 effective_range = "effective", interval = "percent", se = "percent",
                 cv = "percent",
                 deff = "number", missing_information = "percent",
                 estimated = "weighted",
                 estimated_interval = "weighted", change = "percent",
                 change_interval = "percent", mean_interval = "mean")

# The decimals of figures of a kind: those of the layout, or by the options. A
# weighted base has some only where it is small enough for that to matter.
digits_for <- function(kind, v, decimals) {
  like <- decimals_as[kind] %|NA|% kind
  decimals[[like]] %||%
    switch(like, percent = setting("digits"), expected = 1L,
           weighted = weighted_digits(v), index = , count = ,
           effective = 0L, setting("digits_statistic"))
}

# Where all are below one, so many that the largest has two digits.
weighted_digits <- function(v) {
  if (!any(v < 100, na.rm = TRUE)) return(0L)
  largest <- max(v, 0, na.rm = TRUE)
  if (largest == 0 || largest >= 1) return(1L)
  as.integer(min(15, 1 - floor(log10(largest))))
}

signed <- function(v, digits) {
  text <- format_number(abs(v), digits)
  paste0(ifelse(grepl("[1-9]", text), ifelse(v > 0, "+", setting("minus")), ""),
         text)
}

# The text of every cell, further figures in brackets.
sheet_text <- function(sheet) {
  text <- figure_text(sheet, sheet$decimals)
  for (further in sheet$inside) {
    more <- figure_text(further, sheet$decimals)
    there <- further$kind != "" & !is.na(further$value) &
             !sheet$kind %in% not_shown
    text[there] <- paste0(text[there], " (", more[there], ")")
  }
  flagged <- which(sheet$flag == "caution")
  text[flagged] <- paste(text[flagged], unsure)
  text
}

figure_text <- function(figure, decimals) {
  text <- matrix("", nrow(figure$value), ncol(figure$value))
  for (kind in setdiff(unique(as.vector(figure$kind)), "")) {
    here <- which(figure$kind == kind)
    written <- kind_text[[kind]](figure$value[here], figure$high[here],
                                 digits_for(kind, figure$value[here], decimals))
    written[is.na(figure$value[here]) & !kind %in% not_shown] <- "\u2013"
    text[here] <- written
  }
  text
}

mark_signs <-
  c(more = "+", fewer = "\u2212", higher = "\u2191", lower = "\u2193")
