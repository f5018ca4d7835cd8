# The tally of a battery: one row a statement, one column an answer. A
# respondent is in the row of every statement that they answered, which is why
# every respondent is a cluster of their own where the design has none. Their
# record is counted once, with the first of them.

# What is known of a battery, its statements as their columns are called now.
battery_in <- function(survey, name) {
  battery <- attr(survey$data[[name]], "battery", exact = TRUE)
  if (is.null(battery)) return(NULL)
  columns <- survey$data[battery$columns]
  titles <- shared_beginning(mapply(title_of, columns, battery$columns))
  battery$statements <- make.unique(titles$rest)
  battery
}

is_battery <- function(survey, name) {
  !is.null(attr(survey$data[[name]], "battery", exact = TRUE))
}

tally_battery <- function(survey, name, across, each, call) {
  battery <- battery_in(survey, name)
  if (across != everybody)
    stop_input(c(tells("battery_stands_alone", name),
                 i = tells("battery_statement_by_itself")), "battery",
               call = call)
  if (!is.null(survey$roles$count))
    stop_input(tells("battery_a_record_a_person"), "battery", call = call)
  asked <- survey$data[[name]]
  if (!survey$design$clustered && is.null(survey$design$replicates))
    survey <- respondents_as_clusters(survey, call)
  down <- statements_question(asked, battery, name)
  across <- describe_question(answers_of_statements(battery, down$label), name)
  questions <- list(down = down, across = across, each = NULL)
  by <- if (!is.null(each))
    as_answers(survey$data[[each]], each, call, codes = FALSE)
  if (!is.null(each)) questions$each <- describe_question(by, each)
  codes <- lapply(battery$columns, function(column) {
    answers <- as_answers(survey$data[[column]], column, call)
    code <- match(levels(answers), battery$answers, 0L)[as.integer(answers)]
    replace(code, is.na(code) | battery$answered == "all" & is.na(asked), 0L)
  })
  cells <- lapply(seq_along(codes), function(k) {
    sums <- statement_sums(survey, questions, k, codes[[k]], by)
    sums[sums$across > 0L, ]
  })
  cells <- do.call(rbind, cells)
  cells$records <- 0
  # every record once: with the first statement, or the reason why there is none
  given <- do.call(cbind, codes)
  first <- rep(0L, nrow(given))
  for (k in rev(seq_along(codes))) first[given[, k] > 0L] <- k
  answer <- given[cbind(seq_along(first), pmax(first, 1L))]
  none <- length(battery$statements) + as.integer(asked) - 1L
  none[is.na(none)] <- 0L
  records <- statement_sums(survey, questions,
                            ifelse(first > 0L, first, none), answer, by)
  people <- records[records$down <= length(codes) & records$down > 0L, ]
  records[c("n", "w", "w2")] <- 0
  cells <- sum_by(rbind(cells, records[names(cells)]),
                  c("unit", "each", "across", "down"),
                  c("records", "n", "w", "w2"))
  if (length(survey$replicates))
    cells$replicates <-
      battery_replicates(survey, questions, codes, by, cells)
  cells <- battery_auxiliary(survey, questions, codes, by, cells)
  facts <- tally_facts(survey, list(down = asked, across = asked, each = by))
  facts$people <- sum_by(people, "each", c("n", "w", "w2"))
  new_tally(questions, survey$design, cells, aside_of(survey),
            records_stood_for(survey) + sum(survey$before$records), facts)
}

# The answers that all statements share, with their nets and scores.
answers_of_statements <- function(battery, label) {
  answers <- new_answers(integer(), battery$answers, ordered = battery$ordered,
                         label = label)
  answers <- keeping(answers, "nets", battery$nets)
  keeping(answers, "scores", battery$scores)
}

statements_question <- function(asked, battery, name) {
  reasons <- setdiff(levels(asked), "answered")
  question <- describe_question(
    new_answers(integer(), c(battery$statements, reasons), missing = reasons,
                label = label_of(asked),
                values = c(battery$columns, reasons)), name)
  question$statements <- TRUE
  question
}

# Sums of one statement (or of a statement a record), by answer.
statement_sums <- function(survey, questions, at, codes, by) {
  size <- nrow(survey$data)
  found <- tally_records(survey,
                         list(down = rep_len(as.integer(at), size),
                              across = as.integer(codes), each = by),
                         questions)
  if (is.null(by)) found$each <- rep(0L, length(found$unit))
  list2DF(found[c("unit", "each", "across", "down", "records", "n", "w",
                  "w2")])
}

battery_replicates <- function(survey, questions, codes, by, cells) {
  sums <- lapply(seq_along(codes), function(k) {
    at <- which(cells$down == k)
    answers <- list(down = rep_len(k, nrow(survey$data)), across = codes[[k]],
                    each = by)
    list(at = at,
         sums = sum_replicates(survey, with_levels(answers, questions),
                               cells[at, ]))
  })
  out <- matrix(0, nrow(cells), length(survey$replicates))
  for (one in sums) out[one$at, ] <- one$sums
  out
}

# The sums of auxiliary variables, statement by statement.
battery_auxiliary <- function(survey, questions, codes, by, cells) {
  if (is.null(survey$design$calibration)) return(cells)
  parts <- lapply(seq_along(codes), function(k) {
    answers <- list(down = rep_len(k, nrow(survey$data)), across = codes[[k]],
                    each = by)
    with_auxiliary(cells[cells$down == k & cells$across > 0L, ], survey,
                   with_levels(answers, questions))
  })
  sums <- do.call(rbind, lapply(parts, `[[`, "auxiliary"))
  at <- unlist(lapply(seq_along(codes), function(k) {
    which(cells$down == k & cells$across > 0L)
  }))
  cells$auxiliary <- matrix(0, nrow(cells), ncol(sums))
  cells$auxiliary[at, ] <- sums
  cells
}

# Codes as the factors that they are of.
with_levels <- function(codes, questions) {
  Map(function(code, question) {
    if (!is.null(code))
      structure(replace(as.integer(code), code < 1L, NA),
                levels = question$levels, class = "factor")
  }, codes, questions[names(codes)])
}
