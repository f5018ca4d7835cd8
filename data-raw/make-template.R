# Packs data-raw/template into inst/templates/plain.docx, the template of Word documents where no other is named. Run
# from the root of the repository: Rscript data-raw/make-template.R
file <- file.path(getwd(), "inst", "templates", "plain.docx")
setwd("data-raw/template")
unlink(file)
zip::zip(file, union("[Content_Types].xml", list.files(recursive = TRUE, all.files = TRUE)), mode = "mirror")
