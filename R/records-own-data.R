#' Your own data: codes, labels, missing codes, order
#'
#' Tables need to know what the codes of a file stand for, which of them are no
#' answers, in which order the answers go, and which columns belong together. All of
#' it can be said in a codebook beside the data, or by verbs that prepare a question
#' (options of the command).
#'
#' @section A codebook beside the data:
#' `poll.schema.json` (or `.yaml`, `.yml`) beside `poll.csv` is found by its name; any
#' other is named (`codebook`, `--codebook`). It is a Table Schema: a list `fields`,
#' one a column, with
#' * `name`, `title`: the column, and what it is called in tables;
#' * `type`: "integer" or "number" for a number, "string" for text; without one the
#'   answers decide;
#' * `categories`: codes with their labels (`value`, `label`), in the order in which
#'   tables show them;
#' * `categoriesOrdered`: `true` where the order is that of a scale;
#' * `missingValues`: codes that are no answers (`value`, `label`), of a column or, at
#'   the top, of all; the label is the reason, and stays in the account of records.
#'
#' In YAML the answers `Y`, `N`, `yes`, `no`, `on` and `off` are what they are; only
#' `true` and `false` are switches. [draft_codebook()] makes one of the data, its
#' guesses marked.
#'
#' @section The same by verbs, and as options:
#' * what codes stand for: [label_answers()], `--labels 'q1=1: Yes; 2: No'`;
#' * codes that are no answers: `regroup(survey, q1, missing = c(Refused = "98"))`,
#'   `--missing 'q1=98,99'` or, with reasons, `--missing 'q1=Refused: 98'`;
#' * the order of answers: [order_answers()], `--order-answers 'q1=Low,Middle,High'`;
#' * boxes that could be ticked: [ticks()], `--ticks came=by_sea,by_air`, or of one
#'   column `--split 'came=;'`;
#' * statements with the same answers: [battery()], `--battery say=say_1,say_2`.
#'
#' Answers may be called by their labels or by the codes of the file, before or after
#' they were joined.
#'
#' The guide `vignettes/your-own-data.Rmd` goes through all of it with a file of eight
#' records.
#'
#' @name own_data
#' @seealso [read_records()], [draft_codebook()]
#' @examples
#' path <- tempfile(fileext = ".csv")
#' writeLines(c("q1,q2", "1,Y", "2,N", "98,Y", "1,N"), path)
#' survey <- read_records(path)
#' survey <- label_answers(survey, q1, c("1" = "Content", "2" = "Not content"))
#' survey <- regroup(survey, q1, missing = c("Don't know" = "98"))
#' crosstab(survey, down = q1, across = q2)
NULL
