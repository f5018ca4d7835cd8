# Long work tells how far it is; what shows it is put here by the floor that may
# write. Nothing is shown by the core itself.
progress <- list2env(list(show = function(done, total, what, at = NULL) {
  invisible()
}), parent = emptyenv())

show_progress <- function(done, total, what, at = NULL) {
  progress$show(done, total, what, at)
}
