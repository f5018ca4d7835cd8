# Records that stay where they are: in a database, or in files that are read in
# chunks. A source does one thing, it adds up: a row for every combination of
# what is asked, with its sums. Such a row is a group of records that are alike
# in all that is asked, so a survey of groups is an ordinary survey whose
# records stand for several, and whatever comes after is the same as for records
# in memory.

# A source is
#   columns   data frame without records: the names of the columns, their kinds and titles
#   about     how the records are called in the line of the source: a list with `file`
#   sums      function(sets, measures): a list of groups, one a set; see below
#   coded     function(data, records): columns by the codebook
#   truth     function(condition): a condition as the source itself can work it out, or NULL
#   least     function(column): the least number in a column, or NULL where that would take long
#   repeats   function(column): how many values of an id occur more than once, and in
#             how many records; NA where they are too many to be looked for
#   again     what far_records() is given to open it anew in another process, or NULL
#   number    function(): the number of its connection at a server, or NULL
#   cancel    function(number): ends the query of another connection, or NULL
# A set is a list of
#   columns     names of the columns whose values are told apart
#   cuts        by the name of a number: where it is cut (see new_cuts()); values
#               between two cuts may be merged
#   conditions  conditions as `truth` gave them
# and groups are a list of
#   data        data frame: columns, one row a group; of a number that is cut, one of its values
#   kept        a list of logical vectors, one a condition
#   records, n, w, w2, weight, count, replicates
#               number of records; sums of counts, weights and squared weights; the
#               sign of the weight and of the count
#               (NA where it is missing, -2 where it is no number); a matrix of sums
#               of the replicate weights
new_source <- function(columns, about, sums, coded, truth, least, repeats,
                       again = NULL, number = NULL, cancel = NULL) {
  structure(list(columns = columns, about = about, sums = sums, coded = coded,
                 truth = truth, least = least, repeats = repeats, again = again,
                 number = number, cancel = cancel),
            class = "fairlattice_source")
}

is_source <- function(x) inherits(x, "fairlattice_source")

# What stands for records that stay where they are, such as a lazy table, as a source.
as_source <- function(x) UseMethod("as_source")
#' @export
as_source.default <- function(x) x

# ---- a survey of a source ----

# What was asked for of the design, and the steps that prepare its questions,
# which wait until a table needs them.
far_survey <- function(source, roles, asked) {
  structure(list(data = source$columns, roles = roles, asked = asked,
                 records = source, steps = list(), source = source$about,
                 cut = FALSE, among = NULL, notes = list(),
                 reasons = no_reasons()[1:2],
                 far = new.env(parent = emptyenv())),
            class = c("fairlattice_far_survey", "fairlattice_survey"))
}

is_far <- function(x) inherits(x, "fairlattice_far_survey")

# A step makes a column (`makes`; NULL when it is about the whole survey) from
# others (`uses`), by `run`, which takes and gives a survey; `cuts` says of a
# number that it uses where it needs to be told apart.
later <- function(survey, step) {
  survey$ready <- NULL
  survey$steps <- c(survey$steps, list(step))
  survey
}

# A column made from others, now or when a table needs it. `work` gets the
# columns, and the weight and number of records of each row (NULL: 1).
with_made <- function(x, name, from, work, cuts = NULL) {
  if (!is_far(x)) {
    data <- if (inherits(x, "fairlattice_survey")) x$data else x
    column <-
      work(as_known_columns(data[from]), weight_of(x), x[["sums"]]$records)
    return(with_column(x, name, column))
  }
  x$data[[name]] <- prototype_made(x$data[from], work)
  later(x,
        list(makes = name, uses = from, cuts = cuts, run = function(survey) {
          with_made(survey, name, from, work)
        }))
}

# What was done to the records, step by step and as a plan says it, so that a table
# of theirs can be made anew of others: with a survey as `made`, with a data frame
# as an attribute. `from` is what the step was given, `out` what it gave.
noted <- function(out, from, verb, with = list()) {
  step <- list(list(verb = verb, with = Filter(Negate(is.null), with)))
  if (inherits(out, "fairlattice_survey")) {
    made <- if (inherits(from, "fairlattice_survey")) from$made else
      list(asked = list(), steps = as.list(attr(from, "steps_done", exact = TRUE)))
    out$made <- list(asked = made$asked, steps = c(made$steps, step))
  } else if (is.data.frame(out)) {
    attr(out, "steps_done") <- c(attr(from, "steps_done", exact = TRUE), step)
  }
  out
}

# Who belongs to the sample, in a table or not: everybody but those whose place
# in the design is not known.
sampled_in <- function(survey) {
  unplaced <- survey$reasons$code %in%
              c("no_weight", "no_stratum", "no_cluster", "no_count")
  if (is.null(survey$aside)) rep(TRUE, nrow(survey$data)) else
    !survey$aside %in% which(unplaced)
}

# The weight that a row carries, as many times as it counts.
weight_of <- function(x) {
  if (!inherits(x, "fairlattice_survey") ||
        is.null(x$weight) && is.null(x$count)) return(NULL)
  (x$weight %||% 1) * (x$count %||% 1)
}

stop_needs_records <- function(what, survey, call) {
  stop_input(c(tells("needs_every_record_itself_these", what),
               x = tells("breaks_are", survey$records$about$file),
               i = tells("read_into_memory_first_give")), "needs_records",
             call = call)
}

# The column without records. What goes wrong with columns whose answers are all
# declared would go wrong later too, and is told at once; of others nobody knows
# yet what they hold.
prototype_made <- function(columns, work) {
  declared <-
    all(vapply(columns, function(x) is.factor(x) && nlevels(x) > 0L, NA))
  tryCatch(work(columns, NULL, NULL), error = function(e) {
    if (declared) stop(e) else
      structure(character(), label = label_of(columns[[1L]]))
  })
}

with_column <- function(x, name, column) {
  if (!inherits(x, "fairlattice_survey")) {
    x[[name]] <- column
    return(x)
  }
  x$ready <- NULL # sums of the column as it was
  x$data[[name]] <- column
  x
}

stop_too_many_groups <- function(what, call) {
  stop_input(c(what, x = tells("one_every_combination_cluster_answers"),
               i = tells("name_clusters_hold_many_records")), "too_many_groups",
             call = call)
}

# ---- cuts ----

# Where a number is cut: below a value (18: 17 and 18 are told apart) or up to
# it (18 and 19 are told apart).
new_cuts <- function(below = numeric(), upto = numeric()) {
  cuts <- list2DF(list(at = c(below, upto),
                       upto = rep(c(FALSE, TRUE),
                                  c(length(below), length(upto)))))
  cuts <- unique(cuts[order(cuts$at, cuts$upto), ])
  rownames(cuts) <- NULL
  cuts
}

join_cuts <- function(x, y) {
  both <- rbind(x, y)
  new_cuts(both$at[!both$upto], both$at[both$upto])
}
