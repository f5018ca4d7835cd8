# The main job on the demo survey, as `make demo` runs it.

test_that("the demo makes one of each form that this machine can make", {
  withr::local_dir(withr::local_tempdir())
  words <- strsplit(commands()$demo$example[1L], " ")[[1L]]
  expect_identical(call_main(words)$status, 0L)
  made <- list.files(words[length(words)])
  expect_true(all(c(paste0(vapply(demo_tables, `[[`, "", "file"), ".json"),
                    "veyra.html", "veyra.md", demo_files,
                    "heating-by-island.svg") %in% made))
})

test_that("between the waves of the demo people came to heat pumps and lost faith in the ferry", {
  share <- function(question, answers, wave) {
    rows <- shares(crosstab(survey_of(demo_records(wave = wave)), !!question))
    sum(rows$share[rows$down %in% answers])
  }
  expect_gt(share("heating", "Heat pump", "now"), share("heating", "Heat pump", "before") + 0.03)
  content <- c("Satisfied", "Very satisfied")
  expect_lt(share("ferry", content, "now"), share("ferry", content, "before"))
})
