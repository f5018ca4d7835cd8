# Plans for tests: small ones from text, and mutations of a good one.

# A plan beside the demo records, from lines of YAML.
plan_file <- function(...,
                      folder = withr::local_tempdir(
                        .local_envir = parent.frame())) {
  for (name in c("veyra.csv", "veyra.schema.json")) file.copy(
    demo_file(name), folder)
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
  for (name in list.files(dirname(demo_file("veyra.csv")))) file.copy(
    demo_file(name), folder)
  folder
}
