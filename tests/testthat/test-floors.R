# The floors of the design, kept by reading the parsed source: a floor calls
# only itself and floors below.

floors <- c(tally = 1, table = 2, infer = 3, words = 4, records = 5,
            results = 6, sheet = 6, show = 7, book = 8, cli = 9, desk = 9)
source_files <- function() {
  files <- list.files(test_path("..", "..", "R"), "[.]R$", full.names = TRUE)
  skip_if(!length(files), "the source is not here")
  files[!basename(files) %in% c("cpp11.R", "fairlattice-package.R")]
}
floor_of <- function(files) floors[sub("-.*", "", basename(files))]

packages_in <- function(file) {
  data <- utils::getParseData(parse(file, keep.source = TRUE))
  unique(data$text[data$token == "SYMBOL_PACKAGE"])
}
defined_in <- function(file) {
  unlist(lapply(parse(file), function(part) {
    if (is.call(part) && identical(part[[1]], quote(`<-`)))
      as.character(part[[2]])
  }))
}

# What the functions of these names call or read outside themselves, also those
# kept in lists (rules, measures, writers).
globals_of <- function(names) {
  functions <- function(x) {
    if (is.function(x)) list(x) else if (is.list(x))
      unlist(lapply(x, functions))
  }
  unique(unlist(lapply(names, function(name) {
    lapply(functions(get(name, asNamespace("fairlattice"))),
           codetools::findGlobals)
  })))
}

# Which file calls which, as a list of file names by file.
calls_between <- function(files) {
  defined <- lapply(files, defined_in)
  home <- stats::setNames(rep(files, lengths(defined)), unlist(defined))
  expect_false(any(duplicated(names(home))))
  calls <- lapply(defined, function(names) {
    setdiff(unique(home[intersect(globals_of(names), names(home))]), NA)
  })
  stats::setNames(Map(setdiff, calls, files), files)
}

test_that("every file belongs to a floor, no file calls upwards, and none in circles", {
  files <- source_files()
  expect_false(anyNA(floor_of(files)),
               info = paste(basename(files)[is.na(floor_of(files))],
                            collapse = ", "))
  calls <- calls_between(files)
  for (file in files) {
    upwards <- calls[[file]][floor_of(calls[[file]]) > floor_of(file)]
    expect_identical(basename(upwards), character(), info = basename(file))
  }
  # a file that only calls files already taken away can be taken away too; what
  # is left over is a circle
  left <- calls
  while (length(free <- names(left)[!lengths(left)])) left <-
    lapply(left[setdiff(names(left), free)], setdiff, free)
  expect_identical(basename(names(left)), character())
})

test_that("the core names no interface package and writes nothing", {
  core <- Filter(function(file) floor_of(file) <= 3, source_files())
  for (file in core) {
    expect_identical(setdiff(packages_in(file),
                             c("stats", "utils", "rlang", "generics", "bit64")),
                     character(), info = basename(file))
    own <- Filter(function(name) !startsWith(name, "print."), defined_in(file))
    writing <- intersect(globals_of(own),
                         c("cat", "print", "message", "writeLines", "warning",
                           "sink", "readline"))
    expect_identical(writing, character(), info = basename(file))
  }
})
