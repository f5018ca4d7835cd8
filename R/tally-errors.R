# How an error is said: what was wrong, where, and what to do. One check for
# each plain kind of argument.

# Every error of ours has the class fairlattice_error and one of its own, and
# carries its data in `...`. `message` is what tells() gives, one or several,
# named "i" for a hint and "x" for a detail.
stop_input <- function(message, class, ..., call = NULL) {
  text <- if (is_said(message)) spoken(message) else
    unlist(lapply(message, spoken), use.names = TRUE)
  text[] <- visible(unname(text))
  rlang::abort(text,
               class = c(paste0("fairlattice_error_", class),
                         "fairlattice_error"), call = call, ...)
}

# The nearest of `known` to `given`, when it is near enough to be a slip of the
# hand.
nearest <- function(given, known) {
  known <- known[!is.na(known)]
  if (!is.atomic(given) || !length(given)) return(NULL)
  given <- readable(as.character(given[1L]))
  # a far longer word is no slip of the hand, and comparing it would take long
  if (!length(known) || is.na(given) || nchar(given, "bytes") > 200L)
    return(NULL)
  known <- known[validUTF8(known) & nchar(known, "bytes") <= 400L]
  if (!length(known) || !validUTF8(given)) return(NULL)
  distance <-
    utils::adist(given, known, ignore.case = TRUE, partial = FALSE)[1L, ]
  best <- which.min(distance)
  if (distance[best] <= max(1, ceiling(nchar(given) / 3))) known[best] else NULL
}

# `what` names what is known: "columns", "answers".
did_you_mean <- function(given, known, what = "known") {
  near <- nearest(given, known)
  c(i = if (is.null(near)) tells(paste0("known.", what), list_some(known)) else
    tells("did_you_mean", near))
}

# "a, b, c" of at most `most`, and how many more.
list_some <- function(x, most = 8L) {
  shown <- paste(utils::head(x, most), collapse = ", ")
  if (length(x) <= most) return(shown)
  spoken(said("and_more", shown, length(x) - most))
}

# "3 records": of what there is one sentence for one of it and one for several.
how_many <- function(n, what) said(paste0("counted.", what), n)

check_choice <- function(x, choices, arg, call) {
  if (!is.character(x) || length(x) != 1L || !x %in% choices) {
    stop_input(c(tells("argument_must_be_not", arg, one_of(choices),
                       quote_value(x)), meant_choice(x, choices)), "choice",
               call = call)
  }
}

# The first of the choices that an argument's default lists.
first_of <- function(x) if (is.atomic(x)) x[1L] else x

# What people write for a choice that has another name here; otherwise the one
# that begins so, or the nearest.
choice_words <- c(col = "column", cols = "column", columns = "column",
                  rows = "row", tot = "total", totals = "total", all = "total",
                  bh = "benjamini_hochberg", fdr = "benjamini_hochberg",
                  bonf = "bonferroni", fisher = "exact", chisq = "asymptotic",
                  mc = "simulated", monte_carlo = "simulated",
                  simulate = "simulated", standardized = "adjusted",
                  std = "adjusted", jackknife = "jk1", brr = "brr",
                  x = "across", y = "down")

meant_choice <- function(x, choices) {
  if (!is.character(x) || length(x) != 1L || is.na(x)) return(NULL)
  word <- tolower(x)
  meant <- intersect(choice_words[word], choices)
  if (!length(meant))
    meant <- if (nzchar(word)) choices[startsWith(choices, word)]
  if (!length(meant)) meant <- nearest(x, choices)
  if (length(meant) == 1L) c(i = tells("did_you_mean", unname(meant)))
}

check_fraction <- function(x, arg, call) {
  if (!is.numeric(x) || length(x) != 1L || is.na(x) || x <= 0 || x >= 1) {
    stop_input(tells("number_between_0_1_not", arg, quote_value(x)), "fraction",
               call = call)
  }
}

check_number <- function(x, arg, least, most, call) {
  if (!is.numeric(x) || length(x) != 1L || is.na(x) || x < least || x > most) {
    range <- if (is.finite(most))
      said("range_between", format(least), format(most)) else
      said("range_at_least", format(least))
    stop_input(tells("argument_must_be_number_of", arg, range, quote_value(x)),
               "number", call = call)
  }
}

check_whole <- function(x, arg, least, call) {
  if (!is.numeric(x) || length(x) != 1L || is.na(x) || x < least ||
        x != round(x) || x > 2^31 - 1) {
    stop_input(tells("whole_number_least_not", arg, format(least),
                     quote_value(x)), "number", call = call)
  }
}

check_flag <- function(x, arg, call) {
  if (!isTRUE(x) && !isFALSE(x)) {
    stop_input(tells("true_false_not", arg, quote_value(x)), "flag",
               call = call)
  }
}

check_class <- function(x, class, arg, made_by, call) {
  if (!inherits(x, class)) {
    stop_input(c(tells("must_come_from", arg, made_by, quote_value(x))),
               "class", call = call)
  }
}

one_of <- function(choices) {
  quoted <- paste0("\"", choices, "\"")
  if (length(quoted) == 1L) return(quoted)
  spoken(said("or_last", paste(utils::head(quoted, -1L), collapse = ", "),
              utils::tail(quoted, 1L)))
}

quote_value <- function(x) {
  if (is.character(x) && length(x) == 1L)
    return(sprintf("\"%s\"", cut_short(x)))
  if (is.atomic(x) && length(x) == 1L) return(format(as.vector(unclass(x))))
  if (is.null(x)) return("NULL")
  spoken(said("thing_of_length", class(x)[1L], length(x)))
}

plural <- function(n, one, many = paste0(one, "s")) c(many, one)[(n == 1) + 1L]

# Numbers in what we write have the decimal mark of our own option; until a
# function ends, R's own is a point. Called by every function that a user calls,
# mostly through nothing_else().
plain_numbers <- function(frame = parent.frame()) {
  if (getOption("OutDec") != ".")
    rlang::local_options(OutDec = ".", .frame = frame)
}

# `...` is there because a generic has it; whatever is put in it would do
# nothing, so it is an error. Called by the function that has the dots.
nothing_else <- function(...) {
  plain_numbers(parent.frame())
  if (!...length()) return(invisible())
  from <- sys.function(sys.parent())
  given <- names(rlang::enquos(...))
  stop_unused(if (any(nzchar(given))) given[nzchar(given)][1L] else "",
              setdiff(names(formals(from)), c("x", "...")), rlang::caller_env())
}

# What people write for an argument that has another name here.
argument_words <- c(pct = "percent", perc = "percent", prop = "percent",
                    conf = "alpha", level = "alpha", conf.level = "alpha",
                    weights = "weight", wt = "weight", strata = "stratum",
                    psu = "cluster", ids = "id", rows = "down", row = "down",
                    cols = "across", col = "across", columns = "across",
                    by = "each", method = "correction", adjust = "correction")

stop_unused <- function(given, known, call) {
  if (!nzchar(given)) {
    stop_input(c(tells("one_argument_too_many"),
                 i = tells("known.arguments", list_some(known, 20L))),
               "argument", call = call)
  }
  meant <- intersect(argument_words[given], known)
  hint <- if (length(meant)) c(i = tells("did_you_mean", unname(meant))) else
    did_you_mean(given, known, "arguments")
  stop_input(c(tells("no_argument", given), hint), "argument",
             argument = given, call = call)
}

# Who speaks: R, where a remedy is a function; the command line, where it is an
# option; or the desk.
voice <- list2env(list(speaks = "function"), parent = emptyenv())
