# What is asked of a table's layout, checked, and what it is by default.

check_table <- function(x, call) {
  if (!inherits(x, "fairlattice_banner"))
    check_class(x, "fairlattice_crosstab", "x", "crosstab()", call)
}

summary_lines <- c("mean", "interval", "sd", "q1", "median", "q3", "se", "cv",
                   "deff")
mark_kinds <- c("residuals", "letters", "differences", "none")
# Percentages rounded each by itself, or so that they add up (R/sheet-rounding.R).
round_ways <- c("each", "percent-to-100")
stacks <- c("brackets", "beneath", "beside")
sorts <- c("asked", "size", "difference", "mean")
# What a table can be cut down to, beside answers and nets by their names.
only_kinds <- c("nets", "means")
# The lines under a table, and sets of them that have a name. A reader is given
# what is needed to read the table, an author all there is to know of it.
line_parts <- c("key", "rounding", "test", "strength", "reference", "cautions", "account",
                "source", "text")
line_sets <- list(none = character(),
                  published = c("key", "rounding", "test", "strength", "cautions", "source"),
                  working = line_parts)
dresses <- c("working", "published")
base_choices <- c("n", "weighted", "effective")
base_row_places <- c("foot", "top")
total_places <- c("last", "first", "none")
decimal_kinds <- c("percent", "mean", "weighted", "expected", "number")

# What may be chosen of a layout: each is an argument of lay_out().
layout_choices <- function() {
  once(program, "layout_choices", NULL, list(
    show = new_choice("choices", names(cell_figures),
                      check = function(asked, arg, call) {
                        if (!length(asked))
                          check_choice(asked, names(cell_figures), arg, call)
                        if (anyDuplicated(asked))
                          stop_layout(tells(
                                        "show_names_twice",
                                        asked[duplicated(asked)][1L]), call)
                        check_intervals_of(asked, call)
                      }),
    stack = new_choice("choice", stacks),
    decimals = new_choice("numbers_by_name", house = FALSE,
                          check = function(asked, arg, call) {
                            checked_decimals(asked, call)
                          }),
    sort = new_choice("text", default = "asked"),
    last = new_choice("texts"),
    only = new_choice("texts", house = FALSE),
    labels = new_choice("named_text", house = FALSE,
                        check = function(asked, arg, call) {
                          if (length(asked) &&
                                (is.null(names(asked)) ||
                                   any(!nzchar(names(asked)))))
                            stop_layout(tells("labels_named_answers_c_very"),
                                        call)
                        }),
    wrap = new_choice("whole", least = 4),
    shorten = new_choice("whole", least = 4),
    title = new_choice("text", house = FALSE),
    subtitle = new_choice("texts", house = FALSE),
    notes = new_choice("texts"),
    source = new_choice("text_or_flag", check = function(asked, arg, call) {
      if (isTRUE(asked) || isFALSE(asked) ||
            is.character(asked) && length(asked) == 1L && !is.na(asked))
        return()
      stop_layout(tells("source_true_false_one_text", quote_value(asked)), call)
    }),
    bases = new_choice("choices", base_choices),
    base_rows = new_choice("choice", base_row_places, default = "foot"),
    outside = new_choice("texts"),
    total = new_choice("choice", total_places, default = "last"),
    dress = new_choice("choice", dresses),
    lines = new_choice("choices", c(names(line_sets), line_parts)),
    hide_under = new_choice("whole", least = 0, default = 0),
    withhold_under = new_choice("whole", least = 0, default = 0),
    protect = new_choice("whole", least = 1),
    round = new_choice("choice", round_ways, default = "each"),
    round_to = new_choice("whole", least = 1, default = 1),
    round_seed = new_choice("whole", least = 0, default = 1),
    marks = new_choice("choice", mark_kinds),
    second_alpha = new_choice("fraction"),
    against = new_choice("text", house = FALSE),
    summary = new_choice("choices", summary_lines),
    unit = new_choice("choice", names(unit_sizes), default = "units"),
    flag_cv = new_choice("numbers", check = check_flag_limits),
    flag_width = new_choice("numbers", check = check_flag_limits),
    flag_under = new_choice("numbers", check = check_flag_limits),
    flag_clusters = new_choice("numbers", check = check_flag_limits)))
}

# How sure a figure must be (R/sheet-reliability.R), by
#   of       what is held against the limits: the coefficient of variation in
#            percent, the width of the interval in points, the respondents that
#            the figure is of, or the clusters in which they live
#   beyond   whether more than the limit is too much, or fewer too few
reliability_rules <- list(
  flag_cv = list(of = "cv", beyond = `>`),
  flag_width = list(of = "width", beyond = `>`),
  flag_under = list(of = "base", beyond = `<`),
  flag_clusters = list(of = "clusters", beyond = `<`))

check_flag_limits <- function(asked, arg, call) {
  right <- is.numeric(asked) && length(asked) %in% 1:2 && !anyNA(asked) &&
    all(asked > 0)
  if (!right)
    stop_layout(c(tells("flag_one_or_two_limits", arg, quote_value(asked)),
                  i = tells("flag_limits_like", arg)), call)
  if (length(asked) == 2L && !reliability_rules[[arg]]$beyond(asked[2L], asked[1L]))
    stop_layout(tells("flag_limits_wrong_way", arg, asked[1L], asked[2L]), call)
}

# An interval stands beside what it is of, or alone.
check_intervals_of <- function(show, call) {
  for (interval in intersect(names(interval_is_of), show)) {
    if (length(show) > 1L && !any(interval_is_of[[interval]] %in% show))
      stop_layout(c(tells("show_without_what_interval", interval),
                    i = tells("show_too_interval_alone",
                              one_of(interval_is_of[[interval]]))), call)
  }
}

sure_of <- c("column", "row", "total", "estimated_total")
interval_is_of <- list(interval = sure_of, se = sure_of, cv = sure_of,
                       deff = sure_of, missing_information = sure_of[-4L],
                       difference_interval = "difference")

checked_layout <- function(asked, call) {
  asked <- Filter(Negate(is.null), asked)
  known <- layout_choices()
  for (arg in names(asked)) check_chosen(known[[arg]], asked[[arg]], arg, call)
  if (!is.null(asked$decimals))
    asked$decimals <- checked_decimals(asked$decimals, call)
  asked
}

checked_decimals <- function(decimals, call) {
  if (is.list(decimals)) decimals <- unlist(decimals)
  if (!is.numeric(decimals) || anyNA(decimals) ||
        any(decimals < 0 | decimals > 15 | decimals != round(decimals)))
    stop_layout(tells("decimals_whole_numbers_0_15", quote_value(decimals)),
                call)
  if (is.null(names(decimals)) && length(decimals) == 1L)
    names(decimals) <- "percent"
  check_some(names(decimals) %||% "", decimal_kinds, "decimals", call)
  as.list(decimals)
}

stop_layout <- function(message, call) {
  stop_input(message, "layout", call = call)
}

usual_layout <- function() {
  once(program, "usual layout", NULL,
       Filter(Negate(is.null), lapply(layout_choices(), `[[`, "default")))
}

# The layout of a table, with what is not asked for as it is by default.
layout_of <- function(x) {
  layout <- as.list(x$layout)
  usual <- usual_layout()
  layout <- c(layout, usual[!names(usual) %in% names(layout)])
  if (!has(x, "across") && !isTRUE(layout$in_banner) && has(x, "answers"))
    layout <- one_way_layout(x, layout)
  layout$dress <- dress_asked(layout)
  layout$lines <- lines_asked(layout)
  layout$show <- layout$show %||% x$choices$percent
  if (layout$round_to > 1)
    layout[c("marks", "summary")] <- list("none", character())
  layout$marks <- marks_asked(layout)
  layout$against <- layout$against %||% "rest"
  if (!has(x, "across") &&
        !(has(x, "given_shares") && layout$marks == "residuals"))
    layout$marks <- "none"
  layout$stack <-
    layout$stack %||% if (length(layout$show) == 2L) "brackets" else "beneath"
  # the percentages that give the table its base: the first that is shown
  layout$percent <- c(layout$show[layout$show %in% percent_figures],
                      if (any(c(precision_figures, "index") %in% layout$show) &&
                            !"estimated_total" %in% layout$show)
                        x$choices$percent, NA)[1L]
  if (!has(x, "answers")) layout <- number_layout(x, layout)
  # respondents that stand beside the percentages have no need of a line of
  # their own
  counted <- "n" %in% layout$show &&
             !any(vapply(facts_of(x)[c("down", "across")], function(side) {
               side$ticks
             }, NA))
  layout$bases <- layout$bases %||%
    if (is.na(layout$percent) && !of_totals(layout)) character() else
    c(if (!counted) "n", if (is_weighted(x)) "weighted")
  layout
}

# Whom a table is for: the dress that is asked for, or that of the set of lines.
dress_asked <- function(layout) {
  layout$dress %||% c(intersect(dresses, layout$lines), "working")[1L]
}

# The parts that stand under a table: those that are asked for, by their names or
# those of sets, or those of its dress.
lines_asked <- function(layout) {
  asked <- layout$lines %||% dress_asked(layout)
  line_parts[line_parts %in% c(asked, unlist(line_sets[asked]))]
}

marks_asked <- function(layout) {
  layout$marks %||% if (is.null(layout$against)) "residuals" else "differences"
}

# Of a number the means are shown alone, with the bases of the columns.
number_layout <- function(x, layout) {
  layout$percent <- "column"
  if (layout$marks != "letters") layout$marks <- "none"
  layout$bases <- layout$bases %||% c("n", if (is_weighted(x)) "weighted")
  layout
}

# Whether a one-way table is held against given shares.
# A one-way table has its figures beside each other.
one_way_layout <- function(x, layout) {
  usual <- c("column", "interval",
             if (has(x, "given_shares")) c("given", "adjusted") else
               if (facts_of(x)$down$ordered) "cumulative", "n",
             if (is_weighted(x)) "weighted")
  layout$show <- layout$show %||%
                 if (is.null(layout$only)) usual else c("column", "interval")
  layout$stack <- layout$stack %||% "beside"
  # of ticks there is no total that says how many were asked
  known <- if (facts_of(x)$down$ticks) character() else layout$show
  layout$bases <-
    layout$bases %||% setdiff(c("n", if (is_weighted(x)) "weighted"), known)
  layout
}

# Whether a layout guards small counts of a table that goes public, so that
# nothing else may give them away.
guards <- function(layout) {
  (layout$withhold_under %||% 0) > 0 || (layout$round_to %||% 1) > 1
}

# Of rounded counts only what is worked out from them is shown.
check_rounded <- function(layout, call) {
  if ((layout$round_to %||% 1) == 1) return(invisible())
  beyond <- setdiff(layout$show, rounded_figures)
  if (length(beyond))
    stop_layout(c(tells("would_show_what_round_to_hides", beyond[1L]),
                  i = tells("rounded_counts",
                            paste(rounded_figures, collapse = ", "))), call)
  for (arg in c("marks", "against", "summary")) {
    if (length(layout[[arg]]) && !layout[[arg]][1L] %in% "none")
      stop_layout(tells("would_show_what_round_to_hides_ask", arg), call)
  }
  if ((layout$withhold_under %||% 0) > 0)
    stop_layout(tells("counts_either_withheld_rounded_ask"), call)
}

kept_last <- function(labels, last) {
  if (!is.null(last)) return(labels %in% last)
  grepl(words("other_pattern"), labels, ignore.case = TRUE)
}

# What of the layout is the writers' to follow. Decimals that are asked for go
# before those of the style.
look_of <- function(layout) {
  of_style <-
    layout$style$decimals[names(layout$style$decimals) %in% decimal_kinds]
  list(decimals = c(layout$decimals,
                    as.list(of_style[!names(of_style) %in% names(layout$decimals)])),
       wrap = layout$wrap, style = layout$style)
}
