# The house style: how all tables of a house look, as a YAML file or as lists.

#' The house style
#'
#' Fonts, colours, rules, decimals, signs, words and the usual layout of all
#' tables of a house, kept in one YAML file and given to [lay_out()] or to
#' `--style`. Every section and every key may be left out. What is asked for one
#' table goes before the style. A form that cannot follow a part of it (a
#' terminal has no fonts, a JSON file no looks) says so.
#'
#' * `fonts`: `text` and `title` (a font, or several with commas; `title` is by
#'   default that of the text), `size` (points of the text, 6 to 30), `smallest`
#'   (points that a table of a document may be made smaller to before its page is
#'   turned, default 8).
#' * `colours`: `ink`, `quiet` and `paper` (of the text, of notes and bases, of
#'   the page), `band` (behind the column of all respondents), `rule`, `more`
#'   and `fewer` (behind cells that are marked up or down), `answers` (a list of
#'   colours for the answers of a figure).
#' * `rules`: `head`, `foot` and `rows` (under the headings, under the answers,
#'   between the answers), each `none`, `thin`, `thick` or `double`.
#' * `decimals`: `percent`, `mean`, `weighted`, `expected`, `number`, `p`,
#'   `strength`, each 0 to 15.
#' * `numbers`: `decimal_mark`, `thousands_mark`, `minus`, `percent_sign`,
#'   `leading_zero`, see [options][fairlattice_options].
#' * `language`: `en` or `de`.
#' * `words`: other words for labels, by their code, such as `line.respondents:
#'   Base`.
#' * `layout`: arguments of [lay_out()], all but `title`, `subtitle`, `labels`,
#'   `decimals` and `against`.
#'
#' Codes of labels begin with `line.` (`all`, `total`, `respondents`,
#' `weighted`, `effective`, `mean`, `sd`, `q1`, `median`, `q3`), `figure.`
#' (`column`, `row`, `total`, `n`, `weighted`, `expected`, `residual`, ...),
#' `severity.` (`stop`, `care`, `note`), `test.`, `measure.` or `correction.`,
#' followed by the names that the tables of [lay_out()], [tests()] and
#' [strength()] use.
#'
#' @param file (string) Path of a YAML file, `.yml` or `.yaml`. Needs the
#'   package yaml.
#' @param ... The sections as named lists, in place of a file or to change what
#'   the file says.
#' @return A list of class `fairlattice_style` with `name`, the sections, and
#'   `options`, the options that it sets while a table is drawn.
#' @section Errors: `fairlattice_error_style`, which names the file, the line
#'   and the key.
#' @export
#' @examples
#' house <- house_style(rules = list(head = "thick", rows = "thin"),
#'                      numbers = list(percent_sign = TRUE),
#'                      decimals = list(percent = 0), layout = list(base_rows = "top"))
#' lay_out(crosstab(demo_records(), down = ferry, across = island), style = house)
house_style <- function(file = NULL, ...) {
  call <- environment()
  sections <- list(...)
  if (length(sections) &&
        (is.null(names(sections)) || any(!nzchar(names(sections)))))
    stop_input(c(tells("sections_style_named"),
                 i = tells("write_house_style_rules_list_head")), "style",
               call = call)
  text <- if (!is.null(file)) style_text(file, call)
  whole <- utils::modifyList(
    as.list(if (!is.null(file)) parsed_style(text, file, call)), sections)
  checked_style(whole, if (is.null(file)) "the style" else basename(file),
                unlist(strsplit(text %||% "", "\r?\n")), call)
}

as_style <- function(style, call) {
  if (inherits(style, "fairlattice_style")) return(style)
  if (one_text(style)) return(house_style(style))
  stop_layout(tells("style_house_style_path_file_not", quote_value(style)),
              call)
}

style_text <- function(file, call) {
  if (!one_text(file))
    stop_input(tells("file_one_path_not", quote_value(file)), "style",
               call = call)
  if (!file.exists(file) || dir.exists(file))
    stop_input(tells("no_style_file", file), "style", path = file, call = call)
  if (!grepl("[.]ya?ml$", file, ignore.case = TRUE))
    stop_input(c(tells("does_not_end_yml_yaml", file),
                 i = tells("house_style_yaml_file")), "style", path = file,
               call = call)
  text_of(file)
}

parsed_style <- function(text, file, call) {
  need_package("yaml", tells("to_read_style"), call)
  bad <- function(why, ...) {
    stop_input(c(tells("style_cannot_read", basename(file)), x = why, ...),
               "style", path = file, call = call)
  }
  out <- parse_yaml(text, bad)
  if (is.null(out)) return(list())
  if (!is.list(out) || is.null(names(out)))
    bad(tells("no_sections"), i = tells("write_like_decimals"))
  out
}

# ---- what a style may say ----

rule_kinds <- c("none", "thin", "thick", "double")

style_sections <- function() c(names(style_keys), "language", "words", "layout")

# A check gives what is wrong with a value, in words that follow "must be";
# nothing when it is right.
must_be <- function(right, what) function(value) if (!isTRUE(right(value))) what
one_text <- function(value) {
  is.character(value) && length(value) == 1L && !is.na(value)
}
colour_names <- function(value) {
  is.character(value) && length(value) &&
    all(grepl("^#[0-9A-Fa-f]{6}$", value) | value %in% grDevices::colours())
}

a_font <- must_be(function(value) one_text(value) && !grepl("[;{}<>\"]", value),
                  tells("must_font"))
a_colour <- must_be(function(value) colour_names(value) && length(value) == 1L,
                    tells("must_colour"))
a_rule <- must_be(function(value) one_text(value) && value %in% rule_kinds,
                  one_of(rule_kinds))
decimals_to_15 <- must_be(function(value) {
  is.numeric(value) && length(value) == 1L && value %in% 0:15
}, tells("must_decimals"))
an_option <- function(name) {
  force(name)
  function(value) {
    setting_fault(name, value,
                  is.atomic(value) && length(value) == 1L && !is.na(value))
  }
}

a_size <- must_be(function(value) {
  is.numeric(value) && length(value) == 1L && value >= 6 && value <= 30
}, tells("must_size"))

style_keys <- list(
  fonts = list(text = a_font, title = a_font, size = a_size, smallest = a_size),
  colours = list(ink = a_colour, quiet = a_colour, paper = a_colour,
                 band = a_colour, rule = a_colour, more = a_colour,
                 fewer = a_colour,
                 answers = must_be(colour_names,
                                   tells("must_colours"))),
  rules = list(head = a_rule, foot = a_rule, rows = a_rule),
  decimals = stats::setNames(rep(list(decimals_to_15), 7L),
                             c(decimal_kinds, "p", "strength")),
  numbers = lapply(c(decimal_mark = "decimal_mark",
                     thousands_mark = "thousands_mark", minus = "minus",
                     percent_sign = "percent_sign",
                     leading_zero = "leading_zero"), an_option)
)

# Choices of the layout that are a house's, not of one table.
house_layout <- function() {
  choices_that(layout_choices(), function(choice) choice$house)
}

# Options that decimals of a style stand for, beside those of the sheet.
decimals_set <- c(percent = "digits", number = "digits_statistic",
                  p = "digits_p", strength = "digits_strength")

checked_style <- function(style, name, lines, call) {
  # what is wrong, with the line of the file where the key stands
  stop_style <- function(key, message, ...) {
    pattern <- sprintf("^\\s*[\"']?\\Q%s\\E[\"']?\\s*:", utils::tail(key, 1L))
    line <- if (length(lines)) grep(pattern, lines, perl = TRUE)[1L] else NA
    where <- if (!is.na(line))
      tells("in_file_on_line", name, line, message) else
      if (length(lines)) tells("in_file", name, message) else message
    stop_input(c(where, ...), "style",
               key = paste(key, collapse = "."), call = call)
  }
  known <- style_sections()
  unknown <- setdiff(names(style), known)
  if (length(unknown))
    stop_style(unknown[1L], tells("style_no", unknown[1L]),
               did_you_mean(unknown[1L], known, "sections"))
  style <- Filter(Negate(is.null), style)
  for (section in setdiff(names(style), "language"))
    style[[section]] <- checked_keys(style[[section]], section, stop_style)
  fault <- if (!is.null(style$language)) an_option("language")(style$language)
  if (!is.null(fault))
    stop_style("language",
               tells("language_not", fault, quote_value(style$language)))
  check_style_words(style$words, stop_style)
  # an empty list, such as "bases: []", is none
  chosen <- lapply(style$layout, function(value) {
    if (is.list(value)) as.character(unlist(value)) else value
  })
  style$layout <- tryCatch(checked_layout(chosen, call),
                           fairlattice_error = function(e) {
                             key <- Find(
                               function(key) {
                                 grepl(sprintf("`%s`", key),
                                       conditionMessage(e), fixed = TRUE)
                               }, names(style$layout))
                             stop_style(c("layout", key),
                                        first_line(conditionMessage(e)))
                           })
  style$options <- options_of(style)
  marks <-
    style$options[paste0("fairlattice.", c("decimal_mark", "thousands_mark"))]
  if (!is.null(marks[[1L]]) && identical(marks[[1L]], marks[[2L]]))
    stop_style(c("numbers", "thousands_mark"),
               tells("decimals_thousands_same_mark"))
  structure(c(list(name = name), style), class = "fairlattice_style")
}

# A section with known keys, and values that are what they must be.
checked_keys <- function(values, section, stop_style) {
  if (!is.list(values) || is.null(names(values)))
    stop_style(section,
               tells("hold_keys_values_not", section, quote_value(values)))
  keys <- switch(section, words = names(words_en), layout = house_layout(),
                 names(style_keys[[section]]))
  strange <- setdiff(names(values), keys)
  if (length(strange))
    stop_style(c(section, strange[1L]),
               tells("key_has_no", section, strange[1L]),
               did_you_mean(strange[1L], keys, "keys"))
  values <- Filter(Negate(is.null), values)
  for (key in names(style_keys[[section]][names(values)])) {
    if (is.list(values[[key]])) values[[key]] <- unlist(values[[key]])
    fault <- style_keys[[section]][[key]](values[[key]])
    if (!is.null(fault))
      stop_style(c(section, key),
                 tells("key_must_be_not", key, fault,
                       quote_value(values[[key]])))
  }
  values
}

check_style_words <- function(texts, stop_style) {
  for (code in names(texts)) {
    if (is.function(words_en[[code]]))
      stop_style(c("words", code),
                 tells("sentence_figures_style_cannot_change", code))
    if (!one_text(texts[[code]]))
      stop_style(c("words", code),
                 tells("one_text_not", code, quote_value(texts[[code]])))
  }
}

# The options that stand while a table of this style is laid out and drawn.
options_of <- function(style) {
  decimals <- style$decimals[names(style$decimals) %in% names(decimals_set)]
  set <- c(style$numbers,
           stats::setNames(lapply(decimals, as.integer),
                           decimals_set[names(decimals)]),
           if (!is.null(style$language)) list(language = style$language))
  c(stats::setNames(set, if (length(set)) option_names[names(set)]),
    if (length(style$words)) list(fairlattice.words = style$words))
}

# Works something out under the options of a style.
in_style <- function(style, code) {
  if (is.null(style)) return(code)
  was <- options(style$options)
  on.exit(options(was))
  code
}

# ---- what a form follows ----

style_followed <- list(
  text = c("rules", "decimals", "numbers", "language", "words", "layout"),
  html = c("fonts", "colours", "rules", "decimals", "numbers", "language",
           "words", "layout"),
  docx = c("fonts", "colours", "rules", "decimals", "numbers", "language",
           "words", "layout"),
  mail.html = c("fonts", "colours", "rules", "decimals", "numbers", "language",
                "words", "layout"),
  pptx = c("decimals", "numbers", "language", "words", "layout"),
  tex = c("decimals", "numbers", "language", "words", "layout"),
  pdf = c("decimals", "numbers", "language", "words", "layout"),
  xlsx = c("fonts", "colours", "rules", "decimals", "numbers", "language",
           "words", "layout"),
  md = c("decimals", "numbers", "language", "words", "layout"),
  txt = c("rules", "decimals", "numbers", "language", "words", "layout"),
  csv = c("decimals", "numbers", "language", "words", "layout"),
  tidy.csv = character(),
  parquet = character(),
  svg = c("fonts", "colours", "numbers", "language", "words"),
  png = c("fonts", "colours", "numbers", "language", "words"),
  figure.pdf = c("fonts", "colours", "numbers", "language", "words"),
  json = c("language", "words")
)

# The sections of a style that a form does not follow.
not_followed <- function(style, form) {
  setdiff(names(Filter(length, style[c(names(style_keys), "layout")])),
          style_followed[[form]])
}

#' @export
format.fairlattice_style <- function(x, ...) {
  nothing_else(...)
  section_line <- function(section) {
    text <- vapply(x[[section]], function(value) {
      paste(format(value), collapse = ", ")
    }, "")
    sprintf("%s: %s", section,
            paste(if (length(names(text))) paste(names(text), text) else text,
                  collapse = "; "))
  }
  c(words("style_head", x$name),
    vapply(setdiff(names(Filter(length, unclass(x))), c("name", "options")),
           section_line, ""))
}

#' @export
print.fairlattice_style <- function(x, ...) {
  cat(visible(format(x, ...)), sep = "\n")
  invisible(x)
}
