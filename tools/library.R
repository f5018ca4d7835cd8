# Prints R's first library that may be written to; the user's own is made where
# there is none.
library <- Filter(function(path) file.access(path, 2L) == 0L, .libPaths())
if (!length(library)) {
  library <- strsplit(Sys.getenv("R_LIBS_USER"), .Platform$path.sep)[[1L]][1L]
  dir.create(library, recursive = TRUE, showWarnings = FALSE)
}
cat(library[1L])
