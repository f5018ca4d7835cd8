# Every measure of association, as data: what it is called, what it may be, where it is defined, its estimate and its
# gradient in the cell proportions, its source. Help, print, tests and strength() read them here, and adding a measure
# is adding an entry. `estimate` and `gradient` take P, the proportions over occupied rows (down) and columns (across).

measure_entry <- function(label, explains, range, gradient, estimate, formula, source, interval = "linear",
                          only_2x2 = FALSE, undefined = function(P) NULL) {
  list(label = label, explains = explains, range = range, estimate = estimate, gradient = gradient, formula = formula,
       source = source, interval = interval, only_2x2 = only_2x2, undefined = undefined)
}

# phi^2 = X2 / n and its gradient: the root of V and its kin.
phi_squared <- function(P) {
  E <- expected_proportions(P)
  sum((P - E)^2 / E)
}

phi_squared_gradient <- function(P) {
  rows <- rowSums(P)
  columns <- colSums(P)
  ratio <- P^2 / tcrossprod(rows, columns)
  2 * P / tcrossprod(rows, columns) - rowSums(ratio) / rows - rep(colSums(ratio) / columns, each = nrow(P))
}

# sqrt(phi^2 / k): a gradient of a square root has no value at 0.
root_gradient <- function(P, k) phi_squared_gradient(P) / (2 * sqrt(phi_squared(P) * k))

least_side <- function(P) min(dim(P)) - 1

signed_phi <- function(P) (P[1, 1] * P[2, 2] - P[1, 2] * P[2, 1]) / sqrt(prod(rowSums(P), colSums(P)))

signed_phi_gradient <- function(P) {
  phi <- signed_phi(P)
  cross <- matrix(c(P[2, 2], -P[1, 2], -P[2, 1], P[1, 1]), 2L)
  cross / sqrt(prod(rowSums(P), colSums(P))) - phi / 2 * outer(1 / rowSums(P), 1 / colSums(P), `+`)
}

# Lambda, `across` explaining `down`: (A - B) / (1 - B), A = sum_j max_i p_ij, B = max_i p_i.
lambda_parts <- function(P) {
  best <- apply(P, 2L, which.max)
  mode <- which.max(rowSums(P))
  inner <- matrix(0, nrow(P), ncol(P))
  inner[cbind(best, seq_along(best))] <- 1
  outer <- matrix(0, nrow(P), ncol(P))
  outer[mode, ] <- 1
  list(A = sum(P * inner), B = sum(P * outer), inner = inner, outer = outer)
}

lambda <- function(P) {
  part <- lambda_parts(P)
  (part$A - part$B) / (1 - part$B)
}

lambda_gradient <- function(P) {
  part <- lambda_parts(P)
  part$inner / (1 - part$B) - part$outer * (1 - part$A) / (1 - part$B)^2
}

lambda_symmetric <- function(P) {
  one <- lambda_parts(P)
  two <- lambda_parts(t(P))
  (one$A + two$A - one$B - two$B) / (2 - one$B - two$B)
}

lambda_symmetric_gradient <- function(P) {
  one <- lambda_parts(P)
  two <- lambda_parts(t(P))
  left <- 2 - one$B - two$B
  (one$inner + t(two$inner)) / left - (one$outer + t(two$outer)) * (2 - one$A - two$A) / left^2
}

# A tied modal answer leaves the delta method without a derivative.
tied_mode <- function(P) {
  tied <- function(x) sum(x >= max(x) * (1 - 1e-9)) > 1L
  if (tied(rowSums(P)) || any(apply(P, 2L, tied))) "a modal answer is tied, so the standard error is not defined"
}

either <- function(P) tied_mode(P) %||% tied_mode(t(P))

measures <- list(
  cramers_v = measure_entry(
    "Cram\u00e9r's V", "both", c(0, 1),
    estimate = function(P) sqrt(phi_squared(P) / least_side(P)),
    gradient = function(P) root_gradient(P, least_side(P)), interval = "noncentral",
    formula = "sqrt(X2 / (n (m - 1))), m = min(rows, columns)",
    source = "Cram\u00e9r H (1946) Mathematical Methods of Statistics, ch. 21"),
  phi = measure_entry(
    "phi", "both", c(-1, 1), estimate = signed_phi, gradient = signed_phi_gradient, only_2x2 = TRUE,
    formula = "(p11 p22 - p12 p21) / sqrt(p1. p2. p.1 p.2)",
    source = "Yule GU (1912) J Roy Statist Soc 75:579-652"),
  lambda_across = measure_entry(
    "lambda", "across", c(0, 1), estimate = lambda, gradient = lambda_gradient, undefined = tied_mode,
    formula = "(sum_j max_i p_ij - max_i p_i.) / (1 - max_i p_i.)",
    source = "Goodman LA, Kruskal WH (1954) J Amer Statist Assoc 49:732-764"),
  lambda_down = measure_entry(
    "lambda", "down", c(0, 1), estimate = function(P) lambda(t(P)), gradient = function(P) t(lambda_gradient(t(P))),
    undefined = function(P) tied_mode(t(P)),
    formula = "(sum_i max_j p_ij - max_j p_.j) / (1 - max_j p_.j)",
    source = "Goodman LA, Kruskal WH (1954) J Amer Statist Assoc 49:732-764"),
  lambda_both = measure_entry(
    "lambda", "both", c(0, 1), estimate = lambda_symmetric, gradient = lambda_symmetric_gradient, undefined = either,
    formula = "(sum_j max_i p_ij + sum_i max_j p_ij - max_i p_i. - max_j p_.j) / (2 - max_i p_i. - max_j p_.j)",
    source = "Goodman LA, Kruskal WH (1954) J Amer Statist Assoc 49:732-764")
)

# "lambda_across" is the measure lambda, read with `explains`.
measure_name <- function(key) sub("_(across|down|both)$", "", key)

#' What is measured
#'
#' Every measure of association that [strength()] knows, made from the registry that computes them.
#'
#' @return Data frame, one row a measure and direction: `measure`, `label`, `explains`, `least` and `most` (range),
#'   `formula` (p are cell proportions), `source`.
#' @export
#' @examples
#' measures_known()[, c("measure", "explains", "formula")]
measures_known <- function() {
  pick <- function(field) vapply(measures, function(m) m[[field]], "")
  data.frame(measure = measure_name(names(measures)), label = pick("label"), explains = pick("explains"),
             least = vapply(measures, function(m) m$range[1L], 0), most = vapply(measures, function(m) m$range[2L], 0),
             formula = pick("formula"), source = pick("source"), row.names = NULL)
}
