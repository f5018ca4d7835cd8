# Numbers become text here and nowhere else. Every output calls these.

# Decimal mark, thousands mark and minus are those of the options. Figures that
# cannot be beyond 1 (`bounded`) go without the zero in front where the option
# says so.
in_house_style <- function(text, bounded = FALSE) {
  note_options(number_options)
  usual <- options_unset_kernel(number_options)
  if (bounded && !usual && !setting("leading_zero"))
    text <- sub("^([<>=]? ?-?)0([.])", "\\1\\2", text)
  if (any(startsWith(text, "-"))) text <- sub("^-", setting("minus"), text)
  if (usual) return(text)
  marks <- c(setting("thousands_mark"), setting("decimal_mark"))
  if (marks[1L] == "") text <- gsub(",", "", text, fixed = TRUE)
  chartr(",.",
         paste0(if (marks[1L] %in% c(" ", "")) "\u00a0" else marks[1L],
                marks[2L]), text)
}

number_options <- paste0("fairlattice.",
                         c("language", "decimal_mark", "thousands_mark",
                           "leading_zero", "minus"))

# Whole counts and weighted bases: 1,234 or 1,234.5; nothing stands for one that
# is missing.
format_count <- function(x, digits = 0L) {
  written_text(round(as.numeric(x), digits), as.integer(digits), TRUE)
}

# Figures in a sentence: a fixed number of decimals, never "-0.00"; very large
# or small ones in powers of ten.
format_number <- function(x, digits = setting("digits_statistic"),
                          bounded = FALSE) {
  written_text(as.numeric(x), as.integer(digits), FALSE, bounded)
}

# Most figures need no house style, which would take longer than to write them.
written_text <- function(x, digits, counts, bounded = FALSE) {
  note_options(number_options)
  usual_text_kernel(x, digits, counts, number_options) %||%
    in_house_style(figure_text_kernel(x, digits, counts), bounded)
}

# A share in 0-1 as a percentage without its sign. Near 0 and 1 it never
# pretends to be exact.
format_percent <- function(x, digits = setting("digits")) {
  text <- format_number(100 * x, digits)
  least <- 10^-digits
  small <- which(x > 0 & 100 * x < least / 2)
  # a sum of shares may fall short of 1 by its rounding
  large <- which(x < 1 - 1e-12 & 100 * x >= 100 - least / 2)
  if (length(small)) text[small] <- paste0("<", format_number(least, digits))
  if (length(large))
    text[large] <- paste0(">", format_number(100 - least, digits))
  text[is.na(x)] <- ""
  text
}

# p-values with their sign: "p = 0.013", "p < 0.001".
format_p <- function(p, name = "p") {
  digits <- setting("digits_p")
  least <- 10^-digits
  low <- !is.na(p) & p < least
  high <- !is.na(p) & p > 1 - least
  sign <- c("=", "<", ">")[1L + low + 2L * high]
  p[low] <- least
  p[high] <- 1 - least
  text <- paste(name, sign, format_number(p, digits, bounded = TRUE))
  text[is.na(p)] <- paste(name, "undefined")
  text
}

# Measures of strength, which lie between -1 and 1.
format_strength <- function(x, digits = setting("digits_strength")) {
  format_number(x, digits, bounded = TRUE)
}

# In a sentence: as a figure, or with as many decimals as show its first digit.
strength_words <- function(x) {
  first <- if (is.finite(x) && x > 0) ceiling(-log10(x)) else 0
  format_number(x, max(setting("digits_statistic"), min(first, 6)),
                bounded = TRUE)
}

# Degrees of freedom: whole ones without decimals.
format_df <- function(df) {
  whole <- is.na(df) | abs(df - round(df)) < 1e-8
  format_count(df, c(1L, 0L)[whole + 1L])
}

# The level of a test, as it was given.
format_alpha <- function(alpha) {
  in_house_style(as.character(alpha), bounded = TRUE)
}

# The version of this package, as the namespace knows it.
own_version <- function() unname(getNamespaceVersion("fairlattice"))
