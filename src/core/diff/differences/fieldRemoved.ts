import type { FieldDoc } from '../../definition/field.ts';
import { share } from '../counter.ts';
import { askWhetherLost, removeStep } from '../draftedStep.ts';
import { conditionOn } from '../entryCondition.ts';
import { type FieldPlace, filled } from '../fieldValues.ts';
import { defineDifference } from './define.ts';

/** A field is gone, and its values with it. */
export interface FieldRemoved extends FieldPlace {
  readonly name: 'field-removed';
  readonly definition: FieldDoc;
  /** Entries that it goes along with into another type, by a condition: they lose nothing. */
  readonly unless?: string;
}

const addressOf = ({ type, field }: FieldRemoved): string => `${type}.${field}`;

export const fieldRemoved = defineDifference<FieldRemoved>({
  name: 'field-removed',
  address: addressOf,
  say: () => 'field removed',
  rate: () => ({ entries: 'lose', readers: 'break' }),
  count: (difference, { between }) => {
    const { type, unless } = difference;
    const goesAlong = unless === undefined ? () => false : conditionOn(unless, type, between);
    return filled(between, difference, (hits, of) => `${share(hits, of)} a value, which would be lost`, goesAlong);
  },
  field: ({ type, field }) => ({ type, field, side: 'before' }),
  draft: { step: ([one], { impactOf }) => removeStep(addressOf(one), impactOf(one), askWhetherLost(addressOf(one))) },
});
