import { foldWord } from './fold.ts';
import type { WritingStyle } from './style.ts';

/** Words for yes and no by language; no standard data of the platform has them. */
const words: Readonly<Record<string, readonly [yes: string, no: string]>> = {
  cs: ['ano', 'ne'],
  da: ['ja', 'nej'],
  de: ['ja', 'nein'],
  en: ['yes', 'no'],
  es: ['si', 'no'],
  et: ['jah', 'ei'],
  fi: ['kylla', 'ei'],
  fr: ['oui', 'non'],
  hr: ['da', 'ne'],
  hu: ['igen', 'nem'],
  it: ['si', 'no'],
  lt: ['taip', 'ne'],
  lv: ['ja', 'ne'],
  nb: ['ja', 'nei'],
  nl: ['ja', 'nee'],
  nn: ['ja', 'nei'],
  pl: ['tak', 'nie'],
  pt: ['sim', 'nao'],
  ro: ['da', 'nu'],
  sk: ['ano', 'nie'],
  sl: ['da', 'ne'],
  sv: ['ja', 'nej'],
  tr: ['evet', 'hayir'],
};

/** Reads yes and no in the languages of the workspace and in English, also by their first letter. */
export const yesNo: WritingStyle = {
  name: 'yes-no',
  about: 'yes and no in the languages of the workspace (ja, non, y, on, off)',
  says: 'as words for yes and no',
  kinds: ['boolean'],
  reader: ({ languages }) => {
    const meanings = new Map<string, boolean>([
      ['on', true],
      ['off', false],
    ]);
    for (const language of ['en', ...languages]) {
      const [yes, no] = words[language.split('-')[0] ?? ''] ?? [];
      if (yes === undefined || no === undefined) continue;
      for (const [word, value] of [
        [yes, true],
        [no, false],
      ] as const) {
        meanings.set(word, value);
        meanings.set(word.slice(0, 1), value);
      }
    }

    return (text) => meanings.get(foldWord(text));
  },
};

/** Marks as in a table that somebody ticked: `x`, `✓`, `-`. */
export const tick: WritingStyle = {
  name: 'ticks',
  about: 'ticks as in a table (x, ✓, ✗, -)',
  says: 'as ticks',
  asks: () => 'Do x and ✓ mean yes, and - and ✗ no?',
  kinds: ['boolean'],
  reader: () => {
    const meanings = new Map(
      [...'xX✓✔☑×'].map((mark) => [mark, true]).concat([...'-–—✗✘☐'].map((mark) => [mark, false])) as [
        string,
        boolean,
      ][],
    );
    return (text) => meanings.get(text);
  },
};
