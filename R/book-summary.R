# One row a pair of questions: its test, strength and strongest cell; and one
# row a question, for the index.

# The rows of one table of a book: a pair of questions (and answer of each) a
# row; of a question alone, one without test.
# `shared` is how many conditions all tables of the book have: those beyond are the
# table's own, and tell it from others of the same questions.
pairs_of_table <- function(x, number, shared = 0L) {
  if (guards(x$layout)) return(withheld_rows(x, number))
  rows <- unlist(lapply(single_tables(x), function(one) {
    tests <- tests_of(one)
    strength <- if (has(one, "pair")) cramers_v_in(one)
    lapply(seq_along(one$layers), function(k) {
      pair_row(one, k, headline_of(tests[[k]]), strength[[k]], number, shared)
    })
  }), recursive = FALSE)
  bind_frames(rows)
}

# Of a guarded table nothing is listed but what it is of.
withheld_rows <- function(x, number) {
  bind_frames(lapply(single_tables(x), function(one) {
    down <- facts_of(one)$down
    row <- replace(lapply(pair_row_none(), function(column) {
      column[NA_integer_]
    }), "apart", "")
    list2DF(utils::modifyList(row,
                              list(table = number, question = down$name,
                                   title = down$label,
                                   finding = words("book.withheld"))))
  }))
}

# The base that a table has of its own; NA where it has none.
own_base <- function(facts, shared) {
  own <- facts$among[seq_along(facts$among) > shared]
  if (!length(own)) return(NA_character_)
  paste(vapply(own, function(one) {
    if (one$code == "base_called") as.character(one$arguments$base) else
      sub("^[^:]*: ", "", in_words(one))
  }, ""), collapse = "; ")
}

pair_row <- function(x, k, test, v, number, shared) {
  layer <- x$layers[[k]]
  facts <- facts_of(x)
  alone <- !has(x, "pair")
  cell <- if (!alone) strongest_cell(x, k)
  value <- function(x) x %||% NA_real_
  list2DF(list(
    table = number, question = facts$down$name, title = facts$down$label,
    across = if (alone) NA_character_ else facts$across$name,
    by = if (alone) NA_character_ else facts$across$label,
    each = layer$each, base = own_base(facts, shared), n = layer$base$n,
    test = test$test %||% NA_character_,
    p = value(test$p),
    cramers_v = value(v$estimate), corrected = value(v$corrected),
    low = value(v$low), high = value(v$high),
    strongest = cell %||% NA_character_,
    finding = sentence_case(paragraph_of(x, k, "sentence")),
    apart = if (!has(x, "strength")) "" else
      apart_of(layer, facts$down$label, facts$across$label)))
}

#' @rdname book
#' @param object (book)
#' @return `summary()`: data frame, a row a test: of two questions, of one against
#'   given shares, of statements: `table` (its number), `question`, `title`,
#'   `across`, `by`, `each`, `base` (that a table has of its own), `n`, `test`, `p`,
#'   `p_corrected` (Benjamini-Hochberg over the book), `cramers_v`, the
#'   same `corrected` for chance, `low`, `high`, `strongest` and `finding` (in
#'   words), `apart` (of a pair of which one nearly says the other, which is no
#'   finding and stands last). Units: V,
#'   its interval and p-values 0-1. Sort it as any data frame. The attributes
#'   `tests` and `significant` count the tests of the whole book and those with
#'   a corrected p of at most `alpha`, the level of the option.
#' @export
summary.fairlattice_book <- function(object, ...) {
  nothing_else(...)
  rows <- in_book(object, all_rows(object))
  # whatever was tested: also one question against given shares, and statements
  rows <- rows[!is.na(rows$across) | !is.na(rows$p), ]
  # a by b and b by a, or the same pair in two tables, are one test
  across <- ifelse(is.na(rows$across), rows$question, rows$across)
  pair <- paste(pmin(rows$question, across), pmax(rows$question, across), rows$each, rows$n,
                signif(rows$p, 8L), sep = "\r")
  first <- !duplicated(pair) & rows$apart == ""
  corrected <- correct(rows$p[first], "benjamini_hochberg")
  rows$p_corrected <-
    ifelse(rows$apart == "", corrected[match(pair, pair[first])], NA)
  corrected <- corrected[!is.na(corrected)]
  rows <- rows[rows$table %in% numbers_of_tables(object$tables), ]
  columns <- c("table", "question", "title", "across", "by", "each", "base", "n",
               "test", "p", "p_corrected", "cramers_v", "corrected", "low", "high",
               "strongest", "finding", "apart")
  rownames(rows) <- NULL
  new_result(rows[order(rows$p_corrected, -rows$cramers_v, na.last = TRUE), columns],
             "summary", tests = length(corrected), alpha = setting("alpha"),
             significant = sum(corrected <= setting("alpha")),
             part = !is.null(object$whole))
}

# How many tests were made, and what chance alone would find.
tests_made <- function(found) {
  attribute <- function(name) attr(found, name, exact = TRUE)
  words("summary.said", tests = attribute("tests"), alpha = attribute("alpha"),
        significant = attribute("significant"), part = attribute("part"))
}

numbers_of_tables <- function(tables) {
  vapply(tables, function(one) one$number, 0L)
}

# The rows of the whole book, whichever of its tables are left.
all_rows <- function(b) {
  tables <- b$whole %||% b$tables
  once(b$kept, "rows", numbers_of_tables(tables), {
    made <- Filter(function(one) is.null(one$failure), tables)
    bind_frames(lapply(made, function(one) {
      pairs_of_table(one$table, one$number, length(b$front$among))
    })) %||% pair_row_none()
  })
}

pair_row_none <- function() {
  text <- character()
  number <- numeric()
  list2DF(list(table = integer(), question = text, title = text, across = text,
               by = text, each = text, base = text, n = number, test = text, p = number,
               cramers_v = number, corrected = number, low = number, high = number,
               strongest = text, finding = text, apart = text))
}

# "Main heating (Tarn; residents under 65)"
with_own_base <- function(rows) {
  more <- ifelse(is.na(rows$each), ifelse(is.na(rows$base), "", rows$base),
                 ifelse(is.na(rows$base), rows$each, paste0(rows$each, "; ", rows$base)))
  ifelse(nzchar(more), paste0(rows$title, " (", more, ")"), rows$title)
}

#' @export
parts_of.fairlattice_summary <- function(x, width = Inf, most = Inf, ...) {
  nothing_else(...)
  data <- visible_in(as.data.frame(x))
  shown <- utils::head(data, most)
  bare <- function(value, format) ifelse(is.na(value), "", format(value))
  columns <- list(format_count(shown$table),
                  with_own_base(shown), bare(shown$by, identity),
                  format_count(shown$n), bare_p(shown$p),
                  bare_p(shown$p_corrected),
                  v_shown(shown$cramers_v, shown$corrected),
                  ifelse(is.na(shown$low), "",
                         interval_words(shown$low, shown$high,
                                        format_strength)),
                  bare(shown$strongest, identity))
  names(columns) <- name_of("column",
                            c("table", "question", "by", "n", "p",
                              "p_corrected", "v_corrected", "interval",
                              "strongest"))
  if (width < 120) columns <- columns[-length(columns)]
  in_parts(said_part(tests_made(x)), gap_part,
           if (nrow(shown))
             columns_part(columns,
                          left = names(columns) %in%
                            name_of("column",
                                    c("question", "by", "strongest"))),
           said_part(if (nrow(data) > nrow(shown))
                       words("summary.more", rows = nrow(data) - nrow(shown))),
           if (any(nzchar(data$apart))) gap_part,
           if (any(nzchar(data$apart)))
             said_part(c(words("related.apart"),
                         paste0("  ", setdiff(unique(data$apart), ""))),
                       exdent = 4L))
}

# ---- the index of questions ----

# A row a question: its tables, base and finding. The finding is that of its
# strongest association that is significant after correction over the book;
# without one, that there is none.
index_of <- function(b) {
  rows <- all_rows(b)
  rows <- rows[rows$table %in% numbers_of_tables(b$tables), ]
  found <- summary(b)
  names <- unique(rows$question)
  at <- match(names, rows$question)
  rows_of <- function(frame, name) frame[frame$question == name, ]
  each <- function(work) vapply(names, work, "", USE.NAMES = FALSE)
  list2DF(list(
    question = rows$title[at],
    tables = each(function(name) {
      paste(unique(rows_of(rows, name)$table), collapse = ", ")
    }),
    n = rows$n[at],
    finding = each(function(name) {
      finding_of(rows_of(found, name), rows_of(rows, name))
    })))
}

finding_of <- function(pairs, rows) {
  if (!nrow(pairs)) return(rows$finding[1L])
  if (all(nzchar(pairs$apart))) return(pairs$apart[1L])
  best <- best_pair(pairs)
  if (!nrow(best)) {
    tested <- unique(pairs$by[!is.na(pairs$p)])
    return(if (length(tested)) words("finding.none", across = tested) else
             words("finding.untested"))
  }
  words("finding.related", across = best$by, v = best$cramers_v,
        strongest = best$strongest)
}

# The strongest of those that are significant after correction: one row, or
# none.
best_pair <- function(pairs) {
  sure <- pairs[which(pairs$p_corrected <= setting("alpha")), ]
  utils::head(sure[order(-sure$cramers_v, na.last = TRUE), ], 1L)
}

# The finding of one table of the book, in a sentence.
finding_of_table <- function(one, b, found) {
  pairs <- found[found$table == one$number, ]
  if (nrow(pairs)) return(finding_of(pairs, pairs))
  rows <- all_rows(b)
  rows$finding[rows$table == one$number][1L]
}

# ---- what is true of all tables ----

# Who was asked: the figures that are told once at the front.
front_of <- function(survey, across) {
  survey <- grounded(survey, intersect(across, names(survey$data)))
  base <- base_of_survey(survey)
  left <- survey$reasons
  left$records <-
    records_by(survey, survey$aside %||% integer(nrow(survey$data)), nrow(left))
  left$question <- rep("", nrow(left))
  left <- rbind(survey$before[survey$before$records > 0, c("code", "detail", "records")],
                left[left$records > 0, c("code", "detail", "records")])
  inside_twice <- if (is.null(survey$aside)) survey$repeats else
    survey$repeats[survey$aside[survey$repeats] == 0L]
  units <- survey$design$units
  prepared <- unlist(lapply(intersect(across, names(survey$data)),
                            function(name) {
                              history_line(
                                attr(survey$data[[name]], "history",
                                     exact = TRUE),
                                title_of(survey$data[[name]], name))
                            }))
  list(base = base, prepared = prepared, left_out = left,
       records = records_stood_for(survey) + sum(survey$before$records),
       roles = survey$roles, calibrated_to = margins_of(survey)$labels,
       imputations = survey$design$imputations,
       among = survey$among, source = survey$source,
       replicates = length(survey$replicates), nested = survey$notes$nested_clusters,
       strata = if (survey$design$stratified) length(unique(units$stratum)),
       clusters = if (survey$design$clustered) first_stage_units(survey$design),
       repeated = if (length(inside_twice))
         sum(duplicated(survey$repeat_id[match(inside_twice, survey$repeats)])))
}

# Everybody who can be in a table.
base_of_survey <- function(survey) {
  inside <- if (is.null(survey$aside)) TRUE else survey$aside == 0L
  records <-
    records_by(survey, rep_len(as.integer(inside), nrow(survey$data)), 1L)
  within <- function(values) {
    if (isTRUE(inside) || is.null(values)) values else values[inside]
  }
  count <- within(survey$count)
  weight <- within(survey$weight)
  times <- function(w) if (is.null(count)) w else w * count
  n <- if (is.null(count)) records else sum(count)
  if (is.null(weight)) return(base_of(records, n, n, n))
  if (!is.null(survey$sums))
    return(base_of(records, n, sum(within(survey$sums$w)),
                   sum(within(survey$sums$w2))))
  base_of(records, n, sum(times(weight)), sum(times(weight^2)))
}

# Who was asked, as lines of text.
front_lines <- function(b) {
  front <- b$front
  roles <- front$roles
  base <- front$base
  left <- front$left_out
  reasons <- if (nrow(left))
    words("account_reason",
          reason = reason_words(left$code, rep("", nrow(left)), left$detail),
          records = left$records)
  c(words("front.account", records = front$records, n = base$n,
          reasons = reasons),
    if (length(front$among)) all_in_words(front$among),
    words("front.design", weight = roles$weight, strata = front$strata,
          stratum = roles$stratum, clusters = front$clusters,
          cluster = roles$cluster, replicates = front$replicates),
    if (!is.null(roles$weight))
      words("front.weights", n = base$n, effective = base$effective,
            clustered = !is.null(front$clusters)),
    if (isTRUE(front$repeated > 0))
      words("front.repeated", ids = front$repeated),
    if (length(front$nested))
      words("brief.nested_clusters", clusters = front$nested),
    words("rounding_sum"),
    front$prepared,
    if (!is.null(front$source$file))
      words("source_line", file = front$source$file, dated = front$source$dated,
            sha256 = source_hash(front$source), records = front$records,
            weight = roles$weight, stratum = roles$stratum,
            cluster = roles$cluster, replicates = NULL,
            calibrated_to = front$calibrated_to,
            imputations = front$imputations,
            version = program_version()))
}

# What is said at the front is not said again under every table.
said_at_front <- c("repeated_ids", "unequal_weights", "nested_clusters")

# Bases, tests and marks, defined once.
definition_lines <- function(b) {
  weighted <- !is.null(b$front$roles$weight)
  designed <- weighted || !is.null(b$front$strata) ||
              !is.null(b$front$clusters) || b$front$replicates > 0
  alpha <- unique(unlist(lapply(b$tables, function(one) {
    if (!is.null(one$table))
      vapply(single_tables(one$table), function(x) x$choices$alpha, 0)
  })))
  list(labels = name_of("definition",
                        c("base", if (weighted) "weight", "test", "strength",
                          "marks", "many", if (length(b$called)) "change")),
       texts = c(words("definition.base.text"),
                 if (weighted) words("definition.weight.text"),
                 words("definition.test.text", designed = designed,
                       alpha = alpha), words("definition.strength.text"),
                 words("definition.marks.text"), words("definition.many.text"),
                 if (length(b$called))
                   words("definition.change.text", waves = b$called)))
}
