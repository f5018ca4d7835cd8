# Completion for shells, made from the commands and their options themselves.

run_completion <- function(shell, known) {
  if (!shell %in% c("bash", "zsh")) {
    stop_words(c(tells("no_completion", cut_short(shell)),
                 i = tells("shells_bash_zsh"),
                 i = tells("bash_source_fairlattice_completion_bash")))
  }
  cat(completion_script(shell, known), sep = "\n")
}

completion_script <- function(shell, known) {
  flags <- function(command) {
    paste(vapply(command$options, function(option) option$flag, ""),
          collapse = " ")
  }
  choices <- unlist(lapply(names(known), function(name) {
    lapply(known[[name]]$options, function(option) {
      if (!is.null(option$choices))
        sprintf("    '%s %s') words='%s' ;;", name, option$flag,
                paste(option$choices, collapse = " "))
    })
  }))
  c(if (shell == "zsh") "autoload -U +X bashcompinit && bashcompinit",
    "_fairlattice() {",
    paste("  local word=${COMP_WORDS[COMP_CWORD]}",
          "before=${COMP_WORDS[COMP_CWORD-1]} command=${COMP_WORDS[1]} words="),
    sprintf(paste("  if [ \"$COMP_CWORD\" -eq 1 ]; then COMPREPLY=($(compgen",
                  "-W '%s' -- \"$word\")); return; fi"),
            paste(c(names(known), "help", "--help", "--version"),
                  collapse = " ")), "  case \"$command $before\" in", choices,
    "  esac", "  if [ -z \"$words\" ] && [ \"${word#-}\" != \"$word\" ]; then",
    "    case \"$command\" in",
    vapply(names(known), function(name) {
      sprintf("      %s) words='%s --help' ;;", name, flags(known[[name]]))
    }, "", USE.NAMES = FALSE), "    esac", "  fi",
    paste0(paste("  if [ -n \"$words\" ]; then COMPREPLY=($(compgen -W",
                 "\"$words\" -- \"$word\")); else "),
           "COMPREPLY=($(compgen -f -- \"$word\")); fi"), "}",
    "complete -o filenames -F _fairlattice fairlattice")
}
