import { count, groupThousands } from '../plain/words.ts';
import type { FieldStatistics } from './fieldStatistics.ts';
import { textsAs } from './readTexts.ts';
import { textOf } from './textDoubts.ts';
import { type Learning, type Value, value } from './value.ts';

/** Truth values, as JSON or as words of a table. */
export const booleansOf = (statistics: FieldStatistics, isTable: boolean): Value =>
  value(
    { kind: 'boolean' },
    'true or false',
    statistics.count - statistics.booleans - (isTable ? statistics.text.booleans : 0),
  );

/** In a table texts stand for numbers. */
export function numbersOf(kind: 'integer' | 'decimal', statistics: FieldStatistics, isTable: boolean): Value {
  const fitting =
    statistics.integers + (kind === 'decimal' ? statistics.decimals : 0) + (isTable ? statistics.text.numbers : 0);
  const least = Math.min(statistics.numbers.least, isTable ? statistics.text.least : Number.POSITIVE_INFINITY);
  const most = Math.max(statistics.numbers.most, isTable ? statistics.text.most : Number.NEGATIVE_INFINITY);
  return value({ kind }, `${groupThousands(least)} to ${groupThousands(most)}`, statistics.count - fitting);
}

/** Numbers as JSON has them. One with a fraction says that others may have one, be they so few that they could be odd. */
export function plainNumbers(statistics: FieldStatistics, isMostlyWhole: boolean, isTable: boolean): Value {
  const integers = numbersOf('integer', statistics, isTable);
  if (statistics.decimals === 0) return integers;
  const decimals = numbersOf('decimal', statistics, isTable);
  const asks = areMistakes(statistics.decimals, 'not whole');
  if (!isMostlyWhole) return decimals;
  return { ...decimals, doubt: { asks, others: [integers] } };
}

/** Texts that are numbers, in a table. Where all have three digits behind the point, that may part thousands. */
export function writtenNumbers(name: string, statistics: FieldStatistics, learning: Learning): Value {
  const numbers = numbersOf(isWhole(statistics) ? 'integer' : 'decimal', statistics, learning.isTable);
  const { thousandths, numbers: total } = statistics.text;
  const other = thousandths === total ? textsAs('text', name, statistics, learning) : undefined;
  if (!other) return numbers;
  return {
    ...numbers,
    doubt: { asks: 'Does the point part thousands there, so that they are no such numbers?', others: [other] },
  };
}

/** Whether all numbers in texts are whole. */
export const isWhole = ({ text }: FieldStatistics): boolean => text.fractions === 0;

/** Values of several forms, of which none is the one of nearly all. */
export function mixed(name: string, statistics: FieldStatistics, learning: Learning): Value {
  const parts = [
    [statistics.texts, 'text'],
    [statistics.integers + statistics.decimals, 'number'],
    [statistics.booleans, 'boolean'],
    [statistics.objects, 'object'],
    [statistics.others, 'list in lists'],
  ] as const;
  const reason = parts.flatMap(([number, part]) => (number > 0 ? [count(number, part)] : [])).join(', ');
  const anything = value({ kind: 'json' }, reason);
  const [most = 0, form] = parts.toSorted(([a], [b]) => b - a)[0] ?? [];
  const usual = 2 * most >= statistics.count ? inForm(form, name, statistics, learning) : undefined;
  const asks = areMistakes(statistics.count - most, 'otherwise');

  if (!usual) return anything;
  return { ...anything, doubt: { asks, others: [usual] } };
}

const areMistakes = (outliers: number, method: string): string => {
  if (outliers === 1) return `Is the one that is ${method} a mistake?`;
  return `Are the ${groupThousands(outliers)} that are ${method} mistakes?`;
};

/** Values that have one form, taken for all. */
function inForm(
  form: string | undefined,
  name: string,
  statistics: FieldStatistics,
  learning: Learning,
): Value | undefined {
  switch (form) {
    case 'text': {
      const { doubt: _, ...texts } = textOf(name, statistics, learning);
      // What a slug is made from cannot be reported of them.
      if (texts.definition.kind !== 'slug') return texts;
      return textsAs('text', name, statistics, learning);
    }
    case 'number':
      return numbersOf(statistics.decimals > 0 ? 'decimal' : 'integer', statistics, learning.isTable);
    case 'boolean':
      return booleansOf(statistics, learning.isTable);
    default:
      return undefined;
  }
}
