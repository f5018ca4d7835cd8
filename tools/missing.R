# Prints the packages that DESCRIPTION asks for and R lacks (or has too old), one a line; with --install, installs them.
# "run": what the program needs; "dev": also what `make docs` and `make lint` need; else what the tests need too.
args <- commandArgs(trailingOnly = TRUE)
fields <- c("Imports", "LinkingTo", if (!"run" %in% args) "Suggests")
asked <- read.dcf("DESCRIPTION", fields)
entries <- trimws(unlist(strsplit(asked[!is.na(asked)], ",")))
names <- sub("[ (].*", "", entries)
least <- ifelse(grepl(">=", entries), sub(".*>= *([0-9.-]+).*", "\\1", entries), "0")
if ("run" %in% args) { # figures, documents, workbooks and slides are part of the demo
  names <- c(names, "ggplot2", "officer", "ragg", "svglite", "xml2", "zip")
  least <- c(least, "3.4.1", "0.6.0", "1.2.4", "2.1.1", "1.3.3", "2.2.2")
}
if ("dev" %in% args) {
  names <- c(names, "roxygen2", "lintr", "knitr", "commonmark")
  least <- c(least, "7.2.3", "3.0.2", "1.42", "1.7")
}
# Formats that few need: tests of those that could not be installed are skipped, and they are not asked for again.
optional <- c("nanoparquet", "officer", "openxlsx", "ragg", "readxl", "rmarkdown", "svglite", "xml2", "zip")
tried <- if (file.exists(".build/not-to-be-had")) readLines(".build/not-to-be-had") else character()
has <- mapply(function(name, least) {
  version <- tryCatch(utils::packageVersion(name), error = function(e) NULL)
  !is.null(version) && version >= least
}, names, least)
lacking <- setdiff(unique(names[!has]), tried)
if ("must" %in% args) {
  without <- intersect(lacking, optional)
  if (length(without)) {
    dir.create(".build", showWarnings = FALSE)
    writeLines(c(tried, without), ".build/not-to-be-had")
    message("setup: going on without ", paste(without, collapse = ", "), ": what needs it is skipped (make clean asks again)")
  }
  lacking <- setdiff(lacking, optional)
}
if ("--install" %in% args) {
  library <- Filter(function(path) file.access(path, 2L) == 0L, .libPaths())
  if (!length(library)) {
    library <- strsplit(Sys.getenv("R_LIBS_USER"), .Platform$path.sep)[[1L]][1L]
    dir.create(library, recursive = TRUE, showWarnings = FALSE)
  }
  if (identical(unname(getOption("repos")["CRAN"]), "@CRAN@")) stop("R has no package repository set: set options(repos) in your .Rprofile", call. = FALSE)
  utils::install.packages(lacking, lib = library[1L], Ncpus = 2L, quiet = TRUE)
} else if (length(lacking)) {
  cat(lacking, sep = "\n")
}
