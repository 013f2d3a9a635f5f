# bash completion for hestrel, made from its table of options

# Names of a list from the plan on the command line.
_hestrel_names() {
  local plan
  for plan in "${COMP_WORDS[@]:2}"; do
    [[ $plan == *.yaml || $plan == *.yml ]] && [[ -f $plan ]] || continue
    mapfile -t COMPREPLY < <(compgen -W "$("${COMP_WORDS[0]}" show "$plan" --list "$1" --format csv 2>/dev/null | tail -n +2 | cut -d, -f1)" -- "$word")
    return
  done
}

_hestrel() {
  local word=${COMP_WORDS[COMP_CWORD]} before=${COMP_WORDS[COMP_CWORD - 1]} options=
  COMPREPLY=()
  if [[ $COMP_CWORD -eq 1 ]]; then
    mapfile -t COMPREPLY < <(compgen -W '@COMMANDS@ --help --version' -- "$word")
    return
  fi
  case ${COMP_WORDS[1]} in
@CASES@
  esac
  if [[ $word == -* ]]; then
    mapfile -t COMPREPLY < <(compgen -W "$options" -- "$word")
  elif [[ ${#COMPREPLY[@]} -eq 0 ]]; then
    mapfile -t COMPREPLY < <(compgen -f -- "$word")
  fi
}
complete -o filenames -F _hestrel hestrel
