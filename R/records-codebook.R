# The codebook: a Data Package Table Schema (JSON or YAML), a data package's, or
# a DDI Codebook, read and checked. It is data: nothing in it is run.

# Path of the codebook beside a data file: veyra.csv -> veyra.schema.json (or
# .yaml, .yml); NULL without one.
codebook_beside <- function(path) {
  stem <- sub("\\.[^.]*$", "", path)
  found <- Filter(file.exists,
                  paste0(stem,
                         c(".schema.json", ".schema.yaml", ".schema.yml")))
  if (length(found)) found[[1L]]
}

# Whether a codebook still has guesses in it, which draft_codebook() makes:
# nobody has looked at it yet. One that cannot be read is none: reading it will
# say why.
is_draft <- function(path) {
  none <- function(...) stop("cannot be read")
  schema <- tryCatch(if (grepl("\\.ya?ml$", path)) NULL else
                       parse_json(text_of(path), none), error = function(e) {
                         NULL
                       })
  is.list(schema) && is.list(schema$fields) &&
    any(vapply(schema$fields, function(field) {
      is.list(field) && length(field$guesses) > 0L
    }, NA))
}

# A codebook of ours: a Table Schema in JSON or YAML.
read_schema <- function(path, call) {
  stop_codebook <- function(...) {
    stop_input(c(...), "codebook", path = path, call = call)
  }
  if (!file.exists(path)) stop_codebook(tells("no_codebook", path))
  yaml <- grepl("\\.ya?ml$", path)
  if (yaml) need_package("yaml", tells("to_read_yaml_codebook"), call)
  bad <- function(why) {
    stop_codebook(tells("codebook_not", basename(path),
                        if (yaml) "YAML" else "JSON"), x = why)
  }
  schema <- if (yaml) parse_yaml(text_of(path), bad) else
    parse_json(text_of(path), bad)
  codebook_from_schema(schema, basename(path), stop_codebook)
}

# YAML without tags and aliases: a tag can run code, and aliases can blow up to
# any size.
parse_yaml <- function(text, stop_codebook, handlers = NULL) {
  if (!validUTF8(text)) stop_codebook(tells("codebook_is_not_utf_8"))
  if (nchar(text, "bytes") > 2e7) stop_codebook(tells("larger_20_mb"))
  # what stands in quotes is text
  bare <- gsub("\"(?:[^\"\\\\]|\\\\.)*\"|'[^']*'", "\"\"", text, perl = TRUE)
  if (grepl("(?m)(?:^|[\\s:,\\[{-])[*][^\\s,\\]}]+\\s*(?:$|[,\\]}])", bare,
            perl = TRUE)) stop_codebook(tells("aliases_name_not_read_write"))
  # a tag stands where a value begins; elsewhere ! is part of a text, such as a
  # condition
  if (grepl("(?m)(?:^|[:?-]\\s|[,\\[{])\\s*(?:&\\S+\\s+)?!", bare, perl = TRUE))
    stop_codebook(tells("tags_name_not_read_put"))
  handlers <- utils::modifyList(c(list(int = whole_number), words_of_yaml),
                                as.list(handlers))
  tryCatch(yaml::yaml.load(text, eval.expr = FALSE, handlers = handlers),
           error = function(e) stop_codebook(first_line(conditionMessage(e))),
           warning = function(w) stop_codebook(first_line(conditionMessage(w))))
}

# Y, N, yes, no, on and off are answers, and only true and false are what they say.
words_of_yaml <- list(
  "bool#yes" = function(x) if (tolower(x) == "true") TRUE else x,
  "bool#no" = function(x) if (tolower(x) == "false") FALSE else x)

# A whole number of any size.
whole_number <- function(text) {
  number <- as.numeric(gsub("_", "", text, fixed = TRUE))
  if (abs(number) <= .Machine$integer.max) as.integer(number) else number
}

codebook_from_schema <- function(schema, file, stop_codebook) {
  if (!is.list(schema) || !is.list(schema$fields) || !length(schema$fields)) {
    stop_codebook(tells("codebook_no_fields", file),
                  i = tells("table_schema_list_named_fields"))
  }
  fields <- lapply(seq_along(schema$fields), function(k) {
    codebook_field(schema$fields[[k]], k, schema$missingValues, stop_codebook)
  })
  names(fields) <- vapply(fields, function(field) field$name, "")
  twice <- names(fields)[duplicated(names(fields))]
  if (length(twice)) stop_codebook(tells("codebook_field_twice", twice[1L]))
  structure(list(title = schema$title, fields = fields),
            class = "fairlattice_codebook")
}

codebook_field <- function(field, k, missing_everywhere, stop_codebook) {
  if (!is.list(field) || is.null(names(field)))
    stop_codebook(tells("field_codebook_not_object_name", k))
  name <- field$name
  single <- function(x) is.character(x) && length(x) == 1L && !is.na(x)
  if (!single(name) || !nzchar(name))
    stop_codebook(tells("field_codebook_no_name", k))
  for (part in c("title", "type")) {
    if (!is.null(field[[part]]) && !single(field[[part]])) {
      stop_codebook(tells("codebook_field_not_one_text", part, name))
    }
  }
  bad <- function(part) {
    function() {
      stop_codebook(tells("codebook_field_list_values_objects", part, name))
      }
  }
  categories <- value_labels(field$categories, bad("categories"))
  missing <- value_labels(field$missingValues %||% missing_everywhere %||%
                            list(""), bad("missingValues"))
  if (any(!nzchar(categories$label)))
    stop_codebook(tells("codebook_answer_field_no_label", name))
  for (part in list(categories$value, categories$label, missing$value)) {
    twice <- part[duplicated(part)]
    if (length(twice)) stop_codebook(tells("codebook_value_twice", name, twice[1L]))
  }
  both <- intersect(categories$value, missing$value)
  if (length(both)) {
    stop_codebook(tells("codebook_value_field_answer_missing", both[1L], name))
  }
  clash <- intersect(categories$label, missing$label[nzchar(missing$value)])
  if (length(clash)) {
    stop_codebook(tells("codebook_field_label_answer_missing", clash[1L], name))
  }
  list(name = name, title = field$title %||% name, type = field$type %||% "any",
       categories = categories, missing = missing,
       ordered = isTRUE(field$categoriesOrdered), weight = isTRUE(field$weight))
}

# A list of values, or of {value, label}, as a data frame of text.
value_labels <- function(x, bad) {
  if (is.atomic(x)) x <- as.list(x)
  pick <- function(item, part) {
    if (is.list(item)) item[[part]] %||% item[["value"]] else item
  }
  pair <- lapply(c(value = "value", label = "label"), function(part) {
    items <- lapply(x, pick, part = part)
    if (!all(vapply(items, function(item) {
      is.atomic(item) && length(item) == 1L && !is.na(item)
    }, NA))) bad()
    vapply(items, function(item) {
      if (is.numeric(item)) number_text(item) else as.character(item)
    }, "", USE.NAMES = FALSE)
  })
  list2DF(pair)
}

# Raw codes with their codebook applied, column by column.
coded_records <- function(data, codebook, unknown = "error", source = NULL,
                          line_of = NULL, call = rlang::caller_env()) {
  data <- coded_columns(data, codebook, unknown, function(name) line_of, call)
  structure(as.data.frame(data), source = source, title = codebook$title)
}

# `line_of` gives for a column what code_column() takes.
coded_columns <- function(data, codebook, unknown, line_of, call) {
  for (name in intersect(names(data), names(codebook$fields))) {
    data[[name]] <- code_column(
      data[[name]], codebook$fields[[name]], unknown, line_of(name), call)
  }
  data
}

# `line_of` says on which line a record stands; where rows stand for several
# records each, it is a list of `records`, how many, and `find`, which says
# where those of a row stand.
code_column <- function(x, field, unknown, line_of, call) {
  missing <- field$missing[nzchar(field$missing$value), ]
  blank <- field$missing$label[!nzchar(field$missing$value)]
  blank <- blank[nzchar(blank)]
  if (nrow(field$categories))
    return(code_answers(x, field, missing, blank, unknown, line_of, call))
  if (field$type %in% c("integer", "number"))
    return(code_number(x, field, missing, blank, unknown, line_of, call))
  structure(if (field$type == "string") as.character(x) else x,
            label = field$title)
}

code_answers <- function(x, field, missing, blank, unknown, line_of, call) {
  known <- c(field$categories$value, missing$value)
  quick <- quick_codes(x, known,
                       if (length(blank)) length(known) + 1L else NA_integer_)
  if (!is.null(quick) && quick$unknown == 0) { # whole numbers, all of them known: the common case
    return(new_answers(quick$codes,
                       make.unique(c(field$categories$label, missing$label,
                                     blank), sep = " / "),
                       missing = c(missing$label, blank), label = field$title,
                       ordered = field$ordered,
                       values = c(known, rep("", length(blank)))))
  }
  codes <- match_values(x, known)
  is_blank <- blank_cells(x)
  bad <- which(is.na(codes) & !is_blank)
  if (length(bad) && unknown == "error")
    stop_unknown(x, bad, field, line_of, call)
  extra <- if (length(bad)) "value not in the codebook"
  levels <- c(field$categories$label, missing$label, blank, extra)
  if (length(blank)) codes[is_blank] <- length(known) + 1L
  if (length(bad)) codes[bad] <- length(levels)
  new_answers(codes, make.unique(levels, sep = " / "),
              missing = c(missing$label, blank, extra), label = field$title,
              ordered = field$ordered,
              values = c(known, rep("", length(blank)), rep(NA, length(extra))))
}

# Places of whole numbers in a list of whole numbers that lie near each other,
# in one pass; NULL where that is not so.
quick_codes <- function(x, known, blank) {
  values <- suppressWarnings(as.numeric(known))
  if (!is.integer(x) || anyNA(values) || any(abs(values) > 1e6) ||
        any(values != round(values))) return(NULL)
  place_codes_kernel(x, as.integer(values), blank, setting("threads"))
}

code_number <- function(x, field, missing, blank, unknown, line_of, call) {
  if (is.numeric(x) && !nrow(missing) && !length(blank))
    return(new_number(x, character(), field$title))
  reason <- match_values(x, missing$value)
  number <- if (is.numeric(x)) as.numeric(x) else
    suppressWarnings(as.numeric(x))
  is_blank <- blank_cells(x)
  # text of a whole number from 2^53 on would be another number afterwards
  endless <- !is.numeric(x) & !is.na(number) & abs(number) >= 2^53
  bad <- which((is.na(number) | endless) & is.na(reason) & !is_blank)
  if (length(bad) && unknown == "error")
    stop_unknown(x, bad, field, line_of, call)
  reasons <- c(missing$label, blank,
               if (length(bad))
                 "value that is not a number, or too large to be exact")
  if (length(blank)) reason[is_blank] <- nrow(missing) + 1L
  if (length(bad)) reason[bad] <- length(reasons)
  number[!is.na(reason)] <- missing_for_kernel(reason[!is.na(reason)])
  new_number(number, reasons, field$title)
}

blank_cells <- function(x) {
  if (is.character(x)) is.na(x) | !nzchar(x) else is.na(x)
}

# Values are matched as text; numbers as numbers, so that 1, 1.0 and "01" in a
# numeric column are one value.
match_values <- function(x, known) {
  if (!is.numeric(x)) return(match(as.character(x), known))
  match(x, suppressWarnings(as.numeric(known)), incomparables = NA)
}

stop_unknown <- function(x, bad, field, line_of, call) {
  values <- as.character(x)
  first <- values[bad[1L]]
  same <- bad[values[bad] == first]
  records <- if (is.list(line_of)) sum(line_of$records[same]) else length(same)
  places <- if (is.list(line_of)) line_of$find(same[1L]) else
    if (is.null(line_of)) same else line_of(same)
  where <- if (length(places))
    tells(if (is.null(line_of)) "on_records" else "on_lines",
          list_some(places, 3L)) else ""
  others <- length(unique(values[bad])) - 1L
  expected <- if (nrow(field$categories))
    tells("known_values",
          list_some(c(field$categories$value,
                      field$missing$value[nzchar(field$missing$value)]),
                    12L)) else
    tells(if (field$type == "integer") "codebook_says_integer" else
            "codebook_says_number", field$name)
  stop_input(c(tells("column_codebook_does_not_know", field$name, first,
                     how_many(records, "record"), where),
               x = if (others > 0L)
                 tells("other_column_not_known_either", others),
               i = expected, i = tells("correct_data_codebook_ask_unknown")),
             "unknown_value", column = field$name, value = first,
             records = records, call = call)
}
