#' Options
#'
#' Every default that is a convention stands here. Set one for the session with
#' `options(fairlattice.NAME = value)`; an argument of the same name in a call
#' goes before it.
#'
#' | option | default | meaning |
#' |---|---|---|
#' | `alpha` | 0.05 | level of the tests; intervals have confidence 1 - `alpha` |
#' | `correction` | `"holm"` | correction of the residuals' p-values over the cells of a table |
#' | `digits` | 1 | decimals of percentages |
#' | `digits_statistic` | 2 | decimals of test statistics, residuals and ratios |
#' | `digits_strength` | 3 | decimals of measures of strength |
#' | `digits_p` | 3 | decimals of p-values; smaller ones are "< 0.001", never 0 |
#' | `leading_zero` | `TRUE` | whether p-values and measures, which cannot be beyond 1, are written 0.05 or .05 |
#' | `language` | `"en"` | of what is said about a table: `"en"` or `"de"` |
#' | `decimal_mark` | that of the language | `"."` or `","` |
#' | `thousands_mark` | `","`, or a space after a decimal comma | `","`, `"."`, `" "`, `"'"` or `""` |
#' | `minus` | the minus sign, U+2212 | the sign of negative figures; or a hyphen, `"-"` |
#' | `percent_sign` | `FALSE` | whether percentages in the cells of a table carry their sign |
#' | `threads` | 2 | threads of the tally; the sums do not depend on it |
#' | `most_answers` | 250 | a question with more different answers is not tabulated |
#' | `most_values` | 30 | nor is a number with more different values (12 where they are not whole): cut it into bands |
#' | `most_cells` | 50000 | nor is a table with more cells |
#' | `most_groups` | 5e6 | rows that one query of a database, or one pass over files in chunks, may give |
#' | `most_columns` | 20000 | columns that a text file may have |
#' | `most_sheet_cells` | 3e7 | cells that a sheet of a workbook may span |
#' | `most_unpacked` | 2^31 | bytes that a packed file may unpack to |
#' | `most_df` | 1000 | in a table with more degrees of freedom Rao-Scott stays at first order |
#' | `block_cells` | 4e6 | numbers of a matrix of scores that are held at once |
#' | `rao_scott_v0` | `"estimate"` | where Rao-Scott takes the multinomial covariance, or at the independence `"fit"` |
#' | `exact_steps` | 2e7 | steps that the exact test may take unasked (15 times as many when it is asked for), and ... |
#' | `exact_bytes` | 2e8 | ... bytes that it may hold (5 times as many), before it turns to random tables |
#' | `random_tables` | 100000 | random tables of a simulated p-value |
#' | `seed` | 1 | seed of everything that is drawn at random |
#' | `sparse_rule` | `"cochran"` | `"cochran"` (as below), `"every"` (any small), `"average"` (Roscoe & Byars 1971) |
#' | `sparse_expected` | 5 | an expected count under this is small ... |
#' | `sparse_share` | 0.2 | ... and more than this share of small ones makes a table sparse (Cochran 1954) |
#' | `sparse_least` | 1 | as does any expected count under this |
#' | `small_base` | 30 | a percentage base under this is too small to read |
#' | `small_clusters` | 8 | a column (row) with people in fewer clusters is named |
#' | `low_base` | 50 | and one under this is to be read with care |
#' | `tiny_effect` | 0.1 | a significant effect size w under this is pointed out (w = V sqrt(m - 1)) |
#' | `size_words` | `FALSE` | whether `strength(explain = TRUE)` says small, medium, large (Cohen 1988) |
#' | `notable_effect` | 0.3 | w that a not significant table's interval must reach for it to be pointed out |
#' | `weight_loss` | 1.5 | design effect of unequal weights, n / effective base, from which on it is pointed out |
#' | `left_out_share` | 0.05 | share of records left out, an answer or weight missing, from which on it is pointed out |
#' | `power` | 0.8 | power at which the smallest effect that a table could show is worked out |
#'
#' @name fairlattice_options
#' @examples
#' old <- options(fairlattice.alpha = 0.01)
#' getOption("fairlattice.alpha")
#' options(old)
NULL

setting_defaults <- list(
  alpha = 0.05, correction = "holm", digits = 1L, digits_statistic = 2L,
  digits_strength = 3L, digits_p = 3L,
  leading_zero = TRUE, language = "en", decimal_mark = ".",
  thousands_mark = ",", minus = "\u2212",
  percent_sign = FALSE,
  threads = 2L, most_answers = 250L, most_values = 30L, most_cells = 50000L,
  most_unpacked = 2^31,
  most_sheet_cells = 3e7, most_columns = 20000L, most_groups = 5e6,
  most_df = 1000L, block_cells = 4e6, rao_scott_v0 = "estimate",
  exact_steps = 2e7, exact_bytes = 2e8,
  random_tables = 1e5, seed = 1L,
  sparse_rule = "cochran", sparse_expected = 5, sparse_share = 0.2,
  sparse_least = 1, small_base = 30, small_clusters = 8, low_base = 50,
  size_words = FALSE, tiny_effect = 0.1, notable_effect = 0.3,
  weight_loss = 1.5, left_out_share = 0.05, power = 0.8
)

decimal_marks <- c(en = ".", de = ",")

option_names <- stats::setNames(paste0("fairlattice.", names(setting_defaults)),
                                names(setting_defaults))

# Both are looked up by name so often that environments, which need not go
# through all names, hold them.
settings <- list(options = list2env(as.list(option_names), parent = emptyenv()),
                 defaults = list2env(setting_defaults, parent = emptyenv()))

setting <- function(name) {
  option <- settings$options[[name]]
  note_options(option)
  value <- getOption(option)
  if (is.null(value))
    return(switch(name, decimal_mark = decimal_marks[[setting("language")]],
                  thousands_mark = if (setting("decimal_mark") == ",") " " else
                    ",", settings$defaults[[name]]))
  check_setting(name, value)
  value
}

# Options of a few words; those between 0 and 1; all others are of the kind of
# their default.
setting_choices <- list(correction = c("holm", "bonferroni",
                                       "benjamini_hochberg"),
                        decimal_mark = c(".", ","),
                        thousands_mark = c(",", ".", " ", "'", ""),
                        minus = c("\u2212", "-"), language = c("en", "de"),
                        rao_scott_v0 = c("estimate", "fit"),
                        sparse_rule = c("cochran", "every", "average"))
setting_fractions <- c("alpha", "power", "sparse_share", "left_out_share")

check_setting <- function(name, value) {
  single <- is.atomic(value) && length(value) == 1L && !is.na(value)
  fault <- setting_fault(name, value, single)
  if (is.null(fault)) return(invisible())
  stop_input(tells("option_fairlattice_not", name, fault, quote_value(value)),
             "option", option = name, call = NULL)
}

# What a setting must be; NULL when it is.
setting_fault <- function(name, value, single) {
  choices <- setting_choices[[name]]
  if (!is.null(choices) && !(single && value %in% choices))
    return(one_of(choices))
  if (name == "thousands_mark" && value == setting("decimal_mark"))
    return(tells("must_other_mark"))
  if (!is.null(choices)) return(NULL)
  if (is.logical(setting_defaults[[name]]))
    return(if (!single || !is.logical(value)) tells("must_true_or_false"))
  number_fault(name, value, single && is.numeric(value))
}

number_fault <- function(name, value, number) {
  if (name %in% setting_fractions)
    return(if (!number || value <= 0 || value >= 1) tells("must_fraction"))
  if (!number || value < 0) tells("must_not_negative")
}
