import { textConversions } from './conversions.ts';
import { defineKind, wrongShape } from './define.ts';
import {
  checkLength,
  lengthGist,
  lengthMeanings,
  lengthMistakes,
  lengthOptions,
  lengthShape,
  onOneLine,
} from './length.ts';

/** One line of text. */
export const text = defineKind({
  name: 'text',
  about: 'One line of text: a name, a heading, a short fact.',
  guide: {
    en: 'One line of text',
    de: 'Eine Zeile Text',
    fr: 'Une ligne de texte',
    es: 'Una línea de texto',
    it: 'Una riga di testo',
    nl: 'Eén regel tekst',
  },
  options: { ...lengthOptions },
  example: {
    options: { min: 2, max: 80, pattern: { match: '^[A-Z]', say: 'Start with a capital.' } },
    value: 'Skerry Point',
  },
  mistakes: lengthMistakes,
  check: (options, context) => {
    const length = checkLength(options, context);
    return (value, report) => {
      if (typeof value !== 'string') return wrongShape(report, value, 'text');
      if (/[\n\r\u2028\u2029]/u.test(value)) report('line-break', {});
      length(value, report);
    };
  },
  changed: lengthMeanings,
  from: { ...textConversions, longText: oneLine, markdown: oneLine },
  freeText: 'line',
  stores: (options) => onOneLine(lengthShape(options)),
  cel: 'string',
  gist: lengthGist,
});

function oneLine(value: unknown) {
  const line = String(value);
  if (line.includes('\n')) return { problem: 'it has several lines' };
  return { value: line };
}
