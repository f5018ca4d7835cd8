#' Is the sample like the population?
#'
#' One question against given shares (goodness of fit), with a residual per answer. Without weights or a design: X2 = n
#' sum (p_i - q_i)^2 / q_i and G2 = 2n sum p_i ln(p_i / q_i) on r - 1 degrees of freedom. With them the headline is the
#' second-order Rao-Scott test with the one-way design effects: their sum is n sum V_ii / q_i, their sum of squares n^2
#' sum V_ij^2 / (q_i q_j). Residuals are (p_i - q_i) over their standard error (multinomial at q, or the design's),
#' two-sided and corrected over the answers.
#'
#' @param panel (panel or data frame) From [respondents()].
#' @param question (column name, see [fairlattice]) Which question.
#' @param against ("equal", or a named numeric vector, default "equal") The shares to hold it against, one an answer,
#'   that add up to 1 or 100.
#' @param alpha,correction As in [lattice()].
#' @param ... Nothing: what is put here is an error, with the nearest argument's name.
#' @return List of class `fairlattice_goodness`: `tests` (as [test_independence()] gives them), `answers` (data frame:
#'   `answer`, `n`, `share`, `low`, `high`, `against`, `residual`, `p`, `p_corrected`, `mark`), `left_out`.
#' @references Rao JNK, Scott AJ (1981) J Amer Statist Assoc 76:221-230.
#' @export
#' @examples
#' panel <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement)
#' test_shares(panel, season, against = c(Spring = 25, Summer = 40, Autumn = 25, Winter = 10))
test_shares <- function(panel, question, against = "equal", alpha = NULL, correction = NULL, ...) {
  nothing_else(...)
  call <- environment()
  panel <- as_panel(panel)
  name <- column_named(rlang::enquo(question), panel$data, "question", call)
  if (is.null(name)) stop_input("`question` must name a question.", "column_name", call = call)
  alpha <- alpha %||% setting("alpha")
  correction <- correction %||% setting("correction")
  check_fraction(alpha, "alpha", call)
  check_choice(correction, names(corrections), "correction", call)
  tally <- tally_alone(panel, name, call)
  layer <- add_estimate(layers_of(tally, TRUE)[[1L]], tally)
  if (is.null(layer$estimate)) stop_input("Nobody answered this question.", "nobody", call = call)
  q <- shares_against(against, rownames(layer$n), layer, call)
  p <- layer$weighted[, 1L] / layer$base$weighted
  shares <- layer_shares(layer, "total", alpha)
  answers <- data.frame(answer = rownames(layer$n), n = layer$n[, 1L], share = p, low = shares$low, high = shares$high,
                        against = q, row.names = NULL)
  structure(list(title = tally$down$label, weight = panel$roles$weight, alpha = alpha,
                 tests = as_findings(rows_to_frame(goodness_tests(p, q, layer)), "tests"),
                 answers = cbind(answers, goodness_residuals(p, q, layer, correction, alpha)),
                 left_out = account_of(tally)$left_out), class = "fairlattice_goodness")
}

# A tally of one question: across stands a single answer for everybody.
tally_alone <- function(panel, name, call) {
  everybody <- structure(rep(1L, nrow(panel$data)), levels = "everybody", class = "factor")
  panel$data <- list(panel$data[[name]], everybody)
  names(panel$data) <- c(name, "\rall")
  panel$data <- list2DF(panel$data)
  tally_columns(panel, name, "\rall", NULL, call)
}

shares_against <- function(against, answers, layer, call) {
  stop_here <- function(...) stop_input(c(...), "against", call = call)
  if (identical(against, "equal")) return(rep(1 / length(answers), length(answers)))
  if (!is.numeric(against) || is.null(names(against)) || anyNA(against) || any(against < 0)) {
    stop_here("`against` must be \"equal\" or shares named by the answers.")
  }
  unknown <- setdiff(names(against), answers)
  if (length(unknown))
    stop_here(sprintf("There is no answer \"%s\".", unknown[1L]), did_you_mean(unknown[1L], answers, "Answers"))
  absent <- setdiff(answers, names(against))
  if (length(absent)) stop_here(sprintf("`against` has no share for \"%s\".", absent[1L]))
  total <- sum(against)
  if (!any(abs(total - c(1, 100)) <= c(0.005, 0.5))) {
    stop_here(sprintf("The shares in `against` add up to %s, not to 1 or 100.", format(total)))
  }
  q <- unname(against[answers]) / total
  none <- answers[q == 0 & layer$n[, 1L] > 0]
  if (length(none)) stop_here(sprintf("\"%s\" was answered, but its share in `against` is 0.", none[1L]))
  q
}

goodness_tests <- function(p, q, layer) {
  e <- layer$estimate
  row <- function(test, statistic, df, df_error = NA_real_, p = NA_real_, headline = FALSE, note = NA_character_) {
    list(test = test, statistic = statistic, df = df, df_error = df_error, p = p, p_se = NA_real_, base = layer$base$n,
         headline = headline, why = NA_character_, note = note)
  }
  some <- q > 0
  X2 <- e$n * sum((p - q)[some]^2 / q[some])
  G2 <- max(0, 2 * e$n * sum(ifelse(p > 0, p * log(p / q), 0), na.rm = TRUE))
  d <- sum(some) - 1
  if (d < 1) return(list(row("pearson", NA_real_, NA_real_, headline = TRUE,
                             note = "there is one answer only, so there is nothing to compare")))
  upper <- function(x) stats::pchisq(x, d, lower.tail = FALSE)
  note <- if (e$by_design) plain_note else NA_character_
  plain <- list(row("pearson", X2, d, p = upper(X2), headline = !e$by_design, note = note),
                row("likelihood_ratio", G2, d, p = upper(G2), note = note))
  if (!e$by_design) return(plain)
  if (e$df < 1)
    return(c(list(row("rao_scott_second", NA_real_, NA_real_, headline = TRUE,
                      note = "no degrees of freedom: there are no more clusters than strata")), plain))
  at <- q[e$rows]
  V <- covariance_of(e, diag(length(at)))
  sum <- e$n * sum(diag(V) / at)
  squares <- e$n^2 * sum(V^2 / tcrossprod(at))
  df <- sum^2 / squares
  second <- function(test, statistic, headline = FALSE) {
    row(test, statistic / sum, df, df * e$df, stats::pf(statistic / sum, df, df * e$df, lower.tail = FALSE), headline)
  }
  c(list(second("rao_scott_second", X2, TRUE), row("rao_scott_first", X2 / (sum / d), d, p = upper(X2 / (sum / d))),
         second("rao_scott_second_likelihood", G2)), plain)
}

goodness_residuals <- function(p, q, layer, correction, alpha) {
  e <- layer$estimate
  se <- sqrt(q * (1 - q) / e$n)
  if (e$by_design) {
    se <- rep(NA_real_, length(p))
    se[e$rows] <- sqrt(variance_of(e, diag(length(e$rows))))
  }
  residual <- ifelse(se > 0, (p - q) / se, NA_real_)
  two_sided <- if (e$df >= 1) 2 * stats::pt(-abs(residual), e$df) else rep(NA_real_, length(p))
  corrected <- correct(two_sided, correction)
  marked <- !is.na(corrected) & corrected <= alpha
  data.frame(residual, p = two_sided, p_corrected = corrected,
             mark = ifelse(!marked, "", ifelse(residual > 0, "more", "fewer")))
}
