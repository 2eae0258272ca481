import { z } from 'zod';
import { type Json, jsonLength } from '../json.ts';
import { groupThousands } from '../words.ts';
import { defineKind } from './define.ts';
import { upperBound } from './meaning.ts';

const usualMost = 65_536;

/** Any JSON value (RFC 8259), for what another program wrote and nobody edits by hand. */
export const json = defineKind({
  name: 'json',
  about:
    'Any JSON value, for what another program wrote. Prefer fields: what stands in here cannot be checked or migrated.',
  options: {
    max: z
      .int()
      .min(2)
      .optional()
      .describe(
        `The most characters it may have when written without spaces; ${groupThousands(usualMost)} if nothing is said.`,
      ),
  },
  example: { options: { max: 200 }, value: { sensor: 'A7', readings: [1, 2] } },
  check:
    ({ max = usualMost }) =>
    (value, report) => {
      const length = jsonLength(value);
      if (length > max)
        report('too-long', {
          says: `has ${groupThousands(length)} characters of JSON, at most ${groupThousands(max)} are allowed`,
          limit: max,
          mend: 'Keep less of it, or keep it elsewhere and link to it.',
        });
    },
  changed: {
    max: upperBound({
      of: jsonLength,
      beyond: 'longer',
      extreme: 'the longest',
      has: (size) => `has ${size}`,
      worst: 'largest',
    }),
  },
  from: Object.fromEntries(
    [
      'text',
      'longText',
      'integer',
      'decimal',
      'boolean',
      'point',
      'date',
      'choice',
      'term',
      'reference',
      'object',
      'asset',
      'richText',
    ].map((kind) => [kind, (value: Json) => ({ value })]),
  ),
  jsonSchema: () => ({}),
  cel: 'dyn',
  takesLists: true,
  gist: ({ max }) => (max === undefined ? '' : `≤ ${max} characters`),
});
