# What is said of a figure is a code and the arguments of its sentence: plain values, so that they can be written to a
# file and read back. The sentences stand in the catalogues (R/words-en.R), which the core never reads.
said <- function(.code, ...) list(code = .code, arguments = list(...))

is_said <- function(x) is.list(x) && !is.null(x$code) && "arguments" %in% names(x)

# The code of what is said; NA where nothing is.
code_of <- function(what) if (is.null(what)) NA_character_ else what$code

# Why records are left out, one row a reason: a code, its detail (a condition, the answer that is none), and how many.
no_reasons <- function() list2DF(list(code = character(), detail = character(), records = numeric()))
