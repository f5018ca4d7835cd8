# Many kinds of table, with every figure, every result and every form of each, as
# fingerprints held against what other tests, and eyes, found right. A line says what
# changed; where that is meant, FAIRLATTICE_WRITE_SHEETS=1 writes the fingerprints anew, to
# be read in the difference.

# The same of a list as deep as JSON is: records of one kind by their fields.
deep_prints <- function(x, name) {
  if (is.data.frame(x)) x <- as.list(x)
  if (is.list(x)) {
    parts <- names(x) %||% seq_along(x)
    return(unlist(Map(deep_prints, x, paste0(name, "/", parts)), use.names = FALSE))
  }
  paste(name, print_of(x))
}

records <- demo_records(700)
designed <- respondents(records, weight = weight, stratum = island, cluster = settlement)
few <- regroup(designed, internet, Poor = c("Very poor", "Poor"),
               Good = c("Good", "Very good"))
complex <- demo_records(500, complex = TRUE)
imputed <- lapply(1:3, function(m) {
  transform(complex, income = complex[[paste0("income_", m)]])
})

tables <- list(
  counts = function() crosstab_of_counts(hand_2x3),
  two_by_two = function() crosstab(records[1:80, ], leave, mode, explains = "down"),
  designed = function() crosstab(score(designed, ferry), ferry, internet),
  two_by_two_designed = function() crosstab(few, leave, internet, alpha = 0.1),
  tests_by_columns = function() {
    crosstab(records[1:40, ], heating, leave, correction = "benjamini_hochberg")
  },
  nets = function() {
    ages <- band(designed, age, breaks = c(18, 35, 50, 65), into = "ages")
    crosstab(net(score(ages, ferry), ferry, Content = c("Satisfied", "Very satisfied")), ferry,
             ages)
  },
  banner = function() crosstab(designed, leave, c(work, tenure)),
  layers = function() crosstab(designed, leave, tenure, each = mode),
  layers_drawn = function() crosstab(records[1:200, ], leave, mode, each = island),
  ticks = function() {
    crosstab(ticks(designed, why = c(reason_work, reason_ferry, reason_family)), why, tenure)
  },
  ticks_across = function() {
    crosstab(ticks(designed, why = c(reason_work, reason_ferry, reason_family)), mode, why)
  },
  alone = function() crosstab(score(designed, ferry), ferry),
  given = function() {
    crosstab(records, season, shares = c(Spring = 25, Summer = 40, Autumn = 25, Winter = 10))
  },
  number = function() crosstab(score(designed, years), years, island),
  battery = function() {
    crosstab(battery(designed, say = c(say_council, say_ferry, say_homes)), down = say)
  },
  paired = function() crosstab(designed, say_ferry, say_homes, paired = TRUE),
  paired_drawn = function() crosstab(records[1:150, ], say_ferry, say_homes, paired = TRUE),
  jackknife = function() crosstab(make_replicates(designed, "jackknife"), leave, tenure),
  bootstrap = function() {
    crosstab(make_replicates(respondents(records[1:200, ], weight = weight), "bootstrap",
                             replicates = 40, seed = 3), leave, mode)
  },
  finite = function() {
    crosstab(respondents(transform(records, all = 4000), stratum = island, population = all),
             leave, tenure)
  },
  raked = function() {
    crosstab(weigh_to(designed, list(leave = c(Yes = 36, No = 64),
                                     mode = c(Web = 40, Paper = 30, "At the door" = 30))),
             leave, tenure)
  },
  imputed = function() {
    crosstab(band(respondents(imputed, weight = weight, stratum = island, cluster = settlement),
                  income, breaks = c(0, 1000, 2000, 3000), into = "paid"), paid, tenure)
  },
  seven = function() crosstab(records[1:7, ], ferry, island, keep_empty = TRUE),
  among = function() crosstab(among(designed, island %in% c("Tarn", "Norrey")), ferry, island),
  within = function() crosstab(subdivide(designed, leave, by = mode), ferry, leave_by_mode))

# What each result is asked for; what a table does not have ends in a message, which is
# held, too.
results <- list(
  tests = tests, strength = function(x) strength(x, "all"), residuals = residuals,
  raw = function(x) residuals(x, "raw", correction = "benjamini_hochberg"),
  differences = differences,
  rest = function(x) differences(x, "rest"), shares = shares,
  korn_graubard = function(x) shares(x, interval = "korn_graubard"),
  risks = risks, totals = totals, means = means, quantiles = quantiles,
  inequality = inequality, pooled = pooled, standardised = standardised,
  detectable = function(x) detectable(x), working = working, cautions = cautions)

result_prints <- function(x) {
  unlist(lapply(names(results), function(name) {
    tryCatch({
      found <- results[[name]](x)
      frames <- if (is.data.frame(found)) list(found) else list(as.data.frame(found))
      c(frame_prints(frames[[1]], name),
        paste0(name, " says ", print_of(cli::ansi_strip(format(found, width = 72)))))
    }, error = function(e) paste0(name, " refuses: ", class(e)[1]))
  }))
}

for (name in names(tables)) {
  test_that(paste("figures and results of", name), {
    x <- withr::with_seed(1, tables[[name]]())
    file <- withr::local_tempfile(fileext = ".json")
    withr::with_seed(1, suppressMessages(publish(x, file)))
    json <- jsonlite::fromJSON(file)
    json[c("software", "digest", "made")] <- NULL
    held(unname(c(deep_prints(json, "json"), withr::with_seed(1, result_prints(x)))), "kept",
         name)
  })
}

# What is said of a table, and the table in every form: three sets of figures, with all
# lines, with letters, and as it comes. Of documents the numbers that say where things
# stand, and the texts.
shown <- list(
  list(show = c("column", "row", "total", "n", "weighted", "cumulative", "index"),
       lines = "working", notes = "A note.", base_rows = "top"),
  list(show = c("column", "interval", "se", "cv", "deff", "missing_information"),
       marks = "letters", flag_cv = 20, dress = "published"),
  list(show = c("n", "expected", "difference", "residual", "pearson", "adjusted",
                "contribution"), lines = "text", decimals = 2, sort = "size"),
  list(withhold_under = 15, dress = "published"), list(round_to = 5, round_seed = 1),
  list())

lay <- function(x, asked) tryCatch(do.call(lay_out, c(list(x), asked)), error = identity)

text_prints <- function(sheets, name) {
  if (inherits(sheets, "error")) return(paste(name, "refuses:", class(sheets)[1]))
  folder <- withr::local_tempdir()
  forms <- vapply(c("md", "tex", "csv", "html"), function(form) {
    path <- file.path(folder, paste0("t.", form))
    suppressMessages(publish(sheets, path))
    text <- paste(readLines(path, warn = FALSE, encoding = "UTF-8"), collapse = "\n")
    # of a page the tables, not its programs and data
    paste(name, form, print_of(gsub("(?s)<(script|style).*?</\\1>", "", text, perl = TRUE)))
  }, "")
  widths <- vapply(c(54, 110), function(width) {
    lines <- cli::ansi_strip(format(sheets, width = width))
    paste(name, width, max(nchar(lines)), print_of(lines))
  }, "")
  c(forms, widths)
}

document_prints <- function(sheets, name) {
  if (inherits(sheets, "error")) return(NULL)
  folder <- withr::local_tempdir()
  unlist(lapply(c(docx = "^word/document[.]xml$", xlsx = "^xl/worksheets/sheet[0-9]+[.]xml$",
                  pptx = "^ppt/slides/slide[0-9]+[.]xml$"), function(parts) {
    form <- c(w = "docx", x = "xlsx", p = "pptx")[[substr(parts, 2, 2)]]
    path <- file.path(folder, paste0("t.", form))
    suppressMessages(publish(sheets, path))
    utils::unzip(path, exdir = file.path(folder, form))
    found <- list.files(file.path(folder, form), recursive = TRUE)
    vapply(sort(grep(parts, found, value = TRUE)), function(part) {
      text <- paste(readLines(file.path(folder, form, part), warn = FALSE, encoding = "UTF-8"),
                    collapse = "")
      all_of <- function(pattern) { # byte by byte, since letters are counted from the start
        found <- regmatches(text, gregexpr(pattern, text, perl = TRUE, useBytes = TRUE))[[1]]
        Encoding(found) <- "UTF-8"
        found
      }
      numbers <- all_of("(?<==\")-?[0-9.]+(?=\")")
      texts <- all_of("(?<=>)[^<>]+(?=<)")
      paste(name, part, print_of(as.numeric(numbers)), "texts", print_of(texts))
    }, "")
  }))
}

in_documents <- c("nets", "ticks", "banner", "battery")
for (name in c(in_documents, "counts", "designed", "layers", "alone", "number", "paired",
               "imputed", "seven", "within")) {
  test_that(paste("forms of", name), {
    skip_if_not_installed("officer")
    x <- withr::with_seed(1, tables[[name]]())
    said <- if (!inherits(x, "fairlattice_banner"))
      paste("says", print_of(c(reading(x), write_up(x), write_up(x, "full"))))
    sheets <- lapply(shown[if (name %in% in_documents) 1:6 else 1:3], lay, x = x)
    names <- paste0("sheet", seq_along(sheets))
    held(unname(c(said, unlist(Map(text_prints, sheets, names)),
                  if (name %in% in_documents) document_prints(sheets[[1]], names[1]))),
         "kept", paste0(name, "-forms"))
  })
}
