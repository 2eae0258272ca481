import type { Json } from '../plain/json.ts';
import { range } from '../plain/words.ts';
import { lowerBound, type Measure, upperBound } from './compatibility.ts';
import type { OptionMistake, Report } from './define.ts';

/** What the kinds that hold a number share. */
interface Bounds {
  readonly min?: number | undefined;
  readonly max?: number | undefined;
}

export function* boundMistakes({ min, max }: Bounds): Iterable<OptionMistake> {
  if (min !== undefined && max !== undefined && min > max)
    yield {
      option: 'min',
      says: `\`min\` (${min}) is more than \`max\` (${max}), so no number could pass`,
      mend: 'Swap them or change one.',
    };
}

export function checkBounds(value: number, { min, max }: Bounds, report: Report): void {
  if (min !== undefined && value < min) report('too-small', { value, bound: min }, { limit: min });
  if (max !== undefined && value > max) report('too-large', { value, bound: max }, { limit: max });
}

/** Says what a value that is no number was probably meant to be. */
export function notANumber(value: Json, wanted: 'number' | 'integer', report: Report): void {
  const isQuoted = typeof value === 'string' && value.trim() !== '' && Number.isFinite(Number(value));
  if (isQuoted) report('number-in-quotes', { value }, { fix: { set: Number(value) } });
  else report('wrong-shape:number', { wanted });
}

const size = (beyond: string, extreme: string, worst: Measure['worst']): Measure => ({
  of: (value) => (typeof value === 'number' ? value : undefined),
  beyond,
  extreme,
  has: (number) => `has ${number}`,
  worst,
});

export const boundMeanings = {
  min: lowerBound(size('smaller', 'the smallest', 'smallest')),
  max: upperBound(size('larger', 'the largest', 'largest')),
};

export const boundGist = ({ min, max }: Bounds): string => range(min, max);
