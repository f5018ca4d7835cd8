# Long work tells how far it is; what shows it is put here by the floor that may write. Nothing is shown by the core
# itself.
progress <- list2env(list(show = function(done, total, what, at = NULL) invisible()), parent = emptyenv())

show_progress <- function(done, total, what, at = NULL) progress$show(done, total, what, at)

# The value of an expression, kept under a name for as long as what it depends on (`given`) stays the same.
once <- function(kept, name, given, expression) {
  if (is.null(kept)) return(expression)
  held <- kept[[name]]
  if (is.null(held) || !identical(held$given, given)) {
    held <- list(given = given, value = expression)
    kept[[name]] <- held
  }
  held$value
}
