# What is withheld cannot be worked out: an intruder who knows everything that is
# shown, and solves for the rest by linear programming.

# A table of counts as protected_cells() takes it.
counted <- function(n, down = "a", across = "b", ...) {
  list(n = n, down = down, across = across, base = sum(n),
       totals = list(down = rowSums(n), across = colSums(n)), ...)
}

named_counts <- function(n, across) {
  dimnames(n) <- list(paste0("r", seq_len(nrow(n))),
                      paste0(across, seq_len(ncol(n))))
  n
}

# The least and the most that every withheld count of few respondents can be, as
# far as it takes to know whether it has `enough` room. `parts` says which tables
# have columns that are sums of those of another.
ranges_left <- function(tables, held, limit, parts = list(), enough = limit) {
  known <- list()
  truth <- least <- numeric()
  sums <- list()
  place <- function(name, value, low) {
    if (is.null(known[[name]])) {
      known[[name]] <<- length(known) + 1L
      truth <<- c(truth, value)
      least <<- c(least, low)
    }
    least[known[[name]]] <<- max(least[known[[name]]], low)
    known[[name]]
  }
  # entries with their signs add up to 0; what is shown goes to the other side
  add_sum <- function(names, values, held, signs, low) {
    if (!any(held)) return()
    at <- mapply(place, names[held], values[held], low)
    sums <<- c(sums, list(list(at = at, sign = signs[held],
                               to = -sum((signs * values)[!held]))))
  }
  full <- lapply(tables, function(table) {
    rbind(cbind(table$n, table$totals$down), c(table$totals$across, table$base))
  })
  name_in <- function(k) {
    table <- tables[[k]]
    size <- dim(table$n)
    cells <- outer(paste(k, rownames(table$n)), colnames(table$n), paste)
    rbind(cbind(cells, paste(table$down, rownames(table$n))),
          c(paste(table$across, colnames(table$n)), "all"))
  }
  for (k in seq_along(tables)) {
    n <- full[[k]]
    names <- name_in(k)
    low <- if (any(held[[k]] & n == 0)) 0 else 1
    last <- dim(n)
    for (i in seq_len(last[1])) {
      add_sum(names[i, ], n[i, ], held[[k]][i, ],
              c(rep(1, last[2] - 1), -1), low)
    }
    for (j in seq_len(last[2])) {
      add_sum(names[, j], n[, j], held[[k]][, j],
              c(rep(1, last[1] - 1), -1), low)
    }
  }
  for (one in parts) {
    fine <- one$fine
    coarse <- one$coarse
    for (i in seq_len(nrow(full[[fine]]))) for (j in unique(one$to)) {
      own <- which(one$to == j)
      add_sum(c(name_in(fine)[i, own], name_in(coarse)[i, j]),
              c(full[[fine]][i, own], full[[coarse]][i, j]),
              c(held[[fine]][i, own], held[[coarse]][i, j]),
              c(rep(1, length(own)), -1), 0)
    }
  }
  if (!length(known)) return(NULL)
  A <- matrix(0, length(sums), length(known))
  for (s in seq_along(sums)) A[s, sums[[s]]$at] <- sums[[s]]$sign
  to <- vapply(sums, `[[`, 0, "to")
  stopifnot(abs(A %*% truth - to) < 1e-9) # the truth is one of the solutions
  few <- which(truth > 0 & truth < limit)
  range <- vapply(few, function(v) {
    goal <- replace(numeric(length(known)), v, 1)
    end <- function(which) {
      found <- lpSolve::lp(which, goal, A, rep("=", nrow(A)),
                           as.vector(to - A %*% least))
      if (found$status == 0) found$objval + least[v] else Inf
    }
    high <- end("max")
    # where it can be so much more, how much less it can be need not be known
    c(if (high - truth[v] >= enough) truth[v] else end("min"), high)
  }, c(0, 0))
  data.frame(name = names(known)[few], truth = truth[few], low = range[1, ],
             high = range[2, ])
}

random_counts <- function(across = "b") {
  size <- sample(2:7, 2, TRUE)
  named_counts(matrix(rpois(prod(size), sample(c(2, 8, 20, 60), prod(size), TRUE)),
                      size[1]), across)
}

# A further question of the same people.
further_question <- function(n, across) {
  columns <- sample(2:4, 1)
  chance <- rgamma(columns, 0.7) + 1e-9
  out <- t(vapply(rowSums(n), function(size) {
    rmultinom(1, size, chance)[, 1]
  }, numeric(columns)))
  out <- named_counts(out, across)
  rownames(out) <- rownames(n)
  out
}

# So many as FAIRLATTICE_TABLES says.
test_that("no count of random tables and banners can be worked out", {
  skip_if_not_installed("lpSolve")
  withr::local_seed(7)
  refused <- 0
  small <- 0
  tried <- as.integer(Sys.getenv("FAIRLATTICE_TABLES", "120"))
  for (i in seq_len(tried)) {
    limit <- sample(c(3, 5, 10), 1)
    protect <- sample(c(limit, 2), 1)
    tables <- list(counted(random_counts()))
    parts <- list()
    if (i %% 2 == 0) {
      n <- tables[[1]]$n
      for (k in seq_len(sample(3, 1))) {
        tables <- c(tables, list(counted(further_question(n, paste0("q", k)), "a",
                                         paste0("q", k))))
      }
      if (ncol(n) > 2 && i %% 4 == 0) {
        to <- c(1, rep(2, ncol(n) - 1))
        grouped <- named_counts(t(rowsum(t(n), to)), "g")
        tables <- c(tables, list(counted(grouped, "a", "g")))
        parts <- list(list(fine = 1, coarse = length(tables), to = to))
      }
    }
    if (tables[[1]]$base < limit) next
    held <- protected_cells(tables, limit, protect)
    for (k in seq_along(tables)) {
      n <- tables[[k]]$n
      expect_true(all(held[[k]][seq_len(nrow(n)), seq_len(ncol(n))][n > 0 & n < limit]))
    }
    left <- ranges_left(tables, held, limit, parts)
    if (length(attr(held, "open"))) {
      refused <- refused + 1
      next
    }
    small <- small + NROW(left)
    short <- left[left$high - left$low < protect - 1e-6, ]
    expect_identical(NROW(short), 0L, info = paste(i, "with", limit, protect))
  }
  expect_gt(small, 5 * tried)
  expect_lt(refused, 0.02 * tried)
})

test_that("a block of ones, which zeros give away, is protected", {
  block <- named_counts(matrix(c(1, 1, 0, 1, 1, 0, 0, 30, 40), 3), "b")
  held <- protected_cells(list(counted(block)), 5, 5)
  left <- ranges_left(list(counted(block)), held, 5)
  expect_gte(min(left$high - left$low), 5)
  # no more than need be: one way round for two small cells that meet no other
  n <- named_counts(matrix(c(2, 50, 60, 40, 30, 70, 45, 55, 65), 3), "b")
  held <- protected_cells(list(counted(n)), 5, 5)[[1]]
  expect_identical(sum(held), 4L)
  expect_identical(unname(which(held)[1]), 1L)
})

test_that("what stands open elsewhere, or has no partner, is refused with the reason", {
  n <- named_counts(matrix(c(2, 3), 1), "b")
  expect_length(attr(protected_cells(list(counted(n)), 4, 4), "open"), 4)
  wide <- named_counts(matrix(c(2, 40, 30, 50), 2), "b")
  alone <- protected_cells(list(counted(wide)), 5, 5)
  expect_length(attr(alone, "open"), 0)
  both <- protected_cells(list(counted(wide), counted(wide, open = TRUE)), 5, 5)
  expect_true(sum(both[[2]]) == 0)
  data <- data.frame(a = rep(c("x", "y"), c(3, 3)), b = "p")
  expect_error(lay_out(crosstab(data, a, b), withhold_under = 5),
               "x \\(a\\).*fewer than 5", class = "fairlattice_error_unprotected")
  twice <- rbind(cbind(data, e = "here"), data.frame(a = rep(c("x", "y"), 20), b = "p",
                                                     e = "there"))
  expect_error(lay_out(crosstab(twice, a, b, each = e), withhold_under = 5),
               "x, here \\(a\\)", class = "fairlattice_error_unprotected")
  few <- data.frame(a = c("x", "y", "y"), b = c("p", "q", "q"))
  nothing <- lay_out(crosstab(few, a, b), show = "n", withhold_under = 5)[[1]]
  expect_true(all(nothing$kind[nothing$kind != ""] == "withheld"))
})

# A sheet as an intruder reads it: counts with the totals, NA where withheld.
read_off <- function(sheet, block) {
  rows <- sheet$stub$role %in% c("answer", "all")
  columns <- sheet$columns$block == block & sheet$columns$role == "answer"
  list(value = sheet$value[rows, columns | sheet$columns$role == "all"],
       held = sheet$kind[rows, columns | sheet$columns$role == "all"] == "withheld")
}

test_that("banners as they are laid out hold against the intruder", {
  skip_if_not_installed("lpSolve")
  withr::local_seed(8)
  for (i in 1:40) {
    r <- sample(3:6, 1)
    people <- data.frame(a = factor(sample(r, 150, TRUE, c(0.02, runif(r - 1)))),
                         b = factor(sample(3, 150, TRUE)),
                         c = factor(sample(5, 150, TRUE)))
    people$d <- factor(ifelse(people$c %in% 1:2, "low", "high"))
    x <- crosstab(people, a, c(b, c, d))
    sheet <- lay_out(x, show = "n", withhold_under = 5, lines = "none",
                     bases = character())[[1]]
    tables <- lapply(c("b", "c", "d"), function(name) {
      counted(unclass(table(people$a, people[[name]])), "a", name)
    })
    seen <- lapply(1:3, read_off, sheet = sheet)
    for (k in 1:3) { # what is shown is the truth
      n <- rbind(cbind(tables[[k]]$n, tables[[k]]$totals$down),
                 c(tables[[k]]$totals$across, 150))
      expect_equal(unname(seen[[k]]$value[!seen[[k]]$held]),
                   unname(n[!seen[[k]]$held]))
    }
    held <- lapply(seen, `[[`, "held")
    to <- match(tapply(as.character(people$d), people$c, `[`, 1), levels(people$d))
    left <- ranges_left(tables, held, 5,
                        list(list(fine = 2, coarse = 3, to = to)))
    if (!is.null(left)) expect_gte(min(left$high - left$low), 5 - 1e-6)
  }
})

test_that("tables of a book about the same people withhold together, and at the terminal nothing goes along", {
  withr::local_seed(3)
  people <- data.frame(a = sample(c("x", "y", "z"), 400, TRUE, c(2, 60, 90)),
                       b = sample(c("p", "q", "r"), 400, TRUE),
                       c = sample(c("s", "t"), 400, TRUE))
  plan <- plan_of(people, across = c(b, c), chapters = list(One = "a"),
                  defaults = list(withhold_under = 8, show = "n"))
  made <- book(plan, cache = FALSE)
  sheet <- sheets_of(made$tables[[1]]$table)[[1]]
  total <- sheet$kind[sheet$stub$role == "answer", sheet$columns$role == "all"]
  expect_true(sum(total == "withheld") %in% c(0, 2, 3))
  # a table of the same people that shows what another withholds makes it fail
  survey <- respondents(people)
  shown <- lay_out(crosstab(survey, a, b), show = "n")
  guarded <- lay_out(crosstab(survey, a, c), show = "n", withhold_under = 8)
  if (min(table(people$a)) < 8) {
    path <- withr::local_tempfile(fileext = ".html")
    expect_error(publish(list(shown, guarded), path),
                 class = "fairlattice_error_unprotected")
    expect_false(file.exists(path))
  }
  for (option in c("--working", "--tests", "--residuals", "--strength")) {
    run <- call_main(c("crosstab", demo_file("veyra.csv"), "--down", "heating",
                       "--across", "tenure", "--withhold-under", "30", option))
    expect_identical(run$status, 1L, info = option)
    expect_match(run$err, "would give them away", info = option)
    expect_identical(run$out, "", info = option)
  }
})

test_that("questions of many answers are found to nest, or not, at once", {
  withr::local_seed(8)
  data <- demo_records()
  districts <- paste(data$island, rep_len(1:6, nrow(data)))
  data$district <- factor(districts)
  data$anywhere <- factor(sample(sprintf("Area %d", 1:30), nrow(data), TRUE))
  survey <- respondents(data)
  parts_of <- function(...) {
    fairlattice:::nests_among(lapply(list(...), fairlattice:::counts_guarded, k = 1L))
  }
  by <- function(across) crosstab(survey, heating, !!across)
  nested <- parts_of(by("district"), by("island"), by("anywhere"))
  expect_identical(nested$island$finest, "district")
  expect_identical(unname(nested$island$to), sub(" [1-6]$", "", names(nested$island$to)))
  expect_identical(nested$anywhere$finest, "anywhere")
  # of others, or of the same in another order, a sample says nothing
  other <- crosstab(respondents(data[rev(seq_len(nrow(data))), ]), heating, island)
  sample_of <- function(x) x$tally$facts$sample
  expect_false(identical(sample_of(other)$who, sample_of(by("island"))$who))
  expect_identical(sample_of(by("district"))$who, sample_of(by("island"))$who)
  # sums alone: four answers in two are found, thirty in five are given up
  bare <- function(x) replace(x, "sample", list(NULL))
  small <- lapply(list(by("district"), by("anywhere"), by("island")),
                  function(x) bare(fairlattice:::counts_guarded(x, 1L)))
  expect_identical(fairlattice:::nests_among(small)$anywhere$finest, "anywhere")
  data$half <- factor(ifelse(data$island %in% c("Norrey", "Tarn"), "North", "South"))
  halves <- lapply(c("island", "half"), function(name) {
    bare(fairlattice:::counts_guarded(crosstab(respondents(data), heating, !!name), 1L))
  })
  expect_identical(fairlattice:::nests_among(halves)$half$finest, "island")
})

test_that("neither the order of lines nor what compares columns tells of a withheld count", {
  x <- crosstab(demo_survey(), heating, tenure)
  by_size <- lay_out(x, show = "n", sort = "difference", withhold_under = 30)[[1]]
  rows <- which(by_size$stub$role == "answer")
  some <- rowSums(by_size$kind[rows, ] == "withheld") > 0
  expect_false(is.unsorted(some)) # such lines come last, in the order of the answers
  answers <- levels(demo_survey()$data$heating)
  last <- match(by_size$stub$label[rows][some], answers)
  expect_false(is.unsorted(last))
  # by the size of all, which is shown, a line keeps its place whatever is withheld in it
  by_size <- lay_out(x, show = "n", sort = "size", withhold_under = 30)[[1]]
  rows <- which(by_size$stub$role == "answer")
  some <- rowSums(by_size$kind[rows, ] == "withheld") > 0
  of_all <- by_size$value[rows, ncol(by_size$value)]
  expect_false(is.unsorted(-of_all))
  expect_true(any(some) && is.unsorted(some))
  for (marks in c("letters", "differences")) {
    sheet <- lay_out(x, show = c("column", "difference")[seq_len(1 + (marks == "differences"))],
                     marks = marks, withhold_under = 30)[[1]]
    lines <- which(rowSums(sheet$kind == "withheld") > 0)
    expect_true(all(sheet$mark[lines, ] == ""))
    if (marks == "letters") expect_true(all(sheet$letters[lines, ] == ""))
  }
})

test_that("counts are rounded at random: right on average, by residue, and by a seed", {
  withr::local_seed(5)
  n <- matrix(c(11, 12, 13, 14, 15, 21, 22, 23, 24), 3)
  M <- cbind(rbind(n, colSums(n)), c(rowSums(n), sum(n)))
  many <- vapply(1:2000, function(seed) rounded_to(M, 5, seed), M)
  error <- rowMeans(many - as.vector(M), dims = 2)
  # a mean of 2,000 values that are at most 5 apart: five standard errors
  expect_lt(max(abs(error)), 5 * 2.5 / sqrt(2000))
  expect_equal(error[M %% 5 == 0], rep(0, sum(M %% 5 == 0)))
  expect_identical(rounded_to(M, 5, 1), rounded_to(M, 5, 1))
  alone <- vapply(1:2000, function(seed) each_rounded(M, 5, seed), M)
  expect_lt(max(abs(rowMeans(alone - as.vector(M), dims = 2))), 5 * 2.5 / sqrt(2000))
  state <- .Random.seed
  lay_out(crosstab(demo_survey(), heating, island), round_to = 5)
  expect_identical(.Random.seed, state)
  x <- crosstab(demo_survey(), heating, c(island, tenure))
  keys <- lay_out(x, show = "n", round_to = 5)[[1]]$key
  expect_match(keys, "need not add up to the total", all = FALSE)
  expect_false(any(grepl("still add up", keys)))
})

test_that("the turns of a rounding are the same on every machine", {
  M <- rbind(c(3, 7, 10), c(4, 6, 10), c(7, 13, 20))
  expect_identical(fairlattice:::seed_for(M, 1), 314801757L)
  expect_identical(fairlattice:::seed_for(unname(M) + 0, 1), fairlattice:::seed_for(M, 1L))
  expect_false(fairlattice:::seed_for(M, 1) == fairlattice:::seed_for(M, 2))
  expect_false(fairlattice:::seed_for(M, 1) == fairlattice:::seed_for(t(M), 1))
})

test_that("a withheld count may be as low as 1, or 0 where zeros are withheld", {
  n <- matrix(c(3, 1, 2, 4), 2)
  out <- network_of(list(n = n), n > 0)
  expect_equal(out[3:4, 1:2], t(n - 1))
  expect_true(all(is.infinite(out[1:2, 3:4])))
  n[1, 2] <- 0
  held <- matrix(c(TRUE, TRUE, TRUE, FALSE), 2)
  out <- network_of(list(n = n, most = 5), held)
  expect_equal(out[3:4, 1:2], t(ifelse(held, n, 0)))
  expect_equal(out[1:2, 3:4], ifelse(held, pmax(5 - n - 1, 0), 0))
})
