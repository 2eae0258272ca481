import { z } from 'zod';
import { defineKind } from './define.ts';
import { reinterpreted } from './meaning.ts';
import { boundGist, boundMeanings, boundMistakes, checkBounds, notANumber } from './number.ts';

/** A number that may have decimal places, with the unit it is meant in. */
export const decimal = defineKind({
  name: 'decimal',
  about: 'A number with decimal places, with a unit if it has one: a height, a price.',
  options: { min: z.number().optional(), max: z.number().optional(), unit: z.string().min(1).optional() },
  mistakes: boundMistakes,
  check: (options) => (value, report) => {
    if (typeof value !== 'number' || !Number.isFinite(value)) return notANumber(value, 'a number', report);
    checkBounds(value, options, report);
  },
  changed: { ...boundMeanings, unit: reinterpreted },
  from: {
    integer: (value) => ({ value }),
    text: (value) => parse(value),
    longText: (value) => parse(value),
  },
  cel: 'double',
  gist: ({ unit, ...bounds }) => [boundGist(bounds), unit].filter(Boolean).join(' '),
});

function parse(value: unknown) {
  const text = String(value).trim();
  return /^[+-]?\d+(?:\.\d+)?$/u.test(text) ? { value: Number(text) } : { lost: 'it is not written as a number' };
}
