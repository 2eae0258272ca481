import { sayDuration } from '../plain/duration.ts';
import type { Json } from '../plain/json.ts';
import { list, quote } from '../plain/words.ts';
import { type Bound, inAll, shapes } from './wordParts.ts';

/** The words of findings about numbers, truth values, times and places. */
export const numberWords = {
  /* ── numbers and truth values ── */
  'wrong-shape:boolean': () => ({
    says: 'is neither true nor false',
    mend: 'Write `true` or `false`, without quotes.',
  }),
  'wrong-shape:number': ({ wanted: expected }: { wanted: 'number' | 'integer' }) => ({
    says: `is not ${shapes[expected][0]}`,
    mend: shapes[expected][1],
  }),
  'number-in-quotes': ({ value }: { value: string }) => ({
    says: `is the text “${value}”, not a number`,
    mend: `Remove the quotes: ${Number(value)}`,
  }),
  'not-whole': ({ value }: { value: number }) => ({
    says: `is ${value}, not a whole number`,
    mend: 'Round it, or give the field the kind `decimal`.',
  }),
  'too-many-places': ({ value, places, bound }: { value: number; places: number; bound: number }) => ({
    says: `is ${value}, with ${places} decimal places, at most ${bound} are allowed`,
    mend: 'Round it.',
  }),
  'too-small': ({ value, bound }: Bound) => ({
    says: `is ${value}, at least ${bound} is needed`,
    mend: `Give ${bound} or more.`,
  }),
  'too-large': ({ value, bound }: Bound) => ({
    says: `is ${value}, at most ${bound} is allowed`,
    mend: `Give ${bound} or less.`,
  }),

  /* ── days, times, lengths of time ── */
  'not-a-date': () => ({ says: 'is no day of the calendar', mend: 'Write it as year, month and day: 2026-03-01.' }),
  'too-early': ({ value, bound }: Bound) => ({
    says: `is ${value}, the earliest is ${bound}`,
    mend: `Give ${bound} or later.`,
  }),
  'too-late': ({ value, bound }: Bound) => ({
    says: `is ${value}, the latest is ${bound}`,
    mend: `Give ${bound} or earlier.`,
  }),
  'too-early:day': ({ value, bound }: Bound) => ({
    says: `is ${value}, the earliest day is ${bound}`,
    mend: `Give ${bound} or a later day.`,
  }),
  'too-late:day': ({ value, bound }: Bound) => ({
    says: `is ${value}, the latest day is ${bound}`,
    mend: `Give ${bound} or an earlier day.`,
  }),
  'too-early:time': ({ value, bound }: Bound) => ({
    says: `is ${value}, the earliest time is ${bound}`,
    mend: `Give ${bound} or a later time.`,
  }),
  'too-late:time': ({ value, bound }: Bound) => ({
    says: `is ${value}, the latest time is ${bound}`,
    mend: `Give ${bound} or an earlier time.`,
  }),
  'not-a-time': () => ({ says: 'is no time of day', mend: 'Write it with two digits each: 09:30.' }),
  'not-a-time:length': () => ({
    says: 'is a length of time, and a time of day belongs here',
    mend: 'Write the time as 09:30, or give the field the kind `duration`.',
  }),
  'not-a-date-time': ({ isLocal }: { isLocal: boolean }) => ({
    says: 'is no day with a time',
    mend: `Write it as 2026-03-01T09:30:00${isLocal ? '' : 'Z'}.`,
  }),
  offset: ({ value }: { value: string }) => ({
    says: 'does not say how far from UTC it is',
    mend: `Add Z for UTC, or an offset: ${value}+01:00`,
  }),
  'offset:unwanted': ({ offset, local }: { offset: string; local: string }) => ({
    says: `says an offset (${offset}), and a local time belongs here`,
    mend: `Write ${local}`,
  }),
  'not-a-duration': ({ value, meant: typed }: { value: Json; meant: readonly string[] }) => ({
    says: `is ${quote(value)}, no length of time`,
    mend:
      typed.length > 0
        ? `Probably ${list(
            typed.map((text) => `${text} (${sayDuration(text)})`),
            'or',
          )} is meant.`
        : 'Write it as ISO 8601 says: PT1H30M for an hour and a half, P4D for four days.',
  }),
  'unit-not-allowed': ({ units, allowed }: { units: readonly string[]; allowed: readonly string[] }) => ({
    says: `counts ${list(units)}, and only ${list(allowed, 'and')} may be used`,
    mend: `Write it in ${list(allowed, 'or')}.`,
  }),
  'not-comparable:least': ({ value, bound }: { value: string; bound: string }) => ({
    says: `is ${sayDuration(value)}, and whether that is less than ${sayDuration(bound)} depends on the calendar`,
    mend: inAll,
  }),
  'not-comparable:most': ({ value, bound }: { value: string; bound: string }) => ({
    says: `is ${sayDuration(value)}, and whether that is more than ${sayDuration(bound)} depends on the calendar`,
    mend: inAll,
  }),
  'too-small:duration': ({ value, bound }: { value: string; bound: string }) => ({
    says: `is ${sayDuration(value)}, at least ${sayDuration(bound)} are needed`,
    mend: `Give ${bound} or more.`,
  }),
  'too-large:duration': ({ value, bound }: { value: string; bound: string }) => ({
    says: `is ${sayDuration(value)}, at most ${sayDuration(bound)} are allowed`,
    mend: `Give ${bound} or less.`,
  }),

  /* ── places ── */
  'not-a-point': () => ({ says: 'is no place', mend: 'Write both by name: { lat: 57.1, lon: -6.3 }' }),
  'not-a-point:pair': () => ({
    says: 'is two numbers, and nobody can tell which is which',
    mend: 'Write both by name: { lat: 57.1, lon: -6.3 }',
  }),
  'not-a-point:missing': ({ name }: { name: string }) => ({
    says: `has no number \`${name}\``,
    mend: 'Write both by name: { lat: 57.1, lon: -6.3 }',
  }),
  'not-a-point:outside': ({ name, degrees, most }: { name: string; degrees: number; most: number }) => ({
    says: `has \`${name}\` ${degrees}, and the earth ends at ${most}`,
    mend: 'Are the two the wrong way round?',
  }),
  'not-a-point:key': ({ key }: { key: string }) => ({
    says: `has a key \`${key}\``,
    mend: 'Keep `lat` and `lon` alone.',
  }),
};
