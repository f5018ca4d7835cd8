# Lines of JSON in chunks: they are scanned as text is (R/records-chunks.R), and what their cells
# hold is read by the parser that reads whole files.

# Kinds are seen from the first thousand records.
lines_head <- function(path, file, call) {
  json_frame(lines_from(path, 1000L, file, call), 0, file, call)
}

# A line that holds a zero byte would end there without a word.
lines_from <- function(from, most, file, call) {
  withCallingHandlers(readLines(from, most), warning = function(w) {
    if (grepl("embedded nul", conditionMessage(w)))
      stop_input(c(tells("holds_zero_byte_no_json", file),
                   i = tells("get_again_where_came")),
                 "file", path = file, call = call)
    tryInvokeRestart("muffleWarning")
  })
}

# The values of a column by their cells: whatever it holds is read together, as in a whole file.
json_values <- function(cells, file, call) {
  if (!length(cells)) return(logical())
  parse_json_records(paste0("[", paste(cells, collapse = ","), "]"), function(why) {
    stop_input(c(tells("not_list_records", file), x = why), "file", path = file, call = call)
  })
}

# What is wrong with a line: it is no JSON, holds more than single values, or has a key that no
# record before it has.
stop_line <- function(number, columns, path, file, call) {
  line <- line_at(path, number, file, call)
  odd <- setdiff(names(json_frame(line, number - 1, file, call)), columns)
  stop_input(if (length(odd)) tells("key_first_thousand_records_do", odd[1L], file) else
               c(tells("line_not_json", format_count(number), file),
                 i = tells("json_lines_one_object_line")), "file", path = file, call = call)
}

line_at <- function(path, number, file, call) {
  from <- file(path, "r", encoding = "UTF-8")
  on.exit(close(from))
  before <- number - 1
  while (before > 0) before <- before - length(lines_from(from, min(before, 50000), file, call))
  lines_from(from, 1L, file, call)
}
