import { compact, type Json } from '../plain/json.ts';
import { toPlain } from '../text/plain.ts';
import { isTree } from '../text/tree.ts';
import { textConversions } from './conversions.ts';
import { defineKind, wrongShape } from './define.ts';
import { checkLength, lengthGist, lengthMeanings, lengthMistakes, lengthOptions, lengthShape } from './length.ts';

/** Text of any number of lines, with no marks in it. */
export const longText = defineKind({
  name: 'longText',
  about: 'Plain text of one or more lines.',
  guide: {
    en: 'Plain text of one or more lines',
    de: 'Einfacher Text, eine Zeile oder mehrere',
    fr: 'Un texte simple, d’une ligne ou de plusieurs',
    es: 'Texto sencillo, de una línea o de varias',
    it: 'Testo semplice, di una o più righe',
    nl: 'Gewone tekst, van een of meer regels',
  },
  options: { ...lengthOptions },
  example: {
    options: { min: 20, max: 300, pattern: '[.!?]$' },
    value: 'A light on a rock that the sea covers twice a year.',
  },
  mistakes: lengthMistakes,
  check: (options, context) => {
    const length = checkLength(options, context);
    return (value, report) => {
      if (typeof value === 'string') length(value, report);
      else wrongShape(report, value, 'text');
    };
  },
  changed: lengthMeanings,
  from: { ...textConversions, richText: plain },
  freeText: 'lines',
  stores: lengthShape,
  cel: 'string',
  glance: 0,
  gist: lengthGist,
});

/** Text alone; that it had a structure is a loss where it had any. */
function plain(value: Json) {
  if (!isTree(value)) return { problem: 'it is no tree of structured text' };
  const isStructured = JSON.stringify(value).match(/"type":"(?!root|paragraph|text)/u) !== null;
  return compact({
    value: toPlain(value),
    partly: isStructured ? 'its headings, lists and marks cannot be kept' : undefined,
  });
}
