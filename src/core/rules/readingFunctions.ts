import { sayStyle, styleNames } from '../writing/index.ts';
import { readerBy } from '../writing/readings.ts';
import type { CelFunction } from './celFunction.ts';

/** Anyone who reads a text by a function takes its content: no field limits it. */
const anyValue = { ownReading: () => undefined, passes: () => true };

/** Reads a text by one style as a value of a kind. @throws {Error} where there is no such style, or the text is not written so. */
function readAs(
  kind: string,
  text: string,
  style: string,
  { unit, language = 'en' }: { unit?: string; language?: string } = {},
) {
  if (!styleNames.includes(style)) throw new Error(`“${style}” is no way of writing: ${styleNames.join(', ')}`);
  const target = { kind, options: unit === undefined ? { offset: 'none' } : { unit }, languages: [language] };
  const styles = unit === undefined ? [style] : [style, 'with-unit'];
  const value = readerBy(styles, target, anyValue)(text);
  if (value === undefined) throw new Error(`“${text}” is not written ${sayStyle(style)}`);
  return value;
}

/** The functions that read texts as people write them: by the same styles as conversions. */
export const readingFunctions: readonly CelFunction[] = [
  {
    name: 'readNumber',
    call: 'readNumber(text, style), readNumber(text, style, unit)',
    about:
      'A number out of a text by a way of writing: decimal-comma, decimal-point, percent, percent-of-one, fraction, with-unit; with a third argument in that unit.',
    example: ["readNumber('1.234,50', 'decimal-comma')", 1234.5],
    overloads: {
      'readNumber(string, string): double': (text: string, style: string) => readAs('decimal', text, style),
      'readNumber(string, string, string): double': (text: string, style: string, unit: string) =>
        readAs('decimal', text, style, { unit }),
    },
  },
  {
    name: 'readDay',
    call: 'readDay(text, style), readDay(text, style, language)',
    about:
      'A day as 2014-10-08 out of a text by a way of writing: day-first, month-first, year-first, month-names (in a language).',
    example: ["readDay('8 octobre 2014', 'month-names', 'fr')", '2014-10-08'],
    overloads: {
      'readDay(string, string): string': (text: string, style: string) => readAs('date', text, style),
      'readDay(string, string, string): string': (text: string, style: string, language: string) =>
        readAs('date', text, style, { language }),
    },
  },
  {
    name: 'readTime',
    call: 'readTime(text), readTime(text, language)',
    about: 'A time of day as 21:30 out of a text such as 9.30 pm.',
    example: ["readTime('9.30 pm')", '21:30'],
    overloads: {
      'readTime(string): string': (text: string) => readAs('time', text, 'clock'),
      'readTime(string, string): string': (text: string, language: string) =>
        readAs('time', text, 'clock', { language }),
    },
  },
  {
    name: 'readDuration',
    call: 'readDuration(text, style), readDuration(text, style, language)',
    about:
      'A length of time as PT1H30M out of a text by a way of writing: length-words (in a language), hours-minutes, minutes-seconds, bare-minutes.',
    example: ["readDuration('1 h 30', 'length-words')", 'PT1H30M'],
    overloads: {
      'readDuration(string, string): string': (text: string, style: string) => readAs('duration', text, style),
      'readDuration(string, string, string): string': (text: string, style: string, language: string) =>
        readAs('duration', text, style, { language }),
    },
  },
];
