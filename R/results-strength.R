#' How strong is it?
#'
#' Measures of association with standard errors, intervals and, for those that
#' can be negative, the test that they are zero. Every measure gives its
#' estimate and its gradient g in the cell proportions; its standard error is
#' sqrt(g'Vg) with V the covariance under the table's design (linearised or from
#' replicates), so every interval follows the design.
#'
#' Intervals of measures that can be negative are estimate +- t se on the scale
#' of the inverse hyperbolic tangent (Fisher 1921), with the design's degrees of
#' freedom (normal without a design), which holds its 95 percent in small
#' samples too. Cramer's V and its kin, tau and the uncertainty coefficient,
#' which cannot be negative, start from the noncentral form of their statistic
#' (X2, n (r-1) tau of Light & Margolin 1971, G2): the noncentralities L and U
#' that it would not reject (chi-square without a design, the corrected
#' second-order F with one). These take the variance of the root of the
#' statistic to be 1, which is false where associated answers are rare, so the
#' ends are stretched about c = sqrt(max(statistic - d, 0)) by what that
#' variance is by the delta method, kappa: c - sqrt(kappa)(c - sqrt(L)) and c +
#' sqrt(kappa)(sqrt(U) - c), the lower end being 0 where L is 0. The form is
#' ours; simulated coverage is 0.93 to 0.98 from V = 0 to 0.9, balanced and rare
#' (docs/VALIDATION.md). In a 2x2 V has the interval of |phi|. Lambda's is estimate
#' +- t se, and withheld in a sparse table, where it would be far too short.
#'
#' Where an answer was met in fewer than 40 clusters the delta method makes these
#' intervals too short. There the variance of the root (in a 2x2 of the arctanh) is
#' that of the jackknife, which works the measure out anew without each cluster in
#' turn, in a 2x2 with degrees of freedom from the fourth moment of what it adds up
#' (Valliant & Rust 2010), where they are fewer than the design's.
#'
#' The test of zero divides the top of a measure's ratio (for gamma the surplus
#' of pairs in the same order) by its standard error where the two questions are
#' unrelated and the margins as they are, times the root of its design effect.
#'
#' @param x (crosstab) From [crosstab()] or [read_tables()].
#' @param measures (character, default what suits the table) Names from
#'   [measures_known()], or `"all"` that fit the answers: of two unordered
#'   questions V and lambda, of two ordered ones gamma, tau-b and V, of a 2x2
#'   phi, of the same question asked twice kappa first.
#' @param alpha (number in 0-1, default that of the crosstab) Intervals have
#'   confidence 1 - `alpha`.
#' @param scores ("equal", or a list of numbers `down` and `across`, one an
#'   answer; default "equal": 1, 2, 3, ...) Scores of Pearson's r.
#' @param interval ("by_measure" or "bootstrap", default "by_measure")
#'   `"bootstrap"` gives percentile intervals: clusters are drawn with
#'   replacement within strata (respondents, without weights or clusters). A
#'   survey with bootstrap replicates uses those.
#' @param draws (integer, default 2000) Bootstrap samples.
#' @param seed (integer, default option `fairlattice.seed`) Of the bootstrap.
#' @param explain (TRUE or FALSE, default FALSE) Adds `meaning`: in a sentence,
#'   what the figure says of this table. Words for its size are conventions, so
#'   they come only with the option `size_words`, and name their source (Cohen
#'   1988).
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame, one row a measure, direction and layer: `each`,
#'   `measure`, `explains` ("across": across explains down; "down"; or "both",
#'   symmetric), `estimate`, `se`, `low`, `high`, `p` (test of zero), `interval`
#'   (how it was made), `shown` (whether it is among those shown first), `note`
#'   (why a figure is missing, or how to read it). Units: each measure in its
#'   own range ([measures_known()] tells it), p-values 0-1.
#' @section Errors: `fairlattice_error_measure`, `fairlattice_error_scores`,
#'   `fairlattice_error_bootstrap`.
#' @references Goodman LA, Kruskal WH (1972) J Amer Statist Assoc 67:415-421
#'   (delta method for measures of association). Light RJ, Margolin BH (1971) J
#'   Amer Statist Assoc 66:534-544. Fisher RA (1921) Metron 1:3-32. Valliant R,
#'   Rust KF (2010) J Official Statist 26:585-602.
#' @export
#' @examples
#' strength(crosstab(demo_records(), down = heating, across = island), explain = TRUE)
#' table <- crosstab(demo_records(), down = ferry, across = years)
#' strength(table, measures = c("gamma", "somers_d"))
strength <- function(x, measures = NULL, alpha = NULL, scores = "equal",
                     interval = c("by_measure", "bootstrap"), draws = 2000,
                     seed = NULL, explain = FALSE, ...) {
  nothing_else(...)
  call <- environment()
  check_class(x, "fairlattice_crosstab", "x", "crosstab()", call)
  check_measures(measures, call)
  interval <- first_of(interval)
  check_choice(interval, c("by_measure", "bootstrap"), "interval", call)
  check_flag(explain, "explain", call)
  check_fraction(alpha %||% x$choices$alpha, "alpha", call)
  if (identical(scores, "midranks")) {
    stop_input(c(tells("scores_pearson_r_equal_given"),
                 i = tells("r_between_midranks_spearman_rho")), "scores",
                 call = call)
  }
  check_scores(scores, x, call, "equal")
  rows <- if (!has(x, "records"))
    stored_strength(x, measures, alpha, scores, interval, call) else
    strength_rows(x, measures, alpha %||% x$choices$alpha, scores, interval,
                  draws, seed, call)
  out <- frame_of(x, rows)
  if (explain)
    out$meaning <-
      unlist(lapply(rows, function(layer) vapply(layer, meaning_of, "", x = x)))
  rownames(out) <- NULL
  new_result(out, "strength")
}

strength_rows <- function(x, measures, alpha, scores, interval, draws, seed,
                          call) {
  rows <- further_result_of(x, "strength", alpha = alpha,
                            explains = x$choices$explains,
                            asked = measures %||% "shown", scores = scores,
                            call = call)
  if (interval == "by_measure") return(rows)
  check_whole(draws, "draws", 100, call)
  Map(function(layer, rows) {
    bootstrap_rows(layer, rows, x$tally, alpha = alpha, scores = scores,
                   draws = draws, seed = seed %||% setting("seed"),
                   call = call)
  }, x$layers, rows)
}

stored_strength <- function(x, measures, alpha, scores, interval, call) {
  check_stored(x,
               list(alpha = alpha, scores = scores,
                    interval = if (interval != "by_measure") interval), call)
  found <- strength_of(x, if (is.null(measures)) "shown" else "all")
  if (is.null(measures) || "all" %in% measures) return(found)
  gone <- setdiff(measures, vapply(found[[1L]], function(row) row$measure, ""))
  if (length(gone)) stop_records_gone("measures", gone[1L], NULL, call)
  lapply(found, Filter, f = function(row) row$measure %in% measures)
}

check_measures <- function(asked, call) {
  if (is.null(asked)) return()
  known <- c("all", unique(measure_name(names(measures))))
  if (!is.character(asked))
    stop_input(tells("measures_names_measures_not", quote_value(asked)),
               "measure", call = call)
  bad <- setdiff(asked, known)
  if (length(bad)) {
    stop_input(c(tells("there_is_no_measure", quote_value(bad[1L])),
                 did_you_mean(bad[1L], known, "measures")), "measure",
               call = call)
  }
}

# What a figure says of its table, in the labels of the two questions; its
# conventional size where the option asks for that.
meaning_of <- function(row, x) {
  if (is.na(row$estimate)) return(NA_character_)
  facts <- facts_of(x)
  key <- measure_keys(list(row))
  text <- words(paste0("meaning.", key), x = row$estimate, d = facts$down$label,
                a = facts$across$label)
  if (!setting("size_words") || !key %in% c("cramers_v", "phi")) return(text)
  m <- if (key == "phi") 2 else min(dim(x$layers[[1L]]$n))
  paste(text, in_words(cohens_size(row$estimate, m)))
}

#' What is measured
#'
#' Every measure of association that [strength()] knows, made from the registry
#' that computes them.
#'
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return Data frame, one row a measure and direction: `measure`, `label`,
#'   `explains`, `level` ("nominal", or "ordinal": for two ordered questions, or
#'   two answers), `only` ("2x2", "square": the same question twice, or `NA`),
#'   `least` and `most` (range), `formula` (p are cell proportions), `source`.
#' @export
#' @examples
#' measures_known()[, c("measure", "explains", "formula")]
measures_known <- function(...) {
  nothing_else(...)
  pick <- function(field) vapply(measures, function(m) m[[field]], "")
  name <- measure_name(names(measures))
  data.frame(measure = name, label = name_of("measure", name),
             explains = pick("explains"), level = pick("level"),
             only = pick("only"),
             least = vapply(measures, function(m) m$range[1L], 0),
             most = vapply(measures, function(m) m$range[2L], 0),
             formula = pick("formula"), source = pick("source"),
             row.names = NULL)
}
