# The English catalogue.

words_en <- list(
  # ---- how things are written ----
  percent_sign = "%",
  quoted = function(text) sprintf("\"%s\"", text),
  interval = function(low, high) sprintf("%s to %s", low, high),
  and_more = function(shown, more) sprintf("%s and %d more", shown, more),
  infinite = "infinite",
  undefined = "undefined",
  as_written = function(text) text,

  # ---- bands of numbers ----
  band.all = "all",
  band.or_less = function(to) sprintf("%s or less", to),
  band.or_more = function(from) sprintf("%s or more", from),
  band.under = function(to) sprintf("under %s", to),
  band.over = function(from) sprintf("over %s", from),
  band.to_under = function(from, to) sprintf("%s to under %s", from, to),
  band.over_to = function(from, to) sprintf("over %s to %s", from, to),
  band.from_to = function(from, to) sprintf("%s\u2013%s", from, to),

  # ---- why records are left out ----
  reason.no_answer = function(detail) "no answer",
  reason.outside = function(detail) sprintf("outside the condition %s", detail),
  reason.cannot_tell = function(detail) sprintf("not known whether %s", detail),
  reason.no_response = function(detail) sprintf("did not respond (%s)", detail),
  reason.no_weight = function(detail) "no weight",
  reason.no_count = function(detail) "no count",
  reason.no_stratum = function(detail) "no stratum",
  reason.no_cluster = function(detail) "no cluster",
  reason.no_replicate_weight = function(detail) "no replicate weight",
  reason.zero_weight = function(detail) "weight of 0",
  reason.zero_count = function(detail) "count of 0",
  reason.another_record = function(detail) {
    "another record of the same respondent"
  },
  reason.no_record_meets = function(detail) {
    sprintf("no record of the respondent meets %s", detail)
  },
  reason_of_question = function(question, reason) {
    sprintf("%s: %s", question, reason)
  },

  # ---- what was done to a question ----
  banded = function(bands, closed, ends, least) {
    sprintf("cut into bands that %s at %s%s",
            if (closed == "left") "begin" else "end",
            paste(number_text(ends), collapse = ", "),
            if (is.na(least)) "" else
              sprintf(", each with at least %s respondents",
                      format_count(least)))
  },
  joined = function(new, old) {
    sprintf("%s combines %s", quoted(new), paste(quoted(old), collapse = ", "))
  },
  renamed = function(new, old) {
    sprintf("%s was called %s", quoted(new), quoted(old))
  },
  made_missing = function(new, old) {
    sprintf("%s set to missing (%s)", paste(quoted(old), collapse = ", "), new)
  },
  order_lost = "no longer ordered, since answers that are not adjacent were combined",
  subdivided = function(question, by) sprintf("%s within %s", by, question),
  paired_answers = function(questions) {
    sprintf("pairs of answers to %s", paste(questions, collapse = " and "))
  },
  scored = function(by, items, least) {
    sprintf("%s of %s, for those who answered at least %d", by,
            paste(items, collapse = ", "), least)
  },

  # ---- why there is no test, or none of its kind ----
  nobody_here = "there are no respondents in this table",
  single_answer = paste("one of the two questions has only one answer here,",
                        "so there is nothing to compare"),
  no_df = "the design has no degrees of freedom here: there are no more clusters than strata",
  no_variance = paste("the residuals have no variance here: the association",
                      "is at its limit, or all clusters agree"),
  margins_too_unequal = "the margins are too unequal for the design effects to be worked out",
  exact_not_with_design = "not available with weights or a sample design",
  exact_too_many = function(most) {
    sprintf("not worked out for more than %s respondents, where chi-square is as good",
            format_count(most))
  },
  all_alike = "nobody answered the statements differently from each other",
  no_change = "everyone gave the same answer both times, so there is no change to test",
  changes_no_variance = "the changes of answer have no variance: all clusters agree",
  no_item_differs = paste("no item was ticked by some respondents and not by",
                          "others, so there is nothing to compare"),
  one_answer_only = "there is only one answer, so there is nothing to compare",
  scores_all_same = "all respondents have the same score on one of the questions",
  trend_no_variance = "under the design it has no variance or no degrees of freedom",

  # ---- why a test is the headline ----
  why_design = paste(paste("the data have weights or a sample design, which",
                           "this test takes into account, its degrees of"),
                     "freedom corrected for the number of clusters"),
  why_design_not_exact = paste("the data have weights or a sample design, for",
                               "which no exact p-value exists"),
  why_imputed = function(imputations) {
    sprintf(paste("the tables of %d imputed data sets are combined:",
                  "the variance within and between them"), imputations)
  },
  why_asked = "it was asked for",
  why_sparse = "expected counts are too small for chi-square",
  why_exact_too_large = paste("expected counts are too small for chi-square,",
                              "but the table is too large for the exact test"),
  why_plain = "there are no weights or design, and expected counts are large enough",
  why_paired = paste(paste("the same question was asked twice, so the test is",
                           "whether answers changed as often in one"),
                     "direction as in the other"),
  why_paired_design = paste("the same question was asked twice, and the data",
                            "have weights or a sample design"),
  why_few_changed = function(changed) {
    sprintf("the same question was asked twice, and only %s %s changed their answer",
            format_count(changed), plural(changed, "respondent"))
  },
  why_items_together = paste("respondents may have ticked several items,",
                             "which this test takes together"),

  why_means = "the question is a number, of which the means are compared",
  means_no_variance = "a column has no variance, or too few respondents",
  not_of_means = "not a measure of means",

  # ---- how a test is to be read ----
  reference_only = "for reference only: it treats the respondents as a simple random sample",
  effects_at_fit = "design effects taken at the independence fit",
  effects_at_fit_needed = paste("design effects taken at the independence",
                                "fit, since they are undefined at the",
                                "estimate"),
  first_order_only = function(most) {
    sprintf(paste("first order, at the independence fit: the second order is",
                  "not worked out beyond %s degrees of freedom"),
            format_count(most))
  },
  trend_scores = function(scores, r) {
    sprintf("%s; r = %s",
            c(given = "given scores", equal = "scores 1, 2, 3, ...",
              midranks = "midranks")[[scores]], format_strength(r))
  },
  exact_margins_fixed = "margins fixed; all tables no more probable than this one",
  random_tables = function(draws, seed, se) {
    sprintf("%s random tables with these margins, seed %s; standard error %s",
            format_count(draws), format(seed), format(se, digits = 2))
  },
  random_tables_over_budget = function(draws, seed, se) {
    sprintf(paste("the exact test is too large; %s random tables with these",
                  "margins, seed %s; standard error %s"), format_count(draws),
            format(seed), format(se, digits = 2))
  },
  one_sided_more = "one-sided: the first row and the first column go together",
  one_sided_fewer = "one-sided: the first row and the first column go apart",
  symmetry_binomial = "binomial test of the respondents who changed",
  items_together = function(left_out) {
    if (left_out == 0) "all items together" else
      sprintf("all items together; %d left out, ticked by everyone or no one",
              left_out)
  },
  second_order = "Rao-Scott second order",

  # ---- measures of strength ----
  tied_mode = "the most frequent answer is tied, so there is no standard error",
  empty_cell_at_bound = "a cell is empty, so it is at its limit and has no standard error",
  not_defined = "not defined for this table",
  needs_2x2 = "needs two answers on each side",
  needs_paired = "needs the same question asked twice (paired)",
  not_known_ordered = "the answers are not known to be ordered; the order of the table is used",
  goes_with = function(first, second) {
    sprintf("%s goes with %s", quoted(first), quoted(second))
  },
  se_zero = "its standard error is 0 in this table",
  at_bound = "it is at its limit, though not in every replicate",
  se_zero_at_bound = "it is at its limit, so its standard error is 0",
  se_zero_no_gain = "knowing one answer does not improve the guess of the other",
  no_gain = function(knowing) {
    sprintf("knowing %s does not improve the guess", knowing)
  },
  strength_per_item = "strength is given for each item",
  delta = function(df) {
    if (is.na(df)) "delta method, normal" else
      sprintf("delta method, t with %s degrees of freedom", format_df(df))
  },
  delta_arctanh = function(df) {
    if (is.na(df)) "delta method on the arctanh scale, normal" else
      sprintf("delta method on the arctanh scale, t with %s degrees of freedom",
              format_df(df))
  },
  noncentral_chi_square = "noncentral chi-square, with the delta method's variance",
  noncentral_f = function(df) {
    sprintf(paste("noncentral F (Rao-Scott) on %s design degrees of freedom,",
                  "with the delta method's variance"), format_df(df))
  },
  against_exact_test = "its large-sample interval would contradict the exact test",
  too_sparse_for_interval = "the table is too sparse for its interval",
  delta_folded = function(df) {
    sprintf("that of |phi|, delta method on the arctanh scale, %s",
            if (is.na(df)) "normal" else
              sprintf("t with %s degrees of freedom", format_df(df)))
  },
  bootstrap = function(draws, undefined) {
    sprintf("percentile bootstrap, %s draws%s", format_count(draws),
            if (undefined)
              sprintf(", undefined in %s of them", format_count(undefined)) else
              "")
  },
  cohens_size = function(w, size) {
    sprintf("By Cohen's (1988) convention, w = V sqrt(min(rows, columns) - 1) = %s is %s.",
            format_strength(w),
            c(none = "less than small", small = "small", medium = "medium",
              large = "large")[[size]])
  },

  # ---- differences and risks ----
  all_or_none_in_both = "no one or everyone in both",
  more_contrasts_than_df = "the design has fewer degrees of freedom than the test",
  no_variance_by_design = "no variance under the design",
  nobody_in = function(answer) {
    sprintf("there are no respondents in %s", quoted(answer))
  },
  empty_cell_no_wald = paste("a cell is empty, so there is no Wald interval;",
                             "see the exact odds ratio"),
  exact_odds_too_many = paste("not worked out for so many respondents, where",
                              "the Wald interval is as good"),
  one_table_only = "the margins allow one table only",
  outcome_no_variance = paste("no variance: no one or everyone has the",
                              "outcome, or all clusters agree"),

  # ---- strata taken together ----
  empty_cell_no_interval = "no interval: a cell is empty",
  no_stratum_says = "no stratum has any variance",
  one_stratum = "there is only one stratum",
  odds_ratio_at_bound = "the common odds ratio is 0 or infinite",
  too_few_margins = "fewer than two strata have all their margins",
  too_few_full_strata = "fewer than two strata have all four cells",
  more_strata_than_df = "there are more strata than the design has degrees of freedom",
  log_odds_no_variance = "the log odds ratio has no variance in some stratum",
  no_full_stratum = "no stratum has two rows and two columns",
  strata_no_variance = "the strata leave it no variance",
  effects_undefined_sparse = "its design effects are undefined in so sparse a table",
  too_many_cells_to_fit = function(most) {
    sprintf("not worked out for more than %s cells", format_count(most))
  },
  no_convergence = "the model did not converge",
  expected_too_small = "expected counts are too small for chi-square",
  margins_empty = "too many margins are empty",
  effect_of_weights = "design effect of the unequal weights alone",

  # ---- the arithmetic ----
  observed_plain = function(n) "respondents",
  observed_weighted = function(n) {
    sprintf("weighted shares, on the scale of the %s respondents",
            format_count(n))
  },
  sum_of_effects = paste(paste("the sum of the generalised design effects:",
                               "how much weights and clusters add to the",
                               "variance"), "of the residuals"),
  chance_of_chi_square = function(statistic, df) {
    sprintf("the probability of a chi-square of %s or more on %s %s of freedom",
            working_number(statistic), format_df(df), plural(df, "degree"))
  },
  chance_of_f = function(f, df, df_error) {
    sprintf("the probability of an F of %s or more on %s and %s degrees of freedom",
            working_number(f), format_df(df), format_df(df_error))
  },

  # ---- cautions ----
  severity.stop = "Stop",
  severity.care = "Caution",
  severity.note = "Note",
  no_test = function(reason) sprintf("No test: %s.", in_words(reason)),
  sparse = function(small, cells, limit, least, rule, exact) {
    sprintf("Sparse table: %d of %d expected counts %s under %s, the smallest %s (%s). %s",
            small, cells, plural(small, "is", "are"), format_number(limit, 0L),
            format_number(least, 1L),
            c(cochran = "Cochran 1954", every = "rule: every expected count",
              average = "rule: their average, Roscoe and Byars 1971")[[rule]],
            if (exact)
              paste(paste("The exact test is used in place of chi-square;",
                          "measures of strength and residuals are"),
                    "approximate.") else
              "The p-value may be off; combine answers.")
  },
  small_base = function(answers, n, limit) {
    sprintf("Percentages of fewer than %d respondents: %s. Do not report them on their own.",
            limit, bases_words(answers, n))
  },
  low_base = function(answers, n, from, to) {
    sprintf("Percentages of only %d to %d respondents: %s. Read them with their intervals.",
            from, to, bases_words(answers, n))
  },
  whole_table = "the whole table",
  tiny_effect = function(v, n) {
    sprintf(paste(paste("Statistically significant but weak: Cram\u00e9r's V",
                        "is %s. With %s respondents even a difference"),
                  paste("too small to matter can be significant; judge from",
                        "the percentages whether it matters.")),
            format_strength(v), format_count(n))
  },
  not_significant = function(power, v, high) {
    first <- if (v >= 1)
      "this table is too small to detect even a perfect association reliably" else
      sprintf("this table could have detected V of %s or more (%s power)",
              strength_words(v), percent_words(power, 0L))
    sprintf("Not significant does not mean \"no difference\": %s%s.", first,
            if (is.na(high)) "" else
              sprintf("; V up to %s is not ruled out", strength_words(high)))
  },
  few_clusters = function(df, d) {
    sprintf(paste(paste("The design has %s %s of freedom for a test on %d:",
                        "its p-value and intervals are rough. Combine"),
                  "answers, or report fewer."), format_df(df),
            plural(df, "degree"), d)
  },
  single_cluster = function(strata, treated) {
    sprintf("%s %s only one cluster (%s). %s; combine %s with a similar stratum.",
            format_count(length(strata)),
            plural(length(strata), "stratum has", "strata have"),
            list_some(strata, 3L),
            c(centre = paste("It is centred at the mean of all clusters,",
                             "which tends to overstate the variance"),
              zero = "It is taken to add no variance, which understates it")[[treated]],
            plural(length(strata), "it", "each"))
  },
  unequal_weights = function(n, effective, clustered = FALSE) {
    sprintf(paste("Very unequal weights: Kish's effective sample size is %s",
                  "of %s respondents%s. Tests and intervals allow for",
                  "it; check that the largest weights are right."),
            format_count(effective), format_count(n),
            if (clustered) ", clusters not counted" else "")
  },
  calibrated_margin = function(questions) {
    sprintf(paste("The weights are calibrated to %s: the distribution of %s over all",
                  "respondents is that of the population and has no sampling error,",
                  "so it has no interval."),
            list_with_and(sprintf("\"%s\"", questions)),
            plural(length(questions), "that question", "those questions"))
  },
  unordered = function(question, answers) {
    sprintf(paste("The answers to \"%s\" look ordered (\"%s\" to \"%s\") but have no order",
                  "here, so no trend and no measure of order is shown. Say their order first."),
            question, answers[1L], answers[2L])
  },
  empty_category = function(question, answers) {
    sprintf("No one gave %s to %s, so the test leaves %s out.",
            list_some(quoted(answers)), question,
            plural(length(answers), "it", "them"))
  },
  tick_all = function(question, example) {
    sprintf(paste(paste("The answers to %s look like several ticks joined",
                        "together (%s). Tested as one answer, each"),
                  paste("combination of ticks counts as a kind of person:",
                        "make it a multiple-response question.")),
            quoted(question), quoted(example))
  },
  repeated_ids = function(ids, records, differing) {
    sprintf(paste("Duplicate records: %s %s more than once (%s records).%s Keep one",
                  "record per respondent before relying on the test."), format_count(ids),
            plural(ids, "id occurs", "ids occur"), format_count(records),
            if (!differing) "" else
              sprintf(paste(paste(" %s of them gave different answers here:",
                                  "if records are answers, visits or waves,",
                                  "one"), "person is counted several times."),
                      format_count(differing)))
  },
  left_out = function(records, asked, reason, question, detail) {
    sprintf(paste(paste("%s of %s records (%s) %s left out because an answer",
                        "or a weight is missing, most often \"%s\". If"),
                  "they differ from the rest, the table is biased."),
            format_count(records), format_count(asked),
            percent_words(records / asked, 0L), plural(records, "is", "are"),
            reason_words(reason, question, detail))
  },
  ticks_add_up = function(questions) {
    sprintf(paste(paste("Respondents could tick several answers to %s:",
                        "percentages are of the respondents who were asked",
                        "and"),
                  "may add to more than 100; each item is tested separately."),
            paste(quoted(questions), collapse = " and "))
  },
  reversal = function(down, across, each, together, p_crude, p_within) {
    ways <- if (together) c("rise together", "go in opposite directions") else
      c("go in opposite directions", "rise together")
    sprintf(paste(paste("Overall, \"%s\" and \"%s\" %s (%s), yet within the",
                        "answers to \"%s\" they %s (%s): the table"),
                  "without \"%s\" would mislead. Report the table of each answer."),
            down, across, ways[1L], format_p(p_crude), each, ways[2L],
            format_p(p_within), each)
  },
  vanishing = function(down, across, each, p_crude, p_within) {
    sprintf(paste("Overall, \"%s\" and \"%s\" are associated (%s), yet within",
                  "the answers to \"%s\" there is no evidence of it (%s), and",
                  "less than overall: \"%s\" may account for the association.",
                  "Report the table of each answer."),
            down, across, format_p(p_crude), each, format_p(p_within), each)
  },
  heterogeneity = function(down, across, each, test, p) {
    sprintf(paste(paste("The association between \"%s\" and \"%s\" differs",
                        "between the answers to \"%s\" (%s, %s): one"),
                  "figure for all of them would hide that. Report the table of each answer."),
            down, across, each, name_of("test", test), format_p(p))
  },
  kept_total = function(answers) {
    sprintf("Named like a total, but kept as an answer because it does not add up: %s.",
            list_some(answers))
  },
  kept_sum = function(answers) {
    sprintf(paste(paste("Kept as an answer, though it is the sum of the",
                        "others: %s. If it is a total, everybody is counted"),
                  "twice: call it Total, or leave it out."),
            list_some(answers))
  },
  against_explains = function(explaining, explained, fair, shown) {
    sprintf(paste(paste("The percentages run the other way: %s is taken to",
                        "explain %s, so compare %s percentages; these are"),
                  "%s percentages."), explaining, explained, fair, shown)
  },
  unread_parts = function(unread, parts) {
    sprintf(paste("%s of %s files of the folder were not opened, since the condition leaves",
                  "out all their records: the sample is that of the others."),
            format_count(unread), format_count(parts))
  },
  nested_clusters = function(clusters) {
    sprintf("%d cluster %s across strata (%s): treated as nested.",
            length(clusters),
            plural(length(clusters), "code repeats", "codes repeat"),
            list_some(clusters, 3L))
  },

  # ---- the same on one line, for a compact print ----
  brief.sparse = function(small, cells, limit, least, rule, exact) {
    sprintf("Sparse: %d of %d expected counts under %s; %s.", small, cells,
            format_number(limit, 0L),
            if (exact) "hence the exact test" else "the p-value may be off")
  },
  brief.small_base = function(answers, n, limit) {
    sprintf("Base too small to report (fewer than %d respondents): %s.", limit,
            bases_words(answers, n))
  },
  brief.low_base = function(answers, n, from, to) {
    sprintf("Only %d to %d respondents: %s.", from, to, bases_words(answers, n))
  },
  brief.tiny_effect = function(v, n) {
    sprintf("Significant but weak (V = %s): with n = %s even small differences are.",
            format_strength(v), format_count(n))
  },
  brief.not_significant = function(power, v, high) {
    sprintf("Not significant is not \"no difference\": %s%s.",
            if (v >= 1) "the table is too small to detect one" else
              sprintf("could have detected V of %s or more", strength_words(v)),
            if (is.na(high)) "" else
              sprintf("; V up to %s is not ruled out", strength_words(high)))
  },
  brief.few_clusters = function(df, d) {
    sprintf("Few clusters: %s %s of freedom for a test on %d.", format_df(df),
            plural(df, "degree"), d)
  },
  brief.single_cluster = function(strata, treated) {
    sprintf("%s with one cluster: %s.",
            plural(length(strata), "Stratum", "Strata"), list_some(strata, 3L))
  },
  brief.calibrated_margin = function(questions) {
    sprintf("Weights calibrated to %s, which has no sampling error by itself.",
            list_with_and(sprintf("\"%s\"", questions)))
  },
  brief.unequal_weights = function(n, effective, clustered = FALSE) {
    sprintf("Very unequal weights: Kish's effective sample size is %s of %s%s.",
            format_count(effective), format_count(n),
            if (clustered) ", clusters not counted" else "")
  },
  brief.tick_all = function(question, example) {
    sprintf("%s looks like several ticks in one answer: make it a multiple-response question.",
            quoted(question))
  },
  brief.unordered = function(question, answers) {
    sprintf("The answers to \"%s\" look ordered (\"%s\" to \"%s\"): say their order.",
            question, answers[1L], answers[2L])
  },
  brief.repeated_ids = function(ids, records, differing) {
    sprintf("Duplicate records: %s %s more than once (%s records); keep one per respondent.",
            format_count(ids), plural(ids, "id occurs", "ids occur"),
            format_count(records))
  },
  brief.left_out = function(records, asked, reason, question, detail) {
    sprintf("%s of %s records (%s) %s left out for a missing answer or weight.",
            format_count(records), format_count(asked),
            percent_words(records / asked, 0L), plural(records, "is", "are"))
  },
  brief.ticks_add_up = function(questions) {
    "Several answers could be ticked: percentages may add to more than 100."
  },
  brief.vanishing = function(down, across, each, p_crude, p_within) {
    sprintf("Within the answers to %s the association of %s and %s is gone.",
            each, down, across)
  },
  brief.reversal = function(down, across, each, together, p_crude, p_within) {
    sprintf("The association turns round within the answers to %s: report the table of each.",
            quoted(each))
  },
  brief.heterogeneity = function(down, across, each, test, p) {
    sprintf("The association differs between the answers to %s (%s): report the table of each.",
            quoted(each), format_p(p))
  },
  brief.against_explains = function(explaining, explained, fair, shown) {
    sprintf("The percentages run the other way: compare %s percentages.", fair)
  },
  brief.nested_clusters = function(clusters) {
    sprintf("%d cluster %s across strata: treated as nested.", length(clusters),
            plural(length(clusters), "code repeats", "codes repeat"))
  },
  account_brief = function(records, used, left, reasons) {
    sprintf("%s %s: %s in the table; %s left out: %s", format_count(records),
            plural(records, "record"), format_count(used), format_count(left),
            paste(reasons, collapse = ", "))
  },
  account_outside = "outside the base",
  account_cannot_tell = "not known whether in the base",
  account_no_answer = function(question) sprintf("no answer to %s", question),

  # ---- the table ----
  title = function(down, across) sprintf("%s by %s", down, across),
  layer_title = function(each, answer) sprintf("%s: %s", each, answer),
  base.column = function(question, ticks) {
    sprintf("Column percentages (base: %s)", each_of(question, ticks))
  },
  base.row = function(question, ticks) {
    sprintf("Row percentages (base: %s)", each_of(question, ticks))
  },
  base.total = function(question, ticks) {
    "Percentages of all respondents in the table"
  },
  banner_base.column = "Column percentages within each banner question",
  banner_base.row = "Row percentages within each banner question",
  banner_base.total = "Percentages of all respondents in each table",
  banner_base.none = "Numbers of respondents",
  list_of_means = "Means",
  list_line = function(shown, line) {
    sprintf("%s: %s%s", shown, tolower(substr(line, 1L, 1L)), substring(line, 2L))
  },
  block_line = function(block, line) sprintf("%s: %s", block, line),
  block_left_out = function(block, n) {
    sprintf("%s: %s of these respondents left out, who did not answer it",
            block, format_count(n))
  },
  by_itself = function(questions) {
    sprintf("%s %s not set against %s.", list_some(quoted(questions)),
            plural(length(questions), "is", "are"),
            plural(length(questions), "itself", "themselves"))
  },
  banner_key = function(rules) {
    sprintf("+ more, \u2212 fewer respondents than expected if the two were unrelated (%s)",
            paste(rules, collapse = "; "))
  },
  base.none = function(question, ticks) "Numbers of respondents",
  base_called = function(base) sprintf("Base: %s", base),
  base_kept = function(condition, names, labels) {
    sprintf("Base: respondents with %s",
            condition_in_words(condition, names, labels))
  },
  condition.compared = function(label, what) sprintf("%s: %s", label, what),
  condition.at_least = function(value) sprintf("%s or more", value),
  condition.more = function(value) sprintf("more than %s", value),
  condition.at_most = function(value) sprintf("%s or less", value),
  condition.less = function(value) sprintf("less than %s", value),
  condition.from = function(value) sprintf("from %s up", value),
  condition.above = function(value) sprintf("above %s", value),
  condition.up_to = function(value) sprintf("up to %s", value),
  condition.below = function(value) sprintf("below %s", value),
  condition.equal = function(value) value,
  condition.other = function(value) sprintf("not %s", value),
  condition.one_of = function(values) {
    last <- length(values)
    if (last == 1L) values else
      paste(paste(values[-last], collapse = ", "), "or", values[last])
  },
  condition.no_answer = "no answer",
  condition.answered = "any answer",
  condition.and = function(parts) paste(parts, collapse = "; "),
  condition.or = function(parts) paste(parts, collapse = ", or "),
  condition.not = function(part) sprintf("not (%s)", part),
  as_index = function(text) sprintf("%s, as an index (all = 100)", text),
  weighted_by = function(text, weight) {
    sprintf("%s, weighted by %s", text, weight)
  },
  rounded_key = function(base, alone) {
    sprintf(paste("Counts are rounded at random to multiples of %s%s;",
                  "percentages are of the rounded counts"),
            format_count(base),
            if (alone) " so that they still add up" else
              ", each question by itself, so they need not add up to the total")
  },
  style_not_followed = function(style, form, sections) {
    sprintf("%s: %s does not follow its %s.", style,
            if (form == "text") "the terminal" else sprintf("a .%s file", form),
            list_with_and(sections))
  },
  layout_not_followed = function(form, choices) {
    sprintf("A .%s file has no place for what was asked of the looks of the table: %s.",
            form, list_with_and(unlist(choices)))
  },
  source_line = function(file, dated, sha256, records, weight, stratum, cluster,
                         replicates, calibrated_to, imputations, version) {
    of_file <- c(if (length(dated)) sprintf("of %s", dated),
                 if (length(sha256)) paste("SHA-256", substr(sha256, 1L, 12L)))
    parts <- c(if (length(file))
                 paste0(file,
                        if (length(of_file))
                          sprintf(" (%s)", paste(of_file, collapse = ", "))),
               if (length(records))
                 sprintf("%s %s", format_count(records),
                         plural(records, "record")),
               if (length(weight)) paste("weight:", weight),
               if (length(stratum)) paste("strata:", paste(unlist(stratum), collapse = ", ")),
               if (length(cluster)) paste("clusters:", paste(unlist(cluster), collapse = ", ")),
               if (length(replicates)) paste("replicate weights:", replicates),
               if (length(calibrated_to))
                 paste("calibrated to:", list_with_and(unlist(calibrated_to))),
               if (length(imputations))
                 sprintf("%d imputed data sets", as.integer(imputations)))
    sprintf("Source: %s. Made with Fair Lattice %s.",
            paste(parts, collapse = "; "), version)
  },
  line.all = "All",
  line.total = "Total",
  line.respondents = "Respondents",
  line.mean = "Mean",
  line.sd = "Standard deviation",
  line.q1 = "Lower quartile",
  rounding_sum = "Percentages may not add up to 100 because of rounding.",
  rounding_difference = "Differences are worked out before rounding.",
  line.outside = function(reason) sprintf("%s (%% of all asked)", reason),
  line.median = "Median",
  line.q3 = "Upper quartile",
  line.se = "Standard error of the mean",
  line.cv = "Its coefficient of variation",
  line.deff = "Its design effect",
  base.mean = function(question, ticks) {
    sprintf("Means and quartiles (base: %s)", each_of(question, FALSE))
  },
  base.mean_alone = function(question, ticks) {
    "Mean and quartiles of all respondents in the table"
  },
  means_different = function(down, across, within, level) {
    sprintf("The mean of %s differs by %s%s%s", down, across, within, level)
  },
  means_not_different = function(down, across, within, level) {
    sprintf("The mean of %s does not differ significantly by %s%s%s", down, across,
            within, level)
  },
  null_means = function(down, across, within) {
    sprintf("that the means of %s are equal for all answers to %s%s", down,
            across, within)
  },
  means_found = function(question, columns, means, low, high, alpha) {
    each <- sprintf("%s for %s (%s CI %s to %s)", format_number(means),
                    quoted(columns), confidence_words(alpha),
                    format_number(low), format_number(high))
    sprintf("The mean of %s is %s.", question, paste(each, collapse = ", "))
  },
  line.weighted = "Weighted base",
  line.effective = "Effective base",
  csv_interval = "interval",
  figure.column = "column %",
  figure.row = "row %",
  figure.total = "% of all",
  figure.n = "n",
  figure.weighted = "weighted count",
  unit.thousands = "thousands",
  unit.millions = "millions",
  figure.estimated_total = function(unit) {
    paste0("estimated total", in_unit(unit))
  },
  figure.se = "standard error",
  figure.cv = "coefficient of variation",
  figure.missing_information = "share of missing information",
  figure.deff = "design effect",
  figure.cumulative = "cumulative %",
  figure.index = "index (all = 100)",
  figure.difference = "difference",
  figure.difference_interval = function(alpha) {
    sprintf("its %s CI", confidence_words(alpha))
  },
  figure.given = "given %",
  figure.percent = "%",
  figure.interval = function(alpha) sprintf("%s CI", confidence_words(alpha)),
  figure.expected = "expected",
  figure.residual = "residual",
  figure.pearson = "Pearson residual",
  figure.adjusted = "adjusted residual",
  figure.contribution = "contribution to X\u00b2",
  other_pattern = "^(others?\\b|none of|don't know)",
  withheld_key = function(limit) {
    sprintf(paste("[c] withheld: fewer than %s respondents, or such a cell",
                  "could be worked out from it"), format_count(limit))
  },
  flag_key = function(rules, caution, out) {
    sentences <- list(
      flag_cv = function(limit) sprintf("a coefficient of variation above %s%%", limit),
      flag_width = function(limit) sprintf("an interval wider than %s points", limit),
      flag_under = function(limit) sprintf("fewer than %s respondents", limit),
      flag_clusters = function(limit) sprintf("fewer than %s clusters", limit))
    limits <- function(k) limits_said(rules, k, sentences, " or ")
    paste(c(if (caution)
              sprintf("[u] after a figure: use with caution (%s)", limits(1L)),
            if (out) sprintf("[u] alone: not reliable enough to show (%s)",
                             limits(2L))), collapse = "; ")
  },
  totals_of_sample = paste("The weights average about 1, so the totals are of",
                           "respondents, not of the population"),
  totals_rule = function(alpha) {
    sprintf(paste("Totals are sums of weights, with %s intervals of their own;",
                  "pairs are of columns in the same row."),
            confidence_words(alpha))
  },
  base_of_totals = function(unit) {
    paste0("Estimated numbers of people", in_unit(unit))
  },
  hidden_key = function(limit) {
    sprintf("* percentages of fewer than %s respondents are not shown",
            format_count(limit))
  },
  peak_key = function(row) {
    sprintf("^ the largest percentage of its %s", if (row) "row" else "column")
  },
  correction.holm = "Holm",
  correction.bonferroni = "Bonferroni",
  correction.benjamini_hochberg = "Benjamini-Hochberg",
  marking_rule = function(critical, correction, cells, alpha) {
    sprintf("%s; %s; level %s",
            if (is.na(critical)) "exact p of each cell" else
              sprintf("adjusted residual beyond \u00b1%s",
                      format_number(critical)),
            if (cells == 1) "no correction: one comparison" else
              sprintf("%s over %d cells", name_of("correction", correction),
                      cells), format_alpha(alpha))
  },
  list_rule = function(correction, alpha) {
    sprintf("adjusted residuals; %s over the cells of each question's table; level %s",
            name_of("correction", correction), format_alpha(alpha))
  },
  key_marked = function(rule) {
    sprintf("+ more, \u2212 fewer respondents than expected if the two were unrelated (%s)",
            rule)
  },
  key_spread = function(rule) {
    sprintf(paste(paste("No single cell is marked (%s): the association is",
                        "spread over many cells, which is no"),
                  "contradiction"), rule)
  },
  key_none = function(rule) sprintf("No cell differs significantly (%s)", rule),
  no_test_line = function(reason) sprintf("No test: %s", in_words(reason)),
  associated = function(down, across, within, level) {
    sprintf("%s differs by %s%s%s", down, across, within, level)
  },
  not_associated = function(down, across, within, level) {
    sprintf("%s does not differ significantly by %s%s%s", down, across, within,
            level)
  },
  asymmetric = function(down, across, within, level) {
    sprintf("Answers changed more often in one direction than in the other%s%s",
            within, level)
  },
  not_asymmetric = function(down, across, within, level) {
    sprintf(paste("Answers did not change significantly more often in one direction",
                  "than in the other%s%s"), within, level)
  },
  trend_found = function(figures, scores) {
    sprintf("Linear trend: %s (%s)", figures, scores)
  },
  trend_not_found = function(figures, scores) {
    sprintf("No evidence of a linear trend: %s (%s)", figures, scores)
  },
  item_line = function(name, p, corrected, v, low, high) {
    sprintf("%s: %s (corrected %s), V = %s (%s)", name, format_p(p),
            bare_p(corrected), format_strength(v),
            interval_words(low, high, format_strength))
  },
  item_no_test = function(name, reason) {
    sprintf("%s: no test, %s", name, in_words(reason))
  },
  item_by = function(item, by) sprintf("%s by %s", item, by),
  reference_line = function(figures, weighted) {
    sprintf("For reference only (%ssample design ignored): %s",
            if (weighted) "weighted percentages, " else "", figures)
  },
  ci = function(alpha, low, high) {
    sprintf("%s CI %s", confidence_words(alpha),
            interval_words(low, high, format_strength))
  },
  no_ci = function(reason) sprintf("no interval: %s", reason),
  explaining = function(explaining, explained) {
    sprintf("%s explaining %s", explaining, explained)
  },
  in_this_table = function(n) {
    sprintf("%s %s in this table.", format_count(n), plural(n, "respondent"))
  },
  account_whole = function(records, several) {
    sprintf("%s %s read, all in the %s", format_count(records),
            plural(records, "record"), if (several) "tables" else "table")
  },
  account_parts = function(records, used, left, reasons, several) {
    sprintf("%s %s read: %s in the %s, %s left out: %s", format_count(records),
            plural(records, "record"), format_count(used),
            if (several) "tables" else "table", format_count(left),
            paste(reasons, collapse = "; "))
  },
  account_reason = function(reason, records) {
    sprintf("%s (%s)", reason, format_count(records))
  },
  account_counts = function(n, cells) {
    sprintf("%s %s counted in %s %s", format_count(n), plural(n, "respondent"),
            format_count(cells), plural(cells, "cell"))
  },
  account_totals = function(totals) {
    sprintf("set aside as totals: %s", paste(totals, collapse = "; "))
  },
  account_standing = function(n) {
    sprintf("representing %s %s", format_count(n), plural(n, "respondent"))
  },
  account_blank = function(lines) {
    sprintf("%s blank %s of the file", format_count(lines),
            plural(lines, "line"))
  },
  account_effective = function(n) sprintf("effective base %s", format_count(n)),
  see = function(remedy) sprintf("See %s.", remedy),
  workbook.contents = "Contents",
  workbook.data = "Data, one row a cell",
  workbook.live = "Calculation",
  no_live = function(title, reason) {
    sprintf("No sheet that calculates for %s: %s.", title, reason)
  },
  no_live_alone = "it is of one question alone",
  no_live_stored = "it was read from a file, so the design effects are not at hand",
  no_live_number = "it is of a number, not of answers",
  no_live_ticks = "items that can all be ticked have no one chi-square",
  live_about = function(weighted) {
    paste0("The shaded figures are typed in",
           if (weighted) ", also what comes from weights and sample design",
           paste("; all else is worked out from them by formulas. Change a",
                 "count and everything moves. Beside the formulas "),
           "stand the figures of the table as it was made, and the difference.")
  },
  live_counts = "Respondents",
  live_weighted = "Weighted respondents",
  live_effects = "Design effects of the residuals",
  live_ours = "As made",
  live_difference = "Difference",
  live_figures = "Test and strength",
  live_formula = "By formula",
  live_mean_effect = "Mean design effect",
  live_sum_effects = "Sum of the design effects",
  live_f_df = "df of F",
  live_f_error = "error df of F",
  caption_table = "Table",
  caption_figure = "Figure",
  continued = "continued",
  to_paste = "Suggested text",
  tables = "Tables",
  several_tables = function(number) sprintf("%d tables", number),
  higher = "higher",
  lower = "lower",
  more_than_expected = "more than expected",
  fewer_than_expected = "fewer than expected",
  largest_of_line = "largest of its line",

  letters_key = function(compare, correction, alpha, second = NULL) {
    sprintf(paste("A letter: significantly higher than the %s with this letter",
                  "(two-sided; %s over the pairs of a %s; level %s%s)"),
            c(columns = "column", rows = "row")[[compare]],
            name_of("correction", correction),
            c(columns = "row", rows = "column")[[compare]], format_alpha(alpha),
            if (is.null(second)) "" else
              sprintf(", capitals: level %s", format_alpha(second)))
  },
  letters_all = paste(paste("Letters compare all columns with each other;",
                            "that the same people stand in several of them is"),
                      "taken into account"),
  letters_headings = function(question) {
    sprintf("%s: letters compare the answers under the same heading", question)
  },
  against.rest = "the rest",
  against.total = "the total",
  against_key = function(against, compare, correction, alpha) {
    line <- c(columns = "column", rows = "row")[[compare]]
    sprintf(paste("\u2191 higher, \u2193 lower than %s (two-sided; %s over",
                  "the %ss of a %s; level %s)"),
            switch(against, rest = "among all other respondents",
                   total = "among all respondents",
                   previous = sprintf("in the %s before", line),
                   first = sprintf("in the first %s", line),
                   sprintf("in %s", quoted(against))),
            name_of("correction", correction), line,
            c(columns = "row", rows = "column")[[compare]], format_alpha(alpha))
  },
  letters_small = function(limit, answers, n) {
    sprintf("Not compared because of small bases (under %d): %s", limit,
            bases_words(answers, n))
  },

  # ---- a survey ----
  survey_of = function(records, questions) {
    sprintf("Survey of %s %s, %s %s", format_count(records),
            plural(records, "record"), format_count(questions),
            plural(questions, "question"))
  },
  survey_before = function(records, reasons) {
    sprintf("  %s left out before: %s", format_count(records), reasons)
  },
  survey_strata = function(strata) {
    sprintf("  %d %s", strata, plural(strata, "stratum", "strata"))
  },
  survey_clusters = function(clusters) {
    sprintf("  %d %s", clusters, plural(clusters, "cluster"))
  },
  survey_replicates = function(replicates, kind) {
    sprintf("  %s replicates (%s)", format_count(replicates), kind)
  },
  survey_repeats = function(ids) {
    sprintf("  %d %s more than once", ids,
            plural(ids, "id occurs", "ids occur"))
  },
  survey_aside = function(records, reasons) {
    sprintf("  %s set aside: %s", format_count(records), reasons)
  },

  # ---- the paragraph ----
  null_unrelated = function(down, across, within) {
    sprintf("that %s and %s are unrelated%s", down, across, within)
  },
  null_symmetric = function(down, across, within) {
    sprintf("that answers change as often from %s to %s in one direction as in the other%s",
            down, across, within)
  },
  within = function(each, answer) sprintf(" (%s: %s)", each, quoted(answer)),
  rejected = function(null, alpha) {
    sprintf("The null hypothesis %s is rejected at the %s level.", null,
            format_alpha(alpha))
  },
  not_rejected = function(null, alpha) {
    sprintf("The null hypothesis %s is not rejected at the %s level.", null,
            format_alpha(alpha))
  },
  not_tested = function(down, across, within, reason) {
    sprintf("%s was not tested%s: %s", if (nzchar(across)) sprintf("%s by %s", down, across) else
      down, within, in_words(reason))
  },
  at_level = function(alpha) sprintf(" at the %s level", format_alpha(alpha)),
  corrected_over_each = function(p, tables, each, correction, still) {
    sprintf("Over the %d tables of %s (%s): %s%s", tables, each,
            corrections[[correction]], format_p(p),
            if (still) "" else ", no longer significant")
  },
  standardised_rule = function(by, to, alpha, classes, share) {
    sprintf("Standardised by %s to %s (%s); intervals with %s confidence", by,
            switch(to, total = "everybody in the table", given = "the given shares",
                   sprintf("the composition of %s", to)),
            paste(sprintf("%s %s", classes, percent_words(share, 1L)), collapse = "; "),
            confidence_words(alpha))
  },
  standardised_left_out = function(records, by) {
    sprintf("%s %s left out for want of an answer to %s.", format_count(records),
            plural(records, "record is", "records are"), by)
  },
  standardised_undefined = function(across, class) {
    sprintf("%s cannot be standardised: nobody there is in the class %s. Join classes.",
            across, class)
  },
  gini = "Gini coefficient",
  held_by_top = function(top) sprintf("share of the top %s%%", top),
  number_rule = function(label, alpha) {
    sprintf("%s; intervals with %s confidence", label, confidence_words(alpha))
  },
  grouped_rule = function(width) {
    sprintf("Interpolated within classes of %s (centred on its multiples): grouped data.",
            in_house_style(format(width, scientific = FALSE), FALSE))
  },
  wave_breaks = function(wave, why) {
    sprintf("From %s on the series begins anew%s; nothing is compared across it.", wave,
            ifelse(nzchar(why), sprintf(" (%s)", why), ""))
  },
  wave.column = "Wave",
  quantiles_alt = function(label, values) {
    sprintf("The distribution of %s by column. Medians: %s.", label, paste(values, collapse = "; "))
  },
  claim_line = function(claim, figures) sprintf("%s: %s", claim, figures),
  claim_sentence = function(claim, figures) sprintf("%s (%s).", claim, figures),
  claim_headline = function(claim, cells) {
    sprintf("%s: %s", claim, paste(cells, collapse = "; "))
  },
  before_handing_on = function(file, cautions, more) {
    others <- ifelse(more > 0, sprintf(" (and %d more %s)", more,
                                       plural(more, "table")), "")
    paste(c(sprintf("Before you hand %s on:", file),
            paste0("  ", sub("[.]$", "", cautions), others, ".")), collapse = "\n")
  },
  who_compared = function(down, across, within, n, design, left) {
    sprintf("%s was compared by %s%s among %s %s%s%s.", down, across, within,
            format_count(n), plural(n, "respondent"), design, left)
  },
  who_answered = function(within, n, design, left) {
    sprintf("The percentages%s are of %s %s%s%s.", within, format_count(n),
            plural(n, "respondent"), design, left)
  },
  answers_given = function(question, within, answers, share, low, high, alpha,
                           ticks) {
    interval <- ifelse(is.na(low), "",
                       sprintf(" (%s CI %s to %s)", confidence_words(alpha),
                               format_percent(low), format_percent(high)))
    each <- sprintf("%s%s %s %s", percent_words(share), interval,
                    if (ticks) "ticked" else "answered", quoted(answers))
    sprintf("%s%s: %s.", question, within, paste(each, collapse = "; "))
  },
  who_weighted = function(weight, effective, design, calibrated_to = NULL) {
    sprintf(" (weighted by %s%s; effective base %s%s)", weight,
            if (length(calibrated_to))
              paste(", calibrated to", list_with_and(unlist(calibrated_to))) else "",
            format_count(effective),
            if (length(design))
              paste0("; sample design with ",
                     paste(design, collapse = " and ")) else "")
  },
  who_imputed = function(imputations) {
    sprintf(", over %d imputed data sets", as.integer(imputations))
  },
  who_design = function(design) {
    sprintf(" (sample design with %s)", paste(design, collapse = " and "))
  },
  design.stratum = "strata",
  design.cluster = "clusters",
  design.replicates = "replicate weights",
  who_left_out = function(left, records, reasons) {
    sprintf("; %s of %s records %s left out%s", format_count(left),
            format_count(records), plural(left, "was", "were"),
            if (length(reasons))
              paste0(": ", paste(reasons, collapse = "; ")) else "")
  },
  test_chosen = function(reason) {
    sprintf("The test was chosen because %s.", in_words(reason))
  },
  equivalence = function(margin, high, alpha) {
    if (high <= margin)
      sprintf("The association is smaller than the margin of V = %s (%s CI up to %s)",
              strength_words(margin), confidence_words(alpha),
              format_strength(high)) else
      sprintf(paste("The table does not show that the association is smaller",
                    "than the margin of V = %s (%s CI up to %s)"),
              strength_words(margin), confidence_words(alpha),
              format_strength(high))
  },
  no_evidence = "This is no evidence that there is no association.",
  small_at_most = function(high) {
    sprintf(paste("An association, if there is one, is small: the interval of V",
                  "reaches %s."), format_strength(high))
  },
  no_evidence_means = "This is no evidence that the means are equal.",
  no_evidence_symmetry = "This is no evidence that there was no change.",
  trend_sentence = function(figures) {
    sprintf("Both questions being ordered, there is a linear trend (%s).",
            figures)
  },
  no_trend_sentence = function(figures) {
    sprintf("Both questions being ordered, there is no evidence of a linear trend (%s).",
            figures)
  },
  strength_sentence = function(figures) {
    sprintf("Strength of association: %s.", paste(figures, collapse = "; "))
  },
  where_column = function(down, across, share, overall) {
    sprintf("%s in %s answered %s, against %s overall", percent_words(share),
            quoted(across), quoted(down), percent_words(overall))
  },
  where_row = function(down, across, share, overall) {
    sprintf("of those who answered %s, %s are in %s, against %s overall",
            quoted(down), percent_words(share), quoted(across),
            percent_words(overall))
  },
  where_total = function(down, across, share, overall) {
    sprintf("%s with %s: %s of all", quoted(down), quoted(across),
            percent_words(share))
  },
  where_more = function(cells) {
    sprintf("More than expected: %s.", paste(cells, collapse = "; "))
  },
  where_fewer = function(cells) {
    sprintf("Fewer than expected: %s.", paste(cells, collapse = "; "))
  },
  where_spread = paste(paste("No single cell stands out after correction,",
                             "which is no contradiction: the association is"),
                       "spread over many cells."),
  reach_sentence = function(power, v, high) {
    if (v >= 1)
      return("This table is too small to detect even a perfect association reliably.")
    sprintf("The table could have detected V of %s or more (%s power)%s.",
            strength_words(v), percent_words(power, 0L), if (is.na(high)) "" else
              sprintf("; V up to %s is not ruled out", strength_words(high)))
  },
  with_care = function(cautions) {
    paste("Limitations:", paste(cautions, collapse = " "))
  },

  # ---- where it sits ----
  reading_no_test = "There is no test, so no cell stands out.",
  reading_none = "No cell departs from what would be expected if the two were unrelated.",
  reading_spread = paste(paste("No single cell stands out, although the table",
                               "as a whole is significant. That is no"),
                         paste("contradiction: the test adds up all",
                               "residuals, while each cell must be beyond",
                               "chance by"),
                         "itself, corrected for the number of cells examined."),
  reading_cell = function(down, across, residual) {
    sprintf("%s \u00d7 %s (residual %s%s)", down, across,
            if (residual > 0) "+" else "", format_number(residual, 1L))
  },
  reading_more = function(cells, more) {
    sprintf("More than expected: %s%s.", paste(cells, collapse = "; "),
            if (more) sprintf("; and %d more", more) else "")
  },
  reading_fewer = function(cells, more) {
    sprintf("Fewer than expected: %s%s.", paste(cells, collapse = "; "),
            if (more) sprintf("; and %d more", more) else "")
  },
  reading_not_significant = paste("The table as a whole is not significant:",
                                  "read single cells with care."),

  section.tests = "Tests",
  section.strength = "How strong is it?",
  section.residuals = "Where is it?",
  section.differences = "Which columns differ?",
  section.risks = "Against a reference",
  section.detectable = "What it could have shown",
  section.working = "The arithmetic",
  section.shares = "Percentages",
  section.standardised = "Standardised figures",
  section.quantiles = "Quantiles",
  section.inequality = "Inequality",
  section.ratios = "Ratios",
  section.totals = "Estimated totals",
  section.means = "Means",
  section.items = "Item by item",
  section.cautions = "How far to trust it",
  section.goodness = "Against known shares",
  section.look = "The questions",
  section.verify = "Published tables",
  section.recheck = "Claims and totals",
  section.write_up = "Suggested text",

  # ---- the desk ----
  desk.name = "Desk",
  desk.records = "records",
  desk.records_in = function(file, n) {
    sprintf("%s, %s records", file, format_count(n))
  },
  desk.chapter = "Tables",
  desk.skip = "Skip to the table",
  desk.questions = "Questions",
  desk.none_found = "No question has these words in its name or title.",
  desk.put_question = "What to do with the question",
  desk.put.down = "Compare",
  desk.put.across = "By",
  desk.put.each = "For each",
  desk.put.answers = "Its answers\u2026",
  desk.find_for.down = "Choose the question to compare: arrow keys and Enter.",
  desk.find_for.across = "Choose a question to compare it by: arrow keys and Enter.",
  desk.find_for.each = paste("Choose the question whose answers have a table",
                             "each: arrow keys and Enter."),
  desk.compare = "Compare",
  desk.by = "by",
  desk.each = "for each",
  desk.add.down = "a question",
  desk.add.across = "+ question",
  desk.add.each = "+ question",
  desk.turn = "Swap rows and columns",
  desk.clear = "Start over",
  desk.open_answers = function(question, across) {
    sprintf("The answers of %s%s", question,
            if (across) " (Alt with an arrow key: another place)" else "")
  },
  desk.take_away = function(question) sprintf("Take away: %s", question),
  desk.undo = "Undo",
  desk.redo = "Redo",
  desk.undo_what = function(what = NULL) {
    if (is.null(what)) "Nothing to undo" else sprintf("Undo: %s", what)
  },
  desk.redo_what = function(what = NULL) {
    if (is.null(what)) "Nothing to redo" else sprintf("Redo: %s", what)
  },
  desk.did.put = "Question placed",
  desk.did.drop = "Question taken away",
  desk.did.turn = "Rows and columns swapped",
  desk.did.clear = "Started over",
  desk.did.ask = "Sample design changed",
  desk.did.ask_all = "Sample design changed",
  desk.did.one_per = "Records of one respondent",
  desk.did.keep = "Filter changed",
  desk.did.set = "Setting changed",
  desk.did.draw = "Figure changed",
  desk.did.prepare = "Answers changed",
  desk.did.unprepare = "Answers as they were",
  desk.did.tray_put = "Put into the tray",
  desk.did.tray_drop = "Taken out of the tray",
  desk.did.tray_move = "Tray put in order",
  desk.did.tray_open = "Table of the tray opened",
  desk.did.take_up = "Work of another window taken up",
  desk.marks = "Mark",
  desk.mark.residuals = "cells that depart",
  desk.mark.letters = "by letters",
  desk.mark.differences = "differences",
  desk.mark.none = "nothing",
  desk.sort.asked = "as asked",
  desk.sort.size = "by size",
  desk.sort.difference = "by difference",
  desk.sort.mean = "by mean",
  desk.decimals = "Decimals",
  desk.in_cell = "In each cell\u2026",
  desk.more = "More\u2026",
  desk.by_default = "as usual",
  desk.show.column = "Column percentage",
  desk.show.row = "Row percentage",
  desk.show.total = "Percentage of all",
  desk.show.n = "Respondents",
  desk.show.weighted = "Weighted counts",
  desk.show.cumulative = "Cumulative percentage",
  desk.show.index = "Index against everybody",
  desk.show.interval = "Confidence interval",
  desk.show.given = "Given percentage",
  desk.show.difference = "Difference",
  desk.show.difference_interval = "Interval of the difference",
  desk.show.expected = "Expected count",
  desk.show.residual = "Residual",
  desk.show.pearson = "Pearson residual",
  desk.show.adjusted = "Adjusted residual",
  desk.show.contribution = "Contribution to chi-square",
  desk.who = "Sample and base",
  desk.trust = "Can I trust it?",
  desk.hand_on = "What do I hand on?",
  desk.trust_later = "The test, the strength and the cautions of the table will stand here.",
  desk.nothing_to_test = "There is nothing to test in this table.",
  desk.none = "none",
  desk.design = "Design:",
  desk.design_given = "The design is that of the survey the desk was opened with.",
  desk.told.weight = function(name) sprintf("weighted by %s", name),
  desk.told.stratum = function(name) sprintf("strata of %s", name),
  desk.told.cluster = function(name) sprintf("clusters of %s", name),
  desk.told.replicates = function(number) {
    sprintf("%d replicate weights", number)
  },
  desk.told.none = "every record counts alike",
  desk.role.weight = "Weight",
  desk.role.stratum = "Stratum",
  desk.role.cluster = "Cluster",
  desk.role.id = "Respondent",
  desk.role.count = "Count",
  desk.likely = function(columns) {
    sprintf("As the names suggest: %s", paste(columns, collapse = ", "))
  },
  desk.one_per = "Records of a respondent",
  desk.one_per.all = "all",
  desk.one_per.first = "the first",
  desk.one_per.last = "the last",
  desk.among = "Only those who meet",
  desk.among_example = "everybody",
  desk.base_words = "Called",
  desk.keep = "Apply",
  desk.everybody = "Everybody",
  desk.undo_step = function(step) sprintf("Take back: %s", step),
  desk.step.band = function(question, told) {
    sprintf("%s cut into bands at %s", question, list_some(told))
  },
  desk.step.regroup = function(question, told) {
    sprintf("%s: answers combined as %s", question, list_some(quoted(told)))
  },
  desk.step.order_answers = function(question, told) {
    sprintf("%s in the order %s", question, list_some(told, 3L))
  },
  desk.step.label_answers = function(question, told) {
    sprintf("%s: codes called %s", question, list_some(quoted(told)))
  },
  desk.step.retitle = function(question, told) {
    sprintf("%s is called %s", question, quoted(told))
  },
  desk.step.net = function(question, told) {
    sprintf("%s: net %s", question, list_some(quoted(told)))
  },
  desk.step.score = function(question, told) {
    if (length(told)) sprintf("%s scored %s", question, list_some(told)) else
      sprintf("%s: means shown", question)
  },
  desk.step.ticks = function(question, told) {
    sprintf("%s: tick-all question of %s", question, list_some(told, 3L))
  },
  desk.step.battery = function(question, told) {
    sprintf("%s: statements %s", question, list_some(told, 3L))
  },
  desk.kind.answers = "answers",
  desk.kind.ordered = "ordered answers",
  desk.kind.ticks = "tick-all",
  desk.kind.number = "number",
  desk.kind.text = "text",
  desk.kind.other = "no single values",
  desk.kind.empty = "one answer only",
  desk.kind.design = "sample design",
  desk.begin = "What do you want to compare?",
  desk.begin_how = paste(paste("Drag a question from the list into the",
                               "sentence above, or choose it and press one of",
                               "the"), "buttons below the list."),
  desk.begin_keys = paste(paste("By keyboard: / goes to the search, the arrow",
                                "keys to a question, Enter puts it where",
                                "there"),
                          "is room, Ctrl+Z takes back what was done."),
  desk.others = "Work of other windows:",
  desk.figure = "Figure",
  desk.figure_kind.shares = "Shares (100 %)",
  desk.figure_kind.grouped = "Grouped bars",
  desk.figure_kind.stacked = "Stacked counts",
  desk.figure_kind.dots = "Dots with intervals",
  desk.figure_kind.balance = "Left and right of the middle",
  desk.figure_kind.change = "Change",
  desk.figure_kind.heat = "Shades",
  desk.figure_kind.residuals = "Residuals",
  desk.figure_kind.mosaic = "Mosaic",
  desk.figure_kind.map = "Map",
  desk.figure_kind.none = "None",
  desk.drawing = "The figure is being drawn.",
  desk.into_tray = "Put into the tray",
  desk.up = function(title) sprintf("Up: %s", title),
  desk.down = function(title) sprintf("Down: %s", title),
  desk.publish = "Export",
  desk.this_table = "this table",
  desk.the_tray = function(number) {
    sprintf("the tray (%d %s)", number, plural(number, "table", "tables"))
  },
  desk.as = "as",
  desk.save = "Save",
  desk.saved = "Saved: {name}",
  desk.copied = "Copied.",
  desk.title = function(down, across, each = NULL, among = NULL) {
    paste0(down, if (length(across)) paste(" by", list_with_and(across)),
           if (!is.null(each)) paste(" for each", each),
           if (!is.null(among)) paste0(" (", among, ")"))
  },
  desk.leave.code = "As R code",
  desk.leave.command = "As a command",
  desk.leave.plan = "As a tab plan",
  desk.no_command.no_file = paste("The records did not come from one file, so",
                                  "there is no command that reads them."),
  desk.no_command.no_table = "There is no table yet.",
  desk.no_command.setting = paste("One of the settings is not an option of",
                                  "the command: take it away as R code or as",
                                  "a plan."),
  desk.no_command.step = paste(
    "One of the changes to the questions is not an option of the command: take it away as R",
    "code or as a plan."),
  desk.no_command.signs = paste(
    "A name or an answer has a comma, colon, semicolon or equals sign, which the options",
    "cannot say: take it away as R code or as a plan."),
  desk.no_command.condition = paste(
    "The filter speaks of a question as it was changed here, and the command filters",
    "first: take it away as R code or as a plan."),
  desk.no_command.order = paste(
    "A question was changed in another order than the command works in: take it away as R",
    "code or as a plan."),
  desk.no_plan.several = paste(
    "The tables of the tray differ in their design or in what was done to the questions; a",
    "plan has one of each. Take them away one by one."),
  desk.lost = paste("The program behind this page has ended or does not",
                    "answer. What you see stays as it is."),
  desk.again = "Try again",
  desk.internal = function(what) {
    paste0("The program failed: ", what,
           ". Nothing was changed; please report it.")
  },
  desk.is_design = "This column is part of the sample design.",
  desk.choose_first = "Choose answers first.",
  desk.name_first = "Give it a name first.",
  desk.verb.ticks = "Make a tick-all question",
  desk.verb.battery = "Make one table of statements",
  desk.statements = "With these columns as its statements",
  desk.items = "With these columns as its items",
  desk.new_title = "Title",
  desk.verb.retitle = "Change the title",
  desk.bands = "Bands",
  desk.verb.band = "Cut into bands",
  desk.breaks = "They begin at",
  desk.into = "Name of the new question",
  desk.scores = "Means",
  desk.mean_of_number = "Compared as a number it has its means in place of percentages.",
  desk.verb.score = "Show means",
  desk.choose_answers = "Choose answers",
  desk.score_and_order = "Score, place",
  desk.score_of = function(answer) sprintf("Score of %s", answer),
  desk.verb.regroup = "Combine",
  desk.new_answer = "The chosen as one answer, called",
  desk.verb.net = "Net",
  desk.new_net = "The chosen as a subtotal, called",
  desk.verb.leave = "Leave out",
  desk.reason = "The chosen as no answer, for the reason",
  desk.reason_usual = "Left out",
  desk.verb.order_answers = "Keep this order",
  desk.as_it_is = "As it is",
  desk.as_it_would_be = function(question) {
    sprintf("As it would be: %s", question)
  },
  desk.account_after = function(before, after, records) {
    sprintf("In the table: %s of %s records%s.", format_count(after),
            format_count(records),
            if (before == after) ", as before" else
              sprintf(" (before: %s)", format_count(before)))
  },
  desk.close = "Close",

  # ---- results by themselves ----
  controlling_for = function(each) sprintf("Controlling for %s", each),
  nothing_to_say = "Nothing to report.",
  no_test_sentence = function(reason) sprintf("No test: %s.", reason),
  interval_of = function(measures, way) {
    sprintf("Interval for %s: %s.", paste(measures, collapse = ", "), way)
  },
  column.measure = "Measure",
  column.estimate = "estimate",
  column.se = "se",
  column.answer = "answer",
  column.column = "column",
  column.total = "total",
  column.cv = "CV",
  column.missing_information = "missing info.",
  column.crude = "crude",
  column.standardised = "standardised",
  column.percent_of = "quantile, %",
  column.ratio_of = "ratio",
  column.figure = "figure",
  column.value = "value",
  column.deff = "design effect",
  column.ratio = "ratio",
  column.interval = "interval",
  column.p_zero = "p (zero)",
  column.cell = "Cell",
  column.observed = "observed",
  column.expected = "expected",
  column.share_of_statistic = "share of X\u00b2",
  column.p_corrected = "p, corrected",
  column.corrected = "corrected",
  column.within = "Within",
  column.higher_in = "is higher in",
  column.than_in = "than in",
  column.shares = "shares",
  column.difference = "difference",
  column.odds_ratio = "Odds ratio",
  column.test = "Test",
  column.headline = "headline",
  column.df_error = "error df",
  column.statistic = "statistic",
  residual.adjusted = "adjusted",
  residual.pearson = "pearson",
  residual.raw = "raw",
  smaller_residuals = function(cells) {
    sprintf("and %d %s with smaller residuals", cells, plural(cells, "cell"))
  },
  marked_beyond = function(residual, critical) {
    sprintf("Marked: %s residual beyond \u00b1%s.", residual,
            format_number(critical))
  },
  pairs_rule = function(compare, against, question, correction, alpha) {
    sprintf("%s within each answer to %s; %s over the pairs of a %s, level %s.",
            switch(against, "each other" = sprintf("Pairs of %s", compare),
                   rest = sprintf("Each of the %s against all other respondents",
                                  compare),
                   total = sprintf("Each of the %s against all respondents",
                                   compare),
                   previous = sprintf("Each of the %s against the one before",
                                      compare),
                   first = sprintf("Each of the %s against the first", compare),
                   sprintf("Each of the %s against %s", compare,
                           quoted(against))), question,
            name_of("correction", correction),
            c(columns = "row", rows = "column")[[compare]], format_alpha(alpha))
  },
  no_bases_to_compare = function(compare) {
    sprintf("No two %s have large enough bases to be compared.", compare)
  },
  none_differs = function(compare, pairs) {
    sprintf("No %s differs from another beyond chance (%s %s compared).",
            c(columns = "column", rows = "row")[[compare]], format_count(pairs),
            plural(pairs, "pair"))
  },
  pairs_equivalent = function(margin, alpha, pairs, found) {
    sprintf("%s of %s pairs differ by less than %s points (two one-sided tests, each at %s).",
            format_count(found), format_count(pairs),
            format_number(100 * margin, setting("digits")), format_alpha(alpha))
  },
  differences_in_points = paste("Differences are in percentage points; each",
                                "interval stands for itself."),
  against = function(outcome, compared, reference) {
    sprintf("%s: %s against %s", quoted(outcome), compared, reference)
  },
  shares_against = function(first, second) {
    sprintf("%s against %s", first, second)
  },
  with_interval = function(value, low, high) {
    sprintf("%s (%s)", value, words("interval", low = low, high = high))
  },
  with_note = function(value, note) sprintf("%s (%s)", value, note),
  points = function(value) sprintf("%s points", value),
  no_interval = "no interval",
  z_and_p = function(z, p, more, fewer) {
    sprintf("z = %s, %s (one-sided: more %s, fewer %s)", format_number(z),
            format_p(p), bare_p(more), bare_p(fewer))
  },
  risk.shares = "shares",
  risk.difference = "difference",
  risk.needed = "number needed",
  risk.relative_risk = "relative risk",
  risk.odds_ratio = "odds ratio",
  risk.log_odds_ratio = "  its logarithm",
  risk.odds_ratio_exact = "  exact",
  risk.test = "test",
  intervals_at = function(alpha, several) {
    sprintf("%s confidence intervals%s.", confidence_words(alpha),
            if (several)
              "; each comparison stands for itself, not corrected for their number" else
              "")
  },
  detectable_none = function(reason) {
    sprintf("no test can be made: %s.", reason)
  },
  detectable_table = function(r, c, n, alpha, effect) {
    sprintf("%s\u00d7%s table of %s %s, level %s%s", format(r), format(c),
            format_count(n), plural(n, "respondent"), format_alpha(alpha),
            if (effect == 1) "" else
              sprintf(", design effect %s", format_number(effect)))
  },
  detectable_smallest = function(v, w, power) {
    if (v > 1)
      return("even a perfect association would be found less often than wanted")
    sprintf("an association of V = %s or more (w = %s) would have been found with %s power",
            format_strength(v), format_strength(w), percent_words(power, 0L))
  },
  detectable_power = function(v, power) {
    sprintf("For V = %s its power is %s.", format_strength(v),
            percent_words(power, 0L))
  },
  detectable_needed = function(power, v, n) {
    sprintf("For %s power at V = %s the table needs about %s respondents.",
            percent_words(power, 0L), format_strength(v), format_count(n))
  },
  pooled_title = function(title, each, n) {
    sprintf("%s, controlling for %s (%s %s)", title, each, format_count(n),
            plural(n, "respondent"))
  },
  pooled_by_design = paste("F statistics, second-order Rao-Scott: they take",
                           "weights and design into account."),
  pooled_left_out = function(answers) {
    sprintf("Left out of the tests, having only one row or column: %s.",
            list_some(answers))
  },
  pooled_care = function(text) sprintf("Caution: %s", text),
  working_observed = function(what) sprintf("1. Observed (%s)", what),
  working_expected = paste("2. Expected if the two were unrelated: row total",
                           "\u00d7 column total / total"),
  working_contribution = paste("3. Contribution of each cell: (observed",
                               "\u2212 expected)\u00b2 / expected"),
  working_example = function(down, across, how, value) {
    sprintf("for example %s \u00d7 %s: %s = %s", down, across, how, value)
  },
  working_statistic = function(value) {
    sprintf("4. Their sum is the statistic: X\u00b2 = %s", value)
  },
  working_df = function(how, value) {
    sprintf("5. Degrees of freedom: %s = %s", how, value)
  },
  working_design = function(effect, how, f, value) {
    sprintf("6. Weights and design: divided by %s, %s. F = %s = %s", effect,
            how, f, value)
  },
  working_p = function(step, p, how) sprintf("%d. %s: %s", step, p, how),
  goodness_rejected = function(down, across, within, level) {
    sprintf("The answers to %s differ from the given shares%s%s", down, within, level)
  },
  goodness_not_rejected = function(down, across, within, level) {
    sprintf("The answers to %s do not differ significantly from the given shares%s%s",
            down, within, level)
  },
  key_given = function(rule) {
    sprintf("+ more, \u2212 fewer respondents than the given shares make expected (%s)",
            rule)
  },
  key_given_none = function(rule) {
    sprintf("No answer departs from its given share (%s)", rule)
  },
  null_given = function(down, across, within) {
    sprintf("that the answers to %s%s follow the given shares", down, within)
  },
  goodness_base = "Percentages of those who answered, against given shares",
  regroup_not_sparse = "The table is not sparse: nothing to combine.",
  regroup_nothing_left = "Nothing can be combined: two answers are left on each side.",
  regroup_step = function(question, joined) {
    sprintf("Combine in %s: %s", question, joined)
  },
  regroup_small = function(before, after, mended) {
    sprintf("Small expected counts: %s before, %s after%s.",
            percent_words(before, 0L), percent_words(after, 0L),
            if (mended) "" else ", still too many")
  },
  regroup_before = function(figures) sprintf("Before: %s", figures),
  regroup_after = function(figures) sprintf("After: %s", figures),
  regroup_not_yet = "Nothing is combined yet: apply = TRUE does it.",
  power_key = function(power) {
    sprintf(paste("Circle: the smallest association found with %s power.",
                  "Diamond: the V asked about, or the table's own."),
            percent_words(power, 0L))
  },
  power_title = function(r, c, alpha) {
    sprintf("What a %s\u00d7%s table can show (level %s)", format(r), format(c),
            format_alpha(alpha))
  },
  figure_base = function(n, weight) {
    sprintf("n\u00a0=\u00a0%s%s.", format_count(n),
            if (is.null(weight)) "" else sprintf(", weighted by %s", weight))
  },
  each_statement = "each statement",
  figure_key.shares = function(question, ticks) {
    if (ticks)
      return(sprintf("Share who ticked each item, by %s; respondents in brackets.",
                     question))
    sprintf("Percentages within %s; respondents in brackets.", question)
  },
  figure_key.within = function(question, ticks) {
    sprintf("Percentages within %s.", question)
  },
  figure_key.total = function(question, ticks) {
    "Percentages of all respondents."
  },
  figure_key.n = function(question, ticks) {
    sprintf("Respondents, by %s.", question)
  },
  figure_key.weighted = function(question, ticks) {
    sprintf("Weighted counts, by %s; respondents in brackets.", question)
  },
  figure_key.balance = function(question, ticks) {
    sprintf(paste("Percentages within %s; in bold the sums left and right of",
                  "the middle; respondents in brackets."), question)
  },
  figure_key.dots = function(question, alpha) {
    sprintf("Percentages within %s, with %s confidence intervals.", question,
            confidence_words(alpha))
  },
  figure_key.change = function(question, alpha) {
    sprintf("Percentages within %s, with %s confidence intervals.", question,
            confidence_words(alpha))
  },
  figure_key.mosaic = function(question) {
    sprintf(paste(paste("Widths: shares of %s; heights: shares within them.",
                        "Shade: adjusted residual; + more, \u2212 fewer"),
                  "than expected, marked after correction."), question)
  },
  figure_key.map = function(share, little) {
    sprintf(paste("Answers with like profiles are near each other. The map",
                  "shows %s of the statistic%s."), percent_words(share, 0L),
            if (little) ": that is little, so see the residuals too" else "")
  },
  figure_axis = function(axis, share) {
    sprintf("Axis %d (%s of the statistic)", axis, percent_words(share, 0L))
  },
  figure_residuals = paste("Adjusted residuals: + more, \u2212 fewer than",
                           "expected; * marked after correction."),
  figure_marked = function(cells) {
    if (length(cells))
      sprintf("Marked: %s.", paste(cells, collapse = "; ")) else
      "No cell is marked."
  },
  figure_balance_bar = function(below, above) {
    sprintf("%s left and %s right of the middle", percent_words(below),
            percent_words(above))
  },
  figure_alt = function(kind, title, finding, values) {
    sprintf("%s: %s. %s", kind, title %||% "",
            paste(c(finding, values), collapse = " "))
  },
  figure_kind.shares = "Bars of 100%",
  figure_kind.items = "Bars of items ticked",
  figure_kind.grouped = "Grouped bars",
  figure_kind.stacked = "Stacked bars of counts",
  figure_kind.dots = "Dots with intervals",
  figure_kind.balance = "Bars left and right of the middle",
  figure_kind.change = "Lines over waves",
  figure_kind.heat = "Grid of percentages",
  figure_kind.residuals = "Grid of adjusted residuals",
  figure_kind.mosaic = "Mosaic",
  figure_kind.map = "Map of the answers",
  figure_needs.single_answers = paste(
    "It needs questions of one answer a person: the items of a tick-all question do",
    "not add up."),
  figure_needs.fewer = "It holds at most 40 answers on a side: combine some with regroup().",
  figure_needs.order = "It needs ordered answers: put them in order with order_answers().",
  figure_needs.waves = paste("It needs ordered columns, or two of them: put",
                             "answers in order with order_answers()."),
  figure_needs.plane = paste("It needs three answers or more on both sides;",
                             "\"residuals\" shows smaller tables."),
  page.show = "Show",
  page.published = "As published",
  page.percentages_of = "Base",
  page.shade = "Shade by",
  page.no_shade = "Nothing",
  page.turn = "Turn the table",
  page.sort = "Sort by",
  page.as_asked = "Order as published",
  page.copy = "Copy",
  page.copied = "Copied: paste it into a document or a spreadsheet.",
  page.tools = "Other views of this table",
  page.hint = paste(paste("Point at a cell, tap it, or tab into the table and",
                          "use the arrow keys, to see where its figure"),
                    "comes from."),
  page.share_of = "Percentage of {whose}",
  page.everybody = "all respondents",
  page.ci = function(alpha) {
    sprintf("%s CI {low} to {high}", confidence_words(alpha))
  },
  page.expected = "Expected if the two were unrelated",
  page.observed = "Observed, on the same scale",
  page.contribution = "Contribution to chi-square",
  page.residual = "Adjusted residual",
  page.corrected = "corrected",
  page.unmarked = "not marked",
  page.find = "Find a question",
  page.found = "{number} found",
  page.dark = "Dark",
  page.light = "Light",
  page.sentence = "{down} in {across}: {share}, against {overall} of all.",
  page.sentence_row = "{across} within {down}: {share}, against {overall} of all.",
  view.percent = "Percentages",
  view.n = "Respondents",
  view.weighted = "Weighted counts",
  view.expected = "Expected counts",
  view.adjusted_residual = "Adjusted residuals",
  view.interval = "Confidence intervals",
  view_base.column = "within {question}",
  view_base.row = "within {question}",
  view_base.total = "of all respondents",
  view_base_short.column = "each column",
  view_base_short.row = "each row",
  view_base_short.total = "all respondents",
  view_base_short.none = "none: counts",
  power_axis = "Power",
  v_axis = "Cram\u00e9r's V in the population",

  # ---- tests by name ----
  test.equal_means = "test of equal means",
  test.pearson = "Pearson chi-square",
  test.likelihood_ratio = "likelihood ratio",
  test.continuity_corrected = "continuity-corrected chi-square",
  test.exact = "exact test",
  test.exact_more = "exact test, one-sided (more)",
  test.exact_fewer = "exact test, one-sided (fewer)",
  test.monte_carlo = "exact test by random tables",
  test.linear_trend = "linear trend",
  test.rao_scott_corrected = "Rao-Scott second order, corrected",
  test.rao_scott_second = "Rao-Scott second order",
  test.rao_scott_first = "Rao-Scott first order",
  test.imputed_wald = "Wald test of imputed data sets (D1)",
  test.imputed_likelihood_ratio = "likelihood ratio of imputed data sets (D3)",
  test.rao_scott_second_likelihood = "Rao-Scott second order of G\u00b2",
  test.rao_scott_first_likelihood = "Rao-Scott first order of G\u00b2",
  test.cochran_q = "Cochran's Q",
  test.symmetry = "symmetry",
  test.symmetry_exact = "symmetry, exact",
  test.symmetry_rao_scott = "symmetry, Rao-Scott second order",
  test.mantel_haenszel = "Mantel-Haenszel",
  test.mantel_haenszel_corrected = "  with continuity correction",
  test.general_association = "general association",
  test.mean_scores = "mean scores",
  test.correlation = "correlation",
  test.breslow_day_tarone = "homogeneity of odds ratios (Breslow-Day, Tarone)",
  test.same_odds_ratio = "homogeneity of odds ratios (Wald)",
  test.no_three_way = "no three-way interaction",

  # ---- measures by name, and what a value means ----
  # x is the value, d and a are the labels of down and across.
  measure.cramers_v = "Cram\u00e9r's V",
  measure.cramers_v_corrected = "Cram\u00e9r's V, bias-corrected",
  measure.phi = "phi",
  measure.contingency_coefficient = "contingency coefficient",
  measure.contingency_coefficient_adjusted = "contingency coefficient, adjusted",
  measure.tschuprow_t = "Tschuprow's T",
  measure.lambda = "lambda",
  measure.goodman_kruskal_tau = "Goodman-Kruskal tau",
  measure.uncertainty = "uncertainty coefficient",
  measure.gamma = "gamma",
  measure.tau_b = "tau-b",
  measure.tau_c = "tau-c",
  measure.somers_d = "Somers' d",
  measure.yule_q = "Yule's Q",
  measure.yule_y = "Yule's Y",
  measure.pearson_r = "Pearson's r",
  measure.spearman_rho = "Spearman's rho",
  measure.kappa = "kappa",
  meaning.cramers_v = function(x, d, a) {
    scale_meaning("Cram\u00e9r's V", x, d, a)
  },
  meaning.cramers_v_corrected = function(x, d, a) {
    scale_meaning("The bias-corrected V", x, d, a)
  },
  meaning.phi = function(x, d, a) {
    sprintf(paste("phi is the correlation of the two answers: one accounts",
                  "for %s of the variance of the other."), whole(x^2))
  },
  meaning.contingency_coefficient = function(x, d, a) {
    sprintf(paste(paste("The contingency coefficient runs from 0 (unrelated),",
                        "but its largest value depends on the size of"),
                  "the table; here it is %s."), format_strength(x))
  },
  meaning.contingency_coefficient_adjusted = function(x, d, a) {
    scale_meaning("The adjusted contingency coefficient", x, d, a)
  },
  meaning.tschuprow_t = function(x, d, a) {
    scale_meaning("Tschuprow's T", x, d, a)
  },
  meaning.lambda_across = function(x, d, a) errors_meaning(x, a, d),
  meaning.lambda_down = function(x, d, a) errors_meaning(x, d, a),
  meaning.lambda_both = function(x, d, a) {
    sprintf(paste(paste("Knowing one of \"%s\" and \"%s\" reduces the errors",
                        "in guessing the other by %s, both directions"),
                  "together."), d, a, whole(x))
  },
  meaning.goodman_kruskal_tau_across = function(x, d, a) {
    proportional_meaning(x, a, d)
  },
  meaning.goodman_kruskal_tau_down = function(x, d, a) {
    proportional_meaning(x, d, a)
  },
  meaning.uncertainty_across = function(x, d, a) {
    sprintf("Knowing \"%s\" removes %s of the uncertainty about \"%s\".", a,
            whole(x), d)
  },
  meaning.uncertainty_down = function(x, d, a) {
    sprintf("Knowing \"%s\" removes %s of the uncertainty about \"%s\".", d,
            whole(x), a)
  },
  meaning.uncertainty_both = function(x, d, a) {
    sprintf("\"%s\" and \"%s\" share %s of their uncertainty.", d, a, whole(x))
  },
  meaning.gamma = function(x, d, a) order_meaning(x, pairs_differing(d, a)),
  meaning.tau_b = function(x, d, a) {
    order_meaning(x,
                  sprintf(paste("the pairs of people who differ on \"%s\" or",
                                "on \"%s\" (the geometric mean of the two)"), d,
                          a))
  },
  meaning.tau_c = function(x, d, a) {
    order_meaning(x,
                  paste("as many pairs of people as can differ on both",
                        "questions in a table of this size"))
  },
  meaning.somers_d_across = function(x, d, a) {
    order_meaning(x, sprintf("the pairs of people who differ on \"%s\"", a))
  },
  meaning.somers_d_down = function(x, d, a) {
    order_meaning(x, sprintf("the pairs of people who differ on \"%s\"", d))
  },
  meaning.somers_d_both = function(x, d, a) {
    order_meaning(x,
                  paste("the pairs of people who differ on one of the two",
                        "questions (the mean of both)"))
  },
  meaning.yule_q = function(x, d, a) order_meaning(x, pairs_differing(d, a)),
  meaning.yule_y = function(x, d, a) {
    sprintf("Yule's Y is what phi would be if all four margins were one half: %s.",
            format_strength(x))
  },
  meaning.pearson_r = function(x, d, a) slope_meaning("scores", x, d, a),
  meaning.spearman_rho = function(x, d, a) slope_meaning("ranks", x, d, a),
  meaning.kappa = function(x, d, a) {
    sprintf("The two answers agree %s of the way from chance agreement to full agreement.",
            whole(x))
  },

  # ---- books and plans ----
  column.table = "Table",
  column.tables = "Tables",
  column.question = "Question",
  column.by = "By",
  column.n = "n",
  column.p = "p",
  column.cramers_v = "V",
  column.v_corrected = "V (corrected)",
  column.each = "Of",
  column.low = "from",
  column.high = "to",
  column.strongest = "Strongest cell",
  column.finding = "Finding",
  numbered = function(number, title) sprintf("Table %s. %s", number, title),
  book.title = "Tables",
  book.chapter = function(number, title) sprintf("%d. %s", number, title),
  book.counts = function(tables, failed, chapters) {
    sprintf("%s %s in %s %s%s.", format_count(tables), plural(tables, "table"),
            format_count(chapters), plural(chapters, "chapter"),
            if (failed) sprintf(", of which %d could not be made", failed) else
              "")
  },
  book.failed = function(reason) sprintf("Not made: %s", reason),
  book.internal = function(reason) {
    sprintf("a fault of the program (%s); please report it", reason)
  },
  book.not_in_data = function(tables) {
    sprintf("%s %s not listed as data: counts are withheld or rounded there.",
            paste(plural(length(tables), "Table", "Tables"),
                  list_some(tables)), plural(length(tables), "is", "are"))
  },
  book.pages = "Pages of this book",
  book.progress = "Tables",
  book.withheld = paste("Counts of this table are withheld or rounded, so its",
                        "figures are not listed."),
  summary.said = function(tests, alpha, significant, part) {
    if (tests == 0) return("No pair of questions was tested.")
    expected <- alpha * tests
    sprintf(paste(paste("%s %s of independence %s made%s. If nothing were",
                        "related, about %s would be significant at %s by"),
                  "chance; after correction over all of them (Benjamini-Hochberg) %s %s."),
            format_count(tests), plural(tests, "test"),
            plural(tests, "was", "were"),
            if (part) " in the whole book" else "",
            if (expected < 10) format_number(expected, 2L - (expected >= 1)) else
              format_count(expected), format_alpha(alpha),
            if (significant) format_count(significant) else "none",
            plural(significant, "is", "are"))
  },
  summary.more = function(rows) sprintf("... and %s more.", format_count(rows)),
  summary.cell = function(down, across, share, overall, percent) {
    if (percent == "total")
      return(sprintf("%s with %s: %s of all", down, across,
                     percent_words(share)))
    if (percent == "row")
      return(sprintf("%s in %s: %s, against %s overall", across, down,
                     percent_words(share), percent_words(overall)))
    sprintf("%s in %s: %s, against %s overall", down, across,
            percent_words(share), percent_words(overall))
  },
  finding.none = function(across) {
    sprintf("No significant difference by %s after correction over the book.",
            list_with_or(across))
  },
  finding.untested = "No test could be made.",
  finding.related = function(across, v, strongest) {
    sprintf("Differs by %s%s%s.", across,
            if (is.na(v)) "" else
              sprintf(" (Cram\u00e9r's V = %s)", format_strength(v)),
            if (is.na(strongest)) "" else sprintf(": %s", strongest))
  },
  front.title = "About these tables",
  front.definitions = "Definitions",
  front.summary = "Which questions are related",
  front.index = "Index of questions",
  front.account = function(records, n, reasons) {
    sprintf(paste("%s %s were read; %s %s can be in the tables%s. Beyond that",
                  "each table leaves out those who did not answer its questions."),
            format_count(records), plural(records, "record"), format_count(n),
            plural(n, "respondent"),
            if (length(reasons))
              paste0(" (left out: ", list_some(reasons), ")") else "")
  },
  front.design = function(weight, strata, stratum, clusters, cluster,
                          replicates) {
    parts <- c(if (!is.null(strata))
                 sprintf("%s strata (%s)", format_count(strata), stratum),
               if (!is.null(clusters))
                 sprintf("%s clusters (%s)", format_count(clusters), cluster),
               if (replicates > 0)
                 sprintf("%s replicate weights", format_count(replicates)))
    if (is.null(weight) && !length(parts))
      return("Respondents are taken as a simple random sample, each counting as one.")
    sprintf("Percentages are %s; tests, intervals and marks follow the sample design%s.",
            if (is.null(weight)) "unweighted" else
              sprintf("weighted by %s", weight),
            if (length(parts)) paste0(": ", list_with_and(parts)) else "")
  },
  front.weights = function(n, effective, clustered) {
    sprintf("The weights are unequal: Kish's effective sample size is %s of %s respondents%s.",
            format_count(effective), format_count(n),
            if (clustered) ", clusters not counted" else "")
  },
  front.repeated = function(ids) {
    sprintf(paste("Duplicate records: %s %s more than once, and every table counts",
                  "such a person as often."), format_count(ids),
            plural(ids, "id occurs", "ids occur"))
  },
  definition.base = "Base",
  definition.base.text = paste(
    "Percentages are of those who answered the questions of a table: \"Respondents\" says",
    "how many people that is, whatever their weights."),
  definition.weight = "Weighted base",
  definition.weight.text = paste(
    "The sum of the weights of those respondents: how many people they stand for. It says",
    "nothing about how sure a figure is; the respondents and the effective base do."),
  definition.test = "Test",
  definition.test.text = function(designed, alpha) {
    sprintf(paste(paste("Whether the answers down and across could be",
                        "unrelated, at the level %s%s. \"Not significant\" is"),
                  "not \"no difference\": a small base can hide one."),
            list_with_or(format_alpha(alpha)),
            if (designed)
              ", as the sample design allows (Rao-Scott, second order)" else "")
  },
  definition.strength = "Cram\u00e9r's V",
  definition.strength.text = paste(
    "How strong an association is, from 0 (unrelated) to 1 (as strongly related as",
    "possible), with its 95% interval. With many respondents a very weak one can be",
    "significant."),
  definition.marks = "Marks",
  definition.marks.text = paste(
    "+ and \u2212 stand beside cells with more or fewer respondents than there would be if",
    "the two questions were unrelated, corrected over the cells of the table; letters and",
    "differences are explained where they are used."),
  definition.many = "Many tests",
  definition.many.text = paste(
    "A book makes so many tests that some are significant by chance. The summary and the",
    "findings use p-values corrected over the whole book (false discovery rate,",
    "Benjamini-Hochberg)."),
  definition.change = "Change",
  definition.change.text = function(waves) {
    sprintf(paste(paste("Percentage points from %s to %s, with a sign where",
                        "it is significant. Clusters of the same name in"),
                  "%s waves are taken to be the same clusters."), waves[1L],
            waves[length(waves)], if (length(waves) > 2L) "several" else "both")
  },
  wave.before = "Before",
  wave.now = "Now",
  wave.nth = function(n) sprintf("Wave %d", n),
  wave_any_change = function(figures) {
    sprintf("Any change over the waves: %s", figures)
  },
  wave_trends = function(answers, slope, low, high, correction, alpha) {
    how <- sprintf("%s over the answers; level %s",
                   name_of("correction", correction), format_alpha(alpha))
    if (!length(answers))
      return(sprintf("No answer rises or falls steadily over the waves (%s)", how))
    sprintf("Linear trend, points a wave: %s (%s)",
            paste(sprintf("%s %s (%s CI %s to %s)", quoted(answers),
                          slope, confidence_words(alpha), low, high),
                  collapse = "; "), how)
  },
  wave_label = "Wave",
  wave_title = function(question, waves) {
    sprintf("%s: from %s to %s", question, waves[1L], waves[length(waves)])
  },
  wave.none = "No comparison with the wave before",
  wave_differs = function(question) {
    sprintf("%s is not of the same kind in all waves", question)
  },
  wave_answers_differ = function(question, new, gone) {
    sprintf("The answers of %s are not the same in all waves%s%s.",
            quoted(question),
            if (length(new))
              sprintf("; only now: %s", list_some(quoted(new))) else "",
            if (length(gone))
              sprintf("; only before: %s", list_some(quoted(gone))) else "")
  },
  wave_lacks = function(questions) {
    sprintf("The wave before has no %s.", list_with_and(quoted(questions)))
  },
  plan.compared = function(waves) {
    sprintf("Each table is compared with %s.",
            list_with_and(waves[-length(waves)]))
  },
  plan.tables = function(tables, chapters) {
    sprintf("%s %s in %s %s:", format_count(tables), plural(tables, "table"),
            format_count(chapters), plural(chapters, "chapter"))
  },
  plan.outputs = "Would be written:",
  section.related = "Which questions are related?",
  column.with = "With",
  related.progress = "Pairs",
  chunks.progress = "Reading",
  chunks.speed = function(file, speed, left) {
    sprintf("%s, %s records a second, %s",
            if (left < 90) sprintf("%.0f s left", left) else
              sprintf("%.0f min left", left / 60),
            format_count(signif(speed, 2L)), file)
  },
  related.ticked = "Ticked",
  related.not_ticked = "Not ticked",
  related.no_values = "no single values",
  related.one_answer = "one answer only",
  related.many_answers = function(answers) {
    sprintf("%s different answers: combine them, or cut a number into bands",
            format_count(answers))
  },
  related.copies = function(question, other) {
    sprintf("%s and %s nearly determine one another.", quoted(question),
            quoted(other))
  },
  related.says = function(question, other) {
    sprintf("%s nearly determines %s.", quoted(question), quoted(other))
  },
  related.apart = "Set apart, since one of the two nearly says the other:",
  related.left_out = "Left out:",
  related.said = function(to, pairs, expected, tests, significant, alpha) {
    sprintf(paste(paste("%s, strongest first. Of %s %s about %s would be",
                        "significant at %s by chance; after correction over"),
                  "all of them (Benjamini-Hochberg) %s %s."),
            if (is.null(to))
              sprintf("%s %s of questions", format_count(pairs),
                      plural(pairs, "pair")) else
              sprintf("%s %s against %s", format_count(pairs),
                      plural(pairs, "question"), quoted(to)),
            format_count(tests), plural(tests, "test"),
            if (expected < 10) format_number(expected, 2L - (expected >= 1)) else
              format_count(expected), format_alpha(alpha),
            if (significant) format_count(significant) else "none",
            plural(significant, "is", "are"))
  },
  related.sure = "significant after correction",
  related.unsure = "not significant",
  related.picture = function(to) {
    sprintf("Questions most associated with %s", quoted(to))
  },
  related.axis = function(alpha) {
    sprintf("Cram\u00e9r's V, V corrected for chance (|), and the %s interval",
            confidence_words(alpha))
  },
  related.field = "How strongly questions are related",
  related.field_key = paste("Cram\u00e9r's V; figures stand where it is",
                            "significant after correction over all pairs"),
  related.picture_alt = function(best) {
    sprintf("Strongest: %s.", paste(best, collapse = "; "))
  },
  cache.unreadable = function(file) {
    sprintf("The book kept in \"%s\" cannot be read and is made anew.", file)
  },
  cache.unwritten = function(folder) {
    sprintf("The book could not be kept in \"%s\" for the next run.", folder)
  },

  # ---- reading, looking, checking ----
  read_said = function(file, said) {
    sprintf("Read %s: %s.", file, paste(said, collapse = ", "))
  },
  read_draft = function(file) {
    sprintf(paste("%s is a draft with guesses and was not applied (move its",
                  "guesses or remove them, or name it as the codebook)"), file)
  },
  read_weight = function(columns) {
    sprintf("the codebook names %s as weight: say so in respondents()",
            paste(columns, collapse = ", "))
  },
  read_above_header = function(lines) {
    shown <- lines[nzchar(trimws(lines))]
    sprintf("%d %s above the header left aside%s", length(lines),
            plural(length(lines), "line", "lines"),
            if (length(shown)) sprintf(" (\"%s\"%s)", cut_short(shown[1L], 60L),
                                       if (length(shown) > 1L) ", ..." else "") else "")
  },
  read_blank_lines = function(n) {
    sprintf("%s blank %s skipped", format_count(n), plural(n, "line"))
  },
  read_separator.tab = "tabs between cells",
  read_separator.semicolon = "semicolons between cells",
  read_separator.bar = "bars between cells",
  read_decimal_commas = "decimal commas",
  read_sheet = function(sheet, of) sprintf("sheet \"%s\" of %d", sheet, of),
  read_numbers_as_text = function(n, column) {
    sprintf("%d %s stored as text in \"%s\"", n, plural(n, "number"), column)
  },
  read_dates_as_text = function(column) {
    sprintf("dates among other cells in \"%s\", read as text", column)
  },
  ids_not_counted = function(column, most) {
    sprintf(paste("Whether ids occur more than once was not looked for: \"%s\"",
                  "has more than %s values."), column, format_count(most))
  },
  no_time_limit = "This user may not set a time limit: queries go without one.",
  look_battery = function(columns, how) {
    sprintf("%s have the same answers. As one table of statements: %s",
            list_with_and(columns), how)
  },
  look_head = function(records, questions, weight) {
    sprintf("%s %s, %s %s%s", format_count(records),
            plural(records, "record"), format_count(questions),
            plural(questions, "question"),
            if (is.null(weight)) "" else sprintf(", weighted by %s", weight))
  },
  look_missing = function(reason) sprintf("missing: %s", reason),
  look_of_all = "of all",
  look_so_far = "so far",
  look_not_single = "no single values, so nothing to count",
  look_not_counted = "no answers that can be counted",
  look_different = function(n) {
    sprintf("%s different %s", format_count(n), plural(n, "value"))
  },
  look_no_values = "no values",
  look_number = function(five, different) {
    sprintf("smallest %s; quartiles %s, %s, %s; largest %s; %s different",
            five[1L], five[2L], five[3L], five[4L], five[5L],
            format_count(different))
  },
  look_type.answers = "answers",
  look_type.ordered = "ordered answers",
  look_type.number = "number",
  look_type.text = "text",
  look_type.ticks = "ticks",
  look_column.answer = "Answer",
  look_column.weighted = "Weighted counts",
  look_column.interval = "95% CI",
  look_list_line = function(what, missing) {
    sprintf("%s, %s missing", what, format_count(missing))
  },
  look_list_hint = paste("Look at one with its name (--question), or search in",
                         "names and titles (--find)."),
  verify_head = function(tables, holds) {
    sprintf("%s of %s published %s %s.", format_count(holds), format_count(tables),
            plural(tables, "table", "tables"), plural(holds, "holds", "hold"))
  },
  verify_line = function(file, table, verdict, detail) {
    detail <- ifelse(nzchar(detail), paste0(": ", sub("[.]?$", ".", detail)), ".")
    sprintf("%s: %s: %s%s", file, table, verdict, detail)
  },
  verify_cell = function(down, across, n, percent, now_n, now_percent) {
    told <- function(n, percent) {
      ifelse(is.na(percent), format_count(n),
             sprintf("%s (%s)", percent_words(percent / 100), format_count(n)))
    }
    if (length(down))
      sprintf("%s in %s was %s, now %s", down, across, told(n, percent),
              told(now_n, now_percent))
  },
  verify_test = function(was, now) sprintf("the test was %s, now %s", was, now),
  verify_differs = function(what) {
    if (!length(what)) return("")
    more <- length(what) - 5L
    paste0(paste(utils::head(what, 5L), collapse = "; "),
           if (more > 0L) sprintf("; and %d more", more) else "", ".")
  },
  verify_gone = function(lines, texts) {
    paste0(paste(sprintf("%s of \"%s\"", texts, lines), collapse = "; "),
           ": written so, and no longer there.")
  },
  latex_letters = function(letters) {
    sprintf(paste("The LaTeX of this machine has no letters for %s: each is an empty box. Install",
                  "xelatex or lualatex with their fonts, or write .docx or .html."),
            list_some(letters))
  },
  verify_many = function(file, tables, verdict) {
    sprintf("%s: %s tables: %s.", file, format_count(tables), verdict)
  },
  verify_print = function(line, column, was, now) {
    told <- function(text) ifelse(is.na(text) | !nzchar(text), "not there", text)
    if (length(line))
      sprintf("\"%s\"%s was %s, now %s", line,
              ifelse(nzchar(column), sprintf(" in \"%s\"", column), ""), told(was), told(now))
  },
  verify_said = function(was, now) {
    only_in <- function(one, other) quoted(paste(one[!one %in% other], collapse = " "))
    sprintf("the lines below were %s, now %s", only_in(was, now), only_in(now, was))
  },
  verify_seeded = "its counts are rounded by a seed that only its author knows",
  verify_no_sheet = paste("there is no such table now; changes need the records of the wave",
                          "before as well"),
  verify_without = function(files) {
    sprintf("Without tables as data, so nothing to hold: %s.", list_some(files))
  },
  recheck_nothing = "No total and no claim to check.",
  recheck_verdict = function(held, of) {
    if (held == of && of == 1L)
      return("The counts bear out the one claim or total.")
    if (held == of)
      return(sprintf("The counts bear out all %d claims and totals.", of))
    sprintf("The counts do not bear out %d of %d claims and totals.",
            of - held, of)
  },
  recheck_line = function(holds, claim, claimed, worked_out, remark) {
    sprintf("%s%s: claimed %s, worked out %s%s",
            ifelse(holds, "agrees\u00a0\u00a0", "DIFFERS\u00a0"), claim,
            claimed, worked_out,
            ifelse(is.na(remark), "", sprintf(" (%s)", remark)))
  },
  line_named = function(side, name) sprintf("%s %s", side, quoted(name)),
  recheck_total = function(line, of) sprintf("%s of %s", line, of),
  recheck_df = "degrees of freedom",
  recheck_statistic = "statistic",
  recheck_it_is = function(test) sprintf("it is the %s", test),
  recheck_percentages.column = "column percentages",
  recheck_percentages.row = "row percentages",
  recheck_percentages.total = "total percentages",
  recheck_percentage.column = "column percentage",
  recheck_percentage.row = "row percentage",
  recheck_percentage.total = "total percentage",
  recheck_cell = function(percentage, down, across) {
    sprintf("%s, %s by %s", percentage, down, across)
  },
  recheck_no_percentages = "the table has no percentages beside its counts",
  recheck_cells = function(n) sprintf("%d %s", n, plural(n, "cell")),
  recheck_all_agree = "all agree",
  recheck_they_are = function(percentages) sprintf("they are %s", percentages),
  counts_impossible = function(columns) {
    sprintf(paste("No whole counts give these percentages: the print is",
                  "inconsistent in %s."), columns)
  },
  counts_tables = function(tables, one, columns) {
    sprintf("%s %s of counts could have given these percentages (%s).", tables,
            if (one) "table" else "tables", columns)
  },
  counts_extremes = function(statistic, v, p) {
    sprintf("Chi-square %s, Cram\u00e9r's V %s, p %s.", statistic, v, p)
  },
  counts_searched = paste("Too many to go through: the extremes come from a search and may",
          "be a little short of the true ones."),
  codebook_weight = "a sampling weight",
  codebook_guess_missing = function(values) sprintf("guess: %s may mean missing", values),
  codebook_guess_order = function(order) sprintf("guess: ordered as %s", order),
  style_head = function(name) sprintf("House style (%s)", name),

  # ---- statements with the same answers ----
  base.statements = function(question, ticks) {
    "Row percentages: of those who answered each statement"
  },
  null_statements = function(down, across, within) {
    sprintf("that all statements of %s are answered alike%s", down, within)
  },
  key_statements = function(rule) {
    sprintf(paste("+ more, \u2212 fewer than expected if all statements were answered",
                  "alike (%s)"), rule)
  },
  key_statements_none = function(rule) {
    sprintf(paste("No cell departs from what is expected if all statements were",
                  "answered alike (%s)"), rule)
  },
  who_statements = function(down, across, within, n, design, left) {
    sprintf("The statements of %s%s were answered by %s %s%s%s.", down, within,
            format_count(n), plural(n, "respondent"), design, left)
  },
  statements_differ = function(down, across, within, level) {
    sprintf("The statements of \"%s\" are answered differently%s%s", down, within, level)
  },
  statements_alike = function(down, across, within, level) {
    sprintf("The statements of \"%s\" are not answered significantly differently%s%s",
            down, within, level)
  },

  # ---- beside a test ----
  test_why = function(name, text) sprintf("%s: %s", name, text),
  test_note = function(name, text) sprintf("%s: %s", name, text),

  # ---- corrected for chance ----
  corrected_for_chance = function(value) sprintf("%s corrected for chance", value),
  explains.across = "across explains down",
  explains.down = "down explains across",

  # ---- few clusters ----
  clusters_of_group = function(answers, clusters) {
    sprintf(paste("Few clusters, so that intervals are wide and rest on little:",
                  "%s."), paste(sprintf("%s (%d)", answers, clusters),
                                collapse = ", "))
  },
  brief.clusters_of_group = function(answers, clusters) {
    sprintf("Few clusters: %s.",
            paste(sprintf("%s (%d)", answers, clusters), collapse = ", "))
  },
  means_one_cluster = "a column lives in one cluster, which says nothing of others"
)

# ---- sentences that several measures share ----

whole <- function(x) percent_words(x, 0L)

bases_words <- function(answers, n) {
  answers[answers == ""] <- words("whole_table")
  list_some(sprintf("%s (%s)", answers, format_count(n)))
}

# "each island", "each item ticked in Reasons": what percentages are of. A name
# of few words is written as in a sentence.
each_of <- function(question, ticks) {
  if (ticks) return(sprintf("each item ticked in %s", question))
  if (grepl("^[[:alpha:]][[:lower:]]+( [[:lower:]]+)?$", question))
    return(sprintf("each %s%s", tolower(substr(question, 1L, 1L)),
                   substring(question, 2L)))
  sprintf("each answer to %s", question)
}

scale_meaning <- function(name, x, d, a) {
  sprintf(paste("%s runs from 0 (\"%s\" and \"%s\" are unrelated) to 1 (as",
                "strongly related as possible); here it is %s."), name, d, a,
          format_strength(x))
}

errors_meaning <- function(x, knowing, guessing) {
  sprintf("Knowing \"%s\" reduces the errors in guessing \"%s\" by %s.",
          knowing, guessing, whole(x))
}

proportional_meaning <- function(x, knowing, guessing) {
  sprintf(paste("Guessing \"%s\" in proportion to its shares goes wrong %s",
                "less often when \"%s\" is known."), guessing, whole(x),
          knowing)
}

pairs_differing <- function(d, a) {
  sprintf("the pairs of people who differ on \"%s\" and on \"%s\"", d, a)
}

order_meaning <- function(x, pairs) {
  if (x == 0)
    return(sprintf("Among %s, the same order occurs as often as the opposite.",
                   pairs))
  ways <- if (x > 0) c("same", "opposite") else c("opposite", "same")
  sprintf("%s association: among %s, the %s order outnumbers the %s by %s of those pairs.",
          if (x > 0) "Positive" else "Negative", pairs, ways[1L], ways[2L],
          whole(abs(x)))
}

slope_meaning <- function(what, x, d, a) {
  if (x == 0)
    return(sprintf("The %s of \"%s\" and \"%s\" do not rise or fall together.",
                   what, d, a))
  sprintf(paste(paste("The %s of \"%s\" and \"%s\" %s: %s on a scale from -1",
                      "to 1, and one accounts for %s of the variance"),
                "of the other."), what, d, a,
          if (x > 0) "rise together (a positive association)" else
            "go in opposite directions (a negative association)",
          format_strength(x), whole(x^2))
}

# "0.013", "< 0.001": p without its name.
bare_p <- function(p) {
  ifelse(is.na(p), "", sub("^= ", "", trimws(format_p(p, ""))))
}
