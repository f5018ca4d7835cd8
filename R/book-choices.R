# What is said of every choice of a table and of its layout, in plans, the help
# of commands and the JSON Schema: what it is for; the sign for its value and
# the group of the help where it is an option, too; and a value that crosstab()
# has beside those of the registry.
new_help <- function(about, sign = NULL, group = NULL, also = NULL) {
  list(about = about, sign = sign, group = group, also = also)
}

choice_help <- list(
  explains = new_help("which question explains the other (default across)",
                      "SIDE", "The table"),
  percent = new_help("base of the percentages (default: the side that explains)",
                     "BASE", "Most used", also = "none"),
  alpha = new_help("level of tests and marks (default 0.05)", "NUMBER",
                   "The table"),
  correction = new_help("correction over the cells of a table (default holm)",
                        "NAME", "The table"),
  keep_empty = new_help(paste("keep answers that nobody gave, also where only",
                              "a part of the sample is looked at"), "",
                        "Who was asked"),
  paired = new_help("down and across are the same question asked twice of the same people",
                    "", "The table"),
  margin = new_help(paste("difference, or V, that is too small to matter:",
                          "says whether the table shows that there is no more,",
                          "such as 0.1"), "NUMBER", "The table"),
  peaks = new_help("mark the largest percentage of every column (row, with row percentages)",
                   "", "The table"),
  p = new_help(paste("how the headline of an unweighted table gets its",
                     "p-value (default by the table)"), "HOW", "The table"),
  show = new_help("what stands in a cell, in this order, such as 'column,n'",
                  "FIGURES", "Most used"),
  stack = new_help("where further figures stand (default brackets for two, otherwise beneath)",
                   "HOW", "How it looks"),
  decimals = new_help(paste("decimals of the percentages, such as 0, or by",
                            "kind, such as 'percent=0,number=1'"), "NUMBER",
                      "How it looks"),
  sort = new_help(paste("order of the answers down the side: asked (default),",
                        "size, difference, mean, or an answer or net"), "BY",
                  "How it looks"),
  last = new_help("an answer that stays last when sorted (may be given again)",
                  "ANSWER", "How it looks"),
  only = new_help(paste("what the table is cut down to: nets, means, or answers",
                        "and nets by name (may be given again)"), "WHAT",
                  "How it looks"),
  labels = new_help("other words for answers"),
  wrap = new_help("characters of a label on a line", "NUMBER", "How it looks"),
  shorten = new_help("characters after which a label is cut", "NUMBER",
                     "How it looks"),
  title = new_help("title of the table", "WORDS", "How it looks"),
  subtitle = new_help(paste("a line under the title, in place of those about",
                            "base and weight (may be given again)"), "WORDS",
                      "How it looks"),
  notes = new_help("a line to go under the table (may be given again)", "WORDS",
                   "How it looks"),
  source = new_help("whether the source stands under the table, or what"),
  bases = new_help("which bases are shown", "BASES", "How it looks"),
  base_rows = new_help("where the bases stand (default foot)", "PLACE",
                       "How it looks"),
  outside = new_help(paste("reasons for no answer to stand under the bases, in percent",
                           "of everybody asked, or all (may be given again)"), "REASON",
                     "How it looks"),
  total = new_help(paste("where the column of everybody stands: last (default),",
                         "first or none"), "PLACE", "How it looks"),
  dress = new_help(paste("whom it is for: its author (working), or readers",
                         "(published, the default of files)"), "WHOM",
                   "How it looks"),
  lines = new_help(paste("what goes along under the table: key, rounding, test, strength,",
                         "reference, cautions, account, source, text; or none,",
                         "published, working"), "PARTS", "Most used"),
  hide_under = new_help("percentages of fewer respondents than this are not shown",
                        "NUMBER", "How it looks"),
  withhold_under = new_help(paste(paste("cells of fewer respondents than this",
                                        "are withheld, and others from which",
                                        "they could"), "be worked out"),
                            "NUMBER", "How it looks"),
  protect = new_help(paste("how many values a withheld count must leave open",
                           "(default that of --withhold-under)"), "NUMBER",
                     "How it looks"),
  round = new_help(paste("whether percentages are rounded each by itself (default), or",
                         "so that they add up to 100"), "HOW", "How it looks"),
  round_to = new_help("counts are rounded at random to multiples of this, right on average",
                      "NUMBER", "How it looks"),
  round_seed = new_help("seed of the rounding (default 1)", "NUMBER",
                        "How it looks"),
  marks = new_help("what is marked (default residuals)", "KIND",
                   "How it looks"),
  second_alpha = new_help(paste("a stricter level beside --alpha, at which letters are",
                                "capitals (the same as --alpha 0.05,0.01)"), "NUMBER",
                          "How it looks"),
  against = new_help(paste("mark differences from the rest, the total, the",
                           "previous or the first column, or a column of this",
                           "name"), "WHAT",
                     "How it looks"),
  summary = new_help("lines of a scored question or a number", "LINES",
                     "How it looks"),
  unit = new_help("what estimated totals are counted in (default units)",
                  "UNIT", "How it looks"),
  flag_cv = new_help(paste("coefficient of variation in percent beyond which a",
                           "figure is to be used with caution, and beyond",
                           "which it is not shown, such as '20,40'"), "LIMITS",
                     "How sure"),
  flag_width = new_help("the same by the width of the interval in points",
                        "LIMITS", "How sure"),
  flag_under = new_help(paste("respondents under which a figure is to be used",
                              "with caution, and under which it is not shown,",
                              "such as '50,20'"), "LIMITS", "How sure"),
  flag_clusters = new_help("the same by the clusters in which they live",
                           "LIMITS", "How sure"))

all_choices <- function() {
  once(program, "all_choices", NULL, {
    choices <- c(table_choices(), layout_choices())
    for (name in names(choices)) choices[[name]]$values <-
      c(choices[[name]]$values, choice_help[[name]]$also)
    choices
  })
}

# As keys of a plan.
choice_keys <- function(names = names(all_choices())) {
  kinds <- c(fraction = "number", whole = "number")
  choices <- all_choices()[names]
  Map(function(choice, help) {
    new_key(if (choice$kind %in% names(kinds)) kinds[[choice$kind]] else
              choice$kind, help$about, choices = choice$values)
  }, choices, choice_help[names])
}
