import { z } from 'zod';
import { isDay } from '../plain/calendar.ts';
import type { Json } from '../plain/json.ts';
import { range } from '../plain/words.ts';
import { condition, lowerBound, upperBound } from './compatibility.ts';
import { defineKind } from './define.ts';

const shape =
  /^(\d{4}-\d{2}-\d{2})[Tt]((?:[01]\d|2[0-3]):[0-5]\d(?::[0-5]\d(?:\.\d{1,9})?)?)([Zz]|[+-](?:[01]\d|2[0-3]):[0-5]\d)?$/u;

/** The parts of a date-time; `undefined` where a text is none. The offset is absent from a local one. */
function parse(text: string): { readonly local: string; readonly offset: string | undefined } | undefined {
  const match = shape.exec(text);
  const [, day = '', clock = '', offset] = match ?? [];
  if (match && isDay(day)) return { local: `${day}T${clock}`, offset };
  return undefined;
}

/** Milliseconds since 1970 by the offset that a date-time names; one without counts as UTC. */
const instant = (text: Json): number => {
  const parts = parse(String(text));
  if (parts) return Date.parse(`${parts.local}${parts.offset ?? 'Z'}`);
  return Number.NaN;
};

const byInstant = (a: Json, b: Json): number => instant(a) - instant(b);
const DateTime = z
  .string()
  .refine((text) => parse(text) !== undefined, { error: 'a date-time such as 2026-03-01T09:30:00Z' });

/** A day and a time: RFC 3339, section 5.6, or the same without an offset where the field says so. */
export const dateTime = defineKind({
  name: 'dateTime',
  about: 'A day with a time, as 2026-03-01T09:30:00+01:00.',
  guide: {
    en: 'A moment, such as 2026-03-01T10:00:00Z',
    de: 'Ein Zeitpunkt, etwa 2026-03-01T10:00:00Z',
    fr: 'Un moment, comme 2026-03-01T10:00:00Z',
    es: 'Un momento, como 2026-03-01T10:00:00Z',
    it: 'Un momento, come 2026-03-01T10:00:00Z',
    nl: 'Een moment, zoals 2026-03-01T10:00:00Z',
  },
  options: {
    offset: z
      .enum(['required', 'optional', 'none'])
      .optional()
      .describe('The distance to UTC: `required` (default), `optional`, or `none` for local time.'),
    min: DateTime.optional().describe('The earliest allowed.'),
    max: DateTime.optional().describe('The latest allowed.'),
  },
  example: {
    options: { offset: 'required', min: '2026-01-01T00:00:00Z', max: '2030-12-31T23:59:59Z' },
    value: '2026-03-01T09:30:00+01:00',
  },
  mistakes: function* ({ min, max }) {
    if (min !== undefined && max !== undefined && byInstant(min, max) > 0)
      yield {
        option: 'min',
        says: `\`min\` (${min}) is after \`max\` (${max}), so no time could pass`,
        mend: 'Swap them or change one.',
      };
  },
  check:
    ({ offset = 'required', min, max }) =>
    (value, report) => {
      const parts = typeof value === 'string' ? parse(value) : undefined;
      if (typeof value !== 'string' || !parts) return report('not-a-date-time', { isLocal: offset === 'none' });

      if (offset === 'required' && parts.offset === undefined) report('offset', { value });
      if (offset === 'none' && parts.offset !== undefined)
        report('offset:unwanted', { offset: parts.offset, local: parts.local });
      if (min !== undefined && byInstant(value, min) < 0) report('too-early', { value, bound: min }, { limit: min });
      if (max !== undefined && byInstant(value, max) > 0) report('too-late', { value, bound: max }, { limit: max });
    },
  changed: { offset: condition, min: lowerBound(undefined, byInstant), max: upperBound(undefined, byInstant) },
  from: {
    text: (value) =>
      parse(String(value).trim())
        ? { value: String(value).trim() }
        : { problem: 'it is not written as a day with a time' },
    date: (value, { offset }) => ({ value: `${String(value)}T00:00:00${offset === 'none' ? '' : 'Z'}` }),
  },
  stores: ({ offset = 'required', min, max }) => {
    const pattern = {
      required: shape.source.replace(/\?\$$/u, '$'),
      optional: shape.source,
      none: shape.source.replace(/\([^(]*\[Zz\].*\)\?\$$/u, '$'),
    }[offset];
    return {
      is: 'text',
      patterns: [pattern],
      format: offset === 'required' ? 'date-time' : undefined,
      says: offset === 'none' ? 'local date-time' : undefined,
      earliest: min,
      latest: max,
    };
  },
  cel: 'string',
  glance: 0.5,
  gist: ({ offset, min, max }) => [range(min, max), offset === 'none' ? 'local' : ''].filter(Boolean).join(', '),
});
