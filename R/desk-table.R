# From a work to its table. Records are read once; surveys and tallies are kept,
# so that another base, level or layout tallies nothing anew.

# `records` is a data frame, a source, or a survey whose design then stays as it is;
# `name` is what R calls it, `read` how its file was read, or where the records are,
# where that had to be said, `files` those that are read in chunks. Of records that stay
# where they are `met` keeps what was asked of each question.
new_store <- function(records, name = "records", read = list(), files = NULL) {
  given <- inherits(records, "fairlattice_survey")
  bare <- if (given) records else if (is_source(records)) respondents(records)
  columns <- if (is.null(bare)) records else columns_met(bare)
  met <- if (is_far(bare)) list2env(columns, parent = emptyenv())
  list(records = if (given) with_met(records, met) else records, met = met,
       columns = columns,
       size = if (is.null(bare)) nrow(records) else
         records_stood_for(grounded(bare, character())),
       given = given, name = name, read = read, files = files,
       source = if (is.null(bare)) attr(records, "source", exact = TRUE) else bare$source,
       surveys = new.env(parent = emptyenv()),
       tallies = new.env(parent = emptyenv()),
       pictures = new.env(parent = emptyenv()),
       tables = new.env(parent = emptyenv()),
       parts = new.env(parent = emptyenv()))
}

# All steps of preparing: one record a person comes first.
steps_of <- function(work) {
  first <- if (!is.null(work$one_per))
    list(list(verb = "one_per",
              with = list(id = work$asked$id, keep = work$one_per)))
  c(first, work$prepare)
}

with_met <- function(survey, met) {
  if (is_far(survey)) survey$met <- met
  survey
}

keep_survey <- function(store, key, survey) {
  once(store$surveys, key, NULL, survey, most = 12L)
}

survey_of_work <- function(store, work) {
  prepared <- designed_of_work(store, work)
  if (is.null(work$among)) return(prepared)
  keep_survey(store, hash_of(work$asked, steps_of(work), work$among, work$base),
              among(prepared, !!work$among, work$base))
}

# The survey with all of its design, before the condition.
designed_of_work <- function(store, work) {
  later <- work$asked[c("calibrated_to", "adjust_nonresponse", "weigh_to", "make_replicates")]
  prepared <- prepared_of_work(store, work)
  if (store$given || all(vapply(later, is.null, NA))) return(prepared)
  keep_survey(store, hash_of(work$asked, steps_of(work), "design"),
              with_design_asked(prepared, work$asked))
}

# The survey with its questions prepared.
prepared_of_work <- function(store, work) {
  steps <- steps_of(work)
  if (!length(steps))
    return(keep_survey(store, hash_of(work$asked), {
      if (store$given) store$records else
        with_met(survey_as_asked(store$records, work$asked), store$met)
    }))
  last <- steps[[length(steps)]]
  keep_survey(store, hash_of(work$asked, steps), {
    before <- if (length(work$prepare))
      replace(work, "prepare", list(work$prepare[-length(work$prepare)])) else
      replace(work, "one_per", list(NULL))
    step_done(last, prepared_of_work(store, before))
  })
}

# Settings that a tally's table is made with; all others are chosen of it anew,
# or are its layout.
made_with <- function() {
  c(setdiff(names(table_choices()), chosen_anew()), "overlap")
}

# The table of a work; NULL where nothing is down.
table_of_work <- function(store, work) {
  survey <- survey_of_work(store, work)
  if (is.null(work$down)) return(NULL)
  once(store$tables, hash_of(work[setdiff(names(work), c("tray", "figure"))]),
       NULL, table_made(store, survey, work), most = 40L)
}

table_made <- function(store, survey, work) {
  own <-
    Filter(length, stats::setNames(work$settings[made_with()], made_with()))
  key <- hash_of(work$asked, steps_of(work), work$among, work$base, work[sides],
                own)
  made <- once(store$tallies, key, NULL, {
    rlang::inject(crosstab(survey, down = !!work$down,
                           across = !!none_or(work$across),
                           each = !!work$each, !!!own))
  }, most = 40L)
  laid_out_work(chosen_work(made, work$settings), work$settings)
}

none_or <- function(x) if (length(x)) x

chosen_work <- function(x, settings) {
  asked <- settings[intersect(chosen_anew(), names(settings))]
  if (identical(asked$percent, "none")) {
    asked$percent <- NULL
    x$layout <- list(show = "n")
  }
  if (inherits(x, "fairlattice_crosstab") && !has(x, "across"))
    asked[c("percent", "explains")] <- NULL
  if (length(asked)) rlang::inject(rechoose(x, !!!asked)) else x
}

laid_out_work <- function(x, settings) {
  with_layout(x, settings[intersect(names(settings), names(layout_choices()))])
}
