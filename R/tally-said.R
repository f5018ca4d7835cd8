# What is said of a figure is a code and the arguments of its sentence: plain
# values, so that they can be written to a file and read back. The sentences
# stand in the catalogues (R/words-en.R), which the core never reads.
said <- function(.code, ...) list(code = .code, arguments = list(...))

# How what is said is put into words is the business of the words, which set it
# when they are loaded: until then it is its code.
speech <-
  list2env(list(sentence = function(what) what$code), parent = emptyenv())

# A sentence of an error, as its code and what it is about; several go into one
# error with c().
tells <- function(.code, ...) list(said(.code, ...))

# What is said, or text as it is, in words.
spoken <- function(x) {
  if (is_said(x)) return(speech$sentence(x))
  if (is.list(x) && length(x) == 1L) return(spoken(x[[1L]]))
  as.character(x)
}

is_said <- function(x) {
  is.list(x) && !is.null(x$code) && "arguments" %in% names(x)
}

# The code of what is said; NA where nothing is.
code_of <- function(what) if (is.null(what)) NA_character_ else what$code

# Why records are left out, one row a reason: a code, its detail (a condition,
# the answer that is none), and how many.
no_reasons <- function() {
  list2DF(list(code = character(), detail = character(), records = numeric()))
}
