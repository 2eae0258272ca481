import type { Shell } from './shell.ts';
import { inColumns } from './zsh.ts';

/** Fish quotes what it is offered, in the way that the line began. */
export const fish: Shell = {
  name: 'fish',
  install: '$0 completion fish > ~/.config/fish/completions/lumbrik.fish',
  script: `function __lumbrik_complete
  set -l words (commandline -opc)
  set -e words[1]
  set -l offers (lumbrik --complete fish $words (commandline -ct) 2>/dev/null)
  if test (count $offers) -gt 0
    printf '%s\\n' $offers
  else
    __fish_complete_path (commandline -ct)
  end
end
complete -c lumbrik -f -a '(__lumbrik_complete)'
`,
  typedLine: (words) => ({
    words: words.map((word, index) => (index === words.length - 1 ? unquoted(word) : word)),
    offer: inColumns,
  }),
};

/** A word as it is typed, without its quotes, of which the last may be open. */
function unquoted(typed: string): string {
  let quote = '';
  let text = '';
  for (const [part] of typed.matchAll(/\\.?|[\s\S]/gu)) {
    if (part === quote) quote = '';
    else if (quote === '' && (part === "'" || part === '"')) quote = part;
    else if (part.startsWith('\\') && (quote === '' || /^\\[$"'\\]$/u.test(part))) text += part.slice(1);
    else text += part;
  }

  return text;
}
