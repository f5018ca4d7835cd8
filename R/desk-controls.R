# The controls that the parts of the desk are made of: what is clicked, chosen
# and copied.

act_button <- function(act, with, text, class = NULL, label = NULL, key = act,
                       disabled = FALSE) {
  htmltools::tags$button(type = "button", class = class, `data-act` = act,
                         `data-key` = key, `aria-label` = label, title = label,
                         `data-with` = if (length(with)) to_json(with),
                         disabled = if (disabled) NA, text)
}

to_json <- function(x) {
  as.character(jsonlite::toJSON(x, auto_unbox = TRUE, null = "null",
                                digits = NA))
}

# A list to choose from; further attributes say what choosing does.
choice_list <- function(label, key, options, chosen, ...) {
  tag <- htmltools::tags
  tag$label(class = "choice", tag$span(label),
            tag$select(`data-key` = key, ...,
                       htmltools::HTML(options_html(options, chosen))))
}

# As text: an object an option takes longer than all figures of a table.
options_html <- function(options, chosen) {
  safe <- function(x) htmltools::htmlEscape(x, attribute = TRUE)
  paste(sprintf("<option value=\"%s\"%s>%s</option>", safe(names(options)),
                ifelse(names(options) == chosen, " selected", ""),
                safe(options)), collapse = "")
}

named_options <- function(kind, values) {
  stats::setNames(name_of(kind, values), values)
}

number_field <- function(label, name, value, least = NULL, most = NULL,
                         step = NULL) {
  tag <- htmltools::tags
  tag$label(class = "choice", tag$span(label),
            tag$input(type = "number", `data-set` = name,
                      `data-key` = paste0("set-", name), value = value,
                      min = least, max = most, step = step %||% 1))
}

copy_button <- function(text, key) {
  htmltools::tags$button(type = "button", class = "copy", `data-copy` = text,
                         `data-key` = paste0("copy-", key), words("page.copy"))
}

# A part as the text that goes to the page.
rendered <- function(part) as.character(htmltools::doRenderTags(part))
