#' Save tables
#'
#' Writes tables in the form that the file's ending asks for:
#'
#' * `.html`: one self-contained accessible page; `.mail.html`: the same to
#'   paste into a mail, with its look and without hidden words;
#' * `.docx`: a Word document in named styles, with captions that Word counts,
#'   in the styles of a house's `template`;
#' * `.xlsx`: a workbook with a sheet a table and numbers that are numbers; with
#'   `formulas` sheets that calculate;
#' * `.pptx`: a slide a table with a table and a chart that can be edited, on a
#'   house's `template`;
#' * `.tex`, `.pdf`: LaTeX, and what LaTeX makes of it;
#' * `.md`: Markdown; `.txt`: plain text;
#' * `.csv`: the table as it is printed, for a spreadsheet; `.tidy.csv`,
#'   `.parquet`: one row a cell, for another program;
#' * `.json`: the documented JSON;
#' * `.svg`, `.png`, `.figure.pdf`: the figure alone.
#'
#' All but the figures, the tidy form, the JSON and a workbook with formulas
#' draw the laid-out table and compute nothing. Pages, documents, workbooks and
#' slides carry the JSON inside, so that [read_tables()] brings the tables back.
#' In a spreadsheet's text file a label that would be taken for a formula stands
#' behind an apostrophe. The file is written beside its final name and then
#' renamed, so that a failure leaves the old file as it was.
#'
#' @param x (crosstab, banner, result, or list of them) From [crosstab()],
#'   [beside()], [read_tables()] or [lay_out()]; in a list also results such as
#'   those of [residuals()], [risks()], [pooled()] or [look()].
#' @param path (string) Where to; its ending says what is written. The folder
#'   must exist.
#' @param figure (string, default "shares") The figure drawn, one of those of
#'   [autoplot()][autoplot.fairlattice_crosstab], or "none". A table that cannot
#'   have it has the usual one.
#' @param template (string) A document or presentation of the house (`.docx` or
#'   `.pptx`), whose styles the new one takes. Styles that it lacks are added;
#'   those of the same name are its own.
#' @param formulas (TRUE or FALSE, default FALSE) Of a workbook: whether counts
#'   are typed in and all else calculates.
#' @param as ("report", "tables" or "data", default by the ending) Of a
#'   [book()]: with figures and findings, tables alone, or the figures of its
#'   tables as data.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return `path`, invisibly.
#' @section Errors: `fairlattice_error_format` (unknown ending),
#'   `fairlattice_error_template`,
#'   `fairlattice_error_no_folder`, `fairlattice_error_not_written`,
#'   `fairlattice_error_package`.
#' @export
#' @examples
#' table <- crosstab(demo_records(), down = ferry, across = island)
#' publish(table, tempfile(fileext = ".html"), figure = "none")
#' publish(table, tempfile(fileext = ".json"))
publish <- function(x, path, figure = c(names(figures), "none"),
                    template = NULL, formulas = FALSE, as = NULL, ...) {
  nothing_else(...)
  call <- environment()
  figure <- first_of(figure)
  check_choice(figure, c(names(figures), "none"), "figure", call)
  check_flag(formulas, "formulas", call)
  entries <- as_entries(x, call, as = as)
  tables <- published_tables(entries)
  check_output(path, call)
  check_taken(path, template, formulas, call)
  check_withheld(entries, ending_of(path), formulas, call)
  check_not_source(tables, path, call)
  for (style in unique(lapply(tables, function(table) table$layout$style)))
    say_not_followed(style, ending_of(path))
  if (!identical(as, "data")) say_layout_left(tables, ending_of(path), formulas)
  entries <- dressed(entries)
  asked <-
    list(figure = figure, template = template, formulas = formulas, call = call)
  write_beside(path, function(file) {
    writers[[ending_of(path)]]$write(entries, file, asked)
  }, call)
  if (writers[[ending_of(path)]]$sheet)
    say_before_handing_on(published_tables(entries), path)
  invisible(path)
}

# What the author is to know of a table that goes to readers without it: its
# cautions, those of several tables by their kind.
say_before_handing_on <- function(tables, path) {
  found <- unlist(lapply(tables, left_to_author), recursive = FALSE)
  if (!length(found)) return(invisible())
  codes <- vapply(found, function(one) one$what$code, "")
  first <- found[!duplicated(codes)]
  rlang::inform(words("before_handing_on", file = basename(path),
                      cautions = all_in_words(lapply(first, function(one) {
                        brief_of(one$what)
                      })),
                      more = as.vector(table(factor(codes, unique(codes)))) - 1L),
                class = c("fairlattice_before_handing_on", "fairlattice_message"))
}

# The cautions of a table that do not stand in its published form, one a kind.
left_to_author <- function(table) {
  in_style(table$layout$style, {
    found <- unlist(lapply(single_tables(table), function(x) {
      x$layout <- table$layout
      layout <- layout_of(x)
      if (guards(layout) || layout$dress != "published") return(NULL)
      shown <- "cautions" %in% layout$lines
      unlist(lapply(seq_along(x$layers), function(k) {
        Filter(function(one) !shown || !for_readers(one),
               cautions_told(x, k, layout, FALSE))
      }), recursive = FALSE)
    }), recursive = FALSE)
    found[!duplicated(vapply(found, function(one) one$what$code, ""))]
  })
}

# A part of the house style that a form has no place for is said, not passed
# over.
say_not_followed <- function(style, form) {
  left <- if (!is.null(style)) not_followed(style, form)
  if (length(left))
    rlang::inform(words("style_not_followed", style = style$name, form = form,
                        sections = left), class = "fairlattice_message")
}

# What was asked of the layout and this form has no place for is said, too.
say_layout_left <- function(tables, form, formulas) {
  follows <- if (formulas) "title" else writers[[form]]$follows
  if (is.null(follows)) return(invisible())
  asked <- unlist(lapply(tables, function(table) {
    layout <- as.list(table$layout)
    # numbers of respondents, which every form has
    if (all(layout$show %in% c("n", "weighted"))) layout$show <- NULL
    names(Filter(Negate(is.null),
                 layout[intersect(names(layout), names(layout_choices()))]))
  }))
  left <- setdiff(asked, follows)
  if (length(left))
    rlang::inform(words("layout_not_followed", form = form,
                        choices = as.list(left)), class = "fairlattice_message")
}

# A table does not take the place of the records that it was made from.
check_not_source <- function(tables, path, call) {
  sources <- unlist(lapply(unlist(lapply(tables, single_tables),
                                  recursive = FALSE), function(table) {
                                    table$tally$facts$source$path
                                  }))
  if (file.exists(path) && normalizePath(path) %in% sources)
    stop_input(c(tells("holds_records_table_not_written", path),
                 i = tells("name_another")), "not_written", path = path,
               call = call)
}

# What goes along with a table whose counts are guarded would give them away; a
# book has left it out.
check_alone <- function(entries, call) {
  if (!any(vapply(published_tables(entries), function(table) {
    guards(table$layout)
  }, NA))) return(invisible())
  along <- Find(function(entry) {
    entry$kind != "table" && !is.null(entry$x) && is.null(entry$number)
  }, entries)
  if (!is.null(along))
    stop_input(c(tells("counts_table_withheld_rounded_what"),
                 x = tells("asked_for", along$title),
                 i = tells("write_table_alone_lay_out")), "format",
                 call = call)
}

# What is withheld in a table is not to stand in the file in another form.
check_withheld <- function(entries, ending, formulas, call) {
  if (!any(vapply(published_tables(entries), function(table) {
    guards(table$layout)
  }, NA))) return(invisible())
  check_alone(entries, call)
  if (writers[[ending]]$sheet && !formulas) return(invisible())
  stop_input(c(tells("counts_table_withheld_rounded_file", ending,
                     if (formulas) " that calculates" else ""),
               i = tells("write_page_text_lay_table")), "format", call = call)
}

# What a file may end in: what writes it and what it is for; whether it draws
# the sheet alone (so that what is withheld stays so); what else it takes; and
# which choices of the layout it follows (NULL: all).
new_writer <- function(what, write, sheet = TRUE, takes = character(),
                       follows = NULL) {
  list(what = what, write = write, sheet = sheet, takes = takes,
       follows = follows)
}

figures_follow <- c("title", "sort", "last", "only", "labels", "hide_under", "dress", "lines")

writers <- list(
  html = new_writer("a page to open in a browser",
                    function(entries, file, asked) {
                      write_whole(html_of(entries, asked$figure, asked$call),
                                  file)
                    }),
  mail.html = new_writer("a page to paste into a mail, or a document",
                         function(entries, file, asked) {
                           write_whole(mail_of(entries), file)
                         }),
  docx = new_writer("a document for Word", takes = "template",
                    write = function(entries, file, asked) {
                      word_of(entries, file, asked)
                    }),
  xlsx = new_writer("a workbook that calculates", takes = "formulas",
                    write = function(entries, file, asked) {
                      workbook_of(entries, file, asked)
                    }),
  pptx = new_writer("slides, with charts that can be edited",
                    takes = "template",
                    write = function(entries, file, asked) {
                      slides_of(entries, file, asked)
                    }),
  tex = new_writer("LaTeX, which compiles as it stands",
                   function(entries, file, asked) {
                     write_whole(latex_of(entries), file)
                   }),
  pdf = new_writer("a PDF, made by LaTeX", function(entries, file, asked) {
    write_pdf(entries, file, asked$call)
  }),
  md = new_writer("Markdown, for a wiki or a repository",
                  function(entries, file, asked) {
                    write_whole(markdown_of(entries), file)
                  }),
  txt = new_writer("plain text, as a terminal shows it",
                   function(entries, file, asked) {
                     write_whole(plain_of(entries), file)
                   }),
  csv = new_writer("the table as it is printed, for a spreadsheet",
                   function(entries, file, asked) {
                     write_whole(csv_of(entries), file)
                   }),
  tidy.csv = new_writer("one row a cell, for another program", sheet = FALSE,
                        follows = character(),
                        write = function(entries, file, asked) {
                          write_tidy_csv(published_tables(entries), file)
                        }),
  parquet = new_writer("one row a cell, for a database", sheet = FALSE,
                       follows = character(),
                       write = function(entries, file, asked) {
                         need_package("nanoparquet", tells("to_write_parquet"),
                                      asked$call)
                         nanoparquet::write_parquet(
                           tidy_frame(published_tables(entries), identity),
                           file)
                       }),
  json = new_writer("everything as data", sheet = FALSE, follows = "title",
                    write = function(entries, file, asked) {
                      write_whole(json_entries(entries), file)
                    }),
  svg = new_writer("the figure, which can be made larger", sheet = FALSE,
                   follows = figures_follow, write = function(entries, file, asked) {
                     write_figure(entries, file, asked, "svg")
                   }),
  png = new_writer("the figure as a picture", sheet = FALSE, follows = figures_follow,
                   write = function(entries, file, asked) {
                     write_figure(entries, file, asked, "png")
                   }),
  figure.pdf = new_writer("the figure for LaTeX or print", sheet = FALSE,
                          follows = figures_follow,
                          write = function(entries, file, asked) {
                            write_figure(entries, file, asked, "pdf")
                          })
)

# What is asked of a form that does not take it is told, not passed over.
check_taken <- function(path, template, formulas, call) {
  given <- c(template = !is.null(template), formulas = formulas)
  for (name in names(given)[given]) {
    takers <- names(Filter(function(writer) name %in% writer$takes, writers))
    if (!ending_of(path) %in% takers)
      stop_input(c(tells("files_not", name,
                         paste0(".", takers, collapse = " and "),
                         basename(path))), "format", path = path, call = call)
  }
}

# The ending of a path that says what is written: the longest that is known.
ending_of <- function(path) {
  known <- names(writers)[endsWith(tolower(path), paste0(".", names(writers)))]
  if (length(known)) known[which.max(nchar(known))] else file_ending(path)
}

write_figure <- function(entries, file, asked, device) {
  call <- asked$call
  tables <- published_tables(entries)
  picture <- if (!length(tables) && length(entries) == 1L)
    picture_of(entries[[1L]]$x)
  if (!is.null(picture)) {
    need_package("ggplot2", tells("to_draw_figure"), call)
    return(draw_picture(picture, file, device, call))
  }
  if (length(tables) != 1L) {
    stop_input(c(tells("file_holds_one_figure_tables", toupper(device),
                       length(tables)), i = tells("write_page_one_table_time")),
               "format", call = call)
  }
  if (asked$figure == "none")
    stop_input(tells("figure_none_nothing_draw"), "format", call = call)
  in_style(tables[[1L]]$layout$style,
           draw_figure(figure_data(tables[[1L]]), asked$figure, file, device,
                       call))
}

check_output <- function(path, call) {
  if (!is.character(path) || length(path) != 1L || is.na(path)) {
    stop_input(tells("path_one_file_name_not", quote_value(path)), "format",
               call = call)
  }
  if (!ending_of(path) %in% names(writers)) {
    stop_input(c(tells("does_not_end_format_can", path),
                 i = tells("possible_are",
                           paste0(".", names(writers), collapse = ", "))),
               "format", path = path, call = call)
  }
  if (!dir.exists(dirname(path))) {
    stop_input(c(tells("no_folder", dirname(path)),
                 i = tells("make_first_name_another")), "no_folder",
               path = path, call = call)
  }
  if (dir.exists(path)) stop_input(tells("folder_no_file_name_can", path),
                                   "not_written", path = path, call = call)
}
