# The floors of the design, kept by reading the parsed source: a floor calls only itself and floors below.

floors <- c(tally = 1, lattice = 2, infer = 3, records = 4, sheet = 5, show = 6, plan = 7, cli = 7)
source_files <- function() {
  files <- list.files(test_path("..", "..", "R"), "[.]R$", full.names = TRUE)
  skip_if(!length(files), "the source is not here")
  files[!basename(files) %in% c("RcppExports.R", "fairlattice-package.R")]
}
floor_of <- function(files) floors[sub("-.*", "", basename(files))]

packages_in <- function(file) {
  data <- utils::getParseData(parse(file, keep.source = TRUE))
  unique(data$text[data$token == "SYMBOL_PACKAGE"])
}
defined_in <- function(file) {
  unlist(lapply(parse(file),
                function(part) if (is.call(part) && identical(part[[1]], quote(`<-`))) as.character(part[[2]])))
}

# What the functions of these names call or read outside themselves, also those kept in lists (rules, measures,
# writers).
globals_of <- function(names) {
  functions <- function(x) if (is.function(x)) list(x) else if (is.list(x)) unlist(lapply(x, functions))
  unique(unlist(lapply(names, function(name) {
    lapply(functions(get(name, asNamespace("fairlattice"))), codetools::findGlobals)
  })))
}

test_that("every file belongs to a floor, and no file calls upwards", {
  files <- source_files()
  expect_false(anyNA(floor_of(files)), info = paste(basename(files)[is.na(floor_of(files))], collapse = ", "))
  defined <- lapply(files, defined_in)
  floor_defining <- stats::setNames(rep(floor_of(files), lengths(defined)), unlist(defined))
  for (k in seq_along(files)) {
    calls <- intersect(globals_of(defined[[k]]), names(floor_defining))
    upwards <- calls[floor_defining[calls] > floor_of(files[k])]
    expect_identical(upwards, character(), info = basename(files[k]))
  }
  expect_false(any(duplicated(unlist(defined))))
})

test_that("the core names no interface package and writes nothing", {
  core <- Filter(function(file) floor_of(file) <= 3, source_files())
  for (file in core) {
    expect_identical(setdiff(packages_in(file), c("stats", "utils", "rlang", "generics")), character(),
                     info = basename(file))
    own <- Filter(function(name) !startsWith(name, "print."), defined_in(file))
    writing <- intersect(globals_of(own), c("cat", "print", "message", "writeLines", "warning", "sink", "readline"))
    expect_identical(writing, character(), info = basename(file))
  }
})
