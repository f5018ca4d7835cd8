# What is said of every choice of a table and of its layout, in plans, the help of commands and the JSON Schema: what
# it is for; the sign for its value and the group of the help where it is an option, too; and a value that crosstab()
# has beside those of the registry.
choice_help <- list(
  explains = list("which question explains the other (default across)", "SIDE", "The table"),
  percent = list("base of the percentages (default: the side that explains)", "BASE", "Most used", also = "none"),
  alpha = list("level of tests and marks (default 0.05)", "NUMBER", "The table"),
  correction = list("correction over the cells of a table (default holm)", "NAME", "The table"),
  keep_empty = list("keep answers that nobody gave, also where only a part of the sample is looked at", "",
                    "Who was asked"),
  paired = list("down and across are the same question asked twice of the same people", "", "The table"),
  peaks = list("mark the largest percentage of every column (row, with row percentages)", "", "The table"),
  p = list("how the headline of an unweighted table gets its p-value (default by the table)", "HOW", "The table"),
  show = list("what stands in a cell, in this order, such as 'column,n'", "FIGURES", "Most used"),
  stack = list("where further figures stand (default brackets for two, otherwise beneath)", "HOW", "How it looks"),
  decimals = list("decimals of the percentages, such as 0, or by kind, such as 'percent=0,number=1'", "NUMBER",
                  "How it looks"),
  sort = list("order of the answers down the side (default as asked)", "BY", "How it looks"),
  last = list("an answer that stays last when sorted (may be given again)", "ANSWER", "How it looks"),
  labels = list("other words for answers"),
  wrap = list("characters of a label on a line", "NUMBER", "How it looks"),
  shorten = list("characters after which a label is cut", "NUMBER", "How it looks"),
  title = list("title of the table", "WORDS", "How it looks"),
  subtitle = list("a line under the title, in place of those about base and weight (may be given again)", "WORDS",
                  "How it looks"),
  notes = list("a line to go under the table (may be given again)", "WORDS", "How it looks"),
  source = list("whether the source stands under the table, or what"),
  bases = list("which bases are shown", "BASES", "How it looks"),
  base_rows = list("where the bases stand (default foot)", "PLACE", "How it looks"),
  lines = list("which lines go along under the table (default usual)", "WHICH", "Most used"),
  hide_under = list("percentages of fewer respondents than this are not shown", "NUMBER", "How it looks"),
  withhold_under = list(paste("cells of fewer respondents than this are withheld, and others from which they could be",
                              "worked out"), "NUMBER", "How it looks"),
  round_to = list("counts are rounded to multiples of this, so that they still add up", "NUMBER", "How it looks"),
  marks = list("what is marked (default residuals)", "KIND", "How it looks"),
  against = list("mark differences from the rest, the total, the previous column, or a column of this name", "WHAT",
                 "How it looks"),
  summary = list("lines of a scored question or a number", "LINES", "How it looks"))

all_choices <- function() {
  choices <- c(table_choices(), layout_choices())
  for (name in names(choices)) choices[[name]]$values <- c(choices[[name]]$values, choice_help[[name]]$also)
  choices
}

# As keys of a plan.
choice_keys <- function(names = names(all_choices())) {
  kinds <- c(fraction = "number", whole = "number")
  choices <- all_choices()[names]
  Map(function(choice, help) {
    new_key(if (choice$kind %in% names(kinds)) kinds[[choice$kind]] else choice$kind, help[[1L]],
            choices = choice$values)
  }, choices, choice_help[names])
}
