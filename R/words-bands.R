# The labels of bands. What band() calls a band is the name of an answer, which
# plans, conditions and data hold, so it stays English; a table shows it in its
# own language.

band_forms <- c("all", "or_less", "or_more", "under", "over", "to_under",
                "over_to", "from_to")

# The name of a band of this form between these numbers.
band_name <- function(form, ...) {
  text <- english[[paste0("band.", form)]]
  if (is.function(text)) text(...) else text
}

# Labels of answers as a table shows them: bands in its language, all others as
# they are.
bands_shown <- function(labels, history) {
  banded <- any(vapply(history, function(what) code_of(what) %in% "banded", NA))
  if (!banded || setting("language") == "en") return(labels)
  vapply(labels, band_in_words, "", USE.NAMES = FALSE)
}

band_in_words <- function(label) {
  for (form in band_forms) {
    found <- regmatches(label, regexec(band_pattern(form), label))[[1L]]
    if (length(found))
      return(do.call(words,
                     c(paste0("band.", form),
                       unname(as.list(in_house_style(found[-1L]))))))
  }
  label
}

# What the English name of a band looks like, its numbers in brackets.
band_pattern <- function(form) {
  number <- "(-?[0-9.]+)"
  name <- english[[paste0("band.", form)]]
  text <- if (is.function(name))
    do.call(name, rep(list(number), length(formals(name)))) else name
  paste0("^", text, "$")
}
