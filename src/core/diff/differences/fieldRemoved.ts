import type { FieldDoc } from '../../definition/field.ts';
import { type Counter, type SampledEntry, share } from '../counter.ts';
import { askWhetherLost, removeStep } from '../draftedStep.ts';
import { conditionOn } from '../entryCondition.ts';
import { type FieldPlace, filled, valuesOf } from '../fieldValues.ts';
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
    const describe = (hits: number, total: number): string => `${share(hits, total)} a value, which would be lost`;
    return withStanding(filled(between, difference, describe, goesAlong), (entry) => {
      if (entry.type !== type || goesAlong(entry)) return false;
      return valuesOf(between, difference, entry.fields).some((value) => value !== undefined);
    });
  },
  field: ({ type, field }) => ({ type, field, side: 'before' }),
  draft: {
    step: ([difference], { impactOf }) =>
      removeStep(addressOf(difference), impactOf(difference), askWhetherLost(addressOf(difference))),
  },
});

/** Counts as well the entries that have nothing but an empty value, which the step takes out all the same. */
function withStanding(counter: Counter, stands: (entry: SampledEntry) => boolean): Counter {
  let filled = 0;
  return {
    see: (entry) => {
      counter.see(entry);
      if (stands(entry)) filled += 1;
    },
    impact: () => {
      const impact = counter.impact();
      const { hits, of: total, says: message } = impact;
      if (filled === hits) return impact;

      const empty = `${share(filled - hits, total)} an empty one, which goes`;
      return {
        ...impact,
        changed: filled,
        says: hits === 0 ? `no entry has a value; ${empty}` : `${message}; ${empty}`,
      };
    },
  };
}
