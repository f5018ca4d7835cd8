library(testthat)
library(fairlattice)

test_check("fairlattice")
