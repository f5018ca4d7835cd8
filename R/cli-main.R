#' The command line
#'
#' What the executable `fairlattice` runs. `fairlattice --help` lists the
#' commands.
#'
#' @param args (character) The words after the program's name.
#' @return (integer) The exit status, invisibly: 0 done, 1 the data or the
#'   question is at fault, or what was asked for could not be written, 2 the
#'   words are, 3 some tables of a book could not be made, 130 interrupted.
#' @export
#' @examples
#' main(c("look", demo_file("veyra.csv"), "--question", "ferry"))
main <- function(args = commandArgs(trailingOnly = TRUE)) {
  plain_numbers()
  args <- in_utf8_words(args) # also where the system's language knows no more than ASCII
  voice$speaks <- "command" # remedies are options, not functions
  files_read$paths <- character()
  on.exit({
    voice$speaks <- "function"
    files_read$paths <- character()
  })
  say <- function(lines) cat(plain_text(lines), sep = "\n", file = stderr())
  status <- tryCatch(
    withCallingHandlers(run_command(args), fairlattice_message = function(m) {
      of_author <- inherits(m, "fairlattice_before_handing_on")
      say(if (of_author) strsplit(conditionMessage(m), "\n")[[1L]] else
        paste("fairlattice:", conditionMessage(m)))
      invokeRestart("muffleMessage")
    }, warning = function(w) {
      say(paste("fairlattice: warning:", conditionMessage(w)))
      invokeRestart("muffleWarning")
    }),
    fairlattice_error_words = function(e) {
      say(c(error_lines(e),
            paste("Run 'fairlattice --help' for the commands, or 'fairlattice",
                  "COMMAND --help' for one.")))
      2L
    },
    fairlattice_error = function(e) {
      say(error_lines(e))
      1L
    },
    interrupt = function(e) {
      say("fairlattice: interrupted")
      130L
    },
    error = function(e) {
      say(c(paste("fairlattice: internal error:", conditionMessage(e)),
            paste("This is a fault of the program, not of your data: please",
                  "report it with the command you ran.")))
      1L
    })
  invisible(status)
}

# Words of the command line are UTF-8, whatever R takes for the system's
# language.
in_utf8_words <- function(words) {
  if (length(words))
    Encoding(words) <- ifelse(validUTF8(words), "UTF-8", "unknown")
  words
}

# main() as a process: what it prints is gathered and then written whole, so
# that a full disk or a closed output is no success, and a reader such as `head`
# that has had enough stops nothing else.
as_process <- function(args) {
  # no process that this one starts is to run under what lets it start sooner
  Sys.unsetenv(c("R_DEFAULT_PACKAGES", "R_ENABLE_JIT", "R_NSIZE"))
  # cli would take the gathering for a file that knows no colour and no width
  options(cli.num_colors = cli::num_ansi_colors(), cli.width = width_asked(),
          warn = -1)
  gathered <- rawConnection(raw(), "w")
  sink(gathered)
  status <- tryCatch(main(args), interrupt = function(e) 130L, finally = sink())
  if (status == 130L) return(status)
  fault <- standard_output_kernel(rawConnectionValue(gathered))
  if (fault <= 0L) return(status)
  cat(paste("fairlattice: Not all of the output could be written.\n  The disk",
            "may be full, or standard output is closed.\n"), file = stderr())
  max(status, 1L)
}

# The terminal's width; of a file or pipe the one that COLUMNS says.
width_asked <- function() {
  width <- suppressWarnings(as.integer(Sys.getenv("COLUMNS")))
  if (is.na(width) || width < 20L || isatty(stdout())) cli::console_width() else
    min(width, 10000L)
}

error_lines <- function(e) {
  lines <- unlist(strsplit(unname(c(e$message, e$body)), "\n", fixed = TRUE))
  paste0(c("fairlattice: ", rep("  ", length(lines) - 1L)),
         cli::ansi_strip(lines))
}

# Every command: what it is for, how it is called, an example, its options, and
# the function that runs it. Made when asked for.
commands <- function() {
  list(
    crosstab = list(summary = "weighted crosstabs with tests, strength and residuals",
                    usage = "crosstab FILE --down QUESTION [--across QUESTION] [options]",
                    example = cross_examples, options = cross_options(),
                    files = 1L, run = run_cross),
    look = list(summary = paste("the questions of a file: labels, answers",
                                "with counts, missing by reason"),
                usage = "look FILE [options]",
                example = c("look veyra.csv --question ferry --question tenure --weight weight",
                            "look veyra.csv --find leave",
                            "look veyra.csv --draft-codebook draft.schema.json"),
                options = c(in_group("Options",
                                     several(
                                       "--question", "NAME",
                                       paste(
                                         "look at this question only (may",
                                         "be given again, or with commas)")),
                                     one(
                                       "--draft-codebook", "FILE",
                                       paste(
                                         "write a codebook of what is",
                                         "found, with guesses marked as",
                                         "such, to FILE (.json)")),
                                     one(
                                       "--find", "WORDS",
                                       paste(
                                         "only questions with these words",
                                         "in their name or title")),
                                     out_option("write what is found")),
                            design_options(), source_options(), file_options()),
                files = 1L, run = run_look),
    recheck = list(summary = paste("check a table of counts that somebody",
                                   "else made, and what was claimed of it"),
                   usage = "recheck FILE|- [options]",
                   example = paste0(paste(
                                      "recheck ferry-table.txt",
                                      "--claimed-statistic 12.30",
                                      "--claimed-p <0.001 "),
                                    "--claimed-percent column"),
                   options = recheck_options(), files = 1L, run = run_recheck),
    verify = list(summary = paste("hold published tables against their records:",
                                  "still the same, other figures, edited"),
                  usage = "verify FILE|FOLDER ... --records FILE [options]",
                  example = c("verify heating.docx --records veyra.csv",
                              "a whole report, every night" =
                                "verify report/ --records veyra.csv --out verified.csv"),
                  options = verify_options(), files = Inf, run = run_verify),
    plan = list(summary = "a tab plan to begin with, of a file; or a plan checked",
                usage = "plan FILE [--out plan.yml] | plan PLAN --check",
                example = c("plan veyra.csv --out my.plan.yml",
                            "plan veyra.plan.yml --check"),
                options = plan_options(), files = 1L, run = run_plan),
    book = list(summary = "all tables of a tab plan, in chapters",
                usage = "book PLAN [options]",
                example = c("book veyra.plan.yml",
                            "book veyra.plan.yml --out book.html --out tables.xlsx",
                            "this wave beside the one before" = paste(
                              "book veyra.plan.yml --records veyra.csv",
                              "--before veyra-before.csv --out change.html"),
                            "book veyra.plan.yml --only 'chapter 1' --out site/"),
                options = book_options(), files = 1L, run = run_book),
    related = list(summary = "which questions have to do with one, or with each other",
                   usage = "related FILE [--to QUESTION] [options]",
                   example = c(paste("related veyra.csv --to island --weight",
                                     "weight --stratum island --cluster",
                                     "settlement"),
                               "related veyra.csv --among 'age < 35' --out related.html"),
                   options = related_options(), files = 1L, run = run_related),
    desk = list(summary = "pivot by hand in the browser, on this machine alone",
                usage = "desk FILE [options]",
                example = c("desk veyra.csv",
                            "desk veyra.csv --port 8200 --no-browser"),
                options = desk_command_options(), files = 1L, run = run_desk),
    completion = list(summary = "shell completion of commands and options",
                      usage = "completion SHELL", example = "completion bash",
                      options = list(), files = 1L,
                      run = function(options, shell) {
                        run_completion(shell, commands())
                      }),
    demo = list(summary = "the full example on the demo survey",
                usage = "demo [--out DIR]",
                example = "demo --out fairlattice-demo",
                options = list(one("--out", "DIR",
                                   paste(
                                     "folder for the pages and data files",
                                     "(default fairlattice-demo)"),
                                   default = "fairlattice-demo")), files = 0L,
                run = run_demo))
}

run_command <- function(args) {
  if (length(args) == 2L && args[1L] == "help") args <- c(args[2L], "--help")
  if (!length(args) || args[1L] %in% c("--help", "-h", "help")) {
    cat(plain_text(general_help()), sep = "\n")
    return(if (length(args)) 0L else 2L)
  }
  if (args[1L] == "--version") {
    cat("fairlattice", own_version(), "\n")
    return(0L)
  }
  known <- commands()
  if (!args[1L] %in% names(known)) {
    stop_words(c(tells("no_command", args[1L]),
                 did_you_mean(args[1L], names(known), "commands")))
  }
  command <- known[[args[1L]]]
  if (any(args[-1L] %in% c("--help", "-h"))) {
    cat(plain_text(command_help(command)), sep = "\n")
    return(0L)
  }
  parsed <- parse_words(command, args[-1L])
  status <- command$run(parsed$options, parsed$args)
  # a command that has something to say to the system gives its status
  if (is.integer(status) && length(status) == 1L) status else 0L
}

general_help <- function() {
  known <- commands()
  c("fairlattice: weighted crosstabs that say how far to trust them", "",
    "Usage: fairlattice COMMAND [words]", "", "Commands:",
    sprintf("  %-10s %s", names(known),
            vapply(known, function(command) command$summary, "")), "",
    "  fairlattice help COMMAND     the options of a command, with an example",
    "  fairlattice --version", "",
    paste0(paste("Exit status: 0 done, 1 the data or the question is at fault",
                 "(or a file cannot be written), 2 the "),
           "command's words are,"),
    "3 a book was made but for some of its tables, 130 interrupted.")
}

command_help <- function(command) {
  groups <-
    vapply(command$options, function(option) option$group %||% "Options", "")
  lines <- unlist(lapply(unique(groups), function(group) {
    c(paste0(group, ":"),
      unlist(lapply(command$options[groups == group], option_help)), "")
  }))
  c(sprintf("fairlattice %s", command$usage), sentence_case(command$summary),
    "", lines, "Examples:",
    unlist(Map(example_help, command$example, names(command$example) %||% "")))
}

# An example, under what it shows; long ones go on as a shell reads them, and
# never break within quotation marks.
example_help <- function(example, about) {
  words <- c("fairlattice",
             regmatches(example, gregexpr("'[^']*'|[^ ']+('[^']*')?", example))[[1L]])
  held <- gsub(" ", "\u00a0", words, fixed = TRUE)
  lines <- gsub("\u00a0", " ",
                strwrap(paste(held, collapse = " "), 74L, indent = 2L,
                        exdent = 4L), fixed = TRUE)
  last <- length(lines)
  c(if (nzchar(about)) paste0("  # ", about),
    paste0(lines, c(rep(" \\", last - 1L), "")))
}

option_help <- function(option) {
  flag <- paste(c(option$flag, option$value), collapse = " ")
  wrapped <- strwrap(option$help, 52L)
  if (nchar(flag) > 22L) wrapped <- c("", wrapped) # a long one has a line of its own
  paste0(pad(c(paste0("  ", flag), rep("", length(wrapped) - 1L)), 26L),
         wrapped)
}
