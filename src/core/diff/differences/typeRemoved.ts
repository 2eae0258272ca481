import type { TypeDoc } from '../../definition/type.ts';
import { count } from '../../plain/words.ts';
import { countEntries } from '../counter.ts';
import { askWhetherLost, removeStep } from '../draftedStep.ts';
import { conditionOn } from '../entryCondition.ts';
import { defineDifference } from './define.ts';

/** A type is gone, and its entries with it. */
export interface TypeRemoved {
  readonly name: 'type-removed';
  readonly type: string;
  readonly definition: TypeDoc;
  /** Entries that go into another type, by a condition: they are not removed. */
  readonly unless?: string;
}

export const typeRemoved = defineDifference<TypeRemoved>({
  name: 'type-removed',
  address: ({ type }) => type,
  say: () => 'type removed',
  rate: () => ({ entries: 'lose', readers: 'break' }),
  count: ({ type, unless }, { between }) => {
    const goesAway = unless === undefined ? () => false : conditionOn(unless, type, between);
    return countEntries(
      type,
      (entry) => !goesAway(entry),
      (hits) => `${count(hits, 'entry', 'entries')} would be removed`,
    );
  },
  draft: {
    step: ([difference], { impactOf }) =>
      removeStep(difference.type, impactOf(difference), askWhetherLost(difference.type)),
  },
});
