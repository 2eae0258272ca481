import { count } from '../plain/words.ts';
import { type Advice, enough, ownFields } from './define.ts';

/** A list that never has more than one item. */
export const listOfOne: Advice = {
  name: 'list-of-one',
  why: 'A list that always has one item is harder to write, and to read, than the item.',
  *find(reviewed) {
    for (const { field, profile } of ownFields(reviewed)) {
      const { items, filled, address } = profile;
      if (!field.common.many || !items || items.largest > 1 || filled < 2 * enough) continue;
      yield {
        at: address,
        says: `${count(filled, 'list')}, and none has more than one item`,
        mend: 'Let it hold one: take `many` away, and draft the migration.',
        command: `lumbrik profile ${address}`,
      };
    }
  },
};
