# What is published, one after the other: tables, results that go along with
# them, paragraphs, and of a book its title and its chapters.
#
#   kind         "table", "result", "text", "front" or "chapter"
#   x            the table, with `paragraphs` whether its own go along (or of which
#                style); the result; or the text
#   title        of all but a table, with its `parts` and its `frames` (data frames by name)
#   number, finding, figure   of a table in a book: its number, what it found in a
#                sentence, its figure

# What is made of entries of its own, such as a book, has a method.
as_entries <- function(x, call, width = Inf, as = NULL) UseMethod("as_entries")

#' @export
as_entries.default <- function(x, call, width = Inf, as = NULL) {
  if (!is.null(as))
    stop_input(tells("says_how_book_shown_none"), "format", call = call)
  entries_of(x, call, width)
}

entries_of <- function(x, call, width = Inf) {
  one <- inherits(x,
                  c("fairlattice_crosstab", "fairlattice_banner",
                    "fairlattice_sheets", names(result_titles))) ||
         is.character(x) && length(x)
  if (!one && (!is.list(x) || !length(x) || is.data.frame(x)))
    check_class(x, "fairlattice_crosstab", "x", "crosstab()", call)
  entries <- unlist(lapply(if (one) list(x) else x, entry_of, call = call,
                           width = width), recursive = FALSE)
  tables <- which(vapply(entries, function(entry) entry$kind == "table", NA))
  entries[tables] <-
    Map(function(entry, table) replace(entry, "x", list(table)),
        entries[tables], protected_tables(lapply(entries[tables], `[[`, "x")))
  # paragraphs that are given take the place of the table's own
  for (k in seq_along(entries)) if (entries[[k]]$kind == "text") {
    own <- utils::tail(which(vapply(entries[seq_len(k)], `[[`, "", "kind") ==
                               "table"), 1L)
    if (length(own)) entries[[own]]$paragraphs <- FALSE
  }
  entries
}

entry_of <- function(x, call, width) {
  if (inherits(x, "fairlattice_sheets")) x <- attr(x, "of")
  if (is.character(x)) return(list(new_text(x)))
  if (inherits(x, names(result_titles))) {
    table <- attr(x, "crosstab", exact = TRUE)
    return(c(if (!is.null(table)) list(new_table(table)),
             list(new_finding(x, width))))
  }
  check_table(x, call)
  list(new_table(x))
}

new_table <- function(x) list(kind = "table", x = x, paragraphs = TRUE)
# Texts and figures under a title, that are no function's result.
new_piece <- function(title, parts, frames = list(), number = NULL,
                      failed = FALSE) {
  list(kind = "result", x = NULL, title = title, parts = Filter(length, parts),
       frames = frames, number = number, failed = failed)
}
new_front <- function(b, recipe) {
  list(kind = "front", title = b$title, parts = list(), frames = list(), recipe = recipe)
}
new_chapter <- function(title, text) {
  list(kind = "chapter", title = title, parts = in_parts(said_part(text)),
       frames = list())
}
new_text <- function(x) {
  list(kind = "text", x = x, title = words("to_paste"),
       parts = in_parts(said_part(as.character(x))), frames = list())
}

# Of a result that has a table of its own, such as that with letters, this comes
# first.
new_finding <- function(x, width = Inf) {
  sheets <- attr(x, "sheets", exact = TRUE)
  code <- result_titles[[which(names(result_titles) %in% class(x))[1L]]]
  title <- if (inherits(x, "fairlattice_pooled"))
    words(code, each = x$labels[["each"]]) else words(code)
  list(kind = "result", x = x, title = title,
       parts = c(lapply(sheets, function(sheet) {
         list(kind = "sheet", sheet = sheet)
       }), parts_of(x, width)), frames = result_frames(x))
}

# The headings of results, by their class.
result_titles <- c(
  fairlattice_tests = "section.tests",
  fairlattice_strength = "section.strength",
  fairlattice_residuals = "section.residuals",
  fairlattice_differences = "section.differences",
  fairlattice_risks = "section.risks",
  fairlattice_detectable = "section.detectable",
  fairlattice_working = "section.working",
  fairlattice_pooled = "controlling_for",
  fairlattice_shares = "section.shares", fairlattice_totals = "section.totals",
  fairlattice_standardised = "section.standardised",
  fairlattice_quantiles = "section.quantiles", fairlattice_inequality = "section.inequality",
  fairlattice_ratios = "section.ratios",
  fairlattice_means = "section.means", fairlattice_items = "section.items",
  fairlattice_cautions = "section.cautions",
  fairlattice_goodness = "section.goodness", fairlattice_look = "section.look",
  fairlattice_recheck = "section.recheck",
  fairlattice_verified = "section.verify",
  fairlattice_related = "section.related",
  fairlattice_summary = "front.summary")

# Tables of a file are for readers, unless they are asked for otherwise.
dressed <- function(entries) {
  lapply(entries, function(entry) {
    if (entry$kind == "table" &&
          is.null(unlist(as.list(entry$x$layout)[c("dress", "lines")])))
      entry$x$layout$dress <- "published"
    entry
  })
}

published_tables <- function(entries) {
  lapply(Filter(function(entry) entry$kind == "table", entries), `[[`, "x")
}

# The paragraphs of a table's entry, in the style that is asked for.
paragraphs_of <- function(entry) {
  if (isFALSE(entry$paragraphs)) return(NULL)
  if (isTRUE(entry$paragraphs) && !"text" %in% lines_asked(entry$x$layout))
    return(NULL)
  told <- paragraphs_with(entry$x,
                          if (is.character(entry$paragraphs))
                            entry$paragraphs else "short")
  if (length(told)) visible(told)
}

# The table that a figure beside a table is of: what stands under the table is not
# said again under the figure.
drawn_beside <- function(entry) {
  drawn <- entry$drawn %||% entry$x
  if (dress_asked(as.list(entry$x$layout)) == "published")
    drawn$layout$lines <- "none"
  drawn
}

# The figure of a table's entry: its own, or the one that is asked for all.
figure_of <- function(entry, figure) entry$figure %||% figure

# A result as data frames, for workbooks and other programs.
result_frames <- function(x) {
  if (inherits(x, "fairlattice_pooled"))
    return(Filter(Negate(is.null),
                  list(tests = as.data.frame(x$tests),
                       odds_ratios = x$odds_ratios)))
  if (inherits(x, "fairlattice_goodness"))
    return(list(tests = as.data.frame(x$tests), answers = x$answers))
  bare <- as.data.frame(unclass(x), stringsAsFactors = FALSE)
  stats::setNames(list(bare), sub("fairlattice_", "", class(x)[1L]))
}

# ---- as data ----

# Whether the tables may travel as data in a file that shows them: not where the
# sheet shows less than they hold.
can_carry <- function(tables) {
  !any(vapply(tables, function(x) guards(x$layout), NA)) &&
    !any(vapply(unlist(lapply(tables, single_tables), recursive = FALSE),
                function(x) !has(x, "answers"), NA))
}

# The same of all entries. A book carries how it was made; its data are an output of
# their own.
carries <- function(entries) {
  if (is_book(entries)) length(recipe_in(entries)) > 0L else
    can_carry(published_tables(entries))
}

recipe_in <- function(entries) {
  Find(Negate(is.null), lapply(entries, `[[`, "recipe"))
}

is_book <- function(entries) {
  any(vapply(entries, function(entry) entry$kind == "chapter", NA))
}

# One table is an object; several, those of a banner, and results that go along
# are a list. With `shown`, the entries whose sheets the file shows, a further one of
# a list.
json_entries <- function(entries, shown = list(), texts = json_texts(entries)) {
  if (is_book(entries) || any(vapply(shown, function(entry) entry$kind == "table", NA)))
    texts <- c(texts, printed_json(shown))
  if (length(texts) == 1L) texts else listed_json(texts)
}

# Tables and results one by one; of a book how it was made.
json_texts <- function(entries) {
  if (is_book(entries)) return(json_text(recipe_in(entries)))
  # titles and texts of a book are no data
  data <-
    Filter(function(entry) !is.null(entry$x) || length(entry$frames), entries)
  unlist(on_cores(data, function(entry) {
    if (entry$kind == "table") vapply(single_tables(entry$x), json_of, "") else
      json_of_result(entry)
  }))
}

# Entries whose tables are laid out once, for what is drawn and for what is kept
# of it.
noting <- function(entries) {
  if (!carries(entries)) return(entries)
  lapply(entries, function(entry) {
    if (entry$kind == "table") entry$noted <- new.env(parent = emptyenv())
    entry
  })
}

# What a file carries of its tables as data is made while they are drawn; what it
# shows of them is known when they are.
drawn_with_data <- function(entries, shown, draw) {
  if (!carries(entries)) return(list(here = draw()))
  made_of <- at_once(draw, if (!is_book(entries)) function() json_texts(entries))
  texts <- made_of$aside %||% json_texts(entries)
  list(here = made_of$here, aside = json_entries(entries, shown, texts))
}

listed_json <- function(texts) paste0("[\n", paste(texts, collapse = ",\n"), "\n]")

# ---- what may go along with a table, by name ----

results_known <- list(
  tests = function(x, options) tests(x),
  strength = function(x, options) strength(x, "all", explain = TRUE),
  residuals = function(x, options) residuals(x),
  differences = function(x, options) {
    structure(differences(x),
              sheets = lay_out(x, marks = "letters", lines = "none"))
  },
  risks = function(x, options) risks(x, options$outcome, options$reference),
  totals = function(x, options) totals(x),
  quantiles = function(x, options) {
    asked <- suppressWarnings(as.numeric(options$quantiles))
    if (length(asked)) quantiles(x, asked, class_width = options$class_width) else
      quantiles(x)
  },
  inequality = function(x, options) inequality(x),
  detectable = function(x, options) detectable(x),
  working = function(x, options) working(x),
  write_up = function(x, options) write_up(x, options$write_up)
)
