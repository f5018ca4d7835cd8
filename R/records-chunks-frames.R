# Parts that come as data frames: row groups of Parquet, some thousand lines of JSON at a time. Each is put into groups as
# it comes, and groups are put together.

# What a kind of part gives: `first` a data frame of some records, `frames` calls `work` with one data frame after another.
frame_readers <- list(
  parquet = list(first = function(path, file, call) first_of_parquet(path, file, call),
                 groups = function(...) groups_of_parquet(...)),
  jsonl = list(first = function(path, file, call) json_frame(readLines(path, 1000L, warn = FALSE), 0, file, call),
               groups = function(...) groups_of_lines(...)))
frame_readers$ndjson <- frame_readers$jsonl

frame_reader <- function(parts) frame_readers[[kind_of_part(parts$files[1L])]]

first_of_frames <- function(parts) {
  file <- parts$files[1L]
  data <- with_plain_part(file, parts$call,
                          function(path) frame_reader(parts)$first(path, basename(file), parts$call))
  as.list(as.data.frame(data)[0L, , drop = FALSE])
}

sums_of_frames <- function(parts, columns, sets, measures) {
  apart <- lapply(stats::setNames(columns, columns), function(name) missing_numbers(parts$codebook$fields[[name]]))
  sizes <- file.size(parts$files)
  found <- rep(list(list()), length(sets))
  show_progress(0, sum(sizes), words("chunks.progress"))
  for (k in seq_along(parts$files)) {
    file <- parts$files[k]
    of_part <- with_plain_part(file, parts$call, function(path) {
      frame_reader(parts)$groups(path, basename(file), columns, sets, measures, apart, parts$call)
    })
    found <- Map(function(groups, own) added_groups(c(list(groups), list(own)), parts), found, of_part)
    show_progress(sum(sizes[seq_len(k)]), sum(sizes), words("chunks.progress"), basename(file))
  }
  lapply(seq_along(sets), function(t) groups_of_frame(found[[t]], sets[[t]], measures))
}

# ---- frames as groups ----

# One data frame in the groups of a set: columns k1, k2, ... (of a number that is cut, where it lies; its value is m1,
# ...), signs, and sums.
frame_groups <- function(data, set, measures, apart) {
  table <- lapply(data[set$columns], plain_column)
  names(table) <- sprintf("k%d", seq_along(table))
  by <- names(table)
  for (name in names(set$cuts)) {
    at <- length(by) + 1L
    table[[sprintf("k%d", at)]] <- place_between(data[[name]], set$cuts[[name]], apart[[name]])
    table[[sprintf("m%d", at - length(set$columns))]] <- data[[name]]
    by <- c(by, sprintf("k%d", at))
  }
  number <- function(name) if (!is.null(name)) as.numeric(plain_column(data[[name]]))
  w <- number(measures$weight)
  n <- number(measures$count)
  replicates <- lapply(measures$replicates, number)
  table$sw <- if (!is.null(w)) sign(w) else 1
  table$sn <- if (!is.null(n)) sign(n) else 1
  table$sr <- if (length(replicates)) !Reduce(`|`, lapply(replicates, is.na)) else TRUE
  by <- c(by, "sw", "sn", "sr")
  table$records <- rep(1, nrow(data))
  table$n <- n %||% rep(1, nrow(data))
  table$w <- table$n * (w %||% 1)
  table$w2 <- table$w * (w %||% 1)
  for (r in seq_along(replicates)) table[[sprintf("r%d", r)]] <- table$n * replicates[[r]]
  summed_groups(data.table::setDT(table), by)
}

# Sums of the rows that are alike in `by`; of values in between the first is kept.
summed_groups <- function(table, by) {
  summed <- grep("^(records|n|w|w2|r[0-9]+)$", names(table), value = TRUE)
  kept <- grep("^m[0-9]+$", names(table), value = TRUE)
  sums <- table[, lapply(.SD, sum), by = by, .SDcols = summed]
  if (!length(kept)) return(sums)
  first <- table[, lapply(.SD, `[`, 1L), by = by, .SDcols = kept]
  cbind(sums, first[, kept, with = FALSE])
}

added_groups <- function(tables, parts) {
  tables <- Filter(length, tables)
  if (length(tables) == 1L) return(tables[[1L]])
  kinds <- vapply(tables, function(table) vapply(table, function(x) is_numeric_part(x), NA), logical(length(tables[[1L]])))
  mixed <- names(tables[[1L]])[apply(matrix(kinds, length(tables[[1L]])), 1L, function(row) length(unique(row)) > 1L)]
  for (k in seq_along(tables)) for (name in mixed)
    data.table::set(tables[[k]], j = name, value = as.character(tables[[k]][[name]]))
  both <- data.table::rbindlist(lapply(tables, function(table) table[, lapply(.SD, unfactored)]))
  out <- summed_groups(both, grep("^(k[0-9]+|sw|sn|sr)$", names(both), value = TRUE))
  if (nrow(out) > parts$most_groups) stop_too_many_kept(parts)
  out
}

is_numeric_part <- function(x) is.numeric(x) || is.logical(x) && all(is.na(x))

unfactored <- function(x) if (is.factor(x)) as.character(x) else x

# Where numbers lie between cuts, as the database says it (sql_cut() in R/records-sql.R).
place_between <- function(x, cuts, apart) {
  if (is.character(x) || is.factor(x)) return(as.character(x)) # no numbers: told apart by what they are
  x <- as.numeric(plain_column(x))
  place <- numeric(length(x))
  for (k in seq_len(nrow(cuts)))
    place <- place + if (cuts$upto[k]) x > cuts$at[k] else x >= cuts$at[k]
  out <- 2 * place + (x != floor(x))
  ifelse(x %in% apart, -match(x, apart), out)
}

groups_of_frame <- function(table, set, measures) {
  data <- c(lapply(seq_along(set$columns), function(k) table[[sprintf("k%d", k)]]),
            lapply(seq_along(set$cuts), function(k) table[[sprintf("m%d", k)]]))
  names(data) <- c(set$columns, names(set$cuts))
  weighted <- !is.null(measures$weight)
  replicates <- if (length(measures$replicates)) {
    sums <- unname(as.matrix(as.data.frame(table)[sprintf("r%d", seq_along(measures$replicates))]))
    sums[!table$sr, ] <- NA
    sums
  }
  list(data = list2DF(lapply(data, plain_column), nrow = nrow(table)), kept = list(), records = table$records,
       n = table$n, w = if (weighted) table$w, w2 = if (weighted) table$w2, weight = if (weighted) table$sw,
       count = if (!is.null(measures$count)) table$sn, replicates = replicates)
}

# ---- Parquet ----

# Other people's reader of Parquet works in a process of its own (see in_child()), where the groups are made too.
first_of_parquet <- function(path, file, call) {
  check_parquet(path, file, call)
  in_child(function(path) {
    groups <- nanoparquet::read_parquet_metadata(path)$row_groups
    read <- if (nrow(groups) > 1L) asNamespace("nanoparquet")$read_parquet_row_group
    as.data.frame(if (is.null(read)) nanoparquet::read_parquet(path) else read(path, 0L))[0L, , drop = FALSE]
  }, list(path), file, "a Parquet file", call)
}

groups_of_parquet <- function(path, file, columns, sets, measures, apart, call) {
  check_parquet(path, file, call)
  found <- in_child(function(path, columns, sets, measures, apart) {
    asNamespace("fairlattice")$parquet_groups(path, columns, sets, measures, apart)
  }, list(path, columns, sets, measures, apart), file, "a Parquet file", call)
  if (!is.null(found$odd)) {
    stop_input(sprintf("\"%s\" does not have the columns of the first part: \"%s\" is in one of them only.", file,
                       found$odd), "file", path = file, call = call)
  }
  lapply(found$groups, data.table::setDT)
}

# One row group after the other where there are several, else the columns that are needed.
parquet_groups <- function(path, columns, sets, measures, apart) {
  meta <- nanoparquet::read_parquet_metadata(path)
  used <- unique(c(unlist(lapply(sets, `[[`, "columns")), unlist(lapply(sets, function(set) names(set$cuts))),
                   unlist(measures)))
  by_group <- if (nrow(meta$row_groups) > 1L) asNamespace("nanoparquet")$read_parquet_row_group
  odd <- setdiff(used, meta$schema$name)
  if (length(odd)) return(list(odd = odd[1L]))
  found <- rep(list(list()), length(sets))
  for (k in seq_len(if (is.null(by_group)) 1L else nrow(meta$row_groups))) {
    data <- as.data.frame(if (!is.null(by_group)) by_group(path, k - 1L) else if (length(used))
      nanoparquet::read_parquet(path, used) else nanoparquet::read_parquet(path))
    found <- Map(function(groups, set) {
      added_groups(list(groups, frame_groups(data, set, measures, apart)), list(most_groups = Inf))
    }, found, sets)
  }
  list(groups = found)
}

# ---- lines of JSON ----

lines_a_chunk <- 50000L

groups_of_lines <- function(path, file, columns, sets, measures, apart, call) {
  from <- file(path, "r", encoding = "UTF-8")
  on.exit(close(from))
  found <- rep(list(list()), length(sets))
  line <- 0
  repeat {
    lines <- readLines(from, lines_a_chunk, warn = FALSE)
    if (!length(lines)) break
    data <- json_frame(lines, line, file, call)
    line <- line + length(lines)
    if (is.null(data)) next
    odd <- setdiff(names(data), columns)
    if (length(odd))
      stop_input(sprintf("\"%s\" is a key of \"%s\" that its first thousand records do not have.", odd[1L], file), "file",
                 path = file, call = call)
    data[setdiff(columns, names(data))] <- NA
    found <- Map(function(groups, set) {
      added_groups(list(groups, frame_groups(data, set, measures, apart)), list(most_groups = Inf))
    }, found, sets)
  }
  if (!line) stop_input(sprintf("\"%s\" has no records.", file), "file", path = file, call = call)
  found
}
