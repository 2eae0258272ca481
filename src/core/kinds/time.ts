import { z } from 'zod';
import { parseDuration } from '../plain/duration.ts';
import { range } from '../plain/words.ts';
import { lengthInWords } from '../writing/length.ts';
import { lowerBound, upperBound } from './compatibility.ts';
import { defineKind } from './define.ts';

const shape = /^(?:[01]\d|2[0-3]):[0-5]\d(?::[0-5]\d)?$/u;
const isTime = (text: string): boolean => shape.test(text);
const Time = z.string().refine(isTime, { error: 'a time of day such as 09:30' });

/** A time of day: an ISO 8601-1:2019 local time in its extended form, `09:30` or `09:30:15`. Never a length of time. */
export const time = defineKind({
  name: 'time',
  about: 'A time of day, as 09:30. Never a length of time: that is the kind `duration`.',
  guide: {
    en: 'A time of day, such as 09:30',
    de: 'Eine Uhrzeit, etwa 09:30',
    fr: 'Une heure, comme 09:30',
    es: 'Una hora, como 09:30',
    it: 'Un’ora, come 09:30',
    nl: 'Een tijdstip, zoals 09:30',
  },
  options: {
    min: Time.optional().describe('The earliest allowed.'),
    max: Time.optional().describe('The latest allowed.'),
  },
  example: { options: { min: '06:00', max: '22:00' }, value: '09:30' },
  mistakes: function* ({ min, max }) {
    if (min !== undefined && max !== undefined && min > max)
      yield {
        option: 'min',
        says: `\`min\` (${min}) is after \`max\` (${max}), so no time could pass`,
        mend: 'Swap them or change one.',
      };
  },
  check:
    ({ min, max }, { languages }) =>
    (value, report) => {
      if (typeof value !== 'string' || !isTime(value)) {
        const isLength =
          typeof value === 'string' &&
          (parseDuration(value) !== undefined || lengthInWords(value, languages) !== undefined);
        return report(isLength ? 'not-a-time:length' : 'not-a-time', {});
      }

      if (min !== undefined && value < min) report('too-early:time', { value, bound: min }, { limit: min });
      if (max !== undefined && value > max) report('too-late:time', { value, bound: max }, { limit: max });
    },
  changed: { min: lowerBound(), max: upperBound() },
  from: {
    text: (value) => {
      const padded = String(value)
        .trim()
        .replace(/^(\d):/u, '0$1:');
      if (isTime(padded)) return { value: padded };
      return { problem: 'it is not written as a time of day' };
    },
    duration: () => ({ problem: 'a length of time is no time of day' }),
  },
  graphql: { name: 'Time', definition: '"""A time of day: 10:30."""\nscalar Time\n' },
  stores: ({ min, max }) => ({
    is: 'text',
    says: 'time of day',
    patterns: [shape.source],
    earliest: min,
    latest: max,
  }),
  cel: 'string',
  gist: ({ min, max }) => range(min, max),
});
