# Writes the shipped demo survey, inst/extdata/veyra.schema.json and veyra.csv, from the generator in
# R/records-demo.R. Run from the root of the repository: Rscript data-raw/make-demo.R
answers <- function(title, labels, values = seq_along(labels), ordered = FALSE, missing = NULL) {
  field <- list(title = title, type = "integer",
                categories = Map(function(value, label) list(value = value, label = label), values, labels,
                                 USE.NAMES = FALSE))
  if (ordered) field$categoriesOrdered <- TRUE
  if (length(missing)) field$missingValues <- c(list(list(value = "", label = "No answer")), Map(
    function(value, label) list(value = value, label = label), as.character(missing), names(missing),
    USE.NAMES = FALSE))
  field
}
dont_know <- c("Don't know" = -1)
refused <- c("Prefer not to say" = -2)
item <- function(title) {
  field <- answers(title, c("Not ticked", "Ticked"), 0:1)
  field$missingValues <- list(list(value = "", label = "Not asked (has not thought of leaving)"))
  field
}
statement <- function(title) {
  answers(paste("What residents say:", title),
          c("Strongly disagree", "Disagree", "Undecided", "Agree", "Strongly agree"),
          ordered = TRUE, missing = c(dont_know, refused))
}
fields <- list(
  id = list(title = "Respondent", type = "string"),
  island = answers("Island", c("Norrey", "Sandholm", "Harrow Skerry", "Tarn", "Outer Veyra")),
  settlement = list(title = "Settlement", type = "string"),
  weight = list(title = "Calibrated weight", type = "number"),
  age = list(title = "Age", type = "integer", missingValues = list(list(value = "-2", label = "Prefer not to say"))),
  household = answers("Household", c("Lives alone", "Couple", "With children", "Shared home")),
  tenure = answers("Tenure", c("Owned outright", "Mortgage", "Private rent", "Isles Trust rent", "Tied to a job"),
                   missing = refused),
  work = answers("Main work",
                 c("Fishing and farming", "Public services", "Trade and visitors", "Other work",
                   "Retired or not working"), missing = refused),
  years = answers("Years lived on the isles", c("Under 2", "2 to 5", "6 to 15", "16 to 30", "Over 30"), ordered = TRUE),
  heating = answers("Main heating", c("Oil", "Electric", "Heat pump", "Wood or peat", "District heating"),
                    missing = dont_know),
  internet = answers("Internet quality", c("Very poor", "Poor", "Good", "Very good"), ordered = TRUE,
                     missing = dont_know),
  way_off = answers("Main way off the isles", c("Ferry", "Plane", "Own boat", "Freight boat")),
  ferry = answers("Satisfaction with the ferry",
                  c("Very dissatisfied", "Dissatisfied", "Neither", "Satisfied", "Very satisfied"),
                  ordered = TRUE, missing = c(dont_know, refused, "Never uses it" = -3)),
  turbine = answers("Support for the tidal turbine",
                    c("Strongly against", "Against", "Undecided", "In favour", "Strongly in favour"),
                    ordered = TRUE, missing = c(dont_know, refused)),
  season = answers("Favourite season", c("Spring", "Summer", "Autumn", "Winter"), missing = dont_know),
  mode = answers("Way of answering", c("Web", "Paper", "At the door")),
  leave = answers("Has thought of leaving", c("Yes", "No"), missing = c(dont_know, refused)),
  reason_work = item("Reason to leave: work"), reason_housing = item("Reason to leave: housing"),
  reason_school = item("Reason to leave: school"), reason_health = item("Reason to leave: health care"),
  reason_ferry = item("Reason to leave: the ferry"), reason_family = item("Reason to leave: family"),
  say_council = statement("the council listens to us"), say_ferry = statement("the ferry can be relied on"),
  say_homes = statement("homes can be afforded here"), say_future = statement("the isles have a good future"))
schema <- list(title = "Veyra Isles residents' survey", missingValues = list(""),
               fields = unname(Map(function(field, name) c(list(name = name), field), fields, names(fields))))
writeLines(jsonlite::toJSON(schema, auto_unbox = TRUE, pretty = TRUE, digits = NA), "inst/extdata/veyra.schema.json")

library(fairlattice)
data.table::fwrite(fairlattice:::demo_codes(2412L, 1L, 90L), "inst/extdata/veyra.csv")
data.table::fwrite(fairlattice:::demo_codes(1986L, 1L, 90L, "before"), "inst/extdata/veyra-before.csv")
