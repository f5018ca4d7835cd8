# Writes what is generated and committed: the calls of the kernels, the schema of plans,
# NAMESPACE, the help pages, and the articles in docs/. Run from the root of the repository, with
# the package installed.
cpp11::cpp_register(normalizePath("."), quiet = TRUE)
writeLines(fairlattice:::plan_schema(), "inst/extdata/plan.schema.json", useBytes = TRUE)
roxygen2::roxygenise(".", load_code = roxygen2::load_installed)
Sys.setenv(FAIRLATTICE_PICTURES = "yes") # articles show them in the repository
if (requireNamespace("knitr", quietly = TRUE)) {
  for (source in list.files("vignettes", "[.]Rmd$", full.names = TRUE)) {
    article <- file.path("docs", sub("[.]Rmd$", ".md", basename(source)))
    knitr::knit(source, article, quiet = TRUE, envir = new.env())
    # its header is for R's index of vignettes
    text <- readLines(article)
    header <- seq_len(which(text == "---")[2L])
    title <- sub("^title: \"(.*)\"$", "\\1", grep("^title: ", text[header], value = TRUE))
    writeLines(c(paste("#", title), text[-header]), article)
    dir.create("inst/doc", showWarnings = FALSE)
    # the same as a page that is installed with the package
    if (requireNamespace("commonmark", quietly = TRUE)) {
      body <- commonmark::markdown_html(readLines(article), extensions = TRUE)
      writeLines(c("<!DOCTYPE html>",
                   "<html lang=\"en\"><head><meta charset=\"utf-8\">",
                   sprintf("<title>%s</title>", title),
                   paste("<style>body { max-width: 60rem; margin: 2rem auto;",
                         "padding: 0 1rem; font: 16px/1.5 sans-serif } table",
                         "{ border-collapse: collapse } th, td { padding:",
                         ".2rem .6rem; border-bottom: 1px solid #c9c4ba } pre",
                         "{ background: #f6f4ef; padding: .75rem; overflow-x:",
                         "auto; line-height: 1.3 }</style>"), "</head><body>",
                   body, "</body></html>"),
                 file.path("inst/doc",
                           sub("[.]Rmd$", ".html", basename(source))))
    }
  }
}
