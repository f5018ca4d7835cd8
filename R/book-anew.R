# Published tables and books made anew of records: by what the file says was done to
# them (its recipe), read as a plan is. Nothing of a file is run.

# The survey that a recipe makes of records: who was asked, and what was done step by
# step.
survey_anew <- function(records, made) {
  made <- checked_recipe(made)
  survey <- survey_as_asked(records, made$asked)
  for (step in made$steps) survey <- made_step(step, survey)
  survey
}

table_made_anew <- function(x, records) {
  survey <- survey_anew(records, x$facts$made)
  facts <- x$facts
  alone <- !has(x, "across")
  statements <- has(x, "statements")
  choices <- x$choices
  shares <- if (length(facts$down$shares))
    stats::setNames(as.numeric(facts$down$shares), facts$down$categories$label)
  crosstab(survey, down = !!facts$down$name,
           across = !!(if (!alone && !statements) facts$across$name),
           each = !!facts$each$name, explains = choices$explains,
           percent = if (alone || statements) NULL else choices$percent,
           alpha = choices$alpha, correction = choices$correction,
           paired = isTRUE(choices$paired), p = choices$p, shares = shares, keep_empty = TRUE)
}

# What a file says was done, checked as the keys of a plan are.
checked_recipe <- function(made) {
  cannot <- function(why, ...) stop_input(c(why, ...), "recipe", call = NULL)
  if (is.null(made)) cannot(tells("recipe_not_known"))
  plan <- structure(list(file = "", called = "the table", text = NULL, keys = made,
                         faults = new_faults()), class = "fairlattice_plan")
  asked <- if (length(made$asked))
    checked_section(plan, made$asked, asked_keys(), "asked") else list()
  verbs <- plan_keys()$prepare$keys
  steps <- lapply(made$steps, function(step) {
    verb <- names(step)
    if (length(verb) == 1L && verb %in% c(names(recipe_verbs), names(design_asked)))
      return(list(verb = verb, with = step[[1L]]))
    if (length(verb) == 1L && !verb %in% names(verbs))
      cannot(tells("recipe_not_in_a_plan", verb))
    checked_step(plan, step, verbs, "prepare")
  })
  if (length(plan$faults$found)) cannot(plan$faults$found[[1L]]$message)
  list(asked = asked, steps = steps)
}

# What is done to a survey that is no step of preparing: how, given the keys as they
# stand in the file.
recipe_verbs <- list(
  among = function(survey, with) {
    among(survey, !!as.character(with$condition), base = with$base)
  },
  calibrated_to = function(survey, with) {
    calibrated_before(survey, as.character(unlist(with$margins)), NULL)
  },
  make_replicates = function(survey, with) {
    given <- Filter(Negate(is.null), with[c("replicates", "seed")])
    rlang::inject(make_replicates(survey, as.character(with$kind),
                                  fay = as.numeric(with$fay %||% 0), !!!given))
  },
  statements = function(survey, with) {
    name <- as.character(with$name)
    if (!is_battery(survey, name))
      stop_input(tells("no_column", name, "down"), "no_column", call = NULL)
    with_statements(survey, name, NULL)
  })

made_step <- function(step, survey) {
  own <- recipe_verbs[[step$verb]] %||% design_asked[[step$verb]]
  if (is.null(own)) step_done(step, survey) else own(survey, step$with)
}

# ---- a book ----

# A book made anew: its sheets as they would be printed, and why there is none of other
# tables, by their numbers.
book_made_anew <- function(recipe, records, before, call) {
  survey <- survey_anew(records, recipe$made)
  # a file may say what it likes: nothing is read or written by it
  plan <- checked_plan(plan_of_any_records(recipe$plan), "the book")
  if (length(recipe$style))
    plan$style <- do.call(house_style, lapply(recipe$style, unlisted))
  if (is.null(before) && is.null(plan$asked$before$question)) plan$asked$before <- NULL
  then <- if (!is.null(before)) lapply(before, survey_anew, made = recipe$made)
  plan <- prepared_plan(plan, survey, then, call)
  stop_faults(plan, call)
  b <- book(plan)
  b$language <- recipe$language
  failed <- failed_tables(b)
  list(sheets = in_book(b, printed_sheets(dressed(entries_of_book(b, call, recipe$as)))),
       failures = stats::setNames(vapply(failed, `[[`, "", "failure"),
                                  vapply(failed, function(one) as.character(one$number), "")),
       sha256 = source_hash(b$front$source))
}

# Lists of single values as vectors.
unlisted <- function(x) {
  if (is.list(x) && is.null(names(x))) return(unlist(x))
  if (is.list(x)) lapply(x, unlisted) else x
}
