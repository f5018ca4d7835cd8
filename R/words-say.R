# From what is said (a code and its arguments) to a sentence, in the language of
# the option `language`. Sentences stand whole in the catalogues, one file a
# language, each a function of the arguments or a plain text. A sentence that a
# language lacks is said in English.

# A language is one file, R/words-LANGUAGE.R, that defines the list
# words_LANGUAGE. It is looked up by code often, so it is kept as an
# environment.
english <- list2env(words_en, parent = emptyenv())
catalogues <- list2env(list(en = english), parent = emptyenv())

catalogue_of <- function(language) {
  held <- catalogues[[language]]
  if (!is.null(held)) return(held)
  found <- get0(paste0("words_", language), environment(catalogue_of),
                inherits = FALSE)
  if (!is.null(found))
    catalogues[[language]] <- list2env(found, parent = emptyenv())
  catalogues[[language]]
}

# Without these options the sentences are those of the English catalogue.
word_options <- paste0("fairlattice.", c("words", "language"))

sentence_of <- function(code, language = setting("language")) {
  note_options(word_options)
  if (missing(language) && options_unset_kernel(word_options))
    return(english[[code]])
  own <- getOption("fairlattice.words")[[code]]
  if (!is.null(own)) return(own)
  found <- catalogue_of(language)[[code]]
  if (is.null(found)) english[[code]] else found
}

# One sentence; NA where nothing is said. What an older file says has no
# arguments: its text stays as it was written.
in_words <- function(what) {
  if (is.null(what)) return(NA_character_)
  if (is.character(what)) return(what)
  sentence <- if (!is.null(what$arguments)) sentence_of(what$code)
  if (is.null(sentence)) return(what$text %||% what$code)
  if (is.character(sentence)) sentence else do.call(sentence, what$arguments)
}

# The usual sentence is looked up at once, since a table asks for some sixty.
words <- function(.code, ...) {
  note_options(word_options)
  sentence <- if (options_unset_kernel(word_options)) english[[.code]] else
    sentence_of(.code)
  if (is.null(sentence)) return(.code)
  if (is.character(sentence)) sentence else sentence(...)
}

# The same of a list, as a character vector.
all_in_words <- function(list) vapply(list, in_words, "")

# The language for as long as the function that asks for it runs; NULL leaves it
# as it is.
local_language <- function(language, frame = parent.frame()) {
  if (!is.null(language))
    rlang::local_options(fairlattice.language = language, .frame = frame)
}

# Names of things that are many of a kind: "test.pearson", "measure.phi".
name_of <- function(kind, name) {
  vapply(paste0(kind, ".", name, recycle0 = TRUE), words, "", USE.NAMES = FALSE)
}

# A percentage with its sign, a level of confidence, a list of several, and text
# in quotation marks, as the language writes them.
percent_words <- function(share, digits = setting("digits")) {
  text <- format_percent(share, digits)
  there <- nzchar(text)
  text[there] <- paste0(text[there], words("percent_sign"))
  text
}

confidence_words <- function(alpha) {
  paste0(in_house_style(sprintf("%.4g", 100 * (1 - alpha))),
         words("percent_sign"))
}

# What totals are counted in, in brackets; single people need not be named.
in_unit <- function(unit) {
  if (unit == "units") "" else sprintf(" (%s)", words(paste0("unit.", unit)))
}

# The k-th limits of the rules of reliability, each by its sentence.
limits_said <- function(rules, k, sentences, or) {
  limit <- vapply(rules, `[`, 0, k)
  limit <- limit[!is.na(limit)]
  text <- in_house_style(vapply(limit, format, ""))
  paste(unlist(Map(function(sentence, text) sentence(text),
                   sentences[names(limit)], text)), collapse = or)
}

list_with <- function(x, word) {
  if (length(x) < 2L) x else
    paste(paste(x[-length(x)], collapse = ", "), word, x[length(x)])
}
list_with_and <- function(x) list_with(x, "and")
list_with_or <- function(x) list_with(x, "or")

quoted <- function(x) {
  vapply(x, function(one) words("quoted", text = one), "", USE.NAMES = FALSE)
}

interval_words <- function(low, high, format = format_number, ...) {
  words("interval", low = format(low, ...), high = format(high, ...))
}

# Why records are left out: of a question, or of the record as a whole.
reason_words <- function(code, question, detail) {
  reason <- detail
  for (k in which(code != "missing")) reason[k] <-
    words(paste0("reason.", code[k]), detail = detail[k])
  asked <- nzchar(question)
  if (any(asked)) reason[asked] <- words("reason_of_question", question = question[asked],
                         reason = reason[asked])
  reason
}

left_out_words <- function(left) {
  reason_words(left$code, left$question, left$detail)
}
