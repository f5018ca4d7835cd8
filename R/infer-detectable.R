# What a table could have shown: the smallest effect it finds with the wanted
# power, its power for a given V, and the n that would be needed.

layer_detectable <- function(layer, alpha, power, design_effect, v, df) {
  why <- no_test_reason(layer)
  if (!is.null(why))
    return(detectable_row(layer$base$n, NA, NA, alpha, power, NA_real_, Inf,
                          NA_real_, why))
  e <- layer$estimate
  shown <- smallest_shown(layer, alpha, power, design_effect, df)
  own <- sqrt(phi_squared(e$P) / least_side(e$P))
  detectable_row(e$n, nrow(e$P), ncol(e$P), alpha, power, shown$effect,
                 shown$df, v %||% own, shown$note)
}

detectable_row <- function(n, r, c, alpha, power, effect, df, v, note = NULL) {
  out <- list(n = n, r = as.numeric(r), c = as.numeric(c), alpha = alpha,
              wanted_power = power, design_effect = effect,
              df = finite_or_na(df), smallest_w = NA_real_,
              smallest_v = NA_real_, v = v, power = NA_real_,
              n_needed = NA_real_, note = note)
  if (is.na(effect)) return(out)
  d <- (r - 1) * (c - 1)
  m <- min(r, c) - 1
  out$smallest_w <- smallest_effect(n / effect, d, alpha, power, df)
  out$smallest_v <- out$smallest_w / sqrt(m)
  out$power <- power_of(n / effect * v^2 * m, d, alpha, df)
  if (v > 0)
    out$n_needed <-
      ceiling(needed_noncentrality(d, alpha, power, df) / (v^2 * m) * effect)
  out
}

# Points of the power curve of every row: V from 0 to beyond the smallest that
# shows.
power_curve <- function(rows, points = 81L) {
  rows <- rows[!is.na(rows$smallest_v), ]
  most <- min(1, max(1.6 * rows$smallest_v, rows$v, 0.02))
  do.call(rbind,
          lapply(seq_len(nrow(rows)), function(k) {
            row <- rows[k, ]
            m <- min(row$r, row$c) - 1
            v <- seq(0, most, length.out = points)
            df <- if (is.na(row$df)) Inf else row$df
            power <- vapply(v, function(one) {
              power_of(row$n / row$design_effect * one^2 * m,
                       (row$r - 1) * (row$c - 1), row$alpha, df)
            }, 0)
            data.frame(each = row$each, n = row$n, v = v, power = power)
          }))
}
