# What is published, one after the other: tables, results that go along with them, and paragraphs.
#
#   kind         "table", "result" or "text"
#   x            the table, with `paragraphs` whether its own go along; the result; or the text
#   title        of a result or text, with its `parts` and its `frames` (data frames by name)

entries_of <- function(x, call, width = Inf) {
  one <- inherits(x, c("fairlattice_lattice", "fairlattice_banner", "fairlattice_sheets", names(result_titles))) ||
    is.character(x) && length(x)
  if (!one && (!is.list(x) || !length(x) || is.data.frame(x))) check_class(x, "fairlattice_lattice", "x", "lattice()",
                                                                           call)
  entries <- unlist(lapply(if (one) list(x) else x, entry_of, call = call, width = width), recursive = FALSE)
  # paragraphs that are given take the place of the table's own
  for (k in seq_along(entries)) if (entries[[k]]$kind == "text") {
    own <- utils::tail(which(vapply(entries[seq_len(k)], `[[`, "", "kind") == "table"), 1L)
    if (length(own)) entries[[own]]$paragraphs <- FALSE
  }
  entries
}

entry_of <- function(x, call, width) {
  if (inherits(x, "fairlattice_sheets")) x <- attr(x, "of")
  if (is.character(x)) return(list(new_text(x)))
  if (inherits(x, names(result_titles))) {
    table <- attr(x, "lattice", exact = TRUE)
    return(c(if (!is.null(table)) list(new_table(table)), list(new_finding(x, width))))
  }
  check_table(x, call)
  list(new_table(x))
}

new_table <- function(x) list(kind = "table", x = x, paragraphs = TRUE)
new_text <- function(x) {
  list(kind = "text", x = x, title = words("to_paste"), parts = in_parts(said_part(as.character(x))), frames = list())
}

# Of a result that has a table of its own, such as that with letters, this comes first.
new_finding <- function(x, width = Inf) {
  sheets <- attr(x, "sheets", exact = TRUE)
  code <- result_titles[[which(names(result_titles) %in% class(x))[1L]]]
  title <- if (inherits(x, "fairlattice_pooled")) words(code, each = x$labels[["each"]]) else words(code)
  list(kind = "result", x = x, title = title,
       parts = c(lapply(sheets, function(sheet) list(kind = "sheet", sheet = sheet)), parts_of(x, width)),
       frames = result_frames(x))
}

# The headings of results, by their class.
result_titles <- c(
  fairlattice_tests = "section.tests", fairlattice_strength = "section.strength",
  fairlattice_departures = "section.departures", fairlattice_differences = "section.letters",
  fairlattice_risks = "section.risks", fairlattice_detectable = "section.detectable",
  fairlattice_working = "section.working", fairlattice_pooled = "controlling_for",
  fairlattice_shares = "section.shares",
  fairlattice_means = "section.means", fairlattice_items = "section.items", fairlattice_cautions = "section.cautions",
  fairlattice_goodness = "section.goodness", fairlattice_look = "section.look",
  fairlattice_recheck = "section.recheck")

published_tables <- function(entries) lapply(Filter(function(entry) entry$kind == "table", entries), `[[`, "x")

# The paragraphs of a table's entry.
paragraphs_of <- function(entry) if (entry$paragraphs) paragraphs_with(entry$x)

# A result as data frames, for workbooks and other programs.
result_frames <- function(x) {
  if (inherits(x, "fairlattice_pooled"))
    return(Filter(Negate(is.null), list(tests = as.data.frame(x$tests), odds_ratios = x$odds_ratios)))
  if (inherits(x, "fairlattice_goodness")) return(list(tests = as.data.frame(x$tests), answers = x$answers))
  bare <- as.data.frame(unclass(x), stringsAsFactors = FALSE)
  stats::setNames(list(bare), sub("fairlattice_", "", class(x)[1L]))
}

# ---- as data ----

# Whether the tables may travel as data in a file that shows them: not where the sheet shows less than they hold.
can_carry <- function(tables) {
  !any(vapply(tables, function(x) guards(x$layout), NA)) &&
    !any(vapply(unlist(lapply(tables, single_tables), recursive = FALSE),
                function(x) isTRUE(facts_of(x)$down$summed), NA))
}

# One table is an object; several, those of a banner, and results that go along are a list.
json_entries <- function(entries) {
  texts <- unlist(lapply(entries, function(entry) {
    if (entry$kind == "table") vapply(single_tables(entry$x), json_of, "") else json_of_result(entry)
  }))
  if (length(texts) == 1L) texts else paste0("[\n", paste(texts, collapse = ",\n"), "\n]")
}
