#' The strata of `each`, taken together
#'
#' Whether `down` and `across` go together within the answers of `each`: what is left of an association when `each` is
#' controlled for.
#'
#' In a 2x2xK table the Mantel-Haenszel common odds ratio sum(a d/N) / sum(b c/N), with the interval of Robins, Breslow
#' & Greenland (1986), or on V by its gradient under a design; the Cochran-Mantel-Haenszel test with and without
#' continuity correction; and whether the odds ratio is the same in all strata: Breslow & Day with Tarone's correction
#' (1985), or a Wald test of the log odds ratios on V. In any table the three generalised statistics (Landis, Heyman &
#' Koch 1978): general association, mean scores (of the explained question, over the explaining one) and correlation.
#' Each is G'inv(H)G with G the sum over strata of what was seen less what would be expected, and H its hypergeometric
#' covariance. Under a design it is divided by its generalised design effects, second order, as the test of
#' independence is.
#'
#' In larger tables whether the association is the same in all strata is the test of no three-way interaction:
#' iterative proportional fitting, Pearson's X2 (Bishop, Fienberg & Holland 1975), second-order Rao-Scott under a
#' design; not given where the mean expected count is under 5.
#'
#' Each row of `odds_ratios` is an answer of `each`, `"pooled"`, or `"crude"`: the table without `each`. When pooled
#' and crude point in opposite directions, `reversal` says so (Simpson's paradox), and so does [cautions()].
#'
#' @param x (lattice) From [lattice()] with `each`.
#' @param scores ("equal", "midranks", or a list of numbers `down` and `across`, one an answer; default "equal": 1, 2,
#'   3, ...) Midranks are those within each stratum.
#' @param alpha (number in 0-1, default that of the lattice) Intervals have confidence 1 - `alpha`.
#' @param ... Nothing: what is put here is an error, with the nearest argument's name.
#' @return List of class `fairlattice_pooled`: `odds_ratios` (data frame: `each`, `n`, `estimate`, `se_log`, `low`,
#'   `high`, `note`; `NULL` for larger tables), `tests` (data frame: `test`, `statistic`, `df`, `df_error`, `p`,
#'   `note`), `reversal` (text or `NULL`), `left_out` (answers of `each` that say nothing: one row or column only).
#' @section Errors: `fairlattice_error_pooled` without `each`; `fairlattice_error_ticks`; `fairlattice_error_scores`.
#' @references Mantel N, Haenszel W (1959) J Nat Cancer Inst 22:719-748. Robins J, Breslow N, Greenland S (1986)
#'   Biometrics 42:311-323. Tarone RE (1985) Biometrika 72:91-95. Bishop YMM, Fienberg SE, Holland PW (1975) Discrete
#'   Multivariate Analysis, ch. 3. Landis JR, Heyman ER, Koch GG (1978) Int Statist Rev 46:237-254. Simpson EH (1951) J
#'   Roy Statist Soc B 13:238-241.
#' @export
#' @examples
#' panel <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement)
#' pooled(lattice(panel, down = leave, across = tenure, each = island))
pooled <- function(x, scores = "equal", alpha = NULL, ...) {
  nothing_else(...)
  call <- environment()
  check_made(x, call)
  if (is.null(x$tally$each)) {
    stop_input(c("There is one table only, so nothing to take together.", i = "Make the lattice with `each`."),
               "pooled", call = call)
  }
  alpha <- alpha %||% x$choices$alpha
  check_fraction(alpha, "alpha", call)
  check_scores(scores, x, call)
  strata <- strata_tables(x)
  two_by_two <- length(strata$tables) > 0L && all(dim(strata$tables[[1L]]$n) == 2L)
  tests <- c(if (two_by_two) mantel_haenszel_tests(strata), generalised_tests(strata, scores, x$choices$explains),
             same_association(strata, two_by_two))
  structure(list(
    title = findings_title(x), labels = vapply(x$tally[c("down", "across", "each")], function(q) q$label, ""),
    alpha = alpha, by_design = strata$joint$by_design,
    n = sum(vapply(strata$tables, function(t) sum(t$n), 0)),
    odds_ratios = if (two_by_two) odds_ratio_rows(strata, alpha), tests = as_findings(rows_to_frame(tests), "tests"),
    reversal = reversal_text(x, strata), left_out = strata$left_out), class = "fairlattice_pooled")
}

findings_title <- function(x) sprintf("%s by %s", x$tally$down$label, x$tally$across$label)

# The informative layers over the answers that anybody gave, and their joint estimate: one table with a column for
# every answer of across within every answer of each.
strata_tables <- function(x) {
  total <- Reduce(`+`, lapply(x$layers, function(layer) layer$n))
  rows <- which(rowSums(total) > 0)
  columns <- which(colSums(total) > 0)
  says <- vapply(x$layers, function(layer) !is.null(layer$estimate) && min(dim(layer$estimate$P)) > 1L, NA)
  used <- x$layers[says]
  tables <- lapply(used,
                   function(layer) list(each = layer$each, n = layer$n[rows, columns, drop = FALSE],
                                        weighted = layer$weighted[rows, columns, drop = FALSE]))
  out <- list(tables = tables, left_out = vapply(x$layers[!says], function(layer) layer$each, ""), rows = rows,
              columns = columns)
  if (!length(used)) return(c(out, list(joint = list(by_design = FALSE))))
  size <- length(columns)
  stacked <- list(
    n = do.call(cbind, lapply(tables, `[[`, "n")), weighted = do.call(cbind, lapply(tables, `[[`, "weighted")),
    cells = do.call(rbind, Map(function(layer, k) {
      cells <- layer$cells
      cells$row <- match(cells$row, rows)
      cells$column <- match(cells$column, columns) + (k - 1L) * size
      cells
    }, used, seq_along(used))))
  if (!is.null(used[[1L]]$replicates)) {
    keep <- as.vector(outer(rows, (columns - 1L) * nrow(total), `+`))
    stacked$replicates <- do.call(rbind, lapply(used, function(layer) layer$replicates[keep, , drop = FALSE]))
  }
  stacked$base <- list(n = sum(stacked$n), weighted = sum(stacked$weighted))
  # every cell stays, so that all strata have the same shape; an empty one has no variance
  joint <- estimate_of(stacked, x$tally)
  c(out, list(joint = joint))
}

# On the scale of n whatever the weights are: n times the proportions of the joint table.
scaled_tables <- function(strata) {
  N <- sum(vapply(strata$tables, function(t) sum(t$weighted), 0))
  lapply(strata$tables, function(t) t$weighted / N * strata$joint$n)
}

# Gradients over the cells of the joint estimate, from gradients over the cells of every stratum (a list of matrices
# cells x figures).
joint_gradient <- function(strata, gradients) {
  G <- do.call(rbind, gradients)
  size <- dim(strata$tables[[1L]]$n)
  kept <- as.vector(outer(strata$joint$rows, (strata$joint$columns - 1L) * size[1L], `+`))
  G[kept, , drop = FALSE]
}

pooled_row <- function(test, statistic = NA_real_, df = NA_real_, df_error = NA_real_, p = NA_real_,
                       note = NA_character_) {
  list(test = test, statistic = statistic, df = df, df_error = df_error, p = p, note = note)
}

# ---- 2x2xK ----

odds_parts <- function(t) list(a = t[1, 1], b = t[1, 2], c = t[2, 1], d = t[2, 2], N = sum(t))

# Robins, Breslow & Greenland (1986), eq. 3: P, Q shares of the diagonals, R, S the terms of the two sums.
mantel_haenszel <- function(tables) {
  parts <- lapply(tables, odds_parts)
  of <- function(f) vapply(parts, function(t) with(t, f(a, b, c, d, N)), 0)
  R <- of(function(a, b, c, d, N) a * d / N)
  S <- of(function(a, b, c, d, N) b * c / N)
  P <- of(function(a, b, c, d, N) (a + d) / N)
  variance <- sum(P * R) / (2 * sum(R)^2) + sum(P * S +
                                                (1 - P) * R) / (2 * sum(R) * sum(S)) + sum((1 - P) * S) / (2 * sum(S)^2)
  list(estimate = sum(R) / sum(S), R = sum(R), S = sum(S), se_log = sqrt(variance))
}

# Gradient of log(sum R / sum S) over the cells of every stratum.
mantel_haenszel_gradient <- function(tables, fit) {
  lapply(tables, function(t) {
    with(odds_parts(t), as.matrix(as.vector(matrix(c(d, 0, 0, a), 2L) / N - a * d / N^2) / fit$R -
                                    as.vector(matrix(c(0, b, c, 0), 2L) / N - b * c / N^2) / fit$S))
  })
}

odds_ratio_rows <- function(strata, alpha) {
  tables <- scaled_tables(strata)
  e <- strata$joint
  n <- vapply(strata$tables, function(t) sum(t$n), 0)
  row <- function(each, n, estimate, se) {
    undefined <- !is.finite(estimate) || estimate == 0 || !is.finite(se) || e$df < 1
    reach <- if (undefined) NA_real_ else stats::qt(1 - alpha / 2, e$df) * se
    list(each = each, n = n, estimate = if (is.nan(estimate)) NA_real_ else estimate,
         se_log = if (undefined) NA_real_ else se, low = exp(log(estimate) - reach), high = exp(log(estimate) + reach),
         note = if (undefined) "a cell is empty, so there is no interval" else NA_character_)
  }
  one <- function(each, n, t, place) {
    ratio <- t[1, 1] * t[2, 2] / (t[1, 2] * t[2, 1])
    gradient <- as.vector(matrix(c(1, -1, -1, 1), 2L) / t)
    gradient[!is.finite(gradient)] <- 0
    all <- lapply(seq_along(tables), function(k) as.matrix(if (k %in% place) gradient else numeric(4L)))
    row(each, n, ratio, if (any(t == 0)) NA_real_ else sqrt(variance_of(e, e$n * joint_gradient(strata, all))))
  }
  fit <- mantel_haenszel(tables)
  se <- if (!e$by_design) fit$se_log else
    sqrt(variance_of(e, e$n * joint_gradient(strata, mantel_haenszel_gradient(tables, fit))))
  rows_to_frame(c(Map(function(t, k) one(strata$tables[[k]]$each, n[k], t, k), tables, seq_along(tables)),
                  list(row("pooled", sum(n), fit$estimate, se),
                       one("crude", sum(n), Reduce(`+`, tables), seq_along(tables)))))
}

mantel_haenszel_tests <- function(strata) {
  if (strata$joint$by_design) return(NULL) # general association says the same, with the design
  parts <- lapply(strata$tables, function(t) odds_parts(t$n))
  of <- function(f) vapply(parts, function(t) with(t, f(a, b, c, d, N)), 0)
  over <- sum(of(function(a, b, c, d, N) a - (a + b) * (a + c) / N))
  variance <- sum(of(function(a, b, c, d, N) if (N > 1) (a + b) * (c + d) * (a + c) * (b + d) / (N^2 * (N - 1)) else 0))
  row <- function(test, less) {
    if (variance <= 0) return(pooled_row(test, note = "no stratum says anything"))
    statistic <- (abs(over) - min(less, abs(over)))^2 / variance
    pooled_row(test, statistic, 1, p = stats::pchisq(statistic, 1, lower.tail = FALSE))
  }
  list(row("mantel_haenszel", 0), row("mantel_haenszel_corrected", 0.5))
}

# Is the association the same in all strata? A list of one row.
same_association <- function(strata, two_by_two) if (two_by_two) homogeneity_test(strata) else
  list(three_way_test(strata))

# Breslow & Day (1980): the first cell of every stratum against what the common odds ratio makes of its margins; Tarone
# (1985) takes off what the odds ratio was not fitted for.
homogeneity_test <- function(strata) {
  tables <- scaled_tables(strata)
  if (length(tables) < 2L) return(list(pooled_row("breslow_day_tarone", note = "one stratum only")))
  e <- strata$joint
  if (e$by_design) return(list(wald_homogeneity(strata, tables)))
  theta <- mantel_haenszel(tables)$estimate
  if (!is.finite(theta) || theta == 0)
    return(list(pooled_row("breslow_day_tarone", note = "the common odds ratio is at its bound")))
  fits <- vapply(tables, function(t) {
    rows <- rowSums(t)
    column <- sum(t[, 1])
    # A (N - r1 - c1 + A) = theta (r1 - A)(c1 - A), solved for A within the margins
    low <- max(0, column - rows[[2L]])
    high <- min(rows[[1L]], column)
    off <- function(A) A * (rows[[2L]] - column + A) - theta * (rows[[1L]] - A) * (column - A)
    A <- if (off(low) >= 0) low else if (off(high) <= 0) high else
      stats::uniroot(off, c(low, high), tol = 1e-12 * (1 + high))$root
    cells <- c(A, rows[[1L]] - A, column - A, rows[[2L]] - column + A)
    c(t[1, 1] - A, if (all(cells > 0)) 1 / sum(1 / cells) else 0)
  }, c(0, 0))
  some <- fits[2L, ] > 0
  if (sum(some) < 2L)
    return(list(pooled_row("breslow_day_tarone", note = "fewer than two strata have all their margins")))
  statistic <- sum(fits[1L, some]^2 / fits[2L, some]) - sum(fits[1L, some])^2 / sum(fits[2L, some])
  list(pooled_row("breslow_day_tarone", max(0, statistic), sum(some) - 1,
                  p = stats::pchisq(max(0, statistic), sum(some) - 1, lower.tail = FALSE)))
}

# Under a design: are the log odds ratios the same? Wald, F on K - 1 and df - K + 2 (Korn & Graubard 1990).
wald_homogeneity <- function(strata, tables) {
  able <- which(vapply(tables, function(t) all(t > 0), NA))
  q <- length(able) - 1L
  e <- strata$joint
  if (q < 1L) return(pooled_row("same_odds_ratio", note = "fewer than two strata have all four cells"))
  if (e$df - q + 1 < 1)
    return(pooled_row("same_odds_ratio", note = "more strata than the design has degrees of freedom"))
  log_odds <- vapply(tables[able], function(t) log(t[1, 1] * t[2, 2] / (t[1, 2] * t[2, 1])), 0)
  G <- joint_gradient(strata, lapply(seq_along(tables), function(k) {
    g <- matrix(0, 4L, length(able))
    if (k %in% able) g[, match(k, able)] <- e$n * as.vector(matrix(c(1, -1, -1, 1), 2L) / tables[[k]])
    g
  }))
  contrast <- cbind(diag(q), -1)
  V <- contrast %*% covariance_of(e, G) %*% t(contrast)
  d <- contrast %*% log_odds
  solved <- solve_or_null(V, d)
  if (is.null(solved))
    return(pooled_row("same_odds_ratio", note = "the log odds ratios have no variance in some stratum"))
  statistic <- sum(d * solved) * (e$df - q + 1) / (e$df * q)
  pooled_row("same_odds_ratio", statistic, q, e$df - q + 1, stats::pf(statistic, q, e$df - q + 1, lower.tail = FALSE))
}

# ---- R x C x K ----

# The contrasts of cells (down its columns) that each statistic looks at, in one stratum.
association_contrasts <- function(t, rows, columns, scores, explains) {
  r <- nrow(t)
  k <- ncol(t)
  side <- function(sums, at, name) {
    if (is.list(scores)) scores[[name]][at] else if (scores == "midranks") midranks(sums / sum(sums)) else
      as.numeric(at)
  }
  u <- side(rowSums(t), rows, "down")
  v <- side(colSums(t), columns, "across")
  free <- function(size) rbind(diag(size - 1L), 0) # without the last
  list(general_association = kronecker(free(k), free(r)),
       mean_scores = if (explains == "across") kronecker(free(k), as.matrix(u)) else kronecker(as.matrix(v), free(r)),
       correlation = kronecker(as.matrix(v), as.matrix(u)))
}

generalised_tests <- function(strata, scores, explains) {
  names <- c("general_association", "mean_scores", "correlation")
  if (!length(strata$tables)) return(lapply(names, pooled_row, note = "no stratum has two rows and two columns"))
  tables <- scaled_tables(strata)
  contrasts <- lapply(tables, association_contrasts, strata$rows, strata$columns, scores, explains)
  lapply(names, function(name) {
    B <- lapply(contrasts, `[[`, name)
    if (!strata$joint$by_design || strata$joint$df >= 1) generalised_test(name, strata, tables, B) else
      pooled_row(name, note = "no degrees of freedom")
  })
}

generalised_test <- function(name, strata, tables, B) {
  e <- strata$joint
  G <- Reduce(`+`,
              Map(function(t, b) crossprod(b, as.vector(t - tcrossprod(rowSums(t), colSums(t)) / sum(t))), tables, B))
  # Var(n_ij) with the margins fixed: N/(N-1) (diag(r) - rr'/N) x (diag(c) - cc'/N) / N
  H <- Reduce(`+`, Map(function(t, b) {
    N <- sum(t)
    if (N <= 1) return(matrix(0, ncol(b), ncol(b)))
    side <- function(s) diag(s, length(s)) - tcrossprod(s) / N
    crossprod(b, kronecker(side(colSums(t)), side(rowSums(t))) %*% b) / (N - 1)
  }, tables, B))
  keep <- which(diag(H) > 1e-12 * max(diag(H), 1e-300))
  solved <- if (length(keep)) solve_or_null(H[keep, keep, drop = FALSE], G[keep])
  if (is.null(solved)) return(pooled_row(name, note = "the strata leave it no variance"))
  Q <- sum(G[keep] * solved)
  if (!e$by_design) return(pooled_row(name, Q, length(keep), p = stats::pchisq(Q, length(keep), lower.tail = FALSE)))
  J <- joint_gradient(strata, Map(function(t, b) departure_gradient(t) %*% b[, keep, drop = FALSE], tables, B))
  M <- solve_or_null(covariance_of(multinomial(e$P, e$n), J), covariance_of(e, J))
  if (is.null(M)) return(pooled_row(name, note = "its design effects are undefined in so sparse a table"))
  effect <- sum(diag(M))
  df <- effect^2 / sum(M * t(M))
  if (effect <= 1e-12) return(pooled_row(name, note = "the design leaves it no variance"))
  pooled_row(name, Q / effect, df, df * e$df, stats::pf(Q / effect, df, df * e$df, lower.tail = FALSE),
             note = "Rao-Scott second order")
}

# Gradient of n_ij - n_i. n_.j / N over the cells of one stratum (cells x cells, one column a departure).
departure_gradient <- function(t) {
  i <- as.vector(row(t))
  j <- as.vector(col(t))
  N <- sum(t)
  a <- rowSums(t)[i] / N
  b <- colSums(t)[j] / N
  outer(i, i, `==`) * outer(j, j, `==`) - outer(i, i, `==`) * rep(b, each = length(t)) -
    outer(j, j, `==`) * rep(a, each = length(t)) + rep(a * b, each = length(t))
}

# ---- Simpson's reversal ----

# Crude and pooled direction, in a 2x2 and of ordered questions; NULL where there is none, or they agree, or one of
# them may be chance.
reversal_of <- function(x, strata) {
  if (length(strata$tables) < 2L) return(NULL)
  size <- dim(strata$tables[[1L]]$n)
  if (!all(x$layers[[1L]]$ordered | size == 2L)) return(NULL)
  tables <- scaled_tables(strata)
  contrasts <- lapply(tables,
                      function(t) association_contrasts(t, strata$rows, strata$columns, "equal", "across")$correlation)
  within <- sum(unlist(Map(function(t, b) sum(b * as.vector(t - tcrossprod(rowSums(t), colSums(t)) / sum(t))), tables,
                           contrasts)))
  P <- Reduce(`+`, tables) / strata$joint$n
  given <- list(down = strata$rows, across = strata$columns)
  crude <- measures$pearson_r$estimate(P, given)
  if (!is.finite(crude) || sign(within) == sign(crude) || within == 0 || crude == 0) return(NULL)
  e <- strata$joint
  gradient <- as.vector(measures$pearson_r$figures(P, given)$null_gradient)
  se <- sqrt(variance_of(e, joint_gradient(strata, rep(list(as.matrix(gradient)), length(tables)))))
  p <- c(crude = if (se > 0 && e$df >= 1) 2 * stats::pt(-abs(crude / se), e$df) else NA_real_,
         within = generalised_test("correlation", strata, tables, contrasts)$p)
  if (anyNA(p) || any(p > x$choices$alpha)) return(NULL) # evidence on both sides, or no reversal
  list(crude = crude, p = p)
}

# The strata differ in their association: what is said of it, or NULL.
heterogeneity_text <- function(x, strata) {
  two_by_two <- length(strata$tables) > 0L && all(dim(strata$tables[[1L]]$n) == 2L)
  test <- same_association(strata, two_by_two)[[1L]]
  if (is.na(test$p) || test$p > x$choices$alpha) return(NULL)
  sprintf(paste0("The association between \"%s\" and \"%s\" is not the same for every answer to \"%s\" (%s, %s): ",
                 "one figure for all of them would hide that."),
          x$tally$down$label, x$tally$across$label, x$tally$each$label, pooled_test_labels[[test$test]],
          format_p(test$p))
}

pooled_test_labels <- c(
  mantel_haenszel = "Mantel-Haenszel", mantel_haenszel_corrected = "  with continuity correction",
  general_association = "general association",
  mean_scores = "mean scores", correlation = "correlation",
  breslow_day_tarone = "homogeneity of odds ratios (Breslow-Day, Tarone)",
  same_odds_ratio = "homogeneity of odds ratios (Wald)", no_three_way = "no three-way interaction")

reversal_text <- function(x, strata) {
  found <- reversal_of(x, strata)
  if (is.null(found)) return(NULL)
  words <- if (found$crude > 0) c("together", "apart") else c("apart", "together")
  sprintf(paste0("Taken all together \"%s\" and \"%s\" go %s (%s), yet within the answers of \"%s\" they go %s ",
                 "(%s): the table without \"%s\" would mislead."),
          x$tally$down$label, x$tally$across$label, words[1L], format_p(found$p[["crude"]]), x$tally$each$label,
          words[2L], format_p(found$p[["within"]]), x$tally$each$label)
}
