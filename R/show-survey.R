# A survey in a few lines: what it is of, its design, and who was set aside.

#' @export
format.fairlattice_survey <- function(x, ...) {
  nothing_else(...)
  named <- Filter(Negate(is.null), x$roles)
  questions <- ncol(x$data)
  x <- grounded(x, character())
  units <- x$design$units
  aside <- records_by(x, x$aside %||% integer(), nrow(x$reasons))
  reasons <- function(records, reasons) {
    text <- reason_words(reasons$code, rep("", nrow(reasons)), reasons$detail)
    paste(format_count(records), text, collapse = "; ")
  }
  before <- x$before
  replicates <- x$design$replicates
  repeated <- length(unique(x$repeat_id))
  visible(c(
    words("survey_of", records = records_stood_for(x), questions = questions),
    if (!is.null(before))
      words("survey_before", records = sum(before$records),
            reasons = reasons(before$records, before)),
    if (length(named))
      paste0("  ",
             paste(sprintf("%s: %s", names(named),
                           vapply(named, paste, "", collapse = " > ")),
                   collapse = ", ")),
    if (x$design$stratified)
      words("survey_strata", strata = length(unique(units$stratum))),
    if (x$design$clustered) words("survey_clusters", clusters = first_stage_units(x$design)),
    if (!is.null(replicates))
      words("survey_replicates", replicates = length(replicates$scale),
            kind = replicates$kind),
    if (repeated) words("survey_repeats", ids = repeated),
    if (any(aside > 0))
      words("survey_aside", records = sum(aside),
            reasons = reasons(aside[aside > 0], x$reasons[aside > 0, ]))))
}

#' @export
print.fairlattice_survey <- function(x, ...) {
  cat(format(x, ...), sep = "\n")
  invisible(x)
}
