# What may be chosen of a table (table_choices()) and of its layout
# (layout_choices()), as data: crosstab(), lay_out() and rechoose() check by it,
# and plans, the command line and the desk know from it what there is.
#   kind     what a value must be: see check_chosen()
#   values   those that a "choice" or "choices" may have
#   least    the smallest of a whole number
#   default  what it is when nothing is asked; a function of what is chosen so far
#            where it depends on that
#   anew     whether it can be chosen anew, without tallying again
#   stored   whether a table that was written knows it
#   house    whether a house style may set it
#   check    what else must hold: a function of what is asked, its name and the call
#            that an error names
new_choice <- function(kind, values = NULL, least = NULL, default = NULL,
                       anew = FALSE, stored = TRUE, house = TRUE,
                       check = NULL) {
  list(kind = kind, values = values, least = least, default = default,
       anew = anew, stored = stored, house = house, check = check)
}

check_chosen <- function(choice, asked, arg, call) {
  switch(choice$kind,
         choice = check_choice(asked, choice$values, arg, call),
         choices = check_some(asked, choice$values, arg, call),
         flag = check_flag(asked, arg, call),
         fraction = check_fraction(asked, arg, call),
         whole = check_whole(asked, arg, choice$least, call),
         text = check_text(asked, arg, 1L, call),
         texts = , named_text = check_text(asked, arg, Inf, call))
  if (!is.null(choice$check)) choice$check(asked, arg, call)
}

default_of <- function(choice, chosen) {
  if (is.function(choice$default)) choice$default(chosen) else choice$default
}

# The names of the choices for which `holds` is TRUE.
choices_that <- function(choices, holds) names(Filter(holds, choices))

check_text <- function(x, arg, most, call) {
  if (is.character(x) && !anyNA(x) && length(x) <= most) return(invisible())
  stop_input(tells("argument_must_be_not", arg,
                   if (most == 1) "one text" else "texts", quote_value(x)),
             "layout", call = call)
}

# Every one of several choices; none of them is nothing chosen.
check_some <- function(x, choices, arg, call) {
  if (!length(x)) return(invisible())
  if (!is.character(x)) check_choice(x, choices, arg, call)
  for (one in x) check_choice(one, choices, arg, call)
}
