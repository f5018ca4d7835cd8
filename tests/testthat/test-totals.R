# Estimated totals against their definition, written out record by record.

# Variance of the sum of t over clusters within strata, by hand.
sum_variance <- function(t, stratum, certain = 0) {
  sum(vapply(unique(stratum), function(h) {
    of_stratum <- t[stratum == h]
    a <- length(of_stratum)
    a / (a - 1) * sum((of_stratum - mean(of_stratum))^2)
  }, 0))
}

test_that("a total, its variance and its interval are those of the cluster sums", {
  data <- demo_records()
  survey <- respondents(data, weight = weight, stratum = island,
                        cluster = settlement)
  x <- crosstab(survey, heating, tenure)
  found <- totals(x)
  weight <- as.numeric(data$weight)
  used <- !is.na(data$heating) & !is.na(data$tenure) & !is.na(weight)
  sampled <- !is.na(data$island) & !is.na(data$settlement)
  cluster <- interaction(as.character(data$island),
                         as.character(data$settlement), drop = TRUE)
  stratum <- sub("[.].*", "", levels(cluster))
  by_hand <- function(down, across) {
    inside <- used & (is.na(down) | data$heating == down) &
      data$tenure == across
    t <- tapply(ifelse(inside %in% TRUE, weight, 0), cluster, sum)
    c(total = sum(t), se = sqrt(sum_variance(t, stratum)))
  }
  for (k in c(1, 6, 9, 17, 30)) {
    expect_equal(unlist(found[k, c("total", "se")]),
                 by_hand(found$down[k], found$across[k]), info = k)
  }
  expect_equal(found$cv, found$se / found$total)
  df <- length(levels(cluster)) - length(unique(stratum))
  t <- qt(0.975, df)
  expect_equal(found$low, found$total * exp(-t * found$cv))
  expect_equal(found$high, found$total * exp(t * found$cv))
  # columns of the table and JSON have the same
  cells <- as.data.frame(x)
  expect_equal(cells$weighted_se, found$se[!is.na(found$down)])
  # a pair's difference and ratio, with the covariance of the two
  pair <- attr(found, "pairs")[1, ]
  in_cell <- function(across) {
    tapply(ifelse(used & data$heating == pair$down & data$tenure == across,
                  weight, 0), cluster, sum)
  }
  first <- in_cell(pair$first)
  second <- in_cell(pair$second)
  expect_equal(pair$se, sqrt(sum_variance(first - second, stratum)))
  z <- (sum(first) - sum(second)) / pair$se
  expect_equal(pair$p, 2 * pt(-abs(z), df))
  # the interval of the ratio leaves 1 when the test rejects
  pairs <- attr(found, "pairs")
  expect_identical(pairs$p < 0.05, pairs$ratio_low > 1 | pairs$ratio_high < 1)
  expect_identical(pairs$p < 0.05, pairs$low > 0 | pairs$high < 0)
})

test_that("respondents as clusters, single clusters, whole strata and replicates", {
  set.seed(4)
  data <- data.frame(h = rep(c("n", "s", "t"), c(20, 30, 1)),
                     w = runif(51, 50, 150),
                     a = sample(c("x", "y"), 51, TRUE),
                     b = sample(c("p", "q"), 51, TRUE))
  data$size <- c(n = 40, s = Inf, t = Inf)[data$h]
  data$size[is.infinite(data$size)] <- 1e9
  one <- totals(crosstab(respondents(data, weight = w, stratum = h,
                                     population = size,
                                     single_cluster = "zero"), a, b))
  inside <- data$a == "x" & data$b == "p"
  t <- ifelse(inside, data$w, 0)
  expect_equal(one$se[1],
               sqrt(0.5 * sum_variance(t[data$h == "n"], rep(1, 20)) +
                      sum_variance(t[data$h == "s"], rep(1, 30))),
               tolerance = 1e-6)
  # a single one is set against the mean of all
  centred <- totals(crosstab(respondents(data, weight = w, stratum = h), a, b))
  expect_equal(centred$se[1]^2,
               sum_variance(t[1:50], data$h[1:50]) + (t[51] - mean(t))^2)
  # replicates that give every record its turn give the same as the records do
  plain <- data[1:50, ]
  factors <- 1 + (50 / 49 - 1) - diag(50 / 49, 50)
  colnames(factors) <- paste0("r", 1:50)
  repeated <- cbind(plain, plain$w * factors)
  jackknife <- totals(crosstab(respondents(repeated, weight = w,
                                           replicates = paste0("r", 1:50),
                                           replicate_kind = "jk1"), a, b))
  linear <- totals(crosstab(respondents(plain, weight = w), a, b))
  expect_equal(jackknife$se, linear$se)
})

test_that("totals are refused without weights, and said to be of respondents where weights average 1", {
  data <- demo_records()
  expect_error(totals(crosstab(respondents(data), heating, island)),
               "need weights", class = "fairlattice_error_weight")
  expect_error(lay_out(crosstab(data, heating, island), show = "estimated_total"),
               "need weights", class = "fairlattice_error_weight")
  data$scaled <- as.numeric(data$weight) / mean(as.numeric(data$weight), na.rm = TRUE)
  scaled <- crosstab(respondents(data, weight = scaled), heating, island)
  expect_match(paste(format(lay_out(scaled, show = "estimated_total")),
                     collapse = " "), "not of the\\s+population")
  run <- call_main(c("crosstab", demo_file("veyra.csv"), "--down", "heating",
                     "--across", "island", "--weight", "weight", "--show",
                     "estimated_total,interval", "--unit", "thousands",
                     "--totals"))
  expect_match(run$out, "Estimated numbers of people (thousands)", fixed = TRUE)
  expect_match(run$out, "Estimated totals", fixed = TRUE)
  # in a unit that is larger than all of them they still show
  x <- crosstab(respondents(data, weight = weight), heating, island)
  millions <- lay_out(x, show = "estimated_total", unit = "millions")
  everybody <- sum(as.data.frame(x)$weighted) / 1e6
  expect_lt(everybody, 0.1)
  expect_match(paste(format(millions), collapse = " "), format(signif(everybody, 2)),
               fixed = TRUE)
})

test_that("a paragraph and a headline quote only what is sure enough", {
  x <- attr(lay_out(crosstab(demo_survey(), heating, island), flag_cv = 12), "of")
  share <- shares(x)
  flagged <- subset(share, 100 * se / share > 12)
  expect_gt(nrow(flagged), 3)
  quoted <- paste(write_up(x, "full"), fairlattice:::headline_finding(x, 1L))
  for (i in seq_len(nrow(flagged)))
    expect_no_match(quoted, sprintf("in \"%s\" answered \"%s\"", flagged$across[i],
                                    flagged$down[i]), fixed = TRUE)
  expect_match(quoted, "More than expected: .* overall")
  # nor is what is taken out drawn beside the table
  drawn <- function(...) fairlattice:::has_figure(attr(lay_out(x, ...), "of"), "shares")
  expect_false(drawn(flag_cv = c(12, 40)))
  expect_true(drawn(flag_cv = 12))
  expect_true(drawn(flag_cv = c(500, 1000)))
})

test_that("items and nets have the totals of the people in them", {
  data <- ticks(net(demo_records(), heating, Fuel = c("Oil", "Wood or peat")),
                reasons = c(reason_work, reason_housing))
  survey <- respondents(data, weight = weight)
  items <- totals(crosstab(survey, reasons, island))
  expect_gt(sum(items$total[!is.na(items$down)]), 0)
  expect_false(anyNA(items$se[items$total > 0 & !is.na(items$down)]))
  expect_null(attr(totals(crosstab(survey, island, reasons)), "pairs"))
  # a net is the sum of its parts, with a variance of its own
  x <- crosstab(survey, heating, island)
  laid <- lay_out(x, show = c("estimated_total", "se"), stack = "beside")[[1]]
  net_row <- which(laid$stub$role == "net")
  parts <- grepl("Oil|Wood", laid$stub$label)
  expect_equal(laid$value[net_row, 1], sum(laid$value[parts, 1]))
  expect_lt(laid$value[net_row, 2], sum(laid$value[parts, 2]))
})

test_that("how sure a figure is: standard error, coefficient of variation, design effect", {
  data <- demo_records()
  # a random sample has the textbook's, and a design effect of 1
  x <- as.data.frame(crosstab(data, heating, island))
  p <- x$column_percent / 100
  base <- ave(x$n, x$across, FUN = sum)
  expect_equal(x$column_se, 100 * sqrt(p * (1 - p) / base))
  expect_equal(x$column_deff, ifelse(p > 0 & p < 1, 1, NA))
  expect_equal(x$column_cv, ifelse(p > 0, 100 * x$column_se / x$column_percent, NA))
  # a weight alone: the ratio's variance, record by record
  survey <- respondents(data, weight = weight)
  y <- crosstab(survey, heating, island)
  w <- as.numeric(data$weight)
  there <- which(!is.na(data$heating) & data$island %in% "Tarn" & !is.na(w))
  yes <- data$heating[there] == "Oil"
  share <- sum(w[there] * yes) / sum(w[there])
  u <- numeric(sum(!is.na(w)))
  u[seq_along(there)] <- w[there] * (yes - share) / sum(w[there])
  cell <- subset(as.data.frame(y), down == "Oil" & across == "Tarn")
  m <- length(u)
  expect_equal(cell$column_se / 100, sqrt(m / (m - 1) * sum((u - mean(u))^2)),
               tolerance = 1e-3)
  # a mean of a random sample
  scored <- crosstab(score(data, ferry), ferry, island)
  one <- means(scored)[1, ]
  expect_equal(one$cv, one$se / one$mean)
  expect_equal(one$deff, 1)
  laid <- lay_out(scored, summary = c("mean", "se", "cv", "deff"))[[1]]
  expect_equal(laid$value[laid$stub$label == "Standard error of the mean", 1],
               one$se)
  # in the layout: of the percentage that is shown
  beside <- lay_out(y, show = c("column", "se", "cv", "deff"),
                    stack = "beside")[[1]]
  oil <- which(beside$stub$label == "Oil")
  expect_equal(beside$value[oil, beside$columns$figure == "standard error"][1:5],
               subset(as.data.frame(y), down == "Oil")$column_se)
  expect_error(lay_out(y, show = c("n", "se")), class = "fairlattice_error_layout")
})

test_that("figures beyond the limits are marked or left out, in every form", {
  survey <- respondents(demo_records(), weight = weight, stratum = island,
                        cluster = settlement)
  x <- crosstab(survey, heating, tenure)
  flagged <- lay_out(x, flag_cv = c(15, 30))[[1]]
  cells <- as.data.frame(x)
  cv <- matrix(cells$column_cv, 5)
  expect_identical(flagged$flag[1:5, 1:5] == "caution", cv > 15 & cv <= 30)
  expect_identical(flagged$kind[1:5, 1:5] == "unreliable", cv > 30)
  expect_true(all(is.na(flagged$value[1:5, 1:5][cv > 30])))
  # rules hold together; counts stay
  both <- lay_out(x, show = c("column", "n"), flag_width = c(10, 25),
                  flag_under = c(400, 110), flag_clusters = 20)[[1]]
  tied <- both$columns$label == "Tied to a job"
  expect_true(all(both$kind[1:5, tied] == "unreliable"))
  expect_match(both$key[grepl("^\\[u\\]", both$key)],
               "wider than 10 points or fewer than 400 respondents or fewer than 20 clusters")
  # by clusters: what a column has, counted by hand
  data <- demo_records()
  met <- tapply(paste(data$island, data$settlement), data$tenure,
                function(v) length(unique(v)))
  by_clusters <- lay_out(x, flag_clusters = 28)[[1]]
  expect_identical(unname(colSums(by_clusters$flag[1:5, 1:5] == "caution") > 0),
                   unname(as.vector(met[by_clusters$columns$label[1:5]]) < 28))
  # every form has the signs, and a workbook keeps the number
  folder <- withr::local_tempdir()
  for (ending in c("html", "docx", "xlsx", "pptx", "tex", "md", "txt")) {
    path <- file.path(folder, paste0("t.", ending))
    publish(lay_out(x, flag_cv = c(15, 30), lines = "none"), path,
            figure = "none")
    text <- if (ending %in% c("docx", "xlsx", "pptx")) {
      inside <- file.path(folder, ending)
      utils::unzip(path, exdir = inside)
      paste(unlist(lapply(list.files(inside, "[.]xml$", recursive = TRUE,
                                     full.names = TRUE), readLines,
                          warn = FALSE)), collapse = "")
    } else {
      paste(readLines(path), collapse = "\n")
    }
    expect_match(text, "\\[u\\{?\\]?", info = ending)
  }
  # what is left out is not to be found under another base of the page
  page <- function(...) {
    path <- file.path(folder, "lively.html")
    publish(lay_out(x, lines = "none", ...), path, figure = "none")
    paste(readLines(path), collapse = "")
  }
  expect_match(page(flag_cv = 15), "class=\"model")
  expect_false(grepl("class=\"model", page(flag_cv = c(15, 30))))
  run <- call_main(c("crosstab", demo_file("veyra.csv"), "--down", "heating",
                     "--across", "tenure", "--flag-under", "20,50"))
  expect_match(run$err, "wrong way round")
  expect_error(lay_out(x, flag_cv = c(1, 2, 3)), "one limit or two",
               class = "fairlattice_error_layout")
  expect_error(house_style(layout = list(flag_cv = "many")),
               class = "fairlattice_error_style")
})

test_that("a pair of columns prints the ratio and its interval the way round it is said", {
  data <- data.frame(yes = "y", g = rep(c("a", "b"), c(30, 90)), w = 1)
  found <- totals(crosstab(respondents(data, weight = w), yes, g))
  pair <- attr(found, "pairs")
  pair <- pair[pair$down %in% "y", ]
  text <- gsub("\\s+", " ", paste(format(found, width = 120), collapse = " "))
  expect_match(text, sprintf("y b a 60 .* %s %s(\u2013| to )%s", format_number(1 / pair$ratio),
                             format_number(1 / pair$ratio_high),
                             format_number(1 / pair$ratio_low)))
})
