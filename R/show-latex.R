# Tables as a LaTeX document that compiles as it stands with any of the usual
# engines, and as the PDF that LaTeX makes of it.

latex_of <- function(entries) {
  opened <- NULL # the title of a chapter, which goes on the page of what follows it
  body <- unlist(lapply(entries, function(entry) {
    before <- opened
    opened <<- NULL
    if (entry$kind == "chapter") {
      opened <<- c(before, sprintf("\\section*{%s}", latex_text(entry$title)),
                   unlist(lapply(entry$parts, function(part) {
                     latex_lines(part$text)
                   })))
      return(NULL)
    }
    switch(entry$kind,
           table = in_style(entry$x$layout$style, latex_table(entry, before)),
           front = c(sprintf("{\\LARGE\\bfseries %s\\par}",
                             latex_text(entry$title)), "\\bigskip"),
           c(before, latex_result(entry)))
  }))
  c(latex_preamble(body), "\\begin{document}", body, "\\end{document}")
}

# Letters that the oldest engine does not know.
strange_letters <- function(body) {
  letters <- unique(unlist(lapply(body, utf8ToInt)))
  sort(letters[letters > 0x17f])
}

# What the tables need: five packages; for the oldest engine an empty box for every
# letter that it does not know; titles that are paragraphs; and a new page where what
# is to stand together would not find room for so many lines.
latex_preamble <- function(body) {
  strange <- strange_letters(body)
  c("\\documentclass[a4paper,10pt]{article}",
    "\\usepackage[margin=2.2cm]{geometry}",
    "\\usepackage{iftex,booktabs,longtable,pdflscape,array}", "\\ifPDFTeX",
    "  \\usepackage[T1]{fontenc}\\usepackage[utf8]{inputenc}\\usepackage{textcomp}",
    sprintf("  \\DeclareUnicodeCharacter{%04X}{\\framebox[0.6em]{\\rule{0pt}{0.8ex}}}", strange),
    "\\else", "  \\usepackage{fontspec}", "\\fi",
    "\\setlength{\\parindent}{0pt}\\setlength{\\parskip}{4pt}",
    "\\setlength{\\LTcapwidth}{\\linewidth}\\setlength{\\LTleft}{0pt}",
    "\\makeatletter",
    "\\def\\LT@makecaption#1#2#3{\\LT@mcol\\LT@cols{@{}l}{\\hbox to\\z@{\\parbox[t]{\\linewidth}{%",
    "  \\raggedright #1{#2: }#3\\endgraf\\vskip 0.5\\baselineskip}\\hss}}}",
    "\\makeatother",
    "\\newcommand{\\roomfor}[1]{\\par\\ifdim#1\\baselineskip<\\textheight",
    "  \\ifdim\\dimexpr\\pagegoal-\\pagetotal\\relax<#1\\baselineskip\\newpage\\fi\\fi}")
}

latex_signs <- c("\\" = "\\textbackslash{}", "{" = "\\{", "}" = "\\}",
                 "$" = "\\$", "&" = "\\&", "#" = "\\#",
                 "^" = "\\textasciicircum{}", "_" = "\\_", "%" = "\\%",
                 "~" = "\\textasciitilde{}", "<" = "\\textless{}",
                 ">" = "\\textgreater{}", "|" = "\\textbar{}",
                 "\"" = "\\textquotedbl{}", "`" = "\\textasciigrave{}",
                 "[" = "{[}", "]" = "{]}", "*" = "{*}", "--" = "-{}-",
                 "\u00a0" = "~", "\u2002" = "\\hspace*{0.8em}", "\u2013" = "--",
                 "\u2212" = "$-$", "\u00d7" = "$\\times$",
                 "\u00b2" = "\\textsuperscript{2}", "\u00b1" = "$\\pm$",
                 "\u2026" = "\\ldots{}", "\u2191" = "$\\uparrow$",
                 "\u2193" = "$\\downarrow$", "\u2018" = "`", "\u2019" = "'",
                 "\u2022" = "\\textbullet{}", "\u201c" = "\\textquotedblleft{}",
                 "\u201d" = "\\textquotedblright{}",
                 "\u201e" = "\\quotedblbase{}")

# Text in which no sign is a command. Signs are first put aside, so that what
# one becomes is not taken for another.
latex_text <- function(x) {
  x <- gsub("[\r\n\t]+", " ", visible(as.character(x)))
  aside <- intToUtf8(0xe000 + seq_along(latex_signs), multiple = TRUE)
  for (k in seq_along(latex_signs)) x <-
    gsub(names(latex_signs)[k], aside[k], x, fixed = TRUE)
  for (k in seq_along(latex_signs)) x <-
    gsub(aside[k], latex_signs[[k]], x, fixed = TRUE)
  x
}

latex_lines <- function(lines) {
  lines <- lines[nzchar(lines)]
  if (length(lines)) paste0(latex_text(held(lines)), "\n")
}

# ---- tables ----

# Characters that a page holds upright and across, in small type.
latex_page <- c(upright = 98L, across = 152L)

latex_table <- function(entry, before) {
  sheets <- sheets_of(entry$x)
  first <- c(before, latex_lines(entry$finding))
  c(latex_sheet(sheets[[1L]], first), unlist(lapply(sheets[-1L], latex_sheet)),
    latex_paragraphs(paragraphs_of(entry)))
}

latex_paragraphs <- function(paragraphs) {
  if (length(paragraphs))
    c(sprintf("\\subsection*{%s}", latex_text(words("to_paste"))),
      latex_lines(paragraphs))
}

# `before` goes on the same page.
latex_sheet <- function(sheet, before = NULL) {
  grid <- grid_of_sheet(sheet)
  # LaTeX counts by itself, except in a book, where a table has its number
  grid$title <- full_title(replace(sheet, "title", bare_title(sheet)))
  numbered <- if (!is.null(sheet$number))
    sprintf("\\renewcommand{\\thetable}{%s}", latex_text(sheet$number))
  fits <- page_for(grid, latex_page, function(grid, most, scale) latex_widths(grid, most))
  widths <- fits$widths
  across <- fits$page == "across"
  panels <-
    sheet_panels(sheet, widths[-1L], latex_page[[fits$page]] - widths[1L])
  below <- lines_below(sheet)
  tables <- unlist(lapply(seq_along(panels), function(k) {
    part <- if (length(panels) == 1L) grid else
      replace(grid_of_sheet(sheet, panels[[k]]), "title", grid$title)
    # the last piece and the lines below it stand together
    lines <- nrow(grid$texts) + length(grid$heads) + 6
    further <- if (k == length(panels)) ceiling(sum(text_width(below$text) / 80 + 1)) else 0
    c(sprintf("\\roomfor{%.0f}", unique(lines + c(0, further))),
      latex_longtable(part, widths[1L], if (k == 1L) sheet$subtitle,
                      again = k > 1L, fits$head_most))
  }))
  caution <- below$kind == "caution"
  text <- paste0(ifelse(caution,
                        sprintf("\\textbf{%s:} ",
                                latex_text(
                                  name_of("severity", below$severity))), ""),
                 latex_text(held(below$text)))
  c(if (across) "\\begin{landscape}", before, numbered, tables,
    if (nrow(below)) paste0("{\\footnotesize ", text, "\\par}"),
    if (across) "\\end{landscape}", "\\bigskip", "")
}

# Widths of the columns in characters, signs and gaps included.
latex_widths <- function(grid, head_most) {
  sign <- if (is.null(grid$signs)) 0 else
    0.7 * max(text_width(grid$signs)) + 0.5
  grid_widths(grid, head_most = head_most) + ifelse(grid$labels, 2, 2.5 + sign)
}

# A table that may run over pages, its heads repeated, with rules of the three
# usual weights.
latex_longtable <- function(grid, label_width, subtitle, again, head_most) {
  signed <- !is.null(grid$signs)
  figures <- ncol(grid$texts) - 1L
  columns <- sprintf("@{}>{\\raggedright\\arraybackslash}p{%.1fem}%s@{}",
                     0.5 * label_width,
                     strrep(if (signed) "r@{\\,}l" else "r", figures))
  title <- if (again)
    sprintf("\\caption[]{%s (%s)}\\\\", latex_text(grid$title),
            latex_text(words("continued"))) else
    sprintf("\\caption{%s}\\\\",
            paste(c(latex_text(grid$title), latex_subtitle(subtitle)),
                  collapse = "\\\\ "))
  heads <- unlist(lapply(seq_along(grid$heads), function(level) {
    latex_head(grid$heads[[level]], level == length(grid$heads), signed,
               head_most)
  }))
  c("{\\small", if (again) "\\addtocounter{table}{-1}",
    sprintf("\\begin{longtable}{%s}", columns), title, "\\toprule", heads,
    "\\midrule", "\\endfirsthead", "\\toprule", heads, "\\midrule", "\\endhead",
    "\\bottomrule", "\\endlastfoot", latex_rows(grid, signed),
    "\\end{longtable}}")
}

latex_subtitle <- function(subtitle) {
  subtitle <- subtitle[nzchar(subtitle)]
  if (length(subtitle)) sprintf("\\footnotesize %s", latex_text(subtitle))
}

latex_head <- function(cells, last, signed, most) {
  wide <- 1L + signed
  from <- cumsum(c(0L, cells$span))[seq_len(nrow(cells))]
  content <- vapply(seq_len(nrow(cells)), function(k) {
    side <- if (cells$kind[k] %in% c("corner", "spanner")) "l" else "r"
    texts <- c(cells$text[k], cells$figure[k])
    lines <- unlist(lapply(texts[nzchar(texts)],
                           wrap_label, if (side == "l") 40L else most))
    text <- if (length(lines) > 1L && side == "r")
      sprintf("\\shortstack[r]{%s}",
              paste(latex_text(lines), collapse = "\\\\")) else
      latex_text(paste(lines, collapse = " "))
    if (from[k] == 0L)
      return(if (nzchar(text)) sprintf("\\textbf{%s}", text) else "")
    # over the figures, not over their signs, where it is the head of one column
    one <- cells$kind[k] == "column"
    span <- if (one) 1L else cells$span[k] * wide
    cell <- sprintf("\\multicolumn{%d}{%s}{%s}", span, side,
                    if (nzchar(text)) sprintf("\\textbf{%s}", text) else "")
    if (one && signed) paste(cell, "&") else cell
  }, "")
  rules <- which(cells$kind == "spanner")
  c(paste(paste(content, collapse = " & "), "\\\\"),
    if (length(rules))
      paste0("\\cmidrule(lr){", 2L + wide * (from[rules] - 1L), "-",
             1L + wide * (from[rules] - 1L + cells$span[rules]), "}"))
}

latex_rows <- function(grid, signed) {
  size <- nrow(grid$texts)
  bold <- grid$roles %in% c("net", "heading")
  marked <- grid$marks != ""
  text <- matrix(latex_text(grid$texts), size)
  strong <- marked | bold
  text[strong & nzchar(text)] <-
    sprintf("\\textbf{%s}", text[strong & nzchar(text)])
  cells <- lapply(seq_len(ncol(text)), function(j) {
    if (j == 1L || !signed) return(text[, j])
    sign <- latex_text(grid$signs[, j])
    paste(text[, j],
          ifelse(nzchar(sign), sprintf("{\\footnotesize %s}", sign), ""),
          sep = " & ")
  })
  rows <- paste(do.call(paste, c(cells, sep = " & ")), "\\\\")
  title <- grid$roles == "heading"
  rows[title] <- sprintf("\\multicolumn{%d}{@{}l}{%s}\\\\",
                         1L + (ncol(text) - 1L) * (1L + signed),
                         text[title, 1L])
  paste0(ifelse(grid$foot, "\\midrule\n", ""), rows)
}

# ---- results ----

latex_result <- function(entry) {
  across <- any(vapply(entry$parts, function(part) {
    part$kind == "columns" &&
      sum(latex_column_widths(part)) > 1.25 * latex_page[["upright"]]
  }, NA))
  room <- latex_page[[if (across) "across" else "upright"]]
  c(if (across) "\\begin{landscape}",
    sprintf("\\subsection*{%s}", latex_text(entry$title)),
    unlist(lapply(entry$parts, function(part) {
      switch(part$kind, sheet = latex_sheet(part$sheet),
             said = latex_lines(part$text), columns = latex_columns(part, room),
             pairs = c("{\\small\\begin{longtable}[l]{@{}l>{\\raggedright\\arraybackslash}p{0.7\\linewidth}@{}}",
                       paste(latex_text(part$labels), "&",
                             latex_text(held(part$texts)), "\\\\"),
                       "\\end{longtable}}"))
    })), if (across) "\\end{landscape}")
}

latex_column_widths <- function(part) {
  cells <- part_texts(part)
  vapply(seq_along(part$columns), function(j) {
    max(text_width(c(names(part$columns)[j], cells[, j])))
  }, 0L) + 2L
}

latex_columns <- function(part, room) {
  cells <- matrix(latex_text(part_texts(part)), ncol = length(part$columns))
  # labels give way where the columns are wider than the page
  widths <- latex_column_widths(part)
  fitted <- replace(widths, part$left,
                    fitted_widths(widths[part$left],
                                  max(room - sum(widths[!part$left]), 20)))
  columns <- ifelse(!part$left, "r", if (sum(widths) <= room) "l" else
    sprintf(">{\\raggedright\\arraybackslash}p{%.1fem}", 0.45 * fitted))
  c(sprintf("{\\small\\begin{longtable}[l]{@{}%s@{}}",
            paste(columns, collapse = "")), "\\toprule",
    paste(paste(latex_text(names(part$columns)), collapse = " & "), "\\\\"),
    "\\midrule", "\\endhead", "\\bottomrule", "\\endlastfoot",
    paste(apply(cells, 1L, paste, collapse = " & "), "\\\\"),
    "\\end{longtable}}")
}

# ---- PDF ----

# The engines that may be here: the oldest is the quickest, the others know
# every letter. A bare installation may lack the fonts of one, so the next is
# tried.
latex_engines <- c("pdflatex", "lualatex", "xelatex")

write_pdf <- function(entries, file, call) {
  text <- latex_of(entries)
  engines <- if (any(grepl("DeclareUnicodeCharacter", text)))
    latex_engines[c(2L, 3L, 1L)] else latex_engines
  engines <- engines[nzchar(Sys.which(engines))]
  if (!length(engines))
    stop_input(c(tells("no_latex_machine_makes_pdf"),
                 i = tells("install_one_debian_ubuntu_apt"),
                 i = tells("write_docx_html_print_pdf"),
                 i = tells("figure_needs_none_figure_pdf")), "package",
               call = call)
  folder <- tempfile("latex-")
  dir.create(folder)
  on.exit(unlink(folder, recursive = TRUE))
  write_whole(text, file.path(folder, "tables.tex"))
  for (engine in engines) if (is.null(why <- latex_fault(engine, folder))) break
  if (!is.null(why)) stop(sprintf("LaTeX stopped: %s", why))
  unknown <- if (engine == latex_engines[1L]) strange_letters(text)
  if (length(unknown))
    rlang::inform(words("latex_letters", letters = intToUtf8(unknown, multiple = TRUE)),
                  class = "fairlattice_message")
  if (!file.copy(file.path(folder, "tables.pdf"), file, overwrite = TRUE))
    stop("it was cut short")
}

# Runs LaTeX twice, since tables that run over pages settle their widths in the
# second; what stopped it.
latex_fault <- function(engine, folder) {
  was <- setwd(folder)
  on.exit(setwd(was))
  unlink(c("tables.pdf", "tables.aux", "tables.log"))
  for (pass in 1:2) {
    status <- suppressWarnings(
      system2(engine,
              c("-interaction=nonstopmode", "-halt-on-error",
                "-no-shell-escape", "tables.tex"), stdout = FALSE,
              stderr = FALSE))
    if (status != 0L) break
  }
  if (status == 0L && file.exists("tables.pdf")) return(NULL)
  log <- if (file.exists("tables.log"))
    readLines("tables.log", warn = FALSE) else character()
  c(grep("^!", log, value = TRUE, useBytes = TRUE), "it wrote no PDF")[1L]
}
