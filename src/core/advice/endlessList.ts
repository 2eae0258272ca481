import { count } from '../plain/words.ts';
import { type Advice, enough, ownFields } from './define.ts';

/** A list without a maximum. */
export const endlessList: Advice = {
  name: 'endless-list',
  why: 'People who read a list or design its page need to know its maximum length.',
  *find(reviewed) {
    for (const { field, profile } of ownFields(reviewed)) {
      const { many } = field.common;
      const { types } = field.kind.pointsAt(field.options);
      const { items, address } = profile;
      if (!many || many.max !== undefined || types.length === 0 || !items || profile.filled < enough) continue;
      yield {
        at: address,
        says: `it may point at any number of entries, and the longest of ${count(profile.filled, 'list')} has ${count(items.largest, 'item')}`,
        mend: `Say how many it is meant for: \`many: { max: ${roundUp(items.largest)} }\`.`,
        command: `lumbrik profile ${address}`,
      };
    }
  },
};

/** A limit with some room above the largest value: the next of 5, 10, 20, 50, 100, …. */
function roundUp(largest: number): number {
  for (let power = 1; ; power *= 10) for (const step of [5, 10, 20]) if (step * power > largest) return step * power;
}
