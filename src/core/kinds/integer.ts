import { z } from 'zod';
import { defineKind } from './define.ts';
import { boundGist, boundMeanings, boundMistakes, checkBounds, notANumber } from './number.ts';

/** A whole number that a JSON number holds exactly: from -(2^53 - 1) to 2^53 - 1. */
export const integer = defineKind({
  name: 'integer',
  about: 'A whole number: places, pages, steps.',
  guide: {
    en: 'A whole number',
    de: 'Eine ganze Zahl',
    fr: 'Un nombre entier',
    es: 'Un número entero',
    it: 'Un numero intero',
    nl: 'Een geheel getal',
  },
  options: {
    min: z.int().optional().describe('The least allowed.'),
    max: z.int().optional().describe('The most allowed.'),
    values: z.array(z.int()).min(1).optional().describe('The only numbers allowed: [1, 2, 5].'),
  },
  example: { options: { min: 1, max: 40, values: [7, 21, 28] }, value: 21 },
  mistakes: boundMistakes,
  check: (options) => (value, report) => {
    if (typeof value !== 'number' || Number.isNaN(value)) return notANumber(value, 'integer', report);
    if (!Number.isSafeInteger(value)) return report('not-whole', { value });
    checkBounds(value, options, report);
  },
  changed: boundMeanings,
  from: {
    decimal: (value) => (Number.isSafeInteger(value) ? { value } : { problem: 'it is not a whole number' }),
    text: (value) => parse(value),
    longText: (value) => parse(value),
    boolean: (value) => ({ value: value === true ? 1 : 0 }),
  },
  stores: ({ min = Number.MIN_SAFE_INTEGER, max = Number.MAX_SAFE_INTEGER, values }) => ({
    is: 'integer',
    min,
    max,
    values,
  }),
  cel: 'int',
  glance: 0.5,
  gist: boundGist,
});

function parse(value: unknown) {
  const text = String(value).trim();
  const number = Number(text);
  if (/^[+-]?\d+$/u.test(text) && Number.isSafeInteger(number)) return { value: number };
  return { problem: 'it is not written as a whole number' };
}
