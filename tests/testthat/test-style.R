# The house style, who is in a table and where it comes from, and counts rounded
# for the public.

written <- function(text, ending = ".yml") {
  path <- withr::local_tempfile(fileext = ending, .local_envir = parent.frame())
  writeLines(text, path)
  path
}

test_that("a style is followed by every form as far as it can, and what it cannot is said", {
  x <- crosstab(demo_survey(), ferry, island)
  style <- house_style(fonts = list(text = "Some Serif, serif", size = 14),
                       colours = list(ink = "#112233",
                                      answers = c("red", "#00ff00")),
                       rules = list(head = "double", foot = "none",
                                    rows = "thin"),
                       decimals = list(percent = 0, p = 2),
                       numbers = list(percent_sign = TRUE, leading_zero = FALSE,
                                      decimal_mark = ",", thousands_mark = "'",
                                      minus = "-"),
                       words = list(line.respondents = "Asked"),
                       layout = list(base_rows = "top", sort = "size"))
  styled <- lay_out(x, style = style, show = c("column", "residual"))
  text <- format(styled, width = 200)
  expect_match(text[6], "^=+$|^\u2550+$")
  expect_match(text[7], "^Asked +338")
  expect_match(text[8], "8'139")
  # no rule under the bases, the largest answer first
  expect_match(text[9], "^Satisfied +34% \\(\\S*[0-9],[0-9]\\)")
  expect_match(text[10], "^(-|\u2500)+$")
  expect_true(any(grepl("p < ,01", text, fixed = TRUE)))
  expect_identical(getOption("fairlattice.decimal_mark"), NULL) # the options are as they were
  page <- withr::local_tempfile(fileext = ".html")
  publish(styled, page, figure = "none")
  html <- paste(readLines(page), collapse = "\n")
  expect_match(html,
               paste("--ink: #112233; --text: &#39;Some Serif&#39;, serif;",
                     "--size: 14pt; --rule-head: 3px double"), fixed = TRUE)
  expect_match(html, ">\\s*34% \\(57,4\\)")
  expect_message(publish(styled, withr::local_tempfile(fileext = ".json")),
                 "does not follow its fonts, colours, rules, decimals, numbers and layout",
                 class = "fairlattice_message")
  expect_no_message(publish(styled, page, figure = "none"))
  # the figure takes the fonts and colours
  skip_if_not_installed("ggplot2")
  plot <- ggplot2::autoplot(styled_crosstab <- attr(styled, "of"))
  expect_setequal(unique(ggplot2::layer_data(plot)$fill), c("red", "#00ff00"))
  expect_identical(plot$theme$text$family, "Some Serif")
  # what is asked for one table goes before the style
  expect_match(format(lay_out(x, style = style, decimals = 1,
                              base_rows = "foot", sort = "asked"), width = 200)[7],
               "Very dissatisfied +9,1%")
})

test_that("decimals of a style are those of the sheet, and an empty list of bases is none", {
  x <- crosstab(score(demo_survey(), ferry), ferry, island)
  style <- house_style(written(c("decimals:", "  mean: 3", "  weighted: 1",
                                 "layout:", "  bases: []",
                                 "  show: [weighted, column]")))
  text <- format(lay_out(x, style = style, lines = "none"), width = 200)
  expect_true(any(grepl("^Mean +[0-9][.][0-9]{3} ", text)))
  expect_true(any(grepl("^Very dissatisfied +[0-9]+[.][0-9] \\([0-9.]+\\)",
                        text)))
  expect_false(any(grepl("Respondents", text)))
  expect_true(any(grepl("^Mean +[0-9][.][0-9] ",
                        format(lay_out(x, style = style,
                                       decimals = c(mean = 1)), width = 200))))
})

test_that("headings that are alike stay apart under different questions", {
  survey <- among(demo_survey(), leave == "Yes")
  survey <- subdivide(subdivide(survey, leave, by = internet), leave, by = mode)
  x <- lay_out(crosstab(survey, ferry, c(leave_by_internet, leave_by_mode)),
               lines = "none")
  expect_true(any(grepl("^ +Yes +Yes$", format(x, width = 200))))
  path <- withr::local_tempfile(fileext = ".html")
  publish(x, path, figure = "none")
  expect_length(xml2::xml_find_all(xml2::read_html(path),
                                   "//thead/tr[2]/th[text() = 'Yes']"), 2)
})

test_that("a style that cannot be read says where and why", {
  wrong <- function(text, message) {
    expect_error(house_style(written(text)), message,
                 class = "fairlattice_error_style")
  }
  wrong(c("rules:", "  heads: thin"), "line 2: \"rules\" has no \"heads\"")
  wrong(c("rules:", "  head: wavy"),
        "line 2: \"head\" must be \"none\", \"thin\", \"thick\" or \"double\", not \"wavy\"")
  wrong(c("rule:", "  head: thin"), "line 1: A style has no \"rule\"")
  wrong(c("decimals:", "  percent: 1.5"),
        "line 2: \"percent\" must be a whole number from 0 to 15")
  wrong(c("colours:", "  ink: nocolour"), "must be a colour")
  wrong(c("fonts:", "  text: 'a; } body { display: none'"),
        "must be the name of a font")
  wrong(c("words:", "  associated: x"), "a sentence with figures in it")
  wrong(c("words:", "  line.al: x"), "Did you mean|has no \"line.al\"")
  wrong(c("layout:", "  base_rows: roof"), "line 2: `base_rows` must be")
  wrong(c("numbers:", "  decimal_mark: ','", "  thousands_mark: ','"),
        "same mark|another than")
  wrong("- a", "no sections")
  for (tagged in c("a: !tag b", "- !tag b", "a: [!tag b]", "a: [b, !tag c]",
                   "!tag a", "a: &x !tag b", "a:\n  !tag b")) wrong(
    tagged, "Tags")
  expect_error(house_style("nowhere.yml"), "no style file",
               class = "fairlattice_error_style")
  expect_error(house_style(written("{}", ".json")), "does not end in",
               class = "fairlattice_error_style")
  expect_error(lay_out(crosstab(demo_survey(), ferry), style = 3),
               class = "fairlattice_error_layout")
  expect_identical(house_style(demo_file("house.yml"))$rules$head, "double")
  expect_match(paste(format(house_style(rules = list(head = "thick"))),
                     collapse = " "), "rules: head thick")
})

test_that("the subtitle says who is in the table, in words", {
  survey <- demo_survey()
  base <- function(...) {
    lay_out(crosstab(among(survey, ...), ferry, island))[[1]]$subtitle[2]
  }
  expect_identical(base(age >= 18), "Base: respondents with Age: 18 or more")
  expect_identical(base(18 < age & (island == "Tarn" | is.na(tenure))),
                   paste("Base: respondents with Age: more than 18; (Island:",
                         "Tarn, or Tenure: no answer)"))
  expect_identical(base("island %in% c('Norrey', 'Tarn', 'Sandholm') & !is.na(leave)"),
                   paste("Base: respondents with Island: Norrey, Tarn or",
                         "Sandholm; Has thought of leaving: any answer"))
  expect_identical(base(internet <= "Poor"),
                   "Base: respondents with Internet quality: up to Poor")
  expect_identical(base(!(age < 18)),
                   "Base: respondents with not (Age: less than 18)")
  expect_identical(base(sqrt(age) > 4), "Base: respondents with sqrt(age) > 4")
  expect_identical(base(age >= 65, base = "residents of 65 and over"),
                   "Base: residents of 65 and over")
  twice <- crosstab(among(among(survey, age >= 18), island == "Tarn"), ferry)
  expect_identical(lay_out(twice)[[1]]$subtitle[2:3],
                   c("Base: respondents with Age: 18 or more",
                     "Base: respondents with Island: Tarn"))
  path <- withr::local_tempfile(fileext = ".json")
  publish(twice, path)
  expect_identical(lay_out(read_tables(path))[[1]]$subtitle,
                   lay_out(twice)[[1]]$subtitle)
  expect_match(write_up(twice), "Base: respondents with Island: Tarn.",
               fixed = TRUE)
  withr::local_options(fairlattice.language = "de")
  expect_identical(base(age >= 18 & island %in% c("Norrey", "Tarn")),
                   "Basis: Befragte mit Age: 18 oder mehr; Island: Norrey oder Tarn")
})

test_that("the source line has the file with date and checksum, the design and the program", {
  file <- demo_file("veyra.csv")
  x <- crosstab(respondents(read_records(file), weight = weight,
                            cluster = settlement), ferry, island)
  line <- lay_out(x)[[1]]$source
  expect_match(line,
               sprintf(paste("veyra.csv \\(of [0-9]{4}-[0-9]{2}-[0-9]{2},",
                             "SHA-256 %s\\); 2,412 records; weight: weight"),
                       substr(cli::hash_file_sha256(file), 1, 12)))
  expect_match(line, as.character(utils::packageVersion("fairlattice")),
               fixed = TRUE)
  expect_null(lay_out(x, lines = usual_lines)[[1]]$source)
  expect_identical(lay_out(x, lines = "none",
                           source = "Source: the residents' survey")[[1]]$source,
                   "Source: the residents' survey")
  expect_null(lay_out(x, source = FALSE)[[1]]$source)
})

test_that("rounded counts are multiples next to the true ones and still add up", {
  withr::local_seed(11)
  sound <- vapply(1:300, function(k) {
    size <- sample(1:7, 2, TRUE)
    N <- matrix(rpois(prod(size), sample(c(1, 6, 40), 1)), size[1], size[2])
    if (k %% 3 == 0) N <- N * runif(length(N))
    M <- cbind(rbind(N, colSums(N)), c(rowSums(N), sum(N)))
    base <- sample(c(2, 3, 5, 10), 1)
    R <- rounded_to(M, base)
    inner <- R[-nrow(R), -ncol(R), drop = FALSE]
    kept <- abs(M / base - round(M / base)) < 1e-9
    c(next_to = all(abs(R - M) < base),
      multiple = all(abs(R / base - round(R / base)) < 1e-9),
      adds_up = isTRUE(all.equal(R,
                                 cbind(rbind(inner, colSums(inner)),
                                       c(rowSums(inner), sum(inner))))),
      multiples_stay = isTRUE(all.equal(R[kept], M[kept])))
  }, logical(4))
  expect_identical(rowSums(!sound),
                   c(next_to = 0, multiple = 0, adds_up = 0,
                     multiples_stay = 0))
})

test_that(paste("a rounded table shows rounded counts, what is worked out",
                "from them, and nothing else"), {
  x <- crosstab(net(score(demo_survey(), ferry), ferry,
                    Happy = c("Satisfied", "Very satisfied")), ferry, island)
  sheet <-
    lay_out(x, show = c("n", "column"), stack = "beneath", round_to = 5)[[1]]
  counts <- sheet$kind == "count" | sheet$kind == "weighted"
  expect_true(all(sheet$value[counts] %% 5 == 0))
  n <- function(label) {
    sheet$value[sheet$stub$label %in% label & sheet$kind[, 1] == "count", ]
  }
  expect_equal(n("Happy"), n("\u2002Satisfied") + n("\u2002Very satisfied"))
  expect_null(c(sheet$tests, sheet$strength, sheet$account))
  expect_false(any(sheet$mark != "") || "mean" %in% sheet$stub$role)
  # percentages are of the rounded weighted counts
  weighted <- lay_out(x, show = c("weighted", "column"), stack = "beneath",
                      round_to = 5)[[1]]
  first <- weighted$stub$label == "Very dissatisfied"
  base <- weighted$value[weighted$stub$label == "Total" & weighted$kind[, 1] == "weighted", ]
  expect_equal(weighted$value[first, ][2, ],
               100 * weighted$value[first, ][1, ] / base)
  refused <- function(...) {
    expect_error(lay_out(x, round_to = 5, ...),
                 class = "fairlattice_error_layout")
  }
  refused(show = "interval")
  refused(marks = "letters")
  refused(withhold_under = 5)
  expect_error(publish(lay_out(x, round_to = 5),
                       withr::local_tempfile(fileext = ".json")), "rounded",
               class = "fairlattice_error_format")
  page <- withr::local_tempfile(fileext = ".html")
  publish(lay_out(x, round_to = 5), page)
  expect_false(any(grepl("write-up\">|<figure", readLines(page))))
})

test_that("labels are shortened where that keeps them apart, and wrapped where asked", {
  x <- crosstab(demo_survey(), ferry, island)
  sheet <- lay_out(x, shorten = 9)[[1]]
  expect_identical(sheet$stub$label[1:3],
                   c("Very dis\u2026", "Dissatis\u2026", "Neither"))
  expect_identical(anyDuplicated(sheet$stub$label), 0L)
  expect_identical(shortened(c("Very satisfied with it",
                               "Very unhappy with it"), 8),
                   c("Very sa\u2026", "Very un\u2026"))
  expect_identical(shortened(c("Very good a", "Very good b"), 8),
                   c("Very good a", "Very good b"))
  stub <- format(lay_out(x, wrap = 8, lines = "none"), width = 80)
  expect_true(any(grepl("^Very$", stub)))
})

test_that(paste("one question within another stands under its headings, and",
                "letters compare within them"), {
  survey <- subdivide(demo_survey(), leave, by = internet)
  x <- crosstab(survey, ferry, leave_by_internet)
  sheet <- lay_out(x, marks = "letters")[[1]]
  expect_identical(sheet$columns$heading, c(rep(c("Yes", "No"), each = 4), ""))
  part <- crosstab(among(demo_survey(), leave == "Yes"), ferry, internet)
  expect_equal(sheet$value[1:5, 1:4], lay_out(part)[[1]]$value[1:5, 1:4])
  d <- differences(x)
  expect_identical(sub(",.*", "", d$first), sub(",.*", "", d$second))
  own <- differences(part)
  expect_equal(d$z[startsWith(d$first, "Yes")], own$z, tolerance = 1e-6)
  path <- withr::local_tempfile(fileext = ".json")
  publish(x, path)
  expect_identical(lay_out(read_tables(path))[[1]]$columns,
                   lay_out(x)[[1]]$columns)
  # who lacks an answer to either has none, for its reason
  account <- fairlattice:::account_in(x)
  expect_true(any(grepl("Don't know", account$left_out$detail)))
  for (call in list(quote(subdivide(survey, leave, leave)),
                    quote(subdivide(survey, leave, internet)),
                    quote(
                      subdivide(
                        ticks(survey, r = c(reason_work, reason_ferry)), r,
                        leave)))) {
                          expect_error(
                            eval(call), class = "fairlattice_error_subdivide")
                        }
})

test_that("a colour is one colour", {
  path <- withr::local_tempfile(fileext = ".yml")
  for (wrong in c("colours: {ink: ['#112233', '#445566']}", "colours: {ink: [red, blue]}")) {
    writeLines(wrong, path)
    expect_error(house_style(path), class = "fairlattice_error")
  }
  writeLines("colours: {ink: '#112233'}", path)
  expect_identical(house_style(path)$colours$ink, "#112233")
})

test_that("an option in a style is one value", {
  for (value in list(c(1, 2), NA, list(1), character()))
    expect_error(house_style(numbers = list(digits = value)), class = "fairlattice_error_style")
})

test_that("sizes of letters lie between 6 and 30 points", {
  for (size in c(6, 30)) expect_identical(house_style(fonts = list(size = size))$fonts$size, size)
  for (size in list(5.9, 31, "12", c(9, 10)))
    expect_error(house_style(fonts = list(size = size)), class = "fairlattice_error_style")
})

test_that("a colour is one colour", {
  for (odd in list(c("red", "blue"), "no colour", 7, NA_character_, character()))
    expect_error(house_style(colours = list(ink = odd)), class = "fairlattice_error_style")
  expect_identical(house_style(colours = list(ink = "#123456"))$colours$ink, "#123456")
  expect_length(house_style(colours = list(answers = c("red", "blue")))$colours$answers, 2L)
})
