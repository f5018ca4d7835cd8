# The smallest effect that a table could show: the effect size w whose noncentral chi-square has the wanted power at
# `alpha` (Cohen 1988, ch. 7). `base` is the effective base of the test: n over the mean design effect of the table.
smallest_effect <- function(base, d, alpha, power) {
  critical <- stats::qchisq(alpha, d, lower.tail = FALSE)
  power_at <- function(ncp) stats::pchisq(critical, d, ncp, lower.tail = FALSE) - power
  sqrt(stats::uniroot(power_at, c(0, 1e4), tol = 1e-8)$root / base)
}

# n over the mean generalised design effect; n itself without a design.
test_base <- function(e) {
  if (!e$by_design) return(e$n)
  if (is.na(e$effect$why)) e$n / e$effect$mean else NA_real_
}
