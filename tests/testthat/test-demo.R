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
