# The keys of a plan are made of these: kinds of values, and keys with what they
# are for.

# A kind of value: what it must be, as a code; the check; and the same as JSON
# Schema.
new_kind <- function(what, right, schema) {
  list(what = what, right = right, schema = schema)
}

is_scalar <- function(x) is.atomic(x) && length(x) == 1L && !is.na(x)
is_listing <- function(x) is.list(x) && is.null(names(x))
is_mapping <- function(x) is.list(x) && length(x) && !is.null(names(x))
is_text <- function(x) {
  is_scalar(x) && !is.logical(x) && nzchar(trimws(as.character(x)))
}
is_number <- function(x) is_scalar(x) && is.numeric(x) && is.finite(x)
one_or_list <- function(right) {
  function(x) {
    if (is_listing(x)) length(x) > 0L && all(vapply(x, right, NA)) else right(x)
  }
}
every_value <- function(right) {
  function(x) is_mapping(x) && all(vapply(x, right, NA))
}

text_schema <- list(type = c("string", "number"))
or_list <- function(one) {
  list(anyOf = list(one, list(type = "array", items = one, minItems = 1L)))
}
of_names <- function(one) {
  list(type = "object", additionalProperties = one, minProperties = 1L)
}

# A number, or names with one each; of several questions at once names within names.
is_target <- function(x) is_number(x) || every_value(is_target)(x)
targets_schema <- of_names(list(anyOf = list(
  list(type = "number"),
  of_names(list(anyOf = list(list(type = "number"), list(type = "object")))))))

key_kinds <- list(
  text = new_kind("kind_text", is_text, text_schema),
  texts = new_kind("kind_texts", one_or_list(is_text),
                   or_list(text_schema)),
  number = new_kind("kind_number", is_number, list(type = "number")),
  numbers = new_kind("kind_numbers", one_or_list(is_number),
                     or_list(list(type = "number"))),
  flag = new_kind("kind_flag", function(x) isTRUE(x) || isFALSE(x),
                  list(type = "boolean")),
  text_or_flag = new_kind("kind_text_or_flag", function(x) {
    isTRUE(x) || isFALSE(x) || is_text(x)
  }, list(type = c("boolean", "string"))),
  named_texts = new_kind("kind_named_texts",
                         every_value(one_or_list(is_text)),
                         of_names(or_list(text_schema))),
  named_text = new_kind("kind_named_text", every_value(is_text),
                        of_names(text_schema)),
  named_numbers = new_kind("kind_named_numbers", every_value(is_number),
                           of_names(list(type = "number"))),
  targets = new_kind("kind_targets", every_value(is_target), targets_schema),
  numbers_by_name = new_kind("kind_numbers_by_name", function(x) {
    is_number(x) || every_value(is_number)(x)
  },
    list(anyOf = list(list(type = "number"), of_names(list(type = "number"))))),
  list_or_names = new_kind("kind_list_or_names",
                           function(x) {
                             one_or_list(is_number)(x) ||
                               every_value(is_number)(x)
                           },
                           list(anyOf = list(
                                  list(type = "array",
                                       items = list(type = "number")),
                                  of_names(list(type = "number"))))),
  shares = new_kind("kind_shares",
                    function(x) {
                      identical(x, "equal") || every_value(is_number)(x)
                    },
                    list(anyOf = list(list(const = "equal"),
                                      of_names(list(type = "number")))))
)

# A key: its kind ("section" and "sections", a list of them, hold `keys`;
# "choice" and "choices" have a list), what it is for, whether it must be there,
# and the key that a plain text in its place stands for.
new_key <- function(kind, about, keys = NULL, choices = NULL, needed = FALSE,
                    short = NULL) {
  list(kind = kind, about = about, keys = keys, choices = choices,
       needed = needed, short = short)
}
section <- function(about, ..., short = NULL) {
  new_key("section", about, list(...), short = short)
}
sections <- function(about, keys, short = NULL) {
  new_key("sections", about, keys, short = short)
}
needed <- function(key) replace(key, "needed", TRUE)
