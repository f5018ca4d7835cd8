# Every measure of association, as data: what it may be, where it is defined,
# its estimate and its gradient in the cell proportions, and its source. Help,
# print, tests and strength() read them here; adding a measure is adding an
# entry, and its name and meaning to the catalogue of words. P holds the
# proportions over occupied rows (down) and columns (across); `given` has what
# else a measure may need: n (the base its bias is worked out on), and the
# scores of rows and columns.
#
# Most measures are a ratio top/bottom; each part gives its value and its
# gradient, and ratio() does the quotient rule. The kin of phi squared are a
# function of it; from_phi_squared() does the chain rule.

measure_entry <- function(explains, range, of, formula, source,
                          level = "nominal", only = NA_character_,
                          undefined = function(P) NULL) {
  c(list(explains = explains, range = range, formula = formula, source = source,
         level = level, only = only, undefined = undefined), of)
}

# `figures` gives estimate and gradient at once, and for a test of zero the top
# and its gradient.
ratio <- function(top, bottom, zero = TRUE) {
  list(
    estimate = function(P, given) top(P, given)$value / bottom(P, given)$value,
    figures = function(P, given) {
      a <- top(P, given)
      b <- bottom(P, given)
      estimate <- a$value / b$value
      list(estimate = estimate,
           gradient = (a$gradient - estimate * b$gradient) / b$value,
           top = if (zero) a)
    })
}

# Measures whose least value is 0, reached at independence: no test of zero.
# Where n times `scale` is a statistic that is chi-square there, the interval
# inverts its noncentral form, and population() brings a value of the scale back
# to the measure.
ratio_from_zero <- function(top, bottom, scale = NULL, population = NULL) {
  c(ratio(top, bottom, zero = FALSE),
    list(scale = scale, population = population))
}

# value(f, P, given) of f = phi^2, and its slope in f. The interval of such a
# measure is that of phi^2, put through population(): value(), but for an
# estimate that takes off what chance makes. `given` may hold phi^2 and its
# gradient, since several measures need them.
from_phi_squared <- function(value, slope, population = value) {
  list(estimate = function(P, given) value(phi_squared(P), P, given),
       figures = function(P, given) {
         phi <- given$phi_squared %||% noncentral_scales$phi_squared(P)
         estimate <- value(phi$value, P, given)
         list(estimate = estimate,
              gradient = if (isTRUE(estimate > 0))
                slope(phi$value, P, given) * phi$gradient)
       }, scale = "phi_squared", population = population)
}

# The scales that noncentral intervals are made on: n times each is chi-square
# on (r-1)(c-1) at independence. phi^2 is Pearson's statistic, twice the
# information the likelihood ratio, and (r-1) tau that of Light & Margolin
# (1971).
noncentral_scales <- list(
  phi_squared = function(P) part(phi_squared(P), phi_squared_gradient(P)),
  information = function(P) sum_of(information(P), information(P)),
  tau_across = function(P) {
    top <- tau_top(P)
    bottom <- tau_bottom(P)
    tau <- top$value / bottom$value
    part((nrow(P) - 1) * tau,
         (nrow(P) - 1) * (top$gradient - tau * bottom$gradient) / bottom$value)
  },
  tau_down = function(P) {
    turned <- noncentral_scales$tau_across(t(P))
    part(turned$value, t(turned$gradient))
  }
)
# Their values alone, of many tables at once: one a row, of `size`.
noncentral_values <- list(
  phi_squared = function(tables, size) {
    m <- margins_of_tables(tables, size)
    row_sums(tables^2 / (m$row * m$column)) - 1
  },
  information = function(tables, size) {
    m <- margins_of_tables(tables, size)
    logs <- log(tables / (m$row * m$column))
    logs[tables == 0] <- 0
    2 * row_sums(tables * logs)
  },
  tau_across = function(tables, size) {
    m <- margins_of_tables(tables, size)
    # every row's share once a column
    without <- row_sums(m$row^2) / size[2L]
    left <- 1 - without
    left[left < 1e-12] <- NA # all gave one answer
    (size[1L] - 1) * (row_sums(tables^2 / m$column) - without) / left
  },
  tau_down = function(tables, size) {
    turned <- as.vector(t(matrix(seq_len(prod(size)), size[1L])))
    noncentral_values$tau_across(tables[, turned, drop = FALSE], rev(size))
  }
)

# The margins that every cell of every table is in.
margins_of_tables <- function(tables, size) {
  i <- rep(seq_len(size[1L]), size[2L])
  j <- rep(seq_len(size[2L]), each = size[1L])
  list(row = (tables %*% outer(i, seq_len(size[1L]), `==`))[, i, drop = FALSE],
       column = (tables %*% outer(j, seq_len(size[2L]), `==`))[, j, drop = FALSE])
}

sum_of <- function(x, y, by = 1) {
  part(x$value + by * y$value, x$gradient + by * y$gradient)
}
root_of_product <- function(x, y) {
  root <- sqrt(x$value * y$value)
  part(root, (x$gradient * y$value + x$value * y$gradient) / (2 * root))
}
turned <- function(of_P) {
  function(P, given) {
    given[c("down", "across")] <- given[c("across", "down")]
    out <- of_P(t(P), given)
    part(out$value, t(out$gradient))
    }
}

# Of `across` explaining `down` and of the other way, added up.
both_ways <- function(of_P) {
  function(P, given) sum_of(of_P(P, given), turned(of_P)(P, given))
}

# ---- phi squared and its kin ----

# phi^2 = X2 / n and its gradient.
phi_squared <- function(P) {
  E <- expected_proportions(P)
  sum((P - E)^2 / E)
}

phi_squared_gradient <- function(P) {
  rows <- row_sums(P)
  columns <- column_sums(P)
  E <- tcrossprod(rows, columns)
  ratio <- P^2 / E
  2 * P / E - row_sums(ratio) / rows -
    rep(column_sums(ratio) / columns, each = nrow(P))
}

# phi^2 that chance alone makes is (r-1)(c-1)/(n-1), and what it can at most be
# shrinks likewise (Bergsma 2013).
unbiased_phi_squared <- function(f, P, n) max(0, f - prod(dim(P) - 1) / (n - 1))
unbiased_side <- function(P, n) min(dim(P) - (dim(P) - 1)^2 / (n - 1)) - 1

corrected_v <- function(f, P, given) {
  side <- unbiased_side(P, given$n)
  if (side > 0) sqrt(unbiased_phi_squared(f, P, given$n) / side) else NA_real_
}

corrected_v_slope <- function(f, P, given) {
  1 /
    (2 * sqrt(unbiased_phi_squared(f, P, given$n) * unbiased_side(P, given$n)))
}

phi_top <- function(P, given) {
  part(P[1, 1] * P[2, 2] - P[1, 2] * P[2, 1],
       matrix(c(P[2, 2], -P[1, 2], -P[2, 1], P[1, 1]), 2L))
}
phi_bottom <- function(P, given) {
  rows <- row_sums(P)
  columns <- column_sums(P)
  root <- sqrt(prod(rows, columns))
  part(root, root / 2 * outer(1 / rows, 1 / columns, `+`))
}

# ---- lambda, tau, uncertainty: `across` explaining `down` ----

# Share guessed right knowing the column (A = sum_j max_i p_ij), and without (B
# = max_i p_i.).
right_knowing <- function(P, given) {
  at <- column_peaks_kernel(P)
  here <- matrix(0, nrow(P), ncol(P))
  here[at] <- 1
  part(sum(P[at]), here)
}
right_without <- function(P, given) {
  rows <- row_sums(P)
  here <- matrix(0, nrow(P), ncol(P))
  here[which.max(rows), ] <- 1
  part(max(rows), here)
}
one_less <- function(x) part(1 - x$value, -x$gradient)

lambda_top <- function(P, given) sum_of(right_knowing(P), right_without(P), -1)
lambda_bottom <- function(P, given) one_less(right_without(P))

# A tied modal answer leaves the delta method without a derivative.
tied_mode <- function(P) {
  rows <- row_sums(P)
  most <- rep(P[column_peaks_kernel(P)], each = nrow(P))
  if (sum(rows >= max(rows) * (1 - 1e-9)) > 1L ||
        sum(P >= most * (1 - 1e-9)) > ncol(P)) said("tied_mode")
}

# Goodman and Kruskal's tau: sum p_ij^2 / p_.j against sum p_i.^2.
squares_knowing <- function(P, given) {
  columns <- rep(column_sums(P), each = nrow(P))
  part(sum(P^2 / columns),
       2 * P / columns -
         rep(column_sums(P^2) / column_sums(P)^2, each = nrow(P)))
}
squares_without <- function(P, given) {
  part(sum(row_sums(P)^2), matrix(2 * row_sums(P), nrow(P), ncol(P)))
}
tau_top <- function(P, given) sum_of(squares_knowing(P), squares_without(P), -1)
tau_bottom <- function(P, given) one_less(squares_without(P))

# Mutual information and entropy. An empty cell has no share in any variance, so
# its gradient is put at 0.
information <- function(P, given) {
  logs <- ifelse(P > 0, log(P / expected_proportions(P)), 0)
  part(sum(P * logs), logs)
}
entropy <- function(P, given) {
  rows <- row_sums(P)
  part(-sum(rows * log(rows)), matrix(-log(rows), nrow(P), ncol(P)))
}

# ---- order: pairs of respondents ----

# Shares of pairs in the same and in the opposite order (each pair counted from
# both sides).
ordered_pairs <- function(P) {
  below <- apply(P, 2L, cumsum)
  corner <- t(apply(matrix(below, nrow(P)), 1L, cumsum)) # p at or before (i, j)
  corner <- matrix(corner, nrow(P))
  rows <- cumsum(row_sums(P))
  columns <- rep(cumsum(column_sums(P)), each = nrow(P))
  up <- function(M) rbind(0, M[-nrow(M), , drop = FALSE])
  left <- function(M) cbind(0, M[, -ncol(M), drop = FALSE])
  before <- c(0, rows[-length(rows)])
  same <- left(up(corner)) + (sum(P) - rows - columns + corner)
  opposite <-
    (before - up(corner)) + (left(matrix(columns, nrow(P))) - left(corner))
  list(same = part(sum(P * same), 2 * same),
       opposite = part(sum(P * opposite), 2 * opposite))
}
surplus <- function(P, given) {
  pairs <- ordered_pairs(P)
  sum_of(pairs$same, pairs$opposite, -1)
}
ordered_either <- function(P, given) {
  pairs <- ordered_pairs(P)
  sum_of(pairs$same, pairs$opposite)
}
# Share of pairs that differ on down.
differ_down <- function(P, given) one_less(squares_without(P))
differ_across <- turned(differ_down)
differ_both <- function(P, given) {
  root_of_product(differ_down(P), differ_across(P, given))
}
differ_mean <- function(P, given) {
  out <- sum_of(differ_down(P), differ_across(P, given))
  part(out$value / 2, out$gradient / 2)
}
constant <- function(value) {
  function(P, given) part(value(P), matrix(0, nrow(P), ncol(P)))
}

odds_top <- function(power) {
  function(P, given) {
    sum_of(odds_side(P, c(1, 4), power), odds_side(P, c(2, 3), power), -1)
  }
}
odds_bottom <- function(power) {
  function(P, given) {
    sum_of(odds_side(P, c(1, 4), power), odds_side(P, c(2, 3), power))
  }
}
odds_side <- function(P, cells, power) {
  value <- prod(P[cells])^power
  gradient <- matrix(0, 2L, 2L)
  gradient[cells] <- if (value > 0) power * value / P[cells] else
    if (power == 1) rev(P[cells]) else 0
  part(value, gradient)
}

# ---- scores ----

covariance_of_scores <- function(P, given) {
  u <- given$down
  v <- given$across
  mean_u <- sum(row_sums(P) * u)
  mean_v <- sum(column_sums(P) * v)
  part(sum(P * tcrossprod(u - mean_u, v - mean_v)),
       tcrossprod(u - mean_u, v - mean_v))
}
variance_of_down <- function(P, given) {
  u <- given$down - sum(row_sums(P) * given$down)
  part(sum(row_sums(P) * u^2), matrix(u^2, nrow(P), ncol(P)))
}
spread_of_scores <- function(P, given) {
  root_of_product(variance_of_down(P, given),
                  turned(variance_of_down)(P, given))
}

# Midranks as shares: half of the own answer and all before it.
midranks <- function(p) cumsum(p) - p / 2

# The scores move with the margins: an answer's share moves its own midrank by a
# half and those after it by one.
covariance_of_ranks <- function(P, given) {
  a <- midranks(row_sums(P)) - 1 / 2
  b <- midranks(column_sums(P)) - 1 / 2
  moved <- function(weight) rev(cumsum(rev(weight))) - weight / 2
  of_rows <- moved(as.vector(P %*% b))
  of_columns <- moved(as.vector(crossprod(P, a)))
  part(sum(P * tcrossprod(a, b)),
       tcrossprod(a, b) + of_rows + rep(of_columns, each = nrow(P)))
}
# The variance of midranks is (1 - sum p^3) / 12.
variance_of_ranks <- function(P, given) {
  rows <- row_sums(P)
  part((1 - sum(rows^3)) / 12, matrix(-rows^2 / 4, nrow(P), ncol(P)))
}
spread_of_ranks <- function(P, given) {
  root_of_product(variance_of_ranks(P), turned(variance_of_ranks)(P, given))
}

# ---- agreement: the same answers down and across ----

same_answers <- function(P) {
  if (is.null(rownames(P)))
    return(cbind(seq_len(least_side(P) + 1), seq_len(least_side(P) + 1)))
  both <- intersect(rownames(P), colnames(P))
  cbind(match(both, rownames(P)), match(both, colnames(P)))
}
agreement <- function(P, given) {
  here <- matrix(0, nrow(P), ncol(P))
  here[same_answers(P)] <- 1
  part(sum(P * here), here)
}
agreement_by_chance <- function(P, given) {
  at <- same_answers(P)
  rows <- column_sums(P)[at[, 2L]][match(seq_len(nrow(P)), at[, 1L])]
  columns <- row_sums(P)[at[, 1L]][match(seq_len(ncol(P)), at[, 2L])]
  rows[is.na(rows)] <- 0
  columns[is.na(columns)] <- 0
  part(sum(row_sums(P) * rows), outer(rows, columns, `+`))
}

agreement_surplus <- function(P, given) {
  sum_of(agreement(P), agreement_by_chance(P), -1)
}
agreement_left <- function(P, given) one_less(agreement_by_chance(P))

# ---- the registry ----

goodman_kruskal_1954 <- "Goodman LA, Kruskal WH (1954) J Amer Statist Assoc 49:732-764"
somers_1962 <- "Somers RH (1962) Amer Sociol Rev 27:799-811"
theil_1970 <- "Theil H (1970) Amer J Sociol 76:103-154"
pearson_1904 <- "Pearson K (1904) Drapers' Company Research Memoirs, Biometric Series 1"

measures <- list(
  cramers_v = measure_entry(
    "both", c(0, 1),
    of = from_phi_squared(function(f, P, given) sqrt(f / least_side(P)),
                          function(f, P, given) {
                            1 / (2 * sqrt(f * least_side(P)))
                          }),
    formula = "sqrt(X2 / (n (m - 1))), m = min(rows, columns)",
    source = "Cram\u00e9r H (1946) Mathematical Methods of Statistics, ch. 21"),
  cramers_v_corrected = measure_entry(
    "both", c(0, 1),
    of = c(from_phi_squared(corrected_v, corrected_v_slope,
                            population = function(f, P, given) {
                              sqrt(f / least_side(P))
                            }), unbiased = TRUE),
    formula = paste("sqrt(max(0, X2/n - (r-1)(c-1)/(n-1)) / (min(r', c') -",
                    "1)), r' = r - (r-1)^2/(n-1)"),
    source = "Bergsma W (2013) J Korean Statist Soc 42:323-328"),
  phi = measure_entry(
    "both", c(-1, 1), of = ratio(phi_top, phi_bottom), only = "2x2",
    formula = "(p11 p22 - p12 p21) / sqrt(p1. p2. p.1 p.2)",
    source = "Yule GU (1912) J Roy Statist Soc 75:579-652"),
  contingency_coefficient = measure_entry(
    "both", c(0, 1),
    of = from_phi_squared(function(f, P, given) sqrt(f / (1 + f)),
                          function(f, P, given) {
                            1 / (2 * sqrt(f) * (1 + f)^1.5)
                          }),
    formula = "sqrt(X2 / (n + X2))", source = pearson_1904),
  contingency_coefficient_adjusted = measure_entry(
    "both", c(0, 1),
    of = from_phi_squared(
      function(f, P, given) {
        sqrt(f / (1 + f) * (1 + 1 / least_side(P)))
      }, function(f, P, given) {
        sqrt(1 + 1 / least_side(P)) / (2 * sqrt(f) * (1 + f)^1.5)
      }),
    formula = "sqrt(X2 / (n + X2)) / sqrt((m - 1) / m), m = min(rows, columns)",
    source = pearson_1904),
  tschuprow_t = measure_entry(
    "both", c(0, 1),
    of = from_phi_squared(function(f, P, given) sqrt(f / sqrt(free_of(P))),
                          function(f, P, given) {
                            1 / (2 * sqrt(f * sqrt(free_of(P))))
                          }),
    formula = "sqrt(X2 / (n sqrt((r - 1)(c - 1))))",
    source = "Tschuprow AA (1925) Grundbegriffe und Grundprobleme der Korrelationstheorie"),
  lambda_across = measure_entry(
    "across", c(0, 1), of = ratio_from_zero(lambda_top, lambda_bottom),
    undefined = tied_mode,
    formula = "(sum_j max_i p_ij - max_i p_i.) / (1 - max_i p_i.)",
    source = goodman_kruskal_1954),
  lambda_down = measure_entry(
    "down", c(0, 1),
    of = ratio_from_zero(turned(lambda_top), turned(lambda_bottom)),
    undefined = function(P) tied_mode(t(P)),
    formula = "(sum_i max_j p_ij - max_j p_.j) / (1 - max_j p_.j)",
    source = goodman_kruskal_1954),
  lambda_both = measure_entry(
    "both", c(0, 1),
    of = ratio_from_zero(both_ways(lambda_top), both_ways(lambda_bottom)),
    undefined = function(P) tied_mode(P) %||% tied_mode(t(P)),
    formula = paste("(sum_j max_i p_ij + sum_i max_j p_ij - max_i p_i. -",
                    "max_j p_.j) / (2 - max_i p_i. - max_j p_.j)"),
    source = goodman_kruskal_1954),
  goodman_kruskal_tau_across = measure_entry(
    "across", c(0, 1),
    of = ratio_from_zero(tau_top, tau_bottom, "tau_across",
                         function(s, P, given) s / (nrow(P) - 1)),
    formula = "(sum p_ij^2 / p_.j - sum p_i.^2) / (1 - sum p_i.^2)",
    source = goodman_kruskal_1954),
  goodman_kruskal_tau_down = measure_entry(
    "down", c(0, 1),
    of = ratio_from_zero(turned(tau_top), turned(tau_bottom), "tau_down",
                         function(s, P, given) s / (ncol(P) - 1)),
    formula = "(sum p_ij^2 / p_i. - sum p_.j^2) / (1 - sum p_.j^2)",
    source = goodman_kruskal_1954),
  uncertainty_across = measure_entry(
    "across", c(0, 1),
    of = ratio_from_zero(information, entropy, "information",
                         function(s, P, given) s / (2 * entropy(P)$value)),
    formula = "sum p_ij ln(p_ij / (p_i. p_.j)) / -sum p_i. ln p_i.",
    source = theil_1970),
  uncertainty_down = measure_entry(
    "down", c(0, 1),
    of = ratio_from_zero(information, turned(entropy), "information",
                         function(s, P, given) s / (2 * entropy(t(P))$value)),
    formula = "sum p_ij ln(p_ij / (p_i. p_.j)) / -sum p_.j ln p_.j",
    source = theil_1970),
  uncertainty_both = measure_entry(
    "both", c(0, 1),
    of = ratio_from_zero(both_ways(information), both_ways(entropy),
                         "information", function(s, P, given) {
                           s / (entropy(P)$value + entropy(t(P))$value)
                         }),
    formula = "2 sum p_ij ln(p_ij / (p_i. p_.j)) / (-sum p_i. ln p_i. - sum p_.j ln p_.j)",
    source = theil_1970),
  gamma = measure_entry(
    "both", c(-1, 1), of = ratio(surplus, ordered_either), level = "ordinal",
    formula = paste("(C - D) / (C + D), C and D the shares of pairs in the",
                    "same and in the opposite order"),
    source = goodman_kruskal_1954),
  tau_b = measure_entry(
    "both", c(-1, 1), of = ratio(surplus, differ_both), level = "ordinal",
    formula = "(C - D) / sqrt((1 - sum p_i.^2)(1 - sum p_.j^2))",
    source = "Kendall MG (1945) Biometrika 33:239-251"),
  tau_c = measure_entry(
    "both", c(-1, 1),
    of = ratio(surplus,
               constant(function(P) least_side(P) / (least_side(P) + 1))),
    level = "ordinal",
    formula = "(C - D) m / (m - 1), m = min(rows, columns)",
    source = "Stuart A (1953) Biometrika 40:105-110"),
  somers_d_across = measure_entry(
    "across", c(-1, 1), of = ratio(surplus, differ_across), level = "ordinal",
    formula = "(C - D) / (1 - sum p_.j^2)", source = somers_1962),
  somers_d_down = measure_entry(
    "down", c(-1, 1), of = ratio(surplus, differ_down), level = "ordinal",
    formula = "(C - D) / (1 - sum p_i.^2)", source = somers_1962),
  somers_d_both = measure_entry(
    "both", c(-1, 1), of = ratio(surplus, differ_mean), level = "ordinal",
    formula = "2 (C - D) / (2 - sum p_i.^2 - sum p_.j^2)",
    source = somers_1962),
  yule_q = measure_entry(
    "both", c(-1, 1), of = ratio(odds_top(1), odds_bottom(1)), only = "2x2",
    formula = "(p11 p22 - p12 p21) / (p11 p22 + p12 p21)",
    source = "Yule GU (1900) Phil Trans A 194:257-319"),
  yule_y = measure_entry(
    "both", c(-1, 1), of = ratio(odds_top(0.5), odds_bottom(0.5)), only = "2x2",
    undefined = function(P) if (any(P == 0)) said("empty_cell_at_bound"),
    formula = "(sqrt(p11 p22) - sqrt(p12 p21)) / (sqrt(p11 p22) + sqrt(p12 p21))",
    source = "Yule GU (1912) J Roy Statist Soc 75:579-652"),
  pearson_r = measure_entry(
    "both", c(-1, 1), of = ratio(covariance_of_scores, spread_of_scores),
    level = "ordinal",
    formula = "cov(u, v) / sqrt(var(u) var(v)), u and v the scores",
    source = "Pearson K (1896) Phil Trans A 187:253-318"),
  spearman_rho = measure_entry(
    "both", c(-1, 1), of = ratio(covariance_of_ranks, spread_of_ranks),
    level = "ordinal",
    formula = "the correlation of midranks",
    source = paste("Spearman C (1904) Amer J Psychol 15:72-101; Kendall MG",
                   "(1945) Biometrika 33:239-251")),
  kappa = measure_entry(
    "both", c(-1, 1), only = "square",
    of = ratio(agreement_surplus, agreement_left),
    formula = "(sum p_ii - sum p_i. p_.i) / (1 - sum p_i. p_.i)",
    source = "Cohen J (1960) Educ Psychol Meas 20:37-46")
)

# "lambda_across" is the measure lambda, read with `explains`.
measure_names <- stats::setNames(
  sub("_(across|down|both)$", "", names(measures)), names(measures))

measure_name <- function(key) unname(measure_names[key])

# And back, for rows of a strength.
measure_keys <- function(rows) {
  name <- vapply(rows, function(row) row$measure, "")
  directed <- paste0(name, "_", vapply(rows, function(row) row$explains, ""))
  ifelse(directed %in% names(measures), directed, name)
}

# Which measures suit a table: by the answers of its sides and whether they are
# ordered. A question of two answers has an order of its own.
measures_fitting <- function(layer) {
  e <- layer$estimate
  size <- if (is.null(e)) dim(layer$n) else dim(e$P)
  ordered <- all(layer$ordered | size == 2L)
  fits <- vapply(measures, function(m) {
    (m$level == "nominal" || ordered) &&
      switch(m$only %|NA|% "any", any = TRUE, "2x2" = all(size == 2L),
             square = isTRUE(layer$paired))
  }, NA)
  names(measures)[fits]
}

# What is shown first: in a 2x2 phi, of two ordered questions gamma and tau-b
# with V, of others V; lambda where neither is ordered; kappa of the same
# question asked twice.
measures_shown <- function(layer, explains) {
  size <- if (is.null(layer$estimate)) dim(layer$n) else dim(layer$estimate$P)
  first <- if (all(size == 2L)) "phi" else if (all(layer$ordered))
    c("gamma", "tau_b", "cramers_v") else "cramers_v"
  c(if (isTRUE(layer$paired)) "kappa", first,
    if (!any(layer$ordered)) paste0("lambda_", explains))
}
