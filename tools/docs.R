# Writes what is generated and committed: RcppExports, NAMESPACE and the help pages.
# Run from the root of the repository, with the package installed.
Rcpp::compileAttributes(normalizePath("."))
roxygen2::roxygenise(".", load_code = roxygen2::load_installed)
