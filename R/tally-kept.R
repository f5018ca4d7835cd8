# What was worked out is kept, for as long as what it was worked out from stays
# the same: what the caller names, and the options that were read on the way,
# which are noticed while the work goes on.

# The options read since the work began that is to be kept; NULL while nothing
# is.
watched <- list2env(list(seen = NULL), parent = emptyenv())

# Whoever reads options says so here: their full names.
note_options <- function(options) {
  if (!is.null(watched$seen))
    for (option in options) watched$seen[[option]] <- TRUE
}

# The values of options, as long as one is set; with none set there is nothing
# to look up.
options_given <- function(options) {
  if (!options_unset_kernel(options)) lapply(options, getOption)
}

# The value of an expression, kept under a name for as long as `given` and the
# options it has read stay the same; of more than `most` values the one that was
# asked for longest ago goes.
once <- function(kept, name, given, expression, most = Inf) {
  if (is.null(kept)) return(expression)
  held <- kept[[name]]
  if (is.null(held) || !identical(held$given, given) ||
        !identical(held$values, options_given(held$options))) {
    held <- worked_out(given, expression)
    kept[[name]] <- held
  }
  if (most < Inf) forget_oldest(kept, name, most)
  note_options(held$options) # whoever keeps what is made of it has read them, too
  held$value
}

# A name for what is made of all this, the same whenever that is the same.
hash_of <- function(...) rlang::hash(list(...))

forget_oldest <- function(kept, name, most) {
  kept[[name]]$asked_at <- as.numeric(Sys.time())
  if (length(kept) <= most) return(invisible())
  at <- vapply(names(kept), function(one) kept[[one]]$asked_at, 0)
  rm(list = names(at)[which.min(at)], envir = kept)
}

worked_out <- function(given, expression) {
  outer <- watched$seen
  on.exit(watched$seen <- outer)
  watched$seen <- new.env(parent = emptyenv())
  value <- expression
  options <- names(watched$seen)
  list(given = given, value = value, options = options,
       values = options_given(options))
}

# What stays the same for as long as the program runs is kept here.
program <- new.env(parent = emptyenv())
