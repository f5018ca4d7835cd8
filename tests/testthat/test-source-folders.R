# Folders whose names are columns.

# The demo survey as text in folders by way of answering and island.
in_folders <- function(codes = TRUE, write = NULL, ending = "csv",
                       folder = withr::local_tempdir(.local_envir = parent.frame())) {
  records <- utils::read.csv(demo_file("veyra.csv"))
  keys <- c("mode", "island")
  write <- write %||% function(x, path) utils::write.csv(x, path, row.names = FALSE, na = "")
  for (some in split(records, records[keys], drop = TRUE)) {
    own <- file.path(folder, sprintf("mode=%s/island=%s", some$mode[1], some$island[1]))
    dir.create(own, recursive = TRUE)
    write(some[setdiff(names(records), keys)], file.path(own, paste0("part-0.", ending)))
  }
  records_in_chunks(folder, codebook = if (codes) demo_file("veyra.schema.json"))
}
here <- suppressMessages(read_records(demo_file("veyra.csv")))
cells <- function(x) as.data.frame(x)

test_that("what folders say are columns like others", {
  source <- in_folders()
  expect_setequal(names(source$columns), names(here))
  for (design in list(list(), list(weight = "weight"),
                      list(weight = "weight", stratum = "island", cluster = "settlement"))) {
    far <- do.call(respondents, c(list(source), lapply(design, as.name)))
    near <- do.call(respondents, c(list(here), lapply(design, as.name)))
    expect_equal(cells(crosstab(far, ferry, island)), cells(crosstab(near, ferry, island)))
    expect_equal(cells(crosstab(far, leave, tenure, each = mode)),
                 cells(crosstab(near, leave, tenure, each = mode)))
    many <- lapply(list(far, near), function(s) {
      lapply(single_tables(crosstab(s, c(ferry, leave), c(mode, island))), cells)
    })
    expect_equal(many[[1]], many[[2]])
    adults <- lapply(list(far, near), function(s) {
      crosstab(band(among(s, age >= 30), age, breaks = c(30, 50)), age, island)
    })
    expect_equal(cells(adults[[1]]), cells(adults[[2]]))
  }
})

test_that(paste("files that a condition leaves out are not opened where nobody else",
                "belongs to the sample"), {
  source <- in_folders()
  far <- respondents(source)
  some <- crosstab(among(far, mode == "Web" & island %in% c("Tarn", "Norrey")), ferry, island)
  near <- crosstab(among(here, mode == "Web" & island %in% c("Tarn", "Norrey")), ferry, island)
  expect_equal(cells(some), cells(near))
  expect_identical(some$tally$facts$notes$unread_parts, c(13L, 15L))
  expect_match(format(cautions(some)), "13 of 15 files of the folder were not opened", all = FALSE)
  # to a design everybody belongs
  designed <- function(x) respondents(x, weight = weight, stratum = island, cluster = settlement)
  whole <- lapply(list(source, here), function(x) {
    crosstab(among(designed(x), mode == "Web" & island == "Tarn"), ferry, tenure)
  })
  expect_equal(cells(whole[[1]]), cells(whole[[2]]))
  expect_equal(as.data.frame(tests(whole[[1]])), as.data.frame(tests(whole[[2]])))
  # a condition of a column of the files, or of both, opens all
  both <- crosstab(among(far, mode == "Web" | age > 60), ferry, island)
  expect_null(both$tally$facts$notes$unread_parts)
  expect_equal(cells(both), cells(crosstab(among(here, mode == "Web" | age > 60), ferry, island)))
  expect_error(crosstab(among(far, mode == "Nobody"), ferry, island), class = "fairlattice_error")
})

test_that("keys are texts or numbers, decoded, and may be missing", {
  folder <- withr::local_tempdir()
  add <- function(name, a, b = c("x", "y")) {
    dir.create(file.path(folder, name))
    writeLines(c("a,b", paste(a, b, sep = ",")), file.path(folder, name, "p.csv"))
  }
  add("place=Norrey%20East", c(1, 2))
  add("place=Harrow%2FSkerry", c(1, 1))
  add("place=__HIVE_DEFAULT_PARTITION__", c(2, 2))
  writeLines("kept by another program", file.path(folder, "_SUCCESS.txt"))
  survey <- respondents(records_in_chunks(folder))
  x <- crosstab(survey, a, place)
  expect_identical(x$tally$across$answers %||% colnames(x$layers[[1]]$n),
                   c("Harrow/Skerry", "Norrey East"))
  expect_identical(unname(rowSums(x$layers[[1]]$n)), c(3, 1))
  expect_identical(sum(account_of(x$tally)$left_out$records), 2)
  # a codebook beside the folder
  writeLines('{"fields": [{"name": "place", "title": "Where"}]}', paste0(folder, ".schema.json"))
  withr::defer(unlink(paste0(folder, ".schema.json")))
  expect_identical(crosstab(respondents(records_in_chunks(folder)), a, place)$tally$across$label,
                   "Where")
  dir.create(file.path(folder, "town=T"))
  writeLines(c("a,b", "1,x"), file.path(folder, "town=T", "p.csv"))
  expect_error(records_in_chunks(folder), "differ in what their names say",
               class = "fairlattice_error_file")
  unlink(file.path(folder, "town=T"), recursive = TRUE)
  add("place=T", 3)
  writeLines(c("a,b,place", "1,x,T"), file.path(folder, "place=T", "p.csv"))
  expect_error(crosstab(respondents(records_in_chunks(folder)), a, place), "place",
               class = "fairlattice_error_file")
  expect_error(respondents(in_folders(codes = FALSE), weight = mode) |> crosstab(ferry, leave),
               "can be no weight", class = "fairlattice_error_weight")
})

test_that("folders of Parquet and JSON lines are folders, too", {
  lines <- function(x, path) {
    con <- file(path, "w")
    on.exit(close(con))
    jsonlite::stream_out(x, con, verbose = FALSE, na = "null")
  }
  wanted <- cells(crosstab(respondents(here, weight = weight), ferry, island))
  expect_equal(cells(crosstab(respondents(in_folders(write = lines, ending = "jsonl"),
                                          weight = weight), ferry, island)), wanted)
  skip_if_not_installed("nanoparquet")
  source <- in_folders(write = nanoparquet::write_parquet, ending = "parquet")
  expect_equal(cells(crosstab(respondents(source, weight = weight), ferry, island)), wanted)
  # the command takes the folder as it is
  folder <- withr::local_tempdir()
  in_folders(folder = folder)
  printed <- utils::capture.output(suppressMessages(main(
    c("crosstab", folder, "--in-chunks", "--codebook", demo_file("veyra.schema.json"), "--down",
      "ferry", "--across", "island", "--among", "mode == 'Web'"))))
  expect_match(printed, "10 of 15 files of the folder were not opened", all = FALSE)
})

test_that("Parquet gives the same groups whatever is held at once, by row groups, too", {
  skip_if_not_installed("nanoparquet")
  data <- raw_survey()[c("ferry", "island", "weight", "age")]
  files <- list.files(folder_of_parts(data, 3L, ".parquet"), full.names = TRUE)
  sets <- list(list(columns = c("ferry", "island"),
                    cuts = list(age = new_cuts(below = 40)), conditions = list()))
  groups <- function(...) {
    found <- parquet_groups(files, sets, list(weight = "weight"), list(), ...)$groups[[1]]
    found[c("m1", "sr")] <- NULL # of a number that is cut one of those met
    found <- as.data.frame(found)
    found[do.call(order, found[c("k1", "k2", "k3", "sw")]), ]
  }
  whole <- groups()
  expect_identical(sum(whole$records), as.numeric(nrow(data)))
  expect_equal(sum(whole$w, na.rm = TRUE), sum(data$weight, na.rm = TRUE))
  for (most in c(1, 2000, 1e5)) expect_equal(groups(most = most), whole, ignore_attr = TRUE)
  withr::local_options(fairlattice.threads = 1L)
  expect_identical(groups(), whole)
  expect_identical(parquet_groups(files, list(list(columns = "none")), list(), list())$odd, "none")
})
