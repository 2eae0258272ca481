import type { Choice, ReadNumber, ReadText, Target, WritingStyle } from './style.ts';

/** A number before a sign for parts of a hundred. */
const shape = /^(.+?)\s*(?:%|٪)$/u;

const isPercent = ({ options: { unit } }: Target): boolean => unit === '%' || unit === 'percent';

function reader(target: Target, readNumber: ReadNumber, divisor: 1 | 100): ReadText | undefined {
  if (isPercent(target) && divisor === 100) return undefined;

  return (text) => {
    const [, digits] = shape.exec(text) ?? [];
    const number = readNumber(digits ?? '');
    if (number === undefined) return undefined;

    return Number((number / divisor).toPrecision(15));
  };
}

/** Whether 45 % is stored as 45 or as 0.45. */
export const percentChoice: Choice = {
  usual: () => 'percent',
};

/** Percentages. */
export const percentStyles: readonly WritingStyle[] = [
  {
    name: 'percent',
    about: 'percentages, kept as the number of hundredths (45 % as 45)',
    says: 'in percent (45 % becomes 45)',
    choice: 'percent',
    kinds: ['decimal', 'integer'],
    reader: (target, readNumber) => reader(target, readNumber, 1),
  },
  {
    name: 'percent-of-one',
    about: 'percentages, kept as a part of one (45 % as 0.45)',
    says: 'in percent (45 % becomes 0.45)',
    choice: 'percent',
    kinds: ['decimal', 'integer'],
    reader: (target, readNumber) => reader(target, readNumber, 100),
  },
];
