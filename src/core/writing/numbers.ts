import type { Choice, ReadNumber, WritingStyle } from './style.ts';

/** Blanks and apostrophes that part groups of three digits, beside the mark of the other style. */
const groupMarks = " '’\u00a0\u202f\u2009";

/** The most significant digits that a JSON number keeps. */
const mostDigits = 15;

/** The pattern of a number: digits, perhaps in groups of three with the same mark between, perhaps with decimals. */
const shapeWith = (decimal: string, group: string): RegExp =>
  new RegExp(
    `^[+-]?(?:0|[1-9]\\d{0,2}(?:([${group}${groupMarks}])\\d{3}(?:\\1\\d{3})*)?|[1-9]\\d*)(?:[${decimal}]\\d+)?$`,
    'u',
  );

function numberReader(decimal: string, group: string): ReadNumber {
  const shape = shapeWith(decimal, group);
  const otherMarks = new RegExp(`[${group}${groupMarks}]`, 'gu');

  return (text) => {
    const signed = text.replace(/^[−–]/u, '-');
    if (!shape.test(signed)) return undefined;
    const plain = signed.replace(otherMarks, '').replace(decimal, '.');
    if (plain.replace(/\D/gu, '').length > mostDigits) return undefined;

    return Number(plain);
  };
}

/** Reads numbers as JSON writes them, without an exponent and without zeros in front, which codes have. */
export const readPlainNumber: ReadNumber = (text) => {
  const isPlain = /^[+-]?(?:0|[1-9]\d*)(?:\.\d+)?$/u.test(text);
  if (!isPlain || text.replace(/\D/gu, '').length > mostDigits) return undefined;

  return Number(text);
};

/** How numbers are read whose style says a decimal mark. */
export const numberReaders: ReadonlyMap<string, ReadNumber> = new Map([
  ['decimal-point', numberReader('.', ',')],
  ['decimal-comma', numberReader(',', '.')],
]);

/** Which of the two marks is intended, as the main language has it. */
export const decimalMark: Choice = {
  usual: ({ languages: [main = 'en'] }) => {
    const parts = new Intl.NumberFormat(main).formatToParts(1.5);
    const hasComma = parts.some(({ type, value }) => type === 'decimal' && value === ',');

    if (hasComma) return 'decimal-comma';
    return 'decimal-point';
  },
};

/** Numbers with one of the two decimal marks, and their thousands perhaps in groups. */
export const numberStyles: readonly WritingStyle[] = [
  {
    name: 'decimal-point',
    about: 'numbers with a decimal point, thousands in groups (1,234.5 or 1 234.5)',
    says: 'with a decimal point',
    choice: 'decimal-mark',
    kinds: ['decimal', 'integer'],
    reader: () => numberReaders.get('decimal-point'),
  },
  {
    name: 'decimal-comma',
    about: 'numbers with a decimal comma, thousands in groups (1.234,5 or 1 234,5)',
    says: 'with a decimal comma',
    choice: 'decimal-mark',
    kinds: ['decimal', 'integer'],
    reader: () => numberReaders.get('decimal-comma'),
  },
];
