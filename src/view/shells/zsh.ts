import type { Candidate, Shell } from './shell.ts';

/** Zsh quotes what `compadd` is given, in the way that the line began. */
export const zsh: Shell = {
  name: 'zsh',
  install: '$0 completion zsh >> ~/.zshrc',
  script: `#compdef lumbrik
_lumbrik() {
  local -a offers names about suffix
  local offer
  offers=("\${(@f)$(lumbrik --complete zsh "\${(@Q)words[2,CURRENT-1]}" "\${(Q)PREFIX}" 2>/dev/null)}")
  for offer in "\${offers[@]}"; do
    [[ -n $offer ]] || continue
    names+=("\${offer%%$'\\t'*}")
    about+=("\${offer//$'\\t'/  -- }")
  done
  [[ $#names -eq 1 && $names[1] == *[/:] ]] && suffix=(-S '')
  if (( $#names )); then
    compadd $suffix -d about -a names
  else
    _default
  fi
}
if [[ \${zsh_eval_context[-1]} == loadautofunc ]]; then
  _lumbrik "$@"
else
  compdef _lumbrik lumbrik
fi
`,
  typedLine: (words) => ({ words, offer: inColumns }),
};

/** A word and what it is, with a tab between: identifiers hold no control character. */
export const inColumns = ({ word, about }: Candidate): string => {
  if (!about) return word;
  return `${word}\t${about}`;
};
