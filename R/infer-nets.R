# Nets: answers taken together, beside their parts. A net is a table of its own, with the net as its first row (column)
# and all other answers as its second, so every figure of a net is one of an ordinary table.

# The nets of a side: a list of answers, named by the net.
nets_in <- function(x, side) facts_of(x)[[side]]$nets

# The parts of layer k: its answers (`core`), the nets of each side and, in `down`, those of both; each a lattice of one
# layer. With `everybody` both sides end in a net of all respondents.
net_parts <- function(x, k, everybody = FALSE) {
  layer <- x$layers[[k]]
  nets <- lapply(c(down = "down", across = "across"), function(side) c(nets_in(x, side), if (everybody) list(NULL)))
  if (!length(unlist(nets)) && !everybody) return(list(core = one_layer(x, layer), across = list(), down = list()))
  once(layer$kept, if (everybody) "parts with everybody" else "parts", list(nets, x$choices), {
    core <- one_layer(x, layer)
    with_nets <- function(part) lapply(nets$across, function(answers) net_table(part, "across", answers))
    list(core = core, across = with_nets(core), down = lapply(nets$down, function(answers) {
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

# A net against all other answers; without answers everybody. Of a table read from a file only its sums are known.
net_table <- function(x, side, answers) {
  layer <- x$layers[[1L]]
  base <- layer$patterns %||% layer
  shown <- if (side == "down") answers_down(base) else answers_across(base)
  if (is_stored(x)) return(stored_net(x, side, if (is.null(answers)) rep(TRUE, length(shown)) else shown %in% answers))
  question <- x$tally[[side]]
  inside <- if (is.null(answers)) rep(TRUE, length(shown)) else if (is.null(question$items)) shown %in% answers else
    rowSums(question$ticked[!question$missing, match(answers, question$items), drop = FALSE]) > 0
  group <- ifelse(inside, 1L, 2L)
  layer <- collapse_layer(base, if (side == "down") group, if (side == "across") group)
  tally <- x$tally
  tally[[side]] <- net_question(question)
  layer <- if (any(ticks_in(tally))) tick_layer(layer, tally) else number_layer(layer, tally)
  one_layer(x, add_estimates(layer, tally), tally)
}

net_question <- function(question) {
  levels <- c("in the net", "not in it")
  replace(question, c("ordered", "levels", "missing", "values", "items", "ticked", "nets", "scores", "summed",
                      "headings"),
          list(FALSE, levels, c(FALSE, FALSE), levels, NULL, NULL, NULL, NULL, FALSE, NULL))
}

stored_net <- function(x, side, inside) {
  layer <- x$layers[[1L]]
  turn <- if (side == "down") identity else t
  sums <- function(M) turn(rbind(colSums(turn(M)[inside, , drop = FALSE]), colSums(turn(M)[!inside, , drop = FALSE])))
  none <- rep(NA_real_, 2L * length(layer$margins[[other_side[[side]]]]$n))
  n <- sums(layer$n)
  weighted <- sums(layer$weighted)
  margins <- layer$margins
  margins[[side]] <- lapply(margins[[side]], function(v) c(sum(v[inside]), sum(v[!inside])))
  shares <- lapply(c(row = "row", column = "column", total = "total"), function(percent) {
    base <- base_per_cell(weighted, percent)
    list(share = as.vector(ifelse(base > 0, weighted / base, NA_real_)), low = none, high = none,
         base = as.vector(base_per_cell(n, percent)), base_weighted = as.vector(base))
  })
  one_layer(x, new_stored_layer(layer$each, n, weighted, margins, layer$base, layer$df,
                                list(shares = shares, departures = no_departures(length(none)))))
}

# A figure of every answer and net, nets after the answers: a matrix. `figure` takes a lattice of one layer and gives a
# value a cell, down its columns.
over_parts <- function(parts, figure) {
  of <- function(x) matrix(figure(x), nrow(x$layers[[1L]]$n))
  whole <- function(part) do.call(cbind, c(list(of(part$core)), lapply(part$across, function(net) of(net)[, 1L])))
  do.call(rbind, c(list(whole(parts)), lapply(parts$down, function(net) whole(net)[1L, ])))
}

# A margin of every answer and net of a side.
margin_over_parts <- function(parts, side, what) {
  nets <- if (side == "down") lapply(parts$down, `[[`, "core") else parts$across
  of <- function(x) {
    layer <- x$layers[[1L]]
    if (what != "squared") return(layer$margins[[side]][[what]])
    # of items, and in a table read from a file, squared weights are not known
    size <- length(layer$margins[[side]]$n)
    if (is.null(layer$squared) || !is.null(layer$patterns)) return(rep(NA_real_, size))
    unname(if (side == "down") rowSums(layer$squared) else colSums(layer$squared))
  }
  c(of(parts$core), vapply(nets, function(net) of(net)[1L], 0))
}
