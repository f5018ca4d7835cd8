#' Replicate weights made from the design
#'
#' Gives a survey replicate weights, made from its strata and clusters (every
#' respondent is a cluster of their own when none is named), so that variances
#' come from replicates instead of linearisation. Replicate weights that come
#' with the data are named in [respondents()].
#'
#' * `"jackknife"`: each cluster is left out once and the others of its stratum
#'   stand for it, with coefficient (1 - f)(a - 1)/a for a clusters in the
#'   stratum (JK1 without strata, JKn with them).
#' * `"bootstrap"`: a - 1 of a stratum's a clusters are drawn with replacement,
#'   weights times a/(a - 1) (Rao & Wu 1988); coefficient 1/R.
#' * of several stages (see [respondents()]): the jackknife leaves out every
#'   unit of every stage that counts, the bootstrap draws half of them at each
#'   (Preston 2009, who extends Rao, Wu & Yue 1992).
#' * `"brr"`: balanced half samples of two clusters a stratum, by a Hadamard
#'   matrix; `fay` keeps that share of the half left out; coefficient 1/(R (1 -
#'   fay)^2).
#'
#' A population correction shrinks every replicate's distance from 1 (or its
#' coefficient) by the stratum's f.
#'
#' @param survey (survey) From [respondents()].
#' @param kind ("jackknife", "bootstrap" or "brr").
#' @param replicates (integer, default 500) How many, of a bootstrap.
#' @param fay (number in 0-1, below 1; default 0) Fay's factor, of `"brr"`.
#' @param seed (integer, default option `fairlattice.seed`, 1) Seed of a
#'   bootstrap.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return The survey, with replicates.
#' @section Errors: `fairlattice_error_replicates` (what the kind cannot be made
#'   of).
#' @references Wolter KM (2007) Introduction to Variance Estimation, 2nd ed.,
#'   ch. 3-4. Rao JNK, Wu CFJ (1988) J Amer Statist Assoc 83:231-241. Judkins DR
#'   (1990) J Official Statist 6:223-239 (Fay's method). Rao JNK, Wu CFJ, Yue K
#'   (1992) Survey Methodology 18:209-217. Preston J (2009) Survey Methodology
#'   35:227-234.
#' @export
#' @examples
#' survey <- respondents(demo_records(), weight = weight, stratum = island, cluster = settlement)
#' crosstab(make_replicates(survey, "jackknife"), down = internet, across = tenure)
make_replicates <- function(survey, kind = c("jackknife", "bootstrap", "brr"),
                            replicates = 500, fay = 0, seed = NULL, ...) {
  nothing_else(...)
  call <- environment()
  survey <- as_survey(survey)
  kind <- first_of(kind)
  check_choice(kind, names(replicate_makers), "kind", call)
  check_whole(replicates, "replicates", 2, call)
  of_bootstrap <- c(replicates = !missing(replicates), seed = !is.null(seed))
  if (kind != "bootstrap" && any(of_bootstrap))
    stop_input(tells("bootstrap_only_how_many_follows",
                     names(of_bootstrap)[of_bootstrap][1L], kind), "replicates",
               call = call)
  check_number(fay, "fay", 0, 1, call)
  if (fay == 1 || (fay > 0 && kind != "brr"))
    stop_input(tells("fay_share_under_1_brr"), "replicates", call = call)
  given <- list(kind = kind, replicates = if (kind == "bootstrap") replicates, fay = fay,
                seed = seed)
  if (is_far(survey)) {
    if (is.null(survey$roles$cluster))
      stop_needs_records(tells("leaving_out_one_respondent_time"), survey, call)
    out <- later(survey, list(run = function(survey) {
      if (kind != "bootstrap") make_replicates(survey, kind, fay = fay) else
        make_replicates(survey, kind, replicates, fay, seed)
    }))
    return(noted(out, survey, "make_replicates", given))
  }
  if (!is.null(survey$design$replicates))
    stop_input(tells("survey_replicate_weights_already"), "replicates",
               call = call)
  if (!survey$design$clustered) survey <- respondents_as_clusters(survey, call)
  if (!is.null(survey$design$stages)) {
    made <- staged_replicates(survey$design, kind, replicates, seed, call)
    survey$design$replicates <- c(list(kind = kind), made)
    if (length(survey$calibration)) survey <- with_steps_again(survey)
    return(noted(survey, survey, "make_replicates", given))
  }
  units <- survey$design$units
  of <- match(units$stratum, unique(units$stratum))
  a <- tabulate(of)[of]
  f <- if (is.null(units$population)) 0 else a / units$population
  size <- if (kind == "bootstrap") replicates else if (kind == "jackknife")
    nrow(units) else 2^ceiling(log2(max(of) + 1))
  if (nrow(units) * size > 5e7) {
    stop_input(c(tells("replicates_clusters_too_many_keep", format_count(size),
                       format_count(nrow(units))),
                 i = tells("ask_bootstrap_fewer_replicates_name")),
               "replicates", call = call)
  }
  made <- with_seed(seed %||% setting("seed"),
                    replicate_makers[[kind]](
                      units, of, a, f, size, fay, survey$design$single_cluster,
                      call))
  survey$design$replicates <- list(kind = kind, factors = made$factors,
                                   scale = made$scale,
                                   df = made$df %||% (length(made$scale) - 1L))
  if (length(survey$calibration)) survey <- with_steps_again(survey)
  noted(survey, survey, "make_replicates", given)
}

# Replicates of a design in several stages.
staged_replicates <- function(design, kind, replicates, seed, call) {
  if (kind == "brr")
    stop_input(c(tells("half_samples_of_one_stage"),
                 i = tells("use_bootstrap_or_jackknife")), "replicates",
               call = call)
  deciding <- design$deciding[!design$deciding$certain, ]
  df <- max(1L, length(unique(deciding$unit)) - length(unique(deciding$stratum)))
  made <- if (kind == "jackknife") staged_jackknife(design$stages) else
    list(factors = with_seed(seed %||% setting("seed"),
                             staged_bootstrap(design$stages, replicates)),
         scale = rep(1 / replicates, replicates))
  c(made, list(df = df))
}

# Each gives the factors (units x replicates) on the weights and the coefficient
# of every replicate. A single cluster adds its own square, or nothing, as in
# the linearised form.
replicate_makers <- list(
  jackknife = function(units, of, a, f, size, fay, single_cluster, call) {
    factors <- matrix(1, length(of), length(of))
    same <- outer(of, of, `==`)
    factors[same] <- (a / pmax(1, a - 1))[row(factors)[same]]
    diag(factors) <- 0
    scale <- (1 - f) *
             ifelse(a > 1, (a - 1) / a, if (single_cluster == "zero") 0 else 1)
    list(factors = factors, scale = scale, df = length(of) - max(of))
  },
  bootstrap = function(units, of, a, f, size, fay, single_cluster, call) {
    list(factors = bootstrap_factors(of, rep_len(f, length(of)), size,
                                     single_cluster),
         scale = rep(1 / size, size), df = length(of) - max(of))
  },
  brr = function(units, of, a, f, size, fay, single_cluster, call) {
    if (any(a != 2L)) {
      odd <- which(a != 2L)[1L]
      stop_input(c(tells("balanced_half_samples_need_two", units$stratum[odd],
                         a[odd]), i = tells("join_split_strata_use_jackknife")),
                 "replicates", call = call)
    }
    H <- matrix(1)
    while (ncol(H) < size) H <- rbind(cbind(H, H), cbind(H, -H))
    sign <- t(H[, of + 1L]) * ifelse(duplicated(of), -1, 1)
    list(factors = 1 + sign * (1 - fay) * sqrt(1 - f),
         scale = rep(1 / (size * (1 - fay)^2), size), df = max(of))
  }
)

# Runs an expression with its own seed and leaves the session's random numbers
# as they were.
with_seed <- function(seed, expression) {
  check_whole(seed, "seed", 0, rlang::caller_env())
  old <- get0(".Random.seed", globalenv(), inherits = FALSE)
  on.exit(if (is.null(old)) rm(".Random.seed", envir = globalenv()) else
            assign(".Random.seed", old, globalenv()))
  set.seed(seed, kind = "Mersenne-Twister", normal.kind = "Inversion",
           sample.kind = "Rejection")
  expression
}

# a - 1 of the a clusters of each stratum, drawn with replacement and rescaled,
# so that their variance is that of a clusters (Rao & Wu 1988): one row a
# cluster, one column a sample.
bootstrap_factors <- function(of, f, size, single_cluster) {
  factors <- matrix(1, length(of), size)
  for (h in seq_len(max(of))) {
    here <- which(of == h)
    m <- length(here)
    drawn <- if (m > 1L)
      stats::rmultinom(size, m - 1L, rep(1 / m, m)) * m / (m - 1L) else
      if (single_cluster == "zero") 1 else 2 * stats::rbinom(size, 1L, 0.5)
    factors[here, ] <- 1 + sqrt(1 - f[here]) * (drawn - 1)
  }
  factors
}

# The same for a design as it is.
cluster_bootstrap <- function(design, draws) {
  if (!is.null(design$stages)) return(staged_bootstrap(design$stages, draws))
  units <- design$units
  of <- match(units$stratum, unique(units$stratum))
  f <- if (is.null(units$population)) rep(0, length(of)) else
    tabulate(of)[of] / units$population
  bootstrap_factors(of, f, draws, design$single_cluster)
}
