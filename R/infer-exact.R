# The exact conditional test (Fisher 1934; Freeman & Halton 1951): with the
# margins as they are, the probability of all tables that are no more probable
# than the observed one. src/fixed_margins.cpp does the work, within a budget;
# beyond it random tables with those margins take over.

# S of a table: its probability falls as S grows.
log_factorials_of <- function(n) sum(lgamma(n + 1))

# Beyond so many respondents chi-square is as good.
most_exact <- 1e6

# The rows of the exact test of one layer: `exact`, or `monte_carlo` where the
# budget is not enough (or it is asked for). Who asks for the exact test
# (`patient`) may wait longer for it than the one who did not.
exact_tests <- function(layer, simulated = FALSE, draws = NULL, seed = NULL,
                        patient = FALSE) {
  e <- layer$estimate
  row <- function(test, ...) new_test(test, ..., base = e$n)
  asked <- if (simulated) "monte_carlo" else "exact"
  if (!counts_were_drawn(e))
    return(list(row(asked, note = said("exact_not_with_design"))))
  n <- layer$n[e$rows, e$columns, drop = FALSE]
  if (sum(n) > most_exact)
    return(list(row(asked, note = said("exact_too_many", most = most_exact))))
  if (!simulated) {
    exact <- exact_once(layer, n, patient)
    if (exact$finished)
      return(c(list(row("exact", p = exact$p,
                        note = said("exact_margins_fixed"))),
               one_sided(n, row)))
  }
  found <- once(layer$kept, "monte_carlo", list(draws, seed),
                monte_carlo(n, draws, seed %||% setting("seed")))
  list(row("monte_carlo", p = found$p, p_se = found$se,
           note = said(if (simulated) "random_tables" else
                         "random_tables_over_budget", draws = found$draws,
                       seed = found$seed, se = found$se)))
}

# An exact p that was found stays found, whatever the patience; a search that
# was given up is begun anew by who has more.
exact_once <- function(layer, n, patient) {
  known <- layer$kept$exact$value
  if (isTRUE(known$finished)) return(known)
  budget <- c(setting("exact_steps"), setting("exact_bytes")) *
            if (patient) c(15, 5) else 1
  once(layer$kept, "exact", list(budget), {
    if (patient) show_progress(0, 1, "Exact test")
    found <- exact_kernel(as.integer(row_sums(n)), as.integer(column_sums(n)),
                          log_factorials_of(n), budget[1L], budget[2L],
                          setting("threads"),
                          if (patient)
                            function(done) {
                              show_progress(min(done, 0.999), 1, "Exact test")
                            })
    # nobody but R may end what it does
    if (found$interrupted) rlang::interrupt()
    if (patient) show_progress(1, 1, "Exact test")
    found[c("p", "finished", "steps")]
  })
}

# Both one-sided forms of a 2x2: the first cell holds more, or fewer, than
# chance would put there.
one_sided <- function(n, row) {
  if (any(dim(n) != 2L)) return(NULL)
  rows <- row_sums(n)
  first <- sum(n[, 1L])
  more <- stats::phyper(n[1L, 1L] - 1, rows[[1L]], rows[[2L]], first,
                        lower.tail = FALSE)
  fewer <- stats::phyper(n[1L, 1L], rows[[1L]], rows[[2L]], first)
  list(row("exact_more", p = more, note = said("one_sided_more")),
       row("exact_fewer", p = fewer, note = said("one_sided_fewer")))
}

# (b + 1) / (B + 1) over B random tables (Patefield 1981), b of them no more
# probable than this one. A very large table gets fewer of them.
monte_carlo <- function(n, draws, seed) {
  check_whole(seed, "seed", 0, NULL)
  wanted <- draws %||% max(1000, min(setting("random_tables"), 4e7 / length(n)))
  chunks <- ceiling(wanted / 1000)
  b <- 0
  done <- 0L
  each <- max(2L, floor(2e7 / 1000 / length(n)))
  show_progress(0, chunks, "Random tables")
  while (done < chunks) { # in parts, so that it can be stopped between them
    upto <- min(chunks, done + each)
    b <- b +
         count_random_kernel(as.integer(row_sums(n)),
                             as.integer(column_sums(n)), log_factorials_of(n),
                             seed, done, upto, setting("threads"))
    done <- upto
    show_progress(done, chunks, "Random tables")
  }
  B <- 1000 * chunks
  p <- (b + 1) / (B + 1)
  list(p = p, se = sqrt(p * (1 - p) / B), draws = B, seed = seed)
}
