# What is made of a book: a file by its ending, or a site, a folder of pages.

# One output: its file, as what, and what else it takes.
write_output <- function(b, one, call = NULL) {
  if (is_site(one$file)) return(write_site(b, one$file, call))
  as <- kind_of_output(one$file, one$as)
  if (as == "data") # data have no looks, and nobody expects them to
    b$tables <- lapply(b$tables, function(table) {
      table$table$layout$style <- NULL
      table
    })
  publish(b, one$file, template = one$template, formulas = isTRUE(one$formulas),
          as = as, figure = figure_in_output(one$file, one$as))
  one$file
}

# Figures of a report are drawn where ggplot2 is there.
figure_in_output <- function(file, as) {
  drawn <- kind_of_output(file, as) == "report" &&
           requireNamespace("ggplot2", quietly = TRUE)
  if (drawn) "shares" else "none"
}

# A page a chapter, and a first page with what stands before them and the
# contents.
write_site <- function(b, folder, call) {
  folder <- sub("[/\\\\]+$", "", folder)
  if (!dir.exists(folder) &&
        !dir.create(folder, showWarnings = FALSE, recursive = TRUE))
    stop_input(c(tells("folder_cannot_made", folder),
                 i = tells("name_another")), "no_folder", call = call)
  entries <- as_entries(b, call, as = "report")
  kinds <- vapply(entries, `[[`, "", "kind")
  chapter <- cumsum(kinds == "chapter")
  first <- entries[chapter == 0L]
  pages <- lapply(seq_len(max(chapter)), function(k) entries[chapter == k])
  # every page says how the book was made
  pages <- lapply(pages, function(page) {
    page[[1L]]$recipe <- recipe_in(first)
    page
  })
  named <- sprintf("chapter-%d.html", seq_along(pages))
  figure <- figure_in_output("x.html", "report")
  write_page <- function(entries, name, ...) {
    write_beside(file.path(folder, name), function(file) {
      write_whole(html_of(entries, figure, call, ...), file)
    }, call)
  }
  for (k in seq_along(pages)) write_page(
    pages[[k]], named[k],
    elsewhere = list(
      title = b$title, pages = c("index.html", named),
      labels = c(b$title, vapply(pages, function(page) page[[1L]]$title, "")),
      here = k + 1L))
  write_page(first, "index.html", contents = site_contents(pages, named))
  file.path(folder, "index.html")
}

# The tables of all pages, each with its place.
site_contents <- function(pages, named) {
  tag <- htmltools::tags
  link <- function(href, text) tag$a(href = href, text)
  tag$nav(`aria-label` = words("tables"), class = "book",
          tag$ol(Map(function(page, name) {
            kinds <- vapply(page, `[[`, "", "kind")
            listed <- which(kinds == "table" | vapply(page, in_contents, NA))
            tag$li(link(name, page[[1L]]$title),
                   tag$ul(lapply(listed, function(k) {
                     what <- if (kinds[k] == "table") "table" else "result"
                     tag$li(link(sprintf("%s#%s-%d", name, what, k),
                                 if (what == "table")
                                   title_in_list(page[[k]]) else
                                   page[[k]]$title))
                   })))
          }, pages, named, USE.NAMES = FALSE)))
}
