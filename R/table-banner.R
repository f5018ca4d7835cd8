# Several tables as one: questions beside each other across the top (a banner),
# and below each other down the side.

#' Several tables as one
#'
#' `beside()` sets tables of the same `down` beside each other, under one
#' another's headings and with one total column; `below()` sets tables of the
#' same questions across below each other. `crosstab(survey, down = c(a, b),
#' across = c(c, d))` does both. Every block is the table of its two questions,
#' with its own test, marks and letters; the total column is of all who answered
#' `down`, whatever they answered across.
#'
#' @param x (crosstab or banner) The first.
#' @param ... (crosstabs or banners) Those that follow. They must be of the same
#'   records.
#' @return A banner (class `fairlattice_banner`): `tables`, a list (a row a
#'   question down) of lists (a column a question across) of crosstabs, and
#'   `totals`, the one-way table of each question down. Print it, lay it out
#'   with [lay_out()], or [publish()] it.
#' @section Errors: `fairlattice_error_banner` for tables that do not go
#'   together.
#' @export
#' @examples
#' survey <- demo_records()
#' crosstab(survey, down = ferry, across = c(island, tenure))
#' beside(crosstab(survey, ferry, island), crosstab(survey, ferry, mode))
beside <- function(x, ...) {
  call <- environment()
  parts <- lapply(list(x, ...), as_banner, call = call)
  rows <- unique(vapply(parts, function(part) length(part$tables), 0L))
  if (length(rows) > 1L)
    stop_banner(tells("banners_many_questions_down_go"), call)
  new_banner(lapply(seq_len(rows), function(i) {
    unlist(lapply(parts, function(part) part$tables[[i]]), recursive = FALSE)
  }), parts[[1L]]$layout, call)
}

#' @rdname beside
#' @export
below <- function(x, ...) {
  call <- environment()
  parts <- lapply(list(x, ...), as_banner, call = call)
  new_banner(unlist(lapply(parts, `[[`, "tables"), recursive = FALSE),
             parts[[1L]]$layout, call)
}

as_banner <- function(x, call) {
  if (inherits(x, "fairlattice_banner")) return(x)
  check_class(x, "fairlattice_crosstab", "x", "crosstab()", call)
  structure(list(tables = list(list(x)), layout = x$layout),
            class = "fairlattice_banner")
}

# `tables` is a list of rows, each a list of crosstabs (NULL where a question
# would stand against itself).
new_banner <- function(tables, layout = NULL, call = NULL) {
  for (table in unlist(tables, recursive = FALSE)) {
    if (!is.null(table) && !has(table, "records")) {
      stop_banner(tells("table_read_file_cannot_stand"), call)
    }
  }
  there <- function(row) Filter(Negate(is.null), row)
  side <- function(table, side) {
    table$tally[[side]][c("name", "label", "levels")]
  }
  for (row in tables) same(lapply(there(row), side, "down"), "down", call)
  for (j in seq_along(tables[[1L]])) same(
    there(lapply(tables, function(row) {
      if (!is.null(row[[j]])) side(row[[j]], "across")
    })), "across", call)
  all <- there(unlist(tables, recursive = FALSE))
  same(lapply(all, function(table) table$tally$records), "records", call)
  same(lapply(all, function(table) side(table, "each")), "each", call)
  tables <- with_same_answers(tables, call)
  structure(list(tables = tables,
                 totals = lapply(tables, function(row) {
                   alone(there(row)[[1L]], call)
                 }), layout = layout), class = "fairlattice_banner")
}

# Tables beside each other show the same answers down, tables below each other
# the same across, though in some of them nobody may have given one.
with_same_answers <- function(tables, call) {
  kept <- function(row) {
    all(vapply(row, function(table) {
      is.null(table) || isTRUE(table$choices$keep_empty)
    }, NA))
  }
  if (all(vapply(tables, kept, NA))) return(tables) # all that could be given are shown
  given <- function(tables, of) {
    unique(unlist(lapply(tables, function(table) {
      if (!is.null(table)) of(table$layers[[1L]])
    })))
  }
  down <- lapply(tables, function(row) {
    first <- Filter(Negate(is.null), row)[[1L]]
    c(given(row, answers_down), answers_down(alone(first, call)$layers[[1L]]))
  })
  across <- lapply(seq_along(tables[[1L]]), function(j) {
    given(lapply(tables, `[[`, j), answers_across)
  })
  lapply(seq_along(tables), function(i) {
    lapply(seq_along(tables[[i]]), function(j) {
      table <- tables[[i]][[j]]
      if (is.null(table)) return(NULL)
      shown <- list(down = down[[i]], across = across[[j]])
      layer <- table$layers[[1L]]
      if (all(shown$down %in% answers_down(layer)) &&
            all(shown$across %in% answers_across(layer))) return(table)
      replace(new_crosstab(table$tally,
                           replace(table$choices, "shown", list(shown)), call),
              "layout", list(table$layout))
    })
  })
}

same <- function(found, what, call) {
  if (length(unique(found)) <= 1L) return(invisible())
  names <- unique(vapply(found, function(one) {
    if (is.list(one)) one$name %||% "none" else format_count(one)
  }, ""))
  stop_banner(c(tells("these_tables_do_not_same",
                      if (what == "records") "records" else
                        sprintf("`%s`", what), list_some(names)),
                i = tells("tables_beside_each_other_share")), call)
}

stop_banner <- function(message, call) {
  stop_input(message, "banner", call = call)
}

# The one-way table of a table's question down: everybody who answered it,
# whatever they answered across.
alone <- function(x, call = NULL) {
  tally <- x$tally
  tally$cells$across <- rep(1L, nrow(tally$cells))
  tally$cells <- sum_by(tally$cells, c("unit", "each", "across", "down"),
                        summed_columns(tally$cells))
  tally$across <- everybody_question()
  choices <- x$choices
  choices[c("explains", "paired")] <- list("across", FALSE)
  if (!is.null(choices$shown)) choices$shown["across"] <- list(NULL)
  new_crosstab(tally, choices, call)
}
