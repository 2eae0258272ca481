import { count, list, quote } from '../plain/words.ts';
import { type Advice, enough, ownFields } from './define.ts';
import { writtenAs } from './textIsWritten.ts';

/** Texts that could be so many different things, at most, are a choice. */
const mostChoices = 12;

/** A text with few different values. */
export const textIsChoice: Advice = {
  name: 'text-is-choice',
  why: 'A choice is spelt the same everywhere, and can be counted and translated.',
  *find(reviewed) {
    for (const used of ownFields(reviewed)) {
      const { field, profile } = used;
      const { distinct, values, frequent, address } = profile;
      if (field.kind.freeText !== 'line' || field.common.unique || !distinct || distinct.error !== undefined) continue;
      if (values < 2 * enough || distinct.count > mostChoices || distinct.count * 5 > values || distinct.count < 2)
        continue;
      if (writtenAs(used, reviewed.model.context)) continue;

      const some = frequent.slice(0, 3).map(({ value }) => quote(value, 24));
      yield {
        at: address,
        says: `${count(values, 'text')} are only ${distinct.count} different ones, such as ${list(some)}`,
        mend: 'Make it a choice, or a term where other types classify by the same.',
        command: `lumbrik profile ${address}`,
      };
    }
  },
};
