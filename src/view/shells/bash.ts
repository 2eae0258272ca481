import type { Shell } from './shell.ts';

/**
 * Bash inserts what it is offered as it is, so all quoting is ours. It replaces only the part of the word behind its own
 * word breaks (`:`, `=`, `@` and others), so what is offered goes on from there.
 */
export const bash: Shell = {
  name: 'bash',
  install: '$0 completion bash >> ~/.bashrc',
  script: `_lumbrik_complete() {
  local line
  COMPREPLY=()
  while IFS= read -r line; do
    COMPREPLY+=("$line")
  done < <(lumbrik --complete bash "$1" "$2" "\${COMP_LINE:0:COMP_POINT}" 2>/dev/null)
  if [[ \${#COMPREPLY[@]} -eq 1 && \${COMPREPLY[0]} == *[/:] ]]; then compopt -o nospace 2>/dev/null; fi
}
complete -o bashdefault -o default -F _lumbrik_complete lumbrik
`,
  typedLine([program = '', replaced = '', line = '']) {
    const words = wordsOf(line);
    const start = words.findIndex(({ raw }) => raw === program);
    const typed = words.at(-1) ?? nothingTyped;

    return {
      words: words.slice(start + 1).map(({ text }) => text),
      offer: ({ word }) =>
        [
          completeParts(replaced, typed.open),
          quote(word.slice(typed.text.length), typed.open),
          /[/:]$/u.test(word) ? '' : typed.open,
        ].join(''),
    };
  },
};

/** Where a word ends in a quoted part that is not closed. */
type Open = '' | "'" | '"';

interface Word {
  /** As it was typed. */
  readonly raw: string;
  /** Without its quotes. */
  readonly text: string;
  readonly open: Open;
}

const nothingTyped: Word = { raw: '', text: '', open: '' };

/** The words of a line, read as Bash does (POSIX.1-2017, Shell Command Language, 2.2); nothing in them is expanded. */
function wordsOf(line: string): readonly Word[] {
  const words: Word[] = [];
  let word: Word | undefined;
  const take = (raw: string, text: string, open: Open): void => {
    word = { raw: `${word?.raw ?? ''}${raw}`, text: `${word?.text ?? ''}${text}`, open };
  };

  for (const [part] of line.matchAll(/\\.?|[\s\S]/gu)) {
    const open = word?.open ?? '';
    if (open === "'") for (const sign of part) take(sign, sign === "'" ? '' : sign, sign === "'" ? '' : open);
    else if (open === '"' && part.startsWith('\\')) take(part, /^\\[$`"\\]$/u.test(part) ? part.slice(1) : part, open);
    else if (open === '"') take(part, part === '"' ? '' : part, part === '"' ? '' : open);
    else if (part === "'" || part === '"') take(part, '', part);
    else if (part.startsWith('\\')) take(part, part.slice(1), '');
    else if (!/\s/u.test(part)) take(part, part, '');
    else {
      if (word) words.push(word);
      word = undefined;
    }
  }

  return [...words, word ?? nothingTyped];
}

/** What Bash replaces, without a backslash at its end that waits for a sign to quote. */
function completeParts(replaced: string, open: Open): string {
  const backslashes = /\\*$/u.exec(replaced)?.[0].length ?? 0;
  if (open !== "'" && backslashes % 2 === 1) return replaced.slice(0, -1);
  return replaced;
}

/** The rest of a word, so that it goes on with exactly these signs. An exclamation mark calls history even in double quotes. */
function quote(text: string, open: Open): string {
  if (open === "'") return text.replaceAll("'", `'\\''`);
  if (open === '"') return text.replace(/[$`"\\]/gu, '\\$&').replaceAll('!', `"'!'"`);
  return text.replace(/[^\p{L}\p{N}_./,:@%+=-]/gu, '\\$&');
}
