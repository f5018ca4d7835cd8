# What is wrong with a plan, kept with its place, so that all of it is told at
# once.

new_faults <- function() list2env(list(found = list()), parent = emptyenv())

# Where the keys of a plan stand is looked up when the first fault is found.
places_in_plan <- function(plan) {
  faults <- plan$faults
  if (is.null(faults$places) && !is.null(plan$text)) faults$places <- yaml_places(plan$text)
  faults$places
}

# `value` is what is meant within the path: its own place is told, if it has
# one.
add_fault <- function(plan, path, message, hint = NULL, at_key = FALSE) {
  place <- place_of(places_in_plan(plan), path)
  place <- if (is.null(place)) c(NA_integer_, NA_integer_) else if (at_key)
    place[1:2] else place[3:4]
  one <- list(line = place[1L], column = place[2L],
              key = paste(path, collapse = "."),
              message = paste(c(spoken(message), vapply(hint, spoken, "")),
                              collapse = " "))
  plan$faults$found <- c(plan$faults$found, list(one))
  invisible()
}

# The place of a path, or of the nearest part that it belongs to.
place_of <- function(places, path) {
  while (length(path)) {
    # a text or list alone stands for a key that is not written
    for (written in list(path, path[!path %in% c("questions", "file")])) {
      place <- if (length(written)) places[[path_key(written)]]
      if (!is.null(place)) return(place)
    }
    path <- path[-length(path)]
  }
  NULL
}

# An error of ours as a fault of what caused it: where the value or column that
# it names stands, within the path.
add_error <- function(plan, path, error) {
  value <- as.character(unlist(error[c("value", "column", "condition")]))
  within <- leaves_of(plan$keys, path)
  hit <- match(value, within$text, 0L)
  at <- if (any(hit > 0L)) within$path[[hit[hit > 0L][1L]]] else path
  lines <- cli::ansi_strip(unlist(strsplit(
                                    unname(c(error$message, error$body)), "\n",
                                    fixed = TRUE)))
  add_fault(plan, at, lines[1L],
            sub("^\\W+ (?=\\w|\")", "", lines[-1L], perl = TRUE))
}

# The texts beneath a path, with the path of each.
leaves_of <- function(keys, path) {
  part <- keys
  for (step in path) {
    at <- suppressWarnings(as.integer(step))
    part <- if (is.null(names(part)) && !is.na(at) && at <= length(part))
      part[[at]] else if (is.list(part) && step %in% names(part))
      part[[step]] else return(list(text = character(), path = list()))
  }
  found <- list(text = character(), path = list())
  walk <- function(part, path) {
    if (is.list(part)) {
      steps <- names(part) %||% as.character(seq_along(part))
      for (k in seq_along(part)) walk(part[[k]], c(path, steps[k]))
    } else if (is_scalar(part)) {
      found$text <<- c(found$text, as.character(part))
      found$path <<- c(found$path, list(path))
    }
  }
  walk(part, path)
  found
}

stop_faults <- function(plan, call) {
  found <- plan$faults$found
  if (!length(found)) return(invisible())
  faults <- list2DF(list(line = vapply(found, `[[`, 0L, "line"),
                         column = vapply(found, `[[`, 0L, "column"),
                         key = vapply(found, `[[`, "", "key"),
                         message = vapply(found, `[[`, "", "message")))
  faults <- unique(faults[order(faults$line, faults$column), ])
  where <- ifelse(is.na(faults$line),
                  ifelse(nzchar(faults$key), paste0(faults$key, ": "), ""),
                  sprintf("line %d, column %d: ", faults$line, faults$column))
  told <- paste0(where, faults$message)[seq_len(min(nrow(faults), most_faults_told))]
  stop_input(c(tells("plan_has_faults", sentence_case(plan$called),
                     how_many(nrow(faults), "fault")),
               stats::setNames(told, rep("x", length(told))),
               i = if (nrow(faults) > length(told))
                 tells("further_faults", how_many(nrow(faults) - length(told), "fault"))),
             "plan", faults = faults, path = plan$file, call = call)
}

# A plan of thousands of tables may have the same fault in each.
most_faults_told <- 50L

# Runs a part; an error of ours becomes a fault of the path, and NULL.
or_fault <- function(plan, path, code) {
  tryCatch(code, fairlattice_error = function(e) {
    add_error(plan, path, e)
    NULL
  })
}
