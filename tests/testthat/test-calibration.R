# Calibrated weights: how they are made, and what they do to variances. Definitions:
# Deville & Saerndal (1992); Saerndal, Swensson & Wretman (1992), ch. 6 and 7.

isles <- c(Norrey = 40, Sandholm = 24, "Harrow Skerry" = 17, Tarn = 12,
           "Outer Veyra" = 7)
margins <- list(island = isles, leave = c(Yes = 36, No = 64))
clustered <- function(data, ...) {
  respondents(data, stratum = island, cluster = settlement, ...)
}
word <- function(x) as.character(plain_factor(as_answers(x, "x")))
sums_by <- function(survey, name) {
  used <- survey$aside %||% integer(nrow(survey$data)) == 0L
  tapply(ifelse(used, survey$weight, 0), word(survey$data[[name]]), sum)
}

# The variance of a share by its definition: residuals, record by record, of the
# score of the share on the auxiliary variables X; summed over clusters; between
# those of a stratum. A domain's score is 0 outside of it, its residual is not.
residual_variance_twin <- function(z, w, X, stratum, cluster) {
  e <- w * (z - as.vector(X %*% solve(crossprod(X * w, X), crossprod(X * w, z))))
  sum(vapply(split(seq_along(e), stratum), function(at) {
    t <- as.vector(rowsum(e[at], cluster[at]))
    length(t) / (length(t) - 1) * sum((t - mean(t))^2)
  }, 0))
}

share_scores <- function(data, w, outcome, group) {
  inside <- !is.na(outcome) & group
  base <- sum(w[inside])
  ifelse(inside, (outcome %in% TRUE - sum(w[inside & outcome]) / base) / base, 0)
}

test_that("variances are those of the residuals, by their definition", {
  data <- demo_records(500)
  weighed <- list(
    TRUE, FALSE) |> lapply(function(clusters) {
      weigh_to(if (clusters) clustered(data) else respondents(data, stratum = island),
               margins)
    })
  w <- weighed[[1]]$weight
  island <- word(data$island)
  leave <- word(data$leave)
  X <- cbind(outer(island, names(isles)[-1], `==`) -
               rep(isles[-1] / 100, each = nrow(data)),
             ifelse(is.na(leave), 0, (leave == "Yes") - 0.36))
  ferry <- word(data$ferry) == "Satisfied"
  tenure <- word(data$tenure)
  for (k in 1:2) {
    cluster <- if (k == 1) data$settlement else seq_len(nrow(data))
    found <- as.data.frame(shares(crosstab(weighed[[k]], ferry, tenure)))
    for (group in c("Private rent", "Mortgage")) {
      z <- share_scores(data, w, ferry, tenure %in% group)
      at <- found$down == "Satisfied" & found$across == group
      expect_equal(found$se[at],
                   sqrt(residual_variance_twin(z, w, X, island, cluster)))
    }
  }
})

test_that("a figure of a margin has no variance, and says so; that of a part of the sample has", {
  survey <- weigh_to(clustered(demo_records(500)), margins)
  found <- as.data.frame(shares(crosstab(survey, leave)))
  expect_equal(found$share, c(0.36, 0.64))
  expect_true(all(is.na(found[c("low", "high", "se", "deff")])))
  expect_identical(cautions(crosstab(survey, leave))$code[1], "calibrated_margin")
  part <- crosstab(among(survey, age >= 50), leave)
  expect_false(anyNA(as.data.frame(shares(part))[c("low", "high", "se")]))
  expect_false("calibrated_margin" %in% cautions(part)$code)
  # where every respondent is a cluster of their own: what is left is rounding
  plain <- weigh_to(respondents(demo_records(500)), margins)
  expect_true(all(is.na(as.data.frame(shares(crosstab(plain, leave)))$se)))
})

test_that("post-stratified: the sum of the variances within the post-strata", {
  # of n_h people of a post-stratum of N_h: N_h^2 s_h^2 / n_h, but that the n_h were
  # not drawn: sum of w^2 e^2 n/(n-1) over all (7.10.3)
  data <- data.frame(sex = rep(c("f", "m"), c(40, 60)),
                     yes = rep(c("yes", "no", "yes", "no"), c(30, 10, 15, 45)))
  survey <- weigh_to(data, list(sex = c(f = 5000, m = 5000)))
  expect_equal(unname(unique(survey$weight)), c(5000 / 40, 5000 / 60))
  e <- c(rep(c(0.25, -0.75), c(30, 10)), rep(c(0.75, -0.25), c(15, 45)))
  v <- 100 / 99 * sum((survey$weight * e)^2)
  total <- as.data.frame(totals(crosstab(survey, yes)))
  expect_equal(as.numeric(total$total[total$down %in% "yes"]), 5000 * 0.75 + 5000 * 0.25,
               ignore_attr = TRUE)
  expect_equal(as.numeric(total$se[total$down %in% "yes"]), sqrt(v),
               ignore_attr = TRUE)
  # the whole population is known
  whole <- totals_variance(crosstab(survey, yes)$layers[[1]]$estimate,
                           cbind(c(1, 1)))
  expect_identical(whole, 0)
})

test_that("Kalton & Flores-Cervantes' hypothetical sample: cells and raking", {
  # J Off Stat (2003) 19:81-97: people in the sample and in the population, by two questions
  sampled <- matrix(c(20, 50, 100, 30, 40, 140, 50, 100, 40, 310, 50, 70), 4)
  known <- matrix(c(80, 60, 170, 55, 40, 150, 60, 165, 55, 340, 200, 125), 4)
  cells <- expand.grid(a = paste0("a", 1:4), h = paste0("h", 1:3), stringsAsFactors = FALSE)
  people <- cells[rep(1:12, sampled), ]
  factors <- function(targets) {
    survey <- weigh_to(people, targets)
    at <- paste(people$a, people$h)
    matrix(survey$weight[match(paste(cells$a, cells$h), at)], 4)
  }
  margins <- list(a = stats::setNames(rowSums(known), paste0("a", 1:4)),
                  h = stats::setNames(colSums(known), paste0("h", 1:3)))
  expect_equal(factors(list(cbind(cells, count = as.vector(known)))), known / sampled)
  expect_equal(round(factors(margins), 2),
               matrix(c(1.81, 1.08, 2.2, 1.83, 1.45, 0.87, 1.76, 1.47, 2.02, 1.21, 2.45, 2.04), 4))
})

test_that("every method meets its targets, by its own factors", {
  data <- demo_records(800)
  data$adults <- rep(c(1, 2, 2, 3), 200)
  survey <- clustered(data, weight = weight)
  use <- survey$aside == 0L
  targets <- c(margins, list(adults = c(mean = 2.2)))
  linear <- weigh_to(survey, targets, method = "linear")
  u <- (linear$weight / data$weight)[use]
  X <- cbind(1, outer(word(data$island), names(isles), `==`),
             ifelse(is.na(word(data$leave)), 0, (word(data$leave) == "Yes") - 0.36),
             data$adults)[use, ]
  # 1 + x'b is in the space of x; exp(x'b) has its logarithm there
  expect_lt(max(abs(qr.resid(qr(X), u))), 1e-8)
  raked <- weigh_to(survey, targets)
  expect_lt(max(abs(qr.resid(qr(X), log(raked$weight / data$weight)[use]))), 1e-8)
  logit <- weigh_to(survey, targets, method = "logit", limits = c(0.3, 3))
  g <- (logit$weight / data$weight)[use]
  expect_true(all(g > 0.3 & g < 3))
  A <- (3 - 0.3) / (0.7 * 2)
  e <- (g - 0.3) * 2 / (0.7 * (3 - g)) # e^(A x'b)
  expect_lt(max(abs(qr.resid(qr(X), log(e) / A))), 1e-8)
  for (one in list(linear, raked, logit)) {
    sums <- sums_by(one, "island")
    expect_equal(as.vector(sums / sum(sums, na.rm = TRUE))[match(names(isles), names(sums))],
                 unname(isles / 100), tolerance = 1e-6)
    expect_equal(stats::weighted.mean(data$adults[use], one$weight[use]), 2.2)
    expect_equal(sum(one$weight[use]), sum(data$weight[use]))
  }
})

test_that("numbers of people, sums of numbers, trimmed weights and whole clusters", {
  data <- demo_records(600)
  data$adults <- rep(c(1, 2, 3), 200)
  counts <- list(island = 214 * isles, adults = 44000)
  survey <- weigh_to(clustered(data), counts)
  expect_equal(as.vector(sums_by(survey, "island")[names(isles)]),
               unname(214 * isles), tolerance = 1e-6)
  expect_equal(sum(survey$weight * data$adults), 44000)
  together <- weigh_to(clustered(data), counts, by = "cluster")
  expect_equal(as.vector(sums_by(together, "island")[names(isles)]),
               unname(214 * isles), tolerance = 1e-6)
  expect_true(all(tapply(together$weight, data$settlement,
                         function(w) diff(range(w)) < 1e-9)))
  trimmed <- weigh_to(clustered(demo_records(600), weight = weight),
                      list(leave = c(Yes = 30, No = 70)), trim = c(0.3, 2.5))
  used <- trimmed$aside == 0L
  of_mean <- trimmed$weight[used] / mean(trimmed$weight[used])
  expect_true(all(of_mean > 0.3 - 1e-5 & of_mean < 2.5 + 1e-5))
  expect_true(attr(trimmed, "weighing")$converged)
  sums <- sums_by(trimmed, "leave")
  expect_equal(sums[["Yes"]] / sum(sums[c("Yes", "No")]), 0.3, tolerance = 1e-5)
  refused <- function(pattern, ...) {
    expect_error(weigh_to(clustered(data), ...), pattern,
                 class = "fairlattice_error_target")
  }
  refused("different populations", list(island = 214 * isles, leave = c(Yes = 9000, No = 9000)))
  refused("needs `limits`", margins, method = "logit")
  refused("the column has answers", list(island = 3))
  refused("below 0", list(adults = c(mean = 2.95)), method = "linear")
  expect_error(weigh_to(respondents(data), margins, by = "cluster"), "with clusters")
})

test_that("those who did not respond: their weights go to their class, and count in the variance", {
  data <- data.frame(class = rep(c("a", "b"), c(6, 4)), w = rep(c(2, 5), c(6, 4)),
                     came = c(TRUE, TRUE, TRUE, FALSE, TRUE, FALSE, TRUE, FALSE, TRUE, TRUE),
                     yes = c("y", "n", "y", NA, "n", NA, "y", NA, "n", "y"))
  survey <- adjust_nonresponse(respondents(data, weight = w), came, within = class)
  expect_equal(survey$weight,
               c(2, 2, 2, 0, 2, 0, 5, 0, 5, 5) * rep(c(12 / 8, 20 / 15), c(6, 4)))
  expect_match(format(survey), "3 did not respond", all = FALSE)
  # everybody's influence: w (y - mean of the class) for those who came, and the
  # mean of their class for all (Saerndal & Lundstroem 2005, ch. 7)
  mean <- c(a = 0.5, b = 2 / 3)[data$class]
  e <- data$w * mean + survey$weight * ifelse(data$came, (data$yes %in% "y") - mean, 0)
  total <- as.data.frame(totals(crosstab(survey, yes)))
  expect_equal(as.numeric(total$se[total$down %in% "y"]), sqrt(10 / 9 * sum((e - base::mean(e))^2)),
               ignore_attr = TRUE)
  expect_error(adjust_nonresponse(respondents(data, weight = w), yes == "y"),
               "not known", class = "fairlattice_error_nonresponse")
  expect_error(adjust_nonresponse(data, came, within = yes), "not known")
  data$came[data$class == "b"] <- FALSE
  expect_error(adjust_nonresponse(data, came, within = class),
               "1 classes nobody responded")
})

test_that("replicates are calibrated anew, in either order, after all steps", {
  survey <- clustered(demo_records(600))
  first <- make_replicates(weigh_to(survey, margins), "jackknife")
  then <- weigh_to(make_replicates(survey, "jackknife"), margins)
  se <- function(x) as.data.frame(shares(crosstab(x, ferry, mode)))$se
  expect_equal(se(first), se(then), tolerance = 1e-6)
  expect_equal(se(first), se(weigh_to(survey, margins)), tolerance = 0.05)
  # of a margin every replicate has the same
  expect_true(all(is.na(se(first)) | se(first) > 0))
  expect_true(all(is.na(as.data.frame(shares(crosstab(first, leave)))$se)))
  both <- weigh_to(adjust_nonresponse(survey, !is.na(turbine), within = island), margins)
  expect_equal(se(make_replicates(both, "jackknife")), se(both), tolerance = 0.08)
  expect_error(strength(crosstab(weigh_to(survey, margins), ferry, mode),
                        interval = "bootstrap"), "calibrated",
               class = "fairlattice_error_bootstrap")
})

test_that("without each cluster in turn, as if the others were calibrated anew", {
  raked <- weigh_to(clustered(demo_records(500)), margins)
  part <- function(survey) {
    crosstab(among(survey, island %in% c("Norrey", "Tarn")), turbine, mode)$layers[[1]]$estimate
  }
  e <- part(raked)
  v_of <- function(shares) {
    apply(shares, 1, function(p) {
      P <- matrix(p, nrow(e$P))
      fit <- rowSums(P) %o% colSums(P)
      sqrt(sum((P - fit)^2 / fit) / (min(dim(P)) - 1))
    })
  }
  found <- left_out(e, function(tables) cbind(v_of(tables)), identity)
  again <- part(make_replicates(raked, "jackknife"))$spread
  V <- v_of(again$shares)
  jackknife <- sum(again$coefficient * (V - v_of(rbind(as.vector(e$P))))^2)
  expect_equal(sqrt(found$variance), sqrt(jackknife), tolerance = 0.04)
  expect_true(is.finite(strength(crosstab(raked, turbine, mode))$low[1]))
})

test_that("weights that came calibrated, from every source, over every kind of table", {
  data <- raw_survey()
  near <- read_records(demo_file("veyra.csv"))
  of <- function(records) {
    respondents(records, weight = weight, stratum = island, cluster = settlement,
                calibrated_to = "island:mode")
  }
  here <- of(near)
  # the same margins, remembered by the one who made the weights
  made <- weigh_to(clustered(near, weight = weight), {
    sums <- tapply(here$weight, list(word(near$island), word(near$mode)), sum, na.rm = TRUE)
    list(data.frame(island = rownames(sums)[row(sums)], mode = colnames(sums)[col(sums)],
                    count = as.vector(sums)))
  })
  expect_equal(as.data.frame(shares(crosstab(made, ferry, tenure))),
               as.data.frame(shares(crosstab(here, ferry, tenure))), tolerance = 1e-6)
  tables <- list(
    plain = function(p) crosstab(p, ferry, tenure),
    unclustered = function(p) crosstab(p, internet, tenure, each = leave),
    ticks = function(p) crosstab(ticks(p, why = c(reason_work, reason_housing)), why, mode))
  sources <- named_sources(data)
  for (name in names(tables)) {
    whole <- tables[[name]](here)
    expect_false(is.null(whole$tally$design$calibration))
    for (source in sources[c(1, length(sources))])
      expect_same_tally(whole, tables[[name]](of(source)), name)
  }
  # one after the other and all at once


  # with what is known of them
  known <- list(island = c(Norrey = 8600, Sandholm = 5183, "Harrow Skerry" = 3689, Tarn = 2466,
                           "Outer Veyra" = 1400))
  told <- respondents(near, weight = weight, calibrated_to = known)
  expect_true(all(is.na(as.data.frame(shares(crosstab(told, island)))$se)))
  known$island[["Tarn"]] <- 3000
  expect_error(respondents(near, weight = weight, calibrated_to = known),
               "Tarn comes to 2466, not 3000", class = "fairlattice_error_calibration")
  off <- list(mode = c(Web = 50, Paper = 45, "At the door" = 5))
  expect_error(respondents(near, weight = weight, calibrated_to = off),
               "\"mode\"", class = "fairlattice_error_calibration")
  expect_error(respondents(near, calibrated_to = island), "name `weight`",
               class = "fairlattice_error_calibration")
  expect_error(of(near[setdiff(names(near), "mode")]), class = "fairlattice_error_no_column")
})

test_that("plans, commands and published tables weigh as weigh_to() does", {
  folder <- withr::local_tempdir()
  file.copy(list.files(dirname(demo_file("veyra.csv")), full.names = TRUE), folder)
  file <- file.path(folder, "veyra.csv")
  plan <- file.path(folder, "p.yml")
  data <- read_records(file)
  margin <- function(...) {
    found <- prop.table(table(data[c(...)]))
    as.data.frame(found, responseName = "share", stringsAsFactors = FALSE)
  }
  known <- within(margin("island", "mode"), share <- share * rep_len(c(1.1, 0.9), length(share)))
  known$share <- round(100 * known$share / sum(known$share), 3)
  known$share[1] <- known$share[1] + 100 - sum(known$share)
  write <- function(...) {
    writeLines(c("records: {file: veyra.csv}",
                 "asked: {weight: weight, stratum: island, cluster: settlement,", ...,
                 "chapters: [{title: A, tables: [{questions: ferry, across: tenure}]}]"), plan)
    plan
  }
  islands <- vapply(split(known, known$island), function(rows) {
    sprintf("\"%s\": {%s}", rows$island[1L],
            paste0("\"", rows$mode, "\": ", rows$share, collapse = ", "))
  }, "")
  write(paste0("  weigh_to: {targets: {leave: {Yes: 36, No: 64}, \"island:mode\": {",
               paste(islands, collapse = ", "), "}}, method: linear, limits: [0.2, 5]},"),
        "  adjust_nonresponse: {responded: '!is.na(internet)', within: mode}}")
  survey <- adjust_nonresponse(clustered(data, weight = weight), !is.na(internet), within = mode)
  survey <- weigh_to(survey, list(leave = c(Yes = 36, No = 64), known), method = "linear",
                     limits = c(0.2, 5))
  table <- crosstab(survey, ferry, tenure)
  made <- book(read_plan(plan), cache = FALSE)$tables[[1]]$table
  expect_equal(as.data.frame(shares(single_tables(made)[[1]])), as.data.frame(shares(table)))
  # made anew of what the file says, as long as the records are the same
  for (out in file.path(folder, c("t.json", "t.html"))) {
    publish(table, out)
    expect_true(verify(out, data)$holds)
    expect_false(verify(out, replace(data, "leave", list(rev(data$leave))))$holds)
  }
  # targets of one question, of a number, of the command
  asked <- c("crosstab", file, "--down", "ferry", "--across", "tenure", "--weight", "weight",
             "--weigh-to", "leave=Yes: 36; No: 64", "--weigh-to", "age=mean: 47",
             "--adjust-nonresponse", "!is.na(internet); mode", "--out",
             file.path(folder, "c.json"))
  expect_identical(call_main(asked)$status, 0L)
  told <- weigh_to(adjust_nonresponse(respondents(data, weight = weight), !is.na(internet), mode),
                   list(leave = c(Yes = 36, No = 64), age = c(mean = 47)))
  expect_equal(as.data.frame(shares(read_tables(file.path(folder, "c.json")))),
               as.data.frame(shares(crosstab(told, ferry, tenure))))
  expect_match(call_main(replace(asked, 10, "leave=36"))$err, "--weigh-to must be written like")
  expect_error(read_plan(write(
    "  weigh_to: {targets: {\"island:mode\": {Tarn: {Web: {Yes: 3}}}}}}")),
               "answer to each of its questions", class = "fairlattice_error_plan")
})

test_that("margins hold for each wave by itself", {
  now <- weigh_to(clustered(demo_records()), margins)
  then <- weigh_to(clustered(demo_records(wave = "before")), margins)
  joined <- waves_of_surveys(list(then, now), c("before", "now"))$survey
  x <- crosstab(joined, leave, !!wave_column)
  expect_true(all(is.na(as.data.frame(shares(x))$se)))
  # of one wave alone, the other varies as it does by itself
  plain <- clustered(transform(demo_records(wave = "before"), weighed = 1), weight = weighed)
  joined <- waves_of_surveys(list(plain, now), c("before", "now"))$survey
  both <- as.data.frame(shares(crosstab(joined, leave, !!wave_column)))
  expect_true(all(is.na(both$se[both$across == "now"])))
  expect_equal(both$se[both$across == "before"],
               as.data.frame(shares(crosstab(plain, leave)))$se, tolerance = 0.02)
  # other clusters would make the variance of a change the sum of both
  joined <- waves_of_surveys(list(then, now), c("before", "now"))$survey
  change <- differences(crosstab(joined, ferry, !!wave_column))
  expect_true(all(change$high > change$low))
})
