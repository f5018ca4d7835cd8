# The book: every table of a plan from one pass over the records, in chapters,
# with what failed under its reason.

#' The book of a tab plan
#'
#' Makes every table that a plan asks for. A table that cannot be made (nobody
#' is in it, one answer only) does not stop the others: it keeps its number and
#' says why. `significant()` keeps the tables that have an association after
#' correction over the whole book; `summary()` is one row a pair of questions.
#'
#' @param plan (plan or string) From [read_plan()] or [plan_of()], or the path
#'   of a plan.
#' @param only (strings, default all) Chapters by title or "chapter 2", tables
#'   by number, or names of questions.
#' @param records,before See [read_plan()], for a plan given by its path.
#' @param cache (TRUE, FALSE or string, default FALSE) Whether a book of an
#'   unchanged plan, of unchanged records and of the same version is taken from
#'   where it was kept, a folder of the user's cache, or the one that is named.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return A book (class `fairlattice_book`): `b["ferry", "island"]` is the
#'   table of two questions, `b["ferry"]` that of one with all its questions
#'   across, `b[[7]]` table 7, `b[1:3]` a book of three tables, whose p-values
#'   stay corrected over the whole book; it can be given to [publish()].
#' @section Errors: `fairlattice_error_plan`; `fairlattice_error_book` when
#'   nothing is left to be made.
#' @references Benjamini Y, Hochberg Y (1995) Controlling the false discovery
#'   rate. Journal of the Royal Statistical Society B 57: 289-300.
#' @export
#' @examples
#' survey <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement)
#' plan <- plan_of(survey, across = c(island, tenure),
#'                 chapters = list("At home" = c("heating", "internet")))
#' b <- book(plan)
#' b
#' b["heating", "island"]
#' significant(b)
book <- function(plan, only = NULL, records = NULL, before = NULL,
                 cache = FALSE, ...) {
  nothing_else(...)
  call <- environment()
  if (is.character(plan)) {
    kept <- cache_entry(plan, records, before, only, cache, call)
    found <- kept_book(kept)
    if (!is.null(found)) return(found)
    plan <- read_plan(plan, records, before)
  } else {
    kept <- NULL
    check_class(plan, "fairlattice_plan", "plan", "read_plan() or plan_of()",
                call)
  }
  items <- items_asked(plan, only, call)
  local_language(plan$asked$language)
  made <- protected_book(made_tables(plan, items))
  chapters <- lapply(plan$asked$chapters, function(chapter) {
    list(title = chapter$title, text = chapter$text)
  })
  out <- structure(list(title = plan$asked$title %||% words("book.title"),
                        chapters = chapters, tables = made,
                        language = plan$asked$language, style = plan$style,
                        outputs = outputs_of_plan(plan), made = plan$made,
                        plan = plan_of_any_records(plan$keys),
                        called = if (!is.null(plan$compare))
                          levels(plan$compare$survey$data[[wave_column]]),
                        front = front_of(plan$survey, plan$asked$across),
                        kept = new.env(parent = emptyenv())),
                   class = "fairlattice_book")
  keep_book(out, kept)
  out
}

# The tables that `only` leaves.
items_asked <- function(plan, only, call) {
  items <- plan$tables
  if (!is.null(only)) items <- items[tables_named(plan, items, only, call)]
  if (!length(items))
    stop_input(c(tells("no_tables_made"),
                 i = tells("see_chapters_name_questions")), "book", call = call)
  items
}

tables_named <- function(plan, items, only, call) {
  titles <- vapply(plan$asked$chapters, function(chapter) chapter$title, "")
  chapter <- vapply(items, function(item) item$chapter, 0L)
  down <- lapply(items, `[[`, "down")
  number <- vapply(items, function(item) item$number, 0L)
  hit <- lapply(as.character(only), function(word) {
    at <- if (grepl("^chapter +[0-9]+$", word, ignore.case = TRUE))
      chapter == as.integer(sub("^\\D+", "", word)) else
      if (grepl("^[0-9]+$", word)) number == as.integer(word) else
        tolower(titles[chapter]) == tolower(word) |
          vapply(down, function(names) word %in% names, NA)
    if (!any(at))
      stop_input(c(tells("plan_no_chapter_table_question", cut_short(word)),
                   did_you_mean(word, c(titles, unlist(down)), "chapters")),
                 "book", call = call)
    at
  })
  Reduce(`|`, hit)
}

# ---- the tables ----

made_tables <- function(plan, items) {
  surveys <- surveys_of_items(plan$survey, items)
  compared <- if (!is.null(plan$compare))
    surveys_of_items(kept_among(plan, plan$compare$survey, plan$asked,
                                character()), items, with_waves_within)
  work <- function(k) {
    item <- items[[k]]
    made <- made_table(item, surveys[[item_key(item)]], plan$style)
    if (!is.null(compared) && is.null(made$failure) && is.null(item$each))
      made$change <- either(table_of_change(
                              plan$compare, item, compared[[item_key(item)]],
                              plan$style))
    made$table <-
      on_tallies(made$table, without_sums, surveys[[item_key(item)]])
    made
  }
  # the sums of what is made stand in its table
  settle <- function(made, done) {
    made <- Map(function(one, k) {
      one["table"] <-
        list(on_tallies(one$table, with_sums, surveys[[item_key(items[[k]])]]))
      one
    }, made, done)
    for (item in items[done]) forget_tallies(
      surveys[[item_key(item)]], pairs_of_item(item))
    made
  }
  in_batches(seq_along(items), work, function(k) items[[k]]$down[1L],
             after = settle)
}

# What every table withholds so that the others do not give it away; a table
# whose counts cannot be protected fails.
protected_book <- function(made) {
  there <- which(vapply(made, function(one) is.null(one$failure), NA))
  guarded <- vapply(made[there], function(one) withholds(one$table$layout), NA)
  if (!any(guarded)) return(made)
  found <- tryCatch(protected_tables(lapply(made[there], `[[`, "table")),
                    fairlattice_error_unprotected = identity)
  if (inherits(found, "fairlattice_error_unprotected")) {
    k <- there[found$table]
    made[[k]]["table"] <- list(NULL)
    made[[k]]$failure <- cli::ansi_strip(first_line(conditionMessage(found)))
    return(protected_book(made))
  }
  made[there] <- Map(function(one, table) replace(one, "table", list(table)),
                     made[there], found)
  made
}

item_key <- function(item) {
  paste(c("among", vapply(item$among, function(one) one$among, "")),
        collapse = "\r")
}

# The survey of every filter that occurs, with the sums of all its tables.
surveys_of_items <- function(survey, items, ready = with_tallies) {
  key <- vapply(items, item_key, "")
  lapply(stats::setNames(unique(key), unique(key)), function(one) {
    own <- items[key == one]
    for (condition in own[[1L]]$among) survey <-
      among(survey, !!condition$among, condition$base)
    ready(survey, own)
  })
}

made_table <- function(item, survey, style) {
  x <- either(table_of_item(item, survey, style))
  along <- if (!is.character(x)) either(results_along(x, item, survey))
  if (is.character(along)) x <- along
  c(item[c("number", "chapter", "down", "across", "each", "settings")],
    list(title = title_of_item(x, item, survey),
         table = if (!is.character(x)) x, failure = if (is.character(x)) x,
         along = if (!is.character(along)) along))
}

table_of_item <- function(item, survey, style) {
  chosen <-
    item$settings[intersect(names(item$settings), names(table_choices()))]
  overlap <- isTRUE(item$settings$overlap) && length(item$across) > 1L
  x <- rlang::inject(crosstab(survey, down = !!item$down,
                              across = !!item$across, each = !!item$each,
                              !!!chosen, paired = item$paired,
                              shares = item$shares, overlap = overlap))
  layout <-
    item$settings[intersect(names(item$settings), names(layout_choices()))]
  layout$title <- item$title
  x <- with_layout(x, layout, style)
  x$layout$number <- as.character(item$number)
  work_out(x)
}

# Every result of a table, so that it is kept with it.
work_out <- function(x) {
  for (one in single_tables(x)) cautions_of(one)
  x
}

title_of_item <- function(x, item, survey) {
  if (!is.null(item$title)) return(item$title)
  if (!is.character(x)) return(title_of_table(x))
  label <- function(names) {
    vapply(names, function(name) label_of(survey$data[[name]]) %||% name, "")
  }
  if (is.null(item$across)) return(paste(label(item$down), collapse = ", "))
  words("title", down = paste(label(item$down), collapse = ", "),
        across = paste(label(item$across), collapse = ", "))
}

# What goes along with a table.
results_along <- function(x, item, survey) {
  standardised_too <- if (!is.null(item$standardise))
    standardised_along(x, survey, item$standardise, standard_in_words(item$standard))
  pooled_too <- if (item$pooled) lapply(single_tables(x), pooled)
  wanted <- union(item$settings$along, if (!is.null(item$quantiles)) "quantiles")
  found <- lapply(wanted, function(name) {
    lapply(single_tables(x), function(one) {
      results_known[[name]](one, item[c("quantiles", "class_width")])
    })
  })
  c(unlist(found, recursive = FALSE), standardised_too, pooled_too)
}

# ---- reading a book ----

failed_tables <- function(b) {
  Filter(function(one) !is.null(one$failure), b$tables)
}

#' @rdname book
#' @param x (book)
#' @param i (strings or numbers) Questions down, or numbers of tables.
#' @param j (strings) Questions across.
#' @export
`[.fairlattice_book` <- function(x, i, j, ...) {
  nothing_else(...)
  call <- environment()
  at <- if (missing(i)) seq_along(x$tables) else tables_at(x, i, call)
  if (missing(j)) {
    if (length(at) == 1L && !missing(i)) return(table_at(x$tables[[at]], call))
    return(narrowed(x, x$tables[at]))
  }
  found <- unlist(lapply(x$tables[at], function(one) {
    if (is.null(one$failure))
      lapply(Filter(function(pair) pair$tally$across$name %in% j,
                    single_tables(one$table)), like_its_table, one$table)
  }), recursive = FALSE)
  if (!length(found)) {
    known <- unique(unlist(lapply(x$tables[at], `[[`, "across")))
    stop_input(c(tells("book_no_table_by",
                       if (missing(i)) "any question" else list_some(i),
                       list_some(j)), did_you_mean(j[1L], known, "across")),
               "book", call = call)
  }
  if (length(found) == 1L) found[[1L]] else found
}

# A table of two questions, laid out as the table of the book that it is a part
# of.
like_its_table <- function(pair, whole) {
  pair$layout <-
    whole$layout[setdiff(names(whole$layout), c("number", "title"))]
  pair
}

#' @export
`[[.fairlattice_book` <- function(x, i, ...) {
  nothing_else(...)
  call <- environment()
  table_at(x$tables[[tables_at(x, i, call)[1L]]], call)
}

# Some tables of a book. It goes on knowing the others, since their tests were
# made too.
narrowed <- function(b, tables) {
  b$whole <- b$whole %||% b$tables
  b$tables <- tables
  b
}

tables_at <- function(x, i, call) {
  number <- numbers_of_tables(x$tables)
  at <- if (is.numeric(i)) which(number %in% i) else
    which(vapply(x$tables, function(one) any(one$down %in% i), NA))
  if (!length(at))
    stop_input(c(tells("book_no_table_of", list_some(i)),
                 did_you_mean(i[1L], unlist(lapply(x$tables, `[[`, "down")),
                              "questions")), "book", call = call)
  at
}

table_at <- function(one, call) {
  if (!is.null(one$failure))
    stop_input(c(tells("table_could_not_made", one$number, one$title),
                 x = one$failure), "book", call = call)
  one$table
}

#' @rdname book
#' @param alpha (number in 0-1, default option `fairlattice.alpha`, 0.05) Level
#'   of the corrected p-values.
#' @export
significant <- function(x, alpha = NULL, ...) {
  nothing_else(...)
  call <- environment()
  alpha <- alpha %||% setting("alpha")
  check_class(x, "fairlattice_book", "x", "book()", call)
  check_fraction(alpha, "alpha", call)
  found <- summary(x)
  narrowed(x,
           Filter(function(one) {
             any(found$p_corrected[found$table == one$number] <= alpha,
                 na.rm = TRUE)
           }, x$tables))
}
