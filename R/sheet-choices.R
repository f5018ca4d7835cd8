# What is asked of a table's layout, checked, and what it is by default.

check_table <- function(x, call) {
  if (!inherits(x, "fairlattice_banner")) check_class(x, "fairlattice_lattice", "x", "lattice()", call)
}

summary_lines <- c("mean", "interval", "sd", "q1", "median", "q3")
mark_kinds <- c("residuals", "letters", "differences", "none")
stacks <- c("brackets", "beneath", "beside")
sorts <- c("asked", "size", "difference")
line_choices <- c("none", "headline", "usual", "all")
base_choices <- c("n", "weighted", "effective")
decimal_kinds <- c("percent", "mean", "weighted", "expected", "number")

checked_layout <- function(show = NULL, stack = NULL, decimals = NULL, sort = "asked", last = NULL, labels = NULL,
                           title = NULL, subtitle = NULL, notes = NULL, bases = NULL, lines = NULL, hide_under = NULL,
                           marks = NULL, against = NULL, summary = NULL, withhold_under = NULL,
                           call = NULL) {
  if (!is.null(show)) check_some(show, names(cell_figures), "show", call)
  if (anyDuplicated(show)) stop_layout(sprintf("`show` names \"%s\" twice.", show[duplicated(show)][1L]), call)
  if (!is.null(stack)) check_choice(stack, stacks, "stack", call)
  check_choice(sort, sorts, "sort", call)
  if (!is.null(bases) && length(bases)) check_some(bases, base_choices, "bases", call)
  if (!is.null(lines)) check_choice(lines, line_choices, "lines", call)
  if (!is.null(marks)) check_choice(marks, mark_kinds, "marks", call)
  if (length(summary)) check_some(summary, summary_lines, "summary", call)
  check_text(against, "against", 1L, call)
  if (!is.null(withhold_under)) check_whole(withhold_under, "withhold_under", 0, call)
  if (!is.null(hide_under)) check_whole(hide_under, "hide_under", 0, call)
  for (arg in c("title", "subtitle")) check_text(get(arg), arg, 1L, call)
  check_text(notes, "notes", Inf, call)
  check_text(last, "last", Inf, call)
  check_text(labels, "labels", Inf, call)
  if (length(labels) && (is.null(names(labels)) || any(!nzchar(names(labels)))))
    stop_layout("`labels` must be named by the answers: c(\"Very satisfied\" = \"Very\").", call)
  list(show = show, stack = stack, decimals = checked_decimals(decimals, call), sort = sort, last = last,
       labels = labels, title = title, subtitle = subtitle, notes = notes, bases = bases, lines = lines,
       hide_under = hide_under, marks = marks, against = against, summary = summary,
       withhold_under = withhold_under)
}

checked_decimals <- function(decimals, call) {
  if (is.null(decimals)) return(NULL)
  if (!is.numeric(decimals) || anyNA(decimals) || any(decimals < 0 | decimals > 15 | decimals != round(decimals)))
    stop_layout(sprintf("`decimals` must be whole numbers from 0 to 15, not %s.", quote_value(decimals)), call)
  if (is.null(names(decimals)) && length(decimals) == 1L) names(decimals) <- "percent"
  check_some(names(decimals) %||% "", decimal_kinds, "decimals", call)
  as.list(decimals)
}

check_text <- function(x, arg, most, call) {
  if (is.null(x) || is.character(x) && !anyNA(x) && length(x) <= most) return(invisible())
  stop_layout(sprintf("`%s` must be %s, not %s.", arg, if (most == 1) "one text" else "texts", quote_value(x)), call)
}

# Every one of several choices.
check_some <- function(x, choices, arg, call) {
  if (!is.character(x) || !length(x)) check_choice(x, choices, arg, call)
  for (one in x) check_choice(one, choices, arg, call)
}

stop_layout <- function(message, call) stop_input(message, "layout", call = call)

default_layout <- list(sort = "asked", hide_under = 0, withhold_under = 0)

# The layout of a table, with what is not asked for as it is by default.
layout_of <- function(x) {
  layout <- as.list(x$layout)
  for (name in names(default_layout)) layout[[name]] <- layout[[name]] %||% default_layout[[name]]
  if (is_alone(x) && !isTRUE(layout$in_banner) && !isTRUE(facts_of(x)$down$summed)) layout <- one_way_layout(x, layout)
  layout$show <- layout$show %||% x$choices$percent
  layout$marks <- marks_asked(layout)
  layout$against <- layout$against %||% "rest"
  if (is_alone(x)) layout$marks <- "none"
  layout$stack <- layout$stack %||% if (length(layout$show) == 2L) "brackets" else "beneath"
  # the percentages that give the table its base: the first that is shown
  layout$percent <- c(intersect(layout$show, percent_figures), if ("interval" %in% layout$show) x$choices$percent,
                      NA)[1L]
  if (isTRUE(facts_of(x)$down$summed)) layout <- number_layout(x, layout)
  # respondents that stand beside the percentages have no need of a line of their own
  counted <- "n" %in% layout$show && !any(vapply(facts_of(x)[c("down", "across")], function(side) side$ticks, NA))
  layout$bases <- layout$bases %||% if (is.na(layout$percent)) character() else
    c(if (!counted) "n", if (is_weighted(x)) "weighted")
  layout
}

marks_asked <- function(layout) layout$marks %||% if (is.null(layout$against)) "residuals" else "differences"

# Of a number the means are shown alone, with the bases of the columns.
number_layout <- function(x, layout) {
  layout$percent <- "column"
  if (layout$marks != "letters") layout$marks <- "none"
  layout$bases <- layout$bases %||% c("n", if (is_weighted(x)) "weighted")
  layout
}

# A one-way table has its figures beside each other.
one_way_layout <- function(x, layout) {
  layout$show <- layout$show %||% c("column", "interval", if (facts_of(x)$down$ordered) "cumulative", "n",
                                    if (is_weighted(x)) "weighted")
  layout$stack <- layout$stack %||% "beside"
  # of ticks there is no total that says how many were asked
  known <- if (facts_of(x)$down$ticks) character() else layout$show
  layout$bases <- layout$bases %||% setdiff(c("n", if (is_weighted(x)) "weighted"), known)
  layout
}

# Whether cells of a table are withheld.
withholds <- function(x) (x$layout$withhold_under %||% 0) > 0

kept_last <- function(labels, last) {
  if (!is.null(last)) return(labels %in% last)
  grepl(words("other_pattern"), labels, ignore.case = TRUE)
}
