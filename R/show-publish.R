#' Save tables
#'
#' Writes one self-contained accessible page (`.html`), Markdown (`.md`), plain text (`.txt`), the table as it is
#' printed for a spreadsheet (`.csv`) or one row a cell for another program (`.tidy.csv`), the documented JSON
#' (`.json`), or the figure alone (`.svg`, `.png`). All but the figures and the JSON draw the laid-out table and
#' compute nothing. In a spreadsheet's file a label that would be taken for a formula stands behind an apostrophe. The
#' file is written beside its final name and then renamed, so that a failure leaves the old file as it was.
#'
#' @param x (lattice, banner, or list of them) From [lattice()], [beside()], [read_lattice()] or [lay_out()].
#' @param path (string) Where to; its ending says what is written. The folder must exist.
#' @param figure ("stacked", "departures" or "none", default "stacked") The figure drawn.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return `path`, invisibly.
#' @section Errors: `fairlattice_error_format` (unknown ending), `fairlattice_error_no_folder`,
#'   `fairlattice_error_not_written`.
#' @export
#' @examples
#' table <- lattice(demo_records(), down = ferry, across = island)
#' publish(table, tempfile(fileext = ".html"), figure = "none")
#' publish(table, tempfile(fileext = ".json"))
publish <- function(x, path, figure = c("stacked", "departures", "none"), ...) {
  nothing_else(...)
  call <- environment()
  figure <- first_of(figure)
  check_choice(figure, c(names(figures), "none"), "figure", call)
  tables <- if (inherits(x, c("fairlattice_lattice", "fairlattice_banner", "fairlattice_sheets"))) list(x) else x
  if (!is.list(tables) || !length(tables)) check_class(x, "fairlattice_lattice", "x", "lattice()", call)
  tables <- lapply(tables, function(table) if (inherits(table, "fairlattice_sheets")) attr(table, "of") else table)
  for (table in tables) check_table(table, call)
  check_output(path, call)
  check_withheld(tables, path, call)
  for (style in unique(lapply(tables, function(table) table$layout$style)))
    say_not_followed(style, ending_of(path))
  write_beside(path, function(file) writers[[ending_of(path)]]$write(tables, file, figure, call), call)
  invisible(path)
}

# A part of the house style that a form has no place for is said, not passed over.
say_not_followed <- function(style, form) {
  left <- if (!is.null(style)) not_followed(style, form)
  if (length(left))
    rlang::inform(words("style_not_followed", style = style$name, form = form, sections = left),
                  class = "fairlattice_message")
}

# What is withheld in a table is not to stand in the file in another form.
check_withheld <- function(tables, path, call) {
  ending <- ending_of(path)
  if (writers[[ending]]$sheet || !any(vapply(tables, function(table) guards(table$layout), NA))) return(invisible())
  stop_input(c(sprintf("Counts of this table are withheld or rounded, and a %s file shows them all.", toupper(ending)),
               i = "Write a page or a text, or lay the table out without withhold_under and round_to."), "format",
               call = call)
}

# What a file may end in: what writes it, whether it draws the sheet alone (so that what is withheld stays so), and
# what it is for.
writers <- list(
  html = list(write = function(tables, file, figure, call) write_whole(html_of(tables, figure, call), file),
              sheet = TRUE,
              what = "a page for the browser"),
  md = list(write = function(tables, file, figure, call) write_whole(markdown_of(tables), file), sheet = TRUE,
            what = "Markdown"),
  txt = list(write = function(tables, file, figure, call) write_whole(plain_of(tables), file), sheet = TRUE,
             what = "plain text"),
  csv = list(write = function(tables, file, figure, call) write_whole(csv_of(tables), file), sheet = TRUE,
             what = "the table as it is printed, for a spreadsheet"),
  tidy.csv = list(write = function(tables, file, figure, call) write_whole(tidy_csv_of(tables), file), sheet = FALSE,
                  what = "one row a cell, for another program"),
  json = list(write = function(tables, file, figure, call) write_whole(json_tables(tables), file), sheet = FALSE,
              what = "everything as data"),
  svg = list(write = function(tables, file, figure, call) write_figure(tables, file, figure, "svg", call),
             sheet = FALSE,
             what = "the figure"),
  png = list(write = function(tables, file, figure, call) write_figure(tables, file, figure, "png", call),
             sheet = FALSE,
             what = "the figure")
)

# The ending of a path that says what is written: the longest that is known.
ending_of <- function(path) {
  known <- names(writers)[endsWith(tolower(path), paste0(".", names(writers)))]
  if (length(known)) known[which.max(nchar(known))] else tolower(tools::file_ext(path))
}

# One table is an object; several, and those of a banner, are a list of them.
json_tables <- function(tables) {
  texts <- vapply(unlist(lapply(tables, single_tables), recursive = FALSE), json_of, "")
  if (length(texts) == 1L) texts else paste0("[\n", paste(texts, collapse = ",\n"), "\n]")
}

write_figure <- function(tables, file, figure, device, call) {
  if (length(tables) > 1L) {
    stop_input(c(sprintf("A %s file holds one figure, and there are %d tables.", toupper(device), length(tables)),
                 i = "Write a page, or one table at a time."), "format", call = call)
  }
  if (inherits(tables[[1L]], "fairlattice_banner"))
    stop_input(c("A banner has no figure.", i = "Draw one of its tables."), "format", call = call)
  if (figure == "none") stop_input("`figure` is \"none\", so there is nothing to draw.", "format", call = call)
  in_style(tables[[1L]]$layout$style, draw_figure(figure_data(tables[[1L]]), figure, file, device, call))
}

check_output <- function(path, call) {
  if (!is.character(path) || length(path) != 1L || is.na(path)) {
    stop_input(sprintf("`path` must be one file name, not %s.", quote_value(path)), "format", call = call)
  }
  if (!ending_of(path) %in% names(writers)) {
    stop_input(c(sprintf("\"%s\" does not end in a format that can be written.", path),
                 i = sprintf("There are: %s.", paste0(".", names(writers), collapse = ", "))),
               "format", path = path, call = call)
  }
  if (!dir.exists(dirname(path))) {
    stop_input(c(sprintf("There is no folder \"%s\".", dirname(path)), i = "Make it first, or name another."),
               "no_folder", path = path, call = call)
  }
  if (dir.exists(path)) stop_input(sprintf("\"%s\" is a folder, so no file of that name can be written.", path),
                                   "not_written", path = path, call = call)
}
