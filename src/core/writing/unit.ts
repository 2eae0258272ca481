import { convert, getMeasureKind, type Unit } from 'convert';
import { foldWord, perLanguages, withEnglish } from './fold.ts';
import type { ReadText, Target, WritingStyle } from './style.ts';

/** A number with the text around it: `6 cm`, `€ 12.50`, `12,– EUR`. */
const shape = /^(\D*?)\s*([+−–-]?\d(?:[\d.,'’ \u00a0\u202f\u2009]*\d)?)(?:[.,][-–—]{1,2})?\s*(\D*)$/u;

/** A whole number, its unit, and hundredths of it: `1 m 20`, `5 € 50`. */
const hundredths = /^(\d+)\s*(m|\p{Sc})\s*(\d{2})$/u;

/** The words for units in some languages, each as the package calls the unit: `zentimeter` as `centimeter`. */
const unitWords = perLanguages((languages) => {
  const words = new Map<string, string>();
  for (const unit of Intl.supportedValuesOf('unit'))
    for (const language of withEnglish(languages))
      for (const unitDisplay of ['long', 'short'] as const) {
        const format = new Intl.NumberFormat(language, { style: 'unit', unit, unitDisplay });
        for (const number of [1, 2, 5, 1.5]) {
          const word = format.formatToParts(number).find(({ type }) => type === 'unit')?.value;
          if (word !== undefined && !words.has(foldWord(word))) words.set(foldWord(word), unit);
        }
      }

  return words;
});

/** The currencies (ISO 4217) that a sign may stand for: `€` for EUR, `$` for many. */
const codesOfSign = perLanguages((languages) => {
  const codes = new Map<string, string[]>();
  for (const code of Intl.supportedValuesOf('currency')) {
    const sign = signsOf(code, languages[0] ?? 'en', ['narrowSymbol'])[0] ?? code;
    codes.set(sign, [...(codes.get(sign) ?? []), code]);
  }

  return codes;
});

type CurrencyDisplay = 'symbol' | 'narrowSymbol' | 'name';

/** What a language writes for a currency, each as it is compared. */
const signsOf = (code: string, language: string, displays: readonly CurrencyDisplay[]): readonly string[] =>
  displays.flatMap((currencyDisplay) => {
    const format = new Intl.NumberFormat(language, { style: 'currency', currency: code, currencyDisplay });
    return [1, 2].flatMap((number) => {
      const sign = format.formatToParts(number).find(({ type }) => type === 'currency')?.value;
      if (sign === undefined) return [];
      return [foldWord(sign)];
    });
  });

/** Every way in which a currency is written in some languages; none where a unit is no currency. */
function currencyWords(unit: string, languages: readonly string[]): ReadonlySet<string> {
  const isCode = Intl.supportedValuesOf('currency').includes(unit);
  const codes = isCode ? [unit] : (codesOfSign(languages).get(foldWord(unit)) ?? []);
  const words = codes.flatMap((code) => [
    foldWord(code),
    ...withEnglish(languages).flatMap((language) => signsOf(code, language, ['symbol', 'narrowSymbol', 'name'])),
  ]);

  return new Set(words);
}

/** A unit as the package calls it; `undefined` where it knows none. */
function knownUnit(word: string, languages: readonly string[]): Unit | undefined {
  const names = [word, word.toLowerCase(), unitWords(languages).get(foldWord(word)) ?? ''];
  const name = names.find((name) => /^\S+$/u.test(name) && typeof getMeasureKind(name as Unit) === 'number');
  return name as Unit | undefined;
}

/** How many of the field's unit are as much as a number of another; `undefined` where the two do not measure the same. */
function converterBetween(
  written: string,
  unit: string,
  languages: readonly string[],
): ((n: number) => number) | undefined {
  const singular = (word: string): string => foldWord(word).replace(/(?<=\p{L}{3})s$/u, '');
  if (written === unit || singular(written) === singular(unit)) return (number) => number;
  if (currencyWords(unit, languages).has(foldWord(written))) return (number) => number;

  const [from, to] = [knownUnit(written, languages), knownUnit(unit, languages)];
  if (from === undefined || to === undefined || getMeasureKind(from) !== getMeasureKind(to)) return undefined;
  // What a factor such as 0.01 adds behind the digits of a number is no part of it.
  return (number) => Number((convert as Converting)(number, from).to(to).toPrecision(12));
}

/** The package's function, which by its types wants to know the units while it is compiled. */
type Converting = (number: number, from: Unit) => { readonly to: (unit: Unit) => number };

/** Splits a text into its number and the word before or behind it. */
function withWord(text: string): { readonly digits: string; readonly word: string } | undefined {
  const [, before = '', digits, behind = ''] = shape.exec(text) ?? [];
  const words = [before, behind].map((word) => word.trim()).filter(Boolean);
  const [word = '', ...rest] = words;
  if (digits === undefined || word === '' || rest.length > 0) return undefined;

  return { digits, word };
}

/** The word that is beside the number of a text; nothing where none does. */
export const wordBeside = (text: string): string | undefined => withWord(text)?.word;

/** The unit that a word names, as a field would name it: the code of a currency, else the word itself; nothing of other words. */
export function unitOfWord(word: string, languages: readonly string[]): string | undefined {
  const codes = codesOfSign(languages).get(foldWord(word)) ?? [];
  if (codes.length > 0) return codes.length === 1 ? codes[0] : word;
  if (Intl.supportedValuesOf('currency').includes(word)) return word;
  if (word === '%' || knownUnit(word, languages) !== undefined) return word;
  return undefined;
}

function unitOf({ kind, options }: Target): string | undefined {
  if (kind !== 'decimal' || typeof options.unit !== 'string') return undefined;

  return options.unit;
}

/** Numbers with the field's unit, or with another unit of the same measure, which is converted. */
export const unit: WritingStyle = {
  name: 'with-unit',
  about: 'numbers with the unit of the field, or another of the same measure (6 cm, 0.06 m, € 12)',
  says: 'with their unit',
  kinds: ['decimal'],
  reader: (target, readNumber): ReadText | undefined => {
    const unit = unitOf(target);
    if (unit === undefined) return undefined;

    const converters = new Map<string, ((n: number) => number) | undefined>();

    const inWanted = (number: number | undefined, word: string): number | undefined => {
      if (!converters.has(word)) converters.set(word, converterBetween(word, unit, target.languages));
      if (number === undefined) return undefined;

      return converters.get(word)?.(number);
    };

    return (text) => {
      const [, match, sign = '', rest] = hundredths.exec(text) ?? [];
      if (match !== undefined) return inWanted(Number(`${match}.${rest}`), sign);
      const parts = withWord(text);
      return parts && inWanted(readNumber(parts.digits), parts.word);
    };
  },
};

/** Numbers with a word that the field has no place for: `48 pages`. */
export const wordAfter: WritingStyle = {
  name: 'with-word',
  about: 'numbers with one word beside them, which is dropped (48 pages)',
  says: 'with a word beside the number',
  asks: () => 'May the word beside each number be dropped?',
  kinds: ['decimal', 'integer'],
  reader: (target, readNumber) => {
    if (unitOf(target) !== undefined) return undefined;
    return (text) => {
      const parts = withWord(text);
      if (!parts || !/^[\p{L}.€$£¥]+$/u.test(parts.word)) return undefined;

      return readNumber(parts.digits);
    };
  },
};
