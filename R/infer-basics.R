# What every topic of this floor needs: the row of a test, reference
# distributions, corrections, the second-order F, the sparse rule, and why a
# layer cannot be tested.

# ---- rows ----

# One test of one layer.
#   test         its name
#   statistic, df, df_error   (df_error: second degrees of freedom of an F)
#   p, p_se      p-value, and its standard error where it was simulated
#   base         respondents
#   headline     whether it is the one that stands first, and `why`
#   note         why a figure is missing, or how it is to be read
new_test <- function(test, statistic = NA_real_, df = NA_real_,
                     df_error = NA_real_, p = NA_real_, base = NA_real_,
                     note = NULL, headline = FALSE, why = NULL,
                     p_se = NA_real_) {
  list(test = test, statistic = statistic, df = df, df_error = df_error, p = p,
       p_se = p_se, base = base, headline = headline, why = why, note = note)
}

# The plain statistic of a weighted or designed table is made of weighted
# percentages, its p-value of simple random sampling: it stands there for
# reference.
reference_note <- function(e) if (!counts_were_drawn(e)) said("reference_only")

headline_of <- function(tests) {
  for (test in tests) if (test$headline) return(test)
  NULL
}

# Whether a test rejects at a level: FALSE where there is none.
rejects <- function(test, alpha) !is.na(test$p) && test$p <= alpha

# ---- reference distributions ----

upper_chi_square <- function(x, df) stats::pchisq(x, df, lower.tail = FALSE)

upper_f <- function(f, df, df_error) {
  stats::pf(f, df, df_error, lower.tail = FALSE)
}

# How many standard errors an interval of confidence 1 - alpha reaches, and the
# two-sided p of a ratio to its standard error; NA without degrees of freedom.
critical_t <- function(alpha, df) {
  each <- unique(df) # mostly one for all cells
  each[!is.na(each) & each < 1] <- NA_real_
  stats::qt(1 - alpha / 2, each)[match(df, unique(df))]
}

# Standard errors and intervals of figures that the door gave, symmetric with t (with
# the normal distribution where the counts were drawn); NA where there is no variance.
t_interval <- function(found, alpha, e = NULL) {
  df <- if (!is.null(e) && counts_were_drawn(e)) rep(Inf, length(found$value)) else
    found$df
  se <- sqrt(found$variance)
  known <- !is.na(se) & is.finite(found$value) & se > 1e-10 & df >= 1
  half <- ifelse(known, critical_t(alpha, pmax(1, df)) * se, NA_real_)
  list(se = ifelse(known, se, NA_real_), low = found$value - half,
       high = found$value + half)
}

two_sided <- function(z, df) {
  df[!is.na(df) & df < 1] <- NA_real_
  2 * stats::pt(-abs(z), df)
}

# p-values corrected for how many there are: Bonferroni; Holm (1979) step down;
# Benjamini & Hochberg (1995) step up. Those that are missing are not counted.
correct <- function(p, correction) corrected_kernel(as.numeric(p), correction)

# A statistic of d degrees of freedom under a design, second order (Rao & Scott
# 1984): over the sum of its generalised design effects it is F on d1 = sum^2 /
# (sum of squares) and d1 times the design's degrees of freedom (Satterthwaite).
second_order <- function(statistic, effects, df) {
  d1 <- effects$sum^2 / effects$squares
  f <- statistic / effects$sum
  list(statistic = f, df = d1, df_error = d1 * df, p = upper_f(f, d1, d1 * df))
}

# The same with the first degrees of freedom corrected for few clusters, of
# effects as new_effects() gives them.
corrected_order <- function(statistic, effects) {
  f <- statistic / effects$sum
  list(statistic = f, df = effects$df_corrected, df_error = effects$df_error,
       p = upper_f(f, effects$df_corrected, effects$df_error))
}

# Rows with their p-values corrected over all of them; NULL of none.
corrected_rows <- function(rows, correction) {
  if (!length(rows)) return(NULL)
  corrected <- correct(vapply(rows, `[[`, 0, "p"), correction)
  Map(function(row, p) c(row, list(p_corrected = p)), rows, corrected)
}

# n over the mean generalised design effect, which is n itself where the counts
# were drawn; NA where the effects are undefined.
test_base <- function(e) {
  if (is.null(e$effect) || !is.null(e$effect$why)) NA_real_ else
    e$n / e$effect$mean
}

# (r - 1)(c - 1), and the lesser of rows and columns less one.
free_of <- function(P) (nrow(P) - 1) * (ncol(P) - 1)

least_side <- function(P) min(dim(P)) - 1

# Places in a layer's table of the cells of its estimate.
places_in <- function(layer, e = layer$estimate) {
  places_at(e$rows, e$columns, nrow(layer$n))
}

# ---- can it be tested ----

# Why a layer cannot be tested; NULL when it can.
no_test_reason <- function(layer) {
  e <- layer$estimate
  if (is.null(e)) return(said("nobody_here"))
  if (min(dim(e$P)) < 2L) return(said("single_answer"))
  NULL
}

# The rules that call a table sparse (option `sparse_rule`), with the cut-offs
# of the options.
sparse_rules <- list(
  cochran = function(E) {
    allowed <- if (length(E) == 2L || identical(dim(E), c(2L, 2L))) 0 else
      setting("sparse_share") * length(E)
    sum(E < setting("sparse_expected")) > allowed ||
      min(E) < setting("sparse_least")
  },
  every = function(E) any(E < setting("sparse_expected")),
  average = function(E) mean(E) < setting("sparse_expected")
)

sparse_rule <- function(e) sparse_counts(e$n * e$fit)

sparse_counts <- function(E) {
  small <- sum(E < setting("sparse_expected"))
  rule <- setting("sparse_rule")
  list(E = E, small = small, share = small / length(E), least = min(E),
       sparse = sparse_rules[[rule]](E), rule = rule)
}

# Pearson's X2 and the likelihood ratio's G2 on the scale of n.
pearson_statistic <- function(P, n, E = expected_proportions(P)) {
  n * sum((P - E)^2 / E)
}

likelihood_statistic <- function(P, n, E = expected_proportions(P)) {
  seen <- P > 0
  max(0, 2 * n * sum(P[seen] * log(P[seen] / E[seen])))
}

finite_or_na <- function(x) {
  x[!is.finite(x)] <- NA_real_
  x
}

# A list of rows, each a list of single values, as a list of columns; what is
# said (why, note, interval) stays a list.
columns_of <- function(rows) {
  columns <- names(rows[[1L]])
  stats::setNames(lapply(columns, function(name) {
    values <- lapply(rows, `[[`, name)
    if (name %in% said_columns) values else unlist(values)
  }), columns)
}

said_columns <- c("why", "note", "interval", "reversal", "what")
