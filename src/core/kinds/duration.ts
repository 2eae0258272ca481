import { z } from 'zod';
import {
  compareDurations,
  type Duration,
  durationShape,
  parseDuration,
  sayDuration,
  type Unit,
  unitNames,
  writeDuration,
} from '../plain/duration.ts';
import { compact, isList, type Json, type JsonObject } from '../plain/json.ts';
import { list, range } from '../plain/words.ts';
import { lengthInWords, smallestUnit } from '../writing/length.ts';
import { readingsFor } from '../writing/readings.ts';
import { allowed, lowerBound, type Measure, upperBound } from './compatibility.ts';
import { defineKind } from './define.ts';
import type { Converted, ModelContext, Report } from './kindParts.ts';

const Iso = z
  .string()
  .refine((text) => parseDuration(text) !== undefined, { error: 'an ISO 8601 duration such as PT1H30M or P4D' });

/** A length of time: an ISO 8601-1:2019 duration such as `P4D` or `PT1H30M`. Never a time of day. */
export const duration = defineKind({
  name: 'duration',
  about: 'A length of time, as PT1H30M or P4D. Never a time of day: that is the kind `time`.',
  guide: {
    en: 'A length of time, such as PT1H30M',
    de: 'Eine Dauer, etwa PT1H30M',
    fr: 'Une durée, comme PT1H30M',
    es: 'Una duración, como PT1H30M',
    it: 'Una durata, come PT1H30M',
    nl: 'Een tijdsduur, zoals PT1H30M',
  },
  options: {
    units: z
      .array(z.enum(unitNames))
      .min(1)
      .optional()
      .describe('The units that may be used, such as [hours, minutes].'),
    min: Iso.optional().describe('The shortest allowed.'),
    max: Iso.optional().describe('The longest allowed.'),
  },
  example: { options: { units: ['hours', 'minutes'], min: 'PT15M', max: 'PT8H' }, value: 'PT1H30M' },
  mistakes: function* ({ units, min, max }) {
    for (const [option, bound] of [
      ['min', min],
      ['max', max],
    ] as const) {
      const wrong = bound === undefined ? [] : unitsBeside(bound, units);
      if (wrong.length > 0)
        yield {
          option,
          says: `\`${option}\` counts ${list(wrong)}, and \`units\` does not allow that`,
          mend: `Write it in ${list(units ?? [], 'or')}.`,
        };
    }

    if (min === undefined || max === undefined) return;

    const order = compare(min, max);
    if (order === undefined)
      yield {
        option: 'min',
        says: `whether \`min\` (${min}) is less than \`max\` (${max}) depends on the calendar`,
        mend: 'Write both in months and years, or both in shorter units.',
      };
    else if (order > 0)
      yield {
        option: 'min',
        says: `\`min\` (${min}) is longer than \`max\` (${max}), so no length could pass`,
        mend: 'Swap them or change one.',
      };
  },
  check:
    (limits, { languages }) =>
    (value, report) => {
      if (typeof value === 'string' && parseDuration(value) !== undefined) return checkLimits(value, limits, report);
      report('not-a-duration', { value, meant: possibleLengths(value, limits, languages) });
    },
  changed: {
    units: allowed(String),
    min: lowerBound(length('shorter', 'the shortest', 'smallest'), compareAny),
    max: upperBound(length('longer', 'the longest', 'largest'), compareAny),
  },
  from: {
    integer: (value, { units }) => ({ value: writeDuration(Number(value), smallestUnit(units)) }),
    text: fromText,
    longText: fromText,
    time: () => ({ problem: 'a time of day is no length of time' }),
  },
  graphql: { name: 'Duration', definition: '"""A length of time (ISO 8601): PT1H30M."""\nscalar Duration\n' },
  stores: ({ min, max }) => ({
    is: 'text',
    says: 'length of time',
    patterns: [durationShape],
    earliest: min,
    latest: max,
  }),
  cel: 'string',
  glance: 0.5,
  say: (value, language) => (typeof value === 'string' ? sayDuration(value, language) : undefined),
  gist: ({ units, min, max }) => [range(min, max), units?.join(', ')].filter(Boolean).join(', '),
});

const unitsBeside = (text: string, units: readonly Unit[] | undefined): readonly Unit[] => {
  if (units === undefined) return [];
  return (parseDuration(text)?.units ?? []).filter((unit) => !units.includes(unit));
};

function compare(a: string, b: string): number | undefined {
  const [first, right] = [parseDuration(a), parseDuration(b)];
  if (first && right) return compareDurations(first, right);
  return undefined;
}

function compareAny(a: Json, b: Json): number {
  return compare(String(a), String(b)) ?? 0;
}

function checkBound(value: string, bound: string, finding: 'too-small' | 'too-large', report: Report): void {
  const order = compare(value, bound);
  const isLeast = finding === 'too-small';
  if (order === undefined)
    report(isLeast ? 'not-comparable:least' : 'not-comparable:most', { value, bound }, { limit: bound });
  else if (isLeast ? order < 0 : order > 0)
    report(isLeast ? 'too-small:duration' : 'too-large:duration', { value, bound }, { limit: bound });
}

interface Limits {
  readonly units?: readonly Unit[] | undefined;
  readonly min?: string | undefined;
  readonly max?: string | undefined;
}

/** Checks a length of time against the units and the bounds of its field. */
function checkLimits(value: string, { units, min, max }: Limits, report: Report): void {
  const wrong = unitsBeside(value, units);
  if (wrong.length > 0) {
    report('unit-not-allowed', { units: wrong, allowed: units ?? [] }, { limit: [...(units ?? [])] });
    return;
  }

  if (min !== undefined) checkBound(value, min, 'too-small', report);
  if (max !== undefined) checkBound(value, max, 'too-large', report);
}

/** The lengths of time that a number, a time of day or words may mean, as far as the field takes them. */
function possibleLengths(value: Json, limits: Limits, languages: readonly string[]): readonly string[] {
  const passes = (length: Json): boolean => {
    let isFine = true;
    checkLimits(String(length), limits, () => {
      isFine = false;
    });
    return isFine;
  };

  const target = { kind: 'duration', options: compact({ ...limits }) as JsonObject, languages };
  const readings = readingsFor(target, { ownReading: () => undefined, passes })(String(value));

  return readings.map((reading) => String(reading.value)).filter(passes);
}

function fromText(value: Json, limits: Limits, { languages }: ModelContext): Converted {
  const text = String(value).trim();
  if (parseDuration(text)) return { value: text };

  const words = lengthInWords(text, languages);
  if (words !== undefined) return { value: words };
  if (/^\d+$/u.test(text)) return { value: writeDuration(Number(text), smallestUnit(limits.units)) };

  const lengths = possibleLengths(value, limits, languages);

  return {
    problem:
      lengths.length > 0
        ? `it is written as a time of day; perhaps ${list(lengths, 'or')}`
        : 'it is not clear how long that is',
  };
}

function length(beyond: string, extreme: string, worst: Measure['worst']): Measure {
  return {
    of: (value) => {
      const parsed: Duration | undefined = typeof value === 'string' ? parseDuration(value) : undefined;
      // A month counts as 30.4375 days here: enough to find the worst, never to decide what passes.
      if (isList(value) || !parsed) return undefined;
      return parsed.seconds + parsed.months * 2_629_800;
    },
    beyond,
    extreme,
    has: (seconds) =>
      `has about ${sayDuration(seconds % 3600 === 0 ? `PT${seconds / 3600}H` : `PT${Math.round(seconds / 60)}M`)}`,
    worst,
  };
}
