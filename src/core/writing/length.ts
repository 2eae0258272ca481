import { type Unit, unitNames, writeDuration } from '../plain/duration.ts';
import { foldWord, perLanguages, withEnglish } from './fold.ts';
import { readPlainNumber } from './numbers.ts';
import type { Choice, ReadNumber, ReadText, Target, WritingStyle } from './style.ts';

/* ── the units of a field ────────────────────────────────────────────────────────────────────────────────────── */

const unitsOf = ({ options: { units } }: Target): readonly Unit[] | undefined => {
  if (!Array.isArray(units)) return undefined;
  return units as readonly Unit[];
};

/** The shortest unit that may be used: what a bare number counts where nothing says otherwise. */
export const smallestUnit = (units: readonly Unit[] | undefined): Unit =>
  unitNames.findLast((unit) => (units ?? ['minutes']).includes(unit)) ?? 'minutes';

const clockUnits = { hours: 3600, minutes: 60, seconds: 1 } as const;
type ClockUnit = keyof typeof clockUnits;
const isClockUnit = (unit: Unit): unit is ClockUnit => unit in clockUnits;

/** An ISO 8601 duration of several units, from the longest to the shortest; of a part that is nought nothing. */
function writeParts(parts: readonly { readonly number: number; readonly unit: Unit }[]): string {
  const [first] = parts;
  const some = parts.filter(({ number }) => number !== 0);
  const chosen = some.length > 0 || !first ? some : [first];
  const [days, hours] = [false, true].map((isClock) =>
    chosen
      .filter(({ unit }) => isClockUnit(unit) === isClock)
      .map(({ number, unit }) => writeDuration(number, unit).replace(/^PT?/u, '')),
  );

  return `P${(days ?? []).join('')}${hours && hours.length > 0 ? `T${hours.join('')}` : ''}`;
}

/** Seconds in the hours, minutes and seconds that a field allows; `undefined` where they do not come out even. */
function writeSeconds(seconds: number, units: readonly Unit[] | undefined): string | undefined {
  const allowed = (['hours', 'minutes', 'seconds'] as const).filter((unit) => units?.includes(unit) ?? true);
  let rest = seconds;
  const parts = allowed.map((unit) => {
    const number = Math.floor(rest / clockUnits[unit]);
    rest -= number * clockUnits[unit];
    return { number, unit };
  });
  if (rest !== 0 || parts.length === 0) return undefined;

  return writeParts(parts);
}

/* ── in words ────────────────────────────────────────────────────────────────────────────────────────────────── */

const shortForms: Readonly<Record<string, Unit>> = {
  y: 'years',
  yr: 'years',
  yrs: 'years',
  w: 'weeks',
  d: 'days',
  h: 'hours',
  hr: 'hours',
  hrs: 'hours',
  m: 'minutes',
  min: 'minutes',
  mins: 'minutes',
  s: 'seconds',
  sec: 'seconds',
  secs: 'seconds',
};

/** The words for units of time in some languages: `tage` for days. */
const unitWords = perLanguages((languages) => {
  const words = new Map<string, Unit>(Object.entries(shortForms));
  for (const language of withEnglish(languages))
    for (const unit of unitNames)
      for (const unitDisplay of ['long', 'short'] as const)
        for (const number of [1, 2, 5, 1.5]) {
          const format = new Intl.NumberFormat(language, { style: 'unit', unit: unit.slice(0, -1), unitDisplay });
          const word = foldWord(format.formatToParts(number).find(({ type }) => type === 'unit')?.value ?? '');
          if (word !== '' && !words.has(word)) words.set(word, unit);
        }

  return words;
});

/** What joins the parts of a length in some languages: `and`, `und`, `et`. */
const jointWords = perLanguages(
  (languages) =>
    new Set(
      withEnglish(languages).map((language) => {
        const parts = new Intl.ListFormat(language, { type: 'conjunction' }).formatToParts(['a', 'b']);
        return foldWord(parts[1]?.value ?? '');
      }),
    ),
);

const numberShape = String.raw`\d[\d.,]*`;
const partShape = new RegExp(String.raw`^(${numberShape})\s*(\p{L}+)\.?\s*`, 'u');

/** The numbers of a text with the words behind them; a last number without a word counts the next smaller unit. */
function partsIn(text: string, words: ReadonlyMap<string, Unit>, joints: ReadonlySet<string>) {
  const parts: { digits: string; unit: Unit }[] = [];
  let rest = text;
  while (rest !== '') {
    const [part = '', digits = '', word = ''] = partShape.exec(rest) ?? [];
    const unit = words.get(foldWord(word));
    const last = parts.at(-1)?.unit;
    if (unit === undefined) {
      const next = last === 'hours' ? 'minutes' : undefined;
      if (next === undefined || !/^[0-5]?\d$/u.test(rest)) return undefined;
      return [...parts, { digits: rest, unit: next as Unit }];
    }
    if (last !== undefined && unitNames.indexOf(unit) <= unitNames.indexOf(last)) return undefined;

    parts.push({ digits, unit });
    rest = rest.slice(part.length).replace(/^,\s*/u, '');
    const [joint = ''] = /^\p{L}+(?=\s)/u.exec(rest) ?? [];
    if (joint !== '' && joints.has(foldWord(joint))) rest = rest.slice(joint.length).trimStart();
  }

  return parts;
}

/** Reads a length of time in words: `4 days`, `1 h 30`, `1,5 Stunden`. */
function wordsReader(
  languages: readonly string[],
  units: readonly Unit[] | undefined,
  readNumber: ReadNumber,
): ReadText {
  return (text) => {
    const parts = partsIn(text.replaceAll(/[\u00a0\u202f]/gu, ' '), unitWords(languages), jointWords(languages));
    const numbers = parts?.map(({ digits, unit }) => ({ number: readNumber(digits) ?? Number.NaN, unit })) ?? [];
    const isWhole = numbers.every(({ number }) => Number.isInteger(number));
    const isBroken = numbers.length === 0 || numbers.some(({ number }) => Number.isNaN(number));
    if (isBroken || (!isWhole && numbers.length > 1)) return undefined;

    const [first] = numbers;
    if (!isWhole && first && isClockUnit(first.unit)) {
      const seconds = first.number * clockUnits[first.unit];
      return (Number.isInteger(seconds) ? writeSeconds(seconds, units) : undefined) ?? writeParts(numbers);
    }
    return writeParts(numbers);
  };
}

/** A length of time in words as an ISO 8601 duration, in some languages and English; `undefined` where a text is none. */
export const lengthInWords = (text: string, languages: readonly string[]): string | undefined =>
  wordsReader(languages, undefined, readPlainNumber)(text.trim()) as string | undefined;

/* ── the styles ──────────────────────────────────────────────────────────────────────────────────────────────── */

const clockShape = /^(\d{1,3}):([0-5]\d)(?::([0-5]\d))?$/u;

const clockLengthReader =
  (units: readonly Unit[] | undefined, first: 'hours' | 'minutes'): ReadText =>
  (text) => {
    const [, firstPart, two, three] = clockShape.exec(text) ?? [];
    if (firstPart === undefined) return undefined;
    const larger = three === undefined ? first : 'hours';
    const smaller = larger === 'hours' ? 'minutes' : 'seconds';
    const seconds = Number(firstPart) * clockUnits[larger] + Number(two) * clockUnits[smaller] + Number(three ?? 0);
    return writeSeconds(seconds, units);
  };

/** Whether 1:30 is an hour and a half, or a minute and a half. */
export const clockLength: Choice = {
  usual: (target) => (unitsOf(target)?.includes('hours') === false ? 'minutes-seconds' : 'hours-minutes'),
};

/** What a number without a unit counts. */
export const bareUnit: Choice = {
  usual: (target) => `bare-${smallestUnit(unitsOf(target))}`,
};

const bareStyles = unitNames.map(
  (unit): WritingStyle => ({
    name: `bare-${unit}`,
    about: `lengths of time as a number of ${unit} (90)`,
    says: `as a number of ${unit}`,
    choice: 'bare-unit',
    kinds: ['duration'],
    reader: (target, readNumber) => {
      const units = unitsOf(target) ?? ['hours', 'minutes', 'seconds'];
      if (!units.includes(unit)) return undefined;
      return (text) => {
        const number = readNumber(text);
        if (number === undefined || number < 0) return undefined;

        return writeDuration(number, unit);
      };
    },
  }),
);

/** Lengths of time in words or with colons. */
export const lengthStyles: readonly WritingStyle[] = [
  {
    name: 'length-words',
    about: 'lengths of time in words of the workspace’s languages (45 min, 1 h 30, 3 Tage)',
    says: 'in words',
    kinds: ['duration'],
    reader: (target, readNumber) => wordsReader(target.languages, unitsOf(target), readNumber),
  },
  {
    name: 'hours-minutes',
    about: 'lengths of time as on a clock, in hours and minutes (1:30)',
    says: 'as hours and minutes',
    choice: 'clock-length',
    kinds: ['duration'],
    reader: (target) => clockLengthReader(unitsOf(target), 'hours'),
  },
  {
    name: 'minutes-seconds',
    about: 'lengths of time as on a clock, in minutes and seconds (1:30)',
    says: 'as minutes and seconds',
    choice: 'clock-length',
    kinds: ['duration'],
    reader: (target) => {
      const hasSeconds = unitsOf(target)?.includes('seconds') ?? true;
      if (!hasSeconds) return undefined;
      return clockLengthReader(unitsOf(target), 'minutes');
    },
  },
  ...bareStyles,
];
