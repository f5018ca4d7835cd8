# Reads back what was written, by the rules of each form and by other programs.

# What a sheet shows: heads, and labels with figures and the signs beside them.
shown_in <- function(sheet) {
  deep <- fairlattice:::head_rows(sheet)
  last <- deep[[length(deep)]]
  signs <- fairlattice:::cell_signs(sheet)
  list(heads = paste0(last$text, last$figure),
       labels = fairlattice:::stub_labels(sheet$stub),
       cells = matrix(paste0(fairlattice:::sheet_text(sheet), signs),
                      nrow(signs)), roles = sheet$stub$role,
       signed = any(signs != ""), spanners = deep[-length(deep)])
}

# Text without blanks of any kind and without what is only there to hold a
# place.
bare <- function(text) gsub("[\\s\u00a0\u2002\u2007]+", "", text, perl = TRUE)

# The tables of a form (a list of character matrices with their heads) against
# the sheets, which a form may have split by columns. `joined` says that signs
# stand in columns of their own.
expect_sheets <- function(tables, sheets, joined, info) {
  k <- 0L
  for (sheet in sheets) {
    shown <- shown_in(sheet)
    done <- 0L
    while (done < ncol(shown$cells)) {
      k <- k + 1L
      if (k > length(tables))
        return(fail(paste(info, "holds fewer tables than there are sheets")))
      table <- tables[[k]]
      wide <- 1L + (joined && shown$signed)
      here <- (ncol(table$body) - 1L) %/% wide
      figures <- table$body[, 2L + wide * (seq_len(here) - 1L), drop = FALSE]
      if (wide == 2L)
        figures[] <- paste0(figures, table$body[, 1L + wide * seq_len(here)])
      at <- done + seq_len(here)
      heads <- table$head[c(1L, 2L + wide * (seq_len(here) - 1L))]
      lines <- shown$roles != "heading"
      expect_identical(bare(table$body[, 1L]), bare(shown$labels),
                       info = paste(info, sheet$title))
      expect_identical(bare(figures[lines, ]), bare(shown$cells[lines, at]),
                       info = paste(info, sheet$title))
      expect_identical(bare(heads), bare(shown$heads[c(1L, at + 1L)]),
                       info = paste(info, sheet$title))
      done <- done + here
    }
  }
  expect_identical(k, length(tables), info = info)
}

# Rows of cells as a head (the last of its rows) and a body; a cell that spans
# others stands first among empty ones.
as_grid <- function(rows, heads) {
  width <- max(lengths(rows))
  filled <- do.call(rbind,
                    lapply(rows, function(row) {
                      c(row, rep("", width - length(row)))
                    }))
  list(head = filled[heads, ], body = filled[-seq_len(heads), , drop = FALSE])
}

# A part of a package, without the prefixes of its namespaces.
part_of <- function(path, part) {
  folder <- withr::local_tempdir()
  utils::unzip(path, part, exdir = folder)
  text <- paste(readLines(file.path(folder, part), encoding = "UTF-8",
                          warn = FALSE), collapse = "\n")
  text <- gsub("(</?)[A-Za-z0-9]+:", "\\1",
               gsub(" xmlns(:[A-Za-z0-9]+)?=\"[^\"]*\"", "", text))
  xml2::read_xml(gsub(" [A-Za-z0-9]+:([A-Za-z]+=\")", " \\1", text))
}

# A cell that spans others, followed by empty ones.
spread <- function(text, span) {
  unlist(Map(function(text, span) c(text, rep("", span - 1L)), text, span),
         use.names = FALSE)
}

word_tables <- function(path) {
  document <- part_of(path, "word/document.xml")
  lapply(xml2::xml_find_all(document, "//tbl"), function(table) {
    rows <- xml2::xml_find_all(table, "./tr")
    texts <- lapply(rows, function(row) {
      cells <- xml2::xml_find_all(row, "./tc")
      span <- as.integer(xml2::xml_attr(xml2::xml_find_first(
        cells, "./tcPr/gridSpan"), "val"))
      spread(xml2::xml_text(cells), ifelse(is.na(span), 1L, span))
    })
    as_grid(texts,
            sum(lengths(xml2::xml_find_all(
                          rows, "./trPr/tblHeader", flatten = FALSE))))
  })
}

html_tables <- function(html, heads = NULL) {
  lapply(xml2::xml_find_all(html, "//table"), function(table) {
    rows <- xml2::xml_find_all(table, ".//tr")
    texts <- lapply(rows, function(row) {
      cells <- xml2::xml_find_all(row, "./td | ./th")
      span <- as.integer(xml2::xml_attr(cells, "colspan"))
      spread(xml2::xml_text(cells), ifelse(is.na(span), 1L, span))
    })
    as_grid(texts, heads %||% length(xml2::xml_find_all(table, "./thead/tr")))
  })
}

slide_tables <- function(path) {
  slides <- grep("^ppt/slides/slide[0-9]+[.]xml$",
                 utils::unzip(path, list = TRUE)$Name, value = TRUE)
  slides <- slides[order(as.integer(gsub("[^0-9]", "", slides)))]
  unlist(lapply(slides, function(slide) {
    lapply(xml2::xml_find_all(part_of(path, slide), "//tbl"), function(table) {
      texts <- lapply(xml2::xml_find_all(table, "./tr"), function(row) {
        xml2::xml_text(xml2::xml_find_all(row, "./tc"))
      })
      bold <- vapply(xml2::xml_find_all(table, "./tr"), function(row) {
        any(xml2::xml_attr(xml2::xml_find_all(row, ".//lnB"), "w") == "19050")
      }, NA)
      title <- xml2::xml_text(xml2::xml_find_first(
                                table, "//sp[nvSpPr/nvPr/ph/@type='title']"))
      c(as_grid(texts, which(bold)[1L]),
        list(again = grepl("(continued)", title, fixed = TRUE)))
    })
  }), recursive = FALSE)
}

# Lines of a table that go on on a further slide.
joined_lines <- function(tables) {
  Reduce(function(done, table) {
    last <- length(done)
    again <-
      last > 0L && table$again && identical(done[[last]]$head, table$head)
    if (!again) return(c(done, list(table)))
    done[[last]]$body <- rbind(done[[last]]$body, table$body)
    done
  }, tables, list())
}

# Another program makes a file of another kind of one; the test is skipped where
# there is none.
has_program <- function(name) nzchar(Sys.which(name))
by_office <- function(path, ending, folder) {
  profile <- file.path(tempdir(), "office")
  withr::local_envvar(LD_LIBRARY_PATH = NA) # R's own libraries are not the suite's
  status <- system2("soffice",
                    c(paste0("-env:UserInstallation=file://", profile),
                      "--headless", "--convert-to", ending, "--outdir",
                      shQuote(folder), shQuote(path)), stdout = FALSE,
                    stderr = FALSE)
  out <- file.path(folder,
                   paste0(sub("[.][^.]*$", "", basename(path)), ".",
                          sub(":.*", "", ending)))
  if (status != 0L || !file.exists(out))
    fail(paste("the office suite could not open", basename(path)))
  out
}

# The tables of slides as the office suite writes them out: rows of texts.
slides_by_office <- function(path) {
  text <-
    paste(readLines(path, encoding = "UTF-8", warn = FALSE), collapse = "\n")
  text <- gsub("(</?)[a-z0-9]+:", "\\1",
               gsub(" xmlns(:[A-Za-z0-9]+)?=\"[^\"]*\"", "", text))
  slides <- xml2::read_xml(gsub(" [a-z0-9]+:([A-Za-z-]+=\")", " \\1", text))
  lapply(xml2::xml_find_all(slides, "//body//table"), function(table) {
    lapply(xml2::xml_find_all(table, ".//table-row"), function(row) {
      bare(xml2::xml_text(xml2::xml_find_all(
                            row, "./table-cell | ./covered-table-cell")))
    })
  })
}

# All that a file says, of a package that of all its parts.
all_text <- function(path) {
  if (!grepl("[.](docx|xlsx|pptx)$", path))
    return(paste(readLines(path, encoding = "UTF-8", warn = FALSE),
                 collapse = "\n"))
  folder <- withr::local_tempdir()
  parts <- grep("[.]xml$", utils::unzip(path, exdir = folder), value = TRUE)
  paste(unlist(lapply(parts, readLines, encoding = "UTF-8", warn = FALSE)),
        collapse = "\n")
}

# The golden sheets as one document, with what its tests need: the tables, their
# sheets, and where they are written.
written_golden <- function(env = teardown_env()) {
  for (package in c("officer", "openxlsx", "xml2", "zip")) {
    skip_if_not_installed(package)
  }
  golden <- golden_sheets()
  folder <- withr::local_tempdir(.local_envir = env)
  list(golden = golden, folder = folder,
       sheets = unlist(lapply(golden, unclass), recursive = FALSE),
       book_as = function(ending, ...) {
         path <- file.path(folder, paste0("book.", ending))
         publish(unname(golden), path, figure = "none", ...)
         path
       })
}

# Labels that one form or another would obey.
hostile <- data.frame(
  a = c("=1+1", "<b>x</b>", "\\input{x}", "p|q", "@here", "line\nbreak",
        "\u0645\u0631\u062d\u0628\u0627", strrep("long ", 40), "\u202eabc",
        "$5 & 6% #_^~"),
  b = rep(c("{=1}", "+cmd|' /C calc'!A0", "[c]", "*x*", "`y`"), 2))
