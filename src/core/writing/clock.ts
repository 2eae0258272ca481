import { foldWord, perLanguages, withEnglish } from './fold.ts';
import type { ReadText, WritingStyle } from './style.ts';

const shape = /^(\d{1,2})(?:\s?[:.h]\s?(\d{2})(?:[:.](\d{2}))?)?\s*([\p{L}.’' \u202f\u00a0]*)$/iu;

/** The words after a time in some languages: the halves of the day, and the words for an hour. */
const wordsBehind = perLanguages((languages) => {
  const words = new Map<string, 'am' | 'pm' | 'hour'>([
    ['am', 'am'],
    ['pm', 'pm'],
    ['h', 'hour'],
    ["o'clock", 'hour'],
    ['o’clock', 'hour'],
    ['uhr', 'hour'],
    ['hrs', 'hour'],
  ]);
  for (const language of withEnglish(languages))
    for (const [hour, half] of [
      [9, 'am'],
      [21, 'pm'],
    ] as const) {
      const format = new Intl.DateTimeFormat(language, { hour: 'numeric', hour12: true, timeZone: 'UTC' });
      const parts = format.formatToParts(Date.UTC(2001, 0, 1, hour));
      const word = parts.find(({ type }) => type === 'dayPeriod')?.value;
      if (word !== undefined) words.set(plainHalf(word), half);
    }

  return words;
});

/** `a. m.` and `A.M.` as `am`. */
const plainHalf = (word: string): string => foldWord(word).replace(/[.\s\u00a0\u202f]/gu, '');

const two = (number: number | string): string => String(number).padStart(2, '0');

/** Reads times of the day; of a bare number only where a word behind it says that it is an hour. */
export function clockReader(languages: readonly string[]): ReadText {
  return (text) => {
    const [, hours = '', minutes, seconds, behind = ''] = shape.exec(text) ?? [];
    const word = behind.trim() === '' ? undefined : wordsBehind(languages).get(plainHalf(behind));
    const isUnknown = behind.trim() !== '' && word === undefined;
    if (hours === '' || isUnknown || (minutes === undefined && word === undefined)) return undefined;

    const isHalf = word === 'am' || word === 'pm';
    if (isHalf && (Number(hours) < 1 || Number(hours) > 12)) return undefined;

    const hour = isHalf ? (Number(hours) % 12) + (word === 'pm' ? 12 : 0) : Number(hours);
    if (hour > 23 || Number(minutes ?? 0) > 59 || Number(seconds ?? 0) > 59) return undefined;
    return `${two(hour)}:${minutes ?? '00'}${seconds === undefined ? '' : `:${seconds}`}`;
  };
}

/** Times of the day as people write them: `9.30`, `9 pm`, `9h30`, `21 Uhr`. */
export const clock: WritingStyle = {
  name: 'clock',
  about: 'times of the day (9.30, 9 pm, 9h30, 21 Uhr)',
  says: 'as 9.30, 9 pm or 21 h',
  kinds: ['time'],
  reader: ({ languages }) => clockReader(languages),
};
