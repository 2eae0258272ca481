import { z } from 'zod';
import { type Json, jsonLength } from '../plain/json.ts';
import { groupThousands } from '../plain/words.ts';
import { condition, upperBound } from './compatibility.ts';
import { defineKind } from './define.ts';
import { problemsOf, validatorOf } from './jsonValidator.ts';

const usualMost = 65_536;

/** Any JSON value (RFC 8259), for what another program wrote and nobody edits by hand. */
export const json = defineKind({
  name: 'json',
  about: 'Any JSON value, for data of another program. Prefer fields: this value cannot be checked or migrated.',
  guide: {
    en: 'Data for a program',
    de: 'Daten für ein Programm',
    fr: 'Des données pour un programme',
    es: 'Datos para un programa',
    it: 'Dati per un programma',
    nl: 'Gegevens voor een programma',
  },
  options: {
    max: z
      .int()
      .min(2)
      .optional()
      .describe(`The most characters when written without spaces (default ${groupThousands(usualMost)}).`),
    schema: z
      .union([z.boolean(), z.record(z.string(), z.json())])
      .optional()
      .describe(
        'A JSON Schema (draft 2020-12) that it has to obey. References may lead inside the schema itself alone.',
      ),
  },
  example: {
    options: { max: 200, schema: { type: 'object', required: ['sensor'] } },
    value: { sensor: 'A7', readings: [1, 2] },
  },
  mistakes: function* ({ schema }) {
    if (schema === undefined) return;
    for (const { inside, says: message, ...rest } of problemsOf(schema as Json))
      yield { option: 'schema', inside, says: `\`${['schema', ...inside].join('.')}\` ${message}`, ...rest };
  },
  check: ({ max = usualMost, schema }) => {
    const validate = schema === undefined ? undefined : validatorOf(schema as Json);
    return (value, report) => {
      const length = jsonLength(value);
      // A value that is too long is not checked by the schema, which may compare each two items.
      if (length <= max) validate?.(value, report);
      else report('too-long:json', { size: length, bound: max }, { limit: max });
    };
  },
  changed: {
    max: upperBound({
      of: jsonLength,
      beyond: 'longer',
      extreme: 'the longest',
      isLength: true,
      has: (size) => `has ${size}`,
      worst: 'largest',
    }),
    schema: condition,
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
  isOpen: true,
  stores: ({ schema }) => {
    if (schema === undefined || schema === true) return { is: 'anything' };
    return { is: 'by schema', schema: schema === false ? { not: {} } : schema };
  },
  cel: 'dyn',
  glance: 0,
  takesLists: true,
  gist: ({ max, schema }) =>
    [max === undefined ? '' : `≤ ${max} characters`, schema === undefined ? '' : 'by a schema']
      .filter(Boolean)
      .join(', '),
});
