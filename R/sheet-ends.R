# What stands at the ends of a table's sides: everybody or the total, summaries,
# bases.

# Of both sides, as lines; NULL for none.
ends_of <- function(x, layout) {
  facts <- facts_of(x)
  all <- end_lines(words("line.all"), "all")
  bases <- after_another(named_bases(layout$bases), outside_lines(x, layout))
  total <- function(side) {
    if (!facts[[side]]$ticks && (is.null(layout$only) || side != listed_side(x)))
      end_lines(words("line.total"), "total")
  }
  summaries <- named_summaries(x, summary_asked(x, layout))
  out <- switch(layout$percent %|NA|% "none",
                column = list(down = after_another(
                                total("down"), summaries, bases), across = all),
                row = list(down = after_another(all, summaries),
                           across = after_another(
                             total("across"), if (has(x, "statements")) summaries, bases)),
                list(down = after_another(all, summaries, bases), across = all))
  only_roles <- function(ends, roles) lapply(ends, `[`, ends$role %in% roles)
  if (has(x, "statements")) out["down"] <- list(NULL)
  if (!has(x, "answers")) out$down <- only_roles(out$down, c("base", "mean"))
  if (!has(x, "across")) out$across <- only_roles(out$across, "base")
  out
}

# Lines of one role that stand at an end, with the names of their bases or
# summaries; NULL for none.
end_lines <- function(label, role, base = "", summary = "") {
  size <- length(label)
  if (!size) return(NULL)
  list(label = label, role = rep(role, size), at = rep(NA_integer_, size),
       heading = rep("", size), base = rep_len(base, size),
       summary = rep_len(summary, size))
}

# Lists of lines one after another.
after_another <- function(...) {
  out <- NULL
  for (part in list(...)) {
    if (is.null(out)) out <- part else
      for (name in names(part)) out[[name]] <- c(out[[name]], part[[name]])
  }
  out
}

named_bases <- function(bases) {
  called <- c(n = "line.respondents", weighted = "line.weighted",
              effective = "line.effective")[bases]
  end_lines(vapply(called, words, "", USE.NAMES = FALSE), "base", base = bases)
}

# Reasons for no answer that stand outside the base, after the bases.
outside_lines <- function(x, layout) {
  reasons <- outside_asked(x, layout)
  end_lines(vapply(reasons, function(one) words("line.outside", reason = one), "",
                   USE.NAMES = FALSE), "base", base = outside_key(reasons))
}

named_summaries <- function(x, asked) {
  label <- vapply(asked, function(name) {
    if (name != "interval") return(words(paste0("line.", name)))
    paste0(if ("mean" %in% asked) "\u2002",
           words("figure.interval", alpha = x$choices$alpha))
  }, "", USE.NAMES = FALSE)
  end_lines(label, "mean", summary = asked)
}

# The lines of a side with those that stand at its ends, whose place in every
# figure is the last.
with_ends <- function(lines, ends, layout) {
  none <- rep("", length(lines$label))
  lines <- c(lines, list(base = none, summary = none))
  if (layout$total == "none") ends <- lapply(ends, `[`, ends$role != "all")
  first <- layout$base_rows == "top" & ends$role == "base" |
    layout$total == "first" & ends$role == "all"
  if (!any(first)) return(after_another(lines, ends))
  after_another(lapply(ends, `[`, first), lines, lapply(ends, `[`, !first))
}

# What stands where nothing does.
empty_cell <- list(value = NA_real_, kind = "", high = NA_real_, mark = "",
                   peak = FALSE, letters = "", flag = "")

# Some lines and columns of a grid.
grid_part <- function(grid, rows = TRUE, columns = TRUE) {
  cut <- function(parts) {
    there <- intersect(names(empty_cell), names(parts))
    utils::modifyList(parts, lapply(parts[there], function(M) M[rows, columns, drop = FALSE]))
  }
  grid$inside <- lapply(grid$inside, cut)
  grid$stub <- grid$stub[rows, ]
  grid$columns <- grid$columns[columns, ]
  cut(grid)
}

# Everybody has not all figures that the answers have: lines and columns for
# further ones in which nothing stands go.
without_empty <- function(grid) {
  idle <- function(lines, filled) {
    lines$role %in% c("all", "total") & lines$figure != "" & !filled &
      duplicated(lines$role)
  }
  shown <- grid$kind != ""
  rows <- idle(grid$stub, rowSums(shown) > 0)
  columns <- idle(grid$columns, colSums(shown) > 0)
  if (any(rows) || any(columns)) grid_part(grid, !rows, !columns) else grid
}
