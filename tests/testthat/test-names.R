# One word for one thing: in R, on the command line, in plans and on the desk.
# Made from the registries.

exported <- getNamespaceExports("fairlattice")
arguments_of <- function(name) {
  names(formals(get(name, asNamespace("fairlattice"))))
}
flags_of <- function(command) {
  vapply(commands()[[command]]$options, option_name, "")
}

test_that(paste("a step has one name: its function, its key in a plan, its",
                "option and its words on the desk"), {
  steps <- prepare_steps()
  expect_true(all(names(steps) %in% exported))
  expect_identical(names(plan_keys()$prepare$keys), names(steps))
  for (verb in names(steps)) {
    step <- steps[[verb]]
    flags <- names(step$options)
    expect_true(all(flags %in% flags_of("crosstab")), info = verb)
    expect_true(all(flags %in% c(verb, names(step$keys))), info = verb)
    for (option in step$options) {
      expect_true(all(option$takes %in% names(step$keys)), info = verb)
    }
    # keys that are no arguments name what `...` holds
    held_by_dots <-
      c("answers", "nets", "name", "columns", "questions", "question")
    expect_identical(setdiff(
      names(step$keys),
      c(arguments_of(verb), held_by_dots)), character(), info = verb)
    if (!verb %in% c("one_per", "combine", "score_items", "subdivide"))
      expect_false(is.null(words_en[[paste0("desk.step.", verb)]]), info = verb)
  }
})

test_that("a choice has one name: the argument, the key in a plan, and the option", {
  expect_identical(names(choice_help), names(all_choices()))
  of_table <- table_choices()
  expect_identical(setdiff(names(of_table), arguments_of("crosstab")),
                   character())
  expect_setequal(setdiff(arguments_of("rechoose"), c("x", "...")),
                  chosen_anew())
  expect_identical(setdiff(names(layout_choices()), arguments_of("lay_out")),
                   character())
  keys <- c(names(setting_keys()), names(table_keys()))
  expect_identical(setdiff(names(all_choices()), keys), character())
  optional <- names(Filter(function(help) !is.null(help$group), choice_help))
  expect_identical(setdiff(optional, flags_of("crosstab")), character())
  expect_identical(setdiff(names(all_choices()), optional),
                   c("labels", "source"))
})

test_that(paste("who was asked is said by the same names everywhere, and so",
                "is what goes along with a table"), {
  asked <- setdiff(names(asked_keys()), exported) # functions of their own
  expect_identical(setdiff(asked, arguments_of("respondents")), character())
  expect_identical(setdiff(names(asked_keys()), flags_of("crosstab")),
                   character())
  expect_identical(setdiff(names(results_known), c(exported, "residuals")),
                   character())
  expect_identical(setdiff(names(results_known), flags_of("crosstab")),
                   character())
  expect_setequal(setting_keys()$along$choices,
                  setdiff(names(results_known), "write_up"))
  expect_true(all(c(names(prepare_steps()), "make_replicates", "crosstab") %in%
                    exported))
  expect_true(all(setdiff(
    names(commands()),
    c("completion", "demo", "plan")) %in% exported))
})

test_that("the table of names in the map is that of the registries", {
  map <- test_path("../../docs/ARCHITECTURE.md")
  skip_if(!file.exists(map), "the documents are not installed")
  lines <- readLines(map, encoding = "UTF-8")
  of <- function(kind) {
    row <- grep(sprintf("^[|] %s [|]", kind), lines, value = TRUE)
    regmatches(row, gregexpr("(?<=`)[a-z_]+(?=`)", row, perl = TRUE))[[1L]]
  }
  expect_identical(of("steps of preparing"), names(prepare_steps()))
  expect_identical(of("choices of a table"), names(table_choices()))
  expect_identical(of("choices of a layout"), names(layout_choices()))
  expect_identical(of("who was asked"), names(asked_keys()))
  expect_identical(of("results that go along"), names(results_known))
})

test_that("the way in names every function", {
  page <- tools::Rd_db("fairlattice")[["fairlattice-package.Rd"]]
  plain <- list(underline_titles = FALSE)
  text <- paste(utils::capture.output(tools::Rd2txt(page, options = plain)), collapse = " ")
  exported <- getNamespaceExports("fairlattice")
  told <- vapply(exported, function(name) grepl(paste0("\\b", name, "\\b"), text), NA)
  expect_identical(exported[!told], character())
  # and every article is one that R lists
  skip_if_not_installed("knitr")
  expect_gte(nrow(utils::vignette(package = "fairlattice")$results), 10L)
})
