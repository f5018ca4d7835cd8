# What a tab plan may say: every key with its kind and what it is for, as data.
# The reader checks by it, and the help page and the JSON Schema for editors are
# made from it.

# ---- the parts of a plan ----

file_keys <- function() {
  list(file = new_key("text",
                      "the file of records, beside the plan or by its path"),
       codebook = new_key("text",
                          "its codebook, where it is not beside the file under the same name"),
       unknown = new_key("choice",
                         paste("a value that the codebook does not know: an",
                               "error, or a missing answer"),
                         choices = c("error", "missing")),
       encoding = new_key("text", "how the letters of a text file are written"),
       delimiter = new_key("text",
                           "what stands between the cells of a text file"),
       decimal = new_key("choice", "the decimal mark of a text file",
                         choices = c(".", ",")),
       sheet = new_key("text",
                       "the sheet of a workbook, or the resource of a data package"),
       range = new_key("text", "cells of a sheet, such as B2:H400"),
       database = new_key("text",
                          paste("in place of a file: sqlite:FILE,",
                                "duckdb:FILE, or a YAML file of a connection")),
       table = new_key("text", "the table or view of the database"),
       query = new_key("text", "in place of a table: a SELECT whose rows are the records"),
       in_chunks = new_key("flag",
                           paste("the file, its parts or a folder of them is",
                                 "read in chunks, not into memory")))
}

asked_keys <- function() {
  list(weight = new_key("text", "column of sampling weights"),
       stratum = new_key("texts", "columns of strata, stage by stage"),
       cluster = new_key("texts", "columns of clusters, stage by stage"),
       id = new_key("text", "column that says who the respondent is"),
       count = new_key("text",
                       "column that says how many respondents a record stands for"),
       population = new_key("texts",
                            paste("columns of the population's clusters in each",
                                  "stratum, or the rates, stage by stage")),
       imputation = new_key("text",
                            "column that says which imputed data set a record is of"),
       calibrated_to = new_key("texts",
                               "margins that the weights were calibrated to"),
       adjust_nonresponse = section(
         "weights that make up for people who did not respond",
         responded = needed(new_key("text", "who responded, such as \"ferry != 'Refused'\"")),
         within = new_key("texts", "questions whose answers together make the classes")),
       weigh_to = section(
         "weights that bring the sample to what is known of the population",
         targets = needed(new_key("targets",
                                  paste("shares or numbers of people by answer, under the",
                                        "question; under island:mode those of two questions",
                                        "together; of a number its mean or total"))),
         method = new_key("choice", "by what the weights are multiplied",
                          choices = names(calibration_methods)),
         limits = new_key("numbers", "least and greatest factor"),
         trim = new_key("numbers", "least and greatest weight, in mean weights"),
         by = new_key("choice", "whether everybody or every cluster has a factor",
                      choices = c("respondent", "cluster"))),
       single_cluster = new_key("choice",
                                "what a stratum with a single cluster adds to the variance",
                                choices = c("centre", "zero", "stop")),
       unequal = new_key("choice",
                         "the approximation for clusters drawn with unequal probabilities",
                         choices = names(unequal_methods)),
       replicates = new_key("texts",
                            "columns of replicate weights, or a pattern such as rep_*"),
       replicate_kind = new_key("choice", "how they were made",
                                choices = c(
                                  "brr", "fay", "jk1", "jkn", "bootstrap",
                                  "successive_difference")),
       fay = new_key("number", "Fay's factor"),
       make_replicates = new_key("choice",
                                 "replicate weights to be made from the design",
                                 choices = c("jackknife", "bootstrap", "brr")))
}

# Steps of preparing, each under its verb.
prepare_keys <- function() {
  lapply(prepare_steps(), function(step) {
    do.call(section, c(step$about, step$keys))
  })
}

# What may be set for all tables, for those of a chapter, or for one.
setting_keys <- function() {
  once(program, "setting_keys", NULL, c(
    choice_keys(setdiff(names(all_choices()), c("paired", "title"))), # which are of one table only
    list(
      overlap = new_key("flag",
                        paste("letters compare all columns, people who stand",
                              "in several taken into account")),
      figure = new_key("choice", "the figure of a report",
                       choices = c(names(figures), "none")),
      write_up = new_key("choice", "the paragraph beneath a table of a report",
                         choices = c("none", "short", "full", "sentence")),
      along = new_key("choices", "results that go along with a table",
                      choices = setdiff(names(results_known), "write_up")))))
}

table_keys <- function() {
  c(list(
    questions = new_key("texts",
                        paste(paste("questions down the side: a name, a list,",
                                    "a pattern such as q12_*, or"),
                              "\"every question\"; a table each")),
    but = new_key("texts", "questions that a pattern is not to take in"),
    across = new_key("texts",
                     paste("questions across, in place of the plan's; none",
                           "for a table of one question")),
    each = new_key("text", "a table for every answer of this question"),
    pooled = new_key("flag",
                     "with each: the tables of all answers taken together"),
    standardise = new_key("text",
                          paste("percentages as if all columns had the same",
                                "composition by this question")),
    standard = new_key("texts",
                       paste("to which: total (default), a column, or shares of its",
                             "answers such as young=30")),
    quantiles = new_key("numbers",
                        "of a number: these quantiles go along, such as 10, 50 and 90"),
    class_width = new_key("number",
                          "to what people round that number; quantiles are interpolated"),
    paired = new_key("flag",
                     "one question across, the same question asked twice of the same people"),
    shares = new_key("shares", "shares that a question alone is held against"),
    together = new_key("flag",
                       "all its questions in one table, below each other"),
    among = new_key("text", "who these tables are of, such as \"age >= 18\""),
    base = new_key("text", "the same in words, for the line under the title"),
    title = new_key("text", "title of the table")), setting_keys())
}

chapter_keys <- function() {
  list(title = needed(new_key("text", "title of the chapter")),
       text = new_key("texts", "paragraphs under the title"),
       among = new_key("text", "who its tables are of"),
       base = new_key("text", "the same in words"),
       across = new_key("texts", "questions across, in place of the plan's"),
       defaults = do.call(section, c("settings of its tables", setting_keys())),
       tables = needed(sections("its tables", table_keys(),
                                short = "questions")))
}

# How an output shows the book.
output_kinds <- c("report", "tables", "data")

output_keys <- function() {
  list(file = needed(new_key("text",
                             paste("where to, by its ending; a folder,",
                                   "written with a / at its end, for a site"))),
       as = new_key("choice",
                    "a report with figures and findings, tables alone, or data",
                    choices = output_kinds),
       template = new_key("text",
                          "the house's document, whose styles a .docx takes"),
       formulas = new_key("flag", "whether a workbook calculates"))
}

plan_keys <- function() {
  list(
    title = new_key("text", "title of the book"),
    language = new_key("choice", "language of what is said of a table",
                       choices = setting_choices$language),
    style = new_key("text", "the house style, a YAML file beside the plan"),
    records = new_key("section", "the records", file_keys(), short = "file"),
    asked = do.call(section,
                    c("who was asked, and how the sample was drawn",
                      asked_keys())),
    among = new_key("text",
                    "the part of the sample that all tables are of, such as \"age >= 18\""),
    base = new_key("text", "the same in words, for the line under the titles"),
    prepare = new_key("steps",
                      "what is done to the questions first, step by step",
                      prepare_keys()),
    across = new_key("texts",
                     "the questions across the top of every table (the banner)"),
    defaults = do.call(section, c("settings of all tables", setting_keys())),
    chapters = needed(sections("the chapters", chapter_keys())),
    before = new_key("section",
                     paste("earlier waves in their order: files of records, or",
                           "answers of a question in the same file"),
                     c(replace(file_keys(), "file", list(
                       new_key("texts", "the files of records, in their order"))),
                       list(
                         question = new_key(
                           "text", "or the question that says the wave"),
                         now = new_key("text", "its answer for this wave"),
                         then = new_key("texts",
                                        "its answers for the earlier waves"),
                         called = new_key(
                           "texts",
                           "what the waves are called in the tables, this one last"),
                         against = new_key(
                           "text",
                           paste("what a wave is compared with: previous (the",
                                 "default), first, or a wave by its name")),
                         breaks = new_key(
                           "texts",
                           paste("waves from which the series begins anew, such as",
                                 "\"2030: new wording\"")))),
                     short = "file"),
    outputs = sections("what is made of the book", output_keys(),
                       short = "file")
  )
}

# ---- the same as JSON Schema ----

schema_of_key <- function(key) {
  own <- switch(
    key$kind,
    section = schema_of_keys(key$keys, key$short),
    sections = list(type = "array", minItems = 1L,
                    items = schema_of_keys(key$keys, key$short)),
    steps = list(type = "array",
                 items = list(
                   type = "object", minProperties = 1L, maxProperties = 1L,
                   additionalProperties = FALSE,
                   properties = lapply(key$keys, schema_of_key))),
    choice = list(enum = key$choices),
    choices = or_list(list(enum = key$choices)),
    key_kinds[[key$kind]]$schema)
  c(list(description = key$about), own)
}

schema_of_keys <- function(keys, short = NULL) {
  must <- names(Filter(function(key) key$needed, keys))
  whole <- c(list(type = "object", additionalProperties = FALSE),
             if (length(must)) list(required = as.list(must)),
             list(properties = lapply(keys, schema_of_key)))
  if (is.null(short)) whole else
    list(anyOf = list(list(type = "string"), whole))
}

# The schema as it is shipped.
plan_schema <- function() {
  jsonlite::toJSON(c(list("$schema" = "http://json-schema.org/draft-07/schema#",
                          title = "Tab plan"), schema_of_keys(plan_keys())),
                   auto_unbox = TRUE, pretty = TRUE)
}

# ---- and as a help page ----

# A line a key, indented by its section.
keys_listed <- function(keys, depth = 0L) {
  unlist(lapply(names(keys), function(name) {
    key <- keys[[name]]
    what <- switch(key$kind, section = "a section",
                   sections = "a list of sections", steps = "a list of steps",
                   choice = one_of(key$choices),
                   choices = paste("some of", list_some(key$choices, Inf)),
                   spoken(tells(key_kinds[[key$kind]]$what)))
    own <- sprintf("%s* `%s`%s: %s (%s)", strrep("  ", depth), name,
                   if (key$needed) " (needed)" else "", key$about, what)
    # settings are listed once
    inside <- if (name == "defaults") NULL else
      setdiff(names(key$keys), if (depth > 0L) names(setting_keys()))
    c(own, if (length(inside)) keys_listed(key$keys[inside], depth + 1L),
      if (name == "tables")
        sprintf("%s* any setting, see below", strrep("  ", depth + 1L)))
  }))
}

plan_help <- function() {
  c("@section Keys:", keys_listed(plan_keys()), "", "@section Settings:",
    paste("Of all tables (`defaults`), of a chapter's (its `defaults`) or of",
          "one table; the nearest goes"), "before:", "",
    keys_listed(setting_keys()))
}
