# Tables as JSON, the contract that other programs build on, and back.

# Version 2. What is said is an object of code, arguments and text.

# The columns of a cell, of an answer or (`sums`) of a net or everybody.
cell_columns <- c(each = "t", down = "t", across = "t", n = "n", weighted = "n",
                  row_percent = "n", column_percent = "n", total_percent = "n",
                  row_low = "n", row_high = "n", column_low = "n",
                  column_high = "n", total_low = "n", total_high = "n",
                  row_se = "n", row_cv = "n", row_deff = "n", column_se = "n",
                  column_cv = "n", column_deff = "n", total_se = "n",
                  total_cv = "n", total_deff = "n", row_missing_information = "n",
                  column_missing_information = "n", total_missing_information = "n",
                  weighted_low = "n",
                  weighted_high = "n", weighted_se = "n", weighted_cv = "n",
                  weighted_deff = "n",
                  expected = "n", residual = "n", pearson_residual = "n",
                  adjusted_residual = "n", p = "n", p_corrected = "n",
                  contribution = "n", share_of_statistic = "n", mark = "t")

# The columns of every part, and whether they are text ("t"), numbers ("n"),
# true/false ("l") or said ("s").
table_contract <- list(
  left_out = c(code = "t", question = "t", detail = "t", records = "n"),
  layers = c(each = "t", n = "n", weighted = "n", effective = "n", df = "n",
             critical = "n"),
  cells = cell_columns,
  sums = c(cell_columns, down_net = "l", across_net = "l"),
  margin = c(each = "t", category = "t", n = "n", weighted = "n",
             percent = "n"),
  categories = c(code = "t", label = "t"),
  headings = c(outer = "t", inner = "t"),
  tests = c(each = "t", test = "t", statistic = "n", df = "n", df_error = "n",
            p = "n", p_se = "n", base = "n", headline = "l", why = "s",
            note = "s"),
  strength = c(each = "t", measure = "t", explains = "t", estimate = "n",
               corrected = "n", se = "n", low = "n", high = "n", p = "n", interval = "s",
               shown = "l", note = "s"),
  items = c(each = "t", item = "t", by = "t", test = "t", statistic = "n",
            df = "n", df_error = "n", p = "n", p_corrected = "n",
            cramers_v = "n", low = "n", high = "n", note = "s"),
  cautions = c(each = "t", severity = "t", what = "s")
)

# What files that were written earlier do not have, or tables of data that are not imputed.
later_columns <- c("corrected", paste0(c("row", "column", "total"), "_missing_information"),
                   "weighted_low", "weighted_high",
                   outer(c("row", "column", "total", "weighted"),
                         c("se", "cv", "deff"), paste, sep = "_"))

# Texts that are one of a few.
contract_values <- list(explains = c("both", "across", "down"),
                        mark = c("", "more", "fewer"), severity = severities)

json_of <- function(x) {
  facts <- facts_of(x)
  check_listed(x)
  facts$down$summed <- facts$across$summed <- facts$each$summed <- NULL
  if (has(x, "records")) facts$source$sha256 <- file_checksum(x)
  question <- function(q) {
    if (is.null(q)) return(NULL)
    nets <- Map(function(label, answers) {
      list(label = label, answers = as.list(answers))
    }, names(q$nets), q$nets)
    q["nets"] <- list(if (length(nets)) unname(nets)) # only where there are any
    may_lack <- names(q) %in% c("scores", "headings", "shares") & !lengths(q)
    q <- q[!(may_lack | names(q) == "nets" & !length(nets))]
    replace(q, "history", list(lapply(q$history, said_json)))
  }
  left <- facts$base$left_out
  base <- replace(facts$base, "left_out",
                  list(cbind(left, text = left_out_words(left))))
  items <- items_of(x)
  cautions <- cautions_of(x)
  parts <- list(base = base, layers = layers_frame(x), cells = cells_frame(x),
                sums = sums_frame(x),
                margins = list(down = margin_frame(x, "down"),
                               across = margin_frame(x, "across")),
                tests = json_rows(x, tests_of(x)),
                strength = json_rows(x, strength_of(x, "all")),
                cautions = c(lapply(cautions$whole, caution_json,
                                    each = NA_character_),
                             unlist(Map(function(layer, found) {
                               lapply(found, caution_json, each = layer$each)
                             }, x$layers, cautions$layers), recursive = FALSE)))
  if (!is.null(items[[1L]])) parts$items <- json_rows(x, items)
  json_text(c(
    list(format = "fairlattice-table", version = 2L, title = title_shown(x),
         language = setting("language"),
         software = list(name = "fairlattice",
                         version = own_version()),
         source = facts$source, down = question(facts$down),
         across = question(facts$across), each = question(facts$each),
         design = facts$design,
         among = if (length(facts$among)) lapply(facts$among, said_json),
         settings = x$choices[stored_choices()], made = made_json(x),
         digest = numbers_digest(parts)), parts, list(write_up = write_up(x))))
}

# How the table was made of its records, as a plan says it: who was asked, and what
# was done step by step. NULL where that is not known.
made_json <- function(x) {
  made <- if (has(x, "records")) x$tally$facts$made else x$facts$made
  if (is.null(made)) return(NULL)
  if (has(x, "records")) steps_json(made) else made
}

steps_json <- function(made) {
  steps <- lapply(made$steps, function(step) {
    stats::setNames(list(c(step$with, list())), step$verb)
  })
  list(asked = if (length(made$asked)) made$asked, steps = steps)
}

# What a file shows of its tables stands beside them (R/show-printed.R).
printed_format <- "fairlattice-printed"

is_printed <- function(raw) is.list(raw) && identical(raw$format, printed_format)

# How a book was made (R/book-recipe.R).
book_format <- "fairlattice-book"

is_recipe <- function(raw) is.list(raw) && identical(raw$format, book_format)

# A result that goes along with tables: its rows, and what it says.
json_of_result <- function(entry) {
  said <- unlist(lapply(entry$parts, function(part) {
    if (part$kind == "said") part$text[nzchar(part$text)]
  }))
  json_text(list(format = "fairlattice-result", version = 2L,
                 result = if (entry$kind == "text") "write_up" else
                   if (is.null(entry$x)) "piece" else
                     sub("fairlattice_", "", class(entry$x)[1L]),
                 title = entry$title, frames = entry$frames,
                 text = as.list(said)))
}

check_listed <- function(x) {
  if (!has(x, "answers"))
    stop_input(c(tells("table_number_no_cells_list"),
                 i = tells("means_figures_data_frame")), "format", call = NULL)
}

# Rows of every layer, with the answer of `each` in front.
json_rows <- function(x, by_layer) {
  unlist(Map(function(layer, rows) {
    lapply(unname(rows), function(row) {
      for (name in intersect(said_columns, names(row))) row[name] <-
        list(said_json(row[[name]]))
      c(list(each = layer$each), row)
    })
  }, x$layers, by_layer), recursive = FALSE)
}

caution_json <- function(one, each) {
  list(each = each, severity = one$severity, what = said_json(one$what))
}

# A code, its arguments and its text; arguments may be said themselves.
said_json <- function(what) {
  if (is.null(what)) return(NULL)
  arguments <- lapply(what$arguments, function(value) {
    if (is_said(value)) said_json(value) else value
  })
  list(code = what$code,
       arguments = if (length(arguments)) arguments else
         stats::setNames(list(), character()), text = in_words(what))
}

# Lists with names are objects, others lists, data frames lists of their rows; a vector of one is
# single, what is missing null. Numbers have as many digits as bring the same number back.
json_text <- function(x) json_text_kernel(x, readable)

#' Read a table back
#'
#' Reads what [publish()] wrote as JSON, version 1 or 2, and the tables that
#' travel as data in its pages, Word documents, workbooks and slides. A table
#' prints the same and gives the same figures; since the records are gone,
#' nothing can be worked out anew (another level, another correction): asking
#' for that is an error. How it was laid out is not kept.
#'
#' @param path (string) A file with one table or several: `.json`, `.html`,
#'   `.docx`, `.xlsx` or `.pptx`.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return A crosstab, or a list of crosstabs. Results that were published along
#'   with them stand in the list as data frames (or lists of data frames),
#'   paragraphs as text.
#' @section Errors: `fairlattice_error_no_file`;
#'   `fairlattice_error_not_a_table`, naming the part that is missing.
#' @export
#' @examples
#' file <- tempfile(fileext = ".json")
#' publish(crosstab(demo_records(), down = ferry, across = island), file)
#' read_tables(file)
read_tables <- function(path, ...) {
  nothing_else(...)
  call <- environment()
  check_file(path, call)
  stop_table <- function(...) {
    stop_input(c(...), "not_a_table", path = path, call = call)
  }
  raw <- parse_json(table_text(path, stop_table, call), function(why) {
    stop_table(tells("file_is_not_json", basename(path)), x = why)
  })
  if (!is.list(raw) || !length(raw))
    stop_table(tells("json_but_holds_no_table", basename(path)))
  if (is.null(names(raw))) {
    if (any(vapply(raw, is_recipe, NA)))
      stop_table(tells("book_holds_no_tables", basename(path)),
                 i = tells("book_data_is_output"))
    shown <- vapply(raw, is_printed, NA)
    raw <- raw[!shown]
    if (!any(shown) || length(raw) > 1L)
      return(lapply(raw, entry_from_json, file = basename(path),
                    stop_table = stop_table))
    raw <- raw[[1L]]
  }
  entry_from_json(raw, basename(path), stop_table)
}

# The JSON of a file: the file itself, or what travels in it.
table_text <- function(path, stop_table, call) {
  ending <- file_ending(path)
  if (!ending %in% c("html", "docx", "xlsx", "pptx")) return(text_of(path))
  if (ending != "html")
    need_package("xml2", tells("to_read_tables"), call)
  page <- if (ending == "html") text_of(path)
  if (!is.null(page) && !validUTF8(page))
    stop_table(tells("not_utf_8_text_changed", basename(path)))
  text <- if (is.null(page)) data_in_package(path, call) else data_in_page(page)
  if (is.null(text))
    stop_table(tells("holds_no_tables_data", basename(path)),
               i = tells("those_fair_lattice_hold_but"))
  text
}

data_in_page <- function(text) {
  text <- paste(text, collapse = "\n")
  from <- regexpr(sprintf("id=\"%s\">", html_data_id), text, fixed = TRUE)
  if (from < 0L) return(NULL)
  # substring() would stop after a million
  rest <- substr(text, from + attr(from, "match.length"), nchar(text))
  substr(rest, 1L, regexpr("</script>", rest, fixed = TRUE) - 1L)
}

html_data_id <- "fair-lattice-tables"

# A table, or a result that was published along with it.
entry_from_json <- function(raw, file, stop_table) {
  if (!is.list(raw) || !identical(raw$format, "fairlattice-result"))
    return(table_from_json(raw, file, stop_table))
  if (identical(raw$result, "write_up")) return(as.character(unlist(raw$text)))
  frames <-
    lapply(raw$frames, result_from_json, file = file, stop_table = stop_table)
  if (length(frames) == 1L) frames[[1L]] else frames
}

result_from_json <- function(rows, file, stop_table) {
  if (!is.list(rows) || !all(vapply(rows, is.list, NA)))
    stop_table(tells("frame_result_not_list_rows", file))
  names <- unique(unlist(lapply(rows, names)))
  columns <- lapply(names, function(name) {
    unlist(lapply(rows, function(row) {
      value <- row[[name]]
      if (is.null(value)) NA else if (is.list(value))
        paste(unlist(value), collapse = "; ") else value
    }))
  })
  new_result(list2DF(stats::setNames(columns, names), nrow = length(rows)),
             "read")
}

table_from_json <- function(raw, file, stop_table) {
  version <- table_version(raw, file, stop_table)
  if (version == 1) raw <- from_version_1(raw)
  parts <- parts_from_json(raw, file, stop_table)
  facts <- facts_from_json(raw, file, stop_table)
  settings <- settings_from_json(raw$settings, file, stop_table)
  if (version == 2)
    check_adds_up(list(parts = parts, facts = facts, settings = settings,
                       raw = raw), file, stop_table)
  of_each <- function(rows, each) {
    unname(Filter(function(row) identical(row$each, each), rows))
  }
  layers <- lapply(seq_len(nrow(parts$layers)), function(k) {
    stored_layer(parts, k, facts, of_each)
  })
  new_stored_crosstab(facts, settings, layers,
                      stored_cautions(parts, is.null(facts$each), of_each))
}

# Which version of the format a file has, after a look whether it has all parts.
table_version <- function(raw, file, stop_table) {
  if (!identical(raw$format, "fairlattice-table"))
    stop_table(tells("json_but_not_table_fair", file),
               i = tells("format_fairlattice_table"))
  # what is no number is another version
  version <- suppressWarnings(as.numeric(unlist(raw$version)))
  if (length(version) != 1L || !version %in% 1:2)
    stop_table(tells("version_table_format_program_reads", file,
                     quote_value(raw$version)))
  lists <- c("down", "across", "settings", "base", "layers", "cells",
             "margins", "tests", "strength", "cautions")
  absent <- setdiff(c(lists, "write_up"), names(raw))
  if (length(absent)) stop_table(tells("key_has_no", file, absent[1L]))
  for (part in lists) if (!is.list(raw[[part]]))
    stop_table(tells("part_is_not_what", file, part))
  sides <- setdiff(c("down", "across"), names(raw$margins))
  if (length(sides)) stop_table(tells("margins_no", file, sides[1L]))
  version
}

# Cells, sums and results, each as its contract says.
parts_from_json <- function(raw, file, stop_table) {
  frame <- function(rows, part) {
    frame_from_json(rows, table_contract[[part]], part, file, stop_table)
  }
  rows <- function(part) {
    rows_from_json(raw[[part]], table_contract[[part]], part, file, stop_table)
  }
  list(layers = frame(raw$layers, "layers"), cells = frame(raw$cells, "cells"),
       sums = if (length(raw$sums)) frame(raw$sums, "sums"),
       margins = lapply(raw$margins, frame, part = "margin"),
       tests = rows("tests"), strength = rows("strength"),
       items = if (!is.null(raw$items)) rows("items"),
       cautions = rows("cautions"))
}

# What the table is of.
facts_from_json <- function(raw, file, stop_table) {
  says <- function(what, part) {
    if (!is_said_json(what))
      stop_table(tells("what_says_no_code_text", file, part))
    said_from_json(what, part, file, stop_table)
  }
  frame <- function(rows, part) {
    frame_from_json(rows, table_contract[[part]], part, file, stop_table)
  }
  question <- function(part) {
    q <- raw[[part]]
    if (is.null(q)) return(NULL)
    for (key in c("name", "label")) {
      if (!is.character(q[[key]]) || length(q[[key]]) != 1L)
        stop_table(tells("part_has_no_text", file, part, key))
    }
    numbers <- function(key) if (length(q[[key]])) as.numeric(unlist(q[[key]]))
    c(q[c("name", "label", "ordered")],
      list(ticks = isTRUE(q$ticks), statements = isTRUE(q$statements),
           history = lapply(q$history, says, part = part),
           nets = nets_from_json(q$nets), scores = numbers("scores"),
           shares = numbers("shares"),
           headings = if (length(q$headings)) frame(q$headings, "headings"),
           categories = frame(q$categories, "categories")))
  }
  base <- raw$base
  base$left_out <- frame(base$left_out, "left_out")
  base$set_aside <- as.character(unlist(base$set_aside))
  list(down = question("down"), across = question("across"),
       each = question("each"), design = raw$design,
       among = lapply(raw$among, says, part = "among"), base = base,
       source = raw$source, made = raw$made)
}

# Cautions of the whole and of every layer; without `each` all are of the one
# table.
stored_cautions <- function(parts, alone, of_each) {
  bare <- function(rows) lapply(rows, `[`, c("severity", "what"))
  found <- parts$cautions
  list(whole = bare(if (alone) found else of_each(found, NA_character_)),
       layers = lapply(parts$layers$each, function(each) {
         if (alone) list() else bare(of_each(found, each))
       }))
}

# Nets as lists of answers by their label.
nets_from_json <- function(nets) {
  if (!length(nets)) return(NULL)
  stats::setNames(lapply(nets, function(net) as.character(unlist(net$answers))),
                  vapply(nets, function(net) as.character(net$label), ""))
}

# One layer, from the rows of all.
stored_layer <- function(parts, k, facts, of_each) {
  own <- parts$layers[k, ]
  here <- function(data) data[is.na(own$each) | data$each %in% own$each, ]
  cells <- here(parts$cells)
  margins <- lapply(parts$margins[c("down", "across")], function(margin) {
    as.list(here(margin))
  })
  categories <- lapply(margins, function(margin) margin$category)
  grid <- function(values) {
    matrix(values, length(categories$down), dimnames = unname(categories))
  }
  base_of_cell <- function(percent) {
    if (percent == "total") return(rep(1L, nrow(cells)))
    match(if (percent == "row") cells$down else cells$across,
          if (percent == "row") categories$down else categories$across)
  }
  percents <- c(column = "column", row = "row", total = "total")
  shares <- lapply(percents, function(percent) {
    margin <-
      switch(percent, row = margins$down, column = margins$across, total = own)
    found <- list(share = cells[[paste0(percent, "_percent")]] / 100,
                  low = cells[[paste0(percent, "_low")]] / 100,
                  high = cells[[paste0(percent, "_high")]] / 100,
                  base = margin$n[base_of_cell(percent)],
                  base_weighted = margin$weighted[base_of_cell(percent)],
                  se = cells[[paste0(percent, "_se")]] / 100,
                  deff = cells[[paste0(percent, "_deff")]])
    if (!is.null(facts$design$imputations))
      found$missing_information <- cells[[paste0(percent, "_missing_information")]]
    found
  })
  totals <- list(total = cells$weighted, se = cells$weighted_se,
                 cv = cells$weighted_cv / 100, deff = cells$weighted_deff,
                 low = cells$weighted_low, high = cells$weighted_high)
  residuals <- c(list(observed = cells$expected + cells$residual),
                 as.list(cells[c(setdiff(residual_columns, "observed"), "mark")]),
                 list(critical = own$critical))
  tested <- !is.na(cells$p)
  occupied <-
    c(length(unique(cells$down[tested])), length(unique(cells$across[tested])))
  ticks <- facts$down$ticks || facts$across$ticks
  without_each <- function(rows) {
    lapply(of_each(rows, own$each), function(row) row[names(row) != "each"])
  }
  stored <- list(shares = shares, totals = totals, residuals = residuals,
                 sums = if (!is.null(parts$sums)) here(parts$sums),
                 tests = without_each(parts$tests),
                 strength = without_each(parts$strength),
                 items = if (!is.null(parts$items)) without_each(parts$items),
                 compared = if (ticks) sum(tested) else
                   sum(distinct_cells(occupied)))
  layer <- new_stored_layer(each = own$each, n = grid(cells$n),
                            weighted = grid(cells$weighted),
                            margins = lapply(margins, `[`, c("n", "weighted")),
                            base = as.list(own[c("n", "weighted",
                                                 "effective")]),
                            df = own$df, stored = stored)
  if (facts$down$statements) layer$answers <- sum(cells$weighted)
  layer
}

# Version 1 had texts only: they are kept as they were written.
from_version_1 <- function(raw) {
  text_of <- function(rows, names) {
    lapply(rows, function(row) {
      for (name in intersect(names, names(row))) if (!is.null(row[[name]]))
        row[[name]] <- list(text = row[[name]])
      row
    })
  }
  raw$base$left_out <- lapply(raw$base$left_out, function(row) {
    list(code = "missing", question = "", detail = row$reason,
         records = row$records)
  })
  for (side in c("down", "across", "each")) if (!is.null(raw[[side]]))
    raw[[side]]$history <-
      lapply(raw[[side]]$history, function(text) list(text = text))
  designed <- any(vapply(raw$tests, function(row) {
    isTRUE(row$headline) && isTRUE(row$test %in% by_design_tests)
  }, NA))
  raw$tests <- lapply(text_of(raw$tests, c("why", "note")), function(row) {
    plain <- designed &&
             isTRUE(row$test %in%
                      c("pearson", "symmetry", "likelihood_ratio",
                        "continuity_corrected"))
    if (plain) row$note <- said("reference_only")
    row
  })
  raw$strength <- text_of(raw$strength, c("interval", "note"))
  if (!is.null(raw$items)) raw$items <- text_of(raw$items, "note")
  raw$cautions <- lapply(raw$cautions, function(row) {
    list(each = row$each, severity = row$severity,
         what = list(code = row$code, text = row$text))
  })
  raw
}

by_design_tests <- c("rao_scott_corrected", "rao_scott_second",
                     "rao_scott_first", "symmetry_rao_scott")

# The choices that go along with a table.
stored_choices <- function() {
  choices_that(table_choices(), function(choice) choice$stored)
}

settings_from_json <- function(settings, file, stop_table) {
  settings$alpha <- as.numeric(settings$alpha)
  known <- stored_choices()
  tryCatch(checked_choices(settings[intersect(names(settings), known)])[known],
           error = function(e) {
             stop_table(tells("settings_cannot_read", file),
                        x = first_line(conditionMessage(e)))
           })
}

frame_from_json <- function(rows, contract, part, file, stop_table) {
  list2DF(columns_from_json(rows, contract, part, file, stop_table),
          nrow = length(rows))
}

rows_from_json <- function(rows, contract, part, file, stop_table) {
  columns <- columns_from_json(rows, contract, part, file, stop_table)
  lapply(seq_along(rows), function(k) lapply(columns, `[[`, k))
}

# What is said, as it was written; of an older file its text alone. Its
# arguments must be those of its sentence.
said_from_json <- function(what, part, file, stop_table) {
  said <- plain_said(what)
  tryCatch(in_words(said), error = function(e) {
    stop_table(tells("what_says_under_code_cannot", file, part,
                     cut_short(said$code[1L])))
  })
  said
}

plain_said <- function(what) {
  if (is.null(what)) return(NULL)
  plain <- function(value) {
    if (is.null(value)) return(NA)
    if (is.list(value) && !is.null(value$code)) return(plain_said(value))
    if (is.list(value))
      unlist(lapply(value, function(one) if (is.null(one)) NA else one)) else
      value
  }
  list(code = as.character(what$code %||% "as_written"),
       arguments = if (!is.null(what$arguments)) lapply(what$arguments, plain),
       text = as.character(what$text))
}

# A checked list of columns: text, numbers, true/false, or what is said.
columns_from_json <- function(rows, contract, part, file, stop_table) {
  if (!is.list(rows) || !all(vapply(rows, is.list, NA)))
    stop_table(tells("not_list_rows", file, part))
  columns <- lapply(names(contract), function(column) {
    absent <- which(!vapply(rows, function(row) column %in% names(row), NA))
    if (length(absent) == length(rows) && column %in% later_columns)
      return(rep(NA_real_, length(rows)))
    if (length(absent))
      stop_table(tells("row_no", file, absent[1L], part, column))
    if (contract[[column]] == "s") {
      bad <- which(!vapply(rows, function(row) is_said_json(row[[column]]), NA))
      if (length(bad))
        stop_table(tells("row_no_code_text", file, column, bad[1L], part))
      return(lapply(rows, function(row) {
        said_from_json(row[[column]], part, file, stop_table)
      }))
    }
    kind <-
      c(t = "character", n = "numeric", l = "logical")[[contract[[column]]]]
    value <- lapply(rows, function(row) {
      if (is.null(row[[column]])) NA else row[[column]]
    })
    bad <- which(lengths(value) != 1L |
                   !vapply(value, function(v) {
                     is.atomic(v) &&
                       (is.na(v) || kind == "character" ||
                          is.numeric(v) == (kind == "numeric"))
                   }, NA))
    if (length(bad))
      stop_table(tells("part_in_row_is_not", file, column, bad[1L], part, kind))
    value <- as.vector(unlist(value), kind)
    odd <- which(!is.na(value) & !value %in% contract_values[[column]])
    if (length(contract_values[[column]]) && length(odd))
      stop_table(tells("value_in_row_is_not", file, column, odd[1L], part,
                       cut_short(value[odd[1L]]),
                       one_of(contract_values[[column]])))
    value
  })
  stats::setNames(columns, names(contract))
}

is_said_json <- function(value) {
  single <- function(x) is.null(x) || is.character(x) && length(x) == 1L
  is.null(value) ||
    is.list(value) && single(value$code) && single(value$text) &&
      (is.null(value$arguments) || is.list(value$arguments)) &&
      !(is.null(value$code) && is.null(value$text))
}
