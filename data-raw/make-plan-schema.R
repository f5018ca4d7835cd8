# Writes the JSON Schema of a tab plan, for editors, from the keys that the reader checks by.
writeLines(fairlattice:::plan_schema(), "inst/extdata/plan.schema.json")
