# The records of a plan: read, who was asked, and its questions prepared. What
# is wrong is kept as a fault.

beside_plan <- function(plan, path) {
  absolute <- grepl("^(/|[A-Za-z]:|\\\\|~)", path)
  ifelse(absolute | plan$folder == ".", path, file.path(plan$folder, path))
}

# ---- the records and who was asked ----

survey_of_plan <- function(plan, records) {
  if (inherits(records, "fairlattice_survey"))
    return(prepared_survey(plan, records))
  data <- if (is.data.frame(records)) records else
    or_fault(plan, "records",
             records_of(plan, plan$asked$records, "records", records))
  if (is.null(data)) return(NULL)
  # with the design at fault, the questions are looked up all the same
  survey <- or_fault(plan, "asked", survey_as_asked(data, plan$asked$asked)) %||%
    tryCatch(respondents(data), fairlattice_error = function(e) NULL)
  if (!is.null(survey)) designed_survey(plan, survey)
}

# Prepared, with the rest of its design.
designed_survey <- function(plan, survey) {
  survey <- prepared_survey(plan, survey)
  with_design_asked(survey, plan$asked$asked, function(key, survey) {
    or_fault(plan, c("asked", key), survey)
  })
}

# The records of a section (`records` or `before`); `path` takes the place of
# its file.
records_of <- function(plan, section, name, path = NULL) {
  if (is.null(path) && records_elsewhere(section))
    return(far_of_plan(plan, section))
  if (is.null(path)) {
    if (is.null(section$file))
      stop_input(tells("plan_names_no_file_records"), "plan", call = NULL)
    path <- beside_plan(plan, section$file)
  }
  own <- plan$asked$records
  # records without a codebook of their own have that of the plan's records
  codebook <-
    section$codebook %||% if (is.null(codebook_beside(path))) own$codebook
  codebook <- if (!is.null(codebook)) beside_plan(plan, codebook) else
    if (is.null(codebook_beside(path)) && !is.null(own$file))
      codebook_beside(beside_plan(plan, own$file))
  read_records(path, codebook, section$unknown %||% "error", section$encoding,
               section$decimal, section$sheet, section$range, section$delimiter)
}

# Records that stay where they are.
far_of_plan <- function(plan, section) {
  if (!is.null(section$database) && is.null(section$table) == is.null(section$query))
    stop_input(tells("database_needs_table_table_whose"), "plan", call = NULL)
  if (!is.null(section$codebook))
    section$codebook <- beside_plan(plan, section$codebook)
  far_records(section,
              if (!is.null(section$file)) beside_plan(plan, section$file),
              plan$folder)
}

# Who was asked, by the keys of a plan or the options of a command.
survey_as_asked <- function(data, asked) {
  columns <- asked[intersect(c("weight", "stratum", "cluster", "id", "imputation", "count",
                               "population", "replicates"), names(asked))]
  do.call(respondents, c(list(quote(data)), columns,
                         list(single_cluster = asked$single_cluster %||% "centre",
                              unequal = asked$unequal %||% "hajek",
                              replicate_kind = asked$replicate_kind %||% "brr",
                              fay = asked$fay)))
}

# What is asked of the design and needs the prepared questions: the margins of the
# weights, weights made here, and replicates made of all. `done` gives the survey after
# a step, or NULL where it is at fault.
with_design_asked <- function(survey, asked, done = function(key, survey) survey) {
  for (key in intersect(names(design_asked), names(asked)))
    if (!is.null(asked[[key]]))
      survey <- done(key, design_asked[[key]](survey, asked[[key]])) %||% survey
  survey
}

# What plans, commands and the recipes of files ask of the design, in this order.
design_asked <- list(
  calibrated_to = function(survey, margins) calibrated_before(survey, margins, NULL),
  adjust_nonresponse = function(survey, with) {
    rlang::inject(adjust_nonresponse(survey, !!as.character(with$responded),
                                     within = !!unlist(with$within),
                                     !!!Filter(Negate(is.null), with["into"])))
  },
  weigh_to = function(survey, with) {
    how <- lapply(with[c("limits", "trim")], function(x) if (!is.null(x)) as.numeric(unlist(x)))
    given <- Filter(Negate(is.null), c(with[c("method", "by", "rounds", "tolerance", "into")], how))
    rlang::inject(weigh_to(survey, targets_read(with$targets), !!!given))
  },
  make_replicates = function(survey, kind) make_replicates(survey, kind))

# ---- preparing ----

prepared_survey <- function(plan, survey) {
  steps <- plan$asked$prepare
  for (k in seq_along(steps)) if (!is.null(steps[[k]])) {
    path <- c("prepare", as.character(k), steps[[k]]$verb)
    done <- if (!steps[[k]]$faulty)
      or_fault(plan, path, step_done(steps[[k]], survey))
    # what a step at fault would have made is no fault where it is used
    if (is.null(done))
      plan$faults$unmade <- c(plan$faults$unmade,
                              unlist(steps[[k]]$with[c("name", "into", "question")]))
    survey <- done %||% survey
  }
  survey
}

# The part of a survey that `among` keeps, where the section has one.
kept_among <- function(plan, survey, section, path) {
  condition <- section$among
  if (is.null(condition)) {
    if (!is.null(section[["base"]]))
      add_fault(plan, c(path, "base"), tells("base_says_who_among_keeps_needs"))
    return(survey)
  }
  or_fault(plan, c(path, "among"),
           among(survey, !!condition, section[["base"]])) %||% survey
}

# The standard of standardised figures: "total", a column, or the shares of classes,
# such as "young=30".
standard_in_words <- function(words) {
  if (is.null(words)) return("total")
  if (length(words) == 1L && !grepl("=", words, fixed = TRUE)) return(words)
  share <- suppressWarnings(as.numeric(sub("^.*=", "", words)))
  odd <- which(is.na(share) | !grepl("=", words, fixed = TRUE))
  if (length(odd))
    stop_input(tells("standard_not_shares", words[odd[1L]]), "standard", call = NULL)
  stats::setNames(share, trimws(sub("=[^=]*$", "", words)))
}
