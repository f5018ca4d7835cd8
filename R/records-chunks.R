# Records in files of any length: read in chunks, of which only the groups are
# kept.

#' Records in files too large for memory
#'
#' Files whose records stay where they are. For every table that is asked for
#' they are read once, from beginning to end, in chunks, and only sums are kept,
#' so that memory does not grow with the number of records; several parts are
#' one survey. Text (CSV, TSV, with any separator, or JSON lines, also
#' compressed) is read on two threads, and of Parquet the columns that are
#' needed, or where they cannot be held together one row group after the other.
#'
#' What a column holds is known when all of it has been read, as
#' [read_records()] would have read it, and is checked then; only columns that a
#' table needs are looked at. [book()] and [related()] make all their tables
#' from one reading.
#'
#' @param path (character) Files of one shape, or a pattern such as
#'   `"part-*.csv"`, or a folder of them, in folders of its own, too. What the names of
#'   folders say (`sex=male/year=2024/part-0.parquet`) are columns; parts that a
#'   condition of [among()] on such columns leaves out are not opened, unless there are
#'   strata or clusters, to which everybody belongs.
#' @param codebook,unknown,decimal,delimiter As in [read_records()]. Text must
#'   be UTF-8.
#' @param most_groups (number, default option `fairlattice.most_groups`,
#'   5,000,000) Combinations of clusters, answers and other values that are kept
#'   at the most.
#' @param ... Not used; an argument here is an error that names the nearest one.
#' @return A source (class `fairlattice_source`), for [respondents()].
#' @section Errors: those of [read_records()] for a file that is not as it
#'   should be, with its name and line, when it is
#'   read; `fairlattice_error_changed` when a file changes between two tables;
#'   `fairlattice_error_too_many_groups`.
#' @seealso [dbi_table()]
#' @export
#' @examples
#' survey <- records_in_chunks(demo_file("veyra.csv"))
#' survey <- respondents(survey, weight = weight, stratum = island, cluster = settlement)
#' crosstab(survey, down = ferry, across = island)
records_in_chunks <- function(path, codebook = NULL,
                              unknown = c("error", "missing"), decimal = NULL,
                              delimiter = NULL, most_groups = NULL, ...) {
  nothing_else(...)
  call <- environment()
  unknown <- first_of(unknown)
  check_choice(unknown, c("error", "missing"), "unknown", call)
  if (!is.null(decimal)) check_choice(decimal, c(".", ","), "decimal", call)
  most_groups <- most_groups %||% setting("most_groups")
  check_number(most_groups, "most_groups", 1, Inf, call)
  files <- parts_at(path, call)
  beside <- if (is.null(codebook))
    codebook_beside(files[1L]) %||% if (dir.exists(path[1L])) codebook_beside(path)
  codebook <- codebook %||% if (!is.null(beside) && !is_draft(beside)) beside
  if (is.character(codebook))
    codebook <- read_codebook(codebook, basename(files[1L]), call)
  keys <- keys_of_files(files, call)
  parts <- list(files = files, partitions = if (length(keys)) partitions_of(keys),
                codebook = codebook, unknown = unknown, most_groups = most_groups,
                options = list(decimal = decimal,
                               delimiter = checked_delimiter(delimiter, call)),
                call = call, stamp = stamp_of(files))
  raw <- first_of_parts(parts)
  keys <- check_keys(parts$partitions$keys, names(raw), files, call)
  new_source(coded_parts(parts, list2DF(c(as.list(raw), lapply(keys, `[`, 0L)), nrow = 0L), NULL),
             about = list(file = if (length(keys)) basename(path) else
                            paste_some(basename(files)),
                          dated = format(max(file.mtime(files)), "%Y-%m-%d"),
                          path = if (length(files) == 1L) normalizePath(files),
                          size = file.size(files[1L]),
                          modified = file.mtime(files[1L])),
             sums = function(sets, measures) {
               parts_sums(parts, names(raw), sets, measures)
             }, coded = function(data, records) {
               coded_parts(parts, data, records)
             }, truth = function(condition, call) {
               if (!is.null(parts$partitions))
                 truth_of_keys(coded_parts(parts, list2DF(parts$partitions$keys), NULL),
                               condition, call)
             }, repeats = function(name) repeats_in_parts(parts, names(raw), name),
             least = function(name) NULL,
             again = list(list(codebook = codebook, unknown = unknown, decimal = decimal,
                               delimiter = delimiter, most_groups = most_groups), path))
}

paste_some <- function(x) {
  if (length(x) > 3L) sprintf("%s and %d others", x[1L], length(x) - 1L) else
    paste(x, collapse = ", ")
}

# The files: a folder stands for all in it that are of a kind that is read.
parts_at <- function(path, call) {
  if (is.character(path) && length(path) == 1L && !is.na(path) &&
        dir.exists(path)) {
    found <- files_in_folder(path, kind_of_part)
    if (!length(found))
      stop_input(c(tells("folder_no_files_read_chunks", path),
                   i = tells("kinds_are", list_some(names(part_kinds)))),
                 "no_file", call = call)
    path <- found
  }
  files <- expand_paths(path, call)
  kind <- kind_of_part(files)
  odd <- files[is.na(kind)]
  if (length(odd)) {
    stop_input(c(tells("kind_not_read_chunks", basename(odd[1L])),
                 i = tells("kinds_others_read_read_records",
                           list_some(names(part_kinds), 10L))), "file",
               path = odd[1L], call = call)
  }
  if (length(unique(kind)) > 1L)
    stop_input(tells("parts_survey_files_one_kind"), "file", path = files[1L],
               call = call)
  files
}

check_unchanged <- function(parts) {
  now <- stamp_of(parts$files)
  changed <- which(now != parts$stamp)
  if (length(changed)) {
    stop_input(c(tells("changed_gone_since_first_read",
                       basename(parts$files[changed[1L]])),
                 i = tells("call_records_in_chunks_again")), "changed",
               path = parts$files[changed[1L]], call = parts$call)
  }
}

# The columns of the first part, by what reads a data frame of its first records.
first_by <- function(head) {
  function(parts) {
    file <- parts$files[1L]
    data <- with_plain_part(file, parts$call, function(path) {
      head(path, basename(file), parts$call)
    })
    as.list(as.data.frame(data)[0L, , drop = FALSE])
  }
}

# How each kind of part is read: `first` gives its columns without records,
# `sums` the groups of all parts.
part_readers <- list(
  text = list(first = function(...) first_of_text(...),
              sums = function(...) sums_of_text(...)),
  parquet = list(first = first_by(function(...) parquet_head(...)),
                 sums = function(...) sums_of_frames(...)),
  lines = list(first = first_by(function(...) lines_head(...)),
               sums = function(...) sums_of_text(...)))

reader_of_parts <- function(parts) part_readers[[kind_of_part(parts$files[1L])]]

first_of_parts <- function(parts) {
  first <- reader_of_parts(parts)$first(parts)
  twice <- names(first)[duplicated(names(first))]
  if (length(twice))
    stop_input(tells("file_has_two_columns_named", basename(parts$files[1L]),
                     twice[1L]), "file", path = parts$files[1L],
               call = parts$call)
  list2DF(lapply(first, function(x) x[0L]), nrow = 0L)
}

parts_sums <- function(parts, columns, sets, measures) {
  check_unchanged(parts)
  read <- function(files, sets) {
    own <- replace(parts, "files", list(files))
    reader_of_parts(own)$sums(own, columns, sets, measures)
  }
  found <- if (is.null(parts$partitions)) read(parts$files, sets) else
    partitioned_sums(parts, sets, measures, read)
  check_unchanged(parts)
  found
}

# Ids that occur more than once; where there are more of them than groups may be
# kept, that they were not looked for.
repeats_in_parts <- function(parts, columns, name) {
  tryCatch({
    found <- parts_sums(parts, columns,
                        list(list(columns = name, cuts = list(),
                                  conditions = list())), list())[[1L]]
    by_id <- tapply(found$records[!is.na(found$data[[name]])],
                    found$data[[name]][!is.na(found$data[[name]])], sum)
    c(sum(by_id > 1), sum(by_id[by_id > 1]))
  }, fairlattice_error_too_many_groups = function(e) {
    rlang::inform(words("ids_not_counted", name, parts$most_groups),
                  class = "fairlattice_message")
    c(NA, NA)
  })
}

# Columns by the codebook; `records` says how many each row stands for.
coded_parts <- function(parts, data, records) {
  where <- function(name) {
    list(records = records %||% integer(), find = function(row) {
      where_in_parts(parts, name, data[[name]][row])
    })
  }
  coded_columns(data, parts$codebook, parts$unknown, where, parts$call)
}

# ---- text ----

# What the two kinds of text differ in: `shape` is how a part is made (the names of its columns,
# their separator, the decimal mark), `stop_fault` says what is wrong with it, `empty` that it has
# no records, `values` what cells hold, `shown` what one of them says, and `keys` are those of lines
# of JSON.
texts_in_parts <- list(
  text = list(shape = function(path, file, columns, parts) {
    own <- shape_of_text(path, file, parts$options, parts$call)
    check_same_shape(own, columns, file, parts)
    own
  }, stop_fault = function(now, shape, path, file, parts) {
    made <- c(now[c("fault", "line", "cells")], list(header = shape$names))
    stop_if_faulty(made, file, function(...) {
      stop_input(c(...), "file", path = file, call = parts$call)
    })
  }, empty = "header_no_records", values = function(texts, shape, file, call) {
    typed_cells(texts, shape$decimal)
  }, shown = function(cell, file, call) cell, keys = function(columns) character()),
  lines = list(shape = function(path, file, columns, parts) {
    list(names = columns, sep = "\n", decimal = ".")
  }, stop_fault = function(now, shape, path, file, parts) {
    if (now$fault == "no_json") stop_line(now$line, shape$names, path, file, parts$call)
  }, empty = "file_has_no_records", values = function(texts, shape, file, call) {
    json_values(texts, file, call)
  }, shown = function(cell, file, call) format(json_values(cell, file, call)),
  keys = function(columns) enc2utf8(columns)))

text_in_parts <- function(parts) texts_in_parts[[kind_of_part(parts$files[1L])]]

# The beginning of a part as it is made: names, separator, decimal mark.
shape_of_text <- function(path, file, options, call) {
  stop_file <- function(...) {
    stop_input(c(...), "file", path = file, call = call)
  }
  mark <- readBin(path, "raw", 2L)
  if (all(mark == c(0xff, 0xfe)) || all(mark == c(0xfe, 0xff)))
    stop_file(tells("utf_16_is_not_read_in_chunks", file),
              i = tells("save_utf_8"))
  header <- header_line(path)
  if (!validUTF8(header)) stop_encoding(file, 1L, "the header", stop_file)
  sep <- options$delimiter %||% separator_of(header)
  check_width(header, sep, file, stop_file)
  head <- scratch_copy(bytes_at(path, 0, 65536L), ".csv")
  on.exit(unlink(head))
  made <- scan_delimited_kernel(head, sep, FALSE)
  check_names(made$header, file, stop_file)
  if (length(made$header) < 2L)
    stop_file(tells("one_column_only", file), i = tells("read_read_records"))
  list(names = made$header, sep = sep,
       decimal = options$decimal %||% decimal_mark(path, sep))
}

# Kinds are seen from the first thousand records.
first_of_text <- function(parts) {
  file <- parts$files[1L]
  with_plain_part(file, parts$call, function(path) {
    shape <- shape_of_text(path, basename(file), parts$options, parts$call)
    lines <- readLines(path, n = 1001L, warn = FALSE, encoding = "UTF-8",
                       skipNul = TRUE)
    some <- scratch_copy(charToRaw(paste0(paste(lines, collapse = "\n"), "\n")),
                         ".csv")
    on.exit(unlink(some))
    read <- scan_delimited_kernel(some, shape$sep, TRUE)
    data <- if (read$fault == "")
      lapply(read$data, typed_cells, decimal = shape$decimal)
    if (is.null(data)) data <- rep(list(character()), length(shape$names))
    stats::setNames(data, shape$names)
  })
}

# Bytes of a piece, and how many rounds of them, one a shard, are taken between two
# looks at the clock.
piece_bytes <- 2^22
pieces_a_step <- 4L

sums_of_text <- function(parts, columns, sets, measures) {
  text <- text_in_parts(parts)
  keys <- keys_of_sets(parts, columns, sets)
  place <- function(name) if (is.null(name)) -1L else match(name, columns) - 1L
  chunked <- NULL
  shape <- NULL
  records <- 0
  sizes <- file.size(parts$files)
  began <- proc.time()[["elapsed"]]
  show_progress(0, 1, words("chunks.progress"))
  for (k in seq_along(parts$files)) {
    file <- parts$files[k]
    with_plain_part(file, parts$call, function(path) {
      own <- text$shape(path, basename(file), columns, parts)
      if (is.null(chunked)) {
        shape <<- own
        chunked <<- chunked_kernel(
          own$sep, own$decimal, length(columns), keys$keys, keys$sets,
          place(measures$weight), place(measures$count),
          as.integer(match(measures$replicates, columns) - 1L),
          parts$most_groups, setting("threads"), text$keys(columns))
      } else if (own$sep != shape$sep ||
                   own$decimal == "," && shape$decimal == ".") {
        stop_input(tells("another_separator_decimal_mark", basename(file),
                         basename(parts$files[1L])), "file", path = file,
                   call = parts$call)
      }
      before <- sum(sizes[seq_len(k - 1L)])
      read <- take_part(chunked, path, file, own, parts, measures,
                        progress = function(bytes, records) {
                          show_reading(basename(file),
                                       (before + bytes) / sum(sizes), records,
                                       began)
                        })
      if (read == records)
        stop_input(tells(text$empty, basename(file)), "file",
                   path = file, call = parts$call)
      records <<- read
    })
  }
  found <- found_chunked_kernel(chunked)
  if (found$too_many) stop_too_many_kept(parts$most_groups, parts$call)
  texts <- lapply(seq_along(keys$keys), function(k) {
    clean_texts(found$texts[[k]], keys$names[k], parts)
  })
  typed <- lapply(texts, text$values, shape = shape, file = basename(parts$files[1L]),
                  call = parts$call)
  Map(function(groups, set, at) {
    groups_of_text(groups, keys$names[at + 1L], typed[at + 1L], measures)
  }, found$sets, sets, keys$sets)
}

# Every key of the sets once: whole columns, and numbers with their cuts.
keys_of_sets <- function(parts, columns, sets) {
  all <- lapply(sets, function(set) {
    c(lapply(set$columns, function(name) list(name = name, cuts = NULL)),
      lapply(names(set$cuts), function(name) {
        list(name = name, cuts = set$cuts[[name]])
      }))
  })
  every <- unique(unlist(all, recursive = FALSE))
  list(names = vapply(every, `[[`, "", "name"),
       keys = lapply(every, function(key) {
         list(column = match(key$name, columns) - 1L, cut = !is.null(key$cuts),
              at = as.numeric(key$cuts$at), upto = as.logical(key$cuts$upto),
              apart = missing_numbers(parts$codebook$fields[[key$name]]))
       }), sets = lapply(all, function(own) as.integer(match(own, every) - 1L)))
}

check_same_shape <- function(own, columns, file, parts) {
  if (identical(own$names, columns)) return(invisible())
  odd <- c(setdiff(columns, own$names), setdiff(own$names, columns))
  stop_input(c(tells("files_differ_in_columns", basename(parts$files[1L]), file,
                     if (length(odd)) tells("in_one_of_them_only", odd[1L]) else
                       tells("in_the_same_order"))), "file", path = file,
             call = parts$call)
}

# One part, from beginning to end; how many records have been read so far.
# `progress` is told how many bytes of it were read, and records of all parts.
take_part <- function(chunked, path, file, shape, parts, measures, progress) {
  stop_file <- function(...) {
    stop_input(c(...), "file", path = file, call = parts$call)
  }
  name <- basename(file)
  if (!open_chunked_kernel(chunked, path, piece_bytes, TRUE))
    stop_file(tells("file_may_not_read", name))
  share <- file.size(file) / file.size(path) # of a packed file
  repeat {
    now <- step_chunked_kernel(chunked, pieces_a_step)
    text_in_parts(parts)$stop_fault(now, shape, path, name, parts)
    if (now$too_many) stop_too_many_kept(parts$most_groups, parts$call)
    stop_odd_number(now, shape, name, measures, parts)
    progress(now$bytes * share, now$records)
    if (!now$more) break
  }
  now$records
}

stop_odd_number <- function(now, shape, file, measures, parts) {
  if (now$odd_column < 0) return(invisible())
  name <- shape$names[now$odd_column + 1L]
  arg <- names(Filter(function(own) name %in% own, measures))[1L]
  value <- text_in_parts(parts)$shown(now$odd_text, file, parts$call)
  stop_not_numbers(arg, name,
                   tells("odd_value_on_line", format_count(now$odd_line), file,
                         cut_short(value)), parts$call)
}

# The texts of a key, where each must be valid.
clean_texts <- function(texts, name, parts) {
  bad <- texts[!validUTF8(texts)]
  if (length(bad)) {
    where <- where_in_parts(parts, name, bad[1L])
    stop_input(c(tells("column_holds_what_not_utf", name,
                       if (length(where)) sprintf(" (%s)", where[1L]) else ""),
                 i = tells("may_latin_1_save_file")), "file",
               path = parts$files[1L], call = parts$call)
  }
  texts
}

# Where a value stands: file and line of its first records.
where_in_parts <- function(parts, name, value, most = 3L) {
  if (kind_of_part(parts$files[1L]) != "text" || name %in% names(parts$partitions$keys))
    return(character())
  text <- as.character(value)
  found <- character()
  for (file in parts$files) {
    found <- c(found,
               with_plain_part(file, parts$call, function(path) {
                 shape <- shape_of_text(path, basename(file), parts$options,
                                        parts$call)
                 at <- lines_with_kernel(
                   path, shape$sep, match(name, shape$names) - 1L, text,
                   most - length(found))
                 if (length(at))
                   sprintf("%s:%s", basename(file),
                           format(at, scientific = FALSE, trim = TRUE))
               }))
    if (length(found) >= most) break
  }
  found
}

# Signs as numbers: missing, zero, above, below.
number_of_sign <- function(sign) c(NA, 0L, 1L, -1L, NA)[sign + 1L]

groups_of_text <- function(groups, names, typed, measures) {
  data <- Map(function(values, codes) values[replace(codes, codes == 0L, NA)],
              typed, groups$codes)
  replicates <- if (length(measures$replicates))
    replicates_there(groups$replicates, groups$there)
  list(data = list2DF(stats::setNames(data, names),
                      nrow = length(groups$records)), kept = list(),
       records = groups$records, n = groups$n,
       w = if (!is.null(measures$weight)) groups$w,
       w2 = if (!is.null(measures$weight)) groups$w2,
       weight = if (!is.null(measures$weight)) number_of_sign(groups$weight),
       count = if (!is.null(measures$count)) number_of_sign(groups$count),
       replicates = replicates)
}
