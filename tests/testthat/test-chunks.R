# Files in chunks: the same records, cells, blank lines and faults as the reader
# of whole files finds, wherever a piece ends.

# Everything that the chunked reader makes of a file, with pieces of some bytes:
# cells by their texts, counts, the fault.
in_pieces <- function(path, columns, piece, threads = 2L, weight = -1L) {
  own <- scanned(path, columns, piece, threads, weight)
  key <- do.call(paste, c(own$cells, sep = "|"))
  list(records = own$now$records, blank = own$now$blank, fault = own$now$fault,
       line = if (nzchar(own$now$fault)) own$now$line,
       cells = if (own$now$fault == "ragged") own$now$cells,
       groups = tapply(own$sums$records, key, sum), sums = own$sums)
}

as_a_whole <- function(path) {
  read <- scan_delimited_kernel(path, ",", TRUE)
  cells <- lapply(read$data, function(x) ifelse(is.na(x), "", x))
  list(records = read$records, blank = read$blank, fault = read$fault,
       line = if (nzchar(read$fault)) read$line,
       cells = if (read$fault == "ragged") read$cells,
       groups = if (length(cells)) table(do.call(paste, c(cells, sep = "|"))))
}

test_that(paste("a file in pieces is the file as a whole: random text,",
                "quotes, line ends, blank lines and faults"), {
  set.seed(3)
  path <- withr::local_tempfile(fileext = ".csv")
  faults <- character()
  for (trial in 1:160) {
    signs <- sample(c("a", "bb", ",", ",", ",", "\n", "\n", "\r\n", " ", "\"",
                      "\"x,\ny\"", "1.5", "\t", "\r", "long text of it"),
                    sample(3:60, 1), TRUE,
                    prob = c(rep(3, 8), 1, 0.3, 1, 2, 0.3, 0.1, 1))
    if (trial %% 2)
      signs <- c(rbind(sample(c("a", "", "\"q\"\"\n\"", "7"), 40, TRUE),
                       rep(c(",", "\n"), 20)))
    writeBin(charToRaw(paste0("p,q\n", paste(signs, collapse = ""))), path)
    whole <- as_a_whole(path)
    faults <- c(faults, whole$fault)
    for (piece in c(1, 7, 64, 1e6)) {
      own <- in_pieces(path, 2L, piece)
      expect_identical(own$fault, whole$fault, info = paste(trial, piece))
      expect_identical(own[c("line", "cells")], whole[c("line", "cells")],
                       info = paste(trial, piece))
      if (whole$fault == "") {
        expect_identical(
          own[c("records", "blank")],
          whole[c("records", "blank")],
          info = paste(trial, piece))
        expect_equal(as.vector(own$groups[names(whole$groups)]),
                     as.vector(whole$groups), info = paste(trial, piece))
        expect_length(own$groups, length(whole$groups))
      }
    }
  }
  expect_setequal(faults,
                  # the corpus has met each
                  c("", "ragged", "after_quote", "unclosed"))
})

test_that("sums do not depend on the number of threads", {
  set.seed(5)
  path <- withr::local_tempfile(fileext = ".csv")
  data.table::fwrite(data.frame(q = sample(1:9, 5000, TRUE),
                                w = round(stats::rlnorm(5000), 5)), path)
  one <- in_pieces(path, 2L, 1000, 1L, 1L)
  expect_identical(in_pieces(path, 2L, 1000, 2L, 1L)$sums, one$sums)
  expect_equal(sum(one$sums$w), sum(read.csv(path)$w), tolerance = 1e-12)
})

test_that("numbers are read to the last bit, and what is no number is told apart", {
  set.seed(9)
  numbers <- c(sprintf("%.*g", sample(1:17, 300, TRUE),
                       stats::rlnorm(300, 0, 8)), "0", "-0", "1e5", "1E-7",
               "+3.25", ".5", "5.", "-.25", "123456789012345678", "0.1", "1e22",
               "3.0e0")
  folder <- withr::local_tempdir()
  path <- file.path(folder, "n.csv")
  writeLines(c("k,w", paste(seq_along(numbers), numbers, sep = ",")), path)
  value <- abs(as.numeric(numbers))
  some <- value < 2^53
  writeLines(c("k,w",
               paste(seq_along(numbers), sub("^-", "", numbers), sep = ",")[some]),
             path)
  keys <- list(list(column = 0L, cut = FALSE, at = numeric(), upto = logical(),
                    apart = numeric()))
  x <- chunked_kernel(",", ".", 2L, keys, list(0L), 1L, -1L, integer(), 1e6, 2L, character())
  open_chunked_kernel(x, path, 1e5, TRUE)
  while (step_chunked_kernel(x, 1L)$more) NULL
  found <- found_chunked_kernel(x)
  expect_identical(found$sets[[1]]$w[order(as.integer(found$texts[[1]][found$sets[[1]]$codes[[1]]]))],
                   value[some])
  for (odd in c("1,5", "007", "0x1F", "1e", "--1", "1.2.3", "NaN", "Inf", "e5",
                ".", "9007199254740993")) {
    writeLines(c("k;w", "1;1", sprintf("2;%s", odd)), path)
    expect_error(crosstab(respondents(records_in_chunks(
                                        path, decimal = ".", delimiter = ";"),
                                      weight = w), k), "holds text.*Line 3 of",
                 class = "fairlattice_error_weight")
  }
})

test_that(paste("cuts tell apart what lies on either side of them, whole",
                "numbers from others, and declared codes"), {
  data <- data.frame(n = c(17, 17.5, 18, 18.5, 34, 35, -9, NA), q = "a")
  set <- list(columns = character(),
              cuts = list(n = new_cuts(below = 18, upto = 34)),
              conditions = list())
  book <- withr::local_tempfile(fileext = ".schema.json")
  missing <- '"missingValues": [{"value": -9, "label": "Refused"}]'
  writeLines(paste0('{"fields": [{"name": "n", "type": "number", ', missing,
                    "}]}"), book)
  for (source in named_sources(data, book)) {
    found <- source$sums(list(set), list())[[1]]
    # by hand: under 18 (whole, not), from 18 to 34 (whole, not), over 34, -9,
    # none
    expect_setequal(found$data$n, c(17, 17.5, 18, 18.5, 35, -9, NA))
    expect_identical(sum(found$records[found$data$n %in% 18]), 2)
  }
})

test_that(paste("a part that is not as it should be is named, with its line,",
                "and nothing is published"), {
  folder <- withr::local_tempdir()
  path <- function(k) {
    file.path(folder, sprintf("part-%d.csv", k))
  }
  for (k in 1:5) writeLines(c("q,p,w", rep("1,a,1.5", 20)), path(k))
  table_of <- function(...) {
    crosstab(respondents(records_in_chunks(folder, ...), weight = w), q, p)
  }
  expect_identical(table_of()$tally$records, 100)
  refused <- function(lines, why, k = 4L, ...) {
    good <- readLines(path(k))
    writeBin(charToRaw(paste0(paste(lines, collapse = "\n"), "\n")), path(k))
    expect_error(table_of(...), why, class = "fairlattice_error")
    writeLines(good, path(k))
  }
  refused(c("q,p,w", "1,a,1", "1,a"), "Line 3 of \"part-4.csv\" has 2 cells")
  refused(c("q,p,w", "1,\"a,1"),
          "A quote that opens on line 2 of \"part-4.csv\" is never closed")
  refused(c("q,p", "1,a"), "do not have the same columns: \"w\"")
  refused(c("q;p;w", "1;a;1"), "another separator")
  refused("q,p,w", "has a header and no records")
  refused(c("q,p,w", "1,a,x"), "holds text.*Line 2 of \"part-4.csv\" has \"x\"")
  refused(c("q,p,w", "1,a,1", "1,\xe9,1"), "not UTF-8 text \\(part-4.csv:3\\)")
  refused(c("q,q,w", "1,a,1"), "two columns named \"q\"", 1L)
  schema <- file.path(folder, "own.schema.json")
  writeLines('{"fields": [{"name": "p", "categories": [{"value": "a", "label": "A"}]}]}',
             schema)
  refused(c("q,p,w", "", "1,a,1", "1,b,1", "1,b,1"),
          "value \"b\" \\(2 records: lines part-4.csv:4, part-4.csv:5\\)",
          codebook = schema)
  source <- records_in_chunks(folder)
  writeLines(c("q,p,w", "1,a,1"), path(2))
  expect_error(crosstab(respondents(source), q), "\"part-2.csv\" has changed",
               class = "fairlattice_error_changed")
  unlink(path(2))
  expect_error(crosstab(respondents(source), q),
               class = "fairlattice_error_changed")
  expect_error(records_in_chunks(withr::local_tempdir()),
               "no files that are read in chunks")
  expect_error(records_in_chunks(file.path(folder, "x.csv")),
               class = "fairlattice_error_no_file")
  xlsx <- file.path(folder, "a.xlsx")
  writeLines("x", xlsx)
  expect_error(records_in_chunks(xlsx), "not read in chunks")
  one <- file.path(folder, "one.csv")
  writeLines(c("q", "1"), one)
  expect_error(records_in_chunks(one), "one column only")
  writeLines(c('{"q": 1}', '{"q": 2', '{"q": 3}'),
             lines <- file.path(folder, "x.jsonl"))
  expect_error(records_in_chunks(lines), "Line 2 of \"x.jsonl\" is not JSON")
  writeLines('{"q": 1}', file.path(folder, "y.jsonl"))
  skip_if_not_installed("nanoparquet")
  nanoparquet::write_parquet(data.frame(q = 1), file.path(folder, "y.parquet"))
  for (other in c("y.jsonl", "part-1.csv")) {
    expect_error(
      records_in_chunks(file.path(folder, c("y.parquet", other))),
      "files of one kind")
  }
})

test_that(paste("packed parts, other separators, decimal commas, byte-order",
                "marks and Windows line ends are read"), {
  folder <- withr::local_tempdir()
  data <- data.frame(q = c("Yes, quite", "No", "No", NA), n = c(1.5, 2, 2.5, 4),
                     w = c(1, 2, 3, 4))
  near <- crosstab(respondents(data, weight = w), q, n)
  told <- function(path, ...) {
    crosstab(respondents(records_in_chunks(path, ...), weight = w), q, n)
  }
  write <- function(name, ...) {
    path <- file.path(folder, name)
    data.table::fwrite(data, path, na = "", ...)
    path
  }
  packed <- file.path(folder, "a.csv.gz")
  con <- gzfile(packed, "wb")
  writeBin(readBin(write("a.csv"), "raw", 1e4), con)
  close(con)
  expect_same_tally(near, told(packed))
  expect_same_tally(near, told(write("b.csv", sep = ";", dec = ",")))
  expect_same_tally(near, told(write("c.tsv", sep = "\t")))
  expect_same_tally(near, told(write("d.csv", bom = TRUE, eol = "\r\n")))
  expect_same_tally(near, told(write("e.txt", sep = "|"), delimiter = "bar"))
  expect_same_tally(crosstab(respondents(rbind(data, data), weight = w), q, n),
                    told(c(write("f.csv"), packed)))
})

test_that("numbers that differ are groups; both zeros are one, and all missing values", {
  groups <- function(x) {
    part <- list(size = length(x), columns = list(x), replicates = list())
    frame_groups_kernel(list(part), FALSE, 1L)[[1]]
  }
  x <- c(1.5, 2.5, 0, -0, NA, NaN, 1.5)
  found <- groups(x)
  expect_identical(found$first, c(1, 2, 3, 5))
  expect_identical(found$records, c(2, 1, 2, 2))
  withr::local_seed(4)
  x <- sample(c(rnorm(50), 0, NA), 4000, TRUE)
  found <- groups(x)
  expect_identical(x[found$first], unique(x))
  expect_identical(found$records, as.vector(tabulate(match(x, unique(x)))) + 0)
})

test_that("the different values of a column are told, and which of them every record has", {
  withr::local_seed(6)
  most <- .Machine$integer.max
  columns <- list(few = sample(c(-3:4, NA), 500, TRUE),
                  wide = sample(c(-most, 0L, most, NA), 500, TRUE),
                  yes = sample(c(TRUE, FALSE, NA), 500, TRUE),
                  whole = sample(c(-2, 7, NaN, NA), 500, TRUE),
                  fractions = sample(c(rnorm(300), -Inf, Inf, NA), 500, TRUE),
                  none = rep(NA_real_, 5), empty = integer(),
                  text = sample(c("b", "a", NA, ""), 500, TRUE))
  for (x in columns) {
    found <- different_values(x)
    values <- unique(x[!is.na(x)])
    expect_identical(found$values, if (is.character(x)) values else sort(values))
    expect_identical(found$codes, match(x, found$values, incomparables = c(NA, NaN)))
  }
  expect_identical(different_values(c(0, -0, 0.5))$codes, c(1L, 1L, 2L))
})

test_that("whole numbers of any range are told apart, together and beside others", {
  withr::local_seed(5)
  n <- 3000L
  most <- .Machine$integer.max
  columns <- list(few = sample(c(-3:4, NA), n, TRUE),
                  all = sample(c(-most, -1L, 0L, 1L, most, NA), n, TRUE),
                  none = rep(NA_integer_, n), wide = sample(c(-most, most), n, TRUE),
                  yes = sample(c(TRUE, FALSE, NA), n, TRUE),
                  text = sample(c("a", "b", NA), n, TRUE),
                  number = sample(c(0.5, 1, NA), n, TRUE))
  w <- sample(c(-1, 0, 1, 2, NA), n, TRUE)
  # in one part, and in several, one of which has no record
  parts_of <- function(keys, part) {
    lapply(1:4, function(p) {
      at <- which(part == p)
      list(size = length(at), columns = lapply(unname(keys), `[`, at), weight = w[at],
           replicates = list())
    })
  }
  several <- findInterval(seq_len(n), c(0, 700, 1800, 1800))
  for (some in list(names(columns), c("few", "yes"), c("text", "all", "few"), "none")) {
    # three of the widest have no room in one value
    keys <- columns[c(some, if (length(some) > 2L) c("all", "wide"))]
    found <- frame_groups_kernel(parts_of(keys, rep(1, n)), FALSE, 1L)[[1]]
    expect_identical(frame_groups_kernel(parts_of(keys, several), FALSE, 1L)[[1]], found)
    of <- do.call(paste, c(unname(keys), list(sign(w))))
    expect_identical(of[found$first], unique(of))
    expect_identical(found$records, tabulate(match(of, unique(of))) + 0)
    sums <- tapply(replace(w, is.na(w), 0), factor(of, unique(of)), sum)
    expect_equal(replace(found$w, is.na(found$w), 0), as.vector(sums))
  }
})
