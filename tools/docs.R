# Writes what is generated and committed: RcppExports, NAMESPACE, the help pages, and the articles in docs/.
# Run from the root of the repository, with the package installed.
Rcpp::compileAttributes(normalizePath("."))
roxygen2::roxygenise(".", load_code = roxygen2::load_installed)
if (requireNamespace("knitr", quietly = TRUE)) {
  for (source in list.files("vignettes", "[.]Rmd$", full.names = TRUE)) {
    knitr::knit(source, file.path("docs", sub("[.]Rmd$", ".md", basename(source))), quiet = TRUE, envir = new.env())
  }
}
