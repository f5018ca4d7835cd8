# Tests block by block (a `test_that()` is one): which functions each calls, and running some of
# them alone. For tools/mutate.

`%||%` <- function(x, y) if (is.null(x)) y else x

# Generics of these packages get our methods when they are loaded, so that is first.
for (package in c("ggplot2", "knitr")) requireNamespace(package, quietly = TRUE)

file_of_topic <- function(topic) file.path("tests/testthat", paste0("test-", topic, ".R"))

# Runs the blocks of a file that are wanted (NULL: all), each between two calls; an error where one
# fails.
run_blocks <- function(topic, wanted = NULL, before = function() NULL,
                       after = function(desc, seconds) NULL) {
  env <- new.env(parent = asNamespace("fairlattice"))
  env$test_that <- function(desc, code) {
    if (!is.null(wanted) && !desc %in% wanted) return(invisible())
    call <- match.call()
    call[[1L]] <- quote(testthat::test_that)
    before()
    began <- proc.time()[["elapsed"]]
    eval(call, parent.frame()) # an error where it fails
    after(desc, proc.time()[["elapsed"]] - began)
  }
  quiet <- function(m) tryInvokeRestart("muffleMessage")
  utils::capture.output(withCallingHandlers(
    testthat::test_file(file_of_topic(topic), env = env, package = "fairlattice",
                        load_package = "installed", reporter = testthat::StopReporter$new(),
                        stop_on_failure = TRUE), message = quiet))
  invisible()
}

# What a function of the package does, whichever copy of it this is; not of one that was made by
# another function, which may know more than its code.
code_in <- function(f) {
  ours <- identical(environment(f), asNamespace("fairlattice"))
  if (ours) rlang::hash(list(formals(f), body(f))) else "another"
}

# The lists of the package (of figures, kinds, steps, ...) that hold functions, with new ones in the
# place of those that do what is said by their names.
with_functions <- function(x, new) {
  if (is.function(x)) return(new[[code_in(x)]] %||% x)
  if (!is.list(x) || is.object(x)) return(x)
  for (k in seq_along(x)) if (is.function(x[[k]]) || is.list(x[[k]]))
    x[[k]] <- with_functions(x[[k]], new)
  x
}

# The names that each block of a file speaks of, by what it says that it tests.
names_by_block <- function(topic) {
  parts <- as.list(parse(file_of_topic(topic), keep.source = FALSE))
  blocks <- Filter(function(part) is.call(part) && identical(part[[1L]], quote(test_that)), parts)
  stats::setNames(lapply(blocks, function(block) unique(all.names(block[[3L]]))),
                  vapply(blocks, function(block) as.character(eval(block[[2L]])), ""))
}

# Puts other functions in the place of those of the package, in its lists and as methods, too.
put_functions <- function(new) {
  space <- asNamespace("fairlattice")
  methods <- getNamespaceInfo(space, "S3methods")
  old <- Filter(is.function, mget(names(new), space, ifnotfound = list(NULL)))
  by_code <- list2env(stats::setNames(new[names(old)], vapply(old, code_in, "")))
  by_code$another <- NULL
  for (name in ls(space, all.names = TRUE)) if (is.list(space[[name]])) {
    other <- with_functions(space[[name]], by_code)
    if (identical(other, space[[name]])) next
    unlockBinding(name, space)
    assign(name, other, space)
  }
  for (name in names(new)) {
    unlockBinding(name, space)
    assign(name, new[[name]], space)
    # a method of a package that is not loaded is taken from here when it is
    for (k in which(methods[, 3L] == name)) tryCatch(
      registerS3method(methods[k, 1L], methods[k, 2L], new[[name]], envir = space),
      error = function(e) NULL)
  }
}

# Of all blocks of a file how long they take and which functions of the package they call (with
# those that the file calls outside of its blocks): a list of `topic`, `desc`, `seconds`, `calls`.
blocks_of <- function(topic) {
  space <- asNamespace("fairlattice")
  seen <- new.env(parent = emptyenv())
  named <- Filter(function(name) is.function(space[[name]]), ls(space, all.names = TRUE))
  put_functions(lapply(stats::setNames(named, named), function(name) {
    f <- space[[name]]
    if (is.primitive(f)) return(f)
    note <- as.call(list(quote(base::assign), name, TRUE, envir = seen))
    body(f) <- as.call(list(as.name("{"), note, body(f)))
    f
  }))
  found <- list()
  outside <- character()
  called <- function() {
    out <- ls(seen, all.names = TRUE)
    rm(list = out, envir = seen)
    out
  }
  tryCatch(run_blocks(topic, before = function() outside <<- union(outside, called()),
                      after = function(desc, seconds) {
                        found[[length(found) + 1L]] <<-
                          list(topic = topic, desc = desc, seconds = seconds,
                               calls = union(outside, called()))
                      }),
           error = function(e) message(topic, ": ", conditionMessage(e)))
  found
}
