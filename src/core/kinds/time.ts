import { z } from 'zod';
import { range } from '../plain/words.ts';
import { lowerBound, upperBound } from './compatibility.ts';
import { defineKind } from './define.ts';
import { durationInWords, parseDuration } from './durations.ts';

const shape = /^(?:[01]\d|2[0-3]):[0-5]\d(?::[0-5]\d)?$/u;
const isTime = (text: string): boolean => shape.test(text);
const Time = z.string().refine(isTime, { error: 'a time of day such as 09:30' });

/** A time of day: an ISO 8601-1:2019 local time in its extended form, `09:30` or `09:30:15`. Never a length of time. */
export const time = defineKind({
  name: 'time',
  about: 'A time of day, as 09:30. Never a length of time: that is the kind `duration`.',
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
    ({ min, max }) =>
    (value, report) => {
      if (typeof value !== 'string' || !isTime(value)) {
        const isLength =
          typeof value === 'string' && (parseDuration(value) !== undefined || durationInWords(value) !== undefined);
        return report('not-a-time', {
          says: isLength ? 'is a length of time, and a time of day belongs here' : 'is no time of day',
          mend: isLength
            ? 'Write the time as 09:30, or give the field the kind `duration`.'
            : 'Write it with two digits each: 09:30.',
        });
      }
      if (min !== undefined && value < min)
        report('too-early', {
          says: `is ${value}, the earliest time is ${min}`,
          limit: min,
          mend: `Give ${min} or a later time.`,
        });
      if (max !== undefined && value > max)
        report('too-late', {
          says: `is ${value}, the latest time is ${max}`,
          limit: max,
          mend: `Give ${max} or an earlier time.`,
        });
    },
  changed: { min: lowerBound(), max: upperBound() },
  from: {
    text: (value) => {
      const padded = String(value)
        .trim()
        .replace(/^(\d):/u, '0$1:');
      return isTime(padded) ? { value: padded } : { lost: 'it is not written as a time of day' };
    },
    duration: () => ({ lost: 'a length of time is no time of day' }),
  },
  jsonSchema: () => ({ type: 'string', pattern: shape.source }),
  cel: 'string',
  gist: ({ min, max }) => range(min, max),
});
