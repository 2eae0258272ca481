import { isDay } from '../plain/calendar.ts';
import { foldWord, perLanguages, withEnglish } from './fold.ts';
import type { Choice, ReadText, Target, WritingStyle } from './style.ts';

/** A day as RFC 3339 writes it; `undefined` where the calendar has none. */
function dayOf(year: string, month: number | string, day: string): string | undefined {
  const text = `${year.padStart(4, '0')}-${String(month).padStart(2, '0')}-${day.padStart(2, '0')}`;
  if (!isDay(text)) return undefined;

  return text;
}

/** A year of two digits as POSIX reads it (strptime, %y): 69 to 99 in the 20th century, 00 to 68 in the 21st. */
const wholeYear = (year: string): string => `${Number(year) < 69 ? '20' : '19'}${year}`;

/* ── days in digits ──────────────────────────────────────────────────────────────────────────────────────────── */

const digits = /^(\d{1,2})(\.\s?|[/-])(\d{1,2})\2(\d{4}|\d{2})\.?$/u;

/** @param isShort whether years have two digits. */
const digitsReader =
  (order: 'day-first' | 'month-first', isShort: boolean): ReadText =>
  (text) => {
    const [, first = '', , second = '', year = ''] = digits.exec(text) ?? [];
    if (year.length !== (isShort ? 2 : 4)) return undefined;
    const [day, month] = order === 'day-first' ? [first, second] : [second, first];
    return dayOf(isShort ? wholeYear(year) : year, month, day);
  };

/** Whether days stand before or after their months, as the main language has it. */
export const dayOrder: Choice = {
  usual: ({ languages: [main = 'en'] }) => {
    const parts = new Intl.DateTimeFormat(main, { dateStyle: 'short' }).formatToParts(0);
    const [first] = parts.filter(({ type }) => type === 'day' || type === 'month');
    if (first?.type === 'month') return 'month-first';

    return 'day-first';
  },
};

const shortYears = 'Do years of two digits lie between 1969 and 2068?';

/** Days in digits. */
export const digitStyles: readonly WritingStyle[] = [
  {
    name: 'day-first',
    about: 'days in digits, the day before the month (8.10.2014, 8/10/2014)',
    says: 'day before month',
    choice: 'day-order',
    kinds: ['date'],
    reader: () => digitsReader('day-first', false),
  },
  {
    name: 'month-first',
    about: 'days in digits, the month before the day (10/8/2014)',
    says: 'month before day',
    choice: 'day-order',
    kinds: ['date'],
    reader: () => digitsReader('month-first', false),
  },
  {
    name: 'day-first-short-year',
    about: 'days in digits with a year of two digits, the day before the month (8.10.14)',
    says: 'day before month, with a year of two digits',
    choice: 'day-order',
    asks: () => shortYears,
    kinds: ['date'],
    reader: () => digitsReader('day-first', true),
  },
  {
    name: 'month-first-short-year',
    about: 'days in digits with a year of two digits, the month before the day (10/8/14)',
    says: 'month before day, with a year of two digits',
    choice: 'day-order',
    asks: () => shortYears,
    kinds: ['date'],
    reader: () => digitsReader('month-first', true),
  },
  {
    name: 'year-first',
    about: 'days in digits, the year before the month (2014/10/8, 2014.10.08, 20141008)',
    says: 'year before month',
    kinds: ['date'],
    reader: () => (text) => {
      const shape = /^(\d{4})([./-])(\d{1,2})\2(\d{1,2})\.?$/u.exec(text);
      const [, year = '', , month = '', day = ''] = shape ?? /^(\d{4})()(\d{2})(\d{2})$/u.exec(text) ?? [];
      return dayOf(year, month, day);
    },
  },
];

/* ── days with the name of the month ─────────────────────────────────────────────────────────────────────────── */

/** The names of the months in some languages, with their numbers: `octobre` and `oct` for 10. */
const monthNames = perLanguages((languages) => {
  const names = new Map<string, number>();
  for (const language of withEnglish(languages))
    for (const options of [
      { month: 'long' },
      { month: 'short' },
      { month: 'long', day: 'numeric' },
      { month: 'short', day: 'numeric' },
    ] as const)
      for (let month = 1; month <= 12; month += 1) {
        const parts = new Intl.DateTimeFormat(language, { ...options, timeZone: 'UTC' }).formatToParts(
          Date.UTC(2001, month - 1, 15),
        );
        const name = parts.find(({ type }) => type === 'month')?.value;
        if (name !== undefined) names.set(foldWord(name), month);
      }

  return names;
});

/** The month that a word names, in full or cut off where only one begins so: `Sept`. */
function monthOf(word: string, names: ReadonlyMap<string, number>): number | undefined {
  const folded = foldWord(word);
  const existing = names.get(folded);
  if (existing !== undefined || folded.length < 3) return existing;

  const months = new Set([...names].filter(([name]) => name.startsWith(folded)).map(([, month]) => month));
  if (months.size !== 1) return undefined;

  return [...months][0];
}

const dayThenMonth =
  /^(\d{1,2})(?:\.|st|nd|rd|th|er|re|e|º|ª)?(?:\s+|-)(?:de\s+|of\s+|d[’'])?(\p{L}+)\.?,?(?:\s+|-)(?:de\s+)?(\d{4}|[’']?\d{2})$/iu;
const monthThenDay = /^(\p{L}+)\.?\s+(\d{1,2})(?:st|nd|rd|th)?,?\s+(\d{4}|[’']?\d{2})$/iu;
/** The name of a day of the week in front: `Wed, `, `mercredi `. */
const weekday = /^\p{L}{2,12}\.?,?\s+(?=\d|\p{L}+\.?\s+\d)/u;

function namedMonthReader({ languages }: Target, isShort: boolean): ReadText {
  return (text) => {
    const names = monthNames(languages);
    const read = (text: string): string | undefined => {
      const [, day, month, year] = dayThenMonth.exec(text) ?? [];
      const [, otherMonth, otherDay, otherYear] = monthThenDay.exec(text) ?? [];
      const written = (year ?? otherYear ?? '').replace(/^[’']/u, '');
      const number = monthOf(month ?? otherMonth ?? '', names);
      if (number === undefined || written.length !== (isShort ? 2 : 4)) return undefined;
      return dayOf(isShort ? wholeYear(written) : written, number, day ?? otherDay ?? '');
    };

    return read(text) ?? read(text.replace(weekday, ''));
  };
}

/** Days with the name of the month. */
export const namedMonthStyles: readonly WritingStyle[] = [
  {
    name: 'month-names',
    about: 'days with the name of the month (8 octobre 2014, Oct 8, 2014)',
    says: 'with the name of the month',
    kinds: ['date'],
    reader: (target) => namedMonthReader(target, false),
  },
  {
    name: 'month-names-short-year',
    about: 'days with the name of the month and a year of two digits (8 Oct 14)',
    says: 'with the name of the month and a year of two digits',
    asks: () => shortYears,
    kinds: ['date'],
    reader: (target) => namedMonthReader(target, true),
  },
];
