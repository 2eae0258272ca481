import { z } from 'zod';
import { isDay } from '../plain/calendar.ts';
import type { Json } from '../plain/json.ts';
import { range } from '../plain/words.ts';
import { lowerBound, type Measure, upperBound } from './compatibility.ts';
import { defineKind } from './define.ts';

/** A day of the calendar: an ISO 8601-1:2019 calendar date in its extended form, `2026-03-01`. No time, no zone. */
const Day = z.string().refine(isDay, { error: 'a date as YYYY-MM-DD that the calendar has' });

/** A day of the calendar (RFC 3339 full-date). */
export const date = defineKind({
  name: 'date',
  about: 'A day of the calendar, as 2026-03-01.',
  guide: {
    en: 'A day, such as 2026-03-01',
    de: 'Ein Tag, etwa 2026-03-01',
    fr: 'Un jour, comme 2026-03-01',
    es: 'Un día, como 2026-03-01',
    it: 'Un giorno, come 2026-03-01',
    nl: 'Een dag, zoals 2026-03-01',
  },
  options: {
    min: Day.optional().describe('The earliest day allowed.'),
    max: Day.optional().describe('The latest day allowed.'),
  },
  example: { options: { min: '1700-01-01', max: '2030-12-31' }, value: '1858-10-01' },
  mistakes: function* ({ min, max }) {
    if (min !== undefined && max !== undefined && min > max)
      yield {
        option: 'min',
        says: `\`min\` (${min}) is after \`max\` (${max}), so no day could pass`,
        mend: 'Swap them or change one.',
      };
  },
  check:
    ({ min, max }) =>
    (value, report) => {
      if (typeof value !== 'string' || !isDay(value)) return report('not-a-date', {});
      if (min !== undefined && value < min) report('too-early:day', { value, bound: min }, { limit: min });
      if (max !== undefined && value > max) report('too-late:day', { value, bound: max }, { limit: max });
    },
  changed: {
    min: lowerBound(day('earlier', 'the earliest', 'smallest')),
    max: upperBound(day('later', 'the latest', 'largest')),
  },
  from: { text: (value) => parse(value), longText: (value) => parse(value) },
  stores: ({ min, max }) => ({
    is: 'text',
    format: 'date',
    patterns: ['^\\d{4}-\\d{2}-\\d{2}$'],
    earliest: min,
    latest: max,
  }),
  cel: 'string',
  glance: 0.5,
  gist: ({ min, max }) => range(min, max),
});

const parse = (value: Json) => {
  const text = String(value).trim();
  if (isDay(text)) return { value: text };
  return { problem: 'it is not written as YYYY-MM-DD' };
};

/** Days as the number YYYYMMDD: enough to order them, and to say the worst one again. */
function day(beyond: string, extreme: string, worst: Measure['worst']): Measure {
  return {
    of: (value) => (typeof value === 'string' && isDay(value) ? Number(value.replaceAll('-', '')) : undefined),
    beyond,
    extreme,
    has: (number) =>
      `has ${String(number)
        .padStart(8, '0')
        .replace(/^(\d{4})(\d{2})(\d{2})$/u, '$1-$2-$3')}`,
    worst,
  };
}
