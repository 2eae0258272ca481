import type { Json } from '../plain/json.ts';
import { range } from '../plain/words.ts';
import { allowed, type Compatibility, lowerBound, type Measure, upperBound } from './compatibility.ts';
import type { OptionMistake, Report } from './kindParts.ts';

/** What the kinds that hold a number share. */
interface Bounds {
  readonly min?: number | undefined;
  readonly max?: number | undefined;
  /** The only numbers allowed. */
  readonly values?: readonly number[] | undefined;
}

/** The mistakes of bounds and listed values. */
export function* boundMistakes({ min, max, values }: Bounds): Iterable<OptionMistake> {
  if (values && new Set(values).size < values.length)
    yield { option: 'values', says: 'a number stands twice', mend: 'Name each once.' };
  const beyond = values?.find((value) => value < (min ?? value) || value > (max ?? value));
  if (beyond !== undefined)
    yield {
      option: 'values',
      says: `${beyond} is beyond \`min\` and \`max\`, so it could never pass`,
      mend: 'Take it out, or widen them.',
    };

  if (min !== undefined && max !== undefined && min > max)
    yield {
      option: 'min',
      says: `\`min\` (${min}) is more than \`max\` (${max}), so no number could pass`,
      mend: 'Swap them or change one.',
    };
}

/** Reports a number outside its bounds or listed values. */
export function checkBounds(value: number, { min, max, values }: Bounds, report: Report): void {
  if (values && !values.includes(value)) report('not-a-choice:number', { values }, { limit: [...values] });
  if (min !== undefined && value < min) report('too-small', { value, bound: min }, { limit: min });
  if (max !== undefined && value > max) report('too-large', { value, bound: max }, { limit: max });
}

/** Says what a value that is no number was probably meant to be. */
export function notANumber(value: Json, expected: 'number' | 'integer', report: Report): void {
  const isQuoted = typeof value === 'string' && value.trim() !== '' && Number.isFinite(Number(value));
  if (isQuoted) report('number-in-quotes', { value });
  else report('wrong-shape:number', { wanted: expected });
}

const size = (beyond: string, extreme: string, worst: Measure['worst']): Measure => ({
  of: (value) => (typeof value === 'number' ? value : undefined),
  beyond,
  extreme,
  has: (number) => `has ${number}`,
  worst,
});

/** Numbers that are listed: none listed is all of them. */
const onlyThese: Compatibility = {
  direction: (before, after) => {
    if (before === undefined) return 'narrower';
    if (after === undefined) return 'wider';
    return allowed(String).direction(before, after);
  },
};

/** The meanings of changed bounds. */
export const boundMeanings = {
  min: lowerBound(size('smaller', 'the smallest', 'smallest')),
  max: upperBound(size('larger', 'the largest', 'largest')),
  values: onlyThese,
};

/** Bounds in a few signs. */
export const boundGist = ({ min, max, values }: Bounds): string =>
  [range(min, max), values ? values.join(' · ') : ''].filter(Boolean).join(', ');
