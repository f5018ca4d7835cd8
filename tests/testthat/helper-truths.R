# Small truths and slow, obvious twins that several tests share.

# Worked by hand: margins 30, 70; 40, 60; n = 100; E = 12, 18, 28, 42; O - E =
# 8, -8, -8, 8. X2 = 64/12 + 64/18 + 64/28 + 64/42 = 12.69841; phi = (20*50 -
# 10*20) / sqrt(30*70*40*60) = 0.3563483.
hand_2x2 <-
  matrix(c(20, 20, 10, 50), 2, dimnames = list(c("x", "y"), c("p", "q")))

# Worked by hand: columns 30, 30, 40; rows 50, 50. Modes: x 24, y 18, y 26:
# lambda (across explains down) = (24 + 18 + 26 - 50) / 50 = 0.36; the other
# way: row x's mode 24 (p), row y's 26 (r): (24 + 26 - 40) / 60 = 1/6.
hand_2x3 <- matrix(c(24, 6, 12, 18, 14, 26), 2,
                   dimnames = list(c("x", "y"), c("p", "q", "r")))

# One record a respondent, from counts.
records_of <- function(counts) {
  cell <- rep(seq_along(counts), counts)
  data.frame(down = factor(rownames(counts)[row(counts)[cell]],
                           rownames(counts)),
             across = factor(colnames(counts)[col(counts)[cell]],
                             colnames(counts)))
}

# Random records with everything in them that can be: missing answers, missing
# and zero weights, strata, clusters.
messy_records <- function(n = 400, seed = 1, r = 3, k = 4, clusters = 24) {
  withr::local_seed(seed)
  cluster <- sample.int(clusters, n, TRUE)
  pull <- rnorm(clusters)[cluster]
  data <- data.frame(
    down = factor(pmin(r, 1 + rpois(n, exp(0.3 * pull))), seq_len(r),
                  letters[seq_len(r)]),
    across = factor(sample.int(k, n, TRUE), seq_len(k), LETTERS[seq_len(k)]),
    each = sample(c("one", "two"), n, TRUE), cluster, stratum = cluster %% 3,
    w = round(exp(0.6 * rnorm(n)), 3),
    id = seq_len(n))
  data$down[sample.int(n, n %/% 20)] <- NA
  data$across[sample.int(n, n %/% 25)] <- NA
  data$each[sample.int(n, 5)] <- NA
  data$w[sample.int(n, 6)] <- 0
  data$w[sample.int(n, 4)] <- NA
  data
}

# The covariance from its definition, record by record: u_k = w_k (e_k - p) / N,
# summed over clusters within strata.
covariance_twin <- function(data, weight, stratum, cluster) {
  sampled <- !is.na(weight)
  data <- data[sampled, ]
  weight <- weight[sampled]
  stratum <- stratum[sampled]
  cluster <- paste(stratum, cluster[sampled])
  inside <- !is.na(data$down) & !is.na(data$across) & weight > 0
  cell <-
    as.integer(data$down) + (as.integer(data$across) - 1L) * nlevels(data$down)
  size <- nlevels(data$down) * nlevels(data$across)
  p <- vapply(seq_len(size), function(c) sum(weight[inside & cell == c]), 0) /
       sum(weight[inside])
  V <- matrix(0, size, size)
  for (h in unique(stratum)) {
    names <- unique(cluster[stratum == h])
    u <- t(vapply(names, function(g) {
      total <- numeric(size)
      for (k in which(cluster == g & inside)) {
        e <- numeric(size)
        e[cell[k]] <- 1
        total <- total + weight[k] * (e - p) / sum(weight[inside])
      }
      total
    }, numeric(size)))
    a <- length(names)
    u <- if (a > 1) sweep(u, 2, colMeans(u)) else u
    V <- V + (if (a > 1) a / (a - 1) else 1) * crossprod(u)
  }
  unname(V)
}

# Gradient by central differences.
numeric_gradient <- function(f, P, step = 1e-6) {
  out <- P
  for (k in seq_along(P)) {
    up <- down <- P
    up[k] <- up[k] + step
    down[k] <- down[k] - step
    out[k] <- (f(up) - f(down)) / (2 * step)
  }
  out
}

# A positive table of proportions without ties.
some_proportions <- function(r, k, seed = 1) {
  withr::local_seed(seed)
  P <- matrix(rgamma(r * k, 2), r, k)
  P / sum(P)
}

demo_survey <- function() {
  respondents(demo_records(), weight = weight, stratum = island,
              cluster = settlement, id = id)
}

# A file with this text, gone when the calling test ends.
file_with <- function(text, ending = ".csv", env = parent.frame()) {
  path <- withr::local_tempfile(fileext = ending, .local_envir = env)
  writeBin(charToRaw(text), path)
  path
}

# The same tables, whatever each of them has worked out so far.
expect_same_table <- function(x, y) {
  expect_equal(without_kept(x), without_kept(y))
}
without_kept <- function(x) {
  x$kept <- NULL
  x$layers <- lapply(x$layers, function(layer) {
    layer$kept <- NULL
    layer$parts <-
      lapply(layer$parts, function(part) replace(part, "kept", list(NULL)))
    if (!is.null(layer$patterns)) layer$patterns$kept <- NULL
    layer
  })
  x
}

# The layer of a tally, as crosstab() makes it.
crosstab_of_merged <- function(tally) layers_of(tally, TRUE)[[1L]]

# A zip file of one deflated part, written by hand.
zip_of <- function(path, name, bytes) {
  wrapped <- tempfile()
  to <- gzfile(wrapped, "wb")
  writeBin(bytes, to)
  close(to)
  gz <- readBin(wrapped, "raw", 1e7)
  unlink(wrapped)
  packed <- gz[11:(length(gz) - 8)]
  number <- function(x, n) as.raw(x %/% 256^(seq_len(n) - 1) %% 256)
  facts <- c(number(20, 2), number(0, 2), number(8, 2), number(0, 4),
             tail(gz, 8)[1:4], number(length(packed), 4),
             number(length(bytes), 4), number(nchar(name), 2), number(0, 2))
  local <- c(as.raw(c(0x50, 0x4b, 3, 4)), facts, charToRaw(name), packed)
  central <- c(as.raw(c(0x50, 0x4b, 1, 2)), number(20, 2), facts, number(0, 2),
               number(0, 2), number(0, 2), number(0, 4), number(0, 4),
               charToRaw(name))
  end <- c(as.raw(c(0x50, 0x4b, 5, 6)), number(0, 4), number(1, 2),
           number(1, 2), number(length(central), 4), number(length(local), 4),
           number(0, 2))
  writeBin(c(local, central, end), path)
}

# The command line called from R: its status, output and messages.
call_main <- function(...) {
  err <- withr::local_tempfile()
  connection <- file(err, "w")
  sink(connection, type = "message")
  out <- tryCatch(utils::capture.output(status <- main(c(...))), finally = {
    sink(type = "message")
    close(connection)
  })
  list(status = status, out = paste(out, collapse = "\n"),
       err = paste(readLines(err), collapse = "\n"))
}

# Everything that a table says, as plain data.
findings <- function(x) {
  facts <- facts_of(x)
  list(base = facts$base, design = facts$design, layers = layers_frame(x),
       cells = cells_frame(x), tests = tests_of(x),
       strength = strength_of(x, "all"), cautions = cautions_frame(x),
       paragraph = write_up(x))
}

with_headline <- function(tests) tests[tests$headline, ]

# A table written and read back.
saved <- function(x) {
  path <- tempfile(fileext = ".json")
  publish(x, path)
  on.exit(unlink(path))
  read_tables(path)
}
program <- function(...) {
  path <- system.file("exec", "fairlattice", package = "fairlattice")
  paste(c(shQuote(file.path(R.home("bin"), "Rscript")), shQuote(path),
          shQuote(c(...))), collapse = " ")
}
# an exit status is no surprise here
shell <- function(command) {
  suppressWarnings(system2("bash", c("-c", shQuote(command)), stdout = TRUE,
                           stderr = TRUE))
}
status_of <- function(out) attr(out, "status") %||% 0L

# What stands under a table in the terminal.
usual_lines <- c("key", "test", "strength", "cautions", "account")
