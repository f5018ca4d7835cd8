# Books kept from one run to the next: keyed by the records' bytes, the plan's
# text and the version. What cannot be read is made anew, and that is said.

# Where a book would be kept and under which key; NULL where nothing is kept.
cache_entry <- function(path, records, before, only, cache, call) {
  if (isFALSE(cache)) return(NULL)
  if (!isTRUE(cache) &&
        !(is.character(cache) && length(cache) == 1L && !is.na(cache)))
    stop_input(tells("cache_true_false_one_folder", quote_value(cache)), "flag",
               call = call)
  if (!is.character(records %||% "") || is.data.frame(before) ||
        inherits(before, "fairlattice_survey")) return(NULL) # what is in memory has no name
  plan <- parsed_plan(path, call)
  if (length(plan$faults$found)) return(NULL)
  plan$folder <- dirname(path)
  files <- if (!records_elsewhere(plan$asked$records))
    files_of_book(plan, path, records, before)
  # reading them will say so; what is elsewhere has no hash
  if (!length(files) || !all(file.exists(files))) return(NULL)
  settings <- options()[startsWith(names(options()), "fairlattice.")]
  settings$fairlattice.threads <- NULL
  key <- hash_of(unname(vapply(files, cli::hash_file_sha256, "")),
                basename(files), only, before,
                utils::packageDescription("fairlattice", fields = c("Version", "Built")),
                R.version.string, settings)
  folder <- if (isTRUE(cache)) tools::R_user_dir("fairlattice", "cache") else
    cache
  list(folder = folder,
       file = file.path(folder, paste0("book-", key, ".rds")),
       key = key, outputs = outputs_of_plan(plan))
}

# The plan, and all files that its book is made of.
files_of_book <- function(plan, path, records, before) {
  section_files <- function(section) {
    beside_plan(plan,
                c(section$file,
                  section$codebook %||%
                    unlist(lapply(section$file, function(file) {
                      codebook_beside(beside_plan(plan, file))
                    }))))
  }
  file_before <- if (is.null(before)) section_files(plan$asked$before) else
    if (is.character(before)) before
  files <- c(path, records %||% section_files(plan$asked$records), file_before,
             if (!is.null(plan$asked$style))
               beside_plan(plan, plan$asked$style))
  # other records have a codebook of their own, or that of the plan's records
  known <- section_files(plan$asked$records)[-1L]
  files <- unique(c(files,
                    unlist(lapply(c(records, if (is.character(before)) before),
                                  codebook_beside)), known[file.exists(known)]))
  files
}

kept_book <- function(kept) {
  if (is.null(kept) || !file.exists(kept$file)) return(NULL)
  found <-
    tryCatch(suppressWarnings(readRDS(kept$file)), error = function(e) NULL)
  if (is.list(found) && identical(found$key, kept$key) &&
        inherits(found$book, "fairlattice_book")) {
    Sys.setFileTime(kept$file, Sys.time())
    # the same plan may stand elsewhere now
    found$book$outputs <- kept$outputs
    return(found$book)
  }
  rlang::inform(words("cache.unreadable", file = kept$file),
                class = "fairlattice_message")
  NULL
}

# The newest so many stay.
most_kept <- 20L

# A book that cannot be kept is made all the same, and that is said.
keep_book <- function(b, kept) {
  if (is.null(kept)) return(invisible())
  tryCatch({
    dir.create(kept$folder, recursive = TRUE, showWarnings = FALSE)
    write_beside(kept$file, function(file) {
      saveRDS(list(key = kept$key, book = b), file, compress = FALSE)
    }, NULL)
    all <-
      list.files(kept$folder, "^book-[0-9a-f]{32}[.]rds$", full.names = TRUE)
    unlink(all[order(file.mtime(all), decreasing = TRUE)][-seq_len(most_kept)])
  }, error = function(e) {
    rlang::inform(words("cache.unwritten", folder = kept$folder),
                  class = "fairlattice_message")
  })
  invisible()
}
