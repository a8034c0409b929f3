# SPDX-License-Identifier: Apache-2.0
# Completion of `snare` for bash. Verbs and options are those that the program names itself.
_snare() {
  local cur prev words cword verb
  _init_completion 2>/dev/null || {
    cur=${COMP_WORDS[COMP_CWORD]}
    prev=${COMP_WORDS[COMP_CWORD - 1]}
    words=("${COMP_WORDS[@]}")
    cword=$COMP_CWORD
  }
  verb=${words[1]}
  local verbs formats
  verbs=$("${words[0]}" help 2>/dev/null | sed -n '/^Subcommands:/,$s/^  \([a-z]*\) .*/\1/p')
  if [ "$cword" = 1 ] || { [ "$verb" = help ] && [ "$cword" = 2 ]; }; then
    mapfile -t COMPREPLY < <(compgen -W "$verbs --help --version" -- "$cur")
  elif [[ $cur == -* ]]; then
    local options
    options=$("${words[0]}" help "$verb" 2>/dev/null | grep -oE -- '--[a-z-]+' | sort -u)
    mapfile -t COMPREPLY < <(compgen -W "$options" -- "$cur")
  elif [ "$verb" = reference ]; then
    mapfile -t COMPREPLY < <(compgen -W "$("${words[0]}" reference 2>/dev/null | cut -d' ' -f1)" -- "$cur")
  elif [ "$cword" = 2 ] && formats=$("${words[0]}" help "$verb" 2>/dev/null | sed -n 's/^  [a-z]* TEXT:{\([a-z,]*\)}.*/\1/p' | tr , ' ') && [ -n "$formats" ]; then
    mapfile -t COMPREPLY < <(compgen -W "$formats" -- "$cur")
  else
    compopt -o filenames 2>/dev/null
    mapfile -t COMPREPLY < <(compgen -f -- "$cur")
  fi
}
complete -F _snare snare
