# How a book was made, as its files carry it.

# What a file of a book says of how it was made: its plan, but for what it reads and
# writes; what was done to the records; its house style.
book_recipe <- function(b, as) {
  if (is.null(b$made)) return(NULL)
  list(format = book_format, version = 1L, title = b$title, language = b$language,
       software = list(name = "fairlattice", version = program_version()),
       source = list(sha256 = source_hash(b$front$source)),
       as = as, made = steps_json(b$made),
       style = without_seeds(unclass(b$style)[style_sections()]),
       plan = without_seeds(b$plan))
}

# Who knows the seed of a rounding could undo it.
without_seeds <- function(keys) {
  if (!is.list(keys)) return(keys)
  if (!is.null(names(keys))) keys <- keys[names(keys) != "round_seed"]
  lapply(keys, without_seeds)
}

# What a plan asks for, of any records.
plan_of_any_records <- function(keys) {
  keys$before <- keys$before[setdiff(names(keys$before), "file")]
  keys <- keys[setdiff(names(keys), c("records", "asked", "prepare", "outputs", "style"))]
  Filter(length, keys)
}

# Whether a recipe from a file has the form that it was written in; what is in its
# plan, its steps and its style is checked where they are taken up.
is_sound_recipe <- function(recipe) {
  none_or <- function(x, is) is.null(x) || is(x)
  is_mapping(recipe$plan) && none_or(recipe$made, is_mapping) && one_text(recipe$title) &&
    none_or(recipe$style, function(x) !length(x) || is_mapping(x)) &&
    one_text(recipe$as) && recipe$as %in% c("report", "tables") &&
    none_or(recipe$language, function(x) is.null(an_option("language")(x)))
}
