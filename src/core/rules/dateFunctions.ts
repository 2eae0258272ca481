import { parseDuration, type Unit, unitNames, writeDuration } from '../plain/duration.ts';
import type { CelFunction } from './celFunction.ts';

const dateParts = {
  YYYY: String.raw`\d{4}`,
  MM: String.raw`\d{2}`,
  DD: String.raw`\d{2}`,
  M: String.raw`\d{1,2}`,
  D: String.raw`\d{1,2}`,
};
const datePart = /YYYY|MM|DD|M|D/gu;

/** A day (RFC 3339) out of a text that is written by a pattern. */
function parseDate(text: string, pattern: string): string {
  const names: string[] = [];
  for (const letter of ['Y', 'M', 'D'])
    if ((pattern.match(datePart) ?? []).filter((part) => part.startsWith(letter)).length > 1)
      throw new Error(`“${pattern}” says one part of a day twice`);

  const shape = pattern.replace(/[.*+?^${}()|[\]\\]/gu, String.raw`\$&`).replace(datePart, (part) => {
    names.push(part.charAt(0));
    return `(${dateParts[part as keyof typeof dateParts]})`;
  });
  const match = new RegExp(`^${shape}$`, 'u').exec(text.trim());
  const partNamed = (letter: string): string => match?.[names.indexOf(letter) + 1] ?? '1';
  const day = `${partNamed('Y').padStart(4, '0')}-${partNamed('M').padStart(2, '0')}-${partNamed('D').padStart(2, '0')}`;
  const date = new Date(`${day}T00:00:00Z`);
  if (!match || Number.isNaN(date.getTime()) || !date.toISOString().startsWith(day))
    throw new Error(`“${text}” is no day written as ${pattern}`);
  return day;
}

function formatDate(day: string, pattern: string): string {
  const [, year = '', month = '', date = ''] = /^(\d{4})-(\d{2})-(\d{2})/u.exec(day) ?? [];
  if (year === '') throw new Error(`“${day}” is no day such as 2026-03-01`);

  const parts: Readonly<Record<string, string>> = {
    YYYY: year,
    MM: month,
    DD: date,
    M: String(Number(month)),
    D: String(Number(date)),
  };

  return pattern.replace(datePart, (part) => parts[part] ?? part);
}

const secondsIn: Readonly<Record<string, number>> = {
  weeks: 604_800,
  days: 86_400,
  hours: 3600,
  minutes: 60,
  seconds: 1,
};

/** A length of time in whole units, rounded down. */
function inUnits(text: string, unit: string): bigint {
  const duration = parseDuration(text);
  if (!duration) throw new Error(`“${text}” is no length of time such as PT1H30M`);
  if (unit === 'months' || unit === 'years') {
    if (duration.seconds !== 0) throw new Error(`“${text}” in ${unit} depends on the calendar`);
    return BigInt(Math.trunc(duration.months / (unit === 'years' ? 12 : 1)));
  }

  const seconds = secondsIn[unit];
  if (seconds === undefined) throw new Error(`“${unit}” is no unit: ${unitNames.join(', ')}`);
  if (duration.months !== 0) throw new Error(`“${text}” in ${unit} depends on the calendar`);
  return BigInt(Math.trunc(duration.seconds / seconds));
}

function durationOf(number: number | bigint, unit: string): string {
  if (!(unitNames as readonly string[]).includes(unit))
    throw new Error(`“${unit}” is no unit: ${unitNames.join(', ')}`);
  return writeDuration(Number(number), unit as Unit);
}

/** The functions about days and lengths of time. */
export const dateFunctions: readonly CelFunction[] = [
  {
    name: 'parseDate',
    call: 'parseDate(text, pattern)',
    about: 'A day as 2026-03-01 out of a text that is written by a pattern of YYYY, MM, DD, M and D.',
    example: ["parseDate('1.3.2026', 'D.M.YYYY')", '2026-03-01'],
    overloads: { 'parseDate(string, string): string': parseDate },
  },
  {
    name: 'formatDate',
    call: 'formatDate(day, pattern)',
    about: 'A day as text, by a pattern of YYYY, MM, DD, M and D.',
    example: ["formatDate('2026-03-01', 'D.M.YYYY')", '1.3.2026'],
    overloads: { 'formatDate(string, string): string': formatDate },
  },
  {
    name: 'inUnits',
    call: 'inUnits(duration, unit)',
    about: 'A length of time in whole units: years, months, weeks, days, hours, minutes or seconds.',
    example: ["inUnits('PT1H30M', 'minutes')", 90],
    overloads: { 'inUnits(string, string): int': inUnits },
  },
  {
    name: 'durationOf',
    call: 'durationOf(number, unit)',
    about: 'A length of time out of a number of units.',
    example: ["durationOf(90, 'minutes')", 'PT90M'],
    overloads: {
      'durationOf(int, string): string': durationOf,
      'durationOf(double, string): string': durationOf,
    },
  },
];
