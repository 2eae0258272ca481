import { defineKind } from './define.ts';

/** Yes or no. */
export const boolean = defineKind({
  name: 'boolean',
  about: 'Yes or no: `true` or `false`.',
  guide: {
    en: 'Yes or no',
    de: 'Ja oder nein',
    fr: 'Oui ou non',
    es: 'Sí o no',
    it: 'Sì o no',
    nl: 'Ja of nee',
  },
  options: {},
  example: { options: {}, value: true },
  check: () => (value, report) => {
    if (typeof value !== 'boolean') report('wrong-shape:boolean', {});
  },
  changed: {},
  from: { text: (value) => parse(value), choice: (value) => parse(value), integer: (value) => parse(value) },
  stores: () => ({ is: 'boolean' }),
  cel: 'bool',
  glance: 0.5,
});

function parse(value: unknown) {
  const word = String(value).trim().toLowerCase();
  if (['true', 'yes', '1'].includes(word)) return { value: true };
  if (['false', 'no', '0'].includes(word)) return { value: false };
  return { problem: 'it says neither yes nor no' };
}
