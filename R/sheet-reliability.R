# Whether a figure is sure enough to be used: by the rule that the house sets,
# a figure is marked as one to use with caution, or is not shown. A rule gives
# one limit for the first, and a second for the other.

# The rules that are asked for, with their limits.
rules_asked <- function(layout) {
  Filter(length, layout[intersect(names(reliability_rules), names(layout))])
}

# Cells that are too uncertain are marked, or taken out.
with_reliability <- function(grid, stub, columns, x, k, parts, layout) {
  rules <- rules_asked(layout)
  if (!length(rules)) return(grid)
  size <- dim(grid$value)
  grade <- matrix(0L, size[1L], size[2L])
  if (has(x, "answers")) {
    grades <- grades_of_cells(x, k, layout, rules)
    body <- !stub$role %in% c("base", "mean", "heading")
    here <- !columns$role %in% c("base", "mean")
    grade[body, here] <- grades[places_among(stub, nrow(grades))[body],
                                places_among(columns, ncol(grades))[here]]
  }
  of_means <- function(lines) {
    which(lines$role == "mean" & lines$summary %in% summaries_of_mean)
  }
  for (i in of_means(stub))
    grade[i, ] <- grades_of_means(columns, parts, x$choices$alpha, rules)
  for (j in if (has(x, "statements")) of_means(columns))
    grade[, j] <- grades_of_means(stub, parts, x$choices$alpha, rules)
  certain <- c("", "count", "hidden", "withheld")
  out <- grade == 2L & !grid$kind %in% certain
  grid$flag <- matrix("", size[1L], size[2L])
  first <- outer(stub$nth == 1L, columns$nth == 1L, `&`)
  grid$flag[grade == 1L & first & !grid$kind %in% c(certain, "effective")] <-
    "caution"
  if (any(grade[!grid$kind %in% certain] > 0L))
    grid$key <- c(grid$key,
                  words("flag_key", rules = as.list(rules),
                        caution = any(grid$flag != ""), out = any(out)))
  taken_out(grid, function(part) grade == 2L & !part$kind %in% certain,
            "unreliable")
}

# Of all answers and nets of both sides, and of everybody.
grades_of_cells <- function(x, k, layout, rules) {
  everybody <- net_parts(x, k, everybody = TRUE)
  held <- lapply(names(rules), function(name) {
    graded(precision_grid(everybody, layout, reliability_rules[[name]]$of), name,
           rules[[name]])
  })
  matrix(do.call(pmax, held), nrow(held[[1L]]))
}

# Which cells are sure enough to be quoted in a sentence, down the columns.
sure_cells <- function(x, k) {
  layout <- layout_of(x)
  rules <- rules_asked(layout)
  size <- dim(x$layers[[k]]$n)
  if (!length(rules) || !has(x, "answers")) return(rep(TRUE, prod(size)))
  grades <- grades_of_cells(x, k, layout, rules)
  as.vector(grades[seq_len(size[1L]), seq_len(size[2L])] == 0L)
}

# The lines of a mean that are no surer than it is.
summaries_of_mean <- c("mean", "interval", "se", "cv", "deff")

# 0 where a figure is sure enough, 1 to be used with caution, 2 not to be shown;
# what is not known is not graded.
graded <- function(value, name, limits) {
  beyond <- reliability_rules[[name]]$beyond
  grade <- Reduce(`+`, lapply(limits, function(limit) beyond(value, limit) + 0L))
  grade[is.na(grade)] <- 0L
  grade
}

# `along`: the lines of the side along which the means stand.
grades_of_means <- function(along, parts, alpha, rules) {
  first <- which(along$role != "base" & along$nth == 1L)
  found <- summaries_of(parts, along$at[first], alpha)
  values <- list(flag_cv = 100 * vapply(found, `[[`, 0, "cv"),
                 flag_under = vapply(found, `[[`, 0, "n"))
  grades <- lapply(intersect(names(rules), names(values)), function(name) {
    graded(values[[name]], name, rules[[name]])
  })
  out <- integer(length(along$role))
  if (length(grades)) out[first] <- do.call(pmax, grades)
  out
}
