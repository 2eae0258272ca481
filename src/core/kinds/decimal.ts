import { z } from 'zod';
import { reinterpreted, upperBound } from './compatibility.ts';
import { defineKind } from './define.ts';
import { boundGist, boundMeanings, boundMistakes, checkBounds, notANumber } from './number.ts';

/** A number that may have decimal places, with the unit it is intended in. */
export const decimal = defineKind({
  name: 'decimal',
  about: 'A number with decimal places, with a unit if it has one: a height, a price.',
  guide: {
    en: 'A number',
    de: 'Eine Zahl',
    fr: 'Un nombre',
    es: 'Un número',
    it: 'Un numero',
    nl: 'Een getal',
  },
  options: {
    min: z.number().optional().describe('The least allowed.'),
    max: z.number().optional().describe('The most allowed.'),
    values: z.array(z.number()).min(1).optional().describe('The only numbers allowed: [1, 2, 5].'),
    unit: z
      .string()
      .min(1)
      .optional()
      .describe('Its unit, such as m or EUR. Another unit changes the meaning of stored numbers.'),
    places: z.int().min(0).max(15).optional().describe('The most decimal places.'),
  },
  example: { options: { unit: 'm', min: 0, max: 150, places: 1, values: [12, 38.5, 50] }, value: 38.5 },
  mistakes: boundMistakes,
  check: (options) => (value, report) => {
    if (typeof value !== 'number' || !Number.isFinite(value)) return notANumber(value, 'number', report);
    checkBounds(value, options, report);
    const { places } = options;
    if (places !== undefined && placesOf(value) > places)
      report('too-many-places', { value, places: placesOf(value), bound: places }, { limit: places });
  },
  changed: { ...boundMeanings, unit: reinterpreted, places: upperBound() },
  from: {
    integer: (value) => ({ value }),
    text: (value) => parse(value),
    longText: (value) => parse(value),
  },
  stores: ({ min, max, values, places }) => ({ is: 'number', min, max, values, places }),
  say: (value, _language, { unit }) =>
    typeof value === 'number' ? [String(value), unit].filter(Boolean).join(' ') : undefined,
  cel: 'double',
  glance: 0.5,
  gist: ({ unit, places, ...bounds }) =>
    [[boundGist(bounds), unit].filter(Boolean).join(' '), places === undefined ? '' : `${places} places`]
      .filter(Boolean)
      .join(', '),
});

/** The decimal places of a number as it is written shortest (ECMA-262, Number::toString): 0.1 has one, 1e-7 seven. */
function placesOf(value: number): number {
  const [, decimals = '', exponent = '0'] = /^-?\d+(?:\.(\d+))?(?:e([+-]\d+))?$/u.exec(String(value)) ?? [];
  return Math.max(0, decimals.length - Number(exponent));
}

function parse(value: unknown) {
  const text = String(value).trim();
  if (/^[+-]?\d+(?:\.\d+)?$/u.test(text)) return { value: Number(text) };
  return { problem: 'it is not written as a number' };
}
