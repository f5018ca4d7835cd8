# The web site, in .build/site: articles, the reference by task (of ?fairlattice, so that there
# is one list), news. Ends in failure where a link leads nowhere.
#   Rscript tools/site.R [without-examples]
site <- file.path(getwd(), ".build", "site")
unlink(site, recursive = TRUE)
work <- tempfile("site")
dir.create(work)
some <- c("DESCRIPTION", "NAMESPACE", "LICENSE", "NEWS.md", "README.md", "R", "man", "vignettes",
          "inst", "exec", "docs")
invisible(file.copy(some, work, recursive = TRUE))
# pkgdown would build into docs/, where our documents are
documents <- file.path(work, "articles-of-the-repository")
invisible(file.rename(file.path(work, "docs"), documents))

# The rows of the table of ?fairlattice: a title and its topics.
tasks <- function() {
  lines <- grep("^#' \\|.*\\[", readLines("R/fairlattice-package.R"), value = TRUE)
  cells <- strsplit(sub("^#' \\| *", "", lines), " *\\| *")
  lapply(cells, function(cell) {
    topics <- regmatches(cell[2L], gregexpr("\\[[^]]+\\](\\[[^]]+\\])?", cell[2L]))[[1L]]
    topics <- gsub("[][`]|[(][)]", "", sub("^\\[[^]]+\\](?=\\[)", "", topics, perl = TRUE))
    list(title = paste0(toupper(substr(cell[1L], 1L, 1L)), substring(cell[1L], 2L)),
         contents = as.list(sub("^(tidy|glance)$", "reexports", topics)))
  })
}
listed <- tasks()
named <- unlist(lapply(listed, `[[`, "contents"))
aliases <- lapply(list.files("man", "[.]Rd$", full.names = TRUE), function(file) {
  c(sub("[.]Rd$", "", basename(file)),
    sub("^\\\\alias\\{(.*)\\}$", "\\1", grep("^\\\\alias", readLines(file), value = TRUE)))
})
named <- c(named, "fairlattice-package")
left <- vapply(Filter(function(one) !any(one %in% named), aliases), `[`, "", 1L)
article <- function(title, ...) list(title = title, contents = list(...))
config <- list(
  template = list(bootstrap = 5L, bslib = list(primary = "#2f5d62", `link-color` = "#1f5a6b")),
  home = list(title = "Fair Lattice"),
  navbar = list(structure = list(left = list("intro", "articles", "reference", "news"),
                                 right = list("search")),
                components = list(intro = list(text = "Get started",
                                               href = "articles/a-tour-in-five-minutes.html"))),
  articles = list(
    article("Get started", "a-tour-in-five-minutes", "your-own-data", "what-it-prevents", "words"),
    article("By task", "from-the-field-to-a-table", "from-a-plan-to-a-book",
            "from-a-complex-survey-to-a-table", "where-the-records-live",
            "reading-a-crosstab-fairly"),
    article("Formats", "the-json-of-a-table")),
  reference = c(listed, list(list(title = "More", contents = as.list(left)))))
yaml::write_yaml(config, file.path(work, "_pkgdown.yml"), indent.mapping.sequence = TRUE)

# links of the first page to documents that are articles
readme <- readLines(file.path(work, "README.md"))
for (name in sub("[.]Rmd$", "", list.files("vignettes", "[.]Rmd$")))
  readme <- gsub(sprintf("](docs/%s.md)", name), sprintf("](articles/%s.html)", name), readme,
                 fixed = TRUE)
readme <- gsub("](docs/screenshots/", "](articles/screenshots/", readme, fixed = TRUE)
readme <- gsub("](NEWS.md)", "](news/index.html)", readme, fixed = TRUE)
readme <- gsub("\\[([^]]+)\\]\\((docs/[A-Z]+[.]md|CONTRIBUTING[.]md)\\)",
               "\\1 (`\\2` in the sources)", readme)
writeLines(readme, file.path(work, "README.md"))
invisible(file.copy(file.path(documents, "screenshots"), file.path(work, "vignettes"),
                    recursive = TRUE))
for (file in list.files(file.path(work, "vignettes"), "[.]Rmd$", full.names = TRUE)) {
  writeLines(gsub("\\]\\(([a-z-]+)[.]md\\)", "](\\1.html)", readLines(file)), file)
}

options(pkgdown.internet = FALSE)
Sys.setenv(FAIRLATTICE_PICTURES = "yes")
suppressMessages(pkgdown::build_site(work, preview = FALSE, install = FALSE, devel = FALSE,
                                     new_process = FALSE,
                                     examples = !"without-examples" %in% commandArgs(TRUE),
                                     override = list(destination = site)))
dir.create(file.path(site, "articles", "screenshots"), showWarnings = FALSE)
invisible(file.copy(list.files(file.path(documents, "screenshots"), full.names = TRUE),
                    file.path(site, "articles", "screenshots")))

# Every link to a page, picture or place of the site leads somewhere.
pages <- list.files(site, "[.]html$", recursive = TRUE)
dead <- unlist(lapply(pages, function(page) {
  html <- xml2::read_html(file.path(site, page))
  found <- c(xml2::xml_attr(xml2::xml_find_all(html, "//a[@href]"), "href"),
             xml2::xml_attr(xml2::xml_find_all(html, "//img[@src]"), "src"))
  found <- unique(found[!grepl("^(https?:|mailto:|data:|#|//)|^$", found)])
  to <- utils::URLdecode(sub("[?#].*", "", paste(found, collapse = "\n")))
  to <- strsplit(to, "\n", fixed = TRUE)[[1L]]
  path <- file.path(site, dirname(page), to)
  gone <- nzchar(to) & !file.exists(path)
  if (any(gone)) sprintf("%s: %s", page, found[gone])
}))
if (length(dead)) {
  message("site: links that lead nowhere:\n  ", paste(dead, collapse = "\n  "))
  quit(status = 1L)
}
cat(sprintf("site: %d pages in .build/site; open .build/site/index.html\n", length(pages)))
