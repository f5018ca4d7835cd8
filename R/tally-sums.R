# The sums of a tally, by cell, and what a tally is made of.

# The name of the question that everybody answers alike: a name that no column
# has.
everybody <- "\rall"

# The sums of every combination of answers that occurs in a design unit; an
# answer of 0 is none.
tally_records <- function(survey, answers, questions) {
  size <- function(side) length(questions[[side]]$levels)
  found <- tally_kernel(down = answers$down, across = answers$across,
               each = answers$each, unit = unit_of_tally(survey), weight = survey$weight,
               count = survey$count, aside = survey$aside,
               down_answers = size("down"), across_answers = size("across"),
               each_answers = size("each"), units = units_of_tally(survey$design),
               threads = setting("threads"))
  people_in(found, survey)
}

# Records of imputed data sets are of one person as often as there are imputations.
people_in <- function(cells, survey) {
  M <- imputations_of(survey$design)
  if (M > 1L && is.null(cells$unsound)) cells$records <- cells$records / M
  cells
}

# The same of records that stand for several: their sums, by cell.
tally_groups <- function(survey, answers) {
  asked <- if (!is.null(survey$aside)) which(survey$aside == 0L)
  inside <- function(x) if (is.null(asked)) x else x[asked]
  code <- function(x) {
    if (is.null(x)) return(0L)
    x <- inside(as.integer(unclass(x)))
    none <- is.na(x) | x < 1L
    if (any(none)) x[none] <- 0L
    x
  }
  sides <-
    list(down = answers$down, across = answers$across, each = answers[["each"]])
  codes <- lapply(sides, code)
  sizes <- vapply(sides, nlevels, 0L) + 1
  unit <- inside(unit_of_tally(survey) %||% rep(1L, nrow(survey$data)))
  cell <- different_kernel(cell_key(codes, sizes, unit))
  first <- cell$first
  codes <- lapply(codes, function(x) if (length(x) == 1L) rep(x, length(first)) else x[first])
  sum_of <- function(values) {
    sum_by_cell_kernel(cell$code, inside(as.numeric(values)), length(first))
  }
  sums <- survey$sums
  list(unit = unit[first], down = codes$down, across = codes$across, each = codes$each,
       records = sum_of(sums$records) / imputations_of(survey$design),
       n = sum_of(sums$n),
       w = sum_of(sums$w %||% sums$n), w2 = sum_of(sums$w2 %||% sums$n))
}

# One number a cell, in the order of design unit, each, across and down; `sizes`
# has how many answers each question has, none counted.
cell_key <- function(codes, sizes, unit = 1) {
  codes$down +
    sizes[["down"]] *
      (codes$across +
         sizes[["across"]] *
           ((codes$each %||% 0L) + (sizes["each"] %|NA|% 1) * (unit - 1)))
}

# Sums of every replicate weight over the same cells. Replicates have no design
# units, but for imputations.
sum_replicates <- function(survey, answers, cells) {
  at <- places_in_cells(survey, answers, cells)
  matrix(vapply(seq_along(survey$replicates), function(k) {
    sums <- survey$sums$replicates[, k] %||%
            (as.numeric(survey$data[[survey$replicates[k]]]) *
               (survey$count %||% 1))
    sum_by_cell_kernel(at, sums, nrow(cells))
  }, numeric(nrow(cells))), nrow(cells))
}

# Which cell of a tally every record is in; 0 of those in none.
places_in_cells <- function(survey, answers, cells) {
  code <- function(x) if (is.null(x)) 0L else ifelse(is.na(x) | x < 1L, 0L, x)
  sizes <- vapply(answers, nlevels, 0L) + 1
  codes <- lapply(answers, function(x) code(as.integer(unclass(x))))
  at <- match(cell_key(codes, sizes, unit_of_tally(survey) %||% 1),
              cell_key(cells, sizes, cells$unit), 0L)
  if (!is.null(survey$aside)) at[survey$aside > 0L] <- 0L
  at
}

# Sums over the cells of a tally: of w x (`auxiliary`), and, where every respondent
# is a cluster of their own, of the products of the weight with what is carried
# (`products`).
with_auxiliary <- function(cells, survey, answers) {
  if (is.null(survey$design$calibration)) return(cells)
  at <- places_in_cells(survey, answers, cells)
  inside <- which(at > 0L)
  found <- auxiliary_of(survey)
  rows <- respondents_of_rows(survey)
  weight <- survey$weight %||% rep(1, nrow(survey$data))
  sums <- function(parts, by) {
    M <- do.call(cbind, parts)[inside, , drop = FALSE]
    sums_by_group(M * by[inside], at[inside], nrow(cells))
  }
  cells$auxiliary <- sums(found$x, rows$n * weight)
  if (!survey$design$clustered)
    cells$products <- sums(found$carried, rows$n * rows$short * weight)
  cells
}

# The records that are left out before they are tallied, by reason.
aside_of <- function(survey) {
  aside <- survey$reasons
  aside$records <- if (is.null(survey$aside)) numeric(nrow(aside)) else
    records_by(survey, survey$aside, nrow(aside))
  if (is.null(survey$before)) aside else rbind(survey$before, aside)
}

# What cautions need beyond the sums.
tally_facts <- function(survey, answers, all = facts_of_all(survey)) {
  facts <- all$facts
  again <- all$again
  if (length(again)) {
    given <- paste(as.integer(answers$down[again]), as.integer(answers$across[again]))
    facts$differing_ids <- sum(tapply(given, all$id, function(x) length(unique(x)) > 1L))
  }
  facts["sample"] <- list(sampled_answers(all$sampled, answers))
  facts
}

# What is the same of every table of a survey: the `facts` themselves, the records of ids
# that occur twice among those who are not set aside (`again`, `id`), and who is `sampled`.
# Only the repeated records are looked at again.
facts_of_all <- function(survey) {
  again <- if (is.null(survey$aside)) survey$repeats else
    survey$repeats[survey$aside[survey$repeats] == 0L]
  id <- survey$repeat_id[match(again, survey$repeats)]
  twice <- id %in% id[duplicated(id)]
  again <- again[twice]
  id <- id[twice]
  facts <- list(
    roles = survey$roles, notes = survey$notes, cut = survey$cut,
    among = survey$among, source = survey$source, made = survey$made,
    margins = margins_of(survey),
    repeated_ids = length(unique(id)), repeated_records = length(again),
    differing_ids = 0L)
  # of records elsewhere only how many there are is known
  if (!is.null(survey$repeated) && !anyNA(survey$repeated))
    facts[c("repeated_ids", "repeated_records")] <- as.list(survey$repeated)
  list(facts = facts, again = again, id = id, sampled = sampled_respondents(survey))
}

# Some of the respondents, always the same ones, who are named by a hash (`who`): whether
# the answers of one question are parts of those of another cannot be told from the sums
# of both. NULL where rows stand for several records.
most_sampled <- 400L

sampled_respondents <- function(survey) {
  if (!is.null(survey$sums)) return(NULL)
  at <- sampled_rows_kernel(survey$aside, nrow(survey$data), most_sampled)
  first <- unclass(survey$data)[seq_len(min(3L, length(survey$data)))]
  if (length(at)) list(at = at, who = rows_hash_kernel(at, first))
}

# What they answered.
sampled_answers <- function(sampled, answers) {
  given <- function(x) if (nlevels(x) > 1L) levels(x)[unclass(x)[sampled$at]]
  if (length(sampled))
    list(who = sampled$who, down = given(answers$down), across = given(answers$across))
}

new_tally <- function(questions, design, cells, aside, records, facts) {
  told <- sum(cells$records) + sum(aside$records)
  if (abs(told - records) > 1e-9 * max(1, records) * (imputations_of(design) > 1L))
    stop("internal: the account of records does not add up")
  tally <- list(down = questions$down, across = questions$across,
                each = questions$each, design = design, cells = cells,
                aside = aside, records = records, facts = facts)
  class(tally) <- "fairlattice_tally"
  tally
}

# Sums of columns over groups, sorted by the groups (text in the same order on
# every machine).
sum_by <- function(data, by, columns) {
  by_group <-
    do.call(order, c(unname(as.list(data[by])), list(method = "radix")))
  data <- data[by_group, , drop = FALSE]
  if (!nrow(data)) return(data)
  new <- rowSums(as.matrix(as.data.frame(lapply(data[by], function(x) {
    x[is.na(x)] <- ""
    c(TRUE, x[-1L] != x[-length(x)])
  })))) > 0
  out <- data[new, , drop = FALSE]
  group <- cumsum(new)
  sums <- lapply(data[columns], function(x) {
    sum <- unname(rowsum(x, group))
    if (is.matrix(x)) sum else as.vector(sum)
  })
  for (column in columns) out[[column]] <- sums[[column]]
  rownames(out) <- NULL
  out[names(data)]
}
