# Percentages as they are rounded: each by itself, or so that they add up to 100.

# Decimals of percentages, as the sheet will write them.
percent_digits <- function(layout) {
  look_of(layout)$decimals$percent %||% setting("digits")
}

# Whether the percentages of a table are to add up, in its answers as they stand.
adds_up_to_100 <- function(x, layout) {
  !is.na(layout$percent) && layout$percent %in% layout$show &&
    is.null(layout$only) && (has(x, "adds_up") || has(x, "statements"))
}

# Shares rounded down, and the largest remainders up until they add up (Hamilton's
# method); nothing where they are not known.
largest_remainders <- function(v, total, digits) {
  unit <- 10^-digits
  steps <- v / unit
  down <- floor(steps + 1e-9)
  short <- round(total / unit - sum(down))
  if (is.na(short) || short <= 0) return(v)
  up <- order(-(steps - down), -v)[seq_len(short)]
  (down + replace(numeric(length(v)), up, 1)) * unit
}

# The percentages of a table so that those that are shown add up to 100: in every
# column (row, the whole table); nets and totals are sums of their parts.
percent_to_100 <- function(P, x, parts, layout) {
  core <- parts$core$layers[[1L]]
  size <- dim(core$n)
  rows <- seq_len(size[1L])
  columns <- seq_len(size[2L])
  digits <- percent_digits(layout)
  to_100 <- function(v) largest_remainders(v, 100, digits)
  last <- dim(P)
  if (layout$percent == "column") {
    P[rows, ] <- apply(P[rows, , drop = FALSE], 2L, to_100)
  } else if (layout$percent == "row") {
    P[, columns] <- t(apply(P[, columns, drop = FALSE], 1L, to_100))
  } else {
    P[rows, columns] <- to_100(as.vector(P[rows, columns]))
    P[rows, last[2L]] <- rowSums(P[rows, columns, drop = FALSE])
    P[last[1L], columns] <- colSums(P[rows, columns, drop = FALSE])
  }
  if (layout$percent != "row")
    P <- with_sums_of_nets(P, nets_in(parts$core, "down"), answers_down(core))
  if (layout$percent != "column")
    P <- t(with_sums_of_nets(t(P), nets_in(parts$core, "across"), answers_across(core)))
  P
}

with_sums_of_nets <- function(P, nets, answers) {
  for (j in seq_along(nets))
    P[length(answers) + j, ] <- colSums(P[answers %in% nets[[j]], , drop = FALSE])
  P
}

# What is to be said of rounding: that figures do not add up, or that differences
# are of those before it.
rounding_lines <- function(x, layout, k) {
  c(if (adds_up_to_100(x, layout) && layout$round == "each" &&
          off_by_rounding(x, layout, k)) words("rounding_sum"),
    if ("difference" %in% layout$show && any(percent_figures %in% layout$show))
      words("rounding_difference"))
}

off_by_rounding <- function(x, layout, k) {
  parts <- net_parts(x, k)
  core <- parts$core$layers[[1L]]
  P <- percent_grid(parts, layout$percent, rounding_of(layout))
  shown <- round(P, percent_digits(layout))
  rows <- seq_len(nrow(core$n))
  columns <- seq_len(ncol(core$n))
  sums <- switch(layout$percent, column = colSums(shown[rows, , drop = FALSE]),
                 row = rowSums(shown[, columns, drop = FALSE]),
                 sum(shown[rows, columns]))
  any(abs(sums - 100) > 1e-6, na.rm = TRUE)
}
