# Nets: answers taken together, beside their parts. A net is a table of its own,
# with the net as its first row (column) and all other answers as its second, so
# every figure of a net is one of an ordinary table.

# The nets of a side: a list of answers, named by the net.
nets_in <- function(x, side) facts_of(x)[[side]]$nets

# The parts of layer k: its answers (`core`), the nets of each side and, in
# `down`, those of both; each a crosstab of one layer. With `everybody` both
# sides end in a net of all respondents.
net_parts <- function(x, k, everybody = FALSE) {
  layer <- x$layers[[k]]
  nets <- lapply(c(down = "down", across = "across"), function(side) {
    c(nets_in(x, side), if (everybody) list(NULL))
  })
  if (!length(unlist(nets)) && !everybody)
    return(list(core = one_layer(x, layer), across = list(), down = list()))
  once(layer$kept, if (everybody) "parts with everybody" else "parts",
       list(nets, x$choices), {
         core <- one_layer(x, layer)
         with_nets <- function(part) {
           lapply(nets$across, function(answers) {
             net_table(part, "across", answers)
           })
         }
         list(core = core, across = with_nets(core),
              down = lapply(nets$down, function(answers) {
                net <- net_table(core, "down", answers)
                list(core = net, across = with_nets(net))
              }))
       })
}

one_layer <- function(x, layer, tally = x$tally) {
  x["tally"] <- list(tally)
  x$layers <- list(layer)
  x$kept <- new.env(parent = emptyenv())
  x
}

# A net against all other answers; without answers everybody. Of a table read
# from a file only its sums are known.
net_table <- function(x, side, answers) {
  layer <- x$layers[[1L]]
  base <- layer$patterns %||% layer
  shown <- if (side == "down") answers_down(base) else answers_across(base)
  if (!has(x, "records")) return(stored_net(x, side, answers, shown))
  base$cells <- layer_cells(base, x$tally)
  question <- x$tally[[side]]
  inside <- if (is.null(answers)) rep(TRUE, length(shown)) else
    if (is.null(question$items)) shown %in% answers else
      row_sums(question$ticked[!question$missing, match(answers, question$items), drop = FALSE]) >
        0
  group <- ifelse(inside, 1L, 2L)
  layer <-
    collapse_layer(base, if (side == "down") group, if (side == "across") group)
  tally <- x$tally
  tally[[side]] <- net_question(question)
  layer <- layer_of_kind(layer, tally)
  layer <- add_estimates(layer, tally)
  if (!is.null(base$given))
    layer <- with_given(layer,
                        if (side == "down")
                          c(sum(base$given[inside]),
                            sum(base$given[!inside])) else base$given)
  one_layer(x, layer, tally)
}

net_question <- function(question) {
  levels <- c("in the net", "not in it")
  replace(question,
          c("ordered", "levels", "missing", "values", "items", "ticked", "nets",
            "scores", "summed", "headings"),
          list(FALSE, levels, c(FALSE, FALSE), levels, NULL, NULL, NULL, NULL,
               FALSE, NULL))
}

# The same of a table read from a file: the net's own cells as they were stored;
# of an older file, which has none, the sums of the answers alone.
stored_net <- function(x, side, answers, shown) {
  layer <- x$layers[[1L]]
  inside <- if (is.null(answers)) rep(TRUE, length(shown)) else
    shown %in% answers
  nets <- nets_in(x, side)
  name <- if (is.null(answers)) NA_character_ else
    Find(function(name) setequal(nets[[name]], answers), names(nets))
  turn <- if (side == "down") identity else t
  in_net <- c("in the net", "not in it")
  sums <- function(M) {
    turned <- turn(M)
    out <- rbind(column_sums(turned[inside, , drop = FALSE]),
                 column_sums(turned[!inside, , drop = FALSE]))
    dimnames(out) <- list(in_net, colnames(turned))
    turn(out)
  }
  n <- sums(layer$n)
  weighted <- sums(layer$weighted)
  margins <- layer$margins
  margins[[side]] <-
    lapply(margins[[side]], function(v) c(sum(v[inside]), sum(v[!inside])))
  cells <- net_cells_stored(layer, side, name)
  # the cells of the net are the first row (column) of the two
  own <-
    as.vector(turn(turn(matrix(seq_along(n), nrow(n)))[1L, , drop = FALSE]))
  if (!is.null(cells)) {
    n[own] <- cells$here$n
    weighted[own] <- cells$here$weighted
    if (nrow(cells$everybody))
      for (what in c("n", "weighted")) margins[[side]][[what]][1L] <-
        cells$everybody[[what]]
  }
  of_net <- function(figure, otherwise) {
    out <- rep(otherwise, length(n))
    if (!is.null(cells)) out[own] <- cells$here[[figure]]
    out
  }
  shares <- lapply(c(row = "row", column = "column", total = "total"),
                   function(percent) {
                     base <- base_per_cell(weighted, percent)
                     share <-
                       as.vector(ifelse(base > 0, weighted / base, NA_real_))
                     if (!is.null(cells))
                       share[own] <- of_net(
                           paste0(percent, "_percent"), NA_real_)[own] / 100
                     list(share = share,
                          low = of_net(paste0(percent, "_low"), NA_real_) / 100,
                          high = of_net(paste0(percent, "_high"), NA_real_) /
                            100, base = base_per_cell(n, percent),
                          base_weighted = as.vector(base),
                          se = of_net(paste0(percent, "_se"), NA_real_) / 100,
                          deff = of_net(paste0(percent, "_deff"), NA_real_))
                   })
  totals <- c(list(total = as.vector(weighted)),
              lapply(c(se = "se", cv = "cv", deff = "deff", low = "low",
                       high = "high"), function(figure) {
                         of_net(paste0("weighted_", figure), NA_real_)
                       }))
  totals$cv <- totals$cv / 100
  residuals <- no_residuals(length(n))
  for (figure in intersect(names(residuals), names(cells$here))) {
    residuals[[figure]] <-
      of_net(figure, if (figure == "mark") "" else NA_real_)
  }
  one_layer(x,
            new_stored_layer(each = layer$each, n = n, weighted = weighted,
                             margins = margins, base = layer$base,
                             df = layer$df,
                             stored = list(shares = shares, totals = totals,
                                           residuals = residuals,
                                           sums = cells$further)))
}

# The stored cells of a net (of everybody, whose name is NA) by the answers of
# the other side (`here`, in their order), by `everybody`, and by the nets of
# the other side (`further`), which are then cells of a net by "in the net".
net_cells_stored <- function(layer, side, name) {
  cells <- layer$stored$sums
  if (is.null(cells) || is.null(name)) return(NULL)
  other <- other_side[[side]]
  cells <- cells[cells[[side]] %in% name & cells[[paste0(side, "_net")]], ]
  plain <- cells[!cells[[paste0(other, "_net")]], ]
  further <- cells[cells[[paste0(other, "_net")]], ]
  further[[side]] <- rep("in the net", nrow(further))
  further[[paste0(side, "_net")]] <- rep(FALSE, nrow(further))
  answers <- if (side == "down") answers_across(layer) else answers_down(layer)
  list(here = plain[match(answers, plain[[other]]), ],
       everybody = further[is.na(further[[other]]), ], further = further)
}

# A figure of every answer and net, nets after the answers: a matrix. `figure`
# takes a crosstab of one layer and gives a value a cell, down its columns.
over_parts <- function(parts, figure) {
  figure_grid <- function(x) matrix(figure(x), nrow(x$layers[[1L]]$n))
  if (!length(parts$across) && !length(parts$down)) return(figure_grid(parts$core))
  whole <- function(part) {
    do.call(cbind,
            c(list(figure_grid(part$core)),
              lapply(part$across, function(net) figure_grid(net)[, 1L])))
  }
  do.call(rbind,
          c(list(whole(parts)),
            lapply(parts$down, function(net) whole(net)[1L, ])))
}

# A margin of every answer and net of a side.
margin_over_parts <- function(parts, side, what) {
  nets <- if (side == "down") lapply(parts$down, `[[`, "core") else parts$across
  margin_along <- function(x) {
    layer <- x$layers[[1L]]
    if (what != "squared") return(layer$margins[[side]][[what]])
    # of items, and in a table read from a file, squared weights are not known
    size <- length(layer$margins[[side]]$n)
    if (is.null(layer$squared) || !is.null(layer$patterns))
      return(rep(NA_real_, size))
    unname(if (side == "down") row_sums(layer$squared) else
             column_sums(layer$squared))
  }
  if (length(nets))
    c(margin_along(parts$core), vapply(nets, function(net) margin_along(net)[1L], 0)) else
    margin_along(parts$core)
}
