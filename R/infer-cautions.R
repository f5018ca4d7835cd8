#' How far to trust it
#'
#' Plain-word cautions about a table, each with the figures that raised it and what to do about it. Severity is
#' "note" (worth knowing), "care" (read the table with this in mind) or "stop" (do not use the test). The cut-offs are
#' [options][fairlattice_options].
#'
#' | code | raised when |
#' |---|---|
#' | `no_test` | the test is undefined |
#' | `tick_all` | answers look like several ticked items joined together |
#' | `ticks_add_up` | a question made by [ticks()] |
#' | `repeated_ids` | an id is met more than once |
#' | `sparse` | over 20 % of the expected counts are under 5, or one under 1; in a 2x2 any under 5 (Cochran 1954) |
#' | `small_base`, `low_base` | percentages of fewer than 30, or 30 to 49, respondents |
#' | `tiny_effect` | significant, yet w = V sqrt(m - 1) is under 0.1 |
#' | `not_significant` | not significant: the smallest effect that would have shown, and how far the interval reaches |
#' | `few_clusters` | fewer design degrees of freedom than the test has |
#' | `lonely_stratum` | a stratum with one cluster |
#' | `unequal_weights` | weights that shrink the effective base by a third or more |
#' | `left_out` | more than 5 % of the records lack an answer or a weight |
#' | `reversal` | within the answers of `each` the association points the other way, both beyond chance (Simpson) |
#' | `heterogeneity` | the association differs between the answers of `each` (see [pooled()]) |
#' | `against_explains` | percentages run against what explains what |
#' | `empty_category` | a declared answer that nobody gave |
#' | `kept_total` | a row or column of counts is called like a total and does not add up |
#' | `nested_clusters` | a cluster's name is met in several strata |
#'
#' @param x (lattice) From [lattice()] or [read_lattice()].
#' @param ... Nothing: what is put here is an error, with the nearest argument's name.
#' @return Data frame: `each` (`NA` for the whole table), `code`, `severity`, `text`.
#' @references Cochran WG (1954) Biometrics 10:417-451.
#' @export
#' @examples
#' cautions(lattice(demo_records(), down = heating, across = island))
cautions <- function(x, ...) {
  nothing_else(...)
  check_class(x, "fairlattice_lattice", "x", "lattice()", environment())
  if (is.null(x$tally)) return(x$findings$cautions)
  as_findings(cautions_from(x, over_layers(x$layers, layer_tests, p = x$choices$p),
                            over_layers(x$layers, layer_strength, alpha = x$choices$alpha, asked = "cramers_v")),
                            "cautions")
}

cautions_from <- function(x, tests, strength) {
  whole <- lapply(table_cautions, function(rule) rule(x))
  layered <- lapply(x$layers, function(layer) {
    of_layer <- function(data) data[is.na(layer$each) | data$each %in% layer$each, ]
    about <- list(layer = layer, estimate = layer$estimate, choices = x$choices, lonely = x$tally$design$lonely,
                  questions = x$tally[c("down", "across")], test = with_headline(of_layer(tests)),
                  v = of_layer(strength)[of_layer(strength)$measure == "cramers_v", ])
    rules <- if (is.null(layer$parts)) layer_cautions else layer_cautions[ticks_have]
    found <- do.call(rbind, lapply(rules, function(rule) rule(about)))
    if (!is.null(found)) data.frame(each = layer$each, found)
  })
  found <- do.call(rbind, c(Filter(Negate(is.null), whole), layered))
  if (is.null(found))
    found <- data.frame(each = character(), code = character(), severity = character(), text = character())
  found <- found[order(match(found$severity, c("stop", "care", "note"))), ]
  rownames(found) <- NULL
  found
}

# The rules that a table of ticks keeps; the others are about one answer a person.
ticks_have <- c("no_test", "bases", "unequal_weights")

with_headline <- function(tests) tests[tests$headline, ]

caution <- function(code, severity, ...) data.frame(code, severity, text = sprintf(...))
table_caution <- function(...) cbind(each = NA_character_, caution(...))

# Rules about one layer: each takes its figures and gives a caution or NULL.
layer_cautions <- list(
  no_test = function(about) {
    if (!is.na(about$test$p)) return(NULL)
    caution("no_test", "care", "No test: %s.", about$test$note)
  },
  sparse = function(about) {
    if (is.na(about$test$p)) return(NULL)
    rule <- sparse_rule(about$estimate)
    if (!rule$sparse) return(NULL)
    exact <- about$test$test %in% c("exact", "monte_carlo")
    caution("sparse", if (exact) "note" else "care",
            "Sparse: %d of %d expected counts are under %s, the least %s (rule: %s). %s",
            rule$small, length(rule$E), format(setting("sparse_expected")), format_number(rule$least, 1L), rule$name,
            if (exact) paste0("Chi-square would be off here, so the exact test stands first; measures and ",
                              "residuals are rough.") else
              "The p-value may be off: join answers.")
  },
  bases = function(about) {
    percent <- about$choices$percent
    of <- function(side) stats::setNames(margin_of(about$layer, side)$n, margin_of(about$layer, side)$category)
    n <- switch(percent, column = of("across"), row = of("down"), total = c("the whole table" = about$layer$base$n))
    say <- function(code, severity, hit, words, advice) {
      if (any(hit)) caution(code, severity, "%s: %s. %s", words, named_bases(n[hit]), advice)
    }
    rbind(
      say("small_base", "care", n > 0 & n < setting("small_base"),
          sprintf("Percentages of fewer than %d respondents", setting("small_base")),
          "Do not report these percentages on their own."),
      say("low_base", "note", n >= setting("small_base") & n < setting("low_base"),
          sprintf("Percentages of only %d to %d respondents", setting("small_base"), setting("low_base") - 1),
          "Read them with their intervals."))
  },
  tiny_effect = function(about) {
    if (is.na(about$test$p) || about$test$p > about$choices$alpha) return(NULL)
    w <- about$v$estimate * sqrt(least_side(about$estimate$P))
    if (w >= setting("tiny_effect")) return(NULL)
    caution("tiny_effect", "care",
            paste0("Significant, yet weak: Cram\u00e9r's V is %s. With %s respondents even a difference too small ",
                   "to matter can be significant: judge by the percentages whether it matters."),
            format_strength(about$v$estimate), format_count(about$layer$base$n))
  },
  not_significant = function(about) {
    if (is.na(about$test$p) || about$test$p <= about$choices$alpha) return(NULL)
    e <- about$estimate
    d <- (nrow(e$P) - 1) * (ncol(e$P) - 1)
    w <- smallest_effect(test_base(e), d, about$choices$alpha, setting("power"))
    v <- w / sqrt(least_side(e$P))
    far <- !is.na(about$v$high) && about$v$high * sqrt(least_side(e$P)) >= setting("far_reach")
    caution("not_significant", if (far || v >= 1) "care" else "note",
            "Not significant is not \"no difference\": %s%s.",
            if (v < 1) sprintf("with %s %% power this table would have shown an association of V = %s",
                               format(100 * setting("power")), format_number(v, bounded = TRUE))
            else "this table is too small to show even a perfect association reliably",
            if (is.na(about$v$high)) "" else
            sprintf(", and the interval of V reaches %s", format_number(about$v$high, bounded = TRUE)))
  },
  few_clusters = function(about) {
    e <- about$estimate
    d <- if (is.na(about$test$p)) 0 else (nrow(e$P) - 1) * (ncol(e$P) - 1)
    if (d == 0 || e$df >= d) return(NULL)
    caution("few_clusters", "care",
            paste0("The design has %s degrees of freedom for a test on %d: its p-value and intervals are rough. ",
                   "Join answers, or report fewer."),
            format_df(e$df), d)
  },
  lonely_stratum = function(about) {
    lonely <- about$estimate$lonely
    if (!length(lonely)) return(NULL)
    caution("lonely_stratum", "care",
            "%d %s one cluster only (%s). It %s; join it with a stratum like it.",
            length(lonely), plural(length(lonely), "stratum has", "strata have"), list_some(lonely, 3L),
            c(centre = "is centred at the mean of all clusters, which tends to overstate the variance",
              zero = "is taken to add no variance, which understates it")[[about$lonely]])
  },
  unequal_weights = function(about) {
    base <- about$layer$base
    if (base$n == 0 || base$n / base$effective < setting("weight_loss")) return(NULL)
    caution("unequal_weights", "note",
            paste0("Very unequal weights: %s respondents tell as much as %s equally weighted ones would. Tests and ",
                   "intervals take account of it; see that the largest weights are right."),
            format_count(base$n), format_count(base$effective))
  },
  empty_category = function(about) {
    side <- function(totals, question) {
      if (any(totals == 0)) sprintf("%s: %s", question$label, list_some(names(totals)[totals == 0]))
    }
    empty <- c(side(rowSums(about$layer$n), about$questions$down), side(colSums(about$layer$n), about$questions$across))
    if (!length(empty) || is.null(about$estimate)) return(NULL)
    caution("empty_category", "note", "Answers that nobody gave are left out of the test (%s).",
            paste(empty, collapse = "; "))
  }
)

# Rules about the whole table.
table_cautions <- list(
  tick_all = function(x) {
    for (question in x$tally[c("down", "across")]) if (is.null(question$items) && looks_ticked(answers_of(question))) {
      return(table_caution("tick_all", "stop",
        paste0("The answers of \"%s\" look like several ticks joined together (%s). Tested as one answer, one ",
               "person's ticks are taken for kinds of people: make items of them."),
        question$label, quote_value(joined_answers(answers_of(question))[1L])))
    }
  },
  repeated_ids = function(x) {
    facts <- x$tally$facts
    if (facts$repeated_ids == 0L) return(NULL)
    differing <- if (facts$differing_ids) {
      sprintf(paste0(" %s of them gave different answers here: if records are answers, visits or waves, one person ",
                     "is counted as several."),
              format_count(facts$differing_ids))
    } else ""
    table_caution("repeated_ids", "care",
                  "%s %s met more than once (%s records).%s Keep one record a person before relying on the test.",
                  format_count(facts$repeated_ids), plural(facts$repeated_ids, "id is", "ids are"),
                  format_count(facts$repeated_records), differing)
  },
  left_out = function(x) {
    account <- account_of(x$tally)
    out <- account$left_out[!startsWith(account$left_out$reason, "outside: "), ]
    asked <- account$used + sum(out$records)
    if (!nrow(out) || sum(out$records) <= setting("left_out_share") * asked) return(NULL)
    table_caution("left_out", "note",
                  paste0("%s of %s records (%s %%) are left out for want of an answer or a weight, most of them ",
                         "for \"%s\". If they differ from the rest, so would the table."),
                  format_count(sum(out$records)), format_count(asked), format_percent(sum(out$records) / asked, 0L),
                  out$reason[1L])
  },
  ticks_add_up = function(x) {
    several <- vapply(x$tally[c("down", "across")], function(question) !is.null(question$items), NA)
    if (!any(several)) return(NULL)
    table_caution("ticks_add_up", "note",
                  paste0("Several could be ticked in \"%s\": percentages are of respondents who were asked and may ",
                         "add to more than 100; each item is tested by itself."),
                  paste(vapply(x$tally[c("down", "across")][several], function(question) question$label, ""),
                        collapse = "\" and \""))
  },
  reversal = function(x) {
    if (is.null(x$tally$each) || length(x$layers) < 2L || any(ticks_in(x$tally))) return(NULL)
    text <- reversal_text(x, strata_tables(x))
    if (!is.null(text))
      table_caution("reversal", "care", "%s Report the tables of each answer.", text)
  },
  heterogeneity = function(x) {
    if (is.null(x$tally$each) || length(x$layers) < 2L || any(ticks_in(x$tally))) return(NULL)
    text <- heterogeneity_text(x, strata_tables(x))
    if (!is.null(text)) table_caution("heterogeneity", "care", "%s Report the tables of each answer.", text)
  },
  kept_total = function(x) {
    kept <- x$tally$facts$notes$kept_totals
    if (!length(kept)) return(NULL)
    table_caution("kept_total", "care", "Called like a total, but kept as an answer since it does not add up: %s.",
                  list_some(kept))
  },
  against_explains = function(x) against_explains(x$choices, x$tally$down$label, x$tally$across$label),
  nested_clusters = function(x) {
    nested <- x$tally$facts$notes$nested_clusters
    if (!length(nested)) return(NULL)
    table_caution("nested_clusters", "note",
                  paste0("%d cluster %s met in more than one stratum (%s): each is taken as a different cluster in ",
                         "each stratum."),
                  length(nested), plural(length(nested), "name is", "names are"), list_some(nested, 3L))
  }
)

against_explains <- function(choices, down, across) {
  fair <- c(across = "column", down = "row")[[choices$explains]]
  if (choices$percent %in% c(fair, "total")) return(NULL)
  sides <- if (choices$explains == "across") c(across, down) else c(down, across)
  table_caution("against_explains", "care",
                paste0("Percentages run the other way: %s is taken to explain %s, so compare %s percentages; these ",
                       "are %s percentages."),
                sides[1L], sides[2L], fair, choices$percent)
}

named_bases <- function(n) list_some(sprintf("%s (%s)", names(n), format_count(n)))

# Answers such as "a;c;d": several hold a separator, and their pieces recur.
joined_answers <- function(answers) answers[grepl("[;|]", answers)]

looks_ticked <- function(answers) {
  joined <- joined_answers(answers)
  if (length(joined) < 2L) return(FALSE)
  pieces <- trimws(unlist(strsplit(joined, "[;|]")))
  length(unique(pieces)) < length(pieces)
}
