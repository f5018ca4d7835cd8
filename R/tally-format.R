# Numbers become text here and nowhere else. Every output calls these.

# Whole counts and weighted bases: 1,234 or 1,234.5
format_count <- function(x, digits = 0L) {
  text <- formatC(round(x, digits), format = "f", digits = digits, big.mark = ",")
  text[is.na(x)] <- ""
  as.character(text)
}

# Figures in a sentence: a fixed number of decimals, never "-0.00"; very large or small ones in powers of ten.
format_number <- function(x, digits = 2L) {
  text <- formatC(x, format = "f", digits = digits)
  wide <- is.finite(x) & abs(x) >= 1e6
  text[wide] <- formatC(x[wide], format = "g", digits = 4L)
  text <- sub("^-(0(?:\\.0*)?)$", "\\1", text, perl = TRUE)
  text[is.infinite(x)] <- ifelse(x[is.infinite(x)] > 0, "infinite", "-infinite")
  text[is.na(x)] <- "undefined"
  text
}

# A share in 0-1 as a percentage without its sign. Near 0 and 1 it never pretends to be exact.
format_percent <- function(x, digits = setting("digits")) {
  text <- format_number(100 * x, digits)
  least <- 10^-digits
  small <- !is.na(x) & x > 0 & 100 * x < least / 2
  large <- !is.na(x) & x < 1 - 1e-12 & # a sum of shares may fall short of 1 by its rounding
     100 * x >= 100 - least / 2
  text[small] <- paste0("<", formatC(least, format = "f", digits = digits))
  text[large] <- paste0(">", formatC(100 - least, format = "f", digits = digits))
  text[is.na(x)] <- ""
  text
}

# p-values with their sign: "p = 0.013", "p < 0.001".
format_p <- function(p, name = "p") {
  text <- ifelse(p < 0.001, "< 0.001", ifelse(p > 0.999, "> 0.999", paste("=", formatC(p, format = "f", digits = 3L))))
  ifelse(is.na(p), paste(name, "undefined"), paste(name, text))
}

# Degrees of freedom: whole ones without decimals.
format_df <- function(df) ifelse(abs(df - round(df)) < 1e-8, format_count(df), format_count(df, 1L))

format_interval <- function(low, high, digits = 2L, format = format_number) {
  paste(format(low, digits), "to", format(high, digits))
}

# 0.95 -> "95 %"
format_level <- function(alpha) paste0(formatC(100 * (1 - alpha), digits = 4L, format = "fg", width = 1L), " %")

sentence_case <- function(x) paste0(toupper(substr(x, 1L, 1L)), substring(x, 2L))
