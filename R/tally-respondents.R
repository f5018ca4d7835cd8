#' Say who was asked
#'
#' Names the columns that hold the sampling weight and the sample design, checks
#' them, and settles for every record whether it can be in a table and, if not,
#' why. The data frame itself is not changed.
#'
#' @param data (data frame, list of them, or source from [dbi_table()] or
#'   [records_in_chunks()]) One row a record. Columns may be factors,
#'   characters, logicals, numbers, or coded numbers with `label`/`labels`
#'   attributes.
#' @param weight (column name, default none) Sampling weights: finite, not
#'   negative, not all zero. A weight never enlarges n. Records with a weight of
#'   0 stay in the sample but not in the table; those with none are left out.
#' @param stratum (columns, default none) Strata of the sample: of the first
#'   stage, and where there are several stages of each, `c(island, part)`.
#' @param cluster (columns, default none) Clusters, from the first stage on:
#'   `c(settlement, dwelling)`. A cluster's name counts within its stratum, or
#'   within the cluster it is part of. Without `population` the first stage
#'   alone counts in the variance (ultimate clusters).
#' @param id (column name, default none) Who the respondent is; an id that
#'   occurs twice leads to a caution.
#' @param count (column name, default none) How many identical respondents a
#'   record stands for (whole numbers). Unlike a weight, a count does enlarge n.
#' @param population (columns, default none) How many clusters (respondents,
#'   where no cluster is named) the population of the record's stratum has, or
#'   at which rate they were drawn (at most 1), for the finite population
#'   correction 1 - a / population; of each stage, `c(settlements, dwellings)`,
#'   one more than there are clusters where respondents were drawn from the
#'   last. Rates that differ within a stratum are inclusion probabilities. The
#'   stages after the first count as far as the first took a known part of all
#'   there are. Without it, sampling is taken to be with replacement.
#' @param calibrated_to (columns, default none) Margins that the weights were
#'   calibrated to before they came here, by raking, post-stratification or
#'   regression: `c(age_group, island)`; `"sex:age_group"` for two questions
#'   together; a number for its sum. A list by their names, as in [weigh_to()],
#'   says what is known of them, too, and is held against the weights. The
#'   variance of a figure is then that of
#'   what the margins leave unexplained. [weigh_to()] remembers its own.
#' @param imputation (column name, default none) Which imputed data set (or
#'   plausible value) a record is of, where the same people stand in `data` once
#'   for each; a list of data frames of the same people says the same. Every
#'   figure then has the variance of imputed data sets combined (Rubin 1987),
#'   with the degrees of freedom of Barnard & Rubin (1999).
#' @param single_cluster ("centre", "zero" or "stop", default "centre") What a
#'   stratum with a single cluster adds to the variance: its square around the
#'   mean of all clusters, nothing, or an error.
#' @param unequal ("hajek" or "brewer", default "hajek") Which approximation is
#'   used for clusters drawn without replacement with unequal probabilities:
#'   Hajek's (1964), or Brewer's (2002), which is that of Hartley & Rao (1962)
#'   with what they need of the population estimated from the sample.
#' @param replicates (columns, default none) Replicate weights that come with
#'   the data: `c(rep_1, rep_2)`, or `"rep_*"` for all columns named so. They
#'   carry the design, so strata and clusters are not named beside them. See
#'   [make_replicates()] to make some.
#' @param replicate_kind ("brr", "fay", "jk1", "jkn", "bootstrap" or
#'   "successive_difference", default "brr") Sets the coefficients c of V = sum
#'   c (p_r - p)(p_r - p)' over R replicates: 1/R, 1/(R(1 - fay)^2), (R-1)/R,
#'   `replicate_scale`, 1/R (or `replicate_scale`), 4/R.
#' @param fay (number in 0-1) Fay's factor, for "fay".
#' @param replicate_scale (numbers) A coefficient for every replicate (or one
#'   for all), for "jkn" and "bootstrap".
#' @param replicate_df (number, default R - 1) Degrees of freedom.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @references Korn EL, Graubard BI (1999) Analysis of Health Surveys, ch. 2-3;
#'   Särndal C-E, Swensson B, Wretman J (1992) Model Assisted Survey Sampling,
#'   4.3 (stages); Rubin DB (1987) Multiple Imputation for Nonresponse in Surveys;
#'   Barnard J, Rubin DB (1999) Biometrika 86:948-955; Hajek J (1964) Ann Math
#'   Statist 35:1491-1523; Hartley HO, Rao
#'   JNK (1962) Ann Math Statist 33:350-374; Brewer KRW (2002) Combined Survey
#'   Sampling Inference, ch. 9;
#'   Wolter KM (2007) Introduction to Variance Estimation, 2nd ed.
#' @return A survey (class `fairlattice_survey`), for [among()] and
#'   [crosstab()].
#' @section Errors: `fairlattice_error_no_column`, `fairlattice_error_weight`,
#'   `fairlattice_error_count`,
#'   `fairlattice_error_column_name`, `fairlattice_error_no_records`,
#'   `fairlattice_error_nobody`, `fairlattice_error_population`,
#'   `fairlattice_error_single_cluster`, `fairlattice_error_replicates`.
#' @export
#' @examples
#' respondents(demo_records(), weight = weight, stratum = island, cluster = settlement, id = id)
respondents <- function(data, weight = NULL, stratum = NULL, cluster = NULL,
                        id = NULL, count = NULL, population = NULL,
                        calibrated_to = NULL, imputation = NULL,
                        single_cluster = c("centre", "zero", "stop"),
                        unequal = c("hajek", "brewer"), replicates = NULL,
                        replicate_kind = "brr", fay = NULL,
                        replicate_scale = NULL, replicate_df = NULL, ...) {
  nothing_else(...)
  call <- environment()
  data <- as_source(data)
  in_frames <- is.list(data) && !is.data.frame(data) && !is_source(data)
  if (in_frames) data <- frames_below(data, call)
  source <- if (is_source(data)) data
  if (!is.null(source)) data <- source$columns
  if (!is.data.frame(data)) {
    stop_input(tells("data_data_frame_not", quote_value(data)), "class",
               call = call)
  }
  if (is.null(source) && !nrow(data))
    stop_input(tells("data_no_records"), "no_records", call = call)
  data <- as_known_columns(data)
  roles <- list(
    weight = column_named(named_by(weight), data, "weight", call),
    stratum = columns_named(named_by(stratum), data, "stratum", call),
    cluster = columns_named(named_by(cluster), data, "cluster", call),
    id = column_named(named_by(id), data, "id", call),
    count = column_named(named_by(count), data, "count", call),
    population = columns_named(named_by(population), data, "population",
                               call),
    imputation = if (in_frames) imputation_column else
      column_named(named_by(imputation), data, "imputation", call)
  )
  check_stages(roles, call)
  single_cluster <- first_of(single_cluster)
  check_choice(single_cluster, c("centre", "zero", "stop"), "single_cluster",
               call)
  replicates <-
    columns_named(named_by(replicates), data, "replicates", call)
  calibrated_to <- margins_named(named_by(calibrated_to), data, call)
  unequal <- first_of(unequal)
  check_choice(unequal, names(unequal_methods), "unequal", call)
  asked <- list(single_cluster = single_cluster, unequal = unequal,
                replicates = replicates, replicate_kind = replicate_kind, fay = fay,
                replicate_scale = replicate_scale, replicate_df = replicate_df)
  if (!is.null(replicates)) check_replicates_alone(roles, call) else
    check_no_replicates(asked, call)
  # as a plan says it; what a plan cannot say is no part of a table made anew
  told <- c(roles, if (!is.null(replicates))
    list(replicates = replicates, replicate_kind = replicate_kind, fay = fay,
         replicate_scale = replicate_scale, replicate_df = replicate_df),
    if (single_cluster != "centre") list(single_cluster = single_cluster),
    if (unequal != "hajek") list(unequal = unequal))
  told <- Filter(Negate(is.null), told)
  if (!is.null(source)) {
    survey <- far_survey(source, roles, asked)
    survey$made <- list(asked = told, steps = list())
    return(calibrated_before(survey, calibrated_to, call))
  }
  column <- role_columns(data, roles)
  for (arg in c("weight", "count")) if (!is.null(column[[arg]])) {
    column[[arg]] <- numbers_alone(column[[arg]])
    check_weight(column[[arg]], roles[[arg]], arg, call)
  }
  survey <- design_survey(data, roles, column, asked, call)
  survey$made$asked <- told
  calibrated_before(survey, calibrated_to, call)
}

# The survey with all that was asked of its design. `groups` are the sums of
# rows that stand for several records.
design_survey <- function(data, roles, column, asked, call, groups = NULL) {
  survey <- new_survey(data, roles, column, call, groups)
  survey <- with_sampling(survey, column, asked, call)
  if (asked$single_cluster == "stop") stop_single_cluster(survey$design, call)
  if (is.null(asked$replicates)) return(survey)
  weights <- if (is.null(groups)) data else
    stats::setNames(as.data.frame(groups$replicates), asked$replicates)
  survey$design$replicates <- given_replicates(
    weights, asked$replicates, asked$replicate_kind, asked$fay,
    asked$replicate_scale, asked$replicate_df, call)
  survey$replicates <- asked$replicates
  given <- as.data.frame(lapply(asked$replicates, function(name) {
    as.numeric(weights[[name]])
  }))
  set_aside(survey, !stats::complete.cases(given), "no_replicate_weight")
}

# What is said of replicate weights needs them.
check_no_replicates <- function(asked, call) {
  said <- c(replicate_kind = !identical(asked$replicate_kind, "brr"),
            fay = !is.null(asked$fay),
            replicate_scale = !is.null(asked$replicate_scale),
            replicate_df = !is.null(asked$replicate_df))
  if (any(said))
    stop_input(tells("replicate_weights_name_their_columns",
                     names(said)[said][1L]), "replicates", call = call)
}

check_replicates_alone <- function(roles, call) {
  both <- Filter(Negate(is.null), roles[c("stratum", "cluster", "population")])
  if (length(both)) {
    stop_input(c(tells("replicates_both_given_but_replicate", names(both)[1L]),
                 i = tells("name_one_other")), "replicates", call = call)
  }
}

# The columns that hold the design: several where a role has several stages.
role_columns <- function(data, roles) {
  lapply(roles, function(name) {
    if (length(name) > 1L) as.list(unclass(data)[name]) else
      if (!is.null(name)) data[[name]]
  })
}

# Later stages are of clusters.
check_stages <- function(roles, call) {
  stages <- lengths(roles[c("stratum", "cluster", "population")])
  if (stages[["stratum"]] > max(1L, stages[["cluster"]]))
    stop_input(tells("strata_of_more_stages"), "stages", call = call)
  if (stages[["population"]] > stages[["cluster"]] + 1L)
    stop_input(tells("population_of_more_stages"), "stages", call = call)
}

# The survey with what is known of how it was drawn.
with_sampling <- function(survey, column, asked, call) {
  survey$design$single_cluster <- asked$single_cluster
  survey$design$unequal <- asked$unequal
  columns <- lapply(column[c("stratum", "cluster", "population")], by_stage)
  population <- columns$population
  in_stages <- length(population) && length(columns$cluster) &&
    (length(columns$cluster) > 1L || length(population) > 1L ||
       has_unequal_rates(survey, population[[1L]]))
  if (in_stages) {
    if (length(population) > length(columns$cluster) && !is.null(survey$sums))
      stop_needs_records(tells("respondents_drawn_from_clusters"), survey, call)
    return(with_stages(survey, columns, asked, call))
  }
  survey$design$units <-
    with_population(survey, if (length(population)) population[[1L]], call)
  survey
}

is_rate <- function(x) {
  is.numeric(x) && !is.factor(x) && all(x > 0 & x <= 1, na.rm = TRUE) &&
    any(x < 1, na.rm = TRUE)
}

# Rates that differ between the clusters of a stratum.
has_unequal_rates <- function(survey, rates) {
  if (!is_rate(rates)) return(FALSE)
  inside <- sampled_in(survey) & !is.na(rates)
  stratum <- survey$design$units$stratum[survey$unit]
  any(tapply(rates[inside], stratum[inside], function(x) diff(range(x)) > 1e-9))
}

# The population's clusters (or respondents) of every unit's stratum: one number
# a stratum, not below what was sampled of it.
with_population <- function(survey, column, call) {
  units <- survey$design$units
  if (is.null(column)) return(units)
  stop_population <- function(...) stop_input(c(...), "population", call = call)
  if (!is.numeric(column) || is.factor(column))
    stop_population(tells("population_numbers"))
  rates <- is_rate(column)
  unit <- survey$unit %||% rep(1L, length(column))
  known <-
    !is.na(column) & (if (is.null(survey$aside)) TRUE else survey$aside == 0L)
  stratum <- units$stratum[unit]
  for (h in unique(units$stratum)) {
    sizes <- unique(as.vector(unclass(column))[known & stratum == h])
    sampled <- if (survey$design$clustered) sum(units$stratum == h) else
      sum(units$sampled[units$stratum == h])
    where <- if (nzchar(h)) tells("in_stratum", h) else tells("in_population")
    if (length(sizes) != 1L)
      stop_population(tells("population_one_number_stratum_but", where,
                            if (length(sizes)) list_some(sizes, 4L) else "none"))
    if (rates) sizes <- sampled / sizes
    if (is.na(sizes) || sizes < sampled) {
      stop_population(tells("population_fewer_sampled", where, format(sizes),
                            format_count(sampled)),
                      i = tells("population_counts",
                                if (survey$design$clustered) "clusters" else
                                  "respondents"))
    }
    units$population[units$stratum == h] <- sizes
  }
  units
}

stop_single_cluster <- function(design, call) {
  units <- design$units
  a <- if (design$clustered) table_of(units$stratum) else
    stats::setNames(units$sampled, units$stratum)
  single_cluster <- names(a)[a == 1]
  if (length(single_cluster)) {
    stop_input(c(tells("one_cluster_only",
                       how_many(length(single_cluster), "stratum_has"),
                       list_some(single_cluster, 5L)),
                 i = tells("join_each_stratum_like_choose")), "single_cluster",
               call = call)
  }
}

table_of <- function(x) {
  names <- unique(x)
  stats::setNames(tabulate(match(x, names)), names)
}

new_survey <- function(data, roles, column, call = NULL, groups = NULL) {
  if (is.null(groups)) check_names_there(data, call) # sums may be of all records alike
  for (arg in c("stratum", "cluster", "id")) {
    parts <- by_stage(column[[arg]])
    for (k in seq_along(parts)) check_plain(parts[[k]], roles[[arg]][k], arg, call)
  }
  strata <- lapply(by_stage(column$stratum), design_labels)
  clusters <- lapply(by_stage(column$cluster), design_labels)
  stratum <- if (length(strata)) strata[[1L]]
  cluster <- if (length(clusters)) clusters[[1L]]
  absent <- function(x) if (is.null(x)) FALSE else is.na(x)
  lacking <- function(labels) Reduce(`|`, lapply(labels, is.na), FALSE)
  out_of_sample <- list(
    no_count = absent(column$count), no_weight = absent(column$weight),
    no_stratum = lacking(strata), no_cluster = lacking(clusters))
  not_counted <- list(
    zero_weight = if (is.null(column$weight)) FALSE else column$weight == 0,
    zero_count = if (is.null(column$count)) FALSE else column$count == 0)
  survey <- structure(list(
    data = data, roles = roles,
    weight = if (!is.null(groups)) mean_weight(groups) else
      if (!is.null(column$weight)) as.numeric(column$weight),
    count = if (!is.null(groups)) groups$n else
      if (!is.null(column$count)) as.numeric(column$count),
    sums = groups, aside = NULL, reasons = no_reasons()[1:2], cut = FALSE,
    notes = list(),
    before = attr(data, "left_before", exact = TRUE),
    source = attr(data, "source", exact = TRUE),
    made = list(asked = list(), steps = as.list(attr(data, "steps_done", exact = TRUE)))),
    class = "fairlattice_survey")
  for (reason in names(out_of_sample)) survey <-
    set_aside(survey, out_of_sample[[reason]], reason)
  survey <- with_imputations(survey, imputation_of(
    column$imputation, c(column["id"], list(stratum = strata, cluster = clusters)),
    call, groups))
  sampled <- if (is.null(survey$aside)) TRUE else survey$aside == 0L
  if (!any(sampled)) {
    stop_input(c(tells("no_respondents_left_every_record"),
                 i = tells("look_columns_named")), "nobody", call = call)
  }
  survey <- add_design(survey, stratum, cluster, sampled)
  for (reason in names(not_counted)) survey <-
    set_aside(survey, not_counted[[reason]], reason)
  add_repeats(survey, column$id, sampled & first_imputation(survey))
}

# A group of n respondents is like n of its mean weight, but for the sum of
# squares.
mean_weight <- function(groups) {
  if (!is.null(groups$w)) replace(groups$w / groups$n, which(groups$n <= 0), 0)
}

# How many records there are, and how many a row stands for.
records_stood_for <- function(survey) {
  records <- if (is.null(survey$sums)) nrow(survey$data) else
    sum(survey$sums$records)
  records / imputations_of(survey$design)
}

records_by <- function(survey, place, size) {
  records <- if (is.null(survey$sums)) tabulate(place, size) else
    sum_by_cell_kernel(as.integer(place), as.numeric(survey$sums$records),
                       as.integer(size))
  records / imputations_of(survey$design)
}

check_names_there <- function(data, call) {
  if (!length(data))
    stop_input(tells("data_no_columns"), "no_records", call = call)
  bad <- which(is.na(names(data)) | !nzchar(names(data)))
  if (length(bad)) {
    stop_input(c(tells("data_column_has_no_name", bad[1L]),
                 i = tells("give_every_column_name")), "column_name",
               call = call)
  }
}

# A column of single values, as strata, clusters and ids are.
check_plain <- function(x, name, arg, call) {
  if (!is_plain(x)) {
    stop_input(tells("column_single_values_but", arg, name, class(x)[1L]),
               "column_type", column = name, call = call)
  }
  if (is.factor(x)) sound_factor(x, name, call)
  invisible()
}

# Gives the records where `test` is TRUE a reason for not being in the table,
# unless they have one already.
set_aside <- function(survey, test, code, detail = "") {
  if (!any(test, na.rm = TRUE)) return(survey)
  test <- test & !is.na(test)
  survey$ready <- NULL
  if (is.null(survey$aside)) survey$aside <- integer(nrow(survey$data))
  known <- survey$reasons
  place <- which(known$code == code & known$detail == detail)
  if (!length(place)) {
    survey$reasons <- list2DF(list(code = c(known$code, code),
                                   detail = c(known$detail, detail)))
    place <- nrow(survey$reasons)
  }
  survey$aside[test & survey$aside == 0L] <- place
  survey
}

# Units of the design: the clusters within strata, or the strata when every
# respondent is a cluster of their own.
add_design <- function(survey, stratum, cluster, sampled) {
  has <- list(stratum = !is.null(stratum), cluster = !is.null(cluster))
  survey$design <- list(weighted = !is.null(survey$weight),
                        stratified = has$stratum, clustered = has$cluster,
                        single_cluster = "centre")
  if (!is.null(survey$imputation))
    survey$design$imputations <- max(survey$imputation)
  if (!has$stratum && !has$cluster) {
    size <- sum(if (is.null(survey$count))
                  rep(sampled, length.out = nrow(survey$data)) else
                  survey$count[sampled])
    survey$design$units <-
      data.frame(stratum = "", cluster = NA_character_, sampled = size)
    return(survey)
  }
  every <- function(x) {
    if (is.null(x))
      structure(rep(1L, nrow(survey$data)), levels = "", class = "factor") else
      x
  }
  stratum <- every(stratum)
  cluster <- every(cluster)
  strata <- labels_among(stratum, sampled)
  clusters <- labels_among(cluster, sampled)
  place <- function(x, labels) match(levels(x), labels)[as.integer(x)]
  key <-
    (place(stratum, strata) - 1) * length(clusters) + place(cluster, clusters)
  if (!all(sampled)) key[!sampled] <- NA
  unit <- different_values(key)
  keys <- unit$values
  standing <- survey$count %||% rep(1, length(key))
  in_sample <- !is.na(unit$codes)
  sizes <- sum_by_cell_kernel(unit$codes[in_sample], standing[in_sample], length(keys))
  survey$unit <- unit$codes
  survey$unit[!in_sample] <- 1L # set aside already: never tallied
  survey$design$units <- data.frame(
    stratum = strata[(keys - 1) %/% length(clusters) + 1L],
    cluster = if (has$cluster)
      clusters[(keys - 1) %% length(clusters) + 1L] else NA_character_,
    sampled = sizes)
  nested <-
    unique(survey$design$units$cluster[duplicated(survey$design$units$cluster)])
  if (has$cluster && has$stratum && length(nested)) {
    survey$notes$nested_clusters <- nested
  }
  survey
}

# Without named clusters every record of the sample becomes one.
respondents_as_clusters <- function(survey, call) {
  if (!is.null(survey$roles$count)) {
    stop_input(c(tells("records_stand_several_respondents_count"),
                 i = tells("name_clusters_give_one_record")), "replicates",
               call = call)
  }
  person <- seq_len(nrow(survey$data))
  if (!is.null(survey$imputation))
    person <- as.integer(stats::ave(person, survey$imputation, FUN = seq_along))
  sampled <- sampled_in(survey)
  there <- sort(unique(person[sampled]))
  unit <- survey$unit %||% rep(1L, nrow(survey$data))
  units <- survey$design$units[unit[match(there, person)], , drop = FALSE]
  units$cluster <- as.character(there)
  units$sampled <- 1
  rownames(units) <- NULL
  survey$design$units <- units
  survey$design$clustered <- TRUE
  survey$unit <- match(person, there)
  survey$unit[is.na(survey$unit) | !sampled] <- 1L
  with_calibration(survey)
}

# In radix order: the same units in the same order on every machine, whatever
# its language.
labels_among <- function(x, rows) {
  sort(levels(x)[tabulate(as.integer(x)[rows], nlevels(x)) > 0L],
       method = "radix")
}

# Ids that occur twice: how many, and which records, so that a table can see
# whether their answers differ.
add_repeats <- function(survey, id, sampled) {
  if (is.null(id)) return(survey)
  id <- readable(as.character(if (is.double(id))
                                at_fifteen_digits(as.vector(unclass(id))) else
                                id))
  known <- !is.na(id) & nzchar(id) & sampled
  again <- unique(id[known][duplicated(id[known])])
  survey$repeats <- which(known & id %in% again)
  survey$repeat_id <- id[survey$repeats]
  survey
}

as_survey <- function(x) {
  if (inherits(x, "fairlattice_survey")) x else respondents(x)
}
