# Plans for tests: small ones from text, and mutations of a good one.

# A plan beside the demo records, from lines of YAML.
plan_file <- function(..., folder = withr::local_tempdir(.local_envir = parent.frame())) {
  for (name in c("veyra.csv", "veyra.schema.json")) file.copy(demo_file(name), folder)
  path <- file.path(folder, "test.plan.yml")
  writeLines(c(...), path)
  path
}

faults_of <- function(...) {
  path <- plan_file(..., folder = withr::local_tempdir())
  tryCatch({
    read_plan(path)
    NULL
  }, fairlattice_error_plan = function(e) e$faults)
}

demo_plan_folder <- function(env = parent.frame()) {
  folder <- withr::local_tempdir(.local_envir = env)
  for (name in list.files(dirname(demo_file("veyra.csv")))) file.copy(demo_file(name), folder)
  folder
}

# One change to the lines of a plan: a line gone, doubled, moved in or out, a word replaced by a hostile one, bytes
# damaged.
mutated_plan <- function(lines) {
  hostile <- c("", "~", "[]", "{}", "[[", "{a: {b: [", "'", "\"", "!!r x", "*a", "&a b", "- -", ": :", "yes", "-1", "1e999",
               ".nan", "none", "every question", "*", "\t", "|", ">", "? x", "x: y: z", "\u202e", "2030-01-01", "0x1F",
               "[1, [2, [3]]]", "age >= ", "system('x')", strrep("[", 60L), strrep("a", 400L))
  for (k in seq_len(sample(1:3, 1L))) {
    at <- sample.int(length(lines), 1L)
    words <- regmatches(lines[at], gregexpr("[^ ,:{}\\[\\]]+", lines[at], perl = TRUE))[[1L]]
    lines <- switch(
      sample(6L, 1L),
      lines[-at], append(lines, lines[at], at), replace(lines, at, paste0("  ", lines[at])),
      replace(lines, at, sub("^ {1,2}", "", lines[at])),
      if (length(words)) replace(lines, at, sub(sample(words, 1L), sample(hostile, 1L), lines[at], fixed = TRUE)) else lines,
      strsplit(rawToChar(Filter(function(b) b != 0, damage(charToRaw(paste(lines, collapse = "\n"))))), "\n",
               useBytes = TRUE)[[1L]])
    if (!length(lines)) lines <- ""
  }
  lines
}

# What came of a mutated plan: read whole, or refused in our words.
plan_case <- function(lines, folder) {
  path <- file.path(folder, "mutated.plan.yml")
  connection <- file(path, "wb")
  writeLines(lines, connection, useBytes = TRUE)
  close(connection)
  verdict_of(function() read_plan(path))
}
