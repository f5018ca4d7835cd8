# The covariance against its definition, and what it must agree with.

covariance_in <- function(x) {
  e <- x$layers[[1]]$estimate
  c(e, list(df = design_df(e), V = estimated_together(e, cells_of)$covariance))
}

variance_of_cells <- function(x) {
  estimated(x$layers[[1]]$estimate, cells_of)$variance
}

test_that(paste("linearised covariance is the definition's, with missing",
                "answers, zero weights and empty clusters"), {
  data <- messy_records(300)
  data$down[data$cluster %in% c(2, 5)] <- NA # clusters with nobody in the table
  clustered <- covariance_in(
    crosstab(respondents(
      data, weight = w, stratum = stratum,
      cluster = cluster), down, across))
  expect_equal(clustered$V,
               covariance_twin(data, data$w, data$stratum, data$cluster))
  expect_equal(clustered$df, length(unique(data$cluster)) - 2 - 3)
  alone <- covariance_in(
    crosstab(respondents(data, weight = w, stratum = stratum), down, across))
  expect_equal(alone$V,
               covariance_twin(data, data$w, data$stratum, seq_len(300)))
})

test_that("with equal weights and no design it is n/(n-1) times the multinomial one", {
  data <- records_of(hand_2x3)
  data$w <- 7
  weighted <-
    covariance_in(crosstab(respondents(data, weight = w), down, across))
  plain <- covariance_in(crosstab(data, down, across))
  expect_equal(weighted$V, plain$V * 100 / 99)
  expect_equal(weighted$df, 99)
  p <- as.vector(hand_2x3) / 100
  expect_equal(plain$V, (diag(p) - p %*% t(p)) / 100)
})

test_that("keeping a part of the sample leaves the design as it was", {
  data <- messy_records(300)
  survey <- respondents(data, weight = w, stratum = stratum, cluster = cluster)
  part <- among(survey, each == "one")
  outside <- data
  outside$down[!outside$each %in% "one"] <- NA
  expect_equal(covariance_in(crosstab(part, down, across))$V,
               covariance_twin(outside, data$w, data$stratum, data$cluster))
})

test_that("a single cluster is centred at 0 and adds its own square", {
  data <- messy_records(200)
  data$stratum[data$cluster == 1] <- "alone"
  x <- crosstab(respondents(data, weight = w, stratum = stratum,
                            cluster = cluster), down, across)
  expect_equal(covariance_in(x)$V,
               covariance_twin(data, data$w, data$stratum, data$cluster))
  expect_true("single_cluster" %in% cautions(x)$code)
})

test_that("a cluster's name counts within its stratum", {
  data <- messy_records(200)
  renamed <- transform(data,
                       cluster = match(cluster,
                                       unique(cluster[stratum == stratum[1]])))
  data$nested <-
    ave(data$cluster, data$stratum, FUN = function(x) match(x, sort(unique(x))))
  of <- function(survey) covariance_in(crosstab(survey, down, across))$V
  apart <- respondents(data, weight = w, stratum = stratum, cluster = cluster)
  nested <- respondents(data, weight = w, stratum = stratum, cluster = nested)
  expect_equal(of(nested), of(apart))
  expect_true("nested_clusters" %in%
                cautions(crosstab(nested, down, across))$code)
})

test_that(paste("the covariance of residuals is J V J' with a numerical",
                "Jacobian, whatever V is made of"), {
  data <- messy_records(300)
  designs <- list(respondents(
    data, weight = w, stratum = stratum,
    cluster = cluster), respondents(data, weight = w, stratum = stratum),
                  respondents(data))
  for (survey in designs) {
    e <- covariance_in(crosstab(survey, down, across))
    J <- t(vapply(seq_len(12), function(cell) {
      as.vector(numeric_gradient(
        function(P) {
          (P - outer(rowSums(P), colSums(P)))[cell]
        }, e$P))
    }, numeric(12)))
    wanted <- J %*% e$V %*% t(J)
    # central differences are right to 1e-8
    expect_equal(as.vector(residual_variance(e)), diag(wanted),
                 tolerance = 1e-6)
    free <- cells_but_last(e$P)
    expect_equal(residual_spread(e)$covariance, wanted[free, free],
                 tolerance = 1e-6)
    expect_equal(estimated(e, cells_of)$variance, diag(e$V))
  }
})

test_that("a covariance made in blocks is the same", {
  survey <- demo_survey()
  whole <- findings(crosstab(survey, heating, island))
  withr::local_options(fairlattice.block_cells = 200)
  expect_equal(findings(crosstab(survey, heating, island)), whole)
})

test_that("the jackknife agrees with the linearised covariance, and the bootstrap comes near", {
  survey <- demo_survey()
  V <- function(survey) covariance_in(crosstab(survey, internet, tenure))$V
  linear <- V(survey)
  # they differ by the curvature of a ratio
  expect_equal(V(make_replicates(survey, "jackknife")), linear,
               tolerance = 0.01)
  expect_equal(sum(diag(V(make_replicates(survey, "bootstrap", 2000)))),
               sum(diag(linear)), tolerance = 0.1)
  each_own <- respondents(messy_records(150), weight = w, stratum = stratum)
  of <- function(survey) covariance_in(crosstab(survey, down, across))
  expect_equal(of(make_replicates(each_own, "jackknife"))$V, of(each_own)$V,
               tolerance = 0.05)
})

test_that("under replicate weights every figure is worked out in every replicate", {
  data <- messy_records(240)
  data <- data[!is.na(data$w) & data$w > 0, ]
  survey <- make_replicates(respondents(data, weight = w, stratum = stratum,
                                        cluster = cluster), "jackknife")
  factors <- survey$design$replicates$factors[survey$unit, ]
  figures_with <- function(w) {
    data$w <- w
    x <- crosstab(score(respondents(data, weight = w), down, c(1, 2, 5)), down,
                  across)
    m <- means(x)
    e <- x$layers[[1]]$estimate
    list(share = shares(x)$share, mean = m$mean[1:4],
         change = attr(m, "pairs")$difference,
         residual = as.vector(e$P - e$fit),
         log_odds = subset(risks(x), figure == "log_odds_ratio")$estimate,
         strength = subset(strength(x, "all"),
                           measure %in% c("gamma", "cramers_v", "lambda"))$estimate)
  }
  whole <- figures_with(data$w)
  each <- lapply(seq_len(ncol(factors)), function(r) {
    figures_with(data$w * factors[, r])
  })
  variance <- function(name) {
    off <-
      vapply(each, function(one) one[[name]] - whole[[name]], whole[[name]])
    drop(matrix(off, length(whole[[name]]))^2 %*%
           survey$design$replicates$scale)
  }
  x <- crosstab(score(survey, down, c(1, 2, 5)), down, across)
  e <- x$layers[[1]]$estimate
  expect_equal(estimated_shares(e, "column")$variance, variance("share"))
  expect_equal(means(x)$se[1:4]^2, variance("mean"))
  pairs <- attr(means(x), "pairs")
  # the fewest clusters of the two columns, less one
  there <- !is.na(data$down) & !is.na(data$across) & data$w > 0
  place <- paste(data$stratum, data$cluster)[there]
  clusters <- vapply(split(place, as.character(data$across)[there]),
                     function(one) length(unique(one)), 0L)
  df <- pmin(layer_df(x$layers[[1]]), clusters[pairs$first] - 1,
             clusters[pairs$second] - 1)
  expect_equal((pairs$high - pairs$difference) / qt(0.975, df),
               sqrt(variance("change")))
  expect_equal(as.vector(residual_variance(e)), variance("residual"))
  expect_equal(diag(residual_spread(e)$covariance),
               variance("residual")[cells_but_last(e$P)])
  expect_equal(subset(risks(x), figure == "log_odds_ratio")$se^2,
               variance("log_odds"))
  expect_equal(subset(strength(x, "all"),
                      measure %in% c("gamma", "cramers_v", "lambda"))$se ^ 2,
               variance("strength"))
})

test_that("a figure that a replicate does not have is taken by its linear form", {
  data <- messy_records(240)
  data <- data[!is.na(data$w) & data$w > 0 & !is.na(data$across), ]
  data$across[data$cluster != data$cluster[1]] <-
    ifelse(data$id %% 2 == 0, "A", "B")[data$cluster != data$cluster[1]]
  data$across[data$cluster == data$cluster[1]] <- "C" # a column that lives in one cluster
  e <- crosstab(make_replicates(respondents(
                                  data, weight = w, cluster = cluster),
                                "jackknife"), down, across)$layers[[1]]$estimate
  found <- matrix(estimated_shares(e, "column")$variance, nrow(e$P))
  expect_equal(found[, colnames(e$P) == "C"], rep(0, nrow(e$P)))
  for (k in seq_len(ncol(e$P))) {
    inside <- as.vector(col(e$P) == k) + 0
    first <- ratios_of(inside * as.vector(row(e$P) == 1), inside)
    expect_equal(estimated(e, first)$variance, found[1, k])
  }
})

test_that("balanced half samples are balanced: V of a linear figure is the linearised one", {
  data <- data.frame(down = factor(rep(1:2, 60)),
                     across = factor(sample(1:2, 120, TRUE)),
                     stratum = rep(1:6, each = 20),
                     cluster = rep(1:12, each = 10), w = 1)
  data$down[withr::with_seed(3, sample(120, 50))] <- 1
  survey <- respondents(data, weight = w, stratum = stratum, cluster = cluster)
  of <- function(survey) covariance_in(crosstab(survey, down, across))
  # equal cluster sizes make the shares linear
  expect_equal(of(make_replicates(survey, "brr"))$V, of(survey)$V)
  expect_equal(of(make_replicates(survey, "brr", fay = 0.5))$V, of(survey)$V)
  expect_equal(of(make_replicates(survey, "brr"))$df, 6)
  expect_error(make_replicates(respondents(data, cluster = cluster), "brr"),
               "two clusters in every stratum",
               class = "fairlattice_error_replicates")
})

test_that("replicate weights given as columns are what their kind says", {
  data <- messy_records(200)
  survey <- make_replicates(respondents(data, weight = w, cluster = cluster),
                            "jackknife")
  made <- covariance_in(crosstab(survey, down, across))
  columns <- survey$design$replicates$factors[survey$unit, ] *
             ifelse(is.na(data$w), 0, data$w)
  data[sprintf("rep_%d", seq_len(ncol(columns)))] <- as.data.frame(columns)
  given <-
    respondents(data, weight = w, replicates = "rep_*", replicate_kind = "jk1")
  expect_equal(covariance_in(crosstab(given, down, across))[c("P", "V", "df")],
               made[c("P", "V", "df")])
  half <- function(rows) {
    tally_of(respondents(data[rows, ], weight = w, replicates = "rep_*",
                         replicate_kind = "jk1"), down, across)
  }
  expect_equal(merge(half(1:90), half(91:200))$cells$replicates,
               tally_of(given, down, across)$cells$replicates)
  p <- function(w) {
    vapply(split(replace(w,
                         is.na(data$down) | is.na(data$across) | is.na(data$w) |
                           data$w == 0, 0), list(data$down, data$across)), sum,
           0)
  }
  P <- vapply(seq_len(ncol(columns)), function(r) {
    p(columns[, r]) / sum(p(columns[, r]))
  }, numeric(12))
  full <- p(data$w) / sum(p(data$w))
  for (kind in list(list("brr", 1 / 24), list("fay", 1 / (24 * 0.49)),
                    list("successive_difference", 4 / 24),
                    list("bootstrap", 1 / 24), list("jkn", 0.5))) {
    x <- crosstab(respondents(data, weight = w, replicates = "rep_*",
                              replicate_kind = kind[[1]],
                              fay = if (kind[[1]] == "fay") 0.3,
                              replicate_scale = if (kind[[1]] == "jkn") 0.5),
                  down, across)
    expect_equal(covariance_in(x)$V, kind[[2]] * tcrossprod(P - full),
                 ignore_attr = TRUE, info = kind[[1]])
  }
  expect_error(respondents(data, weight = w, cluster = cluster,
                           replicates = "rep_*"), "carry the design",
               class = "fairlattice_error_replicates")
})

test_that("a population correction takes its share, and a census has no variance", {
  data <- messy_records(200)
  data$clusters <- 16
  V <- function(...) {
    covariance_in(crosstab(respondents(data, weight = w, stratum = stratum,
                                       cluster = cluster, ...), down,
                           across))$V
  }
  expect_equal(V(population = clusters), V() / 2) # 8 of 16 clusters in every stratum
  data$clusters <- 8
  expect_equal(max(abs(V(population = clusters))), 0)
  data$clusters <- 7
  expect_error(V(population = clusters), "fewer than the 8 sampled",
               class = "fairlattice_error_population")
})

test_that("a single_cluster stratum adds its square, nothing, or an error", {
  data <- messy_records(200)
  data$stratum[data$cluster == 1] <- "alone"
  of <- function(single_cluster) {
    covariance_in(crosstab(respondents(data, weight = w, stratum = stratum,
                                       cluster = cluster,
                                       single_cluster = single_cluster), down,
                           across))
  }
  expect_true(all(diag(of("centre")$V - of("zero")$V) >= 0))
  expect_gt(max(diag(of("centre")$V - of("zero")$V)), 0)
  expect_error(of("stop"), "alone", class = "fairlattice_error_single_cluster")
})

test_that("replicates that are empty in a table are made up for by the others", {
  data <- messy_records(300)
  data <- data[!is.na(data$w) & data$w > 0, ]
  set <- c(1, -1)
  reps <- vapply(1:8, function(r) {
    data$w * (1 + 0.3 * set[1 + (data$cluster + r) %% 2])
  }, numeric(nrow(data)))
  few <- data$cluster %in% 1:3
  reps[few, 1:4] <- 0
  data <- cbind(data, stats::setNames(as.data.frame(reps), paste0("r", 1:8)))
  survey <- respondents(data, weight = w, replicates = "r*")
  x <- crosstab(among(survey, few), down, across)
  other <- data[few, c("down", "across", "w", paste0("r", 5:8))]
  four <- respondents(other, weight = w, replicates = "r*")
  expect_equal(variance_of_cells(x),
               variance_of_cells(crosstab(four, down, across)))
  expect_equal(layer_df(x$layers[[1]]), 3)
})

test_that(paste("a jackknife has the degrees of freedom of the linearised",
                "form, in the table and in a part of it"), {
  survey <- demo_survey()
  for (one in list(survey,
                   among(
                     survey,
                     "island %in% c('Tarn', 'Norrey') & age > 75"))) {
    df <- function(survey) {
      layer_df(crosstab(survey, leave, internet)$layers[[1]])
    }
    expect_equal(df(make_replicates(one, "jackknife")), df(one))
  }
})

test_that("strata of a single respondent are named", {
  data <-
    transform(messy_records(120), stratum = ifelse(id == 7, "alone", "others"))
  data[7, c("down", "across", "w")] <- list("a", "B", 1)
  e <- crosstab(respondents(data, weight = w, stratum = stratum), down,
                across)$layers[[1]]$estimate
  expect_identical(e$spread$single, "alone")
})

test_that("a covariance divides as the inverse does, and a singular one not at all", {
  withr::local_seed(8)
  for (size in c(1L, 2L, 7L)) {
    A <- crossprod(matrix(rnorm(20 * size), 20L)) *
         tcrossprod(10^seq(-3, 3, length.out = size))
    B <- crossprod(matrix(rnorm(20 * size), 20L))
    expect_equal(solve_or_null(A, B), solve(A, B, tol = 0), tolerance = 1e-9)
  }
  A <- crossprod(matrix(rnorm(15), 5L))
  expect_null(solve_or_null(A[c(1:3, 1), c(1:3, 1)], diag(4)))
  expect_null(solve_or_null(diag(c(1, 0)), diag(2)))
  expect_null(solve_or_null(diag(c(1, NaN)), diag(2)))
})

# Four strata of six clusters, with 12 people each; those of column "few" live in
# `k` of the clusters.
people_in_few <- function(seed, k, p = 0.5, alike = 0.25) {
  withr::local_seed(seed)
  data <- data.frame(cluster = rep(1:24, each = 12),
                     stratum = rep(1:4, each = 72))
  home <- rnorm(24)[data$cluster]
  latent <- sqrt(alike) * home + sqrt(1 - alike) * rnorm(nrow(data))
  data$down <- ifelse(latent < qnorm(p), "yes", "no")
  few <- data$cluster %in% sample(24, k) & runif(nrow(data)) < 0.5
  data$across <- ifelse(few, "few", "many")
  data$score <- rnorm(nrow(data))
  data
}

test_that("a column has the degrees of freedom of the clusters that its people live in", {
  data <- people_in_few(1, 5)
  survey <- respondents(data, stratum = stratum, cluster = cluster)
  s <- shares(crosstab(survey, down, across))
  few <- s[s$down == "yes" & s$across == "few", ]
  e <- crosstab(survey, down, across)$layers[[1]]$estimate
  se <- sqrt(estimated_shares(e, "column")$variance[2])
  expect_equal(plogis(qlogis(few$share) +
                        c(-1, 1) * qt(0.975, 4) * se / (few$share * (1 - few$share))),
               c(few$low, few$high))
  many <- s[s$down == "yes" & s$across == "many", ]
  expect_equal(estimated_shares(e, "column")$df, c(4, 4, 20, 20))
  expect_equal(estimated_shares(e, "total")$df, rep(20, 4))
  pair <- differences(crosstab(survey, down, across))
  expect_equal(pair$p, 2 * pt(-abs(pair$z), 4))
  expect_match(paste(cautions(crosstab(survey, down, across))$text, collapse = " "),
               "Few clusters.*few \\(5\\)")
})

test_that("of a column in one cluster nothing is known: no interval, letter or test", {
  data <- people_in_few(2, 1)
  survey <- respondents(score(data, score), stratum = stratum, cluster = cluster)
  x <- crosstab(survey, down, across)
  s <- shares(x)
  expect_true(all(is.na(s$low[s$across == "few"])))
  expect_true(all(is.na(differences(x)$p)))
  expect_true(all(attr(differences(x), "letters")$letters == ""))
  m <- means(crosstab(survey, score, across))
  expect_true(is.na(m$low[m$column == "few"]))
  expect_true(is.na(attr(m, "tests")$p))
  expect_match(attr(m, "tests")$note, "one cluster")
  expect_true(all(is.na(attr(m, "pairs")$p)))
})

test_that("shares of few clusters are covered as often as the interval says", {
  for (k in c(3, 6)) {
    held <- vapply(1:300, function(seed) {
      x <- crosstab(respondents(people_in_few(seed, k), stratum = stratum,
                                cluster = cluster), down, across)
      s <- shares(x)
      own <- s[s$down == "yes" & s$across == "few", ]
      if (!length(own$low) || is.na(own$low)) NA else
        own$low <= 0.5 && 0.5 <= own$high
    }, NA)
    expect_gt(mean(held, na.rm = TRUE), 0.90)
    expect_lt(mean(held, na.rm = TRUE), 0.98)
  }
})

test_that("a stratum that was sampled whole adds no degrees of freedom, and no caution", {
  withr::local_seed(8)
  data <- data.frame(cluster = rep(1:12, each = 10),
                     stratum = rep(1:3, each = 40))
  data$size <- c(4, 40, 40)[data$stratum]
  data$down <- c("x", "y")[1 + (runif(120) < rep(runif(12), each = 10))]
  data$across <- sample(c("p", "q"), 120, TRUE)
  x <- crosstab(respondents(data, stratum = stratum, cluster = cluster,
                            population = size), down, across)
  headline <- subset(tests(x), headline)
  expect_equal(c(headline$df, headline$df_error), c(1, 6))
  # the same with a single certain cluster
  data$cluster[data$stratum == 1] <- 1
  data$size[data$stratum == 1] <- 1
  x <- crosstab(respondents(data, stratum = stratum, cluster = cluster,
                            population = size), down, across)
  expect_false("single_cluster" %in% cautions(x)$code)
  expect_equal(subset(tests(x), headline)$df_error, 6)
})

test_that("large tables, summed over the cells that a cluster is in, have the same variances as small ones", {
  # the same estimate by both ways: what large tables are summed from is there
  # for all
  by_cells <- function(e) {
    drawn <- e$spread$drawn
    e$spread$sparse <- c(drawn$cells, list(of = drawn$of, strata = drawn$strata,
                                           N = sum(drawn$cells$w)))
    e
  }
  withr::local_seed(17)
  check <- function(e, info) {
    dense <- e
    dense$spread["sparse"] <- list(NULL)
    sparse <- by_cells(e)
    same <- function(work) {
      expect_equal(work(sparse), work(dense), tolerance = 1e-9, info = info)
    }
    for (percent in c("row", "column", "total"))
      same(function(e) estimated_shares(e, percent))
    same(residual_variance)
    same(residual_spread)
    under <- outer(as.vector(col(e$P)), seq_len(ncol(e$P)), `==`) + 0
    means <- ratios_of(under * as.vector(row(e$P)), under)
    same(function(e) estimated(e, means))
    same(function(e) estimated_together(e, means))
    same(function(e) design_effect_of(e, means))
  }
  for (i in 1:30) {
    clusters <- sample(6:30, 1)
    stratum <- sort(sample(3, clusters, TRUE))
    if (i %% 3 == 0) stratum[clusters] <- 4 # a stratum of one cluster
    id <- sample(clusters, 400, TRUE)
    people <- data.frame(s = stratum[id], c = id, w = runif(400, 0.5, 3),
                         a = factor(pmin(5, 1 + rpois(400, 1 + id %% 3))),
                         b = factor(sample(4, 400, TRUE)))
    people$size <- c(1e6, 40, 60, 80)[people$s]
    # some clusters have nobody in the table
    people$a[people$c %in% sample(clusters, 2)] <- NA
    survey <- respondents(people, weight = w, stratum = s, cluster = c,
                          population = size,
                          single_cluster = if (i %% 2) "centre" else "zero")
    check(crosstab(survey, a, b)$layers[[1]]$estimate, i)
  }
  # and a table that is large enough to take that way by itself
  people <- data.frame(s = rep(1:4, each = 500), w = runif(2000, 0.5, 3))
  people$c <- people$s * 100 + sample(15, 2000, TRUE)
  people$a <- factor((people$c + sample(20, 2000, TRUE)) %% 21)
  people$b <- factor(sample(20, 2000, TRUE))
  x <- crosstab(respondents(people, weight = w, stratum = s, cluster = c), a, b)
  e <- x$layers[[1]]$estimate
  expect_false(is.null(e$spread$sparse))
  check(e, "large")
})

test_that("made replicates keep the weight of every stratum, and Fay's factor is of half samples alone", {
  survey <- demo_survey()
  units <- survey$design$units
  a <- table(units$stratum)
  for (kind in c("jackknife", "bootstrap")) {
    factors <- make_replicates(survey, kind)$design$replicates$factors
    # those left stand for the others
    sums <- rowsum(factors, units$stratum)
    expect_equal(unname(sums), matrix(as.vector(a[rownames(sums)]), nrow(sums),
                                      ncol(sums)), info = kind)
  }
  expect_error(make_replicates(survey, "jackknife", fay = 0.3),
               class = "fairlattice_error_replicates")
  expect_error(make_replicates(survey, "brr", fay = 1),
               class = "fairlattice_error_replicates")
})

test_that("values without each cluster in turn are those of a survey without it", {
  data <- messy_records(300, seed = 4, r = 2, k = 2, clusters = 16)
  data <- data[!is.na(data$w), ]
  # a cluster with nobody in the table counts as drawn
  data$down[data$cluster == data$cluster[1]] <- NA
  survey <- respondents(data, weight = w, stratum = stratum, cluster = cluster)
  e <- crosstab(survey, down, across)$layers[[1]]$estimate
  values <- function(P) c(phi_squared(P), P[1, 1] / sum(P[, 1]))
  of_tables <- function(tables) {
    t(apply(tables, 1, function(shares) values(matrix(shares, 2))))
  }
  found <- left_out(e, of_tables, function(theta) sqrt(theta))
  clusters <- unique(data[c("stratum", "cluster")])
  theta <- t(vapply(seq_len(nrow(clusters)), function(k) {
    here <- data$stratum == clusters$stratum[k]
    a <- sum(clusters$stratum == clusters$stratum[k])
    w <- ifelse(here & data$cluster == clusters$cluster[k], 0,
                ifelse(here, data$w * a / (a - 1), data$w))
    P <- tapply(w, data[c("down", "across")], sum)
    sqrt(values(P / sum(P)))
  }, c(0, 0)))
  a <- as.vector(table(clusters$stratum)[as.character(clusters$stratum)])
  mean <- apply(theta, 2, ave, clusters$stratum)
  u <- sqrt((a - 1) / a) * (theta - mean)
  v <- colSums(u^2)
  expect_equal(found$variance, unname(v))
  expect_equal(found$df, unname(2 * v^2 / (colSums(u^4) - v^2 / nrow(u))))
  # where every answer is met in many clusters derivatives do
  many <- messy_records(3000, seed = 5, r = 2, k = 2, clusters = 120)
  many <- crosstab(respondents(many, weight = w, cluster = cluster), down, across)
  expect_null(left_out(many$layers[[1]]$estimate, of_tables, identity))
  P <- some_proportions(3, 4)
  for (name in names(noncentral_scales))
    expect_equal(noncentral_values[[name]](rbind(as.vector(P)), dim(P)),
                 noncentral_scales[[name]](P)$value, info = name)
})

test_that("strata of two clusters are drawn again one at a time", {
  withr::local_seed(3)
  factors <- bootstrap_factors(c(1, 1, 2, 2, 2), rep(0, 5), 400, "centre")
  expect_setequal(unique(factors[1, ]), c(0, 2))
  expect_equal(factors[1, ] + factors[2, ], rep(2, 400))
  expect_equal(colSums(factors[3:5, ]), rep(3, 400))
})

test_that("what only a bootstrap takes is refused of other replicates by its name", {
  survey <- survey_of(demo_records(200))
  expect_error(make_replicates(survey, "jackknife", replicates = 5), "`?replicates`?")
  expect_error(make_replicates(survey, "jackknife", seed = 5), "seed")
})
