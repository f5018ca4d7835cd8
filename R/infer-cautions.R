# How far to trust a table: one rule a caution, each with the figures that
# raised it. A rule gives what is said, and how severe that is: "note" (worth
# knowing), "care" (read the table with this in mind) or "stop" (do not use the
# test).

caution <- function(severity, code, ...) {
  list(severity = severity, what = said(code, ...))
}

severities <- c("stop", "care", "note")

# All codes, those of the whole table first: the order of cautions of one
# severity.
caution_codes <- c("tick_all", "repeated_ids", "left_out", "ticks_add_up",
                   "reversal", "vanishing", "heterogeneity", "kept_total",
                   "against_explains", "nested_clusters", "no_test", "sparse",
                   "small_base", "low_base", "tiny_effect", "not_significant",
                   "few_clusters", "clusters_of_group", "single_cluster",
                   "calibrated_margin", "unread_parts", "unequal_weights", "empty_category",
                   "unordered")

by_severity <- function(found) {
  if (length(found) < 2L) return(found)
  # a code that is not known, of a table stored by another version, comes last
  # of its severity
  place <- function(values, known) {
    match(values, known, nomatch = length(known) + 1L)
  }
  rank <- place(vapply(found, function(one) one$severity, ""), severities) *
            (length(caution_codes) + 2L) +
          place(vapply(found, function(one) one$what$code, ""), caution_codes)
  if (is.unsorted(rank)) found[order(rank)] else found
}

# The cautions of a layer, given its headline test and its Cramer's V.
layer_cautions <- function(layer, x, test, v) {
  about <- list(layer = layer, estimate = layer$estimate, choices = x$choices,
                questions = x$tally[c("down", "across")],
                single_cluster = x$tally$design$single_cluster, test = test,
                v = v, alone = !has(x, "across"))
  found <- lapply(rules_of(layer), function(rule) rule(about))
  unlist(unname(found), recursive = FALSE)
}

# The rules that a layer keeps.
rules_of <- function(layer) UseMethod("rules_of")

#' @export
rules_of.fairlattice_layer <- function(layer) layer_rules

# Of ticks those that are not about one answer a person.
#' @export
rules_of.fairlattice_ticks_layer <- function(layer) {
  layer_rules[c("no_test", "bases", "unequal_weights")]
}

# Of a number those that are not about the cells.
#' @export
rules_of.fairlattice_number_layer <- function(layer) {
  layer_rules[c("no_test", "bases", "single_cluster", "unequal_weights")]
}

# Of a question whose answers look ordered, and are in no order.
unordered_caution <- function(question) {
  parts <- c("items", "headings")
  odd <- question$ordered || any(lengths(question[parts]) > 0L) ||
    any(vapply(question[c("summed", "numeric", "statements")], isTRUE, NA))
  if (odd) return(NULL)
  answers <- answers_of(question)
  order <- likely_order(answers)
  if (is.null(order) || identical(order, answers) || identical(rev(order), answers))
    return(NULL)
  list(caution("care", "unordered", question = question$label,
               answers = order[c(1L, length(order))]))
}

sparse_caution <- function(rule, exact) {
  if (rule$sparse)
    list(caution(if (exact) "note" else "care", "sparse", small = rule$small,
                 cells = length(rule$E), limit = setting("sparse_expected"),
                 least = rule$least, rule = rule$rule, exact = exact))
}

# The cautions of the table as a whole.
whole_cautions <- function(x) {
  unlist(unname(lapply(whole_rules, function(rule) rule(x))), recursive = FALSE)
}

# Rules about one layer: each takes its figures and gives a list of cautions, or
# NULL.
layer_rules <- list(
  no_test = function(about) {
    if (is.na(about$test$p) && !about$alone)
      list(caution("care", "no_test", reason = about$test$note))
  },
  sparse = function(about) {
    if (is.na(about$test$p)) return(NULL)
    sparse_caution(sparse_rule(about$estimate),
                   about$test$test %in% c("exact", "monte_carlo"))
  },
  bases = function(about) {
    layer <- about$layer
    base <- switch(about$choices$percent,
                   column = list(n = layer$margins$across$n,
                                 answers = answers_across(layer)),
                   row = list(n = layer$margins$down$n,
                              answers = answers_down(layer)),
                   total = list(n = layer$base$n, answers = ""))
    small <- setting("small_base")
    low <- setting("low_base")
    found <- function(severity, code, hit, ...) {
      if (any(hit))
        list(caution(severity, code, answers = base$answers[hit],
                     n = base$n[hit], ...))
    }
    c(found("care", "small_base", base$n > 0 & base$n < small, limit = small),
      found("note", "low_base", base$n >= small & base$n < low, from = small,
            to = low - 1))
  },
  tiny_effect = function(about) {
    if (!rejects(about$test, about$choices$alpha)) return(NULL)
    w <- about$v$estimate * sqrt(least_side(about$estimate$P))
    if (w < setting("tiny_effect"))
      list(caution("care", "tiny_effect", v = about$v$estimate,
                   n = about$layer$base$n))
  },
  not_significant = function(about) {
    if (is.na(about$test$p) || rejects(about$test, about$choices$alpha))
      return(NULL)
    power <- setting("power")
    v <- smallest_shown(about$layer, about$choices$alpha, power)$v
    far <- !is.na(about$v$high) &&
           about$v$high * sqrt(least_side(about$estimate$P)) >=
             setting("notable_effect")
    list(caution(if (far || v >= 1) "care" else "note", "not_significant",
                 power = power, v = v, high = about$v$high))
  },
  few_clusters = function(about) {
    d <- if (is.na(about$test$p)) 0 else free_of(about$estimate$P)
    df <- if (d > 0) design_df(about$estimate)
    if (d > 0 && df <= d) list(caution("care", "few_clusters", df = df, d = d))
  },
  clusters_of_group = function(about) {
    e <- about$estimate
    percent <- about$choices$percent
    if (is.null(e$spread$met$row) || percent == "total") return(NULL)
    k <- clusters_in_groups(e, base_groups(dim(e$P), percent))
    few <- k < setting("small_clusters")
    if (any(few))
      list(caution("care", "clusters_of_group",
                   answers = dimnames(e$P)[[if (percent == "row") 1L else 2L]][few],
                   clusters = k[few]))
  },
  single_cluster = function(about) {
    single <- about$estimate$spread$single
    if (length(single))
      list(caution("care", "single_cluster", strata = single,
                   treated = about$single_cluster))
  },
  unequal_weights = function(about) {
    base <- about$layer$base
    if (base$n == 0 || base$n / base$effective < setting("weight_loss"))
      return(NULL)
    e <- (about$layer$patterns %||% about$layer)$estimate
    list(caution("note", "unequal_weights", n = base$n,
                 effective = base$effective,
                 clustered = !is.null(e$spread$met$row)))
  },
  empty_category = function(about) {
    if (is.null(about$estimate)) return(NULL)
    layer <- about$layer
    side <- function(n, answers, question) {
      if (any(n == 0))
        list(caution("note", "empty_category", question = question$label,
                     answers = answers[n == 0]))
    }
    c(side(layer$margins$down$n, answers_down(layer), about$questions$down),
      side(layer$margins$across$n, answers_across(layer),
           about$questions$across))
  }
)

# Rules about the whole table.
whole_rules <- list(
  unordered = function(x) {
    sides <- if (has(x, "across")) c("down", "across") else "down"
    unlist(lapply(x$tally[sides], unordered_caution), recursive = FALSE)
  },
  tick_all = function(x) {
    for (question in x$tally[c("down", "across")]) {
      joined <- joined_answers(answers_of(question))
      if (is.null(question$items) && pieces_recur(joined))
        return(list(caution("stop", "tick_all", question = question$label,
                            example = joined[1L])))
    }
  },
  repeated_ids = function(x) {
    facts <- x$tally$facts
    if (facts$repeated_ids > 0L)
      list(caution("care", "repeated_ids", ids = facts$repeated_ids,
                   records = facts$repeated_records,
                   differing = facts$differing_ids))
  },
  left_out = function(x) {
    account <- account_in(x)
    left <- account$left_out
    counted <- which(left$code != "outside")
    records <- sum(left$records[counted])
    asked <- account$used + records
    if (records <= setting("left_out_share") * asked) return(NULL)
    most <- counted[1L]
    list(caution("note", "left_out", records = records, asked = asked,
                 reason = left$code[most], question = left$question[most],
                 detail = left$detail[most]))
  },
  ticks_add_up = function(x) {
    several <- ticks_in(x$tally)
    if (any(several))
      list(caution("note", "ticks_add_up",
                   questions = vapply(x$tally[c("down", "across")][several],
                                      function(q) q$label, "",
                                      USE.NAMES = FALSE)))
  },
  strata = function(x) {
    if (is.null(x$tally$each) || length(x$layers) < 2L || !has(x, "adds_up"))
      return(NULL)
    strata <- strata_tables(x)
    found <- list(misleading_of(x, strata), heterogeneity_of(x, strata))
    lapply(Filter(Negate(is.null), found), function(what) {
      list(severity = "care", what = what)
    })
  },
  kept_total = function(x) {
    kept <- x$tally$facts$notes$kept_totals
    if (length(kept)) list(caution("care", "kept_total", answers = kept))
  },
  kept_sum = function(x) {
    kept <- x$tally$facts$notes$kept_sums
    if (length(kept)) list(caution("care", "kept_sum", answers = kept))
  },
  against_explains = function(x) {
    against_explains(x$choices, x$tally$down$label, x$tally$across$label)
  },
  calibrated_margin = function(x) {
    facts <- x$tally$facts
    sides <- x$tally[c("down", "across")]
    of_margin <- vapply(sides, function(question) {
      question$name %in% facts$margins$names
    }, NA)
    if (any(of_margin) && !facts$cut)
      list(caution("note", "calibrated_margin",
                   questions = vapply(sides[of_margin], `[[`, "", "label",
                                      USE.NAMES = FALSE)))
  },
  unread_parts = function(x) {
    unread <- x$tally$facts$notes$unread_parts
    if (length(unread))
      list(caution("note", "unread_parts", unread = unread[1L], parts = unread[2L]))
  },
  nested_clusters = function(x) {
    nested <- x$tally$facts$notes$nested_clusters
    if (length(nested))
      list(caution("note", "nested_clusters", clusters = nested))
  }
)

against_explains <- function(choices, down, across) {
  fair <- c(across = "column", down = "row")[[choices$explains]]
  if (choices$percent %in% c(fair, "total")) return(NULL)
  sides <- if (choices$explains == "across") c(across, down) else
    c(down, across)
  list(caution("care", "against_explains", explaining = sides[1L],
               explained = sides[2L], fair = fair, shown = choices$percent))
}

# Answers such as "a;c;d": several hold a separator, and their pieces recur.
joined_answers <- function(answers) {
  answers[grepl(";", answers, fixed = TRUE) | grepl("|", answers, fixed = TRUE)]
}

pieces_recur <- function(joined) {
  if (length(joined) < 2L) return(FALSE)
  pieces <- trimws(unlist(strsplit(joined, "[;|]")))
  length(unique(pieces)) < length(pieces)
}
