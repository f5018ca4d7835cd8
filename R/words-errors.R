# Errors in words: their sentences stand in R/words-errors-LANGUAGE.R, in the list
# errors_LANGUAGE, by code, as texts that sprintf() fills in. What has no sentence
# there has one in the catalogue of words.

# An option that is at fault is itself an error: it is then said in English.
error_words <- function(what) {
  language <- getOption("fairlattice.language")
  if (!isTRUE(language %in% setting_choices$language)) language <- "en"
  sentence <- get(paste0("errors_", language))[[what$code]]
  if (is.null(sentence)) return(in_words(what))
  given <- what$arguments
  if (length(sentence) == 2L) {
    n <- given[[1L]]
    sentence <- sentence[[if (n == 1) 1L else 2L]]
    given <- list(if (n == round(n)) format_count(n) else format(n))
  }
  if (length(given))
    do.call(sprintf, c(sentence, lapply(unname(given), spoken_number))) else
    sentence
}

# Numbers stay numbers for %d.
spoken_number <- function(x) if (is.numeric(x)) x else spoken(x)

invisible(list2env(list(sentence = error_words), speech))
