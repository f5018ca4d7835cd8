# Several tables of the same people: none gives away what another withholds.

# Tables and banners with what each withholds so that none gives away what
# another does; alone a table sees to that when it is laid out.
protected_tables <- function(tables) {
  if (length(tables) < 2L ||
        !any(vapply(tables, function(x) withholds(x$layout), NA))) return(tables)
  pieces <- lapply(tables, parts_of_banner)
  from <- rep(seq_along(tables), lengths(pieces))
  found <- tryCatch(protected_together(unlist(pieces, recursive = FALSE)),
                    fairlattice_error_unprotected = function(e) {
                      e$table <- from[e$table]
                      stop(e)
                    })
  lapply(seq_along(tables), function(t) {
    with_pieces(tables[[t]], found[from == t])
  })
}

# The tables of two questions or one that a table is made of, each with the
# layout of the whole; and what was worked out for them put back.
parts_of_banner <- function(x) {
  lapply(c(single_tables(x), x$totals), function(one) {
    replace(one, "layout", list(x$layout))
  })
}

with_pieces <- function(x, pieces) {
  k <- 0L
  protected <- function(one) {
    if (is.null(one)) return(NULL)
    k <<- k + 1L
    one$protected <- pieces[[k]]$protected
    one
  }
  if (!inherits(x, "fairlattice_banner")) return(protected(x))
  x$tables <- lapply(x$tables, lapply, protected)
  x$totals <- lapply(x$totals, protected)
  x
}

# Tables with what of each layer is withheld, so that none gives away what
# another withholds. `tables` are tables of two questions or one, each with its
# layout; what is withheld stays with them as `protected`.
protected_together <- function(tables) {
  layers <- do.call(rbind, lapply(seq_along(tables), function(t) {
    list2DF(list(table = rep(t, length(tables[[t]]$layers)),
                 k = seq_along(tables[[t]]$layers)))
  }))
  people <- vapply(seq_len(nrow(layers)), function(i) {
    people_of(tables[[layers$table[i]]], layers$k[i])
  }, "")
  guarded <- vapply(tables, function(x) withholds(x$layout), NA)
  found <- vector("list", length(tables))
  for (own in split(seq_len(nrow(layers)), people)) {
    at <- layers[own, ]
    first <- at$table[guarded[at$table]]
    if (!length(first)) next
    limits <- strictest(lapply(tables[unique(first)], `[[`, "layout"))
    counts <- Map(function(t, k) counts_guarded(tables[[t]], k, !guarded[t]),
                  at$table, at$k)
    held <- tryCatch(protected_or_refused(counts, limits),
                     fairlattice_error_unprotected = function(e) {
                       e$table <- at$table[e$table] # which of all of them
                       stop(e)
                     })
    for (i in seq_along(held)) {
      x <- tables[[at$table[i]]]
      found[[at$table[i]]]$held[[at$k[i]]] <-
        filled_out(held[[i]], x$layers[[at$k[i]]], has(x, "answers"))
    }
  }
  Map(function(x, own) {
    if (withholds(x$layout))
      x$protected <- c(list(limits = limits_of(x$layout)), own)
    x
  }, tables, found)
}

# Of several limits the highest holds for all tables of the same people.
strictest <- function(layouts) {
  limits <- lapply(layouts, limits_of)
  list(limit = max(vapply(limits, `[[`, 0, "limit")),
       protect = max(vapply(limits, `[[`, 0, "protect")))
}

# Who is in a layer, as far as conditions say.
people_of <- function(x, k) {
  facts <- facts_of(x)
  each <- x$layers[[k]]$each
  paste(c(all_in_words(facts$among),
          if (!is.na(each)) c(facts$each$name, each)), collapse = "\r")
}
