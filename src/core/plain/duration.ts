/**
 * Lengths of time as ISO 8601-1:2019 durations (section 5.5.2): `P4D`, `PT1H30M`, `P1Y6M`. Kept in two parts that cannot
 * be turned into each other: calendar months, whose days vary, and seconds.
 */
export interface Duration {
  readonly months: number;
  readonly seconds: number;
  readonly units: readonly Unit[];
}

/** Units from the longest to the shortest. */
export const unitNames = ['years', 'months', 'weeks', 'days', 'hours', 'minutes', 'seconds'] as const;
/** A unit of a length of time. */
export type Unit = (typeof unitNames)[number];

const secondsIn: Readonly<Record<Exclude<Unit, 'years' | 'months'>, number>> = {
  weeks: 604_800,
  days: 86_400,
  hours: 3_600,
  minutes: 60,
  seconds: 1,
};
const letters: Readonly<Record<Unit, string>> = {
  years: 'Y',
  months: 'M',
  weeks: 'W',
  days: 'D',
  hours: 'H',
  minutes: 'M',
  seconds: 'S',
};
const isClockUnit = (unit: Unit): boolean => unit === 'hours' || unit === 'minutes' || unit === 'seconds';

const N = '(\\d+(?:[.,]\\d+)?)';
const shape = new RegExp(`^P(?:${N}Y)?(?:${N}M)?(?:${N}W)?(?:${N}D)?(T(?:${N}H)?(?:${N}M)?(?:${N}S)?)?$`, 'u');

/** The pattern of a duration's text, for schemas: it cannot say which numbers may have decimals. */
export const durationShape = `${shape.source.slice(0, -1).replace('^P', '^P(?=\\d|T\\d)')}$`;

/** Reads an ISO 8601 duration; `undefined` where the text is none. Only the last number may have decimals. */
export function parseDuration(text: string): Duration | undefined {
  const match = shape.exec(text);
  if (!match || text === 'P' || match[5] === 'T') return undefined;

  const [, years, months, weeks, days, , hours, minutes, seconds] = match;
  const parts = unitNames.flatMap((unit, index) => {
    const number = [years, months, weeks, days, hours, minutes, seconds][index];
    if (number === undefined) return [];
    return [{ unit, number: Number(number.replace(',', '.')) }];
  });
  if (parts.slice(0, -1).some(({ number }) => !Number.isInteger(number))) return undefined;

  return parts.reduce<Duration>(
    (sum, { unit, number }) => ({
      months: sum.months + number * (monthsIn.get(unit) ?? 0),
      seconds: sum.seconds + (unit === 'years' || unit === 'months' ? 0 : number * secondsIn[unit]),
      units: number === 0 && parts.length > 1 ? sum.units : [...sum.units, unit],
    }),
    { months: 0, seconds: 0, units: [] },
  );
}

/** How many months the units have that are made of months: how many days these have is not always the same. */
const monthsIn: ReadonlyMap<Unit, number> = new Map([
  ['years', 12],
  ['months', 1],
]);

/** The ISO 8601 text of a number of one unit: `PT90M`. */
export const writeDuration = (number: number, unit: Unit): string =>
  `P${isClockUnit(unit) ? 'T' : ''}${number}${letters[unit]}`;

const day = secondsIn.days;

/** The fewest and the most seconds that a duration can be: a month has 28 to 31 days, twelve have 365 or 366. */
function bounds({ months, seconds }: Duration): readonly [least: number, most: number] {
  const [years, rest] = [Math.trunc(months / 12), months % 12];
  return [seconds + (years * 365 + rest * 28) * day, seconds + (years * 366 + rest * 31) * day];
}

/** Which of two durations is longer; `undefined` where that depends on the calendar, as for a month and 30 days. */
export function compareDurations(a: Duration, b: Duration): number | undefined {
  if (a.months === b.months) return a.seconds - b.seconds;
  if (a.seconds === b.seconds) return a.months - b.months;
  const [[leastA, mostA], [leastB, mostB]] = [bounds(a), bounds(b)];
  if (mostA < leastB) return -1;
  if (leastA > mostB) return 1;
  return undefined;
}

/** The duration in words of a language (BCP 47): `1 hour, 30 minutes`, `4 jours`. */
export function sayDuration(text: string, language = 'en'): string {
  const duration = parseDuration(text);
  const match = shape.exec(text);
  if (!duration || !match) return text;

  const [, years, months, weeks, days, , hours, minutes, seconds] = match;
  const parts = unitNames.flatMap((unit, index) => {
    const number = Number([years, months, weeks, days, hours, minutes, seconds][index]?.replace(',', '.') ?? 0);
    if (number === 0) return [];
    return [
      new Intl.NumberFormat(language, { style: 'unit', unit: unit.slice(0, -1), unitDisplay: 'long' }).format(number),
    ];
  });

  return new Intl.ListFormat(language, { type: 'unit', style: 'long' }).format(parts) || '0';
}
