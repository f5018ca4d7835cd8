library(testthat)
library(fairlattice)

# A few files that touch everything; `make test` runs them all, as FAIRLATTICE_TESTS=all does here.
few <- "^(answers|tally|crosstab|independence|strength|show|forms|counts|read)$"
test_check("fairlattice",
           filter = if (!identical(Sys.getenv("FAIRLATTICE_TESTS"), "all")) few)
