# Which cells of tables of counts are withheld, so that nobody can be told from
# them: those of few respondents, and as many others as it takes that every count
# of few respondents could be another by at least `protect`.
#
# An intruder knows all that is shown: counts, totals, zeros, and that a withheld
# count is at least 1 (where no zero of its table is withheld). Counts that are
# withheld can move together so that every total stays as it is: in a table, whose
# rows and columns are the points of a network, they move along its cycles, one up
# and the next down. How far a count can move is what can flow through the network
# from its column back to its row (Ford & Fulkerson 1962; Cox 1980, JASA
# 75:377-385, for tables). Totals that are withheld can move in pairs, one up and
# another down by as much, if every table of the same question can follow.
#
# What is worked out is one move at a time, which is possible: the room that a
# count really has is at least what is found here.

# `tables` are of the same people, each a list of
#   n        respondents, answers down by answers across, both named; one column
#            for a question alone
#   down, across   names of the questions; `across` is NA for a question alone
#   totals   `down` and `across`: respondents of each answer
#   base     respondents in the table
#   ticks    whether the answers of `down` and `across` are items of ticks
#   most     what a count can be at most (of ticks, the respondents), or NULL
#   open     whether the table is shown whole
#   sample   what some respondents answered, or NULL: `who` they are, `down`, `across`
# The result has for each a logical matrix with the totals as its last row and
# column, and as the attribute `open` what cannot be protected: lists of table,
# down and across (NA for a total).
protected_cells <- function(tables, limit, protect) {
  # of so few respondents nothing is shown
  none <- vapply(tables, function(table) {
    few(table$base, limit) && !isTRUE(table$open)
  }, NA)
  out <- lapply(tables, function(table) array(TRUE, dim(table$n) + 1L))
  found <- protected_among(tables[!none], limit, protect)
  out[!none] <- found
  open <- lapply(attr(found, "open"), function(one) {
    replace(one, "table", which(!none)[one$table])
  })
  structure(out, open = open)
}

protected_among <- function(tables, limit, protect) {
  state <- list(tables = tables, limit = limit, protect = protect,
                maps = nests_among(tables))
  state$sides <- sides_among(tables, state$maps)
  state$derived <- derived_from(tables, state$maps)
  # what is withheld of itself, and what is withheld by now
  state$few <- state$held <- lapply(tables, few_in, limit = limit)
  state$few_totals <- state$totals <- few_totals(state)
  failed <- list()
  repeat {
    lacking <- first_lacking(state, failed)
    if (is.null(lacking)) break
    wider <- if (is.null(lacking$cell)) widened_totals(state, lacking) else
      widened_cells(state, lacking)
    if (is.null(wider)) failed <- c(failed, list(lacking)) else state <- wider
  }
  structure(lapply(seq_along(tables), function(k) held_with_totals(state, k)),
            open = lapply(failed, named_lack, state = state))
}

# ---- what is withheld of itself ----

few <- function(n, limit) n > 0 & n < limit

few_in <- function(table, limit) {
  if (is.na(table$across) || isTRUE(table$open))
    return(array(FALSE, dim(table$n)))
  small <- few(table$n, limit)
  if (!is.null(table$most)) small <- small | few(table$most - table$n, limit)
  small
}

# Totals by question, those of the finest of questions that nest: a total of few
# respondents in any table.
few_totals <- function(state) {
  out <- list()
  for (side in state$sides) {
    if (is.null(out[[side$finest]]))
      out[[side$finest]] <-
        stats::setNames(logical(length(side$to)), names(side$to))
    small <- few(side$totals, state$limit)
    if (side$ticks) small <- small | few(side$base - side$totals, state$limit)
    if (!side$open)
      out[[side$finest]][side$to %in% names(side$totals)[small]] <- TRUE
  }
  out
}

# The sides of all tables: number of the table (`k`), `down` or `across`, the
# finest question that it is made of, which of its answers those are in (`to`).
sides_among <- function(tables, maps) {
  unlist(lapply(seq_along(tables), function(k) {
    table <- tables[[k]]
    lapply(sides_of(table), function(side) {
      c(maps[[table[[side]]]],
        list(k = k, side = side, totals = table$totals[[side]],
             base = table$base, ticks = isTRUE(table$ticks[[side]]),
             open = isTRUE(table$open), alone = is.na(table$across),
             height = nrow(table$n)))
    })
  }), recursive = FALSE)
}

# Those of one question.
sides_with <- function(state, finest) {
  Filter(function(side) side$finest == finest, state$sides)
}

sides_of <- function(table) if (is.na(table$across)) "down" else c("down", "across")

# The points of a table's network between which as much flows as the total of one
# answer can go up and that of another down, whose places on a side are `at`.
points_of_totals <- function(side, at) {
  if (side$side == "down") at else side$height + rev(at)
}

# Which totals of a side of a table are withheld.
totals_held <- function(state, k, side) {
  table <- state$tables[[k]]
  map <- state$maps[[table[[side]]]]
  held <- unique(map$to[state$totals[[map$finest]][names(map$to)]])
  totals <- table$totals[[side]]
  names(totals) %in% held & totals > 0 & !isTRUE(table$open)
}

held_with_totals <- function(state, k) {
  table <- state$tables[[k]]
  cells <- if (is.na(state$derived[k])) state$held[[k]] else
    held_of_parts(state, k)
  down <- totals_held(state, k, "down")
  if (is.na(table$across)) {
    cells[] <- down
    across <- FALSE
  } else {
    across <- totals_held(state, k, "across")
  }
  rbind(cbind(cells, down), c(across, FALSE))
}

# ---- how far counts can move ----

# The network of a table: points are its rows and then its columns; a withheld
# count goes up from row to column, and down from column to row.
network_of <- function(table, held) {
  size <- dim(held)
  low <- if (any(held & table$n == 0)) 0 else 1
  rows <- seq_len(size[1L])
  columns <- size[1L] + seq_len(size[2L])
  out <- matrix(0, sum(size), sum(size))
  most <- table$most %||% Inf
  out[rows, columns] <- ifelse(held, pmax(most - table$n - (table$n < most), 0), 0)
  out[columns, rows] <- t(ifelse(held, pmax(table$n - low, 0), 0))
  out
}

network_at <- function(state, k) network_of(state$tables[[k]], state$held[[k]])

# How far a count can go up and down while every total stays, or two totals move
# (`more`: arcs of the network, with what each can carry).
room_of <- function(network, at, height, enough, more = list(NULL)) {
  column <- height + at[2L]
  own <- c(network[at[1L], column], network[column, at[1L]])
  network[at[1L], column] <- network[column, at[1L]] <- 0
  found <- vapply(more, function(arc) {
    if (!is.null(arc))
      network[arc$from, arc$to] <- network[arc$from, arc$to] + arc$most
    c(most_flow_kernel(network, column, at[1L], min(own[1L], enough)),
      most_flow_kernel(network, at[1L], column, min(own[2L], enough)))
  }, c(0, 0))
  c(up = max(found[1L, ]), down = max(found[2L, ]))
}

# By how much the total of one answer (of the finest question) can go up and that
# of another down, in every table of the question but one.
pair_room <- function(state, finest, up, down, but = 0L, enough = Inf) {
  out <- enough
  for (side in sides_with(state, finest)) {
    if (side$k == but || !is.na(state$derived[side$k])) next
    at <- match(side$to[c(up, down)], names(side$totals))
    if (anyNA(at)) return(0)
    if (at[1L] == at[2L]) next
    if (side$open) return(0)
    out <- min(out, side$totals[at[2L]] - 1,
               if (side$ticks) side$base - side$totals[at[1L]] - 1)
    if (out <= 0) return(0)
    if (side$alone) next
    points <- points_of_totals(side, at)
    out <- most_flow_kernel(network_at(state, side$k), points[1L], points[2L], out)
  }
  out
}

# Pairs of withheld totals of a table, as arcs of its network.
arcs_of_totals <- function(state, k) {
  of_side <- function(side) {
    held <- names(which(state$totals[[side$finest]]))
    pairs <- expand.grid(up = held, down = held, stringsAsFactors = FALSE)
    pairs <- pairs[side$to[pairs$up] != side$to[pairs$down], ]
    lapply(seq_len(nrow(pairs)), function(p) {
      at <- match(side$to[c(pairs$up[p], pairs$down[p])], names(side$totals))
      most <- min(side$totals[at[2L]] - 1,
                  pair_room(state, side$finest, pairs$up[p], pairs$down[p], k,
                            state$protect))
      if (anyNA(at) || most <= 0) return(NULL)
      # what flows between the points elsewhere comes back here
      points <- rev(points_of_totals(side, at))
      list(from = points[1L], to = points[2L], most = most)
    })
  }
  own <- Filter(function(side) side$k == k, state$sides)
  Filter(Negate(is.null), unlist(lapply(own, of_side), recursive = FALSE))
}

# ---- what is not protected yet ----

# A total or a count of few respondents that can move by less than it should, but
# for those with which that `failed`.
first_lacking <- function(state, failed) {
  open <- function(one) !any(vapply(failed, same_lack, NA, one))
  lacking_total(state, open) %||% lacking_cell(state, open)
}

lacking_total <- function(state, open) {
  small <- lapply(state$few_totals, which)
  for (finest in names(small)) for (answer in names(small[[finest]])) {
    one <- list(finest = finest, answer = answer)
    if (!open(one)) next
    others <- setdiff(names(which(state$totals[[finest]])), answer)
    room <- vapply(others, function(other) {
      pair_room(state, finest, answer, other, enough = state$protect) +
        pair_room(state, finest, other, answer, enough = state$protect)
    }, 0)
    if (!any(room >= state$protect)) return(one)
  }
}

lacking_cell <- function(state, open) {
  for (k in which(is.na(state$derived))) {
    table <- state$tables[[k]]
    small <- which(state$few[[k]])
    if (!length(small)) next
    network <- network_at(state, k)
    arcs <- NULL
    for (cell in small) {
      one <- list(table = k, cell = cell)
      if (!open(one)) next
      at <- arrayInd(cell, dim(table$n))
      room <- room_of(network, at, nrow(table$n), state$protect)
      if (sum(room) >= state$protect) next
      arcs <- arcs %||% arcs_of_totals(state, k)
      room <- room_of(network, at, nrow(table$n), state$protect,
                      c(list(NULL), arcs))
      if (sum(room) < state$protect) return(c(one, list(room = room)))
    }
  }
}

same_lack <- function(one, other) {
  identical(one[c("table", "cell", "finest", "answer")],
            other[c("table", "cell", "finest", "answer")])
}

named_lack <- function(one, state) {
  if (is.null(one$cell)) {
    having <- Find(function(side) !side$open, sides_with(state, one$finest))
    return(list(table = having$k, question = one$finest, down = one$answer,
                across = NA_character_))
  }
  table <- state$tables[[one$table]]
  at <- arrayInd(one$cell, dim(table$n))
  list(table = one$table, question = table$down, down = rownames(table$n)[at[1L]],
       across = colnames(table$n)[at[2L]])
}

# ---- partners ----

# The state with more cells of a table withheld, so that a count can move
# further; NULL where none helps.
widened_cells <- function(state, lacking) {
  k <- lacking$table
  table <- state$tables[[k]]
  at <- arrayInd(lacking$cell, dim(table$n))
  column <- nrow(table$n) + at[2L]
  short <- state$protect - sum(lacking$room)
  for (need in needs_from(short + lacking$room[["up"]])) {
    wider <- with_way(state, k, column, at[1L], need, lacking$cell)
    if (!is.null(wider)) return(wider)
  }
  for (need in needs_from(short + lacking$room[["down"]])) {
    wider <- with_way(state, k, at[1L], column, need, lacking$cell)
    if (!is.null(wider)) return(wider)
  }
  # or its total, which another takes up: rather one that is withheld already
  own <- c(down = at[1L], across = at[2L])
  there <- vapply(names(own), function(side) {
    totals_held(state, k, side)[own[[side]]]
  }, NA)
  for (side in names(own)[order(!there)]) {
    map <- state$maps[[table[[side]]]]
    answer <- names(map$to)[map$to == names(table$totals[[side]])[own[[side]]]][1L]
    wider <- with_partner_total(state, map$finest, answer)
    if (!is.null(wider)) return(wider)
  }
  NULL
}

# What is asked for at once, or else in smaller steps.
needs_from <- function(need) {
  out <- ceiling(need / 2^(0:6))
  unique(out[out >= 1])
}

with_way <- function(state, k, from, to, need, but = NULL) {
  for (anew in c(FALSE, TRUE)) {
    cells <- cheapest_way(state$tables[[k]], state$held[[k]], from, to, need,
                          but, anew)
    new <- cells[!state$held[[k]][cells]]
    if (length(new)) {
      state$held[[k]][new] <- TRUE
      return(state)
    }
  }
  NULL
}

# A total of few respondents needs another that moves against it, in all tables.
widened_totals <- function(state, lacking) {
  held <- setdiff(names(which(state$totals[[lacking$finest]])), lacking$answer)
  for (other in held) {
    wider <- followed(state, lacking$finest, lacking$answer, other)
    if (!is.null(wider)) return(wider)
  }
  with_partner_total(state, lacking$finest, lacking$answer)
}

# The same with one more total withheld: that of the fewest respondents that can
# take it up.
with_partner_total <- function(state, finest, answer) {
  sides <- sides_with(state, finest)
  if (any(vapply(sides, `[[`, NA, "open"))) return(NULL)
  sizes <- sizes_over(sides)
  others <- names(sort(sizes[!state$totals[[finest]] & sizes > 0]))
  for (other in setdiff(others, answer)) {
    tried <- state
    tried$totals[[finest]][c(answer, other)] <- TRUE
    wider <- followed(tried, finest, answer, other) %||% tried
    if (pair_room(wider, finest, answer, other, enough = 1) > 0) return(wider)
  }
  NULL
}

# Respondents of every answer of a question: the fewest that any table has.
sizes_over <- function(sides) {
  Reduce(function(a, b) pmin(a, b[names(a)], na.rm = TRUE),
         lapply(sides, function(side) {
           stats::setNames(side$totals[side$to], names(side$to))
         }))
}

# Every table in which the two totals stand is given cells that can follow them;
# NULL where there are none to add.
followed <- function(state, finest, up, down) {
  before <- state$held
  for (side in sides_with(state, finest)) {
    at <- match(side$to[c(up, down)], names(side$totals))
    if (!is.na(state$derived[side$k]) || side$alone || at[1L] == at[2L]) next
    points <- points_of_totals(side, at)
    have <- most_flow_kernel(network_at(state, side$k), points[1L], points[2L],
                             state$protect)
    for (need in if (have < state$protect) needs_from(state$protect)) {
      wider <- with_way(state, side$k, points[1L], points[2L], need)
      if (!is.null(wider)) {
        state <- wider
        break
      }
    }
  }
  if (!identical(before, state$held)) state
}

# The cells of the cheapest way from one point to another on which every count
# that goes down has `need` to give (Dijkstra 1959). What is withheld already
# costs nothing (`anew`: is not to go down again); a zero can only go up, and
# costs more than any count.
cheapest_way <- function(table, held, from, to, need, but = NULL, anew = FALSE) {
  n <- table$n
  size <- dim(n)
  height <- size[1L]
  cost <- ifelse(held, 0, ifelse(n > 0, n, 2 * sum(n) + 1))
  up <- down <- cost
  low <- if (any(held & n == 0)) 0 else 1
  down[n - low < need | anew & held] <- Inf
  if (!is.null(table$most)) up[table$most - n - 1 < need] <- Inf
  up[but] <- down[but] <- Inf
  points <- sum(size)
  rows <- seq_len(height)
  step <- matrix(Inf, points, points)
  step[rows, -rows] <- up
  step[-rows, rows] <- t(down)
  far <- replace(rep(Inf, points), from, 0)
  before <- integer(points)
  done <- logical(points)
  repeat {
    now <- which.min(ifelse(done, Inf, far))
    if (done[now] || !is.finite(far[now]) || now == to) break
    done[now] <- TRUE
    nearer <- far[now] + step[now, ] < far
    far[nearer] <- far[now] + step[now, nearer]
    before[nearer] <- now
  }
  if (!is.finite(far[to])) return(integer())
  way <- integer()
  while (to != from) {
    ends <- sort(c(to, before[to]))
    way <- c(way, ends[1L] + (ends[2L] - height - 1L) * height)
    to <- before[to]
  }
  way
}

# ---- questions that nest ----

# For every question the finest that it is made of, and which of its answers each
# answer of that is in. Two questions nest where, in tables by the same third,
# the columns of one are sums of those of the other (but for people who did not
# answer the finer one).
nests_among <- function(tables) {
  maps <- list()
  for (table in tables) for (side in sides_of(table)) {
    answers <- names(table$totals[[side]])
    maps[[table[[side]]]] <-
      list(finest = table[[side]], to = stats::setNames(answers, answers))
  }
  for (a in tables) for (b in tables) {
    if (is.na(a$across) || is.na(b$across) || !identical(a$down, b$down) ||
          identical(a$across, b$across) ||
          maps[[b$across]]$finest != b$across) next
    to <- parts_of_columns(with_total_row(a), with_total_row(b), sampled_parts(a, b))
    if (!is.null(to)) {
      finer <- maps[[a$across]]
      maps[[b$across]] <-
        list(finest = finer$finest,
             to = stats::setNames(to[finer$to], names(finer$to)))
    }
  }
  maps
}

with_total_row <- function(table) rbind(table$n, table$totals$across)

# Which columns of B the respondents of every column of A are in, as far as a sample
# of them says; NULL where nothing is known.
sampled_parts <- function(a, b) {
  if (is.null(a$sample) || !identical(a$sample$who, b$sample$who)) return(NULL)
  both <- a$sample$across %in% colnames(a$n) & b$sample$across %in% colnames(b$n)
  lapply(split(b$sample$across[both], factor(a$sample$across[both], colnames(a$n))), unique)
}

# Which column of B every column of A is a part of; NULL where they do not nest.
# Columns are tried where a sample has their respondents, or else in all: that may
# take for ever, and is given up after so many steps.
most_steps_of_nesting <- 3000L

parts_of_columns <- function(A, B, sampled = NULL) {
  if (nrow(A) != nrow(B) || ncol(A) <= ncol(B) ||
        sum(B) - sum(A) > 0.05 * sum(B) || any(lengths(sampled) > 1L)) return(NULL)
  places <- rep(list(seq_len(ncol(B))), ncol(A))
  known <- lengths(sampled) == 1L
  places[known] <- match(unlist(sampled[known]), colnames(B))
  order <- order(lengths(places), -column_sums(A))
  steps <- 0L
  assign_from <- function(left, at, to) {
    if (at > length(order)) return(to)
    steps <<- steps + 1L
    if (steps > most_steps_of_nesting) return(NULL)
    column <- A[, order[at]]
    for (j in places[[order[at]]]) if (all(left[, j] >= column)) {
      further <- left
      further[, j] <- further[, j] - column
      to[order[at]] <- colnames(B)[j]
      found <- assign_from(further, at + 1L, to)
      if (!is.null(found)) return(found)
    }
    NULL
  }
  to <- assign_from(B, 1L, character(ncol(A)))
  if (!is.null(to) && length(unique(to)) == ncol(B))
    stats::setNames(to, colnames(A))
}

# A table whose cells are sums of those of another adds nothing to it: its cells
# are withheld where one of their parts is. The number of that other table, or NA.
derived_from <- function(tables, maps) {
  fine <- function(name) maps[[name]]$finest == name
  vapply(seq_along(tables), function(k) {
    b <- tables[[k]]
    if (is.na(b$across) || isTRUE(b$open) || fine(b$down) && fine(b$across)) return(NA_integer_)
    from <- which(vapply(tables, function(a) {
      !is.na(a$across) && !isTRUE(a$open) && fine(a$down) && fine(a$across) &&
        maps[[a$down]]$finest == maps[[b$down]]$finest &&
        maps[[a$across]]$finest == maps[[b$across]]$finest
    }, NA))
    if (length(from)) from[1L] else NA_integer_
  }, 0L)
}

held_of_parts <- function(state, k) {
  table <- state$tables[[k]]
  from <- state$tables[[state$derived[k]]]
  parts <- which(state$held[[state$derived[k]]], arr.ind = TRUE)
  place <- function(side, at) {
    map <- state$maps[[table[[side]]]]
    match(map$to[names(from$totals[[side]])[at]], names(table$totals[[side]]))
  }
  out <- array(FALSE, dim(table$n))
  out[cbind(place("down", parts[, 1L]), place("across", parts[, 2L]))] <- TRUE
  out & table$n > 0
}
