# What may be chosen of a table: each is an argument of crosstab().
table_choices <- function() {
  once(program, "table_choices", NULL, list(
    explains = new_choice("choice", c("across", "down"), default = "across",
                          anew = TRUE),
    percent = new_choice("choice", c("column", "row", "total"), anew = TRUE,
                         default = function(chosen) {
                           if (chosen$explains == "across") "column" else "row"
                         }),
    alpha = new_choice("fraction", default = function(chosen) setting("alpha"),
                       anew = TRUE),
    correction = new_choice("choice", names(corrections),
                            default = function(chosen) setting("correction"),
                            anew = TRUE),
    keep_empty = new_choice("flag", default = TRUE, stored = FALSE),
    paired = new_choice("flag", default = FALSE),
    margin = new_choice("fraction", anew = TRUE, stored = FALSE),
    peaks = new_choice("flag", default = FALSE),
    p = new_choice("choice", ways_to_p)))
}

chosen_anew <- function() {
  choices_that(table_choices(), function(choice) choice$anew)
}

# What is asked of them, checked, and the others as they are by default.
checked_choices <- function(asked = list(), call = NULL) {
  known <- table_choices()
  chosen <- list()
  for (name in names(known)) {
    chosen[name] <- list(asked[[name]] %||% default_of(known[[name]], chosen))
    if (!is.null(chosen[[name]]))
      check_chosen(known[[name]], chosen[[name]], name, call)
  }
  chosen
}

ways_to_p <- c("asymptotic", "exact", "simulated")

# The names of the corrections, and what a reader calls them.
corrections <- c(holm = "Holm", bonferroni = "Bonferroni",
                 benjamini_hochberg = "Benjamini-Hochberg")

# A crosstab holds the tally, the choices made of it, and a layer per answer of
# `each`. Results are worked out when they are first asked for
# (R/infer-results.R) and kept in the layers.
new_crosstab <- function(tally, choices, call = NULL) {
  sums <- unclass(tally)
  layers <-
    layers_of(sums, choices$keep_empty, isTRUE(choices$paired), choices$shown)
  used <- sum(vapply(layers, function(layer) layer$base$records, 0))
  if (used == 0) stop_nobody(tally, call)
  size <- if (isTRUE(sums$down$summed)) ncol(layers[[1L]]$n) else
    length(layers[[1L]]$n)
  if (size > setting("most_cells")) {
    stop_input(c(tells("table_would_cells_most", format_count(size),
                       format_count(setting("most_cells"))),
                 i = tells("cut_numbers_into_bands_join")), "too_many_cells",
               call = call)
  }
  layers <-
    lapply(layers, function(layer) without_cells(add_estimates(layer, sums)))
  x <- list(tally = tally, choices = choices, layers = layers,
            kept = new.env(parent = emptyenv()))
  class(x) <- "fairlattice_crosstab"
  x
}

# The cells of an ordinary layer are some of its tally's, from which
# layer_cells() finds them again; those of ticks are put together.
without_cells <- function(layer) {
  if (!inherits(layer, "fairlattice_ticks_layer")) layer["cells"] <- list(NULL)
  layer
}

stop_nobody <- function(tally, call) {
  left <- account_of(tally)$left_out
  why <- c(no_answer = "no answer", outside = "outside of the condition",
           cannot_tell = "the condition cannot be told",
           no_weight = "no weight", zero_weight = "a weight of 0")
  reason <- ifelse(left$code %in% names(why), why[left$code],
                   ifelse(nzchar(left$detail), left$detail, left$code))
  where <- ifelse(nzchar(left$question), paste0(left$question, ": "), "")
  stop_input(c(tells("no_respondents_table"),
               x = tells("records_by_reason", format_count(left$records),
                         format_count(tally$records), where,
                         gsub("_", " ", reason))), "nobody", call = call)
}

stop_one_way <- function(what, call) {
  stop_input(c(tells("table_one_question_alone", what),
               i = tells("name_question_across_crosstab")), "one_way",
             call = call)
}

# Of a stored table only what was chosen when it was made can be asked for; NULL
# is as it was.
check_stored <- function(x, asked, call) {
  for (name in names(Filter(Negate(is.null), asked))) {
    was <- x$choices[[name]] %||% as_stored[[name]]
    if (!identical(asked[[name]], was))
      stop_records_gone(name, asked[[name]], was, call)
  }
}

# How results are made unless something else is asked for, which is how they are
# stored.
as_stored <- list(interval = "usual", type = "adjusted", scores = "equal")

stop_records_gone <- function(name, asked, was, call) {
  stop_input(c(tells("table_read_file_cannot_worked",
                     if (is.null(was)) "" else
                       tells("where_it_was", name, quote_value(was)), name,
                     quote_value(asked)), i = tells("make_records_crosstab")),
             "records_gone", call = call)
}

# A crosstab made from records or counts, of one answer a person.
check_made <- function(x, call, ticks = FALSE) {
  check_class(x, "fairlattice_crosstab", "x", "crosstab()", call)
  check_figured(x, call, ticks)
}

# The same of one that is known to be a crosstab.
check_figured <- function(x, call, ticks) {
  check_records_there(x, call)
  if (!has(x, "across")) stop_one_way(tells("no_such_figures"), call)
  if (!ticks && has(x, "answers") && !has(x, "adds_up")) {
    stop_input(c(tells("tick_all_question_no_such"),
                 i = tells("test_items_tests_item_item")), "ticks", call = call)
  }
}

check_records_there <- function(x, call) {
  if (!has(x, "records"))
    stop_input(c(tells("table_read_file_records_gone"),
                 i = tells("make_records_crosstab")), "records_gone",
               call = call)
}

check_paired <- function(tally, call) {
  answers <- lapply(tally[c("down", "across")], answers_of)
  declared <- !all(tally$down$observed, tally$across$observed)
  alone <- setdiff(union(answers$down, answers$across),
                   intersect(answers$down, answers$across))
  if (any(ticks_in(tally)) ||
        length(intersect(answers$down, answers$across)) < 2L ||
        (declared && length(alone))) {
    stop_input(c(tells("paired_needs_same_answers", tally$down$label,
                       tally$across$label),
                 x = if (length(alone))
                   tells("only_one_side_has", list_some(alone, 5L)),
                 i = tells("join_answers_alike_both_leave")), "paired",
               call = call)
  }
}

# The place of every code in the table: code 0 and reasons have none.
places_of <- function(question) {
  place <- cumsum(!question$missing)
  place[question$missing] <- 0L
  c(0L, place)
}

# `also` are answers of `down` and `across` that are shown though nobody may
# have given them.
layers_of <- function(tally, keep_empty, paired = FALSE, also = NULL) {
  row <- places_of(tally$down)[tally$cells$down + 1L]
  column <- places_of(tally$across)[tally$cells$across + 1L]
  inside <- row > 0L & column > 0L
  if (!is.null(tally$each)) {
    of_layer <- places_of(tally$each)[tally$cells$each + 1L]
    inside <- inside & of_layer > 0L
  }
  shown <- function(question, at, also = NULL) {
    answers <- answers_of(question)
    if (keep_empty || !is.null(question$items)) rep(TRUE, length(answers)) else
      seq_along(answers) %in% at[inside] | answers %in% also
  }
  rows <- shown(tally$down, row, also$down)
  columns <- shown(tally$across, column, also$across)
  if (paired && length(rows) == length(columns))
    rows <- columns <- rows | columns
  answers <-
    list(answers_of(tally$down)[rows], answers_of(tally$across)[columns])
  if (!all(rows)) row <- c(0L, cumsum(rows))[row + 1L]
  if (!all(columns)) column <- c(0L, cumsum(columns))[column + 1L]
  if (is.null(tally$each))
    return(list(layer_at(tally, which(inside), row, column, answers,
                         NA_character_, paired)))
  names <- answers_of(tally$each)
  lapply(which(shown(tally$each, of_layer)), function(k) {
    layer_at(tally, which(inside & of_layer == k), row, column, answers,
             names[k], paired)
  })
}

# The layer made of the tally's cells `at`, by the row and column of each among
# the answers shown.
layer_at <- function(tally, at, row, column, answers, each, paired) {
  cells <- c(cells_at_kernel(tally$cells, at, row, column),
             auxiliary_at(tally$cells, at))
  sums <- table_sums_kernel(cells, answers)
  replicates <- if (!is.null(tally$design$replicates))
    replicate_totals(tally, at,
                     cells$row + (cells$column - 1L) * length(answers[[1L]]),
                     prod(lengths(answers)))
  layer <- new_layer(each,
                     c(down = tally$down$ordered,
                       across = tally$across$ordered), paired, sums$n, sums$w,
                     sums$w2, sum(tally$cells$records[at]), cells, replicates)
  layer_of_kind(layer, tally)
}
