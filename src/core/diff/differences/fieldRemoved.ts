import type { FieldDoc } from '../../definition/field.ts';
import { share } from '../counter.ts';
import { askWhetherLost, removeStep } from '../draftedStep.ts';
import { type FieldPlace, filled } from '../fieldValues.ts';
import { defineDifference } from './define.ts';

/** A field is gone, and its values with it. */
export interface FieldRemoved extends FieldPlace {
  readonly name: 'field-removed';
  readonly definition: FieldDoc;
}

const addressOf = ({ type, field }: FieldRemoved): string => `${type}.${field}`;

export const fieldRemoved = defineDifference<FieldRemoved>({
  name: 'field-removed',
  address: addressOf,
  say: () => 'field removed',
  rate: () => ({ entries: 'lose', readers: 'break' }),
  count: (difference, { between }) =>
    filled(between, difference, (hits, of) => `${share(hits, of)} a value, which would be lost`),
  field: ({ type, field }) => ({ type, field, side: 'before' }),
  draft: { step: ([one], { impactOf }) => removeStep(addressOf(one), impactOf(one), askWhetherLost(addressOf(one))) },
});
