# Directly standardised percentages and means. Definition: Fleiss, Levin & Paik (2003),
# ch. 19; the variance by the chain rule, by leaving clusters out, and by hand.

survey_by_age <- function(n = 700, ...) {
  survey <- respondents(demo_records(n), weight = weight, stratum = island,
                        cluster = settlement, ...)
  band(survey, age, breaks = c(18, 40, 60), into = "age_group")
}

test_that("a standardised rate by hand, and its variance where the counts were drawn", {
  # of 60 young people 30 of a and 30 of b say yes or no, of 40 old ones 10 and 30
  data <- data.frame(
    town = rep(c("a", "b", "a", "b"), c(30, 30, 10, 30)),
    age = rep(c("young", "young", "old", "old"), c(30, 30, 10, 30)),
    yes = c(rep(c("yes", "no"), c(15, 15)), rep(c("yes", "no"), c(6, 24)),
            rep(c("yes", "no"), c(8, 2)), rep(c("yes", "no"), c(15, 15))))
  x <- crosstab(data, yes, town, each = age)
  found <- as.data.frame(standardised(x))
  yes <- found$down %in% "yes"
  expect_equal(found$crude[yes], c(23 / 40, 21 / 60))
  expect_equal(found$standardised[yes], c(0.6 * 0.5 + 0.4 * 0.8, 0.6 * 0.2 + 0.4 * 0.5))
  given <- as.data.frame(standardised(x, to = c(young = 70, old = 30)))
  expect_equal(given$standardised[yes], c(0.7 * 0.5 + 0.3 * 0.8, 0.7 * 0.2 + 0.3 * 0.5))
  # a given standard: sum of S^2 q (1 - q) / n over the classes
  expect_equal(given$se[yes], sqrt(c(0.49 * 0.25 / 30 + 0.09 * 0.16 / 10,
                                     0.49 * 0.16 / 30 + 0.09 * 0.25 / 30)))
  # the standard of a column leaves that column as it is
  to_a <- as.data.frame(standardised(x, to = "a"))
  expect_equal(to_a$standardised[to_a$across == "a"], to_a$crude[to_a$across == "a"])
  expect_equal(to_a$se[to_a$across == "a"][1], sqrt(23 / 40 * 17 / 40 / 40))
  pairs <- attr(given, "pairs") %||% attr(standardised(x, to = c(young = 70, old = 30)), "pairs")
  expect_equal(pairs$difference, diff(rev(given$standardised[yes])) * c(-1, 1),
               ignore_attr = TRUE)
  expect_equal(pairs$se[1], sqrt(sum(given$se[yes]^2)))
})

test_that("under a design its variance is that of leaving clusters out, for every standard", {
  survey <- survey_by_age()
  jackknife <- make_replicates(survey, "jackknife")
  ages <- c("18\u201339" = 30, "40\u201359" = 40, "60 or more" = 30)
  for (to in list("total", "Mortgage", ages)) {
    figures <- lapply(list(survey, jackknife), function(s) {
      standardised(crosstab(score(s, ferry), ferry, tenure, each = age_group), to = to)
    })
    expect_equal(figures[[2]]$standardised, figures[[1]]$standardised)
    expect_equal(figures[[2]]$se, figures[[1]]$se, tolerance = 0.12)
    # means are those of the shares
    shares <- matrix(figures[[1]]$standardised[!is.na(figures[[1]]$down)], 5)
    expect_equal(figures[[1]]$standardised[is.na(figures[[1]]$down)], colSums(shares * 1:5))
    expect_equal(colSums(shares), rep(1, ncol(shares)))
  }
  # the gradient, cell by cell
  joint <- classes_joint(crosstab(survey, leave, mode, each = age_group))
  for (standard in list(list(), list(of = 2L), list(given = c(1, 2, 1)))) {
    figure <- standardised_figure(joint, standard)
    at <- figure(joint$e$P)
    for (k in c(1, 4)) {
      numeric <- numeric_gradient(function(P) figure(P / sum(P))$value[k], joint$e$P)
      own <- at$gradient[, k] - sum(at$gradient[, k] * joint$e$P)
      expect_equal(as.vector(numeric), own, tolerance = 1e-5)
    }
  }
})

test_that("who has no class is counted, who lacks one is named, and bad standards are refused", {
  survey <- survey_by_age()
  x <- crosstab(survey, leave, mode, each = age_group)
  found <- standardised(x)
  expect_gt(attr(found, "left_out"), 0)
  expect_match(paste(format(found), collapse = " "), "left out for want of an answer to Age")
  data <- data.frame(q = rep(c("y", "n"), 10), g = rep(c("a", "b"), each = 10),
                     k = c(rep("u", 10), rep(c("u", "v"), 5)))
  odd <- standardised(crosstab(data, q, g, each = k))
  expect_true(all(is.na(odd$standardised[odd$across == "a"])))
  expect_false(anyNA(odd$standardised[odd$across == "b"]))
  expect_match(paste(format(odd), collapse = " "),
               "a cannot be standardised: nobody there is in the class v")
  refused <- function(pattern, ...) {
    expect_error(standardised(...), pattern, class = "fairlattice_error_standard")
  }
  refused("needs classes", crosstab(survey, leave, mode))
  refused("no column is called", x, to = "Post")
  refused("only in one of the two", x, to = c("18\u201339" = 1))
  refused("named by the classes", x, to = c(1, 2, 3))
})

test_that("Blyth's two towns: the treatment that is better in both and worse in all", {
  # Blyth (1972), J Amer Statist Assoc 67:364-366: alive after the standard and the new treatment
  patients <- expand.grid(treatment = c("standard", "new"), town = c("C", "C'"),
                          alive = c("yes", "no"))
  patients$n <- c(50, 1000, 5000, 95, 950, 9000, 5000, 5)
  found <- as.data.frame(standardised(
    crosstab(respondents(patients, count = n), alive, treatment, each = town)))
  yes <- found$down %in% "yes" & found$across %in% c("standard", "new")
  expect_equal(round(100 * found$crude[yes]), c(46, 11)) # as published
  # 11,000 patients live in C, 10,100 in C'
  expect_equal(found$standardised[yes],
               c(0.05 * 11000 + 0.5 * 10100, 0.1 * 11000 + 0.95 * 10100) / 21100)
})

test_that("the command and a plan standardise, too", {
  run <- call_main("crosstab", demo_file("veyra.csv"), "--down", "leave", "--across", "mode",
                   "--standardise", "household", "--standard",
                   "Lives alone=30,Couple=40,With children=20,Shared home=10")
  expect_match(run$out, "Standardised by Household to the given shares")
  run <- call_main("crosstab", demo_file("veyra.csv"), "--down", "leave", "--across", "mode",
                   "--standard", "Web")
  expect_match(run$err, "name its classes")
  plan <- withr::local_tempfile(fileext = ".yml")
  writeLines(c(sprintf("records: {file: %s}", demo_file("veyra.csv")), "across: [mode]",
               "chapters:", "  - title: Leaving", "    tables:", "      - questions: leave",
               "        standardise: household", "        standard: Web"), plan)
  b <- book(read_plan(plan), cache = FALSE)
  expect_match(paste(format(b$tables[[1]]$along[[1]]), collapse = " "),
               "to the composition of Web")
})
