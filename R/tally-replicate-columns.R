# The coefficients of replicate weights that come with the data.
replicate_kinds <- list(
  brr = function(R, fay, scale) rep(1 / R, R),
  fay = function(R, fay, scale) rep(1 / (R * (1 - fay)^2), R),
  jk1 = function(R, fay, scale) rep((R - 1) / R, R),
  jkn = function(R, fay, scale) scale,
  bootstrap = function(R, fay, scale) scale %||% rep(1 / R, R),
  successive_difference = function(R, fay, scale) rep(4 / R, R)
)

# Checks the columns and gives what the design keeps of them.
given_replicates <- function(data, names, kind, fay, scale, df, call) {
  stop_replicates <- function(...) stop_input(c(...), "replicates", call = call)
  check_choice(kind, names(replicate_kinds), "replicate_kind", call)
  for (name in names) check_weight(data[[name]], name, "replicates", call)
  R <- length(names)
  if (R < 2L) stop_replicates(tells("replicates_name_two_columns_more", R))
  if (!is.null(fay) && kind != "fay")
    stop_replicates(tells("fay_factor_fay_these_replicates", kind))
  if (!is.null(scale) && !kind %in% c("jkn", "bootstrap"))
    stop_replicates(tells("replicate_scale_jkn_bootstrap_coefficients_known", kind))
  if (kind == "fay") {
    if (is.null(fay)) stop_replicates(tells("fay_needs_factor_fay_share"))
    check_fraction(fay, "fay", call)
  }
  if (kind == "jkn" && is.null(scale))
    stop_replicates(tells("jkn_needs_coefficient_per_replicate"),
                    i = tells("comes_weights_often_1_stratum"))
  if (!is.null(scale)) {
    if (!is.numeric(scale) || anyNA(scale) || any(scale < 0) ||
          !length(scale) %in% c(1L, R)) {
      stop_replicates(tells("replicate_scale_one_coefficient_not_negative", R))
    }
    scale <- rep_len(scale, R)
  }
  if (!is.null(df)) check_number(df, "replicate_df", 1, Inf, call)
  list(kind = kind, factors = NULL,
       scale = replicate_kinds[[kind]](R, fay, scale), df = df %||% (R - 1L),
       names = names)
}
