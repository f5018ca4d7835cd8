# Parts that come as data frames: files of Parquet, some at a time. Each is put into groups as it
# comes, and groups are put together.

# How many files are read at once.
frames_at_once <- 20L

sums_of_frames <- function(parts, columns, sets, measures) {
  apart <- lapply(stats::setNames(columns, columns), function(name) {
    missing_numbers(parts$codebook$fields[[name]])
  })
  sizes <- file.size(parts$files)
  found <- rep(list(list()), length(sets))
  records <- 0
  began <- proc.time()[["elapsed"]]
  show_progress(0, 1, words("chunks.progress"))
  some <- split(seq_along(parts$files),
                (seq_along(parts$files) - 1L) %/% frames_at_once)
  for (at in some) {
    own <- with_plain_parts(parts$files[at], parts$call, function(paths) {
      groups_of_parquet(paths, basename(parts$files[at]), sets, measures, apart, parts$call)
    })
    found <- Map(function(groups, own) {
      added_groups(list(groups, own), parts$most_groups)
    }, found, own)
    records <- records + if (length(own)) sum(own[[1L]]$records) else 0
    show_reading(basename(parts$files[max(at)]), sum(sizes[seq_len(max(at))]) / sum(sizes),
                 records, began)
  }
  lapply(seq_along(sets), function(t) {
    groups_of_frame(found[[t]], sets[[t]], measures)
  })
}

# Several parts as plain files, for as long as `work` runs.
with_plain_parts <- function(files, call, work, paths = character()) {
  if (!length(files)) return(work(paths))
  with_plain_part(files[1L], call, function(path) {
    with_plain_parts(files[-1L], call, work, c(paths, path))
  })
}

# ---- frames as groups ----

# Data frames of the same columns, one below the other, in the groups of a set, a list of columns:
# k1, k2, ... (of a number that is cut, where it lies; its value is m1, ...), signs, and sums. With
# `halves` both halves of a large one are worked on at once.
frame_groups <- function(frames, set, measures, apart, halves) {
  parts <- lapply(frames, part_to_group, set = set, measures = measures, apart = apart)
  found <- frame_groups_kernel(lapply(parts, `[[`, "own"), halves, setting("threads"))
  signs <- names(parts[[1L]]$signs)
  added_groups(lapply(found, function(one) {
    at <- values_in_records(parts, one$first)
    table <- c(at("keys"), at("values"),
               list(sw = sign_of_standing(one$weight), sn = sign_of_standing(one$count),
                    sr = one$there), one[c("records", "n", "w", "w2")],
               stats::setNames(one$replicates, sprintf("r%d", seq_along(one$replicates))))
    table[signs] <- at("signs")
    table
  }), Inf)
}

# The columns of a data frame by which its records are told apart, and what the kernel takes of
# it (`own`).
part_to_group <- function(data, set, measures, apart) {
  whole <- lapply(data[set$columns], function(x) {
    if (inherits(x, "integer64")) plain_column(x) else x
  })
  between <- lapply(stats::setNames(nm = names(set$cuts)), function(name) {
    place_between(data[[name]], set$cuts[[name]], apart[[name]])
  })
  keys <- c(whole, between)
  weight <- if (!is.null(measures$weight)) number_or_sign(data[[measures$weight]])
  count <- if (!is.null(measures$count)) number_or_sign(data[[measures$count]])
  signs <- Filter(length, list(sw = weight$sign, sn = count$sign))
  list(keys = stats::setNames(keys, sprintf("k%d", seq_along(keys))),
       values = stats::setNames(as.list(data)[names(set$cuts)],
                                sprintf("m%d", seq_along(set$cuts))),
       signs = signs,
       own = list(size = nrow(data), columns = unname(c(keys, signs)), weight = weight$number,
                  count = count$number,
                  replicates = lapply(measures$replicates, function(name) {
                    number_or_sign(data[[name]])$number
                  })))
}

# Gives the values of columns of parts, one below the other, in some records, whose places ascend.
values_in_records <- function(parts, places) {
  sizes <- vapply(parts, function(part) part$own$size, 0)
  before <- cumsum(c(0, sizes))
  rows <- lapply(seq_along(parts), function(p) {
    places[places > before[p] & places <= before[p + 1L]] - before[p]
  })
  function(kind) {
    lapply(stats::setNames(nm = names(parts[[1L]][[kind]])), function(name) {
      values_below(Map(function(part, rows) plain_column(part[[kind]][[name]][rows]), parts, rows))
    })
  }
}

# The numbers of a weight or count, and, of text, how it stands: missing, or -2.
number_or_sign <- function(x) {
  x <- plain_column(x)
  if (is.numeric(x) && !is.factor(x)) return(list(number = as.numeric(x)))
  list(number = rep(NA_real_, length(x)), sign = ifelse(is.na(x), NA, -2L))
}

# Whether a weight or count is missing, 0, above or below it, or without end.
sign_of_standing <- function(standing) c(NA, 0L, 1L, -1L, infinite_sign)[standing + 1L]

# Sums of the rows that are alike in `by`, names of columns; of values in between the first is
# kept.
summed_groups <- function(table, by) {
  kept <- names(table) %in% by | startsWith(names(table), "m")
  part <- list(size = length(table$records), columns = unname(table[by]),
               replicates = lapply(unname(table[!kept]), as.numeric))
  found <- frame_groups_kernel(list(part), FALSE, 1L)[[1L]]
  table[kept] <- lapply(table[kept], function(x) x[found$first])
  table[!kept] <- found$replicates
  table
}

added_groups <- function(tables, most_groups) {
  tables <- Filter(length, tables)
  if (length(tables) == 1L) return(tables[[1L]])
  both <- lapply(stats::setNames(names(tables[[1L]]), names(tables[[1L]])),
                 function(name) {
                   parts <-
                     lapply(tables, function(table) unfactored(table[[name]]))
                   values_below(parts)
                 })
  out <-
    summed_groups(both, grep("^(k[0-9]+|sw|sn|sr)$", names(both), value = TRUE))
  if (length(out$records) > most_groups) stop_too_many_kept(most_groups, NULL)
  out
}

unfactored <- function(x) if (is.factor(x)) as.character(x) else x

# Where numbers lie between cuts, as the database says it (sql_cut() in
# R/records-sql.R).
place_between <- function(x, cuts, apart) {
  # no numbers: told apart by what they are
  if (is.character(x) || is.factor(x)) return(as.character(x))
  x <- as.numeric(plain_column(x))
  place <- numeric(length(x))
  for (k in seq_len(nrow(cuts)))
    place <- place + if (cuts$upto[k]) x > cuts$at[k] else x >= cuts$at[k]
  out <- 2 * place + (x != floor(x))
  ifelse(x %in% apart, -match(x, apart), out)
}

groups_of_frame <- function(table, set, measures) {
  data <- c(lapply(seq_along(set$columns), function(k) {
    table[[sprintf("k%d", k)]]
  }), lapply(seq_along(set$cuts), function(k) table[[sprintf("m%d", k)]]))
  names(data) <- c(set$columns, names(set$cuts))
  weighted <- !is.null(measures$weight)
  replicates <- if (length(measures$replicates))
    replicates_there(do.call(cbind,
                             table[sprintf("r%d", seq_along(measures$replicates))]),
                     table$sr)
  list(data = list2DF(lapply(data, plain_column), nrow = length(table$records)),
       kept = list(), records = table$records, n = table$n,
       w = if (weighted) table$w, w2 = if (weighted) table$w2,
       weight = if (weighted) table$sw,
       count = if (!is.null(measures$count)) table$sn, replicates = replicates)
}

# ---- Parquet ----

# Other people's reader of Parquet works in a process of its own (see
# in_child()), where the groups are made too.
parquet_head <- function(path, file, call) {
  check_parquet(path, file, call)
  in_child(function(path) {
    groups <- nanoparquet::read_parquet_metadata(path)$row_groups
    read <- if (nrow(groups) > 1L)
      asNamespace("nanoparquet")$read_parquet_row_group
    as.data.frame(if (is.null(read)) nanoparquet::read_parquet(path) else
                    read(path, 0L))[0L, , drop = FALSE]
  }, list(path), file, tells("a_parquet_file"), call)
}

groups_of_parquet <- function(paths, files, sets, measures, apart, call) {
  for (k in seq_along(paths)) check_parquet(paths[k], files[k], call)
  made <- function(paths, sets, measures, apart, threads) {
    options(fairlattice.threads = threads)
    asNamespace("fairlattice")$parquet_groups(paths, sets, measures, apart)
  }
  what <- tells("a_parquet_file")
  asked <- list(paths, sets, measures, apart, setting("threads"))
  found <- tryCatch(in_child(made, asked, files[1L], what, call),
                    fairlattice_error_file = function(e) {
                      if (length(paths) == 1L) stop(e)
                      # which of them it is
                      for (k in seq_along(paths))
                        groups_of_parquet(paths[k], files[k], sets, measures, apart, call)
                      stop(e)
                    })
  if (!is.null(found$odd)) {
    file <- files[match(found$path, paths)]
    stop_input(tells("does_not_columns_first_part", file, found$odd), "file", path = file,
               call = call)
  }
  found$groups
}

# The groups of several files, of each half of them at once; or a column that one of them lacks.
# The halves do not depend on the number of threads, so that sums do not. `most` cells are held at
# once by each half.
parquet_groups <- function(paths, sets, measures, apart, most = most_cells_held) {
  used <- unique(c(unlist(lapply(sets, `[[`, "columns")),
                   unlist(lapply(sets, function(set) names(set$cuts))),
                   unlist(measures)))
  for (path in paths) {
    odd <- setdiff(used, parquet_facts(path)$names)
    if (length(odd)) return(list(odd = odd[1L], path = path))
  }
  second <- 2L * (seq_along(paths) - 1L) >= length(paths)
  half <- function(own) {
    function() half_of_groups(own, used, sets, measures, apart, !any(second), most)
  }
  found <- at_once(half(paths[!second]), if (any(second)) half(paths[second]))
  list(groups = do.call(Map, c(function(...) added_groups(list(...), Inf), unname(found))))
}

# The columns that are needed of as many files as can be held together; of a file that cannot one
# row group after the other, of which all columns are read.
half_of_groups <- function(paths, used, sets, measures, apart, alone, most) {
  found <- rep(list(list()), length(sets))
  held <- list()
  rows <- 0
  put <- function(data) {
    if (length(held) && (rows + nrow(data)) * length(used) > most) group()
    held <<- c(held, list(as.data.frame(data)[used]))
    rows <<- rows + nrow(data)
  }
  group <- function() {
    frames <- alike_frames(held, used, rows)
    held <<- list()
    rows <<- 0
    found <<- Map(function(groups, set) {
      added_groups(list(groups, frame_groups(frames, set, measures, apart, alone)), Inf)
    }, found, sets)
  }
  for (path in paths) {
    in_file <- parquet_facts(path)$rows
    by_group <- if (length(in_file) > 1L && sum(in_file) * length(used) > most)
      asNamespace("nanoparquet")$read_parquet_row_group
    if (is.null(by_group)) put(nanoparquet::read_parquet(path, if (length(used)) used)) else
      for (k in seq_along(in_file)) put(by_group(path, k - 1L))
  }
  if (length(held)) group()
  found
}

# Frames whose columns are of the same types, which can be taken as they are; others as one.
alike_frames <- function(frames, columns, rows) {
  types <- lapply(frames, function(data) {
    lapply(data, function(x) if (is.factor(x)) levels(x) else c(typeof(x), class(x)))
  })
  if (length(unique(types)) == 1L) return(frames)
  list(list2DF(lapply(stats::setNames(nm = columns), function(name) {
    values_below(lapply(frames, `[[`, name))
  }), nrow = rows))
}

# A quarter of a gigabyte of numbers.
most_cells_held <- 3e7

# The columns of a file and the rows of its groups, looked up once while the process that reads
# stays.
parquet_facts <- function(path) {
  key <- paste(normalizePath(path), stamp_of(path))
  if (is.null(reader$facts[[key]])) {
    meta <- nanoparquet::read_parquet_metadata(path)
    reader$facts[[key]] <- list(names = meta$schema$name, rows = meta$row_groups$num_rows)
  }
  reader$facts[[key]]
}
