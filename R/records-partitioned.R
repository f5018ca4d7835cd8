# Folders whose names say something of the records in them, as many programs write
# them: in sex=male/year=2024/part-0.parquet every record has the sex male and the year
# 2024. Such keys are columns, though no file holds them.

# The files of a folder, however deep, of the kinds that `kind_of` knows; those whose
# names begin with a dot or an underscore are somebody's notes.
files_in_folder <- function(folder, kind_of) {
  found <- list.files(folder, recursive = TRUE)
  hidden <- grepl("(^|/)[._]", found)
  file.path(folder, sort(found[!hidden & !is.na(kind_of(found))], method = "radix"))
}

# The keys of files, one row a file, as text; no columns where folders say nothing. A
# key that is said to be missing is written __HIVE_DEFAULT_PARTITION__ by those who
# write such folders.
keys_of_files <- function(files, call) {
  folders <- strsplit(dirname(files), "/", fixed = TRUE)
  said <- lapply(folders, function(one) grep("^[^=]+=", one, value = TRUE))
  names <- lapply(said, function(one) decoded(sub("=.*", "", one)))
  other <- which(!vapply(names, identical, NA, names[[1L]]))
  if (length(other))
    stop_input(tells("folders_say_different_keys", files[1L],
                     list_some(names[[1L]] %||% "-"), files[other[1L]]), "file",
               path = files[other[1L]], call = call)
  values <- lapply(said, function(one) sub("^[^=]*=", "", one))
  keys <- lapply(seq_along(names[[1L]]), function(k) {
    value <- decoded(vapply(values, `[[`, "", k))
    replace(value, value == "__HIVE_DEFAULT_PARTITION__" | !nzchar(value), NA)
  })
  list2DF(stats::setNames(keys, names[[1L]]), nrow = length(files))
}

decoded <- function(x) vapply(x, utils::URLdecode, "", USE.NAMES = FALSE)

# Keys stand for columns of the files where those have them, too.
check_keys <- function(keys, columns, files, call) {
  twice <- intersect(names(keys), columns)
  if (length(twice))
    stop_input(tells("key_is_column_too", twice[1L], basename(files[1L])), "file",
               path = files[1L], call = call)
  keys
}

# The parts of one folder have the same keys: a list of file numbers, and their keys as
# columns of one row each.
partitions_of <- function(keys) {
  said <- do.call(paste, c(lapply(keys, function(x) paste0(is.na(x), x)), sep = "\r"))
  at <- match(said, unique(said))
  list(files = unname(split(seq_along(at), at)),
       keys = lapply(keys, function(x) typed_cells(x[!duplicated(at)], ".")))
}

# A condition as the keys of the partitions (one row each) tell it, where it is of keys
# alone.
truth_of_keys <- function(keys, condition, call) {
  if (!all(all.vars(condition$tree) %in% names(keys))) return(NULL)
  kept_by(rlang::new_quosure(condition$tree, baseenv()), keys, call)$kept
}

# The sums of partitions one after the other, their keys added. One that no set keeps
# anything of is not opened, unless there is a design: whom a condition leaves out
# belongs to it still. `read` gives the groups of files.
partitioned_sums <- function(parts, sets, measures, read) {
  partitions <- parts$partitions
  keys <- names(partitions$keys)
  odd <- intersect(unlist(measures), keys)
  if (length(odd)) stop_input(tells("key_is_no_number_of_records", odd[1L]), "weight",
                              call = parts$call)
  own <- lapply(sets, function(set) {
    list(columns = setdiff(set$columns, keys), cuts = set$cuts[setdiff(names(set$cuts), keys)],
         conditions = list())
  })
  kept <- vapply(sets, function(set) {
    Reduce(`&`, lapply(set$conditions, function(truth) truth %in% TRUE),
           rep(TRUE, length(partitions$files)))
  }, logical(length(partitions$files)))
  wanted <- rowSums(matrix(kept, length(partitions$files))) > 0
  opened <- if (isTRUE(attr(measures, "designed")) || !any(wanted)) seq_along(wanted) else
    which(wanted)
  found <- lapply(opened, function(p) {
    groups <- read(parts$files[partitions$files[[p]]], own)
    Map(with_keys, groups, sets, list(lapply(partitions$keys, `[`, p)), p)
  })
  files <- lengths(partitions$files)
  unread <- c(sum(files) - sum(files[opened]), sum(files))
  lapply(seq_along(sets), function(t) {
    c(groups_below(lapply(found, `[[`, t)), if (unread[1L]) list(unread = unread))
  })
}

# The groups of a partition with its keys, in the order of the set's columns, and with
# what it says of the conditions.
with_keys <- function(groups, set, keys, p) {
  size <- length(groups$records)
  wanted <- c(set$columns, names(set$cuts))
  data <- c(as.list(groups$data), lapply(keys, rep_len, size))
  groups$data <- list2DF(data[wanted], nrow = size)
  groups$kept <- lapply(set$conditions, function(truth) rep_len(truth[p], size))
  groups
}

# Groups of several partitions as one list of them. A column that is of numbers in one
# and of texts in another is of texts.
groups_below <- function(groups) {
  below <- function(values) {
    if (is.matrix(values[[1L]])) do.call(rbind, values) else values_below(values)
  }
  columns <- function(parts) {
    lapply(stats::setNames(seq_along(parts[[1L]]), names(parts[[1L]])),
           function(k) below(lapply(parts, `[[`, k)))
  }
  first <- groups[[1L]]
  out <- lapply(stats::setNames(names(first), names(first)), function(name) {
    values <- lapply(groups, `[[`, name)
    if (is.list(first[[name]])) columns(values) else
      if (!is.null(first[[name]])) below(values)
  })
  out$data <- list2DF(out$data, nrow = length(out$records))
  out
}
