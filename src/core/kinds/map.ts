import { z } from 'zod';
import { isObject, type Json } from '../plain/json.ts';
import { rangeOf } from '../plain/words.ts';
import { condition } from './compatibility.ts';
import { defineKind, wrongShape } from './define.ts';
import type { Converted } from './kindParts.ts';

const ifKeys = (value: Json): Converted => {
  if (isObject(value)) return { value };
  return { problem: 'it is no group of keys' };
};

/**
 * Values under keys that are data themselves: prices by season, names by language. What the keys and the values are is
 * said as fields are; anyone who reads, checks and compares fields does so with both.
 */
export const map = defineKind({
  name: 'map',
  about: 'Values under keys that are data themselves: a price for each season, a keeper for each watch.',
  guide: {
    en: 'Values, each under a key of its own',
    de: 'Werte, jeder unter einem eigenen Schlüssel',
    fr: 'Des valeurs, chacune sous sa propre clé',
    es: 'Valores, cada uno con su propia clave',
    it: 'Valori, ciascuno sotto una propria chiave',
    nl: 'Waarden, elk onder een eigen sleutel',
  },
  options: {
    keys: z
      .json()
      .describe(
        'What the keys are, as a field that holds one text: { kind: text, pattern: … }, { kind: language }, { kind: term, taxonomy: … }, { kind: choice, choices: … }, { kind: reference, to: … }.',
      ),
    value: z.json().describe('The value of each key: a field with its kind and options.'),
    min: z.int().min(1).optional().describe('The fewest keys.'),
    max: z.int().min(1).optional().describe('The most keys.'),
  },
  example: {
    options: {
      keys: { kind: 'choice', choices: ['summer', 'winter'] },
      value: { kind: 'decimal', unit: 'EUR' },
      min: 1,
      max: 4,
    },
    value: { summer: 12, winter: 9.5 },
  },
  mistakes: function* ({ min, max }) {
    if (min !== undefined && max !== undefined && min > max)
      yield {
        option: 'min',
        says: `\`min\` (${min}) is more than \`max\` (${max}), so no map could pass`,
        mend: 'Swap them or change one.',
      };
  },
  check:
    ({ min, max }) =>
    (value, report) => {
      if (!isObject(value)) return wrongShape(report, value, 'keys');
      const size = Object.keys(value).length;
      if (max !== undefined && size > max) report('too-many-items:keys', { size, bound: max }, { limit: max });
      if (min !== undefined && size < min) report('too-few-items:keys', { size, bound: min }, { limit: min });
    },
  // Asked only where the fields themselves do not say more.
  changed: {
    keys: condition,
    value: condition,
    min: { direction: (before = 0, after = 0) => (Number(after) > Number(before) ? 'narrower' : 'wider') },
    max: {
      direction: (before, after) =>
        Number(after ?? Number.POSITIVE_INFINITY) < Number(before ?? Number.POSITIVE_INFINITY) ? 'narrower' : 'wider',
    },
  },
  from: {
    object: ifKeys,
    json: ifKeys,
  },
  stores: () => ({ is: 'keys', keys: {}, isOpen: true }),
  cel: 'dyn',
  glance: 0,
  maps: true,
  gist: ({ keys, value, min, max }) =>
    [`${kindOf(keys)} → ${kindOf(value)}`, rangeOf(min, max, 'key')].filter(Boolean).join(', '),
});

const kindOf = (field: unknown): string => {
  if (typeof field === 'object' && field !== null && 'kind' in field) return String(field.kind);
  return 'any';
};
