# Prints the packages that DESCRIPTION asks for and R lacks (or has too old),
# one a line; with --install, installs them into the checkout's own library
# (.build/library).
#   run   what the demo takes            dev   and what `make docs` and `make lint` need
#   site  and what `make site` needs
# and without either, what the tests need too. With "must", what a machine
# cannot get but can do without is said and left out, unless FAIRLATTICE_STRICT
# is set.
args <- commandArgs(trailingOnly = TRUE)
written <- read.dcf("DESCRIPTION")[1L, ]
listed <- function(field) {
  trimws(strsplit(if (field %in% names(written)) written[[field]] else "", ",",
                  fixed = TRUE)[[1L]])
}
entries <- unlist(lapply(c("Imports", "LinkingTo", "Suggests",
                           "Config/Needs/development", "Config/Needs/site"), listed))
name_of <- function(entries) sub("[ (].*", "", entries)
least <- ifelse(grepl(">=", entries, fixed = TRUE),
                sub(".*>= *([0-9.-]+).*", "\\1", entries), "0")
least <- tapply(least, name_of(entries), function(versions) {
  versions[order(numeric_version(versions), decreasing = TRUE)[1L]]
})

demo <- listed("Config/Needs/demo")
fields <- c("Imports", "LinkingTo", "Config/Needs/demo",
            if (!"run" %in% args) "Suggests",
            if ("dev" %in% args) "Config/Needs/development",
            if ("site" %in% args) "Config/Needs/site")
wanted <- unique(name_of(unlist(lapply(fields, listed))))

# Formats that few need: where they cannot be had, the program says so, and
# tests of them are skipped.
optional <- c(demo, "openxlsx", "readxl", "rmarkdown")
none_of <- ".build/not-to-be-had"
tried <- if (file.exists(none_of)) readLines(none_of) else character()

has <- function(name, libraries) {
  version <-
    tryCatch(utils::packageVersion(name, libraries), error = function(e) NULL)
  !is.null(version) && version >= least[[name]]
}
own <- file.path(getwd(), ".build/library")
libraries <- unique(c(if (dir.exists(own)) own, .libPaths()))
lacking <-
  setdiff(wanted[!vapply(wanted, has, NA, libraries = libraries)], tried)

if ("must" %in% args && !nzchar(Sys.getenv("FAIRLATTICE_STRICT"))) {
  without <- intersect(lacking, optional)
  if (length(without)) {
    dir.create(".build", showWarnings = FALSE)
    writeLines(c(tried, without), none_of)
    message("setup: going on without ", paste(without, collapse = ", "),
            ": what needs it is left out. Why stands in ",
            paste(".build/setup.log: mostly a system library to compile",
                  "against is missing (Debian: libxml2-dev, "),
            paste("libfontconfig1-dev, libfreetype-dev, libtiff-dev,",
                  "libwebp-dev). make clean asks again"))
  }
  lacking <- setdiff(lacking, optional)
}
if ("--install" %in% args) {
  if (identical(unname(getOption("repos")["CRAN"]), "@CRAN@"))
    stop("R has no package repository set: set options(repos) in your .Rprofile",
         call. = FALSE)
  dir.create(own, recursive = TRUE, showWarnings = FALSE)
  .libPaths(c(own, .libPaths()))
  utils::install.packages(lacking, lib = own, Ncpus = 2L, quiet = TRUE)
} else if (length(lacking)) {
  cat(lacking, sep = "\n")
}
