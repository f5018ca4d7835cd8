# Standardised percentages: as they would be if all columns had the same composition
# by the answers of `each`, the classes (direct standardisation). With q_ijk the share
# of answer i among the people of column j in class k, and S_k the standard,
#   s_ij = sum_k S_k q_ijk.
# Its derivative by the share of a cell (a, j, k) of all, with b_jk that of column j in
# class k, is S_k (1[a = i] - q_ijk) / b_jk; and where the standard is the composition
# of the people themselves, as well what moves S_k.

# The joint estimate of the layers, and which of its cells are which answer, column and
# class.
classes_joint <- function(x) {
  total <- Reduce(`+`, lapply(x$layers, function(layer) layer$n))
  rows <- which(row_sums(total) > 0)
  columns <- which(column_sums(total) > 0)
  classes <- which(vapply(x$layers, function(layer) sum(layer$n) > 0, NA))
  e <- estimate_of(strata_joined(x$layers[classes], x$tally, rows, columns),
                   x$tally$design)
  list(e = e, rows = rows, columns = columns, classes = classes,
       size = c(length(rows), length(columns), length(classes)))
}

# The array of proportions by answer, column and class.
joint_array <- function(joint, P) {
  all <- matrix(0, joint$size[1L], joint$size[2L] * joint$size[3L])
  all[joint$e$rows, joint$e$columns] <- P
  array(all, joint$size)
}

# The standard's shares of the classes, and what moves them: nothing where they are
# `given`, else the people of the columns that it is `of`, whose share of all is `total`.
# `b` has the proportions of columns (its rows) and classes.
standard_of <- function(b, standard) {
  if (!is.null(standard$given))
    return(list(share = standard$given / sum(standard$given), of = integer()))
  of <- standard$of %||% seq_len(nrow(b))
  sums <- column_sums(b[of, , drop = FALSE])
  list(share = sums / sum(sums), total = sum(sums), of = of)
}

# Standardised shares of all answers in all columns, down the columns, with their
# derivatives; `contrast` takes them to other figures (one column a figure).
standardised_figure <- function(joint, standard, contrast = NULL) {
  r <- joint$size[1L]
  c <- joint$size[2L]
  K <- joint$size[3L]
  kept <- as.vector(outer(joint$e$rows, (joint$e$columns - 1L) * r, `+`))
  function(P) {
    A <- joint_array(joint, P)
    b <- matrix(colSums(A), c, K)
    q <- A / rep(as.vector(b), each = r)
    q[!is.finite(q)] <- 0 # nobody there: such columns are not asked for
    S <- standard_of(b, standard)
    value <- vapply(seq_len(c), function(j) {
      matrix(q[, j, ], r, K) %*% S$share
    }, numeric(r))
    value <- matrix(value, r)
    G <- array(0, c(r, c, K, r * c))
    for (j in seq_len(c)) for (i in seq_len(r)) {
      at <- i + (j - 1L) * r
      for (k in which(S$share > 0 & b[j, ] > 0)) {
        G[, j, k, at] <- S$share[k] * ((seq_len(r) == i) - q[i, j, k]) / b[j, k]
      }
      # everybody of the standard's people counts by their class
      for (k in seq_len(K)) for (of in S$of)
        G[, of, k, at] <- G[, of, k, at] + (q[i, j, k] - value[i, j]) / S$total
    }
    G <- matrix(G, r * c * K)[kept, , drop = FALSE]
    value <- as.vector(value)
    if (!is.null(contrast)) {
      value <- as.vector(crossprod(contrast, value))
      G <- G %*% contrast
    }
    part(value, G)
  }
}

# Which columns have nobody in a class of the standard: their figures are not defined.
columns_without_class <- function(joint, standard) {
  b <- matrix(colSums(joint_array(joint, joint$e$P)), joint$size[2L])
  S <- standard_of(b, standard)$share
  which(b <= 0 & rep(S, each = nrow(b)) > 0, arr.ind = TRUE)
}

# Crude and standardised figures of every cell, means where the answers have scores,
# and the differences of all pairs of columns.
standardised_figures <- function(joint, standard, alpha, correction, scores) {
  r <- joint$size[1L]
  c <- joint$size[2L]
  odd <- unique(columns_without_class(joint, standard)[, 1L])
  defined <- setdiff(seq_len(c), odd)
  of_columns <- rep(seq_len(c), each = r)
  kept <- which(of_columns %in% defined)
  cell <- function(at) {
    out <- matrix(0, r * c, length(at))
    out[cbind(at, seq_along(at))] <- 1
    out
  }
  on <- function(contrast) {
    estimated(joint$e, standardised_figure(joint, standard, contrast))
  }
  A <- joint_array(joint, joint$e$P)
  crude <- matrix(rowSums(A, dims = 2L), r)
  crude <- as.vector(crude / rep(column_sums(crude), each = r))
  shares <- list(crude = crude, share = rep(NA_real_, r * c), variance = rep(NA_real_, r * c),
                 df = rep(NA_real_, r * c))
  if (length(kept)) {
    found <- on(cell(kept))
    for (name in c("share", "variance", "df"))
      shares[[name]][kept] <- found[[if (name == "share") "value" else name]]
  }
  list(shares = shares,
       means = if (!is.null(scores)) standardised_means(on, scores, defined, crude, c),
       pairs = standardised_pairs(on, cell, defined, r, scores, alpha, correction))
}

standardised_means <- function(on, scores, defined, crude, c) {
  r <- length(scores)
  contrast <- vapply(defined, function(j) {
    replace(numeric(r * c), seq_len(r) + (j - 1L) * r, scores)
  }, numeric(r * c))
  out <- list(crude = column_sums(matrix(crude, r) * scores),
              mean = rep(NA_real_, c), variance = rep(NA_real_, c), df = rep(NA_real_, c))
  if (!length(defined)) return(out)
  found <- on(contrast)
  out$mean[defined] <- found$value
  out$variance[defined] <- found$variance
  out$df[defined] <- found$df
  out
}

# Differences of every answer (and of the mean, the last row) between all pairs of
# columns.
standardised_pairs <- function(on, cell, defined, r, scores, alpha, correction) {
  if (length(defined) < 2L) return(NULL)
  pairs <- utils::combn(defined, 2L)
  rows <- seq_len(r + !is.null(scores))
  one_of <- function(i, j) {
    if (i <= r) return(cell(i + (j - 1L) * r))
    columns <- cell(seq_len(r) + (j - 1L) * r)
    columns %*% scores
  }
  contrast <- do.call(cbind, lapply(rows, function(i) {
    do.call(cbind, lapply(seq_len(ncol(pairs)), function(k) {
      one_of(i, pairs[1L, k]) - one_of(i, pairs[2L, k])
    }))
  }))
  found <- on(contrast)
  interval <- t_interval(found, alpha)
  p <- two_sided(found$value / interval$se, found$df)
  row <- rep(rows, each = ncol(pairs))
  corrected <- stats::ave(p, row, FUN = function(p) correct(p, correction))
  c(list(row = row, first = rep(pairs[1L, ], length(rows)),
         second = rep(pairs[2L, ], length(rows)), difference = found$value),
    interval, list(p = p, p_corrected = corrected))
}
