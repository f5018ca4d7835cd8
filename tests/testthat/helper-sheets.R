# Laid-out tables that every form is tried on.

golden_sheets <- function() {
  survey <- demo_survey()
  ages <- function(breaks) band(survey, age, breaks = breaks)
  alike <- regroup(survey, internet, Poor = c("Very poor", "Poor"),
                   Good = c("Good", "Very good"))
  scripts <- data.frame(
    view = factor(rep(c(paste("Entirely dissatisfied with the ferry and with",
                              "all that belongs to it, above all in winter"),
                        paste("\u0394\u03c5\u03c3\u03b1\u03c1\u03b5\u03c3\u03c4\u03b7\u03bc\u03ad\u03bd\u03bf\u03b9",
                              "\u03bc\u03b5 \u03c4\u03bf \u03c0\u03bb\u03bf\u03af\u03bf"),
                        paste0("\u5bf9\u6e21\u8f6e\u975e\u5e38\u6ee1\u610f\u7684\u5c45\u6c11\u548c\u4ed6\u4eec",
                               "\u7684\u5bb6\u4eba")), c(40, 35, 45))),
    island = factor(rep(c("The northern harbours and everything beyond them",
                          "\u65bd\u5c9b"), 60)))
  list(
    two_by_two = lay_out(crosstab(alike, leave, internet), lines = usual_lines),
    nets_means_letters = lay_out(
      crosstab(net(score(ages(c(18, 25, 35, 45, 55, 65, 75)), ferry), ferry,
                   Satisfied_all = c("Satisfied", "Very satisfied")), ferry,
               age), marks = "letters", lines = "test"),
    banner = lay_out(crosstab(ages(c(18, 25, 33, 41, 49, 57, 65, 73, 81)),
                              ferry, c(island, work, age, way_off)),
                     lines = usual_lines),
    two_down = lay_out(crosstab(ticks(survey,
                                      reasons = c(reason_work, reason_ferry)),
                                c(ferry, internet), c(leave, reasons)),
                       show = c("column", "n"), lines = "none"),
    sixty_rows = lay_out(crosstab(band(survey, age, breaks = c(16, 18:76)), age,
                                  leave), lines = "test"),
    each = lay_out(crosstab(survey, internet, leave, each = island),
                   show = c("column", "n"), lines = "test"),
    ticks = lay_out(crosstab(ticks(survey,
                                   reasons = c(
                                     reason_work, reason_housing,
                                     reason_ferry)), reasons, island),
                    marks = "letters", lines = usual_lines),
    withheld = lay_out(crosstab(survey, ferry, tenure), show = c("n", "column"),
                       withhold_under = 20, dress = "working"),
    rounded = lay_out(crosstab(survey, ferry, tenure), show = c("n", "column"),
                      round_to = 10, dress = "published"),
    scripts = lay_out(crosstab(scripts, view, island), lines = "test"),
    seven = lay_out(crosstab(demo_records()[1:7, ], leave, mode),
                    lines = usual_lines),
    given = lay_out(crosstab(survey, season,
                             shares = c(Spring = 25, Summer = 40, Autumn = 25,
                                        Winter = 10)), lines = "test"),
    one_way = lay_out(crosstab(among(survey,
                                     age >= 18 &
                                       island %in% c("Norrey", "Tarn")), ferry),
                      lines = usual_lines),
    headings = lay_out(crosstab(subdivide(survey, leave, by = internet), ferry,
                                leave_by_internet), marks = "letters",
                       base_rows = "top", lines = "none"))
}

golden_crosstab <- function() crosstab(demo_survey(), heating, island)

# Numbers: how many, their sum, and their sum by place. Texts: how many, letters, and a sum
# of letters by place.
by_place <- function(v) sum(v * ((seq_along(v) - 1) %% 251 + 1))
print_of <- function(v) {
  if (!length(v)) return("nothing")
  if (is.factor(v)) v <- as.character(v)
  if (is.character(v)) {
    letters <- utf8ToInt(enc2utf8(paste(v[!is.na(v)], collapse = "\n")))
    return(paste(length(v), length(letters), by_place(letters)))
  }
  v <- as.numeric(v)
  odd <- sum(!is.finite(v))
  v <- v[is.finite(v)]
  v <- ifelse(abs(v) < 1e-9, 0, v) # what is nothing may be 1e-17 elsewhere
  number <- function(x) format(signif(x, 4), scientific = FALSE, trim = TRUE)
  paste(length(v), number(sum(v)), number(by_place(v)), if (odd) paste("and", odd, "odd"))
}

frame_prints <- function(frame, name) {
  frame <- as.data.frame(frame)
  frame <- Filter(function(column) is.atomic(column), frame)
  paste0(name, "$", names(frame), " ", vapply(frame, print_of, ""))
}

# Lines held against those in a fixture, which FAIRLATTICE_WRITE_SHEETS=1 writes anew.
held <- function(lines, folder, name) {
  path <- test_path("fixtures", folder, paste0(name, ".txt"))
  if (nzchar(Sys.getenv("FAIRLATTICE_WRITE_SHEETS"))) {
    dir.create(dirname(path), showWarnings = FALSE)
    writeLines(enc2utf8(lines), path, useBytes = TRUE)
  }
  expect_identical(lines, readLines(path, encoding = "UTF-8"), info = name)
}
